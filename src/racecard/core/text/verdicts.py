"""The sentences of a finish beneath its card, made from the numbers, in words a grower reads."""

import unicodedata
from collections.abc import Iterator, Sequence
from dataclasses import replace

from racecard.core.assess.grade import CALLED, CLEAR, GRADE_WORDS, LEADS, Grade, Why
from racecard.core.assess.judgement import Comparison, Sooner
from racecard.core.log.goal import done
from racecard.core.log.measures import graded_word
from racecard.core.model import CHECKS, Measure, Plan
from racecard.core.text.amounts import (
    capital,
    difference,
    doubt_of,
    fine,
    joined,
    on_asked,
    points,
    settles,
    size_of,
    span,
    unit_of,
)
from racecard.core.text.statement import Section, Statement


def verdict(plan: Plan, reference: int, c: Comparison) -> str:
    """One sentence on one treatment against the control, on what the trial is judged on.

    Args:
        plan: the plan.
        reference: index of the control.
        c: the comparison.
    """
    return _said(plan, reference, c, c.grade)


def _said(plan: Plan, reference: int, c: Comparison, grade: Grade | None) -> str:
    name, control = plan.treatments[c.index].name, plan.treatments[reference].name
    if c.why is Why.NOT_LOOKED_FOR:
        return f"{name} and {control} are not compared: the goal was not looked for in both."
    if c.why is Why.NOT_LOOKED_AT:
        return f"{name}: not looked at yet."
    prefix = ""
    if c.stopped_early:
        prefix = f"As of day {fine(c.horizon)}: "
    elif not c.is_final:
        prefix = "So far: "
    return prefix + _graded(plan, name, control, c, grade)


def _graded(plan: Plan, name: str, control: str, c: Comparison, grade: Grade | None) -> str:
    gap, on = c.outcome.gap, on_asked(plan)
    if grade is Grade.CANNOT_TELL:
        return f"{name} and {control}: this trial could not have told{_why(plan, c)}."
    if plan.measure is Measure.STRIKE and c.why in (Why.ALL_STRUCK, Why.NONE_STRUCK):
        which = "all" if c.why is Why.ALL_STRUCK else "none"
        return (
            f"{name} and {control}: {which} {done(plan)} in both, so there is nothing to compare."
        )
    if gap is None or (plan.measure is Measure.STRIKE and c.why is Why.NOTHING_LEFT):
        return f"{name} and {control}: nothing is left to compare{on}."
    if grade is Grade.LEVEL:
        within = f": the results fit {span(plan, c.gap90)} points" if c.gap90 else ""
        return f"{name} and {control} are level{within}, and less than {plan.gap_points:.0f} does not matter."
    if grade not in CALLED:
        why = (
            f" ({c.beside.over_time.reason})"
            if plan.measure is Measure.SPEED and c.beside.over_time.reason
            else ""
        )
        return f"{name}: {difference(plan, gap.estimate)}{unit_of(plan)} against {control}{doubt_of(plan, gap)}. {capital(GRADE_WORDS[grade])}{on}{why}."
    tail = (
        ", but too small to matter to you" if c.is_small and plan.measure is Measure.STRIKE else ""
    )
    return f"{name}: {size_of(plan, gap.estimate)} than {control}{doubt_of(plan, gap)}. {capital(GRADE_WORDS[grade])}{on}{tail}."


