"""One line as growers write it: read, asked about, or refused; never answered past a piece of it.

`tests/reference/lines.csv` holds 437 lines with values from first principles (definitions of units,
molar masses; common practice).
"""

import csv
import re
from contextlib import suppress
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from racecard.core.prepare.cards import Card, as_text
from racecard.core.prepare.line import EXAMPLES, NotRead, read_line, work_out
from racecard.core.prepare.sums import reckon
from racecard.errors import InvalidInput

_FILE = Path(__file__).parents[1] / "reference" / "lines.csv"
ROWS = list(csv.DictReader(_FILE.read_text("utf-8").splitlines()))
_PER_UNIT = {"L": ("mL", 1000.0), "mg": ("g", 0.001), "kg": ("g", 1000.0), "mm": ("cm", 0.1), "g/L": ("mg/L", 1000.0), "%": ("mg/L", 10_000.0), "% w/v": ("mg/L", 10_000.0), "% v/v": ("mg/L", 10_000.0), "seeds": ("", 1.0), "×": ("", 1.0)}  # fmt: skip


def _in_base(value: float, unit: str) -> tuple[str, float]:
    base, factor = _PER_UNIT.get(unit, (unit, 1.0))
    return base, value * factor


def _all_said(card: Card) -> str:
    options = (f"{q.asks} {o.label} {o.gives}" for q in card.questions for o in q.options)
    return " ".join([as_text(card), *options])


def _shows(text: str, value: float, unit: str, within: float) -> bool:
    factors = {"mL": (1, 0.001), "mg": (1, 0.001), "mg/L": (1, 0.001, 0.0001), "g/L": (1, 1000)}
    numbers = [float(n.replace(" ", "")) for n in re.findall(r"\d{1,3}(?: \d{3})+|\d+(?:\.\d+)?", text.replace("\u00a0", " "))]  # fmt: skip
    wanted = [value * f for f in factors.get(unit, (1,))]
    return any(n == pytest.approx(w, rel=max(within, 6e-4)) for n in numbers for w in wanted)


def _faults(row: dict[str, str]) -> str:
    """Why the answer to a row is not what a careful person would give; "" where it is."""
    within = float(row["tolerance"] or 0.005)
    value = float(row["value"]) if row["value"] else None
    try:
        card: Card | None = work_out(row["line"])[1]
        said = _all_said(card) if card else ""
    except InvalidInput as exc:
        card, said = None, exc.detail
    mentions = [m.strip().lower() for m in row["must_mention"].split("|") if m.strip()]
    if mentions and not any(m in said.lower() for m in mentions):
        return f"does not mention {row['must_mention']}: {said}"
    if row["kind"] == "refusal":
        return "" if card is None or not card.amounts else f"answered: {said}"
    if card is None:
        return "" if row["kind"] == "question" and value is None else f"refused: {said}"
    if row["kind"] == "answer" and card.amounts:
        assert value is not None
        base, wanted = _in_base(value, row["unit"])
        found = [_in_base(m.value, m.unit) for m in card.amounts]
        is_met = any(
            u == base and v == pytest.approx(wanted, rel=max(within, 6e-4)) for u, v in found
        )
        return "" if is_met else f"gives {card.amounts}"
    second = re.findall(r"\d+(?:\.\d+)?", row["second_reading"])
    told = value is None or _shows(said, value, row["unit"], within)
    both = not second or any(_shows(said, float(s), row["unit"], 0.006) for s in second)
    return "" if told and (both or row["kind"] == "answer") else f"does not show both: {said}"


@pytest.mark.parametrize("row", ROWS, ids=[r["line"] for r in ROWS])
def test_lines_are_read_as_a_careful_person_reads_them(row: dict[str, str]) -> None:
    assert _faults(row) == ""


