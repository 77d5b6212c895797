"""A line cut into tokens: numbers, units, names and the words that join them, each with its place.

Nothing is thrown away here. A word that is in no list is a token of its own, `unknown`, and stays
one, so that the grammar can refuse a line of which a piece was not read.
"""

import re
from dataclasses import dataclass, field, replace
from difflib import get_close_matches
from enum import StrEnum
from itertools import pairwise

from racecard.core.prepare.actives import ACTIVES
from racecard.core.quantities import NUMBER, SIGNS, OpenComma, Unit, read_number, units_named
from racecard.errors import InvalidInput


class Kind(StrEnum):
    """What a token is."""

    NUMBER = "number"
    UNIT = "unit"
    ACTIVE = "active"
    AGENT = "agent"
    GRADE = "grade"
    WORD = "word"
    MARK = "mark"
    FILLER = "filler"
    UNKNOWN = "unknown"


@dataclass(slots=True)
class Token:
    """A piece of the line. `key`: what it stands for (a tag of a word, an active, a grade).

    `value`: of a number; `units`: what a unit may be; `slash`: the two numbers of a tight 1/8;
    `taken_as`: what it was used for, "" while it was not.
    """

    text: str
    start: int
    end: int
    kind: Kind
    key: str = ""
    value: float = 0.0
    units: tuple[Unit, ...] = ()
    slash: tuple[float, float] | None = None
    groups: tuple[float, ...] = ()
    taken_as: str = ""


@dataclass(slots=True)
class Lexed:
    """The tokens of a line, and the number signs in it that can be read in two ways."""

    text: str
    tokens: list[Token]
    open_signs: set[str] = field(default_factory=set)


