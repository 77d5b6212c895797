"""Seeds: how many to sow, soaks, hot water, cold, coats, and a home test of a lot.

References:
    [1] International Rules for Seed Testing (ISTA), Table 5B part 1 (Miles 1963), recalled.
    [2] Harrington JF (1972) Seed storage and longevity; valid 5-14 % moisture, 0-50 °C; recalled.
    [3] Extension-service tables of hot-water treatment of vegetable seed, recalled.
"""

from collections.abc import Iterator
from datetime import timedelta
from math import ceil, floor

from racecard.core.plan.seeds import (
    chance_of_any,
    chance_of_plant,
    seeds_on_average,
    seeds_to_be_sure,
)
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
from racecard.core.prepare.cautions import cautions_in
from racecard.core.prepare.inputs import Inputs
from racecard.core.quantities import read_number, shown
from racecard.core.stats.proportions import wilson_limits, z_for
from racecard.errors import InvalidInput

_GROUPS = {
    "small": ("small, thin-coated", 2, 4),
    "legume": ("pea, bean and other large legumes", 6, 12),
    "corky": ("beet, parsley, okra, sweet pea", 12, 24),
    "sunflower": ("sunflower", 6, 12),
    "hard": ("hard coats, nicked first", 24, 24),
    "large": ("large, palm-like", 48, 72),
}
"""Kinds of seed by how long they are soaked, hours from and to (common practice)."""
_HOT = {
    "cabbage": (50.0, 25), "Brussels sprout": (50.0, 25), "spinach": (50.0, 25), "aubergine": (50.0, 25),
    "broccoli": (50.0, 20), "cauliflower": (50.0, 20), "carrot": (50.0, 20), "kale": (50.0, 20), "kohlrabi": (50.0, 20),
    "turnip": (50.0, 20), "radish": (50.0, 15), "mustard": (50.0, 15), "cress": (50.0, 15), "lettuce": (47.8, 30), "celery": (47.8, 30),
}  # fmt: skip
"""Hot water against seed-borne disease: °C and minutes [3]."""
_NOT_HOT = ("pea", "bean", "sweet corn", "cucumber", "melon", "squash")
_HOT_SOAK_C, _SCALD_C = 45.0, 60.0
_HELD_MINUTES, _WARM_MINUTES = 5.0, 30.0
"""Above the first temperature a soak is a heat treatment; the most minutes it is kept there, at
60 °C and more and below that (common practice)."""
_COLD = {
    "perennial": ("herbaceous perennials", 21, 60), "apple": ("apple and its like", 60, 90), "oak": ("oak and its like", 30, 90),
    "pine": ("pine", 0, 60), "other": ("others", 30, 120),
}  # fmt: skip
_RANGES = (
    (2, 5), (3, 6), (4, 7), (5, 8), (6, 9), (8, 10), (10, 11), (12, 12), (14, 13), (17, 14), (20, 15),
    (23, 16), (28, 17), (34, 18), (45, 19), (50, 20),
)  # fmt: skip


def greatest_range(mean_percent: float) -> int | None:
    """Greatest range in points allowed among 4 x 100 seeds of a mean, at the 2.5 % level [1].

    The mean is rounded half up, and the table is symmetric about 50.5; None outside 2 to 99.

    Args:
        mean_percent: mean germination of the four, %.
    """
    mean = floor(mean_percent + 0.5)
    low = min(mean, 101 - mean)
    return next((most for top, most in _RANGES if low <= top), None) if low >= 2 else None


