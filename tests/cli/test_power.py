"""`racecard power`: the numbers of the planner from a terminal."""

import json
from typing import Any

import pytest
from click.testing import CliRunner

from racecard.cli.main import app


def power(*args: str) -> dict[str, Any]:
    found = CliRunner().invoke(app, ["power", *args, "--json"])
    assert found.exit_code == 0, found.output
    out: dict[str, Any] = json.loads(found.output)
    return out


def test_two_arms_are_those_of_the_enumeration() -> None:
    """24 an arm, 50 % against 80 %: 0.492635 by enumeration of Fisher's test; 44 is the first n."""
    found = power("--control", "0.5", "--treated", "0.8", "--units", "24")
    assert found["power"] == pytest.approx(0.492635, abs=1e-6)
    assert found["units_needed"] == 44
    assert found["decidable"]


def test_candidates_share_the_level() -> None:
    one = power("--control", "0.3", "--treated", "0.7", "--units", "5")
    four = power("--control", "0.3", "--treated", "0.7", "--units", "5", "--candidates", "7")
    assert one["floor"] == four["floor"] == pytest.approx(2 / 252, rel=1e-9)
    assert four["floor_holm"] == pytest.approx(14 / 252, rel=1e-9)
    assert (one["decidable"], four["decidable"]) == (True, False)
    assert four["power"] == pytest.approx(0, abs=1e-12)


def test_pairs_and_containers_have_their_own_units() -> None:
    pairs = power("--control", "0.5", "--treated", "0.8", "--units", "5", "--pairs", "--agree", "0")
    assert pairs["floor"] == pytest.approx(0.0625, abs=1e-12)
    assert not pairs["decidable"]
    pots = power(
        "--control",
        "0.5",
        "--treated",
        "0.8",
        "--units",
        "8",
        "--per-container",
        "5",
        "--icc",
        "0.1",
    )
    assert pots["method"] == "simulated"
    assert 0 < pots["power"] < 1
    assert pots["units_needed"] > 8


def test_in_words_it_says_what_it_found() -> None:
    found = CliRunner().invoke(
        app, ["power", "--control", "0.3", "--treated", "0.6", "--units", "3"]
    )
    assert "They can never show anything" in found.output
    assert "in 100: 48 plants per treatment" in found.output
    tiny = CliRunner().invoke(
        app, ["power", "--control", "0.5", "--treated", "0.51", "--units", "9"]
    )
    assert "More than can be calculated here" in tiny.output


@pytest.mark.parametrize(
    ("args", "part"),
    [
        (("--control", "50", "--treated", "0.8", "--units", "9"), "a share, not per cent"),
        (("--control", "0.5", "--treated", "0.8", "--units", "0"), "--units must be 1 to"),
        (("--control", "0.5", "--treated", "0.8", "--units", "9", "--icc", "1"), "--icc must be"),
        (("--control", "0.5", "--treated", "0.8", "--units", "9", "--aim", "1"), "--aim must be between"),
        (("--control", "0.5", "--treated", "0.8", "--units", "9", "--pairs", "--per-container", "3"),
         "Pairs of containers"),
    ],
)  # fmt: skip
def test_bad_input_is_one_sentence_and_exit_2(args: tuple[str, ...], part: str) -> None:
    found = CliRunner().invoke(app, ["power", *args])
    assert found.exit_code == 2
    assert part in found.output
