"""A table of results from CSV or XLSX bytes, with every bad cell told, not only the first."""

import csv
import io
import re
import zipfile
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from itertools import chain, islice
from typing import TYPE_CHECKING

from racecard.core.exchange.as_kept import as_kept, check_names, is_results, listed
from racecard.core.exchange.headings import is_own
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

if TYPE_CHECKING:
    from openpyxl.worksheet._read_only import ReadOnlyWorksheet
    from openpyxl.worksheet.worksheet import Worksheet

MOST_BYTES = 25_000_000
MOST_ROWS = 500_000
MOST_COLUMNS = 2_000
_MOST_CELLS = 10_000_000
_MOST_TYPED = 20_000
_MOST_MERGED = 2_000_000
_MOST_ROWS_MERGED = 20_000
_MOST_UNPACKED = 300_000_000
_NO_WORKBOOK = "The file cannot be read as a spreadsheet: save it as XLSX or CSV."
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
    """Read a table of results, in Racecard's own columns or as people keep them.

    Args:
        content: the file.
        skip: rows to leave out, as numbered in the file (the header is 1).
        most_rows: rows that are taken; a page that waits for the answer takes fewer.
        progress: told the rows read so far, every couple of thousand.
        dates: what comes first in dates such as 03/04/2026; read from the table where it can be.

    Raises:
        InvalidInput: too large, empty, no table of results at all, or one that has to be asked about.
        TooManyRows: more than `most_rows`. OrderAsked: dates that could be read two ways.
    """
    return _sheet(_results_in(content), skip, most_rows, progress, dates)


def read_lines(content: bytes) -> Iterator[list[str]]:
    """The cells of a CSV or XLSX file, row by row; which of the two it is shows in its first bytes.

    Raises:
        InvalidInput: too large, empty, or no table at all.
    """
    _check_size(content)
    return (
        next(iter(_sheets_of(content)))[1]
        if content.startswith(_ZIP)
        else _from_csv(_decoded(content))
    )


def _check_size(content: bytes) -> None:
    if len(content) > MOST_BYTES:
        raise InvalidInput(
            f"The file has {len(content) / 1e6:.0f} MB; {MOST_BYTES / 1e6:.0f} MB is the most that is read."
        )
    if not content.strip():
        raise InvalidInput("The file is empty.")


def _results_in(content: bytes) -> Iterator[list[str]]:
    """The rows of the one table of results in a file: a message, a CSV, or the sheet that holds any."""
    _check_size(content)
    if not content.startswith(_ZIP):
        text = _decoded(content)
        if len(text) <= _MOST_TYPED and (typed := listed(text)):
            return (list(cells) for _, cells in typed)
        return _from_csv(text)
    sheets = list(_sheets_of(content))
    if not sheets:
        raise InvalidInput(_NO_WORKBOOK)
    heads = [(title, list(islice(lines, 50)), lines) for title, lines in sheets]
    filled = [(title, head, lines) for title, head, lines in heads if any(map(any, head))]
    held = [x for x in filled if is_results(_numbered(x[1]))] or filled
    if not held:
        raise InvalidInput("The file holds no table.")
    if len(held) > 1 and not is_own(_names(next(line for line in held[0][1] if any(line)))):
        titles = ", ".join(title for title, *_ in held)
        raise InvalidInput(
            f"The workbook has results on {len(held)} sheets ({titles}): which one? Save it alone."
        )
    _, head, lines = held[0]
    return chain(head, lines)


def _from_csv(text: str) -> Iterator[list[str]]:
    lines = [line for line in text[:20_000].splitlines()[:20] if line.strip()]
    delimiter = max(
        ",;\t|",
        key=lambda d: (sum(d in line for line in lines), sum(line.count(d) for line in lines)),
    )
    if delimiter == "|" or not any(delimiter in line for line in lines):
        edge = re.compile(
            r"\s*\|\s*" if delimiter == "|" and any("|" in x for x in lines) else r"\s{2,}"
        )
        yield from ([c for c in edge.split(line.strip().strip("|"))] for line in text.splitlines())
        return
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


