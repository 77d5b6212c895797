"""The form book: every trial in one line, what they say of a plant, and the runs of one plan."""

from collections.abc import Sequence
from dataclasses import replace
from time import monotonic
from typing import Annotated

from fastapi import APIRouter, Depends, Query, Request, Response
from starlette.concurrency import run_in_threadpool

from racecard.api.deps import ShedDep, WhoDep
from racecard.api.schemas.form_book import (
    BroughtInOut,
    FormBookOut,
    FormLineOut,
    PlantBookOut,
    RateOut,
    RepeatOut,
    RunsOfPlanOut,
    TreatmentBookOut,
    UsualOut,
)
from racecard.api.uploads import FILE_BODY, whole_file
from racecard.core.exchange.judged import judge_sheet
from racecard.core.formbook.guesses import guessing_of
from racecard.core.formbook.line import FormLine, line_of_table, plant_of, stage_of
from racecard.core.formbook.plant import plant_book, usual_icc, usual_says, usual_spread
from racecard.core.formbook.search import Sort, Wanted, facets_of, found_lines, open_loops
from racecard.core.formbook.table import dictionary, rows_of
from racecard.core.formbook.treatment import treatment_book
from racecard.core.model import Kind
from racecard.core.model.table_rows import of_kind
from racecard.core.plan.repeat import repeat_of
from racecard.core.plan.templates import usual_percent
from racecard.errors import AppError, NotFound
from racecard.formats.book_file import (
    MOST_BYTES,
    BookTable,
    BookTrial,
    read_book,
    write_book,
)
from racecard.formats.book_file import (
    Book as BookOnFile,
)
from racecard.formats.sheet import read_sheet, write_lines
from racecard.formats.workbook import XLSX, write_workbook
from racecard.store.engine import Shed
from racecard.store.form_book import Book, form_book, lineage, lines_of, lines_of_plant
from racecard.store.imported_tables import ReadIn, list_tables, load_table
from racecard.store.trials import load_trial
from racecard.store.whole_book import Whole, bring_book, every_table, every_trial

router = APIRouter(prefix="/api", tags=["form book"])
_FOR_A_TABLE_S = 600.0
Asked = Annotated[str, Query(max_length=200)]


def _wanted(
    text: Asked = "", plant: Asked = "", method: Asked = "", quarter: Asked = "", year: Asked = "",
    verdict: Asked = "", state: Asked = "",
) -> Wanted:  # fmt: skip
    """What lines are looked for."""
    return Wanted(text, plant, method, quarter, year, verdict, state)


WantedDep = Annotated[Wanted, Depends(_wanted)]


@router.get("/form-book", operation_id="get_form_book")
def get_form_book(
    shed: ShedDep, wanted: WantedDep, sort: Sort = Sort.NEWEST,
    skip: Annotated[int, Query(ge=0)] = 0, most: Annotated[int, Query(ge=1, le=500)] = 50,
) -> FormBookOut:  # fmt: skip
    """A page of the book: trials that fit what is asked, in an order of one's choice."""
    book = _whole_book(shed)
    found = found_lines(book.lines, wanted, sort)
    return FormBookOut(
        lines=[FormLineOut.from_core(x) for x in found[skip : skip + most]], found=len(found),
        all=len(book.lines) + book.waiting, unfinished=len(open_loops(book.lines)),
        waiting=book.waiting, **FormBookOut.facets(facets_of(book.lines)),
    )  # fmt: skip


def _whole_book(shed: Shed, patience_s: float = 0.8) -> Book:
    """Trials, then imported results, as far as they are read; a table is judged once."""
    book = form_book(shed, patience_s=patience_s)
    tables, waiting = _tables(shed, monotonic() + patience_s)
    return Book((*book.lines, *tables), book.waiting + waiting)


def _tables(shed: Shed, until: float) -> tuple[list[FormLine], int]:
    """The lines of imported results; those not judged yet are, until a moment, and the rest counted."""
    lines, waiting = [], 0
    with shed.reading() as session:
        for id_, name, _ in list_tables(session):
            if id_ not in _TABLES and monotonic() > until:
                waiting += 1
                continue
            if id_ not in _TABLES:
                _TABLES[id_] = _line_of(name, load_table(session, id_))
            lines.append(_TABLES[id_])
    return lines, waiting


