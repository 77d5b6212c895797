"""The sentences of a finish, made from the numbers, in words a grower reads."""

import unicodedata
from collections.abc import Iterator, Sequence
from dataclasses import replace
from math import floor

from racecard.core.assess.grade import GRADE_WORDS, Grade
from racecard.core.assess.judgement import Comparison
from racecard.core.log.goal import done
from racecard.core.log.measures import graded_word
from racecard.core.model import CHECKS, Measure, Plan
from racecard.core.stats.proportions import Interval
from racecard.core.text.statement import Section, Statement

MINUS = "−"
_LEADS = (Grade.CLEAR_LEAD, Grade.LIKELY_LEAD)
_BEHIND = (Grade.CLEARLY_BEHIND, Grade.LIKELY_BEHIND)
_CALLED = (*_LEADS, *_BEHIND)


def on_asked(plan: Plan) -> str:
    """What a verdict is on, where that is not strike: " on speed", " on root score", " on height"."""
    if plan.measure is Measure.STRIKE:
        return ""
    return " on speed" if plan.measure is Measure.SPEED else f" on {graded_word(plan)}"


def points(value: float) -> str:
    """A gap in whole points with its sign: +13, −6, 0."""
    size = whole_points(value)
    if size == 0:
        return "0"
    return f"{MINUS}{size}" if value < 0 else f"+{size}"


def whole_points(value: float) -> int:
    """Size of a gap in whole points; halves go away from 0."""
    return floor(100 * abs(value) + 0.5 + 1e-9)


def whole_percent(share: float) -> int:
    """A share in whole percent; halves go up, as the page rounds them."""
    return whole_points(share)


def span(interval: Interval) -> str:
    """Limits of a gap: "−13 to +27"; one that rounds to 0 though it is not, with a digit more."""
    if interval.low is None or interval.high is None:
        return ""
    if not interval.leaves_out_zero:
        return f"{points(interval.low)} to {points(interval.high)}"
    return f"{_finely(interval.low)} to {_finely(interval.high)}"


def _finely(value: float) -> str:
    if whole_points(value):
        return points(value)
    return f"{MINUS if value < 0 else '+'}{max(0.1, 100 * abs(value)):.1f}"


def size_of(gap: Interval) -> str:
    """A gap as words: "50 points more"; a digit more where whole points would say 0."""
    size = whole_points(gap.estimate)
    told = f"{size}" if size or abs(gap.estimate) < 0.0005 else f"{100 * abs(gap.estimate):.1f}"
    return f"{told} points {'more' if gap.estimate > 0 else 'fewer'}"


def doubt_of(gap: Interval) -> str:
    """The interval in brackets, "" where there is none."""
    return f" (95 % interval {span(gap)})" if gap.low is not None else ""


def verdict(plan: Plan, reference: int, c: Comparison) -> str:
    """One sentence on one treatment against the control, on how many struck.

    Args:
        plan: the plan.
        reference: index of the control.
        c: the comparison.
    """
    name, control = plan.treatments[c.index].name, plan.treatments[reference].name
    if c.why == "not_looked_for":
        return f"{name} and {control} are not compared: the goal was not looked for in both."
    if c.why == "not_looked_at":
        return f"{name}: not looked at yet."
    prefix = ""
    if c.stopped_early:
        prefix = f"As of day {c.horizon:.0f}: "
    elif not c.is_final:
        prefix = f"So far, by day {c.horizon:.0f}: "
    if plan.measure is not Measure.STRIKE:
        prefix = f"How many {done(plan)} (secondary): {prefix[:1].lower()}{prefix[1:]}"
    return prefix + _graded(plan, name, control, c)


def _graded(plan: Plan, name: str, control: str, c: Comparison) -> str:
    grade, gap = c.grade, c.gap
    if grade is Grade.CANNOT_TELL:
        return f"{name} and {control}: this trial could not have told{_why(plan, c)}."
    if c.why in ("all_struck", "none_struck"):
        which = "all" if c.why == "all_struck" else "none"
        return (
            f"{name} and {control}: {which} {done(plan)} in both, so there is nothing to compare."
        )
    if c.why == "nothing_left" or gap is None:
        return f"{name} and {control}: nothing is left to compare."
    if grade is Grade.LEVEL:
        within = f": the results fit {span(c.gap90)} points" if c.gap90 else ""
        return f"{name} and {control} are level{within}, and less than {plan.gap_points:.0f} does not matter."
    if grade is Grade.TOO_CLOSE:
        return f"{name}: {points(gap.estimate)} points against {control}{doubt_of(gap)}. Too close to call."
    tail = ", but too small to matter to you" if c.is_small else ""
    word = GRADE_WORDS[grade] if grade else ""
    return (
        f"{name}: {size_of(gap)} than {control}{doubt_of(gap)}. {word[:1].upper()}{word[1:]}{tail}."
    )


