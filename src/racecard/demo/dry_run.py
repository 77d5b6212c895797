"""Camellia carried out dry, as planned and with twice the number; invented like the rest."""

from racecard.core.dryrun.simulate_trials import Season, carry_out
from racecard.core.dryrun.truths import Nuisance, changed_design, proposed_truths
from racecard.core.model import Trial
from racecard.core.plan.bench import draw_bench
from racecard.store.dry_runs import Carried, keep_dry_run, load_dry_runs
from racecard.store.engine import Shed

_SEED = 3307
_NUISANCE = Nuisance(block_points=6, missed=0.05)


def carry_camellia_out(shed: Shed, camellia: Trial, who: str, seasons: int = 1000) -> None:
    """Keep two dry runs of the plan, unless they are there."""
    with shed.reading() as session:
        if any(k.invented for k in load_dry_runs(session)):
            return
    truths = proposed_truths(camellia.plan)
    for name, units in (("Camellia with 48 each", 48), ("Camellia as planned", None)):
        plan = changed_design(camellia.plan, units=units)
        season = Season.of(plan, draw_bench(plan, _SEED), truths, _NUISANCE, _SEED)
        carried = Carried(plan, truths, _NUISANCE, _SEED, carry_out(season, seasons))
        keep_dry_run(shed, name, carried, who, invented=True)
