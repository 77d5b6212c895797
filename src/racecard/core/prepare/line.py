"""One line, as a grower writes it, made into the fields of a sum.

The line is cut into tokens (lexer.py), joined into phrases (phrases.py), and held against one
reading after another (readings/). One law: every token is used by the reading, is filler from a
closed list, or the line is not answered. What can be read in two ways is asked, with what each
answer leads to; nothing is chosen silently.
"""

from collections.abc import Iterable, Iterator, Mapping
from contextlib import suppress
from dataclasses import dataclass, replace
from math import isclose

from racecard.core.prepare.cards import Amount, Card, Option, Piece, Question
from racecard.core.prepare.cautions import cautions_in, with_waste
from racecard.core.prepare.guards import never_mixed
from racecard.core.prepare.lexer import lex, plain_signs
from racecard.core.prepare.phrases import Parse, Phrase, parse, plainly
from racecard.core.prepare.read_card import work_out_read
from racecard.core.prepare.readings import READINGS, Read, Refused
from racecard.core.prepare.spans import asked_first, in_one
from racecard.core.prepare.tokens import Kind, Lexed, Token
from racecard.core.prepare.vocabulary import nearest
from racecard.core.quantities import Dimension, Unit, units_named
from racecard.errors import InvalidInput

MOST_WRITTEN = 300
EXAMPLES = (
    "250 mL of 1500 ppm IBA from 1 % stock",
    "100 mL of 3000 ppm IBA from powder",
    "1 tbsp per litre in 250 mL",
    "1:8 from 1 % IBA",
    "2 tablets of 300 mg acetylsalicylic acid in 2 L",
    "0.75 mL in 250 mL, recipe 1 tbsp per litre",
    "20 g of 0.3 % talc from 0.8 %",
    "70 °F in °C",
)
"""Lines that show what can be written."""


@dataclass(frozen=True, slots=True)
class Way:
    """One way a line can be read, with its answer to the question that it settles.

    `then`: the line as it reads in this way, where that leaves a question of its own.
    """

    value: str
    label: str
    read: Read
    then: "Line | None" = None


@dataclass(frozen=True, slots=True)
class Line:
    """A line as it was read: one reading, or several with the question that tells them apart."""

    ways: tuple[Way, ...]
    asks: str = ""
    key: str = ""
    usual: str = ""
    pieces: tuple[Piece, ...] = ()

    @property
    def read(self) -> Read:
        """The usual reading, or the first."""
        return next((w.read for w in self.ways if w.value == self.usual), self.ways[0].read)


class NotRead(InvalidInput):
    """A line that is not answered: its `pieces`, and the `spans` of those that were not understood."""

    def __init__(
        self, detail: str, pieces: tuple[Piece, ...], spans: Iterable[tuple[int, int]] = ()
    ) -> None:
        super().__init__(detail, "/line")
        self.pieces = pieces
        self.spans = tuple(spans)


def read_line(line: str) -> Line:
    """The reading of a line.

    Raises:
        NotRead: some piece of it was not understood, or nothing here can be worked out.
    """
    text, origin = in_one(*plain_signs(line))
    if not text:
        raise InvalidInput(f"Write what you want to make, such as “{EXAMPLES[0]}”.", "/line")
    if len(text) > MOST_WRITTEN:
        raise InvalidInput(f"Keep the line to {MOST_WRITTEN} characters.", "/line")

    def where(span: tuple[int, int]) -> tuple[int, int]:
        return origin[span[0]], origin[span[1] - 1] + 1

    def as_written(pieces: tuple[Piece, ...]) -> tuple[Piece, ...]:
        spans = [where(p.span) for p in pieces]
        return tuple(
            Piece((a, b), line[a:b], p.taken_as) for (a, b), p in zip(spans, pieces, strict=True)
        )

    if doubt := asked_first(text):
        says, span = doubt
        raise NotRead(says, (), (where(span),))
    try:
        found = _read(text)
    except NotRead as exc:
        raise NotRead(exc.detail, as_written(exc.pieces), map(where, exc.spans)) from exc
    return replace(found, pieces=as_written(found.pieces))


def _read(text: str) -> Line:
    lexed = lex(text)
    for name, usual in (("comma", ""), ("point round", ""), ("point", "decimal")):
        if name in lexed.open_signs:
            return _by_sign(text, lexed, name.partition(" ")[0], usual)
    return _by_phrase(lexed)


