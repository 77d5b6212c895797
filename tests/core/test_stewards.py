"""Every steward's note fires where it should, and its clean twin stays silent."""

from collections.abc import Sequence
from dataclasses import replace
from math import comb
from typing import Any

import pytest

from racecard.core.assess.harm import Harm, harms_of
from racecard.core.finish.finish_result import whole_finish
from racecard.core.model import Carrier, Cell, History, Plan, Role
from racecard.core.model.results import Results, results_from
from racecard.core.notes import Note, notes_on_plan
from racecard.core.notes.looked_for import MATTERS
from racecard.core.notes.registry import RULES, Needs
from racecard.core.plan.bench import draw_bench
from racecard.core.stats.permutation import PermutationTest
from tests.builders import LAST, a_plan, containers, counts, lost, removed, singles, struck, waiting


def plan_codes(plan: Plan, cells: list[Cell] | None = None) -> set[str]:
    return {n.code for n in notes_on_plan(plan, cells or [])}


def data_codes(results: Results, **plan: Any) -> set[str]:
    names = ("Untreated", "A", "B")[: int(results.treatment.max()) + 1]
    return {
        n.code for n in whole_finish(a_plan(*names, **plan), results, seed=1, end_day=LAST).notes
    }


def row_notes(plan: Plan, cells: Sequence[Cell]) -> list[Note]:
    return [n for n in notes_on_plan(plan, cells) if n.code == "rows_by_treatment"]


def lines(*rows: str) -> list[Cell]:
    """A tray from rows of digits: treatment of each cell, '.' spare."""
    return [
        Cell(0, r, c, 0, -1 if mark == "." else int(mark))
        for r, row in enumerate(rows)
        for c, mark in enumerate(row)
    ]


def test_no_control() -> None:
    assert "no_control" in plan_codes(a_plan("A", "B", roles=[Role.CANDIDATE] * 2))
    assert "no_control" not in plan_codes(a_plan("U", "A"))


def test_no_carrier_control() -> None:
    plan = a_plan("U", "A")
    dipped = replace(plan.treatments[1], carrier=Carrier.ALCOHOL)
    assert "no_carrier_control" in plan_codes(
        replace(plan, treatments=(plan.treatments[0], dipped))
    )
    carrier = replace(dipped, role=Role.CARRIER)
    with_carrier = replace(plan, treatments=(plan.treatments[0], dipped, carrier))
    assert "no_carrier_control" not in plan_codes(with_carrier)


@pytest.mark.parametrize(("per_container", "units"), [(1, 1), (16, 1)])
def test_one_unit_per_arm(per_container: int, units: int) -> None:
    assert "one_unit_per_arm" in plan_codes(a_plan(units=units, per_container=per_container))
    assert "one_unit_per_arm" not in plan_codes(a_plan(units=8, per_container=per_container))


def test_one_container_an_arm_is_said_at_the_finish_too() -> None:
    assert "one_unit_per_arm" in data_codes(containers([(5, 16)], [(15, 16)]))
    assert "one_unit_per_arm" not in data_codes(containers([(1, 4)] * 4, [(3, 4)] * 4))


@pytest.mark.parametrize(
    ("names", "units", "blocks", "fires"),
    [
        (("U", "A"), 3, 1, True),
        (("U", "A"), 4, 1, False),
        (("U", "A", "B"), 4, 1, True),
        (("U", "A"), 5, 5, True),
        (("U", "A"), 6, 6, False),
    ],
)
def test_floor_too_high(names: tuple[str, ...], units: int, blocks: int, fires: bool) -> None:
    codes = plan_codes(a_plan(*names, units=units, blocks=blocks))
    assert ("floor_too_high" in codes) == fires


def test_floor_note_names_a_number_that_is_enough() -> None:
    note = next(
        n for n in notes_on_plan(a_plan("U", "A", units=3), []) if n.code == "floor_too_high"
    )
    assert "at least 4 of each" in note.advice


