"""Returns of many gardens, from any form: which columns mean what, what became of each row, and what they come to.

Each garden is one block with one of each treatment. A form has a row for each garden (wide: a column of
results for each treatment) or a row for each garden and treatment (long). No row is dropped in silence.
"""

import csv
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from enum import StrEnum

from racecard.core.exchange.judged import JudgedTable, judge_sheet
from racecard.core.model import Kind
from racecard.core.model.spelling import spelling
from racecard.core.model.table_dates import DateOrder, order_of, read_date
from racecard.core.model.table_rows import MOST_COUNT, ResultRow, Sheet
from racecard.core.model.turnout import Turnout
from racecard.errors import InvalidInput

FIELDS = ("garden", "treatment", "start", "date", "count", "struck", "status")
"""What a column of a form can be. In a wide form `struck` and `count` name their treatment: struck:Warm soak."""
_GUESSES = {
    "garden": ("garden", "household", "site", "participant", "grower", "id", "name"),
    "treatment": ("treatment", "arm", "group"),
    "start": ("start", "started", "started on", "date started", "sown on", "stuck on"),
    "date": ("date", "looked on", "date of look", "counted on"),
    "count": ("count", "sown", "seeds", "cuttings", "how many", "of"),
    "struck": ("struck", "came up", "rooted", "germinated", "emerged"),
    "status": ("status", "remarks", "withdrawn"),
}
_MOST_TOLD = 20
_COLUMNS = (
    "treatment", "block", "container", "outcome", "count", "day_from", "day_to", "day", "end_day",
    "kind",
)  # fmt: skip
"""What the returns are kept as: columns of a table of results."""
_LEFT = re.compile(r"\b(?:withdr[ae]w\w*|dropped out|left the trial|opted out)\b", re.I)


TEMPLATE = [
    ["Garden", "Started on", "Looked on", "How many in each", "Treated", "Untreated", "Remarks"],
    ["Garden 1", "2026-05-03", "2026-05-24", "10", "7", "4", ""],
]
"""An empty form with a row to go by; invented numbers."""
TEMPLATE_MEANINGS = (
    "a number or name of the garden, each once", "the day it was set, as 2026-05-03",
    "the day it was counted", "plants or seeds in each pot", "how many rooted or came up with the treatment; "
    "rename it, and add a column for each further treatment",
    "how many without it", "anything that went otherwise; “withdrawn” counts the garden as left",
)  # fmt: skip


class Fate(StrEnum):
    """What became of a row."""

    TAKEN = "taken"
    HALF = "one treatment only"
    SILENT = "no result sent"
    WITHDRAWN = "withdrawn"
    TWICE = "sent twice"
    REFUSED = "refused"


@dataclass(frozen=True, slots=True)
class RowFate:
    """One row of the form as numbered there (the header is 1), and why it was not taken as it stands."""

    row: int
    garden: str
    fate: Fate
    why: str = ""


@dataclass(frozen=True, slots=True)
class Returns:
    """What a form holds. `mapped`: the column of each field; `sheet`: the rows that are judged."""

    mapped: Mapping[str, str]
    rows: tuple[RowFate, ...]
    sheet: Sheet

    def gardens(self, *fates: Fate) -> int:
        """Gardens of which a row came to one of these fates."""
        return len({r.garden for r in self.rows if r.fate in fates})

    @property
    def enrolled(self) -> int:
        """Every garden the form names."""
        return len({r.garden for r in self.rows if r.garden})

    @property
    def compared(self) -> int:
        """Gardens with a result of every treatment."""
        arms = {r.treatment for r in self.sheet.rows}
        has: dict[str, set[str]] = {}
        for r in self.sheet.rows:
            has.setdefault(r.block, set()).add(r.treatment)
        return sum(mine == arms for mine in has.values())

    @property
    def silent(self) -> int:
        """Gardens of which no row holds a result."""
        heard = {r.garden for r in self.rows if r.fate not in (Fate.SILENT, Fate.WITHDRAWN)}
        return len({r.garden for r in self.rows if r.fate is Fate.SILENT} - heard)


def read_map(said: Sequence[str]) -> dict[str, str]:
    """Which column is what, from `treatment=Pot,start="Sown on",struck:Dry=Dry`.

    Args:
        said: each as field=heading; a heading with blanks in quotes.

    Raises:
        InvalidInput: a part is no pair, or names no field.
    """
    out: dict[str, str] = {}
    for line in said:
        for part in next(csv.reader([line], quotechar='"', skipinitialspace=True)):
            key, equals, column = part.partition("=")
            name, column = key.strip(), column.strip().strip('"')
            if not equals or not column or name.split(":")[0].casefold() not in FIELDS:
                raise InvalidInput(
                    f"“{part[:40]}” is not a pair of a field and its column: write one of {', '.join(FIELDS)}, =, "
                    "and the heading of the column."
                )
            kind, colon, arm = name.partition(":")
            out[f"{kind.casefold()}{colon}{arm.strip()}"] = column
    return out