def _by_sign(text: str, lexed: Lexed, sign: str, usual: str) -> Line:
    """A number whose comma or point can be read in two ways, unless both come to the same."""
    said = next(t.text for t in lexed.tokens if t.kind is Kind.NUMBER and _has_sign(t.text, sign))
    other = "comma" if sign == "point" else "point"
    readings: list[Line] = []
    refused: NotRead | None = None
    for reading in ("thousands", "decimal"):
        try:
            readings.append(_by_phrase(lex(text, {sign: reading, other: "decimal"})))
        except NotRead as exc:
            refused = refused or exc
    if refused is not None and not readings:
        raise refused
    if len(readings) == 1:  # 1.250 % can only be a decimal
        return readings[0]
    thousands, decimals = readings
    one, two = (_first_amount(found.read) for found in (thousands, decimals))
    if one is not None and two is not None and isclose(one, two, rel_tol=1e-9):
        return thousands
    ways = (
        _way("thousands", f"the {sign} parts thousands", thousands, sign),
        _way("decimal", f"the {sign} parts decimals", decimals, sign),
    )
    return Line(ways, f"What is the {sign} in “{said}”?", sign, usual, thousands.pieces)


def _has_sign(text: str, sign: str) -> bool:
    mark = "," if sign == "comma" else "."
    head, _, tail = text.partition(mark)
    return len(tail) >= 3 and tail[:3].isdigit() and head[-1:].isdigit()


def _first_amount(read: Read) -> float | None:
    try:
        card = work_out_read(read, {})
    except InvalidInput:
        return None
    return card.amounts[0].value if card.amounts else None


def _by_phrase(lexed: Lexed) -> Line:
    return _by_parse(parse(lexed.tokens))


def _by_parse(parsed: Parse) -> Line:
    for i, p in enumerate(parsed.phrases):
        if p.joined == "range" and not p.is_of(Dimension.TEMPERATURE):
            ways = [_with(parsed, i, replace(p, values=(v,), joined="")) for v in p.values]
            labels = [_amount_said(p, v) for v in p.values]
            return _asked("range", f"“{p.text}” is a range. Which is meant?", labels, ways)
        if p.tag == "T" and p.what == "amount":
            sizes = [(n, _unit_named(n)) for n in ("US tbsp", "US tsp")]
            ways = [_with(parsed, i, replace(p, tag="", units=(u,))) for _, u in sizes]
            return _asked(
                "T",
                "Is T a tablespoon? In American recipes T is a tablespoon and t a teaspoon.",
                ["tablespoon", "teaspoon"],
                ways,
            )
        if p.groups and p.is_of(Dimension.VOLUME, Dimension.MASS):
            return _blank_groups(parsed, i, p)
        if p.what == "amount" and p.value >= 0 and _mm_meant(parsed, p):
            unit = _unit_named("mM")
            found = _with(parsed, i, replace(p, units=(unit,)))
            return _asked(
                "mm",
                f"“{p.text}” is a length as written. Is mM meant?",
                [f"{plainly(p.value)} mM"],
                [found],
            )
    return _frame(parsed)


def _unit_named(name: str) -> Unit:
    return units_named(name)[0]


def _mm_meant(parsed: Parse, p: Phrase) -> bool:
    is_mm = any(u.name == "mm" for u in p.units) and not any(u.name == "mM" for u in p.units)
    return (
        is_mm and bool(parsed.actives()) and any(q.is_of(Dimension.VOLUME) for q in parsed.phrases)
    )


def _amount_said(p: Phrase, value: float) -> str:
    return f"{plainly(value)} {p.units[0].name if p.units else p.tag}".strip()


def _blank_groups(parsed: Parse, i: int, p: Phrase) -> Line:
    """A blank inside a number of a volume: thousands, a number typed twice, or several of one."""
    a, b = p.groups
    whole = replace(p, groups=())
    single = replace(p, values=(b,), groups=())
    name = p.units[0].name
    if a == b:
        return _asked(
            "blank", f"“{p.text}”: a number typed twice, or thousands?",
            [f"{plainly(b)} {name}", f"{plainly(p.value)} {name}"],
            [_with(parsed, i, single), _with(parsed, i, whole)],
        )  # fmt: skip
    several = [Phrase("times", p.at, p.text, (a,)), single]
    phrases = [*parsed.phrases[:i], *several, *parsed.phrases[i + 1 :]]
    return _asked(
        "blank", f"“{p.text}”: {plainly(p.value)} {name}, or {plainly(a)} × {plainly(b)} {name} each?",
        [f"{plainly(p.value)} {name}", f"{plainly(a)} × {plainly(b)} {name} each"],
        [_with(parsed, i, whole), _by_parse(Parse(parsed.tokens, phrases))],
    )  # fmt: skip


