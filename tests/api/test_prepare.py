"""Mixing bench, register, clock, labels and sticking over HTTP."""

from datetime import timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.api.test_api import begin, send, tap, units
from tests.builders import a_draft
from tests.conftest import Clock

BOTTLE = {"active": "IBA", "basis": "acid", "strength": "1 %", "form": "liquid", "carrier": "alcohol", "opened_on": "2026-05-01"}  # fmt: skip
DIP = {"volume": "100 mL", "target": "1000 ppm", "stock": "1 %", "active": "IBA"}


def draft(client: TestClient, **changes: Any) -> str:
    return str(client.post("/api/trials", json=a_draft(**changes)).json()["id"])


def prepared(client: TestClient, trial: str) -> dict[str, Any]:
    found: dict[str, Any] = client.get(f"/api/trials/{trial}/prepare").json()
    return found


def sent(found: dict[str, Any], **changes: Any) -> dict[str, Any]:
    arms = [{"steps": [], "agent_id": ""} for _ in found["arms"]]
    base = {"plant_id": "", "set_at": "", "start_together": False, "day0": "sticking", "unit_seconds": 20.0, "arms": arms}  # fmt: skip
    return {**base, **changes}


# the bench


def test_the_bench_lists_every_sum_with_its_fields(client: TestClient) -> None:
    found = client.get("/api/mixing").json()
    assert {s["room"] for s in found["sums"]} >= {"Liquids", "Seeds", "Costs"}
    assert all(s["fields"] for s in found["sums"])
    for line in found["examples"]:
        assert client.post("/api/mixing/line", json={"line": line}).status_code == 200


def test_an_answer_is_remembered_until_it_is_forgotten(client: TestClient) -> None:
    line = {"line": "1 tbsp per litre in 250 mL"}
    assert client.post("/api/mixing/line", json=line).json()["is_open"]
    client.put("/api/mixing/choices", json={"choices": {"spoon": "au"}})
    found = client.post("/api/mixing/line", json=line).json()
    assert (found["is_open"], found["amounts"][0]["value"]) == (False, 5.0)
    assert "Australian" in found["text"]
    own = client.post("/api/mixing/line", json={**line, "choices": {"spoon": "metric"}}).json()
    assert own["amounts"][0]["value"] == 3.75
    client.put("/api/mixing/choices", json={"choices": {"spoon": None}})
    assert client.post("/api/mixing/line", json=line).json()["is_open"]


def test_an_own_default_stands_beside_the_benchs(client: TestClient) -> None:
    client.put("/api/mixing/choices", json={"choices": {"default:dip_warn": "500"}})
    found = client.post("/api/mixing/sums/dilute", json={"fields": DIP}).json()
    assert [f["code"] for f in found["flags"]] == ["dip_strong"]
    line = next(d for d in client.get("/api/mixing/defaults").json() if d["key"] == "dip_warn")
    assert (line["value"], line["own"]) == (10_000, 500)


@pytest.mark.parametrize(
    ("choices", "pointer"),
    [({"default:dip_warn": "much"}, "/choices/default:dip_warn"), ({"default:nothing": "1"}, "/choices/default:nothing"), ({"default:dip_warn": "-1"}, "/choices/default:dip_warn"), ({"x": "y" * 100}, "/choices/x")],
)  # fmt: skip
def test_a_bad_default_is_refused_and_nothing_is_lost(client: TestClient, choices: dict[str, str], pointer: str) -> None:  # fmt: skip
    client.put("/api/mixing/choices", json={"choices": {"spoon": "au"}})
    answer = client.put("/api/mixing/choices", json={"choices": choices})
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["pointer"] == pointer
    assert client.get("/api/mixing/choices").json()["choices"] == {"spoon": "au"}


