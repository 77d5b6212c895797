"""From errors to RFC 9457 problems: the one table of statuses, the one place that answers."""

import json
import logging
import uuid
from collections.abc import Mapping
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from racecard.errors import (
    AppError,
    Conflict,
    InvalidInput,
    NotFound,
    RateLimited,
    StoreUnavailable,
)

_STATUS: tuple[tuple[type[AppError], int], ...] = (
    (NotFound, 404),
    (Conflict, 409),
    (InvalidInput, 422),
    (RateLimited, 429),
    (StoreUnavailable, 503),
    (AppError, 400),
)
_SENTENCES: Mapping[str, str] = {
    "int_type": "must be a whole number, got {input}",
    "int_from_float": "must be a whole number, got {input}",
    "int_parsing": "must be a whole number, got {input}",
    "float_parsing": "must be a number, got {input}",
    "bool_parsing": "must be yes or no, got {input}",
    "string_pattern_mismatch": "holds characters that do not belong there, got {input}",
    "string_too_short": "is shorter than {min_length} characters",
    "float_type": "must be a number, got {input}",
    "finite_number": "must be a finite number, got {input}",
    "bool_type": "must be yes or no, got {input}",
    "string_type": "must be text, got {input}",
    "missing": "is missing",
    "extra_forbidden": "is not known here; leave it out",
    "greater_than_equal": "must be {ge} or more, got {input}",
    "less_than_equal": "must be {le} or less, got {input}",
    "string_too_long": "is longer than {max_length} characters",
    "too_long": "holds more than {max_length} entries",
    "too_short": "holds too few entries",
    "enum": "must be one of {expected}, got {input}",
    "literal_error": "must be one of {expected}, got {input}",
    "json_invalid": "is not valid JSON",
    "model_attributes_type": "must be a JSON object",
    "dict_type": "must be a JSON object",
    "value_error": "{error}",
    "timezone_aware": "needs a time zone, such as Z or +01:00",
    "datetime_parsing": "must be a date and time such as 2026-05-25T07:40:00+01:00, got {input}",
    "datetime_from_date_parsing": "must be a date and time such as 2026-05-25T07:40:00+01:00, got {input}",
}
_LABELS: Mapping[str, str] = {
    "length_days": "Last day", "look_every_days": "Look on days", "look_days": "Look on days",
    "units": "Number per treatment", "per_container": "Plants per container", "tray_rows": "Rows per tray",
    "columns": "Columns per tray", "spare_cells": "Spare cells, at least", "threshold_mm": "Root that counts",
    "rooted_score": "Root score that counts", "expected_percent": "Usual rate of the control",
    "expected_days": "The control’s days on average", "expected_score": "The control’s root score",
    "gap_points": "Smallest difference that matters, points", "gap_days": "Smallest difference that matters, days",
    "gap_score": "Smallest difference that matters, score", "germination_percent": "Label germination",
    "pot_ml": "Medium in a container", "dip_ml": "Dip for a treatment", "unit_seconds": "Seconds per plant",
}  # fmt: skip
"""What the page calls a field whose name in the API is another."""
Spans = tuple[tuple[int, int], ...]
_NOT_HELD = (
    "A value here is a character or a number that cannot be kept: type it anew, with fewer digits."
)
_log = logging.getLogger("racecard")


def problem(
    status: int, code: str, title: str, errors: list[tuple[str, str]], spans: Spans = ()
) -> JSONResponse:
    """An `application/problem+json` answer; `errors` are (pointer, sentence).

    `spans` are the characters of a written line that the first error speaks of.
    """
    body = {
        "type": f"/problems/{code}",
        "title": title,
        "status": status,
        "detail": errors[0][1] if errors else title,
        "errors": [
            {"pointer": pointer, "detail": detail, "spans": [] if i else list(spans)}
            for i, (pointer, detail) in enumerate(errors)
        ],
    }
    return JSONResponse(body, status_code=status, media_type="application/problem+json")


def status_of(error: AppError) -> int:
    """The HTTP status of a deliberate error."""
    return next(status for kind, status in _STATUS if isinstance(error, kind))


def install(app: FastAPI) -> None:
    """Answer every error of the application as a problem."""

    @app.exception_handler(AppError)
    def _app_error(_: Request, exc: AppError) -> JSONResponse:
        spans, also = (exc.spans, exc.also) if isinstance(exc, InvalidInput) else ((), ())
        errors = [(exc.pointer, exc.detail), *also]
        return problem(status_of(exc), exc.code, exc.title, errors, spans)

    @app.exception_handler(RequestValidationError)
    def _validation(_: Request, exc: RequestValidationError) -> JSONResponse:
        errors = [_sentence(e) for e in exc.errors()]
        return problem(422, InvalidInput.code, InvalidInput.title, errors)

    @app.exception_handler(HTTPException)
    def _http(_: Request, exc: HTTPException) -> JSONResponse:
        return problem(exc.status_code, "http", str(exc.detail), [("", str(exc.detail))])

    @app.exception_handler(UnicodeError)
    @app.exception_handler(OverflowError)
    def _not_held(_: Request, exc: Exception) -> JSONResponse:
        _log.info("a value that cannot be held", exc_info=exc)
        return problem(422, InvalidInput.code, InvalidInput.title, [("", _NOT_HELD)])

    @app.exception_handler(Exception)
    def _unforeseen(_: Request, exc: Exception) -> JSONResponse:
        number = uuid.uuid4().hex[:8]
        _log.error("unforeseen error %s", number, exc_info=exc)
        said = f"Something went wrong here; nothing saved was lost. Its number is {number}."
        return problem(500, "unforeseen", "Something went wrong. Try again.", [("", said)])


def _sentence(error: Mapping[str, Any]) -> tuple[str, str]:
    path = [str(p) for p in error["loc"] if p not in ("body", "query", "path", "header")]
    field = path[-1] if path else "the request"
    label = _LABELS.get(field, field.replace("_", " "))
    values = {**(error.get("ctx") or {}), "input": _shown(error.get("input"))}
    template = _SENTENCES.get(error["type"])
    if template and "{input}" in template and error.get("input") is None:
        template = _SENTENCES["missing"]
    said = template.format(**values) if template else str(error["msg"]).lower()
    return "/" + "/".join(path), f"{label[:1].upper()}{label[1:]} {said}."


def _shown(value: object) -> str:
    text = repr(value) if isinstance(value, str) else json.dumps(value, default=str)
    return text if len(text) <= 40 else f"{text[:37]}…"
