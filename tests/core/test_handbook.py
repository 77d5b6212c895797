"""The handbook: every fact has a source, tables are whole, and its figures are those the sums use."""

import pytest

from racecard.core.formbook.line import ControlSeen, FormLine, State
from racecard.core.formbook.plant import own_times
from racecard.core.handbook.entries import Page
from racecard.core.handbook.pages import PAGES
from racecard.core.prepare.actives import ACTIVES
from racecard.core.stats.proportions import wilson
from racecard.core.stats.sample_size import plants_needed


@pytest.mark.parametrize("page", PAGES, ids=lambda p: p.id)
def test_a_page_is_whole(page: Page) -> None:
    assert page.about
    assert page.tables or page.facts
    for table in page.tables:
        assert table.source
        assert {len(row) for row in table.rows} == {len(table.heads)}
        assert len(table.own) in (0, len(table.rows))
    for fact in page.facts:
        assert fact.source
        assert fact.says.endswith(".")


def said(words: str) -> str:
    (found,) = [f.says for p in PAGES for f in p.facts if words in f.says]
    return found


def test_figures_of_the_handbook_are_those_of_the_sums() -> None:
    """Computed facts are computed again: salt factors, a Wilson interval, plants needed."""
    for salt, acid in (("K-IBA", "IBA"), ("K-NAA", "NAA")):
        assert f"{1000 / ACTIVES[salt].salt_factor:.0f} mg/L of {acid}" in said("salt weighs more")
    found = wilson(17, 20)
    assert found.low is not None
    assert found.high is not None
    assert f"{100 * found.low:.0f} to {100 * found.high:.0f} %" in said("home test of 20 seeds")
    assert round(plants_needed(0.55, 0.75)) == 98
    assert "about 98 of each" in said("Too few")


def test_own_values_stand_beside_a_stage() -> None:
    def line(stage: str, control: ControlSeen | None) -> FormLine:
        return FormLine("t", "Q", "Fig", stage, "hormone", "cutting", "strike", (), "2026-05-01", 5,
                        State.FINISHED, "", False, control=control)  # fmt: skip

    own = own_times([
        line("softwood", ControlSeen("U", 5, 10, 20)), line("softwood", ControlSeen("U", 3, 10, 30)),
        line("hardwood", ControlSeen("U", 1, 10, None)), line("leaf", None),
    ])  # fmt: skip
    assert own == {
        "softwood": "half by day 25; 8 of 20 in 2 trials",
        "hardwood": "half never reached; 1 of 10 in 1 trial",
    }
