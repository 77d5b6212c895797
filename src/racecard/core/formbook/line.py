"""One trial as one line of the form book: what it asked, what it came to, what its control did."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import numpy as np

from racecard.core.assess.base_rates import base_rate, telling_words
from racecard.core.assess.findings import About, findings_of, of
from racecard.core.assess.grade import GRADE_WORDS, Grade
from racecard.core.assess.horizon import horizon_of_all
from racecard.core.assess.judgement import Comparison, Judgement
from racecard.core.assess.strike import unit_shares
from racecard.core.design.question import plant_in
from racecard.core.finish.of_trial import TrialFinish
from racecard.core.log.days import date_of_day
from racecard.core.model import Kind, Plan, Status, Trial
from racecard.core.model.results import Results
from racecard.core.stats.proportions import anova_icc


class State(StrEnum):
    """Where a trial stands for the book. `ABANDONED`: its end went by without a last round."""

    DRAFT = "draft"
    RUNNING = "running"
    BLIND = "blind"
    FINISHED = "finished"
    ABANDONED = "abandoned"


@dataclass(frozen=True, slots=True)
class Tried:
    """One treatment against the control: its grade on what was asked, and the gap in strike as a fraction."""

    name: str
    grade: str
    gap: float | None
    low: float | None
    high: float | None


@dataclass(frozen=True, slots=True)
class ControlSeen:
    """What the control did: struck of n by the last day, and the day by which half had (None: never).

    `icc`: how alike plants of one container were, over `containers` of every treatment; None where
    plants stood alone or containers are too few. `spread`: standard deviation of what was measured
    between control plants, `measure` in its unit, over `measured` of them.
    """

    name: str
    struck: int
    n: int
    half_day: float | None
    icc: float | None = None
    containers: int = 0
    measure: str = ""
    spread: float | None = None
    measured: int = 0


@dataclass(frozen=True, slots=True)
class Guess:
    """A prediction kept before the start, and what came of it; percent of n."""

    said: float
    came: float
    n: int


@dataclass(frozen=True, slots=True)
class FormLine:
    """One trial. `month`: 1 to 12 of its day 0, 0 for a draft. `best`: the treatment the line tells of.

    `repeats`: the trial it repeats, "" for none. `is_table`: imported results, `trial` the table's id.
    """

    trial: str
    question: str
    plant: str
    stage: str
    subject: str
    kind: str
    measure: str
    treatments: tuple[str, ...]
    began: str
    month: int
    state: State
    says: str
    invented: bool
    best: Tried | None = None
    tried: tuple[Tried, ...] = ()
    control: ControlSeen | None = None
    guesses: tuple[Guess, ...] = ()
    repeats: str = ""
    units: int = 0
    is_table: bool = False

    @classmethod
    def unreadable(cls, trial: str, question: str, says: str) -> "FormLine":
        """A trial that cannot be judged, with the reason.

        Args:
            trial: id of the trial.
            question: what it asked.
            says: why it cannot be judged, a sentence.
        """
        return cls(trial, question, "", "", "", "", "", (), "", 0, State.ABANDONED, says, False)

    @property
    def text(self) -> str:
        """What a search looks through, in lower case."""
        parts = (self.question, self.plant, self.stage, self.subject, self.says, *self.treatments)
        return " ".join(parts).casefold()


_STAGES = (
    ("softwood", r"soft ?wood"), ("semi-ripe", r"semi[- ]?(?:ripe|hardwood)"),
    ("hardwood", r"hard ?wood"), ("leaf-bud", r"leaf[- ]bud|single[- ]node"), ("root", r"root cutting"),
    ("heel", r"\bheel"), ("tip", r"\btips?\b"), ("leaf", r"\bleaf cutting"), ("seed", r"\bseeds?\b"),
    ("bulb", r"\bbulb|\bscales?\b"),
)  # fmt: skip
_FEWEST_CONTAINERS = 4
"""Containers beyond one a treatment below which nothing is said of how alike their plants are."""
_FEWEST_MEASURED = 4
_MOST_NAME = 3
"""Words of a plant's name that are kept."""


def plant_of(material: str) -> str:
    """The plant a description names, as runs are held alike by; else its first words; "" for none."""
    first = re.split(r"[,;:(]", material)[0]
    return (plant_in(material) or " ".join(telling_words(first)[:_MOST_NAME])).capitalize()


def stage_of(material: str, kind: Kind) -> str:
    """Wood stage or kind of material as it is described; cutting or seed where it does not say.

    Args:
        material: the description of the plant material.
        kind: cutting or seed.
    """
    for stage, pattern in _STAGES:
        if re.search(pattern, material, re.I):
            return stage
    return kind.value


def from_record(record: Mapping[str, Any]) -> FormLine:
    """A line from its JSON, as dataclasses.asdict makes it."""
    told = dict(record)
    told["treatments"] = tuple(told["treatments"])
    told["state"] = State(told["state"])
    told["tried"] = tuple(Tried(**t) for t in told["tried"])
    told["guesses"] = tuple(Guess(**g) for g in told["guesses"])
    for name, kind in (("best", Tried), ("control", ControlSeen)):
        told[name] = None if told[name] is None else kind(**told[name])
    return FormLine(**told)


def line_of_plan(trial: Trial, state: State, says: str) -> FormLine:
    """A trial of which no result may be told: a draft, or one that is scored blind.

    Args:
        trial: the trial.
        state: how far it has come.
        says: why no result is told, a sentence.
    """
    plan = trial.plan
    began = month = None
    if trial.started_at is not None:
        day = date_of_day(trial.started_at, 0, plan.time_zone)
        began, month = day.isoformat(), day.month
    return FormLine(
        trial.id, plan.question, plant_of(plan.material), stage_of(plan.material, plan.kind),
        plan.subject.value, plan.kind.value, plan.measure.value,
        tuple(t.name for t in plan.treatments), began or "", month or 0, state, says,
        trial.invented, repeats=trial.repeats, units=len(trial.planted),
    )  # fmt: skip


