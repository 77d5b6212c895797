"""Gardens that join by a link: their own garden and nothing else, their reports, and what the desk is told."""

import io
import json
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from racecard.core.exchange.garden_pack import orders
from racecard.formats.pack_file import schema_text
from racecard.store.engine import Shed
from tests.api.test_network import Both, shared
from tests.builders import a_draft
from tests.conftest import Clock

__all__ = ["shared"]


def invited(inside: TestClient, gardens: int = 3) -> tuple[dict[str, Any], str]:
    """A trial with an open link, and where its gardens join."""
    draft = a_draft(kind="seed", endpoint=3, per_container=10, length_days=21)
    trial = inside.post("/api/trials", json=draft).json()
    answer = inside.post(f"/api/gardens/invites/{trial['id']}", json={"gardens": gardens})
    assert answer.status_code == 201
    assert answer.json()["square"].startswith("<svg")
    return trial, "/api" + answer.json()["url"].split("https://shed")[1]


def take_part(outside: TestClient, link: str) -> tuple[dict[str, Any], dict[str, str]]:
    told = outside.post(f"{link}/join").json()
    return told, {"x-garden-key": told["key"]}


def test_a_garden_joins_reports_and_is_read_as_a_form(shared: Both, clock: Clock) -> None:
    inside, outside, _ = shared
    trial, link = invited(inside)
    gardens = [take_part(outside, link) for _ in range(3)]
    sealed = orders(trial["seed"], 2, 3)
    assert [(g["number"], tuple(g["order"])) for g, _ in gardens] == list(enumerate(sealed, 1))
    assert "All places are taken" in outside.post(f"{link}/join").json()["detail"]
    began = clock.now.date()
    clock.forward(21)
    done = {"began": began.isoformat(), "counted": clock.now.date().isoformat(), "counts": [4, 7]}
    for report in ({"began": began.isoformat()}, {**done, "counts": [5, 7]}, done):
        assert outside.post(f"{link}/report", json=report, headers=gardens[0][1]).status_code == 204
    outside.post(f"{link}/report", json={"status": "withdrawn"}, headers=gardens[1][1])
    at = f"/api/gardens/invites/{trial['id']}"
    told = inside.get(at).json()["turnout"]
    assert told == {"enrolled": 3, "started": 1, "returned": 1, "silent": 1, "withdrawn": 1}
    form = inside.get(f"{at}/returns.csv").content
    mapped = "Garden Started Counted".split()
    assert [w in form.decode() for w in mapped] == [True] * 3
    pairs = ["garden=Garden", "start=Started on", "date=Counted on", "count=How many seeds", "status=Status",
             "struck:Untreated=Untreated", "struck:IBA 1000 ppm=IBA 1000 ppm"]  # fmt: skip
    read = inside.post("/api/gardens/read", params={"map": pairs, "kind": "seed"}, content=io.BytesIO(form).read())  # fmt: skip
    assert "1 of 3 gardens" in read.json()["says"]
    assert [r["fate"] for r in read.json()["rows"]] == ["taken", "withdrawn", "no result sent"]


def test_the_desk_is_told_where_the_plan_left_what_gardens_were_told(shared: Both) -> None:
    inside, _, _ = shared
    trial, _ = invited(inside)
    at = f"/api/gardens/invites/{trial['id']}"
    assert inside.get(at).json()["changed"] == ""

    def kept(**change: Any) -> str:
        as_invited = {"kind": "seed", "endpoint": 3, "per_container": 10, "length_days": 21}
        draft = a_draft(**{**as_invited, **change})
        now = inside.get(f"/api/trials/{trial['id']}").json()["revision"]
        answer = inside.put(f"/api/trials/{trial['id']}/plan", json={**draft, "revision": now})
        assert answer.status_code == 200, answer.text
        return str(inside.get(at).json()["changed"])

    assert "the number in a pot, the day of the count." in kept(per_container=12, length_days=28)
    crowded = [{**t, "per_container": 8 + i} for i, t in enumerate(a_draft()["plan"]["treatments"])]
    assert "can no longer be given to gardens" in kept(treatments=crowded)
    assert kept() == ""


def test_what_a_garden_deletes_is_gone_and_counts_as_left(shared: Both, shed: Shed) -> None:
    inside, outside, _ = shared
    trial, link = invited(inside)
    _, key = take_part(outside, link)
    outside.post(
        f"{link}/report", json={"began": "2026-05-01", "remarks": "by the door"}, headers=key
    )
    assert "Gardens have joined" in inside.delete(f"/api/trials/{trial['id']}").json()["detail"]
    assert outside.delete(f"{link}/report", headers=key).status_code == 204
    at = f"/api/gardens/invites/{trial['id']}"
    assert b"by the door" not in inside.get(f"{at}/returns.csv").content
    assert inside.get(at).json()["turnout"]["withdrawn"] == 1
    again = outside.post(f"{link}/report", json={"began": "2026-05-01"}, headers=key)
    assert "deleted what it sent" in again.json()["detail"]


