"""Rounds, diary, conditions, today and the gate over HTTP."""

import io
import json
from datetime import datetime, timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient
from PIL import Image

from racecard.core.log.histories import history_of_looks
from racecard.core.model.observation import Look
from racecard.store.engine import Shed
from tests.api.test_api import begin, send, tap, units
from tests.conftest import Clock


def entry(at: Clock, id: str = "entry-01", **fields: Any) -> dict[str, Any]:
    return {"id": id, "kind": "event", "what": "watered", "seen_at": at.now.isoformat(), **fields}


def write(client: TestClient, trial: dict[str, Any], *items: dict[str, Any]) -> Any:
    return client.post(f"/api/trials/{trial['id']}/entries", json={"items": items})


def photo(form: str = "JPEG") -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (64, 48), "#4d6b3c").save(out, form)
    return out.getvalue()


def test_the_same_histories_through_the_api_as_by_the_core(
    client: TestClient, clock: Clock
) -> None:
    trial = begin(client, clock, days=0, units=3, length_days=12, look_every_days=3)
    stages: dict[int, list[int | None]] = {
        3: [1, 1, 3, None, 1, 1],
        6: [1, 6, 3, 4, None, 1],
        9: [6, 6, 4, 6, 1, 1],
        12: [7, 6, 6, 7, 1, 3],
    }
    seen: list[list[Look]] = [[] for _ in range(6)]
    for day, row in stages.items():
        clock.forward(3)
        trial = client.get(f"/api/trials/{trial['id']}").json()
        for i, (unit, stage) in enumerate(zip(units(client, trial), row, strict=True)):
            if stage is not None:
                send(client, trial, tap(unit["id"], f"tap-{day:02}-{i:04}", clock, stage=stage))
                seen[i].append(Look(day, stage))
    found = client.get(f"/api/trials/{trial['id']}/finish").json()
    told = sorted(
        (line["after"], line["by"])
        for lane in found["lanes"]
        for line in lane["lines"]
        if line["by"]
    )
    histories = [history_of_looks(looks, 6) for looks in seen]
    assert told == sorted((h.struck_after, h.struck_by) for h in histories if h.struck_by)


def test_a_device_whose_clock_is_two_days_ahead_is_put_right(
    client: TestClient, clock: Clock
) -> None:
    trial = begin(client, clock)
    unit = units(client, trial)[0]["id"]
    ahead = clock.now + timedelta(days=2)
    item = {
        "id": "tap-0001",
        "unit_id": unit,
        "kind": "look",
        "seen_at": ahead.isoformat(),
        "stage": 3,
    }
    path = f"/api/trials/{trial['id']}/observations"
    assert client.post(path, json={"items": [item]}).status_code == 422
    found = client.post(path, json={"items": [item], "sent_at": ahead.isoformat()}).json()
    assert found["items"][0]["day"] == 3
    given = {
        **item,
        "id": "tap-0002",
        "seen_at": (clock.now - timedelta(days=1)).isoformat(),
        "given": True,
    }
    found = client.post(path, json={"items": [given], "sent_at": ahead.isoformat()}).json()
    assert found["items"][0]["day"] == 2


def test_a_difference_between_phones_shows_in_the_round(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock)
    unit = units(client, trial)[0]["id"]
    for device, stage in (("a", 3), ("b", 6)):
        send(
            client, trial, tap(unit, f"phone-{device}1", clock, stage=stage, base="", device=device)
        )
    shown = units(client, trial)[0]
    assert (shown["current"]["stage"], shown["conflict"]["stage"]) == (3, 6)


def test_the_diary_is_written_told_and_taken_back(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock)
    unit = units(client, trial)[0]["id"]
    items = [
        entry(clock, "entry-01", values={"amount": 400}),
        entry(
            clock,
            "entry-02",
            scope="unit",
            target=unit,
            kind="measure",
            what="",
            values={"height": 45},
        ),
        entry(clock, "entry-03", scope="arm", target="1", what="frost", values={"amount": -2}),
        entry(clock, "entry-04", kind="note", what="", text="nice morning"),
    ]
    for _ in range(2):
        assert write(client, trial, *items).status_code == 200
    said = [e["says"] for e in client.get(f"/api/trials/{trial['id']}/entries").json()]
    assert said == [
        "watered, 400 mL, the complete trial", "measured A1: height 45",
        "frost, -2 °C, IBA 1000 ppm", "note on the complete trial: nice morning",
    ]  # fmt: skip
    write(client, trial, entry(clock, "entry-05", kind="void", what="", corrects="entry-03"))
    told = client.get(f"/api/trials/{trial['id']}/rounds/3").json()["entries"]
    assert len(told) == 3
    lines = client.get(f"/api/trials/{trial['id']}/log").json()
    assert [x["state"] for x in lines if x["id"] == "entry-03"] == ["undone"]
    assert [x["says"] for x in lines if x["id"] == "entry-05"] == [
        "undone: frost, -2 °C, IBA 1000 ppm"
    ]
    story = client.get(f"/api/trials/{trial['id']}/units/{unit}/story").json()
    assert any("height 45" in e["says"] for e in story["entries"])


