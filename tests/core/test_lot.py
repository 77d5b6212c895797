"""The lot test against Fisher, McNemar, Mann-Whitney, published plates, and naive enumeration."""

from fractions import Fraction
from itertools import combinations, product

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import binomtest, fisher_exact, hypergeom, ks_2samp, rankdata

from racecard.core.arrays import Bools, Floats, Ints
from racecard.core.stats.multiplicity import below, holm
from racecard.core.stats.permutation import (
    LotQuestion,
    PermutationTest,
    _sums_by_score,
    minimum_p_of,
)
from racecard.core.stats.sampled_deals import random_words
from racecard.core.streams import generator
from racecard.errors import InvalidInput
from tests.reference_data import orobanche

TEST = PermutationTest(1).test


def table(a: int, n1: int, b: int, n0: int) -> tuple[Floats, Bools]:
    scores = np.r_[np.ones(a), np.zeros(n1 - a), np.ones(b), np.zeros(n0 - b)]
    return scores, np.arange(n1 + n0) < n1


def no_blocks(n: int) -> Ints:
    return np.zeros(n, dtype=np.int64)


def naive_p(scores: Floats, treated: Bools, block: Ints) -> float:
    """Central two-sided p by listing every deal with exact fractions."""
    exact = [Fraction(float(s)).limit_denominator(10**6) for s in scores]
    choices = []
    for b in np.unique(block):
        here = np.flatnonzero(block == b)
        choices.append(
            [sum(exact[i] for i in c) for c in combinations(here, int(treated[here].sum()))]
        )
    sums = [sum(parts) for parts in product(*choices)]
    seen = sum(exact[i] for i in np.flatnonzero(treated))
    up, down = sum(s >= seen for s in sums), sum(s <= seen for s in sums)
    return float(min(Fraction(1), Fraction(2 * min(up, down), len(sums))))


def test_tea_meets_fisher_1935() -> None:
    """The lady tasting tea, Fisher (1935): one-sided 0.243 = 17/70, central 34/70."""
    scores, treated = table(3, 4, 1, 4)
    found = TEST(scores, treated, no_blocks(8))
    assert found.up == pytest.approx(17 / 70, abs=1e-12)
    assert found.p == pytest.approx(34 / 70, abs=1e-12)


def test_central_p_doubles_the_smaller_tail() -> None:
    scores, treated = table(6, 8, 1, 5)
    assert TEST(scores, treated, no_blocks(13)).p == pytest.approx(0.172494, abs=1e-6)


def test_blocks_meet_the_exact_stratified_values() -> None:
    """Convolution of three hypergeometrics, worked once by hand: 0.0115947; two runs: 0.416124."""
    for tables, p in (
        ([(7, 8, 3, 8), (6, 8, 4, 8), (8, 8, 5, 8)], 0.0115947),
        ([(24, 40, 8, 10), (1, 10, 4, 30)], 0.416124),
    ):
        parts = [table(*t) for t in tables]
        block = np.repeat(np.arange(len(parts)), [len(s) for s, _ in parts])
        found = TEST(
            np.concatenate([s for s, _ in parts]), np.concatenate([t for _, t in parts]), block
        )
        assert found.is_exact
        assert found.p == pytest.approx(p, abs=1e-6)


@pytest.mark.parametrize(("lot", "p"), [("O75", 0.00432900), ("O73", 0.261905)])
def test_plates_of_one_seed_lot_are_the_units(lot: str, p: float) -> None:
    """Crowder (1978): plates re-dealt, mean of plate shares; cucumber against bean extract."""
    share, treated, lots = orobanche()
    here = lots == lot
    assert TEST(share[here], treated[here], no_blocks(here.sum())).p == pytest.approx(p, abs=1e-6)


def test_both_seed_lots_are_blocks() -> None:
    """Crowder (1978): 116,424 deals of 21 plates."""
    share, treated, lots = orobanche()
    block = (lots == "O75").astype(np.int64)
    assert TEST(share, treated, block).p == pytest.approx(0.00176939, abs=1e-8)
    assert minimum_p_of(treated, block) == pytest.approx(2 / 116_424, rel=1e-12)


def test_jars_not_plants_are_counted() -> None:
    """Jars 5, 4, 4 of 5 against 1, 2, 2: p = 2/20 by hand, whatever the plants would say."""
    share = np.array([5, 4, 4, 1, 2, 2]) / 5
    assert TEST(share, np.arange(6) < 3, no_blocks(6)).p == pytest.approx(0.1, abs=1e-12)


def test_midranks_with_ties_are_exact() -> None:
    """Two arms of six scores with ties: exact permutation p 1/6."""
    ranks = rankdata([0, 1, 1, 2, 3, 3, 1, 2, 3, 3, 4, 4])
    assert TEST(ranks, np.arange(12) >= 6, no_blocks(12)).p == pytest.approx(1 / 6, abs=1e-12)


