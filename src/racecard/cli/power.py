"""`racecard power`: what a number of units can show, and how many it would need."""

import json
from dataclasses import asdict, dataclass
from math import comb

from racecard.core.plan.exact import MOST_EXACT, arms_table, pairs_power
from racecard.core.plan.needed import guess_units, units_needed
from racecard.core.plan.sampled import Bench, sampled_power, strike_profile
from racecard.core.stats.permutation import CLEAR_ENOUGH
from racecard.errors import InvalidInput

_MOST_CONTAINERS = 300


@dataclass(frozen=True, slots=True)
class Answer:
    """Power of one candidate at the first Holm step; units are counted an arm.

    `minimum_p`: smallest p of one comparison; `minimum_p_holm`: the same corrected.
    """

    power: float
    minimum_p: float
    minimum_p_holm: float
    decidable: bool
    units_needed: int | None
    method: str


@dataclass(frozen=True, slots=True)
class Question:
    """True shares as fractions, units an arm, and the design."""

    control: float
    treated: float
    units: int
    candidates: int = 1
    pairs: bool = False
    agree: float = 0.0
    per_container: int = 1
    icc: float = 0.1
    aim: float = 0.8


def answer(q: Question) -> Answer:
    """Power, floor and units needed of a design.

    Raises:
        InvalidInput: a share, ICC or aim out of range, or a number below 1.
    """
    _check(q)
    minimum_p = min(1.0, 2.0 * 0.5**q.units if q.pairs else 2 / comb(2 * q.units, q.units))
    holm = min(1.0, q.candidates * minimum_p)
    needed = _needed(q)
    method = "simulated" if q.per_container > 1 else "exact"
    return Answer(_power(q, q.units), minimum_p, holm, holm < CLEAR_ENOUGH, needed, method)


def as_json(found: Answer) -> str:
    """The answer as JSON; the smallest p goes by the names that scripts know."""
    known = {"minimum_p": "floor", "minimum_p_holm": "floor_holm"}
    return json.dumps({known.get(k, k): v for k, v in asdict(found).items()}, indent=1)


def as_words(q: Question, found: Answer) -> str:
    """The answer in words."""
    unit = "pairs" if q.pairs else "containers" if q.per_container > 1 else "plants"
    lines = [
        f"{q.units} {unit} per treatment would show {100 * q.treated:g} % against {100 * q.control:g} % "
        f"{100 * found.power:.1f} times in 100 ({found.method}).",
    ]
    if not found.decidable:
        lines.append(
            "They can never show anything: even the best result would arise by chance too often."
        )
    if found.units_needed is None:
        lines.append(
            f"More than can be calculated here would be needed for {100 * q.aim:g} in 100."
        )
    else:
        lines.append(
            f"To show it {100 * q.aim:g} times in 100: {found.units_needed} {unit} per treatment."
        )
    return "\n".join(lines)


def _check(q: Question) -> None:
    for name, value in (("control", q.control), ("treated", q.treated), ("agree", q.agree)):
        if not 0 <= value <= 1:
            raise InvalidInput(
                f"--{name} must be 0 to 1, got {value:g}: a share, not per cent.", f"/{name}"
            )
    if not 0 <= q.icc < 1:
        raise InvalidInput(f"--icc must be 0 to below 1, got {q.icc:g}.", "/icc")
    if not 0 < q.aim < 1:
        raise InvalidInput(f"--aim must be between 0 and 1, got {q.aim:g}.", "/aim")
    for name, number, most in (
        ("units", q.units, MOST_EXACT), ("candidates", q.candidates, 50), ("per-container", q.per_container, 1000)
    ):  # fmt: skip
        if not 1 <= number <= most:
            raise InvalidInput(f"--{name} must be 1 to {most}, got {number}.", f"/{name}")
    if q.pairs and q.per_container > 1:
        raise InvalidInput(
            "Pairs of containers cannot be calculated: leave out --pairs or --per-container."
        )


def _power(q: Question, units: int) -> float:
    if q.pairs:
        return pairs_power(units, q.control, q.treated, q.agree, q.candidates)
    if q.per_container == 1:
        return arms_table(units, units, q.candidates).power(q.control, q.treated)
    if q.candidates * 2 / comb(2 * units, units) >= CLEAR_ENOUGH:
        return 0.0
    bench = Bench((units,), (units,), q.per_container, q.icc)
    pair = strike_profile(q.control), strike_profile(q.treated)
    return sampled_power(bench, *pair, family=q.candidates, trials=20_000)


def _needed(q: Question) -> int | None:
    worth = q.per_container / (1 + (q.per_container - 1) * q.icc)
    guess = guess_units(q.control, q.treated, q.candidates, worth)
    most = MOST_EXACT if q.per_container == 1 else _MOST_CONTAINERS
    return units_needed(lambda n: _power(q, n), min(guess, most), aim=q.aim, most=most)
