"""Writes docs/calibration.md: how often the finish errs, and how often its ranges hold the truth.

make calibrate runs all of it, which takes minutes; tests/core/test_calibration.py a small part.
"""

import sys
from collections.abc import Callable, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from math import sqrt
from pathlib import Path
from typing import Any

import numpy as np
from tests.builders import a_plan

from racecard.core.assess.grade import Grade
from racecard.core.assess.judge import grades_only
from racecard.core.assess.strike import Shares, gap
from racecard.core.dryrun.simulate import Truth
from racecard.core.dryrun.simulate_trials import Season
from racecard.core.dryrun.truths import Nuisance, true_share
from racecard.core.finish.finish_result import whole_finish
from racecard.core.log.days import planned_looks
from racecard.core.model import CHECKS, Layout, Measure, Plan, Role
from racecard.core.plan.bench import draw_bench
from racecard.core.plan.exact import binomial_chances
from racecard.core.plan.power import power_at
from racecard.core.stats.posterior import next_share
from racecard.core.stats.proportions import newcombe, newcombe_paired, stratified_score, wilson

OUT = Path(__file__).parent.parent / "docs" / "calibration.md"
CLEAR = (Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND)
NOTHING_WRONG = Nuisance()
CARRIED = [Role.CONTROL, Role.CARRIER, *[Role.CANDIDATE] * 3]
NAMES = tuple(f"T{i}" for i in range(9))


@dataclass(frozen=True, slots=True)
class Case:
    """One null design: its plan, truths of every arm, and what goes wrong."""

    name: str
    plan: Plan
    truths: tuple[Truth, ...]
    nuisance: Nuisance = NOTHING_WRONG
    sizes: tuple[int, int] | None = None
    far: int | None = None
    """An arm that truly differs and is left out of the count."""


def null(name: str, arms: int, rate: float = 0.5, *, far: bool = False, **plan: Any) -> Case:
    """A design in which nothing differs, save one arm far away where asked."""
    told = dict(plan)
    nuisance = told.pop("nuisance", Nuisance())
    sizes = told.pop("sizes", None)
    truth = Truth(rate, 20, 6, icc=float(told.pop("alike", 0.0)), loss=float(told.pop("loss", 0.0)))
    truths = [truth] * arms
    if far:
        truths[-1] = replace(truth, strike=0.95 if rate < 0.9 else 0.05, loss=0.0)
    return Case(
        name, a_plan(*NAMES[:arms], **told), tuple(truths), nuisance, sizes,
        arms - 1 if far else None,
    )  # fmt: skip


