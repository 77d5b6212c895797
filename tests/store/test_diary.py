"""Diary, photos, conditions and devices in a real file."""

import io
import sqlite3
from dataclasses import replace
from datetime import timedelta
from pathlib import Path

import pytest
from PIL import Image
from PIL.ExifTags import GPS, IFD, Base

from racecard.core.conditions.reading import Reading
from racecard.core.log.events import entries_in_force
from racecard.core.model import Trial
from racecard.core.model.observation import Entry, Scope
from racecard.errors import Conflict, InvalidInput, NotFound, Sealed, StoreUnavailable
from racecard.store.backup import back_up, restore
from racecard.store.conditions import Watch, add_readings, keep_watch, load_readings, load_watches
from racecard.store.devices import device_of, join_device, load_devices, withdraw_device
from racecard.store.diary import load_entries, record_entries
from racecard.store.engine import Shed
from racecard.store.photos import keep_photo, photo_path
from racecard.store.rounds import record
from racecard.store.trials import create_trial
from tests.builders import a_plan
from tests.conftest import Clock
from tests.store.test_trials import log_of, look, started


def an_entry(shed: Shed, kind: str = "event", **fields: object) -> Entry:
    given: dict[str, object] = {
        "id": "entry-01", "scope": Scope.TRIAL, "target": "", "day": 0, "seen_at": shed.now(),
        "who": "me", "what": "watered" if kind == "event" else "",
    }  # fmt: skip
    return Entry(kind=kind, **{**given, **fields})  # type: ignore[arg-type]


def diary(shed: Shed, trial: Trial) -> list[Entry]:
    with shed.reading() as session:
        return load_entries(session, trial.id)


def test_an_entry_is_kept_once_with_its_day_and_taken_back_beside_itself(
    shed: Shed, clock: Clock
) -> None:
    trial = started(shed, clock)
    entry = an_entry(shed, values=(("amount", 400.0),))
    for _ in range(2):
        (kept,) = record_entries(shed, trial.id, [entry])
    assert (kept.day, kept.value("amount")) == (6, 400)
    record_entries(shed, trial.id, [an_entry(shed, "void", id="entry-02", corrects="entry-01")])
    assert len(diary(shed, trial)) == 2
    assert entries_in_force(diary(shed, trial)) == []


@pytest.mark.parametrize(
    ("fields", "error", "says"),
    [
        ({"what": "party"}, InvalidInput, "An event is one of"),
        ({"scope": Scope.UNIT, "target": "nobody"}, NotFound, "no such unit"),
        ({"scope": Scope.ARM, "target": "9"}, NotFound, "no such arm"),
        ({"scope": Scope.TRAY, "target": "7"}, NotFound, "no such tray"),
        ({"what": "other"}, InvalidInput, "a few words"),
        ({"what": "moved"}, InvalidInput, "one unit and its new tray"),
        ({"values": (("amount", 1e9),)}, InvalidInput, "cannot be"),
        ({"values": (("amount", 0.0),)}, InvalidInput, "cannot be"),
        ({"values": (("amount", -50.0),)}, InvalidInput, "cannot be"),
        ({"what": "thinned", "values": (("amount", 2.5),)}, InvalidInput, "whole number"),
        ({"kind": "note", "what": ""}, InvalidInput, "note is empty"),
        ({"kind": "measure", "what": ""}, InvalidInput, "at least one measure"),
        ({"kind": "second", "values": (("score", 7.0),)}, InvalidInput, "0 to 5"),
        ({"kind": "void"}, InvalidInput, "Undo needs"),
        ({"kind": "void", "corrects": "nobody"}, NotFound, "not in this diary"),
        ({"text": "x" * 2001}, InvalidInput, "2000 characters"),
    ],
)
def test_an_entry_that_cannot_be_is_refused_and_nothing_of_its_batch_is_kept(
    shed: Shed, clock: Clock, fields: dict[str, object], error: type[Exception], says: str
) -> None:
    trial = started(shed, clock)
    good = an_entry(shed, id="good-001")
    kind = str(fields.pop("kind", "event"))
    with pytest.raises(error, match=says):
        record_entries(shed, trial.id, [good, an_entry(shed, kind, id="bad-0001", **fields)])
    assert diary(shed, trial) == []


def test_an_entry_waits_for_the_start_and_never_names_a_sealed_arm(
    shed: Shed, clock: Clock
) -> None:
    draft = create_trial(shed, a_plan(), 7, "me")
    with pytest.raises(Conflict):
        record_entries(shed, draft.id, [an_entry(shed)])
    trial = started(shed, clock, blind=True)
    with pytest.raises(Sealed):
        record_entries(shed, trial.id, [an_entry(shed, scope=Scope.ARM, target="1")])
    late = an_entry(shed, seen_at=shed.now() + timedelta(hours=1))
    with pytest.raises(InvalidInput, match="clock of this device"):
        record_entries(shed, trial.id, [late])