def _why(plan: Plan, c: Comparison) -> str:
    thing = "container" if plan.per_container > 1 else "plant"
    if c.why == "one_unit" and (c.minimum_p or 0) < 1:
        return f", because one of the two has only one {thing}"
    if c.why == "thinned_strongest":
        return ", because the plants counted were chosen as the strongest"
    if c.why == "blocks_of_one_treatment":
        return ", because each block holds only one treatment"
    if c.reason:
        return f", because {c.reason}"
    if c.minimum_p is not None and c.minimum_p >= 1:
        return f", because there is one {thing} of each"
    if c.minimum_p_holm is not None:
        times = 100 * c.minimum_p_holm
        said = f"{times:.0f}" if times >= 9.5 else f"{times:.1f}"
        return f", because even the largest possible difference would arise by chance {said} times in 100"
    return ""


def headline(plan: Plan, comparisons: Sequence[Comparison], is_final: bool, day: float) -> str:
    """The one line a grower reads first: every result that is not "no clear difference", harm too.

    Args:
        plan: the plan.
        comparisons: every treatment against the control.
        is_final: all are judged at their last day.
        day: the age they are judged at, days.
    """
    if plan.control is None:
        return "No control, so no verdict. These are rates only."
    asked = [c for c in comparisons if plan.treatments[c.index].role not in CHECKS]
    seen = [c for c in asked if c.asked is not None]
    if not seen:
        if any(c.why == "not_looked_for" for c in comparisons):
            return "Not compared: the goal was looked for in some treatments only."
        return "No result yet: not looked at yet."
    prefix = "" if is_final else f"So far, day {day:.0f} of {plan.length_days}: "
    if any(c.stopped_early for c in seen):
        prefix = f"As of day {day:.0f} of {plan.length_days}; too few were looked at after that: "
    control, on = plan.control.name, on_asked(plan)

    def named(*grades: Grade) -> list[str]:
        return [plan.treatments[c.index].name for c in seen if c.asked in grades]

    parts = []
    for grades, phrase in (
        ((Grade.CLEAR_LEAD,), "ahead of"), ((Grade.LIKELY_LEAD,), "likely ahead of"),
        ((Grade.CLEARLY_BEHIND,), "behind"), ((Grade.LIKELY_BEHIND,), "likely behind"),
    ):  # fmt: skip
        if names := named(*grades):
            parts.append(f"{_joined(names)} {_is(names)} {phrase} {control}{on}")
            on = ""
    is_ahead = bool(named(*_LEADS))
    if parts and not is_ahead:
        parts[-1] += "; none is ahead"
    if names := named(Grade.LEVEL):
        parts.append(f"{_joined(names)} {_is(names)} level with {control}")
    unworse = [
        plan.treatments[c.index].name
        for c in seen
        if plan.expect_level and c.asked is Grade.TOO_CLOSE and _is_not_worse(plan, c)
    ]
    if unworse:
        parts.append(f"{_joined(unworse)} {_is(unworse)} not worse than {control}")
    parts += _harm_parts(plan, seen)
    if parts:
        return f"{prefix}{'; '.join(parts)}."
    if all(c.asked is Grade.CANNOT_TELL for c in seen):
        return f"{prefix}This trial could not have told."
    return f"{prefix}No clear result yet: no treatment differs detectably from {control}{on}."


def _harm_parts(plan: Plan, seen: Sequence[Comparison]) -> list[str]:
    """What was harmed, with its counts, where that was more than chance explains."""
    out = []
    for c in seen:
        if c.harm and not c.harm_by_injury:
            out.append(f"{plan.treatments[c.index].name} lost {c.lost[0]} of {c.lost[1]}")
        elif c.harm:
            out.append(f"{plan.treatments[c.index].name} showed more injury")
    return out


def _is(names: Sequence[str]) -> str:
    return "is" if len(names) == 1 else "are"


