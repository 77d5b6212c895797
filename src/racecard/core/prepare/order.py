"""The order of work: untreated first, carriers, rising dose, sticky or staining last.

Common practice in propagation: so that nothing of a stronger dose is carried into a weaker one.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass

from racecard.core.model import Agent, Carrier, Kind, Plan, Role, Treatment
from racecard.core.prepare.arm_words import ranked_dose

_STICKY = re.compile(
    r"honey|syrup|gel\b|salve|paste|powder|talc|cinnamon|charcoal|dust|stain", re.I
)


_PUT_ON = re.compile(r"\b(dip|dust|soak|steep|drench|spray|paint|smear|bases?)(?!-)", re.I)
_BY_HAND = re.compile(
    r"\b(peel|strip|nick|sand|fil(?:ed|ing)|chip|crack|scarif|pierc|wound|scrap|split)", re.I
)
_DRY_TRAITS = frozenset(
    ("medium", "coat", "container", "cover", "place", "light", "temperature", "age", "lot", "wood stage",
     "type", "start", "duration")
)  # fmt: skip
"""Properties that nothing is poured for."""


@dataclass(frozen=True, slots=True)
class OrderStep:
    """One line of the checklist; `treatment` is the arm it belongs to, None for all."""

    key: str
    says: str
    why: str = ""
    treatment: int | None = None


def order_of(plan: Plan) -> tuple[int, ...]:
    """Treatments in the order they are treated."""
    keyed = [(_rank(t), ranked_dose(_all_words(t)), i) for i, t in enumerate(plan.treatments)]
    return tuple(i for _, _, i in sorted(keyed))


def _rank(t: Treatment) -> int:
    if t.carrier in (Carrier.TALC, Carrier.GEL) or _is_sticky(t):
        return 4 if t.agent is not Agent.NOTHING else 3
    if t.agent is not Agent.NOTHING and _is_poured(t):
        return 2
    return 1 if t.carrier is not Carrier.NONE else 0


def _is_sticky(t: Treatment) -> bool:
    """Whether it is put on and clings. Charcoal, powder or dust that is the medium is put on nothing."""
    if any(k == "medium" and v.strip() for k, v in t.properties) and not _PUT_ON.search(_words(t)):
        return False
    return bool(_STICKY.search(_words(t)))


def _all_words(t: Treatment) -> str:
    return "; ".join((*(v for _, v in t.properties), t.name, t.detail))


def _words(t: Treatment) -> str:
    return f"{t.name} {t.detail}"


def order_of_work(plan: Plan) -> tuple[OrderStep, ...]:
    """The checklist of a plan, from clean tools to the last pot."""
    return tuple(_steps(plan))


def _steps(plan: Plan) -> Iterator[OrderStep]:
    cutting = plan.kind is Kind.CUTTING
    things = "cuttings" if cutting else "seeds"
    set_ = "stuck" if cutting else "sown"
    yield OrderStep(
        "clean", "Clean blade, bench, trays and hands; lay out labels in the order of the bench."
    )
    yield OrderStep("shuffle", f"Shuffle the {things} and assign them to treatments at random before anything is treated.",
                    "otherwise the best plants go to the favourite treatment")  # fmt: skip
    if any(t.carrier in (Carrier.TALC, Carrier.WATER) for t in plan.treatments):
        yield OrderStep(
            "water",
            "Water the medium before setting, not after.",
            "mist and watering wash off powder and potassium salts",
        )
    yield OrderStep(
        "alike",
        f"The same wait, cut, depth and handling for all {things}; the untreated wait as long as the others.",
    )
    before: Treatment | None = None
    for i in order_of(plan):
        t = plan.treatments[i]
        if before is not None and _changes(before, t):
            yield OrderStep(
                f"change-{i}", f"New cup, fresh gloves and a wiped blade before {t.name}.", "", i
            )
        yield OrderStep(f"arm-{i}", _arm_says(t), _arm_why(t), i)
        before = t
    if any(_is_poured(t) for t in plan.treatments):
        yield OrderStep("pour", "Pour a working portion into a small labelled cup, 2 to 3 cm deep; never dip into the stock, "
                        "and never pour back.", "sap, soil and drying change it")  # fmt: skip
        yield OrderStep("discard", "Dispose of used portions at the end, as the label says.")
    yield OrderStep("place", f"Put each in its position on the tray plan; note every {things[:-1]} not {set_} as planned, and why.",
                    "treat in this order; place at random")  # fmt: skip


def _is_poured(t: Treatment) -> bool:
    """Whether it is used from a cup: a liquid, a gel or a powder; not a coat peeled or a medium."""
    if t.carrier in (Carrier.ALCOHOL, Carrier.WATER, Carrier.GEL):
        return True
    if t.agent is Agent.NOTHING or t.carrier is Carrier.TALC:
        return t.agent is not Agent.NOTHING
    said = {k for k, v in t.properties if v.strip()}
    is_handling = bool(said) and said <= _DRY_TRAITS
    return not (is_handling or _BY_HAND.search(_words(t))) or bool(_PUT_ON.search(_words(t)))


def _changes(before: Treatment, t: Treatment) -> bool:
    return _is_poured(before) or (_is_poured(t) and t.agent is not Agent.NOTHING)


def _arm_says(t: Treatment) -> str:
    return f"{t.name}: {t.detail}." if t.detail else f"{t.name}."


def _arm_why(t: Treatment) -> str:
    rank = _rank(t)
    if rank == 0:
        return "untreated first" if t.role is Role.CONTROL else ""
    return (
        "",
        "no active ingredient",
        "in rising dose",
        "sticky, no active ingredient",
        "sticky or staining last",
    )[rank]
