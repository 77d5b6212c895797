"""Tables of results over HTTP."""

from datetime import datetime

from racecard.api.schemas.base import Out
from racecard.api.schemas.finish import FinishOut
from racecard.core.model import Role
from racecard.core.table.judged import JudgedTable, UnitKind
from racecard.core.table.rows import BadCell, Sheet

MOST_TOLD = 200


class BadCellOut(Out):
    """A value that breaks a rule."""

    row: int
    column: str
    value: str
    says: str

    @classmethod
    def from_core(cls, bad: BadCell) -> "BadCellOut":
        return cls(row=bad.row, column=bad.column, value=bad.value, says=bad.says())


class TableArm(Out):
    """A treatment as the table tells of it."""

    name: str
    role: Role
    units: int
    plants: int
    struck: int


class TableOut(Out):
    """What was understood of a table, what is wrong with it, and what it comes to."""

    id: str | None
    name: str
    rows: int
    columns: list[str]
    left_aside: list[str]
    bad: list[BadCellOut]
    bad_total: int
    problem: str | None
    unit: UnitKind | None
    control: str | None
    arms: list[TableArm]
    finish: FinishOut | None

    @classmethod
    def from_core(
        cls,
        sheet: Sheet,
        table: JudgedTable | None,
        problem: str | None,
        *,
        name: str,
        id: str | None,
    ) -> "TableOut":
        judged = table.judgement.arms if table else ()
        return cls(
            id=id, name=name, rows=sheet.read, columns=list(sheet.columns),
            left_aside=list(sheet.left_aside),
            bad=[BadCellOut.from_core(b) for b in sheet.bad[:MOST_TOLD]], bad_total=len(sheet.bad),
            problem=problem, unit=table.unit if table else None,
            control=table.control if table else None,
            arms=[
                TableArm(
                    name=table.plan.treatments[a.index].name,
                    role=table.plan.treatments[a.index].role,
                    units=a.strike.units, plants=a.strike.n, struck=a.strike.struck,
                )
                for a in judged
                if table
            ],
            finish=FinishOut.from_core(
                table.plan, table.results, table.whole, timed=table.timed
            ) if table else None,
        )  # fmt: skip


class TableLine(Out):
    """A table in a list."""

    id: str
    name: str
    created_at: datetime


class BroughtIn(Out):
    """The id of a trial that was brought in."""

    id: str
