"""The sentences of a finish, made from the numbers, in words a grower reads."""

import unicodedata
from collections.abc import Sequence
from dataclasses import replace
from math import floor
from typing import TYPE_CHECKING

from racecard.core.finish.grade import GRADE_WORDS, Grade
from racecard.core.finish.proportions import Interval
from racecard.core.model import CHECKS, Measure, Plan

if TYPE_CHECKING:
    from racecard.core.finish.crosses import Effect
    from racecard.core.finish.judge import Comparison

MINUS = "−"
_ASKED = {
    Measure.STRIKE: "on strike", Measure.SPEED: "over time", Measure.QUALITY: "on the root score"
}  # fmt: skip
_JUDGED = {
    Measure.STRIKE: "on how many struck", Measure.SPEED: "on strike over time",
    Measure.QUALITY: "on the root score",
}  # fmt: skip


def points(value: float) -> str:
    """A gap in whole points with its sign: +13, −6, 0."""
    size = whole_points(value)
    if size == 0:
        return "0"
    return f"{MINUS}{size}" if value < 0 else f"+{size}"


def whole_points(value: float) -> int:
    """Size of a gap in whole points; halves go away from 0."""
    return floor(100 * abs(value) + 0.5 + 1e-9)


def span(interval: Interval) -> str:
    """Limits of a gap as words: "from −13 to +27"."""
    if interval.low is None or interval.high is None:
        return ""
    return f"from {points(interval.low)} to {points(interval.high)}"


def verdict(plan: Plan, reference: int, comparison: "Comparison", nothing: bool) -> str:
    """One sentence on one treatment against the control."""
    name, control = plan.treatments[comparison.index].name, plan.treatments[reference].name
    if comparison.gap is None:
        return f"{name} cannot be compared yet: no round is complete for it and {control}."
    by_day = "" if comparison.is_final else f"So far, by day {comparison.horizon:.0f}: "
    return by_day + _graded(plan, name, control, comparison, comparison.gap, nothing)


def _graded(
    plan: Plan, name: str, control: str, comparison: "Comparison", gap: Interval, nothing: bool
) -> str:
    grade = comparison.grade
    size = whole_points(gap.estimate)
    more = "more" if gap.estimate > 0 else "fewer"
    doubt = f" (the true gap may lie {span(gap)})" if gap.low is not None else ""
    if grade is Grade.CANNOT_TELL:
        return f"{name} against {control}: this bench cannot tell by design{_why(comparison)}."
    if nothing:
        return f"{name} and {control}: there is nothing to separate them here."
    if grade is Grade.LEVEL:
        limits = comparison.gap90
        within = f", {span(limits)}" if limits else ""
        return f"{name} and {control} are level within {plan.gap_points:.0f} points{within}."
    if grade is Grade.TOO_CLOSE:
        return (
            f"{name} is too close to call: {points(gap.estimate)} points against {control}{doubt}."
        )
    tail = ", but smaller than worth having" if comparison.is_small else ""
    return f"{name} struck {size} points {more} than {control}{doubt}: {GRADE_WORDS[grade]}{tail}."


def _why(comparison: "Comparison") -> str:
    if comparison.reason:
        return f", because {comparison.reason}"
    if comparison.floor is not None and comparison.floor >= 1:
        return ", because with one of each, luck and treatment cannot be told apart"
    if comparison.floor_holm is not None:
        times = 100 * comparison.floor_holm
        said = f"{times:.0f}" if times >= 9.5 else f"{times:.1f}"
        return f", because even the widest gap there can be would come about by luck {said} times in 100"
    return ""


def headline(plan: Plan, comparisons: Sequence["Comparison"], is_final: bool, day: float) -> str:
    """The one line a grower reads first."""
    if plan.control is None:
        return "No control, so no verdict: these are strike rates only."
    if not comparisons or day == 0:
        return "Nothing to judge yet: no round has looked at every unit."
    asked = [c for c in comparisons if plan.treatments[c.index].role not in CHECKS]
    prefix = "" if is_final else f"So far (day {day:.0f} of {plan.length_days}): "
    for grade, phrase in (
        (Grade.CLEAR_LEAD, "ahead of"),
        (Grade.LIKELY_LEAD, "likely ahead of"),
    ):
        names = [plan.treatments[c.index].name for c in asked if c.asked is grade]
        if names:
            return f"{prefix}{_joined(names)} {_is(names)} {phrase} {plan.control.name} {_ASKED[plan.measure]}."
    if asked and all(c.asked is Grade.CANNOT_TELL for c in asked):
        return f"{prefix}This bench cannot tell, by its design."
    if asked and all(c.asked is Grade.LEVEL for c in asked):
        return f"{prefix}All are level with {plan.control.name}."
    behind = [
        plan.treatments[c.index].name
        for c in asked
        if c.asked in (Grade.CLEARLY_BEHIND, Grade.LIKELY_BEHIND)
    ]
    if behind:
        return f"{prefix}Nothing is ahead of {plan.control.name}; {_joined(behind)} {_is(behind)} behind."
    return f"{prefix}Nobody can tell yet: no treatment stands out from {plan.control.name}."


def _is(names: Sequence[str]) -> str:
    return "is" if len(names) == 1 else "are"


