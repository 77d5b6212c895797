"""One lane of a finish: strike, curve, when half had struck, and the root scores of one treatment."""

from dataclasses import replace

import numpy as np

from racecard.core.assess.horizon import Horizon, horizon_of, newest_look
from racecard.core.assess.judgement import Arm
from racecard.core.assess.quality import arm_quality
from racecard.core.assess.strike import ArmStrike, arm_strike, curve_of, estimated_rate, unit_shares
from racecard.core.model.results import Results
from racecard.core.stats.interval_curve import Curve
from racecard.core.stats.proportions import wilson_limits, z_for


def arm_of(
    results: Results, index: int, end: float | None, shared: bool, timed: bool, together: Horizon
) -> Arm:
    """One treatment at its own age.

    Args:
        results: what was seen of all treatments.
        index: the treatment.
        end: last day of the plan; None takes the results as finished.
        shared: plants that shared a container are counted one by one.
        timed: False where the results tell no days.
        together: the age all treatments can be judged at.
    """
    mine = results.only([index])
    if not len(mine.unit):
        empty = np.zeros(0)
        strike = arm_strike(unit_shares(results, together.age), index, singly_over_shared=shared)
        return Arm(index, 0.0, strike, Curve(empty, empty, empty, 0.0), None, None)
    if end is None:  # a record without an end is a whole: all arms are followed to its last day
        end = together.age or None
    found = horizon_of(mine, end)
    age = found.age
    if (
        found.stopped_early and end is not None
    ):  # what was seen since is shown, the rest is not known
        age = max(age, min(end, newest_look(mine)))
    strike = arm_strike(
        unit_shares(results, age), index, singly_over_shared=shared,
        estimated=estimated_rate(results, index, age),
    )  # fmt: skip
    if age == 0:
        strike = replace(strike, rate=None, rate_pooled=None, interval=None, effective_n=None)
    curve = curve_of(mine, age)
    half = curve.reached(0.5) if timed else None
    limits = half_limits(curve, strike) if timed and not shared else (None, None)
    return Arm(index, age, strike, curve, half, arm_quality(results, index), limits)


def half_limits(curve: Curve, strike: ArmStrike) -> tuple[float | None, float | None]:
    """Days at which the upper and the lower 95 % limit of a curve cross one half.

    Wilson limits at what the arm is worth in single propagules; None where a limit never crosses.
    """
    n = strike.effective_n
    if n is None or n <= 0 or not len(curve.days):
        return None, None
    limits = [wilson_limits(float(p), n, z_for(0.95)) for p in curve.share]

    def first(side: int) -> float | None:
        return next(
            (float(d) for d, x in zip(curve.days, limits, strict=True) if x[side] >= 0.5), None
        )

    return first(1), first(0)
