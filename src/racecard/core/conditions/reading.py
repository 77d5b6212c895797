"""Readings by place: what is measured, what looks wrong with a series, days, alarms."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from itertools import pairwise
from zoneinfo import ZoneInfo

import numpy as np
import numpy.typing as npt

from racecard.core.prepare.heat import degree_days_sine
from racecard.errors import InvalidInput


@dataclass(frozen=True, slots=True)
class Quantity:
    """One measured condition, kept in `unit`; outside `least` to `most` is refused as a slip."""

    name: str
    label: str
    unit: str
    least: float
    most: float
    units: tuple[str, ...]


QUANTITIES = (
    Quantity("temperature", "Temperature", "°C", -40, 80, ("°C", "°F")),
    Quantity("humidity", "Humidity", "%", 0, 100, ("%",)),
    Quantity("light", "Light", "µmol/m²/s", 0, 3000, ("µmol/m²/s", "lux")),
    Quantity("ph", "pH", "", 0, 14, ("",)),
)
_BY_NAME = {q.name: q for q in QUANTITIES}
_LUX_SUN = 54.0
"""Lux for 1 µmol/m²/s of daylight (common practice); lamps differ, and the page says so."""
_STUCK_FOR = timedelta(hours=6)
_SPIKE = {"temperature": 8.0, "humidity": 30.0, "ph": 1.5}


@dataclass(frozen=True, slots=True)
class Reading:
    """One value of one quantity at a place, in the quantity's kept unit."""

    place: str
    quantity: str
    at: datetime
    value: float
    source: str = ""


@dataclass(frozen=True, slots=True)
class Fault:
    """Something that looks wrong with a series: gap, spike, stuck or clock."""

    kind: str
    start: datetime
    stop: datetime
    says: str


@dataclass(frozen=True, slots=True)
class DayOf:
    """One day of a series: least, most and mean, and how many readings stand behind it."""

    on: date
    least: float
    most: float
    mean: float
    n: int


_FIRST = datetime(1950, 1, 1, tzinfo=UTC)


def check_moment(at: datetime, now: datetime) -> None:
    """Raise InvalidInput where a reading cannot have been made at this moment.

    Args:
        at: when it was made.
        now: the moment it is checked.
    """
    if at < _FIRST or at > now + timedelta(days=1):
        raise InvalidInput(f"A reading of {at:%d %B} {at.year} cannot be: check the year.", "/at")


def quantity_of(name: str) -> Quantity:
    """The quantity of this name; InvalidInput where there is none."""
    if name not in _BY_NAME:
        raise InvalidInput(
            f"A condition is one of {', '.join(_BY_NAME)}; got {name!r}.", "/quantity"
        )
    return _BY_NAME[name]


def kept(quantity: Quantity, value: float, unit: str) -> float:
    """A value in the kept unit.

    Args:
        quantity: what is measured.
        value: the value as read.
        unit: the unit it was read in.

    Raises:
        InvalidInput: a unit that is not known, or a value out of bounds.
    """
    if unit and unit not in quantity.units:
        raise InvalidInput(
            f"{quantity.label} is given in {' or '.join(u for u in quantity.units if u)}; got {unit!r}.",
            "/unit",
        )
    out = (value - 32) / 1.8 if unit == "°F" else value / _LUX_SUN if unit == "lux" else value
    if not quantity.least <= out <= quantity.most:
        raise InvalidInput(
            f"{quantity.label} must be between {quantity.least:g} and {quantity.most:g} "
            f"{quantity.unit}, got {out:g}.".replace(" ,", ","),
            "/value",
        )
    return out


def faults(readings: Sequence[Reading], now: datetime) -> list[Fault]:
    """What looks wrong with one series: gaps, spikes, a stuck sensor, a clock ahead of ours.

    Args:
        readings: of one quantity at one place, in order of time.
        now: the moment it is read.
    """
    if len(readings) < 3:
        return []
    at = [r.at for r in readings]
    values = np.array([r.value for r in readings])
    steps = np.array([(b - a).total_seconds() for a, b in pairwise(at)])
    usual = float(np.median(steps))
    out = [
        Fault(
            "gap", at[i], at[i + 1], f"nothing for {_span(steps[i])}, from {at[i]:%d %b %H:%M} UTC"
        )
        for i in map(int, np.flatnonzero(steps > max(3 * usual, 3600)))
    ]
    out += _spikes(readings, values, steps, usual)
    out += _stuck(at, values)
    ahead = [r.at for r in readings if r.at > now + timedelta(minutes=10)]
    if ahead:
        says = f"{len(ahead)} readings lie in the future: the logger's clock is ahead"
        out.append(Fault("clock", ahead[0], ahead[-1], says))
    return out


