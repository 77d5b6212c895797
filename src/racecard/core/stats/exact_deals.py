"""Every way to deal scores within blocks, as distributions of the treated total: exact, or None where it cannot be.

A block is enumerated by how many of each distinct score are dealt, or dealt one by one over a lattice of
whole numbers; blocks are convolved, values nearer than the tolerance taken as tied.
"""

from dataclasses import dataclass
from fractions import Fraction
from math import lcm, prod

import numpy as np

from racecard.core.arrays import Bools, Floats, Ints
from racecard.core.stats.multiplicity import TOLERANCE

_MOST_STATES = 200_000
_MOST_LATTICE_STEPS = 40_000_000

Distribution = tuple[Floats, Floats]
"""Sorted values and their probabilities."""

Key = tuple[int, bytes]
"""How many of a block's scores are dealt, and those scores."""
BlocksKnown = dict[Key, Distribution | None]
"""The distribution of each kind of block that was met."""
_MOST_BLOCKS_KNOWN = 2_000


def exact_halves(
    scores: Floats, treated: Bools, block: Ints, known: BlocksKnown
) -> tuple[Distribution, Distribution] | None:
    """All blocks convolved into two distributions, or None where that is not feasible.

    Args:
        scores: score of each unit, shape (u,), in the order of their blocks.
        treated: which units are of the treatment, shape (u,).
        block: block of each unit, shape (u,), ascending.
        known: distributions of blocks met before; added to.

    Returns:
        Two distributions whose independent sum is that of the treated total.

    Method:
        The longest block goes to the shorter half first, so that neither grows needlessly.
    """
    parts = []
    starts = np.flatnonzero(np.diff(block, prepend=block[0] - 1))
    dealt = np.add.reduceat(treated.astype(np.int64), starts).tolist()
    for start, end, k in zip(starts, [*starts[1:], len(block)], dealt, strict=True):
        mine = scores[start:end]
        key = k, mine.tobytes()
        if key not in known:
            if len(known) > _MOST_BLOCKS_KNOWN:
                known.clear()
            known[key] = block_distribution(mine, k)
        part = known[key]
        if part is None:
            return None
        parts.append(part)
    nothing = (np.zeros(1), np.ones(1))
    halves = [nothing, nothing]
    for part in sorted(parts, key=lambda d: -len(d[0])):
        small = 0 if len(halves[0][0]) <= len(halves[1][0]) else 1
        if len(halves[small][0]) * len(part[0]) > _MOST_STATES:
            return None
        halves[small] = convolved(halves[small], part)
    return halves[0], halves[1]


@dataclass(frozen=True, slots=True)
class BlocksAside:
    """The same test again and again, each time with one block changed or left out.

    The convolutions of all blocks before and of all after each one are worked out once: a test then
    costs one block instead of all of them.
    """

    _before: list[Distribution]
    _after: list[Distribution]
    _keys: list[Key]
    _scale: float

    @classmethod
    def of(cls, scores: Floats, treated: Bools, block: Ints) -> "BlocksAside | None":
        """None where the deals are too many to be told exactly.

        Args:
            scores: score of each unit, shape (u,).
            treated: units of the treatment, shape (u,).
            block: block of each unit, shape (u,).
        """
        scale = float(np.max(np.abs(scores))) or 1.0
        keys = _keys_of(scores / scale, treated, block)
        known: BlocksKnown = {}
        parts = []
        for key in keys:
            if key not in known:
                known[key] = block_distribution(np.frombuffer(key[1]), key[0])
            part = known[key]
            if part is None:
                return None
            parts.append(part)
        before = _chain(parts)
        after = _chain(parts[::-1])
        if before is None or after is None:
            return None
        return cls(before, after[::-1], keys, scale)

    def tails(self, scores: Floats, treated: Bools, block: Ints) -> tuple[float, float] | None:
        """Chances of a treated total at least, and at most, as large; None where more has changed.

        Args:
            scores: whole scores of the units, shape (u,).
            treated: which units are treated, shape (u,).
            block: block of each unit, shape (u,).
        """
        mine = _keys_of(scores / self._scale, treated, block)
        gone = len(self._keys) - len(mine)
        if gone not in (0, 1):
            return None
        at = next((i for i, key in enumerate(mine) if key != self._keys[i]), len(mine) - 1 + gone)
        if mine[at + 1 - gone :] != self._keys[at + 1 :]:
            return None
        beside = self._before[at]
        if gone == 0:
            part = block_distribution(np.frombuffer(mine[at][1]), mine[at][0])
            if part is None or len(part[0]) * len(beside[0]) > _MOST_STATES:
                return None
            beside = convolved(beside, part)
        observed = float(scores[treated].sum()) / self._scale
        return tails(beside, self._after[at + 1], observed)


