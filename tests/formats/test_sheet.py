"""Tables in and out: every bad cell told, nothing let in that cannot be true, nothing lost."""

import io
import zipfile
from collections.abc import Sequence
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from openpyxl import Workbook

from racecard.core.assess.judge import judge
from racecard.core.assess.judgement import Judgement
from racecard.core.dryrun.simulate import Truth, simulate
from racecard.core.exchange.exported import lines_of
from racecard.core.exchange.judged import judge_sheet
from racecard.core.log.assemble import results_of
from racecard.core.log.days import look_days
from racecard.core.model import Kind, Plan, Unit
from racecard.core.model.observation import UnitLog
from racecard.core.model.table_rows import UnitKind
from racecard.core.plan.bench import draw_bench
from racecard.errors import InvalidInput
from racecard.formats.sheet import read_sheet, write_csv, write_lines
from tests.builders import a_plan
from tests.reference_data import germination_csv, orobanche_csv

HEADER = "treatment,role,outcome,day_from,day_to,day,count\n"


def csv_of(*rows: str, header: str = HEADER) -> bytes:
    return (header + "\n".join(f"{row}1" if row.endswith(",") else row for row in rows)).encode()


def xlsx_of(rows: Sequence[Sequence[object]], *, merge: str = "") -> bytes:
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    for row in rows:
        sheet.append(list(row))
    if merge:
        sheet.merge_cells(merge)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


@pytest.mark.parametrize(
    ("row", "column", "rule"),
    [
        (",control,struck,3,6,,", "treatment", "is empty"),
        ("A,king,struck,3,6,,", "role", "must be one of"),
        ("A,,grew,3,6,,", "outcome", "must be one of"),
        ("A,,struck,6,3,,", "day_to", "must come after day_from"),
        ("A,,struck,3,3,,", "day_to", "must come after day_from"),
        ("A,,struck,-1,6,,", "day_from", "must be 0 to"),
        ("A,,struck,soon,6,,", "day_from", "must be a number"),
        ("A,,struck,2026-05-03,2026-05-09,,", "day_from", "not a date"),
        ("A,,struck,3,6,,-2", "count", "must be 1 to"),
        ("A,,struck,3,6,,1.5", "count", "whole number"),
        ("A,,struck,3,six,,", "day_to", "must be a number"),
        ("A,,alive,3,6,,", "day_to", "first look with roots"),
        ("A,,lost,6,,6,", "day", "must come after day_from"),
        (f"{'x' * 90},,struck,3,6,,", "treatment", "80 characters"),
    ],
)
def test_every_bad_cell_is_told_with_its_place(row: str, column: str, rule: str) -> None:
    found = read_sheet(csv_of("A,,struck,3,6,,", row))
    assert len(found.rows) == 1
    assert [(b.row, b.column) for b in found.bad][:1] == [(3, column)]
    assert rule in found.bad[0].says()
    assert read_sheet(csv_of("A,,struck,3,6,,", row), frozenset({3})).bad == ()


def test_all_bad_rows_are_told_not_only_the_first() -> None:
    found = read_sheet(csv_of("A,,grew,3,6,,", "B,,struck,6,3,,", "C,,struck,3,6,,0"))
    assert [b.row for b in found.bad] == [2, 3, 4]


@pytest.mark.parametrize(
    ("content", "part"),
    [
        (b"", "empty"),
        (b"   \n  ", "empty"),
        (HEADER.encode(), "no rows of results"),
        (b"outcome,day\nstruck,3", "no column called treatment"),
        (b"treatment,outcome,Outcome\nA,struck,struck", "stands twice"),
        (b"\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR", "not a table"),
        (b"PK\x03\x04 broken", "cannot be read as a spreadsheet"),
        (b"a" * 25_000_001, "25 MB is the most"),
    ],
)
def test_what_is_no_table_is_refused_in_one_sentence(content: bytes, part: str) -> None:
    with pytest.raises(InvalidInput, match=part):
        read_sheet(content)


