"""Tokens of a line joined into phrases: amounts, ranges, ladders, ratios, counts and multipliers.

A phrase knows its tokens, so that what a sum used can be told apart from what it did not.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace

from racecard.core.prepare.tokens import Kind, Token
from racecard.core.quantities import Dimension, Unit

STRENGTHS = frozenset((Dimension.STRENGTH, Dimension.SHARE, Dimension.MOLAR))
_COUNTED = ("tablet", "jar", "pot", "cell", "cutting", "lot", "plant", "seed", "part")


@dataclass(slots=True)
class Phrase:
    """One piece of a line.

    `what`: amount, number, ratio, count, times, word, active, agent, grade or label. `values`: its
    numbers; `joined`: how they stand: "" one, "range", "list", "by"; `tag`: noun, word or key.
    """

    what: str
    at: tuple[int, ...]
    text: str
    values: tuple[float, ...] = ()
    joined: str = ""
    units: tuple[Unit, ...] = ()
    tag: str = ""
    way: str = ""
    groups: tuple[float, ...] = ()
    slash: tuple[float, float] | None = None

    @property
    def value(self) -> float:
        """Its first number."""
        return self.values[0]

    def is_of(self, *dimensions: Dimension) -> bool:
        """Whether this is an amount of one of these dimensions."""
        return self.what == "amount" and any(u.dimension in dimensions for u in self.units)

    def unit_of(self, *dimensions: Dimension) -> Unit:
        """Its unit of one of these dimensions."""
        return next(u for u in self.units if u.dimension in dimensions)

    def said(self, *dimensions: Dimension, times: float = 1.0) -> str:
        """The amount as a field holds it."""
        return f"{plainly(self.value * times)} {self.unit_of(*dimensions).name}"


def plainly(value: float) -> str:
    """A number as a field holds it: no thousands marks, no exponent."""
    return f"{value:.10f}".rstrip("0").rstrip(".") if abs(value) < 1e12 else f"{value:g}"


@dataclass(slots=True)
class Parse:
    """The phrases of a line, and which tokens a reading has used."""

    tokens: list[Token]
    phrases: list[Phrase]
    used: dict[int, str] = field(default_factory=dict)

    def copy(self) -> "Parse":
        """The same line, nothing used yet."""
        return Parse(self.tokens, self.phrases, {})

    def use(self, phrase: Phrase, as_: str) -> Phrase:
        """Mark a phrase as used for something.

        Args:
            phrase: the phrase.
            as_: what it is used as, such as "volume".
        """
        for i in phrase.at:
            self.used[i] = as_
        return phrase

    def free(self, keep: Callable[[Phrase], bool]) -> list[Phrase]:
        """Phrases that are not used yet and that a rule keeps, in their order."""
        return [p for p in self.phrases if p.at[0] not in self.used and keep(p)]

    def amounts(self, *dimensions: Dimension) -> list[Phrase]:
        """Unused amounts of these dimensions."""
        return self.free(lambda p: p.is_of(*dimensions))

    def words(self, *tags: str) -> list[Phrase]:
        """Unused words of these tags."""
        return self.free(lambda p: p.what == "word" and p.tag in tags)

    def take(self, *tags: str, as_: str = "words") -> bool:
        """Use up every word of these tags; whether there was any."""
        found = self.words(*tags)
        for p in found:
            self.use(p, as_)
        return bool(found)

    def has(self, *tags: str) -> bool:
        """Whether any word of these tags stands anywhere."""
        return any(p.what == "word" and p.tag in tags for p in self.phrases)

    def actives(self) -> list[Phrase]:
        """Every active named."""
        return [p for p in self.phrases if p.what == "active"]

    def agents(self, *keys: str) -> list[Phrase]:
        """Unused agents, or those of these keys."""
        return self.free(lambda p: p.what == "agent" and (not keys or p.tag in keys))

    def after(self, phrase: Phrase) -> Phrase | None:
        """The phrase that follows."""
        i = self.phrases.index(phrase)
        return self.phrases[i + 1] if i + 1 < len(self.phrases) else None

    def before(self, phrase: Phrase) -> Phrase | None:
        """The phrase that comes before."""
        i = self.phrases.index(phrase)
        return self.phrases[i - 1] if i else None

    def left(self) -> list[Token]:
        """Tokens that nothing used and that are no filler."""
        return [
            t for i, t in enumerate(self.tokens)
            if i not in self.used and t.kind is not Kind.FILLER and not _is_plain_mark(t)
        ]  # fmt: skip


def _is_plain_mark(t: Token) -> bool:
    return (t.kind is Kind.MARK and t.key in ",;:.()?!\"'-/=") or (
        t.kind is Kind.WORD and t.key in ("of", "and")
    )


def parse(tokens: Sequence[Token]) -> Parse:
    """The phrases of a line's tokens."""
    tokens = list(tokens)
    out: list[Phrase] = []
    i = 0
    while i < len(tokens):
        phrase = _phrase(tokens, i)
        out.append(phrase)
        i = phrase.at[-1] + 1
    return Parse(tokens, list(_merged(out)))


