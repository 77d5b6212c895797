"""What happened, in sentences: all that is called, harm, and the rest with how many results each sentence holds."""

from collections.abc import Iterator, Set

from racecard.core.assess.findings import Finding
from racecard.core.assess.grade import BEHIND, GRADE_WORDS, LEADS, Grade
from racecard.core.model import Measure
from racecard.core.notes.registry import words_list
from racecard.core.text.amounts import (
    capital,
    joined,
    on_asked,
    quoted,
    spelt,
)
from racecard.core.text.told import Told, figure, measured


def called_says(t: Told) -> list[str]:
    """Sentences on every treatment with a clear or likely grade, the firmest first; its agent with it."""
    out, rest = list[str](), list(t.called)
    first = next((f for f in rest if not f.is_check), None)
    if check_leads(t):
        f = next(x for x in rest if x.is_check and x.is_lead)
        silent = [x.index for x in t.asked if not x.is_called][:2]
        same = {t.count(i) for i in (t.zero, *silent)}
        told = f"{t.count(f.index)} {t.did}, {joined([t.control, *(t.name(i) for i in silent)])} {min(same)}"
        told = told if t.by is Measure.STRIKE and len(same) == 1 else measured(t, f)
        out.append(
            f"{capital(t.name(f.index))} alone is {GRADE_WORDS[f.grade]}{on_asked(t.plan)}: {told}."
        )
        rest.remove(f)
    elif first is not None and first.index in t.beyond:
        agent = t.beyond[first.index]
        out.append(_with_agent(t, first, agent))
        rest = [f for f in rest if f.index not in (first.index, agent.against)]
    rest += [f for f in t.results if f.grade is Grade.LEVEL and t.called]
    if len(rest) == 1 and rest[0].is_called:
        f = rest[0]
        small = (
            ", but by less than matters to you"
            if f.comparison.is_small and t.by is Measure.STRIKE
            else ""
        )
        out.append(
            f"{capital(t.name(f.index))} is {GRADE_WORDS[f.grade]}{small}{on_asked(t.plan)}: {measured(t, f)}."
        )
    elif rest:
        said, mark = list[str](), quoted if any(" and " in t.name(f.index) for f in rest) else str
        for grade in (*LEADS, *BEHIND, Grade.LEVEL):
            found = [f.index for f in rest if f.grade is grade]
            did = f" {t.did}" if t.by is Measure.STRIKE and found and not said else ""
            shown = [
                f"{mark(t.name(i))} ({figure(t, i)}{did if k == 0 else ''})"
                for k, i in enumerate(found)
            ]
            names = words_list(shown or [""])
            said += (
                [f"{names} {'is' if len(found) == 1 else 'are'} {GRADE_WORDS[grade]}"]
                if found
                else []
            )
        out.append(
            f"{capital('; '.join(said))}{on_asked(t.plan)}, against {figure(t, t.zero)} for {t.control}."
        )
    return out


def check_leads(t: Told) -> bool:
    """Whether a carrier or another check is ahead and no candidate is: it comes first then."""
    return any(f.is_check and f.is_lead for f in t.results) and not any(f.is_lead for f in t.asked)


def _with_agent(t: Told, f: Finding, agent: Finding) -> str:
    """A treatment whose carrier stands in the trial: against the control, and beyond its carrier or not."""
    did = f" {t.did}" if t.by is Measure.STRIKE else ""
    others = [f"{t.name(i)} {figure(t, i)}" for i in (agent.against, t.zero)]
    figures = f"{figure(t, f.index)}{did}, {', '.join(others)}"
    head = f"{capital(t.name(f.index))} is {GRADE_WORDS[f.grade]}"
    if not f.is_lead:
        return f"{head}{on_asked(t.plan)}: {figures}."
    if agent.is_lead:
        firm = "" if agent.is_clear == f.is_clear else "clearly " if agent.is_clear else "likely "
        return f"{head}{on_asked(t.plan)}, of {t.control} and {firm}beyond its carrier: {figures}."
    less = "and behind its carrier" if agent.grade in BEHIND else "but not shown beyond its carrier"
    return f"{head} of {t.control}{on_asked(t.plan)}, {less}: {figures}."


def harm_says(t: Told) -> Iterator[str]:
    """A sentence on all that lost more, and one on all that showed more signs of harm, with counts."""
    for by_signs in (False, True):
        found = [f for f in t.hurt.values() if _by_signs(f) is by_signs]
        if not found:
            continue
        told: dict[str, list[str]] = {}
        for f in found:
            h = f.comparison.hurt
            count = f"{h.injured} of {h.units}" if by_signs else f"{h.lost} of {h.n}"
            told.setdefault(count, []).append(t.name(f.index))
        verb = "had clear signs of harm on" if by_signs else "lost"
        said = [f"{joined(n)} {verb} {k}{' each' if len(n) > 1 else ''}" for k, n in told.items()]
        h = found[0].comparison.hurt
        maybe = " (perhaps chance)" if all(f.is_possible for f in found) else ""
        theirs = (
            f"on {h.injured_control} of {h.units_control}"
            if by_signs
            else f"{h.lost_control} of {h.n_control}"
        )
        yield f"{capital(words_list(said))}, {t.control} {theirs}{maybe}."


def _by_signs(f: Finding) -> bool:
    """Whether it was signs of harm, not loss, that set the treatment apart."""
    h = f.comparison.hurt
    if h.harm:
        return not h.by_loss
    return (
        h.more_signs
        and h.p_signs is not None
        and not (h.more and h.p is not None and h.p <= h.p_signs)
    )


def others_say(t: Told, told: Set[int] = frozenset()) -> list[tuple[str, int]]:
    """What is to be said of those that are not called and not told yet, with how many results that holds.

    Args:
        t: what is spoken of.
        told: treatments that are told already.
    """
    rest = [f for f in t.asked if not (f.is_called or f.grade is Grade.LEVEL or f.index in told)]
    rest = rest[2:] if check_leads(t) else rest  # two are told with the check already
    by_grade = {
        g: [f for f in rest if f.grade is g] for g in (Grade.TOO_CLOSE, None, Grade.CANNOT_TELL)
    }
    silent, unseen, cannot = by_grade.values()
    how, out = (
        "no clear result" if t.judgement.is_final else "no clear difference so far",
        list[tuple[str, int]](),
    )
    if len(silent) == 1:
        out.append(
            (f"{capital(t.name(silent[0].index))} shows {how}: {figure(t, silent[0].index)}.", 1)
        )
    elif silent:
        who = "the other " if len(silent) == len(t.results) - len(t.called) - len(told) else ""
        out.append((f"{capital(f'{who}{spelt(len(silent))}')} show {how}.", len(silent)))
    for found, says in ((unseen, "not looked at yet"), (cannot, "this trial cannot tell")):
        if found:
            out.append((f"{joined([t.name(f.index) for f in found])}: {says}.", len(found)))
    return out
