"""Runs together: each run beside the others, heterogeneity, further runs and the next."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from statsmodels.stats.meta_analysis import combine_effects

from racecard.core.assess.runs import RunsTogether, between_variance, random_effects, runs_together
from racecard.core.model.results import Results
from racecard.core.text.companions import run_statements
from tests.builders import a_plan, singles, struck, waiting

Tables = list[tuple[int, int, int, int]]


def told(tables: Tables) -> tuple[Results, np.ndarray]:
    """Struck and stuck of control and treated in each run."""
    control = [h for c, nc, _, _ in tables for h in [struck()] * c + [waiting()] * (nc - c)]
    treated = [h for _, _, t, nt in tables for h in [struck()] * t + [waiting()] * (nt - t)]
    blocks = [
        [i for i, row in enumerate(tables) for _ in range(row[1])],
        [i for i, row in enumerate(tables) for _ in range(row[3])],
    ]
    return singles(control, treated, blocks=blocks), np.array(blocks[0] + blocks[1])


def together(tables: Tables) -> RunsTogether:
    results, run = told(tables)
    return runs_together(a_plan(), results, run, [f"{2020 + i}" for i in range(len(tables))], 42)[0]


def codes(found: RunsTogether) -> list[str]:
    return [s.code for s in run_statements(a_plan(), found)]


def test_two_runs_say_nothing_of_further_ones() -> None:
    found = together([(24, 40, 8, 10), (1, 10, 4, 30)])
    assert found.further is None
    assert codes(found)[-1] == "two_runs"
    gaps = [r.gap.estimate for r in found.runs if r.gap]
    assert gaps == pytest.approx([0.2, 4 / 30 - 0.1])  # Simpson's two runs, by hand


def test_runs_that_differ_are_said_to() -> None:
    apart = together([(2, 30, 28, 30), (15, 30, 14, 30), (20, 30, 5, 30)])
    assert "runs_differ" in codes(apart)
    alike = together([(10, 30, 20, 30), (11, 30, 20, 30), (9, 30, 21, 30)])
    assert "runs_alike" in codes(alike)


def test_the_next_run_is_foretold_from_five_on() -> None:
    row = (10, 30, 20, 30)
    assert together([row] * 4).next_run is None
    five = together([row] * 5)
    assert five.next_run is not None
    assert five.further is not None
    assert five.next_run[0] <= five.further[1] <= five.further[2] <= five.next_run[1]


def test_a_run_without_an_arm_is_named_and_left_out() -> None:
    found = together([(10, 30, 20, 30), (12, 30, 0, 0)])
    assert found.runs[1].gap is None
    assert codes(found) == ["runs_not_compared"]


@pytest.mark.parametrize("seed", range(12))
def test_the_mean_over_runs_agrees_with_statsmodels(seed: int) -> None:
    """Paule-Mandel and Hartung-Knapp, where statsmodels' own iteration came to its end."""
    rng = np.random.default_rng(seed)
    gaps, variances = rng.normal(0.2, 0.15, 6), rng.uniform(0.005, 0.02, 6)
    other = combine_effects(gaps, variances, method_re="iterated", atol=1e-12)
    tau2 = between_variance(gaps, variances)
    assert tau2 == pytest.approx(max(0.0, other.tau2), abs=1e-6)
    (mean, low, high), following = random_effects(gaps, variances)
    assert mean == pytest.approx(other.mean_effect_re, abs=1e-6)
    if other.scale_hksj_re >= 1:
        limits = other.conf_int(use_t=True)[3]
        assert (low, high) == pytest.approx(tuple(limits), abs=1e-5)
    assert following is not None
    assert following[0] <= low <= high <= following[1]


@given(st.lists(st.tuples(st.floats(-0.9, 0.9), st.floats(0.001, 0.05)), min_size=2, max_size=9))
def test_the_variance_between_runs_solves_its_equation(pairs: list[tuple[float, float]]) -> None:
    """The weighted squares equal their expectation, or fall short of it already at 0."""
    gaps, variances = (np.array(v) for v in zip(*pairs, strict=True))
    tau2 = between_variance(gaps, variances)
    w = 1 / (variances + tau2)
    q = float(np.sum(w * (gaps - np.sum(w * gaps) / w.sum()) ** 2))
    assert q == pytest.approx(len(gaps) - 1, abs=1e-6) if tau2 > 0 else q <= len(gaps) - 1 + 1e-9


def test_the_prediction_holds_the_next_run_as_often_as_it_says() -> None:
    """Five runs: over spreads from none to large 95 % are to hold the next, and at no spread far fewer."""
    rng = np.random.default_rng(20)
    shares = []
    for between in (0.0, 0.001, 0.0025, 0.005, 0.01, 0.02, 0.04):
        held = 0
        for _ in range(200):
            variances = rng.uniform(0.004, 0.008, 5)
            gaps = 0.2 + rng.normal(0, np.sqrt(between + variances))
            following = random_effects(gaps, variances)[1]
            assert following is not None
            held += following[0] <= 0.2 + rng.normal(0, np.sqrt(between)) <= following[1]
        shares.append(held / 200)
    assert 0.93 <= np.mean(shares) <= 0.97
    assert min(shares) > 0.85
