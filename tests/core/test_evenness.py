"""Objections from the data, each with a case in which it fires and a clean twin."""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from scipy.stats import hypergeom, ks_2samp

from racecard.core.assess.judge import judge
from racecard.core.finish.finish_result import whole_finish
from racecard.core.model import Cell
from racecard.core.model.results import Results
from racecard.core.notes.heterogeneity import (
    _dealt_to_many,
    gradient,
    homogeneity,
    tolerance_of_four,
)
from tests.builders import a_plan, containers, counts, singles, struck, waiting

_TABLE_5B = {
    (99, 2): 5, (98, 3): 6, (97, 4): 7, (96, 5): 8, (95, 6): 9, (94, 7): 10, (93, 8): 10, (92, 9): 11,
    (91, 10): 11, (90, 11): 12, (89, 12): 12, (88, 13): 13, (87, 14): 13, (86, 15): 14, (84, 17): 14,
    (83, 18): 15, (81, 20): 15, (80, 21): 16, (78, 23): 16, (77, 24): 17, (73, 28): 17, (72, 29): 18,
    (67, 34): 18, (66, 35): 19, (56, 45): 19, (55, 46): 20, (51, 50): 20,
}  # fmt: skip


EVENNESS = ("blocks_disagree", "gradient", "containers_disagree", "replicates_apart")


def codes(results: Results, cells: tuple[Cell, ...] = (), **plan: Any) -> list[str]:
    notes = whole_finish(a_plan(**plan), results, seed=1, cells=cells, end_day=42).notes
    return [n.code for n in notes if n.code in EVENNESS]


@pytest.mark.parametrize(("means", "most"), _TABLE_5B.items())
def test_the_tolerance_table_of_seed_testing(means: tuple[int, int], most: int) -> None:
    """Table 5B of the international seed-testing rules (Miles 1963), from memory."""
    assert [tolerance_of_four(m) for m in means] == [most, most]


def test_four_hundreds_beyond_the_tolerance_are_told() -> None:
    apart = containers([(80, 100), (95, 100), (78, 100), (97, 100)], [(90, 100)] * 4)
    assert "replicates_apart" in codes(apart, per_container=100)
    even = containers([(88, 100), (90, 100), (91, 100), (92, 100)], [(90, 100)] * 4)
    assert "replicates_apart" not in codes(even, per_container=100)


def blocked(*gaps: tuple[int, int]) -> Results:
    """Control and treated struck of 8 in each block."""
    control = [h for c, _ in gaps for h in [struck()] * c + [waiting()] * (8 - c)]
    treated = [h for _, t in gaps for h in [struck()] * t + [waiting()] * (8 - t)]
    blocks = [[b for b in range(len(gaps)) for _ in range(8)]] * 2
    return singles(control, treated, blocks=blocks)


def test_blocks_that_point_opposite_ways_disagree() -> None:
    assert "blocks_disagree" in codes(blocked((1, 8), (8, 1), (4, 4)), blocks=3)
    assert "blocks_disagree" not in codes(blocked((2, 6), (3, 6), (2, 7)), blocks=3)


def test_homogeneity_by_hand_on_two_tables() -> None:
    """All pairs of tables with these margins and the same treated total, weighed one by one."""
    tables = [(7, 8, 1, 8), (2, 8, 6, 8)]
    chance = {
        (a, b): hypergeom(16, 8, 8).pmf(a) * hypergeom(16, 8, 8).pmf(b)
        for a in range(9) for b in range(9) if a + b == 9
    }  # fmt: skip
    mine = chance[7, 2]
    p = sum(c for c in chance.values() if c <= mine * (1 + 1e-9)) / sum(chance.values())
    assert homogeneity(tables) == pytest.approx(p, abs=1e-12)


