"""Numbers in words: twenty-five, one hundred and fifty, one and a half, half a litre."""

from racecard.core.prepare.tokens import Kind, Token
from racecard.core.prepare.vocabulary import PORTIONS, UNITS_OF_NUMBERS


def number_words(tokens: list[Token]) -> list[Token]:
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
            *PORTIONS,
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
        if name in UNITS_OF_NUMBERS and tokens[j].kind is Kind.WORD:
            part += UNITS_OF_NUMBERS[name]
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
        elif name == "point" and j + 1 < len(tokens) and _name(tokens[j + 1]) in UNITS_OF_NUMBERS:
            digits = ""
            j += 1
            while (
                j < len(tokens)
                and _name(tokens[j]) in UNITS_OF_NUMBERS
                and UNITS_OF_NUMBERS[_name(tokens[j])] < 10
            ):
                digits += str(UNITS_OF_NUMBERS[_name(tokens[j])])
                j += 1
            return total + part + float(f"0.{digits}"), j
        elif name in PORTIONS and tokens[j].kind is Kind.WORD:
            share = PORTIONS[name]
            value = (total + part) * share if any_said else share
            return value, _past_of_a(tokens, j + 1)
        elif (
            name == "and"
            and any_said
            and j + 1 < len(tokens)
            and _goes_on(tokens, j + 1, part or total)
        ):
            after_and = _numeral(tokens, j + 1)
            if after_and is None:
                break
            return total + part + after_and[0], after_and[1]
        else:
            break
        j += 1
    return (total + part, j) if any_said else None


def _goes_on(tokens: list[Token], i: int, part: float) -> bool:
    """Whether a number goes on after “and”: one hundred and fifty, one and a half."""
    name = _name(tokens[i])
    if name in ("a", "an"):
        return i + 1 < len(tokens) and _name(tokens[i + 1]) in PORTIONS
    return name in PORTIONS or (part >= 100 and name in UNITS_OF_NUMBERS)


def _past_of_a(tokens: list[Token], i: int) -> int:
    """Past the “of a” of half of a litre, where a unit follows."""
    j = i
    while j < len(tokens) and tokens[j].text.lower() in ("of", "a", "an"):
        j += 1
    return j if j < len(tokens) and tokens[j].kind is Kind.UNIT else i
