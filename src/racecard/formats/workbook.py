"""Tables as one XLSX workbook: numbers as numbers, everything else as text that no spreadsheet runs."""

import io
import re
from collections.abc import Sequence
from zipfile import ZIP_DEFLATED, ZipFile, ZipInfo

_NUMBER = re.compile(r"-?(0|[1-9]\d{0,14})(\.\d+)?")
_MOMENT = re.compile(rb"\d{4}-\d\d-\d\dT\d\d:\d\d:\d\dZ")
_CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f]")
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


def write_workbook(sheets: Sequence[tuple[str, Sequence[Sequence[str]]]]) -> bytes:
    """A workbook of the named sheets, the first row of each its headings."""
    from openpyxl import Workbook  # late: a third of a second that no start should wait for
    from openpyxl.cell import WriteOnlyCell

    book = Workbook(write_only=True)
    for title, rows in sheets:
        sheet = book.create_sheet(title)
        sheet.freeze_panes = "A2"
        for row in rows:
            cells = []
            for value in row:
                cell = WriteOnlyCell(sheet, _value(value))
                if isinstance(cell.value, str):
                    cell.data_type = "s"  # never a formula, whatever it begins with
                cells.append(cell)
            sheet.append(cells)
    out = io.BytesIO()
    book.save(out)
    return _without_times(out.getvalue())


def _without_times(workbook: bytes) -> bytes:
    """The same workbook without the moment it was written: alike tables are alike to the last byte."""
    out = io.BytesIO()
    with ZipFile(io.BytesIO(workbook)) as made, ZipFile(out, "w", ZIP_DEFLATED) as kept:
        for name in made.namelist():
            content = made.read(name)
            if name == "docProps/core.xml":
                content = _MOMENT.sub(b"2000-01-01T00:00:00Z", content)
            kept.writestr(ZipInfo(name, (2000, 1, 1, 0, 0, 0)), content, ZIP_DEFLATED)
    return out.getvalue()


def _value(text: str) -> str | float | int:
    if not _NUMBER.fullmatch(text):
        return _CONTROL.sub("", text)
    return float(text) if "." in text else int(text)