def _needed(given: Inputs) -> Answer:
    wanted = given.whole("wanted", 1, 100_000)
    g = given.large_share("germination") / 100
    e = given.large_share("emergence") / 100 if given.has("emergence") else 1.0
    s = given.large_share("survival") / 100 if given.has("survival") else 1.0
    over = given.number("over", 0, 200) / 100 if given.has("over") else 0.0
    p = chance_of_plant(g, e, s)
    mean = seeds_on_average(wanted, p, over)
    sure = seeds_to_be_sure(ceil(wanted * (1 + over) - 1e-9), p)
    amounts = (Amount("On average", mean, "", f"{mean} seeds"), Amount("To be 95 % sure", sure, "", f"{sure} seeds"),
               Amount("Chance a seed becomes a plant", 100 * p, "%", f"{shown(100 * p)} %"))  # fmt: skip
    says = [f"{wanted}{f' × {1 + over:.2f}' if over else ''} ÷ ({g:.2f} × {e:.2f} × {s:.2f}) = {mean}; "
            f"{sure} makes {wanted}{f' and {100 * over:g} % over' if over else ''} or more 19 times in 20, by binomial counting."]  # fmt: skip
    flags = list(_label_age(given))
    if not given.has("emergence"):
        flags.append(
            note(
                "emergence",
                "Label germination is a laboratory value: in the tray fewer emerge. Give what emerged of a lot of known germination.",
            )
        )
    return Answer(amounts, tuple(says), tuple(flags), (), ("Binomial counting.",))


def _label_age(given: Inputs) -> Iterator[Flag]:
    if not (given.has("tested") and given.has("today")):
        return
    months = (given.day("today") - given.day("tested")).days / 30.44
    if months > given.default("label_months"):
        yield warn(
            "label_old",
            f"That germination was tested {months:.0f} months ago: test the seed batch again before you rely on it.",
        )


def _cell(given: Inputs) -> Answer:
    p, want = given.large_share("chance") / 100, given.large_share("sure") / 100
    k = 1
    while chance_of_any(p, k) < want and k < 1000:
        k += 1
    shares = [(n, chance_of_any(p, n)) for n in range(1, max(k, 4) + 1)][:8]
    amounts = (
        Amount("Seeds a cell", k, "", f"{k}"),
        *(
            Amount(
                f"With {n} a cell", 100 * c, "%", f"{shown(100 * c)} % of cells have one or more"
            )
            for n, c in shares
        ),
    )
    says = (f"1 − (1 − {p:.2f})^{k} = {chance_of_any(p, k):.3f}.",)
    flags = (
        (
            note(
                "thinning",
                "Thinning to the strongest makes the survivors a chosen lot: keep all sown in the count, and log the thinning.",
            ),
        )
        if k > 1
        else ()
    )
    return Answer(amounts, says, flags)


def _soak(given: Inputs) -> Answer:
    groups = tuple((k, v[0]) for k, v in _GROUPS.items())
    hours = given.hours("hours")
    water = given.celsius("water") if given.has("water") else 20.0
    if not 0 <= water <= 100:
        raise InvalidInput(
            f"Water of {shown(water)} °C is ice or steam: give 0 to 100 °C.", "/fields/water"
        )
    if water >= _HOT_SOAK_C:
        return _hot_soak(given, hours, water)
    if given.has("group"):
        group = given.choice("group", groups)
    else:
        group = given.ask("seed_group", "What kind of seed is soaked?", groups)
    name, low, high = _GROUPS[group]
    flags: list[Flag] = []
    legume = group == "legume"
    if legume and hours > given.default("soak_legume_refuse"):
        flags.append(
            refuse(
                "soak_legume_refused",
                f"{shown(hours)} h drowns peas and beans: soak 8 h at most, or lay them in damp paper.",
            )
        )
    elif legume and hours > given.default("soak_legume_warn"):
        flags.append(
            warn(
                "soak_legume_long",
                f"{shown(hours)} h harms large legumes: they leak and crack. 8 h or less is best.",
            )
        )
    elif hours > given.default("soak_seed_warn"):
        flags.append(
            warn(
                "soak_long",
                f"Beyond {shown(given.default('soak_seed_warn'))} h seeds want air: change the water every 12 h, or bubble it.",
            )
        )
    if legume and water < 20:
        flags.append(
            warn(
                "cold_soak",
                "Dry legumes in cold water are chilled as they drink: soak at 20 °C or more, or lay them damp overnight first.",
            )
        )
    if not low <= hours <= high:
        flags.append(
            note(
                "outside_range",
                f"{shown(hours)} h is outside the usual {low} to {high} h for {name}.",
            )
        )
    says = (f"{name[0].upper()}{name[1:]}: usually {low} to {high} h at 18 to 22 °C, in 5 to 10 times the seed's volume of clean water.",
            "A soak is a treatment: its control is sown dry on the same day, and soaks are started so that all are sown together.",
            "A ladder worth trying: 0, 2, 6, 12, 24, 48, 72 h (for legumes stop at 24).")  # fmt: skip
    return Answer(
        (Amount("Soak", hours, "h", f"{shown(hours)} h"),),
        says,
        tuple(flags),
        (),
        (
            "Soaking times: common practice; Harris and others 1999, Exp. Agric. 35:15–29, recalled.",
        ),
    )


