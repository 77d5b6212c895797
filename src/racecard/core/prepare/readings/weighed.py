"""Lines of a strength weighed out, of what was made, and of strengths told in another unit."""

from dataclasses import replace

from racecard.core.prepare.actives import ACTIVES, Active, not_weighed
from racecard.core.prepare.cards import Amount
from racecard.core.prepare.phrases import STRENGTHS, Parse, Phrase, plainly
from racecard.core.prepare.readings.shared import (
    MOLAR,
    PPM,
    SHARE,
    L,
    M,
    Names,
    Read,
    Refused,
    T,
    V,
    active_field,
    active_of,
    carrier_of,
    family_of,
    manner_of,
    millilitres,
    multiplier_of,
    plain_ppm,
    spirits_in,
    strength_said,
    use_joining,
    use_what_joins,
)
from racecard.core.prepare.vocabulary import has_molar_mass
from racecard.core.quantities import shown, shown_volume


def weigh_out(
    p: Parse,
    wanted: list[Phrase],
    purity: list[Phrase],
    volumes: list[Phrase],
    names: Names,
    manner: dict[str, str],
) -> Read | None:
    """A solution from powder.

    Args:
        p: the line, part by part.
        wanted: strengths that are wanted.
        purity: percentages that are a purity.
        volumes: volumes that are named.
        names: actives that are named, and by which words.
        manner: wood stage, and how it is given.
    """
    if (
        len(wanted) == 2
        and not purity
        and wanted[1].is_of(SHARE)
        and (nxt := p.after(wanted[1])) is not None
        and nxt.what == "word"
        and nxt.tag == "powder"
    ):
        wanted, purity = wanted[:1], wanted[1:]
    if len(wanted) != 1 or len(volumes) != 1 or len(purity) > 1:
        return None
    w, v = p.use(wanted[0], "strength wanted"), p.use(volumes[0], "volume")
    for a in purity:
        p.use(a, "purity")
    for a in p.actives():
        p.use(a, "active")
    is_acid = p.take("acid", as_="acid")
    p.take("powder", "weigh", "purity", as_="powder")
    carrier = carrier_of(p, [])
    n, is_open = multiplier_of(p, v)
    use_what_joins(p, carrier)
    key = names.key
    if not key:
        raise Refused(
            f"{v.text} at {w.text} from powder: name the active, its weight goes by its kind."
        )
    if not has_molar_mass(key):
        return _weigh_plainly(v, w, key)
    answers: dict[str, str] = {}
    found = ACTIVES[key]
    if found.sold_percent:
        raise Refused(not_weighed(found), is_sure=True)
    salts = [k for k in names.source if ACTIVES.get(k) is not None and ACTIVES[k].acid]
    if is_acid:
        answers["powder"] = "acid"
    if salts and not found.acid:
        answers["powder"] = "salt"
    if found.acid and w.is_of(MOLAR):
        answers["salt_meant"] = "salt"
    fields = {"volume": v.said(V, times=n), "target": strength_said(w), "active": key, **manner}
    fields |= carrier
    if purity:
        fields["purity"] = purity[0].said(SHARE)
    del is_open
    return Read("weigh", fields, answers, times=n)


def _weigh_plainly(v: Phrase, w: Phrase, key: str) -> Read:
    """An active whose molar mass is not told: by weight alone, a strength in mM is refused."""
    if not w.is_of(PPM, SHARE):
        raise Refused(
            f"{key}: its molar mass is not known here, so give the strength in mg/L or %."
        )
    ml = millilitres(v)
    if ml is None:
        raise Refused(f"{v.text}: give the volume in mL or L.")
    mg = ml * plain_ppm(w) / 1000
    return Read("weigh", {"How much is wanted": v.text, "Strength wanted": w.text, "Active": key}, word="Solution from powder",
                amounts=(Amount(f"{key} to weigh", mg / 1000, "g", f"{shown(mg)} mg"), Amount("Make up to", ml, "mL", v.text)),
                says=(f"{shown(ml)} mL × {shown(plain_ppm(w))} mg/L ÷ 1000 = {shown(mg)} mg.",))  # fmt: skip


