"""Trials in the shed: drafts saved, benches drawn, starts stamped, seals broken."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict, replace
from datetime import datetime, timedelta

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from racecard.core.log.days import elapsed_days
from racecard.core.log.veil import veiled
from racecard.core.model import Amendment, Cell, Kind, Layout, Plan, Status, Trial
from racecard.core.notes import notes_on_plan
from racecard.core.notes.of_plan import STARTS_OVER_A_REASON
from racecard.core.plan.amend import amended
from racecard.core.plan.baseline import TRAITS
from racecard.core.plan.bench import Lock, draw_bench
from racecard.core.plan.check import TEXT_LENGTH, check_plan
from racecard.core.plan.compare import in_words
from racecard.core.plan.record import fingerprint
from racecard.core.plan.repeat import repeated
from racecard.core.streams import SEED_BITS
from racecard.errors import Conflict, InvalidInput, NotFound
from racecard.store.engine import Shed
from racecard.store.tables import (
    AmendmentRow,
    BaselineRow,
    GardenInviteRow,
    GardenRow,
    RecipeRow,
    TreatmentRow,
    TrialRow,
    UnitRow,
)
from racecard.store.trial_rows import (
    PLAN_COLUMNS,
    changing,
    design_of,
    lay_out,
    note_change,
    row_of,
    traits_of,
    trial_of,
)

_OLDEST_START = timedelta(days=400)


def create_trial(
    shed: Shed,
    plan: Plan,
    seed: int,
    who: str,
    *,
    locks: Sequence[Lock] = (),
    invented: bool = False,
    repeats: str | None = None,
) -> Trial:
    """Save a new draft with its bench drawn from the seed around the locked cells.

    `repeats`: the trial whose plan it repeats.

    Raises:
        InvalidInput: the plan breaks a rule, or the seed is out of range.
    """
    _check(plan, seed)
    cells = draw_bench(plan, seed, locks)
    now = shed.now()
    with shed.writing() as session:
        row = TrialRow(
            id=shed.new_id(), created_at=now, created_by=who, status=Status.DRAFT.value,
            started_at=None, unsealed_at=None, seed=seed, invented=invented,
            kind=plan.kind.value, day0=plan.day0.value, design=design_of(plan), fingerprint="",
            drawn_at=now, repeats=repeats,
            **{name: getattr(plan, name) for name in PLAN_COLUMNS},
        )  # fmt: skip
        session.add(row)
        session.flush()
        lay_out(shed, session, row, plan, cells)
        note_change(session, row.id, now, who, "draft saved", plan, seed)
        return trial_of(session, row)


def insert_trial(shed: Shed, session: Session, trial: Trial, who: str) -> Trial:
    """Add a trial as it stands elsewhere: its bench, seed and moments kept, its ids new."""
    row = TrialRow(
        id=shed.new_id(), created_at=trial.created_at, created_by=who, status=trial.status.value,
        started_at=trial.started_at, unsealed_at=trial.unsealed_at, seed=trial.seed,
        invented=trial.invented, kind=trial.plan.kind.value, day0=trial.plan.day0.value,
        design=design_of(trial.plan), fingerprint=trial.fingerprint,
        drawn_at=trial.drawn_at, frozen_at=trial.frozen_at,
        **{name: getattr(trial.plan, name) for name in PLAN_COLUMNS},
    )  # fmt: skip
    session.add(row)
    session.flush()
    lay_out(shed, session, row, trial.plan, [u.cell for u in trial.units])
    note_change(session, row.id, shed.now(), who, "brought in", trial.plan, trial.seed)
    return trial_of(session, row)


def save_plan(
    shed: Shed,
    trial_id: str,
    plan: Plan,
    seed: int,
    who: str,
    *,
    locks: Sequence[Lock] = (),
    revision: int | None = None,
) -> Trial:
    """Replace a draft's plan and draw its bench; what it was stays in the change log.

    What was measured of the cuttings is kept where the bench comes out the same. Treatments keep
    their ids, and recipes follow one that is renamed.

    Raises:
        Conflict: the trial has started, its plan is frozen.
        Stale: `revision` is not that of the draft any more.
    """
    _check(plan, seed)
    cells = draw_bench(plan, seed, locks)
    with shed.writing() as session:
        row = row_of(session, trial_id)
        if row.status != Status.DRAFT:
            raise Conflict(
                "This trial has started, so its plan is frozen; amend it with a reason, or copy it."
            )
        changing(row, revision)
        before = {t.id: t.name for t in trial_of(session, row).plan.treatments}
        measured = _measured_on(session, trial_id, cells)
        for name in PLAN_COLUMNS:
            setattr(row, name, getattr(plan, name))
        row.kind, row.day0, row.seed = plan.kind.value, plan.day0.value, seed
        row.design, row.drawn_at = design_of(plan), shed.now()
        session.execute(delete(UnitRow).where(UnitRow.trial_id == trial_id))
        session.execute(delete(TreatmentRow).where(TreatmentRow.trial_id == trial_id))
        session.flush()
        lay_out(shed, session, row, plan, cells, before)
        _rename_recipes(session, trial_id, before, plan)
        _put_back(session, trial_id, measured)
        note_change(session, row.id, shed.now(), who, "draft saved", plan, seed)
        return trial_of(session, row)


def _rename_recipes(session: Session, trial_id: str, before: Mapping[str, str], plan: Plan) -> None:
    """Recipes name the treatment they are for: they follow its new name."""
    now = {before[t.id]: t.name.strip() for t in plan.treatments if t.id in before}
    for r in session.scalars(select(RecipeRow).where(RecipeRow.trial_id == trial_id)):
        r.arm = now.get(r.arm, r.arm)


def start_trial(shed: Shed, trial_id: str, who: str, at: datetime | None = None) -> Trial:
    """Stamp day 0 and freeze the plan.

    Args:
        shed: the shed.
        trial_id: a draft.
        who: who says so.
        at: when it was stuck or sown; now where not said.

    Raises:
        Conflict: already started.
        InvalidInput: the moment lies in the future or too long ago.
    """
    now = shed.now()
    at = at or now
    if at > now + timedelta(minutes=5):
        raise InvalidInput("The start lies in the future: start the trial when it is stuck.", "/at")
    if at < now - _OLDEST_START:
        raise InvalidInput("The start lies more than 400 days back: check the year.", "/at")
    with shed.writing() as session:
        row = row_of(session, trial_id)
        if row.status != Status.DRAFT:
            raise Conflict("This trial has already started.")
        trial = trial_of(session, row)
        check_plan(trial.plan)
        _check_lot(trial)
        late = elapsed_days(at, trial.planned_at, trial.plan.time_zone) > 0
        if trial.plan.blind and (late or trial.plan.layout is Layout.BY_HAND):
            row.blind = False  # whoever laid it, or writes it down afterwards, knows the treatments
            session.flush()
            trial = trial_of(session, row)
        changing(row, None)
        row.status, row.started_at, row.frozen_at = Status.STARTED.value, at, now
        row.fingerprint = fingerprint(trial.plan, [u.cell for u in trial.units], trial.seed)
        trial = trial_of(session, row)
        note_change(session, row.id, now, who, "started", trial.plan, trial.seed)
        return veiled(trial)


def record_begun(
    shed: Shed, plan: Plan, bench: Sequence[Lock], seed: int, at: datetime, who: str
) -> Trial:
    """Save a trial that has begun already: its bench as it stands, its day 0 on the day it was.

    Raises:
        InvalidInput: the plan breaks a rule, or the moment lies in the future or too long ago.
    """
    with shed.writing():
        draft = create_trial(shed, plan, seed, who, locks=bench)
        return start_trial(shed, draft.id, who, at)


def amend_trial(
    shed: Shed, trial_id: str, change: dict[str, object], note: str, reason: str, who: str
) -> Trial:
    """Change a started trial's plan with a reason, or note what else was done otherwise.

    Args:
        shed: the shed.
        trial_id: a started trial.
        change: new values of amendable fields of the plan.
        note: what was done otherwise that is no field of the plan; may be empty.
        reason: why; must be said.
        who: who says so.

    Raises:
        Conflict: the trial is a draft still.
        InvalidInput: no reason, nothing changed, or the changed plan breaks a rule.
    """
    now = shed.now()
    with shed.writing() as session:
        row = row_of(session, trial_id)
        trial = trial_of(session, row)
        if trial.status is not Status.STARTED:
            raise Conflict("This trial has not started: change its plan itself.")
        plan, changed = amended(trial.plan, change, note, reason)
        for name in changed:
            before, after = in_words(trial.plan, name), in_words(plan, name)
            session.add(_amendment(row.id, now, who, name, before, after, reason))
        if note.strip():
            session.add(_amendment(row.id, now, who, "", "", note.strip(), reason))
        for name in set(changed) & set(PLAN_COLUMNS):
            setattr(row, name, getattr(plan, name))
        row.design = design_of(plan)
        session.flush()
        changing(row, None)
        note_change(session, row.id, now, who, "amended", plan, trial.seed)
        return veiled(trial_of(session, row))


def add_amendments(shed: Shed, trial_id: str, amendments: Sequence[Amendment]) -> None:
    """Add the amendments a trial brought with it."""
    with shed.writing() as session:
        session.add_all(AmendmentRow(trial_id=trial_id, **asdict(a)) for a in amendments)


def copy_trial(
    shed: Shed, trial_id: str, seed: int, who: str, *, units: int | None = None, alone: bool = False
) -> Trial:
    """A new draft of the same plan, its bench drawn anew; predictions are not carried over.

    Args:
        shed: the shed.
        trial_id: what is repeated.
        seed: of the new bench.
        who: who says so.
        units: units of each treatment, where another number is wanted.
        alone: one plant to a container.
    """
    with shed.reading() as session:
        old = load_trial(session, trial_id)
    plan = repeated(old.plan, units, alone=alone)
    question = f"{plan.question[: TEXT_LENGTH - 8]} (again)"
    return create_trial(shed, replace(plan, question=question), seed, who, repeats=trial_id)


def prepare_trial(
    shed: Shed,
    trial_id: str,
    change: Mapping[str, object],
    arms: Sequence[Mapping[str, object]],
    who: str,
    revision: int | None = None,
) -> Trial:
    """Set what a draft draws from and how its clock runs; its bench and units stay as they are.

    Args:
        shed: the shed.
        trial_id: a draft.
        change: new values of PREPARED fields of the plan.
        arms: new values of `steps` and `agent_id`, one a treatment; empty for none.
        who: who says so.
        revision: what the sender had seen; None where it does not say.

    Raises:
        Conflict: the trial has started.
        Stale: somebody else changed it meanwhile.
        InvalidInput: the plan would break a rule.
    """
    with shed.writing() as session:
        row = row_of(session, trial_id)
        trial = trial_of(session, row)
        if trial.status is not Status.DRAFT:
            raise Conflict("This trial has started: what it was made from stays as it was.")
        changing(row, revision)
        if arms and len(arms) != len(trial.plan.treatments):
            raise InvalidInput(f"{len(arms)} arms sent for {len(trial.plan.treatments)}.", "/arms")
        treatments = trial.plan.treatments
        if arms:
            treatments = tuple(
                replace(t, **a)  # type: ignore[arg-type]  # checked by the schema
                for t, a in zip(treatments, arms, strict=True)
            )
        plan = replace(trial.plan, treatments=treatments, **change)  # type: ignore[arg-type]
        check_plan(plan)
        row.design, row.day0, row.material = design_of(plan), plan.day0.value, plan.material
        rows = session.scalars(select(TreatmentRow).where(TreatmentRow.trial_id == trial_id))
        for t_row in rows:
            t_row.traits = traits_of(plan.treatments[t_row.position])
        session.flush()
        note_change(session, row.id, shed.now(), who, "prepared", plan, trial.seed)
        return trial_of(session, row)


def keep_baseline(
    shed: Shed, trial_id: str, trait: str, values: Sequence[float | None], who: str
) -> None:
    """Keep what was measured of each planted unit, in the order of the bench; None: not measured.

    Raises:
        Conflict: the trial has started.
        InvalidInput: an unknown trait, too many values, or one below 0.
    """
    if trait not in TRAITS:
        raise InvalidInput(f"What is measured must be one of {', '.join(TRAITS)}.", "/trait")
    with shed.writing() as session:
        row = row_of(session, trial_id)
        trial = trial_of(session, row)
        if trial.status is not Status.DRAFT:
            raise Conflict("This trial has started: its cuttings were measured before the start.")
        if len(values) > len(trial.planted):
            raise InvalidInput(
                f"{len(values)} values for {len(trial.planted)} planted cells: "
                "give one a cell, in the order of the bench.",
                "/values",
            )
        for i, value in enumerate(values):
            if value is not None and not 0 <= value < 1e6:
                raise InvalidInput(
                    f"Value {i + 1} is {value:g}: it must be 0 or more.", f"/values/{i}"
                )
        ids = [u.id for u in trial.planted]
        old = delete(BaselineRow).where(BaselineRow.unit_id.in_(ids), BaselineRow.trait == trait)
        session.execute(old)
        for unit_id, value in zip(ids, values, strict=False):
            if value is not None:
                session.add(BaselineRow(unit_id=unit_id, trait=trait, value=value))
        note_change(session, row.id, shed.now(), who, f"measured {trait}", trial.plan, trial.seed)


def load_baseline(session: Session, trial_id: str) -> dict[str, dict[str, float]]:
    """What was measured before the start: values by unit id, by trait."""
    rows = session.execute(
        select(BaselineRow.trait, BaselineRow.unit_id, BaselineRow.value)
        .join(UnitRow, UnitRow.id == BaselineRow.unit_id)
        .where(UnitRow.trial_id == trial_id)
    )
    out: dict[str, dict[str, float]] = {}
    for trait, unit_id, value in rows:
        out.setdefault(trait, {})[unit_id] = value
    return out


def unseal_trial(shed: Shed, trial_id: str, who: str) -> Trial:
    """Show the treatments of a trial scored blind; recorded, and not to be undone."""
    with shed.writing() as session:
        row = row_of(session, trial_id)
        trial = trial_of(session, row)
        if not trial.is_sealed:
            raise Conflict("This trial is not sealed.")
        row.unsealed_at = shed.now()
        note_change(session, row.id, shed.now(), who, "unsealed", trial.plan, trial.seed)
        return trial_of(session, row)


def delete_draft(shed: Shed, trial_id: str) -> None:
    """Throw a draft away; a started trial is never deleted."""
    with shed.writing() as session:
        row = row_of(session, trial_id)
        if row.status != Status.DRAFT:
            raise Conflict("A trial that has started cannot be deleted: its record is kept.")
        joined = (
            select(GardenRow.id).join(GardenInviteRow).where(GardenInviteRow.trial_id == trial_id)
        )
        if session.scalar(joined.limit(1)) is not None:
            raise Conflict(
                "Gardens have joined this draft by its link: what they send belongs to it, so it stays."
            )
        session.execute(delete(UnitRow).where(UnitRow.trial_id == trial_id))
        session.delete(row)


def load_trial(session: Session, trial_id: str) -> Trial:
    """One trial as anybody may see it: a sealed one without the treatments of its units.

    Every answer of the API is built from this. NotFound where the shed has none of that id.
    """
    return veiled(load_whole(session, trial_id))


def load_whole(session: Session, trial_id: str) -> Trial:
    """One trial with its treatments, sealed or not: to judge it or to send it elsewhere whole.

    Who calls this is listed in tests/test_architecture.py.
    """
    return trial_of(session, row_of(session, trial_id))


def trial_begun_by(session: Session, begin: str) -> Trial:
    """The one trial whose id begins so; NotFound where none or several do."""
    if len(begin) < 8 or not begin.isalnum():
        raise NotFound("That is not a label code: scan it again.")
    rows = session.scalars(select(TrialRow).where(TrialRow.id.startswith(begin)).limit(2)).all()
    if len(rows) != 1:
        raise NotFound("The trial of this label is not on this server.")
    return veiled(trial_of(session, rows[0]))


def load_trials(session: Session) -> list[Trial]:
    """Every trial as anybody may see it, the newest first."""
    rows = session.scalars(select(TrialRow).order_by(TrialRow.created_at.desc(), TrialRow.id))
    return [veiled(trial_of(session, row)) for row in rows]


def materials_of(session: Session, kind: Kind) -> list[tuple[str, str]]:
    """Id and plant material of every started trial of a kind, the newest first."""
    rows = session.execute(
        select(TrialRow.id, TrialRow.material)
        .where(TrialRow.kind == kind.value, TrialRow.status == Status.STARTED.value)
        .order_by(TrialRow.created_at.desc())
    )
    return [(id_, material) for id_, material in rows]


def has_invented(session: Session) -> bool:
    """Whether the demo's trials are already in this shed."""
    found = session.scalar(select(TrialRow.id).where(TrialRow.invented.is_(True)).limit(1))
    return found is not None


