"""Whether a verdict rests on one unit: leaving it out, or turning it over, would change the grade."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

import numpy as np

from racecard.core.assess.grade import Grade, grade_of
from racecard.core.assess.judge import Comparison
from racecard.core.assess.strike import Shares, comparable, gap, unit_shares
from racecard.core.model import CHECKS, Plan
from racecard.core.model.results import Results
from racecard.core.notes.from_data import Note
from racecard.core.stats.permutation import Redealer, floor_within, holm

_CALLED = (Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND, Grade.LIKELY_LEAD, Grade.LIKELY_BEHIND)
_MOST_UNITS = 400


def notes_on_resting(
    plan: Plan,
    results: Results,
    comparisons: Sequence[Comparison],
    redealer: Redealer,
    *,
    may_be_clear: bool,
    deals: int,
) -> tuple[Note, ...]:
    """Objections to called verdicts that one unit carries."""
    family = {
        c.index: c.test.p
        for c in comparisons
        if c.test is not None and plan.treatments[c.index].role not in CHECKS
    }
    out = []
    for c in comparisons:
        if c.grade not in _CALLED or c.grades_if_missing is not None or plan.reference is None:
            continue
        shares = unit_shares(results.only((c.index, plan.reference)), c.horizon)
        units, _ = comparable(shares, c.index, plan.reference)
        if len(units.sizes) > _MOST_UNITS:
            continue
        others = {k: p for k, p in family.items() if k != c.index} if c.index in family else {}
        if _rests(units, c, others, redealer, may_be_clear and c.is_final, deals):
            name = plan.treatments[c.index].name
            out.append(
                Note(
                    "rests_on_one",
                    f"The verdict on {name} depends on one unit: without it, or with the opposite result, the grade would change.",
                    "Read it as the weaker grade, and repeat before you rely on it.",
                )
            )
    return tuple(out)


def _rests(
    units: Shares,
    c: Comparison,
    others: Mapping[int, float],
    redealer: Redealer,
    may_be_clear: bool,
    deals: int,
) -> bool:
    weakest: tuple[float, Shares] | None = None
    for changed in _one_changed(units):
        treated = changed.treatment == c.index
        if not treated.any() or treated.all():
            return True
        test = redealer.test(
            changed.share, treated, changed.block, deals=deals, held=changed.held, line=changed.line
        )
        floor = floor_within(treated, changed.block, changed.held, changed.line)
        grade = grade_of(
            p_holm=holm([test.p, *others.values()])[0],
            floor_holm=min(1.0, floor * (len(others) + 1)),
            ahead=test.up < test.down,
            interval=None,
            may_be_clear=may_be_clear,
        )
        if grade is not c.grade:
            return True
        if weakest is None or test.p > weakest[0]:
            weakest = test.p, changed
    # the interval can only lower clear to likely, and first where p is largest
    is_clear = c.grade in (Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND)
    return is_clear and weakest is not None and not gap(weakest[1], c.index).leaves_out_zero


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
