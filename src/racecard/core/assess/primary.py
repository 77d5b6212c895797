"""The primary result of every comparison, on the share that struck: tested, corrected, and graded."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from racecard.core.arrays import Bools
from racecard.core.assess.counted import counts_by_arm, is_plain
from racecard.core.assess.grade import Grade, Why, grade_of, lowest
from racecard.core.assess.harm import harm_of
from racecard.core.assess.horizon import Horizon, horizon_of
from racecard.core.assess.strike import (
    HELD_AT_ZERO,
    Missing,
    Shares,
    comparable,
    estimated_rate,
    gap,
    unit_shares,
)
from racecard.core.model import CHECKS, Carrier, Measure, Plan, Role
from racecard.core.model.differences import Entangled, because
from racecard.core.model.results import Results
from racecard.core.stats.multiplicity import CLEAR_LIMIT, below, two_claims
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
class Primary:
    """The primary result of one comparison before grading."""

    test: PermutationResult | None
    minimum_p: float | None
    gap: Interval | None
    gap90: Interval | None
    left_out: int
    why: Why
    apart: bool = False


def carrier_of(plan: Plan, i: int) -> int | None:
    """Index of the carrier control of a candidate, or of a standard in that carrier: what carries its agent, alone; None where none stands.

    Args:
        plan: the plan.
        i: index of the treatment.
    """
    role, mine = plan.treatments[i].role, plan.treatments[i].carrier
    is_usual = role is Role.STANDARD and mine is not Carrier.NONE
    if i == plan.reference or not (role is Role.CANDIDATE or is_usual):
        return None
    carriers = [
        k for k, t in enumerate(plan.treatments) if t.role is Role.CARRIER and k != plan.reference
    ]
    return next((k for k in carriers if plan.treatments[k].carrier is mine), None)


Pair = tuple[int, int]
"""Index of a treatment, and of what it is compared with."""
Remembered = dict[tuple[bytes, bytes], Primary]
"""Primary results by the counts of a treatment and of its reference."""


@dataclass(frozen=True, slots=True)
class Graded:
    """A primary result with its family's corrections and its grade.

    `if_missing`: the grades with all that were taken out counted against and for it. `agent`: the same
    against the carrier, where one stands: what the agent itself did.
    """

    index: int
    horizon: Horizon
    primary: Primary
    p_holm: float | None
    minimum_p_holm: float | None
    grade: Grade | None
    if_missing: tuple[Grade | None, Grade | None] | None = None
    agent: "Graded | None" = None


@dataclass(slots=True)
class PrimaryResults:
    """What the results on strike of one trial are made from: the primary ones, where that is asked.

    `containers`: the results by container, where `results` counts plants singly; `refused`: treatments that
    are not compared; `remembered`: what is known of trials of this plan with the same counts.
    """

    plan: Plan
    results: Results
    containers: Results
    reference: int
    permutations: PermutationTest
    resamples: int
    shared: bool
    lot_drawn: bool | None
    end_day: float | None
    entangled: tuple[Entangled, ...]
    refused: frozenset[int] = frozenset()
    remembered: Remembered | None = None
    is_over: bool = True

    def graded(self) -> dict[int, Graded]:
        """The primary result of every treatment that has units, graded with what is missing."""
        others = [i for i in range(len(self.plan.treatments)) if i != self.reference]
        others = [i for i in others if np.any(self.results.treatment == i)]
        if not others or not np.any(self.results.treatment == self.reference):
            return {}
        if self.remembered is not None and is_plain(self.results, self.end_day):
            return self._by_counts(others, self.remembered)
        pairs = {i: self.reference for i in others}
        agents = self.agents(others)
        horizon = {
            pair: horizon_of(self.results.only(pair), self.end_day)
            for pair in (*pairs.items(), *agents.items())
        }
        self.is_over = all(h.reached for pair, h in horizon.items() if h.age > 0)
        scenes = {Missing.LEFT_OUT: self._graded(others, agents, horizon, Missing.LEFT_OUT)}
        touched = {pair: self._is_missing(pair, horizon[pair].age) for pair in horizon}
        if any(touched.values()):
            for missing in (Missing.AGAINST, Missing.FOR):
                scenes[missing] = self._graded(others, agents, horizon, missing)
        out = {}
        for i in others:
            told = [scenes[m][i] for m in Missing if m in scenes]
            found = _weakest(told, touched[i, self.reference])
            if found.agent is not None:
                alone = [g.agent for g in told if g.agent is not None]
                found = replace(found, agent=_weakest(alone, touched[i, agents[i]]))
            out[i] = found
        return out

    def agents(self, others: Sequence[int]) -> dict[int, int]:
        """The carrier each candidate is also compared with, where the question is how many struck."""
        if self.plan.measure is not Measure.STRIKE:
            return {}
        here = {int(a) for a in np.unique(self.results.treatment)}
        return {i: k for i in others if (k := carrier_of(self.plan, i)) is not None and k in here}

    def _by_counts(self, others: Sequence[int], known: Remembered) -> dict[int, Graded]:
        """The same where only the counts matter: each comparison made once for counts like these."""
        assert self.end_day is not None
        agents = self.agents(others)
        pairs = [*((i, self.reference) for i in others), *agents.items()]
        horizon = dict.fromkeys(pairs, Horizon(self.end_day, True))
        keys = counts_by_arm(self.results)
        primaries = {}
        for pair in pairs:
            key = keys[pair[0]], keys[pair[1]]
            found = known.get(key)
            if found is None:
                found = self._primary(pair, horizon[pair], Missing.LEFT_OUT)
                if found.test is None or found.test.is_exact:
                    known[key] = found
            primaries[pair] = found
        return self._graded_from(primaries, others, agents, horizon, Missing.LEFT_OUT)

    def may_be_clear(self, horizon: Horizon) -> bool:
        """Whether a clear verdict can be given: the whole trial looked at to its end, and drawn by lot."""
        return (
            self.is_over
            and horizon.reached
            and not horizon.stopped_early
            and self.lot_drawn is not False
        )

    def _is_missing(self, pair: Pair, age: float) -> bool:
        """Whether anything was left out of the count of this comparison."""
        return not unit_shares(self.results.only(pair), age).is_whole

    def _primary(self, compared: Pair, horizon: Horizon, missing: Missing) -> Primary:
        i, zero = compared
        pair = self.results.only(compared)
        if horizon.age == 0:
            return Primary(None, None, None, None, 0, Why.NOT_LOOKED_AT)
        shares = unit_shares(pair, horizon.age, i, missing)
        units, left_out = comparable(shares, i, zero)
        treated = units.treatment == i
        if self.shared:
            both = shares.keep(shares.counted > 0)
            found = gap(both, i, singly_over_shared=True) if len(both.sizes) else None
            return Primary(None, None, found, None, left_out, Why.SHARED)
        if not treated.any():
            is_blocks = shares.is_whole or missing is not Missing.LEFT_OUT
            why = Why.BLOCKS if is_blocks else Why.NOTHING_LEFT
            return Primary(None, None, None, None, left_out, why)
        test = self._test(units, treated, self.resamples)
        minimum_p = minimum_p_within(treated, units.block, units.held, units.line)
        rates = self._rates(pair, compared, horizon.age) if missing is Missing.LEFT_OUT else None
        found = gap(units, i, rates=rates)
        apart = found.estimate * float(units.share[treated].mean() - units.share[~treated].mean())
        why = Why.TESTED
        if min(treated.sum(), (~treated).sum()) == 1:
            why = Why.ONE_UNIT
        elif float(np.ptp(units.share)) == 0 and float(units.share[0]) in (0.0, 1.0):
            why = Why.ALL_STRUCK if units.share[0] == 1.0 else Why.NONE_STRUCK
        return Primary(
            test, minimum_p, _not_beyond(found, test), gap(units, i, 0.90, rates=rates), left_out, why,
            rates is not None and apart < 0,
        )  # fmt: skip

    def _rates(self, pair: Results, compared: Pair, age: float) -> tuple[float, float] | None:
        """The curves' rates of both arms where something was left out, of single plants alone."""
        if pair.has_shared_containers or len(np.unique(pair.block)) > 1:
            return None
        told = [estimated_rate(pair, arm, age) for arm in compared]
        if told == [None, None]:
            return None
        shares = unit_shares(pair, age)
        plain = []
        for arm in compared:
            mine = shares.keep((shares.treatment == arm) & (shares.counted > 0))
            plain.append(float(mine.share.mean()) if len(mine.sizes) else 0.0)
        one, zero = (p if t is None else t for p, t in zip(plain, told, strict=True))
        return one, zero

    def _test(self, units: Shares, treated: Bools, resamples: int) -> PermutationResult:
        return self.permutations.test(
            units.share, treated, units.block, resamples=resamples, held=units.held, line=units.line
        )

    def _graded(
        self,
        others: Sequence[int],
        agents: dict[int, int],
        horizon: dict[Pair, Horizon],
        missing: Missing,
    ) -> dict[int, Graded]:
        """Primary result, corrected p, corrected floor and grade of every comparison, one way of counting."""
        primaries = {pair: self._primary(pair, horizon[pair], missing) for pair in horizon}
        return self._graded_from(primaries, others, agents, horizon, missing)

    def _graded_from(
        self, primaries: dict[Pair, Primary], others: Sequence[int], agents: dict[int, int],
        horizon: dict[Pair, Horizon], missing: Missing,
    ) -> dict[int, Graded]:  # fmt: skip
        """The same from primary results that are there."""
        family = [i for i in others if self.plan.treatments[i].role not in CHECKS]
        if self.resamples >= RESAMPLES:  # a dry run, which asks for fewer, is not refined
            primaries = self._refined(primaries, family, horizon, missing)
        ps = _corrected(
            {pair: firm(p.test) for pair, p in primaries.items() if p.test}, family, self.reference
        )
        floors = _corrected(
            {pair: p.minimum_p for pair, p in primaries.items() if p.minimum_p is not None},
            family,
            self.reference,
        )

        def graded(pair: Pair) -> Graded:
            grade = self._grade(pair, primaries[pair], ps, floors, horizon[pair])
            return Graded(
                pair[0], horizon[pair], primaries[pair], ps.get(pair), floors.get(pair), grade
            )

        return {
            i: replace(
                graded((i, self.reference)), agent=graded((i, agents[i])) if i in agents else None
            )
            for i in others
        }

    def _refined(
        self, primaries: dict[Pair, Primary], family: Sequence[int], horizon: dict[Pair, Horizon],
        missing: Missing,
    ) -> dict[Pair, Primary]:  # fmt: skip
        """The same with sampled p values near a limit dealt more often."""

        def again(pair: Pair, resamples: int) -> PermutationResult:
            shares = unit_shares(self.results.only(pair), horizon[pair].age, pair[0], missing)
            units, _ = comparable(shares, *pair)
            return self._test(units, units.treatment == pair[0], resamples)

        tests = {pair: p.test for pair, p in primaries.items() if p.test is not None}
        found = refined(
            tests,
            lambda pair, now: [
                [t for k, t in now.items() if k[0] in family] if pair[0] in family else [now[pair]]
            ],
            again,
        )
        return {
            pair: replace(
                p, test=found[pair], gap=None if p.gap is None else _not_beyond(p.gap, found[pair])
            )
            if pair in found and found[pair] is not p.test else p
            for pair, p in primaries.items()
        }  # fmt: skip

    def _grade(
        self,
        pair: Pair,
        primary: Primary,
        ps: dict[Pair, float],
        floors: dict[Pair, float],
        horizon: Horizon,
    ) -> Grade | None:
        i, zero = pair
        if primary.why is Why.NOT_LOOKED_AT:
            return None
        if primary.test is None:
            return Grade.TOO_CLOSE if primary.why is Why.NOTHING_LEFT else Grade.CANNOT_TELL
        is_entangled = zero == self.reference and bool(self.entangled_in(i))
        if primary.why is Why.ONE_UNIT or is_entangled or self.refused & {i, zero}:
            return Grade.CANNOT_TELL
        grade = grade_of(
            p_holm=ps[pair],
            minimum_p_holm=floors[pair],
            ahead=primary.test.up < primary.test.down,
            interval=primary.gap,
            is_level=horizon.reached and self._is_level(primary, pair, horizon.age),
            may_be_clear=self.may_be_clear(horizon),
        )
        if primary.why in (Why.ALL_STRUCK, Why.NONE_STRUCK) and grade is not Grade.CANNOT_TELL:
            return Grade.TOO_CLOSE
        return grade

    def entangled_in(self, i: int) -> str:
        """Why the design cannot tell this arm's effect from something else; empty where it can.

        Args:
            i: index of the treatment.
        """
        return next((because(self.plan, e) for e in self.entangled if e.treatment == i), "")

    def _is_level(self, primary: Primary, pair: Pair, horizon: float) -> bool:
        limits = primary.gap90
        if limits is None or limits.low is None or limits.high is None or self.lot_drawn is False:
            return False
        margin = self.plan.gap_points / 100
        if not -margin < limits.low <= limits.high < margin:
            return False
        return harm_of(self.containers, *pair, horizon, self.permutations).loss_alike


