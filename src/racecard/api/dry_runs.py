"""Dry runs: a plan carried out again and again; with progress, a way to stop, and a game."""

import threading
from collections import OrderedDict
from dataclasses import dataclass, field, replace

from fastapi import APIRouter, Request

from racecard.api.deps import ShedDep, WhoDep
from racecard.api.schemas.dry_runs import (
    CarriedOut,
    DryRunIn,
    GuessIn,
    JobOut,
    JobState,
    KeepIn,
    KeptOut,
    ProposalOut,
    RaceOut,
    ReadOut,
    SeasonOut,
)
from racecard.api.schemas.finish import FinishOut
from racecard.api.standings import proposals_of_all
from racecard.core.dryrun.race import race, told
from racecard.core.dryrun.simulate_trials import DryRun, Season, carry_out
from racecard.core.dryrun.truths import changed_design, check_truths
from racecard.core.finish.finish_result import bare
from racecard.core.plan.bench import draw_bench
from racecard.errors import Conflict, NotFound
from racecard.store.dry_runs import (
    Carried,
    drop_dry_run,
    keep_dry_run,
    load_dry_run,
    load_dry_runs,
)
from racecard.store.trials import load_trial

router = APIRouter(prefix="/api", tags=["dry runs"])
_MOST_JOBS = 20
_AT_ONCE = 2


@dataclass(slots=True)
class Job:
    """A dry run in a thread of its own."""

    id: str
    carried: Carried
    of: int
    done: int = 0
    state: JobState = JobState.RUNNING
    stop: threading.Event = field(default_factory=threading.Event)

    def go(self, season: Season) -> None:
        """Carry it out; told every ten seasons, stopped between them."""

        def step(done: int) -> bool:
            self.done = done
            return not self.stop.is_set()

        run = carry_out(season, self.of, step)
        self.carried = replace(self.carried, run=run)
        self.state = JobState.STOPPED if run.done < self.of else JobState.DONE


@dataclass(slots=True)
class Jobs:
    """The dry runs of this server, the latest kept until it stops."""

    by_id: "OrderedDict[str, Job]" = field(default_factory=OrderedDict)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def begin(self, job: Job, season: Season) -> None:
        """Start it in the background; the oldest finished one makes room."""
        with self.lock:
            if sum(j.state is JobState.RUNNING for j in self.by_id.values()) >= _AT_ONCE:
                raise Conflict("Two dry runs are under way: stop one, or wait for it.")
            while len(self.by_id) >= _MOST_JOBS:
                oldest = next(k for k, j in self.by_id.items() if j.state is not JobState.RUNNING)
                del self.by_id[oldest]
            self.by_id[job.id] = job
        threading.Thread(target=job.go, args=(season,), daemon=True).start()


_NOTHING = DryRun(0, (), 0, 0, None, (0, 0, 0), ())


@router.get("/dry-runs/plans", operation_id="list_dry_plans")
def list_plans(shed: ShedDep) -> list[ProposalOut]:
    """Every trial whose plan can be carried out dry, with the truths its grower expects."""
    return proposals_of_all(shed)


@router.post("/dry-runs/jobs", operation_id="begin_dry_run", status_code=201)
def begin(shed: ShedDep, request: Request, body: DryRunIn) -> JobOut:
    """Begin a dry run in the background."""
    with shed.reading() as session:
        trial = load_trial(session, body.trial_id)
    changes = body.changes
    plan = changed_design(
        trial.plan, units=changes.units, blocks=changes.blocks, per_container=changes.per_container
    )
    truths, nuisance = tuple(t.to_core() for t in body.truths), body.nuisance.to_core()
    check_truths(plan, truths, nuisance, body.seasons)
    carried = Carried(plan, truths, nuisance, body.seed, _NOTHING)
    job = Job(shed.new_id(), carried, body.seasons)
    _jobs(request).begin(job, _season(carried))
    return _out(job)


@router.get("/dry-runs/jobs/{job_id}", operation_id="get_dry_job")
def get_job(request: Request, job_id: str) -> JobOut:
    """How far it is, and what it came to when it is over."""
    return _out(_job(request, job_id))


