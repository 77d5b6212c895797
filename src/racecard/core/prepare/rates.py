"""Rates, tablets, feeds by their grade, one unit in another, weaker alcohol."""

from racecard.core.prepare.actives import ACTIVES, un_ionised_percent
from racecard.core.prepare.cards import Amount, Answer, Flag, mass_made, note, ppm_made, volume_made
from racecard.core.prepare.cautions import cautions_in
from racecard.core.prepare.doses import rate_per_litre
from racecard.core.prepare.guards import (
    alcohol_flags,
    dose_flags,
    scale_flags,
    solubility_flags,
)
from racecard.core.prepare.home import harm_flags
from racecard.core.prepare.inputs import Inputs
from racecard.core.quantities import (
    Dimension,
    in_unit,
    shown,
    shown_mass,
    shown_volume,
    unit_of,
)
from racecard.errors import InvalidInput

ELEMENTS = (("N", "nitrogen"), ("P", "phosphorus"), ("K", "potassium"))
_OXIDE = {"N": 1.0, "P": 0.4364, "K": 0.8301}
"""Share of the element in what a label states: N, P2O5, K2O (molar masses)."""


def rate(given: Inputs) -> Answer:
    """An amount per volume, brought to a volume; a strength too where the product's is known."""
    found = given.quantity("amount", Dimension.VOLUME, Dimension.MASS)
    amount, is_mass = (
        given.measured(found, "amount"),
        _is_mass(given, found.unit.name, found.unit.dimension),
    )
    per_litre = rate_per_litre(amount, given.volume("per"))
    unit, volume = (
        ("g" if is_mass else "mL"),
        given.volume("volume") if given.has("volume") else 1000.0,
    )
    need = per_litre * volume / 1000
    made = mass_made("To measure", need) if is_mass else volume_made("To measure", need)
    share = "w/v" if is_mass else "v/v"
    amounts = [
        made,
        volume_made("In", volume),
        Amount(
            "Rate",
            per_litre,
            f"{unit}/L",
            f"{shown(per_litre)} {unit}/L, {shown(per_litre / 10)} % {share}",
        ),
    ]
    says = [f"{found.said} per {given.text('per')} is {shown(per_litre)} {unit}/L; "
            f"× {shown(volume)} mL ÷ 1000 = {shown(need)} {unit}."]  # fmt: skip
    flags: list[Flag] = []
    if given.has("strength"):
        strength = given.percent("strength")
        ppm = per_litre * strength * 10
        amounts.append(ppm_made("Of the active", ppm))
        says.append(
            f"At {shown(strength)} % active that is {shown(ppm)} ppm of the active, not {shown(per_litre * 1000)} ppm."
        )
        active = given.active()
        flags += [*dose_flags(given, active, ppm)] if active else []
        flags += [*harm_flags(given, given.text("agent") or (active.key if active else ""), ppm)]
    if is_mass:
        flags += scale_flags(given, need, "it")
        flags += harm_flags(given, given.text("active"), per_litre * 1000)
    elif found.unit.asks in ("spoon", "imperial_spoon"):
        flags.append(
            note(
                "spoon",
                "A spoon of powder is a volume, not a weight: weigh powders, and measure liquids with a syringe.",
            )
        )
    return Answer(
        tuple(amounts),
        tuple(says),
        tuple(flags),
        cautions_in(given.text("agent") + given.text("active")),
    )


def _is_mass(given: Inputs, name: str, dimension: Dimension) -> bool:
    if name == "oz":
        asked = given.asked.get("ounce")
        return (asked.chosen if asked else None) in (None, "weight")
    return dimension is Dimension.MASS


def tablets(given: Inputs) -> Answer:
    """What so many tablets of an active come to in so much."""
    active = given.active()
    count, each, volume = (
        given.number("tablets", 0.1, 1000),
        given.mass("each", "mg"),
        given.volume("volume"),
    )
    ppm = count * each * 1e6 / volume
    amounts = [ppm_made("Strength of the active", ppm), mass_made("Active in all", count * each)]
    says = [f"{count:g} × {shown(each * 1000)} mg ÷ {shown_volume(volume)} = {shown(ppm)} mg/L."]
    flags: list[Flag] = [
        note(
            "tablet",
            "Tablets hold fillers and coatings, so they cloud: crush, stir, use fresh. What counts is the mg stated of the active.",
        )
    ]
    if active:
        mm = ppm / active.molar_mass
        amounts.append(Amount("Strength", mm, "mM", f"{shown(mm)} mM"))
        says.append(f"÷ {active.molar_mass:.2f} g/mol = {shown(mm)} mM.")
        flags += harm_flags(given, active.key, ppm)
    return Answer(
        tuple(amounts), tuple(says), tuple(flags), cautions_in(active.key if active else "")
    )


