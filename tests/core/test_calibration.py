"""A short calibration: the long one is docs/calibration.md, made by make calibrate."""

from pathlib import Path

import pytest
from scipy.stats import binom
from tools.calibrate import (
    arm_coverage,
    blocks_drawn,
    containers_drawn,
    drawn_coverage,
    false_calls,
    gap_coverage,
    null,
    null_cases,
    peeks,
)

SEASONS = 160
MOST = float(binom(SEASONS, 0.05).ppf(0.999)) / SEASONS

CASES = [
    null("8 arms", 8, units=12),
    null("pairs", 2, units=30, layout="pairs"),
    null("blocks apart", 5, units=12, blocks=4),
    null("pots of 4 to 51", 2, units=8, per_container=20, alike=0.2, sizes=(4, 51)),
    null("one far away", 4, units=16, far=True),
]


@pytest.mark.parametrize("case", CASES, ids=lambda c: c.name)
def test_a_null_trial_is_called_no_more_often_than_it_may(case) -> None:
    assert false_calls(case, SEASONS) <= MOST


def test_no_running_trial_is_called_clear_at_any_round() -> None:
    finish, naive = peeks(60)
    assert finish == 0
    assert naive > 0.02  # a reader who calls the first lucky round does err


@pytest.mark.parametrize("n", [4, 8, 16])
def test_ranges_hold_the_truth(n: int) -> None:
    """Averaged over true rates of 5 to 95 %; the least is what the method card tells."""
    for mean, least in (arm_coverage(n), gap_coverage(n)):
        assert mean >= 0.94
        assert least >= 0.87


def test_ranges_of_blocks_and_containers_hold_the_truth() -> None:
    assert drawn_coverage(blocks_drawn(4, 6), 60)[0] >= 0.93
    assert drawn_coverage(containers_drawn(4, 10, 0.2), 60)[0] >= 0.93


def test_the_published_page_tells_of_every_case() -> None:
    page = Path("docs/calibration.md").read_text()
    for case in null_cases():
        assert f"| {case.name} |" in page
