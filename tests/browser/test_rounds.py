"""A round by thumb and by key: rows, leaving early, events, notes, photos, two phones, no signal."""

import io
import json
import re
import urllib.request
from collections.abc import Callable, Iterator
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from PIL import Image
from playwright.sync_api import Browser, BrowserContext, Page, Route, expect

from tests.browser.test_accessible import SMALL
from tests.browser.test_journeys import Send, open_round, start, start_blind

KEPT = "All saved"


@pytest.fixture
def phone(browser: Browser) -> Iterator[Callable[..., Page]]:
    """Makes pages of phones, each with storage of its own."""
    contexts: list[BrowserContext] = []

    def make(**more: Any) -> Page:
        context = browser.new_context(
            viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True, locale="en-GB",
            timezone_id="Europe/Lisbon", reduced_motion="reduce", **more,
        )  # fmt: skip
        contexts.append(context)
        return context.new_page()

    yield make
    for context in contexts:
        context.close()


def cell(page: Page, code: str) -> Any:
    return page.locator(f"[data-cell='{code}']")


def test_ninety_six_cells_by_thumb(phone: Callable[..., Page], server: str, send: Send) -> None:
    trial = start(send, 3, units=48, columns=12, tray_rows=8)
    page = phone(service_workers="block")
    page.goto(f"{server}/trials/{trial}/rounds/3")
    expect(cell(page, "A1")).to_be_visible()
    panel = page.get_by_role("complementary")
    assert panel.get_by_role("button").evaluate_all(SMALL) == []
    assert page.locator("[data-cell]").evaluate_all(SMALL) == []
    key = panel.get_by_role("button", name=re.compile("^Callus")).bounding_box()
    assert key is not None
    for _ in range(96):  # the thumb stays where it is
        page.touchscreen.tap(key["x"] + key["width"] / 2, key["y"] + key["height"] / 2)
    expect(page.get_by_text("96 of 96 units looked at")).to_be_visible()
    expect(page.get_by_text("Round complete")).to_be_visible()


def test_a_row_is_filled_once_asked_and_says_so(page: Page, server: str, send: Send) -> None:
    trial = start(send, 3, columns=4, tray_rows=3)
    open_round(page, server, trial, 3)
    page.keyboard.press("3")
    page.keyboard.press("f")
    asked = page.get_by_role("dialog")
    expect(asked).to_contain_text("Did you look at all 3, and are all of them callus?")
    expect(asked.get_by_role("button", name="Yes, save 3")).to_be_focused()
    page.keyboard.press("Enter")
    expect(cell(page, "A4")).to_contain_text("callus")
    expect(cell(page, "B1")).to_have_attribute("aria-current", "true")
    expect(page.get_by_text("4 of 12 units looked at")).to_be_visible()
    expect(page.get_by_text(KEPT)).to_be_visible()
    page.get_by_role("link", name="Log", exact=True).click()
    page.get_by_role("button", name="Leave for now").click()
    expect(page.get_by_role("row").filter(has_text="callus, filled by row")).to_have_count(3)


def test_the_order_and_the_last_entry_again(page: Page, server: str, send: Send) -> None:
    trial = start(send, 3, columns=4, tray_rows=3)
    open_round(page, server, trial, 3)
    page.keyboard.press("o")
    expect(page.get_by_label(re.compile("^Order"))).to_have_value("snake")
    for key in ("2", ".", ".", ".", "."):
        page.keyboard.press(key)
    expect(cell(page, "B4")).to_contain_text("swollen")
    expect(cell(page, "B3")).to_have_attribute("aria-current", "true")
    page.keyboard.press("Backspace")
    expect(cell(page, "B4")).to_have_attribute("aria-current", "true")


