"""How long it took: days until a share of all stuck had struck, and mean waiting days.

Never struck counts as waiting to the end, so that an arm which lost its slow half does not look
fast. The mean day of the struck alone stands beside it, with how many it leaves out.
"""

from dataclasses import dataclass, replace

import numpy as np

from racecard.core.arrays import Floats
from racecard.core.assess.horizon import with_lost_sight_of
from racecard.core.assess.over_time import coarsened
from racecard.core.assess.strike import curve_of, gap_of_values
from racecard.core.model.results import Results, look_table
from racecard.core.stats.interval_curve import Curve
from racecard.core.stats.proportions import Interval

SHARES = (0.25, 0.50, 0.70)
_FEWEST_LOOKS = 3


@dataclass(frozen=True, slots=True)
class ArmTimes:
    """One arm: the interval in which each of SHARES was reached (None: not reached), mean days.

    `linear`: the same days by a straight line between looks.

    `waiting`: mean days all waited, the never-struck to the end; `struck_mean`: mean first
    sighting of the `struck_n` that struck, `left_out` the others.
    """

    treatment: int
    reached: tuple[tuple[float, float] | None, ...]
    waiting: float | None
    struck_mean: float | None
    struck_n: int
    left_out: int
    linear: tuple[float | None, ...] = (None,) * len(SHARES)


def arm_times(results: Results, arm: int, end: float) -> ArmTimes:
    """Milestones and mean days of one arm up to a last day.

    Args:
        results: what was seen, in days.
        arm: index of the treatment.
        end: last day counted.
    """
    mine = results.only([arm])
    if not len(mine.unit):
        return ArmTimes(arm, (None,) * len(SHARES), None, None, 0, 0)
    curve = curve_of(mine, end)
    mine = replace(mine, removed=with_lost_sight_of(mine, end))
    struck = np.isfinite(mine.by)
    waits = unit_waits(mine, end)
    known = waits[np.isfinite(waits)]
    return ArmTimes(
        arm,
        tuple(curve.reached(s) for s in SHARES),
        float(known.mean()) if len(known) else None,
        float(mine.by[struck].mean()) if struck.any() else None,
        int(struck.sum()),
        int((~struck).sum()),
        tuple(linear_day(curve, s) for s in SHARES),
    )


def unit_waits(results: Results, end: float) -> Floats:
    """Mean days until first seen struck in each unit, never = the end; nan where all were removed.

    Propagules taken out before they struck or were lost leave the mean.

    Args:
        results: what was seen, in days.
        end: last day counted; what never struck waited until then.
    """
    gone = np.isfinite(results.removed) & ~np.isfinite(results.by)
    days = np.where(gone, 0.0, np.minimum(results.by, end))
    u = len(results.treatment)
    total = np.bincount(results.unit, weights=days, minlength=u)
    kept = np.bincount(results.unit, weights=~gone, minlength=u)
    return np.where(kept > 0, total / np.maximum(kept, 1), np.nan)


def waiting_gap(results: Results, one: int, zero: int, end: float) -> Interval | None:
    """Difference in mean waiting days, treated less control (negative: less waiting), with t limits.

    Looks are coarsened to those both arms had. None where it cannot be told: fewer than three common looks,
    looks further apart than the difference, or no block with both.

    Args:
        results: what was seen, in days.
        one: index of the treated arm.
        zero: index of the control arm.
        end: last day counted.
    """
    pair = results.only((one, zero))
    both = common_days(pair, one, zero, end)
    if len(both) < _FEWEST_LOOKS:
        return None
    pair = replace(pair, removed=with_lost_sight_of(pair, max(both)))
    waits = unit_waits(coarsened(pair, frozenset(both), max(both)), max(both))
    ok = np.isfinite(waits)
    for b in np.unique(pair.block):
        here = ok & (pair.block == b)
        if len(np.unique(pair.treatment[here])) < 2:
            ok &= pair.block != b
    if not ok.any():
        return None
    treated = pair.treatment[ok] == one
    found = gap_of_values(waits[ok], treated, pair.block[ok], method="waiting")
    apart = float(np.median(np.diff([0, *both])))
    return found if abs(found.estimate) >= apart else None


def common_days(pair: Results, one: int, zero: int, end: float) -> list[float]:
    """Days up to an age on which both of two treatments were looked at, in order.

    Args:
        pair: results of the two.
        one: index of the treated arm.
        zero: index of the control arm.
        end: last day counted.
    """
    days, seen = look_table(pair)
    arms = [pair.treatment == a for a in (one, zero)]
    return [
        float(d) for k, d in enumerate(days) if d <= end and all(seen[a, k].any() for a in arms)
    ]


def linear_day(curve: Curve, share: float) -> float | None:
    """Day on which a share is reached by a straight line between looks; None where it is not.

    Args:
        curve: the curve of one arm.
        share: share struck, in (0, 1].
    """
    days = np.concatenate(([0.0], curve.days))
    upto = np.concatenate(([0.0], curve.share))
    past = np.flatnonzero(upto >= share - 1e-12)
    if not len(past) or past[0] == 0:
        return 0.0 if len(past) else None
    i = int(past[0])
    part = (share - upto[i - 1]) / (upto[i] - upto[i - 1])
    start = curve.starts[i - 1]
    return float(start + part * (days[i] - start))
