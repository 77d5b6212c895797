"""`racecard design`: up to three plans from what there is, best first."""

import json
from typing import Any

from racecard.core.design.proposals import Proposal, propose
from racecard.core.design.resources import Have
from racecard.core.model import Kind
from racecard.core.text.proposals import banner, proposal_says
from racecard.errors import InvalidInput

__all__ = ["as_json", "as_words", "asked", "propose"]


def asked(
    have: int, containers: int | None, treatments: int, *, control: float, points: float, sites: int, is_seed: bool,
    icc: float,
) -> Have:  # fmt: skip
    """What was asked; raises InvalidInput for a difference that is a share instead of points."""
    if not 1 <= points <= 100:
        raise InvalidInput(
            f"--difference must be 1 to 100 points, got {points:g}: 40 for 40 points.",
            "/difference",
        )
    kind = Kind.SEED if is_seed else Kind.CUTTING
    return Have(have, treatments, control, points / 100, containers, sites, kind, icc)


def as_json(have: Have, found: list[Proposal]) -> str:
    """The proposals as JSON, best first."""
    rows = [_row(have, proposal) for proposal in found]
    return json.dumps({"says": banner(have, found), "proposals": rows}, indent=1)


def as_words(have: Have, found: list[Proposal]) -> str:
    """The proposals in words."""
    lines = [said] if (said := banner(have, found)) else []
    for i, proposal in enumerate(found, start=1):
        words = proposal_says(have, proposal)
        lines += [
            "",
            f"{i}. {words.title} ({words.chip})",
            f"   {words.sets}",
            f"   {words.shows}",
            f"   {words.trade}",
        ]
    return "\n".join(lines).strip()


def _row(have: Have, proposal: Proposal) -> dict[str, Any]:
    d, words = proposal.design, proposal_says(have, proposal)
    return {
        "treatments": d.treatments, "units": d.units, "control_units": d.control_units,
        "per_container": d.per_container, "containers": d.containers, "plants": d.plants,
        "layout": d.layout.value, "blocks": d.blocks, "power": d.power, "minimum_p": d.minimum_p,
        "minimum_p_holm": d.minimum_p_holm, "decidable": d.decidable, "standing": proposal.standing.value,
        "more_plants": proposal.more_plants(have), "more_containers": proposal.more_containers(have),
        "buys": [{"what": b.what.value, "plants": b.design.plants, "power": b.design.power} for b in proposal.buys],
        "says": f"{words.sets} {words.shows} {words.trade}",
    }  # fmt: skip
