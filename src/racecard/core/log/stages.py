"""The stages of what is watched for: roots, seedlings, shoots, bloom, bulbs, or the grower's own steps.

One description of each stage serves the key panel, the tray, the legend and the finish. `code`
orders the ladder; `key` is what is pressed; `drawing` names the picture drawn for it.
Ladders: common practice in rooting and seed-testing work, own wording.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from racecard.core.model import Kind, Outcome, Plan
from racecard.errors import InvalidInput


@dataclass(frozen=True, slots=True)
class Stage:
    """One rung: what it is called, what to look for, which key says it."""

    code: int
    name: str
    look_for: str
    key: str
    drawing: str


@dataclass(frozen=True, slots=True)
class Exit:
    """A way to leave the bench: lost with a cause, or removed on purpose."""

    cause: str
    name: str
    look_for: str
    key: str
    drawing: str


@dataclass(frozen=True, slots=True)
class StageScale:
    """The stages and exits of one outcome of one kind of propagule, with its default endpoint."""

    kind: Kind
    outcome: Outcome
    stages: tuple[Stage, ...]
    exits: tuple[Exit, ...]
    endpoints: tuple[int, ...]
    default_endpoint: int

    def stage(self, code: int) -> Stage:
        """The stage with this code; InvalidInput where the ladder has none."""
        for stage in self.stages:
            if stage.code == code:
                return stage
        known = ", ".join(str(s.code) for s in self.stages)
        raise InvalidInput(f"stage must be one of {known}, got {code}", "/stage")

    @property
    def causes(self) -> tuple[str, ...]:
        """Causes of loss, "removed" not among them."""
        return tuple(e.cause for e in self.exits if e.cause != "removed")


_CUTTING = StageScale(
    kind=Kind.CUTTING,
    outcome=Outcome.USUAL,
    stages=(
        Stage(1, "No change", "green, firm, no change", "1", "settled"),
        Stage(2, "Swollen", "thicker base, bark may split", "2", "swollen"),
        Stage(3, "Callus", "pale tissue, half the rim or more", "3", "callus"),
        Stage(4, "Bulges", "bumps breaking the stem", "4", "bulges"),
        Stage(5, "First root", "one root of 2 mm or more", "5", "root"),
        Stage(6, "Rooted", "one root of 10 mm or three of 5 mm", "6", "rooted"),
        Stage(7, "Plantable", "root ball holds when lifted", "7", "plantable"),
    ),
    exits=(
        Exit("rotted", "Rotted", "dark, soft, smells", "8", "rotted"),
        Exit("dried", "Dried", "brittle, leaves crisp", "9", "dried"),
        Exit("damaged", "Damaged", "broken, eaten, knocked out", "0", "damaged"),
        Exit("mouldy", "Mouldy", "fungus over leaf or stem", "m", "mouldy"),
        Exit("unknown", "Cause unknown", "gone or dead, no clear cause", "u", "unknown"),
        Exit("removed", "Removed", "on purpose: a sample, a gift", "x", "removed"),
    ),
    endpoints=(5, 6, 7),
    default_endpoint=6,
)
_SEED = StageScale(
    kind=Kind.SEED,
    outcome=Outcome.USUAL,
    stages=(
        Stage(0, "No change", "still as sown", "0", "dry"),
        Stage(1, "Swollen", "visibly taken up water", "1", "imbibed"),
        Stage(2, "Root tip out", "root tip of 2 mm or more", "2", "radicle"),
        Stage(3, "Emerged", "hook or leaf above the surface", "3", "emerged"),
        Stage(4, "Seed leaves open", "flat and free of the coat", "4", "cotyledons"),
        Stage(5, "First true leaf", "10 mm, or half a seed leaf", "5", "trueleaf"),
        Stage(6, "Plantable", "two to four true leaves", "6", "plantable-seed"),
    ),
    exits=(
        Exit("damaged", "Damaged", "eaten, broken, knocked out", "7", "damaged"),
        Exit("mouldy", "Mouldy", "fungus over it, soft, not up", "8", "mould"),
        Exit("damped off", "Damped off", "fallen over, thread-thin collar", "9", "damped"),
        Exit("rotted", "Rotted", "soft, liquid inside when pressed", "r", "mould"),
        Exit("dried", "Dried", "shrivelled after it had started", "d", "unknown"),
        Exit("unknown", "Cause unknown", "gone or dead, no clear cause", "u", "unknown"),
        Exit("removed", "Removed", "on purpose: a sample, a gift", "x", "removed"),
    ),
    endpoints=(2, 3, 4, 5),
    default_endpoint=3,
)


_SHOOT = (
    Stage(1, "No change", "buds closed, as set", "1", "settled"),
    Stage(2, "Bud swelling", "a bud thicker than when set", "2", "bud"),
    Stage(3, "Shoot showing", "green tip out of the bud", "3", "shoot_tip"),
    Stage(4, "Shoot of 10 mm", "10 mm or more from the bud", "4", "shoot_grown"),
    Stage(5, "Leaf open", "first leaf flat", "5", "leaf_open"),
    Stage(6, "Plantable", "grows on by itself", "6", "plantable"),
)
_BLOOM = (
    Stage(1, "No bud", "leaves or less", "1", "settled"),
    Stage(2, "Bud seen", "a flower bud can be told", "2", "flower_bud"),
    Stage(3, "Colour", "the bud shows its colour", "3", "flower_colour"),
    Stage(4, "In bloom", "first flower open", "4", "flower_open"),
    Stage(5, "Over", "every flower has faded", "5", "flower_over"),
)
_BULB = (
    Stage(1, "No change", "firm, as set", "1", "bulb_set"),
    Stage(2, "Swelling", "base thicker, or new tissue", "2", "bulb_swollen"),
    Stage(3, "Bulblet or bud", "a new bulblet, or a new bud", "3", "bulb_bulblet"),
    Stage(4, "Rooted", "one root of 10 mm or more", "4", "bulb_rooted"),
    Stage(5, "Leaf up", "a leaf above the surface", "5", "bulb_leaf"),
    Stage(6, "Plantable", "grows on by itself", "6", "plantable"),
)
_MADE = {
    Outcome.SHOOT: (_SHOOT, (3, 4, 5, 6), 3), Outcome.BLOOM: (_BLOOM, (2, 3, 4), 4),
    Outcome.BULB: (_BULB, (3, 4, 5, 6), 3),
}  # fmt: skip
"""Stages, endpoints and the usual endpoint of outcomes that cuttings, bulbs and seedlings share."""
MOST_OWN_STEPS = 6
"""Keys from 7 on say how a plant left."""


def ladder_for(
    kind: Kind, outcome: Outcome = Outcome.USUAL, own_steps: Sequence[str] = ()
) -> StageScale:
    """The stages and exits of what is watched for.

    Args:
        kind: cuttings or seeds; says how they can be lost.
        outcome: what is watched for.
        own_steps: names of the grower's own steps, the first that of no change.
    """
    usual = _CUTTING if kind is Kind.CUTTING else _SEED
    if outcome is Outcome.USUAL:
        return usual
    if outcome is Outcome.OWN:
        steps = own_steps or [f"Step {n}" for n in range(1, MOST_OWN_STEPS + 1)]
        stages = tuple(
            Stage(i, name.strip(), "as set" if i == 1 else "", str(i), f"step_{i}")
            for i, name in enumerate(steps[:MOST_OWN_STEPS], 1)
        )
        return StageScale(
            kind, outcome, stages, usual.exits, tuple(range(2, len(stages) + 1)), len(stages)
        )
    stages, endpoints, endpoint = _MADE[outcome]
    return StageScale(kind, outcome, stages, usual.exits, endpoints, endpoint)


def stage_scale_of(plan: Plan) -> StageScale:
    """The stages and exits of a plan."""
    return ladder_for(plan.kind, plan.outcome, plan.own_steps)


def endpoint_name(plan: Plan) -> str:
    """How the endpoint is said in a sentence, with the trial's own threshold where it has one."""
    stage = stage_scale_of(plan).stage(plan.endpoint)
    usual = plan.outcome is Outcome.USUAL
    if usual and plan.kind is Kind.CUTTING and plan.endpoint == 6:
        half = f"{plan.threshold_mm / 2:g}"
        return f"rooted (a root of {plan.threshold_mm:g} mm or more, or three of {half} mm)"
    if usual and plan.kind is Kind.SEED and plan.endpoint == 2:
        return f"radicle out ({plan.threshold_mm:g} mm or more)"
    return stage.name.lower()
