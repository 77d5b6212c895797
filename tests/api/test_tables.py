"""Tables over HTTP: checked without saving, kept, judged, taken out."""

import json
import time
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.api.test_api import begin, send, tap, units
from tests.conftest import Clock
from tests.reference_data import orobanche_csv

BAD = b"treatment,role,outcome\nU,control,alive\nA,,grew\nA,,struck"


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
    found = post(
        client, "tables/check", b"treatment,role,outcome\nA,control,alive\nB,control,alive"
    ).json()
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
    for name in ("p", "p_holm", "minimum_p", "gap", "grade", "harm", "over_time"):
        assert json.dumps(after["comparisons"][0][name]) == json.dumps(
            before["comparisons"][0][name]
        )


def test_a_sealed_trial_is_not_taken_out(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock, blind=True)
    assert client.get(f"/api/trials/{trial['id']}/table.csv").json()["type"] == "/problems/sealed"


LONG = b"treatment,role,outcome\n" + b"U,control,alive\n" * 6_000 + b"A,,struck\n" * 6_000


def waited(client: TestClient, found: Any) -> Any:
    while found.get("work"):
        time.sleep(0.05)
        found = client.get(f"/api/tables/work/{found['work']['id']}").json()
    return found


def test_a_long_table_is_judged_in_a_process_of_its_own_and_kept(client: TestClient) -> None:
    begun = post(client, "tables/check", LONG, name="long").json()
    assert begun["work"]
    assert begun["finish"] is None
    found = waited(client, begun)
    assert found["rows"] == 12_000
    assert [arm["struck"] for arm in found["arms"]] == [0, 6_000]
    kept = post(client, "tables", LONG, name="kept").json()
    assert (kept["name"], kept["finish"]) == ("kept", found["finish"])
    assert client.get(f"/api/tables/{kept['id']}").json() == kept


def test_a_long_table_can_be_stopped_and_only_two_are_read_at_once(client: TestClient) -> None:
    works = [post(client, "tables/check", LONG + b"B,,struck\n" * n).json()["work"] for n in (1, 2)]
    third = post(client, "tables/check", LONG)
    assert third.json()["type"] == "/problems/conflict"
    assert post(client, "tables", LONG + b"B,,struck\n", name="early").status_code == 409
    for work in works:
        assert client.delete(f"/api/tables/work/{work['id']}").status_code == 204
        assert client.get(f"/api/tables/work/{work['id']}").status_code == 404
    again = post(client, "tables/check", LONG)
    assert again.status_code == 200
    waited(client, again.json())


def test_a_long_file_that_is_no_table_says_so(client: TestClient) -> None:
    begun = post(client, "tables/check", LONG.replace(b"treatment", b"colour", 1)).json()
    assert "no column called treatment" in json.dumps(waited(client, begun))


def test_what_a_table_holds_may_be_said_when_it_does_not(client: TestClient) -> None:
    table = b"treatment,role,outcome,count\nU,control,struck,4\nU,control,alive,6\nA,,struck,9\nA,,alive,1"  # fmt: skip
    assert post(client, "tables/check", table).json()["kind"] == "cutting"
    kept = post(client, "tables", table, name="seeds", kind="seed").json()
    found = client.get(f"/api/tables/{kept['id']}").json()
    assert (found["kind"], found["finish"]["lanes"][0]["done"]) == ("seed", "came up")
    assert post(client, "tables/check", table, kind="bush").status_code == 422
    own = table.replace(b"count\n", b"count,kind\n").replace(b",4\n", b",4,cutting\n")
    assert "holds cuttings and seeds" in post(client, "tables/check", own, kind="seed").json()["problem"]  # fmt: skip


def test_the_returns_of_gardens_keep_their_turnout(client: TestClient) -> None:
    rows = [f"G{i},10,{6 + i % 4},{3 + i % 2}" for i in range(8)] + ["G9,10,,"]
    form = "\n".join(["Garden,Seeds,Soak,Dry", *rows]).encode()
    said = {"map": ["struck:Soak=Soak", "struck:Dry=Dry", "count=Seeds"], "enrolled": 12}
    kept = post(client, "gardens", form, name="In 12 gardens", control="Dry", kind="seed", **said)
    found = client.get(f"/api/tables/{kept.json()['id']}").json()
    assert found["turnout_says"] == "12 gardens joined, 8 started, 8 sent a result, 4 sent none."
    assert "many_gardens_missing" in [n["code"] for n in found["finish"]["notes"]]
    assert found["kind"] == "seed"
    (line,) = [x for x in client.get("/api/form-book").json()["lines"] if x["is_table"]]
    assert line["invented"] is False
    assert post(client, "gardens/read", form, **(said | {"enrolled": 3})).json()["asks"].startswith("3 gardens joined")  # fmt: skip
