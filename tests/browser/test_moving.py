"""Moving between pages: Back asks like a link, a page is found where it was left, a fault is said."""

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import Page, expect

from tests.browser.test_journeys import start

Send = Callable[[str, object], dict[str, Any]]


def test_back_from_a_round_half_made_asks_first(page: Page, server: str, send: Send) -> None:
    page.goto(f"{server}/trials/{start(send, 3)}/plan")
    plan = page.url
    page.get_by_role("link", name=re.compile("^Day 3,")).click()
    expect(page.get_by_role("heading", name="Round of day 3")).to_be_visible()
    page.keyboard.type("11")
    expect(page.get_by_text("2 of 12 units looked at")).to_be_visible()
    asked = page.get_by_role("dialog")
    page.go_back()
    expect(asked).to_contain_text("10 units not looked at")
    page.get_by_role("button", name="Continue round").click()
    expect(asked).to_have_count(0)
    expect(page).to_have_url(re.compile("/rounds/3$"))
    page.keyboard.press("1")
    expect(page.get_by_text("3 of 12 units looked at")).to_be_visible()
    page.go_back()
    page.get_by_role("button", name="Leave for now").click()
    expect(page).to_have_url(plan)
    expect(page.get_by_role("heading", name="Round of day 3")).to_have_count(0)
    page.go_forward()
    expect(page.get_by_role("heading", name="Round of day 3")).to_be_visible()


def test_a_page_is_found_where_it_was_left(page: Page, server: str) -> None:
    page.goto(f"{server}/library")
    expect(page.get_by_role("heading", name="Cautions")).to_be_visible()
    page.get_by_role("contentinfo").scroll_into_view_if_needed()
    left = page.evaluate("scrollY")
    assert left > 500
    page.get_by_role("contentinfo").get_by_role("link", name="Form book").click()
    expect(page.get_by_role("heading", name="Form book")).to_be_visible()
    page.wait_for_function("scrollY === 0")
    page.go_back()
    page.wait_for_function("left => Math.abs(scrollY - left) < 2", arg=left)
    page.goto(f"{server}/no-such-page")
    expect(page.get_by_role("heading", name="Page not found")).to_be_visible()


def test_a_page_that_cannot_be_loaded_says_so_inside_the_frame(page: Page, server: str) -> None:
    page.goto(f"{server}/library")
    page.context.route(re.compile("GlossaryPage"), lambda route: route.abort())
    page.get_by_role("link", name="Glossary").first.click()
    expect(page.get_by_role("alert")).to_contain_text("Nothing that was saved is lost")
    page.get_by_role("link", name="Today").click()
    expect(page.get_by_role("heading", level=1)).to_be_visible()
