"""Pydantic models made from the core's dataclasses, so that a field is declared once, in the core."""

from dataclasses import MISSING, fields
from enum import StrEnum
from types import UnionType
from typing import Annotated, Any, get_args, get_origin, get_type_hints

from pydantic import BaseModel, Field, StrictBool, StrictInt, create_model

from racecard.core.model.bounds import TEXT_LENGTH, Like, Most, Named
from racecard.core.plan.record import unwrapped

_STRICT = {int: StrictInt, bool: StrictBool, float: Annotated[float, Field(strict=True)]}
_MADE: dict[tuple[str, type[BaseModel]], type[BaseModel]] = {}


def pair_model(pair: Any, base: type[BaseModel]) -> Any:
    """The model of a named pair of the core, to be named where it stands alone."""
    plain, named = unwrapped(pair)
    assert named is not None
    return _pair(named, get_args(plain), base)


def model_of(
    kind: type[Any],
    base: type[BaseModel],
    suffix: str,
    *,
    names: tuple[str, ...] = (),
    are_all_given: bool = False,
    are_all_optional: bool = False,
    parts: dict[type[Any], type[BaseModel]] | None = None,
    pairs: type[BaseModel] | None = None,
) -> Any:
    """A model with the fields of a dataclass: bounds, defaults and nested parts as they are declared.

    Args:
        kind: the dataclass.
        base: what the model is built on; says whether unknown fields are refused.
        suffix: of its name.
        names: fields it has; all where none are named.
        are_all_given: no field has a default (for answers).
        are_all_optional: every field may be left out, and is None then (for changes).
        parts: models that stand for nested dataclasses.
        pairs: what the models of named pairs are built on, where not on `base`.
    """
    hints = get_type_hints(kind, include_extras=True)
    made: dict[str, Any] = {}
    for f in fields(kind):
        if names and f.name not in names:
            continue
        typed = _typed(hints[f.name], pairs or base, parts or {}, is_out=are_all_given)
        if are_all_optional:
            made[f.name] = (typed | None, None)
        elif are_all_given or f.default is MISSING:
            made[f.name] = (typed, ...)
        else:
            default = list(f.default) if isinstance(f.default, tuple) else f.default
            made[f.name] = (typed, default)
    model: Any = create_model(f"{kind.__name__}{suffix}", __base__=base, **made)
    return model


def _typed(
    hint: Any, pairs: type[BaseModel], parts: dict[type[Any], type[BaseModel]], *, is_out: bool
) -> Any:
    beside = getattr(hint, "__metadata__", ())
    most = next((m.value for m in beside if isinstance(m, Most)), None)
    pattern = next((m.pattern for m in beside if isinstance(m, Like)), None)
    plain, named = unwrapped(hint)
    if named is not None:
        return _pair(named, get_args(plain), pairs)
    if get_origin(plain) is UnionType:
        inner = next(h for h in get_args(plain) if h is not type(None))
        return _typed(inner, pairs, parts, is_out=is_out) | None
    if get_origin(plain) is tuple:
        inside = get_args(plain)
        item = _typed(inside[0], pairs, parts, is_out=is_out)
        many: Any = list.__class_getitem__(item)
        if is_out:
            return many
        if inside[-1] is not Ellipsis:
            return Annotated[many, Field(min_length=len(inside), max_length=len(inside))]
        return many if most is None else Annotated[many, Field(max_length=most)]
    if hasattr(plain, "__dataclass_fields__"):
        return parts[plain]
    if is_out or (isinstance(plain, type) and issubclass(plain, StrEnum)):
        return plain
    if plain is str:
        bound = Field(pattern=pattern) if pattern else Field(max_length=most or TEXT_LENGTH)
        return Annotated[str, bound]
    return _STRICT[plain]


def stand_for_pair(model: type[BaseModel], base: type[BaseModel]) -> None:
    """Let a model that was given a name of its own stand wherever its pair stands."""
    _MADE[model.__name__, base] = model


def _pair(named: Named, kinds: tuple[Any, ...], base: type[BaseModel]) -> type[BaseModel]:
    """One model for a named pair, the same in requests and answers."""
    if (named.title, base) not in _MADE:
        typed: dict[str, Any] = {
            n: (_typed(k, base, {}, is_out=False), ...)
            for n, k in zip(named.parts, kinds, strict=True)
        }
        made: Any = create_model(named.title, __base__=base, __doc__=named.says, **typed)
        _MADE[named.title, base] = made
    return _MADE[named.title, base]
