"""Power against published and general-library values, enumeration and simulated lot tests."""

from dataclasses import replace
from itertools import combinations
from math import asin, comb, sqrt
from typing import Any

import numpy as np
import pytest
from scipy.stats import beta, binom, binomtest, fisher_exact, hypergeom, norm, studentized_range
from statsmodels.stats.power import TTestIndPower

from racecard.core.arrays import Floats
from racecard.core.assess.quality import aligned_ranks
from racecard.core.model import Layout, Measure
from racecard.core.plan.check import faults
from racecard.core.plan.exact import arms_table, blocks_table, fits, pair_shares, pairs_power
from racecard.core.plan.level import can_be_level, level_power
from racecard.core.plan.needed import guess_units, units_needed
from racecard.core.plan.power import (
    curve_beside,
    false_pair_chance,
    most_candidates,
    plan_minimum_p,
    power_at,
    power_of_plan,
    spread_of,
    with_units,
)
from racecard.core.plan.power_words import level_says, needs_says, says
from racecard.core.plan.sampled import (
    Bench,
    _containers,
    _counts,
    _scores,
    day_profile,
    sampled_power,
    score_profile,
    strike_profile,
)
from racecard.core.stats.interval_curve import fit_curve, strike_scores
from racecard.core.stats.permutation import PermutationTest, minimum_p_of
from racecard.core.stats.proportions import effective_number, newcombe
from racecard.core.stats.sample_size import plants_needed
from tests.builders import a_plan

# Exact power of the two-sided Fisher test at 0.05, both binomials enumerated; computed with scipy
# 1.17.1 and again by R 4.2.2's double loop. Equal arms, so the central rule agrees.
FISHER = [
    (6, 0.2, 0.9, 0.441161), (8, 0.2, 0.8, 0.598135), (10, 0.3, 0.8, 0.42556),
    (12, 0.3, 0.7, 0.389402), (20, 0.3, 0.7, 0.599383), (24, 0.3, 0.6, 0.470762),
    (24, 0.5, 0.8, 0.492635), (50, 0.3, 0.6, 0.829001), (50, 0.5, 0.75, 0.674906),
    (6, 0.5, 0.5, 0.00634766), (10, 0.5, 0.5, 0.0127792), (12, 0.3, 0.3, 0.0172413),
    (24, 0.5, 0.5, 0.0293669), (50, 0.3, 0.3, 0.0306609),
]  # fmt: skip
# First number from which that power stays at 0.8, and the continuity-corrected formula of
# Casagrande, Pike & Smith 1978 (from memory), which lies 0 to 2 above it.
FIRST = [
    (0.3, 0.6, 48, 49), (0.3, 0.7, 29, 29), (0.2, 0.6, 27, 28), (0.2, 0.8, 12, 13),
    (0.5, 0.8, 44, 45), (0.5, 0.9, 23, 25), (0.1, 0.4, 36, 38), (0.6, 0.9, 36, 38),
]  # fmt: skip
SIMULATED = 20_000


@pytest.mark.parametrize(("n", "control", "treated", "power"), FISHER)
def test_power_meets_the_enumeration_of_fishers_test(
    n: int, control: float, treated: float, power: float
) -> None:
    assert arms_table(n, n, 1).power(control, treated) == pytest.approx(power, abs=1e-6)


@pytest.mark.parametrize(("control", "treated", "first", "formula"), FIRST)
def test_first_number_that_stays_at_four_in_five(
    control: float, treated: float, first: int, formula: int
) -> None:
    found = units_needed(
        lambda n: arms_table(n, n, 1).power(control, treated), guess_units(control, treated)
    )
    assert found == first
    assert np.ceil(plants_needed(control, treated)) == formula


def test_fleiss_table_for_half_against_three_quarters() -> None:
    """Fleiss 1981, Table A.3 (from memory): 85 an arm for power 0.90 at 0.05."""
    assert np.ceil(plants_needed(0.5, 0.75, power=0.9)) == 85


