"""What a plan can and cannot show, and how many units it would need.

Power is the chance that one candidate comes out clear when it truly differs and every other is
like the control, so that Holm asks of it the strictest level. Single plants are enumerated
(exact.py); containers, days and scores are simulated (sampled.py).
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache
from math import ceil, comb

import numpy as np

from racecard.core.log.days import planned_looks
from racecard.core.log.measures import SPREAD_SHARE
from racecard.core.model import Layout, Measure, Plan, Treatment
from racecard.core.plan.bench import block_sizes
from racecard.core.plan.exact import MOST_EXACT, arms_table, blocks_table, fits, pairs_power
from racecard.core.plan.level import can_be_level, level_power
from racecard.core.plan.needed import guess_units, units_needed
from racecard.core.plan.sampled import (
    TRIALS,
    Bench,
    day_profile,
    sampled_power,
    score_profile,
    strike_profile,
    value_profiles,
)
from racecard.core.stats import special
from racecard.core.stats.permutation import CLEAR_ENOUGH, minimum_p_of

AIM = 0.8
MOST_SEARCHED = 400
_DRAWS_A_TRIAL = 100
_FEWEST_TRIALS = 300
_MOST_BLOCKS = 24
_MOST_CONTAINERS = 250
_CURVE_TRIALS = 2_000
_BESIDE_TRIALS = 1_000
_SMALLEST_POOLED = 4


@dataclass(frozen=True, slots=True)
class PlanPower:
    """What a plan can show.

    `curve`: (gap, chance of a clear call) for treatments better than the control, gaps in the
    measure's own unit; `detectable`: gap called clear four times in five, None if none is;
    `at_full`: chance at the widest gap there can be; `at_gap`: chance at the smallest difference that matters;
    `minimum_p`: smallest p of one comparison; `minimum_p_holm`: corrected; `needed`: units of each
    treatment for the smallest difference that matters, four times in five; `is_exact`: enumerated, not simulated.
    """

    units: int
    family: int
    measure: Measure
    curve: tuple[tuple[float, float], ...]
    detectable: float | None
    at_full: float
    at_gap: float
    minimum_p: float
    minimum_p_holm: float
    needed: int | None
    is_exact: bool
    level: "LevelPower | None" = None

    @property
    def is_decidable(self) -> bool:
        """Whether any outcome at all could be called clear."""
        return self.minimum_p_holm < CLEAR_ENOUGH


@dataclass(frozen=True, slots=True)
class LevelPower:
    """Equivalence: whether equal outcomes could be called level, how often they would, and from
    how many units of each treatment four times in five.
    """

    can: bool
    chance: float
    needed: int | None


def power_of_plan(plan: Plan) -> PlanPower:
    """How often a plan would show differences of several sizes, were they real.

    Args:
        plan: a plan that breaks no rule, with a control.

    Returns:
        Power as fractions in [0, 1] against the true difference, in points, days or score as the plan's
        measure asks: of the candidate with the fewest units, with half and twice as many beside it,
        and the smallest p the design can reach, before and after Holm's correction.
    Method:
        Single plants: every table is enumerated and held against the permutation test that will be
        used. Containers, days and scores: simulated and held against the same test.
    """
    return _power(_bare(plan))


def curve_beside(plan: Plan) -> tuple[tuple[float, float], ...]:
    """A coarser curve, for a neighbour of the plan that is drawn beside it."""
    return _curve(_bare(plan), 10.0, _BESIDE_TRIALS)


def _bare(plan: Plan) -> Plan:
    """The plan without its texts and places, so that typing a name calculates nothing anew.

    Where treatments differ in plants per container, the fewest stand for all.
    """
    arms = tuple(
        Treatment("", "", t.role, reference=t.reference, units=t.units) for t in plan.treatments
    )
    return replace(
        plan, question="", material="", prior="", treatments=arms, overrides=(), at_hand=(),
        tray_names=(), sides=("", "", "", ""), unequal_reason="", columns=10, tray_rows=8, secondary=(),
        per_container=min(plan.plants_of, default=plan.per_container),
    )  # fmt: skip


@lru_cache(maxsize=128)
def _power(plan: Plan) -> PlanPower:
    minimum_p = plan_minimum_p(plan)
    family = max(1, len(plan.family))
    holm = min(1.0, family * minimum_p)
    curve = _curve(plan, 5.0, _CURVE_TRIALS)
    can = holm < CLEAR_ENOUGH
    most = widest_gap(plan)
    at_gap = power_at(plan, min(gap_worth(plan), most)) if can else 0.0
    at_full = power_at(plan, most, trials=_CURVE_TRIALS) if can else 0.0
    return PlanPower(
        min(plan.units_of), family, plan.measure, curve, _detectable(plan, curve, at_full) if can else None,
        at_full, at_gap, minimum_p, holm, _needed(plan, at_gap), _is_exact(plan), _level(plan),
    )  # fmt: skip


@lru_cache(maxsize=256)
def _curve(plan: Plan, step: float, trials: int) -> tuple[tuple[float, float], ...]:
    """Chance of a clear call at gaps from none to the widest; `step` in points."""
    can = max(1, len(plan.family)) * plan_minimum_p(plan) < CLEAR_ENOUGH
    return tuple((g, power_at(plan, g, trials=trials) if can else 0.0) for g in _gaps(plan, step))


def gap_worth(plan: Plan) -> float:
    """The smallest difference that matters, in the unit of the measure."""
    return {
        Measure.STRIKE: plan.gap_points, Measure.SPEED: plan.gap_days, Measure.QUALITY: plan.gap_score
    }[plan.measure]  # fmt: skip


def power_at(plan: Plan, gap: float, *, trials: int = TRIALS) -> float:
    """Chance of a clear call at a true gap in the unit of the measure: points, days, or score.

    Args:
        plan: the plan.
        gap: true gap: points of strike, days, or score.
        trials: simulated trials where the chance is not worked out exactly.
    """
    treated, control = _arm_sizes(plan)
    family = max(1, len(plan.family))
    share = plan.expected_percent / 100
    if plan.measure is Measure.STRIKE:
        better = min(1.0, share + gap / 100)
        exact = _exact(plan, treated, control, family)
        if exact is not None:
            return exact(share, better)
        pair = strike_profile(share), strike_profile(better)
        by = "strike"
    elif plan.measure is Measure.SPEED:
        looks = planned_looks(plan)
        sooner = max(1.0, plan.expected_days - gap)
        pair = day_profile(share, plan.expected_days, looks), day_profile(share, sooner, looks)
        by = "days"
    elif plan.graded_by:
        pair = value_profiles(
            share, plan.expected_score, plan.expected_score + gap, spread_of(plan)
        )
        by = "score"
    else:
        better = min(5.0, plan.expected_score + gap)
        pair = score_profile(share, plan.expected_score), score_profile(share, better)
        by = "score"
    m = plan.per_container if plan.measure is not Measure.QUALITY else 1
    if m == 1 and by != "strike" and min(*treated, *control) >= _SMALLEST_POOLED:
        treated, control = (sum(treated),), (sum(control),)  # blocks of this size cost no power
    icc = plan.icc if m > 1 else 0.0
    larger, bench = _within_reach(treated, control, m, icc)
    if m > 1:
        draws = (sum(bench.treated) + sum(bench.control)) * max(1, len(pair[0]) // 2)
        trials = max(_FEWEST_TRIALS, min(trials, _DRAWS_A_TRIAL * trials // draws))
    found = sampled_power(bench, *pair, by=by, family=family, trials=trials)
    return found if larger == 1 else _scaled_up(found, larger, family)


def _within_reach(
    treated: tuple[int, ...], control: tuple[int, ...], m: int, icc: float
) -> tuple[float, Bench]:
    """The bench to simulate, and how many times larger the real one is.

    Beyond 24 blocks neighbours are put together, which moves power by less than simulation does.
    """
    if len(treated) > _MOST_BLOCKS:
        group = np.arange(len(treated)) * _MOST_BLOCKS // len(treated)
        treated = tuple(int(n) for n in np.bincount(group, weights=treated))
        control = tuple(int(n) for n in np.bincount(group, weights=control))
    larger = max(1.0, max(sum(treated), sum(control)) / _MOST_CONTAINERS) if m > 1 else 1.0
    if larger > 1:
        treated = (max(2, round(sum(treated) / larger)),)
        control = (max(2, round(sum(control) / larger)),)
    return larger, Bench(treated, control, m, icc)


def _scaled_up(chance: float, larger: float, family: int) -> float:
    """Chance of a bench so many times larger: the standardised gap grows as the root of it."""
    za = float(special.ndtri(1 - CLEAR_ENOUGH / (2 * family)))
    reach = za + float(special.ndtri(min(0.9999, max(1e-4, chance))))
    return float(special.ndtr(reach * np.sqrt(larger) - za))


def plan_minimum_p(plan: Plan) -> float:
    """The smallest p that one comparison of this design can give."""
    treated, control = _arm_sizes(plan)
    if plan.is_paired:
        return min(1.0, 2.0 * 0.5 ** len(treated))
    block = np.concatenate([np.repeat(np.arange(len(s)), s) for s in (treated, control)])
    return minimum_p_of(np.arange(len(block)) < sum(treated), block)


def most_candidates(units: int, blocks: int, arms: int) -> int:
    """How many candidates these units could judge beside a control, were they shared out evenly.

    Args:
        units: units in all.
        blocks: blocks the lot is drawn in.
        arms: arms there are now; no more are tried.
    """
    best = 0
    for k in range(1, arms):
        each = units // (k + 1)
        if each < 1:
            break
        sizes = block_sizes(each, min(blocks, each))
        ways = 1
        for n in sizes:
            ways *= comb(2 * n, n)
        if k * 2 / ways < CLEAR_ENOUGH:
            best = k
    return best


def false_pair_chance(arms: int) -> float:
    """Chance that some pair of arms that are all alike passes 0.05 when each pair is tested alone.

    The range of as many normal means, by numerical integration.

    Args:
        arms: number of arms, at least 2.
    """
    z = np.linspace(-8, 8, 4001)
    q = float(special.ndtri(0.975)) * np.sqrt(2)
    density = np.exp(-z * z / 2) / np.sqrt(2 * np.pi)
    inside = arms * density * (special.ndtr(z) - special.ndtr(z - q)) ** (arms - 1)
    return float(1 - np.trapezoid(inside, z))


def with_units(plan: Plan, factor: float) -> Plan | None:
    """The same plan with every number of units times a factor, or None where that is no plan.

    Args:
        plan: the plan.
        factor: what its numbers are multiplied by, above 0.
    """
    units = round(plan.units * factor)
    arms = tuple(
        replace(t, units=None if t.units is None else max(1, round(t.units * factor)))
        for t in plan.treatments
    )
    changed = replace(plan, units=units, treatments=arms)
    fewest = min(changed.units_of, default=0)
    if fewest < 2 or max(changed.units_of) > 5000:
        return None
    return replace(changed, blocks=min(plan.blocks, fewest))


def _arm_sizes(plan: Plan) -> tuple[tuple[int, ...], tuple[int, ...]]:
    """Units of the smallest candidate and of the reference, in each block that holds both."""
    units = plan.units_of
    control = units[plan.reference] if plan.reference is not None else plan.units
    treated = min((units[i] for i in plan.family), default=plan.units)
    blocks = plan.drawn_blocks
    both = zip(block_sizes(treated, blocks), block_sizes(control, blocks), strict=True)
    kept = [(a, b) for a, b in both if a and b] or [(1, 1)]
    return tuple(a for a, _ in kept), tuple(b for _, b in kept)


def _exact(
    plan: Plan, treated: tuple[int, ...], control: tuple[int, ...], family: int
) -> Callable[[float, float], float] | None:
    """Exact power at (control, treated) shares, or None where outcomes are too many."""
    if plan.per_container > 1:
        return None
    if plan.is_paired:
        n = len(treated)
        if n > MOST_EXACT:
            return None
        return lambda c, t: pairs_power(n, c, t, plan.pair_correlation, family)
    if len(treated) == 1:
        if max(*treated, *control) > MOST_EXACT:
            return None
        return arms_table(treated[0], control[0], family).power
    if treated == control and fits(treated):
        return blocks_table(treated, family).power
    return None


def _is_exact(plan: Plan) -> bool:
    if plan.measure is not Measure.STRIKE:
        return False
    return _exact(plan, *_arm_sizes(plan), max(1, len(plan.family))) is not None


def _gaps(plan: Plan, step: float) -> list[float]:
    most = widest_gap(plan)
    if plan.measure is not Measure.STRIKE:
        step *= most / 50
    elif step == 5 and not _is_exact(plan):
        step = 10
    return [*(round(step * i, 2) for i in range(ceil(most / step))), most]


def widest_gap(plan: Plan) -> float:
    """The widest gap the measure leaves room for; of a measured value three times its spread."""
    if plan.measure is Measure.QUALITY and plan.graded_by:
        return max(3 * spread_of(plan), 1.5 * plan.gap_score)
    return {
        Measure.STRIKE: 100 - plan.expected_percent,
        Measure.SPEED: max(1.0, 0.75 * plan.expected_days),
        Measure.QUALITY: max(0.5, 5 - plan.expected_score),
    }[plan.measure]


def _detectable(plan: Plan, curve: tuple[tuple[float, float], ...], at_full: float) -> float | None:
    if at_full < AIM:
        return None
    if not _is_exact(plan):
        gaps, chances = zip(*curve, strict=True)
        rising = np.maximum.accumulate(chances)
        return float(np.interp(AIM, rising, gaps)) if rising[-1] >= AIM else widest_gap(plan)
    above = next(i for i, (_, chance) in enumerate(curve) if chance >= AIM)
    low, high = (curve[above - 1][0] if above else 0.0), curve[above][0]
    for _ in range(5):
        mid = (low + high) / 2
        low, high = (low, mid) if power_at(plan, mid) >= AIM else (mid, high)
    return high


def _needed(plan: Plan, at_gap: float) -> int | None:
    """Units of each treatment that call the smallest difference that matters four times in five."""
    gap = gap_worth(plan)
    if gap > widest_gap(plan):
        return None
    family = max(1, len(plan.family))
    share = plan.expected_percent / 100
    if plan.measure is not Measure.STRIKE or plan.per_container > 1:
        return _scaled(plan, gap, at_gap, family)
    better = share + gap / 100
    guess = guess_units(share, better, family)
    if guess > MOST_SEARCHED:
        return guess
    if plan.is_paired:
        return units_needed(
            lambda n: pairs_power(n, share, better, plan.pair_correlation, family), guess
        )
    return units_needed(lambda n: arms_table(n, n, family).power(share, better), guess)


def _scaled(plan: Plan, gap: float, chance: float, family: int) -> int | None:
    """Units found by scaling: the standardised gap grows as the root of the number."""
    za, zb = float(special.ndtri(1 - CLEAR_ENOUGH / (2 * family))), float(special.ndtri(AIM))
    current, units = plan, plan.units
    for _ in range(5):
        reach = za + float(special.ndtri(min(0.999, max(0.02, chance))))
        found = max(2, round(units * min(9.0, max(0.2, ((za + zb) / max(0.3, reach)) ** 2))))
        if abs(found - units) <= max(1, units // 50):
            return found
        scaled = with_units(current, found / units)
        if scaled is None or found > 5000:
            return None
        current, units = replace(scaled, units=found), found
        chance = power_at(current, gap, trials=_CURVE_TRIALS)
    return units


def _level(plan: Plan) -> LevelPower | None:
    """The equivalence route: shares of single plants, containers at what they are worth."""
    if not plan.expect_level or plan.measure is not Measure.STRIKE:
        return None
    margin, share = plan.gap_points / 100, plan.expected_percent / 100
    worth = plan.per_container / (1 + (plan.per_container - 1) * plan.icc)
    plants = max(1, round(min(plan.units_of) * worth))
    if plants > MOST_EXACT or plan.layout is Layout.BY_HAND:
        return LevelPower(False, 0.0, None)
    needed = units_needed(
        lambda n: level_power(n, share, margin), max(4, plants), most=MOST_SEARCHED
    )
    return LevelPower(
        can_be_level(plants, margin, share),
        level_power(plants, share, margin),
        None if needed is None else max(2, round(needed / worth)),
    )


def spread_of(plan: Plan) -> float:
    """Standard deviation of the compared measure between plants treated alike."""
    return plan.usual_spread or SPREAD_SHARE * plan.expected_score
