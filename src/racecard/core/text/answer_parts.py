"""The pieces an answer is put together from: counts, chance, what the results fit, and the biggest doubt."""

from collections.abc import Callable
from dataclasses import dataclass
from math import ceil, comb

from racecard.core.assess.grade import Grade
from racecard.core.assess.judgement import Arm, Comparison, Judgement
from racecard.core.assess.placings import Placings
from racecard.core.assess.to_settle import Of
from racecard.core.log.goal import done, had_done
from racecard.core.log.measures import graded_word
from racecard.core.model import Measure, Plan
from racecard.core.stats.permutation import CLEAR_ENOUGH
from racecard.core.stats.sample_size import plants_needed
from racecard.core.text.verdicts import whole_percent

_LONGEST_NAME = 24
_MOST_TOLD = 200
LEADS = (Grade.CLEAR_LEAD, Grade.LIKELY_LEAD)
BEHIND = (Grade.CLEARLY_BEHIND, Grade.LIKELY_BEHIND)
CLEAR = (Grade.CLEAR_LEAD, Grade.CLEARLY_BEHIND)
DEFAULT_DOUBT = "one trial, one place, one season"


@dataclass(frozen=True, slots=True)
class Case:
    """What an answer is made from."""

    plan: Plan
    judgement: Judgement
    asked: tuple[Comparison, ...]
    codes: frozenset[str]
    placings: Placings | None
    is_drawn: bool

    def name(self, index: int) -> str:
        """A treatment's name, cut where it is long."""
        name = self.plan.treatments[index].name
        return name if len(name) <= _LONGEST_NAME else f"{name[: _LONGEST_NAME - 1].rstrip()}…"

    @property
    def reference(self) -> int:
        """Index of what the others are compared with."""
        assert self.plan.reference is not None
        return self.plan.reference

    @property
    def control(self) -> str:
        """Its name."""
        return self.name(self.reference)

    def arm(self, index: int) -> Arm:
        """The lane of a treatment."""
        return next(a for a in self.judgement.arms if a.index == index)

    @property
    def did(self) -> str:
        """What those did that reached the goal."""
        return done(self.plan)

    @property
    def matters(self) -> int:
        """The smallest difference that matters, points."""
        return round(self.plan.gap_points)


# -- the parts -------------------------------------------------------------------------------------


def foremost(case: Case) -> Comparison:
    """Of those with the best grade the one with the widest difference."""
    for grade in (*LEADS, Grade.LEVEL, Grade.TOO_CLOSE, *BEHIND[::-1]):
        found = [c for c in case.asked if c.asked is grade]
        if found:
            return max(found, key=size_of)
    return case.asked[0]


def size_of(c: Comparison) -> float:
    """The gap as a share; 0 where there is none."""
    return c.gap.estimate if c.gap else 0.0


def count_of(case: Case, index: int) -> str:
    """Such as 21 of 24, for plants counted one by one, else the share.

    Args:
        case: the trial and its judgement.
        index: index of the treatment.
    """
    s = case.arm(index).strike
    if s.units in (1, s.n) and not (s.removed or s.unknown or s.at_start or s.is_estimated):
        return f"{s.struck} of {s.n}"
    return "none left" if s.rate is None else f"{whole_percent(s.rate)} %"


def counts_of(case: Case, c: Comparison) -> str:
    """Both arms: 19 of 24 rooted, against 9 of 24 for the control."""
    s = case.arm(c.index).strike
    many = f" in {s.units} containers" if s.n > s.units > 1 else ""
    return f"{count_of(case, c.index)} {case.did}{many}, against {count_of(case, case.reference)} for {case.control}"


def against_of(case: Case, c: Comparison) -> str:
    """Both arms by name: 14 of 24 with one, 4 of 24 with the other."""
    return f"{count_of(case, c.index)} {case.did} with {case.name(c.index)}, {count_of(case, case.reference)} with {case.control}"