def null_cases() -> list[Case]:
    """Every null design that is watched: treatments, units, blocks, pairs, containers, faults."""
    out = []
    for arms in (2, 5, 8):
        for units in (6, 12, 24, 60):
            out.append(null(f"{arms} treatments × {units}", arms, units=units))
    for arms, units, blocks in ((2, 8, 4), (2, 24, 4), (5, 24, 4), (8, 12, 3), (5, 60, 6)):
        out.append(
            null(
                f"{arms} × {units} in {blocks} blocks, blocks 15 points apart",
                arms,
                units=units,
                blocks=blocks,
                nuisance=Nuisance(block_points=15),
            )
        )
    out += [
        null(
            f"{n} pairs, 20 points apart",
            2,
            units=n,
            layout=Layout.PAIRS,
            nuisance=Nuisance(block_points=20),
        )
        for n in (6, 14, 30)
    ]
    for alike in (0.0, 0.1, 0.2):
        out.append(
            null(
                f"5 × 6 containers of 10, likeness {alike:g}",
                5,
                units=6,
                per_container=10,
                alike=alike,
            )
        )
        out.append(
            null(
                f"2 × 8 containers of 4 to 51, likeness {alike:g}",
                2,
                units=8,
                per_container=20,
                alike=alike,
                sizes=(4, 51),
            )
        )
    out.append(
        null(
            "2 × 8 containers of 10 in 4 blocks, likeness 0.1",
            2,
            units=8,
            blocks=4,
            per_container=10,
            alike=0.1,
        )
    )
    for rate in (0.1, 0.9):
        out.append(null(f"5 × 24, true strike {100 * rate:.0f} %", 5, rate, units=24))
    out.append(null("5 × 24, a fifth of looks missed", 5, units=24, nuisance=Nuisance(missed=0.2)))
    out.append(null("5 × 24, a fifth lost", 5, units=24, loss=0.2))
    out.append(null("5 × 24, 30 % lifted half-way", 5, units=24, nuisance=Nuisance(lifted=0.3)))
    out.append(
        null(
            "5 × 24, 5 % entered the wrong way round",
            5,
            units=24,
            nuisance=Nuisance(copied_wrong=0.05),
        )
    )
    out.append(null("5 × 24, one other arm far away", 5, units=24, far=True))
    out.append(null("5 × 24 in 4 blocks, one other arm far away", 5, units=24, blocks=4, far=True))
    out.append(
        null(
            "5 × 24, a fifth lost and 30 % lifted",
            5,
            units=24,
            loss=0.2,
            nuisance=Nuisance(lifted=0.3),
        )
    )
    out.append(null("2 × 24, set up to a week apart", 2, units=24, nuisance=Nuisance(apart_days=7)))
    out.append(null("14 pairs in households, up to a week apart", 2, units=14, layout=Layout.PAIRS,
                    nuisance=Nuisance(block_points=15, apart_days=7)))  # fmt: skip
    out.append(null("2 × 16, one lift at the end", 2, units=16, look_days=(42,)))
    unequal = null("10 against 40", 2, units=10)
    control = replace(unequal.plan.treatments[0], units=40)
    out.append(
        replace(
            unequal, plan=replace(unequal.plan, treatments=(control, unequal.plan.treatments[1]))
        )
    )
    for measure in (Measure.SPEED, Measure.QUALITY):
        out.append(null(f"5 × 16, judged on {measure.value}", 5, units=16, measure=measure))
    out.append(
        null(
            "5 × 12 in rows and columns, blocks 15 points apart",
            5,
            units=12,
            blocks=2,
            layout=Layout.ROW_COLUMN,
            nuisance=Nuisance(block_points=15),
        )
    )
    return out


def false_calls(case: Case, seasons: int, seed: int = 11) -> float:
    """Share of seasons with any clear call in the family, the far arm left out."""
    season = Season.of(case.plan, draw_bench(case.plan, seed), case.truths, case.nuisance, seed)
    season.sizes = case.sizes
    wrong = 0
    for i in range(seasons):
        called, _ = season.called(i)
        wrong += any(
            c.grade in CLEAR for c in called
            if c.index != case.far and case.plan.treatments[c.index].role not in CHECKS
        )  # fmt: skip
    return wrong / seasons


def page_cases() -> list[Case]:
    """Null designs whose page claims more than its verdicts: crosses and ladders."""
    cross = null("2 × 2 cross, 12 of each", 4, units=12, blocks=2)
    levels = ((), ("coat",), ("wetting",), ("coat", "wetting"))
    arms = tuple(
        replace(
            t,
            properties=tuple((name, "yes" if name in on else "no") for name in ("coat", "wetting")),
        )
        for t, on in zip(cross.plan.treatments, levels, strict=True)
    )
    ladder = null("ladder of 4 doses, 12 of each", 5, units=12, blocks=2)
    doses = tuple(
        replace(t, properties=(("active", "K"), ("strength", f"{500 * i} ppm")) if i else ())
        for i, t in enumerate(ladder.plan.treatments)
    )
    return [
        replace(cross, plan=replace(cross.plan, treatments=arms)),
        replace(ladder, plan=replace(ladder.plan, treatments=doses)),
        null("5 × 24, scored", 5, units=24, secondary=(Measure.QUALITY,)),
        null("8 × 24, one in five lost", 8, units=24, loss=0.2),
        null("untreated, carrier and 3 candidates, 24 of each", 5, units=24, roles=CARRIED),
        null("the same, judged on speed", 5, units=16, roles=CARRIED, measure=Measure.SPEED),
    ]


