"""The rules and sums of propagation trials: no interface, no database, no clock.

Shape letters: u units, p propagules, t treatments, k look days, b blocks, r re-dealings.
Time, randomness and ids come in as arguments.
"""

from racecard.core.assess.judge import judge
from racecard.core.assess.judgement import Judgement
from racecard.core.model import Cell, History, Kind, Plan, Role, Treatment
from racecard.core.model.observation import Count, Look
from racecard.core.model.results import Results, results_from
from racecard.core.plan.bench import draw_bench
from racecard.core.plan.check import check_plan
from racecard.core.plan.power import power_of_plan

__all__ = [
    "Cell",
    "Count",
    "History",
    "Judgement",
    "Kind",
    "Look",
    "Plan",
    "Results",
    "Role",
    "Treatment",
    "check_plan",
    "draw_bench",
    "judge",
    "power_of_plan",
    "results_from",
]
