"""Headings of tables as people write them: what a column holds."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from racecard.core.model.table_dates import is_date
from racecard.core.model.table_rows import COLUMNS, FACTOR

_SAID: Mapping[str, str] = {
    "treatment": "treatment|treatments|variant|group|what|method|product|hormone|behandlung|traitement|tratamiento",
    "count": "count|n|total|cuttings|plants|seeds|bulbs|number|set|stuck|sown|planted|out of|of|how many|sample size|"
    "quantity|qty|anzahl|nombre|total cuttings|total plants|total seeds",
    "struck": "struck|rooted|took|taken|germinated|emerged|sprouted|came up|up|success|successes|rooting|germination|"
    "strike|bewurzelt|gekeimt|with roots",
    "not": "not rooted|not struck|unrooted|not germinated|ungerminated|not up|failed|failures|fail|no roots|did not root|"
    "without roots|not sprouted",
    "lost": "lost|dead|died|deaths|rotted|rotten|losses",
    "removed": "removed|discarded",
    "state": "outcome|state|status|result|results|fate|what happened|how it ended",
    "unit": "cutting|plant|seed|unit|id|cutting no|plant no|seed no|label",
    "container": "container|pot|dish|jar|bag|plate",
    "block": "block|replicate|rep|repeat|household|garden|pair|person|grower|site",
    "aside": "notes|note|comment|comments|remark|remarks",
}  # fmt: skip
_ROLE = {word: role for role, words in _SAID.items() for word in words.split("|")}
_COUNTING = re.compile(r"^(?:number of|number|no\.? of|no\.?|nr\.?|count of|#)\s+(?=\S)")
_PERCENT = re.compile(r"%|\bper ?cent(?:age)?\b|\brate\b")
_SHARE = re.compile(r"\b(?:share|fraction|proportion)(?: of)?\b")
_DAY = re.compile(
    r"(new(?:ly)?\s+)?(?:(?:struck|rooted|germinated|emerged|sprouted|took|up|came up)\s+)?(?:by |on |at )?(?:day|d)\.?\s?(\d{1,4})(\s+new)?"
)
_MOST_NAME = 120
ZERO_DAY = (
    "start",
    "sown on",
    "stuck on",
    "set on",
    "planted on",
    "stuck",
    "sown",
    "planted",
    "started",
)
"""Headings of the day on which the plants were set."""


@dataclass(frozen=True, slots=True)
class Column:
    """A heading as it was understood. `percent`: 0 for counts, 100 for percent of the count, 1 for shares of it; `day`: of a wide table."""

    index: int
    name: str
    role: str
    percent: float = 0.0
    day: float | None = None
    is_new: bool = False


def is_own(names: Sequence[str]) -> bool:
    """Whether a heading is that of a table in Racecard's own columns, one outcome a row."""
    outcomes = {"outcome", "day_from", "day_to", "date_from", "date_to", "looks"}
    return "treatment" in names and bool(outcomes & set(names)) and "struck" not in names


def role_of(heading: str) -> Column:
    """What a heading means; role "" where it is not known."""
    text = " ".join(heading[:_MOST_NAME].casefold().replace("_", " ").split()).rstrip("?:.")
    bare = " ".join(re.sub(r"[(\[].*?[)\]]", "", text).split())
    if match := _DAY.fullmatch(bare):
        return Column(0, heading, "wide", day=float(match[2]), is_new=bool(match[1] or match[3]))
    if is_date(bare):
        return Column(0, heading, "wide")
    if bare in _ROLE:
        percent = 100.0 if _PERCENT.search(text) else 0.0
        return Column(0, heading, _ROLE[bare], percent)
    for pattern, whole in ((_PERCENT, 100.0), (_SHARE, 1.0)):
        if pattern.search(text):
            rest = " ".join(pattern.sub(" ", bare).split())
            role = _ROLE.get(rest, "" if rest else "struck")
            return Column(0, heading, role if role == "struck" else "", whole)
    if _COUNTING.match(bare):
        rest = _COUNTING.sub("", bare)
        return Column(0, heading, _ROLE.get(rest, ""))
    words = bare.split()
    if (
        len(words) > 1
        and words[-1] in ("cuttings", "plants", "seeds")
        and " ".join(words[:-1]) in _ROLE
    ):
        return Column(0, heading, _ROLE[" ".join(words[:-1])])
    own = bare.replace(" ", "_")
    return Column(0, heading, own if own in COLUMNS or own.startswith(FACTOR) else "")
