"""160 more lines of the mixing bench, by the corpus' grader: no answer is wrong, and most are answered.

Every value was worked out twice apart from the program; see the heads of tests/reference/lines2.csv.
"""

import csv
from pathlib import Path

import pytest
from click.testing import CliRunner

from racecard.cli.main import app
from racecard.core.prepare.line import read_line
from racecard.errors import InvalidInput
from tests import reference_data

REFERENCE = Path(__file__).parent.parent / "reference"
grader = reference_data.grader("grade_lines.py")


def said(line: str) -> tuple[int, str]:
    done = CliRunner().invoke(app, ["mix", "--", line])
    return done.exit_code, done.output


def test_no_line_is_answered_wrongly() -> None:
    with (REFERENCE / "lines2.csv").open(encoding="utf-8") as file:
        rows = list(csv.DictReader(file))
    grades = [grader.grade(row, *said(row["line"])) for row in rows]
    assert [r["line"] for r, g in zip(rows, grades, strict=True) if g == "WRONG"] == []
    assert grades.count("right") >= 101


@pytest.mark.parametrize(
    ("line", "shows"),
    [
        ("two litres and a quarter of 400 ppm IBA from 1 %", "90 mL"),
        ("3 and 1/2 litres of 200 ppm NAA from 1 %", "70 mL"),
        ("five thousand and twenty ppm IBA, 100 mL, from 2 %", "25.1 mL"),
        ("100 mL of 2 x 10^3 ppm IBA from 1 %", "20 mL"),
        ("2 mL/250 mL in 3 L", "24 mL"),
        ("zero and a half litres of 400 ppm IBA from 1 %", "20 mL"),
    ],
)
def test_a_number_of_several_words_is_one(line: str, shows: str) -> None:
    code, text = said(line)
    assert (code, shows in text) == (0, True), text


@pytest.mark.parametrize(
    ("line", "asks"),
    [
        ("50 mL each of 250/500/1000 ppm IBA from 1 %", "may be several numbers"),
        ("30 plants at 60/70 % germination", "a fraction, or two numbers"),
        ("200 and 300 mL of 500 ppm IBA from 1 %", "names several amounts"),
        ("90 mL of 900 ppm IBA from 1 and 2 %", "names two stocks"),
        ("triple the 400 ppm IBA, 100 mL, from 1 %", "raise the strength"),
        ("300 g of 500 ppm IBA liquid from 1 %", "weighs a liquid"),
        ("300 mL of 900 ppm IBA from 1 % in 3 lots", "for all, or for each"),
    ],
)
def test_a_line_with_two_meanings_is_asked_and_the_part_is_marked(line: str, asks: str) -> None:
    with pytest.raises(InvalidInput, match=asks.replace("?", r"\?")) as caught:
        read_line(line)
    (span,) = caught.value.spans
    assert line[slice(*span)].casefold() in str(caught.value.detail).casefold()