def test_placenta_scores_meet_hollander_and_wolfe() -> None:
    """Hollander & Wolfe (1973), permeability of placenta: W = 35, one-sided 0.1272 (from memory)."""
    x = [0.80, 0.83, 1.89, 1.04, 1.45, 1.38, 1.91, 1.64, 0.73, 1.46]
    y = [1.15, 0.88, 0.90, 0.74, 1.21]
    found = TEST(rankdata(x + y), np.arange(15) < 10, no_blocks(15))
    assert found.up == pytest.approx(0.1272, abs=5e-5)


def test_pairs_are_mcnemars_exact_test() -> None:
    """Agresti (1990), approval of a prime minister: 150 and 86 discordant pairs, p 3.716e-5."""
    pairs = [(1, 0)] * 150 + [(0, 1)] * 86 + [(1, 1)] * 4
    scores = np.array(pairs, float).ravel()
    block = np.repeat(np.arange(len(pairs)), 2)
    found = TEST(scores, np.tile([True, False], len(pairs)), block)
    assert found.p == pytest.approx(3.716e-5, rel=1e-3)
    assert found.p == pytest.approx(binomtest(150, 236).pvalue, rel=1e-9)


@given(st.integers(1, 30), st.data())
def test_equal_arms_agree_with_scipys_fisher(n: int, data: st.DataObject) -> None:
    a, b = data.draw(st.integers(0, n)), data.draw(st.integers(0, n))
    scores, treated = table(a, n, b, n)
    expected = fisher_exact([[a, n - a], [b, n - b]])[1]
    assert TEST(scores, treated, no_blocks(2 * n)).p == pytest.approx(expected, abs=1e-9)


@given(st.integers(1, 200), st.integers(1, 200), st.data())
@settings(max_examples=40)
def test_unequal_arms_agree_with_the_hypergeometric_tails(
    n1: int, n0: int, data: st.DataObject
) -> None:
    a, b = data.draw(st.integers(0, n1)), data.draw(st.integers(0, n0))
    scores, treated = table(a, n1, b, n0)
    law = hypergeom(n1 + n0, a + b, n1)
    expected = min(1.0, 2 * min(law.cdf(a), law.sf(a - 1)))
    assert TEST(scores, treated, no_blocks(n1 + n0)).p == pytest.approx(expected, abs=1e-9)


@given(
    st.integers(0, 2**32), st.sampled_from([(1, 6), (2, 4), (3, 3)]), st.sampled_from([2, 3, 7, 60])
)
@settings(max_examples=60, deadline=None)
def test_any_shares_in_blocks_agree_with_naive_enumeration(
    seed: int, shape: tuple[int, int], parts: int
) -> None:
    rng = np.random.default_rng(seed)
    blocks, size = shape
    block = np.repeat(np.arange(blocks), size)
    treated = np.concatenate([rng.permutation(size) < rng.integers(1, size) for _ in range(blocks)])
    scores = rng.integers(0, parts + 1, blocks * size) / parts
    assert TEST(scores, treated, block).p == pytest.approx(
        naive_p(scores, treated, block), abs=1e-9
    )


def test_sampled_p_lies_near_the_exact_one() -> None:
    """Ranks on a lattice are exact; the same ranks bent a little must be sampled."""
    rng = np.random.default_rng(5)
    ranks = rankdata(rng.normal(size=40) + (np.arange(40) < 20))
    exact = TEST(ranks, np.arange(40) < 20, no_blocks(40))
    bent = ranks + 1e-6 * np.sqrt(ranks)
    sampled = TEST(bent, np.arange(40) < 20, no_blocks(40), resamples=80_000)
    assert exact.is_exact
    assert sampled.resamples == 80_000
    low, high = sampled.doubt()
    assert low <= exact.p <= high


def test_sampled_p_is_never_nought() -> None:
    scores = np.sqrt(np.arange(60.0) + 0.1)
    found = TEST(scores, np.arange(60) >= 30, no_blocks(60))
    assert found.p == pytest.approx(2 / 20_001, rel=1e-9)


def test_relabelling_blocks_and_scaling_scores_change_nothing() -> None:
    rng = np.random.default_rng(2)
    scores, treated = rng.integers(0, 6, 24) / 5, np.tile([True, False], 12)
    block = np.repeat(np.arange(4), 6)
    p = TEST(scores, treated, block).p
    assert TEST(7 * scores, treated, block).p == pytest.approx(p, abs=1e-12)
    assert TEST(scores, treated, 9 - block).p == pytest.approx(p, abs=1e-12)
    assert TEST(-scores, ~treated, block).p == pytest.approx(p, abs=1e-12)


@pytest.mark.parametrize(
    ("n", "minimum_p"), [(2, 0.333333), (3, 0.1), (4, 0.0285714), (5, 0.00793651), (6, 0.0021645)]
)
def test_floor_of_equal_arms(n: int, minimum_p: float) -> None:
    """Smallest attainable Fisher p for 0/n v n/n."""
    assert minimum_p_of(np.arange(2 * n) < n, no_blocks(2 * n)) == pytest.approx(
        minimum_p, rel=1e-5
    )


