"""Later growth: measures compared at equal ages only, and the growth indices.

References:
    [1] Blackman (1919), Ann. Bot. 33, 353-360: relative growth rate.
    [2] Dickson, Leaf & Hosner (1960), For. Chron. 36, 10-13: quality index.
    [3] Pitman (1937), J. R. Stat. Soc. Suppl. 4, 119-130: permutation test of means.
"""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import log

import numpy as np

from racecard.core.assess.grade import Grade, grade_of
from racecard.core.log.events import standing
from racecard.core.log.fields import Field
from racecard.core.log.measures import TRAITS
from racecard.core.model import CHECKS, Plan, Unit
from racecard.core.model.observation import Entry, Scope
from racecard.core.stats.gap_interval import spread_of_gap, weighted_gap
from racecard.core.stats.permutation import Redealer, floor_within, holm
from racecard.core.stats.proportions import Interval
from racecard.errors import InvalidInput

_JUDGED = ("height", "leaves", "true_leaves", "diameter")


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
    """One measure at the latest age at which every compared arm was measured."""

    measure: str
    label: str
    unit: str
    age: int
    arms: tuple[ArmMeasure, ...]
    compared: tuple[Measured, ...]
    says: tuple[str, ...]


def growth_of(
    plan: Plan,
    units: Sequence[Unit],
    entries: Iterable[Entry],
    redealer: Redealer,
    *,
    deals: int,
    may_be_clear: bool,
) -> tuple[Grown, ...]:
    """Every measure that was taken of all arms at one age.

    Args:
        plan: the plan.
        units: the units that were set.
        entries: the diary.
        redealer: runs the permutation tests.
        deals: re-dealings of sampled tests.
        may_be_clear: False before the end day, or where the lot was not drawn.
    """
    by_id = {u.id: i for i, u in enumerate(units)}
    taken: dict[str, dict[int, dict[int, float]]] = defaultdict(lambda: defaultdict(dict))
    for e in standing(entries):
        if e.kind != "measure" or e.scope is not Scope.UNIT or e.target not in by_id:
            continue
        i = by_id[e.target]
        for name, value in e.values:
            if name in _JUDGED:
                taken[name][e.day - units[i].late][i] = value
    out = []
    for field in TRAITS:
        age = _common_age(units, taken.get(field.name, {}))
        if age is not None:
            out.append(
                _grown(
                    plan, units, field, age, taken[field.name][age], redealer, deals, may_be_clear
                )
            )
    return tuple(out)


def _common_age(units: Sequence[Unit], by_age: dict[int, dict[int, float]]) -> int | None:
    """Latest age at which every arm has a measured plant: equal ages, never equal dates."""
    arms = {u.cell.treatment for u in units}
    ages = [a for a, told in by_age.items() if {units[i].cell.treatment for i in told} == arms]
    return max(ages, default=None)


