"""Seeds, heat, light and costs on the mixing bench, against published tables and worked examples."""

import pytest
from scipy import integrate, stats

from racecard.core.prepare.heat import (
    degree_days_sine,
    fit_base,
    half_day,
    heat_sum_days,
    published_days,
    saturation_kpa,
)
from racecard.core.prepare.media import box_ml, frustum_ml
from racecard.core.prepare.published import AT_CELSIUS, DAYS, NEVER
from racecard.core.prepare.seeds import greatest_range
from racecard.core.prepare.sums import reckon
from tests.core.test_mixing import amount, card, codes


@pytest.mark.parametrize(
    ("group", "hours", "flag"),
    [("legume", "8 h", None), ("legume", "20 h", "soak_legume_long"), ("legume", "60 h", "soak_legume_refused"), ("corky", "12 h", None), ("corky", "30 h", "soak_long")],
)  # fmt: skip
def test_soaks_are_guarded(group: str, hours: str, flag: str | None) -> None:
    found = codes(card("soak", group=group, hours=hours))
    assert (flag in found) if flag else found == []


def test_cold_water_is_no_soak_for_dry_legumes() -> None:
    assert "cold_soak" in codes(card("soak", group="legume", hours="8 h", water="8 °C"))


@pytest.mark.parametrize(
    ("crop", "celsius", "minutes"), [("cabbage", 50, 25), ("carrot", 50, 20), ("radish", 50, 15), ("lettuce", 47.8, 30)]
)  # fmt: skip
def test_hot_water_by_crop(crop: str, celsius: float, minutes: float) -> None:
    found = card("hot", crop=crop)
    assert [m.value for m in found.amounts] == [celsius, minutes]
    assert "hot_water" in {c.code for c in found.cautions}


def test_hot_water_is_refused_for_what_it_kills() -> None:
    assert card("hot", crop="bean").is_refused


@pytest.mark.parametrize(("wet", "word"), [("11 g", "hard"), ("13 g", "sort"), ("17 g", "freely")])
def test_a_coat_is_judged_by_the_water_it_takes(wet: str, word: str) -> None:
    assert word in card("scarify", dry="10 g", wet=wet).says[1]


def test_a_cold_spell_is_dated_back_from_sowing() -> None:
    found = card("stratify", group="apple", cold="60 d", warm="30 d", sow="2026-05-01")
    assert [m.shown for m in found.amounts if "on" in m.what] == ["2026-01-31", "2026-03-02"]
    assert "outside_range" in codes(card("stratify", group="apple", cold="20 d"))


@pytest.mark.parametrize(
    ("mean", "most"),
    [(99, 5), (98, 6), (97, 7), (96, 8), (95, 9), (93, 10), (91, 11), (89, 12), (87, 13), (84, 14), (81, 15), (78, 16), (73, 17), (67, 18), (56, 19), (51, 20), (50, 20), (2, 5), (14, 13), (96.5, 7)],
)  # fmt: skip
def test_ranges_among_four_hundreds(mean: float, most: int) -> None:
    """ISTA Rules table 5B part 1 (Miles 1963), from memory; a half is rounded up."""
    assert greatest_range(mean) == most


def test_ranges_follow_the_studentised_range_within_a_point() -> None:
    q = stats.studentized_range.ppf(0.975, 4, 1e6)
    for mean in range(2, 100):
        found = greatest_range(mean)
        assert found is not None
        assert abs(found - q * ((mean - 0.5) * (100.5 - mean) / 100) ** 0.5) < 1.01
    assert greatest_range(100) is None


def test_four_hundreds_that_differ_too_much_are_tested_again() -> None:
    assert "rolls_differ" in codes(card("paper", counts="99, 97, 96, 84", each="100"))
    assert "within" in card("paper", counts="99, 97, 96, 94", each="100").says[1]
    assert "label_off" in codes(card("paper", counts="60", each="100", label="95 %"))


def test_an_old_label_is_said_when_seed_is_counted_on() -> None:
    found = card("seeds", wanted="48", germination="85 %", emergence="90 %", tested="2024-01-01", today="2026-05-01")  # fmt: skip
    assert codes(found) == ["label_old"]


@pytest.mark.parametrize(
    ("high", "low", "base", "dd"), [(20, 4, 10, 3.626), (15, 2, 10, 1.374), (24, 12, 10, 8.0), (18, 6, 12, 1.910), (9, 1, 10, 0)]
)  # fmt: skip
def test_the_single_sine_agrees_with_numerical_integration(high: float, low: float, base: float, dd: float) -> None:  # fmt: skip
    """Form of Baskerville and Emin (1969); the area itself by general quadrature."""
    from math import pi, sin

    mean, swing = (high + low) / 2, (high - low) / 2
    area, _ = integrate.quad(lambda t: max(0.0, mean + swing * sin(t) - base), 0, 2 * pi, limit=400)
    assert degree_days_sine(high, low, base) == pytest.approx(area / (2 * pi), abs=1e-4)
    assert degree_days_sine(high, low, base) == pytest.approx(dd, abs=5e-4)


