"""Intervals against the tables they were published with, and against statsmodels.

Sources, values quoted from memory: Newcombe (1998), Stat. Med. 17, 857-872 Table I (Wilson) and
873-890 Table II (hybrid score, method 10; Miettinen-Nurminen, method 6); 2635-2650 (paired).
"""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from statsmodels.stats.proportion import confint_proportions_2indep, proportion_confint

from racecard.core.stats.proportions import (
    _restricted_variance,
    anova_icc,
    effective_number,
    newcombe,
    newcombe_paired,
    stratified_score,
    wilson,
    z_for,
)
from racecard.errors import InvalidInput

PRINTED = 5.1e-5

two_arms = st.tuples(st.integers(1, 40), st.integers(1, 40)).flatmap(
    lambda n: st.tuples(st.integers(0, n[0]), st.just(n[0]), st.integers(0, n[1]), st.just(n[1]))
)


@pytest.mark.parametrize(
    ("hits", "n", "low", "high"),
    [
        (81, 263, 0.2553, 0.3662),
        (15, 148, 0.0624, 0.1605),
        (0, 20, 0.0, 0.1611),
        (1, 29, 0.0061, 0.1718),
    ],
)
def test_wilson_meets_newcombes_table(hits: int, n: int, low: float, high: float) -> None:
    found = wilson(hits, n)
    assert (found.low, found.high) == pytest.approx((low, high), abs=PRINTED)


@pytest.mark.parametrize(
    ("table", "low", "high"),
    [
        ((56, 70, 48, 80), 0.0524, 0.3339),
        ((9, 10, 3, 10), 0.1705, 0.8090),
        ((6, 7, 2, 7), 0.0582, 0.8062),
        ((5, 56, 0, 29), -0.0381, 0.1926),
        ((0, 10, 0, 20), -0.1611, 0.2775),
        ((0, 10, 0, 10), -0.2775, 0.2775),
        ((10, 10, 0, 20), 0.6791, 1.0),
        ((10, 10, 0, 10), 0.6075, 1.0),
    ],
)
def test_gap_meets_newcombes_table(
    table: tuple[int, int, int, int], low: float, high: float
) -> None:
    found = newcombe(*table)
    assert (found.low, found.high) == pytest.approx((low, high), abs=PRINTED)


@pytest.mark.parametrize(
    ("table", "low", "high"),
    [
        ((56, 70, 48, 80), 0.0528, 0.3382),
        ((9, 10, 3, 10), 0.1700, 0.8406),
    ],
)
def test_score_gap_of_one_block_meets_the_published_values(
    table: tuple[int, int, int, int], low: float, high: float
) -> None:
    x1, n1, x0, n0 = table
    found = stratified_score([x1], [n1], [x0], [n0])
    assert (found.low, found.high) == pytest.approx((low, high), abs=PRINTED)


def test_paired_gap_meets_newcombes_example() -> None:
    found = newcombe_paired(36, 12, 2, 0)
    assert (found.estimate, found.low, found.high) == pytest.approx(
        (0.2, 0.0569, 0.3404), abs=PRINTED
    )


def test_paired_gap_with_an_empty_margin_takes_no_correlation() -> None:
    found = newcombe_paired(0, 5, 0, 5)
    assert (found.low, found.high) == pytest.approx(
        (newcombe(5, 10, 0, 10).low, newcombe(5, 10, 0, 10).high), abs=1e-12
    )


def test_blocks_with_full_separation_keep_an_honest_width() -> None:
    """Four blocks of 4/4 v 0/4, where Sato's variance would give width 0."""
    found = stratified_score([4] * 4, [4] * 4, [0] * 4, [4] * 4)
    assert found.high == 1.0
    assert found.low is not None
    assert 0.5 < found.low < 0.9


def test_runs_that_must_not_be_added_up_keep_their_sign() -> None:
    """8/10 v 24/40 and 4/30 v 1/10: by hand 1.85 / 15.5 (Mantel & Haenszel 1959)."""
    found = stratified_score([8, 4], [10, 30], [24, 1], [40, 10])
    assert found.estimate == pytest.approx(1.85 / 15.5, abs=1e-12)


@given(two_arms)
def test_gap_agrees_with_statsmodels(table: tuple[int, int, int, int]) -> None:
    x1, n1, x0, n0 = table
    low, high = confint_proportions_2indep(x1, n1, x0, n0, method="newcomb", compare="diff")
    found = newcombe(*table)
    assert (found.low, found.high) == pytest.approx((low, high), abs=1e-9)


