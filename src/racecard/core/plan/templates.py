"""Where a plan begins: by what is compared, and by wood stage or crop.

Lengths, looks and thresholds are common practice (times to root by wood stage, days to the final
count by crop); every one can be changed on the page.
"""

from dataclasses import dataclass, replace

from racecard.core.log.stages import ladder_for
from racecard.core.model import (
    Agent,
    Carrier,
    Day0,
    Kind,
    Layout,
    Outcome,
    Plan,
    Role,
    Subject,
    Treatment,
    UnitLevel,
)


@dataclass(frozen=True, slots=True)
class UsualCourse:
    """A wood stage or crop: how long the trial runs, when looks begin, how often, and until when.

    Days; `middle_day` is when half of those that strike usually have; `percent` what an untreated
    control usually strikes where that makes a trial worth while.
    """

    id: str
    name: str
    kind: Kind
    length_days: int
    first_look: int
    every_days: int
    middle_day: float
    percent: float = 50.0
    day0: Day0 = Day0.STICKING


_C, _S = Kind.CUTTING, Kind.SEED
STAGES = (
    UsualCourse("herbaceous", "Herbaceous tips", _C, 28, 5, 2, 13, 60),
    UsualCourse("softwood", "Softwood", _C, 42, 9, 3, 24, 50),
    UsualCourse("semi-ripe", "Semi-ripe", _C, 84, 21, 7, 49, 50),
    UsualCourse("hardwood", "Hardwood, leafless", _C, 112, 28, 7, 70, 50),
    UsualCourse("evergreen", "Evergreen hardwood or conifer", _C, 168, 42, 14, 105, 50),
    UsualCourse("leaf-bud", "Leaf-bud or single node", _C, 70, 21, 7, 45, 50),
    UsualCourse("leaf", "Leaf", _C, 42, 10, 4, 26, 50),
    UsualCourse("root", "Root cuttings", _C, 70, 21, 7, 42, 60),
    UsualCourse("fast-seed", "Fast seed (lettuce, radish, cabbage)", _S, 10, 2, 1, 4, 60, Day0.SOWING),
    UsualCourse("seed", "Garden seed (pea, bean, beet, carrot)", _S, 21, 4, 2, 9, 60, Day0.SOWING),
    UsualCourse("slow-seed", "Slow seed (parsley, celery, spinach)", _S, 28, 7, 2, 15, 60, Day0.SOWING),
    UsualCourse("hard-seed", "Hard-coated seed (sweet pea, acacia)", _S, 28, 6, 2, 13, 40, Day0.SOWING),
    UsualCourse("bulb", "Bulbs, scales or divisions", _C, 84, 21, 7, 45, 60),
)  # fmt: skip


_USUAL = ("semi-ripe", "seed")


@dataclass(frozen=True, slots=True)
class Template:
    """What is compared, what it asks, what is said once, and the arms it begins with."""

    subject: Subject
    name: str
    asks: str
    says: str
    stages: tuple[str, ...]
    arms: tuple[Treatment, ...]
    blind: bool = True
    level: UnitLevel = UnitLevel.PROPAGULE
    per_container: int = 1
    units: int = 24
    blocks: int = 4
    endpoint: int | None = None


def _control(name: str, *properties: tuple[str, str], detail: str = "nothing") -> Treatment:
    return Treatment("", name, Role.CONTROL, detail, properties=properties)


def _other(
    name: str,
    *properties: tuple[str, str],
    role: Role = Role.CANDIDATE,
    agent: Agent = Agent.OTHER,
    carrier: Carrier = Carrier.NONE,
    silk: str = "hoops",
    detail: str = "",
) -> Treatment:
    return Treatment("", name, role, detail, agent, carrier, silk, properties=properties)


