"""The bench drawn by lot from a stored seed, and its map of trays and cells.

The dealing works on raw words of the generator (PCG64 [1], whose stream is fixed), not on a
library's shuffle, so that a seed deals the same bench on every machine. The drawn bench is stored
all the same: it is what the grower stuck.

References:
    [1] O'Neill (2014), PCG: A Family of Simple Fast Space-Efficient Statistically Good
        Algorithms for Random Number Generation, HMC-CS-2014-0905.
"""

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from racecard.core.model import BORDER, SPARE, Cell, Layout, Plan
from racecard.core.streams import entropy
from racecard.errors import InvalidInput

_SWAPS_A_CELL = 60
_MOST_SWAPS = 90_000
_ORDER_STREAM = 1


@dataclass(frozen=True, slots=True)
class Lock:
    """A cell that keeps its treatment when the rest is drawn."""

    tray: int
    row: int
    col: int
    treatment: int


@dataclass(frozen=True, slots=True)
class _Slot:
    tray: int
    row: int
    col: int
    block: int


def draw_bench(plan: Plan, seed: int, locks: Sequence[Lock] = ()) -> tuple[Cell, ...]:
    """Deal every unit its treatment by lot, block by block, and place it on a tray.

    Within each block every treatment has the same number of units, as even as the plan's numbers
    allow: 10 units in 4 blocks are dealt 3, 3, 2, 2. A block starts on a new row, a pair stands
    side by side, a site or a split container has a tray of its own. Rows and columns: no treatment
    more than one above its even share in any column. By hand: in the order of the plan; where every
    unit is locked, at the places they name.

    Args:
        plan: checked plan; needs treatments, units >= 1, 1 <= blocks <= units, columns >= 1.
        seed: 0 <= seed < 2 ** 128.
        locks: cells that keep their treatment.

    Returns:
        Cells in order of tray, row, column; spare cells carry treatment -1, border cells -2.

    Raises:
        InvalidInput: a lock names a cell or a treatment that its block does not hold.
    """
    if plan.layout is Layout.BY_HAND and len(locks) == sum(plan.units_of):
        return _laid(plan, locks)
    decks = _decks(plan)
    slots = _slots(plan, decks)
    kept = _kept(plan, locks, slots, decks)
    words = _words(seed, "bench")
    dealt: dict[_Slot, int] = {}
    for block, deck in enumerate(decks):
        mine = [s for s in slots[block] if s not in kept]
        rest = list(
            (Counter(deck) - Counter(kept[s] for s in slots[block] if s in kept)).elements()
        )
        rest.sort()
        cards = rest if plan.layout is Layout.BY_HAND else shuffled(rest, words)
        dealt |= dict(zip(mine, cards, strict=True))
    if plan.layout is Layout.ROW_COLUMN:
        _even_out(plan, dealt, kept, words)
    cells = [
        Cell(s.tray, s.row, s.col, s.block, arm, s in kept) for s, arm in (dealt | kept).items()
    ]
    return tuple(sorted((*cells, *_others(plan, cells)), key=lambda c: (c.tray, c.row, c.col)))


def block_sizes(units: int, blocks: int) -> tuple[int, ...]:
    """Units in each block, as even as can be.

    Args:
        units: units of one treatment.
        blocks: blocks they are parted into.
    """
    each, rest = divmod(units, blocks)
    return tuple(each + (b < rest) for b in range(blocks))


def sticking_order(cells: Sequence[Cell], seed: int) -> tuple[int, ...]:
    """The order in which the planted cells are filled, drawn by lot within blocks.

    Args:
        cells: the bench, spares and borders among it.
        seed: the trial's seed; the order has a stream of its own.

    Returns:
        Indices into `cells`, the first to be stuck first: blocks one after another.
    """
    words = _words(seed, "sticking order", _ORDER_STREAM)
    out: list[int] = []
    by_block: dict[int, list[int]] = {}
    for i, c in enumerate(cells):
        if c.treatment >= 0:
            by_block.setdefault(c.block, []).append(i)
    for _, mine in sorted(by_block.items()):
        out += [mine[i] for i in shuffled(range(len(mine)), words)]
    return tuple(out)


def shuffled(deck: Sequence[int], words: Callable[[], int]) -> list[int]:
    """Fisher–Yates from the top of the deck, each draw free of bias by rejection.

    Args:
        deck: what is dealt.
        words: gives one unsigned 64-bit word a call.
    """
    out = list(deck)
    for i in range(len(out) - 1, 0, -1):
        j = _below(i + 1, words)
        out[i], out[j] = out[j], out[i]
    return out


