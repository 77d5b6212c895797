"""What was sealed until the finish, and what the plan became, in words."""

from collections.abc import Sequence

from racecard.core.assess.predictions import Scored
from racecard.core.model import Amendment, Plan

LATE_PREDICTIONS = "Predictions were written after the start, so they are not scored."


def predictions_say(plan: Plan, scored: Sequence[Scored]) -> str:
    """How well the grower guessed, in one or two sentences; empty where nothing was guessed."""
    if not scored:
        return ""
    off = sum(abs(s.off_points) for s in scored) / len(scored)
    says = f"Your predictions were {off:.0f} points off on average"
    if len(scored) < 2:
        return says.replace("predictions were", "prediction was").replace(" on average", "") + "."
    first = max(scored, key=lambda s: s.predicted)
    best = max(scored, key=lambda s: s.struck)
    if first.treatment == best.treatment:
        return f"{says}, and the one you put first was first."
    names = plan.treatments
    return f"{says}. You expected {names[first.treatment].name} first; {names[best.treatment].name} was first."


def amendments_say(amendments: Sequence[Amendment], fields: dict[str, str]) -> tuple[str, ...]:
    """Every amendment as a sentence beside the verdict.

    Args:
        amendments: what was changed after the start, in order.
        fields: label of each field by its name.
    """
    out = []
    for a in amendments:
        what = fields.get(a.field, a.field)
        changed = f"{what} was {a.before}, became {a.after}" if a.field else a.after
        out.append(f"{changed} ({a.reason}).")
    return tuple(out)