def _joined(names: Sequence[str]) -> str:
    if len(names) > 1 and any(" and " in name for name in names):
        names = [f"“{name}”" for name in names]
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def verdict_statements(
    plan: Plan, comparisons: Sequence[Comparison], is_final: bool, day: float
) -> Iterator[Statement]:
    """What the comparisons can say: verdicts, secondary results, doubt and limits.

    Args:
        plan: the plan.
        comparisons: every treatment against the control.
        is_final: all are judged at their last day.
        day: the age they are judged at, days.
    """
    yield from _asked_statements(plan, comparisons)
    for c in comparisons:
        was_only_measured = bool(plan.graded_by) and c.why == "none_struck"
        if plan.reference is not None and not was_only_measured:
            yield Statement(
                Section.VERDICT, _code(c.grade), verdict(plan, plan.reference, c), c.index
            )
    for c in comparisons:
        yield from _level_statements(plan, c)
    yield from _secondary_statements(plan, comparisons)
    for c in comparisons:
        yield from _missing_statements(plan, c)
    for c in _most_promising(plan, comparisons):
        told = ", ".join(f"{x.units} {x.label}" for x in c.settle)
        name, thing = plan.treatments[c.index].name, c.settle[0].thing
        told = told.replace(" ", f" {thing} per treatment ", 1)
        yield Statement(Section.NEXT, "to_settle", f"To settle {name}: about {told}.", c.index)
    if not is_final and day > 0:
        yield Statement(
            Section.RUNNING,
            "still_running",
            "The trial is still running. Nothing is called clear before the last day: judging at every "
            f"round and stopping at the first good one called {PEEKING_PERCENT} of 100 trials clear in "
            "which nothing differed.",
        )
    yield Statement(
        Section.LIMITS,
        "applies_to",
        f"These results apply to {plan.material} under the conditions of this trial.",
    )


def _code(grade: Grade | None) -> str:
    return "not_looked_at" if grade is None else grade.value


PEEKING_PERCENT = "11.6"
"""Null trials called clear at some round by a grower who tests at each look: docs/calibration.md."""


def _asked_statements(plan: Plan, comparisons: Sequence[Comparison]) -> Iterator[Statement]:
    """The verdicts on what the trial is judged on, before strike, where that is not strike."""
    if plan.measure is Measure.STRIKE:
        return
    is_speed = plan.measure is Measure.SPEED
    what = f"how soon they {done(plan)}" if is_speed else f"the {graded_word(plan)}"
    yield Statement(
        Section.ASKED,
        "judged_on",
        f"This trial is judged on {what}; how many {done(plan)} is secondary.",
    )
    control = plan.control.name if plan.control else ""
    for c in comparisons:
        name = plan.treatments[c.index].name
        if c.asked is None:
            continue
        result = c.over_time if is_speed else c.quality
        if c.asked in _CALLED:
            side = "ahead of" if c.asked in _LEADS else "behind"
            how = " over time" if is_speed else f" in {graded_word(plan)}"
            says = f"{name} was {side} {control}{how}. {GRADE_WORDS[c.asked].capitalize()}"
            if is_speed and c.asked in _LEADS and c.sooner == "alike":
                says = f"{name} {done(plan)} sooner than {control}. {GRADE_WORDS[c.asked].capitalize()}"
        elif c.asked is Grade.CANNOT_TELL:
            says = f"{name} and {control}: this trial could not have told{_why(plan, c)}"
        else:
            why = f" ({result.reason})" if result.reason else ""
            on = "speed" if is_speed else graded_word(plan)
            says = f"{name} and {control}: too close to call on {on}{why}"
        yield Statement(Section.ASKED, _code(c.asked), f"{says}.", c.index)


def _is_not_worse(plan: Plan, c: Comparison) -> bool:
    limits = c.gap90
    return limits is not None and limits.low is not None and limits.low > -plan.gap_points / 100


def _level_statements(plan: Plan, c: Comparison) -> Iterator[Statement]:
    """For a trial that asked whether it is just as good: not worse, or why level cannot be said."""
    limits = c.gap90
    if not plan.expect_level or c.grade is Grade.LEVEL or not c.is_final:
        return
    if limits is None or limits.low is None or limits.high is None:
        return
    name, margin = plan.treatments[c.index].name, plan.gap_points / 100
    if _is_not_worse(plan, c) and c.grade is not Grade.CANNOT_TELL:
        yield Statement(
            Section.LEVEL,
            "not_worse",
            f"{name} is not worse by {plan.gap_points:.0f} points or more (90 % interval {span(limits)}).",
            c.index,
        )
    elif (limits.high - limits.low) / 2 >= margin:
        yield Statement(
            Section.LEVEL,
            "cannot_show_level",
            f"{name}: this trial could not show “level”: even with equal results its 90 % interval would "
            f"be wider than ±{plan.gap_points:.0f} points.",
            c.index,
        )


def _most_promising(plan: Plan, comparisons: Sequence[Comparison]) -> list[Comparison]:
    """The open comparison that is worth settling first: the widest gain seen, without harm."""
    open_calls = [
        c
        for c in comparisons
        if c.grade in (Grade.TOO_CLOSE, Grade.LIKELY_LEAD, Grade.CANNOT_TELL)
        and c.settle
        and not c.harm
        and c.gap is not None
        and c.why not in ("all_struck", "none_struck", "several_differences")
        and plan.treatments[c.index].role not in CHECKS
    ]
    return sorted(open_calls, key=lambda c: -(c.gap.estimate if c.gap else 0))[:1]


