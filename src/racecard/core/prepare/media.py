"""Pots and media: volumes from real measurements, mixtures by parts, fill, water by weight.

Frustum: V = pi h / 12 (D^2 + D d + d^2). Box: prismatoid, V = h / 6 (AB + (A + C)(B + D) + CD).
Nominal sizes and bulk densities are common practice.
"""

from math import pi

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
from racecard.core.quantities import Dimension, read_number, shown, shown_mass, shown_volume
from racecard.errors import InvalidInput

NOMINAL = {
    "round9": ("9 cm round", 350, 400), "square9": ("9 cm square", 450, 500), "four_inch": ("4 inch", 400, 500),
    "fifteen": ("15 cm or 6 inch", 1600, 1900), "trade_gallon": ("US trade gallon (#1)", 2600, 3000),
    "tray72": ("a cell of 72", 35, 45), "tray128": ("a cell of 128", 20, 25), "tray288": ("a cell of 288", 5, 8),
}  # fmt: skip
"""What pots of a nominal size hold, mL, from and to."""
_MAKERS = "Makers differ: measure yours. Common practice."


def frustum_ml(top_cm: float, bottom_cm: float, height_cm: float) -> float:
    """Volume of a round pot from inside diameters and fill height, cm.

    Args:
        top_cm: inside diameter at the fill line, cm.
        bottom_cm: inside diameter at the bottom, cm.
        height_cm: height of the fill, cm.
    """
    return pi * height_cm / 12 * (top_cm**2 + top_cm * bottom_cm + bottom_cm**2)


def box_ml(top: tuple[float, float], bottom: tuple[float, float], height_cm: float) -> float:
    """Volume of a square or rectangular pot or cell, cm.

    Args:
        top: inside length and width at the fill line, cm.
        bottom: inside length and width at the bottom, cm.
        height_cm: height of the fill, cm.
    """
    (a, b), (c, d) = top, bottom
    return height_cm / 6 * (a * b + (a + c) * (b + d) + c * d)


def _pot(given: Inputs) -> Answer:
    top, bottom, height = given.length("top"), given.length("bottom"), given.length("height")
    ml = frustum_ml(top, bottom, height)
    cylinder = pi * (top / 2) ** 2 * height
    over = 100 * (cylinder / ml - 1)
    says = [
        f"π × {shown(height)} ÷ 12 × ({shown(top)}² + {shown(top)} × {shown(bottom)} + {shown(bottom)}²) = {shown(ml)} mL."
    ]
    if bottom < top:
        says.append(
            f"Calculated as a cylinder of its top it would be {shown(cylinder)} mL, {shown(over)} % too much."
        )
    return Answer((Amount("Holds", ml, "mL", shown_volume(ml)),), tuple(says))


def _box(given: Inputs) -> Answer:
    top = (given.length("top_long"), given.length("top_wide"))
    bottom = (given.length("bottom_long"), given.length("bottom_wide"))
    height = given.length("height")
    ml = box_ml(top, bottom, height)
    says = (f"{shown(height)} ÷ 6 × (top {shown(top[0])} × {shown(top[1])} + the middle four times + bottom "
            f"{shown(bottom[0])} × {shown(bottom[1])}) = {shown(ml)} mL.",)  # fmt: skip
    return Answer((Amount("Holds", ml, "mL", shown_volume(ml)),), says)


def _nominal(given: Inputs) -> Answer:
    name, low, high = NOMINAL[given.choice("size", tuple((k, v[0]) for k, v in NOMINAL.items()))]
    says = [f"A pot called {name} holds {low} to {high} mL, depending on the maker."]
    if name.startswith("US trade"):
        says.append("A trade gallon is not a gallon: 3785 mL would be a quarter too much.")
    amounts = (
        Amount("From", low, "mL", shown_volume(low)),
        Amount("To", high, "mL", shown_volume(high)),
    )
    return Answer(amounts, tuple(says), (), (), (_MAKERS,))


def _medium(given: Inputs) -> Answer:
    pots, each = given.whole("pots"), given.volume("each")
    fill = given.percent("fill") if given.has("fill") else given.default("fill")
    over = given.number("over", 0, 100) if given.has("over") else given.default("spare_medium")
    total = pots * each * fill / 100 * (1 + over / 100)
    amounts = (
        Amount("Medium", total, "mL", shown_volume(total)),
        Amount("In each pot", each * fill / 100, "mL", shown_volume(each * fill / 100)),
    )
    says = (f"{pots} × {shown_volume(each)} × {shown(fill)} % full × {1 + over / 100:.2f} = {shown(total / 1000)} L.",
            "Fill every pot by the same measure: an equal fill is part of an equal start.")  # fmt: skip
    return Answer(amounts, says, (), cautions_in("compost"))


def _fill(given: Inputs) -> Answer:
    total, pots = given.volume("total"), given.whole("pots")
    each = total / pots
    amounts = [Amount("Each pot gets", each, "mL", shown_volume(each))]
    says = [f"{shown_volume(total)} ÷ {pots} = {shown(each)} mL each."]
    if given.has("weight"):
        weight = given.mass("weight") * each / 1000
        amounts.append(Amount("Or by weight", weight, "g", shown_mass(weight)))
        says.append(
            f"At {given.text('weight')} a litre, {shown(weight)} g each: weighing is quicker and more even than levelling."
        )
    return Answer(tuple(amounts), tuple(says))


