"""The gate of a shared shed: who may pass from the local network, and how guesses are slowed."""

import secrets
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from http.cookies import CookieError, SimpleCookie
from threading import Lock
from typing import Any

from starlette.concurrency import run_in_threadpool
from starlette.types import ASGIApp, Receive, Scope, Send

from racecard.api.problems import problem
from racecard.errors import InvalidInput, TooSoon
from racecard.store.devices import device_of
from racecard.store.engine import Shed

COOKIE = "racecard_key"
_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"
_OPEN = ("/api/join", "/api/root.crt")
_OWNER = ("/api/shed", "/api/devices", "/api/demo")
_MOST_WAIT = 60
_RENEW_AFTER = 20


@dataclass
class Sharing:
    """What a shared shed knows of joining: its address, the code of now, and the wrong guesses.

    Wrong guesses make the next wait twice as long, up to a minute; twenty of them renew the code.
    """

    url: str
    fingerprint: str
    root: bytes
    now: Callable[[], datetime]
    code: str = ""
    wrong: int = 0
    _streak: int = 0
    _next_at: datetime | None = field(default=None)
    _lock: Any = field(default_factory=Lock)

    def __post_init__(self) -> None:
        self.renew()

    def renew(self) -> None:
        """Draw a new code; devices that have joined keep their keys."""
        self.code = "".join(secrets.choice(_LETTERS) for _ in range(10))
        self._streak = 0

    def check(self, guess: str) -> None:
        """Let a right code pass.

        Raises:
            TooSoon: a wrong guess was made just before.
            InvalidInput: the code is wrong.
        """
        with self._lock:
            self._check(guess)

    def _check(self, guess: str) -> None:
        now = self.now()
        if self._next_at is not None and now < self._next_at:
            wait = int((self._next_at - now).total_seconds()) + 1
            raise TooSoon(f"Too many wrong codes: wait {wait} s, then try again.")
        plain = "".join(c for c in guess.upper() if c.isalnum())
        if secrets.compare_digest(plain.encode(), self.code.encode()):
            self._streak, self._next_at = 0, None
            return
        self.wrong += 1
        self._streak += 1
        self._next_at = now + timedelta(seconds=min(2 ** (self._streak - 1), _MOST_WAIT))
        if self._streak >= _RENEW_AFTER:
            self.renew()
        raise InvalidInput("That is not the code of this shed: scan or type it again.", "/code")


class Gate:
    """Wraps the application for the local network: only devices with a good key pass to the data."""

    def __init__(self, app: ASGIApp, shed: Shed) -> None:
        self.app = app
        self.shed = shed

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "http" and scope["path"].startswith("/api/"):
            refused = await self._refused(scope)
            if refused is not None:
                status, says = refused
                code = "not_joined" if status == 401 else "not_here"
                await problem(status, code, "Not allowed", [("", says)])(scope, receive, send)
                return
        await self.app(scope, receive, send)

    async def _refused(self, scope: Scope) -> tuple[int, str] | None:
        path = scope["path"]
        if path in _OPEN:
            return None
        if path.startswith(_OWNER):
            return 403, "Only the machine of the shed itself may do that."
        key = _key_in(scope)
        device = await run_in_threadpool(device_of, self.shed, key) if key else None
        if device is None:
            return (
                401,
                "This device has not joined the shed, or its key was withdrawn: scan the code again.",
            )
        return None


def is_foreign(scope: Scope) -> bool:
    """Whether a request that changes something was sent by another site's page."""
    if scope["method"] in ("GET", "HEAD", "OPTIONS"):
        return False
    headers = dict(scope["headers"])
    origin = headers.get(b"origin", b"").decode("latin-1")
    host = headers.get(b"host", b"").decode("latin-1")
    return bool(origin) and origin.split("://")[-1] != host


def _key_in(scope: Scope) -> str:
    for name, value in scope["headers"]:
        if name == b"cookie":
            try:
                cookie = SimpleCookie(value.decode("latin-1")).get(COOKIE)
            except CookieError:
                return ""
            return cookie.value if cookie else ""
    return ""
