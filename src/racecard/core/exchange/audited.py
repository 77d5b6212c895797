"""Arithmetic auditor: what a summary of results, without its raw data, cannot be or does not say.

References:
    [1] Brown & Heathers (2017), Soc. Psychol. Personal. Sci. 8, 363-369: means that no whole
        numbers can give.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from math import ceil, floor

from racecard.core.stats.multiplicity import below
from racecard.core.stats.permutation import PermutationTest
from racecard.core.stats.proportions import newcombe
from racecard.core.text.amounts import points
from racecard.errors import InvalidInput

MOST_ROWS = 60


class Detail(StrEnum):
    """How much of the results was told; each level has a ceiling on what may be concluded."""

    PROPAGULES = "propagules"
    LOOKS = "counts per look"
    POTS = "end counts of each container"
    ENDS = "end counts"
    AVERAGES = "averages only"


CEILINGS = {
    Detail.PROPAGULES: "Each plant is told, so everything the finish knows can be asked of it.",
    Detail.LOOKS: "Counts at each look tell how many and how soon, but not which plant was which: no histories of single plants.",
    Detail.POTS: "End counts of each container tell how many, not how soon.",
    Detail.ENDS: "End counts tell how many, not how soon; which plants shared a container is not known, so every lead may rest on one container.",
    Detail.AVERAGES: "Averages alone carry no doubt: nothing can be compared, and no verdict is given.",
}


@dataclass(frozen=True, slots=True)
class Told:
    """One line of a summary, as it was told; None where it was not.

    `percent`: share struck; `mean`: mean of a count (such as roots) over `mean_of` plants, as
    printed with `mean_digits` decimals; `group`: lines that should add up to a line named "total".
    """

    row: int
    treatment: str
    stuck: int | None = None
    struck: int | None = None
    percent: str = ""
    mean: str = ""
    mean_of: int | None = None


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing that does not add up, or is left open; `row` 0 for the whole."""

    code: str
    row: int
    says: str


@dataclass(frozen=True, slots=True)
class Audit:
    """What the auditor found, what the detail allows, and how far missing cells could move the gap."""

    detail: Detail
    ceiling: str
    findings: tuple[Finding, ...]
    bounds: tuple[str, ...]


def audit(rows: Sequence[Told]) -> Audit:
    """Check a summary of results line by line and as a whole.

    Args:
        rows: lines as told, the control first; one named "total" is held against the sum.

    Raises:
        InvalidInput: no rows, too many, or a figure that is not a number.
    """
    if not 1 <= len(rows) <= MOST_ROWS:
        raise InvalidInput(f"a summary needs 1 to {MOST_ROWS} lines, got {len(rows)}", "/rows")
    arms = [_with_count(r) for r in rows if r.treatment.strip().casefold() != "total"]
    totals = [r for r in rows if r.treatment.strip().casefold() == "total"]
    counted = [r for r in arms if r.struck is not None and r.stuck is not None]
    detail = Detail.ENDS if counted else Detail.AVERAGES
    found = [f for r in rows for f in _of_row(r)]
    found += [f for t in totals for f in _of_total(t, arms)]
    found += _of_means(arms, totals)
    found += [f for t in totals for f in _of_weighting(t, arms)]
    found += _of_margins(arms)
    found += [f for r in arms for f in _asked_of(r)]
    return Audit(detail, CEILINGS[detail], tuple(found), _bounds(arms))


def _with_count(r: Told) -> Told:
    """The line with its count where the share of a known number fixes it: 50 % of 20 is 10."""
    if r.struck is not None or not r.stuck or not r.percent:
        return r
    fits = [k for k in range(r.stuck + 1) if _agrees(k, r.stuck, r.percent)]
    return replace(r, struck=fits[0]) if len(fits) == 1 else r


