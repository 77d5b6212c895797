"""Rounds over HTTP."""

from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from pydantic import ConfigDict, Field, FiniteFloat, StrictBool, StrictInt

from racecard.api.schemas.base import In, Out
from racecard.api.schemas.plans import CellOut
from racecard.core.model.observation import Entry, Observation
from racecard.formats.stamp import Stamp

Id = Field(min_length=8, max_length=64, pattern=r"^[A-Za-z0-9_-]+$")


class ObservationIn(In):
    """One tap. The id is made on the device, so that sending twice changes nothing.

    `base`: the row the device showed for this unit and round, "" for none. `given`: the stamp was
    given by the shed (an earlier day), so the device's clock does not matter.
    """

    id: str = Id
    unit_id: str = Field(max_length=64)
    kind: Literal["look", "count", "score", "void"]
    seen_at: Stamp
    corrects: str | None = Field(None, max_length=64)
    stage: StrictInt | None = None
    wilted: StrictBool = False
    shoot: StrictBool = False
    loss: str | None = Field(None, max_length=40)
    removed: StrictInt = Field(0, ge=0, le=200)
    struck: StrictInt | None = Field(None, ge=0, le=200)
    lost: StrictInt | None = Field(None, ge=0, le=200)
    lost_struck: StrictInt | None = Field(None, ge=0, le=200)
    score: StrictInt | None = Field(None, ge=0, le=5)
    as_row: StrictBool = False
    parts: dict[str, FiniteFloat] = Field({}, max_length=30)
    base: str | None = Field(None, max_length=64)
    device: str = Field("", max_length=64)
    who: str = Field("", max_length=60)
    given: StrictBool = False

    def to_core(self, who: str) -> Observation:
        same = set(type(self).model_fields) - {"parts", "given", "who"}
        fields = {name: getattr(self, name) for name in same}
        return Observation(day=0, who=who, parts=tuple(self.parts.items()), **fields)


class ObservationsIn(In):
    """A batch from one device; `sent_at` is its clock now, by which its stamps are put right."""

    model_config = ConfigDict(
        json_schema_extra={
            "example": {
                "items": [
                    {
                        "id": "5f1c9a4b2d7e4c0f",
                        "unit_id": "a1b2c3d4",
                        "kind": "look",
                        "seen_at": "2026-05-25T07:40:00+01:00",
                        "stage": 6,
                        "shoot": True,
                    }
                ]
            }
        }
    )

    items: list[ObservationIn] = Field(min_length=1, max_length=2000)
    sent_at: Stamp | None = None


class ObservationOut(Out):
    """One observation as it stands."""

    id: str
    unit_id: str
    kind: str
    day: int
    seen_at: datetime
    who: str
    corrects: str | None
    stage: int | None
    wilted: bool
    shoot: bool
    loss: str | None
    removed: int
    struck: int | None
    lost: int | None
    lost_struck: int | None
    score: int | None
    as_row: bool
    parts: dict[str, float]

    @classmethod
    def from_core(cls, o: Observation) -> "ObservationOut":
        same = set(cls.model_fields) - {"parts"}
        return cls(parts=dict(o.parts), **{name: getattr(o, name) for name in same})


class RecordedOut(Out):
    """What the shed now holds of what was sent; `seq`: how far its log has come."""

    items: list[ObservationOut]
    seq: int


@dataclass(frozen=True, slots=True)
class RoundUnit:
    """One unit in a round: what was seen before, what this round saw, what another phone saw.

    `tray`, `row`, `col`: where it stands now, its cell is where the lot put it. `held`: plants in it. `lift`: drawn for
    the lift of this day. `second`: among those a second scorer scores.
    """

    __pydantic_config__ = ConfigDict(extra="forbid")

    id: str
    cell: CellOut
    previous: ObservationOut | None
    current: ObservationOut | None
    score: ObservationOut | None
    gone: bool
    tray: int
    row: int
    col: int
    held: int
    lift: bool
    second: bool
    second_score: int | None
    conflict: ObservationOut | None


class EntryLine(Out):
    """One line of the diary of this day."""

    id: str
    kind: str
    target: str
    who: str
    says: str

    @classmethod
    def from_core(cls, e: Entry, says: str) -> "EntryLine":
        return cls(id=e.id, kind=e.kind, target=e.target, who=e.who, says=says)


class StoryOut(Out):
    """One unit so far: its histories in words, and what the diary says of it."""

    says: list[str]
    entries: list[EntryLine]


class RoundOut(Out):
    """One round of a trial. `stamp` is null for today (use the device's clock).

    `shuffled`: the units' indices in the drawn order of this round. `seq`, `entry_seq`: how far the
    log and the diary had come when this was told.
    """

    trial_id: str
    day: int
    stamp: datetime | None
    sealed: bool
    units: list[RoundUnit]
    due: int
    looked_at: int
    arms_short: int
    complete: bool
    new_strikes: int
    previous_day: int | None
    shuffled: list[int]
    missed_says: str
    seq: int
    entry_seq: int
    entries: list[EntryLine]
