"""Results read in and taken out as tables."""

from secrets import randbits
from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.responses import Response
from starlette.concurrency import run_in_threadpool

from racecard.api.deps import ShedDep, WhoDep
from racecard.api.schemas.tables import AuditOut, BroughtIn, SummaryIn, TableLine, TableOut
from racecard.api.table_work import Asked, LongTables
from racecard.api.uploads import FILE_BODY, whole_file
from racecard.core.exchange.audited import audit
from racecard.core.exchange.garden_pack import plan_of_pack
from racecard.core.model import Kind, Trial
from racecard.core.model.observation import Observation
from racecard.core.model.table_dates import DateOrder
from racecard.core.model.table_rows import UnitKind
from racecard.errors import Conflict, InvalidInput, Sealed
from racecard.formats.pack_file import is_pack, read_pack
from racecard.formats.trial_file import read_trial, write_trial
from racecard.formats.trial_table import table_of
from racecard.store.diary import load_entries
from racecard.store.engine import Shed
from racecard.store.import_trial import import_trial
from racecard.store.imported_tables import ReadIn, drop_table, keep_table, list_tables, load_table
from racecard.store.rounds import load_observations
from racecard.store.trials import create_trial, load_trial

router = APIRouter(prefix="/api", tags=["tables"])

Unit = Annotated[
    UnitKind | None,
    Query(description="What was randomised; worked out from the table if not given"),
]
Control = Annotated[str | None, Query(max_length=200, description="Name of the untreated control")]
Skip = Annotated[list[int] | None, Query(description="Rows to leave out, as numbered in the file")]
Name = Annotated[str, Query(max_length=400, description="What to call the table")]
Holds = Annotated[
    Kind | None, Query(description="What the table holds, where it does not say: cutting or seed")
]
Dates = Annotated[
    DateOrder | None,
    Query(description="What comes first in dates such as 03/04/2026, where it cannot be told"),
]


@router.post("/tables/check", operation_id="check_table", openapi_extra=FILE_BODY)
async def check_table(
    request: Request, name: Name = "", unit: Unit = None, control: Control = None, skip: Skip = None,
    dates: Dates = None, kind: Holds = None,
) -> TableOut:  # fmt: skip
    """What a CSV or XLSX file comes to, with every bad row; nothing is saved. A long one goes to work."""
    content = await whole_file(request)
    asked = Asked(name, unit, control, frozenset(skip or ()), dates=dates, kind=kind)
    return await run_in_threadpool(_long(request).table, content, asked)


@router.get("/tables/work/{work_id}", operation_id="get_table_work")
def get_work(request: Request, work_id: str) -> TableOut:
    """A long table: how far it is, or what it came to."""
    return _long(request).get(work_id).shown()


@router.delete("/tables/work/{work_id}", operation_id="stop_table_work", status_code=204)
def stop_work(request: Request, work_id: str) -> None:
    """Stop reading a long table."""
    _long(request).stop(work_id)


@router.post("/tables", operation_id="keep_table", status_code=201, openapi_extra=FILE_BODY)
async def keep(
    request: Request, shed: ShedDep, who: WhoDep, name: Name,
    unit: Unit = None, control: Control = None, skip: Skip = None, dates: Dates = None,
    kind: Holds = None,
) -> TableOut:  # fmt: skip
    """Keep a table; refused while a row that is not left out breaks a rule."""
    content = await whole_file(request)
    asked = Asked(name, unit, control, frozenset(skip or ()), dates=dates, kind=kind)
    return await run_in_threadpool(_keep, shed, who, content, asked, _long(request))


@router.post("/tables/audit", operation_id="audit_summary")
def audit_summary(body: SummaryIn) -> AuditOut:
    """Reckon a summary of results again: what cannot be, and what it does not say."""
    return AuditOut.from_core(audit(body.to_core()))


@router.get("/tables", operation_id="list_tables")
def get_tables(shed: ShedDep) -> list[TableLine]:
    """Every table that was read in, the newest first."""
    with shed.reading() as session:
        return [TableLine(id=i, name=n, created_at=at) for i, n, at in list_tables(session)]


