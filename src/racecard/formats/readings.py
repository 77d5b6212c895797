"""Readings from the CSV file of any logger: columns picked, units, clock offset, gaps, duplicates."""

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from math import isfinite
from zoneinfo import ZoneInfo

from racecard.core.conditions.reading import QUANTITIES, Quantity, Reading, kept, quantity_of
from racecard.errors import InvalidInput

MOST_BYTES = 20_000_000
MOST_ROWS = 300_000
_TIMES = (
    "%Y-%m-%d %H:%M:%S", "%Y-%m-%d %H:%M", "%Y/%m/%d %H:%M:%S", "%Y/%m/%d %H:%M",
    "%d/%m/%Y %H:%M:%S", "%d/%m/%Y %H:%M", "%d.%m.%Y %H:%M:%S", "%d.%m.%Y %H:%M",
    "%d-%m-%Y %H:%M:%S", "%d-%m-%Y %H:%M",
)  # fmt: skip
_MONTH_FIRST = (
    "%m/%d/%Y %H:%M:%S", "%m/%d/%Y %H:%M", "%m/%d/%Y %I:%M:%S %p", "%m/%d/%Y %I:%M %p",
    "%m/%d/%y %H:%M", "%m/%d/%y %I:%M %p", "%m/%d/%y %I:%M:%S %p",
)  # fmt: skip
_TIME_WORDS = ("time", "date", "when", "stamp", "zeit", "fecha", "hora", "data")
_WORDS = {
    "temperature": ("temp", "°c", "°f", "celsius", "fahrenheit"),
    "humidity": ("hum", "rh", "%"),
    "light": ("light", "par", "ppfd", "lux", "µmol"),
    "ph": ("ph",),
}


@dataclass(frozen=True, slots=True)
class Column:
    """A column of the file taken for one quantity, in a unit."""

    index: int
    quantity: str
    unit: str


@dataclass(frozen=True, slots=True)
class Preview:
    """The head of a file and what its columns were taken for; `time`: index, None if not found."""

    header: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    time: int | None
    columns: tuple[Column, ...]
    asks_order: bool


@dataclass(frozen=True, slots=True)
class ReadIn:
    """What came out of a file, and what was left out and why."""

    readings: tuple[Reading, ...]
    duplicates: int
    bad: tuple[str, ...]


def preview(content: bytes) -> Preview:
    """The first rows of a file and a guess at its columns, for the grower to change.

    Raises:
        InvalidInput: too large, empty, or no table.
    """
    rows = _rows(content)
    head = next((i for i, r in enumerate(rows) if sum(bool(c) for c in r) >= 2), None)
    if head is None:
        raise InvalidInput("No table is found in the file: give a CSV with a column of times.")
    header = tuple(c.strip() for c in rows[head])
    time = next((i for i, h in enumerate(header) if any(w in h.lower() for w in _TIME_WORDS)), None)
    columns = tuple(
        Column(i, q.name, _unit_in(h, q))
        for i, h in enumerate(header)
        for q in QUANTITIES
        if i != time and _is_for(h, q)
    )
    body = rows[head + 1 :]
    sample = [r[time] for r in body[:500] if time is not None and len(r) > time]
    return Preview(header, tuple(tuple(r) for r in body[:6]), time, columns, _either_order(sample))


def read_readings(
    content: bytes, place: str, time: int, columns: Sequence[Column], tz: ZoneInfo, *,
    offset: timedelta = timedelta(), month_first: bool = False, source: str = "", had: frozenset[tuple[str, datetime]] = frozenset(),
) -> ReadIn:  # fmt: skip
    """Readings of a file.

    Args:
        content: the file.
        place: where the logger stood.
        time: index of the column of times.
        columns: what to take from it.
        tz: zone of times that name none.
        offset: added to every time, where the logger's clock was off.
        month_first: dates such as 03/04/2026 are March 4.
        source: what the readings came from.
        had: (quantity, moment) already kept at this place: left out as duplicates.

    Raises:
        InvalidInput: too large, no column, or not one row could be read.
    """
    if not columns:
        raise InvalidInput("Pick at least one column of readings.", "/columns")
    rows = _rows(content)
    head = next((i for i, r in enumerate(rows) if sum(bool(c) for c in r) >= 2), 0)
    out: list[Reading] = []
    bad: list[str] = []
    seen = set(had)
    duplicates = 0
    formats = (*_MONTH_FIRST, *_TIMES) if month_first else (*_TIMES, *_MONTH_FIRST)
    for number, row in enumerate(rows[head + 1 :], head + 2):
        if not any(row):
            continue
        try:
            at = _moment(row[time] if time < len(row) else "", tz, formats) + offset
            values = [(c, _number(row, c)) for c in columns]
        except InvalidInput as exc:
            bad.append(f"Row {number}: {exc.detail}")
            continue
        for column, value in values:
            if value is None:
                continue
            if (column.quantity, at) in seen:
                duplicates += 1
                continue
            seen.add((column.quantity, at))
            out.append(Reading(place, column.quantity, at, value, source))
    if not out and not duplicates:
        raise InvalidInput(
            f"Not one row could be read. {bad[0] if bad else 'The table has no rows.'}", "/columns"
        )
    return ReadIn(tuple(sorted(out, key=lambda r: r.at)), duplicates, tuple(bad))


