"""The rules a plan must keep, each with one sentence; and the cautions and notes it calls for."""

import unicodedata
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

from racecard.core.log.days import planned_hour, zone
from racecard.core.log.events import BY_THE_GROWER
from racecard.core.log.measures import GRADED
from racecard.core.log.stages import MOST_OWN_STEPS, stage_scale_of
from racecard.core.model import Layout, Measure, Outcome, Plan, Role, Treatment
from racecard.core.model.spelling import spelling
from racecard.core.plan.arms import MOST_ARMS
from racecard.errors import InvalidInput

MOST_CELLS = 12_000
MOST_PLANTS = 100_000
MOST_SITES = 400
NAME_LENGTH = 80
TEXT_LENGTH = 300
MOST_STEPS = 10
MOST_MINUTES = 200 * 24 * 60


@dataclass(frozen=True, slots=True)
class Fault:
    """One broken rule: JSON pointer to the value, and what is wrong and what to do."""

    pointer: str
    says: str


def faults(plan: Plan) -> tuple[Fault, ...]:
    """Every rule this plan breaks, in the order of the page."""
    return (
        *_texts(plan), *_treatments(plan), *_contrasts(plan), *_numbers(plan), *_fit(plan), *_layout(plan), *_looks(plan),
        *_on_the_way(plan),
    )  # fmt: skip


def check_plan(plan: Plan) -> None:
    """Hold a plan against every rule of a trial that can be judged.

    Args:
        plan: the plan as a grower wrote it, t treatments.

    Raises:
        InvalidInput: rules are broken; all of them at once, each with the field it stands in.
    """
    found = faults(plan)
    if found:
        raise InvalidInput.of_all([(f.pointer, f.says) for f in found])


def _texts(plan: Plan) -> Iterator[Fault]:
    for field, label in (("question", "The question"), ("material", "The plant material")):
        yield from _text(f"/{field}", label, getattr(plan, field), TEXT_LENGTH)
    yield from _text("/prior", "What is already known", plan.prior, 2000, optional=True)
    yield from _text(
        "/unequal_reason", "The reason", plan.unequal_reason, TEXT_LENGTH, optional=True
    )
    for i, override in enumerate(plan.overrides):
        yield from _text(f"/overrides/{i}/reason", "The reason", override.reason, TEXT_LENGTH)


def _text(
    pointer: str, label: str, value: str, longest: int, *, optional: bool = False
) -> Iterator[Fault]:
    if not optional and not value.strip():
        yield Fault(pointer, f"{label} is empty: say it in a few words.")
    if len(value) > longest:
        yield Fault(pointer, f"{label} has {len(value)} characters; keep it to {longest} or fewer.")
    if any(
        unicodedata.category(c) == "Cc" or c in "\u202a\u202b\u202d\u202e\u2066\u2067\u2068"
        for c in value
    ):
        yield Fault(
            pointer, f"{label} holds an invisible control character: type it again by hand."
        )


def _treatments(plan: Plan) -> Iterator[Fault]:
    n = len(plan.treatments)
    if not 2 <= n <= MOST_ARMS:
        yield Fault("/treatments", f"A trial compares 2 to {MOST_ARMS} treatments; this has {n}.")
    seen: dict[str, int] = {}
    for i, t in enumerate(plan.treatments):
        at = f"/treatments/{i}"
        yield from _text(f"{at}/name", f"The name of treatment {i + 1}", t.name, NAME_LENGTH)
        yield from _text(
            f"{at}/detail", f"The detail of treatment {i + 1}", t.detail, TEXT_LENGTH, optional=True
        )
        yield from _arm(at, i, t)
        yield from _own_number(plan, f"{at}/per_container", i)
        key = spelling(t.name)
        if key and key in seen:
            yield Fault(
                f"{at}/name",
                f"Treatments {seen[key] + 1} and {i + 1} are both called "
                f"“{t.name.strip()}”: give each a name of its own.",
            )
        seen.setdefault(key, i)
    controls = [i + 1 for i, t in enumerate(plan.treatments) if t.role is Role.CONTROL]
    if len(controls) > 1:
        said = " and ".join(str(c) for c in controls)
        yield Fault(
            f"/treatments/{controls[1] - 1}/role",
            f"Treatments {said} are all called the control: keep one as the untreated control.",
        )
    named = [i + 1 for i, t in enumerate(plan.treatments) if t.reference]
    if len(named) > 1:
        said = " and ".join(str(c) for c in named)
        yield Fault(
            f"/treatments/{named[1] - 1}/reference",
            f"Treatments {said} are both what the others are compared with: keep exactly one.",
        )
    silks = [t.silk for t in plan.treatments]
    for i, silk in enumerate(silks):
        if silk in silks[:i]:
            yield Fault(
                f"/treatments/{i}/silk",
                f"Treatments {silks.index(silk) + 1} and {i + 1} wear the "
                "same silk: choose another for one of them.",
            )


