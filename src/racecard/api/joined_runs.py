"""Runs of one plan, taken from trials and tables to be judged as one."""

import re
from collections.abc import Sequence

from racecard.core.exchange.series import MOST_RUNS, Run, judge_series
from racecard.core.log.dated import lot_was_drawn
from racecard.core.log.days import date_of_day
from racecard.core.model import Trial
from racecard.core.model.observation import Observation
from racecard.core.text.series import joint_says
from racecard.errors import Conflict, InvalidInput, NotFound, Sealed
from racecard.formats.sheet import read_sheet
from racecard.formats.trial_table import sheet_of
from racecard.store.engine import Shed
from racecard.store.finish import load_opened
from racecard.store.form_book import lineage
from racecard.store.imported_tables import load_table
from racecard.store.rounds import load_observations

_MOST_NAME = 40


def run_of(shed: Shed, id: str, i: int) -> Run:
    """A trial or a table of this id, as a run under a name of its own."""
    with shed.reading() as session:
        try:
            kept = load_table(session, id)
        except NotFound:
            trial, log = load_opened(session, id), load_observations(session, id)
            return _as_run(trial, log)
    sheet = read_sheet(kept.content, kept.skipped, dates=kept.dates)
    if sheet.bad:
        raise InvalidInput(f"{kept.name}: {sheet.bad[0].says()}", f"/runs/{i}")
    return Run(kept.name, sheet)


def _name_of(trial: Trial) -> str:
    """The question up to its first stop, and the day it began: runs of one plan ask the same."""
    assert trial.started_at is not None
    asked = re.split(r"[:?]", trial.plan.question)[0].strip()[:_MOST_NAME]
    return f"{asked}, {date_of_day(trial.started_at, 0, trial.plan.time_zone):%-d %b %Y}"


def _as_run(trial: Trial, log: Sequence[Observation]) -> Run:
    return Run(_name_of(trial), sheet_of(trial, log), trial.plan, lot_was_drawn(trial))


def said_with_others(shed: Shed, trial: Trial) -> str:
    """What this run shows with the other runs of its plan, a sentence; "" where it is alone or they may not be joined."""
    runs = []
    with shed.reading() as session:
        for id_ in lineage(session, trial.id)[:MOST_RUNS]:
            try:
                other = load_opened(session, id_)
            except (Conflict, Sealed):  # a draft, or one that is scored blind
                continue
            runs.append(_as_run(other, load_observations(session, id_)))
    try:
        table = judge_series(runs).table
    except InvalidInput:  # fewer than two, or runs that may not be joined
        return ""
    return joint_says(table.plan, table.judgement, len(runs) - 1)