_NAMES = {
    r"ga\s?4\s?[+/&]\s?7": "GA4+7", r"(?:k-?ga[-\s]?3)": "K-GA3", r"ga[-\s]?3": "GA3", r"2,\s?4-?d": "2,4-D",
    r"6-?bap?": "BA", r"6-benzyl(?:amino)?(?:adenine|purine)": "BA", r"bap?": "BA", r"(?:vitamin\s+)?b[-\s]?12": "B12",
    r"(?:vitamin\s+)?b[-\s]?1": "thiamine", r"thiamine": "thiamine", r"h2o2": "hydrogen peroxide", r"kno3": "KNO3",
    r"k[-\s]?iba": "K-IBA", r"k[-\s]?naa": "K-NAA", r"k[-\s]?iaa": "K-IAA", r"na[-\s]?naa": "Na-NAA",
    r"i\s?b\s?a": "IBA", r"n\s?a\s?a": "NAA", r"i\s?a\s?a": "IAA", r"nad": "NAD", r"aba": "ABA",
    r"indole-?(?:3-)?butyric acid": "IBA", r"indolebutyric acid": "IBA", r"gibberellic acid": "GA3", r"gibberellin": "GA3",
    r"acetylsalicylic acid": "acetylsalicylic acid", r"aspirins?": "acetylsalicylic acid", r"salicylic acid": "salicylic acid",
    r"acetic acid": "acetic acid", r"vinegar": "acetic acid", r"hydrogen peroxide": "hydrogen peroxide", r"peroxide": "hydrogen peroxide",
    r"sodium hypochlorite": "sodium hypochlorite", r"bleach": "sodium hypochlorite", r"potassium nitrate": "KNO3",
    r"epsom salts?": "magnesium sulphate", r"magnesium sul(?:ph|f)ate": "magnesium sulphate", r"boric acid": "boric acid",
    r"kinetin": "kinetin", r"zeatin": "zeatin", r"ethephon": "ethephon",
}  # fmt: skip
"""Actives as growers write them. Those with digits in them come before any number is read."""
_NO_MASS = {"GA4+7", "B12"}
_AGENTS = {
    r"liquid seaweed": "seaweed", r"seaweed(?:\s+(?:extract|water|tea|liquid))?": "seaweed", r"kelp(?:\s+extract)?": "seaweed",
    r"coconut (?:water|milk)": "coconut water", r"willow (?:water|tea|extract)": "willow", r"honey": "honey", r"cinnamon": "cinnamon",
    r"plain talc": "plain talc", r"talc": "talc", r"alcohol": "alcohol", r"ethanol": "alcohol", r"isopropanol": "alcohol",
    r"isopropyl alcohol": "alcohol", r"rubbing alcohol": "alcohol", r"vodka": "alcohol", r"gin": "alcohol",
    r"(?:plain |tap |rain ?|distilled |cold |warm |hot )*water": "water", r"lime": "lime", r"fertili[sz]er": "fertiliser", r"feed": "feed",
    r"soap": "soap", r"sulphur": "sulphur", r"aloe(?:\s+vera)?(?:\s+gel)?": "plant gel", r"liquid feed": "feed",
}  # fmt: skip
_MEDIA = (
    "peat|coir|perlite|vermiculite|pumice|bark|sand|grit|compost|loam|leaf ?mould|worm castings|castings|sphagnum|moss|rockwool|soil|gravel|"
    "clay|lava|zeolite|rice hulls|sharp sand|coarse sand|fine sand|pine bark|coco"
)  # fmt: skip
_UNIT_TEXT = re.compile(
    r"%\s*\(?\s*[wv]\s*/\s*[wv]\s*\)?|%"
    r"|(?:per\s?cent|percent)(?:\s*\(?[wv]/[wv]\)?)?"
    r"|parts?\s+per\s+million|p\s?p\s?m\b|parts?\s+per\s+billion|ppb\b"
    r"|(?:mg|[uµμ]g)(?:\s*/\s*|\s+per\s+|\s+a\s+)(?:l|ltr|lit(?:re|er))\b|g\s*/\s*(?:l|ltr|lit(?:re|er))\b"
    r"|(?:mg|[uµμ]g)\s*/\s*ml\b|(?:m|[uµμ])?mol\s*/\s*l\b|millimolar\b|micromolar\b"
    r"|°\s*[cf]\b|deg(?:rees?)?\.?\s*(?:c|f|celsius|fahrenheit)\b|celsius\b|fahrenheit\b|°"
    r"|(?:(?P<whose>imperial|imp\.?|uk|british|us|u\.s\.|american|metric|australian|aussie|au)\s+)?"
    r"(?P<unit>fluid\s+ounces?|fl\.?\s*oz\.?|[a-zµμ]+[23³]?)(?![a-z])",
    re.IGNORECASE,
)
_WHOSE = {
    "imperial": "imperial", "imp": "imperial", "imp.": "imperial", "uk": "imperial", "british": "imperial", "us": "us", "u.s.": "us",
    "american": "us", "metric": "metric", "australian": "australian", "aussie": "australian", "au": "australian",
}  # fmt: skip
_TAGS: dict[str, str] = {}
for _tag, _words in {
    "from": "from ex using with off", "of": "of", "in": "in into", "to": "to", "for": "for", "at": "at @", "per": "per", "each": "each apiece",
    "and": "and plus + &", "or": "or", "times": "x × * times", "twice": "twice", "thrice": "thrice",
    "want": "want need wanted needed make makes making like give gives", "have": "have got i've", "stock": "stock stocks concentrate bottle",
    "strong": "stronger", "dilute": "dilute dilutes diluted thin thinned bring cut let lower reduce", "down": "down",
    "dilution": "dilution dilutions", "powder": "powder powders crystals crystal", "weigh": "weigh weighed weighing", "acid": "acid free",
    "tablet": "tablet tablets tab tabs pill pills", "pot": "pot pots", "cell": "cell cells", "round": "round", "square": "square",
    "top": "top", "bottom": "bottom", "deep": "deep high tall depth height", "jar": "jar jars bottles vials vial cups?",
    "cutting": "cuttings cutting", "lot": "lots lot batches batch", "double": "double", "triple": "triple", "plant": "plants plant seedlings",
    "seed": "seeds seed", "germination": "germination germ germinate", "survive": "survive survival surviving", "extra": "extra spare over overage",
    "part": "part parts", "equal": "equal", "half": "half", "mix": "mix mixed", "soak": "soak soaked soaking", "dip": "dip quick-dip",
    "overnight": "overnight", "topped": "topped top-up", "up": "up", "made": "made", "fill": "fill filled", "recipe": "recipe label instead should against",
    "warmer": "warmer cooler hotter colder difference above below", "degreedays": "degree-days", "high": "max maximum", "low": "low min minimum lowest",
    "base": "base", "serial": "serial", "row": "row", "fold": "tenfold", "water_at": "water", "medium": "medium", "ratio": "ratio",
    "neat": "neat", "steps": "steps then", "as": "as", "trade": "trade", "air": "air", "purity": "pure purity",
}.items():  # fmt: skip
    for _said in _words.split():
        _TAGS[_said] = _tag
