"""Stages counted in a container of many beside the endpoint: root tip, emergence and true leaf of one pot.

Each is a history of its own: how many of the container ever reached it, look by look. They are kept among
the parts of a count, as `stage_` and the code.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from itertools import pairwise

from racecard.core.log.stages import stage_scale_of
from racecard.core.model import Plan
from racecard.core.model.observation import Count
from racecard.errors import InvalidInput

_PART = "stage_"


def also_counted(parts: Iterable[tuple[str, float]]) -> tuple[tuple[int, int], ...]:
    """The other stages of one count, as (code, how many ever reached it).

    Args:
        parts: fields of the count as (name, number).
    """
    return tuple(
        (int(name.removeprefix(_PART)), int(n)) for name, n in parts if name.startswith(_PART)
    )


def counts_of_stage(counts: Sequence[Count], stage: int, held: int) -> list[Count]:
    """The counts of one container as if another stage were the endpoint.

    A look that did not count that stage says nothing of it. Which of the lost had reached it nobody wrote
    down: as many as there is room for beside all that ever did count as lost before it, the rest as lost after.

    Args:
        counts: the container's counts.
        stage: code of the stage.
        held: plants in the container.
    """
    told = [(c, reached) for c in counts if (reached := dict(c.also).get(stage)) is not None]
    most = max((reached for _, reached in told), default=0)
    room = max(0, held - most - max((c.removed for c, _ in told), default=0))
    out = []
    for c, reached in told:
        gone = c.lost + c.lost_struck
        before = min(gone, room)
        out.append(replace(c, struck=reached, lost=before, lost_struck=gone - before, also=()))
    return out


def check_also_counted(plan: Plan, struck: int, parts: Mapping[str, float], held: int) -> None:
    """Hold the other stages of one count against the plan and against each other.

    Args:
        plan: the plan, which says what is counted beside the endpoint.
        struck: how many ever reached the endpoint.
        parts: numbers by name, as they were sent.
        held: plants in the container.

    Raises:
        InvalidInput: a stage the plan does not count, no whole number, more than the container holds, or
            more at a later stage than at an earlier one.
    """
    stages = {s.code: s.name for s in stage_scale_of(plan).stages}
    for name, n in parts.items():
        code = name.removeprefix(_PART)
        if not name.startswith(_PART) or not code.isdigit() or int(code) not in plan.also_counted:
            raise InvalidInput(f"This trial does not count {name!r} in a container.", "/parts")
        if n != int(n) or not 0 <= n <= held:
            raise InvalidInput(
                f"{stages[int(code)]}: a whole number from 0 to {held}, got {n:g}.", "/parts"
            )
    reached = sorted([(plan.endpoint, struck), *also_counted(parts.items())])
    for (early, many), (late, more) in pairwise(reached):
        if more > many:
            raise InvalidInput(
                f"{more} at “{stages[late]}”, but only {many} ever reached “{stages[early]}”.",
                "/parts",
            )
