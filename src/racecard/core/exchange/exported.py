"""A trial as a table of results: everything the finish rests on, a row a plant."""

from collections.abc import Sequence

from racecard.core.log.histories import histories_of_counts, history_of_looks
from racecard.core.log.stages import ladder_for
from racecard.core.model import History, Outcome, Plan, Role, Unit
from racecard.core.model.differences import traits
from racecard.core.model.observation import UnitLog
from racecard.core.model.table_rows import FACTOR

Line = dict[str, str]


def lines_of(plan: Plan, units: Sequence[Unit], logs: Sequence[UnitLog]) -> list[Line]:
    """Rows of the table, in the order of the bench.

    Args:
        plan: the plan.
        units: planted units, spares left out.
        logs: one log a unit.

    Returns:
        One mapping from column to text a row; columns as in `rows.COLUMNS`.
    """
    out: list[Line] = []
    for unit, log in zip(units, logs, strict=True):
        place = _place(plan, unit, log)
        if plan.per_container == 1:
            history = history_of_looks(log.looks, plan.endpoint)
            out.append(place | {"unit": unit.cell.code} | _told(history))
            if history.went_back:
                seen = {"outcome": "alive", "day": str(history.last_look)}
                out.append(place | {"unit": unit.cell.code} | seen)
        else:
            for history in histories_of_counts(log.counts, plan.plants_in(unit.cell.treatment)):
                out.append(place | {"container": unit.cell.code} | _told(history))
    return out


def _place(plan: Plan, unit: Unit, log: UnitLog) -> Line:
    cell, treatment = unit.cell, plan.treatments[unit.cell.treatment]
    is_usual = plan.outcome is Outcome.USUAL
    days = sorted({x.day for x in log.looks} | {x.day for x in log.counts})
    return {
        "treatment": treatment.name,
        "role": _role(plan, cell.treatment).value,
        "block": str(cell.block + 1),
        "tray": str(cell.tray + 1),
        "row": str(cell.row + 1),
        "col": str(cell.col + 1),
        "count": "1",
        "score": "" if log.score is None else str(log.score),
        "looks": " ".join(map(str, days)),
        "end_day": str(plan.length_days),
        "gap_points": f"{plan.gap_points:g}",
        "kind": plan.kind.value
        if plan.endpoint == ladder_for(plan.kind).default_endpoint and is_usual
        else "",
    } | {FACTOR + name.replace(" ", "_"): level for name, level in traits(treatment).items()}


def _role(plan: Plan, arm: int) -> Role:
    """Role in a table, which knows one control: what the others were compared with."""
    if arm == plan.reference:
        return Role.CONTROL
    role = plan.treatments[arm].role
    return Role.CANDIDATE if role is Role.CONTROL else role


def _told(h: History) -> Line:
    if h.struck_by is not None:
        told = {"outcome": "struck", "day_from": str(h.struck_after), "day_to": str(h.struck_by)}
        if h.lost_by is not None:
            return told | {"day": str(h.lost_by), "cause": h.cause or "unknown"}
        return told | {"day": str(h.struck_by if h.went_back else h.last_look)}
    if h.lost_by is not None:
        told = {"outcome": "lost", "day_from": str(h.lost_after), "day": str(h.lost_by)}
        return told | {"cause": h.cause or "unknown"}
    if h.removed_after is not None:
        return {"outcome": "removed", "day_from": str(h.removed_after), "day": str(h.removed_after)}
    return {"outcome": "alive", "day": str(h.last_look)}
