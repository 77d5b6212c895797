"""Builds the demo's trials with core and store, as a grower would have made and logged them.

Every plant, member and number here is invented; the chances are plausible ones from common
practice, and all of it comes from fixed seeds.
"""

from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass, replace
from datetime import datetime, time, timedelta

import numpy as np

from racecard.core.dryrun.simulate import Truth, simulate
from racecard.core.log.days import noon_of_day, planned_looks, zone
from racecard.core.model import (
    Agent,
    Carrier,
    Day0,
    Kind,
    Layout,
    Override,
    Plan,
    Role,
    Subject,
    Treatment,
    Trial,
    UnitLevel,
)
from racecard.core.model.observation import Observation, UnitLog
from racecard.core.plan.repeat import repeated
from racecard.core.prepare.arm_words import soaks_in
from racecard.demo import olive
from racecard.demo.gardens import keep_returns
from racecard.demo.rounds import write_beside
from racecard.demo.shelf import drawing_on, fill_shelf, prepare_demo
from racecard.errors import Conflict
from racecard.store.engine import Shed
from racecard.store.rounds import record
from racecard.store.trials import (
    create_trial,
    has_invented,
    start_trial,
    unseal_trial,
)

_WHO = "Ines"
_STUCK_AT = time(9, 30)
_DIP = "in 50 % alcohol, bases 5 s"


@dataclass(frozen=True, slots=True)
class _Made:
    """One invented trial: its plan, seed, truths, day now (-1: not stuck yet), and whether its end was scored."""

    plan: Plan
    seed: int
    truths: tuple[Truth, ...]
    today: int
    is_finished: bool


def _arm(
    name: str, role: Role, detail: str, agent: Agent, carrier: Carrier, silk: str,
    *properties: tuple[str, str], prediction: float | None = None, per_stem: float | None = None,
) -> Treatment:  # fmt: skip
    return Treatment(
        "", name, role, detail, agent, carrier, silk, properties=properties,
        prediction=prediction, per_stem=per_stem, steps=soaks_in(detail), steps_settled=True,
    )  # fmt: skip


def _iba(ppm: int) -> tuple[tuple[str, str], ...]:
    return ("active", "IBA"), ("strength", f"{ppm} ppm"), ("carrier", "50 % alcohol")


LAVENDER = _Made(
    Plan(
        question="Lavender: does a hormone earn its place?",
        material="semi-ripe nodal cuttings of lavender, three nodes, one old stock bed",
        kind=Kind.CUTTING,
        treatments=(
            _arm("Untreated", Role.CONTROL, "nothing", Agent.NOTHING, Carrier.NONE, "plain",
                 prediction=50),
            _arm("Alcohol dip only", Role.CARRIER, "50 % alcohol, bases 5 s", Agent.NOTHING,
                 Carrier.ALCOHOL, "halves", ("carrier", "50 % alcohol"), prediction=50),
            _arm("IBA 500 ppm", Role.CANDIDATE, _DIP, Agent.HORMONE, Carrier.ALCOHOL, "hoops",
                 *_iba(500), prediction=65),
            _arm("IBA 1000 ppm", Role.STANDARD, _DIP, Agent.HORMONE, Carrier.ALCOHOL, "chevron",
                 *_iba(1000), prediction=80),
            _arm("IBA 4000 ppm", Role.CANDIDATE, _DIP, Agent.HORMONE, Carrier.ALCOHOL, "spots",
                 *_iba(4000), prediction=85),
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
            _arm("Neither", Role.CONTROL, "sown dry", Agent.NOTHING, Carrier.NONE, "plain",
                 ("coat", "whole"), ("wetting", "dry")),
            _arm("Nicked", Role.CANDIDATE, "coat nicked opposite the eye", Agent.NOTHING,
                 Carrier.NONE, "sash", ("coat", "nicked"), ("wetting", "dry")),
            _arm("Soaked", Role.CANDIDATE, "overnight in water at room warmth", Agent.NOTHING,
                 Carrier.NONE, "diamonds", ("coat", "whole"), ("wetting", "overnight")),
            _arm("Nicked and soaked", Role.CANDIDATE, "nicked, then soaked overnight",
                 Agent.NOTHING, Carrier.NONE, "quarters", ("coat", "nicked"), ("wetting", "overnight")),
        ),
        units=5, per_container=10, blocks=1, columns=5, endpoint=3, threshold_mm=2,
        length_days=21, look_every_days=2, gap_points=20, expected_percent=60, day0=Day0.SOWING,
        subject=Subject.SEED_TREATMENT, level=UnitLevel.CONTAINER, jobs=(("uncovered", 14),),
    ),
    seed=2206,
    truths=(
        Truth(0.58, 12, 3, loss=0.05, cause="mouldy", icc=0.05),
        Truth(0.86, 9, 2, loss=0.04, cause="mouldy", icc=0.05),
        Truth(0.70, 10, 2.5, loss=0.08, cause="mouldy", icc=0.05),
        Truth(0.84, 8, 2, loss=0.10, cause="mouldy", icc=0.05),
    ),
    today=12,
    is_finished=False,
)  # fmt: skip

