"""Two claims of every candidate at one error rate, and what to expect of a repeat."""

import numpy as np
import pytest

from racecard.core.stats.multiplicity import holm, two_claims
from racecard.core.stats.posterior import next_mean, next_share


@pytest.mark.parametrize(
    ("together", "alone", "first", "second"),
    [
        ([0.004, 0.2], [0.012, 0.5], [0.008, 0.2], [0.048, 0.5]),
        ([0.0006, 0.03, 0.4], [0.01, 0.02, 0.9], [0.0018, 0.06, 0.4], [0.06, 0.07, 0.9]),
        ([0.03], [0.02], [0.03], [0.03]),
    ],
)
def test_the_graph_of_two_claims(
    together: list[float], alone: list[float | None], first: list[float], second: list[float]
) -> None:
    """Bretz, Maurer, Brannath & Posch (2009), algorithm 2; worked by hand."""
    found = two_claims(together, alone)
    assert found[0] == pytest.approx(first)
    assert found[1] == pytest.approx(second)


def test_without_a_carrier_the_graph_is_holm() -> None:
    rng = np.random.default_rng(1)
    for k in range(1, 7):
        ps = rng.random(k).tolist()
        assert two_claims(ps, [None] * k)[0] == holm(ps)


def test_the_graph_keeps_the_error_rate_over_both_claims() -> None:
    """No candidate and no agent does anything: any rejection at 0.05 in at most 5 of 100, within simulation."""
    rng = np.random.default_rng(2)
    wrong = 0
    for _ in range(4000):
        first, second = two_claims(rng.random(3).tolist(), rng.random(3).tolist())
        wrong += min([*first, *(p for p in second if p is not None)]) < 0.05
    assert wrong / 4000 <= 0.05 + 3 * (0.05 * 0.95 / 4000) ** 0.5


def test_the_next_time_of_21_against_9_of_24() -> None:
    """By a grid 400 times as fine, apart from the program: 33.44, 12.56 to 52.94."""
    found = next_share(21, 24, 9, 24)
    assert (found.size, found.low, found.high) == pytest.approx((0.3344, 0.1256, 0.5294), abs=2e-3)


def test_what_to_expect_is_less_than_what_was_seen_and_holds_the_truth() -> None:
    """Truths drawn from the prior itself: the range holds them in 95 of 100, and the mean is not too high."""
    rng = np.random.default_rng(3)
    held, off = 0, []
    for _ in range(600):
        zero = rng.uniform(0.05, 0.95)
        odds = np.log(zero / (1 - zero)) + rng.normal(0, 0.9)
        one = 1 / (1 + np.exp(-odds))
        e = next_share(rng.binomial(24, one), 24, rng.binomial(24, zero), 24)
        held += e.low <= one - zero <= e.high
        off.append(e.size - (one - zero))
    assert held / 600 == pytest.approx(0.95, abs=0.03)
    assert abs(float(np.mean(off))) < 0.02


def test_means_are_shrunk_by_their_doubt() -> None:
    found = next_mean(10.0, 2.0, 4.0)
    assert found.size == pytest.approx(8.0)
    assert found.high - found.size == pytest.approx(1.959964 * 2 * 0.8**0.5)
