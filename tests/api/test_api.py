"""The HTTP door: journeys, problems, and nothing shown of a sealed trial."""

import json
import re
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from tools.write_openapi import DEFAULTS, TARGET, defaults_text, openapi_text

from racecard import errors
from racecard.api.app import create_app
from racecard.api.problems import status_of
from racecard.store.engine import Shed
from tests.builders import a_draft
from tests.conftest import Clock, Demo


def begin(client: TestClient, clock: Clock, days: float = 3, **changes: Any) -> dict[str, Any]:
    made = client.post("/api/trials", json=a_draft(**changes)).json()
    client.post(f"/api/trials/{made['id']}/start", json={})
    clock.forward(days)
    found: dict[str, Any] = client.get(f"/api/trials/{made['id']}").json()
    return found


def units(client: TestClient, trial: dict[str, Any]) -> list[dict[str, Any]]:
    found = client.get(f"/api/trials/{trial['id']}/rounds/{trial['today']}").json()
    return list(found["units"])


def tap(unit: str, id: str, at: Clock, **fields: Any) -> dict[str, Any]:
    return {"id": id, "unit_id": unit, "kind": "look", "seen_at": at.now.isoformat(), **fields}


def send(client: TestClient, trial: dict[str, Any], *items: dict[str, Any]) -> Any:
    return client.post(f"/api/trials/{trial['id']}/observations", json={"items": items})


def test_a_trial_from_plan_to_finish(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock, length_days=6, look_every_days=3)
    for _ in range(2):
        trial = client.get(f"/api/trials/{trial['id']}").json()
        for i, unit in enumerate(units(client, trial)):
            stage = 6 if unit["cell"]["treatment"] == 1 else 1
            answer = send(
                client, trial, tap(unit["id"], f"tap-{trial['today']}-{i:04}", clock, stage=stage)
            )
            assert answer.status_code == 200
        clock.forward(3)
    found = client.get(f"/api/trials/{trial['id']}/finish").json()
    assert found["final"]
    assert found["comparisons"][0]["grade"] == "clear_lead"
    assert found["comparisons"][0]["p"] == pytest.approx(2 / 924, abs=1e-12)
    assert [lane["struck"] for lane in found["lanes"]] == [0, 6]
    line = found["lanes"][1]["lines"][0]
    assert found["cells"][line.pop("unit")]["treatment"] == 1
    assert line == {
        "after": 0,
        "by": 3,
        "lost": None,
        "removed": None,
        "last": 6,
    }


def test_a_repeated_send_is_taken_once(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock)
    one = tap(units(client, trial)[0]["id"], "tap-0001", clock, stage=3)
    assert send(client, trial, one).json() == send(client, trial, one).json()
    log = client.get(f"/api/trials/{trial['id']}/units/{one['unit_id']}/log").json()
    assert len(log) == 1


def test_who_looked_is_kept(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock)
    one = tap(units(client, trial)[0]["id"], "tap-0001", clock, stage=3)
    kept = client.post(
        f"/api/trials/{trial['id']}/observations",
        json={"items": [one]},
        headers={"X-Who": "In%C3%AAs"},
    )
    assert kept.json()["items"][0]["who"] == "Inês"
    long = client.post("/api/trials", json=a_draft(), headers={"X-Who": "x" * 61})
    assert long.status_code == 422


def test_a_sealed_trial_shows_no_treatment_by_any_route(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock, blind=True)
    path = f"/api/trials/{trial['id']}"
    unit = units(client, trial)[0]["id"]
    send(client, trial, tap(unit, "tap-0001", clock, stage=3))
    assert trial["seed"] is None
    assert all(c["treatment"] is None for c in trial["bench"])
    shown = [path, f"{path}/rounds/{trial['today']}", f"{path}/units/{unit}/log", "/api/trials"]
    for route in shown:
        text = client.get(route).text
        assert not re.search(r'"treatment": ?\d', text), route
        assert '"seed":7' not in text
    assert client.get(f"{path}/finish").json()["type"] == "/problems/sealed"
    opened = client.post(f"{path}/unseal").json()
    assert any(c["treatment"] == 1 for c in opened["bench"])
    assert client.get(f"{path}/finish").status_code == 200