def no_source(
    p: Parse, w: Phrase, v: Phrase, key: str, manner: dict[str, str], unknown: list[str]
) -> Read | None:
    """No source is named: of a liquid by volume a share is told, else powder is proposed.

    Args:
        p: the line, part by part.
        w: the strength that is wanted.
        v: the volume it is wanted in.
        key: the active, "" where none is known.
        manner: wood stage, and how it is given.
        unknown: words that no list holds.
    """
    agents = [a for a in p.agents() if a.tag not in ("water", "alcohol")]
    p.use(w, "strength wanted")
    p.use(v, "volume")
    if w.is_of(SHARE) and (agents or "v/v" in w.unit_of(SHARE).name):
        for a in p.agents():
            p.use(a, "what it is")
        use_joining(p)
        ml = millilitres(v)
        return None if ml is None else _share(w, ml)
    if agents:
        return None
    carrier = carrier_of(p, [])
    n, _ = multiplier_of(p, v)
    use_what_joins(p, carrier)
    if not key:
        raise Refused(
            f"I read {v.text} at {w.text}; what is missing is what it is made of: add “from 1 % stock”, or name the active and “from powder”."
        )
    if unknown:
        return _weigh_plainly(v, w, key)
    if ACTIVES[key].sold_percent:
        return _dissolved(v, w, ACTIVES[key], n)
    answers = {"salt_meant": "salt"} if w.is_of(MOLAR) and ACTIVES[key].acid else {}
    powder = Read(
        "weigh",
        {
            "volume": v.said(V, times=n),
            "target": strength_said(w),
            "active": key,
            **manner,
            **carrier,
        },
        answers,
    )
    if key in ("KNO3", "magnesium sulphate", "boric acid"):
        return powder
    stock = Read(
        "weigh",
        powder.fields,
        answers,
        word="From a stock",
        amounts=(),
        says=("Write the strength of the stock: “… from 1 % stock”.",),
    )
    return replace(powder, ways=(("powder", "from powder", powder), ("stock", "from a stock: write its strength, such as “from 1 % stock”", stock)),
                   asks="What is it made from: powder, or a stock?", ask_key="source", usual="powder")  # fmt: skip


def _share(w: Phrase, ml: float) -> Read:
    """So many per cent of a liquid, in so many mL in all."""
    take, whole = ml * w.value / 100, shown_volume(ml)
    return Read(
        "rate", {"Share": w.text, "In": whole}, word="A share of a liquid",
        amounts=(Amount("Concentrate to take", take, "mL", shown_volume(take)), Amount("Make up to", ml, "mL", whole)),
        says=(f"{shown(ml)} mL × {shown(w.value)} % = {shown(take)} mL, made up to {whole}.",),
    )  # fmt: skip


def _dissolved(v: Phrase, w: Phrase, active: Active, times: float) -> Read:
    """Of what is only sold dissolved: a share of the bottle, or a strength for which the bottle's is needed."""
    ml = millilitres(v)
    if not w.is_of(SHARE):
        raise Refused(not_weighed(active), is_sure=True)
    if ml is None:
        raise Refused(
            f"{v.text} of {w.text} {active.key}: give the volume in mL or L.", is_sure=True
        )
    share = _share(w, ml * times)
    take = share.amounts[0].value
    write = f"write the strength of the bottle, such as “from {active.sold_percent} %”"
    stock = Read("rate", {}, word="From the bottle", says=(f"{write.capitalize()}.",))
    return replace(
        share,
        ways=(
            ("share", f"of what is in the bottle: {shown_volume(take)} of it", share),
            ("stock", f"of pure {active.key} in the end: {write}", stock),
        ),
        asks=f"{w.text} of what?", ask_key="share_of",
    )  # fmt: skip


def made(p: Parse) -> Read | None:
    """So much powder in so much liquid; a strength of a stock in a volume."""
    masses, volumes = p.amounts(M), p.amounts(V)
    if (
        len(masses) != 1
        or len(volumes) != 1
        or len(p.amounts(*STRENGTHS)) > len(spirits_in(p))
        or not p.has("in", "made_to", "to", "per", "made")
    ):
        return None
    m, v = p.use(masses[0], "powder"), p.use(volumes[0], "volume")
    key = active_of(p)
    carrier = carrier_of(p, [])
    agents = [a.tag for a in p.agents() if a.tag not in ("water", "alcohol")]
    for a in p.agents():
        p.use(a, "what it is")
    p.take("in", "made_to", "to", "made", "up", "per", "powder", "at", "for", as_="joins")
    if not has_molar_mass(key) and (key or agents):
        ml = millilitres(v)
        scale = {"g": 1e6, "mg": 1e3, "kg": 1e9, "µg": 1.0}.get(m.unit_of(M).name)
        if ml is not None and scale is not None and key:
            ppm = m.value * scale / ml
            return Read("made", {"Powder": m.text, "Active": key, "Make up to": v.text}, word="Work out a strength", amounts=(
                Amount("Strength", ppm, "mg/L", f"{shown(ppm)} mg/L"),), says=(f"{m.text} in {v.text} = {shown(ppm)} mg/L.",))  # fmt: skip
    answers = {"ounce": "weight"} if m.units[0].asks == "ounce" else {}
    return Read(
        "made",
        {"mass": m.said(M), "volume": v.said(V), **active_field(key), **manner_of(p), **carrier},
        answers,
    )


