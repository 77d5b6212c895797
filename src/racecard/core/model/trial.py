"""A trial as it stands: cells of the bench, units, histories, amendments."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache

from racecard.core.model.plan import Plan
from racecard.core.model.terms import Status

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

    struck_after: float | None = None
    struck_by: float | None = None
    lost_after: float | None = None
    lost_by: float | None = None
    cause: str | None = None
    removed_after: float | None = None
    last_look: float = 0
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
    are hidden (`log/veil.py`); then `seed` is 0. `repeats`: id of the trial whose plan it repeats.
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
    repeats: str = ""

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

    def plants_held(self, units: Sequence[Unit]) -> list[int]:
        """Plants in each of some units, by the treatment it holds."""
        return [self.plan.plants_in(u.cell.treatment) for u in units]

    @property
    def stuck(self) -> tuple[Unit, ...]:
        """The planted units that were really set: those a finish counts."""
        return tuple(u for u in self.planted if u.is_set)
