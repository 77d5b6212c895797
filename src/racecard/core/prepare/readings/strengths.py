"""Lines of a strength made from a stronger one."""

from dataclasses import replace

from racecard.core.prepare.actives import ACTIVES
from racecard.core.prepare.cards import Amount
from racecard.core.prepare.phrases import STRENGTHS, Parse, Phrase, plainly
from racecard.core.prepare.readings.shared import (
    MOLAR,
    SHARE,
    Names,
    Read,
    Refused,
    V,
    active_field,
    carrier_of,
    family_of,
    labelled_strengths,
    manner_of,
    millilitres,
    multiplier_of,
    plain_ppm,
    rate_pairs,
    roles_of,
    spare_numbers,
    spirits_in,
    strength_said,
    strengths_of_alcohol,
    use_joining,
    use_what_joins,
)
from racecard.core.prepare.readings.weighed import no_source, weigh_out
from racecard.core.prepare.vocabulary import has_molar_mass
from racecard.core.quantities import shown, units_named


def liquid(p: Parse) -> Read | None:
    """A volume at a strength from a stock, two stocks, powder; thinning; pouring together."""
    if p.amounts(*STRENGTHS) and not p.amounts(V) and not p.agents("talc", "plain talc"):
        _take_ounces_as_fluid(p)
    spare = spare_numbers(p)
    strengths = [a for a in p.amounts(*STRENGTHS) if a not in spirits_in(p)]
    labels = labelled_strengths(p)
    if not strengths:
        return None
    negative = [a for a in p.phrases if a.what == "amount" and a.value < 0]
    if negative:
        raise Refused(f"{negative[0].text} is below nothing: give more than 0.", is_sure=True)
    nothing = [a for a in (*strengths, *p.amounts(V)) if a.value == 0]
    if nothing:
        raise Refused(f"{nothing[0].text} is nothing: give more than 0.", is_sure=True)
    over = [a for a in strengths if a.is_of(SHARE) and a.value > 100]
    if over:
        raise Refused(f"{over[0].text} is more than all of it.", is_sure=True)
    wanted, sources, is_thinning = roles_of(p, strengths)
    pair = rate_pairs(p)
    if pair is not None and wanted and sources:
        raise Refused(
            f"“{pair[0].text} per {pair[1].text}” and a dilution are two sums in one line: write one of them.",
            is_sure=True,
        )
    numbers = p.free(lambda x: x.what == "number")
    if (
        not wanted
        and len(sources) == 1
        and len(numbers) == 1
        and p.amounts(V)
        and numbers[0].at[0] < sources[0].at[0]
    ):
        return _without_unit(p, numbers[0])
    if labels:
        wanted = [a for k, a in labels.items() if k == "C2"]
        sources = [a for k, a in labels.items() if k == "C1"]
    volumes = p.amounts(V)
    names = _names_by_side(p, wanted, sources)
    return _liquid(p, wanted, sources, volumes, names, is_thinning, spare)


def _without_unit(p: Parse, number: Phrase) -> Read | None:
    """A bare number where a strength is wanted: ppm is likely, and is asked."""
    from racecard.core.quantities import units_named

    i = p.phrases.index(number)
    ppm = replace(number, what="amount", units=tuple(units_named("ppm")))
    tried = Parse(p.tokens, [*p.phrases[:i], ppm, *p.phrases[i + 1 :]], p.used)
    read = liquid(tried)
    if read is None:
        return None
    return replace(
        read,
        ways=(("ppm", f"{number.text} ppm", read),),
        asks=f"{number.text} of what: ppm?",
        ask_key="bare",
    )


def _names_by_side(p: Parse, wanted: list[Phrase], sources: list[Phrase]) -> Names:
    sides: dict[str, list[str]] = {"want": [], "source": []}
    for a in p.actives():
        near = _nearest_strength(p, a, [*wanted, *sources])
        sides["source" if near in sources else "want"].append(a.tag)
    return Names(tuple(sides["want"]), tuple(sides["source"]))


def _nearest_strength(p: Parse, a: Phrase, strengths: list[Phrase]) -> Phrase | None:
    """The strength an active belongs to: the one just before it, else the one just after."""
    before, after = p.before(a), p.after(a)
    while before is not None and before.what in ("mark",) and before.tag not in (";", "."):
        before = p.before(before)
    if before in strengths:
        return before
    if after in strengths:
        return after
    x = p.before(a)
    while x is not None:
        if x in strengths:
            return x
        x = p.before(x)
    x = p.after(a)
    while x is not None:
        if x in strengths:
            return x
        x = p.after(x)
    return None


