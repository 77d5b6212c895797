"""A trial's second scores: who was to be scored twice, and how far the two scorers agree."""

from collections.abc import Sequence
from dataclasses import dataclass

from racecard.core.log.agreement import Agreement, agreement
from racecard.core.log.assemble import in_force
from racecard.core.log.events import entries_in_force
from racecard.core.log.lift import gaps, second_sample
from racecard.core.model import Trial
from racecard.core.model.observation import Entry, Observation


@dataclass(frozen=True, slots=True)
class ScoredTwice:
    """What a second scorer was asked for and gave.

    `wanted`: ids of the units drawn for it; `done`: how many of them have both scores; `gaps`: fields of
    the lift form not filled in every arm, a sentence each; `scorers`: who scored first.
    """

    wanted: tuple[str, ...]
    done: int
    agreement: Agreement | None
    gaps: tuple[str, ...]
    scorers: tuple[str, ...]


def scored_twice(trial: Trial, log: Sequence[Observation], entries: Sequence[Entry]) -> ScoredTwice:
    """Hold the second scores of a trial against the first ones.

    Args:
        trial: the trial; while its treatments are hidden no gap is told.
        log: every observation in the order it was recorded.
        entries: its diary.
    """
    wanted = second_sample(trial)
    first = {o.unit_id: o for o in in_force(log) if o.kind == "score"}
    second = {
        e.target: int(e.value("score") or 0)
        for e in entries_in_force(entries)
        if e.kind == "second"
    }
    both = [u for u in wanted if u in second and u in first and first[u].score is not None]
    missing: list[str] = []
    if not trial.is_sealed and trial.plan.per_container == 1:
        names = [t.name for t in trial.plan.treatments]
        forms = [dict(first[u.id].parts) if u.id in first else None for u in trial.stuck]
        missing = gaps(names, [u.cell.treatment for u in trial.stuck], forms)
    return ScoredTwice(
        wanted, sum(u in second for u in wanted),
        agreement([first[u].score or 0 for u in both], [second[u] for u in both]),
        tuple(missing), tuple(sorted({o.who for o in first.values() if o.who})),
    )  # fmt: skip
