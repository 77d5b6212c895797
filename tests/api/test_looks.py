"""A trial that began before it was written down, and its looks so far as a grid."""

from datetime import timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.conftest import NOON

JARS = {
    "question": "Does seaweed root sage?", "names": ["Plain water", "Seaweed"], "control": 0, "seed": 4,
    "places": [[0, None, 1, 1], [None, 0, 1]], "at": (NOON - timedelta(days=20)).isoformat(),
}  # fmt: skip


def begun(client: TestClient, **changes: Any) -> Any:
    found = client.post("/api/trials/begun", json=JARS | changes)
    assert found.status_code == 201, found.text
    return found.json()


def marks(client: TestClient, trial: Any) -> dict[str, list[str]]:
    grid = client.get(f"/api/trials/{trial['id']}/looks").json()
    return {u["name"]: u["marks"] for u in grid["units"]}


def send(client: TestClient, trial: Any, **cells: str) -> Any:
    """Marks by position for the tenth day after the start."""
    grid = client.get(f"/api/trials/{trial['id']}/looks").json()
    ids = {u["name"]: u["id"] for u in grid["units"]}
    on = (NOON - timedelta(days=10)).date().isoformat()
    sent = [{"unit_id": ids[at], "on": on, "mark": mark} for at, mark in cells.items()]
    return client.post(f"/api/trials/{trial['id']}/looks", json={"cells": sent})


def test_what_has_begun_stands_as_it_stood_and_says_so(client: TestClient) -> None:
    trial = begun(client)
    units = client.get(f"/api/trials/{trial['id']}/looks").json()["units"]
    placed = {u["name"]: u["treatment"] for u in units}
    assert placed == {"A1": 0, "A3": 1, "A4": 1, "B2": 0, "B3": 1}
    assert trial["today"] == 20
    assert trial["plan"]["look_days"][0] > 20
    assert [t["units"] for t in trial["plan"]["treatments"]] == [2, None]
    send(client, trial, A1="1", A3="6")
    notes = client.get(f"/api/trials/{trial['id']}/finish").json()["notes"]
    assert {"not_drawn", "written_afterwards"} <= {n["code"] for n in notes}


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"places": [[None, None]]}, "Nothing stands on the bench"),
        ({"places": [[0, 0]]}, "Seaweed stands nowhere"),
        ({"places": [[0, 1, 7]]}, "There is no treatment 8"),
        ({"places": [[0] * 61, [1]]}, "at most 60 rows of 60"),
        ({"at": (NOON + timedelta(days=2)).isoformat()}, "lies in the future"),
        ({"at": (NOON - timedelta(days=500)).isoformat()}, "more than 400 days back"),
        ({"names": ["Sea", "sea"]}, "both called"),
        ({"time_zone": "Moon/Sea"}, "time zone must be a name"),
        ({"control": 7}, "There is no treatment 8"),
    ],
)
def test_what_cannot_stand_so_is_said_and_nothing_is_saved(
    client: TestClient, change: dict[str, Any], says: str
) -> None:
    found = client.post("/api/trials/begun", json=JARS | change)
    assert found.status_code == 422
    assert says in found.json()["detail"]
    assert client.get("/api/trials").json() == []


def test_marks_go_in_and_come_back_as_they_were(client: TestClient) -> None:
    trial = begun(client)
    sent = {"A1": "6s", "A3": "rooted, shoot", "A4": "rotted", "B2": "First root", "B3": "3 x w"}
    assert send(client, trial, **sent).status_code == 200
    assert marks(client, trial) == {"A1": ["6s"], "A3": ["6s"], "A4": ["8"], "B2": ["5"], "B3": ["3xw"]}  # fmt: skip
    again = marks(client, trial)
    assert send(client, trial, **{at: m[0] for at, m in again.items()}).status_code == 200
    units = client.get(f"/api/trials/{trial['id']}/looks").json()["units"]
    unit = next(u["id"] for u in units if u["name"] == "A1")
    history = f"/api/trials/{trial['id']}/units/{unit}/log"
    assert len(client.get(history).json()) == 1  # what is there already adds nothing
    send(client, trial, A1="5")
    send(client, trial, A1="")
    assert marks(client, trial)["A1"] == [""]
    assert [o["kind"] for o in client.get(history).json()] == ["look", "look", "void", "void"]


def test_counts_are_marks_of_containers(client: TestClient) -> None:
    trial = begun(client, per_container=6)
    sent = {"A1": "3", "A3": "2 lost 1 after 1 removed 1 rotted", "A4": "0"}
    assert send(client, trial, **sent).status_code == 200
    got = marks(client, trial)
    assert {at: got[at][0] for at in sent} == sent
    bad = send(client, trial, A1="7", B2="some")
    assert [e["pointer"] for e in bad.json()["errors"]] == ["/cells/1/mark"]
    assert "only 6 were set" in send(client, trial, A4="1", A1="7").json()["detail"]
    assert marks(client, trial)["A4"] == ["0"]


@pytest.mark.parametrize(("mark", "says"), [("-", "two things"), ("q", "is not a stage"), ("66", "is not a stage")])  # fmt: skip
def test_every_bad_mark_is_told_and_none_is_saved(client: TestClient, mark: str, says: str) -> None:
    trial = begun(client)
    found = send(client, trial, A1=mark, A3="6", A4=mark).json()
    assert [e["pointer"] for e in found["errors"]] == ["/cells/0/mark", "/cells/2/mark"]
    assert says in found["detail"]
    assert found["detail"].startswith("A1, 15 May: ")
    assert marks(client, trial)["A3"] == []


def test_the_grid_goes_out_and_in_again(client: TestClient) -> None:
    trial, twin = begun(client), begun(client)
    send(client, trial, A1="6s", A3="8", B3="1")
    sheet = client.get(f"/api/trials/{trial['id']}/looks.csv").content
    assert sheet.splitlines()[0].startswith(b"Position,Treatment,20")
    read = client.post(f"/api/trials/{twin['id']}/looks/read", content=sheet).json()
    assert read["aside"] == []
    client.post(f"/api/trials/{twin['id']}/looks", json={"cells": read["cells"]})
    assert marks(client, twin) == marks(client, trial)


@pytest.mark.parametrize(
    ("sheet", "says"),
    [
        (b"", "empty"),
        (b"Position\tmood\nA1\t6\n", "No column has a date"),
        (b"Position\tday 5\nZ9\t6\n", "not a position here"),
        (b"Position\t03/04/2026\nA1\t6\n", "Does 03/04/2026 mean"),
    ],
)
def test_a_sheet_that_cannot_be_placed_is_refused(
    client: TestClient, sheet: bytes, says: str
) -> None:
    found = client.post(f"/api/trials/{begun(client)['id']}/looks/read", content=sheet)
    assert found.status_code == 422
    assert says in found.json()["detail"]
    is_order = says.startswith("Does")
    assert found.json()["type"] == f"/problems/{'dates_asked' if is_order else 'invalid_input'}"


def test_days_and_dates_head_the_columns(client: TestClient) -> None:
    trial = begun(client)
    sheet = b"Pot;day 5;mood;03/04/2026\na1;6;happy;5\n"
    read = client.post(f"/api/trials/{trial['id']}/looks/read?dates=day-first", content=sheet)
    assert [c["on"] for c in read.json()["cells"]] == [
        (NOON - timedelta(days=15)).date().isoformat(), "2026-04-03",
    ]  # fmt: skip
    assert read.json()["aside"] == ["The column mood was left aside: it is not a date."]
