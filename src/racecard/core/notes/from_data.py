"""Stewards' notes: objections to the validity of a trial, each with a rule and something to do."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from racecard.core.arrays import Bools, Floats
from racecard.core.assess.grade import CLEAR_LIMIT, LIKELY_LIMIT
from racecard.core.assess.horizon import horizon_of, looked_at
from racecard.core.assess.strike import Shares, comparable, unit_shares
from racecard.core.model import Cell, Plan, Role
from racecard.core.model.differences import because, entangled, lacks_carrier_control
from racecard.core.model.results import Results, look_table, resolved_days
from racecard.core.stats.permutation import Redealer, below, floor_of, floor_within, holm


@dataclass(frozen=True, slots=True)
class Note:
    """One objection: stable code, what is the matter, and what to do."""

    code: str
    says: str
    do: str


@dataclass(frozen=True, slots=True)
class Harm:
    """Loss and injury of a treatment against the control, apart from any lack of gain.

    `n`, `n_control`: stuck of each, less the removed; `units`, `units_control`: units of each. `p`: central lot test of the share lost, None where it cannot be run; `injured`, `injured_control`:
    units with clear signs of harm, None where nobody looked for them.
    """

    lost: int
    lost_control: int
    n: int
    n_control: int
    harm: bool
    possible: bool
    p: float | None
    injured: int | None = None
    injured_control: int | None = None
    by_injury: bool = False
    units: int = 0
    units_control: int = 0
    control_hurt_more: bool = False

    @property
    def is_one_unit(self) -> bool:
        """Whether an arm has one unit only, so that counts alone can be told."""
        return min(self.units, self.units_control) < 2

    @property
    def loss_alike(self) -> bool:
        """Whether loss does not depend on the arm as far as the test can see."""
        return self.p is None or not below(self.p, CLEAR_LIMIT)


def notes_from_data(
    plan: Plan,
    results: Results,
    cells: Sequence[Cell],
    reference: int | None,
    shared: bool,
    redealer: Redealer,
    end: float | None,
) -> tuple[Note, ...]:
    """Objections at the finish: those of the plan as it was carried out, and those of the data."""
    notes = control_notes(plan) + entangled_notes(plan)
    notes += _unequal_numbers(plan)
    notes += _carried_out_floor(plan, results, reference, end)
    notes += row_notes(plan, cells)
    notes += _looked_for_some(plan, results)
    notes += _unequal_looks(plan, results)
    notes += _unscored(results, cells, end)
    notes += _removed_plants(plan, results, end)
    notes += _at_start(results)
    notes += _more_loss(plan, results, reference, redealer, end)
    if results.went_back.any():
        n = int(results.went_back.sum())
        who = "One plant was" if n == 1 else f"{n} plants were"
        notes.append(
            Note(
                "goes_backwards",
                f"{who} logged as struck and later as not struck; the first sighting is counted.",
                "Look again at that plant, and correct the look that is wrong.",
            )
        )
    if shared:
        notes.append(shared_note())
    return tuple(notes)


def shared_note() -> Note:
    """The note for containers shared but counted singly."""
    return Note(
        "shared_containers",
        "Plants that shared a container are counted one by one, as if they had stood alone.",
        "Count the container as the unit; use more containers, with fewer plants each.",
    )


def control_notes(plan: Plan) -> list[Note]:
    """Objections to what the treatments are compared with."""
    notes = []
    if plan.control is None:
        notes.append(
            Note(
                "no_control",
                "Nothing here is left untreated, so nobody can say whether these would have rooted without treatment.",
                "Add an untreated control of the same size, from the same batch, same day.",
            )
        )
    if plan.control is not None and plan.control.role is Role.CANDIDATE:
        notes.append(
            Note(
                "control_is_candidate",
                f"{plan.control.name} is both the control and a candidate, so its own gain is measured against nothing.",
                "Compare with an untreated control, or with your usual way.",
            )
        )
    missing = {
        lacks_carrier_control(plan, i)
        for i, t in enumerate(plan.treatments)
        if t.role is not Role.CARRIER and i != plan.reference
    } - {""}
    for carrier in sorted(missing):
        notes.append(
            Note(
                "no_carrier_control",
                f"Nothing here gets the {carrier} alone, so the effect of the {carrier} and of the active "
                "ingredient cannot be separated.",
                f"Add a carrier control: the same {carrier}, the same time, no active ingredient.",
            )
        )
    return notes


def blocks_note() -> Note:
    """The note for blocks that each hold one treatment."""
    return Note(
        "blocks_of_one_treatment",
        "Each block holds one treatment only, so what the block did and what the treatment did cannot "
        "be separated.",
        "Put some of every treatment, the control too, into each block.",
    )


def not_drawn_note() -> Note:
    """The note for a bench that was laid by hand."""
    return Note(
        "not_drawn",
        "Positions were not randomised, so light, draughts or handling could explain the difference.",
        "Randomise next time; without it nothing here can be called clear.",
    )


def entangled_notes(plan: Plan) -> list[Note]:
    """Candidates that differ from the reference in more than one thing, and no arm tells which."""
    notes = []
    for e in entangled(plan):
        if not e.is_carrier_alone:
            do = "Make everything else the same."
            if e.missing:
                do = f"Add “{e.missing.name}”, or make everything else the same."
            said = because(plan, e)
            notes.append(Note("entangled", f"{said}. Any of these could be the reason.", do))
    return notes


def one_unit_note(per_container: int, family: int = 1) -> Note:
    """The note for one unit to a treatment; asks for as many as the floor asks for."""
    thing = "container" if per_container > 1 else "plant"
    return Note(
        "one_unit_per_arm",
        f"There is one {thing} per treatment. What happened to that {thing} and what the treatment did "
        "cannot be separated.",
        f"Set at least {_enough(2, 1, family)} {thing}s of each treatment, placed at random.",
    )


def floor_note(units: int, floor: float, blocks: int, family: int) -> Note:
    """The note for a design whose best result chance would still give too often."""
    share = "" if family < 2 else f", allowing for {family} comparisons"
    return Note(
        "floor_too_high",
        f"With {units} per treatment, even the largest possible difference would arise by chance "
        f"{_in_hundred(floor)} times in 100{share}.",
        f"Set at least {_enough(units, blocks, family)} of each, or compare fewer treatments.",
    )


def _enough(units: int, blocks: int, family: int) -> int:
    """Units of each treatment from which the floor of the family leaves a verdict open."""
    return next(
        n
        for n in range(units, 200)
        if below(_family_floor(n, n, min(blocks, n), family), CLEAR_LIMIT)
    )


def _family_floor(treated: int, control: int, blocks: int, family: int) -> float:
    block = np.concatenate([np.arange(treated) % blocks, np.arange(control) % blocks])
    arm = np.arange(treated + control) < treated
    return min(1.0, floor_of(arm, block) * max(1, family))


def _in_hundred(p: float) -> str:
    return f"{100 * p:.0f}" if p >= 0.095 else f"{100 * p:.1f}"


def _unequal_numbers(plan: Plan) -> list[Note]:
    """Fires where the plan asks for unequal numbers and nobody said why."""
    low, high = min(plan.units_of), max(plan.units_of)
    if low == high or plan.unequal_reason.strip() or plan.question == "":
        return []
    return [
        Note(
            "unequal_numbers",
            f"Treatments have {low} to {high} units, and no reason is given. That shows less for the "
            "same work.",
            "Use equal numbers, or give the reason.",
        )
    ]


def _looked_for_some(plan: Plan, results: Results) -> list[Note]:
    """Fires where the endpoint was looked for in some treatments and in none of another."""
    known = looked_at(results)
    seen = {int(a) for a in results.treatment[results.unit[known]]}
    unseen = [t.name for i, t in enumerate(plan.treatments) if i not in seen]
    if not seen or not unseen:
        return []
    seen_names = words_list([plan.treatments[i].name for i in sorted(seen)])
    return [
        Note(
            "looked_for_some",
            f"What the trial asks for was looked for in {seen_names} but not in {words_list(unseen)}. "
            "It is shown, but not compared.",
            "Look for the same thing in every treatment.",
        )
    ]


def _removed_plants(plan: Plan, results: Results, end: float | None) -> list[Note]:
    """Fires where plants were removed before they struck or were lost."""
    counts = []
    for i, t in enumerate(plan.treatments):
        mine = results.only([i])
        if not len(mine.unit):
            continue
        n = int(unit_shares(mine, horizon_of(mine, end).age).removed.sum())
        if n:
            counts.append(f"{n} of {t.name}")
    if not counts:
        return []
    in_parts = results.has_shared_containers or len(np.unique(results.block)) > 1
    rest = (
        " The rate of each treatment is estimated from the curve; the difference and the test count the "
        "plants that are left."
        if in_parts
        else " Rates are estimated from the curve, and the verdict is made three times."
    )
    return [
        Note(
            "removed_plants",
            f"Removed before they struck or were lost: {words_list(counts)}.{rest}",
            "Draw the plants to be removed at random before you look at them.",
        )
    ]


def _at_start(results: Results) -> list[Note]:
    """Fires where something was at the endpoint on the day it was set."""
    if results.at_start is None or not results.at_start.any():
        return []
    n = int(results.at_start.sum())
    who = "One plant was" if n == 1 else f"{n} plants were"
    return [
        Note(
            "days_do_not_add_up",
            f"{who} already at the goal on day 0. That says nothing of the treatment, so the count is "
            "without them.",
            "Correct that look, or the day it was set, if it was a slip.",
        )
    ]


def _carried_out_floor(
    plan: Plan, results: Results, reference: int | None, end: float | None
) -> list[Note]:
    if reference is None:
        return []
    floors = []
    for i in plan.family:
        pair = results.only((i, reference))
        age = horizon_of(pair, end).age
        if age == 0:
            continue
        units, _ = comparable(unit_shares(pair, age), i, reference)
        treated = units.treatment == i
        if min(treated.sum(), (~treated).sum()) == 0:
            continue
        if min(treated.sum(), (~treated).sum()) == 1:
            return [one_unit_note(int(results.sizes.max()), max(1, len(plan.family)))]
        floors.append(floor_within(treated, units.block, units.held, units.line))
    if not floors or below(max(holm(floors)), CLEAR_LIMIT):
        return []
    return [floor_note(min(plan.units_of), max(holm(floors)), plan.drawn_blocks, len(floors))]


def row_notes(plan: Plan, cells: Sequence[Cell]) -> list[Note]:
    """Rows or columns of a tray that hold one treatment only.

    Lines of one treatment are an objection where every line of a tray is one, or where a fair lot
    would deal so many of them less than one time in twenty (short lines agree by luck). A
    treatment found on every line is not an objection.
    """
    arms = max(2, len(plan.treatments))
    for line in ("row", "column"):
        trays: dict[int, dict[int, list[int]]] = defaultdict(lambda: defaultdict(list))
        for c in cells:
            if c.treatment >= 0:
                trays[c.tray][c.row if line == "row" else c.col].append(c.treatment)
        for held in trays.values():
            lines = [h for h in held.values() if len(h) > 1]
            single = [h for h in lines if len(set(h)) == 1 and not all(h[0] in x for x in lines)]
            rare = any(len(lines) * arms ** (1.0 - len(h)) < 0.05 for h in single)
            if single and (rare or len(single) == len(lines) > 1):
                return [_row_note(plan.treatments[single[0][0]].name, line)]
    return []


def _row_note(name: str, line: str) -> Note:
    return Note(
        "rows_by_treatment",
        f"A {line} of the tray holds only {name}, so a draught along it would look like the treatment.",
        "Randomise the tray again before you start, with treatments mixed in every line.",
    )


def _unequal_looks(plan: Plan, results: Results) -> list[Note]:
    """Fires where on some day an arm with something left to see was not looked at, another was."""
    days, seen = look_table(results)
    still_open = resolved_days(results)[:, None] >= days
    for k, day in enumerate(days):
        waiting = [int(a) for a in np.unique(results.treatment[still_open[:, k]])]
        unseen = [
            plan.treatments[a].name
            for a in waiting
            if not seen[(results.treatment == a) & still_open[:, k], k].any()
        ]
        if unseen:
            return [
                Note(
                    "unequal_looks",
                    f"On day {day} {words_list(unseen)} was not looked at while others were.",
                    "Look at every treatment in the same round.",
                )
            ]
    return []


def _unscored(results: Results, cells: Sequence[Cell], end: float | None) -> list[Note]:
    """Fires where units with something left to see were not looked at on the last look day or later."""
    days = {d for looks in results.looks for d in looks}
    if not days or len(cells) != len(results.looks):
        return []
    last = max(days)
    if end is not None and last > end:  # a look after the end is asked of nobody
        last = max((d for d in days if d <= end), default=last)
    resolved = resolved_days(results)
    short = [
        cell.code
        for cell, looks, done in zip(cells, results.looks, resolved, strict=True)
        if max(looks, default=0) < last and done >= last
    ]
    if not short:
        return []
    named = (
        words_list(short)
        if len(short) <= 6
        else f"{', '.join(short[:6])} and {len(short) - 6} more"
    )
    until = horizon_of(results, end).age
    effect = f"The result is given for day {until:.0f}." if until else "There is no result yet."
    was = "was" if len(short) == 1 else "were"
    return [
        Note(
            "unscored_units",
            f"{named} {was} not looked at on day {last}. {effect}",
            f"Open the round of day {last} and enter them, or say what became of them.",
        )
    ]


def words_list(names: Sequence[str]) -> str:
    """Names joined as in a sentence."""
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def harm_of(results: Results, one: int, zero: int, horizon: float, redealer: Redealer) -> Harm:
    """Central lot tests of the share lost and of the share injured.

    p < 0.05 without Holm and more in the treated is harm; below 0.10, or two or more lost against
    none, is possible harm.
    """
    pair = results.only((one, zero))
    shares = unit_shares(pair, horizon)
    treated = shares.treatment == one
    lost, lost0 = int(shares.lost[treated].sum()), int(shares.lost[~treated].sum())
    signs = pair.injured
    hurt = None if signs is None else int(signs[treated].sum())
    hurt0 = None if signs is None else int(signs[~treated].sum())
    stuck = shares.sizes - shares.removed
    n, n0 = int(stuck[treated].sum()), int(stuck[~treated].sum())
    units, units0 = int(treated.sum()), int((~treated).sum())
    if min(units, units0) < 2:
        return Harm(
            lost, lost0, n, n0, False, False, None, hurt, hurt0, units=units, units_control=units0
        )
    p, more = _more_of(shares.lost / np.maximum(stuck, 1), treated, shares, redealer)
    clear, maybe = more and below(p, CLEAR_LIMIT), more and below(p, LIKELY_LIMIT)
    maybe |= lost >= 2 and lost0 == 0
    hurt_more_in_control = False
    by_injury = False
    if signs is not None:
        p_signs, more_signs = _more_of(signs.astype(float), treated, shares, redealer)
        by_injury = more_signs and below(p_signs, CLEAR_LIMIT)
        maybe |= more_signs and below(p_signs, LIKELY_LIMIT)
        hurt_more_in_control = not more_signs and below(p_signs, LIKELY_LIMIT)
    harm = clear or by_injury
    return Harm(
        lost, lost0, n, n0, harm, maybe and not harm, p, hurt, hurt0, by_injury and not clear,
        units, units0, hurt_more_in_control,
    )  # fmt: skip


def _more_of(
    share: Floats, treated: Bools, shares: Shares, redealer: Redealer
) -> tuple[float, bool]:
    """P of a share against the arms, and whether the treated have more of it."""
    if float(np.ptp(share)) == 0:
        return 1.0, False
    p = redealer.test(share, treated, shares.block, held=shares.held, line=shares.line).p
    return p, float(share[treated].mean()) > float(share[~treated].mean())


def _more_loss(
    plan: Plan, results: Results, reference: int | None, redealer: Redealer, end: float | None
) -> list[Note]:
    if reference is None:
        return []
    notes: list[Note] = []
    fewer: list[tuple[str, Harm]] = []
    control = plan.treatments[reference].name
    for i in (int(a) for a in np.unique(results.treatment) if a != reference):
        name = plan.treatments[i].name
        horizon = horizon_of(results.only((i, reference)), end).age
        if horizon == 0:
            continue
        harm = harm_of(results, i, reference, horizon, redealer)
        if harm.is_one_unit:
            notes += _harm_counts(name, harm, control)
        elif harm.by_injury:
            notes.append(_injury_note(name, harm, control))
        elif harm.harm:
            less = f"{control} {harm.lost_control} of {harm.n_control}"
            notes.append(_loss_note(name, f"{harm.lost} of {harm.n}", less))
        elif not harm.loss_alike:
            fewer.append((name, harm))
        elif harm.possible:
            notes.append(_possible_harm(name, harm, control))
        if harm.control_hurt_more:
            notes.append(_trouble_in_control(name, harm, control))
    if fewer:
        others = words_list([f"{name} {harm.lost} of {harm.n}" for name, harm in fewer])
        first = fewer[0][1]
        notes.append(_loss_note(control, f"{first.lost_control} of {first.n_control}", others))
    mirrors = _all_accounted(results)
    return [_mirrored(n) if mirrors and n.code == "more_loss" else n for n in notes]


def _all_accounted(results: Results) -> bool:
    """Every plant either struck or was lost, so that loss says nothing beyond the strike."""
    return bool(np.all(np.isfinite(results.by) | np.isfinite(results.lost_by)))


def _mirrored(note: Note) -> Note:
    return Note(
        note.code,
        f"{note.says} Here that is the same difference seen from the other side.",
        note.do,
    )


def _loss_note(more: str, lost: str, less: str) -> Note:
    return Note(
        "more_loss",
        f"{more} lost {lost}, {less}: more than chance explains. Losses already count as not struck.",
        "Find the cause of the losses before you repeat this.",
    )


def _hurt(injured: int | None) -> str:
    return f" and had {injured} injured" if injured else ""


def _injured_of(harm: Harm) -> tuple[str, str]:
    return f"{harm.injured} of {harm.units}", f"{harm.injured_control} of {harm.units_control}"


def _injury_note(name: str, harm: Harm, control: str) -> Note:
    one, zero = _injured_of(harm)
    return Note(
        "more_injured",
        f"{name} had {one} with clear signs of harm, {control} {zero}: more than chance explains.",
        "Check the signs that were logged; next time use a weaker dose or a shorter time.",
    )


def _trouble_in_control(name: str, harm: Harm, control: str) -> Note:
    one, zero = _injured_of(harm)
    return Note(
        "more_injured",
        f"{control} had {zero} with clear signs of harm, {name} {one}: trouble in the control, more than "
        "chance easily explains.",
        "Find what hurt the control before you read a lead over it.",
    )


def _harm_counts(name: str, harm: Harm, control: str) -> list[Note]:
    """Counts alone, where one unit an arm lets nobody tell why."""
    told = []
    if harm.injured or harm.injured_control:
        one, zero = _injured_of(harm)
        told.append(f"clear signs of harm: {name} {one}, {control} {zero}")
    if harm.lost or harm.lost_control:
        told.append(
            f"lost: {name} {harm.lost} of {harm.n}, {control} {harm.lost_control} of {harm.n_control}"
        )
    if not told:
        return []
    said = "; ".join(told)
    return [
        Note(
            "harm_counts",
            f"{said[:1].upper()}{said[1:]}. With one of each nobody can tell why.",
            "Watch for the same signs with more of each.",
        )
    ]


def _possible_harm(name: str, harm: Harm, control: str) -> Note:
    return Note(
        "possible_harm",
        f"{name} lost {harm.lost} of {harm.n}{_hurt(harm.injured)}, {control} {harm.lost_control} of "
        f"{harm.n_control}{_hurt(harm.injured_control)}. This may be chance.",
        "Watch for the same losses in the next run.",
    )
