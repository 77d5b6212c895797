"""The whole shed in one file, and back: a zip of the database, attachments and a manifest."""

import hashlib
import json
import shutil
import sqlite3
import tempfile
import zipfile
import zlib
from datetime import datetime
from pathlib import Path

from racecard.errors import Conflict, InvalidInput
from racecard.store.engine import FILE_NAME
from racecard.store.migrating import HEAD, known_versions

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
            "files": {str(p.relative_to(folder)): _sum(p) for p in _attached(folder)},
        }
        part = target.with_name(target.name + ".part")
        try:
            with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as packed:
                packed.writestr(_MANIFEST, json.dumps(manifest, indent=1))
                packed.write(copy, FILE_NAME)
                for path in _attached(folder):
                    packed.write(path, str(path.relative_to(folder)))
            part.chmod(0o600)
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
        fresh, _ = _unpacked(source, Path(scratch))
        _check_database(fresh)
        fresh.chmod(0o600)
        kept = _set_aside(folder, now)
        fresh.replace(folder / FILE_NAME)  # one rename: at no moment is there no file
        if (Path(scratch) / _ATTACHMENTS).is_dir():
            (Path(scratch) / _ATTACHMENTS).replace(folder / _ATTACHMENTS)
    return kept


def _attached(folder: Path) -> list[Path]:
    """Photos and what else lies beside the database."""
    return [p for p in sorted((folder / _ATTACHMENTS).rglob("*")) if p.is_file()]


def verified(source: Path) -> dict[str, object]:
    """The manifest of a backup that can be restored: unpacked, summed and opened, and thrown away again.

    Raises:
        InvalidInput: it is no whole backup.
    """
    with tempfile.TemporaryDirectory() as scratch:
        fresh, manifest = _unpacked(source, Path(scratch))
        _check_database(fresh)
    return manifest


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


def _unpacked(source: Path, scratch: Path) -> tuple[Path, dict[str, object]]:
    """The database of a backup, unpacked beside its attachments, all held against their checksums."""
    try:
        with zipfile.ZipFile(source) as packed:
            manifest = json.loads(packed.read(_MANIFEST))
            names = [
                n for n in packed.namelist() if n == FILE_NAME or n.startswith(f"{_ATTACHMENTS}/")
            ]
            if sum(packed.getinfo(n).file_size for n in names) > shutil.disk_usage(scratch).free:
                raise InvalidInput(
                    f"There is no room to unpack {source}: free some; nothing was changed."
                )
            packed.extractall(scratch, names)
    except (
        OSError,
        EOFError,
        zlib.error,
        zipfile.BadZipFile,
        KeyError,
        ValueError,
        RecursionError,
    ) as exc:
        raise InvalidInput(
            f"{source} is not a complete Racecard backup; nothing was changed."
        ) from exc
    fresh = scratch / FILE_NAME
    if (
        not isinstance(manifest, dict)
        or manifest.get("format") != FORMAT
        or not fresh.is_file()
        or _sum(fresh) != manifest.get("sha256")
        or not _all_there(scratch, manifest.get("files"))
    ):
        raise InvalidInput(f"{source} is damaged or not a Racecard backup; nothing was changed.")
    return fresh, manifest


def _all_there(scratch: Path, sums: object) -> bool:
    """Whether every photo is there and as it was; backups of before told no sums of them."""
    if sums is None:
        return True
    return isinstance(sums, dict) and sums == {
        str(p.relative_to(scratch)): _sum(p) for p in _attached(scratch)
    }


def _check_database(path: Path) -> None:
    connection = sqlite3.connect(path)
    try:
        whole = connection.execute("PRAGMA integrity_check").fetchone()[0]
        version = connection.execute("SELECT version_num FROM alembic_version").fetchone()[0]
    except sqlite3.DatabaseError as exc:
        raise InvalidInput("The database in the backup is damaged; nothing was changed.") from exc
    finally:
        connection.close()
    known = known_versions(path)
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
        raise Conflict("Racecard is running with these trials: stop it, then restore.") from exc
    finally:
        connection.close()
    kept = folder / f"kept-{now:%Y%m%d-%H%M%S}"
    kept.mkdir(mode=0o700)
    _copy_database(current, kept / FILE_NAME)
    if (folder / _ATTACHMENTS).exists():
        (folder / _ATTACHMENTS).replace(kept / _ATTACHMENTS)
    for suffix in ("-wal", "-shm"):
        (folder / f"{FILE_NAME}{suffix}").unlink(missing_ok=True)
    return kept
