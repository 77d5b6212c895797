"""The tables. Observations and changes are only ever added to, never altered."""

from datetime import datetime
from typing import ClassVar

from sqlalchemy import (
    CheckConstraint,
    ForeignKey,
    Index,
    String,
    UniqueConstraint,
    text,
)
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

from racecard.store.columns import SeedNumber, Stamp


class Base(DeclarativeBase):
    type_annotation_map: ClassVar[dict[type, type]] = {datetime: Stamp}


class TrialRow(Base):
    __tablename__ = "trial"
    __table_args__ = (
        CheckConstraint("status IN ('draft', 'started')", name="ck_trial_status"),
        CheckConstraint("(status = 'started') = (started_at IS NOT NULL)", name="ck_trial_started"),
        CheckConstraint("units BETWEEN 1 AND 5000", name="ck_trial_units"),
        CheckConstraint("per_container BETWEEN 1 AND 200", name="ck_trial_per_container"),
        CheckConstraint("blocks BETWEEN 1 AND 500", name="ck_trial_blocks"),
        CheckConstraint("length_days >= 1 AND look_every_days >= 1", name="ck_trial_days"),
    )

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    created_at: Mapped[datetime] = mapped_column(index=True)
    created_by: Mapped[str]
    status: Mapped[str]
    started_at: Mapped[datetime | None]
    unsealed_at: Mapped[datetime | None]
    seed: Mapped[int | None] = mapped_column(SeedNumber)
    invented: Mapped[bool]
    question: Mapped[str]
    material: Mapped[str]
    kind: Mapped[str]
    units: Mapped[int]
    per_container: Mapped[int]
    blocks: Mapped[int]
    columns: Mapped[int]
    endpoint: Mapped[int]
    threshold_mm: Mapped[float]
    length_days: Mapped[int]
    look_every_days: Mapped[int]
    gap_points: Mapped[float]
    expected_percent: Mapped[float]
    blind: Mapped[bool]
    count_singly: Mapped[bool]
    time_zone: Mapped[str]
    day0: Mapped[str]
    design: Mapped[str]
    """The rest of the plan as JSON; its fields and their defaults are those of core.model.Plan."""
    fingerprint: Mapped[str]
    revision: Mapped[int] = mapped_column(default=1, server_default="1")
    """Grows with every change of the plan or of what it is made from; a stale save is refused."""
    drawn_at: Mapped[datetime | None]
    frozen_at: Mapped[datetime | None]
    repeats: Mapped[str | None] = mapped_column(String(32))
    """The trial whose plan this one repeats."""


class TreatmentRow(Base):
    __tablename__ = "treatment"
    __table_args__ = (
        UniqueConstraint("trial_id", "position", name="uq_treatment_position"),
        CheckConstraint(
            "role IN ('control', 'carrier', 'positive', 'negative', 'standard', 'candidate')",
            name="ck_treatment_role",
        ),
        Index(
            "uq_treatment_one_control",
            "trial_id",
            unique=True,
            sqlite_where=text("role = 'control'"),
        ),
    )

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    trial_id: Mapped[str] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    position: Mapped[int]
    name: Mapped[str]
    role: Mapped[str]
    detail: Mapped[str]
    agent: Mapped[str]
    carrier: Mapped[str]
    silk: Mapped[str]
    traits: Mapped[str]
    """The rest of the treatment as JSON: properties, number, prediction and the like."""


class UnitRow(Base):
    """One cell of the drawn bench; a spare or border cell has no treatment."""

    __tablename__ = "unit"
    __table_args__ = (UniqueConstraint("trial_id", "tray", "row", "col", name="uq_unit_place"),)

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    trial_id: Mapped[str] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    tray: Mapped[int]
    row: Mapped[int]
    col: Mapped[int]
    block: Mapped[int]
    treatment_id: Mapped[str | None] = mapped_column(ForeignKey("treatment.id"))
    border: Mapped[bool]
    locked: Mapped[bool]


