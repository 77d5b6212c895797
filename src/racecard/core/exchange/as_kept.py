"""Tables as people keep them, put into the columns that are judged, or asked about.

One law: a number that is judged stands in the table as it was typed; what is left out is told; what could be
read in two ways is asked.
"""

import re
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from difflib import SequenceMatcher

from racecard.core.exchange.headings import ZERO_DAY, Column, role_of
from racecard.core.model.spelling import spelling
from racecard.core.model.table_dates import DateOrder, is_date, order_of, read_date
from racecard.core.model.table_rows import COLUMNS, FACTOR, state_of
from racecard.errors import InvalidInput

Row = tuple[int, list[str]]
"""A row's number in the file and its cells, stripped."""

_RATIO = re.compile(r"(\d{1,9})\s*(?:/|of|out of|from)\s*(\d{1,9})")
_NOTED = re.compile(r"(\d{1,9})\s*[(\[](.{1,200})[)\]]")
_THOUSANDS = re.compile(r"\d{1,3}(?:[ ,'\u202f\u00a0]\d{3})+")
_PERCENT_CELL = re.compile(r"(\d+(?:[.,]\d+)?)\s*%")
_TURNED = re.compile(r"\d{1,2}[- ][A-Za-z]{3,9}(?:[- ]\d{2,4})?|[A-Za-z]{3,9}[- ]\d{1,2}")
_SUM = re.compile(
    r"(?:(?!grand\b)(.+?)[ ,:-]+)?(?:grand )?(total|totals|subtotal|sum|all|overall)\b", re.I
)
_MEAN = re.compile(r"(?:.+[ ,:-])?(?:mean|average|avg|median)", re.I)
_PIECE = re.compile(
    r"(?P<name>.*?[^\W\d_].*?)\s*[:\-–—=]?\s*(?P<k>\d{1,9})\s*(?:rooted |struck |came up |up )?(?:/|of|out of|from)\s*(?P<n>\d{1,9})"
    r"(?:\s+(?:rooted|struck|germinated|took|sprouted|came up|up))?\.?", re.I,
)  # fmt: skip
_MOST_TITLES = 20
_MOST_NAME = 120
_MOST_DIGITS = 9


@dataclass(frozen=True, slots=True)
class Kept:
    """A table in the columns that are judged: rows as numbered in the file, and what was made of it, in sentences."""

    names: tuple[str, ...]
    rows: tuple[tuple[int, dict[str, str]], ...]
    told: tuple[str, ...]


def listed(text: str) -> list[Row] | None:
    """Counts typed as in a message, "control 4 of 12, honey 9 of 12", as rows; None where any piece is something else."""
    for parts in (r"[,;\n]|\bvs?\b\.?|\bversus\b", r"[,;\n]|\bvs?\b\.?|\bversus\b|\band\b"):
        pieces = [p.strip(" .\t\r•*") for p in re.split(parts, text.strip(), flags=re.I)]
        found = [_piece(p) for p in pieces if p]
        if found and all(m and not _RATIO.search(m["name"]) for m in found):
            rows = [[m["name"].strip(" :-–—="), f"{m['k']}/{m['n']}"] for m in found if m]
            return [(1, ["treatment", "struck"]), *((i, row) for i, row in enumerate(rows, 1))]
    return None


def as_kept(grid: Sequence[Row], dates: DateOrder | None = None) -> Kept:
    """Put a table into the columns that are judged.

    Args:
        grid: its rows, blank ones left out.
        dates: what comes first in dates of figures, where it was said.

    Raises:
        InvalidInput: it is no table of results, says something that cannot be, or has to be asked about first.
        OrderAsked: dates at its head could be read two ways.
    """
    return _Reader(grid, dates).read()


def is_results(grid: Sequence[Row]) -> bool:
    """Whether a sheet seems to hold results at all, so that another is not taken for them."""
    return any("treatment" in _roles(cells) for _, cells in grid[:_MOST_TITLES]) or bool(
        _turned(grid)
    )


def _roles(cells: Sequence[str]) -> list[str]:
    return [role_of(c).role if c else "" for c in cells]


