"""Heat and light: temperatures, degree-days, days expected, own base temperature, air, light.

References:
    [1] Baskerville GL, Emin P (1969) Ecology 50:514-517: single sine.
    [2] Allen RG and others (1998) FAO Irrigation and Drainage Paper 56: vapour pressure.
    [3] Garcia-Huidobro J and others (1982) J. Exp. Bot. 33:288-296: thermal time.
    [4] Thimijan RW, Heins RD (1983) HortScience 18:818-822: lux to photons.
"""

import re
from collections.abc import Sequence
from math import asin, cos, exp, isfinite, log, pi

from racecard.core.prepare.cards import (
    Amount,
    Answer,
    Calculation,
    Category,
    Flag,
    SumField,
    note,
    warn,
)
from racecard.core.prepare.cautions import cautions_in
from racecard.core.prepare.inputs import Inputs
from racecard.core.prepare.published import AT_CELSIUS, DAYS, HEAT_SUMS, NEVER
from racecard.core.quantities import Dimension, read_number, shown
from racecard.errors import InvalidInput

_VALID_TO = 25.0
_BAND = 0.4
_LAMPS = {
    "sun": ("sunlight", 54.0),
    "sodium": ("high-pressure sodium", 82.0),
    "fluorescent": ("cool-white fluorescent", 74.0),
    "led": ("white LED, 60 to 75", 67.0),
}


def saturation_kpa(celsius: float) -> float:
    """Saturation vapour pressure, kPa [2].

    Args:
        celsius: air temperature, °C.
    """
    return 0.6108 * exp(17.27 * celsius / (celsius + 237.3))


def degree_days_mean(high: float, low: float, base: float) -> float:
    """Degree-days of a day by its mean, never below 0.

    Args:
        high: highest temperature of the day, °C.
        low: lowest, °C.
        base: base temperature, °C.
    """
    return max(0.0, (high + low) / 2 - base)


def degree_days_sine(high: float, low: float, base: float) -> float:
    """Degree-days of a day by a single sine [1].

    Args:
        high: highest temperature of the day, °C.
        low: lowest, °C.
        base: base temperature, °C.
    """
    mean, swing = (high + low) / 2, (high - low) / 2
    if low >= base:
        return mean - base
    if high <= base:
        return 0.0
    a = asin((base - mean) / swing)
    return ((mean - base) * (pi / 2 - a) + swing * cos(a)) / pi


def fit_base(celsius: Sequence[float], days: Sequence[float]) -> tuple[float, float, float]:
    """Base temperature °C, heat sum °C·d and R² from 1/days regressed on temperature.

    Args:
        celsius: temperatures of the lots, °C.
        days: days each lot took, above 0.

    Raises:
        InvalidInput: fewer than three different temperatures, or no rise with warmth.
    """
    if len(set(celsius)) < 3:
        raise InvalidInput("Give at least three different temperatures.", "/fields/counts")
    import numpy as np  # late: this one sum fits a line

    x, y = np.asarray(celsius, float), 1 / np.asarray(days, float)
    slope, cut = np.polyfit(x, y, 1)
    if slope <= 1e-12:
        raise InvalidInput(
            "They do not come up sooner when warmer: leave out what was too hot.", "/fields/counts"
        )
    left = float(((y - cut - slope * x) ** 2).sum() / ((y - y.mean()) ** 2).sum())
    return float(-cut / slope), float(1 / slope), 1 - left


def half_day(days: Sequence[float], counts: Sequence[float]) -> float:
    """Day by which half of all that came had come, by straight lines between counts.

    Args:
        days: days of the counts, rising.
        counts: how many had come by each, never falling.
    """
    total, so_far, last = sum(counts), 0.0, 0.0
    for day, n in zip(days, counts, strict=True):
        if so_far + n >= total / 2:
            return last + (day - last) * (total / 2 - so_far) / n
        so_far, last = so_far + n, day
    return last