def test_a_zip_bomb_is_not_opened() -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("xl/worksheets/sheet1.xml", b"0" * 300_000_001)
    with pytest.raises(InvalidInput, match="not opened"):
        read_sheet(out.getvalue())


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "latin-1"])
@pytest.mark.parametrize("delimiter", [",", ";", "\t"])
def test_encodings_and_delimiters_are_understood(encoding: str, delimiter: str) -> None:
    text = f"Treatment{delimiter}Outcome{delimiter}Longest mm\nÖl{delimiter}struck{delimiter}12"
    found = read_sheet(text.encode(encoding))
    assert [r.treatment for r in found.rows] == ["Öl"]


def test_decimal_commas_are_numbers() -> None:
    assert read_sheet(b"treatment;outcome;score\nA;struck;2,5").rows[0].score == 2.5


def test_a_spreadsheet_is_read_by_its_values() -> None:
    rows: list[list[object]] = [
        ["treatment", "outcome", "day_from", "day_to"],
        ["A", "struck", 3, 6.0],
        ["B", "alive", None, None],
    ]
    found = read_sheet(xlsx_of(rows))
    assert [(r.treatment, r.outcome, r.day_to) for r in found.rows] == [
        ("A", "struck", 6),
        ("B", "alive", None),
    ]


def test_merged_cells_hold_for_every_row_they_span() -> None:
    rows: list[list[object]] = [["treatment", "count", "struck"], ["A", 4, 1], [None, 5, 2]]
    found = read_sheet(xlsx_of(rows, merge="A2:A3"))
    assert [(r.treatment, r.count) for r in found.rows] == [("A", 4), ("A", 5)]


def test_a_formula_without_its_value_is_an_empty_cell() -> None:
    found = read_sheet(xlsx_of([["treatment", "outcome"], ["=1+1", "struck"]]))
    assert "is empty" in found.bad[0].says()


def test_unknown_columns_are_left_aside_and_named() -> None:
    assert read_sheet(b"treatment,outcome,colour\nA,struck,red").left_aside == ("colour",)


def test_a_cell_that_begins_a_formula_is_made_harmless_and_read_back() -> None:
    out = write_csv([{"treatment": "=HYPERLINK(1)", "outcome": "alive"}])
    assert b"'=HYPERLINK" in out
    assert read_sheet(out).rows[0].treatment == "=HYPERLINK(1)"


def test_plates_of_the_published_table_are_judged_as_plates() -> None:
    """Crowder (1978): bean the control, seed lots the blocks, plates the containers."""
    found = judge_sheet(read_sheet(orobanche_csv()))
    comparison = found.judgement.comparisons[0]
    assert found.unit is UnitKind.CONTAINER
    assert comparison.test is not None
    assert comparison.test.p == pytest.approx(0.00176939, abs=1e-8)
    assert [a.strike.struck for a in found.judgement.arms] == [148, 276]
    singly = judge_sheet(read_sheet(orobanche_csv()), unit=UnitKind.PROPAGULE)
    assert singly.judgement.comparisons[0].test is None
    assert "shared_containers" in {n.code for n in singly.whole.notes}


@pytest.mark.parametrize("crop", ["wheat", "rice", "mungbean"])
def test_interval_counts_of_germination_run_through(crop: str) -> None:
    """Open dataset of three crops: the curve of each dish equals its plain cumulative share."""
    sheet = read_sheet(germination_csv(crop))
    found = judge_sheet(sheet)
    assert found.timed
    for arm in found.judgement.arms:
        name = found.plan.treatments[arm.index].name
        rows = [r for r in sheet.rows if r.treatment == name]
        total = sum(r.count for r in rows)
        for day in (3, 6, 9, 14):
            by_then = sum(r.count for r in rows if r.day_to is not None and r.day_to <= day)
            assert arm.curve.at(day) == pytest.approx(by_then / total, abs=1e-9)


