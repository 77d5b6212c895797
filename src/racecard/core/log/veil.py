"""The gate before a sealed trial: what an answer may be built from while its treatments are hidden."""

from dataclasses import replace

from racecard.core.log.lift import sampled, second_sample
from racecard.core.model import HIDDEN, Drawn, Plan, Status, Trial


def shown_plan(trial: Trial) -> Plan:
    """The plan as anybody may see it: predictions are the grower's own in a draft, and sealed from the start."""
    if trial.status is Status.DRAFT:
        return trial.plan
    arms = tuple(replace(t, prediction=None) for t in trial.plan.treatments)
    return replace(trial.plan, treatments=arms)


def veiled(trial: Trial) -> Trial:
    """The trial as anybody may see it: a sealed one knows neither treatments of units nor its seed.

    Returns:
        A trial that is not sealed unchanged. A sealed one whose planted cells hold HIDDEN, which is
        no index of a treatment, unlocked; and in `drawn` the key of orders and codes, and the ids of
        the units that are to be lifted or scored twice, which take treatments to choose.
    """
    if not trial.is_sealed:
        return trial
    drawn = Drawn(trial.seed, tuple(sampled(trial).items()), second_sample(trial))
    units = tuple(
        replace(u, cell=replace(u.cell, treatment=HIDDEN, locked=False))
        if u.cell.treatment >= 0
        else u
        for u in trial.units
    )
    return replace(trial, units=units, seed=0, drawn=drawn)