@pytest.mark.parametrize(
    ("path", "body", "status", "pointer"),
    [
        ("/api/mixing/line", {"line": "1;5"}, 422, "/line"), ("/api/mixing/sums/dilute", {"fields": {**DIP, "stock": "1 ppm"}}, 422, "/fields/stock"),
        ("/api/mixing/sums/dilute", {"fields": {**DIP, "volume": ""}}, 422, "/fields/volume"), ("/api/mixing/sums/gold", {"fields": {}}, 404, "/key"),
        ("/api/mixing/sums/dilute", {"fields": {"luck": "1"}}, 422, "/fields/luck"),
    ],
)  # fmt: skip
def test_bad_input_names_its_field(client: TestClient, path: str, body: object, status: int, pointer: str) -> None:  # fmt: skip
    answer = client.post(path, json=body)
    assert answer.status_code == status
    assert answer.json()["errors"][0]["pointer"] == pointer


# recipes


def test_a_recipe_is_kept_as_it_was_worked_out(client: TestClient) -> None:
    trial = draft(client)
    kept = client.post(f"/api/trials/{trial}/recipes", json={"key": "dilute", "fields": DIP, "treatment": 1})  # fmt: skip
    assert kept.status_code == 201
    turned = a_draft()
    turned["plan"]["treatments"].reverse()
    client.put(f"/api/trials/{trial}/plan", json=turned)
    assert [(r["treatment"], r["arm"]) for r in prepared(client, trial)["recipes"]] == [
        (0, "IBA 1000 ppm")
    ]
    client.put("/api/mixing/choices", json={"choices": {"percent": "w/w"}})
    (recipe,) = prepared(client, trial)["recipes"]
    assert recipe["amounts"][0]["shown"] == "10 mL"
    assert any("w/v" in a for a in recipe["answers"])
    path = f"/api/trials/{trial}/recipes/{recipe['id']}"
    assert client.delete(path).status_code == 204
    assert prepared(client, trial)["recipes"] == []
    assert client.post(f"{path}/back").status_code == 204
    assert len(prepared(client, trial)["recipes"]) == 1


@pytest.mark.parametrize(
    ("body", "status", "says"),
    [
        ({"key": "parts", "fields": {"part": "1", "diluent": "8"}}, 409, "Answer first: 1:8"),
        ({"key": "dilute", "fields": {**DIP, "target": "30000 ppm", "stock": "5 %"}}, 409, "stopped by a guard"),
        ({"key": "dilute", "fields": {**DIP, "target": "30000 ppm", "stock": "5 %"}, "override": "a test of burn"}, 201, ""),
        ({"key": "dilute", "fields": DIP, "treatment": 40}, 422, "no such treatment"),
    ],
)  # fmt: skip
def test_what_may_go_on_a_recipe_list(client: TestClient, body: object, status: int, says: str) -> None:  # fmt: skip
    trial = draft(client)
    answer = client.post(f"/api/trials/{trial}/recipes", json=body)
    assert answer.status_code == status
    if says:
        assert says in answer.json()["errors"][0]["detail"]
    else:
        assert answer.json()["override"] == "a test of burn"


def test_a_dose_that_was_off_reaches_the_finish(client: TestClient, clock: Clock) -> None:
    trial = draft(client)
    line = "0.75 mL in 250 mL, recipe 1 tbsp per litre"
    card = client.post(
        "/api/mixing/line", json={"line": line, "choices": {"spoon": "metric"}}
    ).json()
    assert [t["text"] for t in card["tokens"]][:2] == ["0.75", "mL"]
    body = {"key": card["key"], "fields": card["fields"], "line": line, "choices": {"spoon": "metric"}, "treatment": 1, "override": "the bottle was short"}  # fmt: skip
    assert client.post(f"/api/trials/{trial}/recipes", json=body).status_code == 201
    client.post(f"/api/trials/{trial}/start", json={})
    clock.forward(3)
    notes = client.get(f"/api/trials/{trial}/finish").json()["notes"]
    (note,) = [n for n in notes if n["code"] == "dose_off"]
    assert "for IBA 1000 ppm: this is 5 times too weak." in note["message"]
    assert "“the bottle was short”" in note["message"]


def test_a_recipe_of_another_trial_cannot_be_taken_off(client: TestClient) -> None:
    one, other = draft(client), draft(client)
    kept = client.post(f"/api/trials/{one}/recipes", json={"key": "dilute", "fields": DIP}).json()
    assert client.delete(f"/api/trials/{other}/recipes/{kept['id']}").status_code == 404


