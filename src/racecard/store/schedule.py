"""Backups that make themselves: one a day while the server runs, the last seven and four weekly ones kept."""

import logging
import threading
from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path

from racecard.errors import AppError
from racecard.store.backup import back_up, verified

FOLDER = "backups"
DAILY, WEEKLY = 7, 4
_STAMP = "%Y%m%d-%H%M%S"
_LOOK_EVERY_S = 600.0
_log = logging.getLogger("racecard")


def backups_in(folder: Path) -> list[tuple[datetime, Path]]:
    """The backups that made themselves, the newest first, each with when it was made."""
    out = []
    for path in (folder / FOLDER).glob("racecard-*.zip"):
        try:
            at = datetime.strptime(path.stem.removeprefix("racecard-"), _STAMP)
        except ValueError:
            continue
        out.append((at, path))
    return sorted(out, reverse=True)


def back_up_if_due(folder: Path, now: datetime, every: timedelta) -> Path | None:
    """Make the next backup where it is due, open it to be sure, and let the old ones go.

    Returns:
        The new backup; None where none was due.

    Raises:
        AppError: it could not be written, or not be read again; no old one is let go then.
    """
    made = backups_in(folder)
    plain = now.replace(tzinfo=None)
    if made and plain - made[0][0] < every:
        return None
    home = folder / FOLDER
    home.mkdir(mode=0o700, exist_ok=True)
    target = home / f"racecard-{now:{_STAMP}}.zip"
    back_up(folder, target, now)
    try:
        verified(target)
    except AppError:
        target.unlink(missing_ok=True)
        raise
    for path in _superfluous(backups_in(folder)):
        path.unlink(missing_ok=True)
    return target


def _superfluous(made: list[tuple[datetime, Path]]) -> list[Path]:
    """What is neither among the last seven nor the last of one of the last four weeks."""
    kept = {path for _, path in made[:DAILY]}
    weeks: dict[tuple[int, int], Path] = {}
    for at, path in made:
        year, week, _ = at.isocalendar()
        weeks.setdefault((year, week), path)
    kept |= set(list(weeks.values())[:WEEKLY])
    return [path for _, path in made if path not in kept]


def keep_backing_up(
    folder: Path, now: Callable[[], datetime], every: timedelta, stop: threading.Event
) -> None:
    """Make backups as they come due until told to stop; a fault is logged and tried again."""
    while True:
        try:
            made = back_up_if_due(folder, now(), every)
            if made is not None:
                _log.info("backup made: %s", made)
        except (AppError, OSError) as exc:
            _log.warning("The backup could not be made: %s", exc)
        if stop.wait(_LOOK_EVERY_S):
            return
