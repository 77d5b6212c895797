"""Every sum of the mixing bench by key, and the one way to work it out."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from racecard.core.prepare import (
    costs,
    doses,
    growth,
    heat,
    home,
    liquids,
    media,
    powders,
    seeds,
)
from racecard.core.prepare.cards import Amount, Answer, Calculation, Card, Flag, Question, Severity
from racecard.core.prepare.guards import mixing_flags
from racecard.core.prepare.inputs import Inputs
from racecard.errors import InvalidInput, NotFound

SUMS = {
    s.key: s
    for module in (liquids, doses, powders, home, media, seeds, heat, costs, growth)
    for s in module.SUMS
}
"""Every sum, in the order of the bench."""
MOST_WRITTEN = 2000


def reckon(key: str, fields: Mapping[str, str], choices: Mapping[str, str] | None = None) -> Card:
    """Work out a sum.

    Args:
        key: a key of SUMS.
        fields: what is written in its fields; an empty field is left out.
        choices: answers to questions by key, and own defaults as "default:<key>".

    Raises:
        NotFound: no such sum.
        InvalidInput: a field cannot be read or breaks a rule; the pointer names it.
    """
    if key not in SUMS:
        raise NotFound("There is no such sum on the mixing bench.", "/key")
    this = SUMS[key]
    known = {f.key for f in this.fields}
    for name, value in fields.items():
        if name not in known:
            raise InvalidInput(f"“{name[:40]}” is not a field of {this.title}.", f"/fields/{name}")
        if len(value) > MOST_WRITTEN:
            raise InvalidInput(f"Keep it to {MOST_WRITTEN} characters.", f"/fields/{name}")
    chosen = dict(choices or {})
    given = Inputs(fields, chosen, _labels(this))
    answer = this.work(given)
    questions = tuple(_led(this, fields, chosen, q) for q in given.asked.values())
    must = next((q for q in questions if q.must), None)
    flags = answer.flags if must is None else _flags_of_all(this, fields, chosen, must)
    flags = (*mixing_flags(given.text("active"), given.text("carrier")), *flags)
    return _card(this, fields, replace(answer, flags=flags), questions)


def _card(
    this: Calculation, fields: Mapping[str, str], answer: Answer, questions: tuple[Question, ...]
) -> Card:
    understood = tuple(_said(this, fields))
    is_open = any(q.must for q in questions)
    return Card(
        this.key, this.title, understood,
        () if is_open else answer.amounts,
        ("Answer the question first: the amounts depend on it.",) if is_open else answer.says,
        answer.flags, questions, answer.cautions, answer.sources,
    )  # fmt: skip


_MOST_WAYS = 8


def _flags_of_all(
    this: Calculation, fields: Mapping[str, str], choices: dict[str, str], asked: Question
) -> tuple[Flag, ...]:
    """What to beware of whichever way an open question is answered."""
    found: list[tuple[Flag, ...]] = []
    for option in asked.options:
        try:
            given = Inputs(fields, {**choices, asked.key: option.value}, _labels(this))
            found.append(this.work(given).flags)
        except InvalidInput:
            continue
    if not found:
        return ()
    shared = set.intersection(*({f.code for f in flags} for flags in found))
    return tuple(f for f in found[0] if f.code in shared)


def _led(
    this: Calculation, fields: Mapping[str, str], choices: dict[str, str], asked: Question
) -> Question:
    """The question with what each answer would lead to, whatever else is open."""
    worked = [_worked(this, fields, {**choices, asked.key: o.value}) for o in asked.options]
    amounts = [w.amounts for w in worked if w.amounts]
    told = {
        m.what for m in (amounts[0] if amounts else ())
        if len({x.shown for found in amounts for x in found if x.what == m.what}) > 1
    }  # fmt: skip
    return replace(
        asked,
        options=tuple(
            replace(o, gives=w.says or _told(w, told))
            for o, w in zip(asked.options, worked, strict=True)
        ),
    )


@dataclass(frozen=True, slots=True)
class _Worked:
    """What one answer leads to: amounts, gravest flag, or a sentence; `under`: by another open answer."""

    amounts: tuple[Amount, ...] = ()
    grave: str = ""
    says: str = ""
    under: tuple[tuple[str, tuple[Amount, ...]], ...] = ()


def _worked(this: Calculation, fields: Mapping[str, str], choices: dict[str, str]) -> _Worked:
    given = Inputs(fields, choices, _labels(this))
    try:
        answer = this.work(given)
    except InvalidInput as exc:
        return _Worked(says=exc.detail)
    other = next((q for q in given.asked.values() if q.must), None)
    if other is None:
        grave = next((f.says for f in answer.flags if f.gravity is not Severity.NOTE), "")
        return _Worked(answer.amounts, grave)
    under = []
    for option in other.options[:_MOST_WAYS]:
        rest = Inputs(fields, {**choices, other.key: option.value}, _labels(this))
        try:
            found = this.work(rest).amounts
        except InvalidInput:
            continue
        if found and not any(q.must for q in rest.asked.values()):
            under.append((option.label.partition(",")[0], found))
    return _Worked(answer.amounts, under=tuple(under))


def _told(worked: _Worked, differs: set[str]) -> str:
    """The amount that depends on the answer, and a strength that does; the first where none does."""
    if worked.under:
        each = []
        for label, found in worked.under:
            extra = [m.shown for m in found[1:] if m.unit == "mg/L"]
            each.append(f"{', '.join([found[0].shown, *extra])} ({label})")
        return f"{worked.under[0][1][0].what}: {'; '.join(each)}"
    shown = [m for m in worked.amounts if m.what in differs] or worked.amounts
    strengths = [m for m in shown[1:] if m.what.startswith("Strength") and m.unit != "mM"]
    told = "; ".join(f"{m.what}: {m.shown}" for m in (*shown[:1], *strengths[:1]))
    return f"{told}. Mind: {worked.grave}" if worked.grave else told


def _labels(this: Calculation) -> dict[str, str]:
    return {f.key: f.label for f in this.fields}


def _said(this: Calculation, fields: Mapping[str, str]) -> list[str]:
    out = []
    for field in this.fields:
        said = fields.get(field.key, "").strip()
        if said:
            words = dict(field.choices).get(said, said)
            out.append(f"{field.label}: {words}")
    return out
