"""A file sent as the body of a request."""

from fastapi import Request

from racecard.errors import InvalidInput
from racecard.formats.sheet import MOST_BYTES

FILE_BODY = {
    "requestBody": {
        "required": True,
        "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
    }
}
"""What the API's document says of a route that takes a file."""


async def whole_file(request: Request, most: int = MOST_BYTES) -> bytes:
    """The body, read no further than the limit."""
    parts, size = [], 0
    async for part in request.stream():
        size += len(part)
        if size > most:
            raise InvalidInput(
                f"The file is larger than {most / 1e6:.0f} MB, the most that is read."
            )
        parts.append(part)
    return b"".join(parts)
