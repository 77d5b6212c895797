"""A trial of the shed to its whole finish: the one way from plan, log and diary to a verdict."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from racecard.core.finish.diary import notes_on_events
from racecard.core.finish.growth import Grown, growth_of
from racecard.core.finish.lot import DEALS, Redealer
from racecard.core.finish.stewards import Note
from racecard.core.finish.whole import Whole, whole_finish
from racecard.core.log.assemble import in_force, results_of, unit_logs
from racecard.core.log.course import last_day_for_looks
from racecard.core.log.events import standing
from racecard.core.log.measures import HARMS
from racecard.core.model import Layout, Trial, Unit
from racecard.core.prepare.register import AgentLot
from racecard.core.prepare.sticking import notes_on_sticking
from racecard.core.results import Bools, Results
from racecard.core.written import Entry, Observation, Scope

_CLEAR_SIGN = 2
"""A sign of harm from 0 to 3 counts as an injury from here on: clear, though still growing."""
_HARM_NAMES = frozenset(h.name for h in HARMS)


@dataclass(frozen=True, slots=True)
class TrialFinish:
    """A trial's finish: results, verdict and companions, later growth, plantable of each arm.

    `plantable`: plants fit to sell or plant by treatment, None where nobody scored it.
    """

    results: Results
    whole: Whole
    growth: tuple[Grown, ...]
    plantable: tuple[int | None, ...]
    units: tuple[Unit, ...]


def finish_of(
    trial: Trial,
    log: Sequence[Observation],
    entries: Sequence[Entry],
    *,
    today: int | None = None,
    agents: Mapping[str, AgentLot] | None = None,
    deals: int = DEALS,
) -> TrialFinish:
    """Judge a started trial.

    Args:
        trial: the trial with its bench and amendments.
        log: every observation in the order it was recorded.
        entries: its diary.
        today: its day now, to tell a trial that stopped early from one that still runs.
        agents: agents of the register by id, to tell one that was past its date.
        deals: re-dealings of sampled tests.
    """
    plan, units = trial.plan, trial.stuck
    told = standing(entries)
    stands = in_force(log)
    results = results_of(plan, units, unit_logs(units, log))
    results = replace(results, injured=injured_units(units, told))
    drawn = plan.layout is not Layout.BY_HAND
    whole = whole_finish(
        plan, results, seed=trial.seed, cells=[u.cell for u in units], deals=deals,
        lot_drawn=drawn, end_day=plan.length_days,
    )  # fmt: skip
    said = (
        *notes_on_sticking(plan, trial.planted),
        *_agents_past(trial, agents or {}),
        *notes_on_events(plan, trial.planted, entries, stands),
    )
    last = (
        *_without_cause(units, stands),
        *_scored_in_view(trial, stands),
        *_stopped_early(trial, whole, today),
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
    return TrialFinish(results, judged, growth, _plantable(trial, units, stands), units)


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


def _stopped_early(trial: Trial, whole: Whole, today: int | None) -> list[Note]:
    """Fires where the time for looks is over and the last complete round lies before the last day."""
    plan, day = trial.plan, whole.judgement.day
    if today is None or whole.judgement.is_final or today <= last_day_for_looks(plan):
        return []
    return [
        Note(
            "stopped_early",
            f"The last look at every unit was on day {day:.0f} of {plan.length_days}: the trial stopped "
            "early, and a stop chosen while the plants can be seen makes luck look like a result.",
            "Read it as what was seen by then; nothing here is called clear.",
        )
    ]


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
