"""Sentences are made from the numbers, say what is meant, and hold any name."""

from dataclasses import replace

import pytest

from racecard.core.finish.finish_result import whole_finish
from racecard.core.log.course import Dot, DotState
from racecard.core.model import Role
from racecard.core.plan.summary import stands
from racecard.core.stats.proportions import Interval
from racecard.core.text.amounts import points, span
from racecard.core.text.verdicts import with_isolated_names
from tests.builders import LAST, a_plan, counts, lost, removed, singles, struck, waiting


@pytest.mark.parametrize(
    ("gap", "said"),
    [(0.125, "+13"), (-0.125, "−13"), (0.004, "0"), (-0.004, "0"), (0.5, "+50"), (-1.0, "−100")],
)
def test_points_carry_their_sign_and_round_away_from_nought(gap: float, said: str) -> None:
    assert points(gap) == said


def test_an_interval_is_said_as_a_span() -> None:
    assert span(a_plan(), Interval(0.5, 0.19, 0.7, "newcombe")) == "+19 to +70"
    assert span(a_plan(), Interval(0.5, None, None, "none", "why")) == ""


def sentences(
    *arms: tuple[int, int], names: tuple[str, ...] = ("Untreated", "A", "B", "C")
) -> list[str]:
    found = whole_finish(a_plan(*names[: len(arms)]), counts(*arms), seed=1, end_day=LAST)
    return [found.headline, *found.says]


def test_a_lead_is_said_with_its_doubt() -> None:
    found = sentences((2, 16), (13, 16))
    assert found[0] == "A is clearly ahead: 13 of 16 rooted, against 2 of 16 for Untreated."
    assert found[1].startswith("A: 69 points more than Untreated (95 % interval +")
    assert found[1].endswith("Clearly ahead.")


def test_behind_is_not_called_ahead() -> None:
    found = sentences((14, 16), (2, 16))
    assert found[0] == "A is clearly behind: 2 of 16 rooted, against 14 of 16 for Untreated."
    assert "points fewer than Untreated" in found[1]


def test_nobody_can_tell_is_said_first() -> None:
    assert sentences((7, 16), (9, 16))[0].startswith("No clear result:")
    assert sentences((0, 3), (3, 3))[0].startswith("This trial could not have told: 3 of each is")


def test_the_most_promising_open_question_is_the_one_to_settle() -> None:
    found = [s for s in sentences((8, 16), (6, 16), (11, 16)) if s.startswith("To settle")]
    assert len(found) == 1
    assert found[0].startswith("To settle B: about")


def test_treatments_with_one_result_share_a_sentence() -> None:
    found = [s for s in sentences((1, 24), (23, 24), (22, 24)) if "over time" in s]
    assert found == ["A and B were ahead over time because more of them rooted (secondary, clear)."]


def test_names_with_and_in_them_are_set_in_marks() -> None:
    found = sentences((1, 24), (23, 24), (22, 24), names=("U", "Nicked", "Nicked and soaked"))
    assert found[0].startswith("“Nicked” (23 of 24 rooted) and “Nicked and soaked” (22 of 24) are")


def test_names_that_run_right_to_left_are_set_apart() -> None:
    plan = with_isolated_names(a_plan("U", "هرمون 🌱"))
    assert [t.name for t in plan.treatments] == ["U", "\u2068هرمون 🌱\u2069"]


def test_nothing_seen_yet_is_said() -> None:
    empty = singles([waiting()] * 4, [waiting()] * 4, looks=[])
    found = whole_finish(a_plan(), empty, seed=1, end_day=LAST)
    assert found.headline.startswith("No result yet")
    assert "not looked at yet" in found.says[0]


def test_what_rests_on_the_removed_is_said() -> None:
    control = [struck()] * 2 + [waiting()] * 12
    treated = [struck()] * 13 + [removed()]
    found = whole_finish(a_plan(), singles(control, treated), seed=1, end_day=LAST)
    assert "same_either_way" in {s.code for s in found.statements}


def test_harm_is_said_apart_from_strike() -> None:
    treated = [lost()] * 9 + [waiting()] * 3
    found = whole_finish(a_plan(), singles([waiting()] * 12, treated), seed=1, end_day=LAST)
    assert any("lost more plants than Untreated: 9 of 12 against 0 of 12" in s for s in found.says)
    assert found.judgement.comparisons[0].harm


@pytest.mark.parametrize(
    ("today", "dots", "part"),
    [
        (3, {3: DotState.DUE}, "Round of day 3 is due"),
        (4, {3: DotState.DUE}, "due, a day late"),
        (2, {3: DotState.COMING}, "tomorrow"),
        (5, {3: DotState.MISSED, 9: DotState.COMING}, "One look was missed"),
        (42, {42: DotState.DONE}, "Finished"),
        (
            60,
            {3: DotState.MISSED, 6: DotState.MISSED},
            "last round incomplete. 2 looks were missed",
        ),
    ],
)
def test_how_a_trial_stands(today: int, dots: dict[int, DotState], part: str) -> None:
    plan = a_plan(length_days=42)
    assert part in stands(plan, True, today, [Dot(d, s) for d, s in dots.items()]).says


def test_a_draft_stands_still() -> None:
    assert stands(a_plan(), False, None, []).says == "Draft, not started"


def test_what_is_small_early_or_without_a_control_is_said_in_the_verdict() -> None:
    early = whole_finish(a_plan(), counts((0, 12), (12, 12)), seed=1, end_day=60)
    assert early.sentence(1).startswith("So far: ")
    small = whole_finish(a_plan(), counts((450, 1000), (550, 1000)), seed=1, end_day=LAST)
    assert "too small to matter" in small.sentence(1)
    alone = a_plan("A", "B", roles=[Role.CANDIDATE, Role.CANDIDATE])
    found = whole_finish(alone, counts((3, 8), (6, 8)), seed=1, end_day=LAST)
    assert found.headline.startswith("No verdict: nothing was left untreated")


def test_a_reason_keeps_names_that_run_right_to_left_apart() -> None:
    arms = a_plan("U", "هرمون").treatments
    here, there = (("place", "shed"),), (("place", "sill"), ("active", "honey"))
    arms = (replace(arms[0], properties=here), replace(arms[1], properties=there))
    found = whole_finish(replace(a_plan(), treatments=arms), counts((2, 20), (19, 20)), seed=1)
    assert "\u2068هرمون\u2069" in found.judgement.comparisons[0].reason
