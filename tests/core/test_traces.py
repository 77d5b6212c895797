"""Lengths traced on a photo, against drawn roots whose length is known by integration."""

import json

import numpy as np
import pytest

from racecard.core.log.traces import Marks, marks_of, marks_text, measured
from racecard.errors import InvalidInput

SCALE = ((0.05, 0.05), (0.25, 0.05))


def drawn_root(rng: np.random.Generator) -> tuple[np.ndarray, float]:
    """A winding root as fine steps (n, 2), in widths, and its length: the sum of those steps."""
    n, length, reach = 3000, rng.uniform(0.05, 0.7), 0.03
    step = length / n
    bend = np.zeros(n)
    for i in range(1, n):
        bend[i] = bend[i - 1] * (1 - step / reach) + rng.normal() * 10 * np.sqrt(2 * step / reach)
    way = np.cumsum(bend * step) + rng.uniform(0, 2 * np.pi)
    at = np.cumsum(np.column_stack((np.cos(way), np.sin(way))) * step, axis=0)
    return at - at.min(axis=0), length


@pytest.mark.parametrize("by", ["drawn", "tapped"])
def test_drawn_roots_are_measured_to_two_per_cent(by: str) -> None:
    """Median error under 2 % for strokes and for taps that tremble by two pixels of 1,600."""
    rng = np.random.default_rng(20261129)
    off = []
    for _ in range(120):
        root, length = drawn_root(rng)
        if root.max() > 1:
            continue
        gap = 0.006 if by == "drawn" else 0.03
        seen = root[np.linspace(0, len(root) - 1, max(2, int(length / gap)) + 1).astype(int)]
        seen = np.clip(seen + rng.normal(0, 2 / 1600, seen.shape), 0, 1)
        taps = np.array(SCALE) + rng.normal(0, 1 / 1600, (2, 2))
        scale = (tuple(taps[0]), tuple(taps[1]))
        found = measured(Marks(scale, 20.0, (tuple(map(tuple, seen)),)))
        off.append(found.longest / (length * 20.0 / 0.2) - 1)
    assert len(off) > 80
    assert np.median(np.abs(off)) < 0.02
    assert abs(np.median(off)) < 0.01  # not long or short on the whole


def test_a_straight_line_keeps_its_length_and_roots_count_from_five_millimetres() -> None:
    lines = (((0.1, 0.2), (0.5, 0.2)), ((0.1, 0.3), (0.14, 0.3)), ((0.1, 0.4), (0.15, 0.4)))
    found = measured(Marks(SCALE, 20.0, lines))
    assert found.lengths == pytest.approx((40, 4, 5))
    assert found.longest == pytest.approx(40)
    assert found.roots == 2
    assert found.doubt_percent == pytest.approx(1.41, abs=0.01)
    assert "longest 40 mm, 2 of 5 mm or more" in found.says


def test_marks_come_back_as_they_were_kept() -> None:
    marks = Marks(SCALE, 12.5, (((0.1, 0.2), (0.5, 0.2512)),))
    assert marks_of(marks_text(marks)) == marks


@pytest.mark.parametrize(
    ("change", "at"),
    [
        ({"scale": [[0.1, 0.1], [0.101, 0.1]]}, "/scale"),
        ({"known_mm": 0}, "/known_mm"),
        ({"lines": []}, "/lines"),
        ({"lines": [[[0.1, 0.1]]]}, "/lines/0"),
        ({"lines": [[[0.1, 0.1], [1.2, 0.1]]]}, "/lines"),
    ],
)
def test_marks_that_cannot_be_measured_are_refused(change: dict[str, object], at: str) -> None:
    whole = {"scale": [[0.1, 0.1], [0.3, 0.1]], "known_mm": 10, "lines": [[[0, 0], [1, 1]]]}
    with pytest.raises(InvalidInput) as told:
        measured(marks_of(json.dumps(whole | change)))
    assert told.value.pointer == at


@pytest.mark.parametrize(
    "text", ["", "[]", "{}", '{"scale":[[1,2],[3,"x"]]}', "[" * 50_000, "1" * 70_000]
)
def test_text_that_is_no_marks_is_refused(text: str) -> None:
    with pytest.raises(InvalidInput):
        marks_of(text)
