"""The form book over HTTP: lines, what they can be filtered by, one plant, one series of runs."""

from collections.abc import Sequence

from racecard.api.schemas.base import Out
from racecard.api.schemas.consequences import DifferenceOut
from racecard.core.formbook.guesses import Guessing
from racecard.core.formbook.line import FormLine, State, Tried, grade_words
from racecard.core.formbook.plant import OwnNumber, PlantBook, Rate, Record
from racecard.core.formbook.search import Facets
from racecard.core.formbook.treatment import TreatmentBook, treatment_says
from racecard.core.plan.repeat import RepeatOf
from racecard.core.text.amounts import points


class TriedOut(Out):
    """A treatment against its control: difference in strike as a fraction, grade on what was asked."""

    name: str
    grade: str
    grade_words: str
    gap: float | None
    low: float | None
    high: float | None

    @classmethod
    def from_core(cls, t: Tried) -> "TriedOut":
        return cls(
            name=t.name, grade=t.grade, grade_words=grade_words(t.grade), gap=t.gap, low=t.low,
            high=t.high,
        )  # fmt: skip


class FormLineOut(Out):
    """One trial of the book."""

    trial: str
    question: str
    plant: str
    stage: str
    subject: str
    measure: str
    began: str
    state: str
    says: str
    invented: bool
    units: int
    repeats: bool
    is_table: bool
    best: TriedOut | None

    @classmethod
    def from_core(cls, x: FormLine) -> "FormLineOut":
        same = set(cls.model_fields) - {"best", "repeats", "state"}
        return cls(
            state=x.state.value, repeats=x.repeats != "",
            best=None if x.best is None else TriedOut.from_core(x.best),
            **{n: getattr(x, n) for n in same},
        )  # fmt: skip


class FacetOut(Out):
    """One value that lines can be filtered by, and how many have it."""

    value: str
    label: str
    n: int


class FormBookOut(Out):
    """A page of lines. `all`: how many the book holds; `found`: how many fit; `waiting`: not read yet."""

    lines: list[FormLineOut]
    found: int
    all: int
    unfinished: int
    waiting: int
    plants: list[FacetOut]
    methods: list[FacetOut]
    quarters: list[FacetOut]
    years: list[FacetOut]
    verdicts: list[FacetOut]
    states: list[FacetOut]

    @staticmethod
    def facets(f: Facets) -> dict[str, list[FacetOut]]:
        """Every facet as it is told."""

        def told(pairs: tuple[tuple[str, int], ...], *, graded: bool = False) -> list[FacetOut]:
            return [FacetOut(value=v, label=grade_words(v) if graded else v, n=n) for v, n in pairs]

        return {
            "plants": told(f.plants), "methods": told(f.methods), "quarters": told(f.quarters),
            "years": told(f.years), "verdicts": told(f.verdicts, graded=True), "states": told(f.states),
        }  # fmt: skip


class RateOut(Out):
    """A strike rate in percent with its 95 % limits, and what it rests on."""

    percent: float
    low: float
    high: float
    struck: int
    n: int
    trials: int

    @classmethod
    def from_core(cls, r: Rate) -> "RateOut":
        return cls(**{n: getattr(r, n) for n in cls.model_fields})


class MonthOut(Out):
    """The controls begun in one month, 1 to 12."""

    month: int
    rate: RateOut


class ResultOut(Out):
    """What a treatment came to in one trial."""

    trial: str
    question: str
    began: str
    grade: str
    grade_words: str
    gap: float | None
    low: float | None
    high: float | None
    is_table: bool


class RecordOut(Out):
    """A treatment over all trials of a plant, each against its own control."""

    treatment: str
    grade_words: str
    results: list[ResultOut]

    @classmethod
    def from_core(cls, r: Record) -> "RecordOut":
        words = "trials contradict each other" if r.grade == "mixed" else grade_words(r.grade)
        joint = r.together
        if joint is not None:
            words = f"together {points(joint.gap)} points ({points(joint.low)} to {points(joint.high)}), from {joint.trials} trials"
        elif len(r.results) > 1 and r.grade != "mixed":
            words += f" in {sum(x.grade == r.grade for x in r.results)} of {len(r.results)} trials"
        return cls(
            treatment=r.treatment, grade_words=words,
            results=[
                ResultOut(
                    trial=x.trial, question=x.question, began=x.began,
                    grade=x.grade, grade_words=grade_words(x.grade), gap=x.gap, low=x.low,
                    high=x.high, is_table=x.is_table,
                )
                for x in r.results
            ],
        )  # fmt: skip