def test_floor_of_five_pairs_cannot_decide() -> None:
    assert minimum_p_of(np.tile([True, False], 5), np.repeat(np.arange(5), 2)) == pytest.approx(
        0.0625
    )


def test_floor_is_the_p_of_full_separation() -> None:
    treated, block = np.tile([True, True, False], 4), np.repeat(np.arange(4), 3)
    assert TEST(treated.astype(float), treated, block).p == pytest.approx(
        minimum_p_of(treated, block)
    )


def test_a_block_with_one_arm_adds_no_deals() -> None:
    treated, block = np.array([True, False, True, True]), np.array([0, 0, 1, 1])
    assert minimum_p_of(treated, block) == 1


def test_holm_meets_holm_1979() -> None:
    assert holm([0.01, 0.02, 0.03, 0.005]) == pytest.approx([0.03, 0.04, 0.04, 0.02], abs=1e-12)
    eight = [0.001, 0.008, 0.039, 0.041, 0.042, 0.06, 0.074, 0.205]
    assert holm(eight)[:3] == pytest.approx([0.008, 0.056, 0.234], abs=1e-12)
    assert holm([]) == []


def test_a_p_exactly_on_a_limit_has_not_passed_it() -> None:
    assert not below(0.05, 0.05)
    assert not below(3 * (0.05 / 3), 0.05)
    assert below(0.0499, 0.05)


@pytest.mark.parametrize(
    ("scores", "treated"),
    [([1.0, 2.0], [True, True]), ([1.0, np.nan], [True, False]), ([1.0], [True, False])],
)
def test_what_cannot_be_dealt_is_refused(scores: list[float], treated: list[bool]) -> None:
    with pytest.raises(InvalidInput):
        TEST(np.array(scores), np.array(treated), no_blocks(len(scores)))


@pytest.mark.parametrize("shape", [0.3, 1.0, 20.0])
def test_many_units_are_dealt_by_class_as_one_by_one(shape: float) -> None:
    """Mean and variance of all deals are known exactly; 200 deals one by one give the tails."""
    rng = np.random.default_rng(3)
    scores, block = rng.gamma(shape, 1, 4000), rng.integers(0, 3, 4000)
    treated = rng.random(4000) < 0.4
    sums = np.concatenate(list(_sums_by_score(scores, treated, block, 100_000, 5)))
    mean = variance = 0.0
    for b in range(3):
        here, k = scores[block == b], int(treated[block == b].sum())
        mean += k * here.mean()
        variance += k * (len(here) - k) / len(here) * here.var(ddof=1)
    assert abs(sums.mean() - mean) < 4 * np.sqrt(variance / 100_000)
    assert sums.std() / np.sqrt(variance) == pytest.approx(1, abs=0.01)
    by_hand = [
        sum(scores[block == b][rng.permutation(treated[block == b])].sum() for b in range(3))
        for _ in range(2000)
    ]
    assert ks_2samp(sums, by_hand).pvalue > 0.01


@pytest.mark.parametrize("before", [0, 1])
@pytest.mark.parametrize(("rows", "n"), [(6, 7), (3, 5)])
def test_words_are_those_of_numpys_integers(rows: int, n: int, before: int) -> None:
    """Also where half a word was left over; what is drawn next is the same, too."""
    ours, numpys = generator(3, "deals", 0), generator(3, "deals", 0)
    for rng in (ours, numpys):
        rng.integers(0, 2**32, size=before, dtype=np.uint32)
    words = numpys.integers(0, 2**32, size=(rows, n), dtype=np.uint32)
    assert np.array_equal(random_words(rows, n, ours), words)
    assert np.array_equal(ours.permutation(50), numpys.permutation(50))


def test_scores_tested_together_answer_as_one_by_one() -> None:
    """Sampled on one design and on another, counted, held and kept even over columns."""
    rng = np.random.default_rng(3)
    halves, block = np.arange(80) < 40, np.repeat([0, 1], 40)
    rows = np.arange(80) % 20 < 10
    asked = [
        LotQuestion(rng.normal(size=80), halves, np.zeros(80, int)),
        LotQuestion(rng.normal(size=80), rows, block),
        LotQuestion(rng.normal(size=80), halves, np.zeros(80, int)),
        LotQuestion(rng.integers(0, 2, 80).astype(float), halves, np.zeros(80, int)),
        LotQuestion(rng.normal(size=80), rows, block, held=np.arange(80) % 20 == 0),
        LotQuestion(rng.normal(size=80), rows, block, line=np.arange(80) % 4),
    ]
    together = PermutationTest(5).test_all(asked)
    assert together == [
        PermutationTest(5).test(q.scores, q.treated, q.block, held=q.held, line=q.line)
        for q in asked
    ]
    assert [t.is_exact for t in together] == [False, False, False, True, False, False]
