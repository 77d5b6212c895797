"""The lot test: if the treatment did nothing, how often would the lot alone give such a gap?

Only the units of the compared arms are re-dealt, within each block, keeping the numbers each arm
has there. The statistic is the treated total less its expectation in each block. Two-sided p is
twice the smaller tail, at most 1 (central test [1]). Exact by enumeration and convolution where
that is feasible, else sampled.

References:
    [1] Fay (2010), Biostatistics 11, 373-374.
    [2] Phipson & Smyth (2010), Stat. Appl. Genet. Mol. Biol. 9, 39: p of sampled re-dealings.
"""

from collections.abc import Callable, Hashable, Iterator, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from functools import lru_cache
from math import comb, prod, sqrt
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from racecard.core.arrays import Bools, Floats, Ints
from racecard.core.stats.exact_deals import BlocksKnown, exact_halves, tails
from racecard.core.stats.multiplicity import TOLERANCE
from racecard.core.stats.sampled_deals import (
    CHUNK,
    deal,
    even_over_lines,
    resamples_within_lines,
)
from racecard.core.streams import generator
from racecard.errors import InvalidInput

CLEAR_ENOUGH = 0.05 - 1e-9
RESAMPLES = 20_000
MOST_RESAMPLES = 1_280_000
_CHUNKS_KEPT = 16
_DEALS_WITHIN_LINES = 8_000
_MANY_UNITS = 2_000
_MOST_DEALS_OF_MANY = 80_000
_CHUNK_CELLS = 5_000_000
_MOST_CLASSES = 64


@dataclass(frozen=True, slots=True)
class PermutationResult:
    """Outcome of a lot test. `up` and `down` are the tails at and beyond what was seen.

    `resamples` is None when exact; then `p` carries no sampling error. `most_deals` is how far it is
    worth sampling: fewer where units are many.
    """

    p: float
    up: float
    down: float
    resamples: int | None = None
    most_resamples: int = MOST_RESAMPLES

    @property
    def is_exact(self) -> bool:
        """Whether every possible deal was counted."""
        return self.resamples is None

    def doubt(self) -> tuple[float, float]:
        """99 % interval of a sampled p; the p itself twice when exact."""
        if self.resamples is None:
            return self.p, self.p
        tail = min(self.up, self.down)
        half = 2.576 * sqrt(max(tail * (1 - tail), 1 / self.resamples) / self.resamples)
        return max(0.0, 2 * (tail - half)), min(1.0, 2 * (tail + half))


Key = TypeVar("Key", bound=Hashable)
_LIMITS = (0.05, 0.10)
"""The p values at which a grade changes."""


def is_open(test: PermutationResult, families: Sequence[Sequence[PermutationResult]]) -> bool:
    """Whether the sampling doubt of a p, corrected as Holm corrects it, still holds a limit.

    Args:
        test: the sampled test.
        families: the families of tests it is a member of; its factor in each is its rank in it.
    """
    if test.resamples is None or test.resamples >= test.most_resamples:
        return False
    low, high = test.doubt()
    factors = [sum(t.p >= test.p for t in family) for family in families]
    return any(f * low <= limit <= f * high for f in factors for limit in _LIMITS)


def firm(test: PermutationResult) -> float:
    """The p a grade may rest on: where sampling ended with doubt left, its upper end."""
    return (
        test.p
        if test.resamples is None or test.resamples < test.most_resamples
        else test.doubt()[1]
    )


def refined(
    tests: dict[Key, PermutationResult],
    families: Callable[[Key, dict[Key, PermutationResult]], Sequence[Sequence[PermutationResult]]],
    again: Callable[[Key, int], PermutationResult | None],
) -> dict[Key, PermutationResult]:
    """Sampled tests whose doubt still holds a limit are dealt four times as often, and again.

    Args:
        tests: the tests by what they compare.
        families: the families over which the p of one is corrected.
        again: runs one with so many deals.
    """
    found = dict(tests)
    while open_keys := [key for key, t in found.items() if is_open(t, families(key, found))]:
        for key in open_keys:
            more = again(key, 4 * (found[key].resamples or RESAMPLES))
            if more is None:
                return found
            found[key] = more
    return found


