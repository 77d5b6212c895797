"""How far a trial had been written when something was made from it, so that nothing stale is kept.

Triggers throw away what was made from a trial when the trial is written; they cannot throw away what is
still being made. Whoever keeps it compares the two.
"""

from sqlalchemy import text
from sqlalchemy.orm import Session

_ROWS = ("observation", "entry", "amendment", "setting", "mark", "change")
_HOW_FAR = text(
    "SELECT revision, status, unsealed_at, "
    + ", ".join(f"(SELECT max(rowid) FROM {t} WHERE trial_id = :id)" for t in _ROWS)
    + " FROM trial WHERE id = :id"
)


def how_far(session: Session, trial_id: str) -> tuple[object, ...] | None:
    """What changes whenever anything of a trial is written; None where the trial is gone."""
    row = session.execute(_HOW_FAR, {"id": trial_id}).first()
    return None if row is None else tuple(row)
