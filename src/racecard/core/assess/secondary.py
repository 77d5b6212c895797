"""Secondary results beside the strike: over time and root quality, Holm over all of them."""

from collections.abc import Sequence
from dataclasses import dataclass

from racecard.core.assess.grade import Grade, page_allows
from racecard.core.assess.over_time import OverTime, compare_over_time
from racecard.core.assess.quality import Quality, compare_quality
from racecard.core.assess.strike import SHARED
from racecard.core.model import CHECKS, Measure, Plan
from racecard.core.model.results import Results
from racecard.core.stats.multiplicity import CLEAR_LIMIT, LIKELY_LIMIT, below, holm
from racecard.core.stats.permutation import (
    LotQuestion,
    PermutationResult,
    PermutationTest,
    firm,
    refined,
)


def question_of(
    plan: Plan, results: Results, one: int, zero: int, end: float
) -> LotQuestion | None:
    """What a lot test of two treatments asks where the trial is judged on days, scores or a measure; None where it cannot.

    Args:
        plan: the plan.
        results: what was seen, in days.
        one: index of the treated arm.
        zero: index of what it is compared with.
        end: age both are judged at, days after day 0.
    """
    if plan.measure is Measure.SPEED:
        return compare_over_time(results, one, zero, end=end).asked
    return compare_quality(results, one, zero).asked


Key = tuple[str, int]
"""What was compared, "speed" or "quality", and the treatment."""


@dataclass(frozen=True, slots=True)
class Secondary:
    """A secondary result: its p, Holm over all secondaries, its grade, or why there is none."""

    p: float | None
    p_holm: float | None
    grade: Grade | None
    reason: str = ""


@dataclass(frozen=True, slots=True)
class Beside:
    """The secondary results of one treatment."""

    over_time: Secondary
    quality: Secondary
    figures: Quality


@dataclass(slots=True)
class Secondaries:
    """Runs the secondary comparisons of one trial with its reference."""

    plan: Plan
    results: Results
    reference: int
    permutations: PermutationTest
    resamples: int
    shared: bool
    timed: bool
    lot_drawn: bool | None
    horizon: dict[int, float]
    """The age at which each treatment is judged against the reference."""
    any_clear: bool
    """Whether a primary result is clear: the gate for what stands beside it."""
    missing: frozenset[int] = frozenset()
    """Treatments of whose comparison something was removed or not known: at most likely."""

    def run(
        self, others: Sequence[int], is_final: dict[int, bool]
    ) -> tuple[dict[int, Beside], dict[Key, PermutationResult]]:
        """Every treatment against the reference, and the tests of the candidates by what they ask.

        Args:
            others: indices of the treatments, the reference not among them.
            is_final: for each whether it is judged at its last day.
        """
        compared = {i: self._compared(i) for i in others}
        asked = {
            (kind, i): question
            for i, (times, scores) in compared.items()
            for kind, question in (("speed", times.asked), ("quality", scores.asked))
            if question is not None
        }
        tests = self._tested(asked, self.resamples)
        candidates = {i for i in others if self.plan.treatments[i].role not in CHECKS}
        found = refined(
            {key: t for key, t in tests.items() if key[1] in candidates},
            lambda key, found: [
                list(found.values()), [t for k, t in found.items() if k[0] == key[0]]
            ],
            lambda key, resamples: self._tested({key: asked[key]}, resamples)[key],
        )  # fmt: skip
        tests |= found
        return {
            i: Beside(
                self._graded(
                    tests.get(("speed", i)), times.reason, found, ("speed", i), is_final[i]
                ),
                self._graded(
                    tests.get(("quality", i)), scores.reason, found, ("quality", i), is_final[i]
                ),
                scores,
            )
            for i, (times, scores) in compared.items()
        }, tests

    def _compared(self, i: int) -> tuple[OverTime, Quality]:
        if self.shared:
            return OverTime(None, SHARED), Quality(None, None, None, SHARED)
        quality = compare_quality(self.results, i, self.reference)
        if not self.timed:
            return OverTime(None, "no days are told"), quality
        return (
            compare_over_time(self.results, i, self.reference, end=self.horizon[i]),
            quality,
        )

    def _tested(
        self, asked: dict[Key, LotQuestion], resamples: int
    ) -> dict[Key, PermutationResult]:
        tests = self.permutations.test_all(list(asked.values()), resamples=resamples)
        return dict(zip(asked, tests, strict=True))

    def _graded(
        self,
        test: PermutationResult | None,
        reason: str,
        found: dict[Key, PermutationResult],
        key: Key,
        final: bool,
    ) -> Secondary:
        if test is None:
            return Secondary(None, None, None, reason)
        if key not in found:
            return Secondary(test.p, test.p, None, "a carrier is compared as a check only")
        keys = list(found)
        adjusted = holm([firm(found[k]) for k in keys])[keys.index(key)]
        own = [k for k in keys if k[0] == key[0]]
        within = holm([firm(found[k]) for k in own])[own.index(key)]
        ahead = test.up < test.down
        claims = len(keys) + len(own)
        may_be_clear = (
            final and self.lot_drawn is not False and key[1] not in self.missing
            and page_allows(firm(test), claims, any_clear=self.any_clear)
        )  # fmt: skip
        if below(adjusted, CLEAR_LIMIT) and may_be_clear:
            grade = Grade.CLEAR_LEAD if ahead else Grade.CLEARLY_BEHIND
        elif below(within, LIKELY_LIMIT):
            grade = Grade.LIKELY_LEAD if ahead else Grade.LIKELY_BEHIND
        else:
            grade = Grade.TOO_CLOSE
        return Secondary(test.p, adjusted, grade)
