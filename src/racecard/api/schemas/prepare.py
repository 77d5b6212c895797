"""Prepare over HTTP: the register, the clock, the order, labels, and what was really set."""

from dataclasses import asdict
from datetime import datetime
from typing import Literal

from pydantic import Field, StrictBool, StrictInt

from racecard.api.schemas.base import In, Out
from racecard.api.schemas.mixing import CautionLine, Fields, FlagOut, MadeOut, RecipeOut
from racecard.api.schemas.plans import Number, StepPart, Text
from racecard.core.model import Day0, Plan
from racecard.core.prepare.cards import Flag
from racecard.core.prepare.register import AgentLot, PlantLot
from racecard.formats.stamp import Stamp
from racecard.store.mixing import Recipe


class PlantIn(In):
    """Plant material of the register."""

    species: Text
    cultivar: Text = ""
    mother: Text = ""
    stage: Text = ""
    state: Text = ""
    lot: Text = ""
    year: StrictInt | None = None
    source: Text = ""
    storage: Text = ""
    germination_percent: Number | None = None
    tested_on: Text = ""

    def to_core(self, material_id: str = "") -> PlantLot:
        return PlantLot(id=material_id, **{n: getattr(self, n) for n in type(self).model_fields})


class AgentIn(In):
    """An agent of the register: its active ingredient, never a brand."""

    active: Text
    basis: Literal["", "acid", "salt"] = ""
    strength: Text = ""
    form: Text = "liquid"
    carrier: Text = ""
    batch: Text = ""
    made_on: Text = ""
    opened_on: Text = ""
    expires_on: Text = ""
    price: Number | None = None
    shipping: Number | None = None

    def to_core(self, material_id: str = "") -> AgentLot:
        return AgentLot(id=material_id, **{n: getattr(self, n) for n in type(self).model_fields})


class PlantOut(Out):
    """Plant material, how a plan names it, and what must be said of it today."""

    id: str
    species: str
    cultivar: str
    mother: str
    stage: str
    state: str
    lot: str
    year: int | None
    source: str
    storage: str
    germination_percent: float | None
    tested_on: str
    name: str
    words: str
    flags: list[FlagOut]

    @classmethod
    def from_core(cls, lot: PlantLot, flags: tuple[Flag, ...]) -> "PlantOut":
        return cls(**asdict(lot), name=lot.name, words=lot.words, flags=flags_out(flags))


class AgentOut(Out):
    """An agent, how it is named, and what must be said of it today."""

    id: str
    active: str
    basis: str
    strength: str
    form: str
    carrier: str
    batch: str
    made_on: str
    opened_on: str
    expires_on: str
    price: float | None
    shipping: float | None
    name: str
    flags: list[FlagOut]

    @classmethod
    def from_core(cls, lot: AgentLot, flags: tuple[Flag, ...]) -> "AgentOut":
        return cls(**asdict(lot), name=lot.name, flags=flags_out(flags))


class RegisterOut(Out):
    """The register, with what its fields may hold."""

    plants: list[PlantOut]
    agents: list[AgentOut]
    stages: dict[str, str]
    actives: dict[str, str]
    forms: list[str]


def flags_out(flags: tuple[Flag, ...]) -> list[FlagOut]:
    """Flags as they are sent."""
    return [FlagOut(code=f.code, gravity=f.gravity, says=f.says) for f in flags]


class ArmPrepared(In):
    """What one arm draws from, and its soaks and dips in order."""

    steps: list[StepPart] = Field([], max_length=20)
    steps_settled: StrictBool = False
    agent_id: str = Field("", max_length=40)


class PreparedIn(In):
    """What a draft draws from and how its clock runs."""

    plant_id: str = Field("", max_length=40)
    set_at: str = Field("", max_length=40)
    start_together: StrictBool = False
    day0: Day0
    unit_seconds: Number = 20.0
    arms: list[ArmPrepared] = Field(max_length=50)
    revision: StrictInt | None = Field(None, ge=1)


class ClockStepOut(Out):
    """One soak or dip: planned start and stop, and when it really ran."""

    key: str
    treatment: int
    name: str
    minutes: float
    start: datetime
    stop: datetime
    started_at: datetime | None
    stopped_at: datetime | None
    says: str


class ClockOut(Out):
    """The clock of a trial; `at` is the hour it is worked back from."""

    at: datetime
    is_planned: bool
    steps: list[ClockStepOut]
    goes_in: list[datetime]
    says: list[str]
    asks_day0: bool


