"""What a page of the handbook is made of, and where its facts come from.

`Sure.HIGH`: textbook or exact; `Sure.MEDIUM`: the right order, the figure varies by author, crop and
place. What is cited from memory says so.
"""

from dataclasses import dataclass
from enum import StrEnum


class Sure(StrEnum):
    """How sure a fact is."""

    HIGH = "high"
    MEDIUM = "medium"


COMMON = "common practice"
COMPUTED = "computed"
HK = "Hartmann, Kester, Davies & Geneve (2011), Plant Propagation, 8th ed."
MD = "Macdonald (1986), Practical Woody Plant Propagation for Nursery Growers"
BL = "Blythe, Sibley, Tilt & Ruter (2007), J. Environ. Hort. 25, 166-185"
DK = "De Klerk, van der Krieken & de Jong (1999), In Vitro Cell. Dev. Biol. Plant 35, 189-199"
BA = "Baskin & Baskin (2014), Seeds, 2nd ed."
BB = "Bewley, Bradford, Hilhorst & Nonogaki (2013), Seeds, 3rd ed."
ISTA = "International Seed Testing Association, International Rules for Seed Testing"
HM = "Harrington & Minges (1954), Vegetable Seed Germination, California Agric. Extension (from memory)"


@dataclass(frozen=True, slots=True)
class Fact:
    """One fact with its source and how sure it is."""

    says: str
    source: str = COMMON
    sure: Sure = Sure.HIGH


@dataclass(frozen=True, slots=True)
class Table:
    """A table of facts that share a source. `own`: rows are stages beside which own values stand."""

    title: str
    heads: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    source: str
    sure: Sure
    own: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Page:
    """One part of the handbook, by its id in addresses."""

    id: str
    title: str
    about: str
    tables: tuple[Table, ...] = ()
    facts: tuple[Fact, ...] = ()
