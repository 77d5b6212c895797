"""Every plan that fits what there is, by the chance that it shows the smallest difference that matters.

Single plants are enumerated over all outcomes (plan/exact.py), containers simulated (plan/sampled.py)
where the normal approximation leaves more than one in question. The control may have more than the
others: an exact test moves in steps, so that 10 against 11 can show more than 11 against 11. In one
place the draw runs over all positions: within blocks no plan shows more by two points (a test holds it).
"""

import random
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from math import comb, sqrt

from racecard.core.design.resources import Have
from racecard.core.model import Layout
from racecard.core.plan.check import MOST_SITES
from racecard.core.plan.exact import MOST_EXACT, arms_table, blocks_table, fits, pairs_power
from racecard.core.plan.needed import units_needed
from racecard.core.plan.sampled import Bench, sampled_power, strike_profile
from racecard.core.stats import special
from racecard.core.stats.permutation import CLEAR_ENOUGH

AIM = 0.8
MOST_IN_ONE = 200
"""Plants in one container at most, as a plan allows."""
AS_GOOD = 0.001
"""Numbers of treatments this close to the best are as good, and the larger is taken."""
_AS_MANY = 0.0185
"""Numbers of units this close to the best are as good: of these equal ones are taken, then the largest."""
_TRIALS = 4000
_SEED = 20_261_128
_IN_QUESTION = 2
_FAR_BEHIND = 0.1


