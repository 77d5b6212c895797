"""Labels: as a list, on sheets, through the simulated label printer; and the unit a label names."""

from fastapi import APIRouter, Request
from fastapi.responses import Response

from racecard.api.deps import PrinterDep, ShedDep
from racecard.api.schemas.prepare import (
    FoundUnit,
    LabelOut,
    LabelsOut,
    PrintedOut,
    PrintIn,
    SheetOut,
)
from racecard.core.model import Status, Trial
from racecard.core.plan.codes import is_code
from racecard.errors import InvalidInput, NotFound
from racecard.formats.labels import SHEETS, Label, labels_csv, labels_of, unit_coded
from racecard.standins.label_printer import Printed
from racecard.store.engine import Shed
from racecard.store.trials import load_trial, trial_begun_by

router = APIRouter(prefix="/api", tags=["labels"])
_MOST = 3000


@router.get("/trials/{trial_id}/labels", operation_id="get_labels")
def get_labels(request: Request, shed: ShedDep, trial_id: str, trays: bool = False) -> LabelsOut:
    """The labels of a trial as words, and the sheets they can be printed on."""
    labels = _labels(request, shed, trial_id, trays)
    return LabelsOut(
        labels=[LabelOut(code=x.code, lines=list(x.lines), link=x.link, silk=x.silk) for x in labels],
        sheets=[SheetOut(key=s.key, name=s.name, places=s.across * s.down) for s in SHEETS],
    )  # fmt: skip


@router.get(
    "/trials/{trial_id}/labels.pdf", operation_id="get_label_sheets", response_class=Response,
    responses={200: {"content": {"application/pdf": {}}, "description": "Labels on sheets"}},
)  # fmt: skip
def get_sheets(
    request: Request, shed: ShedDep, trial_id: str, sheet: str = "a4_65", trays: bool = False,
    skip: int = 0, outlines: bool = False,
) -> Response:  # fmt: skip
    """Labels as PDF on sheets of a common size."""
    labels = _labels(request, shed, trial_id, trays)
    if len(labels) > _MOST:
        raise InvalidInput(
            f"{len(labels)} labels are more than the {_MOST} printed at once: take the plain list."
        )
    from racecard.formats.label_sheets import sheets_pdf  # late: fonts and PDF, only for print

    content = sheets_pdf(labels, sheet, skip=skip, outlines=outlines)
    headers = {"Content-Disposition": f'inline; filename="labels-{trial_id[:8]}.pdf"'}
    return Response(content, media_type="application/pdf", headers=headers)


@router.get(
    "/trials/{trial_id}/labels.csv", operation_id="get_label_list", response_class=Response,
    responses={200: {"content": {"text/csv": {}}, "description": "Labels as a plain list"}},
)  # fmt: skip
def get_list(request: Request, shed: ShedDep, trial_id: str, trays: bool = False) -> Response:
    """Labels as a plain list, for any other printer."""
    headers = {"Content-Disposition": f'attachment; filename="labels-{trial_id[:8]}.csv"'}
    content = labels_csv(_labels(request, shed, trial_id, trays))
    return Response(content, media_type="text/csv; charset=utf-8", headers=headers)


@router.post("/trials/{trial_id}/labels/print", operation_id="print_labels")
def post_print(
    request: Request, shed: ShedDep, printer: PrinterDep, trial_id: str, body: PrintIn
) -> PrintedOut:
    """Send the labels to the simulated label printer, and see them as they come out."""
    job = printer.take(_labels(request, shed, trial_id, body.trays), body.copies)
    return _printed(job, printer.left)


@router.post("/printer/roll", operation_id="new_roll", status_code=204)
def post_roll(printer: PrinterDep) -> None:
    """Put a full roll into the simulated printer."""
    printer.new_roll()


@router.get("/codes/{trial}/{code}", operation_id="find_unit")
def find_unit(shed: ShedDep, trial: str, code: str) -> FoundUnit:
    """The unit that a label's code names, by the first letters of the trial's id."""
    with shed.reading() as session:
        found = trial_begun_by(session, trial)
    started = found.status is Status.STARTED
    if code.upper().startswith("T") and code[1:].isdigit():
        return FoundUnit(trial_id=found.id, unit_id=None, started=started)
    unit = unit_coded(found, code)
    if unit is None:
        slip = found.plan.blind and len(code) == 4 and not is_code(code)
        hint = (
            "its check letter does not agree, so it was misread"
            if slip
            else "no label of this trial has it"
        )
        raise NotFound(f"“{code[:12]}”: {hint}. Read the label again.")
    return FoundUnit(trial_id=found.id, unit_id=unit, started=started)


def _labels(request: Request, shed: Shed, trial_id: str, trays: bool) -> tuple[Label, ...]:
    with shed.reading() as session:
        trial: Trial = load_trial(session, trial_id)
    return labels_of(trial, str(request.base_url), trays=trays)


def _printed(job: Printed, left: int) -> PrintedOut:
    return PrintedOut(
        number=job.number, asked=job.asked, labels=list(job.labels), says=job.says, left=left
    )
