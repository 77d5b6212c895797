"""Runs of one plan put together: finished trials and imported tables, judged as one."""

from fastapi import APIRouter

from racecard.api.deps import ShedDep
from racecard.api.joined_runs import run_of
from racecard.api.schemas.series import SeriesIn, SeriesOut
from racecard.core.exchange.series import judge_series

router = APIRouter(prefix="/api", tags=["finish"])


@router.post("/series", operation_id="judge_series")
def post_series(shed: ShedDep, body: SeriesIn) -> SeriesOut:
    """What runs of one plan come to together; refused with every reason where they may not be joined."""
    runs = [run_of(shed, id, i) for i, id in enumerate(body.runs)]
    return SeriesOut.from_core(judge_series(runs, control=body.control))
