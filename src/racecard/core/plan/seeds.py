"""How many seeds to sow for the plants that are wanted.

References:
    [1] Binomial counting; label germination x emergence x survival is common practice.
"""

from math import ceil

from racecard.core.stats import special
from racecard.errors import InvalidInput

_MOST_SEEDS = 1_000_000


def chance_of_plant(germination: float, emergence: float = 1.0, survival: float = 1.0) -> float:
    """Chance that one seed becomes a plant: label germination x emergence factor x survival.

    Args:
        germination: share that germinates by the label, in (0, 1].
        emergence: share of those that come up here, in (0, 1].
        survival: share of those that become a plant, in (0, 1].

    Raises:
        InvalidInput: a share lies outside (0, 1].
    """
    for name, value in (
        ("germination", germination),
        ("emergence", emergence),
        ("survival", survival),
    ):
        if not 0 < value <= 1:
            raise InvalidInput(f"{name} must be above 0 and at most 1, got {value:g}", f"/{name}")
    return germination * emergence * survival


def seeds_on_average(wanted: int, chance: float, overage: float = 0.0) -> int:
    """Seeds that give this many plants on average, an overage added: ceil(W (1 + o) / p).

    Args:
        wanted: plants wanted.
        chance: chance that one seed becomes a plant, in (0, 1].
        overage: share added for losses, 0 or more.
    """
    return ceil(wanted * (1 + overage) / chance - 1e-9)


def seeds_to_be_sure(wanted: int, chance: float, sure: float = 0.95) -> int:
    """The fewest seeds of which at least `wanted` become plants this surely [1].

    Args:
        wanted: plants, >= 1.
        chance: of one seed, in (0, 1].
        sure: in (0, 1).
    """
    low, high = wanted, wanted
    while not _is_sure(high, wanted, chance, sure):
        low, high = high, min(_MOST_SEEDS, high * 2)
    while high - low > 1:
        mid = (low + high) // 2
        low, high = (low, mid) if _is_sure(mid, wanted, chance, sure) else (mid, high)
    return low if _is_sure(low, wanted, chance, sure) else high


def _is_sure(seeds: int, wanted: int, chance: float, sure: float) -> bool:
    return seeds >= _MOST_SEEDS or bool(special.bdtrc(wanted - 1, seeds, chance) >= sure)


def chance_of_any(chance: float, seeds: int) -> float:
    """Chance that a cell with this many seeds has at least one plant.

    Args:
        chance: chance that one seed becomes a plant, in (0, 1].
        seeds: seeds in a cell.
    """
    return float(1 - (1 - chance) ** seeds)
