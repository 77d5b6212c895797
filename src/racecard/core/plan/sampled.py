"""Power by simulated trials, where outcomes are too many to enumerate: containers, days, scores.

Each simulated trial is put to the finish's own lot test. Its p is counted over every deal where
these are few; else the tail of the deals is that of the bounded curve [1] with their exact variance and fourth moment.

References:
    [1] Pearson (1895), Phil. Trans. R. Soc. A 186, 343-414: the symmetric bounded curve (type II)
        of a given variance and fourth moment.
"""

from dataclasses import dataclass
from itertools import combinations
from math import comb, prod

import numpy as np

from racecard.core.arrays import Bools, Floats
from racecard.core.stats import special
from racecard.core.stats.permutation import CLEAR_ENOUGH

TRIALS = 8_000
_MOST_DEALS = 3_600
_SEED = 20_260
_SPREAD = 0.25
"""Standard deviation of the days to strike, as a share of their mean (common practice)."""
_CLASSES = 60
_SCORE_SPREAD = 0.9
"""Standard deviation of a root score among the struck (as the simulator of the demo has it)."""


@dataclass(frozen=True, slots=True)
class Bench:
    """The compared units: treated and control units in each block, plants in each, their ICC."""

    treated: tuple[int, ...]
    control: tuple[int, ...]
    per_container: int = 1
    icc: float = 0.0


def strike_profile(share: float) -> Floats:
    """Chances of (struck, never).

    Args:
        share: true share that strikes, in [0, 1].
    """
    return np.array([share, 1 - share])


def day_profile(share: float, middle_day: float, looks: tuple[int, ...]) -> Floats:
    """Chances of being first seen struck at each look, and never.

    Args:
        share: share that strikes given time enough, in [0, 1].
        middle_day: mean day of those that strike, above 0; their days follow a gamma curve.
        looks: days of the looks, ascending.
    """
    shape = 1 / _SPREAD**2
    upto = share * special.gammainc(shape, np.array(looks, float) * shape / max(0.25, middle_day))
    return np.append(np.diff(upto, prepend=0.0), 1 - upto[-1])


def score_profile(share: float, score: float) -> Floats:
    """Chances of a root score 5 down to 1, and of none (0), for a mean score of the struck.

    Args:
        share: true share that strikes, in [0, 1].
        score: mean score of those, 1 to 5.
    """
    edges = np.array([np.inf, 4.5, 3.5, 2.5, 1.5, -np.inf])
    upto = special.ndtr((edges - score) / _SCORE_SPREAD)
    return np.append(share * -np.diff(upto), 1 - share)


def value_profiles(
    share: float, usual: float, better: float, spread: float
) -> tuple[Floats, Floats]:
    """Chances of a measured value in each of 60 classes, highest first, and of none, for two arms.

    Args:
        share: share that is alive and there to be measured, in [0, 1].
        usual, better: mean of either arm, in the unit of the measure.
        spread: standard deviation between plants treated alike, above 0.
    """
    edges = np.linspace(better + 4 * spread, usual - 4 * spread, _CLASSES + 1)
    edges[0], edges[-1] = np.inf, -np.inf

    def of(mean: float) -> Floats:
        upto = special.ndtr((edges - mean) / spread)
        return np.append(share * -np.diff(upto), 1 - share)

    return of(usual), of(better)


def sampled_power(
    bench: Bench,
    control: Floats,
    treated: Floats,
    *,
    by: str = "strike",
    family: int = 1,
    trials: int = TRIALS,
) -> float:
    """Share of simulated trials that the lot test calls clear, Holm's first step included.

    Args:
        bench: the compared units.
        control, treated: chance of each outcome, best first, shape (k,), each summing to 1.
        by: "strike" (first outcome against the rest), "days" (log-rank scores) or "score" (ranks).
        family: candidates that Holm corrects for, >= 1.
        trials: simulated trials; two standard errors are at most 100 / sqrt(trials) points.
    """
    rng = np.random.default_rng([_SEED, len(bench.treated), bench.per_container])
    limit = CLEAR_ENOUGH / (2 * family)
    if bench.per_container == 1:
        t1 = _counts(bench.treated, treated, trials, rng)
        t0 = _counts(bench.control, control, trials, rng)
        tail = _tail_of_counts(bench, t1, t0, by)
    else:
        u1 = _containers(bench, sum(bench.treated), treated, trials, rng)
        u0 = _containers(bench, sum(bench.control), control, trials, rng)
        tail = _tail_of_units(bench, u1, u0, by)
    return float(np.mean(tail < limit))


