"""Numbers as a finish writes them: shares, points, days, scores and measures, each with its unit; and lists of names."""

from collections.abc import Callable, Sequence
from math import floor

from racecard.core.assess.judgement import Comparison
from racecard.core.assess.to_settle import Settled
from racecard.core.log.measures import GRADED, STAGE, graded_word
from racecard.core.model import Measure, Plan
from racecard.core.notes.registry import words_list
from racecard.core.stats.proportions import Interval

MINUS = "−"
_SPELT = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")


def spelt(number: int) -> str:
    """A small number as a word."""
    return _SPELT[number] if 0 <= number < len(_SPELT) else str(number)


def capital(text: str) -> str:
    """With a capital first."""
    return text[:1].upper() + text[1:]


def quoted(name: str) -> str:
    """A name in quotes."""
    return f"“{name}”"


def joined(names: Sequence[str]) -> str:
    """Names as in a sentence; in quotes where one of them holds an "and" of its own."""
    if len(names) > 1 and any(" and " in name for name in names):
        names = [quoted(name) for name in names]
    return words_list(names)


def whole_points(value: float) -> int:
    """Size of a gap in whole points; halves go away from 0."""
    return floor(100 * abs(value) + 0.5 + 1e-9)


def whole_percent(share: float) -> int:
    """A share in whole percent; halves go up, as the page rounds them."""
    return whole_points(share)


def points(value: float) -> str:
    """A gap in whole points with its sign: +13, −6, 0."""
    size = whole_points(value)
    return "0" if size == 0 else f"{MINUS if value < 0 else '+'}{size}"


def fine(value: float) -> str:
    """The size of a number that may be small: whole from 10 on, with a digit below, never −0."""
    size = abs(value)
    return (
        f"{size:.0f}"
        if size >= 9.95 or size < 0.05 or abs(size - round(size)) < 0.05
        else f"{size:.1f}"
    )


def in_hundred(share: float) -> str:
    """A share as plants in 100: whole, with a digit where whole would say 0 of something."""
    size = 100 * abs(share)
    return f"{size:.0f}" if round(size) or size < 0.05 else f"{size:.1f}"


def often(p: float, turn: Callable[[float], float] = round) -> str:
    """How often chance alone gives as much: "8 times in 1,000", "29 times in 100".

    Args:
        p: the p, in [0, 1].
        turn: from a number to a whole one.
    """
    if p < 0.001:
        return "less than once in 1,000"
    many, of = (turn(1000 * p), "1,000") if p < 0.0095 else (min(100, turn(100 * p)), "100")
    return f"once in {of}" if many == 1 else f"{many:.0f} times in {of}"


def unit_of(plan: Plan) -> str:
    """The unit of what the trial is judged on, with a blank before it where it has one."""
    if plan.measure is Measure.STRIKE:
        return " points"
    if plan.measure is Measure.SPEED:
        return " days"
    unit = GRADED[plan.graded_by].field.unit if plan.graded_by else ""
    return f" {unit}" if unit else ""


def on_asked(plan: Plan) -> str:
    """What a verdict is on, where that is not strike: " on speed", " on root score", " in height"."""
    if plan.measure is Measure.STRIKE:
        return ""
    if plan.measure is Measure.SPEED:
        return " on speed"
    return f" {'in' if plan.graded_by and plan.graded_by != STAGE else 'on'} {graded_word(plan)}"


def value_of(plan: Plan, value: float) -> str:
    """What a treatment came to, with its unit: 84 %, 12.4 days, 103 mm, 4.2.

    Args:
        plan: the plan.
        value: what it came to, in its unit; a fraction for shares.
    """
    if plan.measure is Measure.STRIKE:
        return f"{whole_percent(value)} %"
    return f"{value:.3g}{unit_of(plan)}"


