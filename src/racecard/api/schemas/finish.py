"""The finish over HTTP: lanes, verdicts, sentences and notes."""

from collections.abc import Sequence

import numpy as np

from racecard.api.schemas.base import Out
from racecard.api.schemas.beside import (
    AnswerOut,
    CrossOut,
    DoseLadderOut,
    GrownOut,
    IndexOut,
    PlacingsOut,
    RunsOut,
    TimesOut,
)
from racecard.api.schemas.consequences import NoteOut
from racecard.api.schemas.intervals import HalfOut, IntervalOut
from racecard.core.assess.grade import GRADE_WORDS, Grade, Why
from racecard.core.assess.judgement import Arm, Comparison
from racecard.core.assess.lane_order import lane_order
from racecard.core.assess.later_growth import Grown
from racecard.core.assess.predictions import scored_predictions
from racecard.core.assess.secondary import Secondary
from racecard.core.assess.strike import unit_shares
from racecard.core.finish.finish_result import Whole
from racecard.core.log.goal import done
from racecard.core.log.measures import GRADED, graded_word
from racecard.core.model import Amendment, Plan, Role, Unit
from racecard.core.model.results import Results
from racecard.core.notes.looked_for import Record, checks_say
from racecard.core.plan.compare import LABELS
from racecard.core.stats.multiplicity import CLEAR_LIMIT
from racecard.core.text.amounts import settles, unit_of
from racecard.core.text.predictions import LATE_PREDICTIONS, amendments_say, predictions_say

MOST_LINES = 1000
MOST_CELLS = 12_000


class LineOut(Out):
    """One propagule's line, in days; null where a thing never happened."""

    after: float | None
    by: float | None
    lost: float | None
    removed: float | None
    last: float
    unit: int


class FinishCell(Out):
    """A unit where it stands, with what came of it."""

    code: str
    tray: int
    row: int
    col: int
    block: int
    treatment: int
    struck: int
    n: int
    lost: int
    removed: int
    score: float | None


class StepOut(Out):
    """Share of all stuck that had struck by a day."""

    day: float
    share: float


class LaneOut(Out):
    """One treatment: its lines, its curve, its figures."""

    treatment: int
    name: str
    role: Role
    silk: str
    done: str
    """What those did that reached the goal: rooted, came up."""
    units: int
    n: int
    struck: int
    lost: int
    removed: int
    unknown: int
    at_start: int
    sampled: int
    estimated: bool
    horizon: float
    rate: float | None
    rate_pooled: float | None
    interval: IntervalOut | None
    effective_n: float | None
    half: HalfOut | None
    half_limits: list[float | None]
    curve: list[StepOut]
    score_mean_all: float | None
    score_mean_struck: float | None
    score_counts: list[int] | None
    """Plants at each root score; None where a measure is compared instead."""
    score_word: str
    score_unit: str
    unscored: int
    per_stem: float | None
    alive: int
    plantable: int | None
    times: TimesOut | None
    indices: list[IndexOut]
    lines: list[LineOut]


class SecondaryOut(Out):
    """A secondary result, or the reason why there is none."""

    p: float | None
    p_holm: float | None
    grade: Grade | None
    reason: str

    @classmethod
    def from_core(cls, s: Secondary) -> "SecondaryOut":
        return cls(p=s.p, p_holm=s.p_holm, grade=s.grade, reason=s.reason)


class SettleOut(Out):
    """Plants or containers of each treatment that would usually show a difference of this size."""

    units: int
    thing: str
    says: str


class OutcomeOut(Out):
    """What was asked, in its unit: shares as fractions, days, scores, a measure."""

    mine: float | None
    theirs: float | None
    gap: IntervalOut | None


class ExpectedOut(Out):
    """The difference to expect next time, in points or in the unit of what was asked."""

    size: float
    low: float
    high: float


class BeyondCarrierOut(Out):
    """The agent itself, beyond its carrier."""

    carrier: int
    p: float | None
    p_adjusted: float | None
    grade: Grade | None
    grade_words: str
    gap: IntervalOut | None


class ComparisonOut(Out):
    """One treatment against the control."""

    treatment: int
    grade: Grade | None
    """On what the trial is judged on; `strike_grade` on how many struck."""
    strike_grade: Grade | None
    grade_words: str
    why: Why
    horizon: float
    stopped_early: bool
    sentence: str
    gap: IntervalOut | None
    gap90: IntervalOut | None
    ratio: float | None
    p: float | None
    p_exact: bool
    p_holm: float | None
    minimum_p: float | None
    minimum_p_holm: float | None
    harm: bool
    possible_harm: bool
    left_out: int
    broken_interval: bool
    over_time: SecondaryOut
    quality: SecondaryOut
    superiority: float | None
    superiority_struck: float | None
    wait: IntervalOut | None
    outcome: OutcomeOut
    agent: BeyondCarrierOut | None
    next_time: ExpectedOut | None
    settle: SettleOut | None