_TABLES: dict[str, FormLine] = {}
"""Lines of imported results by their id: what was imported never changes."""
_LONG_BYTES = 300_000


def _line_of(name: str, kept: ReadIn) -> FormLine:
    if len(kept.content) > _LONG_BYTES:
        return line_of_table(kept.id, name, None, None, "imported, a long table: open it to see")
    try:
        sheet = read_sheet(kept.content, kept.skipped, dates=kept.dates)
        sheet = of_kind(replace(sheet, turnout=kept.turnout), kept.kind)
        found = judge_sheet(sheet, unit=kept.unit, control=kept.control)
    except AppError as exc:
        return line_of_table(kept.id, name, None, None, exc.detail)
    says = f"imported {kept.created_at:%Y-%m-%d}"
    line = line_of_table(kept.id, name, found.plan, found.judgement, says)
    return replace(line, invented=kept.invented)


@router.get(
    "/form-book/table.csv", operation_id="get_form_book_table", response_class=Response,
    responses={200: {"content": {"text/csv": {}}, "description": "The lines that fit, as a table"}},
)  # fmt: skip
def get_form_book_table(shed: ShedDep, wanted: WantedDep) -> Response:
    """Every line that fits as CSV, a row for each treatment; all of them, however long it takes."""
    lines = _whole_book(shed, _FOR_A_TABLE_S).lines
    found = found_lines(lines, wanted)
    return _csv(rows_of(found), "racecard-form-book.csv")


@router.get(
    "/form-book/table.xlsx", operation_id="get_form_book_workbook", response_class=Response,
    responses={200: {"content": {XLSX: {}}, "description": "The lines that fit, and what columns mean"}},
)  # fmt: skip
def get_form_book_workbook(shed: ShedDep, wanted: WantedDep) -> Response:
    """The same as a workbook with its data dictionary on a sheet beside it."""
    lines = _whole_book(shed, _FOR_A_TABLE_S).lines
    found = found_lines(lines, wanted)
    content = write_workbook([("form book", rows_of(found)), ("columns", dictionary())])
    headers = {"Content-Disposition": 'attachment; filename="racecard-form-book.xlsx"'}
    return Response(content, media_type=XLSX, headers=headers)


@router.get(
    "/form-book/columns.csv", operation_id="get_form_book_columns", response_class=Response,
    responses={200: {"content": {"text/csv": {}}, "description": "What its columns mean"}},
)  # fmt: skip
def get_form_book_columns() -> Response:
    """The data dictionary of the form book's table."""
    return _csv(dictionary(), "racecard-form-book-columns.csv")


def _csv(rows: list[list[str]], name: str) -> Response:
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(write_lines(rows), media_type="text/csv; charset=utf-8", headers=headers)


@router.get(
    "/form-book/book.json", operation_id="take_out_form_book", response_class=Response,
    responses={200: {"content": {"application/json": {}}, "description": "Everything, as one file"}},
)  # fmt: skip
def take_out_book(shed: ShedDep) -> Response:
    """Every trial with its log and every imported table as one file; blind trials are named and left out."""
    with shed.reading() as session:
        found, tables = list(every_trial(session)), every_table(session)
    return _file_of(shed, found, tables, "form-book")


@router.get(
    "/trials/{trial_id}/series.json", operation_id="take_out_series", response_class=Response,
    responses={200: {"content": {"application/json": {}}, "description": "The runs, as one file"}},
)  # fmt: skip
def take_out_series(shed: ShedDep, trial_id: str) -> Response:
    """Every run of this trial's plan with its log as one file, made and brought in like a form book's."""
    with shed.reading() as session:
        found = list(every_trial(session, lineage(session, trial_id)))
    if not found:
        raise NotFound("There is no such trial here.")
    return _file_of(shed, found, [], f"series-{trial_id[:8]}")


def _file_of(shed: Shed, found: Sequence[Whole], tables: Sequence[ReadIn], name: str) -> Response:
    there = {t.id for t, _, _ in found if not t.is_sealed}
    book = BookOnFile(
        shed.now(),
        tuple(
            BookTrial(t.id, t.repeats if t.repeats in there else "", t, log, diary)
            for t, log, diary in found
            if t.id in there
        ),
        tuple(_as_book_table(t) for t in tables),
        tuple(t.plan.question for t, _, _ in found if t.id not in there),
    )  # fmt: skip
    headers = {"Content-Disposition": f'attachment; filename="racecard-{name}.json"'}
    return Response(write_book(book), media_type="application/json", headers=headers)


