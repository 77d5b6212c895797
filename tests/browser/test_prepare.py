"""The mixing bench and Prepare, as a grower uses them at the desk and on the phone."""

import io
import re
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any

import pypdfium2
import pytest
from PIL import Image, ImageChops, ImageStat
from playwright.sync_api import Locator, Page, expect
from reportlab.pdfgen.canvas import Canvas

from racecard.core.model.drawings import SILKS
from racecard.core.prepare.sums import SUMS
from racecard.formats.label_sheets import paint_silk
from tests.browser.conftest import axe_faults, unfold
from tests.browser.test_journeys import open_demo, start, start_blind
from tests.builders import a_draft

Send = Callable[[str, object], dict[str, Any]]


def a_plan_saved(send: Send, **plan: Any) -> str:
    return str(send("/api/trials", a_draft(**plan))["id"])


def write(page: Page, line: str) -> None:
    page.get_by_label("What do you want to make?").fill(line)


def amount(page: Page, what: str) -> Locator:
    return page.get_by_role("article").locator("dl > div").filter(has_text=what).locator("dd").first


def test_a_line_is_worked_out_and_its_answer_is_remembered(page: Page, server: str) -> None:
    page.goto(f"{server}/mixing")
    write(page, "250 mL of 1500 ppm IBA from 1 % stock")
    expect(amount(page, "Stock to take")).to_have_text("37.5 mL")
    expect(page.get_by_role("img", name="37.5 mL of 250 mL")).to_be_visible()
    write(page, "1 tbsp per litre in 250 mL")
    expect(page.get_by_text("Answer the question first")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Australian, 20 mL")).click()
    expect(amount(page, "To measure")).to_have_text("5 mL")
    page.reload()
    expect(amount(page, "To measure")).to_have_text("5 mL")
    page.get_by_text("Whose spoon or cup?").click()
    page.get_by_role("button", name="Ask every time").click()
    expect(page.get_by_text("Answer the question first")).to_be_visible()


def test_a_line_with_a_strange_word_shows_it_underlined_and_no_amount(
    page: Page, server: str
) -> None:
    page.goto(f"{server}/mixing")
    write(page, "250 mL of 1500 ppm IBA from 1 % for 9 hamsters")
    refused = page.get_by_role("alert")
    expect(refused).to_contain_text("hamsters” is not understood here")
    expect(refused.locator("mark").last).to_have_text("hamsters")
    assert axe_faults(page) == []
    expect(page.get_by_role("article")).to_have_count(0)


def test_a_comma_is_asked_about_for_this_line_alone(page: Page, server: str) -> None:
    page.goto(f"{server}/mixing")
    write(page, "250 mL of 1,500 ppm IBA from 1 % please")
    card = page.get_by_role("article")
    expect(card.get_by_text("strength wanted", exact=True)).to_be_visible()
    expect(page.get_by_text("Answer the question first")).to_be_visible()
    page.get_by_role("button", name=re.compile("^the comma parts thousands")).press("Enter")
    expect(amount(page, "Stock to take")).to_have_text("37.5 mL")
    write(page, "500 mL of 1,500 ppm IBA from 1 %")
    expect(page.get_by_text("Answer the question first")).to_be_visible()


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("1;5", "no unit"), ("250 mL of 1500 ppm IBA from 1 % by moonlight", "“moonlight” is not understood"), ("0 mL of 5 ppm IBA from 1 %", "is nothing"),
        ("250 mL of 2 % IBA from 1000 ppm", "weaker than"), ("1e9 mL of 5 ppm IBA from 1 %", "too large"), ("5 smoots of 1 % IBA from 2 %", "is not understood"),
    ],
)  # fmt: skip
def test_a_line_that_cannot_be_is_answered_in_a_sentence_and_kept(page: Page, server: str, line: str, says: str) -> None:  # fmt: skip
    page.goto(f"{server}/mixing")
    write(page, line)
    expect(page.get_by_role("alert")).to_contain_text(says)
    expect(page.get_by_label("What do you want to make?")).to_have_value(line)


def test_every_sum_is_two_taps_from_today_on_the_phone(page: Page, server: str) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(server)
    for key, this in SUMS.items():
        page.get_by_role("link", name="Mixing").first.click()
        page.locator(f"main a[href='/mixing/{key}']").click()
        expect(page.get_by_role("heading", level=1, name=this.title, exact=True)).to_be_visible()
        expect(page.get_by_role("article")).to_be_visible()


