"""Intervals for one share and for the gap between two, of single propagules and of containers.

All shares and limits are fractions in [0, 1] or [-1, 1], never percent.

References:
    [1] Wilson (1927), J. Am. Stat. Assoc. 22, 209-212.
    [2] Newcombe (1998), Stat. Med. 17, 873-890, method 10.
    [3] Newcombe (1998), Stat. Med. 17, 2635-2650, method 10 (paired).
    [4] Miettinen & Nurminen (1985), Stat. Med. 4, 213-226.
    [5] Kish (1965), Survey Sampling; Fleiss (1981) for the ANOVA estimate of the ICC of binary clusters.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import sqrt

import numpy as np
from numpy.typing import ArrayLike

from racecard.core.arrays import Floats
from racecard.core.stats import special
from racecard.errors import InvalidInput

_GRID = 24
_MOST_STEPS = 80
_CLOSE = 1e-11


@dataclass(frozen=True, slots=True)
class Interval:
    """An estimate with its limits; limits None where no interval is honest, with the reason."""

    estimate: float
    low: float | None
    high: float | None
    method: str
    reason: str = ""

    @property
    def leaves_out_zero(self) -> bool:
        """Whether there are limits and both lie on the same side of 0."""
        return self.low is not None and self.high is not None and (self.low > 0 or self.high < 0)


def z_for(level: float) -> float:
    """Two-sided normal quantile of a coverage in (0, 1)."""
    if not 0 < level < 1:
        raise InvalidInput(f"level must be between 0 and 1, got {level}", "/level")
    return float(special.ndtri(0.5 + level / 2))


def t_for(level: float, df: float) -> float:
    """Two-sided quantile of Student's t.

    Args:
        level: coverage, such as 0.95.
        df: degrees of freedom, above 0.
    """
    return float(special.stdtrit(df, 0.5 + level / 2))


def wilson_limits(share: float, n: float, z: float) -> tuple[float, float]:
    """Score limits of a share [1].

    Args:
        share: the share seen, a fraction.
        n: how many it is of, above 0; may be an effective number.
        z: quantile of the normal curve, or of t.

    Raises:
        InvalidInput: n is not above 0.
    """
    if n <= 0:
        raise InvalidInput(f"n must be above 0, got {n}", "/n")
    mid = (share + z * z / (2 * n)) / (1 + z * z / n)
    half = z * sqrt(share * (1 - share) / n + z * z / (4 * n * n)) / (1 + z * z / n)
    low = 0.0 if share <= 0 else max(0.0, mid - half)
    high = 1.0 if share >= 1 else min(1.0, mid + half)
    return low, high


def wilson(hits: int, n: int, level: float = 0.95) -> Interval:
    """Share of n single propagules with its Wilson score interval [1].

    Args:
        hits: how many struck, 0 to n.
        n: how many there are, at least 1.
        level: coverage.

    Raises:
        InvalidInput: hits beyond n, or no propagule.
    """
    _check_hits(hits, n)
    return Interval(hits / n, *wilson_limits(hits / n, n, z_for(level)), method="wilson")


def hybrid_limits(
    p1: float, one: tuple[float, float], p0: float, zero: tuple[float, float]
) -> tuple[float, float]:
    """Limits of p1 - p0 from the limits of each share [2].

    Args:
        p1, p0: the two shares, fractions.
        one, zero: limits of each, fractions.
    """
    d = p1 - p0
    low = d - sqrt((p1 - one[0]) ** 2 + (zero[1] - p0) ** 2)
    high = d + sqrt((one[1] - p1) ** 2 + (p0 - zero[0]) ** 2)
    return max(-1.0, low), min(1.0, high)


def newcombe(hits1: int, n1: int, hits0: int, n0: int, level: float = 0.95) -> Interval:
    """Gap between two shares of single propagules, hybrid score interval [2].

    Args:
        hits1, n1: struck and all of the treatment.
        hits0, n0: struck and all of the control.
        level: coverage.

    Raises:
        InvalidInput: hits beyond n, or no propagule.
    """
    _check_hits(hits1, n1)
    _check_hits(hits0, n0)
    z = z_for(level)
    p1, p0 = hits1 / n1, hits0 / n0
    limits = hybrid_limits(p1, wilson_limits(p1, n1, z), p0, wilson_limits(p0, n0, z))
    return Interval(p1 - p0, *limits, method="newcombe")


def newcombe_paired(
    both: int, only1: int, only0: int, neither: int, level: float = 0.95
) -> Interval:
    """Gap between two shares from matched pairs, hybrid score with correlation [3].

    Args:
        both, neither: pairs in which both struck, and in which none of the two did.
        only1, only0: pairs in which the treated one alone struck, and the control alone.
        level: coverage in (0, 1).
    """
    n = both + only1 + only0 + neither
    _check_hits(both + only1, n)
    z = z_for(level)
    p1, p0 = (both + only1) / n, (both + only0) / n
    l1, u1 = wilson_limits(p1, n, z)
    l0, u0 = wilson_limits(p0, n, z)
    phi = _pair_phi(both, only1, only0, neither)
    d = (only1 - only0) / n
    a, b = p1 - l1, u0 - p0
    c, e = u1 - p1, p0 - l0
    low = d - sqrt(max(0.0, a * a - 2 * phi * a * b + b * b))
    high = d + sqrt(max(0.0, c * c - 2 * phi * c * e + e * e))
    return Interval(d, max(-1.0, low), min(1.0, high), method="newcombe_paired")


def _pair_phi(a: int, b: int, c: int, d: int) -> float:
    product = (a + b) * (c + d) * (a + c) * (b + d)
    if product == 0:
        return 0.0
    n = a + b + c + d
    top = float(a * d - b * c)
    # [3]: continuity correction of a positive correlation
    top = max(top - n / 2, 0) if top > 0 else top
    return top / sqrt(product)


def stratified_score(
    hits1: ArrayLike, n1: ArrayLike, hits0: ArrayLike, n0: ArrayLike, level: float = 0.95
) -> Interval:
    """Mantel–Haenszel gap over blocks with the stratified score interval [4].

    Weights n1*n0/N; variances restricted to the gap under test, with N/(N - 1); the limits are
    found by repeated section.

    Args:
        hits1: struck treated per block, shape (b,); `n1`, `hits0`, `n0` likewise; every n >= 1.
        n1: treated per block.
        hits0: struck controls per block.
        n0: controls per block.
        level: coverage in (0, 1).
    """
    told = (tuple(np.asarray(v, float).tolist()) for v in (hits1, n1, hits0, n0))
    return _stratified_score(*told, level)


Told = tuple[float, ...]


@lru_cache(maxsize=20_000)
def _stratified_score(hits1: Told, n1: Told, hits0: Told, n0: Told, level: float) -> Interval:
    """The same of remembered counts: a dry run asks for the same tables again and again."""
    x1, m1, x0, m0 = (np.array(v) for v in (hits1, n1, hits0, n0))
    if not len(m1) or np.any(m1 < 1) or np.any(m0 < 1):
        raise InvalidInput("every block needs at least one unit of each treatment", "/n1")
    weights = m1 * m0 / (m1 + m0)
    gap = float(np.sum(weights * (x1 / m1 - x0 / m0)) / np.sum(weights))
    z = z_for(level)

    def excess(delta: Floats) -> Floats:
        """How far each delta lies beyond the gap, less what the doubt allows; positive: outside."""
        variance = _restricted_variance(x1, m1, x0, m0, delta[:, None])
        spread = np.sqrt(np.sum(weights**2 * variance, axis=1)) / np.sum(weights)
        return np.asarray(np.abs(gap - delta) - z * spread)

    low, high = _limits(excess, gap)
    return Interval(gap, low, high, method="stratified_score")


def _limits(excess: Callable[[Floats], Floats], gap: float) -> tuple[float, float]:
    """Where excess changes sign below and above the gap; -1 and 1 where it never does.

    A grid brackets both roots, then false position with halved weights closes in on them together.
    """
    grid = np.linspace(0.0, 1.0, _GRID + 1)
    points = np.stack([-1 + (gap + 1) * grid, 1 + (gap - 1) * grid])
    values = excess(points.ravel()).reshape(points.shape)
    values[:, -1] = np.minimum(values[:, -1], 0.0)  # the gap itself is never rejected
    found = values[:, 0] > 0
    first = np.argmax(values <= 0, axis=1)
    side = np.arange(2)
    outer, inner = points[side, np.maximum(first - 1, 0)], points[side, first]
    # where the gap is the edge itself its value is 0 and the root lies before it, so it must weigh
    # as inside, or false position would stop at the edge with a width of 0
    high = values[side, np.maximum(first - 1, 0)]
    low = np.where(first == _GRID, np.minimum(values[side, first], -high / 2), values[side, first])
    point = before = (outer + inner) / 2
    was_outside = np.zeros(2, bool)
    for step in range(_MOST_STEPS):
        span = high - low
        share = np.where(span > 0, high / np.where(span > 0, span, 1.0), 0.5)
        point = outer + (inner - outer) * share
        if not found.any() or np.max(np.abs(point - before)[found]) < _CLOSE:
            break
        value, before = excess(point), point
        outside = value > 0
        again = (outside == was_outside) & (step > 0)  # one end was kept twice: it weighs half
        low, high = (
            np.where(again & outside, low / 2, low),
            np.where(again & ~outside, high / 2, high),
        )
        outer, high = np.where(outside, point, outer), np.where(outside, value, high)
        inner, low = np.where(outside, inner, point), np.where(outside, low, value)
        was_outside = outside
    return tuple(np.where(found, point, (-1.0, 1.0)).tolist())


def _restricted_variance(x1: Floats, n1: Floats, x0: Floats, n0: Floats, delta: Floats) -> Floats:
    """Per-block variance of the gap at the shares most likely under p1 - p0 = delta [4]."""
    n, c = n1 + n0, x1 + x0
    l2 = (n1 + 2 * n0) * delta - n - c
    l1 = (n0 * delta - n - 2 * x0) * delta + c
    l0 = x0 * delta * (1 - delta)
    third = l2 / (3 * n)
    q = third**3 - l1 * l2 / (6 * n**2) + l0 / (2 * n)
    s = np.where(q >= 0, 1.0, -1.0) * np.sqrt(np.maximum(0, third**2 - l1 / (3 * n)))
    ratio = np.divide(q, s**3, out=np.zeros_like(q), where=np.abs(s) > 1e-12)
    angle = (np.pi + np.arccos(np.clip(ratio, -1, 1))) / 3
    p0 = np.clip(2 * s * np.cos(angle) - third, np.maximum(0.0, -delta), np.minimum(1.0, 1 - delta))
    p1 = np.clip(p0 + delta, 0, 1)
    return np.asarray((p1 * (1 - p1) / n1 + p0 * (1 - p0) / n0) * n / (n - 1))


def anova_icc(hits: Sequence[Floats], sizes: Sequence[Floats]) -> float:
    """Likeness of propagules in one container: one-way ANOVA of 0/1 within treatment [5].

    Args:
        hits: for each treatment the struck per container.
        sizes: for each treatment the propagules per container.

    Returns:
        Intra-container correlation, negative set to 0; 0 where it cannot be estimated.
    """
    containers = sum(len(m) for m in sizes)
    df_between = containers - len(sizes)
    total = float(sum(m.sum() for m in sizes))
    df_within = total - containers
    if df_between < 1 or df_within < 1:
        return 0.0
    between = within = bias = 0.0
    for x, m in zip(hits, sizes, strict=True):
        p = x.sum() / m.sum()
        between += float(np.sum(m * (x / m - p) ** 2))
        within += float(np.sum(x * (1 - x / m)))
        bias += float(np.sum(m**2) / m.sum())
    msb, msw = between / df_between, within / df_within
    typical = (total - bias) / df_between
    spread = msb + (typical - 1) * msw
    return max(0.0, (msb - msw) / spread) if spread > 0 else 0.0


def effective_number(sizes: Floats, rho: float, size: float) -> float:
    """Propagules these containers are worth: n / deff, deff = 1 + (m' - 1) rho, at least 1 [5].

    Args:
        sizes: propagules of each container, shape (u,).
        rho: intraclass correlation within a container.
        size: m', the mean size that the correlation acts on.
    """
    return float(sizes.sum()) / max(1.0, 1 + (size - 1) * rho)


def typical_size(sizes: Floats) -> float:
    """Size-weighted mean container size m' = sum m^2 / sum m.

    Args:
        sizes: plants of each container, shape (c,).
    """
    return float(np.sum(sizes**2) / sizes.sum())


def _check_hits(hits: int, n: int) -> None:
    if n < 1:
        raise InvalidInput(f"n must be 1 or more, got {n}", "/n")
    if not 0 <= hits <= n:
        raise InvalidInput(f"hits must be 0..{n}, got {hits}", "/hits")
