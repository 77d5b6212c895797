"""From a sheet of rows to a judgement, without a plan or a bench behind it."""

import hashlib
import re
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import ceil

import numpy as np

from racecard.core.assess.judgement import Judgement
from racecard.core.exchange.audited import Detail
from racecard.core.finish.finish_result import Whole, whole_finish
from racecard.core.log.stages import ladder_for
from racecard.core.model import Cell, History, Kind, Plan, Role, Treatment
from racecard.core.model.results import Results, results_from
from racecard.core.model.spelling import spelling
from racecard.core.model.table_dates import DATE_COLUMNS
from racecard.core.model.table_rows import ResultRow, Sheet, UnitKind
from racecard.core.notes import Table
from racecard.errors import InvalidInput

SILK_ORDER = (
    "hoops", "chevron", "spots", "quarters", "sash", "diamonds", "cross", "stripes", "frame",
    "check", "halves",
)  # fmt: skip
_CONTROL_NAME = re.compile(
    r"(untreated|control)\b|(none|nothing|no treatment|no hormone|ctrl|dry|plain water|water only|unbehandelt|kontrolle|témoin|temoin|testigo)$"
)
"""What a control is called that has no role; "positive control" is none."""
MOST_TREATMENTS = 40


@dataclass(frozen=True, slots=True, eq=False)
class JudgedTable:
    """What a table came to: the plan it implies, its results, the judgement, and how it was read."""

    plan: Plan
    results: Results
    whole: Whole
    unit: UnitKind
    control: str | None
    timed: bool
    detail: Detail
    sampled: tuple[int, ...] = ()

    @property
    def judgement(self) -> Judgement:
        """The verdicts, sentences and notes."""
        return self.whole.judgement


_OUTCOMES = {
    "outcome",
    "day_from",
    "day_to",
    "day",
    "score",
    "struck",
    "date_from",
    "date_to",
    "date",
}
"""Columns of which one at least says what became of a plant; without any, none may be said to have failed."""


def _check_outcomes(sheet: Sheet) -> None:
    if _OUTCOMES & set(sheet.columns):
        return
    aside = (
        f" The columns {', '.join(sheet.left_aside[:6])} are not known." if sheet.left_aside else ""
    )
    raise InvalidInput(
        f"No column says what became of the plants: add start, the date of day 0, to read their dates.{aside}"
        if set(DATE_COLUMNS) & set(sheet.left_aside)
        else f"No column says what became of the plants: add outcome (struck, alive, lost, removed), or count and struck.{aside}"
    )


def judge_sheet(
    sheet: Sheet, *, unit: UnitKind | None = None, control: str | None = None, margin: float = 20.0,
    lot_drawn: bool | None = None,
) -> JudgedTable:  # fmt: skip
    """Judge a table of results.

    Args:
        sheet: rows without a fault.
        unit: what was placed by lot; where not said, the container when any holds more than one.
        control: name of the untreated control, where the rows do not give roles.
        margin: smallest difference that matters, points.
        lot_drawn: whether positions were randomised; None where nobody recorded it.

    Raises:
        InvalidInput: no rows, no outcomes, no or too many treatments, two controls, or a unit told twice.
    """
    if not sheet.rows:
        raise InvalidInput("The table has no rows of results below its header.")
    rows, is_daily = _with_look_before(_one_row_a_plant(sheet.rows))
    arms = _treatments(rows, control)
    _check_outcomes(sheet)
    reference = next((t.name for t in arms if t.role is Role.CONTROL), None)
    keys, groups = _containers(rows)
    is_shared = any(sum(r.count for r in g) > 1 for g in groups)
    found = unit or (UnitKind.CONTAINER if is_shared else UnitKind.PROPAGULE)
    results, cells = _results(
        arms, keys, groups, lists_looks="looks" in sheet.columns, is_daily=is_daily
    )
    ends = {r.end_day for r in rows if r.end_day is not None}
    end = max(ends) if ends else None
    kind = _kind(rows)
    gaps = {r.gap_points for r in rows if r.gap_points is not None}
    margin = max(gaps) if gaps else margin
    plan = Plan(
        question="", material="the plants in this table,", kind=kind or Kind.CUTTING, treatments=arms,
        endpoint=0 if kind is None else ladder_for(kind).default_endpoint,
        units=min(sum(k[2] == t.name for k in keys) for t in arms),
        blocks=len({k[:2] for k in keys}), gap_points=margin, length_days=ceil(end or _last_day(rows)),
        count_singly=found is UnitKind.PROPAGULE and is_shared,
    )  # fmt: skip
    timed = any(r.day_to is not None for r in rows if r.outcome == "struck")
    runs = sorted({k[0] for k in keys if k[0]})
    several = len(runs) > 1 and all(k[0] for k in keys)
    results = replace(results, age=np.full(len(keys), _last_day(rows) + 1.0))
    whole = whole_finish(
        plan, results, seed=_seed(rows), cells=cells, lot_drawn=lot_drawn, end_day=end, timed=timed,
        run=np.array([runs.index(k[0]) for k in keys]) if several else None, run_names=runs, table=Table(sheet, is_daily),
    )  # fmt: skip
    detail = _detail(rows, timed)
    return JudgedTable(plan, results, whole, found, reference, timed, detail)