def test_fields_say_what_is_wrong_where_it_is(page: Page, server: str) -> None:
    page.goto(f"{server}/mixing/dilute")
    expect(amount(page, "Stock to take")).to_have_text("37.5 mL")
    page.get_by_label("Strength of the stock").fill("500 ppm")
    expect(page.get_by_text("The stock (500 ppm) is weaker").first).to_be_visible()
    page.get_by_label("Strength of the stock").fill("6000 ppm")
    expect(amount(page, "Stock to take")).to_have_text("62.5 mL")


def test_a_card_is_put_on_a_trials_list_taken_off_and_put_back(page: Page, server: str, send: Send) -> None:  # fmt: skip
    trial = a_plan_saved(send, question="Sage: for the recipes?")
    page.goto(f"{server}/mixing?line=100%20mL%20of%201000%20ppm%20IBA%20from%201%20%25")
    page.get_by_label("Trial").select_option(trial)
    page.get_by_role("button", name="Add to recipes").click()
    expect(page.get_by_text("Added", exact=True)).to_be_visible()
    page.goto(f"{server}/trials/{trial}/prepare")
    expect(page.get_by_text("100 mL × 1000 ppm ÷ 10 000 ppm = 10 mL")).to_be_visible()
    page.get_by_role("button", name="Remove from the list: Dilute a stock").press("Enter")
    page.get_by_role("button", name="Restore").press("Enter")
    expect(page.get_by_text("100 mL × 1000 ppm ÷ 10 000 ppm = 10 mL")).to_be_visible()


def test_a_stopped_recipe_asks_why_it_is_meant(page: Page, server: str, send: Send) -> None:
    trial = a_plan_saved(send, question="Sage: too strong?")
    page.goto(f"{server}/mixing?line=100%20mL%20of%2030000%20ppm%20IBA%20from%205%20%25")
    expect(page.get_by_text("Stop:")).to_be_visible()
    page.get_by_label("Trial").select_option(trial)
    page.get_by_role("button", name="Add to recipes").click()
    expect(page.get_by_text("stopped by a guard")).to_be_visible()
    page.get_by_label("Reason").fill("to see the burn")
    page.get_by_role("button", name="Add to recipes").press("Enter")
    expect(page.get_by_text("Added", exact=True)).to_be_visible()
    page.goto(f"{server}/trials/{trial}/prepare")
    expect(page.get_by_text("to see the burn")).to_be_visible()


def test_what_the_plan_calls_for_has_its_figures_filled_in(page: Page, server: str, send: Send) -> None:  # fmt: skip
    arms = [
        {"name": "Untreated", "role": "control", "silk": "plain"},
        {"name": "IBA 2000 ppm", "role": "candidate", "silk": "hoops", "agent": "hormone", "carrier": "alcohol", "detail": "in 50 % alcohol, 5 s"},
    ]  # fmt: skip
    trial = a_plan_saved(send, treatments=arms, material="softwood tips")
    page.goto(f"{server}/trials/{trial}/prepare")
    page.get_by_role("button", name="Calculate").press("Enter")
    expect(page.get_by_label("Strength wanted")).to_have_value("2000 ppm")
    page.get_by_label("Strength of the stock").fill("1 %")
    expect(page.get_by_text("above the usual 500 to 1500 ppm")).to_be_visible()
    page.get_by_role("button", name="Add to recipes").press("Enter")
    expect(page.get_by_text("1 on the list")).to_be_visible()
    expect(page.get_by_role("button", name="Calculate")).to_have_count(0)


def test_the_shelf_says_what_is_past_its_date(page: Page, server: str) -> None:
    page.goto(f"{server}/mixing/shelf")
    expect(page.get_by_text("past its date of").first).to_be_visible()
    page.get_by_role("button", name="Add product").click()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Enter the active ingredient, not a brand.").nth(1)).to_be_visible()
    page.get_by_label("Active ingredient").select_option("NAA")
    page.get_by_label("Strength, such as 1 %").fill("strong")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("is not a strength")).to_be_visible()
    page.get_by_label("Strength, such as 1 %").fill("0.5 %")
    page.get_by_label("Batch", exact=True).fill("41")
    page.get_by_role("button", name="Save", exact=True).press("Enter")
    expect(page.get_by_text("NAA 0.5 % liquid, batch 41", exact=True)).to_be_visible()
    page.get_by_role("button", name="Remove from the list: NAA 0.5 % liquid, batch 41").click()
    page.get_by_role("button", name="Restore").press("Enter")
    expect(page.get_by_text("NAA 0.5 % liquid, batch 41", exact=True)).to_be_visible()