_STAGES = {
    r"root cuttings?": "root", r"semi-?\s?ripe": "semi_ripe", r"softwood": "softwood", r"hardwood": "hardwood_deciduous",
    r"leaf[- ]bud": "leaf_bud", r"herbaceous(?: tips?)?": "herbaceous",
}  # fmt: skip
FILLER = frozenset(
    "the please me my some about approx approximately roughly around ca circa ~ level soluble crushed dissolve dissolved do does we i it is "
    "what how much many take used use put says say this that there solution soln sol a an are be get on? many? would wanted? now just only "
    "liquid can thats it's its by dosed add added drop?".replace("?", "").split()
) - {"on", "drop", "wanted"}
"""Words that change nothing. The list is closed: a word in no list at all is not understood."""
_UNITS_OF_NUMBERS = {
    "zero": 0, "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10,
    "eleven": 11, "twelve": 12, "thirteen": 13, "fourteen": 14, "fifteen": 15, "sixteen": 16, "seventeen": 17, "eighteen": 18,
    "nineteen": 19, "twenty": 20, "thirty": 30, "forty": 40, "fifty": 50, "sixty": 60, "seventy": 70, "eighty": 80, "ninety": 90,
}  # fmt: skip
_PORTIONS = {
    "half": 0.5,
    "quarter": 0.25,
    "quarters": 0.25,
    "third": 1 / 3,
    "thirds": 1 / 3,
    "eighth": 0.125,
    "fifth": 0.2,
    "tenth": 0.1,
}
_WORD = re.compile(r"[a-zµμäöüé]+(?:['’-][a-z]+)*\??", re.IGNORECASE)
_BAD_NUMBER = re.compile(
    r"\d+(?:[.,]\d+)?[oO](?![a-z])|(?<![a-z\d])[lI|][.,]\d+|\d*\.\.+\d*|\d+,,\d+", re.IGNORECASE
)
_GLUED = re.compile(r"([a-z]{1,5})-?\d+[a-z]*\b", re.IGNORECASE)
"""A name with a number in it that is in no list: GA9, B7."""
_NUMBER_HERE = re.compile(NUMBER)
_NAME_HERE = [
    (re.compile(rf"(?<![\w]){pattern}(?![a-z\d])", re.IGNORECASE), key)
    for pattern, key in sorted(_NAMES.items(), key=lambda p: -len(p[0]))
]
_AGENT_HERE = [
    (re.compile(rf"(?<![\w]){pattern}(?![a-z])", re.IGNORECASE), key)
    for pattern, key in sorted(_AGENTS.items(), key=lambda p: -len(p[0]))
]
_STAGE_HERE = [
    (re.compile(rf"(?<![\w]){p}(?![a-z])", re.IGNORECASE), k) for p, k in _STAGES.items()
]
_MEDIUM_HERE = re.compile(rf"(?<![\w])(?:{_MEDIA})(?![a-z])", re.IGNORECASE)
_GRADE_HERE = re.compile(r"(?<![\d.,-])\d{1,2}(?:\.\d)?-\d{1,2}(?:\.\d)?-\d{1,2}(?:\.\d)?(?![\d-])")
_LABEL_HERE = re.compile(r"[CV][12]\s*=", re.IGNORECASE)
_POWER_HERE = re.compile(r"10\s?\^\s?(-?\d+)")
_PHRASES = {
    "out of": "from", "made up to": "made_to", "make up to": "made_to", "made to": "made_to", "top up to": "made_to", "topped up to": "made_to",
    "top up with": "made_with", "top up": "top_up", "topped up": "top_up", "fill up to": "made_to", "to get": "want", "let down": "dilute", "thinned": "dilute",
    "degree days": "degreedays", "degree-days": "degreedays", "half and half": "halfhalf", "in a row": "in_row", "in all": "filler",
    "for a total of": "for", "made from": "from", "instead of": "recipe", "should be": "recipe", "to the": "per", "to each": "per", "to a": "per",
    "to an": "per", "in each": "per", "in a": "per", "per each": "per", "for each": "per", "for every": "per", "to every": "per", "free acid": "acid",
    "10x": "fold10", "at once": "filler", "w/v": "filler", "in total": "filler", "no more": "filler", "up to": "to", "down to": "to", "worm castings": "medium_name",
    "how many": "filler", "how much": "howmuch", "what do i take": "howmuch", "-->": "arrow", "->": "arrow", "→": "arrow", "=>": "arrow",
    "each of": "each", "a couple of": "couple", "couple of": "couple", "on top": "filler",
}  # fmt: skip
_PHRASE_HERE = re.compile(
    "|".join(
        (rf"(?<![\w]){re.escape(p)}(?![\w])" if p[0].isalnum() else re.escape(p))
        for p in sorted(_PHRASES, key=len, reverse=True)
    ),
    re.IGNORECASE,
)


