"""The looks of a whole trial as a grid: typed, pasted from a sheet, and exported the same way."""

from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from starlette.concurrency import run_in_threadpool

from racecard.api.deps import PhoneClocksDep, ShedDep, WhoDep
from racecard.api.schemas.looks import GridOut, MarksIn, PastedCell, PastedOut
from racecard.api.uploads import FILE_BODY, whole_file
from racecard.core.log.look_grid import LookGrid, look_grid, read_pasted
from racecard.core.model import Trial
from racecard.core.model.table_dates import DateOrder
from racecard.core.plan.codes import target_names
from racecard.errors import Conflict
from racecard.formats.sheet import read_lines, write_lines
from racecard.store.clock_guard import check_clock
from racecard.store.engine import Shed
from racecard.store.rounds import load_observations, record_grid
from racecard.store.trials import load_trial

router = APIRouter(prefix="/api/trials/{trial_id}", tags=["rounds"])
Dates = Annotated[
    DateOrder | None,
    Query(description="What comes first in dates such as 03/04/2026, where it cannot be told"),
]


@router.get("/looks", operation_id="get_looks")
def get_looks(shed: ShedDep, trial_id: str) -> GridOut:
    """Every look in force, a row for each unit and a column for each date."""
    trial, grid = _grid(shed, trial_id)
    return GridOut.from_core(grid, sealed=trial.is_sealed)


@router.post("/looks", operation_id="record_looks")
def post_looks(
    shed: ShedDep, who: WhoDep, phones: PhoneClocksDep, trial_id: str, body: MarksIn
) -> GridOut:
    """Add the looks of the cells that changed, all or none; what was there is kept beside them."""
    with shed.reading() as session:
        check_clock(session, shed.now(), phones)
    record_grid(shed, trial_id, body.to_core(), who)
    return get_looks(shed, trial_id)


@router.post("/looks/read", operation_id="read_looks", openapi_extra=FILE_BODY)
async def read_looks(
    request: Request, shed: ShedDep, trial_id: str, dates: Dates = None
) -> PastedOut:
    """What a pasted or sent sheet holds: dates along its first row, positions down its first column."""
    content = await whole_file(request)
    return await run_in_threadpool(_read, shed, trial_id, content, dates)


@router.get(
    "/looks.csv", operation_id="get_looks_csv", response_class=Response,
    responses={200: {"content": {"text/csv": {}}, "description": "The looks as a grid"}},
)  # fmt: skip
def get_looks_csv(shed: ShedDep, trial_id: str) -> Response:
    """The grid as a table that can be changed elsewhere and read in again."""
    trial, grid = _grid(shed, trial_id)
    arms = [] if trial.is_sealed else ["Treatment"]
    lines = [["Position", *arms, *(f"{on:%Y-%m-%d}" for on in grid.dates)]]
    for u, name, marks in zip(grid.units, grid.names, grid.marks, strict=True):
        arm = [] if trial.is_sealed else [trial.plan.treatments[u.cell.treatment].name]
        lines.append([name, *arm, *marks])
    headers = {"Content-Disposition": f'attachment; filename="racecard-{trial.id[:8]}-looks.csv"'}
    return Response(write_lines(lines), media_type="text/csv; charset=utf-8", headers=headers)


def _grid(shed: Shed, trial_id: str) -> tuple[Trial, LookGrid]:
    trial = _started(shed, trial_id)
    with shed.reading() as session:
        log = load_observations(session, trial_id)
    return trial, look_grid(trial, log, target_names(trial))


def _read(shed: Shed, trial_id: str, content: bytes, dates: DateOrder | None) -> PastedOut:
    trial = _started(shed, trial_id)
    cells, aside = read_pasted(trial, list(read_lines(content)), target_names(trial), dates)
    return PastedOut(
        cells=[PastedCell(unit_id=c.unit_id, on=c.on, mark=c.mark) for c in cells], aside=aside
    )


def _started(shed: Shed, trial_id: str) -> Trial:
    with shed.reading() as session:
        trial = load_trial(session, trial_id)
    if trial.started_at is None:
        raise Conflict("This trial has not started: its looks can be entered once it has.")
    return trial