def _kind(rows: Sequence[ResultRow]) -> Kind | None:
    """What the table holds; None where it does not say."""
    kinds = {r.kind for r in rows if r.kind is not None}
    if len(kinds) > 1:
        raise InvalidInput(
            "The table holds cuttings and seeds: split it, and judge each by itself."
        )
    return kinds.pop() if kinds else None


def _treatments(rows: Sequence[ResultRow], control: str | None) -> tuple[Treatment, ...]:
    """Treatments in the order they first appear, the control first."""
    roles: dict[str, Role | None] = {}
    factors: dict[str, ResultRow] = {}
    for r in rows:
        known = roles.setdefault(r.treatment, r.role)
        if r.role is not None and known is not None and r.role is not known:
            raise InvalidInput(
                f"Row {r.row}, role: {r.treatment} is called {r.role} here and {known} before."
            )
        roles[r.treatment] = known or r.role
        _check_factors(factors.setdefault(r.treatment, r), r)
    if len(roles) > MOST_TREATMENTS:
        raise InvalidInput(
            f"The table names {len(roles)} treatments; {MOST_TREATMENTS} are the most."
        )
    if control is not None:
        named = [n for n in roles if spelling(n) == spelling(control)]
        if not named:
            raise InvalidInput(
                f"No treatment in the table is called {control!r}: name the control as it stands."
            )
        roles = {n: Role.CONTROL if n == named[0] else _other(r) for n, r in roles.items()}
    elif Role.CONTROL not in roles.values():
        likely = [n for n, r in roles.items() if r is None and _CONTROL_NAME.match(spelling(n))]
        if len(likely) == 1:
            roles[likely[0]] = Role.CONTROL
    controls = [n for n, r in roles.items() if r is Role.CONTROL]
    if len(controls) > 1:
        raise InvalidInput(f"{' and '.join(controls)} are both called the control: keep one.")
    order = sorted(roles, key=lambda n: roles[n] is not Role.CONTROL)
    silks = iter(SILK_ORDER * 4)
    return tuple(
        Treatment(
            n, n, roles[n] or Role.CANDIDATE,
            silk="plain" if roles[n] is Role.CONTROL else next(silks),
            properties=factors[n].factors,
        )
        for n in order
    )  # fmt: skip


def _check_factors(first: ResultRow, r: ResultRow) -> None:
    """One treatment is one dose and one level of each factor, in every run."""
    if first.factors != r.factors:
        before = ", ".join(v for _, v in first.factors) or "nothing"
        now = ", ".join(v for _, v in r.factors) or "nothing"
        raise InvalidInput(
            f"Row {r.row}: {r.treatment} is {now} here and {before} in row {first.row}; what differs is not "
            "averaged, so give each its own treatment name."
        )


def _other(role: Role | None) -> Role | None:
    return Role.CANDIDATE if role is Role.CONTROL else role


