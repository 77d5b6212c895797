"""Twelve invented trials judged as they always were: numbers and grades to the last digit, and the words.

`RACECARD_GOLDEN=write` writes the files anew. A change of `numbers.json` is a change of the sums and
needs its reason; one of `words.txt` is a copy edit, to be read as such.
"""

import json
import os
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from racecard.api.schemas.finish import FinishOut
from racecard.core.dryrun.simulate import Truth
from racecard.core.dryrun.simulate_trials import Season
from racecard.core.dryrun.truths import Nuisance
from racecard.core.finish.finish_result import whole_finish
from racecard.core.model import Carrier, Kind, Layout, Measure, Plan, Role
from racecard.core.plan.arms import Factor, cross, ladder
from racecard.core.plan.bench import draw_bench
from tests.builders import a_plan

FILES = Path(__file__).parent / "golden"
IS_WRITTEN = os.environ.get("RACECARD_GOLDEN") == "write"
ROLES = [Role.CONTROL, Role.CARRIER, Role.CANDIDATE, Role.CANDIDATE, Role.STANDARD]


def truth(strike: float, day: float = 21, loss: float = 0.05, score: float = 2.5) -> Truth:
    return Truth(strike, day, 5, loss=loss, score=score)


def trials() -> dict[str, tuple[Plan, list[Truth], Nuisance]]:
    plain = Nuisance()
    seed: dict[str, Any] = {"kind": Kind.SEED, "endpoint": 2, "length_days": 28}
    crossed = cross([Factor("nick", ("no", "yes")), Factor("soak", ("dry", "24 h"))])
    doses = ladder("IBA", 500, 4000, 3, "ppm", carrier=Carrier.TALC)
    return {
        "two arms, clear": (a_plan(units=24), [truth(0.3), truth(0.85)], plain),
        "two arms, close": (a_plan(units=16), [truth(0.5), truth(0.6)], plain),
        "too few": (a_plan(units=3), [truth(0.2), truth(0.9)], plain),
        "five arms in blocks": (
            a_plan("U", "Dip", "IBA 500", "IBA 4000", "Usual", roles=ROLES, units=16, blocks=4),
            [truth(0.4), truth(0.45), truth(0.8), truth(0.2, loss=0.5), truth(0.5)], plain,
        ),
        "pairs": (a_plan(units=18, layout=Layout.PAIRS), [truth(0.3), truth(0.7)], plain),
        "pots of ten": (
            a_plan(units=6, per_container=10, **seed),
            [Truth(0.5, 12, 4, icc=0.1), Truth(0.75, 9, 4, icc=0.1)], plain,
        ),
        "pots in blocks": (
            a_plan("U", "A", "B", units=8, blocks=4, per_container=10, **seed),
            [Truth(s, 12, 4, icc=0.1) for s in (0.5, 0.55, 0.9)], Nuisance(block_points=10),
        ),
        "how soon": (
            a_plan(units=20, measure=Measure.SPEED, look_days=tuple(range(2, 43, 2))),
            [truth(0.9, 26), truth(0.9, 16)], plain,
        ),
        "how good": (
            a_plan("U", "A", "B", units=16, measure=Measure.QUALITY),
            [truth(0.8, score=1.5), truth(0.8, score=3.8), truth(0.8, score=2)], plain,
        ),
        "level": (
            a_plan(units=150, expect_level=True), [truth(0.7), truth(0.7)], plain,
        ),
        "cross": (
            Plan(treatments=crossed, question="Q?", material="pea", units=12, look_every_days=2, **seed),
            [Truth(s, 10, 3) for s in (0.3, 0.5, 0.5, 0.9)], plain,
        ),
        "ladder, lifted and missed": (
            Plan(treatments=doses, question="Q?", material="sage", kind=Kind.CUTTING, units=15),
            [truth(s) for s in (0.3, 0.3, 0.5, 0.8, 0.4)], Nuisance(missed=0.2, lifted=0.1),
        ),
    }  # fmt: skip


def judged(name: str) -> dict[str, Any]:
    plan, truths, nuisance = trials()[name]
    season = Season.of(plan, draw_bench(plan, 11), truths, nuisance, 11)
    results, cells = season.results(0)
    found = whole_finish(plan, results, seed=11, cells=cells)
    out: dict[str, Any] = json.loads(FinishOut.from_core(plan, results, found).model_dump_json())
    return out


def parted(thing: Any, path: str = "") -> Iterator[tuple[str, Any, bool]]:
    """Every leaf with its path, and whether it is prose: a string of several words."""
    if isinstance(thing, dict):
        for key, value in thing.items():
            yield from parted(value, f"{path}.{key}" if path else key)
    elif isinstance(thing, list):
        for i, value in enumerate(thing):
            yield from parted(value, f"{path}[{i}]")
    else:
        yield path, thing, isinstance(thing, str) and " " in thing


@pytest.fixture(scope="module")
def finishes() -> dict[str, list[tuple[str, Any, bool]]]:
    return {name: list(parted(judged(name))) for name in trials()}


def test_numbers_and_grades_are_what_they_were(
    finishes: dict[str, list[tuple[str, Any, bool]]],
) -> None:
    file = FILES / "numbers.json"
    found = {
        name: {path: value for path, value, is_prose in leaves if not is_prose and "lanes" not in path}
        for name, leaves in finishes.items()
    }  # fmt: skip
    if IS_WRITTEN:
        file.write_text(json.dumps(found, indent=0, ensure_ascii=False) + "\n")
    kept = json.loads(file.read_text())
    for name, values in found.items():
        changed = {p for p in kept[name].keys() | values if kept[name].get(p) != values.get(p)}
        assert not changed, f"{name}: {sorted(changed)[:8]}"


def test_the_words_are_what_they_were(finishes: dict[str, list[tuple[str, Any, bool]]]) -> None:
    file = FILES / "words.txt"
    lines = []
    for name, leaves in finishes.items():
        said = dict.fromkeys(value for _, value, is_prose in leaves if is_prose)
        lines += [f"== {name}", *said, ""]
    if IS_WRITTEN:
        file.write_text("\n".join(lines))
    assert "\n".join(lines) == file.read_text()
