"""Who stands where: every pair tested, ties as dead heats, and groups that cannot be told apart.

References:
    [1] Piepho (2004), J. Comput. Graph. Stat. 13, 456-466: letters by insertion and absorption.
    [2] Holm (1979), Scand. J. Stat. 6, 65-70, over all pairs.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from racecard.core.assess.outcome import outcome_units
from racecard.core.assess.strike import Missing, Shares, comparable, estimated_rate, unit_shares
from racecard.core.model import Measure, Plan
from racecard.core.model.results import Results
from racecard.core.stats.multiplicity import CLEAR_LIMIT, below, holm
from racecard.core.stats.permutation import PermutationTest, minimum_p_within

_TIE = 5e-10


@dataclass(frozen=True, slots=True)
class Place:
    """One treatment: its place, whether others share it, and its letters.

    Treatments that share a letter cannot be told apart. `rate`: share struck, or mean days, score or measure.
    """

    treatment: int
    place: int
    dead_heat: bool
    rate: float
    letters: str


@dataclass(frozen=True, slots=True)
class Placings:
    """All treatments in order of what was asked; `first`: those that could stand first."""

    places: tuple[Place, ...]
    first: tuple[int, ...]
    pairs: int
    decidable: bool
    is_final: bool
    is_drawn: bool


def placings(
    plan: Plan,
    results: Results,
    horizon: float,
    permutations: PermutationTest,
    *,
    resamples: int,
    is_final: bool = True,
    is_drawn: bool = True,
    called: Mapping[int, bool] | None = None,
    reference: int | None = None,
) -> Placings | None:
    """Places on what was asked by a common age.

    A pair of which something was removed or is not known differs only if it does so however those
    are counted. Before the end, and without a lot, no place is claimed.

    Args:
        plan: the plan; treatments are indexed as in `results.treatment`.
        results: what was seen.
        horizon: the age up to which strikes count.
        permutations: runs the lot tests.
        resamples: re-dealings of sampled tests.
        is_final: False before the end is reached, or where the trial stopped early.
        is_drawn: False where the lot is known not to have been drawn.
        called: for each treatment compared with the reference, whether its verdict on strike is clear;
            a pair the verdict does not call clear does not differ here.
        reference: what the others were compared with.

    Returns:
        None where fewer than two treatments have a unit left to judge.
    """
    shares = outcome_units(plan, results, horizon)
    used = shares.keep(shares.counted > 0)
    arms = [int(a) for a in np.unique(used.treatment)]
    if len(arms) < 2 or horizon == 0:
        return None
    rates = {}
    for a in arms:
        estimated = None if shares.values is not None else estimated_rate(results, a, horizon)
        plain = float(used.share[used.treatment == a].mean())
        rates[a] = plain if estimated is None else estimated
    pairs, floors = _tested(results, shares, arms, horizon, permutations, resamples)
    differ = _differing(pairs) if is_final and is_drawn else set()
    for arm, is_clear in (called or {}).items():
        if not is_clear and reference is not None:
            differ.discard(frozenset((arm, reference)))
    sign = -1 if plan.measure is Measure.SPEED else 1
    order = sorted(arms, key=lambda a: (-sign * rates[a], a))
    letters = letters_of(order, differ)
    first = tuple(a for a in order if frozenset((a, order[0])) not in differ)
    decidable = bool(floors) and below(max(holm(floors)), CLEAR_LIMIT)
    return Placings(
        _places(order, rates, letters, sign), first, len(pairs), decidable, is_final, is_drawn
    )


_Signed = tuple[float, bool]
"""A p value, and whether the first of the pair struck more."""


def _tested(
    results: Results, shares: Shares, arms: Sequence[int], horizon: float, permutations: PermutationTest,
    resamples: int,
) -> tuple[dict[tuple[int, int], list[_Signed]], list[float]]:  # fmt: skip
    """The tests of every pair, one for each way of counting what is missing, and their floors."""
    pairs: dict[tuple[int, int], list[_Signed]] = {}
    floors = []
    for one, two in combinations(arms, 2):
        mine = shares.keep(np.isin(shares.treatment, (one, two)))
        scenes = [mine]
        if not mine.is_whole and mine.values is None:
            pair = results.only((one, two))
            scenes += [unit_shares(pair, horizon, one, m) for m in (Missing.AGAINST, Missing.FOR)]
        told = []
        for scene in scenes:
            units, _ = comparable(scene, one, two)
            treated = units.treatment == one
            if min(treated.sum(), (~treated).sum()) < 2:
                break
            test = permutations.test(
                units.share,
                treated,
                units.block,
                resamples=resamples,
                held=units.held,
                line=units.line,
            )
            told.append((test.p, test.up < test.down))
            if scene is mine:
                floors.append(minimum_p_within(treated, units.block, units.held, units.line))
        else:
            pairs[one, two] = told
    return pairs, floors


def _differing(pairs: dict[tuple[int, int], list[_Signed]]) -> set[frozenset[int]]:
    """Pairs that differ by Holm over all pairs, the same way round in every way of counting."""
    ways = max((len(told) for told in pairs.values()), default=1)
    scenes = [
        holm([told[min(w, len(told) - 1)][0] for told in pairs.values()]) for w in range(ways)
    ]
    out = set()
    for k, (pair, told) in enumerate(pairs.items()):
        one_way = len({more for _, more in told}) == 1
        if one_way and all(below(ps[k], CLEAR_LIMIT) for ps in scenes):
            out.add(frozenset(pair))
    return out


def _places(
    order: Sequence[int], rates: dict[int, float], letters: dict[int, str], sign: int
) -> tuple[Place, ...]:
    out = []
    for a in order:
        ahead = sum(sign * (rates[b] - rates[a]) > _TIE for b in order)
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
