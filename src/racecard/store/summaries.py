"""What lists show of each trial, kept beside it.

The file's own triggers throw a summary away whenever anything of its trial is written, whoever writes
it; the next list makes it anew. So a list of ten thousand trials reads ten thousand short rows.
"""

from collections.abc import Callable, Iterable
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import delete, select
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session

from racecard.core.log.days import elapsed_days
from racecard.core.log.veil import veiled
from racecard.core.model import Trial
from racecard.core.model.observation import Entry, Observation
from racecard.errors import StoreUnavailable
from racecard.store.clock import Ran, load_marks
from racecard.store.diary import load_entries
from racecard.store.engine import Shed
from racecard.store.rounds import load_observations
from racecard.store.tables import SummaryRow, TrialRow
from racecard.store.trial_rows import trial_of
from racecard.store.written import how_far


@dataclass(frozen=True, slots=True)
class Summary:
    """One trial's part of the lists, as JSON. `day`: the trial's day it was made on, None where it holds on any."""

    trial_id: str
    day: int | None
    line: str
    tasks: str
    proposal: str


@dataclass(frozen=True, slots=True)
class Standing:
    """A trial's summary, its day now, and what is wrong where it could not be made ("" where nothing is)."""

    trial_id: str
    question: str
    today: int | None
    summary: Summary | None
    fault: str = ""


@dataclass(frozen=True, slots=True)
class Contents:
    """All that a summary is made from."""

    trial: Trial
    today: int | None
    log: list[Observation]
    entries: list[Entry]
    marks: dict[str, Ran]


_FAULT = "This trial cannot be read as it is saved: restore a backup. The other trials are not touched by it."


def summaries(
    shed: Shed, make: Callable[[Contents], Summary], *, log: Callable[[str], None]
) -> list[Standing]:
    """Every trial, the newest first; one that is odd is told with its fault and hides no other.

    Args:
        shed: where the trials lie.
        make: makes the summary of one trial.
        log: is told of each fault.
    """
    now = shed.now()
    out: list[Standing] = []
    made: list[tuple[Summary, tuple[object, ...] | None]] = []
    with shed.reading() as session:
        query = (
            select(
                TrialRow.id, TrialRow.question, TrialRow.started_at, TrialRow.time_zone,
                SummaryRow.day, SummaryRow.line, SummaryRow.tasks, SummaryRow.proposal,
            )
            .outerjoin(SummaryRow, SummaryRow.trial_id == TrialRow.id)
            .order_by(TrialRow.created_at.desc(), TrialRow.id)
        )  # fmt: skip
        for id_, question, started_at, zone, day, line, tasks, proposal in session.execute(query):
            try:
                today = _today(started_at, now, zone)
                if line is not None and day in (None, today):
                    kept = Summary(id_, day, line, tasks, proposal)
                else:
                    row = session.get(TrialRow, id_)
                    assert row is not None
                    written = how_far(session, id_)
                    kept = make(_contents(session, row, today))
                    made.append((kept, written))
            except Exception as exc:  # whatever is odd about it: the others must be told
                log(f"trial {id_}: {exc!r}")
                out.append(Standing(id_, question, None, None, _FAULT))
                continue
            out.append(Standing(id_, question, today, kept))
    if made:
        with suppress(StoreUnavailable):  # a list is told even where nothing can be written
            _keep(shed, made)
    return out


def _contents(session: Session, row: TrialRow, today: int | None) -> Contents:
    return Contents(
        veiled(trial_of(session, row)), today, load_observations(session, row.id),
        load_entries(session, row.id), load_marks(session, row.id),
    )  # fmt: skip


def _today(started_at: datetime | None, now: datetime, zone: str) -> int | None:
    return None if started_at is None else elapsed_days(started_at, now, zone)


def _keep(shed: Shed, made: Iterable[tuple[Summary, tuple[object, ...] | None]]) -> None:
    """Keep what was made, where the trial was not written meanwhile."""
    with shed.writing() as session:
        rows = [
            {"trial_id": s.trial_id, "day": s.day, "line": s.line, "tasks": s.tasks, "proposal": s.proposal}
            for s, written in made
            if written is not None and how_far(session, s.trial_id) == written
        ]  # fmt: skip
        if rows:
            new = insert(SummaryRow)
            changed = {n: new.excluded[n] for n in ("day", "line", "tasks", "proposal")}
            session.execute(
                new.on_conflict_do_update(index_elements=["trial_id"], set_=changed), rows
            )


def forget_summaries(shed: Shed) -> None:
    """Throw all summaries away; the next list makes them anew."""
    with shed.writing() as session:
        session.execute(delete(SummaryRow))