def page_calls(case: Case, seasons: int, seed: int = 21) -> float:
    """Share of seasons in which anything on the whole finish page is called clear."""
    season = Season.of(case.plan, draw_bench(case.plan, seed), case.truths, case.nuisance, seed)
    wrong = 0
    for i in range(seasons):
        results, cells = season.results(i)
        found = whole_finish(
            case.plan,
            results,
            seed=seed,
            cells=cells,
            resamples=2000,
            end_day=case.plan.length_days,
        )
        grades = [
            g
            for c in found.judgement.comparisons
            for g in (
                c.grade,
                c.beside.over_time.grade,
                c.beside.quality.grade,
                c.agent and c.agent.grade,
            )
            if case.plan.treatments[c.index].role not in CHECKS
        ]
        leads = any(c.harm for c in found.judgement.comparisons if c.index in case.plan.family)
        if found.cross:
            grades += [e.grade for e in (*found.cross.main, *found.cross.simple)]
            leads |= any(i.leads for i in found.cross.interactions)
        if found.ladder:
            grades.append(found.ladder.grade)
        first = found.placings is not None and len(found.placings.first) == 1
        wrong += first or leads or any(g in CLEAR for g in grades)
    return wrong / seasons


def next_time_of(
    leaders: int, units: int, seasons: int, *, sparse: bool, seed: int = 23
) -> tuple[float, float, float]:
    """Of the best of some candidates: how often the range of a repeat holds the truth, and by how much too high
    what is expected and what was seen are, points. Truths follow the prior; sparse: one of them is +20, none else.
    """
    rng = np.random.default_rng([seed, leaders, units, sparse])
    held, expected, seen = 0, 0.0, 0.0
    for _ in range(seasons):
        zero = rng.uniform(0.2, 0.7)
        if sparse:
            one = np.full(leaders, zero)
            one[0] += 0.20
        else:
            one = 1 / (1 + np.exp(-np.log(zero / (1 - zero)) - rng.normal(0, 0.9, leaders)))
        struck, base = rng.binomial(units, one), int(rng.binomial(units, zero))
        best = int(np.argmax(struck))
        e, true = next_share(int(struck[best]), units, base, units), one[best] - zero
        held += e.low <= true <= e.high
        expected += e.size - true
        seen += (struck[best] - base) / units - true
    return held / seasons, 100 * expected / seasons, 100 * seen / seasons


def half_coverage(units: int, seasons: int, seed: int = 22) -> float:
    """How often the days told beside "half struck by" hold the day on which half of all truly have."""
    truth = Truth(0.8, 20, 6)
    plan = a_plan("U", "A", units=units)
    season = Season.of(plan, draw_bench(plan, seed), (truth, truth), Nuisance(), seed)
    days = np.arange(1, 43)
    true_day = float(days[np.argmax([true_share(truth, float(d)) >= 0.5 for d in days])])
    held = told = 0
    for i in range(seasons):
        whole, _ = season.judged(i)
        low, high = whole.judgement.arms[1].half_limits
        if low is not None:
            told += 1
            held += low - plan.look_every_days < true_day and (high is None or true_day <= high)
    return held / max(1, told)


def peeks(seasons: int, seed: int = 12) -> tuple[float, float]:
    """Share of null trials called clear at any look before the end by the finish; and by a plain reader.

    The plain reader calls p < 0.05 at any look. The finish says "so far" and never clear.
    """
    plan = a_plan("U", "A", units=24, length_days=42, look_every_days=4)
    season = Season.of(plan, draw_bench(plan, seed), (Truth(0.5, 20, 6),) * 2, Nuisance(), seed)
    finish = naive = 0
    looks = planned_looks(plan)
    for i in range(seasons):
        results, _ = season.results(i)
        early = any_below = False
        for day in looks[:-1]:
            kept = replace(
                results, looks=tuple(frozenset(d for d in x if d <= day) for x in results.looks),
                by=np.where(results.by <= day, results.by, np.inf),
                after=np.where(results.by <= day, results.after, np.inf),
                last=np.minimum(results.last, day),
            )  # fmt: skip
            found = grades_only(
                plan, kept, permutations=season.permutations, end_day=plan.length_days
            )
            early |= found[0].grade in CLEAR
            plain = grades_only(plan, kept, permutations=season.permutations, end_day=day)
            any_below |= plain[0].grade in CLEAR
        finish += early
        naive += any_below
    return finish / seasons, naive / seasons