def _solid(tokens: Sequence[Token], i: int) -> int:
    """The next token from i on that is no filler."""
    while i < len(tokens) and tokens[i].kind is Kind.FILLER:
        i += 1
    return i


def _is(tokens: Sequence[Token], i: int, kind: Kind, *keys: str) -> bool:
    return i < len(tokens) and tokens[i].kind is kind and (not keys or tokens[i].key in keys)


def _made(tokens: Sequence[Token], what: str, first: int, last: int, **more: object) -> Phrase:
    at = tuple(range(first, last + 1))
    text = " ".join(tokens[k].text for k in at)
    return Phrase(what, at, text, **more)  # type: ignore[arg-type]  # checked by the callers


def _phrase(tokens: Sequence[Token], i: int) -> Phrase:
    t = tokens[i]
    if t.kind is not Kind.NUMBER:
        what = {
            Kind.ACTIVE: "active",
            Kind.AGENT: "agent",
            Kind.GRADE: "grade",
            Kind.WORD: "word",
        }.get(t.kind, "mark" if t.kind in (Kind.MARK, Kind.FILLER) else t.kind.value)
        if (
            _is(tokens, i, Kind.WORD, "times")
            and _is(tokens, i + 1, Kind.NUMBER)
            and not _unit_at(tokens, i + 2)
        ):
            return _made(tokens, "times", i, i + 1, values=(tokens[i + 1].value,))  # x3
        return _made(tokens, what, i, i, tag=t.key or t.text.lower(), units=t.units)
    for read in (_several, _count, _ratio, _amount, _times):
        found = read(tokens, i)
        if found is not None:
            return found
    return _made(tokens, "number", i, i, values=(t.value,), groups=t.groups, slash=t.slash)


def _unit_at(tokens: Sequence[Token], i: int) -> Token | None:
    return tokens[i] if _is(tokens, i, Kind.UNIT) else None


def _several(tokens: Sequence[Token], i: int) -> Phrase | None:
    """A range or a ladder: 2 to 4 mL, 400-800 ppm, 1 or 2 tsp, 500, 1000 and 2000 ppm; 5 x 5 cm."""
    values, joins, j = [tokens[i].value], [], i + 1
    first_unit = _unit_at(tokens, j)
    k = j + 1 if first_unit is not None else j
    while k + 1 < len(tokens):
        join = _join(tokens[k])
        after = k + 1
        if join == "," and _is(tokens, after, Kind.WORD, "and", "or"):
            join, after = tokens[after].key, after + 1
        if not join or not _is(tokens, after, Kind.NUMBER):
            break
        values.append(tokens[after].value)
        joins.append(join)
        unit = _unit_at(tokens, after + 1)
        k = after + 1
        if unit is None:
            continue
        if first_unit is not None and not _same_kind(first_unit, unit):
            return None
        is_by = set(joins) == {"times"}
        if is_by and unit.units[0].dimension is Dimension.LENGTH and first_unit is None:
            return _made(
                tokens, "amount", i, k, values=tuple(values), joined="by", units=unit.units
            )
        kind = _kind_of_join(joins, values, first_unit is not None)
        if kind == "list" and first_unit is None and joins[-1] != "and":
            return None
        return None if not kind else _made(
            tokens, "amount", i, k, values=tuple(values), joined=kind, units=unit.units
        )  # fmt: skip
    return None


def _same_kind(one: Token, other: Token) -> bool:
    return bool({u.dimension for u in one.units} & {u.dimension for u in other.units})


def _join(t: Token) -> str:
    if t.kind is Kind.MARK and t.key in ("-", ",", "/"):
        return t.key
    if t.kind is Kind.WORD and t.key in ("to", "or", "and", "times"):
        return t.key
    return ""


def _kind_of_join(joins: Sequence[str], values: Sequence[float], with_units: bool) -> str:
    if len(values) == 2 and joins[0] in ("-", "to", "or"):
        return "range" if values[0] < values[1] or joins[0] == "or" else ""
    if joins == ["/"] and len(values) == 2:
        return "pair"
    if all(j in (",", "and") for j in joins) and len(values) > 2 and not with_units:
        return "list"
    if list(joins) == ["and"] and not with_units:
        return "list"
    return ""


