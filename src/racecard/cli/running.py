"""The server's process."""

import gc
from typing import Any

_OBJECTS_BETWEEN_COLLECTIONS = 100_000
"""A round of 10,000 units makes as many objects: at Python's 700 half its time goes into looking for cycles."""


def run(app: Any, port: int) -> None:
    """Serve the application on this machine until it is stopped."""
    import uvicorn

    gc.freeze()
    gc.set_threshold(_OBJECTS_BETWEEN_COLLECTIONS)
    uvicorn.run(app, host="127.0.0.1", port=port, log_level="warning")
