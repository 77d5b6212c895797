"""The form book: lines found, a plant's usual rate, treatments by how sure one may be, guesses."""

from dataclasses import replace
from typing import Any

import pytest
from scipy.integrate import quad

from racecard.core.formbook.guesses import guessing_of
from racecard.core.formbook.line import (
    ControlSeen,
    FormLine,
    Guess,
    State,
    Tried,
    plant_of,
    stage_of,
)
from racecard.core.formbook.plant import (
    ALIKE,
    PRIOR_PLANTS,
    plant_book,
    usual_icc,
    usual_rate,
    usual_says,
    usual_spread,
)
from racecard.core.formbook.search import Sort, Wanted, facets_of, found_lines, open_loops
from racecard.core.formbook.treatment import treatment_book, treatment_says
from racecard.core.model import Kind, Subject
from racecard.core.plan.repeat import repeat_of
from tests.builders import a_plan


def line(trial: str = "t", **more: Any) -> FormLine:
    told = {
        "question": "Lavender: IBA?", "plant": "Lavender", "stage": "semi-ripe", "subject": "hormone", "kind": "cutting",
        "measure": "strike", "treatments": ("Untreated", "IBA"), "began": "2026-05-03", "month": 5,
        "state": State.FINISHED, "says": "finished on day 42", "invented": False,
    }  # fmt: skip
    return FormLine(trial, **{**told, **more})


def tried(grade: str, gap: float | None = 0.3, name: str = "IBA") -> Tried:
    return Tried(name, grade, gap, None if gap is None else gap - 0.2, None if gap is None else gap + 0.2)  # fmt: skip


@pytest.mark.parametrize(
    ("material", "plant", "stage"),
    [
        ("semi-ripe nodal cuttings of lavender, three nodes", "Lavender", "semi-ripe"),
        ("sweet pea seed, one packet of last year", "Sweet pea", "seed"),
        ("Fig, hardwood sticks; old tree", "Fig", "hardwood"),
        ("cuttings", "", "cutting"),
    ],
)
def test_a_plant_is_read_from_its_material(material: str, plant: str, stage: str) -> None:
    kind = Kind.SEED if "seed" in material else Kind.CUTTING
    assert (plant_of(material), stage_of(material, kind)) == (plant, stage)


def test_lines_are_found_by_words_and_by_what_they_hold() -> None:
    fig = line("a", plant="Fig", question="Fig: moss or bark?", month=12, began="2025-12-01",
               subject="medium", state=State.ABANDONED)  # fmt: skip
    close = line(
        "b", best=tried("too_close_to_call", 0.05), tried=(tried("too_close_to_call", 0.05),)
    )
    clear = line("c", best=tried("clear_lead", 0.4))
    book = [clear, close, fig]
    assert found_lines(book, Wanted("FIG bark")) == [fig]
    assert found_lines(book, Wanted("fig honey")) == []
    assert found_lines(book, Wanted(quarter="Dec to Feb")) == [fig]
    assert found_lines(book, Wanted(verdict="clear_lead", year="2026")) == [clear]
    assert found_lines(book, Wanted(), Sort.LARGEST) == [clear, close, fig]
    assert found_lines([fig, close, clear], Wanted(), Sort.SUREST) == [clear, close, fig]
    assert found_lines(book, Wanted(), Sort.OLDEST) == [fig, close, clear]
    assert found_lines(book, Wanted(), Sort.PLANT)[0] is fig
    assert facets_of(book).plants == (("Lavender", 2), ("Fig", 1))
    assert facets_of(book).years == (("2026", 2), ("2025", 1))
    assert open_loops(book) == [fig]


def test_a_usual_rate_is_the_beta_curve_of_plants_at_what_they_are_worth() -> None:
    """Mean and limits against numerical integration of the posterior (Gelman et al. 2013, section 2.4)."""
    seen = [line(control=ControlSeen("U", 11, 24, 27)), line(control=ControlSeen("U", 4, 10, None))]
    found = usual_rate(seen, 50.0)
    assert found is not None
    up, down = PRIOR_PLANTS / 2, PRIOR_PLANTS / 2
    for struck, n in ((11, 24), (4, 10)):
        up += struck / (1 + (n - 1) * ALIKE)
        down += (n - struck) / (1 + (n - 1) * ALIKE)

    def density(p: float) -> float:
        return float(p ** (up - 1) * (1 - p) ** (down - 1))

    whole = quad(density, 0, 1)[0]
    assert found.percent == pytest.approx(100 * quad(lambda p: p * density(p), 0, 1)[0] / whole)
    assert quad(density, 0, found.low / 100)[0] / whole == pytest.approx(0.025, abs=1e-6)
    assert quad(density, 0, found.high / 100)[0] / whole == pytest.approx(0.975, abs=1e-6)
    assert (found.struck, found.n, found.trials) == (15, 34, 2)


def test_few_plants_leave_the_usual_value_and_many_leave_it_behind() -> None:
    few, many = ControlSeen("U", 0, 2, None), ControlSeen("U", 0, 24, None)
    one = usual_rate([line(control=few)], 60.0)
    lots = usual_rate([line(control=many)] * 12, 60.0)
    assert one is not None and lots is not None  # noqa: PT018
    assert 40 < one.percent < 60
    assert lots.percent < 5
    assert usual_rate([line()], 60.0) is None


