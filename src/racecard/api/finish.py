"""The finish of a trial."""

from dataclasses import replace

from fastapi import APIRouter

from racecard.api.deps import ShedDep
from racecard.api.schemas.finish import FinishOut
from racecard.core.finish.diary import notes_on_events
from racecard.core.finish.judge import judge
from racecard.core.log.assemble import in_force, results_of, unit_logs
from racecard.core.model import Layout, Status
from racecard.core.prepare.sticking import notes_on_sticking
from racecard.errors import Conflict, Sealed
from racecard.store.diary import load_entries
from racecard.store.rounds import load_observations
from racecard.store.trials import load_trial

router = APIRouter(prefix="/api", tags=["finish"])


@router.get("/trials/{trial_id}/finish", operation_id="get_finish")
def get_finish(shed: ShedDep, trial_id: str) -> FinishOut:
    """Lanes, verdicts, what the trial can say, and the stewards' notes."""
    with shed.reading() as session:
        trial, log = load_trial(session, trial_id), load_observations(session, trial_id)
        entries = load_entries(session, trial_id)
    if trial.status is not Status.STARTED:
        raise Conflict("This trial has not started, so there is nothing to judge.")
    if trial.is_sealed:
        raise Sealed("This trial is scored blind: unseal it when the last round is done.")
    units = trial.stuck
    results = results_of(trial.plan, units, unit_logs(units, log))
    judgement = judge(
        trial.plan, results, seed=trial.seed, cells=[u.cell for u in units],
        end_day=trial.plan.length_days, lot_drawn=trial.plan.layout is not Layout.BY_HAND,
    )  # fmt: skip
    said = notes_on_sticking(trial.plan, trial.planted)
    said += notes_on_events(trial.plan, trial.planted, entries, in_force(log))
    judgement = replace(judgement, notes=(*said, *judgement.notes))
    return FinishOut.from_core(trial.plan, results, judgement, amendments=trial.amendments)
