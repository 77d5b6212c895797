"""rounds: entries beside the looks, readings, watched places, devices; more of an observation"""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"

_KEPT = (("entry", ("UPDATE", "DELETE")), ("reading", ("UPDATE",)), ("watch", ("UPDATE",)))


def _text(*names: str) -> list[sa.Column[str]]:
    return [sa.Column(name, sa.String(), nullable=False) for name in names]


def _trial() -> tuple[sa.Column[str], sa.ForeignKeyConstraint]:
    return (
        sa.Column("trial_id", sa.String(length=32), nullable=False),
        sa.ForeignKeyConstraint(["trial_id"], ["trial.id"], ondelete="CASCADE"),
    )


def upgrade() -> None:
    for column in (
        sa.Column("as_row", sa.Boolean(), nullable=False, server_default="0"),
        sa.Column("parts", sa.String(), nullable=False, server_default="{}"),
        sa.Column("base", sa.String(), nullable=True),
        sa.Column("beside", sa.String(), nullable=True),
        sa.Column("device", sa.String(), nullable=False, server_default=""),
    ):
        op.add_column("observation", column)
    op.create_table(
        "entry",
        sa.Column("id", sa.String(length=64), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        *_trial(),
        *_text("kind", "scope", "target", "who", "what", "numbers", "text", "device"),
        sa.Column("day", sa.Integer(), nullable=False),
        sa.Column("seen_at", sa.DateTime(), nullable=False),
        sa.Column("recorded_at", sa.DateTime(), nullable=False),
        sa.Column("corrects", sa.String(), nullable=True),
        sa.CheckConstraint(
            "kind IN ('event', 'measure', 'note', 'photo', 'second', 'void')", name="ck_entry_kind"
        ),
        sa.CheckConstraint("kind != 'void' OR corrects IS NOT NULL", name="ck_entry_void"),
        sa.CheckConstraint("scope IN ('unit', 'tray', 'arm', 'trial')", name="ck_entry_scope"),
        sa.CheckConstraint("day >= 0", name="ck_entry_day"),
        sa.ForeignKeyConstraint(["corrects"], ["entry.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("seq"),
    )
    op.create_table(
        "reading",
        sa.Column("id", sa.Integer(), nullable=False),
        *_text("place", "quantity", "source"),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("recorded_at", sa.DateTime(), nullable=False),
        sa.Column("value", sa.Float(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("place", "quantity", "at", name="uq_reading_moment"),
    )
    op.create_index("ix_reading_place", "reading", ["place", "quantity", "at"])
    op.create_table(
        "watch",
        sa.Column("id", sa.Integer(), nullable=False),
        *_trial(),
        *_text("place", "quantity", "who"),
        sa.Column("high", sa.Float(), nullable=True),
        sa.Column("low", sa.Float(), nullable=True),
        sa.Column("base", sa.Float(), nullable=True),
        sa.Column("is_on", sa.Boolean(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_table(
        "device",
        sa.Column("id", sa.String(length=32), nullable=False),
        *_text("name", "key_hash"),
        sa.Column("joined_at", sa.DateTime(), nullable=False),
        sa.Column("last_seen_at", sa.DateTime(), nullable=True),
        sa.Column("withdrawn_at", sa.DateTime(), nullable=True),
        sa.PrimaryKeyConstraint("id"),
    )
    for table in ("entry", "watch"):
        op.create_index(f"ix_{table}_trial_id", table, ["trial_id"])
    for table, verbs in _KEPT:
        for verb in verbs:
            op.execute(
                f"CREATE TRIGGER {table}_no_{verb.lower()} BEFORE {verb} ON {table} "
                f"BEGIN SELECT RAISE(ABORT, 'a {table} is only ever added to'); END"
            )


def downgrade() -> None:
    for table in ("device", "watch", "reading", "entry"):
        op.drop_table(table)
    for column in ("device", "beside", "base", "parts", "as_row"):
        op.drop_column("observation", column)
