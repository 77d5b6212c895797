"""The primary result of every comparison, on the share that struck: tested, corrected, and graded."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from racecard.core.arrays import Bools
from racecard.core.assess.counted import counts_by_arm, is_plain
from racecard.core.assess.grade import Grade, grade_of, lowest
from racecard.core.assess.harm import harm_of
from racecard.core.assess.horizon import Horizon, horizon_of
from racecard.core.assess.judgement import Why
from racecard.core.assess.strike import (
    HELD_AT_ZERO,
    Missing,
    Shares,
    comparable,
    estimated_rate,
    gap,
    unit_shares,
)
from racecard.core.model import CHECKS, Plan
from racecard.core.model.differences import Entangled, because
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
class Primary:
    """The primary result of one comparison before grading."""

    test: PermutationResult | None
    minimum_p: float | None
    gap: Interval | None
    gap90: Interval | None
    left_out: int
    why: Why
    apart: bool = False


Remembered = dict[tuple[bytes, bytes], Primary]
"""Primary results by the counts of a treatment and of its reference."""


@dataclass(frozen=True, slots=True)
class Graded:
    """A primary result with its family's corrections and its grade; `if_missing`: the grades with
    all that were taken out counted against and for it.
    """

    index: int
    horizon: Horizon
    primary: Primary
    p_holm: float | None
    minimum_p_holm: float | None
    grade: Grade | None
    if_missing: tuple[Grade | None, Grade | None] | None = None


@dataclass(slots=True)
class PrimaryResults:
    """What the primary results of one trial are made from.

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

    def graded(self) -> dict[int, Graded]:
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

    def _by_counts(self, others: Sequence[int], known: Remembered) -> dict[int, Graded]:
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

    def may_be_clear(self, horizon: Horizon) -> bool:
        """Whether a clear verdict can be given: all looked at to the end, and drawn by lot."""
        return horizon.reached and not horizon.stopped_early and self.lot_drawn is not False

    def _is_missing(self, i: int, age: float) -> bool:
        """Whether anything was left out of the count of this comparison."""
        return not unit_shares(self.results.only((i, self.reference)), age).is_whole

    def _primary(self, i: int, horizon: Horizon, missing: Missing) -> Primary:
        pair = self.results.only((i, self.reference))
        if horizon.age == 0:
            return Primary(None, None, None, None, 0, Why.NOT_LOOKED_AT)
        shares = unit_shares(pair, horizon.age, i, missing)
        units, left_out = comparable(shares, i, self.reference)
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
        rates = self._rates(pair, i, horizon.age) if missing is Missing.LEFT_OUT else None
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
    ) -> dict[int, Graded]:
        """Primary result, Holm p, Holm floor and grade of every comparison, one way of counting."""
        primaries = {i: self._primary(i, horizon[i], missing) for i in others}
        return self._graded_from(primaries, others, horizon, missing)

    def _graded_from(
        self, primaries: dict[int, Primary], others: Sequence[int], horizon: dict[int, Horizon],
        missing: Missing,
    ) -> dict[int, Graded]:  # fmt: skip
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
            i: Graded(
                i, horizon[i], primaries[i], ps.get(i), floors.get(i),
                self._grade(i, primaries[i], ps, floors, horizon[i]),
            )
            for i in others
        }  # fmt: skip

    def _refined(
        self, primaries: dict[int, Primary], family: Sequence[int], horizon: dict[int, Horizon],
        missing: Missing,
    ) -> dict[int, Primary]:  # fmt: skip
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
        primaries: dict[int, Primary], family: Sequence[int]
    ) -> tuple[dict[int, float], dict[int, float]]:
        tested = [i for i in family if primaries[i].test is not None]
        ps = holm([firm(t) for i in tested if (t := primaries[i].test) is not None])
        floors = holm([f for i in tested if (f := primaries[i].minimum_p) is not None])
        return dict(zip(tested, ps, strict=True)), dict(zip(tested, floors, strict=True))

    def _grade(
        self,
        i: int,
        primary: Primary,
        ps: dict[int, float],
        floors: dict[int, float],
        horizon: Horizon,
    ) -> Grade | None:
        if primary.why is Why.NOT_LOOKED_AT:
            return None
        if primary.test is None:
            return Grade.TOO_CLOSE if primary.why is Why.NOTHING_LEFT else Grade.CANNOT_TELL
        if primary.why is Why.ONE_UNIT or self.entangled_in(i) or self.is_refused(i):
            return Grade.CANNOT_TELL
        grade = grade_of(
            p_holm=ps[i],
            minimum_p_holm=floors[i],
            ahead=primary.test.up < primary.test.down,
            interval=primary.gap,
            is_level=horizon.reached and self._is_level(primary, i, horizon.age),
            may_be_clear=self.may_be_clear(horizon),
        )
        if primary.why in (Why.ALL_STRUCK, Why.NONE_STRUCK) and grade is not Grade.CANNOT_TELL:
            return Grade.TOO_CLOSE
        return grade

    def is_refused(self, i: int) -> bool:
        """Whether the survivors of this arm or of the reference were chosen.

        Args:
            i: index of the treatment.
        """
        return bool(self.refused & {i, self.reference})

    def entangled_in(self, i: int) -> str:
        """Why the design cannot tell this arm's effect from something else; empty where it can.

        Args:
            i: index of the treatment.
        """
        return next((because(self.plan, e) for e in self.entangled if e.treatment == i), "")

    def _is_level(self, primary: Primary, i: int, horizon: float) -> bool:
        limits = primary.gap90
        if limits is None or limits.low is None or limits.high is None or self.lot_drawn is False:
            return False
        margin = self.plan.gap_points / 100
        if not -margin < limits.low <= limits.high < margin:
            return False
        return harm_of(self.containers, i, self.reference, horizon, self.permutations).loss_alike


def _not_beyond(found: Interval, test: PermutationResult) -> Interval:
    """The interval with its limit nearer 0 at 0 where its own unadjusted test does not leave 0 out."""
    if not found.leaves_out_zero or below(test.p, CLEAR_LIMIT):
        return found
    low, high = (0.0, found.high) if found.estimate > 0 else (found.low, 0.0)
    return replace(found, low=low, high=high, reason=HELD_AT_ZERO)