def line_of_finish(trial: Trial, found: TrialFinish, today: int) -> FormLine:
    """A started trial with what it came to so far.

    Args:
        trial: the trial, opened.
        found: its finish.
        today: its day now.
    """
    assert trial.status is Status.STARTED
    plan, judgement = trial.plan, found.whole.judgement
    is_over = today > plan.length_days + max((u.late for u in trial.stuck), default=0)
    if judgement.is_final and not judgement.stopped_early and judgement.day > 0:
        state, says = State.FINISHED, f"finished on day {plan.length_days}"
    elif is_over:
        state, says = State.ABANDONED, f"no full round since day {judgement.day:.0f}"
        if judgement.day == 0:
            says = "never looked at in full"
    else:
        state, says = State.RUNNING, f"day {today} of {plan.length_days}"
    tried = _all_tried(plan, judgement)
    plain = line_of_plan(trial, state, says)
    return FormLine(
        **{name: getattr(plain, name) for name in _SAME},
        best=tried[0] if tried else None, tried=tried, control=_control(trial, found),
        guesses=_guesses(plan, found) if state is State.FINISHED else (),
    )  # fmt: skip


def line_of_table(
    table_id: str, name: str, plan: Plan | None, judgement: Judgement | None, says: str
) -> FormLine:
    """Imported results as a line; without a judgement where they were not judged, with the reason.

    Its plant is the one its name tells of, "" where it names none.

    Args:
        table_id: id it is kept under.
        name: what it is called.
        plan: the plan its results amount to; None where they could not be read.
        judgement: what they amount to; None where they were not judged.
        says: why not, a sentence; "" where they were.
    """
    plant = plant_in(name).capitalize()
    if plan is None or judgement is None:
        return FormLine(
            table_id, name, plant, "", "imported", "", "", (), "", 0, State.FINISHED, says, False,
            is_table=True,
        )  # fmt: skip
    tried = _all_tried(plan, judgement)
    return FormLine(
        table_id, name, plant, "", "imported", plan.kind.value, plan.measure.value,
        tuple(t.name for t in plan.treatments), "", 0, State.FINISHED, says, False,
        best=tried[0] if tried else None, tried=tried, units=sum(a.strike.n for a in judgement.arms),
        is_table=True,
    )  # fmt: skip


def _all_tried(plan: Plan, judgement: Judgement) -> tuple[Tried, ...]:
    """What each candidate came to, the firmest first, as the findings rank them."""
    asked = of(findings_of(plan, judgement), About.RESULT)
    return tuple(
        _tried(plan, f.comparison) for f in asked if not f.is_check and f.grade is not None
    )


_SAME = (
    "trial", "question", "plant", "stage", "subject", "kind", "measure", "treatments", "began",
    "month", "state", "says", "invented", "repeats", "units",
)  # fmt: skip


def _tried(plan: Plan, c: Comparison) -> Tried:
    gap = c.gap
    assert c.grade is not None
    return Tried(
        plan.treatments[c.index].name, c.grade.value,
        None if gap is None else gap.estimate, None if gap is None else gap.low,
        None if gap is None else gap.high,
    )  # fmt: skip


def _control(trial: Trial, found: TrialFinish) -> ControlSeen | None:
    plan = trial.plan
    rate = base_rate(plan, found.results)
    if rate is None or plan.control is None:
        return None
    arm = next(a for a in found.whole.judgement.arms if a.index == plan.reference)
    half = arm.half[1] if arm.half else None
    icc, containers = _alike(plan, found.results)
    spread, measured = _spread(plan, found.results)
    return ControlSeen(
        plan.control.name, rate.struck, rate.n, half, icc, containers,
        plan.graded_by if measured else "", spread, measured,
    )  # fmt: skip


def _alike(plan: Plan, results: Results) -> tuple[float | None, int]:
    """How alike plants of one container were, and over how many containers that was seen."""
    if plan.per_container == 1:
        return None, 0
    shares = unit_shares(results, horizon_of_all(results, plan.length_days).age)
    used = shares.keep(shares.counted > 1)
    arms = [used.treatment == a for a in np.unique(used.treatment)]
    if len(used.sizes) - len(arms) < _FEWEST_CONTAINERS:
        return None, 0
    icc = anova_icc([used.struck[m] for m in arms], [used.counted[m] for m in arms])
    return round(icc, 3), len(used.sizes)


def _spread(plan: Plan, results: Results) -> tuple[float | None, int]:
    """Standard deviation of the measured control plants, and how many were measured."""
    if not plan.graded_by:
        return None, 0
    values = results.score[results.treatment == plan.reference]
    values = values[np.isfinite(values)]
    if len(values) < _FEWEST_MEASURED:
        return None, 0
    return float(np.std(values, ddof=1)), len(values)


def _guesses(plan: Plan, found: TrialFinish) -> tuple[Guess, ...]:
    out = []
    for arm in found.whole.judgement.arms:
        said = plan.treatments[arm.index].prediction
        if said is not None and arm.strike.rate is not None:
            out.append(Guess(said, 100 * arm.strike.rate, arm.strike.n))
    return tuple(out)


def grade_words(grade: str) -> str:
    """A grade as it is said."""
    return GRADE_WORDS[Grade(grade)]
