"""The wheel carries the front end: installed by itself, `racecard demo` is all a grower needs."""

import subprocess
import sys
import sysconfig
import time
import urllib.request
import venv
from pathlib import Path

import pytest

from tests.cli.test_main import free_port

ROOT = Path(__file__).parent.parent.parent


@pytest.mark.skipif(
    not (ROOT / "src/racecard/web/index.html").is_file(), reason="the front end is not built"
)
def test_the_wheel_alone_serves_the_demo(tmp_path: Path) -> None:
    uv = Path(sys.executable).with_name("uv")
    build = [uv, "build", "-q", "--wheel", "--no-build-isolation", "--out-dir", tmp_path, ROOT]
    subprocess.run(
        [str(x) for x in build],
        check=True,
        env={"VIRTUAL_ENV": str(uv.parent.parent), "PATH": "/usr/bin"},
    )
    wheel = next(tmp_path.glob("*.whl"))
    home = tmp_path / "empty"
    venv.create(home, with_pip=False)
    python = home / "bin" / "python"
    site = next(home.glob("lib/python*/site-packages"))
    # what it depends on is lent by path, so that the test needs no network; Racecard itself is not
    (site / "lent.pth").write_text(sysconfig.get_path("purelib") + "\n")
    install = [uv, "pip", "install", "-q", "--no-deps", "--offline", "--python", python, wheel]
    subprocess.run([str(x) for x in install], check=True)
    where = subprocess.run(
        [str(python), "-c", "import racecard; print(racecard.__file__)"],
        capture_output=True,
        text=True,
        check=True,
    )
    assert str(home) in where.stdout
    port = free_port()
    server = subprocess.Popen(
        [
            str(home / "bin" / "racecard"),
            "demo",
            "--data",
            str(tmp_path / "shed"),
            "--port",
            str(port),
        ],
        cwd=tmp_path,
    )
    try:
        assert '<div id="root">' in page(port)
    finally:
        server.terminate()
        server.wait()


def page(port: int) -> str:
    for _ in range(600):
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/") as answer:
                return str(answer.read().decode())
        except OSError:
            time.sleep(0.1)
    raise AssertionError("the installed server did not answer within a minute")
