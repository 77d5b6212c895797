"""What is frozen at the start: treatments and plan."""

from dataclasses import dataclass
from typing import Annotated

from racecard.core.model.bounds import Like, Most, Named
from racecard.core.model.terms import (
    Agent,
    Carrier,
    Day0,
    Kind,
    Layout,
    Measure,
    Outcome,
    Role,
    Subject,
    UnitLevel,
)

Property = Annotated[
    tuple[str, str], Named("Property", ("name", "value"), "One thing said of a treatment.")
]
Step = Annotated[
    tuple[str, float],
    Named("StepPart", ("name", "minutes"), "One soak or dip before a unit goes in."),
]
Stock = Annotated[
    tuple[str, float],
    Named("Stock", ("key", "amount"), "How much of a thing to gather is at hand."),
]
SampleLift = Annotated[
    tuple[int, int],
    Named(
        "SampleLift",
        ("day", "units"),
        "A planned lift: on a day, so many units of each treatment, drawn at random.",
    ),
]
Job = Annotated[
    tuple[Annotated[str, Most(40)], int],
    Named(
        "Job",
        ("what", "day"),
        "Other work by day, by the code of its event: a cover taken off, potting on.",
    ),
]
Id = Annotated[str, Most(40)]
LongText = Annotated[str, Most(5000)]


@dataclass(frozen=True, slots=True)
class Treatment:
    """One arm: its name, its role, what is applied, and the silk it wears.

    `reference`: what the others are compared with, where it is not the untreated control.
    `properties`: what may differ between arms, as (name, value) in the order given. `units`:
    units of this arm where it has not the plan's number; `per_container`: plants in each of its
    containers, likewise. `prediction`: strike in percent that
    the grower expects, sealed until the finish. `per_stem`: cuttings one mother stem gives.
    `steps`: soaks and dips before it goes in, as (name, minutes) in their order;
    `steps_settled`: the grower has said so, and none is proposed from the words any more.
    `agent_id`: the agent of the register it draws from.
    """

    id: Id
    name: str
    role: Role
    detail: str = ""
    agent: Agent = Agent.NOTHING
    carrier: Carrier = Carrier.NONE
    silk: Annotated[str, Like(r"^[a-z]{1,20}$")] = "plain"
    reference: bool = False
    properties: Annotated[tuple[Property, ...], Most(40)] = ()
    units: int | None = None
    per_container: int | None = None
    prediction: float | None = None
    per_stem: float | None = None
    steps: Annotated[tuple[Step, ...], Most(20)] = ()
    agent_id: Id = ""
    steps_settled: bool = False


@dataclass(frozen=True, slots=True)
class Override:
    """A warning a grower overruled, by its code, with the reason; kept and shown."""

    code: Annotated[str, Like(r"^[a-z_]{1,40}$")]
    reason: str


@dataclass(frozen=True, slots=True)
class Contrast:
    """Two groups of treatments, by their names, that are to be compared as classes."""

    one: Annotated[tuple[str, ...], Most(50)]
    zero: Annotated[tuple[str, ...], Most(50)]