def minimum_p_of(treated: Bools, block: Ints) -> float:
    """The smallest p this design can give: twice one over the number of deals, at most 1.

    Args:
        treated: which units are of the treatment, shape (u,).
        block: block of each unit, shape (u,). Blocks with one arm add no deals.
    """
    ways = prod(comb(len(t), int(t.sum())) for t in (treated[block == b] for b in np.unique(block)))
    return float(min(Fraction(1), Fraction(2, ways)))


def minimum_p_within(
    treated: Bools, block: Ints, held: Bools | None = None, line: Ints | None = None
) -> float:
    """The floor where some units were held, or columns were kept even.

    Deals within columns are counted by the share of 20,000 free deals that the rule accepts.

    Args:
        treated: which units are of the treatment, shape (u,).
        block: block of each unit, shape (u,).
        held: units whose treatment was never dealt, shape (u,).
        line: column of each unit, where deals were kept even over columns, shape (u,).

    Returns:
        The smallest two-sided p any outcome could give.
    """
    if held is not None:
        treated, block = treated[~held], block[~held]
        line = None if line is None else line[~held]
    if not len(treated) or line is None:
        return minimum_p_of(treated, block) if len(treated) else 1.0
    free = minimum_p_of(treated, block)
    rng = np.random.default_rng(len(treated))
    order = np.argsort(block, kind="stable")
    dealt = np.concatenate(
        [deal(len(t), int(t.sum()), rng) for t in (treated[block == b] for b in np.unique(block))],
        axis=1,
    )
    accepted = float(even_over_lines(dealt, treated[order], line[order]).mean())
    return float(min(1.0, free / max(accepted, 1 / len(dealt))))


@dataclass(frozen=True, slots=True, eq=False)
class LotQuestion:
    """What one lot test asks: a score of each unit, and how the units were dealt. All shapes (u,).

    `scores`: finite; `treated`: units of the treatment; `block`: block of each; `held`: units whose
    treatment was never dealt, which keep it; `line`: column of each, where only deals even over
    columns were allowed.
    """

    scores: Floats
    treated: Bools
    block: Ints
    held: Bools | None = None
    line: Ints | None = None

    @property
    def design(self) -> "_Design":
        """Units and treated of each block, in the order of the blocks."""
        return tuple(
            (int(np.sum(self.block == b)), int(np.sum(self.treated[self.block == b])))
            for b in np.unique(self.block)
        )


_Design = tuple[tuple[int, int], ...]
_Chunk = tuple[_Design, int]
"""A design, and which chunk of its deals."""


