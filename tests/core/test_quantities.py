"""Numbers and units as growers write them; conversions against exact definitions."""

import subprocess
import sys

import pytest
from hypothesis import given
from hypothesis import strategies as st

from racecard.core.prepare.actives import ACTIVES
from racecard.core.quantities import (
    GALLONS,
    SIZES,
    SPOONS,
    Dimension,
    OpenComma,
    Quantity,
    Unit,
    every_factor,
    factor_by_pint,
    in_base,
    in_unit,
    read_number,
    read_quantity,
    shown,
    units_named,
)
from racecard.core.unit_factors import FACTORS
from racecard.errors import InvalidInput

EVERY_UNIT = sorted(
    {
        name
        for name in (
            "mL L µL tsp tbsp cup floz pint quart gallon gill drop g mg kg µg oz lb ppm mg/L g/L mM µM M % s min h d weeks mm cm m in °C °F"
        ).split()
    }
)


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("1500", 1500), ("10 000", 10_000), ("0,5", 0.5), ("0.5", 0.5), (".5", 0.5), ("3/4", 0.75),
        ("1 1/2", 1.5), ("½", 0.5), ("1½", 1.5), ("2.5e3", 2500), ("1,000,000", 1_000_000), ("12,5", 12.5), ("-3", -3),
    ],
)  # fmt: skip
def test_numbers_are_read_as_they_are_written(text: str, value: float) -> None:
    assert read_number(text) == pytest.approx(value, rel=1e-12)


@pytest.mark.parametrize(
    ("text", "says"),
    [("ten", "digits"), ("1.500,5", "a point and a comma"), ("", "not a number"), ("3/0", "divides by nothing"), ("1.2.3", "more than once"), ("NaN", "digits")],
)  # fmt: skip
def test_what_is_no_number_is_said_so(text: str, says: str) -> None:
    with pytest.raises(InvalidInput, match=says):
        read_number(text)


def test_a_comma_before_three_digits_is_asked_for() -> None:
    with pytest.raises(OpenComma):
        read_number("1,500")
    assert read_number("1,500", "thousands") == 1500
    assert read_number("1,500", "decimal") == 1.5


@pytest.mark.parametrize(
    ("unit", "answer", "ml"),
    [
        # exact definitions: US customary, metric, Australian and imperial measures
        ("tsp", "us", 4.92892), ("tbsp", "us", 14.78676), ("cup", "us", 236.5882), ("fl oz", "us", 29.57353),
        ("pint", "us", 473.1765), ("quart", "us", 946.3529), ("gallon", "us", 3785.412), ("tsp", "us_label", 5),
        ("tbsp", "us_label", 15), ("cup", "us_label", 240), ("tbsp", "metric", 15), ("cup", "metric", 250),
        ("tbsp", "au", 20), ("dessertspoon", "au", 10), ("cup", "jp", 200), ("fl oz", "imperial", 28.41306),
        ("gill", "imperial", 142.0653), ("pint", "imperial", 568.26125), ("gallon", "imperial", 4546.09),
        ("cup", "uk_cup", 284.1306), ("cup", "ca_cup", 227.3045), ("imperial tsp", "small", 3.551633),
        ("imperial tsp", "middle", 4.735510), ("imperial tsp", "large", 5.919388), ("imperial tbsp", "small", 14.20653),
        ("imperial tbsp", "large", 17.75816), ("drop", "20", 0.05),
    ],
)  # fmt: skip
def test_volumes_agree_with_their_definitions(unit: str, answer: str, ml: float) -> None:
    found = read_quantity(f"1 {unit}", (Dimension.VOLUME,))
    assert in_base(found, answer) == pytest.approx(ml, rel=2e-6)


@pytest.mark.parametrize(
    ("text", "dimension", "base"),
    [
        ("1 oz weight", Dimension.MASS, 28.349523125), ("1 lb", Dimension.MASS, 453.59237), ("100 mg", Dimension.MASS, 0.1),
        ("1 g/L", Dimension.STRENGTH, 1000), ("1 µg/mL", Dimension.STRENGTH, 1), ("10 µM", Dimension.MOLAR, 0.01),
        ("5 mm", Dimension.LENGTH, 0.5), ("4 in", Dimension.LENGTH, 10.16), ("90 s", Dimension.TIME, 0.025),
        ("2 weeks", Dimension.TIME, 336), ("140 °F", Dimension.TEMPERATURE, 60), ("180 F", Dimension.TEMPERATURE, 82.2222),
        ("122 °F", Dimension.TEMPERATURE, 50), ("118 °F", Dimension.TEMPERATURE, 47.7778),
    ],
)  # fmt: skip
def test_other_units_agree_with_their_definitions(
    text: str, dimension: Dimension, base: float
) -> None:
    assert in_base(read_quantity(text, (dimension,))) == pytest.approx(base, rel=1e-5)


def test_imperial_and_us_gallons_stand_as_published() -> None:
    found = read_quantity("1 gallon", (Dimension.VOLUME,))
    assert in_base(found, "imperial") / in_base(found, "us") == pytest.approx(1.2009, abs=5e-5)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("0 mL", "is nothing"), ("-3 mL", "below nothing"), ("1e9 mL", "too large"), ("1e-9 mL", "too small"), ("250", "no unit"),
        ("5 smoots", "not a unit known here"), ("5 g", "is a weight"), ("ten mL", "does not begin with a number"), ("1;5 mL", "write parts as 1:5"), ("", "Nothing is written"),
    ],
)  # fmt: skip
def test_a_bad_quantity_says_what_is_wrong(text: str, says: str) -> None:
    with pytest.raises(InvalidInput, match=says):
        in_base(read_quantity(text, (Dimension.VOLUME,)))


