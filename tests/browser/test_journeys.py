"""What a grower does, in the real interface, with the keyboard."""

import re
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any

from playwright.sync_api import Page, expect

from tests.browser.conftest import axe_faults, draw_fairly, unfold
from tests.builders import a_draft

Send = Callable[[str, object], dict[str, Any]]


def start(send: Send, days_ago: float, **plan: object) -> str:
    """A started trial, made behind the scenes."""
    trial = send("/api/trials", a_draft(time_zone="Europe/Lisbon", **plan))["id"]
    at = (datetime.now().astimezone() - timedelta(days=days_ago)).isoformat()
    send(f"/api/trials/{trial}/start", {"at": at})
    return str(trial)


def start_blind(page: Page, server: str, send: Send, days_ago: float, **plan: object) -> str:
    """A sealed trial stuck some days ago: what is written down only now cannot be blind."""
    known = start(send, days_ago, **plan)
    file = page.request.get(f"{server}/api/trials/{known}/trial.json").json()
    file["plan"]["blind"] = True
    return str(send("/api/trials/bring-in", file)["id"])


def open_round(page: Page, server: str, trial: str, day: int) -> None:
    page.goto(f"{server}/trials/{trial}/rounds/{day}")
    expect(page.locator("[data-cell=A1]")).to_be_visible()


def open_demo(page: Page, server: str, name: str) -> None:
    page.goto(f"{server}/trials")
    page.get_by_role("link", name=re.compile(f"^{name}")).first.click()


def test_an_empty_shed_leads_to_the_first_trial_or_the_demo(page: Page, empty_server: str) -> None:
    page.goto(empty_server)
    expect(page.get_by_role("heading", name="No trials yet")).to_be_visible()
    page.get_by_role("button", name="Try it with invented data").click()
    due = page.get_by_role("heading", name="1 round due today")
    expect(due).to_be_visible(timeout=90_000)  # nine trials are made first
    expect(page.get_by_role("link", name=re.compile("^Start round"))).to_be_visible()


def test_plan_lot_round_and_finish_by_keyboard(page: Page, empty_server: str) -> None:
    page.goto(f"{empty_server}/trials/new/details")
    page.get_by_label("What do you want to find out?").fill("Mint: does honey beat nothing?")
    page.get_by_label("Plants", exact=True).fill("mint tips, one bed")
    page.get_by_label("Name of treatment 2").fill("Honey dip")
    page.get_by_label("Plants per treatment").fill("20")
    page.get_by_label("Blocks (1 = none)").fill("1")
    unfold(page, "Trays, borders and spare cells")
    page.get_by_label("Columns per tray").fill("10")
    page.get_by_label("Last day").fill("6")
    expect(
        page.get_by_text(re.compile("20 per treatment would show .* % against 50 %"))
    ).to_be_visible()
    stuck = (datetime.now() - timedelta(days=6)).strftime("%Y-%m-%dT%H:%M")
    draw_fairly(page)
    page.get_by_role("button", name="Start trial").press("Enter")
    page.get_by_label("When was it stuck?").fill(stuck)
    page.get_by_role("button", name="Start now").press("Enter")
    expect(page.get_by_text(re.compile("written on .*, 6 days after day 0"))).to_be_visible()

    for day in (3, 6):
        page.get_by_role("link", name=re.compile(f"^Day {day},")).click()
        expect(page.get_by_role("heading", name=re.compile(f"Round of day {day}"))).to_be_visible()
        presses = 0
        for _ in range(40):
            honey = page.locator("button[aria-current=true] [role=img]").count() == 0
            page.keyboard.press("6" if honey and presses % 2 else "1")
            presses += 1
        assert presses <= 45
        expect(page.get_by_text("40 of 40 units looked at")).to_be_visible()
        expect(page.get_by_text("Round complete")).to_be_visible()

    page.get_by_role("link", name="Finish").click()
    expect(page.get_by_role("heading", name="How sure is that?")).to_be_visible()
    expect(page.get_by_role("region", name="Honey dip")).to_contain_text("of 20 rooted")
    expect(page.get_by_role("region", name="Untreated")).to_contain_text(
        "control (its curve is the pace line)"
    )


def test_a_tap_paints_corrects_and_is_taken_back(page: Page, server: str, send: Send) -> None:
    trial = start(send, 3)
    open_round(page, server, trial, 3)
    first = page.locator("[data-cell=A1]")
    expect(first).to_have_attribute("aria-current", "true")
    page.keyboard.press("3")
    expect(first).to_contain_text("callus")
    page.keyboard.press("Backspace")
    page.keyboard.press("6")
    expect(first).to_contain_text("rooted")
    page.keyboard.press("z")
    expect(first).to_contain_text("callus")
    page.keyboard.press("z")
    expect(first).to_contain_text("was as stuck")
    expect(page.get_by_text("All saved")).to_be_visible()
    page.reload()
    expect(page.get_by_text("0 of 12 units looked at")).to_be_visible()


