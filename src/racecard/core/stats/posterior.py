"""Companions to the verdict that never decide it: the chance that the true rate is higher, what to expect next time.

References:
    [1] Jeffreys (1946), Proc. R. Soc. A 186, 453-461: Beta(1/2, 1/2) for a share.
    [2] Dawid (1994), IMS Lect. Notes 24, 211-220: a posterior needs no correction for having picked the best.
    [3] van Zwet & Gelman (2022), Am. Stat. 76, 1-9: gaps that lead are seen too large; shrink them.
"""

from dataclasses import dataclass

import numpy as np

from racecard.core.arrays import Floats
from racecard.errors import InvalidInput

_STEPS = 4001
USUAL_TAU = 0.9
"""Standard deviation of the log odds ratio between treatments: about 20 points from 40 % (ours)."""
_SHARES, _EFFECTS, _BINS = 120, 201, 400


@dataclass(frozen=True, slots=True)
class Expected:
    """A difference to expect next time, shrunk, with its central 95 % range; in the unit of what was compared."""

    size: float
    low: float
    high: float


def next_share(
    struck1: float, n1: float, struck0: float, n0: float, tau: float = USUAL_TAU
) -> Expected:
    """The difference in shares to expect of a repeat, from both arms' counts [2], [3].

    Args:
        struck1, n1: struck of counted of the treated; need not be whole where containers are worth fewer plants.
        struck0, n0: of the control.
        tau: standard deviation of true log odds ratios, above 0.

    Returns:
        Mean and range of the difference, treated less control, fractions.
    Method:
        Posterior on a grid: binomial likelihood of both, control share uniform, log odds ratio N(0, tau²).
    """
    zero = (np.arange(_SHARES) + 0.5) / _SHARES
    effect = np.linspace(-5 * tau, 5 * tau, _EFFECTS)
    one = 1 / (1 + np.exp(-np.log(zero / (1 - zero))[:, None] - effect))
    log_p = struck1 * np.log(one) + (n1 - struck1) * np.log1p(-one) - effect**2 / (2 * tau**2)
    log_p += (struck0 * np.log(zero) + (n0 - struck0) * np.log1p(-zero))[:, None]
    weight = np.exp(log_p - log_p.max()).ravel()
    gap = (one - zero[:, None]).ravel()
    binned = np.bincount(((gap + 1) / 2 * _BINS).astype(int), weight, _BINS)
    upto = np.cumsum(binned) / weight.sum()
    low, high = np.interp((0.025, 0.975), upto, 2 * (np.arange(_BINS) + 1) / _BINS - 1)
    return Expected(float(weight @ gap / weight.sum()), float(low), float(high))


def next_mean(gap: float, error: float, usual: float) -> Expected:
    """The difference in means to expect of a repeat: days, scores, measures.

    Args:
        gap: what was seen, treated less control.
        error: its standard error, in the same unit, above 0.
        usual: one usual spread between plants treated alike: true differences are N(0, usual²).
    """
    keep = usual**2 / (usual**2 + error**2)
    half = 1.959964 * error * keep**0.5
    return Expected(keep * gap, keep * gap - half, keep * gap + half)


def chance_higher(struck1: int, n1: int, struck0: int, n0: int, *, prior: float = 0.5) -> float:
    """Chance that the first true share is the higher one, from independent Beta(1/2, 1/2) [1].

    Args:
        struck1, n1: struck of stuck of the treated, 0 <= struck1 <= n1, n1 >= 1.
        struck0, n0: of the control.
        prior: both parameters of the prior, 1/2 for Jeffreys', 1 for an even one.

    Returns:
        A probability in [0, 1].

    Raises:
        InvalidInput: a count lies outside its bounds.
    Method:
        Numerical integration over p = sin(a)^2, in which both densities are smooth, by Simpson's rule.
    """
    for x, n in ((struck1, n1), (struck0, n0)):
        if n < 1 or not 0 <= x <= n:
            raise InvalidInput(f"struck must be 0..n with n 1 or more, got {x} of {n}", "/struck")
    angle = np.linspace(0.0, np.pi / 2, _STEPS)
    one, zero = (_density(angle, x, n, prior) for x, n in ((struck1, n1), (struck0, n0)))
    step = angle[1]
    below = np.concatenate(([0.0], np.cumsum((zero[1:] + zero[:-1]) / 2 * step)))
    product = one * below / below[-1]
    weights = np.where(np.arange(_STEPS) % 2, 4.0, 2.0)
    weights[[0, -1]] = 1.0
    total = float(weights @ one)
    return float(weights @ product) / total


def _density(angle: Floats, struck: int, n: int, prior: float) -> Floats:
    """Density of a in p = sin(a)^2 under Beta(struck + prior, n - struck + prior)."""
    ups, downs = 2 * (struck + prior) - 1, 2 * (n - struck + prior) - 1
    inner = angle[1:-1]  # the ends are 0 unless their power is, and weigh nothing either way
    logs = ups * np.log(np.sin(inner)) + downs * np.log(np.cos(inner))
    top = np.exp(logs - logs.max())
    first = top[0] if ups == 0 else 0.0
    return np.concatenate(([first], top, [top[-1] if downs == 0 else 0.0]))
