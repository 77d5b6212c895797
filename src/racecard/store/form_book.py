"""The lines of the form book, kept beside their trials.

A line is made by judging its trial, which takes a moment; the file's own triggers throw it away
whenever anything of the trial is written, and the next reader makes it anew, so many at a time.
"""

import json
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import asdict, dataclass
from datetime import datetime
from functools import lru_cache
from math import inf
from time import monotonic
from typing import NamedTuple

from sqlalchemy import select
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session

from racecard.core.assess.base_rates import BaseRate, base_rate, most_alike
from racecard.core.formbook.line import (
    FormLine,
    State,
    from_record,
    line_of_finish,
    line_of_plan,
    plant_of,
)
from racecard.core.log.assemble import results_of, unit_logs
from racecard.core.log.days import elapsed_days
from racecard.core.model import Kind, Status, Trial
from racecard.errors import AppError, StoreUnavailable
from racecard.store.engine import Shed
from racecard.store.finish import finished
from racecard.store.rounds import load_observations
from racecard.store.tables import FormLineRow, TrialRow
from racecard.store.trials import load_trial, materials_of
from racecard.store.written import how_far

_PATIENCE_S = 0.8
"""How long one reader makes lines that are missing; the rest are for the next."""


@dataclass(frozen=True, slots=True)
class Book:
    """Every line that is ready, the newest first, and how many trials have none yet."""

    lines: tuple[FormLine, ...]
    waiting: int


@dataclass(frozen=True, slots=True)
class _Made:
    """A line just made. `day`: it holds on that day alone, None until something is written;
    `written`: how far the trial had been written before.
    """

    trial: str
    line: FormLine
    day: int | None
    written: tuple[object, ...] | None


class _Kept(NamedTuple):
    """A trial in a list, and the line that is kept of it (None: none is)."""

    id: str
    started_at: datetime | None
    zone: str
    question: str
    day: int | None
    line: str | None


def form_book(shed: Shed, *, patience_s: float = _PATIENCE_S) -> Book:
    """The book as far as it is ready; lines that are missing are made until patience ends.

    A trial that cannot be judged has a line that says why, and hides no other.
    """
    rows = _rows(shed)
    lines, waiting = _lines(shed, rows, monotonic() + patience_s)
    return Book(tuple(lines), waiting)


def lines_of(shed: Shed, ids: Sequence[str]) -> list[FormLine]:
    """The lines of these trials, in this order; a trial that was deleted meanwhile is left out."""
    by_id = {row.id: row for row in _rows(shed, ids)}
    return _lines(shed, [by_id[id_] for id_ in ids if id_ in by_id])[0]


def _rows(shed: Shed, ids: Sequence[str] | None = None) -> Sequence[_Kept]:
    """Of each trial, the newest first, what a list needs and the line that is kept of it."""
    query = (
        select(
            TrialRow.id, TrialRow.started_at, TrialRow.time_zone, TrialRow.question,
            FormLineRow.day, FormLineRow.line,
        )
        .outerjoin(FormLineRow, FormLineRow.trial_id == TrialRow.id)
        .order_by(TrialRow.created_at.desc(), TrialRow.id)
    )  # fmt: skip
    if ids is not None:
        query = query.where(TrialRow.id.in_(ids))
    with shed.reading() as session:
        return [_Kept(*row) for row in session.execute(query)]


def _lines(shed: Shed, rows: Sequence[_Kept], until: float = inf) -> tuple[list[FormLine], int]:
    """The lines of these rows; those that are missing are made until a moment, and the rest counted."""
    now = shed.now()
    out: list[FormLine] = []
    made: list[_Made] = []
    waiting = 0
    with shed.reading() as session:
        for id_, started_at, zone, question, day, line in rows:
            today = None if started_at is None else elapsed_days(started_at, now, zone)
            if line is not None and day in (None, today):
                out.append(_read(line))
            elif monotonic() > until:
                waiting += 1
            else:
                made.append(_made(session, id_, question, today, now))
                out.append(made[-1].line)
    if made:
        with suppress(StoreUnavailable):  # the book is told even where nothing can be written
            _keep(shed, made)
    return out, waiting


