"""Labels: what stands on them, that their square codes open the right unit, and one lay-out."""

from datetime import datetime, timedelta
from typing import Any

import pypdfium2
import pytest
import zxingcpp
from icalendar import Calendar
from PIL import Image

from racecard.core.model import Trial
from racecard.core.model.drawings import SILKS
from racecard.errors import Conflict, InvalidInput
from racecard.formats.calendar import calendar_of
from racecard.formats.label_sheets import sheets_pdf
from racecard.formats.labels import (
    SHEETS,
    STRIP,
    Label,
    Modules,
    Pattern,
    Words,
    label_svg,
    labels_csv,
    labels_of,
    lay_out,
    unit_coded,
)
from racecard.standins.label_printer import ROLL, LabelPrinter
from racecard.store.engine import Shed
from racecard.store.trials import create_trial, start_trial
from tests.builders import a_plan

HOME = "http://192.168.1.20:8620/"


def a_trial(shed: Shed, **changes: Any) -> Trial:
    return create_trial(shed, a_plan("Untreated", "IBA 1000 ppm", units=6, **changes), 5, "me")


def page(pdf: bytes, number: int = 0, scale: float = 4) -> Image.Image:
    document = pypdfium2.PdfDocument(pdf)
    try:
        image: Image.Image = document[number].render(scale=scale).to_pil()
        return image
    finally:
        document.close()


def pages(pdf: bytes) -> int:
    document = pypdfium2.PdfDocument(pdf)
    try:
        return len(document)
    finally:
        document.close()


def read(image: Image.Image) -> set[str]:
    """The square codes on a picture, by a reader of its own."""
    return {found.text for found in zxingcpp.read_barcodes(image)}


def test_a_blind_label_tells_no_treatment(shed: Shed) -> None:
    trial = a_trial(shed, blind=True)
    labels = labels_of(trial, HOME)
    assert len({x.code for x in labels}) == len(labels) == 12
    for label in labels:
        assert label.silk == ""
        assert "IBA" not in " ".join((label.code, *label.lines, label.link))


def test_an_open_label_carries_name_and_silk(shed: Shed) -> None:
    trial = a_trial(shed)
    by_code = {x.code: x for x in labels_of(trial, HOME)}
    for unit in trial.planted:
        arm = trial.plan.treatments[unit.cell.treatment]
        label = by_code[unit.cell.code]
        assert (label.lines[0], label.silk) == (arm.name, arm.silk)


@pytest.mark.parametrize("blind", [True, False])
def test_codes_lead_to_their_unit_and_stay_when_the_draft_is_saved_again(shed: Shed, blind: bool) -> None:  # fmt: skip
    trial = a_trial(shed, blind=blind)
    for unit, label in zip(trial.planted, labels_of(trial, HOME), strict=True):
        assert unit_coded(trial, label.code.lower()) == unit.id
        assert label.link == f"{HOME}u/{trial.id[:8]}/{label.code}"
    assert unit_coded(trial, "ZZZZ") is None


@pytest.mark.parametrize("sheet", [s.key for s in SHEETS])
def test_every_square_code_of_a_sheet_can_be_read_back(shed: Shed, sheet: str) -> None:
    labels = labels_of(a_trial(shed), HOME)
    assert read(page(sheets_pdf(labels, sheet), scale=6)) == {x.link for x in labels}


def test_used_places_are_skipped_and_sheets_follow_one_another() -> None:
    labels = [Label(f"A{i}", ("x",), f"{HOME}u/12345678/A{i}") for i in range(22)]
    assert pages(sheets_pdf(labels, "a4_24")) == 1
    assert pages(sheets_pdf(labels, "a4_24", skip=3)) == 2
    left = page(sheets_pdf(labels[:1], "a4_24", skip=1)).crop((0, 0, 290, 200))
    assert left.convert("L").getextrema() == (255, 255)


