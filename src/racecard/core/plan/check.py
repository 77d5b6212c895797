"""The rules a plan must keep, each with one sentence; and the cautions and notes it calls for."""

import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass

from racecard.core.log.days import zone
from racecard.core.log.stages import ladder_for
from racecard.core.model import Plan, Role
from racecard.errors import InvalidInput

MOST_CELLS = 4000
MOST_TREATMENTS = 12
NAME_LENGTH = 80
TEXT_LENGTH = 300


@dataclass(frozen=True, slots=True)
class Fault:
    """One broken rule: JSON pointer to the value, and what is wrong and what to do."""

    pointer: str
    says: str


def faults(plan: Plan) -> tuple[Fault, ...]:
    """Every rule this plan breaks, in the order of the page."""
    return (*_texts(plan), *_treatments(plan), *_numbers(plan), *_fit(plan))


def check_plan(plan: Plan) -> None:
    """Raise InvalidInput with the first broken rule, if any."""
    for fault in faults(plan):
        raise InvalidInput(fault.says, fault.pointer)


def _texts(plan: Plan) -> Iterator[Fault]:
    for field, label in (("question", "The question"), ("material", "The plant material")):
        yield from _text(f"/{field}", label, getattr(plan, field), TEXT_LENGTH)


def _text(
    pointer: str, label: str, value: str, longest: int, *, optional: bool = False
) -> Iterator[Fault]:
    if not optional and not value.strip():
        yield Fault(pointer, f"{label} is empty: say it in a few words.")
    if len(value) > longest:
        yield Fault(pointer, f"{label} has {len(value)} characters; keep it to {longest} or fewer.")
    if any(
        unicodedata.category(c) == "Cc" or c in "\u202a\u202b\u202d\u202e\u2066\u2067\u2068"
        for c in value
    ):
        yield Fault(
            pointer, f"{label} holds an invisible control character: type it again by hand."
        )


def _treatments(plan: Plan) -> Iterator[Fault]:
    n = len(plan.treatments)
    if not 2 <= n <= MOST_TREATMENTS:
        yield Fault(
            "/treatments", f"A trial compares 2 to {MOST_TREATMENTS} treatments; this has {n}."
        )
    seen: dict[str, int] = {}
    for i, t in enumerate(plan.treatments):
        at = f"/treatments/{i}"
        yield from _text(f"{at}/name", f"The name of treatment {i + 1}", t.name, NAME_LENGTH)
        yield from _text(
            f"{at}/detail", f"The detail of treatment {i + 1}", t.detail, TEXT_LENGTH, optional=True
        )
        key = " ".join(unicodedata.normalize("NFKC", t.name).casefold().split())
        if key and key in seen:
            yield Fault(
                f"{at}/name",
                f"Treatments {seen[key] + 1} and {i + 1} are both called "
                f"“{t.name.strip()}”: give each a name of its own.",
            )
        seen.setdefault(key, i)
    controls = [i + 1 for i, t in enumerate(plan.treatments) if t.role is Role.CONTROL]
    if len(controls) > 1:
        said = " and ".join(str(c) for c in controls)
        yield Fault(
            f"/treatments/{controls[1] - 1}/role",
            f"Treatments {said} are all called the control: keep one as the untreated control.",
        )
    silks = [t.silk for t in plan.treatments]
    for i, silk in enumerate(silks):
        if silk in silks[:i]:
            yield Fault(
                f"/treatments/{i}/silk",
                f"Treatments {silks.index(silk) + 1} and {i + 1} wear the "
                "same silk: choose another for one of them.",
            )


_RANGES = (
    ("units", 1, 500, "Units of each treatment"),
    ("per_container", 1, 200, "Plants in a container"),
    ("blocks", 1, 50, "Blocks"),
    ("columns", 2, 40, "Columns of the tray"),
    ("length_days", 1, 730, "The last day"),
    ("look_every_days", 1, 730, "Days between looks"),
    ("threshold_mm", 0.5, 100, "The root length that counts"),
    ("gap_points", 1, 100, "The gap worth having"),
    ("expected_percent", 0, 100, "What the control usually strikes"),
)


def _numbers(plan: Plan) -> Iterator[Fault]:
    for field, low, high, label in _RANGES:
        value = getattr(plan, field)
        if not low <= value <= high:
            yield Fault(f"/{field}", f"{label} must be {low:g} to {high:g}, got {value:g}.")


def _fit(plan: Plan) -> Iterator[Fault]:
    if plan.blocks > plan.units:
        yield Fault(
            "/blocks",
            f"{plan.blocks} blocks need at least {plan.blocks} units of each treatment, "
            f"this plan has {plan.units}: fewer blocks, or more units.",
        )
    if plan.look_every_days > plan.length_days:
        yield Fault(
            "/look_every_days",
            f"A look every {plan.look_every_days} days never comes before the "
            f"last day, {plan.length_days}: look more often, or end later.",
        )
    cells = plan.units * len(plan.treatments)
    if cells > MOST_CELLS:
        yield Fault(
            "/units",
            f"{cells} containers are more than the {MOST_CELLS} one trial holds: "
            "set fewer of each treatment.",
        )
    if plan.endpoint not in ladder_for(plan.kind).endpoints:
        known = ", ".join(str(e) for e in ladder_for(plan.kind).endpoints)
        yield Fault(
            "/endpoint",
            f"For {plan.kind.value}s the endpoint must be stage {known}, got {plan.endpoint}.",
        )
    try:
        zone(plan.time_zone)
    except InvalidInput as exc:
        yield Fault("/time_zone", exc.detail)
