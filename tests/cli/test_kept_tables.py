"""Sixty-eight small tables as growers keep them, by the corpus' grader, and the law that nothing is judged unread.

Every expectation was worked out apart from the program; see tests/reference/tables/README.md.
"""

import json
from collections.abc import Iterator
from pathlib import Path

import pytest
from click.testing import CliRunner
from hypothesis import given
from hypothesis import strategies as st

from racecard.cli.main import app
from racecard.errors import InvalidInput
from racecard.formats.sheet import read_sheet
from tests import reference_data

CORPUS = Path(__file__).parent.parent / "reference" / "tables"
grader = reference_data.grader("tables/grade_tables.py")


@pytest.mark.parametrize("name", sorted(p.name for p in CORPUS.glob("*.expected.json")))
def test_a_table_is_read_as_it_was_meant_or_asked_about(name: str) -> None:
    expected = json.loads((CORPUS / name).read_text())
    stem = name.removesuffix(".expected.json")
    (file,) = (p for p in CORPUS.glob(f"{stem}.*") if p.name != name)
    done = CliRunner().invoke(app, ["finish", str(file), "--json"])
    out, told = (done.output, "") if done.exit_code == 0 else ("", done.output)
    assert grader.grade(expected, done.exit_code, out, told) == ("right", "")


def counts(text: str) -> list[tuple[str, int, tuple[int, int] | None]]:
    return [(r.treatment, r.count, r.bounds) for r in read_sheet(text.encode()).rows]


@pytest.mark.parametrize(
    "text",
    [
        "control 4/12, honey 9/12",
        "honey: 9 rooted of 12; control: 4 rooted of 12",
        "Control - 4 out of 12 struck\nHoney - 9 out of 12 struck",
        "control 4 of 12 vs honey 9 of 12",
        "control 4 of 12 and honey 9 of 12",
        "control,12,4\nhoney,12,9",
        "treatment;rooted;not rooted\ncontrol;4;8\nhoney;9;3",
        "variant\tn\tsuccesses\ncontrol\t12\t4\nhoney\t12\t9",
        "treatment,number of seeds,% germinated\ncontrol,12,33\nhoney,12,75",
        "what,sown,came up\ncontrol,12,4\nhoney,12,9\naverage,12,6.5",
        "my tray\n\ntreatment,out of,struck\ncontrol,12,4\nhoney,12,9\nGrand total,24,13",
    ],
)
def test_the_same_counts_are_heard_however_they_are_written(text: str) -> None:
    found = {(name.casefold(), n, bounds) for name, n, bounds in counts(text)}
    assert found == {("control", 12, (4, 4)), ("honey", 12, (9, 9))}


def test_lost_stand_beside_struck_and_rows_are_households() -> None:
    rows = read_sheet(b"treatment,count,rooted,dead\nControl,12,4,3\nHoney,12,12,0").rows
    assert [(r.treatment, r.count, r.outcome) for r in rows] == [
        ("Control", 9, "alive"), ("Control", 3, "lost"), ("Honey", 12, "alive")]  # fmt: skip
    taken = read_sheet(b"treatment,count,rooted,removed\nControl,12,4,3").rows
    assert [(r.count, r.outcome) for r in taken] == [(9, "alive"), (3, "removed")]
    homes = read_sheet(b"household,Control,Honey\nLake,1/3,2/3\nHill,0/3,3/3").rows
    assert [(r.block, r.treatment, r.bounds) for r in homes] == [
        ("Lake", "Control", (1, 1)), ("Lake", "Honey", (2, 2)),
        ("Hill", "Control", (0, 0)), ("Hill", "Honey", (3, 3))]  # fmt: skip


@pytest.mark.parametrize(
    ("text", "asks"),
    [
        ("treatment,count,struck\nA,10,3\nB,10,4\nTotal,20,8", "rows it sums give 7"),
        ("Control: 4/12\nHoney: 9/12\nTotal: 14/24", "rows it sums give 13 of 24"),
        ('treatment,count,struck\nA,"1,200",3\nB,10,4\nTotal,"1,300",7', "rows it sums give 1210"),
        ("treatment,rooted\nA,yes\nA,dunno\nB,yes", "“dunno” is not understood"),
        (
            "treatment,count,dead day 7,dead day 14\nA,10,1,2\nB,10,0,3",
            "No column says what became",
        ),
        ("treatment,rooted\nA,3\nB,4", "of how many"),
        ("treatment,count,% rooted\nA,300,33\nB,300,50", "Write how many struck"),
        (
            "treatment,count,rooted,sprouted\nA,10,3,4\nB,10,4,5",
            "Two columns may be how many struck",
        ),
        ("treatment,count,struck\nA,10,3-Jun\nB,10,4", "is a date"),
        ("treatment,count,day 7,day 14\nA,10,3,2\nB,10,4,5", "new on each day, or all so far"),
        ("treatment,cutting,rooted\nA,1,x\nA,2,✓\nB,3,✓", "an x rooted, or not"),
        ("treatment,count,struck\nSeaweed,10,3\nSeawed,10,4", "spelt almost alike"),
        ("A lot of plants died this year", "no column called treatment"),
        ("control 4 of 12, honey about 9", "“honey about 9” is not understood"),
        ("treatment,count,struck\nA,,3\nB,10,4", "is blank"),
        ("treatment,count,struck,dead\nA,10,3,\nB,10,4,1", "is blank"),
        ("treatment,count,struck,dead\nA,10,3,12\nB,10,4,1", "12 lost or removed of 10"),
        ("treatment,count,rooted,not rooted\nA,10,3,8\nB,10,4,6", "make 11, beside a count of 10"),
        ("treatment,result,rooted\nA,yes,1\nB,no,0", "Several columns say what became"),
    ],
)
def test_what_could_be_read_two_ways_is_asked(text: str, asks: str) -> None:
    with pytest.raises(InvalidInput, match=asks.replace("?", r"\?")):
        read_sheet(text.encode())


@pytest.mark.parametrize(
    "pair", ["deep pots,deep pot", "wounded,unwounded", "Mix A,Mix B", "IBA 1000,IBA 3000"]
)
def test_names_that_differ_on_purpose_are_two(pair: str) -> None:
    a, b = pair.split(",")
    assert len(counts(f"treatment,count,struck\n{a},10,3\n{b},10,4")) == 2


@pytest.mark.parametrize("text", ["x" * 19_000, "a 1 " * 4_000, "(" * 19_000, "a " * 9_000 + "\nb"])
def test_a_long_text_that_is_no_table_is_refused_at_once(text: str) -> None:
    with pytest.raises(InvalidInput):
        read_sheet(text.encode())
    assert read_sheet(f"treatment,count,struck\nA,{'9' * 5000},3".encode()).bad


def spliced(rows: list[list[str]], word: str) -> Iterator[str]:
    """The table with the word put before or behind each cell that holds a number."""
    for i, row in enumerate(rows):
        for j, cell in enumerate(row):
            if cell.isdecimal():
                for said in (f"{word} {cell}", f"{cell} {word}"):
                    out = [list(r) for r in rows]
                    out[i][j] = said
                    yield "\n".join(",".join(r) for r in out)


@given(st.from_regex(r"[bdfgjqw][aeou][bdfgjqw]{2}", fullmatch=True))
def test_no_count_is_judged_over_a_word_nobody_knows(word: str) -> None:
    rows = [["treatment", "count", "struck"], ["A", "10", "3"], ["B", "12", "4"]]
    for text in spliced(rows, word):
        try:
            found = read_sheet(text.encode())
        except InvalidInput:
            continue
        assert found.bad, text
