"""The gate of a shared shed: who may pass from the local network, to do what, and how guesses are slowed."""

import re
import secrets
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from threading import Lock
from typing import Any

from starlette.concurrency import run_in_threadpool
from starlette.datastructures import Headers
from starlette.types import ASGIApp, Receive, Scope, Send

from racecard.api.boundary import marking
from racecard.api.problems import problem, status_of
from racecard.errors import AppError, InvalidInput, RateLimited
from racecard.store.devices import Device, DeviceRole, device_of
from racecard.store.engine import Shed

COOKIE = "racecard_key"
_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"
_CODE_LETTERS = 8
"""Of 32 letters: 40 bits, typed in one go."""
CODE_LIVES = timedelta(minutes=10)
_OPEN = ("/api/join", "/api/root.crt")
_OWN_GARDEN = re.compile(r"/api/garden/[^/]+/(join|report)$")
"""What a garden's phone does with the link it was given: its own garden, and nothing else."""
_OWNER = ("/api/shed", "/api/devices", "/api/demo")
_MOST_WAIT = 60
_MOST_SENDERS = 1000

_READS = ("GET", "HEAD", "OPTIONS")
_SUMS = re.compile(
    r"/api/(mixing/(line|sums/[^/]+)|plans/(begin|arms|check)|tables/(check|audit)|series|gardens/read|trials/[^/]+/looks/read)$"
)
"""Sums that change nothing, though they are posted."""
_AT_THE_BENCH = re.compile(
    r"/api/(trials/[^/]+/(observations|looks|entries|heard|photos|settings|settings/many|clock/marks|labels/print"
    r"|rounds/[^/]+/move)|readings|readings/(preview|file)|printer/roll|trainer/sittings)$"
)
"""What a helper writes: rounds, notes, photos, lifts, what was set, conditions, and its own training."""


def may(role: DeviceRole, method: str, path: str) -> bool:
    """Whether a device of this role may do that: looking on, work at the bench, or the desk's."""
    if role is DeviceRole.DESK:
        return True
    if path.startswith(_OWNER):
        return False
    if method in _READS or _SUMS.match(path):
        return True
    return role is DeviceRole.HELPER and method == "POST" and bool(_AT_THE_BENCH.match(path))


@dataclass
class Sharing:
    """What a shared shed knows of joining: its address, the code of now, and the wrong guesses.

    A code lives ten minutes and works once. Wrong guesses make the next wait of that sender twice as
    long, up to a minute; they never make anybody else wait. `waiting`: how many things each device
    said it still held unsent, and when.
    """

    url: str
    fingerprint: str
    root: bytes
    now: Callable[[], datetime]
    wrong: int = 0
    waiting: dict[str, tuple[int, datetime]] = field(default_factory=dict)
    _code: str = field(init=False)
    _until: datetime = field(init=False)
    _senders: "OrderedDict[str, tuple[int, datetime]]" = field(default_factory=OrderedDict)
    _lock: Any = field(default_factory=Lock)

    def __post_init__(self) -> None:
        self._draw()

    @property
    def code(self) -> str:
        """The code that works now; a new one where the last has run out."""
        with self._lock:
            if self.now() >= self._until:
                self._draw()
            return self._code

    @property
    def until(self) -> datetime:
        """When the code of now runs out."""
        return self._until

    def renew(self) -> None:
        """Draw a new code; devices that have joined keep their keys."""
        with self._lock:
            self._draw()

    def _draw(self) -> None:
        self._code = "".join(secrets.choice(_LETTERS) for _ in range(_CODE_LETTERS))
        self._until = self.now() + CODE_LIVES

    def check(self, guess: str, sender: str) -> None:
        """Let a right code pass, once.

        Raises:
            RateLimited: this sender made a wrong guess just before.
            InvalidInput: the code is wrong, used or too old.
        """
        plain = "".join(c for c in guess.upper() if c.isalnum())
        with self._lock:
            now = self.now()
            streak, next_at = self._senders.get(sender, (0, now))
            if now < next_at:
                wait = int((next_at - now).total_seconds()) + 1
                raise RateLimited(f"Too many wrong codes: wait {wait} s, then try again.")
            is_right = secrets.compare_digest(plain.encode(), self._code.encode())
            if is_right and now < self._until:
                self._senders.pop(sender, None)
                self._draw()
                return
            self.wrong += 1
            wait_s = min(2**streak, _MOST_WAIT)
            self._senders[sender] = (streak + 1, now + timedelta(seconds=wait_s))
            self._senders.move_to_end(sender)
            while len(self._senders) > _MOST_SENDERS:
                self._senders.popitem(last=False)
        raise InvalidInput(
            "That is not the code shown now: each works once and for ten minutes. Scan or type the one on the page.",
            "/code",
        )


class Gate:
    """Wraps the application for the local network: only devices with a good key pass to the data."""

    def __init__(self, app: ASGIApp, shed: Shed, sharing: Sharing) -> None:
        self.app = app
        self.shed = shed
        self.sharing = sharing

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "http" and scope["path"].startswith("/api/"):
            refused = await self._refused(scope)
            if refused is not None:
                status, code, says = refused
                refusal = problem(status, code, "Not allowed", [("", says)])
                await refusal(scope, receive, marking(scope, send))
                return
        await self.app(scope, receive, send)

    async def _refused(self, scope: Scope) -> tuple[int, str, str] | None:
        path = scope["path"]
        if path in _OPEN or _OWN_GARDEN.match(path):
            return None
        key = _key_in(scope)
        try:
            device = await run_in_threadpool(device_of, self.shed, key) if key else None
        except AppError as exc:  # the file is locked, say: as everywhere else, and not a bare fault
            return status_of(exc), exc.code, exc.detail
        if device is None:
            says = "This device is not connected, or it was disconnected. Scan the code again."
            return 401, "not_joined", says
        self._note_waiting(scope, device)
        if not may(device.role, scope["method"], path):
            return 403, "not_here", _MAY_NOT[device.role]
        scope["racecard.device"] = device
        return None

    def _note_waiting(self, scope: Scope, device: Device) -> None:
        said = Headers(scope=scope).get("x-waiting", "")
        if said.isdigit() and len(said) < 7:
            self.sharing.waiting[device.id] = (int(said), self.shed.now())


_MAY_NOT = {
    DeviceRole.VIEWER: "This device may look and not write: ask at the desk to make it a helper.",
    DeviceRole.HELPER: "That is done at the desk: this device keeps rounds, notes, photos, lifts and conditions.",
}


def _key_in(scope: Scope) -> str:
    """The key among the cookies, whatever odd ones other programs have left beside it."""
    for name, value in scope["headers"]:
        if name != b"cookie":
            continue
        for part in value.decode("latin-1").split(";"):
            key, equals, said = part.strip().partition("=")
            if equals and key == COOKIE:
                return str(said.strip('"'))
    return ""
