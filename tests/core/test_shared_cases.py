"""Rules that the phone computes too, so that it can paint without the server: one file of cases drives both.

The web's half is `web/src/features/rounds/cases.test.ts` and `web/src/core/lanes.test.ts`.
"""

import json
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import pytest

from racecard.core.assess.lane_geometry import (
    MOST_LINES,
    LaneLine,
    LineMarks,
    cumulative,
    line_marks,
    ticks,
)
from racecard.core.log.beside_endpoint import check_also_counted
from racecard.core.log.histories import check_counts
from racecard.core.log.lift import REACHED_MM, SCORE_NEEDS, proposed_score
from racecard.core.log.moving import is_place
from racecard.core.log.round_view import newly_struck
from racecard.core.log.traces import marks_of, measured
from racecard.core.model import Kind
from racecard.core.model.observation import Observation
from racecard.errors import InvalidInput
from tests.builders import a_plan

CASES = json.loads((Path(__file__).parents[1] / "shared" / "cases.json").read_text())


def seen(fields: dict[str, Any] | None) -> Observation | None:
    at = datetime(2026, 5, 1, tzinfo=UTC)
    return None if fields is None else Observation("o", "u", day=3, seen_at=at, who="me", **fields)


def test_the_proposed_score() -> None:
    given = CASES["proposed_score"]
    assert (list(SCORE_NEEDS), REACHED_MM) == (given["needs"], given["reached_mm"])
    assert [proposed_score(c["parts"]) for c in given["cases"]] == [
        c["score"] for c in given["cases"]
    ]


@pytest.mark.parametrize("case", CASES["counts"], ids=str)
def test_counts_that_can_be_true(case: dict[str, Any]) -> None:
    counts = [case[name] for name in ("struck", "lost", "lost_struck", "removed", "sown")]
    if case["possible"]:
        check_counts(*counts)
    else:
        with pytest.raises(InvalidInput):
            check_counts(*counts)


@pytest.mark.parametrize("case", CASES["newly_struck"], ids=str)
def test_new_strikes(case: dict[str, Any]) -> None:
    now = seen(case["now"])
    assert now is not None
    assert newly_struck(case["endpoint"], seen(case["before"]), now) == case["fresh"]


@pytest.mark.parametrize("case", CASES["traced"], ids=lambda c: f"{len(c['lines'])} lines")
def test_lengths_traced_on_a_photo(case: dict[str, Any]) -> None:
    given = {name: case[name] for name in ("scale", "known_mm", "lines")}
    found = measured(marks_of(json.dumps(given)))
    assert found.lengths == pytest.approx(case["lengths"], rel=1e-6)
    assert found.roots == case["roots"]


def test_the_geometry_of_lanes() -> None:
    given = CASES["lanes"]
    assert given["most_lines"] == MOST_LINES
    assert [ticks(c["last_day"]) for c in given["ticks"]] == [c["ticks"] for c in given["ticks"]]
    for case in given["lines"]:
        want: dict[str, Any] = {
            k: tuple(v) if isinstance(v, list) else v for k, v in case["marks"].items()
        }
        assert line_marks(LaneLine(**case["line"])) == LineMarks(**want)
    for case in given["cumulative"]:
        found = cumulative(case["days"], len(case["days"]))
        assert [list(step) for step in found] == case["steps"]


@pytest.mark.parametrize("case", CASES["also_counted"])
def test_stages_of_one_container_are_held_together(case: dict[str, Any]) -> None:
    plan = a_plan(
        kind=Kind.SEED, per_container=case["held"], endpoint=case["endpoint"],
        also_counted=tuple(case["also"]),
    )  # fmt: skip
    if case["possible"]:
        check_also_counted(plan, case["struck"], case["parts"], case["held"])
    else:
        with pytest.raises(InvalidInput):
            check_also_counted(plan, case["struck"], case["parts"], case["held"])


@pytest.mark.parametrize("case", CASES["places"], ids=lambda c: str(c["place"]))
def test_places_a_unit_can_be_moved_to(case: dict[str, Any]) -> None:
    assert is_place(*case["place"], last_tray=case["last_tray"]) is case["is"]
