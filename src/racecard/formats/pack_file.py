"""A garden pack as a documented file: what gardens are asked to do, with its version."""

import json
from dataclasses import asdict
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, StrictInt

from racecard.core.exchange.garden_pack import MOST_GARDENS, VERSION, GardenPack
from racecard.errors import InvalidInput
from racecard.formats.json_file import read_json_file

SCHEMA = "racecard-garden-pack"
MOST_BYTES = 1_000_000
Text = Annotated[str, Field(max_length=5000)]
Arm = Annotated[StrictInt, Field(ge=0, le=5)]


class PackFile(BaseModel):
    """A garden pack of Racecard, version 1: treatments as name and what is done; orders by garden and pot."""

    model_config = ConfigDict(extra="forbid")

    schema_: Literal["racecard-garden-pack"] = Field(alias="schema")
    version: Literal[1]
    key: Annotated[str, Field(max_length=40)]
    question: Text
    material: Text
    treatments: list[tuple[Text, Text]] = Field(min_length=2, max_length=6)
    each: StrictInt = Field(ge=1, le=200)
    thing: Literal["seed", "seeds", "cutting", "cuttings"]
    done: Literal["came up", "rooted"]
    days: StrictInt = Field(ge=1, le=730)
    orders: list[list[Arm]] = Field(min_length=1, max_length=MOST_GARDENS)
    cautions: list[Text] = Field([], max_length=50)
    control: Arm | None = None


def schema_text() -> str:
    """The JSON Schema of the file, as it is published in docs/garden-pack.schema.json."""
    return json.dumps(PackFile.model_json_schema(), indent=1, ensure_ascii=False) + "\n"


def is_pack(content: bytes) -> bool:
    """Whether a file says that it is a garden pack."""
    return SCHEMA.encode() in content[:200]


def write_pack(pack: GardenPack) -> bytes:
    """The pack as the bytes of a file."""
    told = {"schema": SCHEMA, "version": VERSION, **asdict(pack)}
    return json.dumps(told, indent=1, ensure_ascii=False).encode()


def read_pack(content: bytes) -> GardenPack:
    """A pack from its file.

    Raises:
        InvalidInput: too large, no JSON, not a pack of this version, or an order that deals no lot.
    """
    told = read_json_file(PackFile, content, MOST_BYTES, "a garden pack of version 1")
    every = list(range(len(told.treatments)))
    odd = next((k for k, order in enumerate(told.orders, 1) if sorted(order) != every), None)
    if odd is not None or (told.control is not None and told.control not in every):
        says = "the control" if odd is None else f"the order of garden {odd}"
        raise InvalidInput(f"This garden pack is damaged: {says} does not fit its treatments.")
    return GardenPack(
        told.key, told.question, told.material, tuple(told.treatments), told.each, told.thing, told.done,
        told.days, tuple(tuple(order) for order in told.orders), tuple(told.cautions), told.control,
    )  # fmt: skip
