"""Every sum of the mixing bench against published values and worked examples.

Unless a source stands beside them, expected values are exact arithmetic, recomputed independently
(atomic weights IUPAC 2021; spoon and gallon definitions; elementary dilution).
"""

from contextlib import suppress
from math import isfinite
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from racecard.core.prepare.actives import ACTIVES, molar_mass, un_ionised_percent
from racecard.core.prepare.cards import Card, Category, Severity, as_text
from racecard.core.prepare.defaults import DEFAULTS
from racecard.core.prepare.doses import slip_of
from racecard.core.prepare.home import CLASS_SAYS, HOME
from racecard.core.prepare.sums import SUMS, reckon
from racecard.errors import InvalidInput, NotFound

METRIC = {"spoon": "metric", "gallon": "us", "powder": "acid", "salt_meant": "salt", "parts": "to"}


def card(key: str, choices: dict[str, str] | None = None, /, **fields: str) -> Card:
    return reckon(key, fields, METRIC if choices is None else choices)


def amount(found: Card, what: str) -> float:
    return next(m.value for m in found.amounts if m.what.startswith(what))


def codes(found: Card) -> list[str]:
    return [f.code for f in found.flags]


@pytest.mark.parametrize(
    ("key", "mass"),
    [
        ("IAA", 175.187), ("IBA", 203.241), ("NAA", 186.210), ("K-IBA", 241.331), ("K-NAA", 224.300), ("Na-NAA", 208.192),
        ("K-IAA", 213.277), ("NAD", 185.226), ("2,4-D", 221.039), ("BA", 225.255), ("kinetin", 215.216), ("zeatin", 219.248),
        ("ABA", 264.321), ("ethephon", 144.494), ("thiamine", 337.269), ("GA3", 346.379), ("K-GA3", 384.469), ("salicylic acid", 138.122),
        ("acetylsalicylic acid", 180.159), ("hydrogen peroxide", 34.014), ("sodium hypochlorite", 74.44), ("magnesium sulphate", 246.466),
        ("boric acid", 61.831), ("KNO3", 101.102), ("acetic acid", 60.052),
    ],
)  # fmt: skip
def test_molar_masses(key: str, mass: float) -> None:
    assert ACTIVES[key].molar_mass == pytest.approx(mass, abs=0.005)


@pytest.mark.parametrize(
    ("salt", "factor"), [("K-IBA", 1.1874), ("K-NAA", 1.2046), ("K-IAA", 1.2174), ("Na-NAA", 1.1180), ("K-GA3", 1.1100)]
)  # fmt: skip
def test_salt_factors(salt: str, factor: float) -> None:
    assert ACTIVES[salt].salt_factor == pytest.approx(factor, abs=5e-5)


@pytest.mark.parametrize(("ph", "percent"), [(4, 86.3), (5, 38.7), (6, 5.9), (7, 0.6)])
def test_the_un_ionised_share_of_iba(ph: float, percent: float) -> None:
    assert un_ionised_percent(ph, 4.8) == pytest.approx(percent, abs=0.05)