def _keys_of(scores: Floats, treated: Bools, block: Ints) -> list[Key]:
    """Of each block in its order: how many are dealt, and its scores in order of size."""
    order = np.lexsort((scores, block))
    scores, treated, block = scores[order], treated[order], block[order]
    starts = np.flatnonzero(np.diff(block, prepend=block[0] - 1))
    dealt = np.add.reduceat(treated.astype(np.int64), starts).tolist()
    ends = [*starts[1:], len(block)]
    return [(k, scores[a:b].tobytes()) for a, b, k in zip(starts, ends, dealt, strict=True)]


def _chain(parts: list[Distribution]) -> list[Distribution] | None:
    """The convolution of the first 0, 1, 2 … parts; None where they become too many."""
    out = [(np.zeros(1), np.ones(1))]
    for part in parts:
        if len(out[-1][0]) * len(part[0]) > _MOST_STATES:
            return None
        out.append(convolved(out[-1], part))
    return out


def convolved(a: Distribution, b: Distribution) -> Distribution:
    """Distribution of the sum of two independent ones.

    Args:
        a, b: sorted values and their probabilities, shape (m,) and (n,) each.
    """
    values = np.add.outer(a[0], b[0]).ravel()
    return _merged(values, np.multiply.outer(a[1], b[1]).ravel())


def _merged(values: Floats, probs: Floats) -> Distribution:
    """Sorted, with values nearer than the tolerance taken as tied."""
    order = np.argsort(values)
    values, probs = values[order], probs[order]
    starts = np.flatnonzero(np.concatenate(([True], np.diff(values) > TOLERANCE / 10)))
    return values[starts], np.add.reduceat(probs, starts)


def tails(a: Distribution, b: Distribution, observed: float) -> tuple[float, float]:
    """Chance that a sum of the two reaches the observed value, from above and from below.

    Args:
        a, b: distributions, sorted, as `exact_halves` gives them.
        observed: the total that was seen.

    Returns:
        (up, down): chance of at least, and of at most, the observed value, ties within the tolerance in both.
    """
    upto = np.concatenate(([0.0], np.cumsum(b[1])))
    beyond = np.concatenate((np.cumsum(b[1][::-1])[::-1], [0.0]))
    up = beyond[np.searchsorted(b[0], observed - a[0] - TOLERANCE, side="left")]
    down = upto[np.searchsorted(b[0], observed - a[0] + TOLERANCE, side="right")]
    return min(1.0, float(a[1] @ up)), min(1.0, float(a[1] @ down))


def block_distribution(scores: Floats, k: int) -> Distribution | None:
    """Distribution of the sum of k scores dealt from one block, or None if not feasible.

    Args:
        scores: scores of the block's units, shape (n,).
        k: how many of them are dealt to the treatment, 0 to n.

    Method:
        By how many of each distinct score are dealt, where these are few; else over a lattice.
    """
    values, counts = np.unique(scores, return_counts=True)
    if k in (0, len(scores)):
        return np.array([scores.sum() if k else 0.0]), np.ones(1)
    if prod(int(m) + 1 for m in counts[:40]) <= 20 * _MOST_STATES:
        grouped = _by_groups(values, counts, k)
        if grouped is not None:
            return grouped
    return _by_lattice(scores, k)


