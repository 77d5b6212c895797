"""Runs put together, over HTTP."""

from pydantic import ConfigDict, Field

from racecard.api.schemas.base import In, Out
from racecard.api.schemas.beside import AnswerOut, RunOut
from racecard.api.schemas.consequences import NoteOut
from racecard.api.schemas.intervals import IntervalOut
from racecard.core.assess.grade import GRADE_WORDS, Grade
from racecard.core.exchange.series import Series, SeriesOf, UpTo
from racecard.core.text.series import series_says


class SeriesIn(In):
    """Trials and tables by their ids, in the order they were carried out."""

    model_config = ConfigDict(
        json_schema_extra={"example": {"runs": ["a1b2c3d4a1b2c3d4", "b1b2c3d4a1b2c3d4"]}}
    )

    runs: list[str] = Field(max_length=200)
    control: str | None = Field(None, max_length=200)


class UpToOut(Out):
    """The evidence once this run had been added to those before it."""

    run: str
    gap: IntervalOut | None
    p: float | None
    grade: Grade | None

    @classmethod
    def from_core(cls, u: UpTo) -> "UpToOut":
        return cls(run=u.run, gap=IntervalOut.from_core(u.gap), p=u.p, grade=u.grade)


class SeriesArm(Out):
    """One treatment against the control over all runs; differences are fractions."""

    treatment: str
    gap: IntervalOut | None
    p: float | None
    grade: Grade | None
    grade_words: str
    q_p: float | None
    further: list[float] | None
    next_run: list[float] | None
    runs: list[RunOut]
    course: list[UpToOut]
    says: list[str]

    @classmethod
    def from_core(cls, series: Series, t: SeriesOf) -> "SeriesArm":
        c, r, table = t.comparison, t.together, series.table
        return cls(
            treatment=t.name, gap=IntervalOut.from_core(c.gap), p=c.test.p if c.test else None, grade=c.grade,
            grade_words=GRADE_WORDS[c.grade] if c.grade else "", q_p=r.q_p,
            further=None if r.further is None else list(r.further),
            next_run=None if r.next_run is None else list(r.next_run),
            runs=[
                RunOut(run=x.run, treated=x.treated, control=x.control, gap=IntervalOut.from_core(x.gap))
                for x in r.runs
            ],
            course=[UpToOut.from_core(u) for u in t.course],
            says=series_says(table.plan, r, table.whole.sentence(c.index), series.left_out),
        )  # fmt: skip


class SeriesOut(Out):
    """The runs judged as one: every treatment they share, and the notes on them together."""

    control: str
    runs: list[str]
    answer: AnswerOut | None
    treatments: list[SeriesArm]
    notes: list[NoteOut]

    @classmethod
    def from_core(cls, series: Series) -> "SeriesOut":
        return cls(
            control=series.table.control or "", runs=list(series.runs),
            answer=AnswerOut.from_core(answer) if (answer := series.table.whole.answer) else None,
            treatments=[SeriesArm.from_core(series, t) for t in series.treatments],
            notes=[NoteOut.from_core(n) for n in series.table.whole.notes],
        )  # fmt: skip
