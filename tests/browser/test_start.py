"""Three questions to a trial: by keyboard, by thumb, and what cannot be designed."""

import re
from datetime import datetime, timedelta

from playwright.sync_api import Page, expect

from tests.browser.conftest import axe_faults, unfold

LINE = "does seaweed or coconut water root rosemary better than plain water?"


def test_from_an_empty_page_to_a_started_trial_in_few_entries(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new")
    expect(page.get_by_text("up to three plans stand here")).to_be_visible()
    entries = 0
    page.get_by_role("textbox", name="What do you want to find out?").fill(
        "seaweed against nothing on sage?"
    )
    page.get_by_label("Cuttings, seeds or bulbs").fill("24")
    entries += 2
    best = page.get_by_role("article").first
    expect(best).to_contain_text("2 treatments × 12 cuttings")
    expect(best).to_contain_text("this shows it 4 times in 10")
    best.get_by_role("button", name="Use this plan").press("Enter")
    expect(page).to_have_url(re.compile("/trials/[0-9a-f]+/plan"))
    expect(page.get_by_label("Plants per treatment")).to_have_value("12")
    expect(page.get_by_label("Name of treatment 2")).to_have_value("Seaweed")
    page.get_by_role("button", name="Start trial").press("Enter")
    page.get_by_role("button", name="Start now").press("Enter")
    expect(page.get_by_role("button", name="Start trial")).to_have_count(0)
    expect(page.get_by_text(re.compile("^Day 0 · 2 treatments with 12 each"))).to_be_visible()
    entries += 3
    assert entries <= 12


def test_three_jars_get_an_honest_no_and_what_would_do(page: Page, server: str) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{server}/trials/new")
    page.get_by_role("textbox", name="What do you want to find out?").fill(LINE)
    page.get_by_label("Cuttings, seeds or bulbs").fill("12")
    page.get_by_label("How many can stand apart?").fill("3")
    page.get_by_label("They stand in").select_option("jar")
    expect(page.get_by_text("Not with 3 jars. With 10 small jars, yes")).to_be_visible()
    expect(
        page.get_by_text("Understood as: rosemary, cuttings · compared: Seaweed, Coconut water")
    ).to_be_visible()
    described = page.get_by_role("article").filter(has_text="cannot tell")
    expect(described).to_contain_text("3 treatments × 1 jar of 4")
    expect(page.get_by_role("article").first).to_contain_text("Gives up Coconut water.")
    page.get_by_label("mother plant").check()
    expect(page.get_by_text("nobody can tell which of them")).to_be_visible()
    assert axe_faults(page) == []
    described.get_by_role("button", name="Use it anyway").click()
    expect(page.get_by_text(re.compile("differ")).first).to_be_visible()


def test_three_jars_of_seaweed_water_from_the_empty_page_to_the_answer(
    page: Page, server: str
) -> None:
    page.goto(f"{server}/trials/new")
    page.get_by_role("textbox", name="What do you want to find out?").fill(LINE)
    page.get_by_label("Cuttings, seeds or bulbs").fill("12")
    page.get_by_label("How many can stand apart?").fill("3")
    page.get_by_label("They stand in").select_option("jar")
    described = page.get_by_role("article").filter(has_text="cannot tell")
    described.get_by_role("button", name="Use it anyway").click()
    page.get_by_role("button", name="Start trial").click()
    when = datetime.now() - timedelta(days=42)
    page.get_by_label(re.compile("When was it")).fill(when.strftime("%Y-%m-%dT09:00"))
    page.get_by_role("button", name=re.compile("tart now$")).press(
        "Enter"
    )  # the box follows its button while the page grows
    expect(page.get_by_text(re.compile(r"^Day 42 "))).to_be_visible()
    page.get_by_role("link", name="Rounds").click()
    expect(page.locator("[data-cell='A1']")).to_contain_text("not counted yet")
    page.locator("[data-cell='A1']").focus()
    for struck in "143":
        page.keyboard.press(struck)
        page.keyboard.press("Enter")
    expect(page.get_by_text("3 of 3 pots looked at")).to_be_visible()
    page.get_by_role("link", name="Finish").click()
    answer = page.get_by_role("region", name="The answer")
    expect(answer).to_contain_text("This trial cannot tell: there was one container of each")
    # which jar the lot gave to the control decides whether a number can be named
    several = (
        "give each treatment several containers of its own|about \\d+ of each, one to a container"
    )
    expect(answer).to_contain_text(re.compile(several))
    assert axe_faults(page) == []


CANNOT_BE = (
    ("Cuttings, seeds or bulbs", "2", "cannot fill 3 treatments"),
    ("Cuttings, seeds or bulbs", "0", "must be 1 to"),
    ("How many can stand apart?", "-3", "must be 1 to"),
    ("Difference that matters, in 100", "90", "There is no room for 90 points"),
)


def test_what_cannot_be_designed_is_said_where_it_stands(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new")
    page.get_by_role("textbox", name="What do you want to find out?").fill(LINE)
    page.get_by_label("Cuttings, seeds or bulbs").fill("24")
    unfold(page, "Places, helpers, what is usual")
    for label, value, says in CANNOT_BE:
        expect(page.get_by_role("article")).to_have_count(3)
        field = page.get_by_label(label)
        good = field.input_value()
        field.fill(value)
        expect(page.get_by_text(says)).to_be_visible()
        expect(page.get_by_role("article")).to_have_count(0)
        if label != CANNOT_BE[-1][0]:
            field.fill(good)
    page.reload()
    expect(page.get_by_text(says)).to_be_visible()
    expect(field).to_have_value(value)


def test_what_was_read_can_be_changed(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/new")
    page.get_by_role("textbox", name="What do you want to find out?").fill("which is best?")
    page.get_by_label("Cuttings, seeds or bulbs").fill("40")
    page.get_by_role("button", name="Name the treatments").click()
    page.get_by_label("Treatments, with commas between").fill("kelp, honey")
    page.get_by_label("Plant", exact=True).fill("quince")
    expect(
        page.get_by_text("Understood as: quince, cuttings · compared: kelp, honey")
    ).to_be_visible()
    page.get_by_label("They are", exact=True).select_option("seed")
    expect(page.get_by_role("article").first).to_contain_text("20 seeds")
    assert axe_faults(page) == []
