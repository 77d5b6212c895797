"""The handbook: facts of the trade, with the grower's own values beside them."""

from fastapi import APIRouter

from racecard.api.deps import ShedDep
from racecard.api.schemas.handbook import HandbookOut, HandbookPage
from racecard.core.formbook.plant import own_times
from racecard.core.handbook.pages import PAGES
from racecard.core.prepare.cautions import EVERY
from racecard.store.form_book import form_book

router = APIRouter(prefix="/api", tags=["reference"])


@router.get("/handbook", operation_id="get_handbook")
def get_handbook(shed: ShedDep) -> HandbookOut:
    """Tables, facts and cautions with source and sureness, and what one's own controls did."""
    own = own_times(form_book(shed, patience_s=0).lines)  # what is ready: no page waits for it
    return HandbookOut(
        pages=[HandbookPage.from_core(p, own) for p in PAGES], cautions=[c.says for c in EVERY]
    )
