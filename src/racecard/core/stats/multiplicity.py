"""Limits of p, and what several questions at once do to it.

References:
    [1] Holm (1979), Scand. J. Stat. 6, 65-70.
    [2] Bretz, Maurer, Brannath & Posch (2009), Stat. Med. 28, 586-604, algorithm 2.
"""

from collections.abc import Sequence

import numpy as np

from racecard.core.arrays import Floats

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


def two_claims(
    together: Sequence[float], alone: Sequence[float | None]
) -> tuple[list[float], list[float | None]]:
    """Adjusted p values where each candidate makes up to two claims, at one error rate for all [2].

    The level is shared evenly over the first claims. One that is rejected hands half of its share to its own
    second claim and half evenly to the other first claims; a second one hands its share to those.

    Args:
        together: p of each first claim (agent and carrier together), in [0, 1], shape (k,), k >= 1.
        alone: p of each second claim (the agent beyond its carrier), None where there is none, shape (k,).

    Returns:
        The adjusted p values of both, in the order given. Without a second claim they are Holm's [1].
    """
    k = len(together)
    second = [i for i, p in enumerate(alone) if p is not None]
    if not second:
        return holm(together), [None] * k
    ps = np.array([*together, *(p for p in alone if p is not None)])
    weight = np.array([1 / k] * k + [0.0] * len(second))
    hands = np.zeros((len(ps), len(ps)))
    hands[:k, :k] = 0 if k == 1 else (1 - np.eye(k)) / (k - 1)
    for at, i in enumerate(second, k):
        hands[at, :k] = hands[i, :k]
        hands[i, :k] *= 0.5
        hands[i, at] = 1 - hands[i, :k].sum()
    adjusted, still_open, highest = np.ones(len(ps)), np.ones(len(ps), bool), 0.0
    while (ready := still_open & (weight > TOLERANCE)).any():
        ratio = np.where(ready, ps / np.where(ready, weight, 1), np.inf)
        j = int(ratio.argmin())
        adjusted[j] = highest = max(highest, min(1.0, float(ratio[j])))
        still_open[j] = False
        weight, hands = weight + weight[j] * hands[j], _without(hands, j)
        weight[j] = 0.0
    told: list[float | None] = [None] * k
    for at, i in enumerate(second, k):
        told[i] = float(adjusted[at])
    return [float(p) for p in adjusted[:k]], told


def _without(hands: Floats, j: int) -> Floats:
    """What claims hand on once claim j is rejected: its arrows are passed through [2]."""
    through = hands + np.outer(hands[:, j], hands[j])
    loop = np.repeat(1 - (hands[:, j] * hands[j])[:, None], len(hands), axis=1)
    out: Floats = np.divide(through, loop, out=np.zeros_like(through), where=loop > TOLERANCE)
    out[j] = out[:, j] = 0.0
    np.fill_diagonal(out, 0.0)
    return out


def below(p: float, limit: float) -> bool:
    """Whether p has passed a limit; a p exactly on it, within rounding, has not.

    Args:
        p: the p.
        limit: the limit, such as 0.05.
    """
    return p < limit - 1e-9
