"""Indices of growth, from sizes and masses.

References:
    [1] Blackman (1919), Ann. Bot. 33, 353-360: relative growth rate.
    [2] Dickson, Leaf & Hosner (1960), For. Chron. 36, 10-13: quality index.
"""

from collections.abc import Sequence
from math import log
from statistics import fmean

from racecard.errors import InvalidInput


def relative_growth_rate(first: Sequence[float], second: Sequence[float], days: float) -> float:
    """Growth per unit and day from groups of plants: mean of ln, never ln of the mean [1].

    Args:
        first, second: dry mass (or other size) of each plant at the two harvests, above 0.
        days: days between them, above 0.

    Returns:
        Per day; ln 2 divided by it is the doubling time.
    """
    if days <= 0 or not first or not second or min(*first, *second) <= 0:
        raise InvalidInput("masses and days between harvests must be above 0", "/first")
    return (fmean(map(log, second)) - fmean(map(log, first))) / days


def doubling_days(rate: float) -> float | None:
    """Days to double at a relative growth rate; None where nothing grew.

    Args:
        rate: relative growth rate, a day.
    """
    return log(2) / rate if rate > 0 else None


def slenderness(height_mm: float, diameter_mm: float) -> float:
    """Height over diameter: how leggy a seedling is. Compare inside a species and age.

    Args:
        height_mm, diameter_mm: both in mm, above 0.

    Raises:
        InvalidInput: a size that is not above 0.
    """
    _above_zero(height_mm, diameter_mm)
    return height_mm / diameter_mm


def sturdiness(height_cm: float, diameter_mm: float) -> float:
    """Height over root-collar diameter (forestry practice).

    Args:
        height_cm: height in cm, above 0.
        diameter_mm: root-collar diameter in mm, above 0.

    Raises:
        InvalidInput: a size that is not above 0.
    """
    _above_zero(height_cm, diameter_mm)
    return height_cm / diameter_mm


def root_to_shoot(root_g: float, shoot_g: float) -> float:
    """Root dry mass over shoot dry mass.

    Args:
        root_g, shoot_g: dry masses in g, above 0.

    Raises:
        InvalidInput: a mass that is not above 0.
    """
    _above_zero(root_g, shoot_g)
    return root_g / shoot_g


def quality_index(height_cm: float, diameter_mm: float, shoot_g: float, root_g: float) -> float:
    """Total dry mass over (height / diameter + shoot / root) [2].

    Args:
        height_cm: height in cm.
        diameter_mm: root-collar diameter in mm.
        shoot_g, root_g: dry masses in g; all above 0.

    Raises:
        InvalidInput: a size or mass that is not above 0.
    """
    _above_zero(height_cm, diameter_mm, shoot_g, root_g)
    return (shoot_g + root_g) / (height_cm / diameter_mm + shoot_g / root_g)


def chlorosis_score(yellow_percent: float, *, is_dead: bool = False) -> int:
    """Score 0 to 4 by the share of leaf area that is yellow: none, below 10, 30, 60 %, more or dead.

    Args:
        yellow_percent: leaf area that is yellow, percent, 0 to 100.
        is_dead: the plant has died.

    Raises:
        InvalidInput: a share that cannot be.
    """
    if not 0 <= yellow_percent <= 100:
        raise InvalidInput(
            f"yellow leaf area must be 0 to 100 %, got {yellow_percent:g}", "/yellow_percent"
        )
    if is_dead or yellow_percent > 60:
        return 4
    return (
        0 if yellow_percent == 0 else 1 if yellow_percent < 10 else 2 if yellow_percent <= 30 else 3
    )


def _above_zero(*values: float) -> None:
    if min(values) <= 0:
        raise InvalidInput(f"every measure must be above 0, got {min(values):g}", "/value")
