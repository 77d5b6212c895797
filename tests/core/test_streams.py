"""Keyed streams: long seeds draw unlike for every purpose, short ones as they always did."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from racecard.core.plan.bench import draw_bench, sticking_order
from racecard.core.streams import LEAST_LONG, entropy, generator, is_short, shown_seed
from tests.builders import a_plan

LONG = st.integers(LEAST_LONG, 2**128 - 1)


@given(st.integers(0, 2**31 - 1))
def test_a_short_seed_draws_as_it_always_did(seed: int) -> None:
    assert entropy(seed, "bench") == seed
    assert entropy(seed, "blind codes", legacy=(2,)) == [seed, 2]
    assert entropy(seed, "round order", 9, legacy=(0x5C0E, 9)) == [seed, 0x5C0E, 9]
    assert is_short(seed)


@given(LONG, st.sampled_from(["bench", "sticking order", "blind codes"]))
def test_a_long_seed_draws_from_a_hash_of_seed_and_purpose(seed: int, purpose: str) -> None:
    drawn = entropy(seed, purpose)
    assert isinstance(drawn, int)
    assert drawn.bit_length() > 190
    assert drawn != entropy(seed, purpose + "!")
    assert drawn != entropy(seed ^ 1, purpose)
    assert len(shown_seed(seed)) == 32


def test_the_order_of_sticking_tells_nothing_of_the_bench() -> None:
    """Over seeds, how early a cell is stuck and which treatment it got are unrelated: |r| within noise."""
    plan, rng = a_plan("U", "A", units=12, columns=6), np.random.default_rng(1)
    pairs = []
    for _ in range(300):
        seed = int(rng.integers(1, 2**62)) << 66 | int(rng.integers(1, 2**62))
        cells = draw_bench(plan, seed)
        turn = {i: k for k, i in enumerate(sticking_order(cells, seed))}
        pairs += [(turn[i], c.treatment) for i, c in enumerate(cells) if c.treatment >= 0]
    turns, arms = np.array(pairs).T
    assert abs(np.corrcoef(turns, arms)[0, 1]) < 4 / np.sqrt(len(pairs))


def test_purposes_are_unlike_each_other() -> None:
    seed = 2**127 + 5
    drawn = [tuple(generator(seed, p).integers(0, 2**32, 4)) for p in ("bench", "codes", "order")]
    assert len(set(drawn)) == 3
