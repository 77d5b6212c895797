"""Limits of p, and what several questions at once do to it.

References:
    [1] Holm (1979), Scand. J. Stat. 6, 65-70.
"""

from collections.abc import Sequence

CLEAR_LIMIT = 0.05
LIKELY_LIMIT = 0.10
TOLERANCE = 1e-10


def holm(ps: Sequence[float]) -> list[float]:
    """Holm's adjusted p values (1979, Scand. J. Stat. 6, 65-70), in the order given.

    Args:
        ps: p values of one family, in [0, 1].
    """
    k = len(ps)
    adjusted = [0.0] * k
    highest = 0.0
    for rank, i in enumerate(sorted(range(k), key=lambda i: ps[i])):
        highest = max(highest, min(1.0, (k - rank) * ps[i]))
        adjusted[i] = highest
    return adjusted


def below(p: float, limit: float) -> bool:
    """Whether p has passed a limit; a p exactly on it, within rounding, has not.

    Args:
        p: the p.
        limit: the limit, such as 0.05.
    """
    return p < limit - 1e-9
