"""Grades, families, floors and words of the finish."""

import numpy as np
import pytest
from scipy.stats import mannwhitneyu

from racecard.core.assess.grade import Grade, grade_of, lowest
from racecard.core.assess.judge import judge
from racecard.core.assess.judgement import Judgement
from racecard.core.assess.quality import aligned_ranks, arm_quality, compare_quality
from racecard.core.finish.finish_result import whole_finish
from racecard.core.model import History, Role
from racecard.core.model.results import results_from
from racecard.core.stats.permutation import PermutationTest
from racecard.core.stats.proportions import Interval
from racecard.core.stats.sample_size import plants_needed
from racecard.errors import InvalidInput
from tests.builders import (
    LAST,
    a_plan,
    containers,
    counts,
    lost,
    removed,
    singles,
    struck,
    waiting,
)
from tests.reference_data import orobanche_counts

NAMES = ("Untreated", "A", "B", "C", "D")


def judged(results, *, end: float | None = LAST, drawn: bool | None = True, **plan) -> Judgement:
    arms = int(results.treatment.max()) + 1
    roles = plan.pop("roles", None)
    return judge(
        a_plan(*NAMES[:arms], roles=roles, **plan), results, seed=1, end_day=end, lot_drawn=drawn
    )


def grade(results, **kwargs) -> Grade | None:
    return judged(results, **kwargs).comparisons[0].grade


@pytest.mark.parametrize(
    ("control", "treated", "expected"),
    [
        ((2, 16), (13, 16), Grade.CLEAR_LEAD),
        ((13, 16), (2, 16), Grade.CLEARLY_BEHIND),
        ((5, 16), (11, 16), Grade.LIKELY_LEAD),
        ((6, 16), (10, 16), Grade.TOO_CLOSE),
        ((0, 3), (3, 3), Grade.CANNOT_TELL),
        ((8, 8), (8, 8), Grade.TOO_CLOSE),
        ((100, 200), (101, 200), Grade.LEVEL),
    ],
)
def test_grade_of_two_arms(
    control: tuple[int, int], treated: tuple[int, int], expected: Grade
) -> None:
    assert grade(counts(control, treated)) is expected


def test_four_against_four_can_decide_and_three_cannot() -> None:
    assert judged(counts((0, 3), (3, 3))).comparisons[0].strike.primary.minimum_p == pytest.approx(
        0.1
    )
    four = judged(counts((0, 4), (4, 4))).comparisons[0]
    assert four.strike.primary.minimum_p == pytest.approx(0.0285714, abs=1e-6)
    assert four.grade is Grade.CLEAR_LEAD


def test_holm_raises_p_and_floor_with_every_candidate() -> None:
    """0/4 v 4/4 is decidable alone (0.029) but not as one of two candidates (0.057)."""
    two = judged(counts((0, 4), (4, 4), (2, 4)))
    assert [c.grade for c in two.comparisons] == [Grade.CANNOT_TELL] * 2
    assert two.comparisons[0].strike.minimum_p_holm == pytest.approx(2 / 35, abs=1e-9)


def test_a_carrier_stands_outside_the_family() -> None:
    roles = [Role.CONTROL, Role.CARRIER, Role.CANDIDATE]
    found = judged(counts((0, 4), (0, 4), (4, 4)), roles=roles)
    carrier, candidate = found.comparisons
    assert candidate.strike.p_holm == candidate.test.p if candidate.test else False
    assert candidate.grade is Grade.CLEAR_LEAD
    assert carrier.beside.over_time.grade is None


def test_before_the_end_nothing_is_clear() -> None:
    found = judged(counts((0, 12), (12, 12)), end=60)
    assert found.comparisons[0].grade is Grade.LIKELY_LEAD
    assert not found.is_final


def test_a_lot_known_not_drawn_is_never_above_likely() -> None:
    assert grade(counts((0, 12), (12, 12)), drawn=False) is Grade.LIKELY_LEAD
    assert grade(counts((0, 12), (12, 12)), drawn=None) is Grade.CLEAR_LEAD


def test_clear_but_small_says_so() -> None:
    found = judged(counts((450, 1000), (550, 1000)))
    assert found.comparisons[0].grade is Grade.CLEAR_LEAD
    assert found.comparisons[0].is_small


def test_the_verdict_falls_to_its_lowest_over_the_missing() -> None:
    control = [struck()] * 4 + [waiting()] * 6
    treated = [struck()] * 10 + [removed()] * 4
    found = judged(singles(control, treated)).comparisons[0]
    assert found.strike.if_missing is not None
    assert found.strike.if_missing[1] is Grade.CLEAR_LEAD
    assert found.grade is lowest(
        [Grade.CLEAR_LEAD, *(g for g in found.strike.if_missing if g is not None)]
    )
    assert found.grade is not Grade.CLEAR_LEAD


def test_no_control_gives_rates_and_no_verdict() -> None:
    found = judged(counts((3, 8), (6, 8)), roles=[Role.CANDIDATE, Role.CANDIDATE])
    assert found.comparisons == ()
    assert found.arms[1].strike.rate == pytest.approx(0.75)


