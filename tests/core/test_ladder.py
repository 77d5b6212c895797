"""Ladders of dose and duration: trend, best dose, and what is not said."""

from dataclasses import replace
from itertools import permutations

import numpy as np
import pytest

from racecard.core.assess.dose_series import DoseSeries, contrasts, dose_series_of, rungs_of
from racecard.core.assess.grade import Grade
from racecard.core.model import Carrier, Plan
from racecard.core.model.results import Results
from racecard.core.plan.arms import ladder, mixture
from racecard.core.stats.permutation import PermutationTest
from racecard.core.text.companions import dose_statements
from tests.builders import a_plan, counts


def laddered(carrier: Carrier = Carrier.NONE, steps: int = 3) -> Plan:
    return replace(a_plan(), treatments=ladder("IBA", 500, 2000, steps, "ppm", carrier=carrier))


def found(results: Results, plan: Plan | None = None, **changes: bool) -> DoseSeries:
    clear = changes.get("may_be_clear", True)
    out = dose_series_of(
        plan or laddered(), results, 42, PermutationTest(7), resamples=20_000, may_be_clear=clear
    )
    assert out is not None
    return out


def test_the_carrier_alone_is_dose_nought_where_there_is_one() -> None:
    assert rungs_of(laddered()) == (
        "strength",
        "ppm",
        ((0, 0.0), (1, 500.0), (2, 1000.0), (3, 2000.0)),
    )
    with_carrier = rungs_of(laddered(Carrier.TALC))
    assert with_carrier is not None
    assert with_carrier[2][0] == (1, 0.0)


def test_a_mixture_is_a_ladder_of_its_second_part() -> None:
    plan = replace(a_plan(), treatments=mixture("peat", "perlite", 5))
    found = rungs_of(plan)
    assert found is not None
    assert found[1] == "% perlite"
    assert [dose for _, dose in found[2]] == [0, 25, 50, 75, 100]


def test_a_plan_without_doses_is_no_ladder() -> None:
    assert rungs_of(a_plan("U", "A", "B")) is None
    two = laddered()
    assert rungs_of(replace(two, treatments=two.treatments[:2])) is None


def said(one: DoseSeries) -> list[str]:
    return [s.text for s in dose_statements(one)]


def test_a_rise_and_fall_is_seen_which_a_line_would_miss() -> None:
    one = found(counts((4, 24), (14, 24), (21, 24), (5, 24)))
    assert one.grade is Grade.CLEAR_LEAD
    assert one.shape == "peak at 2"
    assert 2 in one.good
    assert said(one)[0].endswith("results change up to 1000 ppm and turn back after it.")


def test_a_best_dose_is_named_only_when_told_apart_from_both_neighbours() -> None:
    alone = found(counts((2, 24), (6, 24), (23, 24), (3, 24)))
    assert alone.best == 2
    assert alone.good == (2,)
    flat = found(counts((2, 24), (18, 24), (19, 24), (17, 24)))
    assert flat.best is None
    assert set(flat.good) == {1, 2, 3}


def test_no_trend_is_called_where_all_are_alike() -> None:
    one = found(counts((10, 24), (11, 24), (10, 24), (12, 24)))
    assert one.grade is Grade.TOO_CLOSE
    assert said(one)[0] == "No clear trend over the doses."
    assert said(one)[-1] == "This covers doses from 0 to 2000 ppm only."


def test_before_the_end_a_trend_is_at_most_likely() -> None:
    rising = counts((2, 24), (9, 24), (15, 24), (22, 24))
    assert found(rising).grade is Grade.CLEAR_LEAD
    assert found(rising, may_be_clear=False).grade is Grade.LIKELY_LEAD


def test_p_is_the_share_of_all_deals_on_a_bench_small_enough_to_count() -> None:
    """Every deal of six plants to three steps of two, by hand: 90 deals."""
    plan = laddered(steps=2)
    struck = np.array([0, 0, 0, 1, 1, 1], float)
    coefficients = np.array([c for _, c in contrasts(3)])
    values = struck - struck.mean()
    labels = {tuple(p) for p in permutations([0, 0, 1, 1, 2, 2])}

    def largest(label: tuple[int, ...]) -> float:
        c = coefficients[:, list(label)]
        c = c - c.mean(axis=1, keepdims=True)
        error = np.sqrt((c**2).sum(axis=1) * (values**2).sum() / 5)
        return float(np.max(np.abs(c @ values) / error))

    seen = largest((0, 0, 1, 1, 2, 2))
    exact = np.mean([largest(label) >= seen - 1e-9 for label in labels])
    one = found(counts((0, 2), (1, 2), (2, 2)), plan)
    assert one.p == pytest.approx(float(exact), abs=0.012)
    assert one.minimum_p == pytest.approx(2 / len(labels))


def test_under_no_effect_few_ladders_are_called() -> None:
    rng = np.random.default_rng(11)
    called = sum(
        found(counts(*[(int(k), 12) for k in rng.binomial(12, 0.5, 4)])).grade is Grade.CLEAR_LEAD
        for _ in range(120)
    )
    assert called <= 12  # 5 % of 120 is 6; more than 12 comes up about once in 100