def _as_book_table(t: ReadIn) -> BookTable:
    return BookTable(
        t.name, t.created_at, t.content, t.unit, t.control, tuple(sorted(t.skipped)), t.dates,
        t.turnout, t.invented, t.kind,
    )  # fmt: skip


@router.post(
    "/form-book/bring-in", operation_id="bring_in_form_book", status_code=201, openapi_extra=FILE_BODY
)  # fmt: skip
async def bring_in_book(request: Request, shed: ShedDep, who: WhoDep) -> BroughtInOut:
    """Bring in a form book's file: what is here already is left as it is; all of it or nothing."""
    content = await whole_file(request, MOST_BYTES)
    return await run_in_threadpool(_bring_in, shed, who, content)


def _bring_in(shed: Shed, who: str, content: bytes) -> BroughtInOut:
    book = read_book(content)
    trials = [(t.key, t.repeats, (t.trial, t.log, t.entries)) for t in book.trials]
    tables = [
        ReadIn(
            "", t.name, t.created_at, t.content, t.unit, t.control, frozenset(t.skipped), t.dates,
            t.turnout, t.invented, t.kind,
        )
        for t in book.tables
    ]  # fmt: skip
    found = bring_book(shed, trials, tables, who)
    return BroughtInOut(
        trials=found.trials, tables=found.tables, already=found.already, left_out=list(book.left_out)
    )  # fmt: skip


@router.get("/form-book/plant", operation_id="get_plant_book")
def get_plant_book(shed: ShedDep, plant: Annotated[str, Query(max_length=200)]) -> PlantBookOut:
    """What the book says of one plant: its usual rate, its year, what is shown and what is open."""
    mine = lines_of_plant(shed, plant) if plant else []
    mine += [x for x in _tables(shed, monotonic() + 0.8)[0] if plant and x.plant == plant]
    if not mine:
        raise NotFound(f"The form book has no trial of {plant or 'a plant without a name'}.")
    first = next((x for x in mine if x.kind), mine[0])
    usual = usual_percent(first.stage, first.kind)
    book = plant_book(mine, plant, usual)
    return PlantBookOut.from_core(book, usual_says(book, usual), guessing_of(mine))


@router.get("/form-book/treatment", operation_id="get_treatment_book")
def get_treatment_book(
    shed: ShedDep, name: Annotated[str, Query(min_length=1, max_length=200)]
) -> TreatmentBookOut:
    """A treatment's record over every trial and imported table that compared it, by plant."""
    return TreatmentBookOut.from_core(treatment_book(_whole_book(shed).lines, name))


@router.get("/form-book/usual", operation_id="get_usual")
def get_usual(
    shed: ShedDep, material: Annotated[str, Query(max_length=5000)], kind: Kind,
    measure: Annotated[str, Query(max_length=20)] = "", expected: float = 0.0,
) -> UsualOut:  # fmt: skip
    """What the planner may take from the grower's own controls of this plant, and what that rests on."""
    plant, usual = plant_of(material), usual_percent(stage_of(material, kind), kind)
    lines = [x for x in lines_of_plant(shed, plant) if x.kind == kind.value] if plant else []
    book = plant_book(lines, plant, usual)
    rate = None if book.usual is None or not plant else RateOut.from_core(book.usual)
    return UsualOut(
        rate=rate, says=usual_says(book, usual) if rate else "",
        half_day=book.half_day if rate else None, icc=usual_icc(lines),
        spread=usual_spread(lines, measure, expected) if measure else None,
    )  # fmt: skip


@router.get("/trials/{trial_id}/runs", operation_id="get_runs")
def get_runs(shed: ShedDep, trial_id: str) -> RunsOfPlanOut:
    """The runs of this trial's plan, and what it changes against the one it repeats."""
    with shed.reading() as session:
        trial = load_trial(session, trial_id)
        ids = lineage(session, trial_id)
        old = load_trial(session, trial.repeats) if trial.repeats in ids else None
    repeat = None
    if old is not None:
        found = repeat_of(old.plan, trial.plan)
        repeat = RepeatOut.from_core(old.id, old.plan.question, found)
    return RunsOfPlanOut.from_core(lines_of(shed, ids), trial_id, repeat)