def _turned(grid: Sequence[Row]) -> list[Row] | None:
    """The table with rows and columns changed over, where treatments stand beside each other."""
    firsts = [role_of(cells[0]).role if cells[0] else "" for _, cells in grid[1:]]
    head = [c for c in grid[0][1][1:] if c]
    if "struck" not in firsts or len(head) < 2 or any(_roles(head)) or len(firsts) > _MOST_TITLES:
        return None
    wide = max(len(cells) for _, cells in grid)
    padded = [[*cells, *[""] * (wide - len(cells))] for _, cells in grid]
    heading = ["treatment", *(row[0] for row in padded[1:])]
    return [
        (1, heading),
        *((i, [row[i - 1] for row in padded]) for i in range(2, wide + 1) if padded[0][i - 1]),
    ]


@dataclass(slots=True)
class _Reader:
    grid: Sequence[Row]
    dates: DateOrder | None
    told: list[str] = field(default_factory=list)

    def read(self) -> Kept:
        grid = self._found()
        columns = self._columns(grid[0])
        body = self._body(grid[0], grid[1:], columns)
        self._check_twice(body, columns)
        self._check_crosses(body, columns)
        if any(c.role == "container" for c in columns):
            self.told.append("Plants of one pot share it, so each pot is one unit.")
        rows = [r for line in body for r in self._rows(line, columns, body)]
        if not rows:
            raise InvalidInput("The table has a header and no rows of results.")
        names = tuple(dict.fromkeys(n for _, cells in rows for n in cells))
        aside = tuple(c.name for c in columns if c.role in ("", "aside", "date") and c.name)
        return Kept(
            (*names, *(a.casefold().replace(" ", "_") for a in aside)),
            tuple(rows),
            tuple(dict.fromkeys(self.told)),
        )

    def _found(self) -> list[Row]:
        """The table from its heading on, in one row of heading and one row for each line."""
        grid = [
            row for row in self.grid if not all(re.fullmatch(r":?-{2,}:?", c) for c in row[1] if c)
        ]
        at = next(
            (
                k
                for k, (_, c) in enumerate(grid[:_MOST_TITLES])
                if "treatment" in _roles(c) and sum(map(bool, c)) > 1
            ),
            None,
        )
        if at is not None:
            if at:
                above = "; ".join(
                    " ".join(c for c in dict.fromkeys(cells) if c) for _, cells in grid[:at]
                )
                self.told.append(f"Left out above the heading: {above[:200]}.")
            return self._one_heading(grid[at:])
        if turned := _turned(grid):
            return turned
        return self._side_by_side(grid) or self._without_heading(grid)

    def _one_heading(self, grid: list[Row]) -> list[Row]:
        """Two rows of heading, the upper one naming trays or days, made one: a row for each of what it names."""
        if len(grid) < 3:
            return grid
        upper, lower = grid[0][1], grid[1][1]
        roles = _roles(lower)
        first = _roles(upper).index("treatment")
        if roles.count("struck") < 2 or (first < len(lower) and lower[first]):
            return grid
        groups: dict[str, list[int]] = defaultdict(list)
        label = ""
        for i, role in enumerate(roles):
            label = upper[i] if i < len(upper) and upper[i] else label
            if role:
                groups[label].append(i)
        heads = [[lower[i] for i in at] for at in groups.values()]
        if any(h != heads[0] for h in heads):
            raise InvalidInput(
                "The two rows of heading do not fit each other: give each tray the same columns, or rows of its own."
            )
        self.told.append(f"{', '.join(groups)} stand beside each other; each was read as a block.")
        out: list[Row] = [(grid[0][0], ["treatment", "block", *heads[0]])]
        out += [
            (n, [cells[first], label, *(cells[i] if i < len(cells) else "" for i in at)])
            for n, cells in grid[2:]
            for label, at in groups.items()
        ]
        return out

    def _side_by_side(self, grid: list[Row]) -> list[Row] | None:
        """Treatments as columns, each row a pair, a household or a tray: one row for each treatment of each."""
        head = grid[0][1]
        roles = _roles(head)
        has_block = roles[0] == "block" or not head[0]
        named = [i for i, c in enumerate(head) if c and not (i == 0 and has_block)]
        cells = [c for _, row in grid[1:] for i, c in enumerate(row) if i in named and c]
        is_told = cells and all(state_of(c) or _RATIO.fullmatch(c) for c in cells)
        if len(named) < 2 or any(roles[i] for i in named) or not is_told:
            return None
        out: list[Row] = [(grid[0][0], ["treatment", "block", "struck"])]
        for number, row in grid[1:]:
            block = row[0] if has_block else ""
            out += [(number, [head[i], block, row[i] if i < len(row) else ""]) for i in named]
        self.told.append(
            f"Each row was read as one {head[0].casefold() or 'block'}, each column as a treatment."
            if has_block
            else "Each column was read as a treatment."
        )
        return out

    def _without_heading(self, grid: list[Row]) -> list[Row]:
        lines = [[c for c in cells if c] for _, cells in grid]
        named = all(line and not _is_count(line[0][0]) for line in lines)
        if named and all(len(x) == 2 and _RATIO.fullmatch(x[1]) for x in lines):
            return [
                (0, ["treatment", "struck"]),
                *((n, line) for (n, _), line in zip(grid, lines, strict=True)),
            ]
        if named and all(len(x) == 3 and _is_count(x[1]) and _is_count(x[2]) for x in lines):
            pairs = [(int(x[1]), int(x[2])) for x in lines]
            for heads, fits in (
                (["treatment", "count", "struck"], [a >= b for a, b in pairs]),
                (["treatment", "struck", "count"], [a <= b for a, b in pairs]),
            ):
                if all(fits) and any(a != b for a, b in pairs):
                    self.told.append(
                        f"There is no heading; the columns were read as {', '.join(heads)}."
                    )
                    return [
                        (0, heads),
                        *((n, line) for (n, _), line in zip(grid, lines, strict=True)),
                    ]
        cells = [c for line in lines for c in line]
        unheard = [c for c in cells if not _piece(c)]
        if 0 < len(unheard) < len(cells):
            raise InvalidInput(
                f"“{unheard[0][:80]}” is not understood: write how many of how many, such as honey 9 of 12."
            )
        found = ", ".join(c for c in grid[0][1] if c)[:120] or "nothing"
        raise InvalidInput(
            f"There is no column called treatment; the first row holds {found}. Give a heading: treatment, count, struck."
        )

    def _columns(self, heading: Row) -> list[Column]:
        columns = []
        for i, name in enumerate(heading[1]):
            c = role_of(name) if name else Column(i, "", "")
            columns.append(Column(i, c.name, c.role, c.percent, c.day, c.is_new))
        columns = [self._dated(c) for c in columns]
        for role in ("treatment", "count", "not", "lost", "state"):
            same = [c.name for c in columns if c.role == role]
            if len(same) > 1:
                raise InvalidInput(
                    f"Two columns may be the {role}: {' and '.join(same[:2])}. Leave one out."
                )
        plain = [c for c in columns if c.role == "struck" and not c.percent]
        if len(plain) > 1:
            raise InvalidInput(
                f"Two columns may be how many struck: {plain[0].name} and {plain[1].name}. Leave one out."
            )
        has = {c.role for c in columns}
        ends = [
            c.name
            for c in columns
            if c.role in ("state", "outcome", "wide") or (c.role == "struck" and not c.percent)
        ]
        if len({"state", "outcome"} & has) + ("wide" in has) + bool(plain) > 1:
            raise InvalidInput(
                f"Several columns say what became of the plants: {', '.join(ends[:3])}. Leave one."
            )
        if not has & {"struck", "state", "wide", "outcome"}:
            others = ", ".join(
                c.name
                for c in columns
                if c.role not in ("treatment", "count", "block", "tray", "unit", "container")
                and c.name
            )
            raise InvalidInput(
                "No column says what became of the plants: add outcome (struck, alive, lost, removed), or count and struck."
                + (
                    f" The columns {others[:120]} do not say how many struck (rooted, came up)."
                    if others
                    else ""
                )
            )
        return columns

    def _dated(self, c: Column) -> Column:
        """A column of dates is no count: it is set aside."""
        cells = [row[c.index] for _, row in self.grid[1:] if c.index < len(row) and row[c.index]]
        is_old = (
            c.role in ("count", "struck", "")
            and cells
            and all(_is_sheet_date(x) for x in cells)
            and len(cells) > 1
        )
        asks = c.role == "count" and spelling(c.name) in ZERO_DAY and any(is_date(x) for x in cells)
        return (
            Column(c.index, c.name, "date")
            if asks
            or (
                is_old and spelling(c.name) in (*ZERO_DAY, "lifted", "checked", "counted", "looked")
            )
            else c
        )

    def _body(self, heading: Row, rows: Sequence[Row], columns: Sequence[Column]) -> list[Row]:
        """The rows that tell of plants: headings said again, totals and means are left out and told."""
        by = {c.role: c.index for c in reversed(columns)}
        out: list[Row] = []
        for number, cells in rows:
            row = [*cells, *[""] * (len(heading[1]) - len(cells))]
            if [c.casefold() for c in row] == [c.casefold() for c in heading[1]]:
                self.told.append(f"The heading stands again in row {number}; it was left out.")
                continue
            name = row[by["treatment"]]
            block = row[by["block"]] if "block" in by else ""
            said = next(
                (
                    x
                    for x in (name, block)
                    if x and len(x) <= _MOST_NAME and (_SUM.fullmatch(x) or _MEAN.fullmatch(x))
                ),
                "",
            )
            if not said:
                out.append((number, row))
            elif _MEAN.fullmatch(said):
                self.told.append(
                    f"Row {number} (“{said}”) is an average, no treatment; it was left out."
                )
            else:
                self._check_sum(number, row, name, said, out, columns)
        if not out:
            raise InvalidInput("The table has a header and no rows of results.")
        return out

    def _check_sum(
        self,
        number: int,
        row: Sequence[str],
        name: str,
        said: str,
        above: Sequence[Row],
        columns: Sequence[Column],
    ) -> None:
        by = {c.role: c.index for c in reversed(columns) if not c.percent}
        match = _SUM.fullmatch(name[:_MOST_NAME])
        whose = match[1] if match else name
        mine = [r for _, r in above if not whose or spelling(r[by["treatment"]]) == spelling(whose)]
        for index in {by[role] for role in ("count", "struck", "lost", "state") if role in by}:
            total, parts = _parts_of(row[index]), [_parts_of(r[index]) for r in mine]
            if not total or any(len(p) != len(total) for p in parts):
                continue
            sums = [sum(x) for x in zip(*parts, strict=True)]
            if sums and sums != total:
                raise InvalidInput(
                    f"Row {number} (“{said}”) says {row[index]} in {columns[index].name}, but the rows it sums give "
                    f"{' of '.join(map(str, sums))}: correct one of them."
                )
        self.told.append(
            f"Row {number} (“{said}”) is a total of rows above, no treatment; it was left out."
        )

    def _check_twice(self, body: Sequence[Row], columns: Sequence[Column]) -> None:
        """The same count row twice is a tray pasted twice, or two trays without their names."""
        if not {"count", "wide"} & {c.role for c in columns} and not any(
            _RATIO.fullmatch(x) for _, r in body for x in r
        ):
            return
        seen: dict[tuple[str, ...], int] = {}
        for number, row in body:
            before = seen.setdefault(tuple(spelling(c) for c in row), number)
            if before != number and not any(c.role == "unit" for c in columns):
                raise InvalidInput(
                    f"Row {number} says the same as row {before}: is it the same tray twice? Leave one out, or give each a name in a column tray."
                )

    def _check_crosses(self, body: Sequence[Row], columns: Sequence[Column]) -> None:
        """An x is a tick beside “no”, and a no beside a tick; beside a blank nobody knows."""
        struck = next((c for c in columns if c.role == "struck"), None)
        cells = {row[struck.index].casefold() for _, row in body} if struck else set()
        named = next(c.index for c in columns if c.role == "treatment")
        one_each = len({spelling(row[named]) for _, row in body}) == len(body)
        if (
            struck
            and cells <= {"0", "1"}
            and not one_each
            and not {"count", "not"} & {c.role for c in columns}
        ):
            for _, row in body:
                row[struck.index] = "yes" if row[struck.index] == "1" else "no"
            self.told.append("Each row was read as one plant: 1 struck, 0 did not.")
        if struck is None or "x" not in cells:
            return
        if "" in cells or any(state_of(c) == "struck" for c in cells):
            which = "a blank not rooted, or not looked at" if "" in cells else "an x rooted, or not"
            raise InvalidInput(
                f"{struck.name}: is {which}? Write yes or no in every row; an empty cell says nothing."
            )
        for _, row in body:
            if row[struck.index].casefold() == "x":
                row[struck.index] = "yes"
        self.told.append("x was read as yes.")

    def _rows(
        self, line: Row, columns: Sequence[Column], body: Sequence[Row]
    ) -> list[tuple[int, dict[str, str]]]:
        number, row = line
        base = {
            c.role: row[c.index] for c in columns if c.role in _PASSED or c.role.startswith(FACTOR)
        }
        if "block" not in base and "tray" in base and self._shared_trays(columns, body):
            base["block"] = base.pop("tray")
        if any(c.role == "wide" for c in columns):
            return self._wide(number, row, base, columns)
        told = {c.role: c for c in columns}
        state = told.get("state") or told.get("outcome")
        if state:
            return [(number, self._state(number, row[state.index], state, base, told, row))]
        return self._counted(number, row, base, columns)

    def _shared_trays(self, columns: Sequence[Column], body: Sequence[Row]) -> bool:
        tray, name = (
            next(c.index for c in columns if c.role == role) for role in ("tray", "treatment")
        )
        held: dict[str, set[str]] = defaultdict(set)
        for _, row in body:
            held[row[tray]].add(spelling(row[name]))
        return len(held) > 1 and all(len(names) > 1 for names in held.values())

    def _state(
        self,
        number: int,
        cell: str,
        column: Column,
        base: dict[str, str],
        told: Mapping[str, Column],
        row: Sequence[str],
    ) -> dict[str, str]:
        if not cell:
            raise InvalidInput(
                f"Row {number}, {column.name}: is blank. Write what became of it: struck, alive, lost or removed."
            )
        if ratio := _RATIO.fullmatch(cell.casefold()):
            return base | {"count": ratio[2], "struck": ratio[1]}
        out = base | {"outcome": state_of(cell) or cell}
        if "count" in told:
            out["count"] = _needed(number, row[told["count"].index], told["count"])
        return out

    def _counted(
        self, number: int, row: Sequence[str], base: dict[str, str], columns: Sequence[Column]
    ) -> list[tuple[int, dict[str, str]]]:
        told = {c.role: c for c in reversed(columns) if not c.percent}
        share = next((c for c in columns if c.percent and c.role == "struck"), None)
        struck = told.get("struck") or share
        assert struck is not None
        cell = row[struck.index]
        if not cell and (base.get("day_to") or base.get("date_to")):
            return [
                (number, base | {"count": row[told["count"].index] if "count" in told else "1"})
            ]
        if not cell:
            raise InvalidInput(
                f"Row {number}, {struck.name}: is blank. Write 0 if none struck, and ? if nobody looked."
            )
        gone = {
            role: _whole_number(number, row[c.index], c)
            for role in ("lost", "removed")
            if (c := told.get(role))
        }
        out_of = sum(gone.values())
        count = _clean(row[told["count"].index]) if "count" in told else ""
        if "count" in told and not count:
            raise InvalidInput(
                f"Row {number}, {told['count'].name}: is blank. Write how many plants there were."
            )
        state = state_of(cell)
        if state and not count:
            return [(number, base | {"outcome": state})]
        cell = self._number(number, cell, struck)
        if ratio := _RATIO.fullmatch(cell.casefold()):
            if count and ratio[2] != count:
                raise InvalidInput(
                    f"Row {number}: {cell} stands beside a count of {count}. How many were there? Correct one."
                )
            cell, count = ratio[1], ratio[2]
        elif "not" in told:
            rest = _needed(number, row[told["not"].index], told["not"])
            if not (_is_count(cell) and _is_count(rest)):
                raise InvalidInput(
                    f"Row {number}: {struck.name} and {told['not'].name} must be whole numbers (got {cell!r} and {rest!r})."
                )
            every = str(int(cell) + int(rest) + out_of)
            if count and count != every:
                raise InvalidInput(
                    f"Row {number}: {struck.name} and {told['not'].name} make {every}, beside a count of {count}. Correct one."
                )
            count = every
        percent = _PERCENT_CELL.fullmatch(cell)
        if not count:
            raise InvalidInput(
                f"Row {number}, {struck.name}: {cell} of how many? Add a column count."
                if cell[0].isdecimal()
                else f"Row {number}, {struck.name}: “{cell[:40]}” is not understood. Write yes, no, dead, or how many of how many."
            )
        if percent or struck.percent:
            cell = _of(
                number,
                cell,
                percent[1] if percent else cell,
                100.0 if percent else struck.percent,
                count,
                struck,
            )
        if out_of and not (_is_count(count) and int(count) >= out_of):
            raise InvalidInput(
                f"Row {number}: {out_of} lost or removed of {count}? Correct one of them."
            )
        left = str(int(count) - out_of) if out_of else count
        rows = (
            [(number, base | {"count": left, "struck": cell})] if left != "0" or not out_of else []
        )
        return [
            *rows,
            *((number, base | {"outcome": role, "count": str(n)}) for role, n in gone.items() if n),
        ]

    def _number(self, number: int, cell: str, column: Column) -> str:
        """A count as it is meant: notes in the cell are told, a date that was a ratio is asked about."""
        if noted := _NOTED.fullmatch(cell):
            self.told.append(
                f"Row {number}, {column.name}: “{cell}” was read as {noted[1]}; “{noted[2]}” was left out."
            )
            return noted[1]
        if is_date(cell) or _TURNED.fullmatch(cell):
            raise InvalidInput(
                f"Row {number}, {column.name}: {cell} is a date. A spreadsheet may have turned a ratio such as 6/7 into it: write it as 6 of 7."
            )
        return _clean(cell)

    def _wide(
        self, number: int, row: Sequence[str], base: dict[str, str], columns: Sequence[Column]
    ) -> list[tuple[int, dict[str, str]]]:
        """Counts day by day across a row: all so far, unless the heading says that they are new."""
        days = self._days(row, [c for c in columns if c.role == "wide"], columns)
        count = next((_clean(row[c.index]) for c in columns if c.role == "count"), "")
        if not count:
            raise InvalidInput(f"Row {number}: how many plants were there? Add a column count.")
        out, so_far, before = [], 0, -1
        for day, c in days:
            cell = _clean(row[c.index])
            if not cell:
                continue
            if not _is_count(cell):
                raise InvalidInput(f"Row {number}, {c.name}: must be a number (got {cell!r}).")
            so_far = so_far + int(cell) if c.is_new else int(cell)
            if so_far < before:
                raise InvalidInput(
                    f"Row {number}: {cell} on {c.name} is fewer than {before} before it. Are these counts new on each day, or all so far? "
                    "Call the columns “new day 14”, or correct the counts."
                )
            before = so_far
            out.append((number, base | {"count": count, "day": f"{day:g}", "struck": str(so_far)}))
        if not out:
            raise InvalidInput(f"Row {number}: no day has a count.")
        return out

    def _days(
        self, row: Sequence[str], wide: Sequence[Column], columns: Sequence[Column]
    ) -> list[tuple[float, Column]]:
        if all(c.day is not None for c in wide):
            return sorted(((c.day or 0.0, c) for c in wide), key=lambda x: x[0])
        order = self.dates or order_of(c.name for c in wide if c.day is None)
        start = next(
            (row[c.index] for c in columns if c.role == "date" and spelling(c.name) in ZERO_DAY),
            "",
        ) or next((row[c.index] for c in columns if spelling(c.name) in ZERO_DAY), "")
        began = read_date(start, order)
        if began is None:
            raise InvalidInput(
                "The days stand as dates: add a column start with the date on which the plants were set."
            )
        out = []
        for c in wide:
            at = read_date(c.name, order)
            if at is None or (days := (at[0] - began[0]).days) < 0:
                raise InvalidInput(f"The column {c.name} lies before the start, {start}.")
            out.append((float(days), c))
        return sorted(out, key=lambda x: x[0])


