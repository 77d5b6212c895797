"""A table of results from CSV or XLSX bytes, with every bad cell told, not only the first."""

import csv
import io
import re
import zipfile
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from itertools import islice

from racecard.core.model.table_dates import DATE_COLUMNS, DateOrder, order_of
from racecard.core.model.table_rows import (
    COLUMNS,
    FACTOR,
    BadCell,
    ResultRow,
    RowReader,
    Sheet,
    is_column,
    one_spelling,
)
from racecard.errors import InvalidInput

MOST_BYTES = 25_000_000
MOST_ROWS = 500_000
MOST_COLUMNS = 2_000
_MOST_CELLS = 10_000_000
_MOST_UNPACKED = 300_000_000
_ROW = re.compile(rb'<(?:\w+:)?row\b[^>]*?\br="(\d+)"')
_DECLARES = (b"<!DOCTYPE", b"<!ENTITY")
_ZIP = b"PK\x03\x04"
_PROGRESS_ROWS = 2_000
Progress = Callable[[int], None]


class TooManyRows(InvalidInput):
    """More rows than were asked for; the table may still be good."""


def read_sheet(
    content: bytes, skip: frozenset[int] = frozenset(), *, most_rows: int = MOST_ROWS,
    progress: Progress | None = None, dates: DateOrder | None = None,
) -> Sheet:  # fmt: skip
    """Read a table of results.

    Args:
        content: the file.
        skip: rows to leave out, as numbered in the file (the header is 1).
        most_rows: rows that are taken; a page that waits for the answer takes fewer.
        progress: told the rows read so far, every couple of thousand.
        dates: what comes first in dates such as 03/04/2026; read from the table where it can be.

    Raises:
        InvalidInput: too large, empty, no table at all, no header, or no column `treatment`.
        TooManyRows: more than `most_rows`. OrderAsked: dates that could be read two ways.
    """
    return _sheet(read_lines(content), skip, most_rows, progress, dates)


def read_lines(content: bytes) -> Iterator[list[str]]:
    """The cells of a CSV or XLSX file, row by row; which of the two it is shows in its first bytes.

    Raises:
        InvalidInput: too large, empty, or no table at all.
    """
    if len(content) > MOST_BYTES:
        raise InvalidInput(
            f"The file has {len(content) / 1e6:.0f} MB; {MOST_BYTES / 1e6:.0f} MB is the most that is read."
        )
    if not content.strip():
        raise InvalidInput("The file is empty.")
    return _from_xlsx(content) if content.startswith(_ZIP) else _from_csv(content)


def _from_csv(content: bytes) -> Iterator[list[str]]:
    text = _decoded(content)
    head = text[: text.find("\n") + 1] or text
    delimiter = max(",;\t", key=head.count)
    csv.field_size_limit(100_000)
    try:
        yield from csv.reader(io.StringIO(text, newline=""), delimiter=delimiter)
    except csv.Error as exc:
        raise InvalidInput(f"The file cannot be read as a table: {exc}.") from exc


def _decoded(content: bytes) -> str:
    if content.startswith((b"\xff\xfe", b"\xfe\xff")):
        encodings = ["utf-16"]
    else:
        encodings = ["utf-8-sig", "cp1252", "latin-1"]
    for encoding in encodings:
        try:
            text = content.decode(encoding)
        except UnicodeDecodeError:
            continue
        if any(ord(c) < 32 and c not in "\t\r\n" for c in text[:4000]):
            break
        return text
    raise InvalidInput("This is not a table: give a CSV or XLSX file.")


def _from_xlsx(content: bytes) -> Iterator[list[str]]:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            _check_packed(packed)
        yield from _cells_of(content)
    except InvalidInput:
        raise
    except Exception as exc:  # a workbook can be malformed in more ways than its reader has errors
        raise InvalidInput(
            "The file cannot be read as a spreadsheet: save it as XLSX or CSV."
        ) from exc


def _cells_of(content: bytes) -> Iterator[list[str]]:
    """The first sheet row by row; what the file says of its own size is not believed."""
    from openpyxl import load_workbook

    book = load_workbook(io.BytesIO(content), read_only=True, data_only=True, keep_links=False)
    sheet = book.worksheets[0]
    sheet.reset_dimensions()
    cells = 0
    for row in sheet.iter_rows(values_only=True):
        cells += len(row)
        if cells > _MOST_CELLS:
            raise InvalidInput(
                f"The spreadsheet spreads over more than {_MOST_CELLS:,} cells: delete what stands far off."
            )
        yield [_cell_text(value) for value in row]
    book.close()


