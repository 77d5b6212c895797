"""Prints the benchmarks, each as a ratio to a named library in the same run: make bench.

`make bench SAVE=1` keeps the run in docs/bench-history.jsonl; a later run says what got slower.
"""

import gzip
import os
import re
import sqlite3
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
import warnings
from collections.abc import Callable, Iterator
from dataclasses import replace
from datetime import timedelta
from itertools import cycle
from pathlib import Path

import numpy as np
from scipy.stats import fisher_exact, permutation_test
from tests.builders import a_plan
from tests.cli.test_main import free_port

from racecard.api.rounds import get_round
from racecard.api.standings import lines_of_all, tasks_of_all
from racecard.core.arrays import Floats
from racecard.core.assess.judge import judge
from racecard.core.dryrun.simulate import Truth
from racecard.core.dryrun.simulate_trials import Season, carry_out
from racecard.core.dryrun.truths import Nuisance
from racecard.core.finish.finish_result import whole_finish
from racecard.core.model import History, Kind, Measure, Plan, Role, Treatment, Trial
from racecard.core.model.observation import Observation
from racecard.core.model.results import Results, results_from
from racecard.core.plan.bench import draw_bench
from racecard.core.plan.exact import arms_table
from racecard.core.plan.power import power_of_plan
from racecard.core.plan.sampled import Bench, sampled_power, strike_profile
from racecard.core.stats.interval_curve import fit_curve, self_consistent, strike_scores
from racecard.core.stats.permutation import PermutationTest, first_chunk
from racecard.store.engine import Shed
from racecard.store.rounds import record
from racecard.store.trials import create_trial, start_trial
from tools.bench_record import Record

ROOT = Path(__file__).parent.parent
ARMS, EACH, LOOKS = 8, 96, tuple(range(2, 62, 2))
NAMES = tuple(f"T{i}" for i in range(ARMS))
FOUND = Record()


def timed(call: Callable[[], object], runs: int = 7) -> float:
    """Median seconds of some runs after one to warm up."""
    call()
    took = []
    for _ in range(runs):
        start = time.perf_counter()
        call()
        took.append(time.perf_counter() - start)
    return statistics.median(took)


def big_trial(rng: np.random.Generator) -> tuple[Results, Floats, Floats]:
    """8 treatments of 96 with 30 looks and root scores; and the ends of the intervals."""
    days = np.where(rng.random((ARMS, EACH)) < 0.7, rng.gamma(9, 3, (ARMS, EACH)), np.inf)
    grid = np.array([0, *LOOKS])
    at = np.searchsorted(grid, days.ravel())
    by = np.append(grid, np.inf)[at]
    after = np.where(np.isfinite(by), grid[np.minimum(at, len(grid)) - 1], np.inf)
    histories = [
        [History(int(a), int(b), last_look=60) if np.isfinite(b) else History(last_look=60)]
        for a, b in zip(after, by, strict=True)
    ]
    scores = [float(s) for s in rng.integers(0, 6, ARMS * EACH)]
    treatment = list(np.repeat(np.arange(ARMS), EACH))
    return (
        results_from(treatment, [0] * len(treatment), histories, [LOOKS] * len(treatment), scores),
        after,
        by,
    )


def finish_by_libraries(results: Results, after: Floats, by: Floats) -> None:
    """The same pieces from lifelines and scipy: curves, Fisher tests, re-dealt scores."""
    from lifelines import KaplanMeierFitter

    arm = results.treatment
    for i in range(ARMS):
        mine = arm == i
        low = np.where(np.isfinite(by[mine]), after[mine] + 1e-6, 60)
        KaplanMeierFitter().fit_interval_censoring(low, by[mine])
    struck = np.isfinite(by)
    for i in range(1, ARMS):
        a, b = int(struck[arm == i].sum()), int(struck[arm == 0].sum())
        fisher_exact([[a, EACH - a], [b, EACH - b]])
        for values in (np.minimum(by, 99), results.score):
            permutation_test(
                (values[arm == i], values[arm == 0]), lambda x, y, axis: x.mean(axis) - y.mean(axis),
                vectorized=True, n_resamples=20_000, rng=1,
            )  # fmt: skip