def _turn(given: Inputs) -> Answer:
    found = given.quantity("value", Dimension.TEMPERATURE, bare="°C")
    c = given.measured(found, "value")
    if given.text("what") == "difference":
        factor = 1.8 if found.unit.name == "°C" else 1 / 1.8
        other = "°F" if found.unit.name == "°C" else "°C"
        value = found.value * factor
        sign = "×" if factor > 1 else "÷"
        amounts: tuple[Amount, ...] = (
            Amount("As a difference", value, other, f"{shown(value)} {other}"),
        )
        says = (
            f"{shown(found.value)} {found.unit.name} {sign} 1.8 = {shown(value)} {other}: a difference, or degree-days, has no 32 in it.",
        )
        return Answer(amounts, says)
    f = c * 1.8 + 32
    amounts = (
        Amount("Celsius", c, "°C", f"{shown(c)} °C"),
        Amount("Fahrenheit", f, "°F", f"{shown(f)} °F"),
    )
    return Answer(amounts, (f"({shown(f)} − 32) ÷ 1.8 = {shown(c)} °C.",), tuple(_warm(given, c)))


def _warm(given: Inputs, celsius: float) -> list[Flag]:
    most = given.default("medium_warm")
    return (
        [note("warm_base", f"As a medium, above {shown(most)} °C harms bases.")]
        if most < celsius < 50
        else []
    )


def _degree_days(given: Inputs) -> Answer:
    high, low, base = given.celsius("high"), given.celsius("low"), given.celsius("base")
    if high < low:
        raise InvalidInput("The highest lies below the lowest: turn them round.", "/fields/high")
    mean, sine = degree_days_mean(high, low, base), degree_days_sine(high, low, base)
    amounts = (
        Amount("By sine", sine, "°C·d", f"{shown(sine)} °C·d"),
        Amount("By the mean", mean, "°C·d", f"{shown(mean)} °C·d"),
    )
    says = [
        f"Mean: max(0, ({shown(high)} + {shown(low)}) ÷ 2 − {shown(base)}) = {shown(mean)}; the sine counts the warm hours of a day whose mean is cold: {shown(sine)}."
    ]
    flags = (
        (note("near_base", "Near the base the two differ: use the sine."),)
        if abs(sine - mean) > 0.1
        else ()
    )
    return Answer(
        amounts,
        tuple(says),
        flags,
        (),
        ("Single sine: Baskerville and Emin (1969), Ecology 50:514–517.",),
    )


