"""Actives by name: what they weigh, how they dissolve, how their salts stand to the acid.

Molar masses are reckoned from the formulas with abridged standard atomic weights (IUPAC 2021,
from memory). Solubilities and pKa are handbook values of the right order, from memory.
"""

import re
from dataclasses import dataclass
from functools import cached_property

ATOMS = {
    "H": 1.008, "B": 10.81, "C": 12.011, "N": 14.007, "O": 15.999, "Na": 22.98977,
    "Mg": 24.305, "P": 30.97376, "S": 32.06, "Cl": 35.453, "K": 39.0983,
}  # fmt: skip


def molar_mass(formula: str) -> float:
    """g/mol of a formula such as C12H13NO2; water of crystallisation as .7H2O.

    Args:
        formula: element symbols with their numbers, "." before water.
    """
    total = 0.0
    for part in formula.split("."):
        times, rest = re.match(r"(\d*)(.*)", part).groups()  # type: ignore[union-attr]  # always
        atoms = re.findall(r"([A-Z][a-z]?)(\d*)", rest)
        total += int(times or 1) * sum(ATOMS[a] * int(n or 1) for a, n in atoms)
    return total


@dataclass(frozen=True)
class Active:
    """One active.

    `acid`: the acid this is a salt of. `soluble_ppm`: about what plain water takes at 20 °C,
    None where it is no limit. `pka`: of the acid. `hormone`: an auxin, gibberellin or the like.
    `sold_percent`: about how strong it is where it is only sold dissolved and never weighed (common practice); else 0.
    """

    key: str
    name: str
    formula: str
    acid: str = ""
    soluble_ppm: float | None = None
    pka: float | None = None
    hormone: bool = True
    sold_percent: int = 0

    @cached_property
    def molar_mass(self) -> float:
        """g/mol."""
        return molar_mass(self.formula)

    @property
    def salt_factor(self) -> float:
        """G of this that hold 1 g of its acid; 1 for an acid."""
        return self.molar_mass / ACTIVES[self.acid].molar_mass if self.acid else 1.0

    @property
    def salt(self) -> "Active | None":
        """The potassium salt of this acid, where one is sold."""
        return next((a for a in ACTIVES.values() if a.acid == self.key and a.key[0] == "K"), None)


_ALL = (
    Active("IBA", "indole-3-butyric acid", "C12H13NO2", soluble_ppm=250, pka=4.8),
    Active("NAA", "1-naphthaleneacetic acid", "C12H10O2", soluble_ppm=420, pka=4.2),
    Active("IAA", "indole-3-acetic acid", "C10H9NO2", soluble_ppm=1500, pka=4.75),
    Active("K-IBA", "potassium salt of IBA", "C12H12KNO2", acid="IBA"),
    Active("K-NAA", "potassium salt of NAA", "C12H9KO2", acid="NAA"),
    Active("K-IAA", "potassium salt of IAA", "C10H8KNO2", acid="IAA"),
    Active("Na-NAA", "sodium salt of NAA", "C12H9NaO2", acid="NAA"),
    Active("NAD", "1-naphthaleneacetamide", "C12H11NO"),
    Active("2,4-D", "2,4-dichlorophenoxyacetic acid", "C8H6Cl2O3"),
    Active("GA3", "gibberellic acid", "C19H22O6", soluble_ppm=5000),
    Active("K-GA3", "potassium salt of GA3", "C19H21KO6", acid="GA3"),
    Active("BA", "6-benzyladenine", "C12H11N5"),
    Active("kinetin", "kinetin", "C10H9N5O"),
    Active("zeatin", "zeatin", "C10H13N5O"),
    Active("ABA", "abscisic acid", "C15H20O4"),
    Active("ethephon", "ethephon", "C2H6ClO3P"),
    Active("KNO3", "potassium nitrate", "KNO3", hormone=False),
    Active("salicylic acid", "salicylic acid", "C7H6O3", soluble_ppm=2000, hormone=False),
    Active("acetylsalicylic acid", "acetylsalicylic acid", "C9H8O4", hormone=False),
    Active("acetic acid", "acetic acid, as in vinegar", "C2H4O2", hormone=False, sold_percent=5),
    Active("hydrogen peroxide", "hydrogen peroxide", "H2O2", hormone=False, sold_percent=6),
    Active("sodium hypochlorite", "sodium hypochlorite, as in bleach", "NaClO", hormone=False, sold_percent=5),
    Active("magnesium sulphate", "magnesium sulphate, heptahydrate", "MgSO4.7H2O", hormone=False),
    Active("boric acid", "boric acid", "BH3O3", hormone=False),
    Active("thiamine", "thiamine hydrochloride", "C12H18Cl2N4OS", hormone=False),
)  # fmt: skip
ACTIVES = {a.key: a for a in _ALL}
"""Every active known here, by the short name growers use."""


def not_weighed(active: Active) -> str:
    """Why an active that is sold dissolved has no weight, and what to write in its place."""
    name = active.key[0].upper() + active.key[1:]
    bottle = f"such as “from {active.sold_percent} %”"
    return f"{name} comes dissolved and is not weighed: write the strength of the bottle, {bottle}."


def un_ionised_percent(ph: float, pka: float) -> float:
    """Share of a weak acid that is un-ionised at a pH, in %: the form that enters tissue.

    Args:
        ph: pH of the solution.
        pka: pKa of the acid.
    """
    return float(100.0 / (1.0 + 10.0 ** (ph - pka)))