def test_an_own_default_is_kept_and_given_back(page: Page, server: str) -> None:
    page.goto(f"{server}/mixing/defaults")
    page.get_by_label("Find").fill("overage of medium")
    page.get_by_label("Own value: overage of medium", exact=True).fill("20")
    page.get_by_role("button", name="Save own value: overage of medium").click()
    page.goto(f"{server}/mixing/medium")
    expect(amount(page, "Medium")).to_have_text("15.12 L")
    page.goto(f"{server}/mixing/defaults")
    page.get_by_label("Find").fill("overage of medium")
    page.get_by_role("button", name="Back to 10: overage of medium").click()
    page.goto(f"{server}/mixing/medium")
    expect(amount(page, "Medium")).to_have_text("13.86 L")


def test_a_soak_read_from_words_waits_until_it_is_confirmed(page: Page, server: str, send: Send) -> None:  # fmt: skip
    draft = a_draft(question="Pea: soak or not?", kind="seed", endpoint=3, day0="sowing")
    arms = draft["plan"]["treatments"]
    arms[1] |= {"name": "Soaked", "detail": "overnight in water, then dip 5 s"}
    arms.append({"name": "Misted", "role": "candidate", "detail": "wet 2 h", "silk": "sash"})
    trial = send("/api/trials", draft)["id"]
    page.goto(f"{server}/trials/{trial}/prepare")
    asked = page.get_by_role("region", name="Soaks to confirm")
    expect(asked).to_contain_text("2 treatments")
    assert axe_faults(page) == []
    expect(page.get_by_text("No soak or dip is set for any treatment.")).to_be_visible()
    # shown at once and sent one after the other: a reload must not come before the second is kept
    for answer in ("No soak for Misted", "Confirm soak 12 h, then dip 5 s for Soaked"):
        with page.expect_response(lambda r: r.request.method == "PUT" and r.ok):
            page.get_by_role("button", name=answer).press("Enter")
    expect(asked).to_have_count(0)
    expect(page.get_by_text("soak, 12 h")).to_be_visible()
    expect(page.get_by_text("dip, 5 s")).to_be_visible()
    page.reload()
    expect(page.get_by_text("soak, 12 h")).to_be_visible()
    expect(asked).to_have_count(0)
    unfold(page, "Soaks and dips per treatment")
    page.get_by_label("How long for Misted").fill("soon")
    expect(page.get_by_text("A time is wanted, such as 12 h, 1h30 or overnight.")).to_be_visible()


def test_soaks_are_worked_back_and_a_running_timer_survives_a_reload(page: Page, server: str, send: Send) -> None:  # fmt: skip
    page.set_viewport_size({"width": 390, "height": 844})
    trial = a_plan_saved(send, question="Beet: does a soak help?", kind="seed", endpoint=3, day0="sowing")  # fmt: skip
    page.goto(f"{server}/trials/{trial}/prepare")
    page.get_by_label("How long for IBA 1000 ppm").fill("12 h")
    page.get_by_label("How long for IBA 1000 ppm").press("Enter")
    expect(page.get_by_text("soak, 12 h")).to_be_visible()
    tomorrow = (datetime.now() + timedelta(days=1)).replace(hour=10, minute=0)
    hour = page.get_by_label("Sowing starts at")
    hour.fill(tomorrow.strftime("%Y-%m-%dT%H:%M"))
    hour.blur()
    expect(page.get_by_text("1 day before")).to_be_visible()
    expect(page.get_by_text(re.compile("starts in|should have started")).first).to_be_visible()
    page.get_by_role("button", name="Start soak of IBA 1000 ppm").press("Enter")
    timer = page.get_by_role("timer", name="soak of IBA 1000 ppm")
    expect(timer).to_have_text(re.compile("12 h|11 h"))
    page.reload()
    expect(timer).to_be_visible()
    page.get_by_role("button", name="Stop soak of IBA 1000 ppm").press("Enter")
    expect(page.get_by_text(re.compile("shorter than planned"))).to_be_visible()
    page.get_by_role("button", name="Undo soak of IBA 1000 ppm").press("Enter")
    expect(timer).to_be_visible()


