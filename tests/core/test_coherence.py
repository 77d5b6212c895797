"""No verdict contradicts its test, its floor, or the drawing of its interval."""

import re

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import hypergeom

from racecard.core.assess.grade import Grade
from racecard.core.assess.judge import judge
from racecard.core.model.results import Results
from racecard.core.plan.exact import arms_table
from racecard.core.stats.permutation import minimum_p_of
from racecard.core.stats.proportions import newcombe
from racecard.core.text.narrator import MOST_WORDS, tell
from racecard.core.text.told import Told
from tests.builders import a_plan, containers, counts, singles, struck, waiting

MOST = 12
UP, DOWN = (Grade.CLEAR_LEAD, Grade.LIKELY_LEAD), (Grade.CLEARLY_BEHIND, Grade.LIKELY_BEHIND)
CLEAR = (Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND)


def central_p(n1: int, n0: int) -> np.ndarray:
    """Central two-sided p of every table (a of n0, b of n1), from scipy's tails."""
    b, a = np.meshgrid(np.arange(n1 + 1), np.arange(n0 + 1))
    law = hypergeom(n1 + n0, n1, a + b)
    return np.asarray(np.minimum(1.0, 2 * np.minimum(law.cdf(b), law.sf(b - 1))))


@pytest.mark.parametrize("n1", range(1, MOST + 1))
def test_every_two_arm_table_is_called_as_its_test_floor_and_range_say(n1: int) -> None:
    """All tables up to 12 by 12 through the vectorised judgement of strike."""
    for n0 in range(1, MOST + 1):
        table = arms_table(n1, n0, 1)
        p = central_p(n1, n0)
        b, a = np.meshgrid(np.arange(n1 + 1), np.arange(n0 + 1))
        ahead = b >= table.enough[a]
        behind = b <= table.few[a]
        assert np.array_equal(ahead | behind, p < 0.05 - 1e-9)
        assert np.all((b / n1 > a / n0)[ahead])
        assert np.all((b / n1 < a / n0)[behind])
        minimum_p = minimum_p_of(np.arange(n1 + n0) < n1, np.zeros(n1 + n0, dtype=np.int64))
        assert p.min() >= minimum_p - 1e-12
        if minimum_p >= 0.05:
            assert not ahead.any()
            assert not behind.any()
        for i, j in zip(*np.nonzero(ahead), strict=True):
            assert (
                newcombe(int(j), n1, int(i), n0).low or 0
            ) > -0.02  # the range may only just touch 0


def coherent(results: Results, arms: int) -> None:
    names = ("Untreated", "A", "B", "C")[:arms]
    plan = a_plan(*names, gap_points=20)
    found = judge(plan, results, seed=1)
    answer = tell(Told(plan, found, ()))
    assert answer is not None
    assert len(answer.text.split()) <= MOST_WORDS, answer.text
    assert not re.search(r"None(?! rooted)|nan|inf\b|  ", answer.text)
    assert (answer.chip == "clearly ahead") is any(
        c.grade is Grade.CLEAR_LEAD for c in found.comparisons
    )
    for c in found.comparisons:
        if c.test is None or c.gap is None:
            assert c.grade not in (*UP, *DOWN, Grade.LEVEL)
            continue
        assert c.strike.p_holm is not None
        assert c.strike.minimum_p_holm is not None
        assert c.strike.p_holm >= c.test.p - 1e-12 >= (c.strike.primary.minimum_p or 0) - 1e-9
        if c.grade in CLEAR:
            assert c.strike.p_holm < 0.05
            assert c.strike.minimum_p_holm < 0.05
            assert c.gap.low is None or c.gap.leaves_out_zero
        if c.grade in (*UP, *DOWN):
            assert c.strike.p_holm < 0.10
            assert (c.test.up < c.test.down) == (c.grade in UP)
        if c.strike.minimum_p_holm >= 0.05:
            assert c.grade is Grade.CANNOT_TELL
        if c.grade is Grade.LEVEL:
            assert c.gap90 is not None
            assert -0.2 < (c.gap90.low or -1) <= (c.gap90.high or 1) < 0.2
        if c.gap.low is not None and c.gap.high is not None:
            assert c.gap.low - 1e-9 <= c.gap.estimate <= c.gap.high + 1e-9


def test_the_whole_finish_of_two_hundred_drawn_tables_is_coherent() -> None:
    rng = np.random.default_rng(8)
    for _ in range(200):
        arms = int(rng.integers(2, 5))
        sizes = rng.integers(1, MOST + 1, arms)
        coherent(counts(*[(int(rng.integers(0, n + 1)), int(n)) for n in sizes]), arms)


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(*[st.integers(0, 6)] * 2), min_size=2, max_size=5))
def test_blocked_finishes_are_coherent(blocks: list[tuple[int, int]]) -> None:
    control = [h for c, _ in blocks for h in [struck()] * c + [waiting()] * (6 - c)]
    treated = [h for _, t in blocks for h in [struck()] * t + [waiting()] * (6 - t)]
    where = [[b for b in range(len(blocks)) for _ in range(6)]] * 2
    coherent(singles(control, treated, blocks=where), 2)


@settings(max_examples=40, deadline=None)
@given(st.lists(st.tuples(st.integers(0, 8), st.integers(0, 8)), min_size=3, max_size=7))
def test_finishes_of_containers_are_coherent(pots: list[tuple[int, int]]) -> None:
    coherent(containers([(a, 8) for a, _ in pots], [(b, 8) for _, b in pots]), 2)