def test_units_lie_in_the_order_of_the_bench_not_of_the_plan(
    client: TestClient, clock: Clock
) -> None:
    trial = begin(client, clock, blind=True)
    places = [(u["cell"]["tray"], u["cell"]["row"], u["cell"]["col"]) for u in units(client, trial)]
    assert places == sorted(places)


def test_consequences_follow_as_one_types(client: TestClient) -> None:
    found = client.post("/api/plans/check", json=a_draft(units=3)).json()
    assert "can never show anything" in found["power"]["says"]
    assert "floor_too_high" in [n["code"] for n in found["notes"]]
    assert [c["code"] for c in found["cautions"]] == ["hormone"]
    broken = client.post("/api/plans/check", json=a_draft(units=0)).json()
    assert broken["faults"][0]["pointer"] == "/units"
    assert broken["power"] is None


def test_an_unnamed_treatment_still_shows_the_bench(client: TestClient) -> None:
    draft = a_draft()
    draft["plan"]["treatments"][1]["name"] = ""
    found = client.post("/api/plans/check", json=draft).json()
    assert found["faults"][0]["pointer"] == "/treatments/1/name"
    assert len(found["bench"]) == 20


@pytest.mark.parametrize(
    ("change", "pointer", "part"),
    [
        ({"units": 2.5}, "/plan/units", "whole number, got 2.5"),
        ({"units": "many"}, "/plan/units", "whole number"),
        ({"units": None}, "/plan/units", "Number per treatment is missing."),
        ({"blind": [None, True]}, "/plan/blind", "yes or no, got [null, true]."),
        ({"units": 0}, "/units", "1 to 500"),
        ({"kind": "tree"}, "/plan/kind", "must be one of"),
        ({"nonsense": 1}, "/plan/nonsense", "not known here"),
        ({"question": "x" * 301}, "/question", "301 characters"),
        ({"blind": "yes please"}, "/plan/blind", "yes or no"),
        ({"treatments": []}, "/treatments", "2 to 12"),
    ],
)
def test_bad_plans_get_one_sentence_with_its_place(
    client: TestClient, change: dict[str, Any], pointer: str, part: str
) -> None:
    answer = client.post("/api/trials", json=a_draft(**change))
    assert answer.status_code == 422
    assert answer.headers["content-type"] == "application/problem+json"
    assert answer.json()["errors"][0]["pointer"] == pointer
    assert part in answer.json()["errors"][0]["detail"]
    assert client.get("/api/trials").json() == []


@pytest.mark.parametrize(
    ("at", "part"),
    [
        ("2026-05-25T12:00:00", "needs a time zone"),
        ("yesterday", "must be a date and time such as"),
        ("2199-12-31T23:59:59Z", "in the future"),
        ("1971-01-01T00:00:00Z", "400 days back"),
        ("0001-01-01T00:00:00Z", "between 1970 and 2199"),
        ("9999-12-31T23:59:59Z", "between 1970 and 2199"),
    ],
)
def test_moments_that_cannot_be_are_refused(
    client: TestClient, clock: Clock, at: str, part: str
) -> None:
    made = client.post("/api/trials", json=a_draft()).json()
    answer = client.post(f"/api/trials/{made['id']}/start", json={"at": at})
    assert answer.status_code == 422
    assert part in answer.json()["detail"]
    trial = begin(client, clock)
    one = {**tap(units(client, trial)[0]["id"], "tap-0001", clock, stage=3), "seen_at": at}
    assert send(client, trial, one).status_code == 422


def test_a_frozen_plan_answers_conflict(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock)
    answer = client.put(f"/api/trials/{trial['id']}/plan", json=a_draft(units=9))
    assert (answer.status_code, answer.json()["type"]) == (409, "/problems/conflict")


