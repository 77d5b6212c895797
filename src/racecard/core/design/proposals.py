"""Up to three plans to choose from, best first, each with what a little more would buy."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from enum import StrEnum

from racecard.core.design.resources import Have, check_have
from racecard.core.design.search import (
    AIM,
    Design,
    best_by_treatments,
    best_of,
    best_within,
    enough,
    least_decidable,
    power_of,
)
from racecard.core.model import Layout

MOST_PROPOSED = 3
_WORTH_TELLING = 0.03
_MUCH_LESS = 0.8


class Standing(StrEnum):
    """Whether what there is suffices for a proposal."""

    BEST = "best"
    FITS = "fits"
    NEEDS_MORE = "needs more"
    CANNOT_TELL = "cannot tell"


class More(StrEnum):
    """What a little more would be."""

    ONE_MORE = "one more of each"
    SECOND_PLACE = "as many again in a second place"
    ONE_FEWER = "one treatment fewer"
    ENOUGH = "enough"


@dataclass(frozen=True, slots=True)
class Buys:
    """What one change would buy: the design it leads to."""

    what: More
    design: Design


@dataclass(frozen=True, slots=True)
class Proposal:
    """One plan to choose: how it stands to what there is, and what changes would buy.

    `widest`: chance to show 90 % against 10 %, the largest difference one may hope for.
    """

    design: Design
    standing: Standing
    widest: float
    buys: tuple[Buys, ...] = ()

    def more_plants(self, have: Have) -> int:
        """Plants needed beyond those there are."""
        return max(0, self.design.plants - have.plants)

    def more_containers(self, have: Have) -> int:
        """Containers needed beyond those there are."""
        given = have.plants if have.containers is None else have.containers
        return max(0, self.design.containers - given)


def propose(have: Have) -> list[Proposal]:
    """Up to three plans, best first: within what there is, then with more, then as it was described.

    Raises:
        InvalidInput: nothing can be designed from this.
    """
    check_have(have)
    within = best_by_treatments(have)
    best = best_of([d for d in within if d.decidable])
    described = next((d for d in within if d.treatments == have.treatments), None)
    if best is None:
        chosen = [*_beyond(have, None), *([described or _one_each(have)])]
    else:
        others = [d for d in _others(have, within, best, described) if d.decidable]
        chosen = [best, *others, *_beyond(have, best)]
        if len(chosen) < MOST_PROPOSED and described is not None and described not in chosen:
            chosen.append(described)
    return [_proposal(have, d, best) for d in dict.fromkeys(chosen)][:MOST_PROPOSED]


def _others(
    have: Have, within: list[Design], best: Design, described: Design | None
) -> Iterator[Design]:
    """Plans within what there is that stand beside the best: one that asks more, one that costs less."""
    if best.power < AIM:
        if described is not None and described is not best:
            yield described
        return
    kept = [d for d in within if d.power >= AIM and d.treatments > best.treatments]
    if kept:
        yield kept[-1]
    if described is not None and described is not best and described not in kept:
        yield described
    smaller = enough(have, best.treatments, best.per_container)
    if smaller is not None and smaller.plants <= _MUCH_LESS * best.plants and have.sites == 1:
        yield smaller


def _beyond(have: Have, best: Design | None) -> Iterator[Design]:
    """Plans that need more than there is: each plant on its own, then as many as are enough."""
    power = best.power if best else 0.0
    if power >= AIM:
        return
    if have.places < have.plants:
        own = best_within(replace(have, containers=None, treatments=2))
        if own is not None and own.decidable:
            if own.power > power + _WORTH_TELLING:
                yield own
        elif best is None:
            yield least_decidable(have, 2)
    elif best is None:
        yield least_decidable(have, 2)
    treatments, per_container = (best.treatments, best.per_container) if best else (2, 1)
    found = enough(have, treatments, per_container)
    if found is not None:
        yield found


def _one_each(have: Have) -> Design:
    """What cannot even be filled: one of each, so far as it goes."""
    return Design(have.treatments, 1, 1, 1, Layout.BLOCKS, 1, 0.0, 1.0, 1.0)


def _proposal(have: Have, design: Design, best: Design | None) -> Proposal:
    widest = power_of(design, 0.1, 0.9, have.alike) if design.decidable else 0.0
    bare = Proposal(design, Standing.FITS, widest)
    if not design.decidable:
        standing = Standing.CANNOT_TELL
    elif bare.more_plants(have) or bare.more_containers(have):
        standing = Standing.NEEDS_MORE
    else:
        standing = Standing.BEST if design == best else Standing.FITS
    return replace(
        bare, standing=standing, buys=tuple(_buys(have, design)) if design.decidable else ()
    )


def _buys(have: Have, design: Design) -> Iterator[Buys]:
    """What one more of each, a second place or one treatment fewer would buy, where it is worth telling."""
    if design.power >= AIM:
        return
    for what, changed in _changes(design):
        power = power_of(changed, have.control, have.treated, have.alike)
        if power >= design.power + _WORTH_TELLING:
            yield Buys(what, replace(changed, power=power))
    found = enough(have, design.treatments, design.per_container)
    if found is not None:
        yield Buys(More.ENOUGH, found)


def _changes(design: Design) -> Iterator[tuple[More, Design]]:
    k, n = design.treatments, design.units
    if design.layout is Layout.SITES:
        yield More.ONE_MORE, replace(design, units=n + 1, control_units=n + 1, blocks=n + 1)
        return
    if design.blocks == 1:
        yield More.ONE_MORE, replace(design, units=n + 1, control_units=design.control_units + 1)
        doubled = replace(design, units=2 * n, control_units=2 * n, blocks=2)
        yield More.SECOND_PLACE, doubled
    if k > 2:
        each = design.containers // (k - 1) // design.blocks * design.blocks
        yield More.ONE_FEWER, replace(design, treatments=k - 1, units=each, control_units=each)
