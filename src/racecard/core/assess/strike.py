"""Strike of each arm and the gap between two, at the true unit.

References: see proportions.py and lot.py; rules for denominators in ARCHITECTURE.md.
"""

from dataclasses import dataclass, fields, replace
from enum import StrEnum
from typing import Any

import numpy as np

from racecard.core.arrays import Bools, Floats, Ints
from racecard.core.assess.horizon import not_known_at, with_lost_sight_of, with_not_known
from racecard.core.model.results import Results
from racecard.core.stats.gap_interval import spread_of_gap, weighted_gap
from racecard.core.stats.interval_curve import Curve, fit_curve
from racecard.core.stats.proportions import (
    Interval,
    anova_icc,
    effective_number,
    hybrid_limits,
    newcombe,
    newcombe_paired,
    stratified_score,
    t_for,
    typical_size,
    wilson,
    wilson_limits,
    z_for,
)

ONE_CONTAINER = "one container per treatment: what happened to that container and what the treatment did cannot be separated"
SHARED = "plants that share a container are counted singly, so no honest interval or p can be given"

HELD_AT_ZERO = (
    "the limit nearer 0 is set to 0, because the test does not rule out that there is no difference"
)


class Missing(StrEnum):
    """How propagules removed unstruck, or lost sight of, are counted."""

    LEFT_OUT = "left out"
    AGAINST = "against the treatment"
    FOR = "for the treatment"


@dataclass(frozen=True, slots=True, eq=False)
class Shares:
    """Struck and counted propagules of each unit (u,), with treatment and block.

    `unknown`: not looked at since, or in doubt; `at_start`: at the endpoint when set, and so out.
    `values`: what else is compared in place of the share struck, in its own unit: days, scores, a measure.
    """

    struck: Floats
    counted: Floats
    removed: Floats
    lost: Floats
    sizes: Floats
    treatment: Ints
    block: Ints
    held: Bools | None = None
    line: Ints | None = None
    unknown: Floats | None = None
    at_start: Floats | None = None
    values: Floats | None = None

    @property
    def share(self) -> Floats:
        """Share struck of those counted, nan where none is left; or what else is compared."""
        if self.values is not None:
            return self.values
        return np.where(self.counted > 0, self.struck / np.maximum(self.counted, 1), np.nan)

    @property
    def is_whole(self) -> bool:
        """Whether nothing was left out of the count."""
        return bool(np.all(self.counted == self.sizes))

    def keep(self, mask: Bools) -> "Shares":
        """The same for some of the units.

        Args:
            mask: which units stay, shape (u,).
        """
        parts: dict[str, Any] = {
            f.name: None if (part := getattr(self, f.name)) is None else part[mask]
            for f in fields(self)
        }
        return replace(self, **parts)


def unit_shares(
    results: Results,
    horizon: float,
    treated: int | None = None,
    missing: Missing = Missing.LEFT_OUT,
) -> Shares:
    """Struck of stuck by the horizon, unit by unit.

    A propagule removed before it was struck or lost, or of which nobody knows whether it had struck
    by then, leaves the denominator, or is counted against or for the arm `treated`.

    Args:
        results: what was seen, in days.
        horizon: age the arms are judged at, days after day 0.
        treated: arm that what is missing is counted against or for; None where it is left out.
        missing: what becomes of those of which nobody knows.
    """
    struck = np.isfinite(results.by) & (results.by <= horizon)
    lost = np.isfinite(results.lost_by) & (results.lost_by <= horizon)
    removed = np.isfinite(results.removed) & (results.removed <= horizon) & ~struck & ~lost
    unknown = not_known_at(results, horizon)
    at_start = np.zeros_like(removed) if results.at_start is None else results.at_start
    if missing is not Missing.LEFT_OUT:
        is_treated = results.treatment[results.unit] == treated
        helps = is_treated if missing is Missing.FOR else ~is_treated
        struck = struck | ((removed | unknown) & helps)
        removed = unknown = at_start = np.zeros_like(removed)
    u = len(results.treatment)

    def per_unit(flags: Bools) -> Floats:
        return np.bincount(results.unit, weights=flags, minlength=u).astype(float)

    sizes = results.sizes.astype(float)
    gone, unseen = per_unit(removed), per_unit(unknown)
    begun = per_unit(at_start)
    return Shares(
        per_unit(struck),
        sizes - gone - unseen,
        gone - begun,
        per_unit(lost),
        sizes,
        results.treatment,
        results.block,
        results.held,
        results.line,
        unseen,
        begun,
    )


def comparable(shares: Shares, one: int, zero: int) -> tuple[Shares, int]:
    """Units of two arms that can be re-dealt, and how many were left out.

    Out go units with no propagule left, and blocks left with one arm only.

    Args:
        shares: struck of stuck, unit by unit.
        one: index of the treated arm.
        zero: index of the control arm.
    """
    mine = shares.keep(np.isin(shares.treatment, (one, zero)))
    ok = mine.counted > 0
    for b in np.unique(mine.block):
        here = (mine.block == b) & ok
        if len(np.unique(mine.treatment[here])) < 2:
            ok &= mine.block != b
    return mine.keep(ok), int((~ok).sum())


