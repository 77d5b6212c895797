"""The demo's photos: drawn, not taken. Roots come from the generator of the scorer trainer."""

import io
from typing import TYPE_CHECKING

import numpy as np

from racecard.core.model import Unit
from racecard.core.trainer.drawn import Point, drawn_roots

if TYPE_CHECKING:
    from PIL.Image import Image as Picture
    from PIL.ImageDraw import ImageDraw as Pen

_SIZE = 900
_PAPER, _INK, _LABEL = "#e8e2d2", "#22302a", "#fffdf7"
_STEM, _ROOT, _SOIL = "#4d6b3c", "#8a6a3f", "#5a4634"
_PX_PER_MM = 7.0
_BASE = (410.0, 210.0)
_CLOD_MM = (0, 10, 18, 28, 40)
"""Radius of the medium that stays on, by how firmly it holds."""


def drawn_pot(pot: Unit, up: int, day: int) -> bytes:
    """A picture of a pot with so many seedlings, drawn: PNG bytes."""
    rng = np.random.default_rng([pot.cell.row, pot.cell.col, day])
    picture, pen = _sheet()
    pen.polygon([(190, 560), (710, 560), (650, 850), (250, 850)], fill="#9a5a3c")
    pen.ellipse((180, 500, 720, 620), fill=_SOIL)
    height = 60 + 16 * max(0, day - 5)
    for i in range(up):
        x = 260 + 380 * (i + 0.5) / max(up, 1) + float(rng.normal(0, 12))
        y = 560 + float(rng.normal(0, 18))
        top = y - height * float(rng.uniform(0.7, 1.2))
        pen.line((x, y, x, top), fill=_STEM, width=9)
        for side in (-1, 1):
            leaf = (x, top - 14, x + side * 44, top + 16)
            pen.ellipse(
                (min(leaf[0], leaf[2]), leaf[1], max(leaf[0], leaf[2]), leaf[3]), fill="#93bf78"
            )
    for k in range(11):
        pen.line(
            (800, 850 - 50 * k, 800 + (34 if k % 5 == 0 else 18), 850 - 50 * k),
            fill=_INK,
            width=5,
        )
    pen.line((800, 350, 800, 850), fill=_INK, width=5)
    _label(pen, (300, 690, 600, 800), f"{pot.cell.code}  day {day}")
    return _png(picture)


def drawn_lift(lifted: Unit, score: int, rng: np.random.Generator) -> bytes:
    """A picture of a lifted cutting whose roots have this score, with a scale of 10 mm: PNG bytes."""
    picture, pen = _sheet()
    roots = drawn_roots(score, rng)
    x, y = _BASE
    held = _CLOD_MM[roots.clod] * _PX_PER_MM
    if held:
        pen.ellipse((x - held, y, x + held, y + 1.25 * held), fill="#b9a88a")
    pen.line((x, 0, x, y + 12), fill=_STEM, width=30)
    for line in roots.lines:
        pen.line([_at(point) for point in line], fill=_ROOT, width=7, joint="curve")
    for tick in range(11):
        at = 820 - 10 * _PX_PER_MM * tick
        if at > 300:
            pen.line((830, at, 862 if tick % 5 == 0 else 850, at), fill=_INK, width=4)
    pen.line((830, 330, 830, 820), fill=_INK, width=4)
    _label(pen, (40, 770, 300, 860), lifted.cell.code)
    _text(pen, (770, 855), "10 mm a mark", 28)
    return _png(picture)


def _at(point: Point) -> tuple[float, float]:
    return _BASE[0] + _PX_PER_MM * point[0], _BASE[1] + _PX_PER_MM * point[1]


def _sheet() -> "tuple[Picture, Pen]":
    from PIL import Image, ImageDraw  # late: a start draws nothing

    picture = Image.new("RGB", (_SIZE, _SIZE), _PAPER)
    return picture, ImageDraw.Draw(picture)


def _label(pen: "Pen", box: tuple[float, float, float, float], text: str) -> None:
    pen.rectangle(box, fill=_LABEL, outline=_INK, width=4)
    _text(pen, ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2), text, 52)


def _text(pen: "Pen", at: tuple[float, float], text: str, size: int) -> None:
    from PIL import ImageFont

    pen.text(at, text, fill=_INK, anchor="mm", font=ImageFont.load_default(size))


def _png(picture: "Picture") -> bytes:
    out = io.BytesIO()
    picture.save(out, "PNG")
    return out.getvalue()