def _secondary_statements(plan: Plan, comparisons: Sequence[Comparison]) -> Iterator[Statement]:
    """Secondary results, treatments with the same result in one sentence; harm apart."""
    told: dict[tuple[str, str, str], list[str]] = {}
    for c in comparisons:
        for code, one, many in _secondary_phrases(plan, c):
            told.setdefault((code, one, many), []).append(plan.treatments[c.index].name)
    for (code, one, many), names in told.items():
        yield Statement(
            Section.SECONDARY, code, f"{_joined(names)} {one if len(names) == 1 else many}"
        )


def _secondary_phrases(plan: Plan, c: Comparison) -> Iterator[tuple[str, str, str]]:
    """Code, and the phrase for one treatment and for several."""
    over_time, quality = c.over_time.grade, c.quality.grade
    if over_time in _CALLED and over_time and plan.measure is not Measure.SPEED:
        firmly = f"(secondary, {_firmly(over_time)})."
        is_lead = over_time in _LEADS
        one, many = (
            _over_time(plan, c) if is_lead else ("was behind over time", "were behind over time")
        )
        code = "ahead_over_time" if is_lead else "behind_over_time"
        yield code, f"{one} {firmly}", f"{many} {firmly}"
    if quality in _CALLED and quality and plan.measure is not Measure.QUALITY:
        is_lead = quality in _LEADS
        what = f"had {'better' if is_lead else 'poorer'} root scores"
        if plan.graded_by:
            what = f"came {'ahead' if is_lead else 'behind'} in {graded_word(plan)}"
        says = f"{what}, counting all (secondary, {_firmly(quality)})."
        yield "better_roots" if is_lead else "poorer_roots", says, says
    control = plan.control.name if plan.control else "the control"
    if c.harm_by_injury:
        says = f"had more plants with clear signs of harm than {control}: harm, apart from how many {done(plan)}."
        yield "harm_by_injury", says, says
    elif c.harm:
        lost, n, lost0, n0 = c.lost
        says = f"lost more plants than {control}: {lost} of {n} against {lost0} of {n0}, more than chance explains."
        yield "harm", says, says


def _firmly(grade: Grade) -> str:
    return "clear" if grade in (Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND) else "likely"


def _over_time(plan: Plan, c: Comparison) -> tuple[str, str]:
    """A lead over time in words, of one and of several; "sooner" only where that is not just more rooted."""
    did = done(plan)
    if c.sooner == "alike":
        says = f"{did} sooner; about as many {did} in the end"
        return says, says
    rest = ""
    if c.sooner == "struck":
        rest = f"; those that {did} were also sooner, but comparing only those is not a fair comparison"
    elif c.gap is not None and c.gap.estimate > 0:
        rest = f" because more of them {did}"
    return f"was ahead over time{rest}", f"were ahead over time{rest}"


def _missing_statements(plan: Plan, c: Comparison) -> Iterator[Statement]:
    if c.grades_if_missing is None:
        return
    worst, best = ("no verdict" if g is None else GRADE_WORDS[g] for g in c.grades_if_missing)
    name, did = plan.treatments[c.index].name, done(plan)
    if c.apart:
        says = f"{name}: the count of those left and the curve point opposite ways, so it is too close to call."
        yield Statement(Section.MISSING, "opposite_ways", says, c.index)
    if c.grade is not None and worst == best == GRADE_WORDS[c.grade]:
        says = f"{name}: counting those left out either way does not change the verdict."
        yield Statement(Section.MISSING, "same_either_way", says, c.index)
        return
    says = (
        f"{name}: with all those left out against it: {worst}; with all as if they had {did}: {best}. "
        "The weaker verdict is used."
    )
    yield Statement(Section.MISSING, "weaker_is_used", says, c.index)


def with_isolated_names(plan: Plan) -> Plan:
    """The plan with names that run right to left set apart, so that sentences keep their order."""

    def isolated(name: str) -> str:
        runs_left = any(unicodedata.bidirectional(c) in ("R", "AL") for c in name)
        return f"\u2068{name}\u2069" if runs_left else name

    names = [isolated(t.name) for t in plan.treatments]
    if all(n == t.name for n, t in zip(names, plan.treatments, strict=True)):
        return plan
    return replace(
        plan,
        treatments=tuple(replace(t, name=n) for t, n in zip(plan.treatments, names, strict=True)),
    )
