"""`racecard finish`: the same judgement of a table or of a whole trial's file, without a browser."""

import json
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import TYPE_CHECKING, Any

from racecard.core.assess.findings import findings_of
from racecard.core.assess.judgement import Arm, Comparison
from racecard.core.exchange.audited import Detail
from racecard.core.exchange.bounds import Ranges, ReadTable, judge_table
from racecard.core.exchange.judged import JudgedTable
from racecard.core.log.goal import done
from racecard.core.model import Measure, Trial
from racecard.core.model.table_dates import DateOrder, OrderAsked
from racecard.core.model.table_rows import Sheet, UnitKind
from racecard.core.stats.proportions import Interval
from racecard.core.text.bounds import ranges_say
from racecard.core.text.lanes import counted, half_words, rate_words
from racecard.errors import InvalidInput
from racecard.formats.sheet import MOST_BYTES, read_sheet

if TYPE_CHECKING:
    from sqlalchemy.orm import Session

    from racecard.store.engine import Shed


def judged_file(
    path: Path, unit: UnitKind | None, control: str | None, dates: DateOrder | None = None
) -> ReadTable:
    """Read and judge a file.

    Raises:
        InvalidInput: the file cannot be read, or some rows break a rule (all of them are told).
    """
    content = file_content(path)
    if path.suffix.casefold() == ".json":
        return ReadTable(_trial_in(content))
    return judge_table(good_sheet(content, dates), unit=unit, control=control)


def file_content(path: Path) -> bytes:
    """A file of results, whole; InvalidInput where it cannot be read or is too large."""
    try:
        size = path.stat().st_size
        content = path.read_bytes() if size <= MOST_BYTES else bytes(MOST_BYTES + 1)
    except OSError as exc:
        raise InvalidInput(f"{path} cannot be read: {exc.strerror}.") from exc
    if size > MOST_BYTES:
        most = MOST_BYTES / 1e6
        raise InvalidInput(
            f"The file has {size / 1e6:.0f} MB; {most:.0f} MB is the most that is read."
        )
    return content


def good_sheet(content: bytes, dates: DateOrder | None = None) -> Sheet:
    """The rows of a table; InvalidInput with every row that breaks a rule."""
    try:
        sheet = read_sheet(content, dates=dates)
    except OrderAsked as exc:
        first, month = DateOrder
        raise InvalidInput(f"{exc.detail} (--dates {first} or --dates {month})") from exc
    if sheet.bad:
        raise InvalidInput("\n".join(b.says() for b in sheet.bad[:200]))
    return sheet


@contextmanager
def opened_trial(content: bytes) -> "Iterator[tuple[Shed, Session, Trial]]":
    """A whole trial's file, brought into a shed of its own that is thrown away."""
    from racecard.formats.trial_file import (
        read_trial,
    )  # late: a table needs no schemas and no store
    from racecard.store.engine import Shed
    from racecard.store.finish import load_opened
    from racecard.store.import_trial import import_trial

    with TemporaryDirectory(prefix="racecard-") as folder:
        shed = Shed(Path(folder))
        try:
            brought = import_trial(shed, *read_trial(content), "command line")
            with shed.reading() as session:
                yield shed, session, load_opened(session, brought.id)
        finally:
            shed.close()


def _trial_in(content: bytes) -> JudgedTable:
    from racecard.store.finish import finished

    with opened_trial(content) as (shed, session, trial):
        found = finished(session, trial, shed.now())
    shared = trial.plan.per_container > 1 and not trial.plan.count_singly
    control = trial.plan.control
    return JudgedTable(
        trial.plan, found.results, found.whole, UnitKind.CONTAINER if shared else UnitKind.PROPAGULE,
        None if control is None else control.name, True, Detail.PROPAGULES, found.sampled,
    )  # fmt: skip


