"""The course of a trial: planned looks, rounds made, what is due and what was missed."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from racecard.core.log.days import look_spacing, planned_looks
from racecard.core.model import Plan
from racecard.core.model.observation import UnitLog


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

    A round belongs to the nearest planned look, within half the way to its neighbour; no two planned
    looks share one. The last day is made only on that day or later. A look stays due for as long as a
    late round would still belong to it.

    Args:
        plan: the plan with its last day and spacing of looks.
        today: day of the trial now; negative before the start.
        rounds: days on which anything was logged; True where every unit was looked at.
    """
    planned = planned_looks(plan)
    made = {nearest_look(plan, day) for day in rounds}
    dots = [Dot(d, DotState.DONE if full else DotState.PARTIAL) for d, full in rounds.items()]
    for i, day in enumerate(planned):
        if day in made:
            continue
        until = last_day_for_looks(plan)
        if i + 1 < len(planned):
            until = day + _half_way(day, planned[i + 1])
        if today < day:
            state = DotState.COMING
        else:
            state = DotState.DUE if today <= until else DotState.MISSED
        dots.append(Dot(day, state))
    return tuple(sorted(dots, key=lambda d: d.day))


def nearest_look(plan: Plan, day: int) -> int | None:
    """The planned look a round of this day belongs to; None where it lies too far from any.

    Args:
        plan: the plan.
        day: day of the trial.
    """
    planned = planned_looks(plan)
    last = planned[-1]
    if day >= last:
        return last
    near = min(planned, key=lambda d: (abs(d - day), d))
    if near == last:  # seen before the last day is not seen on it
        near = planned[-2] if len(planned) > 1 else last
    if near > day:
        before = max((d for d in planned if d < near), default=0)
        return near if near - day <= _half_way(before, near) else None
    after = min(d for d in planned if d > near) if near < last else last
    return near if day - near <= _half_way(near, after) or near == day else None


def _half_way(one: int, other: int) -> int:
    return (other - one) // 2


def last_day_for_looks(plan: Plan, late: int = 0) -> int:
    """The last day on which a look is still taken: one spacing after the planned end.

    `late`: days after day 0 on which the last unit was set; looks are taken until its own end.

    Args:
        plan: the plan.
        late: days that the unit was set after day 0.
    """
    return plan.length_days + late + look_spacing(plan)


def left_on(log: UnitLog, held: int) -> int | None:
    """The day after which a unit has nothing left to see: lost, taken out, or all accounted for.

    Args:
        log: what was seen of the unit.
        held: plants it held.
    """
    for look in sorted(log.looks, key=lambda x: x.day):
        if look.loss is not None or look.removed:
            return look.day
    for count in sorted(log.counts, key=lambda x: x.day):
        if count.struck + count.lost + count.removed >= held:
            return count.day
    return None


def rounds_made(logs: Sequence[UnitLog], held: Sequence[int]) -> dict[int, bool]:
    """Days on which anything was looked at; True where every unit with something to see was.

    Args:
        logs: one log a unit, shape (u,).
        held: plants in each unit, shape (u,).
    """
    seen = [{x.day for x in log.looks} | {x.day for x in log.counts} for log in logs]
    left = [left_on(log, n) for log, n in zip(logs, held, strict=True)]
    return {
        day: all(
            day in days or (gone is not None and gone < day)
            for days, gone in zip(seen, left, strict=True)
        )
        for day in sorted(set().union(*seen))
    }


def past_end_says(plan: Plan, day: int, late: int = 0) -> str:
    """What is wrong with a look past the end, and what to do about it.

    Args:
        plan: the plan.
        day: day of the look.
        late: days that the unit was set after day 0.
    """
    return (
        f"Day {day} is past the end: the last day was {plan.length_days + late}, and looks were taken "
        f"until day {last_day_for_looks(plan, late)}. Extend the trial to day {day} to look now; it is "
        "kept as an amendment."
    )
