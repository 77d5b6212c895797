"""A treatment over everything it was tried on: each result against its own control, never summed.

Controls are shared only within a trial, so what differs between trials (season, mother plants, hands)
stays out of every comparison; what the trials have in common is told by counting their verdicts.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from racecard.core.assess.base_rates import telling_words
from racecard.core.assess.grade import Grade
from racecard.core.formbook.line import FormLine, State
from racecard.core.formbook.plant import Record, records_of
from racecard.core.model.spelling import spelling

_AHEAD = (Grade.CLEAR_LEAD.value, Grade.LIKELY_LEAD.value)
_BEHIND = (Grade.CLEARLY_BEHIND.value, Grade.LIKELY_BEHIND.value)
_NO_PLANT = "Imported results"
_MOST_ALIKE = 8


@dataclass(frozen=True, slots=True)
class TreatmentBook:
    """A treatment's record by plant, the plant with most trials first; `ahead` and so on count verdicts.

    `alike`: other treatments that share a telling word of its name, with their trials: other doses, as a rule.
    """

    name: str
    trials: int
    ahead: int
    clear: int
    behind: int
    undecidable: int
    plants: tuple[tuple[str, Record], ...]
    alike: tuple[tuple[str, int], ...]

    @property
    def open(self) -> int:
        """Trials that found no difference, or too little to tell."""
        return self.trials - self.ahead - self.behind - self.undecidable


def treatment_book(lines: Sequence[FormLine], name: str) -> TreatmentBook:
    """What the lines say of a treatment, spelt in capitals or not.

    Args:
        lines: every line of the book, imported results too.
        name: the treatment as it is called in trials.
    """
    wanted = spelling(name)
    mine = [x for x in lines if x.state is State.FINISHED and any(spelling(t.name) == wanted for t in x.tried)]  # fmt: skip
    by_plant: dict[str, list[FormLine]] = {}
    for x in mine:
        by_plant.setdefault(x.plant or _NO_PLANT, []).append(x)
    plants = [
        (plant, r)
        for plant, of_plant in sorted(by_plant.items(), key=lambda p: (-len(p[1]), p[0]))
        for r in records_of(of_plant)
        if spelling(r.treatment) == wanted
    ]
    grades = [x.grade for _, r in plants for x in r.results]
    said = plants[0][1].treatment if plants else name
    return TreatmentBook(
        said, len(grades), sum(g in _AHEAD for g in grades), grades.count(Grade.CLEAR_LEAD.value),
        sum(g in _BEHIND for g in grades), grades.count(Grade.CANNOT_TELL.value), tuple(plants),
        _alike(lines, said),
    )  # fmt: skip


def _alike(lines: Sequence[FormLine], name: str) -> tuple[tuple[str, int], ...]:
    words, found = set(telling_words(name)), dict[str, tuple[str, int]]()
    for x in lines:
        for t in x.tried:
            key = spelling(t.name)
            if x.state is State.FINISHED and key != spelling(name) and words & set(telling_words(t.name)):  # fmt: skip
                first, n = found.get(key, (t.name, 0))
                found[key] = first, n + 1
    return tuple(sorted(found.values(), key=lambda x: (-x[1], x[0]))[:_MOST_ALIKE])


def treatment_says(b: TreatmentBook) -> str:
    """The record in one sentence, by counting verdicts."""
    trials = "1 trial" if b.trials == 1 else f"{b.trials} trials"
    if b.trials == 0:
        return f"No finished trial here has compared {b.name}."
    plants = len({plant for plant, _ in b.plants} - {_NO_PLANT})
    on = "" if plants < 2 else f" on {plants} plants"
    parts = [f"ahead in {b.ahead}" + (f" ({b.clear} clearly)" if b.clear else "")]
    parts += [f"behind in {b.behind}"] if b.behind else []
    parts += [f"no difference that could be called in {b.open}"] if b.open else []
    parts += [f"{b.undecidable} could not tell by design"] if b.undecidable else []
    return f"Compared with its control in {trials}{on}: {', '.join(parts)}."
