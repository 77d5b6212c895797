"""What would settle it: units of each treatment that would call a difference, four times in five.

References:
    [1] Kish (1965), Survey Sampling: what plants that share a container are worth.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import ceil
from typing import TYPE_CHECKING

import numpy as np

from racecard.core.stats.proportions import Interval, anova_icc, typical_size
from racecard.core.stats.sample_size import plants_needed

if TYPE_CHECKING:
    from racecard.core.assess.strike import Shares

_MOST_UNITS = 2000
_FEWEST_TOLD = 4
"""Containers of each treatment below which their ICC is not estimated from the trial itself."""


class Of(StrEnum):
    """Which difference a number of units would settle."""

    SEEN = "seen"
    WORTH = "worth"
    LIMIT = "limit"


@dataclass(frozen=True, slots=True)
class Settled:
    """`units` of each treatment would settle it if the difference is as `label` says.

    `thing`: what is counted, plants or containers; `size`: the difference, a fraction.
    """

    label: str
    units: int
    thing: str
    size: float
    of: Of


def settled_by(
    shares: "Shares",
    one: int,
    gap: Interval,
    worthwhile: float,
    candidates: int,
    *,
    may_be_seen: bool,
    usual_icc: float,
) -> tuple[Settled, ...]:
    """Units of each treatment at the observed difference, the smallest that matters, and the nearer limit.

    Containers are counted at the trial's own ICC [1], or at the plan's where they are too few to
    tell it. Never fewer than were used. No number for a limit on the other side of 0, for a
    difference that would leave 0..100 %, nor beyond what any bench holds (2000).

    Args:
        shares: units of the two arms at their horizon.
        one: index of the treated arm.
        gap: observed gap with its interval, fractions.
        worthwhile: smallest smallest difference that matters, a fraction above 0.
        candidates: size of the family Holm corrects for, >= 1.
        may_be_seen: False where the design could not have told, so that what was seen tells no size.
        usual_icc: correlation of plants in one container by the plan.
    """
    treated = shares.treatment == one
    used = shares.keep(~treated & (shares.counted > 0))
    if not len(used.sizes):
        return ()
    base = float(used.share.mean())
    sign = 1 if gap.estimate >= 0 else -1
    worth = worthwhile if base + worthwhile <= 1 else -worthwhile
    asked = [(f"if it is {100 * worthwhile:.0f} points", worth, Of.WORTH)]
    near = gap.low if sign > 0 else gap.high
    if may_be_seen:
        asked.insert(0, ("if the difference is as large as seen", gap.estimate, Of.SEEN))
        if near is not None and near * sign > 0:
            asked.append(("if it is as small as the interval allows", near, Of.LIMIT))
    fewest = int(min(treated.sum(), (~treated).sum()))
    is_shared = bool(np.any(shares.sizes > 1))
    per_unit = _worth_of_a_container(shares, treated, usual_icc) if is_shared else 1.0
    alpha = 0.05 / max(1, candidates)
    out = []
    for label, size, of in asked:
        other = base + size
        if abs(size) >= 0.01 and 0 <= other <= 1:
            n = max(fewest, ceil(plants_needed(base, other, alpha=alpha) / per_unit))
            if n <= _MOST_UNITS:
                out.append(Settled(label, n, "containers" if is_shared else "plants", size, of))
    return tuple(out)


def _worth_of_a_container(shares: "Shares", treated: np.ndarray, usual: float) -> float:
    """How many single plants one container is worth."""
    groups: Sequence[np.ndarray] = [m & (shares.counted > 0) for m in (treated, ~treated)]
    size = typical_size(shares.counted[shares.counted > 0])
    rho = usual
    if min(int(g.sum()) for g in groups) >= _FEWEST_TOLD:
        rho = anova_icc([shares.struck[g] for g in groups], [shares.counted[g] for g in groups])
    return size / max(1.0, 1 + (size - 1) * rho)
