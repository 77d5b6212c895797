"""Every sum of the mixing bench by key, and the one way to work it out."""

from collections.abc import Mapping
from dataclasses import replace

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
from racecard.core.prepare.cards import Answer, Card, Question, Sum
from racecard.core.prepare.given import Given
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
            raise InvalidInput(f"“{name[:40]}” is no field of {this.title}.", f"/fields/{name}")
        if len(value) > MOST_WRITTEN:
            raise InvalidInput(f"Keep it to {MOST_WRITTEN} characters.", f"/fields/{name}")
    chosen = dict(choices or {})
    given = Given(fields, chosen, _labels(this))
    answer = this.work(given)
    questions = tuple(_led(this, fields, chosen, q) for q in given.asked.values())
    return _card(this, fields, answer, questions)


def _card(
    this: Sum, fields: Mapping[str, str], answer: Answer, questions: tuple[Question, ...]
) -> Card:
    understood = tuple(_said(this, fields))
    is_open = any(q.must for q in questions)
    return Card(
        this.key, this.title, understood,
        () if is_open else answer.amounts,
        ("Answer the question first: the amounts depend on it.",) if is_open else answer.says,
        () if is_open else answer.flags, questions, answer.cautions, answer.sources,
    )  # fmt: skip


def _led(
    this: Sum, fields: Mapping[str, str], choices: dict[str, str], asked: Question
) -> Question:
    """The question with what each answer would lead to, while no other is open."""
    options = []
    for option in asked.options:
        given = Given(fields, {**choices, asked.key: option.value}, _labels(this))
        try:
            amounts = this.work(given).amounts
        except InvalidInput as exc:
            options.append(replace(option, gives=exc.detail))
            continue
        others = [q for q in given.asked.values() if q.must and q.key != asked.key]
        if amounts and not others:
            first = amounts[0]
            options.append(replace(option, gives=f"{first.what}: {first.shown}"))
        else:
            options.append(option)
    return replace(asked, options=tuple(options))


def _labels(this: Sum) -> dict[str, str]:
    return {f.key: f.label for f in this.fields}


def _said(this: Sum, fields: Mapping[str, str]) -> list[str]:
    out = []
    for field in this.fields:
        said = fields.get(field.key, "").strip()
        if said:
            words = dict(field.choices).get(said, said)
            out.append(f"{field.label}: {words}")
    return out
