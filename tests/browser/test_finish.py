"""The finish and the dry run as a grower meets them."""

import re
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.conftest import axe_faults, unfold
from tests.browser.test_journeys import open_demo, start_blind
from tests.browser.test_tables import upload
from tests.reference_data import germination_csv, orobanche_cross_csv

Send = Callable[[str, object], dict[str, Any]]


def test_a_line_is_read_by_keyboard_and_leads_to_its_log(page: Page, server: str) -> None:
    open_demo(page, server, "Lavender")
    lane = page.get_by_role("slider", name=re.compile("^IBA 1000 ppm"))
    lane.focus()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    expect(lane).to_have_attribute("aria-valuenow", "2")
    reading = page.get_by_text(re.compile(r"^(2-)?[A-F]\d+, block \d: not yet on day \d+"))
    expect(reading).to_be_visible()
    page.keyboard.press("End")
    expect(lane).to_have_attribute("aria-valuetext", re.compile("lost by day|still waiting"))
    page.get_by_role("link", name="Looks, notes and photos").click()
    expect(page.get_by_role("heading", name="Log")).to_be_visible()


def test_lanes_are_sorted_cut_and_shown_for_another_milestone(page: Page, server: str) -> None:
    open_demo(page, server, "Lavender")
    struck = page.get_by_role("region", name="Untreated")
    expect(struck).to_contain_text("9 of 24 rooted")
    page.get_by_label("Sort by").select_option("place")
    page.get_by_label("Shown").select_option("struck")
    expect(
        page.get_by_text("Comparing only those that rooted is not a fair comparison")
    ).to_be_visible()
    lane = page.get_by_role("slider", name=re.compile("^Untreated"))
    expect(lane).to_have_attribute("aria-valuemax", "9")
    page.get_by_label("Stage", exact=True).select_option(label="callus")
    expect(page.get_by_role("heading", name="Callus, first seen")).to_be_visible()
    expect(page.get_by_role("region", name="IBA 1000 ppm")).not_to_contain_text("clearly ahead")


def test_doubt_places_ladder_and_bench_stand_beside_the_verdict(page: Page, server: str) -> None:
    open_demo(page, server, "Lavender")
    expect(
        page.get_by_role("img", name=re.compile(r"^IBA 1000 ppm: \+50 points, from \+25"))
    ).to_be_visible()
    expect(page.get_by_text("First place could be any of these 2")).to_be_visible()
    expect(page.get_by_text("dead heat (equal)").first).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("^0 ppm: 50% rooted"))).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("^Tray 1: 6 rows of 10"))).to_be_visible()
    page.get_by_role("button", name="Trend: clear trend. Why?").click()
    expect(page.get_by_role("dialog")).to_contain_text("Mack & Wolfe")


def test_the_factors_of_a_cross_and_its_indices(page: Page, server: str) -> None:
    open_demo(page, server, "Sweet pea")
    page.get_by_role("link", name="Finish").click()
    expect(page.get_by_role("row", name=re.compile("coat: nicked against whole"))).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("together: coat × wetting"))).to_contain_text(
        "no sign of interaction"
    )
    page.get_by_label("Clock").select_option("heat")
    expect(page.get_by_text("degree-days", exact=True)).to_be_visible()
    unfold(page, "Seed-testing indices")
    expect(page.get_by_role("row", name=re.compile("Speed index"))).to_contain_text(
        "Maguire (1962)"
    )


def test_costs_give_advice_beside_the_proof_and_bad_ones_a_sentence(
    page: Page, server: str
) -> None:
    open_demo(page, server, "Parsley")
    unfold(page, "Your prices")
    page.get_by_label("Value of one that came up").fill("0")
    page.get_by_role("button", name="Calculate and save").click()
    expect(page.get_by_role("alert")).to_contain_text("say what one struck plant is worth")
    page.get_by_label("Value of one that came up").fill("0.5")
    page.get_by_label("Cost a seed, Warm soak").fill("0.02")
    page.get_by_role("button", name="Calculate and save").click()
    expect(page.get_by_role("cell", name="clear, and it pays")).to_be_visible()
    page.reload()
    expect(page.get_by_role("cell", name="clear, and it pays")).to_be_visible()


def test_a_term_opens_where_it_stands_and_is_found_in_the_glossary(page: Page, server: str) -> None:
    open_demo(page, server, "Lavender")
    page.get_by_role("button", name="pace line").press("Enter")
    expect(page.get_by_role("dialog")).to_contain_text("control")
    page.keyboard.press("Escape")
    page.get_by_role("link", name="Glossary").click()
    page.get_by_label("Search").fill("holm")
    expect(page.get_by_text("1 of 80 terms")).to_be_visible()
    page.get_by_label("Search").fill("xyzzy")
    expect(page.get_by_text("No term matches “xyzzy”")).to_be_visible()


