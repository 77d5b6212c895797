"""Root quality: the 0-5 score of the final lift, on all stuck and on those that struck.

References:
    [1] Hodges & Lehmann (1962), Ann. Math. Stat. 33, 482-497: aligned ranks.
    [2] Mann & Whitney (1947), Ann. Math. Stat. 18, 50-60.
"""

from dataclasses import dataclass

import numpy as np

from racecard.core.arrays import Bools, Floats, Ints
from racecard.core.model.results import Results
from racecard.core.stats.permutation import LotQuestion


@dataclass(frozen=True, slots=True)
class ArmQuality:
    """Counts per score 0-5 of all stuck, the mean of all and of the struck, and how many unscored."""

    counts: tuple[int, ...]
    mean_all: float | None
    mean_struck: float | None
    n_struck: int
    unscored: int


@dataclass(frozen=True, slots=True)
class Quality:
    """Comparison of two arms: what a lot test of their scores asks, if it can. `superiority` is the
    chance that a random treated one beats a random control one, ties counting half.
    """

    asked: LotQuestion | None
    superiority: float | None
    superiority_struck: float | None
    reason: str = ""


NOT_SCORED = "nothing scored or measured yet"


def unit_scores(results: Results) -> tuple[Floats, Bools]:
    """Score of each unit with none = 0 for the lost, nan where not scored; and which struck."""
    u = len(results.treatment)
    gone = np.bincount(results.unit, weights=np.isfinite(results.lost_by), minlength=u)
    lost = gone == results.sizes
    struck = np.bincount(results.unit, weights=np.isfinite(results.by), minlength=u) > 0
    scores = np.where(np.isnan(results.score) & lost, 0.0, results.score)
    return scores, struck


def arm_quality(results: Results, arm: int) -> ArmQuality | None:
    """Score counts and means of one arm, or None where the trial has no scores at all.

    Args:
        results: what was seen, in days.
        arm: index of the treatment.
    """
    if np.all(np.isnan(results.score)):
        return None
    scores, struck = unit_scores(results)
    mine = results.treatment == arm
    known = mine & ~np.isnan(scores)
    rooted = known & struck
    counts = tuple(int(np.sum(np.rint(scores[known]) == s)) for s in range(6))
    return ArmQuality(
        counts,
        float(scores[known].mean()) if known.any() else None,
        float(scores[rooted].mean()) if rooted.any() else None,
        int(rooted.sum()),
        int(mine.sum() - known.sum()),
    )


def compare_quality(results: Results, one: int, zero: int) -> Quality:
    """Root scores of two arms, by aligned ranks [1]; without blocks the test is exact Mann–Whitney [2].

    Args:
        results: what was seen, in days.
        one: index of the treated arm.
        zero: index of the control arm.
    """
    if np.all(np.isnan(results.score)):
        return Quality(None, None, None, NOT_SCORED)
    scores, struck = unit_scores(results)
    mine = np.isin(results.treatment, (one, zero)) & ~np.isnan(scores)
    treated = results.treatment == one
    if not (mine & treated).any() or not (mine & ~treated).any():
        return Quality(None, None, None, NOT_SCORED)
    keep = mine & _both_arms(results.treatment, results.block, mine)
    superiority = _superiority(scores[mine & treated], scores[mine & ~treated])
    rooted = mine & struck
    on_struck = _superiority(scores[rooted & treated], scores[rooted & ~treated])
    if not keep.any():
        return Quality(None, superiority, on_struck, "no block has scores of both")
    ranks = aligned_ranks(scores[keep], results.block[keep])
    asked = LotQuestion(
        ranks,
        treated[keep],
        results.block[keep],
        None if results.held is None else results.held[keep],
        None if results.line is None else results.line[keep],
    )
    return Quality(asked, superiority, on_struck)


def aligned_ranks(values: Floats, block: Ints) -> Floats:
    """Midranks over all units of each value less its block's mean [1].

    Args:
        values: one value a unit, shape (u,).
        block: block of each unit, shape (u,).
    """
    aligned = values.astype(float).copy()
    for b in np.unique(block):
        aligned[block == b] -= aligned[block == b].mean()
    _, inverse, counts = np.unique(np.round(aligned, 9), return_inverse=True, return_counts=True)
    ends = np.cumsum(counts)
    return np.asarray((ends - (counts - 1) / 2)[inverse], float)


def _both_arms(treatment: Ints, block: Ints, mask: Bools) -> Bools:
    both = [b for b in np.unique(block) if len(np.unique(treatment[mask & (block == b)])) == 2]
    return np.isin(block, both)


def _superiority(treated: Floats, control: Floats) -> float | None:
    if not len(treated) or not len(control):
        return None
    ordered = np.sort(control)
    below = np.searchsorted(ordered, treated, side="left")
    upto = np.searchsorted(ordered, treated, side="right")
    return float(np.mean(below + upto) / (2 * len(control)))
