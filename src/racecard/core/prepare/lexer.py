"""A line cut into tokens: numbers, units, names and the words that join them, each with its place.

Nothing is thrown away here. A word that is in no list is a token of its own, `unknown`, and stays
one, so that the grammar can refuse a line of which a piece was not read.
"""

import re
from dataclasses import replace
from itertools import pairwise

from racecard.core.prepare.number_words import number_words
from racecard.core.prepare.tokens import Kind, Lexed, Token
from racecard.core.prepare.vocabulary import (
    AGENTS,
    FILLER,
    MEDIA,
    NAMES,
    OTHER_NUMBERS,
    PHRASES,
    PORTIONS,
    STAGES,
    TAGS,
    UNIT_TEXT,
    UNITS_OF_NUMBERS,
    WHOSE,
)
from racecard.core.quantities import NUMBER, SIGNS, OpenComma, read_number, units_named
from racecard.errors import InvalidInput

_WORD = re.compile(r"[a-zµμäöüé]+(?:['’-][a-z]+)*\??", re.IGNORECASE)
_BAD_NUMBER = re.compile(
    r"\d+(?:[.,]\d+)?[oO](?![a-z])|(?<![a-z\d])[lI|][.,]\d+|\d*\.\.+\d*|\d+,,\d+", re.IGNORECASE
)
_GLUED = re.compile(r"([a-z]{1,5})-?\d+[a-z]*\b", re.IGNORECASE)
"""A name with a number in it that is in no list: GA9, B7."""
_NUMBER_HERE = re.compile(NUMBER)
_NAME_HERE = [
    (re.compile(rf"(?<![\w]){pattern}(?![a-z\d])", re.IGNORECASE), key)
    for pattern, key in sorted(NAMES.items(), key=lambda p: -len(p[0]))
]
_AGENT_HERE = [
    (re.compile(rf"(?<![\w]){pattern}(?![a-z])", re.IGNORECASE), key)
    for pattern, key in sorted(AGENTS.items(), key=lambda p: -len(p[0]))
]
_STAGE_HERE = [(re.compile(rf"(?<![\w]){p}(?![a-z])", re.IGNORECASE), k) for p, k in STAGES.items()]
_MEDIUM_HERE = re.compile(rf"(?<![\w])(?:{MEDIA})(?![a-z])", re.IGNORECASE)
_GRADE_HERE = re.compile(r"(?<![\d.,-])\d{1,2}(?:\.\d)?-\d{1,2}(?:\.\d)?-\d{1,2}(?:\.\d)?(?![\d-])")
_LABEL_HERE = re.compile(r"[CV][12]\s*=", re.IGNORECASE)
_POWER_HERE = re.compile(r"10\s?\^\s?(-?\d+)")
_PHRASE_HERE = re.compile(
    "|".join(
        (rf"(?<![\w]){re.escape(p)}(?![\w])" if p[0].isalnum() else re.escape(p))
        for p in sorted(PHRASES, key=len, reverse=True)
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
    out.tokens = number_words(_numbered(_stray_blanks(out.tokens)))
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
        tag = PHRASES[m[0].lower()]
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
    if mark in "x×*" or mark in TAGS:
        return Token(mark, at, at + 1, Kind.WORD, TAGS[mark])
    if mark == "~":
        return Token(mark, at, at + 1, Kind.FILLER)
    known = mark in ",;:.()?!\"'/-="
    return Token(mark, at, at + 1, Kind.MARK if known else Kind.UNKNOWN, mark)


def _is_known(word: str) -> bool:
    low = word.lower()
    return low in TAGS or low in FILLER or bool(units_named(low))


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
    m = UNIT_TEXT.match(text, at)
    if m is None:
        return None
    said = m[0].strip()
    low = re.sub(r"\s+", " ", said.lower())
    name, whose = said, ""
    if m.group("unit"):
        whose = WHOSE.get((m.group("whose") or "").lower(), "")
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
        better = units_named(f"{WHOSE.get(bracket[1].lower(), '')} {name}".strip())
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
    if low in TAGS:
        return Token(said, at, end, Kind.WORD, TAGS[low])
    if low in FILLER:
        return Token(said, at, end, Kind.FILLER)
    if low in UNITS_OF_NUMBERS or low in PORTIONS or low in OTHER_NUMBERS:
        return Token(said, at, end, Kind.WORD, f"numeral:{low}")
    if "-" in low:
        head = low.split("-", 1)[0]
        return _word(said[: len(head)], at) if head else Token(said[0], at, at + 1, Kind.MARK, "-")
    return Token(said, at, end, Kind.UNKNOWN)
