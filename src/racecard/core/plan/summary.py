"""How a trial stands, in one line: its day, what is due, what was missed."""

from collections.abc import Sequence
from dataclasses import dataclass

from racecard.core.log.course import Dot, DotState
from racecard.core.model import Plan


@dataclass(frozen=True, slots=True)
class Standing:
    """The next look, the missed ones, and a sentence."""

    due_day: int | None
    next_day: int | None
    missed: int
    looks_made: int
    finished: bool
    says: str


def stands(plan: Plan, started: bool, today: int | None, dots: Sequence[Dot]) -> Standing:
    """How a trial stands today.

    Args:
        plan: the plan.
        started: whether day 0 was stamped.
        today: day of the trial, None before the start.
        dots: its course.
    """
    if not started or today is None:
        return Standing(None, None, 0, 0, False, "Draft, not started")
    due = next((d.day for d in dots if d.state is DotState.DUE), None)
    half_done = next((d.day for d in dots if d.state is DotState.PARTIAL and d.day == today), None)
    if due is None:
        due = half_done
    coming = next((d.day for d in dots if d.state is DotState.COMING), None)
    missed = sum(d.state is DotState.MISSED for d in dots)
    made = sum(d.state in (DotState.DONE, DotState.PARTIAL) for d in dots)
    done = {d.day for d in dots if d.state is DotState.DONE}
    finished = any(d >= plan.length_days for d in done)
    return Standing(
        due, coming, missed, made, finished, _says(plan, today, due, coming, missed, finished)
    )


def _says(
    plan: Plan, today: int, due: int | None, coming: int | None, missed: int, finished: bool
) -> str:
    if finished:
        return f"Finished: last round on day {plan.length_days}"
    tail = ""
    if missed:
        looks = "one look was" if missed == 1 else f"{missed} looks were"
        tail = f". {looks[:1].upper()}{looks[1:]} missed, so some dates are less exact."
    if due is not None:
        late = (
            f", {today - due} days late"
            if today - due > 1
            else (", a day late" if today > due else "")
        )
        return f"Round of day {due} is due{late}{tail}"
    if coming is not None:
        wait = coming - today
        return f"Next round: day {coming}, {'tomorrow' if wait == 1 else f'in {wait} days'}{tail}"
    return f"Past day {plan.length_days}, last round incomplete{tail}"
