"""The mixing bench over HTTP: sums with their fields, cards, answers, defaults."""

from dataclasses import asdict
from typing import Annotated

from pydantic import ConfigDict, Field

from racecard.api.schemas.base import In, Out
from racecard.core.prepare.cards import Calculation, Card, Category, Piece, Severity, as_text
from racecard.core.prepare.defaults import Default

Fields = dict[str, str]
Answers = Annotated[Fields, Field(default_factory=dict, max_length=200)]


class FieldChoice(Out):
    """One value of a field with a fixed list."""

    value: str
    label: str


class FieldOut(Out):
    """One field of a sum, with an example of what may stand in it."""

    key: str
    label: str
    start: str
    choices: list[FieldChoice]
    optional: bool
    hint: str


class SumOut(Out):
    """One sum: where it stands, what it answers, its fields."""

    key: str
    room: Category
    title: str
    answers: str
    fields: list[FieldOut]

    @classmethod
    def from_core(cls, s: Calculation) -> "SumOut":
        fields = [
            FieldOut(
                key=f.key, label=f.label, start=f.start, optional=f.optional, hint=f.hint,
                choices=[FieldChoice(value=v, label=label) for v, label in f.choices],
            )
            for f in s.fields
        ]  # fmt: skip
        return cls(key=s.key, room=s.room, title=s.title, answers=s.answers, fields=fields)


class BenchOut(Out):
    """Every sum of the mixing bench, and lines that show what can be written."""

    sums: list[SumOut]
    examples: list[str]


class LineIn(In):
    """One line, as a grower writes it, and answers to its questions."""

    model_config = ConfigDict(
        json_schema_extra={"example": {"line": "250 mL of 1500 ppm IBA from 1 % stock"}}
    )

    line: str = Field(max_length=2000)
    choices: Answers


class FieldsIn(In):
    """The fields of a sum, and answers to its questions."""

    model_config = ConfigDict(
        json_schema_extra={"example": {"fields": {"part": "1", "diluent": "8", "stock": "1 %"}}}
    )

    fields: Fields
    choices: Answers


class MadeOut(Out):
    """One amount."""

    what: str
    value: float
    unit: str
    shown: str


class FlagOut(Out):
    """Something to beware of."""

    code: str
    gravity: Severity
    says: str


class OptionOut(Out):
    """One answer to a question, and what it leads to."""

    value: str
    label: str
    gives: str


class QuestionOut(Out):
    """Something the input leaves open; nothing may be mixed before one that `must`."""

    key: str
    asks: str
    must: bool
    usual: str
    chosen: str | None
    of_line: bool
    options: list[OptionOut]


class PieceOut(Out):
    """A piece of a line: where it stands, and what it was taken for."""

    start: int
    end: int
    text: str
    taken_as: str

    @classmethod
    def from_core(cls, p: Piece) -> "PieceOut":
        return cls(start=p.span[0], end=p.span[1], text=p.text, taken_as=p.taken_as)


class CautionLine(Out):
    """A caution, one sentence."""

    code: str
    says: str


class CardOut(Out):
    """The card of a sum: what was understood, amounts, the sum in words, and what is open."""

    key: str
    title: str
    fields: Fields
    understood: list[str]
    amounts: list[MadeOut]
    says: list[str]
    flags: list[FlagOut]
    questions: list[QuestionOut]
    cautions: list[CautionLine]
    sources: list[str]
    text: str
    is_open: bool
    is_refused: bool
    line: str
    choices: Fields
    tokens: list[PieceOut]

    @classmethod
    def from_core(
        cls, card: Card, fields: Fields, *, line: str = "", choices: Fields | None = None
    ) -> "CardOut":
        return cls(
            key=card.key, title=card.title, fields=dict(fields), understood=list(card.understood),
            amounts=[MadeOut(**asdict(m)) for m in card.amounts], says=list(card.says),
            flags=[FlagOut(**asdict(f)) for f in card.flags],
            questions=[
                QuestionOut(
                    key=q.key, asks=q.asks, must=q.must, usual=q.usual, chosen=q.chosen, of_line=q.of_line,
                    options=[OptionOut(**asdict(o)) for o in q.options],
                )
                for q in card.questions
            ],
            cautions=[CautionLine(**asdict(c)) for c in card.cautions], sources=list(card.sources),
            text=as_text(card), is_open=card.is_open, is_refused=card.is_refused,
            line=line, choices=dict(choices or {}), tokens=[PieceOut.from_core(t) for t in card.tokens],
        )  # fmt: skip


class ChoicesIn(In):
    """Answers to keep; null forgets one."""

    choices: dict[str, str | None] = Field(max_length=200)


class ChoicesOut(Out):
    """Every answer that is remembered."""

    choices: Fields


class DefaultOut(Out):
    """A number the bench takes for granted, its source, and the grower's own where changed."""

    key: str
    value: float
    unit: str
    says: str
    source: str
    own: float | None

    @classmethod
    def from_core(cls, d: Default, choices: Fields) -> "DefaultOut":
        own = choices.get(f"default:{d.key}")
        return cls(
            key=d.key, value=d.value, unit=d.unit, says=d.says, source=d.source,
            own=None if own is None else float(own),
        )  # fmt: skip


class RecipeIn(In):
    """A card to put on a trial's list: its line, or its sum and fields, with answers; a reason if refused."""

    key: str = Field(max_length=40)
    fields: Fields
    choices: Answers
    treatment: int | None = Field(None, ge=0, le=100)
    override: str = Field("", max_length=500)
    line: str = Field("", max_length=300)


class RecipeOut(Out):
    """A card on a trial's list, as it was worked out."""

    id: str
    at: str
    who: str
    treatment: int | None
    arm: str
    key: str
    title: str
    understood: list[str]
    amounts: list[MadeOut]
    says: list[str]
    flags: list[FlagOut]
    answers: list[str]
    cautions: list[CautionLine]
    override: str
    fields: Fields
    choices: Fields
