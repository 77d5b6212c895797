"""Seed-testing indices of one arm, each with its definition; none of them enters a verdict.

All are of counts newly seen at each inspection. Most ignore what never germinated; those of the
sown say so.

References:
    [1] Ranal & Santana (2006), Braz. J. Bot. 29, 1-11: mean time, variance, rate, U, Z.
    [2] Coolbear, Francis & Grierson (1984), J. Exp. Bot. 35, 1609: T50 from (N + 1)/2.
    [3] Farooq et al. (2005), J. Integr. Plant Biol. 47, 187: T50 from N/2.
    [4] Kotowski (1926), Proc. Am. Soc. Hortic. Sci. 23, 176: coefficient of velocity.
    [5] Maguire (1962), Crop Sci. 2, 176: speed of germination.
    [6] Timson (1965), Nature 207, 216; Khan & Ungar (1984): sum of cumulative percent, a day.
    [7] Czabator (1962), Forest Sci. 8, 386: peak value, mean daily germination, their product.
    [8] Djavanshir & Pourbeik (1976), Silvae Genet. 25, 79.
    [9] Labouriau (1983): uncertainty; Primack (1985): synchrony.
    [10] Abdul-Baki & Anderson (1973), Crop Sci. 13, 630: vigour index.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import log2, sqrt

from racecard.errors import InvalidInput


@dataclass(frozen=True, slots=True)
class Index:
    """One index: value (None where it is not defined, with the reason), unit and definition."""

    id: str
    name: str
    value: float | None
    unit: str
    says: str
    source: str
    reason: str = ""


def indices(days: Sequence[float], new: Sequence[int], sown: int) -> tuple[Index, ...]:
    """All indices of counts newly seen at each inspection.

    Args:
        days: days of the inspections from day 0, ascending, above 0, shape (k,).
        new: seen for the first time at each, >= 0, shape (k,).
        sown: propagules sown, >= the sum of `new`, >= 1.

    Raises:
        InvalidInput: lengths differ, days do not rise, or more came up than were sown.
    """
    _check(days, new, sown)
    n = sum(new)
    final = 100 * n / sown
    share = Index(
        "final", "Final share", final, "%", "Seen by the last look, of all sown.", "by definition"
    )
    last = days[-1]
    upto = [100 * sum(new[: i + 1]) / sown for i in range(len(new))]
    peak = max(c / d for c, d in zip(upto, days, strict=True))
    daily = final / last
    every_day = _daily(days, upto)
    out = [
        share,
        *_means(days, new, n),
        _t50("t50_coolbear", "T50 (Coolbear)", days, new, (n + 1) / 2, n, "Half of those that germinated, from (N + 1)/2.", "[2] Coolbear et al. (1984)"),
        _t50("t50_farooq", "T50 (Farooq)", days, new, n / 2, n, "Half of those that germinated, from N/2.", "[3] Farooq et al. (2005)"),
        _t50("t50_sown", "T50 of the sown", days, new, sown / 2, n, "Half of all that were sown, by a straight line between looks.", "by definition"),
        Index("maguire", "Speed index", sum(k / d for k, d in zip(new, days, strict=True)), "per day",
              "Newly seen at each look divided by its day, added up; seeds, not percent.", "[5] Maguire (1962)"),
        Index("timson", "Timson's sum", sum(every_day), "% days",
              f"Cumulative percent added over every day 1 to {last:g}; originally over 10 days. Never compare across lengths.", "[6] Timson (1965)"),
        Index("timson_daily", "Timson's sum a day", sum(every_day) / len(every_day) if every_day else None, "%",
              "The same divided by its days.", "[6] Khan & Ungar (1984)"),
        Index("peak", "Peak value", peak, "% per day", "Largest cumulative percent divided by its day.", "[7] Czabator (1962)"),
        Index("mean_daily", "Mean daily germination", daily, "% per day", "Final percent divided by the last day.", "[7] Czabator (1962)"),
        Index("value", "Germination value", peak * daily, "", "Peak value times mean daily germination; waiting longer lowers it.", "[7] Czabator (1962)"),
        _pourbeik(days, new, upto, final),
        _synchrony(new, n),
        _uncertainty(new, n),
    ]  # fmt: skip
    return tuple(out)


def _check(days: Sequence[float], new: Sequence[int], sown: int) -> None:
    if len(days) != len(new) or not days:
        raise InvalidInput("every inspection needs one day and one count", "/days")
    if any(b <= a for a, b in zip((0.0, *days), days, strict=False)):
        raise InvalidInput("days of inspections must rise from above 0", "/days")
    if min(new) < 0 or sown < 1 or sum(new) > sown:
        raise InvalidInput(f"{sum(new)} germinated of {sown} sown cannot be", "/new")


_NONE = "nothing germinated"


def _means(days: Sequence[float], new: Sequence[int], n: int) -> list[Index]:
    """Mean time and what comes of it [1, 4]."""
    total = sum(k * d for k, d in zip(new, days, strict=True))
    mean = total / n if n else None
    square = (
        sum(k * (d - mean) ** 2 for k, d in zip(new, days, strict=True)) / (n - 1)
        if mean is not None and n > 1
        else None
    )
    error = sqrt(square / n) if square is not None else None
    few = _NONE if not n else "one alone has no spread"
    source = "[1] Ranal & Santana (2006)"
    return [
        Index("mean_time", "Mean germination time", mean, "days", "Of those that germinated, by the day they were first seen.", source, "" if n else _NONE),
        Index("variance", "Variance of the time", square, "days²", "About the mean time, divisor N − 1.", source, "" if square is not None else few),
        Index("error", "Standard error of the mean time", error, "days", "Square root of variance / N.", source, "" if error is not None else few),
        Index("cv", "Coefficient of variation", 100 * sqrt(square) / mean if square is not None and mean else None, "%", "Standard deviation of the time in percent of its mean.", source, "" if square is not None else few),
        Index("rate", "Mean rate", 1 / mean if mean else None, "per day", "One divided by the mean time.", source, "" if n else _NONE),
        Index("velocity", "Coefficient of velocity", 100 * n / total if total else None, "per 100 days", "100 × germinated / sum of their days.", "[4] Kotowski (1926)", "" if n else _NONE),
    ]  # fmt: skip


def _t50(
    id: str, name: str, days: Sequence[float], new: Sequence[int], wanted: float, n: int,
    says: str, source: str,
) -> Index:  # fmt: skip
    if not n or wanted > n:
        return Index(id, name, None, "days", says, source, "not reached" if n else _NONE)
    before = 0
    start = 0.0
    for d, k in zip(days, new, strict=True):
        if before + k >= wanted and k:
            return Index(
                id, name, start + (wanted - before) * (d - start) / k, "days", says, source
            )
        before, start = before + k, d
    return Index(id, name, None, "days", says, source, "not reached")


def _daily(days: Sequence[float], upto: Sequence[float]) -> list[float]:
    """Cumulative percent on every whole day to the last, the last look carried forward."""
    out = []
    for day in range(1, int(days[-1]) + 1):
        seen = [c for d, c in zip(days, upto, strict=True) if d <= day]
        out.append(seen[-1] if seen else 0.0)
    return out


def _pourbeik(
    days: Sequence[float], new: Sequence[int], upto: Sequence[float], final: float
) -> Index:
    first = next((i for i, k in enumerate(new) if k), None)
    says = "Mean of cumulative percent divided by day, over inspections from the first germination, times final percent / 10."
    source = "[8] Djavanshir & Pourbeik (1976)"
    if first is None:
        return Index("value_dp", "Germination value (D & P)", None, "", says, source, _NONE)
    speeds = [c / d for c, d in zip(upto, days, strict=True)]
    value = sum(speeds) / (len(new) - first) * final / 10
    return Index("value_dp", "Germination value (D & P)", value, "", says, source)


def _synchrony(new: Sequence[int], n: int) -> Index:
    value = sum(k * (k - 1) for k in new) / (n * (n - 1)) if n > 1 else None
    return Index(
        "synchrony", "Synchrony Z", value, "", "Share of pairs of germinated seeds seen at the same look; 1 is all at once.",
        "[9] Primack (1985)", "" if value is not None else "needs two that germinated",
    )  # fmt: skip


def _uncertainty(new: Sequence[int], n: int) -> Index:
    value = -sum(k / n * log2(k / n) for k in new if k) if n else None
    return Index(
        "uncertainty", "Uncertainty U", value, "bits", "Spread of first sightings over the looks; 0 is all at once.",
        "[9] Labouriau (1983)", "" if value is not None else _NONE,
    )  # fmt: skip


def vigour_index(final_percent: float, length_mm: float) -> float:
    """Final percent times mean seedling length [10].

    Args:
        final_percent: share that germinated, percent, 0 to 100.
        length_mm: mean length of a seedling, mm.

    Raises:
        InvalidInput: a share or a length that cannot be.
    """
    if not 0 <= final_percent <= 100 or length_mm < 0:
        raise InvalidInput(
            f"a share of {final_percent:g} % and a length of {length_mm:g} mm cannot be", "/final"
        )
    return final_percent * length_mm