@dataclass(frozen=True, slots=True)
class ArmStrike:
    """One arm: `n` stuck, `struck`, `removed`, `lost`; mean share, pooled share, interval.

    `unknown`: not looked at since, or in doubt; `at_start`: at the endpoint when set. `is_estimated`:
    something was left out, so `rate` is the curve's at the horizon.
    """

    units: int
    n: int
    struck: int
    removed: int
    lost: int
    rate: float | None
    rate_pooled: float | None
    interval: Interval | None
    effective_n: float | None
    unknown: int = 0
    at_start: int = 0
    is_estimated: bool = False


def curve_of(results: Results, horizon: float) -> Curve:
    """The curve of one arm; those lost sight of before the horizon are censored at their last look.

    Args:
        results: what was seen of one arm, in days.
        horizon: age the arms are judged at, days after day 0.
    """
    return fit_curve(
        results.after, results.by, results.lost_after, results.lost_by,
        with_lost_sight_of(results, horizon),
    )  # fmt: skip


def estimated_rate(results: Results, arm: int, horizon: float) -> float | None:
    """The curve's rate of an arm at the horizon, containers weighing alike.

    None where nothing was removed or is not known by then, so that plain counts serve.

    Args:
        results: what was seen, in days.
        arm: index of the treatment.
        horizon: age the arms are judged at, days after day 0.
    """
    mine = results.only([arm])
    removed = with_not_known(mine, horizon)
    if not np.any(removed <= horizon):
        return None
    weight = 1.0 / mine.sizes[mine.unit] if mine.has_shared_containers else None
    curve = fit_curve(mine.after, mine.by, mine.lost_after, mine.lost_by, removed, weight)
    return curve.at(horizon)


def arm_strike(
    shares: Shares,
    arm: int,
    *,
    singly_over_shared: bool = False,
    estimated: float | None = None,
) -> ArmStrike:
    """Strike of one arm with its own interval, where one is honest.

    Args:
        shares: units of all arms at the horizon.
        arm: index of the treatment.
        singly_over_shared: propagules were counted singly though containers were shared.
        estimated: the curve's rate at the horizon, where something was left out of the count.
    """
    mine = shares.keep(shares.treatment == arm)
    used = mine.keep(mine.counted > 0)
    rate = float(used.share.mean()) if len(used.share) else None
    counted = float(used.counted.sum())
    pooled = float(used.struck.sum()) / counted if counted else None
    interval, effective = None, None
    if rate is not None:
        interval, effective = _arm_interval(shares, used, rate, singly_over_shared, estimated)
        rate = rate if estimated is None else estimated
    return ArmStrike(
        len(mine.sizes),
        int(mine.sizes.sum()),
        int(mine.struck.sum()),
        int(mine.removed.sum()),
        int(mine.lost.sum()),
        rate,
        pooled,
        interval,
        effective,
        0 if mine.unknown is None else int(mine.unknown.sum()),
        0 if mine.at_start is None else int(mine.at_start.sum()),
        rate is not None and estimated is not None,
    )


def _arm_interval(
    shares: Shares, used: Shares, rate: float, singly: bool, estimated: float | None
) -> tuple[Interval, float | None]:
    if singly:
        return Interval(rate, None, None, "none", SHARED), None
    if np.all(shares.sizes <= 1):
        n = int(used.counted.sum())
        if estimated is not None:
            return Interval(estimated, *wilson_limits(estimated, n, z_for(0.95)), "wilson"), float(
                n
            )
        return wilson(int(used.struck.sum()), n), float(n)
    if len(used.sizes) < 2:
        return Interval(rate, None, None, "none", ONE_CONTAINER), None
    everyone = shares.keep(shares.counted > 0)
    arms = np.unique(everyone.treatment)
    rho = _icc_within(everyone, arms)
    worth = effective_number(used.counted, rho, typical_size(everyone.counted))
    if len(np.unique(shares.block)) > 1:
        reason = "containers stand in blocks, so no interval for one treatment alone is reliable; see the difference"
        return Interval(rate, None, None, "none", reason), worth
    quantile = t_for(0.95, len(everyone.sizes) - len(arms))
    reason = "only two containers" if len(used.sizes) == 2 else ""
    limits = wilson_limits(rate, worth, quantile)
    return Interval(rate, *limits, "wilson_containers", reason), worth


def _icc_within(shares: Shares, arms: Ints) -> float:
    each = [shares.treatment == a for a in arms]
    return anova_icc([shares.struck[m] for m in each], [shares.counted[m] for m in each])


