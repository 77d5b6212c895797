"""An old page before a server that was brought up to date."""

import re
import shutil
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, expect

from racecard.api.app import WEB
from tests.browser.test_rounds import worker_holds
from tests.builders import a_draft
from tests.cli.test_main import free_port, get, post

_SERVE = """
import sys, uvicorn
from pathlib import Path
from racecard.api.app import create_app
from racecard.store.engine import Shed
uvicorn.run(create_app(Shed(Path(sys.argv[1])), Path(sys.argv[2])), port=int(sys.argv[3]), log_level="error")
"""


@pytest.fixture
def serving(tmp_path: Path) -> Iterator[Callable[[], str]]:
    """Serves a copy of the built page; called again, it does so anew on the same port."""
    port, running = free_port(), list[subprocess.Popen[bytes]]()
    shutil.copytree(WEB, tmp_path / "web")

    def stop() -> None:
        for old in running:
            old.terminate()
            old.wait()
        running.clear()

    def again() -> str:
        stop()
        args = [
            sys.executable,
            "-c",
            _SERVE,
            str(tmp_path / "shed"),
            str(tmp_path / "web"),
            str(port),
        ]
        running.append(subprocess.Popen(args))
        for _ in range(300):
            try:
                get(port, "/api/trials")
                return f"http://127.0.0.1:{port}"
            except OSError:
                time.sleep(0.1)
        raise AssertionError("the server did not answer")

    yield again
    stop()


def build_anew(web: Path) -> None:
    """What a later build leaves: another time, other names of files, the old ones gone."""
    old = (web / "built.txt").read_text()
    scripts = [file.stem for file in web.glob("assets/*.js")]
    for file in [web / "built.txt", web / "index.html", web / "sw.js", *web.glob("assets/*.js")]:
        said = file.read_text().replace(old, str(int(old) + 1))
        for name in scripts:
            said = said.replace(f"{name}.js", f"{name}-later.js")
        said = re.sub(r'(url:"index.html",revision:")[^"]+', r"\1later", said)
        said = re.sub(r'(revision:")[^"]+(",url:"index.html")', r"\1later\2", said)
        file.write_text(said)
    for name in scripts:
        (web / "assets" / f"{name}.js").rename(web / "assets" / f"{name}-later.js")


def test_an_old_page_goes_on_and_says_that_there_is_a_newer(
    browser: Browser, serving: Callable[[], str], tmp_path: Path
) -> None:
    page = browser.new_page()  # with a service worker, which other tests' pages have not
    at = serving()
    post(int(at.rsplit(":", 1)[1]), "/api/trials", a_draft(question="Lavender: dip or no dip?"))
    page.goto(at)
    worker_holds(page)
    page.goto(f"{at}/trials")
    expect(page.get_by_role("heading", name="1 trial")).to_be_visible()
    expect(page.get_by_text("Racecard was updated.")).to_have_count(0)
    build_anew(tmp_path / "web")
    serving()
    page.get_by_role("link", name="Mixing").click()
    expect(page.get_by_text("Racecard was updated.")).to_be_visible(timeout=70_000)
    page.get_by_role("link", name="Trials", exact=True).click()
    expect(page.get_by_role("link", name=re.compile("Lavender")).first).to_be_visible()
    page.get_by_role("button", name="Load the new page").click()
    expect(page.locator("script[src$='-later.js']")).to_have_count(1, timeout=30_000)
    expect(page.get_by_role("link", name=re.compile("Lavender")).first).to_be_visible()
    expect(page.get_by_text("Racecard was updated.")).to_have_count(0)
