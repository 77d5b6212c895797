"""The plan of a repeat: the same question with another number of units, and what else was changed."""

from dataclasses import dataclass, replace

from racecard.core.model import Plan, UnitLevel
from racecard.core.plan.compare import Difference, differences


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


_NEUTRAL = frozenset(
    "question prior units blocks layout columns tray_rows tray_names sides border spare_cells unequal_reason gap_points "
    "gap_days gap_score expected_percent expected_days expected_score usual_spread icc pair_correlation "
    "mother_plants germination_percent at_hand overrides set_at unit_seconds time_zone blind look_days "
    "look_every_days secondary sample_lifts jobs contrasts block_basis start_together plant_id".split()
)
"""What may differ between runs of one plan: none of it is done to the plants."""


@dataclass(frozen=True, slots=True)
class RepeatOf:
    """A plan beside the one it repeats: what is done otherwise, and what differs without mattering."""

    changes: tuple[Difference, ...]
    neutral: tuple[Difference, ...]

    @property
    def says(self) -> str:
        """What the two may be taken for."""
        if not self.changes:
            return "The same plan: a further run, which can be put together with the others."
        if len(self.changes) == 1:
            return (
                f"One thing is changed ({self.changes[0].label}): the runs can be set side by side, and are not summed. "
                "They were not carried out together, so season and hand differ as well."
            )
        return (
            f"{len(self.changes)} things are changed at once: if the results differ, nobody can say which of them it was. "
            "Change one, or carry them out side by side in one trial."
        )


def repeat_of(old: Plan, new: Plan) -> RepeatOf:
    """What a repeat changes. A role, dose, medium, endpoint or last day is a change; a number is not."""
    changes: list[Difference] = []
    neutral: list[Difference] = []
    for d in differences(old, new):
        same = d.field in _NEUTRAL or d.label.endswith((": units", ": cuttings a stem"))
        (neutral if same else changes).append(d)
    return RepeatOf(tuple(changes), tuple(neutral))
