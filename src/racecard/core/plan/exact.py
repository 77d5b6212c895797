"""Exact power of the lot test for single plants: two arms, pairs, and blocks.

Power is the chance of the test's part of grade *clear*: Holm p < 0.05 for one candidate at the
first Holm step, the others doing nothing. A call in either direction counts. Everything is
enumerated over all outcomes; nothing is sampled.

References:
    [1] Fay (2010), Biostatistics 11, 373-374: the central two-sided p.
    [2] McNemar (1947), Psychometrika 12, 153-157; the exact test of the discordant pairs.
"""

from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations_with_replacement
from math import comb, factorial, prod

import numpy as np

from racecard.core.arrays import Bools, Floats, Ints
from racecard.core.stats import special
from racecard.core.stats.permutation import CLEAR_ENOUGH

MOST_EXACT = 1200
"""Units an arm up to which two arms are enumerated."""
_MOST_MARGIN_CELLS = 360_000


@dataclass(frozen=True, slots=True, eq=False)
class ArmsTable:
    """Two arms of single plants, no blocks.

    `enough` and `few` (n0 + 1,): for each number of controls struck, the smallest treated number
    called ahead (n1 + 1: none is), and the largest called behind (-1: none is).
    """

    treated_units: int
    control_units: int
    enough: Ints
    few: Ints

    def power(self, control: float, treated: float) -> float:
        """Chance of a clear call at true shares in [0, 1].

        Args:
            control: true share of the control, in [0, 1].
            treated: true share of the treated, in [0, 1].
        """
        upto = np.concatenate(([0.0], np.cumsum(binomial_chances(self.treated_units, treated))))
        called = 1 - upto[self.enough] + upto[self.few + 1]
        return float(min(1.0, binomial_chances(self.control_units, control) @ called))


@lru_cache(maxsize=256)
def arms_table(treated_units: int, control_units: int, family: int) -> ArmsTable:
    """Which outcomes of two arms would be called clear by the central Fisher test [1].

    Args:
        treated_units, control_units: units of each arm, >= 1.
        family: candidates that Holm corrects for, >= 1.
    """
    n1, n0 = treated_units, control_units
    most, least = _critical(n1, n0, family)
    b, a = np.arange(n1 + 1), np.arange(n0 + 1)[:, None]
    ahead = b >= most[a + b]
    behind = b <= least[a + b]
    enough = np.where(ahead.any(axis=1), ahead.argmax(axis=1), n1 + 1)
    few = np.where(behind.any(axis=1), n1 - behind[:, ::-1].argmax(axis=1), -1)
    return ArmsTable(n1, n0, enough, few)


