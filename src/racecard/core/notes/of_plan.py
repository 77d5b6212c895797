"""Objections to a plan and its bench; most can be raised before anything is stuck."""

from collections import defaultdict
from collections.abc import Iterator, Sequence

import numpy as np

from racecard.core.log.days import look_spacing, planned_looks
from racecard.core.log.goal import do, had_done
from racecard.core.model import Layout, Measure, Plan, Role
from racecard.core.model.differences import because, entangled, lacks_carrier_control
from racecard.core.notes.registry import Evidence, Needs, Said, rule, words_list
from racecard.core.plan.power import false_pair_chance, most_candidates, plan_minimum_p
from racecard.core.plan.suggestions import endpoint_cannot_answer
from racecard.core.stats.multiplicity import CLEAR_LIMIT, below
from racecard.core.stats.permutation import minimum_p_of

_AGAINST = "what the treatments are compared with"
_NUMBERS = "numbers and the least chance"
_BENCH = "rows and gradients on the bench"
_LOOKS = "when it was looked at"
STARTS_OVER_A_REASON = ("rows_by_treatment", "not_drawn")
"""Notes that must be overruled with a reason before a trial starts."""
_MANY_PAIRS = 15
"""From six treatments on the eye finds a pair by chance more often than one time in three."""


@rule("not_drawn", "Positions not randomised", Needs.PLAN, "how it was stuck or sown")
def not_drawn(e: Evidence) -> Iterator[Said]:
    """Fires where the bench was laid by hand."""
    if e.plan.layout is Layout.BY_HAND and (e.seen is None or e.seen.lot_drawn is False):
        yield (
            "Positions were not randomised, so light, draughts or handling could explain the difference.",
            "Randomise next time; without it nothing here can be called clear.",
        )


@rule("no_control", "No control", Needs.PLAN, _AGAINST)
def no_control(e: Evidence) -> Iterator[Said]:
    """Fires where no treatment is the one the others are compared with; a table may only fail to say which is."""
    if e.plan.control is None and e.table is None:
        yield (
            f"Nothing here is left untreated, so nobody can say whether these would have {had_done(e.plan)} without treatment.",
            "Add an untreated control of the same size, from the same batch, same day.",
        )


@rule("control_is_candidate", "Control is also tested", Needs.PLAN, _AGAINST)
def control_is_candidate(e: Evidence) -> Iterator[Said]:
    """Fires where the reference has the role of a candidate."""
    control = e.plan.control
    if control is not None and control.role is Role.CANDIDATE:
        yield (
            f"{control.name} is both the control and a candidate, so its own gain is measured against nothing.",
            "Compare with an untreated control, or with your usual way.",
        )


@rule("no_carrier_control", "No carrier control", Needs.PLAN, _AGAINST)
def no_carrier_control(e: Evidence) -> Iterator[Said]:
    """Fires where a liquid, powder, gel or soak touches a candidate and nothing the control gets."""
    plan = e.plan
    missing = {
        lacks_carrier_control(plan, i)
        for i, t in enumerate(plan.treatments)
        if t.role is not Role.CARRIER and i != plan.reference
    } - {""}
    for carrier in sorted(missing):
        yield (
            f"Nothing here gets the {carrier} alone, so the effect of the {carrier} and of the active "
            "ingredient cannot be separated.",
            f"Add a carrier control: the same {carrier}, the same time, no active ingredient.",
            f"No {carrier} control",
        )


@rule("entangled", "Several things differ", Needs.PLAN, _AGAINST)
def several_differences(e: Evidence) -> Iterator[Said]:
    """Fires where a candidate differs from the reference in more than one thing and no arm tells which."""
    for found in entangled(e.plan):
        if not found.is_carrier_alone:
            do = "Make everything else the same."
            if found.missing:
                do = f"Add “{found.missing.name}”, or make everything else the same."
            yield f"{because(e.plan, found)}. Any of these could be the reason.", do


@rule("endpoint_cannot_answer", "One look cannot show speed", Needs.DRAFT, _LOOKS)
def one_look_for_speed(e: Evidence) -> Iterator[Said]:
    """Fires where speed is asked and fewer than two looks are planned."""
    if endpoint_cannot_answer(e.plan) and len(planned_looks(e.plan)) < 2:
        yield (
            f"The trial is judged on how soon they {do(e.plan)}, and one look at the end cannot see that.",
            f"Plan looks along the way, or judge it on how many {do(e.plan)}.",
        )