def lines_of_plant(shed: Shed, plant: str) -> list[FormLine]:
    """The lines of every trial of a plant, the newest first, whether or not the rest was read yet."""
    newest = TrialRow.created_at.desc()
    with shed.reading() as session:
        rows = session.execute(select(TrialRow.id, TrialRow.material).order_by(newest)).all()
    return lines_of(shed, [id_ for id_, material in rows if plant_of(material) == plant])


def lineage(session: Session, trial_id: str) -> list[str]:
    """Ids of the trials that are runs of one plan with this one: what it repeats, and what repeats it.

    In the order they were begun, drafts last; the trial alone where it has none.
    """
    is_kin = (TrialRow.repeats == trial_id) | ((TrialRow.id == trial_id) & (TrialRow.repeats != ""))
    if session.scalar(select(TrialRow.id).where(is_kin).limit(1)) is None:
        return [trial_id]
    rows = session.execute(
        select(TrialRow.id, TrialRow.repeats, TrialRow.started_at, TrialRow.created_at)
    ).all()
    parent = {id_: repeats for id_, repeats, *_ in rows}

    def root(id_: str) -> str:
        seen = {id_}
        while (up := parent.get(id_)) and up in parent and up not in seen:
            seen.add(up)
            id_ = up
        return id_

    first = root(trial_id)
    runs = [r for r in rows if root(r.id) == first]
    runs.sort(key=lambda r: (r.started_at is None, r.started_at or r.created_at))
    return [r.id for r in runs]


@lru_cache(maxsize=50_000)
def _read(line: str) -> FormLine:
    """A line from its JSON; most are the same as the last time anybody looked."""
    return from_record(json.loads(line))


def _made(session: Session, id_: str, question: str, today: int | None, now: datetime) -> _Made:
    written = how_far(session, id_)
    line = _line(session, id_, question, today, now)
    return _Made(id_, line, today if line.state is State.RUNNING else None, written)


def _line(session: Session, id_: str, question: str, today: int | None, now: datetime) -> FormLine:
    try:
        trial = load_trial(session, id_)
        if trial.status is not Status.STARTED or today is None:
            return line_of_plan(trial, State.DRAFT, "planned, not started")
        if trial.is_sealed:
            says = "scored blind: no result until the treatments are shown"
            return line_of_plan(trial, State.BLIND, says)
        return line_of_finish(trial, finished(session, trial, now), today)
    except (AppError, ArithmeticError, LookupError, ValueError) as exc:
        says = (
            exc.detail if isinstance(exc, AppError) else "this trial cannot be read as it is saved"
        )
        return FormLine.unreadable(id_, question, says)


def _keep(shed: Shed, made: Sequence[_Made]) -> None:
    """Keep what was made, where the trial was not written meanwhile."""
    with shed.writing() as session:
        rows = [
            {"trial_id": m.trial, "day": m.day, "line": json.dumps(asdict(m.line), ensure_ascii=False)}
            for m in made if m.written is not None and how_far(session, m.trial) == m.written
        ]  # fmt: skip
        if rows:
            new = insert(FormLineRow)
            changed = {"day": new.excluded.day, "line": new.excluded.line}
            session.execute(
                new.on_conflict_do_update(index_elements=["trial_id"], set_=changed), rows
            )


def own_base_rates(
    session: Session, kind: Kind, material: str, most: int
) -> list[tuple[Trial, BaseRate]]:
    """What the controls of finished trials struck, of the `most` trials of the likest material."""
    known = materials_of(session, kind)
    out = []
    for i in most_alike(material, [text for _, text in known], most):
        trial = load_trial(session, known[i][0])
        if trial.is_sealed:
            continue
        logs = unit_logs(trial.stuck, load_observations(session, trial.id), trial.plan)
        rate = base_rate(trial.plan, results_of(trial.plan, trial.stuck, logs))
        if rate is not None:
            out.append((trial, rate))
    return out
