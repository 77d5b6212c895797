"""Harm: loss and injury of a treatment against the control, apart from any lack of gain."""

from dataclasses import dataclass

import numpy as np

from racecard.core.arrays import Bools, Floats
from racecard.core.assess.horizon import horizon_of
from racecard.core.assess.strike import Shares, unit_shares
from racecard.core.model.results import Results
from racecard.core.stats.multiplicity import CLEAR_LIMIT, LIKELY_LIMIT, below
from racecard.core.stats.permutation import PermutationTest


@dataclass(frozen=True, slots=True)
class Harm:
    """Loss and injury of a treatment against the control, apart from any lack of gain.

    `n`, `n_control`: stuck of each, less the removed; `units`, `units_control`: units of each. `p`: central lot test of the share lost, None where it cannot be run; `injured`, `injured_control`:
    units with clear signs of harm, None where nobody looked for them.
    """

    lost: int
    lost_control: int
    n: int
    n_control: int
    harm: bool
    possible: bool
    p: float | None
    injured: int | None = None
    injured_control: int | None = None
    by_injury: bool = False
    units: int = 0
    units_control: int = 0
    control_hurt_more: bool = False

    @property
    def is_one_unit(self) -> bool:
        """Whether an arm has one unit only, so that counts alone can be told."""
        return min(self.units, self.units_control) < 2

    @property
    def loss_alike(self) -> bool:
        """Whether loss does not depend on the arm as far as the test can see."""
        return self.p is None or not below(self.p, CLEAR_LIMIT)


def harm_of(
    results: Results, one: int, zero: int, horizon: float, permutations: PermutationTest
) -> Harm:
    """Central lot tests of the share lost and of the share injured.

    p < 0.05 without Holm and more in the treated is harm; below 0.10, or two or more lost against
    none, is possible harm.

    Args:
        results: what was seen, by container.
        one: index of the treated arm.
        zero: index of the control arm.
        horizon: age the arms are judged at, days after day 0.
        permutations: runs the lot tests; shared, so that deals are drawn once for a design.
    """
    pair = results.only((one, zero))
    shares = unit_shares(pair, horizon)
    treated = shares.treatment == one
    lost, lost0 = int(shares.lost[treated].sum()), int(shares.lost[~treated].sum())
    signs = pair.injured
    hurt = None if signs is None else int(signs[treated].sum())
    hurt0 = None if signs is None else int(signs[~treated].sum())
    stuck = shares.sizes - shares.removed
    n, n0 = int(stuck[treated].sum()), int(stuck[~treated].sum())
    units, units0 = int(treated.sum()), int((~treated).sum())
    if min(units, units0) < 2:
        return Harm(
            lost, lost0, n, n0, False, False, None, hurt, hurt0, units=units, units_control=units0
        )
    p, more = _more_of(shares.lost / np.maximum(stuck, 1), treated, shares, permutations)
    clear, maybe = more and below(p, CLEAR_LIMIT), more and below(p, LIKELY_LIMIT)
    maybe |= lost >= 2 and lost0 == 0
    hurt_more_in_control = False
    by_injury = False
    if signs is not None:
        p_signs, more_signs = _more_of(signs.astype(float), treated, shares, permutations)
        by_injury = more_signs and below(p_signs, CLEAR_LIMIT)
        maybe |= more_signs and below(p_signs, LIKELY_LIMIT)
        hurt_more_in_control = not more_signs and below(p_signs, LIKELY_LIMIT)
    harm = clear or by_injury
    return Harm(
        lost, lost0, n, n0, harm, maybe and not harm, p, hurt, hurt0, by_injury and not clear,
        units, units0, hurt_more_in_control,
    )  # fmt: skip


def harms_of(
    results: Results, reference: int | None, end: float | None, permutations: PermutationTest
) -> tuple[tuple[int, Harm], ...]:
    """Harm of every treatment that was looked at beside the reference, at the age both can be judged at.

    Args:
        results: what was seen, by container.
        reference: index of the control arm; None gives nothing.
        end: last day of the plan; None takes the results as finished.
        permutations: runs the lot tests; shared, so that deals are drawn once for a design.
    """
    out = []
    for i in (int(a) for a in np.unique(results.treatment) if a != reference):
        if reference is not None and (age := horizon_of(results.only((i, reference)), end).age):
            out.append((i, harm_of(results, i, reference, age, permutations)))
    return tuple(out)


def _more_of(
    share: Floats, treated: Bools, shares: Shares, permutations: PermutationTest
) -> tuple[float, bool]:
    """P of a share against the arms, and whether the treated have more of it."""
    if float(np.ptp(share)) == 0:
        return 1.0, False
    p = permutations.test(share, treated, shares.block, held=shares.held, line=shares.line).p
    return p, float(share[treated].mean()) > float(share[~treated].mean())
