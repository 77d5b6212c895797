"""Errors as they travel: RFC 9457."""

from racecard.api.schemas.base import Out


class ProblemError(Out):
    """One wrong value: where, and what to do. `spans`: characters of a written line, from and to."""

    pointer: str
    detail: str
    spans: list[tuple[int, int]]


class Problem(Out):
    """An error with its stable code."""

    type: str
    title: str
    status: int
    detail: str
    errors: list[ProblemError]