def test_arrows_move_the_cursor_and_same_as_last_repeats(
    page: Page, server: str, send: Send
) -> None:
    trial = start(send, 6, columns=4)
    open_round(page, server, trial, 3)
    for key in ("2", "3", "4", "1"):
        page.keyboard.press(key)
    expect(page.get_by_text("4 of 12 units looked at")).to_be_visible()
    expect(page.get_by_text("All saved")).to_be_visible()
    open_round(page, server, trial, 6)
    expect(page.locator("[data-cell=A3]")).to_contain_text("was bulges")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    expect(page.locator("[data-cell=A3]")).to_have_accessible_name("A3: bulges")
    page.locator("[data-cell=A1]").click()
    page.keyboard.press("ArrowDown")
    expect(page.locator("[data-cell=B1]")).to_have_attribute("aria-current", "true")


def test_a_loss_with_its_cause_leaves_the_next_round(page: Page, server: str, send: Send) -> None:
    trial = start(send, 6)
    open_round(page, server, trial, 3)
    page.keyboard.press("8")
    expect(page.locator("[data-cell=A1]")).to_contain_text("rotted")
    expect(page.get_by_text("All saved")).to_be_visible()
    open_round(page, server, trial, 6)
    expect(page.locator("[data-cell=A1]")).to_have_accessible_name("A1: rotted , gone")
    expect(page.get_by_text("0 of 11 units looked at")).to_be_visible()


def test_counting_a_container_asks_about_what_cannot_be(
    page: Page, server: str, send: Send
) -> None:
    trial = start(send, 6, kind="seed", endpoint=3, per_container=10, units=4)
    open_round(page, server, trial, 3)
    page.keyboard.type("4\n")
    expect(page.locator("[data-cell=A1]")).to_contain_text("4 of 10")
    page.keyboard.type("12\n")
    expect(page.get_by_role("alert")).to_contain_text("only 10 in this container")
    for _ in range(2):
        page.keyboard.press("Backspace")
    page.keyboard.type("5n2\n")
    expect(page.locator("[data-cell=A2]")).to_contain_text("5 of 10")
    expect(page.get_by_text("All saved")).to_be_visible()
    open_round(page, server, trial, 6)
    page.keyboard.type("3\n")
    expect(page.get_by_role("alert")).to_contain_text("Fewer than the 4 on day 3")


def test_a_pot_of_many_holds_several_histories_and_its_own_number(
    page: Page, server: str, send: Send
) -> None:
    draft = a_draft(kind="seed", endpoint=3, per_container=10, units=3, time_zone="Europe/Lisbon")
    trial = send("/api/trials", draft)["id"]
    page.goto(f"{server}/trials/{trial}/plan")
    also = page.get_by_role("group", name="Also count in each container")
    also.get_by_label("Root tip out").check()
    also.get_by_label("First true leaf").check()
    page.get_by_text("Prediction and number").last.click()
    page.get_by_label("Plants per container, if different").last.fill("6")
    expect(page.get_by_text("crowding is a second difference")).to_be_visible()
    page.get_by_role("button", name="Save changes").click()
    expect(page.get_by_role("button", name="Saved")).to_be_visible()
    at = (datetime.now().astimezone() - timedelta(days=3)).isoformat()
    send(f"/api/trials/{trial}/start", {"at": at})
    open_round(page, server, trial, 3)
    a1 = page.locator("[data-cell=A1]")
    held = 6 if "of 6" in page.get_by_role("group", name="Counts").inner_text() else 10
    page.keyboard.type("3n5n4\n")
    expect(page.get_by_role("alert")).to_contain_text("4 at “First true leaf”, but only 3")
    page.keyboard.press("Backspace")
    page.keyboard.type("1\n")
    expect(a1).to_contain_text(f"3 of {held}")
    expect(page.get_by_text("All saved")).to_be_visible()
    page.goto(f"{server}/trials/{trial}/log")
    said = "3 came up so far, 5 root tip out, 1 first true leaf"
    expect(page.get_by_role("cell", name=said, exact=True)).to_be_visible()
    page.goto(f"{server}/trials/{trial}/finish")
    page.get_by_label("Stage").select_option(label="root tip out")
    expect(page.get_by_text(f"5 of {3 * held}").first).to_be_visible()


