"""Ways to make the arms of a trial: a cross of factors, a ladder of doses or days, a mixture.

Doses and durations go up in equal ratios by default: the answer to a hormone is bell-shaped over
ratios, not over differences (common practice in propagation texts).
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise, product
from math import floor, log10

from racecard.core.model import Agent, Carrier, Role, Treatment
from racecard.core.model.drawings import SILKS
from racecard.core.model.spelling import spelling
from racecard.errors import InvalidInput

MOST_ARMS = 12
"""As many as there are silks."""


@dataclass(frozen=True, slots=True)
class Factor:
    """One factor of a cross. The first level is what one would do anyway."""

    name: str
    levels: tuple[str, ...]


def cross(factors: Sequence[Factor]) -> tuple[Treatment, ...]:
    """Every combination of the levels of two or three factors.

    The cell with the first level of every factor is the untreated control.

    Raises:
        InvalidInput: not two or three factors, a factor with fewer than two levels, two levels or
            two factors of one name, or more than 12 cells.
    """
    if not 2 <= len(factors) <= 3:
        raise InvalidInput(
            f"A cross needs two or three factors, this has {len(factors)}.", "/factors"
        )
    _distinct([f.name for f in factors], "factors", "/factors")
    for i, factor in enumerate(factors):
        if len(factor.levels) < 2:
            raise InvalidInput(
                f"Factor “{factor.name}” has {len(factor.levels)} level: give it at least two, the "
                "usual one first.",
                f"/factors/{i}/levels",
            )
        _distinct(factor.levels, f"levels of “{factor.name}”", f"/factors/{i}/levels")
    cells = list(product(*(f.levels for f in factors)))
    _not_too_many(len(cells), "/factors")
    first = tuple(f.levels[0] for f in factors)
    return _dressed(
        [
            Treatment(
                "",
                ", ".join(cell),
                Role.CONTROL if cell == first else Role.CANDIDATE,
                properties=tuple((f.name, level) for f, level in zip(factors, cell, strict=True)),
            )
            for cell in cells
        ]
    )


def ladder(
    thing: str,
    low: float,
    high: float,
    steps: int,
    unit: str,
    *,
    carrier: Carrier = Carrier.NONE,
    agent: Agent = Agent.HORMONE,
    even: bool = False,
) -> tuple[Treatment, ...]:
    """An untreated control, the carrier alone where there is one, then rising doses or durations.

    Args:
        thing: what is dosed, such as IBA or soak.
        low, high: first and last step, 0 < low < high.
        steps: how many, 2 or more.
        unit: unit of the steps, such as ppm or h.
        carrier: what it is carried in; brings a carrier control.
        agent: class of the agent.
        even: equal steps in place of equal ratios.

    Raises:
        InvalidInput: the steps do not rise, or there are too many or too few.
    """
    if not thing.strip() or not unit.strip():
        raise InvalidInput("Say what the ladder is of, and in which unit.", "/thing")
    if not 1e-6 <= low <= high <= 1e9 and 0 < low < high:
        raise InvalidInput(f"The steps must be between 0.000001 and 1,000,000,000 {unit}.", "/low")
    if not 0 < low < high:
        raise InvalidInput(
            f"The steps must rise from above 0: {low:g} to {high:g} {unit} does not.", "/high"
        )
    if steps < 2:
        raise InvalidInput(f"A ladder needs at least 2 steps, this has {steps}.", "/steps")
    _not_too_many(steps + 1 + (carrier is not Carrier.NONE), "/steps")
    spots = [
        low + (high - low) * i / (steps - 1) if even else low * (high / low) ** (i / (steps - 1))
        for i in range(steps)
    ]
    values = [_rounded(v) for v in spots]
    if any(b <= a for a, b in pairwise(values)):
        raise InvalidInput(
            f"{steps} steps from {low:g} to {high:g} {unit} are too close together: use fewer, or a wider range.",
            "/steps",
        )
    dosed_in = () if carrier is Carrier.NONE else (("carrier", carrier.value),)
    arms = [Treatment("", "Untreated", Role.CONTROL, "nothing")]
    if carrier is not Carrier.NONE:
        arms.append(
            Treatment(
                "", f"{carrier.value.capitalize()} only", Role.CARRIER, f"the {carrier.value} without {thing}",
                carrier=carrier, properties=dosed_in,
            )
        )  # fmt: skip
    key = "duration" if unit in ("h", "d", "min", "s") else "strength"
    for value in values:
        said = (("active", thing), (key, f"{value:g} {unit}"), *dosed_in)
        arms.append(
            Treatment(
                "", f"{thing} {value:g} {unit}", Role.CANDIDATE,
                f"in {carrier.value}" if dosed_in else "", agent, carrier, properties=said,
            )
        )  # fmt: skip
    return _dressed(arms)


def mixture(one: str, other: str, steps: int) -> tuple[Treatment, ...]:
    """Mixtures of two things by parts, from all of the first (the control) to all of the second.

    Args:
        one, other: the two things, such as peat and perlite.
        steps: how many mixtures, both ends among them, 3 to 9.

    Raises:
        InvalidInput: two names alike, or steps outside 3 to 9.
    """
    _distinct([one, other], "parts", "/other")
    if not 3 <= steps <= 9:
        raise InvalidInput(f"A mixture needs 3 to 9 steps, this has {steps}.", "/steps")
    last = steps - 1
    arms = []
    for i in range(steps):
        parts = f"{last - i} {one} : {i} {other}"
        name = {0: f"{one} alone", last: f"{other} alone"}.get(i, parts)
        role = Role.CONTROL if i == 0 else Role.CANDIDATE
        arms.append(
            Treatment("", name, role, f"{parts}, by volume", properties=(("medium", parts),))
        )
    return _dressed(arms)


def _distinct(names: Sequence[str], what: str, pointer: str) -> None:
    seen: set[str] = set()
    for name in names:
        key = spelling(name)
        if not key:
            raise InvalidInput(f"One of the {what} has no name: give each one.", pointer)
        if key in seen:
            raise InvalidInput(
                f"Two of the {what} are called “{name.strip()}”: name each apart.", pointer
            )
        seen.add(key)


def _not_too_many(arms: int, pointer: str) -> None:
    if arms > MOST_ARMS:
        raise InvalidInput(
            f"That makes {arms} treatments; a trial compares at most {MOST_ARMS}: take fewer steps "
            "or levels.",
            pointer,
        )


def _rounded(value: float) -> float:
    """To two figures that a measuring cup can show."""
    places = 1 - floor(log10(value))
    return round(value, places)


def _dressed(arms: Sequence[Treatment]) -> tuple[Treatment, ...]:
    """Silks in their order, plain for the control."""
    rest = iter(s.id for s in SILKS if s.id != "plain")
    return tuple(replace(t, silk="plain" if t.role is Role.CONTROL else next(rest)) for t in arms)
