"""The log: observations are only ever added; a repeated send changes nothing."""

import json
import re
from collections.abc import Sequence
from dataclasses import replace

from sqlalchemy import Select, func, select
from sqlalchemy.orm import Session

from racecard.core.log.days import noon_of_day
from racecard.core.log.entering import day_of_look, entered
from racecard.core.log.look_grid import Marked, observations
from racecard.core.log.moving import moving_looks
from racecard.core.model import Status
from racecard.core.model.observation import Observation
from racecard.errors import Conflict, InvalidInput, NotFound
from racecard.store.engine import Shed
from racecard.store.tables import ObservationRow
from racecard.store.trial_rows import row_of, trial_of
from racecard.store.trials import load_trial

_AT_ONCE = 400
"""Units asked for in one query: SQLite binds a limited number of values."""


def record(
    shed: Shed, trial_id: str, sent: Sequence[Observation], *, settled: bool = False
) -> list[Observation]:
    """Add observations to the log, all or none, and give back the rows as they stand.

    The day is worked out here from the time stamp. An observation whose id is already there is
    left alone. A second look at a unit on the same day becomes a correction of the first, so
    nothing is overwritten; but where the device did not know of the first, and saw something else,
    the second is kept beside it until somebody decides. `settled`: rows from a trial's file, whose
    disagreements are kept as the file has them.

    Raises:
        NotFound: no such trial, unit or corrected observation.
        Conflict: the trial has not started.
        LookPastEnd: the look lies past the last day that takes looks.
        InvalidInput: a stage, cause, count or score breaks a rule.
    """
    with shed.writing() as session:
        wanted = {o.unit_id for o in sent}
        few = wanted if len(wanted) <= _AT_ONCE else None  # of a bench of thousands read only those
        trial = trial_of(session, row_of(session, trial_id), few)
        if trial.status is not Status.STARTED or trial.started_at is None:
            raise Conflict("This trial has not started: stick it, then start it.")
        known = {o.id: o for o in _near(session, trial_id, sent)}
        of_unit: dict[str, list[Observation]] = {u.id: [] for u in trial.planted}
        for o in known.values():
            if o.unit_id in of_unit:
                of_unit[o.unit_id].append(o)
        order = last_order(session)
        for i, raw in enumerate(sent):
            if raw.id in known:
                continue
            new = entered(
                trial, raw, of_unit.get(raw.unit_id), shed.now(), f"/items/{i}", settled=settled
            )
            if settled and raw.beside is not None:
                new = replace(new, corrects=None, beside=raw.beside)
            order += 1
            new = replace(new, recorded_at=(new.recorded_at if settled else None) or shed.now())
            session.add(_row(new, trial_id, order))
            known[new.id] = new
            of_unit[new.unit_id].append(new)
        session.flush()
        return [known[o.id] for o in sent]


def record_grid(shed: Shed, trial_id: str, cells: Sequence[Marked], who: str) -> list[Observation]:
    """Add the looks of a grid to the log, all or none; what a cell said before stays beside it.

    Raises:
        NotFound: no such trial or unit.
        Conflict: the trial has not started.
        InvalidInput: cells that hold no mark or no day of the trial, each by its pointer.
    """
    with shed.writing() as session:
        trial = load_trial(session, trial_id)
        if trial.started_at is None:
            raise Conflict("This trial has not started: stick it, then start it.")
        log = load_observations(session, trial_id)
        rows, sources = observations(trial, log, cells, shed.now(), shed.new_id, who)
        try:
            return record(shed, trial_id, rows)
        except (InvalidInput, NotFound) as exc:
            if found := re.match(r"/items/(\d+)", exc.pointer or ""):
                exc.pointer = f"/cells/{sources[int(found[1])]}/mark"
            raise


def load_observations(session: Session, trial_id: str) -> list[Observation]:
    """Every row of a trial's log in the order it was recorded."""
    return _read(session, select(ObservationRow).where(ObservationRow.trial_id == trial_id))


def _near(session: Session, trial_id: str, sent: Sequence[Observation]) -> list[Observation]:
    """The rows a batch has to know of: those of its units, and any that bear one of its ids."""
    out: dict[str, Observation] = {}
    for i in range(0, len(sent), _AT_ONCE):
        part = sent[i : i + _AT_ONCE]
        mine = ObservationRow.unit_id.in_({o.unit_id for o in part})
        same = ObservationRow.id.in_({o.id for o in part})
        query = select(ObservationRow).where(ObservationRow.trial_id == trial_id, mine | same)
        out |= {o.id: o for o in _read(session, query)}
    return list(out.values())


def _read(session: Session, query: Select[ObservationRow]) -> list[Observation]:
    return [
        Observation(
            r.id,
            r.unit_id,
            r.kind,
            r.day,
            r.seen_at,
            r.who,
            r.corrects,
            r.stage,
            r.wilted,
            r.shoot,
            r.loss,
            r.removed,
            r.struck,
            r.lost,
            r.lost_struck,
            r.score,
            r.as_row,
            tuple(json.loads(r.parts).items()),
            r.base,
            r.beside,
            r.device,
            r.recorded_at,
        )
        for r in session.scalars(query.order_by(ObservationRow.order))
    ]


def last_order(session: Session) -> int:
    """How far the log of the shed has come: the number of its last row, 0 where it is empty."""
    return session.scalar(select(func.max(ObservationRow.order))) or 0


def move_round(
    shed: Shed, trial_id: str, day: int, to_day: int, trays: tuple[int, int] | None, who: str
) -> int:
    """Move what was entered of a round to another day, or from one tray to another, as a whole.

    The rows stay; each gets a correction beside it, so the history shows both.

    Args:
        shed: the shed.
        trial_id: the trial.
        day: the day it was entered on.
        to_day: the day it belongs to.
        trays: (from, to) where it was entered on the wrong tray, None for all trays.
        who: who moves it.

    Returns:
        How many looks were moved.

    Raises:
        InvalidInput: nothing to move, looks already there, or cells without a counterpart.
    """
    with shed.writing() as session:
        trial = load_trial(session, trial_id)
        if trial.started_at is None:
            raise Conflict("This trial has not started: stick it, then start it.")
        log = load_observations(session, trial_id)
        moving = moving_looks(trial, log, day, to_day, trays)
        stamp = noon_of_day(trial.started_at, to_day, trial.plan.time_zone)
        order = last_order(session)
        for o, unit_id in moving:
            moved = replace(o, id=shed.new_id(), unit_id=unit_id, seen_at=stamp, who=who,
                            corrects=o.id, base=None, recorded_at=shed.now())  # fmt: skip
            moved = replace(moved, day=day_of_look(trial, moved, shed.now(), ""))
            order += 1
            session.add(_row(moved, trial_id, order))
        return len(moving)


def _row(new: Observation, trial_id: str, order: int) -> ObservationRow:
    return ObservationRow(
        id=new.id, order=order, trial_id=trial_id, unit_id=new.unit_id, kind=new.kind, day=new.day,
        seen_at=new.seen_at, recorded_at=new.recorded_at, who=new.who, corrects=new.corrects,
        stage=new.stage, wilted=new.wilted, shoot=new.shoot, loss=new.loss, removed=new.removed,
        struck=new.struck, lost=new.lost, lost_struck=new.lost_struck, score=new.score,
        as_row=new.as_row, parts=json.dumps(dict(new.parts)), base=new.base, beside=new.beside,
        device=new.device,
    )  # fmt: skip
