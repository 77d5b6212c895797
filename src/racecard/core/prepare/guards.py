"""Guards of a dose: usual range by wood stage and method, warnings, refusals, solubility."""

from collections.abc import Collection, Iterator

from racecard.core.prepare.actives import ACTIVES, Active
from racecard.core.prepare.cards import Flag, note, refuse, warn
from racecard.core.prepare.defaults import STAGES
from racecard.core.prepare.inputs import Inputs
from racecard.core.quantities import shown

METHODS = (("", "not said"), ("dip", "quick-dip of seconds"), ("soak", "soak of hours"))
"""How a liquid is given."""
CARRIERS = (
    ("", "not said"),
    ("water", "water"),
    ("alcohol", "alcohol and water"),
    ("alkali", "alkali, then water"),
)
"""What a liquid is made up with."""
_AUXINS = ("IBA", "NAA", "IAA")


def is_auxin(active: Active | None) -> bool:
    """Whether this is an auxin or a salt of one."""
    return active is not None and (active.acid or active.key) in _AUXINS


def dose_flags(given: Inputs, active: Active | None, acid_ppm: float) -> Iterator[Flag]:
    """What is to be said of a liquid strength (mg/L of the acid) for this stage and method.

    Args:
        given: the fields of the sum.
        active: the active ingredient; None where it is not known.
        acid_ppm: strength as the acid, mg/L.
    """
    stage, method = given.text("stage"), given.text("method") or "dip"
    if not is_auxin(active):
        return
    if stage == "root" and acid_ppm > 0:
        yield warn(
            "root_cutting",
            "Root cuttings get no auxin: it holds back the shoot buds that are wanted.",
        )
        return
    if method == "soak":
        yield from _soak(given, stage, acid_ppm)
        return
    if acid_ppm > given.default("dip_refuse"):
        yield refuse("dip_far_too_strong", f"{shown(acid_ppm)} ppm is above {shown(given.default('dip_refuse'))} ppm, "
                     "stronger than any quick-dip: check the figure, or say why it is meant.")  # fmt: skip
    elif acid_ppm > given.default("dip_warn"):
        yield warn(
            "dip_strong",
            f"{shown(acid_ppm)} ppm is above {shown(given.default('dip_warn'))} ppm: such dips burn most bases.",
        )
    if stage == "herbaceous" and acid_ppm > given.default("herbaceous_warn"):
        yield warn("herbaceous_strong", f"{shown(acid_ppm)} ppm is strong for herbaceous tips: above "
                   f"{shown(given.default('herbaceous_warn'))} ppm they burn.")  # fmt: skip
    elif stage in STAGES:
        low, high = given.default(f"dip_{stage}_low"), given.default(f"dip_{stage}_high")
        yield from _range(stage, "a quick-dip", acid_ppm, low, high)


def _soak(given: Inputs, stage: str, ppm: float) -> Iterator[Flag]:
    most = given.default("soak_warn")
    if ppm > most:
        yield warn(
            "soak_strong",
            f"{shown(ppm)} ppm is a quick-dip strength: soaked for hours it kills. Soaks stay at or below {shown(most)} ppm.",
        )
    elif stage in STAGES and stage not in ("leaf_bud", "leaf"):
        low, high = given.default(f"soak_{stage}_low"), given.default(f"soak_{stage}_high")
        yield from _range(stage, "a soak", ppm, low, high)


def _range(stage: str, what: str, ppm: float, low: float, high: float) -> Iterator[Flag]:
    if not low <= ppm <= high:
        side = "below" if ppm < low else "above"
        yield note("outside_range", f"{shown(ppm)} ppm is {side} the usual {shown(low)} to {shown(high)} ppm "
                   f"of {what} for {STAGES[stage]}.")  # fmt: skip


