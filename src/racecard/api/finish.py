"""The finish of a trial, and what a grower writes beside it."""

from dataclasses import replace
from typing import Annotated

from fastapi import APIRouter, Query

from racecard.api.deps import ShedDep, WhoDep
from racecard.api.joined_runs import said_with_others
from racecard.api.schemas.finish import FinishOut
from racecard.api.schemas.written import (
    BlindLane,
    ConclusionIn,
    ConclusionOut,
    ContrastOut,
    HeatOut,
    MilestoneOut,
    PayoffOut,
    WorthIn,
    WorthOut,
)
from racecard.core.assess.payoff import payoffs
from racecard.core.conditions.reading import degree_days_by_day, usable
from racecard.core.finish.of_trial import TrialFinish, contrasts_of
from racecard.core.log.dated import days_late
from racecard.core.log.days import elapsed_days, zone
from racecard.core.log.stages import stage_scale_of
from racecard.core.model import Trial
from racecard.core.streams import generator
from racecard.core.text.companions import payoff_says
from racecard.core.text.overclaims import honest_wording, overreaches
from racecard.errors import InvalidInput, Sealed
from racecard.store.conditions import load_readings, load_watches
from racecard.store.finish import (
    finished,
    keep_conclusion,
    keep_worth,
    load_conclusion,
    load_finished_blind,
    load_opened,
    load_worth,
)

router = APIRouter(prefix="/api/trials/{trial_id}", tags=["finish"])


@router.get("/finish", operation_id="get_finish")
def get_finish(shed: ShedDep, trial_id: str) -> FinishOut:
    """Lanes, verdicts, what the trial can say, and the stewards' notes."""
    with shed.reading() as session:
        trial = load_opened(session, trial_id)
        found = finished(session, trial, shed.now())
    whole = found.whole
    if whole.judgement.is_final:
        whole = whole.with_others(said_with_others(shed, trial))
    return FinishOut.from_core(
        trial.plan, found.results, whole, amendments=trial.amendments, units=found.units,
        growth=found.growth, plantable=found.plantable, sampled=found.sampled,
        planned_late=days_late(trial) > 0,
    )  # fmt: skip


@router.get("/blind-lanes", operation_id="get_blind_lanes")
def get_blind_lanes(shed: ShedDep, trial_id: str) -> list[BlindLane]:
    """The lanes of a sealed trial whose last round is made, without a name, in an order dealt by lot."""
    with shed.reading() as session:
        trial = load_finished_blind(session, trial_id)
        found = finished(session, trial, shed.now())
    lanes = FinishOut.from_core(trial.plan, found.results, found.whole).lanes
    if len({lane.n for lane in lanes}) > 1:
        raise Sealed(
            "The treatments hold unequal numbers, so their lanes would name them: unseal the trial to see them."
        )
    order = generator(trial.seed, "blind lanes", len(lanes)).permutation(len(lanes))
    return [BlindLane.of(i + 1, lanes[k]) for i, k in enumerate(order)]


@router.get("/milestone", operation_id="get_milestone")
def get_milestone(
    shed: ShedDep, trial_id: str, stage: Annotated[int, Query(ge=0, le=20)]
) -> MilestoneOut:
    """The lanes for another stage of the ladder, without a verdict: it was not what was asked."""
    with shed.reading() as session:
        trial = load_opened(session, trial_id)
        known = [s for s in stage_scale_of(trial.plan).stages if s.code == stage]
        if not known or (trial.plan.per_container > 1 and stage not in trial.plan.also_counted):
            raise InvalidInput("There is no history of that stage here.", "/stage")
        other = replace(trial, plan=replace(trial.plan, endpoint=stage))
        found = finished(session, other, shed.now())
    out = FinishOut.from_core(other.plan, found.results, found.whole, units=found.units)
    return MilestoneOut(stage=stage, name=known[0].name, lanes=out.lanes)


Group = Annotated[list[int] | None, Query(max_length=50, description="Treatments, from 0")]


