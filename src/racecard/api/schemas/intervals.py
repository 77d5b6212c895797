"""Estimates with their limits over HTTP."""

from racecard.api.schemas.base import Out
from racecard.core.stats.proportions import Interval


class IntervalOut(Out):
    """An estimate with limits; null limits come with the reason."""

    estimate: float
    low: float | None
    high: float | None
    method: str
    reason: str

    @classmethod
    def of(cls, interval: Interval) -> "IntervalOut":
        return cls(**{name: getattr(interval, name) for name in cls.model_fields})

    @classmethod
    def from_core(cls, interval: Interval | None) -> "IntervalOut | None":
        return None if interval is None else cls.of(interval)


class HalfOut(Out):
    """A share was reached some time after one look and by another."""

    after: float
    by: float
