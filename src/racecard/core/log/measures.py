"""What may be measured at any look, and the signs of harm; each with its unit and its bounds.

`units` are the grower's own, as (name, factor to the kept unit). The bounds are there to catch a
slip of the finger, not to judge a plant: common practice.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from racecard.errors import InvalidInput


@dataclass(frozen=True, slots=True)
class Trait:
    """One measured thing, kept in `unit`; `most`: beyond this it is taken for a slip."""

    name: str
    label: str
    unit: str
    most: float
    units: tuple[tuple[str, float], ...] = ()
    is_whole: bool = False
    drawing: str = ""


_LENGTHS = (("mm", 1.0), ("cm", 10.0), ("in", 25.4))
TRAITS = (
    Trait("height", "Height", "mm", 5000, _LENGTHS),
    Trait("leaves", "Leaves", "", 500, is_whole=True),
    Trait("true_leaves", "True leaves", "", 200, is_whole=True),
    Trait("diameter", "Stem diameter", "mm", 100, (("mm", 1.0), ("in", 25.4))),
    Trait("water_level", "Water level", "mm", 2000, _LENGTHS),
    Trait("ph", "pH", "", 14),
    Trait("ec", "EC", "mS/cm", 20, (("mS/cm", 1.0), ("µS/cm", 0.001))),
)
HARMS = (
    Trait("tip_browning", "Leaf tips brown", "", 3, is_whole=True, drawing="tip_browning"),
    Trait("curl", "Leaves curled", "", 3, is_whole=True, drawing="curl"),
    Trait("yellowing", "Yellowing", "", 3, is_whole=True, drawing="yellowing"),
    Trait("base_burn", "Base burnt", "", 3, is_whole=True, drawing="base_burn"),
)
HARM_WORDS = ("none", "slight", "clear", "severe")
_ALL = {t.name: t for t in (*TRAITS, *HARMS)}


def check_measures(values: Mapping[str, float]) -> None:
    """Raise InvalidInput where a measure is not known, out of bounds, or not whole where it must be."""
    if not values:
        raise InvalidInput("Give at least one measure.", "/values")
    for name, value in values.items():
        trait = _ALL.get(name)
        if trait is None:
            raise InvalidInput(f"{name!r} is not measured here.", f"/values/{name}")
        if not 0 <= value <= trait.most:
            unit = f" {trait.unit}" if trait.unit else ""
            raise InvalidInput(
                f"{trait.label} must be between 0 and {trait.most:g}{unit}, got {value:g}.",
                f"/values/{name}",
            )
        if trait.is_whole and value != int(value):
            raise InvalidInput(
                f"{trait.label} must be a whole number, got {value:g}.", f"/values/{name}"
            )
