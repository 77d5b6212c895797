"""Groups of treatments compared as classes, in words."""

from racecard.core.assess.contrasts import Contrasted
from racecard.core.assess.grade import GRADE_WORDS
from racecard.core.log.goal import done
from racecard.core.model import Measure, Plan
from racecard.core.text.amounts import difference, on_asked, span, unit_of

AFTER_THE_FACT = (
    "This comparison was not declared before the start, so it is never more than likely: declare it in the "
    "next trial to test it."
)


def contrast_says(plan: Plan, found: Contrasted) -> list[str]:
    """Sentences on one group against another: how many, how sure, and whether it was declared."""
    one, zero = (
        " and ".join(plan.treatments[i].name for i in group) for group in (found.one, found.zero)
    )
    gap = found.comparison.outcome.gap
    out = []
    if gap is not None:
        limits = f" (95 % interval {span(plan, gap)})" if span(plan, gap) else ""
        what = f" in how many {done(plan)}" if plan.measure is Measure.STRIKE else on_asked(plan)
        out.append(
            f"{one} against {zero}: {difference(plan, gap.estimate)}{unit_of(plan)}{what}{limits}."
        )
    out.append(f"As groups{on_asked(plan)}: {GRADE_WORDS[found.grade]}.")
    return out if found.is_declared else [*out, AFTER_THE_FACT]
