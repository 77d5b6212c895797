"""The chain of the log: whole after any writing through Racecard, broken by any writing past it."""

import shutil
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest
from alembic import command
from click.testing import CliRunner

from racecard.cli.main import app
from racecard.store.chain import photos_of, verify
from racecard.store.engine import Shed
from racecard.store.migrating import alembic_config
from tests.conftest import Clock, Demo


@pytest.fixture
def written(demo: Demo) -> Path:
    return demo.shed.path


def copied(path: Path, to: Path) -> Path:
    with closing(sqlite3.connect(path)) as one, closing(sqlite3.connect(to)) as two:
        one.backup(two)
    shutil.copytree(path.parent / "attachments", to.parent / "attachments")
    return to


def test_all_that_racecard_writes_is_linked(written: Path) -> None:
    found = verify(written)
    assert found.is_whole
    assert found.links > 1000
    said = CliRunner().invoke(app, ["verify", "--data", str(written.parent)])
    assert said.exit_code == 0
    assert f"The log is complete: {found.links} rows" in said.output


@pytest.mark.parametrize(
    ("change", "what"),
    [
        ("UPDATE observation SET stage = 6 WHERE seq = 40", "altered"), ("DELETE FROM observation WHERE seq = 40", "missing"),
        ("UPDATE entry SET who = 'nobody' WHERE seq = 2", "altered"),
        ("INSERT INTO amendment (trial_id, at, who, field, before, after, reason) SELECT id, created_at, 'x', '', '', 'y', 'z' FROM trial LIMIT 1", "unlinked"),
    ],
)  # fmt: skip
def test_what_is_changed_past_it_shows(
    written: Path, tmp_path: Path, change: str, what: str
) -> None:
    path = copied(written, tmp_path / "racecard.sqlite3")
    with closing(sqlite3.connect(path)) as db:
        for (name,) in db.execute(
            "SELECT name FROM sqlite_master WHERE type = 'trigger'"
        ).fetchall():
            db.execute(f"DROP TRIGGER {name}")
        db.execute(change)
        db.commit()
    found = verify(path)
    assert not found.is_whole
    assert len(getattr(found, what)) == 1
    assert CliRunner().invoke(app, ["verify", "--data", str(tmp_path)]).exit_code == 1


@pytest.mark.parametrize("what", ["altered", "missing"])
def test_a_picture_put_in_place_of_a_photo_shows(written: Path, tmp_path: Path, what: str) -> None:
    path = copied(written, tmp_path / "racecard.sqlite3")
    photo = next(p for p in photos_of(path).glob("*.jpg") if "thumb" not in p.name)
    if what == "altered":
        photo.write_bytes(photo.read_bytes() + b" ")
    else:
        photo.unlink()
    assert getattr(verify(path), what) == (f"photo {photo.stem}",)


def test_a_file_of_before_is_linked_when_it_is_brought_up_to_date(
    written: Path, tmp_path: Path, clock: Clock
) -> None:
    path = copied(written, tmp_path / "racecard.sqlite3")
    links = verify(path).links
    command.downgrade(alembic_config(path), "0009")
    Shed(tmp_path, now=clock).close()
    assert verify(path).is_whole
    assert verify(path).links == links


def test_where_nothing_is_saved_it_says_so(tmp_path: Path) -> None:
    answer = CliRunner().invoke(app, ["verify", "--data", str(tmp_path)])
    assert answer.exit_code == 2
    assert "There is no saved file" in answer.output


def test_the_lists_are_made_anew_by_a_command(written: Path) -> None:
    said = CliRunner().invoke(app, ["rebuild", "--data", str(written.parent)])
    assert said.exit_code == 0
    assert "The lists of 9 trials are made anew." in said.output
    with closing(sqlite3.connect(written)) as db:
        assert db.execute("SELECT count(*) FROM summary").fetchone() == (9,)
