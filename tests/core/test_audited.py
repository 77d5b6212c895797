"""The arithmetic auditor: what a summary cannot be, and what it does not say."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from racecard.core.exchange.audited import Audit, Detail, Told, audit, mean_is_possible
from racecard.errors import InvalidInput


def codes(*rows: Told) -> list[str]:
    return [f.code for f in audit(rows).findings]


@pytest.mark.parametrize(
    ("row", "code"),
    [
        (Told(1, "A", 20, 9, "45"), None),
        (Told(1, "A", 20, 9, "46"), "percent_off"),
        (Told(1, "A", 24, 7, "29.2 %"), None),
        (Told(1, "A", 24, 7, "29,1"), "percent_off"),
        (Told(1, "A", 12, percent="55"), "percent_impossible"),
        (Told(1, "A", 12, percent="58"), None),
        (Told(1, "A", 8, 9), "more_than_stuck"),
        (Told(1, "A", mean="3.48", mean_of=20), "mean_impossible"),
        (Told(1, "A", mean="3.45", mean_of=20), None),
    ],
)
def test_each_line_is_reckoned_again(row: Told, code: str | None) -> None:
    assert codes(row) == ([code] if code else [])


@given(st.lists(st.integers(0, 40), min_size=1, max_size=30), st.integers(0, 3))
def test_a_true_mean_is_never_called_impossible(values: list[int], decimals: int) -> None:
    assert mean_is_possible(f"{sum(values) / len(values):.{decimals}f}", len(values))


@given(st.integers(1, 60), st.data())
def test_a_true_percentage_is_never_called_off(n: int, data: st.DataObject) -> None:
    k = data.draw(st.integers(0, n))
    assert codes(Told(1, "A", n, k, f"{100 * k / n:.1f}")) == []


def test_sums_and_plain_means_are_told() -> None:
    arms = Told(1, "A", 20, 8), Told(2, "B", 40, 30)
    assert codes(*arms, Told(3, "total", 60, 38)) == []
    assert codes(*arms, Told(3, "Total", 62, 38)) == ["does_not_add_up"]
    # 40 % and 75 %: the plain mean is 57.5, by plants it is 63.3
    assert codes(*arms, Told(3, "total", percent="57.5")) == ["plain_mean"]
    assert codes(*arms, Told(3, "total", percent="63.3")) == []


def test_every_detail_has_its_ceiling() -> None:
    assert audit([Told(1, "A", 20, 8)]).detail is Detail.ENDS
    averages: Audit = audit([Told(1, "A", percent="40")])
    assert averages.detail is Detail.AVERAGES
    assert "no verdict" in averages.ceiling


def test_a_missing_count_is_bounded_both_ways() -> None:
    wide = audit([Told(1, "U", 20, 10), Told(2, "A", 20)]).bounds
    assert len(wide) == 1
    assert "−50 points, at its best +50" in wide[0]
    assert "nothing can be said without" in wide[0]
    assert audit([Told(1, "U", 20, 10), Told(2, "A", 20, 12)]).bounds == ()


@pytest.mark.parametrize(
    "rows", [[], [Told(i, "A") for i in range(61)], [Told(1, "A", 5, percent="x")]]
)
def test_what_is_no_summary_is_refused(rows: list[Told]) -> None:
    with pytest.raises(InvalidInput):
        audit(rows)


@pytest.mark.parametrize(
    ("rows", "code"),
    [
        (
            [Told(1, "A", 10, 5), Told(2, "B", 20, 10), Told(3, "Total", percent="80")],
            "no_weighting",
        ),
        ([Told(1, "A", 20, percent="120")], "percent_range"),
        ([Told(1, "A", 20, mean="5.0", mean_of=25)], "mean_of_too_many"),
        ([Told(1, "A", mean="5.0")], "missing"),
        ([Told(1, "A", 20, mean="5.0", mean_of=12)], "missing"),
        (
            [Told(i, f"soak: {i}", mean=m) for i, m in enumerate(("5.2", "6.0", "6.8", "9.0"))]
            + [Told(9 + i, f"crop: {i}", mean=m) for i, m in enumerate(("6.1", "6.5", "8.3"))],
            "margins_disagree",
        ),
    ],
)
def test_a_summary_that_cannot_be_is_found(rows: list[Told], code: str) -> None:
    assert code in {f.code for f in audit(rows).findings}


def test_a_share_that_fixes_its_count_is_counted() -> None:
    rows = [Told(1, "A", 20, percent="50"), Told(2, "B", 20, 4), Told(3, "Total", 40, 13)]
    assert "does_not_add_up" in {f.code for f in audit(rows).findings}
