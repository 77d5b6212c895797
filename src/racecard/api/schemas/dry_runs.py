"""Dry runs over HTTP: truths in, progress and tallies out, and the races of the reading game."""

from datetime import datetime
from enum import StrEnum

from pydantic import ConfigDict, Field

from racecard.api.schemas.base import In, Out
from racecard.api.schemas.finish import FinishOut
from racecard.core.dryrun.simulate import Truth
from racecard.core.dryrun.simulate_trials import DryRun
from racecard.core.dryrun.truths import Nuisance
from racecard.core.model import Kind, Plan, Role
from racecard.store.dry_runs import Carried, Kept


class TruthIo(In):
    """How one treatment really behaves; shares from 0 to 1, days from day 0."""

    strike: float
    middle_day: float
    spread_days: float = 3.0
    loss: float = 0.0
    loss_day: float = 12.0
    score: float = 3.0
    icc: float = 0.0

    def to_core(self) -> Truth:
        return Truth(**self.model_dump())

    @classmethod
    def from_core(cls, t: Truth) -> "TruthIo":
        return cls(**{name: getattr(t, name) for name in cls.model_fields})


class NuisanceIo(In):
    """What goes wrong whatever the treatment."""

    block_points: float = 0.0
    missed: float = 0.0
    copied_wrong: float = 0.0
    lifted: float = 0.0

    def to_core(self) -> Nuisance:
        return Nuisance(**self.model_dump())

    @classmethod
    def from_core(cls, n: Nuisance) -> "NuisanceIo":
        return cls(**{name: getattr(n, name) for name in cls.model_fields})


class ChangesIn(In):
    """Another number of units, blocks or plants in a container; null keeps the plan's."""

    units: int | None = Field(None, ge=1, le=5000)
    blocks: int | None = Field(None, ge=1, le=500)
    per_container: int | None = Field(None, ge=1, le=200)


class DryRunIn(In):
    """A dry run to begin."""

    model_config = ConfigDict(
        extra="forbid",
        allow_inf_nan=False,
        json_schema_extra={
            "example": {
                "trial_id": "5b1c", "seasons": 1000, "seed": 1,
                "truths": [{"strike": 0.5, "middle_day": 24}, {"strike": 0.75, "middle_day": 22}],
            }
        },
    )  # fmt: skip

    trial_id: str
    truths: list[TruthIo] = Field(max_length=60)
    nuisance: NuisanceIo = NuisanceIo()
    changes: ChangesIn = ChangesIn()
    seasons: int = 1000
    seed: int = Field(1, ge=0, le=2**31)


class ProposalOut(Out):
    """A plan that can be carried out dry, and the truths its grower expects."""

    trial_id: str
    question: str
    kind: Kind
    names: list[str]
    silks: list[str]
    roles: list[Role]
    reference: int | None
    units: int
    blocks: int
    per_container: int
    scored: bool
    truths: list[TruthIo]


class TallyOut(Out):
    """What the seasons came to for one treatment, as counts; gaps and effect are fractions."""

    treatment: int
    effect: float
    right: int
    likely: int
    silent: int
    wrong: int
    mean_gap: float | None
    shown_when_called: float | None
    gap_low: float | None
    gap_high: float | None


class RunResultOut(Out):
    """What a dry run came to: `seasons` are numbers of an unlucky, a usual and a lucky one."""

    done: int
    tallies: list[TallyOut]
    any_wrong: int
    any_right: int
    best_first: float | None
    seasons: list[int]
    says: list[str]

    @classmethod
    def from_core(cls, r: DryRun) -> "RunResultOut":
        return cls(
            done=r.done,
            tallies=[TallyOut(**{n: getattr(t, n) for n in TallyOut.model_fields}) for t in r.tallies],
            any_wrong=r.any_wrong, any_right=r.any_right, best_first=r.best_first,
            seasons=list(r.seasons), says=list(r.says),
        )  # fmt: skip


class JobState(StrEnum):
    """How a dry run stands."""

    RUNNING = "running"
    DONE = "done"
    STOPPED = "stopped"


class DesignOut(Out):
    """The design that was carried out."""

    question: str
    names: list[str]
    silks: list[str]
    reference: int | None
    units: int
    blocks: int
    per_container: int

    @classmethod
    def from_core(cls, p: Plan) -> "DesignOut":
        return cls(
            question=p.question, names=[t.name for t in p.treatments],
            silks=[t.silk for t in p.treatments], reference=p.reference, units=p.units,
            blocks=p.drawn_blocks, per_container=p.per_container,
        )  # fmt: skip


class CarriedOut(Out):
    """A design, its truths and what it came to."""

    design: DesignOut
    truths: list[TruthIo]
    nuisance: NuisanceIo
    result: RunResultOut

    @classmethod
    def from_core(cls, c: Carried) -> "CarriedOut":
        return cls(
            design=DesignOut.from_core(c.plan), truths=[TruthIo.from_core(t) for t in c.truths],
            nuisance=NuisanceIo.from_core(c.nuisance), result=RunResultOut.from_core(c.run),
        )  # fmt: skip


class JobOut(Out):
    """A dry run under way or over; `carried` when it is over."""

    id: str
    state: JobState
    done: int
    of: int
    carried: CarriedOut | None


class KeepIn(In):
    """The name to keep a dry run under."""

    name: str = Field(max_length=200)


class KeptOut(Out):
    """A dry run that was kept."""

    id: str
    name: str
    at: datetime
    who: str
    invented: bool
    carried: CarriedOut

    @classmethod
    def from_core(cls, k: Kept) -> "KeptOut":
        return cls(
            id=k.id, name=k.name, at=k.at, who=k.who, invented=k.invented,
            carried=CarriedOut.from_core(k.carried),
        )  # fmt: skip


class SeasonOut(Out):
    """One season as the finish would show it."""

    kind: Kind
    finish: FinishOut


class RaceOut(Out):
    """A race to be read: what the bench showed, without what was true or called."""

    number: int
    units: int
    finish: FinishOut


class GuessIn(In):
    """Whether the treatment truly differs, in the grower's reading."""

    real: bool


class ReadOut(Out):
    """What the race was."""

    right: bool
    real: bool
    gap: float
    says: list[str]
