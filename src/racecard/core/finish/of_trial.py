"""A trial of the shed to its whole finish: the one way from plan, log and diary to a verdict."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from racecard.core.arrays import Bools
from racecard.core.assess.growth import Grown, growth_of
from racecard.core.finish.finish_result import Whole, whole_finish
from racecard.core.log.assemble import in_force, results_of, unit_logs
from racecard.core.log.days import elapsed_days, zone
from racecard.core.log.events import standing, units_touched
from racecard.core.log.lift import sampled
from racecard.core.log.measures import HARMS
from racecard.core.model import Layout, Plan, Trial, Unit
from racecard.core.model.observation import Entry, Observation, Scope
from racecard.core.model.results import Results
from racecard.core.notes.from_data import Note, words_list
from racecard.core.notes.from_diary import notes_on_events
from racecard.core.notes.predictions import amendment_notes
from racecard.core.prepare.register import AgentLot
from racecard.core.prepare.sticking import notes_on_sticking
from racecard.core.stats.permutation import DEALS, Redealer

_CLEAR_SIGN = 2
"""A sign of harm from 0 to 3 counts as an injury from here on: clear, though still growing."""
_HARM_NAMES = frozenset(h.name for h in HARMS)


@dataclass(frozen=True, slots=True)
class TrialFinish:
    """A trial's finish: results, verdict and companions, later growth, plantable of each arm.

    `plantable`: plants fit to sell or plant by treatment, None where nobody scored it. `sampled`: plants
    of each treatment that left with a sample drawn by lot, its struck and lost ones too.
    """

    results: Results
    whole: Whole
    growth: tuple[Grown, ...]
    plantable: tuple[int | None, ...]
    units: tuple[Unit, ...]
    sampled: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class Dosed:
    """A recipe of the list that a guard stopped or that was off: for which arm ("" for all), what the
    guard said, and the grower's reason where it was overruled.
    """

    arm: str
    title: str
    says: str
    reason: str = ""


def finish_of(
    trial: Trial,
    log: Sequence[Observation],
    entries: Sequence[Entry],
    *,
    today: int | None = None,
    agents: Mapping[str, AgentLot] | None = None,
    dosed: Sequence[Dosed] = (),
    deals: int = DEALS,
) -> TrialFinish:
    """Judge a started trial.

    Args:
        trial: the trial with its bench and amendments.
        log: every observation in the order it was recorded.
        entries: its diary.
        today: its day now, to tell a trial that stopped early from one that still runs.
        agents: agents of the register by id, to tell one that was past its date.
        dosed: recipes whose dose was off by more than a tenth, or that were overruled.
        deals: re-dealings of sampled tests.
    """
    plan = trial.plan
    told = standing(entries)
    stands = in_force(log)
    gone = lifted_samples(trial, stands)
    units = tuple(u for u in trial.stuck if u.id not in gone)
    results = results_of(plan, units, unit_logs(units, log, plan), today=today)
    results = replace(results, injured=injured_units(units, told))
    drawn = lot_was_drawn(trial)
    thinned, refused = thinned_to_the_strongest(plan, units, told, results)
    whole = whole_finish(
        plan, results, seed=trial.seed, cells=[u.cell for u in units], deals=deals,
        lot_drawn=drawn, end_day=plan.length_days, refused=refused,
    )  # fmt: skip
    said = (
        *written_when(trial, stands),
        *amendment_notes(trial.amendments),
        *notes_on_sticking(plan, trial.planted),
        *_agents_past(trial, agents or {}),
        *_doses_off(dosed),
        *thinned,
        *notes_on_events(plan, trial.planted, entries, stands),
    )
    last = (
        *_without_cause(units, stands),
        *_scored_in_view(trial, stands),
        *_stopped_early(trial, whole),
        *_still_open(told),
    )
    growth = growth_of(
        plan, units, entries, Redealer(trial.seed), deals=deals,
        may_be_clear=whole.judgement.is_final and drawn,
    )  # fmt: skip
    judged = whole.with_notes(said, last)
    if growth:
        judged = replace(
            judged,
            judgement=replace(
                judged.judgement,
                says=(*judged.judgement.says[:-1], *(s for g in growth for s in g.says), judged.judgement.says[-1]),
            ),
        )  # fmt: skip
    sampled_out = [u.cell.treatment for u in trial.stuck if u.id in gone]
    return TrialFinish(
        results, judged, growth, _plantable(trial, units, stands), units,
        tuple(sampled_out.count(i) * plan.per_container for i in range(len(plan.treatments))),
    )  # fmt: skip


def injured_units(units: Sequence[Unit], told: Sequence[Entry]) -> Bools | None:
    """Units on which a sign of harm was clear at any look; None where nobody looked for signs."""
    by_id = {u.id: i for i, u in enumerate(units)}
    found = np.zeros(len(units), bool)
    looked = False
    for e in told:
        signs = [v for name, v in e.values if name in _HARM_NAMES]
        if e.scope is Scope.UNIT and signs and e.target in by_id:
            looked = True
            found[by_id[e.target]] |= max(signs) >= _CLEAR_SIGN
    return found if looked else None


def _agents_past(trial: Trial, agents: Mapping[str, AgentLot]) -> list[Note]:
    """Fires where an agent of a treatment was past its date on the day it was used."""
    if trial.started_at is None:
        return []
    day = trial.started_at.date()
    past = [
        (t.name, lot)
        for t in trial.plan.treatments
        if (lot := agents.get(t.agent_id)) is not None
        and lot.expires_on and date.fromisoformat(lot.expires_on) < day
    ]  # fmt: skip
    if not past:
        return []
    name, lot = past[0]
    return [
        Note(
            "agent_past_date",
            f"{lot.name}, used for {name}, was past its date of {lot.expires_on}; its strength that day "
            "is not known.",
            "Read a lack of gain there as a lack of agent, perhaps; repeat it with a fresh batch.",
        )
    ]


def _doses_off(dosed: Sequence[Dosed]) -> list[Note]:
    """Fires for each recipe whose dose was off, or that was made although a guard stopped it."""
    notes = []
    for d in dosed:
        why = f" It was made anyway: “{d.reason}”." if d.reason else ""
        notes.append(
            Note(
                "dose_off",
                f"{d.title}, for {d.arm or 'all treatments'}: {d.says}{why}",
                "Read that result as the result of the dose it had, not of the recipe.",
            )
        )
    return notes


def _without_cause(units: Sequence[Unit], log: Sequence[Observation]) -> list[Note]:
    """Fires where plants were lost and nobody said of what."""
    mine = {u.id for u in units}
    n = sum(o.loss == "unknown" and o.unit_id in mine for o in log)
    if n == 0:
        return []
    said = "One loss has" if n == 1 else f"{n} losses have"
    return [
        Note(
            "lost_without_cause",
            f"{said} no cause written, so harm by the treatment cannot be told from mishap.",
            "Write at the look what it looked like: rotted, dried, mouldy, damaged.",
        )
    ]


def _scored_in_view(trial: Trial, log: Sequence[Observation]) -> list[Note]:
    """Fires where root scores were given while the treatments could be seen."""
    scores = [o for o in log if o.kind == "score"]
    unsealed = trial.unsealed_at
    in_view = [
        o for o in scores
        if not trial.plan.blind or (unsealed is not None and o.seen_at > unsealed)
    ]  # fmt: skip
    if not in_view:
        return []
    return [
        Note(
            "scored_in_view",
            "Root scores were given with the treatments in view, and hope leans on scores more than on "
            "yes or no.",
            "Trust the strike more than the scores; next time score blind, or let someone else score.",
        )
    ]


def _stopped_early(trial: Trial, whole: Whole) -> list[Note]:
    """Fires where the end has passed and more than one in five of a treatment was not looked at then."""
    days = [c.horizon for c in whole.judgement.comparisons if c.stopped_early]
    if not days:
        return []
    return [
        Note(
            "stopped_early",
            f"The result is as of day {min(days):.0f} of {trial.plan.length_days}; too few were looked at "
            "after that. Stopping when a result looks good makes chance differences look real.",
            "Read it as the result by then; nothing is called clear. If you still can, look today.",
        )
    ]


def lot_was_drawn(trial: Trial) -> bool:
    """Whether places were drawn by lot before the start: a lot drawn after day 0 is no lot."""
    return trial.plan.layout is not Layout.BY_HAND and days_late(trial) <= 0


def days_late(trial: Trial) -> int:
    """Days after day 0 on which the plan, its bench and its predictions were last written."""
    if trial.started_at is None:
        return 0
    return elapsed_days(trial.started_at, trial.planned_at, trial.plan.time_zone)


def written_when(trial: Trial, stands: Sequence[Observation]) -> list[Note]:
    """Fires where the plan, or rounds, were written down after the day they tell of."""
    plan, start = trial.plan, trial.started_at
    if start is None:
        return []
    notes = []
    late = days_late(trial)
    if late > 0:
        written = trial.planned_at.astimezone(zone(plan.time_zone))
        by_lot = (
            ""
            if plan.layout is Layout.BY_HAND
            else ", and positions were not randomised beforehand"
        )
        notes.append(
            Note(
                "written_afterwards",
                f"The plan was written on {written:%-d %B %Y}, {late} {'day' if late == 1 else 'days'} after "
                f"day 0, so it was not fixed before results could be seen{by_lot}.",
                "Enter the plan before you start next time.",
            )
        )
    rounds = late_rounds(trial, stands)
    if rounds:
        named = words_list([str(d) for d in rounds])
        notes.append(
            Note(
                "written_afterwards",
                f"Entered later than they were looked at: the looks of day {named}.",
                "Enter a look while you stand there; memory leans towards what one hopes.",
            )
        )
    return notes


def late_rounds(trial: Trial, stands: Sequence[Observation]) -> list[int]:
    """Days whose looks were written down two days later or more, dated by hand.

    A look entered for another day bears noon of that day; a tap kept by a phone without signal bears
    its own moment, and was written then.
    """
    assert trial.started_at is not None
    where = zone(trial.plan.time_zone)
    out = set()
    for o in stands:
        seen = o.seen_at.astimezone(where)
        if o.recorded_at is None or (seen.hour, seen.minute, seen.second) != (12, 0, 0):
            continue
        if (o.recorded_at.astimezone(where).date() - seen.date()).days > 1:
            out.add(o.day)
    return sorted(out)


def lifted_samples(trial: Trial, stands: Sequence[Observation]) -> frozenset[str]:
    """Units that left with a sample drawn by lot: all of it, once any of it was removed."""
    removed = {o.unit_id for o in stands if o.removed}
    return frozenset(unit for ids in sampled(trial).values() if removed & set(ids) for unit in ids)


_STRONGEST = re.compile(r"\b(strong|best|fine|health|larg|bigg|tall|vigo|good)\w*", re.IGNORECASE)


def thinned_to_the_strongest(
    plan: Plan, units: Sequence[Unit], told: Sequence[Entry], results: Results
) -> tuple[list[Note], frozenset[int]]:
    """The objection to thinning to the strongest, and the treatments whose survivors were counted.

    Counts made before a thinning stand. What struck after it was chosen, and is not compared.
    """
    days = np.full(len(units), np.inf)
    at = {u.id: i for i, u in enumerate(units)}
    first: list[int] = []
    for e in told:
        if e.kind == "event" and e.what == "thinned" and _STRONGEST.search(e.text):
            first.append(e.day)
            for u in units_touched(e, units, plan, told):
                days[at[u.id]] = min(days[at[u.id]], e.day - u.late)
    if not first:
        return [], frozenset()
    after = np.isfinite(results.by) & (results.by > days[results.unit])
    refused = frozenset(results.treatment[results.unit[after]].tolist())
    rest = (
        "Survivors chosen like this cannot be compared, so nothing is called."
        if refused
        else "What had struck before it is judged; survivors chosen like this cannot be compared."
    )
    note = Note(
        "thinned_strongest",
        f"On day {min(first)} plants were thinned to the strongest. {rest}",
        "Compare all that were set; next time thin before you look, or at random.",
    )
    return [note], refused


def _still_open(told: Sequence[Entry]) -> list[Note]:
    """Fires while something that was to be followed up is not closed: the verdict is not the last word."""
    closed = {e.text for e in told if e.what == "closed"}
    waiting = [e for e in told if e.what == "follow_up" and e.id not in closed]
    if not waiting:
        return []
    more = f", and {len(waiting) - 1} more" if len(waiting) > 1 else ""
    return [
        Note(
            "still_open",
            f"Still to be followed up: {waiting[0].text}{more}. Until then the verdict speaks of the "
            "time up to now only.",
            "Look, write down what came of it, and close it on Today.",
        )
    ]


def _plantable(
    trial: Trial, units: Sequence[Unit], log: Sequence[Observation]
) -> tuple[int | None, ...]:
    arm_of = {u.id: u.cell.treatment for u in units}
    told = [
        (arm_of[o.unit_id], value)
        for o in log if o.kind == "score" and o.unit_id in arm_of
        for name, value in o.parts if name == "marketable"
    ]  # fmt: skip
    if not told:
        return (None,) * len(trial.plan.treatments)
    return tuple(sum(int(v) for a, v in told if a == i) for i in range(len(trial.plan.treatments)))
