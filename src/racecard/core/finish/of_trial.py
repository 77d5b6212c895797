"""A trial of the shed to its whole finish: the one way from plan, log and diary to a verdict."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from racecard.core.arrays import Bools, Floats
from racecard.core.assess.contrasts import Contrasted, NotCompared, contrast, declared_groups
from racecard.core.assess.grade import any_clear
from racecard.core.assess.later_growth import Grown, growth_of, measured_at
from racecard.core.finish.finish_result import Whole, whole_finish
from racecard.core.log.assemble import in_force, results_of, unit_logs
from racecard.core.log.dated import lot_was_drawn
from racecard.core.log.events import entries_in_force
from racecard.core.log.lift import sampled
from racecard.core.log.measures import HARMS, STAGE
from racecard.core.log.thinning import chosen_survivors
from racecard.core.model import Plan, Trial, Unit
from racecard.core.model.observation import Entry, Observation, Scope, UnitLog
from racecard.core.model.results import Results
from racecard.core.notes import Kept
from racecard.core.notes.registry import Dosed
from racecard.core.prepare.register import AgentLot
from racecard.core.stats.permutation import RESAMPLES, PermutationTest
from racecard.core.text.companions import growth_statements
from racecard.errors import InvalidInput

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


def contrasts_of(
    trial: Trial,
    found: TrialFinish,
    asked: tuple[tuple[int, ...], tuple[int, ...]] | None = None,
) -> list[Contrasted | NotCompared]:
    """Groups of treatments compared: those the plan declared, then one asked for after the fact.

    A declared group that cannot be compared (its treatment was never set) says so in its place.

    Args:
        trial: the trial.
        found: its finish.
        asked: indices of the treatments of both groups of a question asked after the fact; None without one.

    Raises:
        InvalidInput: the group asked for cannot be compared.
    """
    plan, judged = trial.plan, found.whole.judgement
    clear = any_clear(c.grade for c in judged.comparisons if c.index in plan.family)

    def compared(one: tuple[int, ...], zero: tuple[int, ...], *, is_declared: bool) -> Contrasted:
        return contrast(
            plan, found.results, one, zero, seed=trial.seed, is_declared=is_declared,
            any_clear=clear, lot_drawn=lot_was_drawn(trial), end_day=plan.length_days,
        )  # fmt: skip

    told: list[Contrasted | NotCompared] = []
    for one, zero in declared_groups(plan):
        try:
            told.append(compared(one, zero, is_declared=True))
        except InvalidInput as exc:
            told.append(NotCompared(one, zero, exc.detail))
    return [*told, compared(*asked, is_declared=False)] if asked else told


def finish_of(
    trial: Trial,
    log: Sequence[Observation],
    entries: Sequence[Entry],
    *,
    today: int | None = None,
    agents: Mapping[str, AgentLot] | None = None,
    dosed: Sequence[Dosed] = (),
    resamples: int = RESAMPLES,
) -> TrialFinish:
    """Judge a started trial.

    Args:
        trial: the trial with its bench and amendments.
        log: every observation in the order it was recorded.
        entries: its diary.
        today: its day now, to tell a trial that stopped early from one that still runs.
        agents: agents of the register by id, to tell one that was past its date.
        dosed: recipes whose dose was off by more than a tenth, or that were overruled.
        resamples: re-dealings of sampled tests.
    """
    plan = trial.plan
    told = entries_in_force(entries)
    stands = in_force(log)
    gone = lifted_samples(trial, stands)
    units = tuple(u for u in trial.stuck if u.id not in gone)
    logs = unit_logs(units, log, plan)
    results = results_of(plan, units, logs, today=today)
    results = replace(results, injured=injured_units(units, told))
    results = _with_measures(plan, units, logs, entries, results)
    drawn = lot_was_drawn(trial)
    whole = whole_finish(
        plan, results, seed=trial.seed, cells=[u.cell for u in units], resamples=resamples,
        lot_drawn=drawn, end_day=plan.length_days,
        refused=chosen_survivors(plan, units, told, results),
        kept=Kept(trial, log, entries, units, agents or {}, dosed),
    )  # fmt: skip
    growth = growth_of(
        plan, units, entries, PermutationTest(trial.seed), resamples=resamples,
        may_be_clear=whole.judgement.is_final and drawn,
    )  # fmt: skip
    asked = {c.index: c.grade for c in whole.judgement.comparisons}
    growth = tuple(g.as_asked(asked) if g.measure == plan.graded_by else g for g in growth)
    whole = whole.with_statements(s for g in growth for s in growth_statements(plan, g))
    sampled_out = [u.cell.treatment for u in trial.stuck if u.id in gone]
    return TrialFinish(
        results, whole, growth, _plantable(trial, units, stands), units,
        tuple(sampled_out.count(i) * plan.per_container for i in range(len(plan.treatments))),
    )  # fmt: skip


def _with_measures(
    plan: Plan,
    units: Sequence[Unit],
    logs: Sequence[UnitLog],
    entries: Sequence[Entry],
    results: Results,
) -> Results:
    """The results with what was measured in place of root scores, where the trial is judged on it.

    Taking a measure is a look at the plant.
    """
    if not plan.graded_by:
        return results
    if plan.graded_by == STAGE:
        return replace(results, score=last_stages(logs))
    found = measured_at(units, entries, plan.graded_by)
    if found is None:
        return replace(results, score=np.full(len(units), np.nan))
    age, values = found
    looks = tuple(
        days | {age} if u.id in values else days
        for u, days in zip(units, results.looks, strict=True)
    )
    measured = np.array([u.id in values for u in units])[results.unit]
    is_lost = results.lost_by <= age
    last = np.where(measured & ~is_lost, np.maximum(results.last, age), results.last)
    score = np.array([values.get(u.id, np.nan) for u in units])
    return replace(results, score=score, looks=looks, last=last)


def last_stages(logs: Sequence[UnitLog]) -> Floats:
    """Stage of each plant at its last look that named one, as a number (u,); nan where none did."""
    out = np.full(len(logs), np.nan)
    for i, log in enumerate(logs):
        named = [x for x in log.looks if x.stage is not None]
        if named:
            out[i] = max(named, key=lambda x: x.day).stage
    return out


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


def lifted_samples(trial: Trial, stands: Sequence[Observation]) -> frozenset[str]:
    """Units that left with a sample drawn by lot: all of it, once any of it was removed."""
    removed = {o.unit_id for o in stands if o.removed}
    return frozenset(unit for ids in sampled(trial).values() if removed & set(ids) for unit in ids)


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
