"""Stewards' notes: objections to the validity of a trial, each with a rule and something to do."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from racecard.core.differences import because, entangled
from racecard.core.finish.grade import CLEAR_LIMIT, LIKELY_LIMIT
from racecard.core.finish.lot import Redealer, below, floor_of, floor_within, holm
from racecard.core.finish.strike import Shares, comparable, last_common_day, unit_shares
from racecard.core.model import Cell, Plan, Role
from racecard.core.results import Bools, Floats, Results, look_table, resolved_days


@dataclass(frozen=True, slots=True)
class Note:
    """One objection: stable code, what is the matter, and what to do."""

    code: str
    says: str
    do: str


@dataclass(frozen=True, slots=True)
class Harm:
    """Loss and injury of a treatment against the control, apart from any lack of gain.

    `p`: central lot test of the share lost, None where it cannot be run; `injured`, `injured_control`:
    units with clear signs of harm, None where nobody looked for them.
    """

    lost: int
    lost_control: int
    harm: bool
    possible: bool
    p: float | None
    injured: int | None = None
    injured_control: int | None = None
    by_injury: bool = False

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
) -> tuple[Note, ...]:
    """Objections at the finish: those of the plan as it was carried out, and those of the data."""
    notes = control_notes(plan) + entangled_notes(plan)
    notes += _carried_out_floor(plan, results, reference)
    notes += row_notes(plan, cells)
    notes += _unequal_looks(plan, results)
    notes += _unscored(results, cells)
    notes += _more_loss(plan, results, reference, redealer)
    if results.went_back.any():
        n = int(results.went_back.sum())
        who = "One plant was" if n == 1 else f"{n} plants were"
        notes.append(
            Note(
                "goes_backwards",
                f"{who} logged as struck and later as not struck; the first sighting is counted.",
                "Look again at that plant, and correct whichever look was wrong.",
            )
        )
    if shared:
        notes.append(shared_note())
    return tuple(notes)


def shared_note() -> Note:
    """The note for containers shared but counted singly."""
    return Note(
        "shared_containers",
        "Plants that shared a container are counted one by one, though they share its luck.",
        "Count the container as the unit; more containers teach more than more plants in each.",
    )


def control_notes(plan: Plan) -> list[Note]:
    """Objections to what the treatments are compared with."""
    notes = []
    if plan.control is None:
        notes.append(
            Note(
                "no_control",
                "Without untreated ones beside them nobody can tell whether the treatment helped "
                "or they would have struck anyway.",
                "Add an untreated control of at least the size of each treatment, same day, same lot.",
            )
        )
    if plan.control is not None and plan.control.role is Role.CANDIDATE:
        notes.append(
            Note(
                "control_is_candidate",
                f"{plan.control.name} is a candidate and what the others are compared with, so its own "
                "gain is measured against nothing.",
                "Compare with an untreated control, or with what you would do anyway.",
            )
        )
    carried = {
        t.carrier for t in plan.treatments if t.role is not Role.CARRIER and t.carrier != "none"
    }
    missing = carried - {t.carrier for t in plan.treatments if t.role is Role.CARRIER}
    for carrier in sorted(missing):
        notes.append(
            Note(
                "no_carrier_control",
                f"Nothing here gets the {carrier} alone, so what the {carrier} does and what the agent "
                "does cannot be told apart.",
                f"Add a carrier control: the same {carrier}, the same time, without the active.",
            )
        )
    return notes


def not_drawn_note() -> Note:
    """The note for a bench that was laid by hand."""
    return Note(
        "not_drawn",
        "The bench was laid by hand, not drawn by lot, so light, draught and habit may be the "
        "treatment.",
        "Draw it by lot; without one nothing here can be called clear.",
    )


def entangled_notes(plan: Plan) -> list[Note]:
    """Candidates that differ from the reference in more than one thing, and no arm tells which."""
    notes = []
    for e in entangled(plan):
        if not e.is_carrier_alone:
            do = "Make the rest alike."
            if e.missing:
                do = f"Add “{e.missing.name}”, or make the rest alike."
            said = because(plan, e)
            notes.append(Note("entangled", f"{said}: whichever it was, the bench cannot tell.", do))
    return notes


def one_unit_note(per_container: int) -> Note:
    """The note for one unit to a treatment."""
    thing = "one container" if per_container > 1 else "one plant"
    return Note(
        "one_unit_per_arm",
        f"With {thing} to a treatment, luck and treatment cannot be told apart, "
        "however many plants it holds.",
        "Set at least four containers of each treatment, each dealt its place by lot.",
    )


def floor_note(units: int, floor: float, blocks: int, family: int) -> Note:
    """The note for a design whose best result luck would still give too often."""
    enough = next(
        n
        for n in range(units, 200)
        if below(_family_floor(n, n, min(blocks, n), family), CLEAR_LIMIT)
    )
    share = "" if family < 2 else f", once it is shared among {family} candidates"
    return Note(
        "floor_too_high",
        f"With {units} units to a treatment the best result there can be would still come about "
        f"by luck {_in_hundred(floor)} times in 100{share}.",
        f"Set at least {enough} units of each treatment, or compare fewer treatments.",
    )


def _family_floor(treated: int, control: int, blocks: int, family: int) -> float:
    block = np.concatenate([np.arange(treated) % blocks, np.arange(control) % blocks])
    arm = np.arange(treated + control) < treated
    return min(1.0, floor_of(arm, block) * max(1, family))


def _in_hundred(p: float) -> str:
    return f"{100 * p:.0f}" if p >= 0.095 else f"{100 * p:.1f}"


def _carried_out_floor(plan: Plan, results: Results, reference: int | None) -> list[Note]:
    if reference is None:
        return []
    floors = []
    for i in plan.family:
        pair = results.only((i, reference))
        units, _ = comparable(unit_shares(pair, last_common_day(pair)), i, reference)
        treated = units.treatment == i
        if min(treated.sum(), (~treated).sum()) == 0:
            continue
        if min(treated.sum(), (~treated).sum()) == 1:
            return [one_unit_note(int(results.sizes.max()))]
        floors.append(floor_within(treated, units.block, units.held, units.line))
    if not floors or below(max(holm(floors)), CLEAR_LIMIT):
        return []
    return [floor_note(plan.units, max(holm(floors)), plan.blocks, len(floors))]


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
        f"A whole {line} of the tray holds {name} alone, so a draught along that {line} "
        "would look like the treatment.",
        "Draw the bench again by lot before anything is stuck, and mix treatments in every line.",
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
                    "Look at every treatment in the same round; what came between looks stays "
                    "uncertain.",
                )
            ]
    return []


def _unscored(results: Results, cells: Sequence[Cell]) -> list[Note]:
    """Fires where units with something left to see were not looked at on the last look day."""
    days = {d for looks in results.looks for d in looks}
    if not days or len(cells) != len(results.looks):
        return []
    last = max(days)
    resolved = resolved_days(results)
    short = [
        cell.code
        for cell, looks, done in zip(cells, results.looks, resolved, strict=True)
        if last not in looks and done >= last
    ]
    if not short:
        return []
    named = (
        words_list(short)
        if len(short) <= 6
        else f"{', '.join(short[:6])} and {len(short) - 6} more"
    )
    until = last_common_day(results)
    stands = f"the verdict stands at day {until:.0f}" if until else "there is no verdict yet"
    return [
        Note(
            "unscored_units",
            f"On day {last} nobody looked at {named}, so {stands}, the last day on which every "
            "unit was seen.",
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
    if min(treated.sum(), (~treated).sum()) < 2:
        return Harm(lost, lost0, False, False, None, hurt, hurt0)
    p, more = _more_of(shares.lost / shares.sizes, treated, shares, redealer)
    clear, maybe = more and below(p, CLEAR_LIMIT), more and below(p, LIKELY_LIMIT)
    maybe |= lost >= 2 and lost0 == 0
    by_injury = False
    if signs is not None:
        p_signs, more_signs = _more_of(signs.astype(float), treated, shares, redealer)
        by_injury = more_signs and below(p_signs, CLEAR_LIMIT)
        maybe |= more_signs and below(p_signs, LIKELY_LIMIT)
    harm = clear or by_injury
    return Harm(lost, lost0, harm, maybe and not harm, p, hurt, hurt0, by_injury and not clear)


def _more_of(
    share: Floats, treated: Bools, shares: Shares, redealer: Redealer
) -> tuple[float, bool]:
    """P of a share against the arms, and whether the treated have more of it."""
    if float(np.ptp(share)) == 0:
        return 1.0, False
    p = redealer.test(share, treated, shares.block, held=shares.held, line=shares.line).p
    return p, float(share[treated].mean()) > float(share[~treated].mean())


def _more_loss(
    plan: Plan, results: Results, reference: int | None, redealer: Redealer
) -> list[Note]:
    if reference is None:
        return []
    notes: list[Note] = []
    fewer: list[tuple[str, Harm]] = []
    control = plan.treatments[reference].name
    for i in (int(a) for a in np.unique(results.treatment) if a != reference):
        name = plan.treatments[i].name
        horizon = last_common_day(results.only((i, reference)))
        harm = harm_of(results, i, reference, horizon, redealer)
        if harm.by_injury:
            notes.append(_injury_note(name, harm, control))
        elif harm.harm:
            notes.append(_loss_note(name, harm.lost, f"{control} ({harm.lost_control})"))
        elif not harm.loss_alike:
            fewer.append((name, harm))
        elif harm.possible:
            notes.append(_possible_harm(name, harm, control))
    if fewer:
        others = words_list([f"{name} ({harm.lost})" for name, harm in fewer])
        notes.append(_loss_note(control, fewer[0][1].lost_control, others))
    return [_mirrored(n) if _all_accounted(results) else n for n in notes]


def _all_accounted(results: Results) -> bool:
    """Every plant either struck or was lost, so that loss says nothing beyond the strike."""
    return bool(np.all(np.isfinite(results.by) | np.isfinite(results.lost_by)))


def _mirrored(note: Note) -> Note:
    return Note(note.code, f"{note.says} Here the loss only mirrors the gap in strike.", note.do)


def _loss_note(more: str, lost: int, less: str) -> Note:
    return Note(
        "more_loss",
        f"{more} lost {lost}, more than {less}; that is counted in the strike, and is more than "
        "luck would explain.",
        "Look for the cause of the loss before repeating this.",
    )


def _hurt(injured: int | None) -> str:
    return f" and had {injured} injured" if injured else ""


def _injury_note(name: str, harm: Harm, control: str) -> Note:
    return Note(
        "more_injured",
        f"{name} had {harm.injured} with clear signs of harm, {control} {harm.injured_control}: more "
        "than luck would explain, whether or not they struck.",
        "Look at the signs that were logged, and take a weaker dose or a shorter time next.",
    )


def _possible_harm(name: str, harm: Harm, control: str) -> Note:
    return Note(
        "possible_harm",
        f"{name} lost {harm.lost}{_hurt(harm.injured)}, {control} lost {harm.lost_control}"
        f"{_hurt(harm.injured_control)}: possible harm, though luck may explain it.",
        "Watch for the same loss in the next run.",
    )
