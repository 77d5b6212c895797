"""The diary beside the looks, and what it means: places, events, harm, notes, tasks."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from racecard.core.finish.of_trial import finish_of
from racecard.core.log.course import course
from racecard.core.log.due import State, missed_says, tasks
from racecard.core.log.events import EVENTS, entries_in_force, places, says, units_touched
from racecard.core.log.measures import check_measures
from racecard.core.log.note_parser import heard
from racecard.core.log.stages import ladder_for
from racecard.core.model import Cell, Kind, Measure, Plan, Status, Trial, Unit
from racecard.core.model.observation import Entry, Look, Observation, Scope, UnitLog
from racecard.core.notes import Note
from racecard.errors import InvalidInput, NotFound
from tests.builders import a_plan

T0 = datetime(2026, 5, 4, 9, tzinfo=UTC)


def bench(plan: Plan, columns: int = 4) -> tuple[Unit, ...]:
    n = sum(plan.units_of)
    arms = [i % len(plan.treatments) for i in range(n)]
    return tuple(Unit(f"u{i}", Cell(0, i // columns, i % columns, 0, arms[i])) for i in range(n))


def event(
    what: str, scope: Scope = Scope.TRIAL, target: str = "", day: int = 3, **more: object
) -> Entry:
    id = str(more.pop("id", f"{what}-{target}-{day}"))
    return Entry(
        id, str(more.pop("kind", "event")), scope, target, day,
        T0 + timedelta(days=day), "me", what=what, **more,  # type: ignore[arg-type]
    )  # fmt: skip


def trial_of(plan: Plan, **more: object) -> Trial:
    return Trial("t", plan, Status.STARTED, 7, bench(plan), T0, T0, **more)  # type: ignore[arg-type]


def move(unit: str, row: int, col: int, day: int = 3) -> Entry:
    values = (("tray", 0.0), ("row", float(row)), ("col", float(col)))
    return event("moved", Scope.UNIT, unit, day, values=values, id=f"m-{unit}-{day}-{row}-{col}")


def test_a_moved_pot_changes_places_with_what_stood_there() -> None:
    units = bench(a_plan(units=4))
    at = places(units, [move("u0", 0, 1), move("u0", 5, 0, day=4)])
    assert at["u1"] == (0, 0, 0)
    assert at["u0"] == (0, 5, 0)


@given(st.lists(st.tuples(st.integers(0, 7), st.integers(0, 3), st.integers(0, 3)), max_size=30))
def test_however_pots_are_moved_no_two_stand_in_one_place(
    moves: list[tuple[int, int, int]],
) -> None:
    units = bench(a_plan(units=4))
    told = [move(f"u{u}", r, c, day) for day, (u, r, c) in enumerate(moves)]
    at = places(units, told)
    assert len(set(at.values())) == len(units)


def test_taking_an_entry_back_and_correcting_it_leave_one_standing() -> None:
    first = event("watered", id="a")
    second = replace(first, id="b", corrects="a")
    back = replace(first, id="c", kind="void", corrects="b")
    assert entries_in_force([first, second]) == [second]
    assert entries_in_force([first, second, back]) == [first]


@pytest.mark.parametrize(
    ("what", "text", "is_refused"),
    [("culled", "", True), ("thinned", "the finest stays", True), ("thinned", "", False),
     ("harvested", "the best stem", False)],
)  # fmt: skip
def test_survivors_kept_as_the_best_are_not_compared(
    what: str, text: str, is_refused: bool
) -> None:
    plan = a_plan(units=8, per_container=4)
    units = bench(plan)
    log = [
        Observation(f"o{u.id}{day}", u.id, "count", day, T0 + timedelta(days=day), "me", struck=n)
        for u in units
        for day, n in ((12, 0), (42, 4 if u.cell.treatment else 0))
    ]
    cut = event(what, day=20, text=text, values=(("amount", 3.0),))
    whole = finish_of(Trial("t", plan, Status.STARTED, 1, units, T0, T0), log, [cut]).whole
    assert whole.judgement.comparisons[0].why == ("thinned_strongest" if is_refused else "")
    assert ("thinned_strongest" in {n.code for n in whole.notes}) is is_refused
    assert whole.judgement.arms[1].strike.struck == 32  # what was cut or kept stays in the count


def notes_on_events(
    plan: Plan, units: tuple[Unit, ...], entries: list[Entry], log: Sequence[Observation] = ()
) -> tuple[Note, ...]:
    trial = Trial("t", plan, Status.STARTED, 1, units, T0, T0)
    found = finish_of(trial, log, entries).whole.notes
    return tuple(n for n in found if n.code in ("some_arms_only", "entered_as_row"))


def test_an_event_that_touched_one_arm_only_is_told_by_the_stewards() -> None:
    plan = a_plan("Untreated", "IBA", "NAA", units=4)
    units = bench(plan)
    (note,) = notes_on_events(plan, units, [event("frost", Scope.ARM, "1", 9)])
    assert note.code == "some_arms_only"
    assert "On day 9 IBA (4 of 4) was caught by frost; Untreated and NAA were not" in note.message
    assert notes_on_events(plan, units, [event("frost", day=9)]) == ()
    assert notes_on_events(plan, units, [move("u0", 5, 1)]) == ()


def test_watering_every_arm_on_its_own_day_is_no_difference() -> None:
    plan = a_plan(units=4)
    told = [event("watered", Scope.ARM, "0", 3), event("watered", Scope.ARM, "1", 4)]
    assert notes_on_events(plan, bench(plan), told) == ()


def test_a_tray_that_holds_one_arm_is_a_difference() -> None:
    plan = a_plan(units=4)
    units = tuple(replace(u, cell=replace(u.cell, tray=u.cell.treatment)) for u in bench(plan))
    (note,) = notes_on_events(plan, units, [event("spill", Scope.TRAY, "1")])
    assert "IBA 1000 ppm (4 of 4) was spilt or knocked; Untreated was not" in note.message


def test_a_pot_moved_to_another_tray_shares_what_happens_there() -> None:
    plan = a_plan(units=4)
    units = tuple(replace(u, cell=replace(u.cell, tray=u.cell.treatment)) for u in bench(plan))
    stray = next(u for u in units if u.cell.treatment == 0)
    to = (("tray", 1.0), ("row", 9.0), ("col", 0.0))
    moved = event("moved", Scope.UNIT, stray.id, day=5, values=to)
    before = event("watered", Scope.TRAY, "1", day=4)
    after = event("watered", Scope.TRAY, "1", day=6)
    assert stray not in units_touched(before, units, plan, [moved, before])
    assert stray in units_touched(after, units, plan, [moved, after])
    assert stray not in units_touched(event("fed", Scope.TRAY, "0", day=6), units, plan, [moved])


def test_looks_entered_a_row_at_a_time_are_counted_for_the_finish() -> None:
    plan = a_plan(units=4)
    log = [
        Observation(f"o{i}", f"u{i}", "look", 3, T0, "me", stage=1, as_row=i < 2) for i in range(8)
    ]
    (note,) = notes_on_events(plan, bench(plan), [], log)
    assert note.message.startswith("2 of 8 looks (25 %) were entered a row at a time")


def test_an_entry_names_a_unit_a_tray_and_an_arm_that_are_there() -> None:
    plan = a_plan(units=4)
    units = bench(plan)
    assert len(units_touched(event("fed", Scope.ARM, "1"), units, plan, [])) == 4
    for scope, target in ((Scope.ARM, "9"), (Scope.TRAY, "4"), (Scope.UNIT, "nobody")):
        with pytest.raises(NotFound):
            units_touched(event("fed", scope, target), units, plan, [])


@pytest.mark.parametrize("code", [e.code for e in EVENTS])
def test_every_event_can_be_said(code: str) -> None:
    told = says(event(code, Scope.UNIT, "u0", text="a word"), {"u0": "A1"})
    assert "A1" in told
    assert told.endswith(": a word")


@pytest.mark.parametrize(
    ("values", "says"),
    [
        ({}, "at least one"),
        ({"height": -1.0}, "between 0 and 5000 mm"),
        ({"ph": 15.0}, "between 0 and 14, got 15"),
        ({"leaves": 2.5}, "whole number"),
        ({"curl": 4.0}, "between 0 and 3"),
        ({"colour": 1.0}, "not measured here"),
    ],
)
def test_a_measure_that_cannot_be_is_refused(values: dict[str, float], says: str) -> None:
    with pytest.raises(InvalidInput, match=says):
        check_measures(values)


CODES = {c: c for c in ("A1", "A4", "B2", "2-C3")}


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("A4 rooted", [("A4", 6, None)]),
        ("a4 callus and B2 rotted", [("A4", 3, None), ("B2", None, "rotted")]),
        ("2-c3: first root", [("2-C3", 5, None)]),
        ("A4 not rooted yet", []),
        ("A4 looks almost rooted", []),
        ("nice morning", []),
        ("rooted", [("A1", 6, None)]),
        ("Z9 rooted", [("A1", 6, None)]),
    ],
)
def test_a_note_proposes_looks_and_only_those_it_says(
    text: str, found: list[tuple[str, int | None, str | None]]
) -> None:
    heard_ = heard(text, ladder_for(Kind.CUTTING), CODES, here="A1")
    assert [(h.code, h.stage, h.loss) for h in heard_] == found


def due(plan: Plan, today: int, made: dict[int, bool], logs: list[UnitLog] | None = None,
        entries: list[Entry] | None = None, **more: object) -> list[tuple[str, State, int]]:  # fmt: skip
    trial = trial_of(plan, **more)
    logs = logs or [UnitLog()] * len(trial.stuck)
    found = tasks(trial, today, course(plan, today, made), logs, entries or [])
    return [(t.kind, t.state, t.day) for t in found]


def test_looks_are_due_then_overdue_and_a_missed_one_says_its_cost() -> None:
    plan = a_plan(length_days=21, look_every_days=7)
    assert due(plan, 7, {}) == [("look", State.DUE, 7)]
    assert due(plan, 8, {}) == [("look", State.OVERDUE, 7)]
    assert due(plan, 5, {}) == [("look", State.COMING, 7)]
    assert due(plan, 3, {}) == []
    dots = course(plan, 14, {})
    says = missed_says(trial_of(plan), dots)
    assert says == "The look of day 7 was missed: roots first seen now came some time since day 0."


def test_a_planned_job_stays_until_its_event_is_written() -> None:
    plan = a_plan(length_days=21, look_every_days=7, jobs=(("uncovered", 10),))
    assert ("job", State.DUE, 10) in due(plan, 10, {7: True})
    assert ("job", State.OVERDUE, 10) in due(plan, 12, {7: True})
    done = [event("uncovered", day=9)]
    assert not [t for t in due(plan, 12, {7: True}, entries=done) if t[0] == "job"]


def test_units_drawn_for_a_lift_are_due_until_they_are_out() -> None:
    plan = a_plan(length_days=21, look_every_days=7, sample_lifts=((7, 2),))
    assert ("lift", State.DUE, 7) in due(plan, 7, {})
    gone = [UnitLog(looks=(Look(7, 3, removed=True),))] * 16
    assert not [t for t in due(plan, 8, {7: True}, gone) if t[0] == "lift"]


def test_the_final_lift_stays_open_until_every_plant_is_scored() -> None:
    plan = a_plan(length_days=21, look_every_days=7, measure=Measure.QUALITY)
    assert ("lift", State.DUE, 21) in due(plan, 21, {7: True, 14: True})
    assert ("lift", State.OPEN, 21) in due(plan, 40, {7: True, 14: True, 21: True})
    scored = [UnitLog(score=3)] * 16
    assert not [t for t in due(plan, 40, {21: True}, scored) if t[0] == "lift"]


def test_a_follow_up_stays_open_until_it_is_closed() -> None:
    plan = a_plan(length_days=21, look_every_days=7)
    later = event("follow_up", id="f1", values=(("day", 60.0),), text="flower count")
    assert ("follow_up", State.OPEN, 60) in due(plan, 22, {21: True}, entries=[later])
    assert ("follow_up", State.DUE, 60) in due(plan, 60, {21: True}, entries=[later])
    closed = event("closed", text="f1")
    assert due(plan, 60, {7: True, 14: True, 21: True}, entries=[later, closed]) == []


def test_a_trial_past_its_end_without_a_full_round_stays_open() -> None:
    plan = a_plan(length_days=21, look_every_days=7)
    assert ("verdict", State.OPEN, 21) in due(plan, 40, {7: True})
    sealed = replace(plan, blind=True)
    assert ("verdict", State.OPEN, 21) in due(sealed, 22, {7: True, 14: True, 21: True})
