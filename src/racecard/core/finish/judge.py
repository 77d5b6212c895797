"""The finish: every treatment against the control, graded, with its doubt and its limits."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from racecard.core.differences import Entangled, because, entangled
from racecard.core.finish import words
from racecard.core.finish.curve import Curve, fit_curve
from racecard.core.finish.grade import Grade, grade_of, lowest
from racecard.core.finish.lot import DEALS, LotTest, Redealer, floor_within, holm
from racecard.core.finish.proportions import Interval
from racecard.core.finish.quality import ArmQuality, arm_quality
from racecard.core.finish.secondary import Beside, Key, Secondaries, Secondary, firm
from racecard.core.finish.settle import units_to_settle
from racecard.core.finish.stewards import Note, harm_of, not_drawn_note, notes_from_data
from racecard.core.finish.strike import (
    SHARED,
    ArmStrike,
    Missing,
    arm_strike,
    comparable,
    gap,
    last_common_day,
    unit_shares,
)
from racecard.core.model import CHECKS, Cell, Measure, Plan
from racecard.core.results import Results


class Sooner(StrEnum):
    """Whether a lead over time may be called sooner: final strikes alike, or the struck were so."""

    NO = ""
    ALIKE = "alike"
    STRUCK = "struck"


@dataclass(frozen=True, slots=True)
class Arm:
    """One lane: strike, curve, when half had struck, root scores."""

    index: int
    strike: ArmStrike
    curve: Curve
    half: tuple[float, float] | None
    quality: ArmQuality | None


@dataclass(frozen=True, slots=True)
class Comparison:
    """One treatment against the control: `grade` on strike, `asked` on what the plan is judged on."""

    index: int
    horizon: float
    is_final: bool
    gap: Interval | None
    gap90: Interval | None
    test: LotTest | None
    p_holm: float | None
    floor: float | None
    floor_holm: float | None
    grade: Grade
    asked: Grade
    grades_if_missing: tuple[Grade, Grade] | None
    is_small: bool
    harm: bool
    possible_harm: bool
    harm_by_injury: bool
    left_out: int
    over_time: Secondary
    quality: Secondary
    superiority: float | None
    superiority_struck: float | None
    sooner: Sooner
    reason: str
    settle: tuple[tuple[str, int], ...]
    sentence: str


@dataclass(frozen=True, slots=True)
class Judgement:
    """What a finish page shows: lanes, comparisons, sentences and stewards' notes."""

    day: float
    is_final: bool
    arms: tuple[Arm, ...]
    comparisons: tuple[Comparison, ...]
    headline: str
    says: tuple[str, ...]
    notes: tuple[Note, ...]


@dataclass(frozen=True, slots=True)
class _Primary:
    """The primary result of one comparison before grading."""

    test: LotTest | None
    floor: float | None
    gap: Interval | None
    gap90: Interval | None
    left_out: int
    nothing: bool


@dataclass(frozen=True, slots=True)
class _Graded:
    """A primary result with its family's corrections and its grade; `if_missing`: the grades with
    all that were taken out counted against and for it.
    """

    index: int
    horizon: float
    is_final: bool
    primary: _Primary
    p_holm: float | None
    floor_holm: float | None
    grade: Grade
    if_missing: tuple[Grade, Grade] | None = None


@dataclass(frozen=True, slots=True)
class Called:
    """What one treatment was called, without sentences: grade on strike, on what was asked, and gap."""

    index: int
    grade: Grade
    asked: Grade
    gap: float | None


def call(
    plan: Plan,
    results: Results,
    *,
    redealer: Redealer,
    deals: int = DEALS,
    lot_drawn: bool | None = True,
    end_day: float | None = None,
) -> tuple[Called, ...]:
    """The grades of `judge` alone, by the same steps; for dry runs, which ask for nothing else.

    Args:
        plan: the frozen plan.
        results: what was seen.
        redealer: runs the lot tests, shared by many trials of one design.
        deals: re-dealings of sampled tests.
        lot_drawn: whether the bench was drawn by lot.
        end_day: last day of the plan.
    """
    shared = plan.count_singly and results.has_shared_containers
    seen = results.counted_singly() if shared else results
    context = _context(plan, seen, results, redealer, deals, shared, lot_drawn, end_day, True)
    return () if context is None else context.call_all()


