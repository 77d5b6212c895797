"""The whole shed in one file: written while it runs, checked before it replaces anything."""

import stat
import zipfile
from datetime import timedelta
from pathlib import Path

import pytest
from click.testing import CliRunner

from racecard.cli.main import app
from racecard.errors import Conflict, InvalidInput
from racecard.store.backup import back_up, restore
from racecard.store.engine import FILE_NAME, Shed
from racecard.store.schedule import back_up_if_due, backups_in
from racecard.store.trials import create_trial, load_trials
from tests.builders import a_plan
from tests.conftest import Clock


def questions(folder: Path, clock: Clock) -> list[str]:
    shed = Shed(folder, now=clock)
    with shed.reading() as session:
        found = [t.plan.question for t in load_trials(session)]
    shed.close()
    return found


def test_a_backup_of_a_running_shed_comes_back(shed: Shed, clock: Clock, tmp_path: Path) -> None:
    create_trial(shed, a_plan(question="One?"), 1, "me")
    (shed.path.parent / "attachments").mkdir()
    (shed.path.parent / "attachments" / "a.txt").write_text("photo")
    file = tmp_path / "shed.zip"
    assert back_up(shed.path.parent, file, clock.now) == file.stat().st_size
    create_trial(shed, a_plan(question="Two?"), 1, "me")
    shed.close()
    kept = restore(file, shed.path.parent, clock.now)
    assert questions(shed.path.parent, clock) == ["One?"]
    assert (shed.path.parent / "attachments" / "a.txt").read_text() == "photo"
    assert kept is not None
    assert sorted(questions(kept, clock)) == ["One?", "Two?"]


def test_an_empty_folder_takes_a_backup(shed: Shed, clock: Clock, tmp_path: Path) -> None:
    create_trial(shed, a_plan(question="One?"), 1, "me")
    back_up(shed.path.parent, tmp_path / "b", clock.now)
    assert restore(tmp_path / "b", tmp_path / "new", clock.now) is None
    assert questions(tmp_path / "new", clock) == ["One?"]


def test_an_open_shed_is_not_replaced(shed: Shed, clock: Clock, tmp_path: Path) -> None:
    create_trial(shed, a_plan(question="One?"), 1, "me")
    back_up(shed.path.parent, tmp_path / "b", clock.now)
    with shed.reading() as session:
        load_trials(session)
        with pytest.raises(Conflict, match="Racecard is running"):
            restore(tmp_path / "b", shed.path.parent, clock.now)
    assert questions(shed.path.parent, clock) == ["One?"]


def damaged(file: Path, how: str) -> None:
    if how == "no zip":
        file.write_bytes(b"nonsense")
    elif how == "cut short":
        file.write_bytes(file.read_bytes()[:-200])
    else:
        with zipfile.ZipFile(file) as packed:
            parts = {n: packed.read(n) for n in packed.namelist()}
        parts[FILE_NAME] = parts[FILE_NAME][:-1] + b"x"
        with zipfile.ZipFile(file, "w") as packed:
            for name, content in parts.items():
                packed.writestr(name, content)


@pytest.mark.parametrize("how", ["no zip", "cut short", "one byte"])
def test_a_damaged_backup_changes_nothing(
    shed: Shed, clock: Clock, tmp_path: Path, how: str
) -> None:
    create_trial(shed, a_plan(question="One?"), 1, "me")
    file = tmp_path / "b"
    back_up(shed.path.parent, file, clock.now)
    shed.close()
    damaged(file, how)
    with pytest.raises(InvalidInput, match="nothing was changed"):
        restore(file, shed.path.parent, clock.now)
    assert questions(shed.path.parent, clock) == ["One?"]


def test_the_commands_say_what_they_did(shed: Shed, tmp_path: Path) -> None:
    folder, file = str(shed.path.parent), str(tmp_path / "b")
    run = CliRunner().invoke
    assert "The backup is in" in run(app, ["backup", file, "--data", folder]).output
    shed.close()
    assert "is kept in" in run(app, ["restore", file, "--data", folder]).output
    none = run(app, ["backup", file, "--data", str(tmp_path / "none")])
    assert none.exit_code == 2
    assert "There is no shed" in none.output
    assert run(app, ["restore", str(tmp_path / "nothing"), "--data", folder]).exit_code == 2


def test_backups_make_themselves_and_the_last_seven_and_four_weekly_are_kept(
    shed: Shed, clock: Clock
) -> None:
    folder = shed.path.parent
    create_trial(shed, a_plan(question="One?"), 1, "me")
    for _ in range(60):
        made = back_up_if_due(folder, clock.now, timedelta(days=1))
        assert made is not None
        assert back_up_if_due(folder, clock.now, timedelta(days=1)) is None
        clock.forward(1)
    ages = [(clock.now.replace(tzinfo=None) - at).days for at, _ in backups_in(folder)]
    assert ages[:7] == [1, 2, 3, 4, 5, 6, 7]
    assert 7 < len(ages) <= 11
    assert max(ages) <= 28
    assert stat.S_IMODE(backups_in(folder)[0][1].stat().st_mode) == 0o600
    restore(backups_in(folder)[0][1], folder.parent / "again", clock.now)
    assert questions(folder.parent / "again", clock) == ["One?"]


def test_no_old_backup_goes_for_one_that_cannot_be_read(
    shed: Shed, clock: Clock, monkeypatch: pytest.MonkeyPatch
) -> None:
    folder = shed.path.parent
    for _ in range(7):
        back_up_if_due(folder, clock.now, timedelta(days=1))
        clock.forward(1)
    before = backups_in(folder)

    def broken(_: Path) -> None:
        raise InvalidInput("damaged")

    monkeypatch.setattr("racecard.store.schedule.verified", broken)
    with pytest.raises(InvalidInput):
        back_up_if_due(folder, clock.now, timedelta(days=1))
    assert backups_in(folder) == before