def published_days(crop: str, celsius: float) -> float | None:
    """Days of the 1954 table at a temperature: rates between columns by straight lines [3].

    None where nothing is published beside it; infinity where it says none came up.

    Args:
        crop: name of the crop in the table.
        celsius: soil temperature, °C.
    """
    row = DAYS.get(crop)
    if row is None or not 0 <= celsius <= 40:
        return None
    i = min(int(celsius // 5), len(AT_CELSIUS) - 2)
    share = (celsius - AT_CELSIUS[i]) / 5
    ends = [(row[i], 1 - share), (row[i + 1], share)]
    rate = 0.0
    for value, weight in ends:
        if weight == 0:
            continue
        if value is None:
            return None
        rate += weight * (0.0 if value == NEVER else 1 / value)
    return 1 / rate if rate > 0 else float("inf")


def heat_sum_days(crop: str, celsius: float) -> float | None:
    """Days by the 1974 heat sums; None where not given, or warmer than they hold.

    Args:
        crop: name of the crop in the table.
        celsius: soil temperature, °C.
    """
    if crop not in HEAT_SUMS or celsius > _VALID_TO:
        return None
    base, total = HEAT_SUMS[crop]
    return total / (celsius - base) if celsius > base else float("inf")


def _expected(given: Inputs) -> Answer:
    crop = given.choice("crop", _CROPS)
    c = given.celsius("warmth")
    sums, table = heat_sum_days(crop, c), published_days(crop, c)
    found = [d for d in (sums, table) if d is not None]
    if not found:
        raise InvalidInput(
            f"Neither source tells of {crop} at {shown(c)} °C: use your own counts.",
            "/fields/warmth",
        )
    if not all(isfinite(d) for d in found):
        return Answer(
            (),
            (f"At {shown(c)} °C {crop} is not expected to come up.",),
            (warn("too_cold", f"{shown(c)} °C is beyond the range of {crop}."),),
            (),
            _BOTH,
        )
    low, high = (
        (min(found), max(found))
        if len(found) == 2
        else (found[0] * (1 - _BAND), found[0] * (1 + _BAND))
    )
    amounts = [
        Amount("From", low, "d", f"{shown(round(low, 1))} days"),
        Amount("To", high, "d", f"{shown(round(high, 1))} days"),
    ]
    says = []
    if sums is not None:
        base, total = HEAT_SUMS[crop]
        amounts.append(Amount("By heat sums", sums, "d", f"{sums:.1f} days"))
        says.append(f"Heat sums: {total} ÷ ({shown(c)} − {shown(base)}) = {sums:.1f} days.")
    if table is not None:
        amounts.append(Amount("By the table of days", table, "d", f"{table:.1f} days"))
        says.append(f"Table of days: {table:.1f} days at {shown(c)} °C.")
    flags = []
    if len(found) == 1:
        says.append("One source only: the band is that figure with 40 % to either side.")
    elif high / low > 1.4:
        flags.append(
            note(
                "sources_differ",
                "The two sources disagree here, and count different things: your own counts are worth more than either.",
            )
        )
    if sums is not None and crop in HEAT_SUMS and c < HEAT_SUMS[crop][0] + 2:
        flags.append(
            warn("near_base", "So near the base a small error in it makes a large one in days.")
        )
    return Answer(tuple(amounts), tuple(says), tuple(flags), (), _BOTH)


_BOTH = (
    "Bierhuizen and Wagenvoort (1974), Sci. Hortic. 2:213–219, and Harrington and Minges (1954): both recalled, and shape rather than promise.",
)


def _own(given: Inputs) -> Answer:
    celsius, days = [], []
    for line in re.split(r"[\n;]", given.text("counts")):
        if not line.strip():
            continue
        warmth, _, rest = line.partition(":")
        try:
            celsius.append(read_number(warmth.replace("°C", "")))
            pairs = [p.split("=") for p in rest.split(",")] if "=" in rest else []
            days.append(
                half_day([read_number(a) for a, _ in pairs], [read_number(b) for _, b in pairs])
                if pairs
                else read_number(rest)
            )
        except (InvalidInput, ValueError, ZeroDivisionError) as exc:
            raise InvalidInput(
                f"“{line.strip()[:40]}” is not understood: write 15: 9.7, or 15: 4=3, 6=20, 8=12 (day = how many came).",
                "/fields/counts",
            ) from exc
        if days[-1] <= 0:
            raise InvalidInput(f"“{line.strip()[:40]}”: days must be above 0.", "/fields/counts")
    base, total, r2 = fit_base(celsius, days)
    shown_base = max(0.0, base)
    amounts = [
        Amount("Base temperature", base, "°C", f"{shown_base:.1f} °C"),
        Amount("Heat sum", total, "°C·d", f"{total:.0f} °C·d"),
        Amount("R²", r2, "", f"{r2:.3f}"),
    ]
    says = [f"1 ÷ days rises by 1 ÷ {total:.0f} for each °C, and reaches nothing at {base:.1f} °C."]
    flags: list[Flag] = []
    if base < 0:
        flags.append(
            note(
                "base_floored",
                f"The line meets nothing at {base:.1f} °C, beyond what was tried: taken as 0 °C.",
            )
        )
    if r2 < 0.9:
        flags.append(
            warn(
                "poor_fit",
                "The points do not lie on a line: leave out what was too hot, or look for a slip.",
            )
        )
    if given.has("warmth") and (c := given.celsius("warmth")) > shown_base:
        amounts.append(
            Amount(
                "Days expected",
                total / (c - base),
                "d",
                f"{total / (c - base):.1f} days at {shown(c)} °C",
            )
        )
    return Answer(
        tuple(amounts),
        tuple(says),
        tuple(flags),
        (),
        ("1/days on temperature: Garcia-Huidobro and others (1982), J. Exp. Bot. 33:288–296.",),
    )


def _thermal(given: Inputs) -> Answer:
    base, total = given.celsius("base"), given.number("sum", 0.1, 5000)
    try:
        daily = [read_number(x) for x in re.split(r"[,;\s]+", given.text("daily")) if x]
    except InvalidInput as exc:
        raise InvalidInput(
            f"{exc.detail[:-1]}: write the mean of each day, such as 8, 10, 6.", "/fields/daily"
        ) from exc
    if not daily or any(not -60 <= c <= 60 for c in daily):
        raise InvalidInput("Write the mean of each day in °C, such as 8, 10, 6.", "/fields/daily")
    so_far, run, reached = 0.0, [], None
    for day, celsius in enumerate(daily, 1):
        so_far += max(0.0, celsius - base)
        run.append(shown(round(so_far, 2)))
        if reached is None and so_far >= total:
            reached = day
    says = (
        f"Summed day by day above {shown(base)} °C: {', '.join(run)}.",
        "It is the time of half of them, not of all; above the best warmth it does not hold.",
    )
    if reached is None:
        return Answer(
            (Amount("Still wanting", total - so_far, "°C·d", f"{shown(total - so_far)} °C·d"),),
            says,
        )
    return Answer(
        (Amount("Reached on day", reached, "d", f"day {reached}"),),
        says,
        (),
        (),
        ("Thermal time: Garcia-Huidobro and others (1982).",),
    )


def _q10(given: Inputs) -> Answer:
    one, other = given.celsius("warmth_one"), given.celsius("warmth_other")
    a, b = given.number("rate_one", 1e-6), given.number("rate_other", 1e-6)
    if one == other:
        raise InvalidInput("Two different temperatures are needed.", "/fields/warmth_other")
    q = (b / a) ** (10 / (other - one))
    return Answer((Amount("For 10 °C more", q, "×", f"{shown(q)} times as fast"),), (f"({shown(b)} ÷ {shown(a)})^(10 ÷ {shown(other - one)}) = {shown(q)}.",),
                  (note("q10", "It is not the same at every warmth: degree-days carry further."),))  # fmt: skip


def _vpd(given: Inputs) -> Answer:
    air, rh = given.celsius("air"), given.percent("humidity")
    actual = saturation_kpa(air) * rh / 100
    dry = saturation_kpa(air) - actual
    dew = 237.3 * log(actual / 0.6108) / (17.27 - log(actual / 0.6108))
    amounts = [Amount("Air", dry, "kPa", f"{dry:.2f} kPa")]
    says = [
        f"{saturation_kpa(air):.3f} kPa × (1 − {shown(rh)} %) = {dry:.2f} kPa; dew forms at {dew:.1f} °C."
    ]
    worst = dry
    if given.has("leaf"):
        leaf = given.celsius("leaf")
        worst = max(0.0, saturation_kpa(leaf) - actual)
        amounts.append(Amount("Leaf", worst, "kPa", f"{worst:.3f} kPa"))
        says.append(
            f"Leaf at {shown(leaf)} °C: {saturation_kpa(leaf):.3f} − {actual:.3f} = {worst:.3f} kPa. A wet leaf is cooler, so the air's figure overstates its thirst."
        )
    most = given.default("vpd_unrooted")
    flags: tuple[Flag, ...] = (
        (
            warn(
                "dry_air",
                f"Above {shown(most)} kPa unrooted cuttings lose more than they can take up: mist, cover or shade.",
            ),
        )
        if worst > most
        else ()
    )
    if given.has("leaf") and worst == 0:
        flags = (note("dew", "The leaf is at or below the dew point: water settles on it."),)
    return Answer(
        tuple(amounts),
        tuple(says),
        flags,
        (),
        ("FAO Irrigation and Drainage Paper 56 (1998), equation 11.",),
    )


def _light(given: Inputs) -> Answer:
    hours = given.hours("hours")
    if hours > 24:
        raise InvalidInput("A day has 24 hours.", "/fields/hours")
    if given.has("dli"):
        dli = given.number("dli", 0.01, 100)
        ppfd = dli / (hours * 0.0036)
        return Answer(
            (Amount("Light wanted", ppfd, "µmol", f"{shown(ppfd)} µmol m⁻² s⁻¹"),),
            (f"{shown(dli)} ÷ ({shown(hours)} × 0.0036) = {shown(ppfd)}.",),
            (),
            cautions_in("grow light lamp"),
        )
    says = []
    if given.has("lux"):
        name, per = _LAMPS[given.choice("lamp", tuple((k, v[0]) for k, v in _LAMPS.items()))]
        ppfd = given.number("lux", 1, 300_000) / per
        says.append(
            f"{given.text('lux')} lux of {name} ÷ {shown(per)} = {shown(ppfd)} µmol m⁻² s⁻¹."
        )
    else:
        ppfd = given.number("ppfd", 0.1, 3000)
    dli = ppfd * hours * 0.0036
    says.append(f"{shown(ppfd)} × {shown(hours)} h × 0.0036 = {shown(dli)} mol m⁻² d⁻¹.")
    amounts = (
        Amount("Light in a day", dli, "mol", f"{shown(dli)} mol m⁻² d⁻¹"),
        Amount("Photons", ppfd, "µmol", f"{shown(ppfd)} µmol m⁻² s⁻¹"),
    )
    return Answer(
        amounts,
        tuple(says),
        (),
        cautions_in("grow light lamp"),
        ("Lux by lamp: Thimijan and Heins (1983), HortScience 18:818–822; LED common practice.",),
    )


_CROPS = tuple((c, c) for c in sorted({*HEAT_SUMS, *DAYS}, key=str.lower))
SUMS = (
    Calculation("degrees", Category.HEAT, "°C and °F", "A temperature, or a difference, which has no 32 in it.", (
        SumField("value", "Temperature", "70 °F"), SumField("what", "It is", "", (("", "a temperature"), ("difference", "a difference or degree-days")), optional=True)), _turn),
    Calculation("degree_days", Category.HEAT, "Degree-days", "Of a day, by its mean and by a sine.", (SumField("high", "Highest", "20 °C"), SumField("low", "Lowest", "4 °C"), SumField("base", "Base", "10 °C")), _degree_days),
    Calculation("days", Category.HEAT, "Days to emergence", "A band from two published sources.", (SumField("crop", "Crop", "beet", _CROPS), SumField("warmth", "Soil at", "15 °C")), _expected),
    Calculation("base", Category.HEAT, "Base temperature from your counts", "Fitted from your own counts.", (
        SumField("counts", "°C: days (or day = how many)", "10: 16.7; 15: 9.7; 20: 6.2; 25: 5.0"), SumField("warmth", "Expect at", optional=True)), _own),
    Calculation("thermal", Category.HEAT, "When is the heat sum reached?", "Day by day, at changing warmth.", (
        SumField("base", "Base", "1 °C"), SumField("sum", "Heat sum, °C·d", "30"), SumField("daily", "Mean of each day, °C", "8, 10, 6, 0.5, 12, 9")), _thermal),
    Calculation("q10", Category.HEAT, "How much faster when warmer?", "Q10 of two rates.", (
        SumField("rate_one", "Rate", "0.10"), SumField("warmth_one", "at", "12 °C"), SumField("rate_other", "Rate", "0.22"), SumField("warmth_other", "at", "21 °C")), _q10),
    Calculation("vpd", Category.HEAT, "How dry is the air?", "Vapour pressure deficit of air and leaf.", (
        SumField("air", "Air", "21 °C"), SumField("humidity", "Humidity, %", "70 %"), SumField("leaf", "Leaf", optional=True)), _vpd),
    Calculation("light", Category.HEAT, "Light in a day", "From photons or lux, or the lamp a day's light needs.", (
        SumField("hours", "Hours lit", "14 h"), SumField("ppfd", "Photons, µmol m⁻² s⁻¹", "180", optional=True), SumField("lux", "Or lux", optional=True),
        SumField("lamp", "Of", "", (("sun", "sunlight"), ("sodium", "high-pressure sodium"), ("fluorescent", "cool-white fluorescent"), ("led", "white LED")), optional=True),
        SumField("dli", "Or: wanted in a day, mol", optional=True)), _light),
)  # fmt: skip
