"""The cards by kind: what each begins with, how sure that is, the biggest doubt and the next step."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from racecard.core.assess.findings import About, Finding, is_even, of
from racecard.core.assess.grade import GRADE_WORDS, Grade, Why
from racecard.core.assess.judgement import Comparison
from racecard.core.assess.to_settle import MOST_UNITS, Settled
from racecard.core.log.days import planned_looks
from racecard.core.log.goal import had_done
from racecard.core.model import Kind, Measure
from racecard.core.notes.registry import words_list
from racecard.core.text.amounts import (
    capital,
    fine,
    gap_of,
    joined,
    matters,
    more_of,
    on_asked,
    spelt,
)
from racecard.core.text.doubts import DEFAULT_DOUBT, biggest_doubt
from racecard.core.text.happened import called_says, others_say
from racecard.core.text.how_sure import (
    chance_of,
    fewest,
    fits_90,
    fits_of,
    next_time,
    of_each,
    plants_alone,
    with_units,
)
from racecard.core.text.told import Told, against, looks_that_tell, measured, rival_of

_EARLY = "Early leads often shrink, so nothing is called clear before the last day."
_TOO_EARLY = "That is early: nothing is judged before the last day."
_DEPENDS = "The verdict depends on what they would have become, so the weaker one is used."
_UNSEEN = "A plant that was not looked at is not a plant that failed, so it is left out, not counted as a loss."


@dataclass(slots=True)
class Card:
    """A card on its way: its first sentence, `more` with how many results each sentence holds, and the rest.

    `spared`: which of the sentences on how sure goes first where room is short.
    """

    kind: str
    first: str
    sure: Sequence[str] = ()
    doubt: str = ""
    next: str = ""
    more: list[tuple[str, int]] = field(default_factory=list)
    chip: str = ""
    units: int | None = None
    alone: bool = False
    spared: int = -1


def card_of(t: Told) -> Card | None:
    """The card a result gets, before it is cut to its room; None where nothing was asked."""
    if t.plan.reference is None:
        card = _no_control(t)
    elif not t.asked:
        if len(t.plan.treatments) > 1:
            return None
        first = (
            f"One treatment only: {t.counts_of([t.zero])}, so there is nothing to compare it with."
        )
        card = Card(
            "one_only",
            first,
            next="repeat it beside another, both placed at random",
            chip="nothing to compare",
        )
    else:
        card = next(say for holds, say in _KINDS if holds(t))(t)
    begun = next(iter([*t.called, *t.asked]), None)
    card.chip = card.chip or GRADE_WORDS[begun.grade if begun else None]
    return card


def _no_control(t: Told) -> Card:
    arms = [a.index for a in t.judgement.arms]
    told = words_list([f"{t.count(i)} {t.did} with {t.name(i)}" for i in arms[:3]])
    more = [("", len(arms) - 3)] if len(arms) > 3 else []
    if "control_not_named" in t.codes:
        return Card(
            "no_control", f"No verdict: no control is named. {told}.", (),
            "nobody has said which of them the others are to be compared with",
            "name the control, if one of these is it; if not, repeat with one", more, "no control",
        )  # fmt: skip
    plants = "seeds" if t.plan.kind is Kind.SEED else "cuttings"
    return Card(
        "no_control", f"No verdict: nothing was left untreated. {told}.", (),
        "just as many might have done so without any of them",
        f"repeat with as many untreated {plants}, from the same plants on the same day", more, "no control",
    )  # fmt: skip


def _unseen(t: Told) -> Card:
    if any(f.comparison.why is Why.NOT_LOOKED_FOR for f in t.asked):
        first = "No result: the goal was looked for in some treatments only."
        return Card(
            "not_seen",
            first,
            next="look for the same thing in every treatment",
            chip="not compared",
        )
    names = joined([t.name(f.index) for f in t.asked if f.grade is None][:2] or ["them"])
    whom = "all of them" if t.judgement.day == 0 else f"{names} or {t.control}"
    step = "look at every plant of every treatment on the same day"
    return Card(
        "not_seen", f"No result yet: nobody has looked at {whom} since day 0.", [_UNSEEN], "", step
    )


_REASONS = {
    Why.ENTANGLED: ("confounded", ", but several things differed at once", "any of them could be the reason, and more plants would not help",
                    "repeat with only one thing different: same batch, same place, mixed at random"),
    Why.SHARED: ("shared", "; plants shared containers and were counted singly", "the containers could be the reason",
                 "count each container as one, or give each plant its own"),
    Why.THINNED: ("design", "", "only the strongest were kept", "repeat, and keep all plants to the last day"),
    Why.BLOCKS: ("design", "", "each block held only one treatment", "repeat with every treatment in every block"),
}  # fmt: skip


def _cannot(t: Told) -> Card:
    told, sizes, thing, c = t.all_counts, t.sizes, t.thing, t.asked[0].comparison
    more = [("", len(t.asked) - 3)] if len(t.asked) > 3 else []
    whys = {f.comparison.why for f in t.asked}
    found = next((_REASONS[w] for w in _REASONS if w in whys), None)
    if found is not None:
        kind, tail, doubt, step = found
        return Card(
            f"cannot_tell.{kind}", f"This trial cannot tell: {told}{tail}.", (), doubt, step, more
        )
    mixed = f"{words_list([str(n) for n in sizes[:6]])}{' and more' if len(sizes) > 6 else ''}"
    if min(sizes) <= 1 or c.why is Why.ONE_UNIT:
        return _one_unit(t, mixed, more)
    how = f"{sizes[0]} of each is" if len(set(sizes)) == 1 else f"{mixed} are"
    family, s = len(t.plan.family), c.settle
    step = f"set at least {fewest(family)} of each; fewer never can"
    if s is not None:
        step = f"about {s.units} {of_each(s)} would usually show {more_of(t.plan, s.size)}"
    over = f", over {spelt(family)} comparisons," if family > 1 else ""
    seen = {t.judgement.arm(i).strike.rate for i in (c.index, t.zero)} == {0.0, 1.0}
    floor = 100 * max(f.comparison.strike.minimum_p_holm or 1 for f in t.asked)
    chance = f"Chance alone would give {'even that' if seen else 'all against none'}{over} about {floor:.0f} times in 100."
    first = f"This trial could not have told: {how} too few. {told}."
    return Card(
        "cannot_tell.too_small",
        first,
        [chance],
        f"too few {thing}s",
        step,
        more,
        units=s.units if s else None,
    )


def _one_unit(t: Told, mixed: str, more: list[tuple[str, int]]) -> Card:
    sizes, thing, alone = t.sizes, t.thing, plants_alone(t)
    step = f"give each treatment several {thing}s of its own"
    if alone is not None and t.by is Measure.STRIKE:
        single = ", one to a container," if thing == "container" else ""
        step = f"about {alone} of each{single} would usually show {more_of(t.plan, t.plan.gap_points / 100)}"
    how = f"{mixed} are too few"
    if set(sizes) == {1}:
        how = f"there was one {thing} of each"
    elif len(sizes) == 2:
        few, many = sorted(
            (t.asked[0].index, t.zero), key=lambda i: t.judgement.arm(i).strike.units
        )
        how = f"there was one {thing} of {t.name(few)} against {max(sizes)} of {t.name(many)}"
    doubt = f"a single {thing} could be the reason"
    first = f"This trial cannot tell: {how}. {t.all_counts}."
    return Card("cannot_tell.one_container", first, (), doubt, step, more, alone=True, units=alone)


def _even(t: Told) -> Card:
    is_all = t.asked[0].comparison.why is Why.ALL_STRUCK
    told = words_list(
        [f"{t.count(i)} with {t.name(i)}" for i in (*(f.index for f in t.asked[:3]), t.zero)]
    )
    hard, other = ("easy", "a harder") if is_all else ("hard", "an easier")
    rates = {a.strike.struck == (a.strike.n if is_all else 0) for a in t.judgement.arms}
    head = (
        f"{'All' if is_all else 'None'} {t.did}: "
        if rates == {True}
        else f"Nothing to compare in how many {t.did}: "
    )
    return Card(
        "all_reached" if is_all else "none_reached", f"{head}{told}.{' There was nothing to compare.' if rates == {True} else ''}",
        ["This does not show that they are equal."], f"these plants were too {hard}",
        _unless_hurt(t, f"compare how soon or how well, or take {other} plant"), chip="nothing to compare",
    )  # fmt: skip


def _running(t: Told) -> Card:
    end = t.plan.length_days
    card = Card("running", "", [_EARLY if t.called else _TOO_EARLY], chip="still running")
    if t.called:
        card.first, *rest = called_says(t)
        card.more, card.doubt = (
            [*((s, 1) for s in rest), *others_say(t)],
            "slow ones may still catch up",
        )
    else:
        top = max(t.asked, key=lambda f: abs(gap_of(t.plan, f.comparison)))
        card.first = f"{against(t, top)}."
        card.more = others_say(t, {top.index})
    following = next((d for d in planned_looks(t.plan) if d > t.judgement.day), end)
    step = (
        f"look at all of them on the same days until day {end}"
        if t.is_table
        else f"look at all of them again on day {following}"
    )
    if any(not f.is_possible for f in t.hurt.values()):
        step, card.doubt = (
            f"find out why they die, and {step}",
            "why they died was not written down" if "lost_without_cause" in t.codes else card.doubt,
        )
    card.next = step
    return card


def _unknown_at_end(t: Told) -> Card:
    """The last day was not seen of too many, though some were seen then: as of an earlier day nothing is called."""
    arms = [*(f.index for f in t.asked[:2]), t.zero]
    missing = [
        f"{s.unknown} of {s.n} of {t.name(i)}"
        for i in arms
        if (s := t.judgement.arm(i).strike).unknown
    ]
    day = max(t.judgement.arm(i).horizon for i in arms)
    first = f"This cannot be judged at the end: {words_list(missing)} were not looked at on day {fine(day)}."
    step = "look at all of them now, if they still stand"
    return Card(
        "stopped",
        first,
        next=step,
        more=[(f"Of those looked at, {t.all_counts}.", 0)],
        chip="not all looked at",
    )


def _lead(t: Told) -> Card:
    f, (first, *rest) = t.called[0], called_says(t)
    c, name, agent, rival = f.comparison, t.name(f.index), t.beyond.get(f.index), rival_of(t, f)
    is_alone = agent is None or agent.is_lead
    settle = c.settle if is_alone or c.agent is None else c.agent.settle
    rival = rival if is_alone else None
    more = [*((s, 1) for s in rest), *((x, 0) for x in _counts_beside(t, f)), *others_say(t)]
    kind = (
        "carrier"
        if f.is_check or not is_alone
        else "ties"
        if rival is not None
        else "several"
        if len(t.plan.family) > 1
        else "one"
    )
    sure = [chance_of(t, c), next_time(t.plan, c) or fits_of(t.plan, c)]
    beside = (
        t.name(agent.against)
        if agent and not is_alone
        else t.name(rival)
        if rival is not None
        else t.control
    )
    step = f"repeat {name} beside {beside}{with_units(settle)}"
    if kind == "one":
        step = f"repeat it{with_units(settle)}{' before you rely on it' if f.is_clear else ''}"
    elif f.is_check:
        step = f"repeat {t.name(t.asked[0].index)} beside {name}"
    if not t.is_drawn or "written_afterwards" in t.codes:
        why = (
            "positions were not randomised" if not t.is_drawn else "it was written down afterwards"
        )
        sure, kind = [f"Likely is the most this trial can say: {why}."], "not_randomised"
        step = f"repeat{with_units(settle)}, placed at random"
    if c.is_small and t.by is Measure.STRIKE:
        kind, step = "small", "use it only if it costs almost nothing"
    if f.index in t.hurt:
        kind, step = (
            "harm",
            f"repeat {name} weaker"
            if _is_dosed(t, f)
            else f"find out what hurt them before you repeat {name}",
        )
    return Card(
        kind if kind == "not_randomised" else f"{f.grade}.{kind}", first, sure, _doubt(t, c, None if rival is None else t.name(rival)),
        step, more, units=settle.units if settle else None, spared=0,
    )  # fmt: skip


def _counts_beside(t: Told, f: Finding) -> list[str]:
    """How many reached the goal, beside days or scores; none where that is what was asked, or a measure is."""
    if t.by is Measure.STRIKE or t.plan.graded_by:
        return []
    mine, theirs = t.count(f.index), t.count(t.zero)
    both = (
        f"{mine} both ways"
        if mine == theirs
        else f"{mine} with {t.name(f.index)}, {theirs} with {t.control}"
    )
    return [f"{capital(t.did)}: {both}."]


def _behind(t: Told) -> Card:
    f, (first, *rest) = t.called[0], called_says(t)
    step = _unless_hurt(t, f"keep to {t.control}")
    if f.index in t.hurt:
        step = (
            "do not use it like this; try a weaker dose"
            if _is_dosed(t, f)
            else f"find out why {t.name(f.index)} kills"
            if f.is_check
            else "leave it out"
        )
    return Card(
        f"{f.grade}.{'harm' if f.index in t.hurt else 'plain'}", first, [chance_of(t, f.comparison), fits_of(t.plan, f.comparison)],
        _doubt(t, f.comparison), step, [*((s, 1) for s in rest), *others_say(t)],
    )  # fmt: skip


def _is_dosed(t: Told, f: Finding) -> bool:
    return any(
        prop == "strength" and value for prop, value in t.plan.treatments[f.index].properties
    )


def _doubt(t: Told, c: Comparison, rival: str | None = None, usual: str = "") -> str:
    return biggest_doubt(
        t.codes,
        t.plan,
        c,
        is_drawn=t.is_drawn,
        runs=len(t.runs),
        things=t.thing,
        rival=rival,
        usual=usual,
    )


def _unless_hurt(t: Told, step: str) -> str:
    """What to do where nothing is ahead; never to use what harms."""
    f = next(iter(t.hurt.values()), None)
    if f is None:
        return step
    if f.is_possible:
        return f"watch for the same in {t.name(f.index)} before you use it"
    return (
        "do not use it like this; try a weaker dose"
        if _is_dosed(t, f)
        else f"find out what hurt them before you use {t.name(f.index)}"
    )


def _weaker(t: Told) -> Card:
    f = next(f for f in t.asked if _is_weaker_used(f.comparison))
    gone = list[str]()
    for i in (f.index, t.zero):
        s = t.judgement.arm(i).strike
        for n, what in ((s.removed, f"removed before they {t.did}"), (s.unknown, "not looked at")):
            gone += [f"{n} of {t.name(i)} {'was' if n == 1 else 'were'} {what}"] if n else []
    left = words_list(gone) if gone else f"{f.comparison.left_out} were left out"
    step = _unless_hurt(t, "repeat, and look at every plant until the last day")
    return Card(
        "weaker_used",
        f"No clear result{on_asked(t.plan)}: {against(t, f)}, but {left}.",
        [_DEPENDS],
        _doubt(t, f.comparison),
        step,
    )


def _is_weaker_used(c: Comparison) -> bool:
    told = c.strike.if_missing
    return told is not None and c.grade is Grade.TOO_CLOSE and set(told) != {c.strike_grade}


def _sooner(t: Told) -> Card:
    f = of(t.findings, About.SOONER)[0]
    name, mine, theirs = t.name(f.index), t.half(f.index), t.half(t.zero)
    more = list[tuple[str, int]]()
    if mine is not None and theirs is not None and mine != theirs:
        more = [
            (
                f"Half had {had_done(t.plan)} by day {fine(mine)} with {name}, by day {fine(theirs)} with {t.control}.",
                0,
            )
        ]
    return Card(
        "faster_not_more", f"{name} was sooner, but not more: {measured(t, f)}.", (), "speed was not the main question",
        _unless_hurt(t, "use it if an earlier start helps you"), more, "sooner, not more",
    )  # fmt: skip


def _level(t: Told) -> Card:
    f, *rest = t.asked
    more = (
        [
            (
                f"{joined([t.name(x.index) for x in rest])} {'is' if len(rest) == 1 else 'are'} level, too.",
                len(rest),
            )
        ]
        if rest
        else []
    )
    return Card(
        "level", f"{t.name(f.index)} and {t.control} are level: {t.count(f.index)} and {t.count(t.zero)} {t.did}.",
        [fits_90(f.comparison), f"You said that less than {matters(t.plan)} does not matter."],
        _doubt(t, f.comparison, usual="another year or plant may not be the same"), _unless_hurt(t, "use what costs less or is easier"), more,
    )  # fmt: skip


def _not_worse(t: Told) -> Card:
    f = t.asked[0]
    return Card(
        "not_worse", f"{t.name(f.index)} is not worse than {t.control} by as much as matters to you: {measured(t, f)}.",
        [fits_90(f.comparison), "They do not show that it is better."],
        _doubt(t, f.comparison, usual="another season may differ"), _unless_hurt(t, "use what is easier"), chip="not worse",
    )  # fmt: skip


def _one_look(t: Told) -> Card:
    looked = (
        "look every day until half are up"
        if t.plan.kind is Kind.SEED
        else "look more often, from early on"
    )
    first = f"How soon cannot be told: there was one look, on day {fine(t.judgement.day)}."
    by_then = f"By then it was {t.all_counts}."
    return Card("too_close.one_look", first, next=_unless_hurt(t, looked), more=[(by_then, 0)])


def _open(t: Told) -> Card:
    f = max(t.asked, key=lambda f: abs(gap_of(t.plan, f.comparison)))
    c, s = f.comparison, f.comparison.settle
    worth = {
        Measure.STRIKE: t.plan.gap_points / 100,
        Measure.SPEED: t.plan.gap_days,
        Measure.QUALITY: t.plan.gap_score,
    }[t.by]
    is_promising = abs(gap_of(t.plan, c)) >= worth - 1e-9
    is_enough = s is not None and s.units <= min(
        t.judgement.arm(i).strike.units for i in (f.index, t.zero)
    )
    step = _how_many_more(t, s, is_enough=is_enough)
    if not is_promising:
        step = f"use what is easier{'; ' if is_enough else ', or '}{step}"
    equal = "This does not show that they are equal."
    return Card(
        f"too_close.{'promising' if is_promising else 'no_gap'}",
        f"No clear result{on_asked(t.plan)}{' yet' if is_promising else ''}: {against(t, f)}.",
        [chance_of(t, c) if is_promising else equal, fits_of(t.plan, c)],
        _doubt(t, c, usual=f"{DEFAULT_DOUBT} place, one season" if is_enough else ""), _unless_hurt(t, step),
        [(x, 0) for x in _counts_beside(t, f)], units=s.units if s else None,
    )  # fmt: skip


def _how_many_more(t: Told, s: Settled | None, *, is_enough: bool) -> str:
    """A number of each, with what it is for."""
    if s is None:
        return f"repeat with more than {MOST_UNITS} of each, or look for a larger difference"
    shows = more_of(t.plan, -abs(s.size) if t.by is Measure.SPEED else s.size)
    if is_enough:
        return f"{s.units} {of_each(s)} would usually have shown {shows}"
    return f"repeat with {s.units} {of_each(s)} to find {shows}"


def _graded(t: Told, *grades: Grade | None) -> bool:
    return all(f.grade in grades for f in t.asked)


def _is_unknown_at_end(t: Told) -> bool:
    arms = [t.judgement.arm(i) for i in (*(f.index for f in t.asked), t.zero)]
    late = any(5 * a.strike.unknown > a.strike.n and a.horizon > t.judgement.day for a in arms)
    return t.judgement.stopped_early and not t.called and late


def _is_not_worse(t: Told) -> bool:
    gaps = [f.comparison.gap90 for f in t.asked]
    floor = -t.plan.gap_points / 100
    return t.plan.expect_level and all(
        g is not None and g.low is not None and g.low > floor for g in gaps
    )


_KINDS: tuple[tuple[Callable[[Told], bool], Callable[[Told], Card]], ...] = (
    (lambda t: t.judgement.day == 0 or _graded(t, None), _unseen),
    (lambda t: _graded(t, Grade.CANNOT_TELL) and not t.called, _cannot),
    (lambda t: not t.judgement.is_final, _running),
    (_is_unknown_at_end, _unknown_at_end),
    (lambda t: t.by is Measure.STRIKE and all(map(is_even, t.asked)) and not t.called, _even),
    (lambda t: any(f.is_lead for f in t.called), _lead),
    (lambda t: bool(t.called), _behind),
    (lambda t: any(_is_weaker_used(f.comparison) for f in t.asked), _weaker),
    (lambda t: bool(of(t.findings, About.SOONER)), _sooner),
    (lambda t: _graded(t, Grade.LEVEL), _level),
    (_is_not_worse, _not_worse),
    (lambda t: t.by is Measure.SPEED and looks_that_tell(t) < 2, _one_look),
    (lambda t: True, _open),
)
"""Which card a result gets: the first that holds."""
