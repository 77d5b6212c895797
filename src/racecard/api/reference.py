"""What never changes: drawings, silks, ladders, methods."""

from fastapi import APIRouter

from racecard.api.schemas.reference import ReferenceOut

router = APIRouter(prefix="/api", tags=["reference"])


@router.get("/reference", operation_id="get_reference")
def get_reference() -> ReferenceOut:
    """Silks, stage drawings, ladders and methods; the same for every trial."""
    return ReferenceOut.of_core()
