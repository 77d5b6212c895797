"""What holds for every reading of counts that were given in bounds, in words."""

from collections.abc import Mapping

from racecard.core.assess.grade import CALLED, GRADE_WORDS, Grade
from racecard.core.log.goal import done
from racecard.core.model import Plan
from racecard.core.text.amounts import joined, whole_percent
from racecard.core.text.narrator import Answer

Rates = Mapping[str, tuple[float, float]]


def range_of(low: float, high: float) -> str:
    """A share between two: "17 to 33 %".

    Args:
        low: the least, a fraction.
        high: the most, a fraction.
    """
    return (
        f"{whole_percent(low)} %"
        if low == high
        else f"{whole_percent(low)} to {whole_percent(high)} %"
    )


def ranged_answer(plan: Plan, rates: Rates, grades: Mapping[str, Grade | None]) -> Answer:
    """The card of a table whose counts leave more than one reading: no single number stands for a range.

    Args:
        plan: the plan the table amounts to.
        rates: lowest and highest share by treatment, in [0, 1].
        grades: grade that holds for every reading; None where none does.
    """
    told = joined([f"{range_of(*rates[n])} {done(plan)} with {n}" for n in list(rates)[:4]])
    called = {n: g for n, g in grades.items() if g in CALLED}
    step = "count them again, if they still stand"
    if plan.control is None:
        happened, step = (
            f"No verdict: no control is named, and some counts are not exact. {told}.",
            f"{step}, and name the control",
        )
        chip = "no control"
    elif called:
        said = joined([f"{n} is {GRADE_WORDS[g]}" for n, g in called.items()])
        happened, chip = (
            f"{said}, for every count that is possible: {told}.",
            GRADE_WORDS[next(iter(called.values()))],
        )
    else:
        happened, chip = (
            f"No clear result for every count that is possible: {told}.",
            GRADE_WORDS[Grade.TOO_CLOSE],
        )
    return Answer("in_bounds", chip, happened, "", "some counts are not exact", step, happened)


def ranges_say(rates: Rates, grades: Mapping[str, Grade | None]) -> list[str]:
    """Sentences on rates and on the grades that hold for all of them.

    Args:
        rates: lowest and highest share by treatment, in [0, 1].
        grades: grade that holds for every reading; None where none does.
    """
    out = [f"{name}: {range_of(low, high)}." for name, (low, high) in rates.items() if low < high]
    out.append(
        "Some counts are given in bounds, so the result is told only as far as it holds for every reading."
    )
    out += [
        f"{name}: {GRADE_WORDS[grade]}, for every count that is possible."
        for name, grade in grades.items()
    ]
    out.append("The numbers shown are those of the reading in which the treatments differ least.")
    return out
