"""Groups of treatments compared: declared on the plan, or asked after the fact at the finish."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import axe_faults, unfold
from tests.browser.test_journeys import open_demo


def test_groups_asked_for_at_the_finish_are_marked(page: Page, server: str) -> None:
    open_demo(page, server, "Lavender")
    card = page.get_by_role("heading", name="Groups compared").locator("xpath=ancestor::section[1]")
    expect(card.get_by_text("Put a treatment or more into each group.")).to_be_visible()
    for name, where in (("IBA 500", "first"), ("IBA 1000", "first"), ("Untreated", "second")):
        group = card.get_by_role("radiogroup", name=re.compile(f"^Group of {name}"))
        group.get_by_text(where, exact=True).click()
    card.get_by_role("button", name="Compare these groups").click()
    expect(card.get_by_text("As groups: ")).to_be_visible()
    expect(card.get_by_text("This comparison was not declared before the start")).to_be_visible()
    assert axe_faults(page) == []


def test_groups_are_declared_on_the_plan(page: Page, server: str) -> None:
    open_demo(page, server, "Camellia")
    unfold(page, "More: secondary results, day 0, earlier results")
    page.get_by_role("button", name="Compare groups").click()
    expect(page.get_by_text("Each of the two groups needs a treatment.").first).to_be_visible()
    page.set_viewport_size({"width": 390, "height": 844})
    page.get_by_role("radiogroup", name=re.compile("^Group of Tip")).get_by_text("first").click()
    page.get_by_role("radiogroup", name=re.compile("^Group of Leaf")).get_by_text("second").click()
    expect(page.get_by_text("Each of the two groups needs a treatment.")).to_have_count(0)
    assert axe_faults(page) == []
    page.get_by_role("button", name="Remove").last.click()
