"""The register of plant material and agents."""

from datetime import date

from fastapi import APIRouter

from racecard.api.deps import ShedDep
from racecard.api.schemas.prepare import AgentIn, AgentOut, PlantIn, PlantOut, RegisterOut
from racecard.core.prepare.actives import ACTIVES
from racecard.core.prepare.defaults import STAGES
from racecard.core.prepare.register import (
    FORMS,
    AgentLot,
    PlantLot,
    notes_on_agent,
    notes_on_plant,
)
from racecard.store.engine import Shed
from racecard.store.materials import keep_agent, keep_plant, load_agents, load_plants, retire

router = APIRouter(prefix="/api/materials", tags=["materials"])


@router.get("", operation_id="get_register")
def get_register(shed: ShedDep) -> RegisterOut:
    """Everything in the register, with what must be said of it today."""
    today = shed.now().date()
    with shed.reading() as session:
        plants, agents = load_plants(session), load_agents(session)
    return RegisterOut(
        plants=[_plant(p, today) for p in plants], agents=[_agent(a, today) for a in agents],
        stages=STAGES, actives={k: a.name for k, a in ACTIVES.items()}, forms=list(FORMS),
    )  # fmt: skip


@router.post("/plants", operation_id="add_plant", status_code=201)
def add_plant(shed: ShedDep, body: PlantIn) -> PlantOut:
    """Add plant material."""
    return _plant(keep_plant(shed, body.to_core()), _today(shed))


@router.put("/plants/{material_id}", operation_id="change_plant")
def change_plant(shed: ShedDep, material_id: str, body: PlantIn) -> PlantOut:
    """Change plant material."""
    return _plant(keep_plant(shed, body.to_core(material_id)), _today(shed))


@router.post("/agents", operation_id="add_agent", status_code=201)
def add_agent(shed: ShedDep, body: AgentIn) -> AgentOut:
    """Add an agent."""
    return _agent(keep_agent(shed, body.to_core()), _today(shed))


@router.put("/agents/{material_id}", operation_id="change_agent")
def change_agent(shed: ShedDep, material_id: str, body: AgentIn) -> AgentOut:
    """Change an agent."""
    return _agent(keep_agent(shed, body.to_core(material_id)), _today(shed))


@router.delete("/{material_id}", operation_id="retire_material", status_code=204)
def retire_material(shed: ShedDep, material_id: str) -> None:
    """Take a material out of the lists; trials that drew on it keep it."""
    retire(shed, material_id)


@router.post("/{material_id}/back", operation_id="material_back", status_code=204)
def material_back(shed: ShedDep, material_id: str) -> None:
    """Put a material back into the lists."""
    retire(shed, material_id, back=True)


def _today(shed: Shed) -> date:
    return shed.now().date()


def _plant(lot: PlantLot, today: date) -> PlantOut:
    return PlantOut.from_core(lot, notes_on_plant(lot, today))


def _agent(lot: AgentLot, today: date) -> AgentOut:
    return AgentOut.from_core(lot, notes_on_agent(lot, today))
