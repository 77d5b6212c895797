"""Bringing the saved file up to date so that a kill at any moment leaves a whole file.

A new file is made beside its place and moved there. An old one is copied first (the copy is kept and
named), migrated in a second copy, checked, and only then swapped in by one rename.
"""

import logging
import os
import shutil
import sqlite3
import tempfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

from racecard.errors import Conflict, InvalidInput, StoreUnavailable

if TYPE_CHECKING:
    from alembic.config import Config

HEAD = "0017"
"""Newest migration; a test holds it against the folder of migrations."""
SCHEMA = Path(__file__).parent / "schema.sql"
"""What `tools/write_openapi.py` wrote down of a migrated file."""
COPIES = "before-migrations"
_PREFIX = ".migrating-"
_log = logging.getLogger("racecard")


def bring_up_to_date(path: Path) -> Path | None:
    """Make the file, or migrate it to the newest schema; quick where it already is.

    Returns:
        Where the copy of an older file is kept; None where nothing was migrated.

    Raises:
        InvalidInput: a folder, a file of another program, or of a newer Racecard.
        Conflict: another Racecard has the old file open.
    """
    if path.is_dir():
        raise InvalidInput(
            f"{path} is a folder, where the saved file should be: name another with --data."
        )
    _clear_leftovers(path.parent)
    if not path.exists() or path.stat().st_size == 0:
        with _beside(path) as fresh:
            _make(fresh)
            _swap(fresh, path)
        return None
    version = version_of(path)
    if version == HEAD:
        return None
    _check_known(path, version)
    copy = path.parent / COPIES / f"{path.stem}-{version}.sqlite3"
    with _beside(path) as fresh, closing(_held(path)) as current:
        copy.parent.mkdir(mode=0o700, exist_ok=True)
        _copy(current, fresh)
        partial = copy.with_suffix(".part")
        shutil.copyfile(fresh, partial)
        partial.chmod(0o600)
        partial.replace(copy)
        upgrade(fresh)
        _check_whole(fresh)
        current.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        _swap(fresh, path)
    _log.warning("The saved file was brought up to date; as it was before, it is kept in %s.", copy)
    return copy


def version_of(path: Path) -> str:
    """The schema a saved file has.

    Raises:
        InvalidInput: the file is another program's.
        Unready: it is damaged.
    """
    try:
        with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as db:
            tables = {
                name
                for (name,) in db.execute("SELECT name FROM sqlite_master WHERE type = 'table'")
            }
            if "alembic_version" not in tables or "trial" not in tables:
                raise InvalidInput(
                    f"{path} is a file of another program: name another folder with --data, or move it away."
                )
            row = db.execute("SELECT version_num FROM alembic_version").fetchone()
    except sqlite3.DatabaseError as exc:
        if getattr(exc, "sqlite_errorcode", 0) & 0xFF in (
            sqlite3.SQLITE_NOTADB,
            sqlite3.SQLITE_CORRUPT,
        ):
            raise StoreUnavailable(
                f"{path} is damaged or no file of Racecard: restore the last backup with “racecard restore”."
            ) from exc
        raise
    return str(row[0]) if row else ""


def known_versions(path: Path) -> set[str]:
    """Every schema this Racecard can bring up to date."""
    from alembic.script import ScriptDirectory  # only where something is to be migrated

    return {s.revision for s in ScriptDirectory.from_config(alembic_config(path)).walk_revisions()}


def alembic_config(path: Path) -> "Config":
    """Alembic's settings for a file."""
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.set_main_option("sqlalchemy.url", f"sqlite:///{path}")
    return config


def _check_known(path: Path, version: str) -> None:
    if version not in known_versions(path):
        raise InvalidInput(
            f"{path} was written by a newer Racecard (schema {version}): bring this one up to date first."
        )


def schema_of(path: Path) -> str:
    """Every statement that makes a file's tables, indices and triggers, in their order."""
    with closing(sqlite3.connect(path)) as db:
        rows = db.execute("SELECT sql FROM sqlite_master WHERE sql IS NOT NULL ORDER BY rowid")
        return "".join(f"{sql};\n" for (sql,) in rows)


def _make(path: Path) -> None:
    """A new file at once, as all migrations together would leave it; a test holds the two alike."""
    with closing(sqlite3.connect(path)) as db:
        stamp = f"INSERT INTO alembic_version VALUES ('{HEAD}');"
        # as one: each statement by itself would wait for the disk, a quarter of a second in all
        db.executescript(f"BEGIN;\n{SCHEMA.read_text()}{stamp}\nCOMMIT;")


def upgrade(path: Path) -> None:
    """Carry out every migration a file has not seen yet."""
    from alembic import command

    command.upgrade(alembic_config(path), "head")


def _check_whole(path: Path) -> None:
    with closing(sqlite3.connect(path)) as db:
        whole = db.execute("PRAGMA integrity_check").fetchone()[0]
        strays = db.execute("PRAGMA foreign_key_check").fetchone()
        version = db.execute("SELECT version_num FROM alembic_version").fetchone()[0]
    if whole != "ok" or strays is not None or version != HEAD:
        raise InvalidInput(
            "The saved file could not be brought up to date; it was left as it is. Go back to the Racecard before, "
            "or restore a backup."
        )


def _held(path: Path) -> sqlite3.Connection:
    """A connection that alone may use the file, until it is closed."""
    db = sqlite3.connect(path, timeout=0.5, isolation_level=None)
    try:
        db.execute("PRAGMA locking_mode = EXCLUSIVE")
        db.execute("BEGIN EXCLUSIVE")
        db.execute("COMMIT")
    except sqlite3.OperationalError as exc:
        db.close()
        raise Conflict(
            "Another Racecard has the saved file open: end it, then start this one."
        ) from exc
    return db


def _copy(current: sqlite3.Connection, target: Path) -> None:
    with closing(sqlite3.connect(target)) as db:
        current.backup(db)


@contextmanager
def _beside(path: Path) -> Iterator[Path]:
    """A file to work on beside the place it will be moved to; gone afterwards, whatever happened."""
    with tempfile.TemporaryDirectory(prefix=_PREFIX, dir=path.parent) as scratch:
        yield Path(scratch) / path.name


def _swap(fresh: Path, path: Path) -> None:
    """Put a finished file in its place by one rename, readable by its owner only."""
    fresh.chmod(0o600)
    with fresh.open("rb") as file:
        os.fsync(file.fileno())
    for suffix in ("-wal", "-shm"):
        path.with_name(path.name + suffix).unlink(missing_ok=True)
    fresh.replace(path)


def _clear_leftovers(folder: Path) -> None:
    """What a killed migration left behind."""
    for stale in folder.glob(f"{_PREFIX}*"):
        shutil.rmtree(stale, ignore_errors=True)