def bench_finish() -> None:
    results, after, by = big_trial(np.random.default_rng(1))
    plan = a_plan(*NAMES, units=EACH)
    ours = timed(lambda: judge(plan, results, seed=1, end_day=60))
    theirs = timed(lambda: finish_by_libraries(results, after, by), runs=3)
    FOUND.say("finish of 8 x 96 with 30 looks", ours, goal=0.06, theirs=theirs, library="lifelines and scipy", goal_ratio=40)  # fmt: skip
    FOUND.say("the same, the first time for its seed", timed(lambda: judge_anew(plan, results)))
    FOUND.say("finish of 5 x 24 in 4 blocks", judge_normal(), goal=0.1)


def judge_anew(plan: Plan, results: Results) -> None:
    first_chunk.cache_clear()
    judge(plan, results, seed=1, end_day=60)


def judge_normal() -> float:
    rng = np.random.default_rng(2)
    block = np.tile(np.repeat(np.arange(4), 6), 5)
    looks = range(3, 43, 3)
    histories = []
    for _ in block:
        day = rng.choice(looks)
        histories.append(
            [
                History(int(day) - 3, int(day), last_look=42)
                if rng.random() < 0.6
                else History(last_look=42)
            ]
        )
    scores = [float(s) for s in rng.integers(0, 6, len(block))]
    results = results_from(
        list(np.repeat(np.arange(5), 24)), list(block), histories, [looks] * 120, scores
    )
    plan = a_plan(*NAMES[:5], units=24, blocks=4)
    return timed(lambda: judge(plan, results, seed=1, end_day=42))


def bench_curves() -> None:
    from lifelines import KaplanMeierFitter

    rng = np.random.default_rng(3)
    for n in (500, 5000):
        day = rng.gamma(9, 2, n)
        for name, low, high in (
            ("shared look days", 3 * np.floor(day / 3), 3 * np.floor(day / 3) + 3),
            (
                "looks of each its own",
                np.floor(2 * day) / 2,
                np.floor(2 * day) / 2 + rng.choice([1, 2, 3], n) / 2,
            ),
        ):
            ours = timed(lambda low=low, high=high: self_consistent(low, high, 0))
            theirs = timed(
                lambda low=low, high=high: KaplanMeierFitter().fit_interval_censoring(
                    low + 1e-6, high
                ),
                runs=3,
            )
            FOUND.say(f"curve of {n}, {name}", ours, theirs=theirs, library="lifelines", goal_ratio=20)  # fmt: skip


def bench_power() -> None:
    rng = np.random.default_rng(4)
    draws = rng.binomial(24, (0.3, 0.6), (10_000, 2))

    def enumerate_anew() -> None:
        arms_table.cache_clear()
        arms_table(24, 24, 1).power(0.3, 0.6)

    def loop(k: int) -> None:
        for a, b in draws[:k]:
            fisher_exact([[a, 24 - a], [b, 24 - b]])

    def loop_remembering() -> None:
        seen: dict[tuple[int, int], float] = {}
        for a, b in draws:
            if (a, b) not in seen:
                seen[a, b] = fisher_exact([[a, 24 - a], [b, 24 - b]])[1]

    ours = timed(enumerate_anew)
    FOUND.say("exact power, 24 each, tables made anew", ours, theirs=10 * timed(lambda: loop(1000), runs=1), library="10,000 Fisher tests (a tenth timed)")  # fmt: skip
    FOUND.say("exact power, 24 each", ours, theirs=timed(loop_remembering, runs=1), library="the loop that remembers tables")  # fmt: skip