def test_leaving_early_names_the_arms_that_are_short(page: Page, server: str, send: Send) -> None:
    trial = start(send, 3)
    open_round(page, server, trial, 3)
    page.keyboard.type("11")
    page.get_by_role("link", name="Today").click()
    asked = page.get_by_role("dialog")
    expect(asked).to_contain_text("10 units not looked at: short are")
    expect(asked).to_contain_text("Untreated")
    page.get_by_role("button", name="Continue round").click()
    expect(page.get_by_role("heading", name="Round of day 3")).to_be_visible()
    page.get_by_role("link", name="Today").click()
    page.get_by_role("button", name="Leave for now").click()
    expect(page.get_by_role("heading", name=re.compile("due"))).to_be_visible()


def test_a_blind_round_left_early_names_no_arm(page: Page, server: str, send: Send) -> None:
    trial = start_blind(page, server, send, 3)
    open_round(page, server, trial, 3)
    page.keyboard.type("11")
    page.get_by_role("link", name="Today").click()
    asked = page.get_by_role("dialog")
    expect(asked).to_contain_text("10 units not looked at.")
    expect(asked).not_to_contain_text("Untreated")


def test_an_event_is_written_and_taken_back(page: Page, server: str, send: Send) -> None:
    trial = start(send, 3)
    open_round(page, server, trial, 3)
    page.keyboard.press("e")
    page.get_by_role("button", name="Whole trial").click()
    page.get_by_label("Amount, mL").fill("-50")
    expect(page.get_by_role("dialog").get_by_role("alert")).to_contain_text("write 0.1 or more")
    page.get_by_role("button", name="Save event").click()
    page.get_by_label("Amount, mL").fill("400")
    page.get_by_role("button", name="Save event").click()
    written = page.get_by_role("region", name="Entries in this round")
    expect(written).to_contain_text("watered, 400 mL, the complete trial")
    page.get_by_label("What happened").select_option(label="Moved")
    page.get_by_role("button", name="A1", exact=True).click()
    page.get_by_label("New position").fill("A2")
    expect(page.get_by_text("A2 stands there: the two change places.")).to_be_visible()
    page.get_by_role("button", name="Save event").click()
    expect(written).to_contain_text("moved to A2, A1")
    page.keyboard.press("Escape")
    expect(cell(page, "A1")).to_contain_text("moved here, its label says A1")
    page.keyboard.press("z")
    expect(cell(page, "A1")).not_to_contain_text("moved here")
    page.keyboard.press("e")
    written.get_by_role("button", name=re.compile(r"Undo\s*: watered")).click()
    expect(written).to_have_count(0)


def test_what_is_half_entered_waits_for_its_plant_and_back_closes_the_sheet(page: Page, server: str, send: Send) -> None:  # fmt: skip
    trial = start(send, 3)
    page.goto(f"{server}/trials/{trial}/plan")
    open_round(page, server, trial, 3)
    address = page.url
    page.get_by_role("button", name="Lift and score").click()
    cell(page, "A1").click()
    page.get_by_label("Roots of 5 mm or more").fill("6")
    cell(page, "A2").click()
    expect(page.get_by_label("Roots of 5 mm or more")).to_have_value("")
    page.keyboard.press("e")
    sheet = page.get_by_role("dialog")
    sheet.get_by_label("What happened").select_option(label="Moved")
    expect(sheet.get_by_text("Write where it goes, such as C4.")).to_be_visible()
    sheet.get_by_label("In your words").fill("nearer the door")
    page.go_back()
    expect(sheet).to_have_count(0)
    assert page.url == address
    page.reload()
    page.get_by_role("button", name="Lift and score").click()
    cell(page, "A1").click()
    expect(page.get_by_label("Roots of 5 mm or more")).to_have_value("6")
    expect(page.get_by_text("Not saved yet.")).to_be_visible()
    cell(page, "A2").click()
    page.keyboard.press("e")
    expect(sheet.get_by_label("In your words")).to_have_value("nearer the door")
    sheet.get_by_role("button", name="Close").click()
    expect(sheet).to_have_count(0)
    page.go_back()
    expect(page).to_have_url(re.compile("/plan$"))