def test_a_gardens_phone_can_do_nothing_but_its_own_garden(shared: Both) -> None:
    inside, outside, _ = shared
    (_, link), (_, other) = invited(inside), invited(inside)
    _, key = take_part(outside, link)
    paths = inside.get("/api/openapi.json").json()["paths"]
    for path in paths:
        if path in ("/api/join", "/api/root.crt") or path.startswith("/api/garden/"):
            continue
        for method in ("GET", "POST", "PUT", "DELETE"):
            assert outside.request(method, path, headers=key).status_code == 401, (method, path)
    for strange in ({"x-garden-key": "x.y"}, {"x-garden-key": ""}):
        assert outside.post(f"{link}/report", json={}, headers=strange).status_code == 404
    assert outside.post(f"{other}/report", json={}, headers=key).status_code == 404
    assert outside.post("/api/garden/nowhere/join").status_code == 404
    nowhere = outside.get("/garden/nowhere")
    assert (nowhere.status_code, "leads nowhere" in nowhere.text) == (404, True)
    page = outside.get(link.removeprefix("/api"))
    assert page.status_code == 200
    assert "script-src" not in page.headers["content-security-policy"]  # default: from here alone
    assert '"orders": []' in page.text


def test_a_closed_link_lets_no_garden_in_but_those_that_joined_report(shared: Both) -> None:
    inside, outside, _ = shared
    trial, link = invited(inside)
    _, key = take_part(outside, link)
    at = f"/api/gardens/invites/{trial['id']}"
    assert inside.post(at, json={"gardens": 9}).json()["most"] == 3  # the open one, as it was
    assert inside.post(f"{at}/close").json()["closed_at"] is not None
    assert "closed" in outside.post(f"{link}/join").json()["detail"]
    assert (
        outside.post(f"{link}/report", json={"began": "2026-05-01"}, headers=key).status_code == 204
    )
    assert inside.post(f"{at}/close").status_code == 404
    assert inside.post(at, json={"gardens": 9}).json()["most"] == 9
    assert inside.get("/api/gardens/invites/none").json() is None


@pytest.mark.parametrize(
    ("report", "says"),
    [
        ({"began": "2026-05-09", "counted": "2026-05-01", "counts": [1, 1]}, "before the start"),
        ({"counted": "2026-05-01", "counts": [1, 1]}, "the day you began"),
        ({"began": "2026-05-01", "counted": "2026-05-20", "counts": [1]}, "each of 2 pots"),
        ({"began": "2026-05-01", "counted": "2026-05-20", "counts": [1, 11]}, "11 cannot be"),
        ({"began": "2030-05-01"}, "has not come yet"),
        ({"began": "2026-05-01", "counts": [True, 1]}, "whole number"),
        ({"nonsense": 1}, "nonsense"),
    ],
)
def test_a_report_that_cannot_be_true_is_refused(
    shared: Both, clock: Clock, report: dict[str, Any], says: str
) -> None:
    inside, outside, _ = shared
    _, link = invited(inside)
    _, key = take_part(outside, link)
    clock.now += timedelta(days=30)
    answer = outside.post(f"{link}/report", json=report, headers=key)
    assert answer.status_code == 422
    assert says in answer.text


def test_a_pack_goes_out_and_comes_in_as_a_draft_of_its_plan(shared: Both) -> None:
    inside, _, _ = shared
    trial, _ = invited(inside)
    at = f"/api/gardens/pack/{trial['id']}"
    pack = inside.get(at, params={"form": "file", "gardens": 12}).json()
    assert (pack["schema"], pack["version"], pack["control"]) == ("racecard-garden-pack", 1, 0)
    came = inside.post("/api/trials/bring-in", content=json.dumps(pack)).json()["id"]
    plan = inside.get(f"/api/trials/{came}").json()["plan"]
    known = ("kind", "per_container", "length_days", "endpoint", "question")
    assert [plan[name] for name in known] == [trial["plan"][name] for name in known]
    assert [t["role"] for t in plan["treatments"]] == ["control", "candidate"]
    assert (plan["layout"], plan["units"]) == ("sites", 12)
    again = inside.get(at.replace(trial["id"], came), params={"form": "file", "gardens": 12}).json()
    drawn = {"orders", "key"}  # a lot of its own
    assert {k: v for k, v in again.items() if k not in drawn} == {k: v for k, v in pack.items() if k not in drawn}  # fmt: skip


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"version": 2}, "at version"),
        ({"orders": [[0, 0]]}, "order of garden 1"),
        ({"control": 4}, "the control"),
        ({"each": 0}, "at each"),
        ({"nonsense": 1}, "at nonsense"),
    ],
)
def test_a_pack_that_cannot_be_is_refused(shared: Both, change: dict[str, Any], says: str) -> None:
    inside, _, _ = shared
    trial, _ = invited(inside)
    pack = inside.get(f"/api/gardens/pack/{trial['id']}", params={"form": "file"}).json()
    answer = inside.post("/api/trials/bring-in", content=json.dumps(pack | change))
    assert answer.status_code == 422
    assert says in answer.json()["detail"]


def test_the_empty_form_comes_as_a_workbook_that_is_read_again(shared: Both) -> None:
    inside, _, _ = shared
    content = inside.get("/api/gardens/template.xlsx").content
    pairs = ["garden=Garden", "start=Started on", "date=Looked on", "count=How many in each",
             "struck:Treated=Treated", "struck:Untreated=Untreated"]  # fmt: skip
    read = inside.post("/api/gardens/read", params={"map": pairs, "kind": "seed"}, content=content)
    assert [r["fate"] for r in read.json()["rows"]] == ["taken"]


def test_the_published_schema_of_a_pack_is_current() -> None:
    assert Path("docs/garden-pack.schema.json").read_text() == schema_text()