CASES: list[tuple[str, dict[str, str], str, float, float]] = [
    # key, fields, amount, expected, tolerance
    ("dilute", {"volume": "250 mL", "target": "2500 ppm", "stock": "10 000 ppm"}, "Stock", 62.5, 1e-9),
    ("dilute", {"volume": "1000 mL", "target": "1500 ppm", "stock": "10000 ppm"}, "Stock", 150, 1e-9),
    ("dilute", {"volume": "250 mL", "target": "1500 ppm", "stock": "1 %", "active": "IBA"}, "Stock", 37.5, 1e-9),
    ("weigh", {"volume": "250 mL", "target": "4000 ppm", "active": "IBA"}, "IBA to weigh", 1.0, 1e-9),
    ("weigh", {"volume": "100 mL", "target": "3000 ppm", "active": "IBA"}, "IBA to weigh", 0.3, 1e-9),
    ("weigh", {"volume": "1 L", "target": "0.2 %", "active": "KNO3"}, "Strength", 19.78, 0.005),
    ("weigh", {"volume": "1 L", "target": "500 mg/L", "active": "GA3"}, "Strength", 1.44, 0.005),
    ("weigh", {"volume": "1 L", "target": "1 g/L", "active": "IBA", "carrier": "alkali"}, "Potassium", 4.92, 0.005),
    ("made", {"mass": "300 mg", "volume": "100 mL"}, "Strength", 3000, 1e-9),
    ("thin", {"have": "40 mL", "stock": "1 %", "target": "2000 ppm"}, "Diluent", 160, 1e-9),  # C1V1 = C2V2
    ("blend", {"one": "50 mL", "one_strength": "5000 ppm", "other": "150 mL", "other_strength": "1000 ppm"}, "Strength", 2000, 1e-9),
    ("serial", {"stock": "1 %", "steps": "4; 5"}, "Strength", 500, 1e-9),
    ("nutrient", {"volume": "10 L", "target": "100 ppm", "grade": "20-20-20", "element": "N"}, "Amount", 5, 1e-9),
    ("nutrient", {"volume": "10 L", "target": "100 ppm", "grade": "15-30-15", "element": "P"}, "Amount", 7.638, 1e-3),  # P2O5 x 0.4364
    ("two", {"volume": "100 mL", "target": "2000 ppm", "strong": "5000 ppm", "weak": "500 ppm"}, "Of the 5000", 33.3333, 5e-5),
    ("parts", {"part": "1", "diluent": "8", "way": "to", "stock": "10000 ppm"}, "Strength", 1111.11, 0.01),
    ("parts", {"part": "1", "diluent": "8", "way": "in", "stock": "10000 ppm"}, "Strength", 1250, 1e-9),
    ("parts", {"part": "1", "diluent": "7", "way": "to", "stock": "5000 ppm"}, "Strength", 625, 1e-9),
    ("parts", {"part": "1", "diluent": "7", "way": "in", "stock": "5000 ppm"}, "Strength", 714.286, 5e-4),
    ("parts", {"part": "1", "diluent": "9", "way": "to", "stock": "5.25 %"}, "Strength", 5250, 1e-6),
    ("rate", {"amount": "1 tbsp", "per": "1 L", "volume": "250 mL"}, "To measure", 3.75, 1e-9),
    ("rate", {"amount": "2 mL", "per": "1 L", "strength": "1 %"}, "Of the active", 20, 1e-9),
    ("rate", {"amount": "1 US tsp", "per": "1 US gal"}, "Rate", 1.302, 5e-4),
    ("rate", {"amount": "1 US tbsp", "per": "1 US gal"}, "Rate", 3.906, 5e-4),
    ("rate", {"amount": "1 US fl oz", "per": "1 US gal"}, "Rate", 7.8125, 5e-5),
    ("rate", {"amount": "1 imperial fl oz", "per": "1 imperial gal"}, "Rate", 6.25, 5e-5),
    ("rate", {"amount": "1 oz weight", "per": "1 US gal"}, "Rate", 7.489, 5e-4),
    ("rate", {"amount": "1 oz weight", "per": "1 imperial gal"}, "Rate", 6.236, 5e-4),
    ("rate", {"amount": "1 lb", "per": "100 US gal"}, "Rate", 1.198, 5e-4),
    ("rate", {"amount": "1 US tsp", "per": "1 US qt"}, "Rate", 5.20833, 5e-6),
    ("tablets", {"tablets": "1", "each": "325 mg", "volume": "1 L", "active": "acetylsalicylic acid"}, "Strength", 325, 1e-9),
    ("strengths", {"active": "IBA", "strength": "3000 ppm"}, "As K-IBA", 3562.24, 0.05),
    ("strengths", {"active": "IBA", "strength": "2500 ppm"}, "As K-IBA", 2968.54, 0.01),
    ("strengths", {"active": "K-NAA", "strength": "500 ppm"}, "NAA in it", 415.091, 5e-4),
    ("strengths", {"active": "K-IBA", "strength": "1000 ppm"}, "IBA in it", 842, 0.5),
    ("strengths", {"active": "NAA", "strength": "5 mM"}, "NAA", 931.05, 0.005),
    ("strengths", {"active": "salicylic acid", "strength": "0.5 mM"}, "salicylic acid", 69, 0.1),
    ("strengths", {"active": "acetic acid", "strength": "0.025 %"}, "acetic acid", 250, 1e-9),
    ("units", {"value": "3 US tbsp"}, "Is", 44.3603, 5e-5),
    ("units", {"value": "4 in"}, "Is", 10.16, 1e-9),
    ("alcohol", {"volume": "200 mL", "target": "50 %", "stock": "70 %"}, "Alcohol", 142.857, 5e-4),
    ("talc", {"mass": "20 g", "target": "0.3 %", "strong": "0.8 %"}, "Strong powder", 7.5, 1e-9),
    ("talc", {"mass": "1 g", "start": "10 g", "target": "0.3 %", "strong": "0.8 %"}, "Plain talc", 16.6667, 5e-5),
    ("holds", {"mass": "50 g", "percent": "0.8 %"}, "Active", 0.4, 1e-9),
    ("pot", {"top": "9 cm", "bottom": "6.5 cm", "height": "8.5 cm"}, "Holds", 404, 0.5),
    ("pot", {"top": "12 cm", "bottom": "8.5 cm", "height": "11 cm"}, "Holds", 916.494, 5e-4),
    ("box", {"top_long": "7 cm", "top_wide": "7 cm", "bottom_long": "5 cm", "bottom_wide": "5 cm", "height": "6 cm"}, "Holds", 218, 1e-9),
    ("medium", {"pots": "40", "each": "350 mL"}, "Medium", 13_860, 1e-6),
    ("mixture", {"volume": "10 L", "parts": "1:1:1", "shrink": "12"}, "In all", 11_363.6, 0.1),
    ("mixture", {"volume": "10 L", "parts": "1:1:1", "shrink": "12", "over": "10"}, "part 1", 4166.7, 0.1),
    ("water", {"dry": "210 g", "wet": "610 g", "share": "60 %"}, "Target", 450, 1e-9),
    ("water", {"dry": "210 g", "wet": "610 g", "share": "60 %", "now": "395 g"}, "Water", 55, 1e-9),
    ("air", {"drained": "90 mL", "volume": "500 mL"}, "Air", 18, 1e-9),
    ("amend", {"rate": "3 g", "per": "1 L", "pot": "400 mL"}, "In each pot", 1.2, 1e-9),
    ("seeds", {"wanted": "60", "germination": "72 %"}, "On average", 84, 0),
    ("seeds", {"wanted": "60", "germination": "72 %"}, "To be 95 %", 93, 0),
    ("seeds", {"wanted": "100", "germination": "90 %", "emergence": "85 %"}, "On average", 131, 0),
    ("seeds", {"wanted": "48", "germination": "85 %", "over": "10"}, "On average", 63, 0),
    ("cell", {"chance": "50 %", "sure": "96 %"}, "Seeds a cell", 5, 0),
    ("emerged", {"emerged": "72 %", "germination": "85 %"}, "Emergence", 84.7, 0.05),
    ("keeping", {"moisture": "10 %", "warmth": "20 °C", "moisture_now": "14 %", "warmth_now": "20 °C"}, "Keeps", 16, 1e-9),
    ("keeping", {"moisture": "10 %", "warmth": "10 °C", "moisture_now": "10 %", "warmth_now": "25 °C"}, "Keeps", 8, 1e-9),
    ("paper", {"counts": "17", "each": "20"}, "From", 64, 0.5),
    ("paper", {"counts": "7", "each": "12"}, "From", 31.95, 0.005),
    ("paper", {"counts": "7", "each": "12"}, "To", 80.67, 0.005),
    ("degrees", {"value": "70 °F"}, "Celsius", 21.1, 0.05),
    ("degrees", {"value": "100 °F", "what": "difference"}, "As a difference", 55.6, 0.05),
    ("degree_days", {"high": "22 °C", "low": "7 °C", "base": "10 °C"}, "By sine", 5.0816, 5e-5),
    ("degree_days", {"high": "26 °C", "low": "3 °C", "base": "5 °C"}, "By sine", 9.7525, 5e-5),
    ("degree_days", {"high": "15 °C", "low": "2 °C", "base": "10 °C"}, "By the mean", 0, 0),
    ("thermal", {"base": "1.0 °C", "sum": "30", "daily": "8,10,6,0.5,12,9"}, "Reached", 5, 0),
    ("q10", {"rate_one": "0.10", "warmth_one": "12 °C", "rate_other": "0.22", "warmth_other": "21 °C"}, "For 10", 2.40143, 5e-6),
    ("vpd", {"air": "21 °C", "humidity": "70 %"}, "Air", 0.7461, 5e-5),
    ("vpd", {"air": "28 °C", "humidity": "92 %"}, "Air", 0.3024, 5e-5),
    ("vpd", {"air": "24 °C", "humidity": "85 %", "leaf": "22 °C"}, "Leaf", 0.108, 5e-4),
    ("light", {"hours": "14 h", "ppfd": "180"}, "Light in a day", 9.072, 1e-9),
    ("light", {"hours": "18 h", "dli": "8"}, "Light wanted", 123.457, 5e-4),
    ("light", {"hours": "16 h", "dli": "6"}, "Light wanted", 104.2, 0.05),
    ("light", {"hours": "16 h", "lux": "10000", "lamp": "sun"}, "Photons", 185, 0.5),
    ("each", {"pack": "18", "shipping": "6", "usable": "40"}, "Each", 0.60, 1e-9),
    ("each", {"minutes": "4.5", "hourly": "18"}, "Labour", 1.35, 1e-9),
    ("each", {"bag": "24", "carriage": "7.50", "bag_l": "50", "pot": "350 mL"}, "Medium", 0.2205, 1e-9),
    ("each", {"batch": "2.10", "dipped": "200"}, "Treatment", 0.0105, 1e-9),
    ("pays", {"cost": "0.60", "extra": "0.12", "worth": "3.50", "control": "55 %", "treated": "75 %"}, "Gained", 0.58, 1e-9),
    ("pays", {"cost": "0.60", "extra": "0.12", "control": "55 %", "treated": "75 %"}, "A struck plant, untreated", 1.091, 5e-4),
    ("pays", {"cost": "0.60", "extra": "0.12", "control": "55 %", "treated": "75 %"}, "A struck plant, treated", 0.960, 5e-4),
    ("pays", {"cost": "0.60", "extra": "0.12", "control": "55 %", "treated": "75 %"}, "Most", 0.218, 5e-4),
    ("pays", {"cost": "0.45", "extra": "0.25", "worth": "2.80", "control": "40 %", "treated": "62 %"}, "Gained", 0.366, 1e-9),
    ("pays", {"cost": "0.45", "extra": "0.25", "control": "40 %", "treated": "62 %"}, "A struck plant, treated", 1.1290, 5e-5),
    ("pays", {"cost": "0.45", "extra": "0.25", "control": "40 %", "treated": "62 %"}, "Most", 0.2475, 1e-9),
    ("stem", {"per_stem": "4", "share": "50 %"}, "Plants", 2, 1e-9),
    ("growth_rate", {"first": "0.30", "second": "1.20", "days": "14"}, "Relative growth rate", 0.0990, 6e-5),
    ("growth_rate", {"first": "0.30", "second": "1.20", "days": "14"}, "Doubles in", 7.0, 5e-3),
    ("growth_rate", {"first": "0,2 0,4", "second": "0.8; 1.6", "days": "10"}, "Relative growth rate", 0.138629, 1e-6),
    ("sturdiness", {"height": "25 cm", "diameter": "4 mm"}, "Sturdiness", 6.25, 1e-9),
    ("sturdiness", {"height": "80 mm", "diameter": "2.0 mm"}, "Legginess", 40, 1e-9),
    ("quality_index", {"shoot": "3.0 g", "root": "1500 mg", "height": "25 cm", "diameter": "4 mm"}, "Quality index", 0.545, 6e-4),
    ("quality_index", {"shoot": "3.0 g", "root": "1500 mg", "height": "25 cm", "diameter": "4 mm"}, "Root to shoot", 0.5, 1e-9),
    ("vigour", {"final": "85 %", "length": "62 mm"}, "Vigour index", 5270, 1e-9),
    ("yellowing", {"yellow": "45"}, "Yellowing", 3, 0),
]  # fmt: skip


