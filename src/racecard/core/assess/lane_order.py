"""The order of lines in a lane: the lane's edge is its curve."""

import numpy as np

from racecard.core.arrays import Ints
from racecard.core.model.results import Results


def lane_order(results: Results, arm: int) -> Ints:
    """Propagules of one treatment, soonest struck first, then the waiting, then those lost or removed.

    Args:
        results: what was seen, in days.
        arm: index of the treatment.

    Returns:
        Indices of propagules, shape (p of this arm,).
    """
    mine = np.flatnonzero(results.treatment[results.unit] == arm)
    gone = np.minimum(results.lost_by, results.removed)[mine]
    return mine[np.lexsort((-np.where(np.isfinite(gone), gone, 1e6), results.by[mine]))]
