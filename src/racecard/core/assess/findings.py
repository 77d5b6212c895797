"""What a judgement found, as one ranked list: the only source of card, headline, lists, report and pictures.

Nothing after this decides anything: whoever speaks takes more or fewer of these, and words them by `core/text`.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from racecard.core.assess.grade import CALLED, CLEAR, LEADS, Grade, Why
from racecard.core.assess.judgement import Comparison, Judgement
from racecard.core.model import CHECKS, Measure, Plan


class About(StrEnum):
    """What a finding is on."""

    RESULT = "result"
    """A treatment against the control on what was asked; of a check (carrier, known good or bad) only where called."""
    AGENT = "agent"
    """A candidate against its carrier."""
    HARM = "harm"
    STRIKE = "strike"
    """How many struck, where something else was asked and strike was called."""
    SOONER = "sooner"
    """About as many, but sooner, where speed was not asked."""


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing found: of which treatment, against which, on what, how firmly; figures are the comparison's.

    `is_check`: the treatment is a carrier or another check. `is_possible`: of harm that is not called.
    """

    about: About
    index: int
    against: int
    grade: Grade | None
    comparison: Comparison
    is_check: bool = False
    is_possible: bool = False

    @property
    def is_lead(self) -> bool:
        """Whether the treatment is ahead, clearly or likely."""
        return self.grade in LEADS

    @property
    def is_clear(self) -> bool:
        """Whether it is called clearly, either way."""
        return self.grade in CLEAR

    @property
    def is_called(self) -> bool:
        """Whether it is called at all, clearly or likely."""
        return self.grade in CALLED


_RANK = (
    Grade.CLEAR_LEAD, Grade.LIKELY_LEAD, Grade.CLEARLY_BEHIND, Grade.LIKELY_BEHIND, Grade.LEVEL,
    Grade.TOO_CLOSE, Grade.CANNOT_TELL, None,
)  # fmt: skip


def findings_of(plan: Plan, judgement: Judgement) -> tuple[Finding, ...]:
    """Every finding of a judgement, the firmest first; none where nothing was compared.

    Args:
        plan: the plan.
        judgement: lanes and comparisons.
    """
    zero, out = plan.reference, list[Finding]()
    if zero is None:
        return ()
    for c in judgement.comparisons:
        is_check = plan.treatments[c.index].role in CHECKS
        if not is_check or c.grade in (*CALLED, Grade.LEVEL):
            out.append(Finding(About.RESULT, c.index, zero, c.grade, c, is_check))
        if c.agent is not None:
            out.append(Finding(About.AGENT, c.index, c.agent.carrier, c.agent.grade, c))
        if c.hurt.harm or c.hurt.possible:
            out.append(Finding(About.HARM, c.index, zero, None, c, is_check, not c.hurt.harm))
        if plan.measure is not Measure.STRIKE and c.strike_grade in CALLED:
            out.append(Finding(About.STRIKE, c.index, zero, c.strike_grade, c, is_check))
        if is_sooner(plan, c):
            out.append(Finding(About.SOONER, c.index, zero, c.beside.over_time.grade, c, is_check))
    return tuple(sorted(out, key=lambda f: _order(plan, f)))


def is_sooner(plan: Plan, c: Comparison) -> bool:
    """Whether about as many struck, but sooner, where speed was not asked."""
    return (
        plan.measure is Measure.STRIKE and c.grade in (Grade.LEVEL, Grade.TOO_CLOSE)
        and c.sooner == "alike" and c.beside.over_time.grade in LEADS
    )  # fmt: skip


def _order(plan: Plan, f: Finding) -> tuple[int, int, bool, float]:
    gap = f.comparison.outcome.gap
    size = 0.0 if gap is None else -gap.estimate if plan.measure is Measure.SPEED else gap.estimate
    if f.grade in (Grade.CLEARLY_BEHIND, Grade.LIKELY_BEHIND):
        size = -size
    return list(About).index(f.about), _RANK.index(f.grade), f.is_check, -size


def is_even(f: Finding) -> bool:
    """Whether all struck in both, or none, so that nothing separates them."""
    return f.comparison.why in (Why.ALL_STRUCK, Why.NONE_STRUCK)


def of(findings: Sequence[Finding], about: About) -> list[Finding]:
    """Those on one thing, in their order."""
    return [f for f in findings if f.about is about]
