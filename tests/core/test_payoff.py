"""Proof beside payoff: a bet can be good and unproven, a proven gain not worth its cost."""

import pytest

from racecard.core.assess.judge import judge
from racecard.core.assess.payoff import Payoff, Worth, check_worth, payoffs
from racecard.errors import InvalidInput
from tests.builders import a_plan, counts, lost, singles, struck, waiting


def reckoned(control: tuple[int, int], treated: tuple[int, int], worth: Worth) -> Payoff:
    found = judge(a_plan(), counts(control, treated), seed=1)
    return payoffs(a_plan(), found.comparisons, [a.strike for a in found.arms], worth)[0]


@pytest.mark.parametrize(
    ("control", "treated", "cost", "word"),
    [
        ((4, 24), (21, 24), 0.02, "clear, and it pays"),
        ((4, 24), (21, 24), 0.60, "clear, and probably pays"),
        ((4, 24), (21, 24), 0.90, "clear, but not worth the cost"),
        ((10, 24), (13, 24), 0.02, "probably pays, not proven"),
        ((10, 24), (11, 24), 0.30, "probably does not pay, not proven"),
        ((0, 3), (3, 3), 0.02, "cannot tell"),
    ],
)
def test_the_word_for_each(
    control: tuple[int, int], treated: tuple[int, int], cost: float, word: str
) -> None:
    assert reckoned(control, treated, Worth(1.0, cost={1: cost})).word == word


def test_gain_and_break_even_by_hand() -> None:
    """+50 points at 2.00 a plant, 0.10 and 3 minutes at 12 an hour for the treatment."""
    one = reckoned((6, 24), (18, 24), Worth(2.0, 12.0, "€", {1: 0.10}, {1: 3.0}))
    assert one.extra_cost == pytest.approx(0.70)
    assert one.gain == pytest.approx(0.5 * 2 - 0.70)
    assert one.break_even == pytest.approx(0.35)
    assert one.per_success == pytest.approx(0.70 / 0.75)


def test_harm_is_no_bet_whatever_it_would_pay() -> None:
    results = singles([struck()] * 4 + [waiting()] * 20, [struck()] * 12 + [lost()] * 12)
    found = judge(a_plan(), results, seed=1)
    one = payoffs(a_plan(), found.comparisons, [a.strike for a in found.arms], Worth(1.0))[0]
    assert one.word == "not advised: it did harm"


@pytest.mark.parametrize(
    "worth", [Worth(0), Worth(-1), Worth(1, -2), Worth(1, cost={1: 2e6}), Worth(1, cost={7: 1})]
)
def test_figures_that_cannot_be_are_refused(worth: Worth) -> None:
    with pytest.raises(InvalidInput):
        check_worth(a_plan(), worth)