def _own_number(plan: Plan, at: str, i: int) -> Iterator[Fault]:
    """Plants per container of one treatment, where it has a number of its own."""
    own = plan.treatments[i].per_container
    if own is None or own == plan.per_container:
        return
    if not 1 <= own <= 200:
        yield Fault(at, f"Plants per container of treatment {i + 1} must be 1 to 200, got {own}.")
    elif plan.per_container == 1:
        yield Fault(
            at,
            "Give every container more than one plant first: a single plant is looked at, not counted.",
        )
    elif plan.blind:
        yield Fault(
            at,
            "The number in a container would give its treatment away: score it openly, or set the same number in all.",
        )


def _arm(at: str, i: int, t: Treatment) -> Iterator[Fault]:
    if len(t.steps) > MOST_STEPS:
        yield Fault(
            f"{at}/steps",
            f"Treatment {i + 1} has {len(t.steps)} soaks and dips; keep it to {MOST_STEPS}.",
        )
    for name, minutes in t.steps:
        yield from _text(f"{at}/steps", f"A soak or dip of treatment {i + 1}", name, NAME_LENGTH)
        if not 0 < minutes <= MOST_MINUTES:
            yield Fault(
                f"{at}/steps",
                f"A soak or dip must last more than 0 and at most 200 days, got {minutes:g} min.",
            )
    if t.units is not None and not 1 <= t.units <= 5000:
        yield Fault(f"{at}/units", f"Units of treatment {i + 1} must be 1 to 5000, got {t.units}.")
    if t.prediction is not None and not 0 <= t.prediction <= 100:
        yield Fault(
            f"{at}/prediction",
            f"The prediction for treatment {i + 1} must be 0 to 100 %, got {t.prediction:g}.",
        )
    if t.per_stem is not None and not 0 < t.per_stem <= 1000:
        yield Fault(
            f"{at}/per_stem",
            f"Cuttings from one stem must be above 0 and at most 1000, got {t.per_stem:g}.",
        )
    for name, value in t.properties:
        yield from _text(f"{at}/properties", f"A property of treatment {i + 1}", name, NAME_LENGTH)
        yield from _text(
            f"{at}/properties",
            f"The {name} of treatment {i + 1}",
            value,
            NAME_LENGTH,
            optional=True,
        )


_JOBS = frozenset(e.code for e in BY_THE_GROWER)

_RANGES = (
    ("units", 1, 5000, "Units of each treatment"),
    ("per_container", 1, 200, "Plants in a container"),
    ("blocks", 1, 500, "Blocks"),
    ("columns", 2, 60, "Columns of the tray"),
    ("tray_rows", 1, 60, "Rows of the tray"),
    ("spare_cells", 0, 1000, "Spare cells"),
    ("length_days", 1, 730, "The last day"),
    ("look_every_days", 1, 730, "Days between looks"),
    ("threshold_mm", 0.5, 100, "The root length that counts"),
    ("rooted_score", 1, 5, "The lowest root score that counts as rooted"),
    ("gap_points", 1, 100, "The smallest difference that matters"),
    ("gap_days", 0.5, 365, "The smallest difference that matters"),
    ("gap_score", 0.1, 5000, "The smallest difference that matters"),
    ("expected_percent", 0, 100, "The usual rate of the control"),
    ("expected_days", 1, 730, "The days the control usually takes"),
    ("expected_score", 0, 5000, "The score the control usually has"),
    ("usual_spread", 0, 5000, "The usual spread between plants"),
    ("icc", 0, 0.9, "How alike plants of one container are"),
    ("pair_correlation", 0, 1, "How alike the two of a pair are"),
    ("germination_percent", 1, 100, "The label germination"),
    ("mother_plants", 1, 10_000, "The number of mother plants"),
    ("pot_ml", 0, 1_000_000, "The medium in a pot"),
    ("dip_ml", 0, 1_000_000, "The dip for a treatment"),
    ("unit_seconds", 0, 86_400, "The seconds one unit takes"),
)