def measured(case: Case, c: Comparison) -> str:
    """What was asked: how many, how soon, or how good."""
    mine, theirs = case.arm(c.index).half, case.arm(case.reference).half
    if case.plan.measure is Measure.SPEED and mine and theirs:
        return f"half had {had_done(case.plan)} by day {mine[1]:.0f}, against day {theirs[1]:.0f} for {case.control}"
    if case.plan.measure is Measure.QUALITY and c.superiority is not None:
        on = f"plants beat those of {case.control} in {graded_word(case.plan)}"
        if not case.plan.graded_by:
            on = f"root scores beat those of {case.control}"
        return f"its {on} in {100 * c.superiority:.0f} of 100 random pairs"
    return counts_of(case, c)


def sure_of(case: Case, c: Comparison) -> str:
    """How often chance gives as much, and what the results fit."""
    return " ".join(part for part in (chance_of(case, c), fits_of(case, c)) if part)


def chance_of(case: Case, c: Comparison) -> str:
    """How often chance alone would give as much: only where positions were drawn."""
    p = c.asked_p_holm if case.plan.measure is not Measure.STRIKE else c.p_holm
    if p is None or not case.is_drawn or p > 0.5:
        return ""
    several = len(case.plan.family) > 1
    turn: Callable[[float], float] = ceil if several else round
    if p >= 0.015:
        often = f"{turn(100 * p):.0f} times in 100"
    elif p >= 0.0095:
        often = "once in 100"
    elif p >= 0.001:
        often = f"{turn(1000 * p):.0f} times in 1,000".replace("1 times", "once")
    else:
        often = "less than once in 1,000"
    if several:
        most = "" if often.startswith("less") else "at most "
        return f"With {spelt(len(case.plan.family))} to pick from, chance alone would give such a difference {most}{often}."
    about = "" if often.startswith("less") else "about "
    return f"Chance alone would give so large a difference {about}{often}."


def fits_of(case: Case, c: Comparison) -> str:
    """The true gains or losses that the results fit, whole plants in 100."""
    if (
        case.plan.measure is not Measure.STRIKE
        or c.gap is None
        or c.gap.low is None
        or c.gap.high is None
    ):
        return ""
    low, high = 100 * c.gap.low, 100 * c.gap.high
    if c.grade in (Grade.LIKELY_LEAD,) and low > 0:
        low = 0.0
    if c.grade in (Grade.LIKELY_BEHIND,) and high < 0:
        high = 0.0
    if low >= 0:
        return f"The results fit a true gain of {_whole(low)} to {_whole(high)} plants in 100."
    if high <= 0:
        return f"The results fit a true loss of {_whole(-high)} to {_whole(-low)} plants in 100."
    return f"The results fit anything from {_whole(-low)} fewer to {_whole(high)} more in 100."


def fits_90(c: Comparison) -> str:
    """The same at 90 %, for equal outcomes."""
    if c.gap90 is None or c.gap90.low is None or c.gap90.high is None:
        return ""
    low, high = 100 * c.gap90.low, 100 * c.gap90.high
    fewer = f"{_whole(-low)} fewer" if low < 0 else f"{_whole(low)} more"
    more = f"{_whole(high)} more" if high >= 0 else f"{_whole(-high)} fewer"
    return f"The results fit only {fewer} to {more} in 100. "


def _whole(value: float) -> str:
    return f"{value:.0f}" if round(value) or value == 0 else f"{value:.1f}"


def needed(c: Comparison, of: Of) -> int | None:
    """Units of each treatment that would settle it; None where too many to tell."""
    found = next((s.units for s in c.settle if s.of is of), None)
    return None if found is None or found > _MOST_TOLD else found


def of_each(c: Comparison) -> str:
    """What a number of units is of: plants are not named, containers are."""
    return "containers of each" if any(s.thing == "containers" for s in c.settle) else "of each"


def span_of(c: Comparison, seen: Of, worth: Of) -> str:
    """Such as 70 to 107 of each: what would settle it, at the difference seen and at the one that matters."""
    found = sorted({n for n in (needed(c, seen), needed(c, worth)) if n is not None})
    if not found:
        return f"more than {_MOST_TOLD} {of_each(c)}, or look for a larger difference"
    many = f"{found[0]} to {found[-1]}" if len(found) > 1 else f"{found[0]}"
    return f"{many} {of_each(c)}"