def _amendment(
    trial_id: str, at: datetime, who: str, field: str, before: str, after: str, reason: str
) -> AmendmentRow:
    return AmendmentRow(
        trial_id=trial_id, at=at, who=who, field=field, before=before, after=after,
        reason=reason.strip(),
    )  # fmt: skip


def _check_lot(trial: Trial) -> None:
    """A bench laid in rows, or by hand, starts only over an override with its reason."""
    cells = [u.cell for u in trial.units]
    for note in notes_on_plan(trial.plan, cells):
        if note.code not in STARTS_OVER_A_REASON:
            continue
        if all(o.code != note.code for o in trial.plan.overrides):
            raise InvalidInput(
                f"{note.message} {note.advice} Or give your reason for keeping it.", "/overrides"
            )


def _measured_on(
    session: Session, trial_id: str, cells: Sequence[Cell]
) -> dict[tuple[int, int, int], list[tuple[str, float]]]:
    """Baseline values by place, where the bench stays what it was; none where it does not."""
    old = session.scalars(select(UnitRow).where(UnitRow.trial_id == trial_id)).all()
    places = {u.id: (u.tray, u.row, u.col) for u in old if u.treatment_id}
    if set(places.values()) != {(c.tray, c.row, c.col) for c in cells if c.treatment >= 0}:
        return {}
    rows = session.scalars(select(BaselineRow).where(BaselineRow.unit_id.in_(places)))
    out: dict[tuple[int, int, int], list[tuple[str, float]]] = {}
    for r in rows:
        out.setdefault(places[r.unit_id], []).append((r.trait, r.value))
    return out


def _put_back(
    session: Session, trial_id: str, measured: dict[tuple[int, int, int], list[tuple[str, float]]]
) -> None:
    if not measured:
        return
    for u in session.scalars(select(UnitRow).where(UnitRow.trial_id == trial_id)):
        for trait, value in measured.get((u.tray, u.row, u.col), ()):
            session.add(BaselineRow(unit_id=u.id, trait=trait, value=value))
    session.flush()


def _check(plan: Plan, seed: int) -> None:
    check_plan(plan)
    if not 0 <= seed < 2**SEED_BITS:
        raise InvalidInput(f"The seed must have at most {SEED_BITS} bits.", "/seed")