def into(p: Parse) -> Read | None:
    """An amount in another unit; a strength in another way of stating it."""
    units = p.free(lambda x: x.what == "unit")
    amounts = p.free(lambda x: x.what == "amount")
    actives = p.actives()
    if len(amounts) != 1 or not p.has("in", "to", "as"):
        return None
    a = amounts[0]
    if a.is_of(*STRENGTHS):
        named = [k.tag for k in actives]
        p.use(a, "strength")
        for k in actives:
            p.use(k, "active")
        for u in units:
            p.use(u, "told in")
        p.take("in", "to", "as", "acid", as_="joins")
        for g in p.agents("talc"):
            p.use(g, "talc")
        if len(named) == 2:
            one, other = named
            if family_of(one) != family_of(other):
                return None
            answers: dict[str, str] = {}
            read = Read("strengths", {"active": one, "strength": strength_said(a)}, answers)
            return read
        if len(named) == 1 and has_molar_mass(named[0]):
            return Read("strengths", {"active": named[0], "strength": strength_said(a)})
        if a.is_of(MOLAR):
            raise Refused(f"{a.text}: name the active, for its molar mass.")
        ppm = plain_ppm(a)
        return Read("strengths", {"Strength": a.text}, word="One strength in other units", amounts=(
            Amount("Is", ppm, "mg/L", f"{shown(ppm)} ppm (mg/L)"), Amount("Is", ppm / 10_000, "%", f"{shown(ppm / 10_000)} %"),
            Amount("Is", ppm / 1000, "g/L", f"{shown(ppm / 1000)} g/L")), says=("1 % is 10 000 ppm; 1 g/L is 1000 ppm.",))  # fmt: skip
    if actives or len(units) != 1 or not a.is_of(V, M, L, T):
        return None
    p.use(a, "amount")
    u = p.use(units[0], "told in")
    p.take("in", "to", "as", as_="joins")
    answers = {}
    if a.units[0].asks == "ounce":
        answers["ounce"] = "weight" if any(x.dimension is M for x in u.units) else ""
        answers = {k: v for k, v in answers.items() if v}
    return Read("units", {"value": a.said(V, M, L, T)}, answers)


def strength_alone(p: Parse) -> Read | None:
    """A strength of a named active alone, and what else it comes to."""
    amounts, actives = p.free(lambda x: x.what == "amount"), p.actives()
    if (
        len(amounts) != 1
        or len(actives) != 1
        or not amounts[0].is_of(*STRENGTHS)
        or p.has("from", "dilute")
    ):
        return None
    a, key = p.use(amounts[0], "strength"), p.use(actives[0], "active").tag
    p.take("in", "of", "stock", as_="joins")
    if not has_molar_mass(key):
        return None
    return Read("strengths", {"active": key, "strength": strength_said(a)})


def volumes_added(p: Parse) -> Read | None:
    """So much of a liquid and so much water, no strength told: parts."""
    volumes = p.amounts(V)
    if (
        len(volumes) != 2
        or p.amounts(*STRENGTHS)
        or p.amounts(M)
        or p.actives()
        or p.has("per", "recipe", "pot")
    ):
        return None
    a, b = volumes
    one, other = millilitres(a), millilitres(b)
    if one is None or other is None:
        return None
    words = {x.text.lower() for x in p.phrases if x.what == "word" and a.at[-1] < x.at[0] < b.at[0]}
    if not words & {"+", "plus", "and", "in", "to", "into", "with", "made up to", "up"}:
        return None
    for x in volumes:
        p.use(x, "poured together")
    is_up = p.take("made_to", "top_up", "made", "up", as_="made up to")
    way = "in" if is_up else "to" if words & {"+", "plus", "and", "with"} else ""
    for x in p.agents():
        p.use(x, "what it is")
    use_joining(p)
    return Read(
        "parts", {"part": plainly(one), "diluent": plainly(other), **({"way": way} if way else {})}
    )
