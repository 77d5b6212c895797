"""Readings by place, the places a trial watches, and the alarms that become events of its diary."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from hashlib import sha256

from sqlalchemy import func, insert, select
from sqlalchemy.orm import Session

from racecard.core.conditions.reading import Reading, check_moment, excursions, quantity_of, usable
from racecard.core.log.days import elapsed_days
from racecard.core.model import Trial
from racecard.core.model.observation import Entry, Scope
from racecard.errors import InvalidInput
from racecard.store.diary import entry_row, last_entry, load_entries
from racecard.store.engine import Shed
from racecard.store.tables import ReadingRow, WatchRow
from racecard.store.trials import load_trial

_LONGEST_PLACE = 80


@dataclass(frozen=True, slots=True)
class Watch:
    """A place and quantity that belong to a trial; `base` °C is for degree-days."""

    place: str
    quantity: str
    high: float | None = None
    low: float | None = None
    base: float | None = None
    is_on: bool = True

    @property
    def counts_heat(self) -> bool:
        """Whether degree-days are counted from it."""
        return self.quantity == "temperature" and self.base is not None


def add_readings(shed: Shed, readings: Sequence[Reading]) -> int:
    """Add readings; a moment already kept at its place is left as it is.

    Returns:
        How many were new. Alarms they set off are written to the diaries of the trials there.

    Raises:
        InvalidInput: no place.
    """
    with shed.writing() as session:
        now = shed.now()
        new = 0
        for r in readings:
            check_moment(r.at, now)
        touched = sorted({(r.place.strip(), r.quantity) for r in readings})
        for place, quantity in touched:
            _check_place(place)
            mine = {
                r.at: r
                for r in reversed(readings)
                if (r.place.strip(), r.quantity) == (place, quantity)
            }
            had = _moments(session, place, quantity)
            rows = [
                {"place": place, "quantity": quantity, "at": at, "value": r.value,
                 "source": r.source, "recorded_at": now}
                for at, r in sorted(mine.items()) if at not in had
            ]  # fmt: skip
            if rows:
                session.execute(insert(ReadingRow), rows)
            new += len(rows)
        for place, quantity in touched:
            _sound(shed, session, place, quantity)
        return new


def load_readings(
    session: Session,
    place: str,
    quantity: str,
    since: datetime | None = None,
    until: datetime | None = None,
) -> list[Reading]:
    """Readings of one quantity at one place, in order of time."""
    query = select(ReadingRow).where(ReadingRow.place == place, ReadingRow.quantity == quantity)
    if since is not None:
        query = query.where(ReadingRow.at >= since)
    if until is not None:
        query = query.where(ReadingRow.at <= until)
    rows = session.scalars(query.order_by(ReadingRow.at))
    return [Reading(r.place, r.quantity, r.at, r.value, r.source) for r in rows]


def load_places(session: Session) -> list[tuple[str, str, int, datetime]]:
    """Every place and quantity with readings: how many, and the last."""
    rows = session.execute(
        select(ReadingRow.place, ReadingRow.quantity, func.count(), func.max(ReadingRow.at))
        .group_by(ReadingRow.place, ReadingRow.quantity)
        .order_by(ReadingRow.place, ReadingRow.quantity)
    )
    return [(p, q, n, last) for p, q, n, last in rows]


def keep_watch(shed: Shed, trial_id: str, watch: Watch, who: str) -> None:
    """Have a trial watch a place, with or without alarms; a later one for it stands in its stead.

    Raises:
        InvalidInput: no place, or limits that cross or are out of bounds.
    """
    quantity = quantity_of(watch.quantity)
    _check_place(watch.place.strip())
    for name in ("high", "low", "base"):
        value = getattr(watch, name)
        if value is not None and not quantity.least <= value <= quantity.most:
            raise InvalidInput(
                f"{quantity.label} must be between {quantity.least:g} and {quantity.most:g}; got {value:g}.",
                f"/{name}",
            )
    if watch.high is not None and watch.low is not None and watch.low >= watch.high:
        raise InvalidInput("The lower alarm must lie below the upper one.", "/low")
    with shed.writing() as session:
        load_trial(session, trial_id)
        session.add(
            WatchRow(
                trial_id=trial_id, place=watch.place.strip(), quantity=watch.quantity,
                high=watch.high, low=watch.low, base=watch.base, is_on=watch.is_on,
                at=shed.now(), who=who,
            )
        )  # fmt: skip
        session.flush()
        _sound(shed, session, watch.place.strip(), watch.quantity)


def load_watches(session: Session, trial_id: str) -> list[Watch]:
    """The places a trial watches now."""
    rows = session.scalars(
        select(WatchRow).where(WatchRow.trial_id == trial_id).order_by(WatchRow.id)
    )
    newest = {(r.place, r.quantity): r for r in rows}
    return [Watch(r.place, r.quantity, r.high, r.low, r.base) for r in newest.values() if r.is_on]


def _check_place(place: str) -> None:
    if not place:
        raise InvalidInput("Say where it was measured: bench 1, propagator, cold frame…", "/place")
    if len(place) > _LONGEST_PLACE:
        raise InvalidInput(f"Keep the place to {_LONGEST_PLACE} characters.", "/place")


def _moments(session: Session, place: str, quantity: str) -> set[datetime]:
    query = select(ReadingRow.at).where(ReadingRow.place == place, ReadingRow.quantity == quantity)
    return set(session.scalars(query))


def _sound(shed: Shed, session: Session, place: str, quantity: str) -> None:
    """Write an event for every excursion past an alarm that is not in the diary yet."""
    trial_ids = session.scalars(
        select(WatchRow.trial_id)
        .where(WatchRow.place == place, WatchRow.quantity == quantity)
        .distinct()
    ).all()
    for trial_id in trial_ids:
        watch = next(
            (
                w
                for w in load_watches(session, trial_id)
                if (w.place, w.quantity) == (place, quantity)
            ),
            None,
        )
        trial = load_trial(session, trial_id)
        if watch is None or trial.started_at is None or (watch.high, watch.low) == (None, None):
            continue
        series = usable(load_readings(session, place, quantity, since=trial.started_at), shed.now())
        had = {e.id for e in load_entries(session, trial_id)}
        order = last_entry(session)
        for first, worst in excursions(series, watch.high, watch.low):
            entry = _alarm(trial, watch, first, worst)
            if entry.id not in had:
                order += 1
                session.add(entry_row(entry, trial_id, order, shed))
        session.flush()


def _alarm(trial: Trial, watch: Watch, first: Reading, worst: float) -> Entry:
    quantity = quantity_of(watch.quantity)
    key = (
        f"{trial.id}|{watch.place}|{watch.quantity}|{watch.high}|{watch.low}|{first.at.isoformat()}"
    )
    above = watch.high is not None and first.value > watch.high
    limit = watch.high if above else watch.low
    says = (
        f"{watch.place}: {quantity.label.lower()} {worst:.1f} {quantity.unit}".rstrip()
        + f", {'above' if above else 'below'} {limit:g}"
    )
    assert trial.started_at is not None
    day = elapsed_days(trial.started_at, first.at, trial.plan.time_zone)
    return Entry(
        sha256(key.encode()).hexdigest()[:32], "event", Scope.TRIAL, "", max(0, day), first.at,
        "alarm", what="alarm", text=says,
    )  # fmt: skip
