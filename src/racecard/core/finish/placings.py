"""Who stands where: every pair tested, ties as dead heats, and groups that cannot be told apart.

References:
    [1] Piepho (2004), J. Comput. Graph. Stat. 13, 456-466: letters by insertion and absorption.
    [2] Holm (1979), Scand. J. Stat. 6, 65-70, over all pairs.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from racecard.core.finish.grade import CLEAR_LIMIT
from racecard.core.finish.lot import Redealer, below, floor_within, holm
from racecard.core.finish.strike import comparable, unit_shares
from racecard.core.model import Plan
from racecard.core.results import Results

_TIE = 5e-10


@dataclass(frozen=True, slots=True)
class Place:
    """One treatment: its place, whether others share it, and its letters.

    Treatments that share a letter cannot be told apart.
    """

    treatment: int
    place: int
    dead_heat: bool
    rate: float
    letters: str


@dataclass(frozen=True, slots=True)
class Placings:
    """All treatments in order of strike; `first`: those that could stand first."""

    places: tuple[Place, ...]
    first: tuple[int, ...]
    pairs: int
    decidable: bool
    says: str


def placings(
    plan: Plan, results: Results, horizon: float, redealer: Redealer, *, deals: int
) -> Placings | None:
    """Places on strike by a common day.

    Args:
        plan: the plan; treatments are indexed as in `results.treatment`.
        results: what was seen.
        horizon: the day up to which strikes count.
        redealer: runs the lot tests.
        deals: re-dealings of sampled tests.

    Returns:
        None where fewer than two treatments have a unit left to judge.
    """
    shares = unit_shares(results, horizon)
    used = shares.keep(shares.counted > 0)
    arms = [int(a) for a in np.unique(used.treatment)]
    if len(arms) < 2 or horizon == 0:
        return None
    rates = {a: float(used.share[used.treatment == a].mean()) for a in arms}
    tested: dict[tuple[int, int], float] = {}
    floors = []
    for one, two in combinations(arms, 2):
        units, _ = comparable(shares.keep(np.isin(shares.treatment, (one, two))), one, two)
        treated = units.treatment == one
        if not treated.any() or treated.all():
            continue
        test = redealer.test(
            units.share, treated, units.block, deals=deals, held=units.held, line=units.line
        )
        tested[one, two] = test.p
        floors.append(floor_within(treated, units.block, units.held, units.line))
    adjusted = dict(zip(tested, holm(list(tested.values())), strict=True))
    differ = {frozenset(pair) for pair, p in adjusted.items() if below(p, CLEAR_LIMIT)}
    order = sorted(arms, key=lambda a: (-rates[a], a))
    letters = letters_of(order, differ)
    first = tuple(a for a in order if frozenset((a, order[0])) not in differ)
    decidable = bool(floors) and below(max(holm(floors)), CLEAR_LIMIT)
    return Placings(
        _places(order, rates, letters), first, len(tested), decidable,
        _says(plan, first, len(arms), decidable),
    )  # fmt: skip


def _places(
    order: Sequence[int], rates: dict[int, float], letters: dict[int, str]
) -> tuple[Place, ...]:
    out = []
    for a in order:
        ahead = sum(rates[b] > rates[a] + _TIE for b in order)
        same = sum(abs(rates[b] - rates[a]) <= _TIE for b in order)
        out.append(Place(a, ahead + 1, same > 1, rates[a], letters[a]))
    return tuple(out)


def letters_of(order: Sequence[int], differ: set[frozenset[int]]) -> dict[int, str]:
    """Letters such that two items share one if and only if they are not told apart [1].

    Args:
        order: items, the best first; letters are given in this order.
        differ: pairs that are told apart.
    """
    groups: list[set[int]] = [set(order)]
    for pair in sorted(differ, key=lambda p: sorted(order.index(i) for i in p)):
        one, two = pair
        split: list[set[int]] = []
        for g in groups:
            split += [g - {one}, g - {two}] if {one, two} <= g else [g]
        groups = [
            g for i, g in enumerate(split)
            if not any(g < h or (g == h and j < i) for j, h in enumerate(split))
        ]  # fmt: skip
    groups.sort(key=lambda g: sorted(order.index(i) for i in g))
    names = [_letter(i) for i in range(len(groups))]
    return {a: "".join(n for n, g in zip(names, groups, strict=True) if a in g) for a in order}


def _letter(i: int) -> str:
    return chr(97 + i) if i < 26 else _letter(i // 26 - 1) + chr(97 + i % 26)


def _says(plan: Plan, first: Sequence[int], arms: int, decidable: bool) -> str:
    names = [plan.treatments[a].name for a in first]
    if len(first) == 1:
        return (
            f"{names[0]} stands alone in first place; every other treatment is told apart from it."
        )
    if len(first) == arms:
        none = f"First place could be any of these {arms}: no treatment is told apart from the one that struck most."
    else:
        none = f"First place could be any of these {len(first)}: {', '.join(names[:-1])} and {names[-1]}."
    if not decidable:
        none += " With so few units not every pair could be told apart, whatever came."
    return none
