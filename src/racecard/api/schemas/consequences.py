"""What follows from a plan as it is typed, and what stands beside plans."""

from typing import Annotated

from pydantic import Field, JsonValue, StrictInt

from racecard.api.schemas.base import In, Out
from racecard.api.schemas.plans import CellOut, cells_out
from racecard.core.assess.base_rates import BaseRate
from racecard.core.log.days import planned_looks
from racecard.core.model import Measure, Plan, Subject, Trial
from racecard.core.model.differences import in_use, pairs
from racecard.core.notes import notes_on_plan
from racecard.core.notes.of_plan import STARTS_OVER_A_REASON
from racecard.core.notes.registry import Note
from racecard.core.plan.check import Fault
from racecard.core.plan.compare import Difference
from racecard.core.plan.consequences import Considered
from racecard.core.plan.materials_needed import Item, amount_says, shortfall_says, to_gather
from racecard.core.plan.power import PlanPower
from racecard.core.plan.power_words import level_says, needs_says, says
from racecard.core.plan.suggestions import Offer, hints, offers, unit_says
from racecard.core.plan.templates import STAGES, Template, UsualCourse, examples
from racecard.core.prepare.cautions import cautions_for


class FaultOut(Out):
    """A broken rule of a plan."""

    pointer: str
    says: str

    @classmethod
    def from_core(cls, fault: Fault) -> "FaultOut":
        return cls(pointer=fault.pointer, says=fault.says)


class NoteOut(Out):
    """A steward's note; `may_be_overruled`: a start over it needs a reason."""

    code: str
    title: str
    message: str
    advice: str
    may_be_overruled: bool

    @classmethod
    def from_core(cls, note: Note) -> "NoteOut":
        return cls(
            code=note.code, title=note.title, message=note.message, advice=note.advice,
            may_be_overruled=note.code in STARTS_OVER_A_REASON,
        )  # fmt: skip


class PowerPoint(Out):
    """Chance of a clear call at a true gap, in the unit of the measure."""

    gap: float
    chance: float


class GatherOut(Out):
    """A thing to gather: how much as words, what is there, and how much is short."""

    key: str
    thing: str
    amount: str
    unit: str
    at_hand: float | None
    short: float

    @classmethod
    def from_core(cls, item: Item) -> "GatherOut":
        return cls(
            key=item.key, thing=item.thing, amount=amount_says(item), unit=item.unit,
            at_hand=item.at_hand, short=item.short,
        )  # fmt: skip


Curve = tuple[tuple[float, float], ...]


def _points(curve: Curve | None) -> list[PowerPoint]:
    return [PowerPoint(gap=g, chance=c) for g, c in curve or ()]


