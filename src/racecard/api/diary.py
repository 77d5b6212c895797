"""The diary: events, measures, notes, photos, second scores, and the log of everything."""

import csv
import io
from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, File, Form, Response, UploadFile
from fastapi.responses import FileResponse

from racecard.api.deps import PhoneClocksDep, ShedDep, SignDep, WhoDep
from racecard.api.schemas.diary import (
    AgreementOut,
    EntriesIn,
    EntryOut,
    HeardIn,
    HeardOut,
    LogLine,
    MovedOut,
    MoveIn,
    PhotoOut,
    TraceOut,
    WrittenOut,
)
from racecard.core.log.assemble import conflicting, in_force
from racecard.core.log.days import clock_corrected, elapsed_days
from racecard.core.log.events import entries_in_force, measure_of, says
from racecard.core.log.goal import done
from racecard.core.log.log_lines import amendment_said, line_of, setting_said
from racecard.core.log.note_parser import heard
from racecard.core.log.second_scores import scored_twice
from racecard.core.log.stages import stage_scale_of
from racecard.core.model import Trial
from racecard.core.model.observation import Entry, Observation, Scope, Setting
from racecard.core.plan.codes import target_names
from racecard.errors import InvalidInput
from racecard.formats.stamp import Stamp
from racecard.store.clock_guard import check_clock
from racecard.store.diary import last_entry, load_entries, record_entries
from racecard.store.engine import Shed
from racecard.store.photos import MOST_BYTES, keep_photo, photo_path
from racecard.store.rounds import load_observations, move_round
from racecard.store.sticking import load_settings
from racecard.store.training import load_sittings
from racecard.store.trial_rows import who_did
from racecard.store.trials import load_trial

router = APIRouter(prefix="/api/trials/{trial_id}", tags=["diary"])


@router.post("/entries", operation_id="record_entries")
def post_entries(
    shed: ShedDep, sign: SignDep, phones: PhoneClocksDep, trial_id: str, body: EntriesIn
) -> WrittenOut:
    """Add lines to the diary, all or none. Sending the same ids again changes nothing."""
    now = shed.now()
    phones.heard(sign.device(body.items[0].device if body.items else ""), body.sent_at, now)
    with shed.reading() as session:
        check_clock(session, now, phones)
    sent = [
        clock_corrected(item.to_core(sign(item.who)), None if item.given else body.sent_at, now)
        for item in body.items
    ]
    kept = record_entries(shed, trial_id, sent)
    with shed.reading() as session:
        names, seq = target_names(load_trial(session, trial_id)), last_entry(session)
    return WrittenOut(items=[EntryOut.from_core(e, says(e, names)) for e in kept], seq=seq)


@router.get("/entries", operation_id="get_entries")
def get_entries(shed: ShedDep, trial_id: str, day: int | None = None) -> list[EntryOut]:
    """The diary as it stands, of one day or of all."""
    trial, _, entries = _load(shed, trial_id)
    names = target_names(trial)
    return [
        EntryOut.from_core(e, says(e, names))
        for e in entries_in_force(entries)
        if day is None or e.day == day
    ]


@router.post("/heard", operation_id="hear_note")
def post_heard(shed: ShedDep, trial_id: str, body: HeardIn) -> list[HeardOut]:
    """What a note may have meant as looks; nothing is kept."""
    trial, _, _ = _load(shed, trial_id)
    by_code = {u.cell.code: u.id for u in trial.planted}
    here = next((c for c, uid in by_code.items() if uid == body.unit_id), "")
    found = heard(body.text, stage_scale_of(trial.plan), {c.upper(): c for c in by_code}, here)
    if trial.plan.per_container > 1:
        return []
    return [
        HeardOut(unit_id=by_code[h.code], code=h.code, stage=h.stage, loss=h.loss, says=h.says)
        for h in found
    ]


