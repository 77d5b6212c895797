"""Waiting days: the struck alone are never taken for the whole."""

from dataclasses import replace

import pytest
from scipy.stats import ttest_ind

from racecard.core.assess.judge import judge
from racecard.core.assess.judgement import Sooner
from racecard.core.assess.restricted_mean import arm_times, linear_day, waiting_gap
from racecard.core.stats.interval_curve import fit_curve
from tests.builders import a_plan, lost, removed, singles, struck, waiting
from tests.core.test_published import SERIES_A


def test_shares_of_all_stuck_are_reached_or_not() -> None:
    found = arm_times(singles([struck(12)] * 5 + [struck(21)] * 2 + [waiting()] * 3, []), 0, 42)
    assert found.reached == ((9.0, 12.0), (9.0, 12.0), (18.0, 21.0))
    never = arm_times(singles([struck(12)] * 2 + [waiting()] * 8, []), 0, 42)
    assert never.reached == (None, None, None)
    assert (never.struck_n, never.left_out) == (2, 8)


def test_the_lost_wait_to_the_end_and_the_removed_leave() -> None:
    found = arm_times(singles([struck(12), lost(9), removed(9)], []), 0, 42)
    assert found.waiting == pytest.approx((12 + 42) / 2)


def test_the_gap_is_students_for_single_plants() -> None:
    one, zero = [12, 15, 15, 18, 21], [21, 24, 24, 27, 30]
    results = singles([struck(d) for d in zero], [struck(d) for d in one])
    found = waiting_gap(results, 1, 0, 42)
    limits = ttest_ind(one, zero).confidence_interval(0.95)
    assert found is not None
    assert (found.low, found.high) == pytest.approx((limits.low, limits.high))


def test_waits_that_the_looks_cannot_part_are_not_told() -> None:
    """Fewer than three common looks, or looks further apart than the difference."""
    assert waiting_gap(singles([struck(12)] * 4, [struck(12)] * 4), 1, 0, 42) is None
    one_look = singles([waiting()] * 3, [struck(14)] * 2 + [waiting()], looks=(14,))
    assert waiting_gap(one_look, 1, 0, 14) is None
    nearly = singles([struck(12)] * 6, [struck(12)] * 5 + [struck(9)])
    assert waiting_gap(nearly, 1, 0, 42) is None
    assert waiting_gap(singles([struck(21)] * 4, [struck(9)] * 4), 1, 0, 42) is not None


def test_nothing_looked_at_together_gives_no_gap() -> None:
    apart = singles([struck(12)] * 3, [struck(12)] * 3)
    looks = (*[frozenset({12})] * 3, *[frozenset({13})] * 3)
    assert waiting_gap(replace(apart, looks=looks), 1, 0, 42) is None


def test_series_a_by_a_straight_line() -> None:
    """Half of the sown on day 6.4, by hand from the daily counts."""
    days = [d for d, n in enumerate(SERIES_A, 1) for _ in range(n)]
    results = singles([struck(d, d - 1) for d in days] + [waiting()] * (50 - len(days)), [])
    mine = results.only([0])
    curve = fit_curve(mine.after, mine.by, mine.lost_after, mine.lost_by, mine.removed)
    assert linear_day(curve, 0.5) == pytest.approx(6.4)
    assert linear_day(curve, 0.9) is None


def test_sooner_is_said_only_where_it_is_not_just_more_strikes() -> None:
    slow, fast = [struck(30)] * 38 + [waiting()] * 2, [struck(12)] * 38 + [waiting()] * 2
    alike = judge(a_plan(), singles(slow, fast), seed=1).comparisons[0]
    assert alike.sooner is Sooner.ALIKE
    more = [struck(30)] * 36 + [waiting()] * 4
    fewer = [struck(30)] * 8 + [waiting()] * 32
    through = judge(a_plan(), singles(fewer, more), seed=1).comparisons[0]
    assert through.sooner is Sooner.NO
