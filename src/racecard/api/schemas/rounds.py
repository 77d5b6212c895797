"""Rounds over HTTP."""

from datetime import datetime
from typing import Literal

from pydantic import AwareDatetime, ConfigDict, Field, StrictBool, StrictInt

from racecard.api.schemas.base import In, Out
from racecard.api.schemas.plans import CellOut
from racecard.core.model import Observation

Id = Field(min_length=8, max_length=64, pattern=r"^[A-Za-z0-9_-]+$")


class ObservationIn(In):
    """One tap. The id is made on the device, so that sending twice changes nothing."""

    id: str = Id
    unit_id: str = Field(max_length=64)
    kind: Literal["look", "count", "score", "void"]
    seen_at: AwareDatetime
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

    def to_core(self, who: str) -> Observation:
        fields = {name: getattr(self, name) for name in type(self).model_fields}
        return Observation(day=0, who=who, **fields)


class ObservationsIn(In):
    """A batch from one device."""

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

    @classmethod
    def from_core(cls, o: Observation) -> "ObservationOut":
        return cls(**{name: getattr(o, name) for name in cls.model_fields})


class RecordedOut(Out):
    """What the shed now holds of what was sent."""

    items: list[ObservationOut]


class RoundUnit(Out):
    """One unit in a round: where it stands, what was seen before, what this round saw."""

    id: str
    cell: CellOut
    previous: ObservationOut | None
    current: ObservationOut | None
    score: ObservationOut | None
    gone: bool


class RoundOut(Out):
    """One round of a trial. `stamp` is null for today (use the device's clock)."""

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
