"""What is spoken of, and the words for one treatment against another: counts, days, scores and measures."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from racecard.core.assess.findings import About, Finding, findings_of, of
from racecard.core.assess.grade import LEADS
from racecard.core.assess.judgement import Judgement
from racecard.core.assess.placings import Placings
from racecard.core.log.goal import done, had_done
from racecard.core.log.measures import graded_word
from racecard.core.model import Kind, Measure, Plan
from racecard.core.notes import Note
from racecard.core.notes.registry import words_list
from racecard.core.text.amounts import fine, size_of, value_of, whole_percent


@dataclass(frozen=True)  # without slots: what many sentences ask for is worked out once
class Told:
    """What is spoken of: the plan, its judgement, its notes, and what is known of the rest.

    `runs`: names of the runs judged together here; `others`: what this run came to with others of its plan,
    a sentence; `is_table`: results that came without a plan.
    """

    plan: Plan
    judgement: Judgement
    notes: Sequence[Note]
    placings: Placings | None = None
    is_drawn: bool = True
    is_table: bool = False
    runs: tuple[str, ...] = ()
    others: str = ""
    longest: int = 24
    """Letters of a name before it is cut."""

    @cached_property
    def codes(self) -> frozenset[str]:
        """Codes of the notes."""
        return frozenset(n.code for n in self.notes)

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """Every finding, ranked."""
        return findings_of(self.plan, self.judgement)

    @cached_property
    def results(self) -> list[Finding]:
        """What was found on what was asked, of candidates and of checks that did something."""
        return of(self.findings, About.RESULT)

    @cached_property
    def asked(self) -> list[Finding]:
        """The same of candidates and the standard alone."""
        return [f for f in self.results if not f.is_check]

    @cached_property
    def called(self) -> list[Finding]:
        """Those with a clear or likely grade."""
        return [f for f in self.results if f.is_called]

    @cached_property
    def hurt(self) -> dict[int, Finding]:
        """Harm by treatment, that which is called first."""
        return {f.index: f for f in of(self.findings, About.HARM)}

    @cached_property
    def beyond(self) -> dict[int, Finding]:
        """What the agent did beyond its carrier, by candidate."""
        return {f.index: f for f in of(self.findings, About.AGENT)}

    @property
    def by(self) -> Measure:
        """What the trial is judged on."""
        return self.plan.measure

    @property
    def zero(self) -> int:
        """Index of what the others are compared with."""
        assert self.plan.reference is not None
        return self.plan.reference

    @property
    def control(self) -> str:
        """Its name."""
        return self.name(self.zero)

    @property
    def did(self) -> str:
        """What those did that reached the goal."""
        return done(self.plan)

    @property
    def thing(self) -> str:
        """What a unit is called."""
        if any(a.strike.n > a.strike.units for a in self.judgement.arms):
            return "container"
        return "seed" if self.plan.kind is Kind.SEED else "plant"

    @property
    def sizes(self) -> list[int]:
        """Units of each treatment that is compared, the control last."""
        arms = (*(f.index for f in self.asked), self.zero)
        return [self.judgement.arm(i).strike.units for i in arms]

    def name(self, index: int) -> str:
        """A treatment's name, cut where it is long."""
        name = self.plan.treatments[index].name
        return name if len(name) <= self.longest else f"{name[: self.longest - 1].rstrip()}…"

    def half(self, index: int) -> float | None:
        """The day by which half had reached the goal; None where half never did."""
        half = self.judgement.arm(index).half
        return half[1] if half else None

    def count(self, index: int) -> str:
        """Such as 21 of 24, of those known; the mean share where containers weigh otherwise than plants."""
        s = self.judgement.arm(index).strike
        n = s.n - s.removed - s.unknown - s.at_start
        if n <= 0:
            return "none left"
        is_mean = s.rate is not None and s.units > 1 and not s.is_estimated
        if is_mean and abs((s.rate or 0) - s.struck / n) > 0.005:
            return f"{whole_percent(s.rate or 0)} %"
        return f"{s.struck} of {n}"

    def counts_of(self, indices: Sequence[int]) -> str:
        """Counts of several by name: 3 of 3 rooted with A, 0 of 5 with B."""
        told = [
            f"{self.count(i)}{'' if k else f' {self.did}'} with {self.name(i)}"
            for k, i in enumerate(indices)
        ]
        return words_list(told)

    @property
    def all_counts(self) -> str:
        """Counts of all that is compared, up to three and the control."""
        return self.counts_of([*(f.index for f in self.asked[:3]), self.zero])