@pytest.mark.parametrize(
    ("fields", "status", "says"),
    [
        ({"kind": "party"}, 422, "must be one of"),
        ({"scope": "planet"}, 422, "must be one of"),
        ({"values": {"amount": "much"}}, 422, "must be a"),
        ({"seen_at": "2026-05-25T07:40:00"}, 422, "needs a time zone"),
        ({"what": "x" * 70}, 422, "longer than"),
        ({"id": "short"}, 422, "id"),
        ({"scope": "unit", "target": "nobody"}, 404, "no such unit"),
        ({"extra": 1}, 422, "not known here"),
    ],
)
def test_bad_entries_get_one_sentence(
    client: TestClient, clock: Clock, fields: dict[str, Any], status: int, says: str
) -> None:
    trial = begin(client, clock)
    answer = write(client, trial, {**entry(clock), **fields})
    assert answer.status_code == status
    assert says.lower() in answer.json()["detail"].lower()


def test_a_note_proposes_and_keeps_nothing(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock)
    found = client.post(
        f"/api/trials/{trial['id']}/heard", json={"text": "a2 rotted, A3 not rooted"}
    ).json()
    assert [(h["code"], h["loss"]) for h in found] == [("A2", "rotted")]
    lines = client.get(f"/api/trials/{trial['id']}/log").json()
    assert [line["kind"] for line in lines] == ["trial"]


def test_photos_are_kept_told_by_age_and_served_small(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock)
    unit = units(client, trial)[0]
    form = {
        "id": "photo-001",
        "scope": "unit",
        "target": unit["id"],
        "seen_at": clock.now.isoformat(),
    }
    path = f"/api/trials/{trial['id']}/photos"
    for _ in range(2):
        answer = client.post(path, data=form, files={"photo": ("IBA.jpg", photo(), "image/jpeg")})
        assert answer.status_code == 201
    (shown,) = client.get(path).json()
    assert (shown["unit"], shown["treatment"]) == ("A1", unit["cell"]["treatment"])
    name = shown["entry"]["what"]
    small = client.get(f"{path}/{name}?thumb=true")
    assert small.headers["content-type"] == "image/jpeg"
    assert client.get(f"{path}/..%2f..%2fracecard.sqlite3").status_code == 404
    bad = client.post(
        path, data={**form, "id": "photo-002"}, files={"photo": ("x.jpg", b"no", "image/jpeg")}
    )
    assert bad.status_code == 422
    naive = {**form, "id": "photo-003", "seen_at": "2026-05-25T07:40:00"}
    assert (
        client.post(path, data=naive, files={"photo": ("x.jpg", photo(), "image/jpeg")}).status_code
        == 422
    )


