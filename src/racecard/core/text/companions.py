"""The sentences of what stands beside the verdict: crosses, doses, runs, places, growth and payoff."""

from collections.abc import Iterator, Sequence

from racecard.core.assess.crosses import MOST_FACTORS, Cross, Effect
from racecard.core.assess.dose_series import DoseSeries, Step
from racecard.core.assess.grade import GRADE_WORDS, Grade
from racecard.core.assess.judgement import Comparison
from racecard.core.assess.later_growth import Grown
from racecard.core.assess.payoff import Payoff
from racecard.core.assess.placings import Placings
from racecard.core.assess.runs import DIFFER, RunsTogether
from racecard.core.model import Plan
from racecard.core.text.amounts import (
    capital,
    difference,
    doubt_of,
    on_asked,
    points,
    unit_of,
)
from racecard.core.text.statement import Section, Statement
from racecard.core.text.verdicts import with_isolated_names


def cross_statements(plan: Plan, cross: Cross) -> Iterator[Statement]:
    """Main effects, or simple ones where factors interact.

    Args:
        plan: the plan.
        cross: the finish of its crossed factors.
    """
    leads = [i for i in cross.interactions if i.leads]
    if leads:
        names = " and ".join(leads[0].factors)
        yield Statement(
            Section.CROSS,
            "interaction",
            f"{names[:1].upper()}{names[1:]} interact: read each at each level of the other, not its average.",
        )
    for e in cross.simple if leads else cross.main:
        yield Statement(Section.CROSS, e.grade.value, effect_says(plan, e))
    if not leads and cross.interactions and len(cross.factors) == 2:
        if cross.interactions[0].gap.low is None:
            says = "Too few units to see an interaction."
            yield Statement(Section.CROSS, "interaction_not_tested", says)
        elif cross.interactions[0].gap.leaves_out_zero:
            says = "The two factors may interact, but with so many results on this page chance explains as much."
            yield Statement(Section.CROSS, "possible_interaction", says)
        else:
            says = "No sign of an interaction. Only a large one could have been seen here."
            yield Statement(Section.CROSS, "no_interaction", says)
    if len(cross.factors) == MOST_FACTORS:
        says = "The three-way interaction is not tested: no trial of this size could show it."
        yield Statement(Section.CROSS, "three_way", says)


def effect_says(plan: Plan, e: Effect) -> str:
    """One sentence on one factor: what its level did, over all or at one level of the other.

    Args:
        plan: the plan.
        e: the effect.
    """
    where = f" (at {e.within})" if e.within else ""
    what = f"{e.factor[:1].upper()}{e.factor[1:]}, {e.level} against {e.base}{where}"
    if e.grade is Grade.CANNOT_TELL:
        return f"{what}: this trial could not have told."
    told = f"{what}: {difference(plan, e.gap.estimate)}{unit_of(plan)}{doubt_of(plan, e.gap)}."
    return (
        f"{told} {capital(GRADE_WORDS[e.grade])}{on_asked(plan)}{'' if e.is_final else ', so far'}."
    )


_FOUND = {
    Grade.CLEAR_LEAD: "Clear trend over the doses",
    Grade.LIKELY_LEAD: "Likely trend over the doses",
    Grade.TOO_CLOSE: "No clear trend over the doses",
    Grade.CANNOT_TELL: "This trial could not have shown a trend",
}


def dose_statements(ladder: DoseSeries) -> Iterator[Statement]:
    """The trend over the doses, the best dose or the good ones, and how far they reach."""
    steps, unit = ladder.steps, ladder.unit
    is_found = ladder.grade in (Grade.CLEAR_LEAD, Grade.LIKELY_LEAD)
    shape = f": {_shape_said(ladder.shape, steps, unit)}." if is_found else "."
    so_far = "" if ladder.is_final else "So far: "
    yield Statement(Section.DOSES, ladder.grade.value, f"{so_far}{_FOUND[ladder.grade]}{shape}")
    best = next((s for s in steps if s.treatment == ladder.best), None)
    if best is not None and is_found:
        says = (
            f"{best.dose:g} {unit} is the best dose tried: it differs from its neighbours. (The placings "
            "compare every pair and are stricter.)"
        )
        yield Statement(Section.DOSES, "best_dose", says, best.treatment)
    else:
        yield Statement(Section.DOSES, "good_doses", _good_says(steps, unit, ladder.good))
    says = f"This covers doses from {steps[0].dose:g} to {steps[-1].dose:g} {unit} only."
    yield Statement(Section.DOSES, "range_of_doses", says)


def _good_says(steps: Sequence[Step], unit: str, good: Sequence[int]) -> str:
    span = [f"{s.dose:g} {unit}" for s in steps if s.treatment in good]
    if len(span) < len(steps):
        return f"Doses not clearly behind the top one: {', '.join(span)}."
    return "No single best dose: the top ones do not differ detectably."