def _liquid(
    p: Parse, wanted: list[Phrase], sources: list[Phrase], volumes: list[Phrase], names: Names,
    is_thinning: bool, spare: list[float],
) -> Read | None:  # fmt: skip
    actives = list(dict.fromkeys((*names.wanted, *names.source)))
    two = _two_actives(p, wanted, sources, volumes, names)
    if two is not None:
        return two
    families = {family_of(k) for k in actives}
    if len(families) > 1:
        want, have = names.wanted[:1], names.source[:1]
        if want and have and want != have:
            raise Refused(
                f"{want[0]} is wanted, but the stock is of {have[0]}: take a stock of {want[0]}.",
                is_sure=True,
            )
        raise Refused(
            f"The line names {' and '.join(actives)}: one sum is for one active, so name one."
        )
    unknown = [k for k in actives if not has_molar_mass(k)]
    key = names.key
    manner = manner_of(p)
    is_powder = p.has("powder", "weigh")
    purity = [a for a in sources if a.is_of(SHARE)] if is_powder else []
    if is_powder and not [a for a in sources if a not in purity] and wanted:
        return weigh_out(p, wanted, purity, volumes, names, manner)
    for a in p.actives():
        p.use(a, "active")
    if any(v.joined == "list" for v in wanted):
        return _ladder(p, wanted, sources, volumes, key, manner)
    blended = _blend(p, wanted, sources, volumes, key, manner)
    if blended is not None:
        return blended
    added = _added(p, wanted, sources, volumes, key, manner)
    if added is not None:
        return added
    thinned = _thinned(p, wanted, sources, volumes, key, manner, is_thinning)
    if thinned is not None:
        return thinned
    if len(wanted) == 1 and len(sources) == 2 and len(volumes) == 1:
        if not _are_joined(p, *sources):
            return None
        fields = {
            "volume": volumes[0].said(V),
            "target": strength_said(wanted[0]),
            "strong": strength_said(sources[0]),
            "weak": strength_said(sources[1]),
        }
        for x in (*volumes, *wanted, *sources):
            p.use(x, "amount")
        use_what_joins(p, {})
        return Read("two", {**fields, **active_field(key), **manner})
    if len(wanted) == 1 and len(sources) == 1:
        return _dilute(p, wanted[0], sources[0], volumes, names, manner, spare)
    if len(wanted) == 1 and not sources and len(volumes) == 1:
        return no_source(p, wanted[0], volumes[0], key, manner, unknown)
    if len(wanted) == 2 and not sources and len(volumes) == 1 and not p.has("and"):
        return None
    if not wanted and len(sources) == 1 and not volumes and not p.has("in"):
        p.use(sources[0], "stock")
        use_what_joins(p, {})
        raise Refused(
            f"I read a stock of {sources[0].text}; what is missing is how much is wanted, and at what strength: such as “250 mL of 1500 ppm from 1 %”."
        )
    return None


def _two_actives(
    p: Parse, wanted: list[Phrase], sources: list[Phrase], volumes: list[Phrase], names: Names
) -> Read | None:
    """500 ppm IBA + 250 ppm NAA from 1 % IBA + 0.5 % NAA: one take serves both."""
    if len(wanted) != 2 or len(sources) != 2 or len(volumes) != 1:
        return None
    if len(set(names.wanted)) != 2 or set(names.wanted) != set(names.source):
        return None
    for x in (*wanted, *sources, *volumes, *p.actives()):
        p.use(x, "amount")
    order = {k: i for i, k in enumerate(names.source)}
    pairs = [(wanted[i], sources[order[k]], k) for i, k in enumerate(names.wanted)]
    reads = [
        (
            k,
            Read(
                "dilute",
                {
                    "volume": volumes[0].said(V),
                    "target": strength_said(w),
                    "stock": strength_said(s),
                    **active_field(k),
                },
            ),
        )
        for w, s, k in pairs
    ]
    use_what_joins(p, {})
    ratios = [plain_ppm(w) / plain_ppm(s) for w, s, _ in pairs]
    if abs(ratios[0] / ratios[1] - 1) < 1e-9:
        return replace(
            reads[0][1],
            says=(
                f"The same take gives both: {names.wanted[0]} and {names.wanted[1]} stand in one bottle.",
            ),
        )
    return Read("dilute", {}, ladder=tuple(reads))


def _salt_answers(names: Names, wanted: Phrase, source: Phrase | None) -> dict[str, str]:
    """What the line itself settles of acid and salt."""
    out: dict[str, str] = {}
    key = names.key
    found = ACTIVES.get(key)
    if found is None:
        return out
    if found.acid:
        same = set((*names.wanted, *names.source)) == {key}
        if same and (names.source or wanted.is_of(MOLAR)):
            out = {"salt_meant": "salt", "label_meant": "salt"}
        if wanted.is_of(MOLAR):
            out["salt_meant"] = "salt"
    elif (
        names.source
        and ACTIVES.get(names.source[0]) is not None
        and ACTIVES[names.source[0]].acid == key
    ):
        out["label_meant"] = "salt"
    del source
    return out