def plants_alone(case: Case) -> int | None:
    """Single plants of each treatment that would usually show the smallest difference that matters."""
    base, gap = case.arm(case.reference).strike.rate, case.plan.gap_points / 100
    if base is None or base + gap > 1:
        return None
    found = ceil(
        plants_needed(base, base + gap, alpha=CLEAR_ENOUGH / max(1, len(case.plan.family)))
    )
    return found if found <= _MOST_TOLD else None


def fewest(family: int) -> int:
    """Units of each treatment from which any outcome at all could be clear."""
    return next(n for n in range(2, 50) if family * 2 / comb(2 * n, n) < CLEAR_ENOUGH)


def tied_with(case: Case, leader: int) -> list[int]:
    """Treatments the leader is not clearly ahead of, the control aside.

    Args:
        case: the trial and its judgement.
        leader: index of the treatment that is ahead.
    """
    if case.placings is None or leader not in case.placings.first:
        return []
    return [i for i in case.placings.first if i not in (leader, case.reference)]


# -- the biggest doubt, first that holds -----------------------------------------------------------

_DOUBTS: tuple[tuple[tuple[str, ...], str], ...] = (
    (("not_drawn", "rows_by_treatment"), "light, draughts or handling could be the reason"),
    (("written_afterwards", "goal_moved"), "the goal was set after results could be seen"),
    (("thinned_strongest",), "only the strongest were kept"),
    (("removed_plants",), "the plants removed"),
    (("shared_containers",), "plants shared containers but were counted one by one"),
    (("some_arms_only",), "only some treatments were touched in between"),
    (("set_apart",), "treatments started on different days"),
    (("substituted",), "another batch was used for some"),
    (("agent_past_date",), "the product was past its date"),
    (("dose_off",), "the dose was off the recipe"),
    (("many_gardens_missing",), "gardens that sent nothing may have fared worse"),
    (("rests_on_one",), "one {unit} could change this verdict"),
    (("lost_without_cause",), "why they died was not written down"),
    (("blocks_disagree",), "results differ between blocks"),
    (("gradient",), "results differ along the tray"),
    (("containers_disagree",), "results differ between containers"),
    (("unequal_looks", "unscored_units"), "not all were looked at on the same days"),
    (("stopped_early",), "it stopped early"),
)


def doubt_of(case: Case, c: Comparison) -> str:
    """The first doubt that the notes raise; else a neighbour, too few plants, or that it is one trial."""
    if not case.is_drawn:
        return _DOUBTS[0][1]
    for codes, said in _DOUBTS:
        if case.codes & set(codes):
            return said.format(unit=_unit(case))
    tied = tied_with(case, c.index)
    if tied and c.asked in CLEAR:
        return f"it is not clearly ahead of {case.name(tied[0])}"
    if c.asked is Grade.TOO_CLOSE:
        return "too few plants"
    return DEFAULT_DOUBT


def other_doubt(case: Case, usual: str) -> str:
    """The first doubt that the notes raise, else one of its own.

    Args:
        case: the trial and its judgement.
        usual: the sentence where no note raises a doubt.
    """
    found = next((said for codes, said in _DOUBTS if case.codes & set(codes)), usual)
    return found.format(unit=_unit(case)) if case.is_drawn else _DOUBTS[0][1]


def _unit(case: Case) -> str:
    """What was placed by lot: a plant, or a container with several."""
    is_shared = any(arm.strike.units != arm.strike.n for arm in case.judgement.arms)
    return "container" if is_shared else "plant"


GRADE_SAID: dict[Grade | None, str] = {
    Grade.CLEAR_LEAD: "a clear lead", Grade.LIKELY_LEAD: "a likely lead", Grade.TOO_CLOSE: "too close to call",
    Grade.CLEARLY_BEHIND: "clearly behind", Grade.LIKELY_BEHIND: "likely behind", Grade.LEVEL: "level",
}  # fmt: skip


def spelt(number: int) -> str:
    """A small number as a word."""
    words = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")
    return words[number] if number < len(words) else str(number)


def capital(text: str) -> str:
    """With a capital first."""
    return text[:1].upper() + text[1:]