def test_likeness_and_spread_come_from_own_trials_shrunk_to_the_usual() -> None:
    seen = [
        ControlSeen("U", 9, 40, 9, icc=0.3, containers=8),
        ControlSeen("U", 9, 40, 9, icc=0.0, containers=4),
    ]
    own = usual_icc([line(control=c) for c in [*seen, ControlSeen("U", 9, 40, 9)]])
    assert own is not None
    assert own.value == 0.16  # (8 · 0.3 + 4 · 0 + 8 · 0.1) / 20
    assert (own.trials, "12 containers in 2 of your trials" in own.says) == (2, True)
    assert usual_icc([line(control=ControlSeen("U", 9, 40, 9))]) is None
    tall = ControlSeen("U", 9, 40, 9, measure="height", spread=10.0, measured=13)
    spread = usual_spread([line(control=tall)], "height", 50.0)
    assert spread is not None
    assert spread.value == 14  # √((12 · 10² + 6 · 20²) / 18) = 14.1
    assert usual_spread([line(control=tall)], "leaves", 50.0) is None


def test_a_plant_s_book_says_what_is_shown_and_what_is_open() -> None:
    book = [
        line("a", tried=(tried("clear_lead"), tried("too_close_to_call", 0.02, "Honey"))),
        line(
            "b", tried=(tried("likely_behind", -0.3, "Honey"),), control=ControlSeen("U", 6, 24, 20)
        ),
        line("c", tried=(tried("cannot_tell_by_design", None, "Seaweed"),), month=9),
        line("d", tried=(tried("clear_lead", 0.5, "Willow"),), state=State.RUNNING),
        line("e", tried=(tried("clearly_behind", -0.4),)),
        line("f", plant="Fig", tried=(tried("clear_lead", 0.5, "Willow"),)),
    ]
    found = plant_book(book, "Lavender", 50.0)
    assert [r.treatment for r in found.shown] == []
    assert [(r.treatment, r.grade) for r in found.open] == [("IBA", "mixed")]
    assert [(r.treatment, r.grade) for r in found.against] == [("Honey", "likely_behind")]
    assert [r.treatment for r in found.undecidable] == ["Seaweed"]
    assert len(found.open[0].results) == 2  # never summed
    assert Subject.MEDIUM in found.untried
    assert Subject.HORMONE not in found.untried
    assert [m.month for m in found.months] == [5]
    assert found.half_day == 20
    assert "6 of 24 in 1 trial" in usual_says(found, 50.0)


def test_guesses_are_held_against_what_came() -> None:
    assert guessing_of([line()]) is None
    lines = [
        line(guesses=(Guess(80, 50, 24), Guess(70, 50, 24))),
        line(guesses=(Guess(10, 10, 8),)),
    ]
    found = guessing_of(lines)
    assert found is not None
    assert [(b.n, b.said, b.came) for b in found.bands] == [(1, 10, 10), (1, 70, 50), (1, 80, 50)]
    assert found.off == pytest.approx(50 / 3)
    assert "17 points too high" in found.says


def test_a_repeat_says_how_many_things_it_changes() -> None:
    old = a_plan("Untreated", "IBA")
    more = replace(old, units=old.units + 4, question="Again?", blocks=1)
    same = repeat_of(old, more)
    assert same.changes == ()
    assert {d.field for d in same.neutral} >= {"units", "question"}
    assert "further run" in same.says
    warm = repeat_of(old, replace(more, material="another plant"))
    assert [d.field for d in warm.changes] == ["material"]
    assert "not summed" in warm.says
    two = repeat_of(old, replace(more, material="another plant", threshold_mm=5.0))
    assert "2 things are changed at once" in two.says


def test_a_treatment_is_counted_over_plants_and_never_summed() -> None:
    book = [
        line("a", tried=(tried("clear_lead", name="Seaweed"), tried("level", name="Tap water"))),
        line("b", tried=(tried("likely_lead", name="seaweed "),), plant="Fig"),
        line("c", tried=(tried("too_close_to_call", name="SEAWEED"),), plant="Fig"),
        line("d", tried=(tried("cannot_tell_by_design", None, "Seaweed"),), plant="", is_table=True),
        line("e", tried=(tried("clearly_behind", name="Seaweed 1:50"),)),
        line("f", tried=(tried("clear_lead", name="Seaweed"),), state=State.RUNNING),
    ]  # fmt: skip
    found = treatment_book(book, "  Seaweed")
    assert (found.trials, found.ahead, found.clear, found.behind, found.open, found.undecidable) == (4, 2, 1, 0, 1, 1)  # fmt: skip
    assert [(plant, len(r.results)) for plant, r in found.plants] == [
        ("Fig", 2), ("Imported results", 1), ("Lavender", 1)
    ]  # fmt: skip
    assert found.alike == (("Seaweed 1:50", 1),)
    assert treatment_says(found) == (
        "Compared with its control in 4 trials on 2 plants: ahead in 2 (1 clearly), "
        "no difference that could be called in 1, 1 could not tell by design."
    )
    assert "No finished trial here has compared honey" in treatment_says(treatment_book(book, "honey"))  # fmt: skip
