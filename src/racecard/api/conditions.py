"""Conditions: readings typed or posted, files of any logger, the places a trial watches."""

import json
from datetime import date, datetime, timedelta
from typing import Annotated

from fastapi import APIRouter, File, Form, UploadFile
from pydantic import TypeAdapter, ValidationError

from racecard.api.deps import ShedDep, WhoDep
from racecard.api.schemas.conditions import (
    AddedOut,
    ColumnIo,
    ColumnOut,
    ConditionsOut,
    CurveOut,
    DayCurve,
    FaultOut,
    FileReadOut,
    PlaceOut,
    PreviewOut,
    ReadingsIn,
    WatchIn,
)
from racecard.core.conditions.reading import (
    Reading,
    by_day,
    degree_days_to_date,
    faults,
    kept,
    quantity_of,
    usable,
)
from racecard.core.log.days import zone
from racecard.core.model import Trial
from racecard.errors import Conflict, InvalidInput
from racecard.formats.readings import MOST_BYTES, Column, preview, read_readings
from racecard.store.conditions import (
    Watch,
    add_readings,
    keep_watch,
    load_places,
    load_readings,
    load_watches,
)
from racecard.store.engine import Shed
from racecard.store.trials import load_trial

router = APIRouter(prefix="/api", tags=["conditions"])
_COLUMNS = TypeAdapter(list[ColumnIo])
_TOLD = 20


@router.post("/readings", operation_id="add_readings")
def post_readings(shed: ShedDep, body: ReadingsIn) -> AddedOut:
    """Add readings; sending a moment again changes nothing."""
    rows = []
    for i, item in enumerate(body.items):
        try:
            value = kept(quantity_of(item.quantity), item.value, item.unit)
        except InvalidInput as exc:
            raise InvalidInput(exc.detail, f"/items/{i}{exc.pointer}") from exc
        rows.append(Reading(item.place.strip(), item.quantity, item.at, value, body.source))
    added = add_readings(shed, rows)
    return AddedOut(added=added, known=len(rows) - added)


@router.get("/places", operation_id="list_places")
def get_places(shed: ShedDep) -> list[PlaceOut]:
    """Every place with readings."""
    with shed.reading() as session:
        found = load_places(session)
    return [PlaceOut(place=p, quantity=q, readings=n, last=last) for p, q, n, last in found]


@router.post("/readings/preview", operation_id="preview_readings")
def post_preview(file: Annotated[UploadFile, File()]) -> PreviewOut:
    """The head of a logger's file and what its columns look like; nothing is kept."""
    found = preview(file.file.read(MOST_BYTES + 1))
    return PreviewOut(
        header=list(found.header), rows=[list(r) for r in found.rows], time=found.time,
        columns=[ColumnOut(index=c.index, quantity=c.quantity, unit=c.unit) for c in found.columns],
        asks_order=found.asks_order,
    )  # fmt: skip


@router.post("/readings/file", operation_id="read_readings_file", status_code=201)
def post_file(
    shed: ShedDep, file: Annotated[UploadFile, File()], place: Annotated[str, Form(max_length=80)],
    time: Annotated[int, Form(ge=0, le=500)], columns: Annotated[str, Form(max_length=5000)],
    time_zone: Annotated[str, Form(max_length=100)] = "UTC",
    offset_minutes: Annotated[float, Form(ge=-1_000_000, le=1_000_000)] = 0.0,
    month_first: Annotated[bool, Form()] = False,
) -> FileReadOut:  # fmt: skip
    """Read a logger's file: columns as picked, the clock's offset, duplicates left out."""
    picked, place = _picked(columns), place.strip()
    found = read_readings(
        file.file.read(MOST_BYTES + 1), place, time, picked, zone(time_zone),
        offset=timedelta(minutes=offset_minutes), month_first=month_first,
        source=(file.filename or "a file")[:60], had=_had(shed, place, picked),
    )  # fmt: skip
    added = add_readings(shed, found.readings) if found.readings else 0
    bad = list(found.bad[:_TOLD])
    return FileReadOut(added=added, duplicates=found.duplicates, bad=bad, bad_count=len(found.bad))


