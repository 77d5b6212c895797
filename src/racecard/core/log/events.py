"""Events beside the looks: the short list, where a moved pot stands now, and who was touched."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from racecard.core.model import Cell, Plan, Unit
from racecard.core.model.observation import Entry, Scope
from racecard.errors import InvalidInput, NotFound

Place = tuple[int, int, int]
"""Tray, row and column, each from 0."""


@dataclass(frozen=True, slots=True)
class Event:
    """One kind of event. `amount`: unit of the number that may go with it, "" for none.

    `did`: how it is told of plants ("were watered"). `is_shared`: touching some arms only says
    something against comparing them.
    """

    code: str
    name: str
    did: str
    amount: str = ""
    is_shared: bool = True

    @property
    def number(self) -> str:
        """The value a number that goes with it is kept under."""
        return "day" if self.code == "follow_up" else "amount"

    @property
    def bounds(self) -> tuple[float, float]:
        """Least and most that its number may be."""
        return _BOUNDS.get("day" if self.number == "day" else self.amount, (-1e6, 1e6))

    @property
    def is_whole(self) -> bool:
        """Whether its number is counted."""
        return self.number == "day" or self.amount in ("plants", "stems")

    def check_amount(self, value: float) -> None:
        """Raise InvalidInput where the number that goes with it cannot be.

        Args:
            value: the number, in the event's own unit.
        """
        least, most = self.bounds
        if not least <= value <= most:
            raise InvalidInput(
                f"{self.name}: {value:g} {self.amount} cannot be; give {least:g} to {most:g}.".replace(
                    "  ", " "
                ),
                f"/values/{self.number}",
            )
        if self.is_whole and value != int(value):
            raise InvalidInput(
                f"{self.name}: {value:g} must be a whole number.", f"/values/{self.number}"
            )


_BOUNDS = {
    "mL": (0.1, 1e6),
    "°C": (-60.0, 90.0),
    "plants": (1, 10_000),
    "stems": (1, 10_000),
    "day": (0, 800),
}


EVENTS = (
    Event("watered", "Watered", "watered", "mL"),
    Event("topped_up", "Topped up", "topped up", "mL"),
    Event("moved", "Moved", "moved", is_shared=False),
    Event("turned", "Turned", "turned"),
    Event("covered", "Covered", "covered"),
    Event("uncovered", "Uncovered", "uncovered"),
    Event("repotted", "Potted on", "potted on"),
    Event("fed", "Fed", "fed", "mL"),
    Event("frost", "Frost", "caught by frost", "°C"),
    Event("heat", "Heat", "caught by heat", "°C"),
    Event("spill", "Spilt or knocked", "spilt or knocked"),
    Event("new_lamp", "New lamp", "given a new lamp"),
    Event("lifted_to_look", "Lifted to look", "lifted to look"),
    Event("helped", "Helped out of its coat", "helped out of the coat", "plants"),
    Event("thinned", "Thinned", "thinned", "plants"),
    Event("culled", "Kept only the best", "culled to the best", "plants"),
    Event("harvested", "Stem cut or harvested", "cut or harvested", "stems"),
    Event("infected", "Infected", "infected"),
    Event("alarm", "Alarm", "past an alarm", is_shared=False),
    Event("follow_up", "To follow up", "to be followed up", is_shared=False),
    Event("closed", "Closed", "closed", is_shared=False),
    Event("other", "Other", "touched by something else"),
)
"""The short list: common practice in keeping a propagation diary, own wording."""

_BY_CODE = {e.code: e for e in EVENTS}
BY_THE_GROWER = tuple(e for e in EVENTS if e.code not in ("alarm", "closed", "moved"))
"""Events chosen from the list; the others come about by themselves or by a place or promise."""


def event_of(code: str) -> Event:
    """The event with this code; InvalidInput where the list has none."""
    if code not in _BY_CODE:
        raise InvalidInput(f"An event is one of {', '.join(_BY_CODE)}; got {code!r}.", "/what")
    return _BY_CODE[code]


def entries_in_force(entries: Iterable[Entry]) -> list[Entry]:
    """The entries that stand: not taken back, and not corrected by one that stands."""
    rows = list(entries)
    taken_back = {e.corrects for e in rows if e.kind == "void"}
    kept = [e for e in rows if e.kind != "void" and e.id not in taken_back]
    replaced = {e.corrects for e in kept}
    return [e for e in kept if e.id not in replaced]


def measure_of(trace: Entry, entries: Iterable[Entry]) -> Entry | None:
    """The measure that stands and was taken from these marks, or from marks they correct."""
    rows = list(entries)
    by_id = {e.id: e for e in rows}
    line: set[str] = set()
    at: Entry | None = trace
    while at is not None and at.id not in line:
        line.add(at.id)
        at = by_id.get(at.corrects or "")
    return next((e for e in entries_in_force(rows) if e.kind == "measure" and e.what in line), None)


def units_touched(
    entry: Entry, units: Sequence[Unit], plan: Plan, entries: Iterable[Entry]
) -> list[Unit]:
    """The units an entry is about: a tray's are those that stood on it at that moment.

    Args:
        entry: one entry.
        units: the units it may be about.
        plan: the plan.
        entries: the diary, for what was moved before it.

    Raises:
        NotFound: no such unit, tray or treatment.
    """
    if entry.scope is Scope.TRIAL:
        return list(units)
    if entry.scope is Scope.TRAY:
        at = places(units, (e for e in entries if e.seen_at <= entry.seen_at))
        found = [u for u in units if str(at[u.id][0]) == entry.target]
    elif entry.scope is Scope.ARM:
        is_arm = entry.target in {str(i) for i in range(len(plan.treatments))}
        found = [u for u in units if is_arm and u.cell.treatment == int(entry.target)]
    else:
        found = [u for u in units if u.id == entry.target]
    if not found:
        raise NotFound(f"There is no such {entry.scope} in this trial.", "/target")
    return found


def places(units: Sequence[Unit], entries: Iterable[Entry]) -> dict[str, Place]:
    """Where each unit stands now. A unit moved onto another changes places with it.

    Args:
        units: all cells of the bench, spares among them.
        entries: the diary in the order it was recorded.
    """
    at = {u.id: (u.cell.tray, u.cell.row, u.cell.col) for u in units}
    moves = [e for e in entries_in_force(entries) if e.kind == "event" and e.what == "moved"]
    for e in sorted(moves, key=lambda e: e.seen_at):
        to = _to(e)
        if e.target not in at:
            continue
        there = next((uid for uid, place in at.items() if place == to), None)
        if there is not None:
            at[there] = at[e.target]
        at[e.target] = to
    return at


def _to(moved: Entry) -> Place:
    tray, row, col = (int(moved.value(n) or 0) for n in ("tray", "row", "col"))
    return tray, row, col


def code_of(place: Place) -> str:
    """A place as it is written on the bench: 2-C7."""
    return Cell(*place, 0, 0).code


def says(entry: Entry, names: Mapping[str, str]) -> str:
    """An entry in one line, without the day. `names`: unit, tray and treatment names by target.

    Args:
        entry: the entry.
        names: name of each unit, tray and treatment by its id.
    """
    where = {
        Scope.UNIT: names.get(entry.target, "a unit"),
        Scope.TRAY: f"tray {int(entry.target) + 1}" if entry.target.isdigit() else "a tray",
        Scope.ARM: names.get(entry.target, "a treatment"),
        Scope.TRIAL: "the complete trial",
    }[entry.scope]
    tail = f": {entry.text}" if entry.text else ""
    if entry.kind == "event":
        event = event_of(entry.what)
        amount = entry.value("amount")
        number = "" if amount is None else f", {amount:g} {event.amount}"
        if entry.what == "moved":
            number = f" to {code_of(_to(entry))}"
        return f"{event.name.lower()}{number}, {where}{tail}"
    if entry.kind == "measure":
        numbers = ", ".join(f"{name.replace('_', ' ')} {value:g}" for name, value in entry.values)
        return f"measured {where}: {numbers}{'; ' + entry.text if entry.text else ''}"
    if entry.kind == "traced":
        return f"marks on the photo of {where}: longest {entry.value('longest') or 0:.0f} mm, roots {entry.value('roots') or 0:g}"
    if entry.kind == "second":
        return f"second scorer, {where}: root score {entry.value('score') or 0:g}"
    word = {"note": "note on", "photo": "photo of", "void": "undone, on"}[entry.kind]
    return f"{word} {where}{tail}"