def measured(t: Told, f: Finding) -> str:
    """What was asked, of both: how many, how soon, or how big."""
    return {Measure.STRIKE: _how_many, Measure.SPEED: _how_soon, Measure.QUALITY: _how_big}[t.by](
        t, f
    )


def _how_many(t: Told, f: Finding) -> str:
    s, mine, theirs = t.judgement.arm(f.index).strike, t.count(f.index), t.count(t.zero)
    if "%" in mine + theirs:
        return f"containers averaged {mine} {t.did}, against {theirs} for {t.control}"
    many = f" in {s.units} containers" if s.n > s.units > 1 else ""
    return f"{mine} {t.did}{many}, against {theirs} for {t.control}"


def _how_soon(t: Told, f: Finding) -> str:
    mine, theirs, gap = t.half(f.index), t.half(t.zero), f.comparison.outcome.gap
    if mine is not None and mine != theirs:
        late = "never" if theirs is None else f"day {fine(theirs)}"
        return f"half had {had_done(t.plan)} by day {fine(mine)}, against {late} for {t.control}"
    return (
        "the days differ"
        if gap is None
        else f"{size_of(t.plan, gap.estimate)} than {t.control} on average"
    )


def _how_big(t: Told, f: Finding) -> str:
    o = f.comparison.outcome
    if o.mine is None or o.theirs is None:
        return f"{graded_word(t.plan)}s differ"
    return f"{value_of(t.plan, o.mine)} on average, against {value_of(t.plan, o.theirs)} for {t.control}"


def figure(t: Told, index: int) -> str:
    """One treatment's own figure on what was asked, short: 21 of 24, day 12, 103 mm.

    Args:
        t: what is spoken of.
        index: the treatment.
    """
    if t.by is Measure.STRIKE:
        return t.count(index)
    if t.by is Measure.SPEED:
        half = t.half(index)
        return "half never" if half is None else f"half by day {fine(half)}"
    outcomes = {f.index: f.comparison.outcome for f in t.findings}
    theirs = next((o.theirs for o in outcomes.values()), None)
    value = theirs if index == t.zero else outcomes[index].mine if index in outcomes else None
    return "not measured" if value is None else value_of(t.plan, value)


def against(t: Told, f: Finding) -> str:
    """What was seen of one that is not called: 10 of 16 rooted with it, 6 of 16 with the control."""
    o, name = f.comparison.outcome, t.name(f.index)
    if t.by is Measure.SPEED:
        halves = {name: t.half(f.index), t.control: t.half(t.zero)}
        said = [f"{f'by day {fine(h)}'} with {who}" for who, h in halves.items() if h is not None]
        never = [
            f"{'not yet' if not t.judgement.is_final else 'never'} with {who}"
            for who, h in halves.items()
            if h is None
        ]
        if said:
            return f"half had {had_done(t.plan)} {', '.join([*said, *never])}"
    if t.by is Measure.QUALITY and o.mine is not None and o.theirs is not None:
        return f"{value_of(t.plan, o.mine)} on average with {name}, {value_of(t.plan, o.theirs)} with {t.control}"
    averaged = "containers averaged " if "%" in t.count(f.index) + t.count(t.zero) else ""
    return f"{averaged}{t.count(f.index)} {t.did} with {name}, {t.count(t.zero)} with {t.control}"


def looks_that_tell(t: Told) -> int:
    """Days on which any curve could rise: how many looks tell how soon."""
    arms = (t.zero, *(f.index for f in t.asked))
    return len({float(d) for i in arms for d in t.judgement.arm(i).curve.days})


def rival_of(t: Told, f: Finding) -> int | None:
    """The nearest rival a leader is not clearly ahead of, by the numbers: better than the control, and harmless."""
    if t.placings is None or f.grade not in LEADS or f.index not in t.placings.first:
        return None
    known = {p.treatment: p.rate for p in t.placings.places}
    if t.zero not in known:
        return None
    sign = -1 if t.by is Measure.SPEED else 1
    others = [i for i in t.placings.first if i not in (f.index, t.zero, *t.hurt)]
    return next((i for i in others if sign * (known[i] - known[t.zero]) > 0), None)
