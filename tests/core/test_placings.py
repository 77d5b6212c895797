"""Places, dead heats, and who could be first."""

from itertools import combinations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from racecard.core.assess.placings import Placings, letters_of, placings
from racecard.core.stats.permutation import PermutationTest
from racecard.core.stats.posterior import chance_higher
from racecard.core.text.companions import places_say
from racecard.errors import InvalidInput
from tests.builders import a_plan, counts

NAMES = ("U", "A", "B", "C")


def placed(*arms: tuple[int, int]) -> Placings:
    found = placings(
        a_plan(*NAMES[: len(arms)]), counts(*arms), 42, PermutationTest(1), resamples=2000
    )
    assert found is not None
    return found


def test_equal_rates_are_a_dead_heat() -> None:
    found = placed((8, 16), (8, 16), (2, 16))
    assert [(p.place, p.dead_heat) for p in found.places] == [(1, True), (1, True), (3, False)]


def test_first_place_could_be_any_where_none_is_told_apart() -> None:
    found = placed((8, 16), (9, 16), (10, 16))
    assert found.first == (2, 1, 0)
    assert places_say(a_plan("Untreated", "A", "B"), found).startswith(
        "First place could be any of these 3"
    )


def test_one_may_stand_alone() -> None:
    found = placed((1, 16), (2, 16), (15, 16))
    assert found.first == (2,)
    assert places_say(a_plan("Untreated", "A", "B"), found).startswith("B is clearly first")


def test_three_units_an_arm_cannot_tell_any_pair_apart() -> None:
    found = placed((0, 3), (3, 3), (1, 3))
    assert not found.decidable
    assert "some pairs could never differ" in places_say(a_plan("Untreated", "A", "B"), found)


def test_nothing_is_placed_before_the_first_round() -> None:
    assert placings(a_plan(), counts((1, 4), (2, 4)), 0, PermutationTest(1), resamples=100) is None


@given(n=st.integers(2, 7), data=st.data())
def test_two_share_a_letter_exactly_where_they_are_not_told_apart(
    n: int, data: st.DataObject
) -> None:
    pairs = [frozenset(p) for p in combinations(range(n), 2)]
    differ = data.draw(st.sets(st.sampled_from(pairs)))
    found = letters_of(range(n), differ)
    for one, two in combinations(range(n), 2):
        share = bool(set(found[one]) & set(found[two]))
        assert share == (frozenset((one, two)) not in differ)


@given(a=st.integers(0, 12), b=st.integers(0, 12))
def test_the_two_chances_add_up_to_one(a: int, b: int) -> None:
    assert chance_higher(a, 12, b, 12) + chance_higher(b, 12, a, 12) == pytest.approx(1, abs=1e-6)


def test_the_chance_agrees_with_drawn_betas() -> None:
    rng = np.random.default_rng(3)
    drawn = rng.beta(15.5, 9.5, 400_000) > rng.beta(6.5, 18.5, 400_000)
    assert chance_higher(15, 24, 6, 24) == pytest.approx(float(drawn.mean()), abs=0.003)


def test_a_count_beyond_its_bounds_has_no_chance() -> None:
    with pytest.raises(InvalidInput, match="got 5 of 4"):
        chance_higher(5, 4, 1, 4)
