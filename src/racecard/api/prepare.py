"""Prepare: recipes, clock, order, calendar, and what was really set."""

from dataclasses import asdict, replace
from datetime import datetime

from fastapi import APIRouter
from fastapi.responses import Response

from racecard.api.deps import ShedDep, WhoDep
from racecard.api.schemas.mixing import CautionLine
from racecard.api.schemas.plans import StepPart
from racecard.api.schemas.prepare import (
    ArmSetOut,
    ArmSettingIn,
    ArmStepsOut,
    ClockOut,
    ClockStepOut,
    MarkIn,
    OrderOut,
    PreparedIn,
    PrepareOut,
    SettingsIn,
    SuggestedOut,
    UnitSetOut,
    flags_out,
    recipe_out,
)
from racecard.core.log.days import planned_hour, zone
from racecard.core.model import HIDDEN, Status, Trial
from racecard.core.model.observation import Setting
from racecard.core.plan.codes import blind_codes
from racecard.core.prepare.cautions import cautions_of_plan
from racecard.core.prepare.order import order_of_work
from racecard.core.prepare.register import AgentLot, PlantLot, notes_on_agent, notes_on_plant
from racecard.core.prepare.soak_clock import ClockStep, clock_of, proposed_steps, ran_says
from racecard.core.prepare.sticking import set_by_arm
from racecard.core.prepare.suggest import suggested
from racecard.errors import InvalidInput, Sealed
from racecard.store.clock import Ran, load_marks, mark
from racecard.store.engine import Shed
from racecard.store.materials import load_agents, load_plants
from racecard.store.mixing import Recipe, load_recipes
from racecard.store.sticking import record_settings
from racecard.store.trials import load_trial, prepare_trial

router = APIRouter(prefix="/api/trials/{trial_id}", tags=["prepare"])


@router.get("/prepare", operation_id="get_prepare")
def get_prepare(shed: ShedDep, trial_id: str) -> PrepareOut:
    """Recipes, clock, order, cautions, and what was really set."""
    with shed.reading() as session:
        trial = load_trial(session, trial_id)
        plants = {p.id: p for p in load_plants(session, retired=True)}
        agents = {a.id: a for a in load_agents(session, retired=True)}
        recipes, marks = load_recipes(session, trial_id), load_marks(session, trial_id)
    return _out(shed, trial, plants.get(trial.plan.plant_id), agents, recipes, marks)


@router.put("/prepare", operation_id="save_prepare")
def put_prepare(shed: ShedDep, who: WhoDep, trial_id: str, body: PreparedIn) -> PrepareOut:
    """Set what a draft draws from and how its clock runs; its bench stays as it is drawn."""
    change: dict[str, object] = {
        n: getattr(body, n)
        for n in ("plant_id", "set_at", "start_together", "day0", "unit_seconds")
    }
    arms = [
        {"steps": tuple((s.name.strip(), s.minutes) for s in a.steps), "steps_settled": a.steps_settled,
         "agent_id": a.agent_id}
        for a in body.arms
    ]  # fmt: skip
    prepare_trial(shed, trial_id, change, arms, who, body.revision)
    return get_prepare(shed, trial_id)


@router.post("/clock/marks", operation_id="mark_clock")
def post_mark(shed: ShedDep, who: WhoDep, trial_id: str, body: MarkIn) -> PrepareOut:
    """Start or stop a soak or dip, or take the last mark back; sending twice changes nothing."""
    mark(shed, trial_id, body.id, body.step, body.what, body.at, who)
    return get_prepare(shed, trial_id)


@router.post("/settings", operation_id="record_settings")
def post_settings(shed: ShedDep, who: WhoDep, trial_id: str, body: SettingsIn) -> PrepareOut:
    """Note what was really done with units: not set, set later, another lot or size."""
    now = shed.now()
    sent = [
        Setting(s.unit_id, now, who, s.is_set, s.set_at, s.why, s.lot, s.size) for s in body.items
    ]
    record_settings(shed, trial_id, sent)
    return get_prepare(shed, trial_id)


@router.post("/settings/many", operation_id="record_arm_set")
def post_arm(shed: ShedDep, who: WhoDep, trial_id: str, body: ArmSettingIn) -> PrepareOut:
    """A whole arm, or a whole tray, went in at a moment: each unit's own day 0."""
    with shed.reading() as session:
        trial = load_trial(session, trial_id)
    if trial.is_sealed and body.treatment is not None:
        raise Sealed("This trial is scored blind: say it by tray or by unit, not by treatment.")
    units = [
        u for u in trial.planted
        if body.treatment in (None, u.cell.treatment) and body.tray in (None, u.cell.tray)
    ]  # fmt: skip
    if not units:
        raise InvalidInput("There are no such units on this bench.", "/treatment")
    now = shed.now()
    sent = [Setting(u.id, now, who, u.is_set, body.set_at, u.why, u.lot, u.size) for u in units]
    record_settings(shed, trial_id, sent)
    return get_prepare(shed, trial_id)