@pytest.mark.parametrize(("key", "fields", "what", "expected", "within"), CASES, ids=str)
def test_sums_agree_with_worked_examples(
    key: str, fields: dict[str, str], what: str, expected: float, within: float
) -> None:
    assert amount(reckon(key, fields, METRIC), what) == pytest.approx(expected, abs=within)


def test_every_sum_has_a_worked_example_or_a_test_of_its_own() -> None:
    own = {"check", "home", "nominal", "fill", "sour", "soak", "hot", "scarify", "stratify", "days", "base"}  # fmt: skip
    assert {key for key, *_ in CASES} | own == set(SUMS)


@pytest.mark.parametrize("key", list(SUMS))
def test_every_sum_works_from_its_own_example_and_says_its_sum_in_words(key: str) -> None:
    fields = {f.key: f.start for f in SUMS[key].fields if f.start}
    found = reckon(key, fields, METRIC)
    assert found.says
    assert not found.is_open
    assert found.title in as_text(found)
    assert found.flags or found.amounts
    assert SUMS[key].room in Category


_MAY_FREEZE = {"keeping", "degrees", "degree_days", "days", "thermal", "q10", "vpd"}
_LISTS = {"counts", "daily", "first", "second"}


@pytest.mark.parametrize("key", list(SUMS))
def test_an_empty_or_strange_field_is_said_and_never_worked_around(key: str) -> None:
    needed = [f for f in SUMS[key].fields if not f.optional and not f.choices]
    fields = {f.key: f.start for f in SUMS[key].fields if f.start}
    for f in needed:
        if key == "each":
            continue  # any one cost will do
        for bad in (
            "",
            "ten",
            "💧",
            "1e99",
            *(() if key in _MAY_FREEZE else ("-1",)),
            *(() if f.key in _LISTS else ("1;5",)),
        ):
            with pytest.raises(InvalidInput) as caught:
                reckon(key, {**fields, f.key: bad}, METRIC)
            assert caught.value.detail.endswith((".", ";", "12"))
    with pytest.raises(InvalidInput, match="is not a field"):
        reckon(key, {**fields, "nonsense": "1"}, METRIC)


