"""Objections from the results: what was looked at, removed and lost, and whether the numbers could tell."""

from collections.abc import Iterator

import numpy as np

from racecard.core.arrays import Bools
from racecard.core.assess.grade import Why
from racecard.core.assess.harm import Harm
from racecard.core.assess.horizon import horizon_of, looked_at
from racecard.core.assess.strike import Shares, comparable, unit_shares
from racecard.core.log.goal import done, had_done
from racecard.core.model.results import look_table, resolved_days
from racecard.core.notes.of_plan import SHARED, one_unit, too_few
from racecard.core.notes.registry import Evidence, Needs, Said, Seen, rule, words_list
from racecard.core.stats.multiplicity import CLEAR_LIMIT, below, holm
from racecard.core.stats.permutation import minimum_p_within

_NUMBERS = "numbers and the least chance"
_LOOKS = "when it was looked at"
_GONE = "plants removed, not known, or going backwards"
_HARM = "losses and injuries"


def _seen(e: Evidence) -> Seen:
    assert e.seen is not None
    return e.seen


@rule("unequal_numbers", "Unequal numbers", Needs.SEEN, _NUMBERS)
def unequal_numbers(e: Evidence) -> Iterator[Said]:
    """Fires where the plan asks for unequal numbers and nobody said why."""
    low, high = min(e.plan.units_of), max(e.plan.units_of)
    if low != high and not e.plan.unequal_reason.strip() and e.plan.question != "":
        yield (
            f"Treatments have {low} to {high} units, and no reason is given. That shows less for the "
            "same work.",
            "Use equal numbers, or give the reason.",
        )


@rule("one_unit_per_arm", "One unit per treatment", Needs.SEEN, _NUMBERS)
def one_unit_left(e: Evidence) -> Iterator[Said]:
    """Fires where a comparison came down to one unit of a treatment."""
    if any(fewest == 1 for fewest, _, _ in _compared(e)):
        results = _seen(e).results
        thing = "container" if results.has_shared_containers else "plant"
        yield one_unit(thing, _sizes(e), max(1, len(e.plan.family)))


@rule("floor_too_high", "Too few to tell", Needs.SEEN, _NUMBERS)
def too_few_left(e: Evidence) -> Iterator[Said]:
    """Fires where the smallest p the units left can give, after Holm, is 0.05 or more."""
    found = _compared(e)
    if not found or any(fewest == 1 for fewest, _, _ in found):
        return
    least = [minimum_p_within(t, units.block, units.held, units.line) for _, units, t in found]
    minimum_p = max(holm(least))
    if not below(minimum_p, CLEAR_LIMIT):
        yield too_few(_sizes(e), minimum_p, e.plan.drawn_blocks, len(found))


def _sizes(e: Evidence) -> list[int]:
    """Units of every treatment that was set."""
    counts = np.bincount(_seen(e).results.treatment, minlength=len(e.plan.treatments))
    return [int(n) for n in counts if n]


def _compared(e: Evidence) -> list[tuple[int, Shares, Bools]]:
    """Of each comparison with units on both sides: how many on the smaller, the units, and the treated."""
    seen, reference = _seen(e), e.plan.reference
    out: list[tuple[int, Shares, Bools]] = []
    if reference is None:
        return out
    for i in e.plan.family:
        pair = seen.results.only((i, reference))
        age = horizon_of(pair, seen.end).age
        if age == 0:
            continue
        units, _ = comparable(unit_shares(pair, age), i, reference)
        treated = units.treatment == i
        fewest = int(min(treated.sum(), (~treated).sum()))
        if fewest:
            out.append((fewest, units, treated))
    return out


@rule("looked_for_some", "Looked for in some only", Needs.SEEN, _LOOKS)
def looked_for_some(e: Evidence) -> Iterator[Said]:
    """Fires where the endpoint was looked for in some treatments and in none of another."""
    results = _seen(e).results
    seen = {int(a) for a in results.treatment[results.unit[looked_at(results)]]}
    unseen = [t.name for i, t in enumerate(e.plan.treatments) if i not in seen]
    if seen and unseen:
        names = words_list([e.plan.treatments[i].name for i in sorted(seen)])
        yield (
            f"What the trial asks for was looked for in {names} but not in {words_list(unseen)}. "
            "It is shown, but not compared.",
            "Look for the same thing in every treatment.",
        )


@rule("unequal_looks", "Not all looked at", Needs.SEEN, _LOOKS)
def unequal_looks(e: Evidence) -> Iterator[Said]:
    """Fires where on some day an arm with something left to see was not looked at, another was."""
    results = _seen(e).results
    days, seen = look_table(results)
    still_open = resolved_days(results)[:, None] >= days
    for k, day in enumerate(days):
        if day == days[-1] and not _seen(e).judgement.is_final:
            return  # a round that is not finished yet
        waiting = [int(a) for a in np.unique(results.treatment[still_open[:, k]])]
        unseen = [
            e.plan.treatments[a].name
            for a in waiting
            if not seen[(results.treatment == a) & still_open[:, k], k].any()
        ]
        if unseen:
            yield (
                f"On day {day:g} {words_list(unseen)} {'was' if len(unseen) == 1 else 'were'} not looked at while others were.",
                "Look at every treatment in the same round.",
            )
            return


