"""The scorer trainer: drawings are what they say, and a scorer's marks are held against them."""

from itertools import pairwise
from math import dist

import numpy as np
import pytest
from statsmodels.stats.inter_rater import cohens_kappa

from racecard.core.log.lift import proposed_score
from racecard.core.trainer.drawn import SESSION, RootKind, session
from racecard.core.trainer.marks import compared, sitting
from racecard.errors import InvalidInput


@pytest.mark.parametrize("seed", range(6))
def test_a_drawing_is_what_its_make_up_says(seed: int) -> None:
    drawn = session(seed)
    assert sorted(d.score for d in drawn) == sorted(list(range(6)) * 4)
    assert session(seed) == drawn
    for d in drawn:
        assert proposed_score(d.parts) == d.score
        long = [
            x for line in d.lines
            if (x := sum(dist(a, b) for a, b in pairwise(line))) >= 4.9
        ]  # fmt: skip
        assert len(long) == d.parts["roots"] == len(d.around)
        assert max(long, default=0) == pytest.approx(d.parts["longest"], abs=0.5)
        quarters = {int(a / 1.5708) for a in d.around}
        assert len(quarters) == d.parts["quarters"]


def test_sittings_show_every_kind_of_root() -> None:
    assert {d.kind for seed in range(8) for d in session(seed) if d.score} == set(RootKind)


def test_marks_are_held_against_the_truth_and_against_a_library() -> None:
    """Quadratic kappa beside statsmodels' cohens_kappa."""
    truth = [d.score for d in session(3)]
    right = sitting(3, truth)
    assert (right.same, right.bias, right.drift) == (SESSION, 0.0, 0.0)
    assert right.kappa == pytest.approx(1)
    assert "No bias" in right.says
    marks = [min(5, t + (i % 3 == 0)) for i, t in enumerate(truth)]
    found = sitting(3, marks)
    table = np.zeros((6, 6))
    np.add.at(table, (truth, marks), 1)
    assert found.kappa == pytest.approx(cohens_kappa(table, wt="quadratic").kappa)
    assert found.near == SESSION


def test_bias_drift_and_a_soft_spot_are_told() -> None:
    drawn = session(3)
    kind = [min(5, d.score + 1) for d in drawn]
    assert "too kind" in compared(drawn, kind).says
    tired = [d.score if i < SESSION // 2 else max(0, d.score - 1) for i, d in enumerate(drawn)]
    found = compared(drawn, tired)
    assert found.drift < -0.5
    assert "harder than the first" in found.says
    even = [max(0, d.score - 2) if d.kind is RootKind.EVEN else d.score for d in drawn]
    assert "even all round are marked" in compared(drawn, even).says


@pytest.mark.parametrize("marks", [[], [3] * 23, [3] * 23 + [6], [3] * 23 + [-1]])
def test_marks_that_are_missing_or_no_scores_are_refused(marks: list[int]) -> None:
    with pytest.raises(InvalidInput):
        sitting(1, marks)