def test_the_order_of_rows_changes_nothing() -> None:
    head, *rows = orobanche_csv().decode().splitlines()
    turned = "\n".join([head, *reversed(rows)]).encode()
    one, two = (
        judge_sheet(read_sheet(c)).judgement.comparisons[0] for c in (orobanche_csv(), turned)
    )
    assert (one.strike.p_holm, one.gap, one.grade) == (two.strike.p_holm, two.gap, two.grade)


def test_the_control_is_found_named_or_missing() -> None:
    rows = csv_of("Untreated,,struck,3,6,,8", "A,,struck,3,6,,8", "A,,alive,,,,4")
    assert judge_sheet(read_sheet(rows)).control == "Untreated"
    assert judge_sheet(read_sheet(rows), control="a").control == "A"
    with pytest.raises(InvalidInput, match="No treatment in the table"):
        judge_sheet(read_sheet(rows), control="Z")


def test_a_table_that_names_no_control_is_asked_which_and_not_told_that_nothing_was_untreated() -> (
    None
):
    rows = csv_of("Water,,struck,3,6,,8", "A,,struck,3,6,,8")
    whole = judge_sheet(read_sheet(rows)).whole
    codes = {n.code for n in whole.notes}
    assert ("control_not_named" in codes, "no_control" in codes) == (True, False)
    assert whole.answer
    assert (whole.answer.kind, whole.answer.happened) == (
        "no_control",
        "No verdict: no control is named. 8 of 8 struck with Water and 8 of 8 struck with A.",
    )


@pytest.mark.parametrize(
    ("name", "is_control"),
    [("untreated cuttings", True), ("Control (tap water)", True), ("No treatment", True),
     ("positive control", False), ("controlled release", False), ("none of these", False)],
)  # fmt: skip
def test_what_is_called_a_control_is_one(name: str, is_control: bool) -> None:
    rows = csv_of(f"{name},,struck,3,6,,8", "A,,struck,3,6,,8")
    assert judge_sheet(read_sheet(rows)).control == (name if is_control else None)


def test_names_that_differ_in_capitals_or_blanks_are_one_treatment_and_said() -> None:
    rows = csv_of(
        "Café,,alive,,,,8", "cafe\u0301,,alive,,,,2", " CAFÉ,,alive,,,,2", "A,,alive,,,,12"
    )
    found = judge_sheet(read_sheet(rows), control="café")
    assert [(t.name, a.strike.n) for t, a in zip(found.plan.treatments, found.judgement.arms, strict=True)] == [
        ("Café", 12), ("A", 12)]  # fmt: skip
    (note,) = (n for n in found.whole.notes if n.code == "spelled_otherwise")
    assert "“CAFÉ” as “Café”" in note.message


def test_two_controls_and_a_torn_role_are_refused() -> None:
    two = csv_of("A,control,alive,,,,", "B,control,alive,,,,")
    with pytest.raises(InvalidInput, match="both called the control"):
        judge_sheet(read_sheet(two))
    torn = csv_of("A,control,alive,,,,", "A,candidate,alive,,,,")
    with pytest.raises(InvalidInput, match="called candidate here and control before"):
        judge_sheet(read_sheet(torn))


def test_one_plant_told_at_several_looks_may_go_backwards() -> None:
    head = "treatment,unit,outcome,day_from,day_to,day\n"
    rows = [f"{t},{t}{i},alive,,,9" for t in "UA" for i in range(4)]
    back = ["A,x,struck,3,6,6", "A,x,alive,,,9", "U,y,alive,,,9"]
    found = judge_sheet(read_sheet((head + "\n".join(rows + back)).encode()), control="U")
    assert "goes_backwards" in {n.code for n in found.whole.notes}
    assert found.judgement.arms[1].strike.struck == 1
    with pytest.raises(InvalidInput, match="tell of one unit"):
        judge_sheet(read_sheet((head + "A,x,alive,,,9\nA,x,alive,,,9").encode()))