def _by_groups(values: Floats, counts: Ints, k: int) -> Distribution | None:
    """Enumerate how many of each distinct score are dealt to the treatment."""
    log_factorial = np.concatenate(([0.0], np.cumsum(np.log(np.arange(1, counts.sum() + 1)))))
    taken, total, log_ways = np.zeros(1, dtype=np.int64), np.zeros(1), np.zeros(1)
    left = int(counts.sum())
    for value, m in zip(values, counts, strict=True):
        left -= int(m)
        j = np.arange(m + 1)
        ways = log_factorial[m] - log_factorial[j] - log_factorial[m - j]
        taken_next = np.add.outer(taken, j)
        keep = (taken_next <= k) & (taken_next + left >= k)
        if keep.sum() > _MOST_STATES:
            return None
        taken = taken_next[keep]
        total = np.add.outer(total, j * value)[keep]
        log_ways = np.add.outer(log_ways, ways)[keep]
    n = int(counts.sum())
    log_all = log_factorial[n] - log_factorial[k] - log_factorial[n - k]
    return _merged(total, np.exp(log_ways - log_all))


def _by_lattice(scores: Floats, k: int) -> Distribution | None:
    """Sequential dealing over a lattice of whole-number scores, where the scores lie on one."""
    whole = _whole_numbers(scores)
    if whole is None:
        return None
    steps, base, unit = whole
    reach = int(np.sort(steps)[-k:].sum()) + 1
    n = len(steps)
    if n * (k + 1) * reach > _MOST_LATTICE_STEPS:
        return None
    chance = np.zeros((k + 1, reach))
    chance[0, 0] = 1.0
    most = np.minimum(np.cumsum([0, *steps]) + 1, reach)
    for i, step in enumerate(steps):
        least, last = max(0, k - (n - i)), min(i, k)  # no other number can have been taken by now
        live = chance[least : last + 1, : most[i]]
        pick = np.minimum((k - np.arange(least, last + 1))[:, None] / (n - i), 1)
        moved = live * pick
        live *= 1 - pick
        onto = chance[least + 1 : last + 2, step : step + most[i]]
        onto += moved[: onto.shape[0], : onto.shape[1]]
    seen = np.flatnonzero(chance[k])
    return np.asarray(base * k + unit * seen, np.float64), chance[k][seen]


_SMALL = np.arange(1, 513)
_EXACT = 1e-13


def _common_denominator(values: Floats) -> int | None:
    """The least number by which all become whole, up to 10**12; None where there is none.

    Small ones are tried at once: fractions below 1/512 and 1/100,000 lie further apart than rounding.
    """
    fits = np.ones(len(_SMALL), bool)
    for start in range(0, len(values), _AT_ONCE):
        some = values[start : start + _AT_ONCE, None]
        near = np.abs(np.rint(some * _SMALL) / _SMALL - some) <= _EXACT
        fits &= near.all(axis=0)
        if not fits.any():
            break
    else:
        return int(_SMALL[fits.argmax()])
    denominator = 1
    for v in values.tolist():
        fraction = Fraction(v).limit_denominator(100_000)
        if abs(float(fraction) - v) > _EXACT:
            return None
        denominator = lcm(denominator, fraction.denominator)
    return denominator if denominator <= 10**12 else None


_AT_ONCE = 16


def _whole_numbers(scores: Floats) -> tuple[Ints, float, float] | None:
    """Scores as base + unit * whole number, or None where no coarse common unit exists."""
    values, at = np.unique(scores, return_inverse=True)
    denominator = _common_denominator(values)
    if denominator is None:
        return None
    whole = np.rint(values * denominator).astype(np.int64)[at]
    shifted = whole - whole.min()
    step = int(np.gcd.reduce(shifted)) or 1
    return shifted // step, float(whole.min() / denominator), step / denominator
