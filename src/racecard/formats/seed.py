"""A trial's seed as it travels: a number while it is short, else 32 hexadecimal digits.

128 bits are more than other programs read of a number in JSON.
"""

import re
from typing import Annotated

from pydantic import BeforeValidator, PlainSerializer, WithJsonSchema

from racecard.core.streams import LEAST_LONG, SEED_BITS, is_short, shown_seed

_HEX = re.compile(r"[0-9a-f]{32}")
_MOST_SHORT = 2**31 - 1


def _read(value: object) -> int:
    if isinstance(value, str) and _HEX.fullmatch(value):
        found = int(value, 16)
    elif isinstance(value, int) and not isinstance(value, bool):
        found = value
    else:
        raise ValueError("must be a whole number or 32 hexadecimal digits")
    if not (0 <= found <= _MOST_SHORT or LEAST_LONG <= found < 2**SEED_BITS):
        raise ValueError(f"must be 0 to {_MOST_SHORT}, or 32 hexadecimal digits")
    return found


def _written(seed: int) -> int | str:
    return seed if is_short(seed) else shown_seed(seed)


Seed = Annotated[
    int,
    BeforeValidator(_read),
    PlainSerializer(_written, return_type=int | str),
    WithJsonSchema(
        {
            "anyOf": [
                {"type": "integer", "minimum": 0, "maximum": _MOST_SHORT},
                {"type": "string", "pattern": "^[0-9a-f]{32}$"},
            ]
        }
    ),
]
"""A seed read from and written to JSON."""
