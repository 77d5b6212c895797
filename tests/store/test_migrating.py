"""Bringing a saved file up to date: killed at any moment it leaves a whole file, and odd files one sentence."""

import os
import random
import shutil
import signal
import sqlite3
import stat
import subprocess
import sys
import threading
import time
from pathlib import Path

import pytest
from alembic import command

from racecard.core.model.observation import Observation
from racecard.errors import AppError, Conflict, InvalidInput
from racecard.formats.trial_file import write_trial
from racecard.store.backup import back_up, restore
from racecard.store.chain import verify
from racecard.store.diary import load_entries
from racecard.store.engine import FILE_NAME, Shed
from racecard.store.migrating import COPIES, alembic_config, version_of
from racecard.store.rounds import load_observations, record
from racecard.store.trials import create_trial, load_trials, start_trial
from tests.builders import a_plan
from tests.conftest import Clock, Demo

KILLS = int(os.environ.get("RACECARD_KILLS", "4"))
OPEN = ("from racecard.store.engine import Shed", "Shed(Path({!r}))")
RESTORE = (
    "from datetime import UTC, datetime; from racecard.store.backup import restore",
    "restore(Path({!r}), Path({!r}), datetime.now(UTC))",
)
IMPORT = (
    "from racecard.store.engine import Shed; from racecard.store.import_trial import import_trial; "
    "from racecard.formats.trial_file import read_trial",
    "import_trial(Shed(Path({!r})), *read_trial(Path({!r}).read_bytes()), 'me')",
)


def questions(folder: Path) -> list[str]:
    shed = Shed(folder)
    with shed.reading() as session:
        found = [t.plan.question for t in load_trials(session)]
    shed.close()
    return found


@pytest.fixture
def old(tmp_path: Path, clock: Clock) -> Path:
    """A folder whose file has the schema of some time ago."""
    shed = Shed(tmp_path / "old", now=clock)
    for i in range(30):
        create_trial(shed, a_plan(question=f"Trial {i}?"), 1, "me")
    shed.close()
    command.downgrade(alembic_config(shed.path), "0007")
    return shed.path.parent


def begun(code: tuple[str, str], *paths: Path) -> subprocess.Popen[bytes]:
    """A process that has read its modules and does the work now."""
    modules, work = code
    work = work.format(*map(str, paths))
    process = subprocess.Popen(
        [sys.executable, "-c", f"from pathlib import Path; {modules}; print(flush=True); {work}"],
        stdout=subprocess.PIPE,
    )
    assert process.stdout is not None
    with process.stdout as out:
        out.readline()
    return process


def time_of(code: tuple[str, str], *paths: Path) -> float:
    """Seconds the work takes when it is left alone."""
    process, started = begun(code, *paths), time.monotonic()
    assert process.wait() == 0
    return time.monotonic() - started


def killed(after_s: float, code: tuple[str, str], *paths: Path) -> bool:
    """Whether it was killed within its work."""
    process = begun(code, *paths)
    time.sleep(after_s)
    process.send_signal(signal.SIGKILL)
    return process.wait() == -signal.SIGKILL


def test_an_old_file_is_copied_then_migrated_and_readable_by_its_owner_only(old: Path) -> None:
    shed = Shed(old)
    shed.close()
    assert shed.copy_before == old / COPIES / "racecard-0007.sqlite3"
    assert version_of(shed.copy_before) == "0007"
    assert stat.S_IMODE(shed.path.stat().st_mode) == 0o600
    assert len(questions(old)) == 30
    assert Shed(old).copy_before is None


def test_a_kill_while_migrating_leaves_a_whole_file(old: Path, tmp_path: Path) -> None:
    longest = time_of(OPEN, shutil.copytree(old, tmp_path / "timed"))
    rng, stopped = random.Random(KILLS), 0
    for n in range(KILLS):
        folder = shutil.copytree(old, tmp_path / f"kill{n}")
        stopped += killed(rng.random() * longest, OPEN, folder)
        assert len(questions(folder)) == 30, n
        assert not list(folder.glob(".migrating-*"))
    assert stopped > 0


