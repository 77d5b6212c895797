"""Deals drawn by lot: which units are treated, one row a deal, for tests that cannot count them all."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from racecard.core.arrays import Bools, Ints

CHUNK = 20_000
"""Deals drawn at once."""
_SWAPS_A_UNIT = 10
_SWAPS_BETWEEN = 3
_CHAINS = 400


def random_words(rows: int, n: int, rng: np.random.Generator) -> NDArray[np.uint32]:
    """Random words of 32 bits, shape (rows, n): those `integers` gives, cut from words of 64 in half the time.

    Args:
        rows: rows of words.
        n: words in each row.
        rng: what they are drawn from.
    """
    bits = rng.bit_generator
    if rows * n % 2 or bits.state.get("has_uint32"):  # half a word is left over, or would be
        return rng.integers(0, 2**32, size=(rows, n), dtype=np.uint32)
    raw = np.asarray(bits.random_raw(rows * n // 2))
    return raw.astype("<u8", copy=False).view("<u4").reshape(rows, n)


def deal(n: int, k: int, rng: np.random.Generator) -> Bools:
    """Deals of k among n: the k smallest of n random words; rows with a tie are dealt again.

    Args:
        n: units of one block.
        k: how many of them are treated, 0 <= k <= n.
        rng: source of the words.

    Returns:
        Which units are treated in each deal, shape (20,000, n).
    """
    if k in (0, n):
        return np.full((CHUNK, n), k == n)
    words = random_words(CHUNK, n, rng)
    dealt = words <= np.partition(words, k - 1, axis=1)[:, k - 1 : k]
    for row in np.flatnonzero(dealt.sum(axis=1) != k):
        dealt[row] = rng.permutation(n) < k
    return np.asarray(dealt)


def _line_limits(treated: Bools, line: Ints) -> tuple[Ints, Ints, Ints]:
    """Line of each unit from 0, and the most treated and control units each may hold."""
    _, at = np.unique(line, return_inverse=True)
    lines = int(at.max()) + 1
    limits = []
    for mine in (treated, ~treated):
        held = np.bincount(at[mine], minlength=lines)
        limits.append(np.maximum(held, int(mine.sum()) // lines + 1))
    return at, limits[0], limits[1]


def even_over_lines(dealt: Bools, treated: Bools, line: Ints) -> Bools:
    """Which deals hold in no column more of an arm than its limit, shape (r,).

    Args:
        dealt: units treated in each deal, shape (r, u).
        treated: units treated as drawn, shape (u,).
        line: column of each unit, shape (u,).
    """
    at, most1, most0 = _line_limits(treated, line)
    lines = np.eye(len(most1), dtype=np.int64)[at]
    in1 = dealt.astype(np.int64) @ lines
    return np.asarray((in1 <= most1).all(axis=1) & (lines.sum(axis=0) - in1 <= most0).all(axis=1))


def resamples_within_lines(
    treated: Bools, block: Ints, line: Ints, resamples: int, rng: np.random.Generator
) -> Bools:
    """Deals within blocks in which no line holds more of an arm than its limit.

    Args:
        treated: which units are of the treatment as drawn, shape (u,).
        block, line: block and column of each unit, shape (u,).
        resamples: how many deals are wanted.
        rng: source of the swaps.

    Returns:
        Which units are treated in each deal, shape (resamples, u).

    Method:
        400 chains of swaps, each swap as likely as its way back, all begun at the deal that was drawn
        and run side by side; every so many steps each gives a deal. The limit is one above the even
        share, or what the drawn deal holds.
    """
    walk = _Walk.begun(treated, block, line, min(resamples, _CHAINS), rng)
    u = len(treated)
    walk.go(_SWAPS_A_UNIT * u)
    kept = [walk.state.copy()]
    while sum(map(len, kept)) < resamples:
        walk.go(_SWAPS_BETWEEN * u)
        kept.append(walk.state.copy())
    return np.concatenate(kept)[:resamples]


@dataclass(slots=True)
class _Walk:
    """Chains of swaps side by side: `state` (c, u) the deals, `in1` and `in0` (c, l) per line."""

    state: Bools
    in1: Ints
    in0: Ints
    at: Ints
    most1: Ints
    most0: Ints
    partners: Ints
    sizes: Ints
    rng: np.random.Generator

    @classmethod
    def begun(
        cls, treated: Bools, block: Ints, line: Ints, chains: int, rng: np.random.Generator
    ) -> "_Walk":
        at, most1, most0 = _line_limits(treated, line)
        lines = len(most1)
        members = [np.flatnonzero(block == b) for b in block]
        sizes = np.array([len(m) for m in members])
        partners = np.zeros((len(treated), sizes.max()), dtype=np.int64)
        for i, m in enumerate(members):
            partners[i, : len(m)] = m
        counts = [np.bincount(at[mine], minlength=lines) for mine in (treated, ~treated)]
        return cls(
            np.tile(treated, (chains, 1)), np.tile(counts[0], (chains, 1)),
            np.tile(counts[1], (chains, 1)), at, most1, most0, partners, sizes, rng,
        )  # fmt: skip

    def go(self, steps: int) -> None:
        """Try so many swaps in every chain."""
        chains, u = self.state.shape
        rows = np.arange(chains)
        for _ in range(steps):
            pick = self.rng.integers(0, u, chains)
            share = self.rng.random(chains) * self.sizes[pick]
            other = self.partners[pick, share.astype(np.int64)]
            is_treated = self.state[rows, pick]
            one, two = np.where(is_treated, pick, other), np.where(is_treated, other, pick)
            a, b = self.at[one], self.at[two]
            fits = (self.in1[rows, b] < self.most1[b]) & (self.in0[rows, a] < self.most0[a])
            r = np.flatnonzero((is_treated != self.state[rows, other]) & (fits | (a == b)))
            one, two, a, b = one[r], two[r], a[r], b[r]
            self.state[r, one], self.state[r, two] = False, True
            self.in1[r, a] -= 1
            self.in1[r, b] += 1
            self.in0[r, b] -= 1
            self.in0[r, a] += 1
