"""What the diary means for the finish.

An event that touches some treatments only is a difference between them that nobody drew by lot.
"""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence

from racecard.core.log.events import event_of, standing, units_touched
from racecard.core.model import Plan, Unit
from racecard.core.model.observation import Entry, Observation
from racecard.core.notes.from_data import Note, words_list


def notes_on_events(
    plan: Plan, units: Sequence[Unit], entries: Iterable[Entry], log: Sequence[Observation] = ()
) -> tuple[Note, ...]:
    """Stewards' notes from the diary: what touched some treatments only, and rows filled at once.

    Args:
        plan: the plan.
        units: the planted units.
        entries: the diary.
        log: the looks that stand.
    """
    diary = standing(entries)
    told = [e for e in diary if e.kind == "event" and event_of(e.what).is_shared]
    touched: dict[str, dict[int, set[str]]] = defaultdict(lambda: defaultdict(set))
    days: dict[str, list[int]] = defaultdict(list)
    for e in told:
        days[e.what].append(e.day)
        for u in units_touched(e, units, plan, diary):
            touched[e.what][u.cell.treatment].add(u.id)
    arms = sorted({u.cell.treatment for u in units})
    size = {a: sum(u.cell.treatment == a for u in units) for a in arms}
    notes = [_some_only(plan, code, days[code], touched[code], size) for code in touched]
    return (*(n for n in notes if n), *_as_rows(log))


def _some_only(
    plan: Plan,
    code: str,
    days: Sequence[int],
    by_arm: Mapping[int, set[str]],
    size: Mapping[int, int],
) -> Note | None:
    """Fires where some arm was not touched at all, or far less often than another."""
    shares = {a: len(by_arm.get(a, ())) / n for a, n in size.items()}
    if max(shares.values()) - min(shares.values()) < 0.5 and min(shares.values()) > 0:
        return None
    when = f"day {days[0]}" if len(set(days)) == 1 else f"days {min(days)} to {max(days)}"
    some = [
        f"{plan.treatments[a].name} ({len(by_arm[a])} of {size[a]})" for a in size if by_arm.get(a)
    ]
    rest = [plan.treatments[a].name for a in size if not by_arm.get(a)]
    others = f"; {words_list(rest)} {'was' if len(rest) == 1 else 'were'} not" if rest else ""
    event = event_of(code)
    return Note(
        "some_arms_only",
        f"On {when} {words_list(some)} {'were' if len(some) > 1 else 'was'} {event.did}{others}. This is another difference between the treatments.",
        "Do to all treatments what is done to one, on the same day; read a gap between these with "
        "that in mind.",
    )


def _as_rows(log: Sequence[Observation]) -> list[Note]:
    looks = [o for o in log if o.kind in ("look", "count")]
    filled = sum(o.as_row for o in looks)
    if not filled:
        return []
    share = round(100 * filled / len(looks))
    return [
        Note(
            "entered_as_row",
            f"{filled} of {len(looks)} looks ({max(1, share)} %) were entered a row at a time, not "
            "plant by plant.",
            "Fill a row only where each of its plants was really looked at and is alike.",
        )
    ]
