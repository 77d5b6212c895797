"""The bench drawn by lot from a stored seed, and its map of trays and cells.

The dealing works on raw words of the generator (PCG64 [1], whose stream is fixed), not on a
library's shuffle, so that a seed deals the same bench on every machine. The drawn bench is stored
all the same: it is what the grower stuck.

References:
    [1] O'Neill (2014), PCG: A Family of Simple Fast Space-Efficient Statistically Good
        Algorithms for Random Number Generation, HMC-CS-2014-0905.
"""

from collections.abc import Callable, Sequence

import numpy as np

from racecard.core.model import Cell, Plan

TRAY_ROWS = 8


def draw_bench(plan: Plan, seed: int) -> tuple[Cell, ...]:
    """Deal every container its treatment by lot, block by block, and place it on a tray.

    Within each block every treatment has the same number of containers, as even as the plan's
    number allows: 10 containers in 4 blocks are dealt 3, 3, 2, 2. Each block starts on a new row;
    what is left of its last row is spare.

    Args:
        plan: checked plan; needs treatments, units >= 1, 1 <= blocks <= units, columns >= 1.
        seed: 0 <= seed < 2**63.

    Returns:
        Cells in order of tray, row, column; spare cells carry treatment -1.
    """
    words = _words(seed)
    sizes = block_sizes(plan.units, plan.blocks)
    arms = range(len(plan.treatments))
    cells: list[Cell] = []
    tray = row = 0
    for block, size in enumerate(sizes):
        deck = shuffled([a for a in arms for _ in range(size)], words)
        rows = -(-len(deck) // plan.columns)
        if row and row + min(rows, TRAY_ROWS) > TRAY_ROWS:
            tray, row = tray + 1, 0
        deck += [-1] * (rows * plan.columns - len(deck))
        for i in range(rows):
            if row == TRAY_ROWS:
                tray, row = tray + 1, 0
            line = deck[i * plan.columns : (i + 1) * plan.columns]
            cells += [Cell(tray, row, col, block, arm) for col, arm in enumerate(line)]
            row += 1
    return tuple(cells)


def block_sizes(units: int, blocks: int) -> tuple[int, ...]:
    """Containers per treatment in each block, as even as can be."""
    each, rest = divmod(units, blocks)
    return tuple(each + (b < rest) for b in range(blocks))


def shuffled(deck: Sequence[int], words: Callable[[], int]) -> list[int]:
    """Fisher–Yates from the top of the deck, each draw free of bias by rejection.

    Args:
        deck: what is dealt.
        words: gives one unsigned 64-bit word a call.
    """
    out = list(deck)
    for i in range(len(out) - 1, 0, -1):
        j = _below(i + 1, words)
        out[i], out[j] = out[j], out[i]
    return out


def _below(bound: int, words: Callable[[], int]) -> int:
    limit = (1 << 64) - (1 << 64) % bound
    while True:
        word = words()
        if word < limit:
            return word % bound


def _words(seed: int) -> Callable[[], int]:
    generator = np.random.PCG64(seed)
    return lambda: int(generator.random_raw())
