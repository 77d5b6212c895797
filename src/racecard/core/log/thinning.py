"""Keeping only the best: the survivors are a choice, and no comparison."""

import re
from collections.abc import Sequence

import numpy as np

from racecard.core.log.events import units_touched
from racecard.core.model import Plan, Unit
from racecard.core.model.observation import Entry
from racecard.core.model.results import Results

_STRONGEST = re.compile(r"\b(strong|best|fine|health|larg|bigg|tall|vigo|good)\w*", re.IGNORECASE)


def first_thinned(told: Sequence[Entry]) -> int | None:
    """The first day on which only the strongest or best were kept; None where they never were."""
    return min((e.day for e in told if _is_choice(e)), default=None)


def chosen_survivors(
    plan: Plan, units: Sequence[Unit], told: Sequence[Entry], results: Results
) -> frozenset[int]:
    """Treatments of which survivors were counted that had been chosen as the strongest.

    Counts made before a thinning stand. What struck after it was chosen, and is not compared.
    """
    days = np.full(len(units), np.inf)
    at = {u.id: i for i, u in enumerate(units)}
    for e in told:
        if _is_choice(e):
            for u in units_touched(e, units, plan, told):
                days[at[u.id]] = min(days[at[u.id]], e.day - u.late)
    after = np.isfinite(results.by) & (results.by > days[results.unit])
    return frozenset(results.treatment[results.unit[after]].tolist())


def _is_choice(e: Entry) -> bool:
    """Culled to the best by name, or thinned with words that say so."""
    if e.kind != "event":
        return False
    return e.what == "culled" or (e.what == "thinned" and bool(_STRONGEST.search(e.text)))
