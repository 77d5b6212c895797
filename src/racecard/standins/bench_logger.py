"""A bench sensor that is not there: plays temperature, humidity and light, sound or faulty."""

import json
from datetime import datetime, timedelta
from urllib.error import HTTPError, URLError
from urllib.request import Request, urlopen

from racecard.core.conditions.simulated_readings import SOURCE, readings
from racecard.errors import InvalidInput

_BATCH = 2000


def play(
    port: int, place: str, hours: float, every: int, fault: str, seed: int, now: datetime
) -> int:
    """Post the readings of the last hours to a running shed on this machine.

    Returns:
        How many were new there.

    Raises:
        InvalidInput: no such fault, or the shed does not answer or refuses.
    """
    start = now - timedelta(hours=hours)
    rows = readings(place, start, now, timedelta(minutes=max(1, every)), fault, seed)
    added = 0
    for i in range(0, len(rows), _BATCH):
        items = [
            {"place": r.place, "quantity": r.quantity, "at": r.at.isoformat(), "value": r.value}
            for r in rows[i : i + _BATCH]
        ]
        body = json.dumps({"items": items, "source": SOURCE}).encode()
        request = Request(
            f"http://127.0.0.1:{port}/api/readings", body, {"Content-Type": "application/json"}
        )
        try:
            with urlopen(request, timeout=30) as answer:
                added += int(json.load(answer)["added"])
        except HTTPError as exc:
            raise InvalidInput(
                f"The shed refused the readings: {exc.read().decode()[:300]}"
            ) from exc
        except URLError as exc:
            raise InvalidInput(f"No shed answers on port {port}: start it first.") from exc
    return added