_DASHES = {"–": "-", "−": "-"}


def plain_signs(line: str) -> tuple[str, list[int]]:
    """A line in plain signs: single blanks, 1/2 for ½; and where each of them stood in the line."""
    out: list[str] = []
    origin: list[int] = []
    for i, c in enumerate(line):
        written = SIGNS.get(c) or _DASHES.get(c, c)
        if c in SIGNS and out and out[-1].isdigit():
            written = f" {written}"
        if c.isspace():
            if not out or out[-1] == " ":
                continue
            written = " "
        out += written
        origin += [i] * len(written)
    return "".join(out).rstrip(), origin


def lex(line: str, signs: dict[str, str] | None = None) -> Lexed:
    """The tokens of a line.

    Args:
        line: in plain signs.
        signs: how number signs with two readings are read: "comma", "point", "blank" to
            "thousands" or "decimal"; the usual reading where not said.
    """
    out = Lexed(line, [])
    at = 0
    while at < len(line):
        if line[at].isspace():
            at += 1
            continue
        token = _next(line, at, out, signs or {})
        out.tokens.append(token)
        at = token.end
    out.tokens = _number_words(_numbered(_stray_blanks(out.tokens)))
    return out


def _stray_blanks(tokens: list[Token]) -> list[Token]:
    """Two numbers in digits with only a blank between them are one that was mistyped: 15 00."""
    out: list[Token] = []
    for t in tokens:
        last = out[-1] if out else None
        if last is not None and t.kind is Kind.NUMBER and last.kind in (Kind.NUMBER, Kind.UNKNOWN):
            if last.text[-1:].isdigit() and t.text[:1].isdigit() and last.kind is Kind.NUMBER:
                out[-1] = Token(f"{last.text} {t.text}", last.start, t.end, Kind.UNKNOWN)
                continue
        out.append(t)
    return out


def _numbered(tokens: list[Token]) -> list[Token]:
    """The number of a batch or lot is its name: “batch 12” is no amount."""
    out = list(tokens)
    for i, (t, follows) in enumerate(pairwise(tokens)):
        is_name = t.kind is Kind.WORD and t.key == "lot" and follows.kind is Kind.NUMBER
        if is_name and not (i and tokens[i - 1].kind is Kind.NUMBER):
            out[i : i + 2] = [replace(t, kind=Kind.UNKNOWN), replace(follows, kind=Kind.UNKNOWN)]
    return out


def _next(text: str, at: int, out: Lexed, signs: dict[str, str]) -> Token:
    before = out.tokens[-1] if out.tokens else None
    if m := _LABEL_HERE.match(text, at):
        return Token(m[0], at, m.end(), Kind.MARK, m[0][:2].upper())
    for pattern, key in _NAME_HERE:
        if (m := pattern.match(text, at)) and not _is_unit_after_number(m[0], before):
            return Token(m[0], at, m.end(), Kind.ACTIVE, key)
    if m := _BAD_NUMBER.match(text, at):
        return Token(m[0], at, m.end(), Kind.UNKNOWN)
    if m := _GRADE_HERE.match(text, at):
        return Token(m[0], at, m.end(), Kind.GRADE, m[0])
    if m := _POWER_HERE.match(text, at):
        return Token(m[0], at, m.end(), Kind.NUMBER, value=10.0 ** int(m[1]))
    is_minus = (
        text[at] == "-" and re.match(r"-\d", text[at:]) and not _is_number_before(text, at, before)
    )
    if is_minus or text[at].isdigit() or re.match(r"[.,]\d", text[at:]):
        return _number(text, at, 1 if is_minus else 0, out, signs)
    if m := _PHRASE_HERE.match(text, at):
        tag = _PHRASES[m[0].lower()]
        if not (tag == "per" and not _per_follows(text, m.end())):
            kind = Kind.FILLER if tag == "filler" else Kind.WORD
            return Token(m[0], at, m.end(), kind, tag)
    for patterns, name in ((_STAGE_HERE, "stage"), (_AGENT_HERE, "agent")):
        for pattern, key in patterns:
            if m := pattern.match(text, at):
                if name == "agent":
                    return Token(m[0], at, m.end(), Kind.AGENT, key)
                return Token(m[0], at, m.end(), Kind.WORD, f"stage:{key}")
    if m := _MEDIUM_HERE.match(text, at):
        return Token(m[0], at, m.end(), Kind.WORD, "medium_name")
    if (unit := _unit(text, at, before)) is not None:
        return unit
    if (m := _GLUED.match(text, at)) and not _is_known(m[1]):
        return Token(m[0], at, m.end(), Kind.UNKNOWN)
    if m := _WORD.match(text, at):
        return _word(m[0].rstrip("?"), at)
    mark = text[at]
    if mark in "x×*" or mark in _TAGS:
        return Token(mark, at, at + 1, Kind.WORD, _TAGS[mark])
    if mark == "~":
        return Token(mark, at, at + 1, Kind.FILLER)
    known = mark in ",;:.()?!\"'/-="
    return Token(mark, at, at + 1, Kind.MARK if known else Kind.UNKNOWN, mark)