def test_starting_together_asks_on_the_spot_what_day_0_is(page: Page, server: str, send: Send) -> None:  # fmt: skip
    trial = a_plan_saved(send, question="Okra: how long a soak?", kind="seed", endpoint=3, day0="sowing")  # fmt: skip
    page.goto(f"{server}/trials/{trial}/prepare")
    page.get_by_label("How long for IBA 1000 ppm").fill("2 d")
    page.get_by_label("How long for IBA 1000 ppm").press("Enter")
    expect(page.get_by_text("soak, 2 days")).to_be_visible()
    page.get_by_text("start together", exact=True).click()
    page.get_by_label("Day 0 is").select_option("first wetting")
    expect(page.get_by_text("day 0 is the first wetting, and the days of every")).to_be_visible()
    expect(page.get_by_text("Started later: IBA 1000 ppm on day 2.")).to_be_visible()


def test_ticks_of_the_order_survive_a_reload(page: Page, server: str) -> None:
    open_demo(page, server, "Lavender")
    page.get_by_role("link", name="Prepare").click()
    page.get_by_label(re.compile("Clean blade")).check()
    page.reload()
    expect(page.get_by_label(re.compile("Clean blade"))).to_be_checked()
    expect(page.get_by_text("1 of 14 done")).to_be_visible()


def test_labels_are_printed_by_the_stand_in_and_a_scanned_one_opens_its_unit(page: Page, server: str, send: Send) -> None:  # fmt: skip
    trial = start_blind(page, server, send, 3)
    page.goto(f"{server}/trials/{trial}/prepare")
    page.get_by_role("button", name="Send to label printer (simulated)").click()
    expect(page.get_by_text(re.compile("labels came out"))).to_be_visible()
    printed = page.get_by_role("list", name="Printed labels").get_by_role("listitem")
    expect(printed.first).to_be_visible()
    label = page.request.get(f"{server}/api/trials/{trial}/labels").json()["labels"][4]
    place = label["lines"][0]
    page.goto(label["link"])
    expect(page).to_have_url(re.compile(r"/rounds/3\?unit="))
    expect(page.locator("[aria-current=true][data-cell]")).to_have_attribute("data-cell", place)
    page.goto(label["link"][:-4] + "ACDE")
    expect(page.get_by_role("alert")).to_contain_text("Read the label again")


def test_a_unit_not_set_is_noted_with_its_reason_and_the_finish_says_so(page: Page, server: str, send: Send) -> None:  # fmt: skip
    trial = start(send, 3)
    page.goto(f"{server}/trials/{trial}/prepare")
    form = page.get_by_role("form", name="Add a difference")
    form.get_by_label("Unit").select_option(label="A1")
    expect(form.get_by_role("button", name="Save", exact=True)).to_be_disabled()
    form.get_by_label("Why").fill("too soft")
    form.get_by_role("button", name="Save", exact=True).press("Enter")
    noted = page.get_by_role("list", name="Differences from the plan")
    expect(noted).to_contain_text("A1 not used, too soft")
    page.get_by_role("link", name="Finish").click()
    expect(page.get_by_text("Not stuck as planned")).to_be_visible()
    page.get_by_role("link", name="Prepare").click()
    page.get_by_role("button", name="Undo: A1").press("Enter")
    expect(noted).to_have_count(0)


def test_a_whole_treatment_set_later_counts_from_its_own_day(page: Page, server: str, send: Send) -> None:  # fmt: skip
    trial = start(send, 6)
    page.goto(f"{server}/trials/{trial}/prepare")
    unfold(page, "One treatment or tray started at another time")
    page.get_by_label("Which", exact=True).select_option(label="all of IBA 1000 ppm")
    later = datetime.now() - timedelta(days=4)
    page.get_by_label("Started at").fill(later.strftime("%Y-%m-%dT%H:%M"))
    page.get_by_role("button", name="Save", exact=True).nth(1).press("Enter")
    expect(page.get_by_text(re.compile(r"from their own sticking: day 4 for IBA 1000 ppm"))).to_be_visible()  # fmt: skip


