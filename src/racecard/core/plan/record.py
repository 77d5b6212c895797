"""A plan as plain data: for keeping, for its fingerprint, and to set two plans side by side."""

import json
from collections.abc import Sequence
from dataclasses import asdict, fields
from enum import StrEnum
from hashlib import sha256
from types import UnionType
from typing import Annotated, Any, get_args, get_origin, get_type_hints

from racecard.core.model import Cell, Outcome, Plan, Treatment
from racecard.core.model.bounds import Named


def as_record(thing: Plan | Treatment, names: Sequence[str] | None = None) -> dict[str, Any]:
    """Fields of a plan or treatment as JSON would hold them; all of them, or those named.

    Args:
        thing: the plan, or one of its treatments.
        names: fields that are wanted; None for all.
    """
    whole = asdict(thing)
    return {k: whole[k] for k in names or whole}


def as_objects(thing: Any) -> dict[str, Any]:
    """The same with every pair as an object of its named parts, as answers and files show it."""
    hints = _HINTS.get(type(thing)) or _hints(type(thing))
    return {name: _shown(hint, getattr(thing, name)) for name, hint in hints.items()}


def _shown(hint: Any, value: Any) -> Any:
    hint, named = unwrapped(hint)
    if named is not None:
        return dict(zip(named.parts, value, strict=True))
    if hasattr(hint, "__dataclass_fields__"):
        return as_objects(value)
    if get_origin(hint) is tuple:
        inside = get_args(hint)[0]
        return [_shown(inside, v) for v in value]
    return value


def unwrapped(hint: Any) -> tuple[Any, Named | None]:
    """A type without what is annotated beside it, and the names of its parts where it is a named pair."""
    if get_origin(hint) is not Annotated:
        return hint, None
    return hint.__origin__, next((m for m in hint.__metadata__ if isinstance(m, Named)), None)


FORMER_NAMES = {"likeness": "icc", "pair_likeness": "pair_correlation", "alike_in": "block_basis"}
"""Fields by the names they had: stored plans, files and fingerprints from before still hold them."""


def renamed(record: dict[str, Any]) -> dict[str, Any]:
    """A record with every field by the name it has now."""
    return {FORMER_NAMES.get(k, k): v for k, v in record.items()}


def from_record(kind: type[Any], record: dict[str, Any]) -> dict[str, Any]:
    """Values of a dataclass's fields from a record, lists back to tuples and words to enums.

    Fields the class does not know are left out, so that an older record never stops a newer plan.

    Args:
        kind: the dataclass.
        record: values by field, as JSON holds them.
    """
    hints = _HINTS.get(kind) or _hints(kind)
    return {k: _typed(hints[k], v) for k, v in renamed(record).items() if k in hints}


_HINTS: dict[type[Any], dict[str, Any]] = {}
"""The types of a dataclass's fields, worked out once: they are asked for with every row read."""


def _hints(kind: type[Any]) -> dict[str, Any]:
    hints = get_type_hints(kind, include_extras=True)
    _HINTS[kind] = {f.name: hints[f.name] for f in fields(kind)}
    return _HINTS[kind]


def _typed(hint: Any, value: Any) -> Any:
    hint, named = unwrapped(hint)
    if named is not None and isinstance(value, dict):
        value = [value[part] for part in named.parts]
    origin, inside = get_origin(hint), get_args(hint)
    if origin is UnionType:
        return (
            None if value is None else _typed(next(h for h in inside if h is not type(None)), value)
        )
    if origin is tuple:
        if inside[-1] is Ellipsis:
            return tuple(_typed(inside[0], v) for v in value)
        return tuple(_typed(h, v) for h, v in zip(inside, value, strict=True))
    if isinstance(hint, type) and issubclass(hint, StrEnum):
        return hint(value)
    if hasattr(hint, "__dataclass_fields__"):
        missing = {"id": ""} if hint is Treatment else {}
        return hint(**(missing | from_record(hint, value)))
    return value


_FIRST_ROOTED_SCORE = 2


def fingerprint(plan: Plan, cells: Sequence[Cell], seed: int) -> str:
    """What a frozen plan is known by: SHA-256 of its contents, its bench and its seed.

    Predictions are part of it, so that nobody can better theirs afterwards; ids are not.

    Args:
        plan: the plan as it was frozen.
        cells: its bench.
        seed: the seed it was drawn with.

    Returns:
        64 hexadecimal digits; the first 12, in fours, are shown.
    """
    record = as_record(plan)
    for t in record["treatments"]:
        t.pop("id")
        t.pop("steps_settled")  # says who answered a question, not what is done
        if t["per_container"] is None:  # it came later: older prints hold without it
            t.pop("per_container")
    if plan.rooted_score == _FIRST_ROOTED_SCORE:  # it came later: older prints hold without it
        record.pop("rooted_score")
    if plan.outcome is Outcome.USUAL:  # these two as well
        record.pop("outcome")
        record.pop("own_steps")
    if not plan.contrasts:
        record.pop("contrasts")
    if not plan.graded_by:
        record.pop("graded_by")
        record.pop("usual_spread")
    if not plan.also_counted:
        record.pop("also_counted")
    for was, now in FORMER_NAMES.items():  # prints were made by these
        record[was] = record.pop(now)
    bench = [(c.tray, c.row, c.col, c.block, c.treatment, c.locked) for c in cells]
    text = json.dumps(
        {"plan": record, "bench": bench, "seed": seed}, sort_keys=True, ensure_ascii=False
    )
    return sha256(text.encode()).hexdigest()


def short(print_: str) -> str:
    """A fingerprint as it is shown: twelve digits in fours."""
    return "-".join(print_[i : i + 4] for i in (0, 4, 8)) if print_ else ""
