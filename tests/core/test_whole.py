"""The whole finish: what stands beside the verdict, and that odd input gets a word, never a NaN."""

from dataclasses import fields, is_dataclass, replace
from datetime import UTC, datetime
from itertools import combinations
from math import comb, isnan
from typing import Any

import numpy as np
import pytest
from scipy.stats import mannwhitneyu, rankdata

from racecard.core.assess.grade import Grade
from racecard.core.finish.finish_result import Whole, whole_finish
from racecard.core.finish.of_trial import finish_of, injured_units
from racecard.core.model import Cell, History, Kind, Measure, Status, Trial, Unit
from racecard.core.model.observation import Entry, Observation, Scope
from racecard.core.model.results import Results, results_from
from racecard.core.plan.arms import ladder
from racecard.core.prepare.register import AgentLot
from tests.builders import LAST, a_plan, containers, counts, lost, removed, singles, struck, waiting

AT = datetime(2026, 5, 3, 9, tzinfo=UTC)


def whole(results: Results, *names: str, **plan: Any) -> Whole:
    arms = names or ("Untreated", "A", "B", "C")[: int(results.treatment.max()) + 1]
    return whole_finish(a_plan(*arms, **plan), results, seed=1, end_day=LAST)


def numbers(thing: object) -> list[float]:
    """Every number inside a result, however deep."""
    if isinstance(thing, float):
        return [thing]
    if isinstance(thing, np.ndarray):
        return [float(v) for v in thing.ravel()]
    if isinstance(thing, dict):
        return [n for v in thing.values() for n in numbers(v)]
    if isinstance(thing, tuple | list):
        return [n for v in thing for n in numbers(v)]
    if is_dataclass(thing):
        return [n for f in fields(thing) for n in numbers(getattr(thing, f.name))]
    return []


def crowd(sown: int, up: int) -> Results:
    """One container of very many to a treatment."""
    return containers([(up, sown)], [(up + 20, sown)])


ODD = {
    "all struck": counts((8, 8), (8, 8)),
    "none struck": counts((0, 8), (0, 8), (0, 8)),
    "one unit": counts((1, 1), (0, 1)),
    "ties everywhere": counts((4, 8), (4, 8), (4, 8)),
    "all lost": singles([lost()] * 6, [lost()] * 6),
    "all removed": singles([removed()] * 5, [removed()] * 5),
    "one arm removed": singles([struck()] * 5, [removed()] * 5),
    "one look only": singles([struck(3)] * 6, [waiting()] * 6, looks=(3,)),
    "never looked at": singles([History()] * 4, [History()] * 4, looks=()),
    "2,000 in one container": crowd(2000, 900),
    "scores all alike": singles([struck()] * 6, [struck()] * 6, scores=[3.0] * 12),
    "no scores at all": singles([struck()] * 6, [struck()] * 6, scores=[None] * 12),
    "blocks with one arm": singles([struck()] * 4, [waiting()] * 4, blocks=[[0] * 4, [1] * 4]),
    "a treatment without units": results_from(
        [0] * 6 + [2] * 6, [0] * 12, [[struck()]] * 6 + [[waiting()]] * 6, [range(3, 43, 3)] * 12
    ),
}


@pytest.mark.parametrize("name", ODD)
def test_odd_input_gets_a_word_and_never_a_nan(name: str) -> None:
    found = whole(ODD[name])
    assert found.headline
    assert not any(isnan(n) for n in numbers(found))
    called = {c.grade for c in found.judgement.comparisons}
    if name not in ("one look only",):
        assert not called & {Grade.CLEAR_LEAD, Grade.LEVEL}
    for c in found.judgement.comparisons:
        assert found.sentence(c.index).endswith(".")


def test_looks_in_any_order_come_to_the_same() -> None:
    one = singles([struck()] * 6, [waiting()] * 6, looks=(3, 6, 9, 42, 21, 18))
    two = singles([struck()] * 6, [waiting()] * 6, looks=(42, 21, 18, 9, 6, 3))
    assert whole(one).says == whole(two).says


def test_the_chance_is_told_for_one_candidate_of_single_plants_alone() -> None:
    assert whole(counts((3, 10), (7, 10))).higher == pytest.approx(0.964332, abs=1e-5)
    assert whole(counts((3, 10), (7, 10), (5, 10))).higher is None
    assert whole(counts((0, 3), (3, 3))).higher is None  # three against three can tell nothing
    assert whole(containers([(3, 10)] * 4, [(7, 10)] * 4), per_container=10).higher is None


def test_a_ladder_s_sentences_stand_after_the_verdicts() -> None:
    plan = replace(a_plan(), treatments=ladder("IBA", 500, 2000, 3, "ppm"))
    found = whole_finish(plan, counts((4, 24), (14, 24), (21, 24), (5, 24)), seed=1)
    sections = [s.section.value for s in found.statements]
    assert sections[:6] == ["verdict"] * 3 + ["doses"] * 3


