"""Phones and tablets that joined the shed: each has a key of its own, which can be withdrawn."""

import hashlib
import hmac
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum

from sqlalchemy import select
from sqlalchemy.orm import Session

from racecard.errors import InvalidInput, NotFound
from racecard.store.engine import Shed
from racecard.store.tables import DeviceRow

_SEEN_EVERY = timedelta(minutes=5)


class DeviceRole(StrEnum):
    """What a device may do: look on; work at the bench; everything the desk does."""

    VIEWER = "viewer"
    HELPER = "helper"
    DESK = "desk"


@dataclass(frozen=True, slots=True)
class Device:
    """One device that joined; `withdrawn_at` is None while its key is good."""

    id: str
    name: str
    role: DeviceRole
    joined_at: datetime
    last_seen_at: datetime | None
    withdrawn_at: datetime | None


def join_device(shed: Shed, name: str) -> str:
    """Add a device and give its key, which is kept only as a hash: 256 random bits need no more."""
    said = name.strip() or "a device"
    if len(said) > 60:
        raise InvalidInput("Keep the name of the device to 60 characters.", "/name")
    secret = secrets.token_urlsafe(32)
    with shed.writing() as session:
        row = DeviceRow(
            id=shed.new_id(), name=said, role=DeviceRole.HELPER.value, key_hash=hashed(secret), joined_at=shed.now()
        )  # fmt: skip
        session.add(row)
        session.flush()
        return f"{row.id}.{secret}"


def device_of(shed: Shed, key: str) -> Device | None:
    """The device a key belongs to, None where it is not known or was withdrawn."""
    device_id, _, secret = key.partition(".")
    with shed.reading() as session:
        row = session.get(DeviceRow, device_id)
        if row is None or not hmac.compare_digest(row.key_hash, hashed(secret)):
            return None
        found = _device(row)
    if found.withdrawn_at is not None:
        return None
    if found.last_seen_at is None or shed.now() - found.last_seen_at > _SEEN_EVERY:
        with shed.writing() as session:
            seen = session.get(DeviceRow, device_id)
            if seen is not None:
                seen.last_seen_at = shed.now()
    return found


def withdraw_device(shed: Shed, device_id: str) -> None:
    """End a device's key; what it sent stays."""
    with shed.writing() as session:
        row = session.get(DeviceRow, device_id)
        if row is None:
            raise NotFound("There is no such device.")
        row.withdrawn_at = row.withdrawn_at or shed.now()


def give_role(shed: Shed, device_id: str, role: DeviceRole) -> None:
    """Say what a device may do from now on.

    Raises:
        NotFound: no such device.
    """
    with shed.writing() as session:
        row = session.get(DeviceRow, device_id)
        if row is None:
            raise NotFound("There is no such device.")
        row.role = role.value


def load_devices(session: Session) -> list[Device]:
    """Every device that ever joined, the newest first."""
    rows = session.scalars(select(DeviceRow).order_by(DeviceRow.joined_at.desc()))
    return [_device(r) for r in rows]


def _device(row: DeviceRow) -> Device:
    return Device(
        row.id, row.name, DeviceRole(row.role), row.joined_at, row.last_seen_at, row.withdrawn_at
    )


def hashed(secret: str) -> str:
    """A secret as it is kept: its own 192 random bits or more need no salt."""
    return hashlib.sha256(secret.encode()).hexdigest()
