"""The diary over HTTP: events, measures, notes, photos, second scores; and the log of everything."""

from datetime import datetime
from typing import Literal

from pydantic import ConfigDict, Field, FiniteFloat

from racecard.api.schemas.base import In, Out
from racecard.api.schemas.rounds import Id
from racecard.core.log.second_scores import ScoredTwice
from racecard.core.log.traces import MOST_TEXT, marks_of, measured
from racecard.core.model import HIDDEN, Unit
from racecard.core.model.observation import Entry, Scope
from racecard.formats.stamp import Stamp


class EntryIn(In):
    """One line of the diary. The id is made on the device, so that sending twice changes nothing."""

    id: str = Id
    kind: Literal["event", "measure", "note", "second", "traced", "void"]
    scope: Scope = Scope.TRIAL
    target: str = Field("", max_length=64)
    seen_at: Stamp
    given: bool = False
    corrects: str | None = Field(None, max_length=64)
    what: str = Field("", max_length=64)
    values: dict[str, FiniteFloat] = Field({}, max_length=30)
    text: str = Field("", max_length=MOST_TEXT)
    device: str = Field("", max_length=64)
    who: str = Field("", max_length=60)

    def to_core(self, who: str) -> Entry:
        return Entry(
            self.id, self.kind, self.scope, self.target, 0, self.seen_at, who, self.corrects,
            self.what, tuple(self.values.items()), self.text, self.device,
        )  # fmt: skip


class EntriesIn(In):
    """A batch from one device; `sent_at` is its clock now, by which its stamps are put right."""

    model_config = ConfigDict(
        json_schema_extra={
            "example": {
                "items": [
                    {
                        "id": "0b6e2f7c91d84a53",
                        "kind": "event",
                        "scope": "tray",
                        "target": "0",
                        "seen_at": "2026-05-25T07:40:00+01:00",
                        "what": "watered",
                        "values": {"amount": 400},
                    }
                ]
            }
        }
    )

    items: list[EntryIn] = Field(min_length=1, max_length=2000)
    sent_at: Stamp | None = None


class EntryOut(Out):
    """One line of the diary as it stands, and how it is said."""

    id: str
    kind: str
    scope: Scope
    target: str
    day: int
    seen_at: datetime
    who: str
    corrects: str | None
    what: str
    values: dict[str, float]
    text: str
    says: str

    @classmethod
    def from_core(cls, e: Entry, says: str) -> "EntryOut":
        same = set(cls.model_fields) - {"values", "says", "text"}
        text = "" if e.kind == "traced" else e.text  # marks go with their photo alone
        return cls(values=dict(e.values), says=says, text=text, **{n: getattr(e, n) for n in same})


class WrittenOut(Out):
    """What the diary now holds of what was sent; `seq`: how far it has come."""

    items: list[EntryOut]
    seq: int


class HeardIn(In):
    """A note, and the unit it is about."""

    text: str = Field(max_length=2000)
    unit_id: str = Field("", max_length=64)


class HeardOut(Out):
    """A look the note may tell of; nothing is kept until it is confirmed."""

    unit_id: str
    code: str
    stage: int | None
    loss: str | None
    says: str


class LogLine(Out):
    """One line of the log of everything. `state`: in force, corrected, undone or conflicting."""

    id: str
    day: int
    seen_at: datetime
    who: str
    kind: str
    unit: str
    unit_id: str
    state: str
    says: str


class MoveIn(In):
    """Where a round that was entered wrongly belongs; trays count from 0."""

    to_day: int = Field(ge=0, le=800)
    from_tray: int | None = Field(None, ge=0)
    to_tray: int | None = Field(None, ge=0)


class MovedOut(Out):
    """How many looks were moved."""

    moved: int


class TraceOut(Out):
    """Marks on a photo, as JSON in `marks`, and what they give. `measure`: the entry that took them
    as data; `is_current`: it was taken from these very marks, not from what they correct.
    """

    id: str
    who: str
    marks: str
    longest: float
    roots: int
    says: str
    measure: str | None
    is_current: bool

    @classmethod
    def from_core(cls, e: Entry, measure: Entry | None) -> "TraceOut":
        found = measured(marks_of(e.text))
        return cls(
            id=e.id, who=e.who, marks=e.text, longest=round(found.longest, 1), roots=found.roots,
            says=found.says, measure=None if measure is None else measure.id,
            is_current=measure is not None and measure.what == e.id,
        )  # fmt: skip


class PhotoOut(Out):
    """One photo of the same-age strip: when, of what, of which treatment where that may be shown,
    and what was traced on it.
    """

    entry: EntryOut
    unit: str
    treatment: int | None
    traces: list[TraceOut]

    @classmethod
    def from_core(cls, entry: EntryOut, unit: Unit | None, traces: list[TraceOut]) -> "PhotoOut":
        is_hidden = unit is None or unit.cell.treatment == HIDDEN
        arm = None if unit is None or is_hidden else unit.cell.treatment
        return cls(entry=entry, unit=unit.cell.code if unit else "", treatment=arm, traces=traces)


class AgreementOut(Out):
    """How far two scorers agree; null figures where none can be given."""

    wanted: list[str]
    done: int
    n: int
    alike: int
    linear: float | None
    quadratic: float | None
    bias: float | None
    bias_low: float | None
    bias_high: float | None
    says: str
    gaps: list[str]
    trained: list[str]
    """How those who scored here did with drawn roots, a sentence each; "not trained" where they did not."""

    @classmethod
    def from_core(cls, found: ScoredTwice, trained: list[str]) -> "AgreementOut":
        both = found.agreement
        low, high = (both and both.bias_limits) or (None, None)
        return cls(
            wanted=list(found.wanted), done=found.done, gaps=list(found.gaps), trained=trained,
            n=both.n if both else 0, alike=both.alike if both else 0,
            linear=both.linear if both else None, quadratic=both.quadratic if both else None,
            bias=both.bias if both else None, bias_low=low, bias_high=high,
            says=both.says if both else "No plant has been scored by two yet.",
        )  # fmt: skip
