"""Gardens that join by a link: the invitation at the desk, and the one page of a garden's own phone.

A garden needs no key of the server: its link lets it join, and what it then holds lets it report for its
own garden and for nothing else.
"""

from typing import Annotated

from fastapi import APIRouter, Header, Request, Response

from racecard.api.deps import SharingDep, ShedDep
from racecard.api.gate import Sharing
from racecard.api.schemas.garden_joining import GardenReportIn, InviteIn, InviteOut, JoinedGardenOut
from racecard.core.exchange.joined_gardens import JoinedGarden, form_lines
from racecard.core.model import Trial
from racecard.errors import NotFound
from racecard.formats.garden_page import SCRIPT, WORKER, garden_page, garden_page_missing
from racecard.formats.sheet import write_lines
from racecard.formats.square import square_of
from racecard.store.garden_invites import (
    Invite,
    close_invite,
    delete_reports,
    invite_gardens,
    join_garden,
    keep_report,
    load_invite,
    load_invites,
)
from racecard.store.trials import load_trial

router = APIRouter(tags=["gardens"])
GardenKey = Annotated[str, Header(alias="x-garden-key", max_length=200)]


@router.post("/api/gardens/invites/{trial_id}", operation_id="invite_gardens", status_code=201)
def post_invite(
    shed: ShedDep, sharing: SharingDep, request: Request, trial_id: str, body: InviteIn
) -> InviteOut:
    """Open a trial to gardens by a link; the open invitation, where there is one."""
    invite_gardens(shed, trial_id, body.gardens)
    return _newest(shed, sharing, request, trial_id)


@router.get("/api/gardens/invites/{trial_id}", operation_id="get_invite")
def get_invite(
    shed: ShedDep, sharing: SharingDep, request: Request, trial_id: str
) -> InviteOut | None:
    """The open invitation of a trial, else its last, with what became of the gardens that joined."""
    with shed.reading() as session:
        found = load_invites(session, trial_id)
        trial = load_trial(session, trial_id) if found else None
    return _out(*found[0], trial, sharing, request) if trial else None


@router.post("/api/gardens/invites/{trial_id}/close", operation_id="close_invite")
def post_close(shed: ShedDep, sharing: SharingDep, request: Request, trial_id: str) -> InviteOut:
    """Let no further garden join."""
    close_invite(shed, trial_id)
    return _newest(shed, sharing, request, trial_id)


@router.get(
    "/api/gardens/invites/{trial_id}/returns.csv", operation_id="get_invite_returns",
    response_class=Response, responses={200: {"content": {"text/csv": {}}, "description": "A form"}},
)  # fmt: skip
def get_returns(shed: ShedDep, trial_id: str) -> Response:
    """What the gardens of the newest invitation reported, as the form they would have sent."""
    with shed.reading() as session:
        found = load_invites(session, trial_id)
    if not found:
        raise NotFound("No gardens were invited to this trial.")
    invite, gardens = found[0]
    name = f"racecard-{invite.pack.key}-returns.csv"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    content = write_lines(form_lines(invite.pack, gardens))
    return Response(content, media_type="text/csv; charset=utf-8", headers=headers)


@router.get("/garden/page.js", include_in_schema=False)
def get_script() -> Response:
    """What a garden's page does."""
    return Response(SCRIPT, media_type="text/javascript", headers={"Cache-Control": "no-cache"})


@router.get("/garden/worker.js", include_in_schema=False)
def get_worker() -> Response:
    """What keeps a garden's page on its phone."""
    return Response(WORKER, media_type="text/javascript", headers={"Cache-Control": "no-cache"})


@router.get("/garden/{token}", include_in_schema=False)
def get_page(shed: ShedDep, token: str) -> Response:
    """The page of a garden: it joins, and reports for its own garden."""
    try:
        with shed.reading() as session:
            invite = load_invite(session, token)
    except NotFound as exc:  # a person reads it, not a program
        missing = garden_page_missing(exc.detail)
        return Response(missing, status_code=404, media_type="text/html; charset=utf-8")
    page = garden_page(invite.pack, f"/api/garden/{token}")
    return Response(
        page, media_type="text/html; charset=utf-8", headers={"Cache-Control": "no-cache"}
    )


@router.post("/api/garden/{token}/join", operation_id="join_garden", status_code=201)
def post_join(shed: ShedDep, token: str) -> JoinedGardenOut:
    """Take part with one more garden."""
    number, key, order = join_garden(shed, token)
    return JoinedGardenOut(number=number, key=key, order=list(order))


@router.post("/api/garden/{token}/report", operation_id="report_garden", status_code=204)
def post_report(shed: ShedDep, token: str, key: GardenKey, body: GardenReportIn) -> None:
    """Keep what a garden reports; the last report stands."""
    keep_report(shed, token, key, body.to_core())


@router.delete("/api/garden/{token}/report", operation_id="delete_garden", status_code=204)
def delete_report(shed: ShedDep, token: str, key: GardenKey) -> None:
    """Delete everything a garden sent; it counts as one that left."""
    delete_reports(shed, token, key)


def _newest(shed: ShedDep, sharing: Sharing | None, request: Request, trial_id: str) -> InviteOut:
    with shed.reading() as session:
        newest = load_invites(session, trial_id)[0]
        trial = load_trial(session, trial_id)
    return _out(*newest, trial, sharing, request)


def _out(
    invite: Invite,
    gardens: list[JoinedGarden],
    trial: Trial,
    sharing: Sharing | None,
    request: Request,
) -> InviteOut:
    base = sharing.url if sharing else str(request.base_url).rstrip("/")
    url = f"{base}/garden/{invite.token}"
    return InviteOut.from_core(invite, gardens, trial, url, square_of(url), sharing is not None)