def _with(parsed: Parse, i: int, phrase: Phrase) -> Line:
    """The line with one phrase read in one way; what else is open in it is asked after that."""
    phrases = [*parsed.phrases[:i], phrase, *parsed.phrases[i + 1 :]]
    return _by_parse(Parse(parsed.tokens, phrases))


def _asked(key: str, asks: str, labels: list[str], found: list[Line]) -> Line:
    ways = tuple(
        _way(str(k), label, line, key)
        for k, (label, line) in enumerate(zip(labels, found, strict=True))
    )
    return Line(ways, asks, key, "", found[0].pieces)


def _way(value: str, label: str, line: Line, key: str) -> Way:
    """One answer to a question, keeping what the line still asks after it under a key of its own."""
    if not line.asks:
        return Way(value, label, line.read)
    then = replace(line, key=f"{line.key} again") if line.key == key else line
    return Way(value, label, line.read, then)


def _frame(parsed: Parse) -> Line:
    """The first reading that uses every token."""
    if danger := never_mixed([x.tag for x in parsed.phrases if x.what in ("active", "agent")]):
        raise NotRead(danger, _pieces(parsed.copy()))
    best: tuple[int, list[Token], Parse] | None = None
    stopped: InvalidInput | None = None
    for reading in READINGS:
        tried = parsed.copy()
        try:
            read = reading(tried)
        except Refused as exc:
            if not tried.left() or exc.is_sure:
                raise NotRead(exc.detail, _pieces(tried)) from exc
            stopped = stopped or exc
            read = None
        if read is None:
            continue
        left = tried.left()
        if not left:
            pieces = _pieces(tried)
            if read.ways:
                ways = tuple(Way(v, label, r) for v, label, r in read.ways)
                return Line(ways, read.asks, read.ask_key, read.usual, pieces)
            return Line((Way("", "", read),), pieces=pieces)
        if best is None or len(left) < best[0]:
            best = (len(left), left, tried)
    if best is not None:
        raise NotRead(_not_understood(best[2], best[1]), _pieces(best[2]), _spans(best[1]))
    strange = [t for t in parsed.tokens if t.kind is Kind.UNKNOWN]
    if strange:
        raise NotRead(_not_understood(parsed, strange), _pieces(parsed.copy()), _spans(strange))
    if stopped is not None:
        raise NotRead(stopped.detail, _pieces(parsed.copy()))
    raise NotRead(_nothing_asked(parsed), _pieces(parsed.copy()))


def _spans(tokens: Iterable[Token]) -> Iterator[tuple[int, int]]:
    return ((t.start, t.end) for t in tokens)


def _pieces(parsed: Parse) -> tuple[Piece, ...]:
    out = []
    for i, t in enumerate(parsed.tokens):
        taken = parsed.used.get(i, "")
        if not taken and (t.kind is Kind.FILLER or t not in parsed.left()):
            taken = "filler"
        out.append(Piece((t.start, t.end), t.text, taken))
    return tuple(out)


def _not_understood(parsed: Parse, left: list[Token]) -> str:
    """What was not read, in one sentence, with the nearest reading."""
    runs: list[list[Token]] = []
    for t in _with_neighbours(parsed, left):
        if runs and _only_filler_between(parsed, runs[-1][-1], t):
            runs[-1].append(t)
        else:
            runs.append([t])
    named = ["“" + " ".join(t.text for t in run) + "”" for run in runs]
    hints = [
        f" Did you mean {near} for “{t.text}”?"
        for t in left
        if t.kind is Kind.UNKNOWN and (near := nearest(t.text))
    ]
    verb = "is" if len(named) == 1 else "are"
    return (
        f"{', '.join(named)} {verb} not understood here, so nothing is worked out: leave it out, or write it "
        f"another way.{''.join(hints[:2])}"
    )


def _with_neighbours(parsed: Parse, left: list[Token]) -> list[Token]:
    """What is left, with what hangs on it: the words after an unknown one, the word before a bare unit."""
    out: list[Token] = []
    for t in left:
        i = parsed.tokens.index(t)
        chain = [t]
        if t.kind is Kind.UNIT and i > 0 and parsed.tokens[i - 1].kind is Kind.WORD:
            chain = [parsed.tokens[i - 1], t]
        if t.kind is Kind.UNKNOWN:
            for follows in parsed.tokens[i + 1 : i + 6]:
                ends = follows.kind is Kind.MARK and follows.key in (",", ";", ".", ")")
                if (
                    ends
                    or follows.kind is Kind.ACTIVE
                    or (follows.kind is Kind.WORD and follows.key == "from")
                ):
                    break
                chain.append(follows)
            if not any(c.kind is Kind.NUMBER for c in chain):
                chain = [t]
        out += [c for c in chain if c not in out]
    return out


