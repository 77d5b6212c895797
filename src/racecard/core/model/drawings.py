"""One description of every silk and stage drawing, painted alike on screen and on paper.

A shape is an SVG path with the *tone* of its fill and stroke; the painter owns the colours of the
tones (screen, dark shed or grey print). Silks stand on a 32 x 32 square, stage drawings on a
64 x 72 card with the surface of the medium at y = 40.
"""

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Shape:
    """One path: `d` as in SVG; a tone of "" is not painted; `width` of the stroke in grid units."""

    d: str
    fill: str = ""
    stroke: str = ""
    width: float = 0.0


@dataclass(frozen=True, slots=True)
class Silk:
    """A pattern and two colours, told apart in grey by the pattern alone."""

    id: str
    name: str
    ground: str
    ink: str
    shapes: tuple[Shape, ...]


def _box(x: float, y: float, w: float, h: float, fill: str = "ink") -> Shape:
    return Shape(f"M{x} {y}h{w}v{h}h{-w}z", fill)


def _dot(
    x: float, y: float, r: float, fill: str = "ink", stroke: str = "", width: float = 0
) -> Shape:
    return Shape(
        f"M{x - r} {y}a{r} {r} 0 1 0 {2 * r} 0a{r} {r} 0 1 0 {-2 * r} 0z", fill, stroke, width
    )


def _line(d: str, tone: str, width: float) -> Shape:
    return Shape(d, "", tone, width)


SILKS = (
    Silk("plain", "plain", "#cfc8b4", "#6b7267", ()),
    Silk("halves", "halves", "#cfc8b4", "#5c6a60", (_box(0, 0, 16, 32),)),
    Silk("hoops", "hoops", "#e2ecd2", "#4d6b3c", (_box(0, 3, 32, 5), _box(0, 13.5, 32, 5), _box(0, 24, 32, 5))),
    Silk("chevron", "chevron", "#f3dccb", "#a94d26", (
        Shape("M0 12L16 3L32 12V18L16 9L0 18z", "ink"), Shape("M0 25L16 16L32 25V31L16 22L0 31z", "ink"))),
    Silk("spots", "spots", "#d8e4ec", "#34556b", (
        _dot(8, 8, 3.4), _dot(24, 8, 3.4), _dot(16, 16, 3.4), _dot(8, 24, 3.4), _dot(24, 24, 3.4))),
    Silk("quarters", "quarters", "#ecdce8", "#6b3a5b", (_box(0, 0, 16, 16), _box(16, 16, 16, 16))),
    Silk("sash", "sash", "#f4e6bf", "#8a6410", (Shape("M0 22L22 0H32L0 32z", "ink"),)),
    Silk("diamonds", "diamonds", "#d6ebe6", "#1f6a62", (
        Shape("M16 3L23 16L16 29L9 16z", "ink"), Shape("M0 9L5 16L0 23z", "ink"), Shape("M32 9L27 16L32 23z", "ink"))),
    Silk("cross", "cross", "#e9e0d3", "#5d4630", (_box(12.5, 0, 7, 32), _box(0, 12.5, 32, 7))),
    Silk("stripes", "stripes", "#f6dede", "#94324a", (_box(4, 0, 4, 32), _box(14, 0, 4, 32), _box(24, 0, 4, 32))),
    Silk("frame", "frame", "#dfe0f0", "#3d4787", (Shape("M0 0H32V32H0zM7 7V25H25V7z", "ink"),)),
    Silk("check", "check", "#e6e6df", "#2d2f2c", (
        _box(0, 0, 8, 8), _box(16, 0, 8, 8), _box(8, 8, 8, 8), _box(24, 8, 8, 8),
        _box(0, 16, 8, 8), _box(16, 16, 8, 8), _box(8, 24, 8, 8), _box(24, 24, 8, 8))),
)  # fmt: skip

_SOIL = _line("M8 40H56", "soil", 2)
_STEM = _line("M32 12V58", "stem", 5)
_TWIGS = _line("M32 26L16 18M32 30L48 20", "stem", 4)
_GREEN = (_SOIL, _STEM, _TWIGS)
_WITHERED = (_SOIL, _line("M32 14V58", "dead", 5), _line("M32 28L18 36M32 24L46 34", "dead", 4))
_SEED = _dot(32, 52, 6.5, "seed", "soil", 1.5)

