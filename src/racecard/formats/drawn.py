"""The lanes of a finish as a drawing in greys, for the report and for pictures taken out."""

from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.graphics import renderSVG
from reportlab.graphics.shapes import Circle, Drawing, Line, PolyLine, Rect, String
from reportlab.lib.colors import HexColor

from racecard.core.assess.lane_geometry import (
    MOST_LINES,
    EndMark,
    LaneLine,
    cumulative,
    line_marks,
    ticks,
)
from racecard.formats.label_sheets import BOLD, PLAIN, register_fonts

INK, PALE, RULE, MUTED = (HexColor(c) for c in ("#22302a", "#a9b3a5", "#d9d2bf", "#5d6458"))
_LEFT, _PLOT, _RIGHT = 150.0, 390.0, 180.0
_TOP, _LANE, _GAP, _FOOT = 34.0, 78.0, 10.0, 26.0


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
    days = ticks(last_day)
    for i, lane in enumerate(lanes):
        top = _TOP + i * (_LANE + _GAP)
        for day in days:
            sheet.line(sheet.x(day), top, sheet.x(day), top + _LANE, RULE, 0.6)
        _say(sheet, lane, top)
        if len(lane.lines) > MOST_LINES:
            _band(sheet, lane.lines, top)
        else:
            _lines(sheet, lane.lines, top)
        if pace and not lane.is_pace:
            _pace(sheet, pace, top, seen_until)
    bottom = _TOP + len(lanes) * (_LANE + _GAP) + 8
    for day in days:
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


def _lines(sheet: _Sheet, lines: Sequence[LaneLine], top: float) -> None:
    step = _LANE / max(1, len(lines))
    thick = max(0.8, min(7.0, step * 0.7))
    for i, line in enumerate(lines):
        y, marks = top + (i + 0.5) * step, line_marks(line)
        sheet.line(sheet.x(0), y, sheet.x(marks.thin_to), y, RULE, 0.7)
        for days, fill, least in ((marks.pale, PALE, 0.0), (marks.dark, INK, 1.2)):
            if days is not None:
                start, stop = sheet.x(days[0]), sheet.x(days[1])
                sheet.box(start, y - thick / 2, max(least, stop - start), thick, fill)
        at = sheet.x(marks.end_at)
        if marks.end is EndMark.LOST:
            arm = min(3.0, max(1.6, step * 0.45))
            sheet.line(at - arm, y - arm, at + arm, y + arm)
            sheet.line(at + arm, y - arm, at - arm, y + arm)
        elif marks.end is EndMark.REMOVED:
            sheet.line(at, y - step / 2, at, y + step / 2, INK, 1.6)
        elif marks.end is EndMark.WAITING:
            ring = Circle(at, sheet.high - y, min(2.4, max(1.2, step * 0.36)))
            ring.fillColor, ring.strokeColor, ring.strokeWidth = HexColor("#ffffff"), INK, 0.7
            sheet.drawing.add(ring)


def _band(sheet: _Sheet, lines: Sequence[LaneLine], top: float) -> None:
    marks, n = [line_marks(line) for line in lines], len(lines)
    perhaps = cumulative((m.pale and m.pale[0] for m in marks), n)
    surely = cumulative((m.dark and m.dark[0] for m in marks), n)
    gone = cumulative((m.end_at for m in marks if m.dark is None and m.end is EndMark.LOST), n)
    for steps, colour, from_top in (
        (perhaps, PALE, True),
        (surely, INK, True),
        (gone, MUTED, False),
    ):
        for i, (day, share) in enumerate(steps):
            after = steps[i + 1][0] if i + 1 < len(steps) else sheet.last_day
            high = share * _LANE
            y = top if from_top else top + _LANE - high
            sheet.box(sheet.x(day), y, sheet.x(after) - sheet.x(day), high, colour)


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
