"""`make load`: simulated phones against a real server; prints rate, p50, p99, errors and what was lost.

Usage: python -m tools.load [seconds] [phones ...]
"""

import http.client
import json
import socket
import subprocess
import sys
import tempfile
import threading
import time
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import numpy as np

PAUSE_S = 0.2
"""A thumb on a phone: five taps a second at most."""


def _call(port: int, method: str, path: str, body: object = None) -> Any:
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=30)
    try:
        content = None if body is None else json.dumps(body)
        connection.request(method, path, content, {"Content-Type": "application/json"})
        answer = connection.getresponse()
        found = json.loads(answer.read() or b"null")
        if answer.status >= 400:
            raise OSError(f"{answer.status} {found}")
        return found
    finally:
        connection.close()


class Phone(threading.Thread):
    """One phone that taps on units of its own until the time is over."""

    def __init__(self, port: int, trial: str, units: list[str], name: int, until: float) -> None:
        super().__init__()
        self.port, self.trial, self.units, self.named, self.until = port, trial, units, name, until
        self.took: list[float] = []
        self.kept: list[str] = []
        self.errors = 0

    def run(self) -> None:
        """Tap, and note how long each answer took."""
        n = 0
        while time.monotonic() < self.until:
            id_ = f"tap-{self.trial[:8]}-{self.named:03}-{n:06}"
            tap = {
                "id": id_, "unit_id": self.units[n % len(self.units)], "kind": "look", "stage": 1 + n % 3,
                "seen_at": datetime.now(UTC).isoformat(), "device": f"phone-{self.named}",
            }  # fmt: skip
            started = time.monotonic()
            try:
                _call(self.port, "POST", f"/api/trials/{self.trial}/observations", {"items": [tap]})
                self.kept.append(id_)
            except OSError:
                self.errors += 1
            self.took.append(time.monotonic() - started)
            n += 1
            time.sleep(PAUSE_S)


def _run(port: int, phones: int, seconds: float) -> None:
    arms = [{"name": "Untreated", "role": "control", "silk": "plain"}, {"name": "IBA", "role": "candidate", "silk": "hoops"}]  # fmt: skip
    plan = {
        "question": f"{phones} phones",
        "material": "tips",
        "kind": "cutting",
        "treatments": arms,
        "units": 48,
    }
    trial = _call(port, "POST", "/api/trials", {"plan": plan, "seed": 7})["id"]
    _call(port, "POST", f"/api/trials/{trial}/start", {})
    units = [u["id"] for u in _call(port, "GET", f"/api/trials/{trial}/rounds/0")["units"]]
    until = time.monotonic() + seconds
    all_ = [
        Phone(port, trial, units[i % len(units) :: phones] or units, i, until)
        for i in range(phones)
    ]
    for p in all_:
        p.start()
    for p in all_:
        p.join()
    took = np.array([t for p in all_ for t in p.took])
    log = {row["id"] for row in _call(port, "GET", f"/api/trials/{trial}/log")}
    lost = sum(i not in log for p in all_ for i in p.kept)
    print(
        f"{phones:4} phones  {len(took) / seconds:6.0f} taps/s  p50 {1000 * np.median(took):5.0f} ms  "
        f"p99 {1000 * np.quantile(took, 0.99):5.0f} ms  errors {sum(p.errors for p in all_)}  lost {lost}"
    )


def main() -> None:
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else 60.0
    phones = [int(n) for n in sys.argv[2:]] or [20, 100]
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    with tempfile.TemporaryDirectory() as folder:
        command = [str(Path(sys.executable).with_name("racecard")), "start", "--data", folder, "--port", str(port), "--backups", "never"]  # fmt: skip
        server = subprocess.Popen(command, stdout=subprocess.DEVNULL)
        try:
            for _ in range(200):
                try:
                    _call(port, "GET", "/api/reference")
                    break
                except OSError:
                    time.sleep(0.1)
            for n in phones:
                _run(port, n, seconds)
        finally:
            server.terminate()
            server.wait(timeout=20)


if __name__ == "__main__":
    main()