def _graded(plan: Plan) -> Iterator[Fault]:
    """A measure the trial is judged on, with its usual value and gap in its own unit."""
    if not plan.graded_by:
        if plan.expected_score > 5:
            yield Fault("/expected_score", "The score the control usually has must be 0 to 5.")
        if plan.gap_score > 5:
            yield Fault("/gap_score", "The smallest difference that matters must be at most 5.")
        return
    graded = GRADED.get(plan.graded_by)
    if graded is None:
        known = ", ".join(GRADED)
        yield Fault("/graded_by", f"A trial is judged on one of {known}; got {plan.graded_by!r}.")
        return
    if Measure.QUALITY not in (plan.measure, *plan.secondary):
        yield Fault("/graded_by", "A measure is compared only where the trial is judged on one.")
    most = graded.field.most
    for at, value in (("expected_score", plan.expected_score), ("gap_score", plan.gap_score)):
        if value > most:
            yield Fault(
                f"/{at}", f"{graded.field.label} can be at most {graded.said(most)}, got {value:g}."
            )
    if plan.expected_score <= 0:
        yield Fault(
            "/expected_score", f"Enter the usual value of the control ({graded.word}), above 0."
        )


def _on_the_way(plan: Plan) -> Iterator[Fault]:
    """Sample lifts and other work by day."""
    days = [d for d, _ in plan.sample_lifts]
    if len(set(days)) < len(days):
        yield Fault("/sample_lifts", "Two lifts stand on one day: make them one.")
    for day, each in plan.sample_lifts:
        if not 1 <= day < plan.length_days:
            yield Fault(
                "/sample_lifts",
                f"A sample lift is between day 1 and day {plan.length_days - 1}, got {day}.",
            )
        if each < 1:
            yield Fault("/sample_lifts", f"Lift at least one of each treatment, got {each}.")
    taken = sum(each for _, each in plan.sample_lifts)
    least = min(plan.units_of, default=0)
    if taken and taken >= least:
        yield Fault(
            "/sample_lifts",
            f"Sample lifts take {taken} of each treatment, which has {least}: leave some for the end.",
        )
    if plan.sample_lifts and plan.per_container > 1:
        yield Fault(
            "/sample_lifts",
            "Sample lifts need one plant per unit.",
        )
    for what, day in plan.jobs:
        if what not in _JOBS:
            yield Fault("/jobs", f"{what!r} is not a job on the list.")
        if not 0 <= day <= plan.length_days:
            yield Fault(
                "/jobs", f"Planned jobs are between day 0 and day {plan.length_days}, got {day}."
            )


def _also_counted(plan: Plan) -> Iterator[Fault]:
    """Stages counted beside the endpoint: of the scale, in containers of many."""
    if not plan.also_counted:
        return
    codes = [s.code for s in stage_scale_of(plan).stages if s.code > 0]
    if plan.per_container == 1:
        yield Fault("/also_counted", "A single plant is looked at: all its stages are kept anyway.")
    elif plan.endpoint in plan.also_counted or len(set(plan.also_counted)) < len(plan.also_counted):
        yield Fault(
            "/also_counted",
            "Count each stage once; the one that counts as success is counted anyway.",
        )
    elif not set(plan.also_counted) <= set(codes):
        yield Fault(
            "/also_counted",
            f"Stages beside the endpoint are of {codes}, got {list(plan.also_counted)}.",
        )


def _numbers(plan: Plan) -> Iterator[Fault]:
    for field, low, high, label in _RANGES:
        value = getattr(plan, field)
        if not low <= value <= high:
            yield Fault(f"/{field}", f"{label} must be {low:g} to {high:g}, got {value:g}.")
    try:
        planned_hour(plan)
    except InvalidInput as exc:
        yield Fault(exc.pointer, exc.detail)


def _fit(plan: Plan) -> Iterator[Fault]:
    fewest = min((u for u in plan.units_of if u >= 1), default=0)
    by_hand = plan.layout is Layout.BY_HAND  # its blocks are not drawn, so they bind nothing
    if not plan.is_paired and not by_hand and plan.blocks > fewest >= 1:
        yield Fault(
            "/blocks",
            f"{plan.blocks} blocks need at least {plan.blocks} units of each treatment, "
            f"this plan has {fewest}: fewer blocks, or more units.",
        )
    cells = sum(plan.units_of)
    if cells > MOST_CELLS:
        yield Fault(
            "/units",
            f"{cells} containers are more than the {MOST_CELLS} one trial holds: "
            "set fewer of each treatment.",
        )
    elif plan.plants > MOST_PLANTS:
        yield Fault(
            "/per_container",
            f"{plan.plants} plants are more than the {MOST_PLANTS} one trial holds: "
            "set fewer in each.",
        )
    yield from _outcome(plan)
    yield from _also_counted(plan)
    try:
        zone(plan.time_zone)
    except InvalidInput as exc:
        yield Fault("/time_zone", exc.detail)


