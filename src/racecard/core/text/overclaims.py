"""Language guard: words a trial cannot carry, why, and what may honestly be said instead."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from racecard.core.assess.grade import Grade
from racecard.core.text.statement import Section, Statement

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
    _rule(r"\b(?:dis)?(?:prove[sdn]?|proving|proof)\b", "One trial supports a claim or does not; it settles nothing for good.", "came out ahead in this trial (clearly or likely, as its result says)"),
    _rule(r"\b(?:confirm(?:s|ed|ing)?|vindicat(?:es?|ed)|bears? out|bore out)\b|\b(?:this|that|it|which|trial|result|data) (?:clearly )?(?:shows?|showed|demonstrates?|establishes|means) (?:us )?that\b", "One trial fits an idea or does not; it confirms none.", "in this trial … (say what was counted)"),
    _rule(r"\bwinners?\b|\bwon\b", "A placing has doubt; the one in front may be there by chance.", "had the highest rate in this trial"),
    _rule(r"\bno (?:real )?(?:effect|difference|benefit)\b|\b(?:does|did|do) nothing\b|\b(?:does not|doesn[’']t|did not|didn[’']t) work\b|\bis useless\b", "Not shown is not the same as not there: only a margin and enough units could say level.", "no difference could be distinguished from chance here"),
    _rule(r"\b\d+(?:[.,]\d+)?\s*(?:%|per ?cent) (?:more|less|better|worse|likelier|higher|lower|faster)\b(?: likely)?", "A gap between two shares is in points; per cent of a share reads as something else.", "points more (or the ratio, named as a ratio)"),
    _rule(
        r"\b(?:definite(?:ly)?|certain(?:ly)?(?! (?:number|amount|kind|age))|undoubted(?:ly)?|undeniabl[ey]|unquestionabl[ey]|indisputabl[ey]|irrefutabl[ey]"
        r"|conclusive(?:ly)?|decisive(?:ly)?|categorical(?:ly)?|unequivocal(?:ly)?|absolutely|obvious(?:ly)?|of course"
        r"|(?:without|beyond|no)(?: (?:a|any|all|every|reasonable|the slightest|shadow of a))* (?:doubt|question)|no (?:two ways about it|contest)"
        r"|hands down|by (?:miles|a mile|far|a country mile|a long way)|miles (?:better|ahead)|streets ahead|head and shoulders"
        r"|(?:works?|worked|roots?|strikes?) every (?:single )?time|every (?:single )?time|time after time|without fail|foolproof|fail-?safe|sure-?fire|cast[- ]iron|rock[- ]solid"
        r"|guarantee[sd]?|always|never|infallib(?:le|ly)|bound to|can[’']?t (?:fail|go wrong)|cannot (?:fail|go wrong)|100 ?% (?:sure|certain|reliable|effective|safe)|game[- ]changer|a must"
        r"|it is a fact|the fact is|the truth is|clear as day|speaks? for (?:itself|themselves)|slam dunk|open and shut)\b", "The interval says how sure one may be.", "probably, within the doubt shown"),
    _rule(r"\b(?:(?:lies|lie|lying)(?! (?:in|between|from|within|on|beyond|outside|above|below|nearer)\b| to the (?:left|right|north|south|east|west)\b)|culprits?|to blame|liars?|myths?|debunk(?:ed|s)?|busted|nonsense|rubbish|snake oil|quack(?:ery)?|scams?|hoax|hype|fraud|old wives[’\'] tales?|bunk|humbug|waste of (?:money|time)|rip[- ]?off)\b", "The trial speaks of these plants, not of who said what.", "this trial did not bear that out"),
    _rule(r"\b(?:because (?:the|it|of)|caus(?:e[sd]?|ing)|due to|thanks to|owing to|as a result of|made (?:them|it|the cuttings|the seeds?) (?:root|strike|grow|sprout|germinate)|responsible for|leads? to|led to|results? in|boost(?:s|ed|ing)?|stimulat(?:es?|ed|ing)|activat(?:es?|ed)|triggers?|kills?|feeds?|strengthens?)\b", "How it works was not looked at, only what came of it.", "after treatment … (say what came of it, leave the cause and mechanism out)"),
    _rule(r"\bsignificant(?:ly)?\b", "In everyday speech that means large; here it would only mean: not easily explained by chance.", "clearly (or likely) ahead, as the result of this trial says"),
    _rule(r"\b(?:the )?(?:healthiest|strongest ones?|best of (?:the|each) (?:jar|pot|tray))\b", "The best one of a container is not what the container did.", "the mean of all that were stuck"),
    _rule(r"\b(?:every(?:one|body)|all gardeners|any plant|all plants|works for)\b", "The trial speaks of this plant material, place and season.", "for plants like these, treated as here"),
)  # fmt: skip


_KNOWN = (
    "honey", "cinnamon", "willow water", "willow", "aloe", "aspirin", "saliva", "seaweed", "kelp", "charcoal", "coconut water", "yeast",
    "vinegar", "hydrogen peroxide", "peroxide", "turmeric", "clove oil", "talc", "gel", "IBA", "K-IBA", "NAA", "IAA", "bleach",
    "hormone", "rooting powder", "rooting hormone", "tap water", "plain water", "water", "heat", "a heat mat", "bottom heat", "mist",
    "perlite", "vermiculite", "sand", "peat", "coir", "rockwool", "softwood", "hardwood", "semi-ripe", "heel cuttings", "root cuttings",
    "leaf cuttings", "nothing", "doing nothing", "untreated",
)  # fmt: skip
"""Treatments people hold others against: common practice."""
_AGAINST = re.compile(
    r"\b(?:than|beats?|beating|outperform(?:s|ed)?|outdo(?:es)?|outdid|versus|vs\.?|compared (?:with|to)|unlike)\s+"
    r"(?:the |a |any |plain )?("
    + "|".join(re.escape(k) for k in sorted(_KNOWN, key=len, reverse=True))
    + r")\b",
    re.IGNORECASE,
)


def overreaches(text: str, treatments: Sequence[str] | None = None) -> tuple[Overreach, ...]:
    """Every phrase that says more than a trial can, in the order it was written.

    Args:
        text: a conclusion.
        treatments: names and details of what was compared; None where that is not known.
    """
    out = _strangers(text, treatments) if treatments is not None else []
    for rule in _RULES:
        for m in rule.pattern.finditer(text):
            out.append(Overreach(m.group(0), m.start(), rule.why, rule.instead))
    return tuple(sorted(out, key=lambda o: o.start))


_STAND_FOR_NOTHING = {"nothing", "doing nothing", "untreated", "water", "tap water", "plain water"}


def _strangers(text: str, treatments: Sequence[str]) -> list[Overreach]:
    """Comparisons with something that was not in the trial."""
    said = " ".join(treatments).casefold()
    out = []
    for m in _AGAINST.finditer(text):
        other = m.group(1).casefold()
        if other in said or (
            other in _STAND_FOR_NOTHING and ("untreated" in said or "water" in said)
        ):
            continue
        out.append(
            Overreach(
                m.group(0), m.start(),
                f"{m.group(1)} was not in this trial, so nothing here can be held against it.",
                "than the control of this trial (name it), or leave the comparison out",
            )
        )  # fmt: skip
    return out


def honest_wording(statements: Sequence[Statement]) -> str:
    """A conclusion the trial can carry: the verdicts in one breath, and what they do not cover."""
    verdicts = [s for s in statements if s.section is Section.VERDICT]
    told = [s for s in verdicts if s.code != Grade.CANNOT_TELL] or verdicts[:1]
    limits = [s for s in statements if s.section is Section.LIMITS]
    return " ".join(s.text for s in (*told, *limits))
