"""The whole form book out and in: nothing lost, nothing twice, all of it or nothing."""

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from racecard.api.app import create_app
from racecard.formats.book_file import schema_text
from racecard.store.engine import Shed
from tests.builders import a_draft
from tests.conftest import Clock, Demo


def client_of(shed: Shed) -> TestClient:
    return TestClient(create_app(shed), "http://127.0.0.1")


@pytest.fixture
def other(tmp_path: Path, clock: Clock) -> Iterator[TestClient]:
    shed = Shed(tmp_path / "other", now=clock)
    yield client_of(shed)
    shed.close()


def book_of(client: TestClient) -> dict[str, Any]:
    answer = client.get("/api/form-book/book.json")
    assert answer.status_code == 200
    found: dict[str, Any] = answer.json()
    return found


def bring(client: TestClient, book: dict[str, Any] | bytes) -> Any:
    content = book if isinstance(book, bytes) else json.dumps(book).encode()
    return client.post("/api/form-book/bring-in", content=content)


def lines_of(client: TestClient) -> list[Any]:
    """The lines without what is the shed's own: ids, and the day on which a table came in."""
    asked: dict[str, Any] = {"waiting": 1}
    while asked["waiting"]:  # a slow machine reads some of them for the next who asks
        asked = client.get("/api/form-book", params={"most": 500, "sort": "oldest"}).json()
    found = [{**x, "trial": "", "repeats": bool(x["repeats"])} for x in asked["lines"]]
    return sorted(found, key=lambda x: (x["question"], x["began"]))


def without_keys(book: dict[str, Any]) -> list[Any]:
    trials = [t["trial"] for t in book["trials"]]
    for trial in trials:  # a photo comes as the note that one was taken
        trial["diary"] = [e for e in trial.get("diary", []) if e["kind"] not in ("photo", "note")]
    return [trials, book["tables"]]


def test_a_series_goes_out_and_comes_in_as_a_file_of_its_own(demo: Demo, other: TestClient) -> None:
    here = client_of(demo.shed)
    olive = next(t for t in demo.trials if t.plan.question.startswith("Olive") and t.started_at)
    series = here.get(f"/api/trials/{olive.id}/series.json").json()
    assert len(series["trials"]) == 4
    assert not series.get("tables")
    assert bring(other, series).json()["trials"] == 4
    first = other.get("/api/trials").json()[0]["id"]
    assert len(other.get(f"/api/trials/{first}/runs").json()["runs"]) == 4
    assert here.get("/api/trials/none/series.json").status_code == 404


def test_a_book_brought_into_another_server_is_the_same_book(demo: Demo, other: TestClient) -> None:
    here = client_of(demo.shed)
    book = book_of(here)
    answer = bring(other, book)
    assert answer.status_code == 201
    told = {"trials": len(demo.trials), "tables": 1, "already": 0, "left_out": []}
    assert answer.json() == told
    assert lines_of(other) == lines_of(here)
    again = bring(other, book_of(other)).json()
    assert again == {"trials": 0, "tables": 0, "already": len(demo.trials) + 1, "left_out": []}
    assert without_keys(book_of(other)) == without_keys(book)
    mine, theirs = (
        {x["question"]: len(c.get(f"/api/trials/{x['trial']}/runs").json()["runs"]) for x in lines}
        for c, lines in (
            (c, c.get("/api/form-book?most=500").json()["lines"]) for c in (here, other)
        )
        for lines in [[x for x in lines if not x["is_table"]]]
    )
    assert theirs == mine
    assert max(mine.values()) >= 3


def test_a_blind_trial_stays_at_home_and_is_named(shed: Shed, other: TestClient) -> None:
    here = client_of(shed)
    made = here.post("/api/trials", json=a_draft(blind=True, question="Blind?")).json()
    here.post(f"/api/trials/{made['id']}/start", json={})
    here.post("/api/trials", json=a_draft(question="A draft?", seed=9))
    book = book_of(here)
    assert (len(book["trials"]), book["left_out"]) == (1, ["Blind?"])
    assert bring(other, book).json()["left_out"] == ["Blind?"]


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda b: b | {"format": "racecard-form-book-9"}, "not a form book file of version 1: at format"),
        (lambda b: b | {"trials": [*b["trials"], b["trials"][0]]}, "have the same key"),
        (lambda b: b | {"tables": [{**b["tables"][0], "content": "no base 64!"}]}, "is not base 64"),
        (lambda b: b | {"trials": [*b["trials"][:2], {"key": "x", "trial": {"seed": 1}}]}, "Trial x: This is not a complete trial"),
        (lambda b: b"[1, 2", "not a form book file"),
    ],
)  # fmt: skip
def test_a_book_that_is_wrong_is_refused_whole(
    demo: Demo, other: TestClient, change: Any, says: str
) -> None:
    answer = bring(other, change(book_of(client_of(demo.shed))))
    assert answer.status_code == 422
    assert says in answer.json()["detail"]
    assert other.get("/api/trials").json() == []
    assert other.get("/api/tables").json() == []


def test_the_published_schema_is_current() -> None:
    assert Path("docs/form-book.schema.json").read_text() == schema_text()
