"""One-sentence cautions shown beside the input that calls for them.

General laboratory and nursery safety practice; none is legal advice.
"""

import re
from dataclasses import dataclass

from racecard.core.model import Agent, Carrier, Treatment

_HORMONE_WORDS = re.compile(
    r"\b(k-)?(iba|naa|iaa|k-?iba|k-?naa)\b|auxin|hormone|butyric|naphthal", re.I
)
_ALCOHOL_WORDS = re.compile(r"\balcohol|\bethanol|\bisopropanol|\bspirit", re.I)


@dataclass(frozen=True, slots=True)
class Caution:
    """A caution with its stable code."""

    code: str
    says: str


HORMONE = Caution(
    "hormone",
    "Wear gloves and eye protection, avoid breathing the powder, keep from children and pets; "
    "follow the label and local rules; licensed applicators where required.",
)
ALCOHOL = Caution(
    "alcohol",
    "Alcohol and its vapour burn: no flame, sparks or hot mats nearby, air the room, "
    "small closed cups.",
)


def cautions_for(treatment: Treatment) -> tuple[Caution, ...]:
    """The cautions a treatment calls for, by what is ticked or by what its words name."""
    text = f"{treatment.name} {treatment.detail}"
    out = []
    if treatment.agent is Agent.HORMONE or _HORMONE_WORDS.search(text):
        out.append(HORMONE)
    if treatment.carrier is Carrier.ALCOHOL or _ALCOHOL_WORDS.search(text):
        out.append(ALCOHOL)
    return tuple(out)