@rule("unscored_units", "Missed in the last round", Needs.SEEN, _LOOKS)
def missed_in_the_last_round(e: Evidence) -> Iterator[Said]:
    """Fires where units with something left to see were not looked at on the last look day or later."""
    results, end = _seen(e).results, _seen(e).end
    days = {d for looks in results.looks for d in looks}
    if not days or len(e.cells) != len(results.looks):
        return
    last = max(days)
    if end is not None and last > end:  # a look after the end is asked of nobody
        last = max((d for d in days if d <= end), default=last)
    short = [
        cell.code
        for cell, looks, done in zip(e.cells, results.looks, resolved_days(results), strict=True)
        if max(looks, default=0) < last and done >= last
    ]
    if not short:
        return
    named = (
        words_list(short)
        if len(short) <= 6
        else f"{', '.join(short[:6])} and {len(short) - 6} more"
    )
    until = horizon_of(results, end).age
    effect = f"The result is given for day {until:.0f}." if until else "There is no result yet."
    yield (
        f"{named} {'was' if len(short) == 1 else 'were'} not looked at on day {last}. {effect}",
        f"Open the round of day {last} and enter them, or say what became of them.",
    )


@rule("removed_plants", "Plants removed", Needs.SEEN, _GONE)
def removed_plants(e: Evidence) -> Iterator[Said]:
    """Fires where plants were removed before they struck or were lost."""
    results = _seen(e).results
    counts = []
    for i, t in enumerate(e.plan.treatments):
        mine = results.only([i])
        if not len(mine.unit):
            continue
        n = int(unit_shares(mine, horizon_of(mine, _seen(e).end).age).removed.sum())
        if n:
            counts.append(f"{n} of {t.name}")
    if not counts:
        return
    in_parts = results.has_shared_containers or len(np.unique(results.block)) > 1
    rest = (
        " The rate of each treatment is estimated from the curve; the difference and the test count the "
        "plants that are left."
        if in_parts
        else " Rates are estimated from the curve, and the verdict is made three times."
    )
    yield (
        f"Removed before they {done(e.plan)} or were lost: {words_list(counts)}.{rest}",
        "Draw the plants to be removed at random before you look at them.",
    )


@rule("days_do_not_add_up", "At the goal already", Needs.SEEN, _GONE)
def at_the_goal_on_day_0(e: Evidence) -> Iterator[Said]:
    """Fires where something was at the endpoint on the day it was set."""
    at_start = _seen(e).results.at_start
    if at_start is not None and at_start.any():
        yield (
            f"{_plants(int(at_start.sum()))} already at the goal on day 0. That says nothing of the "
            "treatment, so the count is without them.",
            "Correct that look, or the day it was set, if it was a slip.",
        )


@rule("more_loss", "More losses", Needs.SEEN, _HARM)
def more_loss(e: Evidence) -> Iterator[Said]:
    """Fires where one side lost more than chance explains: the central test of the share lost, p < 0.05."""
    results = _seen(e).results
    is_all = bool(np.all(np.isfinite(results.by) | np.isfinite(results.lost_by)))
    mirror = " Here that is the same difference seen from the other side." if is_all else ""
    fewer: list[tuple[str, Harm]] = []
    for name, control, harm in _harms(e):
        if harm.is_one_unit or harm.by_injury:
            continue
        if harm.harm:
            less = f"{control} {harm.lost_control} of {harm.n_control}"
            yield _loss(e, name, f"{harm.lost} of {harm.n}", less, mirror)
        elif not harm.loss_alike:
            fewer.append((name, harm))
    if fewer:
        others = words_list([f"{name} {harm.lost} of {harm.n}" for name, harm in fewer])
        first = fewer[0][1]
        yield _loss(e, _control(e), f"{first.lost_control} of {first.n_control}", others, mirror)


@rule("more_injured", "More injury", Needs.SEEN, _HARM)
def more_injured(e: Evidence) -> Iterator[Said]:
    """Fires where one side showed clear signs of harm more often than chance explains."""
    for name, control, harm in _harms(e):
        one, zero = _injured(harm)
        if harm.by_injury and not harm.is_one_unit:
            yield (
                f"{name} had {one} with clear signs of harm, {control} {zero}: more than chance explains.",
                "Check the signs that were logged; next time use a weaker dose or a shorter time.",
                f"More injury in {name}",
            )
        if harm.control_hurt_more:
            yield (
                f"{control} had {zero} with clear signs of harm, {name} {one}: trouble in the control, more "
                "than chance easily explains.",
                "Find what hurt the control before you read a lead over it.",
                f"More injury in {control}",
            )


