"""Opening the shed: one SQLite file in a folder the user can name, brought up to date."""

import os
import sqlite3
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import UTC, datetime
from pathlib import Path
from threading import Lock

from platformdirs import user_data_path
from sqlalchemy import Connection, create_engine, event
from sqlalchemy.engine.interfaces import DBAPIConnection
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session
from sqlalchemy.pool import ConnectionPoolEntry

from racecard.errors import Conflict, InvalidInput, StoreUnavailable
from racecard.store.chain import link_new
from racecard.store.migrating import bring_up_to_date

FILE_NAME = "racecard.sqlite3"
_LONGEST_QUEUE_S = 20.0


def default_folder() -> Path:
    """Where the shed lies unless the user names a folder."""
    named = os.environ.get("RACECARD_DATA")
    return Path(named) if named else user_data_path("racecard", appauthor=False)


class Shed:
    """A store of trials, with the clock and the ids it writes.

    Args:
        folder: the folder that holds the file; made where missing.
        now: the clock, for tests and for the demo.
        new_id: source of ids.

    `copy_before`: where the file is kept as it was before it was brought up to date; None where it was not.
    """

    def __init__(
        self,
        folder: Path,
        now: Callable[[], datetime] = lambda: datetime.now(UTC),
        new_id: Callable[[], str] = lambda: uuid.uuid4().hex,
    ) -> None:
        if folder.exists() and not folder.is_dir():
            raise InvalidInput(
                f"{folder} is a file, where a folder should be: name another with --data."
            )
        with _said_plainly():
            folder.mkdir(mode=0o700, parents=True, exist_ok=True)
            self.path = folder / FILE_NAME
            self.copy_before = bring_up_to_date(self.path)
        self._open: ContextVar[Session | None] = ContextVar("open", default=None)
        self._turn = Lock()
        self.now = now
        self.new_id = new_id
        # the threads that answer are limit enough: one that reads and waits for a connection to write would wait for itself
        self.engine = create_engine(f"sqlite:///{self.path}", max_overflow=-1)
        self.reader = self.engine.execution_options(only_reads=True)
        event.listen(self.engine, "connect", _set_pragmas)
        event.listen(self.engine, "begin", _begin)

    @contextmanager
    def reading(self) -> Iterator[Session]:
        """A session that only reads; within a `writing` of the same thread, that one's.

        Raises:
            Unready: the file cannot be read.
        """
        outer = self._open.get()
        if outer is not None:
            yield outer
            return
        with _said_plainly(), Session(self.reader) as session:
            yield session

    @contextmanager
    def writing(self) -> Iterator[Session]:
        """A session that takes the write lock at once and commits at the end.

        Within another `writing` of the same thread it is part of that one: all is kept, or nothing.

        Raises:
            Unready: the disk is full, the file is locked by another, or damaged; nothing is kept.
        """
        outer = self._open.get()
        if outer is not None:
            yield outer
            return
        with self._in_turn(), _said_plainly(), Session(self.engine) as session, session.begin():
            event.listen(session, "after_flush", link_new)
            token = self._open.set(session)
            try:
                yield session
            finally:
                self._open.reset(token)

    @contextmanager
    def _in_turn(self) -> Iterator[None]:
        """Writers of this server queue here: SQLite itself would have them poll, and some wait for ever."""
        if not self._turn.acquire(timeout=_LONGEST_QUEUE_S):
            raise StoreUnavailable(
                "Too much is being saved at once, so this was not: it is tried again."
            )
        try:
            yield
        finally:
            self._turn.release()

    def close(self) -> None:
        """Let go of the file."""
        self.engine.dispose()


@contextmanager
def _said_plainly() -> Iterator[None]:
    """Faults of the file itself, by SQLite's own codes, as one sentence each."""
    try:
        yield
    except (DatabaseError, sqlite3.DatabaseError) as exc:
        cause = getattr(exc, "orig", exc)
        code = getattr(cause, "sqlite_errorcode", None) or 0
        if code == sqlite3.SQLITE_CONSTRAINT_PRIMARYKEY:
            raise Conflict(
                "An id that was sent is already used for something else, so nothing was kept: send it under a new one."
            ) from exc
        says = _FAULTS.get(code & 0xFF)
        if says is None:
            raise
        raise StoreUnavailable(says) from exc


_DAMAGED = "The saved file is damaged: restore the last backup with “racecard restore”."
_FAULTS = {
    sqlite3.SQLITE_FULL: "The disk is full, so nothing was saved: make room, then it is tried again.",
    sqlite3.SQLITE_BUSY: "Another program holds the saved file, so nothing was saved: it is tried again.",
    sqlite3.SQLITE_LOCKED: "Another program holds the saved file, so nothing was saved: it is tried again.",
    sqlite3.SQLITE_CORRUPT: _DAMAGED,
    sqlite3.SQLITE_NOTADB: _DAMAGED,
    sqlite3.SQLITE_IOERR: "The disk does not answer, so nothing was saved: check it.",
    sqlite3.SQLITE_READONLY: "The saved file may not be written to: check its rights.",
    sqlite3.SQLITE_CANTOPEN: "The saved file cannot be opened: check that its folder is there.",
}


def _begin(connection: Connection) -> None:
    only_reads = connection.get_execution_options().get("only_reads", False)
    connection.exec_driver_sql("BEGIN" if only_reads else "BEGIN IMMEDIATE")


def _set_pragmas(connection: DBAPIConnection, _: ConnectionPoolEntry) -> None:
    connection.isolation_level = None
    cursor = connection.cursor()
    for pragma in ("journal_mode=WAL", "foreign_keys=ON", "busy_timeout=5000", "synchronous=FULL"):
        cursor.execute(f"PRAGMA {pragma}")
    cursor.close()