CAMELLIA = _Made(
    Plan(
        question="Camellia: do leaf-bud or single-node cuttings strike as well as tips?",
        material="camellia, this year's wood, semi-ripe, six bushes along the north wall",
        kind=Kind.CUTTING,
        treatments=(
            _arm("Tip", Role.STANDARD, "tip of four nodes, wounded", Agent.NOTHING, Carrier.NONE,
                 "plain", ("type", "tip"), prediction=65, per_stem=1),
            _arm("Single node", Role.CANDIDATE, "one node and its leaf, wounded", Agent.NOTHING,
                 Carrier.NONE, "chevron", ("type", "single node"), prediction=60, per_stem=3),
            _arm("Leaf-bud", Role.CANDIDATE, "one leaf, its bud, 3 cm of stem, wounded", Agent.NOTHING,
                 Carrier.NONE, "spots", ("type", "leaf-bud"), prediction=50, per_stem=4),
        ),
        units=24, blocks=4, columns=12, length_days=98, look_every_days=7,
        look_days=(28, 42, 56, 70, 84, 98), gap_points=25, expected_percent=60,
        subject=Subject.CUTTING_TYPE, expected_days=70, gap_days=14, mother_plants=6, pot_ml=350,
        spare_cells=6, sides=("vent", "", "", "door"), tray_names=("mist bench, tray A", "mist bench, tray B"),
        at_hand=(("propagules", 68.0), ("containers", 100.0), ("medium", 30.0), ("labels", 120.0)),
        prior="Hearsay: leaf-buds give four plants where a tip gives one.",
    ),
    seed=3307,
    truths=(),
    today=-1,
    is_finished=False,
)  # fmt: skip

ROSEMARY = _Made(
    Plan(
        question="Rosemary: does seaweed or coconut water root better than tap water?",
        material="rosemary tips from two bushes, cut over a week",
        kind=Kind.CUTTING,
        treatments=(
            _arm("Tap water", Role.CONTROL, "jar on the potting bench", Agent.NOTHING, Carrier.NONE, "plain",
                 ("place", "potting bench"), ("lot", "old bush")),
            _arm("Seaweed", Role.CANDIDATE, "seaweed extract 1:500, jar on the kitchen sill", Agent.OTHER, Carrier.NONE,
                 "diamonds", ("active", "seaweed extract"), ("place", "kitchen sill"), ("lot", "young bush")),
            _arm("Coconut water", Role.CANDIDATE, "coconut water 1:5, jar on the potting bench", Agent.OTHER,
                 Carrier.NONE, "sash", ("active", "coconut water"), ("place", "potting bench"), ("lot", "old bush")),
        ),
        units=1, per_container=16, blocks=1, columns=3, length_days=42, look_every_days=14,
        gap_points=20, expected_percent=60, level=UnitLevel.CONTAINER, layout=Layout.BY_HAND,
        subject=Subject.CONTAINER, icc=0.2,
        overrides=(Override("not_drawn", "three jars only, and the sill has room for one"),),
    ),
    seed=1601,
    truths=(
        Truth(0.5, 24, 5, loss=0.15, icc=0.2),
        Truth(0.7, 22, 5, loss=0.1, icc=0.2),
        Truth(0.4, 26, 5, loss=0.3, icc=0.2),
    ),
    today=45,
    is_finished=True,
)  # fmt: skip

