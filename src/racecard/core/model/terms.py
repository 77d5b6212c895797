"""The words of the job that a plan chooses among."""

from enum import StrEnum


class Kind(StrEnum):
    """What is propagated; decides the stage ladder."""

    CUTTING = "cutting"
    SEED = "seed"


class Outcome(StrEnum):
    """What is watched for: the usual roots or seedlings, or something else; decides the stages.

    `own`: the grower names the steps.
    """

    USUAL = "usual"
    SHOOT = "shoot"
    BLOOM = "bloom"
    BULB = "bulb"
    OWN = "own"


class Subject(StrEnum):
    """What is compared; decides the template and what must be said of it."""

    HORMONE = "hormone"
    CUTTING_TYPE = "cutting type"
    SEED_TREATMENT = "seed treatment"
    CONDITION = "condition"
    MEDIUM = "medium"
    CONTAINER = "container"
    DIVISION = "division"
    GROWTH = "growth"


class Measure(StrEnum):
    """What a trial is judged on: how many strike, how soon, or how good the roots are."""

    STRIKE = "strike"
    SPEED = "speed"
    QUALITY = "quality"


class UnitLevel(StrEnum):
    """The thing that is treated and given its place by lot: the unit."""

    PROPAGULE = "propagule"
    CONTAINER = "container"
    TRAY = "tray"
    PLACE = "place"
    SITE = "site"


class Layout(StrEnum):
    """How the lot is drawn. In blocks of one it is drawn over all positions."""

    BLOCKS = "blocks"
    PAIRS = "pairs"
    SITES = "sites"
    ROW_COLUMN = "row and column"
    SPLIT = "split"
    BY_HAND = "by hand"


class Role(StrEnum):
    """What a treatment is in the trial. Carrier, positive and negative controls are checks."""

    CONTROL = "control"
    CARRIER = "carrier"
    POSITIVE = "positive"
    NEGATIVE = "negative"
    STANDARD = "standard"
    CANDIDATE = "candidate"


CHECKS = frozenset((Role.CARRIER, Role.POSITIVE, Role.NEGATIVE))
"""Roles that are compared with the reference as a check, outside the family of candidates."""


class Agent(StrEnum):
    """What class of agent a treatment applies; decides the cautions."""

    NOTHING = "nothing"
    HORMONE = "hormone"
    OTHER = "other"


class Carrier(StrEnum):
    """What the agent is carried in."""

    NONE = "none"
    ALCOHOL = "alcohol"
    WATER = "water"
    TALC = "talc"
    GEL = "gel"


class Day0(StrEnum):
    """The day-zero convention of a trial."""

    STICKING = "sticking"
    SOWING = "sowing"
    WETTING = "first wetting"


class Status(StrEnum):
    """Where a trial stands: a draft plan, or started (and from then on frozen)."""

    DRAFT = "draft"
    STARTED = "started"
