"""Arms made at once, what differs between them, templates, and whether the plan answers."""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import binom

from racecard.core.assess.base_rates import base_rate, most_alike
from racecard.core.assess.grade import Grade
from racecard.core.assess.judge import judge
from racecard.core.finish.finish_result import whole_finish
from racecard.core.log.days import look_spacing, planned_looks
from racecard.core.model import (
    Agent,
    Carrier,
    Kind,
    Layout,
    Measure,
    Override,
    Plan,
    Role,
    Subject,
    Treatment,
    UnitLevel,
)
from racecard.core.model.differences import because, differing, entangled, in_use, pairs
from racecard.core.notes import notes_on_plan
from racecard.core.plan.arms import Factor, cross, ladder, mixture
from racecard.core.plan.baseline import balance, deal_grades
from racecard.core.plan.bench import draw_bench
from racecard.core.plan.check import faults
from racecard.core.plan.compare import differences, in_words
from racecard.core.plan.materials_needed import shortfall_says, to_gather
from racecard.core.plan.record import as_record, fingerprint, from_record, short
from racecard.core.plan.seeds import (
    chance_of_any,
    chance_of_plant,
    seeds_on_average,
    seeds_to_be_sure,
)
from racecard.core.plan.suggestions import hints, offers, unit_says
from racecard.core.plan.templates import STAGES, TEMPLATES, begin
from racecard.errors import InvalidInput
from tests.builders import a_plan, counts


def codes(plan: Plan) -> set[str]:
    return {n.code for n in notes_on_plan(plan, draw_bench(plan, 1))}


# --- arms -----------------------------------------------------------------------------------


def test_a_cross_makes_every_cell_and_one_control() -> None:
    arms = cross([Factor("coat", ("whole", "nicked")), Factor("soak", ("dry", "6 h", "24 h"))])
    assert [t.name for t in arms][:3] == ["whole, dry", "whole, 6 h", "whole, 24 h"]
    assert len(arms) == 6
    assert [t.role for t in arms].count(Role.CONTROL) == 1
    assert len({t.silk for t in arms}) == 6
    assert dict(arms[-1].properties) == {"coat": "nicked", "soak": "24 h"}


@pytest.mark.parametrize(
    ("factors", "part"),
    [
        ([Factor("coat", ("whole", "nicked"))], "two or three factors"),
        ([Factor("coat", ("whole",)), Factor("soak", ("dry", "wet"))], "has 1 level"),
        ([Factor("coat", ("dry", " Dry ")), Factor("soak", ("dry", "wet"))], "Two of the levels"),
        ([Factor("soak", ("a", "b")), Factor("Soak", ("c", "d"))], "Two of the factors"),
        ([Factor("coat", ("", "b")), Factor("soak", ("c", "d"))], "has no name"),
        ([Factor(x, ("a", "b", "c", "d")) for x in "xy"], "makes 16 treatments"),
    ],
)
def test_a_cross_that_makes_no_sense_is_refused(factors: list[Factor], part: str) -> None:
    with pytest.raises(InvalidInput, match=part):
        cross(factors)


def test_a_ladder_goes_up_in_equal_ratios_with_nothing_and_the_carrier() -> None:
    arms = ladder("IBA", 500, 4000, 4, "ppm", carrier=Carrier.ALCOHOL)
    assert [t.name for t in arms] == [
        "Untreated", "Alcohol only", "IBA 500 ppm", "IBA 1000 ppm", "IBA 2000 ppm", "IBA 4000 ppm",
    ]  # fmt: skip
    assert [t.role for t in arms[:2]] == [Role.CONTROL, Role.CARRIER]
    assert not entangled(replace(a_plan(), treatments=arms))


def test_a_ladder_of_hours_is_of_durations_and_may_be_even() -> None:
    arms = ladder("soak", 6, 24, 4, "h", agent=Agent.OTHER, even=True)
    assert [dict(t.properties)["duration"] for t in arms[1:]] == ["6 h", "12 h", "18 h", "24 h"]


