"""What a number of units can and cannot show: exact power of the very test the finish will use.

Power is the chance that one candidate comes out clear when it truly differs and every other
candidate is like the control, so that Holm asks of it the strictest level. It is enumerated over
all outcomes: for each set of block margins the critical totals of the lot test, then the chance
of reaching them. The interval's veto is part of it.

References:
    [1] Fay (2010), Biostatistics 11, 373-374: the central two-sided p.
"""

from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations_with_replacement
from math import factorial, floor, prod

import numpy as np
from scipy.special import gammaln, xlogy

from racecard.core.finish.lot import CLEAR_ENOUGH, floor_of
from racecard.core.finish.proportions import z_for
from racecard.core.model import Plan
from racecard.core.plan.bench import block_sizes
from racecard.core.results import Bools, Floats, Ints

TYPICAL_LIKENESS = 0.10
_MOST_MARGINS = 6_000


@dataclass(frozen=True, slots=True, eq=False)
class PowerTable:
    """Which outcomes of a two-arm design would be called clear.

    `margins` (s, b): struck in both arms together, per block; `ways` (s,): how many orderings of
    equal blocks each row stands for; `calls` (s, t): whether a treated total is called clear.
    """

    sizes: tuple[int, ...]
    margins: Ints
    ways: Floats
    calls: Bools

    def power(self, control: float, treated: float) -> float:
        """Chance of a clear call at true shares in [0, 1]; a call in either direction counts."""
        joint = _joint(self.sizes[0], control, treated)[self.margins[:, 0]]
        for b, n in list(enumerate(self.sizes))[1:]:
            joint = _convolved(joint, _joint(n, control, treated)[self.margins[:, b]])
        return float(min(1.0, np.sum(self.ways[:, None] * joint * self.calls)))

    def detectable(self, control: float, power: float = 0.8) -> float | None:
        """Smallest share above the control's that is called clear this often, or None."""
        if self.power(control, 1.0) < power:
            return None
        low, high = control, 1.0
        for _ in range(12):
            mid = (low + high) / 2
            low, high = (low, mid) if self.power(control, mid) >= power else (mid, high)
        return high


@lru_cache(maxsize=64)
def power_table(sizes: tuple[int, ...], family: int) -> PowerTable:
    """The table of clear calls for single plants.

    Args:
        sizes: units of each arm in each block; one entry for no blocks.
        family: candidates that Holm corrects for, >= 1.
    """
    margins, ways = _margins(sizes)
    chance = _hypergeometric(sizes[0])[margins[:, 0]]
    for b, n in list(enumerate(sizes))[1:]:
        chance = _convolved(chance, _hypergeometric(n)[margins[:, b]])
    up = np.cumsum(chance[:, ::-1], axis=1)[:, ::-1]
    p = np.minimum(1, 2 * np.minimum(up, np.cumsum(chance, axis=1)))
    calls = (p * family < CLEAR_ENOUGH) & (chance > 0) & _interval_agrees(sizes, margins)
    return PowerTable(sizes, margins, ways, calls)


def fits(sizes: tuple[int, ...]) -> bool:
    """Whether the enumeration over block margins is small enough to answer as one types."""
    rows = prod(_rows_of(n, sizes.count(n)) for n in set(sizes))
    return rows * (sum(sizes) + 1) <= _MOST_MARGINS * 60


def _rows_of(n: int, blocks: int) -> int:
    top = prod(range(2 * n + 1, 2 * n + 1 + blocks))
    return top // factorial(blocks)


def _margins(sizes: tuple[int, ...]) -> tuple[Ints, Floats]:
    """Every multiset of margins among blocks of equal size, with its number of orderings."""
    rows, ways = np.zeros((1, 0), dtype=np.int64), np.ones(1)
    for n in sorted(set(sizes), key=sizes.index):
        b = sizes.count(n)
        part = np.array(list(combinations_with_replacement(range(2 * n + 1), b)), dtype=np.int64)
        counts = np.apply_along_axis(np.bincount, 1, part, minlength=2 * n + 1)
        orders = np.exp(gammaln(b + 1) - gammaln(counts + 1).sum(axis=1))
        rows = np.hstack((np.repeat(rows, len(part), axis=0), np.tile(part, (len(rows), 1))))
        ways = np.outer(ways, orders).ravel()
    return rows, ways


def _convolved(left: Floats, right: Floats) -> Floats:
    """Row-wise convolution of (s, i) and (s, j)."""
    out = np.zeros((len(left), left.shape[1] + right.shape[1] - 1))
    for t in range(right.shape[1]):
        out[:, t : t + left.shape[1]] += left * right[:, t : t + 1]
    return out


def _choose(n: int) -> Floats:
    k = np.arange(n + 1)
    return np.asarray(gammaln(n + 1) - gammaln(k + 1) - gammaln(n - k + 1))


@lru_cache(maxsize=64)
def _hypergeometric(n: int) -> Floats:
    """Row s: chance of t treated struck, given s struck among n + n."""
    out = np.zeros((2 * n + 1, n + 1))
    one, both = _choose(n), _choose(2 * n)
    for s in range(2 * n + 1):
        t = np.arange(max(0, s - n), min(n, s) + 1)
        out[s, t] = np.exp(one[t] + one[s - t] - both[s])
    return out