def test_words_that_say_too_much_are_shown_with_others(page: Page, server: str) -> None:
    open_demo(page, server, "Parsley")
    page.get_by_label("Your conclusion").fill("Warm soaking definitely works for everyone.")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("“definitely”")).to_be_visible()
    expect(
        page.get_by_text("Instead: for plants like these, treated as here.").first
    ).to_be_visible()
    page.get_by_role("button", name="Start from the result text").click()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("say more than the trial can")).to_have_count(0)


def test_the_report_prints_and_the_lanes_are_handed_on(page: Page, server: str) -> None:
    open_demo(page, server, "Lavender")
    with page.expect_download() as pdf:
        page.get_by_role("link", name="Report, PDF US Letter").click()
    assert pdf.value.path().read_bytes().startswith(b"%PDF")
    with page.expect_download() as png:
        page.get_by_role("button", name="Lanes, PNG").click()
    assert png.value.path().read_bytes().startswith(b"\x89PNG")
    with page.expect_download() as drawn:
        page.get_by_role("button", name="Save picture of the gaps: SVG").click()
    picture = ElementTree.parse(drawn.value.path()).getroot()
    said = [t.text for t in picture.iter("{http://www.w3.org/2000/svg}text")]
    assert "IBA 1000 ppm" in said
    assert "+50 points" in said
    assert not any("Why?" in (t or "") for t in said)  # told to those who listen only
    with page.expect_download() as ladder:
        page.get_by_role("button", name="Save picture of the ladder: PNG").click()
    assert ladder.value.suggested_filename == "ladder.png"
    with Image.open(ladder.value.path()) as image:
        assert image.width > 1200
    with page.expect_popup() as popup:
        page.get_by_role("link", name="Report (web page)").click()
    expect(popup.value.get_by_role("heading", name="How it was done and judged")).to_be_visible()


def test_blind_lanes_are_seen_before_the_curtain_is_drawn(
    page: Page, server: str, send: Send
) -> None:
    trial = start_blind(page, server, send, 3, length_days=3, look_every_days=3)
    page.goto(f"{server}/trials/{trial}/finish")
    expect(page.get_by_role("region", name="Lane 1")).to_have_count(0)
    found = page.request.get(f"{server}/api/trials/{trial}/rounds/3").json()
    at = datetime.now(UTC).isoformat()
    items = [
        {"id": f"{trial[:8]}-{i:04}", "unit_id": u["id"], "kind": "look", "seen_at": at, "stage": 6 if i % 3 else 1}
        for i, u in enumerate(found["units"])
    ]  # fmt: skip
    send(f"/api/trials/{trial}/observations", {"items": items})
    page.reload()
    expect(page.get_by_role("region", name="Lane 1")).to_be_visible()
    expect(page.get_by_text("Untreated")).to_have_count(0)
    page.get_by_role("button", name="Show treatments").click()
    expect(page.get_by_role("region", name="Untreated")).to_be_visible()


def test_a_plan_is_carried_out_dry_looked_at_and_compared(page: Page, server: str) -> None:
    page.goto(f"{server}/dry-run")
    page.get_by_label("Plan", exact=True).select_option(
        label="Camellia: do leaf-bud or single-node cuttings strike as well as tips?"
    )
    page.get_by_label("True rate, Leaf-bud").fill("130")
    page.get_by_label("Simulations", exact=True).fill("40")
    page.get_by_role("button", name="Simulate 40 times").click()
    expect(page.get_by_role("alert")).to_be_visible()
    page.get_by_label("True rate, Leaf-bud").fill("20")
    page.get_by_role("button", name="Simulate 40 times").click()
    expect(page.get_by_role("heading", name="Results")).to_be_visible(timeout=60_000)
    expect(page.get_by_text("From 40 simulated trials")).to_be_visible()
    page.get_by_text("lucky", exact=True).click()
    expect(page.get_by_role("slider", name=re.compile("^Leaf-bud"))).to_be_visible()
    for name in ("as planned, seen here", "again, seen here"):
        page.get_by_label("Save as").fill(name)
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("checkbox", name=re.compile(name))).to_be_visible()
        page.get_by_role("checkbox", name=re.compile(name)).check()
    expect(page.get_by_role("heading", name="again, seen here")).to_be_visible()
    page.get_by_role("button", name="Delete again, seen here").click()
    expect(page.get_by_role("checkbox", name=re.compile("again, seen here"))).to_have_count(0)


def test_a_long_dry_run_shows_how_far_it_is_and_stops(page: Page, server: str) -> None:
    page.goto(f"{server}/dry-run")
    page.get_by_label("Plan", exact=True).select_option(index=1)
    page.get_by_label("Simulations", exact=True).fill("5000")
    page.get_by_role("button", name="Simulate 5,000 times").click()
    expect(page.get_by_role("progressbar", name="Simulations done")).to_be_visible()
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_text(re.compile("seasons, stopped early"))).to_be_visible()


