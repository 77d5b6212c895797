"""The lift: samples by lot, the score from its parts, two scorers against published kappas."""

from collections import Counter
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from statsmodels.stats.inter_rater import cohens_kappa

from racecard.core.log.agreement import Weights, agreement, weighted_kappa
from racecard.core.log.lift import (
    PARTS,
    check_parts,
    check_shared_scores,
    gaps,
    proposed_score,
    sampled,
    second_sample,
    shared_score,
    shuffled,
)
from racecard.core.log.log_lines import line_of
from racecard.core.log.stages import ladder_for
from racecard.core.model import Cell, Kind, Status, Trial, Unit
from racecard.core.model.observation import Observation
from racecard.core.plan.bench import draw_bench
from racecard.errors import InvalidInput
from tests.builders import a_plan

T0 = datetime(2026, 5, 4, 9, tzinfo=UTC)

COUPLES = [[7, 7, 2, 3], [2, 8, 3, 7], [1, 5, 4, 9], [2, 8, 9, 14]]
"""Agresti (1990), Categorical Data Analysis, table of husbands' and wives' ratings; the figures
are those of the documentation of R's vcd, `Kappa(SexualFun)`, as in the shared checks."""


@pytest.mark.parametrize(
    ("weights", "kappa", "error", "within"),
    [
        ("none", 0.1293, 0.0686, 5e-5),
        ("linear", 0.2374, 0.07832, 5e-5),
        ("quadratic", 0.332046, 0.0972975, 1e-6),
    ],
)
def test_weighted_kappa_and_its_error_are_the_published_ones(
    weights: Weights, kappa: float, error: float, within: float
) -> None:
    found = weighted_kappa(COUPLES, weights)
    assert found[0] == pytest.approx(kappa, abs=within)
    assert found[1] == pytest.approx(error, abs=5e-6)


@given(st.lists(st.tuples(st.integers(0, 5), st.integers(0, 5)), min_size=4, max_size=60))
def test_weighted_kappa_agrees_with_statsmodels(pairs: list[tuple[int, int]]) -> None:
    table = np.zeros((6, 6))
    for a, b in pairs:
        table[a, b] += 1
    for weights in ("linear", "quadratic"):
        ours, error = weighted_kappa(table, weights)
        if ours is None:
            continue
        with np.errstate(all="ignore"):
            theirs = cohens_kappa(table, wt=weights, return_results=True)
        assert ours == pytest.approx(theirs.kappa, abs=1e-9)
        if np.isfinite(theirs.std_kappa):
            assert error == pytest.approx(theirs.std_kappa, abs=1e-6)


def test_two_who_gave_all_the_same_score_are_not_called_agreed() -> None:
    found = agreement([3, 3, 3], [3, 3, 3])
    assert found is not None
    assert found.linear is None
    assert "cannot be told" in found.says
    assert agreement([], []) is None


def test_a_harder_judge_is_named_with_the_limits_of_the_bias() -> None:
    first = [1, 2, 3, 4, 5, 3, 2, 4, 5, 1] * 3
    found = agreement(first, [max(0, s - 1) for s in first])
    assert found is not None
    assert found.bias == pytest.approx(-1)
    assert "the harder judge, by 1.0 points" in found.says
    even = agreement(first, first[::-1])
    assert even is not None
    assert "Neither is seen to be the harder judge" in even.says


@pytest.mark.parametrize(
    ("parts", "score"),
    [
        ({"roots": 0}, 0),
        ({"roots": 1, "quarters": 1, "longest": 3}, 1),
        ({"roots": 6, "quarters": 1, "longest": 60, "branching": 2, "hold": 3}, 2),
        ({"roots": 4, "quarters": 2, "longest": 30, "branching": 1, "hold": 2}, 3),
        ({"roots": 6, "quarters": 3, "longest": 20, "wall": 1, "branching": 2, "hold": 3}, 4),
        ({"roots": 8, "quarters": 4, "longest": 80, "branching": 3, "hold": 4, "wall": 2}, 5),
        ({"roots": 9, "quarters": 4, "longest": 80, "branching": 3, "hold": 4, "wall": 1}, 4),
        ({"roots": 5}, None),
        ({"quarters": 2}, None),
    ],
)
def test_the_score_is_the_highest_whose_every_part_is_met(
    parts: dict[str, float], score: int | None
) -> None:
    """Rows of the scale of common practice; six roots on one side are a 2."""
    assert proposed_score(parts) == score


@given(
    st.fixed_dictionaries(
        {p.name: st.integers(0, int(min(p.most, 90))) for p in PARTS[:6]},
    ),
    st.sampled_from([p.name for p in PARTS[:6]]),
)
def test_more_of_a_part_never_lowers_the_score(parts: dict[str, float], grown: str) -> None:
    more = {**parts, grown: parts[grown] + 1}
    before, after = proposed_score(parts), proposed_score(more)
    assert before is not None
    assert after is not None
    assert after >= before


