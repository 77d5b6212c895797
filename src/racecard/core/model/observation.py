"""What is written down while a trial runs: looks, counts, rows of the log, the diary, sticking."""

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum


@dataclass(frozen=True, slots=True)
class Look:
    """What one visit saw of a single propagule. `day` counts from day 0.

    `stage` is a code of the ladder (None: not said); `loss` a cause; `removed`: removed on purpose at this look; `wilted` and `shoot` are flags beside the stage.
    """

    day: int
    stage: int | None = None
    wilted: bool = False
    shoot: bool = False
    loss: str | None = None
    removed: bool = False


@dataclass(frozen=True, slots=True)
class Count:
    """What one visit counted in a container of many; every number is cumulative.

    `struck`: ever seen at the endpoint; `lost`: lost before reaching it; `lost_struck`: reached
    it and lost since; `removed`: removed on purpose before reaching it. `also`: how many ever reached
    other stages, as (code, number).
    """

    day: int
    struck: int
    lost: int = 0
    lost_struck: int = 0
    removed: int = 0
    cause: str | None = None
    also: tuple[tuple[int, int], ...] = ()


@dataclass(frozen=True, slots=True)
class UnitLog:
    """What was logged for one unit: looks of a single propagule, or counts of many, and a score."""

    looks: tuple[Look, ...] = ()
    counts: tuple[Count, ...] = ()
    score: float | None = None


@dataclass(frozen=True, slots=True)
class Observation:
    """One row of the log as it was sent; `corrects` names the row it stands in for.

    `as_row`: entered with a whole row at once, not looked at one by one. `parts`: what a root score
    was made of, as (name, value). `base`: the row the device showed for this unit and round, "" for
    none, None where it did not say. `beside`: the standing row this one disagrees with; it waits
    for a decision and counts for nothing. `recorded_at`: when it was written down, None: not told.
    """

    id: str
    unit_id: str
    kind: str
    day: int
    seen_at: datetime
    who: str
    corrects: str | None = None
    stage: int | None = None
    wilted: bool = False
    shoot: bool = False
    loss: str | None = None
    removed: int = 0
    struck: int | None = None
    lost: int | None = None
    lost_struck: int | None = None
    score: int | None = None
    as_row: bool = False
    parts: tuple[tuple[str, float], ...] = ()
    base: str | None = None
    beside: str | None = None
    device: str = ""
    recorded_at: datetime | None = None


class Scope(StrEnum):
    """What an entry beside the looks is about."""

    UNIT = "unit"
    TRAY = "tray"
    ARM = "arm"
    TRIAL = "trial"


@dataclass(frozen=True, slots=True)
class Entry:
    """What was written beside the looks: an event, measures, a note, a photo, a second score.

    `kind`: event, measure, note, photo, second, traced (marks on a photo) or void. `target`: id of the unit, or number
    from 0 of the tray or treatment; "" for the trial. `what`: the event's code, the photo's file, the
    entry of the photo that was traced, or the trace that a measure was taken from.
    `values`: numbers by name; `text`: in the grower's own words. Only ever added to: `corrects`
    names the entry this one stands in for or takes back.
    """

    id: str
    kind: str
    scope: Scope
    target: str
    day: int
    seen_at: datetime
    who: str
    corrects: str | None = None
    what: str = ""
    values: tuple[tuple[str, float], ...] = ()
    text: str = ""
    device: str = ""

    def value(self, name: str) -> float | None:
        """One of its numbers, None where it has none of that name."""
        return dict(self.values).get(name)


@dataclass(frozen=True, slots=True)
class Setting:
    """What was really done with one unit at sticking or sowing; a later one stands in for it.

    `set_at`: when it went in, None: with the trial's day 0. `why`: the reason where it was not set
    or something else was used. `lot`, `size`: what was used instead.
    """

    unit_id: str
    at: datetime
    who: str
    is_set: bool = True
    set_at: datetime | None = None
    why: str = ""
    lot: str = ""
    size: str = ""
