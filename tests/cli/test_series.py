"""`racecard series`: runs judged together, against published values; and what may not be joined."""

import json
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner
from fastapi.testclient import TestClient

from racecard.cli.main import app
from tests.conftest import Clock, Demo

ADMISSIONS = {"A": (512, 313, 89, 19), "B": (353, 207, 17, 8), "C": (120, 205, 202, 391), "D": (138, 279, 131, 244),
              "E": (53, 138, 94, 299), "F": (22, 351, 24, 317)}  # fmt: skip
"""Admitted and rejected men, then women, by department: Bickel, Hammel & O'Connell (1975), Science 187, 398-404."""


def table(path: Path, *arms: tuple[str, int, int], end: int = 42, more: str = "") -> Path:
    """Struck and stuck of each treatment, the first the control."""
    head, value = (f",{more.split('=')[0]}", f",{more.split('=')[1]}") if more else ("", "")
    lines = [f"treatment,role,outcome,count,end_day{head}"]
    for i, (name, struck, stuck) in enumerate(arms):
        role = "candidate" if i else "control"
        said = value if i else value and ","
        for outcome, n in (("struck", struck), ("alive", stuck - struck)):
            lines += [f"{name},{role},{outcome},{n},{end}{said}"] if n else []
    path.write_text("\n".join(lines))
    return path


def series(*files: Path, **options: str) -> Any:
    told = [x for name, value in options.items() for x in (f"--{name}", value)]
    return CliRunner().invoke(app, ["series", *map(str, files), *told, "--json"])


def together(*files: Path, **options: str) -> Any:
    found = series(*files, **options)
    assert found.exit_code == 0, found.output
    return json.loads(found.stdout)


def test_runs_are_compared_inside_each_run_not_summed(tmp_path: Path) -> None:
    """8/10 against 24/40 and 4/30 against 1/10: +20 and +3, summed −20, Mantel-Haenszel +11.9355 by hand."""
    one = table(tmp_path / "the first.csv", ("U", 24, 40), ("A", 8, 10))
    two = table(tmp_path / "another.csv", ("U", 1, 10), ("A", 4, 30))
    found = together(one, two)
    assert [r["run"] for r in found["runs"]] == ["the first", "another"]
    assert [r["gap"] for r in found["runs"]] == pytest.approx([20, 100 / 30], abs=1e-9)
    assert found["gap"] == pytest.approx(11.9355, abs=1e-4)
    assert found["further_low"] is None
    assert found["course"][-1]["p"] == found["p"]


def test_six_departments_agree_with_published_and_library(tmp_path: Path) -> None:
    files = [
        table(tmp_path / f"{d}.csv", ("Women", w, w + wr), ("Men", m, m + mr))
        for d, (m, mr, w, wr) in ADMISSIONS.items()
    ]
    found = together(*files)
    assert found["gap"] == pytest.approx(-1.84252, abs=1e-5)  # R mantelhaen.test; CHECKS A2
    assert found["q_p"] < 0.01  # department A is unlike the others
    assert [r["run"] for r in found["runs"]] == list(ADMISSIONS)
    assert found["next_low"] < found["further_low"] < found["further_high"] < found["next_high"]
    assert found["low"] <= found["gap"] <= found["high"]


@pytest.mark.parametrize(
    ("other", "says"),
    [
        ((("U", 4, 28), ("IBA 3000", 9, 20)), "share no treatment"),
        ((("Water", 4, 28), ("A", 9, 20)), "different controls, U and Water"),
        ((("U", 24, 40), ("A", 8, 10)), "hold the same rows"),
    ],
)
def test_what_may_not_be_joined_is_refused_with_the_reason(
    tmp_path: Path, other: tuple[tuple[str, int, int], ...], says: str
) -> None:
    one = table(tmp_path / "one.csv", ("U", 24, 40), ("A", 8, 10))
    found = series(one, table(tmp_path / "two.csv", *other))
    assert found.exit_code == 2
    assert says in found.stderr


def test_doses_and_last_days_that_differ_are_not_summed(tmp_path: Path) -> None:
    arms = (("U", 24, 40), ("A", 8, 10))
    one = table(tmp_path / "one.csv", *arms, more="factor_ppm=1000")
    two = table(tmp_path / "two.csv", *arms, more="factor_ppm=3000", end=28)
    said = series(one, two).stderr
    assert "A is 1000 in one and 3000 in two" in said
    assert "judged by day 42, two by day 28" in said


def test_runs_keep_their_order_whatever_they_are_called(tmp_path: Path) -> None:
    names = ("run b", "run", "a run")
    files = [table(tmp_path / f"{n}.csv", ("U", 4 + i, 20), ("A", 12, 20)) for i, n in enumerate(names)]  # fmt: skip
    found = together(*files)
    assert [r["run"] for r in found["runs"]] == list(names)
    assert found["course"][0]["gap"] == pytest.approx(40)


def test_bad_files_are_named(tmp_path: Path) -> None:
    one = table(tmp_path / "one.csv", ("U", 24, 40), ("A", 8, 10))
    bad = tmp_path / "bad.csv"
    bad.write_text("treatment,outcome\nU,perhaps\n")
    assert "bad.csv: Row 2, outcome" in series(one, bad).stderr
    assert "2 to 60 runs; this has 1" in series(one).stderr
    assert "cannot be read" in series(one, tmp_path / "none.csv").stderr


def test_treatments_of_some_runs_only_are_left_out_by_name(tmp_path: Path) -> None:
    one = table(tmp_path / "one.csv", ("U", 4, 20), ("A", 8, 20), ("B", 9, 20))
    two = table(tmp_path / "two.csv", ("U", 5, 20), ("b", 12, 20))
    found = together(one, two)
    assert (found["treatment"], found["left_out"]) == ("B", ["A"])
    assert "no treatment of all runs" in series(one, two, treatment="A").stderr.lower()


def test_whole_trials_join_where_they_are_alike(tmp_path: Path, demo: Demo, clock: Clock) -> None:
    from racecard.api.app import create_app

    client = TestClient(create_app(demo.shed), "http://127.0.0.1")
    whole = {t.plan.question.split(":")[0]: t.id for t in demo.trials}
    files = []
    for name in ("Lavender", "Parsley"):
        path = tmp_path / f"{name}.json"
        path.write_bytes(client.get(f"/api/trials/{whole[name]}/trial.json").content)
        files.append(path)
    found = series(*files)
    assert found.exit_code == 2
    assert "Lavender is a trial of cuttings, Parsley one of seeds" in found.stderr
    as_table = tmp_path / "again.csv"
    lines = client.get(f"/api/trials/{whole['Lavender']}/table.csv").text.splitlines()
    as_table.write_text("\n".join(line for line in lines if ",2," not in line[:40]))
    joined = together(files[0], as_table, treatment="IBA 1000 ppm")
    assert [r["run"] for r in joined["runs"]] == ["Lavender", "again"]