def _is_known(word: str) -> bool:
    low = word.lower()
    return low in _TAGS or low in FILLER or bool(units_named(low))


def _per_follows(text: str, at: int) -> bool:
    """Whether “in a” and the like stand before a unit: “1 tsp to a gallon”."""
    m = re.match(r"\s+([a-zµ.]+(?:\s+(?:gal\w*|pint\w*|quart\w*|oz))?)", text[at:], re.IGNORECASE)
    return bool(m and units_named(m[1]))


def _is_unit_after_number(name: str, before: Token | None) -> bool:
    return False


def _is_number_before(text: str, at: int, before: Token | None) -> bool:
    return before is not None and before.kind is Kind.NUMBER and before.end >= at - 1


def _number(text: str, at: int, sign: int, out: Lexed, signs: dict[str, str]) -> Token:
    m = _NUMBER_HERE.match(text, at + sign)
    if m is None:
        return Token(text[at], at, at + 1, Kind.UNKNOWN)
    said = m[0]
    if re.search(r"\s/|/\s", said):  # 18 / 6 is two numbers, 1/8 one
        m = re.compile(r"\d+").match(text, at + sign)
        assert m is not None
        said = m[0]
    token = Token(text[at : m.end()], at, m.end(), Kind.NUMBER)
    if re.fullmatch(r"\d+/\d+", said):
        a, b = (float(x) for x in said.split("/"))
        token.slash = (a, b)
        token.value = a / b if b else 0.0
    else:
        token.value = _value(said, out, signs)
        blank = re.split(r"[ \u202f']", said)
        if (
            " " in said
            and len(blank) == 2
            and "/" not in said
            and blank[1] != "000"
            and blank[0] != "1"
        ):
            token.groups = (float(blank[0]), float(blank[1]))
    if sign:
        token.value = -token.value
    return token


def _value(said: str, out: Lexed, signs: dict[str, str]) -> float:
    plain = said.replace("'", "")
    if re.fullmatch(r"\d{1,3}(?:\.\d{3})+,\d+", plain):  # 1.250,5
        return float(plain.replace(".", "").replace(",", "."))
    if re.fullmatch(r"\d{1,3}(?:,\d{3})+\.\d+", plain):  # 1,250.5
        return float(plain.replace(",", ""))
    if re.fullmatch(r"[1-9]\d{0,2}\.\d{3}", plain):
        out.open_signs.add("point round" if plain.endswith("0") else "point")
        return float(plain.replace(".", "")) if signs.get("point") == "thousands" else float(plain)
    try:
        return read_number(plain)
    except OpenComma:
        out.open_signs.add("comma")
        return read_number(plain, signs.get("comma", "thousands"))
    except InvalidInput:
        return float("nan")


