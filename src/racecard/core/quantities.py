"""Amounts, strengths, temperatures and their units, as growers write them.

A number and a unit are read from text; what the text leaves open (whose spoon, whose pint, what a
comma means) is named as a question and never guessed. Conversions are pint's, kept in unit_factors.py.
"""

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from typing import TYPE_CHECKING

from racecard.core.unit_factors import FACTORS
from racecard.errors import InvalidInput

if TYPE_CHECKING:
    from pint import UnitRegistry


class Dimension(StrEnum):
    """What a unit measures; the value is the base unit everything is reckoned in."""

    VOLUME = "mL"
    MASS = "g"
    STRENGTH = "mg/L"
    MOLAR = "mM"
    SHARE = "%"
    TIME = "h"
    LENGTH = "cm"
    TEMPERATURE = "°C"
    WARMER = "°C difference"
    COUNT = "count"


@dataclass(frozen=True, slots=True)
class Unit:
    """A unit: its printed name, what it measures, its pint expression, what it leaves open.

    `asks` names the question that decides its size; its expression is then found by the answer.
    """

    name: str
    dimension: Dimension
    expression: str = ""
    asks: str = ""


@dataclass(frozen=True, slots=True)
class Quantity:
    """A number with its unit, and how it was written."""

    value: float
    unit: Unit
    said: str


