"""Every deliberate error of Racecard.

AppError
├── InvalidInput      a value breaks a rule; names the value and the rule
│   └── LookPastEnd   a look after the last day the trial still takes looks
├── NotFound          no such trial, unit, round or observation
├── RateLimited       wrong codes were tried just before: wait
├── StoreUnavailable  the shed's file cannot be written or read now: full, locked, damaged
└── Conflict          true only at another time: the plan is frozen, the trial not started
    ├── Stale         somebody else changed it meanwhile; the newer one is there to be read
    └── Sealed        the trial is scored blind and nobody has unsealed it yet

Each carries a stable `code`, a `pointer` (JSON pointer to the field, or "") and one plain sentence.
"""

from collections.abc import Sequence
from typing import Self


class AppError(Exception):
    """Base of all deliberate errors.

    Args:
        detail: one sentence that says what is wrong, where, and what to do.
        pointer: JSON pointer to the offending value, "" for the whole request.
    """

    code = "app_error"
    title = "Something is wrong"

    def __init__(self, detail: str, pointer: str = "") -> None:
        super().__init__(detail)
        self.detail = detail
        self.pointer = pointer


class InvalidInput(AppError):
    """A value breaks a rule."""

    code = "invalid_input"
    title = "Please check what was entered"
    spans: tuple[tuple[int, int], ...] = ()
    """Which characters of a written line it speaks of, from and to; () for all of the value."""
    also: tuple[tuple[str, str], ...] = ()
    """Further faults of the same request, as (pointer, sentence)."""

    @classmethod
    def of_all(cls, faults: Sequence[tuple[str, str]]) -> Self:
        """One error for every fault of a request, each as (pointer, sentence); at least one."""
        (pointer, detail), *more = faults
        error = cls(detail, pointer)
        error.also = tuple(more)
        return error


class LookPastEnd(InvalidInput):
    """A look lies after the last day on which the trial still takes looks."""

    code = "look_past_end"
    title = "That look is past the end of the trial"


class NotFound(AppError):
    """The thing asked for is not in this shed."""

    code = "not_found"
    title = "Not found"


class RateLimited(AppError):
    """Too many wrong guesses: wait a little."""

    code = "too_soon"
    title = "Please wait"


class StoreUnavailable(AppError):
    """The shed's file cannot be written or read just now."""

    code = "unready"
    title = "Nothing can be saved now"


class Conflict(AppError):
    """The request would be fine at another time, not now."""

    code = "conflict"
    title = "Not possible now"


class Stale(Conflict):
    """What was to be changed is not any more what the sender had seen."""

    code = "stale"
    title = "Somebody else changed it meanwhile"


class Sealed(Conflict):
    """The trial is scored blind and has not been unsealed."""

    code = "sealed"
    title = "This trial is sealed"
