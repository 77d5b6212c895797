"""Day zero and the days after it, from time stamps in the trial's own time zone."""

from dataclasses import replace
from datetime import date, datetime, time, timedelta
from itertools import pairwise
from typing import TypeVar
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from racecard.core.model import Plan
from racecard.core.model.observation import Entry, Observation
from racecard.errors import InvalidInput

_Row = TypeVar("_Row", Observation, Entry)
_CLOCK_OFF = timedelta(minutes=2)


def zone(name: str) -> ZoneInfo:
    """The time zone with this name; InvalidInput where the system knows none."""
    try:
        return ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, OSError) as exc:
        raise InvalidInput(
            f"The time zone must be a name such as Europe/Lisbon, got {name[:40]!r}.", "/time_zone"
        ) from exc


def elapsed_days(start: datetime, moment: datetime, time_zone: str) -> int:
    """Whole calendar days from day 0 to `moment`, as dates in the trial's time zone.

    The evening of sticking is day 0, the next morning day 1, whatever the hour: growers look at
    different hours, and a clock change must not move a day. Both stamps must carry a zone.

    Args:
        start: when day 0 was set.
        moment: the moment asked about.
        time_zone: name of the trial's zone, such as "Europe/Lisbon".
    """
    tz = zone(time_zone)
    return (moment.astimezone(tz).date() - start.astimezone(tz).date()).days


def date_of_day(start: datetime, day: int, time_zone: str) -> date:
    """The calendar date of a day of the trial.

    Args:
        start: moment of day 0, with its zone.
        day: days after day 0.
        time_zone: IANA name of the trial's zone.
    """
    return start.astimezone(zone(time_zone)).date() + timedelta(days=day)


def noon_of_day(start: datetime, day: int, time_zone: str) -> datetime:
    """Noon of a day of the trial: the stamp given to a round typed in from paper later.

    Args:
        start: when day 0 was set.
        day: day of the trial.
        time_zone: name of the trial's zone.
    """
    return datetime.combine(date_of_day(start, day, time_zone), time(12), zone(time_zone))


def planned_looks(plan: Plan) -> tuple[int, ...]:
    """The planned look days of a trial, the last day always among them."""
    if plan.look_days:
        return tuple(sorted({*plan.look_days, plan.length_days}))
    return look_days(plan.length_days, plan.look_every_days)


def look_spacing(plan: Plan) -> int:
    """Days between planned looks; the longest gap where they are not even.

    The wait from day 0 to the first look is no gap between looks. A single look is as far from the
    next as from day 0.
    """
    days = planned_looks(plan)
    return max((b - a for a, b in pairwise(days)), default=days[0])


def look_days(length_days: int, every_days: int) -> tuple[int, ...]:
    """The planned look days: every so many days, and the last day always.

    Args:
        length_days: last day of the plan.
        every_days: days from one look to the next.
    """
    days = list(range(every_days, length_days, every_days))
    return (*days, length_days)


def planned_hour(plan: Plan) -> datetime | None:
    """When sticking or sowing is meant to begin, with the trial's zone; None where not said."""
    if not plan.set_at:
        return None
    try:
        said = datetime.fromisoformat(plan.set_at)
    except ValueError as exc:
        raise InvalidInput(
            f"“{plan.set_at[:30]}” is not an hour: write it as 2026-05-03T09:30.", "/set_at"
        ) from exc
    return said if said.tzinfo else said.replace(tzinfo=zone(plan.time_zone))


def clock_corrected(row: _Row, sent_at: datetime | None, now: datetime) -> _Row:
    """A row with its stamp put right by how far the device's clock is off.

    Args:
        row: as it was sent.
        sent_at: the device's clock when it sent it, None where the stamp was given by the shed.
        now: the shed's clock.
    """
    if sent_at is None or abs(now - sent_at) < _CLOCK_OFF:
        return row
    return replace(row, seen_at=row.seen_at + (now - sent_at))