# the register


def test_the_register_is_added_to_changed_and_taken_off(client: TestClient) -> None:
    bottle = client.post("/api/materials/agents", json=BOTTLE).json()
    assert bottle["flags"] == []
    old = {**BOTTLE, "expires_on": "2026-05-01"}
    changed = client.put(f"/api/materials/agents/{bottle['id']}", json=old).json()
    assert [f["code"] for f in changed["flags"]] == ["expired"]
    lot = client.post("/api/materials/plants", json={"species": "Lavender", "mother": "old bed"}).json()  # fmt: skip
    assert lot["name"] == "Lavender, old bed"
    assert client.put(f"/api/materials/plants/{bottle['id']}", json={"species": "x"}).status_code == 404  # fmt: skip
    assert client.delete(f"/api/materials/{bottle['id']}").status_code == 204
    assert client.get("/api/materials").json()["agents"] == []
    client.post(f"/api/materials/{bottle['id']}/back")
    assert len(client.get("/api/materials").json()["agents"]) == 1
    assert client.delete("/api/materials/nothing").status_code == 404
    bad = client.post("/api/materials/agents", json={**BOTTLE, "strength": "strong"})
    assert bad.json()["errors"][0]["pointer"] == "/strength"


def test_a_draft_draws_on_the_shelf_and_hears_of_what_is_too_old(client: TestClient) -> None:
    bottle = client.post("/api/materials/agents", json={**BOTTLE, "expires_on": "2026-05-01"}).json()  # fmt: skip
    trial = draft(client)
    arms = [{"steps": [], "agent_id": ""}, {"steps": [], "agent_id": bottle["id"]}]
    found = client.put(f"/api/trials/{trial}/prepare", json=sent(prepared(client, trial), arms=arms))  # fmt: skip
    assert [f["code"] for f in found.json()["arms"][1]["flags"]] == ["expired"]
    client.delete(f"/api/materials/{bottle['id']}")
    assert prepared(client, trial)["arms"][1]["flags"]


# the clock


def with_soak(client: TestClient, trial: str, **changes: Any) -> dict[str, Any]:
    arms = [{"steps": [], "agent_id": ""}, {"steps": [{"name": "soak", "minutes": 720.0}], "agent_id": ""}]  # fmt: skip
    body = sent(prepared(client, trial), arms=arms, set_at="2026-05-26T10:00", **changes)
    answer = client.put(f"/api/trials/{trial}/prepare", json=body)
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


def test_saving_the_clock_leaves_the_bench_and_its_units_as_they_are(client: TestClient) -> None:
    trial = draft(client)
    before = client.get(f"/api/trials/{trial}").json()
    units_before = prepared(client, trial)["units"]
    found = with_soak(client, trial)
    after = client.get(f"/api/trials/{trial}").json()
    assert after["bench"] == before["bench"]
    assert found["units"] == units_before
    (step,) = found["clock"]["steps"]
    assert step["stop"].startswith("2026-05-26T10:0")
    assert after["plan"]["set_at"] == "2026-05-26T10:00"


def test_a_timer_runs_stops_and_is_taken_back_and_sending_twice_changes_nothing(client: TestClient, clock: Clock) -> None:  # fmt: skip
    trial = draft(client)
    with_soak(client, trial)

    def mark(id_: str, what: str) -> Any:
        body = {"id": id_, "step": "1-0", "what": what, "at": clock.now.isoformat()}
        return client.post(f"/api/trials/{trial}/clock/marks", json=body)

    def step() -> dict[str, Any]:
        found: dict[str, Any] = prepared(client, trial)["clock"]["steps"][0]
        return found

    assert mark("mark-0000", "stop").status_code == 409
    mark("mark-0001", "start")
    assert mark("mark-0001", "start").status_code == 200
    assert mark("mark-0002", "start").status_code == 409
    clock.now += timedelta(hours=14)
    mark("mark-0003", "stop")
    assert "2 h longer than planned" in step()["says"]
    mark("mark-0004", "void")
    assert (step()["stopped_at"], step()["started_at"] is None) == (None, False)
    mark("mark-0005", "void")
    assert step()["started_at"] is None
    clock.now -= timedelta(days=3)
    late = {"id": "mark-0006", "step": "1-0", "what": "start", "at": "2027-01-01T00:00:00Z"}
    assert client.post(f"/api/trials/{trial}/clock/marks", json=late).status_code == 422