def _counts(
    sizes: tuple[int, ...], chances: Floats, trials: int, rng: np.random.Generator
) -> Floats:
    """Plants with each outcome, shape (trials, blocks, outcomes)."""
    blocks = [rng.multinomial(n, chances, size=trials) for n in sizes]
    return np.stack(blocks, axis=1).astype(float)


def _containers(
    bench: Bench, units: int, chances: Floats, trials: int, rng: np.random.Generator
) -> Floats:
    """Plants with each outcome in each container, shape (trials, units, outcomes).

    A container's share of struck is drawn from a beta curve with the ICC asked for.
    """
    share = float(1 - chances[-1])
    if bench.icc > 0 and 0 < share < 1:
        total = (1 - bench.icc) / bench.icc
        rate = rng.beta(share * total, (1 - share) * total, size=(trials, units))
    else:
        rate = np.full((trials, units), share)
    struck = rng.binomial(bench.per_container, rate)
    if len(chances) == 2:
        return np.stack((struck, bench.per_container - struck), axis=2).astype(float)
    split = rng.multinomial(struck, chances[:-1] / max(share, 1e-12))
    return np.concatenate((split, (bench.per_container - struck)[..., None]), axis=2).astype(float)


def _scores(pooled: Floats, by: str) -> Floats:
    """Score of each outcome from the pooled counts of both arms, shape (trials, outcomes)."""
    if by == "strike":
        return np.broadcast_to(np.append(1.0, np.zeros(pooled.shape[1] - 1)), pooled.shape)
    n = pooled.sum(axis=1, keepdims=True)
    upto = np.cumsum(pooled, axis=1)
    if by == "score":
        return np.asarray(-(upto - (pooled - 1) / 2))  # midranks, the best outcome highest
    after = np.clip(1 - upto[:, :-1] / n, 0, 1)
    before = np.concatenate((np.ones_like(n), after[:, :-1]), axis=1)
    mass = before - after
    step = np.divide(mass, before, where=before > 1e-12, out=np.zeros_like(mass))
    high = np.cumsum(step, axis=1)
    low = high - step
    inner = np.divide(after * high - before * low, mass, where=mass > 1e-12, out=-low)
    return np.concatenate((inner, -high[:, -1:]), axis=1)


def _tail_of_counts(bench: Bench, t1: Floats, t0: Floats, by: str) -> Floats:
    """Smaller tail of each simulated trial of single plants."""
    pooled = t1 + t0
    scores = _scores(pooled.sum(axis=1), by)
    if _deals(bench) <= _MOST_DEALS:
        return _counted_tail(bench, _one_by_one(t1, scores), _one_by_one(t0, scores))
    scores = scores[:, None, :]
    n1, n0 = t1.sum(axis=2), t0.sum(axis=2)
    n = n1 + n0
    mean = (pooled * scores).sum(axis=2) / n
    centred = scores - mean[..., None]
    gap = (t1 * centred).sum(axis=(1, 2))
    moments = [(pooled * centred**k).sum(axis=2) for k in (2, 4)]
    step = 0.0 if by == "days" else 1.0
    return _tail(gap, *_spread_of_deals(moments[0], moments[1], n1, n0), step)


def _one_by_one(counts: Floats, scores: Floats) -> Floats:
    """Score of each plant, shape (trials, units), from counts of outcomes in each block."""
    parts = []
    for b in range(counts.shape[1]):
        upto = np.cumsum(counts[:, b], axis=1)
        plant = np.arange(int(upto[0, -1]))
        outcome = (plant[None, :, None] >= upto[:, None, :]).sum(axis=2)
        parts.append(np.take_along_axis(scores, outcome, axis=1))
    return np.concatenate(parts, axis=1)


def _deals(bench: Bench) -> int:
    """How many deals there are of the compared units within their blocks."""
    return prod(comb(a + b, a) for a, b in zip(bench.treated, bench.control, strict=True))


