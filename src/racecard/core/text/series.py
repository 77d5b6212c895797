"""What runs put together come to, in words."""

from collections.abc import Sequence

from racecard.core.assess.runs import RunsTogether
from racecard.core.model import Plan
from racecard.core.text.companions import run_statements

ALL_RUNS = (
    "Are these all the runs that were carried out? Runs chosen by their result make any difference "
    "look larger than it is."
)


def series_says(
    plan: Plan, together: RunsTogether, verdict: str, left_out: Sequence[str]
) -> list[str]:
    """Sentences on one treatment over its runs.

    Args:
        plan: the plan of the runs together.
        together: the runs beside each other.
        verdict: the sentence on the treatment over all runs.
        left_out: treatments that stand in some runs only.
    """
    out = [verdict, *(s.text for s in run_statements(plan, together))]
    if left_out:
        out.append(f"Left out, because not every run has it: {', '.join(left_out)}.")
    return [*out, ALL_RUNS]
