"""The t interval of a weighted gap in unit means: for shares of containers, waiting days, measures.

References:
    [1] Student (1908), Biometrika 6, 1-25.
"""

from dataclasses import dataclass

import numpy as np

from racecard.core.arrays import Bools, Floats, Ints
from racecard.core.stats.proportions import t_for


@dataclass(frozen=True, slots=True)
class Spread:
    """Standard error of a weighted gap, with its degrees of freedom."""

    error: float
    df: int

    def half(self, level: float) -> float:
        """Half the width of the interval at a coverage in (0, 1)."""
        return t_for(level, self.df) * self.error


def weighted_gap(values: Floats, treated: Bools, block: Ints) -> float:
    """Mean treated less mean control within blocks, weighted n1 n0 / N.

    Args:
        values: value of each unit, shape (u,).
        treated: which units are of the treatment, shape (u,); both kinds in every block.
        block: block of each unit, shape (u,).
    """
    top = bottom = 0.0
    for b in np.unique(block):
        t, c = values[treated & (block == b)], values[~treated & (block == b)]
        w = len(t) * len(c) / (len(t) + len(c))
        top += w * float(t.mean() - c.mean())
        bottom += w
    return top / bottom


def spread_of_gap(values: Floats, treated: Bools, block: Ints) -> Spread | None:
    """Doubt of the weighted gap between two arms.

    The mean square is that within block x arm where every cell has two or more; of pair
    differences in pairs; otherwise the residual of the block + arm model.

    Args:
        values: value of each unit, shape (u,).
        treated, block: arm and block of each unit; every block holds both arms.

    Returns:
        None where fewer than two degrees of freedom are left.
    """
    blocks = np.unique(block)
    cells = [(t, b) for b in blocks for t in (True, False)]
    members = [values[(treated == t) & (block == b)] for t, b in cells]
    sizes = np.array([len(m) for m in members], float)
    if np.all(sizes == 1):
        differences = np.array(
            [members[2 * i][0] - members[2 * i + 1][0] for i in range(len(blocks))]
        )
        df = len(blocks) - 1
        square = float(np.var(differences, ddof=1)) / 2 if df else 0.0
    elif np.all(sizes >= 2):
        df = len(values) - len(cells)
        square = sum(float(np.sum((m - m.mean()) ** 2)) for m in members) / df
    else:
        df = len(values) - len(blocks) - 1
        square = _additive_residual(values, treated, block, blocks) / max(df, 1)
    if df < 2:
        return None
    n1, n0 = sizes[0::2], sizes[1::2]
    w = n1 * n0 / (n1 + n0)
    return Spread(float(np.sqrt(square * np.sum(w**2 * (1 / n1 + 1 / n0))) / w.sum()), df)


def _additive_residual(values: Floats, treated: Bools, block: Ints, blocks: Ints) -> float:
    """Residual sum of squares of the block + arm model."""
    columns = np.column_stack([block == b for b in blocks] + [treated]).astype(float)
    fit, *_ = np.linalg.lstsq(columns, values, rcond=None)
    return float(np.sum((values - columns @ fit) ** 2))
