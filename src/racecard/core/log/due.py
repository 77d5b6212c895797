"""What a trial asks of the grower today: looks, lifts, jobs, and the loops not yet closed."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from racecard.core.log.course import Dot, DotState, last_day_for_looks, left_on
from racecard.core.log.events import entries_in_force, event_of
from racecard.core.log.lift import sampled
from racecard.core.log.measures import STAGE, graded_word
from racecard.core.model import Kind, Measure, Outcome, Trial
from racecard.core.model.observation import Entry, UnitLog


class State(StrEnum):
    """How pressing a task is; open: a loop that stays until it is closed."""

    OVERDUE = "overdue"
    DUE = "due"
    COMING = "coming"
    OPEN = "open"


@dataclass(frozen=True, slots=True)
class Task:
    """One thing to do. `kind`: look, lift, job, follow_up or verdict. `ref`: entry it closes."""

    kind: str
    state: State
    day: int
    says: str
    ref: str = ""


_AHEAD = 3
"""Days ahead that a task is shown as coming."""
_JOB_EARLY = 2
"""A job done this many days early still counts as done."""


def tasks(
    trial: Trial, today: int, dots: Sequence[Dot], logs: Sequence[UnitLog], entries: Sequence[Entry]
) -> list[Task]:
    """What a started trial asks for, the most pressing first.

    Args:
        trial: the trial.
        today: its day.
        dots: its course.
        logs: one log for each unit that was set.
        entries: its diary.
    """
    told = entries_in_force(entries)
    out = [
        *_looks(trial, today, dots),
        *_sample_lifts(trial, today, logs),
        *_final_lift(trial, today, logs),
        *_measuring(trial, today, told),
        *_jobs(trial, today, told),
        *_follow_ups(today, told),
        *_verdict(trial, today, dots),
    ]
    order = list(State)
    return sorted(out, key=lambda t: (order.index(t.state), t.day))


def missed_says(trial: Trial, dots: Sequence[Dot]) -> str:
    """What the looks missed since the last one made cost, in a sentence; "" where none was."""
    made = [d.day for d in dots if d.state in (DotState.DONE, DotState.PARTIAL)]
    last = max(made, default=0)
    missed = [d.day for d in dots if d.state is DotState.MISSED and d.day > last]
    if not missed:
        return ""
    days = ", ".join(str(d) for d in missed)
    is_usual = trial.plan.outcome is Outcome.USUAL
    usual = "roots" if trial.plan.kind is Kind.CUTTING else "seedlings"
    thing = usual if is_usual else "what is"
    since = f"since day {last}" if last else "since day 0"
    looks = "The look of day" if len(missed) == 1 else "The looks of days"
    was = "was" if len(missed) == 1 else "were"
    return f"{looks} {days} {was} missed: {thing} first seen now came some time {since}."


def _when(day: int, today: int) -> State | None:
    if day < today:
        return State.OVERDUE
    if day == today:
        return State.DUE
    return State.COMING if day <= today + _AHEAD else None


def _looks(trial: Trial, today: int, dots: Sequence[Dot]) -> list[Task]:
    due = [d.day for d in dots if d.state is DotState.DUE]
    due += [d.day for d in dots if d.state is DotState.PARTIAL and d.day == today]
    if due:
        day = due[0]
        late = today - day
        state = State.OVERDUE if late > 0 else State.DUE
        tail = f", {late} {'day' if late == 1 else 'days'} late" if late > 0 else ""
        cost = missed_says(trial, dots)
        return [Task("look", state, day, f"Round of day {day}{tail}.{' ' + cost if cost else ''}")]
    coming = next((d.day for d in dots if d.state is DotState.COMING), None)
    if coming is None or _when(coming, today) is None:
        return []
    return [Task("look", State.COMING, coming, f"Round of day {coming}.")]


def _sample_lifts(trial: Trial, today: int, logs: Sequence[UnitLog]) -> list[Task]:
    gone = {
        u.id
        for u, log, n in zip(trial.stuck, logs, trial.plants_held(trial.stuck), strict=True)
        if left_on(log, n) is not None
    }
    here = {u.id for u in trial.stuck}
    out = []
    for day, ids in sampled(trial).items():
        left = [i for i in ids if i in here and i not in gone]
        state = _when(day, today)
        if left and state is not None:
            each = dict(trial.plan.sample_lifts)[day]
            says = f"Lift {len(left)} chosen at random ({each} per treatment); they leave the trial"
            out.append(Task("lift", state, day, says))
    return out


def _final_lift(trial: Trial, today: int, logs: Sequence[UnitLog]) -> list[Task]:
    plan = trial.plan
    if plan.graded_by:
        return []
    wants = Measure.QUALITY in (plan.measure, *plan.secondary)
    if plan.kind is not Kind.CUTTING or not (wants or any(x.score is not None for x in logs)):
        return []
    held = trial.plants_held(trial.stuck)
    left = sum(x.score is None and left_on(x, n) is None for x, n in zip(logs, held, strict=True))
    if left == 0:
        return []
    day = plan.length_days
    state = _when(day, today)
    if state is State.OVERDUE and today > last_day_for_looks(plan):
        state = State.OPEN
    says = f"Final scoring: {left} left to lift and score, in every treatment"
    return [] if state is None else [Task("lift", state, day, says)]


def _measuring(trial: Trial, today: int, told: Sequence[Entry]) -> list[Task]:
    """The measure a trial is judged on, due on its last day."""
    plan = trial.plan
    day = plan.length_days
    state = _when(day, today)
    if plan.graded_by in ("", STAGE) or state is None:
        return []
    done = {
        e.target
        for e in told
        if e.kind == "measure" and e.day >= day - 1 and e.value(plan.graded_by) is not None
    }
    left = sum(u.id not in done for u in trial.stuck)
    says = f"Measure the {graded_word(plan)} of every plant: {left} left"
    return [Task("measure", state, day, says)] if left else []


def _jobs(trial: Trial, today: int, told: Sequence[Entry]) -> list[Task]:
    out = []
    for code, day in trial.plan.jobs:
        done = any(e.kind == "event" and e.what == code and e.day >= day - _JOB_EARLY for e in told)
        state = _when(day, today)
        if not done and state is not None:
            out.append(
                Task("job", state, day, f"{event_of(code).name}, planned for day {day}.", code)
            )
    return out


def _follow_ups(today: int, told: Sequence[Entry]) -> list[Task]:
    closed = {e.text for e in told if e.what == "closed"}
    out = []
    for e in told:
        if e.kind == "event" and e.what == "follow_up" and e.id not in closed:
            day = int(e.value("day") or e.day)
            state = State.OPEN if day > today + _AHEAD else (_when(day, today) or State.OPEN)
            out.append(Task("follow_up", state, day, f"Follow up: {e.text}", e.id))
    return out


def _verdict(trial: Trial, today: int, dots: Sequence[Dot]) -> list[Task]:
    """Arms still running after the end, and a sealed trial that nobody has unsealed."""
    plan = trial.plan
    if today <= plan.length_days:
        return []
    late = max((u.late for u in trial.stuck), default=0)
    whole = any(d.state is DotState.DONE and d.day >= plan.length_days for d in dots)
    if not whole and today > last_day_for_looks(plan, late):
        says = f"Its last round, day {plan.length_days}, was not made in full: the verdict stands at an earlier day."
        return [Task("verdict", State.OPEN, plan.length_days, says)]
    if late and today < plan.length_days + late:
        says = f"Units set later are still running until day {plan.length_days + late}."
        return [Task("verdict", State.OPEN, plan.length_days, says)]
    if trial.is_sealed and whole:
        return [
            Task(
                "verdict",
                State.OPEN,
                plan.length_days,
                "All rounds are complete. Show the treatments and see the results.",
            )
        ]
    return []
