"""What never changes: drawings, silks, ladders, methods."""

from fastapi import APIRouter

from racecard.api.schemas.base import Out
from racecard.core.drawings import SILKS, STAGES, Shape
from racecard.core.finish.methods import METHODS, Method
from racecard.core.log.stages import ladder_for
from racecard.core.model import Kind

router = APIRouter(prefix="/api", tags=["reference"])


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
    stages: list[KeyOut]
    exits: list[KeyOut]
    endpoints: list[int]
    default_endpoint: int


class ReferenceOut(Out):
    """Everything that is drawn and every key."""

    silks: list[SilkOut]
    stages: dict[str, list[ShapeOut]]
    ladders: list[LadderOut]
    methods: list[MethodOut]


@router.get("/reference", operation_id="get_reference")
def get_reference() -> ReferenceOut:
    """Silks, stage drawings, ladders and methods; the same for every trial."""
    return ReferenceOut(
        silks=[
            SilkOut(id=s.id, name=s.name, ground=s.ground, ink=s.ink, shapes=_shapes(s.shapes))
            for s in SILKS
        ],
        stages={name: _shapes(shapes) for name, shapes in STAGES.items()},
        ladders=[_ladder(kind) for kind in Kind],
        methods=[MethodOut.from_core(m) for m in METHODS.values()],
    )


def _shapes(shapes: tuple[Shape, ...]) -> list[ShapeOut]:
    return [ShapeOut(d=s.d, fill=s.fill, stroke=s.stroke, width=s.width) for s in shapes]


def _ladder(kind: Kind) -> LadderOut:
    ladder = ladder_for(kind)
    return LadderOut(
        kind=kind,
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
