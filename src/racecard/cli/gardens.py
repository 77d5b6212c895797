"""`racecard gardens-import`: the returns of many gardens, from any form, judged."""

import json
from collections.abc import Sequence
from dataclasses import asdict
from datetime import date
from pathlib import Path

from racecard.cli.finish import as_json as finish_json
from racecard.cli.finish import as_words as finish_words
from racecard.cli.finish import file_content
from racecard.core.exchange.bounds import ReadTable
from racecard.core.exchange.gardens import Fate, Returns, judge_returns, read_map, read_returns
from racecard.core.exchange.judged import JudgedTable
from racecard.core.model.table_dates import DateOrder, OrderAsked
from racecard.core.model.turnout import Turnout
from racecard.core.text.gardens import returns_say
from racecard.errors import InvalidInput
from racecard.formats.sheet import read_lines


def judged_form(
    path: Path, said: Sequence[str], control: str | None, *, dates: DateOrder | None, days: int | None,
    today: date, enrolled: int | None = None,
) -> tuple[Returns, JudgedTable]:  # fmt: skip
    """Read a form and judge what it holds.

    Raises:
        InvalidInput: the form cannot be read, a column is not there, or no row can be taken.
    """
    lines = list(read_lines(file_content(path)))
    try:
        returns = read_returns(
            lines, read_map(said), today=today, dates=dates, length_days=days, enrolled=enrolled
        )
    except OrderAsked as exc:
        first, month = DateOrder
        raise InvalidInput(f"{exc.detail} (--dates {first} or --dates {month})") from exc
    return returns, judge_returns(returns, control)


def as_json(returns: Returns, table: JudgedTable) -> str:
    """Every row's fate, the counts of gardens, and the judgement as `racecard finish` gives it."""
    return json.dumps(
        {
            "mapped": dict(returns.mapped),
            "rows": [
                {"row": r.row, "garden": r.garden, "fate": r.fate.value, "why": r.why} for r in returns.rows
            ],
            "gardens": {
                **asdict(_turnout(returns)), "compared": returns.compared, "one_treatment_only": returns.gardens(Fate.HALF),
                "refused_rows": sum(r.fate is Fate.REFUSED for r in returns.rows),
            },
            "says": _says(returns),
            **json.loads(finish_json(ReadTable(table))),
        },
        ensure_ascii=False,
        indent=2,
    )  # fmt: skip


def as_words(returns: Returns, table: JudgedTable) -> str:
    """The same as one reads it; rows that were taken as they stand are not listed."""
    odd = [
        f"Row {r.row}{f', {r.garden}' if r.garden else ''}: {r.fate.value}. {r.why}".rstrip()
        for r in returns.rows
        if r.fate is not Fate.TAKEN
    ]
    return "\n".join([_says(returns), "", *odd, "", finish_words(ReadTable(table))])


def _turnout(returns: Returns) -> Turnout:
    assert returns.sheet.turnout is not None
    return returns.sheet.turnout


def _says(returns: Returns) -> str:
    return returns_say(
        returns.enrolled, returns.compared, returns.silent, returns.gardens(Fate.WITHDRAWN),
        sum(r.fate is Fate.REFUSED for r in returns.rows),
    )  # fmt: skip