def judge(
    plan: Plan,
    results: Results,
    *,
    seed: int,
    cells: Sequence[Cell] = (),
    deals: int = DEALS,
    lot_drawn: bool | None = True,
    end_day: float | None = None,
    timed: bool = True,
    redealer: Redealer | None = None,
) -> Judgement:
    """Judge a trial.

    Args:
        plan: the frozen plan; treatments are indexed as in `results.treatment`.
        results: what was seen, in days.
        seed: the trial's stored seed; sampled tests take their stream from it.
        cells: the map of the bench, for the note on rows.
        deals: re-dealings of sampled tests.
        lot_drawn: whether the bench was drawn by lot; None where nobody recorded it.
        end_day: last day of the plan; None takes the results as finished.
        timed: False where the results tell no days, so that nothing is said of time.
        redealer: what runs the lot tests, where it is shared with others; else one of this seed.
    """
    plan = words.with_isolated_names(plan)
    containers = results
    shared = plan.count_singly and results.has_shared_containers
    if shared:
        results = results.counted_singly()
    redealer = redealer or Redealer(seed)
    day = last_common_day(results)
    arms = tuple(_arm(results, i, day, shared, timed) for i in range(len(plan.treatments)))
    context = _context(
        plan, results, containers, redealer, deals, shared, lot_drawn, end_day, timed
    )
    comparisons = () if context is None else context.compare_all()
    notes = notes_from_data(plan, containers, cells, plan.reference, shared, redealer)
    if lot_drawn is False:
        notes = (not_drawn_note(), *notes)
    is_final = end_day is None or day >= end_day
    says = words.trial_says(plan, comparisons, is_final, day)
    headline = words.headline(plan, comparisons, is_final, day)
    return Judgement(day, is_final, arms, comparisons, headline, says, notes)


def _arm(results: Results, index: int, day: float, shared: bool, timed: bool) -> Arm:
    strike = arm_strike(unit_shares(results, day), index, singly_over_shared=shared)
    mine = results.only([index])
    if not len(mine.unit):
        empty = np.zeros(0)
        return Arm(index, strike, Curve(empty, empty, empty, 0.0), None, None)
    curve = fit_curve(mine.after, mine.by, mine.lost_after, mine.lost_by, mine.removed)
    half = curve.reached(0.5) if timed else None
    return Arm(index, strike, curve, half, arm_quality(results, index))


def _context(
    plan: Plan, results: Results, containers: Results, redealer: Redealer, deals: int, shared: bool,
    lot_drawn: bool | None, end_day: float | None, timed: bool,
) -> "_Context | None":  # fmt: skip
    """What runs the comparisons; None where the plan has nothing to compare with."""
    if plan.reference is None:
        return None
    return _Context(
        plan, results, containers, plan.reference, redealer, deals, shared, lot_drawn, end_day, timed,
        tuple(e for e in entangled(plan) if not e.is_carrier_alone),
    )  # fmt: skip


