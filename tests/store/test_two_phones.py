"""Two phones on one tray: what they agree on merges, what they do not stays side by side."""

from dataclasses import replace
from datetime import timedelta

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from racecard.core.log.assemble import conflicting, in_force
from racecard.core.log.days import clock_corrected
from racecard.core.model import Trial
from racecard.core.model.observation import Observation
from racecard.errors import AppError, InvalidInput, NotFound
from racecard.store.engine import Shed
from racecard.store.rounds import move_round, record
from tests.conftest import NOON, Clock
from tests.store.test_trials import log_of, look, started


def seen(shed: Shed, trial: Trial) -> list[tuple[int | None, str | None]]:
    return [(o.stage, o.loss) for o in in_force(log_of(shed, trial))]


def test_two_phones_that_saw_the_same_merge_without_a_question(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    record(shed, trial.id, [look(trial, shed, "phone-a1", stage=6, base="", device="a")])
    record(shed, trial.id, [look(trial, shed, "phone-b1", stage=6, base="", device="b")])
    assert seen(shed, trial) == [(6, None)]
    assert conflicting(log_of(shed, trial)) == []


def test_two_phones_that_differ_keep_both_until_somebody_decides(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    record(shed, trial.id, [look(trial, shed, "phone-a1", stage=3, base="", device="a")])
    record(shed, trial.id, [look(trial, shed, "phone-b1", stage=6, base="", device="b")])
    assert seen(shed, trial) == [(3, None)]
    (open_,) = conflicting(log_of(shed, trial))
    assert (open_.id, open_.beside) == ("phone-b1", "phone-a1")

    taken = look(trial, shed, "phone-a2", stage=6, corrects="phone-a1", device="a")
    back = look(trial, shed, "phone-a3", kind="void", corrects="phone-b1", device="a")
    record(shed, trial.id, [back, taken])
    assert seen(shed, trial) == [(6, None)]
    assert conflicting(log_of(shed, trial)) == []
    assert len(log_of(shed, trial)) == 4


def test_a_second_look_that_knew_the_first_is_a_correction(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    record(shed, trial.id, [look(trial, shed, "phone-a1", stage=3, base="", device="a")])
    record(shed, trial.id, [look(trial, shed, "phone-b1", stage=6, base="phone-a1", device="b")])
    assert seen(shed, trial) == [(6, None)]
    assert conflicting(log_of(shed, trial)) == []


def test_one_phones_own_taps_never_differ_with_themselves(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    taps = [look(trial, shed, f"phone-a{i}", stage=i, base="", device="a") for i in (2, 3, 4)]
    record(shed, trial.id, taps)
    assert seen(shed, trial) == [(4, None)]
    assert conflicting(log_of(shed, trial)) == []


def test_an_older_tap_that_comes_late_does_not_push_out_the_newer(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    first = look(trial, shed, "phone-a1", stage=3, base="", device="a")
    then = look(trial, shed, "phone-a2", stage=6, base="phone-a1", device="a")
    record(shed, trial.id, [then])
    record(shed, trial.id, [first])
    assert seen(shed, trial) == [(6, None)]
    assert conflicting(log_of(shed, trial)) == []


@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(data=st.data())
def test_whatever_order_batches_come_in_and_however_often_each_tap_is_there_once(
    tmp_path_factory: pytest.TempPathFactory, data: st.DataObject
) -> None:
    clock = Clock(NOON)
    shed = Shed(tmp_path_factory.mktemp("shed"), now=clock)
    trial = started(shed, clock)
    stages = data.draw(st.lists(st.integers(1, 7), min_size=3, max_size=8))
    chain = [
        look(
            trial,
            shed,
            f"tap-{i:04}",
            stage=s,
            base=f"tap-{i - 1:04}" if i else "",
            device="a",
            seen_at=shed.now() - timedelta(minutes=30 - i),
        )
        for i, s in enumerate(stages)
    ]
    sends = data.draw(st.permutations(chain)) + data.draw(
        st.lists(st.sampled_from(chain), max_size=5)
    )
    for tap in sends:
        record(shed, trial.id, [tap])
    log = log_of(shed, trial)
    assert sorted(o.id for o in log) == sorted(o.id for o in chain)
    assert conflicting(log) == []
    standing = in_force(log)
    assert len(standing) == 1
    assert standing[0].id == chain[-1].id
    shed.close()


def test_phones_with_crossed_clocks_are_put_right_by_how_far_they_are_off(
    shed: Shed, clock: Clock
) -> None:
    trial = started(shed, clock)
    now = shed.now()
    ahead, behind = timedelta(days=2), timedelta(hours=-30)
    for name, off in (("a", ahead), ("b", behind)):
        tap = look(trial, shed, f"phone-{name}1", unit=int(name == "b"), stage=3, device=name,
                   seen_at=now + off - timedelta(minutes=1))  # fmt: skip
        (kept,) = record(shed, trial.id, [clock_corrected(tap, now + off, now)])
        assert kept.day == 6
        assert kept.seen_at == now - timedelta(minutes=1)


def test_a_stamp_a_little_off_is_left_as_it_is(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    tap = look(trial, shed, "phone-a1", stage=3)
    assert clock_corrected(tap, shed.now() + timedelta(seconds=90), shed.now()) is tap
    assert clock_corrected(tap, None, shed.now()) is tap


def test_a_round_on_the_wrong_day_moves_as_a_whole_and_the_log_shows_both(
    shed: Shed, clock: Clock
) -> None:
    trial = started(shed, clock)
    taps = [look(trial, shed, f"tap-{i:04}", unit=i, stage=3) for i in range(4)]
    record(shed, trial.id, taps)
    assert move_round(shed, trial.id, 6, 4, None, "me") == 4
    log = log_of(shed, trial)
    assert [o.day for o in in_force(log)] == [4] * 4
    assert [o.day for o in log] == [6] * 4 + [4] * 4
    with pytest.raises(InvalidInput, match="Nothing was entered on day 6"):
        move_round(shed, trial.id, 6, 4, None, "me")


def test_a_round_does_not_move_onto_looks_that_are_there(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    record(shed, trial.id, [look(trial, shed, "tap-0001", stage=3)])
    early = look(trial, shed, "tap-0002", stage=2, seen_at=shed.now() - timedelta(days=2))
    record(shed, trial.id, [early])
    with pytest.raises(InvalidInput, match="Day 4 already has looks at A1"):
        move_round(shed, trial.id, 6, 4, None, "me")
    with pytest.raises(InvalidInput, match="future"):
        move_round(shed, trial.id, 6, 9, None, "me")


def test_a_round_on_the_wrong_tray_moves_to_the_same_places_of_the_other(
    shed: Shed, clock: Clock
) -> None:
    trial = started(shed, clock, units=8, columns=4, tray_rows=2)
    first = [i for i, u in enumerate(trial.planted) if u.cell.tray == 0]
    taps = [look(trial, shed, f"tap-{i:04}", unit=i, stage=3) for i in first]
    record(shed, trial.id, taps)
    assert move_round(shed, trial.id, 6, 6, (0, 1), "me") == len(first)
    place = {u.id: u.cell for u in trial.planted}
    moved = in_force(log_of(shed, trial))
    assert {place[o.unit_id].tray for o in moved} == {1}
    with pytest.raises(InvalidInput, match="Nothing was entered"):
        move_round(shed, trial.id, 6, 6, (0, 1), "me")


def test_a_jar_has_no_one_score_and_every_plant_its_own(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock, units=4, per_container=10)
    record(shed, trial.id, [look(trial, shed, "tap-0001", kind="count", struck=6, lost=2)])

    def score(id: str, **fields: object) -> Observation:
        return replace(look(trial, shed, id, kind="score"), **fields)  # type: ignore[arg-type]

    for id, fields, says in (
        ("best-001", {"score": 5}, "the best is not the jar"),
        ("best-002", {"parts": (("score_5", 1.0),)}, "1 of the 8 plants"),
        ("best-003", {"parts": (("roots", 1.0),)}, "not a number of scored plants"),
    ):
        with pytest.raises(InvalidInput, match=says):
            record(shed, trial.id, [score(id, **fields)])
    parts = (("score_5", 2.0), ("score_2", 4.0), ("score_0", 2.0))
    record(shed, trial.id, [score("all-0001", parts=parts)])
    from racecard.core.log.assemble import unit_logs

    (log, *_) = unit_logs(trial.planted, log_of(shed, trial))
    assert log.score == pytest.approx(18 / 10)


def test_a_void_of_what_is_not_there_is_refused_in_a_sentence(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    with pytest.raises(NotFound):
        record(shed, trial.id, [look(trial, shed, "tap-0001", kind="void", corrects="nobody")])
    with pytest.raises(AppError):
        record(shed, trial.id, [look(trial, shed, "tap-0002", kind="void")])
