"""Files made to hurt: spreadsheets that claim to be endless, and those that are malformed."""

import io
import time
import zipfile

import openpyxl
import pytest

from racecard.errors import InvalidInput
from racecard.formats.sheet import read_sheet

SHEET = "xl/worksheets/sheet1.xml"


def a_book() -> bytes:
    book = openpyxl.Workbook()
    for row in (("treatment", "outcome", "count"), ("U", "struck", 1), ("A", "alive", 2)):
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def changed(old: str, new: str, name: str = SHEET) -> bytes:
    """A workbook with a text of one of its parts replaced."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(a_book())) as source, zipfile.ZipFile(out, "w") as target:
        for info in source.infolist():
            text = source.read(info.filename)
            if info.filename == name:
                assert old.encode() in text
                text = text.replace(old.encode(), new.encode())
            target.writestr(info.filename, text)
    return out.getvalue()


def test_a_book_of_ours_is_read() -> None:
    assert read_sheet(a_book()).read == 2


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (changed('<row r="3"', '<row r="999999999"'), "numbered 999999999"),
        (changed("<worksheet", '<!DOCTYPE x [<!ENTITY a "b">]><worksheet'), "entities"),
        (changed("</sheetData>", "</sheetDat>"), "cannot be read"),
        (changed("<v>", "<v>&none;"), "cannot be read"),
        (changed("sheet1.xml", "nowhere.xml", "xl/_rels/workbook.xml.rels"), "cannot be read"),
        (a_book()[:500] + a_book()[700:], "cannot be read"),
        (b"PK\x03\x04" + b"\0" * 500, "cannot be read"),
    ],
)  # fmt: skip
def test_a_workbook_that_is_odd_is_one_sentence(content: bytes, says: str) -> None:
    with pytest.raises(InvalidInput, match=says):
        read_sheet(content)


def test_what_a_sheet_says_of_its_size_is_not_believed() -> None:
    started = time.monotonic()
    assert read_sheet(changed("A1:C3", "A1:XFD1048576")).read == 2
    assert time.monotonic() - started < 20  # it hung for ever


def test_a_table_wider_than_any_is_refused() -> None:
    with pytest.raises(InvalidInput, match="200,001 columns"):
        read_sheet(("treatment" + ",x" * 200_000).encode())
