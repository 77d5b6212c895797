"""Results of which nothing but counts matters to a comparison by strike: how many struck of how many.

That is so where every plant stands alone and was seen to the end, and none was taken out. When it
struck, or when it was lost, changes no p, no interval and no grade of strike.
"""

import numpy as np

from racecard.core.model.results import Results


def is_plain(results: Results, end: float | None) -> bool:
    """Whether these results are of single plants that are all known at the end, none taken out.

    Args:
        results: what was seen of every unit.
        end: last day of the plan; None where nobody says.
    """
    r = results
    if end is None or any(x is not None for x in (r.held, r.line, r.injured, r.at_start, r.age)):
        return False
    is_single = np.array_equal(r.unit, np.arange(len(r.treatment)))
    if not is_single or np.isfinite(r.removed).any():
        return False
    struck, lost = np.isfinite(r.by), np.isfinite(r.lost_by)
    is_known = struck | lost | (r.last >= end)
    return bool(is_known.all() and np.all(r.by[struck] <= end) and np.all(r.lost_by[lost] <= end))


def counts_by_arm(results: Results) -> list[bytes]:
    """For each treatment its units and those that struck, block by block, as a key.

    Args:
        results: plain results, shape (u,) units in b blocks.
    """
    arms, blocks = int(results.treatment.max()) + 1, int(results.block.max()) + 1
    cell = results.treatment * blocks + results.block
    units = np.bincount(cell, minlength=arms * blocks)
    struck = np.bincount(cell[np.isfinite(results.by)], minlength=arms * blocks)
    table = np.stack((units, struck), axis=1).reshape(arms, 2 * blocks)
    return [row.tobytes() for row in table]
