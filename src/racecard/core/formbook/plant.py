"""What the form book says of one plant: its usual rate, its year, what has been shown, what is open.

References:
    [1] Gelman et al. (2013), Bayesian Data Analysis, 3rd ed., section 2.4: a beta prior and its weight in plants.
    [2] Kish (1965), Survey Sampling, section 5.4: plants of one trial alike are worth fewer.
"""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from statistics import median

import numpy as np

from racecard.core.assess.grade import Grade
from racecard.core.assess.runs import random_effects
from racecard.core.formbook.line import FormLine, State
from racecard.core.log.measures import SPREAD_SHARE
from racecard.core.model import Kind, Measure, Subject
from racecard.core.model.spelling import spelling
from racecard.core.plan.suggestions import many
from racecard.core.stats.proportions import z_for

PRIOR_PLANTS = 6.0
"""The usual value counts as this many plants beside the grower's own (from memory; a small weight)."""
ALIKE = 0.05
"""Likeness of plants of one trial: season, mother plant and hand vary between trials (common practice)."""
USUAL_ICC = 0.1
PRIOR_CONTAINERS = 8
"""The usual likeness counts as this many containers beside the grower's own (from memory; a small weight)."""


@dataclass(frozen=True, slots=True)
class Rate:
    """A strike rate of controls in percent with its 95 % limits, and what it rests on."""

    percent: float
    low: float
    high: float
    struck: int
    n: int
    trials: int


@dataclass(frozen=True, slots=True)
class MonthRate:
    """The controls that were begun in one month, 1 to 12."""

    month: int
    rate: Rate


@dataclass(frozen=True, slots=True)
class Result:
    """What one treatment came to in one trial."""

    trial: str
    question: str
    began: str
    grade: str
    gap: float | None
    low: float | None
    high: float | None
    is_table: bool = False
    like: tuple[str, str, str] = ("", "", "")
    """Measure, control and stage: only results alike in these are joined."""


@dataclass(frozen=True, slots=True)
class Together:
    """Results of one treatment joined as runs: the difference with its 95 % limits, fractions, over `trials`."""

    gap: float
    low: float
    high: float
    trials: int


@dataclass(frozen=True, slots=True)
class Record:
    """A treatment over all trials of a plant, each with its own control; plants are never summed over trials."""

    treatment: str
    results: tuple[Result, ...]

    @property
    def grade(self) -> str:
        """The firmest of its grades; where trials contradict each other, "mixed"."""
        grades = [Grade(r.grade) for r in self.results]
        ahead = any(g in (Grade.CLEAR_LEAD, Grade.LIKELY_LEAD) for g in grades)
        behind = any(g in (Grade.CLEARLY_BEHIND, Grade.LIKELY_BEHIND) for g in grades)
        return "mixed" if ahead and behind else min(grades, key=_FIRM.index).value

    @property
    def together(self) -> Together | None:
        """The combined answer of trials with the same control, stage and outcome; None where fewer than two can be joined.

        Two are weighted by what each can tell; from three on as runs are (random effects, `runs.random_effects`).
        """
        known = [
            r
            for r in self.results
            if r.low is not None and r.high is not None and r.gap is not None
        ]
        if (
            len(known) < 2
            or len({r.like for r in self.results}) > 1
            or self.results[0].like[0] != Measure.STRIKE
        ):
            return None
        gaps = np.array([r.gap for r in known], float)
        errors = np.array([(r.high or 0) - (r.low or 0) for r in known], float) / (2 * z_for(0.95))
        if np.any(errors <= 0):
            return None
        if len(known) >= _JOINED_FROM:
            (gap, low, high), _ = random_effects(gaps, errors**2)
            return Together(gap, low, high, len(known))
        weight = 1 / errors**2
        gap, half = float(weight @ gaps / weight.sum()), z_for(0.95) / float(weight.sum()) ** 0.5
        return Together(gap, max(-1.0, gap - half), min(1.0, gap + half), len(known))


_JOINED_FROM = 3
"""Trials from which what differs between them is allowed for."""


