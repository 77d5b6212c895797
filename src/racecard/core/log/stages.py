"""The stage ladders for cuttings and for seeds, with their exits.

One description of each stage serves the key panel, the tray, the legend and the finish. `code`
orders the ladder; `key` is what is pressed; `drawing` names the picture drawn for it.
Ladders: common practice in rooting and seed-testing work, own wording.
"""

from dataclasses import dataclass

from racecard.core.model import Kind
from racecard.errors import InvalidInput


@dataclass(frozen=True, slots=True)
class Stage:
    """One rung: what it is called, what to look for, which key says it."""

    code: int
    name: str
    look_for: str
    key: str
    drawing: str


@dataclass(frozen=True, slots=True)
class Exit:
    """A way to leave the bench: lost with a cause, or removed on purpose."""

    cause: str
    name: str
    look_for: str
    key: str
    drawing: str


@dataclass(frozen=True, slots=True)
class Ladder:
    """The stages and exits of one kind of propagule, with its default endpoint."""

    kind: Kind
    stages: tuple[Stage, ...]
    exits: tuple[Exit, ...]
    endpoints: tuple[int, ...]
    default_endpoint: int

    def stage(self, code: int) -> Stage:
        """The stage with this code; InvalidInput where the ladder has none."""
        for stage in self.stages:
            if stage.code == code:
                return stage
        known = ", ".join(str(s.code) for s in self.stages)
        raise InvalidInput(f"stage must be one of {known}, got {code}", "/stage")

    @property
    def causes(self) -> tuple[str, ...]:
        """Causes of loss, "removed" not among them."""
        return tuple(e.cause for e in self.exits if e.cause != "removed")


_CUTTING = Ladder(
    kind=Kind.CUTTING,
    stages=(
        Stage(1, "No change", "green, firm, no change", "1", "settled"),
        Stage(2, "Swollen", "thicker base, bark may split", "2", "swollen"),
        Stage(3, "Callus", "pale tissue, half the rim or more", "3", "callus"),
        Stage(4, "Bulges", "bumps breaking the stem", "4", "bulges"),
        Stage(5, "First root", "one root of 2 mm or more", "5", "root"),
        Stage(6, "Rooted", "one root of 10 mm or three of 5 mm", "6", "rooted"),
        Stage(7, "Plantable", "root ball holds when lifted", "7", "plantable"),
    ),
    exits=(
        Exit("rotted", "Rotted", "dark, soft, smells", "8", "rotted"),
        Exit("dried", "Dried", "brittle, leaves crisp", "9", "dried"),
        Exit("damaged", "Damaged", "broken, eaten, knocked out", "0", "damaged"),
        Exit("mouldy", "Mouldy", "fungus over leaf or stem", "m", "mouldy"),
        Exit("unknown", "Cause unknown", "gone or dead, no clear cause", "u", "unknown"),
        Exit("removed", "Removed", "on purpose: a sample, a gift", "x", "removed"),
    ),
    endpoints=(5, 6, 7),
    default_endpoint=6,
)
_SEED = Ladder(
    kind=Kind.SEED,
    stages=(
        Stage(0, "No change", "still as sown", "0", "dry"),
        Stage(1, "Swollen", "visibly taken up water", "1", "imbibed"),
        Stage(2, "Root tip out", "root tip of 2 mm or more", "2", "radicle"),
        Stage(3, "Emerged", "hook or leaf above the surface", "3", "emerged"),
        Stage(4, "Seed leaves open", "flat and free of the coat", "4", "cotyledons"),
        Stage(5, "First true leaf", "10 mm, or half a seed leaf", "5", "trueleaf"),
        Stage(6, "Plantable", "two to four true leaves", "6", "plantable-seed"),
    ),
    exits=(
        Exit("damaged", "Damaged", "eaten, broken, knocked out", "7", "damaged"),
        Exit("mouldy", "Mouldy", "fungus over it, soft, not up", "8", "mould"),
        Exit("damped off", "Damped off", "fallen over, thread-thin collar", "9", "damped"),
        Exit("rotted", "Rotted", "soft, liquid inside when pressed", "r", "mould"),
        Exit("dried", "Dried", "shrivelled after it had started", "d", "unknown"),
        Exit("unknown", "Cause unknown", "gone or dead, no clear cause", "u", "unknown"),
        Exit("removed", "Removed", "on purpose: a sample, a gift", "x", "removed"),
    ),
    endpoints=(2, 3, 4, 5),
    default_endpoint=3,
)


def ladder_for(kind: Kind) -> Ladder:
    """The ladder of stages and exits for cuttings or for seeds."""
    return _CUTTING if kind is Kind.CUTTING else _SEED


def endpoint_name(kind: Kind, endpoint: int, threshold_mm: float) -> str:
    """How the endpoint is said in a sentence, with the trial's own threshold where it has one."""
    stage = ladder_for(kind).stage(endpoint)
    if kind is Kind.CUTTING and endpoint == 6:
        half = f"{threshold_mm / 2:g}"
        return f"rooted (a root of {threshold_mm:g} mm or more, or three of {half} mm)"
    if kind is Kind.SEED and endpoint == 2:
        return f"radicle out ({threshold_mm:g} mm or more)"
    return stage.name.lower()
