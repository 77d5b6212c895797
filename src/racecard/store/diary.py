"""The diary beside the looks: events, measures, notes, photos, second scores; only ever added to."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import timedelta

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from racecard.core.log.days import elapsed_days
from racecard.core.log.events import event_of, units_touched
from racecard.core.log.measures import check_measures
from racecard.core.log.moving import is_place
from racecard.core.log.traces import marks_of, marks_text, measured
from racecard.core.model import Status, Trial
from racecard.core.model.observation import Entry, Scope
from racecard.errors import AppError, Conflict, InvalidInput, NotFound, Sealed
from racecard.store.engine import Shed
from racecard.store.tables import EntryRow
from racecard.store.trials import load_whole

_CLOCK_SKEW = timedelta(minutes=5)
_LONGEST = 2000


def record_entries(
    shed: Shed, trial_id: str, sent: Sequence[Entry], *, settled: bool = False
) -> list[Entry]:
    """Add entries to a trial's diary, all or none; one whose id is there is left alone.

    `settled`: entries from a trial's file, where a sealed trial may name treatments.

    Raises:
        NotFound: no such trial, unit, tray, treatment or corrected entry.
        Conflict: the trial has not started; or it is sealed and the entry names a treatment.
        InvalidInput: a code, number or text breaks a rule.
    """
    with shed.writing() as session:
        trial = load_whole(session, trial_id)
        known = {e.id: e for e in load_entries(session, trial_id)}
        order = last_entry(session)
        for i, raw in enumerate(sent):
            if raw.id in known:
                continue
            try:
                new = _checked(shed, trial, raw, known, settled)
            except AppError as exc:
                raise type(exc)(exc.detail, f"/items/{i}{exc.pointer}") from exc
            order += 1
            session.add(entry_row(new, trial_id, order, shed))
            known[new.id] = new
        session.flush()
        return [known[e.id] for e in sent]


def load_entries(session: Session, trial_id: str) -> list[Entry]:
    """A trial's diary in the order it was recorded."""
    rows = session.scalars(
        select(EntryRow).where(EntryRow.trial_id == trial_id).order_by(EntryRow.order)
    )
    return [
        Entry(
            r.id, r.kind, Scope(r.scope), r.target, r.day, r.seen_at, r.who, r.corrects, r.what,
            tuple(json.loads(r.numbers).items()), r.text, r.device,
        )
        for r in rows
    ]  # fmt: skip


def last_entry(session: Session) -> int:
    """How far the diaries of the shed have come: the number of the last entry, 0 where none is."""
    return session.scalar(select(func.max(EntryRow.order))) or 0


def entry_row(new: Entry, trial_id: str, order: int, shed: Shed) -> EntryRow:
    """An entry as its row."""
    return EntryRow(
        id=new.id, order=order, trial_id=trial_id, kind=new.kind, scope=new.scope.value,
        target=new.target, day=new.day, seen_at=new.seen_at, recorded_at=shed.now(), who=new.who,
        corrects=new.corrects, what=new.what, numbers=json.dumps(dict(new.values)),
        text=new.text.strip(), device=new.device,
    )  # fmt: skip


def _checked(
    shed: Shed, trial: Trial, raw: Entry, known: Mapping[str, Entry], settled: bool
) -> Entry:
    if trial.status is not Status.STARTED or trial.started_at is None:
        raise Conflict("This trial has not started: stick it, then start it.")
    if raw.seen_at > shed.now() + _CLOCK_SKEW:
        raise InvalidInput("It lies in the future: check the clock of this device.", "/seen_at")
    day = elapsed_days(trial.started_at, raw.seen_at, trial.plan.time_zone)
    if day < 0:
        raise InvalidInput("It lies before day 0: check its date.", "/seen_at")
    if raw.corrects is not None and raw.corrects not in known:
        raise NotFound("The entry to correct is not in this diary.", "/corrects")
    if raw.kind == "void" and raw.corrects is None:
        raise InvalidInput("Undo needs the entry it undoes.", "/corrects")
    if raw.kind == "traced":
        raw = _with_lengths(raw, known)
    elif len(raw.text) > _LONGEST:
        raise InvalidInput(f"Keep it to {_LONGEST} characters.", "/text")
    if raw.scope is Scope.ARM and trial.is_sealed and not settled:
        raise Sealed(
            "This trial is scored blind: enter it per plant, per tray or for the complete trial."
        )
    if raw.kind != "void":
        units = trial.units if raw.what == "moved" else trial.planted
        units_touched(raw, units, trial.plan, known.values())
        _check_kind(trial, raw)
    return replace(raw, day=day)


def _check_kind(trial: Trial, raw: Entry) -> None:
    if raw.kind == "event":
        event = event_of(raw.what)
        amount = raw.value(event.number)
        if amount is not None:
            event.check_amount(amount)
        if raw.what == "moved":
            _check_move(trial, raw)
        elif raw.what in ("other", "follow_up") and not raw.text.strip():
            raise InvalidInput("Say in a few words what it is.", "/text")
    elif raw.kind == "measure":
        check_measures(dict(raw.values))
    elif raw.kind == "note" and not raw.text.strip():
        raise InvalidInput("The note is empty.", "/text")
    elif raw.kind == "second":
        score = raw.value("score")
        if score is None or score not in range(6) or raw.scope is not Scope.UNIT:
            raise InvalidInput(
                "A second score is a whole number 0 to 5 of one unit.", "/values/score"
            )


def _with_lengths(raw: Entry, known: Mapping[str, Entry]) -> Entry:
    """Marks on a photo with the lengths they give; never taken from the device."""
    photo = known.get(raw.what)
    if photo is None or photo.kind != "photo" or photo.target != raw.target:
        raise NotFound("The photo that was marked is not in this diary.", "/what")
    marks = marks_of(raw.text)
    found = measured(marks)
    values = (("longest", round(found.longest, 1)), ("roots", float(found.roots)))
    return replace(raw, text=marks_text(marks), values=values)


def _check_move(trial: Trial, raw: Entry) -> None:
    to = tuple(raw.value(n) for n in ("tray", "row", "col"))
    cells = [u.cell for u in trial.units]
    if raw.scope is not Scope.UNIT or any(v is None or v != int(v) or v < 0 for v in to):
        raise InvalidInput("Moving needs one unit and its new tray, row and column.", "/values")
    if not is_place(*(int(v or 0) for v in to), last_tray=max(c.tray for c in cells)):
        raise InvalidInput("There is no such place on this bench.", "/values")