def test_marks_on_a_photo_are_measured_here_and_become_data_only_when_said(
    client: TestClient, clock: Clock
) -> None:
    trial = begin(client, clock)
    unit = units(client, trial)[0]["id"]
    about = {"scope": "unit", "target": unit, "seen_at": clock.now.isoformat()}
    path = f"/api/trials/{trial['id']}/photos"
    client.post(
        path, data={"id": "photo-0001", **about}, files={"photo": ("a.jpg", photo(), "image/jpeg")}
    )

    def marks(length: float) -> str:
        lines = [[[0.1, 0.2], [0.1 + length, 0.2]]]
        return json.dumps({"scale": [[0.1, 0.1], [0.2, 0.1]], "known_mm": 10, "lines": lines})

    def traced(id: str, length: float, **more: Any) -> Any:
        told = {"kind": "traced", "what": "photo-0001", "values": {"longest": 999}, **about}
        return write(client, trial, {"id": id, "text": marks(length), **told, **more})

    def trace() -> Any:
        ((found,),) = [p["traces"] for p in client.get(path).json()]
        return found

    assert traced("trace-0001", 0.4).status_code == 200
    assert (trace()["longest"], trace()["roots"], trace()["measure"]) == (40.0, 1, None)
    took = {
        "id": "took-00001",
        "kind": "measure",
        "what": "trace-0001",
        "values": {"longest": 40.0},
    }
    assert write(client, trial, {**took, **about}).status_code == 200
    assert (trace()["measure"], trace()["is_current"]) == ("took-00001", True)
    assert traced("trace-0002", 0.3, corrects="trace-0001").status_code == 200
    assert (trace()["longest"], trace()["measure"], trace()["is_current"]) == (
        30.0,
        "took-00001",
        False,
    )
    says = [line["says"] for line in client.get(f"/api/trials/{trial['id']}/log").json()]
    assert any("marks on the photo of A1: longest 40 mm" in s for s in says)  # kept beside
    assert traced("trace-0003", 0.3, what="photo-0009").status_code == 404
    assert traced("trace-0004", 0.3, text="{}").status_code == 422
    kept = client.get(f"/api/trials/{trial['id']}/trial.json").content
    again = client.post("/api/trials/bring-in", content=kept)
    assert again.status_code == 201, again.text
    lines = client.get(f"/api/trials/{again.json()['id']}/log").json()
    assert any("marks were made on a photo: longest 30" in line["says"] for line in lines)


def test_the_log_is_taken_out_as_a_table_no_spreadsheet_runs(
    client: TestClient, clock: Clock
) -> None:
    trial = begin(client, clock)
    write(client, trial, entry(clock, kind="note", what="", text="=1+1", scope="trial"))
    send(client, trial, tap(units(client, trial)[0]["id"], "tap-0001", clock, stage=3))
    text = client.get(f"/api/trials/{trial['id']}/log.csv").text
    assert text.splitlines()[0] == "day,seen_at,who,kind,unit,state,says,id"
    assert "callus" in text
    assert ",=1" not in text


def test_readings_are_typed_watched_and_alarmed(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock)
    hours = [clock.now - timedelta(hours=h) for h in (6, 5, 4)]
    items = [
        {
            "place": "shelf",
            "quantity": "temperature",
            "at": at.isoformat(),
            "value": v,
            "unit": "°F",
        }
        for at, v in zip(hours, (68, 95, 70), strict=True)
    ]
    assert client.post("/api/readings", json={"items": items}).json() == {"added": 3, "known": 0}
    assert client.post("/api/readings", json={"items": items}).json() == {"added": 0, "known": 3}
    watch = {"place": "shelf", "quantity": "temperature", "high": 30, "base": 5}
    found = client.post(f"/api/trials/{trial['id']}/watches", json=watch).json()
    (curve,) = found["curves"]
    assert curve["days"][0]["n"] == 2  # 35 °C between 20 and 21 is a spike, and left out
    assert curve["faults"][0]["kind"] == "spike"
    assert curve["days_without"] == 3
    assert "add nothing, so the sum is too low" in curve["says"]
    assert client.get("/api/places").json()[0]["readings"] == 3
    bad = client.post("/api/readings", json={"items": [{**items[0], "value": 999}]})
    assert "between -40 and 80" in bad.json()["detail"]
    off = client.post(f"/api/trials/{trial['id']}/watches", json={**watch, "is_on": False}).json()
    assert off["curves"] == []


def test_a_loggers_file_goes_through_preview_and_columns(client: TestClient, clock: Clock) -> None:
    begin(client, clock)
    content = b"when,temp,rh\n2026-05-25 10:00,20,90\n2026-05-25 11:00,21,91\n"
    shown = client.post("/api/readings/preview", files={"file": ("l.csv", content)}).json()
    form = {"place": "shelf", "time": str(shown["time"]), "columns": json.dumps(shown["columns"])}
    for added, twice in ((4, 0), (0, 4)):
        found = client.post(
            "/api/readings/file", data=form, files={"file": ("l.csv", content)}
        ).json()
        assert (found["added"], found["duplicates"]) == (added, twice)
    for wrong in ("nonsense", "[]", '[{"index": 1, "quantity": "mood"}]'):
        answer = client.post(
            "/api/readings/file",
            data={**form, "columns": wrong},
            files={"file": ("l.csv", content)},
        )
        assert answer.status_code == 422


