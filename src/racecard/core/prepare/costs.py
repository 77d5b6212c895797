"""Costs: of a cutting, a struck plant, a mother stem; and when a treatment pays.

Proof and payoff are two questions: a bet can be good and unproven. Money is in whatever money the
grower reckons in.
"""

from racecard.core.prepare.cards import Amount, Answer, Calculation, Category, Flag, SumField, note
from racecard.core.prepare.inputs import Inputs
from racecard.core.quantities import shown
from racecard.errors import InvalidInput


def money(value: float) -> str:
    """An amount of money, with more places where it is small."""
    return f"{value:.2f}" if abs(value) >= 1 else f"{value:.4f}".rstrip("0").ljust(4, "0")


def _fisher(h1: int, n1: int, h0: int, n0: int) -> float:
    from scipy.stats import fisher_exact  # late: two seconds, and only for counts

    return float(fisher_exact([[h1, n1 - h1], [h0, n0 - h0]]).pvalue)


def _each(given: Inputs) -> Answer:
    parts: list[tuple[str, float, str]] = []
    if given.has("pack"):
        pack, shipping, usable = (
            given.number("pack"),
            given.number("shipping") if given.has("shipping") else 0.0,
            given.number("usable", 1),
        )
        parts.append(
            ("Material", (pack + shipping) / usable, f"({pack:g} + {shipping:g}) ÷ {usable:g}")
        )
    if given.has("minutes"):
        minutes, rate = given.number("minutes"), given.number("hourly")
        parts.append(("Labour", minutes / 60 * rate, f"{minutes:g} ÷ 60 × {rate:g}"))
    if given.has("bag"):
        bag, carriage, litres, pot = (
            given.number("bag"),
            given.number("carriage") if given.has("carriage") else 0.0,
            given.number("bag_l", 0.01),
            given.volume("pot"),
        )
        parts.append(
            (
                "Medium",
                (bag + carriage) / litres * pot / 1000,
                f"({bag:g} + {carriage:g}) ÷ {litres:g} L × {pot / 1000:g} L",
            )
        )
    if given.has("batch"):
        batch, dipped = given.number("batch"), given.number("dipped", 1)
        parts.append(("Treatment", batch / dipped, f"{batch:g} ÷ {dipped:g} really dipped"))
    if not parts:
        raise InvalidInput(
            "Give at least one cost: material, labour, medium or treatment.", "/fields/pack"
        )
    total = sum(p[1] for p in parts)
    amounts = [
        Amount("Each", total, "", money(total)),
        *(Amount(name, value, "", money(value)) for name, value, _ in parts),
    ]
    says = [f"{name}: {how} = {money(value)}." for name, value, how in parts]
    return Answer(
        tuple(amounts),
        tuple(says),
        (
            note(
                "throw_away",
                "Waste counts: cuttings really dipped, cells really used.",
            ),
        ),
    )


def _pays(given: Inputs) -> Answer:
    cost, extra = given.number("cost", 0.0), given.number("extra", 0.0)
    flags: list[Flag] = []
    if given.has("hits_control") and given.has("hits_treated"):
        n0, n1 = given.whole("n_control"), given.whole("n_treated")
        h0, h1 = given.whole("hits_control", 0, n0), given.whole("hits_treated", 0, n1)
        p0, p1 = h0 / n0, h1 / n1
    else:
        n0 = n1 = h0 = h1 = 0
        p0, p1 = given.percent("control") / 100, given.percent("treated") / 100
    if p0 <= 0 or p1 <= 0:
        raise InvalidInput(
            "Where none strikes, no plant has a price: give shares above 0.", "/fields/control"
        )
    plain, treated, most = cost / p0, (cost + extra) / p1, cost * (p1 / p0 - 1)
    amounts = [Amount("A struck plant, untreated", plain, "", money(plain)), Amount("A struck plant, treated", treated, "", money(treated)),
               Amount("Most the treatment may cost, a fixed number wanted", most, "", money(most))]  # fmt: skip
    says = [f"Untreated {money(cost)} ÷ {p0:.2f} = {money(plain)}; treated {money(cost + extra)} ÷ {p1:.2f} = {money(treated)}.",
            f"For a fixed number of plants it pays while it costs less than {money(cost)} × ({p1:.2f} ÷ {p0:.2f} − 1) = {money(most)} a cutting: "
            f"{'it does' if extra < most else 'it does not'}."]  # fmt: skip
    if given.has("worth"):
        worth = given.number("worth", 0.01)
        gain = (p1 - p0) * worth - extra
        amounts.insert(0, Amount("Gained a cutting", gain, "", money(gain)))
        amounts.append(
            Amount(
                "Gain that pays for it",
                100 * extra / worth,
                "points",
                f"{shown(100 * extra / worth)} points",
            )
        )
        says.append(
            f"With every extra plant sold: ({p1:.2f} − {p0:.2f}) × {money(worth)} − {money(extra)} = {money(gain)} a cutting."
        )
        if n0:
            from racecard.core.stats.proportions import (
                newcombe,
            )  # late: most sums need no statistics

            gap = newcombe(h1, n1, h0, n0)
            g_low, g_high = gap.low or 0.0, gap.high or 0.0  # always there for counts
            p = _fisher(h1, n1, h0, n0)
            low, high = g_low * worth - extra, g_high * worth - extra
            says.append(
                f"The gap is {100 * (p1 - p0):.0f} points, 95 % from {100 * g_low:.1f} to {100 * g_high:.1f} (p = {p:.3f}): the results fit a gain of {money(low)} and {money(high)}."
            )
            amounts += [
                Amount("Gap, from", g_low, "", f"{100 * g_low:.1f} points"),
                Amount("Gap, to", g_high, "", f"{100 * g_high:.1f} points"),
                Amount("p", p, "", f"{p:.3f}"),
            ]
            if gain > 0 and low < 0:
                flags.append(note("good_bet", "It probably pays, but that is not proven."))
    return Answer(tuple(amounts), tuple(says), tuple(flags))


