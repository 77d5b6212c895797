"""Every number field there is: a decimal comma stays one, and words are refused where they stand."""

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import loaded
from tests.browser.test_journeys import Send, start

LOCALES = [
    pytest.param(locale, marks=pytest.mark.browser_context_args(locale=locale), id=locale)
    for locale in ("en-GB", "de-DE")
]
FIELDS = "main input[inputmode=decimal]:visible, main input[inputmode=numeric]:visible"


@pytest.mark.parametrize("locale", LOCALES)
def test_a_decimal_comma_stays_one_in_every_number_field(
    page: Page, server: str, send: Send, locale: str
) -> None:
    trial = start(send, 3)
    routes = [
        "/trials/new/details", "/dry-run", f"/trials/{trial}/conditions", f"/trials/{trial}/log",
        f"/trials/{trial}/prepare", f"/trials/{trial}/finish", f"/trials/{trial}/rounds/3",
    ]  # fmt: skip
    met = 0
    for route in routes if locale == "de-DE" else routes[:1]:
        page.goto(f"{server}{route}")
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        loaded(page)
        page.evaluate("document.querySelectorAll('main details').forEach((d) => { d.open = true })")
        # marked first: a number that is read may bring further fields, and shift those that follow
        found = page.locator(FIELDS).evaluate_all(
            "(all) => all.map((field, i) => (field.dataset.met = i))"
        )
        for i in found:
            field = page.locator(f"[data-met='{i}']")
            if not field.is_enabled():
                continue
            field.fill("7,5")
            assert field.input_value() == "7,5", f"{route}: {field.get_attribute('aria-label')}"
            field.fill("6 weeks")
            expect(field).to_have_attribute("aria-invalid", "true")
            met += 1
    assert met > (15 if locale == "de-DE" else 3)