@pytest.mark.parametrize("row", ROWS, ids=[r["line"] for r in ROWS])
def test_every_piece_of_an_answered_line_is_used_or_filler(row: dict[str, str]) -> None:
    with suppress(InvalidInput):
        _, card = work_out(row["line"])
        assert card.tokens
        assert all(t.taken_as for t in card.tokens)
        assert [row["line"][slice(*t.span)] for t in card.tokens] == [t.text for t in card.tokens]
        left = list(row["line"])
        for token in card.tokens:
            left[slice(*token.span)] = " " * (token.span[1] - token.span[0])
        assert not re.search(r"\w", "".join(left))


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("", "Write what you want to make"),
        ("hello", "“hello” is not understood"),
        ("250 mL", "I read 250 mL, but not"),
        ("dilute 1 % IBA to 1500 ppm please, madam", "“madam”"),
        ("250 smoots of 1500 ppm from 1 %", "“250 smoots of 1500 ppm” is not understood"),
        ("12 34 56", "not understood|no unit"),
        ("x" * 400, "Keep the line to 300"),
        ("250 mL of 1500 ppm IBA from 1 % for 6 weeks by moonlight", "“moonlight”"),
    ],
)  # fmt: skip
def test_what_cannot_be_read_says_what_was_understood(line: str, says: str) -> None:
    with pytest.raises(InvalidInput, match=says) as caught:
        read_line(line)
    assert caught.value.pointer == "/line"


@pytest.mark.parametrize("line", EXAMPLES)
def test_the_examples_shown_work(line: str) -> None:
    assert work_out(line)[1].understood


def test_an_answer_of_the_line_settles_it_and_is_not_remembered() -> None:
    _, asked = work_out("250 mL of 1,500 ppm IBA from 1 %")
    question = asked.questions[0]
    assert (question.key, question.must, question.of_line) == ("comma", True, True)
    assert asked.amounts == ()
    _, settled = work_out("250 mL of 1,500 ppm IBA from 1 %", {"comma": "thousands"})
    assert settled.amounts[0].value == pytest.approx(37.5)
    _, still = work_out("250 mL of 1,500 ppm IBA from 1 %", {}, {"comma": "thousands"})
    assert still.questions[0].must


@pytest.mark.parametrize(
    ("line", "amount"),
    [("70 mL cell, 104 cells", 7207.2), ("make up 25 mL of 1 % IBA to 250 mL", 1000), ("3 g per L of mix in 2 L pots, 20 pots", 120)],
)  # fmt: skip
def test_what_a_volume_belongs_to_is_read(line: str, amount: float) -> None:
    assert work_out(line)[1].amounts[0].value == pytest.approx(amount, rel=1e-3)


def test_an_ounce_of_a_solution_is_a_fluid_one_and_asked() -> None:
    card = work_out("8 oz of 3000 ppm IBA from 1 %")[1]
    assert card.key == "dilute"
    assert card.is_open


@pytest.mark.parametrize(
    ("line", "amount"),
    [("250 mL of 1.250 % IBA from 5 %", 62.5), ("250 mL of 1,250 % IBA from 5 %", 62.5), ("100 seeds at 80 % germination", 80)],
)  # fmt: skip
def test_a_mark_with_one_possible_reading_is_not_asked(line: str, amount: float) -> None:
    card = work_out(line)[1]
    assert not card.is_open
    assert card.amounts[0].value == pytest.approx(amount)


def test_a_point_before_three_digits_that_end_in_nothing_is_asked() -> None:
    assert work_out("500 mL of 1.500 ppm IBA from 1 %")[1].questions[0].must
    assert not work_out("500 mL of 1.525 ppm IBA from 1 %")[1].questions[0].must


PARTS = ("250 mL", "1500 ppm IBA", "from 1 % stock")


@given(st.permutations(PARTS), st.sampled_from(("", "please", "I want", "for")))
def test_the_order_of_the_words_does_not_change_the_sum(parts: list[str], filler: str) -> None:
    line = " ".join([filler, *parts])
    with suppress(NotRead):
        assert work_out(line)[1].amounts[0].value == pytest.approx(37.5)


@given(
    st.sampled_from([r for r in ROWS if r["kind"] == "answer"]),
    st.text("bcdfghjklmnpqrstvwxz", min_size=6, max_size=12),
    st.floats(0, 1),
)
def test_a_word_from_nowhere_is_never_answered_past(
    row: dict[str, str], word: str, where: float
) -> None:
    words = row["line"].split()
    at = round(where * len(words))
    line = " ".join([*words[:at], word, *words[at:]])
    with pytest.raises(InvalidInput) as caught:
        work_out(line)
    assert caught.value.pointer == "/line"


