"""The shed: real SQLite files, frozen plans, an append-only log, migrations."""

import sqlite3
import threading
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from alembic.script import ScriptDirectory
from sqlalchemy import text
from sqlalchemy.exc import IntegrityError

from racecard.core.log.assemble import in_force
from racecard.core.model import Observation, Status, Trial
from racecard.core.plan.bench import draw_bench
from racecard.errors import Conflict, InvalidInput, LookPastEnd, NotFound
from racecard.store.engine import HEAD, Shed, alembic_config
from racecard.store.rounds import load_observations, record
from racecard.store.trials import (
    create_trial,
    delete_draft,
    load_trial,
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


def test_the_file_has_wal_and_foreign_keys(shed: Shed) -> None:
    with shed.reading() as session:
        assert session.execute(text("PRAGMA journal_mode")).scalar() == "wal"
        assert session.execute(text("PRAGMA foreign_keys")).scalar() == 1
    with sqlite3.connect(shed.path) as raw:
        assert raw.execute("SELECT version_num FROM alembic_version").fetchone() == (HEAD,)
    raw.close()
