"""How each trial stands, for the lists: made once, and told until something of the trial is written."""

import logging
from datetime import datetime, timedelta

from pydantic import TypeAdapter

from racecard.api.schemas.dry_runs import ProposalOut, TruthIo
from racecard.api.schemas.standings import TaskOut
from racecard.api.schemas.trials import TrialLine
from racecard.core.dryrun.truths import proposed_truths
from racecard.core.log.assemble import unit_logs
from racecard.core.log.course import Dot, course, last_day_for_looks, rounds_made
from racecard.core.log.days import planned_hour, zone
from racecard.core.log.due import State, Task, tasks
from racecard.core.model import Kind, Measure, Status, Trial
from racecard.core.plan.summary import stands
from racecard.core.prepare.soak_clock import clock_of
from racecard.store.clock import Ran
from racecard.store.engine import Shed
from racecard.store.summaries import Contents, Standing, Summary, summaries

_TASKS = TypeAdapter(list[TaskOut])
_log = logging.getLogger("racecard")


def lines_of_all(shed: Shed) -> list[TrialLine]:
    """A line for every trial, the newest first."""
    return [_line_out(s) for s in _standings(shed)]


def tasks_of_all(shed: Shed) -> list[TaskOut]:
    """Every task of every trial, the most pressing first."""
    out = [t for s in _standings(shed) for t in _tasks_out(s)]
    order = [s.value for s in State]
    return sorted(out, key=lambda t: order.index(t.state))


def proposals_of_all(shed: Shed) -> list[ProposalOut]:
    """Every plan that can be carried out dry, with the truths its grower expects."""
    return [
        ProposalOut.model_validate_json(s.summary.proposal)
        for s in _standings(shed)
        if s.summary is not None
    ]


def _standings(shed: Shed) -> list[Standing]:
    def made(contents: Contents) -> Summary:
        return _summary(contents, shed.now())

    return summaries(shed, made, log=_log.warning)


def _line_out(s: Standing) -> TrialLine:
    if s.summary is None:
        return TrialLine(
            id=s.trial_id, question=s.question, material="", status=Status.DRAFT, sealed=False,
            invented=False, treatments=0, units=0, today=None, length_days=0, due_day=None,
            next_day=None, missed=0, looks_made=0, finished=False, says=s.fault, fault=s.fault,
        )  # fmt: skip
    line = TrialLine.model_validate_json(s.summary.line)
    line.today = s.today
    return line


def _tasks_out(s: Standing) -> list[TaskOut]:
    if s.summary is not None:
        return _TASKS.validate_json(s.summary.tasks) if s.summary.tasks != "[]" else []
    return [
        TaskOut(
            trial_id=s.trial_id, question=s.question, kind="fault", state=State.DUE.value, day=None,
            at=None, says=s.fault, ref="", invented=False,
        )
    ]  # fmt: skip


_NEVER = -1
"""A day no trial has: a summary that holds only for the moment it was made in."""


def _summary(c: Contents, now: datetime) -> Summary:
    soaks = _soaks(c.trial, c.marks, now)
    line, found = _on_day(c, c.today)
    return Summary(
        c.trial.id, _NEVER if soaks else _holds_on(c, line, found), line.model_dump_json(),
        _TASKS.dump_json([*soaks, *found]).decode(), _proposal(c.trial).model_dump_json(),
    )  # fmt: skip


def _on_day(c: Contents, today: int | None) -> tuple[TrialLine, list[TaskOut]]:
    trial, plan = c.trial, c.trial.plan
    if trial.status is not Status.STARTED or today is None:
        return _line(trial, today, ()), []
    logs = unit_logs(trial.stuck, c.log, plan)
    dots = course(plan, today, rounds_made(logs, trial.plants_held(trial.stuck)))
    found = [_task(trial, t) for t in tasks(trial, today, dots, logs, c.entries)]
    return _line(trial, today, dots), found


def _holds_on(c: Contents, line: TrialLine, found: list[TaskOut]) -> int | None:
    """The day a summary is good for; None where no later day changes it."""
    if c.today is None:
        return None
    if not line.finished and c.today <= last_day_for_looks(c.trial.plan):
        return c.today
    later, then = _on_day(c, c.today + _MUCH_LATER)
    later.today = line.today
    return None if (later, then) == (line, found) else c.today


_MUCH_LATER = 10_000
"""Days after which all that can change by itself has changed."""


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


def _line(trial: Trial, today: int | None, dots: tuple[Dot, ...]) -> TrialLine:
    plan = trial.plan
    state = stands(plan, trial.status is Status.STARTED, today, dots)
    return TrialLine(
        id=trial.id, question=plan.question, material=plan.material, status=trial.status,
        sealed=trial.is_sealed, invented=trial.invented, treatments=len(plan.treatments),
        units=len(trial.planted), today=today, length_days=plan.length_days,
        due_day=state.due_day, next_day=state.next_day, missed=state.missed,
        looks_made=state.looks_made, finished=state.finished, says=state.says, fault="",
    )  # fmt: skip


def _proposal(trial: Trial) -> ProposalOut:
    plan = trial.plan
    asked = Measure.QUALITY in (plan.measure, *plan.secondary)
    asked = asked and (plan.kind is Kind.CUTTING or plan.graded_by != "")
    return ProposalOut(
        trial_id=trial.id, question=plan.question, kind=plan.kind,
        names=[t.name for t in plan.treatments], silks=[t.silk for t in plan.treatments],
        roles=[t.role for t in plan.treatments], reference=plan.reference, units=plan.units,
        blocks=plan.blocks, per_container=plan.per_container, scored=asked,
        truths=[TruthIo.from_core(t) for t in proposed_truths(plan)],
    )  # fmt: skip