def _one_row_a_plant(rows: Sequence[ResultRow]) -> list[ResultRow]:
    """Rows that tell of one plant at several days become one; the plant may have gone backwards."""
    told: dict[tuple[str, ...], list[ResultRow]] = defaultdict(list)
    out: list[ResultRow] = []
    for r in rows:
        if r.unit:
            told[r.run, r.block, r.treatment, r.container, r.unit].append(r)
        else:
            out.append(r)
    for records in told.values():
        out.append(records[0] if len(records) == 1 else _merged(records))
    return out


def _merged(records: Sequence[ResultRow]) -> ResultRow:
    days = [r.day if r.day is not None else r.day_to for r in records]
    known = [d for d in days if d is not None]
    if any(r.count > 1 for r in records) or len(set(known)) < len(records):
        raise InvalidInput(
            f"Rows {' and '.join(str(r.row) for r in records[:3])} tell of one unit, {records[0].unit}: "
            "give each plant a unit of its own, or name the pot in the column container."
        )
    by_day = [r for _, r in sorted(zip(known, records, strict=True), key=lambda x: x[0])]
    looks = tuple(sorted({*known, *(d for r in by_day for d in r.looks)}))
    first = next((i for i, r in enumerate(by_day) if r.outcome == "struck"), None)
    if first is None:
        return replace(by_day[-1], looks=looks)
    went_back = any(r.outcome == "alive" for r in by_day[first + 1 :])
    seen = by_day[first]
    before = max((d for d in known if d < (seen.day_to or 0)), default=0)
    return replace(
        seen, day_from=seen.day_from if seen.day_from is not None else before,
        looks=looks, went_back=went_back, day=max(known),
    )  # fmt: skip


Key = tuple[str, str, str]


def _containers(rows: Sequence[ResultRow]) -> tuple[list[Key], list[list[ResultRow]]]:
    """Containers as (run, block, treatment) and their rows; a plant in none is one of its own."""
    named: dict[tuple[str, ...], list[ResultRow]] = defaultdict(list)
    keys: list[Key] = []
    groups: list[list[ResultRow]] = []
    for r in rows:
        key = (r.run, r.block, r.treatment)
        if r.container:
            full = (*key, r.container)
            if full not in named:
                keys.append(key)
                groups.append(named[full])
            named[full].append(r)
        else:
            keys += [key] * r.count
            groups += [[replace(r, count=1)]] * r.count
    order = sorted(range(len(keys)), key=lambda i: (keys[i], _content(groups[i])))
    return [keys[i] for i in order], [groups[i] for i in order]


def _content(group: Sequence[ResultRow]) -> list[tuple[str, ...]]:
    return sorted(_told(r) for r in group)


def _told(r: ResultRow) -> tuple[str, ...]:
    """What a row says but for its number, so that the order of rows changes nothing."""
    fields = (
        r.treatment, r.run, r.block, r.container, r.outcome, r.count, r.day_from, r.day_to, r.day,
        r.cause, r.score, r.looks, r.place, r.tray, *r.factors,
    )  # fmt: skip
    return tuple(f"{f}" for f in fields)


def _seed(rows: Sequence[ResultRow]) -> int:
    """Seed of sampled tests, from the sorted content of the table."""
    text = "\n".join("\t".join(t) for t in sorted(_told(r) for r in rows))
    return int.from_bytes(hashlib.sha256(text.encode()).digest()[:4])


def _last_day(rows: Sequence[ResultRow]) -> float:
    """The last day told; where no plant has a day the counts are those of the end."""
    days = [d for r in rows for d in (r.day_from, r.day_to, r.day, *r.looks) if d is not None]
    return max([1, *(days or [r.end_day for r in rows if r.end_day is not None])])


