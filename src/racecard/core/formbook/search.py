"""Finding lines of the form book: by words, by what they hold, in an order of the grower's choice."""

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum

from racecard.core.formbook.line import FormLine, State

QUARTERS = ("Dec to Feb", "Mar to May", "Jun to Aug", "Sep to Nov")
"""Which season each is depends on the hemisphere."""


class Sort(StrEnum):
    """The orders a list of lines can have."""

    NEWEST = "newest"
    OLDEST = "oldest"
    PLANT = "plant"
    LARGEST = "largest difference"
    SUREST = "most certain"


@dataclass(frozen=True, slots=True)
class Wanted:
    """What is looked for; "" where anything will do. `text`: words that must all occur."""

    text: str = ""
    plant: str = ""
    method: str = ""
    quarter: str = ""
    year: str = ""
    verdict: str = ""
    state: str = ""


@dataclass(frozen=True, slots=True)
class Facets:
    """What the lines hold, each with how many, the most frequent first."""

    plants: tuple[tuple[str, int], ...]
    methods: tuple[tuple[str, int], ...]
    quarters: tuple[tuple[str, int], ...]
    years: tuple[tuple[str, int], ...]
    verdicts: tuple[tuple[str, int], ...]
    states: tuple[tuple[str, int], ...]


def quarter_of(line: FormLine) -> str:
    """The quarter of the year it began in, "" for a draft."""
    return QUARTERS[line.month % 12 // 3] if line.month else ""


_HELD: dict[str, Callable[[FormLine], str]] = {
    "plant": lambda x: x.plant,
    "method": lambda x: x.subject,
    "quarter": quarter_of,
    "year": lambda x: x.began[:4],
    "verdict": lambda x: x.best.grade if x.best else "",
    "state": lambda x: x.state.value,
}
_CERTAIN = (
    "clear_lead", "clearly_behind", "likely_lead", "likely_behind", "level", "too_close_to_call",
    "cannot_tell_by_design", "",
)  # fmt: skip


def found_lines(
    lines: Sequence[FormLine], wanted: Wanted, sort: Sort = Sort.NEWEST
) -> list[FormLine]:
    """The lines that hold all that is wanted, in this order; equal ones the newest first.

    Args:
        lines: every line, the newest first.
        wanted: what is looked for.
        sort: the order.
    """
    words = wanted.text.casefold().split()
    asked = [(held, v) for name, held in _HELD.items() if (v := getattr(wanted, name))]
    kept = [
        x for x in lines
        if all(held(x) == v for held, v in asked) and (not words or all(w in x.text for w in words))
    ]  # fmt: skip
    if sort is Sort.OLDEST:
        kept.reverse()
    elif sort is Sort.PLANT:
        kept.sort(key=lambda x: (x.plant == "", x.plant.casefold()))
    elif sort is Sort.LARGEST:
        kept.sort(key=lambda x: -abs(x.best.gap) if x.best and x.best.gap is not None else 1)
    elif sort is Sort.SUREST:
        kept.sort(key=lambda x: _CERTAIN.index(x.best.grade if x.best else ""))
    return kept


def facets_of(lines: Sequence[FormLine]) -> Facets:
    """What can be filtered by."""

    def counted(name: str) -> tuple[tuple[str, int], ...]:
        found = Counter(v for x in lines if (v := _HELD[name](x)))
        return tuple(sorted(found.items(), key=lambda pair: (-pair[1], pair[0])))

    return Facets(
        counted("plant"), counted("method"), counted("quarter"),
        tuple(sorted(counted("year"), reverse=True)), counted("verdict"), counted("state"),
    )  # fmt: skip


def open_loops(lines: Sequence[FormLine]) -> list[FormLine]:
    """Trials nobody has closed: begun, past their end, and never finished."""
    return [x for x in lines if x.state is State.ABANDONED]