def _picked(columns: str) -> list[Column]:
    """The columns of a file as the grower named them; InvalidInput where they are no columns."""
    try:
        picked = [Column(c.index, c.quantity, c.unit) for c in _COLUMNS.validate_json(columns)]
    except (ValidationError, json.JSONDecodeError) as exc:
        raise InvalidInput("Each column needs its index, quantity and unit.", "/columns") from exc
    for column in picked:
        quantity_of(column.quantity)
    return picked


def _had(shed: Shed, place: str, picked: list[Column]) -> frozenset[tuple[str, datetime]]:
    """What is kept of a place already: such moments are not added again."""
    with shed.reading() as session:
        return frozenset(
            (c.quantity, r.at) for c in picked for r in load_readings(session, place, c.quantity)
        )


@router.post("/trials/{trial_id}/watches", operation_id="keep_watch")
def post_watch(shed: ShedDep, who: WhoDep, trial_id: str, body: WatchIn) -> ConditionsOut:
    """Have a trial watch a place, with alarms where wanted; or stop."""
    watch = Watch(body.place, body.quantity, body.high, body.low, body.base, body.is_on)
    keep_watch(shed, trial_id, watch, who)
    return get_conditions(shed, trial_id)


@router.get("/trials/{trial_id}/conditions", operation_id="get_conditions")
def get_conditions(shed: ShedDep, trial_id: str) -> ConditionsOut:
    """The curves of the places a trial watches, along its course."""
    with shed.reading() as session:
        trial = load_trial(session, trial_id)
        watches, places = load_watches(session, trial_id), load_places(session)
    curves = [] if trial.started_at is None else [_curve(shed, trial, w) for w in watches]
    return ConditionsOut(
        curves=curves,
        places=[PlaceOut(place=p, quantity=q, readings=n, last=last) for p, q, n, last in places],
    )


def _curve(shed: Shed, trial: Trial, watch: Watch) -> CurveOut:
    if trial.started_at is None:
        raise Conflict("This trial has not started.")
    tz, now = zone(trial.plan.time_zone), shed.now()
    start = trial.started_at.astimezone(tz).date()
    until = start + timedelta(days=trial.plan.length_days)
    with shed.reading() as session:
        series = load_readings(
            session, watch.place, watch.quantity, since=trial.started_at - timedelta(days=1)
        )
    series = [r for r in series if start <= r.at.astimezone(tz).date() <= until]
    wrong = faults(series, now)
    days = by_day(usable(series, now), tz)
    quantity = quantity_of(watch.quantity)
    today = min(now.astimezone(tz).date(), until)
    total, missing = None, 0
    if watch.base is not None and watch.quantity == "temperature":
        total, missing = degree_days_to_date(days, watch.base, start, today)
    return CurveOut(
        place=watch.place, quantity=watch.quantity, label=quantity.label, unit=quantity.unit,
        high=watch.high, low=watch.low, base=watch.base,
        days=[DayCurve.from_core(d, (d.on - start).days) for d in days],
        degree_days=total, days_without=missing, faults=[FaultOut.from_core(f) for f in wrong],
        says=_says(watch, total, missing, days[-1].on if days else None, start),
    )  # fmt: skip


def _says(watch: Watch, total: float | None, missing: int, last: date | None, start: date) -> str:
    if last is None:
        return "No readings of this trial's days yet."
    said = f"Readings until day {(last - start).days}."
    if total is not None:
        said = f"{total:.0f} degree-days above {watch.base:g} °C to date. {said}"
        if missing:
            days = "1 day has" if missing == 1 else f"{missing} days have"
            said += f" {days} no reading and add nothing, so the sum is too low."
    return said
