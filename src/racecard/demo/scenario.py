"""Builds the demo's trials with core and store, as a grower would have made and logged them.

Every plant, member and number here is invented; the chances are plausible ones from common
practice, and all of it comes from fixed seeds.
"""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

import numpy as np

from racecard.core.dryrun.simulate import Truth, simulate
from racecard.core.log.days import look_days, noon_of_day
from racecard.core.model import (
    Agent,
    Carrier,
    Day0,
    Kind,
    Observation,
    Plan,
    Role,
    Treatment,
    Trial,
    UnitLog,
)
from racecard.errors import Conflict
from racecard.store.engine import Shed
from racecard.store.rounds import record
from racecard.store.trials import create_trial, has_invented, start_trial, unseal_trial

_WHO = "Ines"
_DIP = "in 50 % alcohol, bases 5 s"


@dataclass(frozen=True, slots=True)
class _Made:
    """One invented trial: its plan, seed, truths, day now, and whether its end was scored."""

    plan: Plan
    seed: int
    truths: tuple[Truth, ...]
    today: int
    is_finished: bool


def _arm(
    name: str, role: Role, detail: str, agent: Agent, carrier: Carrier, silk: str
) -> Treatment:
    return Treatment("", name, role, detail, agent, carrier, silk)


LAVENDER = _Made(
    Plan(
        question="Lavender: does a hormone earn its place?",
        material="semi-ripe nodal cuttings of lavender, three nodes, one old stock bed",
        kind=Kind.CUTTING,
        treatments=(
            _arm("Untreated", Role.CONTROL, "nothing", Agent.NOTHING, Carrier.NONE, "plain"),
            _arm("Alcohol dip only", Role.CARRIER, "50 % alcohol, bases 5 s", Agent.NOTHING,
                 Carrier.ALCOHOL, "halves"),
            _arm("IBA 500 ppm", Role.CANDIDATE, _DIP, Agent.HORMONE, Carrier.ALCOHOL, "hoops"),
            _arm("IBA 1000 ppm", Role.STANDARD, _DIP, Agent.HORMONE, Carrier.ALCOHOL, "chevron"),
            _arm("IBA 4000 ppm", Role.CANDIDATE, _DIP, Agent.HORMONE, Carrier.ALCOHOL, "spots"),
        ),
        units=24, blocks=4, columns=10, length_days=42, look_every_days=3,
        gap_points=20, expected_percent=50, blind=True, day0=Day0.STICKING,
    ),
    seed=4127,
    truths=(
        Truth(0.46, 27, 5, loss=0.10, score=2.6),
        Truth(0.44, 27, 5, loss=0.12, score=2.5),
        Truth(0.62, 25, 5, loss=0.08, score=3.0),
        Truth(0.92, 21, 4, loss=0.03, score=3.8),
        Truth(0.34, 26, 5, loss=0.42, loss_day=15, score=2.2),
    ),
    today=49,
    is_finished=True,
)  # fmt: skip

SWEET_PEA = _Made(
    Plan(
        question="Sweet pea: nick the coat, soak overnight, or both?",
        material="sweet pea seed, one packet of last year, mixed colours",
        kind=Kind.SEED,
        treatments=(
            _arm("Neither", Role.CONTROL, "sown dry", Agent.NOTHING, Carrier.NONE, "plain"),
            _arm("Nicked", Role.CANDIDATE, "coat nicked opposite the eye", Agent.OTHER, Carrier.NONE, "sash"),
            _arm("Soaked", Role.CANDIDATE, "overnight in water at room warmth", Agent.OTHER,
                 Carrier.NONE, "diamonds"),
            _arm("Nicked and soaked", Role.CANDIDATE, "nicked, then soaked overnight", Agent.OTHER,
                 Carrier.NONE, "quarters"),
        ),
        units=5, per_container=10, blocks=1, columns=5, endpoint=3, threshold_mm=2,
        length_days=21, look_every_days=2, gap_points=20, expected_percent=60, day0=Day0.SOWING,
    ),
    seed=2206,
    truths=(
        Truth(0.58, 12, 3, loss=0.05, cause="mouldy", likeness=0.05),
        Truth(0.86, 9, 2, loss=0.04, cause="mouldy", likeness=0.05),
        Truth(0.70, 10, 2.5, loss=0.08, cause="mouldy", likeness=0.05),
        Truth(0.84, 8, 2, loss=0.10, cause="mouldy", likeness=0.05),
    ),
    today=12,
    is_finished=False,
)  # fmt: skip

SCENARIO = (LAVENDER, SWEET_PEA)


def build_demo(shed: Shed, time_zone: str = "UTC") -> list[Trial]:
    """Add the invented trials to a shed, dated so that their "today" is the shed's now.

    Raises:
        Conflict: the demo is already there.
    """
    with shed.reading() as session:
        if has_invented(session):
            raise Conflict("The demo's trials are already in this shed.")
    return [_build(shed, made, time_zone) for made in SCENARIO]


def _build(shed: Shed, made: _Made, time_zone: str) -> Trial:
    plan = replace(made.plan, time_zone=time_zone)
    trial = create_trial(shed, plan, made.seed, _WHO, invented=True)
    started = shed.now() - timedelta(days=made.today, minutes=30)
    trial = start_trial(shed, trial.id, _WHO, started)
    rng = np.random.default_rng(made.seed)
    planned = look_days(plan.length_days, plan.look_every_days)
    days = [d for d in planned if d < made.today or made.is_finished]
    logs = simulate(plan, [u.cell for u in trial.planted], made.truths, days, rng)
    record(shed, trial.id, list(_observations(shed, trial, logs, made.is_finished)))
    if plan.blind and made.is_finished:
        trial = unseal_trial(shed, trial.id, _WHO)
    return trial


def _observations(
    shed: Shed, trial: Trial, logs: Iterable[UnitLog], scored: bool
) -> Iterable[Observation]:
    assert trial.started_at is not None
    zone, start = trial.plan.time_zone, trial.started_at

    def at(day: int) -> datetime:
        return noon_of_day(start, day, zone)

    for unit, log in zip(trial.planted, logs, strict=True):
        for look in log.looks:
            yield Observation(
                shed.new_id(), unit.id, "look", look.day, at(look.day), _WHO, None, look.stage,
                look.wilted, look.shoot, look.loss, int(look.removed),
            )  # fmt: skip
        for count in log.counts:
            yield Observation(
                shed.new_id(), unit.id, "count", count.day, at(count.day), _WHO, None,
                loss=count.cause, removed=count.removed, struck=count.struck, lost=count.lost,
                lost_struck=count.lost_struck,
            )  # fmt: skip
        if scored and log.score is not None:
            last = trial.plan.length_days
            yield Observation(
                shed.new_id(), unit.id, "score", last, at(last), _WHO, score=log.score
            )