@dataclass(slots=True)
class PermutationTest:
    """Runs lot tests of one trial; sampled deals are drawn once per design and shared."""

    seed: int
    _shared: dict[_Chunk, NDArray[np.uint8]] = field(default_factory=dict)
    _latest: tuple[_Chunk, Floats] | None = None
    """The deals used last as numbers: the tests of one trial mostly share their design."""
    _lined: dict[bytes, Bools] = field(default_factory=dict)
    _known: dict[tuple[int, ...], PermutationResult] = field(default_factory=dict)
    _blocks: BlocksKnown = field(default_factory=dict)
    """Of each kind of block that was met: many pairs are alike, and tests that leave one out share the rest."""

    def test(
        self, scores: Floats, treated: Bools, block: Ints, *, resamples: int = RESAMPLES,
        held: Bools | None = None, line: Ints | None = None,
    ) -> PermutationResult:  # fmt: skip
        """Lot test of one score; arguments as in `LotQuestion`, the rest as for `test_all`.

        Args:
            scores, treated, block, held, line: as in `LotQuestion`, shape (u,).
            resamples: re-dealings where the count is not feasible.
        """
        asked = LotQuestion(scores, treated, block, held, line)
        return self.test_all([asked], resamples=resamples)[0]

    def test_all(
        self, asked: Sequence[LotQuestion], *, resamples: int = RESAMPLES
    ) -> list[PermutationResult]:
        """Lot tests of some scores: those dealt alike are summed over the deals together.

        Args:
            asked: what is tested, one by one.
            resamples: re-dealings where the count is not feasible.

        Raises:
            InvalidInput: shapes differ, an arm is empty, or a score is not finite.
        Method:
            Central lot test [1]; sampled p = min(1, 2 (1 + hits) / (1 + deals)) [2].
        """
        found: dict[int, PermutationResult] = {}
        waiting: dict[Hashable, list[tuple[int, LotQuestion]]] = {}
        for i, question in enumerate(asked):
            done = self._counted(question, resamples)
            if isinstance(done, PermutationResult):
                found[i] = done
            else:
                few = len(done.scores) <= _MANY_UNITS
                waiting.setdefault(done.design if few else i, []).append((i, done))
        for group in waiting.values():
            tests = self._sampled([question for _, question in group], resamples)
            found |= {i: t for (i, _), t in zip(group, tests, strict=True)}
        return [found[i] for i in range(len(asked))]

    def _counted(self, asked: LotQuestion, resamples: int) -> PermutationResult | LotQuestion:
        """The answer where all deals can be counted or columns were kept even; else what is to be
        sampled, by block and on the scale of its largest score.
        """
        _check(asked)
        if asked.held is not None and asked.held.any():
            free = ~asked.held
            if not asked.treated[free].any() or asked.treated[free].all():
                return PermutationResult(1.0, 1.0, 1.0)
            line = None if asked.line is None else asked.line[free]
            asked = LotQuestion(
                asked.scores[free], asked.treated[free], asked.block[free], line=line
            )
        if asked.line is not None:
            return self._within_lines(asked.scores, asked.treated, asked.block, asked.line, resamples)  # fmt: skip
        key = _counts_key(asked)
        if key is not None and key in self._known:
            return self._known[key]
        order = np.argsort(asked.block, kind="stable")
        scores, treated, block = asked.scores[order], asked.treated[order], asked.block[order]
        scale = float(np.max(np.abs(scores))) or 1.0
        halves = exact_halves(scores / scale, treated, block, self._blocks)
        if halves is None:
            return LotQuestion(scores / scale, treated, block)
        up, down = tails(*halves, float(scores[treated].sum()) / scale)
        found = PermutationResult(min(1.0, 2 * min(up, down)), up, down)
        if key is not None:
            self._known[key] = found
        return found

    def _sampled(self, asked: list[LotQuestion], resamples: int) -> list[PermutationResult]:
        """Tests of one design, by the same deals."""
        observed = np.array([float(q.scores[q.treated].sum()) for q in asked])
        up = down = np.zeros(len(asked), np.int64)
        for sums in self._sums(asked, resamples):
            up = up + np.count_nonzero(sums >= observed - TOLERANCE, axis=0)
            down = down + np.count_nonzero(sums <= observed + TOLERANCE, axis=0)
        few = len(asked[0].scores) <= _MANY_UNITS
        most = MOST_RESAMPLES if few else _MOST_DEALS_OF_MANY
        return [
            PermutationResult(
                min(1.0, 2 * (1 + min(a, b)) / (1 + resamples)),
                a / resamples,
                b / resamples,
                resamples,
                most,
            )
            for a, b in zip(up.tolist(), down.tolist(), strict=True)
        ]

    def _within_lines(
        self, scores: Floats, treated: Bools, block: Ints, line: Ints, resamples: int
    ) -> PermutationResult:
        """Sampled deals among those that the rule of rows and columns would have accepted."""
        resamples = min(resamples, _DEALS_WITHIN_LINES)
        key = treated.tobytes() + block.tobytes() + line.tobytes()
        if key not in self._lined or len(self._lined[key]) < resamples:
            self._lined[key] = resamples_within_lines(
                treated,
                block,
                line,
                resamples,
                generator(self.seed, "deals within lines", len(treated)),
            )
        sums = self._lined[key][:resamples] @ scores
        observed = float(scores[treated].sum())
        near = TOLERANCE * max(1.0, float(np.abs(scores).sum()))
        up = int(np.sum(sums >= observed - near))
        down = int(np.sum(sums <= observed + near))
        p = min(1.0, 2 * (1 + min(up, down)) / (1 + resamples))
        return PermutationResult(p, up / resamples, down / resamples, resamples, resamples)

    def _sums(self, asked: list[LotQuestion], resamples: int) -> Iterator[Floats]:
        """Treated totals of sampled deals, in chunks of shape (deals, scores asked)."""
        first = asked[0]
        if len(first.scores) > _MANY_UNITS:
            for sums in _sums_by_score(
                first.scores, first.treated, first.block, resamples, self.seed
            ):
                yield sums[:, None]
            return
        scores = np.stack([q.scores for q in asked], axis=1)
        for chunk in range(-(-resamples // CHUNK)):
            yield self._deals(first.design, chunk)[: resamples - chunk * CHUNK] @ scores

    def _deals(self, design: _Design, chunk: int) -> Floats:
        """A chunk of deals as 0/1 rows; the first chunks are kept and shared by all tests."""
        key = design, chunk
        if self._latest is not None and self._latest[0] == key:
            return self._latest[1]
        packed = self._shared.get(key)
        if packed is None:
            packed = (first_chunk if chunk == 0 else _chunk_of)(self.seed, design, chunk)
            if chunk < _CHUNKS_KEPT:
                self._shared[key] = packed
        units = sum(n for n, _ in design)
        self._latest = key, np.unpackbits(packed, axis=1, count=units).astype(np.float64)
        return self._latest[1]


def _chunk_of(seed: int, design: _Design, chunk: int) -> NDArray[np.uint8]:
    """A chunk of a design's deals, a bit a unit: shape (20,000, units / 8)."""
    rng = generator(seed, "deals", chunk, *(n for pair in design for n in pair))
    return np.packbits(np.concatenate([deal(n, k, rng) for n, k in design], axis=1), axis=1)


first_chunk = lru_cache(maxsize=16)(_chunk_of)
"""Remembered from one finish to the next: each new look is judged by the same deals of the same seed."""


def _counts_key(asked: LotQuestion) -> tuple[int, ...] | None:
    """What a test of struck or not depends on: units, treated and struck of each block, and the
    treated struck in all. None for any other score.
    """
    scores, treated = asked.scores, asked.treated
    if not np.all((scores == 0) | (scores == 1)):
        return None
    _, at = np.unique(asked.block, return_inverse=True)
    parts = np.stack([np.bincount(at), np.bincount(at, treated), np.bincount(at, scores)], axis=1)
    ordered = parts[np.lexsort(parts.T)]
    return (*ordered.astype(np.int64).ravel().tolist(), int(scores[treated].sum()))


def _sums_by_score(
    scores: Floats, treated: Bools, block: Ints, resamples: int, seed: int
) -> Iterator[Floats]:
    """Treated totals where units are many: how many of each distinct score are dealt.

    Where a block has more than 64 distinct scores they are dealt by class of like scores; the sum
    within a class, given how many of it are dealt, is drawn from its normal limit with its exact mean
    and variance. Classes hold all but some 1 in 4,000 of the variance, so that the limit, of hundreds
    of units, is never seen in a p of 20,000 deals.
    """
    rng = generator(seed, "deals by score", len(scores))
    parts = []
    for b in np.unique(block):
        here = block == b
        values, variances, counts = _classes(scores[here])
        parts.append((values, variances, counts, int(treated[here].sum())))
    size = max(1, min(resamples, _CHUNK_CELLS // max(len(p[0]) for p in parts)))
    for start in range(0, resamples, size):
        n = min(size, resamples - start)
        sums, spread = np.zeros(n), np.zeros(n)
        for values, variances, counts, k in parts:
            dealt = rng.multivariate_hypergeometric(counts, k, n, method="marginals")
            sums += dealt @ values
            spread += (dealt * (counts - dealt)) @ (variances / np.maximum(counts - 1, 1))
        if spread.any():
            sums += np.sqrt(spread) * rng.standard_normal(n)
        yield sums


def _classes(scores: Floats) -> tuple[Floats, Floats, Ints]:
    """Mean, variance (of all in it) and size of each class of like scores; at most 64 classes."""
    values, counts = np.unique(scores, return_counts=True)
    if len(values) <= _MOST_CLASSES:
        return values, np.zeros(len(values)), counts
    lowest = values[0]
    at = ((values - lowest) / (values[-1] - lowest) * (_MOST_CLASSES - 1e-9)).astype(np.int64)
    _, at = np.unique(at, return_inverse=True)
    size = np.bincount(at, counts)
    mean = np.bincount(at, counts * values) / size
    variance = np.bincount(at, counts * (values - mean[at]) ** 2) / size
    return mean, variance, size.astype(np.int64)


def _check(asked: LotQuestion) -> None:
    scores, treated = asked.scores, asked.treated
    if not scores.shape == treated.shape == asked.block.shape:
        raise InvalidInput("scores, treated and block must have one entry a unit", "/scores")
    if not treated.any() or treated.all():
        raise InvalidInput(
            "a permutation test needs at least one unit of each treatment", "/treated"
        )
    if not np.all(np.isfinite(scores)):
        raise InvalidInput("every unit needs a finite score", "/scores")