RATES = np.arange(0.05, 0.951, 0.05)


def arm_coverage(n: int) -> tuple[float, float]:
    """Mean and least chance, over true rates of 5 to 95 %, that Wilson's range of n plants holds the rate."""
    limits = [wilson(k, n) for k in range(n + 1)]
    found = [
        float(sum(c for c, i in zip(binomial_chances(n, p), limits, strict=True) if i.low <= p <= i.high))  # type: ignore[operator]
        for p in RATES
    ]  # fmt: skip
    return float(np.mean(found)), min(found)


def gap_coverage(n: int) -> tuple[float, float]:
    """The same for Newcombe's range of the gap between two arms of n, over all pairs of rates."""
    low, high = np.zeros((n + 1, n + 1)), np.zeros((n + 1, n + 1))
    for a in range(n + 1):
        for b in range(n + 1):
            i = newcombe(a, n, b, n)
            low[a, b], high[a, b] = i.low or 0.0, i.high or 0.0
    chances = [binomial_chances(n, p) for p in RATES]
    found = [
        float(x @ ((low <= p - q + 1e-12) & (high >= p - q - 1e-12)) @ y)
        for p, x in zip(RATES, chances, strict=True)
        for q, y in zip(RATES, chances, strict=True)
    ]
    return float(np.mean(found)), min(found)


def drawn_coverage(
    draw: Callable[[np.random.Generator, float, float], tuple[float | None, float | None]],
    draws: int,
    seed: int = 13,
) -> tuple[float, float]:
    """Mean and least coverage over pairs of rates 10 to 90 % of an interval that is drawn and fitted."""
    rng = np.random.default_rng(seed)
    found = []
    for p in (0.1, 0.3, 0.5, 0.7, 0.9):
        for q in (0.1, 0.3, 0.5, 0.7, 0.9):
            held = known = 0
            for _ in range(draws):
                low, high = draw(rng, p, q)
                if low is not None and high is not None:
                    known += 1
                    held += low - 1e-9 <= p - q <= high + 1e-9
            if known:
                found.append(held / known)
    return float(np.mean(found)), min(found)


def blocks_drawn(blocks: int, each: int) -> Callable[..., tuple[float | None, float | None]]:
    """Single plants in blocks that differ by 10 points."""

    def draw(rng: np.random.Generator, p: float, q: float) -> tuple[float | None, float | None]:
        n = np.full(blocks, each)
        found = stratified_score(rng.binomial(n, p), n, rng.binomial(n, q), n)
        return found.low, found.high

    return draw


def pairs_drawn(pairs: int) -> Callable[..., tuple[float | None, float | None]]:
    """Pairs of single plants, independent."""

    def draw(rng: np.random.Generator, p: float, q: float) -> tuple[float | None, float | None]:
        a, b = rng.random(pairs) < p, rng.random(pairs) < q
        found = newcombe_paired(
            int((a & b).sum()), int((a & ~b).sum()), int((~a & b).sum()), int((~a & ~b).sum())
        )
        return found.low, found.high

    return draw


def containers_drawn(
    each: int, plants: int, alike: float
) -> Callable[..., tuple[float | None, float | None]]:
    """Containers of one size, their rates from a beta curve with this likeness."""

    def draw(rng: np.random.Generator, p: float, q: float) -> tuple[float | None, float | None]:
        total = (1 - alike) / alike
        struck = np.concatenate(
            [rng.binomial(plants, rng.beta(r * total, (1 - r) * total, each)) for r in (p, q)]
        )
        sizes = np.full(2 * each, float(plants))
        arm = np.repeat([1, 0], each)
        nothing = np.zeros(2 * each)
        units = Shares(
            struck.astype(float),
            sizes,
            nothing,
            nothing,
            sizes,
            arm,
            np.zeros(2 * each, dtype=np.int64),
        )
        found = gap(units, 1)
        return found.low, found.high

    return draw