def solubility_flags(active: Active | None, ppm: float, carrier: str) -> Iterator[Flag]:
    """A free acid in plain water beyond what water takes.

    Args:
        active: the active ingredient; None where it is not known.
        ppm: strength as the acid, mg/L.
        carrier: what it is dissolved in.
    """
    if active is None or active.soluble_ppm is None or carrier != "water":
        return
    if ppm > active.soluble_ppm:
        salt = f", or weigh {active.salt.key}" if active.salt else ""
        yield warn("acid_in_water", f"{active.key} dissolves in plain water only to about {shown(active.soluble_ppm)} ppm: "
                   f"dissolve it in a little alcohol or alkali first{salt}.")  # fmt: skip


def salt_flags(active: Active | None, ppm: float) -> Iterator[Flag]:
    """What a strength stated as the salt holds as the acid.

    Args:
        active: the active ingredient; None where it is not known.
        ppm: strength as the salt, mg/L.
    """
    if active is not None and active.acid:
        acid = ppm / active.salt_factor
        yield note("salt_for_acid", f"{shown(ppm)} ppm of {active.key} holds {shown(acid)} ppm of {active.acid}: "
                   "compare trials by the acid.")  # fmt: skip


def alcohol_flags(given: Inputs, percent: float) -> Iterator[Flag]:
    """More alcohol in the dip than tissue bears.

    Args:
        given: the fields of the sum.
        percent: alcohol in the dip, % by volume.
    """
    most = given.default("alcohol_most")
    if percent > most:
        yield warn(
            "alcohol_high",
            f"{shown(percent)} % alcohol burns bases by itself: stay at or below {shown(most)} %.",
        )


_NEVER_MIXED = (
    ({"sodium hypochlorite", "alcohol"}, "Bleach and alcohol"),
    ({"sodium hypochlorite", "acetic acid"}, "Bleach and vinegar"),
    ({"sodium hypochlorite", "salicylic acid"}, "Bleach and an acid"),
    ({"sodium hypochlorite", "boric acid"}, "Bleach and an acid"),
    ({"sodium hypochlorite", "hydrogen peroxide"}, "Bleach and peroxide"),
    ({"hydrogen peroxide", "acetic acid"}, "Peroxide and vinegar"),
)


def never_mixed(names: Collection[str]) -> str:
    """Why these must not be in one vessel, in a sentence; "" where nothing is known against it.

    General laboratory safety practice.
    """
    found = next((said for pair, said in _NEVER_MIXED if pair <= set(names)), "")
    return found and (
        f"{found} must never be mixed: that gives toxic gas or a violent reaction. "
        "Make each up in water alone, and rinse well between them."
    )


def mixing_flags(active: str, carrier: str) -> Iterator[Flag]:
    """An active made up with what it must not meet.

    Args:
        active: what is made up, by its key.
        carrier: what with, by its key.
    """
    if danger := never_mixed((active, carrier)):
        yield refuse("never_mixed", danger)


def scale_flags(given: Inputs, mass_g: float, what: str) -> Iterator[Flag]:
    """A weight the grower's scale cannot show well enough.

    Args:
        given: the fields of the sum.
        mass_g: the weight, g.
        what: what is weighed.
    """
    step = given.mass("scale") if given.has("scale") else given.default("scale")
    least = step * given.default("readability_times")
    if mass_g >= least:
        return
    stock_ml = 100.0
    take = stock_ml * mass_g / least
    error = 100 * step / mass_g
    yield warn("scale_coarse", f"A {shown(step)} g scale cannot weigh {shown(mass_g * 1000)} mg of {what} (±{shown(error)} %): "
               f"make a stock first. Weigh {shown(least)} g of {what}, make it up to {shown(stock_ml)} mL, and take "
               f"{shown(take)} mL of that stock in place of the powder.")  # fmt: skip


AUXIN_CHOICES = tuple(
    (k, a.name if a.name.startswith(k) else f"{k}, {a.name}") for k, a in ACTIVES.items()
)
"""Actives as a list to choose from."""