class PredictionOut(Out):
    """A prediction against what struck, in percent; `inside`: within the interval, null without one."""

    treatment: int
    predicted: float
    struck: float
    off_points: float
    inside: bool | None


class FinishOut(Out):
    """The finish page."""

    day: float
    length_days: int
    final: bool
    stopped_early: bool
    timed: bool
    unit: str
    """Of what the trial is judged on: points, days, mm."""
    headline: str
    answer: AnswerOut | None
    says: list[str]
    notes: list[NoteOut]
    checked: str
    reference: int | None
    lanes: list[LaneOut]
    comparisons: list[ComparisonOut]
    placings: PlacingsOut | None
    cross: CrossOut | None
    ladder: DoseLadderOut | None
    runs: list[RunsOut]
    growth: list[GrownOut]
    higher: float | None
    cells: list[FinishCell]
    predictions: list[PredictionOut]
    predictions_say: str
    amended: list[str]
    overruled: list[str]

    @classmethod
    def from_core(
        cls,
        plan: Plan,
        results: Results,
        whole: Whole,
        *,
        timed: bool = True,
        amendments: Sequence[Amendment] = (),
        units: Sequence[Unit] = (),
        growth: Sequence[Grown] = (),
        plantable: Sequence[int | None] = (),
        sampled: Sequence[int] = (),
        planned_late: bool = False,
        is_whole: bool = True,
    ) -> "FinishOut":
        judgement = whole.judgement
        scored = () if planned_late else scored_predictions(plan, judgement)
        guessed = any(t.prediction is not None for t in plan.treatments)
        lanes = [
            _lane(
                plan,
                results,
                whole,
                arm,
                plantable[arm.index] if plantable else None,
                sampled[arm.index] if sampled else 0,
            )
            for arm in judgement.arms
        ]
        return cls(
            day=judgement.day, length_days=plan.length_days, final=judgement.is_final, unit=unit_of(plan).strip(),
            stopped_early=judgement.stopped_early, timed=timed,
            headline=whole.headline, answer=AnswerOut.from_core(whole.answer) if whole.answer else None,
            says=list(whole.says),
            notes=[NoteOut.from_core(n) for n in whole.notes],
            checked=checks_say(
                Record(plan, results, is_whole, len(units) == len(results.treatment), timed)
            ),
            reference=plan.reference, lanes=lanes,
            comparisons=[_comparison(plan, c, whole) for c in judgement.comparisons],
            placings=PlacingsOut.from_core(plan, whole.placings), cross=CrossOut.from_core(whole.cross),
            ladder=DoseLadderOut.from_core(whole.ladder),
            runs=[RunsOut.from_core(r) for r in whole.runs],
            growth=[GrownOut.from_core(g) for g in growth], higher=whole.higher,
            cells=_cells(results, units, judgement.day),
            predictions=[
                PredictionOut(
                    treatment=s.treatment, predicted=s.predicted, struck=s.struck,
                    off_points=s.off_points, inside=s.inside,
                )
                for s in scored
            ],
            predictions_say=LATE_PREDICTIONS if planned_late and guessed else predictions_say(plan, scored),
            amended=list(amendments_say(amendments, LABELS)),
            overruled=[f"{o.code.replace('_', ' ').capitalize()}: {o.reason}" for o in plan.overrides],
        )  # fmt: skip


def _lane(
    plan: Plan, results: Results, whole: Whole, arm: Arm, plantable: int | None, sampled: int
) -> LaneOut:
    t, s, q = plan.treatments[arm.index], arm.strike, arm.quality
    times = next((x for x in whole.times if x.treatment == arm.index), None)
    found = whole.indices[arm.index] if whole.indices else ()
    mine = results.treatment[results.unit] == arm.index
    gone = np.isfinite(results.lost_by) | np.isfinite(results.removed)
    return LaneOut(
        treatment=arm.index, name=t.name, role=t.role, silk=t.silk, done=done(plan), units=s.units, n=s.n,
        struck=s.struck, lost=s.lost, removed=s.removed, unknown=s.unknown,
        at_start=s.at_start, sampled=sampled, estimated=s.is_estimated, horizon=arm.horizon,
        rate=s.rate, rate_pooled=s.rate_pooled,
        interval=IntervalOut.from_core(s.interval), effective_n=s.effective_n,
        half=HalfOut(after=arm.half[0], by=arm.half[1]) if arm.half else None,
        half_limits=list(arm.half_limits),
        curve=[
            StepOut(day=float(d), share=float(v))
            for d, v in zip(arm.curve.days, arm.curve.share, strict=True)
        ],
        score_mean_all=q.mean_all if q else None, score_mean_struck=q.mean_struck if q else None,
        score_counts=list(q.counts) if q and not plan.graded_by else None,
        score_word=graded_word(plan), score_unit=GRADED[plan.graded_by].field.unit if plan.graded_by else "of 5",
        unscored=q.unscored if q else 0,
        per_stem=t.per_stem * s.rate if t.per_stem and s.rate is not None else None,
        alive=int(np.sum(mine & ~gone)), plantable=plantable,
        times=None if times is None else TimesOut.from_core(times),
        indices=[IndexOut.from_core(i) for i in found],
        lines=_lines(results, arm.index),
    )  # fmt: skip


