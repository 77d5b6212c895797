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
from racecard.core.log.assemble import in_force, undecided, unit_logs
from racecard.core.log.course import course, last_day_for_looks, left_on, rounds_made
from racecard.core.log.days import elapsed_days, noon_of_day, righted
from racecard.core.log.due import missed_says
from racecard.core.log.events import places, says, standing, units_touched
from racecard.core.log.histories import story
from racecard.core.log.lift import sampled, second_sample, shuffled
from racecard.core.model import Trial
from racecard.core.model.observation import Entry, Observation
from racecard.core.plan.codes import blind_codes, target_names
from racecard.errors import Conflict, LookPastEnd, NotFound
from racecard.store.clock_guard import check_clock
from racecard.store.diary import last_entry, load_entries
from racecard.store.rounds import last_order, load_observations, past_end_says, record
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
        righted(item.to_core(sign(item.who)), None if item.given else body.sent_at, now)
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
    stamp = _stamp(trial, day, shed.now())
    return _round(trial, log, entries, day, stamp, seqs)


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
    names, diary = target_names(trial), standing(entries)
    told = [
        e for e in diary
        if unit in units_touched(e, trial.planted, trial.plan, diary)
    ]  # fmt: skip
    return StoryOut(
        says=story(trial.plan, seen),
        entries=[
            EntryLine(id=e.id, kind=e.kind, target=e.target, who=e.who, says=f"day {e.day}: {says(e, names)}")
            for e in told
        ],
    )  # fmt: skip


def _stamp(trial: Trial, day: int, now: datetime) -> datetime | None:
    """The time stamp for taps in this round: None means the device's own clock."""
    if trial.started_at is None:
        raise Conflict("This trial has not started: stick it, then start it.")
    today = elapsed_days(trial.started_at, now, trial.plan.time_zone)
    if not 0 <= day <= today:
        raise NotFound(f"Day {day} has not come yet: today is day {today}.")
    late = max((u.late for u in trial.stuck), default=0)
    if day > last_day_for_looks(trial.plan, late):
        raise LookPastEnd(past_end_says(trial.plan, day, late))
    return None if day == today else noon_of_day(trial.started_at, day, trial.plan.time_zone)


def _round(
    trial: Trial,
    log: list[Observation],
    entries: list[Entry],
    day: int,
    stamp: datetime | None,
    seqs: tuple[int, int],
) -> RoundOut:
    planted = trial.planted
    in_effect = in_force(log)
    seen = [o for o in in_effect if o.kind in ("look", "count")]
    before = {o.unit_id: o for o in sorted(seen, key=lambda o: o.day) if o.day < day}
    now = {o.unit_id: o for o in seen if o.day == day}
    scores = {o.unit_id: o for o in in_effect if o.kind == "score"}
    logs = unit_logs(planted, log, trial.plan)
    gone = [
        not u.is_set or ((d := left_on(unit_log, trial.plan.per_container)) is not None and d < day)
        for u, unit_log in zip(planted, logs, strict=True)
    ]
    labels = blind_codes(len(planted), trial.key)
    at, told = places(trial.units, entries), standing(entries)
    drawn = set(sampled(trial).get(day, ()))
    seconds = set(second_sample(trial))
    marks = {e.target: int(e.value("score") or 0) for e in told if e.kind == "second"}
    others = {o.unit_id: o for o in undecided(log) if o.day == day or o.kind == "score"}
    dots = course(
        trial.plan,
        day,
        {d: full for d, full in rounds_made(logs, trial.plan.per_container).items() if d < day},
    )
    names = target_names(trial)
    units = [
        RoundUnit(
            id=u.id, cell=CellOut.from_core(u.cell, sealed=trial.plan.blind, label=label if trial.plan.blind else None),
            previous=_maybe(before.get(u.id)), current=_maybe(now.get(u.id)),
            score=_maybe(scores.get(u.id)), gone=left, tray=at[u.id][0], row=at[u.id][1],
            col=at[u.id][2], lift=u.id in drawn, second=u.id in seconds,
            second_score=marks.get(u.id), conflict=_maybe(others.get(u.id)),
        )
        for u, left, label in zip(planted, gone, labels, strict=True)
    ]  # fmt: skip
    due = [u for u, left in zip(planted, gone, strict=True) if not left]
    waiting = [u for u in due if u.id not in now]
    return RoundOut(
        trial_id=trial.id, day=day, stamp=stamp, sealed=trial.is_sealed, units=units, due=len(due),
        looked_at=sum(u.id in now for u in due), arms_short=len({u.cell.treatment for u in waiting}), complete=not waiting,
        new_strikes=sum(_is_new(trial, before.get(i), o) for i, o in now.items()),
        previous_day=max((o.day for o in before.values()), default=None),
        shuffled=shuffled(trial, day), missed_says=missed_says(trial, dots),
        seq=seqs[0], entry_seq=seqs[1],
        entries=[
            EntryLine(id=e.id, kind=e.kind, target=e.target, who=e.who, says=says(e, names))
            for e in told if e.day == day and e.kind != "second"
        ],
    )  # fmt: skip


def _maybe(o: Observation | None) -> ObservationOut | None:
    return ObservationOut.from_core(o) if o else None


def _is_new(trial: Trial, old: Observation | None, new: Observation) -> int:
    """Strikes this look saw that the one before had not."""
    if new.kind == "count":
        return max(0, (new.struck or 0) - ((old.struck or 0) if old else 0))
    had = old is not None and old.stage is not None and old.stage >= trial.plan.endpoint
    has = new.stage is not None and new.stage >= trial.plan.endpoint
    return int(has and not had)
