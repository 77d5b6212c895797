"""How well a grower guesses: sealed predictions against what came, over all finished trials.

References:
    [1] Murphy & Winkler (1977), J. R. Stat. Soc. C 26, 41-47: reliability of stated chances.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise

from racecard.core.formbook.line import FormLine, Guess

_EDGES = (0, 20, 40, 60, 80, 101)


@dataclass(frozen=True, slots=True)
class Band:
    """Guesses within one band: how many, what was said and what came on average, in percent."""

    n: int
    said: float
    came: float


@dataclass(frozen=True, slots=True)
class Guessing:
    """All guesses: by band [1], how far off on average, and to which side."""

    n: int
    bands: tuple[Band, ...]
    off: float
    bias: float

    @property
    def says(self) -> str:
        """One sentence on them."""
        many = "1 prediction" if self.n == 1 else f"{self.n} predictions"
        tail = "on average neither too high nor too low"
        if abs(self.bias) >= 5:
            tail = (
                f"on average {abs(self.bias):.0f} points too {'low' if self.bias > 0 else 'high'}"
            )
        return f"{many}: {self.off:.0f} points off, {tail}."


def guessing_of(lines: Iterable[FormLine]) -> Guessing | None:
    """Every prediction of the finished trials; None where none was made."""
    guesses = [g for x in lines for g in x.guesses]
    if not guesses:
        return None
    bands = []
    for low, high in pairwise(_EDGES):
        within = [g for g in guesses if low <= g.said < high]
        if within:
            bands.append(Band(len(within), _mean([g.said for g in within]), _came(within)))
    return Guessing(
        len(guesses), tuple(bands), _mean([abs(g.came - g.said) for g in guesses]),
        _mean([g.came - g.said for g in guesses]),
    )  # fmt: skip


def _came(guesses: Sequence[Guess]) -> float:
    return _mean([g.came for g in guesses])


def _mean(values: Sequence[float]) -> float:
    return sum(values) / len(values)
