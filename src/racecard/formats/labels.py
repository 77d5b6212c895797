"""Labels: what stands on each, laid out once, and painted on sheets (PDF), on screen (SVG), as a list.

A label carries its code, a square code that opens its unit on a phone, and, where the trial is not
scored blind, the treatment's name and silk. Nothing on a blind label tells the treatment.
"""

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass
from html import escape

import segno

from racecard.core.model import Trial
from racecard.core.model.drawings import SILKS, Silk
from racecard.core.plan.codes import blind_codes

_SILKS = {s.id: s for s in SILKS}


@dataclass(frozen=True, slots=True)
class Label:
    """One label. `silk`: id, "" where scored blind; `link`: what its square code opens."""

    code: str
    lines: tuple[str, ...]
    link: str
    silk: str = ""


@dataclass(frozen=True, slots=True)
class Stock:
    """A size of label, mm; on a sheet: how many across and down, and where the first begins."""

    key: str
    name: str
    width: float
    height: float
    across: int = 1
    down: int = 1
    page: tuple[float, float] = (0.0, 0.0)
    left: float = 0.0
    top: float = 0.0
    step_x: float = 0.0
    step_y: float = 0.0


_A4, _LETTER = (210.0, 297.0), (215.9, 279.4)
SHEETS = (
    Stock("a4_65", "A4, 65 to a sheet, 38 × 21 mm", 38.1, 21.2, 5, 13, _A4, 4.7, 10.7, 40.6, 21.2),
    Stock("a4_24", "A4, 24 to a sheet, 64 × 34 mm", 64.0, 33.9, 3, 8, _A4, 6.5, 12.9, 66.5, 33.9),
    Stock("a4_21", "A4, 21 to a sheet, 64 × 38 mm", 63.5, 38.1, 3, 7, _A4, 7.2, 15.1, 66.0, 38.1),
    Stock("letter_30", "US Letter, 30 to a sheet, 67 × 25 mm", 66.7, 25.4, 3, 10, _LETTER, 4.8, 12.7, 69.8, 25.4),
    Stock("letter_80", "US Letter, 80 to a sheet, 44 × 13 mm", 44.5, 12.7, 4, 20, _LETTER, 7.6, 12.7, 52.1, 12.7),
)  # fmt: skip
STRIP = Stock("strip", "strip of the label printer, 50 × 25 mm", 50.0, 25.0)
"""Common sizes of label sheets, and the strip the label printer takes."""


@dataclass(frozen=True, slots=True)
class Words:
    """A line of text: baseline and size in mm, cut at `width`."""

    x: float
    y: float
    size: float
    text: str
    width: float
    bold: bool = False


@dataclass(frozen=True, slots=True)
class Pattern:
    """A silk in a square of a side, mm."""

    x: float
    y: float
    side: float
    silk: Silk


@dataclass(frozen=True, slots=True)
class Modules:
    """A square code: rows of dark modules in a square of a side, mm; 4 modules of white around."""

    x: float
    y: float
    side: float
    rows: tuple[tuple[bool, ...], ...]


Mark = Words | Pattern | Modules


def labels_of(trial: Trial, origin: str, *, trays: bool = False) -> tuple[Label, ...]:
    """Labels of a trial's units in the order of the bench, or of its trays.

    Args:
        trial: the trial.
        origin: address the square codes open, such as http://192.168.1.20:8620.
        trays: one label a tray instead of one a unit.
    """
    short, plan = trial.id[:8], trial.plan
    root = f"{origin.rstrip('/')}/u/{short}"
    if trays:
        count = max((u.cell.tray for u in trial.units), default=-1) + 1
        names = [
            plan.tray_names[i] if i < len(plan.tray_names) else f"Tray {i + 1}"
            for i in range(count)
        ]
        return tuple(
            Label(
                f"T{i + 1}",
                (names[i], plan.question, plan.sides[3] and f"left side: {plan.sides[3]}"),
                f"{root}/T{i + 1}",
            )
            for i in range(count)
        )
    codes = blind_codes(len(trial.planted), trial.key)
    out = []
    for unit, blind in zip(trial.planted, codes, strict=True):
        if plan.blind:
            out.append(Label(blind, (unit.cell.code, plan.question), f"{root}/{blind}"))
        else:
            arm = plan.treatments[unit.cell.treatment]
            out.append(
                Label(
                    unit.cell.code, (arm.name, plan.question), f"{root}/{unit.cell.code}", arm.silk
                )
            )
    return tuple(out)


def unit_coded(trial: Trial, code: str) -> str | None:
    """Id of the unit a label's code names, blind or by its place; None where there is none."""
    said = code.strip().upper()
    codes = blind_codes(len(trial.planted), trial.key)
    for unit, blind in zip(trial.planted, codes, strict=True):
        if said in (blind, unit.cell.code):
            return unit.id
    return None


