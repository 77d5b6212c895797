"""What would settle it: single plants an arm that would call a gap, four times in five.

References:
    [1] Casagrande, Pike & Smith (1978), Biometrics 34, 483-486 (continuity-corrected size).
"""

from math import ceil, sqrt

from scipy.special import ndtri

from racecard.core.finish.proportions import Interval

_POWER = 0.8
_MOST_PLANTS = 2000


def plants_needed(p0: float, p1: float, *, alpha: float = 0.05, power: float = _POWER) -> float:
    """Plants an arm for an exact two-sided test of two shares, by the corrected formula [1].

    Args:
        p0, p1: true shares, in [0, 1], different.
        alpha: two-sided level after any correction for several candidates.
        power: chance of calling the gap.
    """
    mean = (p0 + p1) / 2
    gap = abs(p1 - p0)
    za, zb = float(ndtri(1 - alpha / 2)), float(ndtri(power))
    top = za * sqrt(2 * mean * (1 - mean)) + zb * sqrt(p0 * (1 - p0) + p1 * (1 - p1))
    n = (top / gap) ** 2
    return n / 4 * (1 + sqrt(1 + 4 / (n * gap))) ** 2 if n > 0 else 1.0


def units_to_settle(
    base: float, gap: Interval, worthwhile: float, candidates: int
) -> tuple[tuple[str, int], ...]:
    """Plants an arm at the observed gap, the smallest gap worth having, and the limit nearer 0.

    The gap worth having is asked as a gain. No number for a limit on the other side of 0, for a
    gap that would leave 0..100 %, nor beyond what any bench holds (2000).

    Args:
        base: share of the control, in [0, 1].
        gap: observed gap with its interval, fractions.
        worthwhile: smallest gap worth having, a fraction above 0.
        candidates: size of the family Holm corrects for, >= 1.
    """
    sign = 1 if gap.estimate >= 0 else -1
    asked = [
        ("at the gap seen", gap.estimate),
        ("at the smallest gap worth having", worthwhile),
    ]
    near = gap.low if sign > 0 else gap.high
    if near is not None and near * sign > 0:
        asked.append(("at the limit nearer to none", near))
    alpha = 0.05 / max(1, candidates)
    out = []
    for label, size in asked:
        other = base + size
        if abs(size) >= 0.01 and 0 <= other <= 1:
            n = ceil(plants_needed(base, other, alpha=alpha))
            if n <= _MOST_PLANTS:
                out.append((label, n))
    return tuple(out)