def _grown(
    plan: Plan, units: Sequence[Unit], field: Field, age: int, told: dict[int, float],
    redealer: Redealer, deals: int, may_be_clear: bool,
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
        one = _compare(values, arm, block, held, i, plan.reference, redealer, deals)
        if one is not None:
            found.append((i, *one))
    family = [f for f in found if plan.treatments[f[0]].role not in CHECKS]
    adjusted = dict(zip([f[0] for f in family], holm([f[2] for f in family]), strict=True))
    floors = dict(zip([f[0] for f in family], holm([f[3] for f in family]), strict=True))
    compared = tuple(
        Measured(
            i, gap, p, adjusted.get(i, p),
            _secondary(grade_of(
                p_holm=adjusted.get(i, p), floor_holm=floors.get(i, floor), ahead=ahead,
                interval=gap, may_be_clear=may_be_clear,
            )),
        )
        for i, gap, p, floor, ahead in found
    )  # fmt: skip
    return Grown(
        field.name, field.label, field.unit, age, arms, compared,
        _says(plan, field.label.lower(), field.unit, age, arms, compared),
    )  # fmt: skip


def _secondary(grade: Grade) -> Grade:
    """Measures are secondary to the plan's question: at most likely."""
    return {
        Grade.CLEAR_LEAD: Grade.LIKELY_LEAD,
        Grade.CLEARLY_BEHIND: Grade.LIKELY_BEHIND,
    }.get(grade, grade)


def _compare(
    values: np.ndarray, arm: np.ndarray, block: np.ndarray, held: np.ndarray, one: int, zero: int,
    redealer: Redealer, deals: int,
) -> tuple[Interval, float, float, bool] | None:  # fmt: skip
    """Gap with t limits, p of the permutation test of the mean [3], its floor and its way."""
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
    test = redealer.test(v, treated, b, deals=deals, held=h if h.any() else None)
    floor = floor_within(treated, b, h if h.any() else None)
    return interval, test.p, floor, test.up < test.down


def _says(
    plan: Plan, label: str, unit: str, age: int, arms: Sequence[ArmMeasure],
    compared: Sequence[Measured],
) -> tuple[str, ...]:  # fmt: skip
    told = ", ".join(f"{plan.treatments[a.treatment].name} {a.mean:.3g} (n {a.n})" for a in arms)
    size = f" {unit}" if unit else ""
    out = [
        f"Mean {label}{size} at the same age, day {age}: {told}. Only plants that were measured count."
    ]
    for m in compared:
        if m.grade in (Grade.LIKELY_LEAD, Grade.LIKELY_BEHIND):
            way = "more" if m.gap.estimate > 0 else "less"
            out.append(
                f"{plan.treatments[m.treatment].name}: {abs(m.gap.estimate):.3g}{size} {way} in {label} (secondary)."
            )
    return tuple(out)


def relative_growth_rate(first: Sequence[float], second: Sequence[float], days: float) -> float:
    """Growth per unit and day from groups of plants: mean of ln, never ln of the mean [1].

    Args:
        first, second: dry mass (or other size) of each plant at the two harvests, above 0.
        days: days between them, above 0.

    Returns:
        Per day; ln 2 divided by it is the doubling time.
    """
    if days <= 0 or not first or not second or min(*first, *second) <= 0:
        raise InvalidInput("masses and days between harvests must be above 0", "/first")
    return (float(np.mean(np.log(second))) - float(np.mean(np.log(first)))) / days


def doubling_days(rate: float) -> float | None:
    """Days to double at a relative growth rate; None where nothing grew."""
    return log(2) / rate if rate > 0 else None


def slenderness(height_mm: float, diameter_mm: float) -> float:
    """Height over diameter, both in mm: how leggy a seedling is. Compare inside a species and age."""
    _above_zero(height_mm, diameter_mm)
    return height_mm / diameter_mm


def sturdiness(height_cm: float, diameter_mm: float) -> float:
    """Height in cm over root-collar diameter in mm (forestry practice)."""
    _above_zero(height_cm, diameter_mm)
    return height_cm / diameter_mm


def root_to_shoot(root_g: float, shoot_g: float) -> float:
    """Root dry mass over shoot dry mass."""
    _above_zero(root_g, shoot_g)
    return root_g / shoot_g


def quality_index(height_cm: float, diameter_mm: float, shoot_g: float, root_g: float) -> float:
    """Total dry mass over (height / diameter + shoot / root) [2]: cm, mm and g."""
    _above_zero(height_cm, diameter_mm, shoot_g, root_g)
    return (shoot_g + root_g) / (height_cm / diameter_mm + shoot_g / root_g)


def chlorosis_score(yellow_percent: float, *, is_dead: bool = False) -> int:
    """Score 0 to 4 by the share of leaf area that is yellow: none, below 10, 30, 60 %, more or dead."""
    if not 0 <= yellow_percent <= 100:
        raise InvalidInput(
            f"yellow leaf area must be 0 to 100 %, got {yellow_percent:g}", "/yellow_percent"
        )
    if is_dead or yellow_percent > 60:
        return 4
    return (
        0 if yellow_percent == 0 else 1 if yellow_percent < 10 else 2 if yellow_percent <= 30 else 3
    )


def _above_zero(*values: float) -> None:
    if min(values) <= 0:
        raise InvalidInput(f"every measure must be above 0, got {min(values):g}", "/value")