@pytest.mark.parametrize(
    ("sheet", "skip", "says"), [("a5", 0, "A sheet is one of"), ("a4_24", 24, "skip 0 to 23"), ("a4_24", -1, "skip 0 to 23")]
)  # fmt: skip
def test_a_sheet_that_cannot_be_is_said(sheet: str, skip: int, says: str) -> None:
    with pytest.raises(InvalidInput, match=says):
        sheets_pdf([Label("A1", (), HOME)], sheet, skip=skip)


@pytest.mark.parametrize("stock", [*SHEETS, STRIP], ids=lambda s: s.key)
def test_nothing_stands_beyond_the_edge_of_a_label(stock: Any) -> None:
    label = Label("12-AB40", ("A very long name of a treatment that goes on", "Why? " * 20), HOME * 2, "sash")  # fmt: skip
    for mark in lay_out(label, stock):
        right = mark.x + (mark.width if isinstance(mark, Words) else mark.side)
        bottom = mark.y + (0 if isinstance(mark, Words) else mark.side)
        assert mark.x >= 0
        assert right <= stock.width + 0.01
        assert 0 <= bottom <= stock.height + 0.01
    kinds = {type(m) for m in lay_out(label, stock)}
    assert kinds == {Words, Pattern, Modules}


def test_letters_of_other_scripts_and_no_letters_print(shed: Shed) -> None:
    labels = [Label("A1", ("Дуб 樫 🌿 µm ≤ é", ""), HOME, "hoops"), Label("A2", (), HOME)]
    assert sheets_pdf(labels, "a4_21").startswith(b"%PDF")


def test_trays_have_labels_of_their_own(shed: Shed) -> None:
    trial = a_trial(shed, tray_names=("mist bench",))
    (label,) = labels_of(trial, HOME, trays=True)
    assert (label.code, label.lines[0]) == ("T1", "mist bench")


def test_the_plain_list_is_safe_to_open_as_a_sheet() -> None:
    said = labels_csv([Label("A1", ("=1+1", "x"), HOME)]).decode("utf-8-sig")
    assert said.splitlines()[1].startswith("A1,'=1+1,x,")


def test_the_printer_prints_what_its_roll_allows_and_says_so() -> None:
    printer = LabelPrinter(left=3)
    labels = [Label(f"A{i}", ("x",), HOME) for i in range(2)]
    assert "1 are left" in printer.take(labels).says
    short = printer.take(labels)
    assert (len(short.labels), short.asked) == (1, 2)
    assert "1 are missing" in short.says
    with pytest.raises(Conflict, match="roll is empty"):
        printer.take(labels)
    printer.new_roll()
    assert printer.left == ROLL
    with pytest.raises(InvalidInput, match="1 to 5"):
        printer.take(labels, 9)
    with pytest.raises(InvalidInput, match="nothing to print"):
        printer.take([])


def test_what_comes_out_of_the_printer_is_the_same_lay_out() -> None:
    label = Label("A1", ("Untreated <&>", "Why?"), HOME, "sash")
    svg = label_svg(label)
    for mark in lay_out(label, STRIP):
        if isinstance(mark, Words):
            assert f'x="{mark.x:.2f}" y="{mark.y:.2f}"' in svg
    sash = next(s for s in SILKS if s.id == "sash")
    assert sash.shapes[0].d in svg
    assert "<&>" not in svg


def test_the_calendar_holds_soaks_looks_and_lift(shed: Shed) -> None:
    trial = a_trial(shed, time_zone="Europe/Lisbon", length_days=14, look_every_days=7)
    started = start_trial(shed, trial.id, "me")
    assert started.started_at is not None
    found = Calendar.from_ical(calendar_of(started, started.started_at, shed.now()))
    events = {str(e["uid"]).split("-", 1)[1]: e for e in found.walk("VEVENT")}
    assert {"day-7@racecard.invalid", "day-14@racecard.invalid", "set@racecard.invalid"} == set(events)  # fmt: skip
    lift = events["day-14@racecard.invalid"]
    assert str(lift["summary"]).startswith("Lift and score, day 14")
    assert lift.decoded("dtstart") == started.started_at.date() + timedelta(days=14)
    assert isinstance(events["set@racecard.invalid"].decoded("dtstart"), datetime)
