"""Groups of treatments compared as classes: the same test as for two, and what was declared."""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from scipy.stats import fisher_exact

from racecard.core.assess.contrasts import Contrasted, contrast, declared_groups
from racecard.core.assess.grade import Grade
from racecard.core.model import Contrast, Plan
from racecard.core.plan.check import faults
from racecard.core.plan.record import as_record, fingerprint, from_record
from racecard.core.text.contrasts import AFTER_THE_FACT, contrast_says
from racecard.errors import InvalidInput
from tests.builders import a_plan, counts, singles, struck, waiting

NAMES = ("Untreated", "Water", "IBA", "NAA")
GROUPS = (Contrast(("IBA", "NAA"), ("Untreated", "Water")),)


def compared(*rooted: int, each: int = 20, declared: bool = True, **more: Any) -> Contrasted:
    plan = a_plan(*NAMES, units=each, contrasts=GROUPS)
    arms = [[struck()] * k + [waiting()] * (each - k) for k in rooted]
    asked: dict[str, Any] = {"seed": 3, "is_declared": declared, "any_clear": False, "end_day": 42}
    return contrast(plan, singles(*arms), (2, 3), (0, 1), **(asked | more))


def test_two_classes_are_fishers_test_of_their_sums() -> None:
    found = compared(5, 7, 14, 15)
    assert found.p is not None
    assert found.p == pytest.approx(fisher_exact([[29, 11], [12, 28]])[1], rel=1e-9)
    assert found.comparison.gap is not None
    assert found.comparison.gap.estimate == pytest.approx(29 / 40 - 12 / 40)


def test_only_what_was_declared_may_be_clear() -> None:
    assert compared(2, 3, 18, 17).grade is Grade.CLEAR_LEAD
    asked = compared(2, 3, 18, 17, declared=False)
    assert asked.grade is Grade.LIKELY_LEAD
    plan = a_plan(*NAMES)
    assert contrast_says(plan, asked)[-1] == AFTER_THE_FACT
    assert AFTER_THE_FACT not in contrast_says(plan, compared(2, 3, 18, 17))
    assert compared(2, 3, 18, 17, lot_drawn=False).grade is Grade.LIKELY_LEAD


def test_where_nothing_differs_a_class_is_seldom_called() -> None:
    rng = np.random.default_rng(8)
    called = sum(
        compared(*rng.binomial(12, 0.5, 4), each=12).grade in (Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND)
        for _ in range(150)
    )  # fmt: skip
    assert called <= 8


@pytest.mark.parametrize(
    ("one", "zero", "says"),
    [((), (0,), "needs a treatment"), ((1,), (1,), "stands in both"), ((1,), (9,), "numbered 0 to 3")],
)  # fmt: skip
def test_groups_that_cannot_be_are_refused(
    one: tuple[int, ...], zero: tuple[int, ...], says: str
) -> None:
    plan = a_plan(*NAMES)
    with pytest.raises(InvalidInput, match=says):
        contrast(plan, counts((1, 9), (2, 8), (3, 7), (4, 6)), one, zero,
                 seed=1, is_declared=False, any_clear=False)  # fmt: skip


@pytest.mark.parametrize(
    ("groups", "says"),
    [
        (Contrast((), ("Water",)), "needs a treatment"),
        (Contrast(("IBA",), ("IBA", "Water")), "IBA stands in both"),
        (Contrast(("IBA",), ("Talc",)), "No treatment is called “Talc”"),
    ],
)
def test_a_plan_says_what_is_wrong_with_its_groups(groups: Contrast, says: str) -> None:
    (fault,) = faults(a_plan(*NAMES, contrasts=(groups,)))
    assert (fault.pointer, says in fault.says) == ("/contrasts/0", True)


def test_declared_groups_are_kept_and_part_of_the_fingerprint() -> None:
    plan = a_plan(*NAMES, contrasts=GROUPS)
    assert Plan(**from_record(Plan, as_record(plan))) == plan
    assert declared_groups(plan) == (((2, 3), (0, 1)),)
    assert fingerprint(plan, (), 1) != fingerprint(replace(plan, contrasts=()), (), 1)