def _sheets_of(content: bytes) -> Iterator[tuple[str, Iterator[list[str]]]]:
    """Each sheet of a workbook with its rows; what the file says of its own size is not believed."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            is_merged = _check_packed(packed)
        from openpyxl import load_workbook

        whole = is_merged and len(content) < _MOST_MERGED
        book = load_workbook(
            io.BytesIO(content), read_only=not whole, data_only=True, keep_links=False
        )
        for sheet in book.worksheets:
            yield sheet.title, _cells_of(sheet)
    except InvalidInput:
        raise
    except Exception as exc:  # a workbook can be malformed in more ways than its reader has errors
        raise InvalidInput(_NO_WORKBOOK) from exc


def _cells_of(sheet: "Worksheet | ReadOnlyWorksheet") -> Iterator[list[str]]:
    if hasattr(sheet, "reset_dimensions"):
        sheet.reset_dimensions()
    spanned = {}
    for area in getattr(getattr(sheet, "merged_cells", None), "ranges", ()):
        for row, col in islice(area.cells, _MOST_ROWS_MERGED):
            spanned[row, col] = (area.min_row, area.min_col)
    cells = 0
    try:
        for i, row in enumerate(sheet.iter_rows(values_only=True), 1):
            cells += len(row)
            if cells > _MOST_CELLS:
                raise InvalidInput(
                    f"The spreadsheet spreads over more than {_MOST_CELLS:,} cells: delete what stands far off."
                )
            values = (
                [
                    sheet.cell(*spanned[i, j]).value if (i, j) in spanned else v
                    for j, v in enumerate(row, 1)
                ]
                if spanned
                else row
            )
            yield [_cell_text(value) for value in values]
    except InvalidInput:
        raise
    except Exception as exc:
        raise InvalidInput(_NO_WORKBOOK) from exc


def _check_packed(packed: zipfile.ZipFile) -> bool:
    """Whether cells are merged; InvalidInput for what is not opened."""
    is_merged = False
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
        if name.startswith("xl/worksheets/"):
            is_merged |= b"<mergeCell " in packed.read(name)
    return is_merged


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
    filled: Iterator[tuple[int, list[str]]] = ((i, line) for i, line in numbered if any(line))
    try:
        first, header = next(filled)
    except StopIteration:
        raise InvalidInput("The file holds no table.") from None
    if len(header) > MOST_COLUMNS:
        raise InvalidInput(
            f"The first row has {len(header):,} columns; {MOST_COLUMNS:,} is the most that is read."
        )
    names = _names(header)
    read_as: tuple[str, ...] = ()
    if is_own(names):
        _check_header(names)
    else:
        kept = as_kept(
            [(first, header), *((i, line) for i, line in islice(filled, most_rows + 1) if i not in skip)], dates
        )  # fmt: skip
        names, read_as = list(kept.names), kept.told
        filled = ((i, [cells.get(n, "") for n in names]) for i, cells in kept.rows)
    if "start" not in names:  # dates of which nobody knows the first day are left aside
        names = [f"{n}_" if n in DATE_COLUMNS else n for n in names]
    if dated := [i for i, name in enumerate(names) if name == "start" or name in DATE_COLUMNS]:
        every = list(islice(filled, most_rows + 1))
        dates = dates or order_of(line[i] for _, line in every for i in dated if i < len(line))
        filled = (numbered_line for numbered_line in every)
    told: dict[tuple[str, ...], tuple[ResultRow, int]] = {}
    bad: list[BadCell] = []
    read, is_each = 0, bool({"unit", "struck"} & set(names))
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
            if row is None:
                continue
            known = (row, 0)
        told[key] = (known[0], known[1] + 1)
        read += 1
    if not read and not bad:
        raise InvalidInput("The table has a header and no rows of results.")
    counted = [r if k == 1 else replace(r, count=r.count * k) for r, k in told.values()]
    rows, others = one_spelling(counted)
    check_names([r.treatment for r in rows])
    columns = tuple(n for n in names if is_column(n))
    aside = tuple(n.rstrip("_") for n in names if n and not is_column(n))
    respelled = tuple(others.items())
    return Sheet(rows, tuple(bad), columns, aside, read, respelled=respelled, read_as=read_as)


def _names(header: Sequence[str]) -> list[str]:
    return [" ".join(h.casefold().split()).replace(" ", "_") for h in header]


def _numbered(lines: Iterable[Sequence[str]]) -> list[tuple[int, list[str]]]:
    """Rows that hold anything, as numbered in the file, their cells stripped."""
    numbered = ((i, [_as_written(c.strip()) for c in line]) for i, line in enumerate(lines, 1))
    return [(i, line) for i, line in numbered if any(line)]


def _check_header(names: Sequence[str]) -> None:
    twice = sorted(n for n, k in Counter(names).items() if n and k > 1)
    if twice:
        raise InvalidInput(f"The column {twice[0]} stands twice: keep one.")


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
