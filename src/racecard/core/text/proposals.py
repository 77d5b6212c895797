"""Proposed plans in words: what is set, what it can show, what it gives up and what more would buy."""

from collections.abc import Sequence
from dataclasses import dataclass

from racecard.core.design.proposals import Buys, More, Proposal, Standing
from racecard.core.design.resources import Have, noun
from racecard.core.design.search import Design
from racecard.core.model import Kind, Layout
from racecard.core.plan.power_words import often
from racecard.core.plan.suggestions import many
from racecard.core.text.amounts import whole_percent

_SELDOM = 0.5


@dataclass(frozen=True, slots=True)
class Words:
    """A proposal's lines. `chip`: how it stands to what there is."""

    title: str
    chip: str
    sets: str
    shows: str
    trade: str


def proposal_says(
    have: Have, proposal: Proposal, names: Sequence[str] = (), container: str = "container"
) -> Words:
    """The lines of one proposal.

    Args:
        have: what there is.
        proposal: one of `propose`.
        names: what the grower calls the treatments, the one of most interest first, without the control.
        container: what the grower calls a container, in the singular.
    """
    d = proposal.design
    return Words(
        _title(have, d, container), _chip(have, proposal, container), _sets(have, d, container),
        _shows(have, proposal, names[0] if names else "a treatment"), _trade(have, proposal, names, container),
    )  # fmt: skip


def banner(have: Have, proposals: list[Proposal], container: str = "container") -> str:
    """One sentence over proposals of which none within what there is can decide anything; else "".

    Args:
        have: what there is.
        proposals: what is proposed for it.
        container: what the grower calls a container.
    """
    if any(p.standing in (Standing.BEST, Standing.FITS) for p in proposals):
        return ""
    given = f"{have.plants} {noun(have.kind, have.plants)}"
    if have.places < have.plants:
        given = f"{have.places} {many(container, have.places)}"
    out = f"Not with {given}."
    possible = [p for p in proposals if p.design.decidable]
    if not possible:
        return f"{out} Nothing that can be planned here would show {_points(have)}."
    first = possible[0]
    out += f" With {_needs(have, first.design, container)}, yes"
    if first.design.power < _SELDOM:
        out += ", but only for a very large difference"
    last = possible[-1]
    if last is not first:
        out += f"; with {_needs(have, last.design, container)}, {_points(have)} {often(last.design.power)}"
    return f"{out}."


def _title(have: Have, d: Design, container: str) -> str:
    if d.layout is Layout.SITES:
        return f"{d.units} pairs"
    if d.per_container == 1:
        return f"{d.treatments} treatments × {d.units} {noun(have.kind, d.units)}"
    return f"{d.treatments} treatments × {d.units} {many(container, d.units)} of {d.per_container}"


def _chip(have: Have, proposal: Proposal, container: str) -> str:
    if proposal.standing is Standing.BEST:
        return "best with what you have"
    if proposal.standing is Standing.FITS:
        return "fits what you have"
    if proposal.standing is Standing.CANNOT_TELL:
        return "cannot tell"
    return f"needs {_needs(have, proposal.design, container)}"


def _needs(have: Have, d: Design, container: str) -> str:
    """What a design takes, where that is more than there is."""
    parts = []
    if d.plants > have.plants:
        parts.append(f"{d.plants} {noun(have.kind, d.plants)}")
    given = have.plants if have.containers is None else have.containers
    if d.containers > given and (have.containers is not None or d.per_container > 1):
        small = "small " if d.per_container == 1 and have.places < have.plants else ""
        parts.append(f"{d.containers} {small}{many(container, d.containers)}")
    return " in ".join(parts) or f"{d.plants} {noun(have.kind, d.plants)}"


def _sets(have: Have, d: Design, container: str) -> str:
    if d.layout is Layout.SITES:
        return (
            f"{d.units} places, each with one treated and one untreated {have.kind.value}; "
            "a coin decides which stands left."
        )
    plants = noun(have.kind, d.units)
    if d.per_container > 1:
        plants = (
            f"{many(container, d.units)} of {d.per_container} {noun(have.kind, d.per_container)}"
        )
    each = f"{d.units} {plants} of each"
    if d.control_units > d.units:
        each += f" and {d.control_units} of the control"
    own = ", each in its own " + container if d.per_container == 1 else ""
    if d.units * d.treatments == d.treatments:
        return f"{each}{own}."
    where = f", shared evenly over {d.blocks} places" if d.blocks > 1 else ""
    return f"{each}{own}, positions randomised{where}."


def _shows(have: Have, proposal: Proposal, treatment: str) -> str:
    d = proposal.design
    if not d.decidable:
        if d.containers == d.treatments:
            return "Shows nothing: with one of each, the container or place itself could be the reason."
        return "Shows nothing: even all against none would arise by chance too often."
    what = {Kind.CUTTING: "rooting", Kind.SEED: "emergence"}.get(have.kind, "success")
    out = (
        f"If {treatment} raises {what} from {whole_percent(have.control)} to {whole_percent(have.treated)} %, "
        f"this shows it {often(d.power)}."
    )
    if d.power < _SELDOM and proposal.widest >= d.power + 0.1:
        out += f" A difference as large as 10 to 90 % it shows {often(proposal.widest)}."
    return out


def _trade(have: Have, proposal: Proposal, names: Sequence[str], container: str) -> str:
    d, parts = proposal.design, []
    if not d.decidable:
        return "Good for practice; the results page would say that it cannot tell."
    left = have.treatments - d.treatments
    if left > 0 and len(names) == have.treatments - 1:
        parts.append(f"Gives up {' and '.join(names[-left:])}.")
    elif left > 0:
        parts.append(f"Gives up {left} of the {have.treatments - 1} treatments.")
    if proposal.standing is not Standing.NEEDS_MORE and have.plants - d.plants >= max(
        3, 0.2 * have.plants
    ):
        spare = have.plants - d.plants
        parts.append(f"Leaves {spare} {noun(have.kind, spare)} for another trial.")
    parts += [_bought(have, b, d, container) for b in proposal.buys]
    return " ".join(parts) or "Gives up nothing you named."


def _bought(have: Have, bought: Buys, d: Design, container: str) -> str:
    chance = often(bought.design.power)
    if bought.what is More.ONE_MORE:
        one = (
            "pair"
            if d.layout is Layout.SITES
            else have.kind.value
            if d.per_container == 1
            else container
        )
        return f"One more {one}{'' if one == 'pair' else ' of each'}: {chance}."
    if bought.what is More.SECOND_PLACE:
        return f"As many again on a neighbour's sill: {chance}."
    if bought.what is More.ONE_FEWER:
        return f"One treatment fewer: {chance}."
    number = bought.design.containers if d.per_container > 1 else bought.design.plants
    word = many(container, number) if d.per_container > 1 else noun(have.kind, number)
    return f"With {number} {word}: {chance}."


def _points(have: Have) -> str:
    return f"{whole_percent(have.treated)} against {whole_percent(have.control)} %"
