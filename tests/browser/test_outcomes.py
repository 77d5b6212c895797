"""Trials of another outcome than roots: bloom by keyboard, shoots by thumb, steps of one's own."""

import re
from datetime import datetime, timedelta

from playwright.sync_api import Page, expect

from tests.browser.conftest import axe_faults, draw_fairly


def started(page: Page, server: str, line: str, plants: int, *, days_ago: int) -> None:
    """From the three questions to a trial that began so many days ago."""
    page.goto(f"{server}/trials/new")
    page.get_by_role("textbox", name="What do you want to find out?").fill(line)
    page.get_by_label("Cuttings, seeds or bulbs").fill(str(plants))
    page.get_by_role("button", name=re.compile("^Use (this plan|it anyway)")).first.press("Enter")
    draw_fairly(page)
    page.get_by_role("button", name="Start trial").press("Enter")
    when = datetime.now() - timedelta(days=days_ago)
    page.get_by_label(re.compile("When was it")).fill(when.strftime("%Y-%m-%dT09:00"))
    page.get_by_role("button", name=re.compile("tart now$")).press("Enter")
    expect(page.get_by_text(re.compile(rf"^Day {days_ago} "))).to_be_visible()


def test_twelve_bulbs_are_watched_for_bloom_by_keyboard(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new")
    line = "Do tulip bulbs bloom better with feed than nothing?"
    page.get_by_role("textbox", name="What do you want to find out?").fill(line)
    page.get_by_label("Cuttings, seeds or bulbs").fill("12")
    expect(page.get_by_text("watched for bloom")).to_be_visible()
    started(page, server, line, 12, days_ago=84)
    expect(page.get_by_text("judged on: in bloom by day 84")).to_be_visible()
    page.get_by_role("link", name="Rounds").click()
    expect(page.get_by_role("button", name=re.compile("In bloom"))).to_be_visible()
    assert axe_faults(page) == []
    bench = page.get_by_label("The bench")
    bench.locator("[data-cell]").first.focus()
    for key in "4414141441":  # 5 and 5: six of each would show such a difference less often
        page.keyboard.press(key)
    expect(page.get_by_text("10 of 10 units looked at")).to_be_visible()
    page.get_by_role("link", name="Finish").click()
    answer = page.get_by_role("region", name="The answer")
    expect(answer).to_contain_text("bloomed")
    expect(page.get_by_role("heading", name="Lanes: when each plant bloomed")).to_be_visible()


def test_shoots_of_single_nodes_are_logged_by_thumb(page: Page, server: str) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    line = "Do single node fig cuttings shoot more with honey than plain water?"
    started(page, server, line, 8, days_ago=20)
    page.get_by_role("link", name="Rounds").click()
    for _ in range(8):
        page.get_by_role("button", name=re.compile("Shoot showing")).click()
    expect(page.get_by_text("8 of 8")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("Base not seen"))).to_have_count(0)
    assert axe_faults(page) == []


def test_steps_of_ones_own_are_named_on_the_plan(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    page.get_by_label("Watched for").select_option("own")
    page.get_by_label("Your steps, with commas between").fill("green")
    expect(page.get_by_text("Name 2 to 6 steps")).to_be_visible()
    page.get_by_label("Your steps, with commas between").fill("green, yellow, fallen")
    expect(page.get_by_label("Counts when")).to_contain_text("fallen")
    page.get_by_label("Counts when").select_option("yellow")
    expect(page.get_by_label("Judged on")).not_to_contain_text("root score")
    assert axe_faults(page) == []


def test_a_trial_is_judged_on_a_measure_of_ones_choice(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    page.get_by_label("Judged on").select_option("measured")
    page.get_by_label("Which measure").select_option("leaves")
    expect(page.get_by_label("Usual value of the control")).to_have_value("8")
    page.get_by_label("Smallest difference that matters, score").fill("3")
    expect(page.get_by_text(re.compile("leaves"))).not_to_have_count(0)
    page.get_by_label("Usual value of the control").fill("900")
    expect(page.get_by_text("Leaves can be at most 500, got 900.")).to_be_visible()
    page.get_by_label("Judged on").select_option("strike")
    expect(page.get_by_label("Which measure")).to_have_count(0)
    assert axe_faults(page) == []


ARMS = """async () => {
    const trial = location.pathname.split("/")[2];
    const round = await (await fetch(`/api/trials/${trial}/rounds/42`)).json();
    return round.units.map((u) => u.cell.treatment);
}"""


def test_a_medium_is_judged_by_size_grades_with_the_keyboard(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new/details")
    page.get_by_label("What do you want to find out?").fill("Thyme: does perlite in the peat bring larger plants?")  # fmt: skip
    page.get_by_label("Plants", exact=True).fill("thyme tips, rooted, one bed")
    page.get_by_label("Name of treatment 1").fill("Peat alone")
    page.get_by_label("Name of treatment 2").fill("Peat and perlite")
    page.get_by_label("Plants per treatment").fill("8")
    page.get_by_label("Blocks (1 = none)").fill("1")
    page.get_by_label("Watched for").select_option("own")
    page.get_by_label("Your steps, with commas between").fill("small, middle, large")
    page.get_by_label("Judged on").select_option("measured")
    page.get_by_label("Which measure").select_option(label="Stage reached")
    draw_fairly(page)
    page.get_by_role("button", name="Start trial").press("Enter")
    when = datetime.now() - timedelta(days=42)
    page.get_by_label("When was it stuck?").fill(when.strftime("%Y-%m-%dT09:00"))
    page.get_by_role("button", name=re.compile("tart now$")).press("Enter")
    expect(page.get_by_text(re.compile("^Day 42 "))).to_be_visible()
    page.get_by_role("link", name="Rounds").click()
    page.locator("[data-cell]").first.focus()
    for arm in page.evaluate(ARMS):  # a key for each step: small, middle, large
        page.keyboard.press("3" if arm == 1 else "1")
    expect(page.get_by_text("16 of 16 units looked at")).to_be_visible()
    page.get_by_role("link", name="Finish").click()
    answer = page.get_by_role("region", name="The answer")
    expect(answer).to_contain_text("Peat and perlite is likely ahead")
    expect(answer).to_contain_text("on stage reached")
    assert axe_faults(page) == []
