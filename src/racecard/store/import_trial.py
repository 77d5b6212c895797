"""A whole trial from another shed, brought in with its bench as it stood."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from racecard.core.log.days import noon_of_day
from racecard.core.model import Amendment, Plan, Status, Trial
from racecard.core.model.observation import Entry, Observation, Scope, Setting
from racecard.core.plan.check import check_plan
from racecard.core.plan.record import fingerprint
from racecard.errors import InvalidInput
from racecard.store.diary import record_entries
from racecard.store.engine import Shed
from racecard.store.rounds import record
from racecard.store.sticking import record_settings
from racecard.store.trials import add_amendments, insert_trial, load_trial


def import_trial(
    shed: Shed, trial: Trial, log: Sequence[Observation], entries: Sequence[Entry], who: str
) -> Trial:
    """Add a trial and its log under new ids; all of it or nothing.

    The log is replayed through the same checks that a phone's taps pass.

    Args:
        shed: the shed.
        trial: the trial with ids of its own file.
        log: its observations, in the order they were recorded.
        entries: its diary.
        who: who brings it in.

    Raises:
        InvalidInput: the plan, the bench or an observation breaks a rule.
    """
    check_plan(trial.plan)
    _check_bench(trial)
    with shed.writing() as session:  # what follows is part of it: all is kept, or nothing
        kept = insert_trial(shed, session, trial, who)
        unit_id = {old.id: new.id for old, new in zip(trial.units, kept.units, strict=True)}
        new_id = {o.id: shed.new_id() for o in log}
        renamed = [
            replace(
                o, id=new_id[o.id], unit_id=unit_id[o.unit_id],
                corrects=None if o.corrects is None else new_id[o.corrects],
                beside=None if o.beside is None else new_id[o.beside],
                base=new_id.get(o.base or "", o.base), recorded_at=o.recorded_at or o.seen_at,
            )
            for o in log
        ]  # fmt: skip
        if renamed:
            record(shed, kept.id, renamed, settled=True)
        add_amendments(shed, kept.id, (*trial.amendments, *_doubts(shed, trial, who)))
        _bring_settings(shed, trial, kept, unit_id, who)
        _bring_entries(shed, kept, entries, unit_id)
        session.flush()
        return load_trial(session, kept.id)


def _doubts(shed: Shed, trial: Trial, who: str) -> tuple[Amendment, ...]:
    """That the fingerprint of the file is not that of its contents, as a note that stays with the trial."""
    cells = [u.cell for u in trial.units]
    if not trial.fingerprint or trial.amendments:  # an amended plan is not the one that was printed
        return ()
    plans = (trial.plan, _as_before_soaks_were_confirmed(trial.plan))
    printed = {
        fingerprint(p, cells, trial.seed)
        for plan in plans
        for p in (plan, _with_whole_numbers(plan))
    }
    if trial.fingerprint in printed:
        return ()
    says = "the fingerprint in the file is not that of its plan, bench and seed: something was changed after the start"
    return (Amendment(shed.now(), who, "", "", says, "found when the trial was imported"),)


def _as_before_soaks_were_confirmed(plan: Plan) -> Plan:
    """The plan as it was printed when soaks in words ran the clock without standing in the plan."""
    arms = tuple(t if t.steps_settled else replace(t, steps=()) for t in plan.treatments)
    return replace(plan, treatments=arms)


def _with_whole_numbers(plan: Plan) -> Plan:
    """The plan with 50.0 as 50 in its treatments: JSON does not keep them apart, a fingerprint does."""
    arms = tuple(
        replace(t, prediction=_whole(t.prediction), per_stem=_whole(t.per_stem))
        for t in plan.treatments
    )
    return replace(plan, treatments=arms)


def _whole(value: float | None) -> float | None:
    return int(value) if value is not None and value == int(value) else value


def _bring_settings(
    shed: Shed, trial: Trial, kept: Trial, unit_id: Mapping[str, str], who: str
) -> None:
    """What was really set otherwise than planned, as the file has it."""
    if kept.started_at is None:
        return
    zone = trial.plan.time_zone
    said = [
        Setting(
            unit_id[u.id], shed.now(), who, u.is_set,
            noon_of_day(kept.started_at, u.late, zone) if u.late else None, u.why, u.lot, u.size,
        )
        for u in trial.planted if not u.is_set or u.late or u.why or u.lot or u.size
    ]  # fmt: skip
    if said:
        record_settings(shed, kept.id, said)


def _bring_entries(
    shed: Shed, kept: Trial, entries: Sequence[Entry], unit_id: Mapping[str, str]
) -> None:
    """The diary as the file has it; a photo comes as the note that one was taken."""
    new_id = {e.id: shed.new_id() for e in entries}
    said = []
    for e in entries:
        target = e.target
        if e.scope is Scope.UNIT:
            target = unit_id[e.target]
        kind, text, what = e.kind, e.text, e.what
        if kind in ("photo", "traced"):
            kind, text, what = "note", _as_note(e), ""
        said.append(
            replace(
                e, id=new_id[e.id], target=target, kind=kind, text=text, what=what,
                corrects=None if e.corrects is None else new_id[e.corrects],
            )
        )  # fmt: skip
    if said:
        record_entries(shed, kept.id, said, settled=True)


def _as_note(e: Entry) -> str:
    """A photo, or marks on one, as words: the picture itself is not in the file."""
    if e.kind == "photo":
        return e.text or "a photo was taken"
    numbers = ", ".join(f"{name} {value:g}" for name, value in e.values)
    return f"marks were made on a photo: {numbers}"


def _check_bench(trial: Trial) -> None:
    places = [(u.cell.tray, u.cell.row, u.cell.col) for u in trial.units]
    if places != sorted(set(places)):
        raise InvalidInput("The cells of the bench must stand in order, each place once.", "/bench")
    planned = sum(trial.plan.units_of)
    if len(trial.planted) != planned:
        raise InvalidInput(
            f"The bench has {len(trial.planted)} planted cells, the plan {planned}.", "/bench"
        )
    if trial.status is Status.DRAFT and trial.unsealed_at is not None:
        raise InvalidInput("A draft cannot be unsealed.", "/unsealed_at")
