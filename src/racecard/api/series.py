"""Runs of one plan put together: finished trials and imported tables, judged as one."""

import re

from fastapi import APIRouter

from racecard.api.deps import ShedDep
from racecard.api.schemas.series import SeriesIn, SeriesOut
from racecard.core.exchange.series import Run, judge_series
from racecard.core.log.days import date_of_day
from racecard.core.model import Trial
from racecard.errors import InvalidInput, NotFound
from racecard.formats.sheet import read_sheet
from racecard.formats.trial_table import sheet_of
from racecard.store.engine import Shed
from racecard.store.finish import load_opened
from racecard.store.imported_tables import load_table
from racecard.store.rounds import load_observations

router = APIRouter(prefix="/api", tags=["finish"])
_MOST_NAME = 40


@router.post("/series", operation_id="judge_series")
def post_series(shed: ShedDep, body: SeriesIn) -> SeriesOut:
    """What runs of one plan come to together; refused with every reason where they may not be joined."""
    runs = [_run(shed, id, i) for i, id in enumerate(body.runs)]
    return SeriesOut.from_core(judge_series(runs, control=body.control))


def _run(shed: Shed, id: str, i: int) -> Run:
    """A trial or a table of this id, as a run under a name of its own."""
    with shed.reading() as session:
        try:
            kept = load_table(session, id)
        except NotFound:
            trial, log = load_opened(session, id), load_observations(session, id)
            return Run(_name_of(trial), sheet_of(trial, log), trial.plan)
    sheet = read_sheet(kept.content, kept.skipped, dates=kept.dates)
    if sheet.bad:
        raise InvalidInput(f"{kept.name}: {sheet.bad[0].says()}", f"/runs/{i}")
    return Run(kept.name, sheet)


def _name_of(trial: Trial) -> str:
    """The question up to its first stop, and the day it began: runs of one plan ask the same."""
    assert trial.started_at is not None
    asked = re.split(r"[:?]", trial.plan.question)[0].strip()[:_MOST_NAME]
    return f"{asked}, {date_of_day(trial.started_at, 0, trial.plan.time_zone):%-d %b %Y}"