def test_a_race_is_read_and_counted(page: Page, server: str) -> None:
    page.goto(f"{server}/dry-run/races")
    expect(page.get_by_text("No answers yet")).to_be_visible()
    page.get_by_role("button", name="Chance").click()
    expect(page.get_by_role("heading", name=re.compile("^(Right|Wrong)$"))).to_be_visible()
    expect(page.get_by_text(re.compile(r"^[01] of 1 right"))).to_be_visible()
    page.get_by_role("button", name="Next").click()
    page.get_by_role("button", name="It is real").click()
    expect(page.get_by_text(re.compile(r"^[012] of 2 right"))).to_be_visible()


def test_published_plates_are_judged_as_a_cross(page: Page, server: str, tmp_path: Path) -> None:
    """Crowder (1978): extract over both seed lots p 0.0018; together p 0.080 on the scale of odds."""
    upload(page, server, "cross.csv", orobanche_cross_csv(), tmp_path)
    page.get_by_role("button", name=re.compile("^.*extract: .*Why")).first.click()
    expect(page.get_by_role("dialog")).to_contain_text("p 0.002")
    page.keyboard.press("Escape")
    page.get_by_role("button", name=re.compile("Interaction .*Why")).click()
    expect(page.get_by_role("dialog")).to_contain_text("with overdispersion, p 0.080")


@pytest.mark.parametrize("crop", ["mungbean", "rice", "wheat"])
def test_published_germination_at_each_temperature_is_read_in(
    page: Page, server: str, tmp_path: Path, crop: str
) -> None:
    """Three crops at several temperatures (R package drc): counts between looks, never-germinated ones."""
    upload(page, server, f"{crop}.csv", germination_csv(crop), tmp_path)
    expect(page.get_by_role("heading", name="How sure is that?")).to_be_visible()
    expect(page.get_by_text("Counts at each look tell how many and how soon")).to_be_visible()
    expect(page.get_by_role("heading", name="How long it took")).to_be_visible()
    lanes = page.get_by_role("slider")
    temperatures = {r.split(",")[0] for r in germination_csv(crop).decode().splitlines()[1:]}
    expect(lanes).to_have_count(len(temperatures))


def test_a_summary_is_reckoned_again(page: Page, server: str) -> None:
    page.goto(f"{server}/trials/read-in")
    for line, (struck, stuck, percent) in enumerate(
        (("9", "20", "45"), ("13", "20", "60"), ("22", "41", "")), 1
    ):
        page.get_by_label(f"Line {line}, struck").fill(struck)
        page.get_by_label(f"Line {line}, out of").fill(stuck)
        page.get_by_label(f"Line {line}, stated %").fill(percent)
    page.get_by_role("button", name="Check").click()
    expect(page.get_by_text("Treated: 13 of 20 is 65.0 %, not 60 %.")).to_be_visible()
    expect(
        page.get_by_text("The treatments have 40 stuck together, the total says 41.")
    ).to_be_visible()
    page.get_by_label("Line 1, struck").fill("many")
    page.get_by_role("button", name="Check").click()
    expect(page.get_by_role("alert")).to_contain_text(
        "Line 1, struck: “many” is not a whole number"
    )


def test_conditions_are_shown_in_the_units_the_grower_has(page: Page, server: str) -> None:
    open_demo(page, server, "Sweet pea")
    page.get_by_role("link", name="Conditions").click()
    metric = page.get_by_role("img", name=re.compile("^Temperature from .* °C over"))
    expect(metric).to_be_visible()
    page.get_by_role("button", name="Show °F and inches").click()
    expect(page.get_by_role("img", name=re.compile("^Temperature from .* °F over"))).to_be_visible()
    page.reload()
    page.get_by_role("button", name="Show °C and mm").click()
    expect(metric).to_be_visible()


def test_on_the_phone_the_answer_comes_first_and_the_rest_unfolds(page: Page, server: str) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    open_demo(page, server, "Lavender")
    answer = page.get_by_role("region", name="The answer")
    expect(answer).to_contain_text("IBA 1000 ppm is clearly ahead, of Untreated")
    expect(answer).to_contain_text("likely beyond its carrier")
    expect(answer).to_be_in_viewport(ratio=1)
    expect(page.get_by_role("heading", name="Root scores")).not_to_be_visible()
    expect(page.get_by_text("Tap a line to read one plant")).to_be_visible()
    page.evaluate("document.fonts.ready")
    assert page.evaluate("document.documentElement.scrollHeight") <= 3000  # five lanes
    page.get_by_role("navigation", name="On this page").get_by_role(
        "link", name="Root scores"
    ).click()
    expect(page.get_by_role("heading", name="Root scores")).to_be_in_viewport()
    assert axe_faults(page) == []


def test_the_answer_copies_the_plan_with_the_number_it_advises(page: Page, server: str) -> None:
    open_demo(page, server, "Rosemary")
    expect(page.get_by_role("region", name="The answer")).to_contain_text("This trial cannot tell:")
    page.get_by_role("button", name=re.compile("^Plan a repeat with 88 of each")).click()
    expect(page.get_by_label("Plants per treatment")).to_have_value("88")
    expect(page.get_by_label("Plants per container", exact=True)).to_have_value("1")
    expect(page.get_by_label("What do you want to find out?")).to_have_value(re.compile("again"))