def test_an_unknown_sum_is_not_found() -> None:
    with pytest.raises(NotFound):
        reckon("alchemy", {})


# questions


def test_one_to_eight_is_asked_and_both_readings_are_shown() -> None:
    found = card("parts", {}, part="1", diluent="8", stock="10000 ppm")
    (question,) = found.questions
    assert question.must
    assert [o.gives for o in question.options] == [
        "Strength of the active: 1111 ppm (mg/L)",
        "Strength of the active: 1250 ppm (mg/L)",
    ]
    assert found.amounts == ()
    assert amount(card("parts", {"parts": "in"}, part="1", diluent="8", stock="1 %"), "Strength") == 1250  # fmt: skip


def test_whose_spoon_is_asked_and_an_imperial_one_lists_its_sizes() -> None:
    found = card("rate", {}, amount="1 tbsp", per="1 L", volume="250 mL")
    assert [o.gives for o in found.questions[0].options][:2] == ["To measure: 3.75 mL", "To measure: 3.697 mL"]  # fmt: skip
    imperial = card("rate", {}, amount="1 imperial tsp", per="1 L")
    assert "no single size" in imperial.questions[0].asks
    labels = [o.label for o in imperial.questions[0].options]
    assert labels == ["the small one, 3.552 mL", "the middle one, 4.736 mL", "the large one, 5.919 mL"]  # fmt: skip


