"""Stewards' notes: objections to a trial, each with its rule, its sentence and what to do."""

from racecard.core.notes import heterogeneity, influence, of_plan, of_results, of_table, of_trial
from racecard.core.notes.registry import (
    RULES,
    Evidence,
    Kept,
    Note,
    Seen,
    Table,
    collect,
    notes_on_plan,
)

_PAGES = (of_trial, of_plan, of_results, heterogeneity, influence, of_table)
"""Modules of rules, in the order in which a page lists their notes."""
RULES.sort(key=lambda r: [m.__name__ for m in _PAGES].index(r.find.__module__))

__all__ = ["Evidence", "Kept", "Note", "Seen", "Table", "collect", "notes_on_plan"]
