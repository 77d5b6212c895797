"""Plans over HTTP: as they are sent, and as they are shown with their bench."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, JsonValue, StrictBool, StrictInt

from racecard.api.schemas.base import In, Out
from racecard.core.model import (
    BORDER,
    HIDDEN,
    Agent,
    Carrier,
    Cell,
    Contrast,
    Override,
    Plan,
    Subject,
    Treatment,
)
from racecard.core.model.plan import Step
from racecard.core.plan.amend import AMENDABLE
from racecard.core.plan.arms import Factor
from racecard.core.plan.bench import Lock, sticking_order
from racecard.core.plan.codes import blind_codes
from racecard.core.plan.record import as_objects, from_record
from racecard.core.streams import is_short
from racecard.formats.derived import model_of, pair_model, stand_for_pair
from racecard.formats.seed import Seed

Number = Annotated[float, Field(strict=True)]
Text = Annotated[str, Field(max_length=2000)]


class StepPart(pair_model(Step, In)):  # type: ignore[misc]  # fields come from the core
    """One soak or dip before a unit goes in."""


stand_for_pair(StepPart, In)


class TreatmentIn(model_of(Treatment, In, "Fields", pairs=In)):  # type: ignore[misc]  # fields come from the core
    """One arm of a plan; `id` as it was told, "" for a new one."""

    model_config = ConfigDict(str_strip_whitespace=True)

    id: str = Field("", max_length=40)


class OverrideIn(model_of(Override, In, "Fields")):  # type: ignore[misc]  # fields come from the core
    """A warning that is overruled, with the reason."""


class ContrastIn(model_of(Contrast, In, "Fields")):  # type: ignore[misc]  # fields come from the core
    """Two groups of treatments that are to be compared."""


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


_PARTS: dict[type, type[BaseModel]] = {
    Treatment: TreatmentIn,
    Override: OverrideIn,
    Contrast: ContrastIn,
}


class PlanIn(model_of(Plan, In, "Fields", parts=_PARTS)):  # type: ignore[misc]  # fields come from the core
    """A plan as the page sends it."""

    model_config = ConfigDict(
        str_strip_whitespace=True, json_schema_extra={"example": _PLAN_EXAMPLE}
    )

    def to_core(self) -> Plan:
        plan = Plan(**from_record(Plan, self.model_dump()))
        said = tuple(
            replace(t, properties=tuple((n, v) for n, v in t.properties if v))
            for t in plan.treatments
        )
        return replace(plan, treatments=said)


class PlanChange(model_of(Plan, In, "Change", names=AMENDABLE, are_all_optional=True)):  # type: ignore[misc]  # fields come from the core
    """Fields of a frozen plan that an amendment may change; those left out stay."""

    def to_core(self) -> dict[str, object]:
        """The fields that were given."""
        given = {n: getattr(self, n) for n in self.model_fields_set}
        return from_record(Plan, {n: v for n, v in given.items() if v is not None})


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


class TreatmentOut(model_of(Treatment, Out, "Shown", are_all_given=True, pairs=In)):  # type: ignore[misc]  # fields come from the core
    """One arm of a plan; `prediction` is null while it is sealed."""

    @classmethod
    def from_core(cls, t: Treatment) -> "TreatmentOut":
        shown: TreatmentOut = cls.model_validate(as_objects(t))
        return shown


class OverrideOut(model_of(Override, Out, "Shown", are_all_given=True)):  # type: ignore[misc]  # fields come from the core
    """A warning that was overruled, with the reason."""


class ContrastShown(model_of(Contrast, Out, "Shown", are_all_given=True)):  # type: ignore[misc]  # fields come from the core
    """Two groups of treatments that are to be compared."""


_SHOWN: dict[type, type[BaseModel]] = {
    Treatment: TreatmentOut,
    Override: OverrideOut,
    Contrast: ContrastShown,
}


class PlanOut(model_of(Plan, Out, "Shown", are_all_given=True, parts=_SHOWN, pairs=In)):  # type: ignore[misc]  # fields come from the core
    """A plan."""

    @classmethod
    def from_core(cls, plan: Plan) -> "PlanOut":
        shown: PlanOut = cls.model_validate(as_objects(plan))
        return shown


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