@rule("looks_too_sparse", "Looks too far apart", Needs.DRAFT, _LOOKS)
def looks_too_sparse(e: Evidence) -> Iterator[Said]:
    """Fires where speed is asked and looks are wider apart than the smallest difference that matters."""
    plan = e.plan
    if endpoint_cannot_answer(plan) and len(planned_looks(plan)) >= 2:
        yield (
            f"Looks are up to {look_spacing(plan)} days apart, but the smallest difference that matters is {plan.gap_days:g} days. A real difference could fall between looks.",
            f"Look at least every {plan.gap_days:g} days while they {do(plan)}.",
        )


@rule("ceiling", "No room to improve", Needs.DRAFT, _NUMBERS)
def no_room_above(e: Evidence) -> Iterator[Said]:
    """Fires where the usual rate leaves less room than the smallest difference that matters."""
    plan = e.plan
    room = 100 - plan.expected_percent
    if plan.measure is Measure.STRIKE and not plan.expect_level and room < plan.gap_points:
        yield (
            f"Of the control {plan.expected_percent:.0f} % usually {do(plan)}, which leaves {room:.0f} "
            f"points; the smallest difference that matters is {plan.gap_points:.0f}.",
            "Judge it on speed or root score, take a harder plant, or ask for a smaller gap.",
        )


@rule("shared_containers", "Container mates counted singly", Needs.DRAFT, _NUMBERS)
def will_share_containers(e: Evidence) -> Iterator[Said]:
    """Fires where plants that will share a container are to be counted one by one."""
    if _is_sized(e.plan) and e.plan.count_singly and e.plan.per_container > 1:
        yield SHARED


@rule("crowding_differs", "Crowding differs", Needs.PLAN, _NUMBERS)
def crowding(e: Evidence) -> Iterator[Said]:
    """Fires where containers of a treatment hold another number of plants than the reference's."""
    plan, reference = e.plan, e.plan.reference
    if reference is None:
        return
    base = plan.plants_in(reference)
    other = [t.name for t, n in zip(plan.treatments, plan.plants_of, strict=True) if n != base]
    if other:
        yield (
            f"Containers of {words_list(other)} hold another number of plants than those of "
            f"{plan.treatments[reference].name}: crowding is a second difference.",
            "Set the same number in every container, unless crowding is what you test.",
        )


@rule("one_unit_per_arm", "One unit per treatment", Needs.DRAFT, _NUMBERS)
def one_unit_planned(e: Evidence) -> Iterator[Said]:
    """Fires where some treatment is to have one unit only."""
    if _is_sized(e.plan) and min(e.plan.units_of) == 1:
        thing = "container" if e.plan.per_container > 1 else "plant"
        yield one_unit(thing, e.plan.units_of, max(1, len(e.plan.family)))


@rule("floor_too_high", "Too few to tell", Needs.DRAFT, _NUMBERS)
def too_few_planned(e: Evidence) -> Iterator[Said]:
    """Fires where the smallest p the plan can give, after Holm, is 0.05 or more."""
    plan = e.plan
    minimum_p = _planned_floor(plan)
    if minimum_p is not None and not below(minimum_p, CLEAR_LIMIT):
        fewest = min(plan.units_of)
        family = max(1, len(plan.family))
        yield too_few(plan.units_of, minimum_p, min(plan.drawn_blocks, fewest), family)


@rule("too_many_arms", "Too many treatments", Needs.DRAFT, _NUMBERS)
def too_many_treatments(e: Evidence) -> Iterator[Said]:
    """Fires where too few units are there for all comparisons, but enough for some."""
    plan = e.plan
    minimum_p = _planned_floor(plan)
    if minimum_p is None or below(minimum_p, CLEAR_LIMIT):
        return
    family = max(1, len(plan.family))
    judged = most_candidates(sum(plan.units_of), plan.drawn_blocks, len(plan.treatments))
    if 0 < judged < family:
        yield (
            f"{sum(plan.units_of)} units cannot answer {family} questions; they can answer {judged}. "
            f"With {len(plan.treatments)} equal treatments, some pair would look different by chance "
            f"{100 * false_pair_chance(len(plan.treatments)):.0f} times in 100.",
            f"Keep the {judged} you most want to know, and share the units among them.",
        )


@rule("many_pairs", "Many pairs, one by chance", Needs.DRAFT, _NUMBERS)
def many_pairs(e: Evidence) -> Iterator[Said]:
    """Fires where so many treatments stand side by side that some pair will look different by chance."""
    arms = len(e.plan.treatments)
    minimum_p = _planned_floor(e.plan)
    pairs = arms * (arms - 1) // 2
    if minimum_p is not None and below(minimum_p, CLEAR_LIMIT) and pairs >= _MANY_PAIRS:
        yield (
            f"{arms} treatments make {pairs} pairs. If all were equal, some pair would look different by "
            f"chance {100 * false_pair_chance(arms):.0f} times in 100, each pair tested alone.",
            "Read the comparisons with the control, and the placings, which allow for this.",
        )


