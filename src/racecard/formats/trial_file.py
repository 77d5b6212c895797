"""A whole trial as one JSON file: plan, bench, seed, moments, every observation, the diary."""

import contextlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import asdict, fields, replace
from typing import Annotated, Any, Literal, get_args, get_origin, get_type_hints

from pydantic import BaseModel, ConfigDict, Field

from racecard.core.model import (
    BORDER,
    SPARE,
    Amendment,
    Cell,
    Contrast,
    Override,
    Plan,
    Status,
    Treatment,
    Trial,
    Unit,
)
from racecard.core.model.observation import Entry, Observation, Scope
from racecard.core.model.plan import PREPARATION, PREPARATION_OF_ARM
from racecard.core.plan.record import FORMER_NAMES, as_objects, from_record, renamed, unwrapped
from racecard.errors import InvalidInput
from racecard.formats.derived import model_of
from racecard.formats.json_file import read_json_file
from racecard.formats.seed import Seed
from racecard.formats.stamp import Stamp

FORMAT = "racecard-trial-2"
_FIRST = "racecard-trial-1"
MOST_BYTES = 50_000_000
Text = Annotated[str, Field(max_length=5000)]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


_ARM = tuple(
    f.name for f in fields(Treatment) if f.name != "id" and f.name not in PREPARATION_OF_ARM
)
_PLAN = tuple(f.name for f in fields(Plan) if f.name not in PREPARATION)


class TreatmentPart(model_of(Treatment, _Part, "Fields", names=_ARM)):  # type: ignore[misc]  # fields come from the core
    """One arm."""


class OverridePart(model_of(Override, _Part, "Fields")):  # type: ignore[misc]  # fields come from the core
    """A warning that was overruled, with its reason."""


class ContrastPart(model_of(Contrast, _Part, "Fields")):  # type: ignore[misc]  # fields come from the core
    """Two groups of treatments that are to be compared."""


_PARTS: dict[type, type[BaseModel]] = {
    Treatment: TreatmentPart,
    Override: OverridePart,
    Contrast: ContrastPart,
}


class PlanPart(model_of(Plan, _Part, "Fields", names=_PLAN, parts=_PARTS)):  # type: ignore[misc]  # fields come from the core
    """The plan; numbers as in the application."""


class ArmPreparation(model_of(Treatment, _Part, "Preparation", names=PREPARATION_OF_ARM)):  # type: ignore[misc]  # fields come from the core
    """Soaks and dips of one arm, and the agent it draws from."""


class PreparationPart(model_of(Plan, _Part, "Preparation", names=PREPARATION)):  # type: ignore[misc]  # fields come from the core
    """How it was prepared: from which material, by which clock; `treatments` in the order of the plan."""

    treatments: list[ArmPreparation] = Field([], max_length=50)


class CellPart(_Part):
    """One cell of the bench; `treatment` is the arm's index, null for a spare."""

    tray: int = Field(ge=0)
    row: int = Field(ge=0)
    col: int = Field(ge=0)
    block: int = Field(ge=0)
    treatment: int | None = Field(ge=0)
    border: bool = False
    locked: bool = False
    is_set: bool = True
    late: int = Field(0, ge=0, le=730)
    why: Text = ""
    lot: Text = ""
    size: Text = ""


class ObservationPart(_Part):
    """One row of the log. `unit` is the index of its cell, `corrects` that of an earlier row."""

    unit: int = Field(ge=0)
    kind: Literal["look", "count", "score", "void"]
    seen_at: Stamp
    who: Text
    corrects: int | None = Field(None, ge=0)
    stage: int | None = None
    wilted: bool = False
    shoot: bool = False
    loss: str | None = Field(None, max_length=40)
    removed: int = Field(0, ge=0)
    struck: int | None = Field(None, ge=0)
    lost: int | None = Field(None, ge=0)
    lost_struck: int | None = Field(None, ge=0)
    score: int | None = Field(None, ge=0, le=5)
    as_row: bool = False
    parts: dict[str, float] = Field({}, max_length=30)
    beside: int | None = Field(None, ge=0)
    device: Text = ""
    recorded_at: Stamp | None = None


class EntryPart(_Part):
    """One line of the diary. `target`: index of the cell or arm, number of the tray, or ""."""

    kind: Literal["event", "measure", "note", "photo", "second", "traced", "void"]
    scope: Scope
    target: Text = ""
    seen_at: Stamp
    who: Text
    corrects: int | None = Field(None, ge=0)
    what: Text = ""
    values: dict[str, float] = Field({}, max_length=30)
    text: Text = ""


class AmendmentPart(_Part):
    """A change to the frozen plan, in words; `field` is empty for a free note."""

    at: Stamp
    who: Text
    field: Text = ""
    before: Text = ""
    after: Text
    reason: Text


