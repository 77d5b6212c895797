"""One page, one verdict: random trials through page, report, table of JSON and words say one thing.

The trials are as untidy as growers leave them: set late, looks missed, lifted once, plants removed, no
lot, running, one container an arm.
"""

import json
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from racecard.api.schemas.finish import FinishOut
from racecard.cli.finish import as_json, as_words
from racecard.core.assess.grade import Grade
from racecard.core.exchange.audited import Detail
from racecard.core.exchange.bounds import ReadTable
from racecard.core.exchange.judged import JudgedTable
from racecard.core.finish.of_trial import finish_of
from racecard.core.finish.report import report_of
from racecard.core.log.days import noon_of_day
from racecard.core.model import Cell, Layout, Measure, Status, Trial, Unit
from racecard.core.model.observation import Observation
from racecard.core.model.table_rows import UnitKind
from tests.builders import a_plan

START = datetime(2026, 3, 2, 9, tzinfo=UTC)
CLEAR = {Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND}


def a_trial(seed: int) -> tuple[Trial, list[Observation], int]:
    """An invented trial with what a careless season does to it, and its day now."""
    rng = np.random.default_rng(seed)
    arms, units = int(rng.integers(2, 5)), int(rng.choice([1, 3, 6, 8, 12]))
    blocks = int(rng.choice([1, 2])) if units >= 6 else 1
    many = bool(rng.random() < 0.25)
    by_hand = bool(rng.random() < 0.2)
    plan = a_plan(
        *["Untreated", "A", "B", "C"][:arms], units=units, blocks=blocks, length_days=20,
        look_every_days=4, per_container=5 if many else 1,
        layout=Layout.BY_HAND if by_hand else Layout.BLOCKS,
        measure=[Measure.STRIKE, Measure.STRIKE, Measure.SPEED][int(rng.integers(3))],
    )  # fmt: skip
    cells = [Cell(0, i // 8, i % 8, (i // arms) % blocks, i % arms) for i in range(arms * units)]
    late = rng.random(len(cells)) < 0.15
    stuck = tuple(
        Unit(str(i), c, late=int(rng.integers(1, 4)) if late[i] else 0) for i, c in enumerate(cells)
    )
    drawn = START + timedelta(days=int(rng.choice([-1, -1, -1, 5])))
    trial = Trial(
        "t", plan, Status.STARTED, seed, stuck, drawn, START, drawn_at=drawn, frozen_at=drawn
    )
    today = int(rng.choice([9, 18, 26, 60]))
    chance = rng.choice([0.1, 0.5, 0.9], arms)
    return trial, list(_log(trial, rng, chance, today)), today


def _log(
    trial: Trial, rng: np.random.Generator, chance: np.ndarray, today: int
) -> list[Observation]:
    plan = trial.plan
    out: list[Observation] = []

    def add(unit: Unit, kind: str, day: int, **what: object) -> None:
        seen = noon_of_day(START, day, "UTC")
        out.append(
            Observation(f"o{len(out)}", unit.id, kind, day, seen, "g", recorded_at=seen, **what)  # type: ignore[arg-type]
        )

    only_lift = rng.random() < 0.15
    missed = float(rng.choice([0.0, 0.1, 0.4]))
    days = [d for d in (4, 8, 12, 16, 20, 24) if d <= today]
    for unit in trial.units:
        p = chance[unit.cell.treatment]
        struck = [
            int(rng.integers(3, 22)) if rng.random() < p else 999 for _ in range(plan.per_container)
        ]
        gone = int(rng.integers(3, 20)) if rng.random() < 0.1 else 999
        if plan.per_container > 1:
            for day in days:
                if rng.random() >= missed:
                    add(
                        unit,
                        "count",
                        day,
                        struck=sum(s <= day for s in struck),
                        lost=0,
                        lost_struck=0,
                    )
            continue
        if only_lift:
            if today >= 20:
                parts = (
                    ("roots", 6.0 if struck[0] <= 20 else 0.0),
                    ("longest", 30.0 if struck[0] <= 20 else 0.0),
                )
                add(unit, "score", 20, score=3 if struck[0] <= 20 else 0, parts=parts)
            continue
        for day in days:
            if rng.random() < missed:
                continue
            if day >= gone:
                add(
                    unit,
                    "look",
                    day,
                    **({"removed": 1} if rng.random() < 0.5 else {"loss": "rotted"}),
                )
                break
            add(unit, "look", day, stage=6 if day >= struck[0] else 1)
    return out


def told_by(
    trial: Trial, log: list[Observation], today: int
) -> tuple[FinishOut, JudgedTable, list[str]]:
    found = finish_of(trial, log, [], today=today)
    out = FinishOut.from_core(trial.plan, found.results, found.whole, units=found.units)
    table = JudgedTable(
        trial.plan,
        found.results,
        found.whole,
        UnitKind.PROPAGULE,
        "Untreated",
        True,
        Detail.PROPAGULES,
    )
    report = report_of(trial, found, "", START.date())
    said = [
        out.headline,
        *out.says,
        *as_words(ReadTable(table)).splitlines(),
        report.answer.text if report.answer else "",
        *report.says,
    ]
    if out.placings:
        said.append(out.placings.says)
    return out, table, said


@pytest.mark.parametrize("seed", range(60))
def test_page_report_and_command_say_one_thing(seed: int) -> None:
    trial, log, today = a_trial(seed)
    out, table, said = told_by(trial, log, today)
    page = json.loads(as_json(ReadTable(table)))
    measured = {c.treatment: c.grade for c in out.comparisons}
    names = [t.name for t in trial.plan.treatments]
    for c in page["comparisons"]:
        assert c["grade"] == measured[names.index(c["treatment"])]
    assert [n["code"] for n in page["notes"]] == [n.code for n in out.notes]
    if out.final:
        assert not [s for s in said if "so far" in s.lower()]
    grades = {c.strike_grade for c in out.comparisons} | {c.grade for c in out.comparisons}
    may_be_clear = out.final and not out.stopped_early and trial.plan.layout is not Layout.BY_HAND
    if not may_be_clear or trial.drawn_at > START:  # type: ignore[operator]
        assert not grades & CLEAR
        assert not [s for s in said if "clear lead" in s.lower() or "clearly first" in s]
    for c in out.comparisons:
        if any("is clearly first" in s and s.startswith(names[c.treatment]) for s in said):
            assert c.grade is Grade.CLEAR_LEAD
        if c.gap is not None and c.gap.low is not None and c.p is not None and c.p >= 0.05:
            assert c.gap.low <= 0 <= (c.gap.high or 0)
        assert c.grade is not None or c.why in ("not_looked_at", "not_looked_for")
    for lane in out.lanes:
        assert lane.struck + lane.removed + lane.unknown + lane.at_start <= lane.n


def test_an_arm_nobody_looked_at_has_no_grade() -> None:
    trial, log, today = a_trial(3)
    treated = {u.id for u in trial.units if u.cell.treatment == 1}
    out, _, _ = told_by(trial, [o for o in log if o.unit_id not in treated], today)
    (c,) = [c for c in out.comparisons if c.treatment == 1]
    assert (c.grade, c.grade_words) == (None, "not looked at yet")
