"""The curve against printed masses, life tables, Kaplan-Meier and a general library."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lifelines import KaplanMeierFitter

from racecard.core.arrays import Bools, Floats
from racecard.core.stats.interval_curve import Curve, fit_curve, self_consistent, strike_scores
from racecard.errors import InvalidInput
from tests.reference_data import breast

# Masses printed in Fay & Shaw (2010), J. Stat. Softw. 36(2), for Finkelstein & Wolfe (1985);
# quoted from memory.
RADIOTHERAPY = {
    (4, 5): 0.0463, (6, 7): 0.0334, (7, 8): 0.0887, (11, 12): 0.0708,
    (24, 25): 0.0926, (33, 34): 0.0818, (38, 40): 0.1209, (46, 48): 0.4656,
}  # fmt: skip
WITH_CHEMO = {
    (4, 5): 0.0433, (5, 8): 0.0433, (11, 12): 0.0692, (16, 17): 0.1454, (18, 19): 0.1411,
    (19, 20): 0.1157, (24, 25): 0.0999, (30, 31): 0.0709, (35, 36): 0.1608, (44, 48): 0.0552,
    (48, 60): 0.0552,
}  # fmt: skip
# Germination series A (CHECKS of seed testing, from first principles): daily counts of 50 sown.
SERIES_A = [0, 0, 0, 0, 4, 17, 10, 7, 1, 0, 1, 0, 0, 0]


def nothing(n: int) -> Floats:
    return np.full(n, np.inf)


def censored_fit(lower: Floats, upper: Floats) -> tuple[Curve, Floats]:
    """The curve of (lower, upper] with inf as censored at lower; and the scores."""
    seen = np.isfinite(upper)
    after, removed = np.where(seen, lower, np.inf), np.where(seen, np.inf, lower)
    curve = fit_curve(after, upper, nothing(len(lower)), nothing(len(lower)), removed)
    return curve, strike_scores(after, upper, removed, curve)


def masses(curve: Curve) -> dict[tuple[float, float], float]:
    mass = np.diff(np.concatenate(([0.0], curve.share)))
    cells = zip(curve.starts, curve.days, mass, strict=True)
    return {(a, b): float(m) for a, b, m in cells if m > 1e-5}


@pytest.mark.parametrize(
    ("arm", "printed"), [("radiotherapy", RADIOTHERAPY), ("radiation+chemo", WITH_CHEMO)]
)
def test_masses_meet_those_printed(arm: str, printed: dict[tuple[int, int], float]) -> None:
    lower, upper, treat = breast()
    found = masses(censored_fit(lower[treat == arm], upper[treat == arm])[0])
    assert found == pytest.approx({k: v for k, v in printed.items()}, abs=5.1e-5)


def test_scores_meet_suns_statistic() -> None:
    """Sun (1996) as printed in Fay & Shaw (2010): U = -9.141846, Z = -2.6684."""
    lower, upper, treat = breast()
    _, scores = censored_fit(lower, upper)
    arm = treat == "radiotherapy"
    n, n1 = len(scores), int(arm.sum())
    variance = n1 * (n - n1) / (n * (n - 1)) * np.sum((scores - scores.mean()) ** 2)
    assert scores.sum() == pytest.approx(0, abs=1e-6)
    assert scores[arm].sum() == pytest.approx(-9.141846, abs=1e-5)
    assert scores[arm].sum() / np.sqrt(variance) == pytest.approx(-2.6684, abs=5e-5)


def test_shared_look_days_give_the_life_table() -> None:
    """Looks on 3, 5, 8, 12 with 4, 7, 6, 2 of 24: plain shares, by hand."""
    by = np.repeat([3.0, 5, 8, 12], [4, 7, 6, 2])
    after = np.repeat([0.0, 3, 5, 8], [4, 7, 6, 2])
    days, starts, mass = self_consistent(after, by, never=5)
    assert list(days) == [3, 5, 8, 12]
    assert list(starts) == [0, 3, 5, 8]
    assert mass == pytest.approx(np.array([4, 7, 6, 2]) / 24, abs=1e-12)


def series_a() -> Curve:
    by = np.repeat(np.arange(1.0, 15), SERIES_A)
    all_by = np.concatenate((by, nothing(10)))
    after = np.where(np.isfinite(all_by), all_by - 1, np.inf)
    return fit_curve(after, all_by, nothing(50), nothing(50), nothing(50))


@pytest.mark.parametrize(("share", "day"), [(0.25, 6), (0.50, 7), (0.75, 8), (0.80, 11)])
def test_germination_series_reaches_its_shares(share: float, day: int) -> None:
    """First inspection at or past the share of all sown, worked from first principles."""
    assert series_a().reached(share) == (day - 1, day)


def test_a_share_never_reached_is_said_to_be() -> None:
    assert series_a().reached(0.9) is None
    assert series_a().at(14) == pytest.approx(0.8, abs=1e-12)


def test_removal_beside_loss_takes_competing_causes() -> None:
    """By hand: 100 stuck, 50 lost on day 3, 25 lifted unstruck on day 5, 25 strike on day 10."""
    n = np.inf
    curve = fit_curve(
        np.r_[[5.0] * 25, [n] * 75], np.r_[[10.0] * 25, [n] * 75],
        np.r_[[n] * 25, [0.0] * 50, [n] * 25], np.r_[[n] * 25, [3.0] * 50, [n] * 25],
        np.r_[[n] * 75, [5.0] * 25],
    )  # fmt: skip
    assert curve.at(10) == pytest.approx(0.5, abs=1e-9)


def test_nothing_removed_a_lost_one_never_strikes() -> None:
    by, lost = np.array([6.0, np.inf, np.inf]), np.array([np.inf, 3.0, np.inf])
    after, lost_after = np.array([3.0, np.inf, np.inf]), np.array([np.inf, 0.0, np.inf])
    assert fit_curve(after, by, lost_after, lost, nothing(3)).at(99) == pytest.approx(
        1 / 3, abs=1e-12
    )


@given(st.integers(0, 2**32))
@settings(max_examples=25, deadline=None)
def test_exact_days_with_censoring_are_kaplan_meier(seed: int) -> None:
    rng = np.random.default_rng(seed)
    day, seen = rng.permutation(40)[:25] + 1.0, rng.random(25) < 0.7
    by = np.where(seen, day, np.inf)
    curve, _ = censored_fit(np.where(seen, day - 1e-3, day), by)
    library = KaplanMeierFitter().fit(day, seen)
    for d in (5, 15, 25, 39):
        assert 1 - curve.at(d) == pytest.approx(float(library.predict(d)), abs=1e-6)


def likelihood(curve: Curve, lower: Floats, upper: Floats) -> float:
    share = np.concatenate(([0.0], curve.share))
    high = np.where(
        np.isfinite(upper), share[np.searchsorted(curve.days, upper, side="right")], 1.0
    )
    return float(np.sum(np.log(high - share[np.searchsorted(curve.days, lower, side="right")])))


@given(st.integers(0, 2**32))
@settings(max_examples=20, deadline=None)
def test_no_small_shift_of_mass_is_likelier(seed: int) -> None:
    """The self-consistent estimate is the most likely one: every nudge lowers the likelihood."""
    rng = np.random.default_rng(seed)
    lower = rng.integers(0, 12, 30).astype(float)
    upper = np.where(rng.random(30) < 0.3, np.inf, lower + rng.integers(1, 6, 30))
    if not np.isfinite(upper).any():
        return
    curve, _ = censored_fit(lower, upper)
    best = likelihood(curve, lower, upper)
    mass = np.diff(np.concatenate(([0.0], curve.share)))
    for i in range(len(mass)):
        nudged = mass * 0.99
        nudged[i] += 0.01 * mass.sum()
        shifted = Curve(curve.starts, curve.days, np.cumsum(nudged), curve.last)
        assert likelihood(shifted, lower, upper) <= best + 1e-7


def test_two_stages_only_score_like_fisher() -> None:
    """With one look the score takes two values, so the lot test of strike over time is Fisher's."""
    struck: Bools = np.array([True] * 6 + [False] * 4)
    by = np.where(struck, 42.0, np.inf)
    after = np.where(struck, 0.0, np.inf)
    curve = fit_curve(after, by, nothing(10), nothing(10), nothing(10))
    scores = strike_scores(after, by, nothing(10), curve)
    assert len(np.unique(np.round(scores, 12))) == 2
    assert scores[0] > scores[-1]


