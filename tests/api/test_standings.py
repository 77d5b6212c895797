"""Lists from summaries kept beside the trials: always what a full computation gives, whatever is odd."""

import random
import sqlite3

import pytest
from fastapi.testclient import TestClient

from racecard.store.engine import Shed
from racecard.store.summaries import forget_summaries
from tests.api.test_api import begin, send, tap, units
from tests.builders import a_draft
from tests.conftest import Clock

LISTS = ("/api/trials", "/api/today", "/api/dry-runs/plans")


def same_as_made_anew(client: TestClient, shed: Shed) -> None:
    for path in LISTS:
        kept = client.get(path).json()
        forget_summaries(shed)
        assert client.get(path).json() == kept, path
        assert client.get(path).json() == kept, path


@pytest.mark.parametrize("seed", range(2))
def test_a_kept_summary_is_what_a_full_computation_gives(client: TestClient, shed: Shed, clock: Clock, seed: int) -> None:  # fmt: skip
    rng = random.Random(seed)
    made = [begin(client, clock, rng.randint(0, 4), length_days=9, look_every_days=3, blind=bool(i % 2), units=3)
            for i in range(3)]  # fmt: skip
    client.post("/api/trials", json=a_draft(question="a draft"))
    for step in range(14):
        trial = client.get(f"/api/trials/{rng.choice(made)['id']}").json()
        at, act = f"/api/trials/{trial['id']}", rng.randrange(6)
        if act < 3 and trial["today"] <= 12:
            for i, unit in enumerate(units(client, trial)):
                if rng.random() < 0.8:
                    send(
                        client,
                        trial,
                        tap(unit["id"], f"tap-{step:02}-{i:03}", clock, stage=rng.choice([1, 6])),
                    )
        elif act == 3:
            event = {"id": f"event-{step:03}", "kind": "event", "scope": "trial", "what": "follow_up", "text": "again",
                     "values": {"day": rng.randint(5, 40)}, "seen_at": clock.now.isoformat()}  # fmt: skip
            client.post(f"{at}/entries", json={"items": [event]})
        elif act == 4:
            client.post(f"{at}/amend", json={"change": {"length_days": 9 + step}, "reason": "slow"})
        elif act == 5:
            client.post(f"{at}/unseal")
        same_as_made_anew(client, shed)
        clock.forward(rng.choice([0, 0, 1, 3]))
        same_as_made_anew(client, shed)
    clock.forward(200)
    same_as_made_anew(client, shed)
    with sqlite3.connect(shed.path) as db:
        assert db.execute("SELECT count(*) FROM summary WHERE day IS NULL").fetchone()[0] >= 1


def test_an_odd_trial_is_told_with_its_fault_and_hides_no_other(client: TestClient, shed: Shed, clock: Clock) -> None:  # fmt: skip
    odd, good = begin(client, clock), begin(client, clock, question="Good")
    with sqlite3.connect(shed.path) as db:
        db.execute("UPDATE trial SET design = 'no JSON' WHERE id = ?", (odd["id"],))
    lines = {line["id"]: line for line in client.get("/api/trials").json()}
    assert "cannot be read" in lines[odd["id"]]["fault"]
    assert lines[good["id"]]["fault"] == ""
    told = {t["trial_id"]: t["kind"] for t in client.get("/api/today").json()}
    assert (told[odd["id"]], told[good["id"]]) == ("fault", "look")
    assert [p["trial_id"] for p in client.get("/api/dry-runs/plans").json()] == [good["id"]]


def test_a_list_comes_in_pages(client: TestClient) -> None:
    for i in range(5):
        client.post("/api/trials", json=a_draft(question=f"Trial {i}"))
    whole = client.get("/api/trials").json()
    assert client.get("/api/trials?limit=2&offset=2").json() == whole[2:4]
    assert client.get("/api/trials?limit=0").status_code == 422


def test_a_declared_group_that_was_never_set_says_so_and_hides_no_other(client: TestClient, clock: Clock) -> None:  # fmt: skip
    arms = [
        {"name": name, "role": role, "silk": silk}
        for name, role, silk in (("None", "control", "plain"), ("IBA", "candidate", "hoops"), ("NAA", "candidate", "sash"))
    ]  # fmt: skip
    groups = [{"one": ["IBA"], "zero": ["None"]}, {"one": ["NAA"], "zero": ["None"]}]
    trial = begin(client, clock, treatments=arms, contrasts=groups, units=4)
    unset = [u["id"] for u in units(client, trial) if u["cell"]["treatment"] == 2]
    items = [{"unit_id": id_, "is_set": False, "why": "rotten"} for id_ in unset]
    assert client.post(f"/api/trials/{trial['id']}/settings", json={"items": items}).status_code < 300  # fmt: skip
    seen = [u for u in units(client, trial) if u["id"] not in unset]
    taps = [tap(u["id"], f"tap-{i:06}", clock, stage=6) for i, u in enumerate(seen)]
    assert send(client, trial, *taps).status_code == 200
    where = f"/api/trials/{trial['id']}/contrasts"
    first, second = client.get(where).json()
    assert first["gap"] is not None
    assert (second["gap"], second["one"], second["is_declared"]) == (None, [2], True)
    assert "has no plants" in second["says"][0]
    assert client.get(where, params={"one": 2, "zero": 0}).status_code == 422
