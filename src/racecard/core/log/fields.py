"""Numbers by name, held to their bounds: what may be measured, and the fields of the lift."""

from collections.abc import Mapping
from dataclasses import dataclass

from racecard.errors import InvalidInput


@dataclass(frozen=True, slots=True)
class Trait:
    """One number that may be written, kept in `unit`; beyond `most` it is taken for a slip.

    `units`: the grower's own, as (name, factor to the kept unit). `choices`: words for 0, 1, 2 …
    """

    name: str
    label: str
    unit: str
    most: float
    is_whole: bool = False
    units: tuple[tuple[str, float], ...] = ()
    choices: tuple[str, ...] = ()
    drawing: str = ""


def check_fields(
    fields: Mapping[str, Trait], values: Mapping[str, float], at: str, stranger: str
) -> None:
    """Raise InvalidInput where a value is not known, out of bounds, or not whole where it must be.

    Args:
        fields: what may be given, by name.
        values: what was given.
        at: pointer to the values.
        stranger: what is said of a name that is not known, after the name.
    """
    for name, value in values.items():
        field = fields.get(name)
        if field is None:
            raise InvalidInput(f"{name!r} {stranger}", f"{at}/{name}")
        if not 0 <= value <= field.most:
            unit = f" {field.unit}" if field.unit else ""
            raise InvalidInput(
                f"{field.label} must be between 0 and {field.most:g}{unit}, got {value:g}.",
                f"{at}/{name}",
            )
        if field.is_whole and value != int(value):
            raise InvalidInput(
                f"{field.label} must be a whole number, got {value:g}.", f"{at}/{name}"
            )
