"""Lines of so much per so much: rates, tablets, feeds, and the check of what was measured."""

from dataclasses import replace

from racecard.core.prepare.phrases import Parse, plainly
from racecard.core.prepare.readings.shared import (
    PPM,
    SHARE,
    M,
    Read,
    Refused,
    V,
    active_field,
    active_of,
    manner_of,
    per_said,
    ppm_of,
    rate_pairs,
    spirits_in,
    use_per,
)


def check(p: Parse) -> Read | None:
    """What was measured, held against the recipe."""
    marks = p.words("recipe")
    if not marks:
        return None
    here = p.phrases.index(marks[0])
    rate = None
    for w in p.phrases:
        if (w.what == "word" and w.tag == "per") or (w.what == "mark" and w.tag == "/"):
            a, b = p.before(w), p.after(w)
            if (
                a is not None
                and b is not None
                and a.is_of(V, M)
                and (b.is_of(V) or b.what == "unit")
            ):
                rate = (a, b)
    grams = [a for a in p.amounts(PPM) if a.units[0].name == "g/L"]
    made = [a for a in p.amounts(V, M) if rate is None or a not in rate]
    if len(made) != 2 or (rate is None and not grams):
        return None
    p.take("recipe", as_="the recipe")
    for x in made:
        p.use(x, "measured")
    if rate is not None:
        use_per(p, *rate)
        recipe, per = rate[0].said(V, M), per_said(rate[1], rate[0])
    else:
        p.use(grams[0], "the recipe")
        recipe, per = f"{plainly(grams[0].value)} g", "1 L"
    del here
    p.take("in", "per", "to", as_="joins")
    return Read(
        "check", {"recipe": recipe, "per": per, "made": made[0].said(V, M), "in": made[1].said(V)}
    )


def tablets(p: Parse) -> Read | None:
    """Tablets in water: how many, of what each, in how much."""
    counts = p.free(lambda x: x.what == "count" and x.tag == "tablet")
    numbers = p.free(lambda x: x.what == "number")
    times = p.free(lambda x: x.what == "times")
    is_aspirin = any(a.tag == "acetylsalicylic acid" for a in p.actives())
    masses, volumes = p.amounts(M), p.amounts(V)
    if not counts and not p.has("tablet") and not (is_aspirin and (times or numbers)):
        return None
    count = 1.0
    if counts:
        count = p.use(counts[0], "tablets").value
    elif times:
        count = p.use(times[0], "tablets").value
    elif len(numbers) == 1:
        count = p.use(numbers[0], "tablets").value
    p.take("tablet", "each", "at", "per", "in", "to", "want", as_="joins")
    key = active_of(p)
    for a in p.agents("water"):
        p.use(a, "water")
    if len(volumes) > 1 or len(masses) > 1:
        return None
    per = p.free(lambda x: x.what == "unit" and any(u.dimension is V for u in x.units))
    volume = ""
    if volumes:
        volume = p.use(volumes[0], "in").said(V)
    elif per:
        volume = f"1 {p.use(per[0], 'in').units[0].name}"
    if masses:
        each = p.use(masses[0], "in each").said(M)
        if not volume:
            raise Refused(
                f"{plainly(count)} tablets of {each}: what is missing is the volume of water they go in."
            )
        return Read(
            "tablets",
            {"tablets": plainly(count), "each": each, "volume": volume, **active_field(key)},
        )
    if not volume:
        p.take("jar", as_="joins")
        raise Refused(
            f"{plainly(count)} tablets: what is missing is the mg of active in each, and the volume of water."
        )
    usual = ("300", "325") if key == "acetylsalicylic acid" else ("100", "250", "300", "500")
    ways = tuple(
        (
            mg,
            f"{mg} mg in each",
            Read(
                "tablets",
                {
                    "tablets": plainly(count),
                    "each": f"{mg} mg",
                    "volume": volume,
                    **active_field(key),
                },
            ),
        )
        for mg in usual
    )
    return replace(
        ways[0][2],
        ways=ways,
        asks="How many mg of the active are in each tablet? It is on the packet.",
        ask_key="tablet_mg",
    )


