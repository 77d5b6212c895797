"""Clock, order of work, cautions, register and what was really set."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from racecard.core.assess.judge import judge
from racecard.core.finish.of_trial import finish_of
from racecard.core.log.assemble import own_ages, results_of
from racecard.core.log.days import planned_hour
from racecard.core.model import Agent, Carrier, Cell, Day0, Kind, Plan, Status, Trial, Unit
from racecard.core.model.observation import Look, UnitLog
from racecard.core.plan.check import faults
from racecard.core.prepare.arm_words import ranked_dose, soaks_in
from racecard.core.prepare.cautions import cautions_in, cautions_of_plan
from racecard.core.prepare.order import order_of, order_of_work
from racecard.core.prepare.register import (
    AgentLot,
    PlantLot,
    check_agent,
    check_plant,
    notes_on_agent,
    notes_on_plant,
)
from racecard.core.prepare.soak_clock import (
    clock_of,
    days_apart,
    proposed_steps,
    ran_says,
)
from racecard.core.prepare.sticking import days_say, set_by_arm
from racecard.core.prepare.suggest import suggested
from racecard.errors import InvalidInput
from tests.builders import a_plan

LISBON = ZoneInfo("Europe/Lisbon")
TEN = datetime(2026, 11, 25, 10, tzinfo=LISBON)
TODAY = date(2026, 5, 25)


def soaked(hours: dict[str, float], **changes: Any) -> Plan:
    """A plan of sown seed whose arms are soaked so many hours."""
    plan = a_plan(*hours, kind=Kind.SEED, day0=Day0.SOWING, units=4, time_zone="Europe/Lisbon", **changes)  # fmt: skip
    arms = tuple(
        replace(t, steps=(("soak", 60 * h),) if h else ()) for t, h in zip(plan.treatments, hours.values(), strict=True)
    )  # fmt: skip
    return replace(plan, treatments=arms)


# the clock


@pytest.mark.parametrize(
    ("words", "steps"),
    [
        ("soaked 24 h", (("soak", 1440.0),)), ("50 % alcohol, bases 5 s", (("dip", 5 / 60),)), ("overnight in water", (("soak", 720.0),)),
        ("dipped for 1,5 min", (("dip", 1.5),)), ("steeped 2 days cold", (("steep", 2880.0),)), ("three nodes, wounded", ()), ("chilled 30 d", (("chill", 43_200.0),)),
        ("soak 1h30, then dip 5 s", (("soak", 90.0), ("dip", 5 / 60))), ("soaked 1 h 30 min", (("soak", 90.0),)), ("soaked, 24 h", (("soak", 1440.0),)),
        ("a week in water", (("soak", 10_080.0),)), ("soaked 24hrs, light 16 h", (("soak", 1440.0),)), ("in water, light 16 h", ()),
        ("soaked 12-24 h", ()), ("left in water, age 90 days", ()), ("wet, left to dry 2 days", ()), ("heat mat 8 h a day, wet", ()),
    ],
)  # fmt: skip
def test_soaks_are_read_from_words(words: str, steps: tuple[tuple[str, float], ...]) -> None:
    found = soaks_in(words)
    assert [n for n, _ in found] == [n for n, _ in steps]
    assert [m for _, m in found] == pytest.approx([m for _, m in steps], rel=1e-12)


def test_all_arms_go_in_together_one_after_the_other() -> None:
    plan = soaked({"Dry": 0, "Six": 6, "Day": 24}, unit_seconds=60.0)
    clock = clock_of(plan, TEN)
    assert [(t - TEN).total_seconds() / 60 for t in clock.goes_in] == [
        0,
        4,
        8,
    ]  # four units a minute each
    six, day = (next(s for s in clock.steps if s.treatment == i) for i in (1, 2))
    assert (six.stop - six.start, day.stop - day.start) == (timedelta(hours=6), timedelta(hours=24))
    assert (six.stop, day.stop) == (clock.goes_in[1], clock.goes_in[2])
    assert clock.steps[0] is day
    assert "1 day before" in clock.says[0]
    assert not clock.asks_day0


def test_a_dip_just_before_midnight_is_no_soak_of_a_day() -> None:
    midnight = datetime(2026, 11, 25, tzinfo=LISBON)
    plan = soaked({"Dry": 0, "Dipped": 5 / 3600}, unit_seconds=0.0)
    assert "before" not in clock_of(plan, midnight).says[0]


def test_all_start_together_asks_what_day_0_is_and_says_both_days() -> None:
    plan = soaked({"Dry": 0, "Six": 6, "Two": 48}, start_together=True, unit_seconds=0.0)
    clock = clock_of(plan, TEN)
    assert {s.start for s in clock.steps} == {TEN}
    assert days_apart(plan, clock.goes_in) == (0, 0, 2)
    assert clock.asks_day0
    assert "Two on day 2" in clock.says[0]
    wetting = clock_of(replace(plan, day0=Day0.WETTING), TEN)
    assert "first wetting" in wetting.says[0]
    assert wetting.says[1] == "Started later: Two on day 2."


def test_a_soak_is_no_longer_or_shorter_when_the_clocks_change() -> None:
    """Lisbon puts its clocks back on 25 October 2026 at 2:00."""
    morning = datetime(2026, 10, 25, 10, tzinfo=LISBON)
    (step,) = clock_of(soaked({"Dry": 0, "Night": 12}, unit_seconds=0.0), morning).steps
    assert (step.stop.astimezone(UTC) - step.start.astimezone(UTC)) == timedelta(hours=12)
    assert step.start.hour == 23  # by the old time: 22:00 would be an hour short


@settings(max_examples=40)
@given(st.lists(st.floats(0, 96), min_size=2, max_size=6), st.floats(0, 600), st.booleans())
def test_every_arm_goes_in_when_its_last_soak_ends(hours: list[float], seconds: float, together: bool) -> None:  # fmt: skip
    named = {f"A{i}": h for i, h in enumerate(hours)}
    clock = clock_of(soaked(named, unit_seconds=seconds, start_together=together), TEN)
    for i, h in enumerate(hours):
        own = [s for s in clock.steps if s.treatment == i]
        assert bool(own) is (h > 0)
        if own:
            assert own[-1].stop == clock.goes_in[i]
            assert (own[-1].stop - own[0].start).total_seconds() == pytest.approx(h * 3600, abs=1e-3)  # fmt: skip
    if not together:
        assert min(clock.goes_in) == TEN


def test_a_soak_in_words_is_proposed_until_it_is_settled_and_runs_no_clock() -> None:
    plan = a_plan("U", "Soaked 24 h", kind=Kind.SEED)
    arm = replace(plan.treatments[1], detail="soaked 24 h")
    assert proposed_steps(arm) == (("soak", 1440.0),)
    assert clock_of(replace(plan, treatments=(plan.treatments[0], arm)), TEN).steps == ()
    assert proposed_steps(replace(arm, steps=(("dip", 1.0),))) == ()
    assert proposed_steps(replace(arm, steps_settled=True)) == ()
    assert proposed_steps(replace(arm, detail="", properties=(("wetting", "12 h"),))) == (
        ("soak", 720.0),
    )
    assert proposed_steps(replace(arm, detail="", properties=(("light", "12 h in water"),))) == ()


@pytest.mark.parametrize(
    ("minutes", "says"), [(720, "as planned"), (780, "as planned"), (900, "3 h longer"), (300, "7 h shorter")]
)  # fmt: skip
def test_how_a_soak_really_ran_is_said(minutes: int, says: str) -> None:
    (step,) = clock_of(soaked({"Dry": 0, "Night": 12}), TEN).steps
    assert says in ran_says(step, TEN, TEN + timedelta(minutes=minutes))
    assert ran_says(step, TEN, None) == ""


def test_a_planned_hour_is_in_the_trials_zone_and_a_bad_one_is_said() -> None:
    plan = a_plan(time_zone="Europe/Lisbon", set_at="2026-07-01T09:30")
    assert planned_hour(plan) == datetime(2026, 7, 1, 8, 30, tzinfo=UTC)
    assert planned_hour(replace(plan, set_at="")) is None
    bad = faults(replace(plan, set_at="next Tuesday"))
    assert [f.pointer for f in bad] == ["/set_at"]


@pytest.mark.parametrize(
    "steps", [(("soak", 0.0),), (("soak", 1e9),), (("", 5.0),), (("a", 1.0),) * 11]
)
def test_a_soak_that_cannot_be_is_a_fault(steps: tuple[tuple[str, float], ...]) -> None:
    plan = a_plan("U", "A")
    arms = (plan.treatments[0], replace(plan.treatments[1], steps=steps))
    assert [f.pointer for f in faults(replace(plan, treatments=arms))] == ["/treatments/1/steps"]


# the order


def test_untreated_comes_first_then_carriers_then_rising_dose_and_sticky_last() -> None:
    plan = a_plan(
        "Gel 1000", "IBA 4000 ppm", "Untreated", "IBA 500 ppm", "Alcohol only", "IBA 0.1 %", units=2
    )
    kinds = (
        (Agent.HORMONE, Carrier.GEL), (Agent.HORMONE, Carrier.ALCOHOL), (Agent.NOTHING, Carrier.NONE), (Agent.HORMONE, Carrier.ALCOHOL),
        (Agent.NOTHING, Carrier.ALCOHOL), (Agent.HORMONE, Carrier.ALCOHOL),
    )  # fmt: skip
    arms = tuple(
        replace(t, agent=a, carrier=c) for t, (a, c) in zip(plan.treatments, kinds, strict=True)
    )
    plan = replace(plan, treatments=arms)
    assert [arms[i].name for i in order_of(plan)] == ["Untreated", "Alcohol only", "IBA 500 ppm", "IBA 0.1 %", "IBA 4000 ppm", "Gel 1000"]  # fmt: skip
    steps = order_of_work(plan)
    keys = [s.key for s in steps]
    assert keys.index("clean") < keys.index("shuffle") < keys.index("arm-2")
    assert keys.index("change-1") < keys.index("arm-1")
    assert "change-2" not in keys
    assert {"pour", "discard", "place"} <= set(keys)


def test_a_trial_without_liquids_pours_nothing() -> None:
    plan = a_plan("Tip", "Leaf-bud")
    assert not {"pour", "discard", "water"} & {s.key for s in order_of_work(plan)}


@pytest.mark.parametrize(
    ("name", "properties", "is_last"),
    [("Charcoal mix", (("medium", "1 charcoal : 3 peat"),), False), ("Bases dipped in charcoal dust", (("medium", "peat"),), True), ("Cinnamon", (), True)],
)  # fmt: skip
def test_charcoal_as_a_medium_is_no_sticky_dip(name: str, properties: tuple[tuple[str, str], ...], is_last: bool) -> None:  # fmt: skip
    plan = a_plan("U", "A", "Z")
    arms = (plan.treatments[0], replace(plan.treatments[1], name=name, agent=Agent.OTHER, properties=properties),
            replace(plan.treatments[2], agent=Agent.HORMONE, carrier=Carrier.ALCOHOL))  # fmt: skip
    assert (order_of(replace(plan, treatments=arms))[-1] == 1) is is_last


@pytest.mark.parametrize(
    ("name", "properties", "pours"),
    [("Coat peeled", (), False), ("Nicked", (("coat", "nicked"),), False), ("Seaweed", (), True), ("Nicked, then soaked", (), True)],
)  # fmt: skip
def test_a_coat_that_is_peeled_has_no_working_portion(name: str, properties: tuple[tuple[str, str], ...], pours: bool) -> None:  # fmt: skip
    plan = a_plan("U", "A", kind=Kind.SEED)
    arm = replace(plan.treatments[1], name=name, agent=Agent.OTHER, carrier=Carrier.NONE, properties=properties)  # fmt: skip
    keys = {s.key for s in order_of_work(replace(plan, treatments=(plan.treatments[0], arm)))}
    assert ("pour" in keys) is pours


@pytest.mark.parametrize(
    ("words", "ppm"),
    [("IBA 1000 ppm in 50 % alcohol", 1000), ("0.3 % talc", 3000), ("2 g/L", 2000), ("5 mM", 1000), ("50 % alcohol", 0), ("nothing", 0), ("500-1000 ppm", 0)],
)  # fmt: skip
def test_a_dose_in_words_ranks_the_order_of_work(words: str, ppm: float) -> None:
    assert ranked_dose(words) == pytest.approx(ppm)


def test_alcohol_percent_is_not_taken_for_a_dose() -> None:
    plan = a_plan("U", "A", "B")
    details = ("", "IBA 500 ppm in 50 % alcohol", "IBA 1000 ppm in 30 % alcohol")
    arms = tuple(replace(t, detail=d, agent=Agent.HORMONE if d else Agent.NOTHING) for t, d in zip(plan.treatments, details, strict=True))  # fmt: skip
    assert order_of(replace(plan, treatments=arms)) == (0, 1, 2)


# cautions


@pytest.mark.parametrize(
    ("words", "codes"),
    [
        ("IBA 1000 ppm", {"hormone", "waste"}), ("K-NAA", {"hormone", "waste"}), ("gibberellin", {"hormone", "waste"}), ("50 % isopropanol", {"alcohol"}), ("3 % peroxide", {"peroxide"}),
        ("bleach 1 + 9", {"bleach", "waste"}), ("talc", {"dust"}), ("perlite and compost", {"dust", "compost"}), ("sphagnum", {"moss"}), ("coat nicked", {"blade"}),
        ("fig, hardwood", {"sap"}), ("heat mat", {"mains"}), ("hot water 80 °C", {"hot_water"}), ("sulphuric acid", {"acid"}), ("tomato seed", {"food"}),
        ("willow water", {"home_made"}), ("a protected variety", {"protected"}), ("knotweed", {"invasive"}), ("imported seed", {"quarantine"}), ("wild seed", {"wild"}),
        ("tetrazolium", {"lab"}), ("grow light", {"lamps"}), ("lavender, untreated", set()), ("sweet pea", set()), ("three jars", set()),
    ],
)  # fmt: skip
def test_a_caution_shows_only_where_its_input_occurs(words: str, codes: set[str]) -> None:
    assert {c.code for c in cautions_in(words)} == codes


def test_a_plan_gathers_each_caution_once() -> None:
    plan = a_plan("U", "IBA 500", "IBA 1000", material="fig")
    arms = tuple(replace(t, agent=Agent.HORMONE, carrier=Carrier.ALCOHOL) if i else t for i, t in enumerate(plan.treatments))  # fmt: skip
    codes = [c.code for c in cautions_of_plan(replace(plan, treatments=arms))]
    assert sorted(codes) == sorted(set(codes))
    assert set(codes) == {"hormone", "alcohol", "sap", "waste"}


# the register

BOTTLE = AgentLot("a", "IBA", "acid", "1 %", "liquid", "alcohol", "7", opened_on="2026-05-01")


@pytest.mark.parametrize(
    ("change", "codes"),
    [
        ({}, []),
        ({"expires_on": "2026-05-24"}, ["expired"]),
        ({"expires_on": "2026-05-25"}, []),
        ({"opened_on": "2025-05-01"}, ["kept_long"]),
        ({"opened_on": ""}, ["undated"]),
        ({"basis": ""}, ["basis_unknown"]),
        ({"strength": ""}, ["strength_unknown"]),
        ({"carrier": "water", "opened_on": "2026-05-20"}, ["acid_in_water"]),
        ({"active": "K-IBA", "basis": "salt", "carrier": "water", "opened_on": "2026-05-20"}, []),
        ({"active": "K-IBA", "basis": "salt", "carrier": "water", "opened_on": "2026-05-01"}, ["kept_long"]),
        ({"active": "honey", "basis": "", "strength": "80 %"}, []),
    ],
)  # fmt: skip
def test_what_is_said_of_an_agent_today(change: dict[str, Any], codes: list[str]) -> None:
    found = notes_on_agent(replace(BOTTLE, **change), TODAY)
    assert [f.code for f in found] == codes


def test_a_salt_drawn_on_for_an_arm_named_by_the_acid_is_said() -> None:
    plan = a_plan("U", "IBA 1000 ppm")
    salt = replace(BOTTLE, active="K-IBA", basis="salt")
    found = notes_on_agent(salt, TODAY, plan, plan.treatments[1])
    assert "salt_for_acid" in [f.code for f in found]
    assert "1.187" in next(f.says for f in found if f.code == "salt_for_acid")
    named = a_plan("U", "K-IBA 1000 ppm")
    assert "salt_for_acid" not in [f.code for f in notes_on_agent(salt, TODAY, named, named.treatments[1])]  # fmt: skip


def test_a_powder_for_jars_of_water_does_not_suit() -> None:
    plan = a_plan("Tap water", "Talc", question="In jars of water: does a talc help?")
    talc = AgentLot("a", "IBA", "acid", "0.8 %", "talc", expires_on="2027-01-01")
    assert [f.code for f in notes_on_agent(talc, TODAY, plan, plan.treatments[1])] == ["form_unsuited"]  # fmt: skip


def test_an_old_or_undated_label_of_seed_is_said() -> None:
    lot = PlantLot("p", "Sweet pea", germination_percent=82.0)
    assert [f.code for f in notes_on_plant(lot, TODAY)] == ["label_undated"]
    assert [f.code for f in notes_on_plant(replace(lot, tested_on="2025-01-01"), TODAY)] == ["label_old"]  # fmt: skip
    assert notes_on_plant(replace(lot, tested_on="2026-03-01"), TODAY) == ()
    assert notes_on_plant(PlantLot("p", "Lavender"), TODAY) == ()


@pytest.mark.parametrize(
    ("change", "pointer"),
    [
        ({"active": " "}, "/active"), ({"form": "syrup"}, "/form"), ({"basis": "both"}, "/basis"), ({"strength": "strong"}, "/strength"), ({"strength": "1,500 ppm"}, "/strength"),
        ({"expires_on": "soon"}, "/expires_on"), ({"price": -1.0}, "/price"), ({"made_on": "2031-01-01"}, "/made_on"), ({"expires_on": "9999-01-01"}, "/expires_on"), ({"batch": "x" * 300}, "/batch"),
    ],
)  # fmt: skip
def test_a_bad_agent_is_refused_with_its_field(change: dict[str, Any], pointer: str) -> None:
    check_agent(BOTTLE, TODAY)
    with pytest.raises(InvalidInput) as caught:
        check_agent(replace(BOTTLE, **change), TODAY)
    assert caught.value.pointer == pointer


@pytest.mark.parametrize(
    ("change", "pointer"),
    [({"species": ""}, "/species"), ({"stage": "woody"}, "/stage"), ({"year": 26}, "/year"), ({"germination_percent": 120.0}, "/germination_percent"), ({"tested_on": "May"}, "/tested_on"), ({"tested_on": "2031-05-01"}, "/tested_on"), ({"tested_on": "0202-05-01"}, "/tested_on"), ({"year": 2199}, "/year")],
)  # fmt: skip
def test_bad_plant_material_is_refused_with_its_field(change: dict[str, Any], pointer: str) -> None:
    with pytest.raises(InvalidInput) as caught:
        check_plant(replace(PlantLot("p", "Lavender"), **change), TODAY)
    assert caught.value.pointer == pointer


# what the plan calls for


def test_the_recipes_a_plan_calls_for_carry_its_figures() -> None:
    plan = a_plan(
        "Untreated",
        "Alcohol only",
        "IBA 1000 ppm",
        "Talc 0.3 %",
        dip_ml=150.0,
        pot_ml=350.0,
        material="semi-ripe tips",
    )
    shapes: tuple[dict[str, Any], ...] = (
        {}, {"carrier": Carrier.ALCOHOL, "detail": "50 % alcohol, 5 s"}, {"agent": Agent.HORMONE, "carrier": Carrier.ALCOHOL, "detail": "in 50 % alcohol", "agent_id": "a"},
        {"agent": Agent.HORMONE, "carrier": Carrier.TALC},
    )  # fmt: skip
    arms = tuple(replace(t, **s) for t, s in zip(plan.treatments, shapes, strict=True))
    found = {s.treatment: s for s in suggested(replace(plan, treatments=arms), None, {"a": BOTTLE})}
    assert found[1].key == "alcohol"
    assert found[2].fields["stock"] == "1 %"
    assert found[2].fields["stage"] == "semi_ripe"
    assert found[2].fields["volume"] == "150 mL"
    assert found[3].key == "talc"
    assert found[3].fields["target"] == "0.3 %"
    assert found[None].key == "medium"
    assert 0 not in found
    crystals = replace(BOTTLE, form="crystals", strength="99 %")
    weighed = {s.treatment: s.key for s in suggested(replace(plan, treatments=arms), None, {"a": crystals})}  # fmt: skip
    assert weighed[2] == "weigh"


# what was really set


def bench(*arms: int, **of: dict[int, Any]) -> tuple[Unit, ...]:
    """Units in a row, with what was said of some by their index."""
    units = [Unit(str(i), Cell(0, 0, i, 0, arm)) for i, arm in enumerate(arms)]
    for name, said in of.items():
        for i, value in said.items():
            units[i] = replace(units[i], **{name: value})
    return tuple(units)


def test_planned_against_set_is_counted_by_arm() -> None:
    units = bench(0, 0, 1, 1, is_set={2: False}, why={2: "too soft"}, late={1: 2}, lot={0: "B"})
    plain, treated = set_by_arm(a_plan("U", "A", units=2), units)
    assert (plain.planned, plain.set, plain.late, plain.other) == (2, 2, 1, 1)
    assert (treated.planned, treated.set, treated.whys) == (2, 1, ("1 × too soft",))


def notes_on_sticking(plan: Plan, units: Sequence[Unit]) -> dict[str, str]:
    at = datetime(2026, 5, 1, 12, tzinfo=UTC)
    trial = Trial("t", plan, Status.STARTED, 1, tuple(units), at, at)
    found = finish_of(trial, [], []).whole.notes
    return {n.code: n.message for n in found if n.code in ("not_set", "set_apart", "substituted")}


def test_the_finish_is_told_of_what_was_set_otherwise() -> None:
    plan = a_plan("U", "A", units=2)
    assert notes_on_sticking(plan, bench(0, 0, 1, 1)) == {}
    units = bench(
        0, 0, 1, 1, is_set={0: False}, why={0: "ran out"}, late={2: 3, 3: 3}, lot={1: "B"}
    )
    codes = notes_on_sticking(plan, units)
    assert set(codes) == {"not_set", "set_apart", "substituted"}
    assert "1 of 2 of U (1 × ran out)" in codes["not_set"]
    assert "A 3 days after day 0" in codes["set_apart"]
    assert "different weather" in codes["set_apart"]
    assert "more than the treatment" in codes["substituted"]


def test_equal_ages_are_judged_never_equal_dates() -> None:
    """An arm set five days later, seen on the same dates, is judged as if set on day 0."""
    plan = a_plan("U", "A", units=6, blocks=1, length_days=42)
    on_time = bench(*[0] * 6, *[1] * 6)
    late = bench(*[0] * 6, *[1] * 6, late=dict.fromkeys(range(6, 12), 5))

    def logs(delay: int) -> list[UnitLog]:
        return [
            UnitLog(tuple(Look(d + (delay if i >= 6 else 0), 6 if d >= 21 else 1) for d in range(7, 43, 7)))
            for i in range(12)
        ]  # fmt: skip

    same = judge(plan, results_of(plan, on_time, logs(0)), seed=1)
    moved = judge(plan, results_of(plan, late, logs(5)), seed=1)
    assert [(a.strike, a.half) for a in same.arms] == [(a.strike, a.half) for a in moved.arms]
    assert [c.grade for c in same.comparisons] == [c.grade for c in moved.comparisons]
    assert own_ages(late, logs(5)) == logs(0)


def test_looks_before_a_units_own_day_0_are_not_its_own() -> None:
    (unit,) = bench(0, late={0: 3})
    log = UnitLog((Look(2, 1), Look(3, 1), Look(9, 6)))
    assert [x.day for x in own_ages([unit], [log])[0].looks] == [0, 6]


def trial_of(plan: Plan, units: tuple[Unit, ...]) -> Trial:
    return Trial("t", plan, Status.STARTED, 1, units, TEN, TEN)


def test_both_days_are_said_where_units_differ() -> None:
    plan = a_plan("U", "Soaked", units=2, kind=Kind.SEED, day0=Day0.SOWING)
    assert days_say(trial_of(plan, bench(0, 0, 1, 1)), 9) == ""
    late = bench(0, 0, 1, 1, late={2: 2, 3: 2})
    assert days_say(trial_of(plan, late), 9) == "from their own sowing: day 7 for Soaked"
    assert "Soaked" not in days_say(trial_of(replace(plan, blind=True), late), 9)
    wet = replace(soaked({"Dry": 0, "Two": 48}), day0=Day0.WETTING)
    assert days_say(trial_of(wet, bench(0, 1)), 9) == "day 7 from sowing for the longest soak"
