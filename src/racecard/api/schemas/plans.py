"""Plans over HTTP: as they are sent, and as they are shown with their bench."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import ConfigDict, Field, JsonValue, StrictBool, StrictInt

from racecard.api.schemas.base import In, Out
from racecard.core.model import (
    BORDER,
    HIDDEN,
    Agent,
    Carrier,
    Cell,
    Day0,
    Kind,
    Layout,
    Level,
    Measure,
    Override,
    Plan,
    Role,
    Subject,
    Treatment,
)
from racecard.core.plan.arms import Factor
from racecard.core.plan.bench import Lock, sticking_order
from racecard.core.plan.codes import blind_codes
from racecard.core.streams import is_short
from racecard.formats.seed import Seed

Number = Annotated[float, Field(strict=True)]
Text = Annotated[str, Field(max_length=2000)]


class Property(In):
    """One thing said of an arm."""

    name: Text
    value: Text


class Stock(In):
    """How much of a thing to gather is at hand."""

    key: Text
    amount: Number


class StepPart(In):
    """One soak or dip before a unit goes in."""

    name: Text
    minutes: Number


class TreatmentIn(In):
    """One arm of a plan; `id` as it was told, "" for a new one."""

    id: str = Field("", max_length=40)
    name: Text
    role: Role
    detail: Text = ""
    agent: Agent = Agent.NOTHING
    carrier: Carrier = Carrier.NONE
    silk: str = Field("plain", pattern=r"^[a-z]{1,20}$")
    reference: StrictBool = False
    properties: list[Property] = Field([], max_length=40)
    units: StrictInt | None = None
    prediction: Number | None = None
    per_stem: Number | None = None
    steps: list[StepPart] = Field([], max_length=20)
    agent_id: str = Field("", max_length=40)
    steps_settled: StrictBool = False

    def to_core(self) -> Treatment:
        return Treatment(
            self.id, self.name.strip(), self.role, self.detail.strip(), self.agent, self.carrier, self.silk,
            self.reference, tuple((p.name.strip(), p.value.strip()) for p in self.properties if p.value.strip()),
            self.units, self.prediction, self.per_stem,
            tuple((s.name.strip(), s.minutes) for s in self.steps), self.agent_id,
            self.steps_settled,
        )  # fmt: skip


class OverrideIn(In):
    """A warning that is overruled, with the reason."""

    code: str = Field(pattern=r"^[a-z_]{1,40}$")
    reason: Text


_PLAN_EXAMPLE: dict[str, JsonValue] = {
    "question": "Rosemary: does a talc with IBA earn its place?",
    "material": "semi-ripe tips of rosemary",
    "kind": "cutting",
    "treatments": [
        {"name": "Untreated", "role": "control", "silk": "plain"},
        {
            "name": "IBA talc 0.3 %",
            "role": "candidate",
            "agent": "hormone",
            "carrier": "talc",
            "silk": "hoops",
        },
    ],
    "units": 20,
    "blocks": 4,
    "endpoint": 6,
}


class SampleLift(In):
    """A lift on the way: on a day, so many units of each treatment, drawn by lot."""

    day: StrictInt
    units: StrictInt


class Job(In):
    """Other work by day, by the code of its event: a cover taken off, potting on."""

    what: str = Field(max_length=40)
    day: StrictInt


class PlanIn(In):
    """A plan as the page sends it."""

    model_config = ConfigDict(json_schema_extra={"example": _PLAN_EXAMPLE})

    question: str = Field(max_length=5000)
    material: str = Field(max_length=5000)
    kind: Kind
    treatments: list[TreatmentIn] = Field(max_length=50)
    units: StrictInt
    per_container: StrictInt = 1
    blocks: StrictInt = 1
    columns: StrictInt = 10
    endpoint: StrictInt = 6
    threshold_mm: Number = 10.0
    length_days: StrictInt = 42
    look_every_days: StrictInt = 3
    gap_points: Number = 20.0
    expected_percent: Number = 50.0
    blind: StrictBool = False
    count_singly: StrictBool = False
    time_zone: str = Field("UTC", max_length=100)
    day0: Day0 = Day0.STICKING
    subject: Subject = Subject.HORMONE
    measure: Measure = Measure.STRIKE
    secondary: list[Measure] = Field([], max_length=3)
    expect_level: StrictBool = False
    gap_days: Number = 4.0
    gap_score: Number = 1.0
    expected_days: Number = 24.0
    expected_score: Number = 2.5
    look_days: list[StrictInt] = Field([], max_length=800)
    prior: str = Field("", max_length=5000)
    level: Level = Level.PROPAGULE
    layout: Layout = Layout.BLOCKS
    alike_in: str = Field("place", pattern="^(place|size|day|person)$")
    likeness: Number = 0.10
    pair_likeness: Number = 0.0
    unequal_reason: Text = ""
    tray_rows: StrictInt = 8
    tray_names: list[Text] = Field([], max_length=500)
    sides: list[Text] = Field(["", "", "", "door"], min_length=4, max_length=4)
    border: StrictBool = False
    spare_cells: StrictInt = 0
    mother_plants: StrictInt = 1
    germination_percent: Number = 85.0
    pot_ml: Number = 0.0
    dip_ml: Number = 0.0
    at_hand: list[Stock] = Field([], max_length=100)
    overrides: list[OverrideIn] = Field([], max_length=50)
    plant_id: str = Field("", max_length=40)
    set_at: str = Field("", max_length=40)
    start_together: StrictBool = False
    unit_seconds: Number = 20.0
    sample_lifts: list[SampleLift] = Field([], max_length=40)
    jobs: list[Job] = Field([], max_length=40)
    rooted_score: StrictInt = 2

    def to_core(self) -> Plan:
        fields: dict[str, Any] = {n: _frozen(getattr(self, n)) for n in type(self).model_fields}
        fields["treatments"] = tuple(t.to_core() for t in self.treatments)
        fields["at_hand"] = tuple((s.key, s.amount) for s in self.at_hand)
        fields["sample_lifts"] = tuple((s.day, s.units) for s in self.sample_lifts)
        fields["jobs"] = tuple((j.what, j.day) for j in self.jobs)
        fields["overrides"] = tuple(Override(o.code, o.reason.strip()) for o in self.overrides)
        for name in ("question", "material", "prior", "unequal_reason"):
            fields[name] = fields[name].strip()
        return Plan(**fields)


class PlanChange(In):
    """Fields of a frozen plan that an amendment may change; those left out stay."""

    question: Text | None = None
    material: Text | None = None
    measure: Measure | None = None
    secondary: list[Measure] | None = Field(None, max_length=3)
    endpoint: StrictInt | None = None
    threshold_mm: Number | None = None
    length_days: StrictInt | None = None
    look_every_days: StrictInt | None = None
    look_days: list[StrictInt] | None = Field(None, max_length=800)
    gap_points: Number | None = None
    gap_days: Number | None = None
    gap_score: Number | None = None

    def to_core(self) -> dict[str, object]:
        """The fields that were given."""
        given = {n: getattr(self, n) for n in self.model_fields_set}
        return {n: _frozen(v) for n, v in given.items() if v is not None}


def _frozen(value: object) -> object:
    """Lists as tuples, all the way down."""
    return tuple(_frozen(v) for v in value) if isinstance(value, list | tuple) else value


class LockIn(In):
    """A cell that keeps its treatment when the rest is drawn."""

    tray: StrictInt = Field(ge=0)
    row: StrictInt = Field(ge=0)
    col: StrictInt = Field(ge=0)
    treatment: StrictInt = Field(ge=0)


class DraftIn(In):
    """A plan with the seed its bench is drawn from, and the cells that are locked."""

    model_config = ConfigDict(json_schema_extra={"example": {"plan": _PLAN_EXAMPLE, "seed": 4127}})

    plan: PlanIn
    seed: Seed
    revision: StrictInt | None = Field(None, ge=1)
    """Of the draft this was made from; a save over a newer one is refused."""
    locks: list[LockIn] = Field([], max_length=12_000)

    def core_locks(self) -> list[Lock]:
        """The locked cells."""
        return [Lock(k.tray, k.row, k.col, k.treatment) for k in self.locks]


class BeginIn(In):
    """What is compared and on which wood stage or crop."""

    subject: Subject
    stage: str = Field("", max_length=40)
    time_zone: str = Field("UTC", max_length=100)


class FactorIn(In):
    """One factor of a cross, its usual level first."""

    name: Text
    levels: list[Text] = Field(max_length=20)

    def to_core(self) -> Factor:
        return Factor(self.name.strip(), tuple(v.strip() for v in self.levels))


class CrossIn(In):
    """Every combination of the levels of two or three factors."""

    way: Literal["cross"]
    factors: list[FactorIn] = Field(max_length=5)


class LadderIn(In):
    """Rising doses or durations, with an untreated control and the carrier alone."""

    way: Literal["ladder"]
    thing: Text
    low: Number
    high: Number
    steps: StrictInt
    unit: str = Field(max_length=20)
    carrier: Carrier = Carrier.NONE
    agent: Agent = Agent.HORMONE
    even: StrictBool = False


class MixtureIn(In):
    """Mixtures of two things by parts."""

    way: Literal["mixture"]
    one: Text
    other: Text
    steps: StrictInt


ArmsIn = Annotated[CrossIn | LadderIn | MixtureIn, Field(discriminator="way")]


class TreatmentOut(Out):
    """One arm of a plan; `prediction` is null while it is sealed."""

    id: str
    name: str
    role: Role
    detail: str
    agent: Agent
    carrier: Carrier
    silk: str
    reference: bool
    properties: list[Property]
    units: int | None
    prediction: float | None
    per_stem: float | None
    steps: list[StepPart]
    agent_id: str
    steps_settled: bool

    @classmethod
    def from_core(cls, t: Treatment, *, show_prediction: bool = True) -> "TreatmentOut":
        fields = {name: getattr(t, name) for name in cls.model_fields}
        fields["properties"] = [Property(name=n, value=v) for n, v in t.properties]
        fields["steps"] = [StepPart(name=n, minutes=m) for n, m in t.steps]
        if not show_prediction:
            fields["prediction"] = None
        return cls(**fields)


class OverrideOut(Out):
    """A warning that was overruled, with the reason."""

    code: str
    reason: str


class PlanOut(Out):
    """A plan."""

    question: str
    material: str
    kind: Kind
    treatments: list[TreatmentOut]
    units: int
    per_container: int
    blocks: int
    columns: int
    endpoint: int
    threshold_mm: float
    length_days: int
    look_every_days: int
    gap_points: float
    expected_percent: float
    blind: bool
    count_singly: bool
    time_zone: str
    day0: Day0
    subject: Subject
    measure: Measure
    secondary: list[Measure]
    expect_level: bool
    gap_days: float
    gap_score: float
    expected_days: float
    expected_score: float
    look_days: list[int]
    prior: str
    level: Level
    layout: Layout
    alike_in: str
    likeness: float
    pair_likeness: float
    unequal_reason: str
    tray_rows: int
    tray_names: list[str]
    sides: list[str]
    border: bool
    spare_cells: int
    mother_plants: int
    germination_percent: float
    pot_ml: float
    dip_ml: float
    at_hand: list[Stock]
    overrides: list[OverrideOut]
    plant_id: str
    set_at: str
    start_together: bool
    unit_seconds: float
    sample_lifts: list[SampleLift]
    jobs: list[Job]
    rooted_score: int

    @classmethod
    def from_core(cls, plan: Plan, *, show_predictions: bool = True) -> "PlanOut":
        fields = {name: getattr(plan, name) for name in cls.model_fields}
        fields["treatments"] = [
            TreatmentOut.from_core(t, show_prediction=show_predictions) for t in plan.treatments
        ]
        fields["sides"] = list(plan.sides)
        fields["at_hand"] = [Stock(key=k, amount=a) for k, a in plan.at_hand]
        fields["sample_lifts"] = [SampleLift(day=d, units=n) for d, n in plan.sample_lifts]
        fields["jobs"] = [Job(what=w, day=d) for w, d in plan.jobs]
        fields["overrides"] = [OverrideOut(code=o.code, reason=o.reason) for o in plan.overrides]
        return cls(**fields)


@dataclass(frozen=True, slots=True)
class CellOut:
    """One cell of the bench; `treatment` is null for a spare cell and while the trial is sealed.

    `label`: the blind code; `turn`: when it is filled, counted from 1; both null for spares.
    """

    __pydantic_config__ = ConfigDict(
        extra="forbid"
    )  # a plain dataclass: of 10,000, models took half the time

    code: str
    tray: int
    row: int
    col: int
    block: int
    spare: bool
    border: bool
    locked: bool
    treatment: int | None
    label: str | None
    turn: int | None

    @classmethod
    def from_core(
        cls, cell: Cell, *, sealed: bool = False, label: str | None = None, turn: int | None = None
    ) -> "CellOut":
        spare = cell.treatment < 0
        return cls(
            code=cell.code, tray=cell.tray, row=cell.row, col=cell.col, block=cell.block,
            spare=spare, border=cell.treatment == BORDER, locked=cell.locked and not sealed,
            treatment=None if spare or sealed or cell.treatment == HIDDEN else cell.treatment,
            label=label, turn=turn,
        )  # fmt: skip


def cells_out(cells: Sequence[Cell], seed: int, *, sealed: bool = False) -> list[CellOut]:
    """The bench with its blind codes and its sticking order."""
    order = {i: turn + 1 for turn, i in enumerate(sticking_order(cells, seed))}
    codes = iter(blind_codes(len(order), seed))
    labels = {i: next(codes) for i, c in enumerate(cells) if c.treatment >= 0}
    return [
        CellOut.from_core(
            c, sealed=sealed, label=labels.get(i),
            turn=None if sealed and is_short(seed) else order.get(i),  # it would give the seed away
        )
        for i, c in enumerate(cells)
    ]  # fmt: skip
