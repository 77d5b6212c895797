"""Stick or sow: what was planned against what was really set, arm by arm."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta

from racecard.core.log.days import elapsed_days
from racecard.core.model import HIDDEN, Day0, Kind, Plan, Trial, Unit


@dataclass(frozen=True, slots=True)
class ArmSet:
    """One arm: units planned, really set, set started later, and from another batch or size."""

    planned: int
    set: int
    late: int
    other: int
    whys: tuple[str, ...]


def set_by_arm(plan: Plan, units: Sequence[Unit]) -> tuple[ArmSet, ...]:
    """Planned against really set, for each treatment; nothing while treatments are hidden."""
    if any(u.cell.treatment == HIDDEN for u in units):
        return ()
    out = []
    for i in range(len(plan.treatments)):
        own = [u for u in units if u.cell.treatment == i]
        whys = Counter(u.why for u in own if u.why and not u.is_set)
        out.append(
            ArmSet(
                len(own), sum(u.is_set for u in own), sum(u.late > 0 for u in own if u.is_set),
                sum(bool(u.lot or u.size) for u in own if u.is_set),
                tuple(f"{n} × {why}" for why, n in whys.most_common()),
            )
        )  # fmt: skip
    return tuple(out)


def days_say(trial: Trial, today: int) -> str:
    """What else a day of the trial is, where it is not the same for all; "" where it is.

    A trial counted from the first wetting says its day since sowing too; one whose units went in
    apart says that they count from their own day 0. Names no treatment while it is sealed.

    Args:
        trial: the trial.
        today: day of the trial.
    """
    plan = trial.plan
    verb = "sticking" if plan.kind is Kind.CUTTING else "sowing"
    if plan.day0 is Day0.WETTING and trial.started_at is not None:
        start = trial.started_at
        soak = timedelta(
            minutes=max((sum(m for _, m in t.steps) for t in plan.treatments), default=0.0)
        )
        wet = elapsed_days(start, start + soak, plan.time_zone)
        return f"day {today - wet} from {verb} for the longest soak" if wet else ""
    late = sorted({u.late for u in trial.stuck if u.late})
    if not late:
        return ""
    if trial.is_sealed:
        return f"some units count from their own {verb}, {days_after(late)}"
    names = [
        f"day {max(0, today - u[0])} for {t.name}"
        for i, t in enumerate(plan.treatments)
        if (u := sorted({x.late for x in trial.stuck if x.cell.treatment == i and x.late}))
    ]
    return f"from their own {verb}: {', '.join(names)}"


def days_after(days: Sequence[int]) -> str:
    """How long after day 0, as words.

    Args:
        days: days from day 0 to each treatment's start.
    """
    if len(days) == 1:
        return f"{days[0]} {'day' if days[0] == 1 else 'days'} after day 0"
    return f"{days[0]} to {days[-1]} days after day 0"