class PowerOut(Out):
    """What the plan can show; chances are fractions, gaps in the unit of the measure."""

    says: str
    needs: str
    level: str
    curve: list[PowerPoint]
    curve_half: list[PowerPoint]
    curve_double: list[PowerPoint]
    units: int
    family: int
    measure: Measure
    detectable: float | None
    at_full: float
    at_gap: float
    minimum_p: float
    minimum_p_holm: float
    decidable: bool
    needed: int | None
    is_exact: bool

    @classmethod
    def from_core(
        cls, plan: Plan, power: PlanPower, half: Curve | None, double: Curve | None
    ) -> "PowerOut":
        return cls(
            says=says(plan, power), needs=needs_says(plan, power),
            level=level_says(plan, power.level) if power.level else "",
            curve=_points(power.curve), curve_half=_points(half), curve_double=_points(double),
            units=power.units, family=power.family, measure=power.measure,
            detectable=power.detectable, at_full=power.at_full, at_gap=power.at_gap,
            minimum_p=power.minimum_p, minimum_p_holm=power.minimum_p_holm, decidable=power.is_decidable,
            needed=power.needed, is_exact=power.is_exact,
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


class OfferOut(Out):
    """A change one click makes: why, what it is called, and the new fields of the plan."""

    code: str
    says: str
    label: str
    change: dict[str, JsonValue]

    @classmethod
    def from_core(cls, offer: Offer) -> "OfferOut":
        return cls(code=offer.code, says=offer.says, label=offer.label, change=offer.change)


class PairOut(Out):
    """Two arms, by index, and the things in which they differ: one, and they can be compared."""

    one: int
    other: int
    differ: list[str]


class ConsequencesOut(Out):
    """What follows from a plan as it stands on the page.

    `whole`: no rule but those of texts is broken, so that notes and power were reckoned.
    """

    whole: bool
    faults: list[FaultOut]
    hints: list[str]
    unit_says: str
    offers: list[OfferOut]
    pairs: list[PairOut]
    properties: list[str]
    reference: int | None
    notes: list[NoteOut]
    cautions: list[CautionOut]
    power: PowerOut | None
    bench: list[CellOut]
    gather: list[GatherOut]
    shortfall: str
    look_days: list[int]

    @classmethod
    def from_core(
        cls, plan: Plan, found: Considered, power: PowerOut | None, seed: int
    ) -> "ConsequencesOut":
        whole, bench = found.is_whole, found.bench
        items = to_gather(plan, bench) if whole else ()
        return cls(
            whole=whole,
            faults=[FaultOut.from_core(f) for f in found.faults],
            hints=list(hints(plan)) if whole else [],
            unit_says=unit_says(plan),
            offers=[OfferOut.from_core(o) for o in offers(plan)] if whole else [],
            pairs=[PairOut(one=p.one, other=p.other, differ=list(p.differ)) for p in pairs(plan)],
            properties=list(in_use(plan.treatments)),
            reference=plan.reference,
            notes=[NoteOut.from_core(n) for n in notes_on_plan(plan, bench)] if whole else [],
            cautions=cautions_out(plan),
            power=power,
            bench=cells_out(bench, seed),
            gather=[GatherOut.from_core(i) for i in items],
            shortfall=shortfall_says(plan, items),
            look_days=list(planned_looks(plan)) if whole else [],
        )


class DifferenceOut(Out):
    """One thing in which two plans differ."""

    field: str
    label: str
    one: str
    other: str

    @classmethod
    def from_core(cls, d: Difference) -> "DifferenceOut":
        return cls(field=d.field, label=d.label, one=d.one, other=d.other)


class ComparedOut(Out):
    """Two plans side by side."""

    one: str
    other: str
    differences: list[DifferenceOut]


class StageOut(Out):
    """A wood stage or crop."""

    id: str
    name: str

    @classmethod
    def from_core(cls, s: UsualCourse) -> "StageOut":
        return cls(id=s.id, name=s.name)


class TemplateOut(Out):
    """A place to begin: what is compared, what it asks, and on which stages."""

    subject: Subject
    name: str
    asks: str
    says: str
    stages: list[StageOut]
    examples: dict[str, str]

    @classmethod
    def from_core(cls, t: Template) -> "TemplateOut":
        stages = [StageOut.from_core(s) for s in STAGES if s.id in t.stages]
        return cls(
            subject=t.subject,
            name=t.name,
            asks=t.asks,
            says=t.says,
            stages=stages,
            examples=examples(t.subject),
        )


class BaseRateOut(Out):
    """What the control of one of the grower's own trials struck."""

    trial: str
    question: str
    material: str
    day: int
    struck: int
    n: int
    percent: float

    @classmethod
    def from_core(cls, trial: Trial, rate: BaseRate) -> "BaseRateOut":
        plan = trial.plan
        return cls(
            trial=trial.id, question=plan.question, material=plan.material, day=rate.day,
            struck=rate.struck, n=rate.n, percent=rate.percent,
        )  # fmt: skip


class GradesIn(In):
    """How many cuttings there are of each grade, the best first."""

    grades: list[Annotated[StrictInt, Field(ge=0, le=20_000)]] = Field(min_length=1, max_length=9)


class BaselineIn(In):
    """What was measured of each planted cell, in the order of the bench; null: not measured."""

    trait: str = Field(max_length=40)
    values: list[float | None] = Field(max_length=12_000)


class ArmBalanceOut(Out):
    """One trait of one arm."""

    n: int
    mean: float | None
    least: float | None
    most: float | None


class BalanceOut(Out):
    """One trait: its values over the planted cells, arm by arm, and whether they are alike."""

    trait: str
    values: list[float | None]
    arms: list[ArmBalanceOut]
    p: float | None
    says: str
