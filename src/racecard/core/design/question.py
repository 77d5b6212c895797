"""One line in the grower's own words, read as what is compared, on what, and against what.

Nothing is guessed silently: what was read is shown and can be changed, and a line of which nothing
is known is asked about. The lists hold active ingredients and ways of the trade, no products.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from racecard.core.model import Kind, Outcome, Subject


class Against(StrEnum):
    """What the treatments are compared with."""

    NOTHING = "nothing"
    WATER = "plain water"
    USUAL = "the usual way"
    CARRIER = "the same without the active ingredient"


@dataclass(frozen=True, slots=True)
class Thing:
    """Something that can be compared: its name on the page, the property it is, and its subject.

    `make`: powder, gel and the like, `strength`: how strong, where the words say it; "" else.
    """

    name: str
    prop: str
    value: str
    subject: Subject
    is_hormone: bool = False
    is_liquid: bool = False
    make: str = ""
    strength: str = ""


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


def _active(*names: str, liquid: bool = True) -> dict[str, Thing]:
    return {
        name: Thing(name.capitalize(), "active", name, Subject.HORMONE, is_liquid=liquid)
        for name in names
    }


def _of(subject: Subject, prop: str, **named: str) -> dict[str, Thing]:
    return {
        words.replace("_", " "): Thing(name, prop, name.lower(), subject)
        for words, name in named.items()
    }


_HORMONE = {
    name: Thing(shown, "active", shown, Subject.HORMONE, is_hormone=True)
    for name, shown in (
        ("k-iba", "K-IBA"), ("iba", "IBA"), ("naa", "NAA"), ("iaa", "IAA"), ("ga3", "GA3"),
        ("gibberellic acid", "GA3"), ("rooting hormone", "Rooting hormone"), ("rooting powder", "Rooting powder"),
        ("rooting gel", "Rooting gel"), ("hormone", "Hormone"), ("auxin", "Auxin"),
    )
}  # fmt: skip
_THINGS: dict[str, Thing] = {
    **_HORMONE,
    **_active(
        "seaweed", "kelp", "coconut water", "willow water", "willow tea", "honey", "aloe", "yeast", "sugar", "vinegar",
        "aspirin", "humic acid", "fulvic acid", "thiamine", "hydrogen peroxide", "smoke water", "compost tea", "potassium nitrate", "feed", "fertiliser", "fertilizer", "bone meal", "bleach",
    ),
    "kno3": Thing("KNO3", "active", "potassium nitrate", Subject.HORMONE, is_liquid=True),
    **_active("cinnamon", "charcoal", "sulphur", "sulfur", "wood ash", "talc", liquid=False),
    **_of(Subject.SEED_TREATMENT, "wetting", soaked="Soaked", soak="Soaked", soaks="Soaked", soaking="Soaked", hot_water="Hot water"),
    **_of(Subject.SEED_TREATMENT, "handling", nicked="Nicked", nicking="Nicked", filed="Filed", scarified="Scarified", scratched="Scratched", scratching="Scratched",
          sanded="Sanded", chilled="Chilled", chilling="Chilled", primed="Primed", stratified="Stratified", smoke="Smoked"),
    **_of(Subject.CUTTING_TYPE, "type", heel="Heel", nodal="Nodal", node="Nodal", internodal="Internodal", basal="Basal",
          leaf_bud="Leaf-bud", single_node="Single node", softwood="Softwood", semi_ripe="Semi-ripe",
          hardwood="Hardwood", tip="Tip", two_node="Two node"),
    **_of(Subject.CUTTING_TYPE, "wounding", wounding="Wounding", wounded="Wounding"),
    **_of(Subject.MEDIUM, "medium", perlite="Perlite", vermiculite="Vermiculite", coir="Coir", peat="Peat", sand="Sand",
          bark="Bark", compost="Compost", rockwool="Rockwool", grit="Grit", sphagnum_moss="Sphagnum moss"),
    **_of(Subject.CONDITION, "temperature", bottom_heat="Bottom heat", heat_mat="Heat mat", warmth="Warm",
          warmer="Warmer", warm="Warm", cold="Cold", cooler="Cooler"),
    **_of(Subject.CONDITION, "cover", dome="Dome", covered="Covered", cover="Covered", bag="Bag", mist="Mist"),
    **_of(Subject.CONDITION, "light", shade="Shade", darkness="Dark", dark="Dark", light="Light"),
    **_of(Subject.CONTAINER, "container", jar="In a jar", pot="In a pot", cell="In a cell", tray="In a tray"),
    **_of(Subject.GROWTH, "handling", fed="Fed", feeding="Fed", pinched="Pinched"),
}  # fmt: skip
_PLANTS = (
    "rosemary", "lavender", "sage", "thyme", "mint", "basil", "bay", "olive", "fig", "grape", "vine", "rose", "camellia",
    "hydrangea", "fuchsia", "pelargonium", "geranium", "box", "yew", "holly", "willow", "dogwood", "elder", "currant",
    "blueberry", "citrus", "lemon", "apple", "pear", "plum", "cherry", "tomato", "pepper", "chilli", "aubergine",
    "lettuce", "radish", "carrot", "parsley", "celery", "spinach", "beet", "pea", "sweet pea", "bean", "cabbage", "onion",
    "leek", "cucumber", "squash", "pumpkin", "melon", "sunflower", "acacia", "pine", "oak", "maple", "birch", "tulip",
    "lily", "daffodil", "garlic", "dahlia", "iris", "begonia", "coleus", "monstera", "pothos", "succulent", "azalea",
    "rhododendron", "magnolia", "jasmine", "honeysuckle", "clematis", "lemon verbena", "rose geranium", "bay laurel", "witch hazel", "primula", "gentian", "thuja", "juniper", "protea", "chrysanthemum", "carnation", "salvia", "verbena",
)  # fmt: skip
_SEED = re.compile(
    r"\b(?:seeds?|sown?|sowing|germinat\w*|emerge\w*|come up|comes up|sprout\w*|seedlings?)\b", re.I
)
_BLOOM = re.compile(r"\b(?:blooms?|blooming|flowers?|flowering)\b", re.I)
_ROOTS = re.compile(r"\b(?:roots?|rooted|rooting|strike|struck|germinat\w*|emerge\w*)\b", re.I)
_ROOTING = re.compile(r"\brooting (?:hormone|powder|gel)\b", re.I)
_SHOOT = re.compile(r"\b(?:shoots?|bud break|sprouts?|sprouting|break bud)\b", re.I)
_DIVISION = re.compile(
    r"\b(?:bulbs?|corms?|scales?|divisions?|offsets?|tubers?|cloves?|scaling)\b", re.I
)
_TIME = re.compile(
    r"(?:h|hours?|hrs?|days?|weeks?|wks?|s|secs?|seconds?|mins?|minutes?)$|overnight", re.I
)
_KNOWN = re.compile(
    rf"(?<![\w-])(?:{'|'.join(sorted(map(re.escape, _PLANTS), key=len, reverse=True))})(?:s|es)?(?![\w-])"
)
_NO_PLANT = {
    "my", "the", "of", "do", "does", "will", "our", "these", "more", "heel", "nodal", "internodal", "basal", "softwood",
    "hardwood", "semi-ripe", "leaf-bud", "tip", "stem", "node", "soaked", "nicked", "dry", "fresh", "old", "with", "for",
    "soaking", "nicking", "chilled", "filed", "and", "or", "fewer", "many", "chilling", "shoot", "root", "in",
}  # fmt: skip
_NUMBER = {
    "one": "1",
    "two": "2",
    "three": "3",
    "four": "4",
    "five": "5",
    "six": "6",
    "eight": "8",
    "ten": "10",
    "twelve": "12",
}
_UNIT = (
    r"ppm|%|per ?cent|mg ?/ ?l|ml ?/ ?l|g ?/ ?l|mm(?=\b)|µm|°c|°f|c(?=\b)|hours?|hrs?|h(?=\b)|days?|weeks?|wks?|"
    r"seconds?|secs?|s(?=\b)|minutes?|mins?|min(?=\b)|cm"
)
_THING_WORDS = "|".join(
    sorted((re.escape(n).replace(r"\ ", r"[\s-]+") for n in _THINGS), key=len, reverse=True)
)
_NONE = (
    r"nothing(?: at all)?|none(?: as control)?|neither|untreated|undipped|unsoaked|unwounded|not soaked|not (?=$|[,.?])|"
    r"no treatment|as control|(?:sowing|sow|sown) (?:them )?dry|dry|left alone|(?:just )?leaving them(?: alone)?|straight in"
)
_TOKEN = re.compile(
    rf"(?P<solvent>in (?:a )?(?:\d+ ?% )?(?:alcohol|ethanol)\b)|"
    rf"(?P<carrier>(?:plain talc|talc (?:alone|without (?:any )?hormone)|(?:the )?(?:\d+ ?% )?(?:alcohol|ethanol) (?:alone|only|by itself)|blank|carrier)\b)|"
    rf"(?P<usual>(?:the )?(?:usual|normal|ordinary)(?: (?:way|compost|stem cuttings|stem|potting mix))?\b|as always\b)|"
    rf"(?P<nothing>(?:{_NONE})\b)|"
    rf"(?P<water>(?:plain|tap|rain|distilled|just) water(?: only)?\b|water (?:only|alone|soak)\b|the same water(?: without it)?\b)|"
    rf"(?P<thing>(?:{_THING_WORDS})s?\b)|"
    rf"(?P<amount>(?:\d+:\d+|(?:\d{{1,3}}(?:,\d{{3}})+|\d+(?:[.,]\d+)?)\s?k?(?:\s?(?:{_UNIT}))?|overnight)(?![\w]))|"
    rf"(?P<plain>water\b)|"
    rf"(?P<no>(?:no|not|without|except|don'?t want|instead of)\b)|"
    rf"(?P<join>mixed with\b|together with\b|plus\b|with\b|\+)|"
    rf"(?P<both>(?:together|both|mix|mixture)\b)|"
    rf"(?P<sep>(?:vs|versus|against|than|beats?|compared (?:with|to)|or|and|v(?=\s))\b\.?|[,/;&:])|"
    rf"(?P<make>(?:powder|gel|liquid|quick-dip|dip)s?\b)|"
    rf"(?P<noun>(?:cuttings?|seeds?|bulbs?|corms?|tubers?|divisions?|seedlings?|cloves?|offsets?|scales?|scaling)\b)|"
    rf"(?P<word>[^\W\d_][\w'’-]*)|(?P<other>\d\w*|\S)",
    re.I,
)
_FILLER = frozenset(
    "a about after all already always am an any anything are as at away be been best better between but by can come comes "
    "coming compare compared control cutting do does doing each else ever every faster first for from fewer gave germinate "
    "germinates germination get gets getting give gives go going good grow growing grows had has have having help helping helps her "
    "here him how i if in into is it its just know like long longer longest made make makes many me mine more most much my "
    "of off on once our ours out over own per please pure put quicker quickly really root rooted rooting roots seem set "
    "shoot shoots should so some sooner sow sowing sown sprout sprouts stick stuck strike struck taken take tell that the their "
    "them then there these they thing this those time to too treated trial try trying up use used using want wanted was we were what "
    "when where whether which while who will wonder wondered wondering work works would year yes you your i'd i'll i've it's that's "
    "emerge emerges bloom blooms flower flowers flowering dipped dipping well only alone "
    "pot pots tray trays percent same start started spring summer autumn winter dozen doses".split()
)


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
    is_seed = _SEED.search(line) or (
        things
        and things[0].prop == "handling"
        and "cutting" not in line.lower()
        and not _DIVISION.search(line)
    )
    kind = Kind.SEED if is_seed else Kind.CUTTING
    subject = things[0].subject if things else None
    if subject is Subject.HORMONE and kind is Kind.SEED:
        subject = Subject.SEED_TREATMENT
    if _DIVISION.search(line) and kind is Kind.CUTTING:
        subject = Subject.DIVISION
    unread = tuple(dict.fromkeys(t.text for t in tokens if not t.read))
    return Understood(kind, subject, plant, tuple(things), against, _outcome(line, kind), unread)


def _tokens(line: str) -> list[_Token]:
    text = re.sub(
        rf"\b({'|'.join(_NUMBER)})(?= (?:{_UNIT})\b)",
        lambda m: _NUMBER[m[1].lower()],
        line,
        flags=re.I,
    )
    tokens = [_Token(str(m.lastgroup), m[0]) for m in _TOKEN.finditer(text)]
    for t in tokens:
        t.read = (
            t.kind in ("sep", "noun", "make", "solvent")
            or (t.kind == "word" and t.low in _FILLER)
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
    none = [x for x in said if re.match(r"0(?:\s|$|[a-z%])", x, re.I)]
    kept = tuple(_written(x) for x in said if x not in none)
    return [
        _Token("dose", " or ".join(said), amounts=kept),
        *(_Token("nothing", x) for x in none[:1]),
    ]


def _unit_of(text: str) -> str:
    match = re.search(rf"(?:{_UNIT})$", text, re.I)
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
    if match := re.fullmatch(rf"(\d+)\s?k(?:\s?({_UNIT}))?", text, re.I):
        return f"{match[1]}000 {match[2] or 'ppm'}"
    return re.sub(r"(?<=\d)(?=[a-z°])", " ", text, flags=re.I)


def _plant(tokens: list[_Token]) -> str:
    """The plant: one that is known, or the words before "cuttings" that nothing else claims."""
    text = " ".join(t.low if t.kind == "word" else "|" for t in tokens)
    known = sorted(_KNOWN.finditer(text), key=lambda m: -len(m[0]))
    name = known[0][0] if known else ""
    for i, t in enumerate(tokens):
        words = [
            x.low
            for x in tokens[max(0, i - 2) : i]
            if x.kind == "word" and x.low not in _FILLER and x.low not in _NO_PLANT
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
    return next((p for p in _PLANTS if name in (p, f"{p}s", f"{p}es")), "") or name


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
            more = _with_doses(tokens, last, "", t, i)
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
        _THINGS[n]
        for n in (low, low.removesuffix("s"), text.lower(), text.lower().removesuffix("s"))
        if n in _THINGS
    )


def _dosed(thing: Thing, make: str, dose: str) -> Thing:
    is_dose = thing.prop == "active" and dose and not _TIME.search(dose)
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
    if _ROOTS.search(_ROOTING.sub("", line)):
        return Outcome.USUAL
    if _BLOOM.search(line):
        return Outcome.BLOOM
    if kind is Kind.CUTTING and _SHOOT.search(line):
        return Outcome.SHOOT
    return Outcome.BULB if kind is Kind.CUTTING and _DIVISION.search(line) else Outcome.USUAL


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
    text = right.lower()
    if re.search(r"\b(?:nothing|none|untreated|without|dry|no treatment|control)\b", text):
        return Against.NOTHING
    if re.search(r"\bwater\b", text) and not _things(right):
        return Against.WATER
    return _control(_tokens(right))


def plant_in(line: str) -> str:
    """The plant that a line names; "" where it names none that is known."""
    return _plant(_tokens(line))
