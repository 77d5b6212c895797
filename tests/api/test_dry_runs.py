"""Dry runs and races over HTTP: begun, stopped, kept, compared, and what is refused."""

import time
from typing import Any

import pytest
from fastapi.testclient import TestClient

from racecard.api.app import create_app
from racecard.core.dryrun.race import race
from racecard.store.engine import Shed
from tests.builders import a_draft


@pytest.fixture
def client(shed: Shed) -> TestClient:
    return TestClient(create_app(shed), "http://127.0.0.1")


def body(client: TestClient, **changes: Any) -> dict[str, Any]:
    trial = client.post("/api/trials", json=a_draft(units=8)).json()
    truths = [{"strike": s, "middle_day": 20} for s in (0.3, 0.8)]
    return {"trial_id": trial["id"], "truths": truths, "seasons": 60, "seed": 3} | changes


def over(client: TestClient, job: dict[str, Any]) -> dict[str, Any]:
    for _ in range(400):
        job = client.get(f"/api/dry-runs/jobs/{job['id']}").json()
        if job["state"] != "running":
            return job
        time.sleep(0.05)
    raise AssertionError("the dry run never ended")


def test_a_dry_run_is_carried_out_kept_and_looked_at_again(client: TestClient) -> None:
    begun = client.post("/api/dry-runs/jobs", json=body(client)).json()
    job = over(client, begun)
    result = job["carried"]["result"]
    tally = result["tallies"][0]
    assert job["state"] == "done"
    assert (
        tally["right"] + tally["likely"] + tally["silent"] + tally["wrong"] == 60 == result["done"]
    )
    lucky = client.get(f"/api/dry-runs/jobs/{job['id']}/seasons/{result['seasons'][2]}").json()
    kept = client.post(f"/api/dry-runs/jobs/{job['id']}/keep", json={"name": "eight each"}).json()
    again = client.get(f"/api/dry-runs/{kept['id']}/seasons/{result['seasons'][2]}").json()
    assert again == lucky
    assert [k["name"] for k in client.get("/api/dry-runs").json()] == ["eight each"]
    assert client.delete(f"/api/dry-runs/{kept['id']}").status_code == 204
    assert client.get(f"/api/dry-runs/{kept['id']}").status_code == 404


def test_another_design_is_carried_out_beside_the_plan(client: TestClient) -> None:
    wide = over(
        client, client.post("/api/dry-runs/jobs", json=body(client, changes={"units": 24})).json()
    )
    narrow = over(client, client.post("/api/dry-runs/jobs", json=body(client)).json())
    right = [j["carried"]["result"]["tallies"][0]["right"] for j in (narrow, wide)]
    assert right[1] > right[0]
    assert wide["carried"]["design"]["units"] == 24


def test_a_dry_run_can_be_stopped(client: TestClient) -> None:
    begun = client.post("/api/dry-runs/jobs", json=body(client, seasons=5000)).json()
    client.delete(f"/api/dry-runs/jobs/{begun['id']}")
    job = over(client, begun)
    assert job["state"] == "stopped"
    assert job["done"] < 5000


def test_the_plans_come_with_what_their_growers_expect(client: TestClient) -> None:
    body(client)
    found = client.get("/api/dry-runs/plans").json()
    assert [t["strike"] for t in found[0]["truths"]] == [0.5, 0.7]


@pytest.mark.parametrize(
    ("changes", "part"),
    [
        ({"truths": [{"strike": 0.5, "middle_day": 20}]}, "2 treatments"),
        ({"truths": [{"strike": 2, "middle_day": 20}] * 2}, "strike must be"),
        ({"seasons": 10**6}, "seasons must be"),
        ({"changes": {"blocks": 40}}, "block"),
        ({"nuisance": {"missed": 1}}, "missed must be"),
    ],
)
def test_what_cannot_be_carried_out_is_said(
    client: TestClient, changes: dict[str, Any], part: str
) -> None:
    answer = client.post("/api/dry-runs/jobs", json=body(client, **changes))
    assert answer.status_code == 422
    assert part in answer.json()["errors"][0]["detail"]


def test_unknown_jobs_and_seasons_are_not_found(client: TestClient) -> None:
    assert client.get("/api/dry-runs/jobs/none").status_code == 404
    job = over(client, client.post("/api/dry-runs/jobs", json=body(client)).json())
    assert client.get(f"/api/dry-runs/jobs/{job['id']}/seasons/60").status_code == 404
    assert (
        client.post(f"/api/dry-runs/jobs/{job['id']}/keep", json={"name": " "}).status_code == 422
    )


def test_a_race_hides_what_it_was_until_it_is_read(client: TestClient) -> None:
    for number in range(12):
        shown = client.get(f"/api/races/{number}").json()
        assert shown["finish"]["comparisons"] == []
        assert shown["finish"]["headline"] == ""
        real = client.post(f"/api/races/{number}", json={"real": True}).json()
        luck = client.post(f"/api/races/{number}", json={"real": False}).json()
        assert real["right"] != luck["right"]
        assert real["real"] == (real["gap"] != 0)
    assert client.get("/api/races/-1").status_code == 422


def test_about_half_of_the_races_are_luck() -> None:
    assert 30 <= sum(race(n).is_real for n in range(100)) <= 70