def painted_on_paper(silk: str, side: int) -> Image.Image:
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(32, 32))
    canvas.translate(0, 32)
    canvas.scale(1, -1)
    paint_silk(canvas, next(s for s in SILKS if s.id == silk))
    canvas.save()
    document = pypdfium2.PdfDocument(out.getvalue())
    try:
        image: Image.Image = document[0].render(scale=side / 32).to_pil()
    finally:
        document.close()
    return image.convert("L")


def test_silks_on_paper_match_those_on_the_screen(page: Page, server: str) -> None:
    """One description, two painters: the screen's own component against the PDF, pixel by pixel."""
    page.set_viewport_size({"width": 400, "height": 400})
    open_demo(page, server, "Lavender")
    page.get_by_role("link", name="Prepare").click()
    expect(page.get_by_role("heading", name="What was actually stuck")).to_be_visible()
    page.wait_for_load_state("networkidle")
    find = "silk => [...document.querySelectorAll('main svg')].find(s => s.querySelector(`#silk-${silk}`)).outerHTML"
    worn = ("plain", "halves", "hoops", "chevron", "spots")
    drawn = {silk: page.evaluate(find, silk) for silk in worn}
    for silk, svg in drawn.items():
        style = "*{margin:0} svg{width:340px;height:340px;display:block}"
        page.set_content(f"<style>{style}</style>{svg}")
        seen = Image.open(io.BytesIO(page.screenshot())).convert("L").crop((10, 10, 330, 330))
        inner = (20, 20, 300, 300)  # rounded corners and the edge are the screen's own
        paper = painted_on_paper(silk, 320)
        apart = ImageStat.Stat(ImageChops.difference(seen.crop(inner), paper.crop(inner))).mean[0]
        assert apart < 4, f"{silk} differs by {apart:.1f} of 255"


def test_the_sheets_print_with_recipes_order_and_map(page: Page, server: str) -> None:
    open_demo(page, server, "Lavender")
    page.get_by_role("link", name="Prepare").click()
    page.get_by_role("link", name="Print sheets", exact=True).click()
    for part in ("Tray plan", "Recipes"):
        expect(page.get_by_role("heading", name=part)).to_be_visible()
    page.wait_for_load_state("networkidle")
    for size in ("A4", "Letter"):
        document = pypdfium2.PdfDocument(page.pdf(format=size))
        text = "".join(p.get_textpage().get_text_range() for p in document)
        sheets = len(document)
        document.close()
        assert 3 <= sheets <= 6
        for words in ("Order of work", "Recipes", "Tray plan", "Stock to take", "no flame", "never pour back"):  # fmt: skip
            assert words in text
        assert "Print sheets" not in text


def test_the_key_of_a_blind_trial_prints_before_day_0_and_never_while_sealed(page: Page, server: str, send: Send) -> None:  # fmt: skip
    trial = a_plan_saved(send, question="Sage: who gets what?", blind=True)
    found = page.request.get(f"{server}/api/trials/{trial}/prepare").json()
    treated = [u["code"] for u in found["units"] if u["treatment"] == 1]
    page.goto(f"{server}/trials/{trial}/paper")
    key = page.get_by_role("region", name="Who gets what")
    expect(key).to_contain_text("  ".join(treated))
    send(f"/api/trials/{trial}/start", {})
    page.reload()
    expect(page.get_by_role("heading", name="Tray plan")).to_be_visible()
    expect(key).to_have_count(0)


def test_a_label_in_the_hand_leads_to_its_unit_by_its_code(page: Page, server: str, send: Send) -> None:  # fmt: skip
    trial = start_blind(page, server, send, 3)
    label = page.request.get(f"{server}/api/trials/{trial}/labels").json()["labels"][5]
    page.goto(f"{server}/trials/{trial}/rounds/3")
    expect(page.locator("[data-cell=A1]")).to_be_visible()
    page.keyboard.press("j")
    page.keyboard.type("zzzz")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("read it again")
    page.get_by_label("Label code").fill(label["code"].lower())
    page.keyboard.press("Enter")
    here = page.locator("[aria-current=true][data-cell]")
    expect(here).to_have_attribute("data-cell", label["lines"][0])
    page.keyboard.press("1")
    expect(page.get_by_text("1 of").first).to_be_visible()
