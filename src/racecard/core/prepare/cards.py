"""What every sum of the mixing bench takes and gives: fields in, a card out.

A card says what was understood, the amounts, the sum in words, what to beware of, and what is
still open. A question with `must` has no usual answer: until it is answered no amount is given,
only what each answer would lead to.
"""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from typing import TYPE_CHECKING

from racecard.core.quantities import shown, shown_mass, shown_volume

if TYPE_CHECKING:
    from racecard.core.prepare.cautions import Caution
    from racecard.core.prepare.inputs import Inputs


class Severity(StrEnum):
    """How grave a flag is: good to know, a warning, or a refusal that needs an override."""

    NOTE = "note"
    WARN = "warn"
    REFUSE = "refuse"


class Category(StrEnum):
    """Where a sum stands on the mixing bench."""

    LIQUIDS = "Liquids"
    POWDERS = "Powders"
    AGENTS = "Home remedies"
    MEDIA = "Pots and media"
    SEEDS = "Seeds"
    HEAT = "Heat and light"
    COSTS = "Costs"
    GROWTH = "Growth"


@dataclass(frozen=True, slots=True)
class Amount:
    """One amount: of what, its value in `unit`, and how it is written on the card."""

    what: str
    value: float
    unit: str
    shown: str


@dataclass(frozen=True, slots=True)
class Flag:
    """Something to beware of, in one sentence, with a stable code."""

    code: str
    gravity: Severity
    says: str


@dataclass(frozen=True, slots=True)
class Option:
    """One answer to a question, in words, and what it leads to."""

    value: str
    label: str
    gives: str = ""


@dataclass(frozen=True, slots=True)
class Question:
    """Something the input leaves open. `usual` is taken where nothing is chosen; "" for none.

    `of_line`: it belongs to this one line, and its answer is not to be remembered for others.
    """

    key: str
    asks: str
    options: tuple[Option, ...]
    usual: str = ""
    chosen: str | None = None
    of_line: bool = False

    @property
    def must(self) -> bool:
        """Whether nothing can be mixed before this is answered."""
        return not self.usual and self.chosen is None


@dataclass(frozen=True, slots=True)
class Answer:
    """What a sum makes of its fields."""

    amounts: tuple[Amount, ...]
    says: tuple[str, ...]
    flags: tuple[Flag, ...] = ()
    cautions: "tuple[Caution, ...]" = ()
    sources: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Piece:
    """A piece of a line: where it stands, and what it was taken for."""

    span: tuple[int, int]
    text: str
    taken_as: str


@dataclass(frozen=True, slots=True)
class Card:
    """The card of one sum."""

    key: str
    title: str
    understood: tuple[str, ...]
    amounts: tuple[Amount, ...]
    says: tuple[str, ...]
    flags: tuple[Flag, ...]
    questions: tuple[Question, ...]
    cautions: "tuple[Caution, ...]"
    sources: tuple[str, ...]
    tokens: tuple["Piece", ...] = ()
    """How a line was understood, where the card comes from one."""

    @property
    def is_open(self) -> bool:
        """Whether a question must be answered before anything is mixed."""
        return any(q.must for q in self.questions)

    @property
    def is_refused(self) -> bool:
        """Whether a guard stops this; only an override with a reason lets it pass."""
        return any(f.gravity is Severity.REFUSE for f in self.flags)


@dataclass(frozen=True, slots=True)
class SumField:
    """One field of a sum as a form shows it. With `choices` it is a list of (value, words)."""

    key: str
    label: str
    start: str = ""
    choices: tuple[tuple[str, str], ...] = ()
    optional: bool = False
    hint: str = ""


@dataclass(frozen=True, slots=True)
class Calculation:
    """A sum of the mixing bench: where it stands, what it answers, its fields and its work."""

    key: str
    room: Category
    title: str
    answers: str
    fields: tuple[SumField, ...]
    work: "Callable[[Inputs], Answer]"


def note(code: str, says: str) -> Flag:
    """A flag that is good to know.

    Args:
        code: what it is known by; stable.
        says: the sentence.
    """
    return Flag(code, Severity.NOTE, says)


def warn(code: str, says: str) -> Flag:
    """A flag that warns.

    Args:
        code: what it is known by; stable.
        says: the sentence.
    """
    return Flag(code, Severity.WARN, says)


def refuse(code: str, says: str) -> Flag:
    """A flag that stops.

    Args:
        code: what it is known by; stable.
        says: the sentence.
    """
    return Flag(code, Severity.REFUSE, says)


def as_text(card: Card) -> str:
    """The card as plain text, for copying, mailing or pinning up."""
    out = [card.title, *(f"  {line}" for line in card.understood)]
    out += [f"{m.what}: {m.shown}" for m in card.amounts]
    out += card.says
    for q in card.questions:
        taken = q.chosen or q.usual
        label = next((o.label for o in q.options if o.value == taken), "not settled")
        out.append(f"{q.asks} {label}{'' if q.chosen or not q.usual else ' (the usual reading)'}")
    out += [f"{'Stop' if f.gravity is Severity.REFUSE else 'Mind'}: {f.says}" for f in card.flags]
    out += [c.says for c in card.cautions]
    return "\n".join(out)


def volume_made(what: str, ml: float) -> Amount:
    """An amount of liquid.

    Args:
        what: name of the liquid.
        ml: how much, mL.
    """
    return Amount(what, ml, "mL", shown_volume(ml))


def mass_made(what: str, g: float) -> Amount:
    """An amount by weight.

    Args:
        what: name of the substance.
        g: how much, g.
    """
    return Amount(what, g, "g", shown_mass(g))


def ppm_made(what: str, ppm: float) -> Amount:
    """A strength.

    Args:
        what: what it is of.
        ppm: mg/L, or mg/kg of a powder.
    """
    return Amount(what, ppm, "mg/L", f"{shown(ppm)} ppm (mg/L)")