@pytest.mark.parametrize(
    ("low", "high", "steps", "part"),
    [(4, 1, 3, "must rise"), (0, 8, 3, "must rise"), (1, 8, 1, "at least 2 steps"),
     (1, 8, 40, "makes 41 treatments"), (100, 101, 5, "too close")],
)  # fmt: skip
def test_a_ladder_that_does_not_rise_is_refused(
    low: float, high: float, steps: int, part: str
) -> None:
    with pytest.raises(InvalidInput, match=part):
        ladder("IBA", low, high, steps, "ppm")


@pytest.mark.parametrize(
    ("thing", "unit", "low", "high", "part"),
    [("", "ppm", 1, 9, "Say what"), ("IBA", " ", 1, 9, "Say what"), ("IBA", "ppm", 1e-300, 1e300, "between")],
)  # fmt: skip
def test_a_ladder_says_of_what_and_stays_within_reason(
    thing: str, unit: str, low: float, high: float, part: str
) -> None:
    with pytest.raises(InvalidInput, match=part):
        ladder(thing, low, high, 4, unit)


def test_a_mixture_runs_from_the_usual_to_the_other() -> None:
    arms = mixture("peat", "perlite", 5)
    assert [t.name for t in arms][::2] == ["peat alone", "2 peat : 2 perlite", "perlite alone"]
    for bad in ({"steps": 2}, {"steps": 12}):
        with pytest.raises(InvalidInput, match="3 to 9"):
            mixture("peat", "perlite", **bad)
    with pytest.raises(InvalidInput, match="Two of the parts"):
        mixture("peat", "Peat", 3)


# --- differences ----------------------------------------------------------------------------


def arm(name: str, role: Role = Role.CANDIDATE, **said: str) -> Treatment:
    properties = tuple((k.replace("_", " "), v) for k, v in said.items())
    return Treatment("", name, role, silk=name.lower()[:5], properties=properties)


def test_an_active_and_its_strength_are_one_thing() -> None:
    plain, weak = arm("U"), arm("A", active="IBA", strength="500 ppm")
    strong = arm("B", active="IBA", strength="2000 ppm")
    assert differing(plain, weak) == ("active",)
    assert differing(weak, strong) == ("strength",)
    assert differing(weak, replace(weak, name="C")) == ()


def test_what_is_ticked_stands_in_for_what_is_not_written() -> None:
    dip = replace(arm("A"), agent=Agent.HORMONE, carrier=Carrier.ALCOHOL)
    assert differing(arm("U"), dip) == ("active", "carrier")


def test_the_missing_arm_is_the_carrier_alone() -> None:
    control = arm("U", Role.CONTROL)
    treated = replace(
        arm("IBA 500", active="IBA", strength="500 ppm"),
        agent=Agent.HORMONE,
        carrier=Carrier.ALCOHOL,
    )
    plan = replace(a_plan(), treatments=(control, treated))
    (found,) = entangled(plan)
    assert found.differ == ("active", "carrier")
    assert found.missing is not None
    assert found.missing.role is Role.CARRIER
    assert differing(found.missing, treated) == ("active",)
    assert differing(found.missing, control) == ("carrier",)
    whole = replace(plan, treatments=(control, treated, found.missing))
    assert entangled(whole) == ()


def test_a_plain_twin_elsewhere_frees_the_place_from_the_treatment() -> None:
    plan = replace(
        a_plan(),
        treatments=(
            arm("U", Role.CONTROL, place="shed"),
            arm("Honey", active="honey", place="sill"),
        ),
    )
    (found,) = entangled(plan)
    assert not found.is_carrier_alone
    assert because(plan, found) == "Honey and U differ in active ingredient and place at once"
    assert found.missing is not None
    assert dict(found.missing.properties) == {"place": "sill"}
    assert codes(plan) >= {"entangled"}
    assert "entangled" not in codes(replace(plan, treatments=(*plan.treatments, found.missing)))


