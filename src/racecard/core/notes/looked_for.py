"""How many objections were looked for, and which could not be: no note is no proof of a sound trial."""

from collections import Counter
from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from racecard.core.model import Plan
from racecard.core.model.results import Results
from racecard.core.notes.registry import RULES, Needs


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


MATTERS: Mapping[str, Callable[[Record], bool]] = {
    "what the treatments are compared with": _always,
    "numbers and the least chance": _always,
    "losses and injuries": _always,
    "plants removed, not known, or going backwards": _always,
    "whether one unit carries the verdict": _always,
    "rows and gradients on the bench": lambda r: r.has_places,
    "when it was looked at": lambda r: r.is_timed,
    "blocks that disagree": lambda r: len(np.unique(r.results.block)) > 1,
    "containers that vary": lambda r: r.results.has_shared_containers,
    "root scores given in view": lambda r: r.is_whole and bool(np.isfinite(r.results.score).any()),
    "events, amendments and what was written afterwards": _whole,
    "how it was stuck or sown": _whole,
}
"""What is looked for at a finish, and when it can be."""


def checks_say(record: Record) -> str:
    """One sentence to stand under the notes, or in their place: rules by their codes, counted once."""
    codes = {(r.about, r.code) for r in RULES if r.needs not in (Needs.DRAFT, Needs.TABLE)}
    of = Counter(about for about, _ in codes)
    missing = [name for name, can in MATTERS.items() if not can(record)]
    done = sum(of[name] for name in MATTERS if name not in missing)
    rest = f"; not possible here: {', '.join(missing)}" if missing else ""
    return f"No note here does not mean there is no problem. Checked: {done} of {of.total()}{rest}."
