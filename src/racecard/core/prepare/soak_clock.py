"""The clock: soaks and dips with start and stop, worked back from the hour of sticking or sowing.

Either all arms go in together, so that each soak starts so much earlier; or all soaks start
together, and the arms go in apart. Then day 0 must be settled: first wetting, or each its own.
"""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from racecard.core.log.days import elapsed_days
from racecard.core.model import Day0, Plan, Treatment
from racecard.core.prepare.arm_words import soaks_in
from racecard.core.prepare.order import order_of

_SOAK_MINUTES = 60.0


@dataclass(frozen=True, slots=True)
class ClockStep:
    """One soak or dip of one arm: when it starts and stops. `key` names it among all steps."""

    key: str
    treatment: int
    name: str
    minutes: float
    start: datetime
    stop: datetime


@dataclass(frozen=True, slots=True)
class Clock:
    """The steps in the order of the clock, when each arm goes in, and what day 0 then is."""

    steps: tuple[ClockStep, ...]
    goes_in: tuple[datetime, ...]
    says: tuple[str, ...]
    asks_day0: bool


def proposed_steps(treatment: Treatment) -> tuple[tuple[str, float], ...]:
    """Soaks and dips that an arm's words speak of and nobody has confirmed or declined yet."""
    if treatment.steps or treatment.steps_settled:
        return ()
    said = [(treatment.detail, False)]
    said += [(v, k == "wetting") for k, v in treatment.properties if k in _MAY_WET]
    return next((found for w, wets in said if (found := soaks_in(w, is_wetting=wets))), ())


_MAY_WET = ("wetting", "handling", "carrier", "active")
"""Properties in which a soak may be told; a place, a light or an age tells none."""


def clock_of(plan: Plan, at: datetime) -> Clock:
    """The clock of a plan whose first unit goes in (or whose soaks start) at a moment.

    Arms are taken in the order of work, each after the last is done: one unit takes
    `plan.unit_seconds`. Reckoned in elapsed time, so a change of the clocks moves no soak.

    Args:
        plan: the plan, with its soaks and dips.
        at: when the first unit goes in, or the soaks start.
    """
    order = order_of(plan)
    waits: dict[int, timedelta] = {}
    passed = timedelta()
    for i in order:
        waits[i] = passed
        passed += timedelta(seconds=plan.unit_seconds * plan.units_of[i])
    steps: list[ClockStep] = []
    goes_in: dict[int, datetime] = {}
    for i in order:
        own = plan.treatments[i].steps
        total = timedelta(minutes=sum(m for _, m in own))
        start = _plus(at, waits[i]) if plan.start_together else _plus(at, waits[i] - total)
        for j, (name, minutes) in enumerate(own):
            stop = _plus(start, timedelta(minutes=minutes))
            steps.append(ClockStep(f"{i}-{j}", i, name, minutes, start, stop))
            start = stop
        goes_in[i] = start
    spread = tuple(goes_in[i] for i in range(len(plan.treatments)))
    steps.sort(key=lambda s: (s.start, s.treatment))
    says, asks = _day0(plan, at, spread)
    return Clock(tuple(steps), spread, says, asks)


def _plus(at: datetime, wait: timedelta) -> datetime:
    """A moment so much later by the watch, in the same zone."""
    return (at.astimezone(UTC) + wait).astimezone(at.tzinfo)


def days_apart(plan: Plan, moments: tuple[datetime, ...]) -> tuple[int, ...]:
    """Days each arm goes in after the first, as dates in the trial's zone.

    Args:
        plan: the plan, with its time zone.
        moments: when each treatment goes in.
    """
    first = min(moments)
    return tuple(elapsed_days(first, m, plan.time_zone) for m in moments)


def _day0(plan: Plan, at: datetime, goes_in: tuple[datetime, ...]) -> tuple[tuple[str, ...], bool]:
    verb = "sown" if plan.day0 is Day0.SOWING else "stuck"
    if not plan.start_together:
        longest = max((sum(m for _, m in t.steps) for t in plan.treatments), default=0.0)
        wet = elapsed_days(_plus(at, -timedelta(minutes=longest)), at, plan.time_zone)
        if plan.day0 is Day0.WETTING:
            return (
                (f"Day 0 is the first wetting; all are set together on day {wet}.",),
                False,
            )
        said = f"All are ready together, and that is day 0 ({plan.day0.value})."
        if wet and longest >= _SOAK_MINUTES:
            said += f" The longest soak starts {wet} {'day' if wet == 1 else 'days'} before."
        return (said,), False
    apart = days_apart(plan, (at, *goes_in))[1:]
    if max(apart, default=0) == 0:
        return (("All start together and go in on the same date: day 0 is that date.",), False)
    arms = ", ".join(
        f"{t.name} on day {d}" for t, d in zip(plan.treatments, apart, strict=True) if d
    )
    if plan.day0 is Day0.WETTING:
        return (
            (
                "All soaks start together: day 0 is the first wetting, and the days of every treatment count from it.",
                f"Started later: {arms}.",
            ),
            True,
        )
    return (
        (
            f"All soaks start together, so treatments are {verb} apart ({arms}, counted from the start of the soaks).",
            f"Each unit's day 0 is when it is {verb}; equal ages are compared, never equal dates.",
        ),
        True,
    )


def ran_says(step: ClockStep, started: datetime | None, stopped: datetime | None) -> str:
    """How a step really ran against what was planned; "" while it has not, or where it agrees.

    Args:
        step: the step as it was planned.
        started: when it began; None before.
        stopped: when it ended; None before.
    """
    if started is None or stopped is None:
        return ""
    ran = (stopped - started).total_seconds() / 60
    off = ran - step.minutes
    if abs(off) <= max(0.1 * step.minutes, 1 / 60 * 3):
        return f"ran {_long(ran)}, as planned"
    side = "longer" if off > 0 else "shorter"
    return f"ran {_long(ran)}, {_long(abs(off))} {side} than planned: note it at the finish"


def _long(minutes: float) -> str:
    """A length of time as it is said."""
    if minutes < 1.5:
        return f"{minutes * 60:.0f} s"
    if minutes < 90:
        return f"{minutes:.0f} min"
    return (
        f"{minutes / 60:.1f} h".replace(".0 h", " h")
        if minutes < 2880
        else f"{minutes / 1440:.1f} days"
    )