@rule("rows_by_treatment", "One treatment per row", Needs.PLAN, _BENCH)
def rows_by_treatment(e: Evidence) -> Iterator[Said]:
    """Rows or columns of a tray that hold one treatment only.

    Lines of one treatment are an objection where every line of a tray is one, or where a fair lot
    would deal so many of them less than one time in twenty (short lines agree by luck). A
    treatment found on every line is not an objection.
    """
    arms = max(2, len(e.plan.treatments))
    for line in ("row", "column"):
        trays: dict[int, dict[int, list[int]]] = defaultdict(lambda: defaultdict(list))
        for c in e.cells:
            if c.treatment >= 0:
                trays[c.tray][c.row if line == "row" else c.col].append(c.treatment)
        for held in trays.values():
            lines = [h for h in held.values() if len(h) > 1]
            single = [h for h in lines if len(set(h)) == 1 and not all(h[0] in x for x in lines)]
            rare = any(len(lines) * arms ** (1.0 - len(h)) < 0.05 for h in single)
            if single and (rare or len(single) == len(lines) > 1):
                name = e.plan.treatments[single[0][0]].name
                yield (
                    f"A {line} of the tray holds only {name}, so a draught along it would look like the treatment.",
                    "Randomise the tray again before you start, with treatments mixed in every line.",
                    f"One treatment per {line}",
                )
                return


SHARED: Said = (
    "Plants that shared a container are counted one by one, as if they had stood alone.",
    "Count the container as the unit; use more containers, with fewer plants each.",
)
"""What is said of containers shared but counted singly."""


def one_unit(thing: str, sizes: Sequence[int], family: int = 1) -> Said:
    """What is said of one unit to a treatment; asks for as many as the floor asks for.

    Args:
        thing: what a unit is called.
        sizes: units of each treatment that is compared.
        family: comparisons that Holm corrects for.
    """
    enough = f"Set at least {_enough(2, 1, family)} {thing}s of each treatment, placed at random."
    if set(sizes) == {1}:
        return (
            f"There is one {thing} per treatment. What happened to that {thing} and what the treatment did "
            "cannot be separated.",
            enough,
            f"One {thing} per treatment",
        )
    return (
        f"Treatments have {words_list([str(n) for n in sizes])} {thing}s. What happened to a single {thing} and what "
        "its treatment did cannot be separated.",
        enough,
        f"A single {thing}",
    )


def too_few(sizes: Sequence[int], minimum_p: float, blocks: int, family: int) -> Said:
    """What is said of a design whose best result chance would still give too often.

    Args:
        sizes: units of each treatment.
        minimum_p: smallest p that any outcome could give.
        blocks: blocks they are dealt within, 1 for none.
        family: comparisons that Holm corrects for.
    """
    share = "" if family < 2 else f", allowing for {family} comparisons"
    each = (
        f"{sizes[0]} per treatment" if len(set(sizes)) == 1 else words_list([str(n) for n in sizes])
    )
    return (
        f"With {each}, even the largest possible difference would arise by chance "
        f"{_in_hundred(minimum_p)} times in 100{share}.",
        f"Set at least {_enough(min(sizes), blocks, family)} of each, or compare fewer treatments.",
    )


def _is_sized(plan: Plan) -> bool:
    return plan.control is not None and len(plan.treatments) >= 2 and min(plan.units_of) >= 1


def _planned_floor(plan: Plan) -> float | None:
    """Smallest p after Holm; None where there is nothing to compare, or one unit only."""
    if not _is_sized(plan) or min(plan.units_of) == 1:
        return None
    return min(1.0, max(1, len(plan.family)) * plan_minimum_p(plan))


def _enough(units: int, blocks: int, family: int) -> int:
    """Units of each treatment from which the floor of the family leaves a verdict open."""
    return next(
        n
        for n in range(units, 200)
        if below(_family_floor(n, n, min(blocks, n), family), CLEAR_LIMIT)
    )


def _family_floor(treated: int, control: int, blocks: int, family: int) -> float:
    block = np.concatenate([np.arange(treated) % blocks, np.arange(control) % blocks])
    arm = np.arange(treated + control) < treated
    return min(1.0, minimum_p_of(arm, block) * max(1, family))


def _in_hundred(p: float) -> str:
    return f"{100 * p:.0f}" if p >= 0.095 else f"{100 * p:.1f}"
