"""Crossed factors: main effects, simple effects, interaction, and what is no cross."""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from statsmodels.api import GLM, OLS, families

from racecard.core.assess.crosses import Cross, cross_of, factors_of, quasi_logistic
from racecard.core.assess.grade import Grade
from racecard.core.assess.strike import unit_shares
from racecard.core.model import Plan
from racecard.core.model.results import Results
from racecard.core.plan.arms import Factor, cross
from racecard.core.stats.permutation import PermutationTest
from racecard.core.text.companions import cross_statements
from tests.builders import a_plan, containers, counts
from tests.reference_data import orobanche_counts

TWO = (Factor("coat", ("whole", "nicked")), Factor("wetting", ("dry", "overnight")))


def crossed(*factors: Factor, **changes: Any) -> Plan:
    return replace(a_plan(**changes), treatments=cross(factors or TWO))


def found(results: Results, plan: Plan | None = None) -> Cross:
    out = cross_of(
        plan or crossed(), results, 42, PermutationTest(1), resamples=2000, may_be_clear=True
    )
    assert out is not None
    return out


def test_a_full_cross_is_seen_and_a_part_of_one_is_not() -> None:
    assert [f.name for f in factors_of(crossed())] == ["coat", "wetting"]
    plan = crossed()
    assert factors_of(replace(plan, treatments=plan.treatments[:3])) == ()
    assert factors_of(a_plan("U", "A", "B")) == ()


def test_a_main_effect_is_read_over_both_levels_of_the_other() -> None:
    one = found(counts((4, 20), (5, 20), (15, 20), (16, 20)))
    coat, wetting = one.main
    assert coat.gap.estimate == pytest.approx(0.55)
    assert coat.grade is Grade.CLEAR_LEAD
    assert wetting.gap.estimate == pytest.approx(0.05)
    assert wetting.grade is Grade.TOO_CLOSE


def test_an_interaction_leads_with_the_simple_effects() -> None:
    one = found(counts((3, 30), (28, 30), (29, 30), (4, 30)))
    assert one.interactions[0].leads
    assert one.interactions[0].gap.estimate == pytest.approx((4 - 29) / 30 - (28 - 3) / 30)
    told = [s.code for s in cross_statements(a_plan(), one)]
    assert told[0] == "interaction"
    assert len(told) == 1 + len(one.simple)


def test_no_interaction_leads_with_the_main_effects() -> None:
    one = found(counts((4, 20), (8, 20), (12, 20), (16, 20)))
    assert not one.interactions[0].leads
    assert "no_interaction" in [s.code for s in cross_statements(a_plan(), one)]


def test_seed_lot_by_extract_of_crowder_as_a_cross() -> None:
    """Crowder (1978): the interaction p is 0.080 with the quasi-binomial scale (R)."""
    arms = [orobanche_counts(lot)[x] for lot in ("O75", "O73") for x in ("BEAN", "CUCUMBER")]
    factors = (Factor("lot", ("75", "73")), Factor("extract", ("bean", "cucumber")))
    one = found(containers(*arms), crossed(*factors, per_container=20))
    assert one.interactions[0].logistic_p == pytest.approx(0.0801, abs=2e-4)
    extract = one.main[1]
    shares = [np.mean([y / n for y, n in arm]) for arm in arms]
    weights = (5 * 6 / 11, 5 * 5 / 10)
    by_hand = (weights[0] * (shares[1] - shares[0]) + weights[1] * (shares[3] - shares[2])) / sum(
        weights
    )
    assert extract.gap.estimate == pytest.approx(by_hand)
    assert extract.p == pytest.approx(0.00176939, abs=1e-6)  # both lots as blocks, 116,424 deals


def test_three_factors_say_what_they_do_not_ask() -> None:
    three = (*TWO, Factor("cover", ("none", "glass")))
    one = found(counts(*[(k, 12) for k in (2, 3, 4, 5, 8, 9, 10, 11)]), crossed(*three))
    assert len(one.main) == 3
    assert len(one.interactions) == 3
    assert [s.code for s in cross_statements(a_plan(), one)][-1] == "three_way"


def test_the_logistic_view_agrees_with_statsmodels() -> None:
    rng = np.random.default_rng(5)
    n = rng.integers(5, 30, 24).astype(float)
    x = np.column_stack([np.ones(24), rng.integers(0, 2, 24), rng.normal(size=24)])
    y = rng.binomial(n.astype(int), 0.4).astype(float)
    mine = quasi_logistic(y, n, x)
    other = GLM(y / n, x, family=families.Binomial(), var_weights=n).fit()
    assert mine is not None
    assert mine.coefficients == pytest.approx(other.params, abs=1e-7)
    assert mine.errors == pytest.approx(other.bse, abs=1e-6)
    assert mine.deviance == pytest.approx(other.deviance, abs=1e-7)


def test_no_odds_are_given_where_a_cell_is_all_struck() -> None:
    y, n = np.array([5.0, 5, 2, 1]), np.full(4, 5.0)
    assert quasi_logistic(y, n, np.column_stack([np.ones(4), [0, 0, 1, 1]])) is None


def test_the_interaction_in_unequal_blocks_is_that_of_least_squares() -> None:
    results = counts((4, 12), (7, 12), (9, 12), (11, 12))
    block = np.random.default_rng(8).integers(0, 3, 48) * np.repeat([1, 1, 0, 1], 12)
    results = replace(results, block=block)
    one = found(results).interactions[0]
    s = unit_shares(results, 42)
    a, b = (s.treatment >= 2).astype(float), (s.treatment % 2).astype(float)
    columns = np.column_stack([np.ones(48), block == 1, block == 2, a, b, a * b]).astype(float)
    other = OLS(s.share, columns).fit()
    assert one.gap.estimate == pytest.approx(other.params[-1], abs=1e-9)
    assert one.p == pytest.approx(other.pvalues[-1], abs=1e-9)
    assert (one.gap.low, one.gap.high) == pytest.approx(tuple(other.conf_int()[-1]), abs=1e-9)