def _dilute(
    p: Parse, wanted: Phrase, source: Phrase, volumes: list[Phrase], names: Names,
    manner: dict[str, str], spare: list[float],
) -> Read | None:  # fmt: skip
    p.use(wanted, "strength wanted")
    p.use(source, "strength of the stock")
    carrier = carrier_of(p, [source])
    if not volumes:
        p.take("dilute", as_="joins")
        use_joining(p)
        share = plain_ppm(wanted) / plain_ppm(source)
        if share > 1:
            raise Refused(
                f"The stock ({source.text}) is weaker than the {wanted.text} wanted: no dilution makes it stronger."
            )
        return Read("dilute", {"Stock": source.text, "Strength wanted": wanted.text}, word="Dilute a stock", amounts=(
            Amount("Share of the concentrate", 100 * share, "%", f"{shown(100 * share)} %"),
            Amount("Stock for each litre", 1000 * share, "mL", f"{shown(1000 * share)} mL"),
        ), says=(f"1 part of stock and {shown(1 / share - 1)} parts of diluent, 1 in {shown(1 / share)}. How much is wanted? With a volume the take is told.",))  # fmt: skip
    if len(volumes) != 1:
        return None
    volume = p.use(volumes[0], "volume")
    n, is_open = multiplier_of(p, volume)
    for extra in spare:
        n *= 1 + extra / 100
    fields = {
        "target": strength_said(wanted),
        "stock": strength_said(source),
        **active_field(names.key),
        **manner,
        **carrier,
    }
    answers = _salt_answers(names, wanted, source)
    p.take("acid", as_="acid")
    use_what_joins(p, carrier)
    p.take("dilution", "dilute", as_="joins")
    if p.has("neat"):
        return None
    one = Read("dilute", {"volume": volume.said(V), **fields}, answers)
    if n == 1:
        return one
    all_ = Read(
        "dilute", {"volume": volume.said(V, times=n), **fields}, answers, times=1.0 if spare else n
    )
    if is_open:
        count = f"{n:g}"
        return replace(one, ways=(("all", f"{volume.text} in all, for the {count}", one), ("each", f"{volume.text} for each of the {count}", all_)),
                       asks=f"Is it {volume.text} in all, or {volume.text} for each of the {count} jars?", ask_key="in_all")  # fmt: skip
    return all_


def _ladder(
    p: Parse,
    wanted: list[Phrase],
    sources: list[Phrase],
    volumes: list[Phrase],
    key: str,
    manner: dict[str, str],
) -> Read | None:
    """Several strengths in one line, each with its take."""
    if len(wanted) != 1 or len(sources) != 1 or len(volumes) != 1:
        return None
    w, s, v = (
        p.use(wanted[0], "strengths wanted"),
        p.use(sources[0], "strength of the stock"),
        p.use(volumes[0], "volume of each"),
    )
    carrier = carrier_of(p, [s])
    p.take("each", as_="each")
    use_what_joins(p, carrier)
    unit = w.unit_of(*STRENGTHS).name
    reads = tuple(
        (
            f"{plainly(x)} {unit}",
            Read(
                "dilute",
                {
                    "volume": v.said(V),
                    "target": f"{plainly(x)} {unit}",
                    "stock": strength_said(s),
                    **active_field(key),
                    **manner,
                    **carrier,
                },
            ),
        )
        for x in w.values
    )
    return Read("dilute", {}, ladder=reads, sum_up=True)


def _thinned(
    p: Parse, wanted: list[Phrase], sources: list[Phrase], volumes: list[Phrase], key: str,
    manner: dict[str, str], is_thinning: bool,
) -> Read | None:  # fmt: skip
    """A volume there is, thinned to a strength."""
    if len(wanted) != 1 or len(sources) != 1 or len(volumes) != 1:
        return None
    v, s = volumes[0], sources[0]
    water_asked = p.has("howmuch") and bool(p.agents("water"))
    if not ((is_thinning and _binds(p, v, s)) or (water_asked and v.at[0] < s.at[0])):
        return None
    p.use(v, "what there is")
    p.use(s, "its strength")
    p.use(wanted[0], "strength wanted")
    carrier = carrier_of(p, [s])
    use_what_joins(p, carrier)
    read = Read(
        "thin",
        {
            "have": v.said(V),
            "stock": strength_said(s),
            "target": strength_said(wanted[0]),
            **active_field(key),
            **manner,
            **strengths_of_alcohol(carrier),
        },
    )
    return read