@pytest.mark.parametrize(
    ("change", "pointer"),
    [({"set_at": "soon"}, "/set_at"), ({"unit_seconds": -1.0}, "/unit_seconds"), ({"arms": []}, ""), ({"arms": [{"steps": [], "agent_id": ""}] * 3}, "/arms")],
)  # fmt: skip
def test_a_bad_clock_is_said(client: TestClient, change: dict[str, Any], pointer: str) -> None:
    trial = draft(client)
    answer = client.put(f"/api/trials/{trial}/prepare", json=sent(prepared(client, trial), **change))  # fmt: skip
    if pointer:
        assert answer.status_code == 422
        assert answer.json()["errors"][0]["pointer"] == pointer
    else:
        assert answer.status_code == 200  # no arms sent: they stay


def test_a_started_trial_keeps_what_it_was_made_from(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock)
    found = prepared(client, trial["id"])
    assert found["suggested"] == []
    assert client.put(f"/api/trials/{trial['id']}/prepare", json=sent(found)).status_code == 409


def test_the_calendar_file_comes_as_one(client: TestClient) -> None:
    trial = draft(client)
    with_soak(client, trial)
    answer = client.get(f"/api/trials/{trial}/calendar.ics")
    assert answer.headers["content-type"].startswith("text/calendar")
    assert "Start soak" in answer.text


# labels


def test_labels_come_as_a_list_as_sheets_and_from_the_printer(client: TestClient) -> None:
    trial = draft(client, blind=True)
    found = client.get(f"/api/trials/{trial}/labels").json()
    assert all(x["silk"] == "" for x in found["labels"])
    assert client.get(f"/api/trials/{trial}/labels.pdf?sheet=letter_30").content.startswith(b"%PDF")
    assert client.get(f"/api/trials/{trial}/labels.pdf?sheet=moon").status_code == 422
    assert found["labels"][0]["code"] in client.get(f"/api/trials/{trial}/labels.csv").text
    out = client.post(f"/api/trials/{trial}/labels/print", json={}).json()
    assert len(out["labels"]) == len(found["labels"])
    assert client.post(f"/api/trials/{trial}/labels/print", json={"copies": 9}).status_code == 422


def test_a_label_leads_to_its_unit_and_a_misread_one_is_said(client: TestClient, clock: Clock) -> None:  # fmt: skip
    trial = begin(client, clock, blind=True)
    label = client.get(f"/api/trials/{trial['id']}/labels").json()["labels"][3]
    path = label["link"].split("/u/")[1]
    found = client.get(f"/api/codes/{path}").json()
    assert found["unit_id"] == prepared(client, trial["id"])["units"][3]["id"]
    wrong = path[:-1] + ("A" if path[-1] != "A" else "C")
    assert "check letter does not agree" in client.get(f"/api/codes/{wrong}").json()["errors"][0]["detail"]  # fmt: skip
    assert client.get("/api/codes/00000000/AAAA").status_code == 404
    assert client.get("/api/codes/x/AAAA").status_code == 404


# stick or sow


def note(client: TestClient, trial: dict[str, Any], **item: Any) -> Any:
    return client.post(f"/api/trials/{trial['id']}/settings", json={"items": [item]})


