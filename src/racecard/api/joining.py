"""Joining the shed: the code as a square, the root to trust, and the devices with their keys."""

from datetime import datetime

from fastapi import APIRouter, Request, Response
from pydantic import Field

from racecard.api.deps import SharingDep, ShedDep
from racecard.api.gate import COOKIE, Sharing
from racecard.api.schemas.base import In, Out
from racecard.errors import Conflict
from racecard.formats.square import square_of
from racecard.store.devices import DeviceRole, give_role, join_device, load_devices, withdraw_device
from racecard.store.engine import Shed

router = APIRouter(prefix="/api", tags=["joining"])
_YEAR_S = 365 * 24 * 3600


class JoinIn(In):
    """The code shown on the shed's machine, and what this device is called."""

    code: str = Field(max_length=40)
    name: str = Field("", max_length=60)


class JoinedOut(Out):
    """The device has its key."""

    name: str


class RoleIn(In):
    """What a device may do."""

    role: DeviceRole


class DeviceOut(Out):
    """One device that joined; `waiting`: what it last said it held unsent, null where it has not."""

    id: str
    name: str
    role: DeviceRole
    waiting: int | None
    joined_at: datetime
    last_seen_at: datetime | None
    withdrawn_at: datetime | None


class ShedOut(Out):
    """Whether the shed is shared, how to join it, and who has; nulls where it is not shared."""

    is_shared: bool
    url: str | None
    code: str | None
    code_until: datetime | None
    square: str | None
    fingerprint: str | None
    wrong_codes: int
    devices: list[DeviceOut]


@router.get("/shed", operation_id="get_shed")
def get_shed(shed: ShedDep, sharing: SharingDep) -> ShedOut:
    """How to join, and the devices that have; for the shed's own machine only."""
    return _out(shed, sharing)


@router.post("/shed/code", operation_id="renew_code")
def post_code(shed: ShedDep, sharing: SharingDep) -> ShedOut:
    """Draw a new join code; devices that have joined keep their keys."""
    if sharing is None:
        raise Conflict("Phones are switched off: restart Racecard with racecard start --shed.")
    sharing.renew()
    return _out(shed, sharing)


@router.post("/devices/{device_id}/withdraw", operation_id="withdraw_device")
def post_withdraw(shed: ShedDep, sharing: SharingDep, device_id: str) -> ShedOut:
    """End a device's key; what it sent stays."""
    withdraw_device(shed, device_id)
    if sharing is not None:
        sharing.renew()  # a code it may have seen must not let it in again
    return _out(shed, sharing)


@router.post("/devices/{device_id}/role", operation_id="give_role")
def post_role(shed: ShedDep, sharing: SharingDep, device_id: str, body: RoleIn) -> ShedOut:
    """Say what a device may do from now on."""
    give_role(shed, device_id, body.role)
    return _out(shed, sharing)


@router.post("/join", operation_id="join_shed")
def post_join(
    shed: ShedDep, sharing: SharingDep, request: Request, response: Response, body: JoinIn
) -> JoinedOut:
    """Give a device its key for the right code; wrong guesses are slowed and counted."""
    if sharing is None:
        raise Conflict("Phones are switched off: restart Racecard with racecard start --shed.")
    sharing.check(body.code, request.client.host if request.client else "")
    key = join_device(shed, body.name)
    response.set_cookie(
        COOKIE, key, max_age=_YEAR_S, httponly=True, secure=True, samesite="strict", path="/"
    )
    return JoinedOut(name=body.name.strip() or "a device")


@router.get(
    "/root.crt", operation_id="get_root", response_class=Response,
    responses={200: {"content": {"application/x-x509-ca-cert": {}}, "description": "The root"}},
)  # fmt: skip
def get_root(sharing: SharingDep) -> Response:
    """The shed's root certificate, to be trusted on the phone."""
    if sharing is None:
        raise Conflict("Phones are switched off: restart Racecard with racecard start --shed.")
    headers = {"Content-Disposition": 'attachment; filename="racecard-root.crt"'}
    return Response(sharing.root, media_type="application/x-x509-ca-cert", headers=headers)


def _out(shed: Shed, sharing: Sharing | None) -> ShedOut:
    with shed.reading() as session:
        devices = load_devices(session)
    code = sharing.code if sharing else None
    url = f"{sharing.url}/join#{code}" if sharing else None
    waiting = sharing.waiting if sharing else {}
    return ShedOut(
        is_shared=sharing is not None, url=url, code=code, code_until=sharing.until if sharing else None,
        square=square_of(url) if url else None, fingerprint=sharing.fingerprint if sharing else None,
        wrong_codes=sharing.wrong if sharing else 0,
        devices=[
            DeviceOut(id=d.id, name=d.name, role=d.role, waiting=waiting[d.id][0] if d.id in waiting else None,
                      joined_at=d.joined_at, last_seen_at=d.last_seen_at, withdrawn_at=d.withdrawn_at)
            for d in devices
        ],
    )  # fmt: skip
