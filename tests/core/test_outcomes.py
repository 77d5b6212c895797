"""What is watched for beside roots and seedlings: its stages, what counts, and how it is said."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest

from racecard.core.design.begun import Begun, begun_plan
from racecard.core.design.question import read_question
from racecard.core.finish.of_trial import finish_of
from racecard.core.log.goal import do, done
from racecard.core.log.lift import lift_stage
from racecard.core.log.look_grid import mark_of, read_mark
from racecard.core.log.stages import endpoint_name, ladder_for, stage_scale_of
from racecard.core.model import Cell, Kind, Measure, Outcome, Plan, Role, Status, Trial, Unit
from racecard.core.model.drawings import STAGES
from racecard.core.model.observation import Observation
from racecard.core.notes import Evidence, collect
from racecard.core.plan.check import faults
from racecard.core.plan.record import as_record, fingerprint, from_record
from tests.builders import a_plan

T0 = datetime(2026, 3, 1, 9, tzinfo=UTC)
OWN = ("no change", "leaf yellow", "leaf gone")


def watched(outcome: Outcome, **more: object) -> Plan:
    plan = a_plan(outcome=outcome, own_steps=OWN if outcome is Outcome.OWN else ())
    return replace(plan, endpoint=stage_scale_of(plan).default_endpoint, **more)  # type: ignore[arg-type]


@pytest.mark.parametrize("kind", Kind)
@pytest.mark.parametrize("outcome", Outcome)
def test_every_outcome_has_keys_of_its_own_and_drawings(kind: Kind, outcome: Outcome) -> None:
    ladder = ladder_for(kind, outcome, OWN if outcome is Outcome.OWN else ())
    keys = [s.key for s in ladder.stages] + [e.key for e in ladder.exits]
    assert len(set(keys)) == len(keys)
    assert {s.drawing for s in ladder.stages} <= set(STAGES)
    assert ladder.default_endpoint in ladder.endpoints
    assert set(ladder.endpoints) <= {s.code for s in ladder.stages}


@pytest.mark.parametrize(
    ("outcome", "says", "did"),
    [
        (Outcome.SHOOT, "shoot showing", "had a shoot"),
        (Outcome.BLOOM, "in bloom", "bloomed"),
        (Outcome.BULB, "bulblet or bud", "made a bulblet or bud"),
        (Outcome.OWN, "leaf gone", "reached “leaf gone”"),
    ],
)
def test_twelve_bulbs_are_judged_on_what_was_watched(outcome: Outcome, says: str, did: str) -> None:
    plan = watched(outcome, units=6)
    assert (endpoint_name(plan), done(plan)) == (says, did)
    assert faults(plan) == ()
    units = [Unit(f"u{i}", Cell(0, 0, i, 0, i % 2)) for i in range(12)]
    log = [
        Observation(f"o{u.id}{day}", u.id, "look", day, T0 + timedelta(days=day), "me",
                    stage=plan.endpoint if day == 42 and u.cell.treatment else 1)
        for u in units for day in (14, 42)
    ]  # fmt: skip
    found = finish_of(Trial("t", plan, Status.STARTED, 1, tuple(units), T0, T0), log, [])
    assert [a.strike.struck for a in found.whole.judgement.arms] == [0, 6]
    assert found.whole.answer is not None
    assert did in found.whole.answer.text
    assert "root" not in found.whole.answer.text


def test_a_root_says_nothing_of_the_top() -> None:
    assert lift_stage(watched(Outcome.BLOOM), 5, {"roots": 9.0, "longest": 40.0}) is None
    (fault,) = faults(watched(Outcome.SHOOT, measure=Measure.QUALITY))
    assert fault.pointer == "/measure"


@pytest.mark.parametrize(
    ("steps", "says"),
    [
        ((), "Name 2 to 6 steps"), (("only",), "Name 2 to 6 steps"), (tuple("abcdefg"), "Name 2 to 6 steps"),
        (("none", "None "), "the same name"), (("none", "\u202e"), "invisible"),
    ],
)  # fmt: skip
def test_steps_that_cannot_be_are_told(steps: tuple[str, ...], says: str) -> None:
    found = faults(replace(watched(Outcome.OWN), own_steps=steps, endpoint=2))
    assert any(says in f.says and f.pointer == "/own_steps" for f in found)
    assert faults(replace(a_plan(), own_steps=("a", "b")))[0].pointer == "/own_steps"


def test_own_steps_are_kept_marked_and_part_of_the_fingerprint() -> None:
    plan = watched(Outcome.OWN)
    assert Plan(**from_record(Plan, as_record(plan))) == plan
    other = replace(plan, own_steps=("no change", "leaf yellow", "leaf lost"))
    assert fingerprint(plan, (), 1) != fingerprint(other, (), 1)
    said = read_mark("Leaf yellow", plan)
    assert (said.stage, mark_of(said, plan)) == (2, "2")


@pytest.mark.parametrize(
    ("line", "outcome"),
    [
        ("Do twelve tulip bulbs bloom sooner with feed?", Outcome.BLOOM),
        ("Do single node cuttings of fig shoot more with honey?", Outcome.SHOOT),
        ("Do more narcissus scales make bulblets in the warm?", Outcome.BULB),
        ("Do non-flowering shoots of lavender root better than flowering ones?", Outcome.USUAL),
        ("Do bulbs bloom with rooting powder?", Outcome.BLOOM),
        ("Does a soak help peas emerge?", Outcome.USUAL),
    ],
)
def test_a_line_says_what_is_watched_for(line: str, outcome: Outcome) -> None:
    assert read_question(line).outcome is outcome
    begun = Begun(line, ("feed", "nothing"), 1, ((0, 1),), 5)
    plan = begun_plan(begun)
    assert plan.outcome is outcome
    assert plan.endpoint in stage_scale_of(plan).endpoints


@pytest.mark.parametrize(
    ("plan", "has"),
    [
        (a_plan(), "rooted"),
        (a_plan(kind=Kind.SEED, endpoint=3), "come up"),
        (replace(watched(Outcome.BLOOM, units=6), endpoint=3), "shown colour"),
        (replace(watched(Outcome.OWN, units=6), own_steps=()), "struck"),
    ],
)
def test_a_plan_without_a_control_says_what_it_cannot_tell_of_its_own_plants(
    plan: Plan, has: str
) -> None:
    """A draft whose own steps are not written yet, too."""
    alone = tuple(replace(t, role=Role.CANDIDATE) for t in plan.treatments)
    notes = collect(Evidence(replace(plan, treatments=alone)))
    (note,) = (n for n in notes if n.code == "no_control")
    assert f"would have {has} without treatment" in note.message


def test_every_goal_is_told_in_the_past_and_the_present() -> None:
    plans = [a_plan(kind=Kind.SEED, endpoint=e) for e in range(2, 7)]
    plans += [a_plan(outcome=Outcome.BLOOM, endpoint=e) for e in (2, 3, 4)]
    plans += [a_plan(endpoint=6), a_plan(outcome=Outcome.OWN, own_steps=("a", "b"), endpoint=2)]
    assert [do(p) for p in plans] == [
        "germinate", "come up", "open their seed leaves", "have a true leaf", "are plantable",
        "have a bud", "show colour", "bloom", "root", "reach “b”",
    ]  # fmt: skip
    assert [done(p) for p in plans[1::6]] == ["came up", "bloomed"]
