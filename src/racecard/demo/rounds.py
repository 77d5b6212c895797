"""What the demo's growers wrote beside their looks: conditions, an event, photos, second scores.

All of it is invented; the photos are drawn, not taken.
"""

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime, timedelta

import numpy as np

from racecard.core.conditions.reading import Reading
from racecard.core.conditions.simulated_readings import readings
from racecard.core.log.assemble import in_force
from racecard.core.log.days import noon_of_day
from racecard.core.log.lift import second_sample
from racecard.core.model import Trial
from racecard.core.model.observation import Entry, Observation, Scope
from racecard.demo.pictures import drawn_lift, drawn_pot
from racecard.store.conditions import Watch, add_readings, keep_watch
from racecard.store.diary import record_entries
from racecard.store.engine import Shed
from racecard.store.photos import keep_photo
from racecard.store.rounds import load_observations

PLACE = "cold frame, shelf 2"
_PHOTO_DAYS = (6, 10)
_SPIKES = "spikes"
_SEED_OF_LIFTS = 77
_BASE_C, _ALARM_C = 5.0, 30.0


def write_beside(shed: Shed, trials: Sequence[Trial], who: str) -> None:
    """Give sweet pea its curve, its event and its photos, and lavender its lifts and a second scorer."""
    lavender, pea, *_ = trials
    assert pea.started_at is not None
    now = shed.now()
    played = readings(PLACE, pea.started_at, now, timedelta(minutes=30), _SPIKES, 3)
    for quantity in ("temperature", "humidity"):
        keep_watch(shed, pea.id, _watch(quantity), who)
    add_readings(shed, _with_a_hot_noon(played, pea.started_at))
    record_entries(shed, pea.id, [_spill(pea, who, shed.new_id())])
    _photos(shed, pea, who)
    _lift_photos(shed, lavender, who)
    _second_scores(shed, lavender)


def _watch(quantity: str) -> Watch:
    if quantity == "temperature":
        return Watch(PLACE, quantity, high=_ALARM_C, base=_BASE_C)
    return Watch(PLACE, quantity)


def _with_a_hot_noon(played: list[Reading], start: datetime) -> list[Reading]:
    """The lid stayed shut on one sunny noon: three readings past the alarm."""
    hot = start + timedelta(days=8, hours=2)
    near = [
        r
        for r in played
        if r.quantity == "temperature" and hot <= r.at < hot + timedelta(minutes=90)
    ]
    raised = {(r.quantity, r.at): replace(r, value=round(r.value + 9, 1)) for r in near}
    return [raised.get((r.quantity, r.at), r) for r in played]


def _spill(pea: Trial, who: str, id: str) -> Entry:
    assert pea.started_at is not None
    nicked = [t.name for t in pea.plan.treatments].index("Nicked")
    at = noon_of_day(pea.started_at, 7, pea.plan.time_zone)
    return Entry(
        id, "event", Scope.ARM, str(nicked), 0, at, who, what="topped_up",
        values=(("amount", 30.0),), text="these pots alone had dried out on top",
    )  # fmt: skip


def _photos(shed: Shed, pea: Trial, who: str) -> None:
    """One pot of each treatment on two days, drawn with as many seedlings as were counted."""
    assert pea.started_at is not None
    with shed.reading() as session:
        log = in_force(load_observations(session, pea.id))
    for arm in range(len(pea.plan.treatments)):
        pot = next(u for u in pea.planted if u.cell.treatment == arm)
        for day in _PHOTO_DAYS:
            seen = [o for o in log if o.unit_id == pot.id and o.day <= day]
            up = max((o.struck or 0 for o in seen), default=0)
            at = noon_of_day(pea.started_at, day, pea.plan.time_zone)
            entry = Entry(
                shed.new_id(), "photo", Scope.UNIT, pot.id, 0, at, who, text="drawn, not taken"
            )
            keep_photo(shed, pea.id, entry, drawn_pot(pot, up, day))


def _lift_photos(shed: Shed, lavender: Trial, who: str) -> None:
    """One lifted cutting of each treatment on the last day, its roots drawn as it was scored."""
    assert lavender.started_at is not None
    with shed.reading() as session:
        log = in_force(load_observations(session, lavender.id))
    scores = {o.unit_id: o.score for o in log if o.kind == "score" and o.score}
    rng = np.random.default_rng(_SEED_OF_LIFTS)
    at = noon_of_day(lavender.started_at, lavender.plan.length_days, lavender.plan.time_zone)
    for arm in range(len(lavender.plan.treatments)):
        mine = [u for u in lavender.planted if u.cell.treatment == arm and u.id in scores]
        if not mine:
            continue
        lifted = sorted(mine, key=lambda u: scores[u.id] or 0)[len(mine) // 2]
        entry = Entry(
            shed.new_id(), "photo", Scope.UNIT, lifted.id, 0, at, who, text="drawn, not taken"
        )
        keep_photo(shed, lavender.id, entry, drawn_lift(lifted, scores[lifted.id] or 0, rng))


def _second_scores(shed: Shed, lavender: Trial) -> None:
    """A second member scored the drawn part of lavender's lift, a little harder."""
    with shed.reading() as session:
        log = in_force(load_observations(session, lavender.id))
    first = {o.unit_id: o for o in log if o.kind == "score"}
    rng = np.random.default_rng(91)
    said = []
    for unit_id in second_sample(lavender):
        seen: Observation | None = first.get(unit_id)
        if seen is None or seen.score is None:
            continue
        score = int(
            np.clip(seen.score + rng.choice([-1, 0, 0, 0, 1], p=[0.25, 0.2, 0.2, 0.2, 0.15]), 0, 5)
        )
        said.append(
            Entry(shed.new_id(), "second", Scope.UNIT, unit_id, 0, seen.seen_at, "Tomas",
                  values=(("score", float(score)),))
        )  # fmt: skip
    record_entries(shed, lavender.id, said)