def _of_row(r: Told) -> list[Finding]:
    out = []
    if r.percent and not 0 <= _printed(r.percent)[0] <= 100:
        return [
            Finding(
                "percent_range", r.row, f"{r.treatment}: a share is 0 to 100 %, not {r.percent} %."
            )
        ]
    if r.mean_of is not None and r.stuck is not None and r.mean_of > r.stuck:
        out.append(
            Finding(
                "mean_of_too_many",
                r.row,
                f"{r.treatment}: the mean is over {r.mean_of} plants, but only {r.stuck} were there.",
            )
        )
    if r.struck is not None and r.stuck is not None:
        if r.struck > r.stuck or min(r.struck, r.stuck) < 0 or r.stuck == 0:
            return [
                Finding(
                    "more_than_stuck",
                    r.row,
                    f"{r.treatment}: {r.struck} of {r.stuck} cannot be.",
                )
            ]
        if r.percent and not _agrees(r.struck, r.stuck, r.percent):
            true = 100 * r.struck / r.stuck
            out.append(
                Finding(
                    "percent_off",
                    r.row,
                    f"{r.treatment}: {r.struck} of {r.stuck} is {true:.1f} %, not {r.percent} %.",
                )
            )
    elif r.percent and r.stuck is not None:
        if r.stuck > 0 and not any(_agrees(k, r.stuck, r.percent) for k in range(r.stuck + 1)):
            out.append(
                Finding(
                    "percent_impossible",
                    r.row,
                    f"{r.treatment}: no whole number of {r.stuck} plants gives {r.percent} %.",
                )
            )
    if r.mean and r.mean_of:
        if not mean_is_possible(r.mean, r.mean_of):
            out.append(
                Finding(
                    "mean_impossible",
                    r.row,
                    f"{r.treatment}: no whole numbers of {r.mean_of} plants have the mean {r.mean}.",
                )
            )
    return out


def _agrees(k: int, n: int, percent: str) -> bool:
    """Whether k of n, rounded as the percentage is printed (halves either way), gives it."""
    value, half = _printed(percent)
    return abs(100 * k / n - value) <= half + 1e-9


def mean_is_possible(mean: str, n: int) -> bool:
    """Whether the mean of n whole numbers can print so [1].

    Args:
        mean: as printed, such as "3.48"; its decimals say how it was rounded.
        n: plants it was taken over, >= 1.
    """
    value, half = _printed(mean)
    low, high = ceil((value - half) * n - 1e-9), floor((value + half) * n + 1e-9)
    return low <= high


def _printed(text: str) -> tuple[float, float]:
    """A printed number and half of its last digit."""
    plain = text.strip().rstrip("%").strip().replace(",", ".")
    try:
        value = float(plain)
    except ValueError as exc:
        raise InvalidInput(
            f"{text!r} is not a number: write it as it was printed, such as 43.5", "/rows"
        ) from exc
    decimals = len(plain.partition(".")[2])
    return value, 0.5 * 10.0**-decimals


def _of_total(total: Told, arms: Sequence[Told]) -> list[Finding]:
    out = []
    for what, word in (("stuck", "stuck"), ("struck", "struck")):
        told = getattr(total, what)
        parts = [getattr(a, what) for a in arms]
        if told is not None and None not in parts and sum(parts) != told:
            out.append(
                Finding(
                    "does_not_add_up",
                    total.row,
                    f"The treatments have {sum(parts)} {word} together, the total says {told}.",
                )
            )
    return out


def _of_means(arms: Sequence[Told], totals: Sequence[Told]) -> list[Finding]:
    """A mean over all that is the plain mean of the arms, though their numbers differ."""
    known = [(r, r.struck, r.stuck) for r in arms if r.struck is not None and r.stuck]
    if len(known) < 2 or len({n for _, _, n in known}) < 2:
        return []
    plain = sum(100 * k / n for _, k, n in known) / len(known)
    weighted = 100 * sum(k for _, k, _ in known) / sum(n for _, _, n in known)
    out = []
    for t in totals:
        if t.percent:
            value, half = _printed(t.percent)
            if abs(value - plain) <= half + 1e-9 and abs(value - weighted) > half + 1e-9:
                out.append(
                    Finding(
                        "plain_mean",
                        t.row,
                        f"The total of {t.percent} % is the plain mean of the treatments; by plants it is {weighted:.1f} %.",
                    )
                )
    return out