@router.post("/photos", operation_id="add_photo", status_code=201)
def post_photo(
    shed: ShedDep, who: WhoDep, phones: PhoneClocksDep, trial_id: str,
    photo: Annotated[UploadFile, File(description="JPEG, PNG or WebP")],
    id: Annotated[str, Form(min_length=8, max_length=64, pattern=r"^[A-Za-z0-9_-]+$")],
    scope: Annotated[Scope, Form()], seen_at: Annotated[Stamp, Form()],
    target: Annotated[str, Form(max_length=64)] = "", text: Annotated[str, Form(max_length=500)] = "",
    sent_at: Annotated[Stamp | None, Form()] = None,
) -> EntryOut:  # fmt: skip
    """Keep a photo of a unit, a tray or the trial: re-encoded, with place and device data left out."""
    now = shed.now()
    with shed.reading() as session:
        check_clock(session, now, phones)
    content = photo.file.read(MOST_BYTES + 1)
    entry = Entry(id, "photo", scope, target, 0, seen_at, who, text=text)
    kept = keep_photo(shed, trial_id, clock_corrected(entry, sent_at, now), content)
    with shed.reading() as session:
        return EntryOut.from_core(kept, says(kept, target_names(load_trial(session, trial_id))))


@router.get("/photos", operation_id="get_photos")
def get_photos(shed: ShedDep, trial_id: str) -> list[PhotoOut]:
    """Every photo, by day and then by treatment: those of one age stand side by side."""
    trial, _, entries = _load(shed, trial_id)
    units = {u.id: u for u in trial.planted}
    names, kept = target_names(trial), entries_in_force(entries)
    traced = [(t, measure_of(t, entries)) for t in kept if t.kind == "traced"]
    out = [
        PhotoOut.from_core(
            EntryOut.from_core(e, says(e, names)), units.get(e.target),
            [TraceOut.from_core(t, length) for t, length in traced if t.what == e.id],
        )
        for e in kept
        if e.kind == "photo"
    ]  # fmt: skip
    return sorted(out, key=lambda p: (p.entry.day, -1 if p.treatment is None else p.treatment))


@router.get("/photos/{name}", operation_id="get_photo", response_class=FileResponse)
def get_photo(shed: ShedDep, trial_id: str, name: str, thumb: bool = False) -> FileResponse:
    """One photo, or its thumbnail."""
    path = photo_path(shed, trial_id, name, thumb=thumb)
    headers = {"Cache-Control": "private, max-age=31536000, immutable"}
    return FileResponse(path, media_type="image/jpeg", headers=headers)


@router.get("/log", operation_id="get_log")
def get_log(shed: ShedDep, trial_id: str) -> list[LogLine]:
    """Everything ever written of a trial, corrections beside what they correct, the newest first."""
    return _lines(*_load(shed, trial_id), *_settings(shed, trial_id))


@router.get(
    "/log.csv", operation_id="get_log_csv", response_class=Response,
    responses={200: {"content": {"text/csv": {}}, "description": "The log as a table"}},
)  # fmt: skip
def get_log_csv(shed: ShedDep, trial_id: str) -> Response:
    """The log of everything as a table; treatments are not in it."""
    trial, log, entries = _load(shed, trial_id)
    lines = _lines(trial, log, entries, *_settings(shed, trial_id))
    out = io.StringIO()
    names = ("day", "seen_at", "who", "kind", "unit", "state", "says", "id")
    writer = csv.writer(out)
    writer.writerow(names)
    for line in lines:
        writer.writerow([_safe(getattr(line, n)) for n in names])
    headers = {"Content-Disposition": f'attachment; filename="racecard-{trial.id[:8]}-log.csv"'}
    return Response(out.getvalue(), media_type="text/csv; charset=utf-8", headers=headers)


@router.post("/rounds/{day}/move", operation_id="move_round")
def post_move(shed: ShedDep, who: WhoDep, trial_id: str, day: int, body: MoveIn) -> MovedOut:
    """Move a round entered on the wrong day or tray as a whole; its history is kept."""
    if (body.from_tray is None) != (body.to_tray is None):
        raise InvalidInput("Say both trays: from which, and to which.", "/to_tray")
    trays = None
    if body.from_tray is not None and body.to_tray is not None:
        trays = (body.from_tray, body.to_tray)
    return MovedOut(moved=move_round(shed, trial_id, day, body.to_day, trays, who))


@router.get("/agreement", operation_id="get_agreement")
def get_agreement(shed: ShedDep, trial_id: str) -> AgreementOut:
    """The units a second scorer scores, how far the two agree, and fields not filled in every arm."""
    trial, log, entries = _load(shed, trial_id)
    found = scored_twice(trial, log, entries)
    return AgreementOut.from_core(found, _trained(shed, set(found.scorers)))


