"""How a scorer's marks compare with what the drawings are: agreement, drift, bias by kind of root.

References:
    [1] Cohen (1968), Psychol. Bull. 70, 213-220: weighted kappa (in `core/log/agreement.py`).
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from racecard.core.log.agreement import weighted_kappa
from racecard.core.trainer.drawn import SESSION, DrawnRoots, RootKind, session
from racecard.errors import InvalidInput

_SEEN = 0.5
"""A bias or drift of less than this many points of the scale is not spoken of."""


@dataclass(frozen=True, slots=True)
class Sitting:
    """One sitting: `same` of n marks were right, `near` at most one off; `kappa` quadratic [1].

    `bias`: mean of mark less truth; `drift`: that of the second half less that of the first;
    `by_kind`: bias by kind of root, with how many.
    """

    n: int
    same: int
    near: int
    kappa: float | None
    bias: float
    drift: float
    by_kind: tuple[tuple[RootKind, int, float], ...]

    @property
    def says(self) -> str:
        """What it comes to, in sentences."""
        told = [f"{self.same} of {self.n} marks were exactly right, {self.near} at most one off."]
        if self.kappa is not None:
            told[0] = told[0][:-1] + f"; weighted kappa {self.kappa:.2f}.".replace(
                "-", "\N{MINUS SIGN}"
            )
        if abs(self.bias) >= _SEEN:
            told.append(
                f"On average {abs(self.bias):.1f} points too {'kind' if self.bias > 0 else 'hard'}."
            )
        if abs(self.drift) >= _SEEN:
            told.append(
                f"The second half was marked {abs(self.drift):.1f} points "
                f"{'kinder' if self.drift > 0 else 'harder'} than the first: take a break half way."
            )
        odd = [(k, b) for k, n, b in self.by_kind if n >= 3 and abs(b - self.bias) >= _SEEN]
        for kind, bias in odd:
            way = "too kindly" if bias > 0 else "too hard"
            told.append(f"Roots that are {kind.value} are marked {abs(bias):.1f} points {way}.")
        if len(told) == 1:
            told.append("No bias and no drift stands out.")
        return " ".join(told)


def sitting(seed: int, marks: Sequence[int]) -> Sitting:
    """What a whole sitting comes to.

    Args:
        seed: the sitting's seed.
        marks: score 0 to 5 of each drawing, in the order they were shown.

    Raises:
        InvalidInput: not one mark for each drawing, or a mark that is no score.
    """
    if len(marks) != SESSION:
        raise InvalidInput(f"A sitting has {SESSION} marks, this has {len(marks)}.", "/marks")
    for i, mark in enumerate(marks):
        if not 0 <= mark <= 5:
            raise InvalidInput(f"A root score is 0 to 5, got {mark}.", f"/marks/{i}")
    drawn = session(seed)
    return compared(drawn, marks)


def compared(drawn: Sequence[DrawnRoots], marks: Sequence[int]) -> Sitting:
    """Marks of drawings against their true scores.

    Args:
        drawn: the drawings, in the order they were shown.
        marks: score given to each, 0 to 5.
    """
    truth = np.array([d.score for d in drawn])
    off = np.asarray(marks) - truth
    table = np.zeros((6, 6))
    np.add.at(table, (truth, np.asarray(marks)), 1)
    kappa, _ = weighted_kappa(table, "quadratic")
    half = len(off) // 2
    by_kind = []
    for kind in RootKind:
        mine = off[[d.kind is kind and d.score > 0 for d in drawn]]
        if len(mine):
            by_kind.append((kind, len(mine), float(mine.mean())))
    return Sitting(
        len(off), int((off == 0).sum()), int((np.abs(off) <= 1).sum()), kappa,
        float(off.mean()), float(off[half:].mean() - off[:half].mean()), tuple(by_kind),
    )  # fmt: skip
