"""One row of a table of results, its rules, and what stands against it."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from racecard.core.model import Kind, Role
from racecard.core.model.spelling import spelling
from racecard.core.model.table_dates import DATE_COLUMNS, DateOrder, is_date, read_date
from racecard.core.model.turnout import Turnout

OUTCOMES = ("struck", "alive", "lost", "removed")
COLUMNS = (
    "treatment", "role", "block", "run", "container", "unit", "tray", "row", "col", "count",
    "outcome", "day_from", "day_to", "day", "cause", "score", "roots", "longest_mm", "baseline",
    "looks", "end_day", "gap_points", "kind", "start", "date_from", "date_to", "date", "struck",
)  # fmt: skip
"""Every column a table may have; `looks` (look days of this row's plants, separated by blanks),
`end_day` (last day of the plan), `kind` (cutting or seed) and `gap_points` (smallest smallest difference that matters) let a table taken out of Racecard say all that was seen."""
FACTOR = "factor_"
"""A column whose name begins so tells a level of a factor, or a dose: factor_coat, factor_strength."""
MOST_FACTORS = 12
MOST_DAYS = 5000
MOST_COUNT = 100_000


class UnitKind(StrEnum):
    """What was randomised, as far as a table can say."""

    CONTAINER = "container"
    PROPAGULE = "propagule"


@dataclass(frozen=True, slots=True)
class BadCell:
    """A value that breaks a rule: row as numbered in the file (header = 1), column, value, rule."""

    row: int
    column: str
    value: str
    rule: str

    def says(self) -> str:
        """One sentence."""
        where = f"Row {self.row}, {self.column}" if self.column else f"Row {self.row}"
        got = f" (got {self.value!r})" if self.value else ""
        return f"{where}: {self.rule}{got}."


@dataclass(frozen=True, slots=True)
class ResultRow:
    """`count` propagules of one unit with one outcome, in days from day 0.

    `bounds`: how many of them struck, at least and at most, where the row gives a number instead of an outcome.
    """

    row: int
    treatment: str
    outcome: str
    count: int = 1
    role: Role | None = None
    block: str = ""
    run: str = ""
    container: str = ""
    unit: str = ""
    tray: str = ""
    place: tuple[int, int] | None = None
    day_from: float | None = None
    day_to: float | None = None
    day: float | None = None
    cause: str = ""
    score: float | None = None
    looks: tuple[float, ...] = ()
    end_day: float | None = None
    gap_points: float | None = None
    factors: tuple[tuple[str, str], ...] = ()
    went_back: bool = False
    bounds: tuple[int, int] | None = None
    kind: Kind | None = None


@dataclass(frozen=True, slots=True)
class Sheet:
    """A table as it was understood: good rows, bad cells, and columns that were left aside.

    Rows that say the same are one row with their counts added; `read` is how many good rows the
    file had.
    `turnout`: how many gardens joined and sent them in, where they are the returns of many.
    `respelled`: names that were read as another that differs in capitals or blanks only, with that other.
    `read_as`: what was made of a table in columns of its own, in sentences.
    """

    rows: tuple[ResultRow, ...]
    bad: tuple[BadCell, ...]
    columns: tuple[str, ...]
    left_aside: tuple[str, ...]
    read: int
    turnout: Turnout | None = None
    respelled: tuple[tuple[str, str], ...] = ()
    read_as: tuple[str, ...] = ()


def one_spelling(rows: Sequence[ResultRow]) -> tuple[tuple[ResultRow, ...], dict[str, str]]:
    """Rows with each treatment as it is written first, and what was written otherwise: "water " is no further treatment.

    Args:
        rows: of one table.

    Returns:
        The rows, and from each other spelling to the first.
    """
    first: dict[str, str] = {}
    others: dict[str, str] = {}
    for r in rows:
        name = first.setdefault(spelling(r.treatment).replace(" ", ""), r.treatment)
        if name != r.treatment:
            others[r.treatment] = name
    read = (replace(r, treatment=others[r.treatment]) if r.treatment in others else r for r in rows)
    return tuple(read), others


def of_kind(sheet: Sheet, kind: Kind | None) -> Sheet:
    """The table with what it holds said for rows that do not say it themselves."""
    if kind is None:
        return sheet
    return replace(sheet, rows=tuple(r if r.kind else replace(r, kind=kind) for r in sheet.rows))


class RowReader:
    """Reads cells of one row by name, collecting what is wrong instead of stopping at it."""

    def __init__(self, number: int, cells: dict[str, str], order: DateOrder | None = None) -> None:
        self.number = number
        self.cells = cells
        self.order = order
        self.bad: list[BadCell] = []

    def read(self) -> ResultRow | None:
        """The row, or None with the reasons in `bad`."""
        outcome = self._outcome()
        count = self._whole("count", 1, MOST_COUNT) or 1
        if self.cells.get("count") == "" and not self.cells.get("unit"):
            self._fault("count", "is blank: write the number")
        row = ResultRow(
            self.number,
            self._required("treatment"),
            outcome,
            count,
            self._role(),
            self._text("block"), self._text("run"), self._text("container"), self._text("unit"),
            self._text("tray"), self._place(),
            self._day("day_from"), self._day("day_to"), self._day("day"),
            self._text("cause"), self._score(), self._looks(), self._day("end_day"),
            self._number("gap_points", 1, 100), self._factors(), bounds=self._bounds(count),
            kind=self._kind(),
        )  # fmt: skip
        self._order(row)
        for column in ("roots", "longest_mm", "baseline"):
            self._number(column, 0, 1e6)
        return None if self.bad else row

    def _fault(self, column: str, rule: str) -> None:
        self.bad.append(BadCell(self.number, column, self.cells.get(column, "")[:40], rule))

    def _text(self, column: str) -> str:
        value = self.cells.get(column, "")
        if len(value) > 80:
            self._fault(column, "keep it to 80 characters or fewer")
        return value

    def _required(self, column: str) -> str:
        value = self._text(column)
        if not value:
            self._fault(column, "is empty; every row needs one")
        return value

    def _outcome(self) -> str:
        value = self.cells.get("outcome", "").casefold()
        if not value:
            dated = self.cells.get("day_to") or self.cells.get("date_to")
            return "struck" if dated and not self.cells.get("struck") else "alive"
        found = state_of(value)
        if not found:
            self._fault("outcome", f"must be one of {', '.join(OUTCOMES)}")
        return found or "alive"

    def _role(self) -> Role | None:
        value = self.cells.get("role", "").casefold()
        if not value:
            return None
        if value not in set(Role):
            self._fault("role", f"must be one of {', '.join(Role)}")
            return None
        return Role(value)

    def _kind(self) -> Kind | None:
        value = self.cells.get("kind", "").casefold().removesuffix("s")
        if not value:
            return None
        if value not in set(Kind):
            self._fault("kind", f"must be one of {', '.join(Kind)}")
            return None
        return Kind(value)

    def _number(self, column: str, low: float, high: float) -> float | None:
        value = self.cells.get(column, "")
        if not value:
            return None
        try:
            number = float(value.replace(",", ".") if value.count(",") == 1 else value)
        except ValueError:
            self._fault(column, "must be a number")
            return None
        if not low <= number <= high:
            self._fault(column, f"must be {low:g} to {high:g}")
            return None
        return number

    def _whole(self, column: str, low: int, high: int) -> int | None:
        number = self._number(column, low, high)
        if number is not None and number != int(number):
            self._fault(column, "must be a whole number")
            return None
        return None if number is None else int(number)

    def _day(self, column: str) -> float | None:
        """Days from day 0, told as a number or by a date; a part of a day is kept, whole days are whole."""
        named = next((d for d, c in DATE_COLUMNS.items() if c == column), "")
        if self.cells.get(named):
            if self.cells.get(column):
                self._fault(column, f"and {named} say the same thing: fill in one of them")
            number = self._days_to(named)
        elif is_date(self.cells.get(column, "")):
            rule = "must be a number of days from day 0, not a date"
            self._fault(
                column, f"{rule}: put dates into {named} and day 0 into start" if named else rule
            )
            return None
        else:
            number = self._number(column, 0, MOST_DAYS)
        if number is None:
            return None
        return _whole(number)

    def _days_to(self, column: str) -> float | None:
        """Days from the row's start to a date in it, with a fraction where both have a time."""
        found, start = read_date(self.cells[column], self.order), None
        if found is None:
            self._fault(column, "must be a date, such as 2026-05-03")
        if not self.cells.get("start"):
            self._fault("start", f"is empty; {column} needs the date of day 0")
        elif (start := read_date(self.cells["start"], self.order)) is None:
            self._fault("start", "must be a date, such as 2026-05-03")
        if found is None or start is None:
            return None
        (at, timed), (began, is_timed) = found, start
        if not (timed and is_timed):
            at, began = (
                at.replace(hour=0, minute=0, second=0),
                began.replace(hour=0, minute=0, second=0),
            )
        days = (at - began).total_seconds() / 86_400
        if not 0 <= days <= MOST_DAYS:
            self._fault(column, f"must be 0 to {MOST_DAYS} days after start")
            return None
        return days

    def _bounds(self, count: int) -> tuple[int, int] | None:
        """How many of the row's plants struck: a number, or words for at least and at most so many."""
        if "struck" not in self.cells or self.cells.get("outcome"):
            return None
        if not self.cells["struck"] and (self.cells.get("day_to") or self.cells.get("date_to")):
            return None
        said = self.cells["struck"].casefold().replace("≥", ">=").replace("≤", "<=")
        found = _bounds_said(" ".join(said.split()), count)
        if found is None:
            self._fault("struck", 'must be a number, or "some", "most", "none", "2-4" or ">=1"')
        elif found[1] > count and "count" not in self.cells:
            self._fault("struck", "needs a column count, how many plants each row is of")
        elif not 0 <= found[0] <= found[1] <= count:
            self._fault("struck", f"must be 0 to {count}, the count of this row")
        else:
            return found
        return None

    def _score(self) -> float | None:
        return self._number("score", 0, 5)

    def _place(self) -> tuple[int, int] | None:
        row, col = self._whole("row", 0, 10_000), self._whole("col", 0, 10_000)
        return None if row is None or col is None else (row, col)

    def _looks(self) -> tuple[float, ...]:
        parts = self.cells.get("looks", "").split()
        if not all(_DAY.fullmatch(p) and float(p) <= MOST_DAYS for p in parts):
            self._fault("looks", "must be days separated by blanks")
            return ()
        return tuple(sorted({_whole(float(p)) for p in parts}))

    def _factors(self) -> tuple[tuple[str, str], ...]:
        told = [c for c in self.cells if c.startswith(FACTOR)]
        if len(told) > MOST_FACTORS:
            self._fault(told[MOST_FACTORS], f"{MOST_FACTORS} factors are the most")
        named = ((c.removeprefix(FACTOR).replace("_", " "), self._text(c)) for c in told)
        return tuple((name, value) for name, value in named if name and value)

    def _order(self, row: ResultRow) -> None:
        if self.bad:
            return
        start = row.day_from or 0
        if row.outcome == "struck" and row.day_to is not None and row.day_to <= start:
            self._fault("day_to", f"must come after day_from, {start}")
        if row.outcome in ("alive", "removed") and row.day_to is not None:
            self._fault("day_to", f"is the first look with roots, but the outcome is {row.outcome}")
        if row.outcome == "lost" and row.day_to is not None:
            self._fault("day_to", "goes with struck; for a loss give day_from and day")
        if row.outcome == "lost" and row.day is not None and row.day <= start:
            self._fault("day", f"must come after day_from, {start}")


_DAY = re.compile(r"\d{1,4}(?:\.\d{1,6})?")


def _whole(number: float) -> float:
    return int(number) if number == int(number) else round(number, 4)


_STATES = {
    "struck": "struck|rooted|took|germinated|emerged|sprouted|came up|up|yes|y|ja|oui|si|sí|true|✓|✔|✅|☑",
    "alive": "alive|no|n|nein|non|false|✗|✘|❌|☐|not rooted|not struck|unrooted|not germinated|not up|callus|callused|"
    "callus only|no roots|green|living",
    "lost": "lost|dead|died|rotted|rotten|rot|lost to rot|shrivelled",
    "removed": "removed|discarded|thrown out",
}
_STATE = {word: state for state, words in _STATES.items() for word in words.split("|")}


def state_of(said: str) -> str:
    """What became of one plant, one of `OUTCOMES`, in the words of a bench; "" where the word is not known."""
    return _STATE.get(" ".join(said.casefold().split()).rstrip("."), "")


def is_column(name: str) -> bool:
    """Whether a table's column of this name is read."""
    return name in COLUMNS or name.startswith(FACTOR)


_RANGE = re.compile(r"(\d+) ?(?:-|–|to|or) ?(\d+)")
_LIMIT = re.compile(
    r"(>=|<=|>|<|at least|at most|up to|over|under|more than|fewer than|less than) ?(\d+)"
)


def _bounds_said(said: str, count: int) -> tuple[int, int] | None:
    """At least and at most so many of `count`; None where it cannot be read."""
    if said.isdecimal():
        return int(said), int(said)
    if said in ("", "?", "unknown", "not counted"):
        return 0, count
    known = {
        "none": (0, 0), "no": (0, 0), "all": (count, count), "some": (min(1, count), count), "a few": (min(2, count), count),
        "most": (count // 2 + 1, count), "half": (count // 2, -(-count // 2)),
    }  # fmt: skip
    if said in known:
        return known[said]
    if match := _RANGE.fullmatch(said):
        return int(match[1]), int(match[2])
    if match := _LIMIT.fullmatch(said):
        n = int(match[2])
        if match[1] in (">=", "at least"):
            return n, count
        if match[1] in (">", "over", "more than"):
            return n + 1, count
        return 0, n if match[1] in ("<=", "at most", "up to") else n - 1
    return None