def _tail_of_units(bench: Bench, u1: Floats, u0: Floats, by: str) -> Floats:
    """Smaller tail of each simulated trial of containers."""
    pooled = u1.sum(axis=1) + u0.sum(axis=1)
    scores = _scores(pooled, by)[:, None, :]
    x1 = (u1 * scores).sum(axis=2) / bench.per_container
    x0 = (u0 * scores).sum(axis=2) / bench.per_container
    if _deals(bench) <= _MOST_DEALS:
        return _counted_tail(bench, x1, x0)
    gap = np.zeros(len(x1))
    parts = []
    at1 = at0 = 0
    for m1, m0 in zip(bench.treated, bench.control, strict=True):
        part = np.concatenate((x1[:, at1 : at1 + m1], x0[:, at0 : at0 + m0]), axis=1)
        centred = part - part.mean(axis=1, keepdims=True)
        gap += centred[:, :m1].sum(axis=1)
        parts.append(((centred**2).sum(axis=1), (centred**4).sum(axis=1)))
        at1, at0 = at1 + m1, at0 + m0
    second, fourth = (np.stack([p[i] for p in parts], axis=1) for i in (0, 1))
    spread = _spread_of_deals(
        second, fourth, np.array(bench.treated, float), np.array(bench.control, float)
    )
    return _tail(gap, *spread, 1.0 / bench.per_container if by == "strike" else 0.0)


def _counted_tail(bench: Bench, x1: Floats, x0: Floats) -> Floats:
    """Smaller tail over every deal of the units within their blocks."""
    resamples = np.zeros((1, 0))
    for a, b in zip(bench.treated, bench.control, strict=True):
        part = _all_deals(a + b, a)
        resamples = np.hstack(
            (np.repeat(resamples, len(part), axis=0), np.tile(part, (len(resamples), 1)))
        )
    at1 = np.cumsum((0, *bench.treated))
    at0 = np.cumsum((0, *bench.control))
    units = np.concatenate(
        [
            np.concatenate((x1[:, at1[i] : at1[i + 1]], x0[:, at0[i] : at0[i + 1]]), axis=1)
            for i in range(len(bench.treated))
        ],
        axis=1,
    )
    seen = x1.sum(axis=1)[:, None]
    out = np.empty(len(units))
    for start in range(0, len(units), 1000):
        chunk = slice(start, start + 1000)
        sums = units[chunk] @ resamples.T
        up = (sums >= seen[chunk] - 1e-9).mean(axis=1)
        out[chunk] = np.minimum(up, (sums <= seen[chunk] + 1e-9).mean(axis=1))
    return out


def _all_deals(n: int, n1: int) -> Floats:
    resamples = np.zeros((comb(n, n1), n))
    for i, chosen in enumerate(combinations(range(n), n1)):
        resamples[i, chosen] = 1.0
    return resamples


def _spread_of_deals(
    second: Floats, fourth: Floats, n1: Floats, n0: Floats
) -> tuple[Floats, Floats]:
    """Variance and fourth cumulant of the treated total over all deals, blocks added up.

    From the centred power sums of each block, shape (trials, blocks). With unequal arms the
    fourth cumulant is left out.
    """
    n = n1 + n0
    variance = second * n1 * n0 / (n * np.maximum(1, n - 1))
    even = np.asarray(n1 == n0)
    safe = np.where(n > 3, n, 4)
    whole = (
        fourth * (1 + 4 / (safe - 1))
        + 3 * (second**2 - fourth)
        - 6 * (2 * fourth - second**2) / (safe - 1)
        + 3 * (3 * second**2 - 6 * fourth) / ((safe - 1) * (safe - 3))
    ) / 16
    cumulant = np.where(even & (n > 3), whole, 3 * variance**2) - 3 * variance**2
    cumulant = np.where(n == 2, -2 * variance**2, cumulant)
    return variance.sum(axis=1), cumulant.sum(axis=1)


def _tail(gap: Floats, variance: Floats, cumulant: Floats, step: float) -> Floats:
    """Chance of a gap at least this wide, on its own side [1].

    Totals that move in steps are taken as a smooth variable rounded to them (Sheppard's
    corrections); `step` 0 for totals without a common step.
    """
    variance = variance - step**2 / 12
    cumulant = cumulant + step**4 / 120
    ok: Bools = variance > 1e-12
    sd = np.sqrt(np.where(ok, variance, 1))
    z = np.maximum(0, np.abs(gap) - step / 2) / sd
    excess = np.minimum(cumulant / np.where(ok, variance, 1) ** 2, -1e-4)
    a = np.maximum(-3 / excess - 1.5, 0.05)
    reach = np.minimum(z / np.sqrt(2 * a + 1), 1)
    return np.asarray(np.where(ok, special.betainc(a, a, (1 - reach) / 2), 1.0))