def _mixture(given: Inputs) -> Answer:
    names = [n.strip() for n in given.text("names").split(",") if n.strip()]
    parts = []
    for piece in given.text("parts").replace("+", ":").split(":"):
        try:
            parts.append(read_number(piece))
        except InvalidInput as exc:
            raise InvalidInput(
                "Write the parts with colons, such as 2:1:1.", "/fields/parts"
            ) from exc
    if any(not 0 < p <= 1000 for p in parts) or not parts:
        raise InvalidInput("Every part must be more than 0 and at most 1000.", "/fields/parts")
    if names and len(names) != len(parts):
        raise InvalidInput(
            f"{len(parts)} parts for {len(names)} media: give one part each.", "/fields/parts"
        )
    names = names or [f"part {i + 1}" for i in range(len(parts))]
    final = given.volume("volume")
    shrink = given.number("shrink", 0, 50) if given.has("shrink") else given.default("shrink")
    over = given.number("over", 0, 100) if given.has("over") else 0.0
    total = final / (1 - shrink / 100) * (1 + over / 100)
    amounts = [Amount("In all, before mixing", total, "mL", shown_volume(total))]
    amounts += [
        Amount(n, total * p / sum(parts), "mL", shown_volume(total * p / sum(parts)))
        for n, p in zip(names, parts, strict=True)
    ]
    says = [f"Mixing shrinks, as the fine fills the pores of the coarse: {shown_volume(final)} ÷ (1 − {shown(shrink)} %)"
            f"{f' × {1 + over / 100:.2f}' if over else ''} = {shown(total / 1000)} L loose, shared {given.text('parts')}.",
            "Measure every part loosely filled in the same vessel, moistened first; note the batch, and who got which."]  # fmt: skip
    return Answer(
        tuple(amounts),
        tuple(says),
        (),
        cautions_in(" ".join(names)),
        ("Shrinkage 5 to 20 %: common practice.",),
    )


def _amend(given: Inputs) -> Answer:
    found = given.quantity("rate", Dimension.MASS, Dimension.VOLUME)
    rate = given.measured(found, "rate") * 1000 / given.volume("per")
    each = given.volume("pot")
    unit = "g" if found.unit.dimension is Dimension.MASS else "mL"
    dose = rate * each / 1000
    amounts = [
        Amount("In each pot", dose, unit, f"{shown(dose)} {unit}"),
        Amount("Rate", rate, f"{unit}/L", f"{shown(rate)} {unit}/L"),
    ]
    says = [f"{shown(rate)} {unit}/L × {shown(each)} mL ÷ 1000 = {shown(dose)} {unit} a pot."]
    flags: list[Flag] = []
    if given.has("label_cm") and given.has("pot_cm"):
        label, own = given.length("label_cm"), given.length("pot_cm")
        linear, cubic = own / label, (own / label) ** 3
        amounts += [
            Amount("Scaled by width", linear, "×", f"{shown(linear)} times"),
            Amount("Scaled by volume", cubic, "×", f"{shown(cubic)} times"),
        ]
        says.append(
            f"A label for a {shown(label)} cm pot: yours is {shown(linear)} times as wide, and so about {shown(cubic)} times as large."
        )
        if not 0.9 <= cubic / linear <= 1.1:
            flags.append(warn("pot_diameter", "Dose by volume, not by the pot's width: by width this pot would get "
                              f"{shown(100 * linear / cubic)} % of what its volume asks."))  # fmt: skip
    return Answer(tuple(amounts), tuple(says), tuple(flags), cautions_in(given.text("name")))


def _water(given: Inputs) -> Answer:
    dry, wet, share = given.mass("dry"), given.mass("wet"), given.percent("share") / 100
    if wet <= dry:
        raise InvalidInput("The drained pot must weigh more than the dry one.", "/fields/wet")
    target = dry + share * (wet - dry)
    amounts = [Amount("Target weight", target, "g", shown_mass(target))]
    says = [f"{shown(dry)} + {share:.2f} × ({shown(wet)} − {shown(dry)}) = {shown(target)} g."]
    if given.has("now"):
        now = given.mass("now")
        add = max(0.0, target - now)
        amounts.append(Amount("Water to add", add, "g", f"{shown(add)} g, {shown(add)} mL"))
        says.append(
            f"{shown(target)} − {shown(now)} = {shown(add)} g of water."
            if add
            else "It is wet enough: add none."
        )
    return Answer(
        tuple(amounts),
        tuple(says),
        (),
        (),
        (
            "Fill, soak from below, drain covered for 1 h, weigh; dry, weigh again. Common practice.",
        ),
    )


