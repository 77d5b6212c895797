"""Harm: loss and injury of each treatment against the control, apart from any lack of gain."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from racecard.core.arrays import Bools, Floats
from racecard.core.assess.strike import Shares, unit_shares
from racecard.core.model.results import Results
from racecard.core.stats.multiplicity import CLEAR_LIMIT, LIKELY_LIMIT, below, holm
from racecard.core.stats.permutation import PermutationTest


@dataclass(frozen=True, slots=True)
class Harm:
    """Loss and injury of a treatment against the control.

    `n`, `n_control`: at risk, stuck less those removed before they struck or were lost; `units`,
    `units_control`: units of each. `p`: central lot test of the share lost, None where it cannot be run;
    `more`: the treated lost more; `p_signs`, `more_signs`: the same of the share injured. `injured`,
    `injured_control`: units with clear signs of harm, None where nobody looked for them.
    """

    lost: int = 0
    lost_control: int = 0
    n: int = 0
    n_control: int = 0
    p: float | None = None
    more: bool = False
    injured: int | None = None
    injured_control: int | None = None
    p_signs: float | None = None
    more_signs: bool = False
    units: int = 0
    units_control: int = 0
    by_loss: bool = False
    by_injury: bool = False

    @property
    def harm(self) -> bool:
        """More than chance explains over all candidates."""
        return self.by_loss or self.by_injury

    @property
    def possible(self) -> bool:
        """Not that, but alone, or two or more lost against none."""
        if self.harm or self.is_one_unit:
            return False
        alone = [
            p
            for p, more in ((self.p, self.more), (self.p_signs, self.more_signs))
            if more and p is not None
        ]
        return any(below(p, LIKELY_LIMIT) for p in alone) or (
            self.lost >= 2 and self.lost_control == 0
        )

    @property
    def control_hurt_more(self) -> bool:
        """Whether the control showed more injury than chance easily explains."""
        return (
            self.p_signs is not None and not self.more_signs and below(self.p_signs, LIKELY_LIMIT)
        )

    @property
    def is_one_unit(self) -> bool:
        """Whether an arm has one unit only, so that counts alone can be told."""
        return min(self.units, self.units_control) < 2

    @property
    def loss_alike(self) -> bool:
        """Whether loss does not depend on the arm as far as the test can see."""
        return self.p is None or not below(self.p, CLEAR_LIMIT)


def harms_of(
    results: Results,
    reference: int,
    ages: Mapping[int, float],
    family: Sequence[int],
    permutations: PermutationTest,
) -> dict[int, Harm]:
    """Harm of each treatment: more in the treated, and p of loss or of injury < 0.05 after Holm over the candidates.

    Args:
        results: what was seen, by container.
        reference: index of the control arm.
        ages: age each treatment is judged at beside the control, days; those at age 0 are left out.
        family: the candidates and the standard; any other treatment is taken alone.
        permutations: runs the lot tests; shared, so that deals are drawn once for a design.
    """
    found = {
        i: harm_of(results, i, reference, age, permutations) for i, age in ages.items() if age > 0
    }
    asked = {i: h for i, h in found.items() if i in family}
    loss = _corrected({i: h.p for i, h in asked.items()})
    signs = _corrected({i: h.p_signs for i, h in asked.items()})
    return {
        i: replace(
            h, by_loss=h.more and below(loss.get(i, 1.0 if h.p is None else h.p), CLEAR_LIMIT),
            by_injury=h.more_signs and below(signs.get(i, 1.0 if h.p_signs is None else h.p_signs), CLEAR_LIMIT),
        )
        for i, h in found.items()
    }  # fmt: skip


def _corrected(ps: Mapping[int, float | None]) -> dict[int, float]:
    known = {i: p for i, p in ps.items() if p is not None}
    return dict(zip(known, holm(list(known.values())), strict=True))


def harm_of(
    results: Results, one: int, zero: int, horizon: float, permutations: PermutationTest
) -> Harm:
    """Central lot tests of the share lost and of the share injured, over what was at risk.

    A unit with nothing left at risk is out of the test of loss, never "not lost".

    Args:
        results: what was seen, by container.
        one: index of the treated arm.
        zero: index of the control arm.
        horizon: age the arms are judged at, days after day 0.
        permutations: runs the lot tests; shared, so that deals are drawn once for a design.
    """
    pair = results.only((one, zero))
    shares = unit_shares(pair, horizon)
    treated, stuck = shares.treatment == one, shares.sizes - shares.removed
    if shares.at_start is not None:
        stuck = stuck - shares.at_start
    signs = pair.injured
    (lost, lost0), (n, n0) = (
        [int(x[m].sum()) for m in (treated, ~treated)] for x in (shares.lost, stuck)
    )
    hurt = [None if signs is None else int(signs[m].sum()) for m in (treated, ~treated)]
    units = int(treated.sum()), int((~treated).sum())
    told = Harm(
        lost,
        lost0,
        n,
        n0,
        injured=hurt[0],
        injured_control=hurt[1],
        units=units[0],
        units_control=units[1],
    )
    if told.is_one_unit:
        return told
    at_risk = shares.keep(stuck > 0)
    p, more = _more_of(
        at_risk.lost / stuck[stuck > 0], at_risk.treatment == one, at_risk, permutations
    )
    told = replace(told, p=p, more=more)
    if signs is None:
        return told
    p, more = _more_of(signs.astype(float), treated, shares, permutations)
    return replace(told, p_signs=p, more_signs=more)


def _more_of(
    share: Floats, treated: Bools, shares: Shares, permutations: PermutationTest
) -> tuple[float, bool]:
    """P of a share against the arms, and whether the treated have more of it."""
    if float(np.ptp(share)) == 0 if len(share) else True:
        return 1.0, False
    if treated.all() or not treated.any():
        return 1.0, False
    p = permutations.test(share, treated, shares.block, held=shares.held, line=shares.line).p
    return p, float(share[treated].mean()) > float(share[~treated].mean())