_V, _M, _S = Dimension.VOLUME, Dimension.MASS, Dimension.STRENGTH
_PINT_BASE = {
    Dimension.VOLUME: "milliliter", Dimension.MASS: "gram", Dimension.STRENGTH: "milligram/liter",
    Dimension.MOLAR: "millimole/liter", Dimension.SHARE: "percent", Dimension.TIME: "hour",
    Dimension.LENGTH: "centimeter", Dimension.TEMPERATURE: "degC", Dimension.WARMER: "delta_degC",
    Dimension.COUNT: "dimensionless",
}  # fmt: skip
_NAMED: tuple[tuple[Unit, str], ...] = (
    (Unit("mL", _V, "milliliter"), "ml mls mil mils milliliter milliliters millilitre millilitres cc cm3 cm³"),
    (Unit("L", _V, "liter"), "l ltr ltrs lt liter liters litre litres"),
    (Unit("dL", _V, "deciliter"), "dl deciliter deciliters decilitre decilitres"),
    (Unit("cL", _V, "centiliter"), "cl centiliter centiliters centilitre centilitres"),
    (Unit("µL", _V, "microliter"), "µl μl ul microlitre microlitres microliter microliters"),
    (Unit("tsp", _V, asks="spoon"), "tsp tsps teaspoon teaspoons"),
    (Unit("dessertspoon", _V, asks="spoon"), "dsp dessertspoon dessertspoons"),
    (Unit("tbsp", _V, asks="spoon"), "tbsp tbsps tbs tablespoon tablespoons"),
    (Unit("cup", _V, asks="spoon"), "cup cups"),
    (Unit("imperial tsp", _V, asks="imperial_spoon"), "imperialtsp imperialteaspoon imperialteaspoons"),
    (Unit("imperial tbsp", _V, asks="imperial_spoon"), "imperialtbsp imperialtablespoon imperialtablespoons"),
    (Unit("metric tsp", _V, "5 * milliliter"), "metrictsp metricteaspoon metricteaspoons"),
    (Unit("metric tbsp", _V, "15 * milliliter"), "metrictbsp metrictablespoon metrictablespoons"),
    (Unit("metric cup", _V, "250 * milliliter"), "metriccup metriccups"),
    (Unit("Australian tsp", _V, "5 * milliliter"), "australiantsp australianteaspoon australianteaspoons"),
    (Unit("Australian tbsp", _V, "20 * milliliter"), "australiantbsp australiantablespoon australiantablespoons"),
    (Unit("Australian cup", _V, "250 * milliliter"), "australiancup australiancups"),
    (Unit("US tsp", _V, "teaspoon"), "ustsp usteaspoon usteaspoons"),
    (Unit("US tbsp", _V, "tablespoon"), "ustbsp ustablespoon ustablespoons"),
    (Unit("US cup", _V, "cup"), "uscup uscups"),
    (Unit("fl oz", _V, asks="gallon"), "floz fluidounce fluidounces"),
    (Unit("gill", _V, asks="gallon"), "gill gills"),
    (Unit("pint", _V, asks="gallon"), "pint pints pt pts"),
    (Unit("quart", _V, asks="gallon"), "quart quarts qt qts"),
    (Unit("gallon", _V, asks="gallon"), "gallon gallons gal gals"),
    (Unit("US fl oz", _V, "fluid_ounce"), "usfloz usfluidounce usfluidounces"),
    (Unit("US pint", _V, "pint"), "uspint uspints uspt"),
    (Unit("US quart", _V, "quart"), "usquart usquarts usqt"),
    (Unit("US gallon", _V, "gallon"), "usgallon usgallons usgal usgals"),
    (Unit("imperial fl oz", _V, "imperial_fluid_ounce"), "imperialfloz imperialfluidounce imperialfluidounces"),
    (Unit("imperial pint", _V, "imperial_pint"), "imperialpint imperialpints imperialpt"),
    (Unit("imperial quart", _V, "imperial_quart"), "imperialquart imperialquarts imperialqt"),
    (Unit("imperial gallon", _V, "imperial_gallon"), "imperialgallon imperialgallons imperialgal imperialgals"),
    (Unit("imperial cup", _V, "imperial_cup"), "imperialcup imperialcups"),
    (Unit("drop", _V, asks="drop"), "drop drops"),
    (Unit("g", _M, "gram"), "g gr gm gms gram grams gramme grammes"),
    (Unit("mg", _M, "milligram"), "mg mgs milligram milligrams milligramme milligrammes"),
    (Unit("kg", _M, "kilogram"), "kg kilogram kilograms kilo kilos"),
    (Unit("µg", _M, "microgram"), "µg μg ug mcg microgram micrograms"),
    (Unit("oz", _M, asks="ounce"), "oz ounce ounces"),
    (Unit("oz weight", _M, "ounce"), "ozwt ozweight"),
    (Unit("lb", _M, "pound"), "lb lbs pound pounds"),
    (Unit("ppm", _S, "milligram/liter"), "ppm"),
    (Unit("mg/L", _S, "milligram/liter"), "mg/l mgperlitre"),
    (Unit("µg/mL", _S, "microgram/milliliter"), "µg/ml μg/ml ug/ml"),
    (Unit("mg/mL", _S, "milligram/milliliter"), "mg/ml"),
    (Unit("g/L", _S, "gram/liter"), "g/l"),
    (Unit("ppb", _S, "microgram/liter"), "ppb µg/l ug/l"),
    (Unit("mM", Dimension.MOLAR, "millimole/liter"), "mm mmol/l millimolar"),
    (Unit("µM", Dimension.MOLAR, "micromole/liter"), "µm μm um µmol/l umol/l micromolar"),
    (Unit("M", Dimension.MOLAR, "mole/liter"), "m molar mol/l"),
    (Unit("%", Dimension.SHARE, "percent"), "% percent pct"),
    (Unit("% w/v", Dimension.SHARE, "percent"), "%w/v"),
    (Unit("% w/w", Dimension.SHARE, "percent"), "%w/w"),
    (Unit("% v/v", Dimension.SHARE, "percent"), "%v/v"),
    (Unit("s", Dimension.TIME, "second"), "s sec secs second seconds"),
    (Unit("min", Dimension.TIME, "minute"), "min mins minute minutes"),
    (Unit("h", Dimension.TIME, "hour"), "h hr hrs hour hours"),
    (Unit("d", Dimension.TIME, "day"), "d day days"),
    (Unit("weeks", Dimension.TIME, "week"), "week weeks wk wks"),
    (Unit("mm", Dimension.LENGTH, "millimeter"), "mm millimetre millimetres millimeter millimeters"),
    (Unit("cm", Dimension.LENGTH, "centimeter"), "cm centimetre centimetres centimeter centimeters"),
    (Unit("m", Dimension.LENGTH, "meter"), "m metre metres meter meters"),
    (Unit("ft", Dimension.LENGTH, "foot"), "ft foot feet"),
    (Unit("in", Dimension.LENGTH, "inch"), "in inch inches \""),
    (Unit("°C", Dimension.TEMPERATURE, "degC"), "°c c degc celsius"),
    (Unit("°F", Dimension.TEMPERATURE, "degF"), "°f f degf fahrenheit"),
    (Unit("°C difference", Dimension.WARMER, "delta_degC"), "°c °cdifference"),
    (Unit("°F difference", Dimension.WARMER, "delta_degF"), "°f °fdifference"),
)  # fmt: skip
_BY_ALIAS: dict[str, list[Unit]] = {}
for _unit, _aliases in _NAMED:
    for _alias in {*_aliases.split(), _unit.name.replace(" ", "").lower()}:
        _BY_ALIAS.setdefault(_alias, []).append(_unit)