def planner(seasons: int, seed: int = 14) -> list[tuple[str, float, float]]:
    """Power as the plan page tells it, and the share of seasons called clear by the test."""
    out = []
    for name, plan, strikes in (
        ("2 × 24, 50 % against 80 %", a_plan(units=24, expected_percent=50, gap_points=30), (0.5, 0.8)),
        ("2 × 24 in 4 blocks", a_plan(units=24, blocks=4, expected_percent=50, gap_points=30), (0.5, 0.8)),
        ("2 × 40 pairs", a_plan(units=40, layout=Layout.PAIRS, expected_percent=40, gap_points=30), (0.4, 0.7)),
        ("2 × 10 containers of 8, likeness 0.1", a_plan(units=10, per_container=8, icc=0.1, expected_percent=40, gap_points=30), (0.4, 0.7)),
    ):  # fmt: skip
        alike = plan.icc if plan.per_container > 1 else 0.0
        truths = tuple(Truth(s, 14, 2, icc=alike) for s in strikes)
        season = Season.of(plan, draw_bench(plan, seed), truths, Nuisance(), seed)
        hits = 0
        for i in range(seasons):
            results, _ = season.results(i)
            shares_p = _p_of(season, results)
            hits += shares_p < 0.05
        told = power_at(plan, plan.gap_points)
        out.append((name, told, hits / seasons))
    return out


def _p_of(season: Season, results: object) -> float:
    from racecard.core.assess.strike import comparable, unit_shares
    from racecard.core.model.results import Results

    assert isinstance(results, Results)
    units, _ = comparable(unit_shares(results, season.plan.length_days), 1, 0)
    return season.permutations.test(
        units.share, units.treatment == 1, units.block, resamples=2000
    ).p


def _page(job: tuple[Case, int]) -> tuple[str, float]:
    return job[0].name, page_calls(*job)


def _false(job: tuple[Case, int]) -> tuple[str, float]:
    return job[0].name, false_calls(*job)


