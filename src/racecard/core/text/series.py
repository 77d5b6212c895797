"""What runs put together come to, in words."""

from collections.abc import Sequence

from racecard.core.assess.findings import About, findings_of, of
from racecard.core.assess.grade import GRADE_WORDS
from racecard.core.assess.judgement import Judgement
from racecard.core.assess.runs import RunsTogether
from racecard.core.model import Plan
from racecard.core.text.amounts import spelt
from racecard.core.text.companions import run_statements

ALL_RUNS = (
    "Are these all the runs that were carried out? Runs chosen by their result make any difference "
    "look larger than it is."
)


def joint_says(plan: Plan, judgement: Judgement, others: int) -> str:
    """What a run shows with the others of its plan, in one short sentence.

    Args:
        plan: the plan of the runs together.
        judgement: what they come to as one.
        others: how many other runs there are.
    """
    results = [f for f in of(findings_of(plan, judgement), About.RESULT) if not f.is_check]
    head = f"With {spelt(others)} other run{'s' * (others > 1)} of this plan: "
    if not results:
        return ""
    f = next((x for x in results if x.is_called), results[0])
    name, grade = plan.treatments[f.index].name, GRADE_WORDS[f.grade]
    return (
        f"{head}{name} is {grade}."
        if f.is_called
        else f"{head}{'no clear result' if f.grade else 'not looked at yet'}."
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
