"""A trial for many gardens: orders from the seed, and a page that no text of a plan can break."""

import json
import re
from collections import Counter
from dataclasses import replace
from datetime import UTC, datetime
from math import factorial
from typing import Any

import pytest
from scipy.stats import chisquare

from racecard.core.exchange.garden_pack import garden_pack, orders
from racecard.core.model import Status, Trial
from racecard.errors import InvalidInput
from racecard.formats.garden_page import garden_page, garden_sheets
from racecard.formats.pack_file import write_pack
from tests.builders import a_plan

AT = datetime(2026, 5, 3, 9, tzinfo=UTC)


def a_trial(*names: str, **plan: Any) -> Trial:
    return Trial(
        "abcdef0123456789", a_plan(*(names or ("Dry", "Soaked")), **plan), Status.DRAFT, 7, (), AT
    )


@pytest.mark.parametrize("arms", [2, 3])
def test_every_order_comes_as_often_and_can_be_checked_again(arms: int) -> None:
    drawn = orders(11, arms, 600)
    found = Counter(drawn)
    assert len(found) == factorial(arms)
    assert chisquare(list(found.values())).pvalue > 0.001
    assert orders(11, arms, 20) == drawn[:20]
    assert orders(12, arms, 600) != drawn


def test_the_pack_tells_a_garden_what_it_must_know_and_not_the_seed() -> None:
    pack = garden_pack(a_trial(per_container=10), 5)
    told = json.loads(write_pack(pack))
    assert (told["schema"], told["version"], len(told["orders"])) == ("racecard-garden-pack", 1, 5)
    assert "seed" not in told
    sheets = garden_sheets(pack)
    assert sheets.count("<section>") == 5
    assert "Fold here" in sheets
    hormone = garden_pack(a_trial("Untreated", "IBA 1000 ppm in 50 % alcohol"), 1)
    assert any("Wear gloves" in c for c in hormone.cautions)
    assert "Take care." in garden_sheets(hormone)


def test_no_text_of_a_plan_ends_the_script_or_the_page() -> None:
    odd = "</script><script>alert(1)</script> {{script}} {{pack}}"
    trial = a_trial()
    trial = replace(trial, plan=replace(trial.plan, question=odd, material=odd))
    page = garden_page(garden_pack(trial, 2))
    assert page.count("<script") == page.count("</script>") == 2
    assert "<script>alert" not in garden_sheets(garden_pack(trial, 2))
    inside = re.search(r'id="pack">(.*)</script>', page)
    assert inside is not None
    assert json.loads(inside.group(1))["question"] == odd


@pytest.mark.parametrize(
    ("trial", "gardens", "says"),
    [
        (a_trial(), 0, "1 to 500"),
        (a_trial(), 501, "1 to 500"),
        (a_trial(*"ABCDEFG"), 5, "2 to 6 treatments"),
    ],
)
def test_a_pack_that_cannot_be_is_refused(trial: Trial, gardens: int, says: str) -> None:
    with pytest.raises(InvalidInput, match=says):
        garden_pack(trial, gardens)
