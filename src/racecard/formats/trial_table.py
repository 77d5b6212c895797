"""A whole trial as the table of results that is read in: a row a plant."""

from collections.abc import Sequence

from racecard.core.exchange.exported import Line, lines_of
from racecard.core.finish.of_trial import lifted_samples
from racecard.core.log.assemble import in_force, own_ages, unit_logs
from racecard.core.model import Trial
from racecard.core.model.observation import Observation
from racecard.core.model.table_rows import Sheet
from racecard.formats.sheet import read_sheet, write_csv


def table_of(trial: Trial, log: Sequence[Observation]) -> bytes:
    """The table as CSV; a sample that was drawn by lot and lifted leaves whole.

    Args:
        trial: an unsealed trial that has started.
        log: its observations in the order they were recorded.
    """
    gone = lifted_samples(trial, in_force(log))
    units = [u for u in trial.stuck if u.id not in gone]
    logs = own_ages(units, unit_logs(units, log, trial.plan))
    lines: list[Line] = lines_of(trial.plan, units, logs)
    return write_csv(lines)


def sheet_of(trial: Trial, log: Sequence[Observation]) -> Sheet:
    """The same as the rows that are judged."""
    return read_sheet(table_of(trial, log))
