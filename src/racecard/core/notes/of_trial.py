"""Objections from the doing: what the log, the diary and the start of a whole trial tell."""

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from datetime import date

from racecard.core.log.dated import days_late, late_rounds
from racecard.core.log.days import zone
from racecard.core.log.events import event_of, units_touched
from racecard.core.log.thinning import first_thinned
from racecard.core.model import Kind, Layout
from racecard.core.notes.registry import Evidence, Kept, Needs, Said, rule, words_list
from racecard.core.prepare.sticking import days_after, set_by_arm

_STUCK = "how it was stuck or sown"
_DONE = "events, amendments and what was written afterwards"
_GOALPOSTS = {
    "endpoint": "what counts as success", "threshold_mm": "what counts as success",
    "length_days": "the last day", "measure": "what it is judged on", "gap_points": "the smallest difference that matters",
    "gap_days": "the smallest difference that matters", "gap_score": "the smallest difference that matters",
}  # fmt: skip


def _kept(e: Evidence) -> Kept:
    assert e.kept is not None
    return e.kept


@rule("written_afterwards", "Written down afterwards", Needs.KEPT, _DONE)
def plan_written_afterwards(e: Evidence) -> Iterator[Said]:
    """Fires where the plan was written down after day 0."""
    trial, late = _kept(e).trial, days_late(_kept(e).trial)
    if late <= 0:
        return
    written = trial.planned_at.astimezone(zone(e.plan.time_zone))
    by_hand = e.plan.layout is Layout.BY_HAND
    drawn = "" if by_hand else ", and positions were not randomised beforehand"
    yield (
        f"The plan was written on {written:%-d %B %Y}, {late} {'day' if late == 1 else 'days'} after "
        f"day 0, so it was not fixed before results could be seen{drawn}.",
        "Enter the plan before you start next time.",
    )


@rule("written_afterwards", "Written down afterwards", Needs.KEPT, _DONE)
def rounds_written_afterwards(e: Evidence) -> Iterator[Said]:
    """Fires where rounds were written down two days after the day they tell of, or later."""
    rounds = late_rounds(_kept(e).trial, _kept(e).looks)
    if rounds:
        named = words_list([str(d) for d in rounds])
        yield (
            f"Entered later than they were looked at: the looks of day {named}.",
            "Enter a look while you stand there; memory leans towards what one hopes.",
        )


@rule("goal_moved", "Goal changed after start", Needs.KEPT, _DONE)
def goal_changed(e: Evidence) -> Iterator[Said]:
    """Fires where an amendment changed what the trial is judged on."""
    fields = [a.field for a in _kept(e).trial.amendments if a.field in _GOALPOSTS]
    moved = list(dict.fromkeys(_GOALPOSTS[f] for f in fields))
    if moved:
        yield (
            f"After the start {words_list(moved)} was changed, when results could already be seen.",
            "Read the verdict with that in mind, and fix it before the start next time.",
        )


@rule("not_set", "Not all were set", Needs.KEPT, _STUCK)
def not_all_set(e: Evidence) -> Iterator[Said]:
    """Fires where fewer units were set than planned."""
    arms = zip(e.plan.treatments, set_by_arm(e.plan, _kept(e).trial.planted), strict=True)
    short = [(t, a) for t, a in arms if a.set < a.planned]
    if short:
        said = "; ".join(
            f"{a.planned - a.set} of {a.planned} of {t.name}"
            + (f" ({', '.join(a.whys)})" if a.whys else "")
            for t, a in short
        )
        yield (
            f"Not {_verb(e)} as planned: {said}. Rates are of those really {_verb(e)}.",
            "If you chose which to leave out after knowing their treatment, record that.",
            f"Not all were {_verb(e)}",
        )


