"""`racecard series`: runs of one plan judged together, each run beside the others."""

import json
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

from racecard.cli.finish import file_content, good_sheet, opened_trial
from racecard.core.exchange.series import Run, Series, SeriesOf, judge_series
from racecard.core.log.dated import lot_was_drawn
from racecard.core.model.table_dates import DateOrder
from racecard.core.stats.proportions import Interval
from racecard.core.text.series import series_says
from racecard.errors import InvalidInput
from racecard.formats.trial_table import sheet_of


def judged_runs(
    files: Sequence[Path], control: str | None, dates: DateOrder | None = None
) -> Series:
    """Read the runs in the order they are given, and judge them together.

    Raises:
        InvalidInput: a file cannot be read, or the runs may not be joined; every reason is told.
    """
    return judge_series([_run(path, dates) for path in files], control=control)


def chosen(series: Series, treatment: str | None) -> SeriesOf:
    """The comparison that is asked for; the first where none is named."""
    if treatment is None:
        return series.treatments[0]
    for found in series.treatments:
        if found.name.casefold() == treatment.casefold():
            return found
    names = ", ".join(t.name for t in series.treatments)
    raise InvalidInput(f"No treatment of all runs is called {treatment!r}: there are {names}.")


def as_json(series: Series, about: SeriesOf) -> str:
    """The runs and what they come to, in points, unrounded; null where the runs are too few."""
    return json.dumps(
        {
            "control": series.table.control,
            **_told(about),
            "comparisons": [_told(t) for t in series.treatments],
            "left_out": list(series.left_out),
            "answer": None
            if (answer := series.table.whole.answer) is None
            else {"kind": answer.kind, "text": answer.text},
            "headline": series.table.whole.headline,
            "says": _says(series, about),
            "notes": [
                {"code": n.code, "title": n.title, "sentence": n.message, "do": n.advice}
                for n in series.table.whole.notes
            ],
        },
        ensure_ascii=False,
        indent=2,
    )


def _told(t: SeriesOf) -> Mapping[str, Any]:
    c, r = t.comparison, t.together
    further, following = r.further, r.next_run
    gap, low, high = _points(c.gap)
    return {
        "treatment": t.name,
        "runs": [
            {"run": x.run, "treated": x.treated, "control": x.control,
             **dict(zip(("gap", "low", "high"), _points(x.gap), strict=True))}
            for x in r.runs
        ],
        "gap": gap, "low": low, "high": high,
        "p": c.test.p if c.test else None, "p_holm": c.asked.p_holm, "floor": c.strike.primary.minimum_p,
        "q": r.q, "q_p": r.q_p,
        "further": None if further is None else 100 * further[0],
        "further_low": None if further is None else 100 * further[1],
        "further_high": None if further is None else 100 * further[2],
        "next_low": None if following is None else 100 * following[0],
        "next_high": None if following is None else 100 * following[1],
        "grade": c.grade.value if c.grade else None,
        "course": [
            {"run": u.run, "p": u.p, "grade": u.grade.value if u.grade else None,
             **dict(zip(("gap", "low", "high"), _points(u.gap), strict=True))}
            for u in t.course
        ],
    }  # fmt: skip


def _points(interval: Interval | None) -> tuple[float | None, float | None, float | None]:
    if interval is None:
        return None, None, None
    low, high = interval.low, interval.high
    return (
        100 * interval.estimate, None if low is None else 100 * low, None if high is None else 100 * high,
    )  # fmt: skip


def as_words(series: Series, about: SeriesOf) -> str:
    """The same as a grower reads it."""
    notes = [f"Steward's note: {n.title}. {n.message} {n.advice}" for n in series.table.whole.notes]
    answer = series.table.whole.answer
    card = [answer.text, ""] if answer else []
    return "\n".join([*card, *_says(series, about), "", *notes]).rstrip()


def _says(series: Series, about: SeriesOf) -> list[str]:
    table = series.table
    verdict = table.whole.sentence(about.comparison.index)
    return series_says(table.plan, about.together, verdict, series.left_out)


def _run(path: Path, dates: DateOrder | None) -> Run:
    content = file_content(path)
    if path.suffix.casefold() != ".json":
        try:
            return Run(path.stem, good_sheet(content, dates))
        except InvalidInput as exc:
            raise InvalidInput(f"{path.name}: {exc.detail}", exc.pointer) from exc
    from racecard.store.rounds import load_observations

    with opened_trial(content) as (_, session, trial):
        return Run(
            path.stem,
            sheet_of(trial, load_observations(session, trial.id)),
            trial.plan,
            lot_was_drawn(trial),
        )