class BaselineRow(Base):
    """What was measured of a unit before the start; entering it again replaces a draft's value."""

    __tablename__ = "baseline"
    __table_args__ = (CheckConstraint("value >= 0", name="ck_baseline_value"),)

    unit_id: Mapped[str] = mapped_column(
        ForeignKey("unit.id", ondelete="CASCADE"), primary_key=True
    )
    trait: Mapped[str] = mapped_column(primary_key=True)
    value: Mapped[float]


class AmendmentRow(Base):
    """A change to a frozen plan, with its reason; only ever added to."""

    __tablename__ = "amendment"
    __table_args__ = (CheckConstraint("length(reason) > 0", name="ck_amendment_reason"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    trial_id: Mapped[str] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    at: Mapped[datetime]
    who: Mapped[str]
    field: Mapped[str]
    before: Mapped[str]
    after: Mapped[str]
    reason: Mapped[str]


class ObservationRow(Base):
    """What one visit wrote down. `corrects` names the observation this one stands in for."""

    __tablename__ = "observation"
    __table_args__ = (
        CheckConstraint("kind IN ('look', 'count', 'score', 'void')", name="ck_observation_kind"),
        CheckConstraint("kind != 'void' OR corrects IS NOT NULL", name="ck_observation_void"),
        CheckConstraint("score IS NULL OR score BETWEEN 0 AND 5", name="ck_observation_score"),
        CheckConstraint("day >= 0", name="ck_observation_day"),
        Index("ix_observation_trial_day", "trial_id", "day"),
    )

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    order: Mapped[int] = mapped_column("seq", unique=True)
    trial_id: Mapped[str] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"))
    unit_id: Mapped[str] = mapped_column(ForeignKey("unit.id"))
    kind: Mapped[str]
    day: Mapped[int]
    seen_at: Mapped[datetime]
    recorded_at: Mapped[datetime]
    who: Mapped[str]
    corrects: Mapped[str | None] = mapped_column(ForeignKey("observation.id"))
    stage: Mapped[int | None]
    wilted: Mapped[bool]
    shoot: Mapped[bool]
    loss: Mapped[str | None]
    removed: Mapped[int]
    struck: Mapped[int | None]
    lost: Mapped[int | None]
    lost_struck: Mapped[int | None]
    score: Mapped[int | None]
    as_row: Mapped[bool]
    parts: Mapped[str]
    base: Mapped[str | None]
    beside: Mapped[str | None]
    device: Mapped[str]


class EntryRow(Base):
    """An event, measures, a note, a photo or a second score beside the looks; only ever added to."""

    __tablename__ = "entry"
    __table_args__ = (
        CheckConstraint(
            "kind IN ('event', 'measure', 'note', 'photo', 'second', 'traced', 'void')",
            name="ck_entry_kind",
        ),
        CheckConstraint("kind != 'void' OR corrects IS NOT NULL", name="ck_entry_void"),
        CheckConstraint("scope IN ('unit', 'tray', 'arm', 'trial')", name="ck_entry_scope"),
        CheckConstraint("day >= 0", name="ck_entry_day"),
    )

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    order: Mapped[int] = mapped_column("seq", unique=True)
    trial_id: Mapped[str] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    kind: Mapped[str]
    scope: Mapped[str]
    target: Mapped[str]
    day: Mapped[int]
    seen_at: Mapped[datetime]
    recorded_at: Mapped[datetime]
    who: Mapped[str]
    corrects: Mapped[str | None] = mapped_column(ForeignKey("entry.id"))
    what: Mapped[str]
    numbers: Mapped[str]
    text: Mapped[str]
    device: Mapped[str]


class ReadingRow(Base):
    """One reading of a condition at a place, in its kept unit; a moment is kept once."""

    __tablename__ = "reading"
    __table_args__ = (
        UniqueConstraint("place", "quantity", "at", name="uq_reading_moment"),
        Index("ix_reading_place", "place", "quantity", "at"),
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    place: Mapped[str]
    quantity: Mapped[str]
    at: Mapped[datetime]
    value: Mapped[float]
    source: Mapped[str]
    recorded_at: Mapped[datetime]


class WatchRow(Base):
    """A place whose readings belong to a trial, with its alarms; the newest of a place stands."""

    __tablename__ = "watch"

    id: Mapped[int] = mapped_column(primary_key=True)
    trial_id: Mapped[str] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    place: Mapped[str]
    quantity: Mapped[str]
    high: Mapped[float | None]
    low: Mapped[float | None]
    base: Mapped[float | None]
    is_on: Mapped[bool]
    at: Mapped[datetime]
    who: Mapped[str]


class DeviceRow(Base):
    """A phone or tablet that joined with the code; withdrawing ends its key."""

    __tablename__ = "device"

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    name: Mapped[str]
    role: Mapped[str] = mapped_column(server_default="helper")
    key_hash: Mapped[str]
    joined_at: Mapped[datetime]
    last_seen_at: Mapped[datetime | None]
    withdrawn_at: Mapped[datetime | None]


class SummaryRow(Base):
    """What lists show of a trial; triggers throw it away whenever anything of the trial is written."""

    __tablename__ = "summary"

    trial_id: Mapped[str] = mapped_column(
        ForeignKey("trial.id", ondelete="CASCADE"), primary_key=True
    )
    day: Mapped[int | None]
    line: Mapped[str]
    tasks: Mapped[str]
    proposal: Mapped[str]


class FormLineRow(Base):
    """A trial's line of the form book; triggers throw it away whenever anything of the trial is written."""

    __tablename__ = "form_line"

    trial_id: Mapped[str] = mapped_column(
        ForeignKey("trial.id", ondelete="CASCADE"), primary_key=True
    )
    day: Mapped[int | None]
    line: Mapped[str]


class TrainingRow(Base):
    """One sitting with drawn roots: its seed and the marks given, as JSON."""

    __tablename__ = "training"

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    who: Mapped[str]
    at: Mapped[datetime]
    seed: Mapped[int]
    marks: Mapped[str]


class GardenInviteRow(Base):
    """A trial to which gardens may join by a link: its token, and the pack they are given, as JSON."""

    __tablename__ = "garden_invite"

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    trial_id: Mapped[str] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    token: Mapped[str] = mapped_column(String(64), unique=True)
    pack: Mapped[str]
    made_at: Mapped[datetime]
    closed_at: Mapped[datetime | None]


class GardenRow(Base):
    """A garden that joined, by its number; its key is kept as a hash."""

    __tablename__ = "garden"
    __table_args__ = (UniqueConstraint("invite_id", "number"),)

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    invite_id: Mapped[str] = mapped_column(ForeignKey("garden_invite.id", ondelete="CASCADE"))
    number: Mapped[int]
    key_hash: Mapped[str] = mapped_column(String(64))
    joined_at: Mapped[datetime]
    gone_at: Mapped[datetime | None]


class GardenReportRow(Base):
    """What a garden reported, as JSON; the last one stands, all go where the garden deletes them."""

    __tablename__ = "garden_report"

    n: Mapped[int] = mapped_column(primary_key=True)
    garden_id: Mapped[str] = mapped_column(ForeignKey("garden.id", ondelete="CASCADE"), index=True)
    at: Mapped[datetime]
    body: Mapped[str]


class ChainRow(Base):
    """A link of the log's chain: which row, made of which columns, and its hash over the one before."""

    __tablename__ = "chain"

    order: Mapped[int] = mapped_column("seq", primary_key=True)
    kind: Mapped[str]
    ref: Mapped[str] = mapped_column(String(64))
    columns: Mapped[str]
    hash: Mapped[str] = mapped_column(String(64))


class ReadInRow(Base):
    """A table of results that was read in: the file as it came, and how it was to be read."""

    __tablename__ = "read_in"

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    created_at: Mapped[datetime]
    created_by: Mapped[str]
    name: Mapped[str]
    content: Mapped[bytes]
    unit: Mapped[str | None]
    control: Mapped[str | None]
    skipped: Mapped[str]
    dates: Mapped[str | None]
    turnout: Mapped[str | None]
    """Gardens that joined, began, returned, …: JSON, where these are the returns of many."""
    invented: Mapped[bool]
    kind: Mapped[str | None]
    """What it holds, as it was asked: cutting or seed; None where nobody said."""


class ChangeRow(Base):
    """Who changed what and when: drafts saved, benches drawn, starts, unsealings."""

    __tablename__ = "change"

    id: Mapped[int] = mapped_column(primary_key=True)
    trial_id: Mapped[str] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    at: Mapped[datetime]
    who: Mapped[str]
    what: Mapped[str]
    detail: Mapped[str]


class MaterialRow(Base):
    """A plant lot or an agent of the register, as JSON of core.prepare.register."""

    __tablename__ = "material"
    __table_args__ = (CheckConstraint("kind IN ('plant', 'agent')", name="ck_material_kind"),)

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    kind: Mapped[str]
    created_at: Mapped[datetime]
    changed_at: Mapped[datetime]
    body: Mapped[str]
    retired_at: Mapped[datetime | None]


class ChoiceRow(Base):
    """An answer to a question of the mixing bench, or a default changed, kept until changed."""

    __tablename__ = "choice"

    key: Mapped[str] = mapped_column(String(80), primary_key=True)
    value: Mapped[str]
    at: Mapped[datetime]


class RecipeRow(Base):
    """A card put on a trial's recipe list, as it was worked out; taking it off keeps it here."""

    __tablename__ = "recipe"

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    trial_id: Mapped[str] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    at: Mapped[datetime]
    who: Mapped[str]
    arm: Mapped[str]
    """Name of the treatment it is for, "" for all: a draft's treatments may be moved about."""
    key: Mapped[str]
    fields: Mapped[str]
    choices: Mapped[str]
    card: Mapped[str]
    override: Mapped[str]
    taken_off_at: Mapped[datetime | None]


class MarkRow(Base):
    """A soak or dip started, stopped, or taken back; only ever added to."""

    __tablename__ = "mark"
    __table_args__ = (CheckConstraint("what IN ('start', 'stop', 'void')", name="ck_mark_what"),)

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    order: Mapped[int] = mapped_column("seq", unique=True)
    trial_id: Mapped[str] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    step: Mapped[str]
    what: Mapped[str]
    at: Mapped[datetime]
    who: Mapped[str]


class SettingRow(Base):
    """What was really done with a unit at sticking or sowing; only ever added to."""

    __tablename__ = "setting"
    __table_args__ = (CheckConstraint("is_set OR length(why) > 0", name="ck_setting_why"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    trial_id: Mapped[str] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    unit_id: Mapped[str] = mapped_column(ForeignKey("unit.id"))
    at: Mapped[datetime]
    who: Mapped[str]
    is_set: Mapped[bool]
    set_at: Mapped[datetime | None]
    why: Mapped[str]
    lot: Mapped[str]
    size: Mapped[str]


class FinishWordRow(Base):
    """What a grower wrote beside a verdict: their costs, or their conclusion; only ever added to."""

    __tablename__ = "finish_word"
    __table_args__ = (
        CheckConstraint("kind IN ('worth', 'conclusion')", name="ck_finish_word_kind"),
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    trial_id: Mapped[str] = mapped_column(ForeignKey("trial.id", ondelete="CASCADE"), index=True)
    kind: Mapped[str]
    body: Mapped[str]
    who: Mapped[str]
    at: Mapped[datetime]


class DryRunRow(Base):
    """A dry run that was kept: its plan, its truths and what it came to, as JSON."""

    __tablename__ = "dry_run"

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    name: Mapped[str]
    body: Mapped[str]
    who: Mapped[str]
    at: Mapped[datetime]
    invented: Mapped[bool]
