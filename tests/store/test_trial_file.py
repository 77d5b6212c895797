"""A whole trial travels as one file and gives the identical finish in another shed."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from racecard.api.app import create_app
from racecard.core.model import Trial
from racecard.core.model.observation import Entry, Observation
from racecard.core.plan.record import FORMER_NAMES
from racecard.errors import InvalidInput
from racecard.formats.trial_file import read_trial, schema_text, write_trial
from racecard.store.diary import load_entries
from racecard.store.engine import Shed
from racecard.store.import_trial import import_trial
from racecard.store.rounds import load_observations, record
from racecard.store.trials import create_trial, load_trial, load_trials, start_trial
from tests.builders import a_plan
from tests.conftest import Clock, Demo


def log_of(shed: Shed, trial: Trial) -> list[Observation]:
    with shed.reading() as session:
        return load_observations(session, trial.id)


def diary_of(shed: Shed, trial: Trial) -> list[Entry]:
    with shed.reading() as session:
        return load_entries(session, trial.id)


def finish(shed: Shed, trial: str) -> Any:
    return (
        TestClient(create_app(shed), "http://127.0.0.1").get(f"/api/trials/{trial}/finish").json()
    )


def test_the_demo_is_judged_alike_in_another_shed(demo: Demo, shed: Shed) -> None:
    other, shed = shed, demo.shed
    for trial in demo.trials:
        content = write_trial(trial, log_of(shed, trial), diary_of(shed, trial))
        brought = import_trial(other, *read_trial(content), "me")
        here, there = finish(shed, trial.id), finish(other, brought.id)
        if "of this plan" in here.get(
            "headline", ""
        ):  # the card tells what its runs show together; alone it has none
            here = {k: v for k, v in here.items() if k not in ("answer", "headline")}
        assert {k: there.get(k) for k in here} == here, there
        again = read_trial(write_trial(brought, log_of(other, brought), diary_of(other, brought)))
        assert again[1] == read_trial(content)[1]
        assert [e.what for e in again[2]] == [
            "" if e.kind == "photo" else e.what for e in read_trial(content)[2]
        ]  # a photo travels as the note that one was taken


@given(seed=st.integers(0, 2**20), plants=st.sampled_from([1, 5]), taps=st.integers(0, 40))
@settings(
    max_examples=15, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
def test_any_log_with_its_corrections_survives(
    shed: Shed, clock: Clock, seed: int, plants: int, taps: int
) -> None:
    rng = np.random.default_rng(seed)
    trial = create_trial(shed, a_plan("U", "=A 🌱", units=3, per_container=plants), seed, "me")
    start_trial(shed, trial.id, "me", clock.now)
    rows: list[Observation] = []
    for _ in range(taps):
        unit = trial.planted[int(rng.integers(len(trial.planted)))].id
        seen = (
            {"stage": int(rng.integers(1, 8))}
            if plants == 1
            else {"struck": int(rng.integers(0, 6))}
        )
        kind = "look" if plants == 1 else "count"
        mine = [r for r in rows if r.unit_id == unit]
        if mine and rng.random() < 0.2:
            row = Observation(shed.new_id(), unit, "void", 0, clock.now, "Inês", mine[-1].id)
        else:
            row = Observation(shed.new_id(), unit, kind, 0, clock.now, "Inês", **seen)  # type: ignore[arg-type]
        rows += record(shed, trial.id, [row])
    with shed.reading() as session:
        trial = load_trial(session, trial.id)
    content = write_trial(trial, log_of(shed, trial))
    brought = import_trial(shed, *read_trial(content), "me")
    assert write_trial(brought, log_of(shed, brought)) == content


def changed(content: bytes, **fields: object) -> bytes:
    return json.dumps({**json.loads(content), **fields}).encode()


@pytest.mark.parametrize(
    ("fields", "part"),
    [
        ({"format": "racecard-trial-9"}, "at format"),
        ({"seed": -1}, "at seed"),
        ({"bench": []}, "bench has 0 planted cells"),
        ({"nonsense": 1}, "at nonsense"),
        ({"started_at": None}, "started without a start time"),
        ({"observations": [{"unit": 999, "kind": "look", "seen_at": "2026-05-25T12:00:00Z", "who": "x"}]}, "not there"),
        ({"observations": [{"unit": 0, "kind": "look", "seen_at": "2026-05-25T12:00:00Z", "who": "x", "stage": 99}]}, "stage must be"),
    ],
)  # fmt: skip
def test_a_file_that_cannot_be_true_brings_nothing_in(
    shed: Shed, fields: dict[str, object], part: str
) -> None:
    trial = create_trial(shed, a_plan(), 1, "me")
    trial = start_trial(shed, trial.id, "me")
    content = changed(write_trial(trial, []), **fields)
    with pytest.raises(InvalidInput, match=part):
        import_trial(shed, *read_trial(content), "me")
    with shed.reading() as session:
        assert len(load_trials(session)) == 1


def test_a_file_with_the_former_names_is_read(shed: Shed) -> None:
    trial = create_trial(shed, a_plan(icc=0.25, pair_correlation=0.5, block_basis="day"), 1, "me")
    content = json.loads(write_trial(trial, []))
    plan = content["plan"]
    for was, now in FORMER_NAMES.items():
        plan[was] = plan.pop(now)
    read = read_trial(json.dumps(content).encode())[0].plan
    assert (read.icc, read.pair_correlation, read.block_basis) == (0.25, 0.5, "day")


@pytest.mark.parametrize("content", [b"", b"nonsense", b"[]", b'{"format": "racecard-trial-1"}'])
def test_what_is_no_trial_is_refused(content: bytes) -> None:
    with pytest.raises(InvalidInput, match="not a complete trial file of version 1"):
        read_trial(content)


def test_a_sealed_trial_stays_sealed(shed: Shed) -> None:
    trial = create_trial(shed, a_plan(blind=True), 1, "me")
    start_trial(shed, trial.id, "me")
    answer = TestClient(create_app(shed), "http://127.0.0.1").get(
        f"/api/trials/{trial.id}/trial.json"
    )
    assert answer.json()["type"] == "/problems/sealed"


def test_the_api_brings_a_trial_in(demo: Demo) -> None:
    shed, trial = demo.shed, demo.trials[1]
    client = TestClient(create_app(shed), "http://127.0.0.1")
    content = client.get(f"/api/trials/{trial.id}/trial.json").content
    brought = client.post("/api/trials/bring-in", content=content).json()["id"]
    assert finish(shed, brought) == finish(shed, trial.id)
    assert client.post("/api/trials/bring-in", content=b"{}").status_code == 422


def test_the_published_schema_is_current() -> None:
    assert Path("docs/trial.schema.json").read_text() == schema_text()


def begun(shed: Shed) -> Trial:
    trial = create_trial(shed, a_plan(), 1, "me")
    return start_trial(shed, trial.id, "me")


def test_an_import_is_all_or_nothing(shed: Shed, clock: Clock) -> None:
    file = json.loads(write_trial(begun(shed), []))
    file.setdefault("diary", []).append({"kind": "event", "scope": "trial", "target": "", "seen_at": clock.now.isoformat(), "who": "me",
                          "corrects": None, "what": "no such event", "values": {}, "text": ""})  # fmt: skip
    client = TestClient(create_app(shed), "http://127.0.0.1")
    before = client.get("/api/trials").json()
    answer = client.post("/api/trials/bring-in", content=json.dumps(file).encode())
    assert answer.status_code == 422
    assert client.get("/api/trials").json() == before


@pytest.mark.parametrize("is_changed", [False, True])
def test_a_file_whose_fingerprint_does_not_match_says_so(
    shed: Shed, clock: Clock, is_changed: bool
) -> None:
    file = json.loads(write_trial(begun(shed), []))
    assert file["fingerprint"]
    file["amendments"] = []
    if is_changed:
        file["plan"]["gap_points"] += 1
    client = TestClient(create_app(shed), "http://127.0.0.1")
    made = client.post("/api/trials/bring-in", content=json.dumps(file).encode()).json()["id"]
    said = [a["after"] for a in client.get(f"/api/trials/{made}").json()["amendments"]]
    assert any("fingerprint" in words for words in said) is is_changed


def test_a_file_of_version_1_is_read_as_the_same_trial(shed: Shed) -> None:
    second = json.loads(write_trial(begun(shed), []))
    first = {**second, "format": "racecard-trial-1"}
    prepared = first.pop("preparation")
    arms = prepared.pop("treatments")
    plan = first["plan"] = {**second["plan"], **prepared}
    plan["treatments"] = [
        {**a, **b} for a, b in zip(second["plan"]["treatments"], arms, strict=True)
    ]
    for arm in plan["treatments"]:
        arm["properties"] = [list(p.values()) for p in arm["properties"]]
        arm["steps"] = [list(p.values()) for p in arm["steps"]]
    for name in ("at_hand", "sample_lifts", "jobs"):
        plan[name] = [list(p.values()) for p in plan[name]]
    assert read_trial(json.dumps(first).encode()) == read_trial(json.dumps(second).encode())
