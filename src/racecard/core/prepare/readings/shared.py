"""What several readings share: the reading itself, actives, manners, carriers and roles."""

from dataclasses import dataclass, field

from racecard.core.prepare.actives import ACTIVES
from racecard.core.prepare.cards import Amount
from racecard.core.prepare.phrases import STRENGTHS, Parse, Phrase
from racecard.core.prepare.vocabulary import has_molar_mass
from racecard.core.quantities import Dimension
from racecard.errors import InvalidInput

V, M, L, T = Dimension.VOLUME, Dimension.MASS, Dimension.LENGTH, Dimension.TIME
SHARE, PPM, MOLAR = Dimension.SHARE, Dimension.STRENGTH, Dimension.MOLAR
WARMTH = Dimension.TEMPERATURE


@dataclass(frozen=True, slots=True)
class Read:
    """A line as one sum. `answers`: what the line itself settles; `times`: how many alike are made;
    `ladder`: several sums of one line; `ways`: readings between which a question decides.
    """

    key: str
    fields: dict[str, str]
    answers: dict[str, str] = field(default_factory=dict)
    times: float = 1.0
    says: tuple[str, ...] = ()
    ladder: tuple[tuple[str, "Read"], ...] = ()
    pick: int = 0
    sum_up: bool = False
    word: str = ""
    amounts: tuple[Amount, ...] = ()
    ways: tuple[tuple[str, str, "Read"], ...] = ()
    asks: str = ""
    ask_key: str = ""
    usual: str = ""


class Refused(InvalidInput):
    """A line that is understood and cannot be worked out; the sentence says why."""

    def __init__(self, detail: str, *, is_sure: bool = False) -> None:
        super().__init__(detail, "/line")
        self.is_sure = is_sure


def active_of(p: Parse) -> str:
    """The one active of the line, used up; "" where none is named."""
    named = [a for a in p.actives()]
    for a in named:
        p.use(a, "active")
    keys = list(dict.fromkeys(a.tag for a in named))
    if len(keys) > 1:
        raise Refused(
            f"The line names {' and '.join(keys)}: one sum is for one active, so name one."
        )
    return keys[0] if keys else ""


def active_field(key: str) -> dict[str, str]:
    """The field of an active that the sums know; none for another."""
    return {"active": key} if has_molar_mass(key) else {}


def manner_of(p: Parse) -> dict[str, str]:
    """Wood stage and how it is given, from words and times: soak 24 h, overnight, dip of 5 s."""
    out: dict[str, str] = {}
    for w in p.free(lambda x: x.what == "word" and x.tag.startswith("stage:")):
        out["stage"] = w.tag.removeprefix("stage:")
        p.use(w, "wood stage")
    times = p.amounts(T)
    has_soak, has_dip = p.has("soak"), p.has("dip")
    night = p.take("overnight", as_="time")
    if times or night or has_soak or has_dip:
        is_hours = night or any(
            t.units[0].name in ("h", "d", "weeks") or (t.units[0].name == "min" and t.value >= 10)
            for t in times
        )
        is_short = any(
            t.units[0].name == "s" or (t.units[0].name == "min" and t.value < 10) for t in times
        )
        if is_hours or (has_soak and not is_short):
            out["method"] = "soak"
        elif is_short or has_dip:
            out["method"] = "dip"
        if has_soak or has_dip or is_short or night:
            for t in times:
                p.use(t, "time")
        p.take("soak", "dip", as_="how it is given")
    return out


def spirits_in(p: Parse) -> list[Phrase]:
    """Percentages that are of alcohol."""
    out = []
    for a in p.amounts(SHARE):
        after, before = p.after(a), p.before(a)
        while after is not None and after.what == "mark":
            after = p.after(after)
        if after is not None and after.what == "agent" and after.tag == "alcohol":
            out.append(a)
        elif before is not None and before.what == "agent" and before.tag == "alcohol":
            out.append(a)
    return out


def carrier_of(p: Parse, sources: list[Phrase]) -> dict[str, str]:
    """What it is made up with; alcohol that belongs to the stock is the stock's."""
    spirits = spirits_in(p)
    out: dict[str, str] = {}
    for a in spirits:
        before = p.before(a)
        follows_stock = bool(sources) and a.at[0] > sources[-1].at[0]
        word = before.text.lower() if before is not None else ""
        if follows_stock and word != "with":
            out["alcohol"] = a.said(SHARE)
        else:
            out |= {"carrier": "alcohol", "alcohol_diluent": a.said(SHARE)}
        p.use(a, "alcohol")
    for agent in p.agents("alcohol"):
        p.use(agent, "alcohol")
        out.setdefault("carrier", "alcohol")
    for agent in p.agents("water"):
        p.use(agent, "water")
        out.setdefault("carrier", "water")
    return out


