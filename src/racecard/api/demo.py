"""The invented scenario, added to this shed on request."""

from fastapi import APIRouter
from pydantic import ConfigDict

from racecard.api.deps import ShedDep
from racecard.api.schemas.base import In, Out
from racecard.demo.scenario import build_demo

router = APIRouter(prefix="/api", tags=["demo"])


class DemoIn(In):
    """The time zone the demo's days are counted in."""

    model_config = ConfigDict(json_schema_extra={"example": {"time_zone": "Europe/Lisbon"}})

    time_zone: str = "UTC"


class DemoOut(Out):
    """Ids of the trials that were added."""

    trials: list[str]


@router.post("/demo", operation_id="add_demo", status_code=201)
def add_demo(shed: ShedDep, body: DemoIn) -> DemoOut:
    """Add the invented trials, each marked invented."""
    return DemoOut(trials=[t.id for t in build_demo(shed, body.time_zone)])
