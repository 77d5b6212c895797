"""A documented JSON file read by its model, or refused in one sentence that says where."""

from collections.abc import Callable
from typing import TypeVar

from pydantic import BaseModel, ValidationError

from racecard.errors import InvalidInput

File = TypeVar("File", bound=BaseModel)


def read_json_file(
    kind: type[File], content: bytes, most: int, what: str,
    as_of_now: Callable[[bytes], bytes] = lambda content: content,
) -> File:  # fmt: skip
    """The file as its model holds it.

    Args:
        kind: the model of the file.
        content: the bytes as they came.
        most: bytes beyond which nothing is read.
        what: what it should be, with its version, as the refusal names it.
        as_of_now: brings a file of an earlier version up to this one.

    Raises:
        InvalidInput: too large, no JSON, or not what the model describes; says where.
    """
    if len(content) > most:
        raise InvalidInput(f"The file is larger than {most / 1e6:.0f} MB, the most that is read.")
    try:
        return kind.model_validate_json(as_of_now(content))
    except ValidationError as exc:
        first = exc.errors()[0]
        where = "/".join(str(p) for p in first["loc"]) or "the file"
        raise InvalidInput(f"This is not {what}: at {where}, {first['msg']}.") from exc
