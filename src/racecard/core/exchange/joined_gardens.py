"""Gardens that joined by a link: what each may report, and their reports as a form that can be read.

Each garden reports as often as it likes; the last report stands. What it deletes is gone, and its number
counts as withdrawn.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from racecard.core.exchange.garden_pack import POTS, VERSION, GardenPack
from racecard.core.model.turnout import Turnout
from racecard.errors import InvalidInput

WITHDRAWN = "withdrawn"


@dataclass(frozen=True, slots=True)
class GardenReport:
    """What one garden said last. `counts`: how many reached the goal, by treatment; empty before the count."""

    began: date | None = None
    counted: date | None = None
    counts: tuple[int, ...] = ()
    status: str = ""
    remarks: str = ""


@dataclass(frozen=True, slots=True)
class JoinedGarden:
    """One garden by its number, from 1; `report` is None where it has sent nothing, `is_gone` where it
    deleted what it sent.
    """

    number: int
    report: GardenReport | None
    is_gone: bool = False


def check_report(pack: GardenPack, report: GardenReport, today: date) -> None:
    """Hold a report against what the garden was asked.

    Args:
        pack: what the garden was told.
        report: what it sent.
        today: the server's date; a day ahead is let pass, since gardens lie in other time zones.

    Raises:
        InvalidInput: a date in the future or out of order, counts missing or above what was set.
    """
    for name, at in (("began", report.began), ("counted", report.counted)):
        if at is not None and (at - today).days > 1:
            raise InvalidInput(f"{at:%-d %B %Y} has not come yet: check the date.", f"/{name}")
    if report.status == WITHDRAWN or (report.counted is None and not report.counts):
        return
    if report.began is None or report.counted is None:
        raise InvalidInput("A result needs the day you began and the day you counted.", "/counted")
    if report.counted < report.began:
        raise InvalidInput("The count lies before the start: check both dates.", "/counted")
    if len(report.counts) != len(pack.treatments):
        raise InvalidInput(
            f"A result has a count for each of {len(pack.treatments)} pots.", "/counts"
        )
    for i, n in enumerate(report.counts):
        if not 0 <= n <= pack.each:
            raise InvalidInput(f"A pot holds {pack.each}: {n} cannot be.", f"/counts/{i}")


def form_lines(pack: GardenPack, gardens: Sequence[JoinedGarden]) -> list[list[str]]:
    """The gardens as the lines of a wide form, headings first, as their own files have them."""
    names = [name for name, _ in pack.treatments]
    out = [
        [
            "Garden",
            "Started on",
            "Counted on",
            f"How many {pack.thing}",
            *names,
            "Status",
            "Remarks",
            "Order",
            "Pack",
        ]
    ]
    for g in gardens:
        r = GardenReport(status=WITHDRAWN) if g.is_gone else g.report or GardenReport()
        order = pack.orders[g.number - 1]
        placed = "; ".join(f"{POTS[i]} {names[arm]}" for i, arm in enumerate(order))
        has_result = bool(r.counts) and r.status != WITHDRAWN
        out.append([
            str(g.number), r.began.isoformat() if r.began else "",
            r.counted.isoformat() if has_result and r.counted else "", str(pack.each),
            *(str(n) for n in (r.counts if has_result else [""] * len(names))),
            r.status, r.remarks, f"{placed} (sealed)", f"{pack.key} v{VERSION}",
        ])  # fmt: skip
    return out


def turnout_of(gardens: Sequence[JoinedGarden]) -> Turnout:
    """How many joined, began, sent a result, sent none, and left."""
    left = [g for g in gardens if g.is_gone or (g.report and g.report.status == WITHDRAWN)]
    returned = [g for g in gardens if g.report and g.report.counts and g not in left]
    started = [g for g in gardens if g.report and g.report.began is not None]
    silent = len(gardens) - len(returned) - len(left)
    return Turnout(len(gardens), len(started), len(returned), silent, len(left))
