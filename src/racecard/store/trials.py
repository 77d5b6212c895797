"""Trials in the shed: drafts saved, benches drawn, starts stamped, seals broken."""

import json
from collections.abc import Sequence
from dataclasses import asdict
from datetime import datetime, timedelta

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from racecard.core.model import (
    Agent,
    Carrier,
    Cell,
    Day0,
    Kind,
    Plan,
    Role,
    Status,
    Treatment,
    Trial,
    Unit,
)
from racecard.core.plan.bench import draw_bench
from racecard.core.plan.check import check_plan
from racecard.errors import Conflict, InvalidInput, NotFound
from racecard.store.engine import Shed
from racecard.store.tables import ChangeRow, TreatmentRow, TrialRow, UnitRow

MOST_SEED = 2**31 - 1
_OLDEST_START = timedelta(days=400)
_PLAN_COLUMNS = (
    "question", "material", "units", "per_container", "blocks", "columns", "endpoint",
    "threshold_mm", "length_days", "look_every_days", "gap_points", "expected_percent",
    "blind", "count_singly", "time_zone", "door",
)  # fmt: skip


def create_trial(shed: Shed, plan: Plan, seed: int, who: str, *, invented: bool = False) -> Trial:
    """Save a new draft with its bench drawn from the seed.

    Raises:
        InvalidInput: the plan breaks a rule, or the seed is out of range.
    """
    _check(plan, seed)
    now = shed.now()
    with shed.writing() as session:
        row = TrialRow(
            id=shed.new_id(), created_at=now, created_by=who, status=Status.DRAFT.value,
            started_at=None, unsealed_at=None, seed=seed, invented=invented,
            kind=plan.kind.value, day0=plan.day0.value,
            **{name: getattr(plan, name) for name in _PLAN_COLUMNS},
        )  # fmt: skip
        session.add(row)
        session.flush()
        _lay_out(shed, session, row, plan, draw_bench(plan, seed))
        _note_change(session, row.id, now, who, "draft saved", plan, seed)
        return _trial(session, row)


def insert_trial(shed: Shed, session: Session, trial: Trial, who: str) -> Trial:
    """Add a trial as it stands elsewhere: its bench, seed and moments kept, its ids new."""
    row = TrialRow(
        id=shed.new_id(), created_at=trial.created_at, created_by=who, status=trial.status.value,
        started_at=trial.started_at, unsealed_at=trial.unsealed_at, seed=trial.seed,
        invented=trial.invented, kind=trial.plan.kind.value, day0=trial.plan.day0.value,
        **{name: getattr(trial.plan, name) for name in _PLAN_COLUMNS},
    )  # fmt: skip
    session.add(row)
    session.flush()
    _lay_out(shed, session, row, trial.plan, [u.cell for u in trial.units])
    _note_change(session, row.id, shed.now(), who, "brought in", trial.plan, trial.seed)
    return _trial(session, row)


def save_plan(shed: Shed, trial_id: str, plan: Plan, seed: int, who: str) -> Trial:
    """Replace a draft's plan and draw its bench; what it was stays in the change log.

    Raises:
        Conflict: the trial has started, its plan is frozen.
    """
    _check(plan, seed)
    with shed.writing() as session:
        row = _row(session, trial_id)
        if row.status != Status.DRAFT:
            raise Conflict(
                "This trial has started, so its plan is frozen; plan a new trial instead."
            )
        for name in _PLAN_COLUMNS:
            setattr(row, name, getattr(plan, name))
        row.kind, row.day0, row.seed = plan.kind.value, plan.day0.value, seed
        session.execute(delete(UnitRow).where(UnitRow.trial_id == trial_id))
        session.execute(delete(TreatmentRow).where(TreatmentRow.trial_id == trial_id))
        session.flush()
        _lay_out(shed, session, row, plan, draw_bench(plan, seed))
        _note_change(session, row.id, shed.now(), who, "draft saved", plan, seed)
        return _trial(session, row)


def start_trial(shed: Shed, trial_id: str, who: str, at: datetime | None = None) -> Trial:
    """Stamp day 0 and freeze the plan.

    Args:
        shed: the shed.
        trial_id: a draft.
        who: who says so.
        at: when it was stuck or sown; now where not said.

    Raises:
        Conflict: already started.
        InvalidInput: the moment lies in the future or too long ago.
    """
    now = shed.now()
    at = at or now
    if at > now + timedelta(minutes=5):
        raise InvalidInput("The start lies in the future: start the trial when it is stuck.", "/at")
    if at < now - _OLDEST_START:
        raise InvalidInput("The start lies more than 400 days back: check the year.", "/at")
    with shed.writing() as session:
        row = _row(session, trial_id)
        if row.status != Status.DRAFT:
            raise Conflict("This trial has already started.")
        row.status, row.started_at = Status.STARTED.value, at
        trial = _trial(session, row)
        _note_change(session, row.id, now, who, "started", trial.plan, trial.seed)
        return trial


