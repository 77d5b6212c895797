"""Conditions over HTTP: readings, files of a logger, watched places, curves."""

from datetime import date, datetime

from pydantic import ConfigDict, Field, FiniteFloat, StrictInt

from racecard.api.schemas.base import In, Out
from racecard.core.conditions.reading import DayOf, Fault
from racecard.formats.stamp import Stamp


class ReadingIn(In):
    """One reading; a lowest and highest of a day are sent as two."""

    place: str = Field(max_length=80)
    quantity: str = Field(max_length=20)
    at: Stamp
    value: FiniteFloat
    unit: str = Field("", max_length=12)


class ReadingsIn(In):
    """Readings typed, or posted by a logger; `sent_at` is its clock now, if it has one."""

    model_config = ConfigDict(
        json_schema_extra={
            "example": {
                "items": [
                    {"place": "mist bench", "quantity": "temperature",
                     "at": "2026-05-25T07:40:00Z", "value": 21.4, "unit": "°C"}
                ],
                "source": "bench logger",
            }
        }
    )  # fmt: skip

    items: list[ReadingIn] = Field(min_length=1, max_length=5000)
    source: str = Field("typed", max_length=60)


class AddedOut(Out):
    """How many readings were new; those of a moment already kept are left as they are."""

    added: int
    known: int


class ColumnIo(In):
    """A column of a file, from 0, taken for one quantity in a unit."""

    index: StrictInt = Field(ge=0, le=500)
    quantity: str = Field(max_length=20)
    unit: str = Field("", max_length=12)


class ColumnOut(Out):
    """What a column was taken for."""

    index: int
    quantity: str
    unit: str


class PreviewOut(Out):
    """The head of a file and a guess at its columns. `asks_order`: day or month may come first."""

    header: list[str]
    rows: list[list[str]]
    time: int | None
    columns: list[ColumnOut]
    asks_order: bool


class FileReadOut(Out):
    """What came out of a file and what was left out."""

    added: int
    duplicates: int
    bad: list[str]
    bad_count: int


class WatchIn(In):
    """A place that belongs to a trial, with alarms where wanted; `base` °C is for degree-days."""

    place: str = Field(max_length=80)
    quantity: str = Field(max_length=20)
    high: FiniteFloat | None = None
    low: FiniteFloat | None = None
    base: FiniteFloat | None = None
    is_on: bool = True


class PlaceOut(Out):
    """A place and quantity with readings."""

    place: str
    quantity: str
    readings: int
    last: datetime


class FaultOut(Out):
    """Something that looks wrong with a series."""

    kind: str
    start: datetime
    stop: datetime
    says: str

    @classmethod
    def from_core(cls, f: Fault) -> "FaultOut":
        return cls(kind=f.kind, start=f.start, stop=f.stop, says=f.says)


class DayCurve(Out):
    """One day of a series; `day` counts from day 0."""

    day: int
    on: date
    least: float
    most: float
    mean: float
    n: int

    @classmethod
    def from_core(cls, d: DayOf, day: int) -> "DayCurve":
        return cls(day=day, on=d.on, least=d.least, most=d.most, mean=d.mean, n=d.n)


class CurveOut(Out):
    """One watched series along a trial's course."""

    place: str
    quantity: str
    label: str
    unit: str
    high: float | None
    low: float | None
    base: float | None
    days: list[DayCurve]
    degree_days: float | None
    days_without: int
    faults: list[FaultOut]
    says: str


class ConditionsOut(Out):
    """The curves of a trial, and the places it could watch."""

    curves: list[CurveOut]
    places: list[PlaceOut]
