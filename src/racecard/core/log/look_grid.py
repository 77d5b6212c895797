"""The looks of a whole trial as a grid: a row for each unit, a column for each date, a mark in each cell.

A mark of a plant is the key or the name of its stage, with s for a shoot and w for limp: `6`, `6s`,
`rooted`, `rotted`. A mark of a container is what was counted so far: `3`, `3 lost 1 rotted`,
`3 lost 1 after 2 removed 1`. An empty cell: nobody looked.
"""

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime

from racecard.core.log.assemble import in_force
from racecard.core.log.days import date_of_day, noon_of_day, zone
from racecard.core.log.stages import StageScale, stage_scale_of
from racecard.core.model import Plan, Trial, Unit
from racecard.core.model.observation import Observation
from racecard.core.model.table_dates import DateOrder, order_of, read_date
from racecard.errors import InvalidInput

MOST_MARKS = 20_000
"""Cells that are read at once."""
_COUNT = re.compile(
    r"(?P<struck>\d{1,3})(?:\s+lost\s+(?P<lost>\d{1,3}))?(?:\s+after\s+(?P<lost_struck>\d{1,3}))?"
    r"(?:\s+removed\s+(?P<removed>\d{1,3}))?(?:\s+(?P<loss>[a-z ]+))?"
)
_ASIDE = frozenset(("treatment", "label", "code", "block", "tray", "arm"))
_NOTHING = frozenset(("-", "–", "n", "no", "none", "nothing"))
_FLAGS = {"s": "shoot", "shoot": "shoot", "w": "limp", "limp": "limp"}
_OPEN = Observation("", "", "look", 0, datetime.min, "")


@dataclass(frozen=True, slots=True)
class Marked:
    """One cell that was filled in or changed; an empty mark takes the look back."""

    unit_id: str
    on: date
    mark: str


@dataclass(frozen=True, slots=True)
class LookGrid:
    """Every look in force. `days` and `dates` of the columns; `marks[i][j]` of unit i on date j, "" for none."""

    units: tuple[Unit, ...]
    names: tuple[str, ...]
    days: tuple[int, ...]
    dates: tuple[date, ...]
    marks: tuple[tuple[str, ...], ...]


def look_grid(trial: Trial, log: Sequence[Observation], names: Mapping[str, str]) -> LookGrid:
    """The looks of a started trial as a grid, dates in order.

    Args:
        trial: a started trial, veiled where it is sealed.
        log: every observation in the order it was recorded.
        names: of the units by id, as they are shown.
    """
    assert trial.started_at is not None
    seen = _looks(log)
    days = tuple(sorted({day for _, day in seen}))
    dates = tuple(date_of_day(trial.started_at, d, trial.plan.time_zone) for d in days)
    marks = tuple(
        tuple(mark_of(seen[u.id, d], trial.plan) if (u.id, d) in seen else "" for d in days)
        for u in trial.planted
    )
    return LookGrid(trial.planted, tuple(names[u.id] for u in trial.planted), days, dates, marks)


def mark_of(o: Observation, plan: Plan) -> str:
    """A look or count as its mark; `read_mark` reads it back as it was."""
    if o.kind == "count":
        numbers = (("lost", o.lost), ("after", o.lost_struck), ("removed", o.removed))
        said = [str(o.struck or 0), *(f"{word} {n}" for word, n in numbers if n)]
        return " ".join([*said, *([o.loss] if o.loss else [])])
    ladder = stage_scale_of(plan)
    keys = {e.cause: e.key for e in ladder.exits}
    stage = "" if o.stage is None else ladder.stage(o.stage).key
    gone = "" if o.loss is None else keys[o.loss]
    flags = ("s" if o.shoot else "") + ("w" if o.wilted else "")
    return stage + gone + (keys["removed"] if o.removed else "") + flags


def read_mark(text: str, plan: Plan) -> Observation:
    """What a mark says, as a row that has no unit and day yet; "" is a look that is taken back.

    Args:
        text: what stands in the cell, such as "c" or "3/5".
        plan: the plan, whose stages the marks are of.

    Raises:
        InvalidInput: it is no mark of this trial; says what is.
    """
    low = " ".join(text.casefold().replace(",", " ").split())
    if not low:
        return replace(_OPEN, kind="void")
    if plan.per_container > 1:
        return _read_count(text, low)
    return _read_stage(text, low, stage_scale_of(plan))


