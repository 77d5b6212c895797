"""The form book over HTTP, on the demo: lines, a plant, the runs of one plan, and nothing of a sealed trial."""

import csv
import io
import json
import time
from collections.abc import Iterator
from dataclasses import asdict, replace
from datetime import datetime
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from openpyxl import load_workbook
from sqlalchemy import select, text
from sqlalchemy.orm import Session

from racecard.api.app import create_app
from racecard.api.standings import lines_of_all
from racecard.core.finish.of_trial import TrialFinish
from racecard.core.formbook.line import from_record
from racecard.core.model import Status, Trial
from racecard.core.model.observation import Entry, Scope
from racecard.formats.sheet import read_lines
from racecard.formats.workbook import write_workbook
from racecard.store import summaries as summary_store
from racecard.store.diary import record_entries
from racecard.store.finish import finished
from racecard.store.form_book import form_book
from racecard.store.tables import FormLineRow, SummaryRow, TrialRow
from racecard.store.trials import create_trial, start_trial
from tests.builders import a_plan
from tests.conftest import Clock, Demo


@pytest.fixture
def book(demo: Demo) -> Iterator[TestClient]:
    form_book(demo.shed, patience_s=60)
    with TestClient(create_app(demo.shed), "http://127.0.0.1") as client:
        yield client


def asked(client: TestClient, **query: Any) -> Any:
    answer = client.get("/api/form-book", params=query)
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_every_trial_has_a_line_with_the_verdict_of_its_finish(
    book: TestClient, demo: Demo
) -> None:
    found = asked(book)
    assert (found["found"], found["waiting"]) == (
        len(demo.trials) + 1,
        0,
    )  # and the gardens' returns
    for x in found["lines"]:
        if x["best"] is None:
            continue
        at = f"/api/tables/{x['trial']}" if x["is_table"] else f"/api/trials/{x['trial']}/finish"
        found = book.get(at).json()
        finish = found["finish"] if x["is_table"] else found
        (seen,) = [
            c for c in finish["comparisons"]
            if finish["lanes"][c["treatment"]]["name"] == x["best"]["name"]
        ]  # fmt: skip
        assert seen["grade"] == x["best"]["grade"]
    assert {x["state"] for x in asked(book)["lines"]} == {"draft", "running", "finished"}


def test_lines_are_searched_filtered_sorted_and_cut(book: TestClient) -> None:
    assert [x["plant"] for x in asked(book, text="sweet soak")["lines"]] == ["Sweet pea"]
    olive = asked(book, plant="Olive", state="finished", sort="oldest")
    assert olive["found"] == 3
    assert [x["began"] for x in olive["lines"]] == sorted(x["began"] for x in olive["lines"])
    assert len(asked(book, most=2)["lines"]) == 2
    assert asked(book, text="nothing like it")["lines"] == []
    assert book.get("/api/form-book", params={"sort": "charm"}).status_code == 422


def test_a_line_is_made_anew_once_something_of_its_trial_is_written(
    book: TestClient, demo: Demo
) -> None:
    def kept() -> int:
        with demo.shed.reading() as session:
            return len(session.scalars(select(FormLineRow.trial_id)).all())

    before = kept()
    lavender = demo.trials[0].id
    note = {
        "id": "note-00001", "kind": "note", "scope": "trial", "text": "watered late",
        "seen_at": demo.shed.now().isoformat(),
    }  # fmt: skip
    assert book.post(f"/api/trials/{lavender}/entries", json={"items": [note]}).status_code == 200
    assert kept() == before - 1
    assert asked(book)["waiting"] == 0
    assert kept() == before


