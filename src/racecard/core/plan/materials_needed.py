"""What to gather before anything is cut, with spares, against what is at hand.

Overages (a tenth; 15 % of a dip) are common practice.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from math import ceil, floor

from racecard.core.model import Agent, Carrier, Cell, Kind, Plan, Subject, Treatment
from racecard.core.plan.power import power_of_plan
from racecard.core.plan.power_words import says
from racecard.core.plan.seeds import (
    chance_of_any,
    chance_of_plant,
    seeds_on_average,
    seeds_to_be_sure,
)

SPARE_SHARE = 0.10
DIP_SPARE = 0.15


@dataclass(frozen=True, slots=True)
class Item:
    """A thing to gather: how much in which unit, how that came about, and what is there.

    `per_unit`: how much one unit of each treatment takes, 0 where it does not grow with them.
    """

    key: str
    thing: str
    need: float
    unit: str
    how: str
    at_hand: float | None = None
    per_unit: float = 0.0

    @property
    def short(self) -> float:
        """How much is missing; 0 where nothing is, or where nobody has counted."""
        return 0.0 if self.at_hand is None else max(0.0, self.need - self.at_hand)


def to_gather(plan: Plan, cells: Sequence[Cell]) -> tuple[Item, ...]:
    """Everything a plan needs, in the order of the work."""
    at_hand = dict(plan.at_hand)
    return tuple(replace(i, at_hand=at_hand.get(i.key)) for i in _items(plan, cells))


def shortfall_says(plan: Plan, items: Sequence[Item]) -> str:
    """What is short, and what a smaller trial could still show; empty where nothing is."""
    short = [i for i in items if i.short > 0]
    if not short:
        return ""
    first = f"{_amount(short[0].short, short[0].unit)} short of {short[0].thing.lower()}"
    lead = f"You are {first}{f', and short of {len(short) - 1} more' if len(short) > 1 else ''}."
    scaling = [i for i in short if i.per_unit > 0]
    if len(scaling) < len(short) or plan.control is None:
        return lead
    units = min(floor((i.at_hand or 0) / i.per_unit + 1e-9) for i in scaling)
    units = min(units, plan.units)
    if units < 1:
        return f"{lead} There is not enough for one of each treatment."
    arms = tuple(replace(t, units=None) for t in plan.treatments)
    smaller = replace(
        plan, units=units, treatments=arms, blocks=min(plan.blocks, units), unequal_reason=""
    )
    return f"{lead} What is there is enough for {units} of each. {says(smaller, power_of_plan(smaller))}"


def _items(plan: Plan, cells: Sequence[Cell]) -> Iterator[Item]:
    units = sum(plan.units_of)
    plants = plan.plants
    yield _propagules(plan, plants)
    yield from _stock(plan, plants)
    spares = plan.spare_cells
    how = f"{units} + {spares} spare" if spares else ""
    yield Item("containers", "Containers", units + spares, "", how, per_unit=len(plan.treatments))
    if plan.pot_ml:
        litres = units * plan.pot_ml / 1000 * (1 + SPARE_SHARE)
        each = len(plan.treatments) * plan.pot_ml / 1000 * (1 + SPARE_SHARE)
        yield Item("medium", "Medium", round(litres, 1), "L", f"{units} × {plan.pot_ml:g} mL + a tenth",
                   per_unit=each)  # fmt: skip
    if plan.dip_ml:
        for t in (t for t in plan.treatments if _is_dipped(t)):
            need = ceil(plan.dip_ml * (1 + DIP_SPARE))
            yield Item(f"dip:{t.name}", f"Dip: {t.name}", need, "mL", f"{plan.dip_ml:g} + 15 %")
    labels = ceil(units * (1 + SPARE_SHARE))
    yield Item("labels", "Labels", labels, "", f"{units} + a tenth",
               per_unit=len(plan.treatments) * (1 + SPARE_SHARE))  # fmt: skip
    trays = max((c.tray for c in cells), default=-1) + 1
    yield Item("trays", "Trays", trays, "", f"{plan.tray_rows} × {plan.columns} cells")


def _propagules(plan: Plan, plants: int) -> Item:
    per_unit = sum(plan.plants_of) * (1 + SPARE_SHARE)
    need = ceil(plants * (1 + SPARE_SHARE))
    if plan.kind is Kind.CUTTING:
        by = f"; {ceil(need / plan.mother_plants)} from each of {plan.mother_plants} plants"
        how = f"{plants} + a tenth{by if plan.mother_plants > 1 else ''}"
        return Item("propagules", "Cuttings, matched", need, "", how, per_unit=per_unit)
    chance = chance_of_plant(plan.germination_percent / 100)
    if plan.subject is not Subject.GROWTH:
        come = f"; about {plants * chance:.0f} should come up by the label"
        if plan.per_container > 1:
            share = chance_of_any(chance, min(plan.plants_of))
            come += f"; {100 * share:.0f} % of containers have one up"
        return Item(
            "propagules", "Seeds, one lot", need, "", f"{plants} + a tenth{come}", per_unit=per_unit
        )
    mean, sure = seeds_on_average(plants, chance), seeds_to_be_sure(plants, chance)
    how = f"for {plants} plants at {plan.germination_percent:g} %: {mean} on average, {sure} to be 95 % sure"
    return Item("propagules", "Seeds, one lot", sure, "", how, per_unit=sure / plan.units)


def _stock(plan: Plan, plants: int) -> Iterator[Item]:
    """Mother stems, where it is said how many cuttings one gives."""
    each = zip(plan.treatments, plan.units_of, plan.plants_of, strict=True)
    arms = [(t, u * n) for t, u, n in each if t.per_stem]
    if not arms:
        return
    stems = [ceil(cuttings * (1 + SPARE_SHARE) / (t.per_stem or 1)) for t, cuttings in arms]
    how = ", ".join(f"{n} for {t.name}" for n, (t, _) in zip(stems, arms, strict=True))
    yield Item("stems", "Mother stems", sum(stems), "", how, per_unit=sum(stems) / plan.units)


def _is_dipped(t: Treatment) -> bool:
    return t.agent is not Agent.NOTHING or t.carrier is not Carrier.NONE


def _amount(value: float, unit: str) -> str:
    number = f"{value:.1f}" if unit == "L" else f"{ceil(value - 1e-9)}"
    return f"{number} {unit}".strip()


def amount_says(item: Item) -> str:
    """The need as words: number, unit, and how it came about."""
    how = f" ({item.how})" if item.how else ""
    return f"{_amount(item.need, item.unit)}{how}"
