"""Lines of degrees, and of warmth summed over days."""

from racecard.core.prepare.cards import Amount
from racecard.core.prepare.phrases import Parse, Phrase, plainly
from racecard.core.prepare.readings.shared import PPM, WARMTH, M, Read, V
from racecard.core.quantities import shown


def degree_days(p: Parse) -> Read | None:
    """High, low and base; or degree-days of one scale in the other."""
    if not p.take("degreedays", as_="degree-days"):
        return None
    warm = p.amounts(WARMTH)
    single = [a for a in warm if not a.joined]
    high, low, base = (_after_word(p, tag) for tag in ("high", "low", "base"))
    named = {"high": high, "low": low, "base": base}
    deep = p.words("deep")
    if high is None and deep:
        named["high"] = _number_after(p, deep[0])
        p.use(deep[0], "highest")
    pairs = [a for a in warm if a.joined == "pair"]
    if pairs:
        most, least = pairs[0].values
        p.use(pairs[0], "highest and lowest")
        unit = pairs[0].unit_of(WARMTH).name
        found = named["base"]
        return Read("degree_days", {"high": f"{plainly(most)} {unit}", "low": f"{plainly(least)} {unit}",
                                    "base": _warmth(found)}) if found else None  # fmt: skip
    if all(named.values()):
        return Read("degree_days", {k: _warmth(v) for k, v in named.items() if v is not None})
    if len(single) == 1 and (p.has("in", "to") or not named["base"]):
        p.use(single[0], "degree-days")
        _target_scale(p)
        p.take("in", "to", "as", as_="joins")
        a = single[0]
        is_f = _warmth(a).endswith("F")
        value, unit = (a.value / 1.8, "°C·d") if is_f else (a.value * 1.8, "°F·d")
        sign = "÷" if is_f else "×"
        return Read("degrees", {"Degree-days": a.text}, word="Degree-days in the other scale", amounts=(
            Amount("Degree-days", value, unit, f"{shown(value)} {unit}"),),
            says=(f"{shown(a.value)} {sign} 1.8 = {shown(value)} {unit}: degree-days have no 32 in them.",))  # fmt: skip
    return None


def _warmth(a: Phrase | None) -> str:
    if a is None:
        return ""
    if a.what == "number":
        return f"{plainly(a.value)} °C"
    name = a.unit_of(WARMTH).name if a.is_of(WARMTH) else "°C"
    return f"{plainly(a.value)} {name}"


def _after_word(p: Parse, tag: str) -> Phrase | None:
    for w in p.words(tag):
        found = _number_after(p, w)
        if found is not None:
            p.use(w, tag)
            return found
    return None


def _number_after(p: Parse, word: Phrase) -> Phrase | None:
    x = p.after(word)
    while x is not None and (
        x.what == "mark" or (x.what == "word" and x.tag in ("of", "degreedays"))
    ):
        x = p.after(x)
    if x is None or not (x.what == "number" or x.is_of(WARMTH)):
        return None
    return p.use(x, word.tag)


def _target_scale(p: Parse) -> str:
    """The scale it is to be told in, used up: in C, to °F."""
    for u in p.free(lambda x: x.what == "unit" and any(y.dimension is WARMTH for y in x.units)):
        p.use(u, "scale")
        return next(y.name for y in u.units if y.dimension is WARMTH)
    return ""


def degrees(p: Parse) -> Read | None:
    """A temperature in the other scale, or a difference of temperatures."""
    warm = p.amounts(WARMTH)
    if len(warm) != 1 or p.amounts(V, M, PPM) or p.actives() or p.has("base", "degreedays", "soak"):
        return None
    a = p.use(warm[0], "temperature")
    target = _target_scale(p)
    is_difference = p.take("warmer", as_="a difference")
    p.take("in", "to", "as", "at", "medium_name", "medium", as_="joins")
    for w in p.agents("water"):
        p.use(w, "what is warm")
    if is_difference:
        for w in p.free(lambda x: x.what == "word" and x.tag == "air"):
            p.use(w, "joins")
        return Read("degrees", {"value": _warmth(a), "what": "difference"})
    name = a.unit_of(WARMTH).name
    if target == name and a.text.rstrip().endswith("°"):
        name = "°C" if target == "°F" else "°F"
    if a.text.rstrip().endswith("°") and target == "°F":
        name = "°C"
    if a.joined == "range":
        ends = tuple(
            (f"{plainly(v)} {name}", Read("degrees", {"value": f"{plainly(v)} {name}"}))
            for v in a.values
        )
        return Read("degrees", {}, ladder=ends, pick=0 if name == "°F" else 1)
    return Read("degrees", {"value": f"{plainly(a.value)} {name}"})