def gap(
    units: Shares,
    one: int,
    level: float = 0.95,
    *,
    singly_over_shared: bool = False,
    rates: tuple[float, float] | None = None,
) -> Interval:
    """Gap in mean unit share, treated less control, with the interval its design allows.

    The estimate is the very gap the lot test re-deals: blocks weighted n1 n0 / N in units.

    Args:
        units: comparable units of two arms, every block with both.
        one: index of the treated arm.
        level: coverage in (0, 1).
        singly_over_shared: propagules were counted singly though containers were shared.
        rates: the curves' rates, treated and control, where something was left out of the count;
            taken for single propagules without blocks.
    """
    treated = units.treatment == one
    estimate = weighted_gap(units.share, treated, units.block)
    if units.values is not None:
        return gap_of_values(units.values, treated, units.block, level)
    if singly_over_shared:
        return Interval(estimate, None, None, "none", SHARED)
    if min(treated.sum(), (~treated).sum()) < 2 and np.any(units.sizes > 1):
        return Interval(estimate, None, None, "none", ONE_CONTAINER)
    blocks = np.unique(units.block)
    if np.all(units.sizes <= 1):
        if rates is not None and len(blocks) == 1:
            return _gap_of_rates(*rates, int(treated.sum()), int((~treated).sum()), level)
        return _gap_of_singles(units, treated, blocks, level)
    if len(blocks) == 1:
        return _gap_of_containers(units, one, estimate, level)
    return _gap_of_containers_in_blocks(units, treated, blocks, estimate, level)


def gap_of_values(
    values: Floats, treated: Bools, block: Ints, level: float = 0.95, method: str = "measure"
) -> Interval:
    """Weighted difference in unit means with t limits, in the unit of the values.

    Args:
        values: value of each unit, shape (u,).
        treated: which units are of the treatment, shape (u,); both kinds in every block.
        block: block of each unit, shape (u,).
        level: coverage in (0, 1).
        method: name of the card that explains it.
    """
    estimate, spread = weighted_gap(values, treated, block), spread_of_gap(values, treated, block)
    if spread is None or spread.error == 0:
        few, alike = "too few units for an interval", "no unit differs from its kind"
        return Interval(estimate, None, None, "none", few if spread is None else alike)
    half = spread.half(level)
    return Interval(estimate, estimate - half, estimate + half, method)


def _gap_of_rates(p1: float, p0: float, n1: int, n0: int, level: float) -> Interval:
    """Newcombe's limits of two rates of the curve, at the numbers that were at risk."""
    z = z_for(level)
    limits = hybrid_limits(p1, wilson_limits(p1, n1, z), p0, wilson_limits(p0, n0, z))
    return Interval(p1 - p0, *limits, method="newcombe")


def _gap_of_singles(units: Shares, treated: Bools, blocks: Ints, level: float) -> Interval:
    x = np.asarray(units.struck, int)
    if len(blocks) == 1:
        return newcombe(
            int(x[treated].sum()),
            int(treated.sum()),
            int(x[~treated].sum()),
            int((~treated).sum()),
            level,
        )
    if len(x) == 2 * len(blocks):
        order = np.argsort(units.block, kind="stable")
        t = x[order][treated[order]]
        c = x[order][~treated[order]]
        return newcombe_paired(
            int(np.sum((t == 1) & (c == 1))),
            int(np.sum(t > c)),
            int(np.sum(c > t)),
            int(np.sum((t == 0) & (c == 0))),
            level,
        )
    return stratified_score(*_block_counts(units, treated, blocks), level)


def _block_counts(
    units: Shares, treated: Bools, blocks: Ints
) -> tuple[Floats, Floats, Floats, Floats]:
    def total(values: Floats, arm: Bools) -> Floats:
        return np.array([values[arm & (units.block == b)].sum() for b in blocks], float)

    return (
        total(units.struck, treated),
        total(units.counted, treated),
        total(units.struck, ~treated),
        total(units.counted, ~treated),
    )


def _gap_of_containers(units: Shares, one: int, estimate: float, level: float) -> Interval:
    treated = units.treatment == one
    rho = _icc_within(units, np.unique(units.treatment))
    size = typical_size(units.counted)
    quantile = t_for(level, len(treated) - 2)
    limits = []
    for arm in (treated, ~treated):
        p = float(units.share[arm].mean())
        limits.append(
            (p, wilson_limits(p, effective_number(units.counted[arm], rho, size), quantile))
        )
    few = min(treated.sum(), (~treated).sum()) == 2
    return Interval(
        estimate,
        *hybrid_limits(*limits[0], *limits[1]),
        "newcombe_containers",
        "only two containers" if few else "",
    )


def _gap_of_containers_in_blocks(
    units: Shares, treated: Bools, blocks: Ints, estimate: float, level: float
) -> Interval:
    spread = spread_of_gap(units.share, treated, units.block)
    if spread is None:
        return Interval(
            estimate, None, None, "none", "too few containers in the blocks for an interval"
        )
    half = spread.half(level)
    plain = stratified_score(*_block_counts(units, treated, blocks), level)
    low = min(estimate - half, plain.low if plain.low is not None else 1.0)
    high = max(estimate + half, plain.high if plain.high is not None else -1.0)
    return Interval(estimate, float(max(-1.0, low)), float(min(1.0, high)), "container_blocks")
