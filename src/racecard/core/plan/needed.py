"""How many units it would take: the smallest number from which power stays at the aim."""

from collections.abc import Callable

from racecard.core.stats.sample_size import plants_needed

MOST_UNITS = 2000


def guess_units(control: float, treated: float, family: int = 1, worth: float = 1.0) -> int:
    """A first guess by the corrected formula for two shares; `worth`: plants a unit is worth.

    Args:
        control: true share of the control, in [0, 1].
        treated: true share of the treated, in [0, 1].
        family: candidates that Holm corrects for.
        worth: plants that one unit is worth.
    """
    if abs(treated - control) < 1e-9:
        return MOST_UNITS
    plants = plants_needed(control, treated, alpha=0.05 / family)
    return max(2, min(MOST_UNITS, round(plants / worth)))


def units_needed(
    power_at: Callable[[int], float], guess: int, *, aim: float = 0.8, most: int = MOST_UNITS
) -> int | None:
    """The smallest number of units an arm from which power stays at or above the aim.

    Power of an exact test goes up in a saw line, so the search comes down from above: it stops
    at the last number that falls short, once a whole run of larger ones held.

    Args:
        power_at: power at a number of units.
        guess: where to begin, >= 1.
        aim: power wanted, in (0, 1).
        most: numbers beyond this are not tried.

    Returns:
        The number, or None where `most` units do not reach the aim.
    """
    top = min(most, max(2, guess))
    while not all(power_at(n) >= aim for n in _teeth(top, most)):
        if top == most:
            return None
        top = min(most, top + max(2, top // 40))
    while top > 1 and power_at(top - 1) >= aim:
        top -= 1
    return top


def _teeth(top: int, most: int) -> range:
    """Numbers just above `top`, wide enough to see the next teeth of the saw."""
    return range(top, min(most, top + max(3, top // 25)) + 1, max(1, top // 150))