def test_a_curve_needs_a_plant() -> None:
    with pytest.raises(InvalidInput):
        self_consistent(np.zeros(0), np.zeros(0), never=0)


@pytest.mark.parametrize(
    "shift", [0.0, 0.25, -30.0], ids=["whole days", "parts of days", "below 0"]
)
def test_counting_whole_days_gives_what_sorting_gives(shift: float) -> None:
    """The same intervals a quarter of a day later, or below 0, are sorted, not counted: same shares, same scores."""
    rng = np.random.default_rng(11)
    by = np.ceil(rng.gamma(9, 2, 600)) + shift
    after = by - rng.integers(1, 4, 600)
    struck = rng.random(600) < 0.7
    after, by = np.where(struck, after, np.inf), np.where(struck, by, np.inf)
    never = np.full(600, np.inf)
    curve = fit_curve(after, by, never, never, never)
    plain = fit_curve(after - shift, by - shift, never, never, never)
    assert curve.share.tolist() == plain.share.tolist()
    assert (curve.days - shift).tolist() == plain.days.tolist()
    scores = strike_scores(after, by, never, curve)
    again = strike_scores(after - shift, by - shift, never, plain)
    assert scores.tolist() == again.tolist()
    few = strike_scores(
        after[:100], by[:100], never[:100], curve
    )  # searched, not read from a table
    assert few.tolist() == scores[:100].tolist()
