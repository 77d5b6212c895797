"""One line in the grower's own words, read as what is compared, on what, and against what.

Nothing is guessed silently: what was read is shown and can be changed, and a line of which nothing
is known is asked about. The lists hold active ingredients and ways of the trade, no products.
"""

import re
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
        "humic acid", "fulvic acid", "thiamine", "hydrogen peroxide", "smoke water", "compost tea", "potassium nitrate", "feed", "fertiliser", "fertilizer", "bone meal", "bleach",
    ),
    "kno3": Thing("KNO3", "active", "potassium nitrate", Subject.HORMONE, is_liquid=True),
    **_active("cinnamon", "charcoal", "sulphur", "sulfur", "wood ash", "talc", liquid=False),
    **_of(Subject.SEED_TREATMENT, "wetting", soaked="Soaked", soak="Soaked", soaking="Soaked", hot_water="Hot water"),
    **_of(Subject.SEED_TREATMENT, "handling", nicked="Nicked", nicking="Nicked", filed="Filed", scarified="Scarified", scratched="Scratched", scratching="Scratched",
          sanded="Sanded", chilled="Chilled", chilling="Chilled", stratified="Stratified", smoke="Smoked"),
    **_of(Subject.CUTTING_TYPE, "type", heel="Heel", nodal="Nodal", node="Nodal", internodal="Internodal", basal="Basal",
          leaf_bud="Leaf-bud", single_node="Single node", softwood="Softwood", semi_ripe="Semi-ripe",
          hardwood="Hardwood", tip="Tip"),
    **_of(Subject.MEDIUM, "medium", perlite="Perlite", vermiculite="Vermiculite", coir="Coir", peat="Peat", sand="Sand",
          bark="Bark", compost="Compost", rockwool="Rockwool", grit="Grit"),
    **_of(Subject.CONDITION, "temperature", bottom_heat="Bottom heat", heat_mat="Heat mat", warmth="Warm",
          warmer="Warmer", warm="Warm", cold="Cold", cooler="Cooler"),
    **_of(Subject.CONDITION, "cover", dome="Dome", covered="Covered", cover="Covered", bag="Bag", mist="Mist"),
    **_of(Subject.CONDITION, "light", shade="Shade", darkness="Dark", dark="Dark", light="Light"),
    **_of(Subject.CONTAINER, "container", jar="In a jar", pot="In a pot", cell="In a cell", tray="In a tray"),
    **_of(Subject.GROWTH, "handling", fed="Fed", feeding="Fed", pinched="Pinched"),
}  # fmt: skip
_THING = re.compile(rf"^\s*(?:of\s+)?(?:{'|'.join(map(re.escape, _THINGS))})\b", re.I)
_PLANTS = (
    "rosemary", "lavender", "sage", "thyme", "mint", "basil", "bay", "olive", "fig", "grape", "vine", "rose", "camellia",
    "hydrangea", "fuchsia", "pelargonium", "geranium", "box", "yew", "holly", "willow", "dogwood", "elder", "currant",
    "blueberry", "citrus", "lemon", "apple", "pear", "plum", "cherry", "tomato", "pepper", "chilli", "aubergine",
    "lettuce", "radish", "carrot", "parsley", "celery", "spinach", "beet", "pea", "sweet pea", "bean", "cabbage", "onion",
    "leek", "cucumber", "squash", "pumpkin", "melon", "sunflower", "acacia", "pine", "oak", "maple", "birch", "tulip",
    "lily", "daffodil", "garlic", "dahlia", "iris", "begonia", "coleus", "monstera", "pothos", "succulent", "azalea",
    "rhododendron", "magnolia", "jasmine", "honeysuckle", "clematis", "chrysanthemum", "carnation", "salvia", "verbena",
)  # fmt: skip
_AGAINST = re.compile(
    r"\b(?:than|against|versus|vs\.?|compared (?:with|to)|(?:or|and) (?:nothing|none|untreated)|or (?:(?:plain|tap|rain) )?water)\b",
    re.I,
)
_SEED = re.compile(
    r"\b(?:seeds?|sown?|sowing|germinat\w*|emerge\w*|come up|comes up|sprout\w*)\b", re.I
)
_BLOOM = re.compile(r"\b(?:blooms?|blooming|flowers?|flowering)\b", re.I)
_ROOTS = re.compile(r"\b(?:roots?|rooted|rooting|strike|struck|germinat\w*|emerge\w*)\b", re.I)
_ROOTING = re.compile(r"\brooting (?:hormone|powder|gel)\b", re.I)
_SHOOT = re.compile(r"\b(?:shoots?|bud break|sprouts?|sprouting|break bud)\b", re.I)
_DIVISION = re.compile(r"\b(?:bulbs?|corms?|scales?|divisions?|offsets?|tubers?)\b", re.I)
_HOW_MUCH = r"\d[\d.,]*\s*(?:ppm|%|mg/l)"
_STRENGTH = re.compile(
    rf"^\s*(?:(powder|talc|gel|liquid|dip|quick-dip)\b)?\s*(?:at\s+|of\s+)?({_HOW_MUCH})?", re.I
)
_FURTHER = re.compile(
    rf"^\s*(?:,|/|or\b|and\b)\s*(?:(?:or|and)\s+)?(powder|gel|liquid)?\s*({_HOW_MUCH})?", re.I
)
_STRENGTH_BEFORE = re.compile(rf"({_HOW_MUCH})\s+(?:of\s+)?$", re.I)
_BEFORE_NOUN = re.compile(
    r"\b([a-z][a-z'-]+(?: pea)?)\s+(?:cuttings?|seeds?|bulbs?|corms?|tips?|shoots?|stems?|divisions?)\b",
    re.I,
)
_NO_PLANT = {
    "my", "the", "of", "do", "does", "will", "our", "these", "more", "heel", "nodal", "internodal", "basal", "softwood",
    "hardwood", "semi-ripe", "leaf-bud", "tip", "stem", "node", "soaked", "nicked", "dry", "fresh", "old", "with", "for",
    "soaking", "nicking", "chilled", "filed", "and", "or", "fewer", "many", "chilling", "shoot", "root", "in",
}  # fmt: skip


