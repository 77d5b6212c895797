"""A report of a finish, as words and tables: what one would hand to a colleague."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from racecard import __version__
from racecard.core.assess.grade import GRADE_WORDS
from racecard.core.assess.judgement import Comparison
from racecard.core.finish.of_trial import TrialFinish
from racecard.core.log.dated import days_late, lot_was_drawn
from racecard.core.log.days import date_of_day, zone
from racecard.core.log.goal import done
from racecard.core.log.measures import graded_word
from racecard.core.model import Layout, Measure, Plan, Trial, UnitLevel
from racecard.core.plan.compare import LABELS
from racecard.core.plan.record import short
from racecard.core.streams import shown_seed
from racecard.core.text.amounts import difference, often, span, unit_of
from racecard.core.text.lanes import counted, half_words, rate_words
from racecard.core.text.narrator import Answer
from racecard.core.text.predictions import amendments_say


@dataclass(frozen=True, slots=True)
class Report:
    """A report: the answer card, facts as (name, value), a table, sentences, notes as (says, do), how it was done."""

    title: str
    facts: tuple[tuple[str, str], ...]
    answer: Answer | None
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    says: tuple[str, ...]
    notes: tuple[tuple[str, str], ...]
    changes: tuple[str, ...]
    methods: str
    conclusion: str
    invented: bool
    citation: str


def columns_of(plan: Plan) -> tuple[str, ...]:
    """Heads of the table of treatments, in the words of the page."""
    unit = unit_of(plan).strip()
    what = f"Difference, {unit} (95 %)" if unit else "Difference (95 %)"
    return ("Treatment", "How many", "Share (95 %)", "Half by", what, "By chance alone", "Result")


def report_of(trial: Trial, found: TrialFinish, conclusion: str, printed_on: date) -> Report:
    """The report of a judged trial.

    Args:
        trial: the trial.
        found: its finish.
        conclusion: the grower's own words, "" where there are none.
        printed_on: the day it is made.
    """
    changes = (
        *amendments_say(trial.amendments, LABELS),
        *(
            f"Overruled. {o.code.replace('_', ' ').capitalize()}: {o.reason}"
            for o in trial.plan.overrides
        ),
    )
    return Report(
        trial.plan.question, _facts(trial, found, printed_on), found.whole.answer, columns_of(trial.plan),
        _rows(trial.plan, found), found.whole.says, tuple((f"{n.title}. {n.message}", n.advice) for n in found.whole.notes), changes,
        methods_sentence(trial, found), conclusion, trial.invented, citation(trial, found, printed_on),
    )  # fmt: skip


def citation(trial: Trial, found: TrialFinish, printed_on: date) -> str:
    """The line by which another names this trial: what, when, how far, which plan, judged with what.

    Args:
        trial: the trial.
        found: its finish.
        printed_on: the day it is cited.
    """
    assert trial.started_at is not None
    plan, judgement = trial.plan, found.whole.judgement
    first = date_of_day(trial.started_at, 0, plan.time_zone).isoformat()
    state = "finished" if judgement.is_final else "still running"
    by_plan = f" Plan {short(trial.fingerprint)}." if trial.fingerprint else ""
    data = " Invented data." if trial.invented else ""
    return (
        f"“{plan.question}” Trial with {plan.material}, {_begun(plan)} {first}, judged by day "
        f"{judgement.day:.0f} ({state}).{by_plan}{data} Racecard {__version__}, {printed_on.isoformat()}."
    )


def _begun(plan: Plan) -> str:
    return {"sticking": "stuck", "sowing": "sown"}.get(plan.day0.value, "first wetted")


def _facts(trial: Trial, found: TrialFinish, printed_on: date) -> tuple[tuple[str, str], ...]:
    plan, judgement = trial.plan, found.whole.judgement
    assert trial.started_at is not None
    first = date_of_day(trial.started_at, 0, plan.time_zone)
    verb = _begun(plan).capitalize()
    state = (
        "finished"
        if judgement.is_final
        else f"so far, day {judgement.day:.0f} of {plan.length_days}"
    )
    return (
        ("Plants", plan.material),
        (verb, f"{first.isoformat()}, day 0"),
        ("Judged", f"by day {judgement.day:.0f}, {state}"),
        ("Design", _design(plan)),
        ("Plan's fingerprint", short(trial.fingerprint) or "none: it was imported without one"),
        ("Plan written", _written(trial)),
        ("Report made", printed_on.isoformat()),
    )


def _written(trial: Trial) -> str:
    """When the plan, its bench and its predictions were written, against day 0."""
    day = trial.planned_at.astimezone(zone(trial.plan.time_zone)).date().isoformat()
    late = days_late(trial)
    return f"{day}, {late} days after day 0" if late > 0 else f"{day}, before the start"


def _design(plan: Plan) -> str:
    each = (
        f"{plan.per_container} to a container, the container is the unit"
        if plan.per_container > 1
        else "one to a unit"
    )
    laid = {
        Layout.PAIRS: f"{plan.units} pairs", Layout.SITES: f"{plan.units} sites with one of each",
        Layout.BY_HAND: "placed by hand, not at random", Layout.ROW_COLUMN: "balanced over rows and columns",
    }.get(plan.layout, f"{plan.blocks} blocks" if plan.blocks > 1 else "no blocks")  # fmt: skip
    return f"{numbers(plan.units_of)}, {each}; {laid}"


def numbers(units_of: Sequence[int]) -> str:
    """How many units of how many treatments; unequal numbers as they are."""
    each = f"{units_of[0]}" if len(set(units_of)) == 1 else ", ".join(map(str, units_of))
    return (
        f"{len(units_of)} treatments with {each} units{' each' if len(set(units_of)) == 1 else ''}"
    )


def _rows(plan: Plan, found: TrialFinish) -> tuple[tuple[str, ...], ...]:
    judgement = found.whole.judgement
    by = {c.index: c for c in judgement.comparisons}
    out = []
    for arm in judgement.arms:
        s = arm.strike
        half = half_words(arm) if arm.half else "not reached"
        c = by.get(arm.index)
        out.append(
            (
                plan.treatments[arm.index].name, f"{counted(arm, done(plan))}; {s.lost} lost",
                rate_words(arm), half, *_against(plan, c, arm.index == plan.reference),
            )
        )  # fmt: skip
    return tuple(out)


def _against(plan: Plan, c: Comparison | None, is_reference: bool) -> tuple[str, str, str]:
    if c is None:
        return ("", "", "control (its curve is the pace line)" if is_reference else "no control")
    found, p = c.outcome.gap, c.asked.p_holm
    gap = "" if found is None else difference(plan, found.estimate)
    if found is not None and found.low is not None:
        gap += f" ({span(plan, found)})"
    harm = "; harm" if c.hurt.harm else "; possible harm" if c.hurt.possible else ""
    return gap, "" if p is None else often(p), GRADE_WORDS[c.grade] + harm


_UNIT = {
    UnitLevel.PROPAGULE: "single plant", UnitLevel.CONTAINER: "container", UnitLevel.TRAY: "tray",
    UnitLevel.PLACE: "place", UnitLevel.SITE: "site",
}  # fmt: skip


def methods_sentence(trial: Trial, found: TrialFinish) -> str:
    """How it was done and judged, as the methods section of a paper would say it."""
    plan = trial.plan
    lot = f"had their positions randomised ({_lot(plan)}; seed {shown_seed(trial.seed)})"
    if plan.layout is Layout.BY_HAND:
        lot = "were placed by hand, not at random"
    elif not lot_was_drawn(trial):
        lot = (
            f"were not randomised before the start: plan and bench were written {days_late(trial)} days "
            "after day 0"
        )
    unit = "container" if plan.per_container > 1 else _UNIT[plan.level]
    blind = (
        "scored with treatments hidden until the last round"
        if plan.blind
        else "scored with treatments in view"
    )
    test = {
        Measure.STRIKE: f"The share that {done(plan)}",
        Measure.SPEED: f"How soon they {done(plan)}, those that never did included, by interval-censored log-rank scores,",
        Measure.QUALITY: f"The {graded_word(plan) if plan.graded_by else '0 to 5 root score'}, none counting 0, by aligned ranks",
    }[plan.measure]
    family = len(plan.family)
    holm = f", Holm's correction over {family} candidates" if family > 1 else ""
    if any(c.agent is not None for c in found.whole.judgement.comparisons):
        holm += ", each against its carrier too at the same error rate (Bretz et al. 2009)"
    kinds = sorted(
        {c.gap.method for c in found.whole.judgement.comparisons if c.gap and c.gap.low is not None}
    )
    ranges = (
        f" Ranges are 95 % each, unadjusted ({', '.join(k.replace('_', ' ') for k in kinds)})."
        if kinds
        else ""
    )
    within = " within its block or pair" if plan.drawn_blocks > 1 else ""
    return (
        f"{sum(plan.units_of)} units of {plan.material} {lot}, {blind}. The unit is the {unit}. {test} was compared "
        f"with {plan.control.name if plan.control else 'nothing'} by a central two-sided permutation test (Fay 2010): each "
        f"unit's label reassigned at random{within}{holm}.{ranges} Lost plants count against their treatment; "
        f"plants removed before they {done(plan)}, or not looked at, leave the count, and the weakest verdict over what they might have become is given. Made with Racecard."
    )


def _lot(plan: Plan) -> str:
    if plan.layout in (Layout.PAIRS, Layout.SITES):
        return f"{plan.units} {'pairs' if plan.layout is Layout.PAIRS else 'sites'}"
    if plan.layout is Layout.ROW_COLUMN:
        return "balanced over rows and columns"
    return f"{plan.blocks} blocks" if plan.blocks > 1 else "over all positions"
