"""The finish of a trial of the shed, and what a grower writes beside it: costs and conclusions."""

import json
from collections.abc import Mapping
from datetime import datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from racecard.core.assess.payoff import Worth, check_worth
from racecard.core.finish.of_trial import TrialFinish, finish_of
from racecard.core.log.assemble import unit_logs
from racecard.core.log.course import rounds_made
from racecard.core.log.days import elapsed_days
from racecard.core.model import Status, Trial
from racecard.core.notes.registry import Dosed
from racecard.core.prepare.cards import Severity
from racecard.core.text.overclaims import MOST_WORDS
from racecard.errors import Conflict, InvalidInput, Sealed
from racecard.store.diary import load_entries
from racecard.store.engine import Shed
from racecard.store.materials import load_agents
from racecard.store.mixing import Recipe, load_recipes
from racecard.store.rounds import load_observations
from racecard.store.tables import FinishWordRow
from racecard.store.trials import load_trial, load_whole


def load_opened(session: Session, trial_id: str) -> Trial:
    """A trial that may be judged.

    Raises:
        Conflict: it has not started.
        Sealed: it is scored blind and nobody has unsealed it.
    """
    trial = load_trial(session, trial_id)
    if trial.status is not Status.STARTED:
        raise Conflict("This trial has not started, so there is nothing to judge.")
    if trial.is_sealed:
        raise Sealed("This trial is scored blind: unseal it when the last round is done.")
    return trial


def load_finished_blind(session: Session, trial_id: str) -> Trial:
    """A sealed trial whose last round looked at every unit.

    Raises:
        Conflict: it is not sealed, or its last round is not made in full.
    """
    trial = load_whole(session, trial_id)
    if not trial.is_sealed:
        raise Conflict("This trial is not sealed: read its finish.")
    logs = unit_logs(trial.stuck, load_observations(session, trial_id), trial.plan)
    made = rounds_made(logs, trial.plants_held(trial.stuck))
    if not any(whole and day >= trial.plan.length_days for day, whole in made.items()):
        raise Sealed(
            "The last round is not made in full, and lanes seen before it could sway the scoring."
        )
    return trial


def finished(session: Session, trial: Trial, now: datetime) -> TrialFinish:
    """The whole finish of an opened trial as it stands now."""
    assert trial.started_at is not None
    today = elapsed_days(trial.started_at, now, trial.plan.time_zone)
    agents = {a.id: a for a in load_agents(session, retired=True)}
    log, entries = load_observations(session, trial.id), load_entries(session, trial.id)
    dosed = [d for r in load_recipes(session, trial.id) if (d := _dosed(r)) is not None]
    return finish_of(trial, log, entries, today=today, agents=agents, dosed=dosed)


_OFF = {"dose_off", "dose_stop"}


def _dosed(recipe: Recipe) -> Dosed | None:
    """A recipe the finish must tell of: its dose was off, or it was overruled."""
    flags = recipe.card.get("flags", [])
    told = [f["says"] for f in flags if f["code"] in _OFF or f["gravity"] == Severity.REFUSE]
    if not told:
        return None
    says = " ".join(told).removeprefix("Stop: ").replace(" Check it before anything is dipped.", "")
    return Dosed(recipe.arm, str(recipe.card["title"]), says, recipe.override)


def keep_worth(shed: Shed, trial_id: str, worth: Worth, who: str) -> None:
    """Keep what the grower reckons with; what was kept before stays beside it."""
    with shed.writing() as session:
        check_worth(load_trial(session, trial_id).plan, worth)
        body = {
            "struck_plant": worth.struck_plant, "hour": worth.hour, "currency": worth.currency,
            "cost": dict(worth.cost or {}), "minutes": dict(worth.minutes or {}),
        }  # fmt: skip
        session.add(_row(shed, trial_id, "worth", body, who))


def load_worth(session: Session, trial_id: str) -> Worth | None:
    """The latest figures, or None where none were given."""
    body = _latest(session, trial_id, "worth")
    if body is None:
        return None
    cost, minutes = ({int(k): v for k, v in body[n].items()} for n in ("cost", "minutes"))
    return Worth(body["struck_plant"], body["hour"], body["currency"], cost, minutes)


def keep_conclusion(shed: Shed, trial_id: str, text: str, who: str) -> None:
    """Keep the grower's own conclusion; earlier ones stay beside it."""
    if len(text) > MOST_WORDS:
        raise InvalidInput(
            f"A conclusion has at most {MOST_WORDS} characters, this has {len(text)}.", "/text"
        )
    with shed.writing() as session:
        load_trial(session, trial_id)
        session.add(_row(shed, trial_id, "conclusion", {"text": text.strip()}, who))


def load_conclusion(session: Session, trial_id: str) -> str:
    """The latest conclusion, "" where none was written."""
    body = _latest(session, trial_id, "conclusion")
    return "" if body is None else str(body["text"])


def _row(shed: Shed, trial_id: str, kind: str, body: Mapping[str, Any], who: str) -> FinishWordRow:
    told = json.dumps(body, ensure_ascii=False)
    return FinishWordRow(trial_id=trial_id, kind=kind, body=told, who=who, at=shed.now())


def _latest(session: Session, trial_id: str, kind: str) -> dict[str, Any] | None:
    row = session.scalars(
        select(FinishWordRow)
        .where(FinishWordRow.trial_id == trial_id, FinishWordRow.kind == kind)
        .order_by(FinishWordRow.id.desc())
        .limit(1)
    ).first()
    return None if row is None else json.loads(row.body)