def test_a_note_becomes_a_look_only_when_confirmed(page: Page, server: str, send: Send) -> None:
    trial = start(send, 3)
    open_round(page, server, trial, 3)
    page.keyboard.press("n")
    page.get_by_role("textbox", name=re.compile("^Note")).fill("A2 rooted, A3 not rooted yet")
    page.get_by_role("button", name="Save note").click()
    expect(page.get_by_text("It is only a note until you say so")).to_have_count(1)
    expect(cell(page, "A2")).to_contain_text("was as stuck")
    page.get_by_role("button", name="Save as look").click()
    page.keyboard.press("Escape")
    expect(cell(page, "A2")).to_contain_text("rooted")
    expect(cell(page, "A3")).to_contain_text("was as stuck")


NO = '{"type":"/problems/invalid_input","title":"No","status":422,"detail":"That cannot be.","errors":[{"pointer":"","detail":"That cannot be.","spans":[]}]}'
"""What a server answers that refuses for good."""


def test_measures_in_the_growers_unit_and_signs_of_harm(
    page: Page, server: str, send: Send
) -> None:
    trial = start(send, 3)
    open_round(page, server, trial, 3)
    page.keyboard.press("t")
    page.get_by_label("Unit of height").select_option("cm")
    page.get_by_label("Height", exact=True).fill("4.5")
    page.get_by_role("button", name=re.compile("^Save")).click()
    written = page.get_by_role("region", name="Entries in this round")
    expect(written).to_contain_text("height 45")
    page.get_by_text("Harm", exact=True).click()
    page.get_by_role("group", name="Burnt base").get_by_role("button", name="2 clear").click()
    page.get_by_role("button", name="Save event").click()
    expect(written).to_contain_text("base burn 2")
    page.get_by_text("Measures", exact=True).click()
    page.get_by_label("pH", exact=True).fill("19")
    expect(page.get_by_role("dialog").get_by_role("alert")).to_contain_text("write 14 or less")
    expect(page.get_by_text("Fill in one measure or more.")).to_be_visible()
    page.route(
        "**/entries",
        lambda route: route.fulfill(status=422, content_type="application/problem+json", body=NO),
    )
    page.get_by_text("Event", exact=True).click()
    page.get_by_role("button", name="Save event").click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("alert")).to_contain_text("That cannot be.")
    page.get_by_role("button", name="Discard").click()
    expect(page.get_by_role("alert")).to_have_count(0)


def a_photo(tmp_path: Path) -> Path:
    out = io.BytesIO()
    Image.new("RGB", (640, 480), "#4d6b3c").save(out, "JPEG")
    path = tmp_path / "pot.jpg"
    path.write_bytes(out.getvalue())
    return path


def test_a_photo_waits_without_signal_and_stands_in_the_strip_of_its_day(
    page: Page, server: str, send: Send, tmp_path: Path
) -> None:
    trial = start(send, 3)
    open_round(page, server, trial, 3)
    page.context.set_offline(True)
    page.keyboard.press("p")
    page.locator("input[type=file]").last.set_input_files(a_photo(tmp_path))
    expect(page.get_by_alt_text("Preview")).to_be_visible()
    page.get_by_role("button", name="Save photo").click()
    expect(page.get_by_text("Saved on this device", exact=True)).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_text("1 waiting to send")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_text("1 waiting to send")).to_have_count(0)
    page.get_by_role("link", name="Photos").click()
    expect(page.get_by_role("heading", name="Day 3")).to_be_visible()
    page.get_by_role("button", name=re.compile(r"A1\s*, day 3: open the photo")).click()
    whole = page.get_by_role("dialog").get_by_role("img", name=re.compile("photo of A1"))
    expect(whole).to_be_visible()
    assert whole.evaluate("async (e) => { await e.decode(); return e.naturalWidth; }") == 640


