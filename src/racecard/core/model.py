"""The things of the job, as frozen dataclasses: plan, treatment, cell, look, history.

Words are those of the trade: a *propagule* is a cutting or a seed; a *unit* is the smallest thing
that was treated and placed on its own by lot (the container here: it may hold one propagule or
many); a *block* is a set of units alike in place, size, day or person.
"""

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum
from functools import lru_cache


class Kind(StrEnum):
    """What is propagated; decides the stage ladder."""

    CUTTING = "cutting"
    SEED = "seed"


class Subject(StrEnum):
    """What is compared; decides the template and what must be said of it."""

    HORMONE = "hormone"
    CUTTING_TYPE = "cutting type"
    SEED_TREATMENT = "seed treatment"
    CONDITION = "condition"
    MEDIUM = "medium"
    CONTAINER = "container"
    DIVISION = "division"
    GROWTH = "growth"


class Measure(StrEnum):
    """What a trial is judged on: how many strike, how soon, or how good the roots are."""

    STRIKE = "strike"
    SPEED = "speed"
    QUALITY = "quality"


class Level(StrEnum):
    """The thing that is treated and given its place by lot: the unit."""

    PROPAGULE = "propagule"
    CONTAINER = "container"
    TRAY = "tray"
    PLACE = "place"
    SITE = "site"


class Layout(StrEnum):
    """How the lot is drawn. In blocks of one it is drawn over all positions."""

    BLOCKS = "blocks"
    PAIRS = "pairs"
    SITES = "sites"
    ROW_COLUMN = "row and column"
    SPLIT = "split"
    BY_HAND = "by hand"


class Role(StrEnum):
    """What a treatment is in the trial. Carrier, positive and negative controls are checks."""

    CONTROL = "control"
    CARRIER = "carrier"
    POSITIVE = "positive"
    NEGATIVE = "negative"
    STANDARD = "standard"
    CANDIDATE = "candidate"


CHECKS = frozenset((Role.CARRIER, Role.POSITIVE, Role.NEGATIVE))
"""Roles that are compared with the reference as a check, outside the family of candidates."""


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
    """One arm: its name, its role, what is applied, and the silk it wears.

    `reference`: what the others are compared with, where it is not the untreated control.
    `properties`: what may differ between arms, as (name, value) in the order given. `units`:
    units of this arm where it has not the plan's number. `prediction`: strike in percent that
    the grower expects, sealed until the finish. `per_stem`: cuttings one mother stem gives.
    `steps`: soaks and dips before it goes in, as (name, minutes) in their order;
    `steps_settled`: the grower has said so, and none is proposed from the words any more.
    `agent_id`: the agent of the register it draws from.
    """

    id: str
    name: str
    role: Role
    detail: str = ""
    agent: Agent = Agent.NOTHING
    carrier: Carrier = Carrier.NONE
    silk: str = "plain"
    reference: bool = False
    properties: tuple[tuple[str, str], ...] = ()
    units: int | None = None
    prediction: float | None = None
    per_stem: float | None = None
    steps: tuple[tuple[str, float], ...] = ()
    agent_id: str = ""
    steps_settled: bool = False


@dataclass(frozen=True, slots=True)
class Override:
    """A warning a grower overruled, by its code, with the reason; kept and shown."""

    code: str
    reason: str


