"""Is it just as good: whether a bench can say so, and how often it would.

*Level* is said where the 90 % interval of the gap lies wholly inside the margin.

References:
    [1] Newcombe (1998), Stat. Med. 17, 873-890, method 10, here at 90 %.
"""

from functools import lru_cache

import numpy as np

from racecard.core.arrays import Floats
from racecard.core.plan.exact import binomial_chances
from racecard.core.stats.proportions import z_for


def level_power(units: int, share: float, margin: float, *, gap: float = 0.0) -> float:
    """Chance that two arms of single plants are called level.

    Args:
        units: plants of each arm, >= 1.
        share: the control's true share, in [0, 1].
        margin: largest gap that does not matter, as a fraction above 0.
        gap: true gap of the treated arm; 0 for arms truly alike.
    """
    inside = _inside(units, round(margin, 6))
    other = min(1.0, max(0.0, share + gap))
    return float(binomial_chances(units, other) @ inside @ binomial_chances(units, share))


def can_be_level(units: int, margin: float, share: float = 0.5) -> bool:
    """Whether equal outcomes at about this share would be called level at all.

    Args:
        units: units of each treatment.
        margin: gap that would not matter, as a share in (0, 1).
        share: true share of both arms, in [0, 1].
    """
    k = round(share * units)
    return bool(_inside(units, round(margin, 6))[k, k])


@lru_cache(maxsize=64)
def _inside(units: int, margin: float) -> Floats:
    """1 where k1 of n against k0 of n has its 90 % interval inside the margin, shape (n+1, n+1)."""
    z = z_for(0.90)
    p = np.arange(units + 1) / units
    middle = (p + z * z / (2 * units)) / (1 + z * z / units)
    half = z * np.sqrt(p * (1 - p) / units + z * z / (4 * units**2)) / (1 + z * z / units)
    below, above = p - (middle - half), middle + half - p
    gap = p[:, None] - p
    low = gap - np.sqrt(below[:, None] ** 2 + above**2)
    high = gap + np.sqrt(above[:, None] ** 2 + below**2)
    return ((low > -margin) & (high < margin)).astype(float)
