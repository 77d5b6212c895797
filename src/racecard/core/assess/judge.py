"""The finish: every treatment against the control, graded, with its doubt and its limits."""

from dataclasses import dataclass, replace

from racecard.core.assess.grade import (
    AT_MOST_LIKELY,
    CLEAR,
    LEADS,
    Grade,
    Why,
    any_clear,
    grade_of,
    page_allows,
)
from racecard.core.assess.harm import Harm, harms_of
from racecard.core.assess.horizon import Horizon, horizon_of, horizon_of_all, looked_at, newest_look
from racecard.core.assess.judgement import Agent, Asked, Comparison, GradeOutcome, Judgement
from racecard.core.assess.lanes import arm_of
from racecard.core.assess.outcome import OnOutcome, on_outcome
from racecard.core.assess.primary import Graded, Primary, PrimaryResults, Remembered, carrier_of
from racecard.core.assess.quality import Quality
from racecard.core.assess.secondary import Beside, Key, Secondaries, Secondary, question_of
from racecard.core.assess.sooner import sooner_of
from racecard.core.assess.strike import SHARED
from racecard.core.model import Measure, Plan
from racecard.core.model.differences import entangled
from racecard.core.model.results import Results
from racecard.core.stats.multiplicity import two_claims
from racecard.core.stats.permutation import (
    RESAMPLES,
    PermutationResult,
    PermutationTest,
    firm,
    minimum_p_within,
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
    harms: bool = False,
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
        harms: whether harm is told too.
    """
    shared = plan.count_singly and results.has_shared_containers
    seen = results.counted_singly() if shared else results
    context = _context(
        plan, seen, results, permutations, resamples, shared, lot_drawn, end_day, True
    )
    if context is None:
        return ()
    context.trial.remembered = remembered
    return context.call_all(harms=harms)


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
    if not is_final:
        day = min(day, newest_look(results))
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
        strike, secondary, asked, agents = self._results()
        hurt = self.harms(strike)
        return tuple(
            self._comparison(p, asked[i], secondary[i], agents.get(i), hurt.get(i, Harm()))
            for i, p in strike.items()
        )

    def call_all(self, *, harms: bool = False) -> tuple[GradeOutcome, ...]:
        """The grades alone, by the same steps."""
        strike, _, asked, agents = self._results(secondaries=False)
        hurt = self.harms(strike) if harms else {}
        return tuple(
            GradeOutcome(
                i, asked[i].grade, p.grade, p.primary.gap.estimate if p.primary.gap else None,
                agents[i].grade if i in agents else None, i in hurt and hurt[i].harm,
            )
            for i, p in strike.items()
        )  # fmt: skip

    def _results(
        self, *, secondaries: bool = True
    ) -> tuple[dict[int, Graded], dict[int, Beside], dict[int, Asked], dict[int, Agent]]:
        """Strike, what stands beside it, what was asked, and what the agent did beyond its carrier."""
        strike = self.trial.graded()
        if self.trial.plan.measure is Measure.STRIKE:
            asked = {
                i: Asked(p.grade, p.primary.test.p if p.primary.test else None, p.p_holm)
                for i, p in strike.items()
            }
            agents = {
                i: Agent(g.grade, g.primary.test.p if g.primary.test else None, g.p_holm, k, self._outcome(g, i, k, g.grade) if secondaries else OnOutcome())
                for i, k in self.trial.agents(list(strike)).items() if (g := strike[i].agent) is not None
            }  # fmt: skip
            return strike, self._beside(strike)[0] if secondaries else {}, asked, agents
        secondary, found = self._beside(strike)
        asked, agents = self._on_what_was_asked(strike, found)
        return self._beside_what_was_asked(strike, asked), secondary, asked, agents

    def harms(self, strike: dict[int, Graded]) -> dict[int, Harm]:
        """Loss and injury of every treatment at the age it is judged at."""
        ages = {i: p.horizon.age for i, p in strike.items()}
        return harms_of(
            self.trial.containers,
            self.trial.reference,
            ages,
            self.trial.plan.family,
            self.trial.permutations,
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
    ) -> tuple[dict[int, Asked], dict[int, Agent]]:
        """Results on the plan's own measure, both claims of every candidate corrected together."""
        kind = "speed" if self.trial.plan.measure is Measure.SPEED else "quality"
        family = [i for i in self.trial.plan.family if (kind, i) in found]
        alone = {i: a for i in family if (a := self._beyond_carrier(i)) is not None}
        together, second = two_claims(
            [firm(found[kind, i]) for i in family], [firm(alone[i][1]) if i in alone else None for i in family]
        ) if family else ([], [])  # fmt: skip
        ps, out, agents = (
            dict(zip(family, together, strict=True)),
            dict[int, Asked](),
            dict[int, Agent](),
        )
        for i, p in primary.items():
            test = found.get((kind, i))
            told = (
                Asked(p.grade, None, None)
                if test is None
                else Asked(p.grade, test.p, ps.get(i, firm(test)))
            )
            if p.grade is Grade.CANNOT_TELL or p.grade is None:
                out[i] = told
            elif test is None:
                out[i] = replace(told, grade=Grade.TOO_CLOSE)
            else:
                may = self.trial.may_be_clear(p.horizon) and p.if_missing is None
                out[i] = replace(told, grade=_graded(told.p_holm, p.minimum_p_holm, test, may))
        for i, adjusted in zip(family, second, strict=True):
            if i in alone and adjusted is not None:
                carrier, test, floor, horizon = alone[i]
                may = self.trial.may_be_clear(horizon) and primary[i].if_missing is None
                grade = _graded(adjusted, floor * max(1, len(family)), test, may)
                beyond = replace(primary[i], horizon=horizon)
                agents[i] = Agent(
                    grade, test.p, adjusted, carrier, self._outcome(beyond, i, carrier, grade)
                )
        return out, agents

    def _beyond_carrier(self, i: int) -> tuple[int, PermutationResult, float, Horizon] | None:
        """A candidate against its carrier on the question's outcome: the carrier, the test, its floor, the age."""
        carrier, results = carrier_of(self.trial.plan, i), self.trial.results
        if carrier is None or self.trial.shared or not (results.treatment == carrier).any():
            return None
        horizon = horizon_of(results.only((i, carrier)), self.trial.end_day)
        asked = (
            question_of(self.trial.plan, results, i, carrier, horizon.age) if horizon.age else None
        )
        if asked is None:
            return None
        (test,) = self.trial.permutations.test_all([asked], resamples=self.trial.resamples)
        return (
            carrier,
            test,
            minimum_p_within(asked.treated, asked.block, asked.held, asked.line),
            horizon,
        )

    def _outcome(self, found: Graded, one: int, zero: int, grade: Grade | None) -> OnOutcome:
        return on_outcome(
            self.trial.plan,
            self.trial.results,
            found.primary,
            one,
            zero,
            found.horizon.age,
            is_ahead=grade in LEADS,
        )

    def _beside_what_was_asked(
        self, primary: dict[int, Graded], asked: dict[int, Asked]
    ) -> dict[int, Graded]:
        """Strike where the trial is judged on something else: secondary, and clear only as the page allows."""
        gate = any_clear(a.grade for a in asked.values())
        return {
            i: p if p.grade not in CLEAR or page_allows(p.p_holm or 0.0, 2, any_clear=gate)
            else replace(p, grade=AT_MOST_LIKELY[p.grade])
            for i, p in primary.items()
        }  # fmt: skip

    def _comparison(
        self, found: Graded, asked: Asked, beside: Beside, agent: Agent | None, hurt: Harm
    ) -> Comparison:
        i, primary, plan = found.index, found.primary, self.trial.plan
        margin, limits = plan.gap_points / 100, primary.gap
        small = (
            found.grade in CLEAR and limits is not None and limits.low is not None and limits.high is not None
            and -margin < limits.low <= limits.high < margin
        )  # fmt: skip
        pair = self.trial.results.only((i, self.trial.reference))
        return Comparison(
            index=i, asked=asked, strike=found, beside=beside, hurt=hurt, agent=agent, is_small=small,
            outcome=self._outcome(found, i, self.trial.reference, asked.grade),
            sooner=sooner_of(pair, i, self.trial.reference, beside.over_time.grade, primary.gap90, margin),
            reason=SHARED if self.trial.shared else self.trial.entangled_in(i), why=self._why(i, primary),
        )  # fmt: skip

    def _why(self, i: int, primary: Primary) -> Why:
        if primary.why is Why.NOT_LOOKED_AT:
            known = looked_at(self.trial.results)
            seen = set(self.trial.results.treatment[self.trial.results.unit[known]].tolist())
            return Why.NOT_LOOKED_FOR if len(seen & {i, self.trial.reference}) == 1 else primary.why
        if self.trial.refused & {i, self.trial.reference}:
            return Why.THINNED
        if primary.why is Why.TESTED and self.trial.entangled_in(i):
            return Why.ENTANGLED
        return primary.why


def _graded(
    p: float | None, floor: float | None, test: PermutationResult, may_be_clear: bool
) -> Grade:
    return grade_of(
        p_holm=1.0 if p is None else p, minimum_p_holm=min(1.0, floor or 0.0), ahead=test.up < test.down,
        interval=None, may_be_clear=may_be_clear,
    )  # fmt: skip