def _cells(results: Results, units: Sequence[Unit], day: float) -> list[FinishCell]:
    """The bench as it stood with what came of each unit; empty where nobody knows the places."""
    if len(units) != len(results.treatment) or len(units) > MOST_CELLS:
        return []
    shares = unit_shares(results, day)
    return [
        FinishCell(
            code=u.cell.code, tray=u.cell.tray, row=u.cell.row, col=u.cell.col,
            block=u.cell.block, treatment=u.cell.treatment, struck=int(shares.struck[i]),
            n=int(shares.sizes[i]), lost=int(shares.lost[i]), removed=int(shares.removed[i]),
            score=None if np.isnan(results.score[i]) else float(results.score[i]),
        )
        for i, u in enumerate(units)
    ]  # fmt: skip


def _lines(results: Results, arm: int) -> list[LineOut]:
    """Lines in the order of the lane."""
    order = lane_order(results, arm)
    if len(order) > MOST_LINES:  # a band is drawn from these, and no figure
        order = order[np.linspace(0, len(order) - 1, MOST_LINES).round().astype(int)]
    rows = (results.after, results.by, results.lost_by, results.removed)
    return [
        LineOut(
            **{
                k: _day(v[i]) for k, v in zip(("after", "by", "lost", "removed"), rows, strict=True)
            },
            last=float(results.last[i]),
            unit=int(results.unit[i]),
        )
        for i in order
    ]


def _day(value: float) -> float | None:
    return float(value) if np.isfinite(value) else None


def _comparison(plan: Plan, c: Comparison, whole: Whole) -> ComparisonOut:
    arms, reference = whole.judgement.arms, plan.reference
    base = arms[reference].strike.rate if reference is not None else None
    rate, strike, o, a = arms[c.index].strike.rate, c.strike, c.outcome, c.agent
    p, test, figures = c.asked.p_holm, c.test, c.beside.figures
    return ComparisonOut(
        treatment=c.index, grade=c.grade, strike_grade=c.strike_grade, grade_words=GRADE_WORDS[c.grade], why=c.why,
        horizon=c.horizon, stopped_early=c.stopped_early, sentence=whole.sentence(c.index),
        gap=IntervalOut.from_core(c.gap), gap90=IntervalOut.from_core(c.gap90),
        ratio=rate / base if rate is not None and base else None,
        p=test.p if test else None, p_exact=test.is_exact if test else True,
        p_holm=strike.p_holm, minimum_p=strike.primary.minimum_p, minimum_p_holm=strike.minimum_p_holm, harm=c.harm,
        possible_harm=c.hurt.possible, left_out=c.left_out,
        broken_interval=bool(o.gap and o.gap.leaves_out_zero and (p is None or p >= CLEAR_LIMIT)),
        over_time=SecondaryOut.from_core(c.beside.over_time), quality=SecondaryOut.from_core(c.beside.quality),
        superiority=figures.superiority, superiority_struck=figures.superiority_struck,
        wait=IntervalOut.from_core(whole.waits.get(c.index)),
        outcome=OutcomeOut(mine=o.mine, theirs=o.theirs, gap=IntervalOut.from_core(o.gap)),
        agent=None if a is None else BeyondCarrierOut(
            carrier=a.carrier, p=a.p, p_adjusted=a.p_holm, grade=a.grade, grade_words=GRADE_WORDS[a.grade],
            gap=IntervalOut.from_core(a.gap),
        ),
        next_time=None if o.expected is None else ExpectedOut(size=o.expected.size, low=o.expected.low, high=o.expected.high),
        settle=None if c.settle is None else SettleOut(
            units=c.settle.units, thing=c.settle.thing, says=settles(plan, c.settle),
        ),
    )  # fmt: skip