def strengths_of_alcohol(carrier: dict[str, str]) -> dict[str, str]:
    """Of what it is made up with, the fields that sums of every kind have."""
    return {k: v for k, v in carrier.items() if k in ("alcohol", "alcohol_diluent")}


def use_joining(p: Parse) -> None:
    """Words that only join: used once a reading has what it needs."""
    p.take("from", "in", "to", "for", "at", "want", "have", "stock", "and", "per", "each", "down", "made", "up",
           "arrow", "howmuch", "of", "as", "made_with", "steps" if False else "of", as_="joins")  # fmt: skip


def multiplier_of(p: Parse, volume: Phrase | None) -> tuple[float, bool]:
    """How many alike are made, and whether a bare “for 6 jars” leaves it open."""
    n, is_open = 1.0, False
    for t in p.free(lambda x: x.what == "times"):
        n *= t.value
        p.use(t, "how many")
    for w in p.words("lot"):
        p.use(w, "how many")
    for c in p.free(
        lambda x: x.what == "count" and x.tag in ("lot", "jar", "cutting", "pot", "cell", "plant")
    ):
        nxt = p.after(c)
        if c.tag == "lot" or (nxt is not None and nxt.what == "word" and nxt.tag == "times"):
            if nxt is not None and nxt.what == "word" and nxt.tag == "times":
                p.use(nxt, "how many")
        elif not (p.has("each") or (p.has("per") and p.has("jar", "pot"))):
            is_open = True
        p.use(c, "how many")
        n *= c.value
    p.take("jar", "pot", "cutting", as_="what it is for")
    for extra in spare_numbers(p):
        n *= 1 + extra / 100
    return n, is_open


def spare_numbers(p: Parse) -> list[float]:
    """“plus 10 % spare”: more to make, no second strength."""
    out = []
    for w in p.words("extra"):
        before = p.before(w)
        if before is not None and before.is_of(SHARE):
            out.append(before.value)
            p.use(before, "spare")
            p.use(w, "spare")
    return out


def roles_of(p: Parse, strengths: list[Phrase]) -> tuple[list[Phrase], list[Phrase], bool]:
    """Strengths wanted and strengths there are; and whether a volume named with the stock is what there is."""
    mode, is_thinning = "want", False
    wanted: list[Phrase] = []
    sources: list[Phrase] = []
    for x in p.phrases:
        if x.what == "word":
            if x.tag in ("from", "have", "howmuch") or (x.tag == "dilute" and not sources):
                if x.tag == "dilute" and wanted and not sources:
                    sources, wanted = wanted, []
                mode = "source"
                is_thinning |= x.tag in ("dilute", "have")
            elif x.tag in ("want", "arrow", "at") or (
                x.tag in ("to", "for", "down", "made_to") and mode == "source" and sources
            ):
                if x.tag == "arrow" and wanted and not sources:
                    sources, wanted = wanted, []
                mode = "want"
            elif (
                x.tag in ("to", "down") and not sources and _is_thinned_to(p, x, wanted, strengths)
            ):
                sources, wanted, is_thinning = wanted, [], True
            elif x.tag == "stock":
                last = p.before(x)
                while (
                    last is not None and last not in strengths and last.what in ("active", "mark")
                ):
                    last = p.before(last)
                if (
                    last in strengths
                    and last in wanted
                    and mode == "want"
                    and _next_strength(p, x, strengths) is None
                ):
                    wanted.remove(last)
                    sources.append(last)
                elif last not in sources:
                    mode = "source"
        elif x.what == "mark" and x.tag in (".", ";") and sources:
            mode = "want"
        elif x.what == "mark" and x.tag == ":" and sources and mode == "source":
            mode = "want"
        elif x.is_of(V) and mode == "source" and sources and not is_thinning:
            mode = "want"
        elif x in strengths:
            (sources if mode == "source" else wanted).append(x)
    return wanted, sources, is_thinning


def _is_thinned_to(p: Parse, to: Phrase, before: list[Phrase], strengths: list[Phrase]) -> bool:
    """Whether "1 % IBA to 1500 ppm" stands here: a strength, perhaps its active, and a weaker one."""
    last, weaker = p.before(to), p.after(to)
    if last is not None and last.what == "active":
        last = p.before(last)
    if len(before) != 1 or last is not before[0] or weaker not in strengths:
        return False
    molar = {x.is_of(MOLAR) for x in (last, weaker)}
    if len(molar) > 1:
        return False
    values = [x.value if x.is_of(MOLAR) else plain_ppm(x) for x in (last, weaker)]
    return values[1] < values[0]


