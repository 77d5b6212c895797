"""A trial that had begun before it was written down: what stands where, as a plan that never says otherwise."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace

from racecard.core.design.as_plan import candidate, usual_plan, watching_for
from racecard.core.design.question import Against, against_of, read_question, thing_of
from racecard.core.model import Carrier, Kind, Layout, Override, Plan, Role, Treatment, UnitLevel
from racecard.core.plan.bench import Lock
from racecard.core.plan.check import MOST_CELLS
from racecard.errors import InvalidInput

MOST_SIDE = 60
"""The most rows, and the most places in a row, that a bench has."""
_REASON = "written down after it had begun"
_NOT_BY_LOT = ("not_drawn", "rows_by_treatment")


@dataclass(frozen=True, slots=True)
class Begun:
    """What stands on a bench that was set without a plan.

    `names`: every treatment; `control`: index of the one the others are compared with, None where there is none.
    `places`: rows of the bench from back to front, each the index of a treatment, or None where nothing
    stands. `elapsed_days`: since it began. `length_days`: its last day, None for the usual one.
    """

    question: str
    names: tuple[str, ...]
    control: int | None
    places: tuple[tuple[int | None, ...], ...]
    elapsed_days: int
    kind: Kind | None = None
    plant: str = ""
    per_container: int = 1
    length_days: int | None = None
    differ: tuple[str, ...] = ()
    time_zone: str = "UTC"


def begun_plan(begun: Begun) -> Plan:
    """The plan of a trial that has begun: laid by hand, with the looks that are still to come.

    Raises:
        InvalidInput: no place is filled, a treatment stands nowhere, or the bench is too large.
    """
    standing = _standing(begun)
    read = read_question(begun.question)
    things = [thing_of(name) for name in begun.names]
    others = [t for i, t in enumerate(things) if i != begun.control]
    subject = read.subject or (others[0].subject if others else None)
    usual = watching_for(
        usual_plan(subject, begun.kind or read.kind, begun.time_zone), read.outcome
    )
    length = begun.length_days or max(usual.length_days, begun.elapsed_days)
    units = max(standing.values())
    names = ", ".join(begun.names)
    return replace(
        usual, question=begun.question.strip() or f"Does it make a difference: {names}?",
        kind=begun.kind or read.kind,
        material=begun.plant.strip() or read.plant or f"{(begun.kind or read.kind).value}s",
        treatments=_arms(begun, standing, units), units=units, per_container=begun.per_container,
        blocks=1, layout=Layout.BY_HAND, length_days=length,
        look_days=(*(d for d in usual.look_days if begun.elapsed_days < d < length), length),
        level=UnitLevel.CONTAINER if begun.per_container > 1 else UnitLevel.PROPAGULE,
        columns=max(2, *(len(row) for row in begun.places)), tray_rows=len(begun.places),
        unequal_reason="" if len(set(standing.values())) == 1 else _REASON,
        overrides=tuple(Override(code, _REASON) for code in _NOT_BY_LOT),
    )  # fmt: skip


def begun_bench(places: Sequence[Sequence[int | None]]) -> tuple[Lock, ...]:
    """Where every container stands, as cells that keep their treatment.

    Args:
        places: index of the treatment in each container, by row; None where nothing stands.
    """
    return tuple(
        Lock(0, row, col, arm)
        for row, line in enumerate(places)
        for col, arm in enumerate(line)
        if arm is not None
    )


def _standing(begun: Begun) -> Counter[int]:
    """How many containers of each treatment stand there."""
    if len(begun.places) > MOST_SIDE or any(len(row) > MOST_SIDE for row in begun.places):
        raise InvalidInput(f"A bench has at most {MOST_SIDE} rows of {MOST_SIDE}.", "/places")
    found = Counter(arm for row in begun.places for arm in row if arm is not None)
    if not found:
        raise InvalidInput("Nothing stands on the bench yet: fill in what stands where.", "/places")
    if found.total() > MOST_CELLS:
        raise InvalidInput(f"A bench holds at most {MOST_CELLS} containers.", "/places")
    named = () if begun.control is None else (begun.control,)
    for arm in (*named, *found):
        if not 0 <= arm < len(begun.names):
            raise InvalidInput(
                f"There is no treatment {arm + 1}: the treatments are 1 to {len(begun.names)}.",
                "/control" if arm == begun.control else "/places",
            )
    for arm, name in enumerate(begun.names):
        if arm not in found:
            raise InvalidInput(
                f"{name.strip() or f'Treatment {arm + 1}'} stands nowhere: "
                "give it a place, or take it off the list.",
                "/places",
            )
    return found


def _arms(begun: Begun, standing: Counter[int], units: int) -> tuple[Treatment, ...]:
    control = None if begun.control is None else begun.names[begun.control]
    against = None if control is None else against_of(control)
    arms = []
    silk = 0
    for i, name in enumerate(begun.names):
        if i == begun.control:
            wet = against is Against.WATER
            arm = Treatment(
                "", name.strip(), Role.CONTROL, carrier=Carrier.WATER if wet else Carrier.NONE,
                properties=(("wetting", "plain water"),) if wet else (),
            )  # fmt: skip
        else:
            arm = replace(
                candidate(thing_of(name), silk, against or Against.NOTHING), name=name.strip()
            )
            silk += 1
        more = tuple((d, f"its own: {name.strip()}") for d in begun.differ)
        number = None if standing[i] == units else standing[i]
        arms.append(replace(arm, properties=(*arm.properties, *more), units=number))
    return tuple(arms)