def _hot_soak(given: Inputs, hours: float, water: float) -> Answer:
    """Water that scalds: poured on to open a hard coat, or kept hot for minutes (FACTS of the trade)."""
    hot = shown(water)
    way = given.ask(
        "hot_soak", f"Water at {hot} °C: poured on once, or kept that hot?",
        (("cools", "poured on, off the heat, and left to cool"), ("held", f"kept at {hot} °C all the time")),
    )  # fmt: skip
    flags = [warn("hot_coat", "Only seed with a hard, dry coat bears this: try 20 seeds first.")]
    made = [Amount("Soak", hours, "h", f"{shown(hours)} h")]
    if way == "cools":
        says = (
            f"Pour 4 to 5 times the seed's volume of water at {hot} °C over it, off the heat, and leave it "
            "12 to 24 h to cool; sow what has swollen and repeat with the rest.",
            "Its control is poured over with cold water and left as long.",
        )
    else:
        minutes = hours * 60
        made = [Amount("Hot soak", minutes, "min", f"{shown(minutes)} min")]
        says = (
            f"Kept at {hot} °C for {shown(minutes)} min, then straight into cold water.",
            "Its control goes through cold water for as long.",
        )
        most = _HELD_MINUTES if water >= _SCALD_C else _WARM_MINUTES
        if minutes > most:
            flags.insert(
                0,
                refuse(
                    "hot_soak_kills",
                    f"{shown(minutes)} min at {hot} °C cooks seed: {most:g} min is the most at such heat.",
                ),
            )
    return Answer(
        tuple(made), says, tuple(flags), cautions_in("hot water"),
        ("Hot water for hard coats, 1 to 5 min at 90 °C or poured on and left to cool: common practice.",),
    )  # fmt: skip


def _hot(given: Inputs) -> Answer:
    crop = given.choice("crop", tuple((c, c) for c in (*_HOT, *_NOT_HOT)))
    if crop in _NOT_HOT:
        flag = refuse(
            "hot_water_kills",
            f"Hot water is not for {crop}, nor for old, primed or pelleted seed: it kills them.",
        )
        return Answer((), (f"No hot water for {crop}.",), (flag,), cautions_in("hot water"))
    celsius, minutes = _HOT[crop]
    amounts = (
        Amount("Water", celsius, "°C", f"{shown(celsius)} °C ({celsius * 1.8 + 32:.0f} °F)"),
        Amount("For", minutes, "min", f"{minutes} min"),
    )
    says = (
        "Warm 10 min at 38 °C, then stirred at the mark within half a degree; cool at once, dry.",
        "Test 50 to 100 seeds first. This cleans seed; it does not break a coat.",
    )
    return Answer(
        amounts,
        says,
        (),
        cautions_in("hot water"),
        ("Extension-service tables of long standing, recalled.",),
    )


def _scarify(given: Inputs) -> Answer:
    dry, wet = given.mass("dry"), given.mass("wet")
    gain = 100 * (wet / dry - 1)
    if gain < -5:
        raise InvalidInput("Soaked seed cannot weigh less than dry: check both.", "/fields/wet")
    if gain < 20:
        verdict = "They took up next to nothing: the coat is hard. Nick or sand beside the hilum, never over the embryo, or pour on hot water."
    elif gain > 50:
        verdict = "They drink freely: nicking would do nothing but harm."
    else:
        verdict = (
            "Some drink and some do not: sort the swollen from the hard, and nick the hard ones."
        )
    says = (f"({shown(wet)} ÷ {shown(dry)} − 1) = {shown(gain)} % gained in 24 h.", verdict,
            "Hot water for hard coats: 4 to 5 volumes at 80 to 100 °C, off the heat, left to cool 12 to 24 h; sow the swollen, repeat the hard.",
            "Strong acid is for laboratories.")  # fmt: skip
    return Answer((Amount("Water taken up", gain, "%", f"{shown(gain)} %"),), says, (), (*cautions_in("nick"), *cautions_in("hot water")),
                  ("Limits of 20 and 50 %: common practice.",))  # fmt: skip


