"""Objections from the data: blocks that disagree, a gradient, containers and replicates that differ.

References:
    [1] Zelen (1971), Biometrika 58, 129-137: exact homogeneity of 2x2 tables.
    [2] Miles (1963), Proc. Int. Seed Test. Assoc. 28, 525-686: tolerances of four replicates of 100.
"""

from collections.abc import Iterator, Sequence
from math import comb, floor, prod, sqrt

import numpy as np

from racecard.core.arrays import Floats, Ints
from racecard.core.assess.strike import Shares
from racecard.core.log.goal import done
from racecard.core.notes.registry import Evidence, Needs, Said, Seen, rule
from racecard.core.stats import special
from racecard.core.stats.multiplicity import below
from racecard.core.streams import generator

_MOST_TABLES = 200_000
_DEALS = 4_000
_MANY_CONTAINERS = 200
_LIMIT = 0.05
_GRADIENT_LIMIT = 0.01
_Q = 3.98401
"""Upper 2.5 % point of the range of four standard normal values, by quadrature."""


def _seen(e: Evidence) -> Seen:
    assert e.seen is not None
    return e.seen


@rule("blocks_disagree", "Blocks disagree", Needs.SEEN, "blocks that disagree")
def blocks_disagree(e: Evidence) -> Iterator[Said]:
    """Fires where the exact test of homogeneity over blocks of single plants has p < 0.05."""
    plan, reference, used = e.plan, e.plan.reference, _seen(e).used
    if reference is None or used is None or np.any(used.sizes > 1):
        return
    blocks = np.unique(used.block)
    for i in plan.family if len(blocks) > 1 else ():
        tables = []
        for b in blocks:
            t, c = ((used.treatment == a) & (used.block == b) for a in (i, reference))
            tables.append(
                (int(used.struck[t].sum()), int(t.sum()), int(used.struck[c].sum()), int(c.sum()))
            )
        p = homogeneity(tables)
        if p is not None and below(p, _LIMIT):
            gaps = [x1 / n1 - x0 / n0 for x1, n1, x0, n0 in tables if n1 and n0]
            name, zero = plan.treatments[i].name, plan.treatments[reference].name
            yield (
                f"{name} against {zero} does not show the same difference in every block: from "
                f"{100 * min(gaps):.0f} to {100 * max(gaps):.0f} points, more than chance explains.",
                "Look for what differs between the blocks before trusting one figure for all.",
            )


def homogeneity(tables: Sequence[tuple[int, int, int, int]]) -> float | None:
    """Exact p that all 2x2 tables share one odds ratio [1].

    Args:
        tables: (struck treated, treated, struck control, control) of each block.

    Returns:
        Sum of the chances of all sets of tables with the same margins and the same treated total
        that are no more likely than this one; None where they are too many to count.
    """
    spans, weights = [], []
    for x1, n1, x0, n0 in tables:
        s = x1 + x0
        xs = range(max(0, s - n0), min(n1, s) + 1)
        spans.append((xs.start, x1))
        weights.append(np.array([float(comb(n1, x) * comb(n0, s - x)) for x in xs]))
        weights[-1] /= weights[-1].sum()
    if prod(len(w) for w in weights) > _MOST_TABLES:
        return None
    total, chance = np.zeros(1, dtype=np.int64), np.ones(1)
    for (low, _), w in zip(spans, weights, strict=True):
        total = np.add.outer(total, low + np.arange(len(w))).ravel()
        chance = np.multiply.outer(chance, w).ravel()
    mine = prod(float(w[x1 - low]) for (low, x1), w in zip(spans, weights, strict=True))
    same = chance[total == sum(x for _, x in spans)]
    return float(min(1.0, same[same <= mine * (1 + 1e-9)].sum() / same.sum()))


@rule("gradient", "Uneven bench", Needs.SEEN, "rows and gradients on the bench")
def uneven_bench(e: Evidence) -> Iterator[Said]:
    """Fires where strike depends on the row or column within treatment, lot test p < 0.01."""
    used, counted = _seen(e).used, _seen(e).shares.counted
    if used is None or len(e.cells) != len(counted):
        return
    cells = [c for c, n in zip(e.cells, counted, strict=True) if n > 0]
    for line in ("row", "column"):
        at = np.array([c.row if line == "row" else c.col for c in cells], float)
        p, rises = gradient(used.share, at, used.treatment, _seen(e).permutations.seed)
        if below(p, _GRADIENT_LIMIT):
            way = "more" if rises else "fewer"
            yield (
                f"Allowing for treatment, {way} {done(e.plan)} towards the last {line}, beyond what chance explains. The bench itself is uneven.",
                "Look at the map below for a draught, a warm side or a dry edge; next time use blocks across it.",
            )
            return


