"""What a verdict is made of: lanes, comparisons and their reasons, as plain data."""

from dataclasses import dataclass
from enum import StrEnum

from racecard.core.assess.grade import Grade
from racecard.core.assess.quality import ArmQuality
from racecard.core.assess.secondary import Secondary
from racecard.core.assess.strike import ArmStrike
from racecard.core.assess.to_settle import Settled
from racecard.core.stats.interval_curve import Curve
from racecard.core.stats.permutation import PermutationResult
from racecard.core.stats.proportions import Interval


class Why(StrEnum):
    """Why a comparison has the grade it has, where that is not the test."""

    TESTED = ""
    NOT_LOOKED_AT = "not_looked_at"
    NOT_LOOKED_FOR = "not_looked_for"
    SHARED = "shared_containers"
    ONE_UNIT = "one_unit"
    BLOCKS = "blocks_of_one_treatment"
    ENTANGLED = "several_differences"
    THINNED = "thinned_strongest"
    NOTHING_LEFT = "nothing_left"
    ALL_STRUCK = "all_struck"
    NONE_STRUCK = "none_struck"


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
    """A result on what the plan is judged on: its grade, p, and p after Holm corrected."""

    grade: Grade | None
    p: float | None
    p_holm: float | None


@dataclass(frozen=True, slots=True)
class Comparison:
    """One treatment against the control: `grade` on strike, `asked` on what the plan is judged on.

    Both are None while nobody has looked at one of the two. `why`: what the grade rests on where it
    is not the test; `stopped_early`: too few were looked at by the end; `apart`: test and curve point
    opposite ways.
    """

    index: int
    horizon: float
    is_final: bool
    gap: Interval | None
    gap90: Interval | None
    test: PermutationResult | None
    p_holm: float | None
    minimum_p: float | None
    minimum_p_holm: float | None
    grade: Grade | None
    asked: Grade | None
    grades_if_missing: tuple[Grade | None, Grade | None] | None
    is_small: bool
    harm: bool
    possible_harm: bool
    harm_by_injury: bool
    left_out: int
    over_time: Secondary
    quality: Secondary
    superiority: float | None
    superiority_struck: float | None
    sooner: Sooner
    reason: str
    settle: tuple[Settled, ...]
    why: Why = Why.TESTED
    stopped_early: bool = False
    apart: bool = False
    lost: tuple[int, int, int, int] = (0, 0, 0, 0)
    """Lost and stuck of the treatment, then of the control."""
    asked_p: float | None = None
    asked_p_holm: float | None = None


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


@dataclass(frozen=True, slots=True)
class GradeOutcome:
    """What one treatment was called, without sentences: grade on strike, on what was asked, and gap."""

    index: int
    grade: Grade | None
    asked: Grade | None
    gap: float | None
