"""Lines of parts: one in so many, folds in a row, talc, and spirits."""

from dataclasses import replace

from racecard.core.prepare.cards import Amount
from racecard.core.prepare.phrases import STRENGTHS, Parse, Phrase, plainly
from racecard.core.prepare.readings.shared import (
    MOLAR,
    PPM,
    SHARE,
    M,
    Read,
    Refused,
    V,
    active_field,
    active_of,
    fold_of,
    manner_of,
    ppm_of,
    roles_of,
    spirits_in,
    use_joining,
)
from racecard.core.quantities import shown


def parts(p: Parse) -> Read | None:
    """One to eight, one in eight, parts of this to parts of that, so many times."""
    ratios = p.free(lambda x: x.what == "ratio")
    counted = p.free(lambda x: x.what == "count" and x.tag == "part")
    folds = _folds(p)
    if p.words("medium_name"):
        return None
    strengths = [a for a in p.amounts(*STRENGTHS) if a not in spirits_in(p)]
    half = p.words("halfhalf")
    is_equal = p.has("equal") and p.has("part")
    if len(ratios) + len(counted) // 2 + len(folds) + len(half) + is_equal == 0:
        return None
    if any(x.tag == "talc" or x.tag == "plain talc" for x in p.agents()) and counted:
        return _talc_parts(p, counted, strengths)
    fields: dict[str, str] = {}
    if half or is_equal:
        p.take("halfhalf", "equal", "part", as_="parts")
        fields = {"part": "1", "diluent": "1", "way": "to"}
    elif len(counted) == 2:
        one, other = (c.value for c in counted)
        water_first = _is_water_after(p, counted[0])
        for c in counted:
            p.use(c, "parts")
        if water_first:
            one, other = other, one
        fields = {"part": plainly(one), "diluent": plainly(other), "way": "to"}
    elif len(ratios) == 1 and len(ratios[0].values) == 2 and not folds:
        q = p.use(ratios[0], "parts")
        one, other = q.values
        way = {"slash": "", "": "", "to": "to", "in": "in"}[q.way]
        after = p.after(q)
        if after is not None and after.what == "agent" and after.tag == "water" and q.way == "":
            one, other, way = other, one, "to"  # 3:1 water to stock
        if min(one, other) <= 0:
            raise Refused(
                f"{q.text} holds no diluent, or none of the stock: both parts must be above 0.",
                is_sure=True,
            )
        if way == "in" and one >= other:
            raise Refused(f"{q.text} holds no water: turn it round.", is_sure=True)
        fields = {"part": plainly(one), "diluent": plainly(other), **({"way": way} if way else {})}
        times = p.free(lambda x: x.what == "times")
        if times or p.has("in_row", "steps"):
            return _serial(
                p, [fold_of(q)] * int(times[0].value) if times else [fold_of(q)], strengths
            )
    elif len(folds) == 1 and not ratios:
        n = folds[0]
        times = p.free(lambda x: x.what == "times")
        if p.has("serial") and times:
            return _serial(p, [n] * int(times[0].value), strengths)
        fields = {"part": "1", "diluent": plainly(n), "way": "in"}
    elif len(ratios) >= 2 or (ratios and p.has("steps", "in_row")):
        return _serial(p, [fold_of(q) for q in ratios], strengths)
    else:
        return None
    p.take("dilution", "dilute", "ratio", "part", "mix", "serial", "steps", "fold", as_="parts")
    for key, a in zip(("stock", "second"), strengths, strict=False):
        fields[key] = p.use(a, "strength").said(*STRENGTHS)
    volumes = p.amounts(V)
    if len(volumes) == 1:
        fields["volume"] = p.use(volumes[0], "volume").said(V)
    keys = list(dict.fromkeys(a.tag for a in p.actives()))
    for a in p.actives():
        p.use(a, "active")
    for agent in p.agents():
        if agent.tag != "talc":
            p.use(agent, "what is diluted")
    p.take("jar", as_="joins")
    use_joining(p)
    if len(strengths) > 2 or len(keys) > 2 or (len(keys) == 2 and len(strengths) < 2):
        return None
    manner = manner_of(p)
    return Read("parts", {**fields, **(active_field(keys[0]) if keys else {}), **manner})


def _is_water_after(p: Parse, c: Phrase) -> bool:
    after = p.after(c)
    return after is not None and after.what == "agent" and after.tag == "water"


def _folds(p: Parse) -> list[float]:
    """Tenfold, 10x dilution, dilute 25 times; used up."""
    out = []
    for w in p.words("fold"):
        out.append(10.0)
        p.use(w, "parts")
    if not p.has("dilution", "dilute", "fold", "serial"):
        return out
    for t in p.free(lambda x: x.what == "times"):
        after = p.after(t)
        if (after is None or not after.is_of(V, M)) and not out:
            out.append(t.value)
            p.use(t, "parts")
    return out


def _serial(p: Parse, steps: list[float], strengths: list[Phrase]) -> Read | None:
    """One dilution after another."""
    for q in p.free(lambda x: x.what in ("ratio", "times")):
        p.use(q, "steps")
    numbers = p.free(lambda x: x.what == "number")
    if p.has("in_row") and len(steps) == 1 and len(numbers) == 1:
        steps = steps * int(p.use(numbers[0], "steps").value)
    p.take("dilution", "dilute", "serial", "steps", "in_row", "ratio", "fold", as_="steps")
    if len(strengths) != 1:
        return None
    stock = p.use(strengths[0], "strength").said(*STRENGTHS)
    key = active_of(p)
    use_joining(p)
    return Read(
        "serial",
        {
            "stock": stock,
            "steps": "; ".join(plainly(x) for x in steps),
            **active_field(key),
            **manner_of(p),
        },
    )


