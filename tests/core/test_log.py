"""Looks to histories, day zero, ladders, the course."""

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from racecard.core.log.assemble import in_force, results_of, unit_logs
from racecard.core.log.course import DotState, course, left_on, rounds_made
from racecard.core.log.days import elapsed_days, look_days, noon_of_day
from racecard.core.log.histories import check_counts, histories_of_counts, history_of_looks
from racecard.core.log.stages import endpoint_name, ladder_for
from racecard.core.model import Cell, Kind, Unit
from racecard.core.model.observation import Count, Look, Observation, UnitLog
from racecard.errors import InvalidInput
from tests.builders import a_plan

ROOTED = 6


def observed(
    id: str, kind: str = "look", corrects: str | None = None, **fields: object
) -> Observation:
    at = datetime(2026, 5, 4, 12, tzinfo=UTC)
    return Observation(id, "u", kind, 3, at, "me", corrects, **fields)  # type: ignore[arg-type]


def test_reached_between_the_last_look_without_and_the_first_with() -> None:
    h = history_of_looks([Look(3, 1), Look(6, 3), Look(9, 6), Look(12, 6)], ROOTED)
    assert (h.struck_after, h.struck_by, h.last_look) == (6, 9, 12)


def test_a_missed_look_widens_the_interval() -> None:
    h = history_of_looks([Look(3, 1), Look(12, 6)], ROOTED)
    assert (h.struck_after, h.struck_by) == (3, 12)


def test_skipped_stages_were_passed_in_the_same_interval() -> None:
    looks = [Look(3, 1), Look(6, 7)]
    assert history_of_looks(looks, 3).struck_by == history_of_looks(looks, 7).struck_by == 6


def test_day_nought_is_a_look_without() -> None:
    assert history_of_looks([Look(3, 6)], ROOTED).struck_after == 0


def test_a_lost_one_never_strikes_but_may_have_struck_before() -> None:
    never = history_of_looks([Look(3, 1), Look(6, loss="rotted")], ROOTED)
    assert (never.struck_by, never.lost_after, never.lost_by, never.cause) == (None, 3, 6, "rotted")
    after = history_of_looks([Look(3, 6), Look(6, loss="dried")], ROOTED)
    assert (after.struck_by, after.lost_by) == (3, 6)


def test_removed_before_striking_is_censored_at_its_last_look() -> None:
    h = history_of_looks([Look(3, 1), Look(9, 3), Look(12, removed=True)], ROOTED)
    assert (h.removed_after, h.struck_by) == (9, None)


def test_looked_at_while_taken_out_counts_as_its_last_look() -> None:
    assert history_of_looks([Look(3, 1), Look(9, 3, removed=True)], ROOTED).removed_after == 9


def test_removed_after_striking_counts_as_struck() -> None:
    h = history_of_looks([Look(3, 6), Look(6, removed=True)], ROOTED)
    assert (h.struck_by, h.removed_after) == (3, None)


def test_a_unit_that_goes_backwards_is_flagged_and_keeps_its_first_sighting() -> None:
    h = history_of_looks([Look(3, 6), Look(6, 3)], ROOTED)
    assert (h.went_back, h.struck_by) == (True, 3)
    assert not history_of_looks([Look(3, 3), Look(6, 2), Look(9, 6)], ROOTED).went_back


def test_wilting_is_a_flag_and_not_a_step_back() -> None:
    assert not history_of_looks([Look(3, 1, wilted=True), Look(6, 1)], ROOTED).went_back


def test_cumulative_counts_become_one_history_a_seed() -> None:
    counts = [Count(2, 0), Count(4, 3, lost=1, cause="mouldy"), Count(6, 5, lost=1, removed=2)]
    found = histories_of_counts(counts, sown=10)
    assert len(found) == 10
    assert [(h.struck_after, h.struck_by) for h in found if h.struck_by] == [(2, 4)] * 3 + [
        (4, 6)
    ] * 2
    assert [(h.lost_after, h.lost_by, h.cause) for h in found if h.lost_by] == [(2, 4, "mouldy")]
    assert [h.removed_after for h in found if h.removed_after is not None] == [4, 4]


def test_a_count_that_goes_down_keeps_its_highest_and_is_flagged() -> None:
    found = histories_of_counts([Count(2, 4), Count(4, 3)], sown=5)
    assert sum(h.struck_by is not None for h in found) == 4
    assert any(h.went_back for h in found)


def test_lost_after_striking_stays_struck() -> None:
    found = histories_of_counts([Count(2, 3), Count(4, 3, lost_struck=1, cause="damped off")], 5)
    assert sum(h.struck_by is not None for h in found) == 3
    assert [h.lost_by for h in found if h.lost_by] == [4]


@given(st.lists(st.tuples(st.integers(0, 3), st.integers(0, 2)), min_size=1, max_size=8))
def test_every_seed_has_a_history_whatever_was_counted(steps: list[tuple[int, int]]) -> None:
    struck = lost = 0
    counts = []
    for i, (s, m) in enumerate(steps):
        struck, lost = struck + s, lost + m
        counts.append(Count(2 * i + 2, struck, lost))
    found = histories_of_counts(counts, sown=40)
    assert len(found) == 40
    assert sum(h.struck_by is not None for h in found) == struck
    assert sum(h.lost_by is not None for h in found) == lost


