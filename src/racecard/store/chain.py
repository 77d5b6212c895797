"""The log as a chain: each row's hash holds that of the row before, so that tampering shows.

It keeps nobody from changing the file with another program; it lets anybody see that it was done.
Each link names the columns it was made of, so that a column added later breaks no older link.
"""

import hashlib
import json
import sqlite3
from collections.abc import Iterable, Iterator, Sequence
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from sqlalchemy import Connection, text
from sqlalchemy.orm import Session, UOWTransaction

from racecard.errors import InvalidInput
from racecard.store.tables import (
    AmendmentRow,
    EntryRow,
    FinishWordRow,
    MarkRow,
    ObservationRow,
    SettingRow,
)

LOGGED = tuple(
    row.__tablename__
    for row in (ObservationRow, EntryRow, AmendmentRow, SettingRow, MarkRow, FinishWordRow)
)
"""Tables whose rows are only ever added to."""
_FIRST = "0" * 64
_AT_ONCE = 400


@dataclass(frozen=True, slots=True)
class Verified:
    """What was found: links held, rows altered or gone, rows that are in no link; each by table and id."""

    links: int
    head: str
    altered: tuple[str, ...]
    missing: tuple[str, ...]
    unlinked: tuple[str, ...]

    @property
    def is_whole(self) -> bool:
        """Whether the log is as it was written."""
        return not (self.altered or self.missing or self.unlinked)


def link_new(session: Session, _: UOWTransaction) -> None:
    """After a flush: link the log rows it wrote."""
    new: dict[str, list[Any]] = {}
    for row in session.new:
        table = row.__tablename__
        if table in LOGGED:
            new.setdefault(table, []).append(row.id)
    if new:
        connection = session.connection()
        link(connection, ((table, ids) for table, ids in new.items()))


def link(connection: Connection, new: Iterable[tuple[str, Sequence[Any]]]) -> None:
    """Add links for rows that are in the file, in the order given."""
    last = connection.execute(text("SELECT hash FROM chain ORDER BY seq DESC LIMIT 1")).scalar()
    rows = []
    for table, ids in new:
        for i in range(0, len(ids), _AT_ONCE):
            part = ids[i : i + _AT_ONCE]
            names = ", ".join(f":i{k}" for k in range(len(part)))
            found = connection.execute(
                text(f"SELECT * FROM {table} WHERE id IN ({names}) ORDER BY id"),
                {f"i{k}": v for k, v in enumerate(part)},
            )
            columns = list(found.keys())
            for values in found:
                last = _hash(last or _FIRST, table, columns, values)
                ref = str(values[columns.index("id")])
                rows.append({"kind": table, "ref": ref, "columns": ",".join(columns), "hash": last})
    if rows:
        connection.execute(
            text(
                'INSERT INTO chain (kind, ref, "columns", hash) VALUES (:kind, :ref, :columns, :hash)'
            ),
            rows,
        )


def link_all(connection: Connection) -> None:
    """Link every row a file of before holds."""
    link(
        connection,
        (
            (t, list(connection.execute(text(f"SELECT id FROM {t} ORDER BY rowid")).scalars()))
            for t in LOGGED
        ),
    )


def verify(path: Path) -> Verified:
    """Hold every row of the log against its link.

    Raises:
        InvalidInput: there is no saved file.
    """
    if not path.is_file():
        raise InvalidInput(f"There is no saved file at {path}: name its folder with --data.")
    altered, missing, linked = [], [], set()
    links, last = 0, _FIRST
    with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as db:
        for kind, ref, columns, kept, values in _links(db):
            links += 1
            linked.add((kind, ref))
            if values is None:
                missing.append(f"{kind} {ref}")
            elif kept != _hash(last, kind, columns, values):
                altered.append(f"{kind} {ref}")
            last = kept
        unlinked = [
            f"{kind} {ref}"
            for kind in LOGGED
            for (ref,) in db.execute(f"SELECT id FROM {kind}")
            if (kind, str(ref)) not in linked
        ]
        for name, is_there, is_same in _photos(path, db):
            if not is_there:
                missing.append(f"photo {name}")
            elif not is_same:
                altered.append(f"photo {name}")
    return Verified(links, last, tuple(altered), tuple(missing), tuple(unlinked))


def photos_of(file: Path) -> Path:
    """Where the photos lie that belong to a saved file."""
    return file.parent / "attachments" / "photos"


def _photos(path: Path, db: sqlite3.Connection) -> Iterator[tuple[str, bool, bool]]:
    """Each photo named by its hash: whether its file is there, and is what it was."""
    for (name,) in db.execute(
        "SELECT DISTINCT what FROM entry WHERE kind = 'photo' AND length(what) = 64"
    ):
        file = photos_of(path) / f"{name}.jpg"
        is_there = file.is_file()
        is_same = is_there and hashlib.sha256(file.read_bytes()).hexdigest() == name
        yield name, is_there, is_same


def _links(
    db: sqlite3.Connection,
) -> Iterator[tuple[str, str, list[str], str, Sequence[Any] | None]]:
    """Each link in its order with its row's values, None where the row is gone."""
    rows: dict[tuple[str, str], tuple[tuple[str, ...], dict[str, Any]]] = {}
    for kind in LOGGED:
        cursor = db.execute(f"SELECT * FROM {kind}")
        names = tuple(c[0] for c in cursor.description)
        for values in cursor:
            of = dict(zip(names, values, strict=True))
            rows[kind, str(of["id"])] = (names, of)
    for kind, ref, columns, kept in db.execute(
        'SELECT kind, ref, "columns", hash FROM chain ORDER BY seq'
    ):
        found = rows.get((kind, ref))
        named = columns.split(",")
        yield kind, ref, named, kept, None if found is None else [found[1].get(n) for n in named]


def _hash(before: str, table: str, columns: Sequence[str], values: Sequence[Any]) -> str:
    told = json.dumps([table, dict(zip(columns, values, strict=True))], sort_keys=True, default=str)
    return hashlib.sha256(f"{before}{told}".encode()).hexdigest()