def test_today_tells_what_is_due_and_coming_across_trials(client: TestClient, clock: Clock) -> None:
    first = begin(
        client, clock, length_days=21, look_every_days=3, jobs=[{"what": "uncovered", "day": 5}]
    )
    second = begin(client, clock, days=0, length_days=21, look_every_days=7)
    found = client.get("/api/today").json()
    mine = [(t["kind"], t["state"], t["day"]) for t in found if t["trial_id"] == first["id"]]
    assert mine == [("look", "due", 3), ("job", "coming", 5)]
    assert not [t for t in found if t["trial_id"] == second["id"]]
    clock.forward(4)
    found = client.get("/api/today").json()
    late = {(t["kind"], t["state"]) for t in found if t["trial_id"] == first["id"]}
    assert ("job", "overdue") in late


def test_a_lift_on_the_way_is_marked_in_its_round(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock, sample_lifts=[{"day": 3, "units": 2}])
    drawn = [u for u in units(client, trial) if u["lift"]]
    assert sorted(u["cell"]["treatment"] for u in drawn) == [0, 0, 1, 1]
    for i, unit in enumerate(drawn):
        send(client, trial, tap(unit["id"], f"tap-{i:04}", clock, stage=6, removed=1))
    clock.forward(3)
    trial = client.get(f"/api/trials/{trial['id']}").json()
    assert sum(u["gone"] for u in units(client, trial)) == 4


@pytest.mark.parametrize(
    ("lifts", "says"),
    [
        ([{"day": 3, "units": 1}, {"day": 3, "units": 1}], "Two lifts stand on one day"),
        ([{"day": 60, "units": 1}], "between day 1"),
        ([{"day": 3, "units": 6}], "leave some for the end"),
        ([{"day": 3, "units": 0}], "at least one"),
    ],
)
def test_a_lift_that_cannot_be_planned_is_refused(
    client: TestClient, lifts: list[dict[str, int]], says: str
) -> None:
    from tests.builders import a_draft

    answer = client.post("/api/trials", json=a_draft(sample_lifts=lifts))
    assert answer.status_code == 422
    assert says in answer.json()["detail"]


def test_two_scorers_are_compared_on_the_drawn_units(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock)
    found = client.get(f"/api/trials/{trial['id']}/agreement").json()
    assert (found["done"], len(found["wanted"])) == (0, 12)
    for i, unit in enumerate(units(client, trial)):
        parts = {"roots": i} if unit["cell"]["treatment"] else {}
        send(
            client,
            trial,
            tap(unit["id"], f"score-{i:03}", clock, kind="score", score=i % 6, parts=parts),
        )
        write(client, trial, entry(clock, f"again-{i:03}", kind="second", what="", scope="unit",
                                   target=unit["id"], values={"score": max(0, i % 6 - 1)}))  # fmt: skip
    found = client.get(f"/api/trials/{trial['id']}/agreement").json()
    assert (found["done"], found["n"]) == (12, 12)
    assert found["bias"] < 0
    assert found["gaps"] == ["Roots of 5 mm or more: not for Untreated"]


def test_a_round_is_moved_through_the_api(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock)
    send(client, trial, tap(units(client, trial)[0]["id"], "tap-0001", clock, stage=3))
    path = f"/api/trials/{trial['id']}/rounds/3/move"
    assert client.post(path, json={"to_day": 2, "from_tray": 0}).status_code == 422
    assert client.post(path, json={"to_day": 2}).json() == {"moved": 1}


SECRETS = ("Gibberellin-Q", "hidden-detail", "zebra", "Untouched-Z")


def test_no_route_tells_a_blind_client_a_treatment(client: TestClient, clock: Clock) -> None:
    """Walks every route that reads, with every id and name a blind client can come by."""
    arms: list[dict[str, Any]] = [
        {"name": "Untouched-Z", "role": "control", "silk": "plain"},
        {"name": "Gibberellin-Q", "role": "candidate", "silk": "hoops", "detail": "hidden-detail",
         "properties": [{"name": "lot", "value": "zebra"}]},
    ]  # fmt: skip
    trial = begin(client, clock, blind=True, treatments=arms)
    where = units(client, trial)
    arm_of = _truth(client, trial)
    for i, unit in enumerate(where):
        send(client, trial, tap(unit["id"], f"tap-{i:04}", clock, stage=1 + i % 6))
    write(client, trial, entry(clock, scope="unit", target=where[0]["id"], what="frost"))
    assert (
        write(client, trial, entry(clock, "entry-09", scope="arm", target="1")).status_code == 409
    )
    form = {
        "id": "photo-001",
        "scope": "unit",
        "target": where[0]["id"],
        "seen_at": clock.now.isoformat(),
    }
    kept = client.post(
        f"/api/trials/{trial['id']}/photos",
        data=form,
        files={"photo": ("Gibberellin-Q.jpg", photo())},
    )
    values = {
        "trial_id": trial["id"], "unit_id": where[0]["id"], "day": "3", "other_id": trial["id"],
        "name": kept.json()["what"], "trial": trial["id"][:8], "code": where[0]["cell"]["label"],
    }  # fmt: skip
    said = _walk(client, values)
    assert len(said) > 25
    plan_only = (
        "/api/trials/{trial_id}",
        "/api/trials/{trial_id}/prepare",
        "/api/trials/{trial_id}/compare/{other_id}",
        "/api/dry-runs/plans",
    )
    for path, text in said.items():
        if path in plan_only or path.endswith("labels.pdf") or path in ("/api/trials",):
            continue
        if path == "/api/trials/{trial_id}/calendar.ics":
            continue
        for word in SECRETS:
            assert word not in text, (path, word)
    for path, text in said.items():
        _no_unit_with_its_arm(path, text, arm_of)


