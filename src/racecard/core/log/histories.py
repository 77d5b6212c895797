"""Looks to histories: what was seen on which days becomes intervals, losses and removals."""

from collections.abc import Iterable, Sequence

from racecard.core.log.stages import endpoint_name
from racecard.core.model import History, Kind, Outcome, Plan
from racecard.core.model.observation import Count, Look, UnitLog
from racecard.errors import InvalidInput


def history_of_looks(looks: Iterable[Look], endpoint: int) -> History:
    """One propagule's history for one endpoint.

    A propagule first seen at the endpoint on day b and last seen below it on day a reached it in
    (a, b]; a missed look widens the interval, and a stage skipped over was passed in the same
    interval. Lost: never strikes from then on. Removed before it was struck or lost: censored at
    its last look. Day 0 itself counts as a look without; one already at the endpoint on day 0 was so
    when it was set. A look that names no stage did not see the base, and says nothing of it.

    Args:
        looks: this propagule's looks, in any order, at most one a day.
        endpoint: stage code that counts as struck.
    """
    last_without = last_base = last_alive = 0
    struck: tuple[int, int] | None = None
    went_back = at_start = False
    for look in sorted(looks, key=lambda x: x.day):
        if look.stage is not None:
            if look.stage >= endpoint and look.day <= 0:
                at_start = True
            elif look.stage >= endpoint:
                struck = struck or (last_without, look.day)
            elif struck or at_start:
                went_back = True
            else:
                last_without = look.day
        if at_start:
            last_base = look.day
            continue
        if look.loss is not None:
            gone = max(1, look.day)  # one lost on day 0 itself was lost within its first day
            return _left(struck, (min(last_alive, gone - 1), gone), look.loss, gone, went_back)
        if look.removed:
            seen = look.day if look.stage is not None else last_base
            return _taken_out(struck, seen, went_back)
        last_alive = look.day
        if look.stage is not None:
            last_base = look.day
    if at_start:
        return History(removed_after=0, last_look=last_base, went_back=went_back, at_start=True)
    after, by = struck or (None, None)
    return History(after, by, last_look=last_base, went_back=went_back)


def shoot_history(looks: Iterable[Look]) -> History:
    """When one cutting first showed a shoot: a history of its own, beside that of its roots.

    A shoot can come before the roots or after them. Looks that lost or took it out end it.

    Args:
        looks: this cutting's looks, in any order, at most one a day.
    """
    as_stages = [
        Look(x.day, None if x.loss is not None else int(x.shoot), loss=x.loss, removed=x.removed)
        for x in looks
    ]
    return history_of_looks(as_stages, 1)


def story(plan: Plan, log: UnitLog, held: int) -> list[str]:
    """A unit so far, in sentences: roots and shoots of a cutting are two histories.

    Args:
        plan: the plan of its trial.
        log: what was seen of it.
        held: plants in it.
    """
    if log.counts:
        last = max(log.counts, key=lambda c: c.day)
        gone = last.lost + last.lost_struck
        return [f"{last.struck} of {held} by day {last.day}, {gone} lost."]
    if not log.looks:
        return ["Not looked at yet."]
    roots = history_of_looks(log.looks, plan.endpoint)
    said = [_told(endpoint_name(plan), roots)]
    if plan.kind is Kind.CUTTING and plan.outcome is Outcome.USUAL:
        said.append(_told("shoot", shoot_history(log.looks)))
    if roots.lost_by is not None:
        said.append(f"Lost ({roots.cause}) between day {roots.lost_after} and day {roots.lost_by}.")
    return said


def _told(what: str, h: History) -> str:
    name = what[:1].upper() + what[1:]
    if h.struck_by is None:
        return f"{name}: not seen by day {h.last_look}."
    return f"{name}: after day {h.struck_after}, by day {h.struck_by}."


def _left(
    struck: tuple[int, int] | None, lost: tuple[int, int], cause: str, day: int, went_back: bool
) -> History:
    after, by = struck or (None, None)
    return History(after, by, lost[0], lost[1], cause, None, day, went_back)


def _taken_out(struck: tuple[int, int] | None, seen: int, went_back: bool) -> History:
    if struck:
        return History(struck[0], struck[1], last_look=seen, went_back=went_back)
    return History(removed_after=seen, last_look=seen)


def histories_of_counts(counts: Iterable[Count], sown: int) -> list[History]:
    """The histories of all propagules of one container, from its cumulative counts.

    Which seed is which is not known and does not matter: the k that struck between two looks get
    that interval. A cumulative count that goes down keeps its highest value and marks one history
    as gone back.

    Args:
        counts: this container's counts, in any order, at most one a day.
        sown: propagules in the container, >= 1.

    Raises:
        InvalidInput: struck, lost and removed together exceed what was sown.
    """
    out: list[History] = []
    struck = lost = lost_struck = removed = last = 0
    went_back = False
    for count in sorted(counts, key=lambda c: c.day):
        went_back |= count.struck < struck
        new = max(0, count.struck - struck)
        if count.day <= 0:
            out += [History(removed_after=0, at_start=True)] * new
        else:
            out += [History(last, count.day)] * new
        new_lost = max(0, count.lost - lost)
        gone = max(1, count.day)
        out += [History(None, None, last, gone, count.cause or "unknown")] * new_lost
        out += [History(removed_after=last)] * max(0, count.removed - removed)
        struck, lost = max(struck, count.struck), max(lost, count.lost)
        removed = max(removed, count.removed)
        for _ in range(max(0, count.lost_struck - lost_struck)):
            out = _lose_one_struck(out, last, count)
        lost_struck = max(lost_struck, count.lost_struck)
        last = max(last, count.day)
    check_counts(struck, lost, lost_struck, removed, sown)
    out += [History()] * (sown - len(out))
    return _stamp_last_look(out, last, went_back)


def check_counts(struck: int, lost: int, lost_struck: int, removed: int, sown: int) -> None:
    """Raise InvalidInput where a container's counts cannot be true.

    Args:
        struck, lost: plants that reached the endpoint, and that died, so far.
        lost_struck: of the lost those that had reached it.
        removed: plants taken out alive.
        sown: plants the container held.
    """
    if min(struck, lost, lost_struck, removed) < 0:
        raise InvalidInput("counts must be 0 or more", "/struck")
    if struck + lost + removed > sown:
        raise InvalidInput(
            f"what is counted, lost and removed adds up to {struck + lost + removed}, "
            f"but only {sown} were set in this container",
            "/struck",
        )
    if lost_struck > struck:
        raise InvalidInput(
            f"{lost_struck} are said to be lost after it, but only {struck} were ever counted here",
            "/lost_struck",
        )


def _lose_one_struck(histories: list[History], after: int, count: Count) -> list[History]:
    for i, h in enumerate(histories):
        if h.struck_by is not None and h.lost_by is None:
            cause = count.cause or "unknown"
            histories[i] = History(h.struck_after, h.struck_by, after, count.day, cause)
            break
    return histories


def _stamp_last_look(histories: Sequence[History], last: int, went_back: bool) -> list[History]:
    stamped = []
    for i, h in enumerate(histories):
        seen = h.lost_by if h.lost_by is not None else last
        if h.removed_after is not None:
            seen = h.removed_after
        stamped.append(
            History(
                h.struck_after,
                h.struck_by,
                h.lost_after,
                h.lost_by,
                h.cause,
                h.removed_after,
                seen,
                went_back and i == 0,
                h.at_start,
            )
        )
    return stamped
