"""Stewards' notes that can be raised before anything is stuck."""

from collections.abc import Iterator, Sequence

from racecard.core.assess.grade import CLEAR_LIMIT
from racecard.core.log.days import look_spacing, planned_looks
from racecard.core.model import Cell, Layout, Measure, Plan
from racecard.core.notes.from_data import (
    Note,
    control_notes,
    entangled_notes,
    floor_note,
    not_drawn_note,
    one_unit_note,
    row_notes,
    shared_note,
)
from racecard.core.plan.power import false_pair_chance, most_candidates, plan_floor
from racecard.core.plan.suggestions import endpoint_cannot_answer
from racecard.core.stats.permutation import below

_MANY_PAIRS = 15
"""From six treatments on the eye finds a pair by chance more often than one time in three."""


def notes_from_plan(plan: Plan, cells: Sequence[Cell]) -> tuple[Note, ...]:
    """Every objection to a plan and its drawn bench, in the order of the page."""
    return (
        *control_notes(plan), *entangled_notes(plan), *_endpoint(plan), *_room(plan), *_numbers(plan),
        *_lot(plan, cells),
    )  # fmt: skip


def _endpoint(plan: Plan) -> Iterator[Note]:
    if not endpoint_cannot_answer(plan):
        return
    looks = planned_looks(plan)
    if len(looks) < 2:
        yield Note(
            "endpoint_cannot_answer",
            "The trial is judged on how soon they strike, and one look at the end cannot see that.",
            "Plan looks along the way, or judge it on how many strike.",
        )
    else:
        yield Note(
            "looks_too_sparse",
            f"Looks are up to {look_spacing(plan)} days apart, but the smallest difference that matters is {plan.gap_days:g} days. A real difference could fall between looks.",
            f"Look at least every {plan.gap_days:g} days while they strike.",
        )


def _room(plan: Plan) -> Iterator[Note]:
    if plan.measure is not Measure.STRIKE or plan.expect_level:
        return
    room = 100 - plan.expected_percent
    if room < plan.gap_points:
        yield Note(
            "ceiling",
            f"The control usually strikes {plan.expected_percent:.0f} %, which leaves {room:.0f} "
            f"points; the smallest difference that matters is {plan.gap_points:.0f}.",
            "Judge it on speed or root score, take a harder plant, or ask for a smaller gap.",
        )


def _numbers(plan: Plan) -> Iterator[Note]:
    if plan.control is None or len(plan.treatments) < 2 or min(plan.units_of) < 1:
        return
    fewest = min(plan.units_of)
    if plan.count_singly and plan.per_container > 1:
        yield shared_note()
    if fewest == 1:
        yield one_unit_note(plan.per_container, max(1, len(plan.family)))
        return
    family = max(1, len(plan.family))
    floor = min(1.0, family * plan_floor(plan))
    if below(floor, CLEAR_LIMIT):
        pairs = len(plan.treatments) * (len(plan.treatments) - 1) // 2
        if pairs >= _MANY_PAIRS:
            yield Note(
                "many_pairs",
                f"{len(plan.treatments)} treatments make {pairs} pairs. If all were equal, some pair would "
                f"look different by chance {100 * false_pair_chance(len(plan.treatments)):.0f} times in 100, "
                "each pair tested alone.",
                "Read the comparisons with the control, and the placings, which allow for this.",
            )
        return
    yield floor_note(fewest, floor, min(plan.drawn_blocks, fewest), family)
    judged = most_candidates(sum(plan.units_of), plan.drawn_blocks, len(plan.treatments))
    if 0 < judged < family:
        yield Note(
            "too_many_arms",
            f"{sum(plan.units_of)} units cannot answer {family} questions; they can answer {judged}. "
            f"With {len(plan.treatments)} equal treatments, some pair would look different by chance "
            f"{100 * false_pair_chance(len(plan.treatments)):.0f} times in 100.",
            f"Keep the {judged} you most want to know, and share the units among them.",
        )


def _lot(plan: Plan, cells: Sequence[Cell]) -> Iterator[Note]:
    if plan.layout is Layout.BY_HAND:
        yield not_drawn_note()
    yield from row_notes(plan, cells)
