"""One line, as a grower writes it, made into the fields of a sum.

"250 mL of 1500 ppm IBA from 1 % stock" becomes the sum "dilute" with its fields. Nothing is guessed
here: what a field leaves open is asked by the sum itself.
"""

import re
from collections.abc import Callable
from dataclasses import dataclass

from racecard.core.prepare.actives import ACTIVES
from racecard.core.prepare.home import HOME
from racecard.core.quantities import (
    NUMBER,
    Dimension,
    in_base,
    read_quantity,
    shown,
    units_named,
)
from racecard.errors import InvalidInput

Fields = dict[str, str]
MOST_WRITTEN = 300
EXAMPLES = (
    "250 mL of 1500 ppm IBA from 1 % stock",
    "100 mL of 3000 ppm IBA from powder",
    "1 tbsp per litre in 250 mL",
    "1:8 from 1 % IBA",
    "2 tablets of 300 mg acetylsalicylic acid in 2 L",
    "0.75 mL in 250 mL, recipe 1 tbsp per litre",
    "20 g of 0.3 % talc from 0.8 %",
    "70 °F in °C",
)
"""Lines that show what can be written."""
_UNIT_WORDS = (
    r"%(?:\s*[wv]/[vw])?|°[CF]|(?:imperial|imp|us)\s+(?:fluid\s+ounces?|fl\.?\s*oz|[a-zµμ]+)|fluid\s+ounces?|fl\.?\s*oz\.?"
    r"|mg/l|g/l|[uµμ]g/ml|[uµμ]?mol/l|mmol/l|[a-zµμ]+[23³]?"
)
_QUANTITY = re.compile(rf"((?:(?<![\w)])-\s?)?{NUMBER})\s*({_UNIT_WORDS})?(?![a-zµμ])", re.I)
_NUMBER_WORDS = "half|one|two|three|four|five|six|seven|eight|nine|ten|twelve|dozen|twenty|fifty|hundred|thousand"
_ACTIVE_WORDS = {
    "aspirin": "acetylsalicylic acid", "vinegar": "acetic acid", "peroxide": "hydrogen peroxide", "bleach": "sodium hypochlorite",
    "gibberellin": "GA3", "gibberellic acid": "GA3", "epsom salt": "magnesium sulphate", "kiba": "K-IBA", "k iba": "K-IBA", "knaa": "K-NAA",
    "indolebutyric acid": "IBA", "potassium nitrate": "KNO3",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Read:
    """A line as it was read: the key of the sum and its fields."""

    key: str
    fields: Fields


@dataclass(frozen=True, slots=True)
class _Amount:
    """A number and unit in the line, and where it stands."""

    text: str
    dimension: Dimension
    start: int
    end: int


def read_line(line: str) -> Read:
    """The sum and fields that a line asks for.

    Raises:
        InvalidInput: nothing here can be worked out; the sentence says what was understood.
    """
    text = " ".join(line.replace("\u00a0", " ").split())
    if not text:
        raise InvalidInput(f"Write what you want to make, such as “{EXAMPLES[0]}”.", "/line")
    if len(text) > MOST_WRITTEN:
        raise InvalidInput(f"Keep the line to {MOST_WRITTEN} characters.", "/line")
    if worded := re.search(rf"\b({_NUMBER_WORDS})\s+({_UNIT_WORDS})\b", text, re.I):
        if units_named(worded[2]):
            raise InvalidInput(
                f"“{worded[0]}”: write the number with digits, such as 10 {worded[2]}.", "/line"
            )
    amounts = _amounts(text)
    for reader in _READERS:
        found = reader(text, amounts)
        if found is not None:
            return found
    raise InvalidInput(_not_understood(text, amounts), "/line")


def _amounts(text: str) -> list[_Amount]:
    out = []
    for m in _QUANTITY.finditer(text):
        word = (m[2] or "").strip()
        found = units_named(word) if word else []
        if found and not (word == "in" and re.match(rf"\s*(?:{NUMBER})", text[m.end() :])):
            end = m.end()
            out.append(_Amount(text[m.start() : end], found[0].dimension, m.start(), end))
    return out


def _active(text: str) -> str:
    low = text.lower()
    names = {**{k.lower(): k for k in ACTIVES}, **_ACTIVE_WORDS}
    found = [(m.start(), -len(word), key) for word, key in names.items()
             if (m := re.search(rf"(?<![\w-]){re.escape(word)}(?![\w-])", low))]  # fmt: skip
    return min(found)[2] if found else ""


def _of(amounts: list[_Amount], *dimensions: Dimension) -> list[_Amount]:
    return [a for a in amounts if a.dimension in dimensions]


_SPIRIT = r"(?:alcohol|ethanol|isopropanol|spirit)"
_STRONG = (Dimension.STRENGTH, Dimension.SHARE, Dimension.MOLAR)
_PER = rf"({NUMBER}\s*(?:{_UNIT_WORDS}))\s*(?:of\s+[\w\s.,%-]+?\s+)?(?:per|to the|to each|a|/)\s*((?:{NUMBER})?\s*(?:{_UNIT_WORDS}))"


def _per(text: str) -> re.Match[str] | None:
    for m in re.finditer(_PER, text, re.I):
        names = [re.sub(rf"^\s*{NUMBER}\s*", "", part).strip() for part in (m[1], m[2])]
        kinds = [{u.dimension for u in units_named(n)} for n in names]
        if kinds[0] & {Dimension.VOLUME, Dimension.MASS} and Dimension.VOLUME in kinds[1]:
            return m
    return None


def _counted(volume: str) -> str:
    return volume.strip() if re.match(NUMBER, volume.strip()) else f"1 {volume.strip()}"


def _with_active(fields: Fields, text: str) -> Fields:
    active = _active(text)
    return {**fields, "active": active} if active else fields


def _turned(text: str, amounts: list[_Amount]) -> Read | None:
    m = re.fullmatch(
        rf"({NUMBER}|-{NUMBER})\s*°?\s*([CF])\b(?:\s*(?:in|to|as|into)\s*°?\s*[CF])?(\s*(?:warmer|cooler|difference))?",
        text,
        re.I,
    )
    if not m:
        return None
    what = {"what": "difference"} if m[3] else {}
    return Read("degrees", {"value": f"{m[1]} °{m[2].upper()}", **what})


def _parts(text: str, amounts: list[_Amount]) -> Read | None:
    ways = {":": "", "/": "", "+": "to", "to": "to", "plus": "to", "in": "in"}
    for m in re.finditer(
        r"(?<![\d.,])(\d+(?:[.,]\d+)?)\s*(?:parts?\s*)?(:|\+|/|\bin\b|\bto\b|\bplus\b)\s*(\d+(?:[.,]\d+)?)",
        text,
        re.I,
    ):
        after = re.match(rf"\s*({_UNIT_WORDS})", text[m.end() :], re.I)
        is_amount = after is not None and after[1].lower() != "in" and bool(units_named(after[1]))
        if is_amount or (m[2] == "/" and m.start() > 0):
            continue
        fields = {"part": m[1], "diluent": m[3], "way": ways[m[2].lower()]}
        rest = [a for a in amounts if a.start >= m.end() or a.end <= m.start()]
        strong, volumes = _of(rest, *_STRONG), _of(rest, Dimension.VOLUME)
        for key, found in zip(("stock", "second"), strong, strict=False):
            fields[key] = found.text
        if volumes:
            fields["volume"] = volumes[0].text
        return Read("parts", _with_active({k: v for k, v in fields.items() if v}, text))
    return None


def _check(text: str, amounts: list[_Amount]) -> Read | None:
    m = re.search(r"\b(recipe|should be|instead of|against|label)\b", text, re.I)
    if not m:
        return None
    rule = _per(text[m.end() :]) or _per(text[: m.start()])
    outside = text[: m.start()] if _per(text[m.end() :]) else text[m.end() :]
    made = _of(_amounts(outside), Dimension.VOLUME, Dimension.MASS)
    if not rule or len(made) < 2:
        return None
    return Read(
        "check",
        {
            "recipe": rule[1].strip(),
            "per": _counted(rule[2]),
            "made": made[0].text,
            "in": made[1].text,
        },
    )


def _tablets(text: str, amounts: list[_Amount]) -> Read | None:
    m = re.search(rf"({NUMBER})\s*(?:tablets?|pills?)", text, re.I)
    if not m:
        return None
    mass, volume = _of(amounts, Dimension.MASS), _of(amounts, Dimension.VOLUME)
    if not mass or not volume:
        missing = "the mg of active in each" if not mass else "the water they go in"
        raise InvalidInput(
            f"I read {m[1]} tablets; {missing} is missing: write “2 tablets of 300 mg in 2 L”.",
            "/line",
        )
    return Read(
        "tablets",
        _with_active({"tablets": m[1], "each": mass[0].text, "volume": volume[0].text}, text),
    )


def _rate(text: str, amounts: list[_Amount]) -> Read | None:
    m = _per(text)
    if not m:
        return None
    fields = {"amount": m[1].strip(), "per": _counted(m[2])}
    after = [a for a in amounts if a.start >= m.end() or a.end <= m.start()]
    volumes, strong = _of(after, Dimension.VOLUME), _of(amounts, Dimension.SHARE)
    if volumes:
        fields["volume"] = volumes[0].text
    if strong:
        fields["strength"] = strong[0].text
    return Read("rate", _with_active(fields, text))


def _made_from(text: str, amounts: list[_Amount]) -> Read | None:
    """A volume or weight at a strength: from a stock, from two, from powder."""
    strong = _of(amounts, *_STRONG)
    spirits = [a for a in strong if re.match(rf"\s*(?:v/v\s*)?{_SPIRIT}", text[a.end :], re.I)]
    is_spirit = len(spirits) == len(strong) or (spirits and spirits[0] is strong[0])
    if spirits and not is_spirit:
        strong = [a for a in strong if a not in spirits]
    volumes, masses = _of(amounts, Dimension.VOLUME), _of(amounts, Dimension.MASS)
    m = re.search(r"\b(from|out of|using|with)\b", text, re.I)
    if m is None and len(strong) == 2 and re.match(r"\s*(dilute|thin|bring)\b", text, re.I):
        strong = strong[::-1]  # "dilute 1 % to 1500 ppm": the stock is named first
        return _diluted(text, volumes, strong, spirits)
    stocks = [a for a in strong if m and a.start > m.start()]
    wanted = [a for a in strong if not m or a.start < m.start()]
    if masses and not volumes and wanted and stocks:
        return Read(
            "talc", {"mass": masses[0].text, "target": wanted[0].text, "strong": stocks[0].text}
        )
    if not volumes or not wanted:
        return None
    base = {"volume": volumes[0].text, "target": wanted[0].text}
    if is_spirit and not _active(text) and stocks:
        return Read("alcohol", {**base, "stock": stocks[0].text})
    if len(stocks) >= 2:
        return Read(
            "two", _with_active({**base, "strong": stocks[0].text, "weak": stocks[1].text}, text)
        )
    if stocks:
        return _diluted(text, volumes, [*wanted, *stocks], spirits)
    if re.search(r"\b(powder|crystals?)\b", text, re.I) and _active(text):
        return Read("weigh", _with_active(base, text))
    raise InvalidInput(f"I read {base['volume']} at {base['target']}; what is missing is what it is made from: "
                       "add “from 1 % stock”, or name the active and “from powder”.", "/line")  # fmt: skip


def _diluted(
    text: str, volumes: list[_Amount], strong: list[_Amount], spirits: list[_Amount]
) -> Read | None:
    """A dilution of the second strength to the first; alcohol named beside is that of the dip."""
    if not volumes:
        raise InvalidInput(f"I read {strong[1].text} brought to {strong[0].text}; what is missing is how much: "
                           "add a volume, such as 250 mL.", "/line")  # fmt: skip
    fields = {"volume": volumes[0].text, "target": strong[0].text, "stock": strong[1].text}
    if spirits:
        fields |= {"carrier": "alcohol", "alcohol_diluent": spirits[0].text}
    return Read("dilute", _with_active(fields, text))


def _added(text: str, amounts: list[_Amount]) -> Read | None:
    """So much of a stock in, or into, so much of water: parts, read both ways."""
    strong, volumes = _of(amounts, *_STRONG), _of(amounts, Dimension.VOLUME)
    if len(strong) > 1 or len(volumes) != 2:
        return None
    between = text[volumes[0].end : volumes[1].start]
    m = re.search(r"\b(made up to|made to|in|into|to|with|plus|and)\b\s*$|\+\s*$", between, re.I)
    if not m:
        return None
    one, other = (_ml(a) for a in volumes)
    if one is None or other is None:
        raise InvalidInput(
            f"I read {volumes[0].text} and {volumes[1].text}: give both in mL or L, to mix them.",
            "/line",
        )
    word = (m[1] or "+").lower()
    way = (
        "in"
        if word in ("made up to", "made to")
        else "to"
        if word in ("+", "plus", "with", "and")
        else ""
    )
    fields = {
        "part": shown(one),
        "diluent": shown(other),
        "way": way,
        "stock": strong[0].text if strong else "",
    }
    return Read("parts", _with_active({k: v for k, v in fields.items() if v}, text))


def _ml(amount: _Amount) -> float | None:
    """A volume in mL where its unit leaves nothing open."""
    found = read_quantity(amount.text, (Dimension.VOLUME,))
    return None if found.unit.asks else in_base(found)


def _made_of(text: str, amounts: list[_Amount]) -> Read | None:
    """So much powder in so much liquid."""
    mass, volume = _of(amounts, Dimension.MASS), _of(amounts, Dimension.VOLUME)
    if len(mass) == 1 and len(volume) == 1 and re.search(r"\b(in|to|into|made up)\b", text, re.I):
        return Read("made", _with_active({"mass": mass[0].text, "volume": volume[0].text}, text))
    return None


def _into(text: str, amounts: list[_Amount]) -> Read | None:
    """An amount to be said in another unit."""
    kinds = (Dimension.VOLUME, Dimension.MASS, Dimension.LENGTH, Dimension.TIME)
    m = re.fullmatch(rf"(.+?)\s+(?:in|to|as|into)\s+({_UNIT_WORDS})", text, re.I)
    if m and len(amounts) == 1 and _of(amounts, *kinds) and units_named(m[2]):
        return Read("units", {"value": amounts[0].text})
    return None


def _strength(text: str, amounts: list[_Amount]) -> Read | None:
    """A strength of a named active alone, and what else it comes to."""
    strong = _of(amounts, *_STRONG)
    active = _active(text)
    if len(strong) == 1 and len(amounts) == 1 and active:
        if active in HOME and re.search(r"\b(harm|control|is it)\b", text, re.I):
            return Read("home", {"agent": active, "dose": strong[0].text})
        return Read("strengths", {"active": active, "strength": strong[0].text})
    return None


_READERS: tuple[Callable[[str, list[_Amount]], Read | None], ...] = (
    _turned, _check, _tablets, _parts, _rate, _into, _added, _made_from, _made_of, _strength,
)  # fmt: skip


def _not_understood(text: str, amounts: list[_Amount]) -> str:
    if ";" in text:
        return f"“{text[:60]}” is not clear: write parts as 1:5 or 1 in 5, and a decimal as 1.5."
    said = [a.text.strip() for a in amounts]
    active = _active(text)
    if active:
        said.append(active)
    if not re.search(r"\d", text):
        return (
            f"No number was found in “{text[:60]}”: write it with digits, such as “{EXAMPLES[0]}”."
        )
    strange = _strange_unit(text)
    if strange:
        return f"“{strange}” is not a unit known here: use mL, L, g, mg, ppm, %, mM, tsp, tbsp, cup or fl oz."
    if not said:
        return f"“{text[:60]}” has numbers but no unit: write such as “{EXAMPLES[0]}”."
    return f"I read {', '.join(said)}, and miss what is to be made of it: write such as “{EXAMPLES[0]}”."


def _strange_unit(text: str) -> str:
    for m in re.finditer(rf"{NUMBER}\s*([a-zµμ]{{2,}})", text, re.I):
        word = m[1]
        if not units_named(word) and word.lower() not in (
            "of",
            "in",
            "to",
            "part",
            "parts",
            "tablet",
            "tablets",
            "from",
            "per",
            "us",
            "imp",
            "imperial",
            "fl",
            "and",
        ):
            return word
    return ""