def test_pairs_of_a_cross_differ_in_one_thing_along_its_edges() -> None:
    arms = cross([Factor("coat", ("whole", "nicked")), Factor("soak", ("dry", "wet"))])
    found = pairs(replace(a_plan(), treatments=arms))
    assert sum(p.is_comparable for p in found) == 4
    assert in_use(arms) == ("coat", "soak")


def test_an_entangled_candidate_cannot_be_told_however_clear_the_numbers() -> None:
    arms = (arm("U", Role.CONTROL, place="shed"), arm("Honey", active="honey", place="sill"))
    plan = replace(a_plan(units=20), treatments=arms)
    found = judge(plan, counts((2, 20), (19, 20)), seed=1).comparisons[0]
    assert found.grade is Grade.CANNOT_TELL
    assert "differ in active ingredient and place at once" in found.reason
    alike = tuple(replace(t, properties=()) for t in arms)
    clean = judge(replace(plan, treatments=alike), counts((2, 20), (19, 20)), seed=1)
    assert clean.comparisons[0].grade is Grade.CLEAR_LEAD


# --- the reference ----------------------------------------------------------------------------


def test_a_trial_of_cutting_types_is_compared_with_the_usual_cutting() -> None:
    roles = [Role.STANDARD, Role.CANDIDATE]
    plan = a_plan("Tip", "Leaf-bud", roles=roles, subject=Subject.CUTTING_TYPE, units=20)
    assert plan.reference == 0
    assert plan.family == (1,)
    assert "no_control" not in codes(plan)
    assert a_plan("Tip", "Leaf-bud", roles=roles).reference is None
    found = whole_finish(plan, counts((5, 20), (18, 20)), seed=1)
    assert found.headline.startswith("Leaf-bud is clearly ahead:")


def test_a_named_reference_comes_before_the_control() -> None:
    plan = a_plan("U", "A", "B")
    arms = (*plan.treatments[:2], replace(plan.treatments[2], reference=True))
    plan = replace(plan, treatments=arms)
    assert plan.reference == 2
    assert "control_is_candidate" in codes(plan)
    two = tuple(replace(t, reference=True) for t in arms)
    assert any("exactly one" in f.says for f in faults(replace(plan, treatments=two)))
    assert "control_is_candidate" not in codes(a_plan("U", "A", "B"))


def test_positive_and_negative_controls_are_checks_outside_the_family() -> None:
    roles = [Role.CONTROL, Role.POSITIVE, Role.NEGATIVE, Role.CANDIDATE]
    plan = a_plan("U", "P", "N", "A", roles=roles, units=20)
    assert plan.family == (3,)
    found = whole_finish(plan, counts((5, 20), (19, 20), (5, 20), (18, 20)), seed=1)
    by = {c.index: c for c in found.judgement.comparisons}
    assert by[3].strike.p_holm == pytest.approx(by[3].test.p if by[3].test else None, rel=1e-12)
    assert found.headline.startswith("A (18 of 20 rooted) and P (19 of 20) are clearly ahead")


# --- objections, hints and offers -------------------------------------------------------------


@pytest.mark.parametrize(
    ("code", "bad", "good"),
    [
        ("ceiling", {"expected_percent": 90}, {"expected_percent": 70}),
        ("looks_too_sparse", {"measure": Measure.SPEED, "look_every_days": 7, "gap_days": 3},
         {"measure": Measure.SPEED, "look_every_days": 3, "gap_days": 3}),
        ("endpoint_cannot_answer", {"measure": Measure.SPEED, "look_days": (42,)},
         {"measure": Measure.STRIKE, "look_days": (42,)}),
        ("not_drawn", {"layout": Layout.BY_HAND}, {"layout": Layout.BLOCKS}),
        ("floor_too_high", {"units": 3}, {"units": 4}),
        ("one_unit_per_arm", {"units": 1}, {"units": 4}),
        ("shared_containers", {"per_container": 5, "count_singly": True}, {"per_container": 5}),
    ],
)  # fmt: skip
def test_each_objection_fires_and_its_clean_twin_is_silent(
    code: str, bad: dict[str, Any], good: dict[str, Any]
) -> None:
    assert code in codes(a_plan(**bad))
    assert code not in codes(a_plan(**good))


