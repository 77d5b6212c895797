"""What may be measured at any look, and the signs of harm; each with its unit and its bounds.

The bounds are there to catch a slip of the finger, not to judge a plant: common practice.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from racecard.core.log.fields import Trait, check_fields
from racecard.core.model import Plan
from racecard.errors import InvalidInput

_LENGTHS = (("mm", 1.0), ("cm", 10.0), ("in", 25.4))
TRAITS = (
    Trait("height", "Height", "mm", 5000, units=_LENGTHS),
    Trait("leaves", "Leaves", "", 500, is_whole=True),
    Trait("true_leaves", "True leaves", "", 200, is_whole=True),
    Trait("diameter", "Stem diameter", "mm", 100, units=(("mm", 1.0), ("in", 25.4))),
    Trait("longest", "Longest root", "mm", 2000, units=_LENGTHS),
    Trait("roots", "Roots counted", "", 500, is_whole=True),
    Trait("water_level", "Water level", "mm", 2000, units=_LENGTHS),
    Trait("ph", "pH", "", 14),
    Trait("ec", "EC", "mS/cm", 20, units=(("mS/cm", 1.0), ("µS/cm", 0.001))),
)
HARMS = (
    Trait("tip_browning", "Brown leaf tips", "", 3, is_whole=True, drawing="tip_browning"),
    Trait("curl", "Curled leaves", "", 3, is_whole=True, drawing="curl"),
    Trait("yellowing", "Yellowing", "", 3, is_whole=True, drawing="yellowing"),
    Trait("base_burn", "Burnt base", "", 3, is_whole=True, drawing="base_burn"),
)
HARM_WORDS = ("none", "slight", "clear", "severe")


@dataclass(frozen=True, slots=True)
class Graded:
    """A measure a trial may be judged on; `usual` and `gap` are what a new plan starts from."""

    field: Trait
    usual: float
    gap: float

    @property
    def word(self) -> str:
        """Its name within a sentence."""
        return self.field.label.lower()

    def said(self, value: float) -> str:
        """A value with its unit."""
        return f"{value:.3g} {self.field.unit}".strip()


_USUAL = {
    "height": (100, 30), "leaves": (8, 2), "true_leaves": (4, 1), "diameter": (4, 1),
    "longest": (40, 15), "roots": (6, 2),
}  # fmt: skip
STAGE = "stage"
GRADED = {t.name: Graded(t, *_USUAL[t.name]) for t in TRAITS if t.name in _USUAL} | {
    STAGE: Graded(Trait(STAGE, "Stage reached", "", 9, is_whole=True), 3, 1)
}
"""What a trial may be judged on beside the root score; values to begin a plan with: invented.
`STAGE` is not measured: it is the stage of the last look, the lost as 0.
"""
SPREAD_SHARE = 0.4
"""Standard deviation between plants treated alike as a share of their mean, where none is given
(common practice: a coefficient of variation of 30 to 50 % is usual in young plants).
"""


def graded_word(plan: Plan) -> str:
    """What a trial judged on quality compares, within a sentence: root score, height."""
    return GRADED[plan.graded_by].word if plan.graded_by else "root score"


_ALL = {t.name: t for t in (*TRAITS, *HARMS)}


def check_measures(values: Mapping[str, float]) -> None:
    """Raise InvalidInput where a measure is not known, out of bounds, or not whole where it must be.

    Args:
        values: value by name of the measure, each in its own unit.
    """
    if not values:
        raise InvalidInput("Give at least one measure.", "/values")
    check_fields(_ALL, values, "/values", "is not measured here.")
