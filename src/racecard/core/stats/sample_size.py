"""Plants an arm for a test of two shares.

References:
    [1] Casagrande, Pike & Smith (1978), Biometrics 34, 483-486 (continuity-corrected size).
"""

from math import sqrt

from racecard.core.stats import special

_POWER = 0.8


def plants_needed(p0: float, p1: float, *, alpha: float = 0.05, power: float = _POWER) -> float:
    """Plants an arm for an exact two-sided test of two shares, by the corrected formula [1].

    Args:
        p0, p1: true shares, in [0, 1], different.
        alpha: two-sided level after any correction for several candidates.
        power: chance of calling the gap.
    """
    mean = (p0 + p1) / 2
    gap = abs(p1 - p0)
    za, zb = float(special.ndtri(1 - alpha / 2)), float(special.ndtri(power))
    top = za * sqrt(2 * mean * (1 - mean)) + zb * sqrt(p0 * (1 - p0) + p1 * (1 - p1))
    n = (top / gap) ** 2
    return n / 4 * (1 + sqrt(1 + 4 / (n * gap))) ** 2 if n > 0 else 1.0
