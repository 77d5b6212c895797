"""What is to be done across trials."""

from datetime import datetime

from racecard.api.schemas.base import Out


class TaskOut(Out):
    """One thing to do. `at`: its moment where it has one; `ref`: what closing it names."""

    trial_id: str
    question: str
    kind: str
    state: str
    day: int | None
    at: datetime | None
    says: str
    ref: str
    invented: bool