@router.get("/contrasts", operation_id="get_contrasts")
def get_contrasts(
    shed: ShedDep, trial_id: str, one: Group = None, zero: Group = None
) -> list[ContrastOut]:
    """Groups of treatments compared: those the plan declared, and one asked for after the fact."""
    with shed.reading() as session:
        trial = load_opened(session, trial_id)
        found = finished(session, trial, shed.now())
    asked = (tuple(one or ()), tuple(zero or ())) if one or zero else None
    told = contrasts_of(trial, found, asked)
    return [ContrastOut.from_core(trial.plan, c) for c in told]


@router.get("/heat", operation_id="get_heat")
def get_heat(shed: ShedDep, trial_id: str) -> HeatOut | None:
    """Degree-days by the end of each day of the trial, where it watches a temperature above a base."""
    with shed.reading() as session:
        trial = load_opened(session, trial_id)
        watch = next((w for w in load_watches(session, trial_id) if w.counts_heat), None)
        if watch is None or watch.base is None or trial.started_at is None:
            return None
        readings = usable(load_readings(session, watch.place, watch.quantity), shed.now())
    plan, start = trial.plan, trial.started_at
    last = min(elapsed_days(start, shed.now(), plan.time_zone), plan.length_days)
    upto, without = degree_days_by_day(readings, watch.base, start, last, zone(plan.time_zone))
    told = [round(total, 1) for total in upto]
    return HeatOut(place=watch.place, base=watch.base, upto=told, days_without=without)


@router.get("/worth", operation_id="get_worth")
def get_worth(shed: ShedDep, trial_id: str) -> WorthOut:
    """What the grower reckons with, and the payoff of each treatment beside its proof."""
    with shed.reading() as session:
        trial = load_opened(session, trial_id)
        worth = load_worth(session, trial_id)
        if worth is None:
            return WorthOut(given=None, payoffs=[])
        judgement = finished(session, trial, shed.now()).whole.judgement
    found = payoffs(trial.plan, judgement.comparisons, [a.strike for a in judgement.arms], worth)
    of = {c.index: c for c in judgement.comparisons}
    told = [
        PayoffOut.from_core(p, payoff_says(trial.plan, of[p.treatment], p, worth.currency))
        for p in found
    ]
    return WorthOut(given=WorthIn.from_core(worth), payoffs=told)


@router.put("/worth", operation_id="keep_worth")
def put_worth(shed: ShedDep, who: WhoDep, trial_id: str, body: WorthIn) -> WorthOut:
    """Keep what a struck plant is worth and what each treatment costs."""
    with shed.reading() as session:
        load_opened(session, trial_id)
    keep_worth(shed, trial_id, body.to_core(), who)
    return get_worth(shed, trial_id)


@router.get("/conclusion", operation_id="get_conclusion")
def get_conclusion(shed: ShedDep, trial_id: str) -> ConclusionOut:
    """The grower's own conclusion, what in it says too much, and a wording the trial can carry."""
    with shed.reading() as session:
        trial = load_opened(session, trial_id)
        text = load_conclusion(session, trial_id)
        honest = _honest(finished(session, trial, shed.now()))
    return ConclusionOut.of(text, overreaches(text, _compared(trial)), honest)


@router.put("/conclusion", operation_id="keep_conclusion")
def put_conclusion(shed: ShedDep, who: WhoDep, trial_id: str, body: ConclusionIn) -> ConclusionOut:
    """Keep a conclusion as it was written; earlier ones stay beside it."""
    with shed.reading() as session:
        trial = load_opened(session, trial_id)
        honest = _honest(finished(session, trial, shed.now()))
    keep_conclusion(shed, trial_id, body.text, who)
    text = body.text.strip()
    return ConclusionOut.of(text, overreaches(text, _compared(trial)), honest)


def _compared(trial: Trial) -> list[str]:
    """What was in the trial, in its own words."""
    return [f"{t.name} {t.detail} {t.agent} {t.carrier}" for t in trial.plan.treatments]


def _honest(found: TrialFinish) -> str:
    return honest_wording(found.whole.statements)