def test_seed_has_indices_and_cuttings_have_none() -> None:
    pots = containers([(3, 10)] * 4, [(7, 10)] * 4)
    found = whole(pots, kind=Kind.SEED, per_container=10)
    assert {i.id: i.value for i in found.indices[1]}["final"] == pytest.approx(70)
    assert whole(pots, per_container=10).indices == ()


def trial_of(each: int = 8, **plan: Any) -> Trial:
    units = tuple(Unit(f"u{i}", Cell(0, 0, i, 0, i % 2)) for i in range(2 * each))
    told = a_plan("Untreated", "IBA", **{"units": each, "gap_points": 20, **plan})
    return Trial("t", told, Status.STARTED, 1, units, AT, AT)


def log_of(trial: Trial, stage_of: dict[int, int], day: int = LAST) -> list[Observation]:
    return [
        Observation(f"o{u.id}-{d}", u.id, "look", d, AT, "me", stage=stage_of[u.cell.treatment] if d == day else 0)
        for u in trial.units
        for d in (21, day)
    ]  # fmt: skip


def entry(kind: str, unit: int, day: int, **more: Any) -> Entry:
    return Entry(f"e{unit}-{day}-{kind}", kind, Scope.UNIT, f"u{unit}", day, AT, "me", **more)


def codes(trial: Trial, log: list[Observation], entries: list[Entry], **more: Any) -> list[str]:
    return [n.code for n in finish_of(trial, log, entries, **more).whole.notes]


def test_signs_of_harm_are_tested_beside_the_loss() -> None:
    trial = trial_of()
    burnt = [
        entry("measure", i, 12, values=(("base_burn", 2.0 if i % 2 else 0.0),)) for i in range(16)
    ]
    found = finish_of(trial, log_of(trial, {0: 6, 1: 6}), burnt).whole
    assert found.judgement.comparisons[0].harm
    assert found.judgement.comparisons[0].hurt.by_injury
    assert "more_injured" in [n.code for n in found.notes]
    slight = [entry("measure", i, 12, values=(("base_burn", 1.0),)) for i in range(16)]
    assert (
        not finish_of(trial, log_of(trial, {0: 6, 1: 6}), slight)
        .whole.judgement.comparisons[0]
        .harm
    )
    assert injured_units(trial.units, []) is None


def test_an_agent_past_its_date_is_told() -> None:
    trial = trial_of()
    arms = (trial.plan.treatments[0], replace(trial.plan.treatments[1], agent_id="a"))
    trial = replace(trial, plan=replace(trial.plan, treatments=arms))
    log = log_of(trial, {0: 0, 1: 6})
    old = AgentLot("a", "IBA", expires_on="2026-05-02")
    assert "agent_past_date" in codes(trial, log, [], agents={"a": old})
    fresh = replace(old, expires_on="2026-05-03")
    assert "agent_past_date" not in codes(trial, log, [], agents={"a": fresh})


def test_a_trial_that_stopped_early_is_told_and_a_running_one_is_not() -> None:
    trial = trial_of()
    log = log_of(trial, {0: 0, 1: 6}, day=30)
    assert "stopped_early" in codes(trial, log, [], today=60)
    assert "stopped_early" not in codes(trial, log, [], today=31)
    assert "stopped_early" not in codes(trial, log_of(trial, {0: 0, 1: 6}), [], today=60)


def test_losses_without_a_cause_are_told() -> None:
    trial = trial_of()
    log = log_of(trial, {0: 0, 1: 6})
    gone = replace(log[0], id="x", day=30, stage=None, loss="unknown")
    assert "lost_without_cause" in codes(trial, [*log, gone], [])
    assert "lost_without_cause" not in codes(trial, [*log, replace(gone, loss="rotted")], [])


def test_scores_given_in_view_are_told_and_blind_ones_are_not() -> None:
    open_trial, blind = trial_of(), trial_of(blind=True, secondary=(Measure.QUALITY,))
    log = log_of(open_trial, {0: 0, 1: 6})
    score = Observation("s", "u1", "score", LAST, AT, "me", score=3)
    assert "scored_in_view" in codes(open_trial, [*log, score], [])
    assert "scored_in_view" not in codes(blind, [*log, score], [])
    assert "scored_in_view" not in codes(open_trial, log, [])


def test_what_is_still_to_be_followed_up_suspends_the_verdict() -> None:
    trial = trial_of()
    log = log_of(trial, {0: 0, 1: 6})
    promised = Entry(
        "f", "event", Scope.TRIAL, "", 20, AT, "me", what="follow_up", text="flowers next June"
    )
    closed = Entry("c", "event", Scope.TRIAL, "", 40, AT, "me", what="closed", text="f")
    assert "still_open" in codes(trial, log, [promised])
    assert "still_open" not in codes(trial, log, [promised, closed])


