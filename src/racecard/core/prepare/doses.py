"""The dose made, held against the recipe: how far off, and which slip would explain it."""

from collections.abc import Iterator

from racecard.core.prepare.cards import (
    Amount,
    Answer,
    Calculation,
    Category,
    Flag,
    SumField,
    note,
    refuse,
    warn,
)
from racecard.core.prepare.inputs import Inputs
from racecard.core.quantities import Dimension, shown
from racecard.errors import InvalidInput

STOP_BELOW, STOP_ABOVE = 0.5, 2.0
_SLIPS = (
    (10.0, "a decimal point one place off"),
    (100.0, "a decimal point two places off, or percent read as parts per thousand"),
    (1000.0, "mg taken for g, or mL for L"),
    (5.0, "a spoon of 5 mL taken for 1 mL"),
    (4.929, "a US teaspoon taken for 1 mL"),
    (6.667, "an Australian tablespoon taken for three of a mL"),
    (3.0, "a teaspoon taken for a tablespoon, or the other way"),
    (4.0, "an Australian tablespoon taken for a teaspoon, or the other way"),
    (15.0, "a tablespoon taken for 1 mL"),
    (3.785, "a rate per US gallon taken as per litre, or the other way"),
    (4.546, "a rate per imperial gallon taken as per litre, or the other way"),
    (1.2009, "an imperial gallon taken for a US one"),
    (1.1874, "K-IBA weighed as if it were IBA, or the other way"),
    (1.125, "1 to 8 taken for 1 in 8"),
)
_NEAR = 0.035


def rate_per_litre(amount: float, per_ml: float) -> float:
    """Amount (mL or g) in each litre, of an amount per volume in mL.

    Args:
        amount: mL or g of the agent.
        per_ml: mL it is given in, above 0.
    """
    return amount * 1000.0 / per_ml


def slip_of(ratio: float) -> str:
    """The slip that a ratio of dose made to recipe betrays; "" where none is near.

    Args:
        ratio: dose made over dose of the recipe.
    """
    size = ratio if ratio >= 1 else 1 / ratio
    near = [(abs(size / factor - 1), said) for factor, said in _SLIPS]
    off, said = min(near)
    return said if off <= _NEAR else ""


def ratio_flags(ratio: float, within: float) -> Iterator[Flag]:
    """What is to be said of a dose made, as a share of the recipe's.

    Args:
        ratio: dose made over dose of the recipe.
        within: share by which they may differ unsaid.
    """
    slip = slip_of(ratio)
    likely = f" The likely slip: {slip}." if slip else ""
    fold = (
        f"{shown(ratio)} times the recipe" if ratio >= 1 else f"{shown(1 / ratio)} times too weak"
    )
    if not STOP_BELOW <= ratio <= STOP_ABOVE:
        yield refuse(
            "dose_stop", f"Stop: this is {fold}. Check it before anything is dipped.{likely}"
        )
    elif not 1 - within <= ratio <= 1 + within:
        yield warn("dose_off", f"This is {shown(100 * ratio)} % of the recipe's dose.{likely}")
    else:
        yield note("dose_right", "The dose agrees with the recipe.")


def _check(given: Inputs) -> Answer:
    recipe = given.quantity("recipe", Dimension.VOLUME, Dimension.MASS)
    made = given.quantity("made", Dimension.VOLUME, Dimension.MASS)
    if recipe.unit.dimension is not made.unit.dimension:
        raise InvalidInput(
            f"The recipe says “{recipe.said}” and you measured “{made.said}”: one is a volume and the "
            "other a weight, so weigh a level spoon of it first.", "/fields/made",
        )  # fmt: skip
    wanted = rate_per_litre(given.measured(recipe, "recipe"), given.volume("per"))
    real = rate_per_litre(given.measured(made, "made"), given.volume("in"))
    unit = "g" if made.unit.dimension is Dimension.MASS else "mL"
    ratio = real / wanted
    right = wanted * given.volume("in") / 1000
    amounts = (Amount("Made, of the recipe", 100 * ratio, "%", f"{shown(100 * ratio)} %"),
               Amount("Right would be", right, unit, f"{shown(right)} {unit} in {given.text('in')}"),
               Amount("Recipe", wanted, f"{unit}/L", f"{shown(wanted)} {unit}/L"), Amount("Made", real, f"{unit}/L", f"{shown(real)} {unit}/L"))  # fmt: skip
    says = (
        f"Recipe {shown(wanted)} {unit}/L; made {shown(real)} {unit}/L; {shown(real)} ÷ {shown(wanted)} = {shown(ratio)}.",
    )
    return Answer(amounts, says, tuple(ratio_flags(ratio, given.default("dose_within") / 100)))


SUMS = (
    Calculation("check", Category.LIQUIDS, "Check a dose", "What you measured, held against the recipe.", (
        SumField("recipe", "The recipe says", "1 tbsp"), SumField("per", "per", "1 L"),
        SumField("made", "You measured", "0.75 mL"), SumField("in", "in", "250 mL"),
    ), _check),
)  # fmt: skip
