"""Readings of a mist bench that is not there: a day's swing, noise, and one fault if wanted."""

from datetime import datetime, timedelta

import numpy as np

from racecard.core.conditions.reading import Reading
from racecard.errors import InvalidInput

FAULTS = ("none", "gaps", "spikes", "stuck", "clock")
SOURCE = "bench logger (stand-in)"


def readings(
    place: str, start: datetime, stop: datetime, every: timedelta, fault: str, seed: int
) -> list[Reading]:
    """Readings of a mist bench from start to stop, invented: a day's swing, noise, and one fault.

    Args:
        place: where it stands.
        start: the first moment.
        stop: the last, not included.
        every: between readings.
        fault: none, gaps (a third of the time lost), spikes (single wild values), stuck (the last
            third never moves) or clock (runs two hours ahead).
        seed: the same seed plays the same readings.

    Raises:
        InvalidInput: no such fault.
    """
    if fault not in FAULTS:
        raise InvalidInput(f"A fault is one of {', '.join(FAULTS)}; got {fault!r}.", "/fault")
    rng = np.random.default_rng([seed, 0x10C])
    n = max(0, int((stop - start) / every))
    at = [start + i * every for i in range(n)]
    hour = np.array([t.hour + t.minute / 60 for t in at])
    sun = np.clip(np.sin((hour - 6) / 12 * np.pi), 0, None)
    celsius = 18.5 + 5.5 * sun + np.cumsum(rng.normal(0, 0.05, n)) * 0.5 + rng.normal(0, 0.15, n)
    humid = np.clip(92 - 14 * sun + rng.normal(0, 1, n), 30, 100)
    light = np.round(240 * sun * rng.uniform(0.6, 1, n))
    held = np.ones(n, bool)
    if fault == "gaps":
        held[n // 3 : 2 * n // 3] = False
    elif fault == "spikes" and n:
        celsius[rng.choice(n, max(1, n // 60), replace=False)] += 35
    elif fault == "stuck":
        celsius[2 * n // 3 :] = celsius[2 * n // 3] if n else 0
    elif fault == "clock":
        at = [t + timedelta(hours=2) for t in at]
    series = (("temperature", celsius), ("humidity", humid), ("light", light))
    return [
        Reading(place, name, at[i], round(float(values[i]), 1), SOURCE)
        for name, values in series
        for i in range(n)
        if held[i]
    ]