def _corrected(
    values: dict[Pair, float], family: Sequence[int], reference: int
) -> dict[Pair, float]:
    """P values, or floors, corrected over both claims of every candidate; a check by itself."""
    out = dict(values)
    first = [(i, reference) for i in family if (i, reference) in values]
    if first:
        second = [
            next((p for p in values if p[0] == i and p[1] != reference), None) for i, _ in first
        ]
        together, alone = two_claims(
            [values[p] for p in first], [None if p is None else values[p] for p in second]
        )
        out |= dict(zip(first, together, strict=True))
        out |= {
            pair: p
            for pair, p in zip(second, alone, strict=True)
            if pair is not None and p is not None
        }
    return out


def _weakest(told: Sequence[Graded], is_missing: bool) -> Graded:
    """A comparison as counted, graded as the weakest over what the missing may have become."""
    found = told[0]
    if not is_missing or found.grade is None:
        return found
    worst, best = (g.grade for g in told[1:])
    grade = lowest([g for g in (found.grade, worst, best) if g is not None])
    if found.primary.apart and grade is not Grade.CANNOT_TELL:
        grade = Grade.TOO_CLOSE
    return replace(found, grade=grade, if_missing=(worst, best))


def _not_beyond(found: Interval, test: PermutationResult) -> Interval:
    """The interval with its limit nearer 0 at 0 where its own unadjusted test does not leave 0 out."""
    if not found.leaves_out_zero or below(test.p, CLEAR_LIMIT):
        return found
    low, high = (0.0, found.high) if found.estimate > 0 else (found.low, 0.0)
    return replace(found, low=low, high=high, reason=HELD_AT_ZERO)
