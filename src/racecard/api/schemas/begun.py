"""A trial that had begun before it was written down, over HTTP."""

from datetime import datetime

from pydantic import ConfigDict, Field, StrictInt

from racecard.api.schemas.base import In
from racecard.api.schemas.designs import Differ
from racecard.core.design.begun import MOST_SIDE, Begun
from racecard.core.log.days import elapsed_days, zone
from racecard.core.model import Kind
from racecard.core.plan.arms import MOST_ARMS
from racecard.formats.seed import Seed
from racecard.formats.stamp import Stamp


class BegunIn(In):
    """What stands on the bench, row by row from the back, and since when.

    `places`: number of the treatment from 0 in each place, null where nothing stands; `control`: number
    of the one the others are compared with.
    """

    model_config = ConfigDict(
        json_schema_extra={
            "example": {
                "question": "Does seaweed root sage?",
                "names": ["Plain water", "Seaweed"],
                "control": 0,
                "places": [[0, 1, 0], [1, 0, 1]],
                "at": "2026-05-03T09:30:00+01:00",
                "seed": 4127,
            }
        }
    )

    question: str = Field("", max_length=300)
    kind: Kind | None = None
    plant: str = Field("", max_length=80)
    names: list[str] = Field(min_length=2, max_length=MOST_ARMS)
    control: StrictInt | None = Field(0, ge=0, lt=MOST_ARMS)
    places: list[list[StrictInt | None]] = Field(min_length=1, max_length=MOST_SIDE)
    per_container: StrictInt = Field(1, ge=1, le=200)
    at: Stamp
    length_days: StrictInt | None = Field(None, ge=1, le=730)
    differ: list[Differ] = Field([], max_length=7)
    time_zone: str = Field("UTC", max_length=100)
    seed: Seed

    def to_core(self, now: datetime) -> Begun:
        """What it says, with the days since it began."""
        zone(self.time_zone)
        return Begun(
            self.question, tuple(self.names), self.control, tuple(tuple(row) for row in self.places),
            elapsed_days(self.at, now, self.time_zone), self.kind, self.plant, self.per_container,
            self.length_days, tuple(self.differ), self.time_zone,
        )  # fmt: skip
