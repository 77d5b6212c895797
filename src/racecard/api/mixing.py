"""The mixing bench: one line or fields in, a card out; answers and defaults remembered."""

from fastapi import APIRouter

from racecard.api.deps import ShedDep, WhoDep
from racecard.api.schemas.mixing import (
    BenchOut,
    CardOut,
    ChoicesIn,
    ChoicesOut,
    DefaultOut,
    FieldsIn,
    LineIn,
    RecipeIn,
    RecipeOut,
    SumOut,
)
from racecard.api.schemas.prepare import recipe_out
from racecard.core.prepare.defaults import DEFAULTS
from racecard.core.prepare.line import EXAMPLES, work_out
from racecard.core.prepare.sums import SUMS, reckon
from racecard.store.engine import Shed
from racecard.store.mixing import load_choices, put_on_list, remember, take_off_list
from racecard.store.trials import load_trial

router = APIRouter(prefix="/api", tags=["mixing"])


@router.get("/mixing", operation_id="get_mixing_bench")
def get_bench() -> BenchOut:
    """Every sum with its fields; the same for every shed."""
    return BenchOut(sums=[SumOut.from_core(s) for s in SUMS.values()], examples=list(EXAMPLES))


@router.post("/mixing/line", operation_id="read_mixing_line")
def post_line(shed: ShedDep, body: LineIn) -> CardOut:
    """Read one line and work it out."""
    line, card = work_out(body.line, body.choices, _choices(shed, {}))
    return CardOut.from_core(card, line.read.fields, line=body.line, choices=body.choices)


@router.post("/mixing/sums/{key}", operation_id="work_out_sum")
def post_sum(shed: ShedDep, key: str, body: FieldsIn) -> CardOut:
    """Work out a sum from its fields."""
    return _card(shed, key, body.fields, body.choices)


@router.get("/mixing/choices", operation_id="get_choices")
def get_choices(shed: ShedDep) -> ChoicesOut:
    """Every answer that is remembered."""
    with shed.reading() as session:
        return ChoicesOut(choices=load_choices(session))


@router.put("/mixing/choices", operation_id="remember_choices")
def put_choices(shed: ShedDep, body: ChoicesIn) -> ChoicesOut:
    """Remember answers and own defaults; null forgets one."""
    remember(shed, body.choices)
    return get_choices(shed)


@router.get("/mixing/defaults", operation_id="get_defaults")
def get_defaults(shed: ShedDep) -> list[DefaultOut]:
    """Every number the bench takes for granted, with its source."""
    with shed.reading() as session:
        choices = load_choices(session)
    return [DefaultOut.from_core(d, choices) for d in DEFAULTS.values()]


@router.post("/trials/{trial_id}/recipes", operation_id="put_recipe", status_code=201)
def post_recipe(shed: ShedDep, who: WhoDep, trial_id: str, body: RecipeIn) -> RecipeOut:
    """Put a card on a trial's recipe list, as it is worked out now."""
    choices = _choices(shed, body.choices)
    if body.line:
        line, card = work_out(body.line, body.choices, choices)
        fields = line.read.fields
    else:
        card, fields = reckon(body.key, body.fields, choices), body.fields
    kept = put_on_list(
        shed, trial_id, card, fields, choices,
        treatment=body.treatment, override=body.override, who=who,
    )  # fmt: skip
    with shed.reading() as session:
        return recipe_out(kept, load_trial(session, trial_id).plan)


@router.delete(
    "/trials/{trial_id}/recipes/{recipe_id}", operation_id="take_recipe_off", status_code=204
)
def delete_recipe(shed: ShedDep, trial_id: str, recipe_id: str) -> None:
    """Take a recipe off the list; it can be put back."""
    take_off_list(shed, trial_id, recipe_id)


@router.post(
    "/trials/{trial_id}/recipes/{recipe_id}/back", operation_id="put_recipe_back", status_code=204
)
def recipe_back(shed: ShedDep, trial_id: str, recipe_id: str) -> None:
    """Put a recipe back that was taken off."""
    take_off_list(shed, trial_id, recipe_id, back=True)


def _choices(shed: Shed, own: dict[str, str]) -> dict[str, str]:
    """What is remembered, with this card's own answers over it."""
    with shed.reading() as session:
        return {**load_choices(session), **own}


def _card(shed: Shed, key: str, fields: dict[str, str], own: dict[str, str]) -> CardOut:
    return CardOut.from_core(reckon(key, fields, _choices(shed, own)), fields)
