"""Files of loggers as they really come: semicolons, decimal commas, odd dates, junk rows."""

import contextlib
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from racecard.errors import InvalidInput
from racecard.formats.readings import Column, preview, read_readings

UTC_ZONE = ZoneInfo("UTC")
TEMP = [Column(1, "temperature", "°C")]


def read(
    text: str | bytes, columns: list[Column] = TEMP, **more: object
) -> list[tuple[datetime, float]]:
    content = text.encode() if isinstance(text, str) else text
    found = read_readings(content, "b", 0, columns, UTC_ZONE, **more)  # type: ignore[arg-type]
    return [(r.at, r.value) for r in found.readings]


def at(day: int, hour: int, minute: int = 0, month: int = 5) -> datetime:
    return datetime(2026, month, day, hour, minute, tzinfo=UTC)


@pytest.mark.parametrize(
    ("text", "first"),
    [
        ("time,temp\n2026-05-04 14:30,21.5\n", (at(4, 14, 30), 21.5)),
        ("time;temp\n04.05.2026 14:30;21,5\n", (at(4, 14, 30), 21.5)),
        ("time\ttemp\n04/05/2026 14:30:00\t21.5\n", (at(4, 14, 30), 21.5)),
        ("time,temp\n2026-05-04T14:30:00+01:00,21.5\n", (at(4, 13, 30), 21.5)),
        ("time,temp\n2026-05-04T14:30:00Z,21.5\n", (at(4, 14, 30), 21.5)),
        ("time,temp\n05/13/2026 02:30:00 PM,21.5\n", (at(13, 14, 30), 21.5)),
        ("A logger\nNo. 7\ntime,temp\n2026-05-04 14:30,21.5\n", (at(4, 14, 30), 21.5)),
        ('\ufefftime,temp\n2026-05-04 14:30,"1,021.5"\n2026-05-04 15:00,20\n', (at(4, 15), 20.0)),
    ],
)
def test_a_file_is_read_whatever_logger_wrote_it(text: str, first: tuple[datetime, float]) -> None:
    assert read(text)[0] == first


def test_utf16_and_old_code_pages_are_read() -> None:
    text = "time,température °C\n2026-05-04 14:30,21.5\n"
    assert read(text.encode("utf-16"))[0][1] == 21.5
    assert preview(text.encode("cp1252")).columns[0].quantity == "temperature"


def test_a_date_that_reads_both_ways_is_asked_about() -> None:
    text = "time,temp\n03/04/2026 10:00,20\n05/04/2026 10:00,20\n"
    assert preview(text.encode()).asks_order
    assert not preview(b"time,temp\n13/04/2026 10:00,20\n").asks_order
    assert read(text)[0][0] == at(3, 10, month=4)
    assert read(text, month_first=True)[0][0] == at(4, 10, month=3)


def test_the_columns_are_guessed_from_their_names() -> None:
    head = b"Sensor,Date/Time,Temp (\xc2\xb0F),RH %,PAR,pH\n1,2026-05-04 10:00,68,90,100,6\n"
    found = preview(head)
    assert found.time == 1
    assert [(c.index, c.quantity, c.unit) for c in found.columns] == [
        (2, "temperature", "°F"), (3, "humidity", "%"), (4, "light", "µmol/m²/s"), (5, "ph", ""),
    ]  # fmt: skip


def test_a_clock_that_was_off_is_put_right_and_duplicates_are_left_out() -> None:
    text = "time,temp\n2026-05-04 10:00,20\n2026-05-04 10:00,21\n2026-05-04 11:00,22\n"
    assert read(text, offset=timedelta(minutes=-90)) == [(at(4, 8, 30), 20.0), (at(4, 9, 30), 22.0)]
    had = frozenset({("temperature", at(4, 10)), ("temperature", at(4, 11))})
    found = read_readings(text.encode(), "b", 0, TEMP, UTC_ZONE, had=had)
    assert (found.readings, found.duplicates) == ((), 3)


def test_a_local_time_is_read_in_the_trials_zone() -> None:
    found = read_readings(
        b"time,temp\n2026-07-04 10:00,20\n", "b", 0, TEMP, ZoneInfo("Europe/Lisbon")
    )
    assert found.readings[0].at == at(4, 9, month=7)


def test_bad_rows_are_told_by_number_and_the_rest_is_read() -> None:
    text = "time,temp\nyesterday,20\n2026-05-04 10:00,warm\n2026-05-04 11:00,999\n2026-05-04 12:00,20\n\n2026-05-04 13:00,\n"
    found = read_readings(text.encode(), "b", 0, TEMP, UTC_ZONE)
    assert len(found.readings) == 1
    assert [b.split(":")[0] for b in found.bad] == ["Row 2", "Row 3", "Row 4"]


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"", "empty"),
        (b"\x00\x01\x02,\x00\n1,2\n", "not a text table"),
        (b"one column\n1\n", "No table is found"),
        (b"time,temp\nnever,1\n", "Not one row"),
    ],
)
def test_what_is_no_table_is_refused(content: bytes, says: str) -> None:
    open_it = read if says == "Not one row" else preview
    with pytest.raises(InvalidInput, match=says):
        open_it(content)


def test_a_file_without_a_picked_column_is_refused() -> None:
    with pytest.raises(InvalidInput, match="at least one column"):
        read("time,temp\n2026-05-04 10:00,20\n", [])
    with pytest.raises(InvalidInput, match="larger than"):
        preview(b"a,b\n" * 5_000_001)


@given(st.binary(max_size=400))
def test_any_bytes_are_read_or_refused_in_a_sentence(content: bytes) -> None:
    for open_it in (preview, read):
        with contextlib.suppress(InvalidInput):
            open_it(content)