@given(two_arms)
def test_score_gap_holds_its_estimate_and_turns_with_the_arms(
    table: tuple[int, int, int, int],
) -> None:
    x1, n1, x0, n0 = table
    one, other = stratified_score([x1], [n1], [x0], [n0]), stratified_score([x0], [n0], [x1], [n1])
    assert one.low is not None
    assert one.high is not None
    assert -1 <= one.low <= one.estimate <= one.high <= 1
    assert (other.low, other.high) == pytest.approx((-one.high, -one.low), abs=1e-7)


@given(st.integers(1, 300).flatmap(lambda n: st.tuples(st.integers(0, n), st.just(n))))
def test_wilson_agrees_with_statsmodels(table: tuple[int, int]) -> None:
    low, high = proportion_confint(*table, method="wilson")
    found = wilson(*table)
    assert (found.low, found.high) == pytest.approx((max(0, low), min(1, high)), abs=1e-9)


def test_likeness_meets_the_example_by_hand() -> None:
    """4, 1, 3, 0 of 5 each: MSB 2/3, MSW 0.175 (Fleiss 1981)."""
    rho = anova_icc([np.array([4.0, 1, 3, 0])], [np.full(4, 5.0)])
    msb, msw = 2 / 3, 0.175
    assert rho == pytest.approx((msb - msw) / (msb + 4 * msw), abs=1e-12)


def test_likeness_is_never_negative() -> None:
    assert anova_icc([np.array([2.0, 3, 2])], [np.full(3, 5.0)]) == 0
    assert anova_icc([np.array([2.0])], [np.array([5.0])]) == 0


@pytest.mark.parametrize(("rho", "deff"), [(0.05, 1.45), (0.3, 3.7), (0.0, 1.0)])
def test_effective_number_divides_by_kishs_design_effect(rho: float, deff: float) -> None:
    assert effective_number(np.full(5, 10.0), rho, 10) == pytest.approx(50 / deff, abs=1e-12)


@pytest.mark.parametrize(
    "call",
    [
        lambda: wilson(5, 4),
        lambda: wilson(0, 0),
        lambda: newcombe(-1, 4, 0, 4),
        lambda: stratified_score([0], [0], [0], [1]),
        lambda: z_for(1.0),
    ],
)
def test_impossible_counts_are_refused(call) -> None:
    with pytest.raises(InvalidInput):
        call()


def plainly_bisected(tables: list[tuple[int, int, int, int]]) -> tuple[float, float]:
    """The stratified score limits by the plainest root finder there is, one table after another."""
    x1, n1, x0, n0 = (np.array(v, float) for v in zip(*tables, strict=True))
    w = n1 * n0 / (n1 + n0)
    gap = float(np.sum(w * (x1 / n1 - x0 / n0)) / w.sum())

    def is_inside(delta: float) -> bool:
        variance = _restricted_variance(x1, n1, x0, n0, np.full(len(x1), delta))
        spread = float(np.sqrt(np.sum(w**2 * variance)) / w.sum())
        return abs(gap - delta) <= z_for(0.95) * spread

    ends = []
    for far in (-1.0, 1.0):
        outside, inside = far, gap
        if not is_inside(far):
            for _ in range(60):
                middle = (outside + inside) / 2
                outside, inside = (outside, middle) if is_inside(middle) else (middle, inside)
        ends.append(outside if not is_inside(far) else far)
    return ends[0], ends[1]


def test_stratified_limits_are_those_of_plain_bisection() -> None:
    """A hundred random sets of tables, with all and none struck among them."""
    rng = np.random.default_rng(20)
    for _ in range(100):
        tables = []
        for _ in range(int(rng.integers(2, 7))):
            n1, n0 = (int(n) for n in rng.integers(1, 25, 2))
            p1, p0 = rng.choice([0.0, 0.1, 0.5, 0.9, 1.0], 2)
            tables.append((int(rng.binomial(n1, p1)), n1, int(rng.binomial(n0, p0)), n0))
        found = stratified_score(*np.array(tables, float).T)
        assert (found.low, found.high) == pytest.approx(plainly_bisected(tables), abs=1e-6)


@pytest.mark.parametrize(
    ("tables", "low", "high"),
    [
        ([(12, 12, 0, 12)] * 4, 0.92, 1.0),
        ([(0, 23, 0, 23)] * 4, -0.04, 0.04),
        ([(0, 12, 12, 12)] * 4, -1.0, -0.92),
    ],
)
def test_a_stratified_interval_never_has_width_0(
    tables: list[tuple[int, int, int, int]], low: float, high: float
) -> None:
    found = stratified_score(*np.array(tables, float).T)
    assert (found.low, found.high) == pytest.approx((low, high), abs=0.005)