def _air(given: Inputs) -> Answer:
    drained, volume = given.volume("drained"), given.volume("volume")
    share = 100 * drained / volume
    if share > 100:
        raise InvalidInput("More water drained than the pot holds: check both.", "/fields/drained")
    flags = (
        (warn("little_air", f"{shown(share)} % air is little for cuttings: 20 to 30 % is wanted."),)
        if share < 20
        else ()
    )
    return Answer((Amount("Air after draining", share, "%", f"{shown(share)} %"),), (f"{shown(drained)} ÷ {shown(volume)} mL = {shown(share)} %, "
                  "in this pot: a shallower one holds more water.",), flags, (), ("Cuttings 20 to 30 %, seed plugs 10 to 20 %: common practice.",))  # fmt: skip


def _sour(given: Inputs) -> Answer:
    ph, ec = given.number("ph", 2, 11), given.number("ec", 0, 20)
    flags: list[Flag] = []
    if not 5.0 <= ph <= 6.5:
        flags.append(
            warn(
                "medium_ph",
                f"pH {shown(ph)} is outside 5.0 to 6.5, where most cuttings and seedlings stand well.",
            )
        )
    if ec > 1.5:
        flags.append(
            warn(
                "medium_ec",
                f"{shown(ec)} dS/m is salty for cuttings and seed: stay below 1.5, below 0.75 for the sensitive.",
            )
        )
    elif ec > 0.75:
        flags.append(
            note(
                "medium_ec_some",
                f"{shown(ec)} dS/m suits most, not the sensitive: those want less than 0.75.",
            )
        )
    fits = "pH and salts suit cuttings and seed." if not flags else "See what is said below."
    return Answer((Amount("pH", ph, "", shown(ph)), Amount("EC", ec, "dS/m", f"{shown(ec)} dS/m, {shown(ec * 1000)} µS/cm")), (fits,), tuple(flags), (),
                  ("Medium pH 5.0 to 6.5, saturated extract below 0.75 to 1.5 dS/m: common practice.",))  # fmt: skip


SUMS = (
    Calculation("pot", Category.MEDIA, "A round pot", "What it holds, from a ruler.", (
        SumField("top", "Inside width, top", "9 cm"), SumField("bottom", "Inside width, bottom", "6.5 cm"), SumField("height", "Height filled", "8.5 cm")), _pot),
    Calculation("box", Category.MEDIA, "A square pot or cell", "What it holds, from a ruler.", (
        SumField("top_long", "Top, long side", "7 cm"), SumField("top_wide", "Top, short side", "7 cm"), SumField("bottom_long", "Bottom, long side", "5 cm"),
        SumField("bottom_wide", "Bottom, short side", "5 cm"), SumField("height", "Height filled", "6 cm")), _box),
    Calculation("nominal", Category.MEDIA, "Pots by name", "What a pot of that name holds, from and to.", (
        SumField("size", "Called", "round9", tuple((k, v[0]) for k, v in NOMINAL.items())),), _nominal),
    Calculation("medium", Category.MEDIA, "Medium for a trial", "How much to mix for all pots.", (
        SumField("pots", "Pots", "40"), SumField("each", "Each holds", "350 mL"), SumField("fill", "Filled to, %", optional=True), SumField("over", "Overage, %", optional=True)), _medium),
    Calculation("fill", Category.MEDIA, "Equal filling", "What each pot gets of what there is.", (
        SumField("total", "Medium there is", "14 L"), SumField("pots", "Pots", "40"), SumField("weight", "A litre of it weighs", optional=True)), _fill),
    Calculation("mixture", Category.MEDIA, "Mix by parts", "How much of each, with what mixing loses.", (
        SumField("volume", "How much is wanted", "10 L"), SumField("parts", "Parts", "1:1:1"), SumField("names", "Of", "peat, perlite, grit", optional=True),
        SumField("shrink", "Lost in mixing, %", optional=True), SumField("over", "Overage, %", optional=True)), _mixture),
    Calculation("amend", Category.MEDIA, "Amount per volume of medium", "What goes in each pot, and the trap of its width.", (
        SumField("rate", "Amount", "3 g"), SumField("per", "Per", "1 L"), SumField("pot", "Each pot holds", "400 mL"), SumField("name", "Of what", optional=True),
        SumField("label_cm", "Label is for a pot of, cm", optional=True), SumField("pot_cm", "Yours is, cm", optional=True)), _amend),
    Calculation("water", Category.MEDIA, "Water by weight", "What a pot should weigh, and how much water that takes.", (
        SumField("dry", "Pot and dry medium", "210 g"), SumField("wet", "Soaked and drained", "610 g"), SumField("share", "Of the water it can hold, %", "60 %"),
        SumField("now", "It weighs now", optional=True)), _water),
    Calculation("air", Category.MEDIA, "Air in the medium", "Air left after draining, in your pot.", (
        SumField("drained", "Water that drained", "90 mL"), SumField("volume", "Medium in the pot", "500 mL")), _air),
    Calculation("sour", Category.MEDIA, "pH and salts", "Whether a medium suits cuttings and seed.", (SumField("ph", "pH", "5.8"), SumField("ec", "EC, dS/m", "0.6")), _sour),
)  # fmt: skip
