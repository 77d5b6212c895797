"""Fixtures shared by all tests: a shed in a folder of its own, with a clock that stands still."""

from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import hypothesis
import pytest
from fastapi.testclient import TestClient

from racecard.api.app import create_app
from racecard.store.engine import Shed

hypothesis.settings.register_profile("steady", deadline=None)  # a busy machine fails no test
hypothesis.settings.load_profile("steady")

NOON = datetime(2026, 5, 25, 12, tzinfo=UTC)


class Clock:
    """A clock the test moves."""

    def __init__(self, now: datetime) -> None:
        self.now = now

    def __call__(self) -> datetime:
        return self.now

    def forward(self, days: float) -> None:
        self.now += timedelta(days=days)


@pytest.fixture
def clock() -> Clock:
    return Clock(NOON)


@pytest.fixture
def shed(tmp_path: Path, clock: Clock) -> Iterator[Shed]:
    opened = Shed(tmp_path / "shed", now=clock)
    yield opened
    opened.close()


@pytest.fixture
def client(shed: Shed) -> TestClient:
    return TestClient(create_app(shed), "http://127.0.0.1", raise_server_exceptions=False)
