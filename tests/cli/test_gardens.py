"""`racecard gardens-import` and the gardens that are played: every row's fate, and what they come to."""

import csv
import json
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner
from scipy.stats import binomtest

from racecard.cli.main import app

WIDE = "struck:Soak=Soaked,struck:Dry=Dry,count=Seeds,start=Sown,date=Counted"


def imported(path: Path, *options: str) -> Any:
    return CliRunner().invoke(app, ["gardens-import", str(path), *options, "--json"])


def read(path: Path, *options: str) -> Any:
    found = imported(path, *options)
    assert found.exit_code == 0, found.output
    return json.loads(found.stdout)


def form(tmp_path: Path, *rows: str, heads: str = "Garden,Sown,Counted,Seeds,Soaked,Dry,Remarks") -> Path:  # fmt: skip
    path = tmp_path / "form.csv"
    path.write_text("\n".join((heads, *rows)))
    return path


GOOD = [f"G{i},2026-05-03,2026-05-24,10,{7 + i % 3},{3 + i % 2}," for i in range(8)]


def test_twenty_one_pairs_as_gardens_agree_with_the_sign_test(tmp_path: Path) -> None:
    """Freireich et al. (1963), Blood 21, 699-716: of 21 pairs 18 preferred the treated, 3 the control."""
    rows = [f"P{i},{'yes' if i < 18 else 'no'},{int(i >= 18)}" for i in range(21)]
    found = read(form(tmp_path, *rows, heads="Pair,Treated,Placebo"),
                 "--map", "garden=Pair,struck:Treated=Treated,struck:Placebo=Placebo", "--control", "Placebo")  # fmt: skip
    (comparison,) = found["comparisons"]
    assert comparison["p"] == pytest.approx(binomtest(18, 21).pvalue, rel=1e-12)
    assert comparison["points"] == pytest.approx(100 * 15 / 21)
    assert found["gardens"]["compared"] == 21


@pytest.mark.parametrize(
    ("row", "fate", "why"),
    [
        ("G9,2026-05-03,,10,,,", "no result sent", ""),
        ("G9,2026-05-03,,10,,,withdrew: slugs", "withdrawn", ""),
        ("G9,2026-05-03,2026-05-24,10,8,,", "one treatment only", "cannot be compared"),
        ("G9,2026-05-03,2026-05-24,10,14,5,", "refused", "14 of 10 cannot be"),
        ("G9,2026-05-03,2026-05-24,10,lots,5,", "refused", "“lots”"),
        ("G9,2026-05-03,2026-05-24,10,yes,5,", "refused", "“yes”"),
        ("g0 ,2026-05-03,2026-05-24,10,7,3,", "sent twice", "The same as row 2"),
        ("G9,2026-05-24,2026-05-03,10,8,5,", "refused", "begun on 24 May 2026"),
        ("G9,2026-05-03,2099-05-03,10,8,5,", "refused", "lies in the future"),
        ("G9,31 February,2026-05-03,10,8,5,", "refused", "is not a date"),
        ("G0,2026-05-03,2026-05-24,10,7,3,", "sent twice", "The same as row 2"),
        ("G0,2026-05-03,2026-05-24,10,9,3,", "refused", "says otherwise than row 2"),
        ("G9,2026-05-03,2026-05-10,10,8,5,", "refused", "on day 7; the last day is 21"),
        ("G9,2026-05-03,2026-06-03,10,8,5,", "taken", ""),
    ],
)
def test_every_row_has_its_fate(tmp_path: Path, row: str, fate: str, why: str) -> None:
    found = read(form(tmp_path, *GOOD, row), "--map", WIDE, "--control", "Dry", "--days", "21")
    assert (found["rows"][-1]["fate"], found["rows"][-1]["row"]) == (fate, 10)
    assert why in found["rows"][-1]["why"]
    assert found["gardens"]["compared"] == 8 + (fate == "taken")
    assert found["final"]


def test_a_long_form_is_read_by_its_headings(tmp_path: Path) -> None:
    rows = [
        f"G{i};{arm};10;{n}"
        for i in range(6)
        for arm, n in (("Soak" if i else "soak ", 8), ("Dry" if i % 2 else "dry", 3 + i % 2))
    ]
    found = read(
        form(tmp_path, *rows, heads="Household;Treatment;Sown;Came up"), "--control", "Dry"
    )
    assert found["mapped"] == {
        "garden": "Household", "treatment": "Treatment", "count": "Sown", "struck": "Came up",
    }  # fmt: skip
    assert found["gardens"]["compared"] == 6
    assert found["comparisons"][0]["points"] == pytest.approx(45)
    same = [f"G{i},,,10,8,{3 + i % 2}," for i in range(6)]
    wide = read(form(tmp_path, *same), "--map", "struck:Soak=Soaked,struck:Dry=Dry,count=10", "--control", "Dry")  # fmt: skip
    assert wide["comparisons"][0]["p"] == found["comparisons"][0]["p"]


