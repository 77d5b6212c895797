"""Liquids: dilutions, solutions from powder, parts; and the list of all sums of liquids.

Sums are elementary (C1 V1 = C2 V2); salts go by molar mass. All ppm of liquids are mg per litre.
"""

from collections.abc import Iterator

from racecard.core.prepare.actives import Active, not_weighed
from racecard.core.prepare.cards import (
    Amount,
    Answer,
    Calculation,
    Category,
    Flag,
    SumField,
    mass_made,
    note,
    ppm_made,
    volume_made,
)
from racecard.core.prepare.cautions import ALCOHOL, cautions_in, with_waste
from racecard.core.prepare.defaults import HAND, STAGES
from racecard.core.prepare.guards import (
    AUXIN_CHOICES,
    CARRIERS,
    METHODS,
    alcohol_flags,
    dose_flags,
    is_auxin,
    salt_flags,
    scale_flags,
    solubility_flags,
)
from racecard.core.prepare.home import harm_flags
from racecard.core.prepare.inputs import Inputs
from racecard.core.prepare.rates import ELEMENTS, alcohol, nutrient, rate, strengths, tablets, units
from racecard.core.quantities import (
    Dimension,
    read_number,
    shown,
    shown_volume,
)
from racecard.errors import InvalidInput

_ALCOHOL = (
    SumField("alcohol", "Alcohol in the stock, %", optional=True),
    SumField("alcohol_diluent", "Alcohol in the diluent, %", optional=True),
)
_ACTIVE = SumField("active", "Active", "", (("", "not said"), *AUXIN_CHOICES), optional=True)
_STAGE = SumField("stage", "Wood stage", "", (("", "not said"), *STAGES.items()), optional=True)
_METHOD = SumField("method", "How it is given", "", METHODS, optional=True)
_KOH = 56.1056


def _dilute(given: Inputs) -> Answer:
    active = given.active()
    volume = given.volume("volume")
    if active is None and _both_molar(given):
        return _dilute_molar(given, volume)
    target = given.strength("target", active) * _salt_meant(given, active)
    stock = given.strength("stock", active) * _label_meant(given, active)
    if stock < target:
        raise InvalidInput(
            f"The stock ({shown(stock)} ppm) is weaker than the {shown(target)} ppm wanted: "
            "no dilution makes it stronger; use a stronger stock or less of a dose.",
            "/fields/stock",
        )
    take = volume * target / stock
    named = active.key if active else "what is made"
    factor = active.salt_factor if active else 1.0
    flags = [*dose_flags(given, active, target / factor), *salt_flags(active, target),
             *solubility_flags(active, target, given.text("carrier"))]  # fmt: skip
    says = [
        f"{shown(volume)} mL × {shown(target)} ppm ÷ {shown(stock)} ppm = {shown(take)} mL of stock, "
        f"made up to {shown_volume(volume)} (not added to it)."
    ]
    amounts = [volume_made("Stock to take", take), volume_made("Make up to", volume),
               volume_made("Diluent, about", volume - take), ppm_made(f"Strength of {named}", target)]  # fmt: skip
    text = f"{active.name if active else ''} {active.key if active else ''} {given.text('carrier')}"
    alcohol = _alcohol_made(given, take, volume - take)
    amounts += alcohol.amounts
    says += alcohol.says
    flags += alcohol.flags
    if take < 0.5:
        flags.append(
            note(
                "small_volume",
                f"{shown(take)} mL is hard to measure: use a 1 mL syringe, or make more.",
            )
        )
    cautions = with_waste([*cautions_in(text), *alcohol.cautions])
    return Answer(tuple(amounts), tuple(says), tuple(flags), cautions, _sources(given))


