"""The things of the job, as frozen dataclasses: plan, treatment, cell, look, history.

Words are those of the trade: a *propagule* is a cutting or a seed; a *unit* is the smallest thing
that was treated and placed on its own by lot (the container here: it may hold one propagule or
many); a *block* is a set of units alike in place, size, day or person.
"""

from racecard.core.model.plan import Contrast, Override, Plan, Treatment
from racecard.core.model.terms import (
    CHECKS,
    Agent,
    Carrier,
    Day0,
    Kind,
    Layout,
    Measure,
    Outcome,
    Role,
    Status,
    Subject,
    UnitLevel,
)
from racecard.core.model.trial import (
    BORDER,
    HIDDEN,
    SPARE,
    Amendment,
    Cell,
    Drawn,
    History,
    Trial,
    Unit,
    row_letters,
)

__all__ = [
    "BORDER",
    "CHECKS",
    "HIDDEN",
    "SPARE",
    "Agent",
    "Amendment",
    "Carrier",
    "Cell",
    "Contrast",
    "Day0",
    "Drawn",
    "History",
    "Kind",
    "Layout",
    "Measure",
    "Outcome",
    "Override",
    "Plan",
    "Role",
    "Status",
    "Subject",
    "Treatment",
    "Trial",
    "Unit",
    "UnitLevel",
    "row_letters",
]
