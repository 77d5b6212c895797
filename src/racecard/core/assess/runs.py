"""Runs of one plan together: each run beside the others, the gap over all, and what a next run may bring.

The grade rests on the stratified gap (these runs). From three runs on a random-effects interval
stands beside it (further runs like these), from five a prediction for the next.

References:
    [1] Cochran (1954), Biometrics 10, 101-129: heterogeneity Q.
    [2] Paule & Mandel (1982), J. Res. Natl. Bur. Stand. 87, 377-385: variance between runs.
    [3] Hartung & Knapp (2001), Stat. Med. 20, 3875-3889; factor not below 1: Röver et al. (2015),
        BMC Med. Res. Methodol. 15, 99.
    [4] Higgins, Thompson & Spiegelhalter (2009), J. R. Stat. Soc. A 172, 137-159: prediction.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from racecard.core.arrays import Floats, Ints
from racecard.core.assess.strike import Shares, comparable, gap, unit_shares
from racecard.core.model import Plan
from racecard.core.model.results import Results
from racecard.core.stats import special
from racecard.core.stats.gap_interval import spread_of_gap
from racecard.core.stats.proportions import Interval, t_for

_FURTHER_FROM = 3
_NEXT_FROM = 5
DIFFER = 0.10


@dataclass(frozen=True, slots=True)
class RunGap:
    """One run of one comparison: its units and its gap, or none where it lacked an arm."""

    run: str
    treated: int
    control: int
    gap: Interval | None


@dataclass(frozen=True, slots=True)
class RunsTogether:
    """One treatment against the control over several runs; limits are fractions."""

    treatment: int
    runs: tuple[RunGap, ...]
    q: float | None
    q_p: float | None
    further: tuple[float, float, float] | None
    next_run: tuple[float, float] | None


def runs_together(
    plan: Plan, results: Results, run: Ints, names: Sequence[str], horizon: float
) -> tuple[RunsTogether, ...]:
    """Every comparison, run by run.

    Args:
        plan: the plan that all runs carried out.
        results: units of all runs; blocks are never shared between runs.
        run: index into `names` of each unit's run, shape (u,).
        names: names of the runs.
        horizon: day up to which strikes count.
    """
    reference = plan.reference
    if reference is None or len(names) < 2 or horizon == 0:
        return ()
    shares = unit_shares(results, horizon)
    return tuple(
        _one(shares, run, names, i, reference)
        for i in range(len(plan.treatments))
        if i != reference and np.any(shares.treatment == i)
    )


def _one(shares: Shares, run: Ints, names: Sequence[str], i: int, reference: int) -> RunsTogether:
    rows, gaps, variances = [], [], []
    for k, name in enumerate(names):
        mine = shares.keep(run == k)
        units, _ = comparable(mine, i, reference)
        treated = units.treatment == i
        if not treated.any() or treated.all():
            rows.append(RunGap(name, int(treated.sum()), int((~treated).sum()), None))
            continue
        found = gap(units, i)
        rows.append(RunGap(name, int(treated.sum()), int((~treated).sum()), found))
        gaps.append(found.estimate)
        variances.append(_variance(units, treated))
    g, v = np.array(gaps), np.array(variances)
    q = p = None
    further = following = None
    if len(g) >= 2 and np.all(v > 0):
        w = 1 / v
        q = float(np.sum(w * (g - np.sum(w * g) / w.sum()) ** 2))  # [1]
        p = float(special.chdtrc(len(g) - 1, q))
        if len(g) >= _FURTHER_FROM:
            further, following = random_effects(g, v)
    return RunsTogether(i, tuple(rows), q, p, further, following)


def _variance(units: Shares, treated: np.ndarray) -> float:
    """Sampling variance of one run's gap, in fractions squared."""
    if np.any(units.sizes > 1):
        spread = spread_of_gap(units.share, treated, units.block)
        return spread.error**2 if spread is not None else 0.0
    top = bottom = 0.0
    for b in np.unique(units.block):
        here = units.block == b
        n1, n0 = int((here & treated).sum()), int((here & ~treated).sum())
        w = n1 * n0 / (n1 + n0)
        for mine, n in ((here & treated, n1), (here & ~treated, n0)):
            share = (float(units.struck[mine].sum()) + 0.5) / (n + 1)  # never 0 at 0 or all struck
            top += w**2 * share * (1 - share) / n
        bottom += w
    return top / bottom**2


def random_effects(
    gaps: Floats, variances: Floats
) -> tuple[tuple[float, float, float], tuple[float, float] | None]:
    """Mean over runs like these with its Hartung-Knapp interval [3], and a prediction from five on [4].

    Args:
        gaps, variances: gap of each run and its sampling variance, shape (k,), k >= 2.

    Returns:
        (estimate, low, high), and (low, high) of the next run or None.
    """
    k = len(gaps)
    tau2 = between_variance(gaps, variances)
    w = 1 / (variances + tau2)
    mean = float(np.sum(w * gaps) / w.sum())
    factor = max(1.0, float(np.sum(w * (gaps - mean) ** 2)) / (k - 1))
    error = float(np.sqrt(factor / w.sum()))
    half = t_for(0.95, k - 1) * error
    following = None
    if k >= _NEXT_FROM:
        wide = t_for(0.95, k - 2) * float(np.sqrt(tau2 + error**2))
        following = (max(-1.0, mean - wide), min(1.0, mean + wide))
    return (mean, max(-1.0, mean - half), min(1.0, mean + half)), following


def between_variance(gaps: Floats, variances: Floats) -> float:
    """Variance between runs for which the weighted squares equal their expectation [2]; at least 0.

    Args:
        gaps: one effect a run, shape (k,).
        variances: their sampling variances, shape (k,), each above 0.
    """

    def excess(tau2: float) -> float:
        w = 1 / (variances + tau2)
        mean = np.sum(w * gaps) / w.sum()
        return float(np.sum(w * (gaps - mean) ** 2)) - (len(gaps) - 1)

    if excess(0.0) <= 0:
        return 0.0
    low, high = 0.0, 1.0
    while excess(high) > 0:
        high *= 2
    for _ in range(80):
        mid = (low + high) / 2
        low, high = (mid, high) if excess(mid) > 0 else (low, mid)
    return (low + high) / 2