def _alcohol_made(given: Inputs, stock: float, diluent: float) -> Answer:
    """What alcohol in the stock and in the diluent comes to; nothing where neither is told.

    Args:
        given: the fields of the sum.
        stock: mL of stock; 0 where powder is weighed.
        diluent: mL of what it is made up with.
    """
    told = [given.percent(k) if given.has(k) else None for k in ("alcohol", "alcohol_diluent")]
    if told == [None, None]:
        named = given.text("carrier") == "alcohol"
        return Answer((), (), (), (ALCOHOL,) if named else ())
    of_stock, of_diluent = (percent or 0.0 for percent in told)
    whole = stock + diluent
    share = (stock * of_stock + diluent * of_diluent) / whole
    what = "Alcohol in the dip"
    if stock and told[0] is None:
        what += ", the stock's own aside"
    sum_ = f"({shown(stock)} × {shown(of_stock)} + {shown(diluent)} × {shown(of_diluent)}) ÷ {shown(whole)} = {shown(share)}"
    says = f"Alcohol: {sum_ if stock else shown(share)} %; the carrier control gets the same."
    made = Amount(what, share, "%", f"{shown(share)} % v/v")
    return Answer((made,), (says,), tuple(alcohol_flags(given, share)), (ALCOHOL,))


def _both_molar(given: Inputs) -> bool:
    wanted = (Dimension.STRENGTH, Dimension.SHARE, Dimension.MOLAR)
    told = [given.quantity(k, *wanted, bare="ppm") for k in ("target", "stock")]
    return all(q.unit.dimension is Dimension.MOLAR for q in told)


def _dilute_molar(given: Inputs, volume: float) -> Answer:
    """Molar to molar: no molar mass is needed, whatever it is."""
    target, stock = (given.base(k, Dimension.MOLAR) for k in ("target", "stock"))
    if stock < target:
        raise InvalidInput(
            f"The stock ({shown(stock)} mM) is weaker than the {shown(target)} mM wanted: "
            "no dilution makes it stronger.", "/fields/stock",
        )  # fmt: skip
    take = volume * target / stock
    says = (
        f"{shown(volume)} mL × {shown(target)} mM ÷ {shown(stock)} mM = {shown(take)} mL of stock.",
    )
    amounts = (volume_made("Stock to take", take), volume_made("Make up to", volume),
               volume_made("Diluent, about", volume - take))  # fmt: skip
    return Answer(amounts, says)


def _salt_meant(given: Inputs, active: Active | None) -> float:
    """1, or the salt factor where the strength wanted is of the acid in a salt."""
    if active is None or not active.acid:
        return 1.0
    said = given.ask("salt_meant", f"Is the strength wanted that of {active.key}, or of the {active.acid} in it?", (
        ("acid", f"of the {active.acid} in it"), ("salt", f"of {active.key}, the salt")))  # fmt: skip
    return active.salt_factor if said == "acid" else 1.0


def _label_meant(given: Inputs, active: Active | None) -> float:
    """1, or what brings a label to the basis of the active: acid to salt or salt to acid."""
    if active is None:
        return 1.0
    if active.acid:
        said = given.ask("label_meant", f"Does the label of the stock state {active.key}, or the {active.acid} in it?", (
            ("salt", f"{active.key}, the salt"), ("acid", f"the {active.acid} in it")), usual="salt")  # fmt: skip
        return active.salt_factor if said == "acid" else 1.0
    if active.salt is None:
        return 1.0
    said = given.ask("label_meant", f"Does the label of the stock state {active.key}, or its salt {active.salt.key}?", (
        ("acid", f"{active.key}, the acid"), ("salt", f"{active.salt.key}, the salt")), usual="acid")  # fmt: skip
    return 1.0 / active.salt.salt_factor if said == "salt" else 1.0


