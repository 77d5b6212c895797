"""The clock of this computer: what is doubtful about it, and somebody's word that it is right."""

from datetime import datetime

from fastapi import APIRouter

from racecard.api.deps import PhoneClocksDep, ShedDep
from racecard.api.schemas.base import Out
from racecard.store.clock_guard import clock_of, confirm_clock

router = APIRouter(prefix="/api/clock", tags=["clock"])


class ClockNowOut(Out):
    """What the clock says; `says` tells what is doubtful about it, "" where nothing is."""

    now: datetime
    newest: datetime | None
    says: str


@router.get("", operation_id="get_clock")
def get_clock(shed: ShedDep, phones: PhoneClocksDep) -> ClockNowOut:
    """Whether this computer's clock may date what is sent."""
    with shed.reading() as session:
        found = clock_of(session, shed.now(), phones)
    return ClockNowOut(now=found.now, newest=found.newest, says=found.says)


@router.post("/confirm", operation_id="confirm_clock")
def post_confirm(shed: ShedDep, phones: PhoneClocksDep) -> ClockNowOut:
    """Say that it is right, whatever the log or the phones say."""
    confirm_clock(shed, phones)
    return get_clock(shed, phones)
