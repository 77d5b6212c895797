"""What the mixing bench remembers: answers, defaults changed, and the recipes of a trial."""

import json
from collections.abc import Mapping
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from racecard.core.prepare.cards import Card
from racecard.core.prepare.defaults import DEFAULTS
from racecard.errors import Conflict, InvalidInput, NotFound
from racecard.store.engine import Shed
from racecard.store.tables import ChoiceRow, RecipeRow
from racecard.store.trials import load_trial

_MOST_RECIPES = 200


@dataclass(frozen=True, slots=True)
class Recipe:
    """A card on a trial's list, as it was worked out. `card` is the card as plain data.

    `arm`: name of the treatment it was made for, "" for all; a draft's treatments may be moved
    about, and the recipe goes with the name.
    """

    id: str
    at: datetime
    who: str
    arm: str
    key: str
    fields: Mapping[str, str]
    choices: Mapping[str, str]
    card: Mapping[str, Any]
    override: str


def load_choices(session: Session) -> dict[str, str]:
    """Every answer remembered, by question."""
    rows = session.scalars(select(ChoiceRow).where(~ChoiceRow.key.startswith("racecard:")))
    return {r.key: r.value for r in rows}


def remember(shed: Shed, choices: Mapping[str, str | None]) -> None:
    """Keep answers and changed defaults; None forgets one.

    Raises:
        InvalidInput: a default that is not a number from 0, or an unknown default.
    """
    for key, value in choices.items():
        if not 0 < len(key) <= 80 or (value is not None and len(value) > 80):
            raise InvalidInput("That answer is too long to keep.", f"/choices/{key[:40]}")
        if key.startswith("default:"):
            _check_default(key.removeprefix("default:"), value)
    with shed.writing() as session:
        session.execute(delete(ChoiceRow).where(ChoiceRow.key.in_(list(choices))))
        for key, value in choices.items():
            if value is not None:
                session.add(ChoiceRow(key=key, value=value, at=shed.now()))


def put_on_list(
    shed: Shed, trial_id: str, card: Card, fields: Mapping[str, str], choices: Mapping[str, str],
    *, treatment: int | None, override: str, who: str, at: datetime | None = None,
) -> Recipe:  # fmt: skip
    """Put a card on a trial's recipe list, now or (for the demo) at another moment.

    Raises:
        Conflict: a question of the card is still open, or the card is refused and not overridden.
        InvalidInput: no such treatment, or the list is full.
    """
    if card.is_open:
        open_ = next(q for q in card.questions if q.must)
        raise Conflict(f"Answer first: {open_.asks}")
    if card.is_refused and not override.strip():
        raise Conflict("This recipe is stopped by a guard: say why it is meant, or change it.")
    with shed.writing() as session:
        trial = load_trial(session, trial_id)
        if treatment is not None and not 0 <= treatment < len(trial.plan.treatments):
            raise InvalidInput("There is no such treatment in this trial.", "/treatment")
        if len(load_recipes(session, trial_id)) >= _MOST_RECIPES:
            raise InvalidInput("This list holds 200 recipes: take some off first.", "/trial_id")
        arm = "" if treatment is None else trial.plan.treatments[treatment].name
        used = {q.key: q.chosen or q.usual for q in card.questions}
        row = RecipeRow(
            id=shed.new_id(), trial_id=trial_id, at=at or shed.now(), who=who, arm=arm,
            key=card.key, fields=json.dumps(dict(fields), ensure_ascii=False),
            choices=json.dumps({**used, **_defaults(choices)}, ensure_ascii=False),
            card=json.dumps(asdict(card), ensure_ascii=False), override=override.strip(),
            taken_off_at=None,
        )  # fmt: skip
        session.add(row)
        session.flush()
        return _recipe(row)


def take_off_list(shed: Shed, trial_id: str, recipe_id: str, *, back: bool = False) -> None:
    """Take a recipe off the list, or put it back; it stays in the shed."""
    with shed.writing() as session:
        row = session.get(RecipeRow, recipe_id)
        if row is None or row.trial_id != trial_id:
            raise NotFound("There is no such recipe on this list.")
        row.taken_off_at = None if back else shed.now()


def load_recipes(session: Session, trial_id: str) -> list[Recipe]:
    """The recipes on a trial's list, in the order they were put there."""
    rows = session.scalars(
        select(RecipeRow)
        .where(RecipeRow.trial_id == trial_id, RecipeRow.taken_off_at.is_(None))
        .order_by(RecipeRow.at, RecipeRow.id)
    )
    return [_recipe(r) for r in rows]


def _recipe(r: RecipeRow) -> Recipe:
    return Recipe(
        r.id, r.at, r.who, r.arm, r.key, json.loads(r.fields), json.loads(r.choices),
        json.loads(r.card), r.override,
    )  # fmt: skip


def _defaults(choices: Mapping[str, str]) -> dict[str, str]:
    return {k: v for k, v in choices.items() if k.startswith("default:")}


def _check_default(key: str, value: str | None) -> None:
    if key not in DEFAULTS:
        raise InvalidInput("There is no such default.", f"/choices/default:{key[:40]}")
    if value is None:
        return
    try:
        number = float(value)
    except ValueError as exc:
        raise InvalidInput(f"“{value[:20]}” is not a number.", f"/choices/default:{key}") from exc
    if not 0 <= number <= 1e6:
        raise InvalidInput("A default must be 0 or more.", f"/choices/default:{key}")
