"""Sittings of the scorer trainer: who, when, which drawings, which marks."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from racecard.core.trainer.marks import Sitting, sitting
from racecard.store.engine import Shed
from racecard.store.tables import TrainingRow


@dataclass(frozen=True, slots=True)
class Trained:
    """One sitting of a scorer, worked out again from its marks."""

    who: str
    at: datetime
    sitting: Sitting


def keep_sitting(shed: Shed, seed: int, marks: Sequence[int], who: str) -> Sitting:
    """Keep a whole sitting and say what it comes to; InvalidInput where marks are missing or wrong."""
    found = sitting(seed, marks)
    with shed.writing() as session:
        row = TrainingRow(id=shed.new_id(), who=who, at=shed.now(), seed=seed, marks=json.dumps(list(marks)))  # fmt: skip
        session.add(row)
    return found


def load_sittings(session: Session, who: str | None = None) -> list[Trained]:
    """Every sitting, the newest first; of one scorer or of all."""
    query = select(TrainingRow).order_by(TrainingRow.at.desc())
    if who is not None:
        query = query.where(TrainingRow.who == who)
    return [
        Trained(r.who, r.at, sitting(r.seed, json.loads(r.marks))) for r in session.scalars(query)
    ]
