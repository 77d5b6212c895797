"""Rounds: the tray as it lies, and the log that is only ever added to."""

from datetime import datetime

from fastapi import APIRouter

from racecard.api.deps import PhoneClocksDep, ShedDep, SignDep
from racecard.api.schemas.plans import CellOut
from racecard.api.schemas.rounds import (
    EntryLine,
    ObservationOut,
    ObservationsIn,
    RecordedOut,
    RoundOut,
    RoundUnit,
    StoryOut,
)
from racecard.core.log.assemble import unit_logs
from racecard.core.log.days import clock_corrected
from racecard.core.log.events import entries_in_force, says, units_touched
from racecard.core.log.histories import story
from racecard.core.log.round_view import Round, round_of, stamp_of_round
from racecard.core.model import Trial
from racecard.core.model.observation import Observation
from racecard.core.plan.codes import blind_codes, target_names
from racecard.errors import NotFound
from racecard.store.clock_guard import check_clock
from racecard.store.diary import last_entry, load_entries
from racecard.store.rounds import last_order, load_observations, record
from racecard.store.trials import load_trial

router = APIRouter(prefix="/api", tags=["rounds"])


@router.post("/trials/{trial_id}/observations", operation_id="record_observations")
def record_observations(
    shed: ShedDep, sign: SignDep, phones: PhoneClocksDep, trial_id: str, body: ObservationsIn
) -> RecordedOut:
    """Add observations, all or none. Sending the same ids again changes nothing."""
    now = shed.now()
    phones.heard(sign.device(body.items[0].device if body.items else ""), body.sent_at, now)
    with shed.reading() as session:
        check_clock(session, now, phones)
    sent = [
        clock_corrected(item.to_core(sign(item.who)), None if item.given else body.sent_at, now)
        for item in body.items
    ]
    kept = record(shed, trial_id, sent)
    with shed.reading() as session:
        seq = last_order(session)
    return RecordedOut(items=[ObservationOut.from_core(o) for o in kept], seq=seq)


@router.get("/trials/{trial_id}/rounds/{day}", operation_id="get_round")
def get_round(shed: ShedDep, trial_id: str, day: int) -> RoundOut:
    """One round: every unit with what was seen before and what this round saw."""
    with shed.reading() as session:
        trial, log = load_trial(session, trial_id), load_observations(session, trial_id)
        entries = load_entries(session, trial_id)
        seqs = last_order(session), last_entry(session)
    stamp = stamp_of_round(trial, day, shed.now())
    return _round(trial, round_of(trial, log, entries, day), stamp, seqs)


@router.get("/trials/{trial_id}/units/{unit_id}/log", operation_id="get_unit_log")
def get_unit_log(shed: ShedDep, trial_id: str, unit_id: str) -> list[ObservationOut]:
    """Everything ever written of one unit, corrections beside what they correct."""
    with shed.reading() as session:
        trial, log = load_trial(session, trial_id), load_observations(session, trial_id)
    if unit_id not in {u.id for u in trial.planted}:
        raise NotFound("There is no such unit in this trial.")
    return [ObservationOut.from_core(o) for o in log if o.unit_id == unit_id]


@router.get("/trials/{trial_id}/units/{unit_id}/story", operation_id="get_unit_story")
def get_unit_story(shed: ShedDep, trial_id: str, unit_id: str) -> StoryOut:
    """One unit's roots and shoots as two histories, and what the diary says of it."""
    with shed.reading() as session:
        trial, log = load_trial(session, trial_id), load_observations(session, trial_id)
        entries = load_entries(session, trial_id)
    unit = next((u for u in trial.planted if u.id == unit_id), None)
    if unit is None:
        raise NotFound("There is no such unit in this trial.")
    (seen,) = unit_logs([unit], log)
    names, diary = target_names(trial), entries_in_force(entries)
    told = [e for e in diary if unit in units_touched(e, trial.planted, trial.plan, diary)]
    lines = [EntryLine.from_core(e, f"day {e.day}: {says(e, names)}") for e in told]
    return StoryOut(
        says=story(trial.plan, seen, trial.plan.plants_in(unit.cell.treatment)), entries=lines
    )


def _round(trial: Trial, found: Round, stamp: datetime | None, seqs: tuple[int, int]) -> RoundOut:
    blind, names = trial.plan.blind, target_names(trial)
    labels = blind_codes(len(found.units), trial.key) if blind else [None] * len(found.units)
    units = [
        RoundUnit(
            id=u.unit.id, cell=CellOut.from_core(u.unit.cell, sealed=blind, label=label),
            previous=_maybe(u.previous), current=_maybe(u.current), score=_maybe(u.score), gone=u.gone,
            tray=u.place[0], row=u.place[1], col=u.place[2], held=trial.plan.plants_in(u.unit.cell.treatment),
            lift=u.lift, second=u.second,
            second_score=u.second_score, conflict=_maybe(u.conflict),
        )
        for u, label in zip(found.units, labels, strict=True)
    ]  # fmt: skip
    return RoundOut(
        trial_id=trial.id, day=found.day, stamp=stamp, sealed=trial.is_sealed, units=units, due=found.due,
        looked_at=found.looked_at, arms_short=found.arms_short, complete=found.complete,
        new_strikes=found.new_strikes, previous_day=found.previous_day, shuffled=list(found.shuffled),
        missed_says=found.missed_says, seq=seqs[0], entry_seq=seqs[1],
        entries=[EntryLine.from_core(e, says(e, names)) for e in found.entries],
    )  # fmt: skip


def _maybe(o: Observation | None) -> ObservationOut | None:
    return ObservationOut.from_core(o) if o else None
