"""The simulator logs what its truth says, through the very log and finish of real trials."""

import numpy as np
import pytest

from racecard.core.assess.grade import Grade
from racecard.core.assess.judge import judge
from racecard.core.dryrun.simulate import Truth, simulate
from racecard.core.log.assemble import results_of
from racecard.core.log.days import look_days
from racecard.core.model import Kind, Plan, Unit
from racecard.core.model.results import Results
from racecard.core.plan.bench import draw_bench
from racecard.core.plan.exact import arms_table
from tests.builders import a_plan


def run(plan: Plan, truths: tuple[Truth, ...], seed: int) -> Results:
    cells = [c for c in draw_bench(plan, seed) if c.treatment >= 0]
    days = look_days(plan.length_days, plan.look_every_days)
    logs = simulate(plan, cells, truths, days, np.random.default_rng(seed))
    units = [Unit(str(i), c) for i, c in enumerate(cells)]
    return results_of(plan, units, logs)


def share(results: Results, arm: int) -> float:
    mine = results.treatment[results.unit] == arm
    return float(np.isfinite(results.by[mine]).mean())


def test_strike_and_loss_come_out_as_told() -> None:
    plan = a_plan(units=500, columns=40)
    results = run(plan, (Truth(0.3, 20), Truth(0.6, 20, loss=0.2)), seed=1)
    assert share(results, 0) == pytest.approx(0.3, abs=0.08)
    assert share(results, 1) == pytest.approx(0.6, abs=0.08)
    treated = results.treatment[results.unit] == 1
    assert np.isfinite(results.lost_by[treated]).mean() == pytest.approx(0.2, abs=0.06)
    assert not np.isfinite(results.lost_by[~treated]).any()


def test_likeness_spreads_containers() -> None:
    def spread(icc: float) -> float:
        plan = a_plan(units=200, per_container=10, kind=Kind.SEED, endpoint=3, columns=40)
        truth = Truth(0.5, 10, icc=icc)
        results = run(plan, (truth, truth), seed=2)
        struck = np.bincount(results.unit, weights=np.isfinite(results.by))
        return float(np.var(struck / 10))

    alone = 0.5 * 0.5 / 10
    assert spread(0.0) == pytest.approx(alone, rel=0.25)
    assert spread(0.3) == pytest.approx(alone * (1 + 9 * 0.3), rel=0.3)


def test_stages_climb_and_never_go_back() -> None:
    plan = a_plan(units=40)
    results = run(plan, (Truth(0.9, 21), Truth(0.9, 21)), seed=3)
    assert not results.went_back.any()


def test_the_same_seed_logs_the_same_trial() -> None:
    plan, truths = a_plan(units=10), (Truth(0.4, 20), Truth(0.8, 18))
    one, two = run(plan, truths, 4), run(plan, truths, 4)
    assert np.array_equal(one.by, two.by)
    assert np.array_equal(one.lost_by, two.lost_by)


def test_the_planners_power_is_what_the_finish_then_calls() -> None:
    """Trials of 16 v 16 at 30 % and 80 %: called clear as often as the planner says, 4 s.e."""
    plan, n = a_plan(units=16), 120
    calls = 0
    for seed in range(n):
        results = run(plan, (Truth(0.3, 12, 2), Truth(0.8, 12, 2)), seed)
        calls += (
            judge(plan, results, seed=seed, end_day=42).comparisons[0].grade is Grade.CLEAR_LEAD
        )
    expected = arms_table(16, 16, 1).power(0.3, 0.8)
    assert calls / n == pytest.approx(expected, abs=4 * np.sqrt(expected * (1 - expected) / n))


@pytest.mark.parametrize(
    ("blocks", "per_container", "icc", "loss"),
    [(1, 1, 0.0, 0.2), (4, 1, 0.0, 0.0), (1, 8, 0.2, 0.1), (3, 6, 0.1, 0.0)],
)
def test_when_nothing_works_little_is_called(
    blocks: int, per_container: int, icc: float, loss: float
) -> None:
    """No effect at all: a clear call in at most 5 of 100 trials, plus three standard errors."""
    plan = a_plan("U", "A", "B", units=8, blocks=blocks, per_container=per_container)
    truth = Truth(0.5, 18, 5, loss=loss, icc=icc)
    n, calls = 80, 0
    for seed in range(n):
        found = judge(plan, run(plan, (truth,) * 3, seed), seed=seed, end_day=42)
        calls += any(c.grade in (Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND) for c in found.comparisons)
    assert calls <= n * 0.05 + 3 * np.sqrt(n * 0.05 * 0.95)