class OrderOut(Out):
    """One line of the order of work."""

    key: str
    says: str
    why: str
    treatment: int | None


class SuggestedOut(Out):
    """A sum with the trial's figures filled in."""

    treatment: int | None
    key: str
    fields: Fields
    says: str


class ArmStepsOut(Out):
    """An arm's soaks and dips, those its words speak of and nobody has confirmed, and its agent."""

    steps: list[StepPart]
    proposed: list[StepPart]
    steps_settled: bool
    agent_id: str
    flags: list[FlagOut]


class ArmSetOut(Out):
    """Planned against really set, of one arm."""

    planned: int
    set: int
    late: int
    other: int
    whys: list[str]


class UnitSetOut(Out):
    """One unit at sticking or sowing; `treatment` is null while sealed."""

    id: str
    code: str
    place: str
    tray: int
    treatment: int | None
    is_set: bool
    late: int
    why: str
    lot: str
    size: str


class PrepareOut(Out):
    """Everything between the plan and the stuck tray."""

    revision: int
    plant_id: str
    plant_flags: list[FlagOut]
    arms: list[ArmStepsOut]
    set_at: str
    start_together: bool
    day0: Day0
    unit_seconds: float
    suggested: list[SuggestedOut]
    recipes: list[RecipeOut]
    clock: ClockOut
    order: list[OrderOut]
    cautions: list[CautionLine]
    set_by_arm: list[ArmSetOut]
    units: list[UnitSetOut]


class MarkIn(In):
    """A soak or dip started or stopped, or the last mark taken back; the id is the device's."""

    id: str = Field(min_length=8, max_length=64, pattern=r"^[A-Za-z0-9_-]+$")
    step: str = Field(pattern=r"^\d{1,3}-\d{1,3}$")
    what: Literal["start", "stop", "void"]
    at: Stamp


class SettingIn(In):
    """What was really done with one unit."""

    unit_id: str = Field(max_length=64)
    is_set: StrictBool = True
    set_at: Stamp | None = None
    why: Text = ""
    lot: Text = ""
    size: Text = ""


class SettingsIn(In):
    """A batch of what was really done."""

    items: list[SettingIn] = Field(min_length=1, max_length=5000)


class ArmSettingIn(In):
    """A whole arm or tray went in at a moment."""

    treatment: StrictInt | None = Field(None, ge=0)
    tray: StrictInt | None = Field(None, ge=0)
    set_at: Stamp


class SheetOut(Out):
    """A size of label sheet."""

    key: str
    name: str
    places: int


class LabelOut(Out):
    """One label as words."""

    code: str
    lines: list[str]
    link: str
    silk: str


class LabelsOut(Out):
    """The labels of a trial, and the sheets they can be printed on."""

    labels: list[LabelOut]
    sheets: list[SheetOut]


class PrintIn(In):
    """A job for the label printer."""

    trays: StrictBool = False
    copies: StrictInt = 1


class PrintedOut(Out):
    """A job as it came out of the simulated printer."""

    number: int
    asked: int
    labels: list[str]
    says: str
    left: int


class FoundUnit(Out):
    """The unit a label names."""

    trial_id: str
    unit_id: str | None
    started: bool


def recipe_out(r: Recipe, plan: Plan) -> RecipeOut:
    """A recipe as it is sent, with its treatment as it now stands and the answers it went by."""
    card = r.card
    names = [t.name for t in plan.treatments]
    answers = []
    for q in card["questions"]:
        taken = q["chosen"] or q["usual"]
        label = next((o["label"] for o in q["options"] if o["value"] == taken), taken)
        answers.append(f"{q['asks']} {label}")
    answers += [
        f"Own default: {k.removeprefix('default:').replace('_', ' ')} {v}"
        for k, v in r.choices.items()
        if k.startswith("default:")
    ]
    return RecipeOut(
        id=r.id, at=r.at.isoformat(), who=r.who, arm=r.arm,
        treatment=names.index(r.arm) if r.arm in names else None, key=r.key, title=card["title"],
        understood=card["understood"], amounts=[MadeOut(**m) for m in card["amounts"]], says=card["says"],
        flags=[FlagOut(**f) for f in card["flags"]], answers=answers,
        cautions=[CautionLine(**c) for c in card["cautions"]], override=r.override,
        fields=dict(r.fields), choices=dict(r.choices),
    )  # fmt: skip