def test_rounds_out_of_reach_are_refused(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock, days=20, length_days=6, look_every_days=3)
    path = f"/api/trials/{trial['id']}/rounds"
    assert client.get(f"{path}/21").status_code == 404
    assert client.get(f"{path}/20").json()["type"] == "/problems/look_past_end"
    assert client.get(f"{path}/6").json()["stamp"].startswith("2026-05-31T12:00")
    assert client.get(f"{path}/one").json()["errors"][0]["pointer"] == "/day"


def test_lists_tell_what_is_due(client: TestClient, clock: Clock) -> None:
    begin(client, clock, days=3)
    line = client.get("/api/trials").json()[0]
    assert (line["today"], line["due_day"]) == (3, 3)
    assert "due" in line["says"]
    clock.forward(2)
    line = client.get("/api/trials").json()[0]
    assert (line["missed"], line["next_day"]) == (1, 6)
    assert "missed" in line["says"]


def test_the_demo_is_added_once(client: TestClient) -> None:
    assert client.post("/api/demo", json={}).status_code == 201
    assert client.post("/api/demo", json={}).status_code == 409
    assert client.post("/api/demo", json={"time_zone": "Nowhere"}).status_code in (409, 422)


def test_everything_drawn_is_described_once(client: TestClient) -> None:
    found = client.get("/api/reference").json()
    drawings = {
        k["drawing"] for ladder in found["ladders"] for k in (*ladder["stages"], *ladder["exits"])
    }
    assert drawings <= set(found["stages"])
    patterns = [json.dumps(s["shapes"]) for s in found["silks"]]
    assert len(patterns) == len(set(patterns)) >= 10
    assert found["silks"][0]["shapes"] == []


def test_every_interval_names_a_method_that_is_told(client: TestClient) -> None:
    told = {m["id"] for m in client.get("/api/reference").json()["methods"]}
    source = Path("src/racecard/core")
    named = set(re.findall(r'method="(\w+)"', (source / "stats" / "proportions.py").read_text()))
    named |= set(
        re.findall(
            r'"(\w+_containers|container_blocks)"', (source / "assess" / "strike.py").read_text()
        )
    )
    assert named <= told
    assert {"lot", "floor", "half", "quality", "power", "curve"} <= told