def _shape_said(shape: str, steps: Sequence[Step], unit: str) -> str:
    kind, _, at = shape.rpartition(" ")
    if not at.isdigit():
        return "results rise or fall steadily"
    dose = f"{steps[int(at)].dose:g} {unit}"
    return (
        f"results change up to {dose} and turn back after it"
        if kind.startswith("peak")
        else f"results change up to {dose} and stay level after it"
    )


def run_statements(plan: Plan, r: RunsTogether) -> Iterator[Statement]:
    """One treatment run by run, and what that says of further runs."""
    name = plan.treatments[r.treatment].name
    known = [x for x in r.runs if x.gap is not None]
    if len(known) < 2:
        says = f"{name} was set beside the control in {len(known)} of {len(r.runs)} runs, so runs cannot be compared."
        yield Statement(Section.RUNS, "runs_not_compared", says, r.treatment)
        return

    def said(code: str, text: str) -> Statement:
        return Statement(Section.RUNS, code, text, r.treatment)

    told = "; ".join(f"{x.run} {points(x.gap.estimate)}" for x in known if x.gap is not None)
    yield said("run_by_run", f"{name}, points against the control run by run: {told}.")
    if r.q_p is not None and r.q_p < DIFFER:
        yield said(
            "runs_differ",
            "The runs differ more than chance explains. Find out what was different before you use one figure for all.",
        )
    elif r.q_p is not None:
        few = " (two or three runs would show only a large one)" if len(known) < 4 else ""
        yield said("runs_alike", f"No sign that the runs differ beyond chance{few}.")
    if r.further is not None:
        low, high = points(r.further[1]), points(r.further[2])
        yield said(
            "further_runs", f"The results fit further runs like these from {low} to {high} points."
        )
    else:
        yield said(
            "two_runs", "Two runs cannot predict further runs. This is the result of these two."
        )
    if r.next_run is not None:
        low, high = points(r.next_run[0]), points(r.next_run[1])
        yield said("next_run", f"The results fit a next single run from {low} to {high} points.")


def growth_statements(plan: Plan, g: Grown) -> Iterator[Statement]:
    """Means at the same age, and what differed."""
    label, size = g.label.lower(), f" {g.unit}" if g.unit else ""
    told = ", ".join(f"{plan.treatments[a.treatment].name} {a.mean:.3g} (n {a.n})" for a in g.arms)
    says = f"Mean {label}{f',{size}' if size else ''} at the same age, day {g.age}: {told}. Only plants that were measured count."
    yield Statement(Section.GROWTH, "means_at_one_age", says)
    for m in g.compared:
        if not g.is_primary and m.grade in (Grade.LIKELY_LEAD, Grade.LIKELY_BEHIND):
            way = "more" if m.gap.estimate > 0 else "less"
            name = plan.treatments[m.treatment].name
            says = f"{name}: {abs(m.gap.estimate):.3g}{size} {way} in {label} (secondary)."
            yield Statement(Section.GROWTH, m.grade.value, says, m.treatment)


def places_say(plan: Plan, found: Placings) -> str:
    """What the placings may claim."""
    if not found.is_final:
        return "No place is claimed: the trial is not over, or was not followed to its end."
    if not found.is_drawn:
        return "No place is claimed, because positions were not randomised."
    named = with_isolated_names(plan).treatments
    names = [named[a].name for a in found.first]
    if len(names) == 1:
        return f"{names[0]} is clearly first: it differs from every other treatment."
    if len(names) == len(found.places):
        says = f"First place could be any of these {len(names)}: none differs detectably from the top one."
    else:
        says = f"First place could be any of these {len(names)}: {', '.join(names[:-1])} and {names[-1]}."
    if not found.decidable:
        says += " With so few units some pairs could never differ detectably."
    return says


def payoff_says(plan: Plan, c: Comparison, p: Payoff, currency: str) -> str:
    """What a treatment is expected to bring beyond its cost, and from where on it pays.

    Args:
        plan: the plan.
        c: the comparison.
        p: what it is worth, in money.
        currency: name of the money, "" without one.
    """
    name = plan.treatments[c.index].name
    if p.gain is None:
        return f"{name}: {p.word}, since there is no difference to calculate with."
    money = f" {currency}" if currency else ""
    span = "" if p.low is None or p.high is None else f" (from {p.low:.2f} to {p.high:.2f})"
    need = (
        "it costs no more than the control"
        if p.break_even <= 0
        else f"it pays from {100 * p.break_even:.1f} points on"
    )
    return f"{name}, {GRADE_WORDS[c.strike_grade]}: {p.word}. Expected {p.gain:+.2f}{money} a {plan.kind.value}{span}; {need}."
