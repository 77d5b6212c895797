"""The looks of a trial as a grid, over HTTP."""

import datetime as dt

from pydantic import ConfigDict, Field

from racecard.api.schemas.base import In, Out
from racecard.core.log.look_grid import MOST_MARKS, LookGrid, Marked


class MarkedIn(In):
    """One cell that was filled in or changed: the key or name of a stage, or what was counted; "" takes it back."""

    unit_id: str = Field(max_length=64)
    on: dt.date = Field(ge=dt.date(1970, 1, 1), le=dt.date(2199, 12, 31))
    mark: str = Field(max_length=80)


class MarksIn(In):
    """Cells of the grid, all or none."""

    model_config = ConfigDict(
        json_schema_extra={
            "example": {"cells": [{"unit_id": "a1b2c3d4", "on": "2026-05-12", "mark": "6s"}]}
        }
    )

    cells: list[MarkedIn] = Field(min_length=1, max_length=MOST_MARKS)

    def to_core(self) -> list[Marked]:
        return [Marked(c.unit_id, c.on, c.mark) for c in self.cells]


class GridUnit(Out):
    """One row: its unit, how it is called, and its treatment where that may be shown."""

    id: str
    name: str
    treatment: int | None
    tray: int
    marks: list[str]


class GridColumn(Out):
    """One date with looks."""

    on: dt.date
    day: int


class GridOut(Out):
    """Every look in force: a mark for each unit and date, "" where nobody looked."""

    columns: list[GridColumn]
    units: list[GridUnit]

    @classmethod
    def from_core(cls, grid: LookGrid, *, sealed: bool) -> "GridOut":
        return cls(
            columns=[GridColumn(on=on, day=d) for on, d in zip(grid.dates, grid.days, strict=True)],
            units=[
                GridUnit(
                    id=u.id, name=name, treatment=None if sealed else u.cell.treatment, tray=u.cell.tray,
                    marks=list(marks),
                )
                for u, name, marks in zip(grid.units, grid.names, grid.marks, strict=True)
            ],
        )  # fmt: skip


class PastedCell(Out):
    """One cell of a sheet, with the unit and date it belongs to."""

    unit_id: str
    on: dt.date
    mark: str


class PastedOut(Out):
    """What was read of a sheet; nothing is saved. `aside`: what was left out, in sentences."""

    cells: list[PastedCell]
    aside: list[str]
