"""A ladder of doses or durations: is there a trend, and which step is best.

A plain trend test is blind to the rise and fall that is expected of a hormone, so the largest of
several standardised contrasts is taken: a line, plateaus, and umbrellas at each peak. All arms are
re-dealt within blocks.

References:
    [1] Abelson & Tukey (1963), Ann. Math. Stat. 34, 1347-1369: contrasts for ordered means.
    [2] Mack & Wolfe (1981), J. Am. Stat. Assoc. 76, 175-181: umbrella alternatives.
    [3] Phipson & Smyth (2010), Stat. Appl. Genet. Mol. Biol. 9, 39: p of sampled re-dealings.
"""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from math import lgamma, sqrt

import numpy as np

from racecard.core.arrays import Floats, Ints
from racecard.core.assess.grade import Grade, page_allows
from racecard.core.assess.strike import Shares, comparable, unit_shares
from racecard.core.model import Plan
from racecard.core.model.differences import PROPERTIES, traits
from racecard.core.model.results import Results
from racecard.core.stats.multiplicity import CLEAR_LIMIT, LIKELY_LIMIT, below, holm
from racecard.core.stats.permutation import MOST_RESAMPLES, RESAMPLES, PermutationTest
from racecard.core.streams import generator

_AMOUNT = re.compile(r"^\s*(\d+(?:[.,]\d+)?)\s*([^\d\s].*)$")
_PARTS = re.compile(r"^\s*(\d+) ([^:]+) : (\d+) ([^:]+)$")
_CHUNK_CELLS = 4_000_000
_MOST_CELLS = 60_000_000


@dataclass(frozen=True, slots=True)
class Step:
    """One step: the treatment, its dose, its share struck and its share lost (fractions)."""

    treatment: int
    dose: float
    rate: float | None
    lost: float | None


@dataclass(frozen=True, slots=True)
class DoseSeries:
    """A ladder as it was finished. `p` is that of "any trend at all"; `shape` the contrast it fits best.

    `best`: the one dose told apart from its neighbours, or None; `good`: doses not behind the top.
    """

    thing: str
    unit: str
    steps: tuple[Step, ...]
    p: float
    minimum_p: float
    shape: str
    grade: Grade
    best: int | None
    good: tuple[int, ...]
    is_final: bool

    def without_best(self) -> "DoseSeries":
        """The same with no dose named best."""
        return replace(self, best=None)


_STEPPED = frozenset(
    (
        "strength",
        "duration",
        "temperature",
        "age",
        "medium",
        "light",
        "dose",
        "concentration",
        "amount",
    )
)
"""Properties of PROPERTIES that may make a ladder; a factor of the plan's own may, too."""


def rungs_of(plan: Plan) -> tuple[str, str, tuple[tuple[int, float], ...]] | None:
    """Property, unit and (treatment, dose) of a plan's ladder, dose 0 first; None where it has none.

    The steps differ in that property alone. Dose 0 is the arm that is otherwise the same, on the same
    medium, carrier and handling; an arm of another make is no step.
    """
    told = [traits(t) for t in plan.treatments]
    for name in dict.fromkeys(n for t in told for n in t):
        if name in PROPERTIES and name not in _STEPPED:
            continue  # a lot or a place that holds a number is not a dose
        read = {i: d for i, t in enumerate(told) if (d := _dose(t.get(name, ""))) is not None}
        units = {unit for _, unit in read.values()}
        rests = {tuple(sorted((k, v) for k, v in told[i].items() if k != name)) for i in read}
        if len(read) < 2 or len(units) != 1 or len(rests) != 1:
            continue
        doses = {i: dose for i, (dose, _) in read.items()}
        if 0.0 not in doses.values():
            bare = {k: v for k, v in dict(next(iter(rests))).items() if k != "active"}
            same = [i for i, t in enumerate(told) if i not in read and t == bare]
            if same:
                doses[same[0]] = 0.0
        if len(set(doses.values())) < len(doses):
            continue
        return name, units.pop(), tuple(sorted(doses.items(), key=lambda x: x[1]))
    return None


def _dose(said: str) -> tuple[float, str] | None:
    """An amount and its unit: "500 ppm", or the share of the second part of "3 peat : 1 perlite"."""
    parts = _PARTS.match(said)
    if parts is not None:
        one, two = float(parts.group(1)), float(parts.group(3))
        return (100 * two / (one + two), f"% {parts.group(4).strip()}") if one + two else None
    found = _AMOUNT.match(said)
    return (
        None if found is None else (float(found.group(1).replace(",", ".")), found.group(2).strip())
    )


