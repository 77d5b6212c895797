"""What a note, typed or dictated, may have meant: proposals only, never data until confirmed."""

import re
from collections.abc import Mapping
from dataclasses import dataclass

from racecard.core.log.stages import StageScale

_CODE = re.compile(r"(?<![\w-])(?:(\d{1,3})\s*-\s*)?([A-Za-z]{1,2})\s?(\d{1,3})(?!\w)")
_NEGATED = re.compile(r"\b(?:not|no|never|isn't|hasn't|without|almost|nearly)\b", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Heard:
    """A look a note may have told of: the unit's code, and a stage or a cause of loss."""

    code: str
    stage: int | None
    loss: str | None
    says: str


def heard(text: str, ladder: StageScale, codes: Mapping[str, str], here: str = "") -> list[Heard]:
    """The looks a note seems to tell of, in its order.

    A part of the note that says "not", "almost" or the like proposes nothing.

    Args:
        text: the note.
        ladder: stages and causes of the trial.
        codes: the bench's codes in capitals, to the code as it is shown.
        here: code of the unit the note is about, where the note names none.
    """
    out: list[Heard] = []
    code = here
    for part in re.split(r"[.,;\n]|\band\b", text):
        found = next((c for c in _codes_in(part) if c in codes), None)
        code = codes[found] if found else code
        if not code or _NEGATED.search(part):
            continue
        words = part.lower()
        loss = next((e for e in ladder.exits if e.cause != "removed" and e.cause in words), None)
        stages = [s for s in ladder.stages if _root(s.name) in words]
        if loss is not None:
            out.append(Heard(code, None, loss.cause, f"{code}: {loss.name.lower()}"))
        elif stages:
            best = max(stages, key=lambda s: len(_root(s.name)))
            out.append(Heard(code, best.code, None, f"{code}: {best.name.lower()}"))
    return out


def _codes_in(part: str) -> list[str]:
    return [
        f"{f'{m[1]}-' if m[1] and m[1] != '1' else ''}{m[2].upper()}{int(m[3])}"
        for m in _CODE.finditer(part)
    ]


def _root(name: str) -> str:
    """What of a stage's name is listened for."""
    return {"nothing at the base": "nothing", "bulges": "bulg"}.get(name.lower(), name.lower())
