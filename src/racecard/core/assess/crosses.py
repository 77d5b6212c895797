"""Crossed factors: main effects, what one factor does at each level of the other, interaction.

A main effect re-deals the labels of one factor within the levels of the others and the blocks. Its
null is that the factor did nothing at any level. The interaction is the difference of differences
in points with a t interval, its p named approximate; a logistic view stands beside it.

References:
    [1] Yates (1937), The Design and Analysis of Factorial Experiments.
    [2] McCullagh & Nelder (1989), Generalized Linear Models: quasi-binomial scale by Pearson.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import combinations, product
from math import prod

import numpy as np

from racecard.core.arrays import Floats, Ints
from racecard.core.assess.grade import Grade, grade_of, lowest, page_allows
from racecard.core.assess.outcome import outcome_units
from racecard.core.assess.strike import Missing, Shares, comparable, gap
from racecard.core.model import Measure, Plan
from racecard.core.model.differences import traits
from racecard.core.model.results import Results
from racecard.core.stats import special
from racecard.core.stats.multiplicity import CLEAR_LIMIT, below, holm
from racecard.core.stats.permutation import PermutationTest, minimum_p_within
from racecard.core.stats.proportions import Interval, t_for

MOST_FACTORS = 3


@dataclass(frozen=True, slots=True)
class Factor:
    """One factor: its levels in the order of the plan, and the level of each treatment."""

    name: str
    levels: tuple[str, ...]
    of: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Effect:
    """One level of a factor against its first, over all of the other factor or at one level of it.

    `within`: empty for the main effect, else "factor: level".
    """

    factor: str
    level: str
    base: str
    within: str
    gap: Interval
    p: float
    p_holm: float
    minimum_p: float
    grade: Grade
    is_final: bool = True


@dataclass(frozen=True, slots=True)
class Interaction:
    """Difference of differences of two factors of two levels, fractions or in the unit of the outcome.

    `p`: from the t interval; `logistic_p`: the same question on the scale of odds, with overdispersion;
    `leads`: it passes what the page allows, so that simple effects must be read first.
    """

    factors: tuple[str, str]
    gap: Interval
    p: float | None
    logistic_p: float | None
    leads: bool = False


@dataclass(frozen=True, slots=True)
class Cross:
    """A finish of crossed factors."""

    factors: tuple[Factor, ...]
    cells: tuple[tuple[int, ...], ...]
    main: tuple[Effect, ...]
    simple: tuple[Effect, ...]
    interactions: tuple[Interaction, ...]


def factors_of(plan: Plan) -> tuple[Factor, ...]:
    """The factors of a full cross, or none: every combination of levels is one treatment."""
    told = [traits(t) for t in plan.treatments]
    names = [
        n for n in dict.fromkeys(n for t in told for n in t)
        if len({t.get(n, "") for t in told}) > 1
    ]  # fmt: skip
    if not 2 <= len(names) <= MOST_FACTORS:
        return ()
    factors = []
    for n in names:
        levels = tuple(dict.fromkeys(t.get(n, "none") for t in told))
        factors.append(Factor(n, levels, tuple(levels.index(t.get(n, "none")) for t in told)))
    combos = set(zip(*(f.of for f in factors), strict=True))
    full = prod(len(f.levels) for f in factors)
    return tuple(factors) if len(combos) == len(told) == full else ()


def cross_of(
    plan: Plan,
    results: Results,
    horizon: float,
    permutations: PermutationTest,
    *,
    resamples: int,
    may_be_clear: bool,
    is_final: bool = True,
    claims: int = 0,
    gate: bool = True,
) -> Cross | None:
    """Main effects, simple effects and interactions on what is asked; None where the plan is no full cross.

    Args:
        plan: the plan; its properties name the factors.
        results: what was seen.
        horizon: day up to which strikes count.
        permutations: runs the lot tests.
        resamples: re-dealings of sampled tests.
        may_be_clear: False before the end is reached, or where the lot was not drawn.
        is_final: False before the end is reached.
        claims: how many claims the page makes besides these effects.
        gate: whether a primary result is clear.
    """
    factors = factors_of(plan)
    shares = outcome_units(plan, results, horizon)
    used = shares.keep(shares.counted > 0)
    if not factors or horizon == 0 or len(np.unique(used.treatment)) < len(plan.treatments):
        return None
    is_speed = plan.measure is Measure.SPEED
    tool = _Tool(used, factors, permutations, resamples, may_be_clear)  # of what is left alone
    asked_main = [(f, k, ()) for f in factors for k in range(1, len(f.levels))]
    asked_simple: list[_Asked] = []
    for f in factors:
        others = [g for g in factors if g is not f]
        for at in product(*(range(len(g.levels)) for g in others)):
            within = tuple(zip(others, at, strict=True))
            asked_simple += [(f, k, within) for k in range(1, len(f.levels))]
    crossed = [(f, g) for f, g in combinations(factors, 2) if len(f.levels) == len(g.levels) == 2]
    page = claims + len(asked_main) + len(asked_simple) + len(crossed)
    ways = [Missing.LEFT_OUT] if shares.is_whole else list(Missing)
    tools = [
        _Tool(shares, factors, permutations, resamples, may_be_clear, way, page, gate, is_speed)
        for way in ways
    ]
    main = _lowest_of([t.run(asked_main) for t in tools])
    graded = _lowest_of([t.run(asked_simple) for t in tools])
    interactions = _leading([tool.interaction(f, g) for f, g in crossed], main, page, gate=gate)
    cells = tuple(tuple(f.of[i] for f in factors) for i in range(len(plan.treatments)))
    if not is_final:
        main = tuple(replace(e, is_final=False) for e in main)
        graded = tuple(replace(e, is_final=False) for e in graded)
    return Cross(factors, cells, main, graded, interactions)


def _leading(
    found: Sequence[Interaction], main: Sequence[Effect], page: int, *, gate: bool
) -> tuple[Interaction, ...]:
    """Interactions, those that lead named so: Holm over them and the main effects, and what the page allows."""
    ps = [1.0 if i.p is None else i.p for i in found]
    adjusted = holm([*ps, *(e.p for e in main)])
    return tuple(
        replace(
            i,
            leads=i.gap.leaves_out_zero
            and below(a, CLEAR_LIMIT)
            and page_allows(p, page, any_clear=gate),
        )
        for i, p, a in zip(found, ps, adjusted, strict=False)
    )


def _lowest_of(ways: Sequence[Sequence[Effect]]) -> tuple[Effect, ...]:
    """Each effect as counted, at the lowest of its grades over the ways of counting."""
    return tuple(
        replace(found[0], grade=lowest([e.grade for e in found]))
        for found in zip(*ways, strict=True)
    )


_Asked = tuple[Factor, int, Sequence[tuple[Factor, int]]]
"""A factor, the level asked about, and the levels of others it is asked within."""


@dataclass(slots=True)
class _Tool:
    shares: Shares
    factors: Sequence[Factor]
    permutations: PermutationTest
    resamples: int
    may_be_clear: bool
    way: Missing = Missing.LEFT_OUT
    page: int = 0
    gate: bool = True
    is_speed: bool = False

    def run(self, asked: Sequence[_Asked]) -> tuple[Effect, ...]:
        """The effects asked about, graded together."""
        return self.graded([self.effect(*a) for a in asked])

    def effect(self, factor: Factor, level: int, within: Sequence[tuple[Factor, int]]) -> Effect:
        s = self.shares
        of = np.array(factor.of)[s.treatment]
        keep = np.isin(of, (0, level))
        for g, at in within:
            keep &= np.array(g.of)[s.treatment] == at
        mine = s.keep(keep)
        others = [np.array(g.of)[mine.treatment] for g in self.factors if g is not factor]
        key = np.column_stack([mine.block, *others])
        _, stratum = np.unique(key, axis=0, return_inverse=True)
        treated = np.array(factor.of)[mine.treatment] == level
        struck, counted = mine.struck, mine.counted
        if self.way is not Missing.LEFT_OUT:
            helps = treated if self.way is Missing.FOR else ~treated
            struck, counted = struck + (mine.sizes - mine.counted) * helps, mine.sizes
        whole = Shares(
            struck, counted, mine.removed, mine.lost, mine.sizes,
            treated.astype(np.int64), stratum.astype(np.int64), mine.held, mine.line, values=mine.values,
        )  # fmt: skip
        whole, _ = comparable(whole, 1, 0)
        treated = whole.treatment == 1
        said = ", ".join(f"{g.name}: {g.levels[at]}" for g, at in within)
        base = factor.levels[0]
        if not len(whole.treatment):
            nothing = Interval(0.0, None, None, "none", "no block holds both levels")
            return Effect(
                factor.name,
                factor.levels[level],
                base,
                said,
                nothing,
                1.0,
                1.0,
                1.0,
                Grade.CANNOT_TELL,
            )
        test = self.permutations.test(
            whole.share,
            treated,
            whole.block,
            resamples=self.resamples,
            held=whole.held,
            line=whole.line,
        )
        minimum_p = minimum_p_within(treated, whole.block, whole.held, whole.line)
        return Effect(
            factor.name, factor.levels[level], base, said, gap(whole, 1), test.p, test.p, minimum_p,
            Grade.TOO_CLOSE,
        )  # fmt: skip

    def graded(self, effects: Sequence[Effect]) -> tuple[Effect, ...]:
        """Holm over this family of effects, and its grades."""
        ps, floors = holm([e.p for e in effects]), holm([e.minimum_p for e in effects])
        return tuple(
            Effect(
                e.factor, e.level, e.base, e.within, e.gap, e.p, p, minimum_p,
                grade_of(
                    p_holm=p, minimum_p_holm=minimum_p, ahead=(e.gap.estimate > 0) is not self.is_speed, interval=e.gap,
                    may_be_clear=self.may_be_clear
                    and page_allows(e.p, self.page, any_clear=self.gate),
                ),
            )
            for e, p, minimum_p in zip(effects, ps, floors, strict=True)
        )  # fmt: skip

    def interaction(self, f: Factor, g: Factor) -> Interaction:
        """Difference of differences from cell means, averaged over any third factor."""
        s = self.shares
        a, b = np.array(f.of)[s.treatment], np.array(g.of)[s.treatment]
        arms = np.unique(s.treatment)
        pairs = len(arms) / 4
        sign = np.array([(1 if f.of[t] == g.of[t] else -1) / pairs for t in arms])
        estimate, spread, square, df = _contrast(s, arms, sign)
        name = (f.name, g.name)
        if df < 2:
            reason = "too few units for an interval"
            return Interaction(name, Interval(estimate, None, None, "none", reason), None, None)
        error = float(np.sqrt(square * spread))
        if error == 0:
            reason = "no unit differs from its kind"
            return Interaction(name, Interval(estimate, None, None, "none", reason), None, None)
        half = t_for(0.95, df) * error
        p = float(2 * special.stdtr(df, -abs(estimate) / error))
        low, high = estimate - half, estimate + half
        if s.values is None:
            low, high = max(-2.0, low), min(2.0, high)
        interval = Interval(estimate, low, high, "interaction")
        blocks = [s.block == v for v in np.unique(s.block)]
        third = [
            np.array(h.of)[s.treatment] == k
            for h in self.factors if h is not f and h is not g
            for k in range(1, len(h.levels))
        ]  # fmt: skip
        columns = np.column_stack([*blocks, *third, a == 1, b == 1, (a == 1) & (b == 1)])
        fit = (
            None
            if s.values is not None
            else quasi_logistic(s.struck, s.counted, columns.astype(float))
        )
        return Interaction(name, interval, p, None if fit is None else fit.p_of(-1))


def _contrast(s: Shares, arms: Ints, sign: Floats) -> tuple[float, float, float, int]:
    """A contrast of cell means with block effects taken out, as least squares of block + cells gives it.

    Returns:
        Its estimate, the factor of the mean square in its variance, the mean square of unit shares
        about the model, and its degrees of freedom.
    """
    blocks = np.unique(s.block)
    columns = np.column_stack(
        [s.treatment == a for a in arms] + [s.block == b for b in blocks[1:]]
    ).astype(float)
    fit, *_ = np.linalg.lstsq(columns, s.share, rcond=None)
    asked = np.zeros(columns.shape[1])
    asked[: len(arms)] = sign
    spread = float(asked @ np.linalg.pinv(columns.T @ columns) @ asked)
    df = len(s.share) - int(np.linalg.matrix_rank(columns))
    square = float(np.sum((s.share - columns @ fit) ** 2)) / max(df, 1)
    return float(asked @ fit), spread, square, df


@dataclass(frozen=True, slots=True, eq=False)
class Logistic:
    """A binomial model on the scale of log odds, with its Pearson scale."""

    coefficients: Floats
    errors: Floats
    deviance: float
    pearson: float
    df: int

    @property
    def scale(self) -> float:
        """Overdispersion, at least 1 [2]."""
        return max(1.0, self.pearson / self.df)

    def p_of(self, column: int) -> float:
        """Two-sided p of one coefficient from t at the overdispersed error."""
        t = self.coefficients[column] / (self.errors[column] * np.sqrt(self.scale))
        return float(2 * special.stdtr(self.df, -abs(t)))


def quasi_logistic(struck: Floats, counted: Floats, columns: Floats) -> Logistic | None:
    """Fit log odds of strike by iterated weighted least squares [2].

    Args:
        struck, counted: per unit, shape (u,), 0 <= struck <= counted, counted >= 1.
        columns: the model, shape (u, k), of full rank.

    Returns:
        None where some cell is all or none struck, so that no odds are finite, or no freedom is left.
    """
    df = len(struck) - columns.shape[1]
    if df < 1:
        return None
    share = (struck + 0.5) / (counted + 1)
    eta: Floats = np.log(share / (1 - share))
    beta: Floats = np.zeros(columns.shape[1])
    for _ in range(60):
        mu = 1 / (1 + np.exp(-eta))
        weight = counted * mu * (1 - mu)
        if np.any(weight < 1e-9):
            return None
        step = np.linalg.solve(
            columns.T @ (weight[:, None] * columns),
            columns.T @ (weight * eta + struck - counted * mu),
        )
        if np.max(np.abs(step)) > 20:
            return None
        done = np.max(np.abs(step - beta)) < 1e-10
        beta = np.asarray(step, dtype=np.float64)
        eta = np.asarray(columns @ beta, dtype=np.float64)
        if done:
            break
    mu = 1 / (1 + np.exp(-eta))
    information = columns.T @ ((counted * mu * (1 - mu))[:, None] * columns)
    errors = np.sqrt(np.diag(np.linalg.inv(information)))
    pearson = float(np.sum((struck - counted * mu) ** 2 / (counted * mu * (1 - mu))))
    with np.errstate(divide="ignore", invalid="ignore"):
        top = np.where(struck > 0, struck * np.log(struck / (counted * mu)), 0.0)
        rest = counted - struck
        bottom = np.where(rest > 0, rest * np.log(rest / (counted * (1 - mu))), 0.0)
    return Logistic(beta, errors, float(2 * np.sum(top + bottom)), pearson, df)
