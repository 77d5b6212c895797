"""The scorer trainer: drawn root systems to score blind, and how every scorer did over time."""

from typing import Annotated

from fastapi import APIRouter, Query

from racecard.api.deps import ShedDep, WhoDep
from racecard.api.schemas.trainer import DrawingOut, SittingIn, SittingOut, TrainedOut
from racecard.core.trainer.drawn import session
from racecard.store.training import keep_sitting, load_sittings

router = APIRouter(prefix="/api/trainer", tags=["diary"])


@router.get("/drawings", operation_id="get_drawings")
def get_drawings(seed: Annotated[int, Query(ge=0, le=2**31)]) -> list[DrawingOut]:
    """The drawings of one sitting; their scores are told when all are marked."""
    return [DrawingOut.from_core(d) for d in session(seed)]


@router.post("/sittings", operation_id="keep_sitting", status_code=201)
def post_sitting(shed: ShedDep, who: WhoDep, body: SittingIn) -> SittingOut:
    """Keep a whole sitting, and say how it compares with the truth."""
    found = keep_sitting(shed, body.seed, body.marks, who)
    return SittingOut.from_core(found, [d.score for d in session(body.seed)])


@router.get("/sittings", operation_id="get_sittings")
def get_sittings(shed: ShedDep) -> list[TrainedOut]:
    """Every sitting of every scorer, the newest first."""
    with shed.reading() as opened:
        return [TrainedOut.from_core(t) for t in load_sittings(opened)]