def test_roots_are_measured_on_a_photo_by_thumb_without_signal(
    phone: Callable[..., Page], server: str, send: Send, tmp_path: Path
) -> None:
    trial = start(send, 3)
    page = phone(service_workers="block")
    page.goto(f"{server}/trials/{trial}/rounds/3")
    expect(cell(page, "A1")).to_be_visible()
    page.context.set_offline(True)
    page.get_by_role("button", name=re.compile("^Event")).click()
    page.get_by_text("Photo", exact=True).click()
    page.locator("input[type=file]").last.set_input_files(a_photo(tmp_path))
    page.get_by_role("button", name="Save photo").click()
    page.get_by_role("button", name="Measure on this photo").click()
    photo = page.get_by_role("application", name=re.compile("Photo to mark"))
    photo.scroll_into_view_if_needed()
    box = photo.bounding_box()
    assert box is not None

    def tap(x: float, y: float) -> None:
        page.touchscreen.tap(box["x"] + x * box["width"], box["y"] + y * box["width"])

    for x, y in ((0.1, 0.1), (0.4, 0.1), (0.2, 0.3), (0.8, 0.3)):
        tap(x, y)
    page.get_by_role("button", name="End this root").click()
    expect(page.get_by_text(re.compile("1 line: 20 mm; 1 root"))).to_be_visible()
    page.get_by_role("button", name="Save marks").click()
    page.get_by_role("button", name=re.compile("Save as data: longest root")).click()
    page.keyboard.press("Escape")
    page.context.set_offline(False)
    expect(page.get_by_text(KEPT)).to_be_visible()
    page.goto(f"{server}/trials/{trial}/photos")
    page.evaluate("localStorage.setItem('racecard.who', 'Mara')")
    page.reload()
    page.get_by_role("button", name=re.compile("open the photo")).click()
    expect(page.get_by_text(re.compile("1 line, the longest 20 mm"))).to_be_visible()
    expect(page.get_by_role("button", name="Saved as data: undo")).to_be_visible()


def test_two_phones_that_differ_are_asked_and_both_stay_in_the_log(
    phone: Callable[..., Page], server: str, send: Send
) -> None:
    trial = start(send, 3)
    one, two = phone(service_workers="block"), phone(service_workers="block")
    for page in (one, two):
        page.goto(f"{server}/trials/{trial}/rounds/3")
        expect(cell(page, "A1")).to_be_visible()
        page.context.set_offline(True)
    one.keyboard.press("3")
    two.keyboard.press("6")
    for page in (one, two):
        expect(page.get_by_text("1 tap saved on this device")).to_be_visible()
        page.context.set_offline(False)
        expect(page.get_by_text(KEPT)).to_be_visible()
    two.reload()
    cell(two, "A1").click()
    asked = two.get_by_role("region", name="Two looks at A1 differ")
    expect(asked).to_contain_text("Callus")
    asked.get_by_role("button", name=re.compile("Rooted")).click()
    expect(asked).to_have_count(0)
    expect(cell(two, "A1")).to_contain_text("rooted")
    expect(two.get_by_text(KEPT)).to_be_visible()
    two.get_by_role("button", name=re.compile("log")).click()
    expect(two.get_by_text("All entries for A1")).to_be_visible()
    expect(two.locator("li", has_text="callus")).to_have_count(1)


def worker_holds(page: Page) -> None:
    for _ in range(100):
        if page.evaluate("navigator.serviceWorker.controller !== null"):
            return
        page.wait_for_timeout(100)
    raise AssertionError("no service worker took the page within 10 s")


def test_the_page_opens_without_the_shed_and_nothing_tapped_is_lost(
    phone: Callable[..., Page], server: str, send: Send
) -> None:
    trial = start(send, 3)
    page = phone()
    page.goto(server)
    worker_holds(page)
    page.goto(f"{server}/trials/{trial}/rounds/3")
    expect(cell(page, "A1")).to_be_visible()
    page.keyboard.type("33")
    expect(page.get_by_text("2 of 12 units looked at")).to_be_visible()
    expect(page.get_by_text(KEPT)).to_be_visible()
    page.context.set_offline(True)
    page.keyboard.type("66")
    expect(page.get_by_text("4 of 12 units looked at")).to_be_visible()
    page.reload()
    expect(page.get_by_text("4 of 12 units looked at")).to_be_visible()
    expect(page.get_by_text("2 taps saved on this device")).to_be_visible()
    page.keyboard.type("6")
    expect(page.get_by_text("5 of 12 units looked at")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_text(KEPT)).to_be_visible()
    page.reload()
    expect(page.get_by_text("5 of 12 units looked at")).to_be_visible()


