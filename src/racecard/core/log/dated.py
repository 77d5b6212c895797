"""When things were written down, against the day they tell of."""

from collections.abc import Sequence

from racecard.core.log.days import elapsed_days, zone
from racecard.core.model import Layout, Trial
from racecard.core.model.observation import Observation


def lot_was_drawn(trial: Trial) -> bool:
    """Whether places were drawn by lot before the start: a lot drawn after day 0 is no lot."""
    return trial.plan.layout is not Layout.BY_HAND and days_late(trial) <= 0


def days_late(trial: Trial) -> int:
    """Days after day 0 on which the plan, its bench and its predictions were last written."""
    if trial.started_at is None:
        return 0
    return elapsed_days(trial.started_at, trial.planned_at, trial.plan.time_zone)


def late_rounds(trial: Trial, stands: Sequence[Observation]) -> list[int]:
    """Days whose looks were written down two days later or more, dated by hand.

    A look entered for another day bears noon of that day; a tap kept by a phone without signal bears
    its own moment, and was written then.
    """
    assert trial.started_at is not None
    where = zone(trial.plan.time_zone)
    out = set()
    for o in stands:
        seen = o.seen_at.astimezone(where)
        if o.recorded_at is None or (seen.hour, seen.minute, seen.second) != (12, 0, 0):
            continue
        if (o.recorded_at.astimezone(where).date() - seen.date()).days > 1:
            out.add(o.day)
    return sorted(out)
