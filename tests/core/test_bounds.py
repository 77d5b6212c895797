"""Tables with dates and with counts in bounds: read as they stand, judged as far as every reading agrees."""

import json
from itertools import product
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner
from scipy.stats import fisher_exact

from racecard.cli.main import app
from racecard.core.exchange.audited import Detail
from racecard.core.exchange.bounds import judge_table
from racecard.core.exchange.judged import judge_sheet
from racecard.core.model.table_dates import DateOrder, OrderAsked, order_of, read_date
from racecard.errors import InvalidInput
from racecard.formats.sheet import read_sheet


def told(tmp_path: Path, *lines: str, more: tuple[str, ...] = ()) -> dict[str, Any]:
    file = tmp_path / "t.csv"
    file.write_text("\n".join(lines))
    out = CliRunner().invoke(app, ["finish", str(file), "--json", *more])
    assert out.exit_code == 0, out.output
    return json.loads(out.output)  # type: ignore[no-any-return]


def test_dates_are_days_from_the_start_of_their_own_row() -> None:
    days = b"treatment,outcome,day_from,day_to,day\nA,struck,7,10,\nA,alive,,,21\nB,lost,3,,7\nB,struck,17,21,\n"
    dates = (
        b"treatment,outcome,start,date_from,date_to,date\nA,struck,2026-05-03,2026-05-10,2026-05-13,\n"
        b"A,alive,2026-05-04,,,25 May 2026\nB,lost,3/5/2026,6/5/2026,,10/05/2026\nB,struck,03.05.26,20.05.26,24.05.26,\n"
    )
    a, b = read_sheet(days), read_sheet(dates)
    assert b.bad == ()
    shown = [[(r.outcome, r.day_from, r.day_to, r.day) for r in sheet.rows] for sheet in (a, b)]
    assert shown[0] == shown[1]


def test_a_part_of_a_day_is_kept() -> None:
    found = read_sheet(
        b"treatment,start,date_from,date_to\nA,2026-05-03 09:00,2026-05-08 09:00,2026-05-08 17:00\n"
    )
    assert [(r.day_from, r.day_to) for r in found.rows] == [(5, 5.3333)]
    late = read_sheet(
        b"treatment,role,outcome,count,day_from,day_to,day\nA,control,struck,3,4.2,8.1,\nA,,struck,2,8.1,11.73,\n"
        b"A,,alive,8,,,11.73\nB,,struck,12,4.2,11.73,\nB,,alive,1,,,11.73\n"
    )
    arms = judge_sheet(late).judgement.arms
    assert [(a.strike.struck, a.strike.unknown, a.horizon) for a in arms] == [
        (5, 0, 11.73),
        (12, 0, 11.73),
    ]


@pytest.mark.parametrize(
    ("cells", "order"),
    [
        (["13/04/2026", "03/04/2026"], DateOrder.DAY),
        (["03/04/2026", "04/13/26"], DateOrder.MONTH),
        (["2026-05-03", "5 May 2026"], None),
        (["05/05/2026"], None),
    ],
)
def test_the_order_is_read_from_the_whole_table(cells: list[str], order: DateOrder | None) -> None:
    assert order_of(cells) is order


@pytest.mark.parametrize(
    ("cells", "says"),
    [
        (["03/04/2026"], "Does 03/04/2026 mean 3 April or 4 March?"),
        (["13/04/2026", "04/13/2026"], "2026-05-03"),
    ],
)
def test_an_order_that_cannot_be_read_is_asked(cells: list[str], says: str) -> None:
    with pytest.raises(OrderAsked, match=says.replace("?", r"\?")):
        order_of(cells)


@pytest.mark.parametrize("text", ["31/02/2026", "2026-13-01", "5 Mai 2026", "yesterday", ""])
def test_what_is_no_date_is_none(text: str) -> None:
    assert read_date(text, None) is None


@pytest.mark.parametrize(
    ("row", "column", "rule"),
    [
        ("A,4,,2026-05-10,some,", "start", "needs the date of day 0"),
        ("A,4,2026-05-12,2026-05-10,some,", "date", "days after start"),
        ("A,4,2026-05-03,2026-05-10,5,", "struck", "must be 0 to 4"),
        ("A,4,2026-05-03,2026-05-10,plenty,", "struck", "must be a number"),
        ("A,4,2026-05-03,soon,some,", "date", "must be a date"),
        ("A,4,2026-05-03,2026-05-10,some,7", "day", "say the same thing"),
    ],
)
def test_a_bad_date_or_count_is_told_with_its_place(row: str, column: str, rule: str) -> None:
    found = read_sheet(f"treatment,count,start,date,struck,day\n{row}\n".encode())
    assert [(b.column, rule in b.rule) for b in found.bad] == [(column, True)]


@pytest.mark.parametrize(
    ("said", "low", "high"),
    [("some", 1, 4), ("most", 3, 4), ("2-4", 2, 4), (">=1", 1, 4), ("at least 2", 2, 4), ("<3", 0, 2), ("none", 0, 0),
     ("all", 4, 4), ("?", 0, 4), ("3", 3, 3), ("half", 2, 2), ("2 to 3", 2, 3), ("≥ 1", 1, 4)],
)  # fmt: skip
def test_what_a_count_allows(said: str, low: int, high: int) -> None:
    sheet = read_sheet(f"treatment,container,count,struck\nA,1,4,{said}\n".encode())
    assert [r.bounds for r in sheet.rows] == [(low, high)]


