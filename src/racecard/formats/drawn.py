"""The lanes of a finish as a drawing in greys, for the report and for pictures taken out."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from reportlab.graphics import renderSVG
from reportlab.graphics.shapes import Circle, Drawing, Line, PolyLine, Rect, String
from reportlab.lib.colors import HexColor

from racecard.formats.label_sheets import BOLD, PLAIN, register_fonts

INK, PALE, RULE, MUTED = (HexColor(c) for c in ("#22302a", "#a9b3a5", "#d9d2bf", "#5d6458"))
_LEFT, _PLOT, _RIGHT = 150.0, 390.0, 180.0
_TOP, _LANE, _GAP, _FOOT = 34.0, 78.0, 10.0, 26.0
_MOST_LINES = 60


@dataclass(frozen=True, slots=True)
class LaneLine:
    """One plant's line in days; None where a thing never happened."""

    after: float | None
    by: float | None
    lost: float | None
    removed: float | None
    last: float


@dataclass(frozen=True, slots=True)
class LaneShown:
    """One lane: its words, its lines, its curve as (day, share)."""

    name: str
    role: str
    says: str
    figure: str
    called: str
    lines: tuple[LaneLine, ...]
    curve: tuple[tuple[float, float], ...]
    is_pace: bool = False


def as_svg(drawing: Drawing) -> str:
    """The drawing as a stand-alone SVG."""
    return str(renderSVG.drawToString(drawing))


def lanes_drawing(
    title: str, lanes: Sequence[LaneShown], last_day: float, seen_until: float
) -> Drawing:
    """The lanes in grey: pale from the last look without to the first with, dark after, the pace dashed.

    Args:
        title: what the drawing is called.
        lanes: one a treatment, in order.
        last_day: right end of the axis.
        seen_until: last day on which all were looked at; the pace line ends there.
    """
    register_fonts()
    high = _TOP + len(lanes) * (_LANE + _GAP) + _FOOT
    sheet = _Sheet(Drawing(_LEFT + _PLOT + _RIGHT, high), high, max(1.0, last_day))
    sheet.words(0, 18, title, 13, bold=True)
    pace = next((lane.curve for lane in lanes if lane.is_pace), ())
    ticks = _ticks(last_day)
    for i, lane in enumerate(lanes):
        top = _TOP + i * (_LANE + _GAP)
        for day in ticks:
            sheet.line(sheet.x(day), top, sheet.x(day), top + _LANE, RULE, 0.6)
        _say(sheet, lane, top)
        if len(lane.lines) > _MOST_LINES:
            _band(sheet, lane.lines, top)
        else:
            _lines(sheet, lane.lines, top)
        if pace and not lane.is_pace:
            _pace(sheet, pace, top, seen_until)
    bottom = _TOP + len(lanes) * (_LANE + _GAP) + 8
    for day in ticks:
        sheet.words(sheet.x(day), bottom, f"{day:g}", 9, "middle", colour=MUTED)
    sheet.words(_LEFT - 8, bottom, "day", 9, "end", colour=MUTED)
    return sheet.drawing


@dataclass(frozen=True, slots=True)
class _Sheet:
    """A drawing with y running down, and days along x."""

    drawing: Drawing
    high: float
    last_day: float

    def x(self, day: float) -> float:
        return _LEFT + _PLOT * min(day, self.last_day) / self.last_day

    def words(
        self, x: float, y: float, text: str, size: float, at: str = "start", *, bold: bool = False,
        colour: object = INK,
    ) -> None:  # fmt: skip
        font = BOLD if bold else PLAIN
        self.drawing.add(
            String(
                x,
                self.high - y,
                text,
                fontName=font,
                fontSize=size,
                textAnchor=at,
                fillColor=colour,
            )
        )

    def line(
        self, x1: float, y1: float, x2: float, y2: float, colour: object = INK, width: float = 1.0
    ) -> None:
        self.drawing.add(
            Line(x1, self.high - y1, x2, self.high - y2, strokeColor=colour, strokeWidth=width)
        )

    def box(self, x: float, y: float, wide: float, high: float, fill: object) -> None:
        self.drawing.add(
            Rect(
                x, self.high - y - high, wide, high, fillColor=fill, strokeColor=None, strokeWidth=0
            )
        )


