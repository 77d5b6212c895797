"""`racecard mix`: a line worked out, in words and as JSON, and its exits."""

import json

import pytest
from click.testing import CliRunner

from racecard.cli.main import app

run = CliRunner().invoke


def test_a_line_as_json_says_what_was_understood_amounts_warnings_and_questions() -> None:
    out = run(app, ["mix", "250 mL of 1500 ppm IBA from 1 % stock", "--json"])
    found = json.loads(out.stdout)
    assert out.exit_code == 0
    assert found["understood"] == {"volume": "250 mL", "target": "1500 ppm", "stock": "1 %", "active": "IBA"}  # fmt: skip
    assert (found["amounts"][0]["value"], found["amounts"][0]["unit"]) == (37.5, "mL")
    assert [(t["text"], t["taken_as"]) for t in found["tokens"]][:2] == [("250", "volume"), ("mL", "volume")]  # fmt: skip
    assert found["tokens"][0]["span"] == [0, 3]
    assert found["warnings"] == []
    assert {q["key"] for q in found["questions"]} == {"percent", "label_meant"}
    assert found["open"] is False


def test_warnings_carry_codes() -> None:
    found = json.loads(run(app, ["mix", "1 L of 30000 ppm IBA from 5 %", "--json"]).stdout)
    assert [(w["code"], w["gravity"]) for w in found["warnings"]] == [("dip_far_too_strong", "refuse")]  # fmt: skip


def test_an_open_question_lists_its_answers_and_exits_3() -> None:
    out = run(app, ["mix", "1 tbsp per litre in 250 mL"])
    assert out.exit_code == 3
    assert "--choose spoon=au: Australian, 20 mL → To measure: 5 mL" in out.stdout
    answered = run(app, ["mix", "1 tbsp per litre in 250 mL", "--choose", "spoon=au"])
    assert answered.exit_code == 0
    assert "To measure: 5 mL" in answered.stdout


@pytest.mark.parametrize(
    ("args", "says"),
    [(["1;5"], "numbers but no unit"), (["250 smoots of 1500 ppm from 1 %"], "is not understood"), (["0 mL of 1 ppm from 1 %"], "is nothing"), (["1:8", "--choose", "parts"], "question=answer")],
)  # fmt: skip
def test_bad_input_is_one_sentence_and_exits_2(args: list[str], says: str) -> None:
    out = run(app, ["mix", *args])
    assert out.exit_code == 2
    assert says in out.stderr
    assert out.stderr.count("\n") == 1