PARSLEY = _Made(
    Plan(
        question="Parsley: does a warm soak bring it up sooner in any kitchen?",
        material="parsley seed, one packet shared out, sown on fourteen kitchen sills",
        kind=Kind.SEED,
        treatments=(
            _arm("Sown dry", Role.CONTROL, "straight from the packet", Agent.NOTHING, Carrier.NONE,
                 "plain", ("wetting", "dry"), prediction=60),
            _arm("Warm soak", Role.CANDIDATE, "overnight in water begun hand-warm", Agent.NOTHING,
                 Carrier.NONE, "diamonds", ("wetting", "warm, overnight"), prediction=75),
        ),
        units=14, per_container=20, blocks=1, columns=2, endpoint=3, threshold_mm=2,
        length_days=28, look_every_days=3, gap_points=15, expected_percent=60, day0=Day0.SOWING,
        subject=Subject.SEED_TREATMENT, level=UnitLevel.CONTAINER, layout=Layout.SITES, block_basis="household",
    ),
    seed=5514,
    truths=(
        Truth(0.60, 17, 3, loss=0.06, cause="damped off", icc=0.06),
        Truth(0.74, 14, 3, loss=0.06, cause="damped off", icc=0.06),
    ),
    today=31,
    is_finished=True,
)  # fmt: skip

SCENARIO = (LAVENDER, SWEET_PEA, CAMELLIA, ROSEMARY, PARSLEY)


def build_demo(shed: Shed, time_zone: str = "UTC") -> list[Trial]:
    """Add the invented trials to a shed, dated so that their "today" is the shed's now.

    Raises:
        Conflict: the demo is already there.
    """
    with shed.reading() as session:
        if has_invented(session):
            raise Conflict("The demo trials are already here.")
    ids = fill_shelf(shed)
    trials = [_build(shed, made, time_zone, ids) for made in SCENARIO]
    prepare_demo(shed, trials, _WHO)
    write_beside(shed, trials, _WHO)
    keep_returns(shed, _WHO)
    return [*trials, *_olive_series(shed, time_zone, ids)]


def _olive_series(shed: Shed, time_zone: str, ids: Mapping[str, str]) -> list[Trial]:
    """Three runs of one plan, each repeating the one before, and a fourth that is planned."""
    runs: list[Trial] = []
    for seed, ago, strikes, middle in olive.RUNS:
        made = _Made(olive.PLAN, seed, olive.truths_of(strikes, middle), ago, is_finished=True)
        runs.append(_build(shed, made, time_zone, ids, runs[-1].id if runs else None))
    plan = drawing_on(replace(repeated(olive.PLAN, 30), time_zone=time_zone), ids)
    with _as_of(
        shed, shed.now() - timedelta(hours=1)
    ):  # the trials of the season stand first in lists
        last = create_trial(shed, plan, _FOURTH_SEED, _WHO, invented=True, repeats=runs[-1].id)
    return [*runs, last]


_FOURTH_SEED = 5408


def _build(
    shed: Shed, made: _Made, time_zone: str, ids: Mapping[str, str], repeats: str | None = None
) -> Trial:
    plan = drawing_on(replace(made.plan, time_zone=time_zone), ids)
    if made.today < 0:
        return create_trial(shed, plan, made.seed, _WHO, invented=True)
    tz = zone(time_zone)
    day0 = shed.now().astimezone(tz).date() - timedelta(days=made.today)
    started = datetime.combine(day0, _STUCK_AT, tz)  # so that today is the same day at any hour
    with _as_of(shed, started - timedelta(days=1)):
        draft = create_trial(shed, plan, made.seed, _WHO, invented=True, repeats=repeats)
    with _as_of(shed, started):
        trial = start_trial(shed, draft.id, _WHO, started)
    rng = np.random.default_rng(made.seed)
    planned = planned_looks(plan)
    days = [d for d in planned if d < made.today or made.is_finished]
    logs = simulate(plan, [u.cell for u in draft.planted], made.truths, days, rng)
    seen = list(_observations(shed, trial, logs, made.is_finished))
    record(shed, trial.id, [replace(o, recorded_at=o.seen_at) for o in seen], settled=True)
    if plan.blind and made.is_finished:
        trial = unseal_trial(shed, trial.id, _WHO)
    return trial


@contextmanager
def _as_of(shed: Shed, moment: datetime) -> Iterator[None]:
    """The shed as it was at an earlier moment: the demo's growers wrote things down as they happened."""
    now, shed.now = shed.now, lambda: moment
    try:
        yield
    finally:
        shed.now = now


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
                shed.new_id(), unit.id, "score", last, at(last), _WHO, score=round(log.score)
            )