def _stratify(given: Inputs) -> Answer:
    group = given.choice("group", tuple((k, v[0]) for k, v in _COLD.items()))
    name, low, high = _COLD[group]
    cold = given.hours("cold", "d") / 24
    warm = given.hours("warm", "d") / 24 if given.has("warm") else 0.0
    amounts = [Amount("Cold, moist", cold, "d", f"{shown(cold)} days at 1 to 5 °C")]
    says = [f"{name[0].upper()}{name[1:]}: usually {low} to {high} days. Count only days both moist and cold.",
            "Two controls: as many days moist and warm, and none at all."]  # fmt: skip
    flags: list[Flag] = []
    if warm:
        amounts.insert(0, Amount("Warm, moist", warm, "d", f"{shown(warm)} days at 15 to 25 °C"))
    if not low <= cold <= high:
        flags.append(
            note(
                "outside_range",
                f"{shown(cold)} days is outside the usual {low} to {high} for {name}.",
            )
        )
    if given.has("sow"):
        sow = given.day("sow")
        begin = sow - timedelta(days=round(cold + warm))
        amounts.append(Amount("Start on", 0, "", begin.isoformat()))
        if warm:
            amounts.append(
                Amount("Into the cold on", 0, "", (begin + timedelta(days=round(warm))).isoformat())
            )
        says.append(f"To sow on {sow.isoformat()}, start on {begin.isoformat()}.")
    return Answer(
        tuple(amounts), tuple(says), tuple(flags), (), ("Cold days by kind: handbooks, recalled.",)
    )


def _paper(given: Inputs) -> Answer:
    text = given.text("counts")
    try:
        counts = [int(read_number(x)) for x in text.replace(";", ",").split(",") if x.strip()]
    except InvalidInput as exc:
        raise InvalidInput(
            "Write what germinated of each roll, parted by commas, such as 17 or 22, 24, 21, 23.",
            "/fields/counts",
        ) from exc
    each = given.whole("each", 1, 10_000)
    if not counts or any(not 0 <= c <= each for c in counts):
        raise InvalidInput(f"Every count must be 0 to {each}.", "/fields/counts")
    n, hits = each * len(counts), sum(counts)
    least, most_likely = (100 * x for x in wilson_limits(hits / n, n, z_for(0.95)))
    percent = 100 * hits / n
    amounts = (Amount("Germination", percent, "%", f"{percent:.0f} %"), Amount("From", least, "%", f"{least:.0f} %"),
               Amount("To", most_likely, "%", f"{most_likely:.0f} %"))  # fmt: skip
    says = [
        f"{hits} of {n} came up: the results fit {least:.0f} to {most_likely:.0f} % (95 %, Wilson)."
    ]
    flags: list[Flag] = []
    if n < 100:
        flags.append(
            note(
                "few_seeds",
                f"{n} seeds tell little: 100, in ten tens, narrow it to about ±8 points.",
            )
        )
    if len(counts) == 4 and each == 100 and (most := greatest_range(percent)):
        spread = max(counts) - min(counts)
        if spread > most:
            flags.append(
                warn(
                    "rolls_differ",
                    f"The four hundreds differ by {spread}, more than the {most} that chance allows at {percent:.0f} %: test again.",
                )
            )
        else:
            says.append(
                f"The four hundreds differ by {spread}, within the {most} allowed: they may be averaged."
            )
    if given.has("label"):
        label = given.percent("label")
        if not least <= label <= most_likely:
            flags.append(
                warn(
                    "label_off",
                    f"The label's {shown(label)} % does not fit this test: sow by the test.",
                )
            )
    says.append("Damp, not wet; bagged with air; 20 to 25 °C; look daily from day 2.")
    return Answer(
        amounts,
        tuple(says),
        tuple(flags),
        (),
        ("Wilson (1927); ranges among 4 × 100: ISTA table 5B (Miles 1963), recalled.",),
    )


