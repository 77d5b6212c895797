"""How many objections were looked for, and which could not be: no note is no proof of a sound trial."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from racecard.core.model import Plan
from racecard.core.model.results import Results


@dataclass(frozen=True, slots=True)
class Record:
    """What a judgement had to go by. `is_whole`: a whole trial, not a table; `has_places`: where the
    units stood is known; `is_timed`: days are told.
    """

    plan: Plan
    results: Results
    is_whole: bool
    has_places: bool
    is_timed: bool


def _always(_: Record) -> bool:
    return True


def _whole(r: Record) -> bool:
    return r.is_whole


_CHECKS: tuple[tuple[str, int, Callable[[Record], bool]], ...] = (
    ("what the treatments are compared with", 4, _always),
    ("numbers and the least chance", 4, _always),
    ("losses and injuries", 4, _always),
    ("plants removed, not known, or going backwards", 3, _always),
    ("whether one unit carries the verdict", 1, _always),
    ("rows and gradients on the bench", 2, lambda r: r.has_places),
    ("when it was looked at", 4, lambda r: r.is_timed),
    ("blocks that disagree", 2, lambda r: len(np.unique(r.results.block)) > 1),
    ("containers that vary", 2, lambda r: r.results.has_shared_containers),
    (
        "root scores given in view",
        1,
        lambda r: r.is_whole and bool(np.isfinite(r.results.score).any()),
    ),
    ("events, amendments and what was written afterwards", 8, _whole),
    ("how it was stuck or sown", 4, _whole),
)
"""What is looked for, in how many notes, and when it can be."""


def checks_say(record: Record) -> str:
    """One sentence to stand under the notes, or in their place."""
    total = sum(n for _, n, _ in _CHECKS)
    missing = [name for name, _, can in _CHECKS if not can(record)]
    done = sum(n for _, n, can in _CHECKS if can(record))
    rest = f"; not possible here: {', '.join(missing)}" if missing else ""
    return f"No note here does not mean there is no problem. Checked: {done} of {total}{rest}."