def _say(sheet: _Sheet, lane: LaneShown, top: float) -> None:
    right = _LEFT + _PLOT + 12
    sheet.words(
        0, top + 14, lane.name if len(lane.name) < 25 else lane.name[:23] + "…", 11, bold=True
    )
    sheet.words(0, top + 28, lane.role, 9, colour=MUTED)
    sheet.words(0, top + 42, lane.says, 9, colour=MUTED)
    sheet.words(right, top + 16, lane.figure, 11, bold=True)
    sheet.words(right, top + 32, lane.called, 10)


def _ticks(last_day: float) -> list[float]:
    every = 2 if last_day <= 14 else 7 if last_day <= 70 else 28
    days = [float(d) for d in range(0, int(last_day), every) if d < last_day - every / 2 or d == 0]
    return [*days, float(last_day)]


def _lines(sheet: _Sheet, lines: Sequence[LaneLine], top: float) -> None:
    step = _LANE / max(1, len(lines))
    thick = max(0.8, min(7.0, step * 0.7))
    for i, line in enumerate(lines):
        y = top + (i + 0.5) * step
        end = line.lost if line.lost is not None else line.removed
        if end is None:
            end = line.last
        until = sheet.x(line.by if line.by is not None else end)
        sheet.line(sheet.x(0), y, until, y, RULE, 0.7)
        if line.by is not None:
            start, by = sheet.x(line.after or 0.0), sheet.x(line.by)
            stop = sheet.x(line.lost if line.lost is not None else max(line.last, line.by))
            sheet.box(start, y - thick / 2, by - start, thick, PALE)
            sheet.box(by, y - thick / 2, max(1.2, stop - by), thick, INK)
        if line.lost is not None:
            at, arm = sheet.x(line.lost), min(3.0, max(1.6, step * 0.45))
            sheet.line(at - arm, y - arm, at + arm, y + arm)
            sheet.line(at + arm, y - arm, at - arm, y + arm)
        elif line.removed is not None:
            at = sheet.x(line.removed)
            sheet.line(at, y - step / 2, at, y + step / 2, INK, 1.6)
        elif line.by is None:
            ring = Circle(sheet.x(line.last), sheet.high - y, min(2.4, max(1.2, step * 0.36)))
            ring.fillColor, ring.strokeColor, ring.strokeWidth = HexColor("#ffffff"), INK, 0.7
            sheet.drawing.add(ring)


def _band(sheet: _Sheet, lines: Sequence[LaneLine], top: float) -> None:
    def perhaps(line: LaneLine) -> float | None:
        return None if line.by is None else line.after or 0.0

    shades: tuple[tuple[object, Callable[[LaneLine], float | None]], ...] = (
        (PALE, perhaps), (INK, lambda line: line.by),
    )  # fmt: skip
    for colour, of in shades:
        days = sorted(d for line in lines if (d := of(line)) is not None)
        for i, day in enumerate(days):
            after = days[i + 1] if i + 1 < len(days) else sheet.last_day
            if after > day:
                share = (i + 1) / len(lines)
                sheet.box(sheet.x(day), top, sheet.x(after) - sheet.x(day), share * _LANE, colour)


def _pace(sheet: _Sheet, curve: Sequence[tuple[float, float]], top: float, until: float) -> None:
    y = top
    points = [sheet.x(0), sheet.high - y]
    for day, share in curve:
        points += [sheet.x(day), sheet.high - y]
        y = top + share * _LANE
        points += [sheet.x(day), sheet.high - y]
    points += [sheet.x(until), sheet.high - y]
    edge = HexColor("#ffffff")  # so that the dashes show on dark lines
    sheet.drawing.add(PolyLine(points, strokeColor=edge, strokeWidth=3.4, fillColor=None))
    sheet.drawing.add(
        PolyLine(points, strokeColor=INK, strokeWidth=1.5, strokeDashArray=[5, 3], fillColor=None)
    )
