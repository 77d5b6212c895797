"""The scorer trainer over HTTP: blind drawings, kept sittings, and what a trial says of its scorers."""

from fastapi.testclient import TestClient

from racecard.api.app import create_app
from racecard.core.trainer.drawn import session
from tests.conftest import Demo


def test_drawings_tell_no_score_and_a_sitting_is_kept(client: TestClient) -> None:
    drawn = client.get("/api/trainer/drawings", params={"seed": 5}).json()
    assert len(drawn) == 24
    assert set(drawn[0]) == {"lines", "around", "clod"}
    truth = [d.score for d in session(5)]
    told = client.post("/api/trainer/sittings", json={"seed": 5, "marks": truth})
    assert (told.status_code, told.json()["same"], told.json()["truth"]) == (201, 24, truth)
    (kept,) = client.get("/api/trainer/sittings").json()
    assert kept["says"] == told.json()["says"]
    for marks in ([3] * 23, [9] * 24, ["3"] * 24):
        refused = client.post("/api/trainer/sittings", json={"seed": 5, "marks": marks})
        assert refused.status_code == 422
    assert len(client.get("/api/trainer/sittings").json()) == 1


def test_a_trial_says_how_its_scorers_did(demo: Demo) -> None:
    client = TestClient(create_app(demo.shed), "http://127.0.0.1", headers={"X-Who": "Ines"})
    path = f"/api/trials/{demo.trials[0].id}/agreement"
    assert client.get(path).json()["trained"] == ["Ines has not been tried with drawn roots."]
    marks = [d.score for d in session(5)]
    client.post("/api/trainer/sittings", json={"seed": 5, "marks": marks})
    (told,) = client.get(path).json()["trained"]
    assert told.startswith("Ines, with drawn roots on ")
    assert "24 of 24 marks were exactly right" in told
