"""Interval histories against a naive second implementation, written to be slow and plain."""

from dataclasses import dataclass

from hypothesis import given
from hypothesis import strategies as st

from racecard.core.log.histories import history_of_looks, shoot_history
from racecard.core.model import History
from racecard.core.model.observation import Look

ENDPOINT = 6


@dataclass(frozen=True)
class Truth:
    """What really happened to one cutting, and what a visit on a day would see."""

    strikes: int | None
    dies: int | None
    taken: int | None


def seen_on(truth: Truth, day: int, sees_stage: bool) -> Look:
    if truth.dies is not None and day >= truth.dies:
        return Look(day, loss="rotted")
    if truth.taken is not None and day >= truth.taken:
        return Look(day, stage=stage_on(truth, day) if sees_stage else None, removed=True)
    return Look(day, stage=stage_on(truth, day) if sees_stage else None, wilted=not sees_stage)


def stage_on(truth: Truth, day: int) -> int:
    return ENDPOINT if truth.strikes is not None and day >= truth.strikes else 1


def naive(looks: list[Look]) -> History:
    """Day by day: what was known after each look, with no cleverness."""
    by_day = {look.day: look for look in looks}
    without, first, base, last = 0, None, 0, 0
    back = False
    for day in range(0, 100):
        look = by_day.get(day)
        if look is None:
            continue
        if look.stage is not None and look.stage >= ENDPOINT and first is None:
            first = (without, day)
        elif look.stage is not None and look.stage < ENDPOINT:
            if first is None:
                without = day
            else:
                back = True
        if look.loss:
            after, by = first or (None, None)
            return History(after, by, last, day, look.loss, None, day, back)
        if look.removed:
            at = day if look.stage is not None else base
            if first:
                return History(first[0], first[1], last_look=at, went_back=back)
            return History(removed_after=at, last_look=at)
        last = day
        base = day if look.stage is not None else base
    after, by = first or (None, None)
    return History(after, by, last_look=base, went_back=back)


days = st.lists(st.integers(1, 60), min_size=0, max_size=15, unique=True)
truths = st.builds(
    Truth,
    st.none() | st.integers(1, 60),
    st.none() | st.integers(1, 60),
    st.none() | st.integers(1, 60),
)


@given(truths, days, st.data())
def test_random_rounds_give_the_histories_of_the_naive_reading(
    truth: Truth, visited: list[int], data: st.DataObject
) -> None:
    """Missed looks are days not drawn; skips are stages passed unseen between two of them."""
    looks = []
    for day in sorted(visited):
        look = seen_on(truth, day, data.draw(st.booleans()) or True)
        looks.append(look)
        if look.loss or look.removed:
            break
    order = data.draw(st.permutations(looks))
    assert history_of_looks(order, ENDPOINT) == naive(looks)


@given(truths, days)
def test_the_interval_always_holds_the_day_it_really_struck(
    truth: Truth, visited: list[int]
) -> None:
    looks = []
    for day in sorted(visited):
        looks.append(seen_on(truth, day, True))
        if looks[-1].loss or looks[-1].removed:
            break
    found = history_of_looks(looks, ENDPOINT)
    if found.struck_by is not None:
        assert truth.strikes is not None
        assert found.struck_after is not None
        assert found.struck_after < truth.strikes <= found.struck_by


stages = st.lists(
    st.builds(
        Look, st.integers(1, 60), st.none() | st.integers(1, 7), st.booleans(), st.booleans(),
        st.sampled_from([None, None, None, "rotted"]), st.sampled_from([False, False, False, True]),
    ),
    max_size=12, unique_by=lambda look: look.day,
)  # fmt: skip


@given(stages)
def test_any_looks_whatever_they_say_are_read_as_the_naive_reading_reads_them(
    looks: list[Look],
) -> None:
    assert history_of_looks(looks, ENDPOINT) == naive(looks)


def test_a_shoot_before_the_roots_is_a_history_of_its_own() -> None:
    looks = [Look(3, 1), Look(6, 1, shoot=True), Look(9, 6, shoot=True), Look(12, 7)]
    assert history_of_looks(looks, ENDPOINT).struck_by == 9
    assert (shoot_history(looks).struck_after, shoot_history(looks).struck_by) == (3, 6)