_PASSED = frozenset(COLUMNS) - {"count", "struck", "outcome"}
"""Racecard's own columns, which keep their meaning."""


def _is_count(cell: str) -> bool:
    return cell.isdecimal() and len(cell) <= _MOST_DIGITS


def _piece(text: str) -> re.Match[str] | None:
    """A treatment and how many of how many, as in a message; nothing so long that it is none."""
    return _PIECE.fullmatch(text) if len(text) <= _MOST_NAME else None


def _parts_of(cell: str) -> list[int]:
    """The one number of a count, or the two of a ratio; none of anything else."""
    ratio = _RATIO.fullmatch(cell.casefold())
    said = ratio.groups() if ratio else (_clean(cell),)
    return [int(x) for x in said] if all(map(_is_count, said)) else []


def _clean(cell: str) -> str:
    return re.sub(r"\D", "", cell) if _THOUSANDS.fullmatch(cell) else cell


def _needed(number: int, cell: str, column: Column) -> str:
    if not cell:
        raise InvalidInput(
            f"Row {number}, {column.name}: is blank. Write the number; 0 if there were none."
        )
    return _clean(cell)


def _of(number: int, shown: str, text: str, whole: float, count: str, column: Column) -> str:
    """The number of plants that a percent or a share of the count is; asked where it is no whole number."""
    try:
        said = float(text.replace(",", "."))
        n = int(count)
    except ValueError:
        raise InvalidInput(
            f"Row {number}, {column.name}: must be a number (got {shown!r})."
        ) from None
    exact = said / whole * n
    digits = max(len(text.replace(",", ".").partition(".")[2]), 2 if whole == 1 else 0)
    fits = range(max(0, int(exact) - 3), min(n, int(exact) + 3) + 1)
    near = [k for k in fits if n and round(whole * k / n, digits) == said]
    if len(near) != 1 or not 0 <= said <= whole:
        share = "" if whole == 1 or "%" in shown else " %"
        raise InvalidInput(
            f"Row {number}, {column.name}: {shown}{share} of {count} is {exact:.4g}, no single whole number of plants. Write how many struck."
        )
    return str(near[0])


