"""Whether a verdict rests on one unit: leaving it out, or turning it over, would change the grade."""

from collections.abc import Iterator, Mapping
from dataclasses import replace

import numpy as np

from racecard.core.assess.grade import Grade, grade_of
from racecard.core.assess.judgement import Comparison
from racecard.core.assess.strike import Shares, comparable, gap, unit_shares
from racecard.core.model import CHECKS
from racecard.core.notes.registry import Evidence, Needs, Said, rule
from racecard.core.stats.exact_deals import BlocksAside
from racecard.core.stats.multiplicity import holm
from racecard.core.stats.permutation import PermutationResult, PermutationTest, minimum_p_within

_CALLED = (Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND, Grade.LIKELY_LEAD, Grade.LIKELY_BEHIND)
_MOST_UNITS = 400


@rule("rests_on_one", "Depends on one unit", Needs.SEEN, "whether one unit carries the verdict")
def depends_on_one(e: Evidence) -> Iterator[Said]:
    """Fires where leaving out or turning over any one unit changes a called grade."""
    plan, seen = e.plan, e.seen
    assert seen is not None
    if plan.reference is None or (plan.count_singly and seen.results.has_shared_containers):
        return
    comparisons = seen.judgement.comparisons
    family = {
        c.index: c.test.p
        for c in comparisons
        if c.test is not None and plan.treatments[c.index].role not in CHECKS
    }
    for c in comparisons:
        if c.strike_grade not in _CALLED or c.strike.if_missing is not None:
            continue
        shares = unit_shares(seen.results.only((c.index, plan.reference)), c.horizon)
        units, _ = comparable(shares, c.index, plan.reference)
        if len(units.sizes) > _MOST_UNITS:
            continue
        others = {k: p for k, p in family.items() if k != c.index} if c.index in family else {}
        may_be_clear = seen.lot_drawn is not False and c.is_final
        if _rests(units, c, others, seen.permutations, may_be_clear, seen.resamples):
            yield (
                f"The verdict on {plan.treatments[c.index].name} depends on one unit: without it, or with the opposite result, the grade would change.",
                "Read it as the weaker grade, and repeat before you rely on it.",
            )


def _rests(
    units: Shares,
    c: Comparison,
    others: Mapping[int, float],
    permutations: PermutationTest,
    may_be_clear: bool,
    resamples: int,
) -> bool:
    weakest: tuple[float, Shares] | None = None
    aside = _aside(units, c.index)
    for changed in _one_changed(units):
        treated = changed.treatment == c.index
        if not treated.any() or treated.all():
            return True
        ends = aside.tails(changed.share, treated, changed.block) if aside else None
        test = (
            permutations.test(
                changed.share, treated, changed.block, resamples=resamples, held=changed.held,
                line=changed.line,
            )
            if ends is None
            else PermutationResult(min(1.0, 2 * min(ends)), *ends)
        )  # fmt: skip
        minimum_p = minimum_p_within(treated, changed.block, changed.held, changed.line)
        grade = grade_of(
            p_holm=holm([test.p, *others.values()])[0],
            minimum_p_holm=min(1.0, minimum_p * (len(others) + 1)),
            ahead=test.up < test.down,
            interval=None,
            may_be_clear=may_be_clear,
        )
        if grade is not c.strike_grade:
            return True
        if weakest is None or test.p > weakest[0]:
            weakest = test.p, changed
    # the interval can only lower clear to likely, and first where p is largest
    is_clear = c.strike_grade in (Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND)
    return is_clear and weakest is not None and not gap(weakest[1], c.index).leaves_out_zero


def _aside(units: Shares, arm: int) -> BlocksAside | None:
    """For many blocks: all of them but one at a time. None where deals follow lines or some are held."""
    if len(np.unique(units.block)) < _MANY_BLOCKS or units.line is not None:
        return None
    if units.held is not None and units.held.any():
        return None
    return BlocksAside.of(units.share, units.treatment == arm, units.block)


_MANY_BLOCKS = 8


def _one_changed(units: Shares) -> Iterator[Shares]:
    """The units with one of each kind left out, and with one propagule of it turned over."""
    kinds = np.column_stack((units.treatment, units.block, units.struck, units.counted))
    _, first = np.unique(kinds, axis=0, return_index=True)
    everyone = np.arange(len(units.sizes))
    for i in first:
        rest = units.keep(everyone != i)
        kept, _ = comparable(rest, *(int(a) for a in np.unique(units.treatment)))
        yield kept
        struck = units.struck.copy()
        struck[i] += 1 if struck[i] < units.counted[i] and struck[i] < units.counted[i] / 2 else -1
        if 0 <= struck[i] <= units.counted[i]:
            yield replace(units, struck=struck)