def nutrient(p: Parse) -> Read | None:
    """A nutrient from a grade, or a rate of a feed named by its grade."""
    grades = p.free(lambda x: x.what == "grade")
    if len(grades) != 1:
        return None
    grade = p.use(grades[0], "grade")
    strengths, volumes = p.amounts(PPM), p.amounts(V)
    p.take("in", "at", "for", "from", "of", "jar", as_="joins")
    elements = p.free(lambda x: x.what == "unknown" and x.text in ("N", "P", "K"))
    if len(strengths) == 1 and len(volumes) == 1:
        a, v = p.use(strengths[0], "strength"), p.use(volumes[0], "volume")
        if elements:
            p.use(elements[0], "nutrient")
            return Read(
                "nutrient",
                {
                    "volume": v.said(V),
                    "target": a.said(PPM),
                    "grade": grade.tag,
                    "element": elements[0].text,
                },
            )
        if a.units[0].name == "g/L":
            return Read(
                "rate", {"amount": f"{plainly(a.value)} g", "per": "1 L", "volume": v.said(V)}
            )
    return None


def rate(p: Parse) -> Read | None:
    """So much per litre, brought to a volume; a spoon or drops in a volume."""
    found = rate_pairs(p)
    volumes = p.amounts(V)
    extra: dict[str, str] = {}
    if found is None:
        grams = [a for a in p.amounts(PPM) if a.units[0].name == "g/L"]
        spoons = [
            v
            for v in p.amounts(V)
            if v.units[0].asks in ("spoon", "drop", "imperial_spoon")
            or v.units[0].name.split()[-1] in ("tsp", "tbsp")
        ]
        keys = [a.tag for a in p.actives()]
        if (
            len(grams) == 1
            and len(volumes) == 1
            and not p.has("from", "stock")
            and (not keys or keys[0] in ("magnesium sulphate", "KNO3"))
        ):
            a, v = p.use(grams[0], "rate"), p.use(volumes[0], "volume")
            read = Read(
                "rate", {"amount": f"{plainly(a.value)} g", "per": "1 L", "volume": v.said(V)}
            )
            return _rate_rest(p, read)
        # grams alone with a home agent
        if len(grams) == 1 and not volumes and (p.agents() or keys[:1] == ["magnesium sulphate"]):
            a = p.use(grams[0], "rate")
            return _rate_rest(p, Read("rate", {"amount": f"{plainly(a.value)} g", "per": "1 L"}))
        others = [v for v in volumes if v not in spoons]
        if len(spoons) >= 1 and not others and len(spoons) == 2:
            others, spoons = spoons[1:], spoons[:1]
        if (
            len(spoons) == 1
            and len(others) == 1
            and p.has("in", "to", "per")
            and others[0].at[0] > spoons[0].at[0]
        ):
            a, v = p.use(spoons[0], "amount"), p.use(others[0], "per")
            return _rate_rest(p, Read("rate", {"amount": a.said(V), "per": v.said(V)}))
        return None
    amount, per = found
    use_per(p, amount, per)
    p.take("per", as_="per")
    times = p.free(lambda x: x.what == "times" or (x.what == "word" and x.tag == "times"))
    for t in times[:1]:
        if (p.after(t) is not None and p.after(t).is_of(V)) or t.what == "word":  # type: ignore[union-attr]
            p.use(t, "joins")
    rest = [v for v in p.amounts(V)]
    if len(rest) > 1:
        return None
    if rest:
        extra["volume"] = p.use(rest[0], "volume").said(V)
    per_text = per_said(per, amount)
    return _rate_rest(p, Read("rate", {"amount": amount.said(V, M), "per": per_text, **extra}))


def _rate_rest(p: Parse, read: Read) -> Read | None:
    fields = dict(read.fields)
    shares = [a for a in p.amounts(SHARE) if a not in spirits_in(p)]
    if len(shares) == 1:
        fields["strength"] = p.use(shares[0], "strength").said(SHARE)
    elif len(shares) > 1:
        return None
    answers = dict(read.answers)
    if (
        "strength" not in fields
        and len(liquids := p.amounts(PPM)) == 1
        and fields["amount"].split()[-1] not in ("g", "mg")
    ):
        fields["strength"] = f"{plainly(ppm_of(liquids[0]) / 10_000)} %"
        p.use(liquids[0], "strength")
    key = active_of(p)
    agents = [a.tag for a in p.agents() if a.tag != "water"]
    for a in p.agents():
        p.use(a, "what it is")
    p.take(
        "in",
        "to",
        "for",
        "of",
        "each",
        "at",
        "jar",
        "made_to",
        "want",
        "stock",
        "medium_name",
        as_="joins",
    )
    fields |= active_field(key)
    if key in ("magnesium sulphate",):
        answers["ounce"] = "weight"
    del agents
    fields |= manner_of(p)
    return Read("rate", fields, answers)
