"""The register: plant material and agents, and what must be said of them when they are used."""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta

from racecard.core.model import Plan, Treatment
from racecard.core.prepare.actives import ACTIVES
from racecard.core.prepare.cards import Flag, note, warn
from racecard.core.prepare.defaults import DEFAULTS, STAGES
from racecard.core.prepare.guards import solubility_flags
from racecard.core.quantities import Dimension, OpenComma, in_base, read_quantity, shown
from racecard.errors import InvalidInput

FORMS = ("liquid", "talc", "gel", "tablet", "crystals", "other")
_LONGEST = 200


@dataclass(frozen=True, slots=True)
class PlantLot:
    """Plant material: what it is, from which mother plant or lot, and its label."""

    id: str
    species: str
    cultivar: str = ""
    mother: str = ""
    stage: str = ""
    state: str = ""
    lot: str = ""
    year: int | None = None
    source: str = ""
    storage: str = ""
    germination_percent: float | None = None
    tested_on: str = ""

    @property
    def name(self) -> str:
        """Species and cultivar, with the lot or mother plant."""
        first = " ".join(
            x for x in (self.species, f"‘{self.cultivar}’" if self.cultivar else "") if x
        )
        return ", ".join(x for x in (first, self.lot or self.mother) if x)

    @property
    def words(self) -> str:
        """What a plan says of it."""
        parts = (
            self.name,
            STAGES.get(self.stage, self.stage),
            self.state,
            str(self.year or ""),
            self.source,
        )
        return ", ".join(p for p in parts if p)


@dataclass(frozen=True, slots=True)
class AgentLot:
    """An agent: active ingredient, acid or salt, strength, form, batch, dates and price."""

    id: str
    active: str
    basis: str = ""
    strength: str = ""
    form: str = "liquid"
    carrier: str = ""
    batch: str = ""
    made_on: str = ""
    opened_on: str = ""
    expires_on: str = ""
    price: float | None = None
    shipping: float | None = None

    @property
    def name(self) -> str:
        """Active, strength and form, with the batch."""
        first = " ".join(x for x in (self.active, self.strength, self.form) if x)
        return f"{first}, batch {self.batch}" if self.batch else first


_FIRST_YEAR, _LAST_YEAR = 1950, 2100


def check_plant(lot: PlantLot, today: date) -> None:
    """Raise InvalidInput with the first rule a plant lot breaks.

    Args:
        lot: the plants, as they were entered.
        today: the day they are entered.
    """
    _texts(lot, ("species", "cultivar", "mother", "state", "lot", "source", "storage"))
    if not lot.species.strip():
        raise InvalidInput("Say what plant it is.", "/species")
    if lot.stage and lot.stage not in STAGES:
        raise InvalidInput(f"The wood stage must be one of {', '.join(STAGES)}.", "/stage")
    if lot.year is not None and not _FIRST_YEAR <= lot.year <= today.year + 1:
        raise InvalidInput(
            f"The year must be {_FIRST_YEAR} to {today.year + 1}, got {lot.year}.", "/year"
        )
    if lot.germination_percent is not None and not 0 < lot.germination_percent <= 100:
        raise InvalidInput(
            "Label germination must be above 0 and at most 100 %.", "/germination_percent"
        )
    _past_day("tested_on", "test", lot.tested_on, today)


def check_agent(lot: AgentLot, today: date) -> None:
    """Raise InvalidInput with the first rule an agent breaks.

    Args:
        lot: the agent, as it was entered.
        today: the day it is entered.
    """
    _texts(lot, ("active", "strength", "carrier", "batch"))
    if not lot.active.strip():
        raise InvalidInput("Enter the active ingredient, not a brand.", "/active")
    if lot.form not in FORMS:
        raise InvalidInput(f"The form must be one of {', '.join(FORMS)}.", "/form")
    if lot.basis not in ("", "acid", "salt"):
        raise InvalidInput("The label states the acid or the salt; or leave it empty.", "/basis")
    if lot.strength:
        _strength_ppm(lot)
    _past_day("made_on", "making", lot.made_on, today)
    _past_day("opened_on", "opening", lot.opened_on, today)
    _day("expires_on", lot.expires_on)
    for name in ("price", "shipping"):
        value = getattr(lot, name)
        if value is not None and not 0 <= value < 1e7:
            raise InvalidInput(f"The {name} must be 0 or more.", f"/{name}")


def _texts(lot: PlantLot | AgentLot, names: tuple[str, ...]) -> None:
    for name in names:
        if len(getattr(lot, name)) > _LONGEST:
            raise InvalidInput(f"Keep {name} to {_LONGEST} characters.", f"/{name}")


def _day(name: str, said: str) -> date | None:
    if not said:
        return None
    try:
        day = date.fromisoformat(said)
    except ValueError as exc:
        raise InvalidInput(
            f"“{said[:20]}” is not a date: write it as 2026-05-03.", f"/{name}"
        ) from exc
    if not _FIRST_YEAR <= day.year <= _LAST_YEAR:
        raise InvalidInput(
            f"The year must be {_FIRST_YEAR} to {_LAST_YEAR}, got {said[:4]}.", f"/{name}"
        )
    return day


def _past_day(name: str, what: str, said: str, today: date) -> None:
    day = _day(name, said)
    if day is not None and day > today + timedelta(days=1):
        raise InvalidInput(f"The day of {what} lies in the future: check the year.", f"/{name}")