def test_plates_are_judged_as_units() -> None:
    """Crowder (1978), bean as control: each seed lot alone, then both as blocks."""
    both = {lot: orobanche_counts(lot) for lot in ("O75", "O73")}
    alone = judged(containers(both["O73"]["BEAN"], both["O73"]["CUCUMBER"])).comparisons[0]
    assert alone.test is not None
    assert alone.test.p == pytest.approx(0.261905, abs=1e-6)
    assert alone.grade is Grade.TOO_CLOSE
    arms = [both["O75"][e] + both["O73"][e] for e in ("BEAN", "CUCUMBER")]
    block = [[0] * len(both["O75"][e]) + [1] * len(both["O73"][e]) for e in ("BEAN", "CUCUMBER")]
    blocked = judged(containers(*arms, blocks=block)).comparisons[0]
    assert blocked.test is not None
    assert blocked.test.p == pytest.approx(0.00176939, abs=1e-8)
    assert blocked.grade is Grade.CLEAR_LEAD


def test_counting_shared_containers_singly_withholds_p_and_interval() -> None:
    found = judged(containers([(1, 8)] * 3, [(8, 8)] * 3), count_singly=True).comparisons[0]
    assert (found.test, found.strike.p_holm, found.strike.primary.minimum_p) == (None, None, None)
    assert found.gap is not None
    assert found.gap.low is None
    assert found.grade is Grade.CANNOT_TELL


def test_over_time_needs_equal_looks() -> None:
    early, late = range(3, 43, 3), range(3, 43, 21)
    histories = [[History(6, 9, last_look=42)]] * 8 + [[History(3, 24, last_look=42)]] * 8
    looks = [early] * 8 + [late] * 8
    found = judge(
        a_plan("U", "A"), results_from([0] * 8 + [1] * 8, [0] * 16, histories, looks), seed=1
    ).comparisons[0]
    assert found.beside.over_time.p is None
    assert "unequally" in found.beside.over_time.reason


def test_over_time_with_one_look_is_fisher() -> None:
    control = [History(0, 42, last_look=42)] * 3 + [waiting()] * 7
    treated = [History(0, 42, last_look=42)] * 9 + [waiting()]
    found = judged(singles(control, treated, looks=[42])).comparisons[0]
    assert found.test is not None
    assert found.beside.over_time.p == pytest.approx(found.test.p, abs=1e-9)


def test_sooner_at_equal_strike_is_seen_over_time_only() -> None:
    control, treated = [struck(39)] * 10 + [waiting()] * 2, [struck(9)] * 10 + [waiting()] * 2
    found = judged(singles(control, treated)).comparisons[0]
    assert found.grade not in (Grade.CLEAR_LEAD, Grade.LIKELY_LEAD)
    assert found.beside.over_time.grade is Grade.CLEAR_LEAD


def test_strike_over_time_in_exact_days_is_the_logrank_permutation() -> None:
    """Against a naive re-dealing of log-rank scores (Peto & Peto 1972) on five against five."""
    from itertools import combinations

    days = [2, 5, 9, 11, 14, 1, 3, 4, 6, 8]
    found = judged(
        singles(
            [History(d - 1, d, last_look=20) for d in days[:5]],
            [History(d - 1, d, last_look=20) for d in days[5:]],
            looks=range(1, 21),
        )
    ).comparisons[0]
    order = np.argsort(days)
    hazard = np.cumsum(1 / np.arange(10, 0, -1))
    score = np.zeros(10)
    score[order] = 1 - hazard
    sums = [sum(score[list(c)]) for c in combinations(range(10), 5)]
    seen = score[5:].sum()
    up, down = (
        np.mean(np.array(sums) >= seen - 1e-12),
        np.mean(np.array(sums) <= seen + 1e-12),
    )
    assert found.beside.over_time.p == pytest.approx(min(1, 2 * min(up, down)), abs=1e-9)


def test_root_scores_without_blocks_are_mann_whitney() -> None:
    a, b = [0, 1, 2, 2, 3, 4], [2, 3, 4, 4, 5, 5]
    results = singles([struck()] * 6, [struck()] * 6, scores=[*a, *b])
    found = compare_quality(results, 1, 0)
    u = mannwhitneyu(b, a).statistic
    assert found.superiority == pytest.approx(u / 36, abs=1e-12)
    naive = aligned_ranks(np.array([*a, *b], float), np.zeros(12, int))
    assert found.asked is not None
    assert PermutationTest(1).test_all([found.asked]) == [
        PermutationTest(1).test(naive, np.arange(12) >= 6, np.zeros(12, int))
    ]


