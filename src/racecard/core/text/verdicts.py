"""The sentences of a finish, made from the numbers, in words a grower reads."""

import unicodedata
from collections.abc import Sequence
from dataclasses import replace
from math import floor
from typing import TYPE_CHECKING

from racecard.core.assess.grade import GRADE_WORDS, Grade
from racecard.core.model import CHECKS, Kind, Measure, Plan
from racecard.core.stats.proportions import Interval

if TYPE_CHECKING:
    from racecard.core.assess.crosses import Effect
    from racecard.core.assess.judge import Comparison

MINUS = "−"
_ASKED = {
    Measure.STRIKE: "", Measure.SPEED: " on speed", Measure.QUALITY: " on root score"
}  # fmt: skip
_LEADS = (Grade.CLEAR_LEAD, Grade.LIKELY_LEAD)
_BEHIND = (Grade.CLEARLY_BEHIND, Grade.LIKELY_BEHIND)
_CALLED = (*_LEADS, *_BEHIND)
_DONE = {
    (Kind.CUTTING, 5): "showed a root", (Kind.CUTTING, 6): "rooted", (Kind.CUTTING, 7): "were plantable",
    (Kind.SEED, 2): "germinated", (Kind.SEED, 3): "came up", (Kind.SEED, 4): "opened their seed leaves",
    (Kind.SEED, 5): "had a true leaf", (Kind.SEED, 6): "were plantable",
}  # fmt: skip


def done(plan: Plan) -> str:
    """What those did that reached the trial's goal: rooted, came up; struck where a table does not say."""
    return "struck" if plan.question == "" else _DONE.get((plan.kind, plan.endpoint), "struck")


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


def verdict(plan: Plan, reference: int, c: "Comparison") -> str:
    """One sentence on one treatment against the control, on how many struck."""
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


def _graded(plan: Plan, name: str, control: str, c: "Comparison") -> str:
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


def _why(plan: Plan, c: "Comparison") -> str:
    thing = "container" if plan.per_container > 1 else "plant"
    if c.why == "one_unit" and (c.floor or 0) < 1:
        return f", because one of the two has only one {thing}"
    if c.why == "thinned_strongest":
        return ", because the plants counted were chosen as the strongest"
    if c.why == "blocks_of_one_treatment":
        return ", because each block holds only one treatment"
    if c.reason:
        return f", because {c.reason}"
    if c.floor is not None and c.floor >= 1:
        return f", because there is one {thing} of each"
    if c.floor_holm is not None:
        times = 100 * c.floor_holm
        said = f"{times:.0f}" if times >= 9.5 else f"{times:.1f}"
        return f", because even the largest possible difference would arise by chance {said} times in 100"
    return ""


def headline(plan: Plan, comparisons: Sequence["Comparison"], is_final: bool, day: float) -> str:
    """The one line a grower reads first: every result that is not "no clear difference", harm too."""
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
    control, on = plan.control.name, _ASKED[plan.measure]

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


def _harm_parts(plan: Plan, seen: Sequence["Comparison"]) -> list[str]:
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


def trial_says(
    plan: Plan, comparisons: Sequence["Comparison"], is_final: bool, day: float
) -> tuple[str, ...]:
    """What the trial can say: every comparison, secondary results, doubt and limits."""
    out = [c.sentence for c in comparisons]
    if plan.measure is not Measure.STRIKE:
        out = [*_asked_says(plan, comparisons), *out]
    out += [s for c in comparisons for s in _level_says(plan, c)]
    out += _secondary_says(plan, comparisons)
    out += [s for c in comparisons for s in _missing_says(plan, c)]
    for c in _most_promising(plan, comparisons):
        told = ", ".join(f"{x.units} {x.label}" for x in c.settle)
        name, thing = plan.treatments[c.index].name, c.settle[0].thing
        told = told.replace(" ", f" {thing} per treatment ", 1)
        out.append(f"To settle {name}: about {told}.")
    if not is_final and day > 0:
        out.append(
            "The trial is still running. Nothing is called clear before the last day: judging at every "
            f"round and stopping at the first good one called {PEEKING_PERCENT} of 100 trials clear in "
            "which nothing differed."
        )
    out.append(f"{LIMITS} {plan.material} under the conditions of this trial.")
    return tuple(out)


PEEKING_PERCENT = "11.6"
"""Null trials called clear at some round by a grower who tests at each look: docs/calibration.md."""
LIMITS = "These results apply to"


def _asked_says(plan: Plan, comparisons: Sequence["Comparison"]) -> list[str]:
    """The verdicts on what the trial is judged on, before strike, where that is not strike."""
    is_speed = plan.measure is Measure.SPEED
    what = f"how soon they {done(plan)}" if is_speed else "the root score"
    out = [f"This trial is judged on {what}; how many {done(plan)} is secondary."]
    control = plan.control.name if plan.control else ""
    for c in comparisons:
        name = plan.treatments[c.index].name
        if c.asked is None:
            continue
        result = c.over_time if is_speed else c.quality
        if c.asked in _CALLED:
            side = "ahead of" if c.asked in _LEADS else "behind"
            how = " over time" if is_speed else " in root score"
            says = f"{name} was {side} {control}{how}. {GRADE_WORDS[c.asked].capitalize()}"
            if is_speed and c.asked in _LEADS and c.sooner == "alike":
                says = f"{name} {done(plan)} sooner than {control}. {GRADE_WORDS[c.asked].capitalize()}"
        elif c.asked is Grade.CANNOT_TELL:
            says = f"{name} and {control}: this trial could not have told{_why(plan, c)}"
        else:
            why = f" ({result.reason})" if result.reason else ""
            on = "speed" if is_speed else "root score"
            says = f"{name} and {control}: too close to call on {on}{why}"
        out.append(f"{says}.")
    return out