def test_a_gradient_along_rows_is_seen_and_a_fair_bench_has_none() -> None:
    cells = tuple(Cell(0, i // 8, i % 8, 0, i % 2) for i in range(48))
    arm = np.array([c.treatment for c in cells])
    order = np.argsort(arm, kind="stable")
    rows = np.array([c.row for c in cells])[order]
    warm = [struck() if r < 3 else waiting() for r in rows]
    kept = tuple(cells[i] for i in order)
    assert codes(singles(warm[:24], warm[24:]), kept) == ["gradient"]
    rng = np.random.default_rng(2)
    fair = [struck() if x else waiting() for x in rng.random(48) < 0.5]
    assert codes(singles(fair[:24], fair[24:]), kept) == []


def test_the_gradient_is_no_more_often_found_than_it_claims() -> None:
    rng = np.random.default_rng(4)
    at, arm = np.repeat(np.arange(6.0), 8), np.tile([0, 1], 24)
    found = sum(
        gradient((rng.random(48) < 0.5).astype(float), at, arm, i)[0] < 0.05 for i in range(300)
    )
    assert found <= 27  # 5 % of 300 is 15


def test_containers_that_differ_more_than_luck_are_told() -> None:
    wild = containers([(0, 10), (10, 10), (1, 10), (9, 10)], [(5, 10)] * 4)
    assert "containers_disagree" in codes(wild, per_container=10)
    calm = containers([(4, 10), (6, 10), (5, 10), (5, 10)], [(5, 10), (4, 10), (6, 10), (5, 10)])
    assert codes(calm, per_container=10) == []


def resting(results: Results, **plan: Any) -> list[str]:
    notes = whole_finish(a_plan(**plan), results, seed=1, resamples=2000).notes
    return [n.code for n in notes if n.code == "rests_on_one"]


def test_a_verdict_that_one_plant_would_turn_rests_on_it() -> None:
    """5/16 v 12/16 is p 0.032; 5/16 v 11/16 is 0.076: one plant makes it likely only."""
    assert resting(counts((5, 16), (12, 16))) == ["rests_on_one"]
    assert resting(counts((2, 24), (22, 24))) == []
    assert resting(counts((8, 16), (9, 16))) == []


def test_leaving_one_out_is_tried_as_a_naive_loop_would() -> None:
    results = counts((6, 16), (13, 16))
    judgement = judge(a_plan(), results, seed=1)
    grades = set()
    for i in range(32):
        keep = np.arange(32) != i
        fewer = replace(
            results, treatment=results.treatment[keep], block=results.block[keep], score=results.score[keep],
            looks=results.looks[:31], unit=np.arange(31), after=results.after[keep], by=results.by[keep],
            lost_after=results.lost_after[keep], lost_by=results.lost_by[keep],
            removed=results.removed[keep], last=results.last[keep], went_back=results.went_back[keep],
        )  # fmt: skip
        grades.add(judge(a_plan(), fewer, seed=1).comparisons[0].grade)
    changes = grades != {judgement.comparisons[0].grade}
    flips = {judge(a_plan(), counts(*arms), seed=1).comparisons[0].grade for arms in
             (((5, 16), (13, 16)), ((7, 16), (13, 16)), ((6, 16), (12, 16)), ((6, 16), (14, 16)))}  # fmt: skip
    changes |= flips != {judgement.comparisons[0].grade}
    assert (resting(results) == ["rests_on_one"]) == changes


def test_many_containers_scatter_as_when_their_plants_are_dealt() -> None:
    """Against deals of the very plants (numpy's multivariate hypergeometric)."""
    rng = np.random.default_rng(4)
    sizes, p = rng.integers(3, 14, 600), 0.37
    struck = round(sizes.sum() * p)
    rate = struck / sizes.sum()
    dealt = rng.multivariate_hypergeometric(sizes, struck, 4000, method="marginals")
    one_by_one = ((dealt - sizes * rate) ** 2 / (sizes * rate * (1 - rate))).sum(axis=1)
    many = _dealt_to_many(sizes, rate, rng)
    assert many.mean() == pytest.approx(one_by_one.mean(), rel=0.01)
    assert many.std() == pytest.approx(one_by_one.std(), rel=0.05)
    assert ks_2samp(many, one_by_one).pvalue > 0.001