def test_taps_outlive_a_shed_that_does_not_answer(page: Page, server: str, send: Send) -> None:
    trial = start(send, 3)
    open_round(page, server, trial, 3)
    expect(page.locator("[data-cell=A1]")).to_be_visible()
    page.context.set_offline(True)
    page.keyboard.type("333")
    expect(page.get_by_text("3 of 12 units looked at")).to_be_visible()
    expect(page.get_by_text("3 taps saved on this device")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_text("All saved")).to_be_visible()
    page.reload()
    expect(page.get_by_text("3 of 12 units looked at")).to_be_visible()


def test_root_scores_take_one_digit_a_plant(page: Page, server: str, send: Send) -> None:
    trial = start(send, 3)
    open_round(page, server, trial, 3)
    page.get_by_role("button", name="Lift and score").click()
    page.locator("[data-cell=A1]").click()
    page.keyboard.type("4")
    expect(page.locator("[data-cell=A1]")).to_contain_text("score 4")
    page.keyboard.type("05" * 6)  # the rest, in the drawn order
    expect(page.locator("[data-cell]").filter(has_text="no score")).to_have_count(0)


def test_a_blind_trial_stays_sealed_until_the_curtain_is_drawn(
    page: Page, server: str, send: Send
) -> None:
    trial = start_blind(page, server, send, 3, units=6)
    open_round(page, server, trial, 3)
    expect(page.locator("[data-cell=A1]")).to_be_visible()
    assert page.locator("[data-cell] clipPath").count() == 0
    page.keyboard.type("161616161616")
    expect(page.get_by_text("12 of 12 units looked at")).to_be_visible()
    expect(page.get_by_text("All saved").or_(page.get_by_text("Round complete"))).to_be_visible()
    page.get_by_role("link", name="Finish").click()
    expect(page.get_by_role("heading", name="Treatments hidden")).to_be_visible()
    page.get_by_role("button", name="Show early anyway").click()
    expect(page.get_by_role("heading", name="Stewards' notes")).to_be_visible()


def test_every_figure_opens_to_its_method(page: Page, server: str) -> None:
    open_demo(page, server, "Lavender")
    page.get_by_role("button", name="Difference +50 points. Why?").press("Enter")
    card = page.get_by_role("dialog")
    expect(card).to_contain_text("95 % interval within blocks")
    expect(card).to_contain_text("Miettinen & Nurminen (1985)")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="IBA 1000 ppm: clearly ahead. Why?").click()
    expect(page.get_by_role("dialog")).to_contain_text("after Holm's correction")
    expect(page.get_by_role("dialog")).to_contain_text("every assignment counted")


def test_the_finish_of_the_demo_says_lead_and_harm(page: Page, server: str) -> None:
    open_demo(page, server, "Lavender")
    expect(
        page.get_by_text(re.compile("IBA 1000 ppm: 50 points more than Untreated.*Clearly ahead"))
    ).to_be_visible()
    expect(page.get_by_role("region", name="IBA 4000 ppm")).to_contain_text("harm: 12 lost")
    expect(
        page.get_by_role("slider", name=re.compile("^IBA 500 ppm: 9 of 24 rooted"))
    ).to_be_visible()


BAD_INPUT = (
    ("Plants per treatment", "0", "must be 1 to 5000, got 0"),
    ("Plants per treatment", "-5", "must be 1 to 5000, got -5"),
    ("Plants per treatment", "2.5", "must be a whole number, got 2.5"),
    ("Last day", "0", "must be 1 to 730, got 0"),
    ("Look on days", "every 99 days", "never comes before the last day"),
    ("Look on days", "7, 99", "comes after the last day, 42"),
    ("Look on days", "soon", "Type “every 3 days”"),
    ("What do you want to find out?", "x" * 301, "has 301 characters"),
    ("Name of treatment 2", " untreated", "both called"),
)