def _why(plan: Plan, c: Comparison) -> str:
    thing = "container" if plan.per_container > 1 else "plant"
    floor = c.strike.primary.minimum_p
    if c.why is Why.ONE_UNIT and (floor or 0) < 1:
        return f", because one of the two has a single {thing} or pot"
    if c.why is Why.THINNED:
        return ", because the plants counted were chosen as the strongest"
    if c.why is Why.BLOCKS:
        return ", because each block holds only one treatment"
    if c.reason:
        return f", because {c.reason}"
    if floor is not None and floor >= 1:
        return f", because there is one {thing} of each"
    if c.strike.minimum_p_holm is not None:
        return f", because even the largest possible difference would arise by chance {fine(100 * c.strike.minimum_p_holm)} times in 100"
    return ""


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
    reference = plan.reference
    if reference is not None:
        yield from _judged_on(plan)
        for c in comparisons:
            code = "not_looked_at" if c.grade is None else c.grade.value
            yield Statement(Section.VERDICT, code, verdict(plan, reference, c), c.index)
        for c in comparisons:
            yield from _agent_statements(plan, c)
    for c in comparisons:
        yield from _level_statements(plan, c)
    yield from _secondary_statements(plan, comparisons)
    for c in comparisons:
        yield from _missing_statements(plan, c)
    for c in _most_promising(plan, comparisons):
        assert c.settle is not None
        says = f"To settle {plan.treatments[c.index].name}: {settles(plan, c.settle)}."
        yield Statement(Section.NEXT, "to_settle", says, c.index)
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


PEEKING_PERCENT = "11.6"
"""Null trials called clear at some round by a grower who tests at each look: docs/calibration.md."""


def _judged_on(plan: Plan) -> Iterator[Statement]:
    """What the trial is judged on, where that is not strike."""
    if plan.measure is not Measure.STRIKE:
        what = (
            f"how soon they {done(plan)}"
            if plan.measure is Measure.SPEED
            else f"the {graded_word(plan)}"
        )
        says = f"This trial is judged on {what}; how many {done(plan)} is secondary."
        yield Statement(Section.ASKED, "judged_on", says)


def _agent_statements(plan: Plan, c: Comparison) -> Iterator[Statement]:
    """The agent itself, beyond its carrier."""
    agent = c.agent
    if agent is None or agent.grade is None:
        return
    name, carrier = plan.treatments[c.index].name, plan.treatments[agent.carrier].name
    if agent.gap is None or agent.grade is Grade.CANNOT_TELL:
        says = f"{name} beyond its carrier, {carrier}: this trial could not have told."
    elif agent.grade in CALLED:
        says = f"{name} beyond its carrier: {size_of(plan, agent.gap.estimate)} than {carrier}{doubt_of(plan, agent.gap)}. {capital(GRADE_WORDS[agent.grade])}."
    else:
        says = f"{name} beyond its carrier: {difference(plan, agent.gap.estimate)}{unit_of(plan)} against {carrier}{doubt_of(plan, agent.gap)}. {capital(GRADE_WORDS[agent.grade])}."
    yield Statement(Section.AGENT, agent.grade.value, says, c.index)


def _is_not_worse(plan: Plan, c: Comparison) -> bool:
    limits = c.gap90
    return limits is not None and limits.low is not None and limits.low > -plan.gap_points / 100


