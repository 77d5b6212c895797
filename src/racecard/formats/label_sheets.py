"""Labels on sheets, as PDF: the same lay-out and the same silks as on the screen."""

import io
from collections.abc import Iterator, Sequence
from functools import cache
from itertools import groupby
from pathlib import Path

from fontTools.pens.reportLabPen import ReportLabPen
from fontTools.svgLib.path import parse_path
from reportlab.graphics.shapes import Path as Shape
from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from racecard.core.model.drawings import Silk
from racecard.errors import InvalidInput
from racecard.formats.labels import SHEETS, Label, Mark, Modules, Pattern, Stock, Words, lay_out

_FONTS = Path(__file__).parent / "fonts"
PLAIN, BOLD = "Hyperlegible", "Hyperlegible-Bold"


def sheets_pdf(
    labels: Sequence[Label], sheet: str = "a4_65", *, skip: int = 0, outlines: bool = False
) -> bytes:
    """Labels on sheets of a common size.

    Args:
        labels: what to print.
        sheet: key of one of SHEETS.
        skip: places of the first sheet that are used up already.
        outlines: draw the edge of each label, for a first print on plain paper.

    Raises:
        InvalidInput: no such sheet, or more places skipped than a sheet has.
    """
    stock = next((s for s in SHEETS if s.key == sheet), None)
    if stock is None:
        names = ", ".join(s.key for s in SHEETS)
        raise InvalidInput(f"A sheet is one of {names}.", "/sheet")
    places = stock.across * stock.down
    if not 0 <= skip < places:
        raise InvalidInput(f"A sheet has {places} places: skip 0 to {places - 1}.", "/skip")
    register_fonts()
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(stock.page[0] * mm, stock.page[1] * mm), invariant=1)
    canvas.setTitle("Labels")
    for i, label in enumerate(labels, skip):
        place = i % places
        if place == 0 and i > skip:
            canvas.showPage()
        row, col = divmod(place, stock.across)
        _paint(
            canvas,
            label,
            stock,
            stock.left + col * stock.step_x,
            stock.top + row * stock.step_y,
            outlines,
        )
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _paint(canvas: Canvas, label: Label, stock: Stock, x: float, y: float, edge: bool) -> None:
    """One label with its top left at (x, y) mm from the top left of the page."""
    canvas.saveState()
    canvas.translate(x * mm, (stock.page[1] - y) * mm)
    canvas.scale(mm, -mm)
    if edge:
        canvas.setLineWidth(0.1)
        canvas.setStrokeColor(HexColor("#999999"))
        canvas.rect(0, 0, stock.width, stock.height)
    for mark in lay_out(label, stock):
        _mark(canvas, mark)
    canvas.restoreState()


def _mark(canvas: Canvas, mark: Mark) -> None:
    canvas.saveState()
    if isinstance(mark, Words):
        _words(canvas, mark)
    elif isinstance(mark, Pattern):
        canvas.translate(mark.x, mark.y)
        canvas.scale(mark.side / 32, mark.side / 32)
        paint_silk(canvas, mark.silk)
    elif isinstance(mark, Modules):
        canvas.translate(mark.x, mark.y)
        canvas.scale(mark.side / len(mark.rows), mark.side / len(mark.rows))
        canvas.setFillColor(HexColor("#000000"))
        path = canvas.beginPath()
        for r, row in enumerate(mark.rows):
            for start, length in _runs(row):
                path.rect(start, r, length, 1)
        canvas.drawPath(path, stroke=0, fill=1)
    canvas.restoreState()


def _runs(row: Sequence[bool]) -> Iterator[tuple[int, int]]:
    """Where dark modules begin in a row, and how many lie side by side."""
    at = 0
    for on, group in groupby(row):
        length = len(list(group))
        if on:
            yield at, length
        at += length


def _words(canvas: Canvas, mark: Words) -> None:
    font = BOLD if mark.bold else PLAIN
    text, size = printable(mark.text), mark.size
    wide = pdfmetrics.stringWidth(text, font, size)
    if wide > mark.width:
        size *= mark.width / wide
    canvas.translate(mark.x, mark.y)
    canvas.scale(1, -1)
    canvas.setFont(font, size)
    canvas.setFillColor(HexColor("#000000"))
    canvas.drawString(0, 0, text)


def paint_silk(canvas: Canvas, silk: Silk) -> None:
    """A silk on a 32 x 32 square with y downwards, from its one description."""
    canvas.setFillColor(HexColor(silk.ground))
    canvas.rect(0, 0, 32, 32, stroke=0, fill=1)
    canvas.setFillColor(HexColor(silk.ink))
    for shape in silk.shapes:
        drawn = Shape()
        parse_path(shape.d, ReportLabPen(None, path=drawn))
        _draw(canvas, drawn)
    canvas.setStrokeColor(HexColor(silk.ink))
    canvas.setLineWidth(1)
    canvas.rect(0.5, 0.5, 31, 31, stroke=1, fill=0)


def _draw(canvas: Canvas, shape: Shape) -> None:
    """The path of a shape, filled by the even-odd rule as on the screen."""
    path = canvas.beginPath()
    points = iter(shape.points)
    for operator in shape.operators:
        if operator == 0:
            path.moveTo(next(points), next(points))
        elif operator == 1:
            path.lineTo(next(points), next(points))
        elif operator == 2:
            path.curveTo(*(next(points) for _ in range(6)))
        else:
            path.close()
    canvas.drawPath(path, stroke=0, fill=1, fillMode=0)


@cache
def register_fonts() -> None:
    """Register the shipped fonts with reportlab, once."""
    for name, file in ((PLAIN, "Regular"), (BOLD, "Bold")):
        pdfmetrics.registerFont(TTFont(name, _FONTS / f"AtkinsonHyperlegibleNext-{file}.ttf"))


@cache
def _known() -> frozenset[int]:
    register_fonts()
    return frozenset(pdfmetrics.getFont(PLAIN).face.charToGlyph)


def printable(text: str) -> str:
    """Letters the shipped font has; a box-like mark for those of other scripts."""
    plain = text.replace("µ", "u").replace("≤", "<=")
    return "".join(c if ord(c) in _known() else "?" for c in plain)