@pytest.mark.parametrize(
    ("parts", "says"),
    [
        ({"roots": 1.5}, "whole"),
        ({"quarters": 5}, "between 0 and 4"),
        ({"smell": 1}, "not a field"),
    ],
)
def test_a_part_that_cannot_be_is_refused(parts: dict[str, float], says: str) -> None:
    with pytest.raises(InvalidInput, match=says):
        check_parts(parts)


def test_the_best_of_a_jar_is_not_the_jar() -> None:
    with pytest.raises(InvalidInput, match="1 of the 9 plants still standing here are scored"):
        check_shared_scores({"score_5": 1}, 9)
    check_shared_scores({"score_5": 1, "score_0": 8}, 9)
    assert shared_score({"score_5": 1, "score_0": 8}, lost=1) == 0.5
    assert shared_score({}, lost=0) == 0


def test_a_field_written_for_some_arms_only_is_named() -> None:
    forms = [{"roots": 3.0, "height": 20.0}, {"roots": 2.0}, None]
    assert gaps(["Untreated", "IBA", "NAA"], [0, 1, 2], forms) == ["Height: not for IBA"]


def trial_of(seed: int = 7, **plan: Any) -> Trial:
    made = a_plan("Untreated", "IBA", "NAA", **plan)
    units = tuple(Unit(f"u{i}", c) for i, c in enumerate(draw_bench(made, seed)))
    return Trial("t", made, Status.STARTED, seed, units, T0, T0)


@given(seed=st.integers(0, 5000), blocks=st.sampled_from([1, 2, 4]))
def test_a_lift_on_the_way_takes_as_many_of_each_treatment_and_no_unit_twice(
    seed: int, blocks: int
) -> None:
    trial = trial_of(seed, units=8, blocks=blocks, sample_lifts=((14, 2), (7, 3)))
    drawn = sampled(trial)
    assert list(drawn) == [7, 14]
    arm = {u.id: u.cell.treatment for u in trial.units}
    assert Counter(arm[i] for i in drawn[7]) == {0: 3, 1: 3, 2: 3}
    assert Counter(arm[i] for i in drawn[14]) == {0: 2, 1: 2, 2: 2}
    assert not set(drawn[7]) & set(drawn[14])
    cell = {u.id: u.cell for u in trial.units}
    each = Counter((cell[i].treatment, cell[i].block) for i in drawn[14] + drawn[7])
    assert (
        max(each.values()) - min(each.get((a, b), 0) for a in range(3) for b in range(blocks)) <= 1
    )


def test_every_unit_is_as_likely_to_be_lifted_on_the_way() -> None:
    hits = Counter(
        i
        for seed in range(600)
        for i in sampled(trial_of(seed, units=4, sample_lifts=((7, 1),)))[7]
    )
    places = Counter[tuple[int, int, int]]()
    for seed in range(600):
        trial = trial_of(seed, units=4, sample_lifts=((7, 1),))
        at = {u.id: (u.cell.tray, u.cell.row, u.cell.col) for u in trial.units}
        places.update(at[i] for i in sampled(trial)[7])
    assert sum(hits.values()) == 1800
    assert len(places) == 12
    assert min(places.values()) > 100  # 150 each by chance, standard deviation about 11


def test_a_shuffled_round_is_the_same_on_every_device_and_differs_by_day() -> None:
    trial = trial_of(units=8)
    assert shuffled(trial, 9) == shuffled(trial, 9)
    assert shuffled(trial, 9) != shuffled(trial, 12)
    assert sorted(shuffled(trial, 9)) == list(range(24))


def test_a_second_scorer_is_given_at_least_twenty_of_them_even_by_arm() -> None:
    trial = trial_of(units=30)
    chosen = second_sample(trial)
    arm = {u.id: u.cell.treatment for u in trial.units}
    assert len(chosen) >= 20
    assert len(set(Counter(arm[i] for i in chosen).values())) == 1
    assert len(second_sample(trial_of(units=3))) == 9
    assert Cell(0, 0, 0, 0, 0).code == "A1"


def test_the_log_says_where_the_grower_decided_otherwise_than_the_parts() -> None:
    parts = (("roots", 6.0), ("quarters", 1.0), ("longest", 60.0))
    row = Observation("o", "u", "score", 42, T0, "me", score=3, parts=parts)
    ladder = ladder_for(Kind.CUTTING)
    assert (
        line_of(row, ladder, "rooted")
        == "root score 3 (roots 6, quarters 1, longest 60; its parts make a 2)"
    )
    assert line_of(replace(row, score=2), ladder, "rooted").endswith("longest 60)")
    assert line_of(replace(row, parts=()), ladder, "rooted") == "root score 3"
