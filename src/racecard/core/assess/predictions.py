"""Predictions that were sealed until the finish, against what came."""

from dataclasses import dataclass

from racecard.core.assess.judgement import Judgement
from racecard.core.model import Plan


@dataclass(frozen=True, slots=True)
class Scored:
    """A prediction of one treatment against its strike, both in percent."""

    treatment: int
    predicted: float
    struck: float
    inside: bool | None

    @property
    def off_points(self) -> float:
        """How far the prediction lay above what came, in points."""
        return self.predicted - self.struck


def scored_predictions(plan: Plan, judgement: Judgement) -> tuple[Scored, ...]:
    """Every prediction that can be scored; none before the last day."""
    if not judgement.is_final:
        return ()
    out = []
    for arm in judgement.arms:
        predicted, rate = plan.treatments[arm.index].prediction, arm.strike.rate
        if predicted is None or rate is None:
            continue
        limits = arm.strike.interval
        inside = None
        if limits is not None and limits.low is not None and limits.high is not None:
            inside = limits.low <= predicted / 100 <= limits.high
        out.append(Scored(arm.index, predicted, 100 * rate, inside))
    return tuple(out)
