"""The words a line of the mixing bench is written in: actives, agents, media, units, and words that join.

The lists are closed: a word in none of them is not understood, and its line is not worked out.
"""

import re
from difflib import get_close_matches

from racecard.core.prepare.actives import ACTIVES

NAMES = {
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
AGENTS = {
    r"liquid seaweed": "seaweed", r"seaweed(?:\s+(?:extract|water|tea|liquid))?": "seaweed", r"kelp(?:\s+extract)?": "seaweed",
    r"coconut (?:water|milk)": "coconut water", r"willow (?:water|tea|extract)": "willow", r"honey": "honey", r"cinnamon": "cinnamon",
    r"plain talc": "plain talc", r"talc": "talc", r"alcohol": "alcohol", r"ethanol": "alcohol", r"isopropanol": "alcohol",
    r"isopropyl alcohol": "alcohol", r"rubbing alcohol": "alcohol", r"vodka": "alcohol", r"gin": "alcohol",
    r"(?:plain |tap |rain ?|distilled |cold |warm |hot )*water": "water", r"lime": "lime", r"fertili[sz]er": "fertiliser", r"feed": "feed",
    r"soap": "soap", r"sulphur": "sulphur", r"aloe(?:\s+vera)?(?:\s+gel)?": "plant gel", r"liquid feed": "feed",
}  # fmt: skip
MEDIA = (
    "peat|coir|perlite|vermiculite|pumice|bark|sand|grit|compost|loam|leaf ?mould|worm castings|castings|sphagnum|moss|rockwool|soil|gravel|"
    "clay|lava|zeolite|rice hulls|sharp sand|coarse sand|fine sand|pine bark|coco"
)  # fmt: skip
UNIT_TEXT = re.compile(
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
WHOSE = {
    "imperial": "imperial", "imp": "imperial", "imp.": "imperial", "uk": "imperial", "british": "imperial", "us": "us", "u.s.": "us",
    "american": "us", "metric": "metric", "australian": "australian", "aussie": "australian", "au": "australian",
}  # fmt: skip
TAGS: dict[str, str] = {}
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
        TAGS[_said] = _tag
STAGES = {
    r"root cuttings?": "root", r"semi-?\s?ripe": "semi_ripe", r"softwood": "softwood", r"hardwood": "hardwood_deciduous",
    r"leaf[- ]bud": "leaf_bud", r"herbaceous(?: tips?)?": "herbaceous",
}  # fmt: skip
FILLER = frozenset(
    "the please me my some about approx approximately roughly around ca circa ~ level soluble crushed dissolve dissolved do does we i it is "
    "what how much many take used use put says say this that there solution soln sol a an are be get on? many? would wanted? now just only "
    "liquid can thats it's its by dosed add added drop?".replace("?", "").split()
) - {"on", "drop", "wanted"}
"""Words that change nothing. The list is closed: a word in no list at all is not understood."""
UNITS_OF_NUMBERS = {
    "zero": 0, "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10,
    "eleven": 11, "twelve": 12, "thirteen": 13, "fourteen": 14, "fifteen": 15, "sixteen": 16, "seventeen": 17, "eighteen": 18,
    "nineteen": 19, "twenty": 20, "thirty": 30, "forty": 40, "fifty": 50, "sixty": 60, "seventy": 70, "eighty": 80, "ninety": 90,
}  # fmt: skip
PORTIONS = {
    "half": 0.5,
    "quarter": 0.25,
    "quarters": 0.25,
    "third": 1 / 3,
    "thirds": 1 / 3,
    "eighth": 0.125,
    "fifth": 0.2,
    "tenth": 0.1,
}
OTHER_NUMBERS = frozenset(("hundred", "thousand", "dozen", "point", "couple"))
PHRASES = {
    "out of": "from", "made up to": "made_to", "make up to": "made_to", "made to": "made_to", "top up to": "made_to", "topped up to": "made_to",
    "top up with": "made_with", "top up": "top_up", "topped up": "top_up", "fill up to": "made_to", "to get": "want", "let down": "dilute", "thinned": "dilute",
    "degree days": "degreedays", "degree-days": "degreedays", "half and half": "halfhalf", "in a row": "in_row", "in all": "filler",
    "for a total of": "for", "made from": "from", "instead of": "recipe", "should be": "recipe", "to the": "per", "to each": "per", "to a": "per",
    "to an": "per", "in each": "per", "in a": "per", "per each": "per", "for each": "per", "for every": "per", "to every": "per", "free acid": "acid",
    "10x": "fold10", "at once": "filler", "w/v": "filler", "in total": "filler", "no more": "filler", "up to": "to", "down to": "to", "worm castings": "medium_name",
    "how many": "filler", "how much": "howmuch", "what do i take": "howmuch", "-->": "arrow", "->": "arrow", "→": "arrow", "=>": "arrow",
    "each of": "each", "a couple of": "couple", "couple of": "couple", "on top": "filler",
}  # fmt: skip

_KNOWN_WORDS = sorted(
    {
        *TAGS,
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
