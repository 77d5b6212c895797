"""Short ways to write plans, results and drafts in tests."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from racecard.core.model import History, Kind, Plan, Role, Treatment
from racecard.core.model.results import Results, results_from

LAST = 42


def a_plan(*names: str, roles: Sequence[Role] | None = None, **changes: Any) -> Plan:
    """A plan whose first treatment is the control and the others candidates."""
    names = names or ("Untreated", "IBA 1000 ppm")
    silks = ("plain", "hoops", "chevron", "spots", "sash", "cross", "stripes", "frame")
    roles = roles or [Role.CONTROL, *[Role.CANDIDATE] * (len(names) - 1)]
    treatments = tuple(
        Treatment(str(i), name, role, silk=silks[i])
        for i, (name, role) in enumerate(zip(names, roles, strict=True))
    )
    fields: dict[str, Any] = {
        "question": "Q?",
        "material": "lavender",
        "kind": Kind.CUTTING,
        "units": 8,
    }
    return Plan(treatments=treatments, **{**fields, **changes})


def struck(by: int = 21, after: int | None = None) -> History:
    return History(by - 3 if after is None else after, by, last_look=LAST)


def lost(day: int = 12, cause: str = "rotted") -> History:
    return History(None, None, day - 3, day, cause, None, day)


def waiting() -> History:
    return History(last_look=LAST)


def removed(last: int = 9) -> History:
    return History(removed_after=last, last_look=last)


def singles(
    *arms: Sequence[History], blocks: Sequence[Sequence[int]] | None = None,
    looks: Sequence[int] = tuple(range(3, LAST + 1, 3)), scores: Sequence[float | None] | None = None,
) -> Results:  # fmt: skip
    """One plant a unit; one sequence of histories a treatment."""
    flat = [(i, h) for i, arm in enumerate(arms) for h in arm]
    block = [b for arm in blocks for b in arm] if blocks else [0] * len(flat)
    last = max(looks, default=0)
    seen = [replace(h, last_look=min(h.last_look, last)) for _, h in flat]
    return results_from(
        [i for i, _ in flat], block, [[h] for h in seen], [looks] * len(flat), scores
    )


def counts(*arms: tuple[int, int], by: int = 21) -> Results:
    """Struck of stuck for each arm, one plant a unit."""
    return singles(*[[struck(by)] * k + [waiting()] * (n - k) for k, n in arms])


def containers(
    *arms: Sequence[tuple[int, int]], blocks: Sequence[Sequence[int]] | None = None
) -> Results:
    """For each arm its containers as (struck, sown)."""
    flat = [(i, k, m) for i, arm in enumerate(arms) for k, m in arm]
    block = [b for arm in blocks for b in arm] if blocks else [0] * len(flat)
    return results_from(
        [i for i, _, _ in flat],
        block,
        [[struck()] * k + [waiting()] * (m - k) for _, k, m in flat],
        [range(3, LAST + 1, 3)] * len(flat),
    )


def a_draft(**changes: Any) -> dict[str, Any]:
    """A draft as the page sends it."""
    plan: dict[str, Any] = {
        "question": "Do more rosemary cuttings root with hormone powder?",
        "material": "semi-ripe tips of rosemary",
        "kind": "cutting",
        "treatments": [
            {"name": "Untreated", "role": "control", "silk": "plain"},
            {"name": "IBA 1000 ppm", "role": "candidate", "agent": "hormone", "silk": "hoops"},
        ],
        "units": 6,
    }
    seed = changes.pop("seed", 7)
    return {"plan": {**plan, **changes}, "seed": seed}
