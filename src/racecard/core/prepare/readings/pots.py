"""Lines of pots, trays and media: how many, how much, a mixture by parts."""

from dataclasses import replace

from racecard.core.prepare.cards import Amount
from racecard.core.prepare.phrases import Parse, Phrase, plainly
from racecard.core.prepare.readings.shared import (
    MOLAR,
    PPM,
    SHARE,
    WARMTH,
    L,
    M,
    Read,
    Refused,
    V,
    per_said,
    rate_pairs,
)
from racecard.core.quantities import shown


def pots(p: Parse) -> Read | None:
    """A pot's size, medium for pots, or a dose for them."""
    if not p.has("pot", "cell", "round", "square", "trade") and not any(
        x.what == "count" and x.tag in ("pot", "cell") for x in p.phrases
    ):
        return None
    lengths = p.amounts(L)
    counts = p.free(lambda x: x.what == "count" and x.tag in ("pot", "cell"))
    volumes = p.amounts(V)
    rates = rate_pairs(p)
    if p.has("trade"):
        p.take("trade", "pot", as_="pot by name")
        for x in p.free(
            lambda x: (
                x.is_of(V)
                or (x.what == "unit" and any(u.name == "gallon" for u in x.units))
                or (x.what == "number" and x.value == 1)
            )
        ):
            p.use(x, "pot by name")
        return _by_name(
            "trade_gallon",
            2800.0,
            "a trade gallon is not 3785 mL; makers differ from 2.6 to 3.0 L",
        )
    if lengths and not p.amounts(PPM, MOLAR):
        if rates is None and not (volumes and volumes[0].units[0].asks == "spoon"):
            return _pot_size(p, lengths)
        return _scaled(p, lengths, volumes)
    grams = [a for a in p.amounts(PPM) if a.units[0].name == "g/L"]
    if rates is None and len(grams) == 1 and len(volumes) == 1 and p.has("pot") and not p.actives():
        p.use(grams[0], "rate")
        each = p.use(volumes[0], "a pot holds")
        for a in p.agents():
            p.use(a, "what is mixed in")
        read = Read(
            "amend", {"rate": f"{plainly(grams[0].value)} g", "per": "1 L", "pot": each.said(V)}
        )
        for c in counts:
            p.use(c, "pots")
        p.take("pot", "per", "of", "in", "mix", "medium_name", "medium", "for", as_="joins")
        return _in_all(read, counts[0].value) if counts else read
    if not counts and not rates:
        return None
    if rates is not None:
        amount, per = rates
        pot = [v for v in volumes if v not in (amount, per)]
        if len(pot) == 1 and amount.is_of(M, PPM):
            each = p.use(pot[0], "a pot holds")
            p.use(amount, "rate")
            p.use(per, "per") if per is not amount else None
            rate = amount.said(M) if amount.is_of(M) else f"{plainly(amount.value)} g"
            read = Read("amend", {"rate": rate, "per": per_said(per, amount), "pot": each.said(V)})
            for a in p.agents():
                p.use(a, "what is mixed in")
            p.take("pot", "per", "of", "in", "mix", "medium_name", "for", as_="joins")
            if counts:
                p.use(counts[0], "pots")
                return _in_all(read, counts[0].value)
            return read
        return None
    n = counts[0]
    if len(volumes) == 1:
        v = volumes[0]
        p.use(n, "pots")
        p.use(v, "volume")
        for t in p.words("times"):
            p.use(t, "joins")
        follows = p.after(v)
        is_one = follows is not None and follows.what == "word" and follows.tag in ("pot", "cell")
        is_total = v.at[0] < n.at[0] and not is_one
        p.take("in", "of", "for", "to", "pot", "cell", "medium_name", as_="joins")
        if is_total:
            return Read("fill", {"total": v.said(V), "pots": plainly(n.value)})
        return Read("medium", {"pots": plainly(n.value), "each": v.said(V)})
    return None


def _in_all(read: Read, n: float) -> Read:
    """A dose for one pot, told for all of them."""
    from racecard.core.prepare.sums import reckon

    card = reckon(read.key, read.fields)
    first = card.amounts[0]
    total = Amount("In all", first.value * n, first.unit, f"{shown(first.value * n)} {first.unit}")
    return Read(read.key, dict(read.fields), word=card.title, amounts=(total, *card.amounts),
                says=(*card.says, f"{shown(first.value)} {first.unit} × {n:g} pots = {total.shown}."))  # fmt: skip