@pytest.mark.parametrize("bad", [(5, 6, 0, 0), (3, 0, 4, 0), (-1, 0, 0, 0), (4, 3, 0, 4)])
def test_counts_that_cannot_be_are_refused(bad: tuple[int, int, int, int]) -> None:
    with pytest.raises(InvalidInput):
        check_counts(*bad, sown=10)


def test_days_are_counted_as_dates_in_the_trials_zone() -> None:
    start = datetime(2026, 5, 3, 22, 30, tzinfo=UTC)
    assert elapsed_days(start, start + timedelta(hours=2), "UTC") == 1
    assert elapsed_days(start, start + timedelta(hours=2), "Europe/Lisbon") == 1
    assert elapsed_days(start, start + timedelta(hours=2), "Pacific/Auckland") == 0


def test_a_clock_change_moves_no_day() -> None:
    """Europe/Berlin loses an hour on 29 March 2026."""
    start = datetime(2026, 3, 28, 22, 30, tzinfo=UTC)
    days = [elapsed_days(start, start + timedelta(days=d), "Europe/Berlin") for d in (0, 1, 2)]
    assert days[0] == 0
    assert elapsed_days(start, noon_of_day(start, 1, "Europe/Berlin"), "Europe/Berlin") == 1
    assert days[2] - days[1] == 1


def test_an_unknown_zone_is_refused_in_one_sentence() -> None:
    with pytest.raises(InvalidInput, match="time zone must be a name"):
        elapsed_days(datetime.now(UTC), datetime.now(UTC), "Mars/Olympus")


@pytest.mark.parametrize(
    ("length", "every", "days"), [(7, 3, (3, 6, 7)), (6, 3, (3, 6)), (2, 9, (2,))]
)
def test_the_last_day_is_always_a_look(length: int, every: int, days: tuple[int, ...]) -> None:
    assert look_days(length, every) == days


@pytest.mark.parametrize("kind", list(Kind))
def test_every_key_of_a_ladder_means_one_thing(kind: Kind) -> None:
    ladder = ladder_for(kind)
    keys = [x.key for x in ladder.stages] + [x.key for x in ladder.exits]
    assert len(keys) == len(set(keys))
    assert set(ladder.endpoints) <= {s.code for s in ladder.stages}
    assert not {"Enter", "z", "n", "s", "w"} & set(keys)


def test_an_unknown_stage_is_refused() -> None:
    with pytest.raises(InvalidInput, match="stage must be one of"):
        ladder_for(Kind.CUTTING).stage(0)


def test_the_endpoint_is_said_with_the_trials_threshold() -> None:
    assert "12 mm" in endpoint_name(a_plan(kind=Kind.CUTTING, endpoint=6, threshold_mm=12))
    assert "1.5 mm" in endpoint_name(a_plan(kind=Kind.SEED, endpoint=2, threshold_mm=1.5))
    assert endpoint_name(a_plan(kind=Kind.SEED, endpoint=3, threshold_mm=2)) == "emerged"


def test_a_correction_stands_for_what_it_corrects() -> None:
    rows = [observed("a", stage=3), observed("b", stage=4, corrects="a")]
    assert [o.id for o in in_force(rows)] == ["b"]


def test_taking_back_a_correction_lets_the_first_stand_again() -> None:
    rows = [
        observed("a", stage=3),
        observed("b", stage=4, corrects="a"),
        observed("v", "void", "b"),
    ]
    assert [o.id for o in in_force(rows)] == ["a"]


def test_a_log_becomes_results_at_the_plans_endpoint() -> None:
    unit = Unit("u", Cell(0, 0, 0, 2, 1))
    logs = unit_logs([unit], [observed("a", stage=6), observed("s", "score", score=4)])
    found = results_of(a_plan(), [unit], logs)
    assert (found.by[0], found.block[0], found.treatment[0], found.score[0]) == (3, 2, 1, 4)


def test_the_course_knows_done_due_missed_and_coming() -> None:
    plan = a_plan(length_days=12, look_every_days=3)
    dots = {d.day: d.state for d in course(plan, 9, {3: True, 7: False})}
    assert dots == {
        3: DotState.DONE, 7: DotState.PARTIAL, 9: DotState.DUE, 12: DotState.COMING,
    }  # fmt: skip
    assert {d.day: d.state for d in course(plan, 9, {})}[3] is DotState.MISSED


def test_a_round_is_whole_when_all_with_something_to_see_were_looked_at() -> None:
    logs = [
        UnitLog(looks=(Look(3, 1), Look(6, 1))),
        UnitLog(looks=(Look(3, loss="rotted"),)),
        UnitLog(looks=(Look(6, 1),)),
    ]
    assert rounds_made(logs, [1, 1, 1]) == {3: False, 6: True}
    assert [left_on(log, 1) for log in logs] == [None, 3, None]
    assert left_on(UnitLog(counts=(Count(4, 8, lost=2),)), 10) == 4