def bench_plan_answer() -> None:
    """Power of eight jars of ten against a tenth of as many simulated trials, each re-dealt."""
    bench, n = Bench((8,), (8,), 10, 0.1), 800
    rng = np.random.default_rng(6)
    pots = rng.binomial(10, np.repeat((0.8, 0.5), 8), size=(n, 16)) / 10
    treated, block = np.arange(16) < 8, np.zeros(16, dtype=np.int64)

    def loop() -> None:
        for shares in pots:
            PermutationTest(1).test(shares, treated, block)

    ours = timed(lambda: sampled_power(bench, strike_profile(0.5), strike_profile(0.8)))
    FOUND.say("simulated power, 8 x 10", ours, theirs=10 * timed(loop, runs=1), library="8,000 lot tests (a tenth timed)")  # fmt: skip
    plan = a_plan("U", "A", "B", "C", units=24, blocks=4)
    took = timed(lambda: power_of_plan(replace(plan, gap_points=float(rng.uniform(5, 40)))))
    FOUND.say("a plan's power, 4 x 24 in 4 blocks", took, goal=0.06)


def bench_dry_run() -> None:
    """Seasons of 5 x 16 through the finish, against the same pieces from libraries season by season."""
    plan = a_plan(*NAMES[:5], units=16, secondary=(Measure.QUALITY,))
    truths = [Truth(0.4 + 0.1 * i, 24, 6, loss=0.05) for i in range(5)]
    season = Season.of(plan, draw_bench(plan, 1), truths, Nuisance(), 1)
    grades = timed(lambda: carry_out(season, 200), runs=3) / 200
    whole = timed(lambda: [season.judged(i) for i in range(40)], runs=3) / 40
    drawn = [season.results(i)[0] for i in range(5)]
    theirs = timed(lambda: [season_by_libraries(r) for r in drawn], runs=1) / 5
    FOUND.say("a season of 5 x 16, the whole finish", whole, theirs=theirs, library="lifelines and scipy")  # fmt: skip
    FOUND.say("a dry run of 1,000 seasons of 5 x 16", 1e3 * grades, goal=0.6, theirs=1e3 * theirs, library="lifelines and scipy", goal_ratio=150)  # fmt: skip


def season_by_libraries(results: Results) -> None:
    """Curves, Fisher tests and re-dealt days and scores of one season, 2,000 deals each."""
    from lifelines import KaplanMeierFitter

    arm, struck = results.treatment, np.isfinite(results.by)
    days = np.where(struck, results.by, 99.0)
    for i in range(5):
        mine = arm == i
        low = np.where(struck[mine], results.after[mine] + 1e-6, 42)
        KaplanMeierFitter().fit_interval_censoring(
            low, np.where(struck[mine], results.by[mine], np.inf)
        )
    for i in range(1, 5):
        a, b = int(struck[arm == i].sum()), int(struck[arm == 0].sum())
        fisher_exact([[a, 16 - a], [b, 16 - b]])
        for values in (days, results.score):
            permutation_test(
                (values[arm == i], values[arm == 0]), lambda x, y, axis: x.mean(axis) - y.mean(axis),
                vectorized=True, n_resamples=2_000, rng=1,
            )  # fmt: skip


def bench_logrank() -> None:
    """Log-rank scores of 8 x 500 on shared look days, with their chi-square, against survdiff."""
    from statsmodels.duration.survfunc import survdiff

    rng = np.random.default_rng(5)
    day = np.minimum(np.ceil(rng.gamma(9, 2, 4000)), 40)
    event, arm = rng.random(4000) < 0.8, np.repeat(np.arange(8), 500)
    by = np.where(event, day, np.inf)
    after, never = np.where(event, day - 1, np.inf), np.full(4000, np.inf)

    def ours() -> float:
        curve = fit_curve(after, by, never, never, never)
        scores = strike_scores(after, by, never, curve)
        totals = np.bincount(arm, scores - scores.mean())
        return float(np.sum(totals**2) / (500 * scores.var()))

    FOUND.say("log-rank of 8 x 500", timed(ours), theirs=timed(lambda: survdiff(day, event, arm)), library="statsmodels", goal_ratio=2)  # fmt: skip


