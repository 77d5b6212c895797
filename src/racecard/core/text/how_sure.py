"""How sure a result is, in plain words: chance, what the results fit, what to expect next time, how many would settle it."""

from collections.abc import Callable
from math import ceil, comb

from racecard.core.assess.grade import CLEAR, Grade
from racecard.core.assess.judgement import Comparison
from racecard.core.assess.to_settle import MOST_UNITS, Settled
from racecard.core.model import Measure, Plan
from racecard.core.stats.permutation import CLEAR_ENOUGH
from racecard.core.stats.sample_size import plants_needed
from racecard.core.text.amounts import fine, in_hundred, often, spelt, unit_of
from racecard.core.text.told import Told


def chance_of(t: Told, c: Comparison) -> str:
    """How often chance alone would give as much: only where positions were drawn."""
    p, k = c.asked.p_holm, len(t.plan.family)
    if p is None or not t.is_drawn or p > 0.5:
        return ""
    said = often(p, ceil if k > 1 else round)
    about = "" if said.startswith("less") else "at most " if k > 1 else "about "
    if k > 1:
        return f"With {spelt(k)} to pick from, chance alone would give such a difference {about}{said}."
    return f"Chance alone would give so large a difference {about}{said}."


def fits_of(plan: Plan, c: Comparison) -> str:
    """The true differences the results fit; the words follow the grade where the interval alone would say more."""
    gap = c.outcome.gap
    if gap is None or gap.low is None or gap.high is None:
        return ""
    low, high = gap.low, gap.high
    if c.grade not in CLEAR and c.grade is not Grade.LEVEL:
        low, high = min(low, 0.0), max(high, 0.0)
    size, unit, less, more = _words(plan)
    if low < 0 < high:
        return f"The results fit anything from {size(low)} {less} to {size(high)} {more}{unit}."
    near, far = sorted((abs(low), abs(high)))
    way = more if high > 0 else less
    if near == 0:
        return f"The results fit up to {size(far)} {way}{unit}, or none."
    return f"The results fit {size(near)} to {size(far)} {way}{unit}."


def _words(plan: Plan) -> tuple[Callable[[float], str], str, str, str]:
    """How a size is written, what follows it, and the words for less and more."""
    if plan.measure is Measure.STRIKE:
        return in_hundred, " in 100", "fewer", "more"
    unit = unit_of(plan)
    if plan.measure is Measure.SPEED:
        return lambda x: f"{fine(x)}{unit}", "", "sooner", "later"
    return lambda x: f"{fine(x)}{unit}", "", "less", "more"


def fits_90(c: Comparison) -> str:
    """The true differences in shares the results fit at 90 %, for equal outcomes."""
    if c.gap90 is None or c.gap90.low is None or c.gap90.high is None:
        return ""
    low, high = (
        f"{in_hundred(x)} {'fewer' if x < 0 else 'more'}" for x in (c.gap90.low, c.gap90.high)
    )
    return f"The results fit only {low} to {high} in 100."


def next_time(plan: Plan, c: Comparison) -> str:
    """What a repeat is to be expected to bring, after a lead: less than was seen, as a rule."""
    e, gap = c.outcome.expected, c.outcome.gap
    if e is None or gap is None:
        return ""
    size, unit, less, more = _words(plan)
    sign = -1 if plan.measure is Measure.SPEED else 1
    worst, best = sorted((sign * e.low, sign * e.high))
    way, back = (less, more) if sign < 0 else (more, less)
    span = (
        f"{size(max(0.0, worst))} to {size(best)}"
        if worst > -0.005
        else f"{size(worst)} {back} to {size(best)} {way}"
    )
    seen = size(gap.estimate)
    tail = f", less than the {seen} seen here" if sign > 0 and size(e.size) != seen else ""
    return f"Next time expect about {size(e.size)} {way}{unit} ({span}){tail}."


def with_units(s: Settled | None) -> str:
    """A number of each to repeat with: " with 40 of each"; "" where none is known."""
    return "" if s is None else f" with {s.units} {of_each(s)}"


def of_each(s: Settled) -> str:
    """What a number of units is of: plants are not named, containers are."""
    return "containers of each" if s.thing == "containers" else "of each"


def plants_alone(t: Told) -> int | None:
    """Single plants of each treatment that would usually show the smallest difference in shares that matters."""
    base, gap = t.judgement.arm(t.zero).strike.rate, t.plan.gap_points / 100
    if base is None or base + gap > 1:
        return None
    found = ceil(plants_needed(base, base + gap, alpha=CLEAR_ENOUGH / max(1, len(t.plan.family))))
    return found if found <= MOST_UNITS else None


def fewest(family: int) -> int:
    """Units of each treatment from which any outcome at all could be clear."""
    return next(n for n in range(2, 50) if max(1, family) * 2 / comb(2 * n, n) < CLEAR_ENOUGH)
