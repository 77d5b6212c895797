"""Later growth at equal ages, and the growth indices."""

from datetime import UTC, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from racecard.core.assess import later_growth
from racecard.core.assess.grade import Grade
from racecard.core.model import Cell, Unit
from racecard.core.model.observation import Entry, Scope
from racecard.core.stats import growth_indices
from racecard.core.stats.permutation import PermutationTest
from racecard.errors import InvalidInput
from tests.builders import a_plan

AT = datetime(2026, 5, 3, 12, tzinfo=UTC)


def bench(each: int, late: int = 0) -> list[Unit]:
    return [
        Unit(f"u{i}", Cell(0, 0, i, 0, i % 2), late=late if i % 2 else 0) for i in range(2 * each)
    ]


def measured(unit: int, day: int, **values: float) -> Entry:
    return Entry(
        f"e{unit}-{day}",
        "measure",
        Scope.UNIT,
        f"u{unit}",
        day,
        AT,
        "me",
        values=tuple(values.items()),
    )


def grown(units: list[Unit], entries: list[Entry]) -> tuple[later_growth.Grown, ...]:
    return later_growth.growth_of(
        a_plan(), units, entries, PermutationTest(1), resamples=2000, may_be_clear=True
    )


def test_heights_are_compared_at_the_last_common_age() -> None:
    units = bench(6)
    entries = [measured(i, 30, height=100 + 40 * (i % 2) + i) for i in range(12)]
    entries += [measured(0, 40, height=300)]  # one arm alone at that age
    found = grown(units, entries)
    assert [(g.measure, g.age) for g in found] == [("height", 30)]
    assert found[0].compared[0].grade is Grade.LIKELY_LEAD  # secondary: never clear
    assert found[0].compared[0].gap.estimate == pytest.approx(41)


def test_arms_set_apart_are_compared_by_their_own_age() -> None:
    units = bench(4, late=5)
    same_date = [measured(i, 30, height=100.0) for i in range(8)]
    assert grown(units, same_date) == ()
    same_age = [measured(i, 30 + 5 * (i % 2), height=100.0 + i) for i in range(8)]
    assert grown(units, same_age)[0].age == 30


def test_p_is_that_of_every_deal_of_the_values() -> None:
    """Three against three, all of one arm above: 2 of 20 deals."""
    entries = [measured(i, 20, leaves=float(i % 2 * 10 + i)) for i in range(6)]
    one = grown(bench(3), entries)[0].compared[0]
    assert one.p == pytest.approx(0.1)
    assert one.grade is Grade.CANNOT_TELL


def test_what_is_measured_of_one_arm_only_is_not_compared() -> None:
    assert grown(bench(4), [measured(i, 20, height=1.0) for i in (0, 2, 4, 6)]) == ()


def test_growth_indices_of_the_handbooks() -> None:
    """Blackman (1919), Hunt (1990), Dickson et al. (1960): worked examples, recalled."""
    rate = growth_indices.relative_growth_rate([0.30], [1.20], 14)
    assert rate == pytest.approx(0.0990, abs=5e-5)
    assert growth_indices.doubling_days(rate) == pytest.approx(7.0, abs=0.01)
    assert growth_indices.slenderness(80, 2) == 40
    assert growth_indices.sturdiness(25, 4) == 6.25
    assert growth_indices.root_to_shoot(1.5, 3) == 0.5
    assert growth_indices.quality_index(25, 4, 3.0, 1.5) == pytest.approx(0.545, abs=5e-4)


@given(st.lists(st.floats(0.01, 50), min_size=1, max_size=8), st.floats(1.01, 9))
def test_growth_of_every_plant_by_one_factor_is_that_factor(
    mass: list[float], factor: float
) -> None:
    grown_by = growth_indices.relative_growth_rate(mass, [m * factor for m in mass], 10)
    assert growth_indices.doubling_days(grown_by) is not None
    assert 2.718281828459045 ** (10 * grown_by) == pytest.approx(factor)


@pytest.mark.parametrize(("yellow", "score"), [(0, 0), (9, 1), (10, 2), (30, 2), (45, 3), (61, 4)])
def test_yellow_leaves_are_scored(yellow: float, score: int) -> None:
    assert growth_indices.chlorosis_score(yellow) == score


def test_what_cannot_be_is_refused() -> None:
    for call in (
        lambda: growth_indices.relative_growth_rate([1], [2], 0), lambda: growth_indices.sturdiness(0, 1),
        lambda: growth_indices.chlorosis_score(101),
    ):  # fmt: skip
        with pytest.raises(InvalidInput):
            call()
    assert growth_indices.doubling_days(0) is None
    assert growth_indices.chlorosis_score(0, is_dead=True) == 4
