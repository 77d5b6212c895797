"""The biggest doubt of a verdict in a few words: the first that holds."""

from collections.abc import Set

from racecard.core.assess.grade import Grade
from racecard.core.assess.judgement import Comparison
from racecard.core.model import Layout, Plan

DEFAULT_DOUBT = "one trial, one"
"""How the doubt begins that stands where nothing else is raised."""
NOT_DRAWN = "light, draughts or handling could be the reason"
_DOUBTS: tuple[tuple[tuple[str, ...], str], ...] = (
    (("not_drawn", "rows_by_treatment"), NOT_DRAWN),
    (("written_afterwards", "goal_moved"), "the goal was set after results could be seen"),
    (("thinned_strongest",), "only the strongest were kept"),
    (("removed_plants",), "the plants removed"),
    (("shared_containers",), "plants shared containers but were counted one by one"),
    (("some_arms_only",), "only some treatments were touched in between"),
    (("set_apart",), "treatments started on different days"),
    (("substituted",), "another batch was used for some"),
    (("agent_past_date",), "the product was past its date"),
    (("dose_off",), "the dose was off the recipe"),
    (("many_gardens_missing",), "gardens that sent nothing may have fared worse"),
    (("rests_on_one",), "one {thing} could change this verdict"),
    (("lost_without_cause",), "why they died was not written down"),
    (("blocks_disagree",), "results differ between blocks"),
    (("gradient",), "results differ along the tray"),
    (("containers_disagree",), "results differ between containers"),
    (("unequal_looks", "unscored_units"), "not all were looked at on the same days"),
    (("stopped_early",), "it stopped early"),
)


def biggest_doubt(
    codes: Set[str], plan: Plan, c: Comparison, *, is_drawn: bool, runs: int, things: str, rival: str | None = None,
    usual: str = "",
) -> str:  # fmt: skip
    """The first doubt that the notes raise; else a rival, too few plants, or that it is one trial.

    Args:
        codes: codes of the notes.
        plan: the plan.
        c: the comparison the answer begins with.
        is_drawn: False where positions are known not to have been drawn by lot.
        runs: how many runs are judged together.
        things: what a unit is called.
        rival: a treatment the leader is not clearly ahead of.
        usual: said where nothing is raised, in place of the usual.
    """
    if not is_drawn:
        return NOT_DRAWN
    for raised, said in _DOUBTS:
        if codes & set(raised):
            return said.format(thing=things)
    if rival is not None:
        return f"it is not clearly ahead of {rival}"
    if usual:
        return usual
    if c.grade is Grade.TOO_CLOSE:
        return "too few plants"
    if runs > 1:
        return "other plants and places may differ"
    return (
        "one trial, one season"
        if plan.layout is Layout.SITES
        else "one trial, one place, one season"
    )