def test_a_table_without_days_says_nothing_of_time() -> None:
    found = judge_sheet(read_sheet(csv_of("Untreated,,alive,,,,9", "A,,struck,,,,9")))
    assert not found.timed
    assert found.judgement.arms[1].half is None
    assert found.judgement.comparisons[0].beside.over_time.p is None


def told(j: Judgement) -> list[object]:
    """What a round trip must keep, treatment by treatment."""
    arms = sorted(
        (a.strike.struck, a.strike.n, a.strike.removed, a.strike.rate or -1) for a in j.arms
    )
    comparisons = sorted(
        (c.gap.estimate, c.gap.low or -9, c.gap.high or -9, c.test.p, c.strike.p_holm or -9, c.strike.primary.minimum_p or -9,
         c.grade, c.harm)
        for c in j.comparisons if c.gap and c.test
    )  # fmt: skip
    return [j.day, j.is_final, _to_12_digits(arms), _to_12_digits(comparisons)]


def _to_12_digits(rows: list[tuple[Any, ...]]) -> list[tuple[Any, ...]]:
    """Rows read in come in another order, so sums may differ in the last bit."""
    return [tuple(round(v, 12) if isinstance(v, float) else v for v in row) for row in rows]


@given(
    seed=st.integers(0, 2**20), arms=st.integers(2, 4), units=st.integers(2, 9), blocks=st.integers(1, 3),
    plants=st.sampled_from([1, 1, 4]), until=st.sampled_from([9, 21, 42]),
)  # fmt: skip
@settings(max_examples=40, deadline=None)
def test_any_trial_survives_being_taken_out_and_read_in(
    seed: int, arms: int, units: int, blocks: int, plants: int, until: int
) -> None:
    names = ["Untreated", "=IBA", "C, D", "مراقبة"][:arms]
    plan: Plan = a_plan(
        *names, units=units, blocks=min(blocks, units), per_container=plants,
        kind=Kind.SEED if plants > 1 else Kind.CUTTING, endpoint=3 if plants > 1 else 6, gap_points=15,
    )  # fmt: skip
    cells = [c for c in draw_bench(plan, seed) if c.treatment >= 0]
    rng = np.random.default_rng(seed)
    truths = [Truth(s, 20, 6, loss=0.15) for s in (0.4, 0.8, 0.5, 0.1)[:arms]]
    days = [d for d in look_days(42, 3) if d <= until]
    logs: list[UnitLog] = simulate(plan, cells, truths, days, rng)
    units_ = [Unit(str(i), c) for i, c in enumerate(cells)]
    before = judge(plan, results_of(plan, units_, logs), seed=seed, end_day=42)
    table = write_csv(lines_of(plan, units_, logs))
    after = judge_sheet(read_sheet(table))
    assert after.plan.gap_points == 15
    assert told(after.judgement) == told(before)


def test_two_hundred_thousand_rows_are_read_and_judged() -> None:
    rows = [f"{'UA'[i % 2]},{'struck' if i % 5 < 2 + i % 2 else 'alive'}" for i in range(200_000)]
    sheet = read_sheet("\n".join(["treatment,outcome", *rows]).encode())
    assert sheet.read == 200_000
    found = judge_sheet(sheet, control="U").judgement
    assert [a.strike.n for a in found.arms] == [100_000, 100_000]
    assert found.comparisons[0].grade == "clear_lead"


@pytest.mark.parametrize(
    ("cell", "written"),
    [
        ("-0.079", "-0.079"),
        ("+3", "+3"),
        ("-1+1", "'-1+1"),
        ("=1", "'=1"),
        ("-", "'-"),
        ("@x", "'@x"),
    ],
)
def test_a_number_below_nought_is_no_formula(cell: str, written: str) -> None:
    assert write_lines([[cell]]).decode().strip() == written
