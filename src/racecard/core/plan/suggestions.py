"""Does the plan answer its question? What is said at once, and the changes that are offered."""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise
from statistics import median
from typing import Any

from racecard.core.log.days import look_spacing, planned_looks
from racecard.core.log.goal import do
from racecard.core.model import Layout, Measure, Plan, Subject, UnitLevel
from racecard.core.model.differences import entangled
from racecard.core.plan.bench import block_sizes
from racecard.core.plan.record import as_record

_FASTER = re.compile(
    r"\b(fast|faster|quick|quicker|quickest|quickly|soon|sooner|soonest|speed|early|earlier|(?:up|comes?) first|how long until|days? to)\b",
    re.I,
)
_BETTER = re.compile(
    r"\b(root quality|better roots?|more roots?|stronger roots?|(?:long|longer|longest|bigger) roots?|root score)\b",
    re.I,
)
_WIDE_DAYS = 7
"""Looks a week apart or less are never asked about."""


@dataclass(frozen=True, slots=True)
class Offer:
    """A change to the plan that one click makes: why, what it is called, and the new fields."""

    code: str
    says: str
    label: str
    change: dict[str, Any]


def measure_asked(question: str) -> Measure:
    """What a question says the trial is judged on: how soon, the roots, else how many."""
    if _FASTER.search(question):
        return Measure.SPEED
    return Measure.QUALITY if _BETTER.search(question) else Measure.STRIKE


def offers(plan: Plan) -> tuple[Offer, ...]:
    """Changes worth offering, in the order of the page."""
    return (*_of_measure(plan), *_of_looks(plan), *_of_subject(plan), *_of_arms(plan))


def _of_measure(plan: Plan) -> Iterator[Offer]:
    asked = measure_asked(plan.question)
    if asked is Measure.SPEED is not plan.measure:
        yield Offer(
            "asks_speed",
            f"The question asks how soon, but the trial is judged on how many {do(plan)} in the end.",
            "Judge it on how soon",
            {"measure": Measure.SPEED.value},
        )
    elif asked is Measure.QUALITY is not plan.measure:
        yield Offer(
            "asks_quality",
            f"The question asks about the roots, but the trial is judged on how many {do(plan)}.",
            "Judge it on the root score",
            {"measure": Measure.QUALITY.value},
        )


def _of_looks(plan: Plan) -> Iterator[Offer]:
    if plan.measure is not Measure.SPEED or not endpoint_cannot_answer(plan):
        yield from _far_apart(plan)
        return
    every = max(1, min(round(plan.gap_days), plan.length_days // 4 or 1))
    days = [*range(every, plan.length_days, every), plan.length_days]
    yield Offer(
        "more_looks",
        f"{_looks_said(plan)} cannot tell how soon: a gap of {plan.gap_days:g} days falls between looks.",
        f"Look every {every} days" if every > 1 else "Look every day",
        {"look_days": days, "look_every_days": every},
    )


def _far_apart(plan: Plan) -> Iterator[Offer]:
    """Two looks much farther apart than the others usually are: asked about, since it may be a slip."""
    looks = planned_looks(plan)
    gaps = [b - a for a, b in pairwise(looks)]
    usual = round(median(gaps)) if len(gaps) > 1 else 0
    if not usual or max(gaps) <= max(_WIDE_DAYS, 2 * usual):
        return
    widest = gaps.index(max(gaps))
    before, after = looks[widest], looks[widest + 1]
    between = range(before + usual, after, usual)
    yield Offer(
        "far_apart",
        f"Nobody looks between day {before} and day {after}: what happens then has no date. Is that meant?",
        "Look in between" if len(between) == 1 else f"Look every {usual} days in between",
        {"look_days": [*looks[: widest + 1], *between, *looks[widest + 1 :]]},
    )


def endpoint_cannot_answer(plan: Plan) -> bool:
    """Asked how soon, but there is one look, or the looks are wider than the smallest difference that matters."""
    if plan.measure is not Measure.SPEED:
        return False
    return len(planned_looks(plan)) < 2 or look_spacing(plan) > plan.gap_days


def _looks_said(plan: Plan) -> str:
    looks = planned_looks(plan)
    return "One look" if len(looks) == 1 else f"Looks up to {look_spacing(plan)} days apart"


def _of_subject(plan: Plan) -> Iterator[Offer]:
    if plan.subject is Subject.CUTTING_TYPE and plan.blind:
        yield Offer(
            "not_blind",
            "What was cut can be seen, so scoring cannot be blind.",
            "Score with types in view",
            {"blind": False},
        )


def _of_arms(plan: Plan) -> Iterator[Offer]:
    for e in entangled(plan):
        if e.missing is None or len(plan.treatments) >= 12:
            continue
        arms = [as_record(t) for t in (*plan.treatments, e.missing)]
        for arm in arms:
            arm.pop("id")
            arm["properties"] = [{"name": n, "value": v} for n, v in arm["properties"]]
            arm["steps"] = [{"name": n, "minutes": m} for n, m in arm["steps"]]
        things = " and ".join((", ".join(e.differ[:-1]), e.differ[-1]))
        yield Offer(
            "missing_arm",
            f"{plan.treatments[e.treatment].name} differs in {things}: what it does cannot be told "
            "from the rest.",
            f"Add “{e.missing.name}”",
            {"treatments": arms},
        )
        return


def unit_says(plan: Plan) -> str:
    """How many units an arm there are, said at once in the grower's own things."""
    thing = {
        UnitLevel.PROPAGULE: plan.kind.value, UnitLevel.CONTAINER: "container", UnitLevel.TRAY: "tray",
        UnitLevel.PLACE: "place", UnitLevel.SITE: "site",
    }[plan.level]  # fmt: skip
    units = min(plan.units_of, default=plan.units)
    plants = units * plan.per_container
    what = "unit" if units == 1 else "units"
    if plan.per_container == 1:
        return f"{units} {many(plan.kind.value, units)}, each on its own = {units} {what} per treatment"
    each = f"one {thing}" if units == 1 else f"{units} {many(thing, units)}"
    return f"{plants} {many(plan.kind.value, plants)}, {each} per treatment = {units} {what} per treatment"


def many(thing: str, number: int) -> str:
    """The word for so many things.

    Args:
        thing: the word for one.
        number: how many there are.
    """
    return thing if number == 1 else f"{thing}s"


def hints(plan: Plan) -> tuple[str, ...]:
    """Things said beside the numbers that are no fault and no objection."""
    out = []
    if plan.layout in (Layout.BLOCKS, Layout.ROW_COLUMN, Layout.SPLIT) and plan.blocks > 1:
        for units in sorted(set(plan.units_of)):
            sizes = block_sizes(units, plan.blocks)
            if sizes[0] != sizes[-1]:
                down = units - units % plan.blocks
                near = f"{down} or {down + plan.blocks}" if down else f"{plan.blocks}"
                out.append(
                    f"{units} do not divide into {plan.blocks} blocks: some hold {sizes[0]} of each, "
                    f"others {sizes[-1]}; {near} would."
                )
    if plan.subject is Subject.CUTTING_TYPE:
        out.append("Cutting types can be seen by eye, so this is scored with types in view.")
    return tuple(out)
