"""Read the race: small invented trials, real and null, to learn what luck looks like.

Each race has a number and is drawn from it, so that nothing need be kept: the same number is the
same race. Half of them are null. The grower says whether the treatment truly differs, and is told
what was so and what the finish called it.
"""

from dataclasses import dataclass

import numpy as np

from racecard.core.assess.grade import GRADE_WORDS, Grade
from racecard.core.assess.judgement import Judgement
from racecard.core.dryrun.simulate import Truth
from racecard.core.dryrun.simulate_trials import Season
from racecard.core.dryrun.truths import Nuisance
from racecard.core.model import Kind, Plan, Role, Treatment
from racecard.core.model.results import Results
from racecard.core.plan.bench import draw_bench
from racecard.errors import InvalidInput

MOST_RACES = 1_000_000
_STREAM = 77


@dataclass(frozen=True, slots=True)
class Race:
    """One race: what is shown (plan, results, judgement), and what is kept back: the true gap."""

    plan: Plan
    results: Results
    judgement: Judgement
    gap: float

    @property
    def is_real(self) -> bool:
        """Whether the treatment truly differs."""
        return self.gap != 0


def race(number: int) -> Race:
    """The race of this number: two arms of 8 to 32, true gaps of none or 20 to 50 points either way.

    Args:
        number: any whole number; the same is the same race.

    Raises:
        InvalidInput: the number lies outside 0 to 1,000,000.
    """
    if not 0 <= number <= MOST_RACES:
        raise InvalidInput(f"a race has a number from 0 to {MOST_RACES:,}, got {number}", "/number")
    rng = np.random.default_rng([_STREAM, number])
    units = int(rng.choice([8, 12, 16, 24, 32]))
    base = float(rng.uniform(0.25, 0.75))
    gap = 0.0
    if rng.random() < 0.5:
        room_up, room_down = 0.97 - base, base - 0.03
        size = float(rng.uniform(0.2, 0.5))
        gap = (
            min(size, room_up)
            if rng.random() < room_up / (room_up + room_down)
            else -min(size, room_down)
        )
        gap = round(gap, 2)
    treatments = (
        Treatment("", "Untreated", Role.CONTROL, silk="plain"),
        Treatment("", "Treated", Role.CANDIDATE, silk="hoops"),
    )
    plan = Plan(
        question="An invented race", material="invented cuttings", kind=Kind.CUTTING,
        treatments=treatments, units=units, length_days=42, look_every_days=3,
    )  # fmt: skip
    truths = (
        Truth(round(base, 2), 24, 6, loss=0.04),
        Truth(round(base, 2) + gap, 24, 6, loss=0.03),
    )
    season = Season.of(plan, draw_bench(plan, number), truths, Nuisance(), number)
    whole, results = season.judged(0)
    return Race(plan, results, whole.judgement, gap)


def told(found: Race, guess_real: bool) -> tuple[bool, tuple[str, ...]]:
    """Whether the guess was right, and what the race was, in sentences.

    Args:
        found: the race that was guessed.
        guess_real: whether the guess was that one treatment is truly better.
    """
    called = found.judgement.comparisons[0]
    size = round(100 * abs(found.gap))
    more = "more" if found.gap > 0 else "fewer"
    truth = (
        f"It was real: treated ones truly strike {size} points {more}."
        if found.is_real
        else "It was chance: both truly root equally well."
    )
    seen = round(100 * abs(called.gap.estimate)) if called.gap else 0
    finish = (
        f"The bench showed {seen} points, and the finish called it {GRADE_WORDS[called.grade]}."
    )
    return guess_real == found.is_real, (truth, finish, _lesson(found, called.grade, guess_real))


def _lesson(found: Race, grade: Grade | None, guess_real: bool) -> str:
    is_clear = grade in (Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND)
    if found.is_real and not is_clear:
        return f"With {found.plan.units} per treatment many real differences of this size are not found. That does not mean they are not there."
    if not found.is_real and guess_real:
        return "Chance alone often gives differences like this one. That is why labels are reassigned in the test."
    if not found.is_real and is_clear:
        return "At most one trial in twenty is called clear by chance alone; this was one."
    return "Width of the gap, number of plants and how early the lines part all count; the eye weighs them unevenly."