def unseal_trial(shed: Shed, trial_id: str, who: str) -> Trial:
    """Show the treatments of a trial scored blind; recorded, and not to be undone."""
    with shed.writing() as session:
        row = _row(session, trial_id)
        trial = _trial(session, row)
        if not trial.is_sealed:
            raise Conflict("This trial is not sealed.")
        row.unsealed_at = shed.now()
        _note_change(session, row.id, shed.now(), who, "unsealed", trial.plan, trial.seed)
        return _trial(session, row)


def delete_draft(shed: Shed, trial_id: str) -> None:
    """Throw a draft away; a started trial is never deleted."""
    with shed.writing() as session:
        row = _row(session, trial_id)
        if row.status != Status.DRAFT:
            raise Conflict("A trial that has started is kept: its record is never thrown away.")
        session.execute(delete(UnitRow).where(UnitRow.trial_id == trial_id))
        session.delete(row)


def load_trial(session: Session, trial_id: str) -> Trial:
    """One trial; NotFound where the shed has none of that id."""
    return _trial(session, _row(session, trial_id))


def load_trials(session: Session) -> list[Trial]:
    """Every trial, the newest first."""
    rows = session.scalars(select(TrialRow).order_by(TrialRow.created_at.desc(), TrialRow.id))
    return [_trial(session, row) for row in rows]


def has_invented(session: Session) -> bool:
    """Whether the demo's trials are already in this shed."""
    found = session.scalar(select(TrialRow.id).where(TrialRow.invented.is_(True)).limit(1))
    return found is not None


def _check(plan: Plan, seed: int) -> None:
    check_plan(plan)
    if not 0 <= seed <= MOST_SEED:
        raise InvalidInput(f"The seed must be 0 to {MOST_SEED}, got {seed}.", "/seed")


def _row(session: Session, trial_id: str) -> TrialRow:
    row = session.get(TrialRow, trial_id)
    if row is None:
        raise NotFound("There is no such trial in this shed.")
    return row


def _lay_out(
    shed: Shed, session: Session, row: TrialRow, plan: Plan, cells: Sequence[Cell]
) -> None:
    ids = [shed.new_id() for _ in plan.treatments]
    for i, t in enumerate(plan.treatments):
        session.add(
            TreatmentRow(
                id=ids[i],
                trial_id=row.id,
                position=i,
                name=t.name.strip(),
                role=t.role.value,
                detail=t.detail.strip(),
                agent=t.agent.value,
                carrier=t.carrier.value,
                silk=t.silk,
            )
        )
    session.flush()
    for cell in cells:
        session.add(
            UnitRow(
                id=shed.new_id(),
                trial_id=row.id,
                tray=cell.tray,
                row=cell.row,
                col=cell.col,
                block=cell.block,
                treatment_id=ids[cell.treatment] if cell.treatment >= 0 else None,
            )
        )
    session.flush()


def _note_change(
    session: Session, trial_id: str, at: datetime, who: str, what: str, plan: Plan, seed: int
) -> None:
    detail = json.dumps({"plan": asdict(plan), "seed": seed}, ensure_ascii=False)
    session.add(ChangeRow(trial_id=trial_id, at=at, who=who, what=what, detail=detail))


def _trial(session: Session, row: TrialRow) -> Trial:
    treatments = session.scalars(
        select(TreatmentRow).where(TreatmentRow.trial_id == row.id).order_by(TreatmentRow.position)
    ).all()
    order = [UnitRow.tray, UnitRow.row, UnitRow.col]
    units = session.scalars(
        select(UnitRow).where(UnitRow.trial_id == row.id).order_by(*order)
    ).all()
    index = {t.id: i for i, t in enumerate(treatments)}
    return Trial(
        row.id, _plan(row, treatments), Status(row.status), row.seed or 0,
        tuple(_unit(u, index) for u in units),
        row.created_at, row.started_at, row.unsealed_at, row.invented,
    )  # fmt: skip


def _unit(row: UnitRow, index: dict[str, int]) -> Unit:
    arm = index[row.treatment_id] if row.treatment_id else -1
    return Unit(row.id, Cell(row.tray, row.row, row.col, row.block, arm))


def _plan(row: TrialRow, treatments: Sequence[TreatmentRow]) -> Plan:
    return Plan(
        kind=Kind(row.kind),
        day0=Day0(row.day0),
        treatments=tuple(
            Treatment(
                t.id, t.name, Role(t.role), t.detail, Agent(t.agent), Carrier(t.carrier), t.silk
            )
            for t in treatments
        ),
        **{name: getattr(row, name) for name in _PLAN_COLUMNS},
    )
