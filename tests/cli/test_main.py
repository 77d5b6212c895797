"""The two commands, with a real server behind them."""

import json
import os
import secrets
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from contextlib import ExitStack
from pathlib import Path

import pytest
from click.testing import CliRunner

import racecard
from racecard.cli.main import app


def free_port(beside: int = 1) -> int:
    """The first of so many free ports, below those that outgoing connections are given meanwhile."""
    for _ in range(50):
        first = 20_000 + secrets.randbelow(10_000)
        with ExitStack() as held:
            try:
                for port in range(first, first + beside):
                    held.enter_context(socket.socket()).bind(("127.0.0.1", port))
            except OSError:
                continue
            return first
    raise AssertionError("no free port in fifty")


def serve(folder: Path, port: int, command: str = "start") -> subprocess.Popen[bytes]:
    env = {**os.environ, "PYTHONUNBUFFERED": "1"}
    alone = ["--no-dry-run"] if command == "demo" else []
    process = subprocess.Popen(
        [
            sys.executable,
            "-m",
            "racecard.cli",
            command,
            "--data",
            str(folder),
            "--port",
            str(port),
            *alone,
        ],
        env=env,
    )
    while process.poll() is None:  # on a machine under load it answers later, not never
        try:
            get(port, "/api/trials")
            return process
        except OSError:
            time.sleep(0.1)
    raise AssertionError("the server ended before it answered")


def get(port: int, path: str) -> object:
    with urllib.request.urlopen(f"http://127.0.0.1:{port}{path}") as answer:
        return json.load(answer)


def post(port: int, path: str, body: object) -> dict[str, object]:
    request = urllib.request.Request(
        f"http://127.0.0.1:{port}{path}",
        json.dumps(body).encode(),
        {"Content-Type": "application/json"},
    )
    with urllib.request.urlopen(request) as answer:
        found: dict[str, object] = json.load(answer)
        return found


def test_a_port_that_is_taken_is_said_in_one_sentence(tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = str(taken.getsockname()[1])
        found = CliRunner().invoke(app, ["start", "--data", str(tmp_path), "--port", port])
    assert found.exit_code == 1
    assert f"Port {port} is taken" in found.output


@pytest.mark.parametrize("port", ["0", "99999", "ninety"])
def test_a_port_that_is_none_is_refused(tmp_path: Path, port: str) -> None:
    assert (
        CliRunner().invoke(app, ["start", "--data", str(tmp_path), "--port", port]).exit_code == 2
    )


def test_killing_the_server_in_mid_round_loses_nothing_acknowledged(tmp_path: Path) -> None:
    from tests.builders import a_draft

    port = free_port()
    server = serve(tmp_path, port)
    trial = post(port, "/api/trials", a_draft())["id"]
    post(port, f"/api/trials/{trial}/start", {})
    before = get(port, f"/api/trials/{trial}/rounds/0")
    units = before["units"]  # type: ignore[index]
    stamp = time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime())
    for i, unit in enumerate(units[:5]):
        tap = {
            "id": f"tap-{i:04}",
            "unit_id": unit["id"],
            "kind": "look",
            "seen_at": stamp,
            "stage": 3,
        }
        post(port, f"/api/trials/{trial}/observations", {"items": [tap]})
    server.send_signal(signal.SIGKILL)
    server.wait()
    server = serve(tmp_path, port)
    after = get(port, f"/api/trials/{trial}/rounds/0")
    server.terminate()
    server.wait()
    assert after["looked_at"] == 5  # type: ignore[index]


@pytest.mark.parametrize(
    "command",
    [["start"], ["demo"], ["rebuild"], ["backup", "x.zip"], ["restore", "x.zip"], ["verify"]],
    ids=lambda c: str(c[0]),
)
def test_a_folder_that_may_not_be_written_is_one_sentence(command: list[str]) -> None:
    said = CliRunner().invoke(app, [*command, "--data", "/proc/nowhere"])
    assert said.exit_code == 2
    assert "/proc/nowhere" in said.output
    assert "Traceback" not in said.output
    assert said.output.count("\n") == 1


def test_a_line_is_told_for_each_request_when_asked(tmp_path: Path) -> None:
    port = free_port()
    told = tmp_path / "log"
    with told.open("w") as out:
        command = [sys.executable, "-m", "racecard.cli", "start", "--data", str(tmp_path / "shed")]
        server = subprocess.Popen([*command, "--port", str(port), "--log", "info"], stderr=out, stdout=out)  # fmt: skip
        for _ in range(300):
            try:
                get(port, "/api/trials")
                break
            except OSError:
                time.sleep(0.1)
        server.terminate()
        server.wait()
    assert '"GET /api/trials HTTP/1.1" 200' in told.read_text()


def test_the_version_is_told_at_once() -> None:
    said = subprocess.run([sys.executable, "-m", "racecard.cli", "--version"], capture_output=True, text=True, check=True)  # fmt: skip
    assert said.stdout == f"racecard {racecard.__version__}\n"
