"""What goes into a judgement: one endpoint of one trial as plain arrays."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import compress

import numpy as np

from racecard.core.arrays import NEVER, Bools, Floats, Ints
from racecard.core.model import History
from racecard.errors import InvalidInput


@dataclass(frozen=True, slots=True, eq=False)
class Results:
    """Units and their propagules, in days from day 0; `inf` where a thing never happened.

    Units (u,): `treatment` index, `block` index, `score` 0-5 root score (nan: not scored).
    Propagules (p,): `unit` index; struck in (`after`, `by`]; lost in (`lost_after`, `lost_by`];
    `removed`: last look before it was taken out unstruck; `last` day it was looked at.
    `looks`: for each unit the days on which it was looked at, day 0 not among them.
    `held` (u,): units whose treatment was not dealt; `line` (u,): the column each stands in, where
    the lot kept treatments apart in columns; `injured` (u,): units that showed clear signs of harm.
    `at_start` (p,): already at the endpoint when set; such a propagule is among the removed, at day 0.
    `age` (u,): days since each unit was set, now; None where nobody says what day it is.
    """

    treatment: Ints
    block: Ints
    score: Floats
    looks: tuple[frozenset[float], ...]
    unit: Ints
    after: Floats
    by: Floats
    lost_after: Floats
    lost_by: Floats
    removed: Floats
    last: Floats
    went_back: Bools
    held: Bools | None = None
    line: Ints | None = None
    injured: Bools | None = None
    at_start: Bools | None = None
    age: Floats | None = None
    _of_some: "dict[tuple[int, ...], Results]" = field(default_factory=dict, init=False, repr=False)
    """The parts that were asked for: a finish asks for each pair a dozen times."""

    @property
    def sizes(self) -> Ints:
        """Propagules in each unit (u,)."""
        return np.bincount(self.unit, minlength=len(self.treatment))

    @property
    def has_shared_containers(self) -> bool:
        """Whether any unit holds more than one propagule."""
        return bool(np.any(self.sizes > 1))

    def only(self, arms: Sequence[int]) -> "Results":
        """The results of these treatments alone, units renumbered in their old order.

        Args:
            arms: indices of the treatments that stay.
        """
        key = tuple(sorted(arms))
        if key not in self._of_some:
            self._of_some[key] = self._only(key)
        return self._of_some[key]

    def _only(self, arms: Sequence[int]) -> "Results":
        wanted = np.zeros(max((int(self.treatment.max(initial=0)), *arms)) + 1, bool)
        wanted[list(arms)] = True
        keep = wanted[self.treatment]
        renumber = np.cumsum(keep) - 1
        p = keep[self.unit]
        return Results(
            self.treatment[keep],
            self.block[keep],
            self.score[keep],
            tuple(compress(self.looks, keep.tolist())),
            renumber[self.unit[p]],
            self.after[p],
            self.by[p],
            self.lost_after[p],
            self.lost_by[p],
            self.removed[p],
            self.last[p],
            self.went_back[p],
            None if self.held is None else self.held[keep],
            None if self.line is None else self.line[keep],
            None if self.injured is None else self.injured[keep],
            None if self.at_start is None else self.at_start[p],
            None if self.age is None else self.age[keep],
        )

    def counted_singly(self) -> "Results":
        """Every propagule as a unit of its own, though containers are shared."""
        return replace(
            self,
            treatment=self.treatment[self.unit],
            block=self.block[self.unit],
            score=self.score[self.unit],
            looks=tuple(self.looks[i] for i in self.unit),
            unit=np.arange(len(self.unit)),
            held=None,
            line=None,
            injured=None if self.injured is None else self.injured[self.unit],
            age=None if self.age is None else self.age[self.unit],
        )


def results_from(
    treatment: Sequence[int],
    block: Sequence[int],
    histories: Sequence[Sequence[History]],
    looks: Sequence[Sequence[float]],
    scores: Sequence[float | None] | None = None,
) -> Results:
    """Lay the histories of all units out as arrays.

    Args:
        treatment: treatment index of each unit, length u.
        block: block index of each unit, length u.
        histories: for each unit the histories of its propagules.
        looks: for each unit the days on which it was looked at.
        scores: for each unit its root score, None where not scored.

    Raises:
        InvalidInput: an interval is empty or begins before day 0.
    """
    flat = [(i, h) for i, unit in enumerate(histories) for h in unit]
    pick = [h for _, h in flat]
    for h in pick:
        for after, by in ((h.struck_after, h.struck_by), (h.lost_after, h.lost_by)):
            if by is not None and not 0 <= (after or 0) < by:
                raise InvalidInput(
                    f"an interval must run from day 0 or later forwards, got ({after}, {by}]"
                )
    at_start = np.array([h.at_start for h in pick], bool)
    sets: dict[frozenset[float], frozenset[float]] = {}  # like days are one object: see look_table
    return Results(
        np.asarray(treatment, dtype=np.int64),
        np.asarray(block, dtype=np.int64),
        np.array([np.nan if s is None else s for s in scores or [None] * len(treatment)], float),
        tuple(sets.setdefault(days, days) for days in map(frozenset, looks)),
        np.array([i for i, _ in flat], dtype=np.int64),
        _days([h.struck_after for h in pick]),
        _days([h.struck_by for h in pick]),
        _days([h.lost_after for h in pick]),
        _days([h.lost_by for h in pick]),
        _days([h.removed_after for h in pick]),
        np.array([h.last_look for h in pick], float),
        np.array([h.went_back for h in pick], bool),
        at_start=at_start if at_start.any() else None,
    )


def _days(values: Sequence[float | None]) -> Floats:
    return np.array([NEVER if v is None else v for v in values], float)


def resolved_days(results: Results) -> Floats:
    """Day by which each unit had nothing left to see: all its propagules struck, lost or removed.

    Returns:
        Days, shape (u,); inf where something is still to be seen.
    """
    done = np.minimum(np.minimum(results.by, results.lost_by), results.removed)
    out = np.zeros(len(results.treatment))
    np.maximum.at(out, results.unit, done)
    return out


def look_table(results: Results) -> tuple[Floats, Bools]:
    """Days on which anything was looked at (k,), and which units were seen on each (u, k)."""
    first = results.looks[0] if results.looks else frozenset()
    if all(looks is first for looks in results.looks):  # one round for all, as a rule
        return np.array(sorted(first), float), np.ones((len(results.looks), len(first)), bool)
    patterns: dict[frozenset[float], int] = {}
    which = [patterns.setdefault(looks, len(patterns)) for looks in results.looks]
    days = np.array(sorted(set().union(*patterns)), float)
    seen = np.array([[d in looks for d in days] for looks in patterns], bool)
    return days, seen.reshape(len(patterns), len(days))[which]