@pytest.mark.parametrize("lists", ["form book", "lists"])
def test_what_is_written_while_a_line_is_made_is_not_missed(
    demo: Demo, monkeypatch: pytest.MonkeyPatch, lists: str
) -> None:
    """A line made from what stood before a write must not be kept after it."""
    pea = demo.trials[1]
    written: list[str] = []

    def write_once(id_: str) -> None:
        if id_ == pea.id and not written:
            written.append(id_)
            event = Entry(
                "late-0001", "note", Scope.TRIAL, "", 0, demo.shed.now(), "me", text="late"
            )
            record_entries(demo.shed, pea.id, [event])

    def judged(session: Session, trial: Trial, now: datetime) -> TrialFinish:
        found = finished(session, trial, now)
        write_once(trial.id)
        return found

    def contents(session: Session, row: TrialRow, today: int | None) -> summary_store.Contents:
        found = whole_contents(session, row, today)
        write_once(row.id)
        return found

    whole_contents = summary_store._contents
    monkeypatch.setattr("racecard.store.form_book.finished", judged)
    monkeypatch.setattr(summary_store, "_contents", contents)
    if lists == "form book":
        form_book(demo.shed, patience_s=60)
        kept = select(FormLineRow.trial_id)
    else:
        summary_store.forget_summaries(demo.shed)
        lines_of_all(demo.shed)
        kept = select(SummaryRow.trial_id)
    with demo.shed.reading() as session:
        ids = session.scalars(kept).all()
    assert written
    assert pea.id not in ids
    assert len(ids) == len(demo.trials) - 1


def test_a_plant_s_page_and_what_is_not_there(book: TestClient) -> None:
    found = book.get("/api/form-book/plant", params={"plant": "Olive"}).json()
    assert [r["treatment"] for r in found["shown"]] == ["IBA 3000 ppm"]
    assert len(found["shown"][0]["results"]) == 3
    parsley = book.get("/api/form-book/plant", params={"plant": "Parsley"}).json()
    results = [x for side in ("shown", "open") for r in parsley[side] for x in r["results"]]
    assert {x["is_table"] for x in results} == {True, False}  # the returns of its gardens, too
    assert found["usual"]["trials"] == 3
    assert "in 3 trials" in found["usual_says"]
    own = book.get("/api/form-book/usual", params={"material": "parsley", "kind": "seed"}).json()
    assert own["icc"]["trials"] == 1
    assert 0 <= own["icc"]["value"] < 0.3
    assert own["spread"] is None
    assert "medium" in found["untried"]
    assert book.get("/api/form-book/plant", params={"plant": "Oak"}).status_code == 404


def test_runs_of_one_plan_know_each_other(book: TestClient, demo: Demo) -> None:
    third = next(x for x in asked(book, plant="Olive")["lines"] if x["state"] == "draft")
    found = book.get(f"/api/trials/{third['trial']}/runs").json()
    assert [r["line"]["state"] for r in found["runs"]] == ["finished"] * 3 + ["draft"]
    assert [r["here"] for r in found["runs"]] == [False] * 3 + [True]
    assert found["repeat"]["changes"] == []
    assert "further run" in found["repeat"]["says"]
    ids = [r["line"]["trial"] for r in found["runs"][:3]]
    series = book.post("/api/series", json={"runs": ids}).json()
    (arm,) = [t for t in series["treatments"] if t["treatment"] == "IBA 3000 ppm"]
    assert len(arm["runs"]) == 3
    assert arm["further"] is not None
    alone = book.get(f"/api/trials/{demo.trials[0].id}/runs").json()
    assert (len(alone["runs"]), alone["repeat"]) == (1, None)


def test_the_book_goes_out_as_a_table_with_its_dictionary(book: TestClient) -> None:
    told = list(csv.DictReader(io.StringIO(book.get("/api/form-book/table.csv?plant=Olive").text)))
    assert [r["treatment"] for r in told].count("IBA 3000 ppm") == 3
    assert {r["state"] for r in told} == {"draft", "finished"}
    drafts = [r for r in told if r["state"] == "draft"]
    assert [(r["treatment"], r["control_n"]) for r in drafts] == [("", "")]
    first = next(r for r in told if r["treatment"])
    assert -1 <= float(first["difference_low"]) <= float(first["difference"]) <= 1
    columns = list(csv.DictReader(io.StringIO(book.get("/api/form-book/columns.csv").text)))
    assert [c["column"] for c in columns] == list(told[0])


