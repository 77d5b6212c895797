"""Whether a lead over time may be called sooner, and on what that rests."""

import numpy as np

from racecard.core.assess.grade import Grade
from racecard.core.assess.judgement import Sooner
from racecard.core.assess.strike import curve_of
from racecard.core.model.results import Results
from racecard.core.stats.proportions import Interval


def sooner_of(
    pair: Results, one: int, zero: int, grade: Grade | None, limits: Interval | None, margin: float
) -> Sooner:
    """Whether a lead over time may be called sooner.

    It takes a difference in days of more than the looks are apart: among those that struck, or
    in the days at which both curves reach half of what the lower of them came to.

    Args:
        pair: results of the two treatments.
        one, zero: the treated arm and the reference.
        grade: the grade over time.
        limits: 90 % interval of the gap on strike.
        margin: smallest difference that matters, a fraction.
    """
    if grade not in (Grade.CLEAR_LEAD, Grade.LIKELY_LEAD):
        return Sooner.NO
    apart = _days_apart(pair, one, zero)
    struck_sooner, curve_sooner = (d is not None and d > look_gap(pair) for d in apart)
    if (
        limits is not None and limits.low is not None and limits.high is not None
        and -margin < limits.low <= limits.high < margin and (struck_sooner or curve_sooner)
    ):  # fmt: skip
        return Sooner.ALIKE
    return Sooner.STRUCK if struck_sooner else Sooner.NO


def _days_apart(pair: Results, one: int, zero: int) -> tuple[float | None, float | None]:
    """How many days sooner the treated struck: of those that struck, and by the curves; None: not told."""
    arm = pair.treatment[pair.unit]
    days = [pair.by[(arm == a) & np.isfinite(pair.by)] for a in (one, zero)]
    if not len(days[0]) or not len(days[1]):
        return None, None
    curves = [curve_of(pair.only([a]), float(pair.last.max())) for a in (one, zero)]
    half = min(float(c.share[-1]) if len(c.share) else 0.0 for c in curves) / 2
    reached = [c.reached(half) if half > 0 else None for c in curves]
    by_curve = None
    if reached[0] is not None and reached[1] is not None:
        by_curve = reached[1][1] - reached[0][1]
    return float(days[1].mean() - days[0].mean()), by_curve


def look_gap(results: Results) -> float:
    """Days between looks, the middle one of all gaps; from day 0 where there was but one look."""
    days = sorted({d for looks in results.looks for d in looks} - {0})
    gaps = np.diff(np.array(days, float)) if len(days) > 1 else np.array([*days, 0][:1], float)
    return float(np.median(gaps))
