"""A plan as it stands on the page: what is wrong with it, and the bench where one can be drawn."""

from collections.abc import Sequence
from dataclasses import dataclass

from racecard.core.model import Cell, Plan
from racecard.core.plan.bench import Lock, draw_bench
from racecard.core.plan.check import Fault, faults
from racecard.errors import InvalidInput

_TEXTS = (
    "/name", "/detail", "question", "material", "/prediction", "/per_stem", "_reason", "/reason",
)  # fmt: skip
"""Fields whose faults leave everything else computable."""
_OF_BENCH = (
    "/treatments", "/units", "/per_container", "/blocks", "/layout", "/columns", "/tray_rows",
    "/border", "/spare_cells", "/unequal",
)  # fmt: skip
"""What the bench is drawn from; a fault elsewhere leaves it standing."""


@dataclass(frozen=True, slots=True)
class Considered:
    """`is_whole`: no rule but those of texts is broken, so that notes and power can be told."""

    faults: tuple[Fault, ...]
    bench: tuple[Cell, ...]
    is_whole: bool


def considered(plan: Plan, seed: int, locks: Sequence[Lock] = ()) -> Considered:
    """Check a draft and draw its bench, as far as either can be done.

    Args:
        plan: the draft.
        seed: seed of the lot.
        locks: cells that keep their treatment.
    """
    found = list(faults(plan))
    broken = [f.pointer for f in found if not f.pointer.endswith(_TEXTS)]
    bench: tuple[Cell, ...] = ()
    if not any(pointer.startswith(_OF_BENCH) for pointer in broken):
        try:
            bench = tuple(draw_bench(plan, seed, locks))
        except InvalidInput as exc:
            found.append(Fault(exc.pointer or "/locks", exc.detail))
    return Considered(tuple(found), bench, bool(bench) and not broken)
