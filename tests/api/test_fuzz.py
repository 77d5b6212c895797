"""Generated calls over every operation of the API: no fault, nothing slow, every error as documented."""

import json
import os
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest
import schemathesis
from fastapi import FastAPI
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, Phase, given, settings

from racecard.api.app import create_app
from racecard.store.engine import Shed
from tests.api.test_api import begin, send, tap, units
from tests.builders import a_draft
from tests.conftest import NOON, Clock

CALLS = int(os.environ.get("RACECARD_CALLS", "2"))
"""Generated calls of each operation; `make fuzz` makes 20,000 in all."""
SLOWEST_S = float(os.environ.get("RACECARD_SLOWEST", "20"))
"""An answer beyond this hangs; `make fuzz` asks for 2 s, which a busy machine may miss."""
PLAIN: dict[str, Any] = {"content": {"application/problem+json": {}}}
"""Answers any operation may give, such as 503, which are told once and not of each."""
HOSTS = ("testserver", "localhost", "127.0.0.1")


@dataclass(frozen=True)
class Ids:
    """What is really there, so that generated calls get somewhere."""

    trial_id: str
    unit_id: str


@pytest.fixture(scope="module")
def fuzzed(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[FastAPI, Ids]]:
    clock = Clock(NOON)
    shed = Shed(tmp_path_factory.mktemp("fuzz"), now=clock)
    app = create_app(shed, hosts=HOSTS)
    client = TestClient(app, "http://127.0.0.1")
    client.post("/api/trials", json=a_draft())
    found = begin(client, clock)
    unit = units(client, found)[0]["id"]
    send(client, found, tap(unit, "tap-0001", clock, stage=3))
    yield app, Ids(found["id"], unit)
    shed.close()


def operations() -> list[str]:
    document = json.loads(Path("docs/openapi.json").read_text())
    return [f"{method.upper()} {path}" for path, of in document["paths"].items() for method in of]


@pytest.mark.parametrize("operation", operations())
def test_no_call_is_a_fault(fuzzed: tuple[FastAPI, Ids], operation: str) -> None:
    app, ids = fuzzed
    method, _, path = operation.partition(" ")
    document = schemathesis.openapi.from_asgi("/api/openapi.json", app)

    @given(case=document[path][method].as_strategy())
    @settings(max_examples=CALLS, deadline=None, phases=[Phase.generate], derandomize=True,
              database=None, suppress_health_check=list(HealthCheck))  # fmt: skip
    def called(case: schemathesis.Case[Any]) -> None:
        for name in ("trial_id", "unit_id"):
            if name in case.path_parameters:
                case.path_parameters[name] = getattr(ids, name)
        answer = case.call()
        assert answer.status_code < 500, answer.text
        assert answer.elapsed < SLOWEST_S or path == "/api/demo"  # it plays whole seasons
        if answer.status_code >= 400:
            assert answer.headers["content-type"][0] == "application/problem+json"
            told = (
                document[path][method]
                .definition.raw["responses"]
                .get(str(answer.status_code), PLAIN)
            )
            assert "application/problem+json" in told["content"]
            assert json.loads(answer.content)["errors"][0]["detail"]

    called()