def guess_columns(heads: Sequence[str], mapped: Mapping[str, str]) -> dict[str, str]:
    """The column of each field: what was said, and for the rest what the headings say by themselves.

    Args:
        heads: headings of the form.
        mapped: heading by field, as it was said.
    """
    out = dict(mapped)
    by_name = {spelling(h): h for h in reversed(heads)}
    for name, likely in _GUESSES.items():
        taken = {spelling(column) for column in out.values()}
        found = next((g for g in likely if g in by_name and g not in taken), None)
        if name not in out and found is not None:
            out[name] = by_name[found]
    return out


def read_returns(
    lines: Sequence[Sequence[str]],
    mapped: Mapping[str, str],
    *,
    today: date | None = None,
    dates: DateOrder | None = None,
    length_days: int | None = None,
    enrolled: int | None = None,
    kind: Kind | None = None,
) -> Returns:
    """Read a form.

    Args:
        lines: its cells, row by row, the heading first.
        mapped: column of each field; what is not named is guessed from the headings. A count may be a number.
        today: results dated later are refused.
        dates: what comes first in dates such as 03/04/2026, where it cannot be told.
        length_days: last day of each garden, from its own start.
        enrolled: gardens that joined, where the form does not name them all.
        kind: what was set, where it is known: cuttings or seeds.

    Raises:
        InvalidInput: no rows, a column that is not there, no results, or fewer that joined than are named;
            OrderAsked: dates that could be read two ways.
    """
    filled = [(i, [c.strip() for c in line]) for i, line in enumerate(lines, 1) if any(line)]
    if len(filled) < 2:
        raise InvalidInput("The form has no rows below its headings.")
    heads = filled[0][1]
    form = _Form(heads, guess_columns(heads, mapped), today, length_days)
    form.find_columns()
    cells = [form.cell(line, f) for _, line in filled[1:] for f in ("start", "date")]
    form.order = dates or order_of(cells)
    for number, line in filled[1:]:
        form.read(number, line)
    rows = tuple(replace(r, kind=kind) for r in form.results)
    used = tuple(c for c in _COLUMNS if any(getattr(r, c) not in (None, "") for r in rows))
    sheet = Sheet(rows, (), used, (), len(rows))
    found = Returns(form.mapped, tuple(form.fates), sheet)
    return replace(found, sheet=replace(sheet, turnout=_turnout(found, form.begun, enrolled)))


def _turnout(found: Returns, begun: set[str], enrolled: int | None) -> Turnout:
    """Gardens counted; those that joined and are not named by the form sent nothing."""
    if enrolled is not None and enrolled < found.enrolled:
        raise InvalidInput(
            f"{enrolled} gardens joined, but the form names {found.enrolled}: correct the number."
        )
    unnamed = 0 if enrolled is None else enrolled - found.enrolled
    return Turnout(
        found.enrolled + unnamed, len(begun), found.compared, found.silent + unnamed,
        found.gardens(Fate.WITHDRAWN),
    )  # fmt: skip


def judge_returns(returns: Returns, control: str | None = None) -> JudgedTable:
    """What the returns come to, each garden a block; a garden with one treatment is counted and left out.

    Args:
        returns: what the gardens sent.
        control: name of the untreated control; None where the table is to tell.
    """
    if not returns.sheet.rows:
        told = [f"Row {r.row}: {r.fate.value}. {r.why}".strip() for r in returns.rows[:_MOST_TOLD]]
        raise InvalidInput("\n".join(["No row holds a result that can be taken.", *told]))
    return judge_sheet(returns.sheet, control=control)


def table_lines(sheet: Sheet) -> list[list[str]]:
    """The results as a table that can be kept and read in again, the heading first."""
    lines = [list(_COLUMNS)]
    for r in sheet.rows:
        values = (getattr(r, name) for name in _COLUMNS)
        lines.append(["" if v is None else str(v) for v in values])
    return lines


