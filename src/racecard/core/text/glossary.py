"""The words on the page, each with one line that says what it means."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Term:
    """A word as it stands on the page; `group`: whose word it is."""

    name: str
    meaning: str
    group: str


_ALL = {
    "Growers' words": (
        ("active ingredient", "The substance that is meant to work, such as IBA."),
        ("blind", "Scored without knowing which plant had which treatment."),
        (
            "block",
            "A group of plants alike in place, size, day or person; treatments are randomised inside it.",
        ),
        ("callus", "Pale, lumpy tissue on the cut end of a stem; not yet a root."),
        (
            "carrier",
            "The liquid, powder or gel that an active ingredient is mixed into, such as alcohol or talc.",
        ),
        ("container", "A pot, cell, jar or dish that holds one plant or several."),
        ("damping off", "Seedlings falling over because a mould attacks the stem at soil level."),
        ("day 0", "The day from which a trial counts: sticking, sowing or first soaking."),
        (
            "degree-day",
            "A day's mean temperature above a base temperature; adding them up measures warmth.",
        ),
        ("emerged", "Visible above the surface of the medium."),
        (
            "first sighting",
            "The first look at which something was seen; it happened some time since the look before.",
        ),
        ("germinated", "The root tip shows outside the seed coat."),
        (
            "hardwood, semi-ripe, softwood",
            "Stem that is woody and dormant; firm but still bending; soft and green.",
        ),
        ("harm", "More plants lost or injured than in the control; reported apart from the rate."),
        ("IBA", "Indole-3-butyric acid, a common rooting hormone."),
        ("lane", "The drawing of one treatment: one line for each plant, by day."),
        ("lift", "Taking a plant out of its medium to look at or measure its roots."),
        ("look", "One check of one plant or pot on one day."),
        ("lost", "Died, rotted, dried or was destroyed; counts as no success."),
        ("medium", "What cuttings or seeds stand in: compost, perlite, sand or water."),
        ("mother plant", "The plant that cuttings are taken from."),
        ("pace line", "The control's curve, drawn through every lane for comparison."),
        ("pattern", "The mark that stands for a treatment on labels and drawings."),
        ("plantable", "Rooted and strong enough to be potted or planted out."),
        ("radicle", "The first root of a seed."),
        (
            "removed",
            "Taken from the trial on purpose, such as a sample; neither a success nor lost.",
        ),
        ("root score", "A grade from 0 (no roots) to 5 (best) for all roots of a plant."),
        ("round", "One visit in which every plant of the trial is looked at."),
        ("run", "One plan grown once, from day 0 to the last day."),
        ("scarify, nick", "To scratch or cut a hard seed coat so that water can enter."),
        ("seed batch (seed lot)", "Seed of one variety from one harvest and source."),
        ("site", "A garden, household or other place that grows its own part of a trial."),
        ("stage", "What can be seen on a plant, in order, such as callus or first root."),
        ("stick", "To put a cutting into its medium."),
        (
            "strike rate",
            "Cuttings that rooted, divided by all that were stuck; of seeds, those that came up.",
        ),
        ("strike, struck", "To form roots; a cutting that has rooted as the trial defines it."),
        ("thinning", "Removing extra seedlings from a container."),
        (
            "unit",
            "The smallest thing that was given its treatment and its position at random, such as one cutting or one jar.",
        ),
    ),
    "Words of a trial": (
        ("amendment", "A change to the plan after day 0, kept with its date and reason."),
        ("candidate", "A treatment that the trial tests."),
        ("carrier control", "A treatment with the carrier but no active ingredient."),
        ("confounded", "Two things differ together, so their effects cannot be separated."),
        ("control", "The plants that others are compared with; usually untreated."),
        ("dead heat", "Two treatments with exactly equal results."),
        ("dose series", "The same product at several strengths, including none."),
        ("dry run", "A plan simulated many times by the computer with invented plants."),
        ("endpoint", "What the trial is judged on, such as rooted by day 42."),
        (
            "factor and level",
            "Something varied on purpose, and one of its settings: soaking; overnight.",
        ),
        ("form book", "The record of all your trials, with your usual rates."),
        ("interaction", "The effect of one factor depends on the level of another."),
        ("last day", "The day on which the trial is judged."),
        (
            "note, stewards' note",
            "An objection: something in the plan, the work or the results that weakens the conclusion.",
        ),
        ("pair", "A block of two, one of each treatment."),
        ("placings", "The treatments in order of their results, with ties and doubts shown."),
        ("randomised", "Given a treatment and position by chance, not by choice."),
        (
            "smallest difference that matters",
            "The smallest gain that would change what you do; set before the start.",
        ),
        ("standard", "The method you use now."),
        ("treatment", "What is done to a group of plants, including doing nothing."),
    ),
    "Statisticians' words": (
        (
            "90 % confidence interval",
            "The same, narrower, containing the truth in about 90 of 100 trials; used to judge “level”.",
        ),
        (
            "95 % confidence interval",
            "The true values that the results fit; intervals made this way contain the truth in about 95 of 100 trials.",
        ),
        (
            "censored",
            "Known only in part: it had not happened when last seen, or happened between two looks.",
        ),
        ("chance", "Differences between plants that have nothing to do with treatment."),
        (
            "correction for several comparisons (Holm)",
            "A stricter limit for each comparison because several are made.",
        ),
        (
            "design effect",
            "How many plants in shared containers are needed to tell as much as one plant on its own.",
        ),
        ("detectable difference", "The difference that a plan would show in 8 of 10 trials."),
        (
            "estimated",
            "Calculated from incomplete counts, because some plants were removed or not seen.",
        ),
        ("exact", "Counted over all possibilities instead of simulated."),
        ("heterogeneity", "Differences between runs or blocks beyond what chance explains."),
        (
            "interval-censored curve",
            "The share reached by each day, estimated from first sightings between looks.",
        ),
        ("margin", "The largest difference that you decided not to care about."),
        (
            "mean wait",
            "Average days until first seen rooted, or up; those that never were count to the last day.",
        ),
        ("n", "The number of units or plants counted."),
        (
            "p value",
            "How often chance alone would give a difference at least this large, if the treatment did nothing.",
        ),
        (
            "percentage points (points)",
            "The difference between two percentages: 60 % is 20 points more than 40 %.",
        ),
        (
            "permutation test",
            "A test that reassigns treatments at random to see how often chance gives so large a difference.",
        ),
        ("power", "How often a plan would show a difference of a given size."),
        ("primary and secondary result", "The one question the plan is judged on; all the others."),
        ("ratio", "One rate divided by another; 60 % is 1.5 times 40 %."),
        (
            "similarity within containers",
            "How much more alike plants in one container are than plants in different ones, from 0 to 1.",
        ),
        ("smallest possible p", "The p value of the most extreme result that a plan could give."),
    ),
}
TERMS = tuple(
    Term(name, meaning, group) for group, terms in _ALL.items() for name, meaning in terms
)


def as_markdown() -> str:
    """The whole list as docs/glossary.md holds it."""
    lines = [
        "# Glossary",
        "",
        "Written by `tools/write_openapi.py` from `core/text/glossary.py`.",
        "",
    ]
    for group, terms in _ALL.items():
        lines += [f"## {group}", "", *(f"- **{name}**: {meaning}" for name, meaning in terms), ""]
    return "\n".join(lines)