def _weigh(given: Inputs) -> Answer:
    active = given.active()
    if active is None:
        raise InvalidInput("Name the active: its weight goes by its kind.", "/fields/active")
    if active.sold_percent:
        raise InvalidInput(not_weighed(active), "/fields/active")
    volume = given.volume("volume")
    wanted = given.strength("target", active)
    powder, ppm = active, wanted
    if active.salt is not None:
        said = given.ask("powder", f"Which powder is in the jar: {active.key} acid, or its salt {active.salt.key}?", (
            ("acid", f"{active.key}, the acid"), ("salt", f"{active.salt.key}, the salt")),
            "acid" if given.has("purity") or active.key == "GA3" else "")  # fmt: skip
        if said == "salt":
            powder, ppm = active.salt, wanted * active.salt.salt_factor
    elif active.acid:
        ppm = wanted * _salt_meant(given, active)
    purity = given.percent("purity") if given.has("purity") else 100.0
    mass = volume * ppm / 1e6 / (purity / 100)
    says = [f"{shown(volume)} mL × {shown(ppm)} mg/L ÷ 1000 = {shown(volume * ppm / 1000)} mg of {powder.key}"
            + (f", at {shown(purity)} % purity {shown(mass * 1000)} mg." if purity < 100 else ".")]  # fmt: skip
    amounts = [mass_made(f"{powder.key} to weigh", mass), volume_made("Make up to", volume),
               Amount("Strength", ppm / powder.molar_mass, "mM", f"{shown(ppm / powder.molar_mass)} mM")]  # fmt: skip
    if powder is not active:
        says.append(f"1 g of {active.key} is in {shown(powder.salt_factor)} g of {powder.key}.")
    carrier = given.text("carrier")
    if carrier == "alkali" and not powder.acid:
        mmol = mass * 1000 / powder.molar_mass
        amounts.append(volume_made("Potassium hydroxide, 1 M", mmol))
        says.append(f"{shown(mmol)} mmol of acid takes {shown(mmol)} mL of 1 M potassium hydroxide "
                    f"({shown(mmol * _KOH)} mg), then water to the mark.")  # fmt: skip
    elif carrier == "alcohol":
        says.append("Dissolve it in a little alcohol, add the rest of the alcohol, then water to the mark: "
                    "the two shrink on mixing, so make up to the volume.")  # fmt: skip
    says.append("Cloudy, oily or crystals on standing: its strength is unknown, discard it.")
    acid_ppm = ppm / powder.salt_factor
    flags = (*scale_flags(given, mass, powder.key), *dose_flags(given, powder, acid_ppm),
             *solubility_flags(powder, ppm, carrier), *salt_flags(powder, ppm), *_seed_limits(given, powder, ppm),
             *harm_flags(given, powder.key, ppm))  # fmt: skip
    alcohol = _alcohol_made(given, 0.0, volume)
    cautions = with_waste([*cautions_in(f"{powder.key} {powder.name}"), *alcohol.cautions])
    return Answer(
        (*amounts, *alcohol.amounts),
        (*says, *alcohol.says),
        (*flags, *alcohol.flags),
        cautions,
        _sources(given),
    )


def _seed_limits(given: Inputs, active: Active, ppm: float) -> Iterator[Flag]:
    if active.key in ("GA3", "K-GA3") and ppm > given.default("ga3_warn"):
        yield note(
            "ga3_high",
            f"Above {shown(given.default('ga3_warn'))} mg/L gibberellin draws pale, stretched seedlings.",
        )
    if active.key == "KNO3" and ppm / 10_000 > given.default("nitrate_warn"):
        yield note(
            "nitrate_high",
            f"Above {shown(given.default('nitrate_warn'))} % potassium nitrate harms seed.",
        )


def _strength_made(given: Inputs) -> Answer:
    active = given.active()
    mass, volume = given.mass("mass"), given.volume("volume")
    ppm = mass * 1e6 / volume
    says = [f"{shown(mass * 1000)} mg ÷ {shown(volume)} mL × 1000 = {shown(ppm)} mg/L."]
    amounts = [
        ppm_made("Strength", ppm),
        Amount("Strength", ppm / 10_000, "% w/v", f"{shown(ppm / 10_000)} % w/v"),
    ]
    flags: list[Flag] = []
    if active:
        mm = ppm / active.molar_mass
        amounts.append(Amount("Strength", mm, "mM", f"{shown(mm)} mM"))
        says.append(f"{shown(ppm)} mg/L ÷ {active.molar_mass:.2f} g/mol = {shown(mm)} mM.")
        flags += [*dose_flags(given, active, ppm / active.salt_factor), *harm_flags(given, active.key, ppm),
                  *solubility_flags(active, ppm, given.text("carrier")), *salt_flags(active, ppm)]  # fmt: skip
    alcohol = _alcohol_made(given, 0.0, volume)
    cautions = with_waste(
        [*cautions_in(active.name + active.key if active else ""), *alcohol.cautions]
    )
    return Answer(
        (*amounts, *alcohol.amounts), (*says, *alcohol.says), (*flags, *alcohol.flags), cautions
    )


