"""Trials: drafts, benches, starts, seals, and what follows from a plan as one types."""

from dataclasses import replace
from datetime import datetime

from fastapi import APIRouter

from racecard.api.deps import ShedDep, WhoDep
from racecard.api.schemas.trials import (
    CellOut,
    ConsequencesOut,
    DraftIn,
    FaultOut,
    GatherOut,
    NoteOut,
    PowerOut,
    StartIn,
    TrialLine,
    TrialOut,
    cautions_out,
)
from racecard.core.finish.stewards import notes_from_plan
from racecard.core.log.assemble import unit_logs
from racecard.core.log.course import Dot, course, rounds_made
from racecard.core.log.days import date_of_day, elapsed_days, look_days
from racecard.core.log.stages import endpoint_name
from racecard.core.model import Observation, Plan, Status, Trial
from racecard.core.plan.bench import draw_bench
from racecard.core.plan.check import faults
from racecard.core.plan.gather import to_gather
from racecard.core.plan.power import PlanPower, power_of_plan
from racecard.core.plan.summary import stands
from racecard.store.rounds import load_observations
from racecard.store.trials import (
    create_trial,
    delete_draft,
    load_trial,
    load_trials,
    save_plan,
    start_trial,
    unseal_trial,
)

router = APIRouter(prefix="/api", tags=["trials"])


@router.get("/trials", operation_id="list_trials")
def list_trials(shed: ShedDep) -> list[TrialLine]:
    """Every trial, the newest first, with its day and what is due."""
    with shed.reading() as session:
        found = [(t, load_observations(session, t.id)) for t in load_trials(session)]
    return [_line(trial, log, shed.now()) for trial, log in found]


@router.post("/trials", operation_id="create_trial", status_code=201)
def create(shed: ShedDep, who: WhoDep, draft: DraftIn) -> TrialOut:
    """Save a new draft; its bench is drawn from the seed."""
    return _out(create_trial(shed, draft.plan.to_core(), draft.seed, who), [], shed.now())


@router.get("/trials/{trial_id}", operation_id="get_trial")
def get_trial(shed: ShedDep, trial_id: str) -> TrialOut:
    """One trial with its course and its bench."""
    with shed.reading() as session:
        trial, log = load_trial(session, trial_id), load_observations(session, trial_id)
    return _out(trial, log, shed.now())


@router.put("/trials/{trial_id}/plan", operation_id="save_plan")
def put_plan(shed: ShedDep, who: WhoDep, trial_id: str, draft: DraftIn) -> TrialOut:
    """Save a draft's plan; refused once the trial has started."""
    return _out(save_plan(shed, trial_id, draft.plan.to_core(), draft.seed, who), [], shed.now())


@router.delete("/trials/{trial_id}", operation_id="delete_draft", status_code=204)
def delete(shed: ShedDep, trial_id: str) -> None:
    """Throw a draft away; a started trial is kept."""
    delete_draft(shed, trial_id)


@router.post("/trials/{trial_id}/start", operation_id="start_trial")
def start(shed: ShedDep, who: WhoDep, trial_id: str, body: StartIn) -> TrialOut:
    """Stamp day 0 and freeze the plan."""
    return _out(start_trial(shed, trial_id, who, body.at), [], shed.now())


@router.post("/trials/{trial_id}/unseal", operation_id="unseal_trial")
def unseal(shed: ShedDep, who: WhoDep, trial_id: str) -> TrialOut:
    """Show the treatments of a trial scored blind; recorded, and not to be undone."""
    trial = unseal_trial(shed, trial_id, who)
    with shed.reading() as session:
        return _out(trial, load_observations(session, trial_id), shed.now())


@router.post("/plans/check", operation_id="check_plan")
def check(draft: DraftIn) -> ConsequencesOut:
    """What follows from a plan: broken rules, notes, cautions, power, and the bench by lot."""
    plan = draft.plan.to_core()
    found = faults(plan)
    cautions = cautions_out(plan)
    shown = [FaultOut.from_core(f) for f in found]
    if any(not f.pointer.endswith(("/name", "/detail", "question", "material")) for f in found):
        return ConsequencesOut(
            faults=shown, notes=[], cautions=cautions, power=None, bench=[], gather=[], look_days=[]
        )
    cells = draw_bench(plan, draft.seed)
    return ConsequencesOut(
        faults=shown,
        notes=[NoteOut.from_core(n) for n in notes_from_plan(plan, cells)],
        cautions=cautions,
        power=_power(plan),
        bench=[CellOut.from_core(c) for c in cells],
        gather=[GatherOut(thing=t, amount=a) for t, a in to_gather(plan, cells)],
        look_days=list(look_days(plan.length_days, plan.look_every_days)),
    )


def _power(plan: Plan) -> PowerOut | None:
    if plan.control is None:
        return None
    return PowerOut.from_core(
        plan, power_of_plan(plan), _at(plan, plan.units // 2), _at(plan, plan.units * 2)
    )


def _at(plan: Plan, units: int) -> PlanPower | None:
    """Power of the same plan with another number of units, where that makes a plan."""
    if not max(2, plan.blocks) <= units <= 500:
        return None
    return power_of_plan(replace(plan, units=units), only_curve=True)


def _out(trial: Trial, log: list[Observation], now: datetime) -> TrialOut:
    plan = trial.plan
    today, started_on = None, None
    dots: tuple[Dot, ...] = ()
    if trial.started_at is not None:
        today = elapsed_days(trial.started_at, now, plan.time_zone)
        started_on = date_of_day(trial.started_at, 0, plan.time_zone)
        made = rounds_made(unit_logs(trial.planted, log), plan.per_container)
        dots = course(plan, today, made)
    endpoint = endpoint_name(plan.kind, plan.endpoint, plan.threshold_mm)
    return TrialOut.from_core(trial, today, started_on, dots, endpoint)


def _line(trial: Trial, log: list[Observation], now: datetime) -> TrialLine:
    plan = trial.plan
    today = None
    dots: tuple[Dot, ...] = ()
    if trial.started_at is not None:
        today = elapsed_days(trial.started_at, now, plan.time_zone)
        dots = course(plan, today, rounds_made(unit_logs(trial.planted, log), plan.per_container))
    state = stands(plan, trial.status is Status.STARTED, today, dots)
    return TrialLine(
        id=trial.id, question=plan.question, material=plan.material, status=trial.status,
        sealed=trial.is_sealed, invented=trial.invented, treatments=len(plan.treatments),
        units=len(trial.planted), today=today, length_days=plan.length_days,
        due_day=state.due_day, next_day=state.next_day, missed=state.missed,
        looks_made=state.looks_made, finished=state.finished, says=state.says,
    )  # fmt: skip
