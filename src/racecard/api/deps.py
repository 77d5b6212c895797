"""What endpoints are handed: the shed, the label printer, and the name of whoever is at the bench."""

from typing import Annotated
from urllib.parse import unquote

from fastapi import Depends, Header, Request

from racecard.errors import InvalidInput
from racecard.standins.label_printer import LabelPrinter
from racecard.store.engine import Shed


def _shed(request: Request) -> Shed:
    shed: Shed = request.app.state.shed
    return shed


def _who(x_who: Annotated[str | None, Header(description="Who is at the bench")] = None) -> str:
    name = unquote(x_who or "").strip()
    if len(name) > 60:
        raise InvalidInput(f"Your name has {len(name)} characters; keep it to 60 or fewer.", "/who")
    return name or "grower"


def _printer(request: Request) -> LabelPrinter:
    printer: LabelPrinter = request.app.state.printer
    return printer


PrinterDep = Annotated[LabelPrinter, Depends(_printer)]
ShedDep = Annotated[Shed, Depends(_shed)]
WhoDep = Annotated[str, Depends(_who)]