def test_floor_is_judged_again_on_what_was_left() -> None:
    assert "floor_too_high" in data_codes(counts((0, 3), (3, 3)))
    assert "floor_too_high" not in data_codes(counts((0, 4), (4, 4)))


def test_rows_by_treatment() -> None:
    plan = a_plan("U", "A")
    assert row_notes(plan, lines("00000000", "11111111"))
    assert row_notes(plan, lines("0000000000", "0101100110", "1111111111"))
    assert not row_notes(plan, lines("01101001", "10010110"))


def test_columns_by_treatment_count_as_lines() -> None:
    assert row_notes(a_plan("U", "A"), lines(*["01"] * 8))


def test_a_treatment_on_every_line_is_no_objection() -> None:
    assert not row_notes(a_plan("U", "A", "B"), lines("0000000000", "0011220121", "0022110212"))


def test_fair_lots_seldom_raise_the_note_on_rows() -> None:
    plan = a_plan("U", "A", units=12, columns=8)
    fired = sum(bool(row_notes(plan, draw_bench(plan, seed))) for seed in range(200))
    assert fired <= 20


def looked(arm_looks: list[range], histories: list[list[History]]) -> Results:
    flat = [(i, h) for i, arm in enumerate(histories) for h in arm]
    return results_from(
        [i for i, _ in flat],
        [0] * len(flat),
        [[h] for _, h in flat],
        [arm_looks[i] for i, _ in flat],
    )


def test_unequal_looks() -> None:
    arms = [[waiting()] * 6, [waiting()] * 6]
    assert "unequal_looks" in data_codes(looked([range(3, 43, 3), range(6, 43, 6)], arms))
    assert "unequal_looks" not in data_codes(looked([range(3, 43, 3)] * 2, arms))


def test_an_arm_with_nothing_left_to_see_need_not_be_looked_at() -> None:
    done = [[waiting()] * 6, [struck(9)] * 6]
    assert "unequal_looks" not in data_codes(looked([range(3, 43, 3), range(3, 10, 3)], done))


def test_more_loss() -> None:
    control = [waiting()] * 12
    assert "more_loss" in data_codes(singles(control, [lost()] * 8 + [waiting()] * 4))
    assert "more_loss" not in data_codes(singles(control, [lost()] + [waiting()] * 11))


def test_two_lost_against_none_is_possible_harm() -> None:
    control = [waiting()] * 12
    assert "possible_harm" in data_codes(singles(control, [lost()] * 2 + [waiting()] * 10))
    assert "possible_harm" not in data_codes(singles(control, control))


def test_harm_is_flagged_only_where_the_treated_lost_more() -> None:
    few, many = [waiting()] * 12, [lost()] * 8 + [waiting()] * 4
    assert harm_beside(few, many)[1].harm
    assert not harm_beside(many, few)[1].harm


def test_what_was_removed_is_not_counted_as_not_lost() -> None:
    """Removed leave what was at risk: 4 of 8 against 0 of 20 lost is Fisher's 0.0068 (central: 2 x C(8,4)/C(28,4))."""
    found = harm_beside([waiting()] * 20, [lost()] * 4 + [waiting()] * 4 + [removed()] * 12)[1]
    assert (found.lost, found.n, found.lost_control, found.n_control) == (4, 8, 0, 20)
    assert found.p == pytest.approx(2 * comb(8, 4) / comb(28, 4))
    assert found.harm
    early = harm_beside([waiting()] * 8, [lost()] * 6 + [waiting()] * 14)[1]
    assert early.p == pytest.approx(min(1, 2 * comb(20, 6) / comb(28, 6)))
    assert (early.harm, early.possible) == (False, True)  # 6 lost against none