@router.get("/tables/{table_id}", operation_id="get_table")
def get_table(request: Request, shed: ShedDep, table_id: str) -> TableOut:
    """One table, judged."""
    with shed.reading() as session:
        kept = load_table(session, table_id)
    return _long(request).table(kept.content, _asked(kept))


@router.delete("/tables/{table_id}", operation_id="drop_table", status_code=204)
def delete_table(shed: ShedDep, table_id: str) -> None:
    """Throw a table away."""
    drop_table(shed, table_id)


@router.get(
    "/trials/{trial_id}/table.csv", operation_id="take_out_table", response_class=Response,
    responses={200: {"content": {"text/csv": {}}, "description": "The results, a row a plant"}},
)  # fmt: skip
def take_out(shed: ShedDep, trial_id: str) -> Response:
    """The results of a trial as the same table that is read in."""
    trial, log = _unsealed(shed, trial_id)
    headers = {"Content-Disposition": f'attachment; filename="racecard-{trial.id[:8]}.csv"'}
    return Response(table_of(trial, log), media_type="text/csv; charset=utf-8", headers=headers)


@router.get(
    "/trials/{trial_id}/trial.json", operation_id="take_out_trial", response_class=Response,
    responses={200: {"content": {"application/json": {}}, "description": "The complete trial"}},
)  # fmt: skip
def take_out_trial(shed: ShedDep, trial_id: str) -> Response:
    """A whole trial as one file: plan, bench, seed, moments and every observation."""
    trial, log = _unsealed(shed, trial_id)
    with shed.reading() as session:
        entries = load_entries(session, trial_id)
    headers = {"Content-Disposition": f'attachment; filename="racecard-{trial.id[:8]}.json"'}
    return Response(
        write_trial(trial, log, entries), media_type="application/json", headers=headers
    )


@router.post(
    "/trials/bring-in", operation_id="bring_in_trial", status_code=201, openapi_extra=FILE_BODY
)
async def bring_in_trial(request: Request, shed: ShedDep, who: WhoDep) -> BroughtIn:
    """Bring in a whole trial from its file, all of it or nothing; a garden pack becomes a draft of its plan."""
    content = await whole_file(request)
    return BroughtIn(id=(await run_in_threadpool(_bring_in, shed, who, content)).id)


def _bring_in(shed: Shed, who: str, content: bytes) -> Trial:
    if is_pack(content):
        return create_trial(shed, plan_of_pack(read_pack(content)), randbits(128), who)
    return import_trial(shed, *read_trial(content), who)


def _unsealed(shed: Shed, trial_id: str) -> tuple[Trial, list[Observation]]:
    """A trial and its log; refused while it is scored blind."""
    with shed.reading() as session:
        trial, log = load_trial(session, trial_id), load_observations(session, trial_id)
    if trial.is_sealed:
        raise Sealed(
            "This trial is scored blind: show the treatments before you export its results."
        )
    return trial, log


def _keep(shed: Shed, who: str, content: bytes, asked: Asked, long: LongTables) -> TableOut:
    found = long.table(content, asked)
    if found.work is not None:
        raise Conflict("This table is still being read: save it when its result is shown.")
    if found.bad:
        raise InvalidInput(f"{found.bad[0].says} Correct the file, or leave out the bad rows.")
    if found.problem is not None:
        raise InvalidInput(found.problem)
    kept = keep_table(
        shed,
        asked.name,
        content,
        who,
        unit=asked.unit,
        control=asked.control,
        skipped=asked.skipped,
        dates=asked.dates,
        kind=asked.kind,
    )
    return found.model_copy(update={"id": kept.id, "name": kept.name})


def _asked(kept: ReadIn) -> Asked:
    return Asked(
        kept.name,
        kept.unit,
        kept.control,
        kept.skipped,
        kept.id,
        kept.dates,
        kept.turnout,
        kept.invented,
        kept.kind,
    )


def _long(request: Request) -> LongTables:
    long: LongTables = request.app.state.long_tables
    return long