def test_unknown_addresses_and_unforeseen_errors_are_problems(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert client.get("/api/nowhere").json()["type"] == "/problems/not_found"

    def broken(*_: object) -> None:
        raise RuntimeError("secret detail")

    monkeypatch.setattr("racecard.api.trials.lines_of_all", broken)
    answer = client.get("/api/trials")
    assert answer.status_code == 500
    assert "secret" not in answer.text


def test_every_error_code_has_a_status_and_is_documented() -> None:
    readme = Path("docs/errors.md").read_text()
    kinds = [
        v for v in vars(errors).values() if isinstance(v, type) and issubclass(v, errors.AppError)
    ]
    assert len(kinds) > 5
    for kind in kinds:
        assert f"`{kind.code}`" in readme, kind
        assert 400 <= status_of(kind("x")) < 500 or kind is errors.StoreUnavailable


def test_the_committed_openapi_document_is_current() -> None:
    assert TARGET.read_text() == openapi_text()
    assert DEFAULTS.read_text() == defaults_text()


def test_the_page_is_served_with_a_policy_that_keeps_it_here(shed: Shed, tmp_path: Path) -> None:
    from racecard.api.app import create_app

    (tmp_path / "index.html").write_text("<p>page</p>")
    page = TestClient(create_app(shed, tmp_path), "http://127.0.0.1").get("/trials/any/plan")
    assert "default-src 'self'" in page.headers["content-security-policy"]
    assert (
        TestClient(create_app(shed, tmp_path), "http://127.0.0.1").get("/../../etc/passwd").text
        == "<p>page</p>"
    )
    unbuilt = TestClient(create_app(shed, tmp_path / "none"), "http://127.0.0.1").get("/")
    assert "not built yet" in unbuilt.json()["detail"]


def check(client: TestClient, **changes: Any) -> dict[str, Any]:
    found: dict[str, Any] = client.post("/api/plans/check", json=a_draft(**changes)).json()
    return found


def test_what_follows_from_a_plan_is_said_in_one_answer(client: TestClient) -> None:
    found = check(client, units=24, blocks=4, per_container=1, spare_cells=2)
    assert found["faults"] == []
    assert found["unit_says"] == "24 cuttings, each on its own = 24 units per treatment"
    assert found["reference"] == 0
    assert found["power"]["is_exact"]
    assert found["power"]["needs"].startswith("To show a difference of 20 points")
    assert [len(found["power"][k]) > 3 for k in ("curve", "curve_half", "curve_double")] == [
        True
    ] * 3
    planted = [c for c in found["bench"] if not c["spare"]]
    assert sorted(c["turn"] for c in planted) == list(range(1, 49))
    assert len({c["label"] for c in planted}) == 48


def test_a_lock_that_cannot_be_kept_is_a_fault_and_not_an_error(client: TestClient) -> None:
    draft = a_draft() | {"locks": [{"tray": 0, "row": 7, "col": 9, "treatment": 1}]}
    found = client.post("/api/plans/check", json=draft).json()
    assert [f["pointer"] for f in found["faults"]] == ["/locks/0"]
    assert found["bench"] == []


def test_half_a_plan_still_answers_what_it_can(client: TestClient) -> None:
    found = check(client, question="", units=0)
    assert {f["pointer"] for f in found["faults"]} >= {"/question", "/units"}
    assert found["power"] is None
    assert found["whole"] is False
    assert check(client, question="")["power"] is not None
    late = check(client, look_days=[21, 99])
    assert (late["whole"], late["notes"], late["power"]) == (False, [], None)
    assert len(late["bench"]) > 0


def test_templates_begin_plans_that_check(client: TestClient) -> None:
    for t in client.get("/api/templates").json():
        plan = client.post(
            "/api/plans/begin", json={"subject": t["subject"], "stage": t["stages"][0]["id"]}
        ).json()
        plan |= {"question": "Q?", "material": "M"}
        found = client.post("/api/plans/check", json={"plan": plan, "seed": 1}).json()
        assert found["faults"] == []


@pytest.mark.parametrize(
    ("asked", "names"),
    [
        ({"way": "cross", "factors": [{"name": "a", "levels": ["1", "2"]}, {"name": "b", "levels": ["3", "4"]}]},
         ["1, 3", "1, 4", "2, 3", "2, 4"]),
        ({"way": "ladder", "thing": "IBA", "low": 1000, "high": 4000, "steps": 2, "unit": "ppm"},
         ["Untreated", "IBA 1000 ppm", "IBA 4000 ppm"]),
        ({"way": "mixture", "one": "peat", "other": "grit", "steps": 3},
         ["peat alone", "1 peat : 1 grit", "grit alone"]),
    ],
)  # fmt: skip
def test_arms_are_made_in_three_ways(
    client: TestClient, asked: dict[str, Any], names: list[str]
) -> None:
    assert [t["name"] for t in client.post("/api/plans/arms", json=asked).json()] == names


def test_arms_that_make_no_sense_are_refused_in_a_sentence(client: TestClient) -> None:
    asked = {"way": "ladder", "thing": "IBA", "low": 9, "high": 1, "steps": 3, "unit": "ppm"}
    answer = client.post("/api/plans/arms", json=asked)
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["detail"].startswith("The steps must rise")


def test_an_offer_can_be_sent_back_as_it_is(client: TestClient) -> None:
    arms = [
        {"name": "U", "role": "control"},
        {"name": "A", "role": "candidate", "agent": "hormone", "carrier": "talc", "silk": "hoops"},
    ]
    (offer,) = check(client, treatments=arms)["offers"]
    assert check(client, **offer["change"])["offers"] == []


def test_predictions_are_sealed_by_the_api_from_the_start(client: TestClient, clock: Clock) -> None:
    arms = a_draft()["plan"]["treatments"]
    arms[1]["prediction"] = 88
    trial = begin(client, clock, treatments=arms)
    assert trial["has_predictions"]
    assert [arm["prediction"] for arm in trial["plan"]["treatments"]] == [None, None]
    assert client.get(f"/api/trials/{trial['id']}/finish").json()["predictions"] == []


def test_a_trial_is_amended_copied_and_compared(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock)
    at = f"/api/trials/{trial['id']}"
    refused = client.post(f"{at}/amend", json={"change": {"units": 4}, "reason": "x"})
    assert refused.status_code == 422
    amended = client.post(f"{at}/amend", json={"change": {"length_days": 50}, "reason": "cold"})
    assert amended.json()["amendments"][0]["after"] == "50"
    copy = client.post(f"{at}/copy", json={"seed": 3}).json()
    found = client.get(f"{at}/compare/{copy['id']}").json()
    assert [d["label"] for d in found["differences"]] == ["Question"]
    assert client.get(f"{at}/finish").json()["amended"] == ["Last day was 42, became 50 (cold)."]


def test_grades_are_dealt_and_measures_kept_before_the_start(client: TestClient) -> None:
    made = client.post("/api/trials", json=a_draft()).json()
    at = f"/api/trials/{made['id']}"
    assert client.get(f"{at}/baseline").json() == []
    found = client.post(f"{at}/grades", json={"grades": [6, 6]}).json()
    assert [a["n"] for a in found[0]["arms"]] == [6, 6]
    values = [7.0 + i / 10 for i in range(12)]
    found = client.put(f"{at}/baseline", json={"trait": "length", "values": values}).json()
    assert [b["trait"] for b in found] == ["length", "grade"]
    assert found[0]["values"] == values


def test_how_alike_the_arms_are_stays_hidden_while_sealed(client: TestClient, clock: Clock) -> None:
    trial = begin(client, clock, blind=True)
    assert client.get(f"/api/trials/{trial['id']}/baseline").status_code == 409


def test_own_controls_are_told_as_base_rates(demo: Demo) -> None:
    client = TestClient(create_app(demo.shed), "http://127.0.0.1")
    found = client.get("/api/base-rates", params={"kind": "cutting", "material": "lavender"}).json()
    assert [(r["struck"], r["n"]) for r in found] == [(9, 24)]
    assert client.get("/api/base-rates", params={"kind": "seed", "material": "fig"}).json() == []


def test_blind_codes_stand_in_the_round_of_a_blind_trial_alone(
    client: TestClient, clock: Clock
) -> None:
    blind = units(client, begin(client, clock, blind=True))
    assert all(len(u["cell"]["label"]) == 4 for u in blind)
    plain = units(client, begin(client, clock))
    assert all(u["cell"]["label"] is None for u in plain)


def test_a_fault_names_the_field_as_the_page_does(client: TestClient) -> None:
    answer = client.post("/api/trials", json=a_draft(length_days=3.7))
    assert answer.status_code == 422
    (error,) = answer.json()["errors"]
    assert (error["pointer"], error["detail"]) == ("/plan/length_days", "Last day must be a whole number, got 3.7.")  # fmt: skip


def test_every_fault_of_a_plan_is_told_once_at_its_field(client: TestClient) -> None:
    answer = client.post("/api/trials", json=a_draft(material="", units=0, length_days=0))
    assert answer.status_code == 422
    pointers = [e["pointer"] for e in answer.json()["errors"]]
    assert {"/material", "/units", "/length_days"} <= set(pointers)
    assert len(pointers) == len({(e["pointer"], e["detail"]) for e in answer.json()["errors"]})
