"""One treatment's own figures in words: its counts, and when half of it had struck."""

from racecard.core.assess.judgement import Arm


def counted(arm: Arm, did: str) -> str:
    """Struck of those that count, with what was left out beside it.

    Args:
        arm: the lane.
        did: what a plant did that counts, such as "rooted".
    """
    s = arm.strike
    left_out = [
        f"{n} {what}"
        for n, what in (
            (s.removed, "removed"), (s.unknown, "not known"), (s.at_start, "already so on day 0")
        ) if n
    ]  # fmt: skip
    beside = f" ({', '.join(left_out)})" if left_out else ""
    named = ", estimated" if s.is_estimated and s.removed else ""
    return f"{s.struck} of {s.n} {did}{beside}{named}"


def half_words(arm: Arm) -> str:
    """When half had struck: the look, the look before it, and the doubt of the curve."""
    assert arm.half is not None
    after, by = arm.half
    said = f"day {by:.0f}" + (f", after day {after:.0f}" if after else "")
    low, high = arm.half_limits
    if low is None or low == high == by:
        return said
    doubt = f"{low:.0f} to {high:.0f}" if high is not None else f"not before day {low:.0f}"
    return f"{said} ({doubt})"