@dataclass(frozen=True, slots=True)
class Plan:
    """What a trial sets out to do. `units` is units per treatment; days are whole days.

    `measure` is the one primary endpoint, `secondary` the others. The smallest difference that matters is in
    points, days sooner or score, as the measure asks. `look_days`: the looks where they are not
    every `look_every_days`. `likeness`: of plants in one container; `pair_likeness`: within a
    pair, 0 to 1. `sides`: what stands at the top, right, bottom and left of the bench. `plant_id`:
    the plant material of the register. `set_at`: when sticking or sowing is meant to begin, local
    time as 2026-05-03T09:30; `start_together`: all soaks begin at once, so that arms go in apart;
    `unit_seconds`: how long one unit takes to treat and set. `sample_lifts`: lifts on the way, as
    (day, units of each arm), drawn by lot. `jobs`: other work by day, as (code of the event, day). `rooted_score`: the lowest
    root score that counts as rooted, where a lift gives a score and no parts.
    """

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
    subject: Subject = Subject.HORMONE
    measure: Measure = Measure.STRIKE
    secondary: tuple[Measure, ...] = ()
    expect_level: bool = False
    gap_days: float = 4.0
    gap_score: float = 1.0
    expected_days: float = 24.0
    expected_score: float = 2.5
    look_days: tuple[int, ...] = ()
    prior: str = ""
    level: Level = Level.PROPAGULE
    layout: Layout = Layout.BLOCKS
    alike_in: str = "place"
    likeness: float = 0.10
    pair_likeness: float = 0.0
    unequal_reason: str = ""
    tray_rows: int = 8
    tray_names: tuple[str, ...] = ()
    sides: tuple[str, str, str, str] = ("", "", "", "door")
    border: bool = False
    spare_cells: int = 0
    mother_plants: int = 1
    germination_percent: float = 85.0
    pot_ml: float = 0.0
    dip_ml: float = 0.0
    at_hand: tuple[tuple[str, float], ...] = ()
    overrides: tuple[Override, ...] = ()
    plant_id: str = ""
    set_at: str = ""
    start_together: bool = False
    unit_seconds: float = 20.0
    sample_lifts: tuple[tuple[int, int], ...] = ()
    jobs: tuple[tuple[str, int], ...] = ()
    rooted_score: int = 2

    @property
    def reference(self) -> int | None:
        """Index of what the others are compared with: the one named, else the untreated control.

        A trial of cutting types has no untreated control; there the standard stands for it.
        """
        for rank in (0, 1, 2):
            for i, t in enumerate(self.treatments):
                if self._reference_rank(t) == rank:
                    return i
        return None

    def _reference_rank(self, t: Treatment) -> int | None:
        if t.reference:
            return 0
        if t.role is Role.CONTROL:
            return 1
        is_usual = self.subject is Subject.CUTTING_TYPE and t.role is Role.STANDARD
        return 2 if is_usual else None

    @property
    def control(self) -> Treatment | None:
        """The reference treatment, or None while the plan has none."""
        return None if self.reference is None else self.treatments[self.reference]

    @property
    def candidates(self) -> tuple[Treatment, ...]:
        """The treatments whose comparison with the reference is the primary question."""
        return tuple(self.treatments[i] for i in self.family)

    @property
    def family(self) -> tuple[int, ...]:
        """Indices of the candidates and the standard, the reference left out."""
        return tuple(
            i
            for i, t in enumerate(self.treatments)
            if t.role in (Role.CANDIDATE, Role.STANDARD) and i != self.reference
        )

    @property
    def units_of(self) -> tuple[int, ...]:
        """Units of each treatment."""
        return tuple(self.units if t.units is None else t.units for t in self.treatments)

    @property
    def is_paired(self) -> bool:
        """Whether each unit stands beside one of every other treatment, and nothing else."""
        return self.layout in (Layout.PAIRS, Layout.SITES)

    @property
    def drawn_blocks(self) -> int:
        """Blocks the lot is drawn in: one a pair or site, one where nothing was drawn."""
        if self.is_paired:
            return self.units
        return 1 if self.layout is Layout.BY_HAND else self.blocks


SPARE = -1
BORDER = -2
HIDDEN = 1_000_000
"""The treatment of a planted cell of a sealed trial: no index, so that naming it fails."""


@dataclass(frozen=True, slots=True)
class Cell:
    """One place on the bench. `treatment` is an index into the plan's treatments.

    Trays, rows and columns count from 0; blocks count from 0; a spare cell has treatment -1, a
    border cell, kept for plants outside the trial, -2. A locked cell was not dealt: it kept its
    treatment when the rest was drawn.
    """

    tray: int
    row: int
    col: int
    block: int
    treatment: int
    locked: bool = False

    @property
    def code(self) -> str:
        """What is written on the label: tray (from the second on), row letter, column number."""
        return _code(self.tray, self.row, self.col)


