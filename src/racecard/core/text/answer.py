"""The answer in at most 60 words: what happened, how sure that is, the biggest doubt, the next step.

Which kind of answer a result gets, which doubt comes first and what to do next are tables in the order
of their rows: the first that holds is said. No p value, no interval and no term that wants a glossary.
"""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from racecard.core.assess.grade import Grade
from racecard.core.assess.judgement import Comparison, Judgement, Sooner, Why
from racecard.core.assess.placings import Placings
from racecard.core.assess.to_settle import Of
from racecard.core.log.goal import had_done
from racecard.core.model import Kind, Measure, Plan
from racecard.core.notes import Note
from racecard.core.notes.registry import words_list
from racecard.core.text.answer_parts import (
    BEHIND,
    DEFAULT_DOUBT,
    GRADE_SAID,
    LEADS,
    Case,
    against_of,
    capital,
    chance_of,
    count_of,
    counts_of,
    doubt_of,
    fewest,
    fits_90,
    fits_of,
    foremost,
    measured,
    needed,
    of_each,
    other_doubt,
    plants_alone,
    size_of,
    span_of,
    spelt,
    sure_of,
    tied_with,
)

MOST_WORDS = 60
_ASKS_MORE = ("likely_lead", "not_randomised", "too_close", "cannot_tell")
_CHIPS = {
    "clear_lead": "clear lead", "likely_lead": "likely lead", "not_randomised": "likely lead", "clearly_behind": "clearly behind",
    "likely_behind": "likely behind", "too_close": "too close to call", "weaker_used": "too close to call", "level": "level",
    "not_worse": "not worse", "faster_not_more": "sooner, not more", "running": "still running", "cannot_tell": "cannot tell",
    "no_control": "no control", "not_seen": "not looked at yet", "all_reached": "nothing to compare",
    "none_reached": "nothing to compare",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Answer:
    """Its kind, and its four parts; a part is "" where there is nothing to say.

    `units`: how many of each to repeat with, where another number is advised; `alone`: one to a container.
    """

    kind: str
    happened: str
    sure: str
    doubt: str
    next: str
    units: int | None = None
    alone: bool = False

    @property
    def chip(self) -> str:
        """The kind in two or three words."""
        return _CHIPS[self.kind.split(".")[0]]

    @property
    def text(self) -> str:
        """The whole card."""
        doubt = f"Biggest doubt: {self.doubt}." if self.doubt else ""
        step = f"Next: {self.next}." if self.next else ""
        return " ".join(part for part in (self.happened, self.sure, doubt, step) if part)


def answer_of(
    plan: Plan,
    judgement: Judgement,
    notes: Sequence[Note],
    placings: Placings | None,
    *,
    is_drawn: bool,
) -> Answer | None:
    """The answer of a finish; None where nothing was asked.

    Args:
        plan: the plan.
        judgement: lanes and comparisons.
        notes: the stewards' notes, for the biggest doubt.
        placings: for a neighbour the leader is not ahead of.
        is_drawn: False where positions are known not to have been drawn by lot.
    """
    asked = tuple(c for c in judgement.comparisons if c.index in plan.family)
    case = Case(plan, judgement, asked, frozenset(n.code for n in notes), placings, is_drawn)
    if plan.reference is None:
        return _no_control(case)
    if not asked:
        return None
    say = next((say for holds, say in _KINDS if holds(case)), _too_close)
    answer = _with_number(case, _short(say(case)))
    return replace(answer, happened=capital(answer.happened))  # a name as typed may begin it


def _with_number(case: Case, answer: Answer) -> Answer:
    """The number a repeat is advised with, where it is another than before."""
    if answer.kind == "cannot_tell.one_container":
        return replace(answer, units=plants_alone(case), alone=True)
    if answer.kind.split(".")[0] not in _ASKS_MORE:
        return answer
    found = [
        n for c in case.asked for of in (Of.SEEN, Of.WORTH) if (n := needed(c, of)) is not None
    ]
    return replace(answer, units=max(found, default=None))


def _short(answer: Answer) -> Answer:
    """Kept to 60 words: first the word plants goes, then the usual doubt."""
    if len(answer.text.split()) > MOST_WORDS:
        answer = replace(answer, sure=answer.sure.replace(" plants in 100", " in 100"))
    if len(answer.text.split()) > MOST_WORDS and answer.doubt == DEFAULT_DOUBT:
        answer = replace(answer, doubt="")
    if len(answer.text.split()) > MOST_WORDS and ". Fewer than" in answer.next:
        answer = replace(answer, next=answer.next.split(". Fewer than")[0])
    if len(answer.text.split()) > MOST_WORDS and ". The other" in answer.happened:
        answer = replace(answer, happened=answer.happened.split(". The other")[0] + ".")
    if len(answer.text.split()) > MOST_WORDS:
        answer = replace(answer, sure=re.sub(r" ?The results fit [^.]*\.", "", answer.sure))
    return answer


# -- the kinds, first that holds -------------------------------------------------------------------


def _is_unseen(case: Case) -> bool:
    return case.judgement.day == 0 or any(c.asked is None for c in case.asked)


def _cannot(case: Case) -> bool:
    return all(c.asked is Grade.CANNOT_TELL for c in case.asked)


def _is_even(case: Case) -> bool:
    if case.plan.graded_by:  # there the measure may differ though all struck, or none
        return False
    return all(c.why in (Why.ALL_STRUCK, Why.NONE_STRUCK) for c in case.asked)


def _with(*grades: Grade) -> Callable[[Case], bool]:
    return lambda case: any(c.asked in grades for c in case.asked)


def _is_weaker(case: Case) -> bool:
    return any(
        c.grades_if_missing is not None
        and c.grade is Grade.TOO_CLOSE
        and set(c.grades_if_missing) != {c.grade}
        for c in case.asked
    )


def _is_faster(case: Case) -> bool:
    return any(
        c.grade in (Grade.LEVEL, Grade.TOO_CLOSE)
        and c.sooner is Sooner.ALIKE
        and c.over_time.grade in LEADS
        for c in case.asked
    )


def _is_level(case: Case) -> bool:
    return all(c.asked is Grade.LEVEL for c in case.asked)


def _is_not_worse(case: Case) -> bool:
    margin = case.plan.gap_points / 100
    return case.plan.expect_level and all(
        c.gap90 is not None and c.gap90.low is not None and c.gap90.low > -margin
        for c in case.asked
    )


# -- what each says --------------------------------------------------------------------------------


def _no_control(case: Case) -> Answer:
    told = [
        f"{count_of(case, a.index)} {case.did} with {case.name(a.index)}"
        for a in case.judgement.arms[:3]
    ]
    if "control_not_named" in case.codes:
        return Answer(
            "no_control", f"No verdict: no control is named. {words_list(told)}.", "",
            "nobody has said which of them the others are to be compared with",
            "name the control, if one of these is it; if not, repeat with one",
        )  # fmt: skip
    plants = "seeds" if case.plan.kind is Kind.SEED else "cuttings"
    return Answer(
        "no_control", f"No verdict: nothing was left untreated. {words_list(told)}.", "",
        "just as many might have done so without any of them",
        f"repeat with as many untreated {plants}, from the same plants on the same day",
    )  # fmt: skip


def _unseen(case: Case) -> Answer:
    unseen = next((case.name(c.index) for c in case.asked if c.asked is None), "")
    whom = f"{unseen} or the control" if unseen else "them"
    if case.judgement.day == 0:
        whom = "all of them"
    return Answer(
        "not_seen", f"No result yet: nobody has looked at {whom} since day 0.",
        "A plant that was not looked at is not a plant that failed, so it is left out, not counted as a loss.",
        "", "look at every plant of every treatment on the same day",
    )  # fmt: skip


def _cannot_tell(case: Case) -> Answer:
    c = case.asked[0]
    told = against_of(case, c)
    need = needed(c, Of.WORTH)
    if any(x.why is Why.ENTANGLED for x in case.asked):
        return Answer(
            "cannot_tell.confounded", f"This trial cannot tell. {capital(told)}, but several things differed at once.",
            "", "any of them could be the reason. More plants would not help",
            "repeat with only one thing different: same batch, same place, mixed at random",
        )  # fmt: skip
    thing = "container" if case.plan.per_container > 1 else "unit"
    if all(case.arm(x.index).strike.units <= 1 for x in case.asked) or c.why is Why.ONE_UNIT:
        alone = plants_alone(case)
        step = f"give each treatment several {thing}s of its own"
        if alone is not None:
            step = f"about {alone} of each, one to a {thing}, would usually show {case.matters} more in 100"
        return Answer(
            "cannot_tell.one_container", f"This trial cannot tell. There was one {thing} of each: {told}.", "",
            f"the {thing} itself could be the reason. More plants in one {thing} would not help", step,
        )  # fmt: skip
    if c.why is Why.SHARED:
        return Answer(
            "cannot_tell.shared", f"This trial cannot tell: plants shared containers and were counted singly. {capital(told)}.",
            "", "the containers could be the reason", "count each container as one, or give each plant its own",
        )  # fmt: skip
    if c.why in (Why.THINNED, Why.BLOCKS):
        reason = (
            "only the strongest were kept"
            if c.why is Why.THINNED
            else "each block held only one treatment"
        )
        return Answer(
            "cannot_tell.design", f"This trial cannot tell. {capital(told)}.", "", reason,
            "repeat with every treatment in every block, and keep all plants to the last day",
        )  # fmt: skip
    times = 100 * (c.minimum_p_holm or 1)
    least = fewest(len(case.plan.family))
    step = (
        f"about {need} {of_each(c)} would usually show a gain of {case.matters} in 100. "
        if need
        else ""
    )
    return Answer(
        "cannot_tell.too_small", f"This trial could not have told: {case.arm(c.index).strike.units} of each is too few. You saw {told}.",
        f"Chance alone would give {_most(case, c)} about {times:.0f} times in 100.", "too few plants",
        f"{step}Fewer than {least} never can" if step else f"set at least {least} of each; fewer never can",
    )  # fmt: skip


def _most(case: Case, c: Comparison) -> str:
    """The widest difference there can be: what was seen, or all against none."""
    mine, theirs = case.arm(c.index).strike, case.arm(case.reference).strike
    return "even that" if {mine.rate, theirs.rate} == {0.0, 1.0} else "all against none"


def _even(case: Case) -> Answer:
    is_all = case.asked[0].why is Why.ALL_STRUCK
    arms = [case.asked[0].index, case.reference]
    told = words_list([f"{count_of(case, i)} with {case.name(i)}" for i in arms])
    happened = (
        f"{'All' if is_all else 'None'} {case.did}: {told}. There was nothing left to compare."
    )
    hard, other = ("easy", "harder") if is_all else ("hard", "easier")
    return Answer(
        "all_reached" if is_all else "none_reached", happened, "This does not show that they are equal.",
        f"these plants were too {hard}",
        f"compare how soon or how well, or take {'a' if is_all else 'an'} {other} plant",
    )  # fmt: skip


def _running(case: Case) -> Answer:
    c = foremost(case)
    day, end = f"{case.judgement.day:.0f}", case.plan.length_days
    word = {True: "is likely ahead", False: "is likely behind"}.get(
        c.asked in LEADS, "shows no clear difference so far"
    ) if c.asked in (*LEADS, *BEHIND) else "shows no clear difference so far"  # fmt: skip
    return Answer(
        "running", f"So far, on day {day} of {end}: {against_of(case, c)}. {capital(case.name(c.index))} {word}.",
        "Early leads often shrink, so nothing is called clear before the last day.", "slow ones may still catch up",
        f"look at all of them on the same days until day {end}",
    )  # fmt: skip


def _clear_lead(case: Case) -> Answer:
    leaders = [c for c in case.asked if c.asked is Grade.CLEAR_LEAD]
    c = foremost(case)
    name, others = case.name(c.index), len(case.asked) - len(leaders)
    if c.is_small and case.plan.measure is Measure.STRIKE:
        mine, theirs = case.arm(c.index).strike, case.arm(case.reference).strike
        told = f"{count_of(case, c.index)} {case.did}, against {count_of(case, case.reference)}"
        if mine.n == theirs.n:
            told = told.removesuffix(f" of {theirs.n}")
        happened = (
            f"{name} is clearly ahead of {case.control}, but by less than matters to you: {told}."
        )
        return Answer(
            "clear_lead.small",
            happened,
            sure_of(case, c),
            doubt_of(case, c),
            "use it only if it costs almost nothing",
        )
    tied = tied_with(case, c.index)
    harmed = [x for x in case.asked if x.harm and x is not c]
    if len(leaders) > 1:
        both = words_list([case.name(x.index) for x in leaders])
        happened = f"{both} are clearly ahead. {name} leads: {counts_of(case, c)}."
    else:
        happened = f"{name} is clearly ahead: {measured(case, c)}."
    if c.harm:
        happened += f" It also lost {c.lost[0]}, against {c.lost[2]}."
    elif harmed:
        happened += f" {capital(case.name(harmed[0].index))} lost more: {harmed[0].lost[0]}, against {harmed[0].lost[2]}."
    elif others == 1 and not tied:
        happened += " The other shows no clear result."
    elif others > 1 and not tied:
        happened += f" The other {spelt(others)} show no clear result."
    kind = (
        "clear_lead.ties"
        if tied
        else "clear_lead.several"
        if len(case.plan.family) > 1
        else "clear_lead.one"
    )
    step = (
        "repeat it once before you rely on it"
        if kind == "clear_lead.one"
        else f"repeat {name} beside {case.control}"
    )
    if tied:
        step = f"repeat {name} beside {case.name(tied[0])}"
    if c.harm:
        step = "repeat it, and find out why they died"
    sure = sure_of(case, c) if kind == "clear_lead.one" else chance_of(case, c)
    return Answer(kind, happened, sure, doubt_of(case, c), step)


def _likely_lead(case: Case) -> Answer:
    c = foremost(case)
    name = case.name(c.index)
    need = span_of(c, Of.SEEN, Of.WORTH)
    if not case.is_drawn or "written_afterwards" in case.codes:
        why = (
            "positions were not randomised"
            if not case.is_drawn
            else "it was written down afterwards"
        )
        return Answer(
            "not_randomised", f"{name} is likely ahead: {measured(case, c)}.",
            f"Likely is the most this trial can say: {why}.", doubt_of(case, c), f"repeat with {need}, placed at random",
        )  # fmt: skip
    return Answer(
        "likely_lead", f"{name} is likely ahead, but not clearly: {measured(case, c)}.", sure_of(case, c), doubt_of(case, c),
        f"repeat with {need}",
    )  # fmt: skip


def _behind(case: Case) -> Answer:
    c = min((c for c in case.asked if c.asked in BEHIND), key=size_of)
    is_clear = c.asked is Grade.CLEARLY_BEHIND
    name = case.name(c.index)
    word = "is clearly behind" if is_clear else "is likely behind, but not clearly"
    happened = f"{name} {word}: {measured(case, c)}."
    if c.harm:
        happened += f" It also lost {c.lost[0]}, against {c.lost[2]}."
    dosed = any(
        prop == "strength" and value for prop, value in case.plan.treatments[c.index].properties
    )
    step = f"keep to {case.control}"
    if c.harm:
        step = "do not use it like this; try a weaker dose" if dosed else "leave it out"
    kind = "clearly_behind" if is_clear else "likely_behind"
    return Answer(
        f"{kind}.{'harm' if c.harm else 'plain'}", happened, sure_of(case, c) if not c.harm else chance_of(case, c),
        doubt_of(case, c), step,
    )  # fmt: skip


def _weaker(case: Case) -> Answer:
    c = next(
        c for c in case.asked if c.grades_if_missing is not None and c.grade is Grade.TOO_CLOSE
    )
    worst, best = (GRADE_SAID.get(g, "no verdict") for g in c.grades_if_missing or (None, None))
    return Answer(
        "weaker_used", f"No clear result: {counts_of(case, c)}, but {c.left_out} were removed or not looked at.",
        f"If they had all done worst for {case.name(c.index)}: {worst}. If best: {best}. The weaker verdict is used.",
        doubt_of(case, c), "repeat, and look at every plant until the last day",
    )  # fmt: skip


def _faster(case: Case) -> Answer:
    c = next(c for c in case.asked if c.sooner is Sooner.ALIKE and c.over_time.grade in LEADS)
    name, mine, theirs = case.name(c.index), case.arm(c.index).half, case.arm(case.reference).half
    halves = ""
    if mine and theirs and mine[1] != theirs[1]:
        halves = f" Half had {had_done(case.plan)} by day {mine[1]:.0f} with {name}, by day {theirs[1]:.0f} with {case.control}."
    return Answer(
        "faster_not_more", f"{name} was sooner, but not more: {counts_of(case, c)}.{halves}", "",
        "speed was not the main question", "use it if an earlier start helps you",
    )  # fmt: skip


def _level(case: Case) -> Answer:
    c = case.asked[0]
    fits = fits_90(c)
    return Answer(
        "level", f"{case.name(c.index)} and {case.control} are level: {count_of(case, c.index)} and {count_of(case, case.reference)} {case.did}.",
        f"{fits}You said that less than {case.matters} does not matter.", other_doubt(case, "another year or plant may not be the same"),
        "use what costs less or is easier",
    )  # fmt: skip


def _not_worse(case: Case) -> Answer:
    c = case.asked[0]
    return Answer(
        "not_worse", f"{case.name(c.index)} is not worse than {case.control} by as much as matters to you: {counts_of(case, c)}.",
        f"{fits_90(c)}They do not show that it is better.", other_doubt(case, "another season may differ"),
        "use what is easier",
    )  # fmt: skip


def _too_close(case: Case) -> Answer:
    c = max(case.asked, key=lambda c: abs(size_of(c)))
    arms = against_of(case, c)
    if abs(size_of(c)) >= case.plan.gap_points / 100 - 1e-9:
        return Answer(
            "too_close.promising", f"No clear result yet: {arms}.", sure_of(case, c), doubt_of(case, c),
            f"repeat with {span_of(c, Of.SEEN, Of.WORTH)}",
        )  # fmt: skip
    need = needed(c, Of.WORTH)
    more = (
        f", or repeat with {need} {of_each(c)} to find a gain of {case.matters} in 100"
        if need
        else ""
    )
    fits = fits_of(case, c)
    equal = "This does not show that they are equal" + (
        f": the r{fits[5:]}" if fits.startswith("The r") else "."
    )
    return Answer(
        "too_close.no_gap",
        f"No clear result: {arms}.",
        equal,
        doubt_of(case, c),
        f"use what is easier{more}",
    )


_KINDS: tuple[tuple[Callable[[Case], bool], Callable[[Case], Answer]], ...] = (
    (_is_unseen, _unseen),
    (_cannot, _cannot_tell),
    (_is_even, _even),
    (lambda case: not case.judgement.is_final, _running),
    (_with(Grade.CLEAR_LEAD), _clear_lead),
    (_with(Grade.LIKELY_LEAD), _likely_lead),
    (_with(*BEHIND), _behind),
    (_is_weaker, _weaker),
    (_is_faster, _faster),
    (_is_level, _level),
    (_is_not_worse, _not_worse),
)
