"""Plans as one types: where they begin, how arms are made, and what follows."""

from fastapi import APIRouter

from racecard.api.deps import ShedDep
from racecard.api.schemas.consequences import (
    BaseRateOut,
    ConsequencesOut,
    PowerOut,
    TemplateOut,
)
from racecard.api.schemas.plans import (
    ArmsIn,
    BeginIn,
    CrossIn,
    DraftIn,
    LadderIn,
    PlanOut,
    TreatmentOut,
)
from racecard.core.model import Kind, Plan
from racecard.core.plan.arms import cross, ladder, mixture
from racecard.core.plan.consequences import considered
from racecard.core.plan.power import curve_beside, power_of_plan, with_units
from racecard.core.plan.templates import TEMPLATES, begin
from racecard.store.form_book import own_base_rates

router = APIRouter(prefix="/api", tags=["plans"])
_MOST_BASE_RATES = 6


@router.get("/templates", operation_id="list_templates")
def list_templates() -> list[TemplateOut]:
    """What can be compared, with the wood stages or crops of each."""
    return [TemplateOut.from_core(t) for t in TEMPLATES]


@router.post("/plans/begin", operation_id="begin_plan")
def begin_plan(body: BeginIn) -> PlanOut:
    """A draft to begin with, by what is compared and by wood stage or crop."""
    return PlanOut.from_core(begin(body.subject, body.stage, body.time_zone))


@router.post("/plans/arms", operation_id="make_arms")
def make_arms(body: ArmsIn) -> list[TreatmentOut]:
    """Arms made as a cross of factors, a ladder of doses or durations, or a mixture."""
    if isinstance(body, CrossIn):
        arms = cross([f.to_core() for f in body.factors])
    elif isinstance(body, LadderIn):
        arms = ladder(
            body.thing.strip(), body.low, body.high, body.steps, body.unit.strip(),
            carrier=body.carrier, agent=body.agent, even=body.even,
        )  # fmt: skip
    else:
        arms = mixture(body.one.strip(), body.other.strip(), body.steps)
    return [TreatmentOut.from_core(t) for t in arms]


@router.get("/base-rates", operation_id="list_base_rates")
def list_base_rates(shed: ShedDep, kind: Kind, material: str = "") -> list[BaseRateOut]:
    """What the controls of the grower's own finished trials struck, the likest material first."""
    with shed.reading() as session:
        found = own_base_rates(session, kind, material[:5000], _MOST_BASE_RATES)
    return [BaseRateOut.from_core(trial, rate) for trial, rate in found]


@router.post("/plans/check", operation_id="check_plan")
def check(draft: DraftIn) -> ConsequencesOut:
    """What follows from a plan: broken rules, notes, offers, cautions, power, and the bench."""
    plan = draft.plan.to_core()
    found = considered(plan, draft.seed, draft.core_locks())
    power = _power(plan) if found.is_whole else None
    return ConsequencesOut.from_core(plan, found, power, draft.seed)


def _power(plan: Plan) -> PowerOut | None:
    if plan.reference is None or not plan.family:
        return None
    half, double = with_units(plan, 0.5), with_units(plan, 2)
    return PowerOut.from_core(
        plan,
        power_of_plan(plan),
        curve_beside(half) if half else None,
        curve_beside(double) if double else None,
    )
