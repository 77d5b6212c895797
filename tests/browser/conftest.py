"""A real server with demo data, a browser that may talk to nothing else, and axe."""

import json
import shutil
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any
from urllib.parse import urlparse

import pytest
from playwright.sync_api import Page, Route, expect

from tests.cli.test_main import free_port, post, serve

expect.set_options(timeout=15_000)  # a busy machine fails no test
ROOT = Path(__file__).parent.parent.parent
AXE = ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js"
_FLAGS = (
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
)  # fmt: skip


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    for item in items:
        if "browser" in item.path.parts:
            item.add_marker(pytest.mark.browser)


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    found = shutil.which("chromium") or shutil.which("chromium-browser")
    assert found, "Chromium is missing: run make test, which installs it, or install it by hand"
    return {"executable_path": found, "args": list(_FLAGS)}


@pytest.fixture
def browser_context_args() -> dict[str, Any]:
    return {
        "viewport": {"width": 1280, "height": 800},
        "locale": "en-GB",
        "timezone_id": "Europe/Lisbon",
        "reduced_motion": "reduce",
        "service_workers": "block",  # a test of working alone allows them
    }


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


@pytest.fixture
def page(page: Page) -> Iterator[Page]:
    """The page of every browser test: any request to another host, any script error fails it."""
    strangers: list[str] = []
    faults: list[str] = []

    def guard(route: Route) -> None:
        if urlparse(route.request.url).hostname == "127.0.0.1":
            route.fallback()
        else:
            strangers.append(route.request.url)
            route.abort()

    page.context.route("**/*", guard)
    page.on("pageerror", lambda e: faults.append(str(e)))
    page.set_default_timeout(20_000)
    yield page
    assert not strangers, f"the page asked other hosts: {strangers}"
    assert not faults, f"the page failed: {faults}"


@pytest.fixture
def send(server: str) -> Callable[[str, object], dict[str, Any]]:
    """Posts to the demo server's API, to set a scene the test is not about."""
    port = int(server.rsplit(":", 1)[1])
    return lambda path, body: post(port, path, body)


def axe_faults(page: Page) -> list[str]:
    """Accessibility violations axe finds on the page as it stands."""
    page.evaluate(AXE.read_text())  # evaluated, since the page's policy lets no foreign script in
    found = page.evaluate("async () => (await axe.run()).violations")
    return [f"{v['id']}: {json.dumps([n['html'] for n in v['nodes'][:3]])}" for v in found]
