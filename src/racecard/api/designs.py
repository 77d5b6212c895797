"""Trials designed from what a grower wants to know and what there is."""

from fastapi import APIRouter

from racecard.api.schemas.designs import DesignIn, DesignsOut, ProposedPlanOut, UnderstoodOut
from racecard.core.design.proposals import propose
from racecard.core.text.proposals import banner

router = APIRouter(prefix="/api", tags=["plans"])


@router.post("/designs", operation_id="design_trial")
def design_trial(body: DesignIn) -> DesignsOut:
    """Up to three plans from three questions, best first; nothing is saved."""
    read = body.understood()
    have = body.have(read)
    found = propose(have)
    return DesignsOut(
        understood=UnderstoodOut.from_core(read, body.question), control_percent=100 * have.control,
        gap_points=100 * have.difference, says=banner(have, found, body.container),
        proposals=[ProposedPlanOut.from_core(body, have, read, proposal) for proposal in found],
    )  # fmt: skip