@dataclass(slots=True)
class _Form:
    heads: list[str]
    mapped: dict[str, str]
    today: date | None
    length_days: int | None
    order: DateOrder | None = None
    at: dict[str, int] = field(default_factory=dict)
    arms: tuple[str, ...] = ()
    fates: list[RowFate] = field(default_factory=list)
    results: list[ResultRow] = field(default_factory=list)
    seen: dict[tuple[str, str], tuple[int, tuple[str, ...]]] = field(default_factory=dict)
    begun: set[str] = field(default_factory=set)
    """Gardens that gave the day of their start, or a result."""
    spelt: dict[str, str] = field(default_factory=dict)
    """Gardens and treatments as they were spelt first: a form is typed by many hands."""

    def find_columns(self) -> None:
        """Where the column of each field stands."""
        names = [spelling(h) for h in self.heads]
        for name, column in self.mapped.items():
            if spelling(column) in names:
                self.at[name] = names.index(spelling(column))
            elif not (name.startswith("count") and column.isdecimal()):
                shown = ", ".join(h for h in self.heads if h)[:200]
                raise InvalidInput(f"No column is called “{column}”: the form has {shown}.")
        self.arms = tuple(n.partition(":")[2] for n in self.mapped if n.startswith("struck:"))
        if not self.arms and not {"treatment", "struck"} <= set(self.at):
            raise InvalidInput(
                "Say which columns hold the results: one for each treatment, or one that names the treatment "
                "and one for its result."
            )
        if not self.arms and "garden" not in self.at:
            raise InvalidInput("Say which column names the garden: its rows belong together.")

    def cell(self, line: Sequence[str], name: str) -> str:
        """What a row says of a field; a count may be a number said for all."""
        if name in self.at:
            return line[self.at[name]] if self.at[name] < len(line) else ""
        said = self.mapped.get(name, "")
        return said if said.isdecimal() else ""

    def read(self, number: int, line: Sequence[str]) -> None:
        """One row: its results, or why there are none."""
        garden = self._first_spelt(self.cell(line, "garden")) or (
            f"row {number}" if self.arms else ""
        )

        def told(fate: Fate, why: str = "") -> None:
            self.fates.append(RowFate(number, garden, fate, why))

        if garden and self.cell(line, "start"):
            self.begun.add(garden)
        if not garden:
            told(Fate.REFUSED, "It names no garden.")
        elif _LEFT.search(self.cell(line, "status")):
            told(Fate.WITHDRAWN)
        else:
            try:
                told(*self._take(number, garden, line))
            except InvalidInput as exc:
                told(Fate.REFUSED, exc.detail)

    def _take(self, number: int, garden: str, line: Sequence[str]) -> tuple[Fate, str]:
        arms = self.arms or (self._first_spelt(self.cell(line, "treatment")),)
        if not all(arms):
            raise InvalidInput("It names no treatment.")
        said = {arm: self._struck_said(line, arm) for arm in arms}
        if not any(said.values()):
            return Fate.SILENT, ""
        key = (garden, "" if self.arms else arms[0])
        content = tuple(spelling(c) for c in line)
        if key in self.seen:
            first, before = self.seen[key]
            if before == content:
                return Fate.TWICE, f"The same as row {first}."
            raise InvalidInput(f"It says otherwise than row {first}, which is kept: correct one of them.")  # fmt: skip
        day = self._day(line)
        rows = [row for arm in arms if said[arm] for row in self._plants(number, garden, line, arm, said[arm], day)]  # fmt: skip
        self.seen[key] = (number, content)
        self.begun.add(garden)
        self.results += rows
        if self.arms and not all(said.values()):
            return Fate.HALF, "Counted, but it cannot be compared."
        return Fate.TAKEN, ""

    def _first_spelt(self, name: str) -> str:
        return self.spelt.setdefault(spelling(name), name)

    def _struck_said(self, line: Sequence[str], arm: str) -> str:
        return self.cell(line, f"struck:{arm}" if self.arms else "struck")

    def _plants(
        self, number: int, garden: str, line: Sequence[str], arm: str, said: str, day: int | None
    ) -> Iterator[ResultRow]:
        of = self.cell(line, f"count:{arm}") or self.cell(line, "count") or "1"
        count = _whole(of, "How many were set")
        said = _YES.get(said.casefold(), said) if count == 1 else said
        struck = _whole(said, f"The result of {arm}")
        if not 1 <= count <= MOST_COUNT or struck > count:
            raise InvalidInput(f"{struck} of {count} cannot be.")
        container = f"{garden} {arm}" if count > 1 else ""
        for outcome, n in (("struck", struck), ("alive", count - struck)):
            if n:
                yield ResultRow(
                    number, arm, outcome, n, block=garden, container=container,
                    day_from=0 if day is not None and outcome == "struck" else None,
                    day_to=day if outcome == "struck" else None, day=day, end_day=self.length_days,
                )  # fmt: skip

    def _day(self, line: Sequence[str]) -> int | None:
        """Days from the garden's own start to its look; None where the form does not say both."""
        start, seen = (self._date(line, name) for name in ("start", "date"))
        if seen is not None and self.today is not None and seen > self.today:
            raise InvalidInput(f"{seen:%-d %B %Y} lies in the future.")
        if start is None or seen is None:
            return None
        days = (seen - start).days
        if days < 1:
            raise InvalidInput(f"It was looked at on {seen:%-d %B %Y}, and begun on {start:%-d %B %Y}.")  # fmt: skip
        if self.length_days is not None and days < self.length_days:
            raise InvalidInput(f"It was looked at on day {days}; the last day is {self.length_days}.")  # fmt: skip
        return self.length_days if self.length_days is not None else days

    def _date(self, line: Sequence[str], name: str) -> date | None:
        said = self.cell(line, name)
        if not said:
            return None
        read = read_date(said, self.order)
        if read is None:
            raise InvalidInput(f"“{said[:30]}” is not a date: write it as 2026-05-03.")
        return read[0].date()


_YES = {"yes": "1", "y": "1", "true": "1", "no": "0", "n": "0", "false": "0"}
"""How a form says of a single plant that it came up, or did not."""


def _whole(said: str, what: str) -> int:
    number = said.replace(",", ".").removesuffix(".0")
    if not number.isdecimal():
        raise InvalidInput(f"{what} is “{said[:30]}”: give a whole number.")
    return int(number)
