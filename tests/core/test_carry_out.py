"""The dry run: seasons through the very same finish, and what they come to."""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from scipy.stats import binom

from racecard.core.assess.judge import grades_only
from racecard.core.dryrun.simulate import Truth
from racecard.core.dryrun.simulate_trials import DryRun, Season, carry_out
from racecard.core.dryrun.truths import (
    Nuisance,
    changed_design,
    check_truths,
    proposed_truths,
    true_share,
)
from racecard.core.model import Layout, Measure, Plan
from racecard.core.plan.bench import draw_bench
from racecard.core.plan.exact import arms_table
from racecard.core.stats.permutation import PermutationTest
from racecard.errors import InvalidInput
from tests.builders import a_plan

ALL_EARLY = {"middle_day": 12.0, "spread_days": 1.0}


def season(
    plan: Plan, *strikes: float, seed: int = 5, nuisance: Nuisance | None = None, **truth: Any
) -> Season:
    truths = [Truth(s, **{**ALL_EARLY, **truth}) for s in strikes]
    return Season.of(plan, draw_bench(plan, seed), truths, nuisance or Nuisance(), seed)


def run(plan: Plan, *strikes: float, seasons: int = 300, **changes: Any) -> DryRun:
    return carry_out(season(plan, *strikes, **changes), seasons)


@pytest.mark.parametrize(
    "plan",
    [
        {"units": 6}, {"units": 8, "blocks": 4}, {"units": 8, "layout": Layout.PAIRS},
        {"units": 5, "per_container": 6}, {"units": 6, "blocks": 3, "per_container": 4},
        {"units": 8, "measure": Measure.SPEED}, {"units": 8, "measure": Measure.QUALITY},
        {"units": 6, "blocks": 2, "layout": Layout.ROW_COLUMN}, {"units": 6, "layout": Layout.BY_HAND},
        {"units": 4, "per_container": 5, "count_singly": True},
    ],
)  # fmt: skip
def test_the_grades_alone_are_those_of_the_whole_finish(plan: dict[str, Any]) -> None:
    whole = a_plan("U", "A", "B", **plan)
    drawn = season(whole, 0.3, 0.5, 0.8, nuisance=Nuisance(5, 0.1, 0.02, 0.1), loss=0.1)
    for i in range(6):
        called, results = drawn.called(i)
        judged, again = drawn.judged(i)
        assert np.array_equal(results.by, again.by)
        told = [
            (c.index, c.grade, c.strike_grade, c.gap.estimate if c.gap else None)
            for c in judged.judgement.comparisons
        ]
        assert [(c.index, c.grade, c.strike_grade, c.gap) for c in called] == told


@pytest.mark.parametrize(
    ("plan", "nuisance"),
    [
        (a_plan("U", "A", "B", units=10), Nuisance()),
        (a_plan("U", "A", "B", units=8, blocks=2), Nuisance(block_points=15, copied_wrong=0.05)),
        (a_plan("U", "A", "B", units=8), Nuisance(missed=0.2)),
        (a_plan("U", "A", "B", units=8), Nuisance(lifted=0.3)),
        (a_plan("U", "A", "B", units=4, per_container=5), Nuisance()),
        (a_plan("U", "A", "B", units=8, measure=Measure.SPEED), Nuisance()),
        (replace(a_plan("U", "A", "B", units=8), layout=Layout.PAIRS), Nuisance()),
    ],
    ids=["plain", "blocks", "missed", "lifted", "containers", "speed", "pairs"],
)
def test_what_is_remembered_by_counts_is_what_each_season_is_called(
    plan: Plan, nuisance: Nuisance
) -> None:
    drawn = season(plan, 0.3, 0.6, 0.9, nuisance=nuisance, loss=0.1)
    for number in range(40):
        found, results = drawn.called(number)
        alone = grades_only(
            plan, results, permutations=PermutationTest(drawn.seed), end_day=plan.length_days
        )
        assert found == alone


def test_the_share_called_clear_is_the_exact_power() -> None:
    """Two arms of 16, 30 % against 80 %: enumerated, within the doubt of 600 seasons."""
    found = run(a_plan(units=16), 0.3, 0.8, seasons=600).tallies[0]
    exact = arms_table(16, 16, 1).power(0.3, 0.8)
    doubt = 3 * np.sqrt(exact * (1 - exact) / 600)
    assert found.right / 600 == pytest.approx(exact, abs=doubt)
    assert found.wrong == 0


def test_counts_add_up_and_no_effect_is_seldom_called() -> None:
    found = run(a_plan("U", "A", "B", units=12), 0.5, 0.5, 0.5)
    for t in found.tallies:
        assert t.right + t.likely + t.silent + t.wrong == found.done == 300
    assert found.any_wrong <= binom(300, 0.05).ppf(0.999)
    assert found.best_first is None  # there is no best


def test_what_is_called_clear_was_lucky() -> None:
    found = run(a_plan(units=12), 0.4, 0.7).tallies[0]
    assert found.shown_when_called is not None
    assert found.shown_when_called > found.effect + 0.05
    assert found.mean_gap == pytest.approx(found.effect, abs=0.04)


