"""Lengths and counts from marks on a photo: a scale of known length, and lines traced along roots.

Marks are kept in widths of the photo (x from 0 to 1, y on the same scale), so that they fit any
size the photo is kept in. A line drawn by hand trembles, which makes it too long; it is smoothed
before it is measured. `web/src/core/traces.ts` is the phone's half, driven by the same cases.
"""

import json
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

from racecard.core.log.lift import COUNTED_MM
from racecard.errors import InvalidInput

Point = tuple[float, float]

MOST_LINES, MOST_POINTS, MOST_TEXT = 60, 400, 60_000
_TALLEST = 4.0
_LEAST_SCALE = 0.02
_TAP = 0.002
"""How far off a tap may be, in widths: about three pixels of a photo as it is kept (common practice)."""
_WINDOW = 0.016
"""Points are averaged over this stretch either side, in widths, less near the ends."""


@dataclass(frozen=True, slots=True)
class Marks:
    """What was marked on a photo: two ends of a known length in mm, and the lines traced."""

    scale: tuple[Point, Point]
    known_mm: float
    lines: tuple[tuple[Point, ...], ...]


@dataclass(frozen=True, slots=True)
class Traced:
    """Lengths in mm of the lines in their order, the longest, how many count as roots, and by how
    many per cent all lengths may be off through the two taps on the scale.
    """

    lengths: tuple[float, ...]
    longest: float
    roots: int
    doubt_percent: float

    @property
    def says(self) -> str:
        """The measurement in one line."""
        n = len(self.lengths)
        lines = "1 line" if n == 1 else f"{n} lines"
        return (
            f"{lines}, the longest {self.longest:.0f} mm, {self.roots} of {COUNTED_MM:g} mm or more, "
            f"each to about {max(1, math.ceil(self.doubt_percent))} %"
        )


def measured(marks: Marks) -> Traced:
    """Lengths of the lines by the scale.

    Args:
        marks: scale and lines, in widths of the photo.

    Raises:
        InvalidInput: the scale is too short to measure by, no line, or a mark outside the photo.
    """
    _check(marks)
    scale = math.dist(*marks.scale)
    per_width = marks.known_mm / scale
    lengths = tuple(length_of(line) * per_width for line in marks.lines)
    roots = sum(round(x, 1) >= COUNTED_MM for x in lengths)
    return Traced(lengths, max(lengths), roots, 100 * math.sqrt(2) * _TAP / scale)


def length_of(line: Sequence[Point]) -> float:
    """Length of a traced line after smoothing, in widths; its two ends stay where they are."""
    return sum(math.dist(a, b) for a, b in pairwise(_smooth(line)))


def _smooth(line: Sequence[Point]) -> list[Point]:
    """Each point as the mean of its neighbours along the line within the window, which shrinks
    towards the ends; so a straight line and one tapped in long steps stay as they are.
    """
    along = [0.0]
    for a, b in pairwise(line):
        along.append(along[-1] + math.dist(a, b))
    out = []
    for i, here in enumerate(along):
        reach = min(_WINDOW, here, along[-1] - here) + 1e-12
        low = high = i
        while low > 0 and here - along[low - 1] <= reach:
            low -= 1
        while high < len(line) - 1 and along[high + 1] - here <= reach:
            high += 1
        k = min(i - low, high - i)
        near = line[i - k : i + k + 1]
        out.append((sum(x for x, _ in near) / len(near), sum(y for _, y in near) / len(near)))
    return out


def _check(marks: Marks) -> None:
    if not 0.1 <= marks.known_mm <= 2000:
        raise InvalidInput("The length of the scale must be 0.1 to 2000 mm.", "/known_mm")
    if not marks.lines or len(marks.lines) > MOST_LINES:
        raise InvalidInput(f"Trace at least one line, and at most {MOST_LINES}.", "/lines")
    for i, line in enumerate(marks.lines):
        if not 2 <= len(line) <= MOST_POINTS:
            raise InvalidInput(f"A line has 2 to {MOST_POINTS} points.", f"/lines/{i}")
    for x, y in (p for line in (marks.scale, *marks.lines) for p in line):
        if not (0 <= x <= 1 and 0 <= y <= _TALLEST):
            raise InvalidInput("A mark lies outside the photo: trace it again.", "/lines")
    if math.dist(*marks.scale) < _LEAST_SCALE:
        raise InvalidInput(
            "The two ends of the scale lie too close together to measure by: mark a longer stretch.",
            "/scale",
        )


def marks_of(text: str) -> Marks:
    """Marks from their JSON: {"scale": [[x, y], [x, y]], "known_mm": 10, "lines": [[[x, y], ...]]}.

    Args:
        text: the JSON; coordinates are shares of the picture's width.

    Raises:
        InvalidInput: it is too long or not of this shape.
    """
    if len(text) > MOST_TEXT:
        raise InvalidInput(
            f"The marks are longer than {MOST_TEXT} characters: trace fewer lines.", "/text"
        )
    try:
        found = json.loads(text)
        start, end = (_point(p) for p in found["scale"])
        lines = tuple(tuple(_point(p) for p in line) for line in found["lines"])
        return Marks((start, end), _number(found["known_mm"]), lines)
    except (ValueError, TypeError, KeyError, RecursionError) as exc:
        raise InvalidInput(
            "Marks need a scale of two points, its length in mm and lines of points.", "/text"
        ) from exc


def marks_text(marks: Marks) -> str:
    """Marks as the JSON that is kept, points to 4 digits."""
    found: Mapping[str, object] = {
        "scale": [_rounded(p) for p in marks.scale], "known_mm": marks.known_mm,
        "lines": [[_rounded(p) for p in line] for line in marks.lines],
    }  # fmt: skip
    return json.dumps(found, separators=(",", ":"))


def _rounded(p: Point) -> list[float]:
    return [round(p[0], 4), round(p[1], 4)]


def _point(raw: object) -> Point:
    if not isinstance(raw, list) or len(raw) != 2:
        raise ValueError("no point")
    return _number(raw[0]), _number(raw[1])


def _number(raw: object) -> float:
    if isinstance(raw, bool) or not isinstance(raw, int | float) or not math.isfinite(raw):
        raise ValueError("no number")
    return float(raw)