def _spikes(
    readings: Sequence[Reading],
    values: npt.NDArray[np.float64],
    steps: npt.NDArray[np.float64],
    usual: float,
) -> list[Fault]:
    limit = _SPIKE.get(readings[0].quantity)
    if limit is None or usual > 7200:
        return []
    rise, fall = values[1:-1] - values[:-2], values[1:-1] - values[2:]
    hits = (
        np.flatnonzero(
            (np.sign(rise) == np.sign(fall)) & (np.minimum(np.abs(rise), np.abs(fall)) > limit)
        )
        + 1
    )
    unit = quantity_of(readings[0].quantity).unit
    return [
        Fault("spike", readings[i].at, readings[i].at,
              f"{values[i]:.1f} {unit} at {readings[i].at:%d %b %H:%M} UTC, between {values[i - 1]:.1f} and {values[i + 1]:.1f}")
        for i in map(int, hits)
    ]  # fmt: skip


def _stuck(at: Sequence[datetime], values: npt.NDArray[np.float64]) -> list[Fault]:
    changes: npt.NDArray[np.intp] = np.flatnonzero(np.diff(values)) + 1
    edges: list[int] = [0, *map(int, changes), len(values)]
    out = []
    for a, b in pairwise(edges):
        long = at[b - 1] - at[a]
        if b - a >= 6 and long >= _STUCK_FOR:
            says = (
                f"the same value, {values[a]:g}, for {_span(long.total_seconds())}: a stuck sensor?"
            )
            out.append(Fault("stuck", at[a], at[b - 1], says))
    return out


def _span(seconds: float) -> str:
    hours = seconds / 3600
    return f"{hours:.0f} hours" if hours < 48 else f"{hours / 24:.0f} days"


def usable(readings: Sequence[Reading], now: datetime) -> list[Reading]:
    """The readings a curve and degree-days are made of: spikes and those in the future left out.

    Args:
        readings: as they came, in any order.
        now: the moment; what is dated after it is left out.
    """
    bad = {f.start for f in faults(readings, now) if f.kind == "spike"}
    return [r for r in readings if r.at not in bad and r.at <= now + timedelta(minutes=10)]


def by_day(readings: Sequence[Reading], tz: ZoneInfo) -> list[DayOf]:
    """Least, most and mean of each calendar day in a zone.

    Args:
        readings: of one place and quantity.
        tz: the zone whose midnights part the days.
    """
    days: dict[date, list[float]] = defaultdict(list)
    for r in readings:
        days[r.at.astimezone(tz).date()].append(r.value)
    return [DayOf(on, min(v), max(v), sum(v) / len(v), len(v)) for on, v in sorted(days.items())]


def degree_days_to_date(
    days: Sequence[DayOf], base: float, start: date, stop: date
) -> tuple[float, int]:
    """Degree-days above a base from least and most of each day by the single sine, and days without.

    Args:
        days: days of temperature in °C.
        base: base temperature, °C.
        start: the first day counted, day 0.
        stop: the last.

    Returns:
        The sum, and how many of the days have no reading (they add nothing: the sum is too low).
    """
    had = {d.on: d for d in days}
    total, missing, on = 0.0, 0, start
    while on <= stop:
        day = had.get(on)
        if day is None:
            missing += 1
        else:
            total += degree_days_sine(day.most, day.least, base)
        on += timedelta(days=1)
    return total, missing


def degree_days_by_day(
    readings: Sequence[Reading], base: float, start: datetime, last_day: int, tz: ZoneInfo
) -> tuple[list[float], int]:
    """Degree-days above `base` °C by the end of each day 0 … `last_day`, and days without a reading.

    Args:
        readings: temperatures, °C, in the order of time.
        base: base temperature, °C.
        start: moment of day 0.
        last_day: last day wanted, days after day 0.
        tz: zone the days are cut in.
    """
    days, first = by_day(readings, tz), start.astimezone(tz).date()
    upto = [
        degree_days_to_date(days, base, first, first + timedelta(days=d))
        for d in range(last_day + 1)
    ]
    return [total for total, _ in upto], upto[-1][1]


def excursions(
    readings: Sequence[Reading], high: float | None, low: float | None
) -> list[tuple[Reading, float]]:
    """Where a series went past an alarm: the first reading beyond it and the most extreme value.

    One excursion lasts until a reading is back within the limits.

    Args:
        readings: one series, in the order of time.
        high: upper alarm in the kept unit; None for none.
        low: lower alarm likewise.
    """
    out: list[tuple[Reading, float]] = []
    worst: float | None = None
    for r in readings:
        above = high is not None and r.value > high
        below = low is not None and r.value < low
        if not above and not below:
            worst = None
            continue
        if worst is None:
            out.append((r, r.value))
            worst = r.value
        elif (above and r.value > worst) or (below and r.value < worst):
            out[-1] = (out[-1][0], r.value)
            worst = r.value
    return out