@lru_cache(maxsize=50_000)
def _code(tray: int, row: int, col: int) -> str:
    named = "" if tray == 0 else f"{tray + 1}-"
    return f"{named}{row_letters(row)}{col + 1}"


def row_letters(row: int) -> str:
    """Row 0 is A, 25 is Z, 26 is AA."""
    letters = ""
    row += 1
    while row:
        row, rest = divmod(row - 1, 26)
        letters = chr(65 + rest) + letters
    return letters


@dataclass(frozen=True, slots=True)
class History:
    """One propagule's story for one endpoint, in days; None where a thing never happened.

    Struck in (`struck_after`, `struck_by`]; lost in (`lost_after`, `lost_by`]; removed before it
    was struck or lost, and last looked at on `removed_after`; `last_look` is the last day it was
    seen. `went_back`: seen at the endpoint, later below it. `at_start`: already at the endpoint when
    it was set, so that it can say nothing of the treatment.
    """

    struck_after: int | None = None
    struck_by: int | None = None
    lost_after: int | None = None
    lost_by: int | None = None
    cause: str | None = None
    removed_after: int | None = None
    last_look: int = 0
    went_back: bool = False
    at_start: bool = False


@dataclass(frozen=True, slots=True)
class Unit:
    """A container standing in its cell.

    `is_set`: really stuck or sown; `late`: days after the trial's day 0 that it was, its own day 0;
    `lot`, `size`: what was used instead of what was planned, "" where nothing was.
    """

    id: str
    cell: Cell
    is_set: bool = True
    late: int = 0
    why: str = ""
    lot: str = ""
    size: str = ""


@dataclass(frozen=True, slots=True)
class Amendment:
    """A change to a frozen plan, in words, with its reason; `field` is empty for a free note."""

    at: datetime
    who: str
    field: str
    before: str
    after: str
    reason: str


@dataclass(frozen=True, slots=True)
class Drawn:
    """What was drawn from the treatments of a sealed trial, and may be told while they are hidden.

    `key`: what orders and blind codes are drawn from; `lifts`: ids lifted on the way, by day;
    `second`: ids of the units a second scorer scores.
    """

    key: int
    lifts: tuple[tuple[int, tuple[str, ...]], ...]
    second: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Trial:
    """A plan with its drawn bench and its moments. Spare cells are among `units`.

    `drawn_at`: when the bench, and with it the plan, was last written; `frozen_at`: when the start was
    entered. None where a file does not say; then it was created when `created_at` says. `revision`:
    grows with every change of the plan or of what it is made from. `drawn`: set where the treatments
    are hidden (`log/veil.py`); then `seed` is 0.
    """

    id: str
    plan: Plan
    status: Status
    seed: int
    units: tuple[Unit, ...]
    created_at: datetime
    started_at: datetime | None = None
    unsealed_at: datetime | None = None
    invented: bool = False
    fingerprint: str = ""
    amendments: tuple[Amendment, ...] = ()
    drawn_at: datetime | None = None
    frozen_at: datetime | None = None
    revision: int = 1
    drawn: Drawn | None = None

    @property
    def key(self) -> int:
        """What orders and blind codes are drawn from: the seed, also where it is hidden."""
        return self.seed if self.drawn is None else self.drawn.key

    @property
    def planned_at(self) -> datetime:
        """When the plan, its bench and its predictions were last written before the start."""
        return self.drawn_at or self.created_at

    @property
    def is_sealed(self) -> bool:
        """Scored blind, started, and not yet unsealed: no treatment may be shown."""
        return self.plan.blind and self.status is Status.STARTED and self.unsealed_at is None

    @property
    def planted(self) -> tuple[Unit, ...]:
        """The units that hold a treatment by the plan, spares left out."""
        return tuple(u for u in self.units if u.cell.treatment >= 0)

    @property
    def stuck(self) -> tuple[Unit, ...]:
        """The planted units that were really set: those a finish counts."""
        return tuple(u for u in self.planted if u.is_set)
