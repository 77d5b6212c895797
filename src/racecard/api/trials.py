"""Trials: drafts, benches, starts, amendments, seals, and what was measured before the start."""

from datetime import datetime
from typing import Annotated

import numpy as np
from fastapi import APIRouter, Query

from racecard.api.deps import PhoneClocksDep, ShedDep, WhoDep
from racecard.api.schemas.begun import BegunIn
from racecard.api.schemas.consequences import (
    ArmBalanceOut,
    BalanceOut,
    BaselineIn,
    ComparedOut,
    DifferenceOut,
    GradesIn,
)
from racecard.api.schemas.plans import (
    DraftIn,
)
from racecard.api.schemas.trials import AmendIn, CopyIn, StartIn, TrialLine, TrialOut
from racecard.api.standings import lines_of_all
from racecard.core.design.begun import begun_bench, begun_plan
from racecard.core.log.assemble import unit_logs
from racecard.core.log.course import Dot, course, rounds_made
from racecard.core.log.days import date_of_day, elapsed_days
from racecard.core.log.stages import endpoint_name
from racecard.core.model import Trial
from racecard.core.model.observation import Observation
from racecard.core.plan.baseline import TRAITS, balance, deal_grades
from racecard.core.plan.compare import differences
from racecard.errors import Sealed
from racecard.store.clock_guard import check_clock
from racecard.store.rounds import load_observations
from racecard.store.trials import (
    amend_trial,
    copy_trial,
    create_trial,
    delete_draft,
    keep_baseline,
    load_baseline,
    load_trial,
    record_begun,
    save_plan,
    start_trial,
    unseal_trial,
)

router = APIRouter(prefix="/api", tags=["trials"])


@router.get("/trials", operation_id="list_trials")
def list_trials(
    shed: ShedDep,
    limit: Annotated[int, Query(ge=1, le=100_000)] = 100_000,
    offset: Annotated[int, Query(ge=0)] = 0,
) -> list[TrialLine]:
    """Every trial, the newest first, with its day and what is due; one that cannot be read says so."""
    return lines_of_all(shed)[offset : offset + limit]


@router.post("/trials", operation_id="create_trial", status_code=201)
def create(shed: ShedDep, who: WhoDep, draft: DraftIn) -> TrialOut:
    """Save a new draft; its bench is drawn from the seed."""
    trial = create_trial(shed, draft.plan.to_core(), draft.seed, who, locks=draft.core_locks())
    return _out(trial, [], shed.now())


@router.post("/trials/begun", operation_id="record_begun", status_code=201)
def post_begun(shed: ShedDep, who: WhoDep, body: BegunIn) -> TrialOut:
    """Save a trial that has begun already: what stands where, and since when; it says so everywhere."""
    plan, bench = begun_plan(body.to_core(shed.now())), begun_bench(body.places)
    return _out(record_begun(shed, plan, bench, body.seed, body.at, who), [], shed.now())


@router.get("/trials/{trial_id}", operation_id="get_trial")
def get_trial(shed: ShedDep, trial_id: str) -> TrialOut:
    """One trial with its course and its bench."""
    with shed.reading() as session:
        trial, log = load_trial(session, trial_id), load_observations(session, trial_id)
    return _out(trial, log, shed.now())


@router.put("/trials/{trial_id}/plan", operation_id="save_plan")
def put_plan(shed: ShedDep, who: WhoDep, trial_id: str, draft: DraftIn) -> TrialOut:
    """Save a draft's plan; refused once the trial has started."""
    plan, locks = draft.plan.to_core(), draft.core_locks()
    saved = save_plan(shed, trial_id, plan, draft.seed, who, locks=locks, revision=draft.revision)
    return _out(saved, [], shed.now())


@router.delete("/trials/{trial_id}", operation_id="delete_draft", status_code=204)
def delete(shed: ShedDep, trial_id: str) -> None:
    """Throw a draft away; a started trial is kept."""
    delete_draft(shed, trial_id)


@router.post("/trials/{trial_id}/start", operation_id="start_trial")
def start(
    shed: ShedDep, who: WhoDep, phones: PhoneClocksDep, trial_id: str, body: StartIn
) -> TrialOut:
    """Stamp day 0 and freeze the plan."""
    with shed.reading() as session:
        check_clock(session, shed.now(), phones)
    return _out(start_trial(shed, trial_id, who, body.at), [], shed.now())