class OfPlant(Out):
    """A treatment's record on one plant."""

    plant: str
    record: RecordOut


class AlikeOut(Out):
    """Another treatment whose name shares a telling word, and its trials."""

    name: str
    trials: int


class TreatmentBookOut(Out):
    """What the book says of one treatment, by plant; results are never summed."""

    name: str
    says: str
    trials: int
    plants: list[OfPlant]
    alike: list[AlikeOut]

    @classmethod
    def from_core(cls, b: TreatmentBook) -> "TreatmentBookOut":
        return cls(
            name=b.name, says=treatment_says(b), trials=b.trials,
            plants=[OfPlant(plant=p, record=RecordOut.from_core(r)) for p, r in b.plants],
            alike=[AlikeOut(name=name, trials=n) for name, n in b.alike],
        )  # fmt: skip


class UsualOut(Out):
    """What the next control of such material may be expected to do, from the grower's own."""

    rate: RateOut | None
    says: str
    half_day: float | None
    icc: OwnNumber | None
    spread: OwnNumber | None


class BandOut(Out):
    """Predictions within one band: said and come, in percent on average."""

    n: int
    said: float
    came: float


class GuessingOut(Out):
    """How well predictions did."""

    says: str
    bands: list[BandOut]

    @classmethod
    def from_core(cls, g: Guessing) -> "GuessingOut":
        return cls(says=g.says, bands=[BandOut(n=b.n, said=b.said, came=b.came) for b in g.bands])


class PlantBookOut(Out):
    """What the book says of one plant."""

    plant: str
    kind: str
    trials: int
    unfinished: int
    usual: RateOut | None
    usual_says: str
    half_day: float | None
    months: list[MonthOut]
    shown: list[RecordOut]
    against: list[RecordOut]
    open: list[RecordOut]
    undecidable: list[RecordOut]
    untried: list[str]
    guessing: GuessingOut | None

    @classmethod
    def from_core(cls, b: PlantBook, says: str, guessing: Guessing | None) -> "PlantBookOut":
        def told(records: tuple[Record, ...]) -> list[RecordOut]:
            return [RecordOut.from_core(r) for r in records]

        return cls(
            plant=b.plant, kind=b.kind.value, trials=b.trials, unfinished=b.unfinished,
            usual=None if b.usual is None else RateOut.from_core(b.usual), usual_says=says,
            half_day=b.half_day,
            months=[MonthOut(month=m.month, rate=RateOut.from_core(m.rate)) for m in b.months],
            shown=told(b.shown), against=told(b.against), open=told(b.open),
            undecidable=told(b.undecidable), untried=[s.value for s in b.untried],
            guessing=None if guessing is None else GuessingOut.from_core(guessing),
        )  # fmt: skip


class RepeatOut(Out):
    """What a trial changes against the one it repeats."""

    of: str
    question: str
    says: str
    changes: list[DifferenceOut]
    neutral: list[DifferenceOut]

    @classmethod
    def from_core(cls, of: str, question: str, r: RepeatOf) -> "RepeatOut":
        return cls(
            of=of, question=question, says=r.says,
            changes=[DifferenceOut.from_core(d) for d in r.changes],
            neutral=[DifferenceOut.from_core(d) for d in r.neutral],
        )  # fmt: skip


class RunLineOut(Out):
    """One run of a plan: its number, its state, and the line the book has of it."""

    number: int
    line: FormLineOut
    here: bool


class BroughtInOut(Out):
    """What came of a form book's file; `already`: trials and tables that were here before."""

    trials: int
    tables: int
    already: int
    left_out: list[str]
    """Questions of trials that the file does not hold, since they are scored blind."""


class RunsOfPlanOut(Out):
    """Every run of one plan, and what this trial changes against the one it repeats."""

    runs: list[RunLineOut]
    finished: int
    repeat: RepeatOut | None

    @classmethod
    def from_core(
        cls, lines: Sequence[FormLine], here: str, repeat: RepeatOut | None
    ) -> "RunsOfPlanOut":
        runs = [
            RunLineOut(number=i + 1, line=FormLineOut.from_core(x), here=x.trial == here)
            for i, x in enumerate(lines)
        ]
        finished = sum(x.state is State.FINISHED for x in lines)
        return cls(runs=runs, finished=finished, repeat=repeat)
