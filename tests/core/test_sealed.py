"""What the finish opens: predictions, amendments, and the measure the plan was judged on."""

from dataclasses import replace
from datetime import UTC, datetime

import pytest

from racecard.core.assess.grade import Grade
from racecard.core.assess.judge import judge
from racecard.core.assess.predictions import scored_predictions
from racecard.core.exchange.exported import lines_of
from racecard.core.finish.finish_result import whole_finish
from racecard.core.log.assemble import unit_logs
from racecard.core.model import Amendment, Layout, Measure, Plan, Role, Status, Subject, Trial, Unit
from racecard.core.notes import Evidence, Kept, collect
from racecard.core.plan.bench import draw_bench
from racecard.core.text.predictions import amendments_say, predictions_say
from tests.builders import a_plan, counts, singles, struck, waiting

# --- sealed until the finish ------------------------------------------------------------------


def predicted(*values: float | None) -> Plan:
    plan = a_plan("U", "A", units=20)
    arms = tuple(replace(t, prediction=v) for t, v in zip(plan.treatments, values, strict=True))
    return replace(plan, treatments=arms)


def test_predictions_are_scored_at_the_end_and_never_before() -> None:
    plan = predicted(50, 60)
    results = counts((5, 20), (18, 20))
    scored = scored_predictions(plan, judge(plan, results, seed=1, end_day=42))
    assert [s.off_points for s in scored] == pytest.approx([25, -30], abs=1e-9)
    assert [s.inside for s in scored] == [False, False]
    assert "28 points off on average, and the one you put first" in predictions_say(plan, scored)
    assert scored_predictions(plan, judge(plan, results, seed=1, end_day=60)) == ()


def test_one_prediction_and_a_wrong_order_are_said_as_such() -> None:
    results = counts((5, 20), (18, 20))
    one = predicted(None, 60)
    says = predictions_say(one, scored_predictions(one, judge(one, results, seed=1)))
    assert says == "Your prediction was 30 points off."
    wrong = predicted(80, 60)
    says = predictions_say(wrong, scored_predictions(wrong, judge(wrong, results, seed=1)))
    assert says.endswith("You expected U first; A was first.")
    assert predictions_say(wrong, ()) == ""


def test_a_goal_that_was_moved_is_an_objection() -> None:
    at = datetime(2026, 5, 3, tzinfo=UTC)
    moved = Amendment(at, "Ines", "endpoint", "rooted", "first root", "they were slow")
    told = Amendment(at, "Ines", "", "", "tray B stood by the door", "leak")
    trial = Trial("t", predicted(None, None), Status.STARTED, 1, (), at, at)
    for amendments, fires in (((moved, told), True), ((told,), False)):
        kept = Kept(replace(trial, amendments=amendments), [], [], (), {}, ())
        notes = collect(Evidence(trial.plan, kept=kept))
        assert ("goal_moved" in {n.code for n in notes}) is fires
    assert amendments_say([moved, told], {"endpoint": "Counts as rooted when"}) == (
        "Counts as rooted when was rooted, became first root (they were slow).",
        "tray B stood by the door (leak).",
    )


# --- what it is judged on ---------------------------------------------------------------------


def test_the_headline_follows_the_measure_of_the_plan() -> None:
    soon, late = [struck(9)] * 20, [struck(30)] * 20
    plan = a_plan("U", "A", units=20, measure=Measure.SPEED)
    found = whole_finish(plan, singles(late, soon), seed=1)
    assert found.judgement.comparisons[0].strike_grade is Grade.TOO_CLOSE
    assert found.judgement.comparisons[0].grade is Grade.CLEAR_LEAD
    assert found.headline.startswith(
        "A is clearly ahead on speed: half had rooted by day 9, against day 30 for U."
    )
    assert found.statements[0].code == "judged_on"


def test_the_headline_may_be_of_the_root_score() -> None:
    plan = a_plan("U", "A", units=12, measure=Measure.QUALITY)
    results = singles([struck()] * 12, [struck()] * 12, scores=[1.0] * 12 + [4.0] * 12)
    found = whole_finish(plan, results, seed=1)
    assert found.judgement.comparisons[0].grade is Grade.CLEAR_LEAD
    assert found.headline.startswith(
        "A is clearly ahead on root score: 4 on average, against 1 for U."
    )
    none = judge(plan, singles([struck()] * 12, [waiting()] * 12), seed=1)
    assert none.comparisons[0].grade is Grade.TOO_CLOSE


def test_a_bench_laid_by_hand_is_never_clear() -> None:
    found = whole_finish(
        a_plan(units=20, layout=Layout.BY_HAND), counts((2, 20), (19, 20)), seed=1, lot_drawn=False
    )
    assert found.judgement.comparisons[0].grade is Grade.LIKELY_LEAD
    assert found.notes[0].code == "not_drawn"


def test_one_of_each_cannot_tell_and_says_why() -> None:
    found = whole_finish(a_plan(units=1), counts((0, 1), (1, 1)), seed=1)
    assert "there is one plant of each" in found.sentence(1)


def test_a_table_calls_control_what_the_others_were_compared_with() -> None:
    roles = [Role.STANDARD, Role.CANDIDATE]
    plan = a_plan("Tip", "Leaf-bud", roles=roles, subject=Subject.CUTTING_TYPE, units=2)
    units = [Unit(str(i), c) for i, c in enumerate(draw_bench(plan, 1)) if c.treatment >= 0]
    lines = lines_of(plan, units, unit_logs(units, []))
    assert {line["treatment"]: line["role"] for line in lines} == {
        "Tip": "control", "Leaf-bud": "candidate",
    }  # fmt: skip
