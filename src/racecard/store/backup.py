"""The whole shed in one file, and back: a zip of the database, attachments and a manifest."""

import hashlib
import json
import sqlite3
import tempfile
import zipfile
from datetime import datetime
from pathlib import Path

from alembic.script import ScriptDirectory

from racecard.errors import Conflict, InvalidInput
from racecard.store.engine import FILE_NAME, HEAD, alembic_config

FORMAT = "racecard-backup-1"
_MANIFEST = "manifest.json"
_ATTACHMENTS = "attachments"


def back_up(folder: Path, target: Path, now: datetime) -> int:
    """Write the shed of a folder to one file, while a server may be running.

    Returns:
        Bytes written.

    Raises:
        InvalidInput: there is no shed in the folder, or the file cannot be written.
    """
    source = folder / FILE_NAME
    if not source.is_file():
        raise InvalidInput(f"There is no shed in {folder}: name its folder with --data.")
    with tempfile.TemporaryDirectory() as scratch:
        copy = Path(scratch) / FILE_NAME
        _copy_database(source, copy)
        manifest = {
            "format": FORMAT,
            "schema": HEAD,
            "made_at": now.isoformat(),
            "sha256": _sum(copy),
        }
        part = target.with_name(target.name + ".part")
        try:
            with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as packed:
                packed.writestr(_MANIFEST, json.dumps(manifest, indent=1))
                packed.write(copy, FILE_NAME)
                for path in sorted((folder / _ATTACHMENTS).rglob("*")):
                    if path.is_file():
                        packed.write(path, str(path.relative_to(folder)))
            part.replace(target)
        except OSError as exc:
            raise InvalidInput(f"{target} cannot be written: {exc.strerror}.") from exc
    return target.stat().st_size


def restore(source: Path, folder: Path, now: datetime) -> Path | None:
    """Put a backup in place of a folder's shed, once it has passed every check.

    Returns:
        Where the shed that was there is kept, or None where there was none.

    Raises:
        InvalidInput: the file is no whole backup, or from a newer Racecard.
        Conflict: a server still has the shed open.
    """
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=folder) as scratch:
        fresh = _unpacked(source, Path(scratch))
        _check_database(fresh)
        kept = _set_aside(folder, now)
        fresh.replace(folder / FILE_NAME)
        if (Path(scratch) / _ATTACHMENTS).is_dir():
            (Path(scratch) / _ATTACHMENTS).replace(folder / _ATTACHMENTS)
    return kept


def _copy_database(source: Path, copy: Path) -> None:
    reader, writer = sqlite3.connect(source), sqlite3.connect(copy)
    try:
        reader.backup(writer)
    finally:
        reader.close()
        writer.close()


def _sum(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _unpacked(source: Path, scratch: Path) -> Path:
    """The database of a backup, unpacked beside its attachments and held against its checksum."""
    try:
        with zipfile.ZipFile(source) as packed:
            manifest = json.loads(packed.read(_MANIFEST))
            names = [
                n for n in packed.namelist() if n == FILE_NAME or n.startswith(f"{_ATTACHMENTS}/")
            ]
            packed.extractall(scratch, names)
    except (OSError, zipfile.BadZipFile, KeyError, ValueError) as exc:
        raise InvalidInput(
            f"{source} is not a whole Racecard backup; nothing was changed."
        ) from exc
    fresh = scratch / FILE_NAME
    if (
        manifest.get("format") != FORMAT
        or not fresh.is_file()
        or _sum(fresh) != manifest.get("sha256")
    ):
        raise InvalidInput(f"{source} is damaged or not a Racecard backup; nothing was changed.")
    return fresh


def _check_database(path: Path) -> None:
    connection = sqlite3.connect(path)
    try:
        whole = connection.execute("PRAGMA integrity_check").fetchone()[0]
        version = connection.execute("SELECT version_num FROM alembic_version").fetchone()[0]
    except sqlite3.DatabaseError as exc:
        raise InvalidInput("The database in the backup is damaged; nothing was changed.") from exc
    finally:
        connection.close()
    known = {s.revision for s in ScriptDirectory.from_config(alembic_config(path)).walk_revisions()}
    if whole != "ok":
        raise InvalidInput("The database in the backup is damaged; nothing was changed.")
    if version not in known:
        raise InvalidInput(
            "The backup comes from a newer Racecard; bring this one up to date first."
        )


def _set_aside(folder: Path, now: datetime) -> Path | None:
    """Move the shed that is there aside, its log folded in; refused while somebody has it open."""
    current = folder / FILE_NAME
    if not current.is_file():
        return None
    connection = sqlite3.connect(current, timeout=0.5)
    try:
        connection.execute("PRAGMA locking_mode = EXCLUSIVE")
        connection.execute("BEGIN EXCLUSIVE")
        connection.execute("COMMIT")
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    except sqlite3.OperationalError as exc:
        raise Conflict("The shed is open in a running Racecard: end it, then restore.") from exc
    finally:
        connection.close()
    kept = folder / f"kept-{now:%Y%m%d-%H%M%S}"
    kept.mkdir()
    for name in (FILE_NAME, _ATTACHMENTS):
        if (folder / name).exists():
            (folder / name).replace(kept / name)
    for suffix in ("-wal", "-shm"):
        (folder / f"{FILE_NAME}{suffix}").unlink(missing_ok=True)
    return kept
