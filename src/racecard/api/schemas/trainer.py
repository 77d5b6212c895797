"""The scorer trainer over HTTP: drawings without their scores, marks, and what they come to."""

from datetime import datetime

from pydantic import ConfigDict, Field, StrictInt

from racecard.api.schemas.base import In, Out
from racecard.core.trainer.drawn import DrawnRoots
from racecard.core.trainer.marks import Sitting
from racecard.store.training import Trained


class DrawingOut(Out):
    """One root system, mm from the base of the stem; nothing of its score."""

    lines: list[list[list[float]]]
    around: list[float]
    clod: int

    @classmethod
    def from_core(cls, d: DrawnRoots) -> "DrawingOut":
        lines = [[[x, y] for x, y in line] for line in d.lines]
        return cls(lines=lines, around=list(d.around), clod=d.clod)


class SittingIn(In):
    """A whole sitting: its seed, and a mark for every drawing in the order shown."""

    model_config = ConfigDict(json_schema_extra={"example": {"seed": 7, "marks": [3] * 24}})

    seed: StrictInt = Field(ge=0, le=2**31)
    marks: list[StrictInt] = Field(max_length=100)


class KindOut(Out):
    """Bias with one kind of root, in points of the scale."""

    kind: str
    n: int
    bias: float


class SittingOut(Out):
    """What a sitting comes to; `truth`: the score of each drawing, in the order shown."""

    says: str
    n: int
    same: int
    near: int
    kappa: float | None
    bias: float
    drift: float
    by_kind: list[KindOut]
    truth: list[int]

    @classmethod
    def from_core(cls, s: Sitting, truth: list[int]) -> "SittingOut":
        same = ("says", "n", "same", "near", "kappa", "bias", "drift")
        return cls(
            by_kind=[KindOut(kind=k.value, n=n, bias=b) for k, n, b in s.by_kind], truth=truth,
            **{name: getattr(s, name) for name in same},
        )  # fmt: skip


class TrainedOut(Out):
    """One sitting of a scorer."""

    who: str
    at: datetime
    says: str
    kappa: float | None
    bias: float

    @classmethod
    def from_core(cls, t: Trained) -> "TrainedOut":
        return cls(
            who=t.who, at=t.at, says=t.sitting.says, kappa=t.sitting.kappa, bias=t.sitting.bias
        )