FOREIGN = ["for 9 hamsters", "batch 12", "on 3 May", "not", "a second", "and 0.5 % NAA", "at 20 °C", "for 30 min", "for 3 trays", "or 2 %", "pH 7", "no 5", "plus 10 mL", "each week", "250 mL", "1500 ppm", "minus 5 mL", "without water"]  # fmt: skip


@pytest.mark.parametrize("foreign", FOREIGN)
@pytest.mark.parametrize("is_last", [True, False])
def test_what_does_not_belong_is_never_answered_past(foreign: str, is_last: bool) -> None:
    line = "250 mL of 1500 ppm IBA from 1 % stock"
    with suppress(InvalidInput):
        card = work_out(f"{line} {foreign}" if is_last else f"{foreign} {line}")[1]
        assert card.amounts == ()


@given(st.text(max_size=60))
def test_nothing_typed_breaks_the_reader(line: str) -> None:
    with suppress(InvalidInput):
        assert work_out(line)[1].title


JUMBLE = ["1", "250", "mL", "of", "1500", "ppm", "IBA", "from", "%", "1:8", "tbsp", "per", "L", "in", "tablets", "mg", "-", "recipe", "3/4", "½", "talc", "and", "°F", "mM"]  # fmt: skip


@given(st.lists(st.sampled_from(JUMBLE), max_size=12))
def test_no_jumble_of_a_growers_words_breaks_the_reader(words: list[str]) -> None:
    with suppress(InvalidInput):
        card = work_out(" ".join(words))[1]
        assert all(t.taken_as for t in card.tokens)


@pytest.mark.parametrize(
    ("line", "what", "ml"),
    [
        ("1 % IBA to 1500 ppm, 250 mL", "Stock to take", 37.5),
        ("30 % hydrogen peroxide to 3 %, 1 L", "Stock to take", 100),
        ("250 mL 5000 ppm NAA down to 500 ppm", "Diluent to add, about", 2250),
        ("40 mL 1 % IBA to 2000 ppm", "Diluent to add, about", 160),
    ],
)
def test_a_strength_to_a_weaker_one_is_a_dilution(line: str, what: str, ml: float) -> None:
    """C1 V1 = C2 V2; what stands before the stronger is what there is."""
    assert {a.what: a.value for a in work_out(line)[1].amounts}[what] == pytest.approx(ml)


def test_a_share_of_a_bottle_needs_a_volume_that_is_one_size_everywhere() -> None:
    with pytest.raises(InvalidInput, match="1 gal of 10 % sodium hypochlorite: give the volume in"):
        read_line("1 gal of 10 % bleach")


def test_a_strength_to_a_stronger_one_is_none() -> None:
    with pytest.raises(InvalidInput, match="but not how much of what strength"):
        read_line("1500 ppm IBA to 1 %, 250 mL")


@pytest.mark.parametrize(
    ("line", "options"),
    [
        ("2 L of 10 % bleach", ["200 mL of it", "from 5 %"]),
        ("3 x 2 L of 10 % bleach", ["600 mL of it", "from 5 %"]),
        ("1 L of 3 % hydrogen peroxide", ["30 mL of it", "from 6 %"]),
        ("500 mL 2 % vinegar", ["10 mL of it", "from 5 %"]),
    ],
)
def test_what_is_sold_dissolved_is_never_weighed(line: str, options: list[str]) -> None:
    _, card = work_out(line)
    (question,) = card.questions
    assert (question.must, card.amounts) == (True, ())
    assert all(
        word in f"{o.label} {o.gives}" for o, word in zip(question.options, options, strict=True)
    )
    assert work_out(line, {question.key: question.options[0].value})[1].amounts[0].unit == "mL"
    with pytest.raises(InvalidInput, match="comes dissolved"):
        work_out(line + " from powder")
    with pytest.raises(InvalidInput, match="comes dissolved"):
        reckon("weigh", {"volume": "1 L", "target": "3 %", "active": "hydrogen peroxide"}, {})


def test_an_acid_made_up_in_plain_water_is_warned_of() -> None:
    flags = {f.code for f in work_out("300 mg IBA in 100 mL water")[1].flags}
    assert "acid_in_water" in flags
    assert "acid_in_water" not in {f.code for f in work_out("300 mg IBA in 100 mL")[1].flags}


