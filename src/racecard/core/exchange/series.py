"""Runs of one plan put together: what may be joined, and what the runs come to as one.

Re-dealing stays within each run; the difference is the stratified one, each run weighted by what it
can tell. Runs that differ in dose, control, kind, endpoint or last day are set side by side and never
summed. Pooled blindly, such runs can turn an answer round: 8/10 against 24/40 and 4/30 against 1/10
are +20 and +3 points, their sum says −20.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from racecard.core.assess.grade import Grade
from racecard.core.assess.judgement import Comparison
from racecard.core.assess.runs import RunsTogether
from racecard.core.design.question import plant_in
from racecard.core.exchange.bounds import judge_table
from racecard.core.exchange.judged import JudgedTable
from racecard.core.log.stages import endpoint_name
from racecard.core.model import Plan, Role
from racecard.core.model.spelling import spelling
from racecard.core.model.table_rows import ResultRow, Sheet
from racecard.core.stats.proportions import Interval
from racecard.errors import InvalidInput

MOST_RUNS = 60


@dataclass(frozen=True, slots=True, eq=False)
class Run:
    """One carrying-out of a plan: its rows, and its plan where it is a whole trial.

    `drawn`: whether its positions were randomised before the start; None where nobody recorded it.
    """

    name: str
    sheet: Sheet
    plan: Plan | None = None
    drawn: bool | None = None


@dataclass(frozen=True, slots=True)
class UpTo:
    """The evidence after one more run: the stratified difference of the runs so far, p and grade."""

    run: str
    gap: Interval | None
    p: float | None
    grade: Grade | None


@dataclass(frozen=True, slots=True)
class SeriesOf:
    """One treatment against the control over all runs. `course`: run by run, in the order given."""

    name: str
    comparison: Comparison
    together: RunsTogether
    course: tuple[UpTo, ...]


@dataclass(frozen=True, slots=True, eq=False)
class Series:
    """Runs judged as one. `left_out`: treatments that stand in some runs only, by name."""

    table: JudgedTable
    treatments: tuple[SeriesOf, ...]
    runs: tuple[str, ...]
    left_out: tuple[str, ...]


def judge_series(runs: Sequence[Run], *, control: str | None = None) -> Series:
    """Judge runs of one plan together.

    Args:
        runs: two or more, in the order they were carried out.
        control: name of the control, where the tables do not say.

    Raises:
        InvalidInput: fewer than two runs, or runs that may not be joined; the reason is the sentence.
    """
    if not 2 <= len(runs) <= MOST_RUNS:
        raise InvalidInput(f"A series has 2 to {MOST_RUNS} runs; this has {len(runs)}.")
    alone = [_judged(run, control) for run in runs]
    reasons = list(unlike(runs, alone))
    if reasons:
        raise InvalidInput("\n".join(reasons))
    every = [[t.name for t in found.plan.treatments] for found in alone]
    shared = [n for n in every[0] if all(_has(names, n) for names in every)]
    left_out = tuple(dict.fromkeys(n for names in every for n in names if not _has(shared, n)))
    sheets = [_only(run, shared) for run in runs]
    table = _joined(sheets, runs, alone[0].control)
    courses = [_joined(sheets[:k], runs[:k], alone[0].control) for k in range(1, len(runs))]
    treatments = []
    for c in table.judgement.comparisons:
        name = table.plan.treatments[c.index].name
        together = _in_order(
            next(r for r in table.whole.runs if r.treatment == c.index), runs, sheets
        )
        steps = [*(_of(t, name) for t in courses), c]
        course = tuple(
            UpTo(run.name, s.gap if s else None, s.test.p if s and s.test else None, s.grade if s else None)
            for run, s in zip(runs, steps, strict=True)
        )  # fmt: skip
        treatments.append(SeriesOf(name, c, together, course))
    if not treatments:
        raise InvalidInput("The runs share nothing but the control: there is nothing to compare.")
    return Series(table, tuple(treatments), tuple(r.name for r in runs), left_out)


def unlike(runs: Sequence[Run], alone: Sequence[JudgedTable]) -> Iterator[str]:
    """Why runs may not be joined, each reason in a sentence; none where they may.

    Args:
        runs: the runs.
        alone: each judged by itself.
    """
    yield from _twice(runs)
    first, base = runs[0], alone[0]
    for run, found in zip(runs[1:], alone[1:], strict=True):
        yield from _unlike(first, base, run, found)


def _unlike(first: Run, base: JudgedTable, run: Run, found: JudgedTable) -> Iterator[str]:
    pair = f"{first.name} and {run.name}"
    if base.control is None or found.control is None:
        lacks = first.name if base.control is None else run.name
        yield f"{lacks} has no control: name it, and runs are compared with it."
        return
    if not _same(base.control, found.control):
        yield (
            f"{pair} have different controls, {base.control} and {found.control}: "
            "set them side by side, do not sum them."
        )
    names = [t.name for t in base.plan.treatments if t.role is not Role.CONTROL]
    others = [t.name for t in found.plan.treatments if t.role is not Role.CONTROL]
    if not any(_has(others, n) for n in names):
        yield (
            f"{pair} share no treatment ({', '.join(names)}; {', '.join(others)}): another dose or agent is "
            "another question, so they are not summed."
        )
    theirs = {spelling(t.name): t for t in found.plan.treatments}
    for t in base.plan.treatments:
        other = theirs.get(spelling(t.name))
        if other is not None and t.properties != other.properties:
            was = ", ".join(value for _, value in t.properties) or "nothing said"
            now = ", ".join(value for _, value in other.properties) or "nothing said"
            yield f"{t.name} is {was} in {first.name} and {now} in {run.name}: different doses are not summed."
    days = base.plan.length_days, found.plan.length_days
    if _tells_end(first) and _tells_end(run) and days[0] != days[1]:
        yield f"{first.name} is judged by day {days[0]}, {run.name} by day {days[1]}: that is another endpoint."
    if first.plan is not None and run.plan is not None:
        yield from _unlike_plans(first.name, first.plan, run.name, run.plan)


def _unlike_plans(one: str, a: Plan, other: str, b: Plan) -> Iterator[str]:
    if a.kind is not b.kind:
        yield f"{one} is a trial of {a.kind.value}s, {other} one of {b.kind.value}s: they are not summed."
        return
    plants = plant_in(a.material), plant_in(b.material)
    if all(plants) and plants[0] != plants[1]:
        yield f"{one} is on {plants[0]}, {other} on {plants[1]}: different plants are not summed."
    if (a.outcome, a.endpoint, a.threshold_mm) != (b.outcome, b.endpoint, b.threshold_mm):
        said = [endpoint_name(p) for p in (a, b)]
        yield f"{one} counts {said[0]}, {other} counts {said[1]}: that is another endpoint."


def _twice(runs: Sequence[Run]) -> Iterator[str]:
    """Runs of which one is the other: given twice, one finding would count twice."""
    seen: dict[tuple[ResultRow, ...], str] = {}
    names: set[str] = set()
    for run in runs:
        rows = tuple(sorted((replace(r, row=0) for r in run.sheet.rows), key=repr))
        if rows in seen:
            yield f"{seen[rows]} and {run.name} hold the same rows: give each run once."
        elif run.name in names:
            yield f"Two runs are called {run.name}: give each a name of its own."
        seen.setdefault(rows, run.name)
        names.add(run.name)


def _judged(run: Run, control: str | None) -> JudgedTable:
    try:
        read = judge_table(run.sheet, control=control)
    except InvalidInput as exc:
        raise InvalidInput(f"{run.name}: {exc.detail}", exc.pointer) from exc
    if read.ranges is not None and read.ranges.is_open:
        raise InvalidInput(f"{run.name} gives counts in bounds: runs are joined by exact counts.")
    return read.table


def _joined(sheets: Sequence[Sheet], runs: Sequence[Run], control: str | None) -> JudgedTable:
    rows: list[ResultRow] = []
    for run, sheet in zip(runs, sheets, strict=True):
        offset = max((r.row for r in rows), default=0)
        rows += [replace(r, row=offset + r.row, run=_label(run, r)) for r in sheet.rows]
    columns = {c for s in sheets for c in s.columns} | {"run"}
    if not all("looks" in s.columns for s in sheets):
        columns -= {"looks"}
    sheet = Sheet(tuple(rows), (), tuple(sorted(columns)), (), len(rows))
    drawn = {run.drawn for run in runs}
    lot_drawn = False if False in drawn else None if None in drawn else True
    return judge_table(sheet, control=control, lot_drawn=lot_drawn).table


def _only(run: Run, names: Sequence[str]) -> Sheet:
    """The rows of the treatments that all runs share, under the names of the first run."""
    called = {spelling(n): n for n in names}
    rows = tuple(
        replace(r, treatment=called[spelling(r.treatment)])
        for r in run.sheet.rows
        if spelling(r.treatment) in called
    )
    return replace(run.sheet, rows=rows)


def _in_order(together: RunsTogether, runs: Sequence[Run], sheets: Sequence[Sheet]) -> RunsTogether:
    """The runs in the order they were given; those of one file in theirs."""
    labels = [_label(run, r) for run, sheet in zip(runs, sheets, strict=True) for r in sheet.rows]
    place = {label: i for i, label in enumerate(dict.fromkeys(labels))}
    return replace(together, runs=tuple(sorted(together.runs, key=lambda r: place[r.run])))


def _label(run: Run, row: ResultRow) -> str:
    """What a run is called among the others; a file may hold several."""
    return f"{run.name} · {row.run}" if row.run else run.name


def _of(table: JudgedTable, name: str) -> Comparison | None:
    return next(
        (c for c in table.judgement.comparisons if _same(table.plan.treatments[c.index].name, name)),
        None,
    )  # fmt: skip


def _tells_end(run: Run) -> bool:
    return any(r.end_day is not None for r in run.sheet.rows)


def _same(one: str, other: str) -> bool:
    return spelling(one) == spelling(other)


def _has(names: Sequence[str], name: str) -> bool:
    return any(_same(n, name) for n in names)
