"""A page that stands while the server stops answering: the phone wakes up, asks anew, and is told nothing."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import axe_faults, loaded
from tests.browser.test_journeys import Send, open_round, start
from tests.builders import a_draft


def refuse(page: Page) -> None:
    page.route("**/api/**", lambda route: route.fulfill(status=503, json={}))


def wake(page: Page) -> None:
    """The screen lights up again after a quarter of a minute."""
    page.clock.fast_forward(15_000)
    page.evaluate("window.dispatchEvent(new Event('visibilitychange'))")


def test_a_round_goes_on_when_asking_anew_fails(page: Page, server: str, send: Send) -> None:
    trial = start(send, 3)
    page.clock.install()
    open_round(page, server, trial, 3)
    loaded(page)
    refuse(page)
    with page.expect_response(f"{server}/api/trials/{trial}") as asked:
        wake(page)
    assert asked.value.status == 503
    panel = page.get_by_role("complementary")
    panel.get_by_role("button", name=re.compile("^Callus")).click()
    expect(page.locator("[data-cell=A1]")).to_contain_text("callus")
    expect(page.get_by_text(re.compile("What other devices saw since"))).to_be_visible()
    expect(page.get_by_text(re.compile("Keep this page open"))).to_be_visible()
    assert axe_faults(page) == []
    page.unroute_all()
    expect(page.get_by_text("All saved")).to_be_visible()
    expect(page.get_by_text(re.compile("What other devices saw since"))).to_have_count(0)


def test_a_form_keeps_what_was_typed_and_the_page_says_of_when_it_is(
    page: Page, server: str, send: Send
) -> None:
    trial = send("/api/trials", a_draft())["id"]
    page.clock.install()
    page.goto(f"{server}/trials/{trial}/plan")
    loaded(page)
    question = page.get_by_label("What do you want to find out?")
    question.fill("Does bottom heat help?")
    refuse(page)
    wake(page)
    expect(page.get_by_text(re.compile(r"This page shows what was known at \d"))).to_be_visible()
    expect(question).to_have_value("Does bottom heat help?")
    assert axe_faults(page) == []
    page.unroute_all()
    wake(page)
    expect(page.get_by_text(re.compile("This page shows what was known"))).to_have_count(0)
    expect(question).to_have_value("Does bottom heat help?")
