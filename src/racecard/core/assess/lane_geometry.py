"""Where the marks of a lane stand, in days and shares: one geometry for the page, the report and pictures.

The page computes the same in `web/src/core/lanes.ts`; `tests/shared/cases.json` drives both.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

MOST_LINES = 60
"""Above this many plants a lane is drawn as a band."""


class EndMark(StrEnum):
    """What stands at the end of a plant's line."""

    LOST = "lost"
    REMOVED = "removed"
    WAITING = "waiting"
    NONE = "none"


@dataclass(frozen=True, slots=True)
class LaneLine:
    """One plant's line in days; None where a thing never happened."""

    after: float | None
    by: float | None
    lost: float | None
    removed: float | None
    last: float


@dataclass(frozen=True, slots=True)
class LineMarks:
    """What is drawn of one plant, in days.

    `thin_to`: end of the thin line before anything shows; `pale`: from the last look without to the
    first look with; `dark`: from there to its end; `end` stands at `end_at`.
    """

    thin_to: float
    pale: tuple[float, float] | None
    dark: tuple[float, float] | None
    end: EndMark
    end_at: float


def line_marks(line: LaneLine) -> LineMarks:
    """The marks of one plant's line."""
    end, end_at = EndMark.NONE, line.last
    if line.lost is not None:
        end, end_at = EndMark.LOST, line.lost
    elif line.removed is not None:
        end, end_at = EndMark.REMOVED, line.removed
    elif line.by is None:
        end = EndMark.WAITING
    if line.by is None:
        return LineMarks(end_at, None, None, end, end_at)
    stop = line.lost if line.lost is not None else max(line.last, line.by)
    return LineMarks(line.by, (line.after or 0.0, line.by), (line.by, stop), end, end_at)


def cumulative(days: Iterable[float | None], n: int) -> list[tuple[float, float]]:
    """Share of `n` plants for which a thing had happened by each day on which it did, as steps.

    Args:
        days: day on which it had happened to each plant, None where it had not.
        n: plants that count, those it never happened to among them.
    """
    known = sorted(d for d in days if d is not None)
    return [(day, (i + 1) / n) for i, day in enumerate(known) if known[i + 1 : i + 2] != [day]]


def ticks(last_day: float) -> list[float]:
    """Days that get a tick: every second day, whole weeks or four weeks, and the last day."""
    every = 2 if last_day <= 14 else 7 if last_day <= 70 else 28
    days = [0.0]
    while days[-1] + every < last_day - every / 2:
        days.append(days[-1] + every)
    return [*days, float(last_day)]
