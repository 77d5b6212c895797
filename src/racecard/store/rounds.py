"""The log: observations are only ever added; a repeated send changes nothing."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import timedelta

from sqlalchemy import Select, func, select
from sqlalchemy.orm import Session

from racecard.core.log.assemble import in_force, says_the_same, unit_logs
from racecard.core.log.course import last_day_for_looks
from racecard.core.log.days import elapsed_days, noon_of_day
from racecard.core.log.histories import check_counts
from racecard.core.log.lift import check_parts, check_shared_scores
from racecard.core.log.stages import ladder_for
from racecard.core.model import Plan, Status, Trial
from racecard.core.model.observation import Observation
from racecard.errors import Conflict, InvalidInput, LookPastEnd, NotFound
from racecard.store.engine import Shed
from racecard.store.tables import ObservationRow
from racecard.store.trial_rows import row_of, trial_of
from racecard.store.trials import load_trial

_CLOCK_SKEW = timedelta(minutes=5)
_AT_ONCE = 400
"""Units asked for in one query: SQLite binds a limited number of values."""


def record(
    shed: Shed, trial_id: str, sent: Sequence[Observation], *, settled: bool = False
) -> list[Observation]:
    """Add observations to the log, all or none, and give back the rows as they stand.

    The day is worked out here from the time stamp. An observation whose id is already there is
    left alone. A second look at a unit on the same day becomes a correction of the first, so
    nothing is overwritten; but where the device did not know of the first, and saw something else,
    the second is kept beside it until somebody decides. `settled`: rows from a trial's file, whose
    disagreements are kept as the file has them.

    Raises:
        NotFound: no such trial, unit or corrected observation.
        Conflict: the trial has not started.
        LookPastEnd: the look lies past the last day that takes looks.
        InvalidInput: a stage, cause, count or score breaks a rule.
    """
    with shed.writing() as session:
        wanted = {o.unit_id for o in sent}
        few = wanted if len(wanted) <= _AT_ONCE else None  # of a bench of thousands read only those
        trial = trial_of(session, row_of(session, trial_id), few)
        if trial.status is not Status.STARTED or trial.started_at is None:
            raise Conflict("This trial has not started: stick it, then start it.")
        known = {o.id: o for o in _near(session, trial_id, sent)}
        of_unit: dict[str, list[Observation]] = {u.id: [] for u in trial.planted}
        for o in known.values():
            if o.unit_id in of_unit:
                of_unit[o.unit_id].append(o)
        order = last_order(session)
        for i, raw in enumerate(sent):
            if raw.id in known:
                continue
            new = _checked(shed, trial, raw, of_unit, i, settled)
            if settled and raw.beside is not None:
                new = replace(new, corrects=None, beside=raw.beside)
            order += 1
            new = replace(new, recorded_at=(new.recorded_at if settled else None) or shed.now())
            session.add(_row(new, trial_id, order))
            known[new.id] = new
            of_unit[new.unit_id].append(new)
        session.flush()
        return [known[o.id] for o in sent]


def load_observations(session: Session, trial_id: str) -> list[Observation]:
    """Every row of a trial's log in the order it was recorded."""
    return _read(session, select(ObservationRow).where(ObservationRow.trial_id == trial_id))


def _near(session: Session, trial_id: str, sent: Sequence[Observation]) -> list[Observation]:
    """The rows a batch has to know of: those of its units, and any that bear one of its ids."""
    out: dict[str, Observation] = {}
    for i in range(0, len(sent), _AT_ONCE):
        part = sent[i : i + _AT_ONCE]
        mine = ObservationRow.unit_id.in_({o.unit_id for o in part})
        same = ObservationRow.id.in_({o.id for o in part})
        query = select(ObservationRow).where(ObservationRow.trial_id == trial_id, mine | same)
        out |= {o.id: o for o in _read(session, query)}
    return list(out.values())


def _read(session: Session, query: Select[ObservationRow]) -> list[Observation]:
    return [
        Observation(
            r.id,
            r.unit_id,
            r.kind,
            r.day,
            r.seen_at,
            r.who,
            r.corrects,
            r.stage,
            r.wilted,
            r.shoot,
            r.loss,
            r.removed,
            r.struck,
            r.lost,
            r.lost_struck,
            r.score,
            r.as_row,
            tuple(json.loads(r.parts).items()),
            r.base,
            r.beside,
            r.device,
            r.recorded_at,
        )
        for r in session.scalars(query.order_by(ObservationRow.order))
    ]


def last_order(session: Session) -> int:
    """How far the log of the shed has come: the number of its last row, 0 where it is empty."""
    return session.scalar(select(func.max(ObservationRow.order))) or 0


def _checked(
    shed: Shed,
    trial: Trial,
    raw: Observation,
    of_unit: dict[str, list[Observation]],
    i: int,
    settled: bool,
) -> Observation:
    at = f"/items/{i}"
    if raw.unit_id not in of_unit:
        raise NotFound("There is no such unit in this trial.", f"{at}/unit_id")
    day = _day(shed, trial, raw, at, is_past_record=settled)
    before = of_unit[raw.unit_id]
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