def _trained(shed: Shed, scorers: set[str]) -> list[str]:
    """How each scorer did at the last sitting with drawn roots."""
    with shed.reading() as session:
        last = {t.who: t for t in reversed(load_sittings(session))}
    return [
        f"{who}, with drawn roots on {last[who].at:%Y-%m-%d}: {last[who].sitting.says}"
        if who in last
        else f"{who} has not been tried with drawn roots."
        for who in sorted(scorers)
    ]


def _load(shed: ShedDep, trial_id: str) -> tuple[Trial, list[Observation], list[Entry]]:
    with shed.reading() as session:
        return (
            load_trial(session, trial_id),
            load_observations(session, trial_id),
            load_entries(session, trial_id),
        )


def _settings(shed: Shed, trial_id: str) -> tuple[list[Setting], dict[str, str]]:
    """What was set otherwise, and who started and unsealed the trial."""
    with shed.reading() as session:
        return load_settings(session, trial_id), who_did(session, trial_id)


def _lines(
    trial: Trial,
    log: list[Observation],
    entries: list[Entry],
    settings: list[Setting],
    acted: dict[str, str],
) -> list[LogLine]:
    names = target_names(trial)
    ladder, did = stage_scale_of(trial.plan), done(trial.plan)
    stands, open_ = {o.id for o in in_force(log)}, {o.id for o in conflicting(log)}
    back = {o.corrects for o in log if o.kind == "void"} | {
        e.corrects for e in entries if e.kind == "void"
    }
    kept, by_id = {e.id for e in entries_in_force(entries)}, {e.id: e for e in entries}
    out = [
        LogLine(
            id=o.id, day=o.day, seen_at=o.seen_at, who=o.who, kind=o.kind,
            unit=names[o.unit_id], unit_id=o.unit_id, says=line_of(o, ladder, did),
            state=_state(o.id, o.kind, stands, back, open_),
        )
        for o in log
    ]  # fmt: skip
    out += [
        LogLine(
            id=e.id, day=e.day, seen_at=e.seen_at, who=e.who, kind=e.kind,
            unit=names.get(e.target, "") if e.scope is Scope.UNIT else "",
            unit_id=e.target if e.scope is Scope.UNIT else "", says=_told(e, by_id, names),
            state=_state(e.id, e.kind, kept, back, set()),
        )
        for e in entries
    ]  # fmt: skip
    out += _of_the_trial(trial, settings, names, acted)
    return sorted(out, key=lambda line: line.seen_at, reverse=True)


def _told(e: Entry, by_id: dict[str, Entry], names: dict[str, str]) -> str:
    """An entry in one line; taking back says what was taken back."""
    taken = by_id.get(e.corrects or "") if e.kind == "void" else None
    return says(e, names) if taken is None else f"undone: {says(taken, names)}"


def _of_the_trial(
    trial: Trial, settings: list[Setting], names: dict[str, str], acted: dict[str, str]
) -> list[LogLine]:
    """Start, unsealing, amendments, and what was set otherwise: lines that are not taken back."""
    said = [
        (trial.started_at, acted.get("started", ""), "started: day 0 stamped, the plan frozen", "")
    ]
    said += [
        (trial.unsealed_at, acted.get("unsealed", ""), "unsealed: the treatments are shown", "")
    ]
    said += [(a.at, a.who, amendment_said(a), "") for a in trial.amendments]
    said += [(s.at, s.who, setting_said(s), s.unit_id) for s in settings]
    return [
        LogLine(
            id=f"trial-{i}", day=_day(trial, at), seen_at=at, who=who, kind="trial",
            unit=names.get(unit, ""), unit_id=unit, state="in force", says=says,
        )
        for i, (at, who, says, unit) in enumerate(said)
        if at is not None
    ]  # fmt: skip


def _day(trial: Trial, at: datetime) -> int:
    assert trial.started_at is not None
    return elapsed_days(trial.started_at, at, trial.plan.time_zone)


def _state(
    row: str, kind: str, stands: set[str], back: set[str | None], conflicting_: set[str]
) -> str:
    if kind == "void" or row in stands:
        return "in force"
    if row in back:
        return "undone"
    return "conflicting" if row in conflicting_ else "corrected"


def _safe(value: object) -> str:
    """A cell that no spreadsheet takes for a formula."""
    text = value.isoformat() if isinstance(value, datetime) else str(value)
    return f"'{text}" if text[:1] in "=+-@" and text else text
