"""The dry run: a plan carried out again and again under truths the grower sets, through the finish.

Each season is drawn from its own stream, so that any one of them can be looked at again. The very
same judgement is used, with 2,000 deals for sampled tests.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from math import sqrt

import numpy as np

from racecard.core.arrays import Bools, Floats, Ints
from racecard.core.assess.counted import is_plain
from racecard.core.assess.grade import Grade
from racecard.core.assess.judge import grades_only
from racecard.core.assess.judgement import GradeOutcome
from racecard.core.assess.primary import Remembered
from racecard.core.assess.strike import unit_shares
from racecard.core.dryrun.simulate import Truth
from racecard.core.dryrun.truths import Nuisance, true_share
from racecard.core.finish.finish_result import Whole, whole_finish
from racecard.core.log.days import planned_looks
from racecard.core.log.measures import GRADED
from racecard.core.model import CHECKS, Cell, Kind, Layout, Measure, Plan
from racecard.core.model.results import Results
from racecard.core.plan.power import spread_of
from racecard.core.stats.permutation import PermutationTest
from racecard.core.text.amounts import points

RESAMPLES = 2_000
_SCORE_SPREAD = 0.9
_STEP = 10


@dataclass(frozen=True, slots=True)
class Tally:
    """What a dry run came to for one treatment, as counts of seasons.

    `effect`: true gap to the reference by the last day, a fraction; `right`, `likely`, `silent`,
    `wrong` add up to the seasons; `shown_when_called`: mean gap shown where it was called clear.
    """

    treatment: int
    effect: float
    right: int
    likely: int
    silent: int
    wrong: int
    mean_gap: float | None
    shown_when_called: float | None
    gap_low: float | None
    gap_high: float | None


@dataclass(frozen=True, slots=True)
class DryRun:
    """A whole dry run: `any_wrong` seasons with a wrong clear call, `best_first` with the best ahead.

    `seasons`: unlucky, usual and lucky season, by the gap of the best candidate.
    """

    done: int
    tallies: tuple[Tally, ...]
    any_wrong: int
    any_right: int
    best_first: float | None
    seasons: tuple[int, int, int]
    says: tuple[str, ...]


@dataclass(slots=True)
class Season:
    """Draws seasons of one plan; shares its re-deals over all of them."""

    plan: Plan
    cells: Sequence[Cell]
    truths: Sequence[Truth]
    nuisance: Nuisance
    seed: int
    permutations: PermutationTest
    remembered: Remembered = field(default_factory=dict)
    sizes: tuple[int, int] | None = None
    """Least and most plants in a container, drawn anew for each; None: as the plan says."""

    @classmethod
    def of(
        cls,
        plan: Plan,
        cells: Sequence[Cell],
        truths: Sequence[Truth],
        nuisance: Nuisance,
        seed: int,
    ) -> "Season":
        """Cells without a treatment are left out.

        Args:
            plan: the plan that is carried out.
            cells: its bench.
            truths: what each treatment truly does, in the order of the plan.
            nuisance: what else acts on plants, days and containers.
            seed: seed of all seasons; each draws from a stream of its own.
        """
        kept = [c for c in cells if c.treatment >= 0]
        return cls(plan, kept, truths, nuisance, seed, PermutationTest(seed))

    def results(self, number: int) -> tuple[Results, list[Cell]]:
        """What is seen in one season, and where its units stood.

        Args:
            number: which season, from 0.
        """
        seen = self.drawn(number)
        stood = zip(self.cells, seen.treatment, strict=True)
        return seen, [replace(c, treatment=int(a)) for c, a in stood]

    def drawn(self, number: int) -> Results:
        """What is seen in one season.

        Args:
            number: which season, from 0.
        """
        rng = np.random.default_rng([self.seed, number])
        block = np.array([c.block for c in self.cells], dtype=np.int64)
        arm = self._dealt(np.array([c.treatment for c in self.cells], dtype=np.int64), block, rng)
        each = np.array(self.plan.plants_of)[arm]
        if self.sizes is not None:
            each = rng.integers(self.sizes[0], self.sizes[1] + 1, len(arm))
        return draw_results(
            self.plan, arm, block, self.cells, self.truths, self.nuisance, rng, each
        )

    def _dealt(self, arm: Ints, block: Ints, rng: np.random.Generator) -> Ints:
        """A new lot: treatments shuffled within blocks, save where the layout binds them."""
        if self.plan.layout in (Layout.ROW_COLUMN, Layout.BY_HAND):
            return arm
        order = np.lexsort((rng.random(len(arm)), block))
        out = np.empty_like(arm)
        out[np.argsort(block, kind="stable")] = arm[order]
        return out

    def called(self, number: int) -> tuple[tuple[GradeOutcome, ...], Results]:
        """The grades of one season, by the steps of the finish, and what was seen in it.

        Args:
            number: which season, from 0.
        """
        results = self.drawn(number)
        found = grades_only(
            self.plan, results, permutations=self.permutations, resamples=RESAMPLES,
            lot_drawn=self.plan.layout is not Layout.BY_HAND, end_day=self.plan.length_days,
            remembered=self.remembered,
        )  # fmt: skip
        return found, results

    def judged(self, number: int) -> tuple[Whole, Results]:
        """One season through the whole finish, to be looked at.

        Args:
            number: which season, from 0.
        """
        results, cells = self.results(number)
        whole = whole_finish(
            self.plan, results, seed=self.seed, cells=cells, resamples=RESAMPLES,
            lot_drawn=self.plan.layout is not Layout.BY_HAND, end_day=self.plan.length_days,
        )  # fmt: skip
        return whole, results


def draw_results(
    plan: Plan,
    arm: Ints,
    block: Ints,
    cells: Sequence[Cell],
    truths: Sequence[Truth],
    nuisance: Nuisance,
    rng: np.random.Generator,
    each: Ints,
) -> Results:
    """What looks at every planned day would see, drawn for all units at once.

    Args:
        plan: the plan: plants in a container, look days, what is scored.
        arm, block: treatment and block of each unit, shape (u,).
        cells: where the units stand, for layouts that bind columns; their treatments are not read.
        truths: one a treatment.
        nuisance: what goes wrong.
        rng: source of chance.
        each: plants in each unit, shape (u,).
    """
    u = len(arm)
    unit = np.repeat(np.arange(u), each)
    strike, loss = _fates(truths, arm, block, unit, nuisance, rng)
    looks = np.array(planned_looks(plan), float)
    seen = np.ones((u, len(looks)), bool)
    if nuisance.missed:
        seen[:, :-1] = rng.random((u, len(looks) - 1)) >= nuisance.missed
    grid = np.broadcast_to(looks, seen.shape)
    if nuisance.apart_days:  # own ages: looks made for all fall earlier on those set late
        apart = rng.integers(0, nuisance.apart_days + 1, u)
        grid = np.where(np.arange(len(looks)) < len(looks) - 1, looks - apart[:, None], looks[-1])
        seen &= grid > 0
    days = np.where(seen, grid, np.inf)[unit]  # (p, k)
    after, by = _bracket(strike, days)
    lost_after, lost_by = _bracket(loss, days)
    removed = np.full(len(unit), np.inf)
    if nuisance.lifted:
        half = float(looks[len(looks) // 2 - 1]) if len(looks) > 1 else np.inf
        gone = (rng.random(len(unit)) < nuisance.lifted) & (by > half) & (lost_by > half)
        removed[gone] = half
        after[gone] = by[gone] = lost_after[gone] = lost_by[gone] = np.inf
    if nuisance.copied_wrong:
        after, by = _copied(after, by, lost_by, removed, float(looks[-1]), nuisance, rng)
    last = np.minimum(np.minimum(lost_by, removed), looks[-1])
    line = None
    if plan.layout is Layout.ROW_COLUMN:
        columns = max((c.col for c in cells), default=0) + 1
        line = np.array([c.tray * columns + c.col for c in cells], dtype=np.int64)
    return Results(
        arm, block, _scores(plan, truths, arm, by, rng), _looked(seen, grid), unit, after, by,
        lost_after, lost_by, removed, last, np.zeros(len(unit), bool), None, line,
    )  # fmt: skip


def _fates(
    truths: Sequence[Truth], arm: Ints, block: Ints, unit: Ints, nuisance: Nuisance,
    rng: np.random.Generator,
) -> tuple[Floats, Floats]:  # fmt: skip
    """True day of strike and of loss of every plant, inf where never; a plant does one of the two."""

    def of(name: str) -> Floats:
        return np.array([getattr(t, name) for t in truths], float)[arm]

    share = of("strike")
    if nuisance.block_points:
        shift = rng.normal(0, nuisance.block_points / 100, int(block.max()) + 1)[block]
        share = np.clip(share + shift, 0.0, 1.0)
    like = of("icc")
    mixed = (like > 0) & (share > 0) & (share < 1)
    if mixed.any():
        total = (1 - like[mixed]) / like[mixed]
        share[mixed] = rng.beta(share[mixed] * total, (1 - share[mixed]) * total)
    p = len(unit)
    strikes = rng.random(p) < share[unit]
    middle, spread = of("middle_day")[unit], of("spread_days")[unit]
    when = np.maximum(1.0, rng.gamma((middle / spread) ** 2, spread**2 / middle))
    rest = np.maximum(1e-9, 1 - of("strike"))
    lost = ~strikes & (rng.random(p) < np.minimum(1.0, of("loss") / rest)[unit])
    at = of("loss_day")[unit]
    gone = np.maximum(1.0, rng.normal(at, at / 4))
    return np.where(strikes, when, np.inf), np.where(lost, gone, np.inf)


def _bracket(true_day: Floats, days: Floats) -> tuple[Floats, Floats]:
    """Last look before and first look at or after each true day; inf where no look comes after."""
    later = days >= true_day[:, None]
    first = np.where(later & np.isfinite(days), days, np.inf).min(axis=1)
    before = np.where(~later, days, 0.0).max(axis=1, initial=0.0)
    struck = np.isfinite(first) & np.isfinite(true_day)
    return np.where(struck, before, np.inf), np.where(struck, first, np.inf)


def _copied(
    after: Floats, by: Floats, lost_by: Floats, removed: Floats, end: float, nuisance: Nuisance,
    rng: np.random.Generator,
) -> tuple[Floats, Floats]:  # fmt: skip
    """Some outcomes entered the wrong way round: struck as waiting, waiting as struck at the end."""
    wrong = (
        (rng.random(len(by)) < nuisance.copied_wrong)
        & ~np.isfinite(lost_by)
        & ~np.isfinite(removed)
    )
    struck = np.isfinite(by)
    by = np.where(wrong, np.where(struck, np.inf, end), by)
    after = np.where(wrong, np.where(struck, np.inf, max(0.0, end - 1)), after)
    return after, by


def _scores(
    plan: Plan, truths: Sequence[Truth], arm: Ints, by: Floats, rng: np.random.Generator
) -> Floats:
    """Root score of each unit at the end, 0 for those that did not strike; nan where none is asked."""
    asked = Measure.QUALITY in (plan.measure, *plan.secondary)
    if plan.graded_by and asked and plan.per_container == 1:
        mean = np.array([t.score for t in truths])[arm]
        tall = np.maximum(0.0, rng.normal(mean, spread_of(plan)))
        if GRADED[plan.graded_by].field.is_whole:
            tall = np.rint(tall)
        return np.where(np.isfinite(by), tall, 0.0)
    if not asked or plan.per_container > 1 or plan.kind is not Kind.CUTTING:
        return np.full(len(arm), np.nan)
    mean = np.array([t.score for t in truths])[arm]
    drawn = np.clip(np.rint(rng.normal(mean, _SCORE_SPREAD)), 1, 5)
    return np.where(np.isfinite(by), drawn, 0.0)


def _looked(seen: Bools, grid: Floats) -> tuple[frozenset[int], ...]:
    if seen.all() and np.all(grid == grid[0]):
        return (frozenset(int(d) for d in grid[0]),) * len(seen)
    return tuple(frozenset(int(d) for d in g[row]) for g, row in zip(grid, seen, strict=True))


@dataclass(slots=True)
class _Book:
    """What each season came to, kept as arrays: grades, gaps and whether the best was first."""

    grades: list[dict[int, Grade | None]]
    gaps: list[dict[int, float | None]]
    first: list[float]


def carry_out(
    season: Season, seasons: int, on_step: Callable[[int], bool] = lambda done: True
) -> DryRun:
    """Carry a plan out so many times.

    Args:
        season: what draws and judges one season; its truths were checked.
        seasons: how many.
        on_step: told how many are done, every ten; stops the run by answering False.
    """
    plan = season.plan
    end = float(plan.length_days)
    true = [true_share(t, end) for t in season.truths]
    book = _Book([], [], [])
    for i in _counted(seasons, on_step):
        found, results = season.called(i)
        book.grades.append({c.index: c.grade for c in found})
        book.gaps.append({c.index: c.gap for c in found})
        book.first.append(_best_is_first(true, _rates(results, len(true), end)))
    return _summed(plan, true, book)


def _rates(results: Results, arms: int, end: float) -> list[float | None]:
    """Mean share struck of the units of each treatment; None where it has none left."""
    if is_plain(results, end):
        n = np.bincount(results.treatment, minlength=arms)
        struck = np.bincount(results.treatment[np.isfinite(results.by)], minlength=arms)
        return [s / k if k else None for s, k in zip(struck.tolist(), n.tolist(), strict=True)]
    shares = unit_shares(results, end)
    known = shares.counted > 0
    sums = np.bincount(shares.treatment[known], shares.share[known], minlength=arms)
    units = np.bincount(shares.treatment[known], minlength=arms)
    return [float(s / n) if n else None for s, n in zip(sums, units, strict=True)]


def _counted(seasons: int, on_step: Callable[[int], bool]) -> Iterator[int]:
    for i in range(seasons):
        if i % _STEP == 0 and not on_step(i):
            return
        yield i
    on_step(seasons)


def _best_is_first(true: Sequence[float], rates: Sequence[float | None]) -> float:
    """1 where the truly best treatment struck most; a share where it did so with others."""
    best = max(range(len(true)), key=lambda i: true[i])
    known = [-1.0 if r is None else r for r in rates]
    top = [i for i, r in enumerate(known) if r >= max(known) - 1e-12]
    return 1 / len(top) if best in top else 0.0


_LIKELY = (Grade.LIKELY_LEAD, Grade.LIKELY_BEHIND)


def _summed(plan: Plan, true: Sequence[float], book: _Book) -> DryRun:
    reference = plan.reference
    done = len(book.grades)
    if reference is None or done == 0:
        return DryRun(
            done, (), 0, 0, None, (0, 0, 0), ("Without a control nothing is ever called.",)
        )
    tallies = tuple(
        _tally(i, true[i] - true[reference], book)
        for i in range(len(plan.treatments))
        if i != reference
    )
    family = [t.treatment for t in tallies if plan.treatments[t.treatment].role not in CHECKS]
    wrong = right = 0
    for grades in book.grades:
        calls = [_call(grades.get(i), true[i] - true[reference]) for i in family]
        wrong += "wrong" in calls
        right += "right" in calls
    sole = sorted(true)[-1] > sorted(true)[-2] + 1e-12
    best_first = float(np.mean(book.first)) if sole else None
    best = max(family, key=lambda i: true[i], default=None)
    out = DryRun(done, tallies, wrong, right, best_first, _seasons(book, best), ())
    return replace(out, says=_says(plan, out, family))


def _call(grade: Grade | None, effect: float) -> str:
    """What a grade is worth under a true effect: right, likely, silent or wrong."""
    if grade is Grade.CLEAR_LEAD:
        return "right" if effect > 1e-12 else "wrong"
    if grade is Grade.CLEARLY_BEHIND:
        return "right" if effect < -1e-12 else "wrong"
    if grade in _LIKELY:
        return "likely"
    return "silent"


def _tally(i: int, effect: float, book: _Book) -> Tally:
    calls = [_call(g.get(i), effect) for g in book.grades]
    gaps = [g[i] for g in book.gaps if g.get(i) is not None]
    clear = [
        g for g, c in zip((b.get(i) for b in book.gaps), calls, strict=True)
        if g is not None and c in ("right", "wrong")
    ]  # fmt: skip
    known = np.array(gaps, float)
    return Tally(
        i, effect, calls.count("right"), calls.count("likely"), calls.count("silent"), calls.count("wrong"),
        float(known.mean()) if len(known) else None,
        float(np.mean(clear)) if clear else None,
        float(np.quantile(known, 0.05)) if len(known) else None,
        float(np.quantile(known, 0.95)) if len(known) else None,
    )  # fmt: skip


def _seasons(book: _Book, best: int | None) -> tuple[int, int, int]:
    """An unlucky, a usual and a lucky season: tenth, half and nine tenths of the way by the gap shown."""
    if best is None:
        return (0, 0, 0)
    gaps = [(-9.0 if (g := b.get(best)) is None else g) for b in book.gaps]
    order = np.argsort(gaps, kind="stable")
    at = [round(q * (len(order) - 1)) for q in (0.1, 0.5, 0.9)]
    return (int(order[at[0]]), int(order[at[1]]), int(order[at[2]]))


def _says(plan: Plan, run: DryRun, family: Sequence[int]) -> tuple[str, ...]:
    out = []
    doubt = 100 * sqrt(0.25 / run.done)
    for t in run.tallies:
        if t.treatment not in family:
            continue
        name = plan.treatments[t.treatment].name
        if abs(t.effect) < 0.005:
            out.append(
                f"{name}, no true difference: called clear {_in(t.wrong, run.done)}, by chance alone."
            )
            continue
        wrong = f", clear but wrong {_in(t.wrong, run.done)}" if t.wrong else ""
        out.append(
            f"{name}, true difference {points(t.effect)} points: clear {_in(t.right, run.done)}, likely "
            f"{_in(t.likely, run.done)}, open {_in(t.silent, run.done)}{wrong}."
        )
        if t.shown_when_called is not None and abs(t.shown_when_called) > abs(t.effect) + 0.03:
            out.append(
                f"When {name} is called clear, the difference shown is {points(t.shown_when_called)} points on average: "
                "lucky trials are called clear more often, so first results shrink later."
            )
    if run.best_first is not None:
        out.append(
            f"The best treatment also shows the highest rate {_in(run.best_first * run.done, run.done)}."
        )
    out.append(
        f"From {run.done} simulated trials; each figure is accurate to about {2 * doubt:.0f} points."
    )
    return tuple(out)


def _in(n: float, of: int) -> str:
    if 0 < n < of / 200:
        return "less than once in 100"
    times = round(100 * n / of)
    return "once in 100" if times == 1 else f"{times} times in 100"
