"""Today: what is due, overdue and coming across trials, soaks that run, loops not yet closed."""

from datetime import datetime, timedelta

from fastapi import APIRouter

from racecard.api.deps import ShedDep
from racecard.api.schemas.base import Out
from racecard.core.log.assemble import unit_logs
from racecard.core.log.course import course, rounds_made
from racecard.core.log.days import elapsed_days, planned_hour, zone
from racecard.core.log.due import State, Task, tasks
from racecard.core.model import Status, Trial
from racecard.core.prepare.clock import clock_of
from racecard.store.clock import Ran, load_marks
from racecard.store.diary import load_entries
from racecard.store.rounds import load_observations
from racecard.store.trials import load_trials

router = APIRouter(prefix="/api", tags=["today"])


class TaskOut(Out):
    """One thing to do. `at`: its moment where it has one; `ref`: what closing it names."""

    trial_id: str
    question: str
    kind: str
    state: str
    day: int | None
    at: datetime | None
    says: str
    ref: str
    invented: bool


@router.get("/today", operation_id="get_today")
def get_today(shed: ShedDep) -> list[TaskOut]:
    """Every task of every trial, the most pressing first."""
    now = shed.now()
    with shed.reading() as session:
        found = [
            (
                t,
                load_observations(session, t.id),
                load_entries(session, t.id),
                load_marks(session, t.id),
            )
            for t in load_trials(session)
        ]
    out: list[TaskOut] = []
    for trial, log, entries, marks in found:
        out += _soaks(trial, marks, now)
        if trial.status is not Status.STARTED or trial.started_at is None:
            continue
        plan = trial.plan
        today = elapsed_days(trial.started_at, now, plan.time_zone)
        logs = unit_logs(trial.stuck, log, trial.plan)
        dots = course(plan, today, rounds_made(logs, plan.per_container))
        out += [_task(trial, t) for t in tasks(trial, today, dots, logs, entries)]
    order = [s.value for s in State]
    return sorted(out, key=lambda t: order.index(t.state))


def _task(trial: Trial, task: Task) -> TaskOut:
    return TaskOut(
        trial_id=trial.id, question=trial.plan.question, kind=task.kind, state=task.state,
        day=task.day, at=None, says=task.says, ref=task.ref, invented=trial.invented,
    )  # fmt: skip


def _soaks(trial: Trial, marks: dict[str, Ran], now: datetime) -> list[TaskOut]:
    """Soaks that run and when each ends."""
    tz = zone(trial.plan.time_zone)
    steps = {
        s.key: s for s in clock_of(trial.plan, planned_hour(trial.plan) or now.astimezone(tz)).steps
    }
    out = []
    for key, ran in marks.items():
        step = steps.get(key)
        if step is None or ran.started_at is None or ran.stopped_at is not None:
            continue
        ends = ran.started_at + timedelta(minutes=step.minutes)
        state = State.OVERDUE if ends < now else State.DUE
        arm = trial.plan.treatments[step.treatment].name
        at = f"{ends.astimezone(tz):%H:%M}"
        says = (
            f"End the {step.name} of {arm}: it was to end at {at}."
            if ends < now
            else f"End the {step.name} of {arm} at {at}."
        )
        if trial.is_sealed:
            says = f"End a soak at {at}."
        out.append(
            TaskOut(
                trial_id=trial.id, question=trial.plan.question, kind="soak", state=state, day=None,
                at=ends, says=says, ref=key, invented=trial.invented,
            )
        )  # fmt: skip
    return out
