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
from dataclasses import dataclass
from math import lgamma

import numpy as np

from racecard.core.differences import traits
from racecard.core.finish.grade import CLEAR_LIMIT, LIKELY_LIMIT, Grade
from racecard.core.finish.lot import Redealer, below, holm
from racecard.core.finish.strike import Shares, comparable, unit_shares
from racecard.core.model import Plan
from racecard.core.results import Floats, Ints, Results

_AMOUNT = re.compile(r"^\s*(\d+(?:[.,]\d+)?)\s*([^\d\s].*)$")
_PARTS = re.compile(r"^\s*(\d+) ([^:]+) : (\d+) ([^:]+)$")
_CHUNK_CELLS = 4_000_000


@dataclass(frozen=True, slots=True)
class Step:
    """One step: the treatment, its dose, its share struck and its share lost (fractions)."""

    treatment: int
    dose: float
    rate: float | None
    lost: float | None


@dataclass(frozen=True, slots=True)
class Ladder:
    """A ladder as it was finished. `p` is that of "any trend at all"; `shape` the contrast it fits best.

    `best`: the one dose told apart from its neighbours, or None; `good`: doses not behind the top.
    """

    thing: str
    unit: str
    steps: tuple[Step, ...]
    p: float
    floor: float
    shape: str
    grade: Grade
    best: int | None
    good: tuple[int, ...]
    says: tuple[str, ...]


def rungs_of(plan: Plan) -> tuple[str, str, tuple[tuple[int, float], ...]] | None:
    """Property, unit and (treatment, dose) of a plan's ladder, dose 0 first; None where it has none.

    The steps differ in that property alone. Dose 0 is the arm that is otherwise the same (the
    carrier alone), else the reference.
    """
    told = [traits(t) for t in plan.treatments]
    for name in dict.fromkeys(n for t in told for n in t):
        read = {i: d for i, t in enumerate(told) if (d := _dose(t.get(name, ""))) is not None}
        units = {unit for _, unit in read.values()}
        rests = {tuple(sorted((k, v) for k, v in told[i].items() if k != name)) for i in read}
        if len(read) < 2 or len(units) != 1 or len(rests) != 1:
            continue
        doses = {i: dose for i, (dose, _) in read.items()}
        if 0.0 not in doses.values():
            bare = {k: v for k, v in dict(next(iter(rests))).items() if k != "active"}
            same = [i for i, t in enumerate(told) if i not in read and t == bare]
            zero = same[0] if same else plan.reference
            if zero is None or zero in doses:
                continue
            doses[zero] = 0.0
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


def ladder_of(
    plan: Plan,
    results: Results,
    horizon: float,
    redealer: Redealer,
    *,
    deals: int,
    may_be_clear: bool,
) -> Ladder | None:
    """The finish of a ladder on strike; None where the plan holds none or too little was seen.

    Args:
        plan: the plan; its properties give the doses.
        results: what was seen.
        horizon: day up to which strikes count.
        redealer: runs the pairwise lot tests and owns the seed.
        deals: re-dealings of all arms at once.
        may_be_clear: False before the end day, or where the lot was not drawn.
    """
    found = rungs_of(plan)
    if found is None or horizon == 0:
        return None
    name, unit, rungs = found
    arms = [i for i, _ in rungs]
    shares = unit_shares(results, horizon)
    used = shares.keep(np.isin(shares.treatment, arms) & (shares.counted > 0))
    if len(np.unique(used.treatment)) < len(arms) or len(arms) < 3:
        return None
    rank = np.array([arms.index(int(t)) for t in used.treatment])
    p, shape = _trend(used, rank, len(arms), redealer.seed, deals)
    floor = _floor(rank, used.block)
    steps = tuple(_step(shares, i, dose) for i, dose in rungs)
    best, good = _best(shares, steps, redealer, deals)
    grade = _grade(p, floor, may_be_clear)
    return Ladder(
        name, unit, steps, p, floor, shape, grade, best, good,
        _says(plan, steps, unit, grade, shape, best, good),
    )  # fmt: skip


def _step(shares: Shares, arm: int, dose: float) -> Step:
    mine = shares.keep(shares.treatment == arm)
    ok = mine.counted > 0
    rate = float(mine.share[ok].mean()) if ok.any() else None
    lost = float(mine.lost.sum() / mine.sizes.sum()) if len(mine.sizes) else None
    return Step(arm, dose, rate, lost)


def contrasts(k: int) -> tuple[tuple[str, Floats], ...]:
    """Contrasts over k ordered arms: a line, plateaus from each step on, umbrellas at each peak [1, 2]."""
    at = np.arange(k, dtype=float)
    out = [("line", at)]
    out += [(f"plateau from {j}", np.minimum(at, j)) for j in range(1, k - 1)]
    out += [(f"peak at {j}", j - np.abs(at - j)) for j in range(1, k - 1)]
    return tuple((name, c - c.mean()) for name, c in out)


