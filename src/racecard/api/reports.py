"""Reports and pictures of a finish, to be read, printed and handed on."""

from enum import StrEnum
from typing import TYPE_CHECKING

import numpy as np
from fastapi import APIRouter
from fastapi.responses import Response

from racecard.api.deps import ShedDep
from racecard.core.assess.grade import GRADE_WORDS
from racecard.core.assess.lane_geometry import LaneLine
from racecard.core.assess.lane_order import lane_order
from racecard.core.finish.of_trial import TrialFinish
from racecard.core.finish.report import Report, report_of
from racecard.core.log.days import zone
from racecard.core.log.goal import done
from racecard.core.model import Kind, Plan, Trial
from racecard.core.model.results import Results
from racecard.core.text.amounts import whole_percent
from racecard.store.engine import Shed
from racecard.store.finish import finished, load_conclusion, load_opened

if TYPE_CHECKING:  # late: drawings and paper, only for those who ask
    from reportlab.graphics.shapes import Drawing

router = APIRouter(prefix="/api/trials/{trial_id}", tags=["reports"])
_POLICY = {
    "Content-Security-Policy": "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'none'"
}


class Paper(StrEnum):
    """What a report is printed on."""

    A4 = "a4"
    LETTER = "letter"


def _answers(kind: str, said: str) -> dict[int | str, dict[str, object]]:
    return {200: {"content": {kind: {}}, "description": said}}


@router.get(
    "/report.html", operation_id="get_report", response_class=Response,
    responses=_answers("text/html", "The report as one page"),
)  # fmt: skip
def get_report(shed: ShedDep, trial_id: str) -> Response:
    """The report as one HTML page that needs nothing else."""
    from racecard.formats.report import report_html

    trial, found, report = _reported(shed, trial_id)
    at = f"/api/trials/{trial.id}"
    raw = (
        ("every plant as a table", f"{at}/table.csv"),
        ("the complete trial as one file", f"{at}/trial.json"),
    )
    page = report_html(report, _lanes(trial.plan, found), raw)
    return Response(page, media_type="text/html; charset=utf-8", headers=_POLICY)


@router.get(
    "/report.pdf", operation_id="get_report_pdf", response_class=Response,
    responses=_answers("application/pdf", "The report on paper"),
)  # fmt: skip
def get_report_pdf(shed: ShedDep, trial_id: str, paper: Paper = Paper.A4) -> Response:
    """The report as PDF, on A4 or US Letter."""
    from racecard.formats.report import report_pdf

    trial, found, report = _reported(shed, trial_id)
    raw = f"Raw data: exported from Racecard as table.csv and trial.json of trial {trial.id[:8]}."
    content = report_pdf(report, _lanes(trial.plan, found), paper.value, raw)
    return _file(content, "application/pdf", f"racecard-{trial.id[:8]}-{paper.value}.pdf")


@router.get(
    "/lanes.svg", operation_id="get_lanes_svg", response_class=Response,
    responses=_answers("image/svg+xml", "The lanes as a picture"),
)  # fmt: skip
def get_lanes(shed: ShedDep, trial_id: str) -> Response:
    """The lanes as SVG, in greys."""
    from racecard.formats.drawn import as_svg

    trial, found, _ = _reported(shed, trial_id)
    svg = as_svg(_lanes(trial.plan, found))
    return _file(svg.encode(), "image/svg+xml", f"racecard-{trial.id[:8]}.svg")


def _file(content: bytes, kind: str, name: str) -> Response:
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(content, media_type=kind, headers=headers)


def _reported(shed: Shed, trial_id: str) -> tuple[Trial, TrialFinish, Report]:
    with shed.reading() as session:
        trial = load_opened(session, trial_id)
        found = finished(session, trial, shed.now())
        conclusion = load_conclusion(session, trial_id)
    today = shed.now().astimezone(zone(trial.plan.time_zone)).date()
    return trial, found, report_of(trial, found, conclusion, today)


def _lanes(plan: Plan, found: TrialFinish) -> "Drawing":
    from racecard.formats.drawn import LaneShown, lanes_drawing

    judgement = found.whole.judgement
    by = {c.index: c for c in judgement.comparisons}
    shown = []
    for arm in judgement.arms:
        t, s = plan.treatments[arm.index], arm.strike
        c = by.get(arm.index)
        is_pace = arm.index == plan.reference
        called = (
            "control (its curve is the pace line)" if is_pace else GRADE_WORDS[c.grade] if c else ""
        )
        shown.append(
            LaneShown(
                t.name, "" if t.role.value == "candidate" else t.role.value,
                f"{s.struck} of {s.n - s.removed} {done(plan)}, {s.lost} lost",
                "" if s.rate is None else f"{whole_percent(s.rate)} %", called,
                _lines(found.results, arm.index),
                tuple((float(d), float(v)) for d, v in zip(arm.curve.days, arm.curve.share, strict=True)),
                is_pace,
            )
        )  # fmt: skip
    title = f"Lanes: when each {'plant' if plan.kind is Kind.CUTTING else 'one'} {done(plan)}"
    return lanes_drawing(title, shown, max(plan.length_days, judgement.day), judgement.day)


def _lines(results: Results, arm: int) -> tuple[LaneLine, ...]:
    """Lines in the order of the lane."""

    def day(value: float) -> float | None:
        return float(value) if np.isfinite(value) else None

    return tuple(
        LaneLine(
            day(results.after[i]), day(results.by[i]), day(results.lost_by[i]), day(results.removed[i]),
            float(results.last[i]),
        )
        for i in lane_order(results, arm)
    )  # fmt: skip