class TrialFile(_Part):
    """A whole trial of Racecard, version 2."""

    format: Literal["racecard-trial-2"]
    plan: PlanPart
    preparation: PreparationPart = PreparationPart()
    seed: Seed
    status: Status
    invented: bool = False
    created_at: Stamp
    started_at: Stamp | None = None
    unsealed_at: Stamp | None = None
    fingerprint: Text = ""
    drawn_at: Stamp | None = None
    frozen_at: Stamp | None = None
    amendments: list[AmendmentPart] = Field([], max_length=1000)
    bench: list[CellPart] = Field(max_length=20_000)
    observations: list[ObservationPart] = Field(max_length=2_000_000)
    diary: list[EntryPart] = Field([], max_length=500_000)


def schema_text() -> str:
    """The JSON Schema of the file, as it is published in docs/trial.schema.json."""
    schema = TrialFile.model_json_schema()
    return json.dumps(schema, indent=1, ensure_ascii=False) + "\n"


def write_trial(trial: Trial, log: list[Observation], entries: Sequence[Entry] = ()) -> bytes:
    """A trial, its whole log and its diary as the bytes of a file; photos are not in it."""
    cell_of = {u.id: i for i, u in enumerate(trial.units)}
    row_of = {o.id: i for i, o in enumerate(log)}
    record = as_objects(trial.plan)
    arms = record.pop("treatments")
    plan = {n: record[n] for n in _PLAN if n != "treatments"}
    plan["treatments"] = [{n: arm[n] for n in _ARM} for arm in arms]
    preparation = {n: record[n] for n in PREPARATION}
    preparation["treatments"] = [{n: arm[n] for n in PREPARATION_OF_ARM} for arm in arms]
    same = set(ObservationPart.model_fields) - {"unit", "corrects", "parts", "beside"}
    file = TrialFile(
        format=FORMAT, plan=PlanPart.model_validate(plan),
        preparation=PreparationPart.model_validate(preparation), seed=trial.seed, status=trial.status,
        invented=trial.invented, created_at=trial.created_at, started_at=trial.started_at,
        unsealed_at=trial.unsealed_at, fingerprint=trial.fingerprint,
        drawn_at=trial.drawn_at, frozen_at=trial.frozen_at,
        amendments=[AmendmentPart(**asdict(a)) for a in trial.amendments],
        bench=[
            CellPart(
                tray=u.cell.tray, row=u.cell.row, col=u.cell.col, block=u.cell.block,
                treatment=u.cell.treatment if u.cell.treatment >= 0 else None,
                border=u.cell.treatment == BORDER, locked=u.cell.locked,
                is_set=u.is_set, late=u.late, why=u.why, lot=u.lot, size=u.size,
            )
            for u in trial.units
        ],
        observations=[
            ObservationPart(
                unit=cell_of[o.unit_id], corrects=row_of[o.corrects] if o.corrects else None,
                beside=row_of[o.beside] if o.beside else None, parts=dict(o.parts),
                **{n: getattr(o, n) for n in same},
            )
            for o in log
        ],
        diary=_diary_part(entries, cell_of),
    )  # fmt: skip
    short = file.model_dump(mode="json", exclude_defaults=True)
    for part in ("plan", "preparation"):  # whole: a later default must not change what was planned
        short[part] = getattr(file, part).model_dump(mode="json")
    order = {name: short[name] for name in TrialFile.model_fields if name in short}
    return json.dumps(order, indent=1, ensure_ascii=False).encode()


def _diary_part(entries: Sequence[Entry], cell_of: Mapping[str, int]) -> list[EntryPart]:
    row_of = {e.id: i for i, e in enumerate(entries)}
    return [
        EntryPart(
            kind=e.kind, scope=e.scope, seen_at=e.seen_at, who=e.who, what=e.what, text=e.text,
            target=str(cell_of[e.target]) if e.scope is Scope.UNIT else e.target,
            corrects=row_of[e.corrects] if e.corrects else None, values=dict(e.values),
        )
        for e in entries
    ]  # fmt: skip


def read_trial(content: bytes) -> tuple[Trial, list[Observation], list[Entry]]:
    """A trial, its log and its diary from a file; ids are its own and to be replaced.

    Raises:
        InvalidInput: too large, no JSON, or not a trial of this version; says where.
    """
    file = read_json_file(
        TrialFile, content, MOST_BYTES, "a complete trial file of version 1 or 2", _of_this_version
    )
    return _trial(file), _log(file), _diary(file)


