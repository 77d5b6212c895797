"""Containers of many: several stages of one pot, and pots that hold different numbers."""

from dataclasses import replace
from typing import Any

import pytest

from racecard.core.log.beside_endpoint import counts_of_stage
from racecard.core.log.histories import histories_of_counts
from racecard.core.model import Plan
from racecard.core.model.observation import Count
from racecard.core.notes.registry import notes_on_plan
from racecard.core.plan.check import faults
from racecard.core.plan.materials_needed import to_gather
from racecard.core.plan.power import power_of_plan
from tests.builders import a_plan


def sized(*each: int | None, **changes: Any) -> Plan:
    plan = a_plan(*["Untreated", "Soaked", "Nicked"][: len(each)], per_container=10, **changes)
    arms = tuple(replace(t, per_container=n) for t, n in zip(plan.treatments, each, strict=True))
    return replace(plan, treatments=arms)


def test_each_container_holds_the_number_of_its_treatment() -> None:
    plan = sized(None, 6)
    assert plan.plants_of == (10, 6)
    assert [plan.plants_in(arm) for arm in (0, 1, -1, 1_000_000)] == [10, 6, 10, 10]
    assert plan.plants == 8 * 10 + 8 * 6
    assert (
        next(i for i in to_gather(plan, []) if i.key == "propagules").need == 141
    )  # 128 + a tenth


def test_power_takes_the_fewest_plants_in_a_container() -> None:
    assert power_of_plan(sized(None, 6)).curve == power_of_plan(sized(6, 6)).curve


@pytest.mark.parametrize(
    ("plan", "pointer"),
    [
        (sized(None, 0), "/treatments/1/per_container"),
        (sized(None, 201), "/treatments/1/per_container"),
        (sized(None, 6, blind=True), "/treatments/1/per_container"),
        (replace(sized(None, 6), per_container=1), "/treatments/1/per_container"),
        (a_plan(also_counted=(5,)), "/also_counted"),
        (a_plan(per_container=5, also_counted=(6,)), "/also_counted"),
        (a_plan(per_container=5, also_counted=(3, 3)), "/also_counted"),
        (a_plan(per_container=5, also_counted=(99,)), "/also_counted"),
    ],
)
def test_numbers_and_stages_that_cannot_be_are_refused(plan: Plan, pointer: str) -> None:
    assert pointer in [f.pointer for f in faults(plan)]


def test_crowding_that_differs_is_an_objection() -> None:
    notes = notes_on_plan(sized(None, 6, None), [])
    said = [n.message for n in notes if n.code == "crowding_differs"]
    assert len(said) == 1
    assert "Containers of Soaked hold" in said[0]
    assert not [n for n in notes_on_plan(sized(6, 6), []) if n.code == "crowding_differs"]


def test_a_stage_beside_the_endpoint_is_a_history_of_its_own() -> None:
    """Of 10 seeds: 8 root tips by day 3, 6 up by day 6 and 4 true leaves by day 9; 1 lost before coming up."""
    counts = [
        Count(3, 0, also=((2, 8), (5, 0))),
        Count(6, 6, lost=1, also=((2, 9), (5, 0))),
        Count(9, 6, lost=1, also=((5, 4),)),
    ]
    tips = histories_of_counts(counts_of_stage(counts, 2, 10), 10)
    assert sorted((h.struck_after, h.struck_by) for h in tips if h.struck_by) == [(0, 3)] * 8 + [
        (3, 6)
    ]
    assert sum(h.lost_by is not None for h in tips) == 1
    leaves = histories_of_counts(counts_of_stage(counts, 5, 10), 10)
    assert [h.struck_by for h in leaves if h.struck_by] == [9] * 4
    assert counts_of_stage(counts, 4, 10) == []


def test_lost_plants_for_which_there_is_no_room_had_reached_the_stage() -> None:
    (count,) = counts_of_stage([Count(6, 5, lost=2, lost_struck=1, also=((2, 9),))], 2, 10)
    assert (count.struck, count.lost, count.lost_struck) == (9, 1, 2)


def test_lost_plants_that_reached_a_stage_later_counted_leave_it_room() -> None:
    """Of 10, 3 are lost when 2 had a root tip; 9 have had one in the end, so 2 of the lost had."""
    counts = [Count(3, 0, lost=3, also=((2, 2),)), Count(6, 5, lost=3, also=((2, 9),))]
    told = histories_of_counts(counts_of_stage(counts, 2, 10), 10)
    assert sum(h.struck_by is not None for h in told) == 9
    assert sum(h.lost_by is not None for h in told) == 3
