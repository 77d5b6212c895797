"""Trials as rows of the file and back: plan, bench, amendments, what was really set."""

import json
from collections.abc import Collection, Sequence
from dataclasses import asdict, fields, replace
from datetime import datetime

from sqlalchemy import Row, insert, select
from sqlalchemy.orm import Session

from racecard.core.log.days import elapsed_days
from racecard.core.model import (
    BORDER,
    SPARE,
    Agent,
    Amendment,
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
from racecard.core.plan.record import as_record, from_record
from racecard.core.prepare.soak_clock import proposed_steps
from racecard.errors import NotFound, Stale
from racecard.store.engine import Shed
from racecard.store.tables import (
    AmendmentRow,
    ChangeRow,
    SettingRow,
    TreatmentRow,
    TrialRow,
    UnitRow,
)

PLAN_COLUMNS = (
    "question", "material", "units", "per_container", "blocks", "columns", "endpoint",
    "threshold_mm", "length_days", "look_every_days", "gap_points", "expected_percent",
    "blind", "count_singly", "time_zone",
)  # fmt: skip
_DESIGN = tuple(
    f.name for f in fields(Plan) if f.name not in (*PLAN_COLUMNS, "kind", "day0", "treatments")
)
_TRAITS = ("reference", "properties", "units", "per_container", "prediction", "per_stem", "steps", "agent_id",
           "steps_settled")  # fmt: skip


def row_of(session: Session, trial_id: str) -> TrialRow:
    """The row of a trial; NotFound where the shed has none of that id."""
    row = session.get(TrialRow, trial_id)
    if row is None:
        raise NotFound("There is no such trial here.")
    return row


def trial_of(session: Session, row: TrialRow, only: Collection[str] | None = None) -> Trial:
    """A trial with its plan, bench and amendments, from its row.

    `only`: ids of the units that are wanted, where the rest of a large bench may stay unread.
    """
    treatments = session.scalars(
        select(TreatmentRow).where(TreatmentRow.trial_id == row.id).order_by(TreatmentRow.position)
    ).all()
    wanted = select(*_UNIT).where(UnitRow.trial_id == row.id).order_by(*_UNIT[1:4])
    if only is not None:
        wanted = wanted.where(UnitRow.id.in_(only))
    units = session.execute(
        wanted
    ).all()  # columns: thousands of objects of the session take as long again
    index = {t.id: i for i, t in enumerate(treatments)}
    set_ = _settings(session, row, only) if row.started_at is not None else {}
    return Trial(
        row.id, _plan(row, treatments), Status(row.status), row.seed or 0,
        tuple(_unit(u, index, row, set_) for u in units),
        row.created_at, row.started_at, row.unsealed_at, row.invented, row.fingerprint,
        _amendments(session, row.id), row.drawn_at, row.frozen_at, row.revision,
        repeats=row.repeats or "",
    )  # fmt: skip


def lay_out(
    shed: Shed,
    session: Session,
    row: TrialRow,
    plan: Plan,
    cells: Sequence[Cell],
    known: Collection[str] = (),
) -> None:
    """Add the treatments and cells of a plan; a treatment that the trial had before keeps its id."""
    free = set(known)
    ids = []
    for t in plan.treatments:
        ids.append(t.id if t.id in free else shed.new_id())
        free.discard(t.id)
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
                traits=traits_of(t),
            )
        )
    session.flush()
    rows = [
        {
            "id": shed.new_id(), "trial_id": row.id, "tray": c.tray, "row": c.row, "col": c.col,
            "block": c.block, "treatment_id": ids[c.treatment] if c.treatment >= 0 else None,
            "border": c.treatment == BORDER, "locked": c.locked,
        }
        for c in cells
    ]  # fmt: skip
    session.execute(insert(UnitRow), rows)


def note_change(
    session: Session, trial_id: str, at: datetime, who: str, what: str, plan: Plan, seed: int
) -> None:
    """Write down who changed what, with the whole plan as it then stood."""
    detail = json.dumps({"plan": asdict(plan), "seed": seed}, ensure_ascii=False)
    session.add(ChangeRow(trial_id=trial_id, at=at, who=who, what=what, detail=detail))