def _contrasts(plan: Plan) -> Iterator[Fault]:
    """Groups of treatments that are to be compared: each named, and in one group alone."""
    known = {t.name.strip() for t in plan.treatments}
    for i, c in enumerate(plan.contrasts):
        one, zero = ({n.strip() for n in group} for group in (c.one, c.zero))
        at = f"/contrasts/{i}"
        if not one or not zero:
            yield Fault(at, "Each of the two groups needs a treatment.")
        if both := sorted(one & zero):
            yield Fault(at, f"{both[0]} stands in both groups: leave it in one.")
        for name in sorted((one | zero) - known):
            yield Fault(at, f"No treatment is called “{name[:60]}”: choose the groups again.")


def _outcome(plan: Plan) -> Iterator[Fault]:
    """What is watched for, its steps, and which of them counts."""
    is_own = plan.outcome is Outcome.OWN
    steps = [s.strip().casefold() for s in plan.own_steps]
    if is_own and not 2 <= len(steps) <= MOST_OWN_STEPS:
        yield Fault(
            "/own_steps",
            f"Name 2 to {MOST_OWN_STEPS} steps, the first for no change; there are {len(steps)}.",
        )
        return
    for step in plan.own_steps if is_own else ():
        yield from _text("/own_steps", "The name of a step", step, 40)
    if is_own and len(set(steps)) < len(steps):
        yield Fault("/own_steps", "Two steps have the same name: give each a name of its own.")
    if not is_own and steps:
        yield Fault("/own_steps", "Steps of your own need “my own steps” as what is watched for.")
    yield from _graded(plan)
    if plan.measure is Measure.QUALITY and plan.outcome in _NO_ROOTS and not plan.graded_by:
        yield Fault(
            "/measure",
            "A root score says nothing of a shoot, a bloom or a step of your own: judge how many or how soon.",
        )
    ladder = stage_scale_of(plan)
    if plan.endpoint not in ladder.endpoints:
        known = ", ".join(str(e) for e in ladder.endpoints)
        yield Fault(
            "/endpoint",
            f"For {plan.kind.value}s the endpoint must be stage {known}, got {plan.endpoint}.",
        )


_NO_ROOTS = (Outcome.SHOOT, Outcome.BLOOM, Outcome.OWN)


def _layout(plan: Plan) -> Iterator[Fault]:
    arms = len(plan.treatments)
    if plan.is_paired and arms != 2:
        yield Fault(
            "/layout",
            f"A pair is one of each of two treatments, this plan has {arms}: "
            "compare two, or lay out blocks.",
        )
    is_unequal = len(set(plan.units_of)) > 1
    if is_unequal and plan.is_paired:
        yield Fault("/layout", "In pairs every treatment has the same number: set them alike.")
    elif is_unequal and not plan.unequal_reason.strip():
        yield Fault(
            "/unequal_reason",
            "The treatments have unequal numbers, which shows less with as much work: "
            "say why, or set them alike.",
        )
    trays = {Layout.SITES: plan.units, Layout.SPLIT: plan.blocks}.get(plan.layout, 0)
    if trays > MOST_SITES:
        yield Fault(
            "/units" if plan.layout is Layout.SITES else "/blocks",
            f"{trays} sites or split containers are more than the {MOST_SITES} one trial draws: "
            "set fewer.",
        )
    if plan.border and (plan.columns < 3 or plan.tray_rows < 3):
        yield Fault(
            "/border", "A border takes the edge of the tray: it needs 3 rows and 3 columns or more."
        )
    if plan.layout is Layout.SPLIT and plan.blocks < 2:
        yield Fault(
            "/blocks", "Split containers need at least two containers: give their number as blocks."
        )
    for i, name in enumerate((*plan.tray_names, *plan.sides)):
        where = "/tray_names" if i < len(plan.tray_names) else "/sides"
        yield from _text(where, "A name on the bench", name, NAME_LENGTH, optional=True)


def _looks(plan: Plan) -> Iterator[Fault]:
    if not plan.look_days:
        if plan.look_every_days > plan.length_days:
            yield Fault(
                "/look_every_days",
                f"A look every {plan.look_every_days} days never comes before the "
                f"last day, {plan.length_days}: look more often, or end later.",
            )
        return
    if any(b <= a for a, b in pairwise(plan.look_days)):
        yield Fault("/look_days", "The look days must rise: write each once, the earliest first.")
    elif plan.look_days[0] < 1:
        yield Fault(
            "/look_days", f"A look on day {plan.look_days[0]} is before the first: begin at 1."
        )
    elif plan.look_days[-1] > plan.length_days:
        yield Fault(
            "/look_days",
            f"A look on day {plan.look_days[-1]} comes after the last day, {plan.length_days}: "
            "end later, or leave it out.",
        )
