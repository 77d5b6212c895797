"""Whole trials as growers leave them, each held against an answer worked out apart from the program.

All invented. Set late, in households, lifted once, looked at on other days, lost sight of, laid by hand,
written afterwards, one container, removals with losses, samples, thinning, false ladders: see
tests/reference/README.md for the form of the expectations.
"""

import json
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from racecard.cli.finish import as_json, as_words, judged_file

CORPUS = Path(__file__).parent.parent / "reference" / "untidy"
TRIALS = sorted(p.stem for p in CORPUS.glob("*.json") if ".expected" not in p.name)


def strings(value: Any) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict):
        for key, inside in value.items():
            if key not in ("code", "grade", "role", "treatment", "control", "unit"):
                yield from strings(inside)
    elif isinstance(value, list):
        for inside in value:
            yield from strings(inside)


def is_near(got: Any, want: Any) -> bool:
    if isinstance(want, dict):
        options, tol = want.get("any_of", [want.get("value")]), want.get("tol", 0)
        return any(
            got is None if o is None else got is not None and abs(got - o) <= tol for o in options
        )
    return got in want if isinstance(want, list) else bool(got == want)


@pytest.mark.parametrize("name", TRIALS)
def test_an_untidy_trial_yields_its_verdict(name: str) -> None:
    want = json.loads((CORPUS / f"{name}.expected.json").read_text())
    table = judged_file(CORPUS / f"{name}.json", None, None)
    found = json.loads(as_json(table))
    for kind, key in (("treatments", "treatments"), ("comparisons", "comparisons")):
        by_name = {row["treatment"]: row for row in found[key]}
        for treatment, fields in want.get(kind, {}).items():
            for field, value in fields.items():
                assert is_near(by_name[treatment][field], value), (treatment, field)
    if "final" in want:
        assert found["final"] is want["final"]
    if "ladder" in want:
        assert (found["ladder"] is not None) is want["ladder"]
    if "ladder_best" in want:
        assert (found["ladder"] or {}).get("best") == want["ladder_best"]
    codes = {n["code"] for n in found["notes"]}
    for code in want.get("must_codes", []):
        assert codes & set(code if isinstance(code, list) else [code]), code
    assert not codes & set(want.get("must_not_codes", []))
    said = [*strings(found), *as_words(table).splitlines()]
    options = [
        *want.get("must_say", []),
        *([want["headline_say"]] if "headline_say" in want else []),
    ]
    for alternatives in options:
        where = [found["headline"]] if alternatives is want.get("headline_say") else said
        assert any(re.search(o, s, re.IGNORECASE) for o in alternatives for s in where), (
            alternatives
        )
    for pattern in want.get("must_not_say", []):
        assert not [s for s in said if re.search(pattern, s)], pattern


def test_the_corpus_is_whole() -> None:
    assert len(TRIALS) == 53
