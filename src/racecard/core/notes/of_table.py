"""Objections to results that came as a table: what it does not say."""

from collections.abc import Iterator

from racecard.core.model.turnout import Turnout
from racecard.core.notes.registry import Evidence, Needs, Said, Table, rule

_TABLE = "what the table does not say"


def _table(e: Evidence) -> Table:
    assert e.table is not None
    return e.table


@rule("control_not_named", "Control not named", Needs.TABLE, "what it is compared with")
def control_not_named(e: Evidence) -> Iterator[Said]:
    """Fires where no treatment of a table is known to be the control."""
    if e.plan.control is None:
        yield (
            "The table does not say which treatment is the control, so nothing can be compared with it.",
            "Say which it is as you read the table in, or in a column role.",
        )


@rule("spelled_otherwise", "Spelled in several ways", Needs.TABLE, _TABLE)
def spelled_otherwise(e: Evidence) -> Iterator[Said]:
    """Fires where names of treatments differ in capitals or blanks only: they were read as one."""
    found = _table(e).sheet.respelled
    if found:
        told = "; ".join(f"“{other}” as “{name}”" for other, name in found[:_MOST_NAMES])
        more = len(found) - _MOST_NAMES
        rest = f"; and {more} more" if more > 0 else ""
        yield (
            f"Names that differ in capitals or blanks only are one treatment: {told}{rest}.",
            "If they are different treatments, give them different names.",
        )


_MOST_NAMES = 3


@rule("look_before_not_told", "Look before not given", Needs.TABLE, _TABLE)
def look_before_not_told(e: Evidence) -> Iterator[Said]:
    """Fires where rows tell only the day of first sighting."""
    lack = [
        r
        for r in _table(e).sheet.rows
        if r.outcome == "struck" and r.day_to is not None and r.day_from is None
    ]
    if not lack or any(r.unit for r in lack):
        return
    daily, before = "the day before, as if looked at daily", "the one before it in this table"
    taken = daily if _table(e).is_daily else before
    yield (
        f"{sum(r.count for r in lack)} rows tell only when it was first seen; the look before is taken as {taken}.",
        "Add day_from, the last look without, if you have it.",
    )


@rule("gardens_missing", "Gardens without a result", Needs.TABLE, _TABLE)
def gardens_missing(e: Evidence) -> Iterator[Said]:
    """Fires where gardens joined that are not compared, up to a quarter of them."""
    found = _table(e).sheet.turnout
    if found is not None and 0 < found.missing <= found.enrolled / _MANY:
        yield _missing(e, found)


@rule("many_gardens_missing", "Many gardens without result", Needs.TABLE, _TABLE)
def many_gardens_missing(e: Evidence) -> Iterator[Said]:
    """Fires where more than a quarter of the gardens that joined are not compared."""
    found = _table(e).sheet.turnout
    if found is not None and found.missing > found.enrolled / _MANY:
        yield _missing(e, found)


_MANY = 4


def _missing(e: Evidence, found: Turnout) -> Said:
    """How many are missing, and how unlike the others they would have to be."""
    told = (
        f"{found.missing} of {found.enrolled} gardens that joined are not compared. Gardens where it "
        "failed are less likely to write."
    )
    gaps = [c.gap.estimate for c in e.seen.judgement.comparisons if c.gap] if e.seen else []
    if len(gaps) == 1 and abs(gaps[0]) >= _A_POINT:
        against = 100 * abs(gaps[0]) * found.returned / found.missing
        told += (
            f" The difference would only be gone if theirs were {against:.0f} points the other way, on average."
            if against < _MOST_POINTS
            else " Even with the opposite result in all of them, the difference would remain."
        )
    return (told, "Ask the others for a word, also where it failed, and add what they send.")


_A_POINT = 0.01
_MOST_POINTS = 100


@rule("lot_not_recorded", "Randomisation not stated", Needs.TABLE, _TABLE)
def randomisation_unknown(e: Evidence) -> Iterator[Said]:
    """Fires for a table that does not come from trials of this program."""
    if e.seen is None or e.seen.lot_drawn is None:
        yield (
            "The table does not say whether positions were randomised. It is judged as if they were.",
            "If they were not, read every lead as at most likely.",
        )


@rule("not_drawn", "Not randomised", Needs.TABLE, _TABLE)
def run_not_randomised(e: Evidence) -> Iterator[Said]:
    """Fires where at least one of the runs put together is known not to have been randomised."""
    if e.seen is not None and e.seen.lot_drawn is False:
        yield (
            "Positions were not randomised in at least one of these runs, so light, draughts or handling could "
            "explain the difference.",
            "Read every lead as at most likely; repeat with positions drawn at random.",
        )


@rule("not_in_this_table", "Not in this table", Needs.TABLE, _TABLE)
def not_in_this_table(e: Evidence) -> Iterator[Said]:
    """Fires for a table that does not come from trials of this program, with the checks that lack their columns."""
    if e.seen is not None and e.seen.lot_drawn is not None:
        return
    columns = set(_table(e).sheet.columns)
    missing = []
    if not {"row", "col"} <= columns:
        missing.append("treatments in rows (needs tray, row and col)")
    if not {"day_to", "looks"} & columns:
        missing.append("rates over time and unequal looks (need day_from and day_to, or looks)")
    if "unit" not in columns:
        missing.append("plants that go backwards (need unit, with a row a look)")
    missing.append("events, amendments and who looked (need the complete trial)")
    yield (
        f"This table cannot show: {'; '.join(missing)}.",
        "Add those columns if you have them. No note here does not mean there is no problem.",
    )
