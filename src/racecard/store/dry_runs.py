"""Dry runs that were kept: the plan and truths they carried out, and what they came to."""

import json
from collections.abc import Mapping
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from racecard.core.dryrun.simulate import Truth
from racecard.core.dryrun.simulate_trials import DryRun, Tally
from racecard.core.dryrun.truths import Nuisance
from racecard.core.model import Plan
from racecard.core.plan.record import as_record, from_record, renamed
from racecard.errors import InvalidInput, NotFound
from racecard.store.engine import Shed
from racecard.store.tables import DryRunRow

MOST_KEPT = 500


@dataclass(frozen=True, slots=True)
class Carried:
    """What a dry run was of, and what it came to."""

    plan: Plan
    truths: tuple[Truth, ...]
    nuisance: Nuisance
    seed: int
    run: DryRun


@dataclass(frozen=True, slots=True)
class Kept:
    """A dry run that was kept, by name."""

    id: str
    name: str
    at: datetime
    who: str
    invented: bool
    carried: Carried


def keep_dry_run(
    shed: Shed, name: str, carried: Carried, who: str, *, invented: bool = False
) -> Kept:
    """Keep a dry run under a name."""
    name = name.strip()
    if not 1 <= len(name) <= 120:
        raise InvalidInput("Give the dry run a name of 1 to 120 characters.", "/name")
    body = {
        "plan": as_record(carried.plan), "truths": [asdict(t) for t in carried.truths],
        "nuisance": asdict(carried.nuisance), "seed": carried.seed, "run": asdict(carried.run),
    }  # fmt: skip
    row = DryRunRow(
        id=shed.new_id(), name=name, body=json.dumps(body, ensure_ascii=False), who=who, at=shed.now(),
        invented=invented,
    )  # fmt: skip
    with shed.writing() as session:
        if len(session.scalars(select(DryRunRow.id)).all()) >= MOST_KEPT:
            raise InvalidInput(f"{MOST_KEPT} simulations are saved already: delete some first.")
        kept = _kept(row)
        session.add(row)
    return kept


def load_dry_runs(session: Session) -> list[Kept]:
    """Every dry run that was kept, the newest first."""
    rows = session.scalars(select(DryRunRow).order_by(DryRunRow.at.desc(), DryRunRow.name))
    return [_kept(r) for r in rows]


def load_dry_run(session: Session, id: str) -> Kept:
    """One of them."""
    return _kept(_row(session, id))


def drop_dry_run(shed: Shed, id: str) -> None:
    """Throw one away."""
    with shed.writing() as session:
        session.delete(_row(session, id))


def _row(session: Session, id: str) -> DryRunRow:
    row = session.get(DryRunRow, id)
    if row is None:
        raise NotFound("There is no such dry run here.")
    return row


def _kept(row: DryRunRow) -> Kept:
    body = json.loads(row.body)
    carried = Carried(
        Plan(**from_record(Plan, body["plan"])), tuple(Truth(**renamed(t)) for t in body["truths"]),
        Nuisance(**body["nuisance"]), body["seed"], _run(body["run"]),
    )  # fmt: skip
    return Kept(row.id, row.name, row.at, row.who, row.invented, carried)


def _run(body: Mapping[str, Any]) -> DryRun:
    low, usual, high = body["seasons"]
    tallies = tuple(Tally(**t) for t in body["tallies"])
    return DryRun(
        body["done"], tallies, body["any_wrong"], body["any_right"], body["best_first"],
        (low, usual, high), tuple(body["says"]),
    )  # fmt: skip
