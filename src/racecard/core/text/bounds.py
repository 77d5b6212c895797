"""What holds for every reading of counts that were given in bounds, in words."""

from collections.abc import Mapping

from racecard.core.assess.grade import GRADE_WORDS, Grade
from racecard.core.text.verdicts import whole_percent


def ranges_say(
    rates: Mapping[str, tuple[float, float]], grades: Mapping[str, Grade | None]
) -> list[str]:
    """Sentences on rates, shares as (low, high) by treatment, and on the grades that hold for all of them.

    Args:
        rates: lowest and highest share by treatment, in [0, 1].
        grades: grade that holds for every reading; None where none does.
    """
    out = [
        f"{name}: {whole_percent(low)} to {whole_percent(high)} %."
        for name, (low, high) in rates.items()
        if low < high
    ]
    out.append(
        "Some counts are given in bounds, so the result is told only as far as it holds for every reading."
    )
    out += [
        f"{name}: {GRADE_WORDS[grade]}, for every count that is possible."
        for name, grade in grades.items()
    ]
    out.append("The numbers shown are those of the reading in which the treatments differ least.")
    return out
