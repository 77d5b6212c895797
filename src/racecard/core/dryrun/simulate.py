"""A seeded simulator of rounds: what a grower would have logged under a chosen truth."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from racecard.core.arrays import Floats
from racecard.core.log.stages import stage_scale_of
from racecard.core.model import Cell, Kind, Plan
from racecard.core.model.observation import Count, Look, UnitLog


@dataclass(frozen=True, slots=True)
class Truth:
    """How one treatment really behaves.

    `strike`: share that would strike; `middle_day`, `spread_days`: when; `loss`: share lost
    before striking, about `loss_day`; `cause` of loss; `score`: mean root score of the struck;
    `icc` of propagules in one container, 0 to below 1.
    """

    strike: float
    middle_day: float
    spread_days: float = 3.0
    loss: float = 0.0
    loss_day: float = 12.0
    cause: str = "rotted"
    score: float = 3.0
    icc: float = 0.0


def simulate(
    plan: Plan,
    cells: Sequence[Cell],
    truths: Sequence[Truth],
    days: Sequence[int],
    rng: np.random.Generator,
) -> list[UnitLog]:
    """Logs of every cell that holds a treatment, in the order of `cells`, for these look days.

    Args:
        plan: the plan; `cells` its bench without spares.
        cells: cells with a treatment.
        truths: one truth a treatment.
        days: look days, ascending.
        rng: source of chance.
    """
    out = []
    for cell in cells:
        truth = truths[cell.treatment]
        strikes, losses = _fates(truth, plan.plants_in(cell.treatment), rng)
        if plan.per_container == 1:
            out.append(_single(plan, truth, float(strikes[0]), float(losses[0]), days, rng))
        else:
            out.append(UnitLog(counts=_counts(truth, strikes, losses, days)))
    return out


def _fates(truth: Truth, n: int, rng: np.random.Generator) -> tuple[Floats, Floats]:
    """Day of strike and day of loss of n propagules in one container; inf where never."""
    rate = truth.strike
    if truth.icc > 0 and 0 < rate < 1:
        total = (1 - truth.icc) / truth.icc
        rate = float(rng.beta(rate * total, (1 - rate) * total))
    is_struck = rng.random(n) < rate
    when = np.maximum(
        1,
        rng.gamma(
            (truth.middle_day / truth.spread_days) ** 2, truth.spread_days**2 / truth.middle_day, n
        ),
    )
    strikes = np.where(is_struck, when, np.inf)
    share_lost = min(1.0, truth.loss / max(1e-9, 1 - truth.strike))
    is_lost = ~is_struck & (rng.random(n) < share_lost)
    losses = np.where(
        is_lost, np.maximum(1, rng.normal(truth.loss_day, truth.loss_day / 4, n)), np.inf
    )
    return strikes, losses


def _single(
    plan: Plan,
    truth: Truth,
    strike: float,
    loss: float,
    days: Sequence[int],
    rng: np.random.Generator,
) -> UnitLog:
    looks = []
    for day in days:
        if loss <= day:
            looks.append(Look(day, loss=truth.cause))
            return UnitLog(tuple(looks), score=0)
        stage = _stage(plan, strike, day)
        looks.append(Look(day, stage, shoot=bool(strike + 6 <= day and rng.random() < 0.8)))
    score = int(np.clip(round(rng.normal(truth.score, 0.9)), 1, 5)) if strike <= days[-1] else 0
    return UnitLog(tuple(looks), score=score)


def _stage(plan: Plan, strike: float, day: int) -> int:
    """Stage seen on a day: the ladder climbed so that the endpoint is reached at `strike`."""
    stages = [s.code for s in stage_scale_of(plan).stages]
    lead = 9.0 if plan.kind is Kind.CUTTING else 4.0
    if strike <= day:
        return plan.endpoint
    if not np.isfinite(strike):
        return stages[1 if plan.kind is Kind.SEED and day > 2 else 0]
    below = [s for s in stages if s < plan.endpoint]
    climbed = 1 - min(1.0, (strike - day) / lead)
    return below[min(len(below) - 1, int(climbed * len(below)))]


def _counts(
    truth: Truth, strikes: Floats, losses: Floats, days: Sequence[int]
) -> tuple[Count, ...]:
    out = []
    for day in days:
        lost = int(np.sum(losses <= day))
        out.append(
            Count(day, int(np.sum(strikes <= day)), lost, cause=truth.cause if lost else None)
        )
    return tuple(out)
