"""Powders: talc mixed down, and what a powder holds. Percent of a powder is w/w."""

from racecard.core.prepare.cards import Amount, Answer, Calculation, Category, Flag, SumField, note
from racecard.core.prepare.cautions import cautions_in
from racecard.core.prepare.defaults import HAND, STAGES
from racecard.core.prepare.inputs import Inputs
from racecard.core.quantities import shown, shown_mass
from racecard.errors import InvalidInput

_SAME = (
    "talc_not_liquid",
    "A powder of the same number acts weaker than a quick-dip, and varies with how wet the base is: never take one for the other.",
)


def _talc(given: Inputs) -> Answer:
    strong, target = given.percent("strong"), given.percent("target")
    if strong < target:
        raise InvalidInput(
            f"The powder ({shown(strong)} %) is weaker than the {shown(target)} % wanted: plain talc only thins it.",
            "/fields/strong",
        )  # fmt: skip
    if given.has("start"):
        start = given.mass("start")
        total = start * strong / target
    else:
        total = given.mass("mass")
        start = total * target / strong
    amounts = [Amount("Strong powder", start, "g", shown_mass(start)), Amount("Plain talc to add", total - start, "g", shown_mass(total - start)),
               Amount("In all", total, "g", shown_mass(total)), Amount("Active in all", total * target / 100, "g", shown_mass(total * target / 100))]  # fmt: skip
    says = [f"{shown(total)} g × {shown(target)} % ÷ {shown(strong)} % = {shown(start)} g of the strong powder, "
            f"and {shown(total - start)} g of plain talc.",
            f"{shown(target)} % is {shown(target * 10_000)} mg/kg. Stir until no streak is left, and label it with the date."]  # fmt: skip
    flags: list[Flag] = [note(*_SAME)]
    stage = given.text("stage")
    if stage in STAGES:
        low, high = given.default(f"talc_{stage}_low"), given.default(f"talc_{stage}_high")
        if not low <= target <= high:
            side = "below" if target < low else "above"
            flags.append(
                note(
                    "outside_range",
                    f"{shown(target)} % is {side} the usual {shown(low)} to {shown(high)} % of talc for {STAGES[stage]}.",
                )
            )
    sources = (
        (f"Usual ranges: {HAND}. Each can be changed under Defaults.",) if stage in STAGES else ()
    )
    return Answer(tuple(amounts), tuple(says), tuple(flags), cautions_in("talc hormone"), sources)


def _holds(given: Inputs) -> Answer:
    mass, percent = given.mass("mass"), given.percent("percent")
    active = mass * percent / 100
    amounts: tuple[Amount, ...] = (
        Amount("Active in it", active, "g", shown_mass(active)),
        Amount("Strength", percent * 10_000, "mg/kg", f"{shown(percent * 10_000)} mg/kg"),
    )
    says: tuple[str, ...] = (f"{shown(mass)} g × {shown(percent)} % = {shown(active)} g.",)
    if given.has("bases"):
        bases = given.whole("bases")
        amounts = (
            *amounts,
            Amount("Powder a cutting", mass / bases, "g", shown_mass(mass / bases)),
        )
        says = (
            *says,
            f"÷ {bases} cuttings = {shown(1000 * mass / bases)} mg of powder each; count waste and what is tapped off, too.",
        )
    return Answer(amounts, says, (note(*_SAME),), cautions_in("talc hormone"))


SUMS = (
    Calculation("talc", Category.POWDERS, "Dilute a powder", "How much plain talc thins a strong powder.", (
        SumField("mass", "How much is wanted", "20 g"), SumField("target", "Strength wanted, %", "0.3 %"), SumField("strong", "The strong powder, %", "0.8 %"),
        SumField("start", "Or: strong powder you have", optional=True), SumField("stage", "Wood stage", "", (("", "not said"), *STAGES.items()), optional=True),
    ), _talc),
    Calculation("holds", Category.POWDERS, "Contents of a powder", "Active in so much powder, and powder a cutting.", (
        SumField("mass", "Powder", "50 g"), SumField("percent", "Strength, %", "0.8 %"), SumField("bases", "Cuttings dipped", optional=True),
    ), _holds),
)  # fmt: skip
