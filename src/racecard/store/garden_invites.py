"""Gardens that join a trial by its link: the invitation, who joined, and what each reported."""

import hmac
import json
import secrets
from dataclasses import dataclass
from datetime import date, datetime

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from racecard.core.exchange.garden_pack import GardenPack, garden_pack, pack_of, pack_text
from racecard.core.exchange.joined_gardens import GardenReport, JoinedGarden, check_report
from racecard.errors import Conflict, NotFound
from racecard.store.devices import hashed
from racecard.store.engine import Shed
from racecard.store.tables import GardenInviteRow, GardenReportRow, GardenRow
from racecard.store.trials import load_trial

_MOST_REPORTS = 200
"""Of one garden; a page that reports for ever is stopped."""


@dataclass(frozen=True, slots=True)
class Invite:
    """An invitation: its token is the link's secret part."""

    trial_id: str
    token: str
    pack: GardenPack
    made_at: datetime
    closed_at: datetime | None


def invite_gardens(shed: Shed, trial_id: str, gardens: int) -> Invite:
    """Open a trial to so many gardens, with the plan as it is now; the open invitation, where there is one.

    Raises:
        InvalidInput: the plan is none for gardens, or their number is out of bounds.
    """
    with shed.writing() as session:
        there = _open_row(session, trial_id)
        if there is None:
            pack = garden_pack(load_trial(session, trial_id), gardens)
            there = GardenInviteRow(
                id=shed.new_id(), trial_id=trial_id, token=secrets.token_urlsafe(24),
                pack=pack_text(pack), made_at=shed.now(),
            )  # fmt: skip
            session.add(there)
            session.flush()
        return _invite(there)


def close_invite(shed: Shed, trial_id: str) -> None:
    """Let no further garden join; those that have may still report."""
    with shed.writing() as session:
        row = _open_row(session, trial_id)
        if row is None:
            raise NotFound("No invitation of this trial is open.")
        row.closed_at = shed.now()


def load_invites(session: Session, trial_id: str) -> list[tuple[Invite, list[JoinedGarden]]]:
    """Every invitation of a trial with the gardens that joined: the open one first, then the newest."""
    query = select(GardenInviteRow).where(GardenInviteRow.trial_id == trial_id)
    order = GardenInviteRow.closed_at.is_(None).desc(), GardenInviteRow.made_at.desc()
    rows = session.scalars(query.order_by(*order))
    return [(_invite(row), _gardens(session, row)) for row in rows]


def load_invite(session: Session, token: str) -> Invite:
    """The invitation of a link. NotFound where it leads nowhere."""
    return _invite(_row_of(session, token))


def join_garden(shed: Shed, token: str) -> tuple[int, str, tuple[int, ...]]:
    """Take part with one more garden: its number, the key that only its own phone holds, and its order.

    Raises:
        Conflict: the invitation is closed, or all its places are taken.
    """
    secret = secrets.token_urlsafe(24)
    with shed.writing() as session:
        invite = _row_of(session, token)
        if invite.closed_at is not None:
            raise Conflict("This invitation is closed: no further garden can join.")
        taken = select(func.count()).where(GardenRow.invite_id == invite.id)
        number = (session.scalar(taken) or 0) + 1
        if number > len(pack_of(invite.pack).orders):
            raise Conflict("All places are taken: ask the person who invited you for more.")
        row = GardenRow(
            id=shed.new_id(), invite_id=invite.id, number=number, key_hash=hashed(secret), joined_at=shed.now()
        )  # fmt: skip
        session.add(row)
        session.flush()
        return number, f"{row.id}.{secret}", pack_of(invite.pack).orders[number - 1]


def keep_report(shed: Shed, token: str, key: str, report: GardenReport) -> None:
    """Keep what a garden reports; it stands in for what it said before.

    Raises:
        NotFound: the key is of no garden of this invitation, or it deleted what it sent.
        InvalidInput: the report cannot be true.
        Conflict: it has reported too often.
    """
    with shed.writing() as session:
        garden = _garden_of(session, token, key)
        check_report(pack_of(_row_of(session, token).pack), report, shed.now().date())
        many = select(func.count()).where(GardenReportRow.garden_id == garden.id)
        if (session.scalar(many) or 0) >= _MOST_REPORTS:
            raise Conflict(
                "This garden has reported too often: write to the person who invited you."
            )
        session.add(GardenReportRow(garden_id=garden.id, at=shed.now(), body=_report_text(report)))


def delete_reports(shed: Shed, token: str, key: str) -> None:
    """Delete everything a garden sent; its number stays, so that it is counted as one that left."""
    with shed.writing() as session:
        garden = _garden_of(session, token, key)
        session.execute(delete(GardenReportRow).where(GardenReportRow.garden_id == garden.id))
        garden.gone_at = shed.now()


def _open_row(session: Session, trial_id: str) -> GardenInviteRow | None:
    query = select(GardenInviteRow).where(
        GardenInviteRow.trial_id == trial_id, GardenInviteRow.closed_at.is_(None)
    )
    return session.scalar(query)


def _row_of(session: Session, token: str) -> GardenInviteRow:
    row = session.scalar(select(GardenInviteRow).where(GardenInviteRow.token == token))
    if row is None:
        raise NotFound("This link leads nowhere: ask the person who sent it for a new one.")
    return row


def _garden_of(session: Session, token: str, key: str) -> GardenRow:
    garden_id, _, secret = key.partition(".")
    row = session.get(GardenRow, garden_id)
    is_known = row is not None and hmac.compare_digest(row.key_hash, hashed(secret))
    if row is None or not is_known or row.invite_id != _row_of(session, token).id:
        raise NotFound("This phone has not joined: press “Take part” first.")
    if row.gone_at is not None:
        raise NotFound("This garden deleted what it sent; take part again to begin anew.")
    return row


def _gardens(session: Session, invite: GardenInviteRow) -> list[JoinedGarden]:
    rows = session.scalars(
        select(GardenRow).where(GardenRow.invite_id == invite.id).order_by(GardenRow.number)
    ).all()
    ids = [r.id for r in rows]
    said = (
        select(GardenReportRow)
        .where(GardenReportRow.garden_id.in_(ids))
        .order_by(GardenReportRow.n)
    )
    last = {r.garden_id: r.body for r in session.scalars(said)}
    return [
        JoinedGarden(r.number, _report(last[r.id]) if r.id in last else None, r.gone_at is not None)
        for r in rows
    ]


def _invite(row: GardenInviteRow) -> Invite:
    return Invite(row.trial_id, row.token, pack_of(row.pack), row.made_at, row.closed_at)


def _report_text(report: GardenReport) -> str:
    days = {"began": report.began, "counted": report.counted}
    told = {name: at.isoformat() if at else None for name, at in days.items()}
    rest = {"counts": report.counts, "status": report.status, "remarks": report.remarks}
    return json.dumps(told | rest, ensure_ascii=False)


def _report(body: str) -> GardenReport:
    told = json.loads(body)
    began, counted = (
        date.fromisoformat(v) if (v := told[n]) else None for n in ("began", "counted")
    )
    return GardenReport(began, counted, tuple(told["counts"]), told["status"], told["remarks"])