def _rows(content: bytes) -> list[list[str]]:
    if len(content) > MOST_BYTES:
        raise InvalidInput(
            f"The file is larger than {MOST_BYTES / 1e6:.0f} MB, the most that is read."
        )
    if not content.strip():
        raise InvalidInput("The file is empty.")
    for encoding in (
        "utf-8-sig",
        "utf-16" if content[:2] in (b"\xff\xfe", b"\xfe\xff") else "cp1252",
    ):
        try:
            text = content.decode(encoding)
            break
        except UnicodeDecodeError:
            continue
    else:
        raise InvalidInput("This is not a text table: save the logger's file as CSV.")
    if "\x00" in text:
        raise InvalidInput("This is not a text table: save the logger's file as CSV.")
    head = "\n".join(text.splitlines()[:20])
    delimiter = max(";\t,", key=head.count)
    try:
        rows = [
            row
            for _, row in zip(
                range(MOST_ROWS + 50),
                csv.reader(io.StringIO(text, newline=""), delimiter=delimiter),
                strict=False,
            )
        ]
    except csv.Error as exc:
        raise InvalidInput(f"The file cannot be read as a table: {exc}.") from exc
    if len(rows) > MOST_ROWS:
        raise InvalidInput(f"The file has more than {MOST_ROWS:,} rows: cut it in parts.")
    return [[c.strip() for c in row] for row in rows]


def _is_for(header: str, q: Quantity) -> bool:
    said = header.lower()
    if q.name == "ph":
        return said.strip() == "ph" or said.startswith("ph ")
    if q.name == "humidity" and "temp" in said:
        return False
    return any(w in said for w in _WORDS[q.name])


def _unit_in(header: str, q: Quantity) -> str:
    said = header.lower()
    if q.name == "temperature" and (
        "°f" in said or "fahrenheit" in said or "(f)" in said or said.endswith("_f")
    ):
        return "°F"
    if q.name == "light" and "lux" in said:
        return "lux"
    return q.units[0]


def _number(row: Sequence[str], column: Column) -> float | None:
    text = row[column.index] if column.index < len(row) else ""
    if not text or text.lower() in ("nan", "null", "n/a", "-", "--"):
        return None
    plain = (
        text.replace(",", ".")
        if text.count(",") == 1 and "." not in text
        else text.replace(",", "")
    )
    try:
        value = float(plain)
    except ValueError as exc:
        raise InvalidInput(f"“{text[:30]}” is not a number.") from exc
    if not isfinite(value):
        raise InvalidInput(f"“{text[:30]}” is not a number.")
    return kept(quantity_of(column.quantity), value, column.unit)


def _moment(text: str, tz: ZoneInfo, formats: Sequence[str]) -> datetime:
    try:
        at = datetime.fromisoformat(text)
        if len(text) > 10:
            return (at if at.tzinfo else at.replace(tzinfo=tz)).astimezone(UTC)
    except ValueError:
        pass
    for pattern in formats:
        try:
            return datetime.strptime(text, pattern).replace(tzinfo=tz).astimezone(UTC)
        except ValueError:
            continue
    raise InvalidInput(f"“{text[:30]}” is not a date and time such as 2026-05-03 14:30.")


def _either_order(times: Sequence[str]) -> bool:
    """Whether day and month could be either way round in every one of these times."""
    pairs = [t.replace("-", "/").split("/") for t in times if "/" in t]
    pairs = [p for p in pairs if len(p) >= 3 and p[0].isdigit() and len(p[0]) <= 2]
    return bool(pairs) and all(
        int(p[0]) <= 12 and p[1].isdigit() and int(p[1]) <= 12 for p in pairs
    )