@router.get(
    "/calendar.ics", operation_id="get_calendar", response_class=Response,
    responses={200: {"content": {"text/calendar": {}}, "description": "Soaks, looks and lift"}},
)  # fmt: skip
def get_calendar(shed: ShedDep, trial_id: str) -> Response:
    """Soaks, sticking, looks and lift as a calendar file."""
    from racecard.formats.calendar import calendar_of  # late: only for the file

    with shed.reading() as session:
        trial = load_trial(session, trial_id)
    at, _ = _hour(trial, shed.now())
    headers = {"Content-Disposition": f'attachment; filename="racecard-{trial.id[:8]}.ics"'}
    content = calendar_of(trial, at, shed.now())
    return Response(content, media_type="text/calendar; charset=utf-8", headers=headers)


def _hour(trial: Trial, now: datetime) -> tuple[datetime, bool]:
    """The hour the clock is worked back from, and whether anyone said it."""
    said = planned_hour(trial.plan)
    tz = zone(trial.plan.time_zone)
    if trial.started_at is not None:
        return trial.started_at.astimezone(tz), True
    if said is not None:
        return said.astimezone(tz), True
    return now.astimezone(tz).replace(minute=0, second=0, microsecond=0), False


def _out(
    shed: Shed, trial: Trial, plant: PlantLot | None, agents: dict[str, AgentLot],
    recipes: list[Recipe], marks: dict[str, Ran],
) -> PrepareOut:  # fmt: skip
    plan, today = trial.plan, shed.now().date()
    at, is_said = _hour(trial, shed.now())
    clock = clock_of(plan, at)
    is_draft = trial.status is Status.DRAFT
    arms = [
        ArmStepsOut(
            steps=[StepPart(name=n, minutes=m) for n, m in t.steps],
            proposed=[StepPart(name=n, minutes=m) for n, m in proposed_steps(t)],
            steps_settled=t.steps_settled,
            agent_id=t.agent_id,
            flags=flags_out(notes_on_agent(lot, today, plan, t) if (lot := agents.get(t.agent_id)) else ()),
        )
        for t in plan.treatments
    ]  # fmt: skip
    return PrepareOut(
        revision=trial.revision, plant_id=plan.plant_id, plant_flags=flags_out(notes_on_plant(plant, today) if plant else ()),
        arms=arms, set_at=plan.set_at, start_together=plan.start_together, day0=plan.day0,
        unit_seconds=plan.unit_seconds,
        suggested=[SuggestedOut(**asdict(s)) for s in suggested(plan, plant, agents)] if is_draft else [],
        recipes=[recipe_out(r, plan) for r in recipes],
        clock=ClockOut(
            at=at, is_planned=is_said, goes_in=list(clock.goes_in), says=list(clock.says),
            asks_day0=clock.asks_day0,
            steps=[_step(s, marks.get(s.key, Ran())) for s in clock.steps],
        ),
        order=[OrderOut(**asdict(o)) for o in order_of_work(plan)],
        cautions=[CautionLine(**asdict(c)) for c in cautions_of_plan(plan)],
        set_by_arm=[ArmSetOut(**{**asdict(a), "whys": list(a.whys)}) for a in set_by_arm(plan, trial.planted)],
        units=_units(trial),
    )  # fmt: skip


def _step(s: ClockStep, ran: Ran) -> ClockStepOut:
    return ClockStepOut(
        **asdict(replace(s)), started_at=ran.started_at, stopped_at=ran.stopped_at,
        says=ran_says(s, ran.started_at, ran.stopped_at),
    )  # fmt: skip


def _units(trial: Trial) -> list[UnitSetOut]:
    codes = blind_codes(len(trial.planted), trial.key)
    return [
        UnitSetOut(
            id=u.id, code=code if trial.plan.blind else u.cell.code, place=u.cell.code, tray=u.cell.tray,
            treatment=None if u.cell.treatment == HIDDEN else u.cell.treatment,
            is_set=u.is_set, late=u.late, why=u.why, lot=u.lot, size=u.size,
        )
        for u, code in zip(trial.planted, codes, strict=True)
    ]  # fmt: skip