def test_too_many_arms_for_the_units_there_are() -> None:
    assert "too_many_arms" in codes(a_plan(*"UABCDE", units=3))
    assert "too_many_arms" not in codes(a_plan(*"UABCDE", units=6))


def test_a_question_of_speed_is_offered_the_measure_and_the_looks() -> None:
    plan = a_plan(question="Does it root faster?", look_days=(42,))
    assert [o.code for o in offers(plan)] == ["asks_speed"]
    asked = replace(plan, measure=Measure.SPEED)
    (offer,) = offers(asked)
    assert offer.code == "more_looks"
    mended = replace(asked, look_days=tuple(offer.change["look_days"]))
    assert offers(mended) == ()
    assert offers(a_plan(question="Better roots?"))[0].code == "asks_quality"


@pytest.mark.parametrize(
    ("looks", "mended"),
    [
        ((3, 6, 9, 42), (3, 6, 9, 12, 15, 18, 21, 24, 27, 30, 33, 36, 39, 42)),
        ((7, 14, 30, 37, 42), (7, 14, 21, 28, 30, 37, 42)),
        ((42,), None), ((5, 42), None), ((3, 6, 9, 12, 15, 18, 25, 28, 31, 34, 37, 42), None),
    ],
)  # fmt: skip
def test_looks_far_apart_are_asked_about(looks: tuple[int, ...], mended: tuple[int, ...] | None) -> None:  # fmt: skip
    found = {o.code: o for o in offers(a_plan(look_days=looks))}
    if mended is None:
        assert "far_apart" not in found
    else:
        assert tuple(found["far_apart"].change["look_days"]) == mended


def test_cutting_types_are_offered_to_be_scored_in_view() -> None:
    plan = begin(Subject.CUTTING_TYPE)
    assert not plan.blind
    assert "not_blind" in {o.code for o in offers(replace(plan, blind=True))}
    assert any("in view" in h for h in hints(plan))


def test_the_missing_arm_is_offered_whole() -> None:
    arms = (arm("U", Role.CONTROL), replace(arm("A", active="IBA"), carrier=Carrier.TALC))
    (offer,) = offers(replace(a_plan(), treatments=arms))
    assert offer.label == "Add “Talc only”"
    assert [t["name"] for t in offer.change["treatments"]] == ["U", "A", "Talc only"]


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"units": 1, "per_container": 16, "level": UnitLevel.CONTAINER},
         "16 cuttings, one container per treatment = 1 unit per treatment"),
        ({"units": 1, "per_container": 20, "level": UnitLevel.PLACE, "kind": Kind.SEED},
         "20 seeds, one place per treatment = 1 unit per treatment"),
        ({"units": 24}, "24 cuttings, each on its own = 24 units per treatment"),
        ({"units": 5, "per_container": 10, "level": UnitLevel.TRAY},
         "50 cuttings, 5 trays per treatment = 5 units per treatment"),
    ],
)  # fmt: skip
def test_units_are_said_at_once(change: dict[str, Any], said: str) -> None:
    assert unit_says(a_plan(**change)) == said


def test_blocks_that_do_not_divide_are_said_with_the_numbers_that_would() -> None:
    (hint,) = hints(a_plan(units=10, blocks=4))
    assert hint.startswith("10 do not divide into 4 blocks")
    assert "8 or 12" in hint
    assert hints(a_plan(units=12, blocks=4)) == ()


