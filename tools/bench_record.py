"""What a run of the benchmarks found: printed row by row, kept on request, held against the run kept last."""

import json
import math
import subprocess
from collections.abc import Sequence
from dataclasses import asdict, dataclass, field
from datetime import UTC, datetime
from pathlib import Path

HISTORY = Path(__file__).parent.parent / "docs" / "bench-history.jsonl"
_SLOWER = 1.3
"""A row counts as slower from here on: below it a busy machine is the likelier reason."""


@dataclass(frozen=True, slots=True)
class Row:
    """One figure: seconds, its goal, how many times faster than a library in the same run, and that goal."""

    what: str
    seconds: float
    goal: float | None = None
    library: str = ""
    ratio: float | None = None
    goal_ratio: float | None = None

    def shown(self) -> str:
        """The row as it is printed."""
        text = f"{self.what:48s} {_time(self.seconds):>10s}"
        text += f"   goal {_time(self.goal)}" if self.goal is not None else ""
        if self.ratio is not None:
            text += f"   {self.ratio:.3g} x as fast as {self.library}"
            text += f" (goal {self.goal_ratio:g} x)" if self.goal_ratio is not None else ""
        return text if self.is_met else f"{text}   NOT MET"

    @property
    def is_met(self) -> bool:
        """Whether it reaches every goal it has."""
        in_time = self.goal is None or self.seconds <= self.goal
        return in_time and (self.goal_ratio is None or (self.ratio or 0) >= self.goal_ratio)


@dataclass(slots=True)
class Record:
    """The rows of one run."""

    rows: list[Row] = field(default_factory=list)

    def say(
        self, what: str, ours: float, *, goal: float | None = None, theirs: float | None = None,
        library: str = "", goal_ratio: float | None = None,
    ) -> None:  # fmt: skip
        """Print one figure and remember it; times in seconds."""
        ratio = None if theirs is None else theirs / ours
        row = Row(what, ours, goal, library, ratio, goal_ratio)
        self.rows.append(row)
        print(row.shown(), flush=True)

    def growth(self, what: str, sizes: Sequence[int], seconds: Sequence[float]) -> None:
        """Print how time grows with size: 1 is in proportion, 2 is with its square."""
        told = ", ".join(f"{n:,}: {_time(s)}" for n, s in zip(sizes, seconds, strict=True))
        print(f"{f'growth with {what}':48s} {exponent(sizes, seconds):10.2f}   {told}", flush=True)

    def compare(self) -> None:
        """Print what got slower since the run kept last: by its ratio to a library where it has one."""
        if not HISTORY.exists():
            return
        last = json.loads(HISTORY.read_text().splitlines()[-1])
        before = {r["what"]: r for r in last["rows"]}
        slower = []
        for row in self.rows:
            old = before.get(row.what)
            if old is None:
                continue
            if row.ratio is not None and old["ratio"]:
                change = old["ratio"] / row.ratio
            else:
                change = row.seconds / old["seconds"]
            if change > _SLOWER:
                slower.append(f"  {row.what}: {change:.1f} x slower than on {last['on'][:10]}")
        print("\n".join(["", *(slower or [f"Nothing is slower than on {last['on'][:10]}."])]))

    def save(self) -> None:
        """Add the run to the history, a line of JSON each."""
        commit = ["git", "rev-parse", "--short", "HEAD"]
        at = subprocess.run(commit, capture_output=True, text=True, check=False).stdout.strip()
        run = {
            "on": f"{datetime.now(UTC):%Y-%m-%dT%H:%MZ}", "commit": at,
            "rows": [
                {k: _short(v) for k, v in asdict(r).items() if k in ("what", "seconds", "ratio")} for r in self.rows
            ],
        }  # fmt: skip
        with HISTORY.open("a") as file:
            file.write(json.dumps(run) + "\n")


def exponent(sizes: Sequence[int], seconds: Sequence[float]) -> float:
    """Slope of log time against log size, by least squares."""
    x, y = [math.log(n) for n in sizes], [math.log(s) for s in seconds]
    mx, my = sum(x) / len(x), sum(y) / len(y)
    return sum((a - mx) * (b - my) for a, b in zip(x, y, strict=True)) / sum(
        (a - mx) ** 2 for a in x
    )


def _short(value: object) -> object:
    return float(f"{value:.3g}") if isinstance(value, float) else value


def _time(seconds: float) -> str:
    if seconds >= 1:
        return f"{seconds:.2f} s"
    return f"{1e3 * seconds:.1f} ms" if seconds >= 1e-3 else f"{1e6 * seconds:.0f} µs"
