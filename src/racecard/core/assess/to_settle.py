"""What would settle it: units of each treatment that would call a difference, four times in five.

References:
    [1] Kish (1965), Survey Sampling: what plants that share a container are worth.
    [2] Guenther (1981), Am. Stat. 35, 243-244: units for a t test, from the normal and z²/4.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil
from typing import TYPE_CHECKING

import numpy as np

from racecard.core.stats import special
from racecard.core.stats.multiplicity import CLEAR_LIMIT
from racecard.core.stats.proportions import anova_icc, typical_size
from racecard.core.stats.sample_size import plants_needed

if TYPE_CHECKING:
    from racecard.core.assess.strike import Shares

MOST_UNITS = 200
"""More than that is told as such."""
_LEAST, _POWER = 0.01, 0.8
_FEWEST_TOLD = 4
"""Containers of each treatment below which their ICC is not estimated from the trial itself."""


@dataclass(frozen=True, slots=True)
class Settled:
    """`units` of each treatment would usually show a difference of `size`, a fraction or in the unit of the outcome.

    `is_expected`: that is what a repeat is expected to bring; else the smallest difference that matters.
    `thing`: what is counted, plants or containers.
    """

    units: int
    size: float
    is_expected: bool
    thing: str


def settled_by(
    shares: "Shares",
    one: int,
    *,
    expected: float | None,
    worthwhile: float,
    candidates: int,
    usual_icc: float,
) -> Settled | None:
    """Units of each treatment that would usually show a difference in shares.

    Containers are counted at the trial's own ICC [1], or at the plan's where they are too few to tell it. Never
    fewer than were used, and None beyond what any bench holds.

    Args:
        shares: units of the two arms at their horizon.
        one: index of the treated arm.
        expected: the difference to expect of a repeat; None plans on the smallest that matters.
        worthwhile: smallest difference that matters, a fraction above 0; taken as a loss where the control
            leaves no room above it.
        candidates: size of the family Holm corrects for, >= 1.
        usual_icc: the plan's likeness of plants in one container.
    """
    treated = shares.treatment == one
    used = shares.keep(~treated & (shares.counted > 0))
    if not len(used.sizes):
        return None
    base = float(used.share.mean())
    size = (
        expected if expected is not None else worthwhile if base + worthwhile <= 1 else -worthwhile
    )
    other = min(1.0, max(0.0, base + size))
    if abs(other - base) < _LEAST:
        return None
    is_shared = bool(np.any(shares.sizes > 1))
    per_unit = _worth_of_a_container(shares, treated, usual_icc) if is_shared else 1.0
    needed = plants_needed(base, other, alpha=CLEAR_LIMIT / max(1, candidates)) / per_unit
    return _told(
        needed, size, expected is not None, is_shared, int(min(treated.sum(), (~treated).sum()))
    )


def settled_by_means(
    spread: float, size: float, used: int, candidates: int, *, is_expected: bool, is_shared: bool
) -> Settled | None:
    """The same for a difference in means: days, scores, measures [2].

    Args:
        spread: standard deviation between units treated alike, above 0.
        size: the difference, in the same unit, not 0.
        used: units of the smaller arm.
        candidates: size of the family Holm corrects for, >= 1.
        is_expected: the difference is what a repeat is expected to bring.
        is_shared: units are containers of several.
    """
    if size == 0:
        return None
    z = float(special.ndtri(1 - CLEAR_LIMIT / max(1, candidates) / 2)), float(special.ndtri(_POWER))
    needed = 2 * (sum(z) * spread / size) ** 2 + z[0] ** 2 / 4
    return _told(needed, size, is_expected, is_shared, used)


def _told(
    needed: float, size: float, is_expected: bool, is_shared: bool, used: int
) -> Settled | None:
    if needed > MOST_UNITS:
        return None
    return Settled(
        max(used, ceil(needed)), size, is_expected, "containers" if is_shared else "plants"
    )


def _worth_of_a_container(shares: "Shares", treated: np.ndarray, usual: float) -> float:
    """How many single plants one container is worth."""
    groups: Sequence[np.ndarray] = [m & (shares.counted > 0) for m in (treated, ~treated)]
    size = typical_size(shares.counted[shares.counted > 0])
    rho = usual
    if min(int(g.sum()) for g in groups) >= _FEWEST_TOLD:
        rho = anova_icc([shares.struck[g] for g in groups], [shares.counted[g] for g in groups])
    return size / max(1.0, 1 + (size - 1) * rho)