def _critical(n1: int, n0: int, family: int) -> tuple[Ints, Ints]:
    """For each number struck in both arms: the treated totals from and to which it is clear."""
    n = n1 + n0
    s = np.arange(n + 1)[:, None]
    spread = np.sqrt(n1 * n0 / n * np.clip(s * (n - s), 0, None) / (n * max(1, n - 1)))
    width = int(min(n1, 18 * spread.max() + 6))
    start = np.clip(np.floor(s * n1 / n).astype(int) - width // 2, 0, n1 - width)
    t = start + np.arange(width + 1)
    possible = (t <= s) & (s - t <= n0)
    log = np.where(
        possible,
        _log_choose(n1)[t] + _log_choose(n0)[np.clip(s - t, 0, n0)] - _log_choose(n)[s],
        -np.inf,
    )
    chance = np.exp(log)
    up = np.cumsum(chance[:, ::-1], axis=1)[:, ::-1]
    down = np.cumsum(chance, axis=1)
    is_up = possible & (2 * family * up < CLEAR_ENOUGH)
    is_down = possible & (2 * family * down < CLEAR_ENOUGH)
    most = np.where(is_up.any(axis=1), np.take_along_axis(t, is_up.argmax(1)[:, None], 1)[:, 0], n)
    last = width - is_down[:, ::-1].argmax(axis=1)
    least = np.where(is_down.any(axis=1), np.take_along_axis(t, last[:, None], 1)[:, 0], -1)
    return np.asarray(np.where(is_up.any(axis=1), most, n1 + 1)), np.asarray(least)


def pair_shares(control: float, treated: float, agree: float) -> tuple[float, float]:
    """Shares of pairs in which only the treated one strikes, and only the control.

    Args:
        control, treated: true shares in [0, 1].
        agree: 0 for pairs no more alike than chance, up to 1 for as alike as the shares allow.
    """
    both = treated * control
    both += agree * (min(treated, control) - both)
    return max(0.0, treated - both), max(0.0, control - both)


@lru_cache(maxsize=128)
def _pair_calls(pairs: int, family: int) -> Bools:
    """Row d: whether k treated strikes among d discordant pairs are called clear [2]."""
    d, k = np.arange(pairs + 1)[:, None], np.arange(pairs + 1)
    possible = k <= d
    log = special.gammaln(d + 1) - special.gammaln(np.where(possible, k, 0) + 1)
    log = log - special.gammaln(np.where(possible, d - k, 0) + 1) - d * np.log(2)
    chance = np.exp(np.where(possible, log, -np.inf))
    up = np.cumsum(chance[:, ::-1], axis=1)[:, ::-1]
    tail = np.minimum(up, np.cumsum(chance, axis=1))
    return np.asarray(possible & (2 * family * tail < CLEAR_ENOUGH))


def pairs_power(
    pairs: int, control: float, treated: float, agree: float = 0.0, family: int = 1
) -> float:
    """Chance of a clear call from matched pairs, one control and one treated each [2].

    Args:
        pairs: number of pairs, >= 1.
        control, treated: true shares in [0, 1].
        agree: correlation within a pair, as in `pair_shares`.
        family: candidates that Holm corrects for, >= 1.
    """
    only_treated, only_control = pair_shares(control, treated, agree)
    apart = only_treated + only_control
    if apart <= 0:
        return 0.0
    calls = _pair_calls(pairs, family)
    d, k = np.arange(pairs + 1)[:, None], np.arange(pairs + 1)
    ways = (
        special.gammaln(d + 1)
        - special.gammaln(k + 1)
        - special.gammaln(np.where(k <= d, d - k, 0) + 1)
    )
    up = only_treated / apart
    chance = np.exp(
        np.where(calls, ways + special.xlogy(k, up) + special.xlogy(d - k, 1 - up), -np.inf)
    )
    return float(min(1.0, binomial_chances(pairs, apart) @ chance.sum(axis=1)))


@dataclass(frozen=True, slots=True, eq=False)
class BlocksTable:
    """Single plants in blocks.

    `margins` (s, b): struck in both arms together, per block; `ways` (s,): how many orderings of
    equal blocks each row stands for; `calls` (s, t): whether a treated total is called clear.
    """

    sizes: tuple[int, ...]
    margins: Ints
    ways: Floats
    calls: Bools

    def power(self, control: float, treated: float) -> float:
        """Chance of a clear call at true shares in [0, 1].

        Args:
            control: true share of the control, in [0, 1].
            treated: true share of the treated, in [0, 1].
        """
        joint = _joint(self.sizes[0], control, treated)[self.margins[:, 0]]
        for b, n in list(enumerate(self.sizes))[1:]:
            joint = _convolved(joint, _joint(n, control, treated)[self.margins[:, b]])
        return float(min(1.0, np.sum(self.ways[:, None] * joint * self.calls)))


@lru_cache(maxsize=64)
def blocks_table(sizes: tuple[int, ...], family: int) -> BlocksTable:
    """The clear calls of the exact stratified test.

    Args:
        sizes: units of each arm in each block, the same for both arms.
        family: candidates that Holm corrects for, >= 1.
    """
    margins, ways = _margins(sizes)
    chance = _hypergeometric(sizes[0])[margins[:, 0]]
    for b, n in list(enumerate(sizes))[1:]:
        chance = _convolved(chance, _hypergeometric(n)[margins[:, b]])
    up = np.cumsum(chance[:, ::-1], axis=1)[:, ::-1]
    tail = np.minimum(up, np.cumsum(chance, axis=1))
    calls = (2 * tail * family < CLEAR_ENOUGH) & (chance > 0)
    return BlocksTable(sizes, margins, ways, calls)


def fits(sizes: tuple[int, ...]) -> bool:
    """Whether the enumeration over block margins is small enough to answer as one types.

    Args:
        sizes: units of each block.
    """
    rows = prod(_rows_of(n, sizes.count(n)) for n in set(sizes))
    return rows * (sum(sizes) + 1) <= _MOST_MARGIN_CELLS


def _rows_of(n: int, blocks: int) -> int:
    return prod(range(2 * n + 1, 2 * n + 1 + blocks)) // factorial(blocks)


def _margins(sizes: tuple[int, ...]) -> tuple[Ints, Floats]:
    """Every multiset of margins among blocks of equal size, with its number of orderings."""
    rows, ways = np.zeros((1, 0), dtype=np.int64), np.ones(1)
    for n in sorted(set(sizes), key=sizes.index):
        b = sizes.count(n)
        part = np.array(list(combinations_with_replacement(range(2 * n + 1), b)), dtype=np.int64)
        counts = np.apply_along_axis(np.bincount, 1, part, minlength=2 * n + 1)
        orders = np.exp(special.gammaln(b + 1) - special.gammaln(counts + 1).sum(axis=1))
        rows = np.hstack((np.repeat(rows, len(part), axis=0), np.tile(part, (len(rows), 1))))
        ways = np.outer(ways, orders).ravel()
    return rows, ways


def _convolved(left: Floats, right: Floats) -> Floats:
    """Row-wise convolution of (s, i) and (s, j)."""
    out = np.zeros((len(left), left.shape[1] + right.shape[1] - 1))
    for t in range(right.shape[1]):
        out[:, t : t + left.shape[1]] += left * right[:, t : t + 1]
    return out


@lru_cache(maxsize=512)
def _log_choose(n: int) -> Floats:
    k = np.arange(n + 1)
    return np.asarray(special.gammaln(n + 1) - special.gammaln(k + 1) - special.gammaln(n - k + 1))


def binomial_chances(n: int, share: float) -> Floats:
    """Chance of each number struck among n plants at a true share in [0, 1], shape (n + 1,).

    Args:
        n: plants, 1 or more.
        share: true share in [0, 1].
    """
    k = np.arange(n + 1)
    return np.asarray(
        np.exp(_log_choose(n) + special.xlogy(k, share) + special.xlogy(n - k, 1 - share))
    )


@lru_cache(maxsize=64)
def _hypergeometric(n: int) -> Floats:
    """Row s: chance of t treated struck, given s struck among n + n."""
    out = np.zeros((2 * n + 1, n + 1))
    for s in range(2 * n + 1):
        for t in range(max(0, s - n), min(n, s) + 1):
            out[s, t] = comb(n, t) * comb(n, s - t) / comb(2 * n, s)
    return out


def _joint(n: int, control: float, treated: float) -> Floats:
    """Row s: chance of t treated and s - t controls struck."""
    t1, t0 = binomial_chances(n, treated), binomial_chances(n, control)
    out = np.zeros((2 * n + 1, n + 1))
    for t in range(n + 1):
        out[t : t + n + 1, t] = t1[t] * t0
    return out
