"""A companion to the verdict that never decides it: the chance that the true rate is higher.

References:
    [1] Jeffreys (1946), Proc. R. Soc. A 186, 453-461: Beta(1/2, 1/2) for a share.
"""

import numpy as np

from racecard.core.arrays import Floats
from racecard.errors import InvalidInput

_STEPS = 4001


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