def _truth(client: TestClient, trial: dict[str, Any]) -> dict[str, int]:
    from racecard.store.trials import load_whole

    shed: Shed = client.app.state.shed  # type: ignore[attr-defined]
    with shed.reading() as session:
        return {u.id: u.cell.treatment for u in load_whole(session, trial["id"]).planted}


def _walk(client: TestClient, values: dict[str, str]) -> dict[str, str]:
    """What every reading route answers, and the OpenAPI document with its examples."""
    out = {}
    for path, methods in client.get("/api/openapi.json").json()["paths"].items():
        if "get" not in methods:
            continue
        try:
            address = path.format(**values)
        except KeyError:
            continue
        answer = client.get(address)
        out[path] = answer.text + json.dumps(dict(answer.headers))
    out["openapi"] = client.get("/api/openapi.json").text
    return out


def _no_unit_with_its_arm(path: str, text: str, arm_of: dict[str, int]) -> None:
    """No cell, unit or line names a treatment: every `treatment` in a sealed answer is null."""
    if not text.startswith(("{", "[")) or path == "openapi":
        return
    body, _ = json.JSONDecoder().raw_decode(text)

    def look(thing: Any) -> None:
        if isinstance(thing, list):
            for x in thing:
                look(x)
        elif isinstance(thing, dict):
            if "treatment" in thing and (
                "cell" in thing or "unit" in thing or "row" in thing or "code" in thing
            ):
                assert thing["treatment"] is None, (path, thing)
            for x in thing.values():
                look(x)

    look(body)
    assert set(arm_of.values()) == {0, 1}


def test_a_stamp_without_a_zone_is_refused_everywhere(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock)
    naive = datetime(2026, 5, 25, 7).isoformat()
    assert write(client, trial, {**entry(clock), "seen_at": naive}).status_code == 422
    body = {"items": [{"place": "b", "quantity": "ph", "at": naive, "value": 6}]}
    assert client.post("/api/readings", json=body).status_code == 422


def test_stages_of_one_container_are_kept_and_told_apart(client: TestClient, clock: Clock) -> None:
    trial = begin(
        client, clock, days=0, kind="seed", endpoint=3, per_container=10, units=3, length_days=9,
        also_counted=[2, 5],
    )  # fmt: skip
    for day, up, tips, leaves in ((3, 0, 8, 0), (6, 6, 9, 0), (9, 7, 9, 4)):
        clock.forward(3)
        trial = client.get(f"/api/trials/{trial['id']}").json()
        for i, unit in enumerate(units(client, trial)):
            parts = {"stage_2": tips, "stage_5": leaves}
            row = tap(
                unit["id"], f"count-{day}-{i:04}", clock, kind="count", struck=up, parts=parts
            )
            assert send(client, trial, row).status_code == 200
    at = f"/api/trials/{trial['id']}"
    found = {
        stage: client.get(f"{at}/milestone", params={"stage": stage}).json()["lanes"][0]
        for stage in (2, 5)
    }
    finish = client.get(f"{at}/finish").json()["lanes"][0]
    assert [found[2]["struck"], finish["struck"], found[5]["struck"]] == [27, 21, 12]
    assert client.get(f"{at}/milestone", params={"stage": 4}).status_code == 422
    many = {"stage_2": 3}
    bad = send(
        client, trial, tap(unit["id"], "count-bad1", clock, kind="count", struck=7, parts=many)
    )
    assert "only 3 ever reached" in bad.json()["detail"]
    log = client.get(f"{at}/log").text
    assert "9 root tip out" in log
