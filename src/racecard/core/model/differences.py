"""What differs between arms: which pairs can be compared, which are entangled, what would free them.

Two arms are comparable when they differ in exactly one thing. An active and its strength are one
thing: none of it has no strength. Where more differs, the arm that would tell the things apart is
proposed: the treated arm with one of them taken back to what the reference has.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from racecard.core.model import Agent, Carrier, Plan, Role, Treatment
from racecard.core.model.drawings import free_silk

PROPERTIES = (
    "active", "strength", "carrier", "wetting", "handling", "medium", "container", "cover",
    "place", "lot", "age", "wood stage", "type", "start", "temperature", "light", "duration",
)  # fmt: skip
"""What is asked about each arm; a factor of a cross adds its own name."""

LABELS = {
    "active": "active ingredient",
    "lot": "batch",
    "start": "start day",
    "type": "cutting type",
}
"""How a property is said in a sentence, where its name is not plain."""

_NONE = "none"


@dataclass(frozen=True, slots=True)
class Pair:
    """Two arms, by index, and the things in which they differ."""

    one: int
    other: int
    differ: tuple[str, ...]

    @property
    def is_comparable(self) -> bool:
        """Whether they differ in exactly one thing."""
        return len(self.differ) == 1


@dataclass(frozen=True, slots=True)
class Entangled:
    """A candidate that differs from the reference in several things, and the arm that would help."""

    treatment: int
    differ: tuple[str, ...]
    missing: Treatment | None

    @property
    def is_carrier_alone(self) -> bool:
        """Whether only the carrier or the wetting stands in the way: the missing carrier control is a
        note alone, and the agent in its liquid is judged against nothing.
        """
        return set(self.differ) <= {"active", "carrier", "wetting"}


_WETTING = re.compile(
    r"\b(soak|steep|dip|drench|spray|wet|rinse|immers|water(?:ed)? with)\w*", re.IGNORECASE
)
_PLAIN = re.compile(
    r"\b(?:in|with) (?:(?:plain|tap|rain|warm|cold|cool|hot|boiled|clean|distilled|fresh|lukewarm) ?)*water\b",
    re.IGNORECASE,
)
"""Soaked in water alone: the wetting is the treatment, and nothing carries anything."""
_DRY = re.compile(r"\b(dry|none|not|never|un(?:soaked|treated))\b", re.IGNORECASE)


def wettings(treatment: Treatment) -> tuple[str, ...]:
    """What wets an arm before or as it goes in, however it is written: its steps and its properties."""
    steps = [name for name, _ in treatment.steps if _WETTING.search(name)]
    said = [
        value for name, value in treatment.properties
        if (name == "wetting" or _WETTING.search(value)) and value.strip() and not _DRY.search(value)
    ]  # fmt: skip
    return (*steps, *said)


def lacks_carrier_control(plan: Plan, i: int) -> str:
    """What an agent is carried in that the control gets nothing of; "" where nothing is missing.

    A carrier control, or a control in the same liquid, tells the agent from what carries it.

    Args:
        plan: the plan.
        i: index of the treatment.
    """
    t = plan.treatments[i]
    bare = [
        x for k, x in enumerate(plan.treatments)
        if k != i and (x.role is Role.CARRIER or k == plan.reference or x.agent is Agent.NOTHING)
    ]  # fmt: skip
    carrier = traits(t).get("carrier", _NONE).casefold()
    if carrier != _NONE:
        carried = {traits(x).get("carrier", _NONE).casefold() for x in bare}
        return "" if carrier in carried else carrier
    named = t.agent is Agent.HORMONE or "active" in dict(t.properties)
    in_liquid = [w for w in wettings(t) if named or not _PLAIN.search(w)]
    if t.agent is Agent.NOTHING and not named:
        return ""  # the wetting itself is the treatment
    if in_liquid and not any(wettings(x) or x.carrier is Carrier.WATER for x in bare):
        return "liquid of the soak"
    return ""


def traits(treatment: Treatment) -> dict[str, str]:
    """Everything that is said of an arm, by name of the property.

    A ticked hormone or carrier stands in for one that is not written; "something else" only where
    nothing else is said, since what is said is then that something.
    """
    said = {k: v.strip() for k, v in treatment.properties if v.strip()}
    is_ticked = treatment.agent is Agent.HORMONE or (treatment.agent is Agent.OTHER and not said)
    if "active" not in said and is_ticked:
        said["active"] = treatment.agent.value
    if "carrier" not in said and treatment.carrier is not Carrier.NONE:
        said["carrier"] = treatment.carrier.value
    if said.get("active", _NONE) == _NONE:
        said.pop("strength", None)
    return {k: v for k, v in said.items() if v.casefold() != _NONE}


def differing(one: Treatment, other: Treatment) -> tuple[str, ...]:
    """The things in which two arms differ, in the order of the page."""
    a, b = traits(one), traits(other)
    names = sorted({*a, *b}, key=_rank)
    found = [n for n in names if a.get(n, "").casefold() != b.get(n, "").casefold()]
    if "active" in found and "strength" in found:
        found.remove("strength")
    return tuple(found)


def pairs(plan: Plan) -> tuple[Pair, ...]:
    """Every two arms of a plan, and what differs between them."""
    arms = plan.treatments
    return tuple(
        Pair(i, j, differing(arms[i], arms[j]))
        for i in range(len(arms))
        for j in range(i + 1, len(arms))
    )


@lru_cache(maxsize=64)
def entangled(plan: Plan) -> tuple[Entangled, ...]:
    """Candidates whose effect cannot be told from something else that differs."""
    if plan.reference is None:
        return ()
    zero = plan.treatments[plan.reference]
    out = []
    for i in plan.family:
        differ = differing(plan.treatments[i], zero)
        if len(differ) < 2 or _is_bridged(plan, i, differ):
            continue
        out.append(Entangled(i, differ, _missing(plan, i, differ)))
    return tuple(out)


def because(plan: Plan, e: Entangled) -> str:
    """Why such a candidate cannot be judged, to follow the word because."""
    zero = "" if plan.reference is None else plan.treatments[plan.reference].name
    named = [LABELS.get(d, d) for d in e.differ]
    things = f"{', '.join(named[:-1])} and {named[-1]}"
    return f"{plan.treatments[e.treatment].name} and {zero} differ in {things} at once"


def _is_bridged(plan: Plan, i: int, differ: tuple[str, ...]) -> bool:
    """Whether some arm differs from the candidate in one of these things, and has fewer of them."""
    assert plan.reference is not None
    zero = plan.treatments[plan.reference]
    for k, other in enumerate(plan.treatments):
        if k in (i, plan.reference):
            continue
        from_candidate = differing(plan.treatments[i], other)
        from_zero = differing(other, zero)
        if (
            len(from_candidate) == 1
            and from_candidate[0] in differ
            and len(from_zero) < len(differ)
        ):
            return True
    return False


def _missing(plan: Plan, i: int, differ: tuple[str, ...]) -> Treatment | None:
    """The candidate with its first difference taken back to the reference's."""
    assert plan.reference is not None
    candidate, zero = plan.treatments[i], plan.treatments[plan.reference]
    thing = differ[0]
    back = traits(zero).get(thing, "")
    kept = [(k, v) for k, v in candidate.properties if k != thing]
    agent = candidate.agent
    if thing == "active":
        kept = [(k, v) for k, v in kept if k != "strength"]
        agent = zero.agent
    if back:
        kept.append((thing, back))
    carrier = zero.carrier if thing == "carrier" else candidate.carrier
    rest = ", ".join(d for d in differ if d != thing)
    is_carrier = thing == "active" and carrier is not Carrier.NONE
    name = (
        f"{carrier.value.capitalize()} only"
        if is_carrier
        else f"{candidate.name}, {thing} as {zero.name}"
    )
    return replace(
        candidate,
        name=name[:80],
        role=Role.CARRIER if is_carrier else Role.CANDIDATE,
        detail=f"as {candidate.name}, but {thing} as {zero.name}; tells {thing} from {rest}"[:300],
        agent=agent,
        carrier=carrier,
        properties=tuple(kept),
        silk=free_silk([t.silk for t in plan.treatments]),
        reference=False,
        prediction=None,
        units=None,
    )


def in_use(treatments: Sequence[Treatment]) -> tuple[str, ...]:
    """Properties that anything is said about, in the order of the page."""
    return tuple(sorted({name for t in treatments for name in traits(t)}, key=_rank))


def _rank(name: str) -> tuple[int, str]:
    return (PROPERTIES.index(name) if name in PROPERTIES else len(PROPERTIES), name)