def _ratio(tokens: Sequence[Token], i: int) -> Phrase | None:
    """Parts: 1:8, 1 in 8, 1 to 8, 1 + 8, 1/8, 1:1:1, 60/40."""
    t = tokens[i]
    if (
        t.slash is not None
        and _unit_at(tokens, i + 1) is None
        and not _is(tokens, i + 1, Kind.NUMBER)
    ):
        return _made(tokens, "ratio", i, i, values=t.slash, way="slash", slash=t.slash)
    values, way, j = [t.value], "", i + 1
    while j + 1 < len(tokens):
        mark = tokens[j]
        link = {":": ":"}.get(mark.key) if mark.kind is Kind.MARK else None
        if mark.kind is Kind.WORD:
            link = {"in": "in", "to": "to", "and": "to"}.get(mark.key)
            if mark.key == "and" and mark.text != "+" and mark.text.lower() != "plus":
                link = None
        if link is None or not _is(tokens, j + 1, Kind.NUMBER):
            break
        follows = _unit_at(tokens, j + 2)
        if follows is not None and not _is_temperature_word(follows):
            return (
                None
                if len(values) == 1
                else _made(tokens, "ratio", i, j - 1, values=tuple(values), way=way)
            )
        values.append(tokens[j + 1].value)
        way = "" if link == ":" else link
        j += 2
    return (
        None if len(values) < 2 else _made(tokens, "ratio", i, j - 1, values=tuple(values), way=way)
    )


def _is_temperature_word(t: Token) -> bool:
    return False


def _amount(tokens: Sequence[Token], i: int) -> Phrase | None:
    t, j = tokens[i], i + 1
    if _is(tokens, j, Kind.FILLER) and tokens[j].text.lower() in ("level", "approx"):
        j += 1
    if (
        _is(tokens, j, Kind.WORD, "of")
        and _is(tokens, j + 1, Kind.NUMBER)
        and _unit_at(tokens, j + 2)
    ):
        if 0 < t.value < 1 and not t.text[0].isdigit():  # half of 500 mL
            whole = tokens[j + 1]
            return _made(
                tokens,
                "amount",
                i,
                j + 2,
                values=(t.value * whole.value,),
                units=tokens[j + 2].units,
            )
    if (
        _is(tokens, j, Kind.MARK, "-")
        and (u := _unit_at(tokens, j + 1))
        and u.units[0].dimension is Dimension.LENGTH
    ):
        j += 1  # 4-inch
    unit = _unit_at(tokens, j)
    if unit is None:
        return None
    last, units, value = j, unit.units, t.value
    if (
        _is(tokens, j + 1, Kind.MARK, "(")
        and _is(tokens, j + 2, Kind.NUMBER)
        and _unit_at(tokens, j + 3)
    ):
        if (
            _is(tokens, j + 4, Kind.MARK, ")") and units[0].asks
        ):  # 1 tsp (5 mL): the bracket says whose
            return _made(
                tokens,
                "amount",
                i,
                j + 4,
                values=(value * tokens[j + 2].value,),
                units=tokens[j + 3].units,
            )
    slash = t.slash if t.text.count("/") == 1 else None
    return _made(
        tokens, "amount", i, last, values=(value,), units=units, groups=t.groups, slash=slash,
        tag=unit.key,
    )  # fmt: skip


def _count(tokens: Sequence[Token], i: int) -> Phrase | None:
    values, j = [tokens[i].value], i + 1
    if (_is(tokens, j, Kind.MARK, "-") or _is(tokens, j, Kind.WORD, "or", "to")) and _is(
        tokens, j + 1, Kind.NUMBER
    ):
        values.append(tokens[j + 1].value)
        j += 2
    j = _solid(tokens, j)
    is_range = len(values) == 2
    if _is(tokens, j, Kind.WORD, *_COUNTED):
        return _made(
            tokens,
            "count",
            i,
            j,
            values=tuple(values),
            tag=tokens[j].key,
            joined="range" if is_range else "",
        )
    if _is(tokens, j, Kind.ACTIVE, "acetylsalicylic acid") and tokens[j].text.lower().startswith(
        "aspirin"
    ):
        return _made(
            tokens,
            "count",
            i,
            j - 1,
            values=tuple(values),
            tag="tablet",
            joined="range" if is_range else "",
        )
    return None


def _times(tokens: Sequence[Token], i: int) -> Phrase | None:
    if not _is(tokens, i + 1, Kind.WORD, "times"):
        return None
    return _made(tokens, "times", i, i + 1, values=(tokens[i].value,))


def _merged(phrases: Sequence[Phrase]) -> Iterator[Phrase]:
    """“twice”, “double batch of” and the like as multipliers."""
    factors = {"twice": 2.0, "thrice": 3.0, "double": 2.0, "triple": 3.0}
    for p in phrases:
        if p.what == "word" and p.tag in factors:
            yield replace(p, what="times", values=(factors[p.tag],))
        elif p.what == "word" and p.tag == "lot":
            yield replace(p, what="word", tag="lot")
        else:
            yield p