def _results(
    arms: Sequence[Treatment],
    keys: Sequence[Key],
    groups: Sequence[Sequence[ResultRow]],
    *,
    lists_looks: bool,
    is_daily: bool,
) -> tuple[Results, list[Cell]]:
    rows = [r for g in groups for r in g]
    end = _last_day(rows)
    arm_of = {t.name: i for i, t in enumerate(arms)}
    block_of = {b: i for i, b in enumerate(sorted({k[:2] for k in keys}))}
    tray_of = {t: i for i, t in enumerate(sorted({r.tray for r in rows}))}
    looked = _look_days(rows, end, is_daily)
    histories, looks, scores, cells = [], [], [], []
    for key, group in zip(keys, groups, strict=True):
        histories.append([h for r in group for h in [_history(r, end)] * r.count])
        told = {d for r in group for d in r.looks}
        looks.append(sorted(told if lists_looks else looked[key[2]]))
        known = [r.score for r in group if r.score is not None]
        scores.append(sum(known) / len(known) if known else None)
        place = group[0].place
        if place is not None:
            arm, block = arm_of[key[2]], block_of[key[:2]]
            cells.append(Cell(tray_of[group[0].tray], place[0], place[1], block, arm))
    treatment = [arm_of[k[2]] for k in keys]
    blocks = [block_of[k[:2]] for k in keys]
    return results_from(treatment, blocks, histories, looks, scores), cells


def _history(r: ResultRow, end: float) -> History:
    went_back = r.went_back
    if r.outcome == "struck":
        by = r.day_to if r.day_to is not None else end
        after = r.day_from or 0
        last = max(by, r.day if r.day is not None else end)
        if r.cause and r.day is not None and r.day > by:
            return History(after, by, by, r.day, r.cause, None, r.day, went_back)
        return History(after, by, last_look=last, went_back=went_back)
    if r.outcome == "lost":
        day = r.day if r.day is not None else end
        return History(
            None,
            None,
            r.day_from or 0 if (r.day_from or 0) < day else max(0, day - 1),
            day,
            r.cause or "unknown",
            None,
            day,
        )
    if r.outcome == "removed":
        seen = r.day_from if r.day_from is not None else (r.day or 0)
        return History(removed_after=seen, last_look=seen)
    return History(last_look=r.day if r.day is not None else (r.day_from if r.day_from else end))


def _with_look_before(rows: Sequence[ResultRow]) -> tuple[list[ResultRow], bool]:
    """Rows that tell only the day of first sighting, with the look before it.

    That is the one before in the table's own look days; daily where it tells none and no look before of any that
    struck. The second value says whether looks were taken as daily.
    """
    struck = [r for r in rows if r.outcome == "struck"]
    told = {d for r in rows for d in r.looks} | {d for r in struck if (d := r.day_from)}
    if all(r.day_to is None or r.day_from is not None for r in struck):
        return list(rows), False
    days = sorted(told | {d for r in struck if (d := r.day_to)}) if told else []

    def before(day: float) -> float:
        if not days:
            return max(0, day - 1)
        return max((d for d in days if d < day), default=0)

    out = [
        replace(r, day_from=before(r.day_to))
        if r.outcome == "struck" and r.day_to is not None and r.day_from is None
        else r
        for r in rows
    ]
    return out, not days


def _look_days(rows: Sequence[ResultRow], end: float, is_daily: bool) -> dict[str, Sequence[float]]:
    """Look days of each treatment where the table does not list them.

    Every day the table mentions was looked at, save where a treatment has a plant whose interval
    spans the day and none that was seen on it.
    """
    if is_daily:
        return {name: range(1, ceil(end) + 1) for name in {r.treatment for r in rows}}
    every = {d for r in rows for d in (r.day_from, r.day_to, r.day) if d} | {end}
    out = dict[str, Sequence[float]]()
    for name in {r.treatment for r in rows}:
        mine = [r for r in rows if r.treatment == name]
        seen = {d for r in mine for d in (r.day_from, r.day_to, r.day) if d is not None}
        spans = {(r.day_from or 0, r.day_to) for r in mine if r.day_to is not None}
        spanned = {d for d in every - seen if any(a < d < b for a, b in spans)}
        out[name] = sorted(every - spanned)
    return out


def _detail(rows: Sequence[ResultRow], timed: bool) -> Detail:
    """How much the table tells: each plant, counts at each look, or counts at the end."""
    if not timed:
        return Detail.POTS if all(r.container for r in rows) else Detail.ENDS
    return Detail.LOOKS if any(r.count > 1 for r in rows) else Detail.PROPAGULES
