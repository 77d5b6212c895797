"""The rules and sums of propagation trials: no interface, no database, no clock.

Shape letters: u units, p propagules, t treatments, k look days, b blocks, r re-dealings.
Time, randomness and ids come in as arguments. A name is loaded when it is asked for: a sum of the mixing
bench needs none of the statistics.
"""

from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
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
_HOME = {
    "Cell": "racecard.core.model",
    "Count": "racecard.core.model.observation",
    "History": "racecard.core.model",
    "Judgement": "racecard.core.assess.judgement",
    "Kind": "racecard.core.model",
    "Look": "racecard.core.model.observation",
    "Plan": "racecard.core.model",
    "Results": "racecard.core.model.results",
    "Role": "racecard.core.model",
    "Treatment": "racecard.core.model",
    "check_plan": "racecard.core.plan.check",
    "draw_bench": "racecard.core.plan.bench",
    "judge": "racecard.core.assess.judge",
    "power_of_plan": "racecard.core.plan.power",
    "results_from": "racecard.core.model.results",
}


def __getattr__(name: str) -> Any:
    """A public name from the module it lives in, kept for the next time."""
    if name not in _HOME:
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    globals()[name] = found = getattr(import_module(_HOME[name]), name)
    return found