_CUTTINGS = tuple(s.id for s in STAGES if s.kind is _C and s.id != "bulb")
_SEEDS = tuple(s.id for s in STAGES if s.kind is _S)
TEMPLATES = (
    Template(
        Subject.HORMONE, "Rooting hormone or other product",
        "Does it make more of them strike, and at which dose?",
        "Two controls tell the hormone from what carries it: untreated, and the carrier alone.",
        _CUTTINGS,
        (
            _control("Untreated"),
            _other("Alcohol dip only", ("carrier", "50 % alcohol"), role=Role.CARRIER,
                   agent=Agent.NOTHING, carrier=Carrier.ALCOHOL, silk="halves", detail="bases 5 s"),
            _other("IBA 1000 ppm", ("active", "IBA"), ("strength", "1000 ppm"),
                   ("carrier", "50 % alcohol"), agent=Agent.HORMONE, carrier=Carrier.ALCOHOL,
                   detail="in 50 % alcohol, bases 5 s"),
        ),
    ),
    Template(
        Subject.CUTTING_TYPE, "Type of cutting",
        "Does another cut or wood stage strike better than the usual one?",
        "The usual cutting is the standard and what the others are compared with. What was cut can "
        "be seen, so scoring cannot be blind.",
        _CUTTINGS,
        (
            replace(_other("The usual cutting", ("type", "tip"), role=Role.STANDARD,
                           agent=Agent.NOTHING, silk="plain"), per_stem=1.0),
            replace(_other("Another cutting", ("type", "nodal"), agent=Agent.NOTHING), per_stem=2.0),
        ),
        blind=False,
    ),
    Template(
        Subject.SEED_TREATMENT, "Seed soak or other seed treatment",
        "Does it bring more up than sowing as the seed is?",
        "A soak is a treatment even in plain water: the same wetting goes to all, or is what is asked.",
        _SEEDS,
        (
            _control("Sown dry", ("wetting", "dry")),
            _other("Soaked overnight", ("wetting", "12 h in water"), carrier=Carrier.NONE),
        ),
        level=UnitLevel.CONTAINER, per_container=10, units=8,
    ),
    Template(
        Subject.CONDITION, "Warmth, light or cover",
        "Do they do better warmer, lighter or covered?",
        "One heat mat, fridge or shelf a treatment is one unit a treatment, however many pots stand "
        "on it: set several of each, or move the pots between rounds.",
        (*_SEEDS, *_CUTTINGS),
        (
            _control("As usual", ("temperature", "18 °C"), detail="18 °C"),
            _other("Warmer", ("temperature", "24 °C"), agent=Agent.NOTHING, detail="24 °C"),
        ),
        blind=False, level=UnitLevel.PLACE, per_container=20, units=4, blocks=1,
    ),
    Template(
        Subject.MEDIUM, "Growing medium",
        "Does another mixture do better than the usual one?",
        "Fill, press and water all pots alike; the medium can be seen, so ask another to score.",
        (*_CUTTINGS, *_SEEDS),
        (
            _control("Usual mixture", ("medium", "1 peat : 1 perlite"), detail="1 peat : 1 perlite"),
            _other("All perlite", ("medium", "perlite"), agent=Agent.NOTHING, detail="perlite"),
        ),
        blind=False,
    ),
    Template(
        Subject.CONTAINER, "Container",
        "Does the pot, cell or jar make a difference?",
        "A jar shared by several cuttings is one unit; keep depth, light and number in each alike.",
        _CUTTINGS,
        (
            _control("In a pot of medium", ("container", "pot of medium")),
            _other("In a jar of water", ("container", "jar of water"), agent=Agent.NOTHING),
        ),
        blind=False, level=UnitLevel.CONTAINER, per_container=3, units=8, blocks=2,
    ),
    Template(
        Subject.DIVISION, "Bulb, scale or division",
        "Does the way it is divided or dressed make more of them grow on?",
        "Assign pieces of each size evenly: a large piece has more reserves.",
        ("bulb",),
        (
            _control("As usual"),
            _other("Dusted with sulphur", ("active", "sulphur"), agent=Agent.OTHER),
        ),
    ),
    Template(
        Subject.GROWTH, "Growth after rooting",
        "Do more of them reach a plantable size?",
        "Compared at equal ages only, and counted as plantable or not by the last day.",
        (*_CUTTINGS, *_SEEDS),
        (
            _control("As usual"),
            _other("Fed weekly", ("handling", "fed weekly"), agent=Agent.OTHER),
        ),
        endpoint=-1,
    ),
)  # fmt: skip


def template(subject: Subject) -> Template:
    """The template of what is compared."""
    return next(t for t in TEMPLATES if t.subject is subject)


def begin(subject: Subject, stage_id: str = "", time_zone: str = "UTC") -> Plan:
    """A draft to begin with; its texts are empty and to be filled.

    Args:
        subject: what is compared.
        stage_id: wood stage or crop; the usual one where the template knows none of this id.
        time_zone: of the trial.
    """
    t = template(subject)
    usual = next((i for i in _USUAL if i in t.stages), t.stages[0])
    s = next(s for s in STAGES if s.id == (stage_id if stage_id in t.stages else usual))
    outcome = Outcome.BULB if s.id == "bulb" else Outcome.USUAL
    ladder_top = {Kind.CUTTING: 7, Kind.SEED: 5}[s.kind]
    usual_endpoint = ladder_for(s.kind, outcome).default_endpoint
    endpoint = ladder_top if t.endpoint == -1 and outcome is Outcome.USUAL else usual_endpoint
    return Plan(
        question="", material="", kind=s.kind, treatments=tuple(_without_examples(a) for a in t.arms), units=t.units,
        per_container=t.per_container, blocks=t.blocks, columns=12, endpoint=endpoint, outcome=outcome,
        threshold_mm=10.0 if s.kind is Kind.CUTTING else 2.0, length_days=s.length_days,
        look_every_days=s.every_days, look_days=_looks(s), expected_percent=s.percent,
        expected_days=s.middle_day, gap_days=max(1.0, round(s.middle_day / 5)),
        time_zone=time_zone, day0=s.day0, subject=subject, level=t.level,
        layout=Layout.BLOCKS,
    )  # fmt: skip


def _without_examples(arm: Treatment) -> Treatment:
    """An arm of a template with its properties named and left open: an example is not what was done."""
    return replace(arm, detail="", properties=tuple((name, "") for name, _ in arm.properties))


def examples(subject: Subject) -> dict[str, str]:
    """An example of each property a template names, to be shown and never stored."""
    return {name: value for arm in template(subject).arms for name, value in arm.properties}


def _looks(s: UsualCourse) -> tuple[int, ...]:
    """Every so many days from the first look on, and the last day."""
    return (*range(s.first_look, s.length_days, s.every_days), s.length_days)


def usual_percent(stage: str, kind: str) -> float:
    """What an untreated control usually reaches in percent, by wood stage or kind of material.

    Args:
        stage: wood stage or kind of material, by its id.
        kind: "cutting" or "seed".
    """
    for known in STAGES:
        if known.id == stage:
            return known.percent
    return 60.0 if kind == Kind.SEED else 50.0