def test_a_tap_that_is_shown_is_on_the_phone_though_the_page_dies(
    phone: Callable[..., Page], server: str, send: Send
) -> None:
    trial = start(send, 3)
    page = phone()
    page.goto(f"{server}/trials/{trial}/rounds/3")
    worker_holds(page)
    page.reload()
    expect(cell(page, "A1")).to_be_visible()
    page.wait_for_load_state("networkidle")
    context = page.context
    context.set_offline(True)
    for i, key in enumerate("34561"):
        page.keyboard.press(key)
        expect(page.get_by_text(f"{i + 1} of 12 units looked at")).to_be_visible()
        page.close()
        page = context.new_page()
        page.goto(f"{server}/trials/{trial}/rounds/3")
        expect(page.get_by_text(f"{i + 1} of 12 units looked at")).to_be_visible()


def test_answers_that_are_lost_or_late_change_nothing_twice_and_keep_the_order(
    phone: Callable[..., Page], server: str, send: Send
) -> None:
    trial = start(send, 3)
    page = phone(service_workers="block")
    sent: list[str] = []

    def lossy(route: Route) -> None:
        body = route.request.post_data or ""
        sent.append(body)
        if len(sent) == 1:  # it is written, but the phone never hears of it
            route.fetch()
            route.abort()
        elif len(sent) == 2:  # it comes long after what was tapped meanwhile
            page.wait_for_timeout(1500)
            route.fallback()
        else:
            route.fallback()

    page.route("**/observations", lossy)
    page.goto(f"{server}/trials/{trial}/rounds/3")
    expect(cell(page, "A1")).to_be_visible()
    page.keyboard.press("3")
    expect(page.get_by_text("1 of 12 units looked at")).to_be_visible()
    page.keyboard.press("Backspace")
    page.keyboard.press("6")
    page.keyboard.press("4")
    expect(page.get_by_text("2 of 12 units looked at")).to_be_visible()
    expect(page.get_by_text(KEPT)).to_be_visible(timeout=60_000)
    assert len(sent) >= 2
    page.reload()
    expect(cell(page, "A1")).to_contain_text("rooted")
    expect(cell(page, "A2")).to_contain_text("bulges")
    expect(page.get_by_text("2 of 12 units looked at")).to_be_visible()
    with urllib.request.urlopen(f"{server}/api/trials/{trial}/log") as answer:
        lines = json.load(answer)
    assert [x["state"] for x in lines if x["kind"] == "look" and x["unit"].startswith("A1")] != []
    assert sum(x["kind"] == "look" for x in lines) == 3


def test_a_lift_proposes_the_score_of_its_parts_and_the_grower_decides(
    page: Page, server: str, send: Send
) -> None:
    trial = start(send, 3)
    open_round(page, server, trial, 3)
    page.get_by_role("button", name="Lift and score").click()
    cell(page, "A1").click()
    page.get_by_label("Roots of 5 mm or more").fill("6")
    quarters = page.get_by_role("group", name="Quarters of the stem with a root")
    quarters.get_by_role("button", name="1", exact=True).click()
    page.get_by_label("Longest root, mm").fill("60")
    expect(page.get_by_text("Its parts make a 2")).to_be_visible()
    page.get_by_role("group", name="Root score").get_by_role(
        "button", name=re.compile("^3")
    ).click()
    expect(cell(page, "A1")).to_contain_text("score 3")
    expect(page.get_by_text(KEPT)).to_be_visible()
    page.get_by_role("button", name="Second scorer").click()
    cell(page, "A1").click()
    expect(cell(page, "A1")).to_contain_text("no score")
    page.keyboard.press("2")
    expect(cell(page, "A1")).to_contain_text("score 2")
    agreed = page.get_by_role("region", name="Agreement between scorers")
    expect(agreed).to_contain_text("1 of 12 drawn by lot are scored a second time", timeout=8_000)
    expect(agreed).to_contain_text("the same score to 0 of 1 plant")


