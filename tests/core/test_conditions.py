"""Conditions: units, faults of a series, days, degree-days, alarms, and files of loggers."""

from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from racecard.core.conditions.reading import (
    DayOf,
    Reading,
    by_day,
    check_moment,
    degree_days_to_date,
    excursions,
    faults,
    kept,
    quantity_of,
    usable,
)
from racecard.core.conditions.simulated_readings import FAULTS, readings
from racecard.errors import InvalidInput

T0 = datetime(2026, 5, 4, tzinfo=UTC)
NOW = T0 + timedelta(days=30)
HALF = timedelta(minutes=30)


def series(*values: float, every: timedelta = HALF, start: datetime = T0) -> list[Reading]:
    return [Reading("bench", "temperature", start + i * every, v) for i, v in enumerate(values)]


def kinds(rows: list[Reading], now: datetime = NOW) -> list[str]:
    return [f.kind for f in faults(rows, now)]


def test_units_are_turned_into_the_kept_one() -> None:
    """Freezing and boiling of water in °F; 54 lux for 1 µmol of daylight (common practice)."""
    t = quantity_of("temperature")
    assert kept(t, 32, "°F") == pytest.approx(0)
    assert kept(t, 77, "°F") == pytest.approx(25)
    assert kept(quantity_of("light"), 5400, "lux") == pytest.approx(100)
    for quantity, value, unit in (
        ("temperature", 500, "°C"),
        ("humidity", 101, "%"),
        ("ph", 7, "mM"),
    ):
        with pytest.raises(InvalidInput):
            kept(quantity_of(quantity), value, unit)
    with pytest.raises(InvalidInput, match="A condition is one of"):
        quantity_of("mood")


def test_each_fault_of_the_stand_in_logger_is_found_and_no_other() -> None:
    expected = {
        "none": set(),
        "gaps": {"gap"},
        "spikes": {"spike"},
        "stuck": {"stuck"},
        "clock": {"clock"},
    }
    for fault in FAULTS:
        rows = [
            r
            for r in readings("b", NOW - timedelta(days=4), NOW, HALF, fault, 5)
            if r.quantity == "temperature"
        ]
        assert set(kinds(rows)) == expected[fault], fault
    with pytest.raises(InvalidInput):
        readings("b", T0, NOW, HALF, "gremlins", 1)


def test_the_stand_in_plays_the_same_readings_for_the_same_seed() -> None:
    stop = T0 + timedelta(days=1)
    assert readings("b", T0, stop, HALF, "none", 5) == readings("b", T0, stop, HALF, "none", 5)
    assert readings("b", T0, stop, HALF, "none", 5) != readings("b", T0, stop, HALF, "none", 6)
    assert readings("b", T0, T0, HALF, "none", 5) == []


def test_a_spike_and_what_lies_in_the_future_are_left_out_of_the_curve() -> None:
    rows = series(20, 21, 60, 21, 20)
    assert kinds(rows) == ["spike"]
    assert [r.value for r in usable(rows, NOW)] == [20, 21, 21, 20]
    assert [r.value for r in usable(rows, T0 + HALF)] == [20, 21]


def test_a_real_warm_noon_is_no_spike() -> None:
    assert kinds(series(20, 26, 33, 34, 30, 22)) == []


def test_few_readings_are_not_judged() -> None:
    assert faults(series(20, 60), NOW) == []


def test_days_are_those_of_the_trials_zone() -> None:
    rows = series(10, 20, every=timedelta(hours=2), start=datetime(2026, 5, 4, 22, 30, tzinfo=UTC))
    lisbon = by_day(rows, ZoneInfo("Europe/Lisbon"))
    assert [(d.on, d.least, d.most, d.n) for d in lisbon] == [
        (date(2026, 5, 4), 10, 10, 1), (date(2026, 5, 5), 20, 20, 1),
    ]  # fmt: skip


def test_degree_days_are_the_published_single_sine_and_say_what_is_missing() -> None:
    """Baskerville & Emin (1969), Ecology 50:514-517: worked values, checked by integration."""
    days = [
        DayOf(date(2026, 5, 4), 4, 20, 12, 48), DayOf(date(2026, 5, 5), 2, 15, 8, 48),
        DayOf(date(2026, 5, 7), 12, 24, 18, 48), DayOf(date(2026, 5, 8), 1, 9, 5, 48),
    ]  # fmt: skip
    total, missing = degree_days_to_date(days, 10, date(2026, 5, 4), date(2026, 5, 8))
    assert total == pytest.approx(3.626 + 1.374 + 8.000 + 0, abs=2e-3)
    assert missing == 1


def test_one_excursion_is_one_alarm_with_its_worst_value() -> None:
    rows = series(25, 31, 34, 32, 29, 31, 20, 2)
    assert [(r.value, worst) for r, worst in excursions(rows, 30, 5)] == [
        (31, 34),
        (31, 31),
        (2, 2),
    ]
    assert excursions(rows, None, None) == []


@given(st.lists(st.floats(-40, 80), max_size=60), st.floats(0, 40))
def test_alarms_are_as_many_as_the_rises_past_the_limit(values: list[float], high: float) -> None:
    rows = series(*values)
    naive, was_over = 0, False
    for v in values:
        naive += v > high and not was_over
        was_over = v > high
    assert len(excursions(rows, high, None)) == naive


@pytest.mark.parametrize("year", [202, 9999])
def test_a_reading_of_no_possible_year_is_refused(year: int) -> None:
    now = datetime(2026, 5, 25, 8, tzinfo=UTC)
    check_moment(now, now)
    with pytest.raises(InvalidInput, match="check the year") as caught:
        check_moment(now.replace(year=year), now)
    assert caught.value.pointer == "/at"