def as_json(read: ReadTable) -> str:
    """The judgement as JSON, numbers unrounded."""
    table, ranges = read.table, read.ranges
    found = table.judgement
    return json.dumps(
        {
            "unit": table.unit.value,
            "control": table.control,
            "final": found.is_final,
            "headline": table.whole.headline,
            "answer": _answer(read),
            "next_time": next(
                (
                    n
                    for f in findings_of(table.plan, found)
                    if (n := _next_time(table, f.comparison))
                ),
                None,
            ),
            "read_as": list(read.read_as),
            "in_bounds": ranges is not None and ranges.is_open,
            "treatments": [_treatment(table, ranges, arm) for arm in found.arms],
            "comparisons": [_comparison(table, ranges, c) for c in found.comparisons],
            **_beside(table),
            "notes": [
                {"code": n.code, "title": n.title, "sentence": n.message, "do": n.advice}
                for n in table.whole.notes
            ],
        },
        ensure_ascii=False,
        indent=2,
    )


def _answer(read: ReadTable) -> Mapping[str, str] | None:
    answer = read.table.whole.answer
    if answer is None:
        return None
    return {
        "kind": answer.kind, "text": answer.text, "happened": answer.happened, "sure": answer.sure,
        "doubt": answer.doubt, "next": answer.next,
    }  # fmt: skip


def _treatment(table: JudgedTable, ranges: Ranges | None, arm: Arm) -> Mapping[str, Any]:
    t, s = table.plan.treatments[arm.index], arm.strike
    low, high, reason = _limits(s.interval)
    half = arm.half
    rates = ranges.rates[t.name] if ranges else (s.rate, s.rate)
    return {
        "treatment": t.name, "role": t.role.value, "n_units": s.units, "n": s.n,
        "struck": s.struck, "removed": s.removed, "unknown": s.unknown, "at_start": s.at_start,
        "sampled": table.sampled[arm.index] if table.sampled else 0,
        "lost": s.lost, "rate": s.rate, "rate_low": rates[0], "rate_high": rates[1], "estimated": s.is_estimated,
        "rate_pooled": s.rate_pooled, "low": low, "high": high, "reason": reason,
        "half_struck_day": _whole(half[1]) if half else None,
        "half_struck_interval": [_whole(half[0]), _whole(half[1])] if half else None,
        "half_struck_limits": list(arm.half_limits),
        "half_struck_reason": None if half else _no_half(table),
    }  # fmt: skip


def _comparison(table: JudgedTable, ranges: Ranges | None, c: Comparison) -> Mapping[str, Any]:
    low, high, reason = _limits(c.gap)
    is_strike = table.plan.measure is Measure.STRIKE
    grade = c.grade
    name = table.plan.treatments[c.index].name
    points = ranges.points[name] if ranges else None
    if ranges and is_strike:
        grade = ranges.grades[name]
    beside = {} if is_strike else {
        "strike_grade": c.strike_grade.value if c.strike_grade else None, "strike_p": c.test.p if c.test else None,
        "outcome": _outcome(c),
    }  # fmt: skip
    return {
        "treatment": name, "control": table.control,
        "points_low": points[0] if points else None, "points_high": points[1] if points else None,
        "measure": table.plan.measure.value,
        "points": 100 * c.gap.estimate if c.gap else None,
        "low": None if low is None else 100 * low, "high": None if high is None else 100 * high,
        "p": c.asked.p, "p_holm": c.asked.p_holm, "floor": c.strike.primary.minimum_p,
        "grade": grade.value if grade else None, **beside,
        "harm": c.harm, "possible_harm": c.hurt.possible, "harm_counts": _harm(c),
        "agent": _agent(table, c), "next_time": _next_time(table, c),
        "settle": None if c.settle is None else {"units": c.settle.units, "thing": c.settle.thing, "size": c.settle.size},
        "sentence": table.whole.sentence(c.index), "horizon": c.horizon, "final": c.is_final,
        "reason": c.why.value or reason,
    }  # fmt: skip


def _harm(c: Comparison) -> Mapping[str, int | None]:
    """Lost of those at risk, and units with clear signs of harm where anybody looked for them."""
    names = (
        "lost",
        "n",
        "lost_control",
        "n_control",
        "injured",
        "units",
        "injured_control",
        "units_control",
    )
    return {name: getattr(c.hurt, name) for name in names}


def _outcome(c: Comparison) -> Mapping[str, float | None]:
    """The question's own outcome in its unit: what each came to, and the difference."""
    o = c.outcome
    low, high, _ = _limits(o.gap)
    return {
        "treatment": o.mine, "control": o.theirs, "difference": o.gap.estimate if o.gap else None, "low": low, "high": high,
    }  # fmt: skip


