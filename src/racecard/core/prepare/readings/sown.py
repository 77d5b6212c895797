"""Lines of seed: how many to sow, what a lot is worth, what a tray takes."""

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
    T,
    V,
)
from racecard.core.quantities import OVERNIGHT, shown


def seeds(p: Parse) -> Read | None:
    """How many seeds for so many plants; or how many cells come up with so many seeds each."""
    if not p.has("germination", "seed") or p.amounts(V, M, PPM, MOLAR):
        return None
    shares = p.amounts(SHARE)
    counts = {c.tag: c for c in p.free(lambda x: x.what == "count")}
    per_cell = _each_cell(p)
    germ, survive, extra = (
        _share_near(p, shares, "germination"),
        _share_near(p, shares, "survive"),
        _share_near(p, shares, "extra"),
    )
    germ = germ or next((a for a in shares if a not in (survive, extra)), None)
    numbers = p.free(lambda x: x.what == "number")
    open_share = ""
    if germ is None and len(numbers) == 1 and 0 < numbers[0].value <= 1:
        open_share = plainly(numbers[0].value)
        p.use(numbers[0], "germination")
    elif germ is None:
        return None
    for a, as_ in ((germ, "germination"), (survive, "survival"), (extra, "spare")):
        if a is not None:
            p.use(a, as_)
    p.take(
        "germination",
        "survive",
        "extra",
        "seed",
        "at",
        "for",
        "want",
        "each",
        "per",
        "cell",
        "and",
        as_="joins",
    )
    plants = counts.get("plant")
    if plants is not None:
        p.use(plants, "plants wanted")
        fields = {"wanted": plainly(plants.value)}
        if survive is not None:
            fields["survival"] = survive.said(SHARE)
        if extra is not None:
            fields["over"] = plainly(extra.value)
        if open_share:
            many = Read("seeds", {**fields, "germination": f"{plainly(float(open_share) * 100)} %"})
            few = Read("seeds", {**fields, "germination": f"{open_share} %"})
            return replace(many, ways=(("share", f"{plainly(float(open_share) * 100)} %", many), ("percent", f"{open_share} %", few)),
                           asks=f"Is {open_share} a share, {plainly(float(open_share) * 100)} %?", ask_key="germination", usual="share")  # fmt: skip
        assert germ is not None
        if germ.value > 100:
            raise Refused(f"{germ.text} is more than all: germination is 0 to 100 %.", is_sure=True)
        if germ.value <= 0:
            raise Refused(
                f"{germ.text} germination: nothing comes up, so no number of seeds is enough.",
                is_sure=True,
            )
        fields["germination"] = germ.said(SHARE)
        if per_cell is not None:
            return _cells_or_seeds(fields, plants.value, germ.value, per_cell)
        return Read("seeds", fields)
    if per_cell is not None and germ is not None:
        chance = 1 - (1 - germ.value / 100) ** per_cell
        cells = counts.get("cell")
        if cells is not None:
            p.use(cells, "cells")
        amounts = [Amount("Cells with one or more", 100 * chance, "%", f"{shown(100 * chance)} %")]
        says = [f"1 − (1 − {germ.value / 100:.2f})^{per_cell:g} = {chance:.3f}."]
        if cells is not None:
            amounts += [
                Amount("Cells with one or more", cells.value * chance, "", f"about {cells.value * chance:.0f} of {cells.value:g}"),
                Amount("Seeds in all", cells.value * per_cell, "", f"{cells.value * per_cell:g} seeds"),
            ]  # fmt: skip
        return Read("cell", {"Germination": germ.text, "Seeds per cell": f"{per_cell:g}"}, word="Cells that come up",
                    amounts=tuple(amounts), says=tuple(says))  # fmt: skip
    sown = p.free(lambda x: x.what == "count" and x.tag == "seed")
    if germ is not None and len(sown) == 1:
        n = p.use(sown[0], "seeds sown").value
        come = n * germ.value / 100
        return Read("seeds", {"Seeds": f"{n:g}", "Germination": germ.text}, word="What comes up", amounts=(
            Amount("Seedlings, about", come, "", f"about {come:.0f} of {n:g}"),),
            says=(f"{n:g} × {germ.value / 100:.2f} = {come:.0f} on average; label germination is a laboratory value.",))  # fmt: skip
    return None


def _share_near(p: Parse, shares: list[Phrase], tag: str) -> Phrase | None:
    for w in p.words(tag):
        for other in (p.before(w), p.after(w)):
            if other in shares:
                return other
    return None


def _each_cell(p: Parse) -> float | None:
    """Seeds per cell: 3 seeds per cell, 2 per cell, 2 seeds each."""
    is_each = p.has("per", "each", "cell") or any(x.tag == "cell" for x in p.phrases)
    for c in p.free(lambda x: is_each and x.what == "count" and x.tag == "seed"):
        p.use(c, "seeds per cell")
        return c.value
    for n in p.free(lambda x: x.what == "number"):
        after = p.after(n)
        if after is not None and after.what == "word" and after.tag in ("per", "each"):
            p.use(n, "seeds per cell")
            return n.value
    return None


def _cells_or_seeds(fields: dict[str, str], plants: float, germ: float, per_cell: float) -> Read:
    from math import ceil

    chance = 1 - (1 - germ / 100) ** per_cell
    kept = ceil(plants / chance)
    every = ceil(plants / (germ / 100) / per_cell)
    one = Read("cell", dict(fields), word="Seeds to sow", amounts=(
        Amount("Seeds", kept * per_cell, "", f"{kept * per_cell:g} seeds in {kept} cells"),),
        says=(f"{plants:g} ÷ {chance:.3f} = {kept} cells, one plant kept in each.",))  # fmt: skip
    other = Read("cell", dict(fields), word="Seeds to sow", amounts=(
        Amount("Seeds", every * per_cell, "", f"{every * per_cell:g} seeds in {every} cells"),),
        says=(f"{plants:g} ÷ {germ / 100:.2f} = {plants / (germ / 100):.0f} seeds, every seedling kept.",))  # fmt: skip
    return replace(one, ways=(("one", "one plant is kept in each cell, the rest thinned", one), ("all", "every seedling is kept", other)),
                   asks="Is one plant kept in each cell, or every seedling?", ask_key="keep")  # fmt: skip


def soak(p: Parse) -> Read | None:
    """A soak of seed in water, with nothing in it: how long, and how warm."""
    if p.amounts(V, M, L, PPM, MOLAR, SHARE) or p.actives() or not p.has("soak", "overnight"):
        return None
    times, warm = p.amounts(T), p.amounts(WARMTH)
    night = p.take("overnight", as_="how long")
    if len(times) + night != 1 or len(warm) > 1 or any(x.joined for x in (*times, *warm)):
        return None
    fields = {"hours": f"{OVERNIGHT:g} h" if night else p.use(times[0], "how long").said(T)}
    if warm:
        a = p.use(warm[0], "how warm")
        fields["water"] = f"{plainly(a.value)} {a.unit_of(WARMTH).name}"
    for w in p.agents("water"):
        p.use(w, "what it is soaked in")
    p.take("soak", "seed", "in", "at", "for", as_="joins")
    return Read("soak", fields)
