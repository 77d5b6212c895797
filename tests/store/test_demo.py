"""The invented scenario: made as a user would, the same every time, honest in what it says."""

import pytest

from racecard.core.assess.grade import Grade
from racecard.core.assess.judge import judge
from racecard.core.log.assemble import in_force, results_of, unit_logs
from racecard.core.log.days import elapsed_days
from racecard.demo.scenario import LAVENDER, SWEET_PEA, build_demo
from racecard.errors import Conflict
from racecard.store.clock import load_marks
from racecard.store.engine import Shed
from racecard.store.materials import load_agents
from racecard.store.mixing import load_recipes
from racecard.store.rounds import load_observations
from racecard.store.trials import load_trial
from tests.conftest import Clock, Demo


def dump(shed: Shed, trials: list[str]) -> list[tuple[object, ...]]:
    """Everything the demo logged but ids: what, where and when."""
    out: list[tuple[object, ...]] = []
    with shed.reading() as session:
        for trial in trials:
            cells = {u.id: u.cell for u in load_trial(session, trial).units}
            for o in load_observations(session, trial):
                out.append((cells[o.unit_id], o.kind, o.day, o.seen_at, o.stage, o.struck, o.score))
    return out


def test_built_twice_at_one_now_it_is_the_same(shed: Shed, demo: Demo) -> None:
    again = [t.id for t in build_demo(shed)]
    assert dump(shed, again) == dump(demo.shed, [t.id for t in demo.trials])


def test_it_is_added_once(demo: Demo) -> None:
    assert all(t.invented for t in demo.trials)
    with pytest.raises(Conflict):
        build_demo(demo.shed)


def test_lavender_tells_a_lead_and_a_harm(demo: Demo) -> None:
    trial = demo.trials[0]
    with demo.shed.reading() as session:
        log = load_observations(session, trial.id)
    results = results_of(trial.plan, trial.planted, unit_logs(trial.planted, log))
    found = judge(trial.plan, results, seed=trial.seed, end_day=trial.plan.length_days)
    by_name = {trial.plan.treatments[c.index].name: c for c in found.comparisons}
    assert found.is_final
    assert by_name["IBA 1000 ppm"].grade is Grade.CLEAR_LEAD
    assert by_name["IBA 4000 ppm"].harm
    assert not trial.is_sealed


def test_sweet_pea_has_a_round_due_today(demo: Demo) -> None:
    trial = demo.trials[1]
    with demo.shed.reading() as session:
        days = {o.day for o in in_force(load_observations(session, trial.id))}
    assert SWEET_PEA.today % SWEET_PEA.plan.look_every_days == 0
    assert max(days) == SWEET_PEA.today - SWEET_PEA.plan.look_every_days


def test_no_product_names_stand_in_the_scenario() -> None:
    for made in (LAVENDER, SWEET_PEA):
        for t in made.plan.treatments:
            assert not any(mark in t.name + t.detail for mark in ("®", "™", "No. "))


def test_at_ten_past_midnight_today_is_the_same_day(shed: Shed, clock: Clock) -> None:
    clock.now = clock.now.replace(hour=0, minute=10)
    trials = build_demo(shed)
    started = trials[1].started_at
    assert started is not None
    assert elapsed_days(started, clock.now, "UTC") == SWEET_PEA.today


def test_lavender_has_its_recipes_its_clock_and_what_it_drew_on(demo: Demo) -> None:
    lavender = demo.trials[0]
    with demo.shed.reading() as session:
        recipes, marks = load_recipes(session, lavender.id), load_marks(session, lavender.id)
        agents = {a.id: a.name for a in load_agents(session)}
    assert [r.arm for r in recipes] == [t.name for t in lavender.plan.treatments[1:]]
    assert [r.card["amounts"][0]["shown"] for r in recipes] == [
        "71.43 mL",
        "5 mL",
        "10 mL",
        "40 mL",
    ]
    assert all(r.at < (lavender.started_at or r.at) for r in recipes)
    assert all(m.stopped_at is not None for m in marks.values())
    assert len(marks) == 4
    drawn = {agents.get(t.agent_id) for t in lavender.plan.treatments[2:]}
    assert drawn == {"IBA 1 % liquid, batch 7"}
