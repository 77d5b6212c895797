"""A sealed trial: no answer of any route depends on which unit got which treatment.

The same requests go to two servers whose files differ in nothing but the treatments of the units,
dealt anew within the numbers. Equal answers, headers and orders carry no information about them.
"""

import random
import shutil
import sqlite3
from collections.abc import Callable, Iterator
from itertools import count
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from httpx2 import Response

from racecard.api.app import create_app
from racecard.core.log.lift import sampled, second_sample
from racecard.core.model import HIDDEN
from racecard.store.engine import FILE_NAME, Shed
from racecard.store.trials import load_trial, load_whole
from tests.api.test_api import send, tap, units
from tests.builders import a_draft
from tests.conftest import Clock

LONG = "9f" * 16
ARMS = [
    {"name": "Untreated", "role": "control", "silk": "plain"},
    {"name": "IBA 1000 ppm", "role": "candidate", "agent": "hormone", "silk": "hoops"},
    {"name": "Soaked", "role": "candidate", "detail": "soaked 6 h", "silk": "sash", "units": 4},
]
BY_DESIGN = {"/api/trials/{trial_id}/blind-lanes"}
"""Lanes without a name, once the last round is made; only where all hold equal numbers."""


def ids(first: int = 0) -> Callable[[], str]:
    numbers = count(first)
    return lambda: f"{next(numbers):032x}"


@pytest.fixture
def twins(
    tmp_path: Path, clock: Clock
) -> Iterator[Callable[[int], tuple[TestClient, TestClient, dict[str, Any]]]]:
    """Two servers over a sealed trial with a log, whose units hold other treatments."""
    opened: list[Shed] = []

    def made(seed: int) -> tuple[TestClient, TestClient, dict[str, Any]]:
        shed = Shed(tmp_path / f"one{seed}", now=clock, new_id=ids())
        client = TestClient(create_app(shed), "http://127.0.0.1", raise_server_exceptions=False)
        draft = a_draft(
            blind=True, treatments=ARMS, unequal_reason="few", length_days=6, look_every_days=3
        )
        trial = client.post("/api/trials", json=draft | {"seed": LONG}).json()
        at = f"/api/trials/{trial['id']}"
        client.put(
            f"{at}/baseline", json={"trait": "length", "values": [8.0 + i for i in range(16)]}
        )
        client.post(f"{at}/start", json={})
        clock.forward(3)
        trial = client.get(at).json()
        rng = random.Random(seed)
        late = {"set_at": clock.now.isoformat(), "lot": "B", "why": "mould"}
        client.post(
            f"{at}/settings",
            json={"items": [
                {"unit_id": u["id"], **rng.choice([{}, late, {"is_set": False, "why": "too short"}])}
                for u in units(client, trial)
            ]},
        ).raise_for_status()  # fmt: skip
        for i, unit in enumerate(units(client, trial)):
            if rng.random() < 0.8:
                send(
                    client,
                    trial,
                    tap(unit["id"], f"tap-{i:05}", clock, stage=rng.choice([1, 3, 6])),
                )
            if rng.random() < 0.5:
                send(
                    client,
                    trial,
                    tap(unit["id"], f"lift-{i:05}", clock, kind="score", score=rng.randint(0, 5)),
                )
        shed.close()
        shutil.copytree(shed.path.parent, tmp_path / f"two{seed}")
        other = tmp_path / f"two{seed}" / FILE_NAME
        _deal_anew(other, rng)
        pair = [Shed(p.parent, now=clock, new_id=ids(10**6)) for p in (shed.path, other)]
        opened.extend(pair)
        one, two = (
            TestClient(create_app(s), "http://127.0.0.1", raise_server_exceptions=False)
            for s in pair
        )
        return one, two, trial

    yield made
    for s in opened:
        s.close()


def _deal_anew(file: Path, rng: random.Random) -> None:
    with sqlite3.connect(file) as db:
        rows = db.execute(
            "SELECT id, treatment_id FROM unit WHERE treatment_id IS NOT NULL ORDER BY id"
        ).fetchall()
        dealt = [t for _, t in rows]
        while dealt == [t for _, t in rows]:
            rng.shuffle(dealt)
        db.executemany(
            "UPDATE unit SET treatment_id = ? WHERE id = ?",
            [(t, i) for t, (i, _) in zip(dealt, rows, strict=True)],
        )


