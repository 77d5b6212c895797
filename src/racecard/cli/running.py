"""The server's process."""

import gc
import threading
from contextlib import suppress

import uvicorn
from fastapi import FastAPI

from racecard.api.standings import lines_of_all
from racecard.core.stats import special
from racecard.errors import AppError
from racecard.store.form_book import form_book

_OBJECTS_BETWEEN_COLLECTIONS = 100_000
"""A round of 10,000 units makes as many objects: at Python's 700 half its time goes into looking for cycles."""
_SETTLED_S = 1.0
_FRESH_EVERY_S = 60.0
_PATIENCE_S = 2.0
"""So long a minute lines of the form book are made beside the work: taps go first."""


def run(app: FastAPI, port: int, log: str = "warning") -> None:
    """Serve the application on this machine until it is stopped; `log`: from which level on it is told."""
    gc.freeze()
    gc.set_threshold(_OBJECTS_BETWEEN_COLLECTIONS)
    gc.enable()
    ended = threading.Event()
    threading.Thread(target=_keep_lists_fresh, args=(app, ended), daemon=True).start()
    try:
        uvicorn.run(app, host="127.0.0.1", port=port, log_level=log)
    finally:
        ended.set()


def _keep_lists_fresh(app: FastAPI, ended: threading.Event) -> None:
    """Summaries that a new day or a write made stale are made beside the work, before a list asks."""
    if not ended.wait(_SETTLED_S):
        special.ndtri(0.5)  # loads the functions of the sums, before somebody asks for one
    while not ended.wait(_FRESH_EVERY_S):
        with suppress(AppError):  # the file cannot be read just now: the next time
            lines_of_all(app.state.shed)
            form_book(app.state.shed, patience_s=_PATIENCE_S)
