"""A simulated label printer: takes a job, prints what its roll allows, shows what came out.

It takes the same job a real one would: labels, a size and a number of copies. It can run out.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field

from racecard.errors import Conflict, InvalidInput
from racecard.formats.labels import STRIP, Label, label_svg

ROLL = 500
_MOST_KEPT = 20


@dataclass(frozen=True, slots=True)
class Printed:
    """A job as it came out: labels as SVG, how many were asked for, and what the printer says."""

    number: int
    asked: int
    labels: tuple[str, ...]
    says: str


@dataclass
class LabelPrinter:
    """The printer with its roll; `left`: labels on it."""

    left: int = ROLL
    jobs: list[Printed] = field(default_factory=list)

    def take(self, labels: Sequence[Label], copies: int = 1) -> Printed:
        """Print a job as far as the roll goes.

        Raises:
            InvalidInput: nothing to print, or copies outside 1 to 5.
            Conflict: the roll is empty.
        """
        if not labels:
            raise InvalidInput("There is nothing to print: the bench has no units.", "/labels")
        if not 1 <= copies <= 5:
            raise InvalidInput(f"Copies must be 1 to 5, got {copies}.", "/copies")
        if self.left == 0:
            raise Conflict("The label printer's roll is empty: put in a new one.")
        asked = [label for label in labels for _ in range(copies)]
        out = asked[: self.left]
        self.left -= len(out)
        short = len(asked) - len(out)
        says = f"{len(out)} labels came out, {self.left} are left on the roll."
        if short:
            says = f"{len(out)} labels came out, then the roll ran out: {short} are missing."
        number = self.jobs[-1].number + 1 if self.jobs else 1
        job = Printed(number, len(asked), tuple(label_svg(x, STRIP) for x in out), says)
        self.jobs = [*self.jobs, job][-_MOST_KEPT:]
        return job

    def new_roll(self) -> None:
        """Put in a full roll."""
        self.left = ROLL