def test_heights_and_plantable_ones_are_told_with_the_finish() -> None:
    trial = trial_of()
    log = log_of(trial, {0: 6, 1: 6})
    log += [
        Observation(f"s{i}", f"u{i}", "score", LAST, AT, "me", score=3, parts=(("marketable", float(i % 2)),))
        for i in range(16)
    ]  # fmt: skip
    tall = [
        entry("measure", i, 40, values=(("height", 100.0 + 30 * (i % 2) + i),)) for i in range(16)
    ]
    found = finish_of(trial, log, tall)
    assert found.plantable == (0, 8)
    assert found.growth[0].measure == "height"
    assert (
        next(s.code for s in found.whole.statements if s.section == "growth") == "means_at_one_age"
    )
    assert found.growth[0].age == 40


def test_a_trial_judged_on_height_gives_the_p_of_every_deal_and_says_by_how_much() -> None:
    """Held against scipy's exact Mann-Whitney test; the lost plant counts as 0."""
    trial = trial_of(measure=Measure.QUALITY, graded_by="height", expected_score=100.0)
    log = [o for o in log_of(trial, {0: 0, 1: 0}) if o.unit_id != "u1"]
    log += [Observation("lost", "u1", "look", 9, AT, "me", loss="rotted")]
    tall = {i: 100.0 + 25 * (i % 2) + 1.7 * i for i in range(16) if i != 1}
    entries = [entry("measure", i, LAST, values=(("height", v),)) for i, v in tall.items()]
    found = finish_of(trial, log, entries)
    (compared,) = found.whole.judgement.comparisons
    values = [0.0 if i == 1 else tall[i] for i in range(16)]
    p = mannwhitneyu(values[1::2], values[::2], method="exact").pvalue
    assert compared.asked.p == pytest.approx(p)
    says = " ".join(
        s.text for s in found.whole.statements if s.section in ("asked", "growth", "verdict")
    )
    assert "judged on the height" in says
    assert "root score" not in " ".join(s.text for s in found.whole.statements)
    assert found.growth[0].is_primary
    assert "mm more than Untreated (95 % interval" in says
    assert found.growth[0].compared[0].grade is compared.grade


def test_a_measure_no_arm_shares_an_age_for_is_not_judged() -> None:
    trial = trial_of(measure=Measure.QUALITY, graded_by="leaves", expected_score=8.0)
    entries = [
        entry("measure", i, LAST - 5 * (i % 2), values=(("leaves", 5.0),)) for i in range(16)
    ]
    found = finish_of(trial, log_of(trial, {0: 6, 1: 6}), entries)
    (compared,) = found.whole.judgement.comparisons
    assert compared.grade is Grade.TOO_CLOSE
    assert compared.beside.quality.reason == "nothing scored or measured yet"


def test_a_trial_that_was_only_measured_is_not_said_to_have_struck_nothing() -> None:
    trial = trial_of(measure=Measure.QUALITY, graded_by="height", expected_score=100.0)
    entries = [
        entry("measure", i, LAST, values=(("height", 100.0 + 25 * (i % 2)),)) for i in range(16)
    ]
    whole = finish_of(trial, [], entries).whole
    assert not any("rooted in both" in s for s in whole.says)
    (compared,) = whole.judgement.comparisons
    assert compared.grade is Grade.CLEAR_LEAD
    assert compared.asked.p == pytest.approx(2 / comb(16, 8))  # of all deals the two that part them
    assert whole.answer is not None
    assert whole.answer.kind.startswith("clear_lead")
    assert "height" in whole.answer.happened


def test_stages_differ_though_none_reached_the_last() -> None:
    trial = trial_of(measure=Measure.QUALITY, graded_by="stage", expected_score=3.0)
    log = [
        Observation(f"o{i}", f"u{i}", "look", LAST, AT, "me", stage=3 if i % 2 else 1) for i in range(16)
    ]  # fmt: skip
    whole = finish_of(trial, log, []).whole
    assert whole.answer is not None
    assert whole.answer.kind.startswith("clear_lead")
    assert "nothing left to compare" not in whole.answer.text


def test_ordered_stages_are_compared_as_ordered() -> None:
    """None, callus, root: by ranks, against scipy's Mann-Whitney test in its exact form."""
    trial = trial_of(measure=Measure.QUALITY, graded_by="stage", expected_score=3.0)
    stages = [1, 3, 1, 3, 1, 6, 3, 6, 1, 5, 1, 3, 3, 6, 1, 5]
    log = [
        Observation(f"o{i}", f"u{i}", "look", LAST, AT, "me", stage=s) for i, s in enumerate(stages)
    ]
    (compared,) = finish_of(trial, log, []).whole.judgement.comparisons
    deals = list(combinations(range(16), 8))
    ranks = rankdata(stages)
    seen = ranks[1::2].sum()
    sums = np.array([ranks[list(d)].sum() for d in deals])
    p = 2 * min(np.mean(sums >= seen - 1e-9), np.mean(sums <= seen + 1e-9))
    assert compared.asked.p == pytest.approx(min(1, p))
