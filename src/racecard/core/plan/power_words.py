"""What a plan can show, in sentences."""

from racecard.core.log.measures import GRADED, graded_word
from racecard.core.model import Measure, Plan
from racecard.core.plan.power import (
    AIM,
    MOST_SEARCHED,
    LevelPower,
    PlanPower,
    gap_worth,
    widest_gap,
)


def says(plan: Plan, power: PlanPower) -> str:
    """One sentence on what this number can and cannot show."""
    what = "units per treatment" if plan.per_container > 1 else "per treatment"
    start = f"{power.units} {what}"
    if power.family > 1:
        start = f"With {power.family} candidates, {start}"
    if not power.is_decidable:
        return f"{start} can never show anything: even all against none would arise by chance too often."
    about = "" if power.is_exact else "about "
    if power.detectable is None:
        return f"{start} would show even {_full(plan)} only {about}{often(power.at_full)}."
    return (
        f"{start} would show {_seen(plan, power.detectable)} {about}8 times in 10, and "
        f"{_gap_said(plan)} {about}{often(power.at_gap)}."
    )


def needs_says(plan: Plan, power: PlanPower) -> str:
    """One sentence on how many it would take, the other way round."""
    if gap_worth(plan) > widest_gap(plan):
        return f"There is no room for {_gap_said(plan)} above what the control usually does."
    if power.needed is None:
        return f"To show {_gap_said(plan)} 8 times in 10 would take more than can be planned here."
    about = "" if power.is_exact and power.needed <= MOST_SEARCHED else "about "
    what = "units per treatment" if plan.per_container > 1 else "per treatment"
    if plan.is_paired:
        what = "pairs"
    return f"To show {_gap_said(plan)} 8 times in 10, set {about}{power.needed} {what}."


def level_says(plan: Plan, level: LevelPower) -> str:
    """One sentence on the equivalence route."""
    margin = f"{plan.gap_points:.0f} points"
    more = f" {level.needed} per treatment would, 8 times in 10." if level.needed else ""
    if not level.can:
        return f"Even equal results could not be called level within {margin} here.{more}"
    return (
        f"If they are truly equal, this plan calls them level within {margin} "
        f"{often(level.chance)}.{more if level.chance < AIM else ''}"
    )


def _gap_said(plan: Plan) -> str:
    if plan.measure is Measure.STRIKE:
        return f"a difference of {plan.gap_points:.0f} points"
    if plan.measure is Measure.SPEED:
        return f"{plan.gap_days:g} days sooner"
    return _higher(plan, plan.gap_score)


def _higher(plan: Plan, gap: float) -> str:
    """A difference in score or measure: a height 30 mm higher, 2 more leaves."""
    if not plan.graded_by:
        return f"a root score {gap:g} higher"
    graded = GRADED[plan.graded_by]
    if graded.field.is_whole:
        return f"{gap:.3g} more {graded.word}"
    return f"a {graded.word} {graded.said(gap)} higher"


def _full(plan: Plan) -> str:
    if plan.measure is Measure.STRIKE:
        return f"100 % against {plan.expected_percent:.0f} %"
    if plan.measure is Measure.SPEED:
        return f"{widest_gap(plan):.0f} days sooner"
    if plan.graded_by:
        most = plan.expected_score + widest_gap(plan)
        usual, best = (GRADED[plan.graded_by].said(v) for v in (plan.expected_score, most))
        return f"{best} against {usual} in {graded_word(plan)}"
    return f"a root score of {plan.expected_score:g} against 5"


def _seen(plan: Plan, gap: float) -> str:
    if plan.measure is Measure.STRIKE:
        return f"{plan.expected_percent + gap:.0f} % against {plan.expected_percent:.0f} %"
    if plan.measure is Measure.SPEED:
        return f"{gap:.0f} days sooner"
    return _higher(plan, round(gap, 1))


def often(chance: float) -> str:
    """A chance as times in 10 or in 100."""
    if chance >= 0.96:
        return "nearly always"
    base = 10 if chance >= 0.095 else 100
    n = round(base * chance)
    return {0: "hardly ever", 1: f"once in {base}"}.get(n, f"{n} times in {base}")