def test_acid_or_salt_is_asked_and_changes_the_sum() -> None:
    weigh = card("weigh", {}, volume="250 mL", target="4000 ppm", active="IBA")
    assert [o.gives for o in weigh.questions[0].options] == ["IBA to weigh: 1 g", "K-IBA to weigh: 1.187 g"]  # fmt: skip
    label = card("dilute", {"label_meant": "salt"}, volume="250 mL", target="1500 ppm", stock="10000 ppm", active="IBA")  # fmt: skip
    assert amount(label, "Stock") == pytest.approx(37.5 * 1.1874, rel=1e-4)
    salt = card("dilute", {"salt_meant": "acid"}, volume="250 mL", target="1500 ppm", stock="10000 ppm", active="K-IBA")  # fmt: skip
    assert amount(salt, "Stock") == pytest.approx(44.528, abs=0.001)


def test_percent_by_weight_is_another_sum() -> None:
    found = card("dilute", {"percent": "w/w"}, volume="250 mL", target="1500 ppm", stock="1 %")
    assert amount(found, "Stock") == pytest.approx(37.5 / 0.93, rel=1e-9)
    said = card("dilute", {}, volume="250 mL", target="1500 ppm", stock="1 % w/v")
    assert said.questions == ()


def test_the_answer_taken_is_printed_on_the_card() -> None:
    text = as_text(card("rate", {"spoon": "au"}, amount="1 tbsp", per="2 L", volume="1 L"))
    assert "Whose spoon or cup? Australian, 20 mL" in text
    assert "10 mL" in text


def test_of_two_open_questions_each_shows_what_the_other_may_make_of_it() -> None:
    found = card("rate", {}, amount="1 oz", per="1 gallon")
    assert {q.key for q in found.questions} == {"ounce", "gallon"}
    assert found.amounts == ()
    us = next(o for q in found.questions if q.key == "gallon" for o in q.options if o.value == "us")
    assert us.gives == "To measure: 7.489 g (weight); 7.812 mL (US fluid ounce); 7.506 mL (imperial fluid ounce)"  # fmt: skip


def test_what_holds_whichever_way_a_question_is_answered_is_said_while_it_is_open() -> None:
    found = card("weigh", {}, volume="1 L", target="2000 ppm", active="IBA", carrier="water")
    acid, salt = found.questions[0].options
    assert "dissolves in plain water only to about 250 ppm" in acid.gives
    assert "Mind" not in salt.gives
    strong = card("weigh", {}, volume="1 L", target="60000 ppm", active="IBA")
    assert strong.is_open
    assert "dip_far_too_strong" in codes(strong)


