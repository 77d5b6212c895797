"""Size and grade of the cuttings before the start: dealt by lot, and whether the arms are alike."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from racecard.core.arrays import Floats, Ints
from racecard.core.model import Cell
from racecard.core.streams import generator
from racecard.errors import InvalidInput

TRAITS = ("length", "nodes", "thickness", "leaves", "weight", "grade")
"""What may be measured of a cutting or seed before the start; grade is a size class, 1 the best."""
_DEALS = 4_000
_STREAM = 3


@dataclass(frozen=True, slots=True)
class ArmBalance:
    """One trait of one arm: how many were measured, their mean, least and most."""

    n: int
    mean: float | None
    least: float | None
    most: float | None


@dataclass(frozen=True, slots=True)
class Balance:
    """One trait over all arms; `p`: how often a fair lot would deal means at least as far apart."""

    trait: str
    arms: tuple[ArmBalance, ...]
    p: float | None
    says: str


def deal_grades(
    counts: Mapping[str, int], cells: Sequence[Cell], seed: int
) -> tuple[str | None, ...]:
    """Deal the cuttings of each grade evenly over the treatments, by lot within each.

    Grades go out one after another, over treatments in turn from where the last one stopped, so
    that two arms never differ by more than one cutting of a grade.

    Args:
        counts: how many there are of each grade, the best first.
        cells: the bench; spares and borders get none.
        seed: the trial's seed; grades have a stream of their own.

    Returns:
        A grade for each cell, None for spares.

    Raises:
        InvalidInput: a negative number, or fewer cuttings than planted cells.
    """
    planted = [i for i, c in enumerate(cells) if c.treatment >= 0]
    if any(n < 0 for n in counts.values()):
        raise InvalidInput("The number of a grade cannot be below 0.", "/grades")
    if sum(counts.values()) < len(planted):
        raise InvalidInput(
            f"The grades hold {sum(counts.values())} cuttings, the bench needs {len(planted)}: "
            "cut more, or set fewer.",
            "/grades",
        )
    rng = generator(seed, "grades", legacy=(_STREAM,))
    arms = sorted({cells[i].treatment for i in planted})
    waiting = {
        a: [int(i) for i in rng.permutation([i for i in planted if cells[i].treatment == a])]
        for a in arms
    }
    deck = [grade for grade, n in counts.items() for _ in range(n)]
    out: list[str | None] = [None] * len(cells)
    turn = list(rng.permutation(arms))
    for grade in deck:
        arm = next((a for a in turn if waiting[a]), None)
        if arm is None:
            break
        out[waiting[arm].pop()] = grade
        turn.remove(arm)
        turn.append(arm)
    return tuple(out)


def balance(
    trait: str, values: Floats, treatment: Ints, block: Ints, names: Sequence[str], seed: int
) -> Balance:
    """How alike the arms are in one trait.

    Args:
        trait: its name.
        values: one a planted unit, nan where not measured, shape (u,).
        treatment: index of each unit's treatment, shape (u,).
        block: block of each unit, shape (u,); the lot is re-dealt within blocks.
        names: of the treatments.
        seed: the trial's seed.
    """
    arms = tuple(_arm(values[treatment == a]) for a in range(len(names)))
    known = ~np.isnan(values)
    p = _chance_of_apart(values[known], treatment[known], block[known], seed)
    return Balance(trait, arms, p, _says(trait, arms, p, names))


def _arm(values: Floats) -> ArmBalance:
    known = values[~np.isnan(values)]
    if not len(known):
        return ArmBalance(0, None, None, None)
    return ArmBalance(len(known), float(known.mean()), float(known.min()), float(known.max()))


def _spread(values: Floats, treatment: Ints) -> Floats:
    """Sum over arms of n (mean - whole mean)^2, for rows of values (d, u)."""
    out = np.zeros(len(values))
    middle = values.mean(axis=1)
    for a in np.unique(treatment):
        mine = treatment == a
        out += mine.sum() * (values[:, mine].mean(axis=1) - middle) ** 2
    return out


def _chance_of_apart(values: Floats, treatment: Ints, block: Ints, seed: int) -> float | None:
    if len(np.unique(treatment)) < 2 or float(np.ptp(values)) == 0:
        return None
    rng = generator(seed, "baseline", len(values), legacy=(_STREAM, len(values)))
    resamples = np.broadcast_to(values, (_DEALS, len(values))).copy()
    for b in np.unique(block):
        here = np.flatnonzero(block == b)
        resamples[:, here] = rng.permuted(resamples[:, here], axis=1)
    seen = float(_spread(values[None, :], treatment)[0])
    hits = int(np.sum(_spread(resamples, treatment) >= seen - 1e-9))
    return (1 + hits) / (1 + _DEALS)


def _says(trait: str, arms: Sequence[ArmBalance], p: float | None, names: Sequence[str]) -> str:
    if p is None:
        return f"Nothing in {trait} sets the treatments apart."
    if p >= 0.05:
        return f"The treatments are as alike in {trait} as chance makes them."
    measured = [(a.mean, n) for a, n in zip(arms, names, strict=True) if a.mean is not None]
    most, least = max(measured), min(measured)
    return f"{most[1]} has {trait} {most[0]:.3g} on average and {least[1]} {least[0]:.3g}; chance gives a difference this large {100 * p:.1f} times in 100. Assign the grades again before you start."