_CASED = {"mM": Dimension.MOLAR, "M": Dimension.MOLAR, "µM": Dimension.MOLAR, "uM": Dimension.MOLAR,
          "μM": Dimension.MOLAR, "mm": Dimension.LENGTH, "m": Dimension.LENGTH}  # fmt: skip
_COUNT = Unit("", Dimension.COUNT, "dimensionless")

SPOONS: dict[str, tuple[str, dict[str, float | str]]] = {
    "metric": ("metric", {"tsp": 5, "dessertspoon": 10, "tbsp": 15, "cup": 250}),
    "us": ("US measure", {"tsp": "teaspoon", "dessertspoon": "2 * teaspoon", "tbsp": "tablespoon", "cup": "cup"}),
    "us_label": ("US label", {"tsp": 5, "dessertspoon": 10, "tbsp": 15, "cup": 240}),
    "au": ("Australian", {"tsp": 5, "dessertspoon": 10, "tbsp": 20, "cup": 250}),
    "jp": ("Japanese", {"tsp": 5, "tbsp": 15, "cup": 200}),
    "uk_cup": ("British half pint", {"cup": "imperial_cup"}),
    "ca_cup": ("old Canadian, 8 fl oz", {"cup": "8 * imperial_fluid_ounce"}),
}  # fmt: skip
"""Spoons and cups by whose they are, in mL or as pint knows them (exact definitions)."""
IMPERIAL_SPOONS: dict[str, tuple[str, dict[str, str]]] = {
    "small": ("the small one", {"imperial tsp": "imperial_fluid_ounce / 8", "imperial tbsp": "imperial_fluid_ounce / 2"}),
    "middle": ("the middle one", {"imperial tsp": "imperial_fluid_ounce / 6"}),
    "large": ("the large one", {"imperial tsp": "5 * imperial_fluid_ounce / 24", "imperial tbsp": "5 * imperial_fluid_ounce / 8"}),
}  # fmt: skip
GALLONS: dict[str, tuple[str, dict[str, str]]] = {
    "us": ("US", {"fl oz": "fluid_ounce", "gill": "gill", "pint": "pint", "quart": "quart", "gallon": "gallon"}),
    "imperial": ("imperial", {"fl oz": "imperial_fluid_ounce", "gill": "imperial_gill", "pint": "imperial_pint",
                              "quart": "imperial_quart", "gallon": "imperial_gallon"}),
}  # fmt: skip
OUNCES: dict[str, tuple[str, dict[str, str]]] = {
    "weight": ("weight", {"oz": "ounce"}),
    "us": ("US fluid ounce", {"oz": "fluid_ounce"}),
    "imperial": ("imperial fluid ounce", {"oz": "imperial_fluid_ounce"}),
}
DROPS: dict[str, tuple[str, dict[str, str]]] = {
    "20": ("20 to the mL, the convention", {"drop": "milliliter / 20"}),
    "30": ("30 to the mL", {"drop": "milliliter / 30"}),
    "40": ("40 to the mL, thin as alcohol", {"drop": "milliliter / 40"}),
}
SIZES: dict[str, Mapping[str, tuple[str, Mapping[str, float | str]]]] = {
    "spoon": SPOONS,
    "imperial_spoon": IMPERIAL_SPOONS,
    "gallon": GALLONS,
    "ounce": OUNCES,
    "drop": DROPS,
}
"""What each question of size may be answered with: answer, its words, expressions by unit."""

