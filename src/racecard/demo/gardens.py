"""The returns of an invented trial in many gardens: 19 joined, 14 sent a result."""

from datetime import date, timedelta

import numpy as np

from racecard.core.exchange.gardens import read_returns, table_lines
from racecard.core.model import Kind
from racecard.formats.sheet import write_lines
from racecard.store.engine import Shed
from racecard.store.imported_tables import keep_table

NAME = "Parsley in 19 gardens: warm soak or sown dry?"
_HEADS = ("Garden", "Sown on", "Counted on", "Seeds in each", "Warm soak", "Sown dry", "Remarks")
_SEED, _SEEDS, _LAST_DAY = 1419, 20, 28
_SILENT, _NEVER_BEGAN, _LEFT = (3, 8, 12), 16, 10
_DRY, _SOAKED = 0.56, 0.74
_ALIKE = 14.0
"""How alike the seeds of one sill come up: the larger, the less sills differ."""


def garden_form(today: date) -> list[list[str]]:
    """What the gardens sent in, a row each, the heading first; all of them were sown by a month ago."""
    rng = np.random.default_rng(_SEED)
    rows = [list(_HEADS)]
    for garden in range(1, 20):
        sown = today - timedelta(days=_LAST_DAY + 3 + int(rng.integers(0, 12)))
        sill = rng.normal(0, 0.05)
        up = [_came_up(rate + sill, rng) for rate in (_SOAKED, _DRY)]
        row = [f"G{garden:02d}", f"{sown}", "", str(_SEEDS), "", "", ""]
        if garden == _NEVER_BEGAN:
            row[1] = ""
        elif garden == _LEFT:
            row[6] = "withdrew, the tray was knocked over"
        elif garden not in _SILENT:
            row[2:6] = [f"{sown + timedelta(days=_LAST_DAY)}", str(_SEEDS), *map(str, up)]
        rows.append(row)
    return rows


def _came_up(rate: float, rng: np.random.Generator) -> int:
    own = rng.beta(_ALIKE * rate, _ALIKE * (1 - rate))
    return int(rng.binomial(_SEEDS, own))


def keep_returns(shed: Shed, who: str) -> None:
    """Keep the returns as a table of results, each garden a block."""
    today = shed.now().date()
    found = read_returns(garden_form(today), {
        "garden": "Garden", "start": "Sown on", "date": "Counted on", "count": "Seeds in each",
        "struck:Warm soak": "Warm soak", "struck:Sown dry": "Sown dry", "status": "Remarks",
    }, today=today, length_days=_LAST_DAY, kind=Kind.SEED)  # fmt: skip
    keep_table(
        shed, NAME, write_lines(table_lines(found.sheet)), who, unit=None, control="Sown dry",
        skipped=frozenset(), turnout=found.sheet.turnout, invented=True,
    )  # fmt: skip