def dose_series_of(
    plan: Plan,
    results: Results,
    horizon: float,
    permutations: PermutationTest,
    *,
    resamples: int,
    may_be_clear: bool,
    is_final: bool = True,
    claims: int = 0,
    gate: bool = True,
) -> DoseSeries | None:
    """The finish of a ladder on strike; None where the plan holds none or too little was seen.

    Args:
        plan: the plan; its properties give the doses.
        results: what was seen.
        horizon: day up to which strikes count.
        permutations: runs the pairwise lot tests and owns the seed.
        resamples: re-dealings of all arms at once.
        may_be_clear: False before the end is reached, or where the lot was not drawn.
        is_final: False before the end is reached.
        claims: how many claims the page makes besides the trend.
        gate: whether a primary result is clear.
    """
    found = rungs_of(plan)
    if found is None or horizon == 0:
        return None
    name, unit, rungs = found
    arms = [i for i, _ in rungs]
    shares = unit_shares(results, horizon)
    used = shares.keep(np.isin(shares.treatment, arms) & (shares.counted > 0))
    if len(np.unique(used.treatment)) < len(arms) or len(arms) < 3 or _were_apart(used, arms):
        return None
    rank = np.array([arms.index(int(t)) for t in used.treatment])
    seen = _trend(used, rank, len(arms), permutations.seed, resamples)
    minimum_p = _floor(rank, used.block)
    may_be_clear = may_be_clear and page_allows(seen.firm, claims + 1, any_clear=gate)
    steps = tuple(_step(shares, i, dose) for i, dose in rungs)
    ways, grades = [shares], [_grade(seen.firm, minimum_p, may_be_clear)]
    if not shares.is_whole:
        ways += _ways(shares, arms, seen)
        for way in ways[1:]:
            kept = way.keep(np.isin(way.treatment, arms))
            ranked = np.array([arms.index(int(t)) for t in kept.treatment])
            again = _trend(kept, ranked, len(arms), permutations.seed, resamples)
            grades.append(_grade(again.firm, minimum_p, may_be_clear))
    grade = max(grades, key=_ORDER.index)
    named = [
        _best(w, tuple(_step(w, i, d) for i, d in rungs), permutations, resamples) for w in ways
    ]
    best = named[0][0] if may_be_clear and len({n[0] for n in named}) == 1 else None
    good = tuple(i for i in arms if any(i in n[1] for n in named))
    return DoseSeries(
        name, unit, steps, seen.p, minimum_p, seen.shape, grade, best, good, is_final,
    )  # fmt: skip


_ORDER = (Grade.CLEAR_LEAD, Grade.LIKELY_LEAD, Grade.TOO_CLOSE, Grade.CANNOT_TELL)
"""From the firmest to the weakest."""


def _were_apart(used: Shares, arms: Sequence[int]) -> bool:
    """Whether two steps never stood in one block, such as doses of different runs."""
    blocks = {a: set(used.block[used.treatment == a].tolist()) for a in arms}
    return any(not blocks[a] & blocks[b] for a, b in combinations(arms, 2))


def _ways(shares: Shares, arms: Sequence[int], seen: "_Trend") -> list[Shares]:
    """What is missing counted against the trend that was seen, then for it."""
    weight = np.zeros(int(max(arms)) + 1)
    weight[list(arms)] = seen.contrast * (1 if seen.rises else -1)
    mine = np.where(np.isin(shares.treatment, arms), shares.treatment, arms[0])
    gone = shares.sizes - shares.counted
    return [
        replace(
            shares, struck=shares.struck + gone * (weight[mine] * side < 0), counted=shares.sizes
        )
        for side in (1, -1)
    ]


def _step(shares: Shares, arm: int, dose: float) -> Step:
    mine = shares.keep(shares.treatment == arm)
    ok = mine.counted > 0
    rate = float(mine.share[ok].mean()) if ok.any() else None
    lost = float(mine.lost.sum() / mine.sizes.sum()) if len(mine.sizes) else None
    return Step(arm, dose, rate, lost)


def contrasts(k: int) -> tuple[tuple[str, Floats], ...]:
    """Contrasts over k ordered arms: a line, plateaus from each step on, umbrellas at each peak [1, 2].

    Args:
        k: number of ordered arms, at least 3.
    """
    at = np.arange(k, dtype=float)
    out = [("line", at)]
    out += [(f"plateau from {j}", np.minimum(at, j)) for j in range(1, k - 1)]
    out += [(f"peak at {j}", j - np.abs(at - j)) for j in range(1, k - 1)]
    return tuple((name, c - c.mean()) for name, c in out)


@dataclass(frozen=True, slots=True, eq=False)
class _Trend:
    """P of the largest standardised contrast; `firm` is what a grade may rest on: p, or its upper end
    where sampling ended with doubt left.
    """

    p: float
    firm: float
    shape: str
    contrast: Floats
    rises: bool