def lay_out(label: Label, stock: Stock) -> tuple[Mark, ...]:
    """Where everything stands on a label, mm from its top left."""
    pad = 1.5
    side = min(stock.height - 2 * pad, stock.width * 0.4)
    marks: list[Mark] = [Modules(pad, (stock.height - side) / 2, side, _modules(label.link))]
    x = pad + side + 1.0
    width = stock.width - x - pad
    big = min(stock.height * 0.30, width / max(4, len(label.code)) * 1.55)
    silk = _SILKS.get(label.silk)
    if silk is not None:
        square = min(big * 1.1, 7.0)
        marks.append(Pattern(stock.width - pad - square, pad + 0.2, square, silk))
    marks.append(Words(x, pad + big * 0.82, big, label.code, width - (8.0 if silk else 0.0), True))
    small = min(3.1, (stock.height - 2 * pad - big) / 3.4)
    y = pad + big + small * 1.1
    for line in (line for line in label.lines if line):
        for piece in _wrapped(line, width, small, 2):
            if y > stock.height - pad + 0.2:
                break
            marks.append(Words(x, y, small, piece, width))
            y += small * 1.16
    return tuple(marks)


def _modules(link: str) -> tuple[tuple[bool, ...], ...]:
    code = segno.make(
        link, error="m", micro=False, mask=3
    )  # trying all eight takes three times as long
    return tuple(tuple(bool(m) for m in row) for row in code.matrix_iter(border=4))


def _wrapped(text: str, width: float, size: float, most: int) -> list[str]:
    """Lines that fit by a rule of thumb of half the size a letter; the last is cut."""
    room = max(4, int(width / (size * 0.5)))
    lines: list[str] = []
    for word in text.split():
        if lines and len(lines[-1]) + 1 + len(word) <= room:
            lines[-1] += f" {word}"
        else:
            lines.append(word)
    if len(lines) > most:
        lines = [*lines[: most - 1], f"{lines[most - 1][: room - 1]}…"]
    return [line if len(line) <= room else f"{line[: room - 1]}…" for line in lines]


def label_svg(label: Label, stock: Stock = STRIP) -> str:
    """A label as it would come out of a printer: black, grey and white, 1 unit to the mm."""
    body = "".join(_svg(m, i) for i, m in enumerate(lay_out(label, stock)))
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {stock.width} {stock.height}" '
        f'width="{stock.width}mm" height="{stock.height}mm" role="img" aria-label="{escape(label.code)}">'
        f'<rect width="{stock.width}" height="{stock.height}" fill="#fff"/>{body}</svg>'
    )


def _svg(mark: Mark, i: int) -> str:
    if isinstance(mark, Words):
        weight = ' font-weight="700"' if mark.bold else ""
        return f'<text x="{mark.x:.2f}" y="{mark.y:.2f}" font-size="{mark.size:.2f}" font-family="Atkinson Hyperlegible Next Variable, sans-serif"{weight} fill="#000">{escape(mark.text)}</text>'
    if isinstance(mark, Pattern):
        paths = "".join(
            f'<path d="{s.d}" fill="{mark.silk.ink}" fill-rule="evenodd"/>'
            for s in mark.silk.shapes
        )
        return (f'<svg x="{mark.x:.2f}" y="{mark.y:.2f}" width="{mark.side:.2f}" height="{mark.side:.2f}" viewBox="0 0 32 32">'
                f'<rect width="32" height="32" fill="{mark.silk.ground}"/>{paths}'
                f'<rect x=".5" y=".5" width="31" height="31" fill="none" stroke="{mark.silk.ink}"/></svg>')  # fmt: skip
    n = len(mark.rows)
    dark = "".join(
        f"M{c} {r}h1v1h-1z" for r, row in enumerate(mark.rows) for c, on in enumerate(row) if on
    )
    return f'<svg x="{mark.x:.2f}" y="{mark.y:.2f}" width="{mark.side:.2f}" height="{mark.side:.2f}" viewBox="0 0 {n} {n}" shape-rendering="crispEdges"><path d="{dark}" fill="#000"/></svg>'


def labels_csv(labels: Sequence[Label]) -> bytes:
    """The labels as a plain list: code, two lines, link."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(("code", "line", "trial", "link"))
    for label in labels:
        lines = (*label.lines, "", "")
        writer.writerow((label.code, _safe(lines[0]), _safe(lines[1]), label.link))
    return ("\ufeff" + out.getvalue()).encode()


def _safe(text: str) -> str:
    """Text that a spreadsheet will not take for a formula."""
    return f"'{text}" if text[:1] in "=+-@\t\r" else text