SIGNS = {
    "½": "1/2", "¼": "1/4", "¾": "3/4", "⅓": "1/3", "⅔": "2/3", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8",
    "⅕": "1/5", "⅖": "2/5", "⅗": "3/5", "⅘": "4/5", "⅙": "1/6", "⅚": "5/6", "⅒": "1/10",
}  # fmt: skip
NUMBER = (
    r"(?:\d+\s+\d+\s*/\s*\d+|\d+\s*/\s*\d+|\d{1,3}(?:[  \u202f']\d{3})+(?![\d.,])"
    r"|(?:\d+(?:[.,]\d+)*|[.,]\d+)(?:[eE][+-]?\d+)?)"
)
_MOST = 1e7
_LEAST = 1e-6


def read_number(text: str, comma: str | None = None) -> float:
    """The number a grower wrote: 1500, 10 000, 0,5, 3/4, 1 1/2, ½.

    Args:
        text: the number alone.
        comma: what a comma before three digits is, "thousands" or "decimal"; None: not said.

    Raises:
        InvalidInput: no number, points and commas mixed, or a division by nothing.
        OpenComma: a comma before three digits may be either.
    """
    plain = _plain(text)
    if not re.fullmatch(r"[+-]?" + NUMBER, plain):
        hint = "write it with digits" if plain.isalpha() else "write it like 250, 0.5 or 3/4"
        raise InvalidInput(f"“{text.strip()[:40]}” is not a number: {hint}.")
    sign = -1.0 if plain.startswith("-") else 1.0
    plain = plain.lstrip("+-")
    if "/" in plain:
        return sign * _fraction(plain)
    plain = re.sub(r"[  \u202f']", "", plain)
    if "," in plain and "." in plain:
        raise InvalidInput(
            f"“{text.strip()}” has a point and a comma, and either may be the decimal mark: "
            "write the number with a point only, such as 1500.5."
        )
    if plain.count(",") == 1 and re.fullmatch(r"[1-9]\d{0,2},\d{3}", plain):
        if comma is None:
            raise OpenComma(text.strip())
        plain = plain.replace(",", "" if comma == "thousands" else ".")
    elif plain.count(",") > 1 or plain.count(".") > 1:
        mark = "," if "," in plain else "."
        if not re.fullmatch(rf"\d{{1,3}}(?:{re.escape(mark)}\d{{3}})+", plain):
            raise InvalidInput(f"“{text.strip()}” has {mark} more than once: write plain digits.")
        plain = plain.replace(mark, "")
    return sign * float(plain.replace(",", "."))


class OpenComma(InvalidInput):
    """A comma before three digits: thousands or decimals, only the grower knows."""

    def __init__(self, said: str) -> None:
        super().__init__(
            f"The comma in “{said}” may part thousands or decimals: write it with a point or none."
        )


def units_named(name: str) -> list[Unit]:
    """The units this word may mean: several for a word such as mM and mm; none if unknown."""
    bare = _joined(name.strip().replace(".", ""))
    found = _BY_ALIAS.get(bare.lower(), [])
    if bare in _CASED:
        found = [u for u in found if u.dimension is _CASED[bare]]
    return found


def unit_of(name: str, wanted: tuple[Dimension, ...]) -> Unit:
    """The unit of a wanted dimension that a word names.

    Args:
        name: the word, such as "mL" or "tbsp".
        wanted: dimensions it may be of.

    Raises:
        InvalidInput: an unknown unit, or one of another kind.
    """
    found = units_named(name)
    for dimension in wanted:
        for unit in found:
            if unit.dimension is dimension:
                return unit
    if Dimension.VOLUME in wanted and name.strip().lower() in ("oz", "ounce", "ounces"):
        return found[0]
    kinds = " or ".join(_IN_WORDS[d] for d in wanted)
    if not found:
        raise InvalidInput(f"“{name.strip()[:30]}” is not a unit known here: give {kinds}.")
    raise InvalidInput(f"“{name.strip()}” is {_IN_WORDS[found[0].dimension]}: give {kinds}.")


_IN_WORDS = {
    Dimension.VOLUME: "a volume, such as mL, L, tsp or fl oz",
    Dimension.MASS: "a weight, such as g or mg",
    Dimension.STRENGTH: "a strength, such as ppm, g/L or %",
    Dimension.MOLAR: "a strength in mM",
    Dimension.SHARE: "a share in %",
    Dimension.TIME: "a time, such as s, min, h or days",
    Dimension.LENGTH: "a length, such as cm or in",
    Dimension.TEMPERATURE: "a temperature in °C or °F",
    Dimension.WARMER: "a difference in °C or °F",
    Dimension.COUNT: "a bare number",
}


