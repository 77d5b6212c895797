"""Truths of a dry run: what may be set, what is proposed from a plan, and what goes wrong."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from racecard.core.dryrun.simulate import Truth
from racecard.core.model import Kind, Layout, Measure, Plan, Role
from racecard.core.plan.bench import block_sizes
from racecard.core.plan.check import check_plan
from racecard.core.stats import special
from racecard.errors import InvalidInput

MOST_SEASONS = 5_000
MOST_PLANTS = 20_000
_SPREAD = 0.25
"""Spread of the days to strike as a share of their mean (common practice)."""
_LOSS = 0.05


@dataclass(frozen=True, slots=True)
class Nuisance:
    """What goes wrong in every season, whatever the treatment; shares from 0 to 1.

    `block_points`: standard deviation of blocks or trays, points; `missed`: share of looks at a
    unit that are missed; `copied_wrong`: share of plants whose outcome is entered the wrong way
    round; `lifted`: share of plants taken out unstruck half-way; `apart_days`: most days by which a
    unit is set after day 0, each keeping its own calendar.
    """

    block_points: float = 0.0
    missed: float = 0.0
    copied_wrong: float = 0.0
    lifted: float = 0.0
    apart_days: int = 0


def check_truths(plan: Plan, truths: Sequence[Truth], nuisance: Nuisance, seasons: int) -> None:
    """Raise InvalidInput where a truth cannot be, or the run would be too large.

    Args:
        plan: the plan that is carried out.
        truths: what is true of each treatment, in the order of the plan.
        nuisance: what differs besides: blocks, containers, losses.
        seasons: how many trials are simulated.
    """
    if len(truths) != len(plan.treatments):
        raise InvalidInput(
            f"the plan has {len(plan.treatments)} treatments, truths are given for {len(truths)}",
            "/truths",
        )
    for i, t in enumerate(truths):
        bounds = (
            ("strike", t.strike, 0, 1), ("loss", t.loss, 0, 1), ("middle_day", t.middle_day, 0.5, 1000),
            ("spread_days", t.spread_days, 0.1, 500), ("loss_day", t.loss_day, 0.5, 1000),
            ("score", t.score, 0, 5000 if plan.graded_by else 5), ("icc", t.icc, 0, 0.95),
        )  # fmt: skip
        for name, value, low, high in bounds:
            if not low <= value <= high:
                raise InvalidInput(
                    f"For {plan.treatments[i].name}, {name.replace('_', ' ')} must be {low} to {high}, not {value:g}.",
                    f"/truths/{i}/{name}",
                )
        if t.strike + t.loss > 1 + 1e-9:
            raise InvalidInput(
                f"Strike and loss of {plan.treatments[i].name} add up to more than 100 %: lower one of them.",
                f"/truths/{i}/loss",
            )
    for name in ("missed", "copied_wrong", "lifted"):
        if not 0 <= getattr(nuisance, name) <= 0.9:
            raise InvalidInput(f"{name.replace('_', ' ')} must be 0 to 0.9", f"/nuisance/{name}")
    if not 0 <= nuisance.block_points <= 40:
        raise InvalidInput(
            "differences between blocks must be 0 to 40 points", "/nuisance/block_points"
        )
    if not 1 <= seasons <= MOST_SEASONS:
        raise InvalidInput(f"seasons must be 1 to {MOST_SEASONS}, got {seasons}", "/seasons")
    plants = plan.plants
    if plants > MOST_PLANTS:
        raise InvalidInput(
            f"this plan has {plants} plants; {MOST_PLANTS} are the most for a dry run", "/plan"
        )


def true_share(truth: Truth, end: float) -> float:
    """Share that has truly struck by a day.

    Args:
        truth: what is true of one treatment.
        end: days after day 0.
    """
    shape = (truth.middle_day / truth.spread_days) ** 2
    scale = truth.spread_days**2 / truth.middle_day
    return (
        truth.strike * float(special.gammainc(shape, max(end, 0.0) / scale))
        if truth.strike
        else 0.0
    )


def proposed_truths(plan: Plan) -> tuple[Truth, ...]:
    """What the grower expects, as truths: predictions where sealed ones were given, else the plan's
    own expectation with the smallest difference that matters on top for candidates.
    """
    base = plan.expected_percent / 100
    like = plan.icc if plan.per_container > 1 else 0.0
    out = []
    for t in plan.treatments:
        better = t.role in (Role.CANDIDATE, Role.STANDARD) and not t.reference
        is_strike = plan.measure is Measure.STRIKE and not plan.expect_level
        strike = base + (plan.gap_points / 100 if better and is_strike else 0.0)
        if t.prediction is not None:
            strike = t.prediction / 100
        sooner = plan.gap_days if better and plan.measure is Measure.SPEED else 0.0
        middle = max(1.0, min(plan.expected_days, 0.8 * plan.length_days) - sooner)
        score = plan.expected_score + (
            plan.gap_score if better and plan.measure is Measure.QUALITY else 0
        )
        cause = "rotted" if plan.kind is Kind.CUTTING else "mouldy"
        strike = round(min(1.0, max(0.0, strike)), 2)
        out.append(
            Truth(
                strike, round(middle, 1), round(max(0.5, _SPREAD * middle), 1),
                loss=min(_LOSS, round(1 - strike, 2)), loss_day=round(max(1.0, 0.3 * plan.length_days), 1),
                cause=cause, score=score if plan.graded_by else min(5.0, score), icc=like,
            )
        )  # fmt: skip
    return tuple(out)


def changed_design(
    plan: Plan,
    *,
    units: int | None = None,
    blocks: int | None = None,
    per_container: int | None = None,
) -> Plan:
    """The plan with another number of units, blocks or plants in a container, to be compared with it.

    Args:
        plan: the plan.
        units: units of each treatment.
        blocks: number of blocks.
        per_container: plants in a container.

    Raises:
        InvalidInput: the changed plan breaks a rule.
    """
    changed = plan
    if units is not None:
        changed = replace(
            changed,
            units=units,
            treatments=tuple(replace(t, units=None) for t in changed.treatments),
        )
    if blocks is not None:
        changed = replace(changed, blocks=blocks)
    if per_container is not None:
        arms = tuple(replace(t, per_container=None) for t in changed.treatments)
        changed = replace(changed, per_container=per_container, treatments=arms)
    if changed.layout is Layout.BLOCKS and min(block_sizes(changed.units, changed.blocks)) < 1:
        raise InvalidInput(
            f"{changed.units} units cannot fill {changed.blocks} blocks", "/changes/blocks"
        )
    changed = replace(changed, sample_lifts=(), at_hand=())
    check_plan(changed)
    return changed
