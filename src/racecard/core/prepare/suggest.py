"""The recipes a plan calls for, with its figures filled in."""

import re
from collections.abc import Mapping
from dataclasses import dataclass

from racecard.core.model import Agent, Carrier, Plan, Treatment
from racecard.core.prepare.actives import ACTIVES
from racecard.core.prepare.defaults import STAGES
from racecard.core.prepare.register import AgentLot, PlantLot
from racecard.core.quantities import NUMBER, shown

_PPM = re.compile(rf"({NUMBER}\s*(?:ppm|mg/L|g/L|mM))", re.I)
_TALC = re.compile(rf"({NUMBER})\s*%")
_ALCOHOL = re.compile(rf"({NUMBER})\s*%\s*(?:v/v\s*)?(?:alcohol|ethanol|isopropanol)", re.I)
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
    words = " ".join((*(v for _, v in t.properties), t.name, t.detail))
    volume = f"{shown(plan.dip_ml or _USUAL_DIP_ML)} mL"
    percent = _ALCOHOL.search(words)
    if t.agent is Agent.NOTHING:
        if t.carrier is Carrier.ALCOHOL and percent:
            return Suggested(
                i,
                "alcohol",
                {"volume": volume, "target": f"{percent[1]} %", "stock": "70 %"},
                f"The dip of {t.name}",
            )
        return None
    active = _active_in(words) or (lot.active if lot and lot.active in ACTIVES else "")
    if t.carrier is Carrier.TALC:
        target = _TALC.search(words)
        strong = lot.strength if lot and lot.form == "talc" else ""
        return (
            None
            if not target
            else Suggested(
                i,
                "talc",
                {"mass": "10 g", "target": f"{target[1]} %", "strong": strong},
                f"The talc of {t.name}",
            )
        )
    target = _PPM.search(words)
    if not target or not active:
        return None
    fields = {"volume": volume, "target": target[1], "active": active, "carrier": _carrier(t), "method": _method(t),
              "stage": _stage(plan, plant)}  # fmt: skip
    says = f"The dip of {t.name}"
    if lot is not None and lot.form == "crystals":
        return Suggested(i, "weigh", _filled(fields), says)
    fields["stock"] = lot.strength if lot else ""
    if percent:
        fields["alcohol_diluent"] = f"{percent[1]} %"
        fields["alcohol"] = f"{percent[1]} %"
    return Suggested(i, "dilute", _filled(fields), says)


def _filled(fields: Mapping[str, str]) -> dict[str, str]:
    return {k: v for k, v in fields.items() if v}


def _active_in(words: str) -> str:
    found = [
        (m.start(), -len(k), k)
        for k in ACTIVES
        if (m := re.search(rf"(?<![\w-]){re.escape(k)}(?![\w-])", words))
    ]
    return min(found)[2] if found else ""


def _carrier(t: Treatment) -> str:
    return {Carrier.ALCOHOL: "alcohol", Carrier.WATER: "water"}.get(t.carrier, "")


def _method(t: Treatment) -> str:
    words = f"{t.name} {t.detail} {' '.join(v for _, v in t.properties)}"
    if re.search(r"\bsoak|\bsteep|\b\d+\s*h\b|overnight", words, re.I):
        return "soak"
    return "dip"


def _stage(plan: Plan, plant: PlantLot | None) -> str:
    if plant is not None and plant.stage:
        return plant.stage
    words = f"{plan.material} {plan.question}".lower()
    hints = (("semi-ripe", "semi_ripe"), ("softwood", "softwood"), ("leaf-bud", "leaf_bud"), ("hardwood", "hardwood_deciduous"),
             ("root cutting", "root"), ("herbaceous", "herbaceous"))  # fmt: skip
    return next((stage for word, stage in hints if word in words and stage in STAGES), "")