# doses and guards


@pytest.mark.parametrize(
    ("made", "share", "flag"),
    [("0.75 mL", 20, "dose_stop"), ("3.75 mL", 100, "dose_right"), ("3 mL", 80, "dose_off"), ("10 mL", 266.7, "dose_stop"), ("4.1 mL", 109.3, "dose_right")],
)  # fmt: skip
def test_a_dose_is_held_against_its_recipe(made: str, share: float, flag: str) -> None:
    found = card("check", recipe="1 tbsp", per="1 L", made=made, **{"in": "250 mL"})
    assert amount(found, "Made, of") == pytest.approx(share, abs=0.05)
    assert codes(found) == [flag]
    assert found.is_refused is (flag == "dose_stop")


@pytest.mark.parametrize(
    ("ratio", "slip"),
    [(0.2, "spoon of 5 mL"), (10, "one place off"), (0.001, "mg taken for g"), (1 / 3.785, "US gallon"), (1.2009, "imperial gallon"), (1.1874, "K-IBA"), (1.125, "1 in 8"), (1.55, "")],
)  # fmt: skip
def test_the_likely_slip_is_named(ratio: float, slip: str) -> None:
    assert slip in slip_of(ratio)
    assert bool(slip_of(ratio)) is bool(slip)


@pytest.mark.parametrize(
    ("whose", "times"), [("metric", 5.0), ("us", 4.93), ("au", 6.67)]
)  # fmt: skip
def test_a_tablespoon_slip_depends_on_whose_spoon(whose: str, times: float) -> None:
    found = card("check", {"spoon": whose}, recipe="1 tbsp", per="1 L", made="0.75 mL", **{"in": "250 mL"})  # fmt: skip
    assert 100 / amount(found, "Made, of") == pytest.approx(times, abs=0.005)


@pytest.mark.parametrize(
    ("fields", "flag", "gravity"),
    [
        ({"target": "25000 ppm", "stock": "5 %"}, "dip_far_too_strong", Severity.REFUSE),
        ({"target": "12000 ppm", "stock": "5 %"}, "dip_strong", Severity.WARN),
        ({"target": "2000 ppm", "stage": "herbaceous"}, "herbaceous_strong", Severity.WARN),
        ({"target": "500 ppm", "stage": "root"}, "root_cutting", Severity.WARN),
        ({"target": "1500 ppm", "method": "soak"}, "soak_strong", Severity.WARN),
        ({"target": "300 ppm", "stage": "softwood"}, "outside_range", Severity.NOTE),
        ({"target": "150 ppm", "stage": "softwood", "method": "soak"}, "outside_range", Severity.NOTE),
        ({"target": "2000 ppm", "carrier": "water"}, "acid_in_water", Severity.WARN),
        ({"target": "1000 ppm", "alcohol": "70 %", "alcohol_diluent": "70 %"}, "alcohol_high", Severity.WARN),
    ],
)  # fmt: skip
def test_guards_by_stage_and_method(fields: dict[str, str], flag: str, gravity: Severity) -> None:
    base = {"volume": "100 mL", "stock": "1 %", "active": "IBA"}
    found = card("dilute", **{**base, **fields})
    assert (flag, gravity) in [(f.code, f.gravity) for f in found.flags]


def test_a_usual_dip_raises_nothing() -> None:
    found = card("dilute", volume="100 mL", target="2500 ppm", stock="1 %", active="IBA", stage="semi_ripe", carrier="alcohol", alcohol="50 %", alcohol_diluent="50 %")  # fmt: skip
    assert found.flags == ()
    assert {c.code for c in found.cautions} == {"hormone", "alcohol", "waste"}


def test_a_coarse_scale_is_told_to_make_a_stock_that_works() -> None:
    found = card("weigh", volume="100 mL", target="1000 ppm", active="IBA", scale="0.1 g")
    (flag,) = [f for f in found.flags if f.code == "scale_coarse"]
    assert (
        "Weigh 2 g of IBA, make it up to 100 mL, and take 5 mL" in flag.says
    )  # 2 g in 100 mL × 5 mL = 100 mg
    fine = card("weigh", volume="100 mL", target="3000 ppm", active="IBA", scale="0.01 g")
    assert "scale_coarse" not in codes(fine)