def _take_ounces_as_fluid(p: Parse) -> None:
    """An ounce of a solution is a fluid one, US or imperial."""
    fluid = units_named("fl oz")
    for i, x in enumerate(p.phrases):
        if any(u.asks == "ounce" for u in x.units):
            p.phrases[i] = replace(x, units=(fluid[0],))


def _are_joined(p: Parse, one: Phrase, other: Phrase) -> bool:
    """Whether a word or sign joins two strengths: 5000 ppm and 500 ppm, not 5000 ppm 500 ppm."""
    first, last = sorted(
        (one.at[-1], other.at[0]) if one.at < other.at else (other.at[-1], one.at[0])
    )
    return any(
        x.text.lower() in ("and", "+", "&", ",", "plus", "with", "or")
        for x in p.phrases
        if first < x.at[0] < last
    )


def _takes_from(p: Parse) -> bool:
    """Whether a source is named; “with” names what it is made up with."""
    return any(w.text.lower() != "with" for w in p.phrases if w.what == "word" and w.tag == "from")


def _binds(p: Parse, v: Phrase, s: Phrase) -> bool:
    """Whether a volume stands with a strength: 40 mL of 1 %, 40 mL 1 %."""
    x = p.after(v)
    while x is not None and (
        (x.what == "mark" and x.tag != ",") or (x.what == "word" and x.tag in ("of", "at"))
    ):
        x = p.after(x)
    return x is s or (x is not None and x.what == "active" and p.after(x) is s)


def _blend(
    p: Parse,
    wanted: list[Phrase],
    sources: list[Phrase],
    volumes: list[Phrase],
    key: str,
    manner: dict[str, str],
) -> Read | None:
    """Two volumes of two strengths poured together."""
    strengths = sorted([*wanted, *sources], key=lambda a: a.at[0])
    if (
        len(volumes) != 2
        or len(strengths) != 2
        or p.has("made_to", "want", "dilute", "stock")
        or _takes_from(p)
    ):
        return None
    if not all(_binds(p, v, s) for v, s in zip(volumes, strengths, strict=True)):
        return None
    if not (p.has("and", "mix") or any(w.text.lower() == "with" for w in p.words("from"))):
        return None
    for x in (*volumes, *strengths):
        p.use(x, "poured together")
    p.take("mix", as_="joins")
    use_joining(p)
    fields = {
        "one": volumes[0].said(V),
        "one_strength": strength_said(strengths[0]),
        "other": volumes[1].said(V),
        "other_strength": strength_said(strengths[1]),
    }
    return Read("blend", {**fields, **active_field(key), **manner})


def _added(
    p: Parse,
    wanted: list[Phrase],
    sources: list[Phrase],
    volumes: list[Phrase],
    key: str,
    manner: dict[str, str],
) -> Read | None:
    """So much of a stock in, or into, so much: made up to it, or added to it."""
    strengths = [*wanted, *sources]
    if len(volumes) != 2 or len(strengths) != 1 or _takes_from(p):
        return None
    a, b = volumes
    if not a.at[0] < strengths[0].at[0] < b.at[0] and not strengths[0].at[0] < a.at[0]:
        if p.has("dilute") and strengths[0].at[0] > b.at[0]:
            return None
        return None
    for x in (a, b, strengths[0]):
        p.use(x, "poured together")
    is_up = p.take("made_to", "top_up", "fill", "made_with", as_="made up to")
    text_between = [x for x in p.phrases if a.at[-1] < x.at[0] < b.at[0]]
    words = {x.text.lower() for x in text_between if x.what == "word"}
    is_up = p.take("up", as_="made up to") or is_up
    p.take("made", "topped", as_="made up to")
    carrier = carrier_of(p, [])
    if is_up:
        way = "in"
    elif words & {"+", "plus", "and", "with", "to"}:
        way = "to"
    else:
        way = ""
    one, other = millilitres(a), millilitres(b)
    if one is None or other is None:
        raise Refused(f"{a.text} and {b.text}: give both in mL or L, to mix them.")
    if way == "in" and one >= other:
        raise Refused(
            f"{a.text} made up to {b.text}: that is more than it is made up to. Turn it round, or give more than {b.text}.",
            is_sure=True,
        )
    p.take("mix", "dilute", as_="joins")
    use_joining(p)
    fields = {
        "part": plainly(one),
        "diluent": plainly(other),
        **({"way": way} if way else {}),
        "stock": strength_said(strengths[0]),
    }
    return Read("parts", {**fields, **active_field(key), **manner, **strengths_of_alcohol(carrier)})
