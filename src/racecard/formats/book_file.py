"""The whole form book as one JSON file: every trial with its log, and every imported table.

Each trial stands in it as in a file of its own (`trial_file`), under a key by which others say that they
repeat it. Photos are not in it. Trials that are scored blind are left out and named.
"""

import json
from base64 import b64decode, b64encode
from binascii import Error as NotBase64
from collections.abc import Sequence
from dataclasses import asdict, dataclass, field
from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, JsonValue

from racecard.core.model import Kind, Trial
from racecard.core.model.observation import Entry, Observation
from racecard.core.model.table_dates import DateOrder
from racecard.core.model.table_rows import UnitKind
from racecard.core.model.turnout import Turnout
from racecard.errors import InvalidInput
from racecard.formats.json_file import read_json_file
from racecard.formats.stamp import Stamp
from racecard.formats.trial_file import read_trial, write_trial

FORMAT = "racecard-form-book-1"
MOST_BYTES = 500_000_000
Text = Annotated[str, Field(max_length=5000)]


@dataclass(frozen=True, slots=True)
class BookTable:
    """An imported table: the bytes of its file, and how it is read."""

    name: str
    created_at: datetime
    content: bytes
    unit: UnitKind | None = None
    control: str | None = None
    skipped: tuple[int, ...] = ()
    dates: DateOrder | None = None
    turnout: Turnout | None = None
    invented: bool = False
    kind: Kind | None = None


@dataclass(frozen=True, slots=True)
class BookTrial:
    """One trial of the book; `repeats`: the key of the trial it repeats, "" for none."""

    key: str
    repeats: str
    trial: Trial
    log: Sequence[Observation]
    entries: Sequence[Entry]


@dataclass(frozen=True, slots=True)
class Book:
    """Everything that is in a form book; `left_out`: questions of trials that may not be told yet."""

    made_at: datetime
    trials: tuple[BookTrial, ...] = ()
    tables: tuple[BookTable, ...] = ()
    left_out: tuple[str, ...] = field(default=())


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class TurnoutPart(_Part):
    """Gardens that joined, began, sent a result, sent none, and left."""

    enrolled: int = Field(ge=0)
    started: int = Field(ge=0)
    returned: int = Field(ge=0)
    silent: int = Field(ge=0)
    withdrawn: int = Field(ge=0)


class BookTablePart(_Part):
    """An imported table; `content` is its file in base 64."""

    name: Text
    created_at: Stamp
    content: str
    unit: UnitKind | None = None
    control: Text | None = None
    skipped: list[int] = Field([], max_length=500_000)
    dates: DateOrder | None = None
    turnout: TurnoutPart | None = None
    invented: bool = False
    kind: Kind | None = None


class BookTrialPart(_Part):
    """A trial, as `trial.schema.json` describes it, under a key of this file."""

    key: Text
    repeats: Text = ""
    trial: dict[str, JsonValue]


class BookFile(_Part):
    """A form book of Racecard, version 1."""

    format: Literal["racecard-form-book-1"]
    made_at: Stamp
    trials: list[BookTrialPart] = Field([], max_length=100_000)
    tables: list[BookTablePart] = Field([], max_length=100_000)
    left_out: list[Text] = Field([], max_length=100_000)


def schema_text() -> str:
    """The JSON Schema of the file, as it is published in docs/form-book.schema.json."""
    return json.dumps(BookFile.model_json_schema(), indent=1, ensure_ascii=False) + "\n"


def write_book(book: Book) -> bytes:
    """The book as the bytes of a file."""
    file = BookFile(
        format=FORMAT, made_at=book.made_at, left_out=list(book.left_out),
        trials=[
            BookTrialPart(
                key=t.key, repeats=t.repeats,
                trial=json.loads(write_trial(t.trial, list(t.log), t.entries)),
            )
            for t in book.trials
        ],
        tables=[
            BookTablePart(**_plain(t), content=b64encode(t.content).decode()) for t in book.tables
        ],
    )  # fmt: skip
    return json.dumps(file.model_dump(mode="json", exclude_defaults=True), ensure_ascii=False).encode()  # fmt: skip


def _plain(table: BookTable) -> dict[str, Any]:
    record = asdict(table)
    del record["content"]
    return record | {"skipped": list(table.skipped)}


def read_book(content: bytes) -> Book:
    """A book from its file.

    Raises:
        InvalidInput: too large, no JSON, not a book of this version, or a trial in it breaks a rule.
    """
    file = read_json_file(BookFile, content, MOST_BYTES, "a form book file of version 1")
    keys = [t.key for t in file.trials]
    if len(set(keys)) < len(keys):
        raise InvalidInput("Two trials of the file have the same key.")
    return Book(
        file.made_at, tuple(_trial(t) for t in file.trials), tuple(_table(t) for t in file.tables),
        tuple(file.left_out),
    )  # fmt: skip


def _trial(part: BookTrialPart) -> BookTrial:
    try:
        return BookTrial(part.key, part.repeats, *read_trial(json.dumps(part.trial).encode()))
    except InvalidInput as exc:
        raise InvalidInput(f"Trial {part.key[:40]}: {exc.detail}") from exc


def _table(part: BookTablePart) -> BookTable:
    try:
        content = b64decode(part.content, validate=True)
    except NotBase64 as exc:
        raise InvalidInput(f"The content of the table “{part.name[:60]}” is not base 64.") from exc
    turnout = Turnout(**part.turnout.model_dump()) if part.turnout else None
    return BookTable(
        part.name, part.created_at, content, part.unit, part.control, tuple(part.skipped),
        part.dates, turnout, part.invented, part.kind,
    )  # fmt: skip