def test_a_kill_while_restoring_leaves_the_old_or_the_new(tmp_path: Path, clock: Clock) -> None:
    shed = Shed(tmp_path / "shed", now=clock)
    create_trial(shed, a_plan(question="Kept?"), 1, "me")
    back_up(shed.path.parent, tmp_path / "b.zip", clock.now)
    create_trial(shed, a_plan(question="Newer?"), 1, "me")
    shed.close()
    book = tmp_path / "b.zip"
    longest = time_of(RESTORE, book, shutil.copytree(shed.path.parent, tmp_path / "timed"))
    rng, stopped = random.Random(KILLS), 0
    for n in range(max(2, KILLS // 2)):
        folder = shutil.copytree(shed.path.parent, tmp_path / f"kill{n}")
        stopped += killed(rng.random() * longest, RESTORE, book, folder)
        assert sorted(questions(folder)) in (["Kept?"], ["Kept?", "Newer?"])
    assert stopped > 0


def test_a_kill_while_importing_leaves_all_of_the_trial_or_nothing(
    tmp_path: Path, clock: Clock, demo: Demo
) -> None:
    trial = demo.trials[0]
    with demo.shed.reading() as session:
        log, diary = load_observations(session, trial.id), load_entries(session, trial.id)
    assert log
    assert diary
    file = tmp_path / "trial.json"
    file.write_bytes(write_trial(trial, log, diary))
    longest = time_of(IMPORT, tmp_path / "timed", file)
    rng, stopped = random.Random(KILLS), 0
    for n in range(max(3, KILLS // 2)):
        folder = tmp_path / f"kill{n}"
        Shed(folder, now=clock).close()
        stopped += killed(rng.random() * longest, IMPORT, folder, file)
        shed = Shed(folder)
        with shed.reading() as session:
            for t in load_trials(session):
                assert len(load_observations(session, t.id)) == len(log)
                assert len(load_entries(session, t.id)) == len(diary)
        shed.close()
        assert verify(folder / FILE_NAME).is_whole
    assert stopped > 0


def test_two_servers_over_one_file_lose_nothing(tmp_path: Path, clock: Clock) -> None:
    sheds = [Shed(tmp_path / "shed", now=clock) for _ in range(2)]
    trial = create_trial(sheds[0], a_plan("U", "A", units=30, columns=10), 1, "me")
    trial = start_trial(sheds[0], trial.id, "me")

    def taps(which: int) -> None:
        for i, unit in enumerate(trial.planted[which::2]):
            look = Observation(f"tap-{which}-{i:03}", unit.id, "look", 0, clock.now, "me", None, 3)
            record(sheds[which], trial.id, [look])

    threads = [threading.Thread(target=taps, args=(k,)) for k in range(2)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    with sheds[1].reading() as session:
        assert len(load_observations(session, trial.id)) == 60
    for s in sheds:
        s.close()
    assert verify(sheds[0].path).is_whole


@pytest.mark.parametrize(
    ("what", "says"),
    [("newer", "newer Racecard"), ("foreign", "another program"), ("no database", "damaged or no file of Racecard"), ("folder", "is a folder")],
)  # fmt: skip
def test_a_file_that_is_not_ours_is_one_sentence(old: Path, what: str, says: str) -> None:
    path = old / FILE_NAME
    if what == "newer":
        with sqlite3.connect(path) as db:
            db.execute("UPDATE alembic_version SET version_num = '9999'")
        db.close()
    else:
        path.unlink()
        if what == "foreign":
            with sqlite3.connect(path) as db:
                db.execute("CREATE TABLE songs (name TEXT)")
            db.close()
        elif what == "folder":
            path.mkdir()
        else:
            path.write_bytes(b"x" * 5000)
    before = path.read_bytes() if path.is_file() else b""
    with pytest.raises(AppError, match=says):
        Shed(old)
    assert not path.is_file() or path.read_bytes() == before


def test_an_old_file_that_another_racecard_holds_is_left_alone(old: Path) -> None:
    holder = sqlite3.connect(old / FILE_NAME)
    holder.execute("BEGIN")
    holder.execute("SELECT count(*) FROM trial").fetchone()
    with pytest.raises(Conflict, match="Another Racecard"):
        Shed(old)
    holder.close()
    assert version_of(old / FILE_NAME) == "0007"


@pytest.mark.parametrize("manifest", ["[]", "null", '"x"', "{}", '{"format": "racecard-backup-1"}'])
def test_a_manifest_that_is_none_is_one_sentence(
    tmp_path: Path, clock: Clock, manifest: str
) -> None:
    import zipfile

    with zipfile.ZipFile(tmp_path / "b.zip", "w") as packed:
        packed.writestr("manifest.json", manifest)
        packed.writestr(FILE_NAME, b"x")
    with pytest.raises(InvalidInput, match="nothing was changed"):
        restore(tmp_path / "b.zip", tmp_path / "new", clock.now)


def test_a_photo_that_was_changed_in_a_backup_is_found(tmp_path: Path, clock: Clock) -> None:
    import zipfile

    shed = Shed(tmp_path / "shed", now=clock)
    photos = shed.path.parent / "attachments" / "photos"
    photos.mkdir(parents=True)
    (photos / "a.jpg").write_bytes(b"one")
    back_up(shed.path.parent, tmp_path / "b.zip", clock.now)
    shed.close()
    with zipfile.ZipFile(tmp_path / "b.zip") as packed:
        parts = {n: packed.read(n) for n in packed.namelist()}
    parts["attachments/photos/a.jpg"] = b"two"
    with zipfile.ZipFile(tmp_path / "c.zip", "w") as packed:
        for name, content in parts.items():
            packed.writestr(name, content)
    restore(tmp_path / "b.zip", tmp_path / "good", clock.now)
    with pytest.raises(InvalidInput, match="damaged"):
        restore(tmp_path / "c.zip", tmp_path / "bad", clock.now)
