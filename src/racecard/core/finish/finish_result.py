"""The whole finish: the judgement and everything that stands beside it on the page."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from racecard.core.arrays import Ints
from racecard.core.assess.crosses import Cross, cross_of
from racecard.core.assess.dose_series import DoseSeries, dose_series_of
from racecard.core.assess.grade import Grade, any_clear
from racecard.core.assess.horizon import horizon_of_all
from racecard.core.assess.judge import judge
from racecard.core.assess.judgement import Judgement
from racecard.core.assess.placings import Placings, placings
from racecard.core.assess.restricted_mean import ArmTimes, arm_times, waiting_gap
from racecard.core.assess.runs import RunsTogether, runs_together
from racecard.core.assess.strike import unit_shares
from racecard.core.model import Cell, Kind, Plan
from racecard.core.model.results import Results
from racecard.core.notes import Evidence, Kept, Note, Seen, Table, collect
from racecard.core.stats.permutation import RESAMPLES, PermutationTest
from racecard.core.stats.posterior import chance_higher
from racecard.core.stats.proportions import Interval
from racecard.core.stats.seed_indices import Index, indices
from racecard.core.text.companions import cross_statements, dose_statements, run_statements
from racecard.core.text.narrator import Answer, tell
from racecard.core.text.statement import ORDER, Section, Statement
from racecard.core.text.told import Told
from racecard.core.text.verdicts import verdict_statements, with_isolated_names


@dataclass(frozen=True, slots=True)
class Whole:
    """A judgement with its companions; each is None or empty where the design has none.

    `waits`: by treatment, the difference in mean waiting days; `higher`: chance that the one
    candidate's true rate is the higher one; `indices`: of each treatment, for seed.
    """

    judgement: Judgement
    statements: tuple[Statement, ...]
    notes: tuple[Note, ...]
    placings: Placings | None
    cross: Cross | None
    ladder: DoseSeries | None
    times: tuple[ArmTimes, ...]
    waits: dict[int, Interval]
    higher: float | None
    runs: tuple[RunsTogether, ...]
    indices: tuple[tuple[Index, ...], ...]
    answer: Answer | None = None
    told: Told | None = None

    def with_others(self, says: str) -> "Whole":
        """The same with what this run shows with others of its plan, a sentence, on its card."""
        if not says or self.told is None:
            return self
        told = replace(self.told, others=says)
        return replace(self, told=told, answer=tell(told))

    @property
    def headline(self) -> str:
        """Every finding in one line; "" where nothing was asked."""
        return self.answer.headline if self.answer else ""

    @property
    def says(self) -> tuple[str, ...]:
        """The sentences, in the order of the page."""
        return tuple(s.text for s in self.statements)

    def sentence(self, treatment: int) -> str:
        """The verdict on one treatment; "" where there is none."""
        verdicts = (s for s in self.statements if s.section is Section.VERDICT)
        return next((s.text for s in verdicts if s.about == treatment), "")

    def with_statements(self, more: Iterable[Statement]) -> "Whole":
        """The same with statements from elsewhere, each at its place."""
        return replace(self, statements=_in_order((*self.statements, *more)))


def _in_order(statements: Iterable[Statement]) -> tuple[Statement, ...]:
    return tuple(sorted(statements, key=lambda s: ORDER[s.section]))


def whole_finish(
    plan: Plan,
    results: Results,
    *,
    seed: int,
    cells: Sequence[Cell] = (),
    resamples: int = RESAMPLES,
    lot_drawn: bool | None = True,
    end_day: float | None = None,
    timed: bool = True,
    run: Ints | None = None,
    run_names: Sequence[str] = (),
    refused: frozenset[int] = frozenset(),
    kept: Kept | None = None,
    table: Table | None = None,
) -> Whole:
    """Judge a trial and all that stands beside the verdict; arguments as those of `judge`.

    Args:
        plan: the frozen plan.
        results: what was seen.
        seed: the trial's stored seed.
        cells: where the units stood.
        resamples: re-dealings of sampled tests.
        lot_drawn: whether the bench was drawn by lot; None where nobody recorded it.
        end_day: last day of the plan; None takes the results as finished.
        refused: treatments whose survivors were chosen, so that they are not compared.
        timed: False where the results tell no days.
        run: index into `run_names` of each unit's run, where several runs are put together.
        run_names: names of the runs.
        kept: what else a whole trial has kept, for the notes.
        table: the table the results came from, for the notes.
    """
    plan = with_isolated_names(plan)
    permutations = PermutationTest(seed)
    judgement = judge(
        plan, results, seed=seed, resamples=resamples, lot_drawn=lot_drawn, end_day=end_day, refused=refused,
        timed=timed, permutations=permutations,
    )  # fmt: skip
    drawn = lot_drawn is not False
    day = horizon_of_all(results, end_day).age
    is_final = judgement.is_final and not judgement.stopped_early and not refused
    may_be_clear = is_final and drawn
    seen = Seen(results, judgement, permutations, end_day, lot_drawn, resamples, refused)
    notes = collect(Evidence(plan, cells, seen, kept, table))
    told = Told(
        plan, judgement, notes, is_drawn=drawn, is_table=table is not None, runs=tuple(run_names)
    )
    if plan.count_singly and results.has_shared_containers:
        plain = replace(bare(plan, judgement), notes=notes)
        return replace(plain, indices=_indices(plan, results, timed), answer=tell(told), told=told)
    together = () if run is None else runs_together(plan, results, run, run_names, day)
    family = [c for c in judgement.comparisons if c.index in plan.family]
    gate, claims = any_clear(c.grade for c in family), len(family)
    cross = cross_of(
        plan, results, day, permutations, resamples=resamples, may_be_clear=may_be_clear,
        is_final=judgement.is_final, claims=claims, gate=gate,
    )  # fmt: skip
    ladder = dose_series_of(
        plan, results, day, permutations, resamples=resamples, may_be_clear=may_be_clear,
        is_final=judgement.is_final, claims=claims, gate=gate,
    )  # fmt: skip
    ladder = _as_called(ladder, judgement)
    statements = [
        *verdict_statements(plan, judgement.comparisons, judgement.is_final, judgement.day),
        *(cross_statements(plan, cross) if cross else ()),
        *(dose_statements(ladder) if ladder else ()),
        *(s for r in together for s in run_statements(plan, r)),
    ]
    waits = {}
    if timed and plan.reference is not None:
        for c in judgement.comparisons:
            found = waiting_gap(results, c.index, plan.reference, c.horizon)
            if found is not None:
                waits[c.index] = found
    placed = placings(
        plan, results, day, permutations, resamples=resamples, is_final=is_final, is_drawn=drawn,
        called={c.index: any_clear([c.grade]) for c in judgement.comparisons}, reference=plan.reference,
    )  # fmt: skip
    told = replace(told, placings=placed)
    return Whole(
        judgement,
        _in_order(statements),
        notes,
        placed,
        cross,
        ladder,
        tuple(arm_times(results, a.index, a.horizon) for a in judgement.arms) if timed else (),
        waits,
        _higher(plan, results, judgement),
        together,
        _indices(plan, results, timed),
        tell(told),
        told,
    )


def _as_called(ladder: DoseSeries | None, judgement: Judgement) -> DoseSeries | None:
    """A ladder that names no best dose where the verdict does not call that dose clear."""
    if ladder is None or ladder.best is None:
        return ladder
    on_best = [c.strike_grade for c in judgement.comparisons if c.index == ladder.best]
    return ladder if not on_best or any_clear(on_best) else ladder.without_best()


def bare(plan: Plan, judgement: Judgement) -> Whole:
    """A judgement in words, with nothing beside it."""
    told = verdict_statements(plan, judgement.comparisons, judgement.is_final, judgement.day)
    return Whole(
        judgement, _in_order(told),
        (), None, None, None, (), {}, None, (), (),
    )  # fmt: skip


def _higher(plan: Plan, results: Results, judgement: Judgement) -> float | None:
    """The companion in words: only for single plants, no blocks, one candidate alone."""
    one_block = len(np.unique(results.block)) == 1
    if plan.reference is None or len(plan.family) != 1 or results.has_shared_containers:
        return None
    called = {c.strike_grade for c in judgement.comparisons}
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