def test_the_file_itself_refuses_to_alter_what_was_written(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    record_entries(shed, trial.id, [an_entry(shed)])
    add_readings(shed, [Reading("bench", "temperature", shed.now(), 20.0)])
    raw = sqlite3.connect(shed.path)
    for sql in ("UPDATE entry SET text = 'x'", "DELETE FROM entry", "UPDATE reading SET value = 1"):
        with pytest.raises(sqlite3.IntegrityError, match="only ever added to"):
            raw.execute(sql)
    raw.close()


def a_photo(size: tuple[int, int] = (1200, 800), form: str = "JPEG") -> bytes:
    """A picture that tells where it was taken and with what."""
    picture = Image.new("RGB", size, "#4d6b3c")
    exif = picture.getexif()
    exif[Base.Make] = "A Camera Of Ours"
    exif[Base.Orientation] = 6
    exif.get_ifd(IFD.GPSInfo)[GPS.GPSLatitude] = (38.0, 42.0, 0.0)
    out = io.BytesIO()
    picture.save(out, form, exif=exif)
    return out.getvalue()


def test_a_photo_is_turned_upright_made_smaller_and_stripped(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    content = a_photo((3000, 2000))
    assert b"A Camera Of Ours" in content
    kept = keep_photo(
        shed,
        trial.id,
        an_entry(shed, "photo", scope=Scope.UNIT, target=trial.planted[0].id),
        content,
    )
    for thumb, edge in ((False, 1600), (True, 240)):
        path = photo_path(shed, trial.id, kept.what, thumb=thumb)
        data = path.read_bytes()
        with Image.open(io.BytesIO(data)) as out:
            assert out.format == "JPEG"
            assert max(out.size) == edge
            assert out.height > out.width  # orientation 6 is a quarter turn
            assert dict(out.getexif()) == {}
        assert b"A Camera Of Ours" not in data
    assert trial.planted[0].id not in path.name


@pytest.mark.parametrize(
    "content", [b"", b"not a picture", a_photo()[:400], b"GIF89a" + b"0" * 50, b"<svg/>"]
)
def test_what_is_no_photo_is_refused_and_leaves_nothing(
    shed: Shed, clock: Clock, content: bytes
) -> None:
    trial = started(shed, clock)
    with pytest.raises(InvalidInput, match="picture cannot be read"):
        keep_photo(shed, trial.id, an_entry(shed, "photo"), content)
    assert diary(shed, trial) == []
    assert not list((shed.path.parent / "attachments").rglob("*.jpg"))


def test_a_photo_too_large_is_refused_before_it_is_unpacked(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    bomb = io.BytesIO()
    Image.new("1", (20_000, 20_000)).save(bomb, "PNG")
    with pytest.raises(InvalidInput):
        keep_photo(shed, trial.id, an_entry(shed, "photo"), bomb.getvalue())
    with pytest.raises(InvalidInput, match="larger than 20 MB"):
        keep_photo(shed, trial.id, an_entry(shed, "photo"), b"\xff\xd8" + b"0" * 20_000_001)


def test_a_photos_name_leads_nowhere_else(shed: Shed, clock: Clock) -> None:
    trial, other = started(shed, clock), started(shed, clock)
    kept = keep_photo(shed, trial.id, an_entry(shed, "photo"), a_photo())
    for name in (kept.what, "../../racecard.sqlite3", "", "0" * 32):
        with pytest.raises(NotFound):
            photo_path(shed, other.id, name, thumb=False)


def test_a_backup_carries_the_photos_and_gives_them_back(
    shed: Shed, clock: Clock, tmp_path: Path
) -> None:
    trial = started(shed, clock)
    kept = keep_photo(shed, trial.id, an_entry(shed, "photo"), a_photo())
    back_up(shed.path.parent, tmp_path / "all.zip", shed.now())
    restore(tmp_path / "all.zip", tmp_path / "new", shed.now())
    again = Shed(tmp_path / "new", now=clock)
    assert photo_path(again, trial.id, kept.what, thumb=True).is_file()
    again.close()


def series(shed: Shed, *values: float, place: str = "bench") -> list[Reading]:
    start = shed.now() - timedelta(hours=len(values))
    return [
        Reading(place, "temperature", start + timedelta(hours=i), v) for i, v in enumerate(values)
    ]


def test_a_reading_is_kept_once_and_never_changed(shed: Shed) -> None:
    rows = series(shed, 20, 21, 22)
    assert add_readings(shed, rows) == 3
    assert add_readings(shed, [*rows, *series(shed, 99, 99, 99)]) == 0
    with shed.reading() as session:
        assert [r.value for r in load_readings(session, "bench", "temperature")] == [20, 21, 22]
    with pytest.raises(InvalidInput, match="Say where"):
        add_readings(shed, series(shed, 20, place="  "))


def test_an_alarm_that_is_passed_becomes_one_event_of_the_diary(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    keep_watch(shed, trial.id, Watch("bench", "temperature", high=30), "me")
    rows = series(shed, 25, 31, 33, 29, 28, 32, 20)
    add_readings(shed, rows[:3])
    add_readings(shed, rows[3:])
    told = [(e.what, e.text, e.seen_at) for e in diary(shed, trial)]
    assert told == [
        ("alarm", "bench: temperature 33.0 °C, above 30", rows[1].at),
        ("alarm", "bench: temperature 32.0 °C, above 30", rows[5].at),
    ]


def test_an_alarm_set_afterwards_finds_what_was_read_before(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    add_readings(shed, series(shed, 5, 2, 6))
    keep_watch(shed, trial.id, Watch("bench", "temperature", low=3), "me")
    assert [e.text for e in diary(shed, trial)] == ["bench: temperature 2.0 °C, below 3"]
    keep_watch(shed, trial.id, Watch("bench", "temperature", is_on=False), "me")
    with shed.reading() as session:
        assert load_watches(session, trial.id) == []
    with pytest.raises(InvalidInput, match="lower alarm"):
        keep_watch(shed, trial.id, Watch("bench", "temperature", high=3, low=9), "me")
    with pytest.raises(InvalidInput, match="must be between"):
        keep_watch(shed, trial.id, Watch("bench", "temperature", high=300), "me")


def test_a_device_has_its_own_key_until_it_is_withdrawn(shed: Shed) -> None:
    key, other = join_device(shed, "Ines"), join_device(shed, "")
    found = device_of(shed, key)
    assert found is not None
    assert found.name == "Ines"
    for wrong in ("", "nobody.secret", key + "x", key.split(".")[0] + "." + other.split(".")[1]):
        assert device_of(shed, wrong) is None
    withdraw_device(shed, found.id)
    assert device_of(shed, key) is None
    assert device_of(shed, other) is not None
    with shed.reading() as session:
        assert len(load_devices(session)) == 2
    assert key.split(".")[1].encode() not in shed.path.read_bytes()
    with pytest.raises(NotFound):
        withdraw_device(shed, "nobody")


def test_a_full_disk_is_said_plainly_and_what_was_saved_stays(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    record(shed, trial.id, [look(trial, shed, stage=3)])
    with shed.engine.connect() as connection:
        pages = connection.exec_driver_sql("PRAGMA page_count").scalar()
        connection.exec_driver_sql(f"PRAGMA max_page_count={pages}")
    note = an_entry(shed, "note", text="x" * 2000)
    notes = [replace(note, id=f"note-{i:04}") for i in range(500)]
    with pytest.raises(StoreUnavailable, match="disk is full"):
        record_entries(shed, trial.id, notes)
    assert diary(shed, trial) == []
    assert len(log_of(shed, trial)) == 1


def test_a_file_another_program_holds_is_said_plainly(shed: Shed, clock: Clock) -> None:
    trial = started(shed, clock)
    with shed.engine.connect() as connection:  # the one that is used again: it shall not wait long
        connection.exec_driver_sql("PRAGMA busy_timeout=50")
    holder = sqlite3.connect(shed.path, isolation_level=None)
    holder.execute("BEGIN IMMEDIATE")
    with pytest.raises(StoreUnavailable, match="Another program holds"):
        record(shed, trial.id, [look(trial, shed, stage=3)])
    assert log_of(shed, trial) == []  # reading goes on
    holder.execute("ROLLBACK")
    holder.close()
    record(shed, trial.id, [look(trial, shed, stage=3)])
    assert len(log_of(shed, trial)) == 1


def test_a_damaged_file_is_said_plainly(tmp_path: Path, clock: Clock) -> None:
    shed = Shed(tmp_path / "shed", now=clock)
    trial = started(shed, clock)
    shed.close()
    with sqlite3.connect(shed.path) as raw:
        raw.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    raw.close()
    content = bytearray(shed.path.read_bytes())
    content[100:] = b"\x5a" * (len(content) - 100)
    shed.path.write_bytes(bytes(content))
    with pytest.raises(StoreUnavailable, match="damaged"), shed.reading() as session:
        load_entries(session, trial.id)
    shed.close()
    shed.path.write_bytes(b"\x5a" * len(content))
    with pytest.raises(StoreUnavailable, match="restore the last backup"):
        Shed(tmp_path / "shed", now=clock)
