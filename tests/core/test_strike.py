"""Denominators, and the interval each design gets."""

import numpy as np
import pytest
from scipy.stats import t as student
from scipy.stats import ttest_rel

from racecard.core.assess.strike import Missing, arm_strike, comparable, gap, unit_shares
from racecard.core.stats.proportions import newcombe, newcombe_paired, stratified_score, wilson
from tests.builders import LAST, containers, counts, lost, removed, singles, struck, waiting
from tests.reference_data import orobanche_counts


def gap_of(results, **kwargs):
    units, _ = comparable(unit_shares(results, LAST), 1, 0)
    return gap(units, 1, **kwargs)


def test_loss_counts_as_not_struck_and_removal_leaves_the_denominator() -> None:
    results = singles([struck(), struck(), lost(), waiting(), removed()])
    arm = arm_strike(unit_shares(results, LAST), 0)
    assert (arm.n, arm.struck, arm.lost, arm.removed) == (5, 2, 1, 1)
    assert arm.rate == pytest.approx(2 / 4, abs=1e-12)
    assert arm.interval == wilson(2, 4)


def test_a_horizon_without_end_counts_nobody_who_never_struck() -> None:
    arm = arm_strike(unit_shares(counts((3, 8)), np.inf), 0)
    assert (arm.struck, arm.lost, arm.removed) == (3, 0, 0)


def test_strikes_after_the_horizon_wait() -> None:
    results = singles([struck(12), struck(30)])
    assert arm_strike(unit_shares(results, 21), 0).struck == 1


def test_missing_ones_count_against_or_for_the_treatment() -> None:
    results = singles([removed(), waiting()], [removed(), struck()])
    against = unit_shares(results, LAST, 1, Missing.AGAINST)
    best = unit_shares(results, LAST, 1, Missing.FOR)
    assert list(against.struck) == [1, 0, 0, 1]
    assert list(best.struck) == [0, 0, 1, 1]
    assert list(against.counted) == [1, 1, 1, 1]


def test_a_block_left_with_one_arm_is_out_and_counted() -> None:
    results = singles([waiting(), removed()], [struck(), struck()], blocks=[[0, 1], [0, 1]])
    units, left_out = comparable(unit_shares(results, LAST), 1, 0)
    assert list(units.block) == [0, 0]
    assert left_out == 2


def test_a_widowed_pair_member_stays_in_its_arms_rate() -> None:
    results = singles([waiting(), removed()], [struck(), struck()], blocks=[[0, 1], [0, 1]])
    assert arm_strike(unit_shares(results, LAST), 1).rate == 1


def test_single_plants_without_blocks_get_newcombe() -> None:
    found = gap_of(counts((3, 10), (9, 10)))
    assert found == newcombe(9, 10, 3, 10)


def test_single_plants_in_pairs_get_the_paired_interval() -> None:
    control = [struck(), struck(), waiting(), waiting(), waiting(), waiting()]
    treated = [struck(), struck(), struck(), struck(), struck(), waiting()]
    found = gap_of(singles(control, treated, blocks=[range(6), range(6)]))
    assert found == newcombe_paired(2, 3, 0, 1)


def test_single_plants_in_blocks_get_the_stratified_score_interval() -> None:
    control = [struck()] * 1 + [waiting()] * 3 + [struck()] * 2 + [waiting()] * 2
    treated = [struck()] * 3 + [waiting()] * 1 + [struck()] * 4
    block = [0] * 4 + [1] * 4
    found = gap_of(singles(control, treated, blocks=[block, block]))
    assert found == stratified_score([3, 4], [4, 4], [1, 2], [4, 4])


def test_unequal_blocks_weigh_as_the_test_deals_them() -> None:
    """Weights n1 n0 / N by hand: block of 1 v 1 weighs 1/2, block of 3 v 3 weighs 3/2."""
    control = [waiting(), struck(), waiting(), waiting()]
    treated = [struck(), struck(), struck(), waiting()]
    found = gap_of(singles(control, treated, blocks=[[0, 1, 1, 1], [0, 1, 1, 1]]))
    assert found.estimate == pytest.approx((0.5 * 1 + 1.5 * (1 / 3)) / 2, abs=1e-12)


def test_containers_are_wider_than_the_same_plants_alone() -> None:
    plates = orobanche_counts("O75")
    results = containers(plates["BEAN"], plates["CUCUMBER"])
    found = gap_of(results)
    alone = newcombe(201, 295, 99, 272)
    assert found.method == "newcombe_containers"
    assert found.estimate == pytest.approx(
        0.343994, abs=1e-6
    )  # Crowder (1978), mean of plate shares
    assert found.low is not None
    assert alone.low is not None
    assert found.high is not None
    assert alone.high is not None
    assert found.high - found.low > 1.3 * (alone.high - alone.low)


def test_arm_of_containers_is_centred_on_their_mean_share() -> None:
    results = containers([(5, 5), (1, 5)], [(2, 5), (2, 5)])
    arm = arm_strike(unit_shares(results, LAST), 0)
    assert arm.rate == pytest.approx(0.6, abs=1e-12)
    assert arm.interval is not None
    assert arm.interval.reason == "only two containers"
    assert arm.effective_n is not None
    assert arm.effective_n < 10


def test_one_container_an_arm_gets_no_interval() -> None:
    results = containers([(5, 8)], [(8, 8)])
    found = gap_of(results)
    assert found.low is None
    assert "one container" in found.reason
    arm = arm_strike(unit_shares(results, LAST), 0)
    assert arm.interval is not None
    assert arm.interval.low is None


def test_pairs_of_containers_follow_the_paired_t_interval() -> None:
    """scipy's paired t interval, where it is wider than the plants taken alone."""
    one, zero = [9, 5, 10, 3, 8], [2, 4, 1, 3, 9]
    results = containers(
        [(k, 10) for k in zero], [(k, 10) for k in one], blocks=[range(5), range(5)]
    )
    found = gap_of(results)
    library = ttest_rel(np.array(one) / 10, np.array(zero) / 10).confidence_interval(0.95)
    assert found.method == "container_blocks"
    assert found.low == pytest.approx(float(library.low), abs=1e-9)


def test_blocks_of_containers_use_the_pooled_cells() -> None:
    """Two blocks with two containers in each cell: s from cell deviations, df 4, by hand."""
    zero, one = [(2, 10), (4, 10), (1, 10), (5, 10)], [(6, 10), (8, 10), (4, 10), (9, 10)]
    found = gap_of(containers(zero, one, blocks=[[0, 0, 1, 1], [0, 0, 1, 1]]))
    s2 = (0.02 + 0.08 + 0.02 + 0.125) / 4
    half = student.ppf(0.975, 4) * np.sqrt(s2 * 2 * (1 / 2 + 1 / 2)) / 2
    assert found.estimate == pytest.approx(0.375, abs=1e-12)
    assert found.low == pytest.approx(0.375 - half, abs=1e-9)


def test_like_containers_are_never_narrower_than_their_plants() -> None:
    results = containers([(3, 10)] * 4, [(8, 10)] * 4, blocks=[range(4), range(4)])
    plain = stratified_score([8] * 4, [10] * 4, [3] * 4, [10] * 4)
    found = gap_of(results)
    assert (found.low, found.high) == (plain.low, plain.high)


def test_containers_in_blocks_have_no_interval_of_their_own() -> None:
    results = containers([(3, 10)] * 3, [(8, 10)] * 3, blocks=[range(3), range(3)])
    arm = arm_strike(unit_shares(results, LAST), 0)
    assert arm.interval is not None
    assert arm.interval.low is None
    assert "blocks" in arm.interval.reason
