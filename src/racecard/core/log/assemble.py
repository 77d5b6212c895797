"""From a log of observations to what a finish judges."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import replace

import numpy as np

from racecard.core.log.beside_endpoint import also_counted, counts_of_stage
from racecard.core.log.histories import histories_of_counts, history_of_looks
from racecard.core.log.lift import lift_count, lift_stage, shared_score
from racecard.core.model import Layout, Plan, Unit
from racecard.core.model.observation import Count, Look, Observation, UnitLog
from racecard.core.model.results import Results, results_from


def in_force(observations: Iterable[Observation]) -> list[Observation]:
    """The observations that stand: not corrected by another that stands, and not taken back.

    A void takes back the row it names and that row's correction with it, so that what was there
    before stands again. A row that disagrees with one already there waits beside it and does not
    stand.

    Args:
        observations: every row in the order it was recorded.
    """
    rows = list(observations)
    taken_back = {row.corrects for row in rows if row.kind == "void"}
    kept = [
        row for row in rows
        if row.kind != "void" and row.id not in taken_back and row.beside is None
    ]  # fmt: skip
    replaced = {row.corrects for row in kept}
    return [row for row in kept if row.id not in replaced]


def conflicting(observations: Iterable[Observation]) -> list[Observation]:
    """Rows that disagree with a standing one and wait for the grower to decide.

    A device does not disagree with itself: what it sent late is older than what stands.
    """
    rows = list(observations)
    settled = {row.corrects for row in rows if row.kind == "void"} | {row.base for row in rows}
    device = {row.id: row.device for row in rows}
    return [
        row for row in rows
        if row.beside is not None and row.id not in settled
        and not (row.device and device.get(row.beside) == row.device)
    ]  # fmt: skip


def says_the_same(one: Observation, other: Observation) -> bool:
    """Whether two rows of one unit and round saw the same."""
    return all(getattr(one, name) == getattr(other, name) for name in _SEEN)


_SEEN = (
    "kind", "stage", "wilted", "shoot", "loss", "removed", "struck", "lost", "lost_struck",
    "score", "parts",
)  # fmt: skip


def unit_logs(
    units: Sequence[Unit], observations: Iterable[Observation], plan: Plan | None = None
) -> list[UnitLog]:
    """What stands for each unit, in the order of `units`.

    With the plan a lift is a look: its parts, or its score, say what was seen at the base that day,
    where no look of that day says it.
    """
    looks: dict[str, dict[int, Look]] = defaultdict(dict)
    counts: dict[str, dict[int, Count]] = defaultdict(dict)
    scores: dict[str, float] = {}
    standing_lost: dict[str, int] = defaultdict(int)
    shared: dict[str, dict[str, float]] = {}
    lifts: list[Observation] = []
    for o in in_force(observations):
        if o.kind == "look":
            looks[o.unit_id][o.day] = Look(
                o.day, o.stage, o.wilted, o.shoot, o.loss, bool(o.removed)
            )
        elif o.kind == "count":
            standing_lost[o.unit_id] = max(
                standing_lost[o.unit_id], (o.lost or 0) + (o.lost_struck or 0)
            )
            counts[o.unit_id][o.day] = Count(
                o.day, o.struck or 0, o.lost or 0, o.lost_struck or 0, o.removed, o.loss,
                also_counted(o.parts),
            )  # fmt: skip
        elif o.score is not None:
            scores[o.unit_id] = o.score
            lifts.append(o)
        elif o.kind == "score":
            shared[o.unit_id] = dict(o.parts)
            lifts.append(o)
    if plan is not None and plan.endpoint not in plan.also_counted:
        _look_by_lift(plan, lifts, looks, counts)
    scores |= {u: shared_score(parts, standing_lost[u]) for u, parts in shared.items()}
    return [
        UnitLog(tuple(looks[u.id].values()), tuple(counts[u.id].values()), scores.get(u.id))
        for u in units
    ]


def _look_by_lift(
    plan: Plan,
    lifts: Sequence[Observation],
    looks: dict[str, dict[int, Look]],
    counts: dict[str, dict[int, Count]],
) -> None:
    for o in lifts:
        if plan.per_container > 1:
            before = [c for day, c in counts[o.unit_id].items() if day <= o.day]
            count = lift_count(
                plan, o.day, dict(o.parts), max(before, key=lambda c: c.day, default=None)
            )
            if count is not None:
                counts[o.unit_id][o.day] = count
            continue
        there = looks[o.unit_id].get(o.day)
        gone = any(
            x.day < o.day and (x.loss is not None or x.removed) for x in looks[o.unit_id].values()
        )
        stage = lift_stage(plan, o.score, dict(o.parts))
        if stage is None or gone:
            continue
        if there is None:
            looks[o.unit_id][o.day] = Look(o.day, stage)
        elif there.stage is None and there.loss is None:
            looks[o.unit_id][o.day] = replace(there, stage=stage)


def own_ages(units: Sequence[Unit], logs: Sequence[UnitLog]) -> list[UnitLog]:
    """Each unit's log in days of its own age: those set later count from their own day 0."""
    return [
        log if not u.late else UnitLog(
            tuple(replace(x, day=x.day - u.late) for x in log.looks if x.day >= u.late),
            tuple(replace(x, day=x.day - u.late) for x in log.counts if x.day >= u.late),
            log.score,
        )
        for u, log in zip(units, logs, strict=True)
    ]  # fmt: skip


def _counts_at(plan: Plan, log: UnitLog, held: int) -> Sequence[Count]:
    """The counts of what the plan watches: its endpoint, or a stage counted beside it."""
    if plan.endpoint not in plan.also_counted:
        return log.counts
    return counts_of_stage(log.counts, plan.endpoint, held)


def results_of(
    plan: Plan, units: Sequence[Unit], logs: Sequence[UnitLog], *, today: int | None = None
) -> Results:
    """Histories of all planted units, laid out for the finish.

    Args:
        plan: the plan; its endpoint decides what counts as struck.
        units: the units that were set, spares left out.
        logs: one log a unit, in days of the trial; each is judged by its own age.
        today: day of the trial now, None where nobody says.
    """
    logs = own_ages(units, logs)
    single = plan.per_container == 1
    sizes = [plan.plants_in(u.cell.treatment) for u in units]
    histories = [
        [history_of_looks(log.looks, plan.endpoint)]
        if single
        else histories_of_counts(_counts_at(plan, log, n), n)
        for log, n in zip(logs, sizes, strict=True)
    ]
    days = [
        [x.day for x in log.looks if x.stage is not None or x.loss is not None or x.removed]
        if single
        else [x.day for x in _counts_at(plan, log, n)]
        for log, n in zip(logs, sizes, strict=True)
    ]
    results = results_from(
        [u.cell.treatment for u in units],
        [u.cell.block for u in units],
        histories,
        days,
        [log.score for log in logs],
    )
    # where a bench was laid by hand every cell is where its pot stood, and none was held back from a lot
    by_hand = plan.layout is Layout.BY_HAND
    held = np.array([u.cell.locked and not by_hand for u in units], bool)
    age = None if today is None else np.array([today - u.late for u in units], float)
    is_lined = plan.layout is Layout.ROW_COLUMN
    columns = max((u.cell.col for u in units), default=0) + 1
    line = np.array([u.cell.tray * columns + u.cell.col for u in units], dtype=np.int64)
    return replace(
        results, held=held if held.any() else None, line=line if is_lined else None, age=age
    )