@dataclass(frozen=True, slots=True)
class Design:
    """One way to set a trial.

    `treatments` counts the control; `units` of each candidate and `control_units` are what is placed
    at random: containers where these hold several plants, else plants; `blocks`: places, each with all
    treatments; `power`: chance to call one candidate clear; `minimum_p_holm`: the smallest p after correction.
    """

    treatments: int
    units: int
    control_units: int
    per_container: int
    layout: Layout
    blocks: int
    power: float
    minimum_p: float
    minimum_p_holm: float

    @property
    def containers(self) -> int:
        """Containers in all."""
        return (self.treatments - 1) * self.units + self.control_units

    @property
    def plants(self) -> int:
        """Plants in all."""
        return self.containers * self.per_container

    def drawn(self, most: int) -> list[int]:
        """Treatment of each container, up to so many, in an example of the order a draw may give."""
        pairs = self.layout is Layout.SITES
        sizes = [self.control_units, *[self.units] * (self.treatments - 1)]
        deck = [i for i, n in enumerate(sizes) for _ in range(1 if pairs else n // self.blocks)]
        rng = random.Random(_SEED)
        out: list[int] = []
        for _ in range(self.units if pairs else self.blocks):
            out += rng.sample(deck, len(deck))
        return out[:most]

    @property
    def decidable(self) -> bool:
        """Whether any outcome at all could be called clear."""
        return self.minimum_p_holm < CLEAR_ENOUGH


def best_by_treatments(have: Have) -> list[Design]:
    """The best plan within what there is, for each number of treatments from two to those wanted.

    Numbers that what there is cannot fill are left out, and those far behind the best that would have
    to be simulated, but for the number wanted. Plans that can decide nothing have power 0.
    """
    numbers = range(2, have.treatments + 1)
    shared = {
        k: sorted(_shared(have, k), key=_by_guess(have), reverse=True)[:_IN_QUESTION]
        for k in numbers
    }
    guesses = {k: max((_guess(have, d) for d in shared[k]), default=0.0) for k in numbers}
    near = max(guesses.values()) - _FAR_BEHIND
    found = []
    for k in numbers:
        every = list(_powered(have, _single(have, k)))
        if k in (2, have.treatments) or guesses[k] >= near:
            every += _powered(have, shared[k])
        if every:
            found.append(_best(every))
    return found


def best_within(have: Have) -> Design | None:
    """The best plan there is: no other within it shows the difference more often by two points.

    Of plans as good as each other the one with more treatments.
    """
    return best_of(best_by_treatments(have))


def best_of(found: Sequence[Design]) -> Design | None:
    """The best of plans with different numbers of treatments."""
    if not found:
        return None
    top = max(design.power for design in found)
    return [design for design in found if design.power >= top - AS_GOOD][-1]


def _best(found: Sequence[Design]) -> Design:
    """Of plans with so many treatments that with the highest power; the smallest p where none has any."""
    top = max(design.power for design in found)
    if top == 0:
        return min(found, key=lambda d: (d.minimum_p_holm, -d.plants))
    as_good = (d for d in found if d.power >= top - _AS_MANY)
    return max(as_good, key=lambda d: (d.units == d.control_units, d.plants, d.power))


def _single(have: Have, k: int) -> Iterator[Design]:
    """Plans of one plant to a container: the largest, and those below it in the teeth of the saw line."""
    if have.sites > 1:
        yield from _over_sites(have, k, have.places, 1)
        return
    most = have.places // k
    saw = 16 if most <= 60 else 4 if most <= 150 else 0
    for n in range(max(1, most - saw), most + 1):
        rest = have.places - (k - 1) * n
        wider = 0 if k > 2 or most > 60 else 8 if most <= 20 else 3
        for control in {*range(n, min(rest, n + wider) + 1), rest if n == most else n}:
            yield _design(k, n, control, 1, Layout.BLOCKS, 1)


def _shared(have: Have, k: int) -> Iterator[Design]:
    """Plans of several plants to a container: never better where each plant can have its own."""
    if have.places == have.plants:
        return
    for m in range(2, min(MOST_IN_ONE, have.plants // k) + 1):
        units = min(have.places, have.plants // m)
        if have.sites > 1:
            yield from _over_sites(have, k, units, m)
        elif units >= k:
            yield _design(k, units // k, units // k, m, Layout.BLOCKS, 1)


def _over_sites(have: Have, k: int, units: int, m: int) -> Iterator[Design]:
    """The plan in which each place holds the same number of each treatment, and no more than its part."""
    each = -(-units // have.sites) // k
    if each < 1:
        return
    sites = min(have.sites, units // (each * k))
    is_pairs = k == 2 and each == 1 and m == 1
    layout = Layout.SITES if is_pairs else Layout.BLOCKS
    yield _design(k, sites * each, sites * each, m, layout, sites)


def _design(k: int, n: int, control: int, m: int, layout: Layout, blocks: int) -> Design:
    if layout is Layout.SITES:
        least = min(1.0, 2.0 * 0.5**n)
    else:
        least = min(1.0, 2 / comb((n + control) // blocks, n // blocks) ** blocks)
        if n == control == 1 and blocks == 1:
            least = 1.0
    return Design(k, n, control, m, layout, blocks, 0.0, least, min(1.0, (k - 1) * least))


def _powered(have: Have, designs: Iterable[Design]) -> list[Design]:
    return [
        replace(d, power=power_of(d, have.control, have.treated, have.alike)) if d.decidable else d
        for d in designs
    ]


@lru_cache(maxsize=2048)
def power_of(d: Design, control: float, treated: float, alike: float) -> float:
    """Chance that one candidate at a true share is called clear, the others being like the control.

    Args:
        d: treatments, units, containers and blocks.
        control: true share of the control, in [0, 1].
        treated: true share of the candidate, in [0, 1].
        alike: likeness of plants in one container, 0 to 1.
    """
    family = d.treatments - 1
    if d.layout is Layout.SITES:
        return pairs_power(d.units, control, treated, 0.0, family)
    sizes, others = _sizes(d.units, d.blocks), _sizes(d.control_units, d.blocks)
    if d.per_container == 1:
        if d.blocks == 1 and max(d.units, d.control_units) <= MOST_EXACT:
            return arms_table(d.units, d.control_units, family).power(control, treated)
        if d.blocks > 1 and fits(sizes):
            return blocks_table(sizes, family).power(control, treated)
    bench = Bench(sizes, others, d.per_container, alike if d.per_container > 1 else 0.0)
    trials = max(500, min(_TRIALS, 200_000 // (d.units + d.control_units)))
    return sampled_power(
        bench, strike_profile(control), strike_profile(treated), family=family, trials=trials
    )


def _sizes(units: int, blocks: int) -> tuple[int, ...]:
    return (units // blocks,) * blocks


def _by_guess(have: Have) -> Callable[[Design], tuple[bool, float, float, int]]:
    return lambda d: (d.decidable, _guess(have, d), -d.minimum_p_holm, d.plants)


def _guess(have: Have, d: Design) -> float:
    """Power by the normal approximation, a container at what its plants are worth."""
    if not d.decidable:
        return 0.0
    worth = d.per_container / (1 + (d.per_container - 1) * have.alike)
    p0, p1 = have.control, have.treated
    spread = sqrt(max(1e-9, p0 * (1 - p0) / d.control_units + p1 * (1 - p1) / d.units) / worth)
    return float(
        special.ndtr(
            (p1 - p0) / spread - special.ndtri(1 - CLEAR_ENOUGH / (2 * (d.treatments - 1)))
        )
    )


@lru_cache(maxsize=256)
def enough(have: Have, treatments: int, per_container: int = 1) -> Design | None:
    """The smallest plan of so many treatments that shows the difference four times in five.

    One plant to a container, or so many; as pairs where each place holds one.

    Args:
        have: what there is: material, places, hands.
        treatments: how many treatments.
        per_container: plants in a container.
    """
    is_pairs = have.sites > 1 and treatments == 2 and have.places // have.sites <= 3

    def at(n: int) -> Design:
        layout, blocks = (Layout.SITES, n) if is_pairs else (Layout.BLOCKS, 1)
        return _powered(have, [_design(treatments, n, n, per_container, layout, blocks)])[0]

    most = MOST_SITES if is_pairs else 1000 if per_container == 1 else 150
    numbers = range(2, most)
    guess = next(
        (n for n in numbers if _guess(have, at_bare(treatments, n, per_container)) >= AIM), most
    )
    found = units_needed(lambda n: at(n).power, guess, aim=AIM, most=most)
    return None if found is None else at(found)


def least_decidable(have: Have, treatments: int) -> Design:
    """The smallest plan of single plants of which any outcome at all could be called clear.

    Args:
        have: what there is: material, places, hands.
        treatments: how many treatments.
    """
    bare = (at_bare(treatments, n, 1) for n in range(2, 100))
    return _powered(have, [next(d for d in bare if d.decidable)])[0]


def at_bare(treatments: int, units: int, per_container: int) -> Design:
    """A plan of equal numbers in one place, its power not worked out.

    Args:
        treatments: how many, the control among them.
        units: units of each treatment.
        per_container: plants in each unit.
    """
    return _design(treatments, units, units, per_container, Layout.BLOCKS, 1)