def read_quantity(
    text: str, wanted: tuple[Dimension, ...], *, bare: str = "", comma: str | None = None
) -> Quantity:
    """A number with its unit.

    Args:
        text: as written, such as "3/4 tsp".
        wanted: dimensions that will do, the likeliest first.
        bare: the unit a number without one is in; "" where one must be written.
        comma: what a comma before three digits is.

    Raises:
        InvalidInput: no number, no unit, an unknown unit, or one of another kind.
        OpenComma: a comma before three digits may be either.
    """
    plain = _plain(text)
    if ";" in plain:
        raise InvalidInput(_no_number(text))
    if Dimension.TIME in wanted:
        plain = _in_hours(plain)
    found = re.match(rf"\s*([+-]?\s*{NUMBER})\s*(.*)$", plain)
    if not found:
        raise InvalidInput(_no_number(text))
    value = read_number(found[1].replace(" ", " "), comma)
    name = found[2].strip()
    if not name and Dimension.COUNT in wanted:
        return Quantity(value, _COUNT, text.strip())
    if not name and not bare:
        kinds = " or ".join(_IN_WORDS[d] for d in wanted)
        raise InvalidInput(f"“{text.strip()}” has no unit: give {kinds}.")
    unit = unit_of(_joined(name) or bare, wanted)
    return Quantity(value, unit, text.strip() if name else f"{text.strip()} {bare}")


OVERNIGHT = 12.0
"""Hours of a night's soak: common practice."""
_CLOCK = re.compile(
    r"(\d+)\s*(?:h|hr|hrs|hour|hours)\s*(?:and\s*)?([0-5]?\d)\s*(?:m|min|mins|minutes?)?", re.I
)


def _in_hours(text: str) -> str:
    """A duration of two units, or in words, as hours: 1h30, 1 h 30 min, overnight, a week."""
    said = text.strip().lower()
    if said == "overnight":
        return f"{OVERNIGHT:g} h"
    if found := _CLOCK.fullmatch(said):
        return f"{int(found[1]) + int(found[2]) / 60} h"
    return re.sub(r"^an?\s+(?=(?:hour|day|week)\b)", "1 ", said) if said[:1] == "a" else text


def in_base(quantity: Quantity, answer: str | None = None) -> float:
    """The quantity in the base unit of its dimension.

    Args:
        quantity: what was read.
        answer: how the question its unit asks was answered.

    Raises:
        InvalidInput: too large or too small for any bench.
        LookupError: the unit asks something and the answer does not settle it.
    """
    unit = quantity.unit
    expression: float | str = unit.expression
    if unit.asks:
        expression = SIZES[unit.asks][answer or ""][1][unit.name]
    return _checked(convert(quantity.value, expression, _base_of(unit, answer)), quantity)


def _base_of(unit: Unit, answer: str | None) -> str:
    fluid = unit.asks == "ounce" and answer in ("us", "imperial")
    return _PINT_BASE[Dimension.VOLUME if fluid else unit.dimension]


def convert(value: float, from_: float | str, to: str) -> float:
    """A value in another unit, by pint; a bare number stands for so many mL.

    Args:
        value: the number.
        from_: its unit; a number for so many mL.
        to: the unit that is wanted.
    """
    if isinstance(from_, str) and from_.startswith("deg"):
        return float(_registry().Quantity(value, from_).to(to).magnitude)
    return value * _factor(from_ if isinstance(from_, str) else f"{from_} * milliliter", to)


@cache
def _factor(expression: str, to: str) -> float:
    """How many of one unit the other is; temperatures with an offset have none."""
    known = FACTORS.get((expression, to))
    return factor_by_pint(expression, to) if known is None else known


def factor_by_pint(expression: str, to: str) -> float:
    """The same as pint works it out.

    Args:
        expression: the unit, in pint's words.
        to: the unit that is wanted.
    """
    return float((1 * _registry().parse_expression(expression)).to(to).magnitude)