def test_what_was_not_set_is_left_out_and_the_finish_is_told(client: TestClient, clock: Clock) -> None:  # fmt: skip
    trial = begin(client, clock)
    first, second = units(client, trial)[:2]
    assert note(client, trial, unit_id=first["id"], is_set=False).status_code == 422
    found = note(client, trial, unit_id=first["id"], is_set=False, why="too soft").json()
    assert sum(a["set"] for a in found["set_by_arm"]) == sum(a["planned"] for a in found["set_by_arm"]) - 1  # fmt: skip
    shown = next(u for u in units(client, trial) if u["id"] == first["id"])
    assert shown["gone"]
    send(client, trial, tap(second["id"], "tap-000001", clock, stage=6))
    judged = client.get(f"/api/trials/{trial['id']}/finish").json()
    assert "not_set" in [n["code"] for n in judged["notes"]]
    note(client, trial, unit_id=first["id"], is_set=True)
    again = client.get(f"/api/trials/{trial['id']}/finish").json()
    assert "not_set" not in [n["code"] for n in again["notes"]]


def test_an_arm_that_went_in_later_counts_from_its_own_day_0(client: TestClient, clock: Clock) -> None:  # fmt: skip
    trial = begin(client, clock, days=9)
    later = (clock.now - timedelta(days=5)).isoformat()
    found = client.post(f"/api/trials/{trial['id']}/settings/many", json={"treatment": 1, "set_at": later})  # fmt: skip
    assert {u["late"] for u in found.json()["units"] if u["treatment"] == 1} == {4}
    assert "day 5 for" in client.get(f"/api/trials/{trial['id']}").json()["days_say"]
    notes = client.get(f"/api/trials/{trial['id']}/finish").json()["notes"]
    assert "set_apart" in [n["code"] for n in notes]


@pytest.mark.parametrize(
    ("item", "says"),
    [({"set_at": "2020-01-01T00:00:00Z"}, "before day 0"), ({"set_at": "2027-01-01T00:00:00Z"}, "in the future"), ({"lot": "B"}, "why something else"), ({"why": "x" * 300, "is_set": False}, "200 characters")],
)  # fmt: skip
def test_a_bad_note_of_a_unit_is_said(client: TestClient, clock: Clock, item: dict[str, Any], says: str) -> None:  # fmt: skip
    trial = begin(client, clock)
    answer = note(client, trial, unit_id=units(client, trial)[0]["id"], **item)
    assert answer.status_code == 422
    assert says in answer.json()["errors"][0]["detail"]
    assert note(client, trial, unit_id="nobody").status_code == 404


def test_while_sealed_nothing_tells_which_unit_is_which(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock, blind=True)
    found = prepared(client, trial["id"])
    assert {u["treatment"] for u in found["units"]} == {None}
    many = f"/api/trials/{trial['id']}/settings/many"
    assert client.post(many, json={"treatment": 1, "set_at": clock.now.isoformat()}).status_code == 409  # fmt: skip
    assert client.post(many, json={"tray": 0, "set_at": clock.now.isoformat()}).status_code == 200
    assert client.post(many, json={"tray": 40, "set_at": clock.now.isoformat()}).status_code == 422
    labels = client.get(f"/api/trials/{trial['id']}/labels").text
    assert "IBA" not in labels


def test_nothing_is_noted_of_a_draft(client: TestClient) -> None:
    trial = draft(client)
    unit = prepared(client, trial)["units"][0]["id"]
    assert note(client, {"id": trial}, unit_id=unit, is_set=False, why="x").status_code == 409


def test_a_whole_trial_travels_with_what_was_really_set(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock, days=9)
    one, two, three = (u["id"] for u in units(client, trial)[:3])
    note(client, trial, unit_id=one, is_set=False, why="too soft")
    note(client, trial, unit_id=two, set_at=(clock.now - timedelta(days=6)).isoformat())
    note(client, trial, unit_id=three, lot="the other bed", why="ran out")
    file = client.get(f"/api/trials/{trial['id']}/trial.json").content
    back = client.post("/api/trials/bring-in", content=file).json()["id"]

    def said(trial_id: str) -> list[tuple[Any, ...]]:
        return [(u["is_set"], u["late"], u["why"], u["lot"]) for u in prepared(client, trial_id)["units"]]  # fmt: skip

    assert said(back) == said(trial["id"])
    assert said(back)[1][1] == 3