@router.post("/trials/{trial_id}/unseal", operation_id="unseal_trial")
def unseal(shed: ShedDep, who: WhoDep, trial_id: str) -> TrialOut:
    """Show the treatments of a trial scored blind; recorded, and not to be undone."""
    trial = unseal_trial(shed, trial_id, who)
    with shed.reading() as session:
        return _out(trial, load_observations(session, trial_id), shed.now())


@router.post("/trials/{trial_id}/amend", operation_id="amend_trial")
def amend(shed: ShedDep, who: WhoDep, trial_id: str, body: AmendIn) -> TrialOut:
    """Change a frozen plan with a reason; the change is listed, and carried to the finish."""
    trial = amend_trial(shed, trial_id, body.change.to_core(), body.note, body.reason, who)
    with shed.reading() as session:
        return _out(trial, load_observations(session, trial_id), shed.now())


@router.post("/trials/{trial_id}/copy", operation_id="copy_trial", status_code=201)
def copy(shed: ShedDep, who: WhoDep, trial_id: str, body: CopyIn) -> TrialOut:
    """A new draft of the same plan, with a bench of its own."""
    made = copy_trial(shed, trial_id, body.seed, who, units=body.units, alone=body.alone)
    return _out(made, [], shed.now())


@router.get("/trials/{trial_id}/compare/{other_id}", operation_id="compare_plans")
def compare(shed: ShedDep, trial_id: str, other_id: str) -> ComparedOut:
    """Two plans side by side, difference by difference."""
    with shed.reading() as session:
        one, other = load_trial(session, trial_id).plan, load_trial(session, other_id).plan
    return ComparedOut(
        one=one.question, other=other.question,
        differences=[DifferenceOut.from_core(d) for d in differences(one, other)],
    )  # fmt: skip


@router.get("/trials/{trial_id}/baseline", operation_id="get_baseline")
def get_baseline(shed: ShedDep, trial_id: str) -> list[BalanceOut]:
    """What was measured before the start, and whether the treatments are alike in it."""
    with shed.reading() as session:
        trial, kept = load_trial(session, trial_id), load_baseline(session, trial_id)
    if trial.is_sealed:
        raise Sealed(
            "This trial is scored blind: how alike its treatments are shows when unsealed."
        )
    return [_balance(trial, trait, kept[trait]) for trait in TRAITS if trait in kept]


@router.put("/trials/{trial_id}/baseline", operation_id="keep_baseline")
def put_baseline(shed: ShedDep, who: WhoDep, trial_id: str, body: BaselineIn) -> list[BalanceOut]:
    """Keep what was measured of each planted cell, in the order of the bench."""
    keep_baseline(shed, trial_id, body.trait, body.values, who)
    return get_baseline(shed, trial_id)


@router.post("/trials/{trial_id}/grades", operation_id="deal_grades")
def post_grades(shed: ShedDep, who: WhoDep, trial_id: str, body: GradesIn) -> list[BalanceOut]:
    """Deal the cuttings of each grade evenly over the treatments, by lot; grade 1 is the best."""
    with shed.reading() as session:
        trial = load_trial(session, trial_id)
    counts = {str(i + 1): n for i, n in enumerate(body.grades)}
    dealt = deal_grades(counts, [u.cell for u in trial.units], trial.seed)
    values = [float(g) for g in dealt if g is not None]
    keep_baseline(shed, trial_id, "grade", values, who)
    return get_baseline(shed, trial_id)


def _balance(trial: Trial, trait: str, kept: dict[str, float]) -> BalanceOut:
    units, names = trial.planted, [t.name for t in trial.plan.treatments]
    values = [kept.get(u.id) for u in units]
    found = balance(
        trait,
        np.array([np.nan if v is None else v for v in values]),
        np.array([u.cell.treatment for u in units]),
        np.array([u.cell.block for u in units]),
        names,
        trial.seed,
    )
    arms = [ArmBalanceOut(n=a.n, mean=a.mean, least=a.least, most=a.most) for a in found.arms]
    return BalanceOut(trait=trait, values=values, arms=arms, p=found.p, says=found.says)


def _out(trial: Trial, log: list[Observation], now: datetime) -> TrialOut:
    plan = trial.plan
    today, started_on = None, None
    dots: tuple[Dot, ...] = ()
    if trial.started_at is not None:
        today = elapsed_days(trial.started_at, now, plan.time_zone)
        started_on = date_of_day(trial.started_at, 0, plan.time_zone)
        logs = unit_logs(trial.stuck, log, trial.plan)
        made = rounds_made(logs, trial.plants_held(trial.stuck))
        dots = course(plan, today, made)
    endpoint = endpoint_name(plan)
    return TrialOut.from_core(trial, today, started_on, dots, endpoint)
