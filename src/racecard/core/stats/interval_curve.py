"""Strike over time: the curve of interval-censored days, milestones, and the score of the lot test.

References:
    [1] Turnbull (1976), J. R. Stat. Soc. B 38, 290-295: the self-consistent estimate.
    [2] Sun (1996), Stat. Med. 15, 1387-1395; Fay & Shaw (2010), J. Stat. Softw. 36(2): scores.
"""

from dataclasses import dataclass

import numpy as np

from racecard.core.arrays import Bools, Floats, Ints
from racecard.errors import InvalidInput

_ROUNDS = 20_000
_CLOSE = 1e-11
_MOST_CODES = 2_000_000
"""Pairs of whole days that are counted in a table rather than sorted."""
_FEW, _MOST_DAYS = 200, 100_000
"""From so many values, and up to such a day, places are read from a table rather than searched."""


@dataclass(frozen=True, slots=True, eq=False)
class Curve:
    """Cumulative share struck of all stuck.

    `days` (k,) ascending ends of the intervals that carry mass, `starts` (k,) their beginnings,
    `share` (k,) the share struck by each day, a fraction; `last` the day the curve reaches to.
    """

    starts: Floats
    days: Floats
    share: Floats
    last: float

    def at(self, day: float) -> float:
        """Share struck by a day; what was struck inside an interval counts from its end.

        Args:
            day: days after day 0.
        """
        i = int(np.searchsorted(self.days, day, side="right"))
        return float(self.share[i - 1]) if i else 0.0

    def reached(self, share: float) -> tuple[float, float] | None:
        """The interval (last look before, first look at] which the share was reached, or None.

        Args:
            share: share struck, in (0, 1].
        """
        past = np.flatnonzero(self.share >= share - 1e-9)
        if not len(past):
            return None
        return float(self.starts[past[0]]), float(self.days[past[0]])


def fit_curve(
    after: Floats,
    by: Floats,
    lost_after: Floats,
    lost_by: Floats,
    removed: Floats,
    weight: Floats | None = None,
) -> Curve:
    """The curve of strike among all stuck, from intervals.

    Nothing removed: a lost propagule never strikes, its interval is (end, inf). Something removed:
    strike and loss are competing causes, and a removed propagule is censored at its last look.

    Args:
        after, by: struck in (after, by], inf where never, shape (p,).
        lost_after, lost_by: lost in (lost_after, lost_by], inf where never.
        removed: last look before it was taken out unstruck, inf where it was not.
        weight: of each propagule, so that containers weigh alike; None: 1 each. Used only where
            something was removed.
    """
    struck, gone = np.isfinite(by), np.isfinite(removed)
    lost = np.isfinite(lost_by) & ~struck & ~gone
    at = np.flatnonzero(struck)  # places are read faster than a mask
    day = by.take(at)
    end = max(float(x.max(initial=0.0)) for x in (day, lost_by[lost], removed[gone]))
    if not gone.any():
        days, starts, mass = self_consistent(after.take(at), day, len(by) - len(day))
        return Curve(starts, days, np.cumsum(mass), end)
    return _two_causes(
        np.where(gone, removed, np.where(lost, lost_after, np.where(struck, after, np.inf))),
        np.where(gone, np.inf, np.where(lost, lost_by, by)),
        lost,
        gone,
        end,
        np.ones(len(by)) if weight is None else weight,
    )


def self_consistent(after: Floats, by: Floats, never: int) -> tuple[Floats, Floats, Floats]:
    """Turnbull's estimate [1] for intervals (after, by] and `never` that lie beyond them all.

    Args:
        after: last look without, days, shape (n,).
        by: first look with, days, above `after`, shape (n,).
        never: plants that were never seen to strike.

    Returns:
        (days, starts, mass): the innermost intervals (start, day] and the mass in each, shape (k,); what
        is left to 1 belongs to the never-struck.

    Raises:
        InvalidInput: no plant at all.

    Method:
        Plain shares where each interval is one innermost one; else expectation and maximisation [1].
    """
    n = len(after) + never
    if n == 0:
        raise InvalidInput("a curve needs at least one propagule", "/after")
    pairs, weight = _distinct(after, by)
    starts, days = _innermost(pairs[:, 0], pairs[:, 1])
    inside = (starts[None, :] >= pairs[:, :1]) & (days[None, :] <= pairs[:, 1:])
    if inside.sum() == len(pairs):
        return days, starts, (inside.T @ weight) / n  # each interval in one cell: plain shares
    mass = _expect_maximise(inside, weight.astype(float), len(after))
    return days, starts, mass * len(after) / n


