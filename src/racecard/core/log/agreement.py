"""How far two scorers agree: weighted kappa, and whether one is harder than the other.

Weights and standard error: Cohen (1968), Psychol. Bull. 70:213-220; Fleiss, Cohen & Everitt (1969),
Psychol. Bull. 72:323-327.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt
from typing import Literal

import numpy as np
import numpy.typing as npt

from racecard.core.stats import special

Weights = Literal["none", "linear", "quadratic"]


@dataclass(frozen=True, slots=True)
class Agreement:
    """Two scorers on the same plants. kappa is None where neither ever varied.

    `bias`: mean of second less first, in points of the scale, with its 95 % limits (None for one
    plant); `alike`: plants with the same score.
    """

    n: int
    alike: int
    linear: float | None
    quadratic: float | None
    bias: float
    bias_limits: tuple[float, float] | None
    says: str


def weighted_kappa(
    table: npt.ArrayLike, weights: Weights
) -> tuple[float, float] | tuple[None, None]:
    """Weighted kappa of a k × k table and its standard error away from zero.

    Args:
        table: plants by score of the first (rows) and of the second (columns).
        weights: "linear" 1 − |i − j| / (k − 1), "quadratic" 1 − (i − j)² / (k − 1)², "none" 0 or 1.

    Returns:
        kappa and its asymptotic standard error; None where chance alone agrees fully.
    """
    counts = np.asarray(table, float)
    n, k = counts.sum(), len(counts)
    p = counts / n
    row, col = p.sum(1), p.sum(0)
    apart = np.abs(np.subtract.outer(np.arange(k), np.arange(k)))
    w = {
        "none": (apart == 0).astype(float),
        "linear": 1 - apart / (k - 1),
        "quadratic": 1 - (apart / (k - 1)) ** 2,
    }[weights]
    by_chance = float((w * np.outer(row, col)).sum())
    if by_chance >= 1:
        return None, None
    observed = float((w * p).sum())
    kappa = (observed - by_chance) / (1 - by_chance)
    mean_row, mean_col = w @ col, w.T @ row
    inner = w - np.add.outer(mean_row, mean_col) * (1 - kappa)
    variance = (p * inner**2).sum() - (kappa - by_chance * (1 - kappa)) ** 2
    return kappa, sqrt(max(0.0, float(variance)) / n) / (1 - by_chance)


def agreement(first: Sequence[int], second: Sequence[int], levels: int = 6) -> Agreement | None:
    """What two scorers' marks of the same plants say; None without plants.

    Args:
        first: score of each plant, 0 to levels − 1.
        second: the other's, in the same order.
        levels: rungs of the scale.
    """
    if not first:
        return None
    table = np.zeros((levels, levels))
    np.add.at(table, (np.asarray(first), np.asarray(second)), 1)
    linear, _ = weighted_kappa(table, "linear")
    quadratic, _ = weighted_kappa(table, "quadratic")
    gap = np.asarray(second, float) - np.asarray(first, float)
    bias, limits = float(gap.mean()), _limits(gap)
    alike = int((gap == 0).sum())
    return Agreement(
        len(first), alike, linear, quadratic, bias, limits,
        _says(len(first), alike, linear, quadratic, bias, limits),
    )  # fmt: skip


def _limits(gap: npt.NDArray[np.float64]) -> tuple[float, float] | None:
    n = len(gap)
    if n < 2:
        return None
    half = float(special.stdtrit(n - 1, 0.975)) * float(gap.std(ddof=1)) / sqrt(n)
    mean = float(gap.mean())
    return mean - half, mean + half


def _says(
    n: int, alike: int, linear: float | None, quadratic: float | None, bias: float,
    limits: tuple[float, float] | None,
) -> str:  # fmt: skip
    plants = "plant" if n == 1 else "plants"
    head = f"The two gave the same score to {alike} of {n} {plants}."
    if linear is None or quadratic is None:
        return f"{head} Both gave every plant one and the same score, so agreement cannot be told."
    kappa = f" Weighted kappa is {linear:.2f} with linear weights, {quadratic:.2f} with quadratic."
    few = " Fewer than 20 plants: too few to lean on." if n < 20 else ""
    if limits is None or limits[0] <= 0 <= limits[1]:
        return f"{head}{kappa} Neither is seen to be the harder judge.{few}"
    harder = "harder" if bias < 0 else "kinder"
    return (
        f"{head}{kappa} The second is the {harder} judge, by {abs(bias):.1f} points "
        f"({abs(limits[0] if bias > 0 else limits[1]):.1f} to "
        f"{abs(limits[1] if bias > 0 else limits[0]):.1f}).{few}"
    )