def _two(given: Inputs) -> Answer:
    active = given.active()
    volume, target = given.volume("volume"), given.strength("target", active)
    a, b = given.strength("strong", active), given.strength("weak", active)
    if a < b:
        a, b = b, a
    if not b <= target <= a or a == b:
        raise InvalidInput(
            f"{shown(target)} ppm is not between {shown(b)} and {shown(a)} ppm: the two cannot be mixed to it.", "/fields/target",
        )  # fmt: skip
    strong = volume * (target - b) / (a - b)
    amounts = (
        volume_made(f"Of the {shown(a)} ppm", strong),
        volume_made(f"Of the {shown(b)} ppm", volume - strong),
    )
    says = (f"{shown(volume)} mL × ({shown(target)} − {shown(b)}) ÷ ({shown(a)} − {shown(b)}) = {shown(strong)} mL of the stronger, "
            f"and {shown(volume - strong)} mL of the weaker.",)  # fmt: skip
    return Answer(
        amounts,
        says,
        tuple(dose_flags(given, active, target)),
        cautions_in(active.key if active else ""),
    )


def _parts(given: Inputs) -> Answer:
    one, other = given.number("part", 1e-3, 1e5), given.number("diluent", 1e-3, 1e6)
    way = given.text("way")
    if way not in ("to", "in"):
        usual = "in" if other >= 100 * one else ""
        way = given.ask("parts", f"{one:g}:{other:g} can be read two ways. Which one?", (
            ("to", f"{one:g} to {other:g}: {one:g} part and {other:g} of water"),
            ("in", f"{one:g} in {other:g}: {one:g} part made up to {other:g}")), usual)  # fmt: skip
    if way == "in" and one >= other:
        raise InvalidInput(
            f"{one:g} in {other:g} holds no water: turn it round.", "/fields/diluent"
        )
    share = one / (one + other) if way == "to" else one / other
    active = given.active()
    amounts = [Amount("Share of the concentrate", 100 * share, "%", f"{shown(100 * share)} % v/v")]
    whole = f"{one:g} + {other:g} = {one + other:g}" if way == "to" else f"{other:g}"
    says = [f"{one:g} part of {whole} parts in all: a share of 1/{shown(1 / share)}."]
    if given.has("stock"):
        stock = given.strength("stock", active)
        amounts.insert(
            0, ppm_made(f"Strength of {active.key if active else 'the active'}", stock * share)
        )
        says.append(f"{shown(stock)} ppm × {shown(100 * share)} % = {shown(stock * share)} ppm.")
        if (
            given.quantity(
                "stock", Dimension.STRENGTH, Dimension.SHARE, Dimension.MOLAR, bare="ppm"
            ).unit.dimension
            is Dimension.SHARE
        ):
            percent = stock * share / 10_000
            amounts.insert(1, Amount("Strength", percent, "%", f"{shown(percent)} %"))
    if given.has("second"):
        second = given.strength("second", None)
        amounts.append(ppm_made("Strength of the second active", second * share))
    if given.has("volume"):
        volume = given.volume("volume")
        amounts.insert(1 if given.has("stock") else 0, volume_made("Concentrate", volume * share))
        amounts.append(volume_made("Make up to", volume))
        says.append(
            f"For {shown_volume(volume)}: {shown(volume * share)} mL of concentrate, made up to the mark."
        )
    ppm = amounts[0].value if given.has("stock") else 0.0
    alcohol = _alcohol_made(given, share, 1 - share)
    flags = (*(dose_flags(given, active, ppm) if ppm else ()), *alcohol.flags)
    cautions = with_waste([*cautions_in(active.key if active else ""), *alcohol.cautions])
    return Answer((*amounts, *alcohol.amounts), (*says, *alcohol.says), flags, cautions)


def _thin(given: Inputs) -> Answer:
    """So much of a stock there is, made up to a strength."""
    active = given.active()
    have = given.volume("have")
    stock, target = given.strength("stock", active), given.strength("target", active)
    if stock < target:
        raise InvalidInput(
            f"The stock ({shown(stock)} ppm) is weaker than the {shown(target)} ppm wanted: "
            "no dilution makes it stronger.", "/fields/stock",
        )  # fmt: skip
    total = have * stock / target
    says = (f"{shown(have)} mL × {shown(stock)} ppm ÷ {shown(target)} ppm = {shown_volume(total)} in all: "
            f"add {shown_volume(total - have)} of diluent, or make up to the mark.",)  # fmt: skip
    amounts = (volume_made("Made in all", total), volume_made("Diluent to add, about", total - have),
               ppm_made("Strength", target))  # fmt: skip
    alcohol = _alcohol_made(given, have, total - have)
    flags = (*dose_flags(given, active, target), *alcohol.flags)
    cautions = with_waste([*cautions_in(active.key if active else ""), *alcohol.cautions])
    return Answer((*amounts, *alcohol.amounts), (*says, *alcohol.says), flags, cautions)


