"""A date and time as it travels: with its zone, and within the years a trial can lie in."""

from datetime import datetime
from typing import Annotated

from pydantic import AfterValidator, AwareDatetime

FIRST_YEAR, LAST_YEAR = 1970, 2199


def _within_years(at: datetime) -> datetime:
    if not FIRST_YEAR <= at.year <= LAST_YEAR:
        raise ValueError(f"must be between {FIRST_YEAR} and {LAST_YEAR}, got the year {at.year}")
    return at


Stamp = Annotated[AwareDatetime, AfterValidator(_within_years)]
"""A moment that any calendar of ours can hold."""
