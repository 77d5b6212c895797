"""The shed: real SQLite files, frozen plans, an append-only log, migrations."""

import sqlite3
import threading
from dataclasses import replace
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from alembic import command
from alembic.script import ScriptDirectory
from sqlalchemy import text
from sqlalchemy.exc import IntegrityError
from tools.write_openapi import schema_sql

from racecard.core.log.assemble import in_force
from racecard.core.model import Layout, Measure, Override, Role, Status, Trial
from racecard.core.model.observation import Observation
from racecard.core.plan.bench import Lock, draw_bench
from racecard.core.plan.record import fingerprint
from racecard.errors import Conflict, InvalidInput, LookPastEnd, NotFound
from racecard.store.engine import Shed
from racecard.store.migrating import HEAD, SCHEMA, alembic_config, schema_of
from racecard.store.rounds import load_observations, record
from racecard.store.trials import (
    amend_trial,
    copy_trial,
    create_trial,
    delete_draft,
    keep_baseline,
    load_baseline,
    load_trial,
    materials_of,
    save_plan,
    start_trial,
    unseal_trial,
)
from tests.builders import a_plan
from tests.conftest import Clock


def started(shed: Shed, clock: Clock, days: float = 6, **plan: Any) -> Trial:
    trial = create_trial(shed, a_plan(**plan), 7, "me")
    start_trial(shed, trial.id, "me")
    clock.forward(days)
    with shed.reading() as session:
        return load_trial(session, trial.id)


def look(
    trial: Trial, shed: Shed, id: str = "tap-0001", unit: int = 0, **fields: Any
) -> Observation:
    return Observation(
        id, trial.planted[unit].id, str(fields.pop("kind", "look")), 0,
        fields.pop("seen_at", shed.now()), "me", **fields,
    )  # fmt: skip


def log_of(shed: Shed, trial: Trial) -> list[Observation]:
    with shed.reading() as session:
        return load_observations(session, trial.id)


def test_a_draft_keeps_the_bench_its_seed_deals(shed: Shed) -> None:
    plan = a_plan("U", "A", "B", units=10, blocks=2)
    trial = create_trial(shed, plan, 99, "me")
    assert tuple(u.cell for u in trial.units) == draw_bench(plan, 99)


def test_a_saved_plan_replaces_the_draft_and_is_noted(shed: Shed) -> None:
    trial = create_trial(shed, a_plan(), 1, "me")
    saved = save_plan(shed, trial.id, a_plan(units=12), 2, "Ines")
    assert len(saved.planted) == 24
    with shed.reading() as session:
        rows = session.execute(text("SELECT who, what, detail FROM change ORDER BY id")).all()
    assert [(r.who, r.what) for r in rows] == [("me", "draft saved"), ("Ines", "draft saved")]
    assert '"units": 8' in rows[0].detail


def test_starting_stamps_day_nought_and_freezes(shed: Shed) -> None:
    trial = create_trial(shed, a_plan(), 1, "me")
    begun = start_trial(shed, trial.id, "me")
    assert (begun.status, begun.started_at) == (Status.STARTED, shed.now())
    for again in (
        lambda: save_plan(shed, trial.id, a_plan(), 1, "me"),
        lambda: start_trial(shed, trial.id, "me"),
        lambda: delete_draft(shed, trial.id),
    ):
        with pytest.raises(Conflict):
            again()


@pytest.mark.parametrize("away", [timedelta(days=1), timedelta(days=-500)])
def test_a_start_out_of_reach_is_refused(shed: Shed, away: timedelta) -> None:
    trial = create_trial(shed, a_plan(), 1, "me")
    with pytest.raises(InvalidInput):
        start_trial(shed, trial.id, "me", shed.now() + away)


def test_a_draft_can_be_thrown_away(shed: Shed) -> None:
    trial = create_trial(shed, a_plan(), 1, "me")
    delete_draft(shed, trial.id)
    with shed.reading() as session, pytest.raises(NotFound):
        load_trial(session, trial.id)