@rule("set_apart", "Started on different days", Needs.KEPT, _STUCK)
def set_apart(e: Evidence) -> Iterator[Said]:
    """Fires where units have different days 0."""
    units = [u for u in _kept(e).trial.planted if u.is_set]
    days = [
        sorted({u.late for u in units if u.cell.treatment == i})
        for i in range(len(e.plan.treatments))
    ]
    apart = [
        f"{t.name} {days_after(d)}"
        for t, d in zip(e.plan.treatments, days, strict=True)
        if d and d[-1] > 0
    ]
    if apart:
        is_by_arm = len({tuple(d) for d in days if d}) > 1
        yield (
            f"Not all were {_verb(e)} on one day: {'; '.join(apart)}. Equal ages are compared, never equal dates."
            + (" Later starts met different weather." if is_by_arm else ""),
            "Next time work the soaks back from one hour, so that all go in together.",
        )


@rule("substituted", "Another batch or size used", Needs.KEPT, _STUCK)
def substituted(e: Evidence) -> Iterator[Said]:
    """Fires where units came from another batch or size than planned."""
    arms = set_by_arm(e.plan, _kept(e).trial.planted)
    other = [(t, a) for t, a in zip(e.plan.treatments, arms, strict=True) if a.other]
    if other:
        said = ", ".join(f"{a.other} of {t.name}" for t, a in other)
        even = len({a.other for a in arms}) == 1
        yield (
            f"Another lot or size than planned was used for {said}"
            + ("." if even else ": they differ from the others in more than the treatment."),
            "Next time spread substitutes evenly, one block at a time.",
        )


@rule("agent_past_date", "Product past its date", Needs.KEPT, _DONE)
def agent_past_date(e: Evidence) -> Iterator[Said]:
    """Fires where an agent of a treatment was past its date on the day it was used."""
    kept = _kept(e)
    if kept.trial.started_at is None:
        return
    day = kept.trial.started_at.date()
    for t in e.plan.treatments:
        lot = kept.agents.get(t.agent_id)
        if lot is not None and lot.expires_on and date.fromisoformat(lot.expires_on) < day:
            yield (
                f"{lot.name}, used for {t.name}, was past its date of {lot.expires_on}; its strength that day "
                "is not known.",
                "Read a lack of gain there as a lack of agent, perhaps; repeat it with a fresh batch.",
            )
            return


@rule("dose_off", "Dose off the recipe", Needs.KEPT, _DONE)
def dose_off(e: Evidence) -> Iterator[Said]:
    """Fires for each recipe whose dose was off, or that was made although a guard stopped it."""
    for d in _kept(e).dosed:
        why = f" It was made anyway: “{d.reason}”." if d.reason else ""
        yield (
            f"{d.title}, for {d.arm or 'all treatments'}: {d.says}{why}",
            "Read that result as the result of the dose it had, not of the recipe.",
        )


@rule("thinned_strongest", "Only the strongest kept", Needs.KEPT, _DONE)
def strongest_kept(e: Evidence) -> Iterator[Said]:
    """Fires where only the strongest or best were kept; what struck after it is not compared."""
    kept = _kept(e)
    first = first_thinned(kept.told)
    if first is None:
        return
    rest = (
        "Survivors chosen like this cannot be compared, so nothing is called."
        if e.seen is not None and e.seen.refused
        else "What was seen before it is judged; survivors chosen like this cannot be compared."
    )
    yield (
        f"On day {first} plants were thinned or culled to the strongest. {rest}",
        "Compare all that were set; next time keep every plant in the count, or choose at random which to keep.",
    )


@rule("some_arms_only", "Only some treatments touched", Needs.KEPT, _DONE)
def some_treatments_only(e: Evidence) -> Iterator[Said]:
    """Fires where an event touched some treatment not at all, or far less often than another."""
    diary, units = _kept(e).told, _kept(e).trial.planted
    touched: dict[str, dict[int, set[str]]] = defaultdict(lambda: defaultdict(set))
    days: dict[str, list[int]] = defaultdict(list)
    for entry in diary:
        if entry.kind == "event" and event_of(entry.what).is_shared:
            days[entry.what].append(entry.day)
            for u in units_touched(entry, units, e.plan, diary):
                touched[entry.what][u.cell.treatment].add(u.id)
    arms = sorted({u.cell.treatment for u in units})
    size = {a: sum(u.cell.treatment == a for u in units) for a in arms}
    for code in touched:
        yield from _some_only(e, code, days[code], touched[code], size)


