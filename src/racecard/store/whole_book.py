"""Everything in a form book taken out, and brought into another: nothing twice, all of it or nothing."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from racecard.core.model import Trial
from racecard.core.model.observation import Entry, Observation
from racecard.store.diary import load_entries
from racecard.store.engine import Shed
from racecard.store.import_trial import import_trial
from racecard.store.imported_tables import ReadIn, keep_table, list_tables, load_table
from racecard.store.rounds import load_observations
from racecard.store.tables import TrialRow
from racecard.store.trials import load_trial

Whole = tuple[Trial, Sequence[Observation], Sequence[Entry]]
Sign = tuple[int | None, str, str]


@dataclass(frozen=True, slots=True)
class Brought:
    """What came of a file: trials and tables added, and how many were here already."""

    trials: int
    tables: int
    already: int


def every_trial(session: Session, ids: Sequence[str] | None = None) -> Iterator[Whole]:
    """Each trial, or each of these, with its log and diary, the oldest first; hidden treatments stay hidden."""
    query = select(TrialRow.id).order_by(TrialRow.created_at, TrialRow.id)
    for id_ in session.scalars(query if ids is None else query.where(TrialRow.id.in_(ids))):
        yield load_trial(session, id_), load_observations(session, id_), load_entries(session, id_)


def every_table(session: Session) -> list[ReadIn]:
    """Each imported table, the oldest first."""
    return [load_table(session, id_) for id_, _, _ in reversed(list_tables(session))]


def bring_book(
    shed: Shed, trials: Sequence[tuple[str, str, Whole]], tables: Sequence[ReadIn], who: str
) -> Brought:
    """Add what is not here yet; a repeat keeps the trial it repeats.

    Args:
        shed: the shed.
        trials: key, key of the trial it repeats ("" for none), and the trial with its log and diary.
        tables: imported tables; their ids are made anew.
        who: who brings them in.

    Raises:
        InvalidInput: a plan, a bench or an observation breaks a rule; nothing is kept.
    """
    with shed.writing() as session:
        here = _trials_here(session)
        new_id: dict[str, str] = {}
        added = []
        for key, repeats, (trial, log, entries) in trials:
            sign = _sign(trial.seed, trial.started_at, trial.plan.question)
            if sign in here:
                new_id[key] = here[sign]
                continue
            kept = import_trial(shed, trial, log, entries, who)
            new_id[key] = here[sign] = kept.id
            added.append((kept.id, repeats))
        for id_, repeats in added:
            row = session.get(TrialRow, id_)
            assert row is not None
            row.repeats = new_id.get(repeats)
        known = {(t.name, t.content) for t in every_table(session)}
        fresh = [t for t in tables if (t.name, t.content) not in known]
        for t in fresh:
            keep_table(
                shed, t.name, t.content, who, unit=t.unit, control=t.control, skipped=t.skipped,
                dates=t.dates, turnout=t.turnout, invented=t.invented, kind=t.kind,
                created_at=t.created_at,
            )  # fmt: skip
    already = len(trials) - len(added) + len(tables) - len(fresh)
    return Brought(len(added), len(fresh), already)


def _trials_here(session: Session) -> dict[Sign, str]:
    columns = (TrialRow.id, TrialRow.seed, TrialRow.started_at, TrialRow.question)
    return {_sign(seed, at, asked): id_ for id_, seed, at, asked in session.execute(select(*columns))}  # fmt: skip


def _sign(seed: int | None, started_at: datetime | None, question: str) -> Sign:
    """What tells one trial from all others: its seed, its start and its question."""
    return seed, "" if started_at is None else f"{started_at.timestamp():.0f}", question