_FIRM = (
    Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND, Grade.LIKELY_LEAD, Grade.LIKELY_BEHIND, Grade.LEVEL,
    Grade.TOO_CLOSE, Grade.CANNOT_TELL,
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class PlantBook:
    """One plant: how its controls do, over the year, and every treatment by how sure one may be.

    `usual`: shrunk to the usual value; None without a finished control. `half_day`: median day by
    which half of a control had struck. `untried`: what nobody here has compared on this plant.
    """

    plant: str
    kind: Kind
    trials: int
    unfinished: int
    usual: Rate | None
    half_day: float | None
    months: tuple[MonthRate, ...]
    shown: tuple[Record, ...]
    against: tuple[Record, ...]
    open: tuple[Record, ...]
    undecidable: tuple[Record, ...]
    untried: tuple[Subject, ...]


def plant_book(lines: Sequence[FormLine], plant: str, usual_percent: float) -> PlantBook:
    """What the lines say of a plant.

    Args:
        lines: every line of the book.
        plant: its name as the lines have it.
        usual_percent: what a control of this kind usually strikes, in percent.
    """
    mine = [x for x in lines if x.plant == plant]
    records = records_of(mine)
    by_grade: dict[str, list[Record]] = defaultdict(list)
    for r in records:
        by_grade[_SHELF[r.grade]].append(r)
    half_days = [x.control.half_day for x in mine if x.control and x.control.half_day is not None]
    kind = Kind(next((x.kind for x in mine if x.kind), Kind.CUTTING))
    seen = {x.subject for x in mine}
    return PlantBook(
        plant, kind, len(mine), sum(x.state is State.ABANDONED for x in mine),
        usual_rate(mine, usual_percent), median(half_days) if half_days else None, months_of(mine),
        tuple(by_grade["shown"]), tuple(by_grade["against"]), tuple(by_grade["open"]),
        tuple(by_grade["undecidable"]),
        tuple(s for s in _SUBJECTS[kind] if s.value not in seen),
    )  # fmt: skip


_SHELF = {
    "clear_lead": "shown", "likely_lead": "shown", "clearly_behind": "against", "likely_behind": "against",
    "mixed": "open", "level": "open", "too_close_to_call": "open", "cannot_tell_by_design": "undecidable",
}  # fmt: skip
_SUBJECTS = {
    Kind.CUTTING: (Subject.HORMONE, Subject.CUTTING_TYPE, Subject.MEDIUM, Subject.CONTAINER, Subject.CONDITION),
    Kind.SEED: (Subject.SEED_TREATMENT, Subject.CONDITION, Subject.MEDIUM, Subject.CONTAINER),
}  # fmt: skip


def usual_rate(lines: Iterable[FormLine], usual_percent: float | None) -> Rate | None:
    """Rate of the controls of these lines: a beta curve [1] over plants at what they are worth [2].

    Args:
        lines: lines of like material.
        usual_percent: what such a control usually strikes, as a prior worth `PRIOR_PLANTS`; None
            takes the curve without one (half a plant either way).
    """
    from scipy.stats import beta  # late: only where the book is opened

    seen = [x.control for x in lines if x.control is not None]
    if not seen:
        return None
    up, down = 0.5, 0.5
    if usual_percent is not None:
        up, down = PRIOR_PLANTS * usual_percent / 100, PRIOR_PLANTS * (1 - usual_percent / 100)
    for c in seen:
        worth = 1 / (1 + (c.n - 1) * ALIKE)
        up += worth * c.struck
        down += worth * (c.n - c.struck)
    low, high = beta.ppf((0.025, 0.975), max(up, 1e-6), max(down, 1e-6))
    struck, n = sum(c.struck for c in seen), sum(c.n for c in seen)
    return Rate(100 * up / (up + down), 100 * float(low), 100 * float(high), struck, n, len(seen))


@dataclass(frozen=True, slots=True)
class OwnNumber:
    """A number for the planner from own trials, shrunk to the usual one, and what it rests on."""

    value: float
    trials: int
    says: str


def usual_icc(lines: Iterable[FormLine]) -> OwnNumber | None:
    """How alike plants of one container are, from own trials of this plant; None without one.

    The usual value counts as `PRIOR_CONTAINERS` beside the grower's own [2].
    """
    seen = [c for x in lines if (c := x.control) is not None and c.icc is not None]
    if not seen:
        return None
    containers = sum(c.containers for c in seen)
    total = sum(c.containers * (c.icc or 0.0) for c in seen) + PRIOR_CONTAINERS * USUAL_ICC
    value = round(total / (containers + PRIOR_CONTAINERS), 2)
    return OwnNumber(
        value, len(seen),
        f"From {containers} {many('container', containers)} in {len(seen)} of your trials: plants of one container are "
        f"alike to about {value:g} (0 not at all, 1 all the same). The usual {USUAL_ICC:g} counts as {PRIOR_CONTAINERS} containers.",
    )  # fmt: skip


def usual_spread(lines: Iterable[FormLine], measure: str, expected: float) -> OwnNumber | None:
    """Standard deviation of a measure between plants treated alike, from own controls; None without one.

    Args:
        lines: lines of like material.
        measure: which measure, by its name.
        expected: what the control usually comes to; a spread of `SPREAD_SHARE` of it counts as
            `PRIOR_PLANTS` plants beside the grower's own.
    """
    seen = [c for x in lines if (c := x.control) is not None and c.spread and c.measure == measure]
    if not seen:
        return None
    squares = sum((c.measured - 1) * (c.spread or 0.0) ** 2 for c in seen)
    squares += PRIOR_PLANTS * (SPREAD_SHARE * expected) ** 2
    plants = sum(c.measured for c in seen)
    value = float(f"{(squares / (plants - len(seen) + PRIOR_PLANTS)) ** 0.5:.2g}")
    return OwnNumber(
        value, len(seen),
        f"From {plants} {many('control plant', plants)} in {len(seen)} of your trials: they differ by about {value:g} "
        f"(standard deviation). The usual spread counts as {PRIOR_PLANTS:.0f} plants.",
    )  # fmt: skip


def usual_says(book: PlantBook, usual_percent: float) -> str:
    """What the usual rate rests on, in one sentence; "" without one.

    Args:
        book: what is known of the plant.
        usual_percent: the usual rate that is proposed, in percent.
    """
    r = book.usual
    if r is None:
        return ""
    trials = "1 trial" if r.trials == 1 else f"{r.trials} trials"
    return (
        f"Your own controls: {r.struck} of {r.n} in {trials}. With the usual {usual_percent:.0f} % counted as "
        f"{PRIOR_PLANTS:.0f} plants, the next control may be expected to reach {r.percent:.0f} % "
        f"({r.low:.0f} to {r.high:.0f})."
    )


def own_times(lines: Iterable[FormLine]) -> dict[str, str]:
    """What one's own controls did, in a few words, by wood stage or kind of material."""
    by_stage: dict[str, list[FormLine]] = defaultdict(list)
    for x in lines:
        if x.control is not None:
            by_stage[x.stage].append(x)
    out = {}
    for stage, mine in by_stage.items():
        seen = [x.control for x in mine if x.control is not None]
        days = [c.half_day for c in seen if c.half_day is not None]
        trials = "1 trial" if len(seen) == 1 else f"{len(seen)} trials"
        half = f"half by day {median(days):.0f}" if days else "half never reached"
        struck, n = sum(c.struck for c in seen), sum(c.n for c in seen)
        out[stage] = f"{half}; {struck} of {n} in {trials}"
    return out


def months_of(lines: Sequence[FormLine]) -> tuple[MonthRate, ...]:
    """The rate of the controls by the month they were begun in; months without one are left out."""
    out = []
    for month in range(1, 13):
        rate = usual_rate([x for x in lines if x.month == month], None)
        if rate is not None:
            out.append(MonthRate(month, rate))
    return tuple(out)


def records_of(lines: Sequence[FormLine]) -> list[Record]:
    """Every treatment of finished trials with its results, each against its own control."""
    found: dict[str, list[Result]] = defaultdict(list)
    names: dict[str, str] = {}
    for x in lines:
        if x.state is not State.FINISHED:
            continue
        for t in x.tried:
            key = spelling(t.name)
            names.setdefault(key, t.name.strip())
            result = Result(
                x.trial, x.question, x.began, t.grade, t.gap, t.low, t.high, x.is_table,
                (x.measure, spelling(x.control.name) if x.control else "", x.stage),
            )  # fmt: skip
            found[key].append(result)
    return [Record(names[key], tuple(results)) for key, results in found.items()]