def test_exact_counts_are_what_plants_told_one_by_one_are() -> None:
    plants = "treatment,container,outcome,count\n" + "".join(
        f"{t},{t}{i},struck,{k}\n{t},{t}{i},alive,{5 - k}\n"
        for t, ks in (("control", (1, 2, 1, 3)), ("A", (4, 3, 4, 3))) for i, k in enumerate(ks)
    )  # fmt: skip
    counts = "treatment,container,count,struck\n" + "".join(
        f"{t},{t}{i},5,{k}\n" for t, ks in (("control", (1, 2, 1, 3)), ("A", (4, 3, 4, 3))) for i, k in enumerate(ks)
    )  # fmt: skip
    one = judge_sheet(read_sheet(plants.encode())).judgement.comparisons[0]
    other = judge_table(read_sheet(counts.encode())).table.judgement.comparisons[0]
    assert one.test is not None
    assert other.test is not None
    assert (one.test.p, one.gap, one.grade) == (other.test.p, other.gap, other.grade)
    assert judge_table(read_sheet(counts.encode())).table.detail is Detail.POTS
    assert (
        judge_table(read_sheet(b"treatment,count,struck\nnone,9,4\nA,9,8\n")).table.detail
        is Detail.ENDS
    )


def test_counts_at_each_date_are_the_course_of_the_same_plants(tmp_path: Path) -> None:
    lines = ["treatment,container,count,start,date,struck"]
    for t, k in (("untreated", (0, 1, 2)), ("kelp", (1, 3, 4))):
        for pot in range(4):
            lines += [
                f"{t},{t}{pot},4,2026-05-01,2026-05-{1 + 7 * (i + 1):02},{n}"
                for i, n in enumerate(k)
            ]
    found = told(tmp_path, *lines)
    assert [(t["n"], t["struck"]) for t in found["treatments"]] == [(16, 8), (16, 16)]
    assert [t["half_struck_interval"] for t in found["treatments"]] == [[14, 21], [7, 14]]
    falling = [
        *lines[:1],
        "untreated,u,4,2026-05-01,2026-05-08,3",
        "untreated,u,4,2026-05-01,2026-05-15,1",
    ]
    with pytest.raises(InvalidInput, match="fewer than in a row before"):
        judge_table(read_sheet("\n".join(falling).encode()))


@pytest.mark.parametrize(
    ("control", "treated"),
    [((2, 4), (16, 18)), ((5, 8), (12, 16)), ((6, 9), (8, 12)), ((2, 12), (16, 18))],
)
def test_the_grade_holds_for_every_reading(
    tmp_path: Path, control: tuple[int, int], treated: tuple[int, int]
) -> None:
    """Every count the bounds allow, in turn, by scipy's exact test: none may say less than what is told."""
    found = told(
        tmp_path, "treatment,count,struck", f"untreated,20,{control[0]}-{control[1]}", f"kelp,20,{treated[0]}-{treated[1]}"
    )  # fmt: skip
    rates = {t["treatment"]: (t["rate_low"], t["rate_high"]) for t in found["treatments"]}
    assert rates == {
        "untreated": (control[0] / 20, control[1] / 20),
        "kelp": (treated[0] / 20, treated[1] / 20),
    }
    most = max(
        fisher_exact([[a, 20 - a], [b, 20 - b]])[1]
        for a, b in product(range(control[0], control[1] + 1), range(treated[0], treated[1] + 1))
    )
    grade = found["comparisons"][0]["grade"]
    assert (grade == "clear_lead") is bool(most < 0.05)
    assert found["in_bounds"]


def test_some_of_four_in_each_jar_is_one_to_four(tmp_path: Path) -> None:
    rows = [
        "treatment,container,count,struck",
        "untreated,a,4,some",
        "untreated,b,4,0",
        "seaweed,c,4,3",
        "seaweed,d,4,most",
    ]
    found = told(tmp_path, *rows)
    seaweed = next(t for t in found["treatments"] if t["treatment"] == "seaweed")
    assert (seaweed["rate_low"], seaweed["rate_high"]) == (6 / 8, 7 / 8)
    said = CliRunner().invoke(app, ["finish", str(tmp_path / "t.csv")]).output
    assert "for every count that is possible" in said
    assert "untreated: 13 to 50 %" in said


def test_the_command_asks_for_the_order_once(tmp_path: Path) -> None:
    rows = (
        "treatment,outcome,start,date_from,date_to",
        "none,struck,01/04/2026,03/04/2026,05/04/2026",
        "A,struck,01/04/2026,03/04/2026,06/04/2026",
    )
    (tmp_path / "t.csv").write_text("\n".join(rows))
    out = CliRunner().invoke(app, ["finish", str(tmp_path / "t.csv")])
    assert out.exit_code == 2
    assert "1 April or 4 January" in out.output
    assert "--dates day-first" in out.output
    found = told(tmp_path, *rows, more=("--dates", "day-first"))
    assert found["treatments"][0]["half_struck_interval"] == [2, 4]