def changing(row: TrialRow, revision: int | None) -> None:
    """Note that a trial is changed; refused where the sender had seen an older one.

    Args:
        row: the trial.
        revision: what the sender had seen; None where it does not say.

    Raises:
        Stale: somebody else changed it meanwhile.
    """
    if revision is not None and revision != row.revision:
        raise Stale(
            "Somebody else changed this plan meanwhile: see both, and choose for each field which stands."
        )
    row.revision += 1


def who_did(session: Session, trial_id: str) -> dict[str, str]:
    """Who last did what to a trial, such as starting or unsealing it, by what was done."""
    rows = session.execute(
        select(ChangeRow.what, ChangeRow.who)
        .where(ChangeRow.trial_id == trial_id)
        .order_by(ChangeRow.id)
    )
    return {what: who for what, who in rows}


def design_of(plan: Plan) -> str:
    """The part of a plan that has no column of its own, as JSON."""
    return json.dumps(as_record(plan, _DESIGN), ensure_ascii=False)


def traits_of(t: Treatment) -> str:
    """The part of a treatment that has no column of its own, as JSON."""
    return json.dumps(as_record(t, _TRAITS), ensure_ascii=False)


def _plan(row: TrialRow, treatments: Sequence[TreatmentRow]) -> Plan:
    return Plan(
        kind=Kind(row.kind),
        day0=Day0(row.day0),
        treatments=tuple(_treatment(row, t) for t in treatments),
        **{name: getattr(row, name) for name in PLAN_COLUMNS},
        **from_record(Plan, json.loads(row.design)),
    )


def _treatment(row: TrialRow, t: TreatmentRow) -> Treatment:
    traits = json.loads(t.traits)
    found = Treatment(
        t.id, t.name, Role(t.role), t.detail, Agent(t.agent), Carrier(t.carrier), t.silk,
        **from_record(Treatment, traits),
    )  # fmt: skip
    if row.started_at is not None and "steps_settled" not in traits:
        # started before soaks were confirmed: its clock ran by what its words were read as
        return replace(found, steps=found.steps or proposed_steps(found))
    return found


def _settings(
    session: Session, row: TrialRow, only: Collection[str] | None
) -> dict[str, SettingRow]:
    """What was last said of each unit at sticking or sowing."""
    said = select(SettingRow).where(SettingRow.trial_id == row.id).order_by(SettingRow.id)
    if only is not None:
        said = said.where(SettingRow.unit_id.in_(only))
    return {r.unit_id: r for r in session.scalars(said)}


_UNIT = (
    UnitRow.id, UnitRow.tray, UnitRow.row, UnitRow.col, UnitRow.block, UnitRow.treatment_id,
    UnitRow.border, UnitRow.locked,
)  # fmt: skip


def _unit(
    row: Row[str, int, int, int, int, str | None, bool, bool],
    index: dict[str, int],
    of: TrialRow,
    set_: dict[str, SettingRow],
) -> Unit:
    id_, tray, at_row, col, block, treatment, border, locked = row
    arm = index[treatment] if treatment else BORDER if border else SPARE
    cell = Cell(tray, at_row, col, block, arm, locked)
    said = set_.get(id_)
    if said is None or of.started_at is None:
        return Unit(id_, cell)
    late = 0 if said.set_at is None else elapsed_days(of.started_at, said.set_at, of.time_zone)
    return Unit(id_, cell, said.is_set, max(0, late), said.why, said.lot, said.size)


def _amendments(session: Session, trial_id: str) -> tuple[Amendment, ...]:
    rows = session.scalars(
        select(AmendmentRow).where(AmendmentRow.trial_id == trial_id).order_by(AmendmentRow.id)
    )
    return tuple(Amendment(r.at, r.who, r.field, r.before, r.after, r.reason) for r in rows)
