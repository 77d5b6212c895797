"""The form book as a table: a row for each treatment of each trial, and what its columns mean."""

from collections.abc import Sequence

from racecard.core.formbook.line import FormLine, Tried, grade_words

COLUMNS = (
    ("trial", "Id of the trial"),
    ("question", "What was asked"),
    ("plant", "Plant, as read from the description of the material"),
    ("stage", "Wood stage or kind of material, as read from the description"),
    ("compared", "What was compared: hormone, medium, seed treatment ..."),
    ("judged_on", "What the verdict is on: strike, speed or quality"),
    ("began", "Date of day 0, ISO 8601; empty for a draft"),
    ("state", "draft, running, blind (no result may be shown), finished, abandoned"),
    ("state_says", "The state in words"),
    ("units", "Units planned, all treatments together"),
    ("treatment", "The treatment this row is about; empty where no result may be told"),
    ("verdict", "Verdict on it against the trial's own control"),
    (
        "difference",
        "Difference in the share that reached the goal, treatment less control, as a fraction",
    ),
    ("difference_low", "Lower limit of its 95 % interval; empty where there is none"),
    ("difference_high", "Upper limit of its 95 % interval"),
    ("control", "Name of the control"),
    ("control_struck", "Plants of the control that reached the goal by the last day"),
    ("control_n", "Plants of the control that count"),
    (
        "control_half_day",
        "Day by which half of the control had reached the goal; empty where half never did",
    ),
    ("repeats", "Id of the trial whose plan it repeats"),
    ("invented", "yes for demo data"),
)


def rows_of(lines: Sequence[FormLine]) -> list[list[str]]:
    """The header, then a row for each treatment that has a verdict, one for a trial without any."""
    out = [[name for name, _ in COLUMNS]]
    for x in lines:
        out += [_row(x, t) for t in x.tried or (None,)]
    return out


def dictionary() -> list[list[str]]:
    """What each column means, as a table."""
    return [["column", "meaning"], *([name, meaning] for name, meaning in COLUMNS)]


def _row(x: FormLine, t: Tried | None) -> list[str]:
    about = [
        x.trial, x.question, x.plant, x.stage, x.subject, x.measure, x.began, x.state.value, x.says,
        str(x.units),
    ]  # fmt: skip
    found = ["", "", "", "", ""]
    if t is not None:
        found = [t.name, grade_words(t.grade), _number(t.gap), _number(t.low), _number(t.high)]
    seen = ["", "", "", ""]
    if x.control is not None:
        c = x.control
        seen = [c.name, str(c.struck), str(c.n), "" if c.half_day is None else f"{c.half_day:g}"]
    return [*about, *found, *seen, x.repeats, "yes" if x.invented else ""]


def _number(value: float | None) -> str:
    return "" if value is None else f"{value:.4f}"
