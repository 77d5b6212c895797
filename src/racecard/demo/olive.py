"""Olive: two runs of one hormone plan a year apart, read in as one table; all of it invented."""

import numpy as np

from racecard.core.dryrun.simulate import Truth, simulate
from racecard.core.exchange.exported import Line, lines_of
from racecard.core.log.days import planned_looks
from racecard.core.model import Agent, Carrier, Kind, Plan, Role, Treatment, Unit
from racecard.core.plan.bench import draw_bench
from racecard.formats.sheet import write_csv
from racecard.store.engine import Shed
from racecard.store.imported_tables import keep_table

OLIVE_NAME = "Olive: the same hormone plan two years running (invented)"
_PLAN = Plan(
    question="Olive: does IBA at 3000 ppm bring semi-ripe cuttings to root?",
    material="semi-ripe olive cuttings, four nodes, one old tree",
    kind=Kind.CUTTING,
    treatments=(
        Treatment("", "Untreated", Role.CONTROL, "nothing"),
        Treatment("", "Alcohol dip only", Role.CARRIER, "50 % alcohol, bases 5 s", carrier=Carrier.ALCOHOL,
                  properties=(("carrier", "50 % alcohol"),)),
        Treatment("", "IBA 3000 ppm", Role.CANDIDATE, "in 50 % alcohol, bases 5 s", Agent.HORMONE,
                  Carrier.ALCOHOL,
                  properties=(("active", "IBA"), ("strength", "3000 ppm"), ("carrier", "50 % alcohol"))),
    ),
    units=20, blocks=2, columns=10, length_days=84, look_every_days=7, gap_points=20, expected_percent=20,
)  # fmt: skip
_RUNS = (
    ("first year", 5105, (0.16, 0.15, 0.55), 60.0),
    ("second year", 5206, (0.24, 0.26, 0.58), 55.0),
)


def read_olive_in(shed: Shed, who: str) -> None:
    """Keep both runs as one table, each with a bench and a season of its own."""
    lines: list[Line] = []
    for name, seed, strikes, middle in _RUNS:
        cells = [c for c in draw_bench(_PLAN, seed) if c.treatment >= 0]
        truths = [Truth(s, middle, 9, loss=0.12, loss_day=30) for s in strikes]
        rng = np.random.default_rng(seed)
        logs = simulate(_PLAN, cells, truths, planned_looks(_PLAN), rng)
        units = [Unit(f"{seed}-{i}", c) for i, c in enumerate(cells)]
        lines += [line | {"run": name} for line in lines_of(_PLAN, units, logs)]
    keep_table(
        shed, OLIVE_NAME, write_csv(lines), who, unit=None, control=None, skipped=frozenset()
    )