def every_factor() -> Iterator[tuple[str, str]]:
    """Every expression of a unit here, with the base unit it is converted to."""
    for unit, _ in _NAMED:
        if unit.dimension is Dimension.TEMPERATURE:
            continue
        if not unit.asks:
            yield unit.expression, _PINT_BASE[unit.dimension]
            continue
        for answer, (_, sizes) in SIZES[unit.asks].items():
            if unit.name in sizes:
                size = sizes[unit.name]
                named = size if isinstance(size, str) else f"{size} * milliliter"
                yield named, _base_of(unit, answer)


def in_unit(base: float, unit: Unit, answer: str | None = None) -> float:
    """A value in its dimension's base unit, expressed in another unit of that dimension.

    Args:
        base: the value in the base unit of its dimension.
        unit: the unit that is wanted.
        answer: which size of it, where it has more than one.
    """
    expression: float | str = unit.expression
    if unit.asks:
        expression = SIZES[unit.asks][answer or ""][1][unit.name]
    if unit.dimension in (Dimension.TEMPERATURE, Dimension.WARMER):
        return convert(base, _PINT_BASE[unit.dimension], str(expression))
    return base / convert(1.0, expression, _base_of(unit, answer))


@cache
def _registry() -> "UnitRegistry[float]":
    import pint  # late: a second, and only where no factor is kept: temperatures

    return pint.UnitRegistry()


def _checked(base: float, quantity: Quantity) -> float:
    if quantity.unit.dimension in (Dimension.TEMPERATURE, Dimension.WARMER):
        if not -60 <= base <= 250:
            raise InvalidInput(f"“{quantity.said}” is not a possible temperature here: check it.")
        return base
    if base < 0:
        raise InvalidInput(f"“{quantity.said}” is below nothing: give more than 0.")
    if base == 0:
        raise InvalidInput(f"“{quantity.said}” is nothing: give more than 0.")
    if not _LEAST <= base <= _MOST:
        size = "large" if base > 1 else "small"
        raise InvalidInput(f"“{quantity.said}” is too {size} for a bench: check the number.")
    return base


def _fraction(text: str) -> float:
    whole, _, part = text.rpartition(" ") if re.match(r"\d+\s+\d+\s*/", text) else ("", "", text)
    above, below = re.sub(r"\s", "", part).split("/")
    if float(below) == 0:
        raise InvalidInput(f"“{text}” divides by nothing: check the fraction.")
    return (float(whole) if whole else 0.0) + float(above) / float(below)


def _plain(text: str) -> str:
    out = text.strip().replace("−", "-").replace("–", "-")
    for sign, written in SIGNS.items():
        out = re.sub(rf"(\d)\s*{sign}", rf"\1 {written}", out).replace(sign, written)
    return out


def _joined(name: str) -> str:
    words = re.sub(r"\b(of|level)\b", "", name, flags=re.I).strip()
    words = re.sub(r"^(imp)\b\.?", "imperial", words, flags=re.I)
    return words.replace(" ", "")


def _no_number(text: str) -> str:
    said = text.strip()
    if not said:
        return "Nothing is written here: give a number with its unit, such as 250 mL."
    if ";" in said:
        return f"“{said[:40]}” is not clear: write parts as 1:5 or 1 in 5, and a decimal as 1.5."
    return f"“{said[:40]}” does not begin with a number: write it with digits, such as 10 mL."


def shown(value: float) -> str:
    """A value with at most four figures, as much as a bench can use; large ones whole."""
    if value == 0:
        return "0"
    if abs(value) >= 1000:
        return f"{value:,.0f}".replace(",", " ") if abs(value) >= 10000 else f"{value:.0f}"
    text = f"{value:.4g}"
    return f"{value:.6f}".rstrip("0").rstrip(".") if "e" in text else text


def shown_volume(ml: float) -> str:
    """A volume in mL or L, whichever reads better."""
    return f"{shown(ml / 1000)} L" if ml >= 2000 else f"{shown(ml)} mL"


def shown_mass(g: float) -> str:
    """A weight in mg, g or kg, whichever reads better."""
    if g < 1:
        return f"{shown(g * 1000)} mg"
    return f"{shown(g / 1000)} kg" if g >= 2000 else f"{shown(g)} g"
