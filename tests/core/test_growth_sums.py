"""Growth on the bench: what cannot be read, and what does not grow."""

import pytest

from racecard.core.prepare.sums import reckon
from racecard.errors import InvalidInput


@pytest.mark.parametrize(
    ("key", "fields", "part"),
    [
        ("growth_rate", {"first": "0.3 x", "second": "1", "days": "9"}, "blanks between"),
        ("growth_rate", {"first": "0", "second": "1", "days": "9"}, "numbers above 0"),
        ("growth_rate", {"first": "1", "second": "2 nan", "days": "9"}, "numbers above 0"),
        ("growth_rate", {"first": "1", "second": "1", "days": "0"}, "must be"),
        ("yellowing", {"yellow": "120"}, "more than 100"),
    ],
)
def test_what_cannot_be_read_is_said(key: str, fields: dict[str, str], part: str) -> None:
    with pytest.raises(InvalidInput, match=part):
        reckon(key, fields)


def test_what_does_not_grow_never_doubles() -> None:
    found = reckon("growth_rate", {"first": "1", "second": "0.9", "days": "7"})
    assert len(found.amounts) == 1
    assert "never doubles" in found.says[-1]