def bench_growth() -> None:
    """The whole finish beside the number of seeds (two arms in pots of ten), looks and treatments."""
    sizes, spent = (100, 1_000, 10_000, 100_000), []
    for seeds in sizes:
        plan = a_plan(units=seeds // 20, per_container=10)
        truths = [Truth(s, 20, 5, icc=0.05) for s in (0.5, 0.6)]
        season = Season.of(plan, draw_bench(plan, 1), truths, Nuisance(), 1)
        results, cells = season.results(0)
        took = timed(lambda r=results, c=cells, p=plan: whole_finish(p, r, seed=1, cells=c), runs=3)
        spent.append(took)
        FOUND.say(f"whole finish of {seeds:,} seeds", took, goal=2.0 if seeds == 100_000 else None)
    FOUND.growth("seeds", sizes, spent)
    FOUND.growth("looks", (8, 16, 32, 64), [finish_beside(looks=n) for n in (8, 16, 32, 64)])
    FOUND.growth("treatments", (2, 4, 8, 16), [finish_beside(arms=n) for n in (2, 4, 8, 16)])


def finish_beside(arms: int = 5, looks: int = 14) -> float:
    """Seconds of the whole finish of so many treatments of 16, looked at so often."""
    names = [f"T{i}" for i in range(arms)]
    silks = ["plain"] + ["hoops"] * (arms - 1)
    treatments = tuple(
        Treatment(str(i), n, Role.CONTROL if i == 0 else Role.CANDIDATE, silk=silks[i])
        for i, n in enumerate(names)
    )
    plan = Plan(treatments=treatments, question="Q?", material="sage", kind=Kind.CUTTING, units=16, length_days=2 * looks, look_every_days=2)  # fmt: skip
    truths = [Truth(0.5, looks, 4, loss=0.05) for _ in names]
    season = Season.of(plan, draw_bench(plan, 1), truths, Nuisance(), 1)
    results, cells = season.results(0)
    return timed(lambda: whole_finish(plan, results, seed=1, cells=cells), runs=3)


def bench_taps() -> None:
    """One tap onto disk in a trial of 96 with 14 rounds behind it, and the round it stands in."""
    with tempfile.TemporaryDirectory() as folder:
        shed = Shed(Path(folder))
        trial = create_trial(shed, a_plan("U", "A", "B", "C", units=24), 7, "me")
        start = shed.now() - timedelta(days=42)
        trial = start_trial(shed, trial.id, "me", start)

        def look(day: int, unit: str, stage: int) -> Observation:
            at = start + timedelta(days=day, minutes=5)
            return Observation(shed.new_id(), unit, "look", day, at, "me", stage=stage)

        for day in range(3, 42, 3):
            record(shed, trial.id, [look(day, u.id, 1 + day % 5) for u in trial.planted])
        units = cycle(u.id for u in trial.planted)
        ours = timed(lambda: record(shed, trial.id, [look(42, next(units), 3)]), runs=30)
        bare = sqlite3.connect(Path(folder) / "bare.sqlite3", isolation_level=None)
        bare.execute("PRAGMA journal_mode=WAL")
        bare.execute("PRAGMA synchronous=FULL")
        bare.execute("CREATE TABLE tap (id TEXT)")
        theirs = timed(lambda: bare.execute("INSERT INTO tap VALUES ('x')"), runs=30)
        bare.close()
        shed.close()
    FOUND.say("one tap of 96 x 14 onto disk", ours, theirs=theirs, library="a bare sqlite3 insert")


def bench_lists() -> None:
    """The list of trials and Today beside the number of trials, and a tap beside the size of the bench."""
    with tempfile.TemporaryDirectory() as folder:
        shed = Shed(Path(folder))
        made, spent = 0, []
        for trials in (100, 300, 1000):
            while made < trials:
                create_trial(shed, a_plan("U", "A", units=8, columns=8), made, "me")
                made += 1
            lines_of_all(shed)
            for what, call in (("list", lines_of_all), ("Today", tasks_of_all)):
                took = timed(lambda call=call: call(shed))
                FOUND.say(f"{what} of {trials:,} trials", took)
                spent += [took] if what == "list" else []
        FOUND.growth("trials in the list", (100, 300, 1000), spent)
        FOUND.growth("phones in one round", (1, 4, 16), [round_of_phones(shed, n) for n in (1, 4, 16)])  # fmt: skip
        for units in (48, 5000):
            trial = create_trial(shed, a_plan("U", "A", units=units, columns=40), 7, "me")
            trial = start_trial(shed, trial.id, "me")
            places = cycle(u.id for u in trial.planted)

            def tap(trial: Trial = trial, places: Iterator[str] = places) -> None:
                look = Observation(
                    shed.new_id(), next(places), "look", 0, shed.now(), "me", stage=3
                )
                record(shed, trial.id, [look])

            took = timed(tap, runs=30)
            FOUND.say(f"one tap in a trial of {2 * units:,}", took)
        shed.close()


def round_of_phones(shed: Shed, phones: int) -> float:
    """Seconds to read a round of 96 in which so many phones have each looked at every plant."""
    trial = create_trial(shed, a_plan("U", "A", "B", "C", units=24), 7, "me")
    trial = start_trial(shed, trial.id, "me")
    now = shed.now()
    for phone in range(phones):
        looks = [
            Observation(
                shed.new_id(), u.id, "look", 0, now, f"phone {phone}", stage=3, device=f"{phone}"
            )
            for u in trial.planted
        ]
        record(shed, trial.id, looks)
    return timed(lambda: get_round(shed, trial.id, 0))


def bench_start() -> None:
    took = []
    with tempfile.TemporaryDirectory() as folder:
        for _ in range(5):
            port = free_port()
            start = time.perf_counter()
            server = subprocess.Popen(
                [sys.executable, "-m", "racecard.cli", "start", "--data", folder, "--port", str(port)],
                stdout=subprocess.DEVNULL, env={**os.environ, "PYTHONDONTWRITEBYTECODE": ""},
            )  # fmt: skip
            while not _answers(port):
                time.sleep(0.01)
            took.append(time.perf_counter() - start)
            server.terminate()
            server.wait()
    FOUND.say("start to first answer", statistics.median(took), goal=1.2)


def _answers(port: int) -> bool:
    try:
        with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/trials"):
            return True
    except OSError:
        return False


def bench_commands() -> None:
    """Whole processes, as one types them."""
    commands = (
        (("--version",), 0.15), (("mix", "250 mL of 1500 ppm IBA from 1 % stock"), 0.4),
        (("power", "--control", "0.4", "--treated", "0.8", "--units", "20"), 0.4),
        (("finish", str(ROOT / "docs" / "examples" / "results.csv")), 0.4),
    )  # fmt: skip
    for command, goal in commands:
        whole = [sys.executable, "-m", "racecard.cli", *command]
        took = timed(lambda whole=whole: subprocess.run(whole, capture_output=True, check=True), 5)
        FOUND.say(f"racecard {command[0]}, whole process", took, goal=goal)


def bench_weight() -> None:
    web = ROOT / "src" / "racecard" / "web"
    page = (web / "index.html").read_text()
    scripts = re.findall(r'(?:src|href)="(/assets/[^"]+\.js)"', page)
    size = sum(len(gzip.compress((web / s.lstrip("/")).read_bytes())) for s in scripts)
    print(f"{'first-load JavaScript, gzip':48s} {size / 1000:7.0f} kB   goal 120 kB")


if __name__ == "__main__":
    warnings.simplefilter("ignore")
    bench_finish()
    bench_curves()
    bench_power()
    bench_plan_answer()
    bench_dry_run()
    bench_logrank()
    bench_growth()
    bench_taps()
    bench_lists()
    bench_start()
    bench_commands()
    bench_weight()
    FOUND.compare()
    if "--save" in sys.argv:
        FOUND.save()