def _next_strength(p: Parse, word: Phrase, strengths: list[Phrase]) -> Phrase | None:
    i = p.phrases.index(word)
    for x in p.phrases[i + 1 :]:
        if x in strengths:
            return x
        if x.is_of(V):
            return None
    return None


def labelled_strengths(p: Parse) -> dict[str, Phrase]:
    """C1 = 1 %, C2 = 1500 ppm, V2 = 200 mL."""
    out = {}
    for x in p.phrases:
        if x.what == "mark" and x.tag in ("C1", "C2", "V1", "V2"):
            after = p.after(x)
            if after is not None and after.what == "amount":
                out[x.tag] = after
                p.use(x, "joins")
    return out


def strength_said(a: Phrase) -> str:
    """A strength as it was written."""
    return a.said(*STRENGTHS)


def _is_liquid_strength(a: Phrase) -> bool:
    return a.is_of(*STRENGTHS)


def per_said(per: Phrase, amount: Phrase) -> str:
    """What a rate is per, as a field."""
    if per is amount:
        return "1 L"
    if per.what == "unit":
        return f"1 {per.units[0].name}"
    return per.said(V)


def rate_pairs(p: Parse) -> tuple[Phrase, Phrase] | None:
    """An amount and what it is per: 1 tbsp per litre, 4 oz per gallon, 2 g/L; not used up yet."""
    for w in p.phrases:
        is_per = (w.what == "word" and w.tag == "per") or (w.what == "mark" and w.tag == "/")
        if not is_per:
            continue
        after = p.after(w)
        before = p.before(w)
        while (
            before is not None
            and not before.is_of(V, M)
            and (
                before.what in ("mark", "active", "agent")
                or before.is_of(*STRENGTHS)
                or (before.what == "word" and before.tag in ("of",))
            )
        ):
            before = p.before(before)
        if before is None or not before.is_of(V, M) or after is None:
            continue
        if after.is_of(V) or (after.what == "unit" and any(u.dimension is V for u in after.units)):
            return before, after
    return None


def use_per(p: Parse, amount: Phrase, per: Phrase) -> None:
    """Use up a rate: its amount and what it is per."""
    p.use(amount, "amount")
    p.use(per, "per")
    for w in p.words("per"):
        if p.after(w) is per:
            p.use(w, "per")


def fold_of(q: Phrase) -> float:
    """How many times weaker a ratio makes it."""
    one, other = q.values
    return (one + other) / one if q.way == "to" else other / one


def ppm_of(a: Phrase) -> float:
    """A strength in ppm."""
    scale = {"ppm": 1.0, "mg/L": 1.0, "µg/mL": 1.0, "g/L": 1000.0, "mg/mL": 1000.0, "ppb": 0.001}
    return a.value * scale.get(a.unit_of(PPM).name, 1.0)


@dataclass(frozen=True, slots=True)
class Names:
    """Actives named with what is wanted, and with what it is made of."""

    wanted: tuple[str, ...]
    source: tuple[str, ...]

    @property
    def key(self) -> str:
        """The active of the sum."""
        return next(iter((*self.wanted, *self.source)), "")


def family_of(key: str) -> str:
    """The acid of a salt, or the active itself."""
    found = ACTIVES.get(key)
    return (found.acid or key) if found is not None else key


def use_what_joins(p: Parse, carrier: dict[str, str]) -> None:
    """Use up the water, the joining words and what the carrier took.

    Args:
        p: the line, part by part.
        carrier: fields of the carrier that was found.
    """
    for a in p.agents("water"):
        p.use(a, "water")
    p.take("dilute", "dilution", "made_to", "jar", "acid" if False else "of", as_="joins")
    use_joining(p)
    del carrier


def plain_ppm(a: Phrase) -> float:
    """A strength in ppm; a bare number as it stands."""
    return a.value * 10_000 if a.is_of(SHARE) else ppm_of(a) if a.is_of(PPM) else a.value


_ML = {"mL": 1.0, "L": 1000.0, "µL": 0.001, "dL": 100.0, "cL": 10.0}


def millilitres(a: Phrase) -> float | None:
    """A volume in mL; None where its unit has more than one size."""
    scale = _ML.get(a.unit_of(V).name)
    return None if scale is None else a.value * scale
