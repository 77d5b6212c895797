"""What endpoints are handed: the shed, the label printer, and the name of whoever is at the bench."""

from typing import Annotated
from urllib.parse import unquote

from fastapi import Depends, Header, Request

from racecard.api.gate import Sharing
from racecard.errors import InvalidInput
from racecard.standins.label_printer import LabelPrinter
from racecard.store.clock_guard import PhoneClocks
from racecard.store.devices import Device
from racecard.store.engine import Shed


def _shed(request: Request) -> Shed:
    shed: Shed = request.app.state.shed
    return shed


class Signer:
    """Signs what is written: who it was, and from which device where it came over the network.

    The device is the one the key belongs to; nobody writes under another's.
    """

    def __init__(self, said: str, device: Device | None) -> None:
        self._said = said
        self._device = device

    def device(self, said: str) -> str:
        """Which device sends: the one its key belongs to, else the one it says it is."""
        return self._device.id if self._device else said

    def __call__(self, said: str = "") -> str:
        """The name to keep: that of the tap, else that of the request."""
        name = _name(said) or self._said or "grower"
        return f"{name} · {self._device.name}" if self._device else name


def _name(text: str) -> str:
    name = text.strip()
    if len(name) > 60:
        raise InvalidInput(f"Your name has {len(name)} characters; keep it to 60 or fewer.", "/who")
    return name


def _signer(
    request: Request, x_who: Annotated[str | None, Header(description="Who is at the bench")] = None
) -> Signer:
    return Signer(_name(unquote(x_who or "")), request.scope.get("racecard.device"))


def _who(sign: Annotated[Signer, Depends(_signer)]) -> str:
    return sign()


def _printer(request: Request) -> LabelPrinter:
    printer: LabelPrinter = request.app.state.printer
    return printer


def _phone_clocks(request: Request) -> PhoneClocks:
    clocks: PhoneClocks = request.app.state.phone_clocks
    return clocks


PhoneClocksDep = Annotated[PhoneClocks, Depends(_phone_clocks)]
PrinterDep = Annotated[LabelPrinter, Depends(_printer)]
ShedDep = Annotated[Shed, Depends(_shed)]
SignDep = Annotated[Signer, Depends(_signer)]
WhoDep = Annotated[str, Depends(_who)]


def _sharing(request: Request) -> Sharing | None:
    found: Sharing | None = request.app.state.sharing
    return found


SharingDep = Annotated[Sharing | None, Depends(_sharing)]