def _blend(given: Inputs) -> Answer:
    """Two volumes of two strengths poured together."""
    active = given.active()
    a, b = given.volume("one"), given.volume("other")
    p = given.strength("one_strength", active)
    q = given.strength("other_strength", active) if given.has("other_strength") else 0.0
    made = (a * p + b * q) / (a + b)
    says = (
        f"({shown(a)} mL × {shown(p)} + {shown(b)} mL × {shown(q)}) ÷ {shown_volume(a + b)} = {shown(made)} ppm.",
    )
    return Answer((ppm_made("Strength", made), volume_made("In all", a + b)), says,
                  tuple(dose_flags(given, active, made)), cautions_in(active.key if active else ""))  # fmt: skip


_WEAKEST = 1e9


def _serial(given: Inputs) -> Answer:
    """One dilution after another: the factors multiply."""
    active = given.active()
    stock = given.strength("stock", active)
    factor, steps = 1.0, []
    for step in given.text("steps").split(";"):
        each = read_number(step.strip())
        if each <= 1:
            raise InvalidInput("Every step makes it weaker: write such as 4; 5.", "/fields/steps")
        steps.append(each)
        factor *= each
    if factor > _WEAKEST:
        raise InvalidInput(
            "That is weaker than any bench can measure: check the steps.", "/fields/steps"
        )
    made = stock / factor
    told = " × ".join(shown(x) for x in steps)
    says = (
        f"{shown(stock)} ppm ÷ ({told}) = {shown(made)} ppm; in all 1 part in {shown(factor)}.",
    )
    return Answer((ppm_made("Strength", made), Amount("Share of the stock", 100 / factor, "%", f"{shown(100 / factor)} %")),
                  says, tuple(dose_flags(given, active, made)), cautions_in(active.key if active else ""))  # fmt: skip


def _sources(given: Inputs) -> tuple[str, ...]:
    if is_auxin(given.active()) and given.has("stage"):
        return (f"Usual ranges: {HAND}. Each can be changed under Defaults.",)
    return ()