def _joined(names: Sequence[str]) -> str:
    if len(names) > 1 and any(" and " in name for name in names):
        names = [f"“{name}”" for name in names]
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def trial_says(
    plan: Plan, comparisons: Sequence["Comparison"], is_final: bool, day: float
) -> tuple[str, ...]:
    """What the trial can say: every comparison, secondary results, doubt and limits."""
    out = [c.sentence for c in comparisons]
    if plan.measure is not Measure.STRIKE:
        out.insert(
            0, f"This trial is judged {_JUDGED[plan.measure]}; how many struck is secondary here."
        )
    out += [s for c in comparisons for s in _level_says(plan, c)]
    out += _secondary_says(plan, comparisons)
    out += [s for c in comparisons for s in _missing_says(plan, c)]
    for c in _most_promising(plan, comparisons):
        told = "; ".join(f"about {n} {label}" for label, n in c.settle)
        out.append(f"To settle {plan.treatments[c.index].name}, plants to a treatment: {told}.")
    if not is_final and day > 0:
        out.append(
            "The trial still runs, so nothing is called clear before the last day: whoever called the "
            "first lucky round would find a gap in about one in ten trials in which nothing differs."
        )
    out.append(
        f"It speaks of {plan.material} treated as here, in this place and season, and of no other."
    )
    return tuple(out)


def _level_says(plan: Plan, c: "Comparison") -> list[str]:
    """For a trial that asked whether it is just as good: not worse, or why level cannot be said."""
    limits = c.gap90
    if not plan.expect_level or c.grade is Grade.LEVEL or not c.is_final:
        return []
    if limits is None or limits.low is None or limits.high is None:
        return []
    name, margin = plan.treatments[c.index].name, plan.gap_points / 100
    if limits.low > -margin and c.grade is not Grade.CANNOT_TELL:
        return [
            f"{name} is not worse by {plan.gap_points:.0f} points or more: the 90 % range of the gap is "
            f"{span(limits)}."
        ]
    if (limits.high - limits.low) / 2 >= margin:
        return [
            f"{name}: this bench cannot tell level by design; even with equal outcomes the range would "
            f"be wider than ±{plan.gap_points:.0f} points."
        ]
    return []


def _most_promising(plan: Plan, comparisons: Sequence["Comparison"]) -> list["Comparison"]:
    """The open comparison that is worth settling first: the widest gain seen, without harm."""
    open_calls = [
        c
        for c in comparisons
        if c.grade in (Grade.TOO_CLOSE, Grade.LIKELY_LEAD)
        and c.settle
        and not c.harm
        and c.gap is not None
        and plan.treatments[c.index].role not in CHECKS
    ]
    return sorted(open_calls, key=lambda c: -(c.gap.estimate if c.gap else 0))[:1]


def _secondary_says(plan: Plan, comparisons: Sequence["Comparison"]) -> list[str]:
    """Secondary results, treatments with the same result in one sentence; harm apart."""
    told: dict[str, list[str]] = {}
    for c in comparisons:
        for phrase in _secondary_phrases(c):
            told.setdefault(phrase, []).append(plan.treatments[c.index].name)
    return [f"{_joined(names)} {phrase}" for phrase, names in told.items()]


def _secondary_phrases(c: "Comparison") -> list[str]:
    leads = (Grade.CLEAR_LEAD, Grade.LIKELY_LEAD)
    out = []
    if c.over_time.grade in leads:
        out.append(f"{_over_time(c)} (secondary, {GRADE_WORDS[c.over_time.grade]}).")
    elif c.over_time.grade not in (None, Grade.TOO_CLOSE):
        out.append(f"came behind over time (secondary, {GRADE_WORDS[c.over_time.grade]}).")
    if c.quality.grade is not None and c.quality.grade is not Grade.TOO_CLOSE:
        better = "better" if c.quality.grade in leads else "poorer"
        out.append(
            f"had {better} root scores, of all stuck (secondary, {GRADE_WORDS[c.quality.grade]})."
        )
    if c.harm_by_injury:
        out.append("did harm: more plants with clear signs of it than in the control.")
    elif c.harm:
        out.append("did harm: more plants lost than in the control, counted apart from strike.")
    return out


def _over_time(c: "Comparison") -> str:
    """A lead over time in words; "sooner" only where that is not just more strikes."""
    if c.sooner == "alike":
        return "came sooner, as many having struck in the end"
    if c.sooner == "struck":
        return (
            "came ahead over time, and those that struck did so sooner, though the struck are no "
            "fair lot"
        )
    more = c.gap is not None and c.gap.estimate > 0
    return "came ahead over time" + (", through more strikes" if more else "")


def effect_says(e: "Effect") -> str:
    """One sentence on one factor: what its level did, over all or at one level of the other."""
    where = f" (at {e.within})" if e.within else ""
    what = f"{e.factor[:1].upper()}{e.factor[1:]}, {e.level} against {e.base}{where}"
    size, more = whole_points(e.gap.estimate), "more" if e.gap.estimate > 0 else "fewer"
    doubt = f" (the true gap may lie {span(e.gap)})" if e.gap.low is not None else ""
    if e.grade is Grade.CANNOT_TELL:
        return f"{what}: this bench cannot tell by design."
    if e.grade is Grade.TOO_CLOSE:
        return f"{what}: {points(e.gap.estimate)} points{doubt}, too close to call."
    return f"{what}: {size} points {more}{doubt}, {GRADE_WORDS[e.grade]}."


def _missing_says(plan: Plan, c: "Comparison") -> list[str]:
    if c.grades_if_missing is None:
        return []
    worst, best = (GRADE_WORDS[g] for g in c.grades_if_missing)
    name = plan.treatments[c.index].name
    if worst == best == GRADE_WORDS[c.grade]:
        return [f"{name}: the verdict does not rest on the plants that were taken out."]
    return [
        f"{name}: with all that were taken out counted against it the verdict would be {worst}, "
        f"counted for it {best}; the lowest stands."
    ]


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