def _keeping(given: Inputs) -> Answer:
    moisture, celsius = given.percent("moisture", 30), given.celsius("warmth")
    base_m, base_t = given.percent("moisture_now", 30), given.celsius("warmth_now")
    if not (5 <= moisture <= 14 and 5 <= base_m <= 14):
        raise InvalidInput("The rule holds from 5 to 14 % seed moisture only.", "/fields/moisture")
    times = 2 ** (base_m - moisture) * 2 ** ((base_t - celsius) / 5)
    says = (
        f"2^({shown(base_m)} − {shown(moisture)}) × 2^(({shown(base_t)} − {shown(celsius)}) ÷ 5) = {shown(times)}: life doubles with 1 % less moisture and with 5 °C less warmth.",
    )
    return Answer(
        (Amount("Keeps", times, "×", f"{shown(times)} times as long"),),
        says,
        (),
        (),
        ("Harrington (1972), recalled; a rule of thumb.",),
    )


def _emerged(given: Inputs) -> Answer:
    came, germ = given.large_share("emerged"), given.large_share("germination")
    factor = came / germ
    if factor > 1:
        raise InvalidInput("More emerged than germinates: check both.", "/fields/emerged")
    return Answer(
        (Amount("Emergence factor", 100 * factor, "%", f"{factor:.3f} ({100 * factor:.1f} %)"),),
        (f"{shown(came)} ÷ {shown(germ)} = {factor:.3f}.",),
    )


_SEED_CHOICES = tuple((k, v[0]) for k, v in _GROUPS.items())
SUMS = (
    Calculation("seeds", Category.SEEDS, "Seeds to sow", "How many for the plants you want, on average and to be sure.", (
        SumField("wanted", "Plants wanted", "48"), SumField("germination", "Germination, %", "85 %"), SumField("emergence", "Of these emerge, %", optional=True),
        SumField("survival", "Of these live to plant, %", optional=True), SumField("over", "Overage, %", optional=True),
        SumField("tested", "Label tested on", optional=True, hint="2026-05-03"), SumField("today", "Today", optional=True, hint="2026-11-23")), _needed),
    Calculation("cell", Category.SEEDS, "Seeds a cell", "How many so that few cells stay empty.", (SumField("chance", "A seed comes up, %", "70 %"), SumField("sure", "Cells that must have one, %", "95 %")), _cell),
    Calculation("emerged", Category.SEEDS, "Emergence factor", "What emerges of what germinates.", (SumField("emerged", "Emerged, %", "72 %"), SumField("germination", "Germination, %", "85 %")), _emerged),
    Calculation("soak", Category.SEEDS, "A soak", "How long, and when it drowns them.", (
        SumField("group", "Kind of seed", "corky", _SEED_CHOICES), SumField("hours", "Soak", "12 h"), SumField("water", "Water at", optional=True, hint="20 °C")), _soak),
    Calculation("hot", Category.SEEDS, "Hot water against disease", "Degrees and minutes by crop, or not at all.", (SumField("crop", "Crop", "carrot", tuple((c, c) for c in (*_HOT, *_NOT_HOT))),), _hot),
    Calculation("scarify", Category.SEEDS, "Test for a hard coat", "Weigh, soak 24 h, weigh again.", (SumField("dry", "Dry seed", "10 g"), SumField("wet", "After 24 h", "11 g")), _scarify),
    Calculation("stratify", Category.SEEDS, "Cold and warm treatment", "Days, and the date to start on.", (
        SumField("group", "Kind", "perennial", tuple((k, v[0]) for k, v in _COLD.items())), SumField("cold", "Cold, days", "42 d"), SumField("warm", "Warm first, days", optional=True),
        SumField("sow", "To be sown on", optional=True, hint="2026-05-03")), _stratify),
    Calculation("paper", Category.SEEDS, "Paper-towel test of a lot", "What a small test can say of a lot.", (
        SumField("counts", "Germinated, roll by roll", "17"), SumField("each", "Seeds a roll", "20"), SumField("label", "Label says, %", optional=True)), _paper),
    Calculation("keeping", Category.SEEDS, "How long seed keeps", "What drier and cooler does for its life.", (
        SumField("moisture", "Seed moisture, %", "10 %"), SumField("warmth", "Kept at", "10 °C"), SumField("moisture_now", "Against moisture of, %", "14 %"), SumField("warmth_now", "and", "25 °C")), _keeping),
)  # fmt: skip