def observations(
    trial: Trial,
    log: Sequence[Observation],
    cells: Sequence[Marked],
    now: datetime,
    new_id: Callable[[], str],
    who: str,
) -> tuple[list[Observation], list[int]]:
    """The rows that the filled cells add to the log, with the index of the cell each comes from.

    A cell that says what the log says already adds nothing. A look of an earlier day bears its noon.

    Args:
        trial: a started trial.
        log: every observation in the order it was recorded.
        cells: what was filled in.
        now: the server's time.
        new_id: makes an id.
        who: who says so.

    Raises:
        InvalidInput: every cell that holds no mark or no day of the trial, with its pointer `/cells/…`.
    """
    assert trial.started_at is not None
    there = _looks(log)
    today = now.astimezone(zone(trial.plan.time_zone)).date()
    first = date_of_day(trial.started_at, 0, trial.plan.time_zone)
    places = {u.id: u.cell.code for u in trial.planted}
    rows, sources, bad = [], [], []
    for i, cell in enumerate(cells):
        where = f"{places.get(cell.unit_id, 'A cell')}, {cell.on:%-d %B}"
        day = (cell.on - first).days
        try:
            said = read_mark(cell.mark, trial.plan)
        except InvalidInput as exc:
            bad.append((f"/cells/{i}/mark", f"{where}: {exc.detail}"))
            continue
        old = there.get((cell.unit_id, day))
        is_empty = said.kind == "void"
        if is_empty and old is None:
            continue
        if old is not None and mark_of(old, trial.plan) == mark_of(said, trial.plan):
            continue
        if not 0 <= day or cell.on > today:
            when = "lies in the future" if cell.on > today else "lies before day 0"
            bad.append((f"/cells/{i}/on", f"{where}: the date {when}; check it."))
            continue
        at = now if cell.on == today else noon_of_day(trial.started_at, day, trial.plan.time_zone)
        said = replace(said, unit_id=cell.unit_id, day=day, seen_at=at, who=who)
        if old is not None and said.kind == old.kind == "count":
            said = replace(
                said, parts=old.parts
            )  # a mark does not tell the stages beside the endpoint
        taken_back = _with_what_it_corrects(old, log) if is_empty and old is not None else [None]
        rows += [replace(said, id=new_id(), corrects=row) for row in taken_back]
        sources += [i] * len(taken_back)
    if bad:
        raise InvalidInput.of_all(bad)
    return rows, sources


def read_pasted(
    trial: Trial,
    lines: Sequence[Sequence[str]],
    names: Mapping[str, str],
    order: DateOrder | None = None,
) -> tuple[list[Marked], list[str]]:
    """The filled cells of a sheet: dates or days along its first row, positions down its first column.

    Args:
        trial: a started trial.
        lines: cells of the sheet, row by row.
        names: of the units by id, as they are shown.
        order: of dates such as 03/04/2026, where it cannot be told from the sheet.

    Returns:
        The cells that hold something, and a sentence for each row or column that was left aside.

    Raises:
        InvalidInput: no column has a date, or a row names no unit; OrderAsked: dates that could be
            read two ways.
    """
    assert trial.started_at is not None
    filled = [(i, [c.strip() for c in line]) for i, line in enumerate(lines, 1) if any(line)]
    if not filled:
        raise InvalidInput("The sheet is empty.")
    header = filled[0][1]
    order = order or order_of(header)
    columns = {j: d for j, text in enumerate(header) if (d := _date(trial, text, order))}
    if not columns:
        raise InvalidInput(
            "No column has a date: write the date of each look over its column, such as 2026-05-03."
        )
    aside = [
        f"The column {text} was left aside: it is not a date."
        for j, text in enumerate(header)
        if j not in columns and j and text and text.casefold() not in _ASIDE
    ]
    units = _by_name(trial, names)
    out, bad = [], []
    for i, line in filled[1:]:
        unit = units.get(line[0].upper()) if line else None
        if unit is None:
            bad.append(("", f"Row {i} begins with “{line[0][:30]}”, which is not a position here."))
            continue
        out += [
            Marked(unit, day, line[j]) for j, day in columns.items() if j < len(line) and line[j]
        ]
    if bad:
        raise InvalidInput.of_all(bad)
    if len(out) > MOST_MARKS:
        raise InvalidInput(f"The sheet has {len(out)} looks; {MOST_MARKS} are read at once.")
    return out, aside


