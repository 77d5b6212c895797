"""A proposed design as a whole plan, that passes the plan's own checks and can be started or changed."""

from collections.abc import Sequence
from dataclasses import replace

from racecard.core.design.question import Against, Understood
from racecard.core.design.question_words import Thing
from racecard.core.design.resources import Have, noun
from racecard.core.design.search import Design
from racecard.core.log.stages import ladder_for
from racecard.core.model import (
    Agent,
    Carrier,
    Kind,
    Layout,
    Measure,
    Outcome,
    Plan,
    Role,
    Subject,
    Treatment,
    UnitLevel,
)
from racecard.core.model.drawings import SILKS
from racecard.core.plan.suggestions import measure_asked
from racecard.core.plan.templates import STAGES, begin, template

DIFFER = {
    "water": "the water", "place": "light or place", "age": "the age", "lot": "the mother plant or batch",
    "size": "the size", "handling": "who does it", "start": "the start day",
}  # fmt: skip
"""What else may differ between containers: the property it is, and how it is asked about."""
_CONTROLS = {
    Against.NOTHING: ("Untreated", (), Carrier.NONE),
    Against.WATER: ("Plain water", (("wetting", "plain water"),), Carrier.WATER),
    Against.USUAL: ("The usual way", (), Carrier.NONE),
    Against.CARRIER: ("Without the active ingredient", (), Carrier.NONE),
}
_ANOTHER = "Treatment"
_SILKS = (*(s.id for s in SILKS if s.id not in ("plain", "halves")), "halves")


def plan_of(
    design: Design,
    have: Have,
    understood: Understood,
    against: Against,
    *,
    question: str,
    differ: Sequence[str] = (),
    days: int | None = None,
    blind: bool = False,
    time_zone: str = "UTC",
) -> Plan:
    """The whole plan of a design; its days, looks and endpoint are those usual for what is compared.

    Args:
        design: what was chosen.
        have: what there is.
        understood: what was read of the question, or chosen.
        against: the control.
        question: the grower's own line.
        differ: what else differs between containers, keys of `DIFFER`.
        days: the last day; the usual one where not given.
        blind: treatments are hidden while scoring.
        time_zone: of the trial.
    """
    usual = watching_for(usual_plan(understood.subject, have.kind, time_zone), understood.outcome)
    judged = measure_asked(question)
    if judged is Measure.QUALITY and understood.outcome is not Outcome.USUAL:
        judged = usual.measure
    arms = _arms(understood, against, design.treatments, differ)
    arms = tuple(
        replace(t, units=design.control_units)
        if i == 0 and design.control_units != design.units
        else t
        for i, t in enumerate(arms)
    )
    plant = understood.plant
    length = days or usual.length_days
    plan = replace(
        usual, question=question.strip() or "What makes a difference?", kind=have.kind,
        material=f"{plant} {noun(have.kind, 2)}".strip(), treatments=arms, units=design.units,
        per_container=design.per_container, blocks=1 if design.layout is Layout.SITES else design.blocks,
        layout=design.layout, icc=have.alike, expected_percent=round(100 * have.control, 1),
        gap_points=max(1.0, round(100 * have.difference, 1)), blind=blind, length_days=length,
        look_days=(*(d for d in usual.look_days if d < length), length),
        measure=judged,
        level=UnitLevel.CONTAINER if design.per_container > 1 else UnitLevel.PROPAGULE,
        unequal_reason="" if design.control_units == design.units else "what was left over went to the control",
    )  # fmt: skip
    return _on_a_bench(plan)


def usual_plan(read: Subject | None, kind: Kind, time_zone: str) -> Plan:
    """The usual days, looks and endpoint for what is compared on plants of this kind.

    Args:
        read: what is compared; None where it was not said.
        kind: cuttings or seeds.
        time_zone: of the trial.
    """
    subject = _subject(read, kind)
    return begin(subject, _stage(subject, kind), time_zone)


def watching_for(plan: Plan, outcome: Outcome) -> Plan:
    """The plan with another thing watched for, and what usually counts of it."""
    if outcome in (Outcome.USUAL, plan.outcome):
        return plan
    endpoint = ladder_for(plan.kind, outcome).default_endpoint
    return replace(plan, outcome=outcome, endpoint=endpoint)


def _subject(read: Subject | None, kind: Kind) -> Subject:
    """What is compared, where plants of this kind can be; else what is usual for them."""
    kinds = {s.id: s.kind for s in STAGES}
    if read is not None and any(kinds[i] is kind for i in template(read).stages):
        return read
    return Subject.SEED_TREATMENT if kind is Kind.SEED else Subject.HORMONE


def _stage(subject: Subject, kind: Kind) -> str:
    if subject is Subject.DIVISION:
        return "bulb"
    kinds = {s.id: s.kind for s in STAGES}
    usual = "seed" if kind is Kind.SEED else "softwood"
    stages = template(subject).stages
    return usual if usual in stages else next(i for i in stages if kinds[i] is kind)


def _on_a_bench(plan: Plan) -> Plan:
    """Rows and columns for so many containers: near a square, as jars stand on a sill."""
    units = sum(plan.units_of)
    columns = min(12, max(2, round(units**0.5)))
    return replace(plan, columns=columns, tray_rows=max(1, min(60, -(-units // columns))))


def _arms(
    understood: Understood, against: Against, treatments: int, differ: Sequence[str]
) -> tuple[Treatment, ...]:
    things = understood.things[: treatments - 1]
    first = things[0] if things else None
    name, properties, carrier = _CONTROLS[against]
    if first is not None and not first.is_hormone and first.prop != "active":
        properties = (*properties, (first.prop, "as usual"))
    control = Treatment(
        "", name, Role.CONTROL, "", Agent.NOTHING, carrier, "plain", properties=properties
    )
    arms = [control, *(candidate(t, i, against) for i, t in enumerate(things))]
    while len(arms) < treatments:
        name, silk = f"{_ANOTHER} {len(arms)}", _SILKS[len(arms) - 1]
        arms.append(Treatment("", name, Role.CANDIDATE, agent=Agent.OTHER, silk=silk))
    return tuple(
        replace(t, properties=(*t.properties, *((d, f"its own: {t.name}") for d in differ)))
        for t in arms
    )


_CARRIERS = {"powder": Carrier.TALC, "talc": Carrier.TALC, "gel": Carrier.GEL}


def candidate(thing: Thing, i: int, against: Against) -> Treatment:
    """A treatment by what it is, with the i-th pattern; wetted as the control is.

    Args:
        thing: what is compared.
        i: its place among the candidates, from 0.
        against: what the control is given.
    """
    agent = (
        Agent.HORMONE
        if thing.is_hormone
        else Agent.OTHER
        if thing.prop == "active"
        else Agent.NOTHING
    )
    properties = [(thing.prop, thing.value)]
    if thing.strength:
        properties.append(("strength", thing.strength))
    carrier = Carrier.WATER if thing.is_liquid and against is Against.WATER else Carrier.NONE
    carrier = _CARRIERS.get(thing.make, carrier)
    if against is Against.WATER:
        properties.append(("wetting", "plain water"))
    return Treatment(
        "", thing.name, Role.CANDIDATE, "", agent, carrier, _SILKS[i], properties=tuple(properties)
    )