STAGES: dict[str, tuple[Shape, ...]] = {
    "settled": _GREEN,
    "swollen": (*_GREEN, Shape("M27 46Q22 56 28 61H36Q42 56 37 46z", "stem")),
    "callus": (*_GREEN, _dot(32, 59, 6, "callus", "calluslight", 1.6)),
    "bulges": (*_GREEN, _dot(32, 60, 4.5, "callus", "calluslight", 1.4),
               _dot(26, 54, 4, "callus", "calluslight", 1.4), _dot(38, 51, 4, "callus", "calluslight", 1.4)),
    "root": (*_GREEN, _line("M32 56Q30 64 21 67", "root", 3.6)),
    "rooted": (*_GREEN, _line("M32 55Q22 56 18 69M32 56V70M32 55Q42 56 46 69", "root", 3)),
    "plantable": (*_GREEN, _line("M32 52Q16 52 11 66M32 55Q24 58 22 70M32 56V70M32 55Q40 58 42 70M32 52Q48 52 53 66",
                                 "root", 2.8)),
    "rotted": (_SOIL, _line("M32 14V50", "dead", 5), _line("M23 50L41 66M41 50L23 66", "loss", 4)),
    "dried": _WITHERED,
    "mouldy": (_SOIL, _line("M32 60V18", "dead", 5), _dot(24, 24, 5, "muted"), _dot(40, 20, 6, "muted"),
               _dot(34, 33, 4.5, "muted"), _line("M23 46L41 62M41 46L23 62", "loss", 4)),
    "unknown": (_SOIL, _line("M32 60V44", "dead", 5),
                _line("M25 22Q25 12 33 12Q41 12 41 20Q41 26 33 29V34", "loss", 3.5), _dot(33, 40, 2.2, "loss")),
    "tip_browning": (Shape("M14 62Q10 28 34 10Q52 34 30 58Q22 64 14 62z", "leaf", "stem", 1.5),
                     Shape("M34 10Q43 21 44 32Q34 30 25 19z", "dead")),
    "curl": (Shape("M12 58Q10 30 30 14Q52 8 50 26Q48 38 36 34Q44 30 42 22Q34 16 26 30Q20 44 22 62z", "leaf", "stem", 1.5),),
    "yellowing": (Shape("M14 62Q10 28 34 10Q52 34 30 58Q22 64 14 62z", "seed", "stem", 1.5),
                  _line("M17 60Q28 40 33 16M25 42L37 34M22 50L32 48", "stem", 2.2)),
    "base_burn": (_SOIL, _line("M32 10V44", "stem", 5), _line("M32 44V66", "dead", 7),
                  _line("M24 50L20 46M40 50L44 46M24 60L19 60M40 60L45 60", "loss", 2.5)),
    "damaged": (_SOIL, _line("M32 58V34", "stem", 5), _line("M33 30L46 14", "dead", 5),
                _line("M26 34L30 29L33 34L38 29", "loss", 2.5)),
    "removed": (_SOIL, _line("M32 44V12M24 20L32 11L40 20", "muted", 3.5), _line("M24 50H40", "muted", 2.5)),
    "shoot": (Shape("M32 14Q22 8 32 -2Q42 8 32 14z", "leaf", "stem", 1.5),),
    "bud": (*_GREEN, _dot(32, 20, 5, "leaf", "stem", 1.5)),
    "shoot_tip": (*_GREEN, Shape("M32 16Q25 10 32 1Q39 10 32 16z", "leaf", "stem", 1.5)),
    "shoot_grown": (*_GREEN, _line("M32 14V4", "stem", 3), Shape("M32 6Q24 4 24 -2Q32 -3 32 6z", "leaf", "stem", 1.4),
                    Shape("M32 6Q40 4 40 -2Q32 -3 32 6z", "leaf", "stem", 1.4)),
    "leaf_open": (*_GREEN, _line("M32 14V6", "stem", 3), Shape("M32 10Q16 12 10 0Q26 -4 32 10z", "leaf", "stem", 1.4),
                  Shape("M32 10Q48 12 54 0Q38 -4 32 10z", "leaf", "stem", 1.4)),
    "flower_bud": (_SOIL, _line("M32 58V20", "stem", 4), Shape("M32 22Q24 14 32 4Q40 14 32 22z", "leaf", "stem", 1.6)),
    "flower_colour": (_SOIL, _line("M32 58V20", "stem", 4), Shape("M32 22Q24 14 32 4Q40 14 32 22z", "leaf", "stem", 1.6),
                      Shape("M32 14Q28 10 32 4Q36 10 32 14z", "loss")),
    "flower_open": (_SOIL, _line("M32 58V24", "stem", 4), _dot(24, 12, 6, "loss"), _dot(40, 12, 6, "loss"),
                    _dot(32, 6, 6, "loss"), _dot(27, 20, 6, "loss"), _dot(37, 20, 6, "loss"), _dot(32, 14, 4, "callus")),
    "flower_over": (_SOIL, _line("M32 58V26Q32 18 42 18", "dead", 4), _dot(45, 22, 5, "dead")),
    "bulb_set": (_SOIL, Shape("M32 40Q18 48 20 58Q24 66 32 66Q40 66 44 58Q46 48 32 40z", "seed", "soil", 1.5)),
    "bulb_swollen": (_SOIL, Shape("M32 36Q12 46 16 58Q22 69 32 69Q42 69 48 58Q52 46 32 36z", "seed", "soil", 1.5)),
    "bulb_bulblet": (_SOIL, Shape("M32 40Q18 48 20 58Q24 66 32 66Q40 66 44 58Q46 48 32 40z", "seed", "soil", 1.5),
                     _dot(47, 62, 5.5, "callus", "calluslight", 1.5)),
    "bulb_rooted": (_SOIL, Shape("M32 38Q20 45 22 53Q25 59 32 59Q39 59 42 53Q44 45 32 38z", "seed", "soil", 1.5),
                    _line("M28 59Q26 66 21 71M32 59V71M36 59Q38 66 43 71", "root", 2.8)),
    "bulb_leaf": (_SOIL, Shape("M32 40Q20 46 22 54Q25 60 32 60Q39 60 42 54Q44 46 32 40z", "seed", "soil", 1.5),
                  _line("M28 60Q26 66 22 70M36 60Q38 66 42 70", "root", 2.6),
                  Shape("M32 40Q22 22 28 2Q40 20 32 40z", "leaf", "stem", 1.5)),
    **{
        f"step_{n}": (_SOIL, *(_box(12 + 7 * i, 60 - 6 * i, 5, 4 + 6 * i, "stem" if i < n else "muted") for i in range(6)))
        for n in range(1, 7)
    },
    "dry": (_SOIL, _dot(32, 52, 5, "seed", "soil", 1.5)),
    "imbibed": (_SOIL, _dot(32, 52, 8, "seed", "callus", 2)),
    "radicle": (_SOIL, _SEED, _line("M32 58Q33 64 30 69", "root", 3.2)),
    "emerged": (_SOIL, _SEED, _line("M32 46V30Q32 22 40 24Q43 25 42 29", "stem", 4), _line("M32 58V69", "root", 3)),
    "cotyledons": (_SOIL, _line("M32 52V24", "stem", 4), _line("M32 52V69M32 58L24 66", "root", 2.8),
                   Shape("M32 25Q16 26 14 14Q28 12 32 25z", "leaf", "stem", 1.4),
                   Shape("M32 25Q48 26 50 14Q36 12 32 25z", "leaf", "stem", 1.4)),
    "trueleaf": (_SOIL, _line("M32 52V16", "stem", 4), _line("M32 52V69M32 58L24 66M32 60L41 67", "root", 2.8),
                 Shape("M32 30Q20 31 17 23Q28 21 32 30z", "leaf", "stem", 1.4),
                 Shape("M32 30Q44 31 47 23Q36 21 32 30z", "leaf", "stem", 1.4),
                 Shape("M32 18Q22 10 32 0Q42 10 32 18z", "leaf", "stem", 1.4)),
    "plantable-seed": (_SOIL, _line("M32 52V12", "stem", 4),
                       _line("M32 52V70M32 56L20 66M32 56L44 66M32 60L26 70M32 60L39 70", "root", 2.6),
                       Shape("M32 34Q18 35 14 26Q28 23 32 34z", "leaf", "stem", 1.4),
                       Shape("M32 34Q46 35 50 26Q36 23 32 34z", "leaf", "stem", 1.4),
                       Shape("M32 22Q18 22 16 10Q30 8 32 22z", "leaf", "stem", 1.4),
                       Shape("M32 22Q46 22 48 10Q34 8 32 22z", "leaf", "stem", 1.4)),
    "mould": (_SOIL, _dot(32, 52, 6.5, "dead"), _line("M20 52H24M40 52H44M23 43L26 46M41 43L38 46M32 40V44", "muted", 2),
              _line("M26 58L38 66M38 58L26 66", "loss", 3.5)),
    "damped": (_SOIL, _line("M30 52V40Q32 36 46 38", "dead", 3), Shape("M46 38Q52 33 56 39Q50 44 46 38z", "dead"),
               _line("M24 56L38 68M38 56L24 68", "loss", 3.5)),
}  # fmt: skip
"""Stage drawings by the `drawing` names of the ladders; "shoot" is laid over another."""


def free_silk(worn: Sequence[str]) -> str:
    """The first silk nobody wears; plain is the reference's alone."""
    return next((s.id for s in SILKS if s.id != "plain" and s.id not in worn), SILKS[-1].id)
