"""One row of a table of results, its rules, and what stands against it."""

from dataclasses import dataclass

from racecard.core.model import Role

OUTCOMES = ("struck", "alive", "lost", "removed")
COLUMNS = (
    "treatment", "role", "block", "run", "container", "unit", "tray", "row", "col", "count",
    "outcome", "day_from", "day_to", "day", "cause", "score", "roots", "longest_mm", "baseline",
    "looks", "end_day", "gap_points",
)  # fmt: skip
"""Every column a table may have; `looks` (look days of this row's plants, separated by blanks),
`end_day` (last day of the plan) and `gap_points` (smallest smallest difference that matters) let a table taken out of Racecard say all that was seen."""
FACTOR = "factor_"
"""A column whose name begins so tells a level of a factor, or a dose: factor_coat, factor_strength."""
MOST_FACTORS = 12
MOST_DAYS = 5000
MOST_COUNT = 100_000


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
    """`count` propagules of one unit with one outcome, in days from day 0."""

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
    day_from: int | None = None
    day_to: int | None = None
    day: int | None = None
    cause: str = ""
    score: float | None = None
    looks: tuple[int, ...] = ()
    end_day: int | None = None
    gap_points: float | None = None
    factors: tuple[tuple[str, str], ...] = ()
    went_back: bool = False


@dataclass(frozen=True, slots=True)
class Sheet:
    """A table as it was understood: good rows, bad cells, and columns that were left aside.

    Rows that say the same are one row with their counts added; `read` is how many good rows the
    file had.
    """

    rows: tuple[ResultRow, ...]
    bad: tuple[BadCell, ...]
    columns: tuple[str, ...]
    left_aside: tuple[str, ...]
    read: int


class RowReader:
    """Reads cells of one row by name, collecting what is wrong instead of stopping at it."""

    def __init__(self, number: int, cells: dict[str, str]) -> None:
        self.number = number
        self.cells = cells
        self.bad: list[BadCell] = []

    def read(self) -> ResultRow | None:
        """The row, or None with the reasons in `bad`."""
        row = ResultRow(
            self.number,
            self._required("treatment"),
            self._outcome(),
            self._whole("count", 1, MOST_COUNT) or 1,
            self._role(),
            self._text("block"), self._text("run"), self._text("container"), self._text("unit"),
            self._text("tray"), self._place(),
            self._day("day_from"), self._day("day_to"), self._day("day"),
            self._text("cause"), self._score(), self._looks(), self._day("end_day"),
            self._number("gap_points", 1, 100), self._factors(),
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
            return "struck" if self.cells.get("day_to") else "alive"
        if value not in OUTCOMES:
            self._fault("outcome", f"must be one of {', '.join(OUTCOMES)}")
            return "alive"
        return value

    def _role(self) -> Role | None:
        value = self.cells.get("role", "").casefold()
        if not value:
            return None
        if value not in set(Role):
            self._fault("role", f"must be one of {', '.join(Role)}")
            return None
        return Role(value)

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
        value = self.cells.get(column, "")
        if _looks_like_a_date(value):
            self._fault(column, "must be a number of days from day 0, not a date")
            return None
        number = self._number(column, low, high)
        if number is not None and number != int(number):
            self._fault(column, "must be a whole number")
            return None
        return None if number is None else int(number)

    def _day(self, column: str) -> int | None:
        return self._whole(column, 0, MOST_DAYS)

    def _score(self) -> float | None:
        return self._number("score", 0, 5)

    def _place(self) -> tuple[int, int] | None:
        row, col = self._whole("row", 0, 10_000), self._whole("col", 0, 10_000)
        return None if row is None or col is None else (row, col)

    def _looks(self) -> tuple[int, ...]:
        parts = self.cells.get("looks", "").split()
        if not all(p.isdecimal() and int(p) <= MOST_DAYS for p in parts):
            self._fault("looks", "must be whole days separated by blanks")
            return ()
        return tuple(sorted({int(p) for p in parts}))

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


def is_column(name: str) -> bool:
    """Whether a table's column of this name is read."""
    return name in COLUMNS or name.startswith(FACTOR)


def _looks_like_a_date(value: str) -> bool:
    parts = value.replace("/", "-").replace(".", "-").split("-")
    return len(parts) >= 3 and all(p[:2].strip().isdecimal() for p in parts[:3])
