"""One treatment's own figures in words: its counts, and when half of it had struck."""

from racecard.core.assess.judgement import Arm
from racecard.core.text.amounts import fine, whole_percent


def counted(arm: Arm, did: str) -> str:
    """Struck of those that count, with what was left out beside it.

    Args:
        arm: the lane.
        did: what a plant did that counts, such as "rooted".
    """
    s = arm.strike
    parts = ((s.removed, "removed"), (s.unknown, "not seen"), (s.at_start, "already so on day 0"))
    left_out = [f"{n} more {what}" for n, what in parts if n]
    beside = f" ({', '.join(left_out)})" if left_out else ""
    named = ", estimated" if s.is_estimated and s.removed else ""
    return f"{s.struck} of {s.n - s.removed - s.unknown - s.at_start} {did}{beside}{named}"


def rate_words(arm: Arm) -> str:
    """The rate with its limits; named where containers weigh alike and plants would give another."""
    s = arm.strike
    if s.rate is None:
        return "no plants left"
    low, high = (None, None) if s.interval is None else (s.interval.low, s.interval.high)
    doubt = (
        "" if low is None or high is None else f" ({whole_percent(low)} to {whole_percent(high)})"
    )
    is_mean = (
        s.rate_pooled is not None
        and s.units < s.n
        and abs(s.rate - s.rate_pooled) > 0.005
        and not s.is_estimated
    )
    return f"{whole_percent(s.rate)} %{doubt}{', each container counting alike' if is_mean else ''}"


def half_words(arm: Arm) -> str:
    """When half had struck: the look, the look before it, and the doubt of the curve."""
    assert arm.half is not None
    after, by = arm.half
    said = f"day {fine(by)}" + (f", after day {fine(after)}" if after else "")
    low, high = arm.half_limits
    if low is None or low == high == by:
        return said
    doubt = f"{fine(low)} to {fine(high)}" if high is not None else f"not before day {fine(low)}"
    return f"{said} ({doubt})"
