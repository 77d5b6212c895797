"""Later growth: measures compared at equal ages only.

References:
    [1] Pitman (1937), J. R. Stat. Soc. Suppl. 4, 119-130: permutation test of means.
"""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from racecard.core.assess.grade import Grade, grade_of
from racecard.core.log.events import entries_in_force
from racecard.core.log.fields import Trait
from racecard.core.log.measures import GRADED, STAGE, TRAITS
from racecard.core.model import CHECKS, Plan, Unit
from racecard.core.model.observation import Entry, Scope
from racecard.core.stats.gap_interval import spread_of_gap, weighted_gap
from racecard.core.stats.multiplicity import holm
from racecard.core.stats.permutation import PermutationTest, minimum_p_within
from racecard.core.stats.proportions import Interval


@dataclass(frozen=True, slots=True)
class ArmMeasure:
    """One arm on one measure at one age: how many plants, their mean and range."""

    treatment: int
    n: int
    mean: float
    least: float
    most: float


@dataclass(frozen=True, slots=True)
class Measured:
    """One treatment against the reference on one measure."""

    treatment: int
    gap: Interval
    p: float
    p_holm: float
    grade: Grade


@dataclass(frozen=True, slots=True)
class Grown:
    """One measure at the latest age at which every compared arm was measured.

    `is_primary`: the trial is judged on it, and its grades are those of the verdict.
    """

    measure: str
    label: str
    unit: str
    age: int
    arms: tuple[ArmMeasure, ...]
    compared: tuple[Measured, ...]
    is_primary: bool = False

    def as_asked(self, asked: Mapping[int, Grade | None]) -> "Grown":
        """The same with the grades of the verdict, by treatment.

        Args:
            asked: grade by index of the treatment; None where it has none.
        """
        graded = (replace(m, grade=asked.get(m.treatment) or m.grade) for m in self.compared)
        return replace(self, compared=tuple(graded), is_primary=True)


def growth_of(
    plan: Plan,
    units: Sequence[Unit],
    entries: Iterable[Entry],
    permutations: PermutationTest,
    *,
    resamples: int,
    may_be_clear: bool,
) -> tuple[Grown, ...]:
    """Every measure that was taken of all arms at one age.

    Args:
        plan: the plan.
        units: the units that were set.
        entries: the diary.
        permutations: runs the permutation tests.
        resamples: re-dealings of sampled tests.
        may_be_clear: False before the end day, or where the lot was not drawn.
    """
    taken = _taken(units, entries)
    out = []
    for field in TRAITS:
        age = _common_age(units, taken.get(field.name, {}))
        if age is not None:
            out.append(
                _grown(
                    plan,
                    units,
                    field,
                    age,
                    taken[field.name][age],
                    permutations,
                    resamples,
                    may_be_clear,
                )
            )
    return tuple(out)


def measured_at(
    units: Sequence[Unit], entries: Iterable[Entry], name: str
) -> tuple[int, dict[str, float]] | None:
    """The latest age at which every arm was measured, and each unit's value by its id.

    A unit that was measured the day before counts: a large bench takes two days. None where no
    age is common to all arms.

    Args:
        units: the units that were set, in the order of the bench.
        entries: the diary, with its measures.
        name: the measure, such as "height".
    """
    by_age = _taken(units, entries).get(name, {})
    age = _common_age(units, by_age)
    if age is None:
        return None
    values = {**by_age.get(age - 1, {}), **by_age[age]}
    return age, {units[i].id: value for i, value in values.items()}


def _taken(
    units: Sequence[Unit], entries: Iterable[Entry]
) -> dict[str, dict[int, dict[int, float]]]:
    """Values by measure, age and unit."""
    by_id = {u.id: i for i, u in enumerate(units)}
    taken: dict[str, dict[int, dict[int, float]]] = defaultdict(lambda: defaultdict(dict))
    for e in entries_in_force(entries):
        if e.kind != "measure" or e.scope is not Scope.UNIT or e.target not in by_id:
            continue
        i = by_id[e.target]
        for name, value in e.values:
            if name in GRADED and name != STAGE:
                taken[name][e.day - units[i].late][i] = value
    return taken


def _common_age(units: Sequence[Unit], by_age: dict[int, dict[int, float]]) -> int | None:
    """Latest age at which every arm has a measured plant: equal ages, never equal dates."""
    arms = {u.cell.treatment for u in units}
    ages = [a for a, told in by_age.items() if {units[i].cell.treatment for i in told} == arms]
    return max(ages, default=None)


def _grown(
    plan: Plan, units: Sequence[Unit], field: Trait, age: int, told: dict[int, float],
    permutations: PermutationTest, resamples: int, may_be_clear: bool,
) -> Grown:  # fmt: skip
    index = sorted(told)
    values = np.array([told[i] for i in index])
    arm = np.array([units[i].cell.treatment for i in index])
    block = np.array([units[i].cell.block for i in index])
    held = np.array([units[i].cell.locked for i in index])
    arms = tuple(
        ArmMeasure(int(a), int((arm == a).sum()), float(values[arm == a].mean()),
                   float(values[arm == a].min()), float(values[arm == a].max()))
        for a in np.unique(arm)
    )  # fmt: skip
    found: list[tuple[int, Interval, float, float, bool]] = []
    for i in range(len(plan.treatments)):
        if plan.reference is None or i == plan.reference:
            continue
        one = _compare(values, arm, block, held, i, plan.reference, permutations, resamples)
        if one is not None:
            found.append((i, *one))
    family = [f for f in found if plan.treatments[f[0]].role not in CHECKS]
    adjusted = dict(zip([f[0] for f in family], holm([f[2] for f in family]), strict=True))
    floors = dict(zip([f[0] for f in family], holm([f[3] for f in family]), strict=True))
    compared = tuple(
        Measured(
            i, gap, p, adjusted.get(i, p),
            _secondary(grade_of(
                p_holm=adjusted.get(i, p), minimum_p_holm=floors.get(i, minimum_p), ahead=ahead,
                interval=gap, may_be_clear=may_be_clear,
            )),
        )
        for i, gap, p, minimum_p, ahead in found
    )  # fmt: skip
    return Grown(field.name, field.label, field.unit, age, arms, compared)


def _secondary(grade: Grade) -> Grade:
    """Measures are secondary to the plan's question: at most likely."""
    return {
        Grade.CLEAR_LEAD: Grade.LIKELY_LEAD,
        Grade.CLEARLY_BEHIND: Grade.LIKELY_BEHIND,
    }.get(grade, grade)


def _compare(
    values: np.ndarray, arm: np.ndarray, block: np.ndarray, held: np.ndarray, one: int, zero: int,
    permutations: PermutationTest, resamples: int,
) -> tuple[Interval, float, float, bool] | None:  # fmt: skip
    """Gap with t limits, p of the permutation test of the mean [1], its floor and its way."""
    both = [b for b in np.unique(block) if {one, zero} <= set(arm[block == b])]
    keep = np.isin(arm, (one, zero)) & np.isin(block, both)
    if not keep.any():
        return None
    v, treated, b, h = values[keep], arm[keep] == one, block[keep], held[keep]
    gap = weighted_gap(v, treated, b)
    spread = spread_of_gap(v, treated, b)
    if spread is None:
        interval = Interval(gap, None, None, "none", "too few plants measured for an interval")
    else:
        half = spread.half(0.95)
        interval = Interval(gap, gap - half, gap + half, "measure")
    test = permutations.test(v, treated, b, resamples=resamples, held=h if h.any() else None)
    minimum_p = minimum_p_within(treated, b, h if h.any() else None)
    return interval, test.p, minimum_p, test.up < test.down
