"""Soak schedule's marks: soaks and dips really started and stopped; only ever added to."""

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from racecard.errors import Conflict, InvalidInput
from racecard.store.engine import Shed
from racecard.store.tables import MarkRow
from racecard.store.trials import load_trial

_SKEW = timedelta(minutes=5)


@dataclass(frozen=True, slots=True)
class Ran:
    """When a step really started and stopped; None where it has not."""

    started_at: datetime | None = None
    stopped_at: datetime | None = None
    start_id: str = ""
    stop_id: str = ""


def mark(
    shed: Shed, trial_id: str, mark_id: str, step: str, what: str, at: datetime, who: str
) -> None:
    """Add a mark; sending the same id again changes nothing. "void" takes back the last one.

    Raises:
        Conflict: started or stopped already, or stopped before it started.
        InvalidInput: the moment lies in the future.
    """
    if at > shed.now() + _SKEW:
        raise InvalidInput("That lies in the future: check the clock of this device.", "/at")
    with shed.writing() as session:
        load_trial(session, trial_id)
        if session.get(MarkRow, mark_id) is not None:
            return
        ran = load_marks(session, trial_id).get(step, Ran())
        _check(ran, what, at)
        order = session.scalar(select(func.max(MarkRow.order))) or 0
        row = MarkRow(
            id=mark_id, order=order + 1, trial_id=trial_id, step=step, what=what, at=at, who=who
        )
        session.add(row)


def load_marks(session: Session, trial_id: str) -> dict[str, Ran]:
    """What really ran, by step."""
    rows = session.scalars(
        select(MarkRow).where(MarkRow.trial_id == trial_id).order_by(MarkRow.order)
    )
    out: dict[str, Ran] = {}
    for r in rows:
        ran = out.get(r.step, Ran())
        if r.what == "start":
            ran = Ran(r.at, None, r.id)
        elif r.what == "stop":
            ran = Ran(ran.started_at, r.at, ran.start_id, r.id)
        elif ran.stopped_at is not None:
            ran = Ran(ran.started_at, None, ran.start_id)
        else:
            ran = Ran()
        out[r.step] = ran
    return {step: ran for step, ran in out.items() if ran.started_at is not None}


def _check(ran: Ran, what: str, at: datetime) -> None:
    if what == "start" and ran.started_at is not None:
        raise Conflict("This one is started already: take that back first.")
    if what == "stop" and (ran.started_at is None or ran.stopped_at is not None):
        raise Conflict("This one is not running.")
    if what == "stop" and ran.started_at is not None and at < ran.started_at:
        raise InvalidInput("It cannot stop before it started.", "/at")
    if what == "void" and ran.started_at is None:
        raise Conflict("There is nothing to undo here.")
