"""One thing a finish says: where it stands, what it is, and its sentence."""

from dataclasses import dataclass
from enum import StrEnum


class Section(StrEnum):
    """Where a statement stands; a finish lists them in this order."""

    ASKED = "asked"
    VERDICT = "verdict"
    AGENT = "agent"
    CROSS = "cross"
    DOSES = "doses"
    RUNS = "runs"
    LEVEL = "level"
    SECONDARY = "secondary"
    MISSING = "missing"
    NEXT = "next"
    RUNNING = "running"
    GROWTH = "growth"
    LIMITS = "limits"


@dataclass(frozen=True, slots=True)
class Statement:
    """A stable code and its sentence; `about`: the treatment it is on, where it is on one."""

    section: Section
    code: str
    text: str
    about: int | None = None


ORDER = {section: i for i, section in enumerate(Section)}
