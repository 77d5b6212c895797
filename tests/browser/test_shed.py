"""A phone joins the shed over HTTPS, its root in the browser's own trust store, nothing ignored."""

import re
import shutil
import subprocess
import sys
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserType, Page, expect

from tests.builders import a_draft
from tests.cli.test_main import free_port, get, post


@dataclass
class Shared:
    """A shared shed that runs: its own port, the network's address, its folder."""

    port: int
    url: str
    folder: Path

    @property
    def code(self) -> str:
        return str(get(self.port, "/api/shed")["code"])  # type: ignore[index]


@pytest.fixture(scope="module")
def shared(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Shared]:
    folder, port = tmp_path_factory.mktemp("shed"), free_port(beside=2)
    command = [
        sys.executable, "-m", "racecard.cli", "start", "--shed", "--address", "127.0.0.1",
        "--data", str(folder), "--port", str(port),
    ]  # fmt: skip
    process = subprocess.Popen(command)
    for _ in range(200):
        try:
            get(port, "/api/trials")
            break
        except OSError:
            time.sleep(0.1)
    yield Shared(port, f"https://127.0.0.1:{port + 1}", folder)
    process.terminate()
    process.wait(timeout=10)


@pytest.fixture(scope="module")
def trusting(
    shared: Shared, tmp_path_factory: pytest.TempPathFactory, browser_type: BrowserType,
    browser_type_launch_args: dict[str, Any],
) -> Iterator[Browser]:  # fmt: skip
    """A browser that trusts the shed's root as a user's phone would: through its trust store."""
    home = tmp_path_factory.mktemp("home")
    certutil = shutil.which("certutil")
    assert certutil, "certutil is missing: run make test, which installs it (libnss3-tools)"
    root = shared.folder / "tls" / "root.crt"
    for store in (home / ".pki" / "nssdb", home / ".local" / "share" / "pki" / "nssdb"):
        store.mkdir(parents=True)
        database = f"sql:{store}"
        for command in (
            ["-N", "--empty-password"],
            ["-A", "-t", "C,,", "-n", "shed", "-i", str(root)],
        ):
            subprocess.run([certutil, "-d", database, *command], check=True)
    browser = browser_type.launch(**browser_type_launch_args, env={"HOME": str(home)})
    yield browser
    browser.close()


def join(page: Page, shared: Shared, code: str, name: str = "Ines’s phone") -> str:
    page.goto(f"{shared.url}/join")
    page.get_by_label("Code shown").fill(code)
    page.get_by_label("Your name").fill(name)
    return press_join(page)


def press_join(page: Page) -> str:
    """What the shed answers."""
    with page.expect_response("**/api/join") as answer:
        page.get_by_role("button", name="Join").click()
    return answer.value.text()


def join_after_a_wrong_guess(page: Page, shared: Shared, name: str) -> None:
    """Joins as soon as the shed lets it: it makes a sender wait after a wrong code."""
    said = join(page, shared, shared.code, name)
    for _ in range(60):
        if "Too many wrong codes" not in said:
            break
        page.wait_for_timeout(500)
        said = press_join(page)
    expect(page.get_by_text(f"Welcome, {name}.")).to_be_visible()


def test_without_the_root_the_browser_refuses_the_shed(shared: Shared, browser: Browser) -> None:
    page = browser.new_page()
    with pytest.raises(Exception, match="ERR_CERT_AUTHORITY_INVALID"):
        page.goto(shared.url)
    page.close()


def test_a_phone_joins_works_alone_and_is_withdrawn(shared: Shared, trusting: Browser) -> None:
    trial = post(shared.port, "/api/trials", a_draft())["id"]
    post(shared.port, f"/api/trials/{trial}/start", {})
    context = trusting.new_context(viewport={"width": 390, "height": 844}, locale="en-GB")
    page = context.new_page()
    page.goto(f"{shared.url}/trials/{trial}/rounds/0")
    expect(page.get_by_role("alert")).to_contain_text("is not connected")
    join(page, shared, shared.code)
    expect(page.get_by_text("Welcome, Ines’s phone.")).to_be_visible()
    expect(page.get_by_text("works without a connection")).to_be_visible(timeout=15_000)

    page.goto(f"{shared.url}/trials/{trial}/rounds/0")
    cell = page.locator("[data-cell=A1]")
    expect(cell).to_be_visible()
    page.wait_for_load_state("networkidle")
    context.set_offline(True)
    page.get_by_role("button", name=re.compile("^Callus")).click()
    page.reload()
    expect(cell).to_contain_text("callus")
    context.set_offline(False)
    expect(page.get_by_text("All saved")).to_be_visible()

    devices = get(shared.port, "/api/shed")["devices"]  # type: ignore[index]
    (mine,) = [d for d in devices if d["name"] == "Ines’s phone"]
    post(shared.port, f"/api/devices/{mine['id']}/withdraw", {})
    page.get_by_role("button", name=re.compile("^Rooted")).click()
    expect(page.get_by_text("is no longer connected")).to_be_visible()
    expect(page.locator("[data-cell=A2]")).to_contain_text(
        "rooted"
    )  # the round stands, and what is tapped waits
    join(page, shared, shared.code, "again")
    expect(page.get_by_text("Welcome, again.")).to_be_visible()
    page.goto(f"{shared.url}/trials/{trial}/rounds/0")
    expect(page.get_by_text("All saved")).to_be_visible()
    expect(page.get_by_text("2 of 12 units looked at")).to_be_visible()
    context.close()


def test_wrong_codes_are_counted_and_slowed(shared: Shared, trusting: Browser) -> None:
    page = trusting.new_page()
    join(page, shared, "AAAAAAAAAA")
    expect(page.get_by_role("alert")).to_contain_text("not the code shown now")
    for _ in range(6):  # a slow machine may have waited long enough; the wait doubles each time
        if "Too many wrong codes" in press_join(page):
            break
    expect(page.get_by_role("alert")).to_contain_text("Too many wrong codes: wait")
    page.goto(f"http://127.0.0.1:{shared.port}/shed")
    expect(page.get_by_text(re.compile("wrong codes? (was|were) tried"))).to_be_visible()
    page.close()


def test_a_phone_may_not_do_what_is_the_sheds_own(shared: Shared, trusting: Browser) -> None:
    page = trusting.new_page()
    join_after_a_wrong_guess(page, shared, "Ines")
    page.goto(f"{shared.url}/shed")
    expect(page.get_by_role("alert")).to_contain_text("That is done at the desk")
    page.close()


def test_the_sheds_own_page_shows_the_square_and_the_devices(
    shared: Shared, trusting: Browser, page: Page
) -> None:
    phone = trusting.new_page()
    join_after_a_wrong_guess(phone, shared, "bench two")
    phone.close()
    page.goto(f"http://127.0.0.1:{shared.port}/shed")
    expect(page.get_by_role("img", name=re.compile("QR code"))).to_be_visible()
    before = shared.code
    page.get_by_role("button", name="New code").click()
    expect(page.get_by_text(before)).to_have_count(0)
    assert shared.code != before
    expect(page.get_by_text("works once, until")).to_be_visible()
    role = page.get_by_label("What bench two may do")
    expect(role).to_have_value("helper")
    role.select_option("viewer")
    page.reload()
    expect(role).to_have_value("viewer")