def _trend(used: Shares, rank: Ints, k: int, seed: int, resamples: int) -> _Trend:
    """The largest standardised contrast over all deals, dealt more often while its p is near a limit."""
    named = contrasts(k)
    coefficients = np.array([c for _, c in named])
    values = used.share.copy()
    spread = np.zeros(len(named))
    for b in np.unique(used.block):
        here = used.block == b
        values[here] -= values[here].mean()
        n = int(here.sum())
        if n < 2:
            continue
        c = coefficients[:, rank[here]]
        c = c - c.mean(axis=1, keepdims=True)
        spread += (c**2).sum(axis=1) * float(np.sum(values[here] ** 2)) / (n - 1)
    if not np.any(spread > 0):
        return _Trend(1.0, 1.0, named[0][0], named[0][1], True)
    error = np.sqrt(np.where(spread > 0, spread, np.inf))
    found = coefficients[:, rank] @ values / error
    top = int(np.argmax(np.abs(found)))
    most = min(MOST_RESAMPLES, max(resamples, _MOST_CELLS // len(values)))
    while True:
        hits = sum(
            int(
                np.sum(
                    (np.abs(coefficients @ totals.T).T / error).max(axis=1)
                    >= abs(found[top]) - 1e-9
                )
            )
            for totals in _dealt_totals(values, rank, used.block, k, seed, resamples)
        )
        p = (1 + hits) / (1 + resamples)
        half = 2.576 * sqrt(max(p * (1 - p), 1 / resamples) / resamples)
        is_near = any(p - half <= limit <= p + half for limit in (CLEAR_LIMIT, LIKELY_LIMIT))
        if not is_near or 4 * resamples > most or resamples < RESAMPLES:
            firm = p + half if is_near and resamples >= RESAMPLES else p
            return _Trend(p, min(1.0, firm), named[top][0], named[top][1], bool(found[top] > 0))
        resamples *= 4


def _dealt_totals(
    values: Floats, rank: Ints, block: Ints, k: int, seed: int, resamples: int
) -> Iterator[Floats]:
    """Totals of every arm under deals of all arms within blocks, shape (deals, k), in chunks."""
    rng = generator(seed, "ladder", len(values), k)
    size = max(1, min(resamples, _CHUNK_CELLS // max(1, len(values))))
    groups = [(values[block == b], np.eye(k)[rank[block == b]]) for b in np.unique(block)]
    for start in range(0, resamples, size):
        n = min(size, resamples - start)
        totals = np.zeros((n, k))
        for mine, arms in groups:
            order = np.argsort(rng.random((n, len(mine))), axis=1)
            totals += mine[order] @ arms
        yield totals


def _floor(rank: Ints, block: Ints) -> float:
    """Twice one over the number of deals of all arms within blocks, at most 1."""
    log_ways = 0.0
    for b in np.unique(block):
        sizes = np.bincount(rank[block == b])
        log_ways += lgamma(sizes.sum() + 1) - sum(lgamma(n + 1) for n in sizes)
    return float(min(1.0, 2 * np.exp(-log_ways)))


def _grade(p: float, minimum_p: float, may_be_clear: bool) -> Grade:
    """Two-sided by its nature: a trend is found or not, without ahead or behind."""
    if not below(minimum_p, CLEAR_LIMIT):
        return Grade.CANNOT_TELL
    if below(p, CLEAR_LIMIT) and may_be_clear:
        return Grade.CLEAR_LEAD
    return Grade.LIKELY_LEAD if below(p, LIKELY_LIMIT) else Grade.TOO_CLOSE


def _best(
    shares: Shares, steps: Sequence[Step], permutations: PermutationTest, resamples: int
) -> tuple[int | None, tuple[int, ...]]:
    """The dose told apart from its tested neighbours, and the doses not behind the top one."""
    top = max(range(len(steps)), key=lambda i: steps[i].rate or 0.0)
    others = [i for i in range(len(steps)) if i != top]
    ps = {
        i: _pair_p(shares, steps[top].treatment, steps[i].treatment, permutations, resamples)
        for i in others
    }
    near = [i for i in others if abs(i - top) == 1]
    named = all(below(p, CLEAR_LIMIT) for p in holm([ps[i] for i in near]))
    adjusted = dict(zip(others, holm([ps[i] for i in others]), strict=True))
    good = tuple(
        s.treatment for i, s in enumerate(steps) if i == top or not below(adjusted[i], CLEAR_LIMIT)
    )
    return (steps[top].treatment if named else None), good


def _pair_p(
    shares: Shares, one: int, two: int, permutations: PermutationTest, resamples: int
) -> float:
    units, _ = comparable(shares, one, two)
    treated = units.treatment == one
    if not treated.any() or treated.all():
        return 1.0
    return permutations.test(
        units.share, treated, units.block, resamples=resamples, held=units.held, line=units.line
    ).p
