"""Tables that give counts instead of plants, exactly or in bounds ("some of 4"): every reading is judged.

A count between bounds is no single number, so none is made up. The table is judged at the corners of
what the counts allow; a grade is told only as far as it holds at each of them, and the numbers shown
are those of the reading in which the treatments differ least.
"""

from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from racecard.core.assess.grade import Grade, lowest
from racecard.core.exchange.judged import JudgedTable, judge_sheet
from racecard.core.model import Role
from racecard.core.model.table_rows import ResultRow, Sheet, UnitKind
from racecard.core.text.bounds import ranged_answer
from racecard.errors import InvalidInput

Choice = Callable[[str, float, float], float]
"""From a treatment and the bounds of its rate: where in between to read it, 0 the least to 1 the most."""


@dataclass(frozen=True, slots=True)
class Ranges:
    """What holds for every reading: rates (low, high) and differences in points by treatment, and grades."""

    rates: Mapping[str, tuple[float, float]]
    points: Mapping[str, tuple[float, float] | None]
    grades: Mapping[str, Grade | None]

    @property
    def is_open(self) -> bool:
        """Whether any count left more than one reading."""
        return any(low < high for low, high in self.rates.values())


@dataclass(frozen=True, slots=True, eq=False)
class ReadTable:
    """A judged table and, where it gave counts, what holds for every reading of them."""

    table: JudgedTable
    ranges: Ranges | None = None
    read_as: tuple[str, ...] = ()


def judge_table(
    sheet: Sheet,
    *,
    unit: UnitKind | None = None,
    control: str | None = None,
    lot_drawn: bool | None = None,
) -> ReadTable:
    """Judge a table of results, whether it tells of plants or of counts.

    Args:
        sheet: rows without a fault.
        unit: what was placed by lot; where not said, the container when any holds more than one.
        control: name of the untreated control, where the rows do not give roles.
        lot_drawn: whether positions were randomised; None where nobody recorded it.

    Raises:
        InvalidInput: as `judge_sheet`; or counts of one container that cannot be.
    """
    if not any(r.bounds for r in sheet.rows):
        table = judge_sheet(sheet, unit=unit, control=control, lot_drawn=lot_drawn)
        return ReadTable(table, None, sheet.read_as)

    def read(choice: Choice) -> JudgedTable:
        rows = tuple(_plants(sheet.rows, choice))
        return judge_sheet(
            replace(sheet, rows=rows), unit=unit, control=control, lot_drawn=lot_drawn
        )

    first = read(lambda *_: 0.0)
    rates = _rates(sheet.rows)
    if all(low == high for low, high in rates.values()):
        return ReadTable(first, _held([first], rates), sheet.read_as)
    base = next(
        (t.name for t in first.plan.treatments if t.role is Role.CONTROL), first.control or ""
    )
    found = [
        read(_nearest(base, rates)), first, read(lambda *_: 1.0),
        read(lambda name, *_: float(name == base)), read(lambda name, *_: float(name != base)),
    ]  # fmt: skip
    held = _held(found, rates)
    same = (t for t in found if _grades(t) == held.grades)
    table = next(same, found[0])
    answer = ranged_answer(table.plan, held.rates, held.grades)
    return ReadTable(replace(table, whole=replace(table.whole, answer=answer)), held, sheet.read_as)


def _held(found: Sequence[JudgedTable], rates: Mapping[str, tuple[float, float]]) -> Ranges:
    every = [_grades(t) for t in found]
    grades: dict[str, Grade | None] = {}
    for name in every[0]:
        told = [g for grade in every if (g := grade[name]) is not None]
        grades[name] = lowest(told) if len(told) == len(every) else None
    gaps = [
        {t.plan.treatments[c.index].name: c.gap.estimate for c in t.judgement.comparisons if c.gap} for t in found
    ]  # fmt: skip
    points = {
        name: (100 * min(g[name] for g in gaps), 100 * max(g[name] for g in gaps))
        if all(name in g for g in gaps) else None
        for name in every[0]
    }  # fmt: skip
    return Ranges(rates, points, grades)


def _grades(table: JudgedTable) -> dict[str, Grade | None]:
    return {table.plan.treatments[c.index].name: c.grade for c in table.judgement.comparisons}


def _nearest(base: str, rates: Mapping[str, tuple[float, float]]) -> Choice:
    """The control in the middle of its bounds, each other as near to that as its own allow."""
    middle = sum(rates[base]) / 2 if base in rates else 0.5

    def choice(name: str, low: float, high: float) -> float:
        if name == base or high == low:
            return 0.5
        return min(1.0, max(0.0, (middle - low) / (high - low)))

    return choice


def _rates(rows: Sequence[ResultRow]) -> dict[str, tuple[float, float]]:
    """The least and the most of each treatment that can have struck, as shares of all its plants."""
    low: dict[str, int] = defaultdict(int)
    high: dict[str, int] = defaultdict(int)
    count: dict[str, int] = defaultdict(int)
    for group in _groups(rows):
        least, most = _cumulative(group)
        name = group[0].treatment
        low[name] += least[-1]
        high[name] += most[-1]
        count[name] += group[0].count
    return {name: (low[name] / n, high[name] / n) for name, n in count.items()}


def _plants(rows: Sequence[ResultRow], choice: Choice) -> Iterator[ResultRow]:
    """Rows that tell of plants, for one reading of the counts."""
    rates = _rates(rows)
    for group in _groups(rows):
        last = group[-1]
        if last.bounds is None:
            yield last
            continue
        least, most = _cumulative(group)
        share = choice(last.treatment, *rates[last.treatment])
        counts = [a + round(share * (b - a)) for a, b in zip(least, most, strict=True)]
        before: float = 0
        struck = 0
        is_dated = len(group) > 1
        for r, n in zip(group, counts, strict=True):
            if n > struck:
                new = replace(r, outcome="struck", count=n - struck, bounds=None)
                yield replace(new, day_from=before, day_to=r.day, day=None) if is_dated else new
            before, struck = r.day or 0, max(struck, n)
        if struck < last.count:
            yield replace(last, outcome="alive", count=last.count - struck, bounds=None)


def _groups(rows: Sequence[ResultRow]) -> list[list[ResultRow]]:
    """Rows of counts of the same plants on different days, by day; every other row alone."""
    found: dict[tuple[object, ...], list[ResultRow]] = defaultdict(list)
    for r in rows:
        is_series = r.bounds is not None and r.day is not None
        found[
            (r.run, r.block, r.treatment, r.container, r.count) if is_series else (r.row,)
        ].append(r)
    out: list[list[ResultRow]] = []
    for group in found.values():
        days = {r.day for r in group}
        if len(days) == len(group):
            out.append(sorted(group, key=lambda r: r.day or 0))
        else:
            out += [[r] for r in group]
    return out


def _cumulative(group: Sequence[ResultRow]) -> tuple[list[int], list[int]]:
    """The least and the most that can have struck by each day: what struck by a day has struck by the next."""
    least: list[int] = []
    most: list[int] = []
    for r in group:
        a, b = r.bounds or ((r.count, r.count) if r.outcome == "struck" else (0, 0))
        least.append(max(a, least[-1] if least else 0))
        most.append(b)
    for i in range(len(most) - 2, -1, -1):
        most[i] = min(most[i], most[i + 1])
    wrong = next((r for r, a, b in zip(group, least, most, strict=True) if a > b), None)
    if wrong is not None:
        raise InvalidInput(
            f"Row {wrong.row}, struck: fewer than in a row before it; counts are of all that struck by that day."
        )
    return least, most