def _some_only(
    e: Evidence, code: str, days: Sequence[int], by_arm: Mapping[int, set[str]], size: Mapping[int, int]
) -> Iterator[Said]:  # fmt: skip
    shares = {a: len(by_arm.get(a, ())) / n for a, n in size.items()}
    if max(shares.values()) - min(shares.values()) < 0.5 and min(shares.values()) > 0:
        return
    names = e.plan.treatments
    when = f"day {days[0]}" if len(set(days)) == 1 else f"days {min(days)} to {max(days)}"
    some = [f"{names[a].name} ({len(by_arm[a])} of {size[a]})" for a in size if by_arm.get(a)]
    rest = [names[a].name for a in size if not by_arm.get(a)]
    others = f"; {words_list(rest)} {'was' if len(rest) == 1 else 'were'} not" if rest else ""
    did = event_of(code).did
    yield (
        f"On {when} {words_list(some)} {'were' if len(some) > 1 else 'was'} {did}{others}. This is another difference between the treatments.",
        "Do to all treatments what is done to one, on the same day; read a gap between these with "
        "that in mind.",
        f"Only some treatments {did}",
    )


@rule("entered_as_row", "Filled in by row", Needs.KEPT, _DONE)
def filled_by_row(e: Evidence) -> Iterator[Said]:
    """Fires where looks were filled in a row at a time."""
    looks = [o for o in _kept(e).looks if o.kind in ("look", "count")]
    filled = sum(o.as_row for o in looks)
    if filled:
        share = max(1, round(100 * filled / len(looks)))
        yield (
            f"{filled} of {len(looks)} looks ({share} %) were entered a row at a time, not "
            "plant by plant.",
            "Fill a row only where each of its plants was really looked at and is alike.",
        )


@rule("lost_without_cause", "Losses without a cause", Needs.KEPT, "losses and injuries")
def lost_without_cause(e: Evidence) -> Iterator[Said]:
    """Fires where plants were lost and nobody said of what."""
    kept = _kept(e)
    mine = {u.id for u in kept.units}
    n = sum(o.loss == "unknown" and o.unit_id in mine for o in kept.looks)
    if n:
        said = "One loss has" if n == 1 else f"{n} losses have"
        yield (
            f"{said} no cause written, so harm by the treatment cannot be told from mishap.",
            "Write at the look what it looked like: rotted, dried, mouldy, damaged.",
        )


@rule("scored_in_view", "Scored with treatments visible", Needs.KEPT, "root scores given in view")
def scored_in_view(e: Evidence) -> Iterator[Said]:
    """Fires where root scores were given while the treatments could be seen."""
    kept = _kept(e)
    unsealed = kept.trial.unsealed_at
    if any(
        o.kind == "score" and (not e.plan.blind or (unsealed is not None and o.seen_at > unsealed))
        for o in kept.looks
    ):
        yield (
            "Root scores were given with the treatments in view, and hope leans on scores more than on "
            "yes or no.",
            "Trust the counts more than the scores; next time score blind, or let someone else score.",
        )


@rule("still_open", "Follow-up still open", Needs.KEPT, _DONE)
def follow_up_open(e: Evidence) -> Iterator[Said]:
    """Fires while something that was to be followed up is not closed: the verdict is not the last word."""
    told = _kept(e).told
    closed = {x.text for x in told if x.what == "closed"}
    waiting = [x for x in told if x.what == "follow_up" and x.id not in closed]
    if waiting:
        more = f", and {len(waiting) - 1} more" if len(waiting) > 1 else ""
        yield (
            f"Still to be followed up: {waiting[0].text}{more}. Until then the verdict speaks of the "
            "time up to now only.",
            "Look, write down what came of it, and close it on Today.",
        )


def _verb(e: Evidence) -> str:
    return "stuck" if e.plan.kind is Kind.CUTTING else "sown"
