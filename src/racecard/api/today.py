"""Today: what is due, overdue and coming across trials, soaks that run, loops not yet closed."""

from fastapi import APIRouter

from racecard.api.deps import ShedDep
from racecard.api.schemas.standings import TaskOut
from racecard.api.standings import tasks_of_all

router = APIRouter(prefix="/api", tags=["today"])


@router.get("/today", operation_id="get_today")
def get_today(shed: ShedDep) -> list[TaskOut]:
    """Every task of every trial, the most pressing first; a trial that cannot be read is one."""
    return tasks_of_all(shed)
