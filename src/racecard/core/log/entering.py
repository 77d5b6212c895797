"""What may enter the log, and how a second look of one day stands to the first."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime, timedelta

from racecard.core.log.assemble import in_force, says_the_same, unit_logs
from racecard.core.log.beside_endpoint import check_also_counted
from racecard.core.log.course import last_day_for_looks, past_end_says
from racecard.core.log.days import elapsed_days
from racecard.core.log.histories import check_counts
from racecard.core.log.lift import check_parts, check_shared_scores
from racecard.core.log.stages import stage_scale_of
from racecard.core.model import Trial
from racecard.core.model.observation import Observation
from racecard.errors import InvalidInput, LookPastEnd, NotFound

_CLOCK_SKEW = timedelta(minutes=5)


def entered(
    trial: Trial,
    raw: Observation,
    before: Sequence[Observation] | None,
    now: datetime,
    at: str,
    *,
    settled: bool = False,
) -> Observation:
    """A sent observation as it enters the log: dated, checked, and tied to what it corrects.

    Args:
        trial: a started trial.
        raw: what was sent.
        before: the log of its unit; None where the trial has no such unit.
        now: the server's time.
        at: pointer to it in the request, for faults.
        settled: it comes from a trial's file: it happened, whenever that was.

    Returns:
        With its day; `corrects` names the look of that day it replaces. Where the device did not know
        of that look and saw something else, `beside` names it: both are kept until somebody decides.

    Raises:
        NotFound: no such unit or corrected observation.
        LookPastEnd: the look lies past the last day that takes looks.
        InvalidInput: a stage, cause, count or score breaks a rule.
    """
    if before is None:
        raise NotFound("There is no such unit in this trial.", f"{at}/unit_id")
    day = day_of_look(trial, raw, now, at, is_past_record=settled)
    named = _corrected(raw, day, before, at)
    new = replace(raw, day=day, corrects=named, beside=None)
    if new.kind == "look":
        _check_look(trial, new, at)
    elif new.kind == "count":
        _check_count(trial, new, at)
    elif new.kind == "score":
        _check_score(trial, new, before, at)
    if raw.corrects is None and raw.base is not None and named not in (None, raw.base):
        there = next(o for o in before if o.id == named)
        is_own = bool(raw.device) and raw.device == there.device
        came_late = any(o.base == raw.id for o in before) or (
            is_own and raw.seen_at < there.seen_at
        )
        if came_late or not (is_own or says_the_same(there, new)):
            return replace(new, corrects=None, beside=named)
    return new


def day_of_look(
    trial: Trial, raw: Observation, now: datetime, at: str, *, is_past_record: bool = False
) -> int:
    """Day of the trial a look belongs to; a fault where it is to come, before day 0 or past the end.

    Args:
        trial: the trial.
        raw: the look as it came.
        now: the moment it came.
        at: pointer of the look in what was sent.
        is_past_record: it is entered as a record of the past, so that its day is its own.
    """
    assert trial.started_at is not None
    if raw.seen_at > now + _CLOCK_SKEW:
        raise InvalidInput(
            "The look lies in the future: check the clock of this device.", f"{at}/seen_at"
        )
    day = elapsed_days(trial.started_at, raw.seen_at, trial.plan.time_zone)
    if day < 0:
        raise InvalidInput("The look lies before day 0: check its date.", f"{at}/seen_at")
    if is_past_record:  # a look of a trial's file happened, whenever that was
        return day
    late = next((u.late for u in trial.units if u.id == raw.unit_id), 0)
    if day > last_day_for_looks(trial.plan, late):
        raise LookPastEnd(past_end_says(trial.plan, day, late), f"{at}/seen_at")
    return day


def _corrected(raw: Observation, day: int, before: Sequence[Observation], at: str) -> str | None:
    """What a new row stands in for: what it names, or the look already there for that day."""
    if raw.corrects is not None:
        if raw.corrects not in {o.id for o in before}:
            raise NotFound(
                "The observation to correct is not in this unit's log.", f"{at}/corrects"
            )
        return raw.corrects
    if raw.kind == "void":
        raise InvalidInput("Undo needs the observation it undoes.", f"{at}/corrects")
    for old in in_force(before):
        same_day = old.day == day or raw.kind == "score"
        if old.kind == raw.kind and same_day:
            return old.id
    return None


def _check_look(trial: Trial, new: Observation, at: str) -> None:
    if trial.plan.per_container > 1:
        raise InvalidInput(
            "A container of many is counted, not looked at one by one.", f"{at}/kind"
        )
    ladder = stage_scale_of(trial.plan)
    if new.stage is not None:
        ladder.stage(new.stage)
    if new.loss is not None and new.loss not in ladder.causes:
        causes = ", ".join(ladder.causes)
        raise InvalidInput(f"A cause of loss is one of {causes}; got {new.loss!r}.", f"{at}/loss")
    if new.stage is None and new.loss is None and not (new.removed or new.shoot or new.wilted):
        raise InvalidInput("A look needs a stage, a shoot, a loss, or “removed”.", f"{at}/stage")


def _check_count(trial: Trial, new: Observation, at: str) -> None:
    if trial.plan.per_container == 1:
        raise InvalidInput("A container of one is looked at, not counted.", f"{at}/kind")
    if new.struck is None:
        raise InvalidInput("A count needs the number so far.", f"{at}/struck")
    causes = stage_scale_of(trial.plan).causes
    if new.loss is not None and new.loss not in causes:
        raise InvalidInput(f"A cause of loss is one of {', '.join(causes)}.", f"{at}/loss")
    (held,) = trial.plants_held([u for u in trial.planted if u.id == new.unit_id])
    try:
        check_counts(new.struck, new.lost or 0, new.lost_struck or 0, new.removed, held)
        check_also_counted(trial.plan, new.struck, dict(new.parts), held)
    except InvalidInput as exc:
        raise InvalidInput(exc.detail, f"{at}{exc.pointer}") from exc


def _check_score(trial: Trial, new: Observation, before: Sequence[Observation], at: str) -> None:
    try:
        if trial.plan.per_container > 1:
            _check_container_score(trial, new, before)
        elif new.score is None or not 0 <= new.score <= 5:
            raise InvalidInput(f"A root score is 0 to 5, got {new.score}.", "/score")
        else:
            check_parts(dict(new.parts))
    except InvalidInput as exc:
        raise InvalidInput(exc.detail, f"{at}{exc.pointer}") from exc


def _check_container_score(trial: Trial, new: Observation, before: Sequence[Observation]) -> None:
    if new.score is not None:
        raise InvalidInput(
            "A container of many has no one score: give each plant its own, the best is not the jar.",
            "/score",
        )
    unit = next(u for u in trial.planted if u.id == new.unit_id)
    (log,) = unit_logs([unit], before)
    last = max(log.counts, key=lambda c: c.day, default=None)
    gone = 0 if last is None else last.lost + last.lost_struck + last.removed
    check_shared_scores(dict(new.parts), trial.plan.plants_in(unit.cell.treatment) - gone)
