"""What is read first is true: random trials of every kind through every place that speaks.

Two thousand trials are drawn from a fixed stream: all outcomes and designs, running and finished, lost,
removed, unseen, harmed, unequal, with carriers and runs. Their sentences are held against their numbers.
"""

import json
import re
from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from racecard.cli.finish import as_json, as_words
from racecard.core.assess.findings import About, of
from racecard.core.assess.grade import CALLED
from racecard.core.exchange.audited import Detail
from racecard.core.exchange.bounds import ReadTable
from racecard.core.exchange.judged import JudgedTable
from racecard.core.finish.finish_result import Whole, whole_finish
from racecard.core.model import History, Kind, Layout, Measure, Plan, Role
from racecard.core.model.results import Results, results_from
from racecard.core.model.table_rows import UnitKind
from racecard.core.text.narrator import MOST_WORDS
from racecard.core.text.told import Told
from tests.builders import a_plan

NAMES = (
    "Untreated",
    "Alcohol dip",
    "Esk 500",
    "Nicked and soaked",
    "Honey",
    "Old willow water of the yard",
    "Moss",
)
LOOKS = tuple(range(4, 29, 4))
PARTS = 20


def drawn_trial(rng: np.random.Generator) -> tuple[Plan, Results, dict[str, Any]]:
    """One random trial, and how it is judged."""
    k = int(rng.choice([2, 2, 3, 3, 4, 5, 7]))
    roles = [Role.CONTROL, *[Role.CANDIDATE] * (k - 1)]
    if k > 2 and rng.random() < 0.4:
        roles[1] = Role.CARRIER
    measure = (Measure.STRIKE, Measure.STRIKE, Measure.SPEED, Measure.QUALITY)[int(rng.integers(4))]
    graded_by = "height" if measure is Measure.QUALITY and rng.random() < 0.5 else ""
    kind = Kind.SEED if rng.random() < 0.3 and not graded_by else Kind.CUTTING
    units = int(rng.choice([1, 2, 4, 6, 8, 10, 14, 20]))
    pot = int(rng.choice([1, 1, 1, 4])) if units <= 8 else 1
    blocks = 2 if units >= 8 and rng.random() < 0.3 else 1
    end, day = 28, int(rng.choice([8, 16, 28, 28, 28]))
    rate, hurt = rng.uniform(0, 1, k), rng.choice([0, 0, 0.1, 0.5], k)
    if rng.random() < 0.2:
        rate[:] = rng.choice([0.0, 1.0])
    gone, unseen = rng.choice([0, 0, 0, 0.2]), rng.choice([0, 0, 0, 0.3])
    pace = rng.integers(2, 20, k)
    arms, block, histories, looks, scores = [], [], [], [], []
    for a in range(k):
        n = max(1, units + int(rng.integers(-1, 2)) * int(rng.random() < 0.2))
        for u in range(n):
            arms.append(a)
            block.append(u % blocks)
            histories.append(
                [
                    _history(rng, day, rate[a], hurt[a], gone, unseen, int(pace[a]))
                    for _ in range(pot)
                ]
            )
            looks.append([d for d in LOOKS if d <= day])
            is_struck = any(h.struck_by for h in histories[-1])
            scale = 100.0 if graded_by else 3.0
            scores.append(
                max(0.0, float(rng.normal(scale * (0.6 + rate[a]), scale / 4)))
                if is_struck
                else None
            )
    plan = a_plan(
        *NAMES[:k], roles=roles, units=units, per_container=pot, blocks=blocks, measure=measure, kind=kind,
        endpoint=3 if kind is Kind.SEED else 6, graded_by=graded_by, gap_score=20.0 if graded_by else 1.0,
        length_days=end, look_days=LOOKS, expect_level=bool(rng.random() < 0.2),
        layout=Layout.BLOCKS if rng.random() < 0.9 else Layout.BY_HAND,
    )  # fmt: skip
    results = results_from(
        arms, block, histories, looks, scores if measure is Measure.QUALITY else None
    )
    age = float(end + 1 if day == end else day)
    results = replace(results, age=np.full(len(arms), age))
    if rng.random() < 0.1:
        results = replace(results, injured=rng.random(len(arms)) < hurt[results.treatment])
    more: dict[str, Any] = {"end_day": float(end), "lot_drawn": plan.layout is not Layout.BY_HAND}
    if blocks == 2 and rng.random() < 0.5:
        more |= {"run": np.array(block), "run_names": ("2025", "2026")}
    return plan, results, more


