"""What a field of a plan may hold, said once beside it: API, trial file and store derive from it."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Most:
    """Longest text in characters, or most items of a list."""

    value: int


@dataclass(frozen=True, slots=True)
class Like:
    """A regular expression a text has to match."""

    pattern: str


@dataclass(frozen=True, slots=True)
class Named:
    """Names of the parts of a pair, where answers and files give it as an object called `title`."""

    title: str
    parts: tuple[str, ...]
    says: str


TEXT_LENGTH = 2000
"""Longest text where a field does not say otherwise."""
