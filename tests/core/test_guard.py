"""The language guard, on what growers write and on what the finish itself writes."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from racecard.core.finish.finish_result import whole_finish
from racecard.core.text.overclaims import honest_wording, overreaches
from tests.builders import a_plan, counts


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("This proves that honey works.", "proves"),
        ("IBA is the winner!", "winner"),
        ("Willow water has no effect", "no effect"),
        ("It doesn't work.", "doesn't work"),
        ("Rooting was 30% better with talc", "30% better"),
        ("25 per cent more likely to root", "25 per cent more likely"),
        ("The label lies", "lies"),
        ("because the hormone stimulates cells", "because the"),
        ("a significant gain", "significant"),
        ("we kept the healthiest", "the healthiest"),
        ("It works for all plants", "works for"),
        ("definitely better", "definitely"),
        ("the talc was the culprit", "culprit"),
        ("The bottle lies to us", "lies"),
        ("It confirmed our hypothesis", "confirmed"),
        ("This shows that talc is better", "This shows that"),
    ],
)
def test_words_a_trial_cannot_carry(text: str, found: str) -> None:
    told = overreaches(text)
    assert found in [o.found for o in told]
    assert all(text[o.start : o.start + len(o.found)] == o.found for o in told)
    assert all(o.why and o.instead for o in told)


@pytest.mark.parametrize(
    "phrase",
    [
        "definite", "definitely", "certainly", "conclusive", "conclusively", "beyond doubt", "beyond any doubt", "without a doubt", "no doubt", "no question",
        "beyond question", "without question", "undoubtedly", "undeniably", "unquestionably", "indisputable", "irrefutable", "categorically", "unequivocal", "absolutely",
        "obviously", "of course", "hands down", "by miles", "by a mile", "by far", "miles ahead", "streets ahead", "head and shoulders", "works every time",
        "every single time", "time after time", "without fail", "foolproof", "sure-fire", "cast-iron", "rock solid", "guaranteed", "always", "never",
        "infallible", "bound to", "can't fail", "cannot go wrong", "100 % sure", "game changer", "a must", "clear as day", "speaks for itself", "no two ways about it",
        "no contest", "myth", "nonsense", "rubbish", "snake oil", "scam", "hoax", "hype", "old wives' tale", "waste of money",
        "rip-off", "causes", "caused", "due to", "thanks to", "because of", "owing to", "as a result of", "made them root", "responsible for",
        "leads to", "boosts", "stimulates", "proves", "busted",
    ],
)  # fmt: skip
def test_certainty_blame_and_cause_are_caught(phrase: str) -> None:
    found = overreaches(f"This is {phrase} the talc.")
    assert any(phrase.startswith(o.found) or o.found in phrase for o in found)
    assert all(o.instead for o in found)


def test_a_comparison_with_what_was_not_in_the_trial_is_caught() -> None:
    arms = ["Untreated nothing", "IBA 1000 ppm auxin"]
    (found,) = overreaches("IBA struck better than honey and better than untreated.", arms)
    assert (found.found, found.why) == ("than honey", "honey was not in this trial, so nothing here can be held against it.")  # fmt: skip
    assert overreaches("IBA struck better than honey.", [*arms, "Honey dip"]) == ()
    assert overreaches("More struck than doing nothing.", arms) == ()


@pytest.mark.parametrize(
    "text",
    [
        "18 of 24 struck, 9 of 24 without.",
        "The gap lies between 3 and 40 points.",
        "Too close to call.",
        "",
    ],
)
def test_honest_words_pass(text: str) -> None:
    assert overreaches(text) == ()


@given(st.integers(0, 12), st.integers(0, 12), st.sampled_from([42.0, 60.0, None]), st.booleans())
def test_the_finish_never_writes_what_the_guard_would_stop(
    k0: int, k1: int, end: float | None, drawn: bool
) -> None:
    found = whole_finish(a_plan(), counts((k0, 12), (k1, 12)), seed=1, end_day=end, lot_drawn=drawn)
    said = [
        found.headline,
        *found.says,
        *(f"{n.title} {n.message} {n.advice}" for n in found.notes),
    ]
    assert [o for s in said for o in overreaches(s)] == []


def test_honest_wording_is_made_of_the_verdict_and_its_limits() -> None:
    found = whole_finish(a_plan(), counts((6, 24), (20, 24)), seed=1)
    text = honest_wording(found.statements)
    assert text.startswith("IBA 1000 ppm: 58 points more than Untreated")
    assert text.endswith("conditions of this trial.")
    assert overreaches(text) == ()
