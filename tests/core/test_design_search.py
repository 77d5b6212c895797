"""Plans designed from what there is: held against brute force over every plan, by scipy's distributions."""

import json
from dataclasses import replace
from functools import cache
from math import comb
from typing import Any

import numpy as np
import pytest
from click.testing import CliRunner
from scipy.stats import binom, hypergeom

from racecard.cli.main import app
from racecard.core.design.proposals import Standing, propose
from racecard.core.design.resources import Have
from racecard.core.design.search import best_within, power_of
from racecard.core.model import Kind, Layout
from racecard.core.plan.exact import blocks_table, fits
from racecard.core.text.proposals import banner, proposal_says
from racecard.errors import InvalidInput


@cache
def power(n1: int, n0: int, control: float, treated: float, family: int) -> float:
    """Chance of a central Fisher p, Holm's first step included, below 0.05: every outcome in turn."""
    a, b = np.arange(n1 + 1)[:, None], np.arange(n0 + 1)
    tail = np.minimum(hypergeom.cdf(a, n1 + n0, a + b, n1), hypergeom.sf(a - 1, n1 + n0, a + b, n1))
    joint = binom.pmf(a, n1, treated) * binom.pmf(b, n0, control)
    return float(joint[2 * family * tail < 0.05].sum())


@pytest.mark.parametrize("plants", [4, 9, 12, 16, 22])
@pytest.mark.parametrize(("control", "difference"), [(0.4, 0.4), (0.1, 0.8), (0.2, 0.5)])
def test_no_plan_within_beats_the_first_by_two_points(
    plants: int, control: float, difference: float
) -> None:
    have = Have(plants, 3, control, difference)
    first = best_within(have)
    assert first is not None
    treated = control + difference
    assert first.power == pytest.approx(
        power(first.units, first.control_units, control, treated, first.treatments - 1), abs=1e-9
    )
    every = [
        power(n, c, control, treated, k - 1)
        for k in (2, 3)
        for n in range(1, plants // k + 1)
        for c in range(n, min(n + 9, plants - (k - 1) * n + 1))
    ]
    in_blocks = [
        blocks_table((n // b,) * b, 1).power(control, treated)
        for n in range(2, plants // 2 + 1)
        for b in range(2, n + 1)
        if n % b == 0 and fits((n // b,) * b)
    ]
    assert max(every + in_blocks) <= first.power + 0.02


def test_containers_are_filled_as_brute_force_would() -> None:
    have = Have(24, 2, 0.3, 0.6, containers=8)
    first = best_within(have)
    assert first is not None
    assert (first.units, first.per_container) == (4, 3)
    for m in range(1, 4):
        for n in range(2, 8 // 2 + 1):
            other = replace(
                first, units=n, control_units=n, per_container=m, minimum_p=2 / comb(2 * n, n), minimum_p_holm=2 / comb(2 * n, n)
            )  # fmt: skip
            if other.decidable:
                assert power_of(other, 0.3, 0.9, 0.1) <= first.power + 0.02


@pytest.mark.parametrize(
    ("have", "shapes"),
    [
        (Have(12, 3, 0.4, 0.4, containers=3), [(2, 5, 1), (2, 27, 1), (3, 1, 4)]),
        (Have(24, 4, 0.4, 0.4), [(2, 12, 1), (4, 6, 1), (2, 27, 1)]),
        (Have(40, 2, 0.4, 0.4, containers=8, kind=Kind.SEED), [(2, 4, 5), (2, 20, 1), (2, 8, 5)]),
        (Have(36, 2, 0.4, 0.4, sites=18), [(2, 18, 1), (2, 28, 1)]),
        (Have(60, 6, 0.3, 0.5), [(2, 30, 1), (3, 20, 1), (6, 10, 1)]),
        (Have(5, 2, 0.4, 0.4), [(2, 4, 1), (2, 27, 1), (2, 2, 1)]),
        (Have(6, 2, 0.4, 0.4, containers=2), [(2, 4, 1), (2, 27, 1), (2, 1, 3)]),
    ],
    ids=["three jars", "cells", "pots", "households", "doses", "bulbs", "two jars"],
)
def test_what_is_proposed_best_first(have: Have, shapes: list[tuple[int, int, int]]) -> None:
    found = propose(have)
    assert [(p.design.treatments, p.design.units, p.design.per_container) for p in found] == shapes
    fitting = [p for p in found if p.standing in (Standing.BEST, Standing.FITS)]
    assert all(not p.more_plants(have) and not p.more_containers(have) for p in fitting)
    assert [p.standing for p in found].count(Standing.BEST) <= 1
    for p in found:
        words = proposal_says(have, p, ["Seaweed"], "jar")
        assert (words.chip == "cannot tell") is (p.standing is Standing.CANNOT_TELL)
        assert ("times in" in words.shows) or not p.design.decidable or p.design.power > 0.95
    assert banner(have, found).startswith("Not with") is not bool(fitting)


def test_places_hold_pairs_or_blocks() -> None:
    pairs = best_within(Have(36, 2, 0.4, 0.4, sites=18))
    blocks = best_within(Have(24, 2, 0.4, 0.4, sites=2))
    assert pairs is not None
    assert blocks is not None
    assert (pairs.layout, pairs.units, pairs.minimum_p) == (Layout.SITES, 18, 2 * 0.5**18)
    assert (blocks.layout, blocks.units, blocks.blocks) == (Layout.BLOCKS, 12, 2)


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"plants": 2, "treatments": 3}, "cannot fill 3"),
        ({"control": 0.8}, "no room"),
        ({"control": 40}, "a share"),
        ({"difference": 0}, "above 0"),
        ({"treatments": 1}, "must be 2 to"),
        ({"containers": -1}, "must be 1 to"),
    ],
)
def test_what_cannot_be_designed_is_said(changes: dict[str, Any], says: str) -> None:
    with pytest.raises(InvalidInput, match=says):
        propose(
            Have(**{"plants": 24, "treatments": 2, "control": 0.4, "difference": 0.4} | changes)
        )


def test_the_command_prints_proposals_and_refuses_in_one_sentence() -> None:
    line = "design --have 12 --containers 3 --treatments 3 --control 0.4 --difference 40".split()
    told = json.loads(CliRunner().invoke(app, [*line, "--json"]).output)
    first = told["proposals"][0]
    assert (first["treatments"], first["units"], first["containers"], first["decidable"]) == (
        2,
        5,
        10,
        True,
    )
    assert first["power"] == pytest.approx(power(5, 5, 0.4, 0.8, 1))
    assert told["proposals"][-1]["decidable"] is False
    assert "Not with 3 containers" in CliRunner().invoke(app, line).output
    refused = CliRunner().invoke(app, [*line[:-1], "0.4"])
    assert refused.exit_code == 2
    assert "40 for 40 points" in refused.output