@dataclass(slots=True)
class _Context:
    plan: Plan
    results: Results
    containers: Results
    reference: int
    redealer: Redealer
    deals: int
    shared: bool
    lot_drawn: bool | None
    end_day: float | None
    timed: bool
    entangled: tuple[Entangled, ...]

    def compare_all(self) -> tuple[Comparison, ...]:
        """Every comparison, whole."""
        primary = self._all_primary()
        secondary, found = self._beside(primary)
        asked = self._on_what_was_asked(primary, found)
        return tuple(self._comparison(p, asked[i], secondary[i]) for i, p in primary.items())

    def call_all(self) -> tuple[Called, ...]:
        """The grades alone, by the same steps."""
        primary = self._all_primary()
        found = {} if self.plan.measure is Measure.STRIKE else self._beside(primary)[1]
        asked = self._on_what_was_asked(primary, found)
        return tuple(
            Called(i, p.grade, asked[i], p.primary.gap.estimate if p.primary.gap else None)
            for i, p in primary.items()
        )

    def _all_primary(self) -> dict[int, _Graded]:
        """The primary result of every treatment that has units, graded with what is missing."""
        others = [i for i in range(len(self.plan.treatments)) if i != self.reference]
        others = [i for i in others if np.any(self.results.treatment == i)]
        if not others or not np.any(self.results.treatment == self.reference):
            return {}
        horizon = {i: last_common_day(self.results.only((i, self.reference))) for i in others}
        scenes = {Missing.LEFT_OUT: self._graded(others, horizon, Missing.LEFT_OUT)}
        touched = {
            i: bool(scenes[Missing.LEFT_OUT][i].primary.left_out) or self._removed(i, horizon[i])
            for i in others
        }
        if any(touched.values()):
            for missing in (Missing.AGAINST, Missing.FOR):
                scenes[missing] = self._graded(others, horizon, missing)
        out = {}
        for i in others:
            found = scenes[Missing.LEFT_OUT][i]
            if touched[i]:
                worst, best = (scenes[m][i].grade for m in (Missing.AGAINST, Missing.FOR))
                grade = lowest((found.grade, worst, best))
                found = replace(found, grade=grade, if_missing=(worst, best))
            out[i] = found
        return out

    def _beside(self, primary: dict[int, _Graded]) -> tuple[dict[int, Beside], dict[Key, LotTest]]:
        return Secondaries(
            self.plan, self.results, self.reference, self.redealer, self.deals, self.shared,
            self.timed, self.lot_drawn,
        ).run(list(primary), {i: p.is_final for i, p in primary.items()})  # fmt: skip

    def _on_what_was_asked(
        self, primary: dict[int, _Graded], found: dict[Key, LotTest]
    ) -> dict[int, Grade]:
        """Grades on the plan's own measure, Holm over its family; strike is graded already."""
        if self.plan.measure is Measure.STRIKE:
            return {i: p.grade for i, p in primary.items()}
        kind = "speed" if self.plan.measure is Measure.SPEED else "quality"
        family = [i for i in primary if (kind, i) in found]
        ps = dict(zip(family, holm([firm(found[kind, i]) for i in family]), strict=True))
        out = {}
        for i, p in primary.items():
            if p.grade is Grade.CANNOT_TELL:
                out[i] = Grade.CANNOT_TELL
            elif i not in ps:
                out[i] = Grade.TOO_CLOSE
            else:
                test = found[kind, i]
                out[i] = grade_of(
                    p_holm=ps[i],
                    floor_holm=p.floor_holm or 0.0,
                    ahead=test.up < test.down,
                    interval=None,
                    may_be_clear=p.is_final and self.lot_drawn is not False,
                )
        return out

    def _removed(self, i: int, horizon: float) -> bool:
        shares = unit_shares(self.results.only((i, self.reference)), horizon)
        return bool(shares.removed.any())

    def _primary(self, i: int, horizon: float, missing: Missing) -> _Primary:
        shares = unit_shares(self.results.only((i, self.reference)), horizon, i, missing)
        units, left_out = comparable(shares, i, self.reference)
        treated = units.treatment == i
        if horizon == 0 or not treated.any():
            return _Primary(None, None, None, None, left_out, False)
        if self.shared:
            return _Primary(
                None, None, gap(units, i, singly_over_shared=True), None, left_out, False
            )
        nothing = float(np.ptp(units.share)) == 0 and float(units.share[0]) in (0.0, 1.0)
        test = self.redealer.test(
            units.share, treated, units.block, deals=self.deals, held=units.held, line=units.line
        )
        floor = floor_within(treated, units.block, units.held, units.line)
        return _Primary(test, floor, gap(units, i), gap(units, i, 0.90), left_out, nothing)

    def _graded(
        self, others: Sequence[int], horizon: dict[int, float], missing: Missing
    ) -> dict[int, _Graded]:
        """Primary result, Holm p, Holm floor and grade of every comparison, one way of counting."""
        primaries = {i: self._primary(i, horizon[i], missing) for i in others}
        family = [i for i in others if self.plan.treatments[i].role not in CHECKS]
        ps, floors = self._adjusted(primaries, family)
        for i in others:
            if i not in family:
                alone_p, alone_floor = self._adjusted(primaries, [i])
                ps |= alone_p
                floors |= alone_floor
        return {
            i: _Graded(
                i, horizon[i], self._is_final(horizon[i]), primaries[i], ps.get(i), floors.get(i),
                self._grade(i, primaries[i], ps, floors, horizon[i]),
            )
            for i in others
        }  # fmt: skip

    @staticmethod
    def _adjusted(
        primaries: dict[int, _Primary], family: Sequence[int]
    ) -> tuple[dict[int, float], dict[int, float]]:
        tested = [i for i in family if primaries[i].test is not None]
        ps = holm([t.p for i in tested if (t := primaries[i].test) is not None])
        floors = holm([f for i in tested if (f := primaries[i].floor) is not None])
        return dict(zip(tested, ps, strict=True)), dict(zip(tested, floors, strict=True))

    def _grade(
        self,
        i: int,
        primary: _Primary,
        ps: dict[int, float],
        floors: dict[int, float],
        horizon: float,
    ) -> Grade:
        if primary.test is None:
            return Grade.CANNOT_TELL if self.shared else Grade.TOO_CLOSE
        if self._entangled_in(i):
            return Grade.CANNOT_TELL
        final = self._is_final(horizon)
        grade = grade_of(
            p_holm=ps[i],
            floor_holm=floors[i],
            ahead=primary.test.up < primary.test.down,
            interval=primary.gap,
            is_level=final and self._is_level(primary, i, horizon),
            may_be_clear=final and self.lot_drawn is not False,
        )
        if primary.nothing and grade is not Grade.CANNOT_TELL:
            return Grade.TOO_CLOSE
        return grade

    def _entangled_in(self, i: int) -> str:
        """Why the design cannot tell this arm's effect from something else; empty where it can."""
        return next((because(self.plan, e) for e in self.entangled if e.treatment == i), "")

    def _is_final(self, horizon: float) -> bool:
        return self.end_day is None or horizon >= self.end_day

    def _is_level(self, primary: _Primary, i: int, horizon: float) -> bool:
        limits = primary.gap90
        if limits is None or limits.low is None or limits.high is None or self.lot_drawn is False:
            return False
        margin = self.plan.gap_points / 100
        if not -margin < limits.low <= limits.high < margin:
            return False
        return harm_of(self.containers, i, self.reference, horizon, self.redealer).loss_alike

    def _comparison(self, found: _Graded, asked: Grade, beside: Beside) -> Comparison:
        i, primary, grade = found.index, found.primary, found.grade
        harm = harm_of(self.containers, i, self.reference, found.horizon, self.redealer)
        margin = self.plan.gap_points / 100
        small = (
            grade in (Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND)
            and primary.gap90 is not None
            and primary.gap90.low is not None
            and primary.gap90.high is not None
            and -margin < primary.gap90.low <= primary.gap90.high < margin
        )
        comparison = Comparison(
            i,
            found.horizon,
            found.is_final,
            primary.gap,
            primary.gap90,
            primary.test,
            found.p_holm,
            primary.floor,
            found.floor_holm,
            grade,
            asked,
            found.if_missing,
            small,
            harm.harm,
            harm.possible,
            harm.by_injury,
            primary.left_out,
            beside.over_time,
            beside.quality,
            beside.figures.superiority,
            beside.figures.superiority_struck,
            self._sooner(i, beside, primary),
            SHARED if self.shared else self._entangled_in(i),
            self._settle(i, primary, found.horizon),
            "",
        )
        return replace(
            comparison,
            sentence=words.verdict(self.plan, self.reference, comparison, primary.nothing),
        )

    def _sooner(self, i: int, beside: Beside, primary: _Primary) -> Sooner:
        """Whether a lead over time may be called sooner, and on what that rests."""
        if beside.over_time.grade not in (Grade.CLEAR_LEAD, Grade.LIKELY_LEAD):
            return Sooner.NO
        limits, margin = primary.gap90, self.plan.gap_points / 100
        if (
            limits is not None and limits.low is not None and limits.high is not None
            and -margin < limits.low <= limits.high < margin
        ):  # fmt: skip
            return Sooner.ALIKE
        arm, by = self.results.treatment[self.results.unit], self.results.by
        days = [by[(arm == a) & np.isfinite(by)] for a in (i, self.reference)]
        if len(days[0]) and len(days[1]) and days[0].mean() < days[1].mean():
            return Sooner.STRUCK
        return Sooner.NO

    def _settle(self, i: int, primary: _Primary, horizon: float) -> tuple[tuple[str, int], ...]:
        """Single plants an arm that would settle it, at the gaps worth asking about."""
        if primary.gap is None:
            return ()
        shares = unit_shares(self.results.only((i, self.reference)), horizon)
        base = shares.keep((shares.treatment == self.reference) & (shares.counted > 0)).share.mean()
        return units_to_settle(
            float(base), primary.gap, self.plan.gap_points / 100, len(self.plan.candidates)
        )
