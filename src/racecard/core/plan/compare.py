"""Two plans side by side, difference by difference, in the words of the page."""

from collections.abc import Iterator
from dataclasses import dataclass, fields
from enum import StrEnum
from typing import Any

from racecard.core.log.stages import endpoint_name, stage_scale_of
from racecard.core.model import Plan, Treatment
from racecard.core.model.spelling import spelling

LABELS = {
    "question": "Question", "material": "Plants", "kind": "Propagated from",
    "subject": "What do you compare?", "units": "Units of each treatment",
    "per_container": "Plants in a unit", "level": "What is randomised", "layout": "Layout",
    "blocks": "Blocks", "block_basis": "Blocks are alike in", "columns": "Columns per tray",
    "tray_rows": "Rows per tray", "tray_names": "Trays", "sides": "Sides of the bench",
    "border": "Border cells", "spare_cells": "Spare cells", "endpoint": "Counts as rooted when",
    "threshold_mm": "Length that counts, mm", "length_days": "Last day",
    "look_every_days": "Days between looks", "look_days": "Look days", "measure": "Judged on",
    "secondary": "Also looked at", "expect_level": "Expects no difference",
    "gap_points": "Smallest difference that matters, points", "gap_days": "Smallest difference that matters, days",
    "gap_score": "Smallest difference that matters, score", "expected_percent": "Usual rate of the control, %",
    "expected_days": "Control usually takes, days", "expected_score": "Control usually scores",
    "also_counted": "Stages also counted", "icc": "How alike plants of one container are", "pair_correlation": "How alike the two of a pair are",
    "blind": "Scored blind", "count_singly": "Plants counted singly", "time_zone": "Time zone",
    "day0": "Day 0 is the day of", "prior": "What is already known",
    "unequal_reason": "Reason for unequal numbers", "mother_plants": "Mother plants",
    "germination_percent": "Germination on the label, %", "pot_ml": "Medium in a pot, mL",
    "dip_ml": "Dip per treatment, mL", "at_hand": "You have", "overrides": "Warnings overruled",
    "plant_id": "Entry of the register", "set_at": "To be set at", "start_together": "Soaks start together",
    "unit_seconds": "Seconds a unit takes", "rooted_score": "Lowest score that counts as rooted", "sample_lifts": "Sample lifts (day, per treatment)",
    "jobs": "Other work by day", "outcome": "Watched for", "own_steps": "Own steps",
    "contrasts": "Groups to be compared", "graded_by": "Measure that is compared",
    "usual_spread": "Usual spread between plants",
}  # fmt: skip
_ARM_LABELS = {
    "role": "role", "detail": "what is done", "agent": "agent", "carrier": "carrier",
    "properties": "properties", "units": "units", "per_container": "plants per container", "reference": "is the reference",
    "per_stem": "cuttings a stem", "steps": "soaks and dips, minutes",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Difference:
    """One thing in which two plans differ, as each has it; "not there" where one has it not."""

    field: str
    label: str
    one: str
    other: str


def differences(one: Plan, other: Plan) -> tuple[Difference, ...]:
    """Everything in which two plans differ, in the order of the page; predictions are left out."""
    return tuple(_of_plans(one, other)) + tuple(_of_arms(one, other))


def _of_plans(one: Plan, other: Plan) -> Iterator[Difference]:
    for f in fields(Plan):
        a, b = getattr(one, f.name), getattr(other, f.name)
        if f.name != "treatments" and a != b:
            yield Difference(f.name, LABELS[f.name], in_words(one, f.name), in_words(other, f.name))


def _of_arms(one: Plan, other: Plan) -> Iterator[Difference]:
    theirs = {spelling(t.name): t for t in other.treatments}
    mine = {spelling(t.name): t for t in one.treatments}
    for t in one.treatments:
        twin = theirs.get(spelling(t.name))
        if twin is None:
            yield Difference("treatments", t.name, t.role.value, "not there")
            continue
        for name, label in _ARM_LABELS.items():
            a, b = getattr(t, name), getattr(twin, name)
            if a != b:
                yield Difference("treatments", f"{t.name}: {label}", _said(a), _said(b))
    for t in other.treatments:
        if spelling(t.name) not in mine:
            yield Difference("treatments", t.name, "not there", t.role.value)


def in_words(plan: Plan, field: str) -> str:
    """A field of a plan as a grower reads it.

    Args:
        plan: the plan.
        field: name of the field.
    """
    if field == "endpoint":
        return endpoint_name(plan)
    if field == "look_days" and not plan.look_days:
        return f"every {plan.look_every_days} days"
    if field == "also_counted":
        names = {s.code: s.name.lower() for s in stage_scale_of(plan).stages}
        return ", ".join(names.get(code, "?") for code in plan.also_counted) or "none"
    if field == "contrasts":
        told = (f"{' and '.join(c.one)} against {' and '.join(c.zero)}" for c in plan.contrasts)
        return "; ".join(told) or "none named"
    if field == "sides":
        named = zip(("top", "right", "bottom", "left"), plan.sides, strict=True)
        return ", ".join(f"{what} at the {side}" for side, what in named if what) or "none named"
    return _said(getattr(plan, field))


def _said(value: Any) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if value is None or value in ("", ()):
        return "nothing"
    if isinstance(value, StrEnum):
        return value.value
    if isinstance(value, float):
        return f"{value:g}"
    if isinstance(value, Treatment):
        return value.name
    if isinstance(value, tuple):
        return ", ".join(_inner(v) for v in value)
    return str(value)


def _inner(value: Any) -> str:
    if hasattr(value, "code"):
        return f"{value.code} ({value.reason})"
    return " ".join(_said(v) for v in value) if isinstance(value, tuple) else _said(value)
