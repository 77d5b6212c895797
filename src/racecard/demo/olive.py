"""Olive: one hormone plan carried out three times and planned once more; all of it invented."""

from racecard.core.dryrun.simulate import Truth
from racecard.core.model import Agent, Carrier, Kind, Plan, Role, Treatment

PLAN = Plan(
    question="Olive: does IBA at 3000 ppm bring semi-ripe cuttings to root?",
    material="semi-ripe olive cuttings, four nodes, one old tree",
    kind=Kind.CUTTING,
    treatments=(
        Treatment("", "Untreated", Role.CONTROL, "nothing"),
        Treatment("", "Alcohol dip only", Role.CARRIER, "50 % alcohol, bases 5 s", carrier=Carrier.ALCOHOL,
                  silk="halves", properties=(("carrier", "50 % alcohol"),)),
        Treatment("", "IBA 3000 ppm", Role.CANDIDATE, "in 50 % alcohol, bases 5 s", Agent.HORMONE,
                  Carrier.ALCOHOL, silk="hoops",
                  properties=(("active", "IBA"), ("strength", "3000 ppm"), ("carrier", "50 % alcohol"))),
    ),
    units=20, blocks=2, columns=10, length_days=84, look_every_days=7, gap_points=20, expected_percent=20,
)  # fmt: skip
RUNS = (
    (5105, 830, (0.16, 0.15, 0.55), 60.0),
    (5206, 465, (0.24, 0.26, 0.58), 55.0),
    (5307, 100, (0.20, 0.18, 0.50), 58.0),
)
"""Of each run: its seed, how many days ago it began, true rates by treatment, typical day."""


def truths_of(strikes: tuple[float, ...], middle_day: float) -> tuple[Truth, ...]:
    """The truths of one run."""
    return tuple(Truth(s, middle_day, 9, loss=0.12, loss_day=30) for s in strikes)
