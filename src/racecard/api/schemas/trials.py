"""Plans and trials over HTTP."""

from datetime import date, datetime
from typing import Annotated

from pydantic import AwareDatetime, ConfigDict, Field, JsonValue, StrictBool, StrictInt

from racecard.api.schemas.base import In, Out
from racecard.core.finish.stewards import Note
from racecard.core.log.course import Dot, DotState
from racecard.core.model import (
    Agent,
    Carrier,
    Cell,
    Day0,
    Kind,
    Plan,
    Role,
    Status,
    Treatment,
    Trial,
)
from racecard.core.plan.check import Fault
from racecard.core.plan.power import PlanPower, says
from racecard.core.prepare.cautions import cautions_for

Number = Annotated[float, Field(strict=True)]


class TreatmentIn(In):
    """One arm of a plan."""

    name: str = Field(max_length=2000)
    role: Role
    detail: str = Field("", max_length=2000)
    agent: Agent = Agent.NOTHING
    carrier: Carrier = Carrier.NONE
    silk: str = Field("plain", pattern=r"^[a-z]{1,20}$")

    def to_core(self) -> Treatment:
        return Treatment(
            "",
            self.name.strip(),
            self.role,
            self.detail.strip(),
            self.agent,
            self.carrier,
            self.silk,
        )


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
    door: str = Field("left", pattern="^(left|right|top|bottom)$")

    def to_core(self) -> Plan:
        fields = {name: getattr(self, name) for name in type(self).model_fields}
        fields["treatments"] = tuple(t.to_core() for t in self.treatments)
        fields["question"] = self.question.strip()
        fields["material"] = self.material.strip()
        return Plan(**fields)


class DraftIn(In):
    """A plan with the seed its bench is drawn from."""

    model_config = ConfigDict(json_schema_extra={"example": {"plan": _PLAN_EXAMPLE, "seed": 4127}})

    plan: PlanIn
    seed: StrictInt = Field(ge=0, le=2**31 - 1)


class StartIn(In):
    """When it was stuck or sown; now where not said."""

    model_config = ConfigDict(json_schema_extra={"example": {"at": "2026-05-03T09:30:00+01:00"}})

    at: AwareDatetime | None = None


class TreatmentOut(Out):
    """One arm of a plan."""

    name: str
    role: Role
    detail: str
    agent: Agent
    carrier: Carrier
    silk: str


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
    door: str

    @classmethod
    def from_core(cls, plan: Plan) -> "PlanOut":
        fields = {name: getattr(plan, name) for name in cls.model_fields}
        fields["treatments"] = [
            TreatmentOut(**{n: getattr(t, n) for n in TreatmentOut.model_fields})
            for t in plan.treatments
        ]
        return cls(**fields)


class CellOut(Out):
    """One cell of the bench; `treatment` is null for a spare cell and while the trial is sealed."""

    code: str
    tray: int
    row: int
    col: int
    block: int
    spare: bool
    treatment: int | None

    @classmethod
    def from_core(cls, cell: Cell, *, sealed: bool = False) -> "CellOut":
        spare = cell.treatment < 0
        hidden = spare or sealed
        return cls(
            code=cell.code, tray=cell.tray, row=cell.row, col=cell.col, block=cell.block,
            spare=spare, treatment=None if hidden else cell.treatment,
        )  # fmt: skip


class DotOut(Out):
    """One look on the course line."""

    day: int
    state: DotState

    @classmethod
    def from_core(cls, dot: Dot) -> "DotOut":
        return cls(day=dot.day, state=dot.state)


class TrialOut(Out):
    """A trial; the seed is null while it is sealed, since the bench could be drawn from it."""

    id: str
    status: Status
    plan: PlanOut
    seed: int | None
    sealed: bool
    invented: bool
    created_at: datetime
    started_at: datetime | None
    started_on: date | None
    unsealed_at: datetime | None
    today: int | None
    endpoint_says: str
    course: list[DotOut]
    bench: list[CellOut]

    @classmethod
    def from_core(
        cls,
        trial: Trial,
        today: int | None,
        started_on: date | None,
        dots: tuple[Dot, ...],
        endpoint: str,
    ) -> "TrialOut":
        sealed = trial.is_sealed
        return cls(
            id=trial.id, status=trial.status, plan=PlanOut.from_core(trial.plan),
            seed=None if sealed else trial.seed, sealed=sealed, invented=trial.invented,
            created_at=trial.created_at, started_at=trial.started_at, started_on=started_on,
            unsealed_at=trial.unsealed_at, today=today, endpoint_says=endpoint,
            course=[DotOut.from_core(d) for d in dots],
            bench=[CellOut.from_core(u.cell, sealed=sealed) for u in trial.units],
        )  # fmt: skip


class TrialLine(Out):
    """A trial in a list: what it asks, where it stands, and what is due."""

    id: str
    question: str
    material: str
    status: Status
    sealed: bool
    invented: bool
    treatments: int
    units: int
    today: int | None
    length_days: int
    due_day: int | None
    next_day: int | None
    missed: int
    looks_made: int
    finished: bool
    says: str


class FaultOut(Out):
    """A broken rule of a plan."""

    pointer: str
    says: str

    @classmethod
    def from_core(cls, fault: Fault) -> "FaultOut":
        return cls(pointer=fault.pointer, says=fault.says)


class NoteOut(Out):
    """A steward's note."""

    code: str
    says: str
    do: str

    @classmethod
    def from_core(cls, note: Note) -> "NoteOut":
        return cls(code=note.code, says=note.says, do=note.do)


class PowerPoint(Out):
    """Chance of a clear call at a true gap in points."""

    gap: int
    chance: float


class GatherOut(Out):
    """A thing to gather and how much of it."""

    thing: str
    amount: str


def _points(power: PlanPower | None) -> list[PowerPoint]:
    return [PowerPoint(gap=g, chance=c) for g, c in power.curve] if power else []


class PowerOut(Out):
    """What the plan can show; shares and chances are fractions, gaps are points."""

    says: str
    curve: list[PowerPoint]
    curve_half: list[PowerPoint]
    curve_double: list[PowerPoint]
    units: int
    family: int
    detectable: float | None
    at_full: float
    at_gap: float
    floor: float
    effective: int | None
    as_unblocked: bool

    @classmethod
    def from_core(
        cls, plan: Plan, power: PlanPower, half: PlanPower | None, double: PlanPower | None
    ) -> "PowerOut":
        return cls(
            says=says(plan, power), curve=_points(power), curve_half=_points(half), curve_double=_points(double),
            units=power.units, family=power.family, detectable=power.detectable,
            at_full=power.at_full, at_gap=power.at_gap, floor=power.floor,
            effective=power.effective, as_unblocked=power.as_unblocked,
        )  # fmt: skip


class CautionOut(Out):
    """A caution beside a treatment, by its index."""

    treatment: int
    code: str
    says: str


def cautions_out(plan: Plan) -> list[CautionOut]:
    """Every caution of a plan, treatment by treatment."""
    return [
        CautionOut(treatment=i, code=c.code, says=c.says)
        for i, t in enumerate(plan.treatments)
        for c in cautions_for(t)
    ]


class ConsequencesOut(Out):
    """What follows from a plan as it stands on the page."""

    faults: list[FaultOut]
    notes: list[NoteOut]
    cautions: list[CautionOut]
    power: PowerOut | None
    bench: list[CellOut]
    gather: list[GatherOut]
    look_days: list[int]
