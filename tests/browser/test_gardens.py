"""A form of many gardens: its columns matched by hand, every row's fate, and the result."""

import re
from datetime import date, timedelta
from pathlib import Path

from playwright.sync_api import Browser, Page, expect

from racecard.standins.gardens import played_form
from tests.browser.conftest import axe_faults, unfold
from tests.browser.test_journeys import Send, open_demo
from tests.builders import a_draft


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


def test_a_garden_pack_from_the_plan_to_its_return_on_a_phone_without_signal(
    browser: Browser, page: Page, server: str, tmp_path: Path
) -> None:
    open_demo(page, server, "Parsley")
    page.get_by_role("link", name="Plan", exact=True).click()
    unfold(page, "Invite gardens to this trial")
    page.get_by_label("Gardens, at most").fill("3")
    with page.expect_download() as sent:
        page.get_by_role("link", name="Page for their phones").click()
    file = tmp_path / "garden.html"
    sent.value.save_as(file)
    assert axe_faults(page) == []
    returns = []
    for number in ("1", "2", ""):
        phone = browser.new_context(viewport={"width": 390, "height": 844}, offline=True)
        garden = phone.new_page()
        garden.goto(file.as_uri())
        garden.get_by_role("button", name="Save my file to send").click()
        expect(garden.get_by_role("alert")).to_contain_text("Toss first")
        if number == "1":
            garden.get_by_label(re.compile("Number of your garden")).fill("9")
            garden.get_by_role("button", name=re.compile("toss$")).click()
            expect(garden.locator("#order")).to_contain_text("There is no garden 9")
        garden.get_by_label(re.compile("Number of your garden")).fill(number)
        garden.get_by_role("button", name=re.compile("toss$")).click()
        expect(garden.locator("#order")).to_contain_text("Pot A: ")
        garden.get_by_label("Begun on").fill("2026-05-03")
        garden.get_by_label("Counted on").fill("2026-05-31")
        for pot, up in (("A", "3"), ("B", "99")):
            garden.get_by_label(f"Pot {pot}: how many", exact=False).fill(up)
        garden.get_by_role("button", name="Save my file to send").click()
        expect(garden.get_by_role("alert")).to_contain_text("Pot B: enter a whole number")
        garden.get_by_label("Pot B: how many", exact=False).fill("5")
        expect(garden.get_by_text("Kept on this device.")).to_be_visible()
        garden.evaluate("localStorage.clear()")  # as a browser does that had not written it yet
        garden.reload()  # what was entered stays on the phone
        expect(garden.get_by_label("Pot A: how many", exact=False)).to_have_value("3")
        assert not garden.evaluate("document.documentElement.scrollWidth > innerWidth")
        with garden.expect_download() as back:
            garden.get_by_role("button", name="Save my file to send").click()
        path = tmp_path / f"return-{number or 'own'}.csv"
        back.value.save_as(path)
        returns.append(path)
        phone.close()
    page.goto(f"{server}/trials/gardens")
    page.locator("input[type=file]").set_input_files(returns)
    expect(page.get_by_text("3 gardens.csv")).to_be_visible()
    expect(page.get_by_label("Column of treatment 1")).to_be_visible()
    page.get_by_label("Column of treatment 1").select_option("Warm soak")
    page.get_by_label("Column of treatment 2").select_option("Sown dry")
    expect(page.get_by_text("3 of 3 gardens are compared")).to_be_visible()


def test_a_join_link_from_the_plan_to_the_result(
    browser: Browser, page: Page, server: str, send: Send
) -> None:
    draft = a_draft(kind="seed", endpoint=3, per_container=10, length_days=21, time_zone="UTC")
    trial = send("/api/trials", draft)["id"]
    page.goto(f"{server}/trials/{trial}/plan")
    unfold(page, "Invite gardens to this trial")
    page.get_by_label("Gardens, at most").fill("8")
    page.get_by_role("button", name="Make a join link").click()
    expect(page.get_by_role("img", name="The join link as a square code")).to_be_visible()
    expect(page.get_by_text("0 of 8 places taken")).to_be_visible()
    assert axe_faults(page) == []
    link = page.locator("a[href*='/garden/']").get_attribute("href")
    began, counted = date.today() - timedelta(days=21), date.today()
    for k in range(3):
        context = browser.new_context(viewport={"width": 390, "height": 844})
        garden = context.new_page()
        if k == 0:  # a phone that has the application itself, which answers for its own pages alone
            garden.goto(server)
            garden.evaluate("navigator.serviceWorker.ready.then(() => {})")
            garden.wait_for_function("navigator.serviceWorker.ready.then((r) => r.active?.state === 'activated')")  # fmt: skip
            garden.reload()
        garden.goto(str(link))
        garden.get_by_role("button", name=re.compile("toss$")).click()
        expect(garden.locator("#order")).to_contain_text("Press “Take part” first")
        garden.get_by_role("button", name="Take part").click()
        expect(garden.get_by_text(f"You are garden {k + 1}.")).to_be_visible()
        if k == 0:
            assert axe_faults(garden) == []
            assert not garden.evaluate("document.documentElement.scrollWidth > innerWidth")
        if k == 2:  # it never sends a result
            context.close()
            continue
        garden.get_by_role("button", name=re.compile("toss$")).click()
        order = garden.locator("#order").inner_text()
        began_field = garden.get_by_label("Begun on")
        began_field.fill(began.isoformat())
        began_field.dispatch_event("change")
        expect(garden.get_by_text("The server knows that you have begun.")).to_be_visible()
        treated = "A" if "Pot A: IBA" in order else "B"
        garden.get_by_label("Counted on").fill(counted.isoformat())
        for pot in "AB":
            up = "9" if pot == treated else "2"
            garden.get_by_label(f"Pot {pot}: how many", exact=False).fill(up)
        # one is out of signal: its page opens, keeps what is entered, and sends it when there is one
        if k == 1:
            expect(garden.get_by_text("Kept on this device.")).to_be_visible()
            garden.wait_for_function("caches.open('racecard-garden').then(async (c) => (await c.keys()).length === 2)")  # fmt: skip
            context.set_offline(True)
            garden.reload()
            expect(garden.get_by_text("You are garden 2.")).to_be_visible()
            garden.get_by_role("button", name="Send my result").click()
            expect(garden.get_by_text("kept on this phone")).to_be_visible()
            context.set_offline(False)
        else:
            garden.get_by_role("button", name="Send my result").click()
        expect(garden.get_by_text("Your result has arrived.")).to_be_visible()
        context.close()
    for _ in range(4):  # the rest as their pages would send it
        at = str(link).replace("/garden/", "/api/garden/")
        joined = page.request.post(f"{at}/join", data={}).json()
        result = {"began": began.isoformat(), "counted": counted.isoformat(), "counts": [2, 9]}
        sent = page.request.post(
            f"{at}/report", data=result, headers={"x-garden-key": joined["key"]}
        )
        assert sent.ok, sent.text()
    page.reload()
    unfold(page, "Invite gardens to this trial")
    expect(page.get_by_text("7 of 8 places taken: 6 begun, 6 with a result")).to_be_visible()
    page.get_by_role("link", name="Read their results").click()
    expect(page.get_by_text("6 of 7 gardens are compared")).to_be_visible()
    page.get_by_label("Which is the control?").select_option("Untreated")
    page.get_by_role("button", name="Save and see results").click()
    expect(page.get_by_role("region", name="The answer")).to_contain_text("IBA 1000 ppm")