def _level_statements(plan: Plan, c: Comparison) -> Iterator[Statement]:
    """For a trial that asked whether it is just as good: not worse, or why level cannot be said."""
    limits = c.gap90
    if not plan.expect_level or c.strike_grade is Grade.LEVEL or not c.is_final:
        return
    if limits is None or limits.low is None or limits.high is None:
        return
    name, margin = plan.treatments[c.index].name, plan.gap_points / 100
    if _is_not_worse(plan, c) and c.strike_grade is not Grade.CANNOT_TELL:
        yield Statement(
            Section.LEVEL,
            "not_worse",
            f"{name} is not worse by {plan.gap_points:.0f} points or more (90 % interval {span(plan, limits)}).",
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
    sign = -1 if plan.measure is Measure.SPEED else 1
    open_calls = [
        c
        for c in comparisons
        if c.grade in (Grade.TOO_CLOSE, Grade.LIKELY_LEAD, Grade.CANNOT_TELL)
        and c.settle
        and not (c.hurt.harm or c.hurt.possible)
        and c.outcome.gap is not None
        and (plan.measure is not Measure.STRIKE or c.why not in (Why.ALL_STRUCK, Why.NONE_STRUCK))
        and c.why is not Why.ENTANGLED
        and plan.treatments[c.index].role not in CHECKS
    ]
    return sorted(
        open_calls, key=lambda c: -sign * (c.outcome.gap.estimate if c.outcome.gap else 0)
    )[:1]


def _secondary_statements(plan: Plan, comparisons: Sequence[Comparison]) -> Iterator[Statement]:
    """Secondary results, treatments with the same result in one sentence; harm apart."""
    told: dict[tuple[str, str, str], list[str]] = {}
    for c in comparisons:
        for code, one, many in _secondary_phrases(plan, c):
            told.setdefault((code, one, many), []).append(plan.treatments[c.index].name)
    for (code, one, many), names in told.items():
        yield Statement(
            Section.SECONDARY, code, f"{joined(names)} {one if len(names) == 1 else many}"
        )


def _secondary_phrases(plan: Plan, c: Comparison) -> Iterator[tuple[str, str, str]]:
    """Code, and the phrase for one treatment and for several."""
    over_time, quality = c.beside.over_time.grade, c.beside.quality.grade
    if plan.measure is not Measure.STRIKE and c.strike_grade in CALLED and c.gap is not None:
        how = f"{'ahead' if c.strike_grade in LEADS else 'behind'} on how many {done(plan)}, {points(c.gap.estimate)} points"
        yield (
            f"strike_{c.strike_grade.value}",
            f"was {how} (secondary, {_firmly(c.strike_grade)}).",
            f"were {how} (secondary, {_firmly(c.strike_grade)}).",
        )
    if over_time in CALLED and over_time and plan.measure is not Measure.SPEED:
        firmly = f"(secondary, {_firmly(over_time)})."
        is_lead = over_time in LEADS
        one, many = (
            _over_time(plan, c) if is_lead else ("was behind over time", "were behind over time")
        )
        code = "ahead_over_time" if is_lead else "behind_over_time"
        yield code, f"{one} {firmly}", f"{many} {firmly}"
    if quality in CALLED and quality and plan.measure is not Measure.QUALITY:
        is_lead = quality in LEADS
        what = f"had {'better' if is_lead else 'poorer'} root scores"
        if plan.graded_by:
            what = f"came {'ahead' if is_lead else 'behind'} in {graded_word(plan)}"
        says = f"{what}, counting all (secondary, {_firmly(quality)})."
        yield "better_roots" if is_lead else "poorer_roots", says, says
    control, h = plan.control.name if plan.control else "the control", c.hurt
    if h.by_injury:
        says = f"had more plants with clear signs of harm than {control}: harm, apart from how many {done(plan)}."
        yield "harm_by_injury", says, says
    if h.by_loss:
        says = f"lost more plants than {control}: {h.lost} of {h.n} against {h.lost_control} of {h.n_control}, more than chance explains."
        yield "harm", says, says


def _firmly(grade: Grade) -> str:
    return "clear" if grade in CLEAR else "likely"


def _over_time(plan: Plan, c: Comparison) -> tuple[str, str]:
    """A lead over time in words, of one and of several; "sooner" only where that is not just more rooted."""
    did = done(plan)
    if c.sooner is Sooner.ALIKE:
        says = f"{did} sooner; about as many {did} in the end"
        return says, says
    rest = ""
    if c.sooner is Sooner.STRUCK:
        rest = f"; those that {did} were also sooner, but comparing only those is not a fair comparison"
    elif c.gap is not None and c.gap.estimate > 0:
        rest = f" because more of them {did}"
    return f"was ahead over time{rest}", f"were ahead over time{rest}"


def _missing_statements(plan: Plan, c: Comparison) -> Iterator[Statement]:
    if c.strike.if_missing is None:
        return
    worst, best = ("no verdict" if g is None else GRADE_WORDS[g] for g in c.strike.if_missing)
    name, did = plan.treatments[c.index].name, done(plan)
    if c.strike.primary.apart:
        says = f"{name}: the count of those left and the curve point opposite ways, so it is too close to call."
        yield Statement(Section.MISSING, "opposite_ways", says, c.index)
    if c.strike_grade is not None and worst == best == GRADE_WORDS[c.strike_grade]:
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
