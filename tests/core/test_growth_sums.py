"""Growth on the bench: the worked examples of the handbooks (recalled), and what cannot be read."""

import pytest

from racecard.core.prepare.sums import reckon
from racecard.errors import InvalidInput


@pytest.mark.parametrize(
    ("key", "fields", "amounts"),
    [
        ("growth_rate", {"first": "0.30", "second": "1.20", "days": "14"}, [0.0990, 7.0]),
        ("growth_rate", {"first": "0,2 0,4", "second": "0.8; 1.6", "days": "10"}, [0.138629, 5.0]),
        ("sturdiness", {"height": "25 cm", "diameter": "4 mm"}, [6.25, 62.5]),
        ("sturdiness", {"height": "80 mm", "diameter": "2.0 mm"}, [4.0, 40.0]),
        ("quality_index", {"shoot": "3.0 g", "root": "1500 mg", "height": "25 cm", "diameter": "4 mm"}, [0.545, 0.5]),
        ("vigour", {"final": "85 %", "length": "62 mm"}, [5270]),
        ("yellowing", {"yellow": "45"}, [3]),
    ],
)  # fmt: skip
def test_worked_examples(key: str, fields: dict[str, str], amounts: list[float]) -> None:
    found = reckon(key, fields)
    assert [m.value for m in found.amounts] == pytest.approx(amounts, abs=6e-4)
    assert found.says


@pytest.mark.parametrize(
    ("key", "fields", "part"),
    [
        ("growth_rate", {"first": "0.3 x", "second": "1", "days": "9"}, "blanks between"),
        ("growth_rate", {"first": "0", "second": "1", "days": "9"}, "numbers above 0"),
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
