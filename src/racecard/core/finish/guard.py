"""Language guard: words a trial cannot carry, why, and what may honestly be said instead."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from racecard.core.finish.grade import Grade
from racecard.core.finish.judge import Comparison
from racecard.core.finish.words import LIMITS

MOST_WORDS = 2000


@dataclass(frozen=True, slots=True)
class Overreach:
    """One phrase that says more than the trial can: where, why, and what to write instead."""

    found: str
    start: int
    why: str
    instead: str


@dataclass(frozen=True, slots=True)
class _Rule:
    pattern: re.Pattern[str]
    why: str
    instead: str


def _rule(pattern: str, why: str, instead: str) -> _Rule:
    return _Rule(re.compile(pattern, re.IGNORECASE), why, instead)


_RULES = (
    _rule(r"\b(?:dis)?(?:prove[sdn]?|proving|proof)\b", "One trial supports a claim or does not; it settles nothing for good.", "this trial shows a clear lead for"),
    _rule(r"\bwinners?\b|\bwon\b", "A placing has doubt; the one in front may be there by luck.", "struck most in this trial"),
    _rule(r"\bno (?:real )?(?:effect|difference|benefit)\b|\b(?:does|did|do) nothing\b|\b(?:does not|doesn[’']t|did not|didn[’']t) work\b|\bis useless\b", "Not shown is not the same as not there: only a margin and enough units could say level.", "no difference could be told apart from luck here"),
    _rule(r"\b\d+(?:[.,]\d+)?\s*(?:%|per ?cent) (?:more|less|better|worse|likelier|higher|lower|faster)\b(?: likely)?", "A gap between two shares is in points; per cent of a share reads as something else.", "points more (or the ratio, named as a ratio)"),
    _rule(r"\b(?:definitely|certainly|undoubtedly|without (?:a )?doubt|guaranteed?|always|never fails)\b", "The interval says how sure one may be.", "probably, within the doubt shown"),
    _rule(r"\b(?:(?:lies|lie|lying)(?! (?:in|between|from|within|on|beyond|outside|above|below|to|nearer)\b)|liar|myth|debunk(?:ed|s)?|busted)\b", "The trial speaks of these plants, not of who said what.", "this trial did not bear that out"),
    _rule(r"\b(?:because (?:the|it|of)|stimulat(?:es?|ed|ing)|activat(?:es?|ed)|triggers?|kills?|feeds?|strengthens?)\b", "How it works was not looked at, only what came of it.", "after treatment … (leave the mechanism out)"),
    _rule(r"\bsignificant(?:ly)?\b", "In everyday speech that means large; here it would mean only: not easily luck.", "clear (or likely), by the grades of the finish"),
    _rule(r"\b(?:the )?(?:healthiest|strongest ones?|best of (?:the|each) (?:jar|pot|tray))\b", "The best one of a container is not what the container did.", "the mean of all that were stuck"),
    _rule(r"\b(?:every(?:one|body)|all gardeners|any plant|all plants|works for)\b", "The trial speaks of this plant material, place and season.", "for plants like these, treated as here"),
)  # fmt: skip


def overreaches(text: str) -> tuple[Overreach, ...]:
    """Every phrase that says more than a trial can, in the order it was written."""
    out = []
    for rule in _RULES:
        for m in rule.pattern.finditer(text):
            out.append(Overreach(m.group(0), m.start(), rule.why, rule.instead))
    return tuple(sorted(out, key=lambda o: o.start))


def honest_wording(comparisons: Sequence[Comparison], says: Sequence[str]) -> str:
    """A conclusion the trial can carry: the verdicts in one breath, and what they do not cover."""
    told = [c.sentence for c in comparisons if c.grade is not Grade.CANNOT_TELL]
    if not told:
        told = [c.sentence for c in comparisons[:1]]
    limits = [s for s in says if s.startswith(LIMITS)]
    return " ".join((*told, *limits))
