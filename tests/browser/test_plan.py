"""The plan, filled as a grower fills it: what follows is seen at once, and nothing is lost."""

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import axe_faults, unfold
from tests.browser.test_journeys import open_demo, start
from tests.builders import a_draft

Send = Callable[[str, object], dict[str, Any]]


def cells(page: Page) -> list[str]:
    return [str(c.get_attribute("aria-label")) for c in page.locator("figure button").all()]


def fill_texts(page: Page, question: str = "Fig: does a soak help?") -> None:
    page.get_by_label("What do you want to find out?").fill(question)
    page.get_by_label("Plants", exact=True).fill("fig, hardwood, one tree")
    page.get_by_label("Name of treatment 2").fill("Soaked")


def number(page: Page, label: str) -> Locator:
    return page.get_by_label(label, exact=True)


def test_a_template_brings_its_arms_and_days_and_can_be_taken_back(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    page.get_by_label("What do you want to find out?").fill("Sage: which cutting?")
    page.get_by_label("What do you compare?").select_option("cutting type")
    expect(page.get_by_label("Name of treatment 1")).to_have_value("The usual cutting")
    expect(page.get_by_text("so scoring cannot be blind").first).to_be_visible()
    page.get_by_label("Kind of cutting or seed").select_option("herbaceous")
    expect(number(page, "Last day")).to_have_value("28")
    expect(page.get_by_label("What do you want to find out?")).to_have_value("Sage: which cutting?")
    expect(page.get_by_label("Name of treatment 1")).to_have_value("The usual cutting")
    page.get_by_role("button", name="Undo").click()
    expect(number(page, "Last day")).to_have_value("84")


def test_factors_are_crossed_and_a_bad_factor_is_said(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    page.get_by_role("button", name="Combine two factors").click()
    page.get_by_label("Factor 1").fill("coat")
    levels = page.get_by_label("Levels, the usual one first")
    levels.nth(0).fill("whole")
    page.get_by_label("Factor 2").fill("soak")
    levels.nth(1).fill("dry, overnight")
    page.get_by_role("button", name="Create all combinations").click()
    expect(page.get_by_text("has 1 level: give it at least two")).to_be_visible()
    levels.nth(0).fill("intact, nicked")
    page.get_by_role("button", name="Create all combinations").click()
    expect(page.get_by_label("Name of treatment 4")).to_have_value("nicked, overnight")
    expect(page.get_by_text("4 of 6 pairs differ in exactly one thing")).to_be_visible()
    page.get_by_role("button", name="Restore previous treatments").click()
    expect(page.get_by_label("Name of treatment 4")).to_have_count(0)


def test_a_ladder_brings_nothing_and_the_carrier(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    page.get_by_role("button", name="Dose or time series").click()
    page.get_by_label("To", exact=True).fill("100")
    page.get_by_role("button", name="Create series").click()
    expect(page.get_by_text("The steps must rise")).to_be_visible()
    page.get_by_label("To", exact=True).fill("4000")
    page.get_by_role("button", name="Create series").click()
    expect(page.get_by_label("Name of treatment 2")).to_have_value("Alcohol only")
    expect(page.get_by_label("Name of treatment 6")).to_have_value("IBA 4000 ppm")


def test_a_question_of_speed_is_given_the_measure_that_answers_it(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    fill_texts(page, "Fig: does a soak get it rooting sooner?")
    page.get_by_role("button", name="Judge it on how soon").click()
    expect(page.get_by_label("Judged on")).to_have_value("speed")
    page.get_by_label("Look on days").fill("21, 42")
    page.get_by_role("button", name="Look every 4 days").click()
    expect(page.get_by_label("Look on days")).to_have_value(re.compile("^4, 8, 12"))
    expect(page.get_by_text(re.compile("days sooner (only )?about")).first).to_be_visible()


def test_a_plan_that_is_not_whole_is_never_said_to_be_without_objection(
    page: Page, server: str
) -> None:
    page.goto(f"{server}/trials/new/details")
    fill_texts(page)
    expect(page.get_by_text("No objections to this plan")).to_be_visible()
    page.get_by_label("Look on days").fill("21, 99")
    expect(page.get_by_text("The check runs once")).to_be_visible()
    expect(page.get_by_text("No objections to this plan")).to_have_count(0)
    expect(page.locator("figure button").first).to_be_visible()


def test_the_missing_arm_is_added_by_one_click(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    fill_texts(page)
    page.get_by_label("Carrier of treatment 2").select_option("talc")
    expect(page.get_by_text("Nothing here gets the talc alone")).to_be_visible()
    page.get_by_role("button", name="Add “Talc only”").click()
    expect(page.get_by_label("Name of treatment 3")).to_have_value("Talc only")
    expect(page.get_by_text("Nothing here gets the talc alone")).to_have_count(0)


def test_a_jar_an_arm_is_said_to_be_one_unit(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    page.get_by_label("What was randomised").select_option("container")
    number(page, "Containers per treatment").fill("1")
    number(page, "Plants per container").fill("16")
    number(page, "Blocks (1 = none)").fill("1")
    expect(
        page.get_by_text("16 cuttings, one container per treatment = 1 unit per treatment")
    ).to_be_visible()
    expect(page.get_by_text("cannot be separated.").first).to_be_visible()


def test_a_locked_cell_keeps_its_treatment_when_the_rest_is_drawn(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    fill_texts(page)
    first = page.locator("figure button").first
    expect(first).to_be_visible()
    kept = str(first.get_attribute("aria-label"))
    first.click()
    expect(first).to_have_attribute("aria-label", f"{kept}, locked")
    for _ in range(4):
        before = cells(page)
        page.get_by_role("button", name="Randomise again").click()
        page.wait_for_function(
            "b => [...document.querySelectorAll('figure button')].map(x => x.ariaLabel).join('|') !== b",
            arg="|".join(before),
        )
        expect(first).to_have_attribute("aria-label", f"{kept}, locked")
    page.get_by_role("button", name="Save draft").click()
    expect(page.get_by_role("button", name="Saved")).to_be_visible()
    page.reload()
    expect(first).to_have_attribute("aria-label", f"{kept}, locked")
    page.get_by_role("button", name="Unlock").click()
    expect(first).to_have_attribute("aria-pressed", "false")


def test_cells_are_reached_by_arrows_and_locked_by_a_key(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    first = page.locator("figure button").first
    first.focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name=re.compile("^B2: .*, locked$"))).to_be_focused()
    assert page.locator("figure button[tabindex='0']").count() == 1


def test_order_and_codes_can_be_shown_on_the_bench(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    expect(page.locator("figure button").first).to_be_visible()
    page.get_by_label("Tray plan shows").select_option("order")
    expect(page.locator("figure td").filter(has_text=re.compile("^48$"))).to_be_visible()
    page.get_by_label("Tray plan shows").select_option("codes")
    shown = page.locator("figure td span").filter(has_text=re.compile("^[A-Z3479]{4}$"))
    expect(shown).to_have_count(48)


def test_a_bench_laid_by_hand_starts_only_with_a_reason(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    fill_texts(page)
    page.get_by_label("Randomise", exact=True).select_option("by hand")
    expect(page.get_by_text("Positions were not randomised, so light, draughts")).to_be_visible()
    page.get_by_role("button", name="Start trial").press("Enter")
    page.get_by_role("button", name="Start now").press("Enter")
    expect(page.get_by_text("Or give your reason for keeping it.").first).to_be_visible()
    page.keyboard.press("Escape")
    reasons = page.get_by_label("Or give your reason for keeping it")
    expect(reasons).to_have_count(2)
    for reason in reasons.all():
        reason.fill("one shelf, and it cannot be turned")
    page.wait_for_load_state("networkidle")
    page.get_by_role("button", name="Start trial").press("Enter")
    page.get_by_role("button", name="Start now").press("Enter")
    expect(page.get_by_text("plan frozen on")).to_be_visible()
    expect(page.get_by_text("Positions were not randomised")).to_be_visible()
    expect(page.get_by_text("one shelf, and it cannot be turned").first).to_be_visible()


def test_what_is_at_hand_shows_what_is_short(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    fill_texts(page)
    page.get_by_label("Cuttings, matched: you have").fill("40")
    expect(page.get_by_text("You are 13 short of cuttings, matched.")).to_be_visible()
    expect(page.get_by_text("enough for 18 of each")).to_be_visible()
    page.get_by_label("Cuttings, matched: you have").fill("60")
    expect(page.get_by_text("You are 13 short")).to_have_count(0)


def test_grades_are_dealt_and_balanced_before_the_start(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    fill_texts(page)
    page.get_by_role("button", name="Save draft").click()
    page.get_by_label("Number in each grade").fill("10, 10")
    page.get_by_role("button", name="Assign at random").click()
    expect(page.get_by_text("The grades hold 20 cuttings, the bench needs 48")).to_be_visible()
    page.get_by_label("Number in each grade").fill("20, 30")
    page.get_by_role("button", name="Assign at random").click()
    expect(page.get_by_text("as alike in grade as chance makes them")).to_be_visible()


def test_predictions_are_sealed_from_the_start_and_scored_at_the_finish(
    page: Page, server: str
) -> None:
    open_demo(page, server, "Lavender")
    expect(
        page.get_by_text("You expected IBA 4000 ppm first; IBA 1000 ppm was first.")
    ).to_be_visible()
    page.get_by_role("link", name="Plan", exact=True).click()
    expect(page.get_by_text("hidden until the results")).to_be_visible()
    expect(page.get_by_text(re.compile(r"\b85\s*%"))).to_have_count(0)


def test_an_amendment_needs_a_reason_and_is_carried_to_the_finish(
    page: Page, server: str, send: Send
) -> None:
    page.goto(f"{server}/trials/{start(send, 3)}/plan")
    expect(page.get_by_text(re.compile("^[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}$"))).to_be_visible()
    unfold(page, "Change the plan")
    page.get_by_label("What changes").select_option("length_days")
    page.get_by_label("New value").fill("60")
    page.get_by_role("button", name="Save change").click()
    expect(page.get_by_text("An amendment needs a reason")).to_be_visible()
    page.get_by_label("Why", exact=True).fill("a cold spring")
    page.get_by_role("button", name="Save change").click()
    expect(page.get_by_text("became 60")).to_be_visible()
    page.get_by_label("What changes").select_option("looks")
    page.get_by_label("New value").fill("now and then")
    expect(page.get_by_text("Type “every 3 days”")).to_be_visible()
    page.get_by_label("New value").fill("10, 60")
    page.get_by_label("Why", exact=True).fill("a cold spring")
    page.get_by_role("button", name="Save change").click()
    expect(page.get_by_text("became 10, 60")).to_be_visible()
    page.get_by_role("link", name="Finish").click()
    expect(page.get_by_text("After the start the last day was changed")).to_be_visible()
    expect(page.get_by_text("became 60 (a cold spring)")).to_be_visible()


def test_a_plan_is_copied_and_compared(page: Page, server: str, send: Send) -> None:
    page.goto(f"{server}/trials/{start(send, 3)}/plan")
    page.get_by_role("button", name="Copy plan").click()
    number(page, "Plants per treatment").fill("9")
    number(page, "Blocks (1 = none)").fill("1")
    page.get_by_role("button", name="Save changes").click()
    expect(page.get_by_role("button", name="Saved")).to_be_visible()
    page.get_by_role("link", name="Compare with another plan").click()
    page.get_by_label("Other plan").select_option(index=1)
    expect(page.get_by_role("row", name=re.compile("Units of each treatment 9"))).to_be_visible()


def test_ten_thousand_units_are_drawn_and_the_page_stays_quick(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    fill_texts(page)
    number(page, "Plants per treatment").fill("5000")
    tray = page.get_by_role("img", name=re.compile("^Tray 1: .* units in"))
    expect(tray).to_be_visible()
    painted = "c => c.getContext('2d').getImageData(4, 4, 1, 1).data[3]"
    assert tray.evaluate(painted) > 0
    page.get_by_label("Plants", exact=True).fill("fig, still typed at once")
    expect(page.get_by_label("Plants", exact=True)).to_have_value("fig, still typed at once")
    number(page, "Plants per treatment").fill("10000")
    expect(page.get_by_text("must be 1 to 5000, got 10000")).to_be_visible()


def test_the_grower_s_own_controls_are_offered_as_the_base_rate(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    page.get_by_label("Plants", exact=True).fill("lavender, semi-ripe")
    page.get_by_role("button", name="use 38 %").click()
    expect(page.get_by_label("Usual strike rate of the control, %")).to_have_value("38")


def test_lifts_on_the_way_and_other_work_are_planned_and_kept(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    page.get_by_label("What do you want to find out?").fill("Sage: lifts on the way")
    page.get_by_label("Plants", exact=True).fill("sage tips")
    page.get_by_label("Name of treatment 2").fill("Honey dip")
    unfold(page, "Planned lifts and other jobs")
    page.get_by_role("button", name="Add a sample lift").click()
    page.get_by_label("Lifted per treatment", exact=True).fill("900")
    page.get_by_label("Lifted per treatment", exact=True).blur()
    expect(page.get_by_role("alert").filter(has_text="leave some for the end")).to_be_visible()
    page.get_by_label("Lifted per treatment", exact=True).fill("2")
    page.get_by_label("Lifted per treatment", exact=True).blur()
    page.get_by_role("button", name="Add a job").click()
    expect(page.get_by_label("Job", exact=True)).to_have_value("uncovered")
    expect(page.get_by_text("leave some for the end")).to_have_count(0)
    page.get_by_role("button", name="Save draft").click()
    expect(page.get_by_role("button", name="Saved")).to_be_visible()
    page.reload()
    expect(page.get_by_label("Lifted per treatment", exact=True)).to_have_value("2")
    expect(page.get_by_label("Job", exact=True)).to_have_value("uncovered")


def test_two_pages_that_change_one_plan_lose_nothing(page: Page, server: str, send: Send) -> None:
    trial = send("/api/trials", a_draft(question="Two desks?"))
    address = f"{server}/trials/{trial['id']}/plan"
    page.goto(address)
    expect(page.get_by_label("What do you want to find out?")).to_have_value("Two desks?")
    other = page.context.new_page()
    other.goto(address)
    for p, words, days in ((page, "Mine?", ""), (other, "Theirs?", "30")):
        p.get_by_label("What do you want to find out?").fill(words)
        if days:
            p.get_by_label("Last day").fill(days)
    other.get_by_role("button", name="Save changes").click()
    expect(other.get_by_role("button", name="Saved")).to_be_visible()
    page.get_by_role("button", name="Save changes").click()
    clash = page.get_by_role("group", name="What do you want to find out?")
    expect(clash).to_contain_text("yours: Mine?")
    assert axe_faults(page) == []
    clash.get_by_label("saved meanwhile: Theirs?").check()
    page.get_by_role("button", name="Save with these").click()
    expect(page.get_by_role("button", name="Saved")).to_be_visible()
    page.reload()
    expect(page.get_by_label("What do you want to find out?")).to_have_value("Theirs?")
    expect(page.get_by_label("Last day")).to_have_value("30")