@pytest.mark.parametrize(
    ("change", "pointer", "part"),
    [
        ({"look_days": (7, 50)}, "/look_days", "comes after the last day"),
        ({"look_days": (7, 7)}, "/look_days", "must rise"),
        ({"look_days": (0, 7)}, "/look_days", "before the first"),
        ({"layout": Layout.PAIRS, "treatments": a_plan("U", "A", "B").treatments}, "/layout", "one of each of two"),
        ({"layout": Layout.SPLIT, "blocks": 1}, "/blocks", "at least two containers"),
        ({"units": 500, "per_container": 200}, "/per_container", "200000 plants are more than"),
        ({"layout": Layout.SITES, "units": 401}, "/units", "more than the 400"),
        ({"border": True, "columns": 2}, "/border", "3 rows and 3 columns"),
        ({"icc": 1.5}, "/icc", "got 1.5"),
        ({"overrides": (Override("not_drawn", " "),)}, "/overrides/0/reason", "is empty"),
        ({"tray_names": ("a\x07",)}, "/tray_names", "control character"),
        ({"prior": "x" * 2001}, "/prior", "2001 characters"),
    ],
)  # fmt: skip
def test_each_new_rule_has_one_sentence(change: dict[str, object], pointer: str, part: str) -> None:
    found = faults(replace(a_plan(), **change))  # type: ignore[arg-type]
    assert [f.pointer for f in found] == [pointer]
    assert part in found[0].says


@pytest.mark.parametrize(
    ("change", "pointer"),
    [
        ({"units": 0}, "units"),
        ({"prediction": 120.0}, "prediction"),
        ({"per_stem": 0.0}, "per_stem"),
    ],
)
def test_each_number_of_an_arm_is_checked(change: dict[str, object], pointer: str) -> None:
    plan = a_plan()
    arms = (plan.treatments[0], replace(plan.treatments[1], **change))  # type: ignore[arg-type]
    found = faults(replace(plan, treatments=arms, unequal_reason="so"))
    assert f"/treatments/1/{pointer}" in {f.pointer for f in found}


def test_unequal_numbers_need_a_reason() -> None:
    plan = a_plan()
    plan = replace(plan, treatments=(plan.treatments[0], replace(plan.treatments[1], units=5)))
    assert [f.pointer for f in faults(plan)] == ["/unequal_reason"]
    assert faults(replace(plan, unequal_reason="few leaf-buds")) == ()


def test_looks_may_be_uneven_and_the_last_day_is_always_one() -> None:
    plan = a_plan(look_days=(14, 28), length_days=42)
    assert planned_looks(plan) == (14, 28, 42)
    assert look_spacing(plan) == 14
    assert planned_looks(a_plan(length_days=10, look_every_days=4)) == (4, 8, 10)


# --- templates --------------------------------------------------------------------------------


@pytest.mark.parametrize("subject", list(Subject))
def test_every_template_is_a_plan_once_it_is_named(subject: Subject) -> None:
    for stage in next(t for t in TEMPLATES if t.subject is subject).stages:
        plan = replace(begin(subject, stage), question="Q?", material="lavender")
        assert faults(plan) == ()
        assert plan.reference == 0
        assert plan.look_days[-1] == plan.length_days
        assert not codes(plan) & {"no_control", "no_carrier_control", "entangled", "floor_too_high"}


def test_a_stage_brings_its_days() -> None:
    """Times to root by wood stage: common practice; within the spans of the trade's handbooks."""
    for stage in STAGES:
        assert stage.first_look < stage.middle_day < stage.length_days
    assert begin(Subject.HORMONE, "herbaceous").length_days < begin(Subject.HORMONE).length_days
    assert begin(Subject.HORMONE, "no such").length_days == begin(Subject.HORMONE).length_days


# --- gathering --------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("wanted", "chance", "seeds"),
    [
        (20, 0.6, 42),
        (24, 0.7, 41),
        (48, 0.85, 62),
        (50, 0.8, 69),
        (100, 0.9, 117),
        (100, 0.765, 142),
    ],
)
def test_seeds_to_be_sure_of_enough(wanted: int, chance: float, seeds: int) -> None:
    """The fewest with P(X >= W) >= 0.95, by scipy's binomial."""
    assert seeds_to_be_sure(wanted, chance) == seeds
    assert binom.sf(wanted - 1, seeds, chance) >= 0.95 > binom.sf(wanted - 1, seeds - 1, chance)