@pytest.mark.parametrize(
    ("tablets", "harms"), [("1", True), ("0.5", False)]
)  # fmt: skip
def test_the_harm_line_of_a_tablet(tablets: str, harms: bool) -> None:
    found = card("tablets", tablets=tablets, each="325 mg", volume="1 L", active="acetylsalicylic acid")  # fmt: skip
    mm = next(m.value for m in found.amounts if m.unit == "mM")
    assert mm == pytest.approx(1.804 * float(tablets), abs=0.001)
    assert ("harm_acetylsalicylic_acid" in codes(found)) is harms


def test_own_defaults_stand_for_the_benchs() -> None:
    stronger = {**METRIC, "default:dip_warn": "500"}
    found = card("dilute", stronger, volume="100 mL", target="1000 ppm", stock="1 %", active="IBA")
    assert codes(found) == ["dip_strong"]
    assert amount(card("medium", {"default:spare_medium": "0"}, pots="40", each="350 mL"), "Medium") == 12_600  # fmt: skip


def test_guards_are_the_published_defaults() -> None:
    expected = {
        "dip_softwood_low": 500, "dip_softwood_high": 1500, "dip_softwood_usual": 1000, "dip_semi_ripe_high": 4000, "dip_hardwood_evergreen_low": 3000,
        "dip_root_high": 0, "talc_semi_ripe_low": 0.3, "talc_hardwood_evergreen_high": 3, "soak_hardwood_deciduous_high": 200, "dip_warn": 10_000,
        "dip_refuse": 20_000, "soak_warn": 200, "herbaceous_warn": 1500, "alcohol_most": 50, "readability_times": 20, "dip_seconds": 5,
        "soak_legume_refuse": 48, "keeps_alcohol": 180, "keeps_water": 14, "keeps_talc": 365, "keeps_iaa": 2, "keeps_ga3": 3, "vpd_unrooted": 0.5,
    }  # fmt: skip
    assert {k: DEFAULTS[k].value for k in expected} == expected
    assert all(d.source and d.unit and d.says for d in DEFAULTS.values())


def test_every_home_agent_has_its_class_and_its_control() -> None:
    for key, agent in HOME.items():
        found = card("home", agent=key)
        assert agent.agent_class in CLASS_SAYS
        assert any(agent.control in line for line in found.says)
    strong = card("home", agent="hydrogen peroxide", dose="3 %")
    assert "harm_hydrogen_peroxide" in codes(strong)
    assert "peroxide" in {c.code for c in strong.cautions}
    assert codes(card("home", agent="salicylic acid", dose="0.1 mM")) == ["below_harm"]


