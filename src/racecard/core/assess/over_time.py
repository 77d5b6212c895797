"""Strike over time of two arms: how many, and how soon, of all stuck."""

from dataclasses import dataclass, replace

import numpy as np

from racecard.core.arrays import Bools, Floats, Ints
from racecard.core.assess.horizon import unseen_at, with_not_known
from racecard.core.model.results import Results, look_table, resolved_days
from racecard.core.stats.interval_curve import fit_curve, strike_scores
from racecard.core.stats.permutation import LotQuestion

UNEQUAL = "looked at or lifted unequally"
_UNEQUAL_POINTS = 0.10


@dataclass(frozen=True, slots=True)
class OverTime:
    """What a lot test of strike over time asks, or the reason why its p is withheld."""

    asked: LotQuestion | None
    reason: str = ""


def arm_look_days(results: Results, arm: int) -> frozenset[float]:
    """Days on which an arm was looked at: at least half of its units with something left to see.

    Args:
        results: what was seen, in days.
        arm: index of the treatment.
    """
    mine = results.treatment == arm
    days, seen = look_table(results)
    still_open = resolved_days(results)[mine, None] >= days
    made = (seen[mine] & still_open).sum(axis=0)
    kept = seen[mine].any(axis=0) & (2 * made >= still_open.sum(axis=0))
    return frozenset(float(d) for d in days[kept])


def coarsened(results: Results, days: frozenset[float], end: float) -> Results:
    """All histories rounded outwards to the common look days, and cut at the end.

    Args:
        results: what was seen, in days.
        days: days after day 0 on which both arms were looked at.
        end: age after which nothing is known, days.
    """
    grid = np.array(sorted({0, *(d for d in days if d <= end)}), float)

    def down(values: Floats) -> Floats:
        safe = np.where(np.isfinite(values), values, 0)
        return np.where(
            np.isfinite(values), grid[np.searchsorted(grid, safe, side="right") - 1], np.inf
        )

    by = np.append(grid, np.inf)[np.searchsorted(grid, results.by, side="left")]
    struck = np.isfinite(by)
    return replace(
        results,
        after=np.where(struck, down(results.after), np.inf),
        by=by,
        removed=down(results.removed),
        lost_after=down(results.lost_after),
        lost_by=np.append(grid, np.inf)[np.searchsorted(grid, results.lost_by, side="left")],
    )


def compare_over_time(results: Results, one: int, zero: int, *, end: float = np.inf) -> OverTime:
    """Strike over time of two arms, as scores for a lot test.

    Scores come from the curve of the two arms with all blocks pooled, after coarsening to the
    days on which both were looked at, up to the age `end` at which they are judged; one lost sight of
    is censored at its last look. Withheld where removal or missed looks differ by more than 10
    points, or only one arm had any removed.

    Args:
        results: what was seen, in days.
        one: index of the treated arm.
        zero: index of the control arm.
        end: age both arms are judged at, days after day 0.
    """
    pair = results.only((one, zero))
    if _is_unequal(pair, one, zero):
        return OverTime(None, UNEQUAL)
    both = arm_look_days(pair, one) & arm_look_days(pair, zero)
    days = frozenset(d for d in both if d <= end)
    if not days:
        return OverTime(None, "the two were never looked at on the same day")
    last = max(days)
    if _shares_apart(pair, unseen_at(pair, last), one, zero) > _UNEQUAL_POINTS:
        return OverTime(None, UNEQUAL)
    pair = coarsened(replace(pair, removed=with_not_known(pair, last)), days, last)
    curve = fit_curve(pair.after, pair.by, pair.lost_after, pair.lost_by, pair.removed)
    scores = strike_scores(pair.after, pair.by, pair.removed, curve)
    unit_score = np.bincount(pair.unit, weights=scores) / pair.sizes
    keep = _blocks_with_both(pair.treatment, pair.block)
    treated = pair.treatment[keep] == one
    if not keep.any() or np.ptp(unit_score[keep]) < 1e-12:
        return OverTime(None, "nothing was seen yet that could set the two apart")
    return OverTime(
        LotQuestion(
            unit_score[keep],
            treated,
            pair.block[keep],
            None if pair.held is None else pair.held[keep],
            None if pair.line is None else pair.line[keep],
        )
    )


def _blocks_with_both(treatment: Ints, block: Ints) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    both = [b for b in np.unique(block) if len(np.unique(treatment[block == b])) == 2]
    return np.isin(block, both)


def _is_unequal(pair: Results, one: int, zero: int) -> bool:
    gone = np.isfinite(pair.removed)
    arm = pair.treatment[pair.unit]
    in_one_only = gone[arm == one].any() != gone[arm == zero].any()
    if in_one_only or _shares_apart(pair, gone, one, zero) > _UNEQUAL_POINTS:
        return True
    missed = [_share_missed(pair, a) for a in (one, zero)]
    return abs(missed[0] - missed[1]) > _UNEQUAL_POINTS


def _shares_apart(pair: Results, flags: Bools, one: int, zero: int) -> float:
    """How far the share of flagged propagules differs between two arms."""
    arm = pair.treatment[pair.unit]
    return abs(float(flags[arm == one].mean()) - float(flags[arm == zero].mean()))


def _share_missed(pair: Results, arm: int) -> float:
    """Share of an arm's due looks that were not made, over days on which any unit was seen."""
    mine = pair.treatment == arm
    days, seen = look_table(pair)
    due = resolved_days(pair)[mine, None] >= days
    return 1 - float((due & seen[mine]).sum() / due.sum()) if due.any() else 0.0