def test_a_jar_is_scored_plant_by_plant(page: Page, server: str, send: Send) -> None:
    trial = start(send, 3, units=3, per_container=4)
    open_round(page, server, trial, 3)
    page.keyboard.type("3n1\n")
    page.get_by_role("button", name="Lift and score").click()
    cell(page, "A1").click()
    save = page.get_by_role("button", name=re.compile("^Save Enter"))
    page.keyboard.type("5")
    expect(save).to_be_disabled()
    expect(page.get_by_text("2 plants still to score: all of them, not the best.")).to_be_visible()
    page.keyboard.type("20")
    page.keyboard.press("Enter")
    expect(cell(page, "A1")).to_contain_text("score ✓")
    expect(page.get_by_text(KEPT)).to_be_visible()


def test_counts_are_entered_as_all_so_far_or_as_new(page: Page, server: str, send: Send) -> None:
    trial = start(send, 6, kind="seed", endpoint=3, per_container=10, units=2)
    open_round(page, server, trial, 3)
    page.keyboard.type("4\n")
    expect(cell(page, "A1")).to_contain_text("4 of 10")
    expect(page.get_by_text(KEPT)).to_be_visible()
    open_round(page, server, trial, 6)
    page.get_by_role("combobox", name=re.compile("^Counts")).select_option("new")
    page.keyboard.type("3")
    field = page.get_by_role("button", name=re.compile("Emerged so far"))
    expect(field).to_contain_text("7 in all")
    page.keyboard.press("Enter")
    expect(cell(page, "A1")).to_contain_text("7 of 10")


def test_a_filled_look_sheet_is_typed_in_after_its_date(
    page: Page, server: str, send: Send
) -> None:
    trial = start(send, 6)
    page.goto(f"{server}/trials/{trial}/look-sheet")
    expect(page.get_by_role("region", name="Look sheet")).to_contain_text("No change")
    page.get_by_label("Date of the round").fill(
        (datetime.now() + timedelta(days=2)).strftime("%Y-%m-%d")
    )
    expect(page.get_by_text("That date is not between day 0 and today")).to_be_visible()
    page.get_by_label("Date of the round").fill(
        (datetime.now() - timedelta(days=3)).strftime("%Y-%m-%d")
    )
    page.get_by_role("button", name="Enter results").click()
    expect(page.get_by_role("heading", name="Round of day 3")).to_be_visible()
    page.keyboard.type("1")
    expect(page.get_by_text(KEPT)).to_be_visible()


def test_a_round_moves_to_its_day_and_a_line_is_taken_back(
    page: Page, server: str, send: Send
) -> None:
    trial = start(send, 6)
    open_round(page, server, trial, 6)
    page.keyboard.type("3" * 12)
    expect(page.get_by_text("Round complete")).to_be_visible()
    page.get_by_role("link", name="Log", exact=True).click()
    page.get_by_label("Entered on").select_option("6")
    page.get_by_label("Correct day").fill("3")
    page.get_by_role("button", name="Move").click()
    expect(page.get_by_text("12 looks moved; the log shows both.")).to_be_visible()
    page.get_by_label("State").select_option("corrected")
    expect(page.get_by_text("12 lines of 25")).to_be_visible()
    page.get_by_label("State").select_option("in force")
    page.get_by_label("Search").fill("A1")
    page.get_by_role("button", name=re.compile(r"Undo\s*: A1")).first.click()
    page.get_by_label("State").select_option("undone")
    expect(page.get_by_role("row").filter(has_text="A1")).to_have_count(1)