@pytest.mark.parametrize(("control", "treated"), [(0.3, 0.6), (0.5, 0.8), (0.2, 0.6)])
def test_cohens_number_is_an_eighth_too_small_for_the_exact_test(
    control: float, treated: float
) -> None:
    """Cohen 1988 ch. 6: h = 2 asin sqrt p1 - 2 asin sqrt p2; n = (z + z)^2 / h^2 (from memory)."""
    h = 2 * asin(sqrt(treated)) - 2 * asin(sqrt(control))
    cohen = 2 * ((norm.ppf(0.975) + norm.ppf(0.8)) / h) ** 2
    if (control, treated) == (0.3, 0.6):
        assert h == pytest.approx(0.612875, abs=1e-6)
        assert cohen == pytest.approx(41.792, abs=1e-3)
    found = units_needed(lambda n: arms_table(n, n, 1).power(control, treated), round(cohen))
    assert found is not None
    assert 0.08 < 1 - cohen / found < 0.2


@pytest.mark.parametrize(
    ("n1", "n0", "family"), [(12, 9, 2), (7, 15, 1), (9, 9, 3), (2, 30, 1), (1, 5, 1)]
)
def test_unequal_arms_agree_with_a_loop_of_central_tests(n1: int, n0: int, family: int) -> None:
    expected = 0.0
    for a in range(n0 + 1):
        for b in range(n1 + 1):
            deal = hypergeom(n1 + n0, n1, a + b)
            p = 2 * min(deal.cdf(b), deal.sf(b - 1))
            if family * p < 0.05:
                expected += binom.pmf(a, n0, 0.3) * binom.pmf(b, n1, 0.85)
    assert arms_table(n1, n0, family).power(0.3, 0.85) == pytest.approx(expected, abs=1e-9)


@pytest.mark.parametrize(("n", "family"), [(5, 1), (9, 2), (12, 3)])
def test_power_agrees_with_a_loop_of_fisher_tests(n: int, family: int) -> None:
    a, b = binom(n, 0.8), binom(n, 0.3)
    expected = sum(
        a.pmf(i) * b.pmf(j)
        for i in range(n + 1)
        for j in range(n + 1)
        if family * fisher_exact([[i, n - i], [j, n - j]])[1] < 0.05
    )
    assert arms_table(n, n, family).power(0.3, 0.8) == pytest.approx(expected, abs=1e-9)


def test_power_of_a_thousand_is_quick_and_near_the_normal_formula() -> None:
    n = 1000
    gap, spread = 0.06, sqrt((0.5 * 0.5 + 0.56 * 0.44) / n)
    assert arms_table(n, n, 1).power(0.5, 0.56) == pytest.approx(
        norm.cdf(gap / spread - 1.96), abs=0.02
    )


@pytest.mark.parametrize(
    ("n", "minimum_p"), [(2, 1 / 3), (3, 0.1), (4, 0.0285714), (5, 0.00793651)]
)
def test_the_floor_is_fishers_smallest_p(n: int, minimum_p: float) -> None:
    """Smallest two-sided Fisher p, none against all."""
    assert fisher_exact([[n, 0], [0, n]])[1] == pytest.approx(minimum_p, abs=1e-6)
    assert plan_minimum_p(a_plan(units=n)) == pytest.approx(minimum_p, abs=1e-6)


def test_five_pairs_can_never_call_anything() -> None:
    five = a_plan(units=5, layout=Layout.SITES)
    assert plan_minimum_p(five) == pytest.approx(0.0625, abs=1e-12)
    assert not power_of_plan(five).is_decidable
    assert power_of_plan(replace(five, units=6)).is_decidable


@pytest.mark.parametrize(
    ("pairs", "agree", "family"), [(12, 0.0, 1), (20, 0.5, 1), (15, 0.0, 3), (8, 1.0, 1)]
)
def test_pairs_agree_with_a_loop_of_exact_mcnemar_tests(
    pairs: int, agree: float, family: int
) -> None:
    up, down = pair_shares(0.4, 0.8, agree)
    expected = 0.0
    for d in range(1, pairs + 1):
        for k in range(d + 1):
            if family * binomtest(k, d, 0.5).pvalue < 0.05:
                expected += binom.pmf(d, pairs, up + down) * binom.pmf(k, d, up / (up + down))
    assert pairs_power(pairs, 0.4, 0.8, agree, family) == pytest.approx(expected, abs=1e-9)