def test_bad_input_is_said_beside_its_field_and_nothing_is_lost(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    page.get_by_label("Plants", exact=True).fill("mint tips")
    for label, value, says in BAD_INPUT:
        field, said = page.get_by_label(label), page.get_by_text(re.compile(re.escape(says))).first
        good = field.input_value()
        field.fill(value)
        page.get_by_role("button", name="Save draft").click()
        expect(said).to_be_visible()
        field.fill(good)
        expect(said).to_have_count(0)
    expect(page).to_have_url(re.compile("/trials/new/details$"))
    page.reload()
    expect(page.get_by_label("Plants", exact=True)).to_have_value("mint tips")


def test_two_controls_and_none_are_both_answered(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    page.get_by_label("Role of treatment 2").select_option("control")
    expect(page.get_by_text("keep one as the untreated control")).to_be_visible()
    page.get_by_label("Role of treatment 1").select_option("candidate")
    page.get_by_label("Role of treatment 2").select_option("candidate")
    expect(page.get_by_text("Nothing here is left untreated")).to_be_visible()


def test_a_removed_treatment_can_be_put_back(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    page.get_by_label("Name of treatment 2").fill("مراقبة 🌱")
    page.get_by_role("button", name="Remove مراقبة 🌱").click()
    expect(page.get_by_label("Name of treatment 2")).to_have_count(0)
    page.get_by_role("button", name="Restore مراقبة 🌱").click()
    expect(page.get_by_label("Name of treatment 2")).to_have_value("مراقبة 🌱")


def test_drawing_again_deals_another_bench(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    bench = page.get_by_role("figure")
    expect(bench).to_be_visible()
    before = [x.get_attribute("aria-label") for x in bench.get_by_role("button").all()]
    page.get_by_role("button", name="Randomise again").click()
    expect(bench.get_by_role("button").nth(0)).to_be_visible()
    page.wait_for_function(
        "b => [...document.querySelectorAll('figure button')].map(x => x.ariaLabel).join() !== b",
        arg=",".join(str(x) for x in before),
    )


def test_the_log_of_a_unit_keeps_corrections_beside_what_they_correct(
    page: Page, server: str, send: Send
) -> None:
    trial = start(send, 3)
    open_round(page, server, trial, 3)
    page.get_by_label("Your name").fill("Inês")
    page.locator("[data-cell=A1]").click()
    page.keyboard.press("3")
    page.keyboard.press("Backspace")
    page.keyboard.press("6")
    expect(page.locator("[data-cell=A1]")).to_contain_text("rooted")
    expect(page.get_by_text("All saved")).to_be_visible()
    page.keyboard.press("Backspace")
    page.get_by_role("button", name="log of A1").click()
    card = page.get_by_role("dialog")
    expect(card.locator("s")).to_have_text("day 3: callus")
    expect(card).to_contain_text("day 3: rooted (correction) · Inês")


def test_the_sheet_of_keys_opens_on_a_question_mark(page: Page, server: str, send: Send) -> None:
    open_round(page, server, start(send, 3), 3)
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keyboard shortcuts")).to_contain_text(
        "Same as last look"
    )
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.keyboard.press("3")
    expect(page.locator("[data-cell=A1]")).to_contain_text("callus")


def test_on_the_phone_an_impossible_count_is_said_above_the_pad(
    page: Page, server: str, send: Send
) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    open_round(page, server, start(send, 3, kind="seed", endpoint=3, per_container=10, units=4), 3)
    panel = page.get_by_role("complementary")
    for key in ("1", "2"):
        panel.get_by_role("button", name=key, exact=True).click()
    panel.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("alert")).to_be_visible()
    expect(page.get_by_role("alert")).to_contain_text("only 10 in this container")


def test_what_is_doubtful_is_said_and_an_odd_trial_hides_no_other(page: Page, server: str) -> None:
    says = "The clock of this computer says 2 May, but the log already holds 4 May."
    clock = {"now": "2026-05-02T12:00:00Z", "newest": "2026-05-04T12:00:00Z", "says": says}
    page.route("**/api/clock", lambda route: route.fulfill(json=clock))
    page.route("**/api/clock/confirm", lambda route: route.fulfill(json=clock | {"says": ""}))
    page.route("**/api/today", lambda route: route.abort())
    page.goto(server)
    expect(page.get_by_role("heading", name="Nothing due today")).to_have_count(0)
    expect(page.get_by_text("What is due could not be asked")).to_be_visible(timeout=30_000)
    banner = page.get_by_role("alert").filter(has_text="the log already holds 4 May")
    expect(banner).to_be_visible()
    assert axe_faults(page) == []
    banner.get_by_role("button", name="The clock is right").click()
    expect(banner).to_have_count(0)


def test_a_fault_of_one_page_stays_inside_the_frame(page: Page, server: str) -> None:
    page.route("**/api/mixing", lambda route: route.fulfill(json={"sums": 3, "examples": []}))
    page.goto(f"{server}/mixing")
    expect(page.get_by_role("heading", name="This page has a fault")).to_be_visible()
    assert axe_faults(page) == []
    page.get_by_role("link", name="Trials").click()
    expect(page.get_by_role("heading", name="This page has a fault")).to_have_count(0)
    expect(page.get_by_role("link", name="New trial")).to_be_visible()
