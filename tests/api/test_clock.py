"""A wrong clock of the server: nothing is dated by it until it is set right or confirmed."""

from datetime import timedelta

from fastapi.testclient import TestClient

from tests.api.test_api import begin, tap, units
from tests.builders import a_draft
from tests.conftest import Clock


def send_as(
    client: TestClient, trial: str, item: dict[str, object], device: str, sent_at: str | None = None
) -> int:
    body = {"items": [item | {"device": device}]} | ({"sent_at": sent_at} if sent_at else {})
    return int(client.post(f"/api/trials/{trial}/observations", json=body).status_code)


def test_a_clock_that_runs_backwards_dates_nothing_until_confirmed(
    client: TestClient, clock: Clock
) -> None:
    trial = begin(client, clock, days=5)
    one, two, three, *_ = (u["id"] for u in units(client, trial))
    right = clock.now.isoformat()
    assert send_as(client, trial["id"], tap(one, "tap-0001", clock, stage=3), "a") == 200
    clock.forward(-2)
    late = tap(two, "tap-0002", clock, stage=3) | {"seen_at": right}
    assert send_as(client, trial["id"], late, "a", right) == 503
    note = {
        "items": [
            {"id": "note-0001", "kind": "note", "scope": "trial", "text": "x", "seen_at": right}
        ]
    }
    assert client.post(f"/api/trials/{trial['id']}/entries", json=note).status_code == 503
    form = {"id": "photo-0001", "scope": "trial", "seen_at": right, "sent_at": right}
    photo = client.post(f"/api/trials/{trial['id']}/photos", data=form, files={"photo": b"x"})
    assert photo.status_code == 503
    cell = {"unit_id": three, "on": "2026-05-28", "mark": "3"}
    assert (
        client.post(f"/api/trials/{trial['id']}/looks", json={"cells": [cell]}).status_code == 503
    )
    draft = client.post("/api/trials", json=a_draft()).json()["id"]
    assert client.post(f"/api/trials/{draft}/start", json={}).status_code == 503
    told = client.get("/api/clock").json()["says"]
    assert "23 May 2026" not in told
    assert "28 May 2026" in told
    assert "30 May 2026" in told
    clock.forward(2)
    assert send_as(client, trial["id"], late, "a", right) == 200
    log = client.get(f"/api/trials/{trial['id']}/units/{two}/log").json()
    assert [o["day"] for o in log] == [5]
    clock.forward(-1)  # it was ahead before, and is right now
    assert client.post("/api/clock/confirm").json()["says"] == ""
    assert send_as(client, trial["id"], tap(three, "tap-0003", clock, stage=3), "a") == 200
    clock.forward(-1)
    assert send_as(client, trial["id"], tap(three, "tap-0004", clock, stage=6), "a") == 503


def test_phones_that_agree_on_another_time_are_asked_about_one_alone_is_put_right(
    client: TestClient, clock: Clock
) -> None:
    trial = begin(client, clock, days=3)
    ids = [u["id"] for u in units(client, trial)]
    true = (clock.now + timedelta(days=2)).isoformat()
    first = tap(ids[0], "tap-0001", clock, stage=3) | {"seen_at": true}
    assert send_as(client, trial["id"], first, "a", true) == 200
    second = tap(ids[1], "tap-0002", clock, stage=3) | {"seen_at": true}
    assert send_as(client, trial["id"], second, "b", true) == 503
    assert (
        "48 hours behind most phones" in client.get("/api/clock").json()["says"]
        or "2 days behind" in client.get("/api/clock").json()["says"]
    )
    assert client.post("/api/clock/confirm").json()["says"] == ""
    assert send_as(client, trial["id"], second, "b", true) == 200


def test_phones_that_are_years_off_are_wrong_themselves(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock, days=3)
    ids = [u["id"] for u in units(client, trial)]
    for i, years in enumerate((-26, -26, 20)):
        reset = (clock.now + timedelta(days=365 * years)).isoformat()
        look = tap(ids[i], f"tap-000{i}", clock, stage=3) | {"seen_at": clock.now.isoformat()}
        send_as(client, trial["id"], look, f"phone {i}", reset)
    assert client.get("/api/clock").json()["says"] == ""