def difference(plan: Plan, value: float) -> str:
    """A difference with its sign, as a table shows it: +13, −6.2.

    Args:
        plan: the plan.
        value: the difference, in its unit; a fraction for shares.
    """
    if plan.measure is Measure.STRIKE:
        return points(value)
    return "0" if abs(value) < 5e-4 else f"{MINUS if value < 0 else '+'}{abs(value):.3g}"


def span(plan: Plan, interval: Interval) -> str:
    """Limits of a difference: "−13 to +27"; one that rounds to 0 though it is not, with a digit more.

    Args:
        plan: the plan.
        interval: limits, in the unit of what was asked.
    """
    if interval.low is None or interval.high is None:
        return ""
    low, high = interval.low, interval.high
    if plan.measure is Measure.STRIKE and interval.leaves_out_zero:
        low_said, high_said = (
            points(x)
            if whole_points(x)
            else f"{MINUS if x < 0 else '+'}{max(0.1, 100 * abs(x)):.1f}"
            for x in (low, high)
        )
        return f"{low_said} to {high_said}"
    return f"{difference(plan, low)} to {difference(plan, high)}"


def size_of(plan: Plan, value: float) -> str:
    """A difference as words: "50 points more", "6.2 days sooner", "30 mm more".

    Args:
        plan: the plan.
        value: the difference, in its unit; a fraction for shares.
    """
    if plan.measure is Measure.SPEED:
        return f"{fine(value)} days {'later' if value > 0 else 'sooner'}"
    more = "more" if value > 0 else "fewer" if plan.measure is Measure.STRIKE else "less"
    if plan.measure is Measure.STRIKE:
        size = whole_points(value)
        said = f"{size}" if size or abs(value) < 0.0005 else f"{100 * abs(value):.1f}"
        return f"{said} points {more}"
    return f"{abs(value):.3g}{unit_of(plan)} {more}"


def doubt_of(plan: Plan, gap: Interval) -> str:
    """The interval in brackets, "" where there is none.

    Args:
        plan: the plan.
        gap: the difference with its limits.
    """
    return f" (95 % interval {span(plan, gap)})" if gap.low is not None else ""


def matters(plan: Plan, size: float | None = None) -> str:
    """The smallest difference that matters, or another, as words: "20 in 100", "4 days", "30 mm".

    Args:
        plan: the plan.
        size: the difference, a fraction for shares; None takes the plan's.
    """
    if plan.measure is Measure.STRIKE:
        return f"{in_hundred(plan.gap_points / 100 if size is None else size)} in 100"
    if plan.measure is Measure.SPEED:
        return f"{fine(plan.gap_days if size is None else size)} days"
    return f"{abs(plan.gap_score if size is None else size):.3g}{unit_of(plan) or ' of score' * (not plan.graded_by)}"


def more_of(plan: Plan, size: float) -> str:
    """The same with its way: "20 more in 100", "20 fewer in 100", "4 days less", "30 mm more".

    Args:
        plan: the plan.
        size: the difference, in its unit; a fraction for shares.
    """
    way = "more" if size > 0 else "fewer" if plan.measure is Measure.STRIKE else "less"
    if plan.measure is Measure.STRIKE:
        return f"{in_hundred(size)} {way} in 100"
    return f"{matters(plan, size)} {'sooner' if plan.measure is Measure.SPEED and size < 0 else 'later' if plan.measure is Measure.SPEED else way}"


def gap_of(plan: Plan, c: Comparison) -> float:
    """How far a treatment is ahead on what was asked, more being better; 0 where nobody knows.

    Args:
        plan: the plan.
        c: the comparison.
    """
    gap = c.outcome.gap.estimate if c.outcome.gap else 0.0
    return -gap if plan.measure is Measure.SPEED else gap


def settles(plan: Plan, s: Settled) -> str:
    """A number of each with what it is for: "about 44 plants per treatment would usually show 20 fewer in 100".

    Args:
        plan: the plan.
        s: the number, and the difference it would show.
    """
    size = -abs(s.size) if plan.measure is Measure.SPEED else s.size
    return f"about {s.units} {s.thing} per treatment would usually show {more_of(plan, size)}"
