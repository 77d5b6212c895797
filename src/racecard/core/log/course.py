"""The course of a trial: planned looks, rounds made, what is due and what was missed."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from racecard.core.log.days import look_spacing, planned_looks
from racecard.core.model import Plan
from racecard.core.written import UnitLog


class DotState(StrEnum):
    """How a look stands."""

    DONE = "done"
    PARTIAL = "partial"
    DUE = "due"
    MISSED = "missed"
    COMING = "coming"


@dataclass(frozen=True, slots=True)
class Dot:
    """One look on the course line."""

    day: int
    state: DotState


def course(plan: Plan, today: int, rounds: Mapping[int, bool]) -> tuple[Dot, ...]:
    """Every look, made or planned, in order of day.

    A planned look counts as made when a round lies within half a look's distance of it; it stays
    due for as long as a late round would still count as it.

    Args:
        plan: the plan with its last day and spacing of looks.
        today: day of the trial now; negative before the start.
        rounds: days on which anything was logged; True where every unit was looked at.
    """
    near = look_spacing(plan) // 2
    dots = [Dot(d, DotState.DONE if full else DotState.PARTIAL) for d, full in rounds.items()]
    for day in planned_looks(plan):
        if any(abs(day - made) <= near for made in rounds):
            continue
        if today < day:
            state = DotState.COMING
        else:
            state = DotState.DUE if today <= day + near else DotState.MISSED
        dots.append(Dot(day, state))
    return tuple(sorted(dots, key=lambda d: d.day))


def last_day_for_looks(plan: Plan) -> int:
    """The last day on which a look is still taken: one spacing after the planned end."""
    return plan.length_days + look_spacing(plan)


def left_on(log: UnitLog, per_container: int) -> int | None:
    """The day after which a unit has nothing left to see: lost, taken out, or all accounted for."""
    for look in sorted(log.looks, key=lambda x: x.day):
        if look.loss is not None or look.removed:
            return look.day
    for count in sorted(log.counts, key=lambda x: x.day):
        if count.struck + count.lost + count.removed >= per_container:
            return count.day
    return None


def rounds_made(logs: Sequence[UnitLog], per_container: int) -> dict[int, bool]:
    """Days on which anything was looked at; True where every unit with something to see was."""
    seen = [{x.day for x in log.looks} | {x.day for x in log.counts} for log in logs]
    left = [left_on(log, per_container) for log in logs]
    return {
        day: all(
            day in days or (gone is not None and gone < day)
            for days, gone in zip(seen, left, strict=True)
        )
        for day in sorted(set().union(*seen))
    }