def _talc_parts(p: Parse, counted: list[Phrase], strengths: list[Phrase]) -> Read | None:
    if len(counted) != 2 or len(strengths) != 1:
        return None
    one, other = (c.value for c in counted)
    if (
        (after := p.after(counted[0])) is not None
        and after.what == "agent"
        and after.tag == "plain talc"
    ):
        one, other = other, one
    for c in counted:
        p.use(c, "parts by weight")
    s = p.use(strengths[0], "strength")
    for a in p.agents():
        p.use(a, "talc")
    active_of(p)
    use_joining(p)
    value = s.value * one / (one + other)
    return Read("talc", {"Parts": f"{one:g} and {other:g}", "Strength": s.text}, word="Dilute a powder",
                amounts=(Amount("Strength", value, "%", f"{shown(value)} %"),), says=(f"{s.text} × {one:g} ÷ {one + other:g} = {shown(value)} %, by weight.",))  # fmt: skip


def talc(p: Parse) -> Read | None:
    """A talc thinned with plain talc; what a powder holds."""
    masses = p.amounts(M)
    strengths = p.amounts(SHARE, PPM)
    is_talc = bool(p.agents("talc", "plain talc"))
    if is_talc and p.amounts(V):
        raise Refused(
            "A talc is a powder and no stock for a liquid: its filler does not dissolve. Take a liquid stock or the pure powder.",
            is_sure=False,
        )
    if not masses or p.amounts(V, MOLAR):
        return None
    if not is_talc and any(u.asks == "ounce" for m in masses for u in m.units):
        return None  # an ounce may be a fluid one
    if not is_talc and len(strengths) < 2:
        return None

    def percent(a: Phrase) -> str:
        return a.said(SHARE) if a.is_of(SHARE) else f"{plainly(ppm_of(a) / 10_000)} %"

    if len(masses) == 2 and len(strengths) == 1 and p.agents("plain talc"):
        strong, plain = (p.use(m, "weight") for m in masses)
        if p.before(p.agents("plain talc")[0]) is strong:
            strong, plain = plain, strong
        s = p.use(strengths[0], "strength")
        for a in p.agents("talc", "plain talc"):
            p.use(a, "talc")
        use_joining(p)
        value = s.value * strong.value / (strong.value + plain.value)
        return Read("talc", {"Talc": strong.text, "Plain talc": plain.text}, word="Dilute a powder", amounts=(
            Amount("Strength", value, "%", f"{shown(value)} %"),), says=(f"{s.text} × {shown(strong.value)} ÷ {shown(strong.value + plain.value)} = {shown(value)} %.",))  # fmt: skip
    if len(masses) != 1:
        return None
    wanted, sources, is_thinning = roles_of(p, strengths)
    m = masses[0]
    for a in p.agents("talc", "plain talc"):
        p.use(a, "talc")
    p.take("powder", "dilute", as_="talc")
    active_of(p)
    if len(strengths) == 1 and (p.has("howmuch") or not p.has("from")):
        p.use(m, "powder")
        s = p.use(strengths[0], "strength")
        use_joining(p)
        return Read("holds", {"mass": m.said(M), "percent": percent(s)})
    if len(wanted) != 1 or len(sources) != 1:
        return None
    p.use(m, "weight")
    p.use(wanted[0], "strength wanted")
    p.use(sources[0], "strength of the powder")
    has_it = is_thinning and m.at[0] < sources[0].at[0]
    use_joining(p)
    fields = {"target": percent(wanted[0]), "strong": percent(sources[0])}
    answers = {"ounce": "weight"} if m.units[0].asks == "ounce" else {}
    if has_it:
        return replace(
            Read("talc", {**fields, "mass": m.said(M), "start": m.said(M)}, answers), says=()
        )
    return Read("talc", {**fields, "mass": m.said(M)}, answers)


def alcohol(p: Parse) -> Read | None:
    """How much of an alcohol makes a weaker one."""
    if p.actives() or not p.agents("alcohol"):
        return None
    shares, volumes = p.amounts(SHARE), p.amounts(V)
    ranged = [a for a in shares if a.joined]
    if len(volumes) != 1 or ranged:
        return None
    if len(shares) != 2:
        return None
    wanted, sources, _ = roles_of(p, shares)
    if len(sources) != 1:
        sources, wanted = ([shares[0]], [shares[1]]) if p.has("to") else ([shares[1]], [shares[0]])
    for a in p.agents("alcohol", "water"):
        p.use(a, "alcohol")
    p.use(volumes[0], "volume")
    p.use(wanted[0], "wanted")
    p.use(sources[0], "your alcohol")
    use_joining(p)
    p.take("dilute", as_="joins")
    if sources[0].value > 100:
        raise Refused(
            f"{sources[0].text} is more than all of it: alcohol is at most 100 %.", is_sure=True
        )
    return Read(
        "alcohol",
        {
            "volume": volumes[0].said(V),
            "target": wanted[0].said(SHARE),
            "stock": sources[0].said(SHARE),
        },
    )