def test_likeness_within_a_pair_never_leaves_what_the_shares_allow() -> None:
    for agree in (0.0, 0.4, 1.0):
        up, down = pair_shares(0.3, 0.9, agree)
        assert up - down == pytest.approx(0.6, abs=1e-12)
        assert min(up, down) >= 0
    assert pair_shares(0.3, 0.9, 1.0)[1] == pytest.approx(0, abs=1e-12)
    assert pairs_power(10, 0.5, 0.5, 1.0) == 0.0


def test_power_in_blocks_agrees_with_simulated_lot_tests() -> None:
    rng, test = np.random.default_rng(4), PermutationTest(1).test
    treated, block = np.tile([True, True, True, False, False, False], 3), np.repeat(np.arange(3), 6)
    hits = 0
    for _ in range(1500):
        scores = (rng.random(18) < np.where(treated, 0.9, 0.25)).astype(float)
        hits += test(scores, treated, block).p < 0.05
    found = blocks_table((3, 3, 3), 1).power(0.25, 0.9)
    assert found == pytest.approx(hits / 1500, abs=4 * np.sqrt(0.25 / 1500))


@pytest.mark.parametrize(("sizes", "family"), [((6,) * 4, 3), ((2,) * 10, 1), ((24,), 1)])
def test_the_simulated_route_meets_the_enumerated_one(sizes: tuple[int, ...], family: int) -> None:
    pair = strike_profile(0.5), strike_profile(0.85)
    found = sampled_power(Bench(sizes, sizes), *pair, family=family, trials=SIMULATED)
    assert found == pytest.approx(blocks_table(sizes, family).power(0.5, 0.85), abs=0.015)


def naive_share_called(units: Floats, n1: int, family: int, resamples: int = 12_000) -> float:
    """Share of rows of unit scores that re-dealing calls clear: deals counted one by one."""
    n = units.shape[1]
    every = list(combinations(range(n), n1)) if comb(n, n1) <= resamples else []
    rows = np.zeros((len(every) or resamples, n))
    for row, chosen in zip(rows, every, strict=False):
        row[list(chosen)] = 1
    if not every:
        rows = (np.argsort(np.random.default_rng(11).random(rows.shape), axis=1) < n1).astype(float)
    seen = units[:, :n1].sum(axis=1)
    called = 0
    for start in range(0, len(units), 1000):
        part = slice(start, start + 1000)
        sums = units[part] @ rows.T
        up = (sums >= seen[part, None] - 1e-9).mean(axis=1)
        down = (sums <= seen[part, None] + 1e-9).mean(axis=1)
        called += int(np.sum(2 * family * np.minimum(up, down) < 0.05))
    return called / len(units)


@pytest.mark.parametrize(
    ("n", "m", "icc", "treated", "family"),
    [(5, 10, 0.1, 0.85, 1), (8, 10, 0.1, 0.85, 3), (12, 5, 0.2, 0.8, 1)],
)
def test_containers_within_a_point_and_a_half_of_simulation(
    n: int, m: int, icc: float, treated: float, family: int
) -> None:
    """20,000 trials made anew with scipy's beta, judged by re-dealing container shares."""
    rng = np.random.default_rng(77)
    total = (1 - icc) / icc

    def shares(p: float) -> Floats:
        rates = beta.rvs(p * total, (1 - p) * total, size=(SIMULATED, n), random_state=rng)
        return np.asarray(rng.binomial(m, rates) / m)

    expected = naive_share_called(np.hstack((shares(treated), shares(0.5))), n, family)
    bench = Bench((n,), (n,), m, icc)
    pair = strike_profile(0.5), strike_profile(treated)
    found = sampled_power(bench, *pair, family=family, trials=SIMULATED)
    assert found == pytest.approx(expected, abs=0.015)


def spread_out(counts: Floats, scores: Floats) -> Floats:
    """Counts of outcomes (t, k) as one score a plant (t, n)."""
    return np.stack(
        [np.repeat(s, c.astype(int)) for c, s in zip(counts, scores, strict=True)], axis=0
    )


