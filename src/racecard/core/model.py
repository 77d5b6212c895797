"""The things of the job, as frozen dataclasses: plan, treatment, cell, look, history.

Words are those of the trade: a *propagule* is a cutting or a seed; a *unit* is the smallest thing
that was treated and placed on its own by lot (the container here: it may hold one propagule or
many); a *block* is a set of units alike in place, size, day or person.
"""

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum


class Kind(StrEnum):
    """What is propagated; decides the stage ladder."""

    CUTTING = "cutting"
    SEED = "seed"


class Role(StrEnum):
    """What a treatment is in the trial; exactly one is the untreated control."""

    CONTROL = "control"
    CARRIER = "carrier"
    STANDARD = "standard"
    CANDIDATE = "candidate"


class Agent(StrEnum):
    """What class of agent a treatment applies; decides the cautions."""

    NOTHING = "nothing"
    HORMONE = "hormone"
    OTHER = "other"


class Carrier(StrEnum):
    """What the agent is carried in."""

    NONE = "none"
    ALCOHOL = "alcohol"
    WATER = "water"
    TALC = "talc"
    GEL = "gel"


class Day0(StrEnum):
    """The day-zero convention of a trial."""

    STICKING = "sticking"
    SOWING = "sowing"
    WETTING = "first wetting"


class Status(StrEnum):
    """Where a trial stands: a draft plan, or started (and from then on frozen)."""

    DRAFT = "draft"
    STARTED = "started"


@dataclass(frozen=True, slots=True)
class Treatment:
    """One arm: its name, its role, what is applied, and the silk it wears."""

    id: str
    name: str
    role: Role
    detail: str = ""
    agent: Agent = Agent.NOTHING
    carrier: Carrier = Carrier.NONE
    silk: str = "plain"


@dataclass(frozen=True, slots=True)
class Plan:
    """What a trial sets out to do. `units` is containers per treatment; days are whole days."""

    question: str
    material: str
    kind: Kind
    treatments: tuple[Treatment, ...]
    units: int
    per_container: int = 1
    blocks: int = 1
    columns: int = 10
    endpoint: int = 6
    threshold_mm: float = 10.0
    length_days: int = 42
    look_every_days: int = 3
    gap_points: float = 20.0
    expected_percent: float = 50.0
    blind: bool = False
    count_singly: bool = False
    time_zone: str = "UTC"
    day0: Day0 = Day0.STICKING
    door: str = "left"

    @property
    def control(self) -> Treatment | None:
        """The untreated control, or None while the plan has none."""
        return next((t for t in self.treatments if t.role is Role.CONTROL), None)

    @property
    def candidates(self) -> tuple[Treatment, ...]:
        """The treatments whose comparison with the control is the primary question."""
        return tuple(t for t in self.treatments if t.role in (Role.CANDIDATE, Role.STANDARD))


@dataclass(frozen=True, slots=True)
class Cell:
    """One place on the bench. `treatment` is an index into the plan's treatments.

    Trays, rows and columns count from 0; blocks count from 0; a spare cell has treatment -1.
    """

    tray: int
    row: int
    col: int
    block: int
    treatment: int

    @property
    def code(self) -> str:
        """What is written on the label: tray (from the second on), row letter, column number."""
        tray = "" if self.tray == 0 else f"{self.tray + 1}-"
        return f"{tray}{row_letters(self.row)}{self.col + 1}"


def row_letters(row: int) -> str:
    """Row 0 is A, 25 is Z, 26 is AA."""
    letters = ""
    row += 1
    while row:
        row, rest = divmod(row - 1, 26)
        letters = chr(65 + rest) + letters
    return letters


@dataclass(frozen=True, slots=True)
class Look:
    """What one visit saw of a single propagule. `day` counts from day 0.

    `stage` is a code of the ladder (None: not said); `loss` a cause; `removed`: taken out on
    purpose at this look; `wilted` and `shoot` are flags beside the stage.
    """

    day: int
    stage: int | None = None
    wilted: bool = False
    shoot: bool = False
    loss: str | None = None
    removed: bool = False


@dataclass(frozen=True, slots=True)
class Count:
    """What one visit counted in a container of many; every number is cumulative.

    `struck`: ever seen at the endpoint; `lost`: lost before reaching it; `lost_struck`: reached
    it and lost since; `removed`: taken out on purpose before reaching it.
    """

    day: int
    struck: int
    lost: int = 0
    lost_struck: int = 0
    removed: int = 0
    cause: str | None = None


@dataclass(frozen=True, slots=True)
class History:
    """One propagule's story for one endpoint, in days; None where a thing never happened.

    Struck in (`struck_after`, `struck_by`]; lost in (`lost_after`, `lost_by`]; removed before it
    was struck or lost, and last looked at on `removed_after`; `last_look` is the last day it was
    seen. `went_back`: seen at the endpoint, later below it.
    """

    struck_after: int | None = None
    struck_by: int | None = None
    lost_after: int | None = None
    lost_by: int | None = None
    cause: str | None = None
    removed_after: int | None = None
    last_look: int = 0
    went_back: bool = False


@dataclass(frozen=True, slots=True)
class UnitLog:
    """What was logged for one unit: looks of a single propagule, or counts of many, and a score."""

    looks: tuple[Look, ...] = ()
    counts: tuple[Count, ...] = ()
    score: int | None = None


@dataclass(frozen=True, slots=True)
class Unit:
    """A container standing in its cell."""

    id: str
    cell: Cell


@dataclass(frozen=True, slots=True)
class Trial:
    """A plan with its drawn bench and its moments. Spare cells are among `units`."""

    id: str
    plan: Plan
    status: Status
    seed: int
    units: tuple[Unit, ...]
    created_at: datetime
    started_at: datetime | None = None
    unsealed_at: datetime | None = None
    invented: bool = False

    @property
    def is_sealed(self) -> bool:
        """Scored blind, started, and not yet unsealed: no treatment may be shown."""
        return self.plan.blind and self.status is Status.STARTED and self.unsealed_at is None

    @property
    def planted(self) -> tuple[Unit, ...]:
        """The units that hold a treatment, spares left out."""
        return tuple(u for u in self.units if u.cell.treatment >= 0)


@dataclass(frozen=True, slots=True)
class Observation:
    """One row of the log as it was sent; `corrects` names the row it stands in for."""

    id: str
    unit_id: str
    kind: str
    day: int
    seen_at: datetime
    who: str
    corrects: str | None = None
    stage: int | None = None
    wilted: bool = False
    shoot: bool = False
    loss: str | None = None
    removed: int = 0
    struck: int | None = None
    lost: int | None = None
    lost_struck: int | None = None
    score: int | None = None