@pytest.mark.parametrize(
    ("crop", "celsius", "sums", "table"),
    [
        ("spinach", 10, 11.2, 11.7), ("spinach", 15, 7.4, 6.9), ("beet", 5, 41.0, 42.0), ("beet", 20, 6.6, 6.2), ("cabbage", 25, 4.4, 4.5),
        ("parsley", 20, 13.4, 14.0), ("snap bean", 20, 10.6, 11.4), ("radish", 20, 4.0, 4.2), ("aubergine", 25, 7.2, 8.1), ("tomato", 15, 14.0, 13.6),
        ("lettuce", 20, 4.3, 2.6), ("onion", 20, 11.8, 4.6), ("turnip", 20, 5.2, 1.9), ("cucumber", 25, 8.4, 4.0), ("celery", 20, 15.4, 7.0),
        ("pea", 20, 5.1, 7.5), ("cauliflower", 10, 12.9, 19.5), ("tomato", 10, 67.7, 42.9),
    ],
)  # fmt: skip
def test_the_two_published_sources_side_by_side(crop: str, celsius: float, sums: float, table: float) -> None:  # fmt: skip
    """Bierhuizen and Wagenvoort (1974) and Harrington and Minges (1954), both recalled."""
    found = heat_sum_days(crop, celsius)
    assert found is not None
    assert round(found + 1e-9, 1) == pytest.approx(sums, abs=0.051)
    assert published_days(crop, celsius) == pytest.approx(table, abs=1e-9)
    band = card("days", crop=crop, warmth=f"{celsius} °C")
    assert amount(band, "From") <= min(sums, table) + 0.06
    assert amount(band, "To") >= max(sums, table) - 0.06


def test_a_single_source_gives_a_band_of_forty_percent_and_cold_gives_none() -> None:
    one = card("days", crop="okra", warmth="20 °C")
    assert (amount(one, "From"), amount(one, "To")) == pytest.approx((17.4 * 0.6, 17.4 * 1.4), abs=1e-9)  # fmt: skip
    assert "too_cold" in codes(card("days", crop="cucumber", warmth="10 °C"))
    assert "sources_differ" in codes(card("days", crop="onion", warmth="20 °C"))
    assert published_days("beet", 17.5) == pytest.approx(2 / (1 / 9.7 + 1 / 6.2), rel=1e-9)


@pytest.mark.parametrize(
    ("crop", "base", "total"),
    [
        ("beet", 2.9, 110), ("cabbage", 3.6, 96), ("carrot", 2.0, 135), ("cucumber", 10.6, 58), ("lettuce", 0.6, 54), ("onion", 1.4, 89),
        ("radish", 2.6, 77), ("spinach", -1.8, 129), ("pea", -0.4, 153), ("asparagus", 6.7, 191), ("okra", 6.6, 231), ("turnip", 4.9, 28),
    ],
)  # fmt: skip
def test_a_base_temperature_is_fitted_from_published_days(crop: str, base: float, total: float) -> None:  # fmt: skip
    """Refit of the 1954 table up to 25 °C by 1/days on temperature, against scipy's own line."""
    pairs = [(t, d) for t, d in zip(AT_CELSIUS, DAYS[crop], strict=True) if d not in (None, NEVER) and t <= 25]  # fmt: skip
    x, y = [float(t) for t, _ in pairs], [float(d or 0) for _, d in pairs]
    found = fit_base(x, y)
    line = stats.linregress(x, [1 / d for d in y])
    assert found[0] == pytest.approx(-line.intercept / line.slope, abs=1e-6)
    assert found[2] == pytest.approx(line.rvalue**2, abs=1e-9)
    assert found[0] == pytest.approx(base, abs=0.051)
    assert found[1] == pytest.approx(total, abs=0.51)


def test_a_base_is_fitted_from_counts_and_never_shown_below_zero() -> None:
    counts = "10: 8=2, 10=6, 12=2; 15: 5=5, 6=5; 20: 3=4, 4=6; 25: 2=2, 3=8"
    found = card("base", counts=counts, warmth="18 °C")
    line = stats.linregress(
        [10, 15, 20, 25], [1 / 9, 1 / 5, 6 / 19, 8 / 19]
    )  # half of each by hand
    assert amount(found, "Days expected") == pytest.approx(
        1 / (line.intercept + 18 * line.slope), abs=1e-6
    )
    spinach = "; ".join(f"{t}: {d}" for t, d in ((5, 22.5), (10, 11.7), (15, 6.9), (20, 5.7), (25, 5.1)))  # fmt: skip
    floored = card("base", counts=spinach)
    assert "0.0 °C" in floored.amounts[0].shown or floored.amounts[0].value >= 0


