"""The register in the shed: plant material and agents; retired ones are kept for old trials."""

import json
from dataclasses import asdict, replace
from typing import TypeVar

from sqlalchemy import select
from sqlalchemy.orm import Session

from racecard.core.prepare.register import AgentLot, PlantLot, check_agent, check_plant
from racecard.errors import NotFound
from racecard.store.engine import Shed
from racecard.store.tables import MaterialRow

Lot = TypeVar("Lot", PlantLot, AgentLot)


def keep_plant(shed: Shed, lot: PlantLot) -> PlantLot:
    """Add plant material, or change the one with this id."""
    check_plant(lot, shed.now().date())
    return _keep(shed, "plant", lot)


def keep_agent(shed: Shed, lot: AgentLot) -> AgentLot:
    """Add an agent, or change the one with this id."""
    check_agent(lot, shed.now().date())
    return _keep(shed, "agent", lot)


def retire(shed: Shed, material_id: str, *, back: bool = False) -> None:
    """Take a material out of the lists, or put it back; trials that drew on it keep it."""
    with shed.writing() as session:
        _row(session, material_id).retired_at = None if back else shed.now()


def load_plants(session: Session, *, retired: bool = False) -> list[PlantLot]:
    """Plant material, by name."""
    found = [PlantLot(**json.loads(r.body)) for r in _rows(session, "plant", retired)]
    return sorted(found, key=lambda x: x.name.casefold())


def load_agents(session: Session, *, retired: bool = False) -> list[AgentLot]:
    """Agents, by name."""
    found = [AgentLot(**json.loads(r.body)) for r in _rows(session, "agent", retired)]
    return sorted(found, key=lambda x: x.name.casefold())


def _rows(session: Session, kind: str, retired: bool) -> list[MaterialRow]:
    query = select(MaterialRow).where(MaterialRow.kind == kind)
    if not retired:
        query = query.where(MaterialRow.retired_at.is_(None))
    return list(session.scalars(query))


def _keep(shed: Shed, kind: str, lot: Lot) -> Lot:
    now = shed.now()
    with shed.writing() as session:
        if lot.id:
            row = _row(session, lot.id)
            if row.kind != kind:
                raise NotFound("There is no such material in the register.")
        else:
            lot = replace(lot, id=shed.new_id())
            row = MaterialRow(id=lot.id, kind=kind, created_at=now, retired_at=None)
            session.add(row)
        row.changed_at, row.body = now, json.dumps(asdict(lot), ensure_ascii=False)
    return lot


def _row(session: Session, material_id: str) -> MaterialRow:
    row = session.get(MaterialRow, material_id)
    if row is None:
        raise NotFound("There is no such material in the register.")
    return row
