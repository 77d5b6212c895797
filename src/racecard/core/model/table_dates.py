"""Dates in a table of results, counted in days from the date on which a plant was set."""

import re
from collections.abc import Iterable
from datetime import datetime
from enum import StrEnum

from racecard.errors import InvalidInput

DATE_COLUMNS = {"date_from": "day_from", "date_to": "day_to", "date": "day"}
"""Columns of dates and the columns of days each stands for; `start` is day 0."""


class DateOrder(StrEnum):
    """What comes first in a date written in figures with the year last."""

    DAY = "day-first"
    MONTH = "month-first"


class OrderAsked(InvalidInput):
    """Dates that could be read two ways: the order has to be said."""

    code = "dates_asked"


_FIGURES = re.compile(
    r"(\d{1,2})[/.-](\d{1,2})[/.-](\d{4}|\d{2})(?:[ T]+(\d{1,2}):(\d{2})(?::\d{2})?)?"
)
_NAMED = re.compile(
    r"(?:(\d{1,2})\.?\s+([a-z]{3,9})\.?|([a-z]{3,9})\.?\s+(\d{1,2}))(?:st|nd|rd|th)?,?\s+(\d{4})"
    r"(?:[ T]+(\d{1,2}):(\d{2}))?", re.I,
)  # fmt: skip
_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")


def is_date(text: str) -> bool:
    """Whether a cell looks like a date rather than a number of days."""
    return bool(
        _FIGURES.fullmatch(text)
        or _NAMED.fullmatch(text)
        or re.match(r"\d{4}[-/]\d{1,2}[-/]\d", text)
    )


def order_of(cells: Iterable[str]) -> DateOrder | None:
    """The order that all dates in figures can be read by; None where there are none.

    Raises:
        OrderAsked: every one of them can be read both ways, or they contradict each other.
    """
    possible, seen = set(DateOrder), ""
    for text in cells:
        match = _FIGURES.fullmatch(text.strip())
        if not match:
            continue
        first, second = int(match[1]), int(match[2])
        seen = seen or (text if first != second else "")
        if first > 12:
            possible.discard(DateOrder.MONTH)
        if second > 12:
            possible.discard(DateOrder.DAY)
    if len(possible) == 2 and not seen:
        return None
    if len(possible) == 2:
        first, second = (int(x) for x in re.split(r"[/.-]", seen.strip())[:2])
        raise OrderAsked(
            f"Does {seen} mean {first} {_month(second)} or {second} {_month(first)}? "
            "Say whether the day or the month comes first."
        )
    if not possible:
        raise OrderAsked(
            "Some dates have the day first and some the month: write them as 2026-05-03."
        )
    return possible.pop()


def read_date(text: str, order: DateOrder | None) -> tuple[datetime, bool] | None:
    """A date, with whether a time of day was given; None where it is none.

    Args:
        text: as 2026-05-03, 2026-05-03 09:30, 03/05/2026, 3 May 2026.
        order: of dates in figures with the year last; the day comes first where not said.
    """
    text = text.strip()
    try:
        if match := _FIGURES.fullmatch(text):
            day, month = int(match[1]), int(match[2])
            if order is DateOrder.MONTH:
                day, month = month, day
            year = int(match[3]) + (2000 if len(match[3]) == 2 else 0)
            return datetime(year, month, day, int(match[4] or 0), int(match[5] or 0)), match[
                4
            ] is not None
        if match := _NAMED.fullmatch(text):
            name = (match[2] or match[3])[:3].lower()
            at = datetime(
                int(match[5]), _MONTHS.index(name) + 1, int(match[1] or match[4]), int(match[6] or 0), int(match[7] or 0)
            )  # fmt: skip
            return at, match[6] is not None
        at = datetime.fromisoformat(text.replace("/", "-")).replace(tzinfo=None)
    except ValueError:
        return None
    return at, ":" in text and (at.hour, at.minute, at.second) != (0, 0, 0)


def _month(number: int) -> str:
    return datetime(2000, number, 1).strftime("%B")
