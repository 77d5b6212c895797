"""What a grower writes beside a verdict, over HTTP: costs, a conclusion; and other readings of it."""

from collections.abc import Sequence

from pydantic import ConfigDict, Field

from racecard.api.schemas.base import In, Out
from racecard.api.schemas.finish import LaneOut
from racecard.api.schemas.intervals import IntervalOut
from racecard.core.assess.contrasts import Contrasted, NotCompared
from racecard.core.assess.grade import GRADE_WORDS, Grade
from racecard.core.assess.payoff import Payoff, Worth
from racecard.core.model import Plan
from racecard.core.text.contrasts import contrast_says
from racecard.core.text.overclaims import Overreach


class WorthIn(In):
    """What the grower reckons with, per cutting or seed, in one currency; costs by treatment."""

    model_config = ConfigDict(
        extra="forbid",
        allow_inf_nan=False,
        json_schema_extra={
            "example": {"struck_plant": 2.5, "hour": 15, "currency": "€", "cost": {"1": 0.05}, "minutes": {"1": 0.5}}
        },
    )  # fmt: skip

    struck_plant: float
    hour: float = 0.0
    currency: str = Field("", max_length=8)
    cost: dict[int, float] = Field(default_factory=dict)
    minutes: dict[int, float] = Field(default_factory=dict)

    def to_core(self) -> Worth:
        return Worth(self.struck_plant, self.hour, self.currency.strip(), self.cost, self.minutes)

    @classmethod
    def from_core(cls, w: Worth) -> "WorthIn":
        return cls(
            struck_plant=w.struck_plant, hour=w.hour, currency=w.currency, cost=dict(w.cost or {}),
            minutes=dict(w.minutes or {}),
        )  # fmt: skip


class PayoffOut(Out):
    """One treatment against the control, per cutting stuck; `break_even` is a fraction."""

    treatment: int
    extra_cost: float
    gain: float | None
    low: float | None
    high: float | None
    break_even: float
    per_success: float | None
    lost: int
    word: str
    says: str

    @classmethod
    def from_core(cls, p: Payoff, says: str) -> "PayoffOut":
        fields = {name: getattr(p, name) for name in cls.model_fields if name != "says"}
        return cls(**fields, says=says)


class WorthOut(Out):
    """What was given, null where nothing was, and what it comes to."""

    given: WorthIn | None
    payoffs: list[PayoffOut]


class ConclusionIn(In):
    """A conclusion in the grower's own words."""

    text: str = Field(max_length=4000)


class OverreachOut(Out):
    """One phrase that says more than the trial can."""

    found: str
    start: int
    why: str
    instead: str


class ConclusionOut(Out):
    """A conclusion, what in it says too much, and a wording the trial can carry."""

    text: str
    too_much: list[OverreachOut]
    honest: str

    @classmethod
    def of(cls, text: str, found: Sequence[Overreach], honest: str) -> "ConclusionOut":
        told = [
            OverreachOut(found=o.found, start=o.start, why=o.why, instead=o.instead) for o in found
        ]
        return cls(text=text, too_much=told, honest=honest)


class HeatOut(Out):
    """Degree-days above a base by the end of each day from day 0; `days_without` had no reading."""

    place: str
    base: float
    upto: list[float]
    days_without: int


class MilestoneOut(Out):
    """The lanes for another stage, without a verdict."""

    stage: int
    name: str
    lanes: list[LaneOut]


class BlindLine(Out):
    """One plant's line, without its unit."""

    after: int | None
    by: int | None
    lost: int | None
    removed: int | None
    last: int


class BlindLane(Out):
    """A lane before the curtain is drawn: no name, no silk, no unit; `number` was dealt by lot."""

    number: int
    n: int
    struck: int
    lost: int
    removed: int
    lines: list[BlindLine]

    @classmethod
    def of(cls, number: int, lane: LaneOut) -> "BlindLane":
        lines = [
            BlindLine(**{n: getattr(x, n) for n in BlindLine.model_fields}) for x in lane.lines
        ]
        return cls(
            number=number,
            n=lane.n,
            struck=lane.struck,
            lost=lane.lost,
            removed=lane.removed,
            lines=lines,
        )


class ContrastOut(Out):
    """One group of treatments against another; p and grade on what the trial is judged on."""

    one: list[int]
    zero: list[int]
    is_declared: bool
    gap: IntervalOut | None
    p: float | None
    grade: Grade | None
    grade_words: str
    says: list[str]

    @classmethod
    def from_core(cls, plan: Plan, found: Contrasted | NotCompared) -> "ContrastOut":
        if isinstance(found, NotCompared):
            return cls(
                one=list(found.one), zero=list(found.zero), is_declared=True, gap=None, p=None,
                grade=None, grade_words=GRADE_WORDS[None], says=[found.says],
            )  # fmt: skip
        return cls(
            one=list(found.one), zero=list(found.zero), is_declared=found.is_declared,
            gap=IntervalOut.from_core(found.comparison.gap), p=found.p, grade=found.grade,
            grade_words=GRADE_WORDS[found.grade], says=contrast_says(plan, found),
        )  # fmt: skip
