"""The ways a line can be read: each takes the phrases it needs and says what it took them for.

A reading gives None where the line is not of its kind. Phrases it does not use are left over, and a
line with anything left over is not answered.
"""

from collections.abc import Callable

from racecard.core.prepare.phrases import Parse
from racecard.core.prepare.readings.parts import alcohol, parts, talc
from racecard.core.prepare.readings.pots import mixture, pots
from racecard.core.prepare.readings.rates import check, nutrient, rate, tablets
from racecard.core.prepare.readings.shared import Read, Refused
from racecard.core.prepare.readings.sown import seeds, soak
from racecard.core.prepare.readings.strengths import liquid
from racecard.core.prepare.readings.warmth import degree_days, degrees
from racecard.core.prepare.readings.weighed import into, made, strength_alone, volumes_added

__all__ = ["READINGS", "Read", "Refused"]

READINGS: tuple[Callable[[Parse], Read | None], ...] = (
    degree_days, degrees, soak, seeds, nutrient, mixture, check, pots, tablets, talc, alcohol, parts, into, rate, made, liquid,
    volumes_added, strength_alone,
)  # fmt: skip
"""In the order in which they are tried; the first that uses every token is the reading."""
