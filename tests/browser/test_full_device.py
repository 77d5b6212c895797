"""A round on a device that is full: nothing is shown as saved that is not, and nothing typed is lost."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import axe_faults
from tests.browser.test_journeys import Send, open_round, start

FULL = """() => {
    const transaction = IDBDatabase.prototype.transaction;
    window.freed = () => { IDBDatabase.prototype.transaction = transaction; };
    IDBDatabase.prototype.transaction = function (stores, mode, options) {
        if (mode === "readwrite") throw new DOMException("full", "QuotaExceededError");
        return transaction.call(this, stores, mode, options);
    };
}"""


def test_a_full_device_keeps_what_was_typed_in_its_form(
    page: Page, server: str, send: Send
) -> None:
    open_round(page, server, start(send, 3), 3)
    a1, panel = page.locator("[data-cell=A1]"), page.get_by_role("complementary")
    page.evaluate(FULL)
    panel.get_by_role("button", name=re.compile("^Callus")).click()
    expect(page.get_by_role("alert")).to_contain_text("This device is full, so that was not saved.")
    expect(page.get_by_text("Not everything is saved.")).to_be_visible()
    expect(a1).to_contain_text("not looked at in this round")
    expect(panel.get_by_role("button", name=re.compile("^Undo"))).to_be_disabled()
    panel.get_by_role("button", name=re.compile("^Event")).click()
    sheet = page.get_by_role("dialog")
    sheet.get_by_text("Note", exact=True).click()
    note = sheet.get_by_role("textbox", name=re.compile("^Note"))
    note.fill("white roots at the rim")
    sheet.get_by_role("button", name="Save note").click()
    expect(sheet.get_by_role("status")).to_contain_text("This device is full")
    expect(note).to_have_value("white roots at the rim")
    assert axe_faults(page) == []
    page.evaluate("freed()")
    sheet.get_by_role("button", name="Save note").click()
    expect(sheet.get_by_text("Saved on this device")).to_be_visible()
    expect(note).to_have_value("")
    page.keyboard.press("Escape")
    expect(page.get_by_text("All saved")).to_be_visible()
    panel.get_by_role("button", name=re.compile("^Undo")).click()
    expect(panel.get_by_role("button", name=re.compile("^Undo"))).to_be_disabled()
    expect(page.get_by_role("alert")).to_have_count(0)