@router.delete("/dry-runs/jobs/{job_id}", operation_id="stop_dry_run")
def stop(request: Request, job_id: str) -> JobOut:
    """Stop it; what was done so far is kept."""
    job = _job(request, job_id)
    job.stop.set()
    return _out(job)


@router.get("/dry-runs/jobs/{job_id}/seasons/{number}", operation_id="get_dry_season")
def job_season(request: Request, job_id: str, number: int) -> SeasonOut:
    """One season of it, as the finish would show it."""
    return _shown(_job(request, job_id).carried, number)


@router.post("/dry-runs/jobs/{job_id}/keep", operation_id="keep_dry_run", status_code=201)
def keep(shed: ShedDep, who: WhoDep, request: Request, job_id: str, body: KeepIn) -> KeptOut:
    """Keep a dry run under a name, to compare with another."""
    job = _job(request, job_id)
    if job.state is JobState.RUNNING:
        raise Conflict("This dry run is still under way: stop it, or wait until it is over.")
    return KeptOut.from_core(keep_dry_run(shed, body.name, job.carried, who))


@router.get("/dry-runs", operation_id="list_dry_runs")
def list_kept(shed: ShedDep) -> list[KeptOut]:
    """Every dry run that was kept, the newest first."""
    with shed.reading() as session:
        return [KeptOut.from_core(k) for k in load_dry_runs(session)]


@router.get("/dry-runs/{run_id}", operation_id="get_dry_run")
def get_kept(shed: ShedDep, run_id: str) -> KeptOut:
    """One of them."""
    with shed.reading() as session:
        return KeptOut.from_core(load_dry_run(session, run_id))


@router.get("/dry-runs/{run_id}/seasons/{number}", operation_id="get_kept_season")
def kept_season(shed: ShedDep, run_id: str, number: int) -> SeasonOut:
    """One season of a dry run that was kept."""
    with shed.reading() as session:
        carried = load_dry_run(session, run_id).carried
    return _shown(carried, number)


@router.delete("/dry-runs/{run_id}", operation_id="drop_dry_run", status_code=204)
def drop(shed: ShedDep, run_id: str) -> None:
    """Throw one away."""
    drop_dry_run(shed, run_id)


@router.get("/races/{number}", operation_id="get_race")
def get_race(number: int) -> RaceOut:
    """A race to be read, without what was true or what the finish called it."""
    found = race(number)
    hidden = replace(found.judgement, comparisons=())
    finish = FinishOut.from_core(
        found.plan, found.results, replace(bare(found.plan, hidden), statements=())
    )
    return RaceOut(number=number, units=found.plan.units, finish=finish)


@router.post("/races/{number}", operation_id="read_race")
def read_race(number: int, body: GuessIn) -> ReadOut:
    """What the race was, against the grower's reading of it."""
    found = race(number)
    right, says = told(found, body.real)
    return ReadOut(right=right, real=found.is_real, gap=found.gap, says=list(says))


def _season(c: Carried) -> Season:
    return Season.of(c.plan, draw_bench(c.plan, c.seed), c.truths, c.nuisance, c.seed)


def _shown(carried: Carried, number: int) -> SeasonOut:
    if not 0 <= number < max(1, carried.run.done):
        raise NotFound(f"There is no season {number}: {carried.run.done} were drawn.")
    whole, results = _season(carried).judged(number)
    return SeasonOut(
        kind=carried.plan.kind, finish=FinishOut.from_core(carried.plan, results, whole)
    )


def _jobs(request: Request) -> Jobs:
    jobs: Jobs = request.app.state.dry_runs
    return jobs


def _job(request: Request, job_id: str) -> Job:
    job = _jobs(request).by_id.get(job_id)
    if job is None:
        raise NotFound("That dry run is not here any more: it ends with the server. Run it again.")
    return job


def _out(job: Job) -> JobOut:
    over = job.state is not JobState.RUNNING
    carried = CarriedOut.from_core(job.carried) if over else None
    return JobOut(id=job.id, state=job.state, done=job.done, of=job.of, carried=carried)