@rule("possible_harm", "Possible harm", Needs.SEEN, _HARM)
def possible_harm(e: Evidence) -> Iterator[Said]:
    """Fires where loss or injury has p below 0.10, or two or more were lost against none."""
    for name, control, harm in _harms(e):
        called = harm.is_one_unit or harm.by_injury or harm.harm or not harm.loss_alike
        if harm.possible and not called:
            yield (
                f"{name} lost {harm.lost} of {harm.n}{_hurt(harm.injured)}, {control} {harm.lost_control} of "
                f"{harm.n_control}{_hurt(harm.injured_control)}. This may be chance.",
                "Watch for the same losses in the next run.",
                f"Possible harm in {name}",
            )


@rule("harm_counts", "Harm, too few to tell", Needs.SEEN, _HARM)
def harm_counts(e: Evidence) -> Iterator[Said]:
    """Counts alone, where one unit an arm lets nobody tell why."""
    for name, control, harm in _harms(e):
        sides = [(harm.lost / max(1, harm.n), harm.lost_control / max(1, harm.n_control))]
        sides.append(
            ((harm.injured or 0) / harm.units, (harm.injured_control or 0) / harm.units_control)
        )
        if not harm.is_one_unit or all(one == zero for one, zero in sides):
            continue
        is_more = any(one > zero for one, zero in sides)
        told = []
        if harm.injured or harm.injured_control:
            one, zero = _injured(harm)
            told.append(f"clear signs of harm: {name} {one}, {control} {zero}")
        if harm.lost or harm.lost_control:
            told.append(
                f"lost: {name} {harm.lost} of {harm.n}, {control} {harm.lost_control} of {harm.n_control}"
            )
        if told:
            said = "; ".join(told)
            yield (
                f"{said[:1].upper()}{said[1:]}. With {'one of each' if harm.units == harm.units_control else 'a single one of one'} nobody can tell why.",
                "Watch for the same signs with more of each.",
                "Harm, too few to tell" if is_more else f"Trouble in {control}",
            )


@rule("goes_backwards", "At the goal, then not", Needs.SEEN, _GONE)
def goes_backwards(e: Evidence) -> Iterator[Said]:
    """Fires where a unit was logged at the endpoint and later below it."""
    n, had = int(_seen(e).results.went_back.sum()), had_done(e.plan)
    if n:
        yield (
            f"{_plants(n)} logged as having {had} and later as not; the first sighting is counted.",
            "Look again at that plant, and correct the look that is wrong.",
            f"{had[:1].upper()}{had[1:]}, then not",
        )


@rule("shared_containers", "Container mates counted singly", Needs.SEEN, _NUMBERS)
def shared_containers(e: Evidence) -> Iterator[Said]:
    """Fires where plants that shared a container are counted one by one."""
    if e.plan.count_singly and _seen(e).results.has_shared_containers:
        yield SHARED


@rule("blocks_of_one_treatment", "Blocks of one treatment", Needs.SEEN, "blocks that disagree")
def blocks_of_one_treatment(e: Evidence) -> Iterator[Said]:
    """Fires where each block holds one treatment, so that nothing is left to reassign."""
    if any(c.why is Why.BLOCKS for c in _seen(e).judgement.comparisons):
        yield (
            "Each block holds one treatment only, so what the block did and what the treatment did cannot "
            "be separated.",
            "Put some of every treatment, the control too, into each block.",
        )


@rule("stopped_early", "Stopped early", Needs.KEPT, _LOOKS)
def stopped_early(e: Evidence) -> Iterator[Said]:
    """Fires where the end has passed and more than one in five of a treatment was not looked at then."""
    if e.seen is None:
        return
    days = [c.horizon for c in e.seen.judgement.comparisons if c.stopped_early]
    if days:
        yield (
            f"The result is as of day {min(days):.0f} of {e.plan.length_days}; too few were looked at "
            "after that. Stopping when a result looks good makes chance differences look real.",
            "Read it as the result by then; nothing is called clear. If you still can, look today.",
        )


def _plants(n: int) -> str:
    return "One plant was" if n == 1 else f"{n} plants were"


def _control(e: Evidence) -> str:
    return e.plan.treatments[e.plan.reference].name if e.plan.reference is not None else ""


def _harms(e: Evidence) -> Iterator[tuple[str, str, Harm]]:
    """Name, the control's name, and harm of every treatment that was looked at beside the control."""
    for c in _seen(e).judgement.comparisons:
        if c.horizon > 0:
            yield e.plan.treatments[c.index].name, _control(e), c.hurt


def _loss(e: Evidence, more: str, lost: str, less: str, mirror: str) -> Said:
    return (
        f"{more} lost {lost}, {less}: more than chance explains. Losses already count as not having {had_done(e.plan)}.{mirror}",
        "Find the cause of the losses before you repeat this.",
        f"More losses in {more}",
    )


def _hurt(injured: int | None) -> str:
    return f" and had {injured} injured" if injured else ""


def _injured(harm: Harm) -> tuple[str, str]:
    return f"{harm.injured} of {harm.units}", f"{harm.injured_control} of {harm.units_control}"
