"""What to gather before anything is cut, with spares."""

from collections.abc import Sequence
from math import ceil

from racecard.core.model import Cell, Kind, Plan

SPARE_SHARE = 0.10
"""Spares of cuttings, seed and labels: common practice."""


def to_gather(plan: Plan, cells: Sequence[Cell]) -> list[tuple[str, str]]:
    """Things and their numbers as words: propagules with a tenth to spare, containers, labels."""
    containers = sum(c.treatment >= 0 for c in cells)
    plants = containers * plan.per_container
    with_spares = ceil(plants * (1 + SPARE_SHARE))
    thing = "Cuttings, matched" if plan.kind is Kind.CUTTING else "Seeds, one lot"
    rows = [(thing, f"{with_spares} ({plants} + a tenth)"), ("Containers", str(containers))]
    if plan.per_container > 1:
        rows.append(("Plants in each container", str(plan.per_container)))
    rows.append(("Labels", str(ceil(containers * (1 + SPARE_SHARE)))))
    rows.append(("Trays", str(max((c.tray for c in cells), default=-1) + 1)))
    return rows
