"""Tables as one XLSX workbook: numbers as numbers, everything else as text that no spreadsheet runs."""

import io
import re
from collections.abc import Sequence

_NUMBER = re.compile(r"-?(0|[1-9]\d{0,14})(\.\d+)?")
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
    return out.getvalue()


def _value(text: str) -> str | float | int:
    if not _NUMBER.fullmatch(text):
        return _CONTROL.sub("", text)
    return float(text) if "." in text else int(text)