def gradient(share: Floats, at: Floats, treatment: Ints, seed: int) -> tuple[float, bool]:
    """P of "strike does not depend on the line", places re-dealt within treatment; and the way it goes.

    Args:
        share: share struck of each unit, shape (u,).
        at: number of its row or column.
        treatment: its treatment.
        seed: seed of the deals.
    """
    seen = variance = 0.0
    groups = []
    for a in np.unique(treatment):
        x, y = at[treatment == a], share[treatment == a]
        x, y = x - x.mean(), y - y.mean()
        seen += float(x @ y)
        if len(x) > 1:
            variance += float((x @ x) * (y @ y) / (len(x) - 1))
            groups.append((x, y))
    if variance == 0 or abs(seen) < 2.2 * sqrt(variance):
        return 1.0, seen > 0
    rng = generator(seed, "gradient", len(share))
    sums = np.zeros(_DEALS)
    for x, y in groups:
        sums += x[np.argsort(rng.random((_DEALS, len(x))), axis=1)] @ y
    hits = min(int(np.sum(sums >= seen - 1e-9)), int(np.sum(sums <= seen + 1e-9)))
    return min(1.0, 2 * (1 + hits) / (1 + _DEALS)), seen > 0


@rule("containers_disagree", "Containers vary", Needs.SEEN, "containers that vary")
def containers_disagree(e: Evidence) -> Iterator[Said]:
    """Fires where containers of one treatment differ more than plants dealt among them would."""
    used = _seen(e).used
    if used is not None and below(containers_p(used, _seen(e).permutations.seed), _LIMIT):
        yield (
            "Containers of one treatment vary more than chance explains, so something besides the treatment acts on containers.",
            "The analysis allows for it. Next time use more containers with fewer plants each.",
        )


def containers_p(used: Shares, seed: int) -> float:
    """P of "containers of a treatment and block vary as plants dealt among them would"; 1 of single plants.

    Args:
        used: units with something to count.
        seed: seed of the deals.
    """
    if np.all(used.sizes <= 1):
        return 1.0
    rng = generator(seed, "containers", len(used.sizes))
    observed, dealt = 0.0, np.zeros(_DEALS)
    for key in {(int(a), int(b)) for a, b in zip(used.treatment, used.block, strict=True)}:
        here = (used.treatment == key[0]) & (used.block == key[1])
        m, x = used.counted[here], used.struck[here]
        p = x.sum() / m.sum()
        if len(m) < 2 or p in (0, 1):
            continue
        scale = m * p * (1 - p)
        observed += float(np.sum((x - m * p) ** 2 / scale))
        if len(m) > _MANY_CONTAINERS:
            dealt += _dealt_to_many(m.astype(np.int64), p, rng)
            continue
        draws = rng.multivariate_hypergeometric(
            m.astype(np.int64), int(x.sum()), _DEALS, method="marginals"
        )
        dealt += ((draws - m * p) ** 2 / scale).sum(axis=1)
    if observed == 0:
        return 1.0
    return (1 + int(np.sum(dealt >= observed - 1e-9))) / (1 + _DEALS)


def _dealt_to_many(sizes: Ints, p: float, rng: np.random.Generator) -> Floats:
    """Pearson's statistic of as many containers of these sizes, each plant striking at the same rate.

    For hundreds of containers the total may vary as well: each statistic is taken at its own rate, and
    hardly depends on it. Only how many containers hold each number is drawn, whatever their number.
    """
    squares, total = np.zeros(_DEALS), np.zeros(_DEALS)
    for m, containers in zip(*np.unique(sizes, return_counts=True), strict=True):
        struck = np.arange(m + 1)
        logs = (
            special.gammaln(m + 1) - special.gammaln(struck + 1) - special.gammaln(m - struck + 1)
        )
        chance = np.exp(logs + struck * np.log(p) + (m - struck) * np.log1p(-p))
        held = rng.multinomial(containers, chance / chance.sum(), _DEALS)
        squares += held @ (struck**2 / m)
        total += held @ struck
    rate = total / sizes.sum()
    return np.asarray((squares - sizes.sum() * rate**2) / (rate * (1 - rate)))


@rule("replicates_apart", "Replicates too far apart", Needs.SEEN, "containers that vary")
def replicates_apart(e: Evidence) -> Iterator[Said]:
    """Fires where four replicates of 100 of one treatment range beyond the seed-testing tolerance."""
    used = _seen(e).used
    for i, t in enumerate(e.plan.treatments if used is not None else ()):
        assert used is not None
        mine = used.treatment == i
        if mine.sum() != 4 or not np.all(used.counted[mine] == 100):
            continue
        percents = used.struck[mine]
        mean = floor(float(percents.mean()) + 0.5)
        most = tolerance_of_four(mean)
        spread = int(percents.max() - percents.min())
        if most is not None and spread > most:
            yield (
                f"The four hundreds of {t.name} range over {spread} points; for a mean of {mean} % "
                f"the tolerance is {most}.",
                "Test that lot again before its figure is used.",
            )


def tolerance_of_four(mean_percent: int) -> int | None:
    """Largest tolerated range of four replicates of 100 seeds, points [2]; None outside 2 to 99 %.

    The published table as a formula that gives all of its 98 entries (from memory).
    """
    if not 2 <= mean_percent <= 99:
        return None
    p = mean_percent
    return floor(_Q * sqrt((p - 0.5) * (100.5 - p) / 100) + 0.19)
