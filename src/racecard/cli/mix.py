"""`racecard mix`: one line of the mixing bench, in words or as JSON."""

import json
from collections.abc import Sequence
from dataclasses import asdict

from racecard.core.prepare.cards import Card, as_text
from racecard.core.prepare.line import Read, read_line
from racecard.core.prepare.sums import reckon
from racecard.errors import InvalidInput


def worked_out(line: str, chosen: Sequence[str]) -> tuple[Read, Card]:
    """The line as it was read, and its card.

    Args:
        line: what to make.
        chosen: answers as "question=answer".

    Raises:
        InvalidInput: the line, a field or an answer cannot be read.
    """
    choices = dict(_pair(c) for c in chosen)
    read = read_line(line)
    return read, reckon(read.key, read.fields, choices)


def _pair(text: str) -> tuple[str, str]:
    key, equals, value = text.partition("=")
    if not equals or not key.strip() or not value.strip():
        raise InvalidInput(
            f"“{text}” is no answer: write it as question=answer, such as spoon=metric."
        )
    return key.strip(), value.strip()


def as_words(card: Card) -> str:
    """The card as text, with what each answer to an open question leads to."""
    out = [as_text(card)]
    for q in card.questions:
        if q.must:
            out += [
                f"  --choose {q.key}={o.value}: {o.label}{f' → {o.gives}' if o.gives else ''}"
                for o in q.options
            ]
    return "\n".join(out)


def as_json(read: Read, card: Card) -> str:
    """What was understood, the amounts with units, warnings with codes, questions left open."""
    return json.dumps(
        {
            "sum": card.key,
            "understood": dict(read.fields),
            "amounts": [asdict(m) for m in card.amounts],
            "says": list(card.says),
            "warnings": [asdict(f) for f in card.flags],
            "cautions": [asdict(c) for c in card.cautions],
            "questions": [asdict(q) | {"must": q.must} for q in card.questions if q.chosen is None],
            "open": card.is_open,
        },
        indent=1, ensure_ascii=False,
    )  # fmt: skip
