"""`racecard mix`: one line of the mixing bench, in words or as JSON."""

import json
from collections.abc import Sequence
from dataclasses import asdict

from racecard.core.prepare.cards import Card, as_text
from racecard.core.prepare.line import Line, work_out
from racecard.errors import InvalidInput


def worked_out(line: str, chosen: Sequence[str]) -> tuple[Line, Card]:
    """The line as it was read, and its card.

    Args:
        line: what to make.
        chosen: answers as "question=answer".

    Raises:
        InvalidInput: the line, a field or an answer cannot be read.
    """
    return work_out(line, dict(_pair(c) for c in chosen))


def _pair(text: str) -> tuple[str, str]:
    key, equals, value = text.partition("=")
    if not equals or not key.strip() or not value.strip():
        raise InvalidInput(
            f"“{text}” is not an answer: write it as question=answer, such as spoon=metric."
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


def as_json(line: Line, card: Card) -> str:
    """What was understood, token by token, the amounts, warnings with codes, questions left open."""
    return json.dumps(
        {
            "sum": card.key,
            "understood": dict(line.read.fields),
            "tokens": [asdict(t) for t in card.tokens],
            "amounts": [asdict(m) for m in card.amounts],
            "says": list(card.says),
            "warnings": [asdict(f) for f in card.flags],
            "cautions": [asdict(c) for c in card.cautions],
            "questions": [asdict(q) | {"must": q.must} for q in card.questions if q.chosen is None],
            "open": card.is_open,
        },
        indent=1, ensure_ascii=False,
    )  # fmt: skip