def read_question(line: str) -> Understood:
    """What a line asks: kind, what is compared, plant, treatments and what they are compared with.

    Args:
        line: the grower's own words, up to some hundred characters.
    """
    split = _AGAINST.search(line)
    left, right = (line[: split.start()], line[split.start() :]) if split else (line, "")
    things = _things(left)
    beside = [t for t in _things(right) if t not in things]
    if beside and not against_of(right):
        things, beside = (*things, *beside), []
    kind = Kind.SEED if _SEED.search(line) else Kind.CUTTING
    subject = things[0].subject if things else None
    if subject is Subject.HORMONE and kind is Kind.SEED:
        subject = Subject.SEED_TREATMENT
    if _DIVISION.search(line) and kind is Kind.CUTTING:
        subject = Subject.DIVISION
    return Understood(
        kind, subject, plant_in(line), things, against_of(right), _outcome(line, kind)
    )


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


def _things(text: str) -> tuple[Thing, ...]:
    """What can be compared, in the order it stands; the longest name where one holds another."""
    found: list[tuple[int, int, tuple[Thing, ...]]] = []
    for name, thing in _THINGS.items():
        pattern = re.escape(name).replace(r"\ ", r"[\s-]+")
        for hit in re.finditer(rf"\b{pattern}\b", text, re.I):
            named = _by_strength(thing, text[: hit.start()], text[hit.end() :])
            found.append((hit.start(), hit.end(), named))
    found.sort(key=lambda f: (f[0], -f[1]))
    out: list[Thing] = []
    end = -1
    for start, stop, named in found:
        if start >= end and named[0] not in out:
            out += named
            end = stop
    main = [t for t in out if t.prop not in ("container", "type")] or out
    return tuple(t for t in main if not (t.name == "Tip" and len(main) > 1))


def _by_strength(thing: Thing, before: str, after: str) -> tuple[Thing, ...]:
    """The thing with its make and strength in its name, once for each that follows: "IBA 1000 ppm, 3000 ppm"."""
    if thing.prop != "active":
        return (thing,)
    said, led = _STRENGTH.match(after), _STRENGTH_BEFORE.search(before)
    assert said, "every part of it may be missing"
    make, strength = said.groups("")
    found = [(make, strength or (led[1] if led else ""))]
    rest = after[said.end() :]
    while any(found[0]) and (more := _FURTHER.match(rest)) and any(more.groups()):
        if _THING.match(rest[more.end() :]):  # "2 % honey or 3 % cinnamon"
            break
        found.append((more.group(1) or make, more.group(2) or ""))
        rest = rest[more.end() :]
    return tuple(
        replace(
            thing, name=" ".join(filter(None, (thing.name, *f))), make=f[0].lower(), strength=f[1]
        )
        for f in found
    )


def against_of(right: str) -> Against | None:
    """What is compared with, in words such as "plain water" or "untreated"; None where they do not say."""
    text = right.lower()
    if re.search(r"\b(?:nothing|none|untreated|without|dry|no treatment|control)\b", text):
        return Against.NOTHING
    if re.search(r"\b(?:plain|tap|rain|only|just|distilled)?\s*water\b", text) and not _things(
        right
    ):
        return Against.WATER
    if re.search(r"\b(?:usual|normal|always|ordinary)\b", text):
        return Against.USUAL
    if re.search(r"\b(?:alone|carrier|blank)\b", text):
        return Against.CARRIER
    return None


def plant_in(line: str) -> str:
    """The plant that a line names; "" where it names none that is known."""
    low = line.lower()
    named = [p for p in _PLANTS if re.search(rf"\b{p}(?:s|es)?\b", low)]
    if "willow" in named and re.search(r"willow (?:water|tea)", low):
        named.remove("willow")
    if named:
        return max(named, key=len)
    for hit in _BEFORE_NOUN.finditer(line):
        if hit[1].lower() not in _NO_PLANT and hit[1].lower() not in _THINGS:
            return hit[1].lower()
    return ""
