"""Proof and payoff side by side: what a treatment costs, what it may bring, and where it breaks even.

A bet can be good and unproven, and a proven gain not worth its cost. The money is the grower's own,
in whatever currency; nothing here enters the verdict.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from racecard.core.assess.grade import Grade
from racecard.core.assess.judgement import Comparison
from racecard.core.assess.strike import ArmStrike
from racecard.core.model import Plan
from racecard.errors import InvalidInput

_MOST = 1e6


@dataclass(frozen=True, slots=True)
class Worth:
    """What the grower reckons with, per cutting or seed, in one currency.

    `struck_plant`: what one struck plant is worth; `hour`: what an hour of work costs; `cost` and
    `minutes`: by treatment, what a treated cutting costs and how long treating it takes.
    """

    struck_plant: float
    hour: float = 0.0
    currency: str = ""
    cost: Mapping[int, float] | None = None
    minutes: Mapping[int, float] | None = None

    def of(self, treatment: int) -> float:
        """Cost of treating one cutting, work included."""
        cost = (self.cost or {}).get(treatment, 0.0)
        return cost + self.hour * (self.minutes or {}).get(treatment, 0.0) / 60


@dataclass(frozen=True, slots=True)
class Payoff:
    """One treatment against the control, per cutting stuck.

    `gain`, `low`, `high`: what it is expected to bring beyond the control after its own cost, and
    the limits of that; `break_even`: gap (a fraction) at which it pays for itself; `per_success`:
    cost of treating divided by the share struck. `word`: what the two together come to.
    """

    treatment: int
    extra_cost: float
    gain: float | None
    low: float | None
    high: float | None
    break_even: float
    per_success: float | None
    lost: int
    word: str


def check_worth(plan: Plan, worth: Worth) -> None:
    """Raise InvalidInput where a figure cannot be true."""
    named = {
        "/struck_plant": worth.struck_plant,
        "/hour": worth.hour,
        **{f"/cost/{i}": v for i, v in (worth.cost or {}).items()},
        **{f"/minutes/{i}": v for i, v in (worth.minutes or {}).items()},
    }
    for at, value in named.items():
        if not 0 <= value <= _MOST:
            raise InvalidInput(f"a cost must be 0 to {_MOST:,.0f}, got {value:g}", at)
    if worth.struck_plant <= 0:
        raise InvalidInput("say what one struck plant is worth, above 0", "/struck_plant")
    for i in {*(worth.cost or {}), *(worth.minutes or {})}:
        if not 0 <= i < len(plan.treatments):
            raise InvalidInput(f"this trial has no treatment {i}", "/cost")


def payoffs(
    plan: Plan, comparisons: Sequence[Comparison], arms: Sequence[ArmStrike], worth: Worth
) -> tuple[Payoff, ...]:
    """Payoff of every compared treatment.

    Args:
        plan: the plan.
        comparisons: what the finish found against the reference.
        arms: strike of each treatment, by index.
        worth: the grower's figures; checked.
    """
    reference = plan.reference
    if reference is None:
        return ()
    return tuple(_payoff(plan, c, arms[c.index], worth, reference) for c in comparisons)


def _payoff(plan: Plan, c: Comparison, arm: ArmStrike, worth: Worth, reference: int) -> Payoff:
    extra = worth.of(c.index) - worth.of(reference)
    gap = c.gap

    def net(points: float | None) -> float | None:
        return None if points is None else points * worth.struck_plant - extra

    gain = net(gap.estimate if gap else None)
    low, high = net(gap.low if gap else None), net(gap.high if gap else None)
    even = extra / worth.struck_plant
    success = worth.of(c.index) / arm.rate if arm.rate else None
    word = _word(c, gain, low)
    return Payoff(
        c.index, extra, gain, low, high, even, success, arm.lost, word,
    )  # fmt: skip


def _word(c: Comparison, gain: float | None, low: float | None) -> str:
    proven = c.strike_grade is Grade.CLEAR_LEAD
    if c.strike_grade is Grade.CANNOT_TELL or gain is None:
        return "cannot tell"
    if c.hurt.harm or c.hurt.possible:
        return f"not advised: it {'did' if c.hurt.harm else 'may do'} harm"
    if proven and gain > 0:
        return "clear, and it pays" if low is not None and low > 0 else "clear, and probably pays"
    if proven:
        return "clear, but not worth the cost"
    if gain > 0:
        return "probably pays, not proven"
    return "probably does not pay, not proven"
