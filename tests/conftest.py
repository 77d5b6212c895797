"""Fixtures shared by all tests: a shed in a folder of its own, with a clock that stands still."""

import gc
import shutil
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import hypothesis
import pytest
from fastapi.testclient import TestClient
from sqlalchemy import create_engine
from sqlalchemy.util import LRUCache

from racecard.api.app import create_app
from racecard.core.model import Trial
from racecard.demo.scenario import build_demo
from racecard.store.engine import Shed
from racecard.store.trials import load_whole

hypothesis.settings.register_profile("steady", deadline=None)  # a busy machine fails no test
hypothesis.settings.load_profile("steady")

# every look for garbage went through all that pytest holds of five thousand tests: a fifth of the time
gc.disable()


def pytest_collection_finish() -> None:
    gc.enable()
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 20, 20)


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


@pytest.fixture(scope="session")
def new_folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A shed as it is first made; a copy takes a blink, its migrations do not."""
    folder = tmp_path_factory.mktemp("new") / "shed"
    Shed(folder).close()
    return folder


class Statements:
    """The statements of all sheds of a run: made ready for the first, they serve the others."""

    def __init__(self) -> None:
        self.dialect = create_engine("sqlite://").dialect
        self.ready: LRUCache[Any, Any] = LRUCache(1000)

    def serve(self, shed: Shed) -> Shed:
        for engine in (shed.engine, shed.reader):
            engine.dialect = self.dialect
            engine.update_execution_options(compiled_cache=self.ready)
        return shed


@pytest.fixture(scope="session")
def statements() -> Statements:
    return Statements()


@pytest.fixture
def shed(tmp_path: Path, clock: Clock, new_folder: Path, statements: Statements) -> Iterator[Shed]:
    opened = statements.serve(Shed(shutil.copytree(new_folder, tmp_path / "shed"), now=clock))
    yield opened
    opened.close()


@pytest.fixture(scope="session")
def demo_folder(tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, list[str]]:
    """The demo as it is at noon, played once, and the ids of its trials in their order."""
    made = Shed(tmp_path_factory.mktemp("demo") / "shed", now=Clock(NOON))
    ids = [trial.id for trial in build_demo(made)]
    made.close()
    return made.path.parent, ids


@dataclass
class Demo:
    """A shed that holds the demo, and its trials with nothing hidden."""

    shed: Shed
    trials: list[Trial]


@pytest.fixture
def demo(
    tmp_path: Path, clock: Clock, demo_folder: tuple[Path, list[str]], statements: Statements
) -> Iterator[Demo]:
    folder, ids = demo_folder
    opened = statements.serve(Shed(shutil.copytree(folder, tmp_path / "demo"), now=clock))
    with opened.reading() as session:
        trials = [load_whole(session, id) for id in ids]
    yield Demo(opened, trials)
    opened.close()


@pytest.fixture
def client(shed: Shed) -> Iterator[TestClient]:
    app = create_app(shed)
    with TestClient(app, "http://127.0.0.1", raise_server_exceptions=False) as client:
        yield client  # within `with` all its requests share one loop
