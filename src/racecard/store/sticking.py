"""What was really set at sticking or sowing, unit by unit; only ever added to."""

from collections.abc import Sequence
from datetime import timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from racecard.core.log.days import elapsed_days
from racecard.core.model import Status, Trial
from racecard.core.model.observation import Setting
from racecard.errors import Conflict, InvalidInput, NotFound
from racecard.store.engine import Shed
from racecard.store.tables import SettingRow
from racecard.store.trials import load_trial

_SKEW = timedelta(minutes=5)
_LONGEST = 200


def record_settings(shed: Shed, trial_id: str, sent: Sequence[Setting]) -> Trial:
    """Add what was really done with units, all or none.

    Raises:
        NotFound: no such unit.
        Conflict: the trial has not started.
        InvalidInput: no reason, a moment before day 0 or in the future, or too long a text.
    """
    with shed.writing() as session:
        trial = load_trial(session, trial_id)
        if trial.status is not Status.STARTED or trial.started_at is None:
            raise Conflict(
                "Day 0 is stamped first: start the trial, then note what was set otherwise."
            )
        known = {u.id for u in trial.planted}
        for i, s in enumerate(sent):
            _check(shed, trial, s, known, f"/items/{i}")
            session.add(
                SettingRow(
                    trial_id=trial_id, unit_id=s.unit_id, at=s.at, who=s.who, is_set=s.is_set,
                    set_at=s.set_at, why=s.why.strip(), lot=s.lot.strip(), size=s.size.strip(),
                )
            )  # fmt: skip
        session.flush()
        return load_trial(session, trial_id)


def load_settings(session: Session, trial_id: str) -> list[Setting]:
    """Everything ever said of what was really set, in the order it was said."""
    rows = session.scalars(
        select(SettingRow).where(SettingRow.trial_id == trial_id).order_by(SettingRow.id)
    )
    return [Setting(r.unit_id, r.at, r.who, r.is_set, r.set_at, r.why, r.lot, r.size) for r in rows]


def _check(shed: Shed, trial: Trial, s: Setting, known: set[str], at: str) -> None:
    if s.unit_id not in known:
        raise NotFound("There is no such unit in this trial.", f"{at}/unit_id")
    if any(len(x) > _LONGEST for x in (s.why, s.lot, s.size)):
        raise InvalidInput(f"Keep it to {_LONGEST} characters.", f"{at}/why")
    if not s.is_set and not s.why.strip():
        raise InvalidInput("Say why it was not set: rotten, too soft, ran out…", f"{at}/why")
    if (s.lot.strip() or s.size.strip()) and not s.why.strip():
        raise InvalidInput("Say why something else was used.", f"{at}/why")
    if s.set_at is None:
        return
    assert trial.started_at is not None
    if s.set_at > shed.now() + _SKEW:
        raise InvalidInput(
            "That lies in the future: check the clock of this device.", f"{at}/set_at"
        )
    late = elapsed_days(trial.started_at, s.set_at, trial.plan.time_zone)
    if late < 0:
        raise InvalidInput("That lies before day 0: check the date.", f"{at}/set_at")
    if late > trial.plan.length_days:
        raise InvalidInput("That lies after the end of the trial: check the date.", f"{at}/set_at")
