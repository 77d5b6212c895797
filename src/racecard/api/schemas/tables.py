"""Tables of results over HTTP."""

from datetime import datetime

from pydantic import Field

from racecard.api.schemas.base import In, Out
from racecard.api.schemas.finish import FinishOut
from racecard.core.assess.grade import GRADE_WORDS
from racecard.core.exchange.audited import CEILINGS, MOST_ROWS, Audit, Detail, Told
from racecard.core.exchange.bounds import Ranges, ReadTable
from racecard.core.model import Kind, Role
from racecard.core.model.table_rows import BadCell, Sheet, UnitKind
from racecard.core.text.gardens import turnout_says

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


class RangeOut(Out):
    """What holds for every reading of counts in bounds: rates as shares, and the grade in words."""

    treatment: str
    rate_low: float
    rate_high: float
    grade: str | None


class WorkOut(Out):
    """A long table that is still being read: what to ask for it by, and its rows read so far."""

    id: str
    rows: int


class TableOut(Out):
    """What was understood of a table, what is wrong with it, and what it comes to."""

    id: str | None
    name: str
    rows: int
    columns: list[str]
    left_aside: list[str]
    read_as: list[str] = Field([])
    """What was made of a table in columns of its own, in sentences."""
    bad: list[BadCellOut]
    bad_total: int
    problem: str | None
    unit: UnitKind | None
    control: str | None
    ceiling: str
    arms: list[TableArm]
    finish: FinishOut | None
    work: WorkOut | None = None
    ranges: list[RangeOut] = Field([])
    """Empty where every count is exact."""
    kind: Kind = Kind.CUTTING
    """What it holds; cuttings where it does not say."""
    turnout_says: str = ""
    """How many gardens joined and sent a result, where these are the returns of many."""
    invented: bool = False
    asks_dates: str | None = None
    """Asks for the order of dates that could be read two ways; nothing is read until it is told."""

    @classmethod
    def asking(cls, name: str, id: str | None, question: str) -> "TableOut":
        """A table whose dates could be read two ways."""
        return cls.at_work(name, id, None).model_copy(update={"asks_dates": question})

    @classmethod
    def at_work(cls, name: str, id: str | None, work: WorkOut | None) -> "TableOut":
        """A table of which nothing is known yet."""
        return cls(
            id=id, name=name, rows=work.rows if work else 0, columns=[], left_aside=[], bad=[], bad_total=0, problem=None,
            unit=None, control=None, ceiling="", arms=[], finish=None, work=work,
        )  # fmt: skip

    @classmethod
    def from_core(
        cls,
        sheet: Sheet,
        read: ReadTable | None,
        problem: str | None,
        *,
        name: str,
        id: str | None,
        invented: bool = False,
    ) -> "TableOut":
        table = read.table if read else None
        judged = table.judgement.arms if table else ()
        return cls(
            id=id, name=name, rows=sheet.read, columns=list(sheet.columns),
            left_aside=list(sheet.left_aside), read_as=list(sheet.read_as),
            bad=[BadCellOut.from_core(b) for b in sheet.bad[:MOST_TOLD]], bad_total=len(sheet.bad),
            problem=problem, unit=table.unit if table else None,
            control=table.control if table else None,
            ceiling=CEILINGS[table.detail] if table else "",
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
            , is_whole=False) if table else None,
            kind=table.plan.kind if table else Kind.CUTTING, invented=invented,
            turnout_says=turnout_says(sheet.turnout) if sheet.turnout else "",
            ranges=_ranges(read.ranges) if read and read.ranges and read.ranges.is_open else [],
        )  # fmt: skip


def _ranges(ranges: Ranges) -> list[RangeOut]:
    return [
        RangeOut(
            treatment=name, rate_low=low, rate_high=high,
            grade=GRADE_WORDS[ranges.grades[name]] if name in ranges.grades else None,
        )
        for name, (low, high) in ranges.rates.items()
    ]  # fmt: skip


class TableLine(Out):
    """A table in a list."""

    id: str
    name: str
    created_at: datetime


class BroughtIn(Out):
    """The id of a trial that was brought in."""

    id: str


class ToldIn(In):
    """One line of a summary, as it was told; what was not told is left out."""

    treatment: str = Field(min_length=1, max_length=80)
    stuck: int | None = Field(None, ge=0, le=100_000)
    struck: int | None = Field(None, ge=0, le=100_000)
    percent: str = Field("", max_length=20)
    mean: str = Field("", max_length=20)
    mean_of: int | None = Field(None, ge=1, le=100_000)


class SummaryIn(In):
    """A summary of results without its raw data, the control first; a line may be named total."""

    rows: list[ToldIn] = Field(min_length=1, max_length=MOST_ROWS)

    def to_core(self) -> list[Told]:
        return [Told(i + 1, **r.model_dump()) for i, r in enumerate(self.rows)]


class FindingOut(Out):
    """One thing that does not add up."""

    code: str
    row: int
    says: str


class AuditOut(Out):
    """What the auditor found, what this detail allows, and how far missing counts could move a gap."""

    detail: Detail
    ceiling: str
    findings: list[FindingOut]
    bounds: list[str]

    @classmethod
    def from_core(cls, a: Audit) -> "AuditOut":
        found = [FindingOut(code=f.code, row=f.row, says=f.says) for f in a.findings]
        return cls(detail=a.detail, ceiling=a.ceiling, findings=found, bounds=list(a.bounds))
