"""Root systems drawn from their make-up, so that the right score is known: invented, in millimetres."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from math import cos, pi, sin

import numpy as np

from racecard.core.arrays import Floats
from racecard.core.log.lift import SCORE_NEEDS, proposed_score
from racecard.core.streams import generator

SESSION = 24
"""Drawings in one sitting: four of each score, in shuffled order."""
Point = tuple[float, float]


class RootKind(StrEnum):
    """What a root system is like; scorers tend to be kinder to some than to others."""

    EVEN = "even all round"
    ONE_SIDED = "one-sided"
    FEW_LONG = "few and long"
    MANY_SHORT = "many and short"


@dataclass(frozen=True, slots=True)
class DrawnRoots:
    """One drawing: `lines` seen from the side, mm from the base of the stem, y downward; `around`: where
    roots start as seen from below, radians; `clod`: medium that stays on, 0 none to 4 whole ball.
    `score` is what its parts make.
    """

    kind: RootKind
    score: int
    parts: Mapping[str, float]
    lines: tuple[tuple[Point, ...], ...]
    around: tuple[float, ...]
    clod: int


@lru_cache(maxsize=256)
def session(seed: int) -> tuple[DrawnRoots, ...]:
    """The drawings of one sitting, the same for the same seed."""
    rng = generator(seed, "scorer trainer")
    targets = np.repeat(np.arange(6), SESSION // 6)
    return tuple(drawn_roots(int(t), rng) for t in rng.permutation(targets))


def drawn_roots(target: int, rng: np.random.Generator) -> DrawnRoots:
    """A root system whose make-up has this score, of any kind.

    Args:
        target: the score, 0 to 5.
        rng: what the roots are drawn from.
    """
    while True:
        kind = list(RootKind)[int(rng.integers(4))]
        parts = _parts(kind, target, rng)
        if proposed_score(parts) == target and _fits(kind, parts):
            return _lines_of(kind, target, parts, rng)


def _parts(kind: RootKind, target: int, rng: np.random.Generator) -> dict[str, float]:
    """A make-up that may have the target score; the caller asks until one has."""
    if target == 0:
        return {"roots": 0, "quarters": 0, "longest": 0, "branching": 0, "hold": 0, "wall": 0}
    roots = int(rng.integers(1, 13))
    longest = float(rng.integers(8, 70))
    if kind is RootKind.FEW_LONG:
        roots, longest = int(rng.integers(1, 6)), float(rng.integers(35, 75))
    elif kind is RootKind.MANY_SHORT:
        roots, longest = int(rng.integers(5, 14)), float(rng.integers(6, 30))
    most = min(4, roots, 2 if kind is RootKind.ONE_SIDED else 4)
    quarters = most if kind is RootKind.EVEN else int(rng.integers(1, most + 1))
    wall = 2 if longest >= 50 and quarters == 4 else 1 if longest >= 50 else 0
    made = {
        "roots": roots, "quarters": quarters, "longest": longest, "branching": int(rng.integers(0, 4)),
        "hold": int(rng.integers(0, min(4, int(roots * longest / 40)) + 1)), "wall": wall,
    }  # fmt: skip
    return made | {k: max(made[k], least) for k, least in SCORE_NEEDS[target].items()}


def _fits(kind: RootKind, parts: Mapping[str, float]) -> bool:
    """Whether a make-up is still of its kind."""
    return {
        RootKind.EVEN: parts["quarters"] >= min(3, parts["roots"]),
        RootKind.ONE_SIDED: parts["quarters"] <= 2,
        RootKind.FEW_LONG: parts["roots"] <= 6 and parts["longest"] >= 35,
        RootKind.MANY_SHORT: parts["roots"] >= 5 and parts["longest"] <= 30,
    }[kind] or parts["roots"] == 0


def _lines_of(
    kind: RootKind, score: int, parts: dict[str, float], rng: np.random.Generator
) -> DrawnRoots:
    n, quarters = int(parts["roots"]), int(parts["quarters"])
    first = int(rng.integers(4))
    sides = [(first + k) % 4 for k in range(quarters)]
    turn = [sides[i % quarters] for i in range(n)] if quarters else []
    around = tuple(float((q + rng.uniform(0.1, 0.9)) * pi / 2) for q in turn)
    lengths = [parts["longest"], *(max(5.0, parts["longest"] * rng.uniform(0.35, 0.9)) for _ in range(n - 1))]  # fmt: skip
    lines: list[tuple[Point, ...]] = []
    for where, length in zip(around, lengths, strict=False):
        lean = 0.75 * cos(where) + float(rng.normal(0, 0.12))
        main = _root((0.0, 0.0), pi / 2 - lean, length, rng)
        lines.append(main)
        for _ in range(int(parts["branching"]) if length >= 10 else 0):
            at = main[int(rng.integers(len(main) // 3, len(main)))]
            side = pi / 2 - lean + float(rng.choice((-1, 1))) * 0.8
            lines.append(_root(at, side, min(4.5, length / 4), rng))
    return DrawnRoots(kind, score, parts, tuple(lines), around, int(parts["hold"]))


def _root(start: Point, way: float, length: float, rng: np.random.Generator) -> tuple[Point, ...]:
    """A winding line of this length, mm."""
    steps = max(3, int(length / 3))
    turns: Floats = way + np.cumsum(rng.normal(0, 0.13, steps))
    x, y = start
    out = [start]
    for turn in turns:
        x += length / steps * cos(float(turn))
        y += length / steps * sin(float(turn))
        out.append((round(x, 2), round(y, 2)))
    return tuple(out)