def _is_not_worse(plan: Plan, c: "Comparison") -> bool:
    limits = c.gap90
    return limits is not None and limits.low is not None and limits.low > -plan.gap_points / 100


def _level_says(plan: Plan, c: "Comparison") -> list[str]:
    """For a trial that asked whether it is just as good: not worse, or why level cannot be said."""
    limits = c.gap90
    if not plan.expect_level or c.grade is Grade.LEVEL or not c.is_final:
        return []
    if limits is None or limits.low is None or limits.high is None:
        return []
    name, margin = plan.treatments[c.index].name, plan.gap_points / 100
    if _is_not_worse(plan, c) and c.grade is not Grade.CANNOT_TELL:
        return [
            f"{name} is not worse by {plan.gap_points:.0f} points or more (90 % interval {span(limits)})."
        ]
    if (limits.high - limits.low) / 2 >= margin:
        return [
            f"{name}: this trial could not show “level”: even with equal results its 90 % interval would "
            f"be wider than ±{plan.gap_points:.0f} points."
        ]
    return []


def _most_promising(plan: Plan, comparisons: Sequence["Comparison"]) -> list["Comparison"]:
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


def _secondary_says(plan: Plan, comparisons: Sequence["Comparison"]) -> list[str]:
    """Secondary results, treatments with the same result in one sentence; harm apart."""
    told: dict[str, list[str]] = {}
    for c in comparisons:
        for phrase in _secondary_phrases(plan, c):
            told.setdefault(phrase, []).append(plan.treatments[c.index].name)
    return [
        f"{_joined(names)} {phrase if len(names) == 1 else phrase.replace('was ahead', 'were ahead').replace('was behind', 'were behind')}"
        for phrase, names in told.items()
    ]


def _secondary_phrases(plan: Plan, c: "Comparison") -> list[str]:
    out = []
    over_time, quality = c.over_time.grade, c.quality.grade
    if over_time in _CALLED and over_time and plan.measure is not Measure.SPEED:
        how = _over_time(plan, c) if over_time in _LEADS else "was behind over time"
        out.append(f"{how} (secondary, {_firmly(over_time)}).")
    if quality in _CALLED and quality and plan.measure is not Measure.QUALITY:
        better = "better" if quality in _LEADS else "poorer"
        out.append(f"had {better} root scores, counting all (secondary, {_firmly(quality)}).")
    control = plan.control.name if plan.control else "the control"
    if c.harm_by_injury:
        out.append(
            f"had more plants with clear signs of harm than {control}: harm, apart from how many {done(plan)}."
        )
    elif c.harm:
        lost, n, lost0, n0 = c.lost
        out.append(
            f"lost more plants than {control}: {lost} of {n} against {lost0} of {n0}, more than chance explains."
        )
    return out


def _firmly(grade: Grade) -> str:
    return "clear" if grade in (Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND) else "likely"


def _over_time(plan: Plan, c: "Comparison") -> str:
    """A lead over time in words; "sooner" only where that is not just more rooted."""
    did = done(plan)
    if c.sooner == "alike":
        return f"{did} sooner; about as many {did} in the end"
    if c.sooner == "struck":
        return (
            f"was ahead over time; those that {did} were also sooner, but comparing only those is not a "
            "fair comparison"
        )
    more = c.gap is not None and c.gap.estimate > 0
    return "was ahead over time" + (f" because more of them {did}" if more else "")


def effect_says(e: "Effect") -> str:
    """One sentence on one factor: what its level did, over all or at one level of the other."""
    where = f" (at {e.within})" if e.within else ""
    what = f"{e.factor[:1].upper()}{e.factor[1:]}, {e.level} against {e.base}{where}"
    if e.grade is Grade.CANNOT_TELL:
        return f"{what}: this trial could not have told."
    told = f"{what}: {points(e.gap.estimate)} points{doubt_of(e.gap)}."
    word = GRADE_WORDS[e.grade]
    return f"{told} {word[:1].upper()}{word[1:]}{'' if e.is_final else ', so far'}."


def _missing_says(plan: Plan, c: "Comparison") -> list[str]:
    if c.grades_if_missing is None:
        return []
    worst, best = ("no verdict" if g is None else GRADE_WORDS[g] for g in c.grades_if_missing)
    name, did = plan.treatments[c.index].name, done(plan)
    out = []
    if c.apart:
        out.append(
            f"{name}: the count of those left and the curve point opposite ways, so it is too close to call."
        )
    if c.grade is not None and worst == best == GRADE_WORDS[c.grade]:
        return [*out, f"{name}: counting those left out either way does not change the verdict."]
    return [
        *out,
        f"{name}: with all those left out against it: {worst}; with all as if they had {did}: {best}. "
        "The weaker verdict is used.",
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