def _by_name(key: str, middle: float, says: str) -> Read:
    from racecard.core.prepare.media import NOMINAL

    name, low, high = NOMINAL[key]
    amounts = (
        Amount("Holds, about", middle, "mL", f"{shown(middle)} mL"),
        Amount("From", low, "mL", f"{low} mL"), Amount("To", high, "mL", f"{high} mL"),
    )  # fmt: skip
    read = Read("nominal", {"Pot": name}, word="Pots by name", amounts=amounts,
                says=(f"A pot called {name} holds {low} to {high} mL, by maker: measure yours; {says}.",))  # fmt: skip
    return read


def _cm(a: Phrase, k: int = 0) -> str:
    return f"{plainly(a.values[k])} {a.unit_of(L).name}"


def _pot_size(p: Parse, lengths: list[Phrase]) -> Read | None:
    p.take("round", as_="shape")
    is_square = p.take("square", as_="shape") or any(a.joined == "by" for a in lengths)
    where: dict[str, Phrase] = {}
    for a in lengths:
        after, before = p.after(a), p.before(a)
        for tag in ("top", "bottom", "deep"):
            near = after is not None and after.what == "word" and after.tag == tag
            if near or (
                before is not None
                and before.what == "word"
                and before.tag == tag
                and tag not in where
            ):
                where[tag] = a
                break
    p.take("top", "bottom", "deep", "pot", "cell", as_="which measure")
    for a in lengths:
        p.use(a, "measure of the pot")
    if {"top", "bottom", "deep"} <= where.keys():
        top, bottom, deep = where["top"], where["bottom"], where["deep"]
        if is_square:
            pick = 1 if top.joined == "by" else 0
            low = 1 if bottom.joined == "by" else 0
            return Read("box", {"top_long": _cm(top), "top_wide": _cm(top, pick), "bottom_long": _cm(bottom),
                                "bottom_wide": _cm(bottom, low), "height": _cm(deep)})  # fmt: skip
        return Read("pot", {"top": _cm(top), "bottom": _cm(bottom), "height": _cm(deep)})
    if "deep" in where and len(lengths) == 2:
        top = next(a for a in lengths if a is not where["deep"])
        cylinder = Read("pot", {"top": _cm(top), "bottom": _cm(top), "height": _cm(where["deep"])})
        narrow = Read(
            "pot",
            {
                "top": _cm(top),
                "bottom": f"{plainly(top.value * 0.7)} {top.unit_of(L).name}",
                "height": _cm(where["deep"]),
            },
        )
        return replace(cylinder, ways=(("cylinder", "as a cylinder: the bottom as wide as the top", cylinder),
                       ("narrow", _narrowing(top, where["deep"]), narrow)),
                       asks="How wide is the bottom? Most pots narrow, and a cylinder is too much.", ask_key="bottom")  # fmt: skip
    if len(lengths) == 1:
        inches = lengths[0].unit_of(L).name == "in"
        size = lengths[0].value if inches else lengths[0].value / 2.54
        key = (
            "four_inch"
            if abs(size - 4) < 0.3
            else "fifteen"
            if abs(size - 6) < 0.3
            else "round9"
            if abs(size - 3.54) < 0.2
            else ""
        )
        if key:
            from racecard.core.prepare.media import NOMINAL

            _, low, high = NOMINAL[key]
            return _by_name(key, (low + high) / 2, "width alone tells no volume")
        raise Refused(
            "A width alone tells no volume: give top, bottom and depth, such as 9 cm top 7 cm bottom 9 cm deep."
        )
    return None


def _narrowing(top: Phrase, deep: Phrase) -> str:
    """What such a pot usually holds, its bottom 0.65 to 0.75 of its top."""
    from racecard.core.prepare.media import frustum_ml

    scale = {"cm": 1.0, "mm": 0.1, "m": 100.0, "in": 2.54, "ft": 30.48}
    t, d = (a.value * scale[a.unit_of(L).name] for a in (top, deep))
    low, high = frustum_ml(t, 0.65 * t, d), frustum_ml(t, 0.75 * t, d)
    return f"the bottom about 0.7 of the top, as pots usually are: {low:.0f} to {high:.0f} mL"