def _only_filler_between(parsed: Parse, one: Token, other: Token) -> bool:
    a, b = parsed.tokens.index(one), parsed.tokens.index(other)
    return a < b and all(
        t.kind is Kind.FILLER or (t.kind is Kind.WORD and t.key == "of")
        for t in parsed.tokens[a + 1 : b]
    )


def _nothing_asked(parsed: Parse) -> str:
    text = " ".join(t.text for t in parsed.tokens)[:60]
    strange = [t for t in parsed.tokens if t.kind is Kind.UNKNOWN]
    if strange:
        return _not_understood(parsed, strange)
    if not any(p.values for p in parsed.phrases):
        return f"No number was found in “{text}”, so nothing can be worked out: write such as “{EXAMPLES[0]}”."
    if not any(p.what in ("amount", "ratio", "count") for p in parsed.phrases):
        return f"“{text}” has numbers but no unit: write such as “{EXAMPLES[0]}”."
    said = ", ".join(
        p.text
        for p in parsed.phrases
        if p.what in ("amount", "active", "ratio", "count", "agent", "grade")
    )
    return (
        f"I read {said}, but not how much of what strength is to be made from what: give the volume, the strength "
        f"wanted, and what it is made of, such as “{EXAMPLES[0]}”."
    )


def work_out(
    line: str,
    choices: Mapping[str, str] | None = None,
    remembered: Mapping[str, str] | None = None,
) -> tuple[Line, Card]:
    """A line read and worked out.

    Args:
        line: what to make.
        choices: answers to questions by key, of the line as of the sum.
        remembered: answers kept from other cards; they settle questions of the sum, never of the line.

    Raises:
        InvalidInput: the line, a field or an answer cannot be read.
    """
    own = choices or {}
    chosen = {**(remembered or {}), **own}
    found = read_line(line)
    assert all(p.taken_as for p in found.pieces), "an answered line has a piece nobody used"
    card = _settled(found, own, chosen)
    cautions = with_waste([*card.cautions, *cautions_in(line)])
    return found, replace(card, tokens=found.pieces, cautions=cautions)


def _settled(found: Line, own: Mapping[str, str], chosen: Mapping[str, str]) -> Card:
    """The card of a line, with the questions its words leave open before those of its sum."""
    if not found.asks:
        return work_out_read(found.read, chosen)
    answer = own.get(found.key)
    picked = next((w for w in found.ways if w.value == answer), None)
    usual = next((w for w in found.ways if w.value == found.usual), None)
    base = _of_way(picked or usual or found.ways[0], own, chosen)
    options = tuple(Option(w.value, w.label, _gives(w, own, chosen)) for w in found.ways)
    question = Question(
        found.key,
        found.asks,
        options,
        found.usual,
        picked.value if picked else None,
        of_line=True,
    )
    if question.must:
        base = replace(
            base, amounts=(), flags=(),
            says=("Answer the question first: the amounts depend on it.",),
        )  # fmt: skip
    return replace(base, questions=(question, *base.questions))


def _of_way(way: Way, own: Mapping[str, str], chosen: Mapping[str, str]) -> Card:
    return _settled(way.then, own, chosen) if way.then else work_out_read(way.read, chosen)


def _gives(way: Way, own: Mapping[str, str], chosen: Mapping[str, str]) -> str:
    """What an answer leads to: the amounts, or from which to which where more is asked after it."""
    try:
        card = _of_way(way, own, chosen)
    except InvalidInput as exc:
        return exc.detail
    if card.amounts:
        told = "; ".join(f"{m.what}: {m.shown}" for m in card.amounts[:2])
        return told
    ends = sorted(_firsts(way, own, chosen, card), key=lambda m: m.value)
    if not ends:
        return ""
    low, high = ends[0], ends[-1]
    if low.shown == high.shown:
        return f"{low.what}: {low.shown}"
    return f"{low.what}: {low.shown} to {high.shown}, by the next question"


_MOST_DEEP = 2


def _firsts(
    way: Way, own: Mapping[str, str], chosen: Mapping[str, str], card: Card, deep: int = 0
) -> Iterator[Amount]:
    """The first amount under each answer to what a card leaves open."""
    if card.amounts:
        yield card.amounts[0]
    open_ = next((q for q in card.questions if q.must), None)
    if open_ is None or deep == _MOST_DEEP:
        return
    for option in open_.options:
        answer = {open_.key: option.value}
        mine, all_ = {**own, **answer}, {**chosen, **answer}
        with suppress(InvalidInput):
            yield from _firsts(way, mine, all_, _of_way(way, mine, all_), deep + 1)
