"""One block changed at a time gives what the whole test gives."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from racecard.core.stats.exact_deals import BlocksAside
from racecard.core.stats.permutation import PermutationTest

SHARES = st.lists(st.tuples(st.integers(0, 10), st.integers(0, 10)), min_size=8, max_size=14)


@given(SHARES, st.data())
def test_a_pair_changed_or_left_out_gives_the_same_tails(
    pairs: list[tuple[int, int]], data: st.DataObject
) -> None:
    scores = np.array([s / 10 for pair in pairs for s in pair])
    block = np.repeat(np.arange(len(pairs)), 2)
    treated = np.tile([True, False], len(pairs))
    aside = BlocksAside.of(scores, treated, block)
    assert aside is not None
    i = data.draw(st.integers(0, len(scores) - 1))
    turned = scores.copy()
    turned[i] = data.draw(st.integers(0, 10)) / 10
    kept = block != block[i]
    for sc, tr, bl in ((turned, treated, block), (scores[kept], treated[kept], block[kept])):
        whole = PermutationTest(1).test(sc, tr, bl)
        assert whole.is_exact
        found = aside.tails(sc, tr, bl)
        assert found == pytest.approx((whole.up, whole.down), abs=1e-12)


def test_more_than_one_block_changed_is_left_to_the_whole_test() -> None:
    scores, treated = np.arange(20) / 20, np.tile([True, False], 10)
    block = np.repeat(np.arange(10), 2)
    aside = BlocksAside.of(scores, treated, block)
    assert aside is not None
    turned = scores.copy()
    turned[[0, 10]] = 0.77
    assert aside.tails(turned, treated, block) is None
    assert aside.tails(scores[4:], treated[4:], block[4:]) is None
