"""A round as it lies on the bench: every unit with what was seen before and what this round saw."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from racecard.core.log.assemble import conflicting, in_force, unit_logs
from racecard.core.log.course import (
    course,
    last_day_for_looks,
    left_on,
    past_end_says,
    rounds_made,
)
from racecard.core.log.days import elapsed_days, noon_of_day
from racecard.core.log.due import missed_says
from racecard.core.log.events import entries_in_force, places
from racecard.core.log.lift import sampled, second_sample, shuffled
from racecard.core.model import Trial, Unit
from racecard.core.model.observation import Entry, Observation
from racecard.errors import Conflict, LookPastEnd, NotFound


@dataclass(frozen=True, slots=True)
class UnitInRound:
    """One unit: where it stands now, what was seen before, what this round saw, what waits to be decided.

    `lift`: drawn for the lift of this day; `second`: among those a second scorer scores.
    """

    unit: Unit
    place: tuple[int, int, int]
    gone: bool
    previous: Observation | None
    current: Observation | None
    score: Observation | None
    conflict: Observation | None
    lift: bool
    second: bool
    second_score: int | None


@dataclass(frozen=True, slots=True)
class Round:
    """One round. `arms_short`: treatments with a unit still to be looked at."""

    day: int
    units: tuple[UnitInRound, ...]
    due: int
    looked_at: int
    arms_short: int
    complete: bool
    new_strikes: int
    previous_day: int | None
    shuffled: tuple[int, ...]
    missed_says: str
    entries: tuple[Entry, ...]


def round_of(trial: Trial, log: Sequence[Observation], entries: Sequence[Entry], day: int) -> Round:
    """The round of one day.

    Args:
        trial: a started trial.
        log: every observation in the order it was recorded.
        entries: its diary.
        day: day of the round.
    """
    planted = trial.planted
    in_effect = in_force(log)
    seen = [o for o in in_effect if o.kind in ("look", "count")]
    before = {o.unit_id: o for o in sorted(seen, key=lambda o: o.day) if o.day < day}
    now = {o.unit_id: o for o in seen if o.day == day}
    scores = {o.unit_id: o for o in in_effect if o.kind == "score"}
    logs = unit_logs(planted, log, trial.plan)
    held = trial.plants_held(planted)
    gone = [
        not u.is_set or ((d := left_on(unit_log, n)) is not None and d < day)
        for u, unit_log, n in zip(planted, logs, held, strict=True)
    ]
    at, told = places(trial.units, entries), entries_in_force(entries)
    drawn = set(sampled(trial).get(day, ()))
    seconds = set(second_sample(trial))
    marks = {e.target: int(e.value("score") or 0) for e in told if e.kind == "second"}
    others = {o.unit_id: o for o in conflicting(log) if o.day == day or o.kind == "score"}
    full = rounds_made(logs, held)
    dots = course(trial.plan, day, {d: made for d, made in full.items() if d < day})
    units = tuple(
        UnitInRound(
            u, at[u.id], left, before.get(u.id), now.get(u.id), scores.get(u.id), others.get(u.id),
            u.id in drawn, u.id in seconds, marks.get(u.id),
        )
        for u, left in zip(planted, gone, strict=True)
    )  # fmt: skip
    due = [u for u, left in zip(planted, gone, strict=True) if not left]
    waiting = [u for u in due if u.id not in now]
    return Round(
        day=day, units=units, due=len(due), looked_at=sum(u.id in now for u in due),
        arms_short=len({u.cell.treatment for u in waiting}), complete=not waiting,
        new_strikes=sum(
            newly_struck(trial.plan.endpoint, before.get(i), o) for i, o in now.items()
        ),
        previous_day=max((o.day for o in before.values()), default=None),
        shuffled=tuple(shuffled(trial, day)), missed_says=missed_says(trial, dots),
        entries=tuple(e for e in told if e.day == day and e.kind != "second"),
    )  # fmt: skip


def newly_struck(endpoint: int, old: Observation | None, new: Observation) -> int:
    """Strikes this look saw that the one before had not.

    Args:
        endpoint: code of the stage that counts.
        old: what stood before, None without a look.
        new: the look.
    """
    if new.kind == "count":
        return max(0, (new.struck or 0) - ((old.struck or 0) if old else 0))
    had = old is not None and old.stage is not None and old.stage >= endpoint
    has = new.stage is not None and new.stage >= endpoint
    return int(has and not had)


def stamp_of_round(trial: Trial, day: int, now: datetime) -> datetime | None:
    """The time stamp for taps in a round: None means the device's own clock.

    Args:
        trial: the trial.
        day: day of the round.
        now: the moment it is opened.

    Raises:
        Conflict: the trial has not started.
        NotFound: that day has not come yet.
        LookPastEnd: it lies past the last day that takes looks.
    """
    if trial.started_at is None:
        raise Conflict("This trial has not started: stick it, then start it.")
    today = elapsed_days(trial.started_at, now, trial.plan.time_zone)
    if not 0 <= day <= today:
        raise NotFound(f"Day {day} has not come yet: today is day {today}.")
    late = max((u.late for u in trial.stuck), default=0)
    if day > last_day_for_looks(trial.plan, late):
        raise LookPastEnd(past_end_says(trial.plan, day, late))
    return None if day == today else noon_of_day(trial.started_at, day, trial.plan.time_zone)