def _scaled(p: Parse, lengths: list[Phrase], volumes: list[Phrase]) -> Read | None:
    """A dose told for a pot of one width, wanted for another: by volume or by width."""
    amount = next((v for v in p.amounts(V, M)), None)
    if amount is None or not 1 <= len(lengths) <= 2:
        return None
    p.use(amount, "dose")
    for a in lengths:
        p.use(a, "width of a pot")
    p.take("per", "pot", "for", "to", as_="joins")
    label, own = lengths[0].value, lengths[-1].value
    unit = amount.units[0].name
    if len(lengths) == 1:
        own = label
    by_width, by_volume = amount.value * own / label, amount.value * (own / label) ** 3
    if len(lengths) == 1:
        twice_w, twice_v = 2 * amount.value, 8 * amount.value
        says = (f"A pot of {_cm(lengths[0])} is named by its width, and that is a trap: twice the width holds eight times as much. "
                f"For a pot twice as wide it is {shown(twice_v)} {unit} by volume, {shown(twice_w)} {unit} by width. "
                "Measure what your pot holds with a ruler, top, bottom and depth, and dose by volume.",)  # fmt: skip
        return Read("amend", {"Dose": amount.text, "Pot": lengths[0].text}, word="A dose told by the width of a pot",
                    amounts=(Amount("To measure", amount.value, unit, f"{shown(amount.value)} {unit} in such a pot"),), says=says)  # fmt: skip

    def told(value: float, how: str) -> Read:
        return Read("amend", {"Dose": amount.text, "Pot": lengths[-1].text}, word="A dose told by the width of a pot",
                    amounts=(Amount("To measure", value, unit, f"{shown(value)} {unit}"),), says=(how,))  # fmt: skip

    volume = told(
        by_volume,
        f"({shown(own)} ÷ {shown(label)})³ = {shown((own / label) ** 3)} times the volume.",
    )
    width = told(by_width, f"{shown(own)} ÷ {shown(label)} = {shown(own / label)} times the width.")
    return replace(volume, ways=(("volume", f"by volume, × {shown((own / label) ** 3)}", volume), ("width", f"by width, × {shown(own / label)}", width)),
                   asks="By what the pot holds, or by its diameter? A pot twice as wide holds eight times as much.", ask_key="pot_scale")  # fmt: skip


def mixture(p: Parse) -> Read | None:
    """Media by parts: 3 parts peat 1 part perlite, 1:1:1, 60/40, equal parts, 10 % castings."""
    names = p.words("medium_name")
    if not names or p.actives() or p.amounts(PPM, MOLAR, M, WARMTH):
        return None
    parts = p.free(lambda x: x.what == "count" and x.tag == "part")
    ratios = p.free(lambda x: x.what == "ratio")
    shares = p.amounts(SHARE)
    volumes = p.amounts(V)
    said = [n.text.lower() for n in names]
    values: list[float] = []
    if parts and len(parts) == len(names):
        values = [q.value for q in parts]
        used: list[Phrase] = parts
    elif ratios and len(ratios[0].values) == len(names):
        values, used = list(ratios[0].values), ratios[:1]
    elif shares and len(shares) == len(names):
        values, used = [a.value for a in shares], shares
        if len(shares) == 1:
            values, said = [shares[0].value, 100 - shares[0].value], [said[0], "the rest"]
    elif p.has("equal"):
        values, used = [1.0] * len(names), []
        p.take("equal", "part", as_="parts")
    else:
        return None
    for x in [*used, *names]:
        p.use(x, "parts of the mix")
    p.take("and", "in", "of", "to", "part", "mix", "medium", "for", as_="joins")
    fields = {"parts": ":".join(plainly(v) for v in values), "names": ", ".join(said)}
    if len(volumes) != 1:
        if volumes:
            return None
        told = ", ".join(
            f"{n} {shown(100 * v / sum(values))} %" for n, v in zip(said, values, strict=True)
        )
        first = 100 * values[0] / sum(values)
        return Read("mixture", fields, word="Mix by parts", amounts=(
            Amount("Share of the first", first, "%", f"{shown(first)} %"),), says=(f"{told}. How much is wanted? Give a volume for the parts.",))  # fmt: skip
    v = p.use(volumes[0], "volume")
    return (
        Read("mixture", {"volume": v.said(V), **fields}, answers={}, says=())
        if len(values) > 1
        else None
    )
