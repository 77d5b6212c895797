"""The bench by lot: fair in every layout, kept to its limits, its codes unlike each other."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import replace
from itertools import combinations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import chisquare

from racecard.core.log.assemble import results_of, unit_logs
from racecard.core.model import BORDER, SPARE, Cell, Layout, Plan, Unit
from racecard.core.plan.bench import Lock, draw_bench, most_in_a_line, sticking_order
from racecard.core.plan.codes import LETTERS, blind_codes, is_code
from racecard.core.stats.permutation import (
    PermutationTest,
    minimum_p_of,
    minimum_p_within,
)
from racecard.core.stats.sampled_deals import resamples_within_lines
from racecard.errors import InvalidInput
from tests.builders import a_plan

DRAWS = 10_000


def planted(cells: Sequence[Cell]) -> list[Cell]:
    return [c for c in cells if c.treatment >= 0]


@pytest.mark.parametrize(
    ("layout", "units", "blocks"),
    [(Layout.BLOCKS, 4, 1), (Layout.BLOCKS, 4, 2), (Layout.PAIRS, 4, 1), (Layout.SITES, 4, 1)],
)
def test_each_treatment_falls_in_each_cell_as_often_as_chance_says(
    layout: Layout, units: int, blocks: int
) -> None:
    """10,000 draws; chi-square over cells, at a level that a fair lot passes 999 times in 1000."""
    plan = a_plan("U", "A", units=units, blocks=blocks, columns=4, layout=layout)
    hits: Counter[tuple[int, int, int]] = Counter()
    for seed in range(DRAWS):
        hits.update((c.tray, c.row, c.col) for c in draw_bench(plan, seed) if c.treatment == 0)
    counts = np.array([hits[c.tray, c.row, c.col] for c in planted(draw_bench(plan, 0))])
    assert counts.sum() == DRAWS * units
    assert chisquare(counts).pvalue > 0.001


def test_three_treatments_in_rows_and_columns_fall_everywhere_alike() -> None:
    plan = a_plan("U", "A", "B", units=3, blocks=3, columns=3, layout=Layout.ROW_COLUMN)
    hits = np.zeros((9, 3))
    for seed in range(2_000):
        for i, c in enumerate(planted(draw_bench(plan, seed))):
            hits[i, c.treatment] += 1
    share = hits / hits.sum(axis=1, keepdims=True)
    assert np.all(np.abs(share - 1 / 3) < 4 * np.sqrt(2 / 9 / 2_000))


@pytest.mark.parametrize("layout", [Layout.BLOCKS, Layout.SPLIT, Layout.ROW_COLUMN])
@given(st.integers(2, 5), st.integers(2, 12), st.integers(2, 6), st.integers(0, 2**31))
@settings(max_examples=25)
def test_blocks_are_balanced_exactly(
    layout: Layout, arms: int, units: int, blocks: int, seed: int
) -> None:
    plan = a_plan(*"UABCD"[:arms], units=units, blocks=min(blocks, units), layout=layout)
    cells = draw_bench(plan, seed)
    assert Counter(c.treatment for c in planted(cells)) == dict.fromkeys(range(arms), units)
    for b in range(plan.blocks):
        here = Counter(c.treatment for c in planted(cells) if c.block == b)
        assert len(set(here.values())) == 1
    places = [(c.tray, c.row, c.col) for c in cells]
    assert places == sorted(set(places))


def test_a_pair_stands_side_by_side() -> None:
    plan = a_plan("U", "A", units=10, columns=7, layout=Layout.PAIRS)
    cells = planted(draw_bench(plan, 3))
    for b in range(10):
        one, two = (c for c in cells if c.block == b)
        assert (one.tray, one.row, one.col + 1) == (two.tray, two.row, two.col)
        assert {one.treatment, two.treatment} == {0, 1}


def test_a_site_and_a_split_container_have_a_tray_of_their_own() -> None:
    sites = planted(draw_bench(a_plan("U", "A", units=5, layout=Layout.SITES), 1))
    assert [c.tray for c in sites] == [0, 0, 1, 1, 2, 2, 3, 3, 4, 4]
    split = planted(draw_bench(a_plan("U", "A", units=6, blocks=3, layout=Layout.SPLIT), 1))
    assert {(c.tray, c.block) for c in split} == {(0, 0), (1, 1), (2, 2)}


def test_rows_and_columns_keep_every_column_even() -> None:
    plan = a_plan(*"UABC", units=12, blocks=6, columns=8, layout=Layout.ROW_COLUMN)
    for seed in range(20):
        cells = planted(draw_bench(plan, seed))
        columns = Counter((c.tray, c.col, c.treatment) for c in cells)
        assert max(columns.values()) <= most_in_a_line(12, 8)


def test_by_hand_lays_treatments_in_their_order() -> None:
    cells = planted(draw_bench(a_plan("U", "A", units=4, layout=Layout.BY_HAND), 9))
    assert [c.treatment for c in cells] == [0] * 4 + [1] * 4


def test_borders_and_spares_stand_where_nothing_is_dealt() -> None:
    plan = a_plan("U", "A", units=6, columns=6, border=True, spare_cells=9)
    cells = draw_bench(plan, 2)
    kinds = Counter(c.treatment for c in cells)
    assert kinds[0] == kinds[1] == 6
    assert kinds[SPARE] >= 9
    assert all(1 <= c.col <= 4 and c.row >= 1 for c in planted(cells))
    assert all(c.treatment == BORDER for c in cells if c.row == 0)


def test_locked_cells_keep_their_treatment_in_every_draw() -> None:
    plan = a_plan("U", "A", units=8, blocks=2, columns=4)
    locks = [Lock(0, 0, 0, 1), Lock(0, 2, 3, 0)]
    for seed in range(30):
        cells = {(c.tray, c.row, c.col): c for c in draw_bench(plan, seed, locks)}
        assert cells[0, 0, 0].treatment == 1
        assert cells[0, 2, 3].treatment == 0
        assert sum(c.locked for c in cells.values()) == 2


@pytest.mark.parametrize(
    ("locks", "part"),
    [
        ([Lock(0, 9, 9, 0)], "nothing stands there any more"),
        ([Lock(0, 0, 0, 7)], "nothing stands there any more"),
        ([Lock(0, 0, c, 1) for c in range(3)], "no more of A"),
    ],
)
def test_a_lock_that_cannot_be_kept_is_named(locks: list[Lock], part: str) -> None:
    with pytest.raises(InvalidInput, match=part):
        draw_bench(a_plan("U", "A", units=4, blocks=2, columns=4), 1, locks)


def test_unequal_numbers_are_dealt_as_asked() -> None:
    plan = a_plan("U", "A", units=12, blocks=3)
    plan = replace(plan, treatments=(plan.treatments[0], replace(plan.treatments[1], units=6)))
    assert Counter(c.treatment for c in planted(draw_bench(plan, 1))) == {0: 12, 1: 6}


def test_the_sticking_order_names_every_cell_once_block_by_block() -> None:
    cells = draw_bench(a_plan("U", "A", units=10, blocks=3), 5)
    order = sticking_order(cells, 5)
    assert sorted(order) == [i for i, c in enumerate(cells) if c.treatment >= 0]
    blocks = [cells[i].block for i in order]
    assert blocks == sorted(blocks)
    assert list(order) != sorted(order)
    assert order == sticking_order(cells, 5)


def test_the_first_stuck_is_of_each_treatment_alike() -> None:
    plan = a_plan("U", "A", "B", units=4)
    first = Counter()  # type: Counter[int]
    for seed in range(3_000):
        cells = draw_bench(plan, seed)
        first[cells[sticking_order(cells, seed)[0]].treatment] += 1
    assert chisquare(list(first.values())).pvalue > 0.001


def test_codes_are_short_unlike_each_other_and_checked() -> None:
    codes = blind_codes(2_000, 11)
    assert len(set(codes)) == 2_000
    assert all(len(c) == 4 and is_code(c) for c in codes)
    assert set("".join(codes)) <= set(LETTERS)
    some = [np.array(list(c)) for c in codes[:150]]
    assert min(int((a != b).sum()) for a, b in combinations(some, 2)) >= 2


@given(st.integers(0, 11_000), st.integers(0, 3), st.integers(1, 22))
def test_one_wrong_character_is_noticed(which: int, place: int, by: int) -> None:
    code = blind_codes(12_000, 1)[which]
    wrong = LETTERS[(LETTERS.index(code[place]) + by) % len(LETTERS)]
    assert not is_code(code[:place] + wrong + code[place + 1 :])
    assert is_code(f" {code.lower()} ")


def test_two_swapped_neighbours_are_noticed() -> None:
    for code in blind_codes(400, 2):
        for i in range(2):
            swapped = code[:i] + code[i + 1] + code[i] + code[i + 2 :]
            assert swapped == code or not is_code(swapped)


def test_codes_tell_nothing_of_the_treatment() -> None:
    """The same codes whatever is dealt: they have a stream of their own."""
    assert blind_codes(8, 4) == blind_codes(8, 4)
    assert blind_codes(8, 4) != blind_codes(8, 5)


def test_deals_within_lines_are_those_the_rule_accepts_each_alike() -> None:
    """Two rows of four in four columns: every accepted deal, as often as every other."""
    treated = np.array([1, 1, 0, 0, 0, 0, 1, 1], bool)
    block = np.repeat([0, 1], 4)
    line = np.tile(np.arange(4), 2)
    accepted = set()
    for a in combinations(range(4), 2):
        for b in combinations(range(4, 8), 2):
            columns = Counter(int(line[i]) for i in (*a, *b))
            others = Counter(int(line[i]) for i in range(8) if i not in (*a, *b))
            if max(columns.values()) <= 2 and max(others.values()) <= 2:
                accepted.add((*a, *b))
    resamples = resamples_within_lines(treated, block, line, 20_000, np.random.default_rng(1))
    seen = Counter(tuple(int(i) for i in np.flatnonzero(row)) for row in resamples)
    assert set(seen) == accepted
    assert chisquare(list(seen.values())).pvalue > 0.001


def test_a_limit_that_binds_leaves_deals_out() -> None:
    """Three rows of three in three columns, one treated in each: never three in one column."""
    treated = np.array([1, 0, 0, 0, 1, 0, 0, 0, 1], bool)
    block = np.repeat([0, 1, 2], 3)
    line = np.tile(np.arange(3), 3)
    resamples = resamples_within_lines(treated, block, line, 9_000, np.random.default_rng(2))
    held = np.stack([resamples[:, line == c].sum(axis=1) for c in range(3)], axis=1)
    assert held.max() == 2
    assert np.all(resamples.reshape(-1, 3, 3).sum(axis=2) == 1)
    # 27 free deals; 3 of them put all in one column
    assert minimum_p_of(treated, block) == pytest.approx(2 / 27, rel=1e-12)
    assert minimum_p_within(treated, block, None, line) == pytest.approx(2 / 24, rel=0.02)


def test_a_lot_even_over_columns_gives_the_same_p_where_the_limit_is_loose() -> None:
    rng = np.random.default_rng(3)
    scores = rng.normal(size=16)
    treated, block = np.tile([True, False], 8), np.repeat([0, 1], 8)
    line = np.arange(16)
    free = PermutationTest(1).test(scores, treated, block).p
    assert PermutationTest(1).test(scores, treated, block, line=line).p == pytest.approx(
        free, abs=0.02
    )


def test_locked_units_are_never_dealt_again() -> None:
    scores = np.array([1.0, 1, 1, 0, 0, 0, 1, 0])
    treated = np.array([1, 1, 1, 0, 0, 0, 1, 0], bool)
    block = np.zeros(8, dtype=np.int64)
    held = np.array([0, 0, 0, 0, 0, 0, 1, 1], bool)
    found = PermutationTest(1).test(scores, treated, block, held=held)
    assert found.p == pytest.approx(0.1, rel=1e-9)
    assert minimum_p_within(treated, block, held) == pytest.approx(0.1, rel=1e-9)
    assert PermutationTest(1).test(scores, treated, block, held=np.ones(8, bool)).p == 1.0


def test_results_carry_locks_and_columns_to_the_finish() -> None:
    plan: Plan = a_plan("U", "A", units=4, blocks=2, columns=4, layout=Layout.ROW_COLUMN)
    cells = planted(draw_bench(plan, 1, [Lock(0, 0, 0, 1)]))
    units = [Unit(str(i), c) for i, c in enumerate(cells)]
    results = results_of(plan, units, unit_logs(units, []))
    assert results.held is not None
    assert results.held.sum() == 1
    assert results.line is not None
    assert list(results.line[:4]) == [0, 1, 2, 3]
    plain = results_of(replace(plan, layout=Layout.BLOCKS), units, unit_logs(units, []))
    assert plain.line is None


def test_a_chunk_of_deals_is_never_counted_beyond_what_was_asked() -> None:
    """2,000 deals asked for are 2,000 dealt: the tails are shares of them."""
    rng = np.random.default_rng(0)
    scores = rng.normal(size=60)
    found = PermutationTest(1).test(
        scores, np.arange(60) < 30, np.zeros(60, dtype=np.int64), resamples=2_000
    )
    assert found.resamples == 2_000
    assert found.up + found.down == pytest.approx(1, abs=1e-9)
