"""Tables over HTTP: checked without saving, kept, judged, taken out."""

import json
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.api.test_api import begin, send, tap, units
from tests.conftest import Clock
from tests.reference_data import orobanche_csv

BAD = b"treatment,role,outcome\nU,control,alive\nA,,sprouted\nA,,struck"


def post(client: TestClient, path: str, content: bytes, **query: Any) -> Any:
    return client.post(f"/api/{path}", content=content, params=query)


def test_checking_saves_nothing_and_tells_every_bad_row(client: TestClient) -> None:
    found = post(client, "tables/check", BAD).json()
    assert found["bad_total"] == 1
    assert found["bad"][0]["says"].startswith("Row 3, outcome")
    assert found["finish"] is None
    assert client.get("/api/tables").json() == []
    left_out = post(client, "tables/check", BAD, skip=[3]).json()
    assert left_out["finish"]["comparisons"][0]["grade"] == "cannot_tell_by_design"


def test_bad_rows_are_kept_out_of_the_shed(client: TestClient) -> None:
    assert post(client, "tables", BAD, name="bad").status_code == 422
    assert client.get("/api/tables").json() == []
    assert post(client, "tables", BAD, name="mended", skip=[3]).status_code == 201


def test_a_kept_table_is_judged_anew_as_it_was_chosen(client: TestClient) -> None:
    kept = post(client, "tables", orobanche_csv(), name="plates", control="cucumber").json()
    found = client.get(f"/api/tables/{kept['id']}").json()
    assert found == kept
    assert found["control"] == "cucumber"
    assert found["finish"]["comparisons"][0]["p"] == pytest.approx(0.00176939, abs=1e-8)
    assert not found["finish"]["timed"]
    assert client.delete(f"/api/tables/{kept['id']}").status_code == 204
    assert client.get(f"/api/tables/{kept['id']}").status_code == 404


@pytest.mark.parametrize(
    ("content", "part"),
    [
        (b"", "empty"),
        (b"\x89PNG\r\n\x1a\n\x00\x00", "not a table"),
        (b"x" * 25_000_001, "larger than 25 MB"),
    ],
)
def test_a_file_that_is_no_table_gets_a_sentence(
    client: TestClient, content: bytes, part: str
) -> None:
    answer = post(client, "tables/check", content)
    assert answer.status_code == 422
    assert part in answer.json()["detail"]
    assert client.get("/api/trials").status_code == 200


def test_a_table_that_cannot_be_judged_says_why(client: TestClient) -> None:
    found = post(client, "tables/check", b"treatment,role\nA,control\nB,control").json()
    assert "both called the control" in found["problem"]
    assert post(client, "tables", b"treatment\nA", name=" ").status_code == 422


def test_a_trial_taken_out_and_read_in_is_judged_alike(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock, length_days=3)
    for i, unit in enumerate(units(client, trial)):
        stage = 6 if unit["cell"]["treatment"] else 1
        send(client, trial, tap(unit["id"], f"tap-{i:05}", clock, stage=stage))
    before = client.get(f"/api/trials/{trial['id']}/finish").json()
    table = client.get(f"/api/trials/{trial['id']}/table.csv")
    assert table.headers["content-disposition"].startswith("attachment")
    after = post(client, "tables/check", table.content).json()["finish"]
    for name in ("p", "p_holm", "floor", "gap", "grade", "harm", "over_time"):
        assert json.dumps(after["comparisons"][0][name]) == json.dumps(
            before["comparisons"][0][name]
        )


def test_a_sealed_trial_is_not_taken_out(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock, blind=True)
    assert client.get(f"/api/trials/{trial['id']}/table.csv").json()["type"] == "/problems/sealed"


def test_the_page_takes_no_more_rows_than_it_can_judge_in_seconds(client: TestClient) -> None:
    content = b"treatment,outcome,day_from,day_to\n" + b"A,struck,1,2\n" * 50_001
    answer = client.post("/api/tables/check", params={"name": "big.csv"}, content=content)
    assert answer.status_code == 422
    assert (
        "more than 50,000 rows: use “racecard finish FILE”" in answer.json()["errors"][0]["detail"]
    )
