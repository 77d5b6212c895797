"""The answer card: its kind, its words held in a golden file, and that a beginner can read it.

Numbers of the cards are those of the model texts, worked out with exact tests; the reading ease is
Flesch's (1948, J. Appl. Psychol. 32, 221-233), syllables counted by vowel groups, figures read aloud.
"""

import os
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from racecard.core.assess.grade import Grade
from racecard.core.finish.finish_result import Whole, whole_finish
from racecard.core.model import Layout, Role
from racecard.core.model.results import Results
from racecard.core.text.narrator import MOST_WORDS
from tests.builders import LAST, a_plan, containers, counts, lost, singles, struck, waiting

GOLDEN = Path(__file__).parent.parent / "golden" / "answers.txt"
IS_WRITTEN = os.environ.get("RACECARD_GOLDEN") == "write"


def told(
    results: Results,
    *names: str,
    drawn: bool = True,
    end: float | None = LAST,
    roles: Any = None,
    **plan: Any,
) -> Whole:
    return whole_finish(
        a_plan(*names, roles=roles, **plan), results, seed=1, end_day=end, lot_drawn=drawn
    )


def mixed(*arms: tuple[int, int, int]) -> Results:
    """Arms of (n, rooted, lost)."""
    return singles(
        *[[*[struck()] * s, *[lost()] * dead, *[waiting()] * (n - s - dead)] for n, s, dead in arms]
    )


CASES: dict[str, tuple[str, Callable[[], Whole]]] = {
    "clear lead, one": ("clear_lead.one", lambda: told(counts((9, 24), (19, 24)), "Untreated", "Coconut water")),
    "clear lead, several": ("clear_lead.several", lambda: told(counts((9, 24), (21, 24), (12, 24), (11, 24)), "Untreated", "IBA 1000", "IBA 500", "IBA 4000")),
    "likely lead": ("likely_lead.one", lambda: told(counts((10, 24), (17, 24)), "Untreated", "Talc")),
    "too close, promising": ("too_close.promising", lambda: told(counts((6, 16), (10, 16)), "Untreated", "Seaweed")),
    "too close, no gap": ("too_close.no_gap", lambda: told(counts((12, 24), (13, 24)), "Untreated", "Seaweed")),
    "level": ("level", lambda: told(counts((105, 150), (103, 150)), "Tip", "Leaf-bud", gap_points=15.0, expect_level=True)),
    "not worse": ("not_worse", lambda: told(counts((52, 80), (58, 80)), "Tip", "Leaf-bud", gap_points=15.0, expect_level=True)),
    "too small": ("cannot_tell.too_small", lambda: told(counts((0, 3), (3, 3)), "Untreated", "Yeast", gap_points=40.0)),
    "one jar each": ("cannot_tell.one_container", lambda: told(containers([(11, 16)], [(13, 16)]), "Tap water", "Coconut water", per_container=16, units=1)),
    "behind with harm": ("clearly_behind.harm", lambda: told(mixed((24, 15, 2), (24, 5, 14)), "Untreated", "IBA 4000")),
    "clear but small": ("clear_lead.small", lambda: told(counts((280, 400), (308, 400)), "Untreated", "Talc", gap_points=15.0)),
    "behind": ("clearly_behind.plain", lambda: told(counts((14, 24), (4, 24)), "Usual", "Cold")),
    "running": ("running", lambda: told(counts((4, 24), (14, 24), by=10), "Dry", "Nicked", end=60.0, length_days=60)),
    "all rooted": ("all_reached", lambda: told(counts((20, 20), (20, 20)), "Untreated", "Coconut water")),
    "not randomised": ("not_randomised", lambda: told(counts((5, 20), (15, 20)), "Untreated", "Seaweed", drawn=False)),
    "no control": ("no_control", lambda: told(counts((9, 20), (14, 20)), "Seaweed", "Coconut water", roles=[Role.CANDIDATE, Role.CANDIDATE])),
    "ties": ("clear_lead.ties", lambda: told(counts((9, 24), (21, 24), (17, 24)), "Untreated", "IBA 1000", "Dip")),
}  # fmt: skip