def _strength_ppm(lot: AgentLot) -> float | None:
    """Strength in mg/L or mg/kg; None where the active has no molar mass for mM."""
    try:
        found = read_quantity(
            lot.strength, (Dimension.STRENGTH, Dimension.SHARE, Dimension.MOLAR, Dimension.MASS)
        )
    except (InvalidInput, OpenComma) as exc:
        raise InvalidInput(
            f"“{lot.strength[:30]}” is not a strength: write it as 1 %, 3000 ppm or 300 mg.",
            "/strength",
        ) from exc
    value = in_base(found)
    if found.unit.dimension is Dimension.SHARE:
        return value * 10_000
    if found.unit.dimension is Dimension.MOLAR:
        active = ACTIVES.get(lot.active)
        return value * active.molar_mass if active else None
    return value if found.unit.dimension is Dimension.STRENGTH else None


def notes_on_plant(lot: PlantLot, today: date) -> tuple[Flag, ...]:
    """What must be said of plant material on the day it is used.

    Args:
        lot: the plants.
        today: the day they are used.
    """
    tested = _day("tested_on", lot.tested_on)
    if tested is None:
        if lot.germination_percent is not None:
            return (
                note(
                    "label_undated",
                    f"{lot.name}: the germination on the label has no test date: test the seed batch.",
                ),
            )
        return ()
    months = (today - tested).days / 30.44
    if months <= DEFAULTS["label_months"].value:
        return ()
    return (
        warn(
            "label_old",
            f"{lot.name}: germination was tested {months:.0f} months ago: test the seed batch again before you rely on it.",
        ),
    )


def notes_on_agent(
    lot: AgentLot, today: date, plan: Plan | None = None, treatment: Treatment | None = None
) -> tuple[Flag, ...]:
    """What must be said of an agent on the day it is used, in this plan for this treatment.

    Args:
        lot: the agent.
        today: the day it is used.
        plan: the plan it is used in; None for the stock list alone.
        treatment: the treatment it is used for.
    """
    return tuple(_agent_notes(lot, today, plan, treatment))


def _agent_notes(
    lot: AgentLot, today: date, plan: Plan | None, treatment: Treatment | None
) -> Iterator[Flag]:
    yield from _too_old(lot, today)
    active = ACTIVES.get(lot.active)
    ppm = _strength_ppm(lot) if lot.strength else None
    if not lot.strength:
        yield warn(
            "strength_unknown",
            f"{lot.name}: its strength is not known, so no dose can be calculated from it.",
        )
    if active is not None and lot.form in ("liquid", "crystals"):
        salts = active.salt is not None or active.acid
        if salts and not lot.basis and ppm is not None:
            yield warn(
                "basis_unknown",
                f"{lot.name}: does its label state the acid or the salt? It makes up to a fifth.",
            )
        if ppm is not None and lot.form == "liquid" and not (lot.basis == "salt" or active.acid):
            for flag in solubility_flags(active, ppm, lot.carrier):
                yield Flag(flag.code, flag.gravity, f"{lot.name}: {flag.says}")
    if treatment is not None and active is not None and active.acid:
        words = (
            f"{treatment.name} {treatment.detail} {' '.join(v for _, v in treatment.properties)}"
        )
        bare = re.search(rf"(?<![\w-]){re.escape(active.acid)}\b", words)
        if bare and active.key not in words:
            yield warn("salt_for_acid", f"{treatment.name} is named by {active.acid}, the acid, and draws on {active.key}, its salt: "
                       f"weigh {active.salt_factor:.3f} times as much for the same dose.")  # fmt: skip
    if plan is not None and lot.form in ("talc", "gel") and _is_water(plan):
        yield warn(
            "form_unsuited",
            f"{lot.name}: a {lot.form} washes off in water; for jars and rolls take a liquid.",
        )


def _is_water(plan: Plan) -> bool:
    words = " ".join(
        (plan.question, plan.material, *(f"{t.name} {t.detail}" for t in plan.treatments))
    )
    return bool(
        re.search(r"\bjars? (of|with) water|\bin water\b|\bhydropon|\bwater rooting", words, re.I)
    )


def _too_old(lot: AgentLot, today: date) -> Iterator[Flag]:
    expires = _day("expires_on", lot.expires_on)
    if expires is not None:
        if expires < today:
            yield warn(
                "expired",
                f"{lot.name}: past its date of {expires.isoformat()}; its strength is not known any more.",
            )
        return
    since = _day("opened_on", lot.opened_on) or _day("made_on", lot.made_on)
    keeps = _keeps(lot)
    if since is not None and since + timedelta(days=keeps) < today:
        yield warn(
            "kept_long",
            f"{lot.name}: kept {(today - since).days} days, and such keeps about {shown(keeps)}: make or buy it fresh.",
        )
    elif since is None and lot.form == "liquid":
        yield note(
            "undated", f"{lot.name}: no date is known; write down when it was made or opened."
        )


def _keeps(lot: AgentLot) -> float:
    if lot.form in ("crystals", "tablet"):
        return DEFAULTS["keeps_crystal"].value
    if lot.form == "talc":
        return DEFAULTS["keeps_talc"].value
    if lot.active.endswith("IAA"):
        return DEFAULTS["keeps_iaa"].value
    if lot.active.endswith("GA3"):
        return DEFAULTS["keeps_ga3"].value
    return DEFAULTS["keeps_alcohol" if lot.carrier == "alcohol" else "keeps_water"].value
