"""A real server with demo data, a browser that may talk to nothing else, and axe."""

import json
import re
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from typing import Any
from urllib.parse import urlparse

import pytest
from playwright.sync_api import Browser, Locator, Page, Request, Response, expect
from tools.chromium import FLAGS, chromium

from tests.cli.test_main import free_port, post, serve

expect.set_options(timeout=30_000)  # a busy machine fails no test
ROOT = Path(__file__).parent.parent.parent
AXE = ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js"
_FLAGS = (
    *FLAGS, "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
    "--process-per-site", "--in-process-gpu",
    # on two busy processors: one thread for scripts, and none made fast that run for a second only
    "--js-flags=--max-lazy --no-opt --single-threaded",
    "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost",
)  # fmt: skip


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    for item in items:
        if "browser" in item.path.parts:
            item.add_marker(pytest.mark.browser)


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return {"executable_path": chromium(), "args": list(_FLAGS)}


_DESK: dict[str, Any] = {
    "viewport": {"width": 1280, "height": 800},
    "locale": "en-GB",
    "timezone_id": "Europe/Lisbon",
    "reduced_motion": "reduce",
    "service_workers": "block",  # a test of working alone allows them
}


@pytest.fixture
def browser_context_args() -> dict[str, Any]:
    return _DESK


@pytest.fixture(scope="session")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    port = free_port()
    process = serve(tmp_path_factory.mktemp("demo"), port, "demo")
    yield f"http://127.0.0.1:{port}"
    process.terminate()
    process.wait()


@pytest.fixture
def empty_server(tmp_path: Path) -> Iterator[str]:
    port = free_port()
    process = serve(tmp_path / "empty", port)
    yield f"http://127.0.0.1:{port}"
    process.terminate()
    process.wait()


class Desk:
    """A window that stays open between tests: what was loaded once need not be again.

    It is opened anew now and then, as what closed pages leave in it slows the next ones down.
    """

    def __init__(self, browser: Browser, server: str) -> None:
        self.browser, self.server = browser, server
        self.uses = 0

    def keeper(self) -> Page:
        """A page that stays open beside those of the tests, and holds their window."""
        if self.uses % 20 == 0:
            self.close()
            self.window = self.browser.new_context(**_DESK)
            self.page = self.window.new_page()
            self.page.goto(f"{self.server}/icon.svg")
        self.uses += 1
        return self.page

    def close(self) -> None:
        if self.uses:
            self.window.close()


@pytest.fixture(scope="session")
def desk(browser: Browser, server: str) -> Iterator[Desk]:
    desk = Desk(browser, server)
    yield desk
    desk.close()


@pytest.fixture
def page(request: pytest.FixtureRequest) -> Iterator[Page]:
    """The page of every browser test: any request to another host, any script error fails it.

    Tests share one window, each with storage of its own; one that asks for another kind has its own.
    """
    is_odd = request.node.get_closest_marker("browser_context_args") is not None
    keeper: Page | None = None if is_odd else request.getfixturevalue("desk").keeper()
    context = keeper.context if keeper else request.getfixturevalue("context")
    seen: set[str] = set()
    faults: list[str] = []

    def guard(asked: Request) -> None:
        url = urlparse(asked.url)
        if url.hostname:
            seen.add(f"{url.scheme}://{url.netloc}")

    context.on("request", guard)  # heard, not held up: a route would cost each request a turn
    page = context.new_page()
    page.on("pageerror", lambda e: faults.append(str(e)))
    page.set_default_timeout(40_000)
    yield page
    context.remove_listener("request", guard)
    if keeper:
        _clear(keeper, seen)
    strangers = [origin for origin in seen if urlparse(origin).hostname != "127.0.0.1"]
    assert not strangers, f"the page asked other hosts: {strangers}"
    assert not faults, f"the page failed: {faults}"


def _clear(keeper: Page, origins: set[str]) -> None:
    """Leaves the window as it was: no page, no route, nothing stored."""
    context = keeper.context
    for other in context.pages:
        if other is not keeper:
            other.close()
    context.unroute_all()
    context.set_offline(False)
    context.clear_cookies()
    session = context.new_cdp_session(keeper)
    for origin in origins:
        session.send("Storage.clearDataForOrigin", {"origin": origin, "storageTypes": "all"})
    session.detach()


@pytest.fixture
def send(server: str) -> Callable[[str, object], dict[str, Any]]:
    """Posts to the demo server's API, to set a scene the test is not about."""
    port = int(server.rsplit(":", 1)[1])
    return lambda path, body: post(port, path, body)


_BUSY = re.compile("^(Loading|Drawing|Reading|Calculating)")


def loaded(page: Page) -> None:
    """Waits until nothing on the page says that it waits."""
    expect(page.get_by_role("status", name=_BUSY)).to_have_count(0)


def draw_fairly(page: Page) -> None:
    """Randomises again while a line of the tray holds one treatment only: a start is refused with such a lot.

    The seed is the page's own, and in a small tray one draw in a few has such a line.
    """
    lot = page.get_by_text(re.compile("randomised, seed"))
    for _ in range(40):
        seed = lot.inner_text().partition("seed ")[2].split()[0]
        with page.expect_response(partial(_answers_another_lot, seed)) as checked:
            page.get_by_role("button", name="Randomise again").click()
        expect(lot).not_to_contain_text(seed)
        if "holds only" not in checked.value.text():
            return
    raise AssertionError("no lot of forty would do")


def _answers_another_lot(seed: str, response: Response) -> bool:
    """An answer about the lot before can still be on its way: it says nothing of the new one."""
    return response.url.endswith("/api/plans/check") and seed not in (
        response.request.post_data or ""
    )


def unfold(where: Page | Locator, title: str) -> None:
    """Opens a folded part by key: a page that still grows can move it from under a click."""
    where.locator("summary", has_text=title).press("Enter")


def axe_faults(page: Page) -> list[str]:
    """Accessibility violations axe finds on the page as it stands."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text())  # evaluated: the page's policy lets no foreign script in
    found = page.evaluate("async () => (await axe.run({resultTypes: ['violations']})).violations")
    return [f"{v['id']}: {json.dumps([n['html'] for n in v['nodes'][:3]])}" for v in found]
