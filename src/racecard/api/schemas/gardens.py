"""Returns of many gardens, over HTTP."""

from racecard.api.schemas.base import Out
from racecard.core.exchange.gardens import Fate, Returns
from racecard.core.text.gardens import returns_say


class GardenRow(Out):
    """One row of the form, and what became of it."""

    row: int
    garden: str
    fate: Fate
    why: str


class ReturnsOut(Out):
    """A form as it was read: its headings, which column is what, and every row's fate; nothing is saved.

    `asks`: what is still to be said before it can be read, "" where nothing is.
    """

    heads: list[str]
    asks: str
    mapped: dict[str, str]
    treatments: list[str]
    rows: list[GardenRow]
    says: str

    @classmethod
    def asking(cls, heads: list[str], asks: str, mapped: dict[str, str]) -> "ReturnsOut":
        """A form that cannot be read yet."""
        return cls(heads=heads, asks=asks, mapped=mapped, treatments=[], rows=[], says="")

    @classmethod
    def from_core(cls, heads: list[str], found: Returns) -> "ReturnsOut":
        return cls(
            heads=heads, asks="", mapped=dict(found.mapped),
            treatments=list(dict.fromkeys(r.treatment for r in found.sheet.rows)),
            rows=[GardenRow(row=r.row, garden=r.garden, fate=r.fate, why=r.why) for r in found.rows],
            says=returns_say(
                found.enrolled, found.compared, found.silent, found.gardens(Fate.WITHDRAWN),
                sum(r.fate is Fate.REFUSED for r in found.rows),
            ),
        )  # fmt: skip
