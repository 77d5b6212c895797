"""Trials over HTTP: where they stand, their course, their bench, their amendments."""

from datetime import date, datetime

from pydantic import ConfigDict, Field, StrictBool, StrictInt

from racecard.api.schemas.base import In, Out
from racecard.api.schemas.plans import CellOut, PlanChange, PlanOut, cells_out
from racecard.core.log.course import Dot, DotState
from racecard.core.log.dated import days_late
from racecard.core.log.veil import shown_plan
from racecard.core.model import Amendment, Status, Trial
from racecard.core.plan.record import short
from racecard.core.prepare.sticking import days_say
from racecard.core.streams import is_short
from racecard.formats.seed import Seed
from racecard.formats.stamp import Stamp


class StartIn(In):
    """When it was stuck or sown; now where not said."""

    model_config = ConfigDict(json_schema_extra={"example": {"at": "2026-05-03T09:30:00+01:00"}})

    at: Stamp | None = None


class AmendIn(In):
    """New values of some fields of a frozen plan, or a note, and why."""

    change: PlanChange = PlanChange()
    note: str = Field("", max_length=2000)
    reason: str = Field(max_length=2000)


class CopyIn(In):
    """The seed a copy's bench is drawn from, and its number of units where it is another."""

    seed: Seed
    units: StrictInt | None = Field(None, ge=1, le=5000)
    alone: StrictBool = False


class AmendmentOut(Out):
    """A change to the frozen plan, in words; `field` is empty for a free note."""

    at: datetime
    who: str
    field: str
    before: str
    after: str
    reason: str

    @classmethod
    def from_core(cls, a: Amendment) -> "AmendmentOut":
        return cls(**{name: getattr(a, name) for name in cls.model_fields})


class DotOut(Out):
    """One look on the course line."""

    day: int
    state: DotState

    @classmethod
    def from_core(cls, dot: Dot) -> "DotOut":
        return cls(day=dot.day, state=dot.state)


class TrialOut(Out):
    """A trial; the seed is null while it is sealed, since the bench could be drawn from it."""

    id: str
    revision: int
    status: Status
    plan: PlanOut
    seed: Seed | None
    seed_is_short: bool
    sealed: bool
    invented: bool
    created_at: datetime
    started_at: datetime | None
    started_on: date | None
    unsealed_at: datetime | None
    planned_at: datetime
    planned_late: int
    today: int | None
    days_say: str
    endpoint_says: str
    fingerprint: str
    has_predictions: bool
    amendments: list[AmendmentOut]
    course: list[DotOut]
    bench: list[CellOut]

    @classmethod
    def from_core(
        cls,
        trial: Trial,
        today: int | None,
        started_on: date | None,
        dots: tuple[Dot, ...],
        endpoint: str,
    ) -> "TrialOut":
        sealed = trial.is_sealed
        return cls(
            id=trial.id, revision=trial.revision, status=trial.status,
            plan=PlanOut.from_core(shown_plan(trial)),
            seed=None if sealed else trial.seed, seed_is_short=is_short(trial.key), sealed=sealed, invented=trial.invented,
            created_at=trial.created_at, started_at=trial.started_at, started_on=started_on,
            unsealed_at=trial.unsealed_at, planned_at=trial.planned_at,
            planned_late=max(0, days_late(trial)), today=today,
            days_say="" if today is None else days_say(trial, today), endpoint_says=endpoint,
            fingerprint=short(trial.fingerprint),
            has_predictions=any(t.prediction is not None for t in trial.plan.treatments),
            amendments=[AmendmentOut.from_core(a) for a in trial.amendments],
            course=[DotOut.from_core(d) for d in dots],
            bench=cells_out([u.cell for u in trial.units], trial.key, sealed=sealed),
        )  # fmt: skip


class TrialLine(Out):
    """A trial in a list: what it asks, where it stands, and what is due."""

    id: str
    question: str
    material: str
    status: Status
    sealed: bool
    invented: bool
    treatments: int
    units: int
    today: int | None
    length_days: int
    due_day: int | None
    next_day: int | None
    missed: int
    looks_made: int
    finished: bool
    says: str
    fault: str
    """Why the trial cannot be read; "" where it can."""