def _day(
    shed: Shed, trial: Trial, raw: Observation, at: str, *, is_past_record: bool = False
) -> int:
    assert trial.started_at is not None
    if raw.seen_at > shed.now() + _CLOCK_SKEW:
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


def past_end_says(plan: Plan, day: int, late: int = 0) -> str:
    """What is wrong with a look past the end, and what to do about it."""
    return (
        f"Day {day} is past the end: the last day was {plan.length_days + late}, and looks were taken "
        f"until day {last_day_for_looks(plan, late)}. Extend the trial to day {day} to look now; it is "
        "kept as an amendment."
    )


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
    ladder = ladder_for(trial.plan.kind)
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
        raise InvalidInput("A count needs the number struck so far.", f"{at}/struck")
    causes = ladder_for(trial.plan.kind).causes
    if new.loss is not None and new.loss not in causes:
        raise InvalidInput(f"A cause of loss is one of {', '.join(causes)}.", f"{at}/loss")
    try:
        check_counts(
            new.struck, new.lost or 0, new.lost_struck or 0, new.removed, trial.plan.per_container
        )
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
    check_shared_scores(dict(new.parts), trial.plan.per_container - gone)


def move_round(
    shed: Shed, trial_id: str, day: int, to_day: int, trays: tuple[int, int] | None, who: str
) -> int:
    """Move what was entered of a round to another day, or from one tray to another, as a whole.

    The rows stay; each gets a correction beside it, so the history shows both.

    Args:
        shed: the shed.
        trial_id: the trial.
        day: the day it was entered on.
        to_day: the day it belongs to.
        trays: (from, to) where it was entered on the wrong tray, None for all trays.
        who: who moves it.

    Returns:
        How many looks were moved.

    Raises:
        InvalidInput: nothing to move, looks already there, or cells without a counterpart.
    """
    with shed.writing() as session:
        trial = load_trial(session, trial_id)
        if trial.started_at is None:
            raise Conflict("This trial has not started: stick it, then start it.")
        log = load_observations(session, trial_id)
        looks = [o for o in in_force(log) if o.kind in ("look", "count")]
        place = {u.id: (u.cell.tray, u.cell.row, u.cell.col) for u in trial.planted}
        moving = [
            o for o in looks
            if o.day == day and (trays is None or place[o.unit_id][0] == trays[0])
        ]  # fmt: skip
        if not moving:
            raise InvalidInput(f"Nothing was entered on day {day} there.", "/day")
        target = _targets(trial, moving, trays)
        ids = {o.id for o in moving}
        taken = {o.unit_id for o in looks if o.day == to_day and o.id not in ids}
        hit = [u.cell.code for u in trial.planted if u.id in taken & set(target.values())]
        if hit:
            raise InvalidInput(
                f"Day {to_day} already has looks at {', '.join(hit[:6])}"
                f"{' and more' if len(hit) > 6 else ''}: take those back first.",
                "/to_day",
            )
        stamp = noon_of_day(trial.started_at, to_day, trial.plan.time_zone)
        order = last_order(session)
        for o in moving:
            moved = replace(o, id=shed.new_id(), unit_id=target[o.unit_id], seen_at=stamp, who=who,
                            corrects=o.id, base=None, recorded_at=shed.now())  # fmt: skip
            moved = replace(moved, day=_day(shed, trial, moved, ""))
            order += 1
            session.add(_row(moved, trial_id, order))
        return len(moving)


def _targets(
    trial: Trial, moving: Sequence[Observation], trays: tuple[int, int] | None
) -> Mapping[str, str]:
    if trays is None:
        return {o.unit_id: o.unit_id for o in moving}
    at = {(u.cell.tray, u.cell.row, u.cell.col): u.id for u in trial.planted}
    place = {uid: p for p, uid in at.items()}
    out = {}
    for o in moving:
        _, row, col = place[o.unit_id]
        there = at.get((trays[1], row, col))
        if there is None:
            raise InvalidInput(
                f"Tray {trays[1] + 1} has no plant where some of these stood: enter them by hand.",
                "/to_tray",
            )
        out[o.unit_id] = there
    return out


def _row(new: Observation, trial_id: str, order: int) -> ObservationRow:
    return ObservationRow(
        id=new.id, order=order, trial_id=trial_id, unit_id=new.unit_id, kind=new.kind, day=new.day,
        seen_at=new.seen_at, recorded_at=new.recorded_at, who=new.who, corrects=new.corrects,
        stage=new.stage, wilted=new.wilted, shoot=new.shoot, loss=new.loss, removed=new.removed,
        struck=new.struck, lost=new.lost, lost_struck=new.lost_struck, score=new.score,
        as_row=new.as_row, parts=json.dumps(dict(new.parts)), base=new.base, beside=new.beside,
        device=new.device,
    )  # fmt: skip
