"""Grades of verdict: from p values, floors and intervals to one of seven words."""

from collections.abc import Iterable, Sequence
from enum import StrEnum

from racecard.core.stats.multiplicity import CLEAR_LIMIT, LIKELY_LIMIT, below
from racecard.core.stats.proportions import Interval


class Grade(StrEnum):
    """How firmly two arms can be told apart."""

    CLEAR_LEAD = "clear_lead"
    CLEARLY_BEHIND = "clearly_behind"
    LIKELY_LEAD = "likely_lead"
    LIKELY_BEHIND = "likely_behind"
    TOO_CLOSE = "too_close_to_call"
    LEVEL = "level"
    CANNOT_TELL = "cannot_tell_by_design"


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


GRADE_WORDS: dict[Grade | None, str] = {
    None: "not looked at yet",
    Grade.CLEAR_LEAD: "clearly ahead",
    Grade.CLEARLY_BEHIND: "clearly behind",
    Grade.LIKELY_LEAD: "likely ahead",
    Grade.LIKELY_BEHIND: "likely behind",
    Grade.TOO_CLOSE: "too close to call",
    Grade.LEVEL: "level",
    Grade.CANNOT_TELL: "cannot tell",
}
LEADS = (Grade.CLEAR_LEAD, Grade.LIKELY_LEAD)
BEHIND = (Grade.CLEARLY_BEHIND, Grade.LIKELY_BEHIND)
CALLED = (*LEADS, *BEHIND)
CLEAR = (Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND)
AT_MOST_LIKELY: dict[Grade | None, Grade] = {
    Grade.CLEAR_LEAD: Grade.LIKELY_LEAD, Grade.CLEARLY_BEHIND: Grade.LIKELY_BEHIND,
}  # fmt: skip
"""What a clear grade becomes where no more than likely may be said."""


def grade_of(
    *,
    p_holm: float,
    minimum_p_holm: float,
    ahead: bool,
    interval: Interval | None,
    is_level: bool = False,
    may_be_clear: bool = True,
) -> Grade:
    """Grade of one comparison.

    Precedence: cannot tell by design, clear, level, likely, too close. The grade follows the
    test; an interval that holds 0 can only lower clear to likely.

    Args:
        p_holm: p adjusted corrected, in [0, 1].
        minimum_p_holm: floor of this design adjusted corrected, in [0, 1].
        ahead: the treated arm has the higher score.
        interval: 95 % interval of the same gap, or None.
        is_level: the 90 % interval lies inside the margin and level may be said at all.
        may_be_clear: False before the end day, or where the lot is known not to be drawn.
    """
    if not below(minimum_p_holm, CLEAR_LIMIT):
        return Grade.CANNOT_TELL
    has_limits = interval is not None and interval.low is not None
    crosses = has_limits and interval is not None and not interval.leaves_out_zero
    if below(p_holm, CLEAR_LIMIT) and may_be_clear and not crosses:
        return Grade.CLEAR_LEAD if ahead else Grade.CLEARLY_BEHIND
    if is_level:
        return Grade.LEVEL
    if below(p_holm, LIKELY_LIMIT):
        return Grade.LIKELY_LEAD if ahead else Grade.LIKELY_BEHIND
    return Grade.TOO_CLOSE


def lowest(grades: Sequence[Grade]) -> Grade:
    """The lowest of several grades of one comparison; opposite directions are too close to call."""
    if Grade.CANNOT_TELL in grades:
        return Grade.CANNOT_TELL
    if all(g is grades[0] for g in grades):
        return grades[0]
    for side in (LEADS, BEHIND):
        if all(g in side for g in grades):
            return next((g for g in grades if g not in CLEAR), grades[0])
    return Grade.TOO_CLOSE


def any_clear(grades: Iterable[Grade | None]) -> bool:
    """Whether any of these is a clear lead or clearly behind."""
    return any(g in CLEAR for g in grades)


def page_allows(p: float, claims: int, *, any_clear: bool) -> bool:
    """Whether a result beside the primary ones may be called clear without raising the page's error rate.

    It may where a primary result is clear already (a gate: with no difference anywhere, that happens in
    at most 5 of 100 trials), or where its p passes Bonferroni's correction over every claim of the page.

    Args:
        p: its own p.
        claims: how many claims the page makes, primary ones included.
        any_clear: whether a primary result is clear.
    """
    return any_clear or below(min(1.0, p * claims), CLEAR_LIMIT)
