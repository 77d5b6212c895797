"""A trial for many gardens: what each is asked to do, and the order its own lot gives it.

Every garden is one block with one of each treatment. Its order is drawn from the trial's seed, sealed
until the garden has chosen its pots, and can be checked against the seed afterwards.
"""

import json
from dataclasses import asdict, dataclass, replace

from racecard.core.model import Kind, Layout, Plan, Role, Subject, Treatment, Trial, UnitLevel
from racecard.core.plan.check import check_plan
from racecard.core.plan.templates import begin
from racecard.core.prepare.cautions import cautions_of_plan
from racecard.core.streams import generator
from racecard.errors import InvalidInput

VERSION = 1
MOST_GARDENS = 500
_MOST_ARMS = 6
POTS = "ABCDEF"
_CAME_UP = "came up"


@dataclass(frozen=True, slots=True)
class GardenPack:
    """What a garden is told. `treatments`: name and what is done; `each`: plants per pot; `orders`: for
    garden 1, 2 … the treatment of pot A, B …, by index; `key`: short id of the series; `control`: what
    the others are compared with, by index.
    """

    key: str
    question: str
    material: str
    treatments: tuple[tuple[str, str], ...]
    each: int
    thing: str
    done: str
    days: int
    orders: tuple[tuple[int, ...], ...]
    cautions: tuple[str, ...] = ()
    control: int | None = None


def garden_pack(trial: Trial, gardens: int) -> GardenPack:
    """The pack of a trial for so many gardens.

    Args:
        trial: the trial that gardens are invited to.
        gardens: how many gardens it is for.

    Raises:
        InvalidInput: the plan is not complete, has no two to six treatments, or gardens are out of bounds.
    """
    plan = trial.plan
    check_plan(plan)
    if not 1 <= gardens <= MOST_GARDENS:
        raise InvalidInput(f"Gardens must be 1 to {MOST_GARDENS}, got {gardens}.", "/gardens")
    if not 2 <= len(plan.treatments) <= _MOST_ARMS:
        raise InvalidInput(
            f"A garden can carry out 2 to {_MOST_ARMS} treatments, this plan has {len(plan.treatments)}."
        )
    if trial.is_sealed:
        raise InvalidInput(
            "This trial is scored blind: a garden must know what it does to each pot."
        )
    if len(set(plan.plants_of)) > 1:
        raise InvalidInput("A garden pack needs the same number of plants in every pot.")
    is_seed = plan.kind is Kind.SEED
    return GardenPack(
        trial.id[:8], plan.question, plan.material[:1].upper() + plan.material[1:],
        tuple((t.name, t.detail) for t in plan.treatments), plan.per_container,
        _things(plan), _CAME_UP if is_seed else "rooted", plan.length_days,
        orders(trial.seed, len(plan.treatments), gardens),
        tuple(c.says for c in cautions_of_plan(plan)), plan.reference,
    )  # fmt: skip


_TOLD = {
    "question": "the question", "material": "the plants", "treatments": "the treatments", "control": "the control",
    "each": "the number in a pot", "thing": "what is set", "done": "what is counted", "days": "the day of the count",
    "orders": "the random order", "cautions": "the cautions",
}  # fmt: skip


def changed_since(pack: GardenPack, trial: Trial) -> str:
    """What a plan says otherwise than the pack its gardens were given, in a sentence; "" where it says the same.

    Args:
        pack: what the gardens were told.
        trial: the trial as it is now.
    """
    try:
        now = garden_pack(trial, len(pack.orders))
    except InvalidInput as error:
        return f"The plan can no longer be given to gardens: {error} Those invited work by the plan as it was."
    other = [says for name, says in _TOLD.items() if getattr(now, name) != getattr(pack, name)]
    if not other:
        return ""
    return (
        f"The plan has changed since these gardens were invited: {', '.join(other)}."
        " They work by the plan as it was."
    )


def plan_of_pack(pack: GardenPack) -> Plan:
    """A plan that does what a pack asks, one pot of each treatment in every garden; its own lot is drawn anew.

    Args:
        pack: a pack from anywhere; what no plan may hold is refused when the plan is kept.
    """
    is_seed = pack.done == _CAME_UP
    begun = begin(Subject.SEED_TREATMENT if is_seed else Subject.HORMONE)
    silks = ("plain", "hoops", "chevron", "spots", "sash", "cross")
    arms = tuple(
        Treatment(
            str(i),
            name,
            Role.CONTROL if i == pack.control else Role.CANDIDATE,
            detail=does,
            silk=silks[i],
        )
        for i, (name, does) in enumerate(pack.treatments)
    )
    return replace(
        begun, question=pack.question, material=pack.material, treatments=arms, units=max(2, len(pack.orders)),
        per_container=pack.each, length_days=pack.days, look_days=(pack.days,), blocks=1, layout=Layout.SITES,
        level=UnitLevel.CONTAINER, block_basis="household", columns=len(arms),
    )  # fmt: skip


def pack_text(pack: GardenPack) -> str:
    """A pack as it is kept with an invitation, so that every garden of it is told the same."""
    return json.dumps(asdict(pack), ensure_ascii=False)


def pack_of(text: str) -> GardenPack:
    """The pack of an invitation, from what `pack_text` made."""
    told = json.loads(text)
    pairs = tuple((name, does) for name, does in told["treatments"])
    placed = tuple(tuple(order) for order in told["orders"])
    return GardenPack(
        **told | {"treatments": pairs, "orders": placed, "cautions": tuple(told["cautions"])}
    )


def orders(seed: int, arms: int, gardens: int) -> tuple[tuple[int, ...], ...]:
    """The treatment of each pot, garden by garden, from the seed; more gardens leave the first as they were.

    Args:
        seed: the trial's seed.
        arms: treatments, each in one pot of a garden.
        gardens: how many gardens.
    """
    return tuple(
        tuple(int(i) for i in generator(seed, "garden", k).permutation(arms))
        for k in range(1, gardens + 1)
    )


def _things(plan: Plan) -> str:
    one, many = ("seed", "seeds") if plan.kind is Kind.SEED else ("cutting", "cuttings")
    return one if plan.per_container == 1 else many
