"""Agents from kitchen, garden and drawer: class, the control each needs, the dose that harms.

Grades of evidence for a gain in rooting or germination: A repeated controlled trials agree; B some
controlled trials; C few or mixed; D hearsay, or trials show none. Doses and harm lines are common
practice and literature recalled from memory: defaults to start from, not findings.
"""

from collections.abc import Iterator
from dataclasses import dataclass

from racecard.core.prepare.actives import ACTIVES
from racecard.core.prepare.cards import (
    Amount,
    Answer,
    Calculation,
    Category,
    Flag,
    SumField,
    note,
    warn,
)
from racecard.core.prepare.cautions import cautions_in
from racecard.core.prepare.inputs import Inputs
from racecard.core.quantities import Dimension, shown


@dataclass(frozen=True, slots=True)
class HomeAgent:
    """One agent. `harm` is a strength in `unit` from which damage should be expected."""

    key: str
    name: str
    agent_class: str
    does: str
    dose: str
    control: str
    grade: str
    harm: float | None = None
    unit: str = ""
    harm_says: str = ""


_PLAIN, _DUST, _GEL = (
    "a soak in plain water for equal hours",
    "an inert powder, such as plain talc",
    "a blank gel",
)
_ALL = (
    HomeAgent("honey", "honey or sweet syrup", "protectant", "a film of very low water activity; holds no auxin", "5 to 15 mL in 250 mL boiled, cooled water, or a smear on the base",
              "a sugar syrup of the same sweetness", "D", 10, "% sugar", "sugar above this pulls water out of the base, and feeds mould"),
    HomeAgent("cinnamon", "bark or spice powder", "protectant", "holds fungi back in the dish; no rooting action", "a light dust on the cut", _DUST, "D",
              None, "", "a thick cake dries or blocks the base; the oil burns at fractions of a percent"),
    HomeAgent("willow", "willow-twig extract", "stimulant", "rooting co-factors and some auxin, strength unknown", "100 to 200 g fresh twigs per L, steeped cold 24 to 48 h; soak 12 to 24 h",
              _PLAIN, "B to C", None, "", "spoils in days; one batch for the complete trial"),
    HomeAgent("salicylic acid", "salicylic acid", "stimulant", "a defence signal; mixed results", "0.05 to 0.5 mM (6.9 to 69 mg/L), hours", _PLAIN, "C", 1, "mM", "from this it slows germination or roots in many species"),
    HomeAgent("acetylsalicylic acid", "acetylsalicylic acid tablets", "stimulant", "turns into salicylic acid in water", "0.05 to 0.5 mM (9 to 90 mg/L)", _PLAIN, "C to D", 1, "mM", "from this it slows germination or roots in many species"),
    HomeAgent("plant gel", "gel of aloe-like leaves", "carrier", "a film, slightly protectant", "neat on the base, or 10 to 50 % v/v, 1 to 12 h", _GEL, "C", None, "", "thick gel starves the base of air"),
    HomeAgent("acetic acid", "vinegar", "stimulant", "makes the water sour; claimed to stimulate", "1 to 5 mL of 5 % per L", "water brought to the same pH, such as with citric acid", "D", 0.5, "%", "from this it burns soft tissue"),
    HomeAgent("magnesium sulphate", "magnesium sulphate", "nutrient", "feeds magnesium; no gain unless magnesium is short", "0.5 to 2 g/L as a drench once rooted", _PLAIN, "D", 5, "g/L", "on unrooted cuttings or seed this is salt stress"),
    HomeAgent("tea", "black or green tea", "stimulant", "acid and tannins; caffeine holds growth back", "1 g leaf per 250 to 500 mL, cooled, 1 to 24 h", _PLAIN, "D", 10, "g/L", "tea this strong slows roots"),
    HomeAgent("hydrogen peroxide", "hydrogen peroxide", "oxidant", "cleans coats and brings a little oxygen", "seeds 0.3 to 1 % for 10 min to hours; cuttings in water 0.03 to 0.1 %", _PLAIN, "B for some seed, C for cuttings", 3, "%", "for hours on soft tissue this harms"),
    HomeAgent("sodium hypochlorite", "bleach", "oxidant", "cleans; no stimulant", "seeds 0.5 to 1 % for 1 to 10 min, then 3 to 5 rinses; tools 0.5 %", "a rinse in plain water for equal minutes", "A as disinfectant, D as stimulant", 1, "%", "above this many seeds are injured, and any residue burns roots"),
    HomeAgent("seaweed", "seaweed extract", "stimulant", "mild; betaines, alginate, traces of hormones", "1:100 to 1:500 (2 to 10 mL/L), 1 to 18 h", _PLAIN, "B to C", 50, "mL/L", "salts, and rot"),
    HomeAgent("mycorrhiza", "mycorrhizal inoculum", "stimulant", "acts only once living roots exist: later growth", "as its label says, touching the roots", "the same inoculum, sterilised", "D for rooting, B for later growth in poor soil"),
    HomeAgent("rock dust", "rock dust", "nutrient", "slow mineral, raises pH", "1 to 5 % v/v", "the same medium without it", "D", 10, "%", "clogs the pores"),
    HomeAgent("compost", "compost in the medium", "nutrient", "feeds, brings microbes and salts", "0 to 10 % for cuttings, 10 to 25 % for seed", "the same medium without it", "B for later growth, D for rooting", 40, "%", "salts, ammonium and weed seed"),
    HomeAgent("worm castings", "worm castings", "nutrient", "as compost, often active in growth", "10 to 20 % v/v", "the same medium without it", "B at low shares", 40, "%", "salts and waterlogging"),
    HomeAgent("thiamine", "thiamine (vitamin B1)", "nutrient", "controlled work finds no gain; often sold mixed with an auxin, which then acts", "1 to 10 mg/L", _PLAIN, "D"),
    HomeAgent("charcoal", "charcoal powder", "protectant", "takes things up, auxin among them: never with a hormone", "a dust", _DUST, "D"),
    HomeAgent("coconut water", "coconut water", "stimulant", "cytokinins and sugars, which hold rooting back", "5 to 15 % v/v", _PLAIN, "C to D", None, "", "sugar brings rot"),
    HomeAgent("sugar", "table sugar", "nutrient", "carbon only", "0 to 2 % w/v", _PLAIN, "D", 5, "%", "mould, and water drawn out"),
    HomeAgent("boric acid", "boric acid", "nutrient", "needed for root growth in traces", "traces only", _PLAIN, "B in one bean model", 5, "mg/L B", "a few mg/L of boron poison"),
    HomeAgent("antagonist", "antagonist fungi or bacteria", "protectant", "work against damping off where it is present", "as its label says", "the same product, sterilised", "B where disease is present"),
)  # fmt: skip
HOME = {a.key: a for a in _ALL}
"""Every home agent by key; where it is also an active with a molar mass the keys agree."""
CLASS_SAYS = {
    "stimulant": "A stimulant acts on rooting itself: strike, speed and roots may show it.",
    "protectant": "A protectant can only be seen to work where controls rot: log the cause of every loss.",
    "nutrient": "A nutrient shows only where it is short, and mostly after roots exist.",
    "oxidant": "An oxidant cleans: look for fewer moulds, and for burn.",
    "carrier": "A carrier or film needs a control with the film alone.",
}