def _trend(used: Shares, rank: Ints, k: int, seed: int, deals: int) -> tuple[float, str]:
    """P of the largest standardised contrast over all deals, and the name of the largest."""
    named = contrasts(k)
    coefficients = np.array([c for _, c in named])
    values = used.share.copy()
    spread = np.zeros(len(named))
    centre = np.zeros(len(named))
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
        return 1.0, named[0][0]
    error = np.sqrt(np.where(spread > 0, spread, np.inf))
    seen = np.abs(coefficients[:, rank] @ values - centre) / error
    hits = sum(
        int(np.sum((np.abs(coefficients @ totals.T).T / error).max(axis=1) >= seen.max() - 1e-9))
        for totals in _dealt_totals(values, rank, used.block, k, seed, deals)
    )
    return (1 + hits) / (1 + deals), named[int(np.argmax(seen))][0]


def _dealt_totals(
    values: Floats, rank: Ints, block: Ints, k: int, seed: int, deals: int
) -> Iterator[Floats]:
    """Totals of every arm under deals of all arms within blocks, shape (deals, k), in chunks."""
    rng = np.random.default_rng([seed, len(values), k])
    size = max(1, min(deals, _CHUNK_CELLS // max(1, len(values))))
    groups = [(values[block == b], np.eye(k)[rank[block == b]]) for b in np.unique(block)]
    for start in range(0, deals, size):
        n = min(size, deals - start)
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


def _grade(p: float, floor: float, may_be_clear: bool) -> Grade:
    """Two-sided by its nature: a trend is found or not, without ahead or behind."""
    if not below(floor, CLEAR_LIMIT):
        return Grade.CANNOT_TELL
    if below(p, CLEAR_LIMIT) and may_be_clear:
        return Grade.CLEAR_LEAD
    return Grade.LIKELY_LEAD if below(p, LIKELY_LIMIT) else Grade.TOO_CLOSE


def _best(
    shares: Shares, steps: Sequence[Step], redealer: Redealer, deals: int
) -> tuple[int | None, tuple[int, ...]]:
    """The dose told apart from its tested neighbours, and the doses not behind the top one."""
    top = max(range(len(steps)), key=lambda i: steps[i].rate or 0.0)
    others = [i for i in range(len(steps)) if i != top]
    ps = {
        i: _pair_p(shares, steps[top].treatment, steps[i].treatment, redealer, deals)
        for i in others
    }
    near = [i for i in others if abs(i - top) == 1]
    named = all(below(p, CLEAR_LIMIT) for p in holm([ps[i] for i in near]))
    adjusted = dict(zip(others, holm([ps[i] for i in others]), strict=True))
    good = tuple(
        s.treatment for i, s in enumerate(steps) if i == top or not below(adjusted[i], CLEAR_LIMIT)
    )
    return (steps[top].treatment if named else None), good


def _pair_p(shares: Shares, one: int, two: int, redealer: Redealer, deals: int) -> float:
    units, _ = comparable(shares, one, two)
    treated = units.treatment == one
    if not treated.any() or treated.all():
        return 1.0
    return redealer.test(
        units.share, treated, units.block, deals=deals, held=units.held, line=units.line
    ).p


_FOUND = {
    Grade.CLEAR_LEAD: "There is a clear trend along the ladder",
    Grade.LIKELY_LEAD: "There is likely a trend along the ladder",
    Grade.TOO_CLOSE: "No trend along the ladder can be called",
    Grade.CANNOT_TELL: "This bench cannot tell, by its design, whether there is a trend along the ladder",
}


def _says(
    plan: Plan, steps: Sequence[Step], unit: str, grade: Grade, shape: str, best: int | None,
    good: Sequence[int],
) -> tuple[str, ...]:  # fmt: skip
    dose = {s.treatment: f"{s.dose:g} {unit}" for s in steps}
    found = grade in (Grade.CLEAR_LEAD, Grade.LIKELY_LEAD)
    first = _FOUND[grade] + (
        f": it is most like {_shape_said(shape, steps, unit)}." if found else "."
    )
    if best is not None and found:
        second = (
            f"{dose[best]} is the best of the doses tried, told apart from its neighbours; the placings "
            "compare every pair, and so ask more."
        )
    else:
        span = [dose[i] for i in good]
        second = (
            f"Doses not behind the one that struck most: {', '.join(span)}."
            if len(span) < len(steps)
            else "No dose can be named best: none is told apart from the one that struck most."
        )
    low, high = steps[0].dose, steps[-1].dose
    return first, second, f"Nothing is said of doses below {low:g} or above {high:g} {unit}."


def _shape_said(shape: str, steps: Sequence[Step], unit: str) -> str:
    kind, _, at = shape.rpartition(" ")
    if not at.isdigit():
        return "a steady rise or fall"
    dose = f"{steps[int(at)].dose:g} {unit}"
    return (
        f"a rise or fall to {dose} and a turn after it"
        if kind.startswith("peak")
        else f"a change up to {dose} and none after it"
    )