def test_the_day_of_half_agrees_with_the_worked_example() -> None:
    """Counts 4, 18, 30, 20, 10, 3 on days 2 to 7: half of 85 by straight lines is day 3.68."""
    assert half_day([2, 3, 4, 5, 6, 7], [4, 18, 30, 20, 10, 3]) == pytest.approx(3.68, abs=0.005)


@pytest.mark.parametrize(
    ("celsius", "kpa"), [(15, 1.705), (18, 2.064), (20, 2.338), (24.5, 3.075), (25, 3.168), (30, 4.243)]
)  # fmt: skip
def test_saturation_pressure_agrees_with_fao_56(celsius: float, kpa: float) -> None:
    """FAO Irrigation and Drainage Paper 56 (1998), equation 11 and example 3."""
    assert saturation_kpa(celsius) == pytest.approx(kpa, abs=5e-4)


def test_proof_and_payoff_are_two_answers() -> None:
    """22 of 40 against 30 of 40: Newcombe (1998) −0.009 to 0.386, Fisher P 0.100."""
    found = card("pays", cost="0.60", extra="0.12", worth="3.50", hits_control="22", n_control="40", hits_treated="30", n_treated="40")  # fmt: skip
    assert amount(found, "Gap, from") == pytest.approx(-0.009, abs=5e-4)
    assert amount(found, "Gap, to") == pytest.approx(0.386, abs=5e-4)
    assert amount(found, "p") == pytest.approx(stats.fisher_exact([[30, 10], [22, 18]]).pvalue, abs=1e-9)  # fmt: skip
    assert amount(found, "Gained") == pytest.approx(0.58, abs=1e-9)
    assert codes(found) == ["good_bet"]


def test_a_label_by_pot_width_is_shown_both_ways() -> None:
    found = card("amend", rate="2 g", per="1 L", pot="1800 mL", label_cm="9 cm", pot_cm="15 cm")
    assert amount(found, "Scaled by width") == pytest.approx(1.667, abs=5e-4)
    assert amount(found, "Scaled by volume") == pytest.approx(4.63, abs=5e-3)
    assert codes(found) == ["pot_diameter"]


@pytest.mark.parametrize(
    ("d", "e", "h", "ml"), [(9, 6.5, 8.5, 404), (15, 11, 13.5, 1806), (20, 14.5, 18, 4242), (9, 9, 8.5, 541)]
)  # fmt: skip
def test_round_pots(d: float, e: float, h: float, ml: float) -> None:
    assert frustum_ml(d, e, h) == pytest.approx(ml, abs=0.5)


def test_square_cells() -> None:
    assert box_ml((4, 4), (2.5, 2.5), 5) == pytest.approx(53.75, abs=1e-9)
    assert box_ml((8.8, 8.8), (6.2, 6.2), 8.5) == pytest.approx(483, abs=0.5)


def test_nominal_pots_are_ranges_and_a_trade_gallon_is_no_gallon() -> None:
    found = card("nominal", size="trade_gallon")
    assert [m.value for m in found.amounts] == [2600, 3000]
    assert "not a gallon" in found.says[1]


@pytest.mark.parametrize(
    ("ph", "ec", "flags"), [("5.8", "0.6", []), ("7.5", "0.6", ["medium_ph"]), ("5.8", "1.0", ["medium_ec_some"]), ("5.8", "2", ["medium_ec"])]
)  # fmt: skip
def test_a_medium_is_judged_by_ph_and_salts(ph: str, ec: str, flags: list[str]) -> None:
    assert codes(card("sour", ph=ph, ec=ec)) == flags


def test_an_equal_fill_by_volume_and_by_weight() -> None:
    found = card("fill", total="14 L", pots="40", weight="300 g")
    assert [m.value for m in found.amounts] == pytest.approx([350, 105], abs=1e-9)


def test_overage_is_in_both_figures_of_seeds_to_sow() -> None:
    fields = {"wanted": "100", "germination": "85 %"}
    plain, over = (reckon("seeds", fields | more).amounts for more in ({}, {"over": "20"}))
    assert over[0].value == pytest.approx(plain[0].value * 1.2, abs=1)
    assert over[1].value > over[0].value
    # a binomial count of scipy, as a second reckoning
    assert (
        stats.binom.sf(119, over[1].value, 0.85)
        >= 0.95
        > stats.binom.sf(119, over[1].value - 1, 0.85)
    )


def test_a_germination_below_one_is_asked() -> None:
    asked = reckon("seeds", {"wanted": "100", "germination": "0.85"})
    assert asked.is_open
    assert "85 % meant" in asked.questions[0].asks
    told = reckon("seeds", {"wanted": "100", "germination": "0.85"}, {"share_germination": "share"})
    assert told.amounts[0].value == 118
