"""The plan of a repeat: the same question with another number of units."""

from dataclasses import replace

from racecard.core.model import Plan, UnitLevel


def repeated(plan: Plan, units: int | None = None, *, alone: bool = False) -> Plan:
    """A plan to repeat, sealed predictions left out.

    Args:
        plan: what was carried out.
        units: units of each treatment; as before where not given.
        alone: one plant to a container, where containers could not tell.
    """
    arms = tuple(replace(t, prediction=None) for t in plan.treatments)
    plan = replace(plan, treatments=arms)
    if units is None:
        return plan
    arms = tuple(replace(t, units=None) for t in plan.treatments)
    plan = replace(
        plan, treatments=arms, units=units, unequal_reason="", blocks=min(plan.blocks, units)
    )
    if not alone:
        return plan
    return replace(plan, per_container=1, level=UnitLevel.PROPAGULE, count_singly=False)
