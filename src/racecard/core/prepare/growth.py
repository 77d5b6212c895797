"""Growth: how fast, how sturdy, how good a plant is, from what was measured and weighed.

Compare inside one species and at one age only.
"""

import re

from racecard.core.prepare.cards import Amount, Answer, Calculation, Category, SumField, note
from racecard.core.prepare.inputs import Inputs
from racecard.core.quantities import shown
from racecard.core.stats.growth_indices import (
    chlorosis_score,
    doubling_days,
    quality_index,
    relative_growth_rate,
    root_to_shoot,
    slenderness,
    sturdiness,
)
from racecard.core.stats.seed_indices import vigour_index
from racecard.errors import InvalidInput

_SAME_AGE = note(
    "same_age", "Compare plants of one species at the same age, never on the same date."
)
_MOST = 400
_HEAVIEST = 100_000
"""Grams of dry mass of one plant; more is a slip."""


def _list(given: Inputs, key: str) -> list[float]:
    """Numbers above 0, separated by blanks or semicolons."""
    said = re.split(r"[;\s]+", given.text(key).strip())
    try:
        values = [float(s.replace(",", ".")) for s in said if s]
    except ValueError as exc:
        raise InvalidInput(
            "Write the numbers with blanks between them, such as 0.30 0.28 0.33.", f"/fields/{key}"
        ) from exc
    if not 1 <= len(values) <= _MOST or not all(0 < v <= _HEAVIEST for v in values):
        raise InvalidInput(
            f"Give 1 to {_MOST} numbers above 0 and at most {_HEAVIEST}.", f"/fields/{key}"
        )
    return values


def _mm(given: Inputs, key: str) -> float:
    """A length in mm; a bare number is cm."""
    return 10 * given.length(key)


def _rate(given: Inputs) -> Answer:
    first, second = _list(given, "first"), _list(given, "second")
    days = given.number("days", 0.1, 5000)
    rate = relative_growth_rate(first, second, days)
    double = doubling_days(rate)
    amounts = [Amount("Relative growth rate", rate, "/day", f"{rate:.4f} g per g and day")]
    says = [
        "(mean of ln of the later, less mean of ln of the earlier) ÷ days; the mean of ln, never ln of the mean."
    ]
    if double is not None:
        amounts.append(Amount("Doubles in", double, "d", f"{shown(double)} days"))
    else:
        says.append("Nothing grew, so it never doubles.")
    return Answer(
        tuple(amounts),
        tuple(says),
        (_SAME_AGE,),
        sources=("Blackman (1919), Ann. Bot. 33, 353–360 (recalled)",),
    )


def _sturdy(given: Inputs) -> Answer:
    height, diameter = _mm(given, "height"), _mm(given, "diameter")
    quotient, leggy = sturdiness(height / 10, diameter), slenderness(height, diameter)
    word = "sturdy" if quotient < 6 else "weak" if quotient > 8 else "in between"
    amounts = (
        Amount("Sturdiness", quotient, "", f"{shown(quotient)} (cm over mm)"),
        Amount("Legginess", leggy, "", f"{shown(leggy)} (mm over mm)"),
    )
    says = (f"Height over stem diameter: {word} by what forestry aims at, below 6, above 8 weak.",)
    return Answer(amounts, says, (_SAME_AGE,), sources=("forestry practice (recalled)",))


def _quality(given: Inputs) -> Answer:
    shoot, root = given.mass("shoot"), given.mass("root")
    height, diameter = _mm(given, "height"), _mm(given, "diameter")
    index = quality_index(height / 10, diameter, shoot, root)
    ratio = root_to_shoot(root, shoot)
    amounts = (
        Amount("Quality index", index, "", shown(index)),
        Amount("Root to shoot", ratio, "", f"{shown(ratio)} (root over shoot)"),
    )
    says = ("Total dry mass ÷ (height in cm ÷ diameter in mm + shoot ÷ root).",)
    flags = (
        _SAME_AGE,
        note(
            "way_up",
            "Shoot over root inside the index, root over shoot next to it: do not mix the two.",
        ),
    )
    return Answer(
        amounts,
        says,
        flags,
        sources=("Dickson, Leaf & Hosner (1960), For. Chron. 36, 10–13 (recalled)",),
    )


def _vigour(given: Inputs) -> Answer:
    index = vigour_index(given.percent("final"), _mm(given, "length"))
    says = ("Final percent × mean seedling length in mm.",)
    source = "Abdul-Baki & Anderson (1973), Crop Sci. 13, 630 (recalled)"
    return Answer(
        (Amount("Vigour index", index, "", f"{index:.0f}"),), says, (_SAME_AGE,), sources=(source,)
    )


def _yellow(given: Inputs) -> Answer:
    score = chlorosis_score(given.percent("yellow"))
    says = (
        "0 none, 1 below 10 %, 2 to 30 %, 3 to 60 %, 4 above or dead. Note whether old or young leaves yellow first.",
    )
    return Answer(
        (Amount("Yellowing", float(score), "", f"{score} of 4"),),
        says,
        sources=("common practice",),
    )


SUMS = (
    Calculation("growth_rate", Category.GROWTH, "Relative growth rate", "From dry mass at two harvests, and days to double.", (
        SumField("first", "Earlier, g each", "0.30"), SumField("second", "Later, g each", "1.20"), SumField("days", "Days between", "14")), _rate),
    Calculation("sturdiness", Category.GROWTH, "Sturdiness", "Height against stem diameter.", (
        SumField("height", "Height", "25 cm"), SumField("diameter", "Stem diameter", "4 mm")), _sturdy),
    Calculation("quality_index", Category.GROWTH, "Quality of a young plant", "Dry mass, height, diameter, shoot and root in one figure.", (
        SumField("shoot", "Shoot, dry", "3.0 g"), SumField("root", "Root, dry", "1.5 g"), SumField("height", "Height", "25 cm"), SumField("diameter", "Stem diameter", "4 mm")), _quality),
    Calculation("vigour", Category.GROWTH, "Seedling vigour", "Final germination times seedling length.", (
        SumField("final", "Final germination, %", "85 %"), SumField("length", "Mean seedling length", "62 mm")), _vigour),
    Calculation("yellowing", Category.GROWTH, "Yellow leaves, 0 to 4", "A score from the share of leaf area that is yellow.", (
        SumField("yellow", "Leaf area yellow, %", "25 %"),), _yellow),
)  # fmt: skip