def test_placenta_superiority_is_by_hand() -> None:
    """Hollander & Wolfe (1973): W 35 of 50 pairs."""
    x = [0.80, 0.83, 1.89, 1.04, 1.45, 1.38, 1.91, 1.64, 0.73, 1.46]
    y = [1.15, 0.88, 0.90, 0.74, 1.21]
    results = singles([struck()] * 5, [struck()] * 10, scores=[*y, *x])
    found = compare_quality(results, 1, 0)
    assert found.superiority == pytest.approx(0.7, abs=1e-12)


def test_a_block_shift_does_not_touch_aligned_ranks() -> None:
    rng = np.random.default_rng(0)
    scores, block = rng.normal(size=12), np.repeat([0, 1, 2], 4)
    shifted = scores + 10.0 * block
    assert np.array_equal(aligned_ranks(scores, block), aligned_ranks(shifted, block))


def test_the_lost_score_nought_and_the_unscored_are_counted() -> None:
    results = singles([struck(), struck(), lost(), waiting()], scores=[4, None, None, 0])
    found = arm_quality(results, 0)
    assert found is not None
    assert found.counts == (2, 0, 0, 0, 1, 0)
    assert found.unscored == 1
    assert found.mean_all == pytest.approx(4 / 3, abs=1e-12)
    assert found.mean_struck == pytest.approx(4, abs=1e-12)


def test_without_scores_there_is_no_quality() -> None:
    results = singles([struck(), lost()], [struck(), lost()])
    assert arm_quality(results, 0) is None
    assert compare_quality(results, 1, 0).asked is None


def test_plants_needed_meet_casagrande_pike_and_smith() -> None:
    """50 % v 75 % at power 0.90: 84.5, printed as 85 in Fleiss (1981), from memory."""
    assert plants_needed(0.50, 0.75, power=0.9) == pytest.approx(84.5176, abs=1e-3)
    assert plants_needed(0.3, 0.6) == pytest.approx(48.4074, abs=1e-3)
    assert plants_needed(0.25, 0.40, alpha=0.01, power=0.95) == pytest.approx(357.1, abs=0.1)


def test_an_interval_that_holds_nought_only_lowers_clear_to_likely() -> None:
    crosses = Interval(0.3, -0.01, 0.6, "newcombe")
    asked = {"p_holm": 0.04, "minimum_p_holm": 0.001, "ahead": True}
    assert grade_of(interval=crosses, **asked) is Grade.LIKELY_LEAD  # type: ignore[arg-type]
    assert grade_of(interval=None, **asked) is Grade.CLEAR_LEAD  # type: ignore[arg-type]


def test_opposite_directions_are_too_close() -> None:
    assert lowest([Grade.CLEAR_LEAD, Grade.LIKELY_BEHIND]) is Grade.TOO_CLOSE
    assert lowest([Grade.CLEAR_LEAD, Grade.LIKELY_LEAD]) is Grade.LIKELY_LEAD
    assert lowest([Grade.CLEAR_LEAD, Grade.CANNOT_TELL]) is Grade.CANNOT_TELL


def test_the_words_never_claim_too_much() -> None:
    for results in (counts((2, 16), (13, 16)), counts((6, 16), (7, 16)), counts((0, 3), (3, 3))):
        found = whole_finish(a_plan(*NAMES[:2]), results, seed=1, end_day=LAST)
        text = " ".join([found.headline, *found.says]).lower()
        for banned in ("prove", "winner", "no effect", "more likely", "significant"):
            assert banned not in text


def test_the_same_seed_gives_the_same_sampled_verdict() -> None:
    rng = np.random.default_rng(3)
    arms = [[struck(int(d)) for d in rng.choice(range(3, 43, 3), 40)] for _ in range(2)]
    one, two = judged(singles(*arms)), judged(singles(*arms))
    assert one.comparisons[0].beside.over_time == two.comparisons[0].beside.over_time


def test_null_trials_rarely_call_anything_clear() -> None:
    """Three treatments of 12 that do nothing: a clear call in at most 5 of 100, plus 3 s.e."""
    rng = np.random.default_rng(8)
    calls = 0
    for _ in range(150):
        found = judged(counts(*[(int(rng.binomial(12, 0.5)), 12) for _ in range(3)]))
        calls += any(c.grade in (Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND) for c in found.comparisons)
    assert calls <= 150 * 0.05 + 3 * np.sqrt(150 * 0.05 * 0.95)


def test_an_interval_running_backwards_is_refused() -> None:
    with pytest.raises(InvalidInput):
        singles([History(9, 6, last_look=9)])


def test_harm_is_judged_on_containers_even_where_plants_are_counted_singly() -> None:
    """Two jars an arm: eight of eight lost in one jar is one jar's fate, not eight plants'."""
    rotten, sound = [lost()] * 8, [waiting()] * 8
    histories = [sound, sound, rotten, sound]
    looks = [range(3, 43, 3)] * 4
    results = results_from([0, 0, 1, 1], [0] * 4, histories, looks)
    found = whole_finish(a_plan("U", "A", count_singly=True), results, seed=1, end_day=LAST)
    assert not found.judgement.comparisons[0].harm
    assert "more_loss" not in {n.code for n in found.notes}
