"""What may be measured at any look, and the signs of harm; each with its unit and its bounds.

The bounds are there to catch a slip of the finger, not to judge a plant: common practice.
"""

from collections.abc import Mapping

from racecard.core.log.fields import Field, check_fields
from racecard.errors import InvalidInput

_LENGTHS = (("mm", 1.0), ("cm", 10.0), ("in", 25.4))
TRAITS = (
    Field("height", "Height", "mm", 5000, units=_LENGTHS),
    Field("leaves", "Leaves", "", 500, is_whole=True),
    Field("true_leaves", "True leaves", "", 200, is_whole=True),
    Field("diameter", "Stem diameter", "mm", 100, units=(("mm", 1.0), ("in", 25.4))),
    Field("water_level", "Water level", "mm", 2000, units=_LENGTHS),
    Field("ph", "pH", "", 14),
    Field("ec", "EC", "mS/cm", 20, units=(("mS/cm", 1.0), ("µS/cm", 0.001))),
)
HARMS = (
    Field("tip_browning", "Brown leaf tips", "", 3, is_whole=True, drawing="tip_browning"),
    Field("curl", "Curled leaves", "", 3, is_whole=True, drawing="curl"),
    Field("yellowing", "Yellowing", "", 3, is_whole=True, drawing="yellowing"),
    Field("base_burn", "Burnt base", "", 3, is_whole=True, drawing="base_burn"),
)
HARM_WORDS = ("none", "slight", "clear", "severe")
_ALL = {t.name: t for t in (*TRAITS, *HARMS)}


def check_measures(values: Mapping[str, float]) -> None:
    """Raise InvalidInput where a measure is not known, out of bounds, or not whole where it must be."""
    if not values:
        raise InvalidInput("Give at least one measure.", "/values")
    check_fields(_ALL, values, "/values", "is not measured here.")