@pytest.mark.parametrize(
    ("by", "n", "family"),
    [("days", 10, 1), ("days", 8, 2), ("score", 10, 3), ("score", 6, 1)],
)
def test_days_and_scores_within_a_point_and_a_half_of_simulation(
    by: str, n: int, family: int
) -> None:
    looks = tuple(range(3, 43, 3))
    zero, one = {
        "days": (day_profile(0.7, 26, looks), day_profile(0.7, 15, looks)),
        "score": (score_profile(0.7, 2.2), score_profile(0.9, 4.0)),
    }[by]
    rng = np.random.default_rng(5)
    t1 = _counts((n,), one, SIMULATED, rng)[:, 0]
    t0 = _counts((n,), zero, SIMULATED, rng)[:, 0]
    scores = _scores(t1 + t0, by)
    units = np.hstack((spread_out(t1, scores), spread_out(t0, scores)))
    found = sampled_power(Bench((n,), (n,)), zero, one, by=by, family=family, trials=SIMULATED)
    assert found == pytest.approx(naive_share_called(units, n, family), abs=0.015)


def test_scores_of_days_are_those_the_finish_gives() -> None:
    looks = np.array([3.0, 6, 9, 12])
    pooled = np.array([4.0, 0, 7, 2, 5])
    by = np.repeat([*looks, np.inf], pooled.astype(int))
    after = np.repeat([0.0, 3, 6, 9, np.inf], pooled.astype(int))
    never = np.full(len(by), np.inf)
    curve = fit_curve(after, by, never, never, never)
    given = strike_scores(after, by, never, curve)
    mine = np.repeat(_scores(pooled[None], "days")[0], pooled.astype(int))
    assert mine == pytest.approx(given, abs=1e-9)


def test_scores_of_roots_are_midranks() -> None:
    pooled = np.array([2.0, 3, 1, 0, 4, 6])
    values = np.repeat([5.0, 4, 3, 2, 1, 0], pooled.astype(int))
    ranks = aligned_ranks(values, np.zeros(len(values), dtype=np.int64))
    mine = np.repeat(_scores(pooled[None], "score")[0], pooled.astype(int))
    assert np.diff(mine) == pytest.approx(np.diff(ranks), abs=1e-9)


def test_profiles_are_chances() -> None:
    for profile in (strike_profile(0.3), day_profile(0.8, 20, (7, 14, 21)), score_profile(0.9, 3)):
        assert profile.sum() == pytest.approx(1, abs=1e-12)
        assert profile.min() >= 0


def test_plants_in_a_container_are_as_alike_as_asked() -> None:
    """The ANOVA estimate of the simulated containers gives the ICC back."""
    bench = Bench((400,), (400,), 8, 0.2)
    made = _containers(bench, 400, strike_profile(0.5), 25, np.random.default_rng(3))[..., 0]
    spread = (made / 8).var(axis=1).mean()
    assert spread == pytest.approx(0.25 * (1 + 7 * 0.2) / 8, rel=0.05)


@pytest.mark.parametrize(("m", "rho", "deff"), [(4, 0.05, 1.15), (5, 0.1, 1.4), (10, 0.3, 3.7)])
def test_clustered_numbers_are_divided_by_the_design_effect(
    m: int, rho: float, deff: float
) -> None:
    """Design effect 1 + (m - 1) rho, by hand."""
    assert effective_number(np.full(12, m), rho, m) == pytest.approx(12 * m / deff, rel=1e-12)


@pytest.mark.parametrize(("n", "share", "margin"), [(60, 0.8, 0.2), (100, 0.5, 0.25)])
def test_level_power_agrees_with_simulated_newcombe_intervals(
    n: int, share: float, margin: float
) -> None:
    rng = np.random.default_rng(8)
    drawn = rng.binomial(n, share, size=(SIMULATED, 2))
    outcomes, times = np.unique(drawn, axis=0, return_counts=True)
    called = 0
    for (a, b), count in zip(outcomes, times, strict=True):
        interval = newcombe(int(a), n, int(b), n, 0.90)
        assert interval.low is not None
        assert interval.high is not None
        called += int(count) * (-margin < interval.low and interval.high < margin)
    assert level_power(n, share, margin) == pytest.approx(called / SIMULATED, abs=0.015)