@pytest.mark.parametrize(
    ("key", "fields", "says"),
    [
        ("dilute", {"volume": "250 mL", "target": "2 %", "stock": "1000 ppm"}, "weaker than"),
        ("talc", {"mass": "20 g", "target": "0.8 %", "strong": "0.3 %"}, "weaker than"),
        ("two", {"volume": "1 L", "target": "9000 ppm", "strong": "5000 ppm", "weak": "500 ppm"}, "is not between"),
        ("alcohol", {"volume": "1 L", "target": "70 %", "stock": "50 %"}, "cannot make"),
        ("dilute", {"volume": "0 mL", "target": "1 %", "stock": "2 %"}, "is nothing"),
        ("dilute", {"volume": "250 mL", "target": "5 mM", "stock": "1 %"}, "needs the active"),
        ("weigh", {"volume": "1 L", "target": "200 %", "active": "IBA"}, "more than all of it"),
        ("weigh", {"volume": "1 L", "target": "1 %"}, "Name the active"),
        ("check", {"recipe": "1 tbsp", "per": "1 L", "made": "3 g", "in": "1 L"}, "one is a volume and the other a weight"),
        ("water", {"dry": "600 g", "wet": "300 g", "share": "50 %"}, "must weigh more"),
        ("air", {"drained": "600 mL", "volume": "500 mL"}, "More water drained"),
        ("mixture", {"volume": "10 L", "parts": "1:x"}, "colons"),
        ("mixture", {"volume": "10 L", "parts": "1:1", "names": "peat"}, "2 parts for 1"),
        ("degree_days", {"high": "4 °C", "low": "20 °C", "base": "10 °C"}, "turn them round"),
        ("light", {"hours": "30 h", "ppfd": "100"}, "24 hours"),
        ("q10", {"rate_one": "1", "warmth_one": "10", "rate_other": "2", "warmth_other": "10"}, "different temperatures"),
        ("keeping", {"moisture": "25 %", "warmth": "10 °C", "moisture_now": "14 %", "warmth_now": "20 °C"}, "5 to 14 %"),
        ("paper", {"counts": "25", "each": "20"}, "0 to 20"),
        ("paper", {"counts": "many", "each": "20"}, "roll"),
        ("each", {}, "at least one cost"),
        ("emerged", {"emerged": "90 %", "germination": "80 %"}, "More emerged"),
        ("scarify", {"dry": "10 g", "wet": "5 g"}, "cannot weigh less"),
        ("stratify", {"group": "oak", "cold": "60 d", "sow": "in spring"}, "not a date"),
        ("base", {"counts": "10: 5; 20: 9; 30: 14"}, "do not come up sooner"),
        ("base", {"counts": "10: 5"}, "three different"),
        ("base", {"counts": "warm: 5"}, "not understood"),
        ("days", {"crop": "beet", "warmth": "45 °C"}, "Neither source"),
        ("home", {"agent": "moonlight"}, "not one of"),
        ("seeds", {"wanted": "1.5", "germination": "80 %"}, "whole number"),
        ("strengths", {"active": "unobtainium", "strength": "1 ppm"}, "not an active known"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_said_in_a_sentence(key: str, fields: dict[str, str], says: str) -> None:
    with pytest.raises(InvalidInput, match=says):
        reckon(key, fields, METRIC)


# properties


@settings(max_examples=60)
@given(st.floats(1, 5000), st.floats(10, 9000), st.floats(1.01, 50))
def test_what_a_dilution_takes_gives_back_the_strength(volume: float, target: float, times: float) -> None:  # fmt: skip
    stock = target * times
    found = card("dilute", volume=f"{volume:.6f} mL", target=f"{target:.6f} ppm", stock=f"{stock:.6f} ppm")  # fmt: skip
    take = amount(found, "Stock")
    assert 0 < take < volume
    assert take * stock / volume == pytest.approx(target, rel=1e-4)


@settings(max_examples=60)
@given(st.integers(1, 200), st.integers(2, 200))
def test_one_in_n_is_always_stronger_than_one_to_n(part: int, more: int) -> None:
    fields: dict[str, Any] = {"part": str(part), "diluent": str(part + more), "stock": "1 %"}
    to, inside = (amount(reckon("parts", {**fields, "way": w}), "Strength") for w in ("to", "in"))
    assert to < inside < 10_000


def test_formulas_with_water_of_crystallisation() -> None:
    assert molar_mass("MgSO4.7H2O") == pytest.approx(molar_mass("MgSO4") + 7 * molar_mass("H2O"), abs=1e-9)  # fmt: skip
    assert 100 * 24.305 / molar_mass("MgSO4.7H2O") == pytest.approx(9.86, abs=0.005)


_WRITTEN = st.one_of(
    st.text(max_size=20),
    st.sampled_from(["0", "-1", "1e9", "1e-9", "100", "0.5", "1/2", "1 %", "500 ppm", "5 mM", "250 mL", "2 tbsp", "1 oz", "3 gal", "20 °C", "68 °F", "-40 C", "12 h", "3 d", "9 cm",
                     "1,500", "1.500,5", "5 drops", "1 imperial tsp", "2026-05-03", "2026-02-30", "1:1:1", "10: 5; 20: 3; 30: 2", "17, 18", "0.0000001 %", "99999999 ppm", "1e308", "nan", "inf"]),
)  # fmt: skip


@settings(max_examples=25)
@given(st.data())
@pytest.mark.parametrize("key", list(SUMS))
def test_nothing_written_in_any_field_breaks_a_sum(key: str, data: st.DataObject) -> None:
    fields = {f.key: f.start for f in SUMS[key].fields if f.start}
    for f in SUMS[key].fields:
        if data.draw(st.booleans()):
            options = [v for v, _ in f.choices]
            fields[f.key] = data.draw(st.sampled_from(options) if options else _WRITTEN)
    with suppress(InvalidInput):
        found = reckon(key, fields, METRIC if data.draw(st.booleans()) else {})
        assert all(isfinite(m.value) for m in found.amounts)
        assert "nan" in fields.values() or "nan" not in as_text(found).split()


def test_a_form_that_brings_together_what_must_not_meet_is_stopped() -> None:
    fields = {
        "volume": "100 mL",
        "target": "1 %",
        "stock": "5 %",
        "active": "sodium hypochlorite",
        "carrier": "alcohol",
    }
    found = reckon("dilute", fields)
    assert found.is_refused
    assert "never_mixed" in [f.code for f in found.flags]
    assert not reckon("dilute", {**fields, "carrier": "water"}).is_refused