def _unit(text: str, at: int, before: Token | None) -> Token | None:
    m = _UNIT_TEXT.match(text, at)
    if m is None:
        return None
    said = m[0].strip()
    low = re.sub(r"\s+", " ", said.lower())
    name, whose = said, ""
    if m.group("unit"):
        whose = _WHOSE.get((m.group("whose") or "").lower(), "")
        name = m.group("unit")
    after_number = before is not None and before.kind is Kind.NUMBER
    if name.lower() in ("in", "a", "to") and not (
        after_number and name.lower() == "in" and _is_inches(text, m.end())
    ):
        return None
    if (
        name.lower() in ("m", "c", "f", "t", "s", "d", "h", "l", "g", "min")
        and not after_number
        and name.lower() != "l"
    ):
        if not (before is not None and before.text.lower() in ("in", "to", "into", "as")):
            return None
    if name.lower() == "min" and re.search(r"\bmax\b", text[:at], re.IGNORECASE):
        return None
    if name == "T":
        name = "tbsp"
    spelled = _spelled(low)
    found = units_named(spelled or f"{whose} {name}".strip())
    if not found and whose:
        found = units_named(name)
    if not found:
        return None
    end = m.end()
    if bracket := re.match(
        r"\s*\(\s*(us|uk|imperial|metric|w/v|w/w|v/v)\s*\)", text[end:], re.IGNORECASE
    ):
        better = units_named(f"{_WHOSE.get(bracket[1].lower(), '')} {name}".strip())
        if "/" in bracket[1]:
            better = units_named(f"%{bracket[1].lower()}") if found[0].name == "%" else found
        if better:
            found, end = better, end + bracket.end()
    key = "T" if text[at : m.end()] == "T" else ""
    return Token(text[at:end], at, end, Kind.UNIT, key, units=tuple(found))


def _is_inches(text: str, at: int) -> bool:
    """Whether an “in” after a number is inches: at the end, or before to, in, as, pot, deep."""
    return bool(
        re.match(
            r"\s*(?:$|to\b|in\b|as\b|into\b|pots?\b|deep\b|top\b|bottom\b|,)",
            text[at:],
            re.IGNORECASE,
        )
    )


def _spelled(low: str) -> str:
    if low.startswith(("per cent", "percent", "%")):
        of = re.search(r"[wv]\s*/\s*[wv]", low)
        return "%" + (of[0].replace(" ", "") if of else "")
    if (
        low.startswith("parts per million")
        or low.startswith("part per million")
        or re.fullmatch(r"p\s?p\s?m", low)
    ):
        return "ppm"
    if "per billion" in low:
        return "ppb"
    if m := re.fullmatch(r"(mg|[uµμ]g|g)(?:\s*/\s*|\s+(?:per|a)\s+)(?:l|ltr|lit(?:re|er))", low):
        return f"{m[1]}/l"
    if m := re.fullmatch(r"(mg|[uµμ]g)\s*/\s*ml", low):
        return f"{m[1]}/ml"
    if m := re.fullmatch(r"°\s*([cf])|deg(?:rees?)?\.?\s*(c|f)\w*", low):
        return f"°{m[1] or m[2]}"
    return "°c" if low == "°" else ""


def _word(said: str, at: int) -> Token:
    low = said.lower().replace("’", "'")
    end = at + len(said)
    if low in _TAGS:
        return Token(said, at, end, Kind.WORD, _TAGS[low])
    if low in FILLER:
        return Token(said, at, end, Kind.FILLER)
    if low in _UNITS_OF_NUMBERS or low in _PORTIONS or low in _OTHER_NUMBERS:
        return Token(said, at, end, Kind.WORD, f"numeral:{low}")
    if "-" in low:
        head = low.split("-", 1)[0]
        return _word(said[: len(head)], at) if head else Token(said[0], at, at + 1, Kind.MARK, "-")
    return Token(said, at, end, Kind.UNKNOWN)


_OTHER_NUMBERS = frozenset(("hundred", "thousand", "dozen", "point", "couple"))


def _number_words(tokens: list[Token]) -> list[Token]:
    """Runs of number words, and “a” before a unit or a portion, made into numbers."""
    out: list[Token] = []
    i = 0
    while i < len(tokens):
        found = _numeral(tokens, i)
        if found is None:
            out.append(tokens[i])
            i += 1
            continue
        value, j = found
        first, last = tokens[i], tokens[j - 1]
        text = " ".join(t.text for t in tokens[i:j])
        out.append(Token(text, first.start, last.end, Kind.NUMBER, value=value))
        i = j
    return out


def _name(token: Token) -> str:
    if token.kind is Kind.WORD and token.key.startswith("numeral:"):
        return token.key.removeprefix("numeral:")
    return token.text.lower()