def _codes(after: Floats, by: Floats) -> tuple[Ints, int] | None:
    """A whole number for each pair of days, low * wide + high, and `wide`; None where days are no whole
    numbers of a small range, as looks are.
    """
    low, high = after.astype(np.int64), by.astype(np.int64)
    # read without its sign, a day below 0 is a huge one
    wide = int(high.view(np.uint64).max(initial=0)) + 1
    most = (int(low.view(np.uint64).max(initial=0)) + 1) * wide
    if most > _MOST_CODES or not ((low == after).all() and (high == by).all()):
        return None
    low *= wide
    low += high
    return low, wide


def _distinct_places(after: Floats, by: Floats) -> tuple[Floats, Ints]:
    """Distinct pairs, shape (k, 2), and which of them each plant has, shape (n,)."""
    coded = _codes(after, by)
    if coded is None:
        return np.column_stack((after, by)), np.arange(len(after))
    codes, wide = coded
    found = np.flatnonzero(np.bincount(codes))
    place = np.empty(int(found[-1]) + 1 if len(found) else 0, np.int64)
    place[found] = np.arange(len(found))
    return np.column_stack((found // wide, found % wide)).astype(float), place[codes]


def _distinct(after: Floats, by: Floats) -> tuple[Floats, Ints]:
    """Distinct pairs in ascending order, shape (k, 2), and how often each occurs.

    Whole days in a small range are counted without sorting.
    """
    coded = _codes(after, by)
    if coded is not None:
        codes, wide = coded
        counts = np.bincount(codes)
        found = np.flatnonzero(counts)
        return np.column_stack((found // wide, found % wide)).astype(float), counts[found]
    both = np.empty(len(after), complex)
    both.real, both.imag = after, by
    pairs, weight = np.unique(both, return_counts=True)  # by the real part, then the imaginary
    return np.column_stack((pairs.real, pairs.imag)), weight


def _innermost(lows: Floats, highs: Floats) -> tuple[Floats, Floats]:
    """Turnbull's sets: a low end directly followed by a high end, reading (low, high]."""
    ends = np.concatenate((lows, highs))
    is_high = np.concatenate((np.zeros(len(lows), bool), np.ones(len(highs), bool)))
    order = np.lexsort((~is_high, ends))  # a high end at a day comes before a low end there
    ends, is_high = ends[order], is_high[order]
    at = np.flatnonzero(~is_high[:-1] & is_high[1:])
    return ends[at], ends[at + 1]


def _expect_maximise(inside: Bools, weight: Floats, n: float) -> Floats:
    """Self-consistency steps with squared extrapolation (Varadhan & Roland 2008)."""
    matrix = inside.astype(float)

    def step(mass: Floats) -> Floats:
        return np.asarray(mass * (matrix.T @ (weight / (matrix @ mass))) / n)

    mass = np.full(matrix.shape[1], 1 / max(1, matrix.shape[1]))
    for _ in range(_ROUNDS):
        one = step(mass)
        two = step(one)
        r, v = one - mass, (two - one) - (one - mass)
        size = float(np.sqrt(v @ v))
        if np.max(np.abs(two - one)) < _CLOSE or size == 0:
            return two
        alpha = -float(np.sqrt(r @ r)) / size
        jump = mass - 2 * alpha * r + alpha * alpha * v
        usable = np.all(jump >= 0) and np.all(matrix @ jump > 0)
        mass = step(jump / jump.sum()) if usable else two
    return mass


def _two_causes(
    lows: Floats, highs: Floats, lost: Bools, gone: Bools, last: float, each: Floats
) -> Curve:
    """Self-consistent estimate with strike and loss as competing causes."""
    waiting = ~np.isfinite(lows)
    cells: list[tuple[float, float, bool]] = []
    for cause in (False, True):
        chosen = np.isfinite(highs) & (lost == cause)
        # a censored low end may start an innermost set of either cause
        starts, days = _innermost(np.concatenate((lows[chosen], lows[gone])), highs[chosen])
        cells += [(a, b, cause) for a, b in zip(starts, days, strict=True)]
    rows = np.column_stack(
        (np.where(waiting, 1e300, lows), np.where(np.isfinite(highs), highs, 2e300), lost)
    )
    rows, kind = np.unique(rows, axis=0, return_inverse=True)
    weight = np.bincount(kind.ravel(), weights=each)
    start, day, cause_of = (np.array([c[i] for c in cells]) for i in range(3))
    start, day = np.append(start, 1e300), np.append(day, 2e300)
    cause_of = np.append(cause_of, False).astype(bool)
    open_end = rows[:, 1] > 1e299
    same = (cause_of[None, :] == rows[:, 2:].astype(bool)) | open_end[:, None]
    inside = (start[None, :] >= rows[:, :1]) & (day[None, :] <= rows[:, 1:2]) & same
    mass = _expect_maximise(inside, weight.astype(float), float(weight.sum()))
    chosen = ~cause_of & (day < 1e299)
    return Curve(start[chosen], day[chosen], np.cumsum(mass[chosen]), last)


def _places(days: Floats, at: Floats) -> Ints:
    """How many of the days, ascending, lie at or before each value; a table where all are whole days."""
    if not len(days) or len(at) < _FEW or days[-1] > _MOST_DAYS or not np.all(at >= 0):
        return np.searchsorted(days, at, side="right")
    top = float(days[-1]) + 1
    near = np.minimum(at, top)
    whole = near.astype(np.int64)
    if not np.array_equal(whole, near):
        return np.searchsorted(days, at, side="right")
    table = np.searchsorted(days, np.arange(int(top) + 1), side="right")
    return np.asarray(table[whole])


def strike_scores(after: Floats, by: Floats, removed: Floats, curve: Curve) -> Floats:
    """Score of each propagule for strike over time [2]; higher is sooner.

    (S_R H_R - S_L H_L) / (S_L - S_R) with H the Nelson–Aalen sum of the pooled curve: the
    expected log-rank score of a propagule known to lie in its interval.

    Args:
        after, by: struck in (after, by], inf where never, shape (p,).
        removed: last look before it was taken out unstruck, inf where it was not.
        curve: pooled curve of the compared arms.
    """
    survival = np.concatenate(([1.0], 1 - curve.share))
    before, mass = survival[:-1], -np.diff(survival)
    hazard = np.concatenate(
        ([0.0], np.cumsum(np.divide(mass, before, where=before > 1e-12, out=np.zeros_like(mass))))
    )
    is_struck = np.isfinite(by)
    struck = np.flatnonzero(is_struck)
    out = np.full(len(by), -hazard[-1])  # never seen to strike: known to the end
    taken = np.flatnonzero(np.isfinite(removed) & ~is_struck)
    out[taken] = -hazard[_places(curve.days, removed[taken])]
    pairs, of_plant = _distinct_places(after.take(struck), by.take(struck))
    i_low, i_high = _places(curve.days, pairs[:, 0]), _places(curve.days, pairs[:, 1])
    s_low, s_high = survival[i_low], survival[i_high]
    h_low, h_high = hazard[i_low], hazard[i_high]
    width = s_low - s_high
    inner = np.divide(
        s_high * h_high - s_low * h_low, width, where=width > 1e-12, out=-h_low.astype(float)
    )
    out[struck] = inner.take(of_plant)
    return out
