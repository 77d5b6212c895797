"""The whole finish: the judgement and everything that stands beside it on the page."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from racecard.core.arrays import Ints
from racecard.core.assess.crosses import Cross, cross_of
from racecard.core.assess.grade import Grade, any_clear
from racecard.core.assess.judge import Judgement, horizon_of_all, judge
from racecard.core.assess.ladder import Ladder, ladder_of
from racecard.core.assess.placings import Placings, placings
from racecard.core.assess.restricted_mean import ArmTimes, arm_times, waiting_gap
from racecard.core.assess.runs import RunsTogether, runs_together
from racecard.core.assess.strike import unit_shares
from racecard.core.model import Cell, Kind, Plan
from racecard.core.model.results import Results
from racecard.core.notes.from_data import Note
from racecard.core.notes.heterogeneity import notes_on_evenness
from racecard.core.notes.influence import notes_on_resting
from racecard.core.stats.permutation import DEALS, Redealer
from racecard.core.stats.posterior import chance_higher
from racecard.core.stats.proportions import Interval
from racecard.core.stats.seed_indices import Index, indices
from racecard.core.text.verdicts import with_isolated_names


@dataclass(frozen=True, slots=True)
class Whole:
    """A judgement with its companions; each is None or empty where the design has none.

    `waits`: by treatment, the difference in mean waiting days; `higher`: chance that the one
    candidate's true rate is the higher one; `indices`: of each treatment, for seed.
    """

    judgement: Judgement
    placings: Placings | None
    cross: Cross | None
    ladder: Ladder | None
    times: tuple[ArmTimes, ...]
    waits: dict[int, Interval]
    higher: float | None
    runs: tuple[RunsTogether, ...]
    indices: tuple[tuple[Index, ...], ...]

    def with_notes(self, first: Sequence[Note], last: Sequence[Note] = ()) -> "Whole":
        """The same with notes from elsewhere before and after its own."""
        notes = (*first, *self.judgement.notes, *last)
        return replace(self, judgement=replace(self.judgement, notes=notes))


def whole_finish(
    plan: Plan,
    results: Results,
    *,
    seed: int,
    cells: Sequence[Cell] = (),
    deals: int = DEALS,
    lot_drawn: bool | None = True,
    end_day: float | None = None,
    timed: bool = True,
    run: Ints | None = None,
    run_names: Sequence[str] = (),
    refused: frozenset[int] = frozenset(),
) -> Whole:
    """Judge a trial and all that stands beside the verdict; arguments as those of `judge`.

    Args:
        plan: the frozen plan.
        results: what was seen.
        seed: the trial's stored seed.
        cells: where the units stood.
        deals: re-dealings of sampled tests.
        lot_drawn: whether the bench was drawn by lot; None where nobody recorded it.
        end_day: last day of the plan; None takes the results as finished.
        refused: treatments whose survivors were chosen, so that they are not compared.
        timed: False where the results tell no days.
        run: index into `run_names` of each unit's run, where several runs are put together.
        run_names: names of the runs.
    """
    redealer = Redealer(seed)
    judgement = judge(
        plan, results, seed=seed, cells=cells, deals=deals, lot_drawn=lot_drawn, end_day=end_day, refused=refused,
        timed=timed, redealer=redealer,
    )  # fmt: skip
    plan = with_isolated_names(plan)
    drawn = lot_drawn is not False
    day = horizon_of_all(results, end_day).age
    is_final = judgement.is_final and not judgement.stopped_early and not refused
    may_be_clear = is_final and drawn
    shared = plan.count_singly and results.has_shared_containers
    notes = notes_on_evenness(plan, results, cells, day, seed)
    if shared:
        plain = replace(judgement, notes=(*judgement.notes, *notes))
        return replace(bare(plain), indices=_indices(plan, results, timed))
    notes += notes_on_resting(
        plan, results, judgement.comparisons, redealer, may_be_clear=drawn, deals=deals
    )
    together = () if run is None else runs_together(plan, results, run, run_names, day)
    family = [c for c in judgement.comparisons if c.index in plan.family]
    gate, claims = any_clear(c.asked for c in family), len(family)
    cross = cross_of(
        plan, results, day, redealer, deals=deals, may_be_clear=may_be_clear,
        is_final=judgement.is_final, claims=claims, gate=gate,
    )  # fmt: skip
    ladder = ladder_of(
        plan, results, day, redealer, deals=deals, may_be_clear=may_be_clear,
        is_final=judgement.is_final, claims=claims, gate=gate,
    )  # fmt: skip
    ladder = _as_called(ladder, judgement)
    told = [*(cross.says if cross else ()), *(ladder.says if ladder else ())]
    told += [s for r in together for s in r.says]
    verdicts = {c.sentence for c in judgement.comparisons}
    at = max((i + 1 for i, s in enumerate(judgement.says) if s in verdicts), default=0)
    judgement = replace(
        judgement,
        notes=(*judgement.notes, *notes),
        says=(*judgement.says[:at], *told, *judgement.says[at:]),
    )
    waits = {}
    if timed and plan.reference is not None:
        for c in judgement.comparisons:
            found = waiting_gap(results, c.index, plan.reference, c.horizon)
            if found is not None:
                waits[c.index] = found
    return Whole(
        judgement,
        placings(
            plan,
            results,
            day,
            redealer,
            deals=deals,
            is_final=is_final,
            is_drawn=drawn,
            called={c.index: any_clear([c.grade]) for c in judgement.comparisons},
            reference=plan.reference,
        ),
        cross,
        ladder,
        tuple(arm_times(results, a.index, a.horizon) for a in judgement.arms) if timed else (),
        waits,
        _higher(plan, results, judgement),
        together,
        _indices(plan, results, timed),
    )


def _as_called(ladder: Ladder | None, judgement: Judgement) -> Ladder | None:
    """A ladder that names no best dose where the verdict does not call that dose clear."""
    if ladder is None or ladder.best is None:
        return ladder
    on_best = [c.grade for c in judgement.comparisons if c.index == ladder.best]
    return ladder if not on_best or any_clear(on_best) else ladder.without_best()


def bare(judgement: Judgement) -> Whole:
    """A judgement with nothing beside it."""
    return Whole(judgement, None, None, None, (), {}, None, (), ())


def _higher(plan: Plan, results: Results, judgement: Judgement) -> float | None:
    """The companion in words: only for single plants, no blocks, one candidate alone."""
    one_block = len(np.unique(results.block)) == 1
    if plan.reference is None or len(plan.family) != 1 or results.has_shared_containers:
        return None
    called = {c.grade for c in judgement.comparisons}
    if not one_block or judgement.day == 0 or called & {Grade.CANNOT_TELL, None}:
        return None
    shares = unit_shares(results, judgement.day)
    told = []
    for arm in (plan.family[0], plan.reference):
        mine = shares.treatment == arm
        told.append((int(shares.struck[mine].sum()), int(shares.counted[mine].sum())))
    if min(n for _, n in told) < 1:
        return None
    return chance_higher(*told[0], *told[1])


def _indices(plan: Plan, results: Results, timed: bool) -> tuple[tuple[Index, ...], ...]:
    """Seed-testing indices of every treatment, from the days of first sighting."""
    if not timed or plan.kind is not Kind.SEED:
        return ()
    out: list[tuple[Index, ...]] = []
    arm = results.treatment[results.unit]
    for i in range(len(plan.treatments)):
        mine = arm == i
        looks = sorted(
            {
                d
                for t, days in zip(results.treatment, results.looks, strict=True)
                if t == i
                for d in days
            }
        )
        by = results.by[mine]
        if not looks or not mine.any():
            out.append(())
            continue
        days = sorted({*map(float, looks), *by[np.isfinite(by)].tolist()} - {0.0})
        new = [int(np.sum(by == d)) for d in days]
        out.append(indices(days, new, int(mine.sum())))
    return tuple(out)
