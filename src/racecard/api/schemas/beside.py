"""What stands beside a verdict over HTTP: places, times, crosses, ladders, runs, growth, indices."""

from racecard.api.schemas.base import Out
from racecard.api.schemas.intervals import HalfOut, IntervalOut
from racecard.core.assess.crosses import Cross, Effect
from racecard.core.assess.dose_series import DoseSeries
from racecard.core.assess.grade import GRADE_WORDS, Grade
from racecard.core.assess.later_growth import Grown
from racecard.core.assess.placings import Placings
from racecard.core.assess.restricted_mean import ArmTimes
from racecard.core.assess.runs import RunsTogether
from racecard.core.model import Plan
from racecard.core.stats.seed_indices import Index
from racecard.core.text.companions import dose_statements, places_say
from racecard.core.text.narrator import Answer


class AnswerOut(Out):
    """The answer in at most 60 words, in its four parts; a part is "" where there is nothing to say."""

    kind: str
    chip: str
    happened: str
    sure: str
    doubt: str
    next: str
    units: int | None
    """How many of each to repeat with, where another number is advised."""
    alone: bool

    @classmethod
    def from_core(cls, a: Answer) -> "AnswerOut":
        return cls(
            kind=a.kind,
            chip=a.chip,
            happened=a.happened,
            sure=a.sure,
            doubt=a.doubt,
            next=a.next,
            units=a.units,
            alone=a.alone,
        )


class PlaceOut(Out):
    """One treatment's place; those that share a letter cannot be told apart."""

    treatment: int
    place: int
    dead_heat: bool
    rate: float
    letters: str


class PlacingsOut(Out):
    """All treatments in order of strike."""

    places: list[PlaceOut]
    first: list[int]
    pairs: int
    says: str

    @classmethod
    def from_core(cls, plan: Plan, p: Placings | None) -> "PlacingsOut | None":
        if p is None:
            return None
        places = [
            PlaceOut(treatment=x.treatment, place=x.place, dead_heat=x.dead_heat, rate=x.rate, letters=x.letters)
            for x in p.places
        ]  # fmt: skip
        return cls(places=places, first=list(p.first), pairs=p.pairs, says=places_say(plan, p))


class TimesOut(Out):
    """When a quarter, half and 70 % of all stuck had struck; mean days of all and of the struck."""

    reached: list[HalfOut | None]
    linear: list[float | None]
    waiting: float | None
    struck_mean: float | None
    struck_n: int
    left_out: int

    @classmethod
    def from_core(cls, t: ArmTimes) -> "TimesOut":
        reached = [None if r is None else HalfOut(after=r[0], by=r[1]) for r in t.reached]
        return cls(
            reached=reached, linear=list(t.linear), waiting=t.waiting, struck_mean=t.struck_mean, struck_n=t.struck_n,
            left_out=t.left_out,
        )  # fmt: skip


class EffectOut(Out):
    """One level of a factor against its first, over all or at one level of the other."""

    factor: str
    level: str
    base: str
    within: str
    gap: IntervalOut
    p: float
    p_holm: float
    grade: Grade
    grade_words: str

    @classmethod
    def from_core(cls, e: Effect) -> "EffectOut":
        return cls(
            factor=e.factor, level=e.level, base=e.base, within=e.within, gap=IntervalOut.of(e.gap),
            p=e.p, p_holm=e.p_holm, grade=e.grade, grade_words=GRADE_WORDS[e.grade],
        )  # fmt: skip


class FactorOut(Out):
    """A factor with its levels, and the level of each treatment."""

    name: str
    levels: list[str]
    of: list[int]


class InteractionOut(Out):
    """Difference of differences of two factors; p from the t interval, and by log odds."""

    factors: list[str]
    gap: IntervalOut
    p: float | None
    logistic_p: float | None
    leads: bool


