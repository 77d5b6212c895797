"""The recipes a plan calls for, with its figures filled in."""

from collections.abc import Mapping
from dataclasses import dataclass

from racecard.core.model import Agent, Carrier, Plan, Treatment
from racecard.core.prepare.actives import ACTIVES
from racecard.core.prepare.arm_words import (
    active_in,
    alcohol_in,
    is_soaked,
    percent_in,
    strength_in,
)
from racecard.core.prepare.defaults import STAGES
from racecard.core.prepare.register import AgentLot, PlantLot
from racecard.core.quantities import shown

_USUAL_DIP_ML = 100.0


@dataclass(frozen=True, slots=True)
class Suggested:
    """A sum with fields, for one treatment (None: for all)."""

    treatment: int | None
    key: str
    fields: Mapping[str, str]
    says: str


def suggested(
    plan: Plan, plant: PlantLot | None, agents: Mapping[str, AgentLot]
) -> tuple[Suggested, ...]:
    """What must be mixed for a plan, in the order of its treatments.

    Args:
        plan: the plan.
        plant: the plant material it draws from, if any.
        agents: agents of the register by id.
    """
    out = []
    for i, t in enumerate(plan.treatments):
        found = _for_arm(plan, i, t, plant, agents.get(t.agent_id))
        if found is not None:
            out.append(found)
    if plan.pot_ml:
        pots = str(sum(plan.units_of))
        out.append(
            Suggested(
                None,
                "medium",
                {"pots": pots, "each": f"{shown(plan.pot_ml)} mL", "fill": "100"},
                "Medium for all pots",
            )
        )
    return tuple(out)


def _for_arm(
    plan: Plan, i: int, t: Treatment, plant: PlantLot | None, lot: AgentLot | None
) -> Suggested | None:
    words = "; ".join((*(v for _, v in t.properties), t.name, t.detail))
    volume = f"{shown(plan.dip_ml or _USUAL_DIP_ML)} mL"
    alcohol = alcohol_in(words)
    if t.agent is Agent.NOTHING:
        if t.carrier is Carrier.ALCOHOL and alcohol:
            return Suggested(
                i,
                "alcohol",
                {"volume": volume, "target": alcohol, "stock": "70 %"},
                f"The dip of {t.name}",
            )
        return None
    active = active_in(words) or (lot.active if lot and lot.active in ACTIVES else "")
    if t.carrier is Carrier.TALC:
        target = percent_in(words)
        strong = lot.strength if lot and lot.form == "talc" else ""
        return (
            None
            if not target
            else Suggested(
                i,
                "talc",
                {"mass": "10 g", "target": target, "strong": strong},
                f"The talc of {t.name}",
            )
        )
    target = strength_in(words)
    if not target or not active:
        return None
    fields = {"volume": volume, "target": target, "active": active, "carrier": _carrier(t), "method": _method(t),
              "stage": _stage(plan, plant)}  # fmt: skip
    says = f"The dip of {t.name}"
    if lot is not None and lot.form == "crystals":
        return Suggested(i, "weigh", _filled(fields), says)
    fields["stock"] = lot.strength if lot else ""
    if alcohol:
        fields["alcohol_diluent"] = alcohol
        fields["alcohol"] = alcohol
    return Suggested(i, "dilute", _filled(fields), says)


def _filled(fields: Mapping[str, str]) -> dict[str, str]:
    return {k: v for k, v in fields.items() if v}


def _carrier(t: Treatment) -> str:
    return {Carrier.ALCOHOL: "alcohol", Carrier.WATER: "water"}.get(t.carrier, "")


def _method(t: Treatment) -> str:
    words = "; ".join((t.name, t.detail, *(v for _, v in t.properties)))
    return "soak" if is_soaked(words) else "dip"


def _stage(plan: Plan, plant: PlantLot | None) -> str:
    if plant is not None and plant.stage:
        return plant.stage
    words = f"{plan.material} {plan.question}".lower()
    hints = (("semi-ripe", "semi_ripe"), ("softwood", "softwood"), ("leaf-bud", "leaf_bud"), ("hardwood", "hardwood_deciduous"),
             ("root cutting", "root"), ("herbaceous", "herbaceous"))  # fmt: skip
    return next((stage for word, stage in hints if word in words and stage in STAGES), "")
