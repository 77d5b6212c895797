"""`racecard finish`: JSON and words of a table, and exit 2 with the screen's own sentences."""

import json
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner

from racecard.cli.main import app
from tests.reference_data import orobanche_csv


def run(path: Path, *options: str) -> Any:
    return CliRunner().invoke(app, ["finish", str(path), *options])


@pytest.fixture
def plates(tmp_path: Path) -> Path:
    path = tmp_path / "plates.csv"
    path.write_bytes(orobanche_csv())
    return path


def test_json_tells_treatments_comparisons_and_notes(plates: Path) -> None:
    found = json.loads(run(plates, "--json").output)
    bean, cucumber = found["treatments"]
    assert (bean["treatment"], bean["n_units"], bean["n"], bean["struck"]) == ("bean", 10, 395, 148)
    assert cucumber["rate_pooled"] == pytest.approx(276 / 436, abs=1e-12)
    assert cucumber["half_struck_day"] is None
    comparison = found["comparisons"][0]
    assert comparison["p"] == pytest.approx(0.00176939, abs=1e-8)
    assert comparison["floor"] == pytest.approx(2 / 116_424, rel=1e-12)
    assert comparison["low"] < comparison["points"] < comparison["high"]
    assert comparison["grade"] == "clear_lead"
    assert comparison["harm"] is False
    assert "not_in_this_table" in [n["code"] for n in found["notes"]]


def test_counted_singly_p_floor_and_interval_are_null_with_a_reason(plates: Path) -> None:
    comparison = json.loads(run(plates, "--unit", "propagule", "--json").output)["comparisons"][0]
    for figure in ("p", "floor", "low", "high"):
        assert comparison[figure] is None
    assert comparison["reason"] == "shared_containers"
    assert comparison["points"] is not None


def test_words_say_the_same(plates: Path) -> None:
    found = run(plates, "--control", "cucumber").output
    assert found.startswith(
        "Bean is clearly behind: containers averaged 35 % struck, against 60 % for"
    )
    assert "Steward's note" in found


def test_days_give_the_day_by_which_half_had_struck(tmp_path: Path) -> None:
    path = tmp_path / "t.csv"
    rows = ["treatment,role,outcome,day_from,day_to,count"]
    rows += [
        "U,control,struck,6,9,2",
        "U,control,alive,,,6",
        "A,,struck,3,6,5",
        "A,,struck,6,9,2",
        "A,,alive,,,1",
    ]
    path.write_text("\n".join(rows))
    treatments = json.loads(run(path, "--json").output)["treatments"]
    assert treatments[1]["half_struck_day"] == 6
    assert treatments[1]["half_struck_interval"] == [3, 6]
    assert (treatments[0]["half_struck_day"], treatments[0]["half_struck_reason"]) == (
        None,
        "not reached",
    )


@pytest.mark.parametrize(
    ("content", "part"),
    [
        (b"treatment,outcome\nA,grew\nB,flew", "Row 3, outcome"),
        (b"", "empty"),
        (b"treatment,role,outcome\nA,control,alive\nB,control,alive", "both called the control"),
    ],
)
def test_a_bad_file_exits_2_with_a_sentence(tmp_path: Path, content: bytes, part: str) -> None:
    path = tmp_path / "bad.csv"
    path.write_bytes(content)
    found = run(path, "--json")
    assert found.exit_code == 2
    assert part in found.output


def test_a_missing_and_a_huge_file_exit_2(tmp_path: Path) -> None:
    assert run(tmp_path / "none.csv").exit_code == 2
    huge = tmp_path / "huge.csv"
    with huge.open("wb") as file:
        file.truncate(50_000_000)
    assert "25 MB is the most" in run(huge).output


