"""Trials designed from what there is, over HTTP: three questions in, up to three plans out."""

from typing import Literal

from pydantic import Field, StrictBool, StrictInt

from racecard.api.schemas.base import In, Out
from racecard.api.schemas.plans import Number, PlanOut
from racecard.core.design.as_plan import plan_of
from racecard.core.design.proposals import Proposal, Standing
from racecard.core.design.question import Against, Understood, read_question, thing_of
from racecard.core.design.resources import MOST_PLANTS, Have
from racecard.core.model import Kind, Measure, Outcome, Subject
from racecard.core.plan.arms import MOST_ARMS
from racecard.core.plan.suggestions import measure_asked
from racecard.core.text.proposals import proposal_says

Differ = Literal["water", "place", "age", "lot", "size", "handling", "start"]
Container = Literal["jar", "pot", "cell", "tray", "bag", "container"]
_USUAL_PERCENT = 40.0
_USUAL_POINTS = 40.0
_MOST_DRAWN = 120


class DesignIn(In):
    """The three questions. What is left out is read from the line, or is what is usual.

    `names`: the treatments without the control; `treatments`: how many are wanted, the control included.
    """

    question: str = Field("", max_length=300)
    kind: Kind | None = None
    plant: str | None = Field(None, max_length=80)
    names: list[str] | None = Field(None, max_length=MOST_ARMS - 1)
    against: Against | None = None
    plants: StrictInt = Field(ge=-MOST_PLANTS, le=10 * MOST_PLANTS)
    containers: StrictInt | None = Field(None, ge=-MOST_PLANTS, le=10 * MOST_PLANTS)
    container: Container = "container"
    sites: StrictInt = Field(1, ge=-1000, le=100_000)
    days: StrictInt | None = Field(None, ge=1, le=730)
    blind: StrictBool = False
    control_percent: Number | None = Field(None, ge=0, le=100)
    gap_points: Number | None = Field(None, ge=0, le=100)
    differ: list[Differ] = Field([], max_length=7)
    time_zone: str = Field("UTC", max_length=100)

    def understood(self) -> Understood:
        """What was read of the line, and over it what the grower chose."""
        read = read_question(self.question)
        things = read.things
        if self.names is not None:
            things = tuple(thing_of(name.strip()) for name in self.names if name.strip())
        plant = read.plant if self.plant is None else self.plant.strip()
        subject = things[0].subject if things and read.subject is None else read.subject
        return Understood(
            self.kind or read.kind,
            subject,
            plant,
            things,
            self.against or read.against,
            read.outcome,
            () if self.names is not None else read.unread,
        )

    def have(self, understood: Understood) -> Have:
        """What there is, with the usual rate and difference where none was given."""
        control = _USUAL_PERCENT if self.control_percent is None else self.control_percent
        gap = min(_USUAL_POINTS, 100 - control) if self.gap_points is None else self.gap_points
        wanted = max(2, len(understood.things) + 1)
        return Have(
            self.plants, wanted, control / 100, gap / 100, self.containers, self.sites, understood.kind
        )  # fmt: skip


class UnderstoodOut(Out):
    """What was read of the line: "" and [] where nothing was."""

    kind: Kind
    subject: Subject | None
    plant: str
    names: list[str]
    against: Against
    outcome: Outcome
    judged: Measure
    """What the line says it is judged on; how many where it says nothing."""
    is_told: bool
    is_against_told: bool
    unread: list[str]
    """Words of the line that nobody read; none once the treatments were named by hand."""

    @classmethod
    def from_core(cls, read: Understood, question: str) -> "UnderstoodOut":
        return cls(
            kind=read.kind, subject=read.subject, plant=read.plant, names=[t.name for t in read.things],
            against=read.against or Against.NOTHING, outcome=read.outcome, is_told=bool(read.things),
            judged=measure_asked(question), is_against_told=read.against is not None, unread=list(read.unread),
        )  # fmt: skip


class ProposedPlanOut(Out):
    """One plan to choose. `bench`: treatment of each container as an example draw would place them."""

    title: str
    chip: str
    standing: Standing
    sets: str
    shows: str
    trade: str
    treatments: int
    units: int
    per_container: int
    containers: int
    power: float
    decidable: bool
    bench: list[int]
    plan: PlanOut

    @classmethod
    def from_core(
        cls, asked: DesignIn, have: Have, read: Understood, proposal: Proposal
    ) -> "ProposedPlanOut":
        """A proposal with its words and its whole plan."""
        d = proposal.design
        words = proposal_says(have, proposal, [t.name for t in read.things], asked.container)
        plan = plan_of(
            d, have, read, read.against or Against.NOTHING, question=asked.question, differ=asked.differ,
            days=asked.days, blind=asked.blind, time_zone=asked.time_zone,
        )  # fmt: skip
        return cls(
            title=words.title, chip=words.chip, standing=proposal.standing, sets=words.sets, shows=words.shows,
            trade=words.trade, treatments=d.treatments, units=d.units, per_container=d.per_container,
            containers=d.containers, power=d.power, decidable=d.decidable, bench=d.drawn(_MOST_DRAWN),
            plan=PlanOut.from_core(plan),
        )  # fmt: skip


class DesignsOut(Out):
    """What was understood, what was taken as usual, and the proposals, best first."""

    understood: UnderstoodOut
    control_percent: float
    gap_points: float
    says: str
    proposals: list[ProposedPlanOut]