def test_a_small_bench_cannot_be_level() -> None:
    assert not can_be_level(24, 0.2)
    assert can_be_level(80, 0.2)
    plan = a_plan(units=24, expect_level=True)
    level = power_of_plan(plan).level
    assert level is not None
    assert not level.can
    assert "could not be called level" in level_says(plan, level)


def test_eight_arms_alike_have_some_false_pair_half_the_time() -> None:
    """The range of normal means, by scipy's studentized range with many degrees of freedom."""
    expected = studentized_range.sf(norm.ppf(0.975) * sqrt(2), 8, 1e6)
    assert false_pair_chance(8) == pytest.approx(expected, abs=1e-3)
    assert false_pair_chance(8) == pytest.approx(0.51, abs=0.005)
    assert false_pair_chance(2) == pytest.approx(0.05, abs=1e-6)


def test_six_pots_cannot_answer_five_questions() -> None:
    assert most_candidates(6, 1, 6) == 0
    assert most_candidates(12, 1, 6) == 1
    assert 2 * 2 / comb(8, 4) >= 0.05  # two candidates would have four each, and just miss
    assert most_candidates(15, 1, 6) == 2
    assert most_candidates(30, 1, 6) == 5


def test_needed_comes_down_over_the_teeth_of_the_saw() -> None:
    def saw(n: int) -> float:
        return n / 50 - (0.1 if n in (41, 42) else 0.0)

    assert units_needed(saw, 20, aim=0.8) == 43
    assert units_needed(saw, 60, aim=0.8) == 43
    assert units_needed(lambda n: 0.2, 10, most=50) is None
    assert units_needed(lambda n: 0.9, 5) == 1


def test_more_units_never_show_less() -> None:
    powers = [arms_table(n, n, 1).power(0.5, 0.9) for n in (8, 16, 32, 64)]
    assert powers == sorted(powers)


def test_three_candidates_of_sixteen_miss_even_half_to_all_one_time_in_four() -> None:
    """Holm included: 16 each calls 50 % v 100 % 77 times in 100; 24 each calls 50 % v 94 % 82."""
    assert arms_table(16, 16, 3).power(0.5, 1.0) == pytest.approx(0.773, abs=1e-3)
    assert arms_table(24, 24, 3).power(0.5, 0.94) == pytest.approx(0.818, abs=1e-3)


def test_the_sentence_says_what_cannot_be_shown() -> None:
    three = a_plan(units=3)
    assert "can never show anything" in says(three, power_of_plan(three))
    eight = a_plan("U", "A", "B", "C", units=16)
    assert "would show even 100 % against 50 % only" in says(eight, power_of_plan(eight))
    many = a_plan(units=40)
    assert "8 times in 10" in says(many, power_of_plan(many))
    near = a_plan(units=24, expected_percent=90)
    assert "no room" in needs_says(near, power_of_plan(near))


@pytest.mark.parametrize(
    ("measure", "word"), [(Measure.SPEED, "days sooner"), (Measure.QUALITY, "root score")]
)
def test_each_measure_speaks_its_own_unit(measure: Measure, word: str) -> None:
    plan = a_plan(units=60, measure=measure, expected_percent=90, gap_days=8, gap_score=1.5)
    power = power_of_plan(plan)
    assert not power.is_exact
    assert word in says(plan, power)
    assert word in needs_says(plan, power)
    assert power.needed is not None
    enough = with_units(plan, power.needed / 60)
    assert enough is not None
    gap = plan.gap_days if measure is Measure.SPEED else plan.gap_score
    assert power_at(enough, gap) == pytest.approx(0.8, abs=0.06)


def test_a_name_is_typed_without_reckoning_anew() -> None:
    plan = a_plan(units=20, blocks=4)
    assert power_of_plan(plan) is power_of_plan(replace(plan, question="Another?"))
    assert curve_beside(plan) is curve_beside(replace(plan, material="sage"))


