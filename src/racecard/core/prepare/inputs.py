"""What a sum was given: fields read as a grower writes them, and the questions they leave open."""

from collections.abc import Mapping, Sequence
from datetime import date

from racecard.core.prepare.actives import ACTIVES, Active
from racecard.core.prepare.cards import Option, Question
from racecard.core.prepare.defaults import DEFAULTS
from racecard.core.quantities import (
    SIZES,
    Dimension,
    OpenComma,
    Quantity,
    in_base,
    read_number,
    read_quantity,
    shown,
)
from racecard.errors import InvalidInput

_ASKS = {
    "spoon": "Whose spoon or cup?",
    "imperial_spoon": "An imperial spoon has no single size. Measure it in mL, or say which:",
    "gallon": "US or imperial?",
    "ounce": "An ounce of weight, or a fluid ounce?",
    "drop": "How many drops to the mL? Best count those of your own dropper.",
}
_USUAL = {"drop": "20"}


def _unit(answer: str, asks: str) -> str:
    return "g" if asks == "ounce" and answer == "weight" else "mL"


class Inputs:
    """Fields by key, as text; answers to questions by key; defaults changed by key.

    Every question that comes up while fields are read is kept in `asked`; `understood` says how
    each field was read.
    """

    def __init__(
        self, fields: Mapping[str, str], choices: Mapping[str, str], labels: Mapping[str, str]
    ) -> None:
        self._fields = fields
        self._choices = choices
        self._labels = labels
        self.asked: dict[str, Question] = {}
        self.understood: list[str] = []

    def ask(self, key: str, asks: str, options: Sequence[tuple[str, str]], usual: str = "") -> str:
        """The answer to a question: the one chosen, else the usual one, else the first for now.

        Args:
            key: what the question is known by.
            asks: the question.
            options: what may be answered, as (value, words).
            usual: the value that holds until it is answered; "" for the first.
        """
        chosen = self._choices.get(key)
        if chosen not in {value for value, _ in options}:
            chosen = None
        self.asked[key] = Question(
            key, asks, tuple(Option(v, label) for v, label in options), usual, chosen
        )
        return chosen or usual or options[0][0]

    def has(self, key: str) -> bool:
        """Whether anything is written in a field."""
        return bool(self._fields.get(key, "").strip())

    def text(self, key: str) -> str:
        """A field as it stands."""
        return self._fields.get(key, "").strip()

    def choice(self, key: str, allowed: Sequence[tuple[str, str]]) -> str:
        """A field with a fixed list; the first where nothing is said.

        Args:
            key: name of the field.
            allowed: what may stand there, as (value, words).
        """
        said = self.text(key) or allowed[0][0]
        if said not in {value for value, _ in allowed}:
            names = ", ".join(value for value, _ in allowed)
            raise InvalidInput(f"“{said[:30]}” is not one of {names}.", f"/fields/{key}")
        return said

    def default(self, key: str) -> float:
        """A default of the bench: the grower's own where it was changed."""
        own = self._choices.get(f"default:{key}")
        return DEFAULTS[key].value if own is None else float(own)

    def quantity(self, key: str, *wanted: Dimension, bare: str = "") -> Quantity:
        """A field as a number with its unit.

        Args:
            key: name of the field.
            wanted: dimensions it may be of.
            bare: unit of a number without one; "" where a unit must be said.
        """
        said = self.text(key)
        if not said:
            raise InvalidInput(
                f"“{self._labels.get(key, key)}” is empty: fill it in.", f"/fields/{key}"
            )
        try:
            return read_quantity(said, wanted, bare=bare, comma=self._choices.get("comma"))
        except OpenComma:
            comma = self.ask("comma", f"What is the comma in “{said}”?", (
                ("thousands", "it parts the thousands"), ("decimal", "it is the decimal mark")))  # fmt: skip
            return read_quantity(said, wanted, bare=bare, comma=comma)
        except InvalidInput as exc:
            raise InvalidInput(exc.detail, f"/fields/{key}") from exc

    def base(self, key: str, *wanted: Dimension, bare: str = "") -> float:
        """A field in the base unit of its dimension; what its unit leaves open is asked.

        Args:
            key: name of the field.
            wanted: dimensions it may be of.
            bare: unit of a number without one; "" where a unit must be said.
        """
        return self.measured(self.quantity(key, *wanted, bare=bare), key)

    def measured(self, quantity: Quantity, key: str = "") -> float:
        """A quantity in its base unit; what its unit leaves open is asked.

        Args:
            quantity: the number with its unit.
            key: name of the field, for the question.
        """
        answer = None
        asks = quantity.unit.asks
        if asks:
            sizes = SIZES[asks]
            fits = [
                (
                    v,
                    f"{label}, {shown(in_base(Quantity(1.0, quantity.unit, ''), v))} {_unit(v, asks)}",
                )
                for v, (label, by) in sizes.items()
                if quantity.unit.name in by
            ]
            if asks == "ounce" and key.endswith("_g"):
                fits = [("weight", "weight")]
            answer = self.ask(asks, _ASKS[asks], fits, self._usual(asks, quantity.unit.name))
        try:
            return in_base(quantity, answer)
        except InvalidInput as exc:
            raise InvalidInput(exc.detail, f"/fields/{key}" if key else "") from exc

    def _usual(self, asks: str, unit: str) -> str:
        """The answer taken where nothing is chosen: a teaspoon differs by little, whosever it is."""
        if (
            asks == "spoon"
            and unit in ("tsp", "dessertspoon")
            and "spoon" not in self._open_spoons()
        ):
            return "metric"
        return _USUAL.get(asks, "")

    def _open_spoons(self) -> set[str]:
        """Questions already asked of a spoon whose size differs much."""
        return {k for k, q in self.asked.items() if q.must}

    def volume(self, key: str, bare: str = "mL") -> float:
        """A field in mL.

        Args:
            key: name of the field.
            bare: unit of a number without one.
        """
        return self.base(key, Dimension.VOLUME, bare=bare)

    def mass(self, key: str, bare: str = "g") -> float:
        """A field in g.

        Args:
            key: name of the field.
            bare: unit of a number without one.
        """
        return self.base(key, Dimension.MASS, bare=bare)

    def hours(self, key: str, bare: str = "h") -> float:
        """A field in hours.

        Args:
            key: name of the field.
            bare: unit of a number without one.
        """
        return self.base(key, Dimension.TIME, bare=bare)

    def length(self, key: str) -> float:
        """A field in cm."""
        return self.base(key, Dimension.LENGTH, bare="cm")

    def celsius(self, key: str) -> float:
        """A field in °C; a bare number is °C."""
        return self.base(key, Dimension.TEMPERATURE, bare="°C")

    def percent(self, key: str, most: float = 100.0) -> float:
        """A field in %, above 0; a bare number is %.

        Args:
            key: name of the field.
            most: largest percentage that can be.
        """
        value = self.base(key, Dimension.SHARE, bare="%")
        if value > most:
            raise InvalidInput(f"“{self.text(key)}” is more than {most:g} %.", f"/fields/{key}")
        return value

    def large_share(self, key: str) -> float:
        """A field in % that is seldom below 1; a bare 0.85 is asked: 85 %, or less than one?"""
        value = self.percent(key)
        is_bare = "%" not in self.text(key) and "percent" not in self.text(key).lower()
        if is_bare and value < 1:
            meant = self.ask(f"share_{key}", f"“{self.text(key)}”: is {100 * value:g} % meant?", (
                ("share", f"yes, {100 * value:g} %"), ("percent", f"no, {value:g} %")))  # fmt: skip
            return 100 * value if meant != "percent" else value
        return value

    def number(self, key: str, least: float = 0.0, most: float = 1e6) -> float:
        """A bare number of a field, within its limits.

        Args:
            key: name of the field.
            least, most: its limits, themselves allowed.
        """
        said = self.text(key)
        if not said:
            raise InvalidInput(
                f"“{self._labels.get(key, key)}” is empty: fill it in.", f"/fields/{key}"
            )
        try:
            value = read_number(said, self._choices.get("comma"))
        except OpenComma:
            comma = self.ask("comma", f"What is the comma in “{said}”?", (
                ("thousands", "it parts the thousands"), ("decimal", "it is the decimal mark")))  # fmt: skip
            value = read_number(said, comma)
        except InvalidInput as exc:
            raise InvalidInput(exc.detail, f"/fields/{key}") from exc
        if not least <= value <= most:
            span = (
                f"more than 0 and at most {most:g}" if 0 < least < 0.1 else f"{least:g} to {most:g}"
            )
            raise InvalidInput(f"“{said}” must be {span}.", f"/fields/{key}")
        return value

    def whole(self, key: str, least: int = 1, most: int = 1_000_000) -> int:
        """A whole number of a field.

        Args:
            key: name of the field.
            least, most: its limits, themselves allowed.
        """
        value = self.number(key, least, most)
        if value != int(value):
            raise InvalidInput(f"“{self.text(key)}” must be a whole number.", f"/fields/{key}")
        return int(value)

    def day(self, key: str) -> date:
        """A date of a field, as 2026-05-03."""
        try:
            return date.fromisoformat(self.text(key))
        except ValueError as exc:
            raise InvalidInput(
                f"“{self.text(key)[:20]}” is not a date: write it as 2026-05-03.", f"/fields/{key}"
            ) from exc

    def active(self, key: str = "active") -> Active | None:
        """The active named in a field, or None where none or another is meant."""
        said = self.text(key)
        if said and said not in ACTIVES:
            raise InvalidInput(
                f"“{said[:30]}” is not an active known here: choose one of {', '.join(ACTIVES)}.",
                f"/fields/{key}",
            )
        return ACTIVES.get(said)

    def strength(self, key: str, active: Active | None, *, solid: bool = False) -> float:
        """A strength in mg/L (liquids) or mg/kg (powders).

        ppm of a liquid is mg per litre. % of a liquid is w/v, 1 % = 10 000 mg/L, unless it is
        said to be w/w; mM needs a known active.

        Args:
            key: name of the field.
            active: the active it is of, for its molar mass; None where none is known.
            solid: it is a powder, so that % is by weight.
        """
        wanted = (Dimension.STRENGTH, Dimension.SHARE, Dimension.MOLAR)
        found = self.quantity(key, *wanted, bare="ppm")
        value = self.measured(found, key)
        if found.unit.dimension is Dimension.MOLAR:
            if active is None:
                raise InvalidInput(
                    f"“{found.said}” needs the active, for its molar mass: name it.",
                    f"/fields/{key}",
                )
            return self._below_pure(value * active.molar_mass, found, key)
        if found.unit.dimension is Dimension.SHARE:
            if value > 100:
                raise InvalidInput(f"“{found.said}” is more than all of it.", f"/fields/{key}")
            value *= 10_000
            if found.unit.name == "% w/w":
                value *= 1.0 if solid else self.default("density_half_alcohol")
            elif not solid and found.unit.name == "%":
                value *= self._percent_of_liquid()
        return self._below_pure(value, found, key)

    def _percent_of_liquid(self) -> float:
        read = self.ask("percent", "Is the percent of the liquid by volume or by weight?", (
            ("w/v", "w/v: 1 % is 10 g in a litre"),
            ("w/w", "w/w in 50 % alcohol: 1 % is 10 g in a kilogram, about 9.3 g in a litre")),
            usual="w/v")  # fmt: skip
        return 1.0 if read == "w/v" else self.default("density_half_alcohol")

    def _below_pure(self, mg_per_l: float, found: Quantity, key: str) -> float:
        if mg_per_l > 1_200_000:
            raise InvalidInput(
                f"“{found.said}” is stronger than the pure thing: check it.", f"/fields/{key}"
            )
        return mg_per_l
