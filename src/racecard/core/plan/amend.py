"""What may still be changed of a plan once it has started, and the change itself."""

from collections.abc import Mapping
from dataclasses import replace

from racecard.core.model import Plan
from racecard.core.plan.check import check_plan
from racecard.errors import InvalidInput

AMENDABLE = (
    "question", "material", "measure", "secondary", "endpoint", "threshold_mm", "length_days",
    "look_every_days", "look_days", "gap_points", "gap_days", "gap_score",
)  # fmt: skip
"""What may still be changed of a plan once it has started; each change is an amendment."""


def amended(
    plan: Plan, change: Mapping[str, object], note: str, reason: str
) -> tuple[Plan, tuple[str, ...]]:
    """The plan after an amendment, and the names of the fields that changed.

    Args:
        plan: a frozen plan.
        change: new values of amendable fields.
        note: what was done otherwise that is no field of the plan; may be empty.
        reason: why; must be said.

    Raises:
        InvalidInput: no reason, nothing changed, a field that stays, or a plan that breaks a rule.
    """
    if not reason.strip():
        raise InvalidInput("An amendment needs a reason: say why in a few words.", "/reason")
    if any(name not in AMENDABLE for name in change):
        raise InvalidInput("Treatments, numbers and the bench stay as they were stuck.", "/change")
    new = replace(plan, **change)  # type: ignore[arg-type]  # names are checked above
    changed = tuple(name for name in change if getattr(new, name) != getattr(plan, name))
    if not changed and not note.strip():
        raise InvalidInput("Nothing is changed: change a value, or say what was done.", "/note")
    check_plan(new)
    return new, changed
