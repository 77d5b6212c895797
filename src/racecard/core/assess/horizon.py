"""The age at which arms can be judged, and what nobody knows at that age.

Units are judged at their own age. At an age a propagule is known when it was seen below the
endpoint at that age or later, seen at it by then, or lost or removed: what is unstruck later was
unstruck earlier, so nobody need look on that very day.
"""

from dataclasses import dataclass

import numpy as np

from racecard.core.arrays import Bools, Floats
from racecard.core.model.results import Results

_MOST_NOT_KNOWN = 5
"""One in so many of either arm may be not known at the end before an earlier age is judged."""


@dataclass(frozen=True, slots=True)
class Horizon:
    """The age judged at. `reached`: the end is reached, so the verdict is final; `stopped_early`:
    too many were not looked at by the end, so that an earlier age is judged. Age 0: nothing to judge.
    """

    age: float
    reached: bool
    stopped_early: bool = False


def unseen_at(results: Results, age: float) -> Bools:
    """Propagules last seen below the endpoint before an age, and neither lost nor removed, (p,).

    Args:
        results: what was seen, in days.
        age: days after day 0.
    """
    waiting = ~(
        np.isfinite(results.by) | np.isfinite(results.lost_by) | np.isfinite(results.removed)
    )
    return np.asarray(waiting & (results.last < age))


def in_doubt_at(results: Results, age: float) -> Bools:
    """Propagules that struck between two looks, one before an age and one after it, (p,).

    Args:
        results: what was seen, in days.
        age: days after day 0.
    """
    return np.asarray(np.isfinite(results.by) & (results.after < age) & (age < results.by))


def looked_at(results: Results) -> Bools:
    """Propagules that were seen at all since they were set, or were lost or removed, (p,)."""
    return np.asarray(
        (results.last > 0)
        | np.isfinite(results.by)
        | np.isfinite(results.lost_by)
        | np.isfinite(results.removed)
    )


def horizon_of(results: Results, end: float | None) -> Horizon:
    """The age at which the arms in these results are judged together.

    Before the end: the largest age at which every propagule that was ever looked at is known. The
    end is reached when each unit's own end has passed, or nothing is left to see; it is then the
    age, unless more than one in five of an arm is not known there. Where something struck between
    two looks around that age, the nearest age at which nothing did is taken, if there is one.

    Args:
        results: the units of the arms that are compared.
        end: the plan's last day; None takes what was seen as the whole trial.
    """
    known = looked_at(results)
    arm = results.treatment[results.unit]
    if not len(arm) or any(not known[arm == a].any() for a in np.unique(arm)):
        return Horizon(0.0, end is None or _has_passed(results, end))
    if end is None:
        end, passed = _last_day(results), True
    else:
        passed = _has_passed(results, end)
    unseen = unseen_at(results, end) & known
    if not unseen.any():
        never = ~known
        reached = passed or not never.any()
        return Horizon(_undoubted(results, end, known), reached)
    last, stopped = results.last[unseen], False
    if passed:
        age, stopped = _most_known(results, end, arm, unseen, known)
    else:
        age = float(min(end, last.min()))
    return Horizon(_undoubted(results, age, known), passed, stopped)


def newest_look(results: Results) -> float:
    """The last day on which anything was looked at, 0 where nothing was.

    Args:
        results: what was seen, in days.
    """
    return float(max((max(looks, default=0) for looks in results.looks), default=0))


def _has_passed(results: Results, end: float) -> bool:
    return results.age is not None and bool(np.all(results.age > end))


def _last_day(results: Results) -> float:
    days = [results.by, results.lost_by, results.removed, results.last]
    return float(max((d[np.isfinite(d)].max(initial=0.0) for d in days), default=0.0))


def _most_known(
    results: Results, end: float, arm: np.ndarray, unseen: Bools, known: Bools
) -> tuple[float, bool]:
    """The largest age at which at most one in five of either arm is not known, and whether it is
    earlier than the end.
    """
    age = end
    for a in np.unique(arm):
        last = np.sort(results.last[unseen & (arm == a)])
        allowed = int(np.sum(known & (arm == a))) // _MOST_NOT_KNOWN
        if len(last) > allowed:
            age = min(age, float(last[allowed]))
    return age, age < end


def _undoubted(results: Results, age: float, known: Bools) -> float:
    """The nearest age, within the looks around it, at which nothing struck between two looks."""
    doubt = in_doubt_at(results, age)
    if not doubt.any():
        return age
    reach = float((results.by[doubt] - results.after[doubt]).max())
    ends = np.unique(np.concatenate((results.after[doubt], results.by[doubt])))
    for other in sorted(ends[np.abs(ends - age) <= reach], key=lambda d: (abs(d - age), d)):
        if other <= 0 or in_doubt_at(results, other).any():
            continue
        if not np.any(unseen_at(results, other) & known & ~unseen_at(results, age)):
            return float(other)
    return age


def not_known_at(results: Results, age: float) -> Bools:
    """Propagules of which nobody knows whether they had struck by an age, (p,).

    Args:
        results: what was seen, in days.
        age: days after day 0.
    """
    return unseen_at(results, age) | in_doubt_at(results, age)


def with_lost_sight_of(results: Results, age: float) -> Floats:
    """`removed` with those lost sight of before an age among them, censored at their last look, (p,).

    Args:
        results: what was seen, in days.
        age: days after day 0.
    """
    return np.where(unseen_at(results, age), results.last, results.removed)


def with_not_known(results: Results, age: float) -> Floats:
    """The same with those in doubt at the age censored at their last look below the endpoint, (p,).

    Args:
        results: what was seen, in days.
        age: days after day 0.
    """
    return np.where(in_doubt_at(results, age), results.after, with_lost_sight_of(results, age))


def horizon_of_all(results: Results, end_day: float | None) -> Horizon:
    """The age all treatments that anybody has looked at can be judged at together.

    Args:
        results: what was seen, in days.
        end_day: last day of the plan; None takes the results as finished.
    """
    known = looked_at(results)
    seen = np.unique(results.treatment[results.unit[known]])
    if len(seen) < len(np.unique(results.treatment)):
        results = results.only([int(a) for a in seen])
    return horizon_of(results, end_day)