def most_in_a_line(units: int, lines: int) -> int:
    """The most units of one treatment that a column may hold under the row-and-column rule.

    Args:
        units: units of one treatment.
        lines: columns of the tray.
    """
    return units // max(1, lines) + 1


def _decks(plan: Plan) -> list[list[int]]:
    """The cards of each block, in the order of the treatments."""
    blocks = plan.drawn_blocks
    sizes = [block_sizes(units, blocks) for units in plan.units_of]
    return [[arm for arm, size in enumerate(sizes) for _ in range(size[b])] for b in range(blocks)]


def _slots(plan: Plan, decks: Sequence[Sequence[int]]) -> list[list[_Slot]]:
    """Where the units of each block stand."""
    edge = 1 if plan.border else 0
    width, height = plan.columns - 2 * edge, plan.tray_rows - 2 * edge
    place = _Place(width, height, edge)
    out = []
    for block, deck in enumerate(decks):
        if plan.layout in (Layout.SITES, Layout.SPLIT):
            place.next_tray()
        elif plan.layout is Layout.PAIRS:
            place.make_room(len(deck))
        else:
            place.next_row(len(deck))
        out.append([_Slot(*place.take(), block) for _ in deck])
    return out


@dataclass(slots=True)
class _Place:
    """Walks over the trays cell by cell."""

    width: int
    height: int
    edge: int
    tray: int = 0
    row: int = 0
    col: int = 0

    def take(self) -> tuple[int, int, int]:
        """The next free cell."""
        if self.col == self.width:
            self.row, self.col = self.row + 1, 0
        if self.row >= self.height:
            self.next_tray()
        at = (self.tray, self.row + self.edge, self.col + self.edge)
        self.col += 1
        return at

    def next_tray(self) -> None:
        """To the first cell of the next tray; the first tray is not left empty."""
        if self.row or self.col:
            self.tray, self.row, self.col = self.tray + 1, 0, 0

    def next_row(self, cells: int) -> None:
        """To a new row, or a new tray where the rows this block needs do not fit any more."""
        rows = -(-cells // self.width)
        if self.col:
            self.row, self.col = self.row + 1, 0
        if self.row and self.row + min(rows, self.height) > self.height:
            self.next_tray()

    def make_room(self, cells: int) -> None:
        """So that as many cells lie side by side as the tray is wide."""
        if self.col and self.col + cells > self.width:
            self.row, self.col = self.row + 1, 0


def _laid(plan: Plan, locks: Sequence[Lock]) -> tuple[Cell, ...]:
    """The bench as it stands: every unit at the place it was given, wherever that is."""
    cells: dict[tuple[int, int, int], Cell] = {}
    for i, lock in enumerate(locks):
        cell = Cell(lock.tray, lock.row, lock.col, 0, lock.treatment, True)
        at = (lock.tray, lock.row, lock.col)
        if at in cells:
            raise InvalidInput(f"Two containers stand at {cell.code}.", f"/locks/{i}")
        cells[at] = cell
    counts = Counter(lock.treatment for lock in locks)
    for arm, units in enumerate(plan.units_of):
        if counts[arm] != units:
            name = plan.treatments[arm].name
            raise InvalidInput(
                f"{counts[arm]} places are given to {name}, which has {units}.", "/locks"
            )
    others = _others(plan, list(cells.values()))
    return tuple(sorted((*cells.values(), *others), key=lambda c: (c.tray, c.row, c.col)))


def _kept(
    plan: Plan,
    locks: Sequence[Lock],
    slots: Sequence[Sequence[_Slot]],
    decks: Sequence[Sequence[int]],
) -> dict[_Slot, int]:
    """Locked slots with their treatments."""
    if not locks:
        return {}
    at = {(s.tray, s.row, s.col): s for mine in slots for s in mine}
    kept: dict[_Slot, int] = {}
    for i, lock in enumerate(locks):
        slot = at.get((lock.tray, lock.row, lock.col))
        code = Cell(lock.tray, lock.row, lock.col, 0, 0).code
        if slot is None or not 0 <= lock.treatment < len(plan.treatments):
            raise InvalidInput(
                f"Cell {code} is locked, but nothing stands there any more: unlock it.",
                f"/locks/{i}",
            )
        kept[slot] = lock.treatment
        held = sum(1 for s, arm in kept.items() if s.block == slot.block and arm == lock.treatment)
        if held > decks[slot.block].count(lock.treatment):
            name = plan.treatments[lock.treatment].name
            raise InvalidInput(
                f"Cell {code} is locked to {name}, but its block has no more of {name} to give: "
                "unlock a cell.",
                f"/locks/{i}",
            )
    return kept


def _others(plan: Plan, cells: Sequence[Cell]) -> list[Cell]:
    """Spare and border cells: what is left of the rows in use, and the edge of each tray."""
    taken = {(c.tray, c.row, c.col): c for c in cells}
    edge = 1 if plan.border else 0
    out = []
    own_tray = plan.layout in (Layout.SITES, Layout.SPLIT)
    by_tray: dict[int, list[Cell]] = {}
    for c in cells:
        by_tray.setdefault(c.tray, []).append(c)
    last_tray = max((c.tray for c in cells), default=0)
    spares = 0
    for tray in range(last_tray + 1):
        here = by_tray.get(tray, [])
        rows = sorted({c.row for c in here}) or [edge]
        width = plan.columns
        if own_tray:
            width = max(c.col for c in here) + 1 + edge
        bottom = rows[-1]
        for row in range(rows[0] - edge, bottom + 1 + edge):
            block = max((c.block for c in here if c.row <= row), default=here[0].block)
            for col in range(width):
                if (tray, row, col) in taken:
                    continue
                is_edge = bool(edge) and (row in (rows[0] - 1, bottom + 1) or col in (0, width - 1))
                spares += not is_edge
                out.append(Cell(tray, row, col, block, BORDER if is_edge else SPARE))
    end = max((c.row for c in (*cells, *out) if c.tray == last_tray), default=0)
    for i in range(max(0, plan.spare_cells - spares)):
        out.append(
            Cell(
                last_tray,
                end + 1 + i // plan.columns,
                i % plan.columns,
                plan.drawn_blocks - 1,
                SPARE,
            )
        )
    return out


def _even_out(
    plan: Plan, dealt: dict[_Slot, int], kept: dict[_Slot, int], words: Callable[[], int]
) -> None:
    """Swap within blocks at random, and keep to the limit of every column once it is reached.

    Each swap is as likely as its way back, so that every bench within the limits is as likely as
    any other.
    """
    columns: Counter[tuple[int, int, int]] = Counter()
    total: Counter[tuple[int, int]] = Counter()
    lines: dict[int, set[int]] = {}
    for slot, arm in (dealt | kept).items():
        columns[slot.tray, slot.col, arm] += 1
        total[slot.tray, arm] += 1
        lines.setdefault(slot.tray, set()).add(slot.col)

    def most(tray: int, arm: int) -> int:
        return most_in_a_line(total[tray, arm], len(lines[tray]))

    by_block: dict[int, list[_Slot]] = {}
    for slot in dealt:
        by_block.setdefault(slot.block, []).append(slot)
    groups = [g for g in by_block.values() if len(g) > 1]
    if not groups:
        return
    slots = [(s, g) for g in groups for s in g]
    for _ in range(min(_MOST_SWAPS, _SWAPS_A_CELL * len(slots))):
        one, group = slots[_below(len(slots), words)]
        two = group[_below(len(group), words)]
        a, b = dealt[one], dealt[two]
        if a == b or one.tray != two.tray:
            continue
        if one.col != two.col:
            tray = one.tray
            # never worse than the limit, or than what the column being left holds already
            if columns[tray, two.col, a] + 1 > max(most(tray, a), columns[tray, one.col, a] - 1):
                continue
            if columns[tray, one.col, b] + 1 > max(most(tray, b), columns[tray, two.col, b] - 1):
                continue
            columns[tray, one.col, a] -= 1
            columns[tray, two.col, b] -= 1
            columns[tray, two.col, a] += 1
            columns[tray, one.col, b] += 1
        dealt[one], dealt[two] = b, a


def _below(bound: int, words: Callable[[], int]) -> int:
    limit = (1 << 64) - (1 << 64) % bound
    while True:
        word = words()
        if word < limit:
            return word % bound


def _words(seed: int, purpose: str, *legacy: int) -> Callable[[], int]:
    generator = np.random.PCG64(entropy(seed, purpose, legacy=legacy))
    return lambda: int(generator.random_raw())