def main(seasons: int, draws: int) -> None:
    """Run everything and write the page."""
    lines = [HEAD.format(seasons=seasons, draws=draws)]
    with ProcessPoolExecutor(2) as pool:
        rows = list(pool.map(_false, [(c, seasons) for c in null_cases()]))
        pages = list(pool.map(_page, [(c, seasons) for c in page_cases()]))
    doubt = 2 * sqrt(0.05 * 0.95 / seasons)
    worst = max(share for _, share in rows)
    lines += [FALSE, "| design | trials with any false clear call |", "|---|---|"]
    lines += [f"| {name} | {100 * share:.1f} % |" for name, share in rows]
    lines += [
        "",
        f"The most is {100 * worst:.1f} %; the mark is 5 %, and {seasons} trials are sure to about {100 * doubt:.1f} points.",
        "",
        figure(rows),
        "",
    ]
    lines += [PAGE, "| page | trials with anything called clear |", "|---|---|"]
    lines += [f"| {name} | {100 * share:.1f} % |" for name, share in pages]
    lines += [
        NEXT,
        "| world | best of | of each | the range holds the truth | expected, too high by | seen, too high by |",
        "|---|---|---|---|---|---|",
    ]
    for sparse in (False, True):
        for leaders, units in ((1, 24), (4, 12), (4, 24), (6, 12), (6, 24), (6, 40)):
            told = next_time_of(leaders, units, seasons, sparse=sparse)
            world = "one of them +20, the rest nothing" if sparse else "truths follow the prior"
            lines += [
                f"| {world} | {leaders} | {units} | {100 * told[0]:.1f} % | {told[1]:+.1f} | {told[2]:+.1f} |"
            ]
    finish, naive = peeks(seasons // 4)
    lines += [PEEK.format(finish=100 * finish, naive=100 * naive, trials=seasons // 4)]
    lines += [COVER, "| range | mean over true rates | least at any rate |", "|---|---|---|"]
    lines += [_row(f"one arm of {n} (Wilson)", arm_coverage(n)) for n in (4, 8, 16, 24, 60)]
    lines += [_row(f"gap, two arms of {n} (Newcombe)", gap_coverage(n)) for n in (4, 8, 16, 24, 60)]
    lines += [
        _row(f"gap, {b} blocks of {n} and {n}", drawn_coverage(blocks_drawn(b, n), draws))
        for b, n in ((2, 4), (4, 6), (6, 10))
    ]
    lines += [_row(f"gap, {n} pairs", drawn_coverage(pairs_drawn(n), draws)) for n in (8, 14, 30)]
    lines += [
        _row(
            f"gap, {n} and {n} containers of 10, likeness 0.2",
            drawn_coverage(containers_drawn(n, 10, 0.2), draws),
        )
        for n in (2, 3, 4, 6)
    ]
    lines += [HALF, "| plants of a treatment | the days hold the true day |", "|---|---|"]
    lines += [f"| {n} | {100 * half_coverage(n, seasons // 4):.1f} % |" for n in (8, 24, 60)]
    lines += ["", PLAN, "| design | the plan page says | simulated |", "|---|---|---|"]
    lines += [
        f"| {name} | {100 * told:.1f} % | {100 * seen:.1f} % |"
        for name, told, seen in planner(4 * seasons)
    ]
    OUT.write_text("\n".join(lines) + "\n")
    sys.stdout.write(f"{OUT} is written.\n")


def _row(name: str, found: tuple[float, float]) -> str:
    return f"| {name} | {100 * found[0]:.1f} % | {100 * found[1]:.1f} % |"


def figure(rows: Sequence[tuple[str, float]]) -> str:
    """The false calls as bars of text, so that the page needs nothing but itself."""
    wide = max(len(name) for name, _ in rows)
    bars = [
        f"{name.ljust(wide)} {'█' * round(1000 * share)}{'·' * max(0, 50 - round(1000 * share))}| {100 * share:.1f}"
        for name, share in rows
    ]
    return (
        "```text\n"
        + "\n".join(bars)
        + f"\n{' ' * wide} {'each block is 0.1 %; the bar ends at the mark of 5 %'}\n```"
    )


HEAD = """# Calibration

How often the finish errs when nothing differs, and how often its ranges hold the truth. Made by
`make calibrate` from {seasons} drawn trials a design ({draws} draws a pair of rates for ranges that are
drawn), through the very steps of the finish; a short version runs in the tests. Nothing here is about
plants: it is about how far the words of the finish can be trusted.
"""
FALSE = """## Nothing differs: how often is anything called clear?

Each trial counts once if any candidate is called a clear lead or clearly behind.
"""
PAGE = """
## The whole page

Anything called clear anywhere on the page: verdicts, an agent beyond its carrier, harm, over time, root
scores, factors and their interaction, trend, first place.
A result beside the verdicts is clear only behind a clear verdict, or past a correction over the page.
"""
NEXT = """
## What to expect next time

After a lead the finish tells what a repeat may bring: the difference shrunk to what such treatments usually
bring. Points, of the best candidate of each trial; where all but one do nothing, little of any trial is true.
"""
HALF = """
## Half struck by

The days at which the 95 % limits of a treatment's curve cross one half, against the true day.
"""
PEEK = """## Reading a running trial at every round

Of {trials} trials in which nothing differs, read at each of their rounds, the finish called {finish:.1f} %
clear before the last day. A reader who calls p below 0.05 at any round would have called {naive:.1f} %.
"""
COVER = """## Do the ranges hold the truth?

Ranges are meant to hold it 95 times in 100. Wilson's and Newcombe's are enumerated over true rates of 5
to 95 %; the others are drawn over rates of 10 to 90 %.
"""
PLAN = """## Does the plan page promise what the finish does?
"""

if __name__ == "__main__":
    main(*(int(a) for a in sys.argv[1:3]) if len(sys.argv) > 2 else (2000, 300))
