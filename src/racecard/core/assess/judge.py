"""The finish: every treatment against the control, graded, with its doubt and its limits."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from racecard.core.arrays import Bools
from racecard.core.assess.counted import counts_by_arm, is_plain
from racecard.core.assess.grade import Grade, any_clear, grade_of, lowest, page_allows
from racecard.core.assess.harm import harm_of
from racecard.core.assess.horizon import Horizon, horizon_of, horizon_of_all, looked_at
from racecard.core.assess.judgement import (
    Asked,
    Comparison,
    GradeOutcome,
    Judgement,
    Why,
)
from racecard.core.assess.lanes import arm_of
from racecard.core.assess.quality import Quality
from racecard.core.assess.secondary import Beside, Key, Secondaries, Secondary
from racecard.core.assess.sooner import sooner_of
from racecard.core.assess.strike import (
    HELD_AT_ZERO,
    SHARED,
    Missing,
    Shares,
    comparable,
    estimated_rate,
    gap,
    unit_shares,
)
from racecard.core.assess.to_settle import Settled, settled_by
from racecard.core.model import CHECKS, Measure, Plan
from racecard.core.model.differences import Entangled, because, entangled
from racecard.core.model.results import Results
from racecard.core.stats.multiplicity import CLEAR_LIMIT, below, holm
from racecard.core.stats.permutation import (
    RESAMPLES,
    PermutationResult,
    PermutationTest,
    firm,
    minimum_p_within,
    refined,
)
from racecard.core.stats.proportions import Interval


@dataclass(frozen=True, slots=True)
class _Primary:
    """The primary result of one comparison before grading."""

    test: PermutationResult | None
    minimum_p: float | None
    gap: Interval | None
    gap90: Interval | None
    left_out: int
    why: Why
    apart: bool = False


Remembered = dict[tuple[bytes, bytes], _Primary]
"""Primary results by the counts of a treatment and of its reference."""


@dataclass(frozen=True, slots=True)
class _Graded:
    """A primary result with its family's corrections and its grade; `if_missing`: the grades with
    all that were taken out counted against and for it.
    """

    index: int
    horizon: Horizon
    primary: _Primary
    p_holm: float | None
    minimum_p_holm: float | None
    grade: Grade | None
    if_missing: tuple[Grade | None, Grade | None] | None = None


def grades_only(
    plan: Plan,
    results: Results,
    *,
    permutations: PermutationTest,
    resamples: int = RESAMPLES,
    lot_drawn: bool | None = True,
    end_day: float | None = None,
    remembered: "Remembered | None" = None,
) -> tuple[GradeOutcome, ...]:
    """The grades of `judge` alone, by the same steps; for dry runs, which ask for nothing else.

    Args:
        plan: the frozen plan.
        results: what was seen.
        permutations: runs the lot tests, shared by many trials of one design.
        resamples: re-dealings of sampled tests.
        lot_drawn: whether the bench was drawn by lot.
        end_day: last day of the plan.
        remembered: primary results of trials of this plan by what was counted, shared likewise; asked
            where nothing but the counts matters, and added to.
    """
    shared = plan.count_singly and results.has_shared_containers
    seen = results.counted_singly() if shared else results
    context = _context(
        plan, seen, results, permutations, resamples, shared, lot_drawn, end_day, True
    )
    if context is None:
        return ()
    context.remembered = remembered
    return context.call_all()


def judge(
    plan: Plan,
    results: Results,
    *,
    seed: int,
    resamples: int = RESAMPLES,
    lot_drawn: bool | None = True,
    end_day: float | None = None,
    timed: bool = True,
    permutations: PermutationTest | None = None,
    refused: frozenset[int] = frozenset(),
) -> Judgement:
    """Judge a trial.

    Args:
        plan: the frozen plan; treatments are indexed as in `results.treatment`.
        results: what was seen, in days.
        seed: the trial's stored seed; sampled tests take their stream from it.
        resamples: re-dealings of sampled tests.
        lot_drawn: whether the bench was drawn by lot; None where nobody recorded it.
        end_day: last day of the plan; None takes the results as finished.
        timed: False where the results tell no days, so that nothing is said of time.
        permutations: what runs the lot tests, where it is shared with others; else one of this seed.
        refused: treatments whose survivors were chosen, so that they are not compared.
    """
    containers = results
    shared = plan.count_singly and results.has_shared_containers
    if shared:
        results = results.counted_singly()
    permutations = permutations or PermutationTest(seed)
    together = horizon_of_all(results, end_day)
    arms = tuple(
        arm_of(results, i, end_day, shared, timed, together) for i in range(len(plan.treatments))
    )
    context = _context(
        plan, results, containers, permutations, resamples, shared, lot_drawn, end_day, timed
    )
    if context is not None:
        context.refused = refused
    comparisons = () if context is None else context.compare_all()
    day = max((c.horizon for c in comparisons), default=together.age)
    seen = [c for c in comparisons if c.why is not Why.NOT_LOOKED_AT]
    is_final = all(c.is_final for c in seen) if seen else together.reached
    stopped = any(c.stopped_early for c in comparisons)
    return Judgement(day, is_final, arms, comparisons, stopped)


def _context(
    plan: Plan, results: Results, containers: Results, permutations: PermutationTest, resamples: int, shared: bool,
    lot_drawn: bool | None, end_day: float | None, timed: bool,
) -> "_Context | None":  # fmt: skip
    """What runs the comparisons; None where the plan has nothing to compare with."""
    if plan.reference is None:
        return None
    return _Context(
        plan, results, containers, plan.reference, permutations, resamples, shared, lot_drawn, end_day, timed,
        tuple(e for e in entangled(plan) if not e.is_carrier_alone),
    )  # fmt: skip


@dataclass(slots=True)
class _Context:
    plan: Plan
    results: Results
    containers: Results
    reference: int
    permutations: PermutationTest
    resamples: int
    shared: bool
    lot_drawn: bool | None
    end_day: float | None
    timed: bool
    entangled: tuple[Entangled, ...]
    refused: frozenset[int] = frozenset()
    remembered: "Remembered | None" = None

    def compare_all(self) -> tuple[Comparison, ...]:
        """Every comparison, whole."""
        primary = self._all_primary()
        secondary, found = self._beside(primary)
        asked = self._on_what_was_asked(primary, found)
        primary = self._beside_what_was_asked(primary, asked)
        return tuple(self._comparison(p, asked[i], secondary[i]) for i, p in primary.items())

    def call_all(self) -> tuple[GradeOutcome, ...]:
        """The grades alone, by the same steps."""
        primary = self._all_primary()
        found = {} if self.plan.measure is Measure.STRIKE else self._beside(primary)[1]
        asked = self._on_what_was_asked(primary, found)
        primary = self._beside_what_was_asked(primary, asked)
        return tuple(
            GradeOutcome(
                i, p.grade, asked[i].grade, p.primary.gap.estimate if p.primary.gap else None
            )
            for i, p in primary.items()
        )

    def _all_primary(self) -> dict[int, _Graded]:
        """The primary result of every treatment that has units, graded with what is missing."""
        others = [i for i in range(len(self.plan.treatments)) if i != self.reference]
        others = [i for i in others if np.any(self.results.treatment == i)]
        if not others or not np.any(self.results.treatment == self.reference):
            return {}
        if self.remembered is not None and is_plain(self.results, self.end_day):
            return self._by_counts(others, self.remembered)
        horizon = {
            i: horizon_of(self.results.only((i, self.reference)), self.end_day) for i in others
        }
        scenes = {Missing.LEFT_OUT: self._graded(others, horizon, Missing.LEFT_OUT)}
        touched = {i: self._is_missing(i, horizon[i].age) for i in others}
        if any(touched.values()):
            for missing in (Missing.AGAINST, Missing.FOR):
                scenes[missing] = self._graded(others, horizon, missing)
        out = {}
        for i in others:
            found = scenes[Missing.LEFT_OUT][i]
            if touched[i] and found.grade is not None:
                worst, best = (scenes[m][i].grade for m in (Missing.AGAINST, Missing.FOR))
                graded = [g for g in (found.grade, worst, best) if g is not None]
                grade = lowest(graded)
                if found.primary.apart and grade is not Grade.CANNOT_TELL:
                    grade = Grade.TOO_CLOSE
                found = replace(found, grade=grade, if_missing=(worst, best))
            out[i] = found
        return out

    def _by_counts(self, others: Sequence[int], known: "Remembered") -> dict[int, _Graded]:
        """The same where only the counts matter: each comparison made once for counts like these."""
        assert self.end_day is not None
        horizon = dict.fromkeys(others, Horizon(self.end_day, True))
        keys = counts_by_arm(self.results)
        primaries = {}
        for i in others:
            key = keys[i], keys[self.reference]
            found = known.get(key)
            if found is None:
                found = self._primary(i, horizon[i], Missing.LEFT_OUT)
                if found.test is None or found.test.is_exact:
                    known[key] = found
            primaries[i] = found
        return self._graded_from(primaries, others, horizon, Missing.LEFT_OUT)

    def _beside(
        self, primary: dict[int, _Graded]
    ) -> tuple[dict[int, Beside], dict[Key, PermutationResult]]:
        judged = {i: p for i, p in primary.items() if p.primary.why is not Why.NOT_LOOKED_AT}
        beside, found = Secondaries(
            self.plan, self.results, self.reference, self.permutations, self.resamples, self.shared,
            self.timed, self.lot_drawn, {i: p.horizon.age for i, p in judged.items()},
            self.plan.measure is Measure.STRIKE and any_clear(p.grade for p in judged.values()),
            frozenset(i for i, p in judged.items() if p.if_missing or p.horizon.stopped_early),
        ).run(list(judged), {i: p.horizon.reached for i, p in judged.items()})  # fmt: skip
        nothing = Secondary(None, None, None, "not looked at yet")
        for i in primary.keys() - judged.keys():
            beside[i] = Beside(nothing, nothing, Quality(None, None, None))
        return beside, found

    def _on_what_was_asked(
        self, primary: dict[int, _Graded], found: dict[Key, PermutationResult]
    ) -> dict[int, Asked]:
        """Results on the plan's own measure, Holm over its family; strike is graded already."""
        if self.plan.measure is Measure.STRIKE:
            return {
                i: Asked(p.grade, p.primary.test.p if p.primary.test else None, p.p_holm)
                for i, p in primary.items()
            }
        kind = "speed" if self.plan.measure is Measure.SPEED else "quality"
        family = [i for i in primary if (kind, i) in found]
        ps = dict(zip(family, holm([firm(found[kind, i]) for i in family]), strict=True))
        out: dict[int, Asked] = {}
        for i, p in primary.items():
            test = found.get((kind, i))
            told = Asked(p.grade, None if test is None else test.p, ps.get(i))
            if p.grade is Grade.CANNOT_TELL or p.grade is None:
                out[i] = told
            elif test is None:
                out[i] = replace(told, grade=Grade.TOO_CLOSE)
            else:
                grade = grade_of(
                    p_holm=ps[i],
                    minimum_p_holm=p.minimum_p_holm or 0.0,
                    ahead=test.up < test.down,
                    interval=None,
                    may_be_clear=self._may_be_clear(p.horizon) and p.if_missing is None,
                )
                out[i] = replace(told, grade=grade)
        return out

    def _beside_what_was_asked(
        self, primary: dict[int, _Graded], asked: dict[int, Asked]
    ) -> dict[int, _Graded]:
        """Strike where the trial is judged on something else: secondary, and clear only as the page allows."""
        if self.plan.measure is Measure.STRIKE:
            return primary
        gate = any_clear(a.grade for a in asked.values())
        lower: dict[Grade | None, Grade] = {
            Grade.CLEAR_LEAD: Grade.LIKELY_LEAD,
            Grade.CLEARLY_BEHIND: Grade.LIKELY_BEHIND,
        }
        out = {}
        for i, p in primary.items():
            allowed = page_allows(p.p_holm or 0.0, 2, any_clear=gate)
            is_clear = p.grade in lower
            out[i] = p if allowed or not is_clear else replace(p, grade=lower[p.grade])
        return out

    def _may_be_clear(self, horizon: Horizon) -> bool:
        return horizon.reached and not horizon.stopped_early and self.lot_drawn is not False

    def _is_missing(self, i: int, age: float) -> bool:
        """Whether anything was left out of the count of this comparison."""
        return not unit_shares(self.results.only((i, self.reference)), age).is_whole

    def _primary(self, i: int, horizon: Horizon, missing: Missing) -> _Primary:
        pair = self.results.only((i, self.reference))
        if horizon.age == 0:
            return _Primary(None, None, None, None, 0, Why.NOT_LOOKED_AT)
        shares = unit_shares(pair, horizon.age, i, missing)
        units, left_out = comparable(shares, i, self.reference)
        treated = units.treatment == i
        if self.shared:
            both = shares.keep(shares.counted > 0)
            found = gap(both, i, singly_over_shared=True) if len(both.sizes) else None
            return _Primary(None, None, found, None, left_out, Why.SHARED)
        if not treated.any():
            is_blocks = shares.is_whole or missing is not Missing.LEFT_OUT
            why = Why.BLOCKS if is_blocks else Why.NOTHING_LEFT
            return _Primary(None, None, None, None, left_out, why)
        test = self._test(units, treated, self.resamples)
        minimum_p = minimum_p_within(treated, units.block, units.held, units.line)
        rates = self._rates(pair, i, horizon.age) if missing is Missing.LEFT_OUT else None
        found = gap(units, i, rates=rates)
        apart = found.estimate * float(units.share[treated].mean() - units.share[~treated].mean())
        why = Why.TESTED
        if min(treated.sum(), (~treated).sum()) == 1:
            why = Why.ONE_UNIT
        elif float(np.ptp(units.share)) == 0 and float(units.share[0]) in (0.0, 1.0):
            why = Why.ALL_STRUCK if units.share[0] == 1.0 else Why.NONE_STRUCK
        return _Primary(
            test, minimum_p, _not_beyond(found, test), gap(units, i, 0.90, rates=rates), left_out, why,
            rates is not None and apart < 0,
        )  # fmt: skip

    def _rates(self, pair: Results, i: int, age: float) -> tuple[float, float] | None:
        """The curves' rates of both arms where something was left out, of single plants alone."""
        if pair.has_shared_containers or len(np.unique(pair.block)) > 1:
            return None
        told = [estimated_rate(pair, arm, age) for arm in (i, self.reference)]
        if told == [None, None]:
            return None
        shares = unit_shares(pair, age)
        plain = []
        for arm in (i, self.reference):
            mine = shares.keep((shares.treatment == arm) & (shares.counted > 0))
            plain.append(float(mine.share.mean()) if len(mine.sizes) else 0.0)
        one, zero = (p if t is None else t for p, t in zip(plain, told, strict=True))
        return one, zero

    def _test(self, units: Shares, treated: Bools, resamples: int) -> PermutationResult:
        return self.permutations.test(
            units.share, treated, units.block, resamples=resamples, held=units.held, line=units.line
        )

    def _graded(
        self, others: Sequence[int], horizon: dict[int, Horizon], missing: Missing
    ) -> dict[int, _Graded]:
        """Primary result, Holm p, Holm floor and grade of every comparison, one way of counting."""
        primaries = {i: self._primary(i, horizon[i], missing) for i in others}
        return self._graded_from(primaries, others, horizon, missing)

    def _graded_from(
        self, primaries: dict[int, _Primary], others: Sequence[int], horizon: dict[int, Horizon],
        missing: Missing,
    ) -> dict[int, _Graded]:  # fmt: skip
        """The same from primary results that are there."""
        family = [i for i in others if self.plan.treatments[i].role not in CHECKS]
        if self.resamples >= RESAMPLES:  # a dry run, which asks for fewer, is not refined
            primaries = self._refined(primaries, family, horizon, missing)
        ps, floors = self._adjusted(primaries, family)
        for i in others:
            if i not in family:
                alone_p, alone_floor = self._adjusted(primaries, [i])
                ps |= alone_p
                floors |= alone_floor
        return {
            i: _Graded(
                i, horizon[i], primaries[i], ps.get(i), floors.get(i),
                self._grade(i, primaries[i], ps, floors, horizon[i]),
            )
            for i in others
        }  # fmt: skip

    def _refined(
        self, primaries: dict[int, _Primary], family: Sequence[int], horizon: dict[int, Horizon],
        missing: Missing,
    ) -> dict[int, _Primary]:  # fmt: skip
        """The same with sampled p values near a limit dealt more often."""

        def again(i: int, resamples: int) -> PermutationResult:
            shares = unit_shares(self.results.only((i, self.reference)), horizon[i].age, i, missing)
            units, _ = comparable(shares, i, self.reference)
            return self._test(units, units.treatment == i, resamples)

        tests = {i: p.test for i, p in primaries.items() if p.test is not None}
        found = refined(
            tests,
            lambda i, now: [
                [t for k, t in now.items() if k in family] if i in family else [now[i]]
            ],
            again,
        )
        return {
            i: replace(
                p, test=found[i], gap=None if p.gap is None else _not_beyond(p.gap, found[i])
            )
            if i in found and found[i] is not p.test else p
            for i, p in primaries.items()
        }  # fmt: skip

    @staticmethod
    def _adjusted(
        primaries: dict[int, _Primary], family: Sequence[int]
    ) -> tuple[dict[int, float], dict[int, float]]:
        tested = [i for i in family if primaries[i].test is not None]
        ps = holm([firm(t) for i in tested if (t := primaries[i].test) is not None])
        floors = holm([f for i in tested if (f := primaries[i].minimum_p) is not None])
        return dict(zip(tested, ps, strict=True)), dict(zip(tested, floors, strict=True))

    def _grade(
        self,
        i: int,
        primary: _Primary,
        ps: dict[int, float],
        floors: dict[int, float],
        horizon: Horizon,
    ) -> Grade | None:
        if primary.why is Why.NOT_LOOKED_AT:
            return None
        if primary.test is None:
            return Grade.TOO_CLOSE if primary.why is Why.NOTHING_LEFT else Grade.CANNOT_TELL
        if primary.why is Why.ONE_UNIT or self._entangled_in(i) or self._is_refused(i):
            return Grade.CANNOT_TELL
        grade = grade_of(
            p_holm=ps[i],
            minimum_p_holm=floors[i],
            ahead=primary.test.up < primary.test.down,
            interval=primary.gap,
            is_level=horizon.reached and self._is_level(primary, i, horizon.age),
            may_be_clear=self._may_be_clear(horizon),
        )
        if primary.why in (Why.ALL_STRUCK, Why.NONE_STRUCK) and grade is not Grade.CANNOT_TELL:
            return Grade.TOO_CLOSE
        return grade

    def _is_refused(self, i: int) -> bool:
        return bool(self.refused & {i, self.reference})

    def _entangled_in(self, i: int) -> str:
        """Why the design cannot tell this arm's effect from something else; empty where it can."""
        return next((because(self.plan, e) for e in self.entangled if e.treatment == i), "")

    def _is_level(self, primary: _Primary, i: int, horizon: float) -> bool:
        limits = primary.gap90
        if limits is None or limits.low is None or limits.high is None or self.lot_drawn is False:
            return False
        margin = self.plan.gap_points / 100
        if not -margin < limits.low <= limits.high < margin:
            return False
        return harm_of(self.containers, i, self.reference, horizon, self.permutations).loss_alike

    def _comparison(self, found: _Graded, asked: Asked, beside: Beside) -> Comparison:
        i, primary, grade = found.index, found.primary, found.grade
        age = found.horizon.age
        harm = harm_of(self.containers, i, self.reference, age, self.permutations)
        margin = self.plan.gap_points / 100
        small = (
            grade in (Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND)
            and primary.gap is not None
            and primary.gap.low is not None
            and primary.gap.high is not None
            and -margin < primary.gap.low <= primary.gap.high < margin
        )
        return Comparison(
            i,
            age,
            found.horizon.reached,
            primary.gap,
            primary.gap90,
            primary.test,
            found.p_holm,
            primary.minimum_p,
            found.minimum_p_holm,
            grade,
            asked.grade,
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
            sooner_of(
                self.results.only((i, self.reference)),
                i,
                self.reference,
                beside.over_time.grade,
                primary.gap90,
                self.plan.gap_points / 100,
            ),
            SHARED if self.shared else self._entangled_in(i),
            self._settle(i, primary, age),
            self._why(i, primary),
            found.horizon.stopped_early,
            primary.apart,
            (harm.lost, harm.n, harm.lost_control, harm.n_control),
            asked.p,
            asked.p_holm,
        )

    def _why(self, i: int, primary: _Primary) -> Why:
        if primary.why is Why.NOT_LOOKED_AT:
            known = looked_at(self.results)
            seen = set(self.results.treatment[self.results.unit[known]].tolist())
            return Why.NOT_LOOKED_FOR if len(seen & {i, self.reference}) == 1 else primary.why
        if self._is_refused(i):
            return Why.THINNED
        if primary.why is Why.TESTED and self._entangled_in(i):
            return Why.ENTANGLED
        return primary.why

    def _settle(self, i: int, primary: _Primary, age: float) -> tuple[Settled, ...]:
        """Units of each treatment that would settle it, at the differences worth asking about."""
        if primary.gap is None:
            return ()
        shares = unit_shares(self.results.only((i, self.reference)), age)
        return settled_by(
            shares, i, primary.gap, self.plan.gap_points / 100, len(self.plan.candidates),
            may_be_seen=primary.why is Why.TESTED and primary.test is not None
            and primary.minimum_p is not None and below(primary.minimum_p, CLEAR_LIMIT),
            usual_icc=self.plan.icc,
        )  # fmt: skip


def _not_beyond(found: Interval, test: PermutationResult) -> Interval:
    """The interval with its limit nearer 0 at 0 where its own unadjusted test does not leave 0 out."""
    if not found.leaves_out_zero or below(test.p, CLEAR_LIMIT):
        return found
    low, high = (0.0, found.high) if found.estimate > 0 else (found.low, 0.0)
    return replace(found, low=low, high=high, reason=HELD_AT_ZERO)
