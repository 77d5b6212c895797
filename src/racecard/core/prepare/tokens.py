"""The pieces a line is cut into."""

from dataclasses import dataclass, field
from enum import StrEnum

from racecard.core.quantities import Unit


class Kind(StrEnum):
    """What a token is."""

    NUMBER = "number"
    UNIT = "unit"
    ACTIVE = "active"
    AGENT = "agent"
    GRADE = "grade"
    WORD = "word"
    MARK = "mark"
    FILLER = "filler"
    UNKNOWN = "unknown"


@dataclass(slots=True)
class Token:
    """A piece of the line. `key`: what it stands for (a tag of a word, an active, a grade).

    `value`: of a number; `units`: what a unit may be; `slash`: the two numbers of a tight 1/8;
    `taken_as`: what it was used for, "" while it was not.
    """

    text: str
    start: int
    end: int
    kind: Kind
    key: str = ""
    value: float = 0.0
    units: tuple[Unit, ...] = ()
    slash: tuple[float, float] | None = None
    groups: tuple[float, ...] = ()
    taken_as: str = ""


@dataclass(slots=True)
class Lexed:
    """The tokens of a line, and the number signs in it that can be read in two ways."""

    text: str
    tokens: list[Token]
    open_signs: set[str] = field(default_factory=set)