def harm_flags(given: Inputs, key: str, ppm: float) -> Iterator[Flag]:
    """Whether a strength in mg/L crosses an agent's harm line.

    Args:
        given: the sum and its questions.
        key: the agent, by its key.
        ppm: the strength, mg/L.
    """
    agent = HOME.get(key)
    if agent is None or agent.harm is None or ppm <= 0:
        return
    active = ACTIVES.get(key)
    values = {"%": ppm / 10_000, "% sugar": ppm / 10_000, "g/L": ppm / 1000,
              "mM": ppm / active.molar_mass if active else 0.0,
              "mg/L B": ppm * 10.81 / active.molar_mass if active else 0.0}  # fmt: skip
    value = values.get(agent.unit)
    if value is not None and value >= agent.harm:
        yield warn(f"harm_{key.replace(' ', '_')}", f"{shown(value)} {agent.unit} of {agent.name}: at {shown(agent.harm)} {agent.unit} "
                   f"and more, {agent.harm_says}.")  # fmt: skip


def _agent(given: Inputs) -> Answer:
    key = given.choice("agent", tuple((k, a.name) for k, a in HOME.items()))
    agent = HOME[key]
    says = [f"{agent.name[0].upper()}{agent.name[1:]}: a {agent.agent_class}; {agent.does}.",
            CLASS_SAYS[agent.agent_class], f"A dose to try: {agent.dose}.",
            f"Its control: {agent.control}; and some untreated.",
            f"Evidence of a gain: grade {agent.grade}.",
            "Two agents in one treatment cannot be separated: try each alone, both, and neither. Write down g, mL, hours, warmth and pH."]  # fmt: skip
    amounts: list[Amount] = []
    flags: list[Flag] = []
    active = ACTIVES.get(key)
    if given.has("dose"):
        wanted = (
            (Dimension.STRENGTH, Dimension.SHARE, Dimension.MOLAR)
            if active
            else (Dimension.STRENGTH, Dimension.SHARE)
        )
        found = given.quantity("dose", *wanted)
        ppm = (
            given.strength("dose", active, solid=True)
            if found.unit.dimension is not Dimension.SHARE
            else given.measured(found, "dose") * 10_000
        )
        amounts.append(
            Amount(
                "Dose",
                ppm,
                "mg/L",
                f"{shown(ppm)} mg/L" + (f", {shown(ppm / active.molar_mass)} mM" if active else ""),
            )
        )
        flags += harm_flags(given, key, ppm)
        if not flags and agent.harm is not None:
            flags.append(
                note("below_harm", f"Below the harm line of {shown(agent.harm)} {agent.unit}.")
            )
    elif agent.harm_says:
        line = f"{shown(agent.harm)} {agent.unit}: " if agent.harm is not None else ""
        says.append(f"Harm: {line}{agent.harm_says}.")
    amounts.insert(0, Amount("Class", 0, "", agent.agent_class))
    return Answer(tuple(amounts), tuple(says), tuple(flags), cautions_in(f"{agent.name} {agent.key}"),
                  ("Doses, harm lines and grades: common practice and literature, recalled.",))  # fmt: skip


SUMS = (
    Calculation("home", Category.AGENTS, "What is it, and what is its control?", "Class, control, evidence and harm line of a home agent.", (
        SumField("agent", "Agent", "willow", tuple((k, a.name) for k, a in HOME.items())),
        SumField("dose", "Dose, if any", optional=True, hint="mg/L, g/L, % or mM"),
    ), _agent),
)  # fmt: skip