def test_a_temperature_below_zero_is_one_and_one_of_an_oven_is_not() -> None:
    assert in_base(read_quantity("-5 °C", (Dimension.TEMPERATURE,))) == pytest.approx(-5, abs=1e-9)
    with pytest.raises(InvalidInput, match="not a possible temperature"):
        in_base(read_quantity("900 °C", (Dimension.TEMPERATURE,)))


@pytest.mark.parametrize("name", EVERY_UNIT)
@given(value=st.floats(0.01, 5000))
def test_no_unit_is_dropped_and_every_one_comes_back(name: str, value: float) -> None:
    for unit in units_named(name):
        answers = list(SIZES[unit.asks]) if unit.asks else [None]
        for answer in answers:
            if answer is not None and unit.name not in SIZES[unit.asks][answer][1]:
                continue
            try:
                base = in_base(Quantity(value, unit, "x"), answer)
            except InvalidInput:
                continue  # beyond any bench, and said so
            assert in_unit(base, unit, answer) == pytest.approx(value, rel=1e-9, abs=1e-9)
            is_base = unit.expression in ("milliliter", "gram", "hour", "centimeter", "percent")
            if not is_base and unit.name not in (
                "ppm",
                "mg/L",
                "µg/mL",
                "mM",
                "°C",
                "°C difference",
            ):
                assert base != pytest.approx(value, rel=1e-6) or value == pytest.approx(-40, abs=1)


@given(st.sampled_from(sorted(ACTIVES)), st.floats(0.01, 1e5))
def test_mm_and_ppm_and_acid_and_salt_go_there_and_back(key: str, ppm: float) -> None:
    active = ACTIVES[key]
    assert ppm / active.molar_mass * active.molar_mass == pytest.approx(ppm, rel=1e-12)
    if active.acid:
        acid = ACTIVES[active.acid]
        assert ppm / active.salt_factor / acid.molar_mass == pytest.approx(ppm / active.molar_mass, rel=1e-12)  # fmt: skip


@given(st.floats(-60, 250))
def test_celsius_and_fahrenheit_go_there_and_back(celsius: float) -> None:
    fahrenheit = next(u for u in units_named("°F") if u.dimension is Dimension.TEMPERATURE)
    there = in_unit(celsius, fahrenheit)
    assert there == pytest.approx(celsius * 1.8 + 32, abs=1e-6)
    back = in_base(Quantity(there, fahrenheit, "x")) if -60 < celsius < 250 else celsius
    assert back == pytest.approx(celsius, abs=1e-6)


@given(st.floats(0.01, 1000), st.sampled_from(sorted(SPOONS)), st.sampled_from(["tsp", "tbsp", "cup"]))  # fmt: skip
def test_spoons_and_millilitres_go_there_and_back(value: float, whose: str, name: str) -> None:
    unit = units_named(name)[0]
    if name in SPOONS[whose][1]:
        ml = in_base(Quantity(value, unit, "x"), whose)
        assert in_unit(ml, unit, whose) == pytest.approx(value, rel=1e-9)


def test_an_ounce_may_be_a_volume_or_a_weight() -> None:
    found = Quantity(1.0, units_named("oz")[0], "1 oz")
    assert in_base(found, "weight") == pytest.approx(28.35, abs=0.005)
    assert in_base(found, "us") == pytest.approx(29.574, abs=0.0005)


def test_every_answer_to_a_question_of_size_has_words() -> None:
    for answers in SIZES.values():
        assert all(label and units for label, units in answers.values())
    assert set(GALLONS["us"][1]) == set(GALLONS["imperial"][1])


@pytest.mark.parametrize(
    ("value", "text"), [(37.5, "37.5"), (0.000123, "0.000123"), (14_761, "14 761"), (1500, "1500"), (0, "0"), (3.14159, "3.142")]
)  # fmt: skip
def test_values_are_shown_with_what_a_bench_can_use(value: float, text: str) -> None:
    assert shown(value) == text


def test_units_of_another_case_are_told_apart() -> None:
    kinds = (Dimension.MOLAR, Dimension.LENGTH)
    assert read_quantity("5 mM", kinds).unit.dimension is Dimension.MOLAR
    assert read_quantity("5 mm", kinds).unit.dimension is Dimension.LENGTH
    assert isinstance(units_named("mL")[0], Unit)


@pytest.mark.parametrize(
    ("said", "hours"),
    [("1h30", 1.5), ("1 h 30 min", 1.5), ("24hrs", 24), ("overnight", 12), ("1 week", 168), ("a day", 24), ("90 min", 1.5)],
)  # fmt: skip
def test_durations_are_read_as_people_write_them(said: str, hours: float) -> None:
    found = read_quantity(said, (Dimension.TIME,), bare="h")
    assert in_base(found) == pytest.approx(hours)


def test_the_kept_sizes_are_those_of_pint() -> None:
    asked = set(every_factor())
    assert set(FACTORS) == asked
    for expression, to in asked:
        assert FACTORS[expression, to] == factor_by_pint(expression, to)


def test_a_line_of_the_bench_needs_neither_pint_nor_scipy() -> None:
    code = (
        "import sys; from racecard.cli.mix import worked_out; "
        "worked_out('250 mL of 1500 ppm IBA from 1 % stock', []); "
        "print([m for m in ('pint', 'scipy.special', 'pydantic') if m in sys.modules])"
    )
    said = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert said.stdout.strip() == "[]"
