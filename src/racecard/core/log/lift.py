"""The lift: who is lifted when by lot, in which order, and the root score from its parts.

Root score: own wording of a 0 to 5 scale of count, spread, length, branching and hold; similar
scales are usual in rooting work (common practice).
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import partial

from racecard.core.log.fields import Trait, check_fields
from racecard.core.model import Kind, Outcome, Plan, Trial, Unit
from racecard.core.model.observation import Count
from racecard.core.streams import generator
from racecard.errors import InvalidInput

SCORE_WORDS = (
    "none: bare, callus or bulges",
    "a trace",
    "weak, often one-sided",
    "adequate, pot with care",
    "good, most sides",
    "full, even, holds the ball",
)


_whole = partial(Trait, is_whole=True)
PARTS = (
    _whole("roots", "Roots of 5 mm or more", "", 500),
    Trait("longest", "Longest root", "mm", 2000),
    _whole("quarters", "Quarters of the stem with a root", "", 4, choices=("0", "1", "2", "3", "4")),
    _whole("wall", "Reaches the wall", "", 2, choices=("no", "somewhere", "all round")),
    _whole("branching", "Side roots", "", 3, choices=("none", "some", "clear", "dense")),
    _whole("hold", "Lifts with its medium", "", 4, choices=("falls bare", "little", "up to half", "more than half", "whole ball")),
    _whole("callus", "Callus", "", 2, choices=("none", "some", "all round")),
    _whole("rot", "Rot", "", 2, choices=("none", "some", "much")),
    _whole("shoots", "New shoots", "", 100),
    _whole("leaves", "Leaves", "", 500),
    Trait("height", "Height", "mm", 5000),
    Trait("diameter", "Stem diameter", "mm", 100),
    _whole("marketable", "Fit to sell or plant", "", 1, choices=("no", "yes")),
)  # fmt: skip
_BY_NAME = {p.name: p for p in PARTS}
_COUNTS = tuple(f"score_{k}" for k in range(6))
_WHOLE_BALL, _DENSE, _ALL_ROUND = 4, 3, 2
REACHED_MM = 50.0
"""A root that reaches the wall counts as this long, whatever its length."""
SCORE_NEEDS: tuple[dict[str, float], ...] = (
    {},
    {"roots": 1, "quarters": 1},
    {"roots": 2, "quarters": 1, "longest": 20, "hold": 1},
    {"roots": 4, "quarters": 2, "longest": 30, "branching": 1, "hold": 2},
    {"roots": 6, "quarters": 3, "longest": 50, "branching": 2, "hold": 3},
    {"roots": 8, "quarters": 4, "longest": 50, "branching": _DENSE, "hold": _WHOLE_BALL, "wall": _ALL_ROUND},
)  # fmt: skip


def proposed_score(parts: Mapping[str, float]) -> int | None:
    """The highest score whose every known part is met; None while roots or quarters are not known.

    Parts are minima; one that was not looked at is not held against the plant. A root that reaches
    the wall counts as 50 mm or more.

    Args:
        parts: fields of the lift by name: roots, longest in mm, quarters.
    """
    if parts.get("roots") == 0:
        return 0
    if "roots" not in parts or "quarters" not in parts:
        return None
    known = dict(parts)
    if known.get("wall", 0) >= 1:
        known["longest"] = max(known.get("longest", 0), REACHED_MM)
    for score in range(5, 0, -1):
        if all(known[name] >= least for name, least in SCORE_NEEDS[score].items() if name in known):
            return score
    return 0


def check_parts(parts: Mapping[str, float]) -> None:
    """Raise InvalidInput where a field of the lift is not known, out of bounds, or not whole.

    Args:
        parts: fields of the lift by name.
    """
    check_fields(_BY_NAME, parts, "/parts", "is not a field of the final scoring.")


def check_shared_scores(parts: Mapping[str, float], standing: int) -> None:
    """Raise InvalidInput unless every plant still standing in a container has its own score.

    Args:
        parts: plants at each score, as score_0 … score_5.
        standing: plants not lost and not taken out.
    """
    for name in parts:
        if name not in _COUNTS:
            raise InvalidInput(f"{name!r} is not a number of scored plants.", f"/parts/{name}")
    if any(v < 0 or v != int(v) for v in parts.values()):
        raise InvalidInput("Plants at a score are counted in whole numbers from 0.", "/parts")
    scored = int(sum(parts.values()))
    if scored != standing:
        raise InvalidInput(
            f"{scored} of the {standing} plants still standing here are scored: score every one, "
            "not the best.",
            "/parts",
        )


def shared_score(parts: Mapping[str, float], lost: int) -> float:
    """Mean score of a container's plants, the lost as 0; 0 where it holds none.

    Args:
        parts: plants at each score, as score_0 … score_5.
        lost: plants lost, before or after striking.
    """
    total = sum(parts.get(name, 0) for name in _COUNTS) + lost
    return sum(k * parts.get(name, 0) for k, name in enumerate(_COUNTS)) / total if total else 0.0


def lift_stage(plan: Plan, score: int | None, parts: Mapping[str, float]) -> int | None:
    """The stage a lift saw at the base, by the trial's own threshold; None where it does not say.

    Parts say it: one root as long as the threshold, or three of 5 mm or more where half the threshold
    is no more than that. A score without them says it by the trial's lowest score that counts as
    rooted. Fit to sell or plant is plantable.

    Args:
        plan: the plan, with its threshold.
        score: root score 0 to 5, None where it was not scored.
        parts: fields of the lift by name: roots, longest in mm, quarters.
    """
    if plan.outcome is not Outcome.USUAL:
        return None  # what is at the base says nothing of the top
    if plan.kind is not Kind.CUTTING:
        if score is None:
            return None
        return _RADICLE if score >= 1 else 0 if plan.endpoint <= _RADICLE else None
    roots, longest = parts.get("roots"), parts.get("longest")
    if roots is None and longest is None:
        if score is None:
            return None
        is_rooted, has_root = score >= plan.rooted_score, score >= 1
    else:
        enough = (roots or 0) >= 3 and plan.threshold_mm <= 2 * COUNTED_MM
        is_rooted = (longest or 0) >= plan.threshold_mm or enough
        has_root = (roots or 0) >= 1 or (longest or 0) >= 2
    if is_rooted and "marketable" in parts:
        return _PLANTABLE if parts["marketable"] else _ROOTED
    if is_rooted and plan.endpoint == _PLANTABLE:
        return None  # rooted, and nobody said whether it is plantable
    return _ROOTED if is_rooted else _FIRST_ROOT if has_root else _NOTHING


_NOTHING, _FIRST_ROOT, _ROOTED, _PLANTABLE = 1, 5, 6, 7
_RADICLE = 2
COUNTED_MM = 5.0
"""Roots from this length on are counted at a lift."""


def lift_count(
    plan: Plan, day: int, parts: Mapping[str, float], before: Count | None
) -> Count | None:
    """A container's count by its lift: plants scored as rooted had struck; None where it adds nothing.

    Args:
        plan: the plan.
        day: day of the lift.
        parts: how many plants had each score, by its name.
        before: the count that stood before it, None without one.
    """
    is_usual = plan.outcome is Outcome.USUAL and plan.kind is Kind.CUTTING
    if not is_usual or plan.endpoint == _PLANTABLE or not parts:
        return None
    least = 1 if plan.endpoint == _FIRST_ROOT else plan.rooted_score
    rooted = int(sum(n for k in range(least, 6) if (n := parts.get(f"score_{k}", 0))))
    before = before or Count(day, 0)
    struck = max(before.struck, rooted + before.lost_struck)
    if before.day == day and struck == before.struck:
        return None
    return replace(before, day=day, struck=struck)


def gaps(
    plan_names: Sequence[str], arms: Sequence[int], forms: Sequence[Mapping[str, float] | None]
) -> list[str]:
    """Fields written for some treatments and for none of another: every arm gets every field.

    Args:
        plan_names: names of the treatments.
        arms: treatment of each unit.
        forms: its lift form, None where it was not lifted.
    """
    filled: dict[str, set[int]] = {}
    lifted = {a for a, f in zip(arms, forms, strict=True) if f is not None}
    for arm, form in zip(arms, forms, strict=True):
        for name in form or ():
            filled.setdefault(name, set()).add(arm)
    out = []
    for part in PARTS:
        missing = sorted(lifted - filled.get(part.name, lifted))
        if missing:
            out.append(f"{part.label}: not for {', '.join(plan_names[a] for a in missing)}")
    return out


def sampled(trial: Trial) -> dict[int, tuple[str, ...]]:
    """Ids of the units lifted on the way, by day: drawn by lot, as many of each treatment.

    The blocks are gone through in one drawn order for all treatments, so that every block gives
    as nearly the same as can be. A unit is lifted once.
    """
    if trial.drawn is not None:
        return dict(trial.drawn.lifts)
    if not trial.plan.sample_lifts:
        return {}
    rng = generator(trial.seed, "sample lifts", legacy=(0x11F7,))
    blocks = sorted({u.cell.block for u in trial.planted})
    order = [blocks[i] for i in rng.permutation(len(blocks))]
    queues: dict[int, list[Unit]] = {}
    for arm in range(len(trial.plan.treatments)):
        mine = [u for u in trial.planted if u.cell.treatment == arm]
        shuffled = [mine[i] for i in rng.permutation(len(mine))]
        turn = {b: 0 for b in blocks}
        ranked = []
        for u in shuffled:
            ranked.append((turn[u.cell.block], order.index(u.cell.block), u))
            turn[u.cell.block] += 1
        queues[arm] = [u for *_, u in sorted(ranked, key=lambda r: r[:2])]
    out: dict[int, tuple[str, ...]] = {}
    start = 0
    for day, each in sorted(trial.plan.sample_lifts):
        out[day] = _as_they_stand(
            trial, [u for q in queues.values() for u in q[start : start + each]]
        )
        start += each
    return out


def shuffled(trial: Trial, day: int) -> list[int]:
    """Indices of the planted units in the order of a shuffled round, the same on every device.

    Args:
        trial: the trial, whose seed is drawn from.
        day: day of the round.
    """
    rng = generator(trial.key, "round order", day, legacy=(0x5C0E, day))
    return [int(i) for i in rng.permutation(len(trial.planted))]


def second_sample(trial: Trial) -> tuple[str, ...]:
    """Units a second scorer scores too: at least 20, or all; as many of each treatment, by lot."""
    if trial.drawn is not None:
        return trial.drawn.second
    rng = generator(trial.seed, "second scorer", legacy=(0x2ED,))
    arms = [
        [u for u in trial.stuck if u.cell.treatment == a] for a in range(len(trial.plan.treatments))
    ]
    arms = [mine for mine in arms if mine]
    wanted = max(20, round(0.2 * len(trial.stuck)))
    each = -(-wanted // len(arms)) if arms else 0
    chosen = [mine[i] for mine in arms for i in rng.permutation(len(mine))[:each]]
    return _as_they_stand(trial, chosen)


def _as_they_stand(trial: Trial, chosen: Sequence[Unit]) -> tuple[str, ...]:
    """Ids in the order of the bench: the order in which they were drawn would give treatments away."""
    wanted = {u.id for u in chosen}
    return tuple(u.id for u in trial.units if u.id in wanted)