def test_a_loggers_file_is_read_with_its_columns_picked(
    page: Page, server: str, send: Send
) -> None:
    trial = start(send, 3)
    now = datetime.now()
    rows = [(now - timedelta(hours=h)).strftime("%d/%m/%Y %H:%M") for h in (3, 2, 1)]
    content = (
        "Logger 7\nWhen;Temp (°F);RH %\n" + "".join(f"{at};68,0;90\n" for at in rows) + "x;1;2\n"
    )
    page.goto(f"{server}/trials/{trial}/conditions")
    expect(page.get_by_role("heading", name="No sensor readings yet")).to_be_visible()
    page.locator("input[type=file]").set_input_files(
        {"name": "l.csv", "mimeType": "text/csv", "buffer": content.encode()}
    )
    expect(page.get_by_label("What is in Temp (°F)")).to_have_value("temperature")
    expect(page.get_by_label("Unit of Temp (°F)")).to_have_value("°F")
    page.get_by_label("Place of the logger").fill(f"shelf {trial[:6]}")
    page.get_by_role("button", name="Import").click()
    expect(
        page.get_by_text("6 readings kept, 0 duplicates left out, 1 row could not be read")
    ).to_be_visible()
    page.get_by_role("button", name="Import").click()
    expect(page.get_by_text("0 readings kept, 6 duplicates left out")).to_be_visible()
    watch = page.locator("form").filter(
        has=page.get_by_role("button", name="Add place", exact=True)
    )
    watch.get_by_label("Place", exact=True).fill(f"shelf {trial[:6]}")
    watch.get_by_label("Alarm above").fill("19")
    watch.get_by_label("Base temperature for degree-days").fill("5")
    watch.get_by_role("button", name="Add place", exact=True).click()
    expect(page.get_by_text("degree-days above 5 °C to date")).to_be_visible()
    expect(
        page.get_by_role("img", name=re.compile("Temperature from 19.0 to 20.0"))
    ).to_be_visible()
    page.get_by_role("link", name="Log", exact=True).click()
    expect(page.get_by_role("row").filter(has_text="temperature 20.0 °C, above 19")).to_have_count(
        1
    )


def test_what_is_promised_stays_on_today_until_it_is_closed(
    page: Page, server: str, send: Send
) -> None:
    trial = start(send, 3)
    open_round(page, server, trial, 3)
    page.keyboard.press("e")
    page.get_by_label("What happened").select_option(label="To follow up")
    page.get_by_label("Day of the trial").fill("60")
    page.get_by_label("In your words").fill(f"count flowers {trial[:6]}")
    page.get_by_role("button", name="Save event").click()
    expect(page.get_by_role("region", name="Entries in this round")).to_be_visible()
    expect(page.get_by_text("to send")).to_have_count(0)
    page.goto(server)
    loops = page.get_by_role("region", name="Still open")
    expect(loops).to_contain_text(f"count flowers {trial[:6]}")
    loops.get_by_role("button", name=re.compile(rf"Close\s*: .*{trial[:6]}")).click()
    expect(page.get_by_text(f"count flowers {trial[:6]}")).to_have_count(0)


def test_a_look_after_the_end_extends_the_trial_and_says_so(page: Page, server: str, send: Send) -> None:  # fmt: skip
    trial = start(send, 14, length_days=6, look_every_days=3)
    page.goto(f"{server}/trials/{trial}/rounds/14")
    expect(page.get_by_text("The last day was 6.")).to_be_visible()
    page.get_by_role("button", name="Extend the trial to day 14").press("Enter")
    expect(cell(page, "A1")).to_be_visible()
    page.keyboard.press("1")
    expect(page.get_by_text(re.compile("^1 of 24|1 of"))).to_be_visible()
    expect(page.get_by_text("All saved")).to_be_visible()
    page.goto(f"{server}/trials/{trial}/plan")
    expect(page.get_by_text("looked at again after the end")).to_be_visible()
