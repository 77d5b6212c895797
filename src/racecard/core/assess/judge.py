"""The finish: every treatment against the control, graded, with its doubt and its limits."""

from dataclasses import dataclass, replace

from racecard.core.assess.grade import Grade, any_clear, grade_of, page_allows
from racecard.core.assess.harm import harm_of
from racecard.core.assess.horizon import horizon_of_all, looked_at
from racecard.core.assess.judgement import (
    Asked,
    Comparison,
    GradeOutcome,
    Judgement,
    Why,
)
from racecard.core.assess.lanes import arm_of
from racecard.core.assess.primary import Graded, Primary, PrimaryResults, Remembered
from racecard.core.assess.quality import Quality
from racecard.core.assess.secondary import Beside, Key, Secondaries, Secondary
from racecard.core.assess.sooner import sooner_of
from racecard.core.assess.strike import (
    SHARED,
    unit_shares,
)
from racecard.core.assess.to_settle import Settled, settled_by
from racecard.core.model import Measure, Plan
from racecard.core.model.differences import entangled
from racecard.core.model.results import Results
from racecard.core.stats.multiplicity import CLEAR_LIMIT, below, holm
from racecard.core.stats.permutation import (
    RESAMPLES,
    PermutationResult,
    PermutationTest,
    firm,
)


def grades_only(
    plan: Plan,
    results: Results,
    *,
    permutations: PermutationTest,
    resamples: int = RESAMPLES,
    lot_drawn: bool | None = True,
    end_day: float | None = None,
    remembered: Remembered | None = None,
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
    context.trial.remembered = remembered
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
        context.trial.refused = refused
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
    trial = PrimaryResults(
        plan, results, containers, plan.reference, permutations, resamples, shared, lot_drawn, end_day,
        tuple(e for e in entangled(plan) if not e.is_carrier_alone),
    )  # fmt: skip
    return _Context(trial, timed)


@dataclass(slots=True)
class _Context:
    """The comparisons of one trial; `timed`: whether the results tell days."""

    trial: PrimaryResults
    timed: bool

    def compare_all(self) -> tuple[Comparison, ...]:
        """Every comparison, whole."""
        primary = self.trial.graded()
        secondary, found = self._beside(primary)
        asked = self._on_what_was_asked(primary, found)
        primary = self._beside_what_was_asked(primary, asked)
        return tuple(self._comparison(p, asked[i], secondary[i]) for i, p in primary.items())

    def call_all(self) -> tuple[GradeOutcome, ...]:
        """The grades alone, by the same steps."""
        primary = self.trial.graded()
        found = {} if self.trial.plan.measure is Measure.STRIKE else self._beside(primary)[1]
        asked = self._on_what_was_asked(primary, found)
        primary = self._beside_what_was_asked(primary, asked)
        return tuple(
            GradeOutcome(
                i, p.grade, asked[i].grade, p.primary.gap.estimate if p.primary.gap else None
            )
            for i, p in primary.items()
        )

    def _beside(
        self, primary: dict[int, Graded]
    ) -> tuple[dict[int, Beside], dict[Key, PermutationResult]]:
        judged = {i: p for i, p in primary.items() if p.primary.why is not Why.NOT_LOOKED_AT}
        beside, found = Secondaries(
            self.trial.plan, self.trial.results, self.trial.reference, self.trial.permutations, self.trial.resamples, self.trial.shared,
            self.timed, self.trial.lot_drawn, {i: p.horizon.age for i, p in judged.items()},
            self.trial.plan.measure is Measure.STRIKE and any_clear(p.grade for p in judged.values()),
            frozenset(i for i, p in judged.items() if p.if_missing or p.horizon.stopped_early),
        ).run(list(judged), {i: p.horizon.reached for i, p in judged.items()})  # fmt: skip
        nothing = Secondary(None, None, None, "not looked at yet")
        for i in primary.keys() - judged.keys():
            beside[i] = Beside(nothing, nothing, Quality(None, None, None))
        return beside, found

    def _on_what_was_asked(
        self, primary: dict[int, Graded], found: dict[Key, PermutationResult]
    ) -> dict[int, Asked]:
        """Results on the plan's own measure, Holm over its family; strike is graded already."""
        if self.trial.plan.measure is Measure.STRIKE:
            return {
                i: Asked(p.grade, p.primary.test.p if p.primary.test else None, p.p_holm)
                for i, p in primary.items()
            }
        kind = "speed" if self.trial.plan.measure is Measure.SPEED else "quality"
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
                    may_be_clear=self.trial.may_be_clear(p.horizon) and p.if_missing is None,
                )
                out[i] = replace(told, grade=grade)
        return out

    def _beside_what_was_asked(
        self, primary: dict[int, Graded], asked: dict[int, Asked]
    ) -> dict[int, Graded]:
        """Strike where the trial is judged on something else: secondary, and clear only as the page allows."""
        if self.trial.plan.measure is Measure.STRIKE:
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

    def _comparison(self, found: Graded, asked: Asked, beside: Beside) -> Comparison:
        i, primary, grade = found.index, found.primary, found.grade
        age = found.horizon.age
        harm = harm_of(self.trial.containers, i, self.trial.reference, age, self.trial.permutations)
        margin = self.trial.plan.gap_points / 100
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
                self.trial.results.only((i, self.trial.reference)),
                i,
                self.trial.reference,
                beside.over_time.grade,
                primary.gap90,
                self.trial.plan.gap_points / 100,
            ),
            SHARED if self.trial.shared else self.trial.entangled_in(i),
            self._settle(i, primary, age),
            self._why(i, primary),
            found.horizon.stopped_early,
            primary.apart,
            (harm.lost, harm.n, harm.lost_control, harm.n_control),
            asked.p,
            asked.p_holm,
        )

    def _why(self, i: int, primary: Primary) -> Why:
        if primary.why is Why.NOT_LOOKED_AT:
            known = looked_at(self.trial.results)
            seen = set(self.trial.results.treatment[self.trial.results.unit[known]].tolist())
            return Why.NOT_LOOKED_FOR if len(seen & {i, self.trial.reference}) == 1 else primary.why
        if self.trial.is_refused(i):
            return Why.THINNED
        if primary.why is Why.TESTED and self.trial.entangled_in(i):
            return Why.ENTANGLED
        return primary.why

    def _settle(self, i: int, primary: Primary, age: float) -> tuple[Settled, ...]:
        """Units of each treatment that would settle it, at the differences worth asking about."""
        if primary.gap is None:
            return ()
        shares = unit_shares(self.trial.results.only((i, self.trial.reference)), age)
        return settled_by(
            shares, i, primary.gap, self.trial.plan.gap_points / 100, len(self.trial.plan.candidates),
            may_be_seen=primary.why is Why.TESTED and primary.test is not None
            and primary.minimum_p is not None and below(primary.minimum_p, CLEAR_LIMIT),
            usual_icc=self.trial.plan.icc,
        )  # fmt: skip
