"""Other gardens that are not there: they join, start when they like, and send in a form, sound or faulty."""

import csv
import io
from datetime import date, timedelta

import numpy as np

from racecard.core.streams import generator

HEADS = ("Garden", "Sown on", "Counted on", "Seeds in each", "Warm soak", "Dry", "Remarks")
_DAYS = 21
_FAULTS = ("late", "half", "twice", "words", "too many", "date", "withdrew")


def played_form(
    count: int, silent: float, *, faults: bool, seed: int, first: date, dry: float = 0.5, soaked: float = 0.65
) -> str:  # fmt: skip
    """A form as CSV: one row for each garden, with those that sent none, and slips if wanted.

    Args:
        count: gardens that joined.
        silent: share that sends no result.
        faults: whether about one in four makes a slip: starts late, forgets a pot, sends twice, writes nonsense.
        seed: the same seed plays the same gardens.
        first: day on which the first may start.
        dry, soaked: true shares that come up.
    """
    rng = generator(seed, "gardens")
    rows: list[list[str]] = []
    for i in range(1, count + 1):
        garden = f"G{i:02d}"
        start = first + timedelta(days=int(rng.integers(0, 10)))
        if rng.random() < silent:
            rows.append([garden, f"{start}", "", "10", "", "", ""])
            continue
        up = [int(rng.binomial(10, _own(rate, rng))) for rate in (soaked, dry)]
        row = [garden, f"{start}", f"{start + timedelta(days=_DAYS)}", "10", *map(str, up), ""]
        slip = _FAULTS[int(rng.integers(0, len(_FAULTS)))] if faults and rng.random() < 0.25 else ""
        rows += _with(slip, row, start)
    out = io.StringIO(newline="")
    csv.writer(out).writerows([HEADS, *rows])
    return out.getvalue()


def _own(rate: float, rng: np.random.Generator) -> float:
    """A garden's own share: sills differ."""
    return float(rng.beta(8 * rate, 8 * (1 - rate)))


def _with(slip: str, row: list[str], start: date) -> list[list[str]]:
    bad = list(row)
    if slip == "late":
        bad[1:3] = [f"{start + timedelta(days=30)}", f"{start + timedelta(days=30 + _DAYS)}"]
    elif slip == "half":
        bad[5] = ""
    elif slip == "words":
        bad[4] = "lots"
    elif slip == "too many":
        bad[4] = "14"
    elif slip == "date":
        bad[2] = "31 February"
    elif slip == "withdrew":
        bad[4:7] = ["", "", "withdrew, cat"]
    return [row, row] if slip == "twice" else [bad]
