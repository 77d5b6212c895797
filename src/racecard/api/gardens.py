"""Returns of many gardens: a form read by its columns, and kept as a table of results."""

from enum import StrEnum
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from starlette.concurrency import run_in_threadpool

from racecard.api.deps import ShedDep, WhoDep
from racecard.api.schemas.gardens import ReturnsOut
from racecard.api.schemas.tables import TableLine
from racecard.api.uploads import FILE_BODY, whole_file
from racecard.core.exchange.garden_pack import garden_pack
from racecard.core.exchange.gardens import (
    FIELDS,
    TEMPLATE,
    TEMPLATE_MEANINGS,
    Returns,
    guess_columns,
    judge_returns,
    read_returns,
    table_lines,
)
from racecard.core.model import Kind
from racecard.core.model.table_dates import DateOrder, OrderAsked
from racecard.errors import InvalidInput
from racecard.formats.garden_page import garden_page, garden_sheets
from racecard.formats.pack_file import write_pack
from racecard.formats.sheet import read_lines, write_lines
from racecard.formats.workbook import XLSX, write_workbook
from racecard.store.engine import Shed
from racecard.store.imported_tables import keep_table
from racecard.store.trials import load_trial

router = APIRouter(prefix="/api/gardens", tags=["tables"])
Columns = Annotated[
    list[str] | None,
    Query(alias="map", max_length=100, description="A field and its column: struck:Dry=Dry pots"),
]
Days = Annotated[int | None, Query(ge=1, le=730, description="Last day, from each garden's start")]
Enrolled = Annotated[
    int | None, Query(ge=1, le=100_000, description="Gardens that joined, if the form lacks some")
]
Holds = Annotated[Kind | None, Query(description="What was set: cuttings or seeds")]
Dates = Annotated[
    DateOrder | None,
    Query(description="What comes first in dates such as 03/04/2026, where it cannot be told"),
]


@router.post("/read", operation_id="read_gardens", openapi_extra=FILE_BODY)
async def post_read(
    request: Request, shed: ShedDep, columns: Columns = None, days: Days = None, dates: Dates = None,
    enrolled: Enrolled = None, kind: Holds = None,
) -> ReturnsOut:  # fmt: skip
    """What a form holds, row by row; nothing is saved. What is still to be said of it is asked."""
    content = await whole_file(request)
    return await run_in_threadpool(_read, shed, content, columns or [], days, dates, enrolled, kind)


@router.post("", operation_id="keep_gardens", status_code=201, openapi_extra=FILE_BODY)
async def post_keep(
    request: Request, shed: ShedDep, who: WhoDep, name: Annotated[str, Query(max_length=400)],
    control: Annotated[str, Query(max_length=200)], columns: Columns = None, days: Days = None,
    dates: Dates = None, enrolled: Enrolled = None,
    kind: Holds = None,
) -> TableLine:  # fmt: skip
    """Keep what could be taken as a table of results, each garden a block."""
    content = await whole_file(request)
    found = await run_in_threadpool(
        _returns, shed, content, columns or [], days, dates, enrolled, kind
    )
    judge_returns(found, control)  # refuses what cannot be judged before it is kept
    kept = keep_table(
        shed, name, write_lines(table_lines(found.sheet)), who, unit=None, control=control,
        skipped=frozenset(), turnout=found.sheet.turnout,
    )  # fmt: skip
    return TableLine(id=kept.id, name=kept.name, created_at=kept.created_at)


def _read(
    shed: Shed, content: bytes, columns: list[str], days: int | None, dates: DateOrder | None,
    enrolled: int | None, kind: Kind | None,
) -> ReturnsOut:  # fmt: skip
    heads = next((list(map(str.strip, line)) for line in read_lines(content) if any(line)), [])
    try:
        return ReturnsOut.from_core(
            heads, _returns(shed, content, columns, days, dates, enrolled, kind)
        )
    except OrderAsked:
        raise
    except InvalidInput as exc:
        return ReturnsOut.asking(heads, exc.detail, guess_columns(heads, _mapped(columns)))


def _returns(
    shed: Shed, content: bytes, columns: list[str], days: int | None, dates: DateOrder | None,
    enrolled: int | None, kind: Kind | None,
) -> Returns:  # fmt: skip
    return read_returns(
        list(read_lines(content)), _mapped(columns), today=shed.now().date(), dates=dates, length_days=days,
        enrolled=enrolled, kind=kind,
    )  # fmt: skip


def _mapped(columns: list[str]) -> dict[str, str]:
    """Fields and their columns as the page sends them, each a pair of its own."""
    out = {}
    for pair in columns:
        name, _, column = pair.partition("=")
        if name.split(":")[0] not in FIELDS or not column:
            raise InvalidInput(f"“{pair[:40]}” is not a field with its column.", "/map")
        out[name] = column
    return out


@router.get(
    "/template.xlsx", operation_id="get_garden_template", response_class=Response,
    responses={200: {"content": {XLSX: {}}, "description": "An empty form, and what its columns mean"}},
)  # fmt: skip
def get_template() -> Response:
    """An empty form for many gardens as a workbook, with what each column means on a sheet of its own."""
    meanings = [["column", "meaning"], *map(list, zip(TEMPLATE[0], TEMPLATE_MEANINGS, strict=True))]
    content = write_workbook([("Gardens", TEMPLATE), ("What the columns mean", meanings)])
    headers = {"Content-Disposition": 'attachment; filename="gardens.xlsx"'}
    return Response(content, media_type=XLSX, headers=headers)


class PackForm(StrEnum):
    """How a garden pack goes out: a page for phones, sheets on paper, or the documented file."""

    PAGE = "page"
    SHEETS = "sheets"
    FILE = "file"


@router.get(
    "/pack/{trial_id}", operation_id="get_garden_pack", response_class=Response,
    responses={200: {"content": {"text/html": {}}, "description": "A page, sheets, or the pack"}},
)  # fmt: skip
def get_garden_pack(
    shed: ShedDep,
    trial_id: str,
    form: PackForm,
    gardens: Annotated[int, Query(description="1 to 500; each has an order of its own")] = 20,
) -> Response:
    """What gardens are sent: one page that works without a server, a sheet for each, or the pack as JSON."""
    with shed.reading() as session:
        pack = garden_pack(load_trial(session, trial_id), gardens)
    name = f"racecard-{pack.key}-garden"
    if form is PackForm.FILE:
        headers = {"Content-Disposition": f'attachment; filename="{name}-pack.json"'}
        return Response(write_pack(pack), media_type="application/json", headers=headers)
    if form is PackForm.SHEETS:
        return Response(garden_sheets(pack), media_type="text/html; charset=utf-8", headers=_SHEETS)
    # never shown from here: its script would run as a page of the server
    headers = {"Content-Disposition": f'attachment; filename="{name}.html"'}
    return Response(garden_page(pack), media_type="text/html; charset=utf-8", headers=headers)


_SHEETS = {
    "Content-Security-Policy": "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'none'"
}