@pytest.mark.parametrize("name", CASES)
def test_each_result_gets_its_kind_in_sixty_words(name: str) -> None:
    kind, made = CASES[name]
    answer = made().answer
    assert answer is not None
    assert answer.kind == kind
    assert len(answer.text.split()) <= MOST_WORDS
    assert reading_ease(answer.text) >= 48  # counts of four figures a sentence weigh on the formula
    assert not re.search(
        r"\b(?:p|Holm|interval|median|significant|prove[sn]?|None|nan)\b", answer.text
    )


@pytest.mark.parametrize("name", CASES)
def test_the_card_says_what_the_grade_says(name: str) -> None:
    whole = CASES[name][1]()
    assert whole.answer is not None
    said, grades = whole.answer.text, {c.grade for c in whole.judgement.comparisons}
    assert ("clearly ahead" in whole.answer.happened) is (Grade.CLEAR_LEAD in grades)
    assert ("clearly behind" in whole.answer.happened) is (
        Grade.CLEARLY_BEHIND in grades and Grade.CLEAR_LEAD not in grades
    )
    assert ("cannot tell" in said or "could not have told" in said) is (
        grades == {Grade.CANNOT_TELL}
    )


def test_the_words_are_those_of_the_golden_file() -> None:
    lines = []
    for name, (_, made) in CASES.items():
        answer = made().answer
        assert answer is not None
        lines.append(f"{name}: {answer.text}\n")
    text = "\n".join(lines)
    if IS_WRITTEN:
        GOLDEN.write_text(text)
    assert GOLDEN.read_text() == text


def test_cannot_tell_says_what_would() -> None:
    answer = CASES["too small"][1]().answer
    assert answer is not None
    assert re.search(r"about \d+ of each would usually show 40 more in 100", answer.next)


@pytest.mark.parametrize("end", [LAST, LAST + 30.0])
def test_a_name_as_typed_begins_a_sentence_with_a_capital(end: float) -> None:
    answer = told(counts((3, 24), (20, 24)), "plain water", "seaweed", end=end).answer
    assert answer is not None
    assert all(s[:1].isupper() or s[:1].isdigit() for s in re.split(r"[.:] ", answer.happened)[::2])
    assert "Seaweed is" in answer.happened


def test_long_names_are_cut_in_the_card_only() -> None:
    name = "Extract of the bark of an old willow"
    whole = told(counts((9, 24), (19, 24)), "Untreated", name, layout=Layout.BLOCKS)
    assert whole.answer is not None
    assert "Extract of the bark of…" in whole.answer.text
    assert name in whole.headline


def reading_ease(text: str) -> float:
    words = re.findall(r"[A-Za-z0-9’'%,-]+", text)
    sentences = len(re.findall(r"[.!?](?=\s|$)", text))
    return 206.835 - 1.015 * len(words) / sentences - 84.6 * sum(map(syllables, words)) / len(words)


def syllables(word: str) -> int:
    word = word.strip(",-").lower()
    if word.replace(",", "").isdecimal():
        return _aloud(int(word.replace(",", "")))
    found = len(re.findall(r"[aeiouy]+", word))
    if re.search(r"[^aeiouyl]e$|[^td]ed$|[mnvrl]es$", word):
        found -= 1  # a silent e: alone, ranked, times
    return max(1, found)


def _aloud(number: int) -> int:
    """Syllables of a number read aloud: twenty-four, one hundred."""
    ones = [2, 1, 1, 1, 1, 1, 1, 2, 1, 1, 1, 3, 1, 2, 2, 2, 2, 3, 2, 2]
    tens = [0, 0, 2, 2, 2, 2, 2, 3, 2, 2]
    if number < 20:
        return ones[number]
    if number < 100:
        return tens[number // 10] + (ones[number % 10] if number % 10 else 0)
    for size in (1000, 100):
        if number >= size:
            return _aloud(number // size) + 2 + (_aloud(number % size) if number % size else 0)
    raise AssertionError