def paths(client: TestClient, trial: dict[str, Any]) -> list[str]:
    """Every address that can be read, filled in for this trial."""
    api = client.get("/api/openapi.json").json()["paths"]
    unit = units(client, trial)[0]
    values = {
        "trial_id": trial["id"], "other_id": trial["id"], "day": "3", "unit_id": unit["id"], "name": "x",
        "trial": trial["id"][:8], "code": unit["cell"]["label"], "number": "1", "job_id": "x", "run_id": "x", "table_id": "x", "work_id": "x",
    }  # fmt: skip
    out = []
    for path, methods in api.items():
        if "get" not in methods or path in BY_DESIGN:
            continue
        wanted = [
            p
            for p in methods["get"].get("parameters", [])
            if p["in"] == "query" and p.get("required")
        ]
        query = "&".join(f"{p['name']}={'cutting' if p['name'] == 'kind' else 3}" for p in wanted)
        out.append(path.format(**values) + (f"?{query}" if query else ""))
    return out


def told(answer: Response) -> tuple[int, dict[str, str], bytes]:
    headers = {k: v for k, v in answer.headers.items() if k not in ("date",)}
    return answer.status_code, headers, answer.content


WRITES: list[tuple[str, str, dict[str, Any]]] = [
    ("POST", "/start", {}),
    ("POST", "/grades", {"grades": {"1": 8, "2": 8}}),
    ("POST", "/settings/many", {"treatment": 1, "tray": None, "set_at": "2026-05-28T12:00:00+00:00"}),
    ("POST", "/settings/many", {"treatment": None, "tray": 0, "set_at": "2026-05-28T12:00:00+00:00"}),
    ("POST", "/copy", {"seed": LONG}),
    ("POST", "/labels/print", {"trays": []}),
    ("POST", "/heard", {"text": "A1 rooted", "unit_id": ""}),
    ("POST", "/amend", {"change": {"length_days": 9}, "reason": "slow"}),
    ("POST", "/entries", {"items": [{"id": "arm-event-1", "kind": "event", "scope": "arm", "target": "1", "what": "watered",
                                     "values": {}, "text": "", "seen_at": "2026-05-28T12:00:00+00:00"}]}),
    ("POST", "/rounds/3/move", {"to_day": 2}),
    ("DELETE", "", {}),
]  # fmt: skip


def test_no_answer_depends_on_who_got_what(twins: Callable[[int], tuple[TestClient, TestClient, dict[str, Any]]]) -> None:  # fmt: skip
    one, two, trial = twins(0)
    for path in paths(one, trial):
        assert told(one.get(path)) == told(two.get(path)), path
    for method, path, body in WRITES:
        address = f"/api/trials/{trial['id']}{path}"
        assert told(one.request(method, address, json=body)) == told(
            two.request(method, address, json=body)
        ), path
    for unit in units(one, trial):
        void = {"id": f"void-{unit['id']}", "unit_id": unit["id"], "kind": "void", "corrects": "tap-00000",
                "seen_at": "2026-05-28T12:00:00+00:00"}  # fmt: skip
        assert told(send(one, trial, void)) == told(send(two, trial, void))
    for path in paths(one, trial):
        assert told(one.get(path)) == told(two.get(path)), path


def test_what_is_drawn_by_treatment_is_told_in_the_order_of_the_bench(client: TestClient, shed: Shed, clock: Clock) -> None:  # fmt: skip
    draft = a_draft(blind=True, units=30, sample_lifts=[{"day": 3, "units": 5}])
    trial = client.post("/api/trials", json=draft | {"seed": LONG}).json()
    client.post(f"/api/trials/{trial['id']}/start", json={})
    with shed.reading() as session:
        kept, hidden = load_whole(session, trial["id"]), load_trial(session, trial["id"])
    assert {u.cell.treatment for u in hidden.planted} == {HIDDEN}
    assert hidden.seed == 0
    assert second_sample(hidden) == second_sample(kept)
    assert sampled(hidden) == sampled(kept)
    places = {u.id: i for i, u in enumerate(kept.units)}
    for drawn in (second_sample(kept), sampled(kept)[3]):
        assert [places[i] for i in drawn] == sorted(places[i] for i in drawn)
        assert {u.cell.treatment for u in kept.units if u.id in drawn} == {0, 1}
    wanted = client.get(f"/api/trials/{trial['id']}/agreement").json()["wanted"]
    assert [places[i] for i in wanted] == sorted(places[i] for i in wanted)


def test_the_comparison_reaches_answers_that_hold_something(twins: Callable[[int], tuple[TestClient, TestClient, dict[str, Any]]]) -> None:  # fmt: skip
    one, _, trial = twins(9)
    answers = {path: one.get(path).status_code for path in paths(one, trial)}
    assert 500 not in answers.values()
    told_of_it = [p for p, status in answers.items() if status == 200 and trial["id"] in p]
    assert len(told_of_it) >= 15
