"""Stick or sow: what was planned against what was really set, arm by arm."""

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import timedelta

from racecard.core.log.days import elapsed_days
from racecard.core.model import HIDDEN, Day0, Kind, Plan, Trial, Unit
from racecard.core.notes.from_data import Note


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


def notes_on_sticking(plan: Plan, units: Sequence[Unit]) -> tuple[Note, ...]:
    """What a finish must be told of how the trial was really set."""
    return tuple(_notes(plan, units))


def _notes(plan: Plan, units: Sequence[Unit]) -> Iterator[Note]:
    verb = "stuck" if plan.kind is Kind.CUTTING else "sown"
    arms = set_by_arm(plan, units)
    short = [(t, a) for t, a in zip(plan.treatments, arms, strict=True) if a.set < a.planned]
    if short:
        said = "; ".join(
            f"{a.planned - a.set} of {a.planned} of {t.name}"
            + (f" ({', '.join(a.whys)})" if a.whys else "")
            for t, a in short
        )
        yield Note(
            "not_set", f"Not {verb} as planned: {said}. Rates are of those really {verb}.",
            "If you chose which to leave out after knowing their treatment, record that.",
        )  # fmt: skip
    days = [sorted({u.late for u in units if u.cell.treatment == i and u.is_set}) for i in range(len(arms))]  # fmt: skip
    if any(d and d[-1] > 0 for d in days):
        apart = [f"{t.name} {_days(d)}" for t, d in zip(plan.treatments, days, strict=True) if d and d[-1] > 0]  # fmt: skip
        is_by_arm = len({tuple(d) for d in days if d}) > 1
        yield Note(
            "set_apart",
            f"Not all were {verb} on one day: {'; '.join(apart)}. Equal ages are compared, never equal dates."
            + (" Later starts met different weather." if is_by_arm else ""),
            "Next time work the soaks back from one hour, so that all go in together.",
        )  # fmt: skip
    other = [(t, a) for t, a in zip(plan.treatments, arms, strict=True) if a.other]
    if other:
        said = ", ".join(f"{a.other} of {t.name}" for t, a in other)
        even = len({a.other for a in arms}) == 1
        yield Note(
            "substituted",
            f"Another lot or size than planned was used for {said}"
            + ("." if even else ": they differ from the others in more than the treatment."),
            "Next time spread substitutes evenly, one block at a time.",
        )  # fmt: skip


def days_say(trial: Trial, today: int) -> str:
    """What else a day of the trial is, where it is not the same for all; "" where it is.

    A trial counted from the first wetting says its day since sowing too; one whose units went in
    apart says that they count from their own day 0. Names no treatment while it is sealed.
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
        return f"some units count from their own {verb}, {_days(late)}"
    names = [
        f"day {max(0, today - u[0])} for {t.name}"
        for i, t in enumerate(plan.treatments)
        if (u := sorted({x.late for x in trial.stuck if x.cell.treatment == i and x.late}))
    ]
    return f"from their own {verb}: {', '.join(names)}"


def _days(days: Sequence[int]) -> str:
    if len(days) == 1:
        return f"{days[0]} {'day' if days[0] == 1 else 'days'} after day 0"
    return f"{days[0]} to {days[-1]} days after day 0"
