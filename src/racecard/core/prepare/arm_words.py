"""What a treatment's own words say of its soaks, its active and its dose, by the reader of lines.

Only a proposal: nothing read here is recorded until the grower has confirmed it.
"""

import re
from itertools import pairwise

from racecard.core.plan.check import MOST_MINUTES
from racecard.core.prepare.actives import ACTIVES
from racecard.core.prepare.lexer import lex
from racecard.core.prepare.phrases import Parse, Phrase, parse
from racecard.core.prepare.readings.shared import MOLAR, PPM, SHARE, spirits_in
from racecard.core.quantities import OVERNIGHT, Dimension
from racecard.errors import InvalidInput

_DIP_MINUTES = 10.0
_MINUTES = {"s": 1 / 60, "min": 1.0, "h": 60.0, "d": 1440.0, "weeks": 10_080.0}
"""Minutes of each unit of time. By hand, as the server must not wait for the units' library."""
_CLAUSE = re.compile(r"[;.](?!\d)|,(?!\d)|\bthen\b", re.IGNORECASE)
_WETS = re.compile(
    r"\b(soak|steep|dip|drench|immers|bath|wet|rinse|bases?\b|chill|stratif|in (?:\w+ )?(?:water|solution|tea|extract))\w*",
    re.IGNORECASE,
)
_DRIES = re.compile(r"\b(left )?to dry\b|\bdried\b|\ba day\b|\bper day\b", re.IGNORECASE)
_TIGHT = re.compile(r"\b(\d+)\s?h\s?([0-5]\d)(?:\s?min)?\b", re.IGNORECASE)
_NAMED = re.compile(r"\b(soak|steep|dip|wet|chill|stratif)", re.IGNORECASE)


def soaks_in(words: str, *, is_wetting: bool = False) -> tuple[tuple[str, float], ...]:
    """Soaks and dips that words speak of, as (name, minutes) in their order.

    "soaked 24 h", "bases 5 s", "12 h in water", "overnight in water", "soak 1h30, then dip 5 s".
    Only where wetting is meant: not "light 16 h", "left to dry 2 days" or "heat mat 8 h a day".

    Args:
        words: as the grower wrote them.
        is_wetting: whether they answer "how is it wetted?", so that "12 h" is enough.
    """
    words = _TIGHT.sub(lambda m: f"{m[1]} h {m[2]} min", words)
    clauses = [c for c in _CLAUSE.split(words) if c.strip()]
    found = [s for c in clauses if (is_wetting or _WETS.search(c)) and (s := _step_of(c))]
    if not found and _WETS.search(words):  # "soaked, 24 h": the time stands alone
        found = [s for c in clauses if _is_only_a_time(c) and (s := _step_of(c))]
    return tuple(found)


def _step_of(clause: str) -> tuple[str, float] | None:
    if _DRIES.search(clause):
        return None
    minutes = _minutes_in(clause)
    if minutes is None or not 0 < minutes <= MOST_MINUTES:
        return None
    named = _NAMED.search(clause)
    return (named[1].lower() if named else "dip" if minutes < _DIP_MINUTES else "soak"), minutes


def _is_only_a_time(clause: str) -> bool:
    p = _parsed(clause)
    return not p.free(lambda x: not _is_time(x) and x.what != "filler")


def _minutes_in(clause: str) -> float | None:
    """The one duration of a clause, in minutes; None where there is none, or a range, or two."""
    times = [x for x in _parsed(clause).phrases if _is_time(x)]
    if not times or any(t.joined for t in times):
        return None
    if any(b.at[0] != a.at[-1] + 1 for a, b in pairwise(times)):  # 1 h 30 min is one duration
        return None
    return sum(OVERNIGHT * 60 if t.what == "word" else _minutes(t) for t in times)


def _is_time(x: Phrase) -> bool:
    return x.is_of(Dimension.TIME) or (x.what == "word" and x.tag == "overnight")


def _minutes(t: Phrase) -> float:
    return t.value * _MINUTES[t.unit_of(Dimension.TIME).name]


def strength_in(words: str) -> str:
    """The first strength of the words, "1000 ppm" or "0.2 mM"; "" where none, or more than one way to read it."""
    found = [x for x in _parsed(words).phrases if x.is_of(PPM, MOLAR) and not x.joined]
    return found[0].said(PPM, MOLAR) if found else ""


_PPM_OF = {"ppm": 1.0, "mg/L": 1.0, "µg/mL": 1.0, "mg/mL": 1000.0, "g/L": 1000.0, "ppb": 0.001,
           "mM": 200.0, "µM": 0.2, "M": 200_000.0}  # fmt: skip
"""About how many mg/L each unit of strength is; a mole is taken for 200 g, as doses are only ranked."""
_PPM_OF_PERCENT = 10_000.0


def ranked_dose(words: str) -> float:
    """About how strong the words say it is, in mg/L, to rank treatments by; 0 where nothing is said."""
    p = _parsed(words)
    spirits = spirits_in(p)
    strengths = [
        x for x in p.phrases if x.is_of(PPM, MOLAR, SHARE) and not x.joined and x not in spirits
    ]
    return max(
        (
            x.value * _PPM_OF.get(x.unit_of(PPM, MOLAR, SHARE).name, _PPM_OF_PERCENT)
            for x in strengths
        ),
        default=0.0,
    )


def percent_in(words: str) -> str:
    """The first percentage of the words that is not alcohol's; ""."""
    p = _parsed(words)
    spirits = spirits_in(p)
    found = [x for x in p.phrases if x.is_of(SHARE) and not x.joined and x not in spirits]
    return found[0].said(SHARE) if found else ""


def alcohol_in(words: str) -> str:
    """How strong the alcohol of the words is, "50 %"; "" where it is not said."""
    found = spirits_in(_parsed(words))
    return found[0].said(SHARE) if found else ""


def active_in(words: str) -> str:
    """The first active the words name and the sums know; ""."""
    return next((a.tag for a in _parsed(words).actives() if a.tag in ACTIVES), "")


def is_soaked(words: str) -> bool:
    """Whether the words speak of a soak of hours rather than a dip."""
    return bool(re.search(r"\bsoak|\bsteep", words, re.IGNORECASE)) or any(
        m >= 60 for _, m in soaks_in(words)
    )


def _parsed(words: str) -> Parse:
    """The words' phrases; none where a number in them can be read in two ways."""
    try:
        lexed = lex(words)
    except InvalidInput:
        return Parse([], [])
    return Parse([], []) if lexed.open_signs else parse(lexed.tokens)