@pytest.mark.parametrize(
    ("options", "says"),
    [
        (("--map", "colour=Soaked"), "not a pair of a field and its column"),
        (("--map", "struck:Soak=Wet,struck:Dry=Dry"), "No column is called “Wet”"),
        ((), "Say which columns hold the results"),
        (("--map", "treatment=Garden,struck=Dry,garden="), "not a pair"),
    ],
)
def test_a_map_that_cannot_be_is_refused(
    tmp_path: Path, options: tuple[str, ...], says: str
) -> None:
    found = imported(form(tmp_path, *GOOD, heads="Plot,Sown,Counted,Seeds,Soaked,Dry,Remarks"), *options)  # fmt: skip
    assert found.exit_code == 2
    assert says in found.stderr


def test_a_form_of_nothing_but_faults_says_what_they_are(tmp_path: Path) -> None:
    said = imported(form(tmp_path, "G1,2026-05-03,2026-05-24,10,14,5,"), "--map", WIDE).stderr
    assert "Row 2: refused. 14 of 10 cannot be." in said


def test_dates_that_read_two_ways_are_asked_about(tmp_path: Path) -> None:
    path = form(tmp_path, *[f"G{i},03/05/2026,05/06/2026,10,8,4," for i in range(6)])
    assert "--dates day-first" in imported(path, "--map", WIDE, "--control", "Dry").stderr
    assert read(path, "--map", WIDE, "--control", "Dry", "--dates", "day-first")["gardens"]["compared"] == 6  # fmt: skip


def test_played_gardens_are_all_accounted_for(tmp_path: Path) -> None:
    played = CliRunner().invoke(app, ["gardens", "--count", "60", "--silent", "0.3", "--faults"])
    path = tmp_path / "form.csv"
    path.write_text(played.stdout)
    rows = list(csv.DictReader(played.stdout.splitlines()))
    asked = "struck:Soak=Warm soak,struck:Dry=Dry,count=Seeds in each,start=Sown on,date=Counted on"
    found = read(path, "--map", asked, "--control", "Dry")
    assert len(found["rows"]) == len(rows)
    assert found["gardens"]["enrolled"] == 60
    assert 8 <= found["gardens"]["silent"] <= 28
    assert {"taken", "no result sent", "refused"} <= {r["fate"] for r in found["rows"]}
    assert "More than a quarter are missing" in found["says"]
    assert found["treatments"][1]["half_struck_interval"] in (None, [0, 21])


def test_gardens_that_joined_and_sent_nothing_are_told(tmp_path: Path) -> None:
    sent = [f"G{i},2026-05-01,2026-05-29,10,9,4," for i in range(1, 10)]
    silent = ["G10,2026-05-02,,10,,,", "G11,,,10,,,", "G12,2026-05-01,,10,,,withdrew"]
    path = form(tmp_path, *sent, *silent)
    found = read(path, "--map", WIDE, "--control", "Dry")
    kept = ("enrolled", "started", "returned", "silent", "withdrawn")
    assert [found["gardens"][k] for k in kept] == [12, 11, 9, 2, 1]
    note = next(n for n in found["notes"] if n["code"] == "gardens_missing")
    # 50 points in 9 gardens are gone if 3 others bring 150 points against them: they cannot
    assert "Even with the opposite result in all of them" in note["sentence"]
    more = read(path, "--map", WIDE, "--control", "Dry", "--enrolled", "20")
    assert [more["gardens"][k] for k in kept] == [20, 11, 9, 10, 1]
    note = next(n for n in more["notes"] if n["code"] == "many_gardens_missing")
    assert note["sentence"].startswith("11 of 20 gardens that joined are not compared.")
    assert "if theirs were 41 points the other way, on average" in note["sentence"]  # 50 * 9 / 11
    fewer = imported(path, "--map", WIDE, "--control", "Dry", "--enrolled", "5")
    assert fewer.exit_code == 2
    assert "5 gardens joined, but the form names 12" in fewer.stderr
    clean = read(form(tmp_path, *sent), "--map", WIDE, "--control", "Dry")
    assert "gardens_missing" not in [n["code"] for n in clean["notes"]]
