"""A trial that has begun already: what stands where, the looks so far as a grid, and the answer."""

import re
from datetime import date, timedelta

from playwright.sync_api import Page, expect

from tests.browser.conftest import axe_faults

BEGAN = date.today() - timedelta(days=20)
FIRST, SECOND = BEGAN + timedelta(days=10), BEGAN + timedelta(days=18)
PASTE = """([text]) => {
  const data = new DataTransfer(); data.setData('text/plain', text);
  document.activeElement.dispatchEvent(
    new ClipboardEvent('paste', {clipboardData: data, bubbles: true, cancelable: true}));
}"""


def begin(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new")
    page.get_by_role("link", name="It has already begun").click()
    save = page.get_by_role("button", name="Save and enter the looks so far")
    expect(save).to_be_disabled()
    expect(page.get_by_text("Name two treatments or more.")).to_be_visible()
    page.get_by_label("Treatments, with commas between").fill("plain water, seaweed")
    page.get_by_label("Began on").fill(BEGAN.isoformat())
    page.get_by_label("Plant", exact=True).fill("sage")
    expect(page.get_by_text("Show where plain water stands.")).to_be_visible()
    page.get_by_label("How many each").fill("6")
    page.get_by_role("button", name="One row each").click()


def test_a_tray_that_began_twenty_days_ago_to_its_answer(page: Page, server: str) -> None:
    begin(page, server)
    page.get_by_role("button", name="A6: 1 plain water").press("2")
    page.get_by_role("button", name="B6: 2 seaweed").press("1")
    page.get_by_role("button", name="A1: 1 plain water").press("Backspace")
    page.reload()  # what is half entered is kept
    expect(page.get_by_role("button", name="A1: empty")).to_be_visible()
    page.get_by_role("button", name="A1: empty").press("1")
    assert axe_faults(page) == []
    page.get_by_role("button", name="Save and enter the looks so far").click()
    expect(page.get_by_text("No looks yet.")).to_be_visible()
    assert axe_faults(page) == []
    page.get_by_label("Date of a look").fill(FIRST.isoformat())
    page.get_by_role("button", name="Add column").press("Enter")
    page.get_by_label("A1, day 10").fill("1")
    page.get_by_label("A1, day 10").press("Enter")
    expect(page.get_by_label("A2, day 10")).to_be_focused()
    page.get_by_label("A2, day 10").fill("q")
    page.get_by_role("button", name="Save 2 looks").click()
    expect(page.get_by_role("alert")).to_contain_text("“q” is not a stage")
    expect(page.get_by_label("A2, day 10")).to_have_attribute("aria-invalid", "true")
    page.get_by_label("A1, day 10").focus()
    page.evaluate(PASTE, ["\n".join(["1", "1", "3", "1", "3", "1"])])
    expect(page.get_by_label("A6, day 10")).to_have_value("1")
    sheet = f"Position\t{SECOND.isoformat()}\n" + "\n".join(
        f"{row}{n}\t{'6' if (row == 'B' and n < 6) or (row == 'A' and n == 6) else '8'}"
        for row in "AB"
        for n in range(1, 7)
    )
    page.evaluate(PASTE, [sheet])
    expect(page.get_by_text("12 looks read from the sheet")).to_be_visible()
    page.get_by_role("button", name="Save 18 looks").click()
    expect(page.get_by_text("Saved.")).to_be_visible()
    assert axe_faults(page) == []
    page.get_by_role("link", name=re.compile("^Finish")).first.click()
    answer = page.get_by_role("region", name="The answer")
    expect(answer).to_contain_text(re.compile("6 of 6|0 of 6"))
    expect(page.get_by_text("Positions not randomised").first).to_be_visible()
    expect(page.get_by_text("Written down afterwards").first).to_be_visible()


def test_saved_looks_can_be_put_back(page: Page, server: str) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    begin(page, server)
    page.get_by_role("button", name="Save and enter the looks so far").click()
    page.get_by_label("Date of a look").fill(FIRST.isoformat())
    page.get_by_role("button", name="Add column").click()
    page.get_by_label("A1, day 10").fill("6s")
    page.get_by_role("button", name="Save 1 look").click()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("A1, day 10")).to_have_value("")
    expect(page.get_by_role("button", name="Save looks")).to_be_disabled()


def test_an_empty_server_shows_three_ways_in(page: Page, empty_server: str) -> None:
    page.goto(empty_server)
    for name in ("Plan a new trial", "It has already begun", "It is over: I have results"):
        expect(page.get_by_role("link", name=name)).to_be_visible()
    expect(page.get_by_role("img", name="Two lanes")).to_be_visible()
    assert axe_faults(page) == []