def test_seeds_on_average_and_in_a_cell() -> None:
    """By hand: 100 / (0.90 x 0.85) = 130.7; 48 / 0.85 = 56.5, and a tenth more 62.1."""
    assert seeds_on_average(100, chance_of_plant(0.9, 0.85)) == 131
    assert seeds_on_average(48, 0.85) == 57
    assert seeds_on_average(48, 0.85, 0.1) == 63
    for chance, seeds, share in ((0.85, 2, 0.978), (0.7, 3, 0.973), (0.5, 5, 0.969)):
        assert chance_of_any(chance, seeds) == pytest.approx(share, abs=5e-4)
    with pytest.raises(InvalidInput, match="emergence"):
        chance_of_plant(0.9, 1.2)


def test_what_is_short_is_said_with_what_a_smaller_trial_could_show() -> None:
    plan = a_plan(units=24, at_hand=(("propagules", 40.0), ("labels", 500.0)))
    items = to_gather(plan, draw_bench(plan, 1))
    assert {i.key: i.short for i in items if i.short} == {"propagules": 13.0}
    said = shortfall_says(plan, items)
    assert said.startswith("You are 13 short of cuttings")
    assert "enough for 18 of each" in said
    assert "18 per treatment would show" in said
    assert shortfall_says(plan, to_gather(replace(plan, at_hand=()), ())) == ""
    none = replace(plan, at_hand=(("propagules", 1.0),))
    assert "not enough for one" in shortfall_says(none, to_gather(none, ()))


def test_medium_dips_and_mother_stems_are_reckoned() -> None:
    plan = a_plan("Untreated", "IBA", units=20, pot_ml=350, dip_ml=50, mother_plants=4)
    arms = (
        replace(plan.treatments[0], per_stem=2.0),
        replace(plan.treatments[1], agent=Agent.HORMONE, per_stem=4.0),
    )
    items = {i.key: i for i in to_gather(replace(plan, treatments=arms), ())}
    assert items["medium"].need == pytest.approx(15.4, abs=1e-9)  # 40 x 0.35 L + a tenth
    assert items["dip:IBA"].need == 58  # 50 mL + 15 %
    assert items["stems"].need == 11 + 6
    assert "11 from each of 4 plants" in items["propagules"].how


def test_seed_for_a_growth_trial_is_sown_to_be_sure_of_the_plants() -> None:
    plan = a_plan(
        kind=Kind.SEED, subject=Subject.GROWTH, endpoint=5, units=24, germination_percent=85
    )
    items = {i.key: i for i in to_gather(plan, ())}
    assert items["propagules"].need == seeds_to_be_sure(48, 0.85) == 62


def test_seeds_of_a_pot_say_how_many_pots_will_have_one_up() -> None:
    """1 - (1 - 0.70)^2 = 0.91, by hand."""
    plan = a_plan(kind=Kind.SEED, endpoint=3, units=10, per_container=2, germination_percent=70)
    items = {i.key: i for i in to_gather(plan, ())}
    assert items["propagules"].how.endswith("; 91 % of containers have one up")
    single = {i.key: i for i in to_gather(replace(plan, per_container=1), ())}
    assert "containers" not in single["propagules"].how


# --- size and grade ---------------------------------------------------------------------------


def test_grades_are_dealt_evenly_over_the_treatments() -> None:
    plan = a_plan("U", "A", "B", units=10)
    cells = draw_bench(plan, 3)
    dealt = deal_grades({"1": 9, "2": 12, "3": 9}, cells, 3)
    for grade in "123":
        held = [
            sum(d == grade and c.treatment == a for d, c in zip(dealt, cells, strict=True))
            for a in range(3)
        ]
        assert max(held) - min(held) <= 1
    assert all((d is None) == (c.treatment < 0) for d, c in zip(dealt, cells, strict=True))


@pytest.mark.parametrize(
    ("counts_", "part"), [({"1": 5}, "the bench needs 16"), ({"1": -1}, "below 0")]
)
def test_grades_that_do_not_reach_are_refused(counts_: dict[str, int], part: str) -> None:
    with pytest.raises(InvalidInput, match=part):
        deal_grades(counts_, draw_bench(a_plan(), 1), 1)