def test_harm_is_corrected_over_the_candidates() -> None:
    hurt = [lost()] * 6 + [waiting()] * 6
    alone = harm_beside([lost()] + [waiting()] * 11, hurt)[1]
    several = harm_beside([lost()] + [waiting()] * 11, hurt, *[[waiting()] * 12] * 4)
    assert alone.p == several[1].p
    assert alone.p is not None
    assert 0.01 < alone.p / 1 < 0.10
    assert (several[1].harm, several[1].possible) == (False, True)


def harm_beside(control: list[History], *arms: list[History]) -> dict[int, Harm]:
    ages = {i: float(LAST) for i in range(1, len(arms) + 1)}
    return harms_of(singles(control, *arms), 0, ages, list(ages), PermutationTest(1))


def test_goes_backwards() -> None:
    back = History(6, 9, last_look=LAST, went_back=True)
    assert "goes_backwards" in data_codes(singles([back, *[waiting()] * 5], [waiting()] * 6))
    assert "goes_backwards" not in data_codes(
        singles([struck(9), *[waiting()] * 5], [waiting()] * 6)
    )


def test_shared_containers() -> None:
    results = containers([(1, 4)] * 4, [(3, 4)] * 4)
    assert "shared_containers" in data_codes(results, count_singly=True)
    assert "shared_containers" not in data_codes(results)
    assert "shared_containers" in plan_codes(a_plan(per_container=4, count_singly=True))
    assert "shared_containers" not in plan_codes(a_plan(per_container=1, count_singly=True))


def test_units_missed_in_the_last_round_are_named() -> None:
    cells = lines("00", "11")
    looks = [[3, 6], [3, 6], [3, 6], [3]]
    seen = [[History(last_look=days[-1])] for days in looks]
    results = results_from([0, 0, 1, 1], [0] * 4, seen, looks)
    note = next(
        n
        for n in whole_finish(a_plan(units=2), results, seed=1, cells=cells, end_day=6).notes
        if n.code == "unscored_units"
    )
    assert note.message == "B2 was not looked at on day 6. The result is given for day 3."
    whole = results_from([0, 0, 1, 1], [0] * 4, [[waiting()]] * 4, [[3, 6]] * 4)
    codes = {
        n.code for n in whole_finish(a_plan(units=2), whole, seed=1, cells=cells, end_day=6).notes
    }
    assert "unscored_units" not in codes


def test_loss_that_only_mirrors_the_strike_is_said_to() -> None:
    few, many = [struck()] * 11 + [lost()], [struck()] * 2 + [lost()] * 10
    says = [
        n.message for n in whole_finish(a_plan(), singles(few, many), seed=1, end_day=LAST).notes
    ]
    assert any("the same difference seen" in s for s in says)
    waiting_too = [struck()] * 2 + [lost()] * 9 + [waiting()]
    says = [
        n.message
        for n in whole_finish(a_plan(), singles(few, waiting_too), seed=1, end_day=LAST).notes
    ]
    assert any("more than chance" in s for s in says)
    assert not any("the same difference seen" in s for s in says)


def test_a_clean_trial_has_no_notes() -> None:
    assert data_codes(counts((6, 16), (9, 16))) == set()


def test_a_look_after_the_end_is_asked_of_nobody_else() -> None:
    results = counts((0, 3), (3, 3), by=10)
    cells = lines("010101")
    seen = (frozenset({10, 20}),) * 5

    def told(last: set[int]) -> list[str]:
        looked = replace(results, looks=(frozenset(last), *seen))
        found = whole_finish(a_plan(length_days=20), looked, seed=1, cells=cells, end_day=20)
        return [n.message for n in found.notes if n.code == "unscored_units"]

    assert told({10, 25}) == []
    assert told({10, 20}) == []
    assert "was not looked at on day 20" in told({10})[0]


def test_every_rule_has_its_matter_and_a_short_title() -> None:
    for r in RULES:
        assert len(r.title.split()) <= 5, r.code
        assert r.needs in (Needs.TABLE, Needs.DRAFT) or r.about in MATTERS, r.code