def _looks(log: Sequence[Observation]) -> Mapping[tuple[str, int], Observation]:
    return {(o.unit_id, o.day): o for o in in_force(log) if o.kind in ("look", "count")}


def _with_what_it_corrects(look: Observation, log: Sequence[Observation]) -> list[str | None]:
    """Ids of a look and of all it stands in for: taken back alone, what was there before would stand again."""
    corrects = {o.id: o.corrects for o in log}
    out: list[str | None] = []
    row: str | None = look.id
    while row is not None:
        out.append(row)
        row = corrects[row]
    return out


def _read_count(text: str, low: str) -> Observation:
    found = _COUNT.fullmatch(low)
    if not found:
        raise InvalidInput(
            f"“{text.strip()[:30]}” is not a count: write how many so far, such as 3, or 3 lost 1 rotted."
        )
    return replace(
        _OPEN, kind="count", loss=found["loss"], struck=int(found["struck"]), lost=int(found["lost"] or 0),
        lost_struck=int(found["lost_struck"] or 0), removed=int(found["removed"] or 0),
    )  # fmt: skip


def _read_stage(text: str, low: str, ladder: StageScale) -> Observation:
    said, parts = _OPEN, low.split()
    while len(parts) > 1 and parts[-1] in _FLAGS:
        said = _with(said, _FLAGS[parts.pop()])
    name, names = " ".join(parts), _names(ladder)
    if name in names:
        return _with(said, names[name])
    for i, letter in enumerate(name.replace(" ", "")):
        what = names.get(letter)
        if what is None or not (i == 0 or what in ("shoot", "limp", "removed")):
            raise InvalidInput(_no_mark(text, low, ladder))
        said = _with(said, what)
    return said


def _names(ladder: StageScale) -> dict[str, int | str]:
    """What each key and each name of the ladder says: the code of a stage, a cause, or a flag."""
    out: dict[str, int | str] = dict(_FLAGS)
    for s in ladder.stages:
        out[s.key] = out[s.name.casefold()] = s.code
    for e in ladder.exits:
        out[e.key] = out[e.name.casefold()] = out[e.cause] = e.cause
    return out


def _with(said: Observation, what: int | str) -> Observation:
    if isinstance(what, int):
        return replace(said, stage=what)
    if what == "shoot":
        return replace(said, shoot=True)
    if what == "limp":
        return replace(said, wilted=True)
    return replace(said, removed=1) if what == "removed" else replace(said, loss=what)


def _no_mark(text: str, low: str, ladder: StageScale) -> str:
    first = ladder.stages[0]
    if low in _NOTHING:
        return (
            f"“{text.strip()}” can mean two things: write {first.key} where it was looked at and nothing had "
            "changed, and leave the cell empty where nobody looked."
        )
    rungs = [(s.key, s.name) for s in ladder.stages] + [(e.key, e.name) for e in ladder.exits]
    keys = ", ".join(f"{key} {name.lower()}" for key, name in rungs)
    return f"“{text.strip()[:30]}” is not a stage: write one of {keys}."


def _date(trial: Trial, text: str, order: DateOrder | None) -> date | None:
    """A date, or a day of the trial such as `day 12` or 12."""
    assert trial.started_at is not None
    if day := re.fullmatch(r"(?:day\s*)?(\d{1,3})", text.casefold()):
        return date_of_day(trial.started_at, int(day[1]), trial.plan.time_zone)
    read = read_date(text, order)
    return None if read is None else read[0].date()


def _by_name(trial: Trial, names: Mapping[str, str]) -> dict[str, str]:
    """Ids of the units by position, by blind label, and by both as they are shown."""
    out = {}
    for u in trial.planted:
        for name in (names[u.id], *names[u.id].split(" · ")):
            out[name.upper()] = u.id
    return out
