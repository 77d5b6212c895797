"""The question's own outcome of two treatments: what each came to, the difference, and what to expect next time.

How many struck, how soon, how good the roots, or another measure: one shape for all, each in its unit.
"""

from dataclasses import dataclass, replace

import numpy as np

from racecard.core.assess.horizon import with_lost_sight_of
from racecard.core.assess.over_time import coarsened
from racecard.core.assess.primary import Primary
from racecard.core.assess.quality import unit_scores
from racecard.core.assess.restricted_mean import common_days, unit_waits
from racecard.core.assess.strike import Shares, comparable, gap_of_values, unit_shares
from racecard.core.assess.to_settle import Settled, settled_by, settled_by_means
from racecard.core.model import Measure, Plan
from racecard.core.model.results import Results
from racecard.core.stats.gap_interval import spread_of_gap
from racecard.core.stats.multiplicity import CLEAR_LIMIT, below
from racecard.core.stats.posterior import Expected, next_mean, next_share
from racecard.core.stats.proportions import Interval, anova_icc, effective_number, typical_size

_FEWEST = 2


@dataclass(frozen=True, slots=True)
class OnOutcome:
    """Two treatments on what the trial is judged on: `mine` and `theirs` the mean of each, `gap` treated less control.

    Shares are fractions; days are those waited, fewer being sooner; scores and measures are in their unit.
    `expected`: after a lead, the difference of a repeat; `settle`: what would settle it. Each None where unknown.
    """

    mine: float | None = None
    theirs: float | None = None
    gap: Interval | None = None
    expected: Expected | None = None
    settle: Settled | None = None


def outcome_units(plan: Plan, results: Results, horizon: float) -> Shares:
    """Units at an age with what the trial is judged on as their value; its share struck where that is asked.

    Args:
        plan: the plan.
        results: what was seen, in days.
        horizon: age they are judged at, days after day 0.
    """
    shares = unit_shares(results, horizon)
    if plan.measure is Measure.STRIKE:
        return shares
    if plan.measure is Measure.SPEED:
        values = unit_waits(replace(results, removed=with_lost_sight_of(results, horizon)), horizon)
    else:
        values, _ = unit_scores(results)
    known = np.isfinite(values).astype(float)
    return replace(
        shares,
        values=np.where(known > 0, values, 0.0),
        counted=known,
        sizes=known,
        unknown=None,
        at_start=None,
    )


def on_outcome(
    plan: Plan,
    results: Results,
    primary: Primary,
    one: int,
    zero: int,
    horizon: float,
    *,
    is_ahead: bool,
) -> OnOutcome:
    """The two treatments on the question's outcome.

    Args:
        plan: the plan.
        results: what was seen of all treatments, in days.
        primary: their comparison on strike.
        one: index of the treated arm.
        zero: index of the control arm.
        horizon: age they are judged at, days after day 0.
        is_ahead: it leads, clearly or likely, so that a repeat is to be expected something of.
    """
    pair = results.only((one, zero))
    if horizon == 0:
        return OnOutcome()
    if plan.measure is Measure.STRIKE:
        return _on_strike(plan, pair, primary, one, horizon, is_ahead)
    if plan.measure is Measure.SPEED and (days := common_days(pair, one, zero, horizon)):
        pair = coarsened(
            replace(pair, removed=with_lost_sight_of(pair, max(days))), frozenset(days), max(days)
        )
        horizon = max(days)
    units, _ = comparable(outcome_units(plan, pair, horizon), one, zero)
    treated = units.treatment == one
    if not treated.any():
        return OnOutcome()
    method = "waiting" if plan.measure is Measure.SPEED else "measure"
    gap = gap_of_values(units.share, treated, units.block, method=method)
    spread = spread_of_gap(units.share, treated, units.block)
    mine, theirs = (float(units.share[m].mean()) for m in (treated, ~treated))
    if spread is None or spread.error == 0:
        return OnOutcome(mine, theirs, gap)
    each = (spread.error**2 / (1 / treated.sum() + 1 / (~treated).sum())) ** 0.5
    expected = next_mean(gap.estimate, spread.error, each) if is_ahead else None
    worth = plan.gap_days if plan.measure is Measure.SPEED else plan.gap_score
    settle = settled_by_means(
        each, expected.size if expected else worth, int(min(treated.sum(), (~treated).sum())), len(plan.candidates),
        is_expected=expected is not None, is_shared=results.has_shared_containers,
    )  # fmt: skip
    return OnOutcome(mine, theirs, gap, expected, settle)


def _on_strike(
    plan: Plan, pair: Results, primary: Primary, one: int, horizon: float, is_ahead: bool
) -> OnOutcome:
    shares = unit_shares(pair, horizon)
    used = shares.keep(shares.counted > 0)
    mine, theirs = (
        float(used.share[k].mean()) if k.any() else None
        for k in (used.treatment == one, used.treatment != one)
    )
    if primary.gap is None or mine is None or theirs is None:
        return OnOutcome(mine, theirs, primary.gap)
    expected = _expected(shares, one) if is_ahead else None
    may_be_seen = primary.minimum_p is not None and below(primary.minimum_p, CLEAR_LIMIT)
    size = expected.size if expected and may_be_seen else None
    settle = settled_by(
        shares,
        one,
        expected=size,
        worthwhile=plan.gap_points / 100,
        candidates=len(plan.candidates),
        usual_icc=plan.icc,
    )
    return OnOutcome(mine, theirs, primary.gap, expected, settle)


def _expected(shares: Shares, one: int) -> Expected | None:
    """What a repeat may bring: containers count as what they are worth in single plants."""
    used = shares.keep(shares.counted > 0)
    arms = [used.keep(used.treatment == one), used.keep(used.treatment != one)]
    if min(len(a.sizes) for a in arms) < _FEWEST:
        return None
    told: list[float] = []
    rho, size = 0.0, typical_size(used.counted)
    if np.any(used.sizes > 1):
        rho = anova_icc([a.struck for a in arms], [a.counted for a in arms])
    for a in arms:
        n = effective_number(a.counted, rho, size)
        told += [n * float(a.share.mean()), n]
    return next_share(*told)
