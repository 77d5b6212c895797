"""Tables of results that were read in: kept as they came, judged anew each time."""

import json
from dataclasses import asdict, dataclass
from datetime import datetime

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from racecard.core.model import Kind
from racecard.core.model.table_dates import DateOrder
from racecard.core.model.table_rows import UnitKind
from racecard.core.model.turnout import Turnout
from racecard.errors import InvalidInput, NotFound
from racecard.store.engine import Shed
from racecard.store.tables import ReadInRow

NAME_LENGTH = 120


@dataclass(frozen=True, slots=True)
class ReadIn:
    """One table: the file's bytes, and how it was to be read."""

    id: str
    name: str
    created_at: datetime
    content: bytes
    unit: UnitKind | None
    control: str | None
    skipped: frozenset[int]
    dates: DateOrder | None = None
    turnout: Turnout | None = None
    invented: bool = False
    kind: Kind | None = None


def keep_table(
    shed: Shed, name: str, content: bytes, who: str, *,
    unit: UnitKind | None, control: str | None, skipped: frozenset[int],
    dates: DateOrder | None = None, turnout: Turnout | None = None, invented: bool = False,
    kind: Kind | None = None, created_at: datetime | None = None,
) -> ReadIn:  # fmt: skip
    """Keep a table that was found good."""
    name = name.strip()
    if not name or len(name) > NAME_LENGTH:
        raise InvalidInput(f"Give the table a name of 1 to {NAME_LENGTH} characters.", "/name")
    row = ReadInRow(
        id=shed.new_id(), created_at=created_at or shed.now(), created_by=who, name=name, content=content,
        unit=unit.value if unit else None, control=control,
        skipped=" ".join(str(n) for n in sorted(skipped)), dates=dates,
        turnout=None if turnout is None else json.dumps(asdict(turnout)), invented=invented,
        kind=kind,
    )  # fmt: skip
    with shed.writing() as session:
        session.add(row)
        session.flush()
        return _read_in(row)


def load_table(session: Session, table_id: str) -> ReadIn:
    """One table; NotFound where the shed has none of that id."""
    row = session.get(ReadInRow, table_id)
    if row is None:
        raise NotFound("There is no such table here.")
    return _read_in(row)


def list_tables(session: Session) -> list[tuple[str, str, datetime]]:
    """Id, name and moment of every table, the newest first."""
    columns = (ReadInRow.id, ReadInRow.name, ReadInRow.created_at)
    found = session.execute(select(*columns).order_by(ReadInRow.created_at.desc()))
    return [(row.id, row.name, row.created_at) for row in found]


def drop_table(shed: Shed, table_id: str) -> None:
    """Throw a table away; the file it came from stays where it is."""
    with shed.writing() as session:
        load_table(session, table_id)
        session.execute(delete(ReadInRow).where(ReadInRow.id == table_id))


def _read_in(row: ReadInRow) -> ReadIn:
    return ReadIn(
        row.id, row.name, row.created_at, row.content,
        UnitKind(row.unit) if row.unit else None, row.control,
        frozenset(int(n) for n in row.skipped.split()), DateOrder(row.dates) if row.dates else None,
        Turnout(**json.loads(row.turnout)) if row.turnout else None, row.invented,
        Kind(row.kind) if row.kind else None,
    )  # fmt: skip
