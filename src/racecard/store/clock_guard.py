"""A wrong clock of this computer, found before anything is dated by it.

A phone's stamps are put right by this computer's clock, so that clock must be right. It is doubted
where it runs backwards against the log, or where most phones agree on another time.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta
from statistics import median
from threading import Lock

from sqlalchemy import select
from sqlalchemy.orm import Session

from racecard.errors import StoreUnavailable
from racecard.store.engine import Shed
from racecard.store.tables import ChoiceRow, EntryRow, ObservationRow

_BACKWARDS = timedelta(minutes=10)
_OFF = timedelta(minutes=30)
_FEW = 2
"""So many phones must agree: one alone may be the one that is wrong."""
_REMEMBERED = timedelta(days=1)
_CONFIRMED = "racecard:clock_confirmed"


@dataclass(frozen=True, slots=True)
class Clock:
    """What this computer's clock says, the newest time in the log, and what is doubtful about it."""

    now: datetime
    newest: datetime | None
    says: str


_BROKEN = timedelta(days=366)


class PhoneClocks:
    """How far each phone's clock was from this computer's when it last sent something."""

    def __init__(self) -> None:
        self._seen: dict[str, tuple[timedelta, datetime]] = {}
        self._lock = Lock()

    def heard(self, device: str, sent_at: datetime | None, now: datetime) -> None:
        """A phone sent something at a time of its own; one that is years off is wrong itself."""
        if sent_at is None or not device or abs(sent_at - now) > _BROKEN:
            return
        with self._lock:
            self._seen[device] = (sent_at - now, now)

    def off(self, now: datetime) -> timedelta:
        """By how much most phones of the last day agree to differ; nothing where they do not."""
        with self._lock:
            offs = [off for off, at in self._seen.values() if abs(now - at) < _REMEMBERED]
        if len(offs) < _FEW:
            return timedelta()
        middle = timedelta(seconds=median(o.total_seconds() for o in offs))
        alike = [o for o in offs if abs(o - middle) < _OFF]
        return middle if abs(middle) > _OFF and len(alike) > len(offs) / 2 else timedelta()

    def forget(self) -> None:
        """Somebody said that this computer is right."""
        with self._lock:
            self._seen.clear()


def clock_of(session: Session, now: datetime, phones: PhoneClocks) -> Clock:
    """What is to be said of the clock; `says` is "" where nothing is doubtful."""
    newest = _newest(session)
    confirmed = session.get(ChoiceRow, _CONFIRMED)
    is_settled = confirmed is not None and confirmed.value == str(newest)  # of this very row
    if newest is not None and now < newest - _BACKWARDS and not is_settled:
        says = (
            f"The clock of this computer says {now:%d %B %Y, %H:%M} UTC, but the log already holds {newest:%d %B %Y, %H:%M}: "
            "set the clock right, or confirm that it is right. Until then nothing is dated; phones keep what they have."
        )
        return Clock(now, newest, says)
    off = phones.off(now)
    if off:
        side = "behind" if off > timedelta() else "ahead of"
        says = (
            f"The clock of this computer is {_long(off)} {side} most phones: set it right, or confirm that it is right. "
            "Until then nothing is dated; phones keep what they have."
        )
        return Clock(now, newest, says)
    return Clock(now, newest, "")


def check_clock(session: Session, now: datetime, phones: PhoneClocks) -> None:
    """Let nothing be dated by a doubtful clock.

    Raises:
        Unready: the clock is doubtful; what was sent is tried again later.
    """
    says = clock_of(session, now, phones).says
    if says:
        raise StoreUnavailable(says)


def confirm_clock(shed: Shed, phones: PhoneClocks) -> None:
    """Somebody says that this computer's clock is right, whatever the log or the phones say."""
    with shed.writing() as session:
        session.merge(ChoiceRow(key=_CONFIRMED, value=str(_newest(session)), at=shed.now()))
    phones.forget()


def _newest(session: Session) -> datetime | None:
    """When the last row of the log was recorded."""
    found = [
        session.scalar(select(row.recorded_at).order_by(row.order.desc()).limit(1))
        for row in (ObservationRow, EntryRow)
    ]
    return max((at for at in found if at is not None), default=None)


def _long(off: timedelta) -> str:
    hours = abs(off).total_seconds() / 3600
    if hours < 2:
        return f"{60 * hours:.0f} minutes"
    return f"{hours:.0f} hours" if hours < 48 else f"{hours / 24:.0f} days"