def test_blocks_that_do_not_fit_are_simulated() -> None:
    assert not fits((24,) * 4)
    assert not power_of_plan(a_plan(units=96, blocks=4)).is_exact
    assert power_of_plan(a_plan(units=24, blocks=4)).is_exact
    assert power_of_plan(a_plan(units=400)).is_exact


def test_the_smallest_candidate_decides() -> None:
    plan = a_plan("U", "A", "B", units=30)
    arms = (*plan.treatments[:2], replace(plan.treatments[2], units=6))
    less = replace(plan, treatments=arms, unequal_reason="few cuttings")
    assert power_of_plan(less).at_gap < power_of_plan(plan).at_gap
    assert plan_minimum_p(less) == pytest.approx(
        minimum_p_of(np.arange(36) < 6, np.zeros(36, dtype=np.int64)), rel=1e-12
    )


def test_a_plan_halved_and_doubled_stays_a_plan() -> None:
    plan = a_plan(units=9, blocks=3)
    half, double = with_units(plan, 0.5), with_units(plan, 2)
    assert half is not None
    assert double is not None
    assert (half.units, half.blocks, double.units) == (4, 3, 18)
    assert with_units(a_plan(units=2), 0.5) is None


def test_many_blocks_put_together_show_what_they_show_apart() -> None:
    plan = a_plan(units=120, blocks=60, expected_percent=40)
    apart = sampled_power(
        Bench((2,) * 60, (2,) * 60), strike_profile(0.4), strike_profile(0.6), trials=SIMULATED
    )
    assert not power_of_plan(plan).is_exact
    assert power_at(plan, 20, trials=SIMULATED) == pytest.approx(apart, abs=0.015)


def test_more_containers_than_are_simulated_are_scaled_up() -> None:
    plan = a_plan(units=500, per_container=4, expected_percent=50, icc=0.2)
    whole = sampled_power(
        Bench((500,), (500,), 4, 0.2), strike_profile(0.5), strike_profile(0.56), trials=6_000
    )
    assert power_at(plan, 6, trials=SIMULATED) == pytest.approx(whole, abs=0.025)


def test_a_plan_of_a_hundred_thousand_plants_answers() -> None:
    big = a_plan(units=2500, per_container=20, blocks=50, measure=Measure.SPEED)
    assert power_of_plan(big).at_gap > 0.9
    assert not power_of_plan(a_plan(units=3000, layout=Layout.PAIRS)).is_exact


def test_a_measured_value_has_the_power_of_the_rank_test() -> None:
    """Beside the t test's (statsmodels), less the rank test's loss of 4.5 % of the units [Hodges & Lehmann 1956]."""
    plan = a_plan(
        units=20, measure=Measure.QUALITY, graded_by="height", expected_score=100.0,
        usual_spread=30.0, gap_score=30.0, expected_percent=100,
    )  # fmt: skip
    assert spread_of(plan) == 30
    t = TTestIndPower().power(effect_size=1.0, nobs1=20 * 3 / np.pi, alpha=0.05)
    assert power_at(plan, 30.0) == pytest.approx(t, abs=0.025)
    assert power_at(plan, 0.0) == pytest.approx(0.05, abs=0.01)
    assert "a height 30 mm higher" in needs_says(plan, power_of_plan(plan))


@pytest.mark.parametrize(
    ("change", "at"),
    [
        ({"graded_by": "charm"}, "/graded_by"),
        ({"graded_by": "height", "measure": Measure.STRIKE}, "/graded_by"),
        ({"graded_by": "leaves", "expected_score": 900.0}, "/expected_score"),
        ({"graded_by": "leaves", "expected_score": 0.0}, "/expected_score"),
        ({"expected_score": 40.0}, "/expected_score"),
        ({"gap_score": 40.0}, "/gap_score"),
    ],
)
def test_a_measure_that_cannot_be_judged_is_refused(change: dict[str, Any], at: str) -> None:
    plan = a_plan(**{"measure": Measure.QUALITY, **change})
    assert at in [f.pointer for f in faults(plan)]