def test_seasons_from_unlucky_to_lucky_rise() -> None:
    drawn = season(a_plan("U", "A", units=12), 0.4, 0.6)
    found = carry_out(drawn, 60)
    gaps = [drawn.called(i)[0][0].gap for i in found.seasons]
    assert gaps[0] is not None
    assert gaps == sorted(gaps, key=lambda g: g or 0.0)
    assert gaps[0] < gaps[2]  # type: ignore[operator]  # neither is None


def test_a_run_can_be_stopped_and_tells_how_far_it_came() -> None:
    told: list[int] = []

    def step(done: int) -> bool:
        told.append(done)
        return done < 30

    assert carry_out(season(a_plan(units=4), 0.4, 0.6), 500, step).done == 30
    assert told == [0, 10, 20, 30]


def test_the_same_seed_draws_the_same_seasons() -> None:
    assert run(a_plan(units=6), 0.3, 0.7, seasons=40) == run(a_plan(units=6), 0.3, 0.7, seasons=40)


def test_what_goes_wrong_shows_in_what_is_seen() -> None:
    plan = a_plan(units=200)
    clean, _ = season(plan, 0.5, 0.5, loss=0.2).results(1)
    assert np.isfinite(clean.lost_by).mean() == pytest.approx(0.2, abs=0.06)
    missed, _ = season(plan, 0.5, 0.5, nuisance=Nuisance(missed=0.3)).results(1)
    seen = np.isfinite(missed.by)
    assert (missed.by[seen] - missed.after[seen]).max() > 3
    lifted, _ = season(plan, 0.5, 0.5, nuisance=Nuisance(lifted=0.4)).results(1)
    assert np.isfinite(lifted.removed).mean() == pytest.approx(
        0.2, abs=0.06
    )  # those not struck yet
    wrong, _ = season(plan, 0.0, 0.0, nuisance=Nuisance(copied_wrong=0.1)).results(1)
    assert np.isfinite(wrong.by).mean() == pytest.approx(0.1, abs=0.04)
    blocks, _ = season(
        a_plan(units=400, blocks=4), 0.5, 0.5, nuisance=Nuisance(block_points=30)
    ).results(2)
    shares = [np.isfinite(blocks.by[blocks.block == b]).mean() for b in range(4)]
    assert max(shares) - min(shares) > 0.2


def test_plants_in_one_container_share_its_luck() -> None:
    results, _ = season(a_plan(units=300, per_container=10), 0.5, 0.5, icc=0.3).results(1)
    struck = np.bincount(results.unit, np.isfinite(results.by)) / 10
    assert struck.var() == pytest.approx(0.25 * (1 + 9 * 0.3) / 10, rel=0.2)


def test_true_share_by_a_day_leaves_out_the_late() -> None:
    late = Truth(0.8, 40, 10)
    assert true_share(late, 40) == pytest.approx(0.8 * 0.53, abs=0.02)
    assert true_share(Truth(0.0, 40, 10), 40) == 0


def test_a_best_that_ties_counts_in_part() -> None:
    found = run(a_plan("U", "A", units=4), 0.5, 0.55, seasons=200)
    assert found.best_first is not None
    assert 0.3 < found.best_first < 0.9


@pytest.mark.parametrize(
    ("truths", "nuisance", "seasons", "part"),
    [
        ([Truth(0.5, 20)], Nuisance(), 10, "2 treatments"),
        ([Truth(1.5, 20)] * 2, Nuisance(), 10, "strike must be 0 to 1"),
        ([Truth(0.7, 20, loss=0.5)] * 2, Nuisance(), 10, "add up to more"),
        ([Truth(0.5, 20)] * 2, Nuisance(missed=2), 10, "missed must be"),
        ([Truth(0.5, 20)] * 2, Nuisance(block_points=90), 10, "between blocks"),
        ([Truth(0.5, 20)] * 2, Nuisance(), 0, "seasons must be"),
    ],
)
def test_truths_that_cannot_be_are_refused(
    truths: list[Truth], nuisance: Nuisance, seasons: int, part: str
) -> None:
    with pytest.raises(InvalidInput, match=part):
        check_truths(a_plan(), truths, nuisance, seasons)


def test_a_bench_by_hand_is_never_called_clear() -> None:
    found = run(a_plan(units=12, layout=Layout.BY_HAND), 0.1, 0.9, seasons=40)
    assert found.tallies[0].right == 0
    assert found.tallies[0].likely > 30


def test_truths_are_proposed_from_what_the_grower_expects() -> None:
    plan = a_plan("U", "A", expected_percent=40, gap_points=25)
    told = proposed_truths(plan)
    assert [t.strike for t in told] == [0.4, 0.65]
    predicted = replace(
        plan, treatments=(plan.treatments[0], replace(plan.treatments[1], prediction=90))
    )
    assert proposed_truths(predicted)[1].strike == 0.9
    check_truths(plan, told, Nuisance(), 10)
    faster = proposed_truths(a_plan("U", "A", measure=Measure.SPEED, expected_days=20, gap_days=4))
    assert faster[0].middle_day - faster[1].middle_day == 4


def test_a_changed_design_is_held_to_the_rules_of_plans() -> None:
    assert changed_design(a_plan(units=8), units=24, blocks=4).units == 24
    for bad in ({"units": 0}, {"blocks": 500}, {"per_container": 0}):
        with pytest.raises(InvalidInput):
            changed_design(a_plan(units=8), **bad)