def _of_this_version(content: bytes) -> bytes:
    """The file as version 2 would have it; what cannot be read is left to the check that says where."""
    if _FIRST.encode() not in content[:200]:
        return _by_its_new_names(content)
    with contextlib.suppress(ValueError, KeyError, TypeError, AttributeError):
        file = json.loads(content)
        plan, arms = file["plan"], file["plan"]["treatments"]
        file["format"] = FORMAT
        file["preparation"] = {n: plan.pop(n) for n in PREPARATION if n in plan}
        file["preparation"]["treatments"] = [
            _named(Treatment, {n: arm.pop(n) for n in PREPARATION_OF_ARM if n in arm})
            for arm in arms
        ]
        plan["treatments"] = [_named(Treatment, arm) for arm in arms]
        file["plan"] = _named(Plan, plan)
        return _by_its_new_names(json.dumps(file).encode())
    return content


def _by_its_new_names(content: bytes) -> bytes:
    """The file with the plan's fields by the names they have now."""
    if not any(f'"{was}"'.encode() in content for was in FORMER_NAMES):
        return content
    with contextlib.suppress(ValueError, KeyError, AttributeError):
        file = json.loads(content)
        file["plan"] = renamed(file["plan"])
        return json.dumps(file).encode()
    return content


def _named(kind: type[Any], record: Mapping[str, Any]) -> dict[str, Any]:
    """A record of version 1, whose pairs were lists, with each as an object of its named parts."""
    hints = get_type_hints(kind, include_extras=True)
    out = dict(record)
    for name, value in record.items():
        many, _ = unwrapped(hints.get(name))
        _, pair = unwrapped(get_args(many)[0]) if get_origin(many) is tuple else (None, None)
        if pair is not None:
            out[name] = [dict(zip(pair.parts, v, strict=True)) for v in value]
    return out


def _trial(file: TrialFile) -> Trial:
    arms_prepared = file.preparation.treatments
    if arms_prepared and len(arms_prepared) != len(file.plan.treatments):
        raise InvalidInput("The preparation has not as many treatments as the plan.")
    record = {**file.plan.model_dump(), **file.preparation.model_dump(exclude={"treatments"})}
    for arm, prepared in zip(record["treatments"], arms_prepared, strict=False):
        arm.update(prepared.model_dump())
    plan = from_record(Plan, record)
    plan["treatments"] = tuple(replace(t, id=str(i)) for i, t in enumerate(plan["treatments"]))
    arms = len(file.plan.treatments)
    if any(c.treatment is not None and c.treatment >= arms for c in file.bench):
        raise InvalidInput("A cell of the bench names a treatment that the plan does not have.")
    if (file.status is Status.STARTED) != (file.started_at is not None):
        raise InvalidInput(
            "The trial is started without a start time, or has a start time and is not started."
        )
    units = tuple(
        Unit(
            str(i),
            Cell(c.tray, c.row, c.col, c.block, _arm(c), c.locked),
            c.is_set,
            c.late,
            c.why,
            c.lot,
            c.size,
        )
        for i, c in enumerate(file.bench)
    )
    return Trial(
        "", Plan(**plan), file.status, file.seed, units, file.created_at, file.started_at,
        file.unsealed_at, file.invented, file.fingerprint,
        tuple(Amendment(**a.model_dump()) for a in file.amendments), file.drawn_at, file.frozen_at,
    )  # fmt: skip


def _arm(cell: CellPart) -> int:
    if cell.treatment is not None:
        return cell.treatment
    return BORDER if cell.border else SPARE


def _log(file: TrialFile) -> list[Observation]:
    same = set(ObservationPart.model_fields) - {"unit", "corrects", "parts", "beside"}
    out = []
    for i, o in enumerate(file.observations):
        earlier = [x for x in (o.corrects, o.beside) if x is not None]
        if o.unit >= len(file.bench) or any(x >= i for x in earlier):
            raise InvalidInput(
                f"Observation {i} names a unit or an earlier observation that is not there."
            )
        corrects = None if o.corrects is None else str(o.corrects)
        out.append(
            Observation(
                id=str(i),
                unit_id=str(o.unit),
                day=0,
                corrects=corrects,
                beside=None if o.beside is None else str(o.beside),
                parts=tuple(o.parts.items()),
                **{n: getattr(o, n) for n in same},
            )
        )
    return out


def _diary(file: TrialFile) -> list[Entry]:
    most = {Scope.UNIT: len(file.bench), Scope.ARM: len(file.plan.treatments)}
    out = []
    for i, e in enumerate(file.diary):
        is_there = e.scope not in most or (e.target.isdigit() and int(e.target) < most[e.scope])
        if not is_there or (e.corrects is not None and e.corrects >= i):
            raise InvalidInput(
                f"Entry {i} of the diary names a unit, treatment or earlier entry that is not there."
            )
        out.append(
            Entry(
                str(i), e.kind, e.scope, e.target, 0, e.seen_at, e.who,
                None if e.corrects is None else str(e.corrects), e.what,
                tuple(e.values.items()), e.text,
            )
        )  # fmt: skip
    return out
