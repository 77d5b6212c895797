"""One line as growers write it: the sum it asks for, and a sentence where it asks for none."""

from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from racecard.core.prepare.line import EXAMPLES, read_line
from racecard.core.prepare.sums import SUMS, reckon
from racecard.errors import InvalidInput


@pytest.mark.parametrize(
    ("line", "key", "fields"),
    [
        ("250 mL of 1500 ppm IBA from 1 % stock", "dilute", {"volume": "250 mL", "target": "1500 ppm", "stock": "1 %", "active": "IBA"}),
        ("250mL 1500ppm K-IBA from 10000ppm", "dilute", {"volume": "250mL", "target": "1500ppm", "stock": "10000ppm", "active": "K-IBA"}),
        ("0,5 L of 500 ppm IBA from 1% w/v", "dilute", {"volume": "0,5 L", "target": "500 ppm", "stock": "1% w/v", "active": "IBA"}),
        ("1 tbsp per litre in 250 mL", "rate", {"amount": "1 tbsp", "per": "1 litre", "volume": "250 mL"}),
        ("3/4 tsp per 2 cups", "rate", {"amount": "3/4 tsp", "per": "2 cups"}),
        ("2 fl oz per gallon in 1 L", "rate", {"amount": "2 fl oz", "per": "1 gallon", "volume": "1 L"}),
        ("15 g/L honey", "rate", {"amount": "15 g", "per": "1 L"}),
        ("5 mL of 5 % vinegar per litre", "rate", {"amount": "5 mL", "per": "1 litre", "strength": "5 %", "active": "acetic acid"}),
        ("5 drops per 100 mL", "rate", {"amount": "5 drops", "per": "100 mL"}),
        ("1 imperial tsp per litre", "rate", {"amount": "1 imperial tsp", "per": "1 litre"}),
        ("1:8", "parts", {"part": "1", "diluent": "8"}),
        ("1 in 8", "parts", {"part": "1", "diluent": "8", "way": "in"}),
        ("1 to 8 in 500 mL", "parts", {"part": "1", "diluent": "8", "way": "to", "volume": "500 mL"}),
        ("1+9 bleach from 5.25 %", "parts", {"part": "1", "diluent": "9", "way": "to", "stock": "5.25 %", "active": "sodium hypochlorite"}),
        ("1/8 from 1 % IBA", "parts", {"part": "1", "diluent": "8", "stock": "1 %", "active": "IBA"}),
        ("1 in 8 from 1 % IBA + 0.5 % NAA", "parts", {"part": "1", "diluent": "8", "way": "in", "stock": "1 %", "second": "0.5 %", "active": "IBA"}),
        ("2 tablets of 300 mg in 2 L", "tablets", {"tablets": "2", "each": "300 mg", "volume": "2 L"}),
        ("2 tablets of 300 mg aspirin in 2 L", "tablets", {"tablets": "2", "each": "300 mg", "volume": "2 L", "active": "acetylsalicylic acid"}),
        ("100 mL of 2000 ppm from 5000 ppm and 500 ppm", "two", {"volume": "100 mL", "target": "2000 ppm", "strong": "5000 ppm", "weak": "500 ppm"}),
        ("250 ml 4000ppm IBA from powder", "weigh", {"volume": "250 ml", "target": "4000ppm", "active": "IBA"}),
        ("250 mL of 1500 ppm IBA from 1 % stock in 50 % alcohol", "dilute", {"volume": "250 mL", "target": "1500 ppm", "stock": "1 %", "carrier": "alcohol", "alcohol_diluent": "50 %", "active": "IBA"}),
        ("dilute 1 % IBA to 1500 ppm, 250 mL", "dilute", {"volume": "250 mL", "target": "1500 ppm", "stock": "1 %", "active": "IBA"}),
        ("10 mL of 1 % IBA in 90 mL water", "parts", {"part": "10", "diluent": "90", "stock": "1 %", "active": "IBA"}),
        ("10 mL of 1 % IBA made up to 0.1 L", "parts", {"part": "10", "diluent": "100", "way": "in", "stock": "1 %", "active": "IBA"}),
        ("50 mL + 150 mL water", "parts", {"part": "50", "diluent": "150", "way": "to"}),
        ("100 mL 0.2 % KNO3 from crystals", "weigh", {"volume": "100 mL", "target": "0.2 %", "active": "KNO3"}),
        ("300 mg IBA in 100 mL", "made", {"mass": "300 mg", "volume": "100 mL", "active": "IBA"}),
        ("20 g of 0.3 % talc from 0.8 %", "talc", {"mass": "20 g", "target": "0.3 %", "strong": "0.8 %"}),
        ("200 mL of 50 % alcohol from 70 %", "alcohol", {"volume": "200 mL", "target": "50 %", "stock": "70 %"}),
        ("3 tbsp in mL", "units", {"value": "3 tbsp"}), ("4 in in cm", "units", {"value": "4 in"}), ("2 US gallons to L", "units", {"value": "2 US gallons"}),
        ("5 mM NAA", "strengths", {"active": "NAA", "strength": "5 mM"}),
        ("70 °F in °C", "degrees", {"value": "70 °F"}),
        ("5 F warmer", "degrees", {"value": "5 °F", "what": "difference"}),
        ("0.75 mL in 250 mL, recipe 1 tbsp per litre", "check", {"recipe": "1 tbsp", "per": "1 litre", "made": "0.75 mL", "in": "250 mL"}),
    ],
)  # fmt: skip
def test_what_growers_write_is_read(line: str, key: str, fields: dict[str, str]) -> None:
    found = read_line(line)
    assert (found.key, dict(found.fields)) == (key, fields)
    reckon(found.key, found.fields)


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("", "Write what you want to make"),
        ("hello", "No number was found"),
        ("250 mL", "I read 250 mL, and miss"),
        ("250 mL of 1500 ppm", "what is missing is what it is made from"),
        ("250 mL of 1500 ppm IBA", "what is missing is what it is made from"),
        ("dilute 1 % IBA to 1500 ppm", "what is missing is how much"),
        ("1 cup of 1 % IBA in 2 cups water", "give both in mL or L"),
        ("1;5", "write parts as 1:5"),
        ("ten mL of 1500 ppm from 1 %", "“ten mL”: write the number with digits"),
        ("250 smoots of 1500 ppm from 1 %", "“smoots” is not a unit known here"),
        ("2 tablets in 2 L", "the mg of active in each is missing"),
        ("2 tablets of 300 mg", "the water they go in is missing"),
        ("12 34 56", "has numbers but no unit"),
        ("x" * 400, "Keep the line to 300"),
        ("1500 ppm, 1 %", "I read 1500 ppm, 1 %, and miss"),
    ],
)
def test_what_cannot_be_read_says_what_was_understood(line: str, says: str) -> None:
    with pytest.raises(InvalidInput, match=says) as caught:
        read_line(line)
    assert caught.value.pointer == "/line"


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("0 mL of 1500 ppm IBA from 1 %", "is nothing"),
        ("-5 mL of 1500 ppm from 1 %", "below nothing"),
        ("1e9 mL of 1500 ppm IBA from 1 %", "too large"),
        ("1.500,5 mL of 1500 ppm from 1 %", "a point and a comma"),
        ("250 mL of 2 % IBA from 1000 ppm", "weaker than"),
        ("1:0", "more than 0"),
    ],
)
def test_bad_figures_in_a_line_are_said_in_a_sentence(line: str, says: str) -> None:
    read = read_line(line)
    with pytest.raises(InvalidInput, match=says):
        reckon(read.key, read.fields)


@pytest.mark.parametrize("line", EXAMPLES)
def test_the_examples_shown_work(line: str) -> None:
    found = read_line(line)
    assert found.key in SUMS
    assert reckon(found.key, found.fields).understood


@given(st.text(max_size=60))
def test_nothing_typed_breaks_the_reader(line: str) -> None:
    with suppress(InvalidInput):
        found = read_line(line)
        assert reckon(found.key, found.fields).title


@given(
    st.lists(
        st.sampled_from(["1", "250", "mL", "of", "1500", "ppm", "IBA", "from", "%", "1:8", "tbsp", "per", "L", "in", "tablets", "mg", "-", "recipe", "3/4", "½", "talc", "and", "°F", "mM"]),
        max_size=12,
    )
)  # fmt: skip
def test_no_jumble_of_a_growers_words_breaks_the_reader(words: list[str]) -> None:
    with suppress(InvalidInput):
        found = read_line(" ".join(words))
        assert reckon(found.key, found.fields).title
