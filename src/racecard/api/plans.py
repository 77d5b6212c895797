"""Plans as one types: where they begin, how arms are made, and what follows."""

from fastapi import APIRouter

from racecard.api.deps import ShedDep
from racecard.api.schemas.consequences import (
    BaseRateOut,
    ConsequencesOut,
    FaultOut,
    GatherOut,
    NoteOut,
    OfferOut,
    PairOut,
    PowerOut,
    TemplateOut,
    cautions_out,
)
from racecard.api.schemas.plans import (
    ArmsIn,
    BeginIn,
    CrossIn,
    DraftIn,
    LadderIn,
    PlanOut,
    TreatmentOut,
    cells_out,
)
from racecard.core.assess.base_rates import base_rate, most_alike
from racecard.core.log.assemble import results_of, unit_logs
from racecard.core.log.days import planned_looks
from racecard.core.model import Kind, Plan
from racecard.core.model.differences import in_use, pairs
from racecard.core.notes import notes_on_plan
from racecard.core.plan.arms import cross, ladder, mixture
from racecard.core.plan.bench import draw_bench
from racecard.core.plan.check import Fault, faults
from racecard.core.plan.materials_needed import shortfall_says, to_gather
from racecard.core.plan.power import curve_beside, power_of_plan, with_units
from racecard.core.plan.suggestions import hints, offers, unit_says
from racecard.core.plan.templates import TEMPLATES, begin
from racecard.errors import InvalidInput
from racecard.store.rounds import load_observations
from racecard.store.trials import load_trial, materials_of

router = APIRouter(prefix="/api", tags=["plans"])
_MOST_BASE_RATES = 6
_TEXTS = (
    "/name",
    "/detail",
    "question",
    "material",
    "/prediction",
    "/per_stem",
    "_reason",
    "/reason",
)
_OF_BENCH = (
    "/treatments", "/units", "/per_container", "/blocks", "/layout", "/columns", "/tray_rows",
    "/border", "/spare_cells", "/unequal",
)  # fmt: skip
"""What the bench is drawn from; a fault elsewhere leaves it standing."""


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
    out = []
    with shed.reading() as session:
        known = materials_of(session, kind)
        for i in most_alike(material[:5000], [text for _, text in known], _MOST_BASE_RATES):
            trial = load_trial(session, known[i][0])
            log = load_observations(session, trial.id)
            if trial.is_sealed:
                continue
            units = trial.stuck
            rate = base_rate(
                trial.plan, results_of(trial.plan, units, unit_logs(units, log, trial.plan))
            )
            if rate is not None:
                out.append(
                    BaseRateOut(
                        trial=trial.id, question=trial.plan.question, material=trial.plan.material,
                        day=rate.day, struck=rate.struck, n=rate.n, percent=rate.percent,
                    )
                )  # fmt: skip
    return out


@router.post("/plans/check", operation_id="check_plan")
def check(draft: DraftIn) -> ConsequencesOut:
    """What follows from a plan: broken rules, notes, offers, cautions, power, and the bench."""
    plan = draft.plan.to_core()
    found = list(faults(plan))
    broken = [f.pointer for f in found if not f.pointer.endswith(_TEXTS)]
    bench = []
    if not any(pointer.startswith(_OF_BENCH) for pointer in broken):
        try:
            bench = list(draw_bench(plan, draft.seed, draft.core_locks()))
        except InvalidInput as exc:
            found.append(Fault(exc.pointer or "/locks", exc.detail))
    is_whole = bool(bench) and not broken
    items = to_gather(plan, bench) if is_whole else ()
    return ConsequencesOut(
        whole=is_whole,
        faults=[FaultOut.from_core(f) for f in found],
        hints=list(hints(plan)) if is_whole else [],
        unit_says=unit_says(plan),
        offers=[OfferOut.from_core(o) for o in offers(plan)] if is_whole else [],
        pairs=[PairOut(one=p.one, other=p.other, differ=list(p.differ)) for p in pairs(plan)],
        properties=list(in_use(plan.treatments)),
        reference=plan.reference,
        notes=[NoteOut.from_core(n) for n in notes_on_plan(plan, bench)] if is_whole else [],
        cautions=cautions_out(plan),
        power=_power(plan) if is_whole else None,
        bench=cells_out(bench, draft.seed),
        gather=[GatherOut.from_core(i) for i in items],
        shortfall=shortfall_says(plan, items),
        look_days=list(planned_looks(plan)) if is_whole else [],
    )


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