def _of_weighting(total: Told, arms: Sequence[Told]) -> list[Finding]:
    """A share of all that lies outside those of the treatments: no weighting gives it."""
    shares = [
        100 * r.struck / r.stuck if r.struck is not None and r.stuck else
        _printed(r.percent)[0] if r.percent else None
        for r in arms
    ]  # fmt: skip
    known = [v for v in shares if v is not None]
    if not total.percent or len(known) < len(arms) or not known:
        return []
    value, half = _printed(total.percent)
    low, high = min(known), max(known)
    if low - half - 0.5 <= value <= high + half + 0.5:
        return []
    return [
        Finding(
            "no_weighting",
            total.row,
            f"The total of {total.percent} % lies outside the treatments' {low:.0f} to {high:.0f} %: no "
            "weighting gives it.",
        )
    ]


def _of_margins(arms: Sequence[Told]) -> list[Finding]:
    """Averages over a two-way table, told as "soak: 12 h" and "crop: pea": equal numbers give both
    margins one mean.
    """
    margins: dict[str, list[Told]] = {}
    for r in arms:
        name, colon, _ = r.treatment.partition(":")
        if colon and r.mean:
            margins.setdefault(name.strip().casefold(), []).append(r)
    told = [rows for rows in margins.values() if len(rows) > 1]
    if len(told) < 2:
        return []
    means = []
    for rows in told:
        values = [_printed(r.mean) for r in rows if r.mean]
        means.append((sum(v for v, _ in values) / len(values), max(h for _, h in values)))
    (one, a), (two, b) = means[:2]
    if abs(one - two) <= a + b + 1e-9:
        return []
    return [
        Finding(
            "margins_disagree",
            told[1][0].row,
            f"The averages of one side have the mean {one:.2f}, of the other {two:.2f}: no equal numbers give "
            "both, so the cells were weighted.",
        )
    ]


def _asked_of(r: Told) -> list[Finding]:
    """What a line leaves out that a verdict needs."""
    missing = []
    if r.stuck is None and r.mean_of is None and (r.percent or r.mean or r.struck is not None):
        missing.append("how many were stuck")
    if r.mean and r.mean_of is None:
        missing.append("how many the mean is over, and its spread")
    elif r.mean and r.stuck is not None and r.mean_of is not None and r.mean_of < r.stuck:
        missing.append(f"what became of the other {r.stuck - r.mean_of}, which the mean leaves out")
    return (
        [Finding("missing", r.row, f"{r.treatment}: not told: {'; '.join(missing)}.")]
        if missing
        else []
    )


def _bounds(arms: Sequence[Told]) -> tuple[str, ...]:
    """Best and worst case of each gap where a struck count is missing, and whether the test rests on it."""
    zero = arms[0]
    out = []
    for one in arms[1:]:
        if not one.stuck or not zero.stuck or (one.struck is not None and zero.struck is not None):
            continue
        ends = []
        for worst in (True, False):
            k1 = one.struck if one.struck is not None else (0 if worst else one.stuck)
            k0 = zero.struck if zero.struck is not None else (zero.stuck if worst else 0)
            ends.append(
                (newcombe(k1, one.stuck, k0, zero.stuck), _p(k1, one.stuck, k0, zero.stuck))
            )
        (low, p_low), (high, p_high) = ends
        rests = below(p_low, 0.05) != below(p_high, 0.05) or low.estimate * high.estimate < 0
        tail = (
            "so nothing can be said without the missing count"
            if rests
            else "and the test says the same at both ends"
        )
        out.append(
            f"{one.treatment}: with the missing count at its worst the gap would be {points(low.estimate)} points, "
            f"at its best {points(high.estimate)}, {tail}."
        )
    return tuple(out)


def _p(k1: int, n1: int, k0: int, n0: int) -> float:
    import numpy as np

    scores = np.repeat([1.0, 0.0, 1.0, 0.0], [k1, n1 - k1, k0, n0 - k0])
    treated = np.arange(n1 + n0) < n1
    return PermutationTest(1).test(scores, treated, np.zeros(n1 + n0, dtype=np.int64)).p
