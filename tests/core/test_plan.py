"""The bench by lot, the rules of a plan, and exact power."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from racecard.core.model import Agent, Carrier, Role, row_letters
from racecard.core.plan.bench import block_sizes, draw_bench, shuffled
from racecard.core.plan.check import check_plan, faults
from racecard.core.plan.materials_needed import amount_says, to_gather
from racecard.core.prepare.cautions import ALCOHOL, HORMONE, cautions_for
from racecard.errors import InvalidInput
from tests.builders import a_plan

# Drawn once with seed 4127 and written down: the dealing must never change, or a stored seed
# would no longer tell how a bench came about.
GOLDEN = "1010021021 10222 0122101002 22011"


def test_the_golden_bench() -> None:
    plan = a_plan("U", "A", "B", units=10, blocks=2, columns=10)
    cells = draw_bench(plan, 4127)
    rows = [[c for c in cells if c.row == r] for r in range(4)]
    drawn = " ".join("".join(str(c.treatment) for c in row if c.treatment >= 0) for row in rows)
    assert drawn == GOLDEN


@given(
    st.integers(2, 6),
    st.integers(1, 40),
    st.integers(1, 8),
    st.integers(2, 12),
    st.integers(0, 2**31),
)
@settings(max_examples=60)
def test_every_block_holds_every_treatment_alike(
    arms: int, units: int, blocks: int, columns: int, seed: int
) -> None:
    plan = a_plan(
        *[f"T{i}" for i in range(arms)], units=units, blocks=min(blocks, units), columns=columns
    )
    cells = draw_bench(plan, seed)
    sizes = block_sizes(plan.units, plan.blocks)
    for b, size in enumerate(sizes):
        dealt = [c.treatment for c in cells if c.block == b and c.treatment >= 0]
        assert sorted(dealt) == sorted(list(range(arms)) * size)
    assert len({c.code for c in cells}) == len(cells)
    assert max(c.row for c in cells) < plan.tray_rows
    assert max(sizes) - min(sizes) <= 1


def test_dealing_is_fair() -> None:
    """Each of three cards comes first a third of the time, within four standard errors."""
    words = iter(np.random.default_rng(1).integers(0, 2**64, 40_000, dtype=np.uint64))
    first = [shuffled([0, 1, 2], lambda: int(next(words)))[0] for _ in range(9000)]
    share = np.bincount(first) / 9000
    assert np.all(np.abs(share - 1 / 3) < 4 * np.sqrt(2 / 9 / 9000))


def test_rejection_keeps_words_beyond_the_last_whole_round_out() -> None:
    words = iter([2**64 - 1, 4])
    assert shuffled([0, 1, 2], lambda: int(next(words, 0))) is not None
    with pytest.raises(StopIteration):
        next(words)


@pytest.mark.parametrize(("row", "letters"), [(0, "A"), (25, "Z"), (26, "AA"), (27, "AB")])
def test_rows_have_letters(row: int, letters: str) -> None:
    assert row_letters(row) == letters


def test_a_whole_plan_breaks_no_rule() -> None:
    assert faults(a_plan()) == ()


@pytest.mark.parametrize(
    ("change", "pointer", "part"),
    [
        ({"question": "  "}, "/question", "is empty"),
        ({"question": "x" * 301}, "/question", "301 characters"),
        ({"material": "a\x07b"}, "/material", "control character"),
        ({"units": 0}, "/units", "must be 1 to 5000, got 0"),
        ({"units": -4}, "/units", "got -4"),
        ({"units": 10_000}, "/units", "got 10000"),
        ({"per_container": 0}, "/per_container", "got 0"),
        ({"blocks": 9}, "/blocks", "9 blocks need at least 9 units"),
        ({"length_days": 0}, "/length_days", "got 0"),
        ({"length_days": -3}, "/length_days", "got -3"),
        ({"look_every_days": 50}, "/look_every_days", "never comes before"),
        ({"endpoint": 3}, "/endpoint", "must be stage"),
        ({"expected_percent": 101}, "/expected_percent", "got 101"),
        ({"gap_points": 0}, "/gap_points", "got 0"),
        ({"time_zone": "Nowhere"}, "/time_zone", "must be a name"),
    ],
)
def test_each_rule_has_one_sentence(change: dict[str, object], pointer: str, part: str) -> None:
    found = faults(replace(a_plan(), **change))  # type: ignore[arg-type]
    assert [f.pointer for f in found][:1] == [pointer]
    assert part in found[0].says
    with pytest.raises(InvalidInput):
        check_plan(replace(a_plan(), **change))  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("names", "part"),
    [
        (("Untreated", "untreated "), "both called"),
        (("Untreated", ""), "is empty"),
        (("Untreated", "x" * 300), "300 characters"),
        (("Untreated",), "2 to 12"),
    ],
)
def test_names_that_cannot_be_told_apart_are_refused(names: tuple[str, ...], part: str) -> None:
    assert any(part in f.says for f in faults(a_plan(*names)))


@pytest.mark.parametrize("name", ["🌱 mit Öl", "مراقبة", "1:8 willow water", "–"])
def test_any_script_may_name_a_treatment(name: str) -> None:
    assert faults(a_plan("Untreated", name)) == ()


def test_two_controls_are_one_too_many() -> None:
    found = faults(a_plan("U", "V", roles=[Role.CONTROL, Role.CONTROL]))
    assert [f.pointer for f in found] == ["/treatments/1/role"]


def test_two_treatments_never_wear_one_silk() -> None:
    plan = a_plan("U", "A")
    twins = tuple(replace(t, silk="plain") for t in plan.treatments)
    assert [f.pointer for f in faults(replace(plan, treatments=twins))] == ["/treatments/1/silk"]


@pytest.mark.parametrize(
    ("name", "agent", "carrier", "expected"),
    [
        ("IBA 1000 ppm", Agent.NOTHING, Carrier.NONE, (HORMONE,)),
        ("Dip", Agent.HORMONE, Carrier.ALCOHOL, (HORMONE, ALCOHOL)),
        ("50 % alcohol", Agent.NOTHING, Carrier.NONE, (ALCOHOL,)),
        ("Untreated", Agent.NOTHING, Carrier.NONE, ()),
        ("Ribald mint", Agent.OTHER, Carrier.WATER, ()),
    ],
)
def test_cautions_stand_by_what_calls_for_them(
    name: str, agent: Agent, carrier: Carrier, expected: tuple[object, ...]
) -> None:
    treatment = replace(a_plan().treatments[1], name=name, agent=agent, carrier=carrier)
    assert cautions_for(treatment) == expected


def test_gathering_counts_spares() -> None:
    plan = a_plan(units=24, per_container=3)
    rows = {i.thing: amount_says(i) for i in to_gather(plan, draw_bench(plan, 1))}
    assert rows["Containers"] == "48"
    assert rows["Cuttings, matched"].startswith("159")
