"""What a grower has for a trial, and the limits within which plans are searched."""

from dataclasses import dataclass

from racecard.core.model import Kind
from racecard.core.plan.arms import MOST_ARMS
from racecard.core.plan.check import MOST_SITES
from racecard.errors import InvalidInput

MOST_PLANTS = 5000
"""Cuttings or seeds up to which plans are searched."""


@dataclass(frozen=True, slots=True)
class Have:
    """What there is, and what is asked of it.

    `plants`: cuttings, seeds or bulbs; `containers`: how many can stand apart, None where each plant
    has its own; `treatments`: those wanted, the control included, in the order of interest;
    `control`: share the control usually reaches; `difference`: the smallest that matters, as a share;
    `sites`: places that each hold a part of everything; `alike`: of plants in one container, 0 to 1.
    """

    plants: int
    treatments: int
    control: float
    difference: float
    containers: int | None = None
    sites: int = 1
    kind: Kind = Kind.CUTTING
    alike: float = 0.10

    @property
    def places(self) -> int:
        """Containers that can stand apart: never more than there are plants."""
        return self.plants if self.containers is None else min(self.containers, self.plants)

    @property
    def treated(self) -> float:
        """The share a treatment reaches where the smallest difference that matters is true."""
        return min(1.0, self.control + self.difference)


def check_have(have: Have) -> None:
    """Raise InvalidInput, by the field, where nothing can be designed from this."""
    for field, value, least, most in (
        ("plants", have.plants, 1, MOST_PLANTS),
        ("treatments", have.treatments, 2, MOST_ARMS),
        ("containers", 1 if have.containers is None else have.containers, 1, MOST_PLANTS),
        ("sites", have.sites, 1, MOST_SITES),
    ):
        if not least <= value <= most:
            raise InvalidInput(
                f"{_NAMES[field]} must be {least} to {most}, got {value}.", f"/{field}"
            )
    if not 0 <= have.control < 1:
        raise InvalidInput(
            f"The usual rate must be 0 to below 1, got {have.control:g}: a share, so 0.4 for 40 %.",
            "/control",
        )
    if not 0 < have.difference <= 1:
        raise InvalidInput(
            "The smallest difference that matters must be above 0 and at most 100 points, "
            f"got {100 * have.difference:g}.", "/difference",
        )  # fmt: skip
    if have.control + have.difference > 1 + 1e-9:
        raise InvalidInput(
            f"There is no room for {100 * have.difference:g} points above {100 * have.control:g} %: "
            f"name {100 - 100 * have.control:g} or fewer.", "/difference",
        )  # fmt: skip
    if not 0 <= have.alike < 1:
        raise InvalidInput(f"How alike must be 0 to below 1, got {have.alike:g}.", "/alike")
    if have.plants < have.treatments:
        raise InvalidInput(
            f"{have.plants} {noun(have.kind, have.plants)} cannot fill {have.treatments} treatments. "
            f"Enter at least {have.treatments}.", "/plants",
        )  # fmt: skip


def noun(kind: Kind, count: int) -> str:
    """Cutting or seed, as many as there are.

    Args:
        kind: cuttings or seeds.
        count: how many there are.
    """
    return f"{kind.value}{'' if count == 1 else 's'}"


_NAMES = {
    "plants": "The number of cuttings or seeds", "treatments": "The number of treatments",
    "containers": "The number of containers", "sites": "The number of places",
}  # fmt: skip
