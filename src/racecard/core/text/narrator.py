"""The one narrator: card and headline, from the ranked findings. It decides nothing; it takes more or fewer of them.

A card has at most 60 words: what happened (harm within its first two sentences), how sure, the biggest doubt,
what to do now. No p value, no interval and no term that wants a glossary. What does not fit is counted.
"""

import re
from dataclasses import dataclass, replace

from racecard.core.text.amounts import (
    capital,
    fine,
    spelt,
)
from racecard.core.text.cards import Card, card_of
from racecard.core.text.doubts import DEFAULT_DOUBT
from racecard.core.text.happened import harm_says
from racecard.core.text.told import Told

MOST_WORDS = 60


@dataclass(frozen=True, slots=True)
class Answer:
    """Its kind, its chip in two or three words, and its four parts; a part is "" where there is nothing to say.

    `headline`: every finding in one line, however long. `units`: how many of each to repeat with, where a
    number is advised; `alone`: one to a container.
    """

    kind: str
    chip: str
    happened: str
    sure: str
    doubt: str
    next: str
    headline: str = ""
    units: int | None = None
    alone: bool = False

    @property
    def text(self) -> str:
        """The whole card."""
        doubt = f"Biggest doubt: {self.doubt}." if self.doubt else ""
        step = f"Next: {self.next}." if self.next else ""
        return " ".join(part for part in (self.happened, self.sure, doubt, step) if part)


def tell(t: Told) -> Answer | None:
    """The card, with the headline that holds all; None where nothing was asked."""
    card = card_of(t)
    if card is None:
        return None
    lines, harm = _lines(t, card)
    whole = card_of(replace(t, longest=1000)) or card
    headline = " ".join(s for s, _ in _lines(replace(t, longest=1000), whole)[0] if s)
    answer = Answer(
        card.kind, card.chip, "", "", card.doubt, card.next, headline, card.units, card.alone
    )
    kept, sure = len(lines), [s for s in card.sure if s]
    for _ in range(2 * MOST_WORDS):
        left = sum(n for _, n in lines[kept:])
        counted = [f"{left} more {'result' if left == 1 else 'results'} below."] if left else []
        said = [s for s in (*(s for s, _ in lines[:kept]), *counted) if s]
        answer = replace(answer, happened=" ".join(said), sure=" ".join(sure))
        if len(answer.text.split()) <= MOST_WORDS:
            break
        if answer.doubt.startswith(DEFAULT_DOUBT):
            answer = replace(answer, doubt="")
        elif sure:
            sure.pop(card.spared)
        elif kept > 1 + harm:
            kept -= 1
        elif answer.doubt:
            answer = replace(answer, doubt="")
        elif answer.next not in ("", "see below"):
            shorter = re.split(" to find | before you | with | would ", answer.next)[0]
            answer = replace(answer, next=shorter if shorter != answer.next else "see below")
        else:  # many long names: the longest sentence ends at an earlier one
            k = max(range(kept), key=lambda i: len(lines[i][0].split()))
            lines[k] = (_cut(lines[k][0]), lines[k][1])
    return answer


def _lines(t: Told, card: Card) -> tuple[list[tuple[str, int]], int]:
    """What happened, harm after the first sentence, each with how many results it holds; how many are of harm."""
    harm = [(s, 0) for s in harm_says(t)]
    others = [(t.others, 0)] if t.others else []
    return [(_prefixed(t, card.first), 0), *harm, *others, *card.more], len(harm) + len(others)


def _cut(line: str) -> str:
    """A sentence of many names, ended at the last but one."""
    kept = line.removesuffix(", and more.")
    end = max(kept.rfind("; "), kept.rfind(", "), kept.rfind(" and "))
    return f"{kept[:end] if end > 0 else kept[: len(kept) // 2].rpartition(' ')[0]}, and more."


def _prefixed(t: Told, line: str) -> str:
    if not any(f.grade is not None for f in t.asked) or line.startswith("This cannot"):
        return capital(line)
    rest, day = (
        re.sub("^(?=This|No |None|All |How )(.)", lambda m: m[1].lower(), line),
        fine(t.judgement.day),
    )
    if not t.judgement.is_final:
        return f"So far, day {day} of {t.plan.length_days}: {rest}"
    if t.judgement.stopped_early and t.judgement.day < t.plan.length_days:
        return f"As of day {day} of {t.plan.length_days}: {rest}"
    return (
        f"{capital(spelt(len(t.runs)))} runs together: {rest}" if len(t.runs) > 1 else capital(line)
    )