def _check_packed(packed: zipfile.ZipFile) -> None:
    if sum(info.file_size for info in packed.infolist()) > _MOST_UNPACKED:
        raise InvalidInput(
            f"Unpacked, the spreadsheet has more than {_MOST_UNPACKED / 1e6:.0f} MB; it is not opened."
        )
    for name in packed.namelist():
        if name.endswith((".xml", ".rels")):
            with packed.open(name) as part:
                head = part.read(4096)
                if any(word in head for word in _DECLARES):
                    raise InvalidInput(
                        "The spreadsheet declares entities of its own; it is not opened."
                    )
        if name.startswith("xl/worksheets/"):
            far = max((int(m[1]) for m in _ROW.finditer(packed.read(name))), default=0)
            if far > 2 * MOST_ROWS:
                raise InvalidInput(
                    f"A row of the spreadsheet is numbered {far}: delete what stands so far down."
                )
        if name.startswith("xl/worksheets/sheet1") and b"<mergeCell " in packed.read(name):
            raise InvalidInput(
                "The spreadsheet has merged cells: unmerge them, so that every row stands alone."
            )


def _cell_text(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, float) and value == int(value):
        return str(int(value))
    return str(value)


def _sheet(
    lines: Iterable[Sequence[str]], skip: frozenset[int], most_rows: int, progress: Progress | None,
    dates: DateOrder | None,
) -> Sheet:  # fmt: skip
    numbered = ((i, [_as_written(c.strip()) for c in line]) for i, line in enumerate(lines, 1))
    filled = ((i, line) for i, line in numbered if any(line))
    try:
        _, header = next(filled)
    except StopIteration:
        raise InvalidInput("The file holds no table.") from None
    if len(header) > MOST_COLUMNS:
        raise InvalidInput(
            f"The first row has {len(header):,} columns; {MOST_COLUMNS:,} is the most that is read."
        )
    names = [" ".join(h.casefold().split()).replace(" ", "_") for h in header]
    _check_header(names)
    if "start" not in names:  # dates of which nobody knows the first day are left aside
        names = [f"{n}_" if n in DATE_COLUMNS else n for n in names]
    if dated := [i for i, name in enumerate(names) if name == "start" or name in DATE_COLUMNS]:
        every = list(islice(filled, most_rows + 1))
        dates = dates or order_of(line[i] for _, line in every for i in dated if i < len(line))
        filled = (numbered_line for numbered_line in every)
    told: dict[tuple[str, ...], tuple[ResultRow, int]] = {}
    bad: list[BadCell] = []
    read, has_times, is_each = 0, False, bool({"unit", "struck"} & set(names))
    for n, (i, line) in enumerate(filled):
        if n >= most_rows:
            raise TooManyRows(f"The table has more than {most_rows:,} rows: split it.")
        if progress and n % _PROGRESS_ROWS == 0:
            progress(n)
        if i in skip:
            continue
        key = (*line, str(i)) if is_each else tuple(line)
        known = told.get(key)
        if known is None:
            cells = {name: c for name, c in zip(names, line, strict=False) if is_column(name)}
            reader = RowReader(i, cells, dates)
            row = reader.read()
            bad += reader.bad
            has_times |= reader.has_times
            if row is None:
                continue
            known = (row, 0)
        told[key] = (known[0], known[1] + 1)
        read += 1
    if not read and not bad:
        raise InvalidInput("The table has a header and no rows of results.")
    counted = [r if k == 1 else replace(r, count=r.count * k) for r, k in told.values()]
    rows, others = one_spelling(counted)
    columns = tuple(n for n in names if is_column(n))
    aside = tuple(n.rstrip("_") for n in names if n and not is_column(n))
    respelled = tuple(others.items())
    return Sheet(rows, tuple(bad), columns, aside, read, has_times, respelled=respelled)


def _check_header(names: Sequence[str]) -> None:
    twice = sorted(n for n, k in Counter(names).items() if n and k > 1)
    if twice:
        raise InvalidInput(f"The column {twice[0]} stands twice: keep one.")
    if "treatment" not in names:
        found = ", ".join(n for n in names if n)[:120] or "nothing"
        raise InvalidInput(f"There is no column called treatment; the first row holds {found}.")


_FORMULA_STARTS = ("=", "+", "-", "@", "\t", "\r")
_NUMBER = re.compile(r"[+-]?\d+(\.\d+)?")


def write_csv(lines: Sequence[Mapping[str, str]]) -> bytes:
    """A table as CSV in UTF-8; a cell that a spreadsheet would run as a formula gets a quote mark."""
    used = [c for c in COLUMNS if any(line.get(c) for line in lines)]
    used += dict.fromkeys(c for line in lines for c in line if c.startswith(FACTOR))
    return write_lines([used, *([line.get(c, "") for c in used] for line in lines)])


def write_lines(lines: Iterable[Sequence[str]]) -> bytes:
    """Rows of cells as CSV in UTF-8, made harmless as in `write_csv`."""
    out = io.StringIO(newline="")
    csv.writer(out).writerows([_harmless(cell) for cell in line] for line in lines)
    return out.getvalue().encode()


def _harmless(value: str) -> str:
    """A cell that no spreadsheet takes for a formula; a number is none, below 0 or not."""
    is_safe = not value.startswith(_FORMULA_STARTS) or _NUMBER.fullmatch(value)
    return value if is_safe else f"'{value}"


def _as_written(value: str) -> str:
    """The value behind the quote mark that made it harmless."""
    return value[1:] if value.startswith("'") and value[1:].startswith(_FORMULA_STARTS) else value