@pytest.mark.parametrize(
    "line",
    [*(r["line"] for r in ROWS
       if r["kind"] != "refusal" and re.search("alcohol|ethanol|vodka|isopropanol", r["line"])),
     "500 mL 1000 ppm IBA 50 % ethanol", "thin 100 mL of 1 % IBA to 2000 ppm with 50 % ethanol"],
)  # fmt: skip
def test_wherever_alcohol_is_named_its_caution_stands(line: str) -> None:
    assert "alcohol" in {c.code for c in work_out(line)[1].cautions}


@pytest.mark.parametrize(
    ("line", "percent"),
    [("100 mL of 5000 ppm IBA acid from powder in 40 % ethanol", 40),
     ("500 mL 1000 ppm IBA 40 % ethanol", 40),
     ("300 mg IBA in 100 mL of 40 % ethanol", 40),
     ("top up 40 mL of 1 % IBA to 1 L with 50 % alcohol", 48),
     ("thin 100 mL of 1 % IBA to 2000 ppm with 50 % ethanol", 40)],
)  # fmt: skip
def test_how_strong_the_alcohol_comes_to_be_is_told(line: str, percent: float) -> None:
    """By volume: the share of the diluent times its strength."""
    card = work_out(line, {"powder": "acid"})[1]
    (told,) = (a.value for a in card.amounts if a.what.startswith("Alcohol in the dip"))
    assert told == pytest.approx(percent)


@pytest.mark.parametrize("line", ["10 g bleach in 100 mL alcohol", "1 part bleach to 9 parts vinegar", "100 mL of 3 % H2O2 from 35 % in vinegar"])  # fmt: skip
def test_what_must_never_meet_is_refused(line: str) -> None:
    with pytest.raises(InvalidInput, match="must never be mixed"):
        work_out(line)


@pytest.mark.parametrize(
    ("line", "asks"),
    [
        ("soak seed in water at 90 °C for 10 min", "poured on once, or kept that hot?"), ("water at 90 °C soak 12 h", "poured on once"),
        ("soak seed overnight", "What kind of seed"),
    ],
)  # fmt: skip
def test_a_soak_of_seed_asks_what_it_must(line: str, asks: str) -> None:
    _, card = work_out(line)
    assert card.is_open
    assert asks in card.questions[0].asks


def test_hot_water_is_for_minutes_or_to_cool() -> None:
    line = "soak seed in water at 90 °C for 10 min"
    assert work_out(line, {"hot_soak": "held"})[1].is_refused
    assert not work_out("soak seed in water at 90 °C for 3 min", {"hot_soak": "held"})[1].is_refused
    assert not work_out("soak seed 12 h in water at 90 °C", {"hot_soak": "cools"})[1].is_refused
    with pytest.raises(InvalidInput, match="ice or steam"):
        work_out("soak seed 3 h in water at 130 °C")


@pytest.mark.parametrize(
    ("line", "unread"),
    [("250 mL of 1500 ppm IBA from 1 % for 9 hamsters", ["9", "hamsters"]), ("5 mL blorp per litre", ["blorp"])],
)  # fmt: skip
def test_a_refused_line_says_where_it_was_not_understood(line: str, unread: list[str]) -> None:
    with pytest.raises(NotRead) as caught:
        read_line(line)
    assert [line[a:b] for a, b in caught.value.spans][-1] == unread[-1]
    assert {line[a:b] for a, b in caught.value.spans} <= set(unread)


def test_every_open_piece_of_a_line_is_asked_and_none_is_settled_by_another() -> None:
    line = "1-2 tablets in 1-2 L"
    keys = [q.key for q in work_out(line)[1].questions]
    assert keys == ["range", "range again", "tablet_mg"]
    one = work_out(line, {"range": "1"})[1]
    assert [q.must for q in one.questions] == [False, True, True]
    done = work_out(line, {"range": "1", "range again": "0", "tablet_mg": "300"})[1]
    assert done.amounts[0].value == pytest.approx(600)
    assert work_out("100 mL of 5 mm K-IBA from powder")[1].is_open