SUMS = (
    Calculation("dilute", Category.LIQUIDS, "Dilute a stock", "How much stock to take, made up to how much.", (
        SumField("volume", "How much is wanted", "250 mL"), SumField("target", "Strength wanted", "1500 ppm"),
        SumField("stock", "Strength of the stock", "1 %"), _ACTIVE, _STAGE, _METHOD,
        SumField("carrier", "Made up with", "", CARRIERS, optional=True),
        *_ALCOHOL,
    ), _dilute),
    Calculation("weigh", Category.LIQUIDS, "Solution from powder", "How much to weigh, as acid or salt, and whether your scale can.", (
        SumField("volume", "How much is wanted", "100 mL"), SumField("target", "Strength wanted", "3000 ppm", hint="ppm, g/L, % or mM"),
        SumField("active", "Active", "IBA", AUXIN_CHOICES), SumField("purity", "Purity, %", optional=True),
        SumField("scale", "Smallest step of the scale", "0.01 g", optional=True), SumField("carrier", "Dissolved in", "", CARRIERS, optional=True),
        SumField("alcohol_diluent", "Alcohol in the solvent, %", optional=True), _STAGE, _METHOD,
    ), _weigh),
    Calculation("made", Category.LIQUIDS, "Work out a strength", "The strength of so much in so much.", (
        SumField("mass", "How much powder", "300 mg"), SumField("volume", "Make up to", "100 mL"), _ACTIVE, _STAGE, _METHOD,
        SumField("carrier", "Made up with", "", CARRIERS, optional=True),
        SumField("alcohol_diluent", "Alcohol in the solvent, %", optional=True),
    ), _strength_made),
    Calculation("two", Category.LIQUIDS, "Mix two solutions", "How much of each gives the strength between.", (
        SumField("volume", "How much is wanted", "100 mL"), SumField("target", "Strength wanted", "2000 ppm"),
        SumField("strong", "The stronger", "5000 ppm"), SumField("weak", "The weaker", "500 ppm"), _ACTIVE, _STAGE, _METHOD,
    ), _two),
    Calculation("parts", Category.LIQUIDS, "Parts, such as 1:8", "What parts come to, read both ways.", (
        SumField("part", "Parts of concentrate", "1"), SumField("diluent", "To or in how many", "8"),
        SumField("way", "Read as", "", (("", "show both"), ("to", "added to it"), ("in", "made up to it")), optional=True),
        SumField("stock", "Strength of the concentrate", "1 %", optional=True), SumField("second", "Strength of a second active", optional=True),
        SumField("volume", "How much is wanted", optional=True), *_ALCOHOL, _ACTIVE, _STAGE, _METHOD,
    ), _parts),
    Calculation("thin", Category.LIQUIDS, "Thin what there is", "What a stock you have comes to at another strength.", (
        SumField("have", "How much there is", "40 mL"), SumField("stock", "Its strength", "1 %"), SumField("target", "Strength wanted", "2000 ppm"),
        *_ALCOHOL, _ACTIVE, _STAGE, _METHOD,
    ), _thin),
    Calculation("blend", Category.LIQUIDS, "Pour two together", "The strength of two volumes poured together.", (
        SumField("one", "How much of the one", "50 mL"), SumField("one_strength", "Its strength", "5000 ppm"),
        SumField("other", "How much of the other", "150 mL"), SumField("other_strength", "Strength of the other", "1000 ppm", optional=True, hint="empty: water"),
        _ACTIVE, _STAGE, _METHOD,
    ), _blend),
    Calculation("serial", Category.LIQUIDS, "One dilution after another", "What several steps come to.", (
        SumField("stock", "Strength to begin with", "1 %"), SumField("steps", "Parts in all, step by step", "10; 10"), _ACTIVE, _STAGE, _METHOD,
    ), _serial),
    Calculation("nutrient", Category.LIQUIDS, "Feed by its grade", "How much fertiliser gives so much of a nutrient.", (
        SumField("volume", "How much is wanted", "10 L"), SumField("target", "Nutrient wanted", "100 ppm"), SumField("grade", "Grade on the bag", "20-20-20"),
        SumField("element", "Nutrient", "N", ELEMENTS),
    ), nutrient),
    Calculation("rate", Category.LIQUIDS, "Amount per litre", "A rate brought to your volume.", (
        SumField("amount", "Amount", "1 tbsp"), SumField("per", "Per", "1 L"), SumField("volume", "In", "250 mL", optional=True),
        SumField("strength", "Active in the product, %", optional=True), _ACTIVE, _STAGE, _METHOD,
    ), rate),
    Calculation("tablets", Category.LIQUIDS, "Tablets in water", "The strength tablets make, and its harm line.", (
        SumField("tablets", "Tablets", "2"), SumField("each", "Active in each", "300 mg"), SumField("volume", "In", "2 L"), _ACTIVE,
    ), tablets),
    Calculation("strengths", Category.LIQUIDS, "ppm, mM, acid and salt", "One strength in every way it is stated.", (
        SumField("active", "Active", "IBA", AUXIN_CHOICES), SumField("strength", "Strength", "3000 ppm", hint="ppm, g/L, % or mM"),
        SumField("ph", "pH of the soak", optional=True), SumField("carrier", "In", "", CARRIERS, optional=True),
    ), strengths),
    Calculation("units", Category.LIQUIDS, "Units into each other", "Spoons, gallons, ounces and inches, whosever they are.", (
        SumField("value", "How much", "3 US tbsp"),), units),
    Calculation("alcohol", Category.LIQUIDS, "Alcohol for a dip", "How much of your alcohol makes the dip's.", (
        SumField("volume", "How much is wanted", "200 mL"), SumField("target", "Alcohol wanted, %", "50 %"), SumField("stock", "Your alcohol, %", "70 %"),
    ), alcohol),
)  # fmt: skip
