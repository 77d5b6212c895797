"""131 trial questions as growers ask them, by the corpus' grader, and the law that no word is dropped silently.

What a careful listener would repeat back was worked out by reading; see tests/reference/questions/README.md.
"""

import csv
import re
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from racecard.core.design.as_plan import plan_of
from racecard.core.design.proposals import propose
from racecard.core.design.question import Against, read_question
from racecard.core.design.resources import Have
from racecard.core.model import Measure
from tests import reference_data

CORPUS = Path(__file__).parent.parent / "reference" / "questions"
grader = reference_data.grader("questions/grade_questions.py")
with (CORPUS / "questions.csv").open(encoding="utf-8") as _file:
    ROWS = list(csv.DictReader(_file))


def grade(row: dict[str, str]) -> str:
    u = read_question(row["question"])
    read = {
        "kind": u.kind.value, "subject": u.subject.value if u.subject else "", "plant": u.plant, "things": [t.name for t in u.things],
        "against": u.against.value if u.against else None, "outcome": u.outcome.value, "asked": " | ".join(u.unread),
    }  # fmt: skip
    return str(grader.grade(row, read)[0])


def test_a_question_is_heard_whole_or_what_was_not_heard_is_shown() -> None:
    grades = [grade(row) for row in ROWS]
    assert [r["question"] for r, g in zip(ROWS, grades, strict=True) if g == "WRONG"] == []
    assert grades.count("right") >= 112


@pytest.mark.parametrize(
    ("line", "names", "against"),
    [
        ("kelp vs honey vs nothing on sage cuttings", ["Kelp", "Honey"], Against.NOTHING),
        ("NAA 500/1000/2000 ppm against nothing, plum cuttings", ["NAA 500 ppm", "NAA 1000 ppm", "NAA 2000 ppm"], Against.NOTHING),
        ("not kelp, just honey vs none on mint cuttings", ["Honey"], Against.NOTHING),
        ("IBA 2k ppm in 40 % alcohol vs the alcohol alone, fig cuttings", ["IBA 2000 ppm"], Against.CARRIER),
        ("coir or perlite for sage cuttings", ["Coir", "Perlite"], None),
        ("grit instead of sand for thyme cuttings", ["Grit"], Against.USUAL),
        ("charcoal mixed with cinnamon or nothing on fig cuttings", ["Charcoal + Cinnamon"], Against.NOTHING),
        ("4, 8 and 12 hours soaking of bean seed vs dry", ["Soaked 4 hours", "Soaked 8 hours", "Soaked 12 hours"], Against.NOTHING),
        ("cold 0 °C vs 5 °C for apple seed", ["Cold 0 °C", "Cold 5 °C"], None),
        ("IBA powder 0.3 % vs gel 0.8 % on sage cuttings", ["IBA powder 0.3 %", "IBA gel 0.8 %"], None),
        ("IBA 1.5k ppm vs none on fig cuttings", ["IBA 1500 ppm"], Against.NOTHING),
        ("I have 30 olive cuttings: cinnamon vs none?", ["Cinnamon"], Against.NOTHING),
    ],
)  # fmt: skip
def test_rivals_doses_and_denials(line: str, names: list[str], against: Against | None) -> None:
    found = read_question(line)
    assert ([t.name for t in found.things], found.against, found.unread) == (names, against, ())


@given(
    st.sampled_from(ROWS), st.from_regex(r"[bdfgjqw][aeou][bdfgjqw]{3}", fullmatch=True), st.data()
)
def test_a_word_nobody_knows_is_shown_wherever_it_stands(
    row: dict[str, str], word: str, data: st.DataObject
) -> None:
    gaps = [m.start() for m in re.finditer(" ", row["question"])] or [0]
    at = data.draw(st.sampled_from(gaps))
    line = f"{row['question'][:at]} {word}{row['question'][at:]}"
    found = read_question(line)
    assert word in found.unread or word in found.plant.split()


@pytest.mark.parametrize(
    ("line", "unread"),
    [
        ("powder or liquid vs nothing on bay cuttings", ("powder", "liquid")),
        ("spring vs autumn cuttings of bay", ("spring", "autumn")),
        ("honey twice a week vs nothing on mint cuttings", ("twice", "week")),
    ],
)
def test_what_differs_and_is_in_no_list_is_shown(line: str, unread: tuple[str, ...]) -> None:
    assert read_question(line).unread == unread


def test_another_number_is_another_dose() -> None:
    for row in ROWS:
        swapped = re.sub(r"(?<=\d)0(?=0 ppm)", "9", row["question"])
        if swapped != row["question"]:
            assert read_question(swapped).things != read_question(row["question"]).things, swapped


@pytest.mark.parametrize(
    ("row", "measure"),
    [(r, {"speed": Measure.SPEED, "roots": Measure.QUALITY}[r["judged_on"]]) for r in ROWS if r["judged_on"] in ("speed", "roots")],
    ids=lambda x: x["question"] if isinstance(x, dict) else x.value,
)  # fmt: skip
def test_what_the_line_says_it_is_judged_on_is_in_the_plan(
    row: dict[str, str], measure: Measure
) -> None:
    have, read = Have(60, 2, 0.4, 0.4), read_question(row["question"])
    (first, *_) = propose(have)
    plan = plan_of(first.design, have, read, Against.NOTHING, question=row["question"])
    assert plan.measure is measure


@pytest.mark.parametrize("word", ["taller", "survive", "alive", "bigger"])
def test_a_goal_that_cannot_be_carried_is_shown(word: str) -> None:
    assert word in read_question(f"does honey keep sage cuttings {word} against nothing").unread
