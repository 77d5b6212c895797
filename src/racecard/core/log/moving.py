"""Moving what was entered of a round to the day or the tray it belongs to, and a unit to another place."""

from collections.abc import Mapping, Sequence

from racecard.core.log.assemble import in_force
from racecard.core.model import Trial
from racecard.core.model.observation import Observation
from racecard.errors import InvalidInput

MOST_LINE = 60
"""The largest number, from 0, of a row or column that a unit can be moved to."""


def is_place(tray: int, row: int, col: int, *, last_tray: int) -> bool:
    """Whether a unit can be moved there: onto a tray of the bench or one beside it.

    The phone asks it too, as the place is typed: tests/shared/cases.json drives both.

    Args:
        tray, row, col: the place, from 0.
        last_tray: last tray of the bench, from 0.
    """
    return 0 <= tray <= last_tray + 1 and 0 <= row <= MOST_LINE and 0 <= col <= MOST_LINE


def moving_looks(
    trial: Trial, log: Sequence[Observation], day: int, to_day: int, trays: tuple[int, int] | None
) -> tuple[tuple[Observation, str], ...]:
    """The looks of a round that move, each with the unit it belongs to.

    Args:
        trial: the trial.
        log: its log.
        day: the day it was entered on.
        to_day: the day it belongs to.
        trays: (from, to) where it was entered on the wrong tray, None for all trays.

    Raises:
        InvalidInput: nothing to move, looks already there, or cells without a counterpart.
    """
    looks = [o for o in in_force(log) if o.kind in ("look", "count")]
    place = {u.id: (u.cell.tray, u.cell.row, u.cell.col) for u in trial.planted}
    moving = [
        o for o in looks
        if o.day == day and (trays is None or place[o.unit_id][0] == trays[0])
    ]  # fmt: skip
    if not moving:
        raise InvalidInput(f"Nothing was entered on day {day} there.", "/day")
    target = _targets(trial, moving, trays)
    ids = {o.id for o in moving}
    taken = {o.unit_id for o in looks if o.day == to_day and o.id not in ids}
    hit = [u.cell.code for u in trial.planted if u.id in taken & set(target.values())]
    if hit:
        raise InvalidInput(
            f"Day {to_day} already has looks at {', '.join(hit[:6])}"
            f"{' and more' if len(hit) > 6 else ''}: take those back first.",
            "/to_day",
        )
    return tuple((o, target[o.unit_id]) for o in moving)


def _targets(
    trial: Trial, moving: Sequence[Observation], trays: tuple[int, int] | None
) -> Mapping[str, str]:
    if trays is None:
        return {o.unit_id: o.unit_id for o in moving}
    at = {(u.cell.tray, u.cell.row, u.cell.col): u.id for u in trial.planted}
    place = {uid: p for p, uid in at.items()}
    out = {}
    for o in moving:
        _, row, col = place[o.unit_id]
        there = at.get((trays[1], row, col))
        if there is None:
            raise InvalidInput(
                f"Tray {trays[1] + 1} has no plant where some of these stood: enter them by hand.",
                "/to_tray",
            )
        out[o.unit_id] = there
    return out
