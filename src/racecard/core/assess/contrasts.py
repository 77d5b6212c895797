"""Groups of treatments compared as classes: hormones against none, soaked against dry.

The labels of all treatments of both groups are re-dealt within their blocks: the null is that none of
them did anything that another did not. A comparison of groups that was declared before the start is a
secondary result; one that was thought of after the results could be seen is never more than likely.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from racecard.core.assess.grade import Grade, page_allows
from racecard.core.assess.judge import judge
from racecard.core.assess.judgement import Comparison
from racecard.core.model import Plan, Role, Treatment
from racecard.core.model.results import Results
from racecard.errors import InvalidInput

_LOWER = {Grade.CLEAR_LEAD: Grade.LIKELY_LEAD, Grade.CLEARLY_BEHIND: Grade.LIKELY_BEHIND}


@dataclass(frozen=True, slots=True)
class Contrasted:
    """One group of treatments against another, by index; `grade` on what the plan is judged on."""

    one: tuple[int, ...]
    zero: tuple[int, ...]
    is_declared: bool
    comparison: Comparison
    grade: Grade | None
    p: float | None


@dataclass(frozen=True, slots=True)
class NotCompared:
    """Two groups the plan declared that cannot be compared, and why."""

    one: tuple[int, ...]
    zero: tuple[int, ...]
    says: str


def declared_groups(plan: Plan) -> tuple[tuple[tuple[int, ...], tuple[int, ...]], ...]:
    """The groups a plan says it will compare, by the indices of their treatments."""
    at = {t.name.strip(): i for i, t in enumerate(plan.treatments)}
    return tuple(
        (
            tuple(at[n.strip()] for n in c.one if n.strip() in at),
            tuple(at[n.strip()] for n in c.zero if n.strip() in at),
        )
        for c in plan.contrasts
    )


def contrast(
    plan: Plan,
    results: Results,
    one: Sequence[int],
    zero: Sequence[int],
    *,
    seed: int,
    is_declared: bool,
    any_clear: bool,
    lot_drawn: bool | None = True,
    end_day: float | None = None,
) -> Contrasted:
    """Compare two groups of treatments.

    Args:
        plan: the frozen plan.
        results: what was seen.
        one: treatments of the first group.
        zero: treatments of the group it is compared with.
        seed: the trial's stored seed.
        is_declared: whether it was said before the start that these would be compared.
        any_clear: whether a primary result is clear: the gate for what stands beside it.
        lot_drawn: whether the bench was drawn by lot.
        end_day: last day of the plan.

    Raises:
        InvalidInput: a group is empty, a treatment stands in both, or none of its plants was set.
    """
    check_groups(one, zero, len(plan.treatments))
    mine = results.only([*one, *zero])
    if not np.isin(mine.treatment, list(one)).any() or not np.isin(mine.treatment, list(zero)).any():  # fmt: skip
        raise InvalidInput("One of the groups has no plants: choose others.")
    merged = replace(mine, treatment=np.isin(mine.treatment, list(one)).astype(np.int64))
    names = [", ".join(plan.treatments[i].name for i in group) for group in (zero, one)]
    arms = (
        Treatment("0", names[0], Role.CONTROL),
        Treatment("1", names[1], Role.CANDIDATE, silk="hoops"),
    )
    two = replace(plan, treatments=arms, contrasts=())
    judged = judge(two, merged, seed=seed, lot_drawn=lot_drawn, end_day=end_day)
    (found,) = judged.comparisons
    grade, p = found.asked.grade, found.asked.p
    claims = len(plan.family) + max(1, len(plan.contrasts))
    may = is_declared and page_allows(1.0 if p is None else p, claims, any_clear=any_clear)
    if grade is not None and not may:
        grade = _LOWER.get(grade, grade)
    return Contrasted(tuple(one), tuple(zero), is_declared, found, grade, p)


def check_groups(one: Sequence[int], zero: Sequence[int], treatments: int) -> None:
    """Raise InvalidInput where two groups cannot be compared.

    Args:
        one: indices of the treatments of one group.
        zero: those of the other.
        treatments: how many treatments the trial has.
    """
    if not one or not zero:
        raise InvalidInput("Each of the two groups needs a treatment.")
    if set(one) & set(zero):
        raise InvalidInput("A treatment stands in both groups: leave it in one.")
    if not all(0 <= i < treatments for i in (*one, *zero)):
        raise InvalidInput(f"The treatments are numbered 0 to {treatments - 1}.")
