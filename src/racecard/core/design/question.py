"""One line in the grower's own words, read as what is compared, on what, and against what.

Nothing is guessed silently: what was read is shown and can be changed, and a line of which nothing
is known is asked about. The words it knows are in question_words.py.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from racecard.core.design.question_words import (
    BLOOM,
    DIVISION,
    FILLER,
    KNOWN_PLANT,
    NO_PLANT,
    NUMBERS,
    PLANTS,
    ROOTING,
    ROOTS,
    SEED,
    SHOOT,
    THINGS,
    TIME,
    TOKEN,
    UNIT,
    Thing,
)
from racecard.core.model import Kind, Outcome, Subject


class Against(StrEnum):
    """What the treatments are compared with."""

    NOTHING = "nothing"
    WATER = "plain water"
    USUAL = "the usual way"
    CARRIER = "the same without the active ingredient"


@dataclass(frozen=True, slots=True)
class Understood:
    """What was read of a line: "" and () where nothing was.

    `things` in the order of the line, which is taken as the order of interest.
    """

    kind: Kind
    subject: Subject | None
    plant: str
    things: tuple[Thing, ...]
    against: Against | None
    outcome: Outcome = Outcome.USUAL
    unread: tuple[str, ...] = ()
    """Words and numbers of the line that nobody read, in its order: they are shown, never dropped silently."""


@dataclass(slots=True)
class _Token:
    """A piece of the line: what it may be, whether anything read it, and the doses or times it tells."""

    kind: str
    text: str
    read: bool = False
    amounts: tuple[str, ...] = ()

    @property
    def low(self) -> str:
        return self.text.lower()


def read_question(line: str) -> Understood:
    """What a line asks: kind, what is compared, plant, treatments and what they are compared with.

    Args:
        line: the grower's own words, up to some hundred characters.
    """
    tokens = _tokens(line)
    plant = _plant(tokens)
    against = _control(tokens)
    things = _compared(tokens)
    against = _negated(tokens, things) or against
    is_seed = SEED.search(line) or (
        things
        and things[0].prop == "handling"
        and "cutting" not in line.lower()
        and not DIVISION.search(line)
    )
    kind = Kind.SEED if is_seed else Kind.CUTTING
    subject = things[0].subject if things else None
    if subject is Subject.HORMONE and kind is Kind.SEED:
        subject = Subject.SEED_TREATMENT
    if DIVISION.search(line) and kind is Kind.CUTTING:
        subject = Subject.DIVISION
    unread = tuple(dict.fromkeys(t.text for t in tokens if not t.read))
    return Understood(kind, subject, plant, tuple(things), against, _outcome(line, kind), unread)


def _tokens(line: str) -> list[_Token]:
    text = re.sub(
        rf"\b({'|'.join(NUMBERS)})(?= (?:{UNIT})\b)",
        lambda m: NUMBERS[m[1].lower()],
        line,
        flags=re.I,
    )
    tokens = [_Token(str(m.lastgroup), m[0]) for m in TOKEN.finditer(text)]
    for t in tokens:
        t.read = (
            t.kind in ("sep", "noun", "aside")
            or (t.kind == "word" and t.low in FILLER)
            or (t.kind == "other" and not t.text[0].isalnum())
        )
    _counts(tokens)
    _lists(tokens)
    return tokens


def _counts(tokens: list[_Token]) -> None:
    """Numbers of plants and pots are no doses: "60 rosemary cuttings", "8 pots of 5"."""
    for i, t in enumerate(tokens):
        if t.kind != "amount" or _is_full(t.text):
            continue
        near = []
        for x in tokens[i + 1 : i + 4]:
            if x.kind not in ("word", "noun"):
                break
            near.append(x)
        if any(x.kind == "noun" or x.low in ("pots", "trays", "each", "doses") for x in near):
            t.kind, t.read = "count", True


def _lists(tokens: list[_Token]) -> None:
    """Numbers beside each other, made one: the last of "500, 1000 and 2000 ppm" says the unit of all."""
    i = 0
    while i < len(tokens):
        if tokens[i].kind == "amount":
            at, end = [i], i + 1
            while True:
                j = end
                while (
                    j < len(tokens) and tokens[j].kind == "sep" and tokens[j].text not in (":", ";")
                ):
                    j += 1
                if j == end or j >= len(tokens) or tokens[j].kind != "amount":
                    break
                at.append(j)
                end = j + 1
            tokens[i:end] = _as_doses([tokens[k].text for k in at], tokens[i:end])
        i += 1


def _as_doses(said: list[str], before: list[_Token]) -> list[_Token]:
    if not any(map(_is_full, said)):
        return before
    unit = ""
    for n in range(len(said) - 1, -1, -1):
        unit = _unit_of(said[n]) or unit
        if not _is_full(said[n]) and unit:
            said[n] = f"{said[n]} {unit}"
    none = [
        x for x in said if re.match(r"0(?:\s|$|[a-z%])", x, re.I) and not re.search("°|c$", x, re.I)
    ]
    kept = tuple(_written(x) for x in said if x not in none)
    return [
        _Token("dose", " or ".join(said), amounts=kept),
        *(_Token("nothing", x) for x in none[:1]),
    ]


def _unit_of(text: str) -> str:
    match = re.search(rf"(?:{UNIT})$", text, re.I)
    return match[0] if match else ""


def _is_full(text: str) -> bool:
    return (
        ":" in text
        or text.lower() == "overnight"
        or bool(_unit_of(text))
        or bool(re.search(r"\d\s?k$", text, re.I))
    )


def _written(text: str) -> str:
    text = re.sub(r"(?<=\d),(?=\d{3}(?!\d))", "", text)
    if match := re.fullmatch(rf"(\d+(?:\.\d+)?)\s?k(?:\s?({UNIT}))?", text, re.I):
        return f"{1000 * float(match[1]):g} {match[2] or 'ppm'}"
    return re.sub(r"(?<=\d)(?=[a-z°])", " ", text, flags=re.I)


def _plant(tokens: list[_Token]) -> str:
    """The plant: one that is known, or the words before "cuttings" that nothing else claims."""
    text = " ".join(t.low if t.kind == "word" else "|" for t in tokens)
    known = sorted(KNOWN_PLANT.finditer(text), key=lambda m: -len(m[0]))
    name = known[0][0] if known else ""
    for i, t in enumerate(tokens):
        words = [
            x.low
            for x in tokens[max(0, i - 2) : i]
            if x.kind == "word" and x.low not in FILLER and x.low not in NO_PLANT
        ]
        if (
            t.kind != "noun"
            or not words
            or tokens[i - 1].low != words[-1]
            or (name and words[-1] != name)
        ):
            continue
        lead = tokens[i - 3] if i > 2 else None
        is_one = (
            lead is None
            or lead.kind in ("sep", "other")
            or lead.low in ("on", "of", "for", "my", "our", "some")
        )
        name = " ".join(words if is_one else words[-1:])
        break
    for t in tokens:
        if t.kind == "word" and t.low in name.split():
            t.kind, t.read = "plant", True
    return next((p for p in PLANTS if name in (p, f"{p}s", f"{p}es")), "") or name


_SAID = {
    "nothing": Against.NOTHING,
    "water": Against.WATER,
    "usual": Against.USUAL,
    "carrier": Against.CARRIER,
}


def _control(tokens: list[_Token]) -> Against | None:
    found = None
    for i, t in enumerate(tokens):
        if t.kind == "plain":
            before = next((x for x in reversed(tokens[:i]) if x.low not in ("with", "the")), None)
            is_beside = before is not None and before.kind == "sep" and before.low != "and"
            t.read = is_beside or (before is not None and before.low == "in")
            found = found or (Against.WATER if is_beside else None)
        elif t.kind in _SAID:
            t.read = True
            found = found if found is Against.NOTHING else _SAID[t.kind]
    return found


def _compared(tokens: list[_Token]) -> list[Thing]:
    """The treatments in the order of the line, each with its dose or time; those of which it says no are left out."""
    out: list[Thing] = []
    named: dict[Thing, _Token] = {}
    last: Thing | None = None
    for i, t in enumerate(tokens):
        more: list[Thing] = []
        if t.kind == "dose" and not t.read and last is not None and not _is_led(tokens, i):
            lead = tokens[i - 1]
            has_make = lead.kind == "make" and not lead.read
            lead.read |= has_make
            more = _with_doses(tokens, last, lead.text if has_make else "", t, i)
        elif t.kind == "thing" and not t.read and not _is_aside(tokens, i):
            thing = _named(t.text)
            make, end = _make(tokens, i)
            if _is_unheard(tokens, end):
                continue
            t.read = True
            said = _beside(tokens, i, -1) or _beside(tokens, end, 1)
            more = _with_doses(tokens, thing, make, said, end)
            if _is_mixed_in(tokens, i) and len(more) == 1 and out:
                more = [_mixed(out[-1], more[0])]
                if tokens[i - 1].kind != "no":
                    out.pop()
            more += [
                replace(thing, name=m.capitalize(), make=m.lower())
                for m in _other_makes(tokens, end, thing)
            ]
            last = thing
        out += more
        named |= {m: t for m in more}
    out = list(dict.fromkeys(out))
    main = [t for t in out if t.prop not in ("container", "type")] or out
    for x in out:
        if x not in main and x in named:
            named[x].read = False
    return _with_both(tokens, main)


def _with_doses(
    tokens: Sequence[_Token], thing: Thing, make: str, said: _Token | None, end: int
) -> list[Thing]:
    """The thing once for each dose; one dose may have a time behind it."""
    if said is None:
        return [_dosed(thing, make, "")]
    said.read = True
    more = [_dosed(thing, make, a) for a in said.amounts]
    at = next(k for k, x in enumerate(tokens) if x is said)
    later = _beside(tokens, max(end, at), 1)
    if later and len(more) == len(later.amounts) == 1:
        later.read = True
        more = [_dosed(more[0], "", later.amounts[0])]
    return more


def _other_makes(tokens: Sequence[_Token], end: int, thing: Thing) -> list[str]:
    """Further makes of a hormone that stand alone: "rooting powder, gel or neither"."""
    out = []
    while (
        thing.is_hormone
        and end + 2 < len(tokens)
        and tokens[end + 1].kind == "sep"
        and tokens[end + 2].kind == "make"
    ):
        if end + 3 < len(tokens) and tokens[end + 3].kind in ("dose", "thing"):
            break
        out.append(tokens[end + 2].text)
        tokens[end + 2].read = True
        end += 2
    return out


def _is_unheard(tokens: Sequence[_Token], end: int) -> bool:
    """Whether a number or a rhythm right behind it was not understood, so that nobody can say how much is meant."""
    after = tokens[end + 1] if end + 1 < len(tokens) else None
    return after is not None and (
        after.low == "every" or (after.kind in ("other", "amount") and after.text[0].isdigit())
    )


def _is_mixed_in(tokens: Sequence[_Token], i: int) -> bool:
    """Whether it is part of the one before: "IBA with NAA", "50:50 peat and perlite", "with and without wounding"."""
    if (
        i > 2
        and tokens[i - 1].kind == "no"
        and tokens[i - 2].low == "and"
        and tokens[i - 3].low == "with"
    ):
        return True
    k = i - 2
    is_medium = (
        i > 2
        and tokens[i - 1].low == "and"
        and tokens[k].kind == "thing"
        and _named(tokens[k].text).prop == "medium"
    )
    if is_medium and any(":" in a for a in tokens[k - 1].amounts):
        return True
    return _is_joined(tokens, i)


def _is_aside(tokens: Sequence[_Token], i: int) -> bool:
    """Whether it is denied, only a place, or only the manner of another: "soaked in seaweed", "GA3 soaks", "five per pot"."""
    t = tokens[i]
    thing = _named(t.text)
    before = next(
        (x for x in reversed(tokens[:i]) if x.low not in ("any", "the", "a", "from", "in")), None
    )
    is_crossed = i > 2 and tokens[i - 2].low == "and" and tokens[i - 3].low == "with"
    if before is not None and before.kind == "no":
        return not is_crossed
    if (
        thing.prop == "medium"
        and i > 1
        and tokens[i - 1].low in ("the", "their")
        and tokens[i - 2].low == "in"
    ):
        t.read = True
        return True
    if thing.prop == "wetting" or thing.value == "primed":
        after = next((x for x in tokens[i + 1 :] if x.low not in ("in", "with")), None)
        near = (
            tokens[i - 1] if i else None,
            after if i + 1 < len(tokens) and tokens[i + 1].low in ("in", "with") else None,
        )
        t.read = any(
            x is not None and x.kind == "thing" and _named(x.text).prop == "active" for x in near
        )
        return t.read
    return thing.prop == "container" and before is not None and before.low == "per"


def _named(text: str) -> Thing:
    low = re.sub(r"[\s-]+", " ", text.lower())
    return next(
        THINGS[n]
        for n in (low, low.removesuffix("s"), text.lower(), text.lower().removesuffix("s"))
        if n in THINGS
    )


def _dosed(thing: Thing, make: str, dose: str) -> Thing:
    is_dose = thing.prop == "active" and dose and not TIME.search(dose)
    return replace(
        thing, name=" ".join(filter(None, (thing.name, make, dose))), make=make.lower() or thing.make,
        strength=dose if is_dose else thing.strength,
    )  # fmt: skip


def _mixed(a: Thing, b: Thing) -> Thing:
    return replace(a, name=f"{a.name} + {b.name}", value=f"{a.value} and {b.value}")


_BETWEEN = ("at", "of", "for", "in", "to", "a", "the", "(", "her", "my")


def _beside(tokens: Sequence[_Token], i: int, step: int) -> _Token | None:
    """The dose right before or behind a thing, with nothing but "of", "at" or "cuttings" between."""
    j = i + step
    while 0 <= j < len(tokens) and (
        tokens[j].low in _BETWEEN or (tokens[j].kind in ("noun", "plant") and step > 0)
    ):
        j += step
    return (
        tokens[j]
        if 0 <= j < len(tokens) and tokens[j].kind == "dose" and not tokens[j].read
        else None
    )


def _is_led(tokens: Sequence[_Token], i: int) -> bool:
    """Whether a dose goes before the thing it is of."""
    j = i + 1
    while j < len(tokens) and tokens[j].low in _BETWEEN:
        j += 1
    return j < len(tokens) and tokens[j].kind == "thing"


def _make(tokens: Sequence[_Token], i: int) -> tuple[str, int]:
    """Powder, gel and the like behind a thing, and where it ends."""
    if i + 1 < len(tokens) and (tokens[i + 1].kind == "make" or tokens[i + 1].low == "talc"):
        tokens[i + 1].kind, tokens[i + 1].read = "make", True
        return tokens[i + 1].text, i + 1
    return "", i


def _is_joined(tokens: Sequence[_Token], i: int) -> bool:
    j = i - 1
    while j >= 0 and (tokens[j].kind == "dose" or tokens[j].low in ("a", "the")):
        j -= 1
    if j < 1 or tokens[j].kind != "join" or tokens[j - 1].kind not in ("thing", "make", "dose"):
        return False
    tokens[j].read = True
    return True


def _with_both(tokens: Sequence[_Token], out: list[Thing]) -> list[Thing]:
    """The mixture that "both" or "together" asks for, beside its parts; a mix of two media is one."""
    said = {t.low for t in tokens if t.kind == "both"}
    if not said or len(out) < 2:
        return out
    for t in tokens:
        t.read |= t.kind == "both"
    return (
        [*out[:-2], _mixed(out[-2], out[-1])]
        if said & {"mix", "mixture"}
        else [*out, _mixed(out[0], out[1])]
    )


def _negated(tokens: Sequence[_Token], things: Sequence[Thing]) -> Against | None:
    """The control that a denial makes: "no mat" beside a mat, "without" at the end; anything else denied is only left out."""
    found = None
    for i, t in enumerate(tokens):
        if t.kind == "join":
            t.read |= t.low == "with"
        if t.kind != "no":
            continue
        t.read = True
        if i > 1 and tokens[i - 1].low == "and" and tokens[i - 2].low == "with":
            continue
        after = next((x for x in tokens[i + 1 :] if x.low not in ("any", "the", "a")), None)
        before = tokens[i - 1] if i else None
        if after is not None and after.kind == "thing":
            after.read = True
            named = _named(after.text)
            is_named = any(named.value == x.value for x in things)
            is_side = before is not None and before.kind == "sep" and before.low not in (",", "and")
            if t.low == "instead of":
                found = Against.USUAL
            elif is_named or is_side or named.is_hormone:
                found = found or Against.NOTHING
        elif (
            after is None
            or after.kind in ("other", "sep")
            or (t.low in ("no", "without") and before is not None and before.kind == "sep")
        ):
            if after is not None and after.kind == "word":
                after.read = any(after.low in x.name.lower() for x in things)
            found = found or Against.NOTHING
    return found


def _outcome(line: str, kind: Kind) -> Outcome:
    """What is watched for, where the line says it: bloom, shoots, bulblets; roots where it speaks of them."""
    if ROOTS.search(ROOTING.sub("", line)):
        return Outcome.USUAL
    if BLOOM.search(line):
        return Outcome.BLOOM
    if kind is Kind.CUTTING and SHOOT.search(line):
        return Outcome.SHOOT
    return Outcome.BULB if kind is Kind.CUTTING and DIVISION.search(line) else Outcome.USUAL


def thing_of(name: str) -> Thing:
    """A treatment by the name a grower gives it: what it is known as, else an active ingredient of that name."""
    known = _things(name)
    if not known:
        return Thing(name, "active", name.lower(), Subject.HORMONE)
    return replace(known[0], name=name)


def _things(text: str) -> list[Thing]:
    return _compared(_tokens(text))


def against_of(right: str) -> Against | None:
    """What is compared with, in words such as "plain water" or "untreated"; None where they do not say."""
    return _control(_tokens(right))


def plant_in(line: str) -> str:
    """The plant that a line names; "" where it names none that is known."""
    return _plant(_tokens(line))