def test_the_floor_is_told_in_units_of_an_arm(tmp_path: Path) -> None:
    path = tmp_path / "t.csv"
    path.write_text("treatment,role,outcome,count\nU,control,alive,3\nA,,struck,3")
    found = json.loads(run(path, "--json").output)
    note = next(n for n in found["notes"] if n["code"] == "floor_too_high")
    assert "With 3 per treatment" in note["sentence"]
    assert "at least 4 of each" in note["do"]
    assert found["comparisons"][0]["floor"] == pytest.approx(0.1, abs=1e-12)
    assert found["comparisons"][0]["grade"] == "cannot_tell_by_design"


def test_pairs_are_blocks_of_two_and_runs_are_strata(tmp_path: Path) -> None:
    """Six pairs, all in favour: 2 / 2^6, the sign test, whether named as block or as run."""
    for column in ("block", "run"):
        path = tmp_path / f"{column}.csv"
        rows = [
            f"{t},{i},{o}" for i in range(6) for t, o in (("untreated", "alive"), ("A", "struck"))
        ]
        path.write_text("\n".join([f"treatment,{column},outcome", *rows]))
        comparison = json.loads(run(path, "--json").output)["comparisons"][0]
        assert comparison["p"] == comparison["floor"] == pytest.approx(2 / 2**6, abs=1e-12)


def test_every_note_of_the_log_can_come_from_a_table(tmp_path: Path) -> None:
    path = tmp_path / "t.csv"
    head = "treatment,role,tray,row,col,outcome,day_from,day_to,day"
    rows = [f"U,control,1,1,{c},struck,{c % 2 * 3},{c % 2 * 3 + 3}," for c in range(1, 9)]
    rows += [f"A,,1,2,{c},lost,0,,6" for c in range(1, 8)] + ["A,,1,2,8,struck,0,6,"]
    path.write_text("\n".join([head, *rows]))
    codes = {n["code"] for n in json.loads(run(path, "--json").output)["notes"]}
    assert {"rows_by_treatment", "more_loss", "unequal_looks", "lot_not_recorded"} <= codes


def test_the_words_begin_with_the_answer_card(tmp_path: Path) -> None:
    table = tmp_path / "t.csv"
    table.write_text("treatment,struck,count\nWater,3,12\nIBA,9,12\n")
    for options, begins in (
        ((), "No verdict: no control is named."),
        (("--control", "water"), "IBA is clearly ahead: 9 of 12"),
    ):
        words = run(table, *options).output.splitlines()
        assert words[0].startswith(begins)
        assert words[0] == json.loads(run(table, *options, "--json").output)["answer"]["text"]
        assert ("Name the control with --control, if the table holds one." in words) is (
            not options
        )


def test_plants_of_which_nothing_is_told_are_not_said_to_have_failed(tmp_path: Path) -> None:
    table = tmp_path / "t.csv"
    table.write_text("treatment,role,container,well,n\nA,candidate,c1,8,10\nU,control,c2,3,10\n")
    said = CliRunner().invoke(app, ["finish", str(table)])
    assert said.exit_code == 2
    assert "No column says what became of the plants: add outcome" in said.output
    assert "well do not say how many struck" in said.output
    table.write_text(
        "treatment,role,container,struck,well\nA,candidate,c1,8,10\nU,control,c2,3,10\n"
    )
    said = CliRunner().invoke(app, ["finish", str(table)])
    assert "8 of how many? Add a column count." in said.output


@pytest.mark.parametrize(
    ("kinds", "says"),
    [
        (("seeds", "seed"), "9 of 10 came up"), (("cutting", ""), "9 of 10 rooted"), (("", ""), "9 of 10 struck"),
        (("seed", "cutting"), "holds cuttings and seeds"), (("moss", ""), "kind: must be one of cutting, seed"),
    ],
)  # fmt: skip
def test_a_table_says_what_it_holds(tmp_path: Path, kinds: tuple[str, str], says: str) -> None:
    path = tmp_path / "kinds.csv"
    rows = (f"Control,2,10,{kinds[0]}", f"Soaked,9,10,{kinds[1]}")
    path.write_text("\n".join(("treatment,struck,count,kind", *rows)))
    found = run(path)
    assert says in found.output + found.stderr