def test_balance_tells_a_fair_deal_from_a_favourite() -> None:
    treatment, block = np.repeat([0, 1], 20), np.zeros(40, dtype=np.int64)
    rng = np.random.default_rng(2)
    fair = balance("length", rng.normal(8, 1, 40), treatment, block, ("U", "A"), 1)
    assert fair.p is not None
    assert fair.p > 0.05
    loaded = balance("length", rng.normal(8, 1, 40) + treatment, treatment, block, ("U", "A"), 1)
    assert loaded.p is not None
    assert loaded.p < 0.05
    assert "Assign the grades again" in loaded.says
    same = balance("nodes", np.full(40, 3.0), treatment, block, ("U", "A"), 1)
    assert same.p is None


# --- freezing and comparing -------------------------------------------------------------------


@given(st.sampled_from(list(Subject)), st.integers(0, 100))
def test_a_plan_comes_back_from_its_record(subject: Subject, percent: int) -> None:
    plan = replace(
        begin(subject), overrides=(Override("not_drawn", "so"),), at_hand=(("labels", 2.0),)
    )
    arms = tuple(replace(t, prediction=float(percent)) for t in plan.treatments)
    plan = replace(plan, treatments=arms)
    assert Plan(**from_record(Plan, {**as_record(plan), "of a later day": 1})) == plan


def test_the_fingerprint_changes_with_anything_that_was_frozen() -> None:
    plan, cells = a_plan(), draw_bench(a_plan(), 1)
    first = fingerprint(plan, cells, 1)
    assert first == fingerprint(replace(plan), cells, 1)
    others = [
        fingerprint(replace(plan, gap_points=21.0), cells, 1),
        fingerprint(plan, draw_bench(plan, 2), 1),
        fingerprint(replace(plan, treatments=(plan.treatments[0], replace(plan.treatments[1], prediction=70.0))), cells, 1),
    ]  # fmt: skip
    assert len({first, *others}) == 4
    assert short(first) == f"{first[:4]}-{first[4:8]}-{first[8:12]}"
    assert short("") == ""


def test_prints_of_plans_frozen_before_fields_were_renamed_still_hold() -> None:
    # made by the code that still wrote likeness, pair_likeness and alike_in
    assert fingerprint(a_plan(icc=0.2), (), 1).startswith("9af8ad8d2872b4d5")


def test_two_plans_are_compared_difference_by_difference() -> None:
    plan = a_plan("U", "A", units=20)
    other = replace(
        plan, units=30, sides=("wall", "", "", ""),
        treatments=(plan.treatments[0], replace(plan.treatments[1], detail="half dose"), replace(plan.treatments[1], name="B")),
    )  # fmt: skip
    found = {d.label: (d.one, d.other) for d in differences(plan, other)}
    assert found["Units of each treatment"] == ("20", "30")
    assert found["A: what is done"] == ("nothing", "half dose")
    assert found["B"] == ("not there", "candidate")
    assert found["Sides of the bench"] == ("door at the left", "wall at the top")
    assert differences(plan, plan) == ()
    assert in_words(plan, "look_days") == "every 3 days"


# --- the grower's own base rates --------------------------------------------------------------


def test_base_rates_are_of_finished_controls_of_the_same_plant() -> None:
    plan = a_plan("U", "A", units=20)
    rate = base_rate(plan, counts((9, 20), (15, 20)))
    assert rate is not None
    assert (rate.struck, rate.n, rate.percent, rate.day) == (9, 20, 45.0, 42)
    assert base_rate(replace(plan, length_days=60), counts((9, 20), (15, 20))) is None
    none = replace(
        plan, treatments=(replace(plan.treatments[0], role=Role.CANDIDATE), plan.treatments[1])
    )
    assert base_rate(none, counts((9, 20), (15, 20))) is None


def test_shared_words_goes_by_the_plant_not_by_the_trade_words() -> None:
    others = ["semi-ripe tips of sage", "semi-ripe lavender, old bed", "lavender seed"]
    assert most_alike("lavender, semi-ripe tips", others, 5) == [1, 2]
    assert most_alike("camellia", others, 5) == []
