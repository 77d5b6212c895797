"""What a verdict is made of: lanes, comparisons and their reasons, as plain data."""

from dataclasses import dataclass
from enum import StrEnum

from racecard.core.assess.grade import Grade, Why
from racecard.core.assess.harm import Harm
from racecard.core.assess.outcome import OnOutcome
from racecard.core.assess.primary import Graded
from racecard.core.assess.quality import ArmQuality
from racecard.core.assess.secondary import Beside
from racecard.core.assess.strike import ArmStrike
from racecard.core.assess.to_settle import Settled
from racecard.core.stats.interval_curve import Curve
from racecard.core.stats.permutation import PermutationResult
from racecard.core.stats.proportions import Interval


class Sooner(StrEnum):
    """Whether a lead over time may be called sooner: final strikes alike, or the struck were so."""

    NO = ""
    ALIKE = "alike"
    STRUCK = "struck"


@dataclass(frozen=True, slots=True)
class Arm:
    """One lane: strike, curve, when half had struck, root scores, at the age `horizon`.

    `half_limits`: days at which the 95 % limits of the curve cross one half, None where one never does.
    """

    index: int
    horizon: float
    strike: ArmStrike
    curve: Curve
    half: tuple[float, float] | None
    quality: ArmQuality | None
    half_limits: tuple[float | None, float | None] = (None, None)


@dataclass(frozen=True, slots=True)
class Asked:
    """A result on what the plan is judged on: its grade, p, and p after correction."""

    grade: Grade | None
    p: float | None
    p_holm: float | None


@dataclass(frozen=True, slots=True)
class Agent(Asked):
    """The agent itself, beyond its carrier: a candidate against that, on what the plan is judged on."""

    carrier: int
    outcome: OnOutcome

    @property
    def gap(self) -> Interval | None:
        """The difference in the unit of what was asked."""
        return self.outcome.gap

    @property
    def settle(self) -> Settled | None:
        """What would settle whether the agent does more than its carrier."""
        return self.outcome.settle


@dataclass(frozen=True, slots=True)
class Comparison:
    """One treatment against the control: `asked` on what the plan is judged on, `strike` on how many struck.

    Grades are None while nobody has looked at one of the two. `why`: what the grade rests on where it is not
    the test; `reason`: why the design cannot tell; `outcome`: the figures of what was asked.
    """

    index: int
    asked: Asked
    strike: Graded
    beside: Beside
    hurt: Harm
    outcome: OnOutcome
    agent: Agent | None
    sooner: Sooner
    is_small: bool
    reason: str
    why: Why

    @property
    def grade(self) -> Grade | None:
        """On the question's own outcome."""
        return self.asked.grade

    @property
    def strike_grade(self) -> Grade | None:
        """On how many struck."""
        return self.strike.grade

    @property
    def horizon(self) -> float:
        """The age the two are judged at, days."""
        return self.strike.horizon.age

    @property
    def is_final(self) -> bool:
        """Whether their end is reached."""
        return self.strike.horizon.reached

    @property
    def stopped_early(self) -> bool:
        """Whether too few were looked at by the end."""
        return self.strike.horizon.stopped_early

    @property
    def gap(self) -> Interval | None:
        """Difference in the share struck, treated less control."""
        return self.strike.primary.gap

    @property
    def gap90(self) -> Interval | None:
        """The same with 90 % limits, for equal outcomes."""
        return self.strike.primary.gap90

    @property
    def test(self) -> PermutationResult | None:
        """The lot test of the share struck."""
        return self.strike.primary.test

    @property
    def left_out(self) -> int:
        """Units left out of that test."""
        return self.strike.primary.left_out

    @property
    def settle(self) -> Settled | None:
        """What would settle it."""
        return self.outcome.settle

    @property
    def harm(self) -> bool:
        """Loss or injury beyond what chance explains."""
        return self.hurt.harm


@dataclass(frozen=True, slots=True)
class Judgement:
    """What a trial came to: lanes and comparisons, without a word or a note.

    `day`: the age all that were looked at can be judged at together; `stopped_early`: it lies before
    the end because too many were not looked at.
    """

    day: float
    is_final: bool
    arms: tuple[Arm, ...]
    comparisons: tuple[Comparison, ...]
    stopped_early: bool = False

    def arm(self, index: int) -> Arm:
        """The lane of a treatment.

        Args:
            index: the treatment.
        """
        return next(a for a in self.arms if a.index == index)


@dataclass(frozen=True, slots=True)
class GradeOutcome:
    """What one treatment was called, without sentences: grade on what was asked, on strike, and the gap in strike.

    `agent`: the grade of the agent beyond its carrier, None where none stands.
    """

    index: int
    grade: Grade | None
    strike_grade: Grade | None
    gap: float | None
    agent: Grade | None = None
    harm: bool = False