@dataclass(frozen=True, slots=True)
class Plan:
    """What a trial sets out to do. `units` is units per treatment; days are whole days.

    `measure` is the one primary endpoint, `secondary` the others. The smallest difference that matters is in
    points, days sooner or score, as the measure asks. `look_days`: the looks where they are not
    every `look_every_days`. `icc`: the intraclass correlation of plants in one container;
    `pair_correlation`: within a pair, both 0 to 1. `block_basis`: what is alike within a block. `sides`: what stands at the top, right, bottom and left of the bench. `plant_id`:
    the plant material of the register. `set_at`: when sticking or sowing is meant to begin, local
    time as 2026-05-03T09:30; `start_together`: all soaks begin at once, so that arms go in apart;
    `unit_seconds`: how long one unit takes to treat and set. `sample_lifts`: lifts on the way, as
    (day, units of each arm), drawn by lot. `jobs`: other work by day, as (code of the event, day). `rooted_score`: the lowest
    root score that counts as rooted, where a lift gives a score and no parts. `outcome`: what is watched
    for; `own_steps`: names of the steps from no change on, where the outcome is the grower's own. `contrasts`: groups of treatments that
    are to be compared as classes, declared before the start. `graded_by`: the measure that is compared where the trial is
    judged on quality, "" for the 0-5 root score; `usual_spread`: its standard deviation between
    plants treated alike, 0 for the usual share of its mean. `expected_score` and `gap_score` are in its unit.
    `also_counted`: stages that are counted in each container of many beside the endpoint, by their codes.
    """

    question: LongText
    material: LongText
    kind: Kind
    treatments: Annotated[tuple[Treatment, ...], Most(50)]
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
    time_zone: Annotated[str, Most(100)] = "UTC"
    day0: Day0 = Day0.STICKING
    subject: Subject = Subject.HORMONE
    measure: Measure = Measure.STRIKE
    secondary: Annotated[tuple[Measure, ...], Most(3)] = ()
    expect_level: bool = False
    gap_days: float = 4.0
    gap_score: float = 1.0
    expected_days: float = 24.0
    expected_score: float = 2.5
    look_days: Annotated[tuple[int, ...], Most(800)] = ()
    prior: LongText = ""
    level: UnitLevel = UnitLevel.PROPAGULE
    layout: Layout = Layout.BLOCKS
    block_basis: Annotated[str, Like("^(place|size|day|person|household)$")] = "place"
    icc: float = 0.10
    pair_correlation: float = 0.0
    unequal_reason: str = ""
    tray_rows: int = 8
    tray_names: Annotated[tuple[str, ...], Most(500)] = ()
    sides: tuple[str, str, str, str] = ("", "", "", "door")
    border: bool = False
    spare_cells: int = 0
    mother_plants: int = 1
    germination_percent: float = 85.0
    pot_ml: float = 0.0
    dip_ml: float = 0.0
    at_hand: Annotated[tuple[Stock, ...], Most(100)] = ()
    overrides: Annotated[tuple[Override, ...], Most(50)] = ()
    plant_id: Id = ""
    set_at: Id = ""
    start_together: bool = False
    unit_seconds: float = 20.0
    sample_lifts: Annotated[tuple[SampleLift, ...], Most(40)] = ()
    jobs: Annotated[tuple[Job, ...], Most(40)] = ()
    rooted_score: int = 2
    outcome: Outcome = Outcome.USUAL
    own_steps: Annotated[tuple[Annotated[str, Most(40)], ...], Most(6)] = ()
    contrasts: Annotated[tuple[Contrast, ...], Most(6)] = ()
    graded_by: Annotated[str, Like(r"^[a-z_]{0,20}$")] = ""
    usual_spread: float = 0.0
    also_counted: Annotated[tuple[int, ...], Most(4)] = ()

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

    def plants_in(self, arm: int) -> int:
        """Plants in each container of one treatment; of a spare or hidden one, the plan's number."""
        own = self.treatments[arm].per_container if 0 <= arm < len(self.treatments) else None
        return self.per_container if own is None else own

    @property
    def plants_of(self) -> tuple[int, ...]:
        """Plants in each container of each treatment."""
        return tuple(self.plants_in(arm) for arm in range(len(self.treatments)))

    @property
    def plants(self) -> int:
        """Plants of the whole trial."""
        return sum(u * n for u, n in zip(self.units_of, self.plants_of, strict=True))

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


PREPARATION = ("plant_id", "set_at", "start_together", "unit_seconds")
"""Fields of a plan that belong to its preparation: a resource of their own in the API and in files."""
PREPARATION_OF_ARM = ("steps", "agent_id", "steps_settled")
"""The same of a treatment."""