def _joint(n: int, control: float, treated: float) -> Floats:
    """Row s: chance of t treated and s - t controls struck."""
    k = np.arange(n + 1)
    t1 = np.exp(_choose(n) + xlogy(k, treated) + xlogy(n - k, 1 - treated))
    t0 = np.exp(_choose(n) + xlogy(k, control) + xlogy(n - k, 1 - control))
    out = np.zeros((2 * n + 1, n + 1))
    for t in range(n + 1):
        out[t : t + n + 1, t] = t1[t] * t0
    return out


def _interval_agrees(sizes: tuple[int, ...], margins: Ints) -> Bools:
    """Whether the interval of the gap leaves out 0, for each margin row and treated total."""
    n = sum(sizes)
    total = np.arange(n + 1)
    z = z_for(0.95)
    if len(sizes) == 1:
        treated = np.broadcast_to(total, (len(margins), n + 1))
        control = np.clip(margins - treated, 0, n)
        return _hybrid_leaves_out_zero(treated / n, control / n, n, z)
    m = np.array(sizes)
    expected = (margins / 2).sum(axis=1, keepdims=True)
    spread = (margins * (2 * m - margins) / (4 * (2 * m - 1))).sum(axis=1, keepdims=True)
    return np.asarray((total - expected) ** 2 > z * z * spread)


def _hybrid_leaves_out_zero(p1: Floats, p0: Floats, n: int, z: float) -> Bools:
    high, low = np.maximum(p1, p0), np.minimum(p1, p0)

    def limits(p: Floats) -> tuple[Floats, Floats]:
        mid = (p + z * z / (2 * n)) / (1 + z * z / n)
        half = z * np.sqrt(p * (1 - p) / n + z * z / (4 * n * n)) / (1 + z * z / n)
        return mid - half, mid + half

    below, above = limits(high)[0], limits(low)[1]
    return np.asarray(high - low > np.sqrt((high - below) ** 2 + (above - low) ** 2))


@dataclass(frozen=True, slots=True)
class PlanPower:
    """What a plan can show.

    `curve`: (gap in points, chance of a clear call) for treatments better than the control;
    `detectable`: share called clear four times in five, None if not even 100 % is; `at_full`:
    chance of calling control against 100 %; `at_gap`: chance at the gap worth having; `floor`:
    Holm-adjusted floor; `effective`: plants an arm counted, where containers are shared;
    `as_unblocked`: the blocks were too many to enumerate.
    """

    units: int
    family: int
    curve: tuple[tuple[int, float], ...]
    detectable: float | None
    at_full: float
    at_gap: float
    floor: float
    effective: int | None
    as_unblocked: bool


def power_of_plan(plan: Plan, *, only_curve: bool = False) -> PlanPower:
    """Power of a plan's primary comparisons, exact for single plants.

    Containers of many count as the number of plants they are worth at a likeness of 0.10 (common
    practice; a default of trays), which is an approximation and is named as one. `only_curve`
    leaves the detectable share out.
    """
    family = max(1, len(plan.candidates))
    sizes = block_sizes(plan.units, plan.blocks)
    effective = None
    if plan.per_container > 1:
        worth = plan.units * plan.per_container / (1 + (plan.per_container - 1) * TYPICAL_LIKENESS)
        effective = max(1, floor(worth))
        sizes = (effective,)
    as_unblocked = len(sizes) > 1 and not fits(sizes)
    table = power_table((sum(sizes),) if as_unblocked else sizes, family)
    control = plan.expected_percent / 100
    gaps = range(0, max(1, round(100 - plan.expected_percent)) + 1, 5)
    floor_p = _plan_floor(plan, family)
    can = floor_p < CLEAR_ENOUGH
    curve = tuple(
        (g, table.power(control, min(1.0, control + g / 100)) if can else 0.0) for g in gaps
    )
    return PlanPower(
        plan.units,
        family,
        curve,
        table.detectable(control) if can and not only_curve else None,
        table.power(control, 1.0) if can else 0.0,
        table.power(control, min(1.0, control + plan.gap_points / 100)) if can else 0.0,
        floor_p,
        effective,
        as_unblocked,
    )


def _plan_floor(plan: Plan, family: int) -> float:
    block = np.tile(np.repeat(np.arange(plan.blocks), block_sizes(plan.units, plan.blocks)), 2)
    treated = np.arange(2 * plan.units) < plan.units
    return min(1.0, family * floor_of(treated, block))


def says(plan: Plan, power: PlanPower) -> str:
    """One sentence on what this number can and cannot show."""
    control = f"{plan.expected_percent:.0f} %"
    what = "units" if plan.per_container > 1 else "each"
    start = f"{plan.units} {what}"
    if power.family > 1:
        start = f"With {power.family} candidates, {start}"
    if power.floor >= CLEAR_ENOUGH:
        return f"{start} can never call anything clear: even none against all would be too few."
    about = "about " if power.effective or power.as_unblocked else ""
    if power.detectable is None:
        return (
            f"{start} calls even {control} against 100 % clear only {about}{_often(power.at_full)}."
        )
    seen = f"{100 * power.detectable:.0f} %"
    return (
        f"{start} calls {control} against {seen} clear {about}four times in five; a gap of "
        f"{plan.gap_points:.0f} points {about}{_often(power.at_gap)}."
    )


def _often(chance: float) -> str:
    """A chance as times in 10 or in 100."""
    if chance >= 0.96:
        return "nearly always"
    base = 10 if chance >= 0.095 else 100
    n = round(base * chance)
    return {0: "hardly ever", 1: f"once in {base}"}.get(n, f"{n} times in {base}")
