"""What the grower's own controls struck: the base rate for the next plan."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from racecard.core.assess.horizon import horizon_of
from racecard.core.assess.strike import arm_strike, unit_shares
from racecard.core.model import Plan
from racecard.core.model.results import Results

_COMMON = frozenset(
    "the and with from one two three six old young this last year over for semi ripe soft hard wood "
    "softwood hardwood tip tips node nodes nodal single leaf bud stem cutting cuttings seed seeds "
    "bush bushes plant plants stock bed mother packet mixed cut week along wall".split()
)
"""Words that say nothing of the species."""


@dataclass(frozen=True, slots=True)
class BaseRate:
    """Strike of the control of one trial, by the last day on which all were looked at."""

    day: int
    struck: int
    n: int

    @property
    def percent(self) -> float:
        """The rate, in percent."""
        return 100 * self.struck / self.n


def base_rate(plan: Plan, results: Results) -> BaseRate | None:
    """What the control of a finished trial struck; None without one, or before the last day."""
    if plan.reference is None:
        return None
    found = horizon_of(results.only([plan.reference]), plan.length_days)
    arm = arm_strike(unit_shares(results, found.age), plan.reference)
    n = arm.n - arm.removed - arm.unknown - arm.at_start
    if not found.reached or found.stopped_early or found.age == 0 or n < 1:
        return None
    return BaseRate(int(found.age), arm.struck, n)


def shared_words(one: str, other: str) -> int:
    """How many telling words two descriptions of plant material share.

    Args:
        one, other: the descriptions, as growers wrote them.
    """
    return len(set(telling_words(one)) & set(telling_words(other)))


def telling_words(text: str) -> list[str]:
    """Words that may name a plant, in lower case and in their order."""
    return [w for w in re.findall(r"[^\W\d_]{3,}", text.casefold()) if w not in _COMMON]


def most_alike(material: str, others: Sequence[str], most: int) -> list[int]:
    """Indices of the descriptions that share a telling word, the most alike first.

    Args:
        material: the description that is asked about.
        others: descriptions to hold against it.
        most: at most so many are given.
    """
    scored = [(shared_words(material, text), -i) for i, text in enumerate(others)]
    return [-i for score, i in sorted(scored, reverse=True)[:most] if score > 0]