def _agent(table: JudgedTable, c: Comparison) -> Mapping[str, Any] | None:
    """The agent beyond its carrier; None where no carrier stands."""
    a = c.agent
    if a is None:
        return None
    low, high, _ = _limits(a.gap)
    factor = 100 if table.plan.measure is Measure.STRIKE else 1
    told = (a.gap.estimate if a.gap else None, low, high)
    points = [None if x is None else factor * x for x in told]
    return {
        "carrier": table.plan.treatments[a.carrier].name, "p": a.p, "p_adjusted": a.p_holm,
        "grade": a.grade.value if a.grade else None, "points": points[0], "low": points[1], "high": points[2],
    }  # fmt: skip


def _next_time(table: JudgedTable, c: Comparison) -> Mapping[str, float] | None:
    """What to expect of a repeat, after a lead: in points where shares are compared."""
    e = c.outcome.expected
    if e is None:
        return None
    factor = 100 if table.plan.measure is Measure.STRIKE else 1
    return {"points": factor * e.size, "low": factor * e.low, "high": factor * e.high}


def _beside(table: JudgedTable) -> Mapping[str, Any]:
    """Places, trend, factors and runs, each null or empty where the design has none."""
    whole, names = table.whole, [t.name for t in table.plan.treatments]
    ladder, cross = whole.ladder, whole.cross
    return {
        "placings": [
            {"treatment": names[p.treatment], "place": p.place, "dead_heat": p.dead_heat, "letters": p.letters}
            for p in (whole.placings.places if whole.placings else ())
        ],
        "ladder": None if ladder is None else {
            "of": ladder.thing, "unit": ladder.unit, "p": ladder.p, "grade": ladder.grade.value,
            "best": None if ladder.best is None else names[ladder.best],
        },
        "factors": [
            {"factor": e.factor, "level": e.level, "against": e.base, "within": e.within,
             "points": 100 * e.gap.estimate, "p": e.p, "p_holm": e.p_holm, "grade": e.grade.value}
            for e in ((*cross.main, *cross.simple) if cross else ())
        ],
        "runs": [
            {"treatment": names[r.treatment], "q_p": r.q_p,
             "points": {x.run: 100 * x.gap.estimate for x in r.runs if x.gap is not None}}
            for r in whole.runs
        ],
    }  # fmt: skip


def _whole(day: float) -> float:
    """A day as a whole number where it is one."""
    return int(day) if day == int(day) else day


def _no_half(table: JudgedTable) -> str:
    return "not reached" if table.timed else "the table gives no days"


def _limits(interval: Interval | None) -> tuple[float | None, float | None, str | None]:
    if interval is None:
        return None, None, "nothing to compare"
    if interval.low is None:
        return None, None, interval.reason
    return interval.low, interval.high, None


def as_words(read: ReadTable) -> str:
    """The judgement as a grower reads it."""
    table = read.table
    found = table.judgement
    answer = read.table.whole.answer
    lines = [answer.text, ""] if answer else []
    lines += [table.whole.headline, ""]
    lines += [*(f"Read as: {says}" for says in read.read_as), *([""] if read.read_as else [])]
    if any(n.code == "control_not_named" for n in table.whole.notes):
        lines.insert(-1, "Name the control with --control, if the table holds one.")
    if read.ranges and read.ranges.is_open:
        lines += [*ranges_say(read.ranges.rates, read.ranges.grades), ""]
    did = done(table.plan)
    ranged = (
        {n for n, (low, high) in read.ranges.rates.items() if low < high} if read.ranges else set()
    )
    for arm in found.arms:
        if table.plan.treatments[arm.index].name in ranged:
            continue
        half = f"half by {half_words(arm)}" if arm.half else f"half: {_no_half(table)}"
        name = table.plan.treatments[arm.index].name
        lines.append(
            f"{name}: {counted(arm, did)}, {rate_words(arm)}; {half}"
            if arm.horizon
            else f"{name}: not looked at yet"
        )
    lines += ["", *table.whole.says, ""]
    lines += [f"Steward's note: {n.title}. {n.message} {n.advice}" for n in table.whole.notes]
    return "\n".join(lines)