def strengths(given: Inputs) -> Answer:
    """One strength in every way it is stated: ppm, %, g/L, mM."""
    active = given.active()
    if active is None:
        raise InvalidInput("Name the active, for its molar mass.", "/fields/active")
    ppm = given.strength("strength", active)
    mm = ppm / active.molar_mass
    amounts = [ppm_made(active.key, ppm), Amount(active.key, mm, "mM", f"{shown(mm)} mM"),
               Amount(active.key, ppm / 10_000, "% w/v", f"{shown(ppm / 10_000)} % w/v")]  # fmt: skip
    says = [
        f"{shown(ppm)} mg/L ÷ {active.molar_mass:.2f} g/mol = {shown(mm)} mM = {shown(mm * 1000)} µM."
    ]
    if active.acid:
        acid = ppm / active.salt_factor
        amounts.append(ppm_made(f"{active.acid} in it", acid))
        says.append(f"÷ {active.salt_factor:.4f} = {shown(acid)} ppm of {active.acid}.")
    for salt in (a for a in ACTIVES.values() if a.acid == active.key):
        amounts.append(ppm_made(f"As {salt.key}", ppm * salt.salt_factor))
        says.append(
            f"× {salt.salt_factor:.4f} = {shown(ppm * salt.salt_factor)} ppm of {salt.key}."
        )
    if active.pka and given.has("ph"):
        ph = given.number("ph", 1, 12)
        share = un_ionised_percent(ph, active.pka)
        amounts.append(Amount(f"Un-ionised at pH {ph:g}", share, "%", f"{shown(share)} %"))
        says.append("The un-ionised form enters tissue more easily: write down the pH of a soak.")
    flags = tuple(solubility_flags(active, ppm, given.text("carrier")))
    return Answer(tuple(amounts), tuple(says), flags, cautions_in(active.key))


def nutrient(given: Inputs) -> Answer:
    """Fertiliser to weigh for so much of a nutrient, by its grade N-P2O5-K2O."""
    volume, target = given.volume("volume"), given.base("target", Dimension.STRENGTH, bare="ppm")
    element = given.choice("element", ELEMENTS)
    said = given.text("grade").split("-")
    try:
        shares = [float(p) for p in said]
    except ValueError:
        shares = []
    if len(shares) != 3 or not 0 <= sum(shares) <= 100:
        raise InvalidInput("Write the grade as on the bag: 20-20-20.", "/fields/grade")
    share = shares["NPK".index(element)] * _OXIDE[element] / 100
    if share <= 0:
        raise InvalidInput(f"{given.text('grade')} holds no {element}.", "/fields/grade")
    mass = volume * target / 1e6 / share
    of = {"N": "N", "P": "P, from the P2O5 of the label", "K": "K, from the K2O of the label"}[
        element
    ]
    says = (
        f"{shown_volume(volume)} × {shown(target)} mg/L ÷ {shown(100 * share)} % {of} = {shown_mass(mass)} of {given.text('grade')}.",
    )
    return Answer((mass_made("Amount to weigh", mass), volume_made("In", volume)), says)


_INTO: dict[Dimension, tuple[str, ...]] = {
    Dimension.VOLUME: (
        "mL", "L", "US tsp", "US tbsp", "US fl oz", "US cup", "US gallon", "imperial fl oz",
        "imperial pint", "imperial gallon",
    ),
    Dimension.MASS: ("g", "mg", "kg", "oz weight", "lb"),
    Dimension.LENGTH: ("cm", "mm", "m", "in"),
    Dimension.TIME: ("s", "min", "h", "d"),
}  # fmt: skip


def units(given: Inputs) -> Answer:
    """An amount in the other units of its dimension."""
    found = given.quantity("value", *_INTO)
    base = given.measured(found, "value")
    is_fluid = found.unit.asks == "ounce" and not _is_mass(
        given, found.unit.name, found.unit.dimension
    )
    dimension = Dimension.VOLUME if is_fluid else found.unit.dimension
    values = ((name, in_unit(base, unit_of(name, (dimension,)))) for name in _INTO[dimension])
    amounts = tuple(
        Amount("Is", v, name, f"{shown(v)} {name}") for name, v in values if 1e-4 <= v < 1e6
    )
    return Answer(amounts, (f"{found.said} = {amounts[0].shown}.",))


def alcohol(given: Inputs) -> Answer:
    """How much of a stronger alcohol makes a weaker one."""
    volume, want, have = given.volume("volume"), given.percent("target"), given.percent("stock")
    if have < want:
        raise InvalidInput(
            f"{shown(have)} % alcohol cannot make {shown(want)} %: take stronger alcohol.", "/fields/stock"
        )  # fmt: skip
    take = volume * want / have
    says = (f"{shown(volume)} mL × {shown(want)} ÷ {shown(have)} = {shown(take)} mL, then water to {shown_volume(volume)}: "
            "alcohol and water shrink on mixing (about 3.5 % at half and half), so make up to the mark.",)  # fmt: skip
    return Answer((volume_made("Alcohol to take", take), volume_made("Make up to", volume)), says,
                  tuple(alcohol_flags(given, want)), cautions_in("alcohol"))  # fmt: skip
