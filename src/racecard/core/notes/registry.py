"""Every stewards' note: one rule a function, one list, one call.

A rule is a generator that is given the `Evidence` and yields what it objects to, as (message, advice)
or (message, advice, title). Its decorator says its code, its title and what it needs; the registry does
the rest: plan page, finish, report, command line and exports all take the list of `collect`.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

from racecard.core.assess.horizon import horizon_of_all
from racecard.core.assess.judgement import Judgement
from racecard.core.assess.strike import Shares, unit_shares
from racecard.core.log.assemble import in_force
from racecard.core.log.events import entries_in_force
from racecard.core.model import Cell, Plan, Trial, Unit
from racecard.core.model.observation import Entry, Observation
from racecard.core.model.results import Results
from racecard.core.model.table_rows import Sheet
from racecard.core.prepare.register import AgentLot
from racecard.core.stats.permutation import PermutationTest


@dataclass(frozen=True, slots=True)
class Note:
    """One objection: stable code, title, what is the matter, and what to do."""

    code: str
    title: str
    message: str
    advice: str


@dataclass(frozen=True, slots=True)
class Dosed:
    """A recipe of the list that a guard stopped or that was off: for which arm ("" for all), what the
    guard said, and the grower's reason where it was overruled.
    """

    arm: str
    title: str
    says: str
    reason: str = ""


@dataclass(frozen=True, eq=False)  # without slots: what many rules ask for is worked out once
class Seen:
    """A finish as far as its results go. `results` are of the true units, `end` the last day of the plan.

    `refused`: treatments of which only survivors chosen as the strongest were counted.
    """

    results: Results
    judgement: Judgement
    permutations: PermutationTest
    end: float | None
    lot_drawn: bool | None
    resamples: int
    refused: frozenset[int] = frozenset()

    @cached_property
    def shares(self) -> Shares:
        """All units at the age they can be judged at together."""
        return unit_shares(self.results, horizon_of_all(self.results, self.end).age)

    @cached_property
    def used(self) -> Shares | None:
        """Those with something left to count; None where there are none, or nobody has looked."""
        used = self.shares.keep(self.shares.counted > 0)
        is_seen = horizon_of_all(self.results, self.end).age > 0
        return used if is_seen and len(used.sizes) else None


@dataclass(frozen=True, eq=False)
class Kept:
    """What else a whole trial has kept: its log and diary, its units still in, products and doses used."""

    trial: Trial
    log: Sequence[Observation]
    entries: Sequence[Entry]
    units: Sequence[Unit]
    agents: Mapping[str, AgentLot]
    dosed: Sequence[Dosed]

    @cached_property
    def looks(self) -> tuple[Observation, ...]:
        """The looks that stand, corrections taken in."""
        return tuple(in_force(self.log))

    @cached_property
    def told(self) -> tuple[Entry, ...]:
        """The diary as it stands."""
        return tuple(entries_in_force(self.entries))


@dataclass(frozen=True, slots=True, eq=False)
class Table:
    """A table the results came from; `is_daily`: its looks were taken as daily."""

    sheet: Sheet
    is_daily: bool


@dataclass(frozen=True, slots=True, eq=False)
class Evidence:
    """All a rule may look at; a part is None where there is none of it (yet)."""

    plan: Plan
    cells: Sequence[Cell] = ()
    seen: Seen | None = None
    kept: Kept | None = None
    table: Table | None = None


class Needs(StrEnum):
    """What a rule looks at: the plan alone, before the start or always; results; the log; a table."""

    DRAFT = "draft"
    PLAN = "plan"
    SEEN = "seen"
    KEPT = "kept"
    TABLE = "table"

    def has(self, e: Evidence) -> bool:
        """Whether this evidence holds it."""
        if self is Needs.PLAN:
            return True
        if self is Needs.DRAFT:
            return e.seen is None
        return getattr(e, self.value) is not None


Said = tuple[str, str] | tuple[str, str, str]
Rule = Callable[[Evidence], Iterator[Said]]


@dataclass(frozen=True, slots=True)
class Registered:
    """A rule with its code, its title, what it needs and the matter it belongs to."""

    code: str
    title: str
    needs: Needs
    about: str
    find: Rule


RULES: list[Registered] = []


def rule(code: str, title: str, needs: Needs, about: str) -> Callable[[Rule], Rule]:
    """Register a rule.

    Args:
        code: stable, documented; two rules may share one.
        title: at most five words; a finding may give a nearer one.
        needs: what it looks at.
        about: the matter it belongs to, as "Checked: … of …" names it (`looked_for.MATTERS`).
    """

    def registered(find: Rule) -> Rule:
        RULES.append(Registered(code, title, needs, about, find))
        return find

    return registered


def collect(e: Evidence) -> tuple[Note, ...]:
    """Every objection to a plan, a trial or a table, in the order of the rules."""
    notes = []
    for r in RULES:
        if r.needs.has(e):
            for message, advice, *title in r.find(e):
                notes.append(Note(r.code, title[0] if title else r.title, message, advice))
    return tuple(notes)


def notes_on_plan(plan: Plan, cells: Sequence[Cell]) -> tuple[Note, ...]:
    """Every objection to a plan and its drawn bench."""
    return collect(Evidence(plan, cells))


def words_list(names: Sequence[str]) -> str:
    """Names joined as in a sentence."""
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
