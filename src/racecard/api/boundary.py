"""What every request passes before the application sees it, and what every answer carries.

By which name the server was asked, from which page, how much is sent and how slowly; and the headers
that keep a browser from doing with an answer what nobody meant.
"""

import asyncio
import re
from collections.abc import Collection
from typing import Final

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from racecard.api.problems import problem

LOCAL_HOSTS: Final = ("127.0.0.1", "localhost", "[::1]")
_KB, _MB = 1000, 1_000_000
_MOST_BYTES: Final = (
    (re.compile(r"/api/join$"), 4 * _KB),
    (re.compile(r"/api/garden/"), 4 * _KB),
    (re.compile(r"/api/trials/[^/]+/photos$"), 21 * _MB),
    (re.compile(r"/api/tables(/check|/audit)?$"), 26 * _MB),
    (re.compile(r"/api/trials/bring-in$"), 51 * _MB),
    (re.compile(r"/api/form-book/bring-in$"), 501 * _MB),
    (re.compile(r"/api/readings(/preview|/file)?$"), 21 * _MB),
    (re.compile(r""), 3 * _MB),
)
"""The most a body may hold, by route; the first that fits. A plan of 12,000 locked cells has 1 MB."""
_PIECE_S: Final = 15.0
"""Seconds within which the next piece of a body must come."""
_SLOWEST_BYTES_S: Final = 20_000
_BODY_S: Final = 20.0
"""A whole body may take so many seconds, and longer only as it is large."""
POLICY: Final = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self'; "
    "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)
_HEADERS: Final = {
    "content-security-policy": POLICY,
    "x-content-type-options": "nosniff",
    "x-frame-options": "DENY",
    "referrer-policy": "no-referrer",
    "cross-origin-opener-policy": "same-origin",
    "cross-origin-resource-policy": "same-origin",
}
_HSTS: Final = "max-age=31536000"
"""On the shared port only, and never for this machine's own names: it holds for every port of a
name, and the desk's own page is served without TLS."""


class Boundary:
    """Wraps the application: checks names, origins and sizes, and marks every answer.

    Args:
        app: the application.
        hosts: names and addresses the server is reached by; a request for another is refused, so
            that no foreign page can reach this machine through a name of its own.
        built: when the page was built, told with every answer, so that an older page can say so.
    """

    def __init__(self, app: ASGIApp, hosts: Collection[str] = LOCAL_HOSTS, built: str = "") -> None:
        self.app = app
        self.built = built
        self.hosts = frozenset(h.lower() for h in hosts)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        marked = marking(scope, send, self.built)
        refused = self._refused(Headers(scope=scope))
        if refused is not None:
            await problem(*refused)(scope, receive, marked)
            return
        try:
            given = await _bounded(scope, receive)
        except _TooLarge as exc:
            await problem(413, "too_large", "Too large", [("", str(exc))])(scope, receive, marked)
            return
        except _TooSlow:
            says = "The request did not come in time: send it again."
            await problem(408, "too_slow", "Too slow", [("", says)])(scope, receive, marked)
            return
        if given is not None:
            await self.app(scope, given, marked)

    def _refused(self, headers: Headers) -> tuple[int, str, str, list[tuple[str, str]]] | None:
        host = headers.get("host", "")
        if _name_of(host) not in self.hosts:
            says = "This server does not go by that name: open it by the address it printed at its start."
            return 421, "other_name", "Another name", [("", says)]
        origin = headers.get("origin")
        if origin is not None and origin.partition("://")[2] != host:
            says = "Another site's page asked for this; it was refused."
            return 403, "foreign", "Not allowed", [("", says)]
        return None


def _host(scope: Scope) -> str:
    return Headers(scope=scope).get("host", "")


def _name_of(host: str) -> str:
    """A Host header without its port, in lower case."""
    return re.sub(r":\d+$", "", host).lower()


class _TooLarge(Exception):
    """More was sent than this route takes."""


class _TooSlow(Exception):
    """A body did not come in time."""


def _most(path: str) -> int:
    return next(most for pattern, most in _MOST_BYTES if pattern.match(path))


async def _bounded(scope: Scope, receive: Receive) -> Receive | None:
    """The body, read within its bounds and given on whole; None where the client has gone."""
    if scope["method"] in ("GET", "HEAD", "OPTIONS"):
        return receive
    most = _most(scope["path"])
    says = f"That is more than {most / _MB:g} MB, the most that is taken here: send less."
    length = Headers(scope=scope).get("content-length", "")
    if length.isdigit() and int(length) > most:
        raise _TooLarge(says)
    pieces: list[bytes] = []
    size, clock = 0, asyncio.get_running_loop()
    started = clock.time()
    while True:
        left = _BODY_S + size / _SLOWEST_BYTES_S - (clock.time() - started)
        try:
            message = await asyncio.wait_for(receive(), max(0.0, min(_PIECE_S, left)))
        except TimeoutError:
            raise _TooSlow from None
        if message["type"] == "http.disconnect":
            return None
        pieces.append(message.get("body", b""))
        size += len(pieces[-1])
        if size > most:
            raise _TooLarge(says)
        if not message.get("more_body", False):
            return _replayed(b"".join(pieces), receive)


def _replayed(body: bytes, receive: Receive) -> Receive:
    sent = False

    async def again() -> Message:
        nonlocal sent
        if sent:
            return await receive()
        sent = True
        return {"type": "http.request", "body": body, "more_body": False}

    return again


def marking(scope: Scope, send: Send, built: str = "") -> Send:
    """Sends with the headers every answer carries; data is never left in a cache on the way."""

    async def marked(message: Message) -> None:
        if message["type"] == "http.response.start":
            headers = MutableHeaders(scope=message)
            for name, value in _HEADERS.items():
                headers.setdefault(name, value)
            if scope["path"].startswith("/api/"):
                headers["cache-control"] = "no-store"
                if built:
                    headers["x-built"] = built
            if scope["scheme"] == "https" and _name_of(_host(scope)) not in LOCAL_HOSTS:
                headers["strict-transport-security"] = _HSTS
        await send(message)

    return marked
