"""The card of one reading of a line: one sum, several of a ladder, or one for many alike."""

from collections.abc import Mapping
from dataclasses import replace

from racecard.core.prepare.cards import Amount, Card
from racecard.core.prepare.readings.shared import Read
from racecard.core.prepare.sums import reckon
from racecard.core.quantities import shown, shown_mass, shown_volume


def work_out_read(read: Read, choices: Mapping[str, str]) -> Card:
    """The card of one reading: one sum, several of a ladder, or one for many alike.

    Args:
        read: the reading of a line.
        choices: answers by question.
    """
    if read.word:
        return _said(read)
    if read.ladder:
        return _ladder(read, choices)
    card = reckon(read.key, read.fields, {**read.answers, **choices})
    if read.times != 1 and card.amounts:
        first = card.amounts[0]
        each = Amount(
            f"{first.what}, each",
            first.value / read.times,
            first.unit,
            _shown(first, first.value / read.times),
        )
        all_ = replace(first, what=f"{first.what}, in all")
        card = replace(card, amounts=(all_, each, *card.amounts[1:]))
    if read.says:
        card = replace(card, says=(*card.says, *read.says))
    return card


def _shown(made: Amount, value: float) -> str:
    if made.unit == "mL":
        return shown_volume(value)
    return shown_mass(value) if made.unit == "g" else f"{shown(value)} {made.unit}"


def _ladder(read: Read, choices: Mapping[str, str]) -> Card:
    """Several sums of one line, told together."""
    cards = [(label, reckon(r.key, r.fields, {**r.answers, **choices})) for label, r in read.ladder]
    if any(c.is_open for _, c in cards):
        return next(c for _, c in cards if c.is_open)
    amounts = [
        replace(c.amounts[read.pick], what=f"{c.amounts[read.pick].what}, {label}")
        for label, c in cards
    ]
    if read.sum_up:
        total = sum(m.value for m in amounts)
        amounts.append(
            Amount("Stock to take, in all", total, amounts[0].unit, _shown(amounts[0], total))
        )
    first = cards[0][1]
    flags = {f.code: f for _, c in cards for f in c.flags}
    return replace(
        first, amounts=tuple(amounts), says=tuple(s for _, c in cards for s in c.says[:1]),
        flags=tuple(flags.values()),
    )  # fmt: skip


def _said(read: Read) -> Card:
    """A card whose figures the reading gives itself."""
    return Card(
        read.key,
        read.word,
        tuple(f"{k}: {v}" for k, v in read.fields.items()),
        read.amounts,
        read.says,
        (),
        (),
        (),
        (),
    )
