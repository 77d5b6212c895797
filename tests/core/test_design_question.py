"""A line in the grower's own words becomes a plan that keeps every rule (lines from memory of the trade)."""

import pytest

from racecard.core.design.as_plan import DIFFER, plan_of
from racecard.core.design.proposals import propose
from racecard.core.design.question import Against, read_question, thing_of
from racecard.core.design.resources import Have
from racecard.core.model import Carrier, Kind, Subject
from racecard.core.model.differences import pairs
from racecard.core.plan.bench import draw_bench
from racecard.core.plan.check import faults

LINES = [
    ("Do rosemary cuttings root better with seaweed?", "rosemary", ["Seaweed"], None),
    ("does seaweed or coconut water root rosemary better than plain water?", "rosemary", ["Seaweed", "Coconut water"], Against.WATER),
    ("IBA 1000 ppm or IBA 4000 ppm against nothing on lavender", "lavender", ["IBA 1000 ppm", "IBA 4000 ppm"], Against.NOTHING),
    ("Do nicked sweet pea seeds come up sooner than dry ones?", "sweet pea", ["Nicked"], Against.NOTHING),
    ("Soaking parsley seed against sowing it dry", "parsley", ["Soaked"], Against.NOTHING),
    ("heel or nodal cuttings of fuchsia?", "fuchsia", ["Heel", "Nodal"], None),
    ("Perlite than the usual mix for hydrangea cuttings", "hydrangea", ["Perlite"], Against.USUAL),
    ("honey versus cinnamon on fig", "fig", ["Honey", "Cinnamon"], None),
    ("willow water vs nothing, grape", "grape", ["Willow water"], Against.NOTHING),
    ("do tulip bulbs sprout better when chilled", "tulip", ["Chilled"], None),
    ("does IBA powder 0.8 % beat IBA liquid 3000 ppm on fig hardwood", "fig", ["IBA powder 0.8 %", "IBA liquid 3000 ppm"], None),
    ("IBA at 0.3 %, 0.8 % and nothing on rose", "rose", ["IBA 0.3 %", "IBA 0.8 %"], Against.NOTHING),
    ("IBA 1000 ppm, 2000 ppm or water for rosemary", "rosemary", ["IBA 1000 ppm", "IBA 2000 ppm"], Against.WATER),
    ("2 % honey or 3 % cinnamon on fig", "fig", ["Honey 2 %", "Cinnamon 3 %"], None),
    ("10 % bleach on tomato seeds", "tomato", ["Bleach 10 %"], None),
    ("scratching or soaking sweet pea seeds", "sweet pea", ["Scratched", "Soaked"], None),
    ("heel or node cuttings of box", "box", ["Heel", "Nodal"], None),
    ("bottom heat for olive cuttings", "olive", ["Bottom heat"], None),
    ("my quinine cuttings with kelp", "quinine", ["Kelp"], None),
    ("", "", [], None),
    ("which is best?", "", [], None),
]  # fmt: skip


@pytest.mark.parametrize(("line", "plant", "things", "against"), LINES)
def test_what_a_line_says(
    line: str, plant: str, things: list[str], against: Against | None
) -> None:
    found = read_question(line)
    assert (found.plant, [t.name for t in found.things], found.against) == (plant, things, against)
    assert (found.subject is None) is (not things)


def test_the_kind_and_subject_of_a_line() -> None:
    assert read_question("nicked peas germinate").kind is Kind.SEED
    assert read_question("peas soaked in seaweed, sown").subject is Subject.SEED_TREATMENT
    assert read_question("tulip bulbs with sulphur").subject is Subject.DIVISION
    assert read_question("seaweed on sage").subject is Subject.HORMONE


@pytest.mark.parametrize("line", [line for line, *_ in LINES])
@pytest.mark.parametrize("against", list(Against))
@pytest.mark.parametrize(
    "have",
    [
        Have(24, 3, 0.4, 0.4),
        Have(40, 2, 0.4, 0.4, containers=8, kind=Kind.SEED),
        Have(36, 2, 0.4, 0.4, sites=18, kind=Kind.SEED),
        Have(12, 3, 0.4, 0.4, containers=3),
        Have(5000, 3, 0.5, 0.01, containers=13),
    ],
    ids=["cells", "pots", "sites", "jars", "thousands in few"],
)
def test_each_proposal_passes_the_plans_own_checks(line: str, against: Against, have: Have) -> None:
    understood = read_question(line)
    for proposal in propose(have):
        plan = plan_of(proposal.design, have, understood, against, question=line, differ=["place"])
        assert faults(plan) == ()
        assert sum(c.treatment >= 0 for c in draw_bench(plan, 1)) == proposal.design.containers
        assert sum(plan.units_of) == proposal.design.containers
        assert plan.per_container == proposal.design.per_container
        named = [t.name for t in understood.things][: proposal.design.treatments - 1]
        assert [t.name for t in plan.treatments][1 : len(named) + 1] == named
        assert len(plan.treatments) == proposal.design.treatments


def test_the_make_and_strength_of_a_treatment_reach_its_plan() -> None:
    have, line = Have(24, 3, 0.4, 0.4), read_question("IBA powder 0.8 % or IBA gel 0.8 % on sage")
    design = next(p.design for p in propose(have) if p.design.treatments == 3)
    plan = plan_of(design, have, line, Against.NOTHING, question="?")
    told = [(t.carrier, dict(t.properties).get("strength")) for t in plan.treatments[1:]]
    assert told == [(Carrier.TALC, "0.8 %"), (Carrier.GEL, "0.8 %")]
    assert pairs(plan)[2].differ == ("carrier",)
    assert thing_of("KNO3 1 %").strength == "1 %"


def test_what_else_differs_fills_the_table_of_differences() -> None:
    have, line = Have(24, 2, 0.4, 0.4), read_question("seaweed on sage against plain water")
    design = propose(have)[0].design
    alike = plan_of(design, have, line, Against.WATER, question="?")
    apart = plan_of(design, have, line, Against.WATER, question="?", differ=["place", "lot"])
    assert pairs(alike)[0].differ == ("active",)
    assert set(pairs(apart)[0].differ) == {"active", "place", "lot"}
    assert set(DIFFER) >= {"place", "lot"}