def _is_numeral(token: Token) -> bool:
    return token.kind is Kind.WORD and (
        token.key.startswith("numeral:") or token.key in ("half", "couple")
    )


def _numeral(tokens: list[Token], i: int) -> tuple[float, int] | None:
    token = tokens[i]
    low = token.text.lower()
    after = tokens[i + 1] if i + 1 < len(tokens) else None
    if low in ("a", "an") and after is not None:
        if after.kind is Kind.UNIT:
            is_span = i > 0 and tokens[i - 1].text.lower() in ("for", "dip", "dipped")
            return (1.0, i + 1) if is_span or after.text.lower() != "second" else None
        if _is_numeral(after) and _name(after) in (
            *_PORTIONS,
            "dozen",
            "hundred",
            "thousand",
            "couple",
            "couple of",
        ):
            return _numeral(tokens, i + 1)
        return None
    if token.kind is Kind.WORD and token.key == "couple":
        return 2.0, i + 1
    if not _is_numeral(token):
        return None
    total, part, j, any_said = 0.0, 0.0, i, False
    while j < len(tokens):
        name = _name(tokens[j])
        if name in _UNITS_OF_NUMBERS and tokens[j].kind is Kind.WORD:
            part += _UNITS_OF_NUMBERS[name]
            any_said = True
        elif name == "hundred":
            part = (part or 1) * 100
            any_said = True
        elif name == "thousand":
            total, part = total + (part or 1) * 1000, 0.0
            any_said = True
        elif name == "dozen":
            part = (part or 1) * 12
            any_said = True
        elif name == "point" and j + 1 < len(tokens) and _name(tokens[j + 1]) in _UNITS_OF_NUMBERS:
            digits = ""
            j += 1
            while (
                j < len(tokens)
                and _name(tokens[j]) in _UNITS_OF_NUMBERS
                and _UNITS_OF_NUMBERS[_name(tokens[j])] < 10
            ):
                digits += str(_UNITS_OF_NUMBERS[_name(tokens[j])])
                j += 1
            return total + part + float(f"0.{digits}"), j
        elif name in _PORTIONS and tokens[j].kind is Kind.WORD:
            share = _PORTIONS[name]
            value = (total + part) * share if any_said else share
            return value, _past_of_a(tokens, j + 1)
        elif name == "and" and any_said and j + 1 < len(tokens) and _goes_on(tokens, j + 1, part):
            after_and = _numeral(tokens, j + 1)
            if after_and is None:
                break
            if after_and[0] < 1:
                return total + part + after_and[0], after_and[1]
            return total + part + after_and[0], after_and[1]
        else:
            break
        j += 1
    return (total + part, j) if any_said else None


def _goes_on(tokens: list[Token], i: int, part: float) -> bool:
    """Whether a number goes on after “and”: one hundred and fifty, one and a half."""
    name = _name(tokens[i])
    if name in ("a", "an"):
        return i + 1 < len(tokens) and _name(tokens[i + 1]) in _PORTIONS
    return name in _PORTIONS or (part >= 100 and name in _UNITS_OF_NUMBERS)


def _past_of_a(tokens: list[Token], i: int) -> int:
    """Past the “of a” of half of a litre, where a unit follows."""
    j = i
    while j < len(tokens) and tokens[j].text.lower() in ("of", "a", "an"):
        j += 1
    return j if j < len(tokens) and tokens[j].kind is Kind.UNIT else i


_KNOWN_WORDS = sorted(
    {
        *_TAGS,
        *FILLER,
        *(k.lower() for k in ACTIVES),
        "ppm",
        "iba",
        "naa",
        "iaa",
        "mg",
        "ml",
        "litre",
        "talc",
        "water",
        "perlite",
        "seaweed",
        "alcohol",
    }
)


def nearest(word: str) -> str:
    """The known word this one may have been meant for; "" where none is near."""
    close = get_close_matches(word.lower(), [w for w in _KNOWN_WORDS if len(w) > 2], 1, 0.65)
    if not close or close[0] == word.lower():
        return ""
    return next(
        (k for k in ACTIVES if k.lower() == close[0]),
        close[0].upper() if close[0] in ("iba", "naa", "iaa") else close[0],
    )


def has_molar_mass(key: str) -> bool:
    """Whether an active by this name is known with its molar mass."""
    return key in ACTIVES and key not in _NO_MASS