def _history(
    rng: np.random.Generator,
    day: int,
    rate: float,
    hurt: float,
    gone: float,
    unseen: float,
    pace: int,
) -> History:
    seen = [d for d in LOOKS if d <= day]
    at = int(rng.choice(seen))
    if rng.random() < hurt:
        return History(lost_after=at - 4, lost_by=at, cause="rotted", last_look=at)
    if rng.random() < gone:
        return History(removed_after=at, last_look=at)
    by = int(-(-(1 + rng.poisson(pace)) // 4) * 4)
    if rng.random() < rate and by <= day:
        return History(by - 4, by, last_look=day)
    return History(last_look=at if rng.random() < unseen else day)


def numbers_of(found: dict[str, Any]) -> set[tuple[int, int]]:
    """Every "so many of so many" that the JSON allows."""
    out = set()
    for t in found["treatments"]:
        left = t["n"] - t["removed"] - t["unknown"] - t["at_start"]
        out |= {(t["struck"], left), (t["unknown"], t["n"])}
    for c in found["comparisons"]:
        h = c["harm_counts"]
        out |= {(h["lost"], h["n"]), (h["lost_control"], h["n_control"])}
        out |= {(h["injured"], h["units"]), (h["injured_control"], h["units_control"])}
    return out


def front(whole: Whole) -> tuple[str, str]:
    assert whole.answer is not None
    return whole.answer.text, whole.answer.headline


def check(plan: Plan, results: Results, whole: Whole) -> None:
    card, headline = front(whole)
    answer = whole.answer
    assert answer is not None
    control = plan.treatments[plan.reference or 0].name
    table = ReadTable(
        JudgedTable(plan, results, whole, UnitKind.PROPAGULE, control, True, Detail.PROPAGULES)
    )
    found = json.loads(as_json(table))
    words = as_words(table)
    told = Told(plan, whole.judgement, whole.notes)
    # form: short, whole sentences, nothing doubled
    assert len(card.split()) <= MOST_WORDS, card
    assert words.startswith(card)
    for text in (card, headline):
        assert re.search(r"[.!?”]$", text), text
        assert not re.search(
            r"\bnan\b|\bNone\b(?! (?:rooted|came|struck))|  |[-−]0(?![.\d])|\.\.|: :|(\b\w+: )\1|%s",
            text,
        ), text
        assert not re.search(
            r"(?<![.\d])1 (?:units|plants|times|points|containers|days|seeds|others|results)\b",
            text,
        ), text
    # what is called is named, or counted
    is_counted = "below." in card
    for f in told.results:
        if f.grade in CALLED:
            name = told.name(f.index)
            assert plan.treatments[f.index].name in headline, (name, headline)
            assert name in card or is_counted or "and more." in card, (name, card)
            if whole.judgement.is_final:
                said = re.search(
                    re.escape(plan.treatments[f.index].name) + r"[^.]{0,40}shows? no", headline
                )
                assert not said, headline
    # harm within the first sentences, with its counts; nothing that harms is recommended
    hurt = of(told.findings, About.HARM)
    for f in hurt:
        h = f.comparison.hurt
        counts = rf"[^.:]*?(?:lost {h.lost} of {h.n}|signs of harm on {h.injured} of)"
        if f.comparison.grade is not None:
            assert re.search(re.escape(plan.treatments[f.index].name) + counts, headline), headline
            assert re.search(re.escape(told.name(f.index)) + counts, card) or "and more." in card, (
                card
            )
    if hurt:
        assert not re.search(
            r"use what|use it if|use it only|before you rely on it(?! )", answer.next
        ) or hurt[0].index not in {f.index for f in told.called[:1]}, card
        assert not re.search(r"use what|use it if", answer.next), card
    # numbers are those of the JSON
    allowed = numbers_of(found)
    for one, n in re.findall(r"\b(\d+) of (\d+)\b(?!:)", card + " " + headline):
        is_day = re.search(rf"day {one} of {n}\b", card + headline)
        assert is_day or (int(one), int(n)) in allowed, (one, n, card)
    # none, all, one of each
    counted = [
        (t["struck"], t["n"] - t["removed"] - t["unknown"] - t["at_start"])
        for t in found["treatments"]
    ]
    if re.match(r"None ", answer.happened):
        assert all(s == 0 for s, _ in counted), card
    if re.match(r"All ", answer.happened):
        assert all(s == n for s, n in counted if n), card
    sizes = {found["treatments"][i]["n_units"] for i in (told.zero, *(f.index for f in told.asked))}
    for each in re.findall(
        r"(\d+|one \w+) of each (?:is|are)|there was one (?:plant|seed|container) of each", card
    ):
        assert len(sizes) == 1 or each == "", card
    # final and running are told apart
    if found["final"]:
        assert "So far" not in card + headline
    elif answer.kind not in ("not_seen",) and not answer.kind.startswith("cannot_tell"):
        assert headline.startswith("So far, day"), headline
        assert not re.search(r"clearly|too hard|too easy|nothing to compare", card + headline), card
        newest = max((max(x, default=0) for x in results.looks), default=0)
        day = re.match(r"So far, day (\d+)", headline)
        assert day is not None
        assert int(day[1]) <= newest
    if not told.is_drawn:
        assert "clearly" not in card + headline


@pytest.mark.parametrize("part", range(PARTS))
def test_what_is_read_first_is_true_of_two_thousand_random_trials(part: int) -> None:
    rng = np.random.default_rng([31, part])
    for _ in range(2000 // PARTS):
        plan, results, more = drawn_trial(rng)
        whole = whole_finish(plan, results, seed=7, resamples=2000, **more)
        if whole.answer is None:
            assert not any(t.role is Role.CANDIDATE for t in plan.treatments)
            continue
        check(plan, results, whole)