def test_unsealing_is_once_and_only_for_the_blind(shed: Shed, clock: Clock) -> None:
    blind = started(shed, clock, blind=True)
    assert blind.is_sealed
    assert not unseal_trial(shed, blind.id, "me").is_sealed
    with pytest.raises(Conflict):
        unseal_trial(shed, blind.id, "me")


def test_the_day_is_worked_out_from_the_stamp(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock, days=6)
    kept = record(shed, trial.id, [look(trial, shed, stage=3)])
    assert kept[0].day == 6


def test_sending_again_changes_nothing(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    tap = look(trial, shed, stage=3)
    assert record(shed, trial.id, [tap]) == record(shed, trial.id, [tap])
    assert len(log_of(shed, trial)) == 1


def test_a_second_look_on_one_day_corrects_the_first(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    record(shed, trial.id, [look(trial, shed, stage=3)])
    record(shed, trial.id, [look(trial, shed, "tap-0002", stage=6)])
    rows = log_of(shed, trial)
    assert [o.corrects for o in rows] == [None, "tap-0001"]
    assert [o.stage for o in in_force(rows)] == [6]


def test_taking_back_leaves_both_rows_in_the_log(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    record(shed, trial.id, [look(trial, shed, stage=3)])
    record(shed, trial.id, [look(trial, shed, "tap-0002", kind="void", corrects="tap-0001")])
    assert len(log_of(shed, trial)) == 2
    assert in_force(log_of(shed, trial)) == []


@pytest.mark.parametrize(
    ("fields", "error", "part"),
    [
        ({"stage": 0}, InvalidInput, "stage must be one of"),
        ({"loss": "bored"}, InvalidInput, "cause of loss"),
        ({}, InvalidInput, "needs a stage"),
        ({"kind": "count", "struck": 1}, InvalidInput, "looked at, not counted"),
        ({"kind": "score", "score": 6}, InvalidInput, "0 to 5"),
        ({"kind": "void"}, InvalidInput, "needs the observation"),
        ({"stage": 3, "corrects": "nothing-there"}, NotFound, "not in this unit's log"),
    ],
)
def test_a_wrong_tap_is_refused_in_one_sentence(
    shed: Shed, clock: Clock, fields: dict[str, Any], error: type[Exception], part: str
) -> None:
    trial = started(shed, clock)
    with pytest.raises(error, match=part):
        record(shed, trial.id, [look(trial, shed, **fields)])
    assert log_of(shed, trial) == []


def test_one_wrong_tap_in_a_batch_keeps_none(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    with pytest.raises(InvalidInput) as refused:
        record(
            shed, trial.id, [look(trial, shed, stage=3), look(trial, shed, "tap-0002", 1, stage=99)]
        )
    assert refused.value.pointer == "/stage"
    assert log_of(shed, trial) == []


@pytest.mark.parametrize(
    "counts", [{"struck": 6}, {"struck": 3, "lost": 3}, {"struck": 1, "lost_struck": 2}]
)
def test_counts_beyond_what_was_sown_are_refused(
    shed: Shed, clock: Clock, counts: dict[str, Any]
) -> None:
    trial = started(shed, clock, per_container=5)
    with pytest.raises(InvalidInput):
        record(shed, trial.id, [look(trial, shed, kind="count", **counts)])


def test_looks_out_of_the_trials_days_are_refused(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock, days=20, length_days=10, look_every_days=2)
    with pytest.raises(LookPastEnd, match="past the end"):
        record(shed, trial.id, [look(trial, shed, stage=3)])
    for away, part in ((-30, "before day 0"), (2, "in the future")):
        with pytest.raises(InvalidInput, match=part):
            record(
                shed,
                trial.id,
                [look(trial, shed, stage=3, seen_at=shed.now() + timedelta(days=away))],
            )


def test_a_draft_takes_no_looks(shed: Shed) -> None:
    trial = create_trial(shed, a_plan(), 1, "me")
    with pytest.raises(Conflict):
        record(shed, trial.id, [look(trial, shed, stage=3)])


@pytest.mark.parametrize("verb", ["UPDATE observation SET stage = 6", "DELETE FROM observation"])
def test_the_schema_itself_refuses_to_alter_an_observation(
    shed: Shed, clock: Clock, verb: str
) -> None:
    trial = started(shed, clock)
    record(shed, trial.id, [look(trial, shed, stage=3)])
    with pytest.raises(IntegrityError, match="only ever added to"), shed.writing() as session:
        session.execute(text(verb))


def test_the_schema_itself_refuses_a_second_control(shed: Shed) -> None:
    trial = create_trial(shed, a_plan(), 1, "me")
    with pytest.raises(IntegrityError), shed.writing() as session:
        session.execute(
            text("UPDATE treatment SET role = 'control' WHERE trial_id = :t"), {"t": trial.id}
        )


def test_two_phones_at_once_lose_nothing(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock, units=20)
    errors: list[Exception] = []

    def phone(name: str, units: range) -> None:
        try:
            for u in units:
                record(shed, trial.id, [look(trial, shed, f"{name}-{u:04}", u, stage=3)])
        except Exception as exc:
            errors.append(exc)

    threads = [
        threading.Thread(target=phone, args=(n, r))
        for n, r in (("one", range(20)), ("two", range(20, 40)))
    ]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert not errors
    assert len(log_of(shed, trial)) == 40


def test_what_was_acknowledged_is_in_the_file(shed: Shed, clock: Clock, tmp_path: Path) -> None:
    """A second opener, as after a killed server, sees every acknowledged tap."""
    trial = started(shed, clock)
    record(shed, trial.id, [look(trial, shed, stage=3)])
    other = Shed(tmp_path / "shed", now=clock)
    assert len(log_of(other, trial)) == 1
    other.close()


def test_the_head_is_the_newest_migration(shed: Shed) -> None:
    scripts = ScriptDirectory.from_config(alembic_config(shed.path))
    assert scripts.get_current_head() == HEAD


def test_a_new_file_is_what_all_migrations_leave(shed: Shed) -> None:
    assert schema_sql() == SCHEMA.read_text()
    assert schema_of(shed.path) == SCHEMA.read_text()


def test_the_file_has_wal_and_foreign_keys(shed: Shed) -> None:
    with shed.reading() as session:
        assert session.execute(text("PRAGMA journal_mode")).scalar() == "wal"
        assert session.execute(text("PRAGMA foreign_keys")).scalar() == 1
    with sqlite3.connect(shed.path) as raw:
        assert raw.execute("SELECT version_num FROM alembic_version").fetchone() == (HEAD,)
    raw.close()


def whole_plan() -> Any:
    plan = a_plan(
        "U", "A", units=6, blocks=2, columns=5, border=True, spare_cells=2, sides=("wall", "", "", "door"),
        look_days=(14, 28, 42), tray_names=("bench 1",), at_hand=(("labels", 4.0),), prior="hearsay",
        overrides=(Override("rows_by_treatment", "a small tray"),), secondary=(Measure.QUALITY,),
    )  # fmt: skip
    arms = (
        plan.treatments[0],
        replace(
            plan.treatments[1], properties=(("active", "IBA"),), prediction=70.0, per_stem=2.5, units=6,
            reference=False,
        ),
    )  # fmt: skip
    return replace(plan, treatments=arms)


def test_a_whole_plan_and_its_bench_come_back_as_they_were(shed: Shed) -> None:
    plan = whole_plan()
    locks = [Lock(0, 1, 1, 1)]
    trial = create_trial(shed, plan, 5, "me", locks=locks)
    back = replace(trial.plan, treatments=tuple(replace(t, id="") for t in trial.plan.treatments))
    assert back == replace(plan, treatments=tuple(replace(t, id="") for t in plan.treatments))
    assert tuple(u.cell for u in trial.units) == draw_bench(plan, 5, locks)
    assert sum(u.cell.locked for u in trial.units) == 1


def test_starting_stamps_a_fingerprint_of_what_is_frozen(shed: Shed) -> None:
    trial = create_trial(shed, whole_plan(), 5, "me")
    assert trial.fingerprint == ""
    begun = start_trial(shed, trial.id, "me")
    assert begun.fingerprint == fingerprint(begun.plan, [u.cell for u in begun.units], 5)


@pytest.mark.parametrize(
    ("plan", "code"),
    [
        ({"layout": Layout.BY_HAND, "columns": 2}, "not_drawn"),
        ({"layout": Layout.BY_HAND, "units": 8, "columns": 8}, "rows_by_treatment"),
    ],
)
def test_a_bench_without_a_lot_starts_only_over_a_reason(
    shed: Shed, plan: dict[str, Any], code: str
) -> None:
    trial = create_trial(shed, a_plan(**plan), 1, "me")
    with pytest.raises(InvalidInput, match="give your reason") as refused:
        start_trial(shed, trial.id, "me")
    assert refused.value.pointer == "/overrides"
    reasons = tuple(Override(c, "one shelf") for c in ("not_drawn", "rows_by_treatment"))
    save_plan(shed, trial.id, a_plan(**plan, overrides=reasons), 1, "me")
    begun = start_trial(shed, trial.id, "me")
    assert code in {o.code for o in begun.plan.overrides}


def test_an_amendment_keeps_what_was_and_why(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    amended = amend_trial(
        shed, trial.id, {"length_days": 60}, "tray B leaked", "a cold spring", "Ines"
    )
    assert amended.plan.length_days == 60
    assert [(a.field, a.before, a.after) for a in amended.amendments] == [
        ("length_days", "42", "60"), ("", "", "tray B leaked"),
    ]  # fmt: skip
    assert {a.reason for a in amended.amendments} == {"a cold spring"}
    assert amended.fingerprint == trial.fingerprint
    again = amend_trial(shed, trial.id, {"look_days": (20, 60)}, "", "fewer looks", "Ines")
    assert again.plan.look_days == (20, 60)
    assert len(again.amendments) == 3


@pytest.mark.parametrize(
    ("change", "note", "reason", "part"),
    [
        ({"length_days": 60}, "", "  ", "needs a reason"),
        ({}, " ", "so", "Nothing is changed"),
        ({"length_days": 42}, "", "so", "Nothing is changed"),
        ({"units": 9}, "", "so", "stay as they were stuck"),
        ({"length_days": 0}, "", "so", "must be 1 to 730"),
    ],
)
def test_an_amendment_that_makes_no_sense_is_refused(
    shed: Shed, clock: Clock, change: dict[str, object], note: str, reason: str, part: str
) -> None:
    trial = started(shed, clock)
    with pytest.raises(InvalidInput, match=part):
        amend_trial(shed, trial.id, change, note, reason, "me")


def test_a_draft_is_changed_not_amended_and_amendments_are_never_altered(
    shed: Shed, clock: Clock
) -> None:
    draft = create_trial(shed, a_plan(), 1, "me")
    with pytest.raises(Conflict):
        amend_trial(shed, draft.id, {"length_days": 60}, "", "so", "me")
    trial = started(shed, clock)
    amend_trial(shed, trial.id, {}, "turned the tray", "habit", "me")
    for sql in ("UPDATE amendment SET reason = 'x'", "DELETE FROM amendment"):
        with pytest.raises(IntegrityError, match="only ever added to"), shed.writing() as session:
            session.execute(text(sql))


def test_a_copy_is_a_new_draft_without_the_predictions(shed: Shed, clock: Clock) -> None:
    trial = create_trial(shed, whole_plan(), 5, "me")
    copy = copy_trial(shed, trial.id, 9, "me")
    assert copy.status is Status.DRAFT
    assert (copy.seed, copy.plan.units) == (9, 6)
    assert all(t.prediction is None for t in copy.plan.treatments)
    assert copy.plan.question.endswith("(again)")


def test_what_was_measured_stays_where_the_bench_stays(shed: Shed) -> None:
    trial = create_trial(shed, a_plan(units=4), 3, "me")
    keep_baseline(shed, trial.id, "length", [7.5, None, 8, 9], "me")
    with shed.reading() as session:
        kept = load_baseline(session, trial.id)["length"]
    assert sorted(kept.values()) == [7.5, 8.0, 9.0]
    save_plan(shed, trial.id, a_plan(units=4, gap_points=30), 3, "me")
    with shed.reading() as session:
        assert sorted(load_baseline(session, trial.id)["length"].values()) == [7.5, 8.0, 9.0]
    save_plan(shed, trial.id, a_plan(units=5), 3, "me")
    with shed.reading() as session:
        assert load_baseline(session, trial.id) == {}


@pytest.mark.parametrize(
    ("trait", "values", "part"),
    [("hue", [1.0], "must be one of"), ("length", [1.0] * 99, "99 values for 8"), ("length", [-1.0], "Value 1 is -1")],
)  # fmt: skip
def test_a_measure_that_makes_no_sense_is_refused(
    shed: Shed, trait: str, values: list[float | None], part: str
) -> None:
    trial = create_trial(shed, a_plan(units=4), 3, "me")
    with pytest.raises(InvalidInput, match=part):
        keep_baseline(shed, trial.id, trait, values, "me")


def test_nothing_is_measured_before_the_start_once_it_has_started(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    with pytest.raises(Conflict):
        keep_baseline(shed, trial.id, "length", [1.0], "me")


def test_materials_are_of_started_trials_of_the_kind(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    create_trial(shed, a_plan(material="sage"), 1, "me")
    with shed.reading() as session:
        assert materials_of(session, trial.plan.kind) == [(trial.id, "lavender")]


def test_an_older_shed_keeps_its_trials_and_its_door(tmp_path: Path) -> None:
    """A file of schema 0002, filled by hand, comes up with sides, defaults and its log."""
    path = tmp_path / "racecard.sqlite3"
    command.upgrade(alembic_config(path), "0002")
    with sqlite3.connect(path) as raw:
        raw.execute(
            "INSERT INTO trial VALUES ('t', '2026-05-01', 'me', 'started', '2026-05-02', NULL, 7, 0, "
            "'Q?', 'mint', 'cutting', 1, 1, 1, 10, 6, 10, 42, 3, 20, 50, 0, 0, 'UTC', 'sticking', 'top')"
        )
        for i, role in enumerate(("control", "candidate")):
            raw.execute(
                "INSERT INTO treatment VALUES (?, 't', ?, ?, ?, '', 'nothing', 'none', 'plain')",
                (f"a{i}", i, f"T{i}", role),
            )
            raw.execute("INSERT INTO unit VALUES (?, 't', 0, 0, ?, 0, ?)", (f"u{i}", i, f"a{i}"))
        raw.execute(
            "INSERT INTO observation VALUES ('o', 1, 't', 'u0', 'look', 3, '2026-05-05', '2026-05-05', "
            "'me', NULL, 1, 0, 0, NULL, 0, NULL, NULL, NULL, NULL)"
        )
    shed = Shed(tmp_path)
    with shed.reading() as session:
        trial = load_trial(session, "t")
        log = load_observations(session, "t")
    shed.close()
    assert trial.plan.sides == ("door", "", "", "")
    assert trial.plan.look_days == ()
    assert [t.role for t in trial.plan.treatments] == [Role.CONTROL, Role.CANDIDATE]
    assert [u.cell.locked for u in trial.units] == [False, False]
    assert [o.id for o in log] == ["o"]
    command.downgrade(alembic_config(path), "0002")
    with sqlite3.connect(path) as raw:
        assert raw.execute("SELECT COUNT(*) FROM observation").fetchone() == (1,)


def test_ten_thousand_units_are_kept(shed: Shed) -> None:
    plan = a_plan(*"UABCD", units=2000, blocks=4, columns=40, tray_rows=40)
    assert len(create_trial(shed, plan, 1, "me").planted) == 10_000


def test_a_repeat_takes_the_number_it_is_advised(shed: Shed) -> None:
    old = create_trial(
        shed, a_plan(units=2, blocks=2, per_container=10, count_singly=True), 1, "me"
    )
    again = copy_trial(shed, old.id, 7, "me", units=75, alone=True).plan
    assert (again.units, again.per_container, again.blocks) == (75, 1, 2)
    assert not again.count_singly
    same = copy_trial(shed, old.id, 7, "me").plan
    assert (same.units, same.per_container) == (2, 10)
    one = copy_trial(shed, old.id, 7, "me", units=1).plan
    assert one.blocks == 1
