"""Gardens that join by a link: what the desk sees of an invitation, and what a garden sends."""

from datetime import date, datetime
from typing import Literal

from pydantic import Field, StrictInt

from racecard.api.schemas.base import In, Out
from racecard.core.exchange.garden_pack import changed_since
from racecard.core.exchange.joined_gardens import GardenReport, JoinedGarden, turnout_of
from racecard.core.model import Trial
from racecard.core.model.turnout import Turnout
from racecard.store.garden_invites import Invite


class InviteIn(In):
    """For how many gardens there is a place."""

    gardens: StrictInt = Field(20, description="1 to 500")


class InviteOut(Out):
    """An invitation: its link, the same as a square, and what became of the gardens that joined."""

    url: str
    square: str
    is_reachable: bool = Field(description="Whether other devices can open the link")
    most: int
    made_at: datetime
    closed_at: datetime | None
    turnout: Turnout
    changed: str = Field(
        description="What the plan says otherwise now, in a sentence; empty where nothing"
    )

    @classmethod
    def from_core(
        cls, invite: Invite, gardens: list[JoinedGarden], trial: Trial, url: str, square: str, is_reachable: bool
    ) -> "InviteOut":  # fmt: skip
        return cls(
            url=url, square=square, is_reachable=is_reachable, most=len(invite.pack.orders),
            made_at=invite.made_at, closed_at=invite.closed_at, turnout=turnout_of(gardens),
            changed=changed_since(invite.pack, trial),
        )  # fmt: skip


class JoinedGardenOut(Out):
    """The garden takes part: its number, its key, and the treatment of pot A, B … by index."""

    number: int
    key: str
    order: list[int]


class GardenReportIn(In):
    """What a garden reports; the last report stands."""

    began: date | None = None
    counted: date | None = None
    counts: list[StrictInt] = Field([], max_length=6)
    status: Literal["", "withdrawn"] = ""
    remarks: str = Field("", max_length=300)

    def to_core(self) -> GardenReport:
        return GardenReport(
            self.began, self.counted, tuple(self.counts), self.status, self.remarks.strip()
        )