def _whole_number(number: int, cell: str, column: Column) -> int:
    cell = _needed(number, cell, column)
    if not _is_count(cell):
        raise InvalidInput(
            f"Row {number}, {column.name}: must be a whole number (got {cell[:40]!r})."
        )
    return int(cell)


def _is_sheet_date(cell: str) -> bool:
    """Whether a cell is a date, or a day as a spreadsheet counts them: 40,000 to 60,000 is 2009 to 2064."""
    return is_date(cell) or (_is_count(cell) and 40_000 <= int(cell) <= 60_000)


def check_names(names: Sequence[str]) -> None:
    """Ask about two names so alike that one may be misspelt.

    Raises:
        InvalidInput: one differs from another by a letter or two in a word of five letters or more.
    """
    told: dict[str, str] = {}
    for name in names:
        told.setdefault(spelling(name), name)
    keys = list(told)
    for i, a in enumerate(keys):
        for b in keys[:i]:
            if _is_slip(a, b):
                raise InvalidInput(
                    f"{told[b]} and {told[a]} are spelt almost alike: are they the same? Spell them alike if they are; if not, name them further apart."
                )


def _is_slip(a: str, b: str) -> bool:
    words, others = a.split(), b.split()
    if len(words) != len(others) or re.sub(r"\D", "", a) != re.sub(r"\D", "", b):
        return False
    differ = [(x, y) for x, y in zip(words, others, strict=True) if x != y]
    if len(differ) != 1:
        return False
    x, y = sorted(differ[0], key=len)
    if len(x) < 5 or not (x.isalpha() and y.isalpha()) or y in (f"un{x}", f"{x}s") or x[0] != y[0]:
        return False
    return len(y) - len(x) <= 1 and SequenceMatcher(None, x, y).ratio() > 1 - _ONE_SLIP / len(x)


_ONE_SLIP = 1.5
"""Between one and two letters of the shorter word."""
