"""One-sentence cautions shown beside the input that calls for them.

General laboratory and nursery safety practice; none is legal advice. Each is shown only where
its input occurs, and defers to the label, local rules and licensed practice.
"""

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from racecard.core.model import Agent, Carrier, Plan, Treatment


@dataclass(frozen=True, slots=True)
class Caution:
    """A caution with its stable code."""

    code: str
    says: str


HORMONE = Caution(
    "hormone",
    "Wear gloves and eye protection, avoid breathing the powder, keep from children and pets; "
    "follow the label and local rules; licensed applicators where required.",
)
ALCOHOL = Caution(
    "alcohol",
    "Alcohol and its vapour burn: no flame, sparks or hot mats nearby, air the room, "
    "small closed cups.",
)
_BY_WORD: tuple[tuple[str, Caution], ...] = (
    (r"\b(k-|na-)?(iba|naa|iaa)\b|auxin|hormone|butyric|naphthal|gibberell|\b(k-)?ga3\b|cytokinin"
     r"|benzyladenine|kinetin|zeatin|abscisic|ethephon", HORMONE),
    (r"alcohol|ethanol|isopropanol|\bspirit|\bvodka\b", ALCOHOL),
    (r"peroxide|h2o2", Caution("peroxide", "Above about 6 to 8 % peroxide burns skin and eyes and feeds fire; never keep it "
     "in a tightly sealed unvented bottle, never mix with vinegar or bleach.")),
    (r"bleach|hypochlorite", Caution("bleach", "Never mix bleach with vinegar or any acid, ammonia, alcohol or peroxide: "
     "toxic gas or violent reaction; air the room and rinse.")),
    (r"\btalc|perlite|vermiculite|rock dust|basalt|pumice", Caution("dust", "Wet before handling and wear a dust mask: fine dust harms lungs.")),
    (r"compost|potting mix|castings|\bbark fines|\bpeat", Caution("compost", "Open bags away from the face, wet, wash hands: Legionella "
     "longbeachae and moulds (people with weak lungs or immunity take extra care).")),
    (r"sphagnum|\bmoss\b", Caution("moss", "Wear gloves and cover scratches: Sporothrix from sphagnum moss can infect the skin.")),
    (r"\bknife|\bblade|graft|\bnick(ed|ing)?\b|\bwound|\bheel\b", Caution("blade", "Cut away from the body, keep blades capped, have tetanus cover.")),
    (r"spurge|euphorbia|oleander|\bfig\b|ficus|dieffenbachia|aroid|daffodil|narcissus|hyacinth", Caution("sap", "The sap of this plant "
     "irritates or poisons (figs burn in sunlight): gloves, eyes, no pets.")),
    (r"heat mat|bottom heat|\blamp|\bpump\b|mist(ing)? unit|\bheated", Caution("mains", "Keep mains near water behind a residual-current "
     "(ground-fault) device, use a thermostat and drip loops, cover no mat.")),
    (r"hot water|boil|kettle|scald|\b(8|9)\d ?°c|100 ?°c", Caution("hot_water", "Water at 50 to 100 °C scalds: kettle, gloves, stable vessel, no children.")),
    (r"sulph?uric|strong acid|\bacid for scarif|acid scarif", Caution("acid", "Strong acid for scarification is for equipped laboratories only.")),
    (r"tomato|lettuce|cabbage|parsley|basil|(?<!sweet )\bpeas?\b|bean|carrot|onion|vegetable|\bfruit|edible|\bherb|olive|\bvine\b|grape|spinach|beet\b|radish",
     Caution("food", "Do not eat, feed or sell produce from plants given growth regulators or seed treated with products not "
     "registered for that crop; do not eat treated seed.")),
    (r"home.?made|willow (water|extract)", Caution("home_made", "Making, selling or using an unregistered growth regulator for trade can be "
     "against pesticide law: check locally.")),
    (r"protected variet|breeder|patent|\bpbr\b|plant rights", Caution("protected", "Plants under breeders' rights or patents may not be "
     "propagated for sale, in some places not at all without consent.")),
    (r"invasive|noxious|knotweed|buddleja|buddleia", Caution("invasive", "Check weed lists before growing, moving or dumping; destroy failed "
     "units by bag or heat.")),
    (r"import(ed)?\b|quarantine|from abroad|border control", Caution("quarantine", "Do not move cuttings, seed or soil across borders or quarantine "
     "lines without papers; report odd symptoms.")),
    (r"\bwild\b|hedgerow|roadside", Caution("wild", "Collect with permission, no protected species, at most 10 to 20 % of the seed, and record the place.")),
    (r"tetrazolium|acetone|chlorophyll", Caution("lab", "Lab chemicals: gloves, fume extraction, no flames (acetone).")),
    (r"\buv\b|ultraviolet|strong lamp|grow light", Caution("lamps", "Do not look into bright horticultural lamps; UV-C is not a seed treatment for homes.")),
)  # fmt: skip
WASTE = Caution(
    "waste",
    "Do not pour hormone or bleach into streams, ponds or soil; small leftovers by the label.",
)
_WASTED = ("hormone", "bleach")


EVERY = tuple(dict.fromkeys((*(c for _, c in _BY_WORD), WASTE)))
"""Every caution there is, for the handbook."""


def cautions_in(text: str) -> tuple[Caution, ...]:
    """The cautions the words of an input call for, each once, in a steady order."""
    return with_waste(_named(text))


def _named(text: str) -> Iterator[Caution]:
    return (c for pattern, c in _BY_WORD if re.search(pattern, text, re.I))


def with_waste(found: Iterable[Caution]) -> tuple[Caution, ...]:
    """Each caution once; where something must not go down the drain, that too."""
    out = list(dict.fromkeys(found))
    if any(c.code in _WASTED for c in out) and WASTE not in out:
        out.append(WASTE)
    return tuple(out)


def cautions_for(treatment: Treatment) -> tuple[Caution, ...]:
    """The cautions a treatment calls for, by what is ticked and by what its words name."""
    values = " ".join(v for _, v in treatment.properties)
    found = list(_named(f"{treatment.name} {treatment.detail} {values}"))
    if treatment.carrier is Carrier.ALCOHOL and ALCOHOL not in found:
        found.insert(0, ALCOHOL)
    if treatment.agent is Agent.HORMONE and HORMONE not in found:
        found.insert(0, HORMONE)
    if treatment.carrier is Carrier.TALC:
        found += _named("talc")
    return tuple(dict.fromkeys(found))


def cautions_of_plan(plan: Plan) -> tuple[Caution, ...]:
    """Every caution of a plan, each once: for the order of work and its print."""
    found = [c for t in plan.treatments for c in cautions_for(t)]
    return with_waste([*found, *cautions_in(f"{plan.material} {plan.question}")])
