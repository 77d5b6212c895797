"""A form of many gardens: its columns matched by hand, every row's fate, and the result."""

from datetime import date, timedelta

from playwright.sync_api import Page, expect

from racecard.standins.gardens import played_form
from tests.browser.conftest import axe_faults


def test_a_wide_form_is_matched_judged_and_remembered(page: Page, server: str) -> None:
    first = date.today() - timedelta(days=75)
    form = played_form(40, 0.3, faults=True, seed=1, first=first)
    sent = {"name": "sills.csv", "mimeType": "text/csv", "buffer": form.encode()}
    page.goto(f"{server}/trials/read-in")
    page.get_by_role("link", name="Returns of many gardens").click()
    assert axe_faults(page) == []
    page.locator("input[type=file]").set_input_files(sent)  # type: ignore[arg-type]
    expect(page.get_by_text("Say which columns hold the results")).to_be_visible()
    expect(page.get_by_label("Garden", exact=True)).to_have_value("Garden")
    page.get_by_label("Day it was looked at").select_option("Counted on")
    page.get_by_label("How many of each").select_option("Seeds in each")
    page.get_by_label("Column of treatment 1").select_option("Warm soak")
    page.get_by_label("Column of treatment 2").select_option("Dry")
    expect(page.get_by_text("of 40 gardens are compared")).to_be_visible()
    expect(page.get_by_role("row", name="14 of 10 cannot be.")).to_be_visible()
    expect(page.get_by_text("More than a quarter are missing")).to_be_visible()
    expect(page.get_by_text("Choose the control.")).to_be_visible()
    assert axe_faults(page) == []
    page.get_by_label("Which is the control?").select_option("Dry")
    page.get_by_role("button", name="Save and see results").click()
    expect(page.get_by_role("heading", name="sills")).to_be_visible()
    expect(page.get_by_role("region", name="The answer")).to_contain_text("Warm soak")

    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{server}/trials/gardens")
    page.locator("input[type=file]").set_input_files(sent)  # type: ignore[arg-type]
    expect(page.get_by_label("Column of treatment 2")).to_have_value("Dry")
    expect(page.get_by_text("of 40 gardens are compared")).to_be_visible()
    assert axe_faults(page) == []