class CrossOut(Out):
    """A finish of crossed factors."""

    factors: list[FactorOut]
    main: list[EffectOut]
    simple: list[EffectOut]
    interactions: list[InteractionOut]

    @classmethod
    def from_core(cls, c: Cross | None) -> "CrossOut | None":
        if c is None:
            return None
        return cls(
            factors=[FactorOut(name=f.name, levels=list(f.levels), of=list(f.of)) for f in c.factors],
            main=[EffectOut.from_core(e) for e in c.main],
            simple=[EffectOut.from_core(e) for e in c.simple],
            interactions=[
                InteractionOut(
                    factors=list(i.factors), gap=IntervalOut.of(i.gap), p=i.p, logistic_p=i.logistic_p,
                    leads=i.leads,
                )
                for i in c.interactions
            ],
        )  # fmt: skip


class StepOfLadder(Out):
    """One dose: its treatment, share struck and share lost."""

    treatment: int
    dose: float
    rate: float | None
    lost: float | None


class DoseLadderOut(Out):
    """A ladder of doses or durations."""

    thing: str
    unit: str
    steps: list[StepOfLadder]
    p: float
    grade: Grade
    grade_words: str
    best: int | None
    good: list[int]
    says: list[str]

    @classmethod
    def from_core(cls, ladder: DoseSeries | None) -> "DoseLadderOut | None":
        if ladder is None:
            return None
        words = {Grade.CLEAR_LEAD: "clear trend", Grade.LIKELY_LEAD: "likely a trend"}
        return cls(
            thing=ladder.thing, unit=ladder.unit,
            steps=[
                StepOfLadder(treatment=s.treatment, dose=s.dose, rate=s.rate, lost=s.lost)
                for s in ladder.steps
            ],
            p=ladder.p, grade=ladder.grade,
            grade_words=words.get(ladder.grade, GRADE_WORDS[ladder.grade]),
            best=ladder.best, good=list(ladder.good), says=[s.text for s in dose_statements(ladder)],
        )  # fmt: skip


class RunOut(Out):
    """One run of one comparison."""

    run: str
    treated: int
    control: int
    gap: IntervalOut | None


class RunsOut(Out):
    """One treatment over several runs."""

    treatment: int
    runs: list[RunOut]
    q_p: float | None
    further: list[float] | None
    next_run: list[float] | None

    @classmethod
    def from_core(cls, r: RunsTogether) -> "RunsOut":
        return cls(
            treatment=r.treatment,
            runs=[
                RunOut(run=x.run, treated=x.treated, control=x.control, gap=IntervalOut.from_core(x.gap))
                for x in r.runs
            ],
            q_p=r.q_p, further=None if r.further is None else list(r.further),
            next_run=None if r.next_run is None else list(r.next_run),
        )  # fmt: skip


class MeasuredOut(Out):
    """One treatment on one measure: mean, and the gap to the reference where it is compared."""

    treatment: int
    n: int
    mean: float
    least: float
    most: float
    gap: IntervalOut | None
    p: float | None
    grade_words: str


class GrownOut(Out):
    """A measure of later growth at one age."""

    measure: str
    label: str
    unit: str
    age: int
    is_primary: bool
    arms: list[MeasuredOut]

    @classmethod
    def from_core(cls, g: Grown) -> "GrownOut":
        by = {m.treatment: m for m in g.compared}
        return cls(
            measure=g.measure, label=g.label, unit=g.unit, age=g.age, is_primary=g.is_primary,
            arms=[
                MeasuredOut(
                    treatment=a.treatment, n=a.n, mean=a.mean, least=a.least, most=a.most,
                    gap=IntervalOut.from_core(m.gap) if m else None, p=m.p if m else None,
                    grade_words=GRADE_WORDS[m.grade] if m else "",
                )
                for a in g.arms
                for m in [by.get(a.treatment)]
            ],
        )  # fmt: skip


class IndexOut(Out):
    """One seed-testing index of one treatment."""

    id: str
    name: str
    value: float | None
    unit: str
    says: str
    source: str
    reason: str

    @classmethod
    def from_core(cls, i: Index) -> "IndexOut":
        return cls(**{name: getattr(i, name) for name in cls.model_fields})
