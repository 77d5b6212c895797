"""The demo's register, lavender's recipes and clock; all of it invented."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import datetime, timedelta

from racecard.core.model import Agent, Plan, Trial
from racecard.core.prepare.register import AgentLot, PlantLot
from racecard.core.prepare.soak_clock import clock_of
from racecard.core.prepare.sums import reckon
from racecard.store.clock import mark
from racecard.store.engine import Shed
from racecard.store.materials import keep_agent, keep_plant
from racecard.store.mixing import put_on_list

_CHOICES = {"percent": "w/v", "label_meant": "acid"}
_DIP = {"stock": "1 %", "active": "IBA", "stage": "semi_ripe", "method": "dip", "carrier": "alcohol",
        "alcohol": "50 %", "alcohol_diluent": "50 %"}  # fmt: skip
_RECIPES = (
    (1, "alcohol", {"volume": "100 mL", "target": "50 %", "stock": "70 %"}),
    (2, "dilute", {"volume": "100 mL", "target": "500 ppm", **_DIP}),
    (3, "dilute", {"volume": "100 mL", "target": "1000 ppm", **_DIP}),
    (4, "dilute", {"volume": "100 mL", "target": "4000 ppm", **_DIP}),
)


def fill_shelf(shed: Shed) -> dict[str, str]:
    """Fill the register; ids by the plant's name, and "IBA" for the bottle lavender draws on."""
    ids = {lot.species: keep_plant(shed, lot).id for lot in _plants(shed.now())}
    kept = [keep_agent(shed, agent) for agent in _agents(shed.now())]
    return {**ids, "IBA": kept[0].id}


def drawing_on(plan: Plan, ids: Mapping[str, str]) -> Plan:
    """The plan with what it draws on: the plant its question names, the bottle for its hormone."""
    plant = next((ids[name] for name in ids if plan.question.startswith(name)), "")
    arms = tuple(
        replace(t, agent_id=ids["IBA"]) if t.agent is Agent.HORMONE else t for t in plan.treatments
    )
    return replace(plan, plant_id=plant, treatments=arms)


def prepare_demo(shed: Shed, trials: Sequence[Trial], who: str) -> None:
    """Lavender's recipe list, and the clocks that ran."""
    lavender, sweet_pea, *_ = trials
    assert lavender.started_at is not None
    mixed_at = lavender.started_at - timedelta(hours=3)
    for i, (arm, key, fields) in enumerate(_RECIPES):
        card = reckon(key, fields, _CHOICES)
        put_on_list(
            shed, lavender.id, card, fields, _CHOICES, treatment=arm, override="", who=who,
            at=mixed_at + timedelta(minutes=9 * i),
        )  # fmt: skip
    for trial in (lavender, sweet_pea):
        assert trial.started_at is not None
        for step in clock_of(trial.plan, trial.started_at).steps:
            mark(shed, trial.id, shed.new_id(), step.key, "start", step.start, who)
            mark(shed, trial.id, shed.new_id(), step.key, "stop", step.stop, who)


def _plants(now: datetime) -> tuple[PlantLot, ...]:
    return (
        PlantLot("", "Lavender", mother="old stock bed", stage="semi_ripe", state="not in flower",
                 source="the trust's own bed", year=now.year),
        PlantLot("", "Sweet pea", "mixed colours", lot="one packet", year=now.year - 1, storage="tin in the office",
                 germination_percent=82.0, tested_on=_ago(now, 430)),
        PlantLot("", "Camellia", mother="six bushes along the north wall", stage="semi_ripe",
                 state="this year's wood"),
    )  # fmt: skip


def _agents(now: datetime) -> tuple[AgentLot, ...]:
    return (
        AgentLot("", "IBA", "acid", "1 %", "liquid", "alcohol", "7", _ago(now, 130), _ago(now, 100), "", 14.0, 4.5),
        AgentLot("", "K-IBA", "salt", "1 %", "liquid", "water", "3", _ago(now, 40), _ago(now, 40), "", 11.0, 4.5),
        AgentLot("", "IBA", "acid", "0.8 %", "talc", "", "12", "", "", _ago(now, 20), 8.0),
    )  # fmt: skip


def _ago(now: datetime, days: int) -> str:
    return (now - timedelta(days=days)).date().isoformat()