def _stem(given: Inputs) -> Answer:
    per, share = given.number("per_stem", 0.01, 1000), given.percent("share") / 100
    plants = per * share
    amounts = [Amount("Plants a mother stem", plants, "", shown(plants))]
    says = [f"{shown(per)} cuttings × {100 * share:.0f} % = {shown(plants)} plants from one stem."]
    if given.has("stem_cost"):
        cost = given.number("stem_cost") / plants
        amounts.append(Amount("Stock a plant", cost, "", money(cost)))
        says.append(
            f"{given.text('stem_cost')} ÷ {shown(plants)} = {money(cost)} of stock a plant."
        )
    if given.has("other_per") and given.has("other_share"):
        other = given.number("other_per", 0.01, 1000) * given.percent("other_share") / 100
        amounts.append(Amount("The other way", other, "", f"{shown(other)} plants a stem"))
        better = (
            "This way gives more plants from a stem"
            if plants > other
            else "The other way gives more plants from a stem"
        )
        says.append(
            f"{better}, {shown(max(plants, other))} against {shown(min(plants, other))}, even though the strike rates alone say otherwise."
        )
    return Answer(tuple(amounts), tuple(says))


SUMS = (
    Calculation("each", Category.COSTS, "Cost of a cutting or pot", "Material with shipping, labour, medium, treatment.", (
        SumField("pack", "Pack price", "18"), SumField("shipping", "Shipping and tax", "6", optional=True), SumField("usable", "Usable in the pack", "40"),
        SumField("minutes", "Minutes each", "4.5", optional=True), SumField("hourly", "Hourly rate", "18", optional=True),
        SumField("bag", "Bag of medium", "24", optional=True), SumField("carriage", "Its carriage", "7.50", optional=True), SumField("bag_l", "Litres in the bag", "50", optional=True),
        SumField("pot", "Medium each", "350 mL", optional=True), SumField("batch", "Batch of dip", "2.10", optional=True), SumField("dipped", "Cuttings really dipped", "200", optional=True)), _each),
    Calculation("pays", Category.COSTS, "Does the treatment pay?", "Cost of a struck plant, and the gain that pays for it.", (
        SumField("cost", "Cost of a cutting", "0.60"), SumField("extra", "Treatment, extra", "0.12"), SumField("worth", "Worth of a success", "3.50", optional=True),
        SumField("control", "Untreated strikes, %", "55 %", optional=True), SumField("treated", "Treated strikes, %", "75 %", optional=True),
        SumField("hits_control", "Or counted: untreated struck", optional=True), SumField("n_control", "of", optional=True),
        SumField("hits_treated", "treated struck", optional=True), SumField("n_treated", "of", optional=True)), _pays),
    Calculation("stem", Category.COSTS, "Plants from a mother stem", "When a stem is what is scarce.", (
        SumField("per_stem", "Cuttings a stem gives", "4"), SumField("share", "Strike, %", "50 %"), SumField("stem_cost", "Cost of a stem", optional=True),
        SumField("other_per", "The other way gives", "1", optional=True), SumField("other_share", "and strikes, %", "80 %", optional=True)), _stem),
)  # fmt: skip
