"""What was sealed until the finish: predictions against what came, and what the plan became."""

from collections.abc import Sequence
from dataclasses import dataclass

from racecard.core.assess.judge import Judgement
from racecard.core.model import Amendment, Plan
from racecard.core.notes.from_data import Note, words_list


@dataclass(frozen=True, slots=True)
class Scored:
    """A prediction of one treatment against its strike, both in percent."""

    treatment: int
    predicted: float
    struck: float
    inside: bool | None

    @property
    def off_points(self) -> float:
        """How far the prediction lay above what came, in points."""
        return self.predicted - self.struck


def scored_predictions(plan: Plan, judgement: Judgement) -> tuple[Scored, ...]:
    """Every prediction that can be scored; none before the last day."""
    if not judgement.is_final:
        return ()
    out = []
    for arm in judgement.arms:
        predicted, rate = plan.treatments[arm.index].prediction, arm.strike.rate
        if predicted is None or rate is None:
            continue
        limits = arm.strike.interval
        inside = None
        if limits is not None and limits.low is not None and limits.high is not None:
            inside = limits.low <= predicted / 100 <= limits.high
        out.append(Scored(arm.index, predicted, 100 * rate, inside))
    return tuple(out)


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
        return f"{says}, and the one you put first struck most."
    names = plan.treatments
    return f"{says}; you put {names[first.treatment].name} first, and {names[best.treatment].name} struck most."


def amendments_say(amendments: Sequence[Amendment], fields: dict[str, str]) -> tuple[str, ...]:
    """Every amendment as a sentence beside the verdict."""
    out = []
    for a in amendments:
        what = fields.get(a.field, a.field)
        changed = f"{what} was {a.before}, became {a.after}" if a.field else a.after
        out.append(f"{changed} ({a.reason}).")
    return tuple(out)


_GOALPOSTS = {
    "endpoint": "what counts as rooted", "threshold_mm": "what counts as rooted",
    "length_days": "the last day", "measure": "what it is judged on", "gap_points": "the smallest difference that matters",
    "gap_days": "the smallest difference that matters", "gap_score": "the smallest difference that matters",
}  # fmt: skip


def amendment_notes(amendments: Sequence[Amendment]) -> tuple[Note, ...]:
    """The objection that the goal was moved after the start."""
    moved = list(dict.fromkeys(_GOALPOSTS[a.field] for a in amendments if a.field in _GOALPOSTS))
    if not moved:
        return ()
    return (
        Note(
            "goal_moved",
            f"After the start {words_list(moved)} was changed, when results could already be seen.",
            "Read the verdict with that in mind, and fix it before the start next time.",
        ),
    )