def test_a_sealed_trial_tells_no_result(demo: Demo, clock: Clock) -> None:
    plan = a_plan("Untreated", "IBA", blind=True)
    trial = create_trial(demo.shed, plan, 1, "me")
    start_trial(demo.shed, trial.id, "me", clock.now)
    (line,) = [x for x in form_book(demo.shed, patience_s=60).lines if x.trial == trial.id]
    assert (line.state.value, line.best, line.control) == ("blind", None, None)


def test_five_thousand_trials_are_searched_at_once(book: TestClient, demo: Demo) -> None:
    """Rows as they stand after they were read once; searching must not read trials again."""
    (one,) = [x for x in form_book(demo.shed).lines if x.plant == "Lavender"]
    with demo.shed.writing() as session:
        first = demo.trials[0]
        assert first.status is Status.STARTED
        columns = [r[1] for r in session.execute(text("PRAGMA table_info(trial)"))]
        names = ", ".join(f'"{c}"' for c in columns)
        for i in range(5000):
            row = ", ".join(f"'{i:032d}'" if c == "id" else f'"{c}"' for c in columns)
            session.execute(
                text(f"INSERT INTO trial ({names}) SELECT {row} FROM trial WHERE id = :id"),
                {"id": first.id},
            )
            line = json.dumps(asdict(replace(one, trial=f"{i:032d}", plant=f"Plant {i % 90}")))
            session.add(FormLineRow(trial_id=f"{i:032d}", day=None, line=line))
    assert from_record(json.loads(line)).best == one.best
    asked(book)
    start = time.perf_counter()
    found = asked(book, plant="Plant 7")
    print(f"5,000 lines searched in {time.perf_counter() - start:.2f} s")
    assert (found["found"], found["waiting"]) == (56, 0)
    assert found["all"] > 5000


def test_imported_results_stand_in_the_book_with_the_verdict_of_their_page(
    client: TestClient,
) -> None:
    content = (Path(__file__).parents[2] / "docs" / "examples" / "results.csv").read_bytes()
    kept = client.post("/api/tables", params={"name": "Seaweed on sage"}, content=content).json()
    found = asked(client, text="seaweed sage")
    (line,) = found["lines"]
    assert (line["is_table"], line["state"]) == (True, "finished")
    page = client.get(f"/api/tables/{kept['id']}").json()["finish"]
    grades = {
        page["lanes"][c["treatment"]]["name"]: c["grade"] for c in page["comparisons"]
    }  # fmt: skip
    assert grades[line["best"]["name"]] == line["best"]["grade"]
    assert client.delete(f"/api/tables/{kept['id']}").status_code == 204
    assert asked(client, text="seaweed sage")["lines"] == []


def test_the_table_comes_as_a_workbook_with_its_dictionary(book: TestClient) -> None:
    answer = book.get("/api/form-book/table.xlsx", params={"plant": "Olive"})
    found = load_workbook(io.BytesIO(answer.content), read_only=True)
    told = {s.title: [[c for c in row] for row in s.iter_rows(values_only=True)] for s in found}
    csv_rows = list(
        read_lines(book.get("/api/form-book/table.csv", params={"plant": "Olive"}).content)
    )
    heads = told["form book"][0]
    assert [heads, len(told["form book"])] == [csv_rows[0], len(csv_rows)]
    assert {type(row[heads.index("difference")]) for row in told["form book"][1:]} <= {float, int, type(None)}  # fmt: skip
    assert [row[0] for row in told["columns"][1:]] == heads


def test_no_text_becomes_a_formula_in_a_workbook() -> None:
    alike = [("x", [["a"], ["1"]])]
    with pytest.MonkeyPatch.context() as later:
        first = write_workbook(alike)
        later.setattr("time.time", lambda: 2_000_000_000.0)
        assert write_workbook(alike) == first
    content = write_workbook([("x", [["a", "b"], ["=1+1", "-0.25"], ["@SUM(A1)", "007"]])])
    rows = list(load_workbook(io.BytesIO(content)).active.iter_rows())
    assert [[c.value for c in r] for r in rows[1:]] == [["=1+1", -0.25], ["@SUM(A1)", "007"]]
    assert {c.data_type for c in rows[1]} == {"s", "n"}
