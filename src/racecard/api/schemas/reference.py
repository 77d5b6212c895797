"""What never changes over HTTP: drawings, silks, ladders, methods."""

from racecard.api.schemas.base import Out
from racecard.core.conditions.reading import QUANTITIES
from racecard.core.log.events import BY_THE_GROWER, EVENTS
from racecard.core.log.fields import Trait
from racecard.core.log.lift import PARTS, REACHED_MM, SCORE_NEEDS, SCORE_WORDS
from racecard.core.log.measures import GRADED, HARM_WORDS, HARMS, TRAITS
from racecard.core.log.stages import ladder_for
from racecard.core.model import Kind, Outcome
from racecard.core.model.drawings import SILKS, STAGES, Shape
from racecard.core.text.glossary import TERMS
from racecard.core.text.methods import METHODS, Method


class ShapeOut(Out):
    """One path: SVG `d`, tones of fill and stroke, width of the stroke."""

    d: str
    fill: str
    stroke: str
    width: float


class SilkOut(Out):
    """A silk: pattern on a 32 x 32 square, two colours."""

    id: str
    name: str
    ground: str
    ink: str
    shapes: list[ShapeOut]


class KeyOut(Out):
    """A stage or an exit as a key: what it is called, what to look for, which key."""

    code: int | None
    cause: str | None
    name: str
    look_for: str
    key: str
    drawing: str


class MethodOut(Out):
    """What stands behind a figure."""

    id: str
    name: str
    says: str
    sum: str
    source: str

    @classmethod
    def from_core(cls, m: Method) -> "MethodOut":
        return cls(id=m.id, name=m.name, says=m.says, sum=m.sum, source=m.source)


class LadderOut(Out):
    """The ladder of one kind."""

    kind: Kind
    outcome: Outcome
    stages: list[KeyOut]
    exits: list[KeyOut]
    endpoints: list[int]
    default_endpoint: int


class EventOut(Out):
    """One event of the short list; `amount`: unit of the number that may go with it, and its bounds."""

    code: str
    name: str
    amount: str
    least: float
    most: float
    is_whole: bool
    by_hand: bool


class UnitOf(Out):
    """A unit of the grower's, and the factor to the kept one."""

    name: str
    factor: float


class TraitOut(Out):
    """One thing that may be measured, or a sign of harm. `usual`, `gap`: what a plan judged on it
    begins with; None where none can be.
    """

    name: str
    label: str
    unit: str
    most: float
    units: list[UnitOf]
    is_whole: bool
    drawing: str
    usual: float | None
    gap: float | None


class PartOut(Out):
    """One field of the lift form; `choices` are words for 0, 1, 2 and so on."""

    name: str
    label: str
    unit: str
    most: float
    choices: list[str]
    is_whole: bool


class QuantityOut(Out):
    """One condition that may be read."""

    name: str
    label: str
    unit: str
    units: list[str]


class TermOut(Out):
    """A word of the page with its meaning in one line."""

    name: str
    meaning: str
    group: str


class ReferenceOut(Out):
    """Everything that is drawn and every key."""

    silks: list[SilkOut]
    stages: dict[str, list[ShapeOut]]
    ladders: list[LadderOut]
    methods: list[MethodOut]
    events: list[EventOut]
    traits: list[TraitOut]
    judged: list[TraitOut]
    """What a trial may be judged on beside the root score."""
    harms: list[TraitOut]
    harm_words: list[str]
    parts: list[PartOut]
    score_words: list[str]
    score_needs: list[dict[str, float]]
    reached_mm: float
    quantities: list[QuantityOut]
    terms: list[TermOut]

    @classmethod
    def of_core(cls) -> "ReferenceOut":
        """Everything, from the tables of the core."""
        return cls(
            silks=[
                SilkOut(id=s.id, name=s.name, ground=s.ground, ink=s.ink, shapes=_shapes(s.shapes))
                for s in SILKS
            ],
            stages={name: _shapes(shapes) for name, shapes in STAGES.items()},
            ladders=[_ladder(kind, outcome) for kind in Kind for outcome in Outcome],
            methods=[MethodOut.from_core(m) for m in METHODS.values()],
            events=[
                EventOut(
                    code=e.code, name=e.name, amount=e.amount, by_hand=e in BY_THE_GROWER,
                    least=e.bounds[0], most=e.bounds[1], is_whole=e.is_whole,
                )
                for e in EVENTS
            ],
            traits=[_trait(t) for t in TRAITS],
            judged=[_trait(g.field) for g in GRADED.values()],
            harms=[_trait(t) for t in HARMS],
            harm_words=list(HARM_WORDS),
            terms=[TermOut(name=t.name, meaning=t.meaning, group=t.group) for t in TERMS],
            parts=[
                PartOut(name=p.name, label=p.label, unit=p.unit, most=p.most, choices=list(p.choices),
                        is_whole=p.is_whole)
                for p in PARTS
            ],
            score_words=list(SCORE_WORDS),
            score_needs=list(SCORE_NEEDS),
            reached_mm=REACHED_MM,
            quantities=[
                QuantityOut(name=q.name, label=q.label, unit=q.unit, units=list(q.units))
                for q in QUANTITIES
            ],
        )  # fmt: skip


def _trait(t: Trait) -> TraitOut:
    units = [UnitOf(name=name, factor=factor) for name, factor in t.units]
    graded = GRADED.get(t.name)
    return TraitOut(
        name=t.name, label=t.label, unit=t.unit, most=t.most, units=units, is_whole=t.is_whole,
        drawing=t.drawing, usual=graded.usual if graded else None, gap=graded.gap if graded else None,
    )  # fmt: skip


def _shapes(shapes: tuple[Shape, ...]) -> list[ShapeOut]:
    return [ShapeOut(d=s.d, fill=s.fill, stroke=s.stroke, width=s.width) for s in shapes]


def _ladder(kind: Kind, outcome: Outcome) -> LadderOut:
    ladder = ladder_for(kind, outcome)
    return LadderOut(
        kind=kind,
        outcome=outcome,
        stages=[
            KeyOut(
                code=s.code,
                cause=None,
                name=s.name,
                look_for=s.look_for,
                key=s.key,
                drawing=s.drawing,
            )
            for s in ladder.stages
        ],
        exits=[
            KeyOut(
                code=None,
                cause=e.cause,
                name=e.name,
                look_for=e.look_for,
                key=e.key,
                drawing=e.drawing,
            )
            for e in ladder.exits
        ],
        endpoints=list(ladder.endpoints),
        default_endpoint=ladder.default_endpoint,
    )
