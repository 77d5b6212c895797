"""The words of a trial's question: what can be compared, plants, controls, and filler that says nothing.

The lists hold active ingredients and ways of the trade, no products.
"""

import re
from dataclasses import dataclass

from racecard.core.model import Subject


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
THINGS: dict[str, Thing] = {
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
PLANTS = (
    "rosemary", "lavender", "sage", "thyme", "mint", "basil", "bay", "olive", "fig", "grape", "vine", "rose", "camellia",
    "hydrangea", "fuchsia", "pelargonium", "geranium", "box", "yew", "holly", "willow", "dogwood", "elder", "currant",
    "blueberry", "citrus", "lemon", "apple", "pear", "plum", "cherry", "tomato", "pepper", "chilli", "aubergine",
    "lettuce", "radish", "carrot", "parsley", "celery", "spinach", "beet", "pea", "sweet pea", "bean", "cabbage", "onion",
    "leek", "cucumber", "squash", "pumpkin", "melon", "sunflower", "acacia", "pine", "oak", "maple", "birch", "tulip",
    "lily", "daffodil", "garlic", "dahlia", "iris", "begonia", "coleus", "monstera", "pothos", "succulent", "azalea",
    "rhododendron", "magnolia", "jasmine", "honeysuckle", "clematis", "lemon verbena", "rose geranium", "bay laurel", "witch hazel", "primula", "gentian", "thuja", "juniper", "protea", "chrysanthemum", "carnation", "salvia", "verbena",
)  # fmt: skip
SEED = re.compile(
    r"\b(?:seeds?|sown?|sowing|germinat\w*|emerge\w*|come up|comes up|sprout\w*|seedlings?)\b", re.I
)
BLOOM = re.compile(r"\b(?:blooms?|blooming|flowers?|flowering)\b", re.I)
ROOTS = re.compile(r"\b(?:roots?|rooted|rooting|strike|struck|germinat\w*|emerge\w*)\b", re.I)
ROOTING = re.compile(r"\brooting (?:hormone|powder|gel)\b", re.I)
SHOOT = re.compile(r"\b(?:shoots?|bud break|sprouts?|sprouting|break bud)\b", re.I)
DIVISION = re.compile(
    r"\b(?:bulbs?|corms?|scales?|divisions?|offsets?|tubers?|cloves?|scaling)\b", re.I
)
TIME = re.compile(
    r"(?:h|hours?|hrs?|days?|weeks?|wks?|s|secs?|seconds?|mins?|minutes?)$|overnight", re.I
)
KNOWN_PLANT = re.compile(
    rf"(?<![\w-])(?:{'|'.join(sorted(map(re.escape, PLANTS), key=len, reverse=True))})(?:s|es)?(?![\w-])"
)
NO_PLANT = {
    "my", "the", "of", "do", "does", "will", "our", "these", "more", "heel", "nodal", "internodal", "basal", "softwood",
    "hardwood", "semi-ripe", "leaf-bud", "tip", "stem", "node", "soaked", "nicked", "dry", "fresh", "old", "with", "for",
    "soaking", "nicking", "chilled", "filed", "and", "or", "fewer", "many", "chilling", "shoot", "root", "in",
}  # fmt: skip
NUMBERS = {
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
UNIT = (
    r"ppm|%|per ?cent|mg ?/ ?l|ml ?/ ?l|g ?/ ?l|mm(?=\b)|µm|°c|°f|c(?=\b)|hours?|hrs?|h(?=\b)|days?|weeks?|wks?|"
    r"seconds?|secs?|s(?=\b)|minutes?|mins?|min(?=\b)|cm"
)
_THING_WORDS = "|".join(
    sorted((re.escape(n).replace(r"\ ", r"[\s-]+") for n in THINGS), key=len, reverse=True)
)
_NONE = (
    r"nothing(?: at all)?|none(?: as control)?|neither|untreated|undipped|unsoaked|unwounded|not soaked|not (?=$|[,.?])|"
    r"no treatment|as control|(?:sowing|sow|sown) (?:them )?dry|dry|left alone|(?:just )?leaving them(?: alone)?|straight in"
)
TOKEN = re.compile(
    rf"(?P<aside>in (?:a )?(?:\d+ ?% )?(?:alcohol|ethanol)\b|(?:in|over|this|next|last) (?:the )?(?:spring|summer|autumn|winter)\b|the winter\b)|"
    rf"(?P<carrier>(?:plain talc|talc (?:alone|without (?:any )?hormone)|(?:the )?(?:\d+ ?% )?(?:alcohol|ethanol) (?:alone|only|by itself)|blank|carrier)\b)|"
    rf"(?P<usual>(?:the )?(?:usual|normal|ordinary)(?: (?:way|compost|stem cuttings|stem|potting mix))?\b|as always\b)|"
    rf"(?P<nothing>(?:{_NONE})\b)|"
    rf"(?P<water>(?:plain|tap|rain|distilled|just) water(?: only)?\b|water (?:only|alone|soak)\b|the same water(?: without it)?\b)|"
    rf"(?P<thing>(?:{_THING_WORDS})s?\b)|"
    rf"(?P<amount>(?:\d+:\d+|(?:\d{{1,3}}(?:,\d{{3}})+|\d+(?:[.,]\d+)?)\s?k?(?:\s?(?:{UNIT}))?|overnight)(?![\w]))|"
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
FILLER = frozenset(
    "a about after all already always am an any anything are as at away be been best better between but by can come comes "
    "coming compare compared control cutting do does doing each else ever every faster first for from fewer gave germinate "
    "germinates germination get gets getting give gives go going good grow growing grows had has have having help helping helps her "
    "here him how i if in into is it its just know like long longer longest made make makes many me mine more most much my "
    "of off on once our ours out over own per please pure put quicker quickly really root rooted rooting roots seem set "
    "shoot shoots should so some sooner sow sowing sown sprout sprouts stick stuck strike struck taken take tell that the their "
    "them then there these they thing this those time to too treated trial try trying up use used using want wanted was we were what "
    "when where whether which while who will wonder wondered wondering work works would year yes you your i'd i'll i've it's that's "
    "emerge emerges bloom blooms flower flowers flowering dipped dipping well only alone "
    "percent same start started dozen doses".split()
)
